"""Where a cut may run, and what it costs there."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.parts import Seat
from rhombex.core.cuts.bends import shares
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import dowel_places_along, in_the_way
from rhombex.core.cuts.joins import Hold
from rhombex.core.cuts.shows import shown
from rhombex.core.cuts.strips import INDEX, Axis, PartName, Strip, crossed_at, strips
from rhombex.core.design import Design
from rhombex.core.memo import MemoOfThese
from rhombex.core.openings.opening import Openings
from rhombex.core.space import Box, Vec2

STEP_MM = 2  # of the grid on which cuts are tried
END_MM = 10  # of a part that no cut comes nearer to its end than
OVER_VENTS = 0.5  # prices have no unit: what a cut through plain vents costs against the others
FEW_PINS = 0.05  # and one with just as many pins as it needs
IN_LINE = 0.3  # and one in line with a cut of another part: the seam would run round the case
IN_LINE_MM = 10.0
CALM_MM = 8.0  # so far a cut that a hand puts is dragged before those that keep out of line with it move on
BENT = 0.1  # and one where the part is bent with so much of the greatest moment
MOST_BENT = 0.9
SEEN = 0.05  # and one over a face that is seen, for each such face


InLine = tuple[Axis, float, float]  # along an axis, from where to where a cut would be in line with one of another part


@dataclass(frozen=True)  # up to a thousand after every edit
class CutPlace:
    """A place for a cut, in the case's frame. `price`: None where it cannot run, and `why`."""

    at_mm: float
    price: float | None
    why: str


def places(
    case: Case,
    blocked: NDArray[np.float64],
    seat: Seat,
    hold: Hold | None,
    extent: Box,
    mine: tuple[Strip, ...],
    i: int,
    most: int,
    others: tuple[float, ...] = (),
    bent: Callable[[tuple[float, ...]], tuple[float, ...]] | None = None,
    seen: tuple[Strip, ...] = (),
) -> tuple[CutPlace, ...]:
    """Every place of the grid across axis i with what a cut there costs. `most`: the pins that it needs; `others`: cuts the other way; `bent`: how much
    of the greatest moment bends the part at places of it; `seen`: where it would run over a face that is seen."""
    out = []
    at = tuple(extent.lo[i] + k for k in range(END_MM, int(extent.hi[i] - extent.lo[i]) - END_MM + 1, STEP_MM))
    pins = dowel_places_along(case, blocked, seat, hold, extent, i, at, others)
    stands, costs, shows = crossed_at(mine, at, False), crossed_at(mine, at, True), crossed_at(seen, at, True)
    bends = bent(at) if bent else (0.0,) * len(at)
    for c, share, here, through, soft, over in zip(at, bends, pins, stands, costs, shows, strict=True):
        if through:
            out.append(CutPlace(at_mm=c, price=None, why=", ".join(through)))
        elif hold is not None and len(here) < most:
            out.append(CutPlace(at_mm=c, price=None, why="no place for what joins it"))
        else:
            out.append(priced(c, soft, share, over, hold is not None and len(here) < most + 1))
    return tuple(out)


_known: MemoOfThese[tuple[CutPlace, ...]] = MemoOfThese(200)


def places_of(
    design: Design,
    case: Case,
    things: tuple[Thing, ...],
    openings: Openings,
    part: PartName,
    extent: Box,
    axis: Axis,
    seat: Seat,
    hold: Hold | None,
    most: int,
    others: tuple[float, ...] = (),
    lines: tuple[Vec2, ...] = (),
) -> tuple[CutPlace, ...]:
    """The places of a part for cuts across an axis. `lines`: where it would be in line with cuts of other parts: those alone are looked at anew where one of
    them is dragged."""

    def look() -> tuple[CutPlace, ...]:
        blocked = in_the_way(case, things, openings, part, hold is not None and hold.whole_plate)
        mine = strips(case, openings, part, axis)
        bent = partial(shares, case, things, part, extent, axis)
        seen = shown(design, case, part, axis)
        return places(case, blocked, seat, hold, extent, mine, INDEX[axis], most, others, bent, seen)

    stands = (design.brief.stands, design.shell.stands_on, design.brief.window)
    found = _known.make((case, things, openings), (part, axis, extent, seat, hold, most, others, stands), look)
    return tuple(kept_apart(p, lines) for p in found) if lines else found


def in_line(elsewhere: Iterable[Cut], axis: Axis) -> tuple[Vec2, ...]:
    """The stretches along an axis where a cut would be in line with one of other parts. Of one that a hand puts they go on in steps: the cuts that keep out
    of its way stay where they are for a while as it is dragged."""
    out = []
    for c in (c for c in elsewhere if c.axis == axis):
        at, wide = (round(c.at_mm / CALM_MM) * CALM_MM, CALM_MM / 2) if c.pinned else (c.at_mm, 0.0)
        out.append(lines_at(at, wide))
    return tuple(out)


def lines_at(at_mm: float, wide_mm: float = 0.0) -> Vec2:
    """From where to where a cut would be in line with one that is there, give or take `wide_mm`."""
    return (at_mm - IN_LINE_MM - wide_mm, at_mm + IN_LINE_MM + wide_mm)


def kept_apart(p: CutPlace, lines: tuple[Vec2, ...]) -> CutPlace:
    """A place with what it costs to be in line with cuts of other parts."""
    if p.price is None or not any(a < p.at_mm < b for a, b in lines):
        return p
    why = f"{p.why}, " if p.why else ""
    return CutPlace(at_mm=p.at_mm, price=p.price + IN_LINE, why=f"{why}in line with the cut of another part")


def priced(c: float, soft: tuple[str, ...], share: float, over: tuple[str, ...], few: bool) -> CutPlace:
    """What a cut costs that can run: through what only costs (`soft`), where the part is bent with such a share of the greatest moment, `over` the faces
    that are seen, and with `few` places for what joins it."""
    price, why = (OVER_VENTS if soft else 0.0) + (FEW_PINS if few else 0.0), soft
    if share >= MOST_BENT:
        price += BENT
        why = (*why, "where the part is bent most")
    price += SEEN * len(over)
    why = (*why, *over)
    if few:
        why = (*why, "few places for what joins it")
    return CutPlace(at_mm=c, price=price, why=", ".join(why))
