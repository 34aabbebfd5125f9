"""What a workshop has measured or pays itself, in place of the tables: allowances of a printer, prices and temperatures of filaments."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from rhombex.core.design import FilamentKind
from rhombex.core.trail import Frozen

Feature = Literal[
    "port_opening", "plug_recess", "round_hole_upright", "round_hole_lying", "tongue_side", "tongue_top", "dowel_slip"
]

FEATURES: dict[Feature, str] = {
    "port_opening": "opening of a port",
    "plug_recess": "recess for a plug",
    "round_hole_upright": "round hole, upright",
    "round_hole_lying": "round hole, lying",
    "tongue_side": "tongue in its groove",
    "tongue_top": "tongue, over its top",
    "dowel_slip": "hole of a dowel",
}


class OwnAllowance(Frozen):
    """The allowance that a coupon gave on one printer in one filament, in the unit of the table: per side, on the diameter, or plain."""

    filament: FilamentKind
    feature: Feature
    mm: Annotated[float, Field(ge=-1, le=3)]


class OwnFilament(Frozen):
    """What a kind costs here and at which temperatures it is printed; None: as the table has it."""

    kind: FilamentKind
    price_per_kg: Annotated[float, Field(ge=0, le=10_000)] | None = None
    nozzle_c: Annotated[float, Field(gt=0, le=600)] | None = None
    bed_c: Annotated[float, Field(ge=0, le=250)] | None = None
