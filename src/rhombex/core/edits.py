"""Edits: everything that can be done to a design, as values. `apply(design, edit) -> design`."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, TypeAdapter, ValidationError

from rhombex.core.bench.fit import fit_cavity
from rhombex.core.bench.placing import new_placement
from rhombex.core.bench.stack import set_stand, stack_on, stack_under, tower
from rhombex.core.bench.walls import moved_walls, shifted
from rhombex.core.bench.wanted import always_open
from rhombex.core.case import Bulge, Case
from rhombex.core.constructions import MAGNET_KINDS, Construction, Magnets, Snaps, TwoHalves
from rhombex.core.design import (
    OWN,
    Adapter,
    CutJoin,
    Design,
    Direction,
    Feed,
    JoinKind,
    Lead,
    Lie,
    OwnJoint,
    OwnOpening,
    Panel,
    PartKey,
    PartProcess,
    PinnedCut,
    Place,
    PlacedOpening,
    Placement,
    PortRef,
    Process,
    SourceRef,
    Stand,
    VentField,
)
from rhombex.core.parts import library
from rhombex.core.parts.component import Component, Key, Rail
from rhombex.core.plain import DesignError, first_error
from rhombex.core.space import FACE_U, FACE_V, Face
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
    """Put a panel part on another face."""

    do: Literal["to-face"] = "to-face"
    id: Key
    face: Face
    at_mm: tuple[Place, Place, Place]


class MoveWall(Frozen):
    """Move one wall outward (or inward, negative); what stands inside keeps its place in the room."""

    do: Literal["move-wall"] = "move-wall"
    face: Face
    by_mm: Far


class FitCavity(Frozen):
    """Draw the walls round the parts with the usual gaps. `thicker`: where walls are thicker inside than elsewhere, heights from the
    joint or the floor, whichever they ride on; what stands there keeps clear of it, and of squares of `pillar_mm` in the
    four upright corners (see `walls_round`). `only_out`: no wall is moved inward."""

    do: Literal["fit-cavity"] = "fit-cavity"
    thicker: Annotated[tuple[Bulge, ...], Field(max_length=8)] = ()
    pillar_mm: Annotated[float, Field(ge=0, le=200)] = 0.0
    only_out: bool = False


def walls_round(case: Case) -> FitCavity:
    """The edit that draws the walls of a case round its parts, with room for the thickening of its rim."""
    base = {"joint": case.seams[0].at_mm if case.seams else 0.0, "floor": case.cavity.lo[2]}
    return FitCavity(thicker=tuple(b.raised(-base[b.rides]) for b in case.bulges), pillar_mm=case.pillar_mm)


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


class AnchorOwnOpening(Frozen):
    """Let an opening of one's own go along with a component, or with its face alone (on: None). It stays where it is."""

    do: Literal["anchor-own-opening"] = "anchor-own-opening"
    id: Key
    on: Key | None


class RemoveOwnOpening(Frozen):
    do: Literal["remove-own-opening"] = "remove-own-opening"
    id: Key


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
    """Print one part otherwise than the rest; None gives it back to the common process."""

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
    """Say which supply feeds a part on a rail; None leaves it to Rhombex."""

    do: Literal["put-feed"] = "put-feed"
    part: Key
    rail: Rail
    source: SourceRef | None


class WantFace(Frozen):
    """Say on which face a port is wanted; None: on any."""

    do: Literal["want-face"] = "want-face"
    port: PortRef
    face: Face | None


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
    | MoveWall
    | FitCavity
    | Construct
    | Need
    | PutOpening
    | MoveOnFace
    | PutOwnOpening
    | AnchorOwnOpening
    | RemoveOwnOpening
    | PutVent
    | RemoveVent
    | PutLead
    | PutCut
    | PutCuts
    | FreeCuts
    | JoinCuts
    | PutJoint
    | HoldByMagnets
    | HoldBySnaps
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
    | Rename
    | Together,
    Field(discriminator="do"),
]
Together.model_rebuild()

EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)


def read_edit(data: Any) -> Edit:
    """Make an Edit of plain data. Raises DesignError naming the field."""
    try:
        return EDIT.validate_python(data)
    except ValidationError as e:
        field, message = first_error(e)
        raise DesignError(f"edit.{field}", message) from None


def _thing(design: Design, id: str) -> Placement:
    p = design.placement(id)
    if p is None:
        raise DesignError("edit.id", f"there is no '{id}' in this design", "It may have been taken out elsewhere.")
    return p


def _upsert(items: tuple[Any, ...], new: Any, key: str) -> tuple[Any, ...]:
    same = [getattr(i, key) == getattr(new, key) for i in items]
    if any(same):
        return tuple(new if s else i for i, s in zip(items, same, strict=True))
    return (*items, new)


def _turn_about(p: Placement, centre: tuple[float, float, float], by: int) -> Placement:
    dx, dy = p.at_mm[0] - centre[0], p.at_mm[1] - centre[1]
    for _ in range(by // 90):
        dx, dy = -dy, dx
    at = (centre[0] + dx, centre[1] + dy, p.at_mm[2])
    return p.model_copy(update={"at_mm": at, "turn": (p.turn + by) % 360})


def _with(old: Frozen, field: str, path: str, value: Value) -> dict[str, Any]:
    """The plain fields of a value with one of them, however deep, set anew. Raises DesignError where there is none."""
    name, _, rest = field.partition(".")
    now = getattr(old, name, None)
    if name not in type(old).model_fields:
        raise DesignError("edit.path", f"'{path}' is not a field that can be set")
    if rest and isinstance(now, tuple) and rest.isdecimal() and int(rest) < len(now):
        return {**old.model_dump(), name: tuple(value if k == int(rest) else x for k, x in enumerate(now))}
    if rest and not isinstance(now, Frozen):
        raise DesignError("edit.path", f"'{path}' is not a field that can be set")
    return {**old.model_dump(), name: _with(now, rest, path, value) if rest and isinstance(now, Frozen) else value}


def _change(d: Design, e: Edit) -> dict[str, Any]:
    """The fields of the design that an edit replaces."""
    match e:
        case Set(path=path, value=value):
            if not any(path == s or (s.endswith(".") and path.startswith(s)) for s in SETTABLE):
                raise DesignError("edit.path", f"'{path}' is not a field that can be set")
            head, _, field = path.partition(".")
            if not field:
                return {head: value}
            return {head: _with(getattr(d, head), field, path, value)}
        case Add(placement=p, custom=c):
            change: dict[str, Any] = {"placements": (*d.placements, p)}
            if c is not None:
                change["custom"] = _upsert(d.custom, c, "key")
            return change
        case PlaceNew(component=key, custom=c):
            with_own = d.model_copy(update=_carried(d, c))
            found = with_own.component(key)
            if found is None:
                raise DesignError("edit.component", f"there is no component '{key}' in the library or the design")
            return {"placements": (*d.placements, new_placement(with_own, found))} | _carried(d, c)
        case Remove(id=id):
            _thing(d, id)
            gone = tower(d, id)

            def stays(ref: str) -> bool:
                return ref.split("/", maxsplit=1)[0] not in gone

            return {
                "placements": tuple(p for p in d.placements if p.id not in gone),
                "adapters": tuple(a for a in d.adapters if stays(a.port)),
                "feeds": tuple(f for f in d.feeds if f.part not in gone and f.source not in gone),
                "leads": tuple(x for x in d.leads if stays(x.start) and stays(x.end)),
                "openings": tuple(o for o in d.openings if stays(o.port)),
                "vents": tuple(v for v in d.vents if v.on is None or v.on not in gone),
                "own_openings": tuple(o for o in d.own_openings if o.on is None or o.on not in gone),
                "joints": tuple(j for j in d.joints if j.of.startswith("cut/") or j.of.split("/", 1)[1] not in gone),
                "brief": d.brief.model_copy(
                    update={
                        "needs": tuple(n for n in d.brief.needs if stays(n)),
                        "unneeded": tuple(n for n in d.brief.unneeded if stays(n)),
                        "faces": tuple(w for w in d.brief.faces if stays(w[0])),
                    }
                ),
            }
        case Move(id=id, to_mm=to):
            old_at, moved = _thing(d, id).at_mm, tower(d, id)
            by = tuple(0.0 if b is None else b - a for a, b in zip(old_at, to, strict=True))
            return {"placements": shifted(d.placements, by, moved)}  # type: ignore[arg-type]
        case Turn(id=id, by=by_deg):
            centre, moved = _thing(d, id).at_mm, tower(d, id)
            return {"placements": tuple(_turn_about(p, centre, by_deg) if p.id in moved else p for p in d.placements)}
        case ToFace(id=id, face=face, at_mm=at):
            new = _thing(d, id).model_copy(update={"face": face, "at_mm": at})
            return {"placements": _upsert(d.placements, new, "id")}
        case MoveWall(face=face, by_mm=by_wall):
            return moved_walls(d, {face: by_wall})
        case FitCavity(thicker=thicker, pillar_mm=pillar, only_out=only_out):
            return fit_cavity(d, thicker, pillar, only_out)
        case Construct(construction=construction):
            return {"shell": d.shell.model_copy(update={"construction": construction})}
        case HoldByMagnets(magnets=magnets):
            if d.shell.construction.kind not in MAGNET_KINDS:
                raise DesignError(
                    "edit.magnets",
                    f"what holds a case of the kind {d.shell.construction.kind} is not held by magnets",
                    f"Magnets hold {', '.join(MAGNET_KINDS[:-1])} and {MAGNET_KINDS[-1]}.",
                )
            other = {"snaps": None} if isinstance(d.shell.construction, TwoHalves) else {}
            held = d.shell.construction.model_copy(update={"magnets": magnets, **other})
            return {"shell": d.shell.model_copy(update={"construction": held})}
        case HoldBySnaps(snaps=snaps):
            halves = d.shell.construction
            if not isinstance(halves, TwoHalves):
                raise DesignError(
                    "edit.snaps",
                    f"a case of the kind {halves.kind} has no lid that hooks hang from",
                    "Two halves have.",
                )
            hooked = halves.model_copy(update={"snaps": snaps, "magnets": None})
            return {"shell": d.shell.model_copy(update={"construction": hooked})}
        case Need(port=port, needed=needed):
            if not needed and always_open(d, port):
                raise DesignError(
                    "edit.port", "it sits in the wall: its hole is always there", "Take the component out."
                )
            yes = tuple(n for n in d.brief.needs if n != port)
            no = tuple(n for n in d.brief.unneeded if n != port)
            change_needs = (
                {"needs": (*yes, port), "unneeded": no} if needed else {"needs": yes, "unneeded": (*no, port)}
            )
            return {"brief": d.brief.model_copy(update=change_needs)}
        case PutOpening(opening=o):
            if o.at_mm is None and o.size_mm is None:
                return {"openings": tuple(x for x in d.openings if x.port != o.port)}
            return {"openings": _upsert(d.openings, o, "port")}
        case MoveOnFace(what=what, by_mm=(du, dv)):
            return _moved_on_face(d, what, du, dv)
        case PutOwnOpening(opening=own_opening):
            return {"own_openings": _upsert(d.own_openings, own_opening, "id")}
        case AnchorOwnOpening(id=id, on=on):
            return {"own_openings": _anchored(d, id, on)}
        case RemoveOwnOpening(id=id):
            return {"own_openings": tuple(o for o in d.own_openings if o.id != id)}
        case PutVent(vent=v):
            return {"vents": _upsert(d.vents, v, "id")}
        case RemoveVent(id=id):
            return {"vents": tuple(v for v in d.vents if v.id != id)}
        case PutLead(lead=lead):
            return {"leads": _upsert(d.leads, lead, "id")}
        case PutCut(cut=cut):
            return {"cuts": (*(c for c in d.cuts if c.part != cut.part), cut)}
        case PutCuts(part=part, cuts=cuts):
            if any(c.part != part for c in cuts):
                raise DesignError("edit.cuts", f"a cut is of another part than the {part}")
            return {"cuts": (*(c for c in d.cuts if c.part != part), *cuts)}
        case FreeCuts(part=part):
            return {"cuts": tuple(c for c in d.cuts if c.part != part)}
        case JoinCuts(part=part, by=by):
            other_joins = tuple(j for j in d.joined if j.part != part)
            return {
                "joined": other_joins if by == "steel pins" else (*other_joins, CutJoin(part=part, by=by)),
                "cuts": tuple(c.model_copy(update={"by": None}) if c.part == part else c for c in d.cuts),
            }
        case PutJoint(joint=own_joint):
            if own_joint.holding is None and own_joint.screw_mm is None:
                return {"joints": tuple(j for j in d.joints if j.of != own_joint.of)}
            return {"joints": _upsert(d.joints, own_joint, "of")}
        case PrintPart(part=part, process=process):
            others = tuple(p for p in d.part_processes if p.part != part)
            own = () if process is None else (PartProcess(part=part, process=process),)
            return {"part_processes": (*others, *own)}
        case LayPart(part=part, down=down):
            rest_lies = tuple(x for x in d.lies if x.part != part)
            return {"lies": rest_lies if down is None else (*rest_lies, Lie(part=part, down=down))}
        case PutPanel(panel=panel):
            return {"panels": _upsert(d.panels, panel, "id")}
        case RemovePanel(id=id):
            return {"panels": tuple(p for p in d.panels if p.id != id)}
        case StackOn(placement=p, stand=stand, custom=c):
            return stack_on(d.model_copy(update=_carried(d, c)), p, stand) | _carried(d, c)
        case StackUnder(id=id, placement=p, stand=stand, custom=c):
            _thing(d, id)
            return stack_under(d.model_copy(update=_carried(d, c)), id, p, stand) | _carried(d, c)
        case SetStand(id=id, stand=stand):
            _thing(d, id)
            return set_stand(d, id, stand)
        case Swap(id=id, component=component, custom=c):
            swapped = _thing(d, id).model_copy(update={"component": component})
            return {"placements": _upsert(d.placements, swapped, "id")} | _carried(d, c)
        case PutComponent(component=c):
            return {"custom": _upsert(d.custom, c, "key")}
        case PutAdapter(adapter=adapter):
            return {"adapters": _upsert(d.adapters, adapter, "port")}
        case RemoveAdapter(port=port):
            return {"adapters": tuple(a for a in d.adapters if a.port != port)}
        case PutFeed(part=fed, rail=rail, source=source):
            others_fed = tuple(f for f in d.feeds if (f.part, f.rail) != (fed, rail))
            mine = () if source is None else (Feed(part=fed, rail=rail, source=source),)
            return {"feeds": (*others_fed, *mine)}
        case WantFace(port=port, face=face):
            wanted = tuple(w for w in d.brief.faces if w[0] != port)
            faces = wanted if face is None else (*wanted, (port, face))
            return {"brief": d.brief.model_copy(update={"faces": faces})}
        case Rename(id=id, name=name):
            return {"placements": _upsert(d.placements, _thing(d, id).model_copy(update={"name": name}), "id")}
    raise AssertionError(e)


def _anchored(d: Design, id: str, on: str | None) -> tuple[OwnOpening, ...]:
    """An opening counted from another base and left in its place: along its face, the cavity's corner and a pivot differ by the pivot."""
    o = next((o for o in d.own_openings if o.id == id), None)
    if o is None:
        raise DesignError("edit.id", f"there is no opening '{id}' in this design", "It may have been closed elsewhere.")

    def base(of: str | None) -> tuple[float, float]:
        if of is None:
            return 0.0, 0.0
        at, inner = _thing(d, of).at_mm, d.shell.inner_mm
        # along a way that runs against an axis it is counted from the other end of the cavity
        u, v = (
            sum(at[i] if way[i] > 0 else inner[i] - at[i] for i in range(3) if way[i])
            for way in (FACE_U[o.face], FACE_V[o.face])
        )
        return u, v

    (u0, v0), (u1, v1) = base(o.on), base(on)
    moved = o.model_copy(update={"on": on, "at_mm": (round(o.at_mm[0] + u0 - u1, 6), round(o.at_mm[1] + v0 - v1, 6))})
    return _upsert(d.own_openings, moved, "id")


def _moved_on_face(d: Design, what: str, du: float, dv: float) -> dict[str, Any]:
    own = next((o for o in d.own_openings if f"{OWN}{o.id}" == what), None)
    if own is not None:
        own_to = (round(own.at_mm[0] + du, 6), round(own.at_mm[1] + dv, 6))
        return {"own_openings": _upsert(d.own_openings, own.model_copy(update={"at_mm": own_to}), "id")}
    if "/" in what:
        _thing(d, what.split("/", 1)[0])
        old = next((o for o in d.openings if o.port == what), PlacedOpening(port=what))
        at = old.at_mm or (0.0, 0.0)  # not pinned yet: it lies on its port
        pinned = old.model_copy(update={"at_mm": (round(at[0] + du, 6), round(at[1] + dv, 6))})
        return {"openings": _upsert(d.openings, pinned, "port")}
    vent = next((v for v in d.vents if v.id == what), None)
    if vent is not None:
        moved_to = (round(vent.at_mm[0] + du, 6), round(vent.at_mm[1] + dv, 6))
        return {"vents": _upsert(d.vents, vent.model_copy(update={"at_mm": moved_to}), "id")}
    thing = _thing(d, what)
    if thing.face is None:
        raise DesignError("edit.what", f"'{what}' is not fixed to a face", "Move it on the bench.")
    u, v = FACE_U[thing.face], FACE_V[thing.face]
    to = tuple(round(thing.at_mm[i] + du * u[i] + dv * v[i], 6) for i in range(3))
    return {"placements": _upsert(d.placements, thing.model_copy(update={"at_mm": to}), "id")}


def _carried(d: Design, c: Component | None) -> dict[str, Any]:
    return {} if c is None else {"custom": _upsert(d.custom, c, "key")}


def _plain(value: Any, old: Any) -> Any:
    """A changed field as plain data, with what it shares with the old one left as it is."""
    if isinstance(value, Frozen):
        return value if value is old else value.model_dump()
    if isinstance(value, tuple) and isinstance(old, tuple):
        kept = {id(x) for x in old}
        return tuple(x if id(x) in kept else _plain(x, None) for x in value)
    return value


def _known(design: Design, change: dict[str, Any]) -> None:
    """Raises DesignError where an edit would put in a component that there is not: what a design has already may stay."""
    had = {p.component for p in design.placements}
    own = {c.key for c in change.get("custom", design.custom)}
    for p in change.get("placements", ()):
        if p.component not in had and p.component not in own and p.component not in library():
            raise DesignError(
                f"placements.{p.id}.component", f"there is no component '{p.component}' in the library or the design"
            )


def apply(design: Design, edit: Edit) -> Design:
    """Do an edit to a design and return the new one; the old one is untouched.

    Raises DesignError where the result would not be a valid design.
    """
    if isinstance(edit, Together):
        for e in edit.edits:
            design = apply(design, e)
        return design
    change = _change(design, edit)
    _known(design, change)
    try:
        # Values that did not change are kept as they are; those that did are read anew, for a copy with other fields is not
        # checked by itself, and what is kept must be readable again.
        fresh = {field: _plain(value, getattr(design, field)) for field, value in change.items()}
        return Design.model_validate({**dict(design), **fresh})
    except ValidationError as e:
        field, message = first_error(e)
        raise DesignError(field, message) from None
