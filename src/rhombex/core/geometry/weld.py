"""Loose triangles put together: corners that lie in one place become one."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

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
    tri = index.reshape(-1, 3).astype(np.int64)
    whole = (tri[:, 0] != tri[:, 1]) & (tri[:, 1] != tri[:, 2]) & (tri[:, 2] != tri[:, 0])
    return flat[first], tri[whole]
