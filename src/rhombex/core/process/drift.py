"""How far the outline of a section can have moved from one layer to another, by the slopes of the faces between them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rhombex.core.compiled import njit

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
UPRIGHT = 1e-9  # of a face's lean
SHARP = -0.4  # cosine between the faces of a notch: from some 115 degrees on a mitred corner outruns twice its sides


class Drift:
    """Of a closed mesh cut at heights: bounds on how far outlines wander, square to themselves; mitred at corners. Nothing bounds what begins or ends
    in between (a flat face, the lowest or highest corner or ridge of something) or the tip of a sharp notch.

    beside: the triangle beyond each side of each triangle, (3 n,). normal: of triangles, of any length. z: heights, rising."""

    def __init__(self, verts: Array, tri: Ints, beside: Ints, normal: Array, z: Array) -> None:
        steps = _steps(verts, tri, beside, normal, z) if len(z) > 1 else np.zeros(0)
        free = ~np.isfinite(steps)
        self._moved = np.concatenate([[0.0], np.cumsum(np.where(free, 0.0, steps))])
        self._new = np.concatenate([[0], np.cumsum(free)])

    def most_mm(self, a: int, b: int) -> float:
        """The farthest that any stretch of the outline moves between layers a and b; infinite where nothing bounds it."""
        lo, hi = min(a, b), max(a, b)
        return float("inf") if self._new[hi] > self._new[lo] else float(self._moved[hi] - self._moved[lo])


@njit
def _steps(verts: Array, tri: Ints, beside: Ints, normal: Array, z: Array) -> Array:
    """For each gap between two heights the most that a face in it moves its edge of the section."""
    out = np.zeros(len(z) - 1)
    below, above = np.zeros(len(verts), np.bool_), np.zeros(len(verts), np.bool_)
    rate = np.empty(len(tri))
    for t in range(len(tri)):
        lo, hi = np.inf, -np.inf
        for k in range(3):
            a, b = tri[t, k], tri[t, (k + 1) % 3]
            if verts[a, 2] < verts[b, 2]:
                above[a], below[b] = True, True
            elif verts[b, 2] < verts[a, 2]:
                above[b], below[a] = True, True
            lo, hi = min(lo, verts[a, 2]), max(hi, verts[a, 2])
        across = np.sqrt(normal[t, 0] ** 2 + normal[t, 1] ** 2)
        rate[t] = np.inf if across <= UPRIGHT * abs(normal[t, 2]) else abs(normal[t, 2]) / across
        if rate[t] > UPRIGHT:
            for k in range(*_gaps(z, lo, hi)):
                out[k] = max(out[k], rate[t] * (z[k + 1] - z[k]))  # all of it: several faces may follow in one gap
    for v in range(len(verts)):
        if not (below[v] and above[v]):
            for k in range(*_gaps(z, verts[v, 2], verts[v, 2])):
                out[k] = np.inf
    for t in range(len(tri)):
        for k in range(3):
            u = beside[3 * t + k]
            if u > t and _unbounded(verts, tri, normal, rate, t, k, u):
                a, b = verts[tri[t, k], 2], verts[tri[t, (k + 1) % 3], 2]
                for g in range(*_gaps(z, min(a, b), max(a, b))):
                    out[g] = np.inf
    return out


@njit
def _gaps(z: Array, lo: float, hi: float) -> tuple[int, int]:
    """The gaps between heights that a stretch touches: first, and one after the last."""
    return max(int(np.searchsorted(z, lo)) - 1, 0), min(int(np.searchsorted(z, hi, side="right")), len(z) - 1)


@njit
def _unbounded(verts: Array, tri: Ints, normal: Array, rate: Array, t: int, k: int, u: int) -> bool:
    """Whether the edge between two triangles is a ridge that lies level, or the bottom of a sharp notch whose sides lean."""
    a, b = tri[t, k], tri[t, (k + 1) % 3]
    mine = verts[tri[t, (k + 2) % 3]]
    theirs = verts[a]
    for m in range(3):
        if tri[u, m] != a and tri[u, m] != b:
            theirs = verts[tri[u, m]]
    if verts[a, 2] == verts[b, 2]:
        return bool((mine[2] - verts[a, 2]) * (theirs[2] - verts[a, 2]) > 0)
    if max(rate[t], rate[u]) <= UPRIGHT:
        return False
    n, m = normal[t], normal[u]
    size = np.sqrt((n[0] ** 2 + n[1] ** 2) * (m[0] ** 2 + m[1] ** 2))
    if size <= 0 or n[0] * m[0] + n[1] * m[1] > SHARP * size:
        return False
    out = n[0] * (theirs[0] - verts[a, 0]) + n[1] * (theirs[1] - verts[a, 1]) + n[2] * (theirs[2] - verts[a, 2])
    return bool(out > 0)
