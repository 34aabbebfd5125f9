"""What a bed leaves for a piece, and how a piece lies on it: straight, turned by a quarter, across, or at whatever angle its outline fits."""

from __future__ import annotations

from collections.abc import Callable
from math import acos, asin, atan2, cos, degrees, hypot, radians, sin
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from rhombex.core.design import Process
from rhombex.core.space import Vec2, Vec3
from rhombex.core.workshop.printer import Printer

TOUCH_MM = 1e-6


Hull = NDArray[np.float64]  # (n, 2): the corners of a convex outline in order


class OnBed(NamedTuple):
    """`angle_deg`: by how much a piece is turned to the left, 0 to 180; `over_mm`: by how much it is too large, the better of straight and
    turned by a quarter; 0 or less where it fits."""

    fits: bool
    angle_deg: float
    over_mm: float


def usable_bed(process: Process, printer: Printer) -> Vec3:
    """The bed less its worn edge and the brim on both sides; height as it is. A brim inside the outline takes no room."""
    margin = 2 * (printer.margin_mm + (0.0 if process.brim_inside else process.brim_mm))
    x, y, z = printer.bed_mm
    return (x - margin, y - margin, z)


def on_bed(size: Vec3, usable: Vec3, outline: Callable[[], Hull] | None = None) -> OnBed:
    """How a piece of that size lies. One that is long and narrow may lie across the bed where neither straight nor quarter will do; where its box lies
    in no way, its `outline` may."""
    straight = max(size[0] - usable[0], size[1] - usable[1])
    quarter = max(size[1] - usable[0], size[0] - usable[1])
    up = size[2] - usable[2]
    over = max(min(straight, quarter), up)
    if over <= TOUCH_MM:
        return OnBed(True, 90.0 if quarter < straight and straight > 0 else 0.0, over)
    angle = across_deg((size[0], size[1]), (usable[0], usable[1])) if up <= TOUCH_MM else None
    if angle is None and outline is not None and up <= TOUCH_MM:
        angle = outline_deg(outline(), (usable[0], usable[1]))
    return OnBed(False, 0.0, over) if angle is None else OnBed(True, angle, min(up, 0.0))


def outline_deg(hull: Hull, room: Vec2) -> float | None:
    """The angle at which a convex outline lies within a rectangle, in the middle of the widest stretch of angles; None where there is none.

    Turned by t its box is as wide and as deep as two of its corners are apart, the same two between angles at which one of its sides is level or
    upright; in between that is r cos(t + f), and the box grows past the room only where r cos(t + f) equals its side.
    """
    if len(hull) < 3 or min(room) <= 0:
        return None
    sides = np.roll(hull, -1, axis=0) - hull
    level = -np.degrees(np.arctan2(sides[:, 1], sides[:, 0]))
    turns = np.unique(np.concatenate([np.mod(level, 90.0), np.mod(level, 90.0) + 90.0, [0.0, 180.0]]))
    at = [turns]
    for k, most in enumerate(room):
        # the two corners that are farthest apart along x (or y) between two turns, and where they are just as far as the room
        middle = np.radians((turns[:-1] + turns[1:]) / 2)
        along = _turned(hull, middle)[k]
        apart = hull[along.argmax(axis=1)] - hull[along.argmin(axis=1)]
        r, f = np.hypot(*apart.T), np.arctan2(apart[:, 1], apart[:, 0]) - (np.pi / 2 if k else 0.0)
        some = r > most
        root = np.degrees(np.arccos(most / r[some]))
        for s in (-1, 1):
            found = s * root - np.degrees(f[some])
            at.append(np.mod(found, 360.0)[np.mod(found, 360.0) < 180.0])
    edges = np.unique(np.concatenate(at))
    inside = _fits(hull, (edges[:-1] + edges[1:]) / 2, room)
    if inside.any():
        best = int(np.argmax(np.where(inside, edges[1:] - edges[:-1], -1.0)))
        return float((edges[best] + edges[best + 1]) / 2)
    touching = edges[_fits(hull, edges, room)]
    return float(touching[0]) if len(touching) else None


def _turned(hull: Hull, t: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """x and y (angles, corners) of an outline, turned to the left by each of some angles in radians."""
    c, s = np.cos(t)[:, None], np.sin(t)[:, None]
    x, y = hull[:, 0][None, :], hull[:, 1][None, :]
    return c * x - s * y, s * x + c * y


def _fits(hull: Hull, at_deg: NDArray[np.float64], room: Vec2) -> NDArray[np.bool_]:
    x, y = _turned(hull, np.radians(at_deg))
    fits: NDArray[np.bool_] = (np.ptp(x, axis=1) <= room[0] + TOUCH_MM) & (np.ptp(y, axis=1) <= room[1] + TOUCH_MM)
    return fits


def turned_box(hull: Hull, angle_deg: float) -> Vec2:
    """Width and depth of the box round an outline that is turned."""
    x, y = _turned(hull, np.radians(np.array([angle_deg])))
    return float(np.ptp(x)), float(np.ptp(y))


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
