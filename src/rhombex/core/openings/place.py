"""Openings: what is cut into which face, how large, where, and why."""

from __future__ import annotations

from functools import partial
from math import hypot
from typing import Literal

from rhombex.core.air.need import AirNeed
from rhombex.core.bench.arrange import PlacedPort, Thing
from rhombex.core.design import Design, VentField
from rhombex.core.faults import Fault, Faults
from rhombex.core.geometry.recipe import Loop, circle, diamond, rect
from rhombex.core.openings.allowance import allowance, spread_mm
from rhombex.core.parts import port_kinds
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.shell.plan import ShellPlan
from rhombex.core.space import OUTWARD, Face, Vec2, face_size, normal_axis, on_face
from rhombex.core.trail import Frozen, Trail
from rhombex.core.workshop import Printer

Halves = Literal["base", "lid", "both"]
MOST_HOLES = 4000  # in one field; more would keep the kernel busy for minutes
MOST_HOLES_IN_ALL = 8000


class Recess(Frozen):
    """A pocket from outside for a plug's over-mould, where the wall in front of the connector is too thick."""

    size_mm: Vec2
    depth_mm: float


class Plug(Frozen):
    size_mm: Vec2
    length_mm: float


class Opening(Frozen):
    """A hole in a face, u and v from the face's lower left corner seen from outside.

    `set_back_mm`: from the outer surface to the connector's face. `target_mm`: where its port is; an opening that a
    hand pinned may be elsewhere. `part`: which half it is cut into.
    """

    id: str
    of: str
    label: str
    face: Face
    round: bool
    at_mm: Vec2
    size_mm: Vec2
    nominal_mm: Vec2
    allowance: Trail
    spread_mm: float
    recess: Recess | None
    plug: Plug | None
    set_back_mm: float
    target_mm: Vec2
    pinned: bool
    part: Halves
    source: str


class Vent(Frozen):
    """A field of diamond holes: those that collide with something are left out."""

    id: str
    label: str
    face: Face
    at_mm: Vec2
    size_mm: Vec2
    holes: tuple[Vec2, ...]
    dropped: int
    across_mm: float
    free_area_mm2: float
    follows_heat: bool
    fan: str | None
    part: Halves


class Openings(Frozen):
    openings: tuple[Opening, ...]
    vents: tuple[Vent, ...]


def face_thickness(design: Design, face: Face) -> float:
    """Wall thickness behind a face."""
    return {"top": design.shell.lid_mm, "bottom": design.shell.floor_mm}.get(face, design.shell.wall_mm)


def _half(face: Face, plan: ShellPlan, v0: float, v1: float) -> Halves:
    if face == "top":
        return "lid"
    if face == "bottom":
        return "base"
    if v1 <= plan.joint_z_mm:
        return "base"
    return "lid" if v0 >= plan.joint_z_mm else "both"


def set_back(plan: ShellPlan, port: PlacedPort) -> float:
    """From the outer surface of its face to a connector's face, mm (negative: it stands out)."""
    axis = normal_axis(port.face)
    outer = plan.outer_mm[axis] if OUTWARD[port.face][axis] > 0 else 0.0
    return abs(outer - port.centre[axis]) * (1 if 0 <= port.centre[axis] <= plan.outer_mm[axis] else -1)


def _port_opening(design: Design, printer: Printer, plan: ShellPlan, port: PlacedPort) -> Opening:
    kind = port_kinds()[port.port.kind]
    back = set_back(plan, port)
    wall = face_thickness(design, port.face)
    skin = val("printing.feature.web_lines") * plan.rim.line_mm
    # a plug seats if its collar stops short of the connector by no more than the set-back
    pocket = back - val("limits.port.setback")
    deep = pocket > 0
    plug_w, plug_h = kind.plug_width_mm, kind.plug_height_mm
    room = allowance("plug_recess", design.process, printer, max(plug_w, plug_h))
    recess: Recess | None = None
    grow = allowance("port_opening", design.process, printer, max(kind.width_mm, kind.height_mm))
    nominal: Vec2 = (kind.width_mm, kind.height_mm)
    spread = spread_mm("port_opening")
    if deep and wall - pocket < skin:  # too little would be left round the connector: the whole plug goes through
        grow, nominal, spread = room, (plug_w, plug_h), spread_mm("plug_recess")
    elif deep:
        recess = Recess(
            size_mm=(plug_w + 2 * room.value, plug_h + 2 * room.value),
            depth_mm=pocket,
        )
    size: Vec2 = (nominal[0] + 2 * grow.value, nominal[1] + 2 * grow.value)
    target = on_face(port.face, plan.outer_mm, port.centre)
    hand = next((o for o in design.openings if o.port == port.ref), None)
    at = hand.at_mm if hand and hand.at_mm else target
    if hand and hand.size_mm:
        size = hand.size_mm
    tall = max(size[1], recess.size_mm[1] if recess else 0.0)
    return Opening(
        id=port.ref,
        of=port.ref.split("/")[0],
        label=kind.label,
        face=port.face,
        round=kind.round,
        at_mm=at,
        size_mm=size,
        nominal_mm=nominal,
        allowance=grow,
        spread_mm=spread,
        recess=recess,
        plug=Plug(size_mm=(plug_w, plug_h), length_mm=kind.plug_length_mm),
        set_back_mm=back,
        target_mm=target,
        pinned=hand is not None and hand.at_mm is not None,
        part=_half(port.face, plan, at[1] - tall / 2, at[1] + tall / 2),
        source=kind.source,
    )


def _panel_openings(design: Design, printer: Printer, plan: ShellPlan, thing: Thing) -> list[Opening]:
    assert thing.face is not None
    c = thing.component
    lying = thing.face not in ("top", "bottom")
    feature: Literal["round_hole_lying", "round_hole_upright"] = "round_hole_lying" if lying else "round_hole_upright"
    rounds: list[tuple[str, str, Vec2, float]] = []
    centre = on_face(thing.face, plan.outer_mm, thing.frame.origin)
    if c.panel_hole_mm is not None:
        rounds.append((f"{thing.id}/hole", thing.name, centre, c.panel_hole_mm))
    if c.air is not None:
        rounds += [
            (
                f"{thing.id}/screw-{m.mount.name.lower()}",
                f"{thing.name} screw",
                on_face(thing.face, plan.outer_mm, m.at),
                m.mount.hole_mm,
            )
            for m in thing.mounts
        ]
    out = []
    for ref, label, at, d in rounds:
        grow = allowance(feature, design.process, printer, d)
        size = d + grow.value
        out.append(
            Opening(
                id=ref,
                of=thing.id,
                label=label,
                face=thing.face,
                round=True,
                at_mm=at,
                size_mm=(size, size),
                nominal_mm=(d, d),
                allowance=grow,
                spread_mm=spread_mm(feature),
                recess=None,
                plug=None,
                set_back_mm=0.0,
                target_mm=at,
                pinned=False,
                part=_half(thing.face, plan, at[1] - size / 2, at[1] + size / 2),
                source=c.source,
            )
        )
    return out


def outline(o: Opening, grow: float = 0.0) -> tuple[float, float, float, float]:
    """The rectangle round an opening and its recess on the face: u0, v0, u1, v1."""
    w = max(o.size_mm[0], o.recess.size_mm[0] if o.recess else 0.0) + 2 * grow
    h = max(o.size_mm[1], o.recess.size_mm[1] if o.recess else 0.0) + 2 * grow
    return (o.at_mm[0] - w / 2, o.at_mm[1] - h / 2, o.at_mm[0] + w / 2, o.at_mm[1] + h / 2)


def opening_loop(o: Opening) -> Loop:
    """The through hole's outline on its face."""
    if o.round:
        return circle(o.at_mm[0], o.at_mm[1], o.size_mm[0])
    w, h = o.size_mm
    u, v = o.at_mm
    return rect(u - w / 2, v - h / 2, u + w / 2, v + h / 2)


def vent_loops(v: Vent) -> list[Loop]:
    return [diamond(u, w, v.across_mm) for u, w in v.holes]


def vent_room(plan: ShellPlan, face: Face, web: float) -> tuple[float, float, float, float]:
    """Where a face may carry vent holes: u0, v0, u1, v1; clear of floor, rim band and corners."""
    w, h = face_size(face, plan.outer_mm)
    side = plan.inner_radius_mm + (plan.cavity.lo[0])
    if face in ("top", "bottom"):
        edge = max(side, plan.rim.band_mm) + web
        return (edge, edge, w - edge, h - edge)
    top = plan.joint_z_mm - plan.rim.band_height_mm - plan.rim.ramp_mm - web
    return (side + web, plan.cavity.lo[2] + web, w - side - web, top)


def _obstacles(
    plan: ShellPlan, face: Face, openings: list[Opening], vents: tuple[Vent, ...], web: float
) -> list[tuple[float, ...]]:
    """Rectangles on a face that no vent hole may touch."""
    out: list[tuple[float, ...]] = [outline(o, web) for o in openings if o.face == face]
    for field in (f for f in vents if f.face == face):
        (u, w), (du, dw) = field.at_mm, field.size_mm
        out.append((u - du / 2 - web, w - dw / 2 - web, u + du / 2 + web, w + dw / 2 + web))
    axis = normal_axis(face)
    depth = 14.0
    for at, od, z in (
        *((b.at, b.od_mm, None) for b in plan.bosses),
        *((p.at, p.od_mm, p.top_mm) for p in plan.posts),
    ):
        u, v = on_face(face, plan.outer_mm, (at[0], at[1], 0.0))
        r = od / 2 + web / 2
        if face in ("top", "bottom"):
            if z is None or face == "bottom":
                out.append((u - r, v - r, u + r, v + r))
            continue
        edge = plan.outer_mm[axis] if OUTWARD[face][axis] > 0 else 0.0
        if abs(at[axis] - edge) < depth:
            out.append((u - r, 0.0, u + r, z if z is not None else plan.joint_z_mm))
    if face == "bottom":
        f = val("printing.feature.foot_d") / 2 + 1
        for at in plan.feet:
            u, v = on_face(face, plan.outer_mm, (at[0], at[1], 0.0))
            out.append((u - f, v - f, u + f, v + f))
    return out


def _lattice(u0: float, v0: float, u1: float, v1: float, across: float, web: float) -> list[Vec2]:
    """Centres of diamonds that lie wholly in a rectangle, in rows offset by half a pitch, centred in it."""
    half = across / 2**0.5
    pitch = (across + web) * 2**0.5
    w, h = u1 - u0, v1 - v0
    if w < 2 * half or h < 2 * half:
        return []
    rows = int((h - 2 * half) / (pitch / 2) + 1e-9) + 1
    cols = int((w - 2 * half) / pitch + 1e-9) + 1
    if rows * cols > MOST_HOLES:
        raise DesignError("vents", f"a field of {w:.0f} x {h:.0f} mm has more than {MOST_HOLES} holes")
    top = v0 + (h - (rows - 1) * pitch / 2) / 2
    left = u0 + (w - (cols - 1) * pitch) / 2
    out: list[Vec2] = []
    for i in range(rows):
        shift, n = (0.0, cols) if i % 2 == 0 else (pitch / 2, cols - 1)
        out += [(left + shift + k * pitch, top + i * pitch / 2) for k in range(n)]
    return out


def _vent(
    plan: ShellPlan,
    field: VentField,
    openings: list[Opening],
    others: tuple[Vent, ...],
    need_mm2: float | None,
    across: float,
    web: float,
) -> Vent:
    room = vent_room(plan, field.face, web)
    blocked = _obstacles(plan, field.face, openings, others, web)
    half = across / 2**0.5
    pitch = (across + web) * 2**0.5

    def centre(w: float, h: float) -> Vec2:
        """The field's middle, shifted as far as it must be to stay on the face."""
        return (
            min(max(field.at_mm[0], room[0] + w / 2), max(room[2] - w / 2, room[0])),
            min(max(field.at_mm[1], room[1] + h / 2), max(room[3] - h / 2, room[1])),
        )

    def holes_of(w: float, h: float) -> tuple[list[Vec2], int]:
        u, v = centre(w, h)
        u0, v0 = max(room[0], u - w / 2), max(room[1], v - h / 2)
        u1, v1 = min(room[2], u + w / 2), min(room[3], v + h / 2)
        all_ = _lattice(u0, v0, u1, v1, across, web)
        kept = [p for p in all_ if not _hits(p, half, blocked)]
        return kept, len(all_) - len(kept)

    w, h = field.size_mm
    holes, dropped = holes_of(w, h)
    if need_mm2 is not None:
        # grow row by row, then column by column, until the area is there or the face is full
        w, h = field.size_mm[0], 2 * half
        limit_w, limit_h = room[2] - room[0], room[3] - room[1]
        while True:
            holes, dropped = holes_of(w, h)
            if len(holes) * across**2 >= need_mm2 or (w + pitch) * (h + pitch) / pitch**2 > MOST_HOLES / 2.2:
                break
            if h + pitch / 2 <= limit_h:
                h += pitch / 2
            elif w + pitch <= limit_w:
                w += pitch
            else:
                break
    return Vent(
        id=field.id,
        label="Vents",
        face=field.face,
        at_mm=centre(w, h),
        size_mm=(w, h),
        holes=tuple(holes),
        dropped=dropped,
        across_mm=across,
        free_area_mm2=len(holes) * across**2,
        follows_heat=field.follow_heat,
        fan=None,
        part="lid" if field.face == "top" else "base",
    )


def _grille(plan: ShellPlan, thing: Thing, openings: list[Opening], across: float, web: float) -> Vent:
    assert thing.face is not None and thing.component.air is not None
    centre = on_face(thing.face, plan.outer_mm, thing.frame.origin)
    r = thing.component.air.opening_mm / 2
    half = across / 2**0.5
    screws = [o for o in openings if o.of == thing.id]
    others = _obstacles(plan, thing.face, [o for o in openings if o.of != thing.id], (), web)
    room = vent_room(plan, thing.face, web)
    lattice = [
        p
        for p in _lattice(centre[0] - r, centre[1] - r, centre[0] + r, centre[1] + r, across, web)
        if hypot(p[0] - centre[0], p[1] - centre[1]) + half <= r
    ]
    holes = [
        p
        for p in lattice
        if all(hypot(p[0] - o.at_mm[0], p[1] - o.at_mm[1]) > o.size_mm[0] / 2 + half + web / 2 for o in screws)
        and not _hits(p, half, others)
        and room[0] <= p[0] - half
        and p[0] + half <= room[2]
        and room[1] <= p[1] - half
        and p[1] + half <= room[3]
    ]
    return Vent(
        id=f"{thing.id}-grille",
        label=f"{thing.name} grille",
        face=thing.face,
        at_mm=centre,
        size_mm=(2 * r, 2 * r),
        holes=tuple(holes),
        dropped=len(lattice) - len(holes),
        across_mm=across,
        free_area_mm2=len(holes) * across**2,
        follows_heat=False,
        fan=thing.id,
        part="lid" if thing.face == "top" else "base",
    )


def _hits(p: Vec2, half: float, blocked: list[tuple[float, ...]]) -> bool:
    return any(p[0] + half > b[0] and p[0] - half < b[2] and p[1] + half > b[1] and p[1] - half < b[3] for b in blocked)


def place_openings(
    design: Design, printer: Printer, plan: ShellPlan, things: tuple[Thing, ...], need: AirNeed
) -> tuple[Openings, list[Fault]]:
    """Openings for every needed port and panel part, grilles for fans, vent fields sized by the heat; and what of it could
    not be made."""
    faults = Faults()
    openings: list[Opening] = []
    for t in things:
        for p in t.ports:
            if p.ref in design.brief.needs and port_kinds()[p.port.kind].outside:
                one = partial(_port_opening, design, printer, plan, p)
                made = faults.attempt("stage", f"the opening for {p.name} of {t.name}", one, None)
                openings += [made] if made is not None else []
        if t.face is not None:
            panel = partial(_panel_openings, design, printer, plan, t)
            openings += faults.attempt("stage", f"the openings for {t.name}", panel, [])
    across = val("air.air.vent_hole")
    web = max(val("air.air.vent_web"), val("printing.feature.web_lines") * plan.rim.line_mm)
    grilles: list[Vent] = []
    for t in things:
        if t.face is not None and t.component.air:
            behind = partial(_grille, plan, t, openings, across, web)
            grille = faults.attempt("stage", f"the grille of {t.name}", behind, None)
            grilles += [grille] if grille is not None else []
    vents: list[Vent] = []
    holes = sum(len(g.holes) for g in grilles)
    following = [v for v in design.vents if v.follow_heat]
    # without a fan, air needs the area twice: in and out
    total = need.area_mm2.value * (1 if need.fan_flow_m3s > 0 else 2)
    for field in (*(v for v in design.vents if not v.follow_heat), *following):
        share = None
        if field.follow_heat:
            left = total - sum(v.free_area_mm2 for v in vents)
            share = max(0.0, left) / max(1, len(following) - sum(v.follows_heat for v in vents))
        cut = partial(_vent, plan, field, openings, (*grilles, *vents), share, across, web)
        vent = faults.attempt("stage", f"the vents {field.id}", cut, None)
        if vent is None:
            continue
        holes += len(vent.holes)
        if holes > MOST_HOLES_IN_ALL:
            faults.note("stage", f"the vents {field.id}", f"with them the case has more than {MOST_HOLES_IN_ALL} holes")
            break
        vents.append(vent)
    vents += grilles
    return Openings(openings=tuple(openings), vents=tuple(vents)), faults.found
