"""Sections of many islands that come again: a field of pins is inset once and put in all its places."""

from __future__ import annotations

from itertools import accumulate

import numpy as np
from manifold3d import CrossSection, JoinType
from numpy.typing import NDArray

from rhombex.core.compiled import njit

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

MITER = 2.0
MANY = 16  # fewer islands are inset as they are
ALIKE_MM = 1e-3


def flat_loops(region: CrossSection) -> tuple[Array, Ints]:
    """All loops of a region one after another, and where each begins (m + 1,)."""
    polys: list[Array] = region.to_polygons()
    if not polys:
        return np.zeros((0, 2)), np.zeros(1, np.int64)
    start = np.array([0, *accumulate(map(len, polys))], np.int64)
    return np.concatenate(polys) if len(polys) > 1 else polys[0], start


def outline_mm(region: CrossSection) -> float:
    """How long all loops of a region are, mm."""
    return float(_around(*flat_loops(region)))


@njit
def _around(points: Array, start: Ints) -> float:
    """How long all loops are, mm."""
    total = 0.0
    for m in range(len(start) - 1):
        for i in range(start[m], start[m + 1]):
            j = i + 1 if i + 1 < start[m + 1] else start[m]
            total += np.sqrt((points[j, 0] - points[i, 0]) ** 2 + (points[j, 1] - points[i, 1]) ** 2)
    return total


class Islands:
    """The islands of a section: each shape once, and by how much its copies are moved from it, (copies, 2)."""

    def __init__(self, region: CrossSection) -> None:
        self.region = region
        self.shapes: list[tuple[CrossSection, Array]] = [(region, np.zeros((1, 2)))]
        if region.num_contour() < MANY:
            return
        pieces = region.decompose()
        if len(pieces) < MANY:
            return
        found: dict[bytes, list[int]] = {}
        places = []
        for k, piece in enumerate(pieces):
            x, y, _, _ = piece.bounds()
            places.append((x, y))
            found.setdefault(outline_key(piece, (x, y)), []).append(k)
        at = np.array(places)
        self.shapes = [(pieces[same[0]], at[same] - at[same[0]]) for same in found.values()]

    def inset(self, by_mm: float) -> list[tuple[CrossSection, Array]]:
        """The shapes made smaller all round, with the moves of their copies; those that vanish are left out."""
        out = [(shape.offset(-by_mm, JoinType.Miter, MITER), moves) for shape, moves in self.shapes]
        return [(shape, moves) for shape, moves in out if not shape.is_empty()]


def loops_of(shapes: list[tuple[CrossSection, Array]]) -> tuple[Array, Ints]:
    """All loops of all copies, as `flat_loops`."""
    points, counts = [np.zeros((0, 2))], [np.zeros(0, np.int64)]
    for shape, moves in shapes:
        flat, start = flat_loops(shape)
        points.append((flat[None] + moves[:, None]).reshape(-1, 2))
        counts.append(np.tile(np.diff(start), len(moves)))
    return np.concatenate(points), np.concatenate([[0], np.cumsum(np.concatenate(counts))]).astype(np.int64)


def whole(shapes: list[tuple[CrossSection, Array]]) -> CrossSection:
    """All copies as one region."""
    if len(shapes) == 1 and len(shapes[0][1]) == 1:
        return shapes[0][0]
    points, start = loops_of(shapes)
    return CrossSection(np.split(points, start[1:-1])) if len(points) else CrossSection()


def outline_key(region: CrossSection, origin: tuple[float, float]) -> bytes:
    """What tells a region's shape and place beside an origin from others, to a thousandth of a millimetre."""
    keys = []
    for loop in region.to_polygons():
        grid = np.round((np.asarray(loop) - origin) / ALIKE_MM).astype(np.int64)
        first = int((grid[:, 0] * 100_000_007 + grid[:, 1]).argmin())  # wherever a loop begins, it is the same one
        keys.append(grid[first:].tobytes() + grid[:first].tobytes())
    return b"|".join(sorted(keys))
