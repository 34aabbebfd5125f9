"""The workshop: its printers, the spools on the rack, own components and lengths of standoff."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field, model_validator

from rhombex.core.design import FilamentKind, Process
from rhombex.core.migrations import WORKSHOP_STEPS, WORKSHOP_VERSION, brought_up
from rhombex.core.parts.component import Component, Key
from rhombex.core.plain import DesignError, read_as
from rhombex.core.trail import Frozen
from rhombex.core.words import Name
from rhombex.core.workshop.own import OwnFilament
from rhombex.core.workshop.paced import Positive, checked
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.stock import StockItem


class Spool(Frozen):
    """A spool on the rack. `left_g` is filament, without the empty spool; `dried` is the day it was dried, if ever; `own`: which of the
    workshop's own filaments it is."""

    id: Key
    filament: FilamentKind
    own: Key | None = None
    colour: Name
    left_g: Annotated[float, Field(ge=0, le=20_000)]
    price_per_kg: Annotated[float, Field(ge=0, le=10_000)] | None = None
    dried: Annotated[str, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""


class Workshop(Frozen):
    """Printers, the rack, own components, the drawer of screws and lengths of standoff: what every design of this workshop is made with."""

    schema_version: Annotated[int, Field(ge=WORKSHOP_VERSION, le=WORKSHOP_VERSION)] = WORKSHOP_VERSION
    printers: tuple[Printer, ...] = Field(min_length=1, max_length=40)
    spools: tuple[Spool, ...] = Field(default=(), max_length=400)
    components: tuple[Component, ...] = Field(default=(), max_length=200)
    filaments: tuple[OwnFilament, ...] = Field(default=(), max_length=60)
    stock: tuple[StockItem, ...] = Field(default=(), max_length=400)
    standoffs_mm: Annotated[tuple[Positive, ...], Field(max_length=60)] = (5, 6, 8, 10, 11, 12, 15, 16, 20, 25, 30)

    @model_validator(mode="after")
    def _told_apart(self) -> Workshop:
        for what, ids in (
            ("printers", [p.key for p in self.printers]),
            ("spools", [s.id for s in self.spools]),
            ("components", [c.key for c in self.components]),
            ("filaments", [f.ident for f in self.filaments]),
            ("stock", [f"{x.item} {x.size}" for x in self.stock]),
        ):
            twice = {i for i in ids if ids.count(i) > 1}
            if twice:
                raise ValueError(f"{what}: '{min(twice)}' is there twice")
        kinds = {f.key: f.kind for f in self.filaments}
        for s in self.spools:
            if s.own is not None and kinds.get(s.own) != s.filament:
                raise ValueError(f"spools.{s.id}.own: there is no {s.filament} of one's own called '{s.own}'")
        return self

    def printer(self, key: str) -> Printer | None:
        """The printer of that key, or None where the workshop has none."""
        return next((p for p in self.printers if p.key == key), None)

    def own_filament(self, kind: str) -> OwnFilament | None:
        """What this workshop pays for a kind and how hot it prints it, or None where the table holds."""
        return next((f for f in self.filaments if f.kind == kind and f.key is None), None)

    def filament_of(self, process: Process) -> OwnFilament | None:
        """Which of its own filaments a process is printed in; None where it is a plain kind, or where there is no such filament of that
        kind."""
        return next(
            (
                f
                for f in self.filaments
                if f.key is not None and (f.key, f.kind) == (process.own_filament, process.filament)
            ),
            None,
        )

    def filament_name(self, process: Process) -> str:
        """What a process is printed in, as the workshop calls it."""
        own = self.filament_of(process)
        return str(own.name) if own else process.filament

    def spools_of(self, process: Process) -> tuple[Spool, ...]:
        """The spools on the rack that a process can be printed from: of its kind, and of the workshop's own filament where it names one."""
        own = self.filament_of(process)
        return tuple(s for s in self.spools if s.filament == process.filament and (own is None or s.own == own.key))


def read_workshop(data: Any) -> Workshop:
    """A workshop of plain data of any version. Raises DesignError naming the field."""
    if not isinstance(data, dict):
        raise DesignError("workshop", "this is not a Rhombex workshop: an object of fields is expected")
    return read_as(Workshop, brought_up(data, WORKSHOP_STEPS, "workshop"), "workshop")


def slips(new: Workshop, old: Workshop) -> None:
    """Raises DesignError for an entry of a diary that is new and cannot be: hours that are a slip of the pen are stopped at the
    door, and those that are stored already lock nothing."""
    known = {x for p in old.printers for x in p.paced}
    for p in new.printers:
        for x in p.paced:
            if x not in known:
                checked(x)
