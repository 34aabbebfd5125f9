"""What a workshop has measured or pays itself, in place of the tables: allowances of a printer, prices and temperatures of filaments."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from rhombex.core.design import FilamentKind
from rhombex.core.parts.component import Key
from rhombex.core.trail import Frozen
from rhombex.core.words import Name

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
    """What filament of a kind costs here and at which temperatures it is printed; None: as the table has it. With a key and a name it is one
    of the workshop's own beside the plain kind: what it bears and how it shrinks is the kind's."""

    kind: FilamentKind
    key: Key | None = None
    name: Name | None = None
    price_per_kg: Annotated[float, Field(ge=0, le=10_000)] | None = None
    nozzle_c: Annotated[float, Field(gt=0, le=600)] | None = None
    bed_c: Annotated[float, Field(ge=0, le=250)] | None = None

    @model_validator(mode="after")
    def _named(self) -> OwnFilament:
        if (self.key is None) != (self.name is None):
            raise ValueError("name: a filament of one's own has a key and a name, the figures of a kind have neither")
        return self

    @property
    def ident(self) -> str:
        """What tells it from the others: its key, or the kind whose figures these are."""
        return self.key or self.kind
