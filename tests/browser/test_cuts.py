"""The Cuts stop in the real interface: a cut is dragged, moved by keys, joined another way and given back."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, Route, expect

from .conftest import axe
from .test_whole_way import go

pytestmark = [pytest.mark.browser, pytest.mark.quiet, pytest.mark.xdist_group("pieces in the browser")]


def test_a_part_is_cut_moved_joined_and_made_whole(page: Page) -> None:
    go(page, "Cuts")
    base = page.get_by_role("region", name="Cuts of the base")
    expect(base).to_contain_text("Whole: it fits")
    base.get_by_role("button", name="Cut across x").click()
    expect(base.get_by_role("list", name="Pieces of the base").get_by_role("listitem")).to_have_count(2)
    cut = base.get_by_role("slider", name="Cut of the base across x")
    field = base.get_by_role("textbox", name="from the left")
    was = float(field.input_value())
    cut.focus()
    page.keyboard.press("ArrowRight")
    expect(field).to_have_value(f"{was + 2:g}")
    # dragged by 20 mm of the drawing's width
    wide = base.get_by_role("group", name="base over its bed").bounding_box()
    at = cut.bounding_box()
    assert wide and at
    x, y = at["x"] + at["width"] / 2, at["y"] + 40
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 20, y, steps=4)
    page.mouse.move(x + 40, y, steps=4)
    # while it is held, its pieces and the hours of the case follow, and nothing is kept yet
    concerns = page.get_by_role("complementary", name="Concerns")
    expect(concerns).to_contain_text("open here")
    expect(field).not_to_have_value(f"{was + 2:g}")
    here = ""
    while here != (here := field.input_value()):  # the answer to where the hand came to rest
        page.wait_for_timeout(600)
    held, pieces = field.input_value(), base.get_by_role("list", name="Pieces of the base").inner_text()
    revision = page.get_by_text(re.compile(r"^revision \d+$")).inner_text()
    late: list[Route] = []  # the table of the parts comes when the hand has gone on
    table = re.compile("/cuts$")

    def hold_back(asked: Route) -> None:
        late.append(asked)

    page.route(table, hold_back)
    page.mouse.up()
    expect(concerns).not_to_contain_text("open here")
    expect(page.get_by_text(f"revision {int(revision.split()[1]) + 1}", exact=True)).to_be_visible()
    expect(field).to_have_value(held)
    expect(base.get_by_role("list", name="Pieces of the base")).to_have_text(pieces, use_inner_text=True)
    moved = float(field.input_value())
    size = int(cut.get_attribute("aria-valuemax") or 0)
    assert abs((moved - was - 2) - 40 * size / (wide["width"] - 40)) < 1.5
    turned = base.get_by_role("textbox", name="turned")
    turned.fill("12")
    turned.press("Enter")
    expect(page.get_by_text(f"revision {int(revision.split()[1]) + 2}", exact=True)).to_be_visible()
    page.unroute(table)
    assert late
    for asked in late:
        asked.continue_()
    expect(field).to_have_value(held)
    expect(cut).to_have_attribute("aria-valuetext", re.compile("turned by 12 degrees"))
    expect(base).to_contain_text("The bars along the edges are for straight cuts.")
    turned.fill("31")
    turned.press("Enter")
    expect(page.get_by_text(re.compile("turn_deg"))).to_be_visible()
    expect(turned).to_have_value("12")
    leaning = base.get_by_role("textbox", name="leaning")
    leaning.fill("25")
    leaning.press("Enter")
    expect(cut).to_have_attribute("aria-valuetext", re.compile("turned by 12 degrees, leaning by 25 degrees"))
    expect(base).to_contain_text("No pins")
    expect(base).to_contain_text("One that leans is glued alone, whatever joins the others.")
    leaning.fill("0")
    leaning.press("Enter")
    expect(base).to_contain_text("dowel pins")
    base.get_by_role("combobox", name="Joined by").select_option("glue alone")
    expect(base).to_contain_text("No pins")
    base.get_by_role("button", name="Give it back to the planner").click()
    expect(base).to_contain_text("Whole: it fits")
    base.get_by_text("Other reasons to divide it").click()
    base.get_by_role("button", name="Cut the right off and lay it on its face").click()
    expect(base.get_by_role("list", name="Pieces of the base").get_by_role("listitem")).to_have_count(2)
    go(page, "Print plan")
    page.get_by_role("button", name=re.compile("base-2")).first.click()
    page.get_by_role("tab", name="Side down").click()
    table = page.get_by_role("table", name="Sides of the base-2 to lie on, best first")
    expect(table.get_by_role("row", name=re.compile("^right")).get_by_text("lies so")).to_be_visible()


def test_a_number_of_a_cut_is_looked_at_while_it_is_typed(page: Page) -> None:
    """The map, the pieces and the concerns follow what is typed; fields keep what the design has, so that giving it is still a change."""
    go(page, "Cuts")
    base = page.get_by_role("region", name="Cuts of the base")
    base.get_by_role("button", name="Cut across x").click()
    pieces = base.get_by_role("list", name="Pieces of the base").get_by_role("listitem")
    expect(pieces).to_have_count(2)
    concerns = page.get_by_role("complementary", name="Concerns")
    cut = base.get_by_role("slider", name="Cut of the base across x")
    field = base.get_by_role("textbox", name="from the left")
    turned = base.get_by_role("textbox", name="turned")
    was, before, at = field.input_value(), pieces.first.inner_text(), cut.get_attribute("aria-valuetext") or ""
    to = float(was) - 21
    field.fill(f"{to:g}")
    expect(concerns).to_contain_text("open here")
    expect(pieces.first).not_to_have_text(before, use_inner_text=True)
    expect(cut).not_to_have_attribute("aria-valuetext", at)
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    axe(page)
    page.keyboard.press("Escape")  # as it was
    expect(field).to_have_value(was)
    expect(pieces.first).to_have_text(before, use_inner_text=True)
    expect(concerns).not_to_contain_text("open here")
    field.fill(f"{to - 1:g}")
    expect(concerns).to_contain_text("open here")
    field.fill(f"{to:g}")  # looked at again from the design, not from the last look
    page.wait_for_timeout(600)
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="revision 3", exact=True)).to_be_visible()
    expect(field).to_have_value(f"{to:g}")
    expect(concerns).not_to_contain_text("open here")
    turned.fill("12")
    expect(cut).to_have_attribute("aria-valuetext", re.compile("turned by 12 degrees"))
    expect(turned).to_have_value("12")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="revision 4", exact=True)).to_be_visible()
    expect(cut).to_have_attribute("aria-valuetext", re.compile("turned by 12 degrees"))
    # refused: the map is of the design as it stands
    turned.fill("31")
    page.wait_for_timeout(600)
    expect(cut).to_have_attribute("aria-valuetext", re.compile("turned by 12 degrees"))
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("turn_deg"))).to_be_visible()
    expect(turned).to_have_value("12")


def test_a_held_cut_goes_back_where_it_is_not_kept(page: Page) -> None:
    """Looks that are refused on the way stop nothing; an edit that is refused leaves the part as it was; there and back again is no step."""
    refusal = {"error": {"field": "cuts", "message": "it is held back here", "kept": "All is kept.", "do": "Go on."}}

    def refuse(route: Route) -> None:
        route.fulfill(status=422, json=refusal)

    go(page, "Cuts")
    base = page.get_by_role("region", name="Cuts of the base")
    base.get_by_role("button", name="Cut across x").click()
    cut = base.get_by_role("slider", name="Cut of the base across x")
    field = base.get_by_role("textbox", name="from the left")
    meanwhile = page.get_by_text("open here")

    def held(by: float) -> tuple[float, float]:
        at = cut.bounding_box()
        assert at
        x, y = at["x"] + at["width"] / 2, at["y"] + 40
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + by, y, steps=6)
        return x, y

    was = field.input_value()
    page.route("**/cuts/tried", refuse)
    held(-30)
    page.mouse.up()
    expect(field).not_to_have_value(was)
    page.unroute("**/cuts/tried")
    now, revision = field.input_value(), page.get_by_text(re.compile(r"^revision \d+$"))
    step = revision.inner_text()
    page.route("**/edits", refuse)
    held(20)
    expect(meanwhile).to_be_visible()
    page.mouse.up()
    expect(page.get_by_role("alert")).to_contain_text("it is held back here")
    expect(meanwhile).to_have_count(0)
    expect(field).to_have_value(now)
    page.unroute("**/edits")
    x, y = held(20)
    expect(meanwhile).to_be_visible()
    page.mouse.move(x, y, steps=6)
    page.mouse.up()
    expect(meanwhile).to_have_count(0)
    expect(field).to_have_value(now)
    expect(revision).to_have_text(step)


def test_the_small_bed_cuts_both_ways_with_numbers(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    page.get_by_role("link", name="Curlew").first.click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Print plan")
    page.get_by_role("radio", name=re.compile("^Bench 180")).click()
    go(page, "Cuts")
    core = page.get_by_role("region", name="Cuts of the core")
    expect(core).to_contain_text("4 pieces, which is the least for the 168 x 168 mm of the bed.")
    expect(core.get_by_role("slider")).to_have_count(2)
    core.get_by_role("button", name=re.compile("why: What the seam of the core bears")).first.click()
    expect(page.get_by_text("strength of glue x section modulus of the face")).to_be_visible()
    page.keyboard.press("Escape")
    # what is proposed is taken with a press, all ways stand beside it
    core.get_by_role("button", name="Join it by filament pins").first.click()
    expect(core).to_contain_text("pins of filament, 1.75 x 16; pieces within")
    core.get_by_text("Compare the ways to join it").first.click()
    ways = core.get_by_role("table", name="Ways to join the cut 1 of the core").get_by_role("row")
    expect(ways).to_have_count(12)
    expect(ways.filter(has_text="dowel pins 3 x 12")).to_contain_text("not all in the drawer")
    # the other of the two is keyed
    core.get_by_role("combobox", name="This cut by").nth(1).select_option("dovetails")
    expect(core).to_contain_text("dovetails; pieces within")
    expect(core).to_contain_text("pins of filament, 1.75 x 16; pieces within")
    assert axe(page) == []


def test_all_parts_are_planned_together(page: Page, server: str) -> None:
    """*Heron* between posts on the bed of 180: the cheaper order is told with its price, taken, and given back."""
    ids = {d["name"]: d["id"] for d in page.request.get(f"{server}/api/designs").json()["designs"]}
    design = f"{server}/api/designs/{ids['Heron, sliding panels']}"
    version = page.request.get(design).json()["version"]
    small = {"base_version": version, "edits": [{"do": "set", "path": "printer", "value": "bench-180"}]}
    assert page.request.post(f"{design}/edits", data=small, headers={"Origin": server}).ok
    page.goto(f"{server}/designs/{ids['Heron, sliding panels']}/cuts")
    page.get_by_role("button", name="Plan all parts together").click()
    expect(page.get_by_text(re.compile("Cheaper if cut in this order: .* 21 pieces"))).to_be_visible()
    expect(page.get_by_text("All 24 orders were looked at.")).to_be_visible()
    page.get_by_role("button", name="Cut them in this order").click()
    expect(page.get_by_text(re.compile("^Planned in this order: "))).to_be_visible()
    page.get_by_role("button", name="Plan all parts together").click()
    expect(page.get_by_text(re.compile("No other order of the parts is cheaper: 21 pieces"))).to_be_visible()
    assert axe(page) == []
    page.get_by_role("button", name="Plan them as they come").click()
    expect(page.get_by_text(re.compile("^Planned in this order: "))).to_have_count(0)
