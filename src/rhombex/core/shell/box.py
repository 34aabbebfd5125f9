"""What every case with the outline of a box has alike: its six faces, and feet under its corners."""

from __future__ import annotations

from rhombex.core.bench.arrange import outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import CaseFace, Mount, Seat
from rhombex.core.design import Design
from rhombex.core.reference import val
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


def feet_of(design: Design, mounts: tuple[Mount, ...]) -> tuple[Vec2, ...]:
    """Places for stick-on feet near the corners of the floor, clear of screw heads that are sunk into it."""
    if not design.shell.feet:
        return ()
    w, d, _ = outer_size(design)
    foot = val("printing.feature.foot_d")
    inset = max(design.shell.corner_radius_mm, foot / 2 + 4) + 2
    heads = [(m.at, m.head_d_mm) for m in mounts if m.holding == "through"]
    reach = foot / 2 + 1
    return tuple(
        (x, y)
        for x in (inset, w - inset)
        for y in (inset, d - inset)
        if all((x - a[0]) ** 2 + (y - a[1]) ** 2 > (reach + head / 2) ** 2 for a, head in heads)
    )
