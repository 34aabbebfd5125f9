"""The print plan in a browser: pieces, hours, settings, and what a printer learns."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from rhombex.core.process.limits import planned_now, with_limit

from ..core.test_learning import BENCH, plans
from .conftest import axe, concern
from .test_whole_way import go

pytestmark = [
    pytest.mark.browser,
    pytest.mark.quiet,
    pytest.mark.xdist_group("plan in the browser"),
]  # what one server has worked out is asked by all


def open_piece(page: Page, name: str) -> None:
    go(page, "Print plan")
    page.get_by_role("button", name=name, exact=True).click()


def test_where_the_hours_go_layer_by_layer(page: Page) -> None:
    open_piece(page, "lid")
    room = page.get_by_role("region", name="The lid")
    walk = room.get_by_role("slider", name="Layer")
    walk.wait_for(timeout=30_000)
    walk.focus()
    walk.press("Home")
    expect(walk).to_have_attribute("aria-valuenow", "1")
    walk.press("ArrowRight")
    expect(walk).to_have_attribute("aria-valuenow", "2")
    expect(room.get_by_role("img", name=re.compile("Layer 2 of"))).to_be_visible()
    expect(room.get_by_text("this layer")).to_be_visible()


def test_what_changes_if_is_done_with_one_press(page: Page) -> None:
    go(page, "Print plan")
    page.get_by_role("heading", name="What changes if").scroll_into_view_if_needed()  # it waits until it is seen
    table = page.get_by_role("table", name="Other ways to print, against now")
    table.wait_for(timeout=60_000)
    row = table.get_by_role("row", name=re.compile("^0.3 mm layers"))
    row.get_by_role("button", name="Do it").click()
    expect(page.get_by_label("Layer", exact=True).first).to_have_value("0.3")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Layer", exact=True).first).to_have_value("0.2")


@pytest.mark.quiet(False)
def test_a_part_is_laid_on_another_side_and_back(page: Page) -> None:
    open_piece(page, "lid")
    page.get_by_role("tab", name="Side down").click()
    sides = page.get_by_role("table", name=re.compile("Sides of the lid"))
    sides.wait_for(timeout=30_000)
    sides.get_by_role("row", name=re.compile("^bottom")).get_by_role("button").click()
    concerns = page.get_by_role("complementary", name="Concerns")
    expect(concern(page, "The lid has unsupported overhangs in this orientation")).to_be_visible(timeout=30_000)
    concern(page, "The lid has unsupported overhangs in this orientation").click()
    concerns.get_by_role("button", name="Lay the lid on its top again").click()
    expect(concern(page, "The lid has unsupported overhangs in this orientation")).to_have_count(0, timeout=30_000)


def test_a_part_gets_a_process_of_its_own(page: Page) -> None:
    open_piece(page, "lid")
    page.get_by_role("tab", name="Its own process").click()
    room = page.get_by_role("region", name="The lid")
    room.get_by_label("Perimeters").fill("5")
    room.get_by_label("Perimeters").press("Enter")
    expect(page.get_by_text("its own process").first).to_be_visible()
    room.get_by_role("button", name="Print it like the rest").click()
    expect(room.get_by_label("Perimeters")).to_have_value("3")


def test_gcode_teaches_a_printer_its_pace(page: Page, server: str) -> None:
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    page.get_by_role("heading", name="Workshop").wait_for()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Bench 300"))
    moves = "G90\nM83\nM204 P2200\nG1 X10 Y10 F1200\n" + "".join(
        f"G1 X{50 + k % 100} Y{60 + k % 7} E1\n" for k in range(3000)
    )
    card.get_by_label("G-code file").set_input_files(
        {"name": "plate.gcode", "mimeType": "text/plain", "buffer": moves.encode()}
    )
    card.get_by_label("Hours plate.gcode really took").fill("0.2")
    card.get_by_role("button", name="Log this print").click()
    expect(card.get_by_text("taught by 1 print")).to_be_visible()
    card.get_by_role("button", name="Take them over").click()
    expect(card.get_by_label("acceleration", exact=True)).to_have_value("2200")
    card.get_by_label("G-code file").set_input_files(
        {"name": "bad.gcode", "mimeType": "text/plain", "buffer": b"G90\nG5 X1\n"}
    )
    expect(card.get_by_role("alert")).to_contain_text("line 2")
    page.reload()
    expect(page.get_by_text("taught by 1 print")).to_be_visible()


def test_limits_that_the_hours_speak_for_are_taken_over(page: Page, server: str) -> None:
    real = with_limit(BENCH, "speed_mm_s", 100)
    told = planned_now(plans(), real)
    paced = [
        p.model_copy(update={"real_s": float(t)}).model_dump(mode="json") for p, t in zip(plans(), told, strict=True)
    ]
    now = page.request.get(f"{server}/api/workshop").json()
    for printer in now["workshop"]["printers"]:
        if printer["key"] == "bench-220":
            printer["paced"] = paced
    body = {"edits": [{"do": "put-workshop", "workshop": now["workshop"]}]}
    assert page.request.post(f"{server}/api/workshop/edits", data=body).ok
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Bench 220"))
    expect(card.get_by_role("table", name="Logged print times suggest other limits")).to_contain_text("200 → 100 mm/s")
    card.get_by_role("button", name="Take them over").click()
    expect(card.get_by_label("speed", exact=True)).to_have_value("100")
    expect(card.get_by_text("agree with the limits set here")).to_be_visible()


def test_the_simulated_printer_prints_and_its_hours_are_noted(page: Page) -> None:
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Bench 220"))
    note = card.get_by_role("button", name="Note its hours")
    for _ in range(4):  # one print in eight fails
        card.get_by_role("button", name="Print a test plate").click()
        expect(note.or_(card.get_by_text(re.compile("^failed")))).to_be_visible(timeout=60_000)
        if note.count():
            break
    note.click()
    expect(card.get_by_text("taught by 1 print")).to_be_visible()


def test_loose_panels_are_changed_and_planned(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    page.get_by_role("link", name="Heron panels").click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Shell")
    panels = page.get_by_role("region", name="Panels")
    thick = panels.get_by_role("textbox", name="thick", exact=True).first
    thick.fill("4")
    thick.press("Enter")
    expect(panels.get_by_role("img", name=re.compile("Left side.*4 thick"))).to_be_visible()
    assert axe(page) == []
    go(page, "Print plan")
    expect(page.get_by_role("table", name="Pieces").get_by_role("row")).to_have_count(9)


@pytest.mark.quiet(False)
def test_a_nozzle_and_speeds_are_set_and_real_hours_noted(page: Page) -> None:
    go(page, "Print plan")
    sheet = page.get_by_role("region", name="Print plan")
    sheet.get_by_role("radio", name="0.6 to be put in").click()
    expect(sheet.get_by_role("radio", name="0.6 to be put in")).to_be_checked()
    one_more = sheet.get_by_role("group", name="Strength").get_by_text(re.compile(r"one more: \+.* min"))
    expect(one_more).to_have_count(3, timeout=60_000)  # each is a whole plan
    sheet.get_by_role("button", name="Speeds by feature").first.click()
    speed = sheet.get_by_label("Outer perimeter", exact=True)
    speed.fill("180")
    speed.press("Enter")
    expect(speed).to_have_value("180")
    expect(sheet.get_by_text("held at").first).to_be_visible()
    open_piece(page, "lid")
    room = page.get_by_role("region", name="The lid")
    room.get_by_label("Printed? It really took").fill("none")
    room.get_by_role("button", name="Note it").click()
    expect(room.get_by_text("above zero")).to_be_visible()
    room.get_by_label("Printed? It really took").fill("5.5")
    room.get_by_role("button", name="Note it").click()
    expect(room.get_by_text("Noted in the diary of Bench 220")).to_be_visible()
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Bench 220"))
    expect(card.get_by_text("Wren, lid")).to_be_visible()
    expect(card.get_by_text("1 of the 3 prints")).to_be_visible()


def test_trying_other_ways_shows_a_bar_and_stops(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    page.get_by_role("link", name=re.compile("Heron panels")).first.click()
    go(page, "Print plan")
    sheet = page.get_by_role("region", name="Print plan")
    infill = sheet.get_by_label("Infill", exact=True).first
    infill.fill("17")  # nobody has asked for that before
    infill.press("Enter")
    expect(
        page.get_by_role("button", name="revision 2")
    ).to_be_visible()  # ways are tried anew once the design is another one
    section = page.get_by_role("heading", name="What changes if").locator("..")
    section.scroll_into_view_if_needed()  # it waits until it is seen
    page.get_by_role("progressbar", name="Trying other ways").wait_for()
    section.get_by_role("button", name="Stop").click()
    # a slow press comes when some have been found already
    expect(section.get_by_text(re.compile("Stopped; (nothing is lost|what was found by then stays)"))).to_be_visible()
    section.get_by_role("button", name="Try them again").click()
    page.get_by_role("progressbar", name="Trying other ways").wait_for()


def test_axe_finds_nothing_on_plan_rooms_and_workshop(page: Page) -> None:
    open_piece(page, "lid")
    page.get_by_role("slider", name="Layer").wait_for(timeout=30_000)
    for tab in ("Where the hours go", "Side down", "Material", "Walls or infill", "Its own process"):
        page.get_by_role("tab", name=tab).click()
        page.wait_for_timeout(1500)
        assert axe(page, contrast=True) == [], tab
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    page.get_by_role("heading", name="Printers").wait_for()
    assert axe(page, contrast=True) == []


def test_a_coupon_is_printed_along_and_what_fitted_is_kept(page: Page) -> None:
    go(page, "Print plan")
    coupons = page.get_by_role("region", name="Coupons")
    coupons.get_by_role("checkbox", name="tongue in its groove").check()
    expect(page.get_by_role("region", name="Print plan").get_by_text("coupon-tongue", exact=True).first).to_be_visible()
    fitted = coupons.get_by_role("group", name="What fitted: tongue in its groove")
    with page.expect_response("**/api/workshop/edits"):  # it shows at once, but is kept when this is answered
        fitted.get_by_role("button", name="4: 0.225").click()
        expect(coupons).to_contain_text("Bench 220 in PLA: 0.225 mm per side")
    page.reload()
    expect(coupons).to_contain_text("Bench 220 in PLA: 0.225 mm per side")
    assert axe(page) == []
    coupons.get_by_role("checkbox", name="tongue in its groove").uncheck()
    expect(fitted).to_have_count(0)
