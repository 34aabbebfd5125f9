"""What each edit does to a design: a new design, the old one untouched."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from typing import Any, TypeVar

from pydantic import ValidationError

from rhombex.core.bench.arrange import outer_size
from rhombex.core.bench.fit import fit_cavity
from rhombex.core.bench.placing import new_placement
from rhombex.core.bench.stack import set_stand, stack_on, stack_under, tower
from rhombex.core.bench.walls import moved_walls, shifted
from rhombex.core.bench.wanted import always_open
from rhombex.core.constructions import MAGNET_KINDS, CoreAndWrap, Magnets, SlidingPanels, TwoHalves
from rhombex.core.cuts.joins import apart_mm
from rhombex.core.design import (
    OF_CUTS,
    OWN,
    TEXT,
    CutJoin,
    Design,
    FaceText,
    Feed,
    JoinKind,
    Lie,
    OwnOpening,
    Pane,
    PartProcess,
    PinnedCut,
    PlacedOpening,
    Placement,
    Ribs,
)
from rhombex.core.edits import (
    SETTABLE,
    Add,
    AnchorOwnOpening,
    AnchorText,
    Blow,
    CarryBy,
    CloseBy,
    Construct,
    Edit,
    FitCavity,
    ForgetPort,
    FreeCuts,
    HingeLid,
    HoldByMagnets,
    HoldBySnaps,
    HoldFan,
    JoinCuts,
    LayPart,
    Move,
    MoveOnFace,
    MoveWall,
    Need,
    OrderCuts,
    PlaceNew,
    PrintPart,
    PropUp,
    PutAdapter,
    PutComponent,
    PutCoupon,
    PutCut,
    PutCuts,
    PutFeed,
    PutJoint,
    PutLead,
    PutOpening,
    PutOwnOpening,
    PutPanel,
    PutRibs,
    PutText,
    PutVent,
    Remove,
    RemoveAdapter,
    RemoveOwnOpening,
    RemovePanel,
    RemoveText,
    RemoveVent,
    Rename,
    Set,
    SetStand,
    StackOn,
    StackUnder,
    StandOn,
    StandOnFeet,
    Swap,
    ToFace,
    Together,
    Turn,
    Value,
    WantFace,
)
from rhombex.core.fit.coupon import NAMES
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError, first_error, read_as
from rhombex.core.shell.feet import FEET, SOFT
from rhombex.core.space import FACE_U, FACE_V
from rhombex.core.trail import Frozen


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
            return _without_ports(d, lambda ref: ref.split("/", maxsplit=1)[0] in gone) | {
                "placements": tuple(p for p in d.placements if p.id not in gone),
                "feeds": tuple(f for f in d.feeds if f.component not in gone and f.source not in gone),
                "vents": tuple(v for v in d.vents if v.on is None or v.on not in gone),
                "own_openings": tuple(o for o in d.own_openings if o.on is None or o.on not in gone),
                "texts": tuple(t for t in d.texts if t.on is None or t.on not in gone),
                "joints": tuple(j for j in d.joints if j.of.startswith(OF_CUTS) or j.of.split("/", 1)[1] not in gone),
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
        case Blow(id=id, blows=blows):
            return {"placements": _upsert(d.placements, _thing(d, id).model_copy(update={"blows": blows}), "id")}
        case HoldFan(id=id, slotted=slotted):
            return {"placements": _upsert(d.placements, _thing(d, id).model_copy(update={"slotted": slotted}), "id")}
        case PropUp(id=id, rests_on=rests_on):
            return {"placements": _upsert(d.placements, _thing(d, id).model_copy(update={"rests_on": rests_on}), "id")}
        case MoveWall(face=face, by_mm=by_wall):
            return moved_walls(d, {face: by_wall})
        case FitCavity():
            return fit_cavity(d, e.thicker, e.pillar_mm, e.only_out, e.beside_mm, e.post_mm, e.tips)
        case Construct(construction=construction):
            return {"shell": d.shell.model_copy(update={"construction": construction})}
        case PutRibs(face=face, count=count):
            rest = tuple(r for r in d.shell.ribs if r.face != face)
            ribs = (Ribs(face=face, count=count, high_mm=e.high_mm, lines=e.lines),) if count else ()
            return {"shell": d.shell.model_copy(update={"ribs": (*rest, *ribs)})}
        case CarryBy(handle=handle):
            return {"shell": d.shell.model_copy(update={"handle": handle})}
        case PutCoupon():
            return _coupon(d, e)
        case StandOnFeet():
            return _on_feet(d, e)
        case StandOn():
            return _stand_on(d, e)
        case HoldByMagnets(magnets=magnets):
            if d.shell.construction.kind not in MAGNET_KINDS:
                raise DesignError(
                    "edit.magnets",
                    f"what holds a case of the kind {d.shell.construction.kind} is not held by magnets",
                    f"Magnets hold {', '.join(MAGNET_KINDS[:-1])} and {MAGNET_KINDS[-1]}.",
                )
            if magnets is not None:
                _has_room(d, magnets)
            other = {"snaps": None} if isinstance(d.shell.construction, TwoHalves) else {}
            held = d.shell.construction.model_copy(update={"magnets": magnets, **other})
            return {"shell": d.shell.model_copy(update={"construction": held})}
        case HoldBySnaps(snaps=snaps):
            made = d.shell.construction
            if not isinstance(made, TwoHalves | CoreAndWrap):
                raise DesignError(
                    "edit.snaps",
                    f"a case of the kind {made.kind} has nothing that hooks hold",
                    "Two halves have a lid, core and wrap have a wrap.",
                )
            if isinstance(made, CoreAndWrap) and made.floor == "sheet" and snaps is not None:
                raise DesignError(
                    "edit.snaps",
                    "hooks stand on a core that is printed, and this one is sheet",
                    "Print the core first.",
                )
            hooked = made.model_copy(
                update={"snaps": snaps} | ({"magnets": None} if isinstance(made, TwoHalves) else {})
            )
            return {"shell": d.shell.model_copy(update={"construction": hooked})}
        case HingeLid(hinge=hinge):
            halves = d.shell.construction
            if not isinstance(halves, TwoHalves):
                raise DesignError(
                    "edit.hinge", f"a case of the kind {halves.kind} has no lid that turns", "Two halves have."
                )
            hung = halves.model_copy(update={"hinge": hinge})
            return {"shell": d.shell.model_copy(update={"construction": hung})}
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
            return {"own_openings": _upsert(d.own_openings, _anchored(d, _own_opening(d, id), on), "id")}
        case CloseBy(id=id):
            said = e.model_dump(exclude={"do", "id"}, exclude_none=True)
            return {"own_openings": _closed_by(d, id, said)}
        case RemoveOwnOpening(id=id):
            return {
                "own_openings": tuple(o for o in d.own_openings if o.id != id),
                "joints": tuple(j for j in d.joints if j.of != f"pane/{id}"),
            }
        case PutText(text=text):
            return {"texts": _upsert(d.texts, text, "id")}
        case AnchorText(id=id, on=on):
            written = next((t for t in d.texts if t.id == id), None)
            if written is None:
                raise DesignError(
                    "edit.id", f"there is no text '{id}' in this design", "It may have been left out elsewhere."
                )
            return {"texts": _upsert(d.texts, _anchored(d, written, on), "id")}
        case RemoveText(id=id):
            return {"texts": tuple(t for t in d.texts if t.id != id)}
        case PutVent(vent=v):
            return {"vents": _upsert(d.vents, v, "id")}
        case RemoveVent(id=id):
            return {"vents": tuple(v for v in d.vents if v.id != id)}
        case PutLead(lead=lead):
            return {"leads": _upsert(d.leads, lead, "id")}
        case PutCut(cut=cut):
            _within(d, (cut,))
            return {"cuts": (*(c for c in d.cuts if c.part != cut.part), cut)}
        case PutCuts(part=part, cuts=cuts):
            if any(c.part != part for c in cuts):
                raise DesignError("edit.cuts", f"a cut is of another part than the {part}")
            _within(d, cuts)
            _far_enough(cuts, d.joined_by(part))
            return {"cuts": (*(c for c in d.cuts if c.part != part), *cuts)}
        case FreeCuts(part=part):
            return {"cuts": tuple(c for c in d.cuts if c.part != part)}
        case OrderCuts(parts=first):
            return {"cut_first": first}
        case JoinCuts(part=part, by=by):
            _far_enough(tuple(c.model_copy(update={"by": None}) for c in d.cuts if c.part == part), by)
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
            new_one = c or d.component(component)
            if new_one is not None and new_one.air is None:
                swapped = swapped.model_copy(update={"blows": None})
            return {"placements": _upsert(d.placements, swapped, "id")} | _carried(d, c)
        case PutComponent(component=c):
            return {"custom": _upsert(d.custom, c, "key")}
        case PutAdapter(adapter=adapter):
            return {"adapters": _upsert(d.adapters, adapter, "port")}
        case RemoveAdapter(port=port):
            return {"adapters": tuple(a for a in d.adapters if a.port != port)}
        case PutFeed(component=fed, rail=rail, source=source):
            others_fed = tuple(f for f in d.feeds if (f.component, f.rail) != (fed, rail))
            mine = () if source is None else (Feed(component=fed, rail=rail, source=source),)
            return {"feeds": (*others_fed, *mine)}
        case WantFace(port=port, face=face):
            wanted = tuple(w for w in d.brief.faces if w[0] != port)
            faces = wanted if face is None else (*wanted, (port, face))
            return {"brief": d.brief.model_copy(update={"faces": faces})}
        case ForgetPort(port=port):
            return _without_ports(d, lambda ref: ref == port)
        case Rename(id=id, name=name):
            return {"placements": _upsert(d.placements, _thing(d, id).model_copy(update={"name": name}), "id")}
    raise AssertionError(e)


def _without_ports(d: Design, gone: Callable[[str], bool]) -> dict[str, Any]:
    """What a design says of ports, without those that are gone."""
    brief = d.brief
    return {
        "adapters": tuple(a for a in d.adapters if not gone(a.port)),
        "leads": tuple(x for x in d.leads if not gone(x.start) and not gone(x.end)),
        "openings": tuple(o for o in d.openings if not gone(o.port)),
        "brief": brief.model_copy(
            update={
                "needs": tuple(n for n in brief.needs if not gone(n)),
                "unneeded": tuple(n for n in brief.unneeded if not gone(n)),
                "faces": tuple(w for w in brief.faces if not gone(w[0])),
            }
        ),
    }


def _has_room(d: Design, magnets: Magnets) -> None:
    """Raises DesignError where a magnet is higher than what it sits in is thick. One that leaves too little behind it is told."""
    s, made = d.shell, d.shell.construction
    if isinstance(made, TwoHalves):  # the lid reaches down to the joint where its screws are
        thick, what = s.lid_mm + s.inner_mm[2] - made.joint_mm, "the lid is thick where they sit"
    elif isinstance(made, SlidingPanels):
        thick, what = s.lid_mm, "the top is thick"
    else:
        thick, what = max(s.wall_mm, s.lid_mm), "the covers are thick"
    if magnets.high_mm > thick + 1e-6:
        raise DesignError(
            "edit.magnets.high_mm",
            f"magnets {magnets.high_mm:g} mm high are larger than the {thick:g} mm that {what}",
            "It is held as before. Take lower magnets, or make it thicker first.",
        )


BESIDE_MM = 100.0  # so far what a case is made of may stand out beyond its walls, a handle most of all


def _within(d: Design, cuts: tuple[PinnedCut, ...]) -> None:
    """Raises DesignError where a cut lies outside the case, or the panel, that its part is of. One that comes to lie beside its part as the case
    shrinks stays, and is told."""
    s = d.shell
    lo = (s.wall_mm, s.wall_mm, s.floor_mm)
    for c in cuts:
        i = "xyz".index(c.axis)
        panel = next((p for p in d.panels if p.id == c.part), None)
        most = outer_size(d)[i] if panel is None else (*panel.size_mm, panel.thick_mm)[i]
        least = -lo[i] - BESIDE_MM if panel is None else 0.0
        most += BESIDE_MM if panel is None else 0.0
        if not least <= c.at_mm <= most:
            whose = "the case" if panel is None else panel.name
            raise DesignError(
                f"cuts.{c.part}.{c.axis}",
                f"a cut of the {c.part} at {c.at_mm:g} mm lies outside {whose}: it can be from {least:g} to {most:g}",
                "The cuts stay where they were. Put it where the part is.",
            )


def _far_enough(cuts: tuple[PinnedCut, ...], usual: JoinKind) -> None:
    """Raises DesignError where two cuts of a part are nearer to one another than what joins the pieces is long. Two at one place are one cut."""
    for axis in ("x", "y", "z"):
        mine = sorted((c for c in cuts if c.axis == axis), key=lambda c: c.at_mm)
        for one, other in itertools.pairwise(mine):
            gap, wants = other.at_mm - one.at_mm, apart_mm(one.joined(usual), other.joined(usual))
            if 0 < gap < wants:
                by = " and ".join(dict.fromkeys((one.joined(usual), other.joined(usual))))
                raise DesignError(
                    f"cuts.{one.part}.{axis}",
                    f"the cuts at {one.at_mm:g} and {other.at_mm:g} mm are {gap:g} mm apart; joined by {by} they are at least {wants:g}",
                    "The cuts stay where they were. Put them farther apart, or join them by glue alone.",
                )


USUAL_SCREWED_MM = 8.0  # of a pane on the wall, where screws hold it


def _closed_by(d: Design, id: str, said: dict[str, Any]) -> tuple[OwnOpening, ...]:
    """An opening closed by a pane, or open where no material is said."""
    o = _own_opening(d, id)
    now = o.pane.model_dump() if o.pane is not None else {}
    if said.get("held") == "screwed" and "overlap_mm" not in said:  # what is not said is as usual
        said = said | {"overlap_mm": max(now.get("overlap_mm", 0.0), USUAL_SCREWED_MM)}
    pane = read_as(Pane, now | said, "edit.pane") if "material" in said else None
    return _upsert(d.own_openings, o.model_copy(update={"pane": pane}), "id")


def _own_opening(d: Design, id: str) -> OwnOpening:
    o = next((o for o in d.own_openings if o.id == id), None)
    if o is None:
        raise DesignError("edit.id", f"there is no opening '{id}' in this design", "It may have been closed elsewhere.")
    return o


A = TypeVar("A", OwnOpening, FaceText)


def _anchored(d: Design, o: A, on: str | None) -> A:
    """An opening or a text counted from another base and left in its place: along its face, the cavity's corner and a pivot differ by the pivot."""

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
    return o.model_copy(update={"on": on, "at_mm": (round(o.at_mm[0] + u0 - u1, 6), round(o.at_mm[1] + v0 - v1, 6))})


def _moved_on_face(d: Design, what: str, du: float, dv: float) -> dict[str, Any]:
    own = next((o for o in d.own_openings if f"{OWN}{o.id}" == what), None)
    if own is not None:
        own_to = (round(own.at_mm[0] + du, 6), round(own.at_mm[1] + dv, 6))
        return {"own_openings": _upsert(d.own_openings, own.model_copy(update={"at_mm": own_to}), "id")}
    text = next((t for t in d.texts if f"{TEXT}{t.id}" == what), None)
    if text is not None:
        text_to = (round(text.at_mm[0] + du, 6), round(text.at_mm[1] + dv, 6))
        return {"texts": _upsert(d.texts, text.model_copy(update={"at_mm": text_to}), "id")}
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


def _on_feet(d: Design, e: StandOnFeet) -> dict[str, Any]:
    """Feet that are printed are soft, whatever the rest is printed in; where somebody has said how they are printed, that stays."""
    shell: dict[str, Any] = {"feet": e.foot is not None, "feet_under": e.under}
    if e.foot is not None:
        shell["foot"] = e.foot
    if e.high_mm is not None:
        shell["foot_mm"] = e.high_mm
    processes = d.part_processes
    if e.foot == "printed" and all(p.part != FEET for p in processes):
        soft = d.process.model_copy(update={"filament": SOFT, "own_filament": None, "supports": False})
        processes = (*processes, PartProcess(part=FEET, process=soft))
    elif e.foot != "printed":
        processes = tuple(p for p in processes if p.part != FEET)
    return {"shell": d.shell.model_copy(update=shell), "part_processes": processes}


def _stand_on(d: Design, e: StandOn) -> dict[str, Any]:
    """What it stands on on its side is stuck on; the filament of printed feet goes with them."""
    if e.face == "bottom":
        return {"shell": d.shell.model_copy(update={"stands_on": e.face})}
    return {
        "shell": d.shell.model_copy(update={"stands_on": e.face, "foot": "stick-on"}),
        "part_processes": tuple(p for p in d.part_processes if p.part != FEET),
    }


def _coupon(d: Design, e: PutCoupon) -> dict[str, Any]:
    others = tuple(x for x in d.coupons if x != e.feature)
    if e.wanted:
        return {"coupons": (*others, e.feature)}
    return {"coupons": others, "part_processes": tuple(p for p in d.part_processes if p.part != NAMES[e.feature])}


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
