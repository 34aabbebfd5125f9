"""Screws and rods that go right through a case to a nut under its floor."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.case.joints import Joint, one_of_each
from rhombex.core.concerns.bench import up
from rhombex.core.concerns.hardware import nearest
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.edits import Set
from rhombex.core.fit.joints import nut_mm, stock_mm, through_bolt_mm
from rhombex.core.parts.threads import screw_size
from rhombex.core.reference import ref, val
from rhombex.core.trail import given, looked_up


@concern("bolt-to-its-nut", "hardware", needs=("joints",))
def bolt_to_its_nut(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: it ends in the pocket of its nut, the nut can be put in, and plastic enough is over it."""
    for j in one_of_each(tuple(j for j in a.case.screws if j.pocket_mm)):
        yield from _told(a, j, say)


def _told(a: Analysis, j: Joint, say: Maker) -> Iterator[Finding]:
    under, reach, tip = (ref(f"fasteners.rule.{x}") for x in ("nut_under", "nut_reach", "tip_clearance"))
    auto = (Remedy(label="Let the stack choose the length", edits=(Set(path=j.screw_path, value=None),)),)
    rods = Remedy(
        label="Threaded rods instead",
        edits=(Set(path=j.thread_path, value="threaded rod"), Set(path=j.screw_path, value=None)),
    )
    inserts = Remedy(label="Heat-set inserts instead", edits=(Set(path=j.thread_path, value="insert"),))
    words = f"{j.name.capitalize()} screws {screw_size(j.thread, j.screw_mm or 0.0)}"
    over = j.hole_depth_mm - j.pocket_mm
    of = (given("passes", j.passed_mm), given("to the underside", j.hole_depth_mm), given("pocket", j.pocket_mm))
    need = under.value + nut_mm(j.thread) + tip.value
    if j.hole_depth_mm < need - 1e-6:
        by = up(_deep_enough(j, need) - j.hole_depth_mm)
        yield say(
            "stop",
            f"The {j.into} is too low for the nuts of the {j.name}",
            measured=j.hole_depth_mm,
            limit=need,
            how="from the joint down to the underside; wanted: the nut, a turn, room for the tip, and plastic over it",
            of=of,
            reason="The nuts pull on too little plastic and break out.",
            source=str(under),
            subjects=(j.name,),
            remedies=(
                *(
                    Remedy(
                        label=f"Raise the joint by {by:g} mm",
                        edits=(Set(path=s.path, value=round(s.at_mm - a.case.cavity.lo[2] + by, 3)),),
                    )
                    for s in a.case.seams
                    if {j.holds, j.into} <= set(s.parts) and s.axis == 2 and s.path
                ),
                inserts,
            ),
        )
    elif j.screw_mm is None:
        span = through_bolt_mm(j.thread, j.hole_depth_mm, j.passed_mm)
        yield say(
            "stop",
            f"No stock screw reaches the nuts of the {j.name}",
            **nearest(j.thread, *span),
            how="nearest stock length; wanted: through both parts, its tip in the nut's pocket",
            of=(*of, looked_up("deepest pocket", reach)),
            reason=f"It passes {j.passed_mm + j.hole_depth_mm:.1f} mm, so it would be {span[0]:.1f} to {span[1]:.1f} mm long; there is no such length. "
            "Rods are cut to length.",
            source="nominal lengths: ISO 888",
            subjects=(j.name,),
            remedies=(rods, inserts),
        )
    elif j.holding == "through bolt" and (out := j.screw_mm - (j.passed_mm + j.hole_depth_mm - tip.value)) > 1e-6:
        yield say(
            "stop",
            f"{words} are too long by {out:.1f} mm",
            measured=j.screw_mm,
            limit=j.passed_mm + j.hole_depth_mm - tip.value,
            sense="at most",
            how="its length; at most: all that it passes, less room for its tip",
            of=(*of, looked_up("clear of the tip", tip)),
            reason="Their tips stand out under the floor.",
            source=str(tip),
            subjects=(j.name,),
            remedies=auto,
        )
    elif j.engagement_mm < nut_mm(j.thread) - 1e-6:
        yield say(
            "stop",
            f"{words} do not reach their nuts",
            measured=j.screw_mm,
            limit=j.grip_mm + nut_mm(j.thread),
            how="its length; wanted: what it passes, the nut, and a turn",
            of=(*of, given("plastic over the nut", over)),
            reason=f"Even in the deepest pocket, with {over:.1f} mm of plastic over the nut, it ends short of it.",
            source=str(under),
            subjects=(j.name,),
            remedies=auto,
        )
    elif j.pocket_mm > reach.value + 1e-6:
        yield say(
            "weigh",
            f"The nuts of the {j.name} lie {j.pocket_mm:.0f} mm deep in their pockets",
            measured=j.pocket_mm,
            limit=reach.value,
            sense="at most",
            how="depth of the pocket that this length asks for",
            of=of,
            reason="A nut that deep is hard to put in straight, and to hold while the screw finds it.",
            source=str(reach),
            subjects=(j.name,),
            remedies=(*auto, rods),
        )


def _deep_enough(j: Joint, need_mm: float) -> float:
    """How far over the underside the joint must be: for a screw so far that the longest stock one through both parts leaves plastic over its nut."""
    if j.holding != "through bolt":
        return need_mm
    whole = j.passed_mm + j.hole_depth_mm  # a joint that is raised moves plastic from one part to the other
    over = val("fasteners.rule.nut_under") + nut_mm(j.thread)
    longest = max((x for x in stock_mm(j.thread) if x <= whole - val("fasteners.rule.tip_clearance")), default=whole)
    return max(need_mm, whole - longest + over)
