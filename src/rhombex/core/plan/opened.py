"""The case opened: where each of its parts is so that what is inside can be seen."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from rhombex.core.analysis import Analysis
from rhombex.core.shell.hinge import turned_deg
from rhombex.core.space import Vec3

CLEAR_MM = 30.0  # beyond the way on which a part is put on
OPEN_DEG = 110.0  # a lid on hinges leans back when it is open


def opened_by(a: Analysis, part: str) -> Vec3:
    """The way back from where a part sits, by its own travel and clear of the rest; nothing for what stays."""
    put = a.case.part(part).put_on
    if put is None:
        return (0.0, 0.0, 0.0)
    far = put.travel_mm + CLEAR_MM
    return (-put.along[0] * far, -put.along[1] * far, -put.along[2] * far)


def opened_at(a: Analysis, part: str) -> NDArray[np.float64]:
    """Where a part is, (4, 4) in the case's frame, mm: moved back the way it is put on, or turned about the hinges where it is what lifts off of a case
    that has some."""
    place, put, hinge = np.eye(4), a.case.part(part).put_on, a.case.hinge
    if put is None or hinge is None or not hinge.pins or put.along[2] > -0.5:
        place[:3, 3] = opened_by(a, part)
        return place
    pivot = np.array(hinge.at(0.0))
    degrees = turned_deg(hinge, OPEN_DEG)
    i = next(k for k in range(3) if degrees[k])
    c, s = cos(radians(degrees[i])), sin(radians(degrees[i]))
    j, k = (i + 1) % 3, (i + 2) % 3
    place[j, j], place[j, k], place[k, j], place[k, k] = c, -s, s, c
    place[:3, 3] = pivot - place[:3, :3] @ pivot
    return place
