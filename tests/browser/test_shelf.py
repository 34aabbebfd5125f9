"""The shelf, the bin, designs that cannot be read, numbers far out, two tabs, the password: through the real interface."""

from __future__ import annotations

import json
import sqlite3
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from rhombex.demo.scenario import wren

from .conftest import axe, concern, start_server

pytestmark = [pytest.mark.browser, pytest.mark.quiet, pytest.mark.xdist_group("the shelf in the browser")]


def read_in(page: Page, server: str, document: dict[str, object], room: Path) -> None:
    """Read a design in from the shelf, and come back to the shelf."""
    file = room / "design.json"
    file.write_text(json.dumps(document))
    page.goto(f"{server}/?shelf")
    page.get_by_label("Read in a design.json").set_input_files(file)
    page.get_by_role("heading", name="Concerns").wait_for()


def test_a_number_far_out_is_shown_kept_and_undone(page: Page) -> None:
    """-10 as the drive's height used to shut the design for good."""
    drive = page.get_by_role("button", name="Drive").first
    drive.focus()
    drive.press("Enter")
    height = page.get_by_label("over floor")
    height.fill("-10")
    height.press("Enter")
    expect(concern(page, "Drive reaches into the floor")).to_be_visible()
    page.reload()
    expect(concern(page, "Drive reaches into the floor")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(concern(page, "Drive reaches into the floor")).to_have_count(0)


def test_a_printer_from_elsewhere_opens_and_is_added(page: Page, server: str, tmp_path: Path) -> None:
    read_in(page, server, wren().model_dump(mode="json") | {"printer": "attic-400", "name": "Attic"}, tmp_path)
    head = concern(page, "The printer “Attic 400” is not in this workshop")
    head.click()
    page.get_by_role("button", name="Add Attic 400 to the workshop").click()
    expect(head).to_have_count(0)
    page.get_by_role("link", name="Workshop", exact=True).click()
    expect(page.get_by_role("main").get_by_text("Attic 400").first).to_be_visible()


def test_the_shelf_shows_size_and_state_and_copies_and_renames(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    rows = page.get_by_role("list", name="Designs", exact=True).get_by_role("listitem")
    wren_row = rows.filter(has=page.get_by_role("link", name="Wren", exact=True))
    expect(wren_row.get_by_text("171.6 × 144 × 37 mm")).to_be_visible()
    expect(wren_row.get_by_text("3 stops, 5 to weigh")).to_be_visible()
    # what only settled hours and support tell comes after
    heron_row = rows.filter(has=page.get_by_role("link", name="Heron", exact=True))
    expect(heron_row.get_by_text("2 stops, 11 to weigh")).to_be_visible(timeout=60_000)
    expect(rows.get_by_text("so far")).to_have_count(0, timeout=60_000)
    page.get_by_role("button", name="Copy Wren", exact=True).click()
    page.get_by_label("Name of the copy of Wren").fill("Wren small")
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(rows.get_by_role("link", name="Wren small")).to_be_visible()
    page.get_by_role("button", name="Rename Wren small").click()
    page.get_by_label("New name of Wren small").fill("Wrenlet")
    page.get_by_role("button", name="Rename", exact=True).click()
    expect(rows.get_by_role("link", name="Wrenlet")).to_be_visible()
    expect(rows.get_by_role("link", name="Wren small")).to_have_count(0)
    assert axe(page) == []


def test_the_same_design_read_in_twice_is_told(page: Page, server: str, tmp_path: Path) -> None:
    document = wren().model_dump(mode="json") | {"name": "Twin"}
    read_in(page, server, document, tmp_path)
    page.goto(f"{server}/?shelf")
    page.get_by_label("Read in a design.json").set_input_files(tmp_path / "design.json")
    told = page.get_by_role("alert")
    expect(told.get_by_text("is just the design Twin")).to_be_visible()
    told.get_by_role("button", name="Read it in again").click()
    page.get_by_role("heading", name="Concerns").wait_for()
    page.goto(f"{server}/?shelf")
    expect(page.get_by_role("link", name="Twin", exact=True)).to_have_count(2)


def test_designs_go_into_the_bin_and_come_back(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    shelf, binned = page.get_by_role("list", name="Designs", exact=True), page.get_by_role("region", name="Bin")
    page.get_by_role("button", name="Delete Heron panels").click()
    expect(shelf.get_by_text("Heron panels")).to_have_count(0)
    expect(binned.get_by_text("30 more days")).to_be_visible()
    assert axe(page) == []
    page.get_by_role("button", name="Restore Heron panels").click()
    expect(shelf.get_by_role("link", name="Heron panels")).to_be_visible()
    page.get_by_role("button", name="Delete Heron panels").click()
    page.get_by_role("button", name="Empty the bin").click()
    page.get_by_role("button", name="Keep them").click()
    expect(binned.get_by_text("Heron panels")).to_be_visible()
    page.get_by_role("button", name="Empty the bin").click()
    page.get_by_role("button", name="Delete it for good").click()
    expect(binned).to_have_count(0)
    page.reload()
    expect(shelf.get_by_role("link")).to_have_text(
        [
            "Wren",
            "Heron",
            "Heron, sliding panels",
            "Dunlin",
            "Curlew",
            "Curlew, in acrylic",
            "Wren, for the small bed",
            "Heron, for the small bed",
        ]
    )


def test_a_document_of_a_newer_rhombex_harms_only_itself(page: Page, server: str, tmp_path: Path) -> None:
    page.get_by_label("Name of the design").fill("Wren, later")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="revision 2")).to_be_visible()
    c = sqlite3.connect(tmp_path / "rhombex.db")
    c.execute("UPDATE revision SET document = '{\"schema_version\": 99}' WHERE number = 2")
    c.commit()
    c.close()
    page.goto(f"{server}/?shelf")
    expect(page.get_by_text("written by a newer Rhombex")).to_be_visible()
    expect(page.get_by_role("link", name="Heron panels")).to_be_visible()
    with page.expect_download() as saved:
        page.get_by_role("link", name="Download as it is").click()
    assert json.loads(saved.value.path().read_text()) == {"schema_version": 99}
    page.get_by_role("link", name="Look at its revisions").click()
    expect(page.get_by_role("heading", name="This design cannot be shown")).to_be_visible()
    assert axe(page) == []
    page.get_by_role("list", name="Revisions").get_by_role("button").nth(1).click()
    expect(page.get_by_label("Name of the design")).to_have_value("Wren")


def test_the_second_of_two_tabs_is_told_and_chooses(page: Page) -> None:
    other = page.context.new_page()
    other.goto(page.url)
    other.get_by_role("heading", name="Concerns").wait_for()

    def name(p: Page, text: str) -> None:
        p.get_by_label("Name of the design").fill(text)
        p.keyboard.press("Enter")

    # the first changes it: the second is told without asking, and what it is typing stays
    field = other.get_by_label("Name of the design")
    field.fill("half typed")
    name(page, "First")
    expect(page.get_by_role("button", name="revision 2")).to_be_visible()
    expect(other.get_by_text("Another window has changed this design.")).to_be_visible()
    expect(field).to_have_value("half typed")
    assert axe(other) == []
    # it goes on all the same: its change is not made, and can be made again on top
    field.press("Enter")
    again = other.get_by_role("button", name="Make my change again")
    again.click()
    expect(field).to_have_value("half typed")
    # the first takes over how it stands
    page.get_by_role("button", name="Show how it stands now").click()
    expect(page.get_by_label("Name of the design")).to_have_value("half typed")
    # and the other way about: the first acts late, and leaves its own
    name(other, "Second")
    expect(other.get_by_role("button", name="revision 4")).to_be_visible()
    name(page, "Third")
    page.get_by_role("button", name="Take over how it stands").click()
    expect(page.get_by_label("Name of the design")).to_have_value("Second")


def test_a_server_with_a_password_is_opened_by_its_link_once(browser: Browser, tmp_path: Path) -> None:
    process, link = start_server(tmp_path, "lantern street")
    try:
        base = link.split("/?")[0]
        context = browser.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        page = context.new_page()
        page.goto(base)
        expect(page.get_by_text("This server asks for its password.")).to_be_visible()
        assert axe(page) == []
        page.get_by_label("Password").fill("guess")
        page.get_by_role("button", name="Come in").click()
        expect(page.get_by_role("alert")).to_contain_text("This password is not right.")
        page.goto(link)
        expect(page.get_by_role("heading", name="Concerns")).to_be_visible()
        assert "token" not in page.url
        context.clear_cookies()
        page.goto(link)
        expect(page.get_by_role("alert")).to_contain_text("This link has been used or is too old.")
        page.get_by_label("Password").fill("lantern street")
        page.get_by_role("button", name="Come in").click()
        expect(page.get_by_role("heading", name="Concerns")).to_be_visible()
        page.reload()
        expect(page.get_by_role("heading", name="Concerns")).to_be_visible()
        context.close()
    finally:
        process.terminate()
        process.join(10)
