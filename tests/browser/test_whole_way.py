"""The main job through the real interface, by role and label."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Callable

import pytest
from playwright.sync_api import FloatRect, Locator, Page, Route, expect

from .conftest import axe, concern

pytestmark = [pytest.mark.browser, pytest.mark.quiet, pytest.mark.xdist_group("the whole way in the browser")]
STOPS = ("Brief", "Parts", "Bench", "Shell", "Openings", "Cuts", "Hardware", "Print plan")


def go(page: Page, stop: str) -> None:
    page.get_by_role("navigation", name="Route").get_by_role("link", name=re.compile(f"^{stop}")).click()
    page.get_by_role("main", name=f"{stop} sheet").wait_for()


def comes_to(where: Locator, right: Callable[[FloatRect], bool]) -> FloatRect:
    """The box of what is drawn, once it is right and stands still; a busy machine draws a little later."""
    box = where.bounding_box()
    for _ in range(100):
        last = box
        where.page.wait_for_timeout(50)
        box = where.bounding_box()
        if box and box == last and right(box):
            return box
    raise AssertionError(f"still drawn at {box}")


def mend_all(page: Page, most: int = 14) -> int:
    """Press the first remedy of the first open concern until none is open."""
    concerns = page.get_by_role("complementary", name="Concerns")
    for pressed in range(most):
        if concerns.get_by_text("none open").count():
            return pressed
        title = concerns.locator("li > [aria-expanded=true]").first.inner_text()
        concerns.locator("li > [aria-expanded=true]").first.locator("xpath=..").locator(
            "button.bg-plumwash"
        ).first.click()
        expect(concerns.locator("li:not([aria-hidden]) > [aria-expanded]", has_text=title)).to_have_count(0)
    raise AssertionError("there are still open concerns")


@pytest.mark.quiet(False)
def test_wren_is_mended_in_a_few_presses_and_taken_home(page: Page) -> None:
    concerns = page.get_by_role("complementary", name="Concerns")
    expect(concerns.get_by_text(re.compile(r"\d open"))).to_be_visible()
    expect(concerns.get_by_text("resolves it").first).to_be_visible()  # the effect is known before pressing
    assert mend_all(page) <= 10
    expect(concerns.get_by_text("No open concerns.")).to_be_visible()

    page.get_by_role("button", name="Export files").click()
    page.get_by_role("button", name="Make the files").click()
    link = page.get_by_role("link", name="Save the ZIP")
    link.wait_for(timeout=150_000)
    with page.expect_download() as saved:
        link.click()
    data = saved.value.path().read_bytes()
    names = set(zipfile.ZipFile(io.BytesIO(data)).namelist())
    assert {"base.3mf", "lid.3mf", "set.3mf", "base.stl", "lid.step", "bill-of-materials.csv", "design.json"} <= names
    assert json.loads(zipfile.ZipFile(io.BytesIO(data)).read("design.json"))["name"] == "Wren"


def test_undo_and_redo_survive_a_reload(page: Page) -> None:
    go(page, "Shell")
    wall = page.get_by_label("Wall", exact=True)
    wall.fill("1/8in")
    wall.press("Enter")
    expect(wall).to_have_value("3.17")  # 3.175 mm as it is shown
    page.reload()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Wall", exact=True)).to_have_value("3")
    page.reload()
    page.get_by_role("button", name="Redo").click()
    expect(page.get_by_label("Wall", exact=True)).to_have_value("3.17")


def test_a_number_that_is_none_is_said_and_the_old_one_kept(page: Page) -> None:
    go(page, "Shell")
    wall = page.get_by_label("Wall", exact=True)
    wall.fill("thick")
    wall.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("it stays 3")
    wall.press("Escape")
    expect(wall).to_have_value("3")
    wall.fill("90")
    wall.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("shell.wall_mm")
    expect(page.get_by_role("alert")).to_contain_text("unchanged")


@pytest.mark.quiet(False)
def test_what_is_typed_while_answers_are_held_back_is_not_lost(page: Page) -> None:
    page.add_init_script("""
        const sent = window.fetch;
        window.fetch = async (...a) => {
          if (String(a[0].url ?? a[0]).endsWith("/edits")) await new Promise((r) => setTimeout(r, 600));
          return sent(...a);
        };""")
    page.reload()
    page.get_by_role("button", name=re.compile("^Drive in plan")).click(position={"x": 10, "y": 10})
    across, deep = page.get_by_label("from left", exact=True), page.get_by_label("from front", exact=True)
    x, y = float(across.input_value()), float(deep.input_value())
    across.fill(f"{x - 3:g}")
    across.press("Tab")
    expect(across).to_have_value(f"{x - 3:g}", timeout=300)  # at once, with a sign that it is on its way
    expect(across).to_have_attribute("aria-busy", "true", timeout=300)
    deep.fill(f"{y + 2:g}")
    deep.press("Enter")
    deep.press("ArrowUp")  # one more, while two are on their way
    expect(across).to_have_attribute("aria-busy", "false", timeout=40_000)
    expect(deep).to_have_attribute("aria-busy", "false", timeout=40_000)
    expect(across).to_have_value(f"{x - 3:g}")
    expect(deep).to_have_value(f"{y + 3:g}")
    go(page, "Shell")
    wide, high = page.get_by_label("Width inside"), page.get_by_label("Height", exact=True)
    before = float(wide.input_value()), float(high.input_value())
    wide.fill(f"{before[0] + 1:g}")
    wide.press("Tab")
    high.fill(f"{before[1] + 4:g}")
    high.press("Enter")
    expect(high).to_have_attribute("aria-busy", "false", timeout=40_000)
    assert (float(wide.input_value()), float(high.input_value())) == (before[0] + 1, before[1] + 4)
    # what is refused does not stay in its field
    wall = page.get_by_label("Wall", exact=True)
    wall.fill("90")
    wall.press("Enter")
    expect(wall).not_to_have_value("90")


def test_a_page_is_not_left_while_changes_are_on_their_way(page: Page) -> None:
    held: list[Route] = []

    def hold(route: Route) -> None:
        held.append(route)

    page.route("**/edits", hold)
    page.get_by_role("button", name=re.compile("^Drive in plan")).click(position={"x": 10, "y": 10})
    across = page.get_by_label("from left", exact=True)
    x = float(across.input_value())
    across.fill(f"{x - 3:g}")
    across.press("Enter")
    expect(across).to_have_attribute("aria-busy", "true")
    asked: list[str] = []
    page.on("dialog", lambda d: (asked.append(d.type), d.dismiss()))
    page.close(run_before_unload=True)
    page.wait_for_timeout(500)
    assert asked == ["beforeunload"] and not page.is_closed()
    held[0].continue_()
    expect(across).to_have_attribute("aria-busy", "false")
    page.reload()  # nothing is on its way: nobody asks
    assert len(asked) == 1
    page.get_by_role("button", name=re.compile("^Drive in plan")).click(position={"x": 10, "y": 10})
    expect(across).to_have_value(f"{x - 3:g}")


def test_dragging_in_one_view_moves_it_in_all(page: Page) -> None:
    plan = page.get_by_role("button", name=re.compile("^Drive in plan"))
    front = page.get_by_role("button", name=re.compile("^Drive in front"))
    page.wait_for_load_state("networkidle")  # what comes late may lay the sheet out anew
    before, below = plan.bounding_box(), front.bounding_box()
    assert before and below
    x, y = before["x"] + 30, before["y"] + 20
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 20, y, steps=5)
    comes_to(front, lambda box: abs(box["x"] - below["x"] - 20) < 1.5)
    page.mouse.up()
    expect(page.get_by_role("button", name="revision 2")).to_be_visible()
    comes_to(plan, lambda box: abs(box["x"] - before["x"] - 20) < 1.5)


def test_a_thing_is_placed_with_the_keyboard_alone(page: Page) -> None:
    plan = page.get_by_role("button", name=re.compile("^Board in plan"))
    said = plan.get_attribute("aria-label") or ""
    at = float(re.findall(r"at ([\d.]+)", said)[0])
    plan.focus()
    plan.press("ArrowRight")
    plan.press("ArrowRight")
    expect(page.get_by_role("button", name=re.compile(rf"^Board in plan.*at {at + 2:g}"))).to_be_visible()
    slip = page.get_by_role("region", name="Slip: Board")
    expect(slip.get_by_label("from left")).to_have_value(f"{at + 2:g}")
    slip.get_by_role("button", name=re.compile("Quarter turn")).click()
    expect(slip.get_by_text("90°")).to_be_visible()


def test_a_part_goes_from_the_library_to_the_bench_and_out_again(page: Page) -> None:
    go(page, "Parts")
    page.get_by_label("Search the library").fill("58 x 23")
    library = page.get_by_role("region", name="Library")
    expect(library.get_by_role("listitem")).to_have_count(1)
    library.get_by_role("button", name=re.compile("65 x 30")).click()
    page.get_by_role("button", name="Put it on the bench").click()
    page.get_by_role("button", name=re.compile("^Board 2 in plan")).wait_for()
    page.get_by_role("region", name="Slip: Board 2").get_by_role("button", name="Take it out").click()
    expect(page.get_by_role("button", name=re.compile("^Board 2 in plan"))).to_have_count(0)


def test_openings_are_moved_sized_and_aligned(page: Page) -> None:
    go(page, "Openings")
    network = page.get_by_role("button", name=re.compile("^Network, right face"))
    network.focus()
    network.press("Enter")
    slip = page.get_by_role("region", name=re.compile("Slip: Network"))
    up = slip.get_by_label("up")
    up.fill("18")
    up.press("Enter")
    expect(concern(page, "Network: the opening misses")).to_be_visible()
    slip.get_by_role("button", name="Back to its port").click()
    expect(concern(page, "Network: the opening misses")).to_have_count(0)
    page.keyboard.press("Escape")
    page.get_by_role("button", name=re.compile("^HDMI, front")).click()
    page.get_by_role("button", name=re.compile("^USB-C, front")).click(modifiers=["Shift"])
    page.get_by_role("group", name="Align the chosen openings").get_by_role("button", name="Middles in line").click()
    expect(concern(page, "USB-C: the opening misses")).to_be_visible()


def test_an_opening_of_ones_own_is_drawn_sized_tied_and_closed(page: Page) -> None:
    go(page, "Openings")
    left = page.get_by_role("group", name="The case unfolded").get_by_text("Left", exact=True)
    label = comes_to(left, lambda _: True)
    x, y = label["x"] + 60, label["y"] - 30
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 20, y + 8, steps=4)
    page.mouse.move(x + 40, y + 16, steps=4)
    page.mouse.up()
    slip = page.get_by_role("region", name=re.compile("Slip: Opening 1"))
    slip.get_by_role("radio", name="slot").click()
    width = slip.get_by_label("width")
    width.fill("20")
    width.press("Enter")
    expect(slip.get_by_text("cut 20.76")).to_be_visible()  # 20 + 2 x (0.35 + 20 x 0.3 % / 2), by hand
    name = slip.get_by_label("Name")
    name.fill("Lead of the lamp")
    name.press("Enter")
    lead = page.get_by_role("button", name=re.compile("^Lead of the lamp, left face"))
    expect(lead).to_be_visible()
    slip = page.get_by_role("region", name=re.compile("Slip: Lead of the lamp"))
    slip.get_by_label("Lead of the lamp goes along with").select_option("Drive")
    before = slip.get_by_label("across").input_value()
    expect(slip.get_by_label("across")).to_have_value(before)  # tying it moves nothing
    slip.get_by_role("radio", name="acrylic").click()
    expect(slip.get_by_text("Glued or taped in from inside")).to_contain_text("30.8 ×")  # 5 mm on the wall at both ends
    slip.get_by_label("overlap").fill("3")
    slip.get_by_label("overlap").press("Enter")
    expect(slip.get_by_text("Glued or taped in from inside")).to_contain_text("26.8 ×")
    slip.get_by_role("radio", name="a printed plate").click()
    slip.get_by_role("radio", name="screws").click()
    expect(slip.get_by_text("screws M3 with nuts, from outside")).to_contain_text("36.8 ×")  # 8 on the wall for screws
    expect(slip.get_by_role("textbox", name="overlap beside")).to_have_value("8")
    assert axe(page) == []
    slip.get_by_role("button", name="Close this opening").click()
    expect(lead).to_have_count(0)
    page.get_by_role("button", name="Add an opening").click()  # without a pointer too
    expect(page.get_by_role("button", name=re.compile("^Opening 1, front face, 20.8 by 8.8"))).to_be_visible()


def test_text_is_put_on_a_face_written_sized_and_left_out(page: Page) -> None:
    go(page, "Openings")
    page.get_by_role("button", name="Add text").click()
    slip = page.get_by_role("region", name=re.compile("Slip: Text"))
    expect(page.get_by_role("button", name=re.compile("^Wren, top face, 23.9 by 8 mm"))).to_be_visible()
    letters = slip.get_by_label("Letters")
    letters.fill("H")
    letters.press("Enter")
    slip.get_by_label("height").fill("10.9")
    slip.get_by_label("height").press("Enter")
    # 10 x 14 / 21 + 0.9 across, by hand
    expect(slip.get_by_text("Sunk into the lid")).to_contain_text("7.6 × 10.9")
    slip.get_by_role("radio", name="90°").click()
    expect(slip.get_by_text("Sunk into the lid")).to_contain_text("10.9 × 7.6")
    slip.get_by_label("Face of the text").select_option("left")
    slip.get_by_label("across").fill("0")
    slip.get_by_label("across").press("Enter")
    expect(slip.get_by_text("Not cut")).to_be_visible()
    concern(page, "“H” is not cut into the left").click()
    assert axe(page) == []
    page.get_by_role("complementary", name="Concerns").get_by_role("button", name="Move “H” to a free place").click()
    expect(concern(page, "“H” is not cut into the left")).to_have_count(0)
    mark = page.get_by_role("button", name=re.compile("^H, left face"))
    mark.click()
    slip.get_by_label("Letters").fill("\u2603")
    slip.get_by_label("Letters").press("Enter")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("cannot be drawn")
    alert.get_by_role("button", name="Close").click()
    slip.get_by_role("button", name="Leave this text out").click()
    expect(mark).to_have_count(0)


@pytest.mark.quiet(False)
def test_the_small_printer_gets_the_case_in_pieces(page: Page) -> None:
    go(page, "Print plan")
    page.get_by_role("radio", name=re.compile("Bench 180")).click()
    expect(page.get_by_role("row", name=re.compile("base-2"))).to_be_visible()
    expect(page.get_by_role("contentinfo", name="Tally")).to_contain_text("all fit the bed")
    # one piece alone in another filament
    page.get_by_role("button", name="lid-2", exact=True).click()
    room = page.get_by_role("region", name="The lid-2")
    room.get_by_role("tab", name="Material").click()
    room.get_by_role("radio", name="the lid-2 alone").click()
    room.get_by_role("listitem").filter(has_text="PETG").first.get_by_role("button", name="Take it").click()
    expect(page.get_by_role("row", name=re.compile("^lid-2"))).to_contain_text("PETG")
    expect(page.get_by_role("row", name=re.compile("^lid-1"))).to_contain_text("PLA")
    room.get_by_role("tab", name="Its own process").click()
    room.get_by_role("button", name="Print it like the rest").click()
    expect(page.get_by_role("row", name=re.compile("^lid-2"))).to_contain_text("PLA")
    concerns = page.get_by_role("complementary", name="Concerns")
    concern(page, re.compile("The base is .* larger than the bed")).click()
    concerns.get_by_role("button", name=re.compile("^Brim of")).click()
    expect(page.get_by_role("row", name=re.compile("^base 1"))).to_be_visible()


def test_two_windows_do_not_overwrite_each_other(page: Page) -> None:
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_role("heading", name="Concerns").wait_for()
    go(other, "Shell")
    other.get_by_label("Floor", exact=True).fill("4")
    other.get_by_label("Floor", exact=True).press("Enter")
    expect(other.get_by_role("button", name="revision 2")).to_be_visible()

    go(page, "Shell")
    page.get_by_label("Wall", exact=True).fill("3.3")
    page.get_by_label("Wall", exact=True).press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Another window changed this design first")
    expect(page.get_by_label("Floor", exact=True)).to_have_value("4")
    expect(page.get_by_label("Wall", exact=True)).to_have_value("3")
    page.get_by_role("button", name="Make my change again").click()
    expect(page.get_by_label("Wall", exact=True)).to_have_value("3.3")
    expect(page.get_by_label("Floor", exact=True)).to_have_value("4")


def test_search_and_do(page: Page) -> None:
    page.keyboard.press("Control+k")
    box = page.get_by_role("combobox", name="Search and do")
    box.fill("petg")
    expect(page.get_by_role("option").first).to_contain_text("PETG")
    box.press("Enter")
    expect(page.get_by_role("contentinfo", name="Tally")).to_contain_text("(PETG)")


def test_a_number_can_be_asked_why(page: Page) -> None:
    page.get_by_role("button", name=re.compile("why: Hottest wall")).click()
    why = page.get_by_role("dialog")
    expect(why).to_contain_text("h_in")
    expect(why).to_contain_text("series resistances")


def test_a_design_is_read_in_again(page: Page, server: str) -> None:
    answer = page.request.get(page.url.replace("/designs/", "/api/designs/").replace("/bench", "/design.json"))
    page.goto(f"{server}/?shelf")
    page.get_by_label("Read in a design.json").set_input_files(
        {"name": "design.json", "mimeType": "application/json", "buffer": answer.body()}
    )
    page.get_by_role("button", name="Read it in again").click()  # the shelf has it already, just so
    page.get_by_role("heading", name="What Wren is for").wait_for()
    page.goto(f"{server}/?shelf")
    page.get_by_label("Read in a design.json").set_input_files(
        {"name": "design.json", "mimeType": "application/json", "buffer": answer.body()[:200]}
    )
    expect(page.get_by_role("alert")).to_contain_text("not whole JSON")


@pytest.mark.quiet(False)
def test_axe_finds_nothing_at_any_stop_by_day_and_night(page: Page) -> None:
    for theme in ("day", "night"):
        for stop in STOPS if theme == "day" else STOPS[1::2]:
            go(page, stop)
            if stop == "Shell":
                page.locator("[data-ready=true]").wait_for()
            # by night only the colours are others: every second sheet has all of them
            assert axe(page, only="color-contrast" if theme == "night" else "", contrast=True) == [], (
                f"{stop} by {theme}"
            )
        if theme == "day":
            page.get_by_role("button", name="Night shop").click()
            expect(page.locator("html[data-theme=night]")).to_have_count(1)
            page.wait_for_timeout(100)  # so that the colours have set out


def test_axe_finds_nothing_on_shelf_slips_and_cards(page: Page, server: str) -> None:
    page.get_by_role("button", name=re.compile("^Fan in plan")).click()
    page.get_by_role("region", name="Slip: Fan").wait_for()
    page.get_by_role("button", name=re.compile("why: Filament$")).click()
    page.wait_for_timeout(100)
    assert axe(page, contrast=True) == []
    page.goto(f"{server}/?shelf")
    page.get_by_role("link", name="Wren", exact=True).wait_for()
    assert axe(page, contrast=True) == []


OVERLAPS = """() => {
  const seen = [...document.querySelectorAll('button, input, select, a, p, label, h2, dt, dd, th, td')]
    .filter((e) => !e.closest('.sr-only, svg, [aria-hidden=true]') && e.checkVisibility({ visibilityProperty: true }));
  const cut = (e) => {  // what is seen of it: what scrolls away inside its box does not count
    let { left, top, right, bottom } = e.getBoundingClientRect();
    for (let p = e.parentElement; p; p = p.parentElement) {
      if (getComputedStyle(p).overflow === 'visible') continue;
      const b = p.getBoundingClientRect();
      [left, top, right, bottom] = [Math.max(left, b.left), Math.max(top, b.top), Math.min(right, b.right), Math.min(bottom, b.bottom)];
    }
    return { e, left, top, right, bottom };
  };
  const boxes = seen.map(cut).filter((b) => b.right - b.left > 3 && b.bottom - b.top > 3);
  const out = [];
  boxes.forEach((a, i) => boxes.slice(i + 1).forEach((b) => {
    if (a.e.contains(b.e) || b.e.contains(a.e)) return;
    const x = Math.min(a.right, b.right) - Math.max(a.left, b.left);
    const y = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
    if (x > 3 && y > 3) out.push(`${a.e.textContent || a.e.ariaLabel} / ${b.e.textContent || b.e.ariaLabel}`.slice(0, 120));
  }));
  const d = document.documentElement;
  return d.scrollWidth > d.clientWidth ? [...out, `${d.scrollWidth} wide`] : out;
}"""


@pytest.mark.quiet(False)
@pytest.mark.parametrize("size", [(1280, 800), (1024, 768), (640, 400)], ids=["1280", "1024", "200 %"])
def test_nothing_overlaps_and_nothing_is_cut(page: Page, size: tuple[int, int]) -> None:
    """A window of 640 x 400 is what 200 % leaves of 1280 x 800."""
    page.set_viewport_size({"width": size[0], "height": size[1]})
    for stop in STOPS:
        go(page, stop)
        if stop == "Shell":
            page.locator("[data-ready=true]").wait_for()
        page.wait_for_timeout(300)
        assert page.evaluate(OVERLAPS) == [], stop


def test_the_bench_is_looked_at_closer_and_whole_again(page: Page) -> None:
    board = page.get_by_role("button", name=re.compile("^Board in plan"))
    before = board.bounding_box()
    assert before
    for _ in range(3):
        page.get_by_role("button", name="Closer").click()
    # Three steps make the board 1.95 times as large; its name is in the box and is not.
    closer = comes_to(board, lambda box: box["width"] > 1.5 * before["width"])
    page.mouse.move(600, 400)
    page.mouse.wheel(0, -200)
    comes_to(board, lambda box: box["width"] > 1.2 * closer["width"])
    page.get_by_role("button", name="Fit").click()
    expect(page.get_by_role("button", name="Fit")).to_be_disabled()
    comes_to(board, lambda box: abs(box["width"] - before["width"]) < 1)


def test_a_face_opens_large_and_is_worked_on(page: Page) -> None:
    go(page, "Openings")
    usb = page.get_by_role("button", name=re.compile("^USB-A")).first
    small = usb.bounding_box()
    page.get_by_role("button", name="Right, larger").press("Enter")
    assert small
    large = comes_to(usb, lambda box: box["width"] > 1.5 * small["width"])
    expect(page.get_by_role("button", name="Front, larger")).to_have_count(0)
    usb.press("ArrowUp")  # up is up on the face by itself, too
    expect(page.get_by_role("button", name="revision 2")).to_be_visible()
    comes_to(usb, lambda box: box["y"] < large["y"])
    page.get_by_role("button", name="All faces").click()
    expect(page.get_by_role("button", name="Front, larger")).to_be_visible()
    page.mouse.click(*_middle_of_nothing(page))
    expect(page.get_by_role("button", name="All faces")).to_be_visible()


def test_a_remedys_ghost_is_on_the_openings_too(page: Page) -> None:
    go(page, "Openings")
    remedy = page.get_by_role("button", name="Move Button 23.7 mm right")
    remedy.hover()
    expect(page.locator("[data-ghost]")).to_have_count(1)
    page.mouse.move(5, 5)
    expect(page.locator("[data-ghost]")).to_have_count(0)


def _middle_of_nothing(page: Page) -> tuple[float, float]:
    """A place of the front face where nothing is."""
    name = page.get_by_role("button", name="Front, larger").bounding_box()
    assert name
    return name["x"] + 4, name["y"] - 25


# the print plan


def test_help_and_the_keys_it_tells_of(page: Page) -> None:
    page.keyboard.press("?")
    help_ = page.get_by_role("dialog", name="Help")
    expect(help_).to_contain_text("Print plan")
    assert axe(page) == []
    page.keyboard.press("Escape")
    expect(help_).to_have_count(0)
    page.keyboard.press("c")
    concern_ = page.get_by_role("complementary", name="Concerns").get_by_role("button").first
    expect(concern_).to_be_focused()
    page.get_by_role("button", name=re.compile("^Drive in plan")).click(position={"x": 10, "y": 10})
    page.get_by_label("from left", exact=True).focus()
    page.keyboard.press("Control+k")  # from inside a field, too
    expect(page.get_by_role("combobox")).to_be_focused()


def test_fans_are_told_which_way_they_blow(page: Page) -> None:
    go(page, "Bench")
    page.get_by_role("button", name=re.compile("^Fan in plan")).click()
    way = page.get_by_role("group", name="Which way it blows")
    expect(way.get_by_role("button", name="not said")).to_have_attribute("aria-pressed", "true")
    way.get_by_role("button", name="out").click()
    expect(way.get_by_role("button", name="out")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("button", name=re.compile("^Fan in front.*blows out"))).to_be_visible()
    assert axe(page) == []
