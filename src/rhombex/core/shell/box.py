"""What every case with the outline of a box has alike: its six faces."""

from __future__ import annotations

from rhombex.core.bench.arrange import outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.parts import Seat
from rhombex.core.design import Design
from rhombex.core.space import FACES, OUTWARD, Face, face_frame, face_origin, face_size, normal_axis

Clear = dict[Face, tuple[float, float, float, float]]


def face_thickness(design: Design, face: Face) -> float:
    """Wall thickness behind a face."""
    s = design.shell
    return {"top": s.lid_mm, "bottom": s.floor_mm}.get(face, s.wall_mm - s.recess_mm(face))


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
    """The six faces of a box round the cavity, each where its wall begins, with the stretch of it that is plain wall; `whole`: those that a wall
    stands behind."""
    size, room = outer_size(design), cavity(design)
    out = []
    for face in FACES:
        recess, (x, y, z), way = design.shell.recess_mm(face), face_origin(face, size), OUTWARD[face]
        frame = face_frame(face, (x - way[0] * recess, y - way[1] * recess, z - way[2] * recess))
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
