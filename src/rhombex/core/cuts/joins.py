"""What joins the pieces of a part: pins that align them, of steel or of filament, or the glued faces alone."""

from __future__ import annotations

from dataclasses import dataclass

from rhombex.core.design import JoinKind
from rhombex.core.reference import val

JOINS: tuple[JoinKind, ...] = ("steel pins", "filament pins", "glue alone")
USUAL: JoinKind = "steel pins"


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


def pins_of(kind: JoinKind) -> Pins | None:
    """The pins of a kind of joint; None for glue alone. Round a hole stays at least 1.4 mm of plastic (common practice)."""
    if kind == "glue alone":
        return None
    if kind == "steel pins":
        d = val("printing.feature.dowel_d")
        deep = d * val("printing.feature.dowel_depth_factor")
        return Pins(item="dowel pin", d_mm=d, deep_mm=deep, block_mm=7.0, centre_mm=3.0, reach_mm=6.4)
    d, deep = val("printing.feature.filament_pin_d"), val("printing.feature.filament_pin_deep")
    return Pins(item="pin of filament", d_mm=d, deep_mm=deep, block_mm=5.2, centre_mm=2.4, reach_mm=5.0)
