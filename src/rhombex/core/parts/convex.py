"""A stranger's body as convex cells: cut where its hollows are, until each cell nearly fills its hull.

A closed mesh is cut exactly and its hollows are known by volume. Of an open one only the triangles are known: it is cut where
the hulls of the two sides are smaller together, and hollows stay filled.
"""

from __future__ import annotations

from itertools import combinations

import numpy as np
from manifold3d import Error, Manifold, Mesh, OpType
from numpy.typing import NDArray
from scipy.spatial import ConvexHull, HalfspaceIntersection, QhullError

from rhombex.core.geometry.weld import WELD_MM, corner_names, weld
from rhombex.core.progress import Progress, silent
from rhombex.core.space import Vec3

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
MOST_PARTS = 24
MOST_CORNERS = 124
FULL = 0.97  # of its hull: a cell that fills so much is convex
SPECK = 1e-3  # of the whole body: what is smaller is not cut further
FACES_TRIED = 10  # planes of the largest flat faces along which a cut is tried
SAW_MM = 2e-4
HEAVY = 2_500  # triangles; a body of more is smoothed before it is cut, and its cells grow by as much
FACE = 0.02  # of the surface: what is smaller is no face
EDGES_TRIED = 5
INNER_COS = 0.9  # normals closer than this (26 degrees) make no edge
STATIONS = 3  # planes across each axis, between the ends
THIN_MM = 0.02  # what is flat is taken so thick
SAMPLE = 1500  # triangles of an open mesh by which a cut is chosen


def convex_cells(points: Array, most: int = MOST_PARTS, progress: Progress = silent) -> tuple[list[Array], bool]:
    """Corners (k, 3) of at most `most` convex cells that hold all triangles (n, 3, 3) between them, and whether the mesh is
    closed. At most MOST_CORNERS corners each; where there would be more, the cell stands out a little, never in."""
    body = _closed(points)
    if body is None:
        return [few_corners(h) for h in _open_parts(points, most, progress)], False
    body, off_mm = _lighter(body, HEAVY)
    hulls = [
        np.asarray(p.hull().to_mesh().vert_properties, dtype=np.float64)[:, :3] for p in _cut_up(body, most, progress)
    ]
    box = points.min(axis=(0, 1)), points.max(axis=(0, 1))
    return [few_corners(h, grow_mm=off_mm, box=box) for h in hulls], True


def _closed(points: Array) -> Manifold | None:
    """The triangles as one closed body, overlaps joined; None where they do not close."""
    verts, tri = weld(points)
    made = Manifold(Mesh(vert_properties=verts.astype(np.float32), tri_verts=tri.astype(np.uint32)))
    if made.status() != Error.NoError or made.is_empty() or made.volume() <= 0:
        return None
    islands = made.decompose()
    return Manifold.batch_boolean(islands, OpType.Add) if len(islands) > 1 else made


class _Cell:
    """A cell of the body: its volume, and what its hull holds beyond that, mm3."""

    def __init__(self, body: Manifold) -> None:
        self.body = body
        self.mm3 = float(body.volume())
        self.hollow = max(0.0, float(body.hull().volume()) - self.mm3)

    @property
    def full(self) -> bool:
        return self.hollow <= (1 - FULL) * (self.hollow + self.mm3)

    def cut(self, normal: Vec3, at: float) -> list[_Cell]:
        """The islands on both sides of a plane."""
        return [_Cell(m) for half in _halves(self.body, normal, at) for m in half.decompose()]


def _halves(m: Manifold, normal: Vec3, at: float) -> list[Manifold]:
    """What is left on both sides of a saw: a cut right in a face would leave sheets of no thickness."""
    x, y, z = normal
    halves = m.trim_by_plane(normal, at + SAW_MM / 2), m.trim_by_plane((-x, -y, -z), SAW_MM / 2 - at)
    return [h for h in halves if not h.is_empty()]


def _lighter(m: Manifold, most: int) -> tuple[Manifold, float]:
    """A copy of about so many triangles, and how far it may lie from the body, mm."""
    off, done = 0.02, 0.0
    while m.num_tri() > most and (done < 0.1 or m.num_tri() > 2 * most) and off < 2:
        m, done, off = m.simplify(off), done + off, off * 2
    return m, done


def _cut_up(body: Manifold, most: int, progress: Progress) -> list[Manifold]:
    """The better of two ways: walls taken off one by one, which suits trays, and halves of halves, which suits rings."""
    islands = body.decompose()
    cells = [_Cell(m) for m in (islands if len(islands) <= most else [body])]
    best = _divided(cells, most, True, progress)
    if _wasted(best) > 1 - FULL:
        best = min(best, _divided(cells, most, False, progress), key=_wasted)
    return _joined([p.body for p in best])


def _wasted(cells: list[_Cell]) -> float:
    return sum(p.hollow for p in cells) / max(sum(p.mm3 for p in cells), 1e-9)


def _divided(cells: list[_Cell], most: int, walls: bool, progress: Progress) -> list[_Cell]:
    whole = sum(p.mm3 for p in cells)
    work = list(cells)
    done: list[_Cell] = []
    while work:
        progress(len(done) / most, f"{len(done) + len(work)} cells")
        work.sort(key=lambda p: p.hollow)
        p = work.pop()
        cut: list[_Cell] = []
        if not p.full and p.hollow > SPECK * whole:
            cut = _best_cut(p, walls)
        if len(cut) < 2 or len(done) + len(work) + len(cut) > most:
            done.append(p)
        else:
            work += cut
    return done


def _best_cut(p: _Cell, walls: bool) -> list[_Cell]:
    """The cut that leaves the least hollow. Where none leaves clearly less: the largest full cell off, or the middle."""
    left: list[tuple[float, Vec3, float]] = []
    off: list[tuple[float, Vec3, float]] = []
    for normal, at in _planes(p.body, stations=not walls):
        halves = [_Cell(h) for h in _halves(p.body, normal, at)]
        if len(halves) < 2:
            continue
        left.append((sum(h.hollow for h in halves), normal, at))
        off += [(-h.mm3, normal, at) for h in halves if h.full]
    if not left:
        return []
    best = min(left)
    if best[0] < 0.9 * p.hollow:
        return p.cut(*best[1:])
    if walls:
        return p.cut(*min(off or left)[1:])
    lo, hi = np.array(p.body.bounding_box()).reshape(2, 3)
    axis = int((hi - lo).argmax())
    return p.cut(_unit(axis), float(lo[axis] + hi[axis]) / 2)


def _unit(axis: int) -> Vec3:
    return (float(axis == 0), float(axis == 1), float(axis == 2))


def _planes(m: Manifold, stations: bool) -> list[tuple[Vec3, float]]:
    """Planes to try: those of the largest flat faces, those across an axis in which an inner edge runs round, and with
    `stations` some across each axis besides."""
    mesh = m.to_mesh()
    tri = np.asarray(mesh.tri_verts).astype(np.int64)
    p = np.asarray(mesh.vert_properties, dtype=np.float64)[:, :3][tri]
    cross = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    area = np.linalg.norm(cross, axis=1)
    n = cross / np.maximum(area, 1e-12)[:, None]
    lo, hi = np.array(m.bounding_box()).reshape(2, 3)
    tried = _faces(p, n, area)
    tried += [(_unit(axis), at) for axis, at in _inner_edges(tri, p, n)]
    if stations or not tried:
        shares = np.arange(1, STATIONS + 1) / (STATIONS + 1)
        tried += [(_unit(axis), float(lo[axis] + (hi[axis] - lo[axis]) * x)) for axis in range(3) for x in shares]
    return tried


def _faces(p: Array, n: Array, area: Array) -> list[tuple[Vec3, float]]:
    """The planes of large flat faces."""
    n = np.where((np.abs(n).argmax(axis=1)[:, None] == np.arange(3)) & (np.abs(n) > 1 - 1e-6), np.sign(n), n)
    at = (n * p[:, 0]).sum(axis=1)
    # a face and the one that looks back at it lie in one plane
    flip = n[np.arange(len(n)), np.abs(n).argmax(axis=1)] < 0
    n[flip], at[flip] = -n[flip], -at[flip]
    _, index = np.unique(np.round(np.column_stack([n, at]), 2), axis=0, return_inverse=True)
    index = index.reshape(-1)
    size = np.bincount(index, weights=area)
    out: list[tuple[Vec3, float]] = []
    for k in np.argsort(-size)[:FACES_TRIED]:
        if size[k] < FACE * area.sum():
            break  # a facet of something round
        one = int(np.flatnonzero(index == k)[0])
        out.append(((float(n[one, 0]), float(n[one, 1]), float(n[one, 2])), float(at[one])))
    return out


def _inner_edges(tri: Ints, p: Array, n: Array) -> list[tuple[int, float]]:
    """Axes and heights of the longest inner edges that run across an axis: where one thing stands on another."""
    ends = np.stack([tri, np.roll(tri, -1, axis=1)], axis=2).reshape(-1, 2)
    points = np.stack([p, np.roll(p, -1, axis=1)], axis=2).reshape(-1, 2, 3)
    key = ends.min(axis=1) * (int(tri.max()) + 1) + ends.max(axis=1)
    order = np.argsort(key, kind="stable")
    a, b = order[:-1], order[1:]
    pair = key[a] == key[b]
    a, b = a[pair], b[pair]
    middle = p.mean(axis=1)
    fold = ((middle[b // 3] - middle[a // 3]) * n[a // 3]).sum(axis=1) > 1e-6
    sharp = (n[a // 3] * n[b // 3]).sum(axis=1) < INNER_COS
    edge = points[a[fold & sharp]]
    if not len(edge):
        return []
    length = np.linalg.norm(edge[:, 1] - edge[:, 0], axis=1)
    found: dict[tuple[int, float], float] = {}
    for axis in range(3):
        level = np.abs(edge[:, 1, axis] - edge[:, 0, axis]) < 0.02
        for at, mm in zip(edge[level, 0, axis].tolist(), length[level].tolist(), strict=True):
            place = (axis, round(at, 2))
            found[place] = found.get(place, 0.0) + mm
    return sorted(found, key=lambda k: -found[k])[:EDGES_TRIED]


def _joined(cells: list[Manifold]) -> list[Manifold]:
    """Cells that are convex together are one: cuts run on through what lay beside the hollow."""
    cells = list(cells)
    boxes = [np.array(p.bounding_box()).reshape(2, 3) for p in cells]
    again = True
    while again:
        again = False
        for i, j in combinations(range(len(cells)), 2):
            if (boxes[i][0] > boxes[j][1] + 1e-3).any() or (boxes[j][0] > boxes[i][1] + 1e-3).any():
                continue
            both = Manifold.batch_hull([cells[i], cells[j]])
            # against their own hulls: what each of them lacks already is not held against the two
            if both.volume() <= 1.002 * (cells[i].hull().volume() + cells[j].hull().volume()):
                cells[i] = both
                boxes[i] = np.array(both.bounding_box()).reshape(2, 3)
                del cells[j], boxes[j]
                again = True
                break
    return cells


# an open mesh


def _open_parts(points: Array, most: int, progress: Progress) -> list[Array]:
    work = _islands(points)
    if len(work) > most:
        work = [points]
    done: list[Array] = []
    while work:
        progress(len(done) / most, f"{len(done) + len(work)} cells")
        work.sort(key=_hull_mm3)
        p = work.pop()
        halves = _open_cut(p) if len(work) + len(done) + 2 <= most else None
        if halves is None:
            done.append(p.reshape(-1, 3))
        else:
            work += halves
    return done


def _islands(points: Array) -> list[Array]:
    """Triangles that hang together by shared corners."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    corners = points.reshape(-1, 3)
    _, index = np.unique(corner_names(np.round(corners / WELD_MM).astype(np.int64)), return_inverse=True)
    tri = index.reshape(-1, 3)
    i = np.concatenate([tri[:, 0], tri[:, 1]])
    j = np.concatenate([tri[:, 1], tri[:, 2]])
    _, of = connected_components(coo_matrix((np.ones(len(i)), (i, j)), (len(corners), len(corners))), directed=False)
    label = of[tri[:, 0]]
    order = np.argsort(label, kind="stable")
    cuts = np.flatnonzero(np.diff(label[order])) + 1
    return [points[k] for k in np.split(order, cuts)]


def _hull_mm3(p: Array) -> float:
    return float(Manifold.hull_points(_thick(p.reshape(-1, 3))).volume())


def _open_cut(p: Array) -> list[Array] | None:
    """Cut across an axis where the two hulls are clearly smaller together."""
    few = p[:: max(1, len(p) // SAMPLE)]
    whole = _hull_mm3(few)
    best: tuple[float, int, float] | None = None
    for axis in range(3):
        stations = np.unique(np.round(few[:, :, axis], 2))
        if len(stations) > 12:
            stations = np.quantile(stations, np.linspace(0.04, 0.96, 12))
        for at in stations[1:-1] if len(stations) > 2 else []:
            halves = [_clipped(few, axis, float(at), low) for low in (True, False)]
            if any(len(h) == 0 for h in halves):
                continue
            both = sum(_hull_mm3(h) for h in halves)
            if both < 0.93 * whole and (best is None or both < best[0]):
                best = (both, axis, float(at))
    if best is None:
        return None
    _, axis, at = best
    lid = _lid(p, axis, at)
    halves = [_clipped(p, axis, at, low) for low in (True, False)]
    return [np.concatenate([h, lid]) for h in halves if len(h)]


def _lid(p: Array, axis: int, at: float) -> Array:
    """Triangles over the outline of a cut, from its middle: they cover all that it goes round, so that a further cut through
    the half still knows what was full."""
    cut = _clipped(p, axis, at, True)
    on = np.abs(cut[:, :, axis] - at) < 1e-9
    cut, on = cut[on.sum(axis=1) == 2], on[on.sum(axis=1) == 2]
    if not len(cut):
        return np.zeros((0, 3, 3))
    ends = cut[on].reshape(-1, 2, 3)
    middle = np.broadcast_to(ends.reshape(-1, 3).mean(axis=0), (len(ends), 1, 3))
    return np.concatenate([ends, middle], axis=1)


def _clipped(p: Array, axis: int, at: float, low: bool) -> Array:
    """The triangles on one side of a plane; those across it are cut, into two where a corner is cut off."""
    side = p[:, :, axis] - at if low else at - p[:, :, axis]
    inside = side <= 1e-9
    count = inside.sum(axis=1)
    out = [p[count == 3]]
    for k in range(3):
        i, j = (k + 1) % 3, (k + 2) % 3
        lone = (count == 1) & inside[:, k]
        a = _crossing(p[lone, k], p[lone, i], axis, at)
        b = _crossing(p[lone, k], p[lone, j], axis, at)
        out.append(np.stack([p[lone, k], a, b], axis=1))
        gone = (count == 2) & ~inside[:, k]
        a = _crossing(p[gone, k], p[gone, i], axis, at)
        b = _crossing(p[gone, k], p[gone, j], axis, at)
        out.append(np.stack([a, p[gone, i], p[gone, j]], axis=1))
        out.append(np.stack([a, p[gone, j], b], axis=1))
    return np.concatenate(out)


def _crossing(a: Array, b: Array, axis: int, at: float) -> Array:
    d = b[:, axis] - a[:, axis]
    w = ((at - a[:, axis]) / np.where(np.abs(d) < 1e-12, 1e-12, d))[:, None]
    out: Array = a + w * (b - a)
    return out


# corners


def _thick(points: Array) -> Array:
    """Points that span no volume, given a little of it."""
    size = np.ptp(points, axis=0)
    if (size > THIN_MM).all():
        try:
            ConvexHull(points[:: max(1, len(points) // 400)])
            return points
        except QhullError:
            pass
    offsets = np.array([(x, y, z) for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)]) * THIN_MM / 2
    return np.asarray((points[:, None] + offsets).reshape(-1, 3))


def few_corners(
    points: Array, most: int = MOST_CORNERS, grow_mm: float = 0.0, box: tuple[Array, Array] | None = None
) -> Array:
    """Corners of a convex body round points, (k, 3), as many as `most`. Round bodies are given flat sides that touch them, as
    far apart in direction as can be, so that the body holds all points. `grow_mm` moves all sides out, but not past `box`."""
    points = _thick(np.unique(np.round(points, 3), axis=0))
    hull = ConvexHull(points)
    corners = points[hull.vertices]
    if len(corners) <= most and not grow_mm:
        return np.asarray(corners)
    normals = hull.equations[:, :3]
    axes = np.concatenate([np.eye(3), -np.eye(3)])
    chosen = list(axes)
    nearest = (normals @ axes.T).max(axis=1)
    for _ in range((most + 4) // 2 - len(axes)):  # a body of so many sides has at most 2 n - 4 corners
        k = int(nearest.argmin())
        chosen.append(normals[k])
        nearest = np.maximum(nearest, normals @ normals[k])
    reach = np.array([float((corners @ n).max()) + grow_mm for n in chosen])
    if box is not None:
        reach[:6] = np.minimum(reach[:6], np.concatenate([box[1], -box[0]]))
    planes = np.column_stack([chosen, -reach])
    inner = corners.mean(axis=0)
    return np.asarray(HalfspaceIntersection(planes, inner).intersections)


def is_box(corners: Array) -> bool:
    """True where the corners are those of an upright box."""
    lo, hi = corners.min(axis=0), corners.max(axis=0)
    return len(corners) == 8 and bool((np.minimum(np.abs(corners - lo), np.abs(corners - hi)) < 2e-3).all())
