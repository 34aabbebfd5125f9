"""The workshop kept: printers, spools, own components; changed by edits, every one a revision that can be undone."""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy import Engine, delete, func, select
from sqlalchemy.orm import Session

from rhombex.core.plain import DesignError
from rhombex.core.shop_edits import NotePrint, PutWorkshop, ShopEdit, apply_shop, describe_shop
from rhombex.core.workshop.paced import PacedPrint
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stored import read_stored
from rhombex.core.workshop.workshop import Workshop
from rhombex.store.designs import NotThere, reading, session
from rhombex.store.models import AsideRow, ShopRevisionRow, WorkshopRow

ONLY = 1  # there is one workshop
KEPT = 200  # revisions; a full diary makes a long document


class WorkshopConflict(Exception):
    """Another window changed the workshop first."""

    def __init__(self, now: ShopState) -> None:
        super().__init__("the workshop was changed elsewhere")
        self.now = now


@dataclass(frozen=True)
class ShopState:
    """The workshop as it stands. `left_out`: stored entries that cannot be read, in words; `undoes`, `redoes`: what the next step
    back or forward would take away or bring back, or nothing where there is none."""

    version: int
    workshop: Workshop
    left_out: tuple[str, ...]
    undoes: str
    redoes: str


_AS_IT_STANDS = select(WorkshopRow.version, WorkshopRow.document).where(WorkshopRow.id == ONLY)  # asked at every edit


class Workshops:
    """The workshop in the same SQLite file as the designs. It starts as the sample workshop."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self._known: tuple[str, Workshop, tuple[str, ...]] | None = None  # the document read last

    def read(self) -> tuple[int, Workshop]:
        """The version and the workshop as it stands. Entries that cannot be read are left out."""
        with reading(self.engine) as c:
            row = c.execute(_AS_IT_STANDS).first()
            return (0, ARCHIVE_WORKSHOP) if row is None else (row.version, self._read(row.document)[0])

    def state(self) -> ShopState:
        with session(self.engine, False) as s:
            return self._state(s)

    def stored(self) -> str:
        """The workshop's document just as it is stored."""
        with session(self.engine, False) as s:
            row = s.get(WorkshopRow, ONLY)
            return ARCHIVE_WORKSHOP.model_dump_json() if row is None else row.document

    def edit(self, edits: tuple[ShopEdit, ...], base_version: int | None = None) -> ShopState:
        """Do edits as one step to the workshop as it stands. Raises WorkshopConflict where `base_version` is given and is not
        the newest, DesignError where the result is not valid."""
        with session(self.engine, True) as s:
            row = self._row(s)
            if base_version is not None and row.version != base_version:
                raise WorkshopConflict(self._state(s))
            now, lost = self._read(row.document)
            for e in edits:
                now = apply_shop(now, e)
            if lost:  # what could not be read goes away with this change: it is kept beside
                s.add(AsideRow(what=f"workshop, version {row.version}", at=_now(), document=row.document))
            said = ", ".join(dict.fromkeys(describe_shop(e) for e in edits))
            document = json.dumps([e.model_dump(mode="json") for e in edits])
            row.cursor = self._append(s, row.cursor, said, document, now.model_dump_json())
            row.document = now.model_dump_json()
            row.version += 1
            s.flush()
            return self._state(s)

    def write(self, base_version: int, workshop: Workshop) -> ShopState:
        """Put a whole workshop in place. Raises WorkshopConflict where another window was first."""
        return self.edit((PutWorkshop(workshop=workshop),), base_version)

    def note(self, printer: str, entry: PacedPrint) -> ShopState:
        """Write a print into the diary of a printer as the workshop stands now. Raises NotThere where it has none such."""
        if self.read()[1].printer(printer) is None:
            raise NotThere(f"there is no printer '{printer}' in the workshop")
        return self.edit((NotePrint(printer=printer, entry=entry),))

    def undo(self, base_version: int) -> ShopState:
        """Step back to the revision before."""
        return self._step(base_version, back=True)

    def redo(self, base_version: int) -> ShopState:
        """Step forward to the newest revision that was made from this one."""
        return self._step(base_version, back=False)

    def _step(self, base_version: int, back: bool) -> ShopState:
        with session(self.engine, True) as s:
            row = self._row(s)
            if row.version != base_version:
                raise WorkshopConflict(self._state(s))
            to = self._before(s, row.cursor) if back else self._after(s, row.cursor)
            if to is None:
                raise DesignError(
                    "undo" if back else "redo", f"there is nothing {'before' if back else 'after'} this", ""
                )
            row.cursor, row.document = to.number, to.document
            row.version += 1
            s.flush()
            return self._state(s)

    def _row(self, s: Session) -> WorkshopRow:
        """The row of the workshop, with a revision for where it stands; made where there is none."""
        row = s.get(WorkshopRow, ONLY)
        if row is None:
            row = WorkshopRow(id=ONLY, version=0, document=ARCHIVE_WORKSHOP.model_dump_json(), cursor=0)
            s.add(row)
        if s.get(ShopRevisionRow, row.cursor) is None:
            row.cursor = self._append(s, 0, "start", "[]", row.document)
        return row

    def _append(self, s: Session, parent: int, said: str, edit: str, document: str) -> int:
        new = ShopRevisionRow(parent=parent, said=said[:200], edit=edit, document=document, created_at=_now())
        s.add(new)
        s.flush()
        s.execute(delete(ShopRevisionRow).where(ShopRevisionRow.number <= new.number - KEPT))
        return new.number

    def _before(self, s: Session, cursor: int) -> ShopRevisionRow | None:
        now = s.get(ShopRevisionRow, cursor)
        return s.get(ShopRevisionRow, now.parent) if now is not None and now.parent else None

    def _after(self, s: Session, cursor: int) -> ShopRevisionRow | None:
        if not cursor:
            return None
        newest = s.scalar(select(func.max(ShopRevisionRow.number)).where(ShopRevisionRow.parent == cursor))
        return None if newest is None else s.get(ShopRevisionRow, newest)

    def _read(self, document: str) -> tuple[Workshop, tuple[str, ...]]:
        known = self._known
        if known is None or known[0] != document:
            known = self._known = (document, *read_stored(document))
        return known[1], known[2]

    def _state(self, s: Session) -> ShopState:
        row = s.get(WorkshopRow, ONLY)
        if row is None:
            return ShopState(0, ARCHIVE_WORKSHOP, (), "", "")
        now, lost = self._read(row.document)
        here = s.get(ShopRevisionRow, row.cursor)
        before, after = self._before(s, row.cursor), self._after(s, row.cursor)
        undoes = here.said if here is not None and before is not None else ""
        return ShopState(row.version, now, lost, undoes, after.said if after is not None else "")


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)
