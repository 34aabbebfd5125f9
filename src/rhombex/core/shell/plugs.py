"""The plugs that stand before a wall: what is put on its outside makes way for them."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.design import Design
from rhombex.core.parts import port_kinds
from rhombex.core.space import Box, Face, Vec3

FAR_MM = 40.0  # farther than any wall is from a port whose plug goes through it


def plugs_before(design: Design, things: tuple[Thing, ...], face: Face) -> Iterator[tuple[Vec3, float, float]]:
    """Of every port that is wanted on a face: its middle in the case's frame, and how wide and high its plug is, mm."""
    open_, kinds = wanted_ports(design), port_kinds()
    for p in (p for t in things for p in t.ports):
        kind = kinds[p.port.kind]
        if p.ref in open_ and p.face == face and kind.outside:
            yield p.centre, kind.plug_width_mm, kind.plug_height_mm


def ways_through(design: Design, things: tuple[Thing, ...], faces: Collection[Face]) -> list[Box]:
    """Where plugs go through side walls: of every wanted port on these faces, as wide and high as its opening, from well outside to well inside."""
    open_, kinds, out = wanted_ports(design), port_kinds(), []
    for p in (p for t in things for p in t.ports if p.ref in open_ and p.face in faces):
        k = kinds[p.port.kind]
        w, h = max(k.plug_width_mm, k.width_mm) / 2 + 1, max(k.plug_height_mm, k.height_mm) / 2 + 1
        x, y, z = p.centre
        across = (w, FAR_MM) if p.face in ("front", "back") else (FAR_MM, w)
        out.append(Box((x - across[0], y - across[1], z - h), (x + across[0], y + across[1], z + h)))
    return out
