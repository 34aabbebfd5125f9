"""Leads: how long a cable must be between two ports."""

from __future__ import annotations

from math import pi

from rhombex.core.bench.arrange import Thing
from rhombex.core.design import Lead
from rhombex.core.reference import ref, val
from rhombex.core.space import OUTWARD
from rhombex.core.trail import Trail, given, looked_up


def length_needed(lead: Lead, things: tuple[Thing, ...]) -> Trail | None:
    """Length a lead needs, or None where an end is missing.

    It leaves each port straight by its bend radius, turns, and runs along the axes: |dx| + |dy| + |dz| between the two
    turning points, less what two quarter bends save (2 r - pi r / 2 each), plus slack for plugging.
    """
    ports = {p.ref: p for t in things for p in t.ports}
    a, b = ports.get(lead.start), ports.get(lead.end)
    if a is None or b is None:
        return None
    r = lead.bend_radius_mm
    pa = [a.centre[i] + OUTWARD[a.face][i] * r for i in range(3)]
    pb = [b.centre[i] + OUTWARD[b.face][i] * r for i in range(3)]
    run = sum(abs(x - y) for x, y in zip(pa, pb, strict=True))
    saved = 2 * (2 - pi / 2) * r
    slack = val("limits.cable.slack")
    return Trail(
        value=max(2 * r + run - saved, 2 * r) + slack,
        unit="mm",
        formula="2 r + |dx| + |dy| + |dz| - 2 (2 - pi/2) r + slack",
        inputs=(
            given("bend radius r", r),
            given("run", run, "mm", "along the axes between the turning points"),
            looked_up("slack", ref("limits.cable.slack")),
        ),
        source="geometry of a lead with two quarter bends",
    )
