"""Where a part is cut that is too large for the bed: across one axis, or in rows and columns; flat, or standing too tall."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from math import ceil, prod

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.parts import Part, Seat
from rhombex.core.cuts.crumbs import corners_at, crumbs_at
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import along_cuts, in_the_way, stretches_of
from rhombex.core.cuts.grids import Grid, Side, plan_grid
from rhombex.core.cuts.joins import Hold, hold_of, least_holds, through_or, usual_join
from rhombex.core.cuts.one_way import plan_cuts
from rhombex.core.cuts.places import CutPlace, InLine, in_line, places_of
from rhombex.core.cuts.strips import INDEX, NAMES
from rhombex.core.cuts.turned import Line
from rhombex.core.design import Design, JoinKind
from rhombex.core.memo import MemoOfThese
from rhombex.core.openings.opening import Openings
from rhombex.core.shell.box import facing_across
from rhombex.core.space import Box, Vec2, Vec3

LEAST_OF_A_GRID = 4  # pieces
CRUMBS = (
    1.0  # what a crossing costs that leaves bits loose: they would be printed beside the part, and be missing in it
)


@dataclass(frozen=True)
class Plan:
    """Where a part is cut across which axes, in the case's frame, and what that costs. `tried`: how many grids were looked at, where it is cut both ways; `proven`: none is better."""

    at_mm: dict[int, tuple[float, ...]]
    price: float = 0.0
    tried: int = 0
    proven: bool = True

    @property
    def pieces(self) -> int:
        """Into how many the part is divided."""
        return prod(1 + len(at) for at in self.at_mm.values())


@dataclass(frozen=True)
class ToCut:
    """A part that may be cut: where it is in the case, the bed that is left for its pieces, and the cuts of other parts, which its own keep out of line
    with, and other `lines` that they would be in line with. It has a seat."""

    design: Design
    case: Case
    things: tuple[Thing, ...]
    openings: Openings
    part: Part
    extent: Box
    usable_mm: Vec3
    elsewhere: tuple[Cut, ...] = ()
    lines: tuple[InLine, ...] = ()

    @cached_property
    def up(self) -> int:
        """The axis along which it stands as it is printed."""
        assert self.part.seat is not None
        return self.part.seat.axis

    @cached_property
    def tall(self) -> bool:
        """Whether it has a wall that a level cut can run through, and stands too tall for the printer, or a hand wants one."""
        level = any(c.part == self.part.name and INDEX[c.axis] == self.up for c in self.design.cuts)
        return self.part.side_seat is not None and (level or self.extent.size[self.up] > self.usable_mm[2])

    @cached_property
    def seat(self) -> Seat:
        """The plate that cuts run across."""
        seat = self.part.side_seat if self.tall else self.part.seat
        assert seat is not None
        return seat

    @cached_property
    def joined(self) -> JoinKind:
        """What joins its pieces."""
        return usual_join(self.seat, self.design.joined_by(self.part.name))

    @cached_property
    def flat(self) -> tuple[int, int]:
        """The axes of the plate that cuts run across."""
        along, across = (i for i in range(3) if i != self.seat.axis)
        return along, across

    @cached_property
    def rooms(self) -> tuple[Vec2, ...]:
        """How much of the bed there is along either axis of the plate, for every way in which pieces may lie on it; none where they cannot."""
        x, y, z = self.usable_mm
        if not self.tall:
            return ((x, y), (y, x)) if self.extent.size[self.up] <= z else ()
        deep = self.extent.size[self.seat.axis]
        return tuple((a, z) if self.flat[1] == self.up else (z, a) for a, b in ((x, y), (y, x)) if deep <= b)

    def reaches_mm(self, which: int, n: int, room_mm: float) -> float:
        """How far n pieces reach along an axis of the plate where there is so much of the bed for each: all of it for one, less what joins them for several."""
        i = self.flat[which]
        return room_mm if n == 1 else n * (room_mm - _longer(self._hold(i, sum(self.flat) - i)))

    @cached_property
    def least(self) -> int:
        """Of how many pieces it would be at least, by the bed alone; where its pieces cannot lie on it, by its length along the bed."""
        x, y, z = self.usable_mm
        upright = (max(x, y), z) if self.flat[1] == self.up else (z, max(x, y))
        ways = self.rooms or ((upright,) if self.tall else ((x, y), (y, x)))
        return min(self._times(0, a) * self._times(1, b) for a, b in ways)

    def _times(self, which: int, room_mm: float) -> int:
        return ceil(self.extent.size[self.flat[which]] / room_mm - 1e-9)

    def plan(self) -> Plan | None:
        """Its fewest pieces at the least price: across the one axis, across the other, or across both. None: there is no place for its cuts; one without cuts:
        none was found among those that were looked at."""
        along, across = self.flat
        ways = (along, tuple(self.rooms)), (across, tuple(r[::-1] for r in self.rooms))
        found = [x for i, rooms in ways if (x := self._one(i, rooms)) is not None]
        if not any(x.pieces < LEAST_OF_A_GRID for x in found):
            grid = self._both()
            if grid is not None and grid.pieces > 1:
                found.append(grid)
            elif grid is not None:  # no grid was found, and not all were tried
                return replace(min(found, key=_cheapest), tried=grid.tried, proven=False) if found else grid
        return min(found, key=_cheapest, default=None)

    def _one(self, i: int, rooms: tuple[Vec2, ...]) -> Plan | None:
        """Cuts across one axis, where the other way its pieces lie on the bed as they are. `rooms`: how much of it there is along that axis and the other."""
        size, hold = self.extent.size, hold_of(self.joined, self.seat)
        room = max((a for a, b in rooms if size[sum(self.flat) - i] <= b), default=None)
        if room is None:
            return None
        allowed = self._allowed(self._places(i, hold, least_holds(self.seat)), i)
        found = plan_cuts(size[i], room - _longer(hold), allowed)
        return None if found is None else Plan({i: tuple(self.extent.lo[i] + c for c in found[1])}, found[0])

    def _both(self) -> Plan | None:
        """Rows and columns."""
        if not self.rooms:
            return None
        (one, other), rooms = self.flat, self.rooms
        these, asked = (self.case, self.things, self.openings), (self.part.name, self.extent, self.seat, self.joined)
        lines = tuple(self._lines(i) for i in (one, other))
        stands = (self.design.brief.stands, self.design.shell.stands_on, self.design.brief.window)

        def look() -> tuple[Grid | None]:
            holds = {i: self._hold(i, o) for i, o in ((one, other), (other, one))}
            left = tuple((a - _longer(holds[one]), b - _longer(holds[other])) for a, b in rooms)
            return (plan_grid(self._side(one, holds[one]), self._side(other, holds[other]), left, self._crossing),)

        (found,) = _grids.make(these, (*asked, rooms, lines, stands), look)
        if found is None:
            return None
        at = {i: tuple(self.extent.lo[i] + c for c in cs) for i, cs in ((one, found.one), (other, found.other))}
        return Plan(at, found.price, found.tried, found.proven)

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
        blocked = in_the_way(case, self.things, self.openings, self.part.name, hold.whole_plate)
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

    def _crossing(self, a_mm: float, b_mm: float) -> float:
        """What it costs that cuts across either axis cross there, from the part's low ends: bits between vents would come loose."""
        (one, other), at = self.flat, [0.0, 0.0, 0.0]
        at[one], at[other] = self.extent.lo[one] + a_mm, self.extent.lo[other] + b_mm
        for v in (v for v in self.openings.vents if self.part.name in v.parts):
            face = self.case.face(v.face)
            if facing_across(face, self.seat.axis) and crumbs_at(v, *face.on((at[0], at[1], at[2]))):
                return CRUMBS
        return CRUMBS if any(corners_at(m, across, at[0], at[1]) for m, across in self._round) else 0.0

    @cached_property
    def _round(self) -> tuple[tuple[NDArray[np.float64], float], ...]:
        """The middles of round holes that it has of its own, and how large they are across."""
        return tuple((np.array(k.round_at), k.round_mm) for k in self.part.kept if k.round_at)

    def _places(self, i: int, hold: Hold | None, most: int) -> tuple[CutPlace, ...]:
        return places_of(
            self.design,
            self.case,
            self.things,
            self.openings,
            self.part.name,
            self.extent,
            NAMES[i],
            self.seat,
            hold,
            most,
            (),
            self._lines(i),
        )

    def _lines(self, i: int) -> tuple[Vec2, ...]:
        """Where a cut across an axis would be in line with one of another part."""
        return (*in_line(self.elsewhere, NAMES[i]), *((lo, hi) for axis, lo, hi in self.lines if axis == NAMES[i]))

    def _allowed(self, places: tuple[CutPlace, ...], i: int) -> list[Vec2]:
        """Where a cut may run, from the part's low end, each with its price."""
        return [(x.at_mm - self.extent.lo[i], x.price) for x in places if x.price is not None]


def _cheapest(x: Plan) -> tuple[int, float]:
    return x.pieces, x.price


_grids: MemoOfThese[tuple[Grid | None]] = MemoOfThese(100)


def _longer(hold: Hold | None) -> float:
    """What a piece grows by beyond its cut."""
    return hold.longer_mm if hold is not None else 0.0
