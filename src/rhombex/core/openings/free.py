"""The largest rectangle on a face that nothing takes."""

from __future__ import annotations

from collections.abc import Iterable
from math import ceil, floor

import numpy as np

Rect = tuple[float, float, float, float]
GRID_MM = 1.0


def largest_free(within: Rect, taken: Iterable[Rect]) -> Rect | None:
    """The rectangle of most area within another that meets none of those that are taken, to a grid of 1 mm from its lower left corner;
    none where no cell of the grid is free. A rectangle under a histogram of free cells, row by row."""
    u0, v0, u1, v1 = within
    wide, high = int((u1 - u0) / GRID_MM), int((v1 - v0) / GRID_MM)
    if wide < 1 or high < 1:
        return None
    free = np.ones((high, wide), dtype=bool)
    for a0, b0, a1, b1 in taken:
        lo = max(0, floor((a0 - u0) / GRID_MM)), max(0, floor((b0 - v0) / GRID_MM))
        hi = max(0, ceil((a1 - u0) / GRID_MM)), max(0, ceil((b1 - v0) / GRID_MM))
        free[lo[1] : hi[1], lo[0] : hi[0]] = False
    up = np.zeros(wide + 1, dtype=int)  # free cells above one another, down from this row; the last ends every run
    best, found = 0, None
    for row in range(high):
        up[:wide] = np.where(free[row], up[:wide] + 1, 0)
        runs: list[tuple[int, int]] = []  # (where it begins, how high it is), ever higher
        for col, tall in enumerate(up.tolist()):
            begin = col
            while runs and runs[-1][1] >= tall:
                begin, was = runs.pop()
                if was * (col - begin) > best:
                    best, found = was * (col - begin), (begin, row + 1 - was, col, row + 1)
            if tall:
                runs.append((begin, tall))
    if found is None:
        return None
    a, b, c, d = (x * GRID_MM for x in found)
    return (u0 + a, v0 + b, u0 + c, v0 + d)
