"""A real server with the sample designs, and Debian's Chromium."""

from __future__ import annotations

import multiprocessing
import os
import re
import signal
import sys
from collections.abc import Iterator
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect, sync_playwright

from rhombex.jobs.apart import READ_IN

from ..chromium import CHROMIUM

expect.set_options(timeout=20_000)  # a busy machine may take its time
AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"


# Servers come out of one process that has everything imported: a start takes no second then.
_ready = multiprocessing.get_context("forkserver")
_ready.set_forkserver_preload(["rhombex.web.server", "rhombex.core.remedies", "rhombex.core.advice.what_if", *READ_IN])


def _serve(data: Path, out: Connection, password: str) -> None:
    from rhombex.web.server import run

    os.dup2(out.fileno(), 1)  # what it says goes to the test
    sys.exit(run("127.0.0.1", 0, data, True, password=password))


def _serve_in_turn(orders: Connection, out: Connection) -> None:
    """Serve one folder after another, until each is interrupted: what was worked out for the last one is still remembered."""
    from rhombex.devices import caliper
    from rhombex.web.server import run

    # a suite that was started in the background passes on that interrupts are not listened to: each server would be waited for in vain
    signal.signal(signal.SIGINT, signal.default_int_handler)
    os.dup2(out.fileno(), 1)
    while True:
        data, port = orders.recv()
        caliper._draw.seed(1)  # one board in a hundred is read so that good readings seem to contradict one another
        if run("127.0.0.1", port, data, True):  # another has the door meanwhile
            run("127.0.0.1", 0, data, True)
        orders.send("stopped")


def _address(ours: int, password: str = "") -> str:
    line = b""
    while line.count(b"\n") < (2 if password else 1) and (got := os.read(ours, 1)):
        line += got  # the pipe stays open: the server may say more
    found = re.search(r"http://\S+\?token=\S+" if password else r"http://\S+?(?=/ )", line.decode())
    assert found, "the server did not say where it is"
    return found.group(0)


def start_server(data: Path, password: str = "") -> tuple[BaseProcess, str]:
    """Start Rhombex on a free port; returns the process and its address, with a password that of the link that works once."""
    ours, theirs = os.pipe()
    writer = Connection(theirs, readable=False)
    p = _ready.Process(target=_serve, args=(data, writer, password), daemon=False)
    p.start()
    writer.close()
    return p, _address(ours, password)


class Warm:
    """One process that serves the folder of each test in turn, at one address, so that a browser need not read the scripts anew."""

    def __init__(self) -> None:
        self._port = 0
        self._said, theirs = os.pipe()
        writer = Connection(theirs, readable=False)
        self._orders, orders = multiprocessing.Pipe()
        self.process = _ready.Process(target=_serve_in_turn, args=(orders, writer), daemon=False)
        self.process.start()
        writer.close()
        orders.close()

    def begin(self, data: Path) -> str:
        self._orders.send((data, self._port))
        address = _address(self._said)
        self._port = int(address.rsplit(":", 1)[1])
        return address

    def end(self) -> bool:
        """Whether it stopped as it should, and can serve the next."""
        assert self.process.pid is not None
        os.kill(self.process.pid, signal.SIGINT)
        return self._orders.poll(10) and self._orders.recv() == "stopped"


def concern(page: Page, title: str | re.Pattern[str]) -> Locator:
    """The head of a concern; a remedy elsewhere may say the same words of what it would bring."""
    return page.get_by_role("complementary", name="Concerns").locator("li > [aria-expanded]").filter(has_text=title)


# What drops from the address bar is two pages of the browser's own, made anew for each of ours and longer at it: nobody types there.
# Chromium only reads the last list of this kind, so what Playwright switches off is said again.
NO_SUGGESTIONS = "--disable-features=" + ",".join(
    [
        *("WebUIOmniboxPopup", "WebUIOmniboxAimPopup"),
        *("AvoidUnnecessaryBeforeUnloadCheckSync", "DestroyProfileOnBrowserClose", "HttpsUpgrades", "AimEnabled"),
        *("HttpsFirstBalancedModeAutoEnable", "LensOverlay", "MediaRouter", "PaintHolding", "PreconnectToSearch"),
        *("ThirdPartyStoragePartitioning", "OptimizationHints", "NetworkTimeServiceQuerying"),
    ]
)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as p:
        b = p.chromium.launch(
            executable_path=CHROMIUM,
            args=[
                "--no-sandbox",
                "--disable-gpu",
                "--enable-unsafe-swiftshader",
                "--disable-sync",
                "--webgl-msaa-sample-count=0",  # without a graphics card smooth edges are a fifth of all that a browser does
                "--renderer-process-limit=1",
                NO_SUGGESTIONS,
            ],
        )
        yield b
        b.close()


@pytest.fixture(scope="session")
def warm() -> Iterator[list[Warm]]:
    kept = [Warm()]
    yield kept
    kept[0].process.kill()


@pytest.fixture
def server(warm: list[Warm], tmp_path: Path) -> Iterator[str]:
    """A folder of this test's own, served by a process that has worked before."""
    yield warm[0].begin(tmp_path)
    if not warm[0].end():
        warm[0].process.kill()
        warm[0] = Warm()


@pytest.fixture(scope="session")
def profile(browser: Browser) -> Iterator[BrowserContext]:
    """One person's browser, with motion reduced so that colours stand still: it has the scripts read and compiled after a test or two."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, accept_downloads=True, reduced_motion="reduce"
    )
    # a page that stays open, so that the browser does not begin anew for each of ours: a quarter of its work
    kept = context.new_page()
    kept.route("**/*", lambda route: route.fulfill(body=""))
    kept.goto("http://127.0.0.1/")
    yield context
    context.close()


@pytest.fixture
def page(profile: BrowserContext, server: str, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page on the first design's bench, nothing remembered of earlier tests; any error on the console fails the test."""
    p = profile.new_page()
    p.bring_to_front()  # before the one that stays open, which else may have the keyboard
    quiet = request.node.get_closest_marker("quiet")
    if quiet is not None and quiet.args != (False,):
        p.route(NOT_LOOKED_AT, lambda route: route.fulfill(status=204))
    # all that a site keeps here, save what was fetched from it
    kept = "cookies,local_storage,indexeddb,websql,file_systems,service_workers"
    session = profile.new_cdp_session(p)
    session.send("Storage.clearDataForOrigin", {"origin": server, "storageTypes": kept})
    session.detach()
    p.set_default_timeout(60_000)
    troubles: list[str] = []
    p.on("pageerror", lambda e: troubles.append(str(e)))
    p.on("console", lambda m: troubles.append(m.text) if m.type == "error" else None)
    p.goto(server)
    p.get_by_role("heading", name="Concerns").wait_for()
    yield p
    for opened in profile.pages[1:]:  # the first is the one that stays open
        opened.close()
    expected = ("401", "404", "409", "422", "429")
    assert [t for t in troubles if not any(f"status of {e}" in t for e in expected)] == []


# half of what a server works out for a test; a test that sees it asks for it
NOT_LOOKED_AT = re.compile(r"/api/designs/[^/]+/(settled|effect|effects(/[^/]+)?)$")


def axe(page: Page, only: str = "", contrast: bool = False) -> list[str]:
    """What axe finds once the page is at rest (colours on their way fail for contrast), as lines: rule and element. `contrast` of colours, which costs more
    than all else together, is looked at where every view is gone through, by day and night."""
    page.wait_for_load_state("networkidle")  # settled hours move the tally when they come
    frames = "() => new Promise(r => requestAnimationFrame(() => requestAnimationFrame(r)))"
    for _ in range(2):  # colours set out in one frame and arrive in another
        page.evaluate(frames)
        page.evaluate(
            "() => Promise.race([new Promise(r => setTimeout(r, 5000)),"
            " Promise.all(document.getAnimations().map(a => a.finished.catch(() => 0)))])"
        )
    page.screenshot()  # a picture is only taken of a page that has been drawn
    if not page.evaluate("() => 'axe' in window"):  # half a megabyte, read and compiled
        page.evaluate(AXE.read_text(encoding="utf-8"))
    asked: dict[str, object] = {"resultTypes": ["violations"]}
    if only:
        asked["runOnly"] = {"type": "rule", "values": [only]}
    elif not contrast:
        asked["rules"] = {"color-contrast": {"enabled": False}}
    found = page.evaluate("o => axe.run(document, o)", asked)
    return [f"{v['id']}: {n['html'][:160]}" for v in found["violations"] for n in v["nodes"]]
