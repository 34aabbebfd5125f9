"""What is fixed to the inside of a wall: where plain printed wall stands behind it, and whether it is in the room."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.parts import Part
from rhombex.core.constructions import Threaded
from rhombex.core.design import Design
from rhombex.core.space import Box


def into_of(design: Design) -> Threaded:
    """What their screws go into: as those of posts, where these are held by plastic."""
    return "cut in plastic" if design.shell.post_thread == "cut in plastic" else "insert"


def in_face(face: CaseFace, box: Box) -> Box:
    """A box of the case in the frame of one of its faces."""
    return face.frame.inverse.box(box)


def wall_behind(case: Case, face: CaseFace, rect: tuple[float, float, float, float]) -> Part | None:
    """The printed part that stands as plain wall behind all of a rectangle."""
    u0, v0, u1, v1 = rect
    a, b, c, d = face.clear_mm
    if u0 < a or v0 < b or u1 > c or v1 > d:
        return None
    for w in case.walls:
        if w.face == face.id and w.lo_mm[0] <= u0 and w.lo_mm[1] <= v0 and u1 <= w.hi_mm[0] and v1 <= w.hi_mm[1]:
            part = case.part(w.part)
            return None if part.sheet is not None else part
    return None


def inside(case: Case, face: CaseFace, room: Box) -> bool:
    """Whether it stands in the room inside, off seams and thickened walls, and in no beam of a corner."""
    box = face.frame.box(room)
    lo, hi = case.cavity.lo, case.cavity.hi
    if any(box.lo[k] < lo[k] - 1e-6 or box.hi[k] > hi[k] + 1e-6 for k in range(3)):
        return False
    for s in case.seams:
        level = face.id in ("top", "bottom") or s.axis != 2
        if not level and box.lo[2] < s.at_mm + s.above_mm and box.hi[2] > s.at_mm - s.below_mm:
            return False
    if any(face.id in b.faces and b.inward_mm(box.lo[2], box.hi[2]) > 0 for b in case.bulges):
        return False
    side = case.pillar_mm
    return not (side > 0 and all(box.lo[k] < lo[k] + side or box.hi[k] > hi[k] - side for k in (0, 1)))
