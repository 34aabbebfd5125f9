"""What a hand holds in the real interface: the whole workroom shows what would be, and nothing is kept before it is let go."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, Route, expect

from .conftest import axe
from .test_whole_way import go

pytestmark = [pytest.mark.browser, pytest.mark.quiet, pytest.mark.xdist_group("pieces in the browser")]


def grabbed(page: Page, thing: Locator, dx: float, dy: float) -> None:
    """Take a thing at its lower middle and carry it on."""
    box = thing.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + 0.75 * box["height"]
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + dx, y + dy, steps=8)


def test_concerns_route_and_tally_follow_a_component_in_the_hand(page: Page) -> None:
    board = page.get_by_role("button", name=re.compile("^Board in plan"))
    concerns = page.get_by_role("complementary", name="Concerns")
    bench = page.get_by_role("navigation", name="Route").get_by_role("link", name=re.compile("^Bench"))
    new = concerns.get_by_role("button", name="Board reaches into the right wall new here")
    expect(bench).to_contain_text("2 stops")
    place = board.get_attribute("aria-label")
    grabbed(page, board, 36, -12)
    expect(new).to_be_visible()
    expect(concerns).to_contain_text("9 open here")
    expect(bench).to_contain_text("3 stops")
    held = concerns.get_by_role("button", name=re.compile("^Move ")).count()
    assert held == 0  # what mends it is looked for once it is let go
    expect(concerns.get_by_text(re.compile("^Move Button")).first).to_be_visible()  # they can be read
    axe(page)
    page.keyboard.press("Escape")
    expect(concerns).not_to_contain_text("open here")
    expect(concerns).to_contain_text("8 open")
    page.mouse.up()
    expect(board).to_have_attribute("aria-label", place or "")
    expect(page.get_by_role("button", name="revision 1", exact=True)).to_be_visible()
    expect(concerns.get_by_role("button", name=re.compile("^Move Button "))).to_be_enabled()
    grabbed(page, board, 36, -12)
    expect(new).to_be_visible()
    page.mouse.up()
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    expect(concerns.get_by_role("button", name=re.compile("Board reaches into the right wall$"))).to_be_visible()
    expect(concerns).to_contain_text("9 open")
    expect(concerns).not_to_contain_text("here")
    # carried back it would go, and says so
    grabbed(page, board, -36, 12)
    expect(concerns.locator("s")).to_have_text("Board reaches into the right wall")
    page.mouse.up()
    expect(concerns.get_by_text("Board reaches into the right wall")).to_have_count(0)


def test_concerns_follow_an_opening_in_the_hand(page: Page) -> None:
    go(page, "Openings")
    port = page.get_by_role("button", name=re.compile("^USB-C, front face"))
    concerns = page.get_by_role("complementary", name="Concerns")
    place = port.bounding_box()
    grabbed(page, port, 14, 0)
    expect(concerns).to_contain_text("open here")
    new = concerns.get_by_text("new here").first
    expect(new).to_be_visible()
    # a pointer that is taken away gives it back
    port.dispatch_event("pointercancel")
    expect(concerns).not_to_contain_text("open here")
    page.mouse.up()
    assert port.bounding_box() == place
    expect(page.get_by_role("button", name="revision 1", exact=True)).to_be_visible()


def test_a_number_that_is_typed_is_looked_at_before_it_is_given(page: Page) -> None:
    """Once the hand pauses: the sheet draws what giving it would do, and concerns, route and tally tell. Nothing is kept until then."""
    concerns = page.get_by_role("complementary", name="Concerns")
    page.get_by_role("button", name=re.compile("^Button in plan")).click()
    slip = page.get_by_role("region", name="Slip: Button")
    left = slip.get_by_label("from left")
    plan = page.locator('[data-ghost="plan"] rect')
    high = slip.bounding_box()
    place = left.input_value()
    to = round(float(place) + 23.7, 1)
    tried: list[Any] = []
    page.on("request", lambda r: tried.append(r.post_data_json) if r.url.endswith("/tried") else None)
    left.click()
    page.keyboard.type("12..")  # no number yet
    page.wait_for_timeout(400)
    assert tried == [] and plan.count() == 0
    left.fill(str(to))
    expect(concerns).to_contain_text("7 open here")  # out of the drive's plug room
    assert [x["edits"] for x in tried] == [[{"do": "move", "id": "button", "to_mm": [to, None, None]}]]
    expect(concerns.locator("s")).to_have_text("Button stands in the plug room of Drive")
    expect(plan.first).to_be_visible()
    axe(page)
    page.keyboard.press("Escape")
    expect(concerns).not_to_contain_text("open here")
    expect(plan).to_have_count(0)
    expect(left).to_have_value(place)
    expect(page.get_by_role("button", name="revision 1", exact=True)).to_be_visible()
    left.fill(str(to))
    expect(concerns).to_contain_text("7 open here")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    expect(concerns).to_contain_text("7 open")
    expect(concerns).not_to_contain_text("open here")
    expect(plan).to_have_count(0)
    # it says what it was in the room that it has: what is below stays under the hand
    expect(slip.get_by_text(f"was {place}")).to_be_visible()
    now = slip.bounding_box()
    assert high and now and now["height"] == high["height"]
    # going elsewhere with something typed gives it, as leaving the field does
    left.fill(str(to + 1))
    expect(concerns).to_contain_text("open here")
    slip.get_by_label("over floor").focus()
    expect(page.get_by_role("button", name="revision 3", exact=True)).to_be_visible()
    expect(concerns).not_to_contain_text("open here")


def test_the_sheet_s_own_words_are_of_the_number_that_is_typed(page: Page) -> None:
    """What the brief says of a warmer room, and what the parts of a smaller case weigh, before either is given."""
    go(page, "Brief")
    brief = page.get_by_role("region", name="Brief")
    expect(brief).to_contain_text("The warmest wall will then be about 36 °C; PLA bears 45 °C.")
    brief.get_by_label("Room", exact=True).fill("38")
    expect(brief).to_contain_text("The warmest wall will then be about 48 °C; PLA bears 45 °C.")
    brief.get_by_label("Budget for filament (0: none set)").focus()  # gives the room
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    page.keyboard.type("2")
    expect(brief.get_by_role("list", name="What becomes of the wishes")).to_contain_text("unmet: filament costs")
    page.keyboard.press("Escape")
    go(page, "Shell")
    base = page.get_by_role("list", name="Parts of the case").get_by_role("button", name=re.compile("^base"))
    expect(base).to_contain_text("118 g")
    page.get_by_label("Depth inside", exact=True).fill("120")
    expect(base).not_to_contain_text("118 g")
    expect(base).to_contain_text(re.compile(r"10\d g"))
    page.keyboard.press("Escape")
    expect(base).to_contain_text("118 g")


def test_a_typed_number_that_is_refused_leaves_the_design_as_it_stands(page: Page) -> None:
    go(page, "Shell")
    concerns = page.get_by_role("complementary", name="Concerns")
    wall = page.get_by_label("Wall", exact=True)
    with page.expect_response("**/tried") as told:
        wall.fill("200")
    assert told.value.status == 422
    expect(concerns).not_to_contain_text("open here")
    with page.expect_response("**/tried") as told:
        wall.fill("4.05")
    assert told.value.status == 200
    expect(concerns).to_contain_text("open here")
    go(page, "Bench")  # the field goes, and what was typed is given
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    expect(concerns).not_to_contain_text("open here")


def test_remedies_are_looked_for_after_the_edit(page: Page) -> None:
    """An edit shows its concerns at once. Until their remedies are there none can be pressed; then they are those of the design as it is."""
    concerns = page.get_by_role("complementary", name="Concerns")
    expect(concerns.get_by_role("button", name="Move Button 23.7 mm right")).to_be_visible()
    waiting: list[Route] = []

    def hold(route: Route) -> None:
        waiting.append(route)

    page.route(re.compile("/concerns$|/settled$"), hold)
    page.get_by_role("button", name=re.compile("^Button in plan")).focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Escape")
    expect(concerns).to_contain_text("−8 mm")
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    expect(concerns.get_by_role("button", name=re.compile("^Move "))).to_have_count(0)
    concerns.get_by_role("button", name=re.compile("^To be weighed Drive lead")).click()
    expect(concerns.get_by_text("looking for a remedy …")).to_have_count(0)  # it had one before
    expect(concerns.get_by_text("Take the 200 mm lead")).to_be_visible()
    expect(concerns.get_by_role("button", name="Take the 200 mm lead")).to_have_count(0)
    search = page.get_by_role("dialog", name="Search and do")
    page.keyboard.press("Control+k")
    search.get_by_role("combobox").fill("move button")
    expect(search.get_by_role("status")).to_have_text("Looking for remedies …")
    expect(search.get_by_role("option")).to_have_count(0)
    page.unroute(re.compile("/concerns$|/settled$"))
    for route in waiting:
        route.continue_()
    expect(search.get_by_role("option", name=re.compile("^Move Button 22.7 mm right"))).to_be_visible()
    expect(search.get_by_role("status")).to_have_count(0)
    page.keyboard.press("Escape")
    expect(concerns.get_by_role("button", name="Take the 200 mm lead")).to_be_enabled()
    concerns.get_by_role("button", name=re.compile("^Stops the print Button stands")).click()
    expect(concerns.get_by_role("button", name="Move Button 22.7 mm right")).to_be_enabled()


def test_the_keys_stay_where_a_remedy_was(page: Page) -> None:
    """Pressed by a key, a remedy goes with its concern, and the next concern has the focus: Tab goes on to its remedies."""
    concerns = page.get_by_role("complementary", name="Concerns")
    concerns.get_by_role("button", name="Move Button 23.7 mm right").focus()
    page.keyboard.press("Enter")
    expect(concerns.get_by_role("button", name="Stops the print Card lip of Board meets the floor")).to_be_focused()
    expect(concerns.get_by_role("button", name=re.compile("^Raise Board"))).to_be_enabled()
    page.keyboard.press("Tab")  # its number, which says why
    page.keyboard.press("Tab")
    expect(concerns.get_by_role("button", name=re.compile("^Raise Board"))).to_be_focused()


def test_a_choice_under_a_resting_pointer_is_looked_at_before_it_is_picked(page: Page) -> None:
    go(page, "Print plan")
    concerns = page.get_by_role("complementary", name="Concerns")
    kinds = page.get_by_role("radiogroup", name="Filament")
    petg, pla = kinds.get_by_role("radio", name="PETG", exact=True), kinds.get_by_role("radio", name="PLA", exact=True)
    tally = page.get_by_role("contentinfo", name="Tally")
    expect(tally).to_contain_text("of 45 (PLA)")
    tried: list[Any] = []
    page.on("request", lambda r: tried.append(r.post_data_json) if r.url.endswith("/tried") else None)
    pla.hover()  # as it is
    petg.hover()  # passed by
    page.mouse.move(640, 60)
    page.wait_for_timeout(700)
    assert tried == []
    petg.hover()
    expect(concerns).to_contain_text("open here")
    expect(concerns.locator("s")).to_have_text(["PLA comes near softening at the wall"])
    expect(tally).to_contain_text("(PETG)")
    expect(pla).to_be_checked()
    axe(page)
    page.mouse.move(640, 60)
    expect(concerns).not_to_contain_text("open here")
    expect(tally).to_contain_text("of 45 (PLA)")
    expect(page.get_by_role("button", name="revision 1", exact=True)).to_be_visible()
    petg.hover()
    expect(tally).to_contain_text("(PETG)")
    petg.click()
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    expect(petg).to_be_checked()
    expect(concerns).not_to_contain_text("open here")
    assert {len(x["edits"]) for x in tried} == {1}
    assert [x["edits"] for x in tried] == [tried[0]["edits"]] * len(tried)


def test_a_box_under_a_resting_pointer_is_looked_at_and_once_ticked_left_alone(page: Page) -> None:
    """The words beside it count as the box. What was just ticked is not looked at the other way round before the pointer has been elsewhere."""
    go(page, "Brief")
    concerns = page.get_by_role("complementary", name="Concerns")
    audio = page.get_by_role("region", name="Brief").get_by_role("listitem").filter(has_text="Audio jack")
    box = audio.get_by_role("checkbox")
    words = audio.get_by_text("Audio jack 3.5")
    tried: list[Any] = []
    page.on("request", lambda r: tried.append(r.post_data_json) if r.url.endswith("/tried") else None)
    expect(box).to_be_checked()
    words.scroll_into_view_if_needed()
    words.hover()
    expect(concerns).to_contain_text("open here")
    assert [x["edits"] for x in tried] == [[{"do": "need", "port": "board/audio", "needed": False}]]
    words.click()
    expect(box).not_to_be_checked()
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    expect(concerns).not_to_contain_text("open here")
    place = words.bounding_box()
    assert place
    page.mouse.move(place["x"] + 5, place["y"] + 6, steps=3)
    page.wait_for_timeout(900)
    assert len(tried) == 1
    page.mouse.move(640, 60)
    words.hover()
    expect(concerns).to_contain_text("open here")
    assert tried[-1]["edits"] == [{"do": "need", "port": "board/audio", "needed": True}]
    page.mouse.move(640, 60)
    expect(concerns).not_to_contain_text("open here")
    expect(box).not_to_be_checked()


def test_the_table_of_joints_tells_what_is_pointed_at(page: Page) -> None:
    """What the screws would bear can be read before one is picked; what is picked stays so, and stays under the pointer."""
    go(page, "Hardware")
    slip = page.get_by_role("region", name="Joint: lid")
    plastic, insert = (
        slip.get_by_role("radio", name=x, exact=True) for x in ("thread cut in plastic", "heat-set insert")
    )
    bears = slip.get_by_role("button", name=re.compile("Pull-out of one screw"))
    lid = page.get_by_role("row").filter(has=page.get_by_role("button", name="lid", exact=True))
    now, at = bears.text_content() or "", insert.bounding_box()
    insert.hover()
    expect(lid).to_contain_text("heat-set insert")
    expect(bears).not_to_have_text(now)
    there = bears.text_content() or ""
    expect(plastic).to_be_checked()
    assert insert.bounding_box() == at
    axe(page)
    page.mouse.move(640, 60)
    expect(lid).to_contain_text("thread cut in plastic")
    expect(bears).to_have_text(now)
    insert.click()
    expect(page.get_by_role("button", name="revision 2", exact=True)).to_be_visible()
    expect(bears).to_have_text(there)
    expect(insert).to_be_checked()


def test_what_snaps_and_magnets_hold_tells_what_is_pointed_at_or_typed(page: Page) -> None:
    go(page, "Hardware")
    page.get_by_role("button", name="Hold it by snaps").click()
    snaps = page.get_by_role("region", name="Snaps")
    bent = snaps.get_by_role("button", name=re.compile("How far an arm is bent"))
    arms = snaps.get_by_label("Arms thick")
    now, thick = bent.text_content() or "", float(arms.input_value())
    arms.fill(str(thick + 0.4))
    expect(bent).not_to_have_text(now)
    assert _number(bent) > float(now.split()[0].rstrip(","))  # a thicker arm is strained more as it passes
    arms.press("Escape")
    expect(bent).to_have_text(now)
    snaps.get_by_role("button", name="Hold it by screws").click()
    page.get_by_role("button", name="Hold it by magnets").click()
    magnets = page.get_by_role("region", name="Magnets")
    held = magnets.get_by_role("button", name="What the magnets of lid hold at least")
    weak, strong = (magnets.get_by_role("radio", name=x, exact=True) for x in ("N42", "N52"))
    expect(weak).to_be_checked()
    now, at = held.text_content() or "", strong.bounding_box()
    strong.hover()
    expect(held).not_to_have_text(now)
    assert _number(held) > float(now.split()[0].rstrip(","))
    expect(weak).to_be_checked()
    assert strong.bounding_box() == at
    heads = magnets.get_by_role("radio", name="screw heads", exact=True)
    heads.hover()
    expect(magnets.get_by_text(re.compile("from the heads of as many screws"))).to_be_visible()
    expect(magnets.get_by_text(re.compile("it meets the head of a screw"))).to_be_visible()
    axe(page)
    page.mouse.move(640, 60)
    expect(held).to_have_text(now)
    expect(magnets.get_by_text(re.compile("the pocket that it meets shows the other"))).to_be_visible()


def _number(words: Locator) -> float:
    return float((words.text_content() or "").split()[0].rstrip(","))


def test_the_unfolded_case_draws_the_shape_that_is_pointed_at(page: Page) -> None:
    go(page, "Openings")
    page.get_by_role("button", name="Add an opening").click()
    slot = page.get_by_role("radio", name="slot", exact=True)
    ghost = page.locator("[data-ghost]")
    expect(page.get_by_role("radio", name="rectangle", exact=True)).to_be_checked()
    expect(ghost).to_have_count(0)
    slot.hover()
    expect(ghost).to_have_count(1)
    high, corner = (float(ghost.get_attribute(x) or 0) for x in ("height", "rx"))
    assert corner == pytest.approx(high / 2)  # half as round as it is high
    page.mouse.move(640, 760)
    expect(ghost).to_have_count(0)


def _seen(case: Locator) -> bytes:
    """What is drawn in the middle, with nothing that is written over it."""
    box = case.bounding_box()
    assert box
    clip = {"x": box["x"] + 10, "y": box["y"] + 60, "width": box["width"] - 320, "height": box["height"] - 130}
    return case.page.screenshot(clip=clip)  # type: ignore[arg-type]


def _until(page: Page, there: Callable[[], bool]) -> None:
    for _ in range(200):
        if there():
            return
        page.wait_for_timeout(50)
    pytest.fail("it was never drawn so")


def test_the_case_in_3d_is_drawn_as_it_would_be(page: Page) -> None:
    """With a hinge that is pointed at and with walls that are typed; while new meshes are on their way the case stays as it was."""
    go(page, "Shell")
    case = page.locator("[data-ready=true]")
    expect(case).to_be_visible()
    hinge = page.get_by_role("radiogroup", name="Hinge").get_by_role("radio", name="back", exact=True)
    now = _seen(case)
    meshes: list[Route] = []

    def held(route: Route) -> None:
        meshes.append(route)

    page.route("**/api/meshes/*", held)
    hinge.hover()
    expect(page.get_by_text("2 of 2 screws of the case have a place")).to_be_visible()
    while len(meshes) < 2:
        page.wait_for_timeout(50)
    page.unroute("**/api/meshes/*")
    assert _seen(case) == now  # neither taken away nor half of it
    for mesh in meshes:
        mesh.continue_()
    _until(page, lambda: _seen(case) != now)
    page.mouse.move(640, 20)
    _until(page, lambda: _seen(case) == now)
    deep = page.get_by_label("Depth inside")
    deep.fill("170")
    _until(page, lambda: _seen(case) != now)
    deep.press("Escape")
    _until(page, lambda: _seen(case) == now)
    expect(page.get_by_role("button", name="revision 1", exact=True)).to_be_visible()
