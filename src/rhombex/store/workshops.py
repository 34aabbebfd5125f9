"""The workshop kept: printers and spools, used by all designs."""

from __future__ import annotations

from datetime import UTC, datetime

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from rhombex.core.shop_edits import ShopEdit, apply_shop
from rhombex.core.workshop import ARCHIVE_WORKSHOP, MOST_PRINTS, PacedPrint, Workshop, read_stored
from rhombex.store.designs import NotThere, session
from rhombex.store.models import AsideRow, WorkshopRow

ONLY = 1  # there is one workshop


class WorkshopConflict(Exception):
    """Another window changed the workshop first."""

    def __init__(self, version: int, now: Workshop) -> None:
        super().__init__("the workshop was changed elsewhere")
        self.version, self.now = version, now


class Workshops:
    """The workshop in the same SQLite file as the designs. It starts as the sample workshop."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self._known: tuple[str, Workshop, tuple[str, ...]] | None = None  # the document read last

    def read(self) -> tuple[int, Workshop]:
        """The version and the workshop as it stands. Entries that cannot be read are left out (see `left_out`)."""
        with session(self.engine, False) as s:
            version, now, _, _ = self._now(s)
            return version, now

    def left_out(self) -> tuple[str, ...]:
        """What of the stored workshop cannot be read, in words."""
        with session(self.engine, False) as s:
            return self._now(s)[2]

    def stored(self) -> str:
        """The workshop's document just as it is stored."""
        with session(self.engine, False) as s:
            return self._now(s)[3]

    def edit(self, edits: tuple[ShopEdit, ...]) -> tuple[int, Workshop]:
        """Do edits to the workshop as it stands now. Raises DesignError where the result is not valid."""
        while True:
            version, now = self.read()
            for e in edits:
                now = apply_shop(now, e)
            try:
                return self.write(version, now)
            except WorkshopConflict:
                continue  # another window was quicker: the edits go on top of its change

    def write(self, base_version: int, workshop: Workshop) -> tuple[int, Workshop]:
        """Put a changed workshop in place. Raises WorkshopConflict where another window was first."""
        with session(self.engine, True) as s:
            version, now, lost, document = self._now(s)
            if version != base_version:
                raise WorkshopConflict(version, now)
            row = s.get(WorkshopRow, ONLY)
            if row is None:
                row = WorkshopRow(id=ONLY, version=0, document="")
                s.add(row)
            if lost:  # what could not be read goes away with this change: it is kept beside
                at = datetime.now(UTC).replace(tzinfo=None)
                s.add(AsideRow(what=f"workshop, version {version}", at=at, document=document))
            row.version = version + 1
            row.document = workshop.model_dump_json()
            return row.version, workshop

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

    def _now(self, s: Session) -> tuple[int, Workshop, tuple[str, ...], str]:
        row = s.get(WorkshopRow, ONLY)
        if row is None:
            return 0, ARCHIVE_WORKSHOP, (), ARCHIVE_WORKSHOP.model_dump_json()
        if self._known is None or self._known[0] != row.document:
            self._known = (row.document, *read_stored(row.document))
        _, now, lost = self._known
        return row.version, now, lost, row.document
