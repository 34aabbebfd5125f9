"""Walling in: draw the cavity round the parts."""

from __future__ import annotations

from typing import Any

from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import cavity, wall_limit
from rhombex.core.bench.walls import moved_walls
from rhombex.core.design import Design
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.space import Box, Face, hull, normal_axis


def fit_cavity(design: Design) -> dict[str, Any]:
    """The fields that change when the walls are drawn so that every free-standing part has the usual gap to walls and lid.

    The floor stays where it is. Parts on a panel keep their place along the wall; room for their depth is
    added only where something stands behind them. Raises DesignError where nothing is placed.
    """
    now = arrange(design)
    lows: tuple[Face, Face, Face] = ("left", "front", "bottom")
    highs: tuple[Face, Face, Face] = ("right", "back", "top")
    free = [t for t in now if t.face is None]
    if not free:
        raise DesignError("placements", "there is nothing to wall in yet", "Put a component on the bench first.")
    # every solid with its own gap to the walls: connectors stand closer, behind their openings
    box = hull(
        [
            Box(
                tuple(s.box.lo[i] - wall_limit(design, t, s, lows[i]) for i in range(3)),  # type: ignore[arg-type]
                tuple(s.box.hi[i] + wall_limit(design, t, s, highs[i]) for i in range(3)),  # type: ignore[arg-type]
            )
            for t in free
            for s in t.solids
            if s.role not in ("keepout", "plug")
        ]
    )
    part = val("limits.gap.part_part")
    lo, hi = list(box.lo), list(box.hi)
    for t in now:
        if t.face is None:
            continue
        for s in t.solids:
            axis = normal_axis(t.face)
            across = [i for i in range(3) if i != axis]
            if all(s.box.lo[i] < box.hi[i] and s.box.hi[i] > box.lo[i] for i in across):
                depth = s.inside_mm + part
                if t.face in ("left", "front", "bottom"):
                    lo[axis] = min(lo[axis], box.lo[axis] - depth)
                else:
                    hi[axis] = max(hi[axis], box.hi[axis] + depth)
    room = cavity(design)
    out: dict[Face, float] = {}
    for i in (0, 1):
        out[lows[i]], out[highs[i]] = round(room.lo[i] - lo[i], 2), round(hi[i] - room.hi[i], 2)
    out["top"] = round(hi[2] - room.hi[2], 2)
    return moved_walls(design, out)
