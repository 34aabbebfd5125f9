"""What joins the pieces of a part: pins that align them, dovetails that lock them, bolts that let them come apart, or the glued faces alone."""

from __future__ import annotations

from dataclasses import dataclass
from math import pi
from typing import get_args

from rhombex.core.case import Seat
from rhombex.core.design import JoinKind
from rhombex.core.fit.joints import clearance_mm
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val

JOINS: tuple[JoinKind, ...] = get_args(JoinKind)
WORDS: dict[JoinKind, str] = {
    "steel pins": "dowel pins",
    "filament pins": "pins of filament",
    "glue alone": "pins",
    "dovetails": "dovetails",
    "bolts": "bolts",
}  # what stands along a cut
BOLT: Thread = "M3"
LEAST_MM = 10.0  # of a piece between two cuts; common practice
FLANGE_MM = 5.0  # thickness of a bolted flange on either side of a cut; common practice


@dataclass(frozen=True)
class Pins:
    """The pins of a cut: thickness, how deep they go into either piece, and the block round them: its side, where its middle is from the outer
    face of the plate that it sits on, and how far from there its inner side is, all in mm."""

    item: str
    d_mm: float
    deep_mm: float
    block_mm: float
    centre_mm: float
    reach_mm: float

    @property
    def long_mm(self) -> float:
        """Length of a pin."""
        return 2 * self.deep_mm

    @property
    def run_mm(self) -> float:
        """How far from the cut a block reaches: the hole, half a millimetre of air in it, and plastic beyond."""
        return self.deep_mm + 2.5

    @property
    def clear_mm(self) -> float:
        """How far from the cut nothing may stand."""
        return self.run_mm


@dataclass(frozen=True)
class Bolts:
    """Flanges on either side of a cut with a bolt through both. `hole_mm`: before the printer's allowance."""

    block_mm: float
    centre_mm: float
    reach_mm: float
    hole_mm: float

    @property
    def run_mm(self) -> float:
        """How far from the cut a flange reaches."""
        return FLANGE_MM

    @property
    def clear_mm(self) -> float:
        """How far from the cut nothing may stand: flange, head or nut, and a key's short arm."""
        return FLANGE_MM + val(f"fasteners.{BOLT}.head_k") + val("fasteners.rule.key_arm")


@dataclass(frozen=True)
class Tails:
    """Dovetails in the plate: width at the cut and at their end, and how far they reach into the other piece."""

    neck_mm: float
    tip_mm: float
    deep_mm: float
    reach_mm: float

    @property
    def block_mm(self) -> float:
        """The width that one takes, with the wall of its socket either side."""
        return self.tip_mm + 2 * val("printing.feature.tail_wall")

    @property
    def run_mm(self) -> float:
        """How far from the cut one reaches, with the wall beyond it."""
        return self.deep_mm + val("printing.feature.tail_wall")

    @property
    def clear_mm(self) -> float:
        """How far from the cut nothing may stand."""
        return self.run_mm


Hold = Pins | Bolts | Tails


def hold_of(kind: JoinKind, seat: Seat) -> Hold | None:
    """What stands along a cut in a plate; None for glue alone. Round a pin's hole stays at least 1.4 mm of plastic (common practice)."""
    return _hold(kind, abs(seat.inner_mm - seat.outer_mm))


def joins_of(seat: Seat) -> tuple[JoinKind, ...]:
    """What may join the pieces of a plate: where nothing may stand on it, what lies in it."""
    return ("glue alone", "dovetails") if seat.bare else JOINS


def usual_join(seat: Seat, wanted: JoinKind) -> JoinKind:
    """What joins a plate: as is wanted, or dovetails where that would stand on a face that has to stay bare."""
    return wanted if wanted in joins_of(seat) else "dovetails"


def apart_mm(one: JoinKind, other: JoinKind) -> float:
    """How far two cuts across one axis are apart at least: what joins them reaches so far from either, and a piece is no sliver."""
    holds = (_hold(kind, 0.0) for kind in (one, other))
    return max(LEAST_MM, sum(h.run_mm for h in holds if h is not None))


def _hold(kind: JoinKind, thick: float) -> Hold | None:
    match kind:
        case "glue alone":
            return None
        case "steel pins":
            d = val("printing.feature.dowel_d")
            deep = d * val("printing.feature.dowel_depth_factor")
            return Pins(item="dowel pin", d_mm=d, deep_mm=deep, block_mm=7.0, centre_mm=3.0, reach_mm=6.4)
        case "filament pins":
            d, deep = val("printing.feature.filament_pin_d"), val("printing.feature.filament_pin_deep")
            return Pins(item="pin of filament", d_mm=d, deep_mm=deep, block_mm=5.2, centre_mm=2.4, reach_mm=5.0)
        case "dovetails":
            neck, tip, deep = (val(f"printing.feature.tail_{x}") for x in ("neck", "tip", "deep"))
            return Tails(neck_mm=neck, tip_mm=tip, deep_mm=deep, reach_mm=thick)
        case "bolts":
            # the head turns over the plate, and has plastic under all of it
            head = val(f"fasteners.{BOLT}.head_d")
            over = head / 2 + 1.0
            return Bolts(
                block_mm=head + 4.0, centre_mm=thick + over, reach_mm=thick + 2 * over, hole_mm=clearance_mm(BOLT)
            )


def bolt_n(hold: Bolts) -> float:
    """How hard a bolt pulls that is as tight as the plastic under its head bears: the ring under the head x bearing pressure."""
    ring = pi / 4 * (val(f"fasteners.{BOLT}.head_d") ** 2 - hold.hole_mm**2)
    return float(ring * val("fasteners.rule.bearing"))


def bolt_nm(hold: Bolts) -> float:
    """The moment that one bolt bears at the least: about the edge that is nearer to it."""
    return bolt_n(hold) * min(hold.centre_mm, hold.reach_mm - hold.centre_mm) / 1000
