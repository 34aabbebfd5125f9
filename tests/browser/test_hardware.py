"""The Hardware stop in the real interface: the table of joints, one joint in its stack, fewer kinds, the drawer."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from .conftest import axe
from .test_whole_way import go

pytestmark = [pytest.mark.browser, pytest.mark.quiet, pytest.mark.xdist_group("pieces in the browser")]


def test_a_screw_is_chosen_and_given_back(page: Page) -> None:
    go(page, "Hardware")
    joints = page.get_by_role("table", name="Joints")
    expect(joints.get_by_role("row")).to_have_count(5)
    joints.get_by_role("button", name="Board", exact=True).click()
    slip = page.get_by_role("region", name="Joint: Board")
    expect(slip.get_by_role("img")).to_have_attribute(
        "aria-label", re.compile("^Board: M2.5 x 5 through Board 1.6 mm, insert 4 mm")
    )
    slip.get_by_role("button", name=re.compile("why: Torque")).click()
    expect(page.get_by_text("least of what an insert bears")).to_be_visible()
    page.keyboard.press("Escape")
    slip.get_by_role("radio", name="thread cut in plastic").click()
    expect(joints.get_by_role("row", name=re.compile("^Board"))).to_contain_text("thread cut in plastic")
    slip.get_by_role("radio", name="heat-set insert").click()
    expect(joints.get_by_role("row", name=re.compile("^Board"))).to_contain_text("heat-set insert")
    joints.get_by_role("button", name="lid", exact=True).click()
    slip = page.get_by_role("region", name="Joint: lid")
    slip.get_by_role("radio", name="12", exact=True).click()
    expect(joints.get_by_role("row", name=re.compile("^lid"))).to_contain_text("M3 x 12")
    slip.get_by_role("button", name="Let the stack choose the length").click()
    expect(joints.get_by_role("row", name=re.compile("^lid"))).to_contain_text("M3 x 10")
    # right through to nuts under the floor
    slip.get_by_role("radio", name="threaded rod").click()
    expect(joints.get_by_role("row", name=re.compile("^lid"))).to_contain_text("M3 x 39.5threaded rod")
    expect(slip.get_by_role("radiogroup", name="Length")).to_have_count(0)
    slip.get_by_role("radio", name="through bolt").click()
    expect(slip.get_by_role("img")).to_have_attribute(
        "aria-label", re.compile("^lid: M3 x 30 through lid 7.2 mm, base 23.2 mm, nut")
    )
    slip.get_by_role("radio", name="heat-set insert").click()
    expect(joints.get_by_role("row", name=re.compile("^lid"))).to_contain_text("heat-set insert")
    # hooks in place of the lid's screws, and back
    page.get_by_role("button", name="Hold it by snaps").click()
    snaps = page.get_by_role("region", name="Snaps")
    expect(snaps).to_contain_text("8 of 8 hooks have a place")
    arms = snaps.get_by_role("textbox", name="Arms thick")
    arms.fill("1.2")
    arms.press("Enter")
    expect(snaps).to_contain_text("Bent by1.32 %")
    assert axe(page) == []
    snaps.get_by_role("button", name="Hold it by screws").click()
    expect(joints.get_by_role("row", name=re.compile("^lid"))).to_be_visible()


def test_magnets_then_fewer_kinds_and_a_drawer(page: Page, server: str) -> None:
    page.goto(f"{server}/?shelf")
    page.get_by_role("link", name="Dunlin").first.click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Hardware")
    magnets = page.get_by_role("region", name="Magnets")
    expect(magnets).to_contain_text("20 pairs of discs 8 x 2, N42")
    held = magnets.get_by_role("table", name="What magnets hold")
    expect(held.get_by_role("row", name=re.compile("^cover-top"))).to_contain_text("pushed off")
    top = magnets.get_by_role("img", name=re.compile("^cover-top from inside"))
    expect(top).to_have_attribute("aria-label", re.compile("N on beam-.*S on beam-"))
    magnets.get_by_role("radio", name="all alike").click()
    expect(held.get_by_role("row", name=re.compile("^cover-top"))).to_contain_text("holds: 4 of 4 attract")
    assert axe(page) == []
    magnets.get_by_role("radio", name="6 x 2").click()
    expect(magnets).to_contain_text("20 pairs of discs 6 x 2, N42")
    magnets.get_by_role("radiogroup", name="Shape").get_by_role("radio", name="blocks").click()
    expect(magnets).to_contain_text("20 pairs of blocks 10 x 5 x 2, N42")
    magnets.get_by_role("radiogroup", name="Shape").get_by_role("radio", name="discs").click()
    expect(magnets).to_contain_text("20 pairs of discs 8 x 2, N42")
    magnets.get_by_role("radio", name="6 x 2").click()
    expect(magnets).to_contain_text("20 pairs of discs 6 x 2, N42")
    magnets.get_by_role("radiogroup", name="Against").get_by_role("radio", name="screw heads").click()
    expect(magnets).to_contain_text("20 discs 6 x 2, N42, 0.1 mm from the heads of as many screws")
    expect(magnets.get_by_role("radiogroup", name="Poles")).to_have_count(0)
    magnets.get_by_role("button", name="Hold it by screws").click()
    expect(page.get_by_role("button", name="Hold it by magnets")).to_be_visible()
    kinds = page.get_by_role("region", name="Kinds of screws")
    expect(kinds).to_contain_text("4 kinds of screws")
    kinds.get_by_role("button", name="Take the fewest kinds: 3").click()
    expect(kinds).to_contain_text("3 kinds of screws")
    expect(kinds).to_contain_text("No fewer serve.")
    have = page.get_by_role("textbox", name="heat-set insert M2.5 x 4 in the drawer")
    row = page.get_by_role("table", name="What to buy").get_by_role("row", name=re.compile("^heat-set insert M2.5 x 4"))
    expect(row).to_contain_text("1 x 50")
    have.fill("20")
    have.press("Enter")
    expect(row).not_to_contain_text("1 x 50")
    # the workshop keeps it, and undoes it
    page.get_by_role("link", name="Workshop").click()
    drawer = page.get_by_role("table", name="Screws and small components")
    expect(drawer.get_by_role("textbox", name="How many heat-set insert M2.5 x 4")).to_have_value("20")
    page.get_by_label("Its size").fill("M3x10")
    page.get_by_role("button", name="Put a pack into the drawer").click()
    expect(page.get_by_role("alert")).to_contain_text("like M3 x 10")
    page.get_by_label("Its size").fill("M3 x 10")
    page.get_by_role("button", name="Put a pack into the drawer").click()
    expect(drawer.get_by_role("textbox", name="How many screw, socket cap M3 x 10")).to_have_value("50")
    page.get_by_role("button", name="Undo").click()
    expect(drawer.get_by_role("row")).to_have_count(2)
    # its own pack stays where only the count is changed at the stop
    pack = drawer.get_by_role("textbox", name="Pack of heat-set insert M2.5 x 4", exact=True)
    pack.fill("100")
    pack.press("Enter")
    expect(drawer.get_by_role("textbox", name="Pack of heat-set insert M2.5 x 4", exact=True)).to_have_value("100")
    page.get_by_role("button", name="Back to the design").click()
    have.fill("2")
    have.press("Enter")
    expect(row).to_contain_text("1 x 100")


def test_magnets_are_closed_in_while_the_print_pauses(page: Page) -> None:
    go(page, "Hardware")
    page.get_by_role("button", name="Hold it by magnets").click()
    magnets = page.get_by_role("region", name="Magnets")
    magnets.get_by_role("radio", name="closed in").click()
    expect(magnets).to_contain_text("1.2 mm apart when it is closed")
    go(page, "Print plan")
    pauses = page.get_by_role("region", name="The print pauses")
    expect(pauses.get_by_role("listitem").first).to_contain_text(
        "base: after layer 147 (29.40 mm) put in 4 x 6 x 2, N42"
    )
    expect(pauses.get_by_role("listitem")).to_have_count(2)
    assert axe(page) == []
