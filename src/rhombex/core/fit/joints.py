"""Screwed joints: hole and boss sizes for a thread, and the screw that suits a stack."""

from __future__ import annotations

from math import ceil, cos, radians, sqrt

from rhombex.core.constructions import THROUGH, CaseHolding, PostHolding
from rhombex.core.parts.component import Thread
from rhombex.core.parts.threads import INCH
from rhombex.core.reference import series, val

TWO_LAYERS_MM = (
    0.8  # of floor that stay under the hole of a post: two of 0.4, the thickest of a usual nozzle; common practice
)
UNDER_HEAD_MM = 1.2  # of plastic that stays under a sunk head; common practice
FROM_BELOW: tuple[AnyHolding, ...] = ("nut from below", *THROUGH)
NUT_PLAY_MM = 2.0  # by which a captive nut's screw may be longer than it must be: short screws come in steps of 2; common practice
AnyHolding = PostHolding | CaseHolding
NUTS: tuple[AnyHolding, ...] = ("captive nut", "nut from below", *THROUGH)
SUNK_MORE_MM = 0.3  # how much deeper than it is high a head is sunk; common practice


def boss_od_mm(thread: Thread, holding: AnyHolding) -> float:
    """Least outer diameter of a boss: 2 x insert, or 2.5 x screw where the thread is cut in plastic."""
    if holding == "insert":
        return val(f"fasteners.{thread}.insert_od") * val("fasteners.rule.boss_od_factor")
    if holding in NUTS:  # its corners in their pocket, and a wall round them
        across = val(f"fasteners.{thread}.nut_s") + val("fasteners.rule.nut_pocket")
        return round(across / cos(radians(30)) + 2 * val("fasteners.rule.nut_wall"), 2)
    return val(f"fasteners.{thread}.d") * val("fasteners.rule.pilot_boss_factor")


def hole_mm(thread: Thread, holding: AnyHolding) -> float:
    """Diameter of the hole in the boss: the insert's lead hole, or the pilot of a screw."""
    if holding == "insert":
        return val(f"fasteners.{thread}.insert_hole")
    if holding in NUTS:
        return clearance_mm(thread)
    return val(f"fasteners.{thread}.d") * val("fasteners.rule.pilot_factor")


def engagement_mm(thread: Thread, holding: AnyHolding) -> tuple[float, float]:
    """Least and greatest length of screw that may stand in the boss."""
    d = val(f"fasteners.{thread}.d")
    if holding == "insert":
        deep = hole_depth_mm(thread, holding) - val("fasteners.rule.tip_clearance")
        return d * val("fasteners.rule.insert_engagement_factor"), deep
    if holding == "captive nut":
        least = nut_slot_mm(thread)[1] + val(f"fasteners.{thread}.pitch")
        return least, hole_depth_mm(thread, holding) - val("fasteners.rule.tip_clearance")
    if holding in FROM_BELOW:  # as deep as its pocket is, the tip stays in it
        return nut_mm(thread), nut_mm(thread) + val("fasteners.rule.nut_over")
    least = d * val("fasteners.rule.pilot_engagement_factor")
    return least, hole_depth_mm(thread, holding) - val("fasteners.rule.tip_clearance")


def stud_hole_mm() -> float:
    """Depth of the hole in a post for the stud of a standoff: the stud, and room for its tip."""
    return float(val("fasteners.rule.standoff_stud") + val("fasteners.rule.tip_clearance"))


def hole_depth_mm(thread: Thread, holding: AnyHolding) -> float:
    """Depth of the hole: insert length and room below, or 3 d for a screw cut into plastic; over a nut's pocket, and with it, as high as a post and its floor
    must be together."""
    if holding == "insert":
        return val(f"fasteners.{thread}.insert_length") + val("fasteners.rule.insert_extra_depth")
    if holding == "captive nut":
        return (
            nut_slot_mm(thread)[1]
            + val(f"fasteners.{thread}.pitch")
            + NUT_PLAY_MM
            + val("fasteners.rule.tip_clearance")
        )
    if holding in FROM_BELOW:
        return nut_mm(thread) + val("fasteners.rule.tip_clearance") + val("fasteners.rule.nut_under")
    d = val(f"fasteners.{thread}.d")
    return d * (val("fasteners.rule.pilot_engagement_factor") + 1) + val("fasteners.rule.tip_clearance")


def core_mm(thread: Thread, holding: AnyHolding) -> float:
    """The radius round a screw's axis in which there is no plastic: its hole, or the corners of its nut's pocket."""
    if holding in NUTS:
        return boss_od_mm(thread, holding) / 2 - val("fasteners.rule.nut_wall")
    return hole_mm(thread, holding) / 2


def nut_slot_mm(thread: str) -> tuple[float, float]:
    """From and to how far under the face that a screw pulls against a captive nut's slot is."""
    under = val("fasteners.rule.nut_under")
    return under, under + val(f"fasteners.{thread}.nut_m") + val("fasteners.rule.nut_slot")


def nut_across_mm(thread: str) -> float:
    """A nut's pocket across its flats."""
    return val(f"fasteners.{thread}.nut_s") + val("fasteners.rule.nut_pocket")


def nut_below_mm(thread: str, high_mm: float, board_mm: float) -> tuple[float, float]:
    """The shortest and the longest screw through what stands on a post, `board_mm`, and through post and floor, together `high_mm`, to a nut in a pocket of
    the underside: some plastic stays over the nut, and the tip stays in the pocket."""
    shortest = board_mm + val("fasteners.rule.nut_under") + nut_mm(thread)
    return shortest, board_mm + high_mm - val("fasteners.rule.tip_clearance")


def nut_pocket_mm(thread: str, high_mm: float, board_mm: float, length_mm: float | None) -> float:
    """How deep that pocket is: a thread of the screw stands out of the nut. As shallow as it can be where there is no screw."""
    least = nut_mm(thread) + val("fasteners.rule.tip_clearance")
    if length_mm is None:
        return least
    deepest = max(high_mm - val("fasteners.rule.nut_under"), least)
    return min(max(board_mm + high_mm - length_mm + nut_mm(thread), least), deepest)


def through_bolt_mm(thread: str, deep_mm: float, passed_mm: float) -> tuple[float, float]:
    """The shortest and the longest screw through a part that it holds, `passed_mm`, and `deep_mm` of the one under it to a nut in a pocket of the underside,
    that is no deeper than a nut can be put into it."""
    shortest, longest = nut_below_mm(thread, deep_mm, passed_mm)
    return max(shortest, passed_mm + deep_mm - val("fasteners.rule.nut_reach") + nut_mm(thread)), longest


def rod_mm(thread: str, deep_mm: float, passed_mm: float) -> float:
    """How long a threaded rod is under its upper nut, where the same holds: to a turn under the nut in the shallowest pocket. The whole rod, with as much in
    the upper nut, is cut to the next half millimetre."""
    grip = passed_mm + deep_mm - nut_pocket_mm(thread, deep_mm, passed_mm, None)
    return ceil((grip + 2 * nut_mm(thread)) * 2 - 1e-6) / 2 - nut_mm(thread)


def from_below_aim_mm(thread: str, limit_mm: float | None) -> float:
    """How far a screw from below goes into the thread of what stands on it: half a millimetre less than it may."""
    return (limit_mm if limit_mm is not None else 2 * val(f"fasteners.{thread}.d")) - 0.5


def from_below_mm(thread: str, high_mm: float, limit_mm: float | None) -> tuple[float, float]:
    """The shortest and the longest screw from below through floor and pad, together `high_mm`, whose head can be sunk so deep that it ends
    where it should: some plastic stays under the head, and the head is in the floor as a whole."""
    aim = from_below_aim_mm(thread, limit_mm)
    return UNDER_HEAD_MM + aim, high_mm + aim - val(f"fasteners.{thread}.head_k") - SUNK_MORE_MM


def through_sheet_mm(thread: str, high_mm: float, limit_mm: float | None) -> tuple[float, float]:
    """The shortest and the longest screw from below through a sheet, its head under it, into the thread of what lies `high_mm` over the underside: as many turns
    as hold, and no farther than it may."""
    turns = val("fasteners.rule.least_turns") * val(f"fasteners.{thread}.pitch")
    return high_mm + turns, high_mm + from_below_aim_mm(thread, limit_mm) + 0.5


def stock_mm(thread: str) -> tuple[float, ...]:
    """The lengths that screws of a thread come in, mm; an inch thread comes in inches."""
    return series("fasteners.rule.stock_lengths_inch" if thread == INCH else "fasteners.rule.stock_lengths")


def screw_mm(thread: str, grip_mm: float, least_mm: float, most_mm: float) -> float | None:
    """The shortest stock screw whose end stands between `least` and `most` beyond its grip; None where none does."""
    for length in stock_mm(thread):
        if grip_mm + least_mm <= length <= grip_mm + most_mm:
            return length
    return None


def clearance_mm(thread: Thread) -> float:
    """Clearance hole, ISO 273 medium."""
    return val(f"fasteners.{thread}.clearance_medium")


def nut_mm(thread: str) -> float:
    """What a nut takes of a screw, mm: its height and a thread proud."""
    return val(f"fasteners.{thread}.nut_m") + val(f"fasteners.{thread}.pitch")


def nut_corners_mm(thread: str) -> float:
    """A six-sided nut across its corners."""
    return 2 / sqrt(3) * val(f"fasteners.{thread}.nut_s")
