"""Walling in: draw the cavity round the parts."""

from __future__ import annotations

from typing import Any

from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import wall_limit
from rhombex.core.design import Design, Placement
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.space import Box, Face, Vec3, hull, normal_axis


def shifted(placements: tuple[Placement, ...], by: Vec3, which: set[str] | None) -> tuple[Placement, ...]:
    """Move some placements (all where `which` is None) by a vector."""
    return tuple(
        p.model_copy(update={"at_mm": tuple(a + b for a, b in zip(p.at_mm, by, strict=True))})
        if which is None or p.id in which
        else p
        for p in placements
    )


def fit_cavity(design: Design) -> dict[str, Any]:
    """New cavity and placements so that every free-standing part has the usual gap to walls and lid.

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
    floor = design.shell.floor_mm
    inner = (hi[0] - lo[0], hi[1] - lo[1], hi[2] - floor)
    inner = tuple(round(x, 2) for x in inner)  # type: ignore[assignment]
    by: Vec3 = (
        round(design.shell.wall_mm - lo[0], 2),
        round(design.shell.wall_mm - lo[1], 2),
        0.0,
    )
    lid_depth = design.shell.inner_mm[2] - design.shell.joint_mm
    shell = design.shell.model_dump() | {
        "inner_mm": inner,
        "joint_mm": max(1.0, round(inner[2] - lid_depth, 2)),
    }
    return {"shell": shell, "placements": shifted(design.placements, by, None)}
