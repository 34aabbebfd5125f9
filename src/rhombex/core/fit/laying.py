"""How a part lies on the bed: which of its sides faces down."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from shapely import LineString

from rhombex.core.case.parts import Part
from rhombex.core.design import Design, Direction
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Move, Solid, at
from rhombex.core.memo import Memo
from rhombex.core.space import Frame, Vec3

_O = (0.0, 0.0, 0.0)
# images of the part's axes; each turns the named side down and keeps right hands right
TURNS: dict[Direction, Frame] = {
    "bottom": Frame(_O, (1, 0, 0), (0, 1, 0), (0, 0, 1)),
    "top": Frame(_O, (1, 0, 0), (0, -1, 0), (0, 0, -1)),
    "front": Frame(_O, (1, 0, 0), (0, 0, 1), (0, -1, 0)),
    "back": Frame(_O, (1, 0, 0), (0, 0, -1), (0, 1, 0)),
    "left": Frame(_O, (0, 0, 1), (0, 1, 0), (-1, 0, 0)),
    "right": Frame(_O, (0, 0, -1), (0, 1, 0), (1, 0, 0)),
}


def down_of(design: Design, part: Part) -> Direction:
    """The side a part lies on in this design: its usual one if nobody says otherwise."""
    return next((x.down for x in design.lies if x.part == part.name), part.down)


def piece_down(design: Design, part: Part, piece: str) -> Direction:
    """The side that one of several pieces of a part lies on: as all of them usually, if nobody says otherwise of this one."""
    return next((x.down for x in design.lies if x.part == piece), part.down)


def bbox(s: Solid) -> tuple[Vec3, Vec3]:
    """Lowest corner and size of a recipe's mesh, mm."""
    b = mesh_kernel.evaluate(s).bounding_box()
    size = (
        round(b[i + 3] - b[i], 4) for i in range(3)
    )  # the grid that shapes are drawn on is finer than a number need be
    return (b[0], b[1], b[2]), (next(size), next(size), next(size))


def laid(recipe: Solid, down: Direction) -> Solid:
    """A recipe turned so that a side faces down, put into the corner of the bed."""
    turned = Move(recipe, TURNS[down]) if down != "bottom" else recipe
    corner, _ = bbox(turned)
    if max(map(abs, corner)) < 1e-9:
        return turned  # it lies there already
    return Move(turned, at(-corner[0], -corner[1], -corner[2]))


_hulls: Memo[str, NDArray[np.float64]] = Memo(500)


def plan_hull(lying: Solid) -> NDArray[np.float64]:
    """The convex outline (n, 2) of a lying recipe seen from above, in order; remembered."""

    def look() -> NDArray[np.float64]:
        mesh = mesh_kernel.evaluate(lying)
        points = np.asarray(mesh.to_mesh().vert_properties, float)[:, :2]
        hull = LineString(
            points
        ).convex_hull  # of a line through them: that is one object instead of one for each point
        return np.asarray(getattr(hull, "exterior", hull).coords, float)[:-1]

    return _hulls.make(lying.digest, look)


def turned_size(size: Vec3, down: Direction) -> Vec3:
    """Size of a box once it is turned."""
    f = TURNS[down]
    v = f.vector(size)
    return (abs(v[0]), abs(v[1]), abs(v[2]))
