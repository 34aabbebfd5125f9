"""Openings for ports and for what is fixed to a face: as large as the thing with its allowance."""

from __future__ import annotations

from rhombex.core.bench.arrange import PlacedPort, Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.case import Case
from rhombex.core.design import Design
from rhombex.core.fit.allowance import fit, round_hole, spread_mm
from rhombex.core.openings.opening import Opening, Plug, Recess, plate_at
from rhombex.core.parts import port_kinds
from rhombex.core.reference import val
from rhombex.core.space import Vec2, normal_axis
from rhombex.core.workshop.printer import Printer

# what is screwed to its wall from outside; displays are held from behind
SCREWED_ON = ("fan", "supply", "inlet", "socket")


def set_back(case: Case, port: PlacedPort) -> float:
    """From the outer surface of its face to a connector's face, mm (negative: it stands out, or on the other side altogether)."""
    face = case.face(port.face)
    behind, through = face.behind(port.centre), case.box_mm[normal_axis(port.face)]
    return behind if behind <= through else -behind


def _through_wall(case: Case, thing: Thing, port: PlacedPort) -> Vec2:
    """Width and height, about a port, of the bodies of what sits in a wall that stand in that wall with it."""
    face = case.face(port.face)
    (u, v), wide, tall = face.on(port.centre), 0.0, 0.0
    for s in hard(thing) if thing.face == port.face else ():
        ends = face.frame.local(s.box.lo), face.frame.local(s.box.hi)
        (u0, u1), (v0, v1), (deep, out) = (sorted(x) for x in zip(*ends, strict=True))
        if deep < -1e-6 and out > 1e-6 - face.thick_mm and u0 <= u <= u1 and v0 <= v <= v1:
            wide, tall = max(wide, 2 * (u - u0), 2 * (u1 - u)), max(tall, 2 * (v - v0), 2 * (v1 - v))
    return (wide, tall)


def port_opening(
    design: Design,
    printer: Printer,
    case: Case,
    thing: Thing,
    port: PlacedPort,
    plates: tuple[Opening, ...] = (),
) -> Opening:
    """The opening in front of a port, with a pocket for its plug where the wall there is too thick. What sits in the wall goes
    through it with all its body. In front of a printed plate of `plates` it is cut into that, and counted from it."""
    kind, face = port_kinds()[port.port.kind], case.face(port.face)
    plate = plate_at(plates, face.id, face.on(port.centre), (kind.width_mm, kind.height_mm))
    seat = plate.pane if plate else None
    thick, before = (seat.thick_mm, seat.from_mm) if seat else (face.thick_mm, 0.0)
    back = set_back(case, port) - before
    skin = val("printing.feature.web_lines") * case.line_mm
    target = face.on(port.centre)
    parts = (seat.part,) if seat else case.behind(face.id, target[0], target[1], target[0], target[1])
    # a plug seats if its collar stops short of the connector by no more than the set-back
    pocket = back - val("limits.port.setback")
    deep = pocket > 0
    plug_w, plug_h = kind.plug_width_mm, kind.plug_height_mm
    room = fit(design, printer, "plug_recess", parts, max(plug_w, plug_h))
    recess: Recess | None = None
    wide, tall = _through_wall(case, thing, port)
    nominal: Vec2 = (max(kind.width_mm, wide), max(kind.height_mm, tall))
    grow = fit(design, printer, "port_opening", parts, max(nominal))
    spread = spread_mm("port_opening")
    if deep and (
        thick - pocket < skin or (seat is None and any(case.part(p).sheet for p in parts))
    ):  # too little would be left round the connector, or a sheet has no pockets: the whole plug goes through
        grow, nominal, spread = room, (plug_w, plug_h), spread_mm("plug_recess")
    elif deep:
        recess = Recess(
            size_mm=(plug_w + 2 * room.value, plug_h + 2 * room.value),
            depth_mm=pocket,
        )
    size: Vec2 = (nominal[0] + 2 * grow.value, nominal[1] + 2 * grow.value)
    hand = next((o for o in design.openings if o.port == port.ref), None)
    at = target
    if hand and hand.at_mm:
        base = target if hand.anchor == "port" else face.inset_mm
        at = (base[0] + hand.at_mm[0], base[1] + hand.at_mm[1])
    if hand and hand.size_mm:
        size = hand.size_mm
    wide = max(size[0], recess.size_mm[0] if recess else 0.0)
    tall = max(size[1], recess.size_mm[1] if recess else 0.0)
    return Opening(
        id=port.ref,
        of=port.ref.split("/")[0],
        label=kind.label,
        face=face.id,
        round=kind.round and abs(size[0] - size[1]) < 1e-6,
        at_mm=at,
        size_mm=size,
        corner_mm=min(size) / 2 if kind.round else 0.0,  # a round one that a hand has stretched is a slot
        nominal_mm=nominal,
        allowance=grow,
        spread_mm=spread,
        recess=recess,
        plug=Plug(size_mm=(plug_w, plug_h), length_mm=kind.plug_length_mm),
        set_back_mm=back,
        target_mm=target,
        pinned=hand is not None and hand.at_mm is not None,
        parts=parts
        if seat
        else case.behind(face.id, at[0] - wide / 2, at[1] - tall / 2, at[0] + wide / 2, at[1] + tall / 2),
        from_mm=before,
        source=kind.source,
    )


def panel_openings(design: Design, printer: Printer, case: Case, thing: Thing) -> list[Opening]:
    """The round holes of a component that is fixed to a face: its own, and those of its screws."""
    assert thing.face is not None
    c, face = thing.component, case.face(thing.face)
    rounds: list[tuple[str, str, Vec2, float]] = []
    centre = face.on(thing.frame.origin)
    if c.panel_hole_mm is not None:
        rounds.append((f"{thing.id}/hole", thing.name, centre, c.panel_hole_mm))
    if c.family in SCREWED_ON and not case.slotted(thing.id):
        rounds += [
            (f"{thing.id}/screw-{m.mount.name.lower()}", f"{thing.name} screw", face.on(m.at), m.mount.hole_mm)
            for m in thing.mounts
        ]
    out = []
    for ref, label, at, d in rounds:
        parts = case.behind(face.id, at[0] - d / 2, at[1] - d / 2, at[0] + d / 2, at[1] + d / 2)
        grow, feature = round_hole(design, printer, parts, normal_axis(thing.face), d, case.sides)
        size = d + grow.value
        out.append(
            Opening(
                id=ref,
                of=thing.id,
                label=label,
                face=face.id,
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
                parts=case.behind(face.id, at[0] - size / 2, at[1] - size / 2, at[0] + size / 2, at[1] + size / 2),
                source=c.source,
            )
        )
    return out
