"""How far two placed solids are apart: boxes, cylinders on one axis, convex bodies."""

from __future__ import annotations

from functools import partial
from itertools import product

import numpy as np
from manifold3d import Manifold

from rhombex.core.bench.arrange import PlacedSolid
from rhombex.core.geometry.mesh_kernel import triangles
from rhombex.core.memo import Memo
from rhombex.core.space import Box, Vec3

FAR_MM = 25.0  # boxes further apart than this are not looked at closer: no gap is wanted so large

Corners = tuple[Vec3, ...]


def apart(a: PlacedSolid, b: PlacedSolid) -> float:
    """Least distance between two solids, mm; where they overlap, minus a way out. Round ones on parallel axes are taken as
    round, convex bodies by their corners."""
    d = a.box.distance(b.box)
    if a.corners or b.corners:
        return max(d, _known(_corners(a), _corners(b))) if d < FAR_MM else d
    if d < 0 and a.round_axis is not None and a.round_axis == b.round_axis:
        i, j = (k for k in range(3) if k != a.round_axis)
        ra, rb = a.box.size[i] / 2, b.box.size[i] / 2
        ca, cb = a.box.centre, b.box.centre
        d = max(d, ((ca[i] - cb[i]) ** 2 + (ca[j] - cb[j]) ** 2) ** 0.5 - ra - rb)
    return d


def apart_from_box(a: PlacedSolid, box: Box) -> float:
    """As `apart`, from a plain box."""
    d = a.box.distance(box)
    return max(d, _known(a.corners, _box_corners(box))) if a.corners and d < FAR_MM else d


def _corners(s: PlacedSolid) -> Corners:
    if s.corners:
        return s.corners
    if s.round_axis is None:
        return _box_corners(s.box)
    i, j = (k for k in range(3) if k != s.round_axis)
    out = []
    for turn in np.arange(24) * np.pi / 12:
        # a polygon round the circle, so that nothing of it is missed
        r = s.box.size[i] / 2 / np.cos(np.pi / 24)
        for end in (s.box.lo[s.round_axis], s.box.hi[s.round_axis]):
            p = [0.0, 0.0, 0.0]
            p[s.round_axis] = end
            p[i], p[j] = s.box.centre[i] + r * float(np.cos(turn)), s.box.centre[j] + r * float(np.sin(turn))
            out.append((p[0], p[1], p[2]))
    return tuple(out)


def _box_corners(box: Box) -> Corners:
    return tuple((x, y, z) for x, y, z in product(*zip(box.lo, box.hi, strict=True)))


_hulls: Memo[Corners, tuple[Manifold, np.ndarray, np.ndarray]] = Memo(1000)
_apart: Memo[tuple[Corners, Corners], float] = Memo(1000)


def _hull(corners: Corners) -> tuple[Manifold, np.ndarray, np.ndarray]:
    """The body, its corners (k, 3), and the outward normals of its sides (f, 3)."""
    p = np.array(corners)
    body = Manifold.hull_points(p)
    v, tri = triangles(body)
    normals = np.cross(v[tri[:, 1]] - v[tri[:, 0]], v[tri[:, 2]] - v[tri[:, 0]])
    normals /= np.maximum(np.linalg.norm(normals, axis=1), 1e-12)[:, None]
    return body, p, np.unique(np.round(normals, 6), axis=0)


def _known(a: Corners, b: Corners) -> float:
    return _apart.make((a, b), lambda: _bodies(a, b))


def _bodies(a: Corners, b: Corners) -> float:
    """Distance of two convex bodies; where they overlap, minus the shortest way out along a side's normal."""
    (ma, pa, na), (mb, pb, nb) = (_hulls.make(x, partial(_hull, x)) for x in (a, b))
    sides = np.concatenate([na, -nb])  # pointing from a to b
    gap = float(ma.min_gap(mb, FAR_MM * 2))
    if gap > 0:
        return gap
    # no way out along a side's normal does not mean that they meet: two edges may pass each other crosswise
    return min(0.0, float(((pb @ sides.T).min(axis=0) - (pa @ sides.T).max(axis=0)).max()))
