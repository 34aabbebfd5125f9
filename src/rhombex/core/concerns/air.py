"""Air: vents large enough for the heat, fans that do not work against one another."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache, partial
from typing import Literal

from pydantic import ValidationError

from rhombex.core.air.need import air_need
from rhombex.core.air.streams import FanPair, fan_pairs, wall_fans
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.anchors import placed
from rhombex.core.bench.apart import apart_from_box
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.bench.dodge import free_spot
from rhombex.core.bench.gaps import hard
from rhombex.core.bench.placing import TO_BLOW
from rhombex.core.concerns.bench import free_place, moved
from rhombex.core.concerns.cut_nothing import lattice_mm
from rhombex.core.concerns.registry import (
    Finding,
    Maker,
    NotOffered,
    Remedy,
    concern,
    offered,
    searched,
)
from rhombex.core.design import Design, VentField
from rhombex.core.edits import Blow, Edit, PlaceNew, PutVent, ToFace, Together
from rhombex.core.hardware.face_screws import face_screw, tips_of
from rhombex.core.hardware.reach import hides
from rhombex.core.openings.vents import vent, vent_room
from rhombex.core.parts import library
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref, val
from rhombex.core.space import Face, Vec2, Vec3
from rhombex.core.stance import opposite
from rhombex.core.trail import given, looked_up
from rhombex.core.words import listed


def _field(id: str, face: Face, at: Vec2, size: Vec2) -> tuple[PutVent, ...]:
    field = VentField(
        id=id, face=face, at_mm=(round(at[0], 2), round(at[1], 2)), size_mm=(round(size[0], 2), round(size[1], 2))
    )
    return (PutVent(vent=field),)


@concern("vents-too-small", "air", needs=("cavity",))
def vents_too_small(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: the vents' free area is less than is wanted for the heat that does not go through the walls."""
    if a.need.heat_w <= 0:
        return
    with_fan = a.need.fan_flow_m3s > 0
    most = ref("air.air.inside_most")
    bears = a.ladder.inside_c <= most.value
    # a fan that is starved moves little however warm it is, and in a room so warm the walls have not carried enough
    through = min(a.ladder.walls_w, a.need.heat_w) if bears and not with_fan else 0.0
    need = a.need.vents_mm2 * (1 - through / a.need.heat_w)
    have = a.openings.free_mm2
    if have >= ENOUGH * need:
        return
    yield say(
        "weigh" if have > 0.3 * need or bears else "stop",
        "The vents are too small for the heat" if have > 0 else f"There is no way {_missing_way(a)} for air",
        measured=have / 100,
        limit=need / 100,
        unit="cm2",
        how="sum of the free area of all vents without a fan, and of mesh; wanted: air for the heat at its rise, less what goes through the walls",
        of=(
            given("heat", a.need.heat_w, "W"),
            given("through the walls at that rise", through, "W", "U A dT; not counted beside a fan"),
            given("ways: out, or in and out", a.need.ways, ""),
            *a.need.area_mm2.inputs,
        ),
        reason=f"{a.need.heat_w:.1f} W at a rise of {val('air.air.rise'):g} K"
        + (f", of which {through:.1f} go through the walls," if through > 0 else "")
        + f" ask for {need / 100:.1f} cm2 of free area"
        + (" so that the fan is not starved." if with_fan else ", in and out together, without a fan.")
        + f" As it is the air inside comes to {a.ladder.inside_c:.0f} °C, with what goes through the walls; boards and drives bear {most.value:g}.",
        source=a.need.area_mm2.source,
        subjects=("vents",),
        remedies=_more_air(a, ENOUGH * need, have, with_fan),
    )


def _more_air(a: Analysis, wanted: float, have: float, with_fan: bool) -> tuple[Remedy | NotOffered, ...]:
    """What lets in as much air as is wanted, mm2, the least work first. Where nothing does, all that there is; that lets in most."""
    fields = _more_fields(a)
    grown, more = _grown(a)
    alone: list[Remedy | NotOffered] = []
    if grown and have + more >= wanted:
        alone.append(Remedy(label="Let the vents follow the heat", edits=grown))
    # without a fan, air that goes in and out through the lid alone has little height to rise
    for x in (x for x in fields if with_fan or x[0] != opposite(a.case.stands_on)):
        if len(alone) < 2 and have + x[2]() >= wanted:
            alone += offered(f"Add {_vents_in([x])}", x[1])
    if alone:
        return tuple(alone)
    several, enough = _enough(fields, wanted - have)
    also: tuple[PutVent, ...] = ()
    if not enough and grown:
        also = grown
        several, enough = _enough(fields, wanted - have - more)
    fan = () if with_fan or (enough and len(several) <= FEW_WALLS) else _with_a_fan(a, fields, grown, more)
    if (fan and not enough) or not (several or also):
        return fan
    label = f"Add {_vents_in(several)}"
    if also:
        label = "Let the vents follow the heat" + (f", and add {_vents_in(several)}" if several else "")
    return (*fan, *offered(label, lambda: (*also, *(e for _, field, _ in several for e in field()))))


def _grown(a: Analysis) -> tuple[tuple[PutVent, ...], float]:
    """The vents of a set size let go, and the free area that they would gain at most, mm2."""
    of_set_size = [v for v in a.design.vents if not v.follow_heat and a.case.face(v.face).whole]
    grown = tuple(PutVent(vent=v.model_copy(update={"follow_heat": True})) for v in of_set_size)
    now = {v.id: v.free_area_mm2 for v in a.openings.vents}
    return grown, sum(_most_mm2(a, partial(_same, e)) - now.get(e.vent.id, 0.0) for e in grown)


def _same(edit: PutVent) -> tuple[PutVent, ...]:
    return (edit,)


ENOUGH = 0.9  # of the free area that is wanted
FEW_WALLS = 2  # with more of them vented a fan is the plainer way
MOST_FANS = 4  # are tried, the smallest first
MOST_PLACES = 3  # are looked at closely
ENDLESS = 1e12  # mm2, more than any wall
_Fields = list[tuple[Face, Callable[[], tuple[PutVent, ...]], Callable[[], float]]]


def _more_fields(a: Analysis) -> _Fields:
    """Fields of vents that walls without plugs and vents have room for, each with the most that it could have open, mm2."""
    taken = {v.face for v in a.design.vents}
    across, web = lattice_mm(a)
    faces: tuple[Face, ...] = ("left", "back", "right", "front", "top")
    out: _Fields = []
    for face in faces:
        if (
            face == a.case.stands_on
            or face in taken
            or any(o.face == face for o in a.openings.openings if o.plug is not None)
        ):
            continue
        u0, v0, u1, v1 = vent_room(a.case, face, web)
        if v1 - v0 < across * 2 or u1 - u0 < 20:
            continue
        n = len(a.design.vents) + len(out)
        id = f"vent-{face}" if all(v.id != f"vent-{face}" for v in a.design.vents) else f"vent-{n + 1}"
        at, size = ((u0 + u1) / 2, (v0 + v1) / 2), (min(40.0, u1 - u0), v1 - v0)
        build = partial(_field, id, face, at, size)
        out.append((face, build, cache(partial(_most_mm2, a, build))))
    return out


def _vents_in(fields: _Fields) -> str:
    faces = [face for face, _, _ in fields]
    words = listed(faces)
    return f"vents in the {words} wall{'s' if len(faces) > 1 else ''}"


def _enough(fields: _Fields, wanted_mm2: float) -> tuple[_Fields, bool]:
    """As many of some fields as are wanted together, and whether they are enough; all where they are not."""
    out: _Fields = []
    for x in fields:
        if wanted_mm2 <= 0:
            break
        out.append(x)
        wanted_mm2 -= x[2]()
    return out, wanted_mm2 <= 0


@searched
def _with_a_fan(a: Analysis, fields: _Fields, grow: tuple[PutVent, ...], more: float) -> tuple[Remedy, ...]:
    """The smallest fan that moves the air which the heat asks for and finds a free place on a wall, with as many vents as keep it from being starved; of a few places
    that where it is in nobody's way as it is screwed on."""
    per_cfm = val("air.air.cfm") / 3600 * val("air.air.fan_share")
    fans = [(c.air.free_flow_cfm * per_cfm, c) for c in library().values() if c.family == "fan" and c.air is not None]
    strong = sorted((x for x in fans if x[0] >= a.need.flow_m3s), key=lambda x: (x[0], x[1].key))
    found: list[Remedy] = []
    for _, fan in strong[:MOST_FANS]:
        put = PlaceNew(component=fan.key)
        try:
            design = apply(a.design, put)
            wanted = ENOUGH * air_need(design, arrange(design)).vents_mm2 - a.openings.free_mm2
            grown = grow if wanted > 0 else ()
            vents, enough = _enough(fields, wanted - (more if grown else 0.0))
            edits = (*grown, *(e for _, field, _ in vents for e in field()))
        except (DesignError, ValidationError):  # no more can be placed
            return ()
        if not enough:  # it would be starved
            continue
        label = f"Put in a {fan.label[:1].lower()}{fan.label[1:]}" + (f" and {_vents_in(vents)}" if vents else "")
        label += ", and let the vents follow the heat" if grown else ""
        for there in _on_some_wall(a, design, frozenset(face for face, _, _ in vents)):
            found.append(Remedy(label=label, edits=(put, *there, *edits)))
            if not _in_somebodys_way(a, apply(design, Together(edits=there)) if there else design):
                return (found[-1],)
            if len(found) == MOST_PLACES:
                return (found[0],)
    return tuple(found[:1])


def _in_somebodys_way(a: Analysis, design: Design) -> bool:
    """Whether the screws of what is new on a wall reach into another component, it is before the screws of one, or the wall is thicker there."""
    things = arrange(design)
    new = next(t for t in things if a.design.placement(t.id) is None)
    s = face_screw(design, new, a.case)
    others = [x for t in things if t.id != new.id for x in hard(t)]
    if s is not None and any(apart_from_box(x, tip) < 0 for tip in tips_of(new, s, a.case) for x in others):
        return True
    at = [s.box for s in hard(new)]
    if any(b.inward_mm(x.lo[2], x.hi[2]) > 0 for b in a.case.bulges if new.face in b.faces for x in at):
        return True
    return any(hides(g, new, things, a.case) for g in a.joints if g.of)


def _on_some_wall(a: Analysis, design: Design, vented: frozenset[Face]) -> Iterator[tuple[Edit, ...]]:
    """What moves a new fan from where it landed, where no component is, to where nothing of the case is either; then on other walls, but not on one that is to
    be vented. Nothing where no wall has room."""
    new = next(p for p in design.placements if a.design.placement(p.id) is None)
    middle: Vec3 = tuple(x / 2 for x in design.shell.inner_mm)  # type: ignore[assignment]
    for face in (new.face, *(f for f in TO_BLOW if f != new.face)):
        if face is None or face in vented or face == design.shell.stands_on:
            continue
        edit = None if face == new.face else ToFace(id=new.id, face=face, at_mm=middle)
        things = arrange(design if edit is None else apply(design, edit))
        t = next(t for t in things if t.id == new.id)
        by = free_spot(design, things, t.id, a.case)
        if by is not None and a.case.wall_at(face, _moved(t.frame.origin, by)) and free_place(design, t, by):
            yield (*((edit,) if edit else ()), *((moved(t, by),) if any(by) else ()))


def _moved(at: Vec3, by: Vec3) -> Vec3:
    return (at[0] + by[0], at[1] + by[1], at[2] + by[2])


def _most_mm2(a: Analysis, build: Callable[[], tuple[PutVent, ...]]) -> float:
    """The most that a field could have open, mm2."""
    try:
        field = build()[0].vent
    except (DesignError, ValidationError):  # told where it is offered
        return 0.0
    there, grilles = list(a.openings.openings), tuple(v for v in a.openings.vents if v.fan is not None)
    at = placed(a.case.face(field.face), field, a.things)
    return vent(a.case, field, at, there, grilles, ENDLESS, *lattice_mm(a)).free_area_mm2


def _missing_way(a: Analysis) -> str:
    """Where all fans blow in the air has no way out; else it has none in."""
    ways = {f.placement.blows for f in wall_fans(a.things)}
    return "out" if ways == {"in"} else "in"


def _turned(pair: FanPair) -> tuple[Remedy, ...]:
    """Each of the two turned the other way; the second first: it is the one that came later."""
    other_way = {"in": "out", "out": "in"}
    return tuple(
        Remedy(
            label=f"Let {f.name} blow {other_way[f.placement.blows]}",
            edits=(Blow(id=f.id, blows="out" if f.placement.blows == "in" else "in"),),
        )
        for f in (pair.other, pair.one)
        if f.placement.blows is not None
    )


@concern("fans-against-each-other", "air", needs=("cavity",))
def fans_against_each_other(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: two fans that face one another both blow in, or both out."""
    for p in fan_pairs(a.things):
        if p.how != "face to face" or not p.spoilt:
            continue
        both = p.one.placement.blows
        yield say(
            "weigh",
            f"{p.one.name} and {p.other.name} blow against each other"
            if both == "in"
            else f"{p.one.name} and {p.other.name} pull against each other",
            measured=p.apart_mm,
            limit=p.free_mm,
            how="distance between the axes of two fans that face one another; half of both openings: from there on their streams pass",
            reason=f"They face one another through the room and both blow {both}: each works against what the other moves, and much of the "
            "room in between is not swept. Two fans in line move air through when one blows in and the other out.",
            source="common practice",
            subjects=(p.one.id, p.other.id),
            remedies=_turned(p),
        )


@concern("fan-draws-its-own-air", "air", needs=("cavity",))
def fan_draws_its_own_air(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: of two fans side by side one draws in what the other has blown out."""
    share = ref("air.air.beside_share")
    for p in fan_pairs(a.things):
        if p.how != "side by side" or not p.spoilt:
            continue
        draws = p.one if p.one.placement.blows == "in" else p.other
        blows = p.other if draws is p.one else p.one
        yield say(
            "weigh",
            f"{draws.name} draws in what {blows.name} has blown out",
            measured=p.apart_mm,
            limit=p.free_mm,
            how="gap between the round openings of two fans on one wall that blow opposite ways; the opening of the larger one",
            of=(looked_up("share of the opening", share),),
            reason=f"Warm air comes in again at once: the case is as warm as if {draws.name} were not there.",
            source=share.source,
            subjects=(draws.id, blows.id),
            remedies=_turned(p),
        )


@concern("fan-way-not-said", "air", needs=("cavity",))
def fan_way_not_said(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: which way a fan blows decides whether it helps the one near it, and nobody has said."""
    silent = {f.id: p for p in reversed(fan_pairs(a.things)) for f in (p.one, p.other) if f.placement.blows is None}
    for f in (f for f in wall_fans(a.things) if f.id in silent):
        p = silent[f.id]
        near = p.other if f.id == p.one.id else p.one
        yield say(
            "weigh",
            f"Which way {f.name} blows is not said",
            measured=0,
            limit=1,
            unit="ways said",
            how="whether the fan is said to blow in or out",
            reason=f"It is {'over against' if p.how == 'face to face' else 'beside'} {near.name}: whether the two help or hinder one another "
            "cannot be judged until it is said.",
            source="common practice",
            subjects=(f.id,),
            remedies=tuple(
                Remedy(label=f"{f.name} blows {way}", edits=(Blow(id=f.id, blows=way),)) for way in _helping(p, near)
            ),
        )


def _helping(p: FanPair, near: Thing) -> tuple[Literal["in", "out"], ...]:
    """Both ways for a fan, the one first that helps its neighbour."""
    same = p.how == "side by side"
    first = near.placement.blows if same else {"in": "out", "out": "in"}.get(near.placement.blows or "")
    return ("out", "in") if first == "out" else ("in", "out")
