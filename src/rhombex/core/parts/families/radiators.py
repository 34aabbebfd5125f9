"""Radiators for one to three fans: they stand on the floor or ride under a lid; fans ride on them."""

from __future__ import annotations

from rhombex.core.parts.component import Component
from rhombex.core.parts.families.rows import Row
from rhombex.core.space import Vec2


def build(r: Row) -> Component:
    """A radiator lying flat: core and end tanks, hose room at one end, hole patterns one per fan on its underside."""
    n, frame, pitch = r["fans"], r["frame"], r["pitch"]
    length, width, core = r["length"], r["width"], r["core"]
    first = length / 2 - (n - 1) * frame / 2
    holes: list[Vec2] = [
        (first + k * frame + sx * pitch / 2, width / 2 + sy * pitch / 2)
        for k in range(n)
        for sy in (-1, 1)
        for sx in (-1, 1)
    ]
    return Component(
        **r.about(),
        family="radiator",
        mounting="through",
        pivot=(length / 2, width / 2),
        solids=(
            r.solid("core and tanks", "body", (0, 0, 0), (length, width, core), "size"),
            r.solid("hose room", "plug", (-r["bend"], width * 0.15, 0), (0, width * 0.85, core), "bend"),
        ),
        mounts=r.mounts(holes, "M3", 3.4, "pitch", depth_limit_mm=5.0),
        pattern=f"fan-{frame}" if n == 1 else None,
    )
