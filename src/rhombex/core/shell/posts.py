"""The posts and pads that components stand on, joined to the floor of their part."""

from __future__ import annotations

import numpy as np
from shapely import Polygon, contains_xy

from rhombex.core.case import Case
from rhombex.core.case.mounts import Mount
from rhombex.core.geometry.grown import grown
from rhombex.core.geometry.recipe import (
    Difference,
    Intersection,
    Loop,
    Move,
    Solid,
    Union,
    at,
    block,
    circle,
    loop_points,
    prism,
)
from rhombex.core.shell.solids import OVER, nut_pocket, nut_slot
from rhombex.core.space import Box

CHORD_MM, NEAR_MM = 0.05, 1e-6


def with_posts(walls: Solid, case: Case, part: str, outline: Loop, sink: float) -> Solid:
    """Posts come last, so that moving a component leaves the walls as they were made. `outline`: where they may stand, which is the part's own where its walls
    go up from it, and within the walls of others else. Of a post beside it nothing is made."""
    # a post that would end in the floor or under it is none: the component that asks for it stands in the floor, as a concern says
    standing = [p for p in case.mounts if p.part == part and p.top_mm > sink + 0.05]
    if not standing:
        return walls
    posts: list[Solid] = []
    top = max(p.box.hi[2] for p in standing)
    for p, whole in zip(standing, _within(outline, standing), strict=True):
        post: list[Solid] = [prism(circle(p.at[0], p.at[1], p.od_mm), sink, p.top_mm)]
        post += [_step(p)] if p.step_mm > 0 else []
        posts += post if whole else [Intersection(Union(tuple(post)), prism(outline, sink, top))]
    # drawn at the origin and moved: alike holes are made once, and lie apart from one another
    holes: list[Solid] = []
    for p in standing:
        if p.holding == "through":
            hole = prism(circle(0, 0, p.hole_mm), -OVER, p.top_mm + OVER)
            if p.head_depth_mm > 0.05:
                hole = Union((hole, prism(circle(0, 0, p.head_d_mm), -OVER, p.head_depth_mm)))
        elif p.pocket_mm:
            hole = nut_pocket(p.thread, p.hole_mm, p.pocket_mm, p.top_mm, p.bridge_mm)
        else:
            hole = prism(circle(0, 0, p.hole_mm), p.top_mm - p.hole_depth_mm, p.box.hi[2] + OVER)
            if p.holding == "captive nut" and p.slot is not None:
                head = (0.0, 0.0, p.top_mm)
                hole = Union((hole, nut_slot(head, (0.0, 0.0, -1.0), p.slot, p.thread, p.od_mm / 2 + OVER)))
        holes.append(Move(hole, at(*p.at, 0)))
    return grown(walls, tuple(posts), tuple(holes))


def drilled(case: Case, part: str, thick_mm: float) -> list[Solid]:
    """The holes in a floor of bought sheet: for the studs of standoffs, and for screws from below."""
    return [prism(circle(*m.at, m.hole_mm), -OVER, thick_mm + OVER) for m in case.mounts if m.part == part]


def _within(outline: Loop, standing: list[Mount]) -> list[bool]:
    """Of each post whether the square round it lies within an outline."""
    corners = [
        (p.at[0] + i * p.od_mm / 2, p.at[1] + j * p.od_mm / 2) for p in standing for i in (-1, 1) for j in (-1, 1)
    ]
    region = Polygon(loop_points(outline, CHORD_MM)).buffer(NEAR_MM)
    found: list[bool] = contains_xy(region, np.array(corners)).reshape(-1, 4).all(axis=1).tolist()
    return found


def _step(p: Mount) -> Solid:
    """What of a post rises beside the edge that it carries, with room for the component."""
    assert p.beside is not None
    foot = p.top_mm - 0.1  # one body with the post under it
    rises = prism(circle(p.at[0], p.at[1], p.od_mm), foot, p.top_mm + p.step_mm)
    room = Box((*p.beside.lo[:2], foot - OVER), (*p.beside.hi[:2], p.top_mm + p.step_mm + OVER))
    return Difference(rises, (block(room),))
