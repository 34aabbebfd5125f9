"""Screwed joints: hole and boss sizes for a thread, and the screw that suits a stack."""

from __future__ import annotations

from rhombex.core.constructions import Holding
from rhombex.core.parts.component import Thread
from rhombex.core.parts.threads import INCH, label, screw_size
from rhombex.core.reference import series, val


def boss_od_mm(thread: Thread, holding: Holding) -> float:
    """Least outer diameter of a boss: 2 x insert, or 2.5 x screw where the thread is cut in plastic."""
    if holding == "insert":
        return val(f"fasteners.{thread}.insert_od") * val("fasteners.rule.boss_od_factor")
    return val(f"fasteners.{thread}.d") * val("fasteners.rule.pilot_boss_factor")


def hole_mm(thread: Thread, holding: Holding) -> float:
    """Diameter of the hole in the boss: the insert's lead hole, or the pilot of a screw."""
    if holding == "insert":
        return val(f"fasteners.{thread}.insert_hole")
    return val(f"fasteners.{thread}.d") * val("fasteners.rule.pilot_factor")


def engagement_mm(thread: Thread, holding: Holding) -> tuple[float, float]:
    """Least and greatest length of screw that may stand in the boss."""
    d = val(f"fasteners.{thread}.d")
    if holding == "insert":
        deep = hole_depth_mm(thread, holding) - val("fasteners.rule.tip_clearance")
        return d * val("fasteners.rule.insert_engagement_factor"), deep
    least = d * val("fasteners.rule.pilot_engagement_factor")
    return least, hole_depth_mm(thread, holding) - val("fasteners.rule.tip_clearance")


def hole_depth_mm(thread: Thread, holding: Holding) -> float:
    """Depth of the hole: insert length and room below, or 3 d for a screw cut into plastic."""
    if holding == "insert":
        return val(f"fasteners.{thread}.insert_length") + val("fasteners.rule.insert_extra_depth")
    d = val(f"fasteners.{thread}.d")
    return d * (val("fasteners.rule.pilot_engagement_factor") + 1) + val("fasteners.rule.tip_clearance")


def stock_mm(thread: str) -> tuple[float, ...]:
    """The lengths that screws of a thread come in, mm; an inch thread comes in inches."""
    return series("fasteners.rule.stock_lengths_inch" if thread == INCH else "fasteners.rule.stock_lengths")


def screw_mm(thread: str, grip_mm: float, least_mm: float, most_mm: float) -> float | None:
    """The shortest stock screw whose end stands between `least` and `most` beyond its grip; None where none does."""
    for length in stock_mm(thread):
        if grip_mm + least_mm <= length <= grip_mm + most_mm:
            return length
    return None


def stock_or_not(thread: Thread, holding: Holding, grip_mm: float, length_mm: float | None) -> str:
    """A joint's screw as a bill writes it; where no length in stock fits, the lengths that would."""
    if length_mm is not None:
        return screw_size(thread, length_mm)
    least, most = engagement_mm(thread, holding)
    return f"{label(thread)}, {grip_mm + least:.1f} to {grip_mm + most:.1f} mm long: none in stock"


def stock_size(thread: str, need_mm: float) -> str:
    """The shortest stock screw of at least that length, as a bill writes it; where none is long enough it says so."""
    long = next((x for x in stock_mm(thread) if x >= need_mm - 1e-9), None)
    if long is None:
        return f"{label(thread)} longer than any in stock: at least {need_mm:.1f}"
    return screw_size(thread, long)


def clearance_mm(thread: Thread) -> float:
    """Clearance hole, ISO 273 medium."""
    return val(f"fasteners.{thread}.clearance_medium")
