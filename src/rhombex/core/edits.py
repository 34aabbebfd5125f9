"""Edits: everything that can be done to a design, as values. `apply(design, edit) -> design`."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, TypeAdapter, ValidationError

from rhombex.core.bench.fit import fit_cavity, shifted
from rhombex.core.design import (
    Design,
    DesignError,
    Direction,
    Lead,
    Lie,
    Name,
    Panel,
    PartKey,
    PartProcess,
    PinnedCut,
    Place,
    PlacedOpening,
    Placement,
    PortRef,
    Process,
    VentField,
    first_error,
)
from rhombex.core.parts.component import Component, Key
from rhombex.core.space import Face
from rhombex.core.trail import Frozen

Value = float | int | str | bool | None | tuple[float, ...]

SETTABLE = ("name", "printer", "brief.", "shell.", "process.")


class Set(Frozen):
    """Set one field of the brief, shell, process, the printer or the name."""

    do: Literal["set"] = "set"
    path: Annotated[str, Field(max_length=80)]
    value: Value


class Add(Frozen):
    """Put a component in; a design's own component may come along."""

    do: Literal["add"] = "add"
    placement: Placement
    custom: Component | None = None


class Remove(Frozen):
    do: Literal["remove"] = "remove"
    id: Key


class Move(Frozen):
    """Move a thing, and whatever rides on it, to a place in the cavity's frame."""

    do: Literal["move"] = "move"
    id: Key
    to_mm: tuple[Place, Place, Place]


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
    by_mm: Place


class FitCavity(Frozen):
    """Draw the walls round the parts with the usual gaps."""

    do: Literal["fit-cavity"] = "fit-cavity"


class Need(Frozen):
    """Say whether a port is needed from outside."""

    do: Literal["need"] = "need"
    port: PortRef
    needed: bool


class PutOpening(Frozen):
    """Pin a port's opening to a place, or give it a size; both None gives it back to its port."""

    do: Literal["put-opening"] = "put-opening"
    opening: PlacedOpening


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
    """Pin a part's cut to a place."""

    do: Literal["put-cut"] = "put-cut"
    cut: PinnedCut


class FreeCuts(Frozen):
    """Give a part's cuts back to the planner."""

    do: Literal["free-cuts"] = "free-cuts"
    part: Literal["base", "lid"]


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


class Rename(Frozen):
    do: Literal["rename"] = "rename"
    id: Key
    name: Name


class Together(Frozen):
    """Several edits as one step of the history."""

    do: Literal["together"] = "together"
    said: Annotated[str, Field(max_length=120)] = ""
    edits: Annotated[tuple[Edit, ...], Field(max_length=200)]


Edit = Annotated[
    Set
    | Add
    | Remove
    | Move
    | Turn
    | ToFace
    | MoveWall
    | FitCavity
    | Need
    | PutOpening
    | PutVent
    | RemoveVent
    | PutLead
    | PutCut
    | FreeCuts
    | PrintPart
    | LayPart
    | PutPanel
    | RemovePanel
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
        field, said = first_error(e)
        raise DesignError(f"edit.{field}", said) from None


def _thing(design: Design, id: str) -> Placement:
    p = design.placement(id)
    if p is None:
        raise DesignError("edit.id", f"there is no '{id}' in this design", "It may have been taken out elsewhere.")
    return p


def _riders(design: Design, id: str) -> set[str]:
    """The thing and all that stands on it, however high the stack."""
    found = {id}
    while True:
        more = {p.id for p in design.placements if p.on in found} - found
        if not more:
            return found
        found |= more


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


def _change(d: Design, e: Edit) -> dict[str, Any]:
    """The fields of the design that an edit replaces."""
    match e:
        case Set(path=path, value=value):
            if not any(path == s or (s.endswith(".") and path.startswith(s)) for s in SETTABLE):
                raise DesignError("edit.path", f"'{path}' is not a field that can be set")
            head, _, field = path.partition(".")
            if not field:
                return {head: value}
            old = getattr(d, head)
            if field not in type(old).model_fields:
                raise DesignError("edit.path", f"'{path}' is not a field that can be set")
            return {head: {**old.model_dump(), field: value}}
        case Add(placement=p, custom=c):
            change: dict[str, Any] = {"placements": (*d.placements, p)}
            if c is not None:
                change["custom"] = _upsert(d.custom, c, "key")
            return change
        case Remove(id=id):
            _thing(d, id)
            gone = _riders(d, id)

            def stays(ref: str) -> bool:
                return ref.split("/", maxsplit=1)[0] not in gone

            return {
                "placements": tuple(p for p in d.placements if p.id not in gone),
                "leads": tuple(x for x in d.leads if stays(x.start) and stays(x.end)),
                "openings": tuple(o for o in d.openings if stays(o.port)),
                "brief": d.brief.model_copy(update={"needs": tuple(n for n in d.brief.needs if stays(n))}),
            }
        case Move(id=id, to_mm=to):
            old_at, moved = _thing(d, id).at_mm, _riders(d, id)
            by = tuple(b - a for a, b in zip(old_at, to, strict=True))
            return {"placements": shifted(d.placements, by, moved)}  # type: ignore[arg-type]
        case Turn(id=id, by=by_deg):
            centre, moved = _thing(d, id).at_mm, _riders(d, id)
            return {"placements": tuple(_turn_about(p, centre, by_deg) if p.id in moved else p for p in d.placements)}
        case ToFace(id=id, face=face, at_mm=at):
            new = _thing(d, id).model_copy(update={"face": face, "at_mm": at})
            return {"placements": _upsert(d.placements, new, "id")}
        case MoveWall(face=face, by_mm=by_wall):
            return _move_wall(d, face, by_wall)
        case FitCavity():
            return fit_cavity(d)
        case Need(port=port, needed=needed):
            rest = tuple(n for n in d.brief.needs if n != port)
            return {"brief": d.brief.model_copy(update={"needs": (*rest, port) if needed else rest})}
        case PutOpening(opening=o):
            if o.at_mm is None and o.size_mm is None:
                return {"openings": tuple(x for x in d.openings if x.port != o.port)}
            return {"openings": _upsert(d.openings, o, "port")}
        case PutVent(vent=v):
            return {"vents": _upsert(d.vents, v, "id")}
        case RemoveVent(id=id):
            return {"vents": tuple(v for v in d.vents if v.id != id)}
        case PutLead(lead=lead):
            return {"leads": _upsert(d.leads, lead, "id")}
        case PutCut(cut=cut):
            return {"cuts": (*(c for c in d.cuts if c.part != cut.part), cut)}
        case FreeCuts(part=part):
            return {"cuts": tuple(c for c in d.cuts if c.part != part)}
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
        case Rename(id=id, name=name):
            return {"placements": _upsert(d.placements, _thing(d, id).model_copy(update={"name": name}), "id")}
    raise AssertionError(e)


def _move_wall(d: Design, face: Face, by: float) -> dict[str, Any]:
    axis = {"left": 0, "right": 0, "front": 1, "back": 1, "bottom": 2, "top": 2}[face]
    inner = list(d.shell.inner_mm)
    inner[axis] += by
    if inner[axis] <= 0:
        raise DesignError("shell.inner_mm", f"moving the {face} wall by {by:g} mm leaves no room inside")
    shell = d.shell.model_dump() | {"inner_mm": tuple(inner)}
    if face == "top":
        # the lid keeps its depth, so openings below the joint keep their distance to it
        shell["joint_mm"] = min(max(d.shell.joint_mm + by, 0.5), inner[2] - 0.5)
    if face == "bottom":
        shell["joint_mm"] = max(d.shell.joint_mm + by, 0.5)
    change: dict[str, Any] = {"shell": shell}
    if face in ("left", "front", "bottom"):
        by3 = tuple(by if i == axis else 0.0 for i in range(3))
        change["placements"] = shifted(d.placements, by3, None)  # type: ignore[arg-type]
    return change


def apply(design: Design, edit: Edit) -> Design:
    """Do an edit to a design and return the new one; the old one is untouched.

    Raises DesignError where the result would not be a valid design.
    """
    if isinstance(edit, Together):
        for e in edit.edits:
            design = apply(design, e)
        return design
    change = _change(design, edit)
    try:
        # Validating from shallow fields keeps the values that did not change as they are.
        return Design.model_validate({**dict(design), **change})
    except ValidationError as e:
        field, said = first_error(e)
        raise DesignError(field, said) from None
