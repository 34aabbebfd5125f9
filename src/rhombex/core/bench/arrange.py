"""The arrangement: every component's solids, ports and mounts in the case's frame."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from rhombex.core.design import Design, Placement
from rhombex.core.memo import Memo
from rhombex.core.parts.component import DIRECTIONS, Component, Mount, Port, Role
from rhombex.core.parts.known import sure_of
from rhombex.core.space import (
    Box,
    Face,
    Frame,
    Vec3,
    face_frame,
    facing,
    hull,
    turned,
)


@dataclass(frozen=True)
class PlacedSolid:
    """A solid in the case's frame. `inside_mm`: how deep it reaches in from its wall (panel components). `sure_mm`: how sure its size
    is. `corners`: of a convex body; none where it is a box or round."""

    name: str
    role: Role
    box: Box
    round_axis: int | None
    inside_mm: float
    sure_mm: float = 0.0
    corners: tuple[Vec3, ...] = ()


@dataclass(frozen=True)
class PlacedPort:
    """A port in the case's frame, with the face it looks at."""

    ref: str
    name: str
    port: Port
    centre: Vec3
    face: Face


@dataclass(frozen=True)
class PlacedMount:
    mount: Mount
    at: Vec3


@dataclass(frozen=True)
class Thing:
    """A component in its place."""

    id: str
    name: str
    component: Component
    placement: Placement
    face: Face | None
    frame: Frame
    solids: tuple[PlacedSolid, ...]
    ports: tuple[PlacedPort, ...]
    mounts: tuple[PlacedMount, ...]

    @cached_property
    def bounds(self) -> Box:
        """The box round all its solids."""
        return hull([s.box for s in self.solids])


def outer_size(design: Design) -> Vec3:
    """Outer width, depth and height of the case, mm."""
    s = design.shell
    return (
        s.inner_mm[0] + 2 * s.wall_mm,
        s.inner_mm[1] + 2 * s.wall_mm,
        s.inner_mm[2] + s.floor_mm + s.lid_mm,
    )


def frame_of(design: Design, p: Placement, c: Component) -> Frame:
    """The frame of a placement in the case: standing components turn about z, panel components lie on their face."""
    s = design.shell
    x, y, z = p.at_mm[0] + s.wall_mm, p.at_mm[1] + s.wall_mm, p.at_mm[2] + s.floor_mm
    if p.face is None:
        return turned((x, y, z), p.turn)
    w, d, h = outer_size(design)
    thick = {"top": s.lid_mm, "bottom": s.floor_mm}.get(p.face, s.wall_mm)
    inset = thick if c.datum == "inner" else s.recess_mm(p.face)
    at = {
        "front": (x, inset, z),
        "back": (x, d - inset, z),
        "left": (inset, y, z),
        "right": (w - inset, y, z),
        "top": (x, y, h - inset),
        "bottom": (x, y, inset),
    }[p.face]
    return face_frame(p.face, at)


_placed: Memo[tuple[Placement, int, Vec3, tuple[float, ...]], Thing] = Memo(800)


def _place(design: Design, p: Placement) -> Thing:
    """A component in its place, remembered by placement, component and shell."""
    c = design.component(p.component)
    assert c is not None  # a valid design names only components that exist
    s = design.shell
    # the remembered thing holds its component, so the component's id stays its own
    recess = s.recess_mm(p.face) if p.face else 0.0
    key = (p, id(c), s.inner_mm, (s.wall_mm, s.floor_mm, s.lid_mm, recess))
    return _placed.make(key, lambda: _place_anew(design, p, c))


def _place_anew(design: Design, p: Placement, c: Component) -> Thing:
    frame = frame_of(design, p, c)
    shift: Vec3 = (-c.pivot[0], -c.pivot[1], 0.0)

    def local(q: Vec3) -> Vec3:
        return (q[0] + shift[0], q[1] + shift[1], q[2])

    up = next(i for i in range(3) if frame.z[i] != 0)
    solids = tuple(
        PlacedSolid(
            s.name,
            s.role,
            frame.box(Box(local(s.lo), local(s.hi))),
            up if s.round else None,
            max(0.0, -s.lo[2]),
            sure_of(s),
            tuple(frame.point(local(p)) for p in s.corners),
        )
        for s in c.solids
    )
    ports = tuple(
        PlacedPort(
            f"{p.id}/{q.name}",
            q.name,
            q,
            frame.point(local(q.centre)),
            facing(frame.vector(DIRECTIONS[q.facing])),
        )
        for q in c.ports
    )
    mounts = tuple(PlacedMount(m, frame.point(local((*m.at, 0.0)))) for m in c.mounts if m.side == "bottom")
    return Thing(p.id, p.name, c, p, p.face, frame, solids, ports, mounts)


def arrange(design: Design) -> tuple[Thing, ...]:
    """Place every component of a design that there is; what the library no longer has is a concern."""
    return tuple(_place(design, p) for p in design.placements if design.component(p.component) is not None)
