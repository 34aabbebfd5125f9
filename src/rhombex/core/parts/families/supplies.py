"""Power supplies in their cases, on a wall of the case. They are bought whole and never opened."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Supply
from rhombex.core.parts.families.rows import Row


def build(r: Row) -> Component:
    """A supply on its rear face: x and y on the wall, its depth into the case, cable room in front of it."""
    w, h, d = r["size"]
    source, mark = r.source("rating")
    return Component(
        **r.about(),
        family="supply",
        mounting="panel",
        pivot=(w / 2, h / 2),
        solids=(
            r.solid("supply", "body", (0, 0, -d), (w, h, 0), "size"),
            r.solid("cable room", "keepout", (4, 4, -d - r["cables"]), (w - 4, h - 4, -d), "cables"),
        ),
        mounts=r.mounts(
            [(x, y) for x, y in r["holes"]], "UNC6_32" if r["thread"] == "6-32" else "M3", r["hole"], "holes"
        ),
        ports=(r.port("inlet", r["rear"], (w / 2, h / 2, 0), "+z", "rear"),),
        supply=Supply(
            total_w=r["watts"],
            rails=r["rails"],
            plugs=r["plugs"],
            needs="mains",
            efficiency=r["efficiency"],
            source=source,
            mark=mark,
        ),
    )
