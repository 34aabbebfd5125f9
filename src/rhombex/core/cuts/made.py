"""What joins pieces, as geometry: blocks of pins and flanges of bolts with their holes, and dovetails with their sockets."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from shapely import Polygon, box
from shapely.geometry.polygon import orient

from rhombex.core.case import Seat
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import up_of
from rhombex.core.cuts.joins import Bolts, Tails, hold_of
from rhombex.core.cuts.strips import INDEX
from rhombex.core.design import Design
from rhombex.core.fit.allowance import fit, round_hole
from rhombex.core.geometry.recipe import Difference, Solid, Union, block, circle, through
from rhombex.core.space import Box, Frame, Vec3
from rhombex.core.workshop.printer import Printer

OVER_MM = 1.0  # a bolt's hole runs so far past its flanges

# axes of the frame in which what lies along an axis of the case is drawn: its x and y are the next two
_ALONG: dict[int, tuple[Vec3, Vec3, Vec3]] = {
    0: ((0, 1, 0), (0, 0, 1), (1, 0, 0)),
    1: ((0, 0, 1), (1, 0, 0), (0, 1, 0)),
    2: ((1, 0, 0), (0, 1, 0), (0, 0, 1)),
}


def blocks_and_holes(
    design: Design, printer: Printer, part: str, seat: Seat, cuts: list[Cut]
) -> tuple[list[Solid], list[Solid]]:
    """What is added to a part along its cuts, and what is bored through it there."""
    n, rooted = seat.axis, (seat.outer_mm + seat.inner_mm) / 2
    blocks: list[Solid] = []
    holes: list[Solid] = []
    for c in cuts:
        hold = hold_of(c.joined, seat)
        if hold is None or isinstance(hold, Tails):
            continue
        run, half = hold.run_mm, hold.block_mm / 2
        inward = seat.outer_mm + up_of(seat) * hold.reach_mm
        i = INDEX[c.axis]
        j = 3 - i - n
        if isinstance(hold, Bolts):
            hole, depth = hold.hole_mm + round_hole(design, printer, (part,), i, hold.hole_mm)[0].value, run + OVER_MM
        else:
            hole, depth = hold.d_mm + fit(design, printer, "dowel_slip", (part,), hold.d_mm).value, hold.deep_mm + 0.5
        for q, z in c.dowels:
            lo, hi = [0.0] * 3, [0.0] * 3
            lo[i], hi[i] = c.at_mm - run, c.at_mm + run
            lo[j], hi[j] = q - half, q + half
            lo[n], hi[n] = sorted((rooted, inward))
            blocks.append(block(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))))
            origin = [0.0] * 3
            origin[i], origin[j], origin[n] = c.at_mm, q, z
            frame = Frame((origin[0], origin[1], origin[2]), *_ALONG[i])
            holes.append(through([circle(0, 0, hole)], frame, -depth, depth))
    return blocks, holes


@dataclass(frozen=True)
class Tail:
    """A dovetail of the piece on the low side of a cut, and its socket in the other; `inside`: a point of the plate at its neck on either side."""

    key: Solid
    socket: Solid
    low: Vec3
    high: Vec3


def tails(design: Design, printer: Printer, part: str, seat: Seat, c: Cut, extent: Box) -> Iterator[Tail]:
    """The dovetails of a cut: trapezoids in the plan of the plate, drawn out through it, and through the wall opposite where that is keyed as well;
    sockets are wider by the allowance of tongues."""
    hold = hold_of(c.joined, seat)
    if not isinstance(hold, Tails):
        return
    i, n = INDEX[c.axis], seat.axis
    j = 3 - i - n
    gap = fit(design, printer, "tongue_side", (part,), hold.tip_mm).value
    first = (n + 1) % 3  # the axis of the case along which the frame of n has its x
    frame = Frame((0.0, 0.0, 0.0), *_ALONG[n])
    plate = (seat.outer_mm, seat.inner_mm)
    for q, _ in c.dowels:
        plan = tail_plan(hold, c, q, first == i)
        for walls in (plate, seat.far_mm) if seat.far_mm else (plate,):
            low, high = min(walls), max(walls)
            # past the outer face as far as it goes, and just past the inner one
            low, high = (
                (extent.lo[n] - 5.0, high + OVER_MM)
                if low - extent.lo[n] < extent.hi[n] - high
                else (low - OVER_MM, extent.hi[n] + 5.0)
            )
            key, socket = (through([_loop(p)], frame, low, high) for p in (plan, plan.buffer(gap, join_style="mitre")))
            ends = []
            for s in (-1.5, 1.5):
                at = [0.0] * 3
                at[i], at[j], at[n] = c.at_mm + s, q, sum(walls) / 2
                ends.append((at[0], at[1], at[2]))
            yield Tail(key=key, socket=socket, low=ends[0], high=ends[1])


def tail_plan(hold: Tails, c: Cut, q: float, across_first: bool, root_mm: float = 1.0) -> Polygon:
    """The outline of a dovetail at q along its cut, from `root_mm` before it; `across_first`: the axis that the cut runs across comes first."""
    neck, tip = hold.neck_mm / 2, hold.tip_mm / 2
    low, at, end = c.at_mm - root_mm, c.at_mm, c.at_mm + hold.deep_mm
    sides = [(low, q - neck), (at, q - neck), (end, q - tip), (end, q + tip), (at, q + neck), (low, q + neck)]
    return Polygon([(a, b) if across_first else (b, a) for a, b in sides])


def plan_of(seat: Seat, c: Cut, across_first: bool) -> list[Polygon]:
    """The outlines of what joins a cut, on the plan of its plate: dovetails, flanges, blocks of pins."""
    hold = hold_of(c.joined, seat)
    if hold is None:
        return []
    if isinstance(hold, Tails):
        return [tail_plan(hold, c, q, across_first, 0.0) for q, _ in c.dowels]
    run, half = hold.run_mm, hold.block_mm / 2
    found = [box(c.at_mm - run, q - half, c.at_mm + run, q + half) for q, _ in c.dowels]
    return [p if across_first else Polygon([(y, x) for x, y in p.exterior.coords]) for p in found]


def _loop(p: Polygon) -> tuple[tuple[float, float, float], ...]:
    """The outline of a polygon, counter-clockwise."""
    return tuple((float(x), float(y), 0.0) for x, y in list(orient(p).exterior.coords)[:-1])


def locked(cell: Box, keys: list[Tail]) -> Solid:
    """What a piece may take: its cell, with its own dovetails, less the sockets of its neighbours'."""

    def holds(p: Vec3) -> bool:
        return all(cell.lo[k] <= p[k] <= cell.hi[k] for k in range(3))

    own = [t.key for t in keys if holds(t.low)]
    theirs = [t.socket for t in keys if holds(t.high)]
    room: Solid = block(cell)
    if theirs:
        room = Difference(room, tuple(theirs))
    return Union((room, *own)) if own else room
