"""What every case with the outline of a box has alike: its six faces, and feet under its corners."""

from __future__ import annotations

from itertools import product

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import CaseFace, Mount, Seat
from rhombex.core.design import Design
from rhombex.core.reference import val
from rhombex.core.shell.places import slots
from rhombex.core.space import FACES, OUTWARD, Face, Vec2, face_frame, face_origin, face_size, normal_axis

Clear = dict[Face, tuple[float, float, float, float]]


def face_thickness(design: Design, face: Face) -> float:
    """Wall thickness behind a face."""
    return {"top": design.shell.lid_mm, "bottom": design.shell.floor_mm}.get(face, design.shell.wall_mm)


def inner_radius_mm(design: Design) -> float:
    """Radius of the upright corners inside, the wall being as thick there as elsewhere."""
    return max(design.shell.corner_radius_mm - design.shell.wall_mm, 0.3)


def seat_of(design: Design, face: Face, edge_mm: float) -> Seat:
    """Where dowels sit in a flat wall of a face: on its inner side."""
    axis, size, thick = normal_axis(face), outer_size(design), face_thickness(design, face)
    outer = size[axis] if OUTWARD[face][axis] > 0 else 0.0
    return Seat(outer_mm=outer, inner_mm=outer - OUTWARD[face][axis] * thick, edge_mm=edge_mm, axis=axis)


def side_seat(design: Design, face: Face, edge_mm: float, far: Face | None = None) -> Seat:
    """A wall across which a part is cut where it stands too tall for the bed, with the wall opposite that is cut along with it."""
    seat = seat_of(design, face, edge_mm).model_copy(update={"bare": True})
    if far is None:
        return seat
    other = seat_of(design, far, edge_mm)
    a, b = sorted((other.outer_mm, other.inner_mm))
    return seat.model_copy(update={"far_mm": (a, b)})


def box_faces(design: Design, clear: Clear, whole: frozenset[Face] = frozenset(FACES)) -> tuple[CaseFace, ...]:
    """The six faces of a box round the cavity, each with the stretch of it that is plain wall; `whole`: those that a wall stands behind."""
    size, room = outer_size(design), cavity(design)
    out = []
    for face in FACES:
        frame = face_frame(face, face_origin(face, size))
        # the corner of the cavity that is lowest along both axes of the face
        corners = [frame.local(room.lo), frame.local(room.hi)]
        inset = (min(c[0] for c in corners), min(c[1] for c in corners))
        out.append(
            CaseFace(
                id=face,
                frame=frame,
                size_mm=face_size(face, size),
                thick_mm=face_thickness(design, face),
                inset_mm=inset,
                clear_mm=clear[face],
                whole=face in whole,
            )
        )
    return tuple(out)


def facing_across(face: CaseFace, axis: int) -> bool:
    """Whether a face stands at right angles to an axis of the case."""
    return abs(face.frame.z[axis]) > 0.5


def feet_of(design: Design, mounts: tuple[Mount, ...], things: tuple[Thing, ...]) -> tuple[Vec2, ...]:
    """Places for stick-on feet: near the corners of the floor, and under what is heavy where that is wished; clear of screw heads that are sunk into
    it."""
    if not design.shell.feet:
        return ()
    w, d, _ = outer_size(design)
    foot = val("printing.feature.foot_d")
    inset = max(design.shell.corner_radius_mm, foot / 2 + 4) + 2
    heads = [(m.at, m.head_d_mm) for m in mounts if m.holding == "through"]
    reach = foot / 2 + 1

    def free(x: float, y: float) -> bool:
        return all((x - a[0]) ** 2 + (y - a[1]) ** 2 > (reach + head / 2) ** 2 for a, head in heads)

    out = [(x, y) for x in (inset, w - inset) for y in (inset, d - inset) if free(x, y)]
    for t in heavy(mounts, things) if design.shell.feet_under else ():
        lo, hi = footprint(t)
        mid = ((lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2)
        xs, ys = (slots(max(lo[k], inset), min(hi[k], (w, d)[k] - inset), mid[k], 2.0) for k in (0, 1))
        ways = sorted(product(xs, ys), key=lambda p: (p[0] - mid[0]) ** 2 + (p[1] - mid[1]) ** 2)
        spot = next(
            (
                p
                for p in ways
                if free(*p) and all((p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 > (2 * reach) ** 2 for q in out)
            ),
            None,
        )
        if spot is not None:
            out.append(spot)
    return tuple(out)


def heavy(mounts: tuple[Mount, ...], things: tuple[Thing, ...]) -> list[Thing]:
    """What stands on posts of the floor and weighs so much, with what rides on it, that it wants a foot under it."""
    least, standing = val("limits.standing.heavy"), {m.of for m in mounts}
    return [t for t in things if t.id in standing and load_g(t, things) >= least]


def load_g(t: Thing, things: tuple[Thing, ...]) -> float:
    """What a component weighs with what rides on it, g."""
    return sum(x.component.mass_g for x in things if x.id == t.id or x.placement.on == t.id)


def footprint(t: Thing) -> tuple[Vec2, Vec2]:
    """The rectangle that a component's bodies take of the floor."""
    boxes = [s.box for s in t.solids if s.role == "body"] or [s.box for s in t.solids]
    return (
        (min(b.lo[0] for b in boxes), min(b.lo[1] for b in boxes)),
        (max(b.hi[0] for b in boxes), max(b.hi[1] for b in boxes)),
    )
