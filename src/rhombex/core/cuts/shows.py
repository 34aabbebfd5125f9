"""Where a seam would be seen: the faces of a part that are seen as the case stands, along an axis that it is cut across."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.case.faces import Wall
from rhombex.core.cuts.strips import INDEX, Axis, PartName, Strip
from rhombex.core.design import Brief, Design
from rhombex.core.shell.box import facing_across
from rhombex.core.space import Face
from rhombex.core.stance import StandsOn, sides_of

# who walks past it: between its neighbours on a shelf only the front; on a wall its back is the floor (common practice)
SEEN: dict[str, tuple[Face, ...]] = {  # as it stands
    "desk": ("front", "left", "right", "top"),
    "shelf": ("front",),
    "wall": ("front", "left", "right", "top"),
    "carried": ("front", "left", "right", "top"),
}


def seen_faces(brief: Brief, stands_on: StandsOn) -> tuple[Face, ...]:
    """The faces that are seen where and as the case stands, and the one that the brief wishes a window in."""
    where = sides_of(stands_on)
    faces = tuple(where[f] for f in SEEN[brief.stands])
    return faces if brief.window is None or brief.window in faces else (*faces, brief.window)


def shown(design: Design, case: Case, part: PartName, axis: Axis) -> tuple[Strip, ...]:
    """The stretches of a part along an axis where a cut across it would run over a face that is seen, one strip for each wall of it there."""
    i, out = INDEX[axis], []
    for face in seen_faces(design.brief, design.shell.stands_on):
        walls = [w for w in case.walls if w.face == face]
        for w in (w for w in walls if w.part == part and not any(_before(o, w) for o in walls)):
            f = case.face(w.face)
            if not facing_across(f, i):
                lo, hi = f.stretch(i, *w.lo_mm, *w.hi_mm)
                out.append(Strip(lo=lo, hi=hi, why=f"seen on the {face}", soft=True))
    return tuple(out)


def _before(one: Wall, other: Wall) -> bool:
    """Whether a wall stands before all of another one, which is not seen so."""
    return (
        one.part != other.part
        and one.depth_mm < other.depth_mm
        and all(a <= b for a, b in zip(one.lo_mm, other.lo_mm, strict=True))
        and all(a >= b for a, b in zip(one.hi_mm, other.hi_mm, strict=True))
    )
