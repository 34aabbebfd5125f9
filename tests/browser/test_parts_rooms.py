"""The rooms of Parts in a browser: library, notebook, files, stacks, power; and the wishes of the brief."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
import trimesh
from playwright.sync_api import Page, expect

from ..step_boards import random_board
from .conftest import axe, concern
from .test_whole_way import go

pytestmark = [pytest.mark.browser, pytest.mark.quiet, pytest.mark.xdist_group("rooms in the browser")]


def room(page: Page, name: str) -> None:
    go(page, "Parts")
    page.get_by_role("tab", name=name).click()


def test_the_library_is_searched_by_hole_spacing(page: Page) -> None:
    room(page, "Library")
    page.get_by_label("Search the library").fill("what has 58 x 49 holes?")
    library = page.get_by_role("region", name="Library")
    expect(library.get_by_role("listitem")).to_have_count(3)
    library.get_by_role("button", name=re.compile("^Power shield")).click()
    about = page.get_by_role("region", name=re.compile("^About Power shield"))
    expect(about.get_by_text("58 x 49, M2.5")).to_be_visible()
    expect(about.get_by_role("img", name=re.compile("in 3D"))).to_be_visible()
    page.get_by_label("Search the library").fill("zeppelin")
    expect(library.get_by_text("Nothing in the library is called that")).to_be_visible()


def test_an_own_copy_is_changed_kept_and_placed(page: Page) -> None:
    room(page, "Library")
    page.get_by_label("Search the library").fill("7 inch")
    page.get_by_role("button", name=re.compile("^Display 7 inch")).click()
    about = page.get_by_role("region", name=re.compile("^About Display 7"))
    expect(about.get_by_text("Measure them before you print")).to_be_visible()
    about.get_by_role("button", name="Copy and change").click()
    editor = page.get_by_role("region", name=re.compile("^Change Display 7"))
    editor.get_by_label("Name", exact=True).fill("Display of the listening post")
    editor = page.get_by_role("region", name="Change Display of the listening post")
    depth = editor.get_by_label("panel and board from z")
    depth.fill("-18.5")
    depth.press("Enter")
    page.get_by_role("button", name="Put it into the library").click()
    page.get_by_label("Search the library").fill("listening")
    mine = page.get_by_role("region", name="About Display of the listening post")
    expect(mine.get_by_text("18.5").first).to_be_visible()
    mine.get_by_role("button", name="Put it on the bench").click()
    expect(page.get_by_role("main", name="Bench sheet")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Display in plan"))).to_be_visible()
    room(page, "Library")
    page.get_by_role("button", name="Display of the listening post").first.click()
    page.get_by_role("button", name="Remove it from the library").click()
    expect(page.get_by_role("region", name="Own components").get_by_role("button")).to_have_count(
        1
    )  # the design's copy stays


def test_readings_make_a_board_and_the_wrong_one_is_named(page: Page) -> None:
    room(page, "Measure")
    page.get_by_role("button", name="The made-up board on the table").click()
    page.get_by_label("Reading 1", exact=True).click()
    press = page.get_by_role("button", name="Press the caliper")
    make = page.get_by_role("button", name="Make it a component")
    expect(make).to_be_disabled()  # no board yet
    for n in range(1, 20):
        press.click()
        expect(page.get_by_label(f"Reading {n}", exact=True)).not_to_have_value("")
    board = page.get_by_role("img", name=re.compile("^Board of 85"))
    expect(board).to_be_visible()
    field = page.get_by_label("Reading 12", exact=True)
    good = field.input_value()
    field.fill(f"{float(good) + 2:.2f}")
    making = page.get_by_role("region", name="What the readings make")
    expect(making.get_by_text(re.compile("contradicts the others|One of these is wrong"))).to_be_visible()
    expect(making.get_by_text("Measure next")).to_be_visible()
    making.get_by_role("button", name="Add this reading").click()
    press.click()
    field.fill(f"{good}")
    expect(making.get_by_text(re.compile("One of these is wrong|contradicts"))).to_have_count(0)
    page.get_by_label("Reading 1", exact=True).fill("wide")
    expect(making.get_by_role("alert")).to_contain_text("cannot be read as a length")
    page.get_by_label("Reading 1", exact=True).fill("3 11/32 in")
    expect(making.get_by_role("alert")).to_have_count(0)
    page.reload()  # nothing is lost
    page.get_by_role("tab", name="Measure").click()
    expect(page.get_by_label("Reading 1", exact=True)).to_have_value("3 11/32 in")
    page.get_by_label("Reading 1", exact=True).fill("85.13")
    page.get_by_role("button", name="Make it a component").click()
    expect(page.get_by_role("region", name=re.compile("^About "))).to_contain_text("measured with calipers")
    page.get_by_role("button", name="Keep it in the library").click()
    expect(page.get_by_role("button", name="Change it")).to_be_visible()


def test_a_step_board_is_looked_at_and_becomes_a_part(page: Page, tmp_path: Path) -> None:
    file = tmp_path / "made-up.step"
    file.write_bytes(random_board(3).data)
    room(page, "From a file")
    page.get_by_label("Component file").set_input_files(str(file))
    expect(page.get_by_role("img", name=re.compile("4 holes"))).to_be_visible(timeout=40_000)
    page.get_by_role("radio", name="body").click()  # whoever knows better says so
    expect(page.get_by_text(re.compile("^A body of"))).to_be_visible(timeout=40_000)
    page.get_by_role("radio", name="board").click()
    wide = re.compile(r"A board of (\S+) × (\S+) ×")
    page.get_by_text(wide).wait_for(timeout=40_000)
    before = wide.search(page.get_by_text(wide).inner_text())
    page.get_by_role("button", name="Turn it a quarter").click()
    assert before is not None
    expect(page.get_by_text(f"A board of {before[2]} × {before[1]} ×")).to_be_visible()
    page.get_by_text("more components on the board").click()
    page.get_by_label(re.compile("^Name of ")).first.fill("tall coil")
    page.get_by_label(re.compile("^component.* is$")).first.select_option("usb-c")
    page.get_by_label("Call it").fill("Board of the time clock")
    page.get_by_role("button", name="It is right: make it a component").click()
    about = page.get_by_role("region", name="About Board of the time clock")
    expect(about.get_by_text("USB-C").first).to_be_visible()
    bad = tmp_path / "bad.step"
    bad.write_bytes(b"ISO-10303-21;\nDATA;\n#1=")
    page.get_by_role("tab", name="From a file").click()
    page.get_by_label("Component file").set_input_files(str(bad))
    expect(page.get_by_role("alert")).to_contain_text("Nothing was taken over", timeout=40_000)


def test_a_shield_goes_under_wren_and_the_ports_follow(page: Page) -> None:
    room(page, "Stacks")
    stacks = page.get_by_role("region", name="Stacks")
    stacks.get_by_role("listitem").filter(has_text="Drive shield").get_by_role("button", name="Under Board").click()
    board = stacks.get_by_role("region", name="Board", exact=True)
    standoffs = board.get_by_label("Standoffs")
    expect(standoffs).to_have_value("12")
    expect(board.get_by_text("±0.28")).to_be_visible()
    standoffs.fill("13")
    standoffs.press("Enter")
    concerns = page.get_by_role("complementary", name="Concerns")
    concern(page, "No standoffs of 13 mm under Board").click()
    concerns.get_by_role("button", name="Take 12 mm standoffs").click()
    expect(standoffs).to_have_value("12")
    go(page, "Openings")
    page.get_by_role("button", name=re.compile("^HDMI")).click()
    expect(page.get_by_text("The stack below it is sure to")).to_be_visible()


def test_power_is_drawn_and_an_adapter_that_is_too_small_is_told(page: Page) -> None:
    room(page, "Power")
    sheet = page.get_by_role("region", name="Power")
    expect(sheet.get_by_role("img", name="One-line diagram of the power")).to_be_visible()
    label = sheet.get_by_label("Its label")
    label.fill("15")
    label.press("Enter")
    concerns = page.get_by_role("complementary", name="Concerns")
    concern(page, "Adapter at Board, power is too small for its peak").click()
    concerns.get_by_role("button", name="Take an adapter of 27 W").click()
    expect(sheet.get_by_label("Its label")).to_have_value("27")
    sheet.get_by_role("button", name="Unplug").click()
    expect(concern(page, "Nothing feeds the 5 V rail")).to_be_visible()


def test_wishes_are_met_or_not(page: Page) -> None:
    go(page, "Brief")
    buttons = page.get_by_label("Buttons", exact=True)
    buttons.fill("2")
    buttons.press("Enter")
    told = page.get_by_role("list", name="What becomes of the wishes")
    expect(told.get_by_role("listitem").filter(has_text="2 buttons")).to_contain_text("unmet: Button on the front")
    page.get_by_label("network of Board: wanted on").select_option("front")
    expect(page.get_by_text("unmet: it opens on the right face, wanted on the front")).to_be_visible()
    page.get_by_label("Must be used again").select_option("m2-2280")
    expect(told.get_by_text("it is not on the bench")).to_be_visible()


def test_axe_finds_nothing_in_the_rooms(page: Page) -> None:
    for name in ("Library", "Measure", "From a file", "Stacks", "Power"):
        room(page, name)
        page.wait_for_timeout(700)
        assert axe(page, contrast=True) == [], name


def test_a_new_part_is_drawn_by_its_numbers(page: Page) -> None:
    room(page, "Library")
    page.get_by_role("button", name="A new component").click()
    editor = page.get_by_role("region", name="Change New component")
    editor.get_by_role("button", name="Add a hole").click()
    editor.get_by_role("button", name="Add a port").click()
    editor.get_by_role("button", name="Add watts").click()
    peak = editor.get_by_label("Draw 1, peak watts")
    peak.fill("2")
    peak.press("Enter")
    expect(editor.get_by_label("Draw 1, typical watts")).to_have_value("2")  # typical is never above the peak
    editor.get_by_label("Name", exact=True).fill("Tape counter")
    page.get_by_role("button", name="Put it into the library").click()
    mine = page.get_by_role("region", name="About Tape counter")
    expect(mine.get_by_text("50 × 30 × 10").first).to_be_visible()
    expect(mine.get_by_text("1 / 2 / 2 W by usb-c")).to_be_visible()
    mine.get_by_role("button", name="Put it on the bench").click()
    expect(page.get_by_role("button", name=re.compile("^Tape counter in plan"))).to_be_visible()


def test_a_body_is_tipped_named_and_drawn_by_its_shape(page: Page, tmp_path: Path) -> None:
    ball = trimesh.creation.icosphere(subdivisions=3, radius=9)
    foot = trimesh.creation.cylinder(4, 8, sections=32)
    foot.apply_translation((0, 0, -11))
    file = tmp_path / "camera.stl"
    file.write_bytes(trimesh.exchange.stl.export_stl(trimesh.boolean.union([ball, foot], engine="manifold")))
    room(page, "From a file")
    page.get_by_label("Component file").set_input_files(str(file))
    expect(page.get_by_text("2 convex cells")).to_be_visible(timeout=40_000)
    expect(page.get_by_text(re.compile(r"^A body of \S+ × \S+ × 24 mm"))).to_be_visible()
    page.get_by_role("button", name="Tip it back").click()
    expect(page.get_by_text(re.compile(r"^A body of \S+ × 24 × "))).to_be_visible()
    page.get_by_label("Name of cell 1", exact=True).fill("eye")
    page.get_by_label("Call it").fill("Eye of the time clock")
    page.get_by_role("button", name="It is right: make it a component").click()
    about = page.get_by_role("region", name="About Eye of the time clock")
    expect(about.get_by_role("listitem").filter(has_text=re.compile("^eye"))).to_be_visible()
    about.get_by_role("button", name="Put it on the bench").click()
    go(page, "Bench")
    drawn = page.get_by_role("button", name=re.compile("^Eye of the time clock in plan"))
    expect(drawn.locator("path")).to_have_count(2)
