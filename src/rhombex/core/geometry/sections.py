"""Sections of a mesh at layer heights: areas and outlines of all layers at once, without polygons."""

from __future__ import annotations

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

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
    """As `layer_integrals`, of plain arrays."""
    level = np.searchsorted(z, verts[:, 2], side="left")[tri]
    crossing = level.max(axis=1) > level.min(axis=1)  # flat and thin triangles meet no layer
    tri, level = tri[crossing], level[crossing]
    order = np.argsort(verts[:, 2][tri], axis=1)
    # sorting three corners by height keeps the way round in the cyclic orders 012, 120, 201
    parity = np.where((order[:, 1] - order[:, 0]) % 3 == 1, 1.0, -1.0)
    p = verts[np.take_along_axis(tri, order, axis=1)]
    lo, mid, hi = np.take_along_axis(level, order, axis=1).T
    n = len(z)
    sums = np.zeros((5, n + 1))
    for start, end, k in ((lo, mid, 0), (mid, hi, 1)):
        hit = end > start
        if not hit.any():
            continue
        a, b, c = p[hit, 0], p[hit, 1], p[hit, 2]
        # one end runs on the long edge a-c, the other on a-b below the middle vertex or b-c above it
        long0, long1 = _line(a, c)
        short0, short1 = _line(a, b) if k == 0 else _line(b, c)
        sign = parity[hit]
        d1 = short1 - long1
        # both ends meet at the pointed end, so the length is |d1| times the height above (below) it
        apex = a[:, 2] if k == 0 else c[:, 2]
        slope = np.hypot(d1[:, 0], d1[:, 1]) * (1.0 if k == 0 else -1.0)
        rows = (
            sign * _cross(long0, short0) / 2,
            sign * (_cross(long0, short1) + _cross(long1, short0)) / 2,
            sign * _cross(long1, short1) / 2,
            -slope * apex,
            slope,
        )
        for i, row in enumerate(rows):
            sums[i] += np.bincount(start[hit], row, n + 1) - np.bincount(end[hit], row, n + 1)
    c0, c1, c2, l0, l1 = np.cumsum(sums, axis=1)[:, :n]
    return np.abs(c0 + c1 * z + c2 * z * z), np.maximum(l0 + l1 * z, 0.0)


def _line(a: Array, b: Array) -> tuple[Array, Array]:
    """An edge's xy as p0 + p1 z."""
    slope = (b[:, :2] - a[:, :2]) / np.maximum(b[:, 2] - a[:, 2], 1e-12)[:, None]
    return a[:, :2] - slope * a[:, 2:], slope


def _cross(a: Array, b: Array) -> Array:
    out: Array = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    return out
