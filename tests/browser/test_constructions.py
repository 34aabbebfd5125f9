"""Constructions through the real interface: the table, switching, the parts and their slips."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Locator, Page, Route, expect

from .conftest import axe, concern
from .test_whole_way import go

pytestmark = [
    pytest.mark.browser,
    pytest.mark.quiet,
    pytest.mark.xdist_group("shell in the browser"),
]  # what one server has worked out is asked by all


def way(page: Page, kind: str) -> Locator:
    """The rows of one construction in the table."""
    return page.get_by_role("rowgroup").filter(has=page.get_by_role("rowheader", name=re.compile(f"^{kind}")))


def test_a_case_is_made_another_way_from_the_table(page: Page) -> None:
    go(page, "Shell")
    expect(page.get_by_role("heading", name="Two halves")).to_be_visible()
    page.get_by_role("button", name="Other constructions").click()
    table = page.get_by_role("table", name="Constructions of this arrangement")
    rows = table.get_by_role("rowheader")
    expect(rows).to_have_count(7, timeout=60_000)
    expect(table.get_by_text("Recommended")).to_have_count(1)
    expect(table.get_by_text("Does not suit: Fan has no wall to hold it")).to_be_visible()
    take = way(page, "corners and sheet").get_by_role("button", name="Make it so")
    take.wait_for(timeout=60_000)  # it can be taken once all are known
    assert axe(page) == []
    take.click()

    expect(page.get_by_role("heading", name="Corners and sheet")).to_be_visible()
    parts = page.get_by_role("list", name="Parts of the case")
    expect(parts.get_by_role("button")).to_have_count(10)
    sheet = parts.get_by_role("button", name=re.compile("^sheet-top"))
    sheet.click()
    expect(parts.get_by_text("from bought sheet")).to_be_visible()
    expect(parts.get_by_text(re.compile(r"4 x M3 x \d+"))).to_be_visible()
    page.locator("[data-ready=true]").wait_for()
    assert axe(page) == []
    expect(page.get_by_label("Corner pieces")).to_be_visible()
    expect(page.get_by_label("Corners", exact=True)).to_have_count(0)  # square here

    go(page, "Print plan")
    expect(page.get_by_role("main").get_by_text("corner-1").first).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    go(page, "Shell")
    expect(page.get_by_role("heading", name="Two halves")).to_be_visible()
    expect(parts.get_by_role("button")).to_have_count(2)


def test_an_open_bench_is_drawn_without_walls(page: Page) -> None:
    go(page, "Shell")
    page.get_by_role("button", name="Other constructions").click()
    way(page, "open bench").get_by_role("button", name="Make it so").click(timeout=90_000)
    expect(page.get_by_role("heading", name="Open bench")).to_be_visible()
    expect(page.get_by_label("Lid", exact=True)).to_have_count(0)
    expect(page.get_by_role("complementary", name="Concerns").get_by_text("Fan has no wall to hold it")).to_be_visible()
    go(page, "Openings")
    expect(page.get_by_text("Air: no walls hold it")).to_be_visible()
    expect(page.get_by_text("Left, open")).to_be_visible()
    assert axe(page) == []


def test_a_plate_of_sheet_carries_what_is_put_on_it_in_one_press(page: Page) -> None:
    go(page, "Shell")
    page.get_by_role("button", name="Other constructions").click()
    way(page, "open bench").get_by_role("button", name="Make it so").click(timeout=90_000)
    plate = page.get_by_role("radiogroup", name="Plate")
    plate.get_by_role("radio", name="of sheet").click()
    expect(page.get_by_role("radiogroup", name="Material").get_by_role("radio", name="acrylic")).to_be_checked()
    expect(page.get_by_label("Gussets")).to_have_count(0)  # nor posts, whose threads could be chosen
    expect(page.get_by_role("radiogroup", name="Post threads")).to_have_count(0)
    told = concern(page, "No standoffs of 2.6 mm under Board")
    told.click()
    page.get_by_role("button", name="Put all on the sheet: Board 2.4 mm up, Drive 6 mm down").click()
    expect(told).to_have_count(0)
    parts = page.get_by_role("list", name="Parts of the case")
    parts.get_by_role("button", name=re.compile("^plate")).click()
    expect(parts.get_by_text("4, each screwed through it with a nut under it")).to_be_visible()
    page.locator("[data-ready=true]").wait_for()
    assert axe(page) == []
    go(page, "Hardware")
    page.get_by_role("row", name=re.compile("standoffs of Board")).click()
    expect(page.get_by_text("4 studs of standoffs, M2.5")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("standoff, with stud"))).to_contain_text("M2.5 x 5")
    assert axe(page) == []


def test_sheet_is_held_in_slots_and_by_screws_again(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    page.get_by_role("link", name="Curlew, in acrylic").click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Shell")
    held = page.get_by_role("radiogroup", name="Sheet held by")
    expect(held.get_by_role("radio", name="screws")).to_be_checked()
    held.get_by_role("radio", name="slots").click()
    expect(page.get_by_role("heading", name="Sliding panels")).to_be_visible()
    expect(page.get_by_text("4 of 4 screws of the case have a place.")).to_be_visible()
    expect(page.get_by_role("textbox", name="Sheet", exact=True)).to_have_value("3")
    page.locator("[data-ready=true]").wait_for()
    assert axe(page) == []
    held.get_by_role("radio", name="screws").click()
    expect(page.get_by_role("heading", name="Corners and sheet")).to_be_visible()
    expect(held.get_by_role("radio", name="screws")).to_be_checked()


def test_two_constructions_are_looked_at_side_by_side_and_both_kept(page: Page, server: str) -> None:
    go(page, "Shell")
    page.get_by_role("button", name="Other constructions").click()
    way(page, "sliding panels").get_by_role("button", name="Look at both").click(timeout=90_000)
    both = page.get_by_role("region", name="Side by side")
    both.get_by_role("button", name="Keep both").wait_for(timeout=60_000)
    expect(both.get_by_role("img", name=re.compile("^The case in 3D"))).to_have_count(2)
    expect(both.get_by_role("row", name=re.compile("^Pieces 2 → 6"))).to_be_visible()
    expect(both.get_by_role("row", name=re.compile("^Concerns that stop 3"))).to_be_visible()
    assert axe(page) == []
    both.get_by_role("button", name="Keep both").click()
    expect(page.get_by_role("heading", name="Sliding panels", exact=True)).to_be_visible(timeout=60_000)
    page.goto(f"{server}/?shelf")
    expect(page.get_by_role("link", name="Wren, sliding panels")).to_be_visible()
    expect(page.get_by_role("link", name="Wren", exact=True)).to_be_visible()
    page.get_by_label("Compare Wren with", exact=True).select_option(label="with Wren, sliding panels")
    expect(page.get_by_role("heading", name="Wren beside Wren, sliding panels")).to_be_visible(timeout=60_000)
    expect(page.get_by_role("row", name="construction two halves sliding panels")).to_be_visible()
    assert axe(page) == []


def test_covers_become_sheet_one_by_one(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    page.get_by_role("link", name="Dunlin").click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Shell")
    page.get_by_role("checkbox", name="back").click()
    page.get_by_role("checkbox", name="right").click()  # at once: the second press knows of the first
    parts = page.get_by_role("list", name="Parts of the case")
    for name in ("sheet-back", "sheet-right", "cover-left"):
        expect(parts.get_by_role("button", name=re.compile(f"^{name}"))).to_be_visible()
    page.get_by_role("radio", name="plywood").click()
    expect(parts.get_by_role("button", name=re.compile("^sheet-back plywood"))).to_be_visible()
    expect(
        page.get_by_role("complementary", name="Concerns").get_by_text("Plywood of 3.72 mm is not sold")
    ).to_be_visible()


def test_a_handle_is_put_on_moved_and_taken_off(page: Page) -> None:
    go(page, "Shell")
    way = page.get_by_role("radiogroup", name="Handle")
    way.get_by_role("radio", name="along the width").click()
    concern(page, "The handle stands in the way of Fan grille").click()
    page.get_by_role("button", name=re.compile("^Move the handle to")).first.click()
    expect(page.get_by_role("button", name=re.compile("^The handle stands in the way"))).to_have_count(0)
    sizes = page.get_by_role("group", name="Sizes of the handle")
    expect(sizes.get_by_label("From left")).to_have_value("80")
    sizes.get_by_label("Under the bar").fill("40")
    sizes.get_by_label("Under the bar").press("Enter")
    expect(page.get_by_role("region", name="Numbers of the shell").get_by_label("Under the bar")).to_have_value("40")
    expect(page.get_by_role("button", name=re.compile("^handle"))).to_be_visible()  # in the list of parts
    assert axe(page) == []
    go(page, "Hardware")
    expect(page.get_by_role("row", name=re.compile("^handle"))).to_contain_text("2 x M3 x 6")
    go(page, "Shell")
    way.get_by_role("radio", name="none").click()
    expect(sizes).to_have_count(0)


def test_feet_are_printed_soft_and_as_high_as_is_said(page: Page) -> None:
    go(page, "Shell")
    page.get_by_role("radiogroup", name="They are").get_by_role("radio", name="printed soft").click()
    expect(page.get_by_role("button", name=re.compile("^feet"))).to_be_visible()  # in the list of parts
    high = page.get_by_label("Feet, high")
    high.fill("14")
    high.press("Enter")
    expect(high).to_have_value("14")
    expect(page.get_by_role("button", name=re.compile("^feet [0-9]+ g"))).to_be_visible()
    # there is a soft spool on the rack
    expect(page.get_by_role("complementary", name="Concerns")).not_to_contain_text("TPU on the rack")
    assert axe(page) == []
    page.get_by_role("radiogroup", name="Feet").get_by_role("radio", name="none").click()
    expect(high).to_have_count(0)
    expect(page.get_by_role("button", name=re.compile("^feet"))).to_have_count(0)


def test_the_lid_is_hung_on_hinges(page: Page) -> None:
    go(page, "Shell")
    expect(page.get_by_text("4 of 4 screws of the case have a place")).to_be_visible()
    hinge = page.get_by_role("radiogroup", name="Hinge")
    hinge.get_by_role("radio", name="back").click()
    expect(page.get_by_text("2 of 2 screws of the case have a place")).to_be_visible()
    pins = page.get_by_role("textbox", name="Pins")
    pins.fill("3")
    pins.press("Enter")
    go(page, "Hardware")
    page.get_by_role("button", name="Undo").click()
    go(page, "Shell")
    expect(pins).to_have_value("2")
    page.get_by_role("radiogroup", name="Along it").get_by_role("radio", name="the whole side").click()
    ribs = page.get_by_role("textbox", name="Ribs, top")
    ribs.fill("2")
    ribs.press("Enter")
    high = page.get_by_role("textbox", name="Ribs, high")
    expect(high).to_have_value("6")
    high.fill("25")
    high.press("Enter")
    expect(concern(page, "ribs find a place on the top")).to_be_visible()
    page.locator("[data-ready=true]").wait_for()
    assert axe(page) == []
    ribs.fill("0")
    ribs.press("Enter")
    expect(high).to_have_count(0)
    hinge.get_by_role("radio", name="none").click()
    expect(page.get_by_text("4 of 4 screws of the case have a place")).to_be_visible()


def test_a_free_end_rests_on_a_hook_and_ribs_stand_on_the_floor(page: Page, server: str) -> None:
    """A supply on the front wall of *Heron*, in covers: its free end on a hook of the cover beside it, told and taken back in its slip."""
    ids = {d["name"]: d["id"] for d in page.request.get(f"{server}/api/designs").json()["designs"]}
    design = f"{server}/api/designs/{ids['Heron']}"
    now = page.request.get(design).json()
    made = {"do": "construct", "construction": {"kind": "frame and covers"}}
    page.request.post(
        f"{design}/edits",
        data={"base_version": now["version"], "edits": [made], "said": "covers"},
        headers={"Origin": server},
    )
    page.goto(f"{server}/designs/{ids['Heron']}/bench")
    concerns = page.get_by_role("complementary", name="Concerns")
    told = concerns.get_by_text("Nothing stands under the free end of Supply")
    expect(told).to_be_visible(timeout=30_000)
    page.get_by_role("button", name=re.compile("^Supply in plan")).focus()
    page.keyboard.press("Enter")
    ends = page.get_by_role("radiogroup", name="Free end")
    expect(ends.get_by_role("radio", name="free", exact=True)).to_be_checked()
    ends.get_by_role("radio", name="on a hook").click()
    expect(ends.get_by_role("radio", name="on a hook")).to_be_checked()
    expect(told).to_have_count(0)
    assert axe(page) == []
    go(page, "Shell")
    parts = page.get_by_role("list", name="Parts of the case")
    expect(parts.get_by_role("button", name=re.compile("^hook-supply"))).to_be_visible()
    page.get_by_role("radiogroup", name="Ribs on the").get_by_role("radio", name="bottom").click()
    ribs = page.get_by_label("Ribs, bottom")
    ribs.fill("1")
    ribs.press("Enter")
    expect(page.get_by_label("Ribs, high")).to_be_visible()
    assert axe(page) == []
    go(page, "Hardware")
    expect(page.get_by_role("row", name=re.compile("^hook of Supply"))).to_contain_text("2 x M3 x 8")


def test_panels_that_slide_are_of_sheet_and_a_tick_shows_at_once(page: Page, server: str) -> None:
    """*Heron, sliding panels*: its left side and its top of acrylic. While the answer is held back, what was ticked or chosen is shown."""
    ids = {d["name"]: d["id"] for d in page.request.get(f"{server}/api/designs").json()["designs"]}
    page.goto(f"{server}/designs/{ids['Heron, sliding panels']}/shell")
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    def let_go() -> None:
        """Wait for what was asked, and let the answer come: a tick shows before the question is on its way."""
        while not held:
            page.wait_for_timeout(20)
        page.unroute("**/edits")
        held.pop().continue_()

    left = page.get_by_role("checkbox", name="left", exact=True)
    expect(left).not_to_be_checked(timeout=30_000)
    page.route("**/edits", hold)
    left.click()
    expect(left).to_be_checked()
    expect(left).to_have_attribute("aria-busy", "true")
    let_go()
    expect(left).to_have_attribute("aria-busy", "false", timeout=30_000)
    expect(left).to_be_checked()
    thick = page.get_by_label("Sheet", exact=True)
    expect(thick).to_have_value("2")
    material = page.get_by_role("radiogroup", name="Material")
    page.route("**/edits", hold)
    material.get_by_role("radio", name="aluminium").click()
    expect(material.get_by_role("radio", name="aluminium")).to_be_checked()
    expect(material).to_have_attribute("aria-busy", "true")
    let_go()
    expect(material).to_have_attribute("aria-busy", "false", timeout=30_000)
    parts = page.get_by_role("list", name="Parts of the case")
    expect(parts.get_by_role("button", name=re.compile("^panel-left"))).to_contain_text("aluminium")
    # a thickness that its walls do not hold is refused, and does not stay
    thick.fill("9")
    thick.press("Enter")
    expect(page.get_by_text("leaves no cheek of 0.4 mm before it")).to_be_visible()
    expect(thick).to_have_value("2")
    assert axe(page) == []
    go(page, "Hardware")
    bought = page.get_by_role("table", name="Sheet cut to size")
    row = bought.get_by_role("row", name=re.compile("^panel-left"))
    expect(row).to_contain_text("aluminium, 2 mm", timeout=30_000)
    expect(row).to_contain_text("252.0 x 132.9 mm")
    assert axe(page) == []


def test_what_is_of_sheet_is_ticked_in_a_narrow_window_too(page: Page) -> None:
    """At 200 % the choices of a frame wrap; nothing of them stands beyond the edge, where no scrolling reaches."""
    go(page, "Shell")
    page.get_by_role("button", name="Other constructions").click()
    way(page, "frame and covers").get_by_role("button", name="Make it so").click(timeout=90_000)
    page.get_by_role("checkbox", name="floor").check()
    expect(page.get_by_role("radiogroup", name="Material")).to_be_visible()
    page.set_viewport_size({"width": 640, "height": 400})
    beyond = """() => [...document.querySelectorAll('main *')].map(e => [e.className, e.getBoundingClientRect()])
        .filter(([, b]) => b.width > 0 && b.right > innerWidth + 2).map(([c]) => String(c).slice(0, 60))"""
    page.wait_for_timeout(1000)  # the drawing takes its new size
    assert page.evaluate(beyond) == []
    page.locator("[data-ready=true]").wait_for()
    assert axe(page) == []


def test_it_is_stood_on_its_side(page: Page) -> None:
    """The lid comes off to a side: the outer size and the kinds of feet follow, and what has no room is told."""
    go(page, "Shell")
    tally = page.get_by_role("contentinfo", name="Tally")
    expect(tally.get_by_text("171.6 × 144 × 37")).to_be_visible()
    stands = page.get_by_role("radiogroup", name="Stands on")
    page.get_by_role("radiogroup", name="They are").get_by_role("radio", name="printed soft").click()
    expect(page.get_by_label("Feet, high")).to_be_visible()
    stands.get_by_role("radio", name="its front").click()
    expect(tally.get_by_text("171.6 × 37 × 144")).to_be_visible()
    expect(page.get_by_role("radiogroup", name="They are")).to_have_count(0)  # stuck on
    told = concern(page, re.compile("have no room under the case"))
    told.click()
    page.locator("[data-ready=true]").wait_for()
    assert axe(page) == []
    page.get_by_role("button", name="Stand it on its back").click()
    expect(stands.get_by_role("radio", name="its back")).to_be_checked()
    expect(told).to_have_count(0)
    expect(concern(page, "The case tips over onto its top")).to_be_visible()
    go(page, "Openings")
    expect(page.get_by_text("Back, below")).to_be_visible()
    go(page, "Shell")
    page.get_by_role("radiogroup", name="Section").get_by_role("radio", name="from the side").click()
    page.locator("[data-ready=true]").wait_for()
    stands.get_by_role("radio", name="its floor").click()
    expect(tally.get_by_text("171.6 × 144 × 37")).to_be_visible()
