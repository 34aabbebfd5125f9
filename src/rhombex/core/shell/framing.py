"""What a case of corner pieces and covers chooses, its corner pieces in their places, and what its parts are called."""

from __future__ import annotations

from dataclasses import dataclass, field

from rhombex.core.bench.gaps import cavity
from rhombex.core.constructions import Holding, Magnets, Material, Wrap
from rhombex.core.design import Design, Direction
from rhombex.core.shell.bent import FACES, WRAP
from rhombex.core.space import Box, Face

FLOOR = "floor"
SIDES: tuple[Face, ...] = ("front", "back", "left", "right")
COVERS: tuple[Face, ...] = (*SIDES, "top")


@dataclass(frozen=True)
class Framing:
    """What a construction of this family chooses: the side of its square corner pieces, their heights (None: from floor to top), what they
    are called, which covers, and whether the floor, are of sheet and of which, how the screws hold, and magnets in place of those of the covers. `wrap`: one sheet is bent over
    the top, with an inner radius of `bend_mm`."""

    kind: str
    corner_mm: float
    reach_mm: float | None
    called: str
    sheet: tuple[Face, ...]
    material: Material
    holding: Holding
    screws_mm: dict[str, float | None] = field(default_factory=dict)
    magnets: Magnets | None = None
    wrap: Wrap = "none"
    bend_mm: float = 6.0


@dataclass(frozen=True)
class Corner:
    """A corner piece: its name, the box it fills, and the ends that a screw comes into (bottom, top)."""

    name: str
    box: Box
    on_floor: bool
    under_top: bool


def cover_name(framing: Framing, face: Face) -> str:
    """The name of the part that closes a face."""
    if face in FACES[framing.wrap]:
        return WRAP
    return f"{'sheet' if face in framing.sheet else 'cover'}-{face}"


def corners_of(design: Design, framing: Framing) -> tuple[Corner, ...]:
    """The corner pieces in their places, the front left one first, those on the floor before those under the top."""
    s, room = design.shell, cavity(design)
    b = max(0.5, min(framing.corner_mm, s.inner_mm[0] / 2 - 1.0, s.inner_mm[1] / 2 - 1.0))
    low, high = room.lo[2], room.hi[2]
    reach = framing.reach_mm
    whole = reach is None or 2 * reach + 4.0 > high - low
    spans = [(low, high, True, True)]
    if not whole and reach is not None:
        spans = [(low, low + reach, True, False), (high - reach, high, False, True)]
    out: list[Corner] = []
    for z0, z1, on_floor, under_top in spans:
        for y0 in (room.lo[1], room.hi[1] - b):
            for x0 in (room.lo[0], room.hi[0] - b):
                box = Box((x0, y0, z0), (x0 + b, y0 + b, z1))
                out.append(Corner(f"{framing.called}-{len(out) + 1}", box, on_floor, under_top))
    return tuple(out)


def sides_of(framing: Framing, *corners: Corner) -> dict[str, Direction]:
    """The sides that covers and corner pieces usually lie on: covers on their outer face, long beams along their length, so that the load bends
    them along their layers; short corners stand."""
    covers: dict[str, Direction] = {cover_name(framing, f): f for f in COVERS}
    pieces: dict[str, Direction] = {c.name: "front" if c.box.size[2] > 2 * c.box.size[0] else "bottom" for c in corners}
    return covers | pieces
