"""Posts under the free end of what is held at one end: a card in its slot and by its bracket, a supply on its wall."""

from __future__ import annotations

from functools import partial

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.bench.seat import edge_of, stands
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.mounts import Prop
from rhombex.core.geometry.grown import grown
from rhombex.core.geometry.recipe import Solid, circle, prism
from rhombex.core.shell.carrier import carrier
from rhombex.core.space import Box, Vec2, hull, normal_axis

Array = NDArray[np.float64]

GAP_MM = 0.3  # under what lies on it: a strip of felt or foam; common practice
LEAST_D_MM = 8.0
SLENDER = 7.0  # a post is no more than so many times as high as thick; common practice
STEP_MM = 4.0
CLEAR_MM = 1.0  # of anything else that stands there
LEAST_HIGH_MM = 2.0  # what lies lower rests on the floor as well


def held_at_one_end(t: Thing) -> bool:
    """Whether a component is held at one end: it sticks in a socket on its side, or hangs on an upright wall, into the room. A card that stands in its slot
    is borne by that."""
    if t.placement.on is not None and t.placement.stand is None:
        edge = edge_of(t)
        return t.component.family == "card" and not (edge is not None and stands(edge))
    return t.face in ("front", "back", "left", "right") and hangs_out(t)


def hangs_out(t: Thing) -> bool:
    """Whether a component that is screwed to a wall reaches farther from it than half of its breadth there: what lies flat against it, a radiator or a fan, has no
    free end (common practice)."""
    boxes = [s.box for s in hard(t)]
    if t.face is None or not t.mounts or not boxes:
        return False
    size, normal = hull(boxes).size, normal_axis(t.face)
    return size[normal] > min(size[k] for k in range(3) if k != normal) / 2


def with_props(built: Built, things: tuple[Thing, ...]) -> Built:
    """The case with the posts that were wished and found a place, on the floors that they stand on."""
    found = [
        p for t in things if t.placement.rests_on == "post" for p in [prop_of(built.case, things, t)] if p is not None
    ]
    if not found:
        return built
    bodies = dict(built.bodies)
    for name in dict.fromkeys(p.part for p in found):
        bodies[name] = partial(_on, bodies[name], tuple(p for p in found if p.part == name), built.case.cavity.lo[2])
    return Built(built.case.model_copy(update={"props": tuple(found)}), bodies, built.on_bed)


def _on(whole: Body, props: tuple[Prop, ...], floor_mm: float, tools: tuple[Solid, ...]) -> Solid:
    posts = tuple(prism(circle(*p.at, p.d_mm), floor_mm / 2, p.top_mm) for p in props)
    return grown(whole(tools), posts)


def prop_of(case: Case, things: tuple[Thing, ...], t: Thing) -> Prop | None:
    """The post under the free end of a component: as far from where it is held as its underside reaches, with nothing between that and the floor. None
    where there is no such place, or no floor."""
    part = _floor(case, carrier(case, things, t))
    if part is None:
        return None
    floor = case.cavity.lo[2]
    under = [s for s in hard(t) if s.role in ("body", "board")]
    holds = held_points(t)
    if not under or not holds:
        return None
    there = [s.box for x in things if x.id != t.id for s in x.solids] + [m.box for m in case.mounts]
    there += [j.runs_in() for j in case.kept_whole]
    own = [s.box for s in t.solids]
    best: tuple[float, Prop] | None = None
    low = min(s.box.lo[2] for s in under)
    d = max(LEAST_D_MM, (low - floor) / SLENDER)
    for s in under:
        if s.round_axis is not None or s.box.lo[2] - floor < LEAST_HIGH_MM:
            continue
        at = _grid(s, d / 2)
        top = s.box.lo[2] - GAP_MM
        free = _inside(case, at, d / 2 + CLEAR_MM)
        at = at[free & ~_met(at, d / 2 + CLEAR_MM, floor, top, there) & ~_met(at, d / 2, floor, top, own)]
        if not len(at):
            continue
        far = np.min([np.hypot(*(at - np.array(h)).T) for h in holds], axis=0)
        k = int(np.argmax(far >= far.max() - 1e-9))
        if best is None or far[k] > best[0] + 1e-9:
            best = (float(far[k]), Prop(of=t.id, part=part, at=(float(at[k, 0]), float(at[k, 1])), top_mm=top, d_mm=d))
    return best[1] if best else None


def _met(at: Array, r: float, floor: float, top: float, boxes: list[Box]) -> NDArray[np.bool_]:
    """Which square posts round places (n, 2), from the floor to their top, stand in a box."""
    if not len(at):
        return np.zeros(0, np.bool_)
    (x0, y0), (x1, y1) = (at.min(axis=0) - r).tolist(), (at.max(axis=0) + r).tolist()  # most boxes are elsewhere
    tall = [
        b
        for b in boxes
        if b.lo[2] < top and b.hi[2] > floor and b.lo[0] < x1 and b.hi[0] > x0 and b.lo[1] < y1 and b.hi[1] > y0
    ]
    if not tall:
        return np.zeros(len(at), np.bool_)
    lo, hi = np.array([b.lo[:2] for b in tall]), np.array([b.hi[:2] for b in tall])
    inside = ((at[:, None] - r < hi) & (at[:, None] + r > lo)).all(axis=2)
    return np.asarray(np.any(inside, axis=1))


def _floor(case: Case, carried_by: str | None) -> str | None:
    """The part whose floor a post stands on: the one that carries the component, else the one that has a floor, over which it is put."""
    floors = [p.name for p in case.parts if p.sheet is None and any(f.name == "floor" for f in p.plates)]
    return carried_by if carried_by in floors else next(iter(floors), None)


def _grid(s: PlacedSolid, r: float) -> Array:
    """Places (n, 2) on the underside of a solid at which all of a post is under it."""
    lo, hi = s.box.lo, s.box.hi
    if hi[0] - lo[0] < 2 * r or hi[1] - lo[1] < 2 * r:
        return np.zeros((0, 2))
    xs, ys = (np.append(np.arange(lo[k] + r, hi[k] - r, STEP_MM), hi[k] - r) for k in (0, 1))
    return np.column_stack((np.repeat(xs, len(ys)), np.tile(ys, len(xs))))


def held_points(t: Thing) -> list[Vec2]:
    """Where a component is held: its screws, or its contact edge and its bracket."""
    if t.mounts:
        return [(m.at[0], m.at[1]) for m in t.mounts]
    edges = [s.box.centre for s in t.solids if s.role in ("pins", "connector")]
    return [(c[0], c[1]) for c in edges]


def _inside(case: Case, at: Array, r: float) -> NDArray[np.bool_]:
    """Which places keep so far off the walls."""
    lo, hi = np.array(case.cavity.lo[:2]), np.array(case.cavity.hi[:2])
    return np.asarray(((lo <= at - r) & (at + r <= hi)).all(axis=1))
