"""The face of a cut: its area, width and section modulus, from the outline of the section."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.strips import INDEX
from rhombex.core.cuts.turned import line_of
from rhombex.core.geometry.planes import crossings
from rhombex.core.geometry.recipe import Solid
from rhombex.core.memo import Memo

MOST = 4000  # faces that are remembered: one for each place that a cut was tried at


@dataclass(frozen=True)
class SeamFace:
    """Of the face of a cut: area, how wide it is along the cut, and its section modulus about the level axis through its middle, I / c."""

    area_mm2: float
    wide_mm: float
    modulus_mm3: float


def measured(outline: NDArray[np.float64]) -> SeamFace:
    """A face by the segments (n, 2, 2) of its outline in (across, up) coordinates, material on one side of all of them: moments of polygons by their corners."""
    if not len(outline):
        return SeamFace(0.0, 0.0, 0.0)
    (x0, y0), (x1, y1) = outline[:, 0].T, outline[:, 1].T
    (left, low), (right, high) = outline[:, 0].min(axis=0), outline[:, 0].max(axis=0)
    y0, y1 = y0 - low, y1 - low  # near the axis, so that little is taken from much
    twice = x0 * y1 - x1 * y0
    area = float(twice.sum()) / 2
    if abs(area) < 1e-12:
        return SeamFace(0.0, float(right - left), 0.0)
    mid = float(((y0 + y1) * twice).sum()) / 6 / area
    about_low = float(((y0 * y0 + y0 * y1 + y1 * y1) * twice).sum()) / 12
    second = abs(about_low - area * mid * mid)
    return SeamFace(abs(area), float(right - left), second / max(float(high - low) - mid, mid))


_faces: Memo[tuple[object, ...], SeamFace] = Memo(MOST)


def face_of(recipe: Solid, cut: Cut, n: int) -> SeamFace:
    """The face of a cut of a plate whose normal is axis n. Remembered: while a hand drags a cut, the part is the same and its grid of places too."""
    i = INDEX[cut.axis]

    def look() -> SeamFace:
        swap = min(k for k in range(3) if k != i) == n  # its first coordinate is then the normal's
        outline = crossings(line_of(cut, n).straightened(recipe), i, cut.at_mm)
        return measured(outline[:, :, ::-1] if swap else outline)

    return _faces.make((recipe.digest, line_of(cut, n)), look)
