"""Panels with an opening in them give way farther under a hand."""

from __future__ import annotations

from math import pi, sin

import pytest

from rhombex.core.advice.panels import OPENING, panels
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.design import Design, OwnOpening, Pane
from rhombex.core.edits import PutOwnOpening, Remove
from rhombex.core.process.opened import opened
from rhombex.core.remedies import effect_of
from rhombex.core.trail import Trail
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import findings

MIDDLE = (82.8, 69.0)


def test_in_the_middle_it_is_what_finite_elements_give() -> None:
    """From the table of `trials/opened_plates.py`, whichever side is named first; sides of 1 : 1.25 lie between."""
    for size, times in (((25.0, 25.0), 1.83), ((10.0, 70.0), 3.15), ((55.0, 40.0), 2.56)):
        for way in (1, -1):
            assert opened((100.0, 100.0), size[::way], (50.0, 50.0)) == pytest.approx(times, rel=0.01)  # type: ignore[arg-type]
    assert opened((100.0, 150.0), (25.0, 37.5), (50.0, 75.0)) == pytest.approx(2.04)
    assert opened((150.0, 100.0), (37.5, 25.0), (75.0, 50.0)) == pytest.approx(2.04)
    assert 1.83 < opened((100.0, 125.0), (25.0, 31.25), (50.0, 62.5)) < 2.04


def test_off_the_middle_it_costs_less_and_never_stiffens() -> None:
    # its nearest edge is at 42.5 of 100 along one side, and it reaches over the middle along the other
    assert opened((100.0, 100.0), (25.0, 25.0), (30.0, 50.0)) == pytest.approx(1.83 * sin(0.425 * pi) ** 2)
    assert opened((100.0, 100.0), (25.0, 25.0), (70.0, 50.0)) == pytest.approx(1.83 * sin(0.425 * pi) ** 2)
    assert opened((100.0, 100.0), (25.0, 25.0), (13.0, 13.0)) == 1.0


# ratio of the sides, opening as shares of them, its middle, times as far as a whole plate; trials/opened_plates.py, scikit-fem 12
FEM = (
    (1.5, (0.25, 0.25), (0.35, 0.5), 2.19),
    (1.5, (0.25, 0.25), (0.5, 0.25), 1.79),
    (1.0, (0.4, 0.25), (0.35, 0.5), 2.06),
    (1.0, (0.4, 0.25), (0.3, 0.3), 1.97),
    (2.5, (0.1, 0.4), (0.5, 0.25), 3.81),
    (2.5, (0.1, 0.4), (0.3, 0.3), 4.24),
)


@pytest.mark.parametrize(("ratio", "share", "at", "times"), FEM)
def test_off_the_middle_it_is_about_what_finite_elements_give(
    ratio: float, share: tuple[float, float], at: tuple[float, float], times: float
) -> None:
    sides = (100.0, 100.0 * ratio)
    size = (share[0] * sides[0], share[1] * sides[1])
    assert opened(sides, size, (at[0] * sides[0], at[1] * sides[1])) == pytest.approx(times, rel=0.2)


def test_small_ones_are_left_out() -> None:
    assert opened((100.0, 100.0), (9.9, 9.9), (50.0, 50.0)) == 1.0


def hole(d: Design, size: tuple[float, float], at: tuple[float, float] = MIDDLE, pane: Pane | None = None) -> Design:
    own = OwnOpening(id="look", name="Look in", face="top", at_mm=at, size_mm=size, allowed=False, pane=pane)
    return apply(d, PutOwnOpening(opening=own))


def bend(d: Design) -> Trail:
    return next(p.bend for p in panels(analyse(d, ARCHIVE_WORKSHOP, "preview")) if p.face == "top")


@pytest.fixture(scope="module")
def bare(good_wren: Design) -> Design:
    """Wren without the fan in its lid."""
    return apply(good_wren, Remove(id="fan"))


def test_a_lid_with_a_hole_bends_as_many_times_as_far(bare: Design) -> None:
    """165.6 x 138: an opening of 34.5 x 41.4 is a quarter of either side."""
    plain, holed = bend(bare), bend(hole(bare, (41.4, 34.5)))
    times = opened((165.6, 138.0), (41.4, 34.5), MIDDLE)
    assert holed.value == pytest.approx(plain.value * times, rel=1e-4) and times > 1.7
    (said,) = [x for x in holed.inputs if x.name == OPENING]
    assert (said.value, said.source) == (pytest.approx(times, rel=1e-4), "Look in, 41 x 34 mm")
    assert "finite elements" in holed.source and not any(x.name == OPENING for x in plain.inputs)


def test_what_is_closed_or_filled_is_no_opening(bare: Design, good_wren: Design) -> None:
    pane = hole(bare, (41.4, 34.5), pane=Pane(thick_mm=1.0))
    assert not any(x.name == OPENING for x in bend(pane).inputs)
    # the fan's own opening is held by its frame; behind that of a port its connector stops the wall
    every = [x for p in panels(analyse(good_wren, ARCHIVE_WORKSHOP, "preview")) for x in p.bend.inputs]
    assert not any(x.name == OPENING for x in every)


def test_a_lid_that_a_slot_makes_flimsy_is_told_and_thickness_mends_it(bare: Design) -> None:
    """Whole it stays under 3 mm; with a slot over seven tenths of it, it does not."""
    assert findings(bare, "panel-bends") == [] and bend(bare).value == pytest.approx(1.8, abs=0.05)
    slot = hole(bare, (116.0, 14.0))
    (f,) = findings(slot, "panel-bends")
    assert (f.severity, f.sense, f.limit) == ("weigh", "at most", 3)
    assert f.measured == pytest.approx(bend(slot).value) and f.measured > 3
    assert "at the edge of an opening (Look in, 116 x 14 mm)" in f.reason
    thick = next(r for r in f.remedies if r.label.startswith("Make it"))
    assert effect_of(slot, ARCHIVE_WORKSHOP, f.key, thick.edits).clears
