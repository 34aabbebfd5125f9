"""Shapes that several constructions are made of: holes along any axis, plates with round corners, seats for feet."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.design import Design
from rhombex.core.geometry.recipe import Solid, circle, prism, through
from rhombex.core.reference import val
from rhombex.core.space import Frame, Vec3

OVER = 1.0  # tools run this far past the faces they cut


def bore(at: Vec3, along: Vec3, d_mm: float, start_mm: float, end_mm: float) -> Solid:
    """A round tool about an axis of the case, from so far along it to so far; `at` is where it counts from."""
    i = next(k for k in range(3) if along[k])
    x: Vec3 = (0.0, 1.0, 0.0) if i == 0 else (0.0, 0.0, 1.0) if i == 1 else (1.0, 0.0, 0.0)
    y: Vec3 = (
        along[1] * x[2] - along[2] * x[1],
        along[2] * x[0] - along[0] * x[2],
        along[0] * x[1] - along[1] * x[0],
    )
    return through([circle(0, 0, d_mm)], Frame(at, x, y, along), start_mm, end_mm)


def foot_seats(design: Design, case: Case) -> list[Solid]:
    """Shallow recesses in the underside that feet are stuck into."""
    wide = val("printing.feature.foot_d") + 0.5
    deep = min(val("printing.feature.foot_recess"), design.shell.floor_mm / 3)
    return [prism(circle(x, y, wide), -OVER, deep) for x, y in case.feet]
