"""Where a cut runs: straight across an axis, turned about its plate's normal, or leaning out of it, as a hand wishes."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import cos, hypot, radians, sin, tan

import numpy as np
from numpy.typing import NDArray

from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.strips import INDEX
from rhombex.core.geometry.recipe import Move, Solid
from rhombex.core.space import Box, Frame, Vec2, Vec3


@dataclass(frozen=True)
class Line:
    """A cut across axis `i` of a plate whose normal is axis `n`: through `at_mm` where the coordinate along it is `about_mm`, and turned there by `deg`,
    from the first axis of the plate towards the second. What stands along a cut is placed as if it were straight, and turned with it. A cut that leans by
    `lean_deg` runs there at `level_mm`, and beyond it, along the normal, farther along its axis."""

    i: int
    n: int
    at_mm: float
    about_mm: float = 0.0
    deg: float = 0.0
    lean_deg: float = 0.0
    level_mm: float = 0.0

    @property
    def j(self) -> int:
        """The axis along the cut."""
        return 3 - self.i - self.n

    @property
    def slope(self) -> float:
        """How much farther along its axis it runs for every millimetre along it."""
        return (-1.0 if self.i < self.j else 1.0) * tan(radians(self.deg))

    @property
    def longer(self) -> float:
        """How much longer it is than a straight one."""
        return hypot(1.0, self.slope)

    @property
    def rise(self) -> float:
        """How much farther along its axis it runs for every millimetre along the plate's normal."""
        return tan(radians(self.lean_deg)) * self.longer

    @property
    def aslant(self) -> bool:
        """Whether it is turned, or leans."""
        return bool(self.deg or self.lean_deg)

    def at(self, along: float, height: float | None = None) -> float:
        """Where it runs at a coordinate along it; and at one along the plate's normal, which matters where it leans."""
        up = 0.0 if height is None else self.rise * (height - self.level_mm)
        return self.at_mm + self.slope * (along - self.about_mm) + up

    def _about(self, a: int, b: int, degrees: float) -> Frame:
        """Turned from axis a towards axis b, about the middle of the cut."""
        c, s = cos(radians(degrees)), sin(radians(degrees))
        axes = [[float(k == m) for k in range(3)] for m in range(3)]
        axes[a][a], axes[a][b] = c, s
        axes[b][a], axes[b][b] = -s, c
        x, y, z = ((v[0], v[1], v[2]) for v in axes)
        pivot = [0.0] * 3
        pivot[self.i], pivot[self.j], pivot[self.n] = self.at_mm, self.about_mm, self.level_mm
        p = (pivot[0], pivot[1], pivot[2])
        q = Frame((0.0, 0.0, 0.0), x, y, z).vector(p)
        return Frame((p[0] - q[0], p[1] - q[1], p[2] - q[2]), x, y, z)

    @cached_property
    def frame(self) -> Frame:
        """How it is turned, and leans: what stands along it as if it were straight, into its place."""
        turned = self._about(min(self.i, self.j), max(self.i, self.j), self.deg)
        return turned.then(self._about(self.n, self.i, self.lean_deg)) if self.lean_deg else turned

    def turned(self, solid: Solid) -> Solid:
        """What stands along the cut, in its place."""
        return Move(solid, self.frame) if self.aslant else solid

    def straightened(self, solid: Solid) -> Solid:
        """A part as it is seen from a cut that is taken for straight."""
        return Move(solid, self.frame.inverse) if self.aslant else solid

    def point(self, p: Vec3) -> Vec3:
        """As `turned`, of a point."""
        return self.frame.point(p) if self.aslant else p

    def vector(self, v: Vec3) -> Vec3:
        """As `turned`, of a direction."""
        return self.frame.vector(v) if self.aslant else v

    def beyond(self, p: Vec3) -> float:
        """How far beyond the cut a point is; less than nothing: before it."""
        return (self.frame.local(p) if self.aslant else p)[self.i] - self.at_mm

    def seen(self, boxes: NDArray[np.float64]) -> NDArray[np.float64]:
        """The boxes (n, 2, 3) in which other ones lie, as they are seen from the cut if it is taken for straight."""
        out = boxes.copy()
        back = Line(
            self.i, self.n, self.at_mm, self.about_mm, -self.deg
        ).frame  # on the plan: nothing stands along one that leans
        turn = np.array([back.x, back.y, back.z])  # of row vectors
        corners = []
        for a in (0, 1):
            for b in (0, 1):
                corner = boxes[:, 0].copy()
                corner[:, self.i], corner[:, self.j] = boxes[:, a, self.i], boxes[:, b, self.j]
                corners.append(corner @ turn + np.array(back.origin))
        every = np.stack(corners)
        for k in (self.i, self.j):
            out[:, 0, k], out[:, 1, k] = every[:, :, k].min(axis=0), every[:, :, k].max(axis=0)
        return out

    def crossing(self, other: Line) -> tuple[float, float]:
        """Where along this cut, as if it were straight, one across the other axis crosses it; and by how many degrees that is off square to it."""
        # on the other: j = other.at(i), on this one: i = at(j)
        at = (other.at_mm + other.slope * (self.at_mm - self.slope * self.about_mm - other.about_mm)) / (
            1 - other.slope * self.slope
        )
        return self.about_mm + (at - self.about_mm) * self.longer, self.deg - other.deg

    def ends(self, extent: Box) -> tuple[Vec2, Vec2]:
        """Where it begins and ends over a part, at its level: coordinates across and along it."""
        a, b = extent.lo[self.j], extent.hi[self.j]
        return (self.at(a), a), (self.at(b), b)

    def corners(self, extent: Box) -> tuple[float, ...]:
        """Where it runs at the four edges of a part that lie along its axis."""
        return tuple(
            self.at(along, height)
            for along in (extent.lo[self.j], extent.hi[self.j])
            for height in (extent.lo[self.n], extent.hi[self.n])
        )


def line_of(c: Cut, n: int) -> Line:
    """Where a cut of a plate runs whose normal is axis n."""
    return Line(INDEX[c.axis], n, c.at_mm, c.about_mm, c.turn_deg, c.lean_deg, c.level_mm)
