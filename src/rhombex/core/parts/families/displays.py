"""Displays by diagonal, and small status displays: glass in front, board behind, a flat cable at one edge."""

from __future__ import annotations

from rhombex.core.parts.component import Component
from rhombex.core.parts.families.rows import Row


def build(r: Row) -> Component:
    """A display behind a wall: its active area is the opening, its frame rests on the wall's inside."""
    w, h, t = r["size"]
    wide = r["active"][0] > 40
    dx, dy = r.get("off", [0, 0])
    return Component(
        **r.about(),
        family="display",
        mounting="panel",
        pivot=(0, 0),
        solids=(
            r.solid("panel and board", "body", (-w / 2, -h / 2, -t), (w / 2, h / 2, 0), "size"),
            r.solid("flat cable", "plug", (-8, -h / 2 - r["bend"], -t), (8, -h / 2, -t + 4), "cable"),
        ),
        mounts=r.mounts([(x, y) for x, y in r["holes"]], r["thread"], r["hole"], "holes"),
        ports=(
            r.port("glass", r["window"], (dx, dy, 0), "+z", "active"),
            r.port("cable", "flat-16", (0, -h / 2, -t + 2), "-y", "cable"),
        ),
        power=(r.draw("5 V" if wide else "3.3 V", r["power"], "usb-a" if wide else "header-5v"),),
    )
