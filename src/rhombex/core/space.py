"""Faces, directions and boxes of the case: x right, y back, z up, seen from the front."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Literal, NamedTuple

Face = Literal["front", "back", "left", "right", "top", "bottom"]
FACES: tuple[Face, ...] = ("front", "back", "left", "right", "top", "bottom")
Vec2 = tuple[float, float]
Vec3 = tuple[float, float, float]
Rows = tuple[Vec3, Vec3, Vec3]

OUTWARD: dict[Face, Vec3] = {
    "front": (0, -1, 0),
    "back": (0, 1, 0),
    "left": (-1, 0, 0),
    "right": (1, 0, 0),
    "top": (0, 0, 1),
    "bottom": (0, 0, -1),
}
# u to the right and v up on a face as it is seen from outside
FACE_U: dict[Face, Vec3] = {
    "front": (1, 0, 0),
    "back": (-1, 0, 0),
    "left": (0, -1, 0),
    "right": (0, 1, 0),
    "top": (1, 0, 0),
    "bottom": (1, 0, 0),
}
FACE_V: dict[Face, Vec3] = {
    "front": (0, 0, 1),
    "back": (0, 0, 1),
    "left": (0, 0, 1),
    "right": (0, 0, 1),
    "top": (0, 1, 0),
    "bottom": (0, -1, 0),
}


class Box(NamedTuple):
    """An axis-parallel box, two corners in mm."""

    lo: Vec3
    hi: Vec3

    def meets(self, other: Box) -> bool:
        """Whether two boxes share room; those that only touch do not."""
        (x, y, z), (u, v, w) = self
        (p, q, r), (f, g, h) = other
        return x < f and p < u and y < g and q < v and z < h and r < w

    @property
    def centre(self) -> Vec3:
        (x, y, z), (u, v, w) = self
        return (x + u) / 2, (y + v) / 2, (z + w) / 2

    @property
    def size(self) -> Vec3:
        (x, y, z), (u, v, w) = self
        return u - x, v - y, w - z

    def grown(self, by: float) -> Box:
        return Box(
            tuple(a - by for a in self.lo),  # type: ignore[arg-type]
            tuple(b + by for b in self.hi),  # type: ignore[arg-type]
        )

    def moved(self, by: Vec3) -> Box:
        """The same elsewhere."""
        (x, y, z), (u, v, w) = self
        dx, dy, dz = by
        return Box((x + dx, y + dy, z + dz), (u + dx, v + dy, w + dz))

    def gaps(self, other: Box) -> Vec3:
        """Distance along each axis; negative where the boxes overlap on that axis."""
        (x, y, z), (u, v, w) = self
        (p, q, r), (f, g, h) = other
        return max(x - f, p - u), max(y - g, q - v), max(z - h, r - w)

    def distance(self, other: Box) -> float:
        """Euclidean distance; where the boxes overlap, minus the smallest way out."""
        g = self.gaps(other)
        if max(g) < 0:
            return max(g)
        return float(sum(max(x, 0.0) ** 2 for x in g) ** 0.5)


def hull(boxes: list[Box]) -> Box:
    """The box round boxes. Raises ValueError where there are none."""
    if not boxes:
        raise ValueError("no boxes")
    return Box(
        tuple(min(b.lo[i] for b in boxes) for i in range(3)),  # type: ignore[arg-type]
        tuple(max(b.hi[i] for b in boxes) for i in range(3)),  # type: ignore[arg-type]
    )


class Frame(NamedTuple):
    """A place and three right-handed axes of unit length (the columns): any rotation and translation. Boxes and points are put into frames by the
    ten thousand at every edit: written out, that takes a third of the time of loops over axes."""

    origin: Vec3
    x: Vec3
    y: Vec3
    z: Vec3

    def point(self, p: Vec3) -> Vec3:
        (o, a, b, c), (u, v, w) = self, p
        return (
            o[0] + a[0] * u + b[0] * v + c[0] * w,
            o[1] + a[1] * u + b[1] * v + c[1] * w,
            o[2] + a[2] * u + b[2] * v + c[2] * w,
        )

    def vector(self, p: Vec3) -> Vec3:
        (_, a, b, c), (u, v, w) = self, p
        return (
            a[0] * u + b[0] * v + c[0] * w,
            a[1] * u + b[1] * v + c[1] * w,
            a[2] * u + b[2] * v + c[2] * w,
        )

    def local(self, p: Vec3) -> Vec3:
        """A point as this frame sees it: the inverse of `point`."""
        o, a, b, c = self
        u, v, w = p[0] - o[0], p[1] - o[1], p[2] - o[2]
        return (
            u * a[0] + v * a[1] + w * a[2],
            u * b[0] + v * b[1] + w * b[2],
            u * c[0] + v * c[1] + w * c[2],
        )

    def then(self, inner: Frame) -> Frame:
        """A frame that is given in this one, as the outside sees it."""
        return Frame(self.point(inner.origin), self.vector(inner.x), self.vector(inner.y), self.vector(inner.z))

    @property
    def inverse(self) -> Frame:
        """The outside, as this frame sees it."""
        x, y, z = ((self.x[k], self.y[k], self.z[k]) for k in range(3))
        return Frame(self.local((0.0, 0.0, 0.0)), x, y, z)

    def box(self, b: Box) -> Box:
        """The box round a box in this frame: along each axis the least and the most that each of its sides comes to."""
        o, x, y, z = self
        (u, v, w), (r, s, t) = b
        lo, hi = [], []
        for k in (0, 1, 2):
            (a, d), (e, f), (g, h) = _ends(x[k], u, r), _ends(y[k], v, s), _ends(z[k], w, t)
            lo.append(o[k] + a + e + g)
            hi.append(o[k] + d + f + h)
        return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


def _ends(by: float, lo: float, hi: float) -> Vec2:
    """From where to where a stretch runs that is measured by so much of itself."""
    return (by * lo, by * hi) if by >= 0 else (by * hi, by * lo)


STILL = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


def rotated(origin: Vec3, about: Vec3, degrees: float) -> Frame:
    """A frame turned about an axis by the right-hand rule (Rodrigues' formula). Raises ValueError for an axis of no length."""
    n = sum(c * c for c in about) ** 0.5
    if n == 0:
        raise ValueError("an axis needs a direction")
    kx, ky, kz = (c / n for c in about)
    c, s = cos(radians(degrees)), sin(radians(degrees))
    if degrees % 90 == 0:
        c, s = float(round(c)), float(round(s))
    t = 1 - c
    return Frame(
        origin,
        (t * kx * kx + c, t * kx * ky + s * kz, t * kx * kz - s * ky),
        (t * kx * ky - s * kz, t * ky * ky + c, t * ky * kz + s * kx),
        (t * kx * kz + s * ky, t * ky * kz - s * kx, t * kz * kz + c),
    )


_TURN: dict[int, tuple[Vec3, Vec3]] = {
    0: ((1, 0, 0), (0, 1, 0)),
    90: ((0, 1, 0), (-1, 0, 0)),
    180: ((-1, 0, 0), (0, -1, 0)),
    270: ((0, -1, 0), (1, 0, 0)),
}


def turned(origin: Vec3, turn: int) -> Frame:
    """A frame turned about z by 0, 90, 180 or 270 degrees, counter-clockwise from above."""
    x, y = _TURN[turn % 360]
    return Frame(origin, x, y, (0, 0, 1))


def face_frame(face: Face, origin: Vec3) -> Frame:
    """A frame on a face: x = u, y = v as seen from outside, z outward."""
    return Frame(origin, FACE_U[face], FACE_V[face], OUTWARD[face])


def face_origin(face: Face, size: Vec3) -> Vec3:
    """Where u = v = 0 lies on a face of the outer box: its lower left corner seen from outside."""
    w, d, h = size
    return {
        "front": (0.0, 0.0, 0.0),
        "back": (w, d, 0.0),
        "left": (0.0, d, 0.0),
        "right": (w, 0.0, 0.0),
        "top": (0.0, 0.0, h),
        "bottom": (0.0, d, 0.0),
    }[face]


def face_size(face: Face, size: Vec3) -> Vec2:
    """Width and height of a face of the outer box."""
    w, d, h = size
    if face in ("front", "back"):
        return (w, h)
    if face in ("left", "right"):
        return (d, h)
    return (w, d)


def facing(direction: Vec3) -> Face:
    """The face that a unit axis direction points at."""
    for face, out in OUTWARD.items():
        if out == direction:
            return face
    raise ValueError(f"{direction} is not along an axis")


def on_face(face: Face, size: Vec3, p: Vec3) -> Vec2:
    """Project a point of the case onto a face: (u, v)."""
    o, u, v = face_origin(face, size), FACE_U[face], FACE_V[face]
    d = tuple(p[i] - o[i] for i in range(3))
    return (sum(d[i] * u[i] for i in range(3)), sum(d[i] * v[i] for i in range(3)))


def off_face(face: Face, size: Vec3, uv: Vec2) -> Vec3:
    """The point of the outer surface at (u, v) of a face."""
    o, u, v = face_origin(face, size), FACE_U[face], FACE_V[face]
    return tuple(o[i] + u[i] * uv[0] + v[i] * uv[1] for i in range(3))  # type: ignore[return-value]


def normal_axis(face: Face) -> int:
    """0, 1 or 2: the axis a face is at right angles to."""
    return next(i for i in range(3) if OUTWARD[face][i] != 0)
