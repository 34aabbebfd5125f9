"""Desktop boards: Mini-ITX, microATX, ATX. The frame of the standard: origin at the rear corner on the I/O side."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Solid, Zone
from rhombex.core.parts.families.cards import BRACKET_MM, EDGE_FROM_MM, PLAY_MM
from rhombex.core.parts.families.rows import Row
from rhombex.core.reference import table

SLOT_1_MM = 163.8  # from the edge on the I/O side to the first slot's axis, +-3
SLOT_PITCH_MM = 20.32
SLOT_WIDE_MM, SLOT_HIGH_MM = 7.5, 11.25  # PCI CEM, from memory
SHIELD_MM = 2.0  # from the board's rear edge to the outside of what is in the rear wall


def _slot(r: Row, n: int, edge_mm: float) -> Solid:
    """A slot for a card with a contact edge of that length, its bracket flush with the rear connectors' shield. A slot is a little longer than the edge."""
    (w, d), t = r["size"], r["thick"]
    x = w - SLOT_1_MM - (n - 1) * SLOT_PITCH_MM
    rear = d + SHIELD_MM - BRACKET_MM - EDGE_FROM_MM + PLAY_MM
    return r.solid(
        f"slot {n}",
        "connector",
        (x - SLOT_WIDE_MM / 2, rear - edge_mm - 2 * PLAY_MM, t),
        (x + SLOT_WIDE_MM / 2, rear, t + SLOT_HIGH_MM),
        "slots",
    )


def build(r: Row) -> Component:
    """A board lying as it is seen from above with its I/O to the back: x runs from the slots' side to the I/O side.

    The standard's x runs from the I/O side towards the slots and its y from rear to front, seen from the component side with
    the rear up; here the rear looks to +y, so x = width - x_std and y = depth - y_std.
    """
    w, d = r["size"]
    t = r["thick"]
    pattern = table("patterns")[r["pattern"]]
    holes = [(round(w - x, 3), round(d - y, 3)) for x, y in pattern["v"]]
    source, mark = r.source("zones")
    lift = r["aperture_drop"]
    aw, ah = 158.75, 44.45
    # aperture: its I/O-side edge about at the board's own corner
    ax1 = w + r["aperture_side"]
    solids = [
        r.solid("board", "board", (0, 0, 0), (w, d, t), "size"),
        r.solid("solder joints", "pins", (8, 8, -3), (w - 8, d - 8, 0), "pins"),
        r.solid("rear connectors", "connector", (ax1 - aw + 4, d - 22, t), (ax1 - 4, d + SHIELD_MM, t + 38), "io"),
        r.solid("shield lip", "pins", (ax1 - aw, d, t - lift), (ax1, d + SHIELD_MM, t - lift + 1), "aperture"),
        r.solid("processor and socket", "body", (w - 105, d - 130, t), (w - 55, d - 80, t + 8), "socket"),
        r.solid(
            "memory",
            "body",
            (
                w - 148 if w > 175 else 11.5,
                d - 158,
                t,
            ),  # clear of the slots, the standard's holes and the pads round them
            (w - 128 if w > 175 else 23.5, d - 23, t + 32),
            "memory",
        ),
        *(_slot(r, n, edge_mm) for n, edge_mm in r["slots"]),
    ]
    ports = [
        r.port("rear", "io-aperture", ((ax1 + ax1 - aw) / 2, d + SHIELD_MM, t - lift + ah / 2), "+y", "aperture"),
        r.port("board-power", "atx-24", (w - 150 if w > 175 else 8, d - 100, t + 12), "+z", "io"),
        r.port("fan", "wires-2", (w - 60, d - 140, t + 8), "+z", "io"),
        r.port("switch", "wires-2", (10, 6, t + 8), "+z", "io"),
    ]
    zones = [
        Zone(name=name, lo=(x0, y0), hi=(x1, y1), height_mm=h, source=source, mark=mark)
        for name, x0, y0, x1, y1, h in r["zones"]
    ]
    return Component(
        **r.about(),
        family="board",
        mounting="posts",
        pivot=(w / 2, d / 2),
        solids=tuple(solids),
        mounts=tuple(
            m.model_copy(update={"source": pattern["source"], "mark": pattern["mark"]})
            for m in r.mounts(holes, "UNC6_32", 3.96, "size")
        ),
        ports=tuple(ports),
        power=(
            r.draw("12 V", r["power_12v"], "eps-8"),
            r.draw("5 V", r["power_5v"], "atx-24"),
            r.draw("3.3 V", r["power_3v3"], "atx-24"),
        ),
        zones=tuple(zones),
        pattern=r["pattern"],
    )
