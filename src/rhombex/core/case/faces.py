"""Where a case can be cut into: its faces, the walls behind them, the seams between parts, where walls are thicker."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from rhombex.core.space import Face, Frame, Vec2, Vec3
from rhombex.core.trail import Frozen

Height = Annotated[float, Field(ge=-10_000, le=10_000)]


class CaseFace(Frozen):
    """A face that things can be cut into.

    `frame`: origin at its lower left corner seen from outside, x to the right, y up, z outward. `inset_mm`: where on it the lower
    left corner of the cavity is. `clear_mm`: the stretch (u0, v0, u1, v1) that is plain wall, without corners and thickenings.
    `whole`: a wall stands behind all of it; else there is none, or only where something is fixed to it.
    """

    id: str
    frame: Frame
    size_mm: Vec2
    thick_mm: float
    inset_mm: Vec2
    clear_mm: tuple[float, float, float, float]
    whole: bool = True

    def on(self, p: Vec3) -> Vec2:
        """A point of the case projected onto the face: (u, v)."""
        u, v, _ = self.frame.local(p)
        return (u, v)

    def at(self, uv: Vec2) -> Vec3:
        """The point of the face at (u, v)."""
        return self.frame.point((uv[0], uv[1], 0.0))

    def behind(self, p: Vec3) -> float:
        """How far a point is behind the face, mm; negative in front of it."""
        return -self.frame.local(p)[2]

    def stretch(self, axis: int, u0: float, v0: float, u1: float, v1: float) -> Vec2:
        """What a rectangle of the face covers along an axis of the case."""
        ends = [self.at(uv)[axis] for uv in ((u0, v0), (u1, v1))]
        return (min(ends), max(ends))


class Wall(Frozen):
    """The stretch of a face behind which a part stands, from the face's surface to `depth_mm` behind it at its thickest."""

    face: str
    part: str
    lo_mm: Vec2
    hi_mm: Vec2
    depth_mm: float


class Seam(Frozen):
    """Where two parts meet all round: a plane across an axis of the case. Nothing may be cut from `below_mm` under it to `above_mm`
    over it, webs of plain wall beside; `path`: the field of the design that moves it, none where it lies fixed."""

    axis: int
    at_mm: float
    below_mm: float
    above_mm: float
    parts: tuple[str, str]
    path: str


class Bulge(Frozen):
    """Where the walls of some `faces` are thicker inside than elsewhere: by `mm` between the heights `full_from_mm` and `full_to_mm`, rising
    to that and falling from it between `from_mm` and `to_mm`."""

    from_mm: Height
    full_from_mm: Height
    full_to_mm: Height
    to_mm: Height
    mm: Annotated[float, Field(ge=0, le=1000)]
    faces: tuple[Face, ...] = ("left", "right", "front", "back")
    rides: Literal["joint", "floor"] = "joint"  # what it goes along with when the walls are drawn anew

    def raised(self, by_mm: float) -> Bulge:
        """The same higher up."""
        at = ("from_mm", "full_from_mm", "full_to_mm", "to_mm")
        return self.model_copy(update={x: getattr(self, x) + by_mm for x in at})

    def inward_mm(self, lo_mm: float, hi_mm: float) -> float:
        """The most that it stands out between two heights."""
        if hi_mm <= self.from_mm or lo_mm >= self.to_mm:
            return 0.0
        if hi_mm < self.full_from_mm:
            return self.mm * (hi_mm - self.from_mm) / max(self.full_from_mm - self.from_mm, 1e-9)
        if lo_mm > self.full_to_mm:
            return self.mm * (self.to_mm - lo_mm) / max(self.to_mm - self.full_to_mm, 1e-9)
        return self.mm
