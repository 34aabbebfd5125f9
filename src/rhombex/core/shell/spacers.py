"""Printed standoffs between stacked boards: a tube on every hole that the two boards share."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.stack import slab_mm
from rhombex.core.design import Design
from rhombex.core.fit.allowance import round_hole
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.fit.joints import clearance_mm
from rhombex.core.geometry.recipe import Extrude, Move, Solid, at, circle, profile
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.space import Vec2
from rhombex.core.workshop.printer import Printer

WALL_LINES = 4  # lines in the wall of a tube; common practice for what is clamped


def shared_holes(lower: Thing, upper: Thing) -> list[tuple[Vec2, Thread]]:
    """Holes of the upper board that lie over one of the lower board, in the case's frame."""
    limit = val("limits.stack.pattern")
    return [
        ((m.at[0], m.at[1]), m.mount.thread)
        for m in upper.mounts
        if any(abs(m.at[0] - q.at[0]) <= limit and abs(m.at[1] - q.at[1]) <= limit for q in lower.mounts)
    ]


def held_above(t: Thing, at: Vec2, things: tuple[Thing, ...]) -> tuple[float, tuple[str, ...], bool]:
    """What a screw through a board's hole at `at` holds besides: the height of printed standoffs and boards above, mm, those boards
    from below up, and whether a bought standoff stands in the hole's place (its stud is what the post holds)."""
    more, lower = 0.0, t
    ids: list[str] = []
    limit = val("limits.stack.pattern")
    while True:
        upper = next(
            (
                u
                for u in things
                if u.placement.on == lower.id
                and u.placement.stand is not None
                and any(abs(m.at[0] - at[0]) <= limit and abs(m.at[1] - at[1]) <= limit for m in u.mounts)
            ),
            None,
        )
        if upper is None or upper.placement.stand is None:
            return more, tuple(ids), False
        if upper.placement.stand.made == "bought":
            return more, tuple(ids), True
        more += upper.placement.stand.standoff_mm + slab_mm(upper.component)
        ids.append(upper.id)
        lower = upper


def spacers_of(thing: str) -> str:
    """The name of the part that carries a board on printed standoffs."""
    return f"spacers-{thing}"[:40]


def spacers(things: tuple[Thing, ...], design: Design, printer: Printer) -> dict[str, tuple[Solid, int]]:
    """The tubes under every board that stands on printed standoffs and how many there are, by part name, in their place in the case."""
    by_id = {t.id: t for t in things}
    out: dict[str, tuple[Solid, int]] = {}
    for t in things:
        stand, lower = t.placement.stand, by_id.get(t.placement.on or "")
        if stand is None or stand.made != "printed" or lower is None:
            continue
        holes = shared_holes(lower, t)
        if not holes:
            continue
        part = spacers_of(t.id)
        line_mm = line_width_mm(design.process_of(part), printer)
        outers, inners = [], []
        for (x, y), thread in holes:
            d = clearance_mm(thread)
            d += round_hole(design, printer, (part,), 2, d)[0].value
            outers.append(circle(x, y, d + 2 * WALL_LINES * line_mm))
            inners.append(circle(x, y, d))
        z = t.frame.origin[2] - stand.standoff_mm
        out[part] = Move(Extrude(profile(outers, inners), stand.standoff_mm), at(0.0, 0.0, z)), len(outers)
    return out
