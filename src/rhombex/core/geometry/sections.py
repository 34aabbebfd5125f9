"""Sections of a mesh at layer heights: areas and outlines of all layers at once, without polygons."""

from __future__ import annotations

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.geometry.mesh_kernel import triangles

Array = NDArray[np.float64]


def layer_heights(height_mm: float, layer_mm: float) -> Array:
    """Mid heights of the printed layers: a whole number of them."""
    n = max(1, round(height_mm / layer_mm))
    out: Array = (np.arange(n, dtype=np.float64) + 0.5) * layer_mm
    return out


def layer_integrals(m: Manifold, z: Array) -> tuple[Array, Array]:
    """Section area (mm2) and outline length (mm) at every height, from the triangles, without polygons.

    Between two of its vertices' heights, a triangle is cut along a segment whose ends are linear in z: its length is
    linear, and its share of the area (half the cross product of the ends) a parabola. The coefficients are added where
    the stretch begins and taken off where it ends; a running sum over the layers gives all sections at once.
    """
    return integrals_of(*triangles(m), z)


def integrals_of(verts: Array, tri: NDArray[np.int64], z: Array) -> tuple[Array, Array]:
    """As `layer_integrals`, of plain arrays; `z` rises."""
    n = len(z)
    sums = np.zeros((5, n + 1))
    _coefficients(np.ascontiguousarray(verts), tri, np.searchsorted(z, verts[:, 2], side="left"), sums)
    c0, c1, c2, l0, l1 = np.cumsum(sums, axis=1)[:, :n]
    return np.abs(c0 + c1 * z + c2 * z * z), np.maximum(l0 + l1 * z, 0.0)


@njit
def _coefficients(verts: Array, tri: NDArray[np.int64], level: NDArray[np.int64], sums: Array) -> None:
    """Adds every triangle's coefficients to `sums` (5, n + 1): three of the area's parabola, two of the length's line. `level`: the layer
    at or over each vertex."""
    for t in range(len(tri)):
        i, j, k = tri[t, 0], tri[t, 1], tri[t, 2]
        if level[i] == level[j] and level[j] == level[k]:  # flat and thin triangles meet no layer
            continue
        way = 1.0  # sorting three corners by height keeps the way round, or turns it with each exchange
        if verts[j, 2] < verts[i, 2]:
            i, j, way = j, i, -way
        if verts[k, 2] < verts[j, 2]:
            j, k, way = k, j, -way
            if verts[j, 2] < verts[i, 2]:
                i, j, way = j, i, -way
        # one end runs on the long edge i-k, the other on i-j below the middle vertex or j-k above it
        lx, ly, lxz, lyz = _line(verts, i, k)
        for above in range(2):
            low, high = (j, k) if above else (i, j)
            start, end = level[low], level[high]
            if end <= start:
                continue
            sx, sy, sxz, syz = _line(verts, low, high)
            # both ends meet at the pointed end, so the length is the slope's times the height above (below) it
            slope = np.hypot(sxz - lxz, syz - lyz)
            apex = verts[i, 2]
            if above:
                slope, apex = -slope, verts[k, 2]
            c0 = way * (lx * sy - ly * sx) / 2
            c1 = way * (lx * syz - ly * sxz + lxz * sy - lyz * sx) / 2
            c2 = way * (lxz * syz - lyz * sxz) / 2
            for row, value in enumerate((c0, c1, c2, -slope * apex, slope)):
                sums[row, start] += value
                sums[row, end] -= value


@njit
def _line(verts: Array, a: int, b: int) -> tuple[float, float, float, float]:
    """An edge's x and y where z is 0, and how they change with z."""
    rise = max(verts[b, 2] - verts[a, 2], 1e-12)
    dx, dy = (verts[b, 0] - verts[a, 0]) / rise, (verts[b, 1] - verts[a, 1]) / rise
    return verts[a, 0] - dx * verts[a, 2], verts[a, 1] - dy * verts[a, 2], dx, dy
