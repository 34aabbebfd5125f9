"""Where the walls will be open, before there are any: in front of ports that are wanted, and round what is fixed to them."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.bench.arrange import PlacedPort, Thing
from rhombex.core.bench.gaps import HARD
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.design import Design
from rhombex.core.parts import port_kinds
from rhombex.core.space import FACES, Box, Face, normal_axis

WALL_ROUND_MM = 1.5  # of wall that stays round an opening; common practice


def before_ports(t: Thing, wanted: frozenset[str]) -> Iterator[Box]:
    """What the openings of a component's wanted ports take, with the wall that stays round them, in the case's frame: flat boxes where its connectors end."""
    yield from (_opening(p) for p in t.ports if p.ref in wanted)


def _opening(p: PlacedPort) -> Box:
    kind, i = port_kinds()[p.port.kind], normal_axis(p.face)
    wide = max(kind.width_mm, kind.plug_width_mm) / 2
    high = max(kind.height_mm, kind.plug_height_mm) / 2
    half = {0: (0.0, wide, high), 1: (wide, 0.0, high), 2: (wide, high, 0.0)}[i]
    x, y, z = p.centre
    box = Box((x - half[0], y - half[1], z - half[2]), (x + half[0], y + half[1], z + half[2]))
    return box.grown(WALL_ROUND_MM)


def open_walls(design: Design, things: tuple[Thing, ...]) -> dict[Face, list[Box]]:
    """By face, what its openings for ports and for what is fixed to it take, in the case's frame, with the wall that stays round them."""
    out: dict[Face, list[Box]] = {f: [] for f in FACES}
    wanted = wanted_ports(design)
    for t in things:
        for p in (p for p in t.ports if p.ref in wanted):
            out[p.face].append(_opening(p))
        if t.face is not None:
            out[t.face] += [s.box.grown(WALL_ROUND_MM) for s in t.solids if s.role in HARD]
    return out
