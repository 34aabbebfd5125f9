"""Processor coolers, a pump and a reservoir: things that ride on a board or stand in the case by their height and footprint."""

from __future__ import annotations

from rhombex.core.parts.component import Component
from rhombex.core.parts.families.rows import Row


def build(r: Row) -> Component:
    """A cooler: base plate and fins over it. A pump or reservoir: its body with room above to fill it and hoses beside it."""
    x, y, z = r["size"]
    solids = []
    if r.get("base"):
        bx, by, bz = r["base"]
        solids.append(
            r.solid("base", "body", ((x - bx) / 2, (y - by) / 2, 0), ((x + bx) / 2, (y + by) / 2, bz), "size")
        )
        solids.append(r.solid("fins and fan", "body", (0, 0, bz), (x, y, z), "size"))
    else:
        solids.append(r.solid("body", "body", (0, 0, 0), (x, y, z), "size", bool(r.get("round"))))
    if r.get("cap"):
        d, h = r["cap"]
        solids.append(
            r.solid(
                "cap", "body", (x / 2 - d / 2, y / 2 - d / 2, z), (x / 2 + d / 2, y / 2 + d / 2, z + h), "cap", True
            )
        )
        solids.append(
            r.solid(
                "filling room",
                "keepout",
                (x / 2 - d / 2, y / 2 - d / 2, z + h),
                (x / 2 + d / 2, y / 2 + d / 2, z + h + 25),
                "room",
                True,
            )
        )
    if r.get("hose"):
        solids.append(r.solid("hose room", "plug", (x, y * 0.2, 0), (x + r["hose"], y * 0.8, min(z, 30)), "room"))
    watts = r.get("watts", 0)
    return Component(
        **r.about(),
        family=r.get("family", "cooler"),
        mounting=r.get("mounting", "rides"),
        pivot=(x / 2, y / 2),
        solids=tuple(solids),
        mounts=r.mounts([(px, py) for px, py in r.get("holes", [])], "M4", 4.4, "holes"),
        power=(r.draw("12 V", [watts * 0.3, watts * 0.6, watts], r.get("plug", "fan")),) if watts else (),
    )
