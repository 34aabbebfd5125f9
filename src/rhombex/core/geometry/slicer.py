"""Many sections of one mesh: who lies beside whom is found once, then a section walks from triangle to triangle."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection
from numpy.typing import NDArray

from rhombex.core.compiled import njit

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

STRAIGHT_MM = 1e-9  # a point that stands out no more lies on a straight wall
FLAT_MM = 0.0125  # corners of a section that stand out less are dropped, as finely as paths are usually handed to a printer; common practice


class Slicer:
    """Cuts a closed mesh at heights. Raises ValueError where an edge is not shared by two triangles."""

    def __init__(self, verts: Array, tri: Ints) -> None:
        self.verts, self.tri = np.ascontiguousarray(verts), np.ascontiguousarray(tri)
        self.beside = _beside(self.tri, int(self.tri.max()) + 1 if len(tri) else 0)
        if (self.beside < 0).any():
            raise ValueError("the mesh is not closed")

    def at(self, z: float) -> CrossSection:
        """The section at a height, which no vertex should have, with nearly straight corners dropped."""
        points, counts = _bent(*_loops(self.verts, self.tri, self.beside, z), STRAIGHT_MM)
        if not len(counts):
            return CrossSection()
        return CrossSection(np.split(points, np.cumsum(counts)[:-1])).simplify(FLAT_MM)

    def corners(self, z: float) -> int:
        """About how many corners the section at a height has, without making it."""
        return len(_bent(*_loops(self.verts, self.tri, self.beside, z), FLAT_MM)[0])


@njit
def _beside(tri: Ints, n: int) -> Ints:
    """For each triangle's edges in turn the triangle that runs it the other way, of n corners; -1 where there is none, or an edge is run twice the same
    way. Edges wait in a list by their lower corner for the one that runs back."""
    out = np.full(3 * len(tri), -1, np.int64)
    last = np.full(n, -1, np.int64)
    before = np.empty(3 * len(tri), np.int64)
    for e in range(3 * len(tri)):
        p, q = tri[e // 3, e % 3], tri[e // 3, (e + 1) % 3]
        low = min(p, q)
        f = last[low]
        while f >= 0 and not (tri[f // 3, f % 3] == q and tri[f // 3, (f + 1) % 3] == p and out[f] < 0):
            f = before[f]
        if f < 0:
            before[e] = last[low]
            last[low] = e
        else:
            out[e], out[f] = f // 3, e // 3
    return out


@njit
def _bent(points: Array, counts: Ints, flat_mm: float) -> tuple[Array, Ints]:
    """Loops with those of their points alone that stand out from the way between the last one and the next: a wall of two triangles is cut in three points."""
    out, left = np.empty_like(points), np.empty_like(counts)
    done, first, loops = 0, 0, 0
    for n in counts:
        begin = done
        ax, ay = points[first + n - 1]
        for k in range(n):
            px, py = points[first + k]
            bx, by = points[first + (k + 1) % n]
            dx, dy = bx - ax, by - ay
            way = np.sqrt(dx * dx + dy * dy)
            if way < 1e-9 or abs(dx * (py - ay) - dy * (px - ax)) > flat_mm * way:
                out[done, 0], out[done, 1] = px, py
                done += 1
                ax, ay = px, py
        first += n
        if done - begin > 2:
            left[loops] = done - begin
            loops += 1
        else:
            done = begin
    return out[:done], left[:loops]


@njit
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
