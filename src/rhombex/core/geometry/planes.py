"""The true section of a solid by a plane across an axis of the case."""

from __future__ import annotations

from typing import Literal

import numpy as np
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid
from rhombex.core.memo import Memo

Loops = list[list[tuple[float, float]]]
_ORDER: dict[str, tuple[int, int, int]] = {"x": (1, 2, 0), "y": (0, 2, 1), "z": (0, 1, 2)}
# a part that lies so that the plane is level: it is cut at many places
_lying: Memo[tuple[str, str], Manifold] = Memo(60)
ASIDE_MM = 1e-5  # a plane that lies on a face is moved off it by so much


def section(solid: Solid, axis: Literal["x", "y", "z"], at_mm: float) -> Loops:
    """Closed loops of the section, in the two other axes in their order (yz, xz or xy), mm."""
    cut, up = _slice(solid, axis, at_mm)
    return [
        [(round(float(x), 3), round(float(up * y), 3)) for x, y in loop] for loop in cut.simplify(0.01).to_polygons()
    ]


def section_mm2(solid: Solid, axis: Literal["x", "y", "z"], at_mm: float) -> float:
    """The area of the section, mm2."""
    return float(_slice(solid, axis, at_mm)[0].area())


def crossings(solid: Solid, axis: int, at_mm: float) -> NDArray[np.float64]:
    """The outline of the section across axis 0, 1 or 2 as segments (n, 2, 2) in no order, from end to end, material on the same side of all of them: enough for area and moments, and
    quicker than loops."""
    verts, tri = mesh_kernel.triangles(mesh_kernel.evaluate(solid))
    u, v = (k for k in range(3) if k != axis)
    return _crossings(verts, tri, axis, u, v, at_mm + ASIDE_MM)


@njit
def _crossings(
    verts: NDArray[np.float64], tri: NDArray[np.int64], axis: int, u: int, v: int, at: float
) -> NDArray[np.float64]:
    found = np.empty((len(tri), 2, 2))
    n = 0
    for t in range(len(tri)):
        ends = 0
        for k in range(3):
            a, b = tri[t, k], tri[t, (k + 1) % 3]
            p, q = verts[a, axis], verts[b, axis]
            if (p > at) == (q > at):
                continue
            w = (at - p) / (q - p)
            # a segment runs from where the outline of its triangle comes down through the plane to where it goes up
            end = 1 if q > at else 0
            found[n, end, 0] = verts[a, u] + w * (verts[b, u] - verts[a, u])
            found[n, end, 1] = verts[a, v] + w * (verts[b, v] - verts[a, v])
            ends += 1
        if ends == 2:
            n += 1
    return found[:n]


def _slice(solid: Solid, axis: str, at_mm: float) -> tuple[CrossSection, int]:
    """The section as the kernel has it, and -1 where it is drawn upside down, so that it is no mirror image."""
    turn = np.zeros((3, 4))
    for row, k in enumerate(_ORDER[axis]):
        turn[row, k] = 1.0
    up = -1 if np.linalg.det(turn[:, :3]) < 0 else 1
    turn[1] *= up
    lying = _lying.make((solid.digest, axis), lambda: mesh_kernel.evaluate(solid).transform(turn))
    return lying.slice(at_mm + ASIDE_MM), up
