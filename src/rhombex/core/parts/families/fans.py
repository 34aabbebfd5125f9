"""Square axial fans."""

from __future__ import annotations

from rhombex.core.parts.component import Component
from rhombex.core.parts.families.rows import Row, square


def build(r: Row) -> Component:
    """A fan on a wall: its frame inside, the round opening through it."""
    half = r["frame"] / 2
    return Component(
        **r.about(),
        family="fan",
        mounting="panel",
        solids=(r.solid("frame", "body", (-half, -half, -r["thick"]), (half, half, 0), "frame"),),
        mounts=r.mounts(
            square(r["pitch"]), "M3" if r["frame"] <= 50 else "M4", 3.4 if r["frame"] <= 50 else 4.4, "pitch"
        ),
        ports=(r.port("lead", "wires-2", (-half, -half + 6, -r["thick"] / 2), "-x", "lead"),),
        air=r.air(r["flow_cfm"], r["pressure_mmh2o"], r["opening"], "air"),
        power=(r.draw(r.get("rail", "12 V"), [w * r["heat_w"] for w in (0.3, 0.6, 1.0)], r.get("plug", "fan")),),
        pattern=f"fan-{r['frame']}" if r["frame"] in (40, 60, 80, 92, 120, 140) else None,
    )
