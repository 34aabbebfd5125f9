"""Shapes as recipes: small trees of plain values that can be hashed, compared and evaluated by two kernels.

A profile is a set of closed loops in the xy plane. A loop's vertices are `(x, y, bulge)`; the bulge is the tangent of
a quarter of the arc's angle from this vertex to the next (0 a straight edge, 1 a half circle, positive to the left
of travel reversed, that is counter-clockwise). Solids stand on z = 0 and are moved by frames of any rotation.
"""

from __future__ import annotations

import hashlib
import marshal
import math
from dataclasses import dataclass, fields
from functools import cache, cached_property, lru_cache

from rhombex.core.space import Box, Frame, Vec2, Vec3

GRID = 2.0**20
BY_VALUE = 2  # the format of `marshal` that says no value by where the same one stood before


def snap(x: float) -> float:
    """Round to 2^-20 mm, so that abutting faces meet exactly in both kernels."""
    return round(x * GRID) / GRID


Vertex = tuple[float, float, float]
Loop = tuple[Vertex, ...]


class Hashed:
    """Content hash over a node's fields: equal recipes have equal digests, in any process."""

    @cached_property
    def digest(self) -> str:
        told = b"".join(_token(getattr(self, name)) for name in _names(type(self)))  # type: ignore[arg-type]
        return hashlib.sha256(type(self).__name__.encode() + told).hexdigest()[:32]


@cache
def _names(node: type[object]) -> tuple[str, ...]:
    return tuple(f.name for f in fields(node))  # type: ignore[arg-type]


def _token(v: object) -> bytes:
    if isinstance(v, Hashed):
        return v.digest.encode()
    if isinstance(v, tuple) and v and isinstance(v[0], Hashed):
        return ("(" + ",".join(x.digest for x in v) + ")").encode()
    try:  # loops and numbers: in words their floats take ten times as long
        return marshal.dumps(tuple(v) if isinstance(v, Frame) else v, BY_VALUE)  # type: ignore[arg-type]
    except ValueError:  # frames in a tuple, or numbers of numpy
        return repr(v).encode()


@dataclass(frozen=True)
class Profile(Hashed):
    """Outer loops counter-clockwise, hole loops clockwise (the makers below see to it)."""

    outers: tuple[Loop, ...]
    holes: tuple[Loop, ...] = ()


class Solid(Hashed):
    """Base of the solid nodes."""


@dataclass(frozen=True)
class Extrude(Solid):
    """A profile raised from z = 0 to `height`."""

    profile: Profile
    height: float


@dataclass(frozen=True)
class Loft(Solid):
    """The convex body between two convex one-loop profiles of the same structure, at z = 0 and z = `height`."""

    bottom: Profile
    top: Profile
    height: float


@dataclass(frozen=True)
class Revolve(Solid):
    """A profile right of the y axis (x >= 0), turned about it by so many degrees (up to 360); the axis then stands along z."""

    profile: Profile
    degrees: float = 360.0


@dataclass(frozen=True)
class Meshed(Solid):
    """A closed mesh, by the name it is kept under in `meshes`."""

    mesh: str


@dataclass(frozen=True)
class Array(Solid):
    """The same solid in several frames, united."""

    solid: Solid
    frames: tuple[Frame, ...]


@dataclass(frozen=True)
class Move(Solid):
    """A solid in another frame."""

    solid: Solid
    frame: Frame


@dataclass(frozen=True)
class Union(Solid):
    solids: tuple[Solid, ...]


@dataclass(frozen=True)
class Difference(Solid):
    base: Solid
    tools: tuple[Solid, ...]


@dataclass(frozen=True)
class Intersection(Solid):
    a: Solid
    b: Solid


@dataclass(frozen=True)
class Filled(Solid):
    """A solid without the closed hollows inside it: nothing could reach them, and they print badly."""

    solid: Solid


def rect(x0: float, y0: float, x1: float, y1: float) -> Loop:
    """A rectangle, counter-clockwise."""
    a, b, c, d = snap(x0), snap(y0), snap(x1), snap(y1)
    return ((a, b, 0.0), (c, b, 0.0), (c, d, 0.0), (a, d, 0.0))


def rounded(x0: float, y0: float, x1: float, y1: float, r: float) -> Loop:
    """A rectangle with round corners, counter-clockwise; square where the radius is nothing."""
    r = min(r, (x1 - x0) / 2 - 1e-3, (y1 - y0) / 2 - 1e-3)
    if r < 0.05:
        return rect(x0, y0, x1, y1)
    t = math.tan(math.pi / 8)
    a, b, c, d, r = snap(x0), snap(y0), snap(x1), snap(y1), snap(r)
    return (
        (a + r, b, 0.0),
        (c - r, b, t),
        (c, b + r, 0.0),
        (c, d - r, t),
        (c - r, d, 0.0),
        (a + r, d, t),
        (a, d - r, 0.0),
        (a, b + r, t),
    )


def circle(x: float, y: float, d: float) -> Loop:
    """A circle as two half arcs, counter-clockwise."""
    r = snap(d / 2)
    return ((snap(x) - r, snap(y), 1.0), (snap(x) + r, snap(y), 1.0))


def diamond(x: float, y: float, across: float) -> Loop:
    """A square on its corner, `across` from flat to flat: its 45 degree sides print without support."""
    h = snap(across / math.sqrt(2))
    x, y = snap(x), snap(y)
    return ((x - h, y, 0.0), (x, y - h, 0.0), (x + h, y, 0.0), (x, y + h, 0.0))


def reverse(loop: Loop) -> Loop:
    """The same loop the other way round."""
    n = len(loop)
    return tuple((loop[-i % n][0], loop[-i % n][1], -loop[(-i - 1) % n][2]) for i in range(n))


def profile(outers: list[Loop], holes: list[Loop] | None = None) -> Profile:
    """A profile from counter-clockwise loops; holes are turned round."""
    return Profile(tuple(outers), tuple(reverse(h) for h in holes or []))


def at(x: float, y: float, z: float) -> Frame:
    """A frame that only moves."""
    return Frame((snap(x), snap(y), snap(z)), (1, 0, 0), (0, 1, 0), (0, 0, 1))


@lru_cache(maxsize=4096)
def prism(loop: Loop, z0: float, z1: float) -> Solid:
    """An upright prism between two heights. Remembered, so that its digest is worked out once."""
    a, b = snap(z0), snap(z1)
    return Move(Extrude(Profile((loop,)), b - a), at(0, 0, a))


def block(box: Box) -> Solid:
    """A box."""
    return prism(rect(box.lo[0], box.lo[1], box.hi[0], box.hi[1]), box.lo[2], box.hi[2])


def through(loops: list[Loop], frame: Frame, z0: float, z1: float) -> Solid:
    """A tool that cuts loops drawn in a frame, from z0 to z1 along the frame's z."""
    return _through(tuple(loops), frame, z0, z1)


@lru_cache(maxsize=2048)
def _through(loops: tuple[Loop, ...], frame: Frame, z0: float, z1: float) -> Solid:
    a, b = snap(z0), snap(z1)
    origin: Vec3 = tuple(
        snap(o + z * a)
        for o, z in zip(frame.origin, frame.z, strict=True)  # type: ignore[assignment]
    )
    return Move(Extrude(Profile(loops), b - a), frame._replace(origin=origin))


def segments(radius: float, tol: float) -> int:
    """Into how many chords a circle is divided so that none is farther from it than `tol`: a multiple of four."""
    return max(12, 4 * math.ceil(math.pi / math.acos(max(-1.0, 1 - tol / radius)) / 4))


def _as_large(circle: Loop, tol: float) -> list[Vec2]:
    (x0, y0, bulge), (x1, y1, _) = circle
    r = math.hypot(x1 - x0, y1 - y0) / 2
    n = segments(r, tol)
    turn = math.copysign(2 * math.pi / n, bulge)
    far = r * math.sqrt(abs(turn) / math.sin(abs(turn)))
    start = math.atan2(y0 - y1, x0 - x1)
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    return [(cx + far * math.cos(start + turn * k), cy + far * math.sin(start + turn * k)) for k in range(n)]


def loop_points(loop: Loop, tol: float) -> list[Vec2]:
    """A loop as straight segments with a chord error of at most `tol` mm; vertices stay exact.

    A quarter arc has a whole number of segments, so that lines of symmetry are kept. A whole circle becomes a polygon of its
    own area, its corners a little outside and its sides a little inside: hundreds of vents lose no volume that way. So do arcs, but for their ends.
    """
    out: list[Vec2] = []
    n = len(loop)
    if n == 2 and abs(loop[0][2]) == abs(loop[1][2]) == 1.0:
        return _as_large(loop, tol)
    for i, (x, y, bulge) in enumerate(loop):
        out.append((x, y))
        if bulge == 0.0:
            continue
        x1, y1, _ = loop[(i + 1) % n]
        theta = 4 * math.atan(bulge)
        chord = math.hypot(x1 - x, y1 - y)
        r = chord / 2 / math.sin(abs(theta) / 2)
        steps = max(1, round(segments(r, tol) * abs(theta) / (2 * math.pi)))
        # centre: left of the chord for a positive bulge below a half circle
        mx, my = (x + x1) / 2, (y + y1) / 2
        h = chord / 2 / math.tan(theta / 2)
        ux, uy = (x1 - x) / chord, (y1 - y) / chord
        cx, cy = mx - uy * h, my + ux * h
        start, far = math.atan2(y - cy, x - cx), r * _outwards(abs(theta) / steps, steps)
        for k in range(1, steps):
            a = start + theta * k / steps
            out.append((cx + far * math.cos(a), cy + far * math.sin(a)))
    return out


def _outwards(turn: float, steps: int) -> float:
    """By how much farther from an arc's middle the corners between its ends are than it is, so that so many chords, each over such a turn, enclose the arc's own area with
    it: 2 f + (steps - 2) f^2 = steps x turn / sin(turn)."""
    if steps < 2 or turn > math.pi / 2:
        return 1.0
    n, wanted = steps - 2, steps * turn / math.sin(turn)
    return wanted / 2 if n == 0 else (math.sqrt(1 + n * wanted) - 1) / n
