"""Which parts are printed with which process, and edits that change it: a part's own, or a piece's, where it has one, else everybody's."""

from __future__ import annotations

from dataclasses import dataclass

from rhombex.core.analysis import Analysis
from rhombex.core.design import FilamentKind, Process
from rhombex.core.edits import Edit, PrintPart, Set, Value


@dataclass(frozen=True)
class Printed:
    """Parts that are printed with one process: those with the common one, or one with its own; `own` is that part's name, or that of the one piece of it
    which has it."""

    parts: tuple[str, ...]
    process: Process
    own: str

    @property
    def subject(self) -> str:
        return self.own or "filament"

    @property
    def where(self) -> str:
        """Added to what is said where it is not about everything."""
        return f" of the {self.own}" if self.own else ""

    def in_filament(self, kind: FilamentKind) -> Edit:
        if not self.own:
            return Set(path="process.filament", value=kind)
        return PrintPart(part=self.own, process=self.process.model_copy(update={"filament": kind}))


def printed(a: Analysis) -> list[Printed]:
    """Every part by its process; a process that no part is printed with is not there."""
    own = {p.part for p in a.design.part_processes}
    part_of = {p.printed_as: p.part for p in a.pieces}
    common = tuple(n for n in part_of if n not in own)
    return [
        *([Printed(common, a.design.process, "")] if common else []),
        *(Printed((part,), a.design.process_of(n), n) for n, part in part_of.items() if n in own),
    ]


def change_process(a: Analysis, part: str, field: str, value: Value) -> tuple[Edit, ...]:
    """Edits that set a field of the process of a part, or of a piece printed otherwise: its own where it has one, else everybody's."""
    own = next((p.process for p in a.design.part_processes if p.part == part), None)
    if own is None:
        return (Set(path=f"process.{field}", value=value),)
    changed = Process.model_validate(own.model_dump() | {field: value})
    return (PrintPart(part=part, process=changed),)
