"""What joins the pieces of a part: pins and rods that align them, keys that lie in the plate, bolts and bridging plates that let them come apart,
or the glued faces alone."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass, replace
from math import floor
from typing import ClassVar, Literal, get_args

from rhombex.core.case.parts import Seat
from rhombex.core.constructions import Grade
from rhombex.core.cuts.cut import PinSize
from rhombex.core.cuts.turned import Line
from rhombex.core.design import JoinKind
from rhombex.core.fit.joints import boss_od_mm, clearance_mm, hole_depth_mm
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.space import Box, Vec2

JOINS: tuple[JoinKind, ...] = get_args(JoinKind)
WORDS: dict[JoinKind, str] = {
    "steel pins": "dowel pins",
    "filament pins": "pins of filament",
    "printed pins": "printed pins",
    "steel rods": "rods",
    "rods through all pieces": "rods",
    "glue alone": "pins",
    "dovetails": "dovetails",
    "tongue and groove": "stretches of tongue",
    "half-lap": "stretches of lap",
    "bolts": "bolts",
    "bridging plates": "bridging plates",
    "magnets": "pairs of magnets",
}  # what stands along a cut
COME_APART: tuple[JoinKind, ...] = ("bolts", "bridging plates", "magnets")  # no glue: nothing else holds the pieces
BOLT: Thread = "M3"
LEAST_MM = 10.0  # of a piece between two cuts; common practice
FLANGE_MM = 5.0  # thickness of a bolted flange on either side of a cut; common practice
END_SKIN_MM = 2.0  # of plastic beyond the air at the end of a pin's hole
BEFORE_END_MM = 0.5  # of air before the end of a pin in its hole
STEP_MOST_MM = 8.0  # that a tongue or a lap reaches, however thick the plate is: two cuts may be 10 apart
SKIN_MM = 1.2  # of plastic between an insert's hole and the outer face, and behind a magnet; common practice
GRADE: Grade = "N42"  # of the magnets of a seam
THROUGH: JoinKind = "rods through all pieces"
ROUND_A_PIN_MM = 1.4  # of plastic, at the least; common practice
LEAST_THICK_MM: dict[JoinKind, float] = {"tongue and groove": 2.8, "half-lap": 2.4}  # of a plate; common practice


@dataclass(frozen=True)
class Hold(ABC):
    """What stands along a cut: the side of the block that each takes along it, where its middle is from the outer face of the plate that it sits
    on, and how far from there its inner side is, all in mm."""

    block_mm: float
    centre_mm: float
    reach_mm: float

    in_plate: ClassVar[bool] = False  # it lies in the plate, and nothing of it stands on the inner face
    whole_plate: ClassVar[bool] = False  # where it is, nothing is cut into the plate
    glued: ClassVar[bool] = True
    many: ClassVar[bool] = False  # it wants so much room that it is looked for everywhere

    @property
    @abstractmethod
    def run_mm(self) -> float:
        """How far from the cut it reaches, with the plastic round it."""

    @property
    def clear_mm(self) -> float:
        """How far from the cut nothing may stand."""
        return self.run_mm

    @property
    def longer_mm(self) -> float:
        """By how much it makes a piece longer than to its cut."""
        return 0.0

    @property
    def pitch_mm(self) -> float:
        """How far apart two of them are at least."""
        return self.block_mm + 2


@dataclass(frozen=True)
class Pins(Hold):
    """Pins or rods in blocks on the plate: what they are, how thick, and how deep they go into either piece. `through`: rods that run on
    through all pieces, in ridges from one end of the part to the other; a piece holds one over `deep_mm` at least."""

    item: str
    d_mm: float
    deep_mm: float
    through: bool = False

    @property
    def long_mm(self) -> float:
        """Length of a pin."""
        return 2 * self.deep_mm

    @property
    def run_mm(self) -> float:
        """How far from the cut a block reaches: the hole, half a millimetre of air in it, and plastic beyond. A ridge reaches farther, alike in all pieces."""
        return self.deep_mm if self.through else self.deep_mm + BEFORE_END_MM + END_SKIN_MM

    @property
    def clear_mm(self) -> float:
        """How far from the cut nothing may stand; from a ridge the pins of cuts the other way."""
        return max(self.run_mm, 2 * LEAST_MM) if self.through else self.run_mm


@dataclass(frozen=True)
class Bolts(Hold):
    """Flanges on either side of a cut with a bolt through both. `hole_mm`: before the printer's allowance."""

    hole_mm: float
    glued: ClassVar[bool] = False
    many: ClassVar[bool] = True

    @property
    def run_mm(self) -> float:
        """How far from the cut a flange reaches."""
        return FLANGE_MM

    @property
    def clear_mm(self) -> float:
        """How far from the cut nothing may stand: flange, head or nut, and a key's short arm."""
        return FLANGE_MM + val(f"fasteners.{BOLT}.head_k") + val("fasteners.rule.key_arm")


@dataclass(frozen=True)
class Bridges(Hold):
    """Printed plates across a cut, on a pad, with a screw into an insert on either side of it. `off_mm`: how far from the cut the screws are;
    `pad_mm`: how far from the outer face the pad's top is; `thick_mm`: of the bridging plate; `deep_mm`: the insert's hole under the pad's top."""

    off_mm: float
    pad_mm: float
    thick_mm: float
    deep_mm: float
    whole_plate: ClassVar[bool] = True
    glued: ClassVar[bool] = False
    many: ClassVar[bool] = True

    @property
    def run_mm(self) -> float:
        """How far from the cut a bridging plate reaches."""
        return 2 * self.off_mm


@dataclass(frozen=True)
class Discs(Hold):
    """Disc magnets face to face in blocks on either side of a cut, glued in a little under flush: the disc, and how deep its pocket is."""

    d_mm: float
    high_mm: float
    deep_mm: float
    grade: Grade
    glued: ClassVar[bool] = False

    @property
    def run_mm(self) -> float:
        """How far from the cut a block reaches: the pocket, and plastic behind it."""
        return self.deep_mm + SKIN_MM


@dataclass(frozen=True)
class Tails(Hold):
    """Dovetails in the plate: width at the cut and at their end, and how far they reach into the other piece."""

    neck_mm: float
    tip_mm: float
    deep_mm: float
    in_plate: ClassVar[bool] = True
    whole_plate: ClassVar[bool] = True

    @property
    def run_mm(self) -> float:
        """How far from the cut one reaches, with the wall beyond it."""
        return self.deep_mm + val("printing.feature.tail_wall")

    @property
    def longer_mm(self) -> float:
        """A piece is longer by its dovetails."""
        return self.deep_mm


@dataclass(frozen=True)
class Steps(Hold):
    """A face that is not plain, in stretches that lie side by side wherever the plate is free: a tongue whose flanks lean 45 degrees, so that it
    prints without support, or the outer half of the plate that runs on under the inner one. `block_mm`: how long one stretch is."""

    shape: Literal["tongue", "lap"]
    deep_mm: float
    in_plate: ClassVar[bool] = True
    whole_plate: ClassVar[bool] = True

    @property
    def run_mm(self) -> float:
        """How far from the cut it reaches, with the plastic beyond it."""
        return self.deep_mm + SKIN_MM

    @property
    def longer_mm(self) -> float:
        """A piece is longer by its tongue or its lap."""
        return self.deep_mm

    @property
    def pitch_mm(self) -> float:
        """They touch."""
        return self.block_mm


def hold_of(kind: JoinKind, seat: Seat) -> Hold | None:
    """What stands along a cut in a plate, or in a bar, one in all its width; None for glue alone."""
    hold = _hold(kind, thick_mm(seat))
    if hold is None or seat.bar is None:
        return hold
    thick = thick_mm(seat)
    return replace(hold, block_mm=seat.bar.wide_mm, centre_mm=thick / 2, reach_mm=thick)


def thick_mm(seat: Seat) -> float:
    """How thick the plate is that cuts run across."""
    return abs(seat.inner_mm - seat.outer_mm)


def joins_of(seat: Seat) -> tuple[JoinKind, ...]:
    """What may join the pieces of a plate: where nothing may stand on it, what lies in it; in a thin plate no step."""
    thick = thick_mm(seat) + 1e-9
    fit = (k for k in JOINS if thick >= LEAST_THICK_MM.get(k, 0.0))
    if seat.bar is not None:
        return tuple(k for k in fit if _in_a_bar(_hold(k, thick), min(thick, seat.bar.wide_mm), seat.bar.solid))
    return tuple(k for k in fit if not seat.bare or (h := _hold(k, thick)) is None or h.in_plate)


def _in_a_bar(hold: Hold | None, slim_mm: float, solid: bool) -> bool:
    """Whether something finds room within a bar: what takes all its width, or one pin in its middle."""
    if isinstance(hold, Pins):
        return solid and not hold.through and slim_mm >= hold.d_mm + 2 * ROUND_A_PIN_MM
    return hold is None or isinstance(hold, Steps)


def usual_join(seat: Seat, wanted: JoinKind) -> JoinKind:
    """What joins a plate: as is wanted, or dovetails where that would stand on a face that has to stay bare, or the plate is too thin for it; of a bar a
    half-lap."""
    at_hand = joins_of(seat)
    if wanted in at_hand:
        return wanted
    return "dovetails" if seat.bar is None else "half-lap" if "half-lap" in at_hand else "glue alone"


def least_holds(seat: Seat) -> int:
    """How many pins, keys or bolts a cut wants at least: two, or the one that a bar has room for (common practice)."""
    return 1 if seat.bar else 2


def through_or(
    kind: JoinKind, seat: Seat, extent: Box, line: Line, others: tuple[Line, ...], beside: tuple[Line, ...] = ()
) -> JoinKind:
    """What joins a cut: as is wanted. Of a part that is cut both ways rods go through all pieces along its longer way alone, and dowel pins join the
    cuts of the other (`others`): rods both ways would meet. Dowel pins stand square to a turned cut, which no rod along the part does, and so where one `beside` it across the same axis is turned or leans. In one that leans nothing stands
    square to it within the plate: it is glued, and so is a turned one of a bar."""
    if line.lean_deg or (line.deg and seat.bar):
        return "glue alone"
    size, other = extent.size, 3 - line.i - seat.axis
    across = bool(others) and (size[other], line.i) > (size[line.i], other)
    slanting = any(x.aslant for x in (line, *others, *beside))
    return "steel pins" if kind == THROUGH and (across or slanting) else kind


def pin_of(hold: Hold | None, ridge_mm: Vec2 | None) -> PinSize | None:
    """The pin of a cut, where pins join it. `ridge_mm`: from where to where the ridges run of rods that go through all pieces."""
    if not isinstance(hold, Pins):
        return None
    long = hold.long_mm
    if ridge_mm is not None:  # sawn to whole millimetres
        long = float(floor(ridge_mm[1] - ridge_mm[0] - 2 * (END_SKIN_MM + BEFORE_END_MM) + 1e-9))
    return PinSize(item=hold.item, d_mm=hold.d_mm, long_mm=long)


def apart_mm(one: JoinKind, other: JoinKind) -> float:
    """How far two cuts across one axis are apart at least: what joins them reaches so far from either, and a piece is no sliver."""
    holds = (_hold(kind, 0.0) for kind in (one, other))
    return max(LEAST_MM, sum(h.run_mm for h in holds if h is not None))


def _round_a_rod(d_mm: float) -> tuple[float, float, float]:
    """Width of the block round a thick pin or a rod, and how far its middle and its inner side are from the outer face of the plate."""
    return d_mm + 4.0, d_mm / 2 + 1.5, d_mm + 3.4


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
        case "rods through all pieces":
            d = val("printing.feature.rod_d")
            block, centre, reach = _round_a_rod(d)
            return Pins(
                item="steel rod",
                d_mm=d,
                deep_mm=LEAST_MM / 2,
                through=True,
                block_mm=block,
                centre_mm=centre,
                reach_mm=reach,
            )
        case "printed pins" | "steel rods":
            name = "printed_pin" if kind == "printed pins" else "rod"
            d, deep = (val(f"printing.feature.{name}_{x}") for x in ("d", "deep"))
            item = "printed pin" if kind == "printed pins" else "steel rod"
            block, centre, reach = _round_a_rod(d)
            return Pins(item=item, d_mm=d, deep_mm=deep, block_mm=block, centre_mm=centre, reach_mm=reach)
        case "dovetails":
            neck, tip, deep = (val(f"printing.feature.tail_{x}") for x in ("neck", "tip", "deep"))
            broad = tip + 2 * val("printing.feature.tail_wall")  # with the wall of its socket either side
            return Tails(neck_mm=neck, tip_mm=tip, deep_mm=deep, block_mm=broad, centre_mm=thick / 2, reach_mm=thick)
        case "tongue and groove" | "half-lap":
            tongue = kind == "tongue and groove"
            lip = val("printing.feature.tongue_lip")
            deep = max(thick / 2 - lip, 0.0) if tongue else thick * val("printing.feature.lap_factor")
            return Steps(
                shape="tongue" if tongue else "lap",
                deep_mm=min(deep, STEP_MOST_MM),
                block_mm=val("printing.feature.step_long"),
                centre_mm=thick / 2,
                reach_mm=thick,
            )
        case "magnets":
            d, high = val("printing.feature.seam_magnet_d"), val("printing.feature.seam_magnet_high")
            wall = val("fasteners.magnet.wall")
            return Discs(
                d_mm=d,
                high_mm=high,
                deep_mm=high + val("fasteners.magnet.under"),
                grade=GRADE,
                block_mm=d + 2 * wall,
                centre_mm=d / 2 + wall,
                reach_mm=d + 2 * wall,
            )
        case "bolts":
            # the head turns over the plate, and has plastic under all of it
            head = val(f"fasteners.{BOLT}.head_d")
            over = head / 2 + 1.0
            return Bolts(
                block_mm=head + 4.0, centre_mm=thick + over, reach_mm=thick + 2 * over, hole_mm=clearance_mm(BOLT)
            )
        case "bridging plates":
            od, deep = boss_od_mm(BOLT, "insert"), hole_depth_mm(BOLT, "insert")
            bridge = val("printing.feature.bridge_plate")
            pad = max(deep + SKIN_MM, thick + 1.0)
            return Bridges(
                block_mm=od,
                centre_mm=pad,
                reach_mm=pad + bridge + val(f"fasteners.{BOLT}.head_k"),
                off_mm=od / 2,
                pad_mm=pad,
                thick_mm=bridge,
                deep_mm=deep,
            )
