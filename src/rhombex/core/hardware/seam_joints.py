"""The screws that hold pieces together: bolts through the flanges of cuts, and those of bridging plates."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.case import Case
from rhombex.core.cuts.joins import BOLT, FLANGE_MM, Bridges, hold_of
from rhombex.core.cuts.loose import loose_name
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.strips import INDEX
from rhombex.core.cuts.turned import line_of
from rhombex.core.design import Design
from rhombex.core.fit.joints import engagement_mm, nut_mm, screw_mm, stock_mm
from rhombex.core.hardware.joint_group import JointGroup, ScrewSeat, StackLayer, held_in, insert_of, with_nuts
from rhombex.core.parts.threads import screw_size
from rhombex.core.reference import val
from rhombex.core.space import Vec3


def bolt_mm() -> float | None:
    """The shortest bolt in stock that passes the flanges of a cut and fills its nut; None where there is none."""
    return next((x for x in stock_mm(BOLT) if x >= 2 * FLANGE_MM + nut_mm(BOLT) - 1e-9), None)


def of_cuts(design: Design, case: Case, cuts: tuple[PartCuts, ...]) -> Iterator[JointGroup]:
    """The bolts through the flanges of cuts, a nut on the other side of each."""
    for c in cuts:
        seat = c.seat
        bolted = [x for x in c.cuts if x.joined == "bolts" and x.dowels]
        if seat is None or not bolted:
            continue
        seats, n = [], seat.axis
        for x in bolted:
            i = INDEX[x.axis]
            line = line_of(x, n)
            along = line.vector(tuple(1.0 if k == i else 0.0 for k in range(3)))  # type: ignore[arg-type]
            for q, z in x.dowels:
                at = [0.0] * 3
                at[i], at[3 - i - n], at[n] = x.at_mm - FLANGE_MM, q, z
                seats.append(ScrewSeat(at=line.point((at[0], at[1], at[2])), along=along))
        own = design.joint(f"cut/{c.part}")
        pinned = own.screw_mm if own else None
        yield with_nuts(
            f"cut/{c.part}",
            f"pieces of the {c.part}",
            c.pieces[0].name,
            c.pieces[-1].name,
            c.part,
            (
                StackLayer(what="flange", kind="printed", from_mm=0.0, to_mm=FLANGE_MM),
                StackLayer(what="flange, other", kind="printed", from_mm=FLANGE_MM, to_mm=2 * FLANGE_MM),
            ),
            seats,
            thread=BOLT,
            screw_mm=pinned or bolt_mm(),
            by_hand=pinned is not None,
        )


def bridge_mm(hold: Bridges) -> float | None:
    """The screw of a bridging plate: the shortest in stock that passes it and stands in the insert; None where none does."""
    return screw_mm(BOLT, hold.thick_mm, *engagement_mm(BOLT, "insert"))


def bridge_screw(hold: Bridges) -> tuple[str, str]:
    """Its screw and its insert as a bill writes them."""
    insert = f"{BOLT} x {val(f'fasteners.{BOLT}.insert_length'):g}"
    return screw_size(BOLT, bridge_mm(hold) or 0.0), insert


def of_bridges(design: Design, cuts: tuple[PartCuts, ...]) -> Iterator[JointGroup]:
    """The screws of bridging plates, into inserts in the pads beside the cuts."""
    for c in cuts:
        seat = c.seat
        hold = hold_of("bridging plates", seat) if seat else None
        bridged = [x for x in c.cuts if x.joined == "bridging plates" and x.dowels]
        if seat is None or not isinstance(hold, Bridges) or not bridged:
            continue
        n, up = seat.axis, 1 if seat.inner_mm > seat.outer_mm else -1
        seats = []
        down: Vec3 = tuple(-float(up) if k == n else 0.0 for k in range(3))  # type: ignore[assignment]
        for x in bridged:
            i = INDEX[x.axis]
            for q, z in x.dowels:
                for s in (-1, 1):
                    at = [0.0] * 3
                    at[i], at[3 - i - n], at[n] = x.at_mm + s * hold.off_mm, q, z + up * hold.thick_mm
                    seats.append(ScrewSeat(at=line_of(x, n).point((at[0], at[1], at[2])), along=down))
        own = design.joint(f"bridge/{c.part}")
        pinned = own.screw_mm if own else None
        least, most = engagement_mm(BOLT, "insert")
        most = min(most, hold.deep_mm - val("fasteners.rule.tip_clearance"))
        grip = hold.thick_mm
        yield JointGroup(
            key=f"bridge/{c.part}",
            of="",
            name=f"bridging plates of the {c.part}",
            holds=loose_name("bridging plates", c.part),
            into=c.part,
            part=c.part,
            count=len(seats),
            thread=BOLT,
            holding="insert",
            head="socket cap",
            sunk_mm=0.0,
            screw_mm=pinned or bridge_mm(hold),
            by_hand=pinned is not None,
            least_mm=grip + least,
            most_mm=grip + most,
            grip_mm=grip,
            least_thread_mm=least,
            end_mm=grip + hold.deep_mm,
            layers=(
                StackLayer(what="bridging plate", kind="printed", from_mm=0.0, to_mm=grip),
                *held_in(c.part, BOLT, "insert", grip, hold.deep_mm),
            ),
            insert_mm=insert_of(BOLT, "insert"),
            standoff_mm=None,
            opened=False,
            path="",
            holding_path="",
            seats=tuple(seats),
            head_on="plastic",
        )
