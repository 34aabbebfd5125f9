"""Expansion cards with their brackets. A card lies flat here, its bracket at the left edge looking out; turn it as it will sit."""

from __future__ import annotations

from rhombex.core.parts.component import Component
from rhombex.core.parts.families.rows import Row


def build(r: Row) -> Component:
    """Board, cooler of so many slots, bracket, and room over the edge for the plug's cable."""
    length, height, slots = r["length"], r["height"], r["slots"]
    thick = slots * r["slot_pitch"] - 5.0
    bracket = r["bracket"]
    plugs = r.get("plugs", [])
    watts = r["power"]
    from_slot = min(watts[2], 75.0 if slots > 1 or watts[2] > 25 else 10.0)
    rest = watts[2] - from_slot
    solids = [
        r.solid("board", "board", (0, 0, 0), (length, height, 1.57), "size"),
        r.solid("cooler", "body", (6, 2, 1.57), (length, height, thick), "size"),
        r.solid("bracket", "connector", (-0.9, -4.0, -2.5), (0, bracket - 4.0, slots * 20.32 - 2.5), "bracket"),
        r.solid("contact edge", "pins", (42, -8.25, 0), (42 + r["edge"], 0, 1.57), "edge"),
    ]
    if plugs:
        solids.append(
            r.solid("plug room", "plug", (length * 0.6, height, 2), (length * 0.6 + 40, height + 35, 22), "room")
        )
    draws = [r.draw("12 V", [w * from_slot / watts[2] for w in watts], "slot" if from_slot > 10 else "slot-x1")]
    for plug in plugs:
        draws.append(r.draw("12 V", [w * rest / watts[2] / len(plugs) for w in watts], plug))
    return Component(
        **r.about(),
        family="card",
        mounting="rides",
        pivot=(0, 0),
        solids=tuple(solids),
        ports=(
            r.port(
                "bracket",
                ("bracket-full" if height > 80 else "bracket-low") + (f"-{slots:g}" if slots > 1 else ""),
                (-0.9, bracket / 2 - 4, slots * 10.16 - 2.5),
                "-x",
                "bracket",
            ),
        ),
        power=tuple(draws),
    )
