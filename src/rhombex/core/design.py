"""The document: one immutable value that everything else is derived from.

Whatever a hand places is kept in the cavity's frame (x right, y back, z up from the inner front left bottom corner), on the cavity's
faces, or beside a component, so that a thicker wall moves nothing. The analysis works in the case's frame, whose origin is the outer
corner.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, field_validator, model_validator

from rhombex.core.constructions import (
    CaseHead,
    Construction,
    LoosePanels,
    Material,
    OwnHolding,
    PostHolding,
    SlidingPanels,
)
from rhombex.core.migrations import DESIGN_STEPS, DESIGN_VERSION, brought_up
from rhombex.core.parts import library
from rhombex.core.parts.component import Component, Key, Rail
from rhombex.core.plain import DesignError, read_as
from rhombex.core.reference import val
from rhombex.core.space import Face
from rhombex.core.stance import StandsOn
from rhombex.core.trail import Frozen
from rhombex.core.words import Name, drawable

TEXT = "text/"  # begins the name of a text on a face where openings are named too
OWN = "own/"  # begins the name of an opening of one's own where ports are named too
Place = Annotated[float, Field(ge=-2000, le=2000)]
Size = Annotated[float, Field(gt=0, le=2000)]
SourceRef = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9._-]{0,39}(/[a-z0-9._-]{1,40})?$")]
PartKey = Annotated[str, Field(pattern=r"^[a-z0-9._-]{1,40}$")]
PortRef = Annotated[str, Field(pattern=r"^[a-z0-9._-]{1,40}/[a-z0-9._-]{1,40}$")]
OF_CUTS = ("cut/", "bridge/")  # joints of a part's pieces, not of a component
JointRef = Annotated[str, Field(pattern=r"^(posts|face|hook|slots|on|cut|bridge|pane)/[a-z0-9][a-z0-9._-]{0,39}$")]


class Stand(Frozen):
    """How a board stands on the board below: the distance between their faces, standoffs bought or printed, and how much an
    extender adds to the header between them."""

    standoff_mm: Annotated[float, Field(gt=0, le=200)]
    made: Literal["bought", "printed"] = "bought"
    extender_mm: Annotated[float, Field(ge=0, le=100)] = 0.0


RestsOn = Literal["post", "hook"]


class Placement(Frozen):
    """One component in the case: the pivot's place on its mounting plane, a quarter turn, or a face. With `stand` it stands on
    the board `on`, and its height follows. `blows`: which way the fan of a wall blows; None: nobody has said. `rests_on`: what is under its free end, a post
    from the floor or a hook on the wall beside it. `slotted`: a fan on a wall is held by slots that take fans of several thicknesses, in place of its screws."""

    id: Key
    component: Key
    name: Name
    at_mm: tuple[Place, Place, Place]
    turn: Literal[0, 90, 180, 270] = 0
    face: Face | None = None
    on: Key | None = None
    stand: Stand | None = None
    blows: Literal["in", "out"] | None = None
    rests_on: RestsOn | None = None
    slotted: bool = False


class Lead(Frozen):
    """A cable between two ports, as bought: its length and the tightest bend it bears."""

    id: Key
    name: Name
    start: PortRef
    end: PortRef
    length_mm: Size
    bend_radius_mm: Annotated[float, Field(gt=0, le=200)]
    stock_mm: tuple[Size, ...] = ()


class Handle(Frozen):
    """A bow on the top of a case to carry it by: `grip_mm` long and `room_mm` high for the hand inside, its bar `bar_mm` high and `deep_mm` across.
    `runs`: the axis that it lies along; `at_mm`: its middle from the cavity's front left corner, None over the middle of the top. It is screwed from
    inside; a length of None is what the stack asks for."""

    runs: Literal["x", "y"] = "x"
    grip_mm: Annotated[float, Field(ge=60, le=300)] = Field(default_factory=lambda: val("limits.carry.grip"))
    room_mm: Annotated[float, Field(ge=20, le=120)] = Field(default_factory=lambda: val("limits.carry.room"))
    bar_mm: Annotated[float, Field(ge=8, le=60)] = 16.0
    deep_mm: Annotated[float, Field(ge=8, le=60)] = 18.0
    at_mm: tuple[Place, Place] | None = None
    thread: Literal["insert", "cut in plastic"] = "insert"
    screw_mm: Annotated[float, Field(gt=0, le=200)] | None = None


CouponOf = Literal["tongue_side", "dowel_slip", "round_hole_upright", "round_hole_lying"]

FootKind = Literal["stick-on", "screwed", "printed"]
FOOT_LEAST_MM, FOOT_MOST_MM = 3.0, 40.0  # height of printed feet


RibFace = Literal["top", "bottom", "front", "back", "left", "right"]
RIB_HIGH_MM, RIB_LINES = 6.0, 6  # twice as high as a panel is thick, and a little thinner than it; common practice


class Ribs(Frozen):
    """Ribs on the inside of a panel that keep it from giving way under a hand: how many, how far they stand into the room, and of how many
    printed lines they are."""

    face: RibFace
    count: Annotated[int, Field(ge=1, le=20)] = 3
    high_mm: Annotated[float, Field(ge=1, le=60)] = RIB_HIGH_MM
    lines: Annotated[int, Field(ge=2, le=20)] = RIB_LINES


LEAST_CHEEK_MM = 0.4  # a line: less is not printed; common practice


class Shell(Frozen):
    """The room for the components, how thick its walls are, and how the case round it is made. `feet_under`: besides those in the corners, a foot under
    everything heavy; `foot_mm`: how high printed feet are; `foot_screw_mm`: how long the screws of screwed ones are, None leaves it to the stack.
    `heads`: what the heads of the screws that hold the case are like. `stands_on`: the face that the case stands on: on a side, what comes off its top comes off towards the other side; its feet are then stuck on."""

    inner_mm: tuple[Size, Size, Size]
    wall_mm: Annotated[float, Field(ge=0.4, le=20)] = 3.15
    floor_mm: Annotated[float, Field(ge=0.4, le=20)] = 3.0
    lid_mm: Annotated[float, Field(ge=0.4, le=20)] = 3.0
    corner_radius_mm: Annotated[float, Field(ge=0, le=60)] = 8.0
    construction: Construction
    post_thread: PostHolding = "insert"
    heads: CaseHead = "socket cap"
    boss_od_mm: Annotated[float, Field(gt=0, le=60)] | None = None
    feet: bool = True
    feet_under: bool = False
    foot: FootKind = "stick-on"
    foot_mm: Annotated[float, Field(ge=FOOT_LEAST_MM, le=FOOT_MOST_MM)] = 8.0
    foot_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    handle: Handle | None = None
    ribs: Annotated[tuple[Ribs, ...], Field(max_length=5)] = ()
    stands_on: StandsOn = "bottom"

    @model_validator(mode="after")
    def _feet_of_a_side(self) -> Shell:
        if self.stands_on != "bottom" and self.foot != "stick-on":
            raise ValueError(
                f"shell.foot: feet that are {self.foot} go on the floor; under a case that stands on its {self.stands_on} they are stuck on"
            )
        return self

    def recess_mm(self, face: str) -> float:
        """How far behind the case's outside the wall of a face begins: sheet between posts lies behind their cheeks."""
        c = self.construction
        if not isinstance(c, SlidingPanels) or face not in c.sheet or face in ("top", "bottom"):
            return 0.0
        return max(0.0, self.wall_mm - c.sheet_mm)


class PlacedOpening(Frozen):
    """What a hand changed about a port's opening: pinned to a place, or given a size.

    `at_mm` counts along the face (right and up as it is seen from outside) from where the port is, so that the opening goes
    along with its component; anchored to the face, from the lower left corner of the cavity on that face.
    """

    port: PortRef
    at_mm: tuple[Place, Place] | None = None
    anchor: Literal["port", "face"] = "port"
    size_mm: tuple[Size, Size] | None = None


PaneOf = Material | Literal["printed"]
SCREWED_OVERLAP_MM = 7.0  # an M3's hole of 3.4 with 1.8 of plastic on either side; common practice


class Pane(Frozen):
    """What closes an opening of one's own from inside: bought sheet, or a printed plate that has the openings of the ports in front of it. `overlap_mm` of it
    lie on the wall all round, or only left and right where `over_under_mm` of it do above and below; glued, or held by screws with nuts."""

    material: PaneOf = "acrylic"
    thick_mm: Annotated[float, Field(ge=0.5, le=12)] = 2.0
    overlap_mm: Annotated[float, Field(ge=2, le=40)] = 5.0
    over_under_mm: Annotated[float, Field(ge=1, le=40)] | None = None
    held: Literal["glued", "screwed"] = "glued"

    @property
    def overlaps_mm(self) -> tuple[float, float]:
        """How much of it lies on the wall beside the opening, and above and below it."""
        return (self.overlap_mm, self.overlap_mm if self.over_under_mm is None else self.over_under_mm)

    @model_validator(mode="after")
    def _room_for_screws(self) -> Pane:
        if self.held == "screwed" and self.overlap_mm < SCREWED_OVERLAP_MM:
            raise ValueError(
                f"overlap_mm: screws want {SCREWED_OVERLAP_MM:g} mm of it on the wall, not {self.overlap_mm:g}"
            )
        return self


class OwnOpening(Frozen):
    """An opening of one's own on a face, for a lead, a tool, a display or a hand: a round hole, a slot, or a rectangle with rounded corners.

    `at_mm`: its middle (u, v) from the lower left corner of the cavity on that face as it is seen from outside; with `on`, from where
    that component's pivot is. With `allowed`, `size_mm` is of what goes through and the printer's allowance is added; without, it is cut
    as large as it says. A round hole has its width as its diameter. `pane`: what closes it.
    """

    id: Key
    name: Name
    face: Face
    at_mm: tuple[Place, Place]
    on: Key | None = None
    shape: Literal["round", "slot", "rectangle"] = "rectangle"
    size_mm: tuple[Size, Size]
    corner_mm: Annotated[float, Field(ge=0, le=200)] = 1.0
    allowed: bool = True
    pane: Pane | None = None


class VentField(Frozen):
    """A field of vent holes on a face: size, and centre (u, v) from the lower left corner of the cavity on that face as it is seen
    from outside; with `on`, from where that component's pivot is. The height follows the heat where it may."""

    id: Key
    face: Face
    at_mm: tuple[Place, Place]
    on: Key | None = None
    size_mm: tuple[Size, Size]
    follow_heat: bool = True


class FaceText(Frozen):
    """Text sunk into the outside of a face. `at_mm`: its middle (u, v) from the lower left corner of the cavity on that face as it is seen from outside; with
    `on`, from where that component's pivot is. `high_mm`: of a capital; `deep_mm`: of its grooves, None for the usual; `turn_deg`: against the clock."""

    id: Key
    face: Face
    at_mm: tuple[Place, Place]
    on: Key | None = None
    text: Name
    high_mm: Annotated[float, Field(ge=1, le=200)] = 8.0
    deep_mm: Annotated[float, Field(gt=0, le=20)] | None = None
    turn_deg: Literal[0, 90, 180, 270] = 0

    @field_validator("text")
    @classmethod
    def _can_be_drawn(cls, text: str) -> str:
        for c in text:
            if not drawable(c):
                raise ValueError(f"'{c}' cannot be drawn; letters of ASCII can, and they with dots or accents")
        return text


MOST_TURN_DEG = 30.0  # of a cut: cuts both ways still cross well within the plate
MOST_LEAN_DEG = 45.0  # of a cut: its face prints without support, the plate flat on the bed (common practice)

JoinKind = Literal[
    "steel pins",
    "filament pins",
    "printed pins",
    "steel rods",
    "rods through all pieces",
    "glue alone",
    "dovetails",
    "tongue and groove",
    "half-lap",
    "bolts",
    "bridging plates",
    "magnets",
]


class PinnedCut(Frozen):
    """A cut that a hand put at a place: part, axis, distance from the cavity's left, front or floor in the middle of the part. `by`: what joins it, where
    it is not what joins the part's other cuts. `turn_deg`: by how much its plane is turned, from the first axis of the plate towards the second;
    `lean_deg`: by how much it leans out of the plate's normal, farther along its axis what is farther along that. One that leans is glued alone."""

    part: PartKey
    axis: Literal["x", "y", "z"]
    at_mm: Place
    by: JoinKind | None = None
    turn_deg: Annotated[float, Field(ge=-MOST_TURN_DEG, le=MOST_TURN_DEG)] = 0.0
    lean_deg: Annotated[float, Field(ge=-MOST_LEAN_DEG, le=MOST_LEAN_DEG)] = 0.0

    @model_validator(mode="after")
    def _glued_where_it_leans(self) -> PinnedCut:
        if self.lean_deg and self.by not in (None, "glue alone"):
            raise ValueError(f"by: a cut that leans is joined by glue alone, not by {self.by}")
        return self

    def joined(self, usual: JoinKind) -> JoinKind:
        """What joins it, where `usual` joins the part's cuts."""
        return "glue alone" if self.lean_deg else self.by or usual


class CutJoin(Frozen):
    """What joins the pieces of a part along its cuts, where it is not the usual."""

    part: PartKey
    by: JoinKind


class OwnJoint(Frozen):
    """What a hand chose for the screws of one component: `posts/<id>` holds it on its posts or pads, `face/<id>` on its wall, `hook/<id>` what its free
    end rests on, `on/<id>` on the
    board that it stands on, or on bought standoffs of `standoff_mm` on posts that are shorter by so much; `cut/<part>` and `bridge/<part>` the pieces of a part to one another, `pane/<id>` what closes an opening of one's own. None leaves the thread to the shell and the length to
    the stack."""

    of: JointRef
    holding: OwnHolding | None = None
    screw_mm: Annotated[float, Field(gt=0, le=200)] | None = None
    standoff_mm: Annotated[float, Field(gt=0, le=100)] | None = None

    @model_validator(mode="after")
    def _held_by_plastic(self) -> OwnJoint:
        if self.holding is not None and not self.of.startswith("posts/"):
            raise ValueError("holding: only what stands on posts can be held another way")
        if (self.holding == "standoff") != (self.standoff_mm is not None):
            raise ValueError("standoff_mm: how long the standoffs are, where it stands on some and only there")
        return self


class Adapter(Frozen):
    """A power adapter outside the case, plugged into a port: what its label says."""

    port: PortRef
    rail: Rail
    watts: Annotated[float, Field(gt=0, le=2000)]


class Feed(Frozen):
    """Which supply or converter feeds a component on a rail, where it is not the first one that could."""

    component: Key
    rail: Rail
    source: SourceRef


class Brief(Frozen):
    """The wish list. Ports that look outward are wanted unless they are `unneeded`; `needs`: wanted in any case. `sun`: where it stands; `skill` of who prints: 1 beginner, 2 at home with it, 3 experienced. `faces`: on which
    face a port is wanted. `reuse`: components that are in the library and must go in. `budget`: money for filament and screws."""

    opened: Literal["once", "yearly", "monthly", "weekly"] = "monthly"
    stands: Literal["desk", "shelf", "wall", "carried"] = "desk"
    needs: Annotated[tuple[PortRef, ...], Field(max_length=400)] = ()
    unneeded: Annotated[tuple[PortRef, ...], Field(max_length=400)] = ()
    sun: Literal["none", "window", "outdoors"] = "none"
    skill: Annotated[int, Field(ge=1, le=3)] = 2
    room_c: Annotated[float, Field(ge=-20, le=60)] = 25
    size_limit_mm: tuple[Size, Size, Size] | None = None
    faces: Annotated[tuple[tuple[PortRef, Face], ...], Field(max_length=60)] = ()
    buttons: Annotated[int, Field(ge=0, le=20)] = 0
    display: bool = False
    window: Face | None = None
    around: Literal["adults", "children", "animals"] = "adults"
    reuse: Annotated[tuple[Key, ...], Field(max_length=40)] = ()
    budget: Annotated[float, Field(gt=0, le=100_000)] | None = None


FilamentKind = Literal["PLA", "PETG", "ABS", "ASA", "PC", "PA-CF", "PETG-CF", "TPU"]
InfillKind = Literal["lines", "grid", "triangles", "honeycomb"]


def _speed(key: str) -> Any:
    return Field(default_factory=lambda: val(f"printing.speed.{key}"), ge=0.5, le=2000)


class Speeds(Frozen):
    """Speeds asked for by feature, mm/s, before the caps of flow and printer."""

    outer_mm_s: float = _speed("outer")
    inner_mm_s: float = _speed("inner")
    solid_mm_s: float = _speed("solid")
    infill_mm_s: float = _speed("infill")
    bridge_mm_s: float = _speed("bridge")
    support_mm_s: float = _speed("support")
    first_mm_s: float = _speed("first")
    travel_mm_s: float = _speed("travel")


class Process(Frozen):
    """How a part is printed. A nozzle of None is what sits in the printer; a width or first layer of None is the usual one.

    `own_filament`: which of the workshop's own filaments of that kind, if one of them; `changes_at_mm`: heights at which the filament is changed, for colour. `brim_inside`: the brim goes into the holes of the
    foot instead of round it, for a part that just fills the bed.
    """

    filament: FilamentKind = "PLA"
    own_filament: Key | None = None
    nozzle_mm: Annotated[float, Field(ge=0.1, le=2)] | None = None
    layer_mm: Annotated[float, Field(ge=0.05, le=1.0)] = 0.2
    first_layer_mm: Annotated[float, Field(ge=0.05, le=1.0)] | None = None
    line_width_mm: Annotated[float, Field(ge=0.1, le=3.0)] | None = None
    perimeters: Annotated[int, Field(ge=1, le=20)] = 3
    top_layers: Annotated[int, Field(ge=0, le=30)] = 5
    bottom_layers: Annotated[int, Field(ge=0, le=30)] = 4
    infill: Annotated[float, Field(ge=0, le=1)] = 0.2
    infill_kind: InfillKind = "lines"
    lines_joined: bool = (
        False  # the ends of fill lines are joined along the wall; else each line is let go and begun anew
    )
    brim_mm: Annotated[float, Field(ge=0, le=30)] = 4
    brim_inside: bool = False
    supports: bool = False
    layer_min_s: Annotated[float, Field(ge=0, le=600)] = Field(default_factory=lambda: val("printing.speed.layer_min"))
    changes_at_mm: Annotated[tuple[Size, ...], Field(max_length=200)] = ()
    speeds: Speeds = Field(default_factory=Speeds)


Direction = Literal["bottom", "top", "front", "back", "left", "right"]


def read_process(data: Any) -> Process:
    """A process of plain data. Raises DesignError naming the field."""
    return read_as(Process, data, "process")


class PartProcess(Frozen):
    """A part printed otherwise than the rest, or a piece of one otherwise than its part."""

    part: PartKey
    process: Process


class Lie(Frozen):
    """How a part lies on the bed: which side of it, as it stands in the case, faces down."""

    part: PartKey
    down: Direction


class Panel(Frozen):
    """A flat panel: width, depth and thickness, corners, and a field of round vents `margin_mm` from its edges.

    `window_mm` (x, y, width, height) is a rectangular opening from its front left corner.
    """

    id: PartKey
    name: Name
    size_mm: tuple[Size, Size]
    thick_mm: Annotated[float, Field(ge=0.4, le=60)] = 3.0
    corner_mm: Annotated[float, Field(ge=0, le=60)] = 3.0
    vent_d_mm: Annotated[float, Field(ge=0, le=40)] = 0.0
    vent_pitch_mm: Annotated[float, Field(gt=0, le=80)] = 8.0
    margin_mm: Annotated[float, Field(ge=0, le=200)] = 12.0
    window_mm: tuple[Place, Place, Size, Size] | None = None


class Design(Frozen):
    """One case: what goes in, how it is walled in, cut open and printed."""

    schema_version: Annotated[int, Field(ge=DESIGN_VERSION, le=DESIGN_VERSION)] = DESIGN_VERSION
    name: Name
    brief: Brief = Brief()
    placements: tuple[Placement, ...] = Field(default=(), max_length=200)
    custom: tuple[Component, ...] = Field(default=(), max_length=50)
    leads: tuple[Lead, ...] = Field(default=(), max_length=200)
    shell: Shell
    openings: tuple[PlacedOpening, ...] = Field(default=(), max_length=400)
    own_openings: tuple[OwnOpening, ...] = Field(default=(), max_length=100)
    vents: tuple[VentField, ...] = Field(default=(), max_length=40)
    texts: tuple[FaceText, ...] = Field(default=(), max_length=60)
    cuts: tuple[PinnedCut, ...] = Field(default=(), max_length=20)
    joined: tuple[CutJoin, ...] = Field(default=(), max_length=60)
    cut_first: tuple[PartKey, ...] = Field(
        default=(), max_length=60
    )  # planned before the others', which keep out of line with them
    joints: tuple[OwnJoint, ...] = Field(default=(), max_length=200)
    printer: Key = "bench-220"
    process: Process = Process()
    part_processes: tuple[PartProcess, ...] = Field(default=(), max_length=60)
    lies: tuple[Lie, ...] = Field(default=(), max_length=60)
    panels: tuple[Panel, ...] = Field(default=(), max_length=40)
    coupons: tuple[CouponOf, ...] = Field(default=(), max_length=8)
    adapters: tuple[Adapter, ...] = Field(default=(), max_length=20)
    feeds: tuple[Feed, ...] = Field(default=(), max_length=100)

    @model_validator(mode="after")
    def _holds_together(self) -> Design:
        for what, ids in (
            ("placements", [p.id for p in self.placements]),
            ("custom", [c.key for c in self.custom]),
            ("leads", [lead.id for lead in self.leads]),
            ("vents", [v.id for v in self.vents]),
            ("openings", [o.port for o in self.openings]),
            ("own_openings", [o.id for o in self.own_openings]),
            ("texts", [t.id for t in self.texts]),
            ("part_processes", [p.part for p in self.part_processes]),
            ("lies", [p.part for p in self.lies]),
            ("panels", [p.id for p in self.panels]),
            ("coupons", [str(c) for c in self.coupons]),
            ("adapters", [a.port for a in self.adapters]),
            ("joints", [j.of for j in self.joints]),
            ("joined", [j.part for j in self.joined]),
            ("cut_first", list(self.cut_first)),
        ):
            twice = {i for i in ids if ids.count(i) > 1}
            if twice:
                raise ValueError(f"{what}: '{min(twice)}' is there twice")
        there = {p.id for p in self.placements}
        for p in self.placements:
            c = self.component(p.component)
            if c is None:  # the library no longer has it: a concern says so, and the rest is shown
                continue
            rides = c.mounting == "panel" and p.on is not None and p.face is None  # a fan on a radiator
            if (c.mounting == "panel") != (p.face is not None) and not rides:
                need = "needs a face" if c.mounting == "panel" else "takes no face"
                raise ValueError(f"placements.{p.id}: a {c.family} {need}")
            if p.blows is not None and (c.air is None or p.face is None):
                raise ValueError(f"placements.{p.id}.blows: only a fan on a wall blows in or out")
            if p.on is not None and (p.on not in there or p.on == p.id):
                raise ValueError(f"placements.{p.id}: it cannot ride on '{p.on}'")
            if p.stand is not None and p.on is None:
                raise ValueError(f"placements.{p.id}.stand: it stands on nothing; say on what")
        carriers = {p.id: p.on for p in self.placements}
        for start, below in carriers.items():
            at, steps = below, 0
            while at is not None:
                at, steps = carriers[at], steps + 1
                if steps > len(carriers):
                    raise ValueError(f"placements.{start}: things ride on one another in a ring")
        for panel in self.panels:
            w, d = panel.size_mm
            if 2 * panel.corner_mm > min(w, d) - 0.1:
                raise ValueError(f"panels.{panel.id}: corners of {panel.corner_mm:g} mm are too round for it")
            if panel.vent_d_mm > 0 and panel.vent_pitch_mm <= panel.vent_d_mm:
                raise ValueError(f"panels.{panel.id}: vents {panel.vent_pitch_mm:g} mm apart run into one another")
            if panel.vent_d_mm > 0 and w * d > 4000 * panel.vent_pitch_mm**2:
                raise ValueError(f"panels.{panel.id}: more than 4000 vents; take a wider pitch")
        if isinstance(self.shell.construction, LoosePanels) and not self.panels:
            raise ValueError("panels: loose panels need at least one panel")
        inner, s = self.shell.inner_mm, self.shell
        s.construction.check(inner[2])
        for what, placed in (("vents", self.vents), ("own_openings", self.own_openings), ("texts", self.texts)):
            for x in placed:
                if x.on is not None and x.on not in there:
                    raise ValueError(f"{what}.{x.id}.on: there is no '{x.on}' in this design")
        for j in self.joints:
            kind, of = j.of.split("/", 1)
            if kind == "pane":
                if of not in {o.id for o in self.own_openings}:
                    raise ValueError(f"joints.{j.of}: there is no such opening in this design")
            elif not j.of.startswith(OF_CUTS) and of not in there:
                raise ValueError(f"joints.{j.of}: there is no such component in this design")
        if 2 * s.wall_mm >= min(inner[0], inner[1]):
            raise ValueError(
                f"shell.wall_mm: a wall of {s.wall_mm:g} mm is too thick for a cavity of {min(inner[0], inner[1]):g} mm"
            )
        made = s.construction
        if (
            isinstance(made, SlidingPanels)
            and {*made.sheet} - {"top", "bottom"}
            and made.sheet_mm > s.wall_mm - LEAST_CHEEK_MM
        ):
            raise ValueError(
                f"shell.construction.sheet_mm: sheet of {made.sheet_mm:g} mm lies in walls of {s.wall_mm:g} mm and leaves no cheek of "
                f"{LEAST_CHEEK_MM:g} mm before it; take thinner sheet or thicker walls"
            )
        if 2 * s.corner_radius_mm > min(inner[0], inner[1]) + 2 * s.wall_mm - 0.1:
            raise ValueError(
                f"shell.corner_radius_mm: {s.corner_radius_mm:g} mm is more than half of the case's shorter side"
            )
        return self

    def printed_as(self, part: str, piece: str) -> str:
        """Under which name the process of a piece is kept: its own where it is printed otherwise than its part."""
        return piece if any(p.part == piece for p in self.part_processes) else part

    def turn_to_cut(self, part: str) -> int:
        """Whose turn it is when cuts are planned: those of `cut_first` in their order, then all others."""
        return self.cut_first.index(part) if part in self.cut_first else len(self.cut_first)

    def process_of(self, part: str) -> Process:
        """How a part, or a piece that is printed otherwise than its part, is printed: its own process where it has one."""
        return next((p.process for p in self.part_processes if p.part == part), self.process)

    def joined_by(self, part: str) -> JoinKind:
        """What joins the pieces of a part."""
        return next((j.by for j in self.joined if j.part == part), "steel pins")

    def joint(self, of: str) -> OwnJoint | None:
        """What a hand chose for the screws of a component, if anything."""
        return next((j for j in self.joints if j.of == of), None)

    def component(self, key: str) -> Component | None:
        """The component of that key, the design's own first."""
        return next((c for c in self.custom if c.key == key), None) or library().get(key)

    def placement(self, id: str) -> Placement | None:
        return next((p for p in self.placements if p.id == id), None)


def read_design(data: Any) -> Design:
    """Make a Design of plain data of any version. Raises DesignError naming the field."""
    if not isinstance(data, dict):
        raise DesignError("design", "this is not a Rhombex design: an object of fields is expected")
    return read_as(Design, brought_up(data, DESIGN_STEPS, "design"))
