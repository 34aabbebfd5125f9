"""Edits: everything that can be done to a design, as values. `apply(design, edit) -> design`."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, ConfigDict, Field, TypeAdapter, ValidationError

from rhombex.core.bench.fit import Tip
from rhombex.core.case.faces import Bulge
from rhombex.core.constructions import Construction, Hinge, Magnets, Snaps
from rhombex.core.design import (
    FOOT_LEAST_MM,
    FOOT_MOST_MM,
    RIB_HIGH_MM,
    RIB_LINES,
    Adapter,
    CouponOf,
    Direction,
    FaceText,
    FootKind,
    Handle,
    JoinKind,
    Lead,
    OwnJoint,
    OwnOpening,
    Panel,
    PaneOf,
    PartKey,
    PinnedCut,
    Place,
    PlacedOpening,
    Placement,
    PortRef,
    Process,
    RestsOn,
    RibFace,
    SourceRef,
    Stand,
    VentField,
)
from rhombex.core.parts.component import Component, Key, Rail
from rhombex.core.plain import DesignError, first_error
from rhombex.core.space import Face
from rhombex.core.stance import StandsOn
from rhombex.core.trail import Frozen
from rhombex.core.words import Name, Words

Value = float | int | str | bool | None | tuple[float, ...] | tuple[str, ...]

# An edit may ask for more than a design can hold: it is refused when it is done, so that a rule may always say what it wants.
Far = Annotated[float, Field(ge=-1e6, le=1e6)]
Far3 = tuple[Far, Far, Far]

SETTABLE = ("name", "printer", "brief.", "shell.", "process.")


class Set(Frozen):
    """Set one field of the brief, shell, process, the printer or the name, or one number of a field that holds several:
    `shell.inner_mm.0`."""

    do: Literal["set"] = "set"
    path: Annotated[str, Field(max_length=80)]
    value: Value


class Add(Frozen):
    """Put a component in; a design's own component may come along."""

    do: Literal["add"] = "add"
    placement: Placement
    custom: Component | None = None


class HoldByMagnets(Frozen):
    """Hold what is opened by pairs of magnets in place of its screws, or by screws again (null)."""

    do: Literal["magnets"] = "magnets"
    magnets: Magnets | None


class HoldBySnaps(Frozen):
    """Hold the lid of two halves by hooks that are printed with it in place of its screws, or by screws again (null)."""

    do: Literal["snaps"] = "snaps"
    snaps: Snaps | None


class HingeLid(Frozen):
    """Let the lid of two halves turn about pins along one side, or lift off (null)."""

    do: Literal["hinge"] = "hinge"
    hinge: Hinge | None


class PutRibs(Frozen):
    """Put ribs on the inside of a face, change them, or take them off (`count` 0)."""

    do: Literal["ribs"] = "ribs"
    face: RibFace
    count: Annotated[int, Field(ge=0, le=20)]
    high_mm: Annotated[float, Field(ge=1, le=60)] = RIB_HIGH_MM
    lines: Annotated[int, Field(ge=2, le=20)] = RIB_LINES


class CarryBy(Frozen):
    """Put a handle on the top of the case, change it, or take it off (null)."""

    do: Literal["handle"] = "handle"
    handle: Handle | None


class StandOnFeet(Frozen):
    """Say what the case stands on: nothing (null), feet stuck on, or feet printed soft; where besides the corners, and how high printed ones are (null: as
    they are)."""

    do: Literal["feet"] = "feet"
    foot: FootKind | None
    under: bool
    high_mm: Annotated[float, Field(ge=FOOT_LEAST_MM, le=FOOT_MOST_MM)] | None = None


class StandOn(Frozen):
    """Stand the case on its floor or on a side. Feet of a side are stuck on; those that are screwed or printed become so."""

    do: Literal["stand on"] = "stand on"
    face: StandsOn


class PutCoupon(Frozen):
    """Print a coupon of a joint along with the case, or leave it out."""

    do: Literal["coupon"] = "coupon"
    feature: CouponOf
    wanted: bool


class PlaceNew(Frozen):
    """Take a component from the library: it gets a name, and lands on its board, on a wall or in free space beside the others."""

    do: Literal["place"] = "place"
    component: Key
    custom: Component | None = None


class Remove(Frozen):
    do: Literal["remove"] = "remove"
    id: Key


class Move(Frozen):
    """Move a thing, and whatever rides on it, to a place in the cavity's frame; a coordinate that is null stays as it is."""

    do: Literal["move"] = "move"
    id: Key
    to_mm: tuple[Far | None, Far | None, Far | None]


class Turn(Frozen):
    """Turn a thing by quarter turns about its pivot; riders turn with it."""

    do: Literal["turn"] = "turn"
    id: Key
    by: Literal[90, 180, 270]


class ToFace(Frozen):
    """Put a panel component on another face."""

    do: Literal["to-face"] = "to-face"
    id: Key
    face: Face
    at_mm: tuple[Place, Place, Place]


class Blow(Frozen):
    """Say which way the fan on a wall blows; None takes it back."""

    do: Literal["blow"] = "blow"
    id: Key
    blows: Literal["in", "out"] | None


class HoldFan(Frozen):
    """Hold a fan on a wall by slots that take several thicknesses, or by its screws again."""

    do: Literal["hold-fan"] = "hold-fan"
    id: Key
    slotted: bool


class PropUp(Frozen):
    """Put a post or a hook under the free end of what is held at one end, or take it away (null)."""

    do: Literal["prop-up"] = "prop-up"
    id: Key
    rests_on: RestsOn | None


class MoveWall(Frozen):
    """Move one wall outward (or inward, negative); what stands inside keeps its place in the room."""

    do: Literal["move-wall"] = "move-wall"
    face: Face
    by_mm: Far


class FitCavity(Frozen):
    """Draw the walls round the components with the usual gaps. `thicker`: where walls are thicker inside than elsewhere, heights from the
    joint or the floor, whichever they ride on; what stands there keeps clear of it, and of squares of `pillar_mm` in the
    four upright corners (see `advice/walls_round.py`). `beside_mm`: the room that a display on a wall has on either side for what presses it there; `post_mm`: how far posts
    reach from the middle of their screws. `tips`: how far the screws of what is fixed to a wall reach in. `only_out`: no wall is moved inward."""

    do: Literal["fit-cavity"] = "fit-cavity"
    thicker: Annotated[tuple[Bulge, ...], Field(max_length=8)] = ()
    pillar_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    beside_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    post_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    tips: Annotated[tuple[Tip, ...], Field(max_length=200)] = ()
    only_out: bool = False


class Construct(Frozen):
    """Make the case another way; what is placed stays where it is."""

    do: Literal["construct"] = "construct"
    construction: Construction


class Need(Frozen):
    """Say whether a port is needed from outside. One that looks outward is, until somebody says that it is not."""

    do: Literal["need"] = "need"
    port: PortRef
    needed: bool


class PutOpening(Frozen):
    """Pin a port's opening to a place, or give it a size; both None gives it back to its port."""

    do: Literal["put-opening"] = "put-opening"
    opening: PlacedOpening


class MoveOnFace(Frozen):
    """Move what lies on a face along it (right and up as it is seen from outside): a port's opening, a field of vents, or a component
    that is fixed there."""

    do: Literal["move-on-face"] = "move-on-face"
    what: Annotated[str, Field(pattern=r"^[a-z0-9._-]{1,40}(/[a-z0-9._-]{1,40})?$")]
    by_mm: tuple[Far, Far]


class PutOwnOpening(Frozen):
    """Add an opening of one's own or change it."""

    do: Literal["put-own-opening"] = "put-own-opening"
    opening: OwnOpening


class PutText(Frozen):
    """Add text to a face or change it."""

    do: Literal["put-text"] = "put-text"
    text: FaceText


class AnchorText(Frozen):
    """Let a text go along with a component, or with its face alone (on: None). It stays where it is."""

    do: Literal["anchor-text"] = "anchor-text"
    id: Key
    on: Key | None


class RemoveText(Frozen):
    do: Literal["remove-text"] = "remove-text"
    id: Key


class AnchorOwnOpening(Frozen):
    """Let an opening of one's own go along with a component, or with its face alone (on: None). It stays where it is."""

    do: Literal["anchor-own-opening"] = "anchor-own-opening"
    id: Key
    on: Key | None


class RemoveOwnOpening(Frozen):
    do: Literal["remove-own-opening"] = "remove-own-opening"
    id: Key


class CloseBy(Frozen):
    """Close an opening of one's own by a pane of bought sheet or a printed plate, change that, or leave it open (material: None). What is not said stays as it is, or is the usual."""

    do: Literal["close-by"] = "close-by"
    id: Key
    material: PaneOf | None
    thick_mm: float | None = None
    overlap_mm: float | None = None
    over_under_mm: float | None = None
    held: Literal["glued", "screwed"] | None = None


class PutVent(Frozen):
    """Add a vent field or change it."""

    do: Literal["put-vent"] = "put-vent"
    vent: VentField


class RemoveVent(Frozen):
    do: Literal["remove-vent"] = "remove-vent"
    id: Key


class PutLead(Frozen):
    """Add a lead or change it."""

    do: Literal["put-lead"] = "put-lead"
    lead: Lead


class PutCut(Frozen):
    """Pin a part's cut to a place; it is the only one then."""

    do: Literal["put-cut"] = "put-cut"
    cut: PinnedCut


class PutCuts(Frozen):
    """Pin all cuts of a part, so that one can be moved while the others stay."""

    do: Literal["put-cuts"] = "put-cuts"
    part: PartKey
    cuts: Annotated[tuple[PinnedCut, ...], Field(min_length=1, max_length=20)]


class FreeCuts(Frozen):
    """Give a part's cuts back to the planner."""

    do: Literal["free-cuts"] = "free-cuts"
    part: PartKey


class OrderCuts(Frozen):
    """Plan the cuts of these parts before those of the others, in this order; none: as the parts come."""

    do: Literal["order-cuts"] = "order-cuts"
    parts: Annotated[tuple[PartKey, ...], Field(max_length=60)]


class JoinCuts(Frozen):
    """Say what joins the pieces of a part along all of its cuts."""

    do: Literal["join-cuts"] = "join-cuts"
    part: PartKey
    by: JoinKind


class PutJoint(Frozen):
    """Choose how the screws of one component hold and how long they are; both None gives them back to the shell and the stack."""

    do: Literal["put-joint"] = "put-joint"
    joint: OwnJoint


class PrintPart(Frozen):
    """Print one part otherwise than the rest, or one piece of it otherwise than the part; None gives it back."""

    do: Literal["print-part"] = "print-part"
    part: PartKey
    process: Process | None


class LayPart(Frozen):
    """Lay a part on another side; None lets Rhombex choose again."""

    do: Literal["lay-part"] = "lay-part"
    part: PartKey
    down: Direction | None


class PutPanel(Frozen):
    """Add a panel or change it."""

    do: Literal["put-panel"] = "put-panel"
    panel: Panel


class RemovePanel(Frozen):
    do: Literal["remove-panel"] = "remove-panel"
    id: PartKey


class StackOn(Frozen):
    """Put a board on standoffs on another one, its holes over that one's. `placement.on` names the lower board; its place is
    worked out."""

    do: Literal["stack-on"] = "stack-on"
    placement: Placement
    stand: Stand
    custom: Component | None = None


class StackUnder(Frozen):
    """Put a board under one that stands on the floor: it takes its place, the other rises on standoffs, and lid, openings and
    vents of what rises follow."""

    do: Literal["stack-under"] = "stack-under"
    id: Key
    placement: Placement
    stand: Stand
    custom: Component | None = None


class SetStand(Frozen):
    """Change the standoffs under a stacked board; lid, openings and vents of what rises or sinks follow."""

    do: Literal["set-stand"] = "set-stand"
    id: Key
    stand: Stand


class Swap(Frozen):
    """Another component in the same place, the same thing by name."""

    do: Literal["swap"] = "swap"
    id: Key
    component: Key
    custom: Component | None = None


class PutComponent(Frozen):
    """Change a component that the design carries."""

    do: Literal["put-component"] = "put-component"
    component: Component


class PutAdapter(Frozen):
    """Say what feeds a port from outside."""

    do: Literal["put-adapter"] = "put-adapter"
    adapter: Adapter


class RemoveAdapter(Frozen):
    do: Literal["remove-adapter"] = "remove-adapter"
    port: PortRef


class PutFeed(Frozen):
    """Say which supply feeds a component on a rail; None leaves it to Rhombex."""

    do: Literal["put-feed"] = "put-feed"
    component: Key
    rail: Rail
    source: SourceRef | None


class WantFace(Frozen):
    """Say on which face a port is wanted; None: on any."""

    do: Literal["want-face"] = "want-face"
    port: PortRef
    face: Face | None


class ForgetPort(Frozen):
    """Drop all that was said of a port: that it is wanted or not, on which face, its opening, its adapter, the leads in it."""

    do: Literal["forget-port"] = "forget-port"
    port: PortRef


class Rename(Frozen):
    do: Literal["rename"] = "rename"
    id: Key
    name: Name


MOST_EDITS = 200  # in one step, however they are nested


def counted(edits: tuple[Edit, ...]) -> tuple[Edit, ...]:
    """Edits, if they are not more than one step may hold, those within others counted. Raises ValueError else."""
    n, left = 0, list(edits)
    while left:
        e = left.pop()
        n += 1
        if isinstance(e, Together):
            left += e.edits
        if n > MOST_EDITS:
            raise ValueError(f"more than {MOST_EDITS} edits in one step, those within others counted")
    return edits


class Together(Frozen):
    """Several edits as one step of the history."""

    do: Literal["together"] = "together"
    said: Annotated[Words, Field(max_length=120)] = ""
    edits: Annotated[tuple[Edit, ...], Field(max_length=MOST_EDITS), AfterValidator(counted)]


Edit = Annotated[
    Set
    | Add
    | PlaceNew
    | Remove
    | Move
    | Turn
    | ToFace
    | Blow
    | HoldFan
    | PropUp
    | MoveWall
    | FitCavity
    | Construct
    | Need
    | PutOpening
    | MoveOnFace
    | PutOwnOpening
    | AnchorOwnOpening
    | RemoveOwnOpening
    | PutText
    | AnchorText
    | RemoveText
    | CloseBy
    | PutVent
    | RemoveVent
    | PutLead
    | PutCut
    | PutCuts
    | FreeCuts
    | OrderCuts
    | JoinCuts
    | PutJoint
    | HoldByMagnets
    | HoldBySnaps
    | HingeLid
    | PutRibs
    | CarryBy
    | StandOnFeet
    | StandOn
    | PutCoupon
    | PrintPart
    | LayPart
    | PutPanel
    | RemovePanel
    | StackOn
    | StackUnder
    | SetStand
    | Swap
    | PutComponent
    | PutAdapter
    | RemoveAdapter
    | PutFeed
    | WantFace
    | ForgetPort
    | Rename
    | Together,
    Field(discriminator="do"),
]

EDIT: TypeAdapter[Edit] = TypeAdapter(Edit, config=ConfigDict(defer_build=True))


def read_edit(data: Any) -> Edit:
    """Make an Edit of plain data. Raises DesignError naming the field."""
    try:
        return EDIT.validate_python(data)
    except ValidationError as e:
        field, message = first_error(e)
        raise DesignError(f"edit.{field}", message) from None
