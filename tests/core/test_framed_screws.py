"""Screws and magnets through two covers into one corner piece: they do not meet in it."""

from __future__ import annotations

from itertools import combinations

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.constructions import CornersAndSheet, FrameAndCovers, Magnets
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Set
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

HEADS = Magnets(d_mm=5.0, high_mm=5.0, against="screw heads")
PAIRS = Magnets(d_mm=5.0, high_mm=3.0)


@pytest.mark.parametrize("magnets", [None, HEADS, PAIRS], ids=["screws", "heads", "pairs"])
def test_what_goes_into_a_beam_from_two_sides_keeps_its_plastic_between(
    good_wren: Design, magnets: Magnets | None
) -> None:
    """Holes at right angles through one beam lie over one another: from middle to middle they want their width and 2.4 of plastic between, whatever its height."""
    most = 0
    for high in range(28, 110, 2):
        d = apply(good_wren, Construct(construction=FrameAndCovers(magnets=magnets)))
        case = analyse(apply(d, Set(path="shell.inner_mm.2", value=float(high))), ARCHIVE_WORKSHOP, "none").case
        at: dict[str, list[tuple[str, float, float]]] = {}
        for j in case.fastened:
            if j.along[2] == 0:
                wide = j.hole_mm if hasattr(j, "hole_mm") else magnets.d_mm if magnets else 0.0
                at.setdefault(j.into, []).append((j.holds, j.at[2], wide))
        assert at
        # beside the plug of a port one finds no place; else none is left out for another
        assert high < 44 or case.wanted_joints - len(case.fastened) <= 1, high
        for p, q in (pair for mine in at.values() for pair in combinations(mine, 2)):
            assert abs(p[1] - q[1]) >= (p[2] + q[2]) / 2 + 1.9, (high, p, q)
        most = max(most, *map(len, at.values()))
    assert most == 4


@pytest.mark.parametrize("construction", [FrameAndCovers(), CornersAndSheet()], ids=["beams", "corners"])
@pytest.mark.parametrize(
    ("high", "screws"), [(8.0, ""), (8.2, "floor"), (14.9, "floor"), (15.0, "both"), (40.0, "both")]
)
def test_screws_from_below_and_above_end_before_one_another_and_in_their_piece(
    good_wren: Design, construction: FrameAndCovers | CornersAndSheet, high: float, screws: str
) -> None:
    """Holes for inserts are 6.9 deep and have 1.2 of plastic behind them: 8.1 for one, 15.0 for both."""
    d = apply(apply(good_wren, Construct(construction=construction)), Set(path="shell.inner_mm.2", value=high))
    case = analyse(d, ARCHIVE_WORKSHOP, "none").case
    found = {j.name for j in case.screws if j.along[2] != 0}
    assert found == {"": set(), "floor": {"beam"}, "both": {"beam", "top"}}[screws]
    assert len([j for j in case.screws if j.along[2] != 0]) == 4 * len(found)
    assert len(case.fastened) < case.wanted_joints or high == 40.0
