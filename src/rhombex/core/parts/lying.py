"""A stranger's body as boxes: laid on its flattest side, taken apart into pieces that are nearly full."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import ConvexHull, QhullError

from rhombex.core.parts.shapes import corner_names

Array = NDArray[np.float64]
MOST_BOXES = 24
FULL = 0.88
HULL = 12_000  # corners that the hull is laid round
SIDES = 60  # of a hull, the largest ones: one of them is the flattest
SCORED = 4000  # triangles of a piece that are tried for a cut; the cut itself takes all


def lay_flat(points: Array) -> tuple[Array, str]:
    """Turn a mesh (n, 3, 3) so that the largest flat side of its hull lies down and its longer side runs along x.

    Returns the turned mesh, lowest point and front left corner at 0, and what was done in words. A side that already lies down
    stays; where the hull is flat or a point, nothing is turned.
    """
    flat = points.reshape(-1, 3)
    some = flat[:: max(1, len(flat) // HULL)]
    try:
        hull = ConvexHull(some)
    except QhullError:
        return points - flat.min(axis=0), "as it lies in the file"
    # how much of the mesh itself lies in each side of the hull: a hull's own side may span thin air
    cross = np.cross(points[:, 1] - points[:, 0], points[:, 2] - points[:, 0])
    area = np.linalg.norm(cross, axis=1) / 2
    normal = cross / np.maximum(2 * area, 1e-12)[:, None]
    middle = points.mean(axis=1)
    key, first = np.unique(np.round(hull.equations, 4), axis=0, return_inverse=True)
    corners = some[hull.simplices]
    facet = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    sides = key[np.argsort(-np.bincount(first.reshape(-1), weights=facet))[:SIDES]]
    reach = 1e-3 * float(np.ptp(flat, axis=0).max())
    areas = {
        tuple(s[:3]): float(area[(np.abs(middle @ s[:3] + s[3]) < reach) & (normal @ s[:3] > 0.999)].sum())
        for s in sides
    }
    most = max(areas.values())
    down = max((k for k, v in areas.items() if v >= most * 0.999), key=lambda k: -k[2])
    n = -np.array(down)  # the new z
    n /= np.linalg.norm(n)
    if n[2] > 1 - 1e-6:
        up = np.eye(3)
        words = "as it lies in the file"
    else:
        seed = np.eye(3)[int(np.abs(n).argmin())]
        x = np.cross(seed, n) / np.linalg.norm(np.cross(seed, n))
        up = np.vstack([x, np.cross(n, x), n])
        words = "laid on its largest flat side"
    turned = flat @ up.T
    from shapely import MultiPoint

    box = np.asarray(MultiPoint((some @ up.T)[hull.vertices][:, :2]).minimum_rotated_rectangle.exterior.coords)
    a, b = box[1] - box[0], box[2] - box[1]
    u = a if np.linalg.norm(a) >= np.linalg.norm(b) - 1e-9 else b
    u = u / np.linalg.norm(u)
    if u[int(np.abs(u).argmax())] < 0:
        u = -u
    spin = np.array([[u[0], u[1], 0], [-u[1], u[0], 0], [0, 0, 1]])
    if (abs(u[0]) < 1 - 1e-6 and abs(u[1]) < 1 - 1e-6) or words != "as it lies in the file":
        turned = turned @ spin.T
        if words == "as it lies in the file":
            words = "turned about its upright axis"
    turned = turned - turned.min(axis=0)
    return turned.reshape(points.shape), words


def boxes_of(points: Array, most: int = MOST_BOXES) -> list[tuple[Array, Array]]:
    """A body as at most so many boxes round all of it. Pieces that do not touch get boxes of their own; a piece that fills its
    box badly is cut where the two boxes of its halves are smallest together."""
    pieces = [p for p in _islands(points) if len(p)]
    if len(pieces) > most:
        return [(p.min(axis=(0, 1)), p.max(axis=(0, 1))) for p in [points]]
    done: list[tuple[Array, Array]] = []
    work = pieces
    while work:
        work.sort(key=_waste)
        p = work.pop()
        lo, hi = p.min(axis=(0, 1)), p.max(axis=(0, 1))
        halves = _cut(p) if len(work) + len(done) + 2 <= most else None
        if halves is None:
            done.append((lo, hi))
        else:
            work += halves
    return done


def _islands(points: Array) -> list[Array]:
    """Triangles that hang together by shared corners."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    names = corner_names(np.round(points.reshape(-1, 3) * 1e4).astype(np.int64))
    corners, index = np.unique(names, return_inverse=True)
    tri = index.reshape(-1, 3)
    i = np.concatenate([tri[:, 0], tri[:, 1]])
    j = np.concatenate([tri[:, 1], tri[:, 2]])
    _, of = connected_components(coo_matrix((np.ones(len(i)), (i, j)), (len(corners), len(corners))), directed=False)
    label = of[tri[:, 0]]
    order = np.argsort(label, kind="stable")
    cuts = np.flatnonzero(np.diff(label[order])) + 1
    return [points[k] for k in np.split(order, cuts)]


def _volume(lo: Array, hi: Array) -> float:
    return float(np.prod(np.maximum(hi - lo, 1e-3)))


def _waste(p: Array) -> float:
    return _volume(p.min(axis=(0, 1)), p.max(axis=(0, 1)))


def _cut(p: Array) -> list[Array] | None:
    """Cut triangles in two by a plane across an axis, where it pays; triangles across it count for both halves, clipped."""
    lo, hi = p.min(axis=(0, 1)), p.max(axis=(0, 1))
    whole = _volume(lo, hi)
    best: tuple[float, int, float] | None = None
    few = p[:: max(1, len(p) // SCORED)]
    for axis in range(3):
        stations = np.unique(np.round(few[:, :, axis], 2))
        if len(stations) > 40:
            stations = np.quantile(stations, np.linspace(0.02, 0.98, 40))
        for at in stations[1:-1] if len(stations) > 2 else []:
            halves = [_clipped_box(few, axis, float(at), low) for low in (True, False)]
            if any(h is None for h in halves):
                continue
            both = sum(_volume(*h) for h in halves if h is not None)
            if both < FULL * whole and (best is None or both < best[0]):
                best = (both, axis, float(at))
    if best is None:
        return None
    _, axis, at = best
    return [h for h in (_clipped(p, axis, at, True), _clipped(p, axis, at, False)) if len(h)]


def _clipped(p: Array, axis: int, at: float, low: bool) -> Array:
    """The triangles on one side of a plane; those across it have their corners moved along their edges onto the plane."""
    v = p[:, :, axis]
    inside = v <= at + 1e-9 if low else v >= at - 1e-9
    some = inside.any(axis=1)
    out = p[some].copy()
    ins = inside[some]
    for k in range(3):
        beyond = ~ins[:, k]
        if not beyond.any():
            continue
        # replaced by the crossing with an edge that goes inside: keeps the box exact along the axis
        for other in ((k + 1) % 3, (k + 2) % 3):
            use = beyond & ins[:, other]
            a, b = p[some][use, k], p[some][use, other]
            t = (at - a[:, axis]) / np.where(np.abs(b[:, axis] - a[:, axis]) < 1e-12, 1e-12, b[:, axis] - a[:, axis])
            out[use, k] = a + t[:, None] * (b - a)
            beyond &= ~use
    return out


def _clipped_box(p: Array, axis: int, at: float, low: bool) -> tuple[Array, Array] | None:
    h = _clipped(p, axis, at, low)
    if not len(h):
        return None
    return h.min(axis=(0, 1)), h.max(axis=(0, 1))
