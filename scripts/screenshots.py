"""Take the pictures in docs/screenshots/ from the demo data, at 1280 x 800."""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

sys.path.insert(0, str(Path(__file__).parents[1]))
from tests.chromium import CHROMIUM
from tests.step_boards import random_board

OUT = Path("docs/screenshots")


def go(page: Page, stop: str) -> None:
    page.get_by_role("navigation", name="Route").get_by_role("link", name=re.compile(f"^{stop}")).click()
    page.get_by_role("main", name=f"{stop} sheet").wait_for()
    page.wait_for_timeout(1200)


def shoot(page: Page, name: str) -> None:
    page.screenshot(path=OUT / f"{name}.png")


def parts(page: Page) -> None:
    """The rooms of Parts: notebook, a file, a stack, power."""
    go(page, "Parts")
    page.get_by_role("tab", name="Measure").click()
    page.get_by_role("button", name="The made-up board on the table").click()
    page.get_by_label("Reading 1", exact=True).click()
    for _ in range(19):
        page.get_by_role("button", name="Press the caliper").click()
        page.wait_for_timeout(150)
    wrong = page.get_by_label("Reading 12", exact=True)
    wrong.fill(f"{float(wrong.input_value()) + 1.5:.2f}")
    page.get_by_text("Measure next").wait_for()
    wrong.hover()
    page.wait_for_timeout(800)
    shoot(page, "notebook")
    page.get_by_role("tab", name="From a file").click()
    with tempfile.TemporaryDirectory() as room:
        file = Path(room) / "made-up board.step"
        file.write_bytes(random_board(3).data)
        page.get_by_label("Component file").set_input_files(str(file))
        page.get_by_role("button", name="It is right: make it a component").wait_for(timeout=40_000)
    page.get_by_label(re.compile("^component.* is$")).first.select_option("usb-c")
    page.wait_for_timeout(600)
    shoot(page, "part-from-a-file")
    page.get_by_role("tab", name="Stacks").click()
    shields = page.get_by_role("region", name="Stacks").get_by_role("listitem")
    shields.filter(has_text="Drive shield").get_by_role("button", name="Under Board").click()
    page.get_by_text("Standoffs in the workshop").wait_for()
    page.wait_for_timeout(1500)
    shoot(page, "stack")
    page.get_by_role("tab", name="Power").click()
    page.wait_for_timeout(1200)
    shoot(page, "power")
    page.get_by_role("button", name="Undo").click()
    page.wait_for_timeout(800)


def take(page: Page) -> None:
    page.get_by_role("button", name=re.compile("^Button in plan")).click()
    page.wait_for_timeout(900)
    shoot(page, "bench")
    page.keyboard.press("Escape")
    for stop, name in (("Brief", "brief"), ("Parts", "parts"), ("Print plan", "print-plan")):
        go(page, stop)
        page.wait_for_timeout(1500)
        if stop == "Print plan":
            page.get_by_text("one more:").first.wait_for()  # what a step of each setting does
        shoot(page, name)
    parts(page)
    go(page, "Print plan")
    page.get_by_role("button", name="base", exact=True).click()
    page.get_by_role("slider", name="Layer").wait_for()
    page.get_by_role("slider", name="Layer").press("PageUp")
    page.get_by_role("region", name="The base").evaluate("e => e.scrollIntoView({block: 'end'})")
    page.wait_for_timeout(1500)
    shoot(page, "where-the-hours-go")
    page.get_by_role("button", name="base", exact=True).click()
    page.get_by_role("heading", name="What changes if").scroll_into_view_if_needed()  # it waits until it is seen
    table = page.get_by_role("table", name="Other ways to print, against now")
    table.wait_for(timeout=60_000)
    table.evaluate("e => e.closest('section').scrollIntoView({block: 'start'})")
    page.wait_for_timeout(2500)
    shoot(page, "what-changes-if")
    page.get_by_role("banner").get_by_role("link", name="Workshop").click()
    page.get_by_role("heading", name="Printers").wait_for()
    page.wait_for_timeout(800)
    shoot(page, "workshop")
    page.get_by_role("button", name="Back to the design").click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Openings")
    page.get_by_role("button", name=re.compile("^HDMI")).click()
    page.wait_for_timeout(500)
    shoot(page, "openings")
    go(page, "Shell")
    page.locator("[data-ready=true]").wait_for()
    page.wait_for_timeout(800)
    shoot(page, "shell")
    page.get_by_role("button", name="Other constructions").click()
    page.get_by_role("button", name="Make it so").first.wait_for(timeout=60_000)
    page.wait_for_timeout(800)
    shoot(page, "constructions")
    page.get_by_role("link", name="Rhombex").click()
    page.get_by_label("Name of the new design").fill("Wren, an old try")
    page.get_by_role("button", name="Start a design").click()
    page.get_by_role("heading", name="Concerns").wait_for()
    page.get_by_role("link", name="Rhombex").click()
    page.get_by_role("button", name="Delete Wren, an old try").click()
    page.get_by_role("region", name="Bin").wait_for()
    page.evaluate("scrollTo(0, 0)")
    page.wait_for_timeout(500)
    expect(page.get_by_text("so far")).to_have_count(0, timeout=60_000)
    shoot(page, "shelf")
    page.get_by_role("link", name="Wren", exact=True).click()
    go(page, "Shell")
    page.get_by_role("button", name="Other constructions").click()
    way = page.get_by_role("rowgroup").filter(has=page.get_by_role("rowheader", name=re.compile("^corners and sheet")))
    way.get_by_role("button", name="Look at both").click(timeout=60_000)
    page.get_by_role("button", name="Keep both").click(timeout=60_000)
    page.get_by_role("heading", name="Corners and sheet", exact=True).wait_for(timeout=60_000)
    page.get_by_role("link", name="Rhombex").click()
    page.get_by_label("Compare Wren with", exact=True).select_option(label="with Wren, corners and sheet")
    page.get_by_role("heading", name="What is different").wait_for(timeout=60_000)
    page.wait_for_timeout(2500)
    shoot(page, "side-by-side")
    page.get_by_role("link", name="The shelf").click()
    page.get_by_role("link", name="Heron", exact=True).click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Hardware")
    page.get_by_role("table", name="Joints").get_by_role("button", name="Board", exact=True).click()
    page.wait_for_timeout(1500)
    shoot(page, "hardware")
    page.get_by_role("link", name="Rhombex").click()
    page.get_by_role("link", name="Heron, for the small bed", exact=True).click()
    page.get_by_role("heading", name="Concerns").wait_for()
    go(page, "Cuts")
    page.get_by_role("slider").first.wait_for()
    page.wait_for_timeout(6000)
    shoot(page, "cuts")
    page.get_by_role("link", name="Rhombex").click()
    page.get_by_role("link", name="Wren", exact=True).click()
    page.get_by_role("heading", name="Concerns").wait_for()
    page.get_by_role("button", name="Night shop").click()
    go(page, "Bench")
    shoot(page, "bench-night")


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as room, sync_playwright() as p:
        server = subprocess.Popen(
            [sys.executable, "-m", "rhombex.cli", "serve", "--demo", "--port", "0", "--data", room],
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "PYTHONUNBUFFERED": "1"},
        )
        assert server.stdout is not None
        found = re.search(r"http://\S+?(?=/ )", server.stdout.readline())
        assert found
        browser = p.chromium.launch(
            executable_path=CHROMIUM,
            args=["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader"],
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        try:
            page.goto(found.group(0))
            page.get_by_role("heading", name="Concerns").wait_for()
            take(page)
        finally:
            browser.close()
            server.terminate()


if __name__ == "__main__":
    main()
