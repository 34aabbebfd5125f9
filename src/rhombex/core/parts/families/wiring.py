"""Light strips, flat risers, hubs and converters: small boxes that join, light or change voltage."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Supply
from rhombex.core.parts.families.rows import Row


def build(r: Row) -> Component:
    """A box on its mounting holes, with cable ends; a converter gives what it is rated for."""
    x, y, z = r["size"]
    supply = None
    if "rails" in r.values:
        source, mark = r.source("rating")
        supply = Supply(
            total_w=r["watts"],
            rails=r["rails"],
            plugs=r["plugs"],
            needs=r["needs"],
            efficiency=r["efficiency"],
            source=source,
            mark=mark,
        )
    bend = r.get("bend", 0)
    solids = [r.solid(r["body"], "body", (0, 0, 0), (x, y, z), "size")]
    if bend:
        solids.append(r.solid("bend of the cable", "plug", (x * 0.1, -bend, 0), (x * 0.9, 0, max(z, bend / 2)), "bend"))
    return Component(
        **r.about(),
        family=r["family"],
        mounting=r.get("mounting", "posts"),
        pivot=(x / 2, y / 2),
        solids=tuple(solids),
        mounts=r.mounts([(px, py) for px, py in r.get("holes", [])], "M2_5", 2.7, "size"),
        ports=tuple(
            r.port(name, kind, (px, py, pz), facing, "size") for name, kind, px, py, pz, facing in r.get("ports", [])
        ),
        power=tuple(r.draw(rail, watts, plug) for rail, plug, watts in r.get("power", [])),
        supply=supply,
    )
