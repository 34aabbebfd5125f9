"""What a case has besides walls and joints: notches, handle, hinges, a tab to pull, feet."""

from __future__ import annotations

from typing import Literal

from rhombex.core.case.joints import Joint
from rhombex.core.parts.component import Thread
from rhombex.core.space import Box, Vec2, Vec3
from rhombex.core.trail import Frozen


class Lift(Frozen):
    """A notch for a finger under the edge of a part that only magnets hold: `part` is cut by `box`, so that `of` can be lifted there; `to`: the way it
    is lifted, `far`: a point of the edge on which it tips."""

    of: str
    part: str
    box: Box
    to: Vec3
    far: Vec3


class Bow(Frozen):
    """A handle on the part `top` of a case: a bow along `runs` whose middle stands on the outside at `middle`; inside it are `grip_mm` by `room_mm` for a
    hand, its bar is `bar_mm` high and `deep_mm` across, each of its two feet `foot_mm` wide. `screws` come from inside, one into each foot."""

    part: str
    top: str
    runs: Literal["x", "y"]
    middle: Vec3
    grip_mm: float
    room_mm: float
    bar_mm: float
    deep_mm: float
    foot_mm: float
    screws: tuple[Joint, ...]

    @property
    def size_mm(self) -> Vec3:
        """The box round it."""
        long, high = self.grip_mm + 2 * self.foot_mm, self.room_mm + self.bar_mm
        return (long, self.deep_mm, high) if self.runs == "x" else (self.deep_mm, long, high)

    @property
    def feet(self) -> tuple[Box, ...]:
        """The two boxes that stand on the case."""
        x, y, z = self.middle
        half = (self.foot_mm / 2, self.deep_mm / 2)
        out = []
        for s in (-1, 1):
            by = s * (self.grip_mm + self.foot_mm) / 2
            (cx, cy), (a, b) = ((x + by, y), half) if self.runs == "x" else ((x, y + by), half[::-1])
            out.append(Box((cx - a, cy - b, z), (cx + a, cy + b, z + self.room_mm + self.bar_mm)))
        return tuple(out)


class Knuckle(Frozen):
    """One eye of a hinge: the part that it is on, from where to where along its axis, and the hole for the pin; `closed`: it ends the hole at its low end."""

    part: str
    lo_mm: float
    hi_mm: float
    hole_mm: float
    closed: bool = False


class Hinges(Frozen):
    """The hinges of a lid on one side of a case: `axis` is along which axis of the case their pins run, at `across_mm` along the other level one and so high.
    `out_mm`: from the wall's outside to the pins; `r_mm`: of a knuckle; `pins`: from where to where each is."""

    side: str
    axis: int
    across_mm: float
    high_mm: float
    out_mm: float
    r_mm: float
    pin_mm: float
    pins: tuple[Vec2, ...]
    knuckles: tuple[Knuckle, ...]
    wanted: int
    turns: Vec3  # about which way the lid turns, by the right hand, as it opens

    @property
    def reach_mm(self) -> float:
        """How far under and over the joint its brackets begin, drawn at 45 degrees."""
        return float(self.out_mm + self.r_mm * 2**0.5)

    def at(self, along_mm: float) -> Vec3:
        """A point of the axis."""
        return (along_mm, self.across_mm, self.high_mm) if self.axis == 0 else (self.across_mm, along_mm, self.high_mm)


class Tab(Frozen):
    """What a part is pulled out by: `box` stands out of it along `out`, with a slot of `slot_mm` for the fingers, 0 where it is too short for one."""

    part: str
    box: Box
    out: Vec3
    slot_mm: float


class FootScrew(Frozen):
    """The screw of a foot: it passes `base_mm` of it and the floor, `floor_mm`, into a nut inside; `stands_mm`: how far nut and tip stand over the floor.
    `long_mm`: None where none in stock serves; `pinned`: a hand chose it."""

    thread: Thread
    base_mm: float
    floor_mm: float
    long_mm: float | None
    stands_mm: float
    pinned: bool


class Foot(Frozen):
    """What a case stands on, each alike: `d_mm` broad and `high_mm` high under its floor, in a seat `seat_d_mm` wide and `seat_mm` deep. `stud_mm`: what of
    it stands in the seat, 0 where all of it does; `screw`: what holds it, through a hole that is then the seat."""

    d_mm: float
    high_mm: float
    stud_mm: float
    seat_d_mm: float
    seat_mm: float
    screw: FootScrew | None = None
