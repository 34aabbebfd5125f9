"""Walls that are drawn round the components: what stands behind the screws of a fan keeps clear of their tips, and pressing it twice is pressing it once."""

from __future__ import annotations

import pytest

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.gaps import hard
from rhombex.core.concerns import judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Placement, Shell
from rhombex.core.edits import PlaceNew
from rhombex.core.space import OUTWARD, Face, normal_axis
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import SCENARIOS


def under_a_fan(component: str, at: tuple[float, float, float], face: Face = "top") -> Design:
    fan = Placement(id="fan", component="fan-80x15", name="Fan", at_mm=at, face=face)
    d = Design(name="x", shell=Shell(inner_mm=(160, 200, 90), construction=TwoHalves(joint_mm=80)))
    return apply(d.model_copy(update={"placements": (fan,)}), PlaceNew(component=component))


def tip_to(d: Design) -> float:
    """How far the end of the fan's screws is over what stands below, by hand: M4 x 25 through a lid of 3 mm ends 22 mm under it."""
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    return a.case.cavity.hi[2] - 22.0 - max(s.box.hi[2] for t in a.things if t.face is None for s in hard(t))


def stops(d: Design) -> set[str]:
    return {f.code for f in judge(analyse(d, ARCHIVE_WORKSHOP, "none")) if f.severity == "stop"}


def test_a_lid_keeps_the_tips_of_its_screws_over_what_is_under_them() -> None:
    """A drive under a fan of 80: its screws stand 71.5 apart, and the drive is 101.6 wide, so all four end over it."""
    d = under_a_fan("drive-3.5", (80, 100, 0))
    assert d.shell.lid_mm == 3.0
    drawn = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    assert 0 <= tip_to(drawn) < 0.02 and "screw-tip-hits" not in stops(drawn)
    again = apply(drawn, walls_round(analyse(drawn, ARCHIVE_WORKSHOP, "none")))
    assert again == drawn


def test_what_stands_between_the_screws_comes_up_to_the_frame() -> None:
    """A board 65 x 30 under the middle of the fan, where no screw ends: nothing but the usual gap is kept to its frame, 15 mm deep."""
    d = under_a_fan("sbc-65x30", (80, 100, 0))
    board = next(p for p in d.placements if p.id != "fan")
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    box = next(s.box for t in a.things if t.id == board.id for s in t.solids if s.role == "board")
    by = (
        80 + a.case.cavity.lo[0] - (box.lo[0] + box.hi[0]) / 2,
        100 + a.case.cavity.lo[1] - (box.lo[1] + box.hi[1]) / 2,
    )
    x, y, z = board.at_mm
    moved = board.model_copy(update={"at_mm": (x + by[0], y + by[1], z)})
    d = d.model_copy(update={"placements": tuple(moved if p.id == board.id else p for p in d.placements)})
    drawn = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    assert tip_to(drawn) < -0.5 and "screw-tip-hits" not in stops(drawn)  # lower than the tips would allow over it


@pytest.mark.parametrize("face", ["left", "right", "front", "back"])
def test_a_wall_keeps_the_tips_of_its_screws_before_what_is_behind_them(face: Face) -> None:
    """Two of the four screws end at the height of a drive that stands behind the fan: by hand M4 x 25 through a wall of 3.15 ends 21.85 behind it."""
    low = (0.0, 100.0, 55.0) if face in ("left", "right") else (80.0, 0.0, 55.0)
    d = under_a_fan("drive-3.5", low, face)
    drawn = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    a = analyse(drawn, ARCHIVE_WORKSHOP, "none")
    i, out = normal_axis(face), sum(OUTWARD[face]) > 0
    drive = next(s.box for t in a.things if t.face is None for s in t.solids if s.role == "body")
    gap = a.case.cavity.hi[i] - drive.hi[i] if out else drive.lo[i] - a.case.cavity.lo[i]
    assert gap >= 25 - a.case.face(face).thick_mm - 0.01 and "screw-tip-hits" not in stops(drawn)


@pytest.mark.parametrize("name", list(SCENARIOS))
def test_pressed_again_it_changes_nothing(name: str) -> None:
    """Of every sample. The jacks in *Dunlin*'s floor stand out under it, and go along with it: they asked for a lower floor each time, 20 mm in all.
    A tenth of a millimetre is left to rims that follow the size of the case."""
    once = SCENARIOS[name]()
    if all(p.face is not None for p in once.placements):
        return  # there is nothing to draw them round
    for _ in range(2):
        before, once = once, apply(once, walls_round(analyse(once, ARCHIVE_WORKSHOP, "none")))
    assert once.shell.inner_mm == pytest.approx(before.shell.inner_mm, abs=0.1)
