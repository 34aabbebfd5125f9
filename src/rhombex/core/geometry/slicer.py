"""Many sections of one mesh: who lies beside whom is found once, then a section walks from triangle to triangle."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection
from numba import njit
from numpy.typing import NDArray

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

FLAT_MM = 0.0125  # corners of a section that stand out less are dropped, as finely as paths are usually handed to a printer; common practice


class Slicer:
    """Cuts a closed mesh at heights. Raises ValueError where an edge is not shared by two triangles."""

    def __init__(self, verts: Array, tri: Ints) -> None:
        self.verts, self.tri = np.ascontiguousarray(verts), np.ascontiguousarray(tri)
        a, b = self.tri, np.roll(self.tri, -1, axis=1)
        span = int(self.tri.max()) + 1 if len(tri) else 1
        forward, backward = (a * span + b).reshape(-1), (b * span + a).reshape(-1)
        mine, theirs = np.argsort(forward), np.argsort(backward)
        if not np.array_equal(forward[mine], backward[theirs]):
            raise ValueError("the mesh is not closed")
        self.beside = np.empty_like(mine)
        self.beside[theirs] = mine // 3

    def at(self, z: float) -> CrossSection:
        """The section at a height, which no vertex should have, with nearly straight corners dropped."""
        points, counts = _loops(self.verts, self.tri, self.beside, z)
        if not len(counts):
            return CrossSection()
        return CrossSection(np.split(points, np.cumsum(counts)[:-1])).simplify(FLAT_MM)


@njit(cache=True)
def _loops(verts: Array, tri: Ints, beside: Ints, z: float) -> tuple[Array, Ints]:
    """Points of the loops one after another and how many each has, material on the left."""
    todo = np.zeros(len(tri), np.bool_)
    cuts = 0
    for t in range(len(tri)):
        over = 0
        for k in range(3):
            if verts[tri[t, k], 2] > z:
                over += 1
        if 0 < over < 3:
            todo[t] = True
            cuts += 1
    points = np.empty((cuts, 2))
    counts = np.empty(cuts, np.int64)
    n, loops = 0, 0
    for first in range(len(tri)):
        if not todo[first]:
            continue
        t, begin = first, n
        while todo[t]:
            todo[t] = False
            for k in range(3):
                a, b = tri[t, k], tri[t, (k + 1) % 3]
                if verts[b, 2] > z >= verts[a, 2]:  # the edge that leads up: the loop leaves over it
                    w = (z - verts[a, 2]) / (verts[b, 2] - verts[a, 2])
                    points[n, 0] = verts[a, 0] + w * (verts[b, 0] - verts[a, 0])
                    points[n, 1] = verts[a, 1] + w * (verts[b, 1] - verts[a, 1])
                    n += 1
                    t = beside[3 * t + k]
                    break
        counts[loops] = n - begin
        loops += 1
    return points[:n], counts[:loops]
