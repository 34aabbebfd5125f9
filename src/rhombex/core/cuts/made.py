"""What joins pieces, as geometry: blocks of pins and magnets, flanges of bolts and pads of bridging plates with their holes; dovetails, tongues and laps with the
room for them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from shapely import Polygon, box
from shapely.geometry.polygon import orient

from rhombex.core.case.parts import Seat
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import up_of
from rhombex.core.cuts.joins import (
    BEFORE_END_MM,
    BOLT,
    END_SKIN_MM,
    Bolts,
    Bridges,
    Discs,
    Hold,
    Pins,
    Steps,
    Tails,
    hold_of,
)
from rhombex.core.cuts.strips import INDEX
from rhombex.core.cuts.turned import Line, line_of
from rhombex.core.design import Design
from rhombex.core.fit.allowance import fit, round_hole
from rhombex.core.fit.joints import hole_mm
from rhombex.core.geometry.recipe import Difference, Intersection, Solid, Union, block, circle, through
from rhombex.core.reference import val
from rhombex.core.space import Box, Frame, Vec2, Vec3
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
    """What is added to a part along its cuts, and what is bored into it there."""
    n, rooted = seat.axis, (seat.outer_mm + seat.inner_mm) / 2
    blocks: list[Solid] = []
    holes: list[Solid] = []
    for c in cuts:
        hold = hold_of(c.joined, seat)
        if hold is None or hold.in_plate:
            continue
        if c.ridge_mm is not None and any(x.axis == c.axis and x.at_mm < c.at_mm for x in cuts):
            continue  # its rods are those of the first cut
        line = line_of(c, n)
        from_mm, to_mm = c.ridge_mm or (c.at_mm - hold.run_mm, c.at_mm + hold.run_mm)
        if seat.bar is not None:  # its pins lie in it
            holes += [x for at in c.dowels for x in _bored(design, printer, part, seat, hold, c, at)]
            continue
        half = hold.block_mm / 2
        high = hold.pad_mm if isinstance(hold, Bridges) else hold.reach_mm
        inward = seat.outer_mm + up_of(seat) * high
        i = INDEX[c.axis]
        j = 3 - i - n
        for q, z in c.dowels:
            lo, hi = [0.0] * 3, [0.0] * 3
            lo[i], hi[i] = from_mm, to_mm
            lo[j], hi[j] = q - half, q + half
            lo[n], hi[n] = sorted((rooted, inward))
            blocks.append(line.turned(block(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])))))
            holes += [line.turned(x) for x in _bored(design, printer, part, seat, hold, c, (q, z))]
    return blocks, holes


def _bored(design: Design, printer: Printer, part: str, seat: Seat, hold: Hold, c: Cut, at: Vec2) -> Iterator[Solid]:
    """The holes in one block: along the cut's axis for pins, magnets and bolts, down from the pad for a bridging plate's inserts."""
    i, n = INDEX[c.axis], seat.axis
    j = 3 - i - n

    def bore(across: float, normal: float, axis: int, d: float, low: float, high: float) -> Solid:
        origin = [0.0] * 3
        origin[i], origin[j], origin[n] = across, at[0], normal
        frame = Frame((origin[0], origin[1], origin[2]), *_ALONG[axis])
        return through([circle(0, 0, d)], frame, low, high)

    if isinstance(hold, Bridges):
        hole = hole_mm(BOLT, "insert")
        hole += round_hole(design, printer, (part,), n, hole)[0].value
        low, high = sorted((-up_of(seat) * hold.deep_mm, up_of(seat) * OVER_MM))
        for s in (-1, 1):
            yield bore(c.at_mm + s * hold.off_mm, at[1], n, hole, low, high)
    elif isinstance(hold, Bolts):
        hole = hold.hole_mm + round_hole(design, printer, (part,), i, hold.hole_mm)[0].value
        yield bore(c.at_mm, at[1], i, hole, -hold.run_mm - OVER_MM, hold.run_mm + OVER_MM)
    elif isinstance(hold, Pins):
        hole = hold.d_mm + fit(design, printer, "dowel_slip", (part,), hold.d_mm).value
        deep = hold.deep_mm + BEFORE_END_MM
        low, high = (
            (-deep, deep)
            if c.ridge_mm is None
            else (c.ridge_mm[0] + END_SKIN_MM - c.at_mm, c.ridge_mm[1] - END_SKIN_MM - c.at_mm)
        )
        yield bore(c.at_mm, at[1], i, hole, low, high)
    elif isinstance(hold, Discs):
        hole = _pocket_mm(design, printer, part, i, hold)
        yield bore(c.at_mm, at[1], i, hole, -hold.deep_mm, hold.deep_mm)
        yield _pole(seat, c, at, hole, 1, -hold.deep_mm, hold.deep_mm)


def _pocket_mm(design: Design, printer: Printer, part: str, i: int, hold: Discs) -> float:
    """Drawn diameter of the pockets of a pair: the disc, room for glue, and what such a hole comes out smaller by."""
    small = round_hole(design, printer, (part,), i, hold.d_mm)[0].value
    return hold.d_mm + val("fasteners.magnet.glue_gap") + small


def _pole(seat: Seat, c: Cut, at: Vec2, hole: float, side: int, low: float, high: float) -> Solid:
    """A notch in the rim of a pocket that tells the pole: one on the low side of a cut, where north faces out, two on the high side."""
    i, n = INDEX[c.axis], seat.axis
    origin = [0.0] * 3
    origin[i], origin[3 - i - n], origin[n] = c.at_mm, at[0] + side * hole / 2, at[1]
    frame = Frame((origin[0], origin[1], origin[2]), *_ALONG[i])
    return through([circle(0, 0, val("fasteners.magnet.notch"))], frame, low, high)


@dataclass(frozen=True)
class Key:
    """What of the piece on the low side of a cut reaches into the other one, if anything does, and what that one has cut out there; `low`, `high`: a point of the plate beside
    the cut on either side, by which a piece knows its own."""

    key: Solid | None
    socket: Solid
    low: Vec3
    high: Vec3


def keys_of(design: Design, printer: Printer, part: str, seat: Seat, c: Cut, extent: Box) -> Iterator[Key]:
    """The dovetails of a cut, its tongues, or the halves of its plate that run on; and in the wall opposite where that is keyed as well. Of magnets the
    second notch, which the piece on the high side alone has."""
    hold = hold_of(c.joined, seat)
    if isinstance(hold, Tails):
        shapes = _tails(design, printer, part, seat, c, hold, extent)
    elif isinstance(hold, Steps):
        shapes = _steps(design, printer, part, seat, c, hold, extent)
    elif isinstance(hold, Discs):
        hole = _pocket_mm(design, printer, part, INDEX[c.axis], hold)
        shapes = ((None, _pole(seat, c, at, hole, -1, -OVER_MM, hold.deep_mm), *at) for at in c.dowels)
    else:
        return
    i, n, line = INDEX[c.axis], seat.axis, line_of(c, seat.axis)
    for key, socket, q, level in shapes:
        ends = []
        for s in (-1.5, 1.5):
            at = [0.0] * 3
            at[i], at[3 - i - n], at[n] = c.at_mm + s, q, level
            ends.append(line.point((at[0], at[1], at[2])))
        yield Key(key=None if key is None else line.turned(key), socket=line.turned(socket), low=ends[0], high=ends[1])


_Shape = tuple[Solid | None, Solid, float, float]


def _past(extent: Box, n: int, walls: Vec2) -> Vec2:
    """Past the outer face of a wall as far as it goes, and just past the inner one."""
    low, high = min(walls), max(walls)
    if low - extent.lo[n] < extent.hi[n] - high:
        return (extent.lo[n] - 5.0, high + OVER_MM)
    return (low - OVER_MM, extent.hi[n] + 5.0)


def _walls(seat: Seat) -> tuple[Vec2, ...]:
    plate = (seat.outer_mm, seat.inner_mm)
    return (plate, seat.far_mm) if seat.far_mm else (plate,)


def _tails(
    design: Design, printer: Printer, part: str, seat: Seat, c: Cut, hold: Tails, extent: Box
) -> Iterator[_Shape]:
    """Trapezoids in the plan of the plate, drawn out through it; sockets are wider by the allowance of tongues."""
    i, n = INDEX[c.axis], seat.axis
    gap = fit(design, printer, "tongue_side", (part,), hold.tip_mm).value
    first = (n + 1) % 3  # the axis of the case along which the frame of n has its x
    frame = Frame((0.0, 0.0, 0.0), *_ALONG[n])
    for q, _ in c.dowels:
        plan = tail_plan(hold, c, q, first == i)
        for walls in _walls(seat):
            low, high = _past(extent, n, walls)
            key, socket = (through([_loop(p)], frame, low, high) for p in (plan, plan.buffer(gap, join_style="mitre")))
            yield key, socket, q, sum(walls) / 2


def _steps(
    design: Design, printer: Printer, part: str, seat: Seat, c: Cut, hold: Steps, extent: Box
) -> Iterator[_Shape]:
    """A tongue or the outer half of the plate, drawn out along the cut over every stretch. The room for it is wider by the allowance of
    tongues all round."""
    i, n = INDEX[c.axis], seat.axis
    j = 3 - i - n
    gap = fit(design, printer, "tongue_side", (part,), hold.block_mm).value
    frame = Frame((0.0, 0.0, 0.0), *_ALONG[j])
    first = (j + 1) % 3 == i
    at, end, root = c.at_mm, c.at_mm + hold.deep_mm, c.at_mm - 1.0
    for k, walls in enumerate(_walls(seat)):
        outer, inner = walls if k == 0 else sorted(walls, key=lambda w: -abs(w - seat.outer_mm))
        middle = (outer + inner) / 2
        if hold.shape == "tongue":
            half = min(hold.deep_mm, abs(inner - outer) / 2 - val("printing.feature.tongue_lip"))
            if half <= 0:
                continue  # a thin wall opposite the plate stays plain
            flanks = [(root, middle - half), (at, middle - half), (at + half, middle), (at, middle + half)]
            one = Polygon([*flanks, (root, middle + half)])
            room = one.buffer(gap, join_style="mitre")
        else:
            low, high = _past(extent, n, (outer, inner))
            beyond = low if abs(low - outer) < abs(low - inner) else high
            over = gap if inner > outer else -gap
            one = box(root, min(beyond, middle), end, max(beyond, middle))
            room = box(root, min(beyond, middle + over), end + gap, max(beyond, middle + over))
        for a, b in stretches(hold, c):
            key, socket = (
                through([_loop(p if first else _swapped(p))], frame, a - g, b + g) for p, g in ((one, 0.0), (room, gap))
            )
            yield key, socket, (a + b) / 2, middle


def stretches(hold: Steps, c: Cut) -> list[Vec2]:
    """Where a tongue or a lap runs along a cut: those that touch are one."""
    out: list[Vec2] = []
    for q, _ in sorted(c.dowels):
        a, b = q - hold.block_mm / 2, q + hold.block_mm / 2
        if out and a - out[-1][1] < 1e-6:
            out[-1] = (out[-1][0], b)
        else:
            out.append((a, b))
    return out


def _swapped(p: Polygon) -> Polygon:
    return Polygon([(y, x) for x, y in p.exterior.coords])


def tail_plan(hold: Tails, c: Cut, q: float, across_first: bool, root_mm: float = 1.0) -> Polygon:
    """The outline of a dovetail at q along its cut, from `root_mm` before it; `across_first`: the axis that the cut runs across comes first."""
    neck, tip = hold.neck_mm / 2, hold.tip_mm / 2
    low, at, end = c.at_mm - root_mm, c.at_mm, c.at_mm + hold.deep_mm
    sides = [(low, q - neck), (at, q - neck), (end, q - tip), (end, q + tip), (at, q + neck), (low, q + neck)]
    return Polygon([(a, b) if across_first else (b, a) for a, b in sides])


def plan_of(seat: Seat, c: Cut, across_first: bool) -> list[Polygon]:
    """The outlines of what joins a cut, on the plan of its plate: keys, flanges, blocks of pins."""
    line = line_of(c, seat.axis)
    first, second = (k for k in range(3) if k != seat.axis)

    def placed(p: Polygon) -> Polygon:
        corners = []
        for a, b in p.exterior.coords:
            at = [0.0] * 3
            at[first], at[second] = a, b
            q = line.point((at[0], at[1], at[2]))
            corners.append((q[first], q[second]))
        return Polygon(corners)

    plans = _plans(seat, c, across_first)
    return [placed(p) for p in plans] if c.turn_deg else plans


def _plans(seat: Seat, c: Cut, across_first: bool) -> list[Polygon]:
    hold = hold_of(c.joined, seat)
    if hold is None:
        return []
    if isinstance(hold, Tails):
        return [tail_plan(hold, c, q, across_first, 0.0) for q, _ in c.dowels]
    if isinstance(hold, Steps):
        found = [box(c.at_mm, a, c.at_mm + hold.deep_mm, b) for a, b in stretches(hold, c)]
    else:
        half = hold.block_mm / 2
        low, high = c.ridge_mm or (c.at_mm - hold.run_mm, c.at_mm + hold.run_mm)
        found = [box(low, q - half, high, q + half) for q, _ in c.dowels]
    return found if across_first else [_swapped(p) for p in found]


def _loop(p: Polygon) -> tuple[tuple[float, float, float], ...]:
    """The outline of a polygon, counter-clockwise."""
    return tuple((float(x), float(y), 0.0) for x, y in list(orient(p).exterior.coords)[:-1])


@dataclass(frozen=True)
class Cell:
    """Where a piece is: a box between straight cuts and the part's ends, cut off besides by those that are turned or lean, each with the side that it is on: 1 beyond, -1 before
    it."""

    box: Box
    slanting: tuple[tuple[Line, int], ...] = ()

    def holds(self, p: Vec3) -> bool:
        """Whether a point is in it."""
        within = all(self.box.lo[k] <= p[k] <= self.box.hi[k] for k in range(3))
        return within and all(side * line.beyond(p) >= 0 for line, side in self.slanting)

    @property
    def solid(self) -> Solid:
        """All of its room."""
        out: Solid = block(self.box)
        far = sum(self.box.size)
        for line, side in self.slanting:
            lo, hi = list(self.box.lo), list(self.box.hi)
            lo[line.i], hi[line.i] = sorted((line.at_mm, line.at_mm + side * 2 * far))
            lo[line.j], hi[line.j] = line.about_mm - 2 * far, line.about_mm + 2 * far
            if line.lean_deg:
                lo[line.n], hi[line.n] = line.level_mm - 2 * far, line.level_mm + 2 * far
            out = Intersection(out, line.turned(block(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])))))
        return out

    def inner(self, seat: Seat) -> Box:
        """A box in it at the inner face of its plate, from side to side of the part along every turned cut."""
        lo, hi = list(self.box.lo), list(self.box.hi)
        for line, side in self.slanting:
            across = [line.at(along, seat.inner_mm) for along in (self.box.lo[line.j], self.box.hi[line.j])]
            if side > 0:
                lo[line.i] = max(lo[line.i], *across)
            else:
                hi[line.i] = min(hi[line.i], *across)
        return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))

    def outline(self, u: int, v: int) -> Polygon:
        """On the plan of its plate, in axes u and v; where a cut leans, as in the middle of the plate."""
        area = box(self.box.lo[u], self.box.lo[v], self.box.hi[u], self.box.hi[v])
        far = 2 * sum(self.box.size)
        for line, side in self.slanting:
            plan = [
                (line.at_mm, -far),
                (line.at_mm + side * far, -far),
                (line.at_mm + side * far, far),
                (line.at_mm, far),
            ]
            corners = []
            for across, along in plan:
                p = [0.0] * 3
                p[line.i], p[line.j] = across, line.about_mm + along
                q = replace(line, lean_deg=0.0).point((p[0], p[1], p[2]))
                corners.append((q[u], q[v]))
            area = area.intersection(Polygon(corners))
        return area


def locked(cell: Cell, keys: list[Key]) -> Solid:
    """What a piece may take: its cell, with its own keys, less the sockets of its neighbours'."""
    own = [t.key for t in keys if t.key is not None and cell.holds(t.low)]
    theirs = [t.socket for t in keys if cell.holds(t.high)]
    room = cell.solid
    if theirs:
        room = Difference(room, tuple(theirs))
    return Union((room, *own)) if own else room
