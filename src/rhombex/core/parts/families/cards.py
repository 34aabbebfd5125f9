"""Expansion cards with their brackets, each in two forms: as it lies in a riser, its bracket at the left edge looking out, and upright as it sits in a
board's slot, its bracket at the back."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Port, Solid
from rhombex.core.parts.families.rows import Row
from rhombex.core.space import Vec3

BRACKET_MM = 0.9  # thickness, rounded up
EDGE_FROM_MM = 42.0  # from the bracket's inside to the contact edge
PLAY_MM = 2.0  # of a slot beyond either end of the longest edge that it takes, from memory
UPRIGHT = "-upright"  # ends the key of a card that stands in a slot, and of its bracket's kind


def build(r: Row) -> tuple[Component, Component]:
    """A card as it lies and as it stands in a slot."""
    lying = _lying(r)
    return lying, _upright(lying)


def _lying(r: Row) -> Component:
    """Board, cooler of so many slots, bracket, and room over the edge for the plug's cable."""
    length, height, slots = r["length"], r["height"], r["slots"]
    thick = slots * r["slot_pitch"] - 5.0
    bracket, wide = r["bracket"], (slots - 1) * r["slot_pitch"] + r["bracket_wide"]
    plugs = r.get("plugs", [])
    watts = r["power"]
    from_slot = min(watts[2], 75.0 if slots > 1 or watts[2] > 25 else 10.0)
    rest = watts[2] - from_slot
    solids = [
        r.solid("board", "board", (0, 0, 0), (length, height, 1.57), "size"),
        r.solid("cooler", "body", (6, 2, 1.57), (length, height, thick), "size"),
        r.solid("bracket", "connector", (-BRACKET_MM, -4.0, -2.5), (0, bracket - 4.0, wide - 2.5), "bracket"),
        r.solid("contact edge", "pins", (EDGE_FROM_MM, -8.25, 0), (EDGE_FROM_MM + r["edge"], 0, 1.57), "edge"),
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
                (-BRACKET_MM, bracket / 2 - 4, wide / 2 - 2.5),
                "-x",
                "bracket",
            ),
        ),
        power=tuple(draws),
    )


def _stood(p: Vec3) -> Vec3:
    """A place of the lying card once that stands on its contact edge with its bracket at the back: its parts look away from the board's rear connectors."""
    x, y, z = p
    return (-z, -x, y)


def _upright(lying: Component) -> Component:
    """The same card on its contact edge."""

    def solid(s: Solid) -> Solid:
        a, b = _stood(s.lo), _stood(s.hi)
        lo, hi = (tuple(f(p, q) for p, q in zip(a, b, strict=True)) for f in (min, max))
        return s.model_copy(update={"lo": lo, "hi": hi})

    def port(q: Port) -> Port:
        return q.model_copy(update={"kind": f"{q.kind}{UPRIGHT}", "centre": _stood(q.centre), "facing": "+y"})

    return lying.model_copy(
        update={
            "key": f"{lying.key}{UPRIGHT}",
            "label": f"{lying.label}, upright",
            "solids": tuple(map(solid, lying.solids)),
            "ports": tuple(map(port, lying.ports)),
        }
    )
