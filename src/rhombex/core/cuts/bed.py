"""What a bed leaves for a piece, and how a piece lies on it: straight, turned by a quarter, or across."""

from __future__ import annotations

from math import acos, asin, atan2, cos, degrees, hypot, radians, sin
from typing import NamedTuple

from rhombex.core.design import Process
from rhombex.core.space import Vec2, Vec3
from rhombex.core.workshop.printer import Printer

TOUCH_MM = 1e-6


class OnBed(NamedTuple):
    """`angle_deg`: by how much a piece is turned to the left, 0 to 90; `over_mm`: by how much it is too large, the better of straight and
    turned by a quarter; 0 or less where it fits."""

    fits: bool
    angle_deg: float
    over_mm: float


def usable_bed(process: Process, printer: Printer) -> Vec3:
    """The bed less its worn edge and the brim on both sides; height as it is. A brim inside the outline takes no room."""
    margin = 2 * (printer.margin_mm + (0.0 if process.brim_inside else process.brim_mm))
    x, y, z = printer.bed_mm
    return (x - margin, y - margin, z)


def on_bed(size: Vec3, usable: Vec3) -> OnBed:
    """How a piece of that size lies. One that is long and narrow may lie across the bed where neither straight nor quarter will do."""
    straight = max(size[0] - usable[0], size[1] - usable[1])
    quarter = max(size[1] - usable[0], size[0] - usable[1])
    up = size[2] - usable[2]
    over = max(min(straight, quarter), up)
    if over <= TOUCH_MM:
        return OnBed(True, 90.0 if quarter < straight and straight > 0 else 0.0, over)
    angle = across_deg((size[0], size[1]), (usable[0], usable[1])) if up <= TOUCH_MM else None
    return OnBed(False, 0.0, over) if angle is None else OnBed(True, angle, min(up, 0.0))


def across_deg(size: Vec2, room: Vec2) -> float | None:
    """The angle at which a rectangle lies within another across it, half way between the least and the greatest; None where there is none.

    Turned by t its box is w cos t + d sin t wide and w sin t + d cos t deep, with R = hypot(w, d) and f = atan2(d, w): R cos(t - f) and
    R sin(t + f).
    """
    (w, d), (a, b) = size, room
    if w < d:  # the same boxes, met from the other end
        other = across_deg((d, w), room)
        return None if other is None else 90.0 - other
    r, f = hypot(w, d), atan2(d, w)
    if d > min(a, b) or min(a, b) <= 0:
        return None
    low = max(0.0, f + acos(a / r)) if a < r else 0.0
    high = asin(b / r) - f if b < r else radians(90)
    if low > high + 1e-9 or low > radians(90) or high < 0:
        return None
    return degrees((low + min(high, radians(90))) / 2)


def turned_size(size: Vec2, angle_deg: float) -> Vec2:
    """Width and depth of the box round a rectangle that is turned by 0 to 90 degrees."""
    t = radians(angle_deg)
    c, s = (0.0, 1.0) if angle_deg == 90.0 else (cos(t), sin(t))
    return (size[0] * c + size[1] * s, size[0] * s + size[1] * c)
