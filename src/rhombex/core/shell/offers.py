"""Each construction as it would be made of a design: its usual numbers, from the arrangement alone."""

from __future__ import annotations

from collections.abc import Callable

from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.constructions import (
    Construction,
    CoreAndWrap,
    CornersAndSheet,
    FrameAndCovers,
    OpenBench,
    SlidingPanels,
    Threaded,
    TrayInASleeve,
    TwoHalves,
)
from rhombex.core.design import Design
from rhombex.core.reference import val
from rhombex.core.space import Face

LID_SHARE = (
    0.85  # of the cavity's height that the base of two halves takes where no opening says otherwise; common practice
)
_SIDES: tuple[Face, ...] = ("front", "back", "left", "right")


TAB_MM = 16.0  # how far a tab with a slot for two fingertips stands out; common practice


def usual(design: Design, kind: str) -> Construction:
    """A construction with its usual numbers. The design's own is given as it is. Raises KeyError for a kind that there is not."""
    now = design.shell.construction
    if now.kind == kind:
        return now
    return _USUAL[kind](design)


def holding(design: Design) -> Threaded:
    """Inserts where the case is opened more often than threads in plastic bear; else the thread is cut in plastic."""
    often = val(f"limits.thread.{design.brief.opened}") > val("fasteners.rule.pilot_reuses")
    return "insert" if often else "cut in plastic"


def _halves(design: Design) -> Construction:
    high = design.shell.inner_mm[2]
    joint = LID_SHARE * high
    return TwoHalves(joint_mm=round(joint, 2) or joint, joint_thread=holding(design))


def _tray(design: Design) -> Construction:
    """Along the way that most ports look, so that their connectors go straight into their openings; of two sides the one with more of them,
    since what is on the tray's own plate moves with it; else the shorter way."""
    open_ = wanted_ports(design)
    count: dict[Face, int] = dict.fromkeys(_SIDES, 0)
    for t in arrange(design):
        for p in t.ports:
            if p.ref in open_ and p.face in count:
                count[p.face] += 1
    w, d, _ = design.shell.inner_mm
    long: dict[Face, float] = {"front": d, "back": d, "left": w, "right": w}
    best = max(_SIDES, key=lambda f: (count[f] + count[OPPOSITE[f]], count[f], -long[f]))
    return TrayInASleeve(opens=best, joint_thread=holding(design), tab_mm=TAB_MM)


OPPOSITE: dict[Face, Face] = {"front": "back", "back": "front", "left": "right", "right": "left"}


def _core(design: Design) -> Construction:
    return CoreAndWrap(lip_mm=max(1.0, min(4.0, design.shell.inner_mm[2] / 3)), joint_thread=holding(design))


def _window(design: Design) -> tuple[Face, ...]:
    """A window of the brief is a cover or a panel of clear sheet."""
    window = design.brief.window
    return (window,) if window is not None and window != "bottom" else ()


def _frame(design: Design) -> Construction:
    return FrameAndCovers(sheet=_window(design), joint_thread=holding(design))


def _corners(design: Design) -> Construction:
    return CornersAndSheet(joint_thread=holding(design))


def _panels(design: Design) -> Construction:
    return SlidingPanels(sheet=_window(design), joint_thread=holding(design))


def _bench(design: Design) -> Construction:
    return OpenBench()


_USUAL: dict[str, Callable[[Design], Construction]] = {
    "two halves": _halves,
    "tray in a sleeve": _tray,
    "sliding panels": _panels,
    "frame and covers": _frame,
    "core and wrap": _core,
    "corners and sheet": _corners,
    "open bench": _bench,
}
KINDS = tuple(_USUAL)
