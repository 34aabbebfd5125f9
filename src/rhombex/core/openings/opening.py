"""Openings and vents as values: where on a face, how large, why."""

from __future__ import annotations

from rhombex.core.geometry.recipe import Loop, circle, diamond, rounded
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen, Trail


class Recess(Frozen):
    """A pocket from outside for a plug's over-mould, where the wall in front of the connector is too thick."""

    size_mm: Vec2
    depth_mm: float


class Plug(Frozen):
    size_mm: Vec2
    length_mm: float


class Opening(Frozen):
    """A hole in a face, u and v from the face's lower left corner seen from outside.

    `corner_mm`: radius of a rectangle's corners. `set_back_mm`: from the outer surface to the connector's face. `target_mm`: where its port is; an opening that a
    hand pinned may be elsewhere. `parts`: what it is cut into.
    """

    id: str
    of: str
    label: str
    face: str
    round: bool
    at_mm: Vec2
    size_mm: Vec2
    nominal_mm: Vec2
    allowance: Trail
    spread_mm: float
    recess: Recess | None
    plug: Plug | None
    set_back_mm: float
    target_mm: Vec2
    pinned: bool
    parts: tuple[str, ...]
    source: str
    corner_mm: float = 0.0


class Vent(Frozen):
    """A field of diamond holes: those that collide with something are left out."""

    id: str
    label: str
    face: str
    at_mm: Vec2
    size_mm: Vec2
    holes: tuple[Vec2, ...]
    dropped: int
    across_mm: float
    free_area_mm2: float
    follows_heat: bool
    fan: str | None
    parts: tuple[str, ...]


class Openings(Frozen):
    openings: tuple[Opening, ...]
    vents: tuple[Vent, ...]


def outline(o: Opening, grow: float = 0.0) -> tuple[float, float, float, float]:
    """The rectangle round an opening and its recess on the face: u0, v0, u1, v1."""
    w = max(o.size_mm[0], o.recess.size_mm[0] if o.recess else 0.0) + 2 * grow
    h = max(o.size_mm[1], o.recess.size_mm[1] if o.recess else 0.0) + 2 * grow
    return (o.at_mm[0] - w / 2, o.at_mm[1] - h / 2, o.at_mm[0] + w / 2, o.at_mm[1] + h / 2)


def opening_loop(o: Opening) -> Loop:
    """The through hole's outline on its face."""
    if o.round:
        return circle(o.at_mm[0], o.at_mm[1], o.size_mm[0])
    w, h = o.size_mm
    u, v = o.at_mm
    return rounded(u - w / 2, v - h / 2, u + w / 2, v + h / 2, o.corner_mm)


def vent_loops(v: Vent) -> list[Loop]:
    return [diamond(u, w, v.across_mm) for u, w in v.holes]
