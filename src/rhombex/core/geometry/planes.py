"""The true section of a solid by a plane across an axis of the case."""

from __future__ import annotations

from typing import Literal

import numpy as np
from manifold3d import CrossSection, Manifold

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


def _slice(solid: Solid, axis: str, at_mm: float) -> tuple[CrossSection, int]:
    """The section as the kernel has it, and -1 where it is drawn upside down, so that it is no mirror image."""
    turn = np.zeros((3, 4))
    for row, k in enumerate(_ORDER[axis]):
        turn[row, k] = 1.0
    up = -1 if np.linalg.det(turn[:, :3]) < 0 else 1
    turn[1] *= up
    lying = _lying.make((solid.digest, axis), lambda: mesh_kernel.evaluate(solid).transform(turn))
    return lying.slice(at_mm + ASIDE_MM), up
