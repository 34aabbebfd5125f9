"""Openings and vents as values: where on a face, how large, why."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from rhombex.core.design import PaneOf
from rhombex.core.geometry.recipe import Loop, circle, diamond, rect, rounded
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen, Trail


class Recess(Frozen):
    """A pocket from outside for a plug's over-mould, where the wall in front of the connector is too thick."""

    size_mm: Vec2
    depth_mm: float


class PaneSeat(Frozen):
    """Where a pane lies behind an opening: its own size, that of the seat which is cut for it from inside, and how far behind the face it begins and ends.
    `part`: its name; `screws`: where on the face, through holes of `hole_mm` in the wall and `own_hole_mm` in itself."""

    part: str
    material: PaneOf
    thick_mm: float
    size_mm: Vec2
    seat_mm: Vec2
    from_mm: float
    to_mm: float
    allowance: Trail
    screws: tuple[Vec2, ...] = ()
    hole_mm: float = 0.0
    own_hole_mm: float = 0.0

    @property
    def printed(self) -> bool:
        """Whether it is printed, with openings of its own, and not cut from sheet."""
        return self.material == "printed"


class Plug(Frozen):
    size_mm: Vec2
    length_mm: float


class Opening(Frozen):
    """A hole in a face, u and v from the face's lower left corner seen from outside.

    `corner_mm`: radius of a rectangle's corners. `set_back_mm`: from the outer surface to the connector's face. `target_mm`: where its port is; an opening that a
    hand pinned may be elsewhere. `parts`: what it is cut into, which begins
    `from_mm` behind the face. `pane`: what closes it.
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
    from_mm: float = 0.0
    pane: PaneSeat | None = None


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


class Meshed(Frozen):
    """Sheet of mesh that air goes through: on which face, in which part, and how much of it is open."""

    face: str
    part: str
    free_area_mm2: float


class Lettered(Frozen):
    """Text on a face: its middle, the rectangle round it, how wide and deep its grooves are, and its outlines there. `part`: what it is sunk into, none where
    not all of it (`share`) lies on the plain outside of one that is printed; `before_mm`: how thick the wall is there."""

    id: str
    label: str
    face: str
    at_mm: Vec2
    size_mm: Vec2
    rect_mm: tuple[float, float, float, float]
    text: str
    high_mm: float
    stroke_mm: float
    deep_mm: float
    turn_deg: int
    on: str
    share: float
    part: str | None
    before_mm: float
    outlines: tuple[tuple[Vec2, ...], ...]


class Openings(Frozen):
    openings: tuple[Opening, ...]
    vents: tuple[Vent, ...]
    meshed: tuple[Meshed, ...] = ()
    texts: tuple[Lettered, ...] = ()

    @property
    def free_mm2(self) -> float:
        """What air finds open of vents without a fan and of mesh."""
        return sum(v.free_area_mm2 for v in self.vents if v.fan is None) + sum(m.free_area_mm2 for m in self.meshed)


def outline(o: Opening, grow: float = 0.0) -> tuple[float, float, float, float]:
    """The rectangle round an opening, its recess and the seat of its pane on the face: u0, v0, u1, v1."""
    sizes = (o.size_mm, *((o.recess.size_mm,) if o.recess else ()), *((o.pane.seat_mm,) if o.pane else ()))
    w, h = max(s[0] for s in sizes) + 2 * grow, max(s[1] for s in sizes) + 2 * grow
    return (o.at_mm[0] - w / 2, o.at_mm[1] - h / 2, o.at_mm[0] + w / 2, o.at_mm[1] + h / 2)


def plate_at(openings: Iterable[Opening], face: str, at: Vec2, size: Vec2) -> Opening | None:
    """The opening whose printed plate a hole of that size lies in: all of it within the clear opening in front of the plate."""
    (u, v), (w, h) = at, size
    for o in openings:
        if o.pane is not None and o.pane.printed and o.parts and o.face == face:
            (a, b), (du, dv) = o.at_mm, o.size_mm
            if abs(u - a) + w / 2 <= du / 2 + 1e-9 and abs(v - b) + h / 2 <= dv / 2 + 1e-9:
                return o
    return None


def opening_loop(o: Opening) -> Loop:
    """The through hole's outline on its face."""
    if o.round:
        return circle(o.at_mm[0], o.at_mm[1], o.size_mm[0])
    w, h = o.size_mm
    u, v = o.at_mm
    return rounded(u - w / 2, v - h / 2, u + w / 2, v + h / 2, o.corner_mm)


def pane_loop(o: Opening, size: Vec2) -> Loop:
    """The outline of what closes an opening, or of its seat: round where the opening is round, else with square corners, as sheet is cut."""
    (u, v), (w, h) = o.at_mm, size
    return circle(u, v, w) if o.round else rect(u - w / 2, v - h / 2, u + w / 2, v + h / 2)


def vent_loops(v: Vent) -> tuple[Loop, ...]:
    return _diamonds(v.holes, v.across_mm)


@lru_cache(maxsize=64)  # a field has up to some thousand, and stays as it is while components move
def _diamonds(holes: tuple[Vec2, ...], across_mm: float) -> tuple[Loop, ...]:
    return tuple(diamond(u, w, across_mm) for u, w in holes)
