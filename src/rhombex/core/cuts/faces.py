"""The face of a cut: its area, width and section modulus, from the loops of the section."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.strips import INDEX
from rhombex.core.cuts.turned import line_of
from rhombex.core.geometry.planes import Loops, section
from rhombex.core.geometry.recipe import Solid
from rhombex.core.memo import Memo

MOST = 4000  # faces that are remembered: one for each place that a cut was tried at


@dataclass(frozen=True)
class SeamFace:
    """Of the face of a cut: area, how wide it is along the cut, and its section modulus about the level axis through its middle, I / c."""

    area_mm2: float
    wide_mm: float
    modulus_mm3: float


def measured(loops: Loops) -> SeamFace:
    """A face by its loops in (across, up) coordinates, material on one side of all of them: moments of polygons by their corners."""
    if not loops:
        return SeamFace(0.0, 0.0, 0.0)
    rings = [np.asarray(ring) for ring in loops]
    every = np.concatenate(rings)
    after = np.concatenate([np.roll(ring, -1, axis=0) for ring in rings])
    x0, y0, x1, y1 = every[:, 0], every[:, 1], after[:, 0], after[:, 1]
    (left, low), (right, high) = every.min(axis=0), every.max(axis=0)
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
        loops = section(line_of(cut, n).straightened(recipe), cut.axis, cut.at_mm)
        return measured([[(b, a) for a, b in ring] for ring in loops] if swap else loops)

    return _faces.make((recipe.digest, line_of(cut, n)), look)
