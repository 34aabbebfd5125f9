"""Recipes to meshes with manifold3d. Results are remembered by content hash."""

from __future__ import annotations

import math

import numpy as np
from manifold3d import CrossSection, Error, FillRule, Manifold, Mesh, Mesh64, OpType
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.geometry import changed
from rhombex.core.geometry import recipe as r
from rhombex.core.geometry.meshes import held
from rhombex.core.geometry.steps import row_of
from rhombex.core.memo import Memo, MemoOfThese
from rhombex.core.plain import DesignError
from rhombex.core.space import Frame

SEEN_TOL = 0.05
FILE_TOL = 0.02

_MOST_TRIANGLES = 6e5  # of all remembered meshes; about 150 bytes each
evaluated: Memo[tuple[str, float], Manifold] = Memo(2000, lambda m: float(m.num_tri()), _MOST_TRIANGLES)


def cross_section(p: r.Profile, tol: float) -> CrossSection:
    """A profile as a 2D region."""
    loops = [r.loop_points(loop, tol) for loop in (*p.outers, *p.holes)]
    return CrossSection(loops, FillRule.Positive)


def _matrix(f: Frame) -> NDArray[np.float64]:
    return np.array([[f.x[i], f.y[i], f.z[i], f.origin[i]] for i in range(3)], dtype=np.float64)


def _union_parts(s: r.Solid) -> list[r.Solid]:
    if isinstance(s, r.Union):
        return [p for x in s.solids for p in _union_parts(x)]
    return [s]


def _build(s: r.Solid, tol: float) -> Manifold:
    match s:
        case r.Extrude(height=h) if h <= 0:  # between two heights the wrong way round there is nothing
            return Manifold()
        case r.Extrude(profile=p, height=h):
            return Manifold.extrude(cross_section(p, tol), h)
        case r.Loft(bottom=b, top=t, height=h):
            points = [(x, y, 0.0) for x, y in r.loop_points(b.outers[0], tol)]
            points += [(x, y, h) for x, y in r.loop_points(t.outers[0], tol)]
            return Manifold.hull_points(np.array(points))
        case r.Revolve(profile=p, degrees=turn):
            region = cross_section(p, tol)
            far = max((x for loop in p.outers for x, _ in r.loop_points(loop, tol)), default=0.0)
            count = r.segments(max(far, 1e-3), tol)
            if turn >= 360.0:  # a polygon of the circle's own area, as of circles that are drawn: no volume is lost
                step = 2 * math.pi / count
                region = region.scale((math.sqrt(step / math.sin(step)), 1.0))
            return Manifold.revolve(region, count, turn)
        case r.Meshed(mesh=name):
            verts, tri = held(name)
            solid = Manifold(Mesh64(vert_properties=verts, tri_verts=tri.astype(np.uint64)))
            if solid.status() != Error.NoError or solid.volume() <= 0:
                raise DesignError("mesh", "the mesh does not close to a solid", "Mend it where it was made.")
            return solid
        case r.Array(solid=inner, frames=frames):
            one = evaluate(inner, tol)
            return Manifold.batch_boolean([one.transform(_matrix(f)) for f in frames], OpType.Add)
        case r.Move(solid=inner, frame=f):
            return evaluate(inner, tol).transform(_matrix(f))
        case r.Union():
            return Manifold.batch_boolean([evaluate(x, tol) for x in _union_parts(s)], OpType.Add)
        case r.Difference(base=base, tools=tools):
            flat = [x for t in tools for x in _union_parts(t)]
            return Manifold.batch_boolean([evaluate(x, tol) for x in (base, *flat)], OpType.Subtract)
        case r.Intersection(a=a, b=b):
            return evaluate(a, tol) ^ evaluate(b, tol)
        case r.Filled(solid=inner):
            m = evaluate(inner, tol)
            parts = m.decompose()
            # a closed hollow is a body of its own, turned inside out
            solid = [p for p in parts if p.volume() > 0]
            return m if len(solid) == len(parts) else Manifold.compose(solid)
    raise TypeError(f"not a solid: {s!r}")


def evaluate(s: r.Solid, tol: float = SEEN_TOL) -> Manifold:
    """The mesh of a recipe with a chord tolerance in mm. What is printed from, with FILE_TOL, is the same mesh for the same recipe, bit for bit; what is seen the same
    solid, whose triangles may lie otherwise where it was made from one much like it."""
    return evaluated.make((s.digest, tol), lambda: _made(s, tol))  # weighing it evaluates it, which is lazy


def _made(s: r.Solid, tol: float) -> Manifold:
    if tol == SEEN_TOL and isinstance(s, r.Union | r.Difference | r.Intersection):
        return changed.make(s, evaluate, lambda: _build(s, tol))
    return _build(s, tol)


NEAR_MM = 0.2  # more than a coarse chord and a fine one of the same arc are apart


def left_in(body: r.Solid, room: r.Solid) -> r.Solid:
    """What is left of a body in a room, by those steps of its recipe alone that reach into it: what changes elsewhere leaves it as it was."""
    grown = np.array(evaluate(room).bounding_box()) + NEAR_MM * np.repeat([-1.0, 1.0], 3)
    left = r.Intersection(row_of(body, evaluate).near(grown).recipe(), room)
    evaluated.make((left.digest, SEEN_TOL), lambda: evaluate(r.Intersection(body, room)))  # pieces share the body
    return left


Triangles = tuple[NDArray[np.float64], NDArray[np.int64]]
_drawn: MemoOfThese[Triangles] = MemoOfThese(
    8
)  # one mesh is asked for four times in a row: closed, sliced, weighed, cut across


def triangles(m: Manifold) -> Triangles:
    """Vertices (n, 3) in mm and triangles (m, 3), counter-clockwise seen from outside; not to be written to."""

    def draw() -> Triangles:
        mesh: Mesh = m.to_mesh64() if hasattr(m, "to_mesh64") else m.to_mesh()
        verts = np.asarray(mesh.vert_properties, dtype=np.float64)[:, :3]
        tri = np.asarray(mesh.tri_verts, dtype=np.int64)
        verts.flags.writeable = tri.flags.writeable = False
        return verts, tri

    return _drawn.make((m,), "", draw)


def closed(tri: NDArray[np.int64]) -> bool:
    """True where every edge is shared by exactly two triangles that run it in opposite ways."""
    return len(tri) > 0 and _paired(tri, int(tri.max()) + 1)


@njit
def _paired(tri: NDArray[np.int64], n: int) -> bool:
    """Whether each edge among n corners is run once in each way. Edges wait in a list by their lower corner for the one that runs back."""
    last = np.full(n, -1, np.int64)
    before = np.empty(3 * len(tri), np.int64)
    back = np.zeros(3 * len(tri), np.bool_)  # has met the one that runs back
    alone = 0
    for e in range(3 * len(tri)):
        p, q = tri[e // 3, e % 3], tri[e // 3, (e + 1) % 3]
        low, high = min(p, q), max(p, q)
        f = last[low]
        while f >= 0:
            r, s = tri[f // 3, f % 3], tri[f // 3, (f + 1) % 3]
            if max(r, s) == high:
                break
            f = before[f]
        if f < 0:
            before[e] = last[low]
            last[low] = e
            alone += 1
        elif back[f] or tri[f // 3, f % 3] == p:
            return False  # a third time, or twice the same way
        else:
            back[f] = True
            alone -= 1
    return alone == 0


def watertight(m: Manifold) -> bool:
    """True where the mesh is closed and its volume is positive."""
    return m.volume() > 0 and closed(triangles(m)[1])


def bodies(m: Manifold) -> int:
    """How many separate bodies there are; a closed room inside one is none."""
    return sum(x.volume() > 0 for x in m.decompose())


centres: Memo[str, tuple[float, tuple[float, float, float]]] = Memo(400)


def centre(s: r.Solid) -> tuple[float, tuple[float, float, float]]:
    """Volume, mm3, and centre of gravity of a solid of even density: the sum of the tetrahedra under its triangles."""

    def work() -> tuple[float, tuple[float, float, float]]:
        six, x, y, z = _moments(*triangles(evaluate(s, SEEN_TOL)))
        if abs(six) < 1e-9:
            return 0.0, (0.0, 0.0, 0.0)
        return six / 6, (x / (4 * six), y / (4 * six), z / (4 * six))

    return centres.make(s.digest, work)


@njit
def _moments(verts: NDArray[np.float64], tri: NDArray[np.int64]) -> tuple[float, float, float, float]:
    """Six times the volume of a mesh, and the sum over its tetrahedra of that times the three corners they have besides the origin."""
    six, x, y, z = 0.0, 0.0, 0.0, 0.0
    for t in range(len(tri)):
        ax, ay, az = verts[tri[t, 0]]
        bx, by, bz = verts[tri[t, 1]]
        cx, cy, cz = verts[tri[t, 2]]
        one = ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)
        six += one
        x += one * (ax + bx + cx)
        y += one * (ay + by + cy)
        z += one * (az + bz + cz)
    return six, x, y, z
