"""A stranger's body laid on its flattest side."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import ConvexHull, QhullError

Array = NDArray[np.float64]
HULL = 12_000  # corners that the hull is laid round
MEASURED = 40_000  # triangles by which sides are measured
SIDES = 60  # of a hull, the largest ones: one of them is the flattest


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
    large = np.argsort(-area)[:MEASURED]  # a flat side is made of large triangles
    cross, area = cross[large], area[large]
    normal = cross / np.maximum(2 * area, 1e-12)[:, None]
    middle = points[large].mean(axis=1)
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
