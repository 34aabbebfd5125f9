"""Trails: where a shown number came from."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated

from pydantic import BaseModel, BeforeValidator, ConfigDict

from rhombex.core.reference import Ref

# Numbers are shown, so the noise of floating point is dropped where a trail is made.
Shown = Annotated[float, BeforeValidator(lambda v: round(float(v), 4))]


class Frozen(BaseModel):
    """Base of every value of the core: immutable, no unknown fields, no NaN or infinity. What checks a kind of value is built with the first of them:
    most commands meet few kinds. Where threads could meet one at once, `built` builds all before."""

    model_config = ConfigDict(
        defer_build=True,
        frozen=True,
        extra="forbid",
        allow_inf_nan=False,
        json_schema_serialization_defaults_required=True,
    )


def built() -> None:
    """Build what checks every kind of value that is known by now."""
    for kind in Frozen.__subclasses__():
        kind.model_rebuild()


class Input(Frozen):
    """One number that went into another."""

    name: str
    value: Shown
    unit: str
    source: str = ""


class Trail(Frozen):
    """A number with its unit, the formula it came by, what went in, and the source of the formula."""

    value: Shown
    unit: str
    formula: str
    inputs: tuple[Input, ...] = ()
    source: str = ""


@lru_cache(maxsize=4096)  # a hand waits while a hundred of them are checked, most of them as they were
def given(name: str, value: float, unit: str = "mm", source: str = "this design") -> Input:
    """An input that the design or an earlier stage gave."""
    return Input(name=name, value=value, unit=unit, source=source)


@lru_cache(maxsize=4096)
def looked_up(name: str, r: Ref) -> Input:
    """An input that came out of a reference table."""
    return Input(name=name, value=r.value, unit=r.unit, source=str(r))
