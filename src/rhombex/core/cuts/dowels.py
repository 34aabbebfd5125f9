"""Where the pins of a cut find a place: on the plate that the cut runs through, beside everything that stands there."""

from __future__ import annotations

import itertools
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.parts import Seat
from rhombex.core.cuts.joins import Hold, Pins, Steps
from rhombex.core.cuts.strips import PartName
from rhombex.core.cuts.turned import Line
from rhombex.core.memo import MemoOfThese
from rhombex.core.openings.opening import Openings, outline
from rhombex.core.space import Box, Vec2

TOUCH_MM = 1e-6


def up_of(seat: Seat) -> int:
    """Which way from the plate's outer face the inside is: 1 up, -1 down."""
    return 1 if seat.inner_mm > seat.outer_mm else -1


def in_the_way(
    case: Case, things: tuple[Thing, ...], openings: Openings, part: PartName, in_plate: bool = False
) -> NDArray[np.float64]:
    """Boxes (n, 2, 3) that no dowel's block may reach into: components with half a millimetre round them, posts, bosses, openings; vents, finger notches
    and seats of feet too, for what is cut in the plate itself (`in_plate`). Remembered, not to be written to: no cut changes it."""
    return _blocked.make(
        (case, things, openings), (part, in_plate), lambda: _in_the_way(case, things, openings, part, in_plate)
    )


_blocked: MemoOfThese[NDArray[np.float64]] = MemoOfThese(200)


def _in_the_way(
    case: Case, things: tuple[Thing, ...], openings: Openings, part: PartName, in_plate: bool
) -> NDArray[np.float64]:
    own = next((p for p in case.parts if p.name == part), None)
    blocked = [k.box for k in own.kept] if own else []
    within = own is not None and (own.bar is not None or not own.in_place)  # nothing stands in a bar but its screws
    if within:
        blocked += [b.boss for b in case.kept_whole if part in (b.holds, b.into)]
        side, in_plate = 0.0, True
    else:
        blocked += [b.box.grown(0.5) for t in things for b in t.solids]
        blocked += [m.box for m in case.mounts]
        blocked += [p.box for p in case.props] + [h.room for h in case.hooks]
        blocked += [r for s in case.fan_slots for r in s.rooms]
        blocked += [x.box for x in case.ribs]
        blocked += [b.boss for b in case.kept_whole]
        side = case.pillar_mm
    room = case.cavity
    if side > 0:
        xs, ys = (room.lo[0], room.hi[0] - side), (room.lo[1], room.hi[1] - side)
        blocked += [Box((x, y, room.lo[2]), (x + side, y + side, room.hi[2])) for x in xs for y in ys]
    for op in openings.openings:
        if part in op.parts:
            u0, v0, u1, v1 = outline(op, 1.0)
            face = case.face(op.face)
            blocked.append(face.frame.box(Box((u0, v0, -12), (u1, v1, 12))))
    if in_plate:
        blocked += [x.box for x in case.lifts if x.part == part]
        for v in openings.vents:
            if part in v.parts:
                (u, w), (du, dw), face = v.at_mm, v.size_mm, case.face(v.face)
                blocked.append(face.frame.box(Box((u - du / 2, w - dw / 2, -12), (u + du / 2, w + dw / 2, 12))))
        for t in openings.texts:
            if part == t.part:
                (u0, v0, u1, v1), face = t.rect_mm, case.face(t.face)
                blocked.append(face.frame.box(Box((u0, v0, -t.deep_mm), (u1, v1, 1.0))))
        r = case.foot_d_mm / 2
        if case.footed == part:
            blocked += [Box((x - r, y - r, 0), (x + r, y + r, 1)) for x, y in case.feet]
    out = np.array(blocked, float).reshape(-1, 2, 3)
    out.flags.writeable = False
    return out


def ridge_mm(case: Case, seat: Seat, extent: Box, i: int) -> Vec2:
    """From where to where along axis i the ridges of rods may run that go through all pieces: between the walls, inside what the plate keeps free at
    its edge."""
    return (
        max(case.cavity.lo[i], extent.lo[i]) + seat.clear_mm(i) + 0.5,
        min(case.cavity.hi[i], extent.hi[i]) - seat.clear_mm(i) - 0.5,
    )


def dowel_places(
    case: Case,
    blocked: NDArray[np.float64],
    seat: Seat,
    hold: Hold | None,
    extent: Box,
    line: Line,
    others: tuple[Line, ...] = (),
    most: int = 3,
) -> list[Vec2]:
    """Places for pins, flanges or keys on a cut: at the ends of the plate inside its walls, and between. Cuts the other way (`others`) divide it into
    stretches, each with its own, `most` of them. Of a turned cut the places are as if it were straight."""
    if hold is None:
        return []
    if not line.deg and not any(o.aslant for o in others):
        at = tuple(o.at_mm for o in others)
        return dowel_places_along(case, blocked, seat, hold, extent, line.i, (line.at_mm,), at, most)[0]
    run, mid, lean = hold.run_mm, line.about_mm, abs(sin(radians(line.deg))) * line.longer
    half = hold.block_mm / 2
    lo, hi = _room(case, seat, extent, line.j, 0.0)
    # neither corner of a block goes past the ends of the plate
    ends = [mid + (lo - mid) * line.longer + run * lean + half]
    gaps = []
    for o in others:
        at_mm, off = line.crossing(o)
        near = half + 1.0 + (hold.clear_mm + run * abs(sin(radians(off)))) / cos(radians(off)) + _aside(o, seat, hold)
        gaps.append((at_mm - near, at_mm + near))
    ends += [x for gap in sorted(gaps) for x in gap]
    ends.append(mid + (hi - mid) * line.longer - run * lean - half)
    across = [c for c, _ in line.ends(extent)]
    room = min(min(across) - extent.lo[line.i], extent.hi[line.i] - max(across))
    stretches = list(zip(ends[::2], ends[1::2], strict=True))
    along = Along(seat, hold, line.seen(blocked), line.i, np.array([line.at_mm]), [room])
    return [p for stretch in stretches for p in along.places(stretch, most)[0]]


def _aside(line: Line, seat: Seat, hold: Hold) -> float:
    """How far aside a cut that leans runs of where it is in the middle of the plate, over the height of what joins another one."""
    if not line.lean_deg:
        return 0.0
    heights = (seat.outer_mm, seat.inner_mm, seat.outer_mm + up_of(seat) * hold.reach_mm, *(seat.far_mm or ()))
    return float(max(abs(line.rise * (h - line.level_mm)) for h in heights))


def dowel_places_along(
    case: Case,
    blocked: NDArray[np.float64],
    seat: Seat,
    hold: Hold | None,
    extent: Box,
    i: int,
    at: tuple[float, ...],
    others: tuple[float, ...] = (),
    most: int = 3,
) -> list[list[Vec2]]:
    """As `dowel_places`, of a straight cut at each of many places: what stands in the way along the cut is looked at once for all."""
    if hold is None:
        return [[] for _ in at]
    along = along_cuts(case, blocked, seat, hold, extent, i, at)
    found = [along.places(stretch, most) for stretch in stretches_of(case, seat, hold, extent, i, others)]
    return [list(itertools.chain.from_iterable(x[k] for x in found)) for k in range(len(at))]


def along_cuts(
    case: Case,
    blocked: NDArray[np.float64],
    seat: Seat,
    hold: Hold,
    extent: Box,
    i: int,
    at: tuple[float, ...],
) -> Along:
    """What stands in the way of pins along a straight cut at each of many places across axis i."""
    room = [min(c - extent.lo[i], extent.hi[i] - c) for c in at]
    ridge = ridge_mm(case, seat, extent, i) if isinstance(hold, Pins) and hold.through else None
    return Along(seat, hold, blocked, i, np.array(at), room, ridge)


def stretches_of(case: Case, seat: Seat, hold: Hold, extent: Box, i: int, others: tuple[float, ...] = ()) -> list[Vec2]:
    """Into which stretches cuts the other way (`others`) divide a straight cut across axis i: from where to where the middle of a block may stand."""
    half = hold.block_mm / 2
    lo, hi = _room(case, seat, extent, 3 - i - seat.axis, half)
    ends = [lo, *(x + s * (hold.clear_mm + half + 1.0) for x in others for s in (-1, 1)), hi]
    return list(zip(ends[::2], ends[1::2], strict=True))


def _room(case: Case, seat: Seat, extent: Box, j: int, half: float) -> Vec2:
    """From where to where along axis j the middle of a block may stand."""
    if seat.bar is not None:
        return (middle := (seat.bar.lo_mm + seat.bar.hi_mm) / 2), middle
    edge = half + seat.clear_mm(j) + 0.5
    if seat.alone:
        return extent.lo[j] + edge, extent.hi[j] - edge
    return max(case.cavity.lo[j], extent.lo[j]) + edge, min(case.cavity.hi[j], extent.hi[j]) - edge


class Along:
    """What stands in the way along a cut at each of `cs`. `room`: how far each is from the part's ends; `ridge`: where a ridge stands that is as long as
    the part."""

    def __init__(
        self,
        seat: Seat,
        hold: Hold,
        blocked: NDArray[np.float64],
        i: int,
        cs: NDArray[np.float64],
        room: list[float],
        ridge: Vec2 | None = None,
    ) -> None:
        n = seat.axis
        self._j, self._hold, self._count = 3 - i - n, hold, len(cs)
        self._deep_enough = [hold.run_mm <= r for r in room]
        up, clear = up_of(seat), hold.clear_mm
        self._centre, reach = seat.outer_mm + up * hold.centre_mm, seat.outer_mm + up * hold.reach_mm
        z0, z1 = (seat.inner_mm, reach) if up > 0 else (reach, seat.inner_mm)
        if hold.in_plate or seat.bar is not None:
            z0, z1 = min(seat.inner_mm, seat.outer_mm) - 0.1, max(seat.inner_mm, seat.outer_mm) + 0.1
        heights = [(z0, max(z1, z0 + 0.1))]
        if seat.far_mm:
            heights.append((seat.far_mm[0], max(seat.far_mm[1], seat.far_mm[0] + 0.1)))
        low, high = blocked[:, 0], blocked[:, 1]
        level = np.any([(a < high[:, n]) & (b > low[:, n]) for a, b in heights], axis=0)
        low, high = low[level], high[level]
        begin, end = cs[:, None] - clear, cs[:, None] + clear
        if ridge is not None:
            begin, end = np.minimum(begin, ridge[0]), np.maximum(end, ridge[1])
        self._low, self._high = low[:, self._j], high[:, self._j]
        self._near = ((begin < high[None, :, i]) & (end > low[None, :, i])).astype(np.float32)  # (cuts, boxes)

    def at_most(self, stretch: Vec2) -> list[int]:
        """How many find a place at the most on each cut over a stretch, however cuts the other way divide it: those are farther apart than two of them."""
        lo, hi = stretch
        half, pitch = self._hold.block_mm / 2, self._hold.pitch_mm - TOUCH_MM
        out: dict[bytes, int] = {}
        for row in self._near:
            if row.tobytes() in out:
                continue
            count, q = 0, lo
            for a, b in sorted(zip(self._low[row > 0] - half, self._high[row > 0] + half, strict=True)):
                if a >= q:
                    n = int((min(a, hi) - q) / pitch + TOUCH_MM) + 1 if q <= hi else 0
                    count, q = count + n, q + n * pitch
                q = max(q, b)
            out[row.tobytes()] = count + (int((hi - q) / pitch + TOUCH_MM) + 1 if q <= hi else 0)
        return [out[row.tobytes()] if deep else 0 for row, deep in zip(self._near, self._deep_enough, strict=True)]

    def places(self, stretch: Vec2, most: int) -> list[list[Vec2]]:
        """The free places of each cut in a stretch of it, `most` at most."""
        out: list[list[Vec2]] = [[] for _ in range(self._count)]
        a, b = stretch
        if b < a:
            return out
        hold, half = self._hold, self._hold.block_mm / 2
        if isinstance(hold, Steps):
            wants = np.arange(a, b + TOUCH_MM, hold.block_mm)
        else:
            # flanges want so much room that they are looked for everywhere
            finer = tuple(np.arange(a, b, 3.0)) if hold.many else ()
            wants = np.array([a, b, *(a + (b - a) * k / 6 for k in range(1, 6)), *finer])
        there = (wants[:, None] - half < self._high) & (wants[:, None] + half > self._low)
        free = self._near @ there.T.astype(np.float32) == 0  # (cuts, wants)
        known: dict[bytes, list[Vec2]] = {}
        for k in range(self._count):
            if not self._deep_enough[k]:
                continue
            row = free[k].tobytes()
            if row not in known:
                known[row] = _apart(wants[free[k]].tolist(), self._centre, hold.pitch_mm - TOUCH_MM)[:most]
            out[k] = known[row]
        return out


def _apart(wants: list[float], centre: float, mm: float) -> list[Vec2]:
    """The outer ones first, then one between, none within another's block."""
    out: list[Vec2] = []
    for q in wants:
        if all(abs(q - p[0]) > mm for p in out):
            out.append((q, centre))
    return out
