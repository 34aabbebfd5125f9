"""The case opened: how far each of its parts is moved from its place so that what is inside can be seen."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.space import Vec3

CLEAR_MM = 30.0  # beyond the way on which a part is put on


def opened_by(a: Analysis, part: str) -> Vec3:
    """The way back from where a part sits, by its own travel and clear of the rest; nothing for what stays."""
    put = a.case.part(part).put_on
    if put is None:
        return (0.0, 0.0, 0.0)
    far = put.travel_mm + CLEAR_MM
    return (-put.along[0] * far, -put.along[1] * far, -put.along[2] * far)
