"""Components that sit in a hole of a wall: buttons, sockets, jacks, inlets."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Supply
from rhombex.core.parts.families.rows import Row


def build(r: Row) -> Component:
    """A round component in a round hole, or a rectangular one in its cut-out."""
    deep, lugs = r["depth"], r["lugs"]
    bezel = r["bezel"]
    ports = [r.port("wires", r.get("inside", "wires-2"), (0, 0, -deep), "-z", "lugs")]
    if "hole" in r.values:
        d = r["hole"]
        solids = [
            r.solid("barrel", "connector", (-d / 2, -d / 2, -deep), (d / 2, d / 2, 0), "hole", True),
            r.solid(
                "bezel",
                "connector",
                (-bezel[0] / 2, -bezel[0] / 2, 0),
                (bezel[0] / 2, bezel[0] / 2, bezel[1]),
                "bezel",
                True,
            ),
        ]
        hole = d
    else:
        w, h = r["cutout"]
        solids = [
            r.solid("body", "connector", (-w / 2, -h / 2, -deep), (w / 2, h / 2, 0), "hole"),
            r.solid(
                "flange",
                "connector",
                (-bezel[0] / 2, -bezel[2] / 2, 0),
                (bezel[0] / 2, bezel[2] / 2, bezel[1]),
                "bezel",
            ),
        ]
        hole = None
        ports.append(r.port("opening", r["kind"], (0, 0, 0), "+z", "hole"))
    size = hole / 2 if hole else min(r["cutout"]) / 2
    solids.append(
        r.solid("wires", "plug", (-size * 0.7, -size * 0.7, -deep - lugs), (size * 0.7, size * 0.7, -deep), "lugs")
    )
    supply = None
    if "rails" in r.values:
        source, mark = r.source("rating")
        supply = Supply(
            total_w=r["watts"],
            rails=r["rails"],
            plugs=r["plugs"],
            needs="mains",
            efficiency=0.88,
            source=source,
            mark=mark,
        )
    return Component(
        **r.about(),
        family=r["family"],
        mounting="panel",
        datum="outer",
        panel_hole_mm=hole,
        solids=tuple(solids),
        mounts=r.mounts([(x, y) for x, y in r.get("holes", [])], "M3", 3.4, "hole"),
        ports=tuple(ports),
        supply=supply,
    )
