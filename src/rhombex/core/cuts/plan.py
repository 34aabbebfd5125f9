"""Where a part is cut that is too large for the bed: across one axis, or in rows and columns; flat, or standing too tall."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case, Seat
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import along_cuts, in_the_way, stretches_of
from rhombex.core.cuts.grids import Grid, Side, plan_grid
from rhombex.core.cuts.joins import Hold, hold_of, through_or
from rhombex.core.cuts.one_way import plan_cuts
from rhombex.core.cuts.places import CutPlace, in_line, places_of
from rhombex.core.cuts.strips import NAMES
from rhombex.core.cuts.turned import Line
from rhombex.core.design import Design, JoinKind
from rhombex.core.memo import MemoOfThese
from rhombex.core.openings.opening import Openings
from rhombex.core.space import Box, Vec2, Vec3

PINS = 2  # that a cut wants at least, of a part that is cut one way


@dataclass(frozen=True)
class Plan:
    """Where a part is cut across which axes, in the case's frame. `tried`: how many grids were looked at, where it is cut both ways; `proven`: none is better."""

    at_mm: dict[int, tuple[float, ...]]
    tried: int = 0
    proven: bool = True


@dataclass(frozen=True)
class ToCut:
    """A part that is cut: where it is in the case, the plate that cuts run across, what joins its pieces, and the cuts of other parts, which its own
    keep out of line with."""

    design: Design
    case: Case
    things: tuple[Thing, ...]
    openings: Openings
    part: str
    extent: Box
    seat: Seat
    joined: JoinKind
    elsewhere: tuple[Cut, ...]

    def flat(self, first: int, usable: Vec3) -> Plan | None:
        """Cuts of a part that lies on its plate, across axis `first`, and across the other one too where it is too large both ways."""
        other = 3 - first - self.seat.axis
        short, long = sorted(usable[:2])
        if self.extent.size[other] > long:
            return self._both(first, other, ((usable[0], usable[1]), (usable[1], usable[0])))
        return self._one(first, long if self.extent.size[other] <= short else short)

    def upright(self, up: int, usable: Vec3) -> Plan | None:
        """Cuts of a part that stands too tall, along axis `up`: level ones, and upright ones where it is too long as well. None where it is too deep too."""
        level = 3 - up - self.seat.axis
        short, long = sorted(usable[:2])
        deep = self.extent.size[self.seat.axis]
        if deep > long:
            return None
        room = long if deep <= short else short
        if self.extent.size[level] <= room:
            return self._one(up, usable[2])
        return self._both(level, up, ((room, usable[2]),))

    def _one(self, i: int, room_mm: float) -> Plan | None:
        hold = hold_of(self.joined, self.seat)
        found = plan_cuts(self.extent.size[i], room_mm - _longer(hold), self._allowed(self._places(i, hold, PINS), i))
        return None if found is None else Plan({i: tuple(self.extent.lo[i] + c for c in found)})

    def _both(self, one: int, other: int, rooms: tuple[Vec2, ...]) -> Plan | None:
        these, asked = (self.case, self.things, self.openings), (self.part, self.extent, self.seat, self.joined)
        lines = tuple(in_line(self.elsewhere, NAMES[i]) for i in (one, other))
        stands = (self.design.brief.stands, self.design.brief.window)

        def look() -> tuple[Grid | None]:
            holds = {i: self._hold(i, o) for i, o in ((one, other), (other, one))}
            left = tuple((a - _longer(holds[one]), b - _longer(holds[other])) for a, b in rooms)
            return (plan_grid(self._side(one, holds[one]), self._side(other, holds[other]), left),)

        (found,) = _grids.make(these, (*asked, one, other, rooms, lines, stands), look)
        if found is None:
            return None
        at = {i: tuple(self.extent.lo[i] + c for c in cs) for i, cs in ((one, found.one), (other, found.other))}
        return Plan(at, found.tried, found.proven)

    def _hold(self, i: int, other: int) -> Hold | None:
        """What stands along the cuts across an axis, of a part that is cut across another one as well."""
        n = self.seat.axis
        by = through_or(self.joined, self.seat, self.extent, Line(i, n, 0.0), (Line(other, n, 0.0),))
        return hold_of(by, self.seat)

    def _side(self, i: int, hold: Hold | None) -> Side:
        """A part's places across an axis without what joins it there, and how many pins find room at them once cuts run the other way."""
        low, across = self.extent.lo[i], self.extent.lo[3 - i - self.seat.axis]
        allowed = self._allowed(self._places(i, None, 0), i)
        at = tuple(c for c, _ in allowed)
        size, prices = self.extent.size[i], tuple(p for _, p in allowed)
        if hold is None:
            return Side(size, at, prices, (), None)
        case, seat, extent = self.case, self.seat, self.extent
        blocked = in_the_way(case, self.things, self.openings, self.part, hold.whole_plate)
        along = along_cuts(case, blocked, seat, hold, extent, i, tuple(low + c for c in at))
        known: dict[Vec2, NDArray[np.int64]] = {}

        def held(others: tuple[float, ...]) -> NDArray[np.int64]:
            found = np.zeros(len(at), np.int64)
            for s in stretches_of(case, seat, hold, extent, i, tuple(across + c for c in others)):
                if s not in known:
                    known[s] = np.array([len(x) for x in along.places(s, 3)], np.int64)
                found = found + known[s]
            return found

        (whole,) = stretches_of(case, seat, hold, extent, i)
        return Side(size, at, prices, tuple(along.at_most(whole)), held)

    def _places(self, i: int, hold: Hold | None, most: int) -> tuple[CutPlace, ...]:
        return places_of(
            self.design,
            self.case,
            self.things,
            self.openings,
            self.part,
            self.extent,
            NAMES[i],
            self.seat,
            hold,
            most,
            (),
            in_line(self.elsewhere, NAMES[i]),
        )

    def _allowed(self, places: tuple[CutPlace, ...], i: int) -> list[Vec2]:
        """Where a cut may run, from the part's low end, each with its price."""
        return [(x.at_mm - self.extent.lo[i], x.price) for x in places if x.price is not None]


_grids: MemoOfThese[tuple[Grid | None]] = MemoOfThese(100)


def _longer(hold: Hold | None) -> float:
    """What a piece grows by beyond its cut."""
    return hold.longer_mm if hold is not None else 0.0
