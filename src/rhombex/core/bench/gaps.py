"""Gaps: how far things are from their neighbours and from the walls."""

from __future__ import annotations

from typing import Literal

from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.design import Design
from rhombex.core.reference import val
from rhombex.core.space import OUTWARD, Box, Face, Vec3, normal_axis
from rhombex.core.trail import Frozen

HARD = ("board", "body", "connector", "pins")


class Gap(Frozen):
    """A gap along one axis between a thing and its nearest neighbour or wall on that side.

    `start` and `end` are the ends of the dimension line in the case's frame; `limit_mm` is the least it should be; `sure_mm`: how
    sure the gap is, from how sure the sizes on both sides are (root of the sum of squares).
    """

    of: str
    to: str
    side: Face
    gap_mm: float
    limit_mm: float
    sure_mm: float
    start: Vec3
    end: Vec3


def cavity(design: Design) -> Box:
    """The room inside the walls, in the case's frame."""
    s = design.shell
    lo = (s.wall_mm, s.wall_mm, s.floor_mm)
    return Box(lo, tuple(a + b for a, b in zip(lo, s.inner_mm, strict=True)))  # type: ignore[arg-type]


def hard(thing: Thing) -> list[PlacedSolid]:
    return [s for s in thing.solids if s.role in HARD]


def beyond(box: Box, room: Box, face: Face) -> float:
    """How far a box reaches past a wall's inside, mm; negative before it."""
    i = normal_axis(face)
    return box.hi[i] - room.hi[i] if OUTWARD[face][i] > 0 else room.lo[i] - box.lo[i]


def wall_limit(design: Design, thing: Thing, solid: PlacedSolid, face: Face) -> float:
    """Least gap to a wall: more under the lid, less for a connector behind its own opening."""
    if solid.role == "connector" and any(
        p.face == face and _same(p.centre, solid.box) and p.ref in wanted_ports(design) for p in thing.ports
    ):
        return val("limits.gap.port_wall")
    if face == "top":
        return val("limits.gap.lid")
    return val("limits.gap.underside") if face == "bottom" else val("limits.gap.wall")


def _same(p: Vec3, box: Box) -> bool:
    return all(lo - 0.5 <= x <= hi + 0.5 for x, lo, hi in zip(p, box.lo, box.hi, strict=True))


_SIDES: tuple[tuple[Face, int, Literal[-1, 1]], ...] = (
    ("left", 0, -1),
    ("right", 0, 1),
    ("front", 1, -1),
    ("back", 1, 1),
    ("bottom", 2, -1),
    ("top", 2, 1),
)


def gaps_of(design: Design, things: tuple[Thing, ...], id: str) -> tuple[Gap, ...]:
    """The nearest neighbour or wall on each of the six sides of a thing, along straight lines; of several as near the one whose size is doubted most."""
    me = next((t for t in things if t.id == id), None)
    if me is None:
        return ()
    room = cavity(design)
    near = val("limits.gap.between")
    found: list[Gap] = []
    own = hard(me)
    others = [(t.id, o) for t in things if t.id not in (id, me.placement.on) and t.placement.on != id for o in hard(t)]
    for side, axis, sign in _SIDES:
        best: tuple[float, float, str, float, float, PlacedSolid, Box] | None = None  # least gap, and greatest doubt
        i, j = (k for k in range(3) if k != axis)
        for s in own:
            edge = s.box.hi[axis] if sign > 0 else s.box.lo[axis]
            targets: list[tuple[str, float, float, Box, float]] = []
            if me.face != side:
                wall = room.hi[axis] if sign > 0 else room.lo[axis]
                targets.append((side, wall, wall_limit(design, me, s, side), room, 0.0))
            lo, hi, middle = s.box.lo, s.box.hi, s.box.centre[axis]
            for name, o in others:
                (u, v), b = o.box, o.box.centre[axis]
                if lo[i] < v[i] and hi[i] > u[i] and lo[j] < v[j] and hi[j] > u[j] and (b - middle) * sign > 0:
                    targets.append((name, u[axis] if sign > 0 else v[axis], near, o.box, o.sure_mm))
            for name, at, limit, box, sure in targets:
                gap, doubt = round((at - edge) * sign, 3), round((s.sure_mm**2 + sure**2) ** 0.5, 3)
                if best is None or (gap, -doubt) < best[:2]:
                    best = gap, -doubt, name, limit, at, s, box
        if best is not None:
            gap, sure, name, limit, at, s, box = best
            start = [(max(s.box.lo[k], box.lo[k]) + min(s.box.hi[k], box.hi[k])) / 2 for k in range(3)]
            end = list(start)
            start[axis], end[axis] = s.box.hi[axis] if sign > 0 else s.box.lo[axis], at
            found.append(
                Gap(
                    of=id,
                    to=name,
                    side=side,
                    gap_mm=gap,
                    limit_mm=limit,
                    sure_mm=-sure,
                    start=(start[0], start[1], start[2]),
                    end=(end[0], end[1], end[2]),
                )
            )
    return tuple(found)
