"""One sheet that is bent over the top of a case: its section as it stands, its flat, and where each face lies in that."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi, tan

from rhombex.core.bench.arrange import outer_size
from rhombex.core.case.parts import Bend, Fold, Sheet
from rhombex.core.constructions import Material, Wrap
from rhombex.core.design import Design
from rhombex.core.fit.bend import bend_allowance
from rhombex.core.geometry.recipe import Loop, rect
from rhombex.core.space import Face

WRAP = "sheet-wrap"
FACES: dict[Wrap, tuple[Face, ...]] = {
    "none": (),
    "left to right": ("left", "top", "right"),
    "front to back": ("front", "top", "back"),
}
_QUARTER = tan(pi / 8)  # the bulge of a quarter of a circle


@dataclass(frozen=True)
class Bent:
    """A sheet as thick as `thick_mm` over the top between two sides: `span_mm` across, from `low_mm` to `high_mm`, `deep_mm` long; its bends'
    inner radius."""

    over: Wrap
    material: Material
    thick_mm: float
    inner_mm: float
    span_mm: float
    low_mm: float
    high_mm: float
    deep_mm: float

    @property
    def outer_mm(self) -> float:
        """The outer radius of its bends."""
        return self.inner_mm + self.thick_mm

    @property
    def leg_mm(self) -> float:
        """The straight height of a side."""
        return self.high_mm - self.outer_mm - self.low_mm

    @property
    def section(self) -> Loop:
        """Its section, across the span and up."""
        t, r, u, lo, hi = self.thick_mm, self.inner_mm, self.span_mm, self.low_mm, self.high_mm
        far = t + r
        return (
            (0.0, lo, 0.0),
            (t, lo, 0.0),
            (t, hi - far, -_QUARTER),
            (far, hi - t, 0.0),
            (u - far, hi - t, -_QUARTER),
            (u - t, hi - far, 0.0),
            (u - t, lo, 0.0),
            (u, lo, 0.0),
            (u, hi - far, _QUARTER),
            (u - far, hi, 0.0),
            (far, hi, _QUARTER),
            (0.0, hi - far, 0.0),
        )

    @property
    def sheet(self) -> Sheet:
        """The flat that it is cut from, seen from its outside."""
        takes = bend_allowance(self.material, self.thick_mm, self.inner_mm).value
        leg, far, lo = self.leg_mm, self.outer_mm, self.low_mm
        level = self.span_mm - 2 * far
        long = 2 * leg + 2 * takes + level
        first, top, last = FACES[self.over]
        # how far along the flat the far side's foot lies, and how far the top's own zero
        foot, zero = long + lo, leg + takes - far
        middles = (leg + takes / 2, long - leg - takes / 2)
        if self.over == "left to right":
            outline = rect(0.0, 0.0, long, self.deep_mm)
            folds = (
                Fold(face=first, along=(0.0, -1.0), across=(1.0, 0.0), shift=(-lo, self.deep_mm)),
                Fold(face=top, along=(1.0, 0.0), across=(0.0, 1.0), shift=(zero, 0.0)),
                Fold(face=last, along=(0.0, 1.0), across=(-1.0, 0.0), shift=(foot, 0.0)),
            )
            lines = tuple(((m, 0.0), (m, self.deep_mm)) for m in middles)
        else:
            outline = rect(0.0, 0.0, self.deep_mm, long)
            folds = (
                Fold(face=first, along=(1.0, 0.0), across=(0.0, 1.0), shift=(0.0, -lo)),
                Fold(face=top, along=(1.0, 0.0), across=(0.0, 1.0), shift=(0.0, zero)),
                Fold(face=last, along=(-1.0, 0.0), across=(0.0, -1.0), shift=(self.deep_mm, foot)),
            )
            lines = tuple(((0.0, m), (self.deep_mm, m)) for m in middles)
        bends = tuple(
            Bend(ends=ends, inner_mm=self.inner_mm, allowance_mm=takes, between=(side, top))
            for ends, side in zip(lines, (first, last), strict=True)
        )
        return Sheet(
            material=self.material, thick_mm=self.thick_mm, face=first, outline=outline, folds=folds, bends=bends
        )


def bent_of(design: Design, over: Wrap, material: Material, bend_mm: float, low_mm: float) -> Bent | None:
    """The bent sheet of a case, from `low_mm` up; none where nothing is bent. A radius that its sides or its top have no room for is as large as they have."""
    if over == "none":
        return None
    (w, d, h), t = outer_size(design), design.shell.wall_mm
    span, deep = (w, d) if over == "left to right" else (d, w)
    most = min(h - low_mm, span / 2) - t - 0.5
    return Bent(over, material, t, max(0.1, min(bend_mm, most)), span, low_mm, h, deep)
