"""Trails: where a shown number came from."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import Annotated, Any, get_args

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

    @classmethod
    def model_rebuild(cls, **how: Any) -> bool | None:
        """Build what checks this kind of value, after the kinds that it is made of: one that is not built yet is built again within every other that
        has it, which takes twice as long."""
        if not cls.__pydantic_complete__ and cls not in _begun:
            _begun.add(cls)  # kinds that have themselves
            for kind in (k for f in cls.__pydantic_fields__.values() for k in _kinds(f.annotation)):
                kind.model_rebuild()
        how["_parent_namespace_depth"] = how.get("_parent_namespace_depth", 2) + 1
        return super().model_rebuild(**how)


_begun: set[type[Frozen]] = set()


def _kinds(of: Any) -> Iterator[type[Frozen]]:
    """The kinds of value that an annotation names."""
    if isinstance(of, type) and issubclass(of, Frozen):
        yield of
    for inner in get_args(of):
        yield from _kinds(inner)


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
