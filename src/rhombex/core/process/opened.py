"""How much farther a plate gives way to a hand where it has an opening."""

from __future__ import annotations

from math import pi, sin

import numpy as np

from rhombex.core.reference import series, val
from rhombex.core.space import Vec2

SOURCE = "its opening by finite elements, plate held all round"
RATIOS = ((1.0, "square"), (1.5, "longer"), (2.5, "long"))  # of its sides, for each of which there is a table


def opened(sides_mm: Vec2, size_mm: Vec2, at_mm: Vec2) -> float:
    """How many times as far a plate held all round gives way under a hand at the middle of an opening's edge as without one under a hand at its own middle;
    1 where that is no farther. `sides_mm`: of the plate; `size_mm`: of the opening, along the same sides; `at_mm`: its middle, from their ends.

    Tables by finite elements for openings in the middle (`trials/opened_plates.py`), by their share of either side. Off the middle less, as a whole plate gives
    way less at the point of the opening that is nearest to its middle: sin^2 along both sides, the first term of Navier's series; of twelve such plates that is
    up to 15 % more than finite elements give and up to 30 % less.
    """
    k = 0 if sides_mm[0] <= sides_mm[1] else 1
    short, long = sides_mm[k], sides_mm[1 - k]
    shares = (size_mm[k] / short, size_mm[1 - k] / long)
    if max(shares) < val("limits.opened.least"):
        return 1.0
    sizes = series("limits.opened.share")
    by_ratio = [
        np.interp(
            shares[0],
            sizes,
            [np.interp(shares[1], sizes, row) for row in np.reshape(series(f"limits.opened.{name}"), (len(sizes), -1))],
        )
        for _, name in RATIOS
    ]
    middle = float(np.interp(long / short, [r for r, _ in RATIOS], by_ratio))
    off = 1.0
    for side, size, at in zip(sides_mm, size_mm, at_mm, strict=True):
        near = min(0.5, (min(at, side - at) + size / 2) / side)
        off *= sin(pi * max(near, 0.0)) ** 2
    return max(1.0, middle * off)
