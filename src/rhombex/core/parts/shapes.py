"""A lighter copy of a body's mesh, to be looked at while it turns."""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray

from rhombex.core.geometry.weld import corner_names

MOST_TRIANGLES = 20_000


def lighter(points: NDArray[np.float64], most: int = MOST_TRIANGLES) -> NDArray[np.float32]:
    """At most so many triangles (n, 3, 3): corners are drawn together on a grid that gets coarser until few enough are left."""
    if len(points) <= most:
        return points.astype(np.float32)
    size = float(np.ptp(points.reshape(-1, 3), axis=0).max())
    for cells in (256, 192, 128, 96, 64, 48, 32, 24, 16, 8):
        step = size / cells
        grid = np.round(points / step).astype(np.int64)
        same = (
            (grid[:, 0] == grid[:, 1]).all(axis=1)
            | (grid[:, 1] == grid[:, 2]).all(axis=1)
            | (grid[:, 2] == grid[:, 0]).all(axis=1)
        )
        kept = grid[~same]
        # a triangle of the same three corners is there once
        names = np.sort(corner_names(kept), axis=1)
        _, first = np.unique(names[:, 0] * 31 + names[:, 1] * 1_000_003 + names[:, 2] * 7_368_787, return_index=True)
        kept = kept[np.sort(first)]
        if len(kept) <= most:
            return np.asarray(kept * step, dtype=np.float32)
    return np.asarray(kept[:most] * step, dtype=np.float32)


def shape_bytes(points: NDArray[np.float32]) -> tuple[str, bytes]:
    """Digest and bytes of a mesh: little-endian 32-bit floats, nine a triangle."""
    data = np.ascontiguousarray(points, dtype="<f4").tobytes()
    return hashlib.sha256(data).hexdigest()[:32], data


def turned_shape(data: bytes, rotation: NDArray[np.float64]) -> tuple[str, bytes]:
    """Such bytes turned, their lowest point and front left corner at 0 again."""
    points = np.frombuffer(data, dtype="<f4").reshape(-1, 3, 3) @ rotation.T
    return shape_bytes((points - points.min(axis=(0, 1))).astype(np.float32))
