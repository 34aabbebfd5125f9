"""A small line drawing of a body from one corner: its outline and sharp edges, without those that are hidden."""

from __future__ import annotations

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.geometry.mesh_kernel import triangles
from rhombex.core.trail import Frozen

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

TURN, TILT = np.radians(30.0), np.radians(28.0)  # from the front a little to the left, and from above
SHARP = np.cos(np.radians(30.0))  # edges of flatter bends are parts of a curve
STEP_PX = 1.5
NEAR_PX = 2.0  # so far behind the nearest surface an edge still lies on it


class LineDrawing(Frozen):
    """Strokes (x, y of each end, x to the right, y down) on a paper of so many units."""

    size: tuple[float, float]
    strokes: tuple[tuple[float, float, float, float], ...]


def line_drawing(mesh: Manifold, width: float = 120.0, height: float = 84.0) -> LineDrawing:
    """The mesh as it stands, drawn as large as the paper allows; of nothing there is an empty paper."""
    right = np.array([np.cos(TURN), np.sin(TURN), 0.0])
    up = np.array([-np.sin(TURN) * np.sin(TILT), np.cos(TURN) * np.sin(TILT), np.cos(TILT)])
    lo, hi = _extent(mesh, right, up)
    k = min((width - 2) / max(hi[0] - lo[0], 1e-9), (height - 2) / max(hi[1] - lo[1], 1e-9))
    strokes = view_strokes(mesh, right, up, k)
    if not len(strokes):
        return LineDrawing(size=(width, height), strokes=())
    w, h = ((hi - lo) * k + 2).tolist()
    placed = strokes * [1, -1, 1, -1] + [1, h - 1, 1, h - 1]
    rounded = {tuple(s) for s in np.round(placed, 1).tolist()}
    return LineDrawing(size=(round(w, 1), round(h, 1)), strokes=tuple(sorted(rounded)))


def view_strokes(mesh: Manifold, right: Array, up: Array, k: float) -> Array:
    """What is seen of a mesh along a way, (s, 4): both ends of each stroke in units of the paper (k of them for a millimetre), x to the
    right and y up from the lower left corner of the view. `right` and `up`: unit vectors of the paper in the mesh's frame."""
    verts, tri = triangles(mesh)
    if not len(tri):
        return np.empty((0, 4))
    away = np.cross(up, right)
    lo, hi = _extent(mesh, right, up)
    size = (hi - lo) * k
    flat = (np.stack([verts @ right, verts @ up, verts @ away], axis=1) - [*lo, 0.0]) * k
    paper = np.stack([1 + flat[:, 0], 1 + size[1] - flat[:, 1], flat[:, 2]], axis=1)
    w, h = float(size[0] + 2), float(size[1] + 2)
    depth = _nearest(paper, tri, int(np.ceil(w)) + 1, int(np.ceil(h)) + 1)
    strokes = _visible(paper, _edges(verts, tri, away), depth, STEP_PX, NEAR_PX)
    return np.asarray((strokes - [1, h - 1, 1, h - 1]) * [1, -1, 1, -1])


def _extent(mesh: Manifold, right: Array, up: Array) -> tuple[Array, Array]:
    verts, _ = triangles(mesh)
    if not len(verts):
        return np.zeros(2), np.zeros(2)
    flat = np.stack([verts @ right, verts @ up], axis=1)
    return flat.min(axis=0), flat.max(axis=0)


def _edges(verts: Array, tri: Ints, away: Array) -> Ints:
    """The edges (e, 2) at which two faces meet sharply, or of which one looks here and one away."""
    normal = np.cross(verts[tri[:, 1]] - verts[tri[:, 0]], verts[tri[:, 2]] - verts[tri[:, 0]])
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-300)[:, None]
    ends = np.stack([tri, np.roll(tri, -1, axis=1)], axis=2).reshape(-1, 2)
    key = ends.min(axis=1) * len(verts) + ends.max(axis=1)
    order = np.argsort(key, kind="stable")
    same = np.flatnonzero(key[order][1:] == key[order][:-1])
    a, b = order[same] // 3, order[same + 1] // 3
    sharp = (normal[a] * normal[b]).sum(axis=1) < SHARP
    outline = ((normal[a] @ away) < 0) != ((normal[b] @ away) < 0)
    return np.asarray(ends[order[same]][sharp | outline], dtype=np.int64)


@njit
def _nearest(p: Array, tri: Ints, w: int, h: int) -> Array:
    """Depth of the nearest surface in the middle of each unit of the paper."""
    out = np.full((h, w), np.inf)
    for t in range(len(tri)):
        ax, ay, az = p[tri[t, 0], 0], p[tri[t, 0], 1], p[tri[t, 0], 2]
        bx, by, bz = p[tri[t, 1], 0], p[tri[t, 1], 1], p[tri[t, 1], 2]
        cx, cy, cz = p[tri[t, 2], 0], p[tri[t, 2], 1], p[tri[t, 2], 2]
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if abs(area) < 1e-9:
            continue
        for i in range(max(0, int(min(ay, by, cy))), min(h, int(max(ay, by, cy)) + 1)):
            for j in range(max(0, int(min(ax, bx, cx))), min(w, int(max(ax, bx, cx)) + 1)):
                x, y = j + 0.5, i + 0.5
                u = ((bx - x) * (cy - y) - (by - y) * (cx - x)) / area
                v = ((cx - x) * (ay - y) - (cy - y) * (ax - x)) / area
                if u >= 0 and v >= 0 and u + v <= 1:
                    z = u * az + v * bz + (1 - u - v) * cz
                    out[i, j] = min(out[i, j], z)
    return out


@njit
def _visible(p: Array, edges: Ints, depth: Array, step: float, near: float) -> Array:
    """The stretches of edges (s, 4) that nothing stands before."""
    h, w = depth.shape
    out = np.empty((4 * len(edges) + 64, 4))
    n = 0
    for e in range(len(edges)):
        a, b = p[edges[e, 0]], p[edges[e, 1]]
        long = np.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2)
        parts = max(1, int(np.ceil(long / step)))
        begun = -1.0
        for k in range(parts + 1):
            seen = False
            if k < parts:
                f = (k + 0.5) / parts
                x, y, z = a[0] + f * (b[0] - a[0]), a[1] + f * (b[1] - a[1]), a[2] + f * (b[2] - a[2])
                front = -np.inf  # an edge of the outline lies half beside its own surface
                for i in range(max(0, int(y - 0.5)), min(h, int(y + 0.5) + 1)):
                    for j in range(max(0, int(x - 0.5)), min(w, int(x + 0.5) + 1)):
                        front = max(front, depth[i, j])
                seen = z <= front + near
            if seen and begun < 0:
                begun = k / parts
            elif not seen and begun >= 0:
                end = k / parts
                if n == len(out):
                    more = np.empty((2 * n, 4))
                    more[:n] = out
                    out = more
                out[n, 0], out[n, 1] = a[0] + begun * (b[0] - a[0]), a[1] + begun * (b[1] - a[1])
                out[n, 2], out[n, 3] = a[0] + end * (b[0] - a[0]), a[1] + end * (b[1] - a[1])
                n += 1
                begun = -1.0
    return out[:n]
