"""How a case stands: on its floor, or on another face, so that what comes off its top comes off towards a side."""

from __future__ import annotations

from typing import Literal

from rhombex.core.space import FACES, OUTWARD, Face, Frame, Vec3

StandsOn = Literal["bottom", "front", "back", "left", "right"]
STANDS_ON: tuple[StandsOn, ...] = ("bottom", "front", "back", "left", "right")
IN_WORDS: dict[StandsOn, str] = {
    "bottom": "floor",
    "front": "front",
    "back": "back",
    "left": "left side",
    "right": "right side",
}
# who stands on front or back is turned so that its top looks at who uses it
_FRONT: dict[StandsOn, Face] = {"bottom": "front", "left": "front", "right": "front", "front": "top", "back": "top"}


_OPPOSITE: dict[str, Face] = {
    "bottom": "top",
    "top": "bottom",
    "front": "back",
    "back": "front",
    "left": "right",
    "right": "left",
}


def opposite(face: str) -> Face:
    """The face on the other side."""
    return _OPPOSITE[face]


def stood(on: StandsOn, box_mm: Vec3) -> Frame:
    """The frame of a case of that size as it stands on a face: x to the right, y to the back and z up as its user sees it, from its lower left front corner."""
    up, front = OUTWARD[opposite(on)], OUTWARD[_FRONT[on]]
    right = (
        up[1] * front[2] - up[2] * front[1],
        up[2] * front[0] - up[0] * front[2],
        up[0] * front[1] - up[1] * front[0],
    )
    back = OUTWARD[opposite(_FRONT[on])]
    # each axis begins at the face that it comes from
    x, y, z = (s if min(right[k], back[k], up[k]) < 0 else 0.0 for k, s in enumerate(box_mm))
    return Frame((x, y, z), right, back, up)


def stood_size(on: StandsOn, size_mm: Vec3) -> Vec3:
    """Width, depth and height of a case as it stands, of its size along x, y and z."""
    x, y, z = (abs(c) for c in stood(on, size_mm).inverse.vector(size_mm))
    return (x, y, z)


def sides_of(on: StandsOn) -> dict[str, Face]:
    """Which face is where as a case stands: left, right, front, back, top, bottom of what its user sees."""
    frame = stood(on, (0.0, 0.0, 0.0))
    return {name: _facing(frame.vector(way)) for name, way in OUTWARD.items()}


def up_axis(on: StandsOn) -> int:
    """The axis of the case that is upright as it stands."""
    return next(k for k in range(3) if OUTWARD[on][k])


def _facing(way: Vec3) -> Face:
    return next(f for f in FACES if all(abs(a - b) < 0.5 for a, b in zip(OUTWARD[f], way, strict=True)))
