"""How far outlines wander from layer to layer: bounds that must hold, since what they allow to leave out is never looked at."""

from __future__ import annotations

import math

import numpy as np
import pytest
from manifold3d import JoinType, Manifold
from manifold3d import Manifold as M

from rhombex.core.design import Process
from rhombex.core.process import simulate
from rhombex.core.process.drift import Drift
from rhombex.core.process.settings import settings
from rhombex.core.process.slices import Slices
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from trials.odd_parts import odd

BENCH = ARCHIVE_WORKSHOP.printers[1]


def sliced(mesh: Manifold, **process: object) -> Slices:
    return Slices(mesh, settings(Process.model_validate(process), BENCH))


def test_a_cone_moves_by_its_slope() -> None:
    """40 high, from 20 to 10: a quarter of a millimetre each millimetre, less what a chord of 1/200 turn lies inside its arc."""
    s = sliced(M.cylinder(40, 20, 10, 200))
    a, b = 20, 120
    by_hand = (s.z[b] - s.z[a]) / 4
    assert s.drift.most_mm(a, b) == pytest.approx(by_hand * math.cos(math.pi / 200), rel=1e-6)
    assert s.drift.most_mm(b, a) == s.drift.most_mm(a, b) and s.drift.most_mm(a, a) == 0
    assert sliced(M.cube((20, 30, 10))).drift.most_mm(3, 30) == 0  # upright walls stay


@pytest.mark.parametrize(
    "part",
    [
        M.cube((40, 40, 20)) - M.cylinder(10, 0, 4, 48).translate((20, 20, 10.03)),  # a drill's point, upside down
        M.cube((40, 40, 20)) - M.cylinder(8, 4, 0, 48).translate((20, 20, -0.01)).translate((0, 0, 2)),  # closed in
        M.cube((40, 40, 10)) + M.cylinder(10, 3, 0, 48).translate((20, 20, 10)),
        M.cube((40, 40, 20)) - M.cylinder(60, 3, 3, 4).rotate((0, 90, 0)).translate((-10, 20, 10.03)),  # a ridge lies
        M.cube((40, 40, 20))
        - M.cylinder(80, 4, 4, 4).rotate((0, 92, 0)).translate((-10, 20, 10.03)),  # it rises slowly
    ],
    ids=["pit", "hollow", "spike", "ridge", "leaning ridge"],
)
def test_what_begins_or_ends_in_between_is_bounded_by_nothing(part: Manifold) -> None:
    s = sliced(part)
    assert s.drift.most_mm(0, s.n - 1) == float("inf")


def test_two_faces_in_one_gap_move_the_outline_both() -> None:
    """From 45 to 60 degrees in the middle of a gap: bounded by the flatter one over all of it."""
    steep, flat = (
        M.cylinder(10.2, 30, 19.8, 96),
        M.cylinder(4, 19.8, 19.8 - 4 * math.sqrt(3), 96).translate((0, 0, 10.2)),
    )
    s = sliced(steep + flat, layer_mm=0.4)
    k = int(np.searchsorted(s.z, 10.2)) - 1
    moved = (s.z[k + 1] - 10.2) * math.sqrt(3) + (10.2 - s.z[k]) * 1.0
    assert moved * math.cos(math.pi / 96) <= s.drift.most_mm(k, k + 1) < 2 * moved


@pytest.mark.parametrize("seed", [1000, 1002, 1003, 1004, 1005, 1007, 1009, 1012, 1052, 1069])
def test_no_outline_wanders_further_than_told(seed: int) -> None:
    """What lies deeper in one section than the bound says lies in the other too, of rods, gears, tubes, boxes, wedges, domes and vases."""
    _, mesh, process, printer = odd(seed)
    s = Slices(mesh, settings(process, ARCHIVE_WORKSHOP.printers[printer]))
    told = 0
    for a in range(0, s.n, max(1, s.n // 12)):
        for b in (a + 1, a + 4, a - 5):
            if not 0 <= b < s.n or (most := s.drift.most_mm(a, b)) > 3:
                continue
            told += 1
            deep = s.section(a).offset(-most - 0.03, JoinType.Miter, 2.0)
            assert (deep - s.section(b)).area() < 1e-3, (a, b, most)
    assert told or seed % 10 in (3, 9)  # knots of tubes begin and end everywhere, and stars have sharp notches


@pytest.mark.parametrize("seed", [1002, 1009, 1012, 1004, 1027])
def test_layers_are_laid_out_as_if_all_had_been_looked_at(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    _, mesh, process, printer = odd(seed)
    s = settings(process, ARCHIVE_WORKSHOP.printers[printer])
    some = range(0, Slices(mesh, s).n, 9)
    quick = Slices(mesh, s)
    rows = [simulate.exact_row(quick, j) for j in some]
    monkeypatch.setattr(Drift, "most_mm", lambda self, a, b: float("inf"))
    slow = Slices(mesh, s)
    for j, row in zip(some, rows, strict=True):
        assert row == pytest.approx(simulate.exact_row(slow, j), rel=2e-3, abs=0.05), j
