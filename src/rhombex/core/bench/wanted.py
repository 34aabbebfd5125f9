"""Which ports are wanted from outside: those that look outward, unless somebody said otherwise."""

from __future__ import annotations

from rhombex.core.design import Design
from rhombex.core.memo import MemoOfThese
from rhombex.core.parts import port_kinds


def always_open(design: Design, ref: str) -> bool:
    """Whether a port is of a component that sits in a wall: a socket, an inlet, a display or a supply always has its hole."""
    p = design.placement(ref.split("/", 1)[0])
    c = design.component(p.component) if p else None
    return c is not None and c.mounting == "panel"


def wanted_ports(design: Design) -> frozenset[str]:
    """The ports that need their opening: all that look outward, less those that the brief does without and those that a lead inside
    the case is plugged into; and those that the brief asks for."""
    return _known.make((design,), None, lambda: _wanted(design))  # asked for every connector at every wall


_known: MemoOfThese[frozenset[str]] = MemoOfThese(50)


def _wanted(design: Design) -> frozenset[str]:
    kinds = port_kinds()
    plugged = {end for lead in design.leads for end in (lead.start, lead.end)}
    out = set(design.brief.needs)
    for p in design.placements:
        c = design.component(p.component)
        for q in c.ports if c else ():
            ref = f"{p.id}/{q.name}"
            if not kinds[q.kind].outside:
                out.discard(ref)
            elif (c is not None and c.mounting == "panel") or (ref not in design.brief.unneeded and ref not in plugged):
                out.add(ref)
    return frozenset(out)
