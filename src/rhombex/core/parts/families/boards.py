"""Desktop boards: Mini-ITX, microATX, ATX. The frame of the standard: origin at the rear corner on the I/O side."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Zone
from rhombex.core.parts.families.rows import Row
from rhombex.core.reference import table


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
        r.solid("rear connectors", "connector", (ax1 - aw + 4, d - 22, t), (ax1 - 4, d + 2, t + 38), "io"),
        r.solid("shield lip", "pins", (ax1 - aw, d, t - lift), (ax1, d + 2, t - lift + 1), "aperture"),
        r.solid("processor and socket", "body", (w - 105, d - 130, t), (w - 55, d - 80, t + 8), "socket"),
        r.solid(
            "memory",
            "body",
            (w - 145 if w > 175 else 6, d - 158, t),  # clear of the standard's holes and the pads round them
            (w - 125 if w > 175 else 18, d - 23, t + 32),
            "memory",
        ),
    ]
    ports = [
        r.port("rear", "io-aperture", ((ax1 + ax1 - aw) / 2, d + 2, t - lift + ah / 2), "+y", "aperture"),
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
