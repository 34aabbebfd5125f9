"""The ways to make a case, as a document says them: a tagged union. `core/shell/<kind>.py` builds each."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from rhombex.core.space import Face
from rhombex.core.trail import Frozen

# What the screws of a part go into. A captive nut is slid in from the side, so it wants a boss that is open to the room.
Holding = Literal["insert", "cut in plastic", "captive nut"]
Threaded = Literal["insert", "cut in plastic"]
# Right through two parts to a nut under the floor: a screw, or where none is so long a rod with a nut at either end.
CaseHolding = Literal["insert", "cut in plastic", "captive nut", "through bolt", "threaded rod"]
HOLDINGS: tuple[Holding, ...] = ("insert", "cut in plastic", "captive nut")
# A post stands on a floor, from under which a nut can be put: its screw goes right through.
PostHolding = Literal["insert", "cut in plastic", "captive nut", "nut from below"]
OwnHolding = Literal["insert", "cut in plastic", "captive nut", "nut from below", "standoff"]  # of one component
POST_HOLDINGS: tuple[PostHolding, ...] = (*HOLDINGS, "nut from below")
CASE_HOLDINGS: tuple[CaseHolding, ...] = (*HOLDINGS, "through bolt", "threaded rod")
THROUGH: tuple[CaseHolding, ...] = ("through bolt", "threaded rod")
THREADED: tuple[Threaded, ...] = ("insert", "cut in plastic")
NUT_KINDS = ("two halves", "tray in a sleeve", "sliding panels")
# What of a case's screws is seen; those of its components have socket caps.
CaseHead = Literal["socket cap", "button head", "countersunk"]
CASE_HEADS: tuple[CaseHead, ...] = ("socket cap", "button head", "countersunk")
THROUGH_KINDS = ("two halves", "sliding panels")  # their screws stand upright over the floor

Grade = Literal["N35", "N42", "N52"]
GRADES: tuple[Grade, ...] = ("N35", "N42", "N52")
# A tray is not held by magnets: it carries the components. Neither is a wrap, which they would pull sideways.
MAGNET_KINDS = ("two halves", "sliding panels", "frame and covers")


class Magnets(Frozen):
    """Magnets that hold what is opened, in place of its screws: one in each part, face to face across the joint, or one in the part that is held,
    `against` the head of a steel screw in the other, which is turned until the part sits flush.

    `fixed`: pressed into pockets, glued into wider ones, or closed in: put into them while the print pauses, and printed over. `keyed`: their poles are so chosen that no part holds where it does not belong;
    else all parts show the same pole, so that covers can be exchanged. Discs of `d_mm`, or blocks `long_mm` long and `d_mm` wide, which find their place
    in narrower beams.
    """

    d_mm: Annotated[float, Field(ge=3, le=25)] = 8.0
    long_mm: Annotated[float, Field(ge=3, le=60)] | None = None
    high_mm: Annotated[float, Field(ge=1, le=10)] = 2.0
    grade: Grade = "N42"
    against: Literal["magnets", "screw heads"] = "magnets"
    fixed: Literal["pressed", "glued", "closed in"] = "pressed"
    keyed: bool = True

    @model_validator(mode="after")
    def _longer_than_wide(self) -> Magnets:
        if self.long_mm is not None and self.long_mm < self.d_mm:
            raise ValueError(
                f"long_mm: a block of {self.long_mm:g} mm is shorter than its width of {self.d_mm:g} mm; change them"
            )
        return self


class Snaps(Frozen):
    """Hooks that hang from a lid and catch in the base, or stand on a core and catch in its wrap, in place of screws: thickness and width of their arms, and how far their noses catch."""

    arm_mm: Annotated[float, Field(ge=0.8, le=5)] = 1.6
    wide_mm: Annotated[float, Field(ge=4, le=40)] = 10.0
    catch_mm: Annotated[float, Field(ge=0.3, le=3)] = 0.6


class Hinge(Frozen):
    """A lid that turns about pins along one side, and stays on the case: two hinges there, or knuckles all along it on one wire; how thick the pins are, and
    how long a knuckle is."""

    side: Literal["front", "back", "left", "right"] = "back"
    along: Literal["two hinges", "whole side"] = "two hinges"
    pin_mm: Annotated[float, Field(ge=1.5, le=6)] = 2.0
    knuckle_mm: Annotated[float, Field(ge=5, le=40)] = 8.0


class TwoHalves(Frozen):
    """Base and lid that meet in tongue and groove, `joint_mm` above the inner floor, held by screws through the lid; with a `hinge`, on its other
    sides alone.

    `lid_screw_mm` of None lets the stack choose the screws' length.
    """

    kind: Literal["two halves"] = "two halves"
    joint_mm: Annotated[float, Field(gt=0, le=2000)]
    joint_thread: CaseHolding = "insert"
    lid_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    magnets: Magnets | None = None
    snaps: Snaps | None = None
    hinge: Hinge | None = None

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """The same where the top moves by so much and the cavity becomes so high: the lid keeps its depth, so that openings under
        the joint keep their distance to it."""
        joint = min(max(self.joint_mm + by_mm, 0.5), max(high_mm - 0.5, 0.25))
        return self.model_copy(update={"joint_mm": round(joint, 3)})

    def check(self, high_mm: float) -> None:
        """Raises ValueError where this cannot stand in a cavity so high, or is held two ways."""
        if self.magnets is not None and self.snaps is not None:
            raise ValueError("shell.construction.snaps: a lid is held by magnets or by snaps")
        if self.joint_mm >= high_mm:
            raise ValueError(
                f"shell.construction.joint_mm: the joint at {self.joint_mm:g} mm must lie below the cavity's top at {high_mm:g} mm"
            )


class LoosePanels(Frozen):
    """Panels that are printed for a case that is joined by hand: nothing stands round the components yet."""

    kind: Literal["loose panels"] = "loose panels"

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """Panels know no height."""
        return self

    def check(self, high_mm: float) -> None:
        """Panels stand in any room."""


Material = Literal["acrylic", "plywood", "aluminium", "glass", "mesh"]  # mesh: perforated steel
CLEAR: tuple[Material, ...] = ("acrylic", "glass")  # one sees through them
Floor = Literal["printed", "sheet"]  # of sheet, components stand on bought standoffs that are screwed to it


class OpenBench(Frozen):
    """A plate with posts and no walls; what is fixed to a side has an upright there, with gussets of `gusset_mm`. A `plate` of sheet is cut from bought
    `material`, as thick as the floor is, and has no uprights."""

    kind: Literal["open bench"] = "open bench"
    gusset_mm: Annotated[float, Field(ge=0, le=200)] = 20.0
    plate: Floor = "printed"
    material: Material = "acrylic"

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """A plate knows no height."""
        return self

    def check(self, high_mm: float) -> None:
        """A plate stands under any room."""


class TrayInASleeve(Frozen):
    """A floor with its end plate that carries everything, and a sleeve that slides over it and closes all other sides. `opens`: the face of the
    end plate, towards which the tray comes out; screws through the plate hold it. `tab_mm`: how far a tab to pull it by stands out at its foot, 0 for none.
    With a `floor` of sheet, bought `material` as thick as the floor is, the end plate is a part of its own; screws from below hold the sheet to it, and
    at its other end to the sleeve."""

    kind: Literal["tray in a sleeve"] = "tray in a sleeve"
    opens: Face = "front"
    floor: Floor = "printed"
    material: Material = "acrylic"
    joint_thread: Holding = "insert"
    plate_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    floor_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    tab_mm: Annotated[float, Field(ge=0, le=60)] = 0.0

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """The tray goes along with its room."""
        return self

    def check(self, high_mm: float) -> None:
        """Raises ValueError where the tray could not be pulled out that way."""
        if self.opens in ("top", "bottom"):
            raise ValueError("shell.construction.opens: a tray comes out to the front, back, left or right")


class CoreAndWrap(Frozen):
    """A core, floor and mounts, that holds everything, and a thin shell of five sides that drops over it in one motion; screws from the
    sides hold it to lugs on the core. `lip_mm`: how high the core's rim stands inside the wrap. With a `floor` of sheet, bought `material` as thick as the
    floor is, the core has no rim, and each lug is a part of its own that is screwed to it from below. `snaps`: catches on a printed core hold the wrap, in place of
    its screws; over sheet they wait."""

    kind: Literal["core and wrap"] = "core and wrap"
    lip_mm: Annotated[float, Field(ge=1, le=60)] = 4.0
    floor: Floor = "printed"
    material: Material = "acrylic"
    joint_thread: Threaded = "insert"
    wrap_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    floor_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    snaps: Snaps | None = None

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """The lip stays as high as it is."""
        return self

    def check(self, high_mm: float) -> None:
        """Raises ValueError where the lip would fill the room."""
        if self.lip_mm >= high_mm:
            raise ValueError(
                f"shell.construction.lip_mm: a lip of {self.lip_mm:g} mm must end below the cavity's top at {high_mm:g} mm"
            )


class FrameAndCovers(Frozen):
    """Four beams of `beam_mm` square stand in the corners of the floor and carry the load; covers are screwed to them from outside. Covers on
    `sheet` faces, and the floor where it is among them, are cut from bought sheet of `material`, as thick as walls, lid and floor are."""

    kind: Literal["frame and covers"] = "frame and covers"
    beam_mm: Annotated[float, Field(ge=6, le=60)] = 12.0
    sheet: Annotated[tuple[Face, ...], Field(max_length=6)] = ()
    material: Material = "acrylic"
    joint_thread: Threaded = "insert"
    cover_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    top_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    beam_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    magnets: Magnets | None = None

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """Beams are as long as the room is high."""
        return self

    def check(self, high_mm: float) -> None:
        """Raises ValueError where a cover is named twice."""
        if len(set(self.sheet)) < len(self.sheet):
            raise ValueError("shell.construction.sheet: front, back, left, right, top or bottom, each once")


Wrap = Literal["none", "left to right", "front to back"]


class CornersAndSheet(Frozen):
    """Printed corner pieces of `corner_mm` square, `reach_mm` high, hold bought sheet on five sides of a `floor`, printed or of sheet; all screwed. Where the
    room is lower than two of them and a gap, one piece goes from floor to top. `wrap`: one sheet is bent over the top, from left to right or from
    front to back, with an inner radius of `bend_mm`; it is as thick as the walls."""

    kind: Literal["corners and sheet"] = "corners and sheet"
    corner_mm: Annotated[float, Field(ge=6, le=60)] = 14.0
    reach_mm: Annotated[float, Field(ge=10, le=200)] = 26.0
    material: Material = "acrylic"
    floor: Floor = "printed"
    wrap: Wrap = "none"
    bend_mm: Annotated[float, Field(ge=0.2, le=60)] = 6.0
    joint_thread: Threaded = "insert"
    cover_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    top_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    beam_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """Corners are as high as they are."""
        return self

    def check(self, high_mm: float) -> None:
        """Corners stand in any room."""


class SlidingPanels(Frozen):
    """Flat panels that slide down between grooved posts on the floor, and a top screwed to the posts that locks them. A post takes a square
    of `post_mm` of the room. On `sheet` faces they are cut from bought sheet of `material`: at the sides of `sheet_mm`, which lies at the inside of
    the wall, behind what is left of its thickness; a top is as thick as the lid. With `bottom` among them the floor is sheet as well, as thick as floors are,
    and each post a part of its own that is screwed to it."""

    kind: Literal["sliding panels"] = "sliding panels"
    post_mm: Annotated[float, Field(ge=8, le=60)] = 10.0
    sheet: Annotated[tuple[Face, ...], Field(max_length=6)] = ()
    material: Material = "acrylic"
    sheet_mm: Annotated[float, Field(ge=0.5, le=12)] = 2.0
    joint_thread: CaseHolding = "insert"
    top_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    floor_screw_mm: Annotated[float, Field(gt=0, le=100)] | None = None
    magnets: Magnets | None = None

    def raised(self, by_mm: float, high_mm: float) -> Self:
        """Panels are as high as the room."""
        return self

    def check(self, high_mm: float) -> None:
        """Raises ValueError where a face is named twice, or bolts are to end in a floor that is not printed."""
        if len(set(self.sheet)) < len(self.sheet):
            raise ValueError("shell.construction.sheet: front, back, left, right, top and bottom, each once")
        if "bottom" in self.sheet and self.joint_thread in THROUGH:
            raise ValueError(
                f"shell.construction.joint_thread: the nuts of a {self.joint_thread} sit in a floor that is printed; take inserts, or print the floor"
            )


Construction = Annotated[
    TwoHalves
    | LoosePanels
    | OpenBench
    | TrayInASleeve
    | SlidingPanels
    | CoreAndWrap
    | FrameAndCovers
    | CornersAndSheet,
    Field(discriminator="kind"),
]
