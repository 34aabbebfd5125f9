"""What a construction answers with, as values: parts, faces, walls, seams, joints, what the components stand on.

`core/shell/<kind>.py` makes a Case for each kind; openings, cuts, hardware, process, concerns and the screens read only this.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

from rhombex.core.case.faces import Bulge, CaseFace, Seam, Wall
from rhombex.core.case.fittings import Bow, Foot, Hinges, Lift, Tab
from rhombex.core.case.joints import Joint, MagnetPair, Snap
from rhombex.core.case.mounts import Bracket, FanSlots, Hook, Mount, Prop
from rhombex.core.case.parts import Part, Rib, Sheet
from rhombex.core.design import Direction
from rhombex.core.geometry.recipe import Solid
from rhombex.core.space import Box, Frame, Vec2, Vec3
from rhombex.core.stance import StandsOn, stood, stood_size, up_axis
from rhombex.core.trail import Frozen

Need = Literal["cavity", "floor", "top", "sides", "walls", "mounts", "joints", "magnets", "snaps", "seams"]


Body = Callable[[tuple[Solid, ...]], Solid]


class Case(Frozen):
    """A case before anything is cut into it. `box_mm`: its outer size, or that of the room where nothing stands round it."""

    kind: str
    box_mm: Vec3
    cavity: Box
    inner_radius_mm: float  # of the upright corners, within
    outer_radius_mm: float  # and without
    line_mm: float
    parts: tuple[Part, ...] = ()
    faces: tuple[CaseFace, ...] = ()
    walls: tuple[Wall, ...] = ()
    seams: tuple[Seam, ...] = ()
    bulges: tuple[Bulge, ...] = ()
    joints: tuple[Joint, ...] = ()
    magnets: tuple[MagnetPair, ...] = ()
    snaps: tuple[Snap, ...] = ()
    lifts: tuple[Lift, ...] = ()
    wanted_joints: int = 0  # of screws, pairs of magnets and snaps together
    held: str = "lid"  # what those joints hold, in a word
    must_hold: tuple[tuple[str, str], ...] = ()  # a part and another that at least one of them has to join
    mounts: tuple[Mount, ...] = ()
    feet: tuple[Vec2, ...] = ()
    foot: Foot | None = None  # what these are
    pillar_mm: float = 0.0  # the side of the square that a beam takes in each upright corner of the room
    footed: str = ""  # the part that the feet are on
    stands_on: StandsOn = "bottom"
    wall_feet: tuple[Vec2, ...] = ()  # where feet are stuck on the face that it stands on, (u, v), where that is a side
    slides: tuple[str, ...] = ()  # parts that slide in grooves of others
    handle: Bow | None = None
    hinge: Hinges | None = None
    props: tuple[Prop, ...] = ()
    tab: Tab | None = None
    ribs: tuple[Rib, ...] = ()
    brackets: tuple[Bracket, ...] = ()
    hooks: tuple[Hook, ...] = ()
    fan_slots: tuple[FanSlots, ...] = ()
    uprights: tuple[Box, ...] = ()  # what of a part without walls stands up at its sides, with its gussets
    beside_mm: float = 0.0  # of the room beside the frame of a display on a wall, for a bracket; 0 where there is none

    @property
    def floor_sheet(self) -> Sheet | None:
        """The bought sheet that its floor is, on which nothing can be printed; None where that is printed or there is none."""
        return next((p.sheet for p in self.parts if p.name == self.footed), None)

    @property
    def stands_at(self) -> tuple[Vec3, ...]:
        """The middles of its feet, on its outside."""
        if self.stands_on == "bottom":
            return tuple((x, y, 0.0) for x, y in self.feet)
        return tuple(self.face(self.stands_on).at(f) for f in self.wall_feet)

    @property
    def stance(self) -> Frame:
        """The case as it stands: x to the right, y to the back, z up as its user sees it, from its lower left front corner."""
        return stood(self.stands_on, self.box_mm)

    @property
    def stood_mm(self) -> Vec3:
        """Width, depth and height over all as it stands."""
        return stood_size(self.stands_on, self.over_all_mm)

    @property
    def foot_d_mm(self) -> float:
        """How broad its feet are."""
        return self.foot.d_mm if self.foot else 0.0

    @property
    def fastened(self) -> tuple[Joint | MagnetPair | Snap, ...]:
        """All that holds its parts together: screws, pairs of magnets, snaps."""
        return (*self.joints, *self.magnets, *self.snaps)

    @property
    def screws(self) -> tuple[Joint, ...]:
        """The screws of the case: those that hold its parts together, and those of its handle."""
        return (*self.joints, *(self.handle.screws if self.handle else ()))

    @property
    def over_all_mm(self) -> Vec3:
        """Its outer size with the handle that stands on it, the feet that it stands on, the hinges beside it, and the tab that it is pulled out by."""
        w, d, h = self.box_mm
        if self.hinge is not None and self.hinge.knuckles:
            beside = self.hinge.out_mm + self.hinge.r_mm
            w, d = (w, d + beside) if self.hinge.axis == 0 else (w + beside, d)
        if self.tab is not None:
            w, d = (a + abs(o) * s for a, o, s in zip((w, d), self.tab.out[:2], self.tab.box.size[:2], strict=True))
        feet = self.foot.high_mm if self.foot and self.stands_at else 0.0
        size = [w, d, max(h, self.handle.middle[2] + self.handle.size_mm[2]) if self.handle else h]
        size[up_axis(self.stands_on)] += feet
        return (size[0], size[1], size[2])

    @property
    def kept_whole(self) -> tuple[Joint | MagnetPair | Snap, ...]:
        """All round which nothing may be cut."""
        of_handle = self.handle.screws if self.handle else ()
        of_hooks = (j for h in self.hooks for j in h.screws)
        of_slots = (j for s in self.fan_slots for j in s.screws)
        return (*self.fastened, *of_handle, *(b.screw for b in self.brackets), *of_hooks, *of_slots)

    def screws_through(self, part: str) -> tuple[Joint, ...]:
        """All screws that go through a part and have their heads on it: of the case, its handle, brackets, hooks and slots."""
        return tuple(j for j in self.kept_whole if isinstance(j, Joint) and j.holds == part)

    def slotted(self, thing: str) -> bool:
        """Whether slots hold a fan, in place of its screws."""
        return any(s.of == thing for s in self.fan_slots)

    @property
    def sides(self) -> dict[str, Direction]:
        """The side that each part usually lies on."""
        return {p.name: p.down for p in self.parts}

    def face(self, id: str) -> CaseFace:
        """The face of that name. Raises KeyError where this case has none."""
        for f in self.faces:
            if f.id == id:
                return f
        raise KeyError(id)

    def part(self, name: str) -> Part:
        """The part of that name. Raises KeyError where this case has none."""
        for p in self.parts:
            if p.name == name:
                return p
        raise KeyError(name)

    def behind(self, face: str, u0: float, v0: float, u1: float, v1: float) -> tuple[str, ...]:
        """The parts that a rectangle on a face is cut into."""
        return tuple(
            w.part
            for w in self.walls
            if w.face == face and u1 > w.lo_mm[0] and u0 < w.hi_mm[0] and v1 > w.lo_mm[1] and v0 < w.hi_mm[1]
        )

    def most_of(self, face: str) -> Part | None:
        """The part that most of a face is, if a wall stands there."""
        walls = [w for w in self.walls if w.face == face]
        largest = max(walls, key=lambda w: (w.hi_mm[0] - w.lo_mm[0]) * (w.hi_mm[1] - w.lo_mm[1]), default=None)
        return self.part(largest.part) if largest else None

    def wall_at(self, face: str, p: Vec3) -> bool:
        """Whether a wall stands behind a face before a point of the case."""
        u, v = self.face(face).on(p)
        return bool(self.behind(face, u - 0.01, v - 0.01, u + 0.01, v + 0.01))

    def has(self, need: Need) -> bool:
        """Whether there is what a rule looks at."""
        whole = {f.id for f in self.faces if f.whole}
        sides = {"front", "back", "left", "right"}
        return bool(
            {
                "cavity": whole >= {*sides, "top", "bottom"},
                "floor": "bottom" in whole,
                "top": "top" in whole,
                "sides": sides & {w.face for w in self.walls},
                "walls": self.walls,
                "mounts": self.mounts,
                "joints": self.fastened or self.wanted_joints,
                "magnets": self.magnets,
                "snaps": self.snaps,
                "seams": self.seams,
            }[need]
        )


@dataclass(frozen=True)
class Built:
    """A case, and how each of its parts is made once it is known what is cut into it."""

    case: Case
    bodies: dict[str, Body]
    on_bed: dict[str, Solid] = field(
        default_factory=dict
    )  # of a part of several bodies: how these lie beside one another
