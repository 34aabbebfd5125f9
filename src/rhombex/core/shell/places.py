"""Free places for screws along an edge: the wanted one, or the nearest that nothing takes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rhombex.core.space import Vec2

Rect = tuple[float, float, float, float]  # u0, v0, u1, v1


def slots(lo: float, hi: float, want: float, step: float) -> list[float]:
    """Places from lo to hi, the wanted one first, then alternately farther."""
    far = np.arange(1, int(max(hi - want, want - lo, 0.0) / step) + 2) * step
    out = np.stack([want + far, want - far], axis=1).ravel()
    return [want, *out[(lo <= out) & (out <= hi)].tolist()]


def first_free(
    options: list[Vec2] | NDArray[np.float64],
    blocked: list[Rect] | NDArray[np.float64],
    r: float,
    taken: list[Vec2],
    apart: float,
) -> Vec2 | None:
    """The first of some places round which a circle of radius r meets no rectangle, and that is farther than `apart` from those taken."""
    p, rects = np.array(options, float).reshape(-1, 2), np.array(blocked, float).reshape(-1, 4)
    dx = np.maximum(np.maximum(rects[:, 0] - p[:, :1], p[:, :1] - rects[:, 2]), 0)
    dy = np.maximum(np.maximum(rects[:, 1] - p[:, 1:], p[:, 1:] - rects[:, 3]), 0)
    free = (dx**2 + dy**2 >= r * r).all(axis=1)
    for q in taken:
        free &= np.hypot(p[:, 0] - q[0], p[:, 1] - q[1]) > apart
    hits = np.flatnonzero(free)
    return (float(p[hits[0], 0]), float(p[hits[0], 1])) if len(hits) else None
