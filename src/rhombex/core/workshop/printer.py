"""A printer: bed, nozzle, limits, slots for filaments, state of health, and its diary."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from rhombex.core.parts.component import Key
from rhombex.core.plain import read_as
from rhombex.core.reference import val
from rhombex.core.trail import Frozen
from rhombex.core.words import Name, Words
from rhombex.core.workshop.own import Feature, OwnAllowance
from rhombex.core.workshop.paced import MOST_PRINTS, PacedPrint, Positive


def usual(key: str) -> Any:
    """A field whose default is the reference value of that key."""
    return Field(default_factory=lambda: val(key), gt=0, le=1e5)


class Health(Frozen):
    """How the last parts came out: skew of a 100 mm square, and flow delivered against flow asked."""

    skew_mm_per_100: Annotated[float, Field(ge=0, le=10)] = 0.0
    flow_share: Annotated[float, Field(gt=0, le=2)] = 1.0
    checked: Annotated[Words, Field(max_length=40)] = ""


class Printer(Frozen):
    """A fused-filament printer: bed, nozzle, limits, slots for filaments, state of health, and its diary of hours.

    `speed_mm_s`, `accel_mm_s2`, `corner_mm_s` (kept round a right angle) and `flow_mm3_s` are the machine's own limits.
    """

    key: Key
    name: Name
    bed_mm: tuple[Positive, Positive, Positive]
    nozzle_mm: Annotated[float, Field(ge=0.1, le=2)]
    spare_nozzles_mm: Annotated[tuple[Annotated[float, Field(ge=0.1, le=2)], ...], Field(max_length=12)] = ()
    enclosed: bool
    margin_mm: Annotated[float, Field(ge=0, le=50)] = Field(default_factory=lambda: val("printing.feature.bed_edge"))
    speed_mm_s: float = usual("printing.speed.limit")
    accel_mm_s2: float = usual("printing.speed.acceleration")
    travel_accel_mm_s2: float = usual("printing.speed.travel_acceleration")
    corner_mm_s: float = usual("printing.speed.corner")
    flow_mm3_s: float = usual("printing.speed.hot_end")
    retract_mm: float = usual("printing.speed.retract_mm")
    retract_mm_s: float = usual("printing.speed.retract_mm_s")
    heat_up_s: float = usual("printing.speed.heat_up")
    change_s: float = usual("printing.speed.change")
    purge_mm3: float = usual("printing.speed.purge")
    nozzle_max_c: Annotated[float, Field(gt=0, le=600)] = 260
    bed_max_c: Annotated[float, Field(ge=0, le=250)] = 80
    chamber_c: Annotated[float, Field(ge=0, le=150)] = 0
    hardened: bool = False
    slots: Annotated[int, Field(ge=1, le=16)] = 1
    health: Health = Health()
    paced: tuple[PacedPrint, ...] = Field(default=(), max_length=MOST_PRINTS)
    allowances: tuple[OwnAllowance, ...] = Field(default=(), max_length=60)

    def own_allowance_mm(self, feature: Feature, filament: str) -> float | None:
        """What a coupon gave on this printer, or None where the table holds."""
        return next((x.mm for x in self.allowances if (x.feature, x.filament) == (feature, filament)), None)


def read_printer(data: Any) -> Printer:
    """A printer of plain data. Raises DesignError naming the field."""
    return read_as(Printer, data, "printer")
