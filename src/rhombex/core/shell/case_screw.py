"""The screws that hold a case: their holes with the printer's allowances, how deep their heads are sunk, and the length that the stack asks for."""

from __future__ import annotations

from collections.abc import Mapping

from rhombex.core.case.joints import Joint
from rhombex.core.constructions import THROUGH, CaseHead, CaseHolding
from rhombex.core.design import Design, Direction
from rhombex.core.fit.allowance import NO_SIDES, round_hole
from rhombex.core.fit.heads import CONE_PLAY_MM, LEFT_MM, PLAY_MM, cone_mm, head_size, sunk_mm
from rhombex.core.fit.joints import (
    clearance_mm,
    engagement_mm,
    hole_mm,
    nut_pocket_mm,
    rod_mm,
    screw_mm,
    stock_mm,
    through_bolt_mm,
)
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.space import Box, Vec3
from rhombex.core.workshop.printer import Printer

THREAD: Thread = "M3"
CAP_MM = 1.2  # of plastic beyond a hole's end; common practice
SPAN_MM = 160.0  # an edge longer than this between two screws gapes; common practice
TURN_MM = 0.5  # more thread than the least where the head is sunk for it: a turn


def case_screw(
    design: Design,
    printer: Printer,
    *,
    id: str,
    name: str,
    holds: str,
    into: str,
    at: Vec3,
    along: Vec3,
    boss: Box,
    od_mm: float,
    through_mm: float,
    sunk: bool,
    deep_mm: float,
    holding: CaseHolding,
    length_mm: float | None,
    path: str,
    opened: bool = True,
    slot: Vec3 | None = None,
    deeper: bool = False,
    usual: Mapping[str, Direction] = NO_SIDES,
    of_sheet: bool = False,
    inside: bool = False,
    gap_mm: float = 0.0,
) -> Joint:
    """A screw of the case. `through_mm`: what it passes from the outside to where the two parts meet; `sunk`: whether its head is sunk
    there, as deep as the wall takes it; `deep_mm`: its hole, or all that is under the joint where it goes right through. `length_mm` of None lets the stack choose; `path`: the field of the construction that says otherwise;
    `slot`: the way in which a captive nut's slot is open; `deeper`: where no stock screw fits the stack its head is sunk as deep as one asks for, if a driver reaches it there; `usual`: the side that the parts usually lie on; `of_sheet`: what it holds is cut from sheet, in which a hole is as wide
    as it is drawn; `inside`: its head is not seen, and a socket cap; `gap_mm`: of what it passes the air behind the wall."""
    axis = next(i for i in range(3) if along[i])
    free = clearance_mm(THREAD)
    if not of_sheet:
        free += round_hole(design, printer, (holds,), axis, free, usual)[0].value
    head = (
        "socket cap"
        if inside or holding == "threaded rod"
        else _head(design.shell.heads, through_mm - gap_mm, free, of_sheet)
    )
    sink_mm = sunk_mm(THREAD, head, through_mm) if sunk else 0.0
    passed = grip = through_mm - sink_mm
    if holding == "threaded rod":  # its upper nut lies on the part that it holds
        sink_mm, passed = 0.0, through_mm
    hole = hole_mm(THREAD, holding)
    hole += round_hole(design, printer, (into,), axis, hole, usual)[0].value
    pocket, length = 0.0, length_mm
    if holding in THROUGH:
        if holding == "threaded rod":  # cut to length: no hand's number makes it another
            length_mm, length = None, rod_mm(THREAD, deep_mm, passed)
            pocket = nut_pocket_mm(THREAD, deep_mm, passed, None)
        else:
            if length is None:
                length = _longest(*through_bolt_mm(THREAD, deep_mm, passed))
            pocket = nut_pocket_mm(THREAD, deep_mm, passed, length)
        grip = passed + deep_mm - pocket
    else:
        least, most = engagement_mm(THREAD, holding)
        most = min(most, deep_mm - val("fasteners.rule.tip_clearance"))
        if length is None:
            length = screw_mm(THREAD, grip, least, most)
            if length is None and deeper and most >= least:
                longest = max((x for x in stock_mm(THREAD) if x <= grip + least), default=0.0)
                shorter = longest - min(least + TURN_MM, most)
                # a driver reaches the head: its handle stays outside
                if shorter > 0 and through_mm - shorter <= val("fasteners.rule.driver_length"):
                    length, passed, grip, sink_mm = longest, shorter, shorter, through_mm - shorter
    return Joint(
        id=id,
        name=name,
        holds=holds,
        into=into,
        at=at,
        along=along,
        boss=boss,
        thread=THREAD,
        holding=holding,
        od_mm=od_mm,
        hole_mm=hole,
        hole_depth_mm=deep_mm,
        clearance_mm=free,
        head=head,
        head_d_mm=head_size(THREAD, head).d_mm + (CONE_PLAY_MM if head == "countersunk" else PLAY_MM),
        head_depth_mm=sink_mm,
        cone_mm=cone_mm(THREAD, free) if head == "countersunk" else 0.0,
        grip_mm=grip,
        passed_mm=passed,
        pocket_mm=pocket,
        bridge_mm=design.process_of(into).layer_mm if pocket else 0.0,
        screw_mm=length,
        engagement_mm=(length - grip) if length else 0.0,
        opened=opened,
        pinned=length_mm is not None,
        slot=slot if holding == "captive nut" else None,
        thread_path="shell.construction.joint_thread",
        screw_path=f"shell.construction.{path}",
    )


def _head(wanted: CaseHead, wall_mm: float, free_mm: float, of_sheet: bool) -> CaseHead:
    """The head that is wanted; where a countersink would leave too little of a wall, or would be cut into sheet, which is only drilled, a button head."""
    if wanted == "countersunk" and (of_sheet or wall_mm < cone_mm(THREAD, free_mm) + LEFT_MM):
        return "button head"
    return wanted


def _longest(shortest_mm: float, longest_mm: float) -> float | None:
    """The longest stock screw in a span: it leaves the shallowest pocket."""
    return next((x for x in reversed(stock_mm(THREAD)) if shortest_mm - 1e-9 <= x <= longest_mm + 1e-9), None)
