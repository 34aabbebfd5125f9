"""Which stops have something in them: a stop without is not begun, and its silence is no approval."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.design import Brief


def begun(a: Analysis) -> tuple[str, ...]:
    """The stops at which the rules had something to look at, in the order of the work."""
    d = a.design
    there = {
        "brief": d.brief != Brief() or bool(a.things),
        "parts": bool(d.placements),
        "bench": bool(d.placements),
        # walls round nothing are where everybody starts; panels are drawn by hand
        "shell": bool(a.pieces or a.sheets) and (bool(d.placements) or bool(d.panels)),
        "openings": bool(a.openings.openings or a.openings.vents or d.texts),
        "cuts": bool(a.cuts) and (bool(d.placements) or bool(d.panels)),
        "hardware": bool(a.joints or a.case.magnets) and bool(d.placements),
        "plan": bool(a.pieces) and (bool(d.placements) or bool(d.panels)),
    }
    return tuple(stop for stop, is_there in there.items() if is_there)
