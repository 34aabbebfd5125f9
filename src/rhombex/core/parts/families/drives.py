"""Drives: 2.5 and 3.5 inch, and M.2 cards."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Mount, Thread
from rhombex.core.parts.families.rows import Row


def build(r: Row) -> Component:
    """A drive on its bottom holes, its side holes noted; an M.2 card rides on its board."""
    w, d, h = r["size"]
    if r["kind"] == "m2":
        source, mark = r.source("holes")
        return Component(
            **r.about(),
            family="drive",
            mounting="rides",
            pivot=(0, 0),
            solids=(
                r.solid("card", "board", (0, 0, 0), (w, d, 0.8), "size"),
                r.solid("chips", "body", (1, 6, 0.8), (w - 1, d - 4, 0.8 + h), "size"),
            ),
            mounts=(
                Mount(
                    name="A",
                    at=(w / 2, d),
                    thread="M2",
                    hole_mm=3.5,
                    side="top",
                    height_mm=0.8,
                    source=source,
                    mark=mark,
                ),
            ),
            power=(r.draw("3.3 V", r["power"], "m2-slot"),),
        )
    thread: Thread = "M3" if r["kind"] == "2.5" else "UNC6_32"
    side = r["side_up"]
    source, mark = r.source("holes")
    sides = tuple(
        Mount(
            name=f"{s[0].upper()}{k + 1}",
            at=(0 if s == "left" else w, y),
            thread=thread,
            hole_mm=3.0 if thread == "M3" else 3.5,
            side=s,
            height_mm=side,
            depth_limit_mm=r["deep"],
            source=source,
            mark=mark,
        )
        for s in ("left", "right")
        for k, y in enumerate(r["side_at"])
    )
    return Component(
        **r.about(),
        family="drive",
        mounting="through",
        pivot=(w / 2, d / 2),
        solids=(
            r.solid("drive", "body", (0, 0, 0), (w, d, h), "size"),
            r.solid("plug room", "plug", (6, -25, 0), (min(52, w - 6), 0, min(6, h)), "room"),
        ),
        mounts=r.mounts(
            [(x, y) for x, y in r["holes"]], thread, 3.0 if thread == "M3" else 3.5, "holes", depth_limit_mm=r["deep"]
        )
        + sides,
        ports=(r.port("data", "drive-flat", (29, 0, min(3, h / 2)), "-y", "plug"),),
        power=tuple(r.draw(rail, watts, "sata-power") for rail, watts in r["power"].items()),
        pattern="drive-2.5" if r["kind"] == "2.5" else "drive-3.5",
    )
