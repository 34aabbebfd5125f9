"""Lugs on the inside of a wall, over the floor: what a floor of bought sheet is screwed to from below."""

from __future__ import annotations

from dataclasses import dataclass

from rhombex.core.constructions import Holding, Material
from rhombex.core.design import Design
from rhombex.core.fit.joints import boss_od_mm, clearance_mm, hole_depth_mm
from rhombex.core.reference import val
from rhombex.core.shell.case_screw import CAP_MM, SPAN_MM, THREAD
from rhombex.core.shell.places import Rect, first_free, slots
from rhombex.core.space import Vec2

END_SHARE = 0.18  # of the wall that the outer lugs stand from its ends; common practice


@dataclass(frozen=True)
class Lugs:
    """Sizes of lugs, mm: `side` along the wall, `deep` from it into the room, the screw's middle `axis` from the edge of the sheet, `high` over it, and how
    deep the hole is."""

    side: float
    deep: float
    axis: float
    high: float
    hole: float


def lugs_of(design: Design, holding: Holding, material: Material, most_high_mm: float) -> Lugs:
    """The lugs for a sheet: their screws keep off its edge what the material wants; no higher than there is room."""
    od = design.shell.boss_od_mm or boss_od_mm(THREAD, holding)
    axis = max(od / 2, val(f"sheet.{material}.edge") * clearance_mm(THREAD))
    hole = max(0.5, min(hole_depth_mm(THREAD, holding), most_high_mm - CAP_MM))
    return Lugs(side=od, deep=axis + od / 2, axis=axis, high=hole + CAP_MM, hole=hole)


def along_wall(lugs: Lugs, wide_mm: float, ends_mm: float, blocked: list[Vec2]) -> tuple[list[float], int]:
    """The middles of lugs along a wall so wide, where nothing is in their way, and how many are wanted: two, or three where two leave too long a span.
    `ends_mm`: what either end of the wall keeps for others; `blocked`: stretches that something takes."""
    lo, hi = ends_mm + lugs.side / 2, wide_mm - ends_mm - lugs.side / 2
    inset = END_SHARE * wide_mm
    wants = [inset, wide_mm - inset]
    if wants[1] - wants[0] > SPAN_MM:
        wants.append(wide_mm / 2)
    rects: list[Rect] = [(a, -1.0, b, 1.0) for a, b in blocked]
    found: list[Vec2] = []
    for want in wants if hi >= lo else ():
        start = min(max(want, lo), hi)
        options: list[Vec2] = [(q, 0.0) for q in slots(lo, hi, start, 2.0) if abs(q - want) <= 0.4 * wide_mm]
        spot = first_free(options, rects, lugs.side / 2, found, 2 * lugs.side) if options else None
        if spot is not None:
            found.append(spot)
    return [x for x, _ in found], len(wants)
