"""Designs kept: every edit a revision, undo and redo that survive, two writers told apart."""

from __future__ import annotations

import json
import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import Engine, func, select
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from rhombex.core.design import Design, read_design
from rhombex.core.edits import Edit, Set, Together, apply
from rhombex.core.plain import DesignError
from rhombex.store.database import open_database
from rhombex.store.models import DesignRow, RevisionRow


class Conflict(Exception):
    """Another window changed the design first."""

    def __init__(self, now: State) -> None:
        super().__init__("the design was changed elsewhere")
        self.now = now


class NotThere(LookupError):
    """No such design or revision."""


class CannotWrite(RuntimeError):
    """The disk or the database refused; nothing of the step was kept."""


@dataclass(frozen=True)
class Step:
    """One revision in the list."""

    number: int
    said: str
    kept_name: str | None
    at: str
    current: bool


@dataclass(frozen=True)
class State:
    """A design as it stands."""

    id: str
    version: int
    revision: int
    design: Design
    can_undo: bool
    can_redo: bool
    said: str


def describe(edit: Edit) -> str:
    """An edit in a few words, for the list of revisions."""
    if isinstance(edit, Together):
        return edit.said or (describe(edit.edits[0]) if len(edit.edits) == 1 else f"{len(edit.edits)} changes")
    if isinstance(edit, Set):
        return f"{edit.path} = {edit.value}"
    words = edit.model_dump(mode="json")
    what = words.get("id") or words.get("port") or words.get("face") or words.get("part") or ""
    return f"{edit.do.replace('-', ' ')} {what}".strip()


class Designs:
    """The shelf of designs in one SQLite file."""

    def __init__(self, path: Path) -> None:
        self.engine: Engine = open_database(path)

    def close(self) -> None:
        self.engine.dispose()

    @contextmanager
    def _session(self, write: bool) -> Iterator[Session]:
        try:
            with Session(self.engine.execution_options(write=write)) as s, s.begin():
                yield s
        except OperationalError as e:
            reason = str(e.orig)
            if "full" in reason:
                raise CannotWrite("the disk is full") from e
            raise CannotWrite(f"the database says: {reason}") from e

    def names(self) -> list[tuple[str, str]]:
        """Ids and names, oldest first."""
        with self._session(False) as s:
            return [(r.id, r.name) for r in s.scalars(select(DesignRow).order_by(DesignRow.created_at))]

    def create(self, design: Design, said: str = "start") -> State:
        """Put a new design on the shelf."""
        with self._session(True) as s:
            row = DesignRow(id=uuid.uuid4().hex[:12], name=design.name, version=0, cursor=0, created_at=_now())
            s.add(row)
            s.flush()
            self._append(s, row, design, said, "{}")
            return self._state(s, row)

    def state(self, id: str) -> State:
        with self._session(False) as s:
            return self._state(s, self._row(s, id))

    def edit(self, id: str, base_version: int, edit: Edit) -> State:
        """Do an edit. Raises Conflict where `base_version` is not the newest, DesignError where it is not valid."""
        with self._session(True) as s:
            row = self._row(s, id)
            if row.version != base_version:
                raise Conflict(self._state(s, row))
            now = self._revision(s, row, row.cursor)
            changed = apply(read_design(json.loads(now.document)), edit)
            self._append(s, row, changed, describe(edit), edit.model_dump_json())
            return self._state(s, row)

    def undo(self, id: str, base_version: int) -> State:
        """Step back to the revision before."""

        def back(s: Session, row: DesignRow) -> int:
            parent = self._revision(s, row, row.cursor).parent
            if parent == 0:
                raise DesignError("undo", "there is nothing before this", "")
            return parent

        return self._step(id, base_version, back)

    def redo(self, id: str, base_version: int) -> State:
        """Step forward to the newest revision that was made from this one."""

        def on(s: Session, row: DesignRow) -> int:
            child = self._child(s, row)
            if child is None:
                raise DesignError("redo", "there is nothing after this", "")
            return child

        return self._step(id, base_version, on)

    def go_to(self, id: str, base_version: int, number: int) -> State:
        """Stand at any revision; nothing after it is lost."""
        return self._step(id, base_version, lambda s, row: self._revision(s, row, number).number)

    def keep(self, id: str, number: int, name: str) -> State:
        """Give a revision a name."""
        with self._session(True) as s:
            row = self._row(s, id)
            self._revision(s, row, number).kept_name = name[:60]
            return self._state(s, row)

    def revisions(self, id: str, limit: int = 500) -> list[Step]:
        """The newest revisions, newest first."""
        with self._session(False) as s:
            row = self._row(s, id)
            found = s.scalars(
                select(RevisionRow).where(RevisionRow.design_id == id).order_by(RevisionRow.number.desc()).limit(limit)
            )
            return [
                Step(
                    r.number,
                    r.said,
                    r.kept_name,
                    r.created_at.isoformat(timespec="seconds"),
                    r.number == row.cursor,
                )
                for r in found
            ]

    def kept(self, id: str) -> Design | None:
        """The design of the newest kept revision at or before where it stands, or None."""
        with self._session(False) as s:
            row = self._row(s, id)
            found = s.scalar(
                select(RevisionRow)
                .where(
                    RevisionRow.design_id == id,
                    RevisionRow.kept_name.is_not(None),
                    RevisionRow.number <= row.cursor,
                )
                .order_by(RevisionRow.number.desc())
                .limit(1)
            )
            return None if found is None else read_design(json.loads(found.document))

    def _step(self, id: str, base_version: int, to: object) -> State:
        with self._session(True) as s:
            row = self._row(s, id)
            if row.version != base_version:
                raise Conflict(self._state(s, row))
            row.cursor = to(s, row)  # type: ignore[operator]
            row.version += 1
            row.name = read_design(json.loads(self._revision(s, row, row.cursor).document)).name
            return self._state(s, row)

    def _append(self, s: Session, row: DesignRow, design: Design, said: str, edit: str) -> None:
        last = s.scalar(select(func.max(RevisionRow.number)).where(RevisionRow.design_id == row.id)) or 0
        s.add(
            RevisionRow(
                design_id=row.id,
                number=last + 1,
                parent=row.cursor,
                said=said[:200],
                edit=edit,
                document=design.model_dump_json(),
                kept_name=None,
                created_at=_now(),
            )
        )
        row.cursor, row.name = last + 1, design.name
        row.version += 1
        s.flush()

    def _row(self, s: Session, id: str) -> DesignRow:
        row = s.get(DesignRow, id)
        if row is None:
            raise NotThere(f"there is no design '{id}'")
        return row

    def _revision(self, s: Session, row: DesignRow, number: int) -> RevisionRow:
        found = s.scalar(select(RevisionRow).where(RevisionRow.design_id == row.id, RevisionRow.number == number))
        if found is None:
            raise NotThere(f"there is no revision {number}")
        return found

    def _child(self, s: Session, row: DesignRow) -> int | None:
        return s.scalar(
            select(func.max(RevisionRow.number)).where(
                RevisionRow.design_id == row.id, RevisionRow.parent == row.cursor
            )
        )

    def _state(self, s: Session, row: DesignRow) -> State:
        now = self._revision(s, row, row.cursor)
        return State(
            id=row.id,
            version=row.version,
            revision=now.number,
            design=read_design(json.loads(now.document)),
            can_undo=now.parent != 0,
            can_redo=self._child(s, row) is not None,
            said=now.said,
        )


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)
