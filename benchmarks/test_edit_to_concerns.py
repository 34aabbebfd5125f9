"""Edit to concerns and tally on the demo, as ratios against recomputing everything in the same run.

Each group holds the same edit twice: with what is remembered by content hash, and after forgetting all of it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from crowded import crowded, moved

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design, PinnedCut
from rhombex.core.edits import Edit, Move, Need, PutCuts, Set
from rhombex.core.memo import forget_all
from rhombex.core.plan.tally import tally
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import wren

EDITS: dict[str, Callable[[int], Edit]] = {
    "move the cooler": lambda k: Move(id="cooler", to_mm=(115.6 + 0.01 * k, 30, 6.8)),
    "move the button": lambda k: Move(id="button", to_mm=(66.0 + 0.01 * k, 0, 12)),
    "move the drive": lambda k: Move(id="drive", to_mm=(38.6, 78 + 0.01 * k, 6)),
    "raise the board": lambda k: Move(id="board", to_mm=(120.1, 30, 3.4 + 0.01 * k)),
    "room temperature": lambda k: Set(path="brief.room_c", value=25 + 0.01 * k),
    "a port more or less": lambda k: Need(port="board/audio", needed=k % 2 == 0),
    "opened how often": lambda k: Set(path="brief.opened", value=("once", "yearly", "monthly", "weekly")[k % 4]),
    "wall thickness": lambda k: Set(path="shell.wall_mm", value=2.89 + 0.001 * k),
    "infill": lambda k: Set(path="process.infill", value=0.2 + 0.0001 * k),
    "drag a cut": lambda k: PutCuts(part="base", cuts=(PinnedCut(part="base", axis="x", at_mm=61 + 0.37 * k),)),
}
ON_THE_SMALL_BED = {"drag a cut"}


def forget() -> None:
    forget_all()


def whole(design: Design) -> None:
    a = analyse(design, ARCHIVE_WORKSHOP, "best known")  # what a window is told at once; settled estimates follow
    judge(a)
    tally(a)


@pytest.mark.parametrize("how", ["remembered", "all anew"])
def test_a_drive_moved_in_a_crowd(benchmark: Any, how: str) -> None:
    benchmark.group = "25 components, 2,000 vents: move the drive"
    start = crowded()
    for k in range(3):
        whole(moved(start, k))
    count = iter(range(3, 10_000))

    def prepare() -> tuple[tuple[Design], dict[str, Any]]:
        if how == "all anew":
            forget()
        return (moved(start, next(count)),), {}

    benchmark.pedantic(whole, setup=prepare, rounds=9 if how == "remembered" else 3)


@pytest.mark.parametrize("what", EDITS)
@pytest.mark.parametrize("how", ["remembered", "all anew"])
def test_edit_to_concerns_and_tally(benchmark: Any, what: str, how: str) -> None:
    benchmark.group = what
    start = apply(wren(), Set(path="printer", value="bench-180")) if what in ON_THE_SMALL_BED else wren()
    whole(start)
    count = iter(range(1, 10_000))

    def prepare() -> tuple[tuple[Design], dict[str, Any]]:
        if how == "all anew":
            forget()
        return (apply(start, EDITS[what](next(count))),), {}

    benchmark.pedantic(whole, setup=prepare, rounds=9 if how == "remembered" else 5)
