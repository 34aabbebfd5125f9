"""The plugs that stand before a wall: what is put on its outside makes way for them."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.design import Design
from rhombex.core.parts import port_kinds
from rhombex.core.space import Face, Vec3


def plugs_before(design: Design, things: tuple[Thing, ...], face: Face) -> Iterator[tuple[Vec3, float, float]]:
    """Of every port that is wanted on a face: its middle in the case's frame, and how wide and high its plug is, mm."""
    open_, kinds = wanted_ports(design), port_kinds()
    for p in (p for t in things for p in t.ports):
        kind = kinds[p.port.kind]
        if p.ref in open_ and p.face == face and kind.outside:
            yield p.centre, kind.plug_width_mm, kind.plug_height_mm
