"""Where two cuts cross in a field of vents: what of the webs between its holes they would cut off."""

from __future__ import annotations

from math import hypot

import numpy as np
from numpy.typing import NDArray

from rhombex.core.openings.opening import Vent

HELD_MM = 0.3  # of a web that a bit has to hang on by, at the least


def crumbs_at(v: Vent, u_mm: float, v_mm: float) -> int:
    """How many bits between holes come loose where cuts along both axes of a face cross at a place of it: four at the most, one for each corner.

    The holes stand on their corners, so that the webs run slantwise, in two families. Seen along the slants (s = u + v, t = u - v) the corner of a piece
    is a wedge between two lines at 45 degrees. A web across the wedge ends at both of its sides: what is left of it hangs on webs of the other
    family, which run out of the wedge, or on nothing.
    """
    (mu, mv), (w, h) = v.at_mm, v.size_mm
    if len(v.holes) < 2 or abs(u_mm - mu) > w / 2 or abs(v_mm - mv) > h / 2:
        return 0
    x, y = v.holes[0]
    pitch = min(hypot(x - p, y - q) for p, q in v.holes[1:]) * 2**0.5
    half_web = pitch / 2 - v.across_mm / 2**0.5
    # from the middle of the nearest hole on, both ways: webs are in the middle between holes
    s, t = ((c + pitch / 2) % pitch - pitch / 2 for c in (u_mm + v_mm - x - y, u_mm - v_mm - x + y))
    out = 0
    for along, across in ((s, t), (-s, t), (t, s), (-t, s)):
        # the first web across this wedge, and how far beyond the corner its outer side is
        beyond = pitch / 2 + half_web - along
        if along <= half_web - pitch / 2:  # the corner is in the web before: that is the first
            beyond -= pitch
        # how far aside of the corner the nearest web of the other family begins
        aside = max(pitch / 2 - half_web - abs(across), 0.0)
        out += 0 < beyond < aside + HELD_MM
    return out


def corners_at(middles: NDArray[np.float64], across_mm: float, x_mm: float, y_mm: float) -> int:
    """How many bits between round holes come loose where cuts along both axes cross at a place. `middles`: (n, 2), of holes that do not touch.

    A bit in the corner of a piece is cut off by one hole that reaches both of the piece's sides and leaves the corner; two that do so together would touch.
    """
    d, r = np.abs(middles - (x_mm, y_mm)), across_mm / 2
    return int(((d < r + HELD_MM).all(axis=1) & ((d * d).sum(axis=1) > r * r)).sum())
