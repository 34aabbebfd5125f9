"""The workshop kept: printers and spools, used by all designs."""

from __future__ import annotations

import json
from typing import Any

from sqlalchemy import Engine
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from rhombex.core.plain import read_as
from rhombex.core.workshop import ARCHIVE_WORKSHOP, MOST_PRINTS, PacedPrint, Workshop
from rhombex.store.designs import CannotWrite, NotThere
from rhombex.store.models import WorkshopRow

ONLY = 1  # there is one workshop


class WorkshopConflict(Exception):
    """Another window changed the workshop first."""

    def __init__(self, version: int, now: Workshop) -> None:
        super().__init__("the workshop was changed elsewhere")
        self.version, self.now = version, now


def read_workshop(data: Any) -> Workshop:
    """A workshop of plain data. Raises DesignError naming the field."""
    return read_as(Workshop, data, "workshop")


class Workshops:
    """The workshop in the same SQLite file as the designs. It starts as the sample workshop."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def read(self) -> tuple[int, Workshop]:
        """The version and the workshop as it stands."""
        with Session(self.engine) as s, s.begin():
            return self._now(s)

    def write(self, base_version: int, workshop: Workshop) -> tuple[int, Workshop]:
        """Put a changed workshop in place. Raises WorkshopConflict where another window was first."""
        try:
            with Session(self.engine.execution_options(write=True)) as s, s.begin():
                version, now = self._now(s)
                if version != base_version:
                    raise WorkshopConflict(version, now)
                row = s.get(WorkshopRow, ONLY)
                if row is None:
                    row = WorkshopRow(id=ONLY, version=0, document="")
                    s.add(row)
                row.version = version + 1
                row.document = workshop.model_dump_json()
                return row.version, workshop
        except OperationalError as e:
            raise CannotWrite(f"the database says: {e.orig}") from e

    def note(self, printer: str, entry: PacedPrint) -> tuple[int, Workshop]:
        """Write a print into the diary of a printer as the workshop stands now. Raises NotThere where it has none such."""
        while True:
            version, now = self.read()
            if now.printer(printer) is None:
                raise NotThere(f"there is no printer '{printer}' in the workshop")
            printers = tuple(
                p.model_copy(update={"paced": (*p.paced, entry)[-MOST_PRINTS:]}) if p.key == printer else p
                for p in now.printers
            )
            try:
                return self.write(version, now.model_copy(update={"printers": printers}))
            except WorkshopConflict:
                continue  # another window was quicker: the entry goes on top of its change

    def _now(self, s: Session) -> tuple[int, Workshop]:
        row = s.get(WorkshopRow, ONLY)
        return (0, ARCHIVE_WORKSHOP) if row is None else (row.version, read_workshop(json.loads(row.document)))
