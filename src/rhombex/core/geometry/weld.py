"""Triangles put together: corners that lie in one place become one, also in the 32-bit floats of files."""

from __future__ import annotations

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from rhombex.core.geometry.mesh_kernel import closed, triangles

WELD_MM = 1e-4


def corner_names(grid: NDArray[np.int64]) -> NDArray[np.int64]:
    """A number for each corner (..., 3) of whole numbers, the same for the same corner; sorting numbers is quick.

    A sum of large odd multiples: among corners of a part's size no two meet but by a very rare chance.
    """
    x, y, z = (grid[..., k].astype(np.uint64) for k in range(3))
    names: NDArray[np.uint64] = (
        x * np.uint64(0x9E3779B97F4A7C15) + y * np.uint64(0xC2B2AE3D27D4EB4F) + z * np.uint64(0x165667B19E3779F9)
    )
    return names.astype(np.int64)


def weld(points: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Vertices (m, 3) and triangles (k, 3) of corners (n, 3, 3); triangles that shrink to a line are dropped."""
    flat = points.reshape(-1, 3)
    names = corner_names(np.round(flat / WELD_MM).astype(np.int64))
    _, first, index = np.unique(names, return_index=True, return_inverse=True)
    return flat[first], _with_area(index.reshape(-1, 3).astype(np.int64))


def _with_area(tri: NDArray[np.int64]) -> NDArray[np.int64]:
    """Less the triangles two of whose corners are one."""
    whole: NDArray[np.bool_] = (tri[:, 0] != tri[:, 1]) & (tri[:, 1] != tri[:, 2]) & (tri[:, 2] != tri[:, 0])
    return np.asarray(tri[whole])


def _without_skins(tri: NDArray[np.int64]) -> NDArray[np.int64]:
    """Less pairs of triangles that lie on one another the two ways round: nothing is between them."""
    a, b, c = np.sort(tri, axis=1).T
    span = int(tri.max(initial=0)) + 1
    if span > 1 << 20:
        return tri  # more corners than fit one whole number together
    _, which, count = np.unique((a * span + b) * span + c, return_inverse=True, return_counts=True)
    twice = count[which] == 2
    return tri[~twice] if twice.any() else tri


def single_precision(m: Manifold) -> tuple[NDArray[np.float32], NDArray[np.int64]]:
    """The mesh in the 32-bit floats that files carry: points that fall together are welded, triangles without area go."""
    verts, tri = triangles(m)
    rounded = verts.astype(np.float32) + np.float32(0)  # no zero has a sign
    _, at, weld = np.unique(corner_names(rounded.view(np.int32)), return_index=True, return_inverse=True)
    order = np.lexsort(rounded[at].T[::-1])  # the file's order is that of the places
    place = np.empty_like(order)
    place[order] = np.arange(len(order))
    single = rounded[at[order]]
    w = _without_skins(_with_area(place[weld][tri]))
    # The kernel's order of triangles depends on what it made before; the file's must not.
    first = np.argmin(w, axis=1)
    w = np.take_along_axis(w, (first[:, None] + np.arange(3)) % 3, axis=1)
    return single, w[np.lexsort(w.T[::-1])]


def closed_in_file(m: Manifold) -> bool:
    """Whether the mesh still closes once it is written in 32-bit floats."""
    verts, tri = triangles(m)
    single = verts.astype(np.float32) + np.float32(0)  # no zero has a sign
    _, weld = np.unique(corner_names(single.view(np.int32)), return_inverse=True)  # as `single_precision`, unsorted
    w = _with_area(weld.astype(np.int64)[tri])
    return closed(w) or closed(_without_skins(w))  # skins that hang on others run their edges too often
