"""Where a thing can go so that nothing meets it: the nearest free place for it and all that rides on it, or one that a wall makes room for."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import PlacedPort, PlacedSolid, Thing
from rhombex.core.bench.gaps import HARD, cavity, wall_limit
from rhombex.core.bench.stack import tower
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case import Case
from rhombex.core.compiled import njit
from rhombex.core.design import Design
from rhombex.core.memo import Memo
from rhombex.core.parts import port_kinds
from rhombex.core.reference import val
from rhombex.core.space import OUTWARD, Box, Face, Vec3, normal_axis

Array = NDArray[np.float64]
_SIDES: tuple[tuple[Face, Face], ...] = (("left", "right"), ("front", "back"), ("bottom", "top"))
MOST_COMPARED = 3000  # rectangles that are held against one another
FAR_MM = 400.0  # how far a wall may be pushed out to make room
PLUGGED_MM = 0.3  # before a connector: what stands as near is it


@dataclass(frozen=True)
class Way:
    """A move of a thing, and a wall that has to go out by so much first."""

    by: Vec3
    wall: Face | None = None
    wall_mm: float = 0.0

    @property
    def cost(self) -> float:
        """What it takes: the way, and a wall's plastic twice."""
        return sum(abs(x) for x in self.by) + 2 * self.wall_mm


@dataclass(frozen=True)
class _Room:
    """What is forbidden in the plane of two moves: open rectangles (p0, q0, p1, q1), and how far each axis may go."""

    rects: Array
    lo: tuple[float, float]
    hi: tuple[float, float]

    def free_grid(self, ps: Array, qs: Array) -> NDArray[np.bool_]:
        """Whether each pair of moves is allowed, (len(qs), len(ps)); both ascending."""
        e = 1e-6
        ok = ((qs >= self.lo[1] - e) & (qs <= self.hi[1] + e))[:, None] & (
            (ps >= self.lo[0] - e) & (ps <= self.hi[0] + e)
        )
        p0, p1 = np.searchsorted(ps, self.rects[:, 0] + e, "right"), np.searchsorted(ps, self.rects[:, 2] - e, "left")
        q0, q1 = np.searchsorted(qs, self.rects[:, 1] + e, "right"), np.searchsorted(qs, self.rects[:, 3] - e, "left")
        _forbid(ok, p0, p1, q0, q1)
        return ok


@njit
def _forbid(
    ok: NDArray[np.bool_],
    p0: NDArray[np.int64],
    p1: NDArray[np.int64],
    q0: NDArray[np.int64],
    q1: NDArray[np.int64],
) -> None:
    """Take the cells of some rectangles out of a grid: each cell is under as many as begin below and before it and have not ended."""
    rows, columns = ok.shape
    begun = np.zeros((rows + 1, columns + 1), np.int32)
    for k in range(len(p0)):
        if p0[k] < p1[k] and q0[k] < q1[k]:
            begun[q0[k], p0[k]] += 1
            begun[q0[k], p1[k]] -= 1
            begun[q1[k], p0[k]] -= 1
            begun[q1[k], p1[k]] += 1
    for j in range(rows):
        over = 0
        for i in range(columns):
            over += begun[j, i]
            begun[j, i] = over + (begun[j - 1, i] if j else 0)
            if begun[j, i] > 0:
                ok[j, i] = False


@njit
def _least(ok: NDArray[np.bool_], ps: Array, qs: Array) -> tuple[int, int]:
    """Column and row of the shortest move of a grid that is allowed, the first of several; -1 where none is."""
    best, at = np.inf, (-1, -1)
    for j in range(len(qs)):
        for i in range(len(ps)):
            if ok[j, i] and abs(qs[j]) + abs(ps[i]) < best:
                best, at = abs(qs[j]) + abs(ps[i]), (i, j)
    return at


def ways_clear(
    design: Design, things: tuple[Thing, ...], case: Case, id: str, nearer: tuple[Face, float] | None = None
) -> list[Way]:
    """Moves of a thing that clear it of everything, cheapest first: across the floor, or along its face. Where there is no free place in the
    case, those that a wall makes room for. `nearer`: to which face it has to come, and by how much at the least."""
    # whoever changes what is thought of a design, or its filament, moves nothing
    brief = design.brief
    of_case = (
        case.bulges,
        case.seams,
        case.mounts,
        case.line_mm,
        case.pillar_mm,
        case.brackets,
        case.hooks,
        case.fan_slots,
        case.uprights,
    )
    key = (
        design.placements,
        design.custom,
        design.shell,
        design.leads,
        brief.needs,
        brief.unneeded,
        of_case,
        id,
        nearer,
    )
    return _known.make(key, lambda: _ways(design, things, case, id, nearer))


_known: Memo[tuple[object, ...], list[Way]] = Memo(300)


def _ways(
    design: Design, things: tuple[Thing, ...], case: Case, id: str, nearer: tuple[Face, float] | None
) -> list[Way]:
    me = next(t for t in things if t.id == id)
    group = tower(design, id)
    axes = tuple(i for i in range(3) if i != (normal_axis(me.face) if me.face else 2))
    room = _room(design, things, case, me, group, (axes[0], axes[1]))
    found = _nearest(_beyond(room, axes, nearer), (axes[0], axes[1]))
    if found:
        return found
    out: list[Way] = []
    for k, i in enumerate(axes):
        for high in (False, True):
            if nearer is not None and nearer[0] == _SIDES[i][1 if high else 0]:
                continue  # that wall would go away from it
            lo, hi = list(room.lo), list(room.hi)
            if high:
                hi[k] += FAR_MM
            else:
                lo[k] -= FAR_MM
            wider = _Room(room.rects, (lo[0], lo[1]), (hi[0], hi[1]))
            for way in _nearest(_beyond(wider, axes, nearer), (axes[0], axes[1]))[:1]:
                d = way.by[i]
                need = (d - room.hi[k]) if high else (room.lo[k] - d)
                if need > 1e-6:
                    far = Way(way.by, _SIDES[i][1 if high else 0], float(np.ceil(need * 10 - 1e-6) / 10))
                    if not _meets_what_goes_along(things, group, far):
                        out.append(far)
    return sorted(out, key=lambda w: w.cost)


def _meets_what_goes_along(things: tuple[Thing, ...], group: set[str], way: Way) -> bool:
    """Whether a thing that has moved is in the way of what is fixed to the wall that goes out for it, and goes with that."""
    assert way.wall is not None
    x, y, z = (n * way.wall_mm - by for n, by in zip(OUTWARD[way.wall], way.by, strict=True))
    mine = [s.box for t in things if t.id in group for s in t.solids if s.role in HARD]
    near = val("limits.gap.between")
    for s in (s for t in things if t.face == way.wall and t.id not in group for s in t.solids):
        (a, b, c), (d, e, f) = s.box
        along, gap = Box((a + x, b + y, c + z), (d + x, e + y, f + z)), near if s.role in HARD else 0.0
        if any(box.distance(along) < gap - 1e-6 for box in mine):
            return True
    return False


def _beyond(room: _Room, axes: tuple[int, ...], nearer: tuple[Face, float] | None) -> _Room:
    """The moves of a room that go so far towards a face at the least."""
    if nearer is None:
        return room
    face, by_mm = nearer
    lo, hi = list(room.lo), list(room.hi)
    k = axes.index(normal_axis(face)) if normal_axis(face) in axes else None
    if k is not None and OUTWARD[face][axes[k]] > 0:
        lo[k] = max(lo[k], by_mm)
    elif k is not None:
        hi[k] = min(hi[k], -by_mm)
    return _Room(room.rects, (lo[0], lo[1]), (hi[0], hi[1]))


def free_spot(design: Design, things: tuple[Thing, ...], id: str, case: Case | None = None) -> Vec3 | None:
    """The least move (none at all where it is free there) that puts a thing where nothing meets it inside the walls, and nothing of the case where that is
    given; None where there is no such place."""
    me = next(t for t in things if t.id == id)
    axes = tuple(i for i in range(3) if i != (normal_axis(me.face) if me.face else 2))
    room = _room(design, things, case, me, {id}, (axes[0], axes[1]))
    if room.free_grid(np.zeros(1), np.zeros(1))[0, 0]:
        return (0.0, 0.0, 0.0)
    found = _nearest(room, (axes[0], axes[1]))
    return found[0].by if found else None


def _nearest(room: _Room, axes: tuple[int, int]) -> list[Way]:
    """The nearest allowed move, and the nearest along each axis alone."""

    def steps(k: int) -> Array:
        edges = np.concatenate([[0.0, room.lo[k], room.hi[k]], room.rects[:, k], room.rects[:, k + 2]])
        away = np.sign(edges) * np.ceil(np.abs(edges) * 10 - 1e-6) / 10  # tenths, so that they are easy to read
        every = np.unique(np.concatenate([away, np.trunc(edges * 10) / 10]))
        out: Array = every[(every >= room.lo[k] - 1e-6) & (every <= room.hi[k] + 1e-6) & (np.abs(every) < FAR_MM)]
        return out

    ps, qs = steps(0), steps(1)
    if len(ps) == 0 or len(qs) == 0:
        return []
    ok = room.free_grid(ps, qs)
    still_p, still_q = np.abs(ps) < 1e-9, np.abs(qs) < 1e-9
    ok[np.ix_(still_q, still_p)] = False
    best: list[tuple[float, float]] = []
    for only, p, q in ((ok, ps, qs), (ok[still_q], ps, qs[still_q]), (ok[:, still_p], ps[still_p], qs)):
        i, j = _least(only, p, q)
        if i >= 0:
            move = (float(p[i]), float(q[j]))
            if move not in best:
                best.append(move)
    out = []
    for a, b in best:
        by = [0.0, 0.0, 0.0]
        by[axes[0]], by[axes[1]] = round(a, 3), round(b, 3)
        out.append(Way((by[0], by[1], by[2])))
    return sorted(out, key=lambda w: w.cost)


def _room(
    design: Design,
    things: tuple[Thing, ...],
    case: Case | None,
    me: Thing,
    group: set[str],
    axes: tuple[int, int],
) -> _Room:
    mounts = case.mounts if case else ()
    mine = [(t, s) for t in things if t.id in group for s in t.solids]
    others = [(o, q) for o in things if o.id not in group for q in o.solids]
    near = val("limits.gap.between")
    rects: list[Array] = []

    def forbid(a: list[Box], b: list[Box], gap: Array | float = 0.0, allowed: NDArray[np.bool_] | None = None) -> None:
        """No box of `a`, which moves along, may come nearer than its gap to one of `b`: (len(a), len(b)) each."""
        if a and b:
            rects.append(_rects(np.array(a), np.array(b), gap, allowed, axes))

    def those(solids: list[tuple[Thing, PlacedSolid]], *roles: str) -> NDArray[np.bool_]:
        return np.array([s.role in roles for _, s in solids], bool)

    carried = np.array([o.id == me.placement.on for o, _ in others], bool)
    soft, their_soft = ~those(mine, *HARD)[:, None], ~those(others, *HARD)[None, :]
    # it lies on the board of what carries it
    lies = carried & (those(others, "board", "pins") | those(mine, "pins")[:, None])
    gaps = np.where(soft | their_soft | carried, 0.0, near)
    forbid([s.box for _, s in mine], [q.box for _, q in others], gaps, (soft & their_soft) | lies)
    # the way of every wanted plug from its connector to the outside stays free
    hard_mine, hard_others = ([s.box for _, s in x if s.role in HARD] for x in (mine, others))
    paths = _paths(design, things)
    forbid([path for of, path in paths if of in group], hard_others)
    forbid(hard_mine, [path for of, path in paths if of not in group])
    forbid(hard_mine, [*([] if me.face else _corners(design)), *_pillars(design, case), *_bracket_ways(case, group)])
    uprights = list(case.uprights) if case and me.face is None else []  # what is fixed to one takes it along
    forbid(hard_mine, uprights)
    forbid([m.box for m in mounts if m.of in group], [*_pillars(design, case), *uprights])
    stands = {m.of for m in mounts}
    forbid(
        [m.box for m in mounts if m.of in group],
        [q.box for o, q in others if o.placement.on not in stands],
    )
    # what rides on a thing may come near its posts
    under = {t.placement.on for t, _ in mine}
    forbid([s.box for _, s in mine], [m.box for m in mounts if m.of not in group | under])
    for of in stands & under - group:
        forbid([s.box for t, s in mine if t.placement.on != of], [m.box for m in mounts if m.of == of])
    lo, hi = _bounds(design, mine, case, me, axes)
    return _Room(_outermost(rects, lo, hi), lo, hi)


def _rects(a: Array, b: Array, gap: Array | float, allowed: NDArray[np.bool_] | None, axes: tuple[int, int]) -> Array:
    """The moves (p0, q0, p1, q1) that bring a box of `a`, (n, 2, 3), too near to one of `b`, (m, 2, 3)."""
    r, e = 3 - axes[0] - axes[1], 1e-6
    g = np.broadcast_to(gap, (len(a), len(b)))
    met = (a[:, None, 1, r] > b[None, :, 0, r] - g + e) & (a[:, None, 0, r] < b[None, :, 1, r] + g - e)
    if allowed is not None:
        met &= ~allowed
    i, j = np.nonzero(met)
    g = g[i, j]
    sides = [b[j, 0, k] - a[i, 1, k] - g for k in axes] + [b[j, 1, k] - a[i, 0, k] + g for k in axes]
    return np.stack(sides, axis=1)


def _outermost(rects: list[Array], lo: tuple[float, float], hi: tuple[float, float]) -> Array:
    """Forbidden rectangles that reach into what is allowed, also once a wall is pushed out, without those within another."""
    if not rects:
        return np.empty((0, 4))
    every: Array = np.asarray(np.round(np.concatenate(rects), 9), np.float64)
    p0, q0, p1, q1 = every.T
    far = FAR_MM  # a wall may be pushed out so far
    every = every[(p1 > lo[0] - far) & (p0 < hi[0] + far) & (q1 > lo[1] - far) & (q0 < hi[1] + far)]
    every = np.asarray(every[np.lexsort(every.T)])
    if len(every) > 1:  # each of them once
        every = every[np.append(True, (every[1:] != every[:-1]).any(axis=1))]
    if len(every) < 2 or len(every) > MOST_COMPARED:
        return every
    p0, q0, p1, q1 = every.T
    within = (p0[:, None] >= p0) & (q0[:, None] >= q0) & (p1[:, None] <= p1) & (q1[:, None] <= q1)
    np.fill_diagonal(within, False)
    return np.asarray(every[~within.any(axis=1)])


def plug_path(design: Design, p: PlacedPort, walled: bool = True) -> Box:
    """The room a plug passes through: from the connector's face to the outer surface, or where no wall is as far as it is long."""
    kind, axis, sign = port_kinds()[p.port.kind], normal_axis(p.face), OUTWARD[p.face][normal_axis(p.face)]
    lo, hi = list(p.centre), list(p.centre)
    end = _outer(design, p.face) if walled else p.centre[axis] + sign * kind.plug_length_mm
    lo[axis], hi[axis] = sorted((p.centre[axis] + sign * PLUGGED_MM, end))
    for i in range(3):
        if i != axis:
            half = (kind.plug_height_mm if i == 2 else kind.plug_width_mm) / 2
            lo[i], hi[i] = p.centre[i] - half, p.centre[i] + half
    return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


def _paths(design: Design, things: tuple[Thing, ...]) -> list[tuple[str, Box]]:
    open_ = wanted_ports(design)
    return [(t.id, plug_path(design, p)) for t in things if t.face is None for p in t.ports if p.ref in open_]


def _corners(design: Design) -> list[Box]:
    """What a square component must keep out of where the cavity's corners are rounded: as deep as beside a wall at the least gap to it."""
    room, s = cavity(design), design.shell
    r, gap = max(s.corner_radius_mm - s.wall_mm, 0.3), val("limits.gap.port_wall")
    deep = r - max(r * r - (r - min(gap, r)) ** 2, 0.0) ** 0.5
    return [
        Box(
            (min(x, x + deep * u), min(y, y + deep * v), room.lo[2]),
            (max(x, x + deep * u), max(y, y + deep * v), room.hi[2]),
        )
        for x, u in ((room.lo[0], 1), (room.hi[0], -1))
        for y, v in ((room.lo[1], 1), (room.hi[1], -1))
    ]


def _bracket_ways(case: Case | None, group: set[str]) -> list[Box]:
    """What the brackets of others take, with the ways by which they come to their places along with a cover, hooks, and the slots of other fans."""
    if case is None:
        return []
    out = [h.room for h in case.hooks if h.of not in group]
    out += [r for s in case.fan_slots if s.of not in group for r in s.rooms]
    for b in (b for b in case.brackets if b.of not in group):
        way = case.part(b.part).put_on
        for room in b.rooms:
            back = tuple(-x * way.travel_mm for x in way.along) if way else (0.0, 0.0, 0.0)
            lo = tuple(min(x, x + y) for x, y in zip(room.lo, back, strict=True))
            hi = tuple(max(x, x + y) for x, y in zip(room.hi, back, strict=True))
            out.append(Box(lo, hi))  # type: ignore[arg-type]
    return out


def _pillars(design: Design, case: Case | None) -> list[Box]:
    """The beams in the upright corners of the room, and all that is outward of them: they go along with a wall that is moved out."""
    room, side = cavity(design), case.pillar_mm if case else 0.0
    if side <= 0:
        return []
    spans = [((room.lo[i] - FAR_MM, room.lo[i] + side), (room.hi[i] - side, room.hi[i] + FAR_MM)) for i in (0, 1)]
    return [Box((x0, y0, room.lo[2]), (x1, y1, room.hi[2])) for x0, x1 in spans[0] for y0, y1 in spans[1]]


def _bounds(
    design: Design, mine: list[tuple[Thing, PlacedSolid]], case: Case | None, me: Thing, axes: tuple[int, int]
) -> tuple[tuple[float, float], tuple[float, float]]:
    """How far the group may go each way: off the walls and their thickening, with its ports still in reach of their plugs."""
    inside = cavity(design)
    bulges = case.bulges if case else ()
    los, his = [], []
    for i in axes:
        low, high = _SIDES[i]
        lo, hi = -1e9, 1e9
        for t, s in mine:
            if s.role == "keepout" and s.name == "filling room":
                continue
            bare = t.face is not None or s.role not in HARD
            for face, sign in ((low, -1), (high, 1)):
                thicker = (b.inward_mm(s.box.lo[2], s.box.hi[2]) for b in bulges if face in b.faces)
                limit = 0.0 if bare else wall_limit(design, t, s, face) + max(thicker, default=0.0)
                if sign < 0:
                    lo = max(lo, inside.lo[i] + limit - s.box.lo[i])
                else:
                    hi = min(hi, inside.hi[i] - limit - s.box.hi[i])
        los.append(lo)
        his.append(hi)
    if me.face is not None and case is not None and 2 in axes:
        # its hole stays under the seam, with unbroken wall between
        k, web = axes.index(2), val("printing.feature.web_lines") * case.line_mm
        tops = [s.box.hi[2] for _, s in mine if s.role in HARD]
        for seam in (x for x in case.seams if x.axis == 2 and x.path):
            his[k] = min([his[k], *(seam.at_mm - seam.below_mm - web - 0.4 - top for top in tops)])
    open_ = wanted_ports(design)
    things = {t.id: t for t, _ in mine}
    for t in things.values():
        for p in t.ports:
            if p.ref not in open_ or normal_axis(p.face) not in axes or t.face is not None:
                continue
            k = axes.index(normal_axis(p.face))
            reach = _reach(p)
            outer = _outer(design, p.face)
            if OUTWARD[p.face][axes[k]] > 0:
                los[k] = max(los[k], outer - reach - p.centre[axes[k]])
            else:
                his[k] = min(his[k], outer + reach - p.centre[axes[k]])
    return (los[0], los[1]), (his[0], his[1])


def _reach(p: PlacedPort) -> float:
    """How far behind the outer surface a port may be so that its plug can still be pulled."""
    long = port_kinds()[p.port.kind].plug_length_mm - val("limits.grip.plug")
    far = val("limits.port_reach.far")
    return min(long, far) if long > 0 else far


def _outer(design: Design, face: Face) -> float:
    room, i = cavity(design), normal_axis(face)
    s = design.shell
    thick = {"top": s.lid_mm, "bottom": s.floor_mm}.get(face, s.wall_mm)
    thick -= s.recess_mm(face)
    return room.hi[i] + thick if OUTWARD[face][i] > 0 else room.lo[i] - thick
