"""Where a part that only magnets hold is taken hold of: a notch for a finger under its edge, beside everything that the wall there has to do."""

from __future__ import annotations

from collections.abc import Callable

from rhombex.core.bench.anchors import placed
from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.fittings import Lift
from rhombex.core.design import Design
from rhombex.core.parts import port_kinds
from rhombex.core.reference import val
from rhombex.core.shell.places import Rect, slots
from rhombex.core.space import FACES, Box, Vec3

WEB_MM = 2.0  # of plain wall beside a notch; common practice


def lift(
    design: Design,
    things: tuple[Thing, ...],
    face: CaseFace,
    *,
    of: str,
    part: str,
    edge_mm: float,
    high_mm: float,
    behind_mm: float,
    to: Vec3,
    far: Vec3,
) -> Lift | None:
    """A notch in `part` on a face, as near to its middle as it finds a place: from its height `edge_mm` down by `high_mm`, from outside to
    `behind_mm` behind the face. None where the whole edge is taken."""
    half = val("fasteners.magnet.lift_wide") / 2
    u0, _, u1, _ = face.clear_mm
    taken = [r for r in _taken(design, things, face) if r[1] < edge_mm + WEB_MM and r[3] > edge_mm - high_mm - WEB_MM]
    for u in slots(u0 + half, u1 - half, (u0 + u1) / 2, 2.0):
        free = all(u + half + WEB_MM <= r[0] or u - half - WEB_MM >= r[2] for r in taken)
        if free and u0 + half <= u <= u1 - half:
            box = face.frame.box(Box((u - half, edge_mm - high_mm, -behind_mm), (u + half, edge_mm + 1.0, 1.0)))
            return Lift(of=of, part=part, box=box, to=to, far=far)
    return None


def lift_of_lid(
    design: Design,
    things: tuple[Thing, ...],
    faces: tuple[CaseFace, ...],
    *,
    of: str,
    part_of: Callable[[str], str],
    edge_mm: float,
    high_mm: float,
    behind_mm: float,
    only: frozenset[str] = frozenset(FACES),
) -> tuple[Lift, ...]:
    """The notch under a lid that is lifted upward: in front, else right, left or behind, where there is room. `part_of`: what stands on a face below it;
    `only`: the faces that may have one."""
    w, d, _ = outer_size(design)
    ways: tuple[tuple[str, Vec3], ...] = (
        ("front", (w / 2, d, edge_mm)),
        ("right", (0.0, d / 2, edge_mm)),
        ("left", (w, d / 2, edge_mm)),
        ("back", (w / 2, 0.0, edge_mm)),
    )
    for name, far in (w for w in ways if w[0] in only):
        face = next(f for f in faces if f.id == name)
        found = lift(
            design,
            things,
            face,
            of=of,
            part=part_of(name),
            edge_mm=edge_mm,
            high_mm=high_mm,
            behind_mm=behind_mm,
            to=(0.0, 0.0, 1.0),
            far=far,
        )
        if found is not None:
            return (found,)
    return ()


def _taken(design: Design, things: tuple[Thing, ...], face: CaseFace) -> list[Rect]:
    """Rectangles on a face that a notch keeps off: plugs, what is fixed to the wall or stands against it, openings by hand. Vents keep off the
    notch themselves."""
    out: list[Rect] = []
    open_, kinds = wanted_ports(design), port_kinds()
    for t in things:
        for s in t.solids:
            a, b = face.frame.local(s.box.lo), face.frame.local(s.box.hi)
            if max(a[2], b[2]) > -face.thick_mm - 4.0:  # nearer to the wall's inside than a fingertip is thick
                out.append((min(a[0], b[0]), min(a[1], b[1]), max(a[0], b[0]), max(a[1], b[1])))
        for p in t.ports:
            if p.face == face.id and p.ref in open_:
                k = kinds[p.port.kind]
                u, v = face.on(p.centre)
                w, h = max(k.plug_width_mm, k.width_mm) / 2, max(k.plug_height_mm, k.height_mm) / 2
                out.append((u - w, v - h, u + w, v + h))
    for x in design.own_openings:
        if x.face == face.id:
            (u, v), (w, h) = placed(face, x, things), x.size_mm
            out.append((u - w / 2, v - h / 2, u + w / 2, v + h / 2))
    return out
