"""The workshop in a browser: printers, the rack, filaments, allowances."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from .conftest import axe, concern
from .test_whole_way import go

pytestmark = [pytest.mark.browser, pytest.mark.quiet, pytest.mark.xdist_group("the workshop in the browser")]


def test_own_allowances_and_prices_are_followed(page: Page) -> None:
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Bench 220"))
    card.get_by_role("button", name="Allowances").click()
    port = card.get_by_label("Allowance, opening of a port, PLA, Bench 220")
    expect(port).to_have_value("0.35")
    port.fill("0.2")
    port.press("Enter")
    expect(card.get_by_role("button", name="Back to 0.35")).to_be_visible()
    price = page.get_by_label("Price per kg of ABS")
    price.fill("31")
    price.press("Enter")
    expect(page.get_by_role("region", name="Filaments").get_by_text("usually")).to_be_visible()
    assert axe(page) == []
    page.get_by_role("button", name="Back to the design").click()
    go(page, "Openings")
    hdmi = page.get_by_role("button", name=re.compile("^HDMI, front face, 15.4 by"))  # 15 + 2 x (0.2 + 0.0225)
    hdmi.focus()
    hdmi.press("Enter")
    page.get_by_role("region", name=re.compile("Slip: HDMI")).get_by_role("button", name="why: Allowance").click()
    expect(page.get_by_text("coupon of Bench 220 in PLA")).to_be_visible()
    expect(page.get_by_text("in place of")).to_be_visible()


def test_spools_are_weighed_and_the_rack_drawn_down(page: Page) -> None:
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    for colour in ("bone", "ink"):
        grams = page.get_by_label(f"Grams left of PLA {colour}")
        grams.fill("50")
        grams.press("Enter")
        expect(grams).to_have_value("50")
    page.get_by_role("button", name="Back to the design").click()
    expect(concern(page, "Not enough PLA on the rack")).to_be_visible()


def test_lists_of_lengths_take_decimal_commas_and_say_what_is_no_number(page: Page) -> None:
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Bench 220"))
    nozzles = card.get_by_label("spare nozzles")
    expect(nozzles).to_have_value("0.6")
    nozzles.fill("0,4, 0,8")
    nozzles.press("Enter")
    expect(nozzles).to_have_value("0.4, 0.8")
    lengths = page.get_by_label("Lengths that are bought")
    lengths.fill("5, ten, 20")
    lengths.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("“ten” is no number; it stays 5, 6, 8")
    expect(lengths).to_have_value("5, ten, 20")
    lengths.fill("20; 5 mm")
    lengths.press("Enter")
    expect(lengths).to_have_value("5, 20")
    expect(page.get_by_role("alert")).to_have_count(0)
    assert axe(page) == []
    page.get_by_role("button", name="Back to the design").click()
    go(page, "Print plan")
    change = page.get_by_label("Change filament at")
    change.fill("2,5 and 40")
    change.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("“and” is no number; it stays empty")
    change.fill("2,5 40")
    change.press("Enter")
    expect(change).to_have_value("2.5, 40")
    expect(concern(page, "Nothing is printed after the change of filament at 40 mm")).to_be_visible()


def test_printers_are_copied_renamed_and_taken_away_and_the_designs_on_them_are_named(page: Page) -> None:
    page.get_by_role("link", name="Workshop").click()
    cards = page.get_by_role("listitem").filter(has=page.get_by_role("heading", level=3))
    expect(cards).to_have_count(3)
    used = cards.filter(has_text="Printed on it: Wren, Curlew")
    expect(used.get_by_role("button", name="Take away")).to_be_disabled()
    used.get_by_role("button", name="Copy").click()
    expect(cards).to_have_count(4)
    name = page.get_by_label("Name of Bench 220, copy")
    name.fill("Attic")
    name.press("Enter")
    mine = cards.filter(has=page.get_by_role("heading", name="Attic", exact=True))
    wide = mine.get_by_label("bed, wide")
    wide.fill("150")
    wide.press("Enter")
    expect(mine.get_by_role("img", name="Bed 150 by 220, 250 high")).to_be_visible()
    page.get_by_role("button", name="Add a printer").click()
    expect(cards).to_have_count(5)
    mine.get_by_role("button", name="Take away").click()
    expect(cards).to_have_count(4)
    page.get_by_role("button", name="Undo").click()
    expect(cards).to_have_count(5)
    assert axe(page) == []


def test_a_filament_of_ones_own_is_copied_named_printed_in_and_kept(page: Page) -> None:
    page.get_by_role("link", name="Workshop").click()
    page.get_by_role("button", name="Copy PLA", exact=True).click()
    page.get_by_label("Name of PLA, own").fill("PLA matt")
    page.get_by_label("Name of PLA, own").press("Tab")
    price = page.get_by_label("Price per kg of PLA matt")
    expect(price).to_have_value("18")  # as its kind, until it is set
    price.fill("42")
    price.press("Enter")
    expect(page.get_by_role("row", name=re.compile("^PLA matt")).get_by_text("usually 18")).to_be_visible()
    page.get_by_label("Filament of a new spool").select_option("PLA matt")
    page.get_by_label("Colour of a new spool").fill("chalk")
    page.get_by_role("button", name="Put a spool on the rack").click()
    expect(page.get_by_label("Grams left of PLA matt chalk")).to_have_value("1000")
    assert axe(page) == []
    page.get_by_role("button", name="Back to the design").click()
    go(page, "Print plan")
    page.get_by_role("radiogroup", name="of which").first.get_by_role("radio", name="PLA matt").click()
    expect(page.get_by_role("main").get_by_text("PLA matt").nth(1)).to_be_visible()
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    expect(page.get_by_role("button", name="Remove PLA matt")).to_be_disabled()
    expect(page.get_by_text("“Wren” printed in it")).to_be_visible()
