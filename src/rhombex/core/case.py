"""What a construction answers with, as values: parts, faces, walls, seams, joints, what the components stand on.

`core/shell/<kind>.py` makes a Case for each kind; openings, cuts, hardware, process, concerns and the screens read only this.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Annotated, Literal

from pydantic import Field

from rhombex.core.constructions import CaseHead, CaseHolding, Grade, Material
from rhombex.core.design import Direction
from rhombex.core.geometry.recipe import Loop, Solid
from rhombex.core.parts.component import Thread
from rhombex.core.space import Box, Face, Frame, Vec2, Vec3
from rhombex.core.stance import StandsOn, stood, stood_size, up_axis
from rhombex.core.trail import Frozen

Height = Annotated[float, Field(ge=-10_000, le=10_000)]
Need = Literal["cavity", "floor", "top", "sides", "walls", "mounts", "joints", "magnets", "snaps", "seams"]


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


class Joint(Frozen):
    """A screw that holds one part (`holds`) on another (`into`), with the boss it goes into. `opened`: undone whenever the case is; `pinned`: a hand chose its length; `slot`: the way in which a captive nut's slot
    is open; `rooted`: its boss stands on a wall that is part of `boss`, and that nothing may cut there.

    `at`: where its axis meets the seam, in the case's frame; `along`: the way it is driven, a unit vector along an axis of the case, so that
    its head lies on the side of `holds`. `boss`: the plastic round it in both parts, that nothing may cut. `thread_path` and `screw_path`:
    the fields of the design that choose how it holds and how long it is. `head_d_mm`: how wide its recess is, `head_depth_mm` deep, under which a countersink goes `cone_mm` deeper, and a
    countersunk screw is measured from the top of its head. `passed_mm`: what it passes of the part that it holds; `pocket_mm`: how deep under
    the other the pocket of its nut is, where it goes right through, and `bridge_mm` the layers that close it.
    """

    id: str
    name: str
    holds: str
    into: str
    at: Vec3
    along: Vec3
    boss: Box
    thread: Thread
    holding: CaseHolding
    od_mm: float
    hole_mm: float
    hole_depth_mm: float
    clearance_mm: float
    head: CaseHead
    head_d_mm: float
    head_depth_mm: float
    cone_mm: float
    grip_mm: float
    passed_mm: float
    screw_mm: float | None
    engagement_mm: float
    opened: bool
    pinned: bool
    slot: Vec3 | None
    thread_path: str
    screw_path: str
    pocket_mm: float = 0.0
    bridge_mm: float = 0.0
    rooted: bool = False

    def runs_in(self) -> Box:
        """The plastic from the end of its hole to beyond its head, with the wall under a boss that stands on one."""
        if self.rooted:
            return self.boss
        i = next(k for k in range(3) if self.along[k])
        end = self.at[i] + self.along[i] * self.hole_depth_mm
        lo, hi = list(self.boss.lo), list(self.boss.hi)
        if self.along[i] < 0:
            lo[i] = end
        else:
            hi[i] = end
        return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


class HeadScrew(Frozen):
    """A steel screw whose head a magnet holds on to, level with the joint: `head_hole_mm` wide and `head_deep_mm` deep its head's recess, then a hole of
    `hole_mm` that it cuts its thread in, `deep_mm` below the recess. `long_mm`: None where none in stock is so short."""

    thread: Thread
    head_d_mm: float
    head_hole_mm: float
    head_deep_mm: float
    hole_mm: float
    deep_mm: float
    long_mm: float | None


class MagnetPair(Frozen):
    """Two magnets face to face across a joint: one in the part that is held (`holds`), one in what it is held on (`into`), both of which have
    a pocket `deep_mm` deep.

    `at`: the middle between them, in the case's frame; `along`: from the part that is held to the other, a unit vector along an axis of the case.
    `cover_mm`: the plastic between pocket and joint, where it is closed in; `behind_mm`: the plastic of the held part that stays behind its pocket. `screw`: what is in the other part in place of a magnet. `pole`: which pole of the magnet in `into` faces out of its pocket; the
    other's faces out of the other. A block is `long_mm` long, along the axis `lies` of the case, and `d_mm` wide, as is its pocket; a disc has neither.
    """

    id: str
    name: str
    holds: str
    into: str
    at: Vec3
    along: Vec3
    boss: Box
    od_mm: float
    d_mm: float
    high_mm: float
    grade: Grade
    deep_mm: float
    holds_pocket_mm: float
    into_pocket_mm: float
    behind_mm: float
    cover_mm: float = 0.0
    pole: Literal["N", "S"] = "N"
    opened: bool = True
    screw: HeadScrew | None = None
    long_mm: float | None = None
    lies: int = 0
    holds_pocket_long_mm: float = 0.0
    into_pocket_long_mm: float = 0.0

    @property
    def magnets(self) -> int:
        """How many magnets it takes."""
        return 1 if self.screw else 2

    @property
    def hole_depth_mm(self) -> float:
        """How deep its pocket is."""
        return self.deep_mm

    def runs_in(self) -> Box:
        """Both pockets with the plastic round them."""
        i = next(k for k in range(3) if self.along[k])
        lo, hi = list(self.boss.lo), list(self.boss.hi)
        ends = sorted(self.at[i] + s * self.along[i] * (self.deep_mm + self.behind_mm) for s in (-1, 1))
        lo[i], hi[i] = max(lo[i], ends[0]), min(hi[i], ends[1])
        return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


class Snap(Frozen):
    """A hook of a part (`holds`) that catches in another (`into`). `at`: where its arm's outer face and its catching face meet; `inward`: from the wall into
    the room, the way it gives; `long_mm`: from its root to there; `tip_mm`: the height of its end. `standing`: its arm stands on the part that it catches for;
    else it hangs from the one that it holds."""

    id: str
    name: str
    holds: str
    into: str
    at: Vec3
    along: Vec3
    inward: Vec3
    boss: Box
    od_mm: float
    arm_mm: float
    wide_mm: float
    catch_mm: float
    long_mm: float
    tip_mm: float
    standing: bool = False
    opened: bool = True

    @property
    def hook_on(self) -> str:
        """The part that it is printed with."""
        return self.into if self.standing else self.holds

    def runs_in(self) -> Box:
        """Arm and nose with what they catch in."""
        return self.boss


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


class Mount(Frozen):
    """What a component's mounting point stands on, from the floor of part `part` up to z `top_mm`.

    On a floor of bought sheet, which is only drilled: `nut`, a standoff of `standoff_mm` whose stud goes through the sheet into a nut under it; or `through`.

    `insert` / `cut in plastic`: the screw comes from above. `through`: from below, its head sunk into the floor. `nut from below`: from above, right through
    to a nut in a pocket of the underside, `pocket_mm` deep and `pocket_d_mm` across its corners, whose ceiling is bridged in steps of `bridge_mm`, a layer. `clamps`: boards above
    on printed standoffs that the same screw holds, from below up. `stud`: what stands in the post is a bought standoff's, of one that stands on the board, or
    of one of `standoff_mm` that carries it. `slot`: the way
    in which a captive nut's slot is open. `beside`: of a component without holes, that the post stands beside: it carries the edge at `top_mm`, rises by
    `step_mm` round it, and the screw's head holds it down.
    """

    of: str
    mount: str
    part: str
    at: Vec2
    top_mm: float
    thread: Thread
    holding: Literal["insert", "cut in plastic", "captive nut", "nut from below", "nut", "through"]
    od_mm: float
    hole_mm: float
    hole_depth_mm: float
    head_d_mm: float
    head_depth_mm: float
    grip_mm: float
    screw_mm: float | None
    engagement_mm: float
    clamps: tuple[str, ...] = ()
    stud: bool = False
    slot: Vec3 | None = None
    beside: Box | None = None
    step_mm: float = 0.0
    pocket_mm: float = 0.0
    pocket_d_mm: float = 0.0
    bridge_mm: float = 0.0
    standoff_mm: float = 0.0

    @property
    def passed_mm(self) -> float:
        """What the screw passes before the post: all that stands on it."""
        return self.grip_mm - (self.top_mm - self.pocket_mm if self.pocket_mm else 0.0)

    @property
    def open_below_mm(self) -> float:
        """Diameter of what is open in the underside, a sunk head or a nut's pocket; 0 where nothing is."""
        return self.head_d_mm if self.holding == "through" else self.pocket_d_mm

    @property
    def box(self) -> Box:
        """The box round the post and the standoff on it, from z = 0 to its tip."""
        (x, y), r = self.at, self.od_mm / 2
        return Box((x - r, y - r, 0.0), (x + r, y + r, self.top_mm + self.step_mm + self.standoff_mm))


class Prop(Frozen):
    """A post under the free end of a component, from the floor of a part up to `top_mm`: nothing is screwed to it."""

    of: str
    part: str
    at: Vec2
    top_mm: float
    d_mm: float

    @property
    def box(self) -> Box:
        """The box round it."""
        (x, y), r = self.at, self.d_mm / 2
        return Box((x - r, y - r, 0.0), (x + r, y + r, self.top_mm))


FrameSide = Literal["left", "bottom", "right", "top"]  # of a display's frame, as its face is seen from outside


class Bracket(Frozen):
    """What presses a display to its wall by its frame, screwed to a boss `high_mm` high on the inside of face `face`; one body of the part `part`.

    `frame`: at the edge of the display's frame on the wall's inside, x away from the display, y into the room. The flange lies `reach_mm` over the wall,
    `gap_mm` is between the edge and what rises beside it, `off_mm` between the edge and the screw, foot and boss are `wide_mm` wide, and `strip_mm` are left for a strip of foam under the flange. `ramp`: where the boss prints lying, the way down along the face,
    in which a slope carries it. `rooms`: what boss, foot and the screw's head take, and the flange over the frame.
    """

    of: str
    part: str
    face: str
    side: FrameSide
    frame: Frame
    gap_mm: float
    off_mm: float
    high_mm: float
    reach_mm: float
    wide_mm: float
    strip_mm: float
    ramp: Vec2 | None
    rooms: tuple[Box, ...]
    screw: Joint


class Hook(Frozen):
    """What the free end of a component rests on where a wall is near: a wedge inside face `face`, screwed to its part `on` from outside; one body of its own,
    the part `part`. `frame`: at the middle of its upper edge on the wall's inside, x into the room, y up. Its top reaches `reach_mm` into the room, is `tip_mm`
    thick there, and from there its underside goes down to the wall at 45 degrees; `wide_mm` along the wall. `room`: what it takes."""

    of: str
    part: str
    on: str
    face: str
    frame: Frame
    reach_mm: float
    tip_mm: float
    wide_mm: float
    room: Box
    screws: tuple[Joint, Joint]


class FanSlots(Frozen):
    """What holds a fan of one of several thicknesses (`takes_mm`) inside `face`: two rails screwed to the part `on` from outside, along axis `along` of the face, and two
    bars through their slots; the four bodies of the part `part`. `lo_mm` to `hi_mm`: the fan there, `own_mm` thick now; a rail is `rail_mm` wide, `gap_mm` beside all that it
    holds. `rooms`: what rails, bars and heads of bars take."""

    of: str
    part: str
    on: str
    face: str
    along: int
    lo_mm: Vec2
    hi_mm: Vec2
    rail_mm: float
    gap_mm: float
    own_mm: float
    takes_mm: tuple[float, ...]
    rooms: tuple[Box, ...]
    screws: tuple[Joint, ...]


class Flat(Frozen):
    """A flat stretch of a part that counts for its stiffness; `flat`: it lies where the part lies on its usual side."""

    name: str
    thick_mm: float
    flat: bool


class Bar(Frozen):
    """How wide a bar is along axis `across`, where what joins its pieces takes all of it. `solid`: nothing runs along it, so that a pin finds room in its middle."""

    across: int
    lo_mm: float
    hi_mm: float
    solid: bool = True

    @property
    def wide_mm(self) -> float:
        """Its width."""
        return self.hi_mm - self.lo_mm


class Kept(Frozen):
    """What a part has that is none of the case's openings: where it is, what it is, and whether a cut through it only costs (`soft`). `round_at`: the middles of
    the round holes in it, `round_mm` across."""

    why: str
    box: Box
    soft: bool = False
    round_at: tuple[Vec2, ...] = Field(default=(), exclude=True)  # of thousands: no picture needs them
    round_mm: float = Field(default=0.0, exclude=True)


class Seat(Frozen):
    """Where dowels can sit in a part that is cut: on the plate across `axis` between its outer face at `outer_mm` and its inner face at
    `inner_mm`, `edge_mm` clear of the cavity's sides, or `upright_mm` of floor and top. `bare`: nothing may stand on its inner face, since the part lies on it or something slides along
    it. `far_mm`: from where to where the wall opposite is, where what joins the plate goes through that one too. `bar`: it is no plate but so slim that
    what joins it lies within. `alone`: it is in no room of the case, and what joins it may be anywhere on it."""

    outer_mm: float
    inner_mm: float
    edge_mm: float
    axis: int = 2
    bare: bool = False
    far_mm: Vec2 | None = None
    upright_mm: float | None = None
    bar: Bar | None = None
    alone: bool = False

    def clear_mm(self, axis: int) -> float:
        """How far from the cavity's sides along an axis of the case."""
        return self.upright_mm if axis == 2 and self.upright_mm is not None else self.edge_mm


class PutOn(Frozen):
    """How a part comes to its place: along which way (a unit vector of the case's frame) and from how far."""

    along: Vec3
    travel_mm: float


Body = Callable[[tuple[Solid, ...]], Solid]


class Fold(Frozen):
    """Where a face lies in the flat of a bent sheet, seen from outside: `along` and `across` are where u and v of the face run there."""

    face: str
    along: Vec2
    across: Vec2
    shift: Vec2

    def at(self, uv: Vec2) -> Vec2:
        """A point of the face in the flat."""
        (ax, ay), (cx, cy), (sx, sy), (u, v) = self.along, self.across, self.shift, uv
        return (ax * u + cx * v + sx, ay * u + cy * v + sy)

    def loop(self, loop: Loop) -> Loop:
        """A loop of the face in the flat."""
        return tuple((*self.at((u, v)), b) for u, v, b in loop)


class Bend(Frozen):
    """A bend of a sheet by 90 degrees, away from who looks at its outside: its middle line in the flat, its inner radius, what it takes of the flat, and
    the corner of the case that it stands for."""

    ends: tuple[Vec2, Vec2]
    inner_mm: float
    allowance_mm: float
    between: tuple[str, str]


class Sheet(Frozen):
    """What a part is cut from that is bought: material, thickness, the face that it closes and its outline there, seen from outside; of a bent one
    the outline of its flat, where faces lie in it (`folds`), and its `bends`."""

    material: Material
    thick_mm: float
    face: str
    outline: Loop
    folds: tuple[Fold, ...] = ()
    bends: tuple[Bend, ...] = ()

    @property
    def faces(self) -> tuple[str, ...]:
        """The faces that it closes."""
        return tuple(f.face for f in self.folds) or (self.face,)

    def fold(self, face: str) -> Fold:
        """Where a face of it lies in the flat. Raises KeyError for one that it does not close."""
        if not self.folds and face == self.face:
            return Fold(face=face, along=(1.0, 0.0), across=(0.0, 1.0), shift=(0.0, 0.0))
        for f in self.folds:
            if f.face == face:
                return f
        raise KeyError(face)


class Rib(Frozen):
    """A rib on the inside of a face, in the part that closes it: from the wall into the room. `across`: the axis of the case across which it is thin."""

    face: str
    part: str
    box: Box
    across: int


class Part(Frozen):
    """A printed part of a case, or one cut from bought `sheet`. `size_mm`: the box round it as it stands. `warm`: it holds the air that the components
    warm. `seat`: the plate that cuts to the bed run across and that holds what joins the pieces; without it the part is not cut. `side_seat`: a wall
    that it is cut across where it stands too tall for the bed. `shown`: what its outer face shows if it lies as usual. `bodies`: of how many it is,
    like tubes that are printed side by side. `in_place`: its recipe stands where it belongs in the case; a panel drawn by hand has no place. `ribbed`:
    the face that it closes whole, where ribs may stand on its inside. `rides`: the part that it comes to its place with, and with what that one carries. `only`:
    the axes that it may be cut across, where these are not all. `kept`: what cuts keep off besides all that the case has in it."""

    name: str
    size_mm: Vec3 | None
    down: Direction
    plates: tuple[Flat, ...]
    warm: bool = False
    seat: Seat | None = None
    side_seat: Seat | None = None
    put_on: PutOn | None = None
    shown: str = ""
    bodies: int = 1
    in_place: bool = True
    sheet: Sheet | None = None
    ribbed: str = ""
    rides: str = ""
    only: tuple[int, ...] | None = None
    kept: tuple[Kept, ...] = ()

    @property
    def bar(self) -> Bar | None:
        """That it is a bar, however it is cut."""
        seat = self.side_seat or self.seat
        return seat.bar if seat else None


class Case(Frozen):
    """A case before anything is cut into it. `box_mm`: its outer size, or that of the room where nothing stands round it."""

    kind: str
    box_mm: Vec3
    cavity: Box
    inner_radius_mm: float
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


def one_of_each(joints: tuple[Joint, ...]) -> tuple[Joint, ...]:
    """The first of the joints of each name: they are alike, and one voice speaks for all."""
    return tuple({j.name: j for j in reversed(joints)}.values())[::-1]
