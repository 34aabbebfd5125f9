"""The sizes of a tray that slides in a sleeve, in the tray's own frame: it comes out towards y = 0. A quarter turn brings it to the side it opens to."""

from __future__ import annotations

from dataclasses import dataclass

from rhombex.core.bench.arrange import outer_size
from rhombex.core.constructions import TrayInASleeve
from rhombex.core.design import Design
from rhombex.core.fit.allowance import fit
from rhombex.core.geometry.recipe import Intersection, Loop, Solid, block, rounded, through
from rhombex.core.shell.solids import OVER
from rhombex.core.space import OUTWARD, Box, Face, Frame, Vec2, Vec3, facing, turned
from rhombex.core.workshop.printer import Printer

TRAY, SLEEVE, PLATE = "tray", "sleeve", "end-plate"
LEDGE_SHARE = 0.6  # of the floor's thickness that a ledge is high and deep; the floor's edge over it keeps the rest; common practice
END_GAP_MM = 0.2  # between the floor's far end and the sleeve's back, so that the plate seats; common practice
_TURN: dict[Face, int] = {"front": 0, "right": 90, "back": 180, "left": 270}


@dataclass(frozen=True)
class Slide:
    """The sizes of the case in the tray's own frame (it comes out towards y = 0), and how that frame lies in the case's."""

    frame: Frame
    wide: float
    long: float
    high: float
    wall: float
    floor: float
    lid: float
    radius: float
    gap: float
    ledge: float  # how high and how deep the ledges are; nothing under a floor of sheet

    @property
    def far(self) -> float:
        """Where the floor ends."""
        return self.long - self.wall - END_GAP_MM

    @property
    def under(self) -> float:
        """How far from the wall the floor's chamfer reaches at its underside: the gap counts square to it."""
        return self.ledge + self.gap * 2**0.5

    def outline(self, inset: float) -> Solid:
        """The cross-section inset by so much, over all the length: its lower corners square, its upper ones round."""
        r = max(self.radius - inset, 0.3 if inset > 0 else 0.0)
        low = inset if inset == 0 else -OVER
        top = self.high - (self.lid if inset == self.wall else inset)
        loop = rounded(inset, low - 2 * r - OVER, self.wide - inset, top, r)
        return Intersection(
            drawn(loop, -OVER, self.long + OVER),
            block(Box((-OVER, -2 * OVER, low), (self.wide + OVER, self.long + 2 * OVER, self.high + OVER))),
        )


def drawn(loop: Loop, y0: float, y1: float) -> Solid:
    """A cross-section (x, z) drawn out from y0 to y1."""
    return through([loop], Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 0.0, 1.0), (0.0, -1.0, 0.0)), -y1, -y0)


def slide_of(design: Design, kind: TrayInASleeve, printer: Printer) -> Slide:
    """The sizes for a printer: the gap at the slide is the allowance of sliding fits over the tray's width."""
    s, (w, d, h) = design.shell, outer_size(design)
    turn = _TURN[kind.opens]
    origin: Vec3 = {0: (0.0, 0.0, 0.0), 90: (w, 0.0, 0.0), 180: (w, d, 0.0), 270: (0.0, d, 0.0)}[turn]
    wide, long = (w, d) if turn % 180 == 0 else (d, w)
    return Slide(
        frame=turned(origin, turn),
        wide=wide,
        long=long,
        high=h,
        wall=s.wall_mm,
        floor=s.floor_mm,
        lid=s.lid_mm,
        radius=min(s.corner_radius_mm, wide / 4, h / 4),
        gap=fit(design, printer, "tongue_side", (TRAY, SLEEVE), wide).value,
        ledge=0.0 if kind.floor == "sheet" else LEDGE_SHARE * s.floor_mm,
    )


def turned_face(name: str, slide: Slide) -> Face:
    """The face of the case that a face of the tray's frame is."""
    way = slide.frame.vector(OUTWARD[name])  # type: ignore[index]
    return facing((way[0] + 0.0, way[1] + 0.0, way[2] + 0.0))


def wound(points: list[Vec2]) -> Loop:
    """A loop of straight sides, counter-clockwise."""
    turn = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, [*points[1:], points[0]], strict=True))
    return tuple((x, y, 0.0) for x, y in (points if turn > 0 else points[::-1]))
