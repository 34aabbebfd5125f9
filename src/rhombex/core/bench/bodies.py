"""Placed solids as bodies of the mesh kernel, and what of them stands in a printed part."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from itertools import count

import numpy as np
from manifold3d import Manifold, OpType

from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.geometry.meets import clear_of, overlap_mm3
from rhombex.core.geometry.recipe import Solid, segments
from rhombex.core.memo import Memo
from rhombex.core.reference import val
from rhombex.core.space import Box, Vec3

_ROUND_TOL_MM = 0.05

_bodies: Memo[PlacedSolid, Manifold] = Memo(1500)
_sweeps: Memo[tuple[PlacedSolid, Vec3], Manifold] = Memo(1500)
_wholes: Memo[tuple[tuple[PlacedSolid, ...], tuple[Vec3, ...]], Manifold] = Memo(400)
_shapes: Memo[tuple[tuple[PlacedSolid, ...], tuple[Vec3, ...]], Manifold] = Memo(
    400
)  # of wholes, as seen from their own origin
_numbers = count(1)
# bodies by number: as a key of all that is remembered of them they would be hashed thousands of times
_named: Memo[tuple[tuple[PlacedSolid, ...], tuple[Vec3, ...]], int] = Memo(1000)
_ringed: Memo[tuple[PlacedSolid, tuple[Vec3, ...]], Manifold] = Memo(400)


def body_of(s: PlacedSolid) -> Manifold:
    """The body of a box, a round or a convex solid, in the case's frame."""
    return _bodies.make(s, partial(_made, s))


def _made(s: PlacedSolid) -> Manifold:
    if s.corners:
        return Manifold.hull_points(np.array(s.corners))
    if s.round_axis is None:
        return Manifold.cube(s.box.size).translate(s.box.lo)
    i = s.round_axis
    j, k = (i + 1) % 3, (i + 2) % 3
    r, h = s.box.size[j] / 2, s.box.size[i]
    turn = np.zeros((3, 4))
    turn[j, 0] = turn[k, 1] = turn[i, 2] = 1.0
    turn[:, 3] = s.box.centre
    turn[i, 3] = s.box.lo[i]
    return Manifold.cylinder(h, r, r, segments(max(r, 0.1), _ROUND_TOL_MM)).transform(turn)


def swept(s: PlacedSolid, way: Vec3) -> Manifold:
    """All the room that a solid passes on a straight way: it is convex, and so is what it passes."""
    return _sweeps.make((s, way), lambda: Manifold.batch_hull([body_of(s), body_of(s).translate(way)]))


def body_in(t: Thing, s: PlacedSolid) -> Manifold:
    """The body of a solid of a component; solder joints leave the ring round its mounting holes free, for what it stands on."""
    return _with_rings(s, tuple(m.at for m in t.mounts))


def _with_rings(s: PlacedSolid, at: tuple[Vec3, ...]) -> Manifold:
    if s.role != "pins" or not at:
        return body_of(s)
    return _ringed.make((s, at), lambda: body_of(s) - Manifold.batch_boolean(_rings(s, at), OpType.Add))


def _rings(s: PlacedSolid, at: tuple[Vec3, ...]) -> list[Manifold]:
    r, high = val("limits.gap.hole_free") / 2, s.box.size[2] + 2.0
    return [Manifold.cylinder(high, r, r, 32).translate((x, y, s.box.lo[2] - 1.0)) for x, y, _ in at]


def all_of(t: Thing) -> Manifold:
    """The hard solids of a thing as one body. It is put together once, wherever the thing is moved to."""
    solids, at = tuple(hard(t)), tuple(m.at for m in t.mounts)
    origin = t.frame.origin

    def in_place() -> Manifold:
        seen = tuple(_seen_from(origin, s) for s in solids)
        holes = tuple(_less(p, origin) for p in at)
        return _shapes.make((seen, holes), lambda: _together(seen, holes)).translate(origin)

    return _wholes.make((solids, at), in_place)


def _together(solids: tuple[PlacedSolid, ...], at: tuple[Vec3, ...]) -> Manifold:
    return Manifold.batch_boolean([_with_rings(s, at) for s in solids], OpType.Add)


def _seen_from(origin: Vec3, s: PlacedSolid) -> PlacedSolid:
    box = Box(_less(s.box.lo, origin), _less(s.box.hi, origin))
    return replace(s, box=box, corners=tuple(_less(p, origin) for p in s.corners))


def _less(p: Vec3, q: Vec3) -> Vec3:
    return (round(p[0] - q[0], 6), round(p[1] - q[1], 6), round(p[2] - q[2], 6))


def standing_in(part: Solid, thing: Thing) -> tuple[tuple[PlacedSolid, float], ...]:
    """The hard solids of a thing that stand in a part, each with how much of it does, mm3."""
    solids = tuple(hard(thing))
    at = tuple(m.at for m in thing.mounts)
    if clear_of(part, all_of(thing), _named.make((solids, at), lambda: next(_numbers))):
        return ()
    shares = ((s, overlap_mm3(part, body_in(thing, s), (s, at))) for s in solids)
    return tuple((s, v) for s, v in shares if v > 0)
