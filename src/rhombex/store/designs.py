"""Designs kept: every edit a revision, undo and redo that survive, two writers told apart."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache, lru_cache
from pathlib import Path

from sqlalchemy import Connection, Engine, Row, bindparam, case, func, insert, select, update
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from rhombex.core.apply import apply
from rhombex.core.design import Design, read_design
from rhombex.core.edits import Edit, Set, Together
from rhombex.core.parts import library
from rhombex.core.plain import DesignError
from rhombex.core.words import clean
from rhombex.store.database import open_database
from rhombex.store.models import DesignRow, RevisionRow
from rhombex.store.trouble import CannotWrite, explain


class Conflict(Exception):
    """Another window changed the design first."""

    def __init__(self, now: State) -> None:
        super().__init__("the design was changed elsewhere")
        self.now = now


class NotThere(LookupError):
    """No such design or revision."""


class Unreadable(RuntimeError):
    """A stored document that this Rhombex cannot read. It is kept as it is."""

    def __init__(self, id: str, message: str, do: str) -> None:
        super().__init__(message)
        self.id, self.message, self.do = id, message, do


BIN_DAYS = 30  # how long a design stays in the bin


@dataclass(frozen=True)
class Shelved:
    """A design on the shelf or in the bin. `trouble`: why its document cannot be read, or nothing. `days_left`: in the bin."""

    id: str
    name: str
    changed_at: str
    trouble: str
    days_left: int | None


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
        self._read: dict[str, str] = {}  # what is wrong with documents that were read, by their digest

    def close(self) -> None:
        self.engine.dispose()

    @contextmanager
    def _session(self, write: bool) -> Iterator[Session]:
        with session(self.engine, write) as s:
            yield s

    def names(self) -> list[tuple[str, str]]:
        """Ids and names of what is on the shelf, oldest first."""
        with self._session(False) as s:
            rows = select(DesignRow).where(DesignRow.deleted_at.is_(None)).order_by(DesignRow.created_at)
            return [(r.id, r.name) for r in s.scalars(rows)]

    def shelf(self) -> tuple[list[Shelved], list[Shelved]]:
        """What is on the shelf, oldest first, and what is in the bin, with what is wrong with each document. Only documents
        that were not found readable before are read."""
        mark = read_by()
        with self._session(False) as s:
            at = (RevisionRow.design_id == DesignRow.id) & (RevisionRow.number == DesignRow.cursor)
            rows = s.execute(
                select(DesignRow, RevisionRow.document).outerjoin(RevisionRow, at).order_by(DesignRow.created_at)
            ).all()
            found = []
            for row, document in rows:
                sound = document is not None and row.sound == _digest(document, mark)
                trouble = "" if sound else self._trouble(document, mark)
                left = None if row.deleted_at is None else BIN_DAYS - (_now() - row.deleted_at).days
                changed = (row.changed_at or row.created_at).isoformat(timespec="seconds")
                found.append(Shelved(row.id, row.name, changed, trouble, left))
        return [x for x in found if x.days_left is None], [x for x in found if x.days_left is not None]

    def _trouble(self, document: str | None, mark: str) -> str:
        if document is None:
            return "the revision that it stands at is gone"
        key = _digest(document, mark)
        if key not in self._read:
            if len(self._read) > 10_000:
                self._read.clear()
            try:
                _read(document)
                self._read[key] = ""
            except DesignError as e:
                self._read[key] = _said(e)
        return self._read[key]

    def stored(self, id: str) -> tuple[str, str]:
        """Name and document of a design as it stands, just as it is stored, readable or not, in the bin or not."""
        with reading(self.engine) as c:
            row = c.execute(_WHERE, {"id": id}).first()
            if row is None:
                raise NotThere(f"there is no design '{id}'")
            return row.name, self._revision(c, id, row.cursor).document

    def discard(self, id: str) -> None:
        """Put a design into the bin, readable or not."""
        with writing(self.engine) as c:
            self._standing(c, id)
            c.execute(update(DesignRow).where(DesignRow.id == id).values(deleted_at=_now()))

    def restore(self, id: str) -> None:
        """Take a design out of the bin again."""
        with self._session(True) as s:
            self._binned(s, id).deleted_at = None

    def destroy(self, id: str | None = None) -> int:
        """Delete a design in the bin for good, or all of them (None). Returns how many went."""
        with self._session(True) as s:
            rows = (
                list(s.scalars(select(DesignRow).where(DesignRow.deleted_at.is_not(None))))
                if id is None
                else [self._binned(s, id)]
            )
            for row in rows:
                s.delete(row)
            return len(rows)

    def purge(self) -> int:
        """Delete what has been in the bin for longer than it may. Returns how many went."""
        with self._session(True) as s:
            old = select(DesignRow).where(DesignRow.deleted_at < _now() - timedelta(days=BIN_DAYS))
            rows = list(s.scalars(old))
            for row in rows:
                s.delete(row)
            return len(rows)

    def printed_on(self) -> dict[str, list[str]]:
        """Names of the designs on the shelf by the key of the printer that they are printed on; no document is read."""
        out: dict[str, list[str]] = {}
        with self._session(False) as s:
            rows = select(DesignRow.printer, DesignRow.name).where(DesignRow.deleted_at.is_(None))
            for printer, name in s.execute(rows.order_by(DesignRow.created_at)):
                out.setdefault(printer, []).append(name)
        return out

    def printed_in(self, own_filaments: Iterable[str]) -> dict[str, list[str]]:
        """Names of the designs on the shelf by which of these own filaments a part of them is printed in."""
        out: dict[str, list[str]] = {}
        at = (RevisionRow.design_id == DesignRow.id) & (RevisionRow.number == DesignRow.cursor)
        # a document that is no JSON names nothing; SQLite would refuse the question for all of them
        readable = case((func.json_valid(RevisionRow.document) == 1, RevisionRow.document), else_="null")
        told = func.json_tree(readable).table_valued("key", "atom")
        with self._session(False) as s:
            for key in own_filaments:
                uses = select(1).select_from(told).where(told.c.key == "own_filament", told.c.atom == key).exists()
                rows = select(DesignRow.name).join(RevisionRow, at).where(DesignRow.deleted_at.is_(None), uses)
                names = list(s.scalars(rows.order_by(DesignRow.created_at)))
                if names:
                    out[key] = names
        return out

    def create(self, design: Design, said: str = "start") -> State:
        """Put a new design on the shelf."""
        with writing(self.engine) as c:
            new = uuid.uuid4().hex[:12]
            start = {"id": new, "name": design.name, "version": 0, "cursor": 0, "created_at": _now()}
            c.execute(insert(DesignRow), start)
            return self._append(c, new, 0, 0, design, said, "{}")

    def twin(self, design: Design) -> tuple[str, str] | None:
        """Id and name of a design on the shelf whose document is just this one; None where there is none."""
        at = (RevisionRow.design_id == DesignRow.id) & (RevisionRow.number == DesignRow.cursor)
        same = (RevisionRow.document == design.model_dump_json()) & DesignRow.deleted_at.is_(None)
        with self._session(False) as s:
            found = s.execute(select(DesignRow.id, DesignRow.name).join(RevisionRow, at).where(same).limit(1)).first()
        return (found[0], found[1]) if found else None

    def state(self, id: str) -> State:
        with reading(self.engine) as c:
            return self._state(c, self._standing(c, id))

    def at(self, id: str, number: int) -> Design:
        """A design as it stood at a revision. Raises NotThere, or DesignError where it cannot be read."""
        with reading(self.engine) as c:
            return self._design(id, self._revision(c, self._standing(c, id).id, number).document)

    def version(self, id: str) -> int:
        """The version of a design, without reading its document."""
        with reading(self.engine) as c:
            return self._standing(c, id).version

    def edit(self, id: str, base_version: int, edit: Edit) -> State:
        """Do an edit. Raises Conflict where `base_version` is not the newest, DesignError where it is not valid."""
        with writing(self.engine) as c:
            now = self._newest(c, id, base_version)
            before = self._design(id, self._revision(c, id, now.cursor).document)
            changed = apply(before, edit)
            if changed == before:  # nothing to remember
                return self._state(c, now)
            return self._append(c, id, now.version, now.cursor, changed, describe(edit), edit.model_dump_json())

    def undo(self, id: str, base_version: int) -> State:
        """Step back to the revision before."""

        def back(c: Connection, now: _Standing) -> int:
            parent: int = self._revision(c, id, now.cursor).parent
            if parent == 0:
                raise DesignError("undo", "there is nothing before this", "")
            return parent

        return self._step(id, base_version, back)

    def redo(self, id: str, base_version: int) -> State:
        """Step forward to the newest revision that was made from this one."""

        def on(c: Connection, now: _Standing) -> int:
            child = self._child(c, now)
            if child is None:
                raise DesignError("redo", "there is nothing after this", "")
            return child

        return self._step(id, base_version, on)

    def go_to(self, id: str, base_version: int, number: int) -> State:
        """Stand at any revision; nothing after it is lost."""

        def there(c: Connection, now: _Standing) -> int:
            self._revision(c, id, number)
            return number

        return self._step(id, base_version, there)

    def keep(self, id: str, number: int, name: str) -> State:
        """Give a revision a name."""
        with writing(self.engine) as c:
            now = self._standing(c, id)
            self._revision(c, id, number)
            c.execute(_NAME, {"of": id, "which": number, "called": clean(name)[:60] or f"revision {number}"})
            return self._state(c, now)

    def revisions(self, id: str, limit: int = 200, before: int | None = None) -> list[Step]:
        """Revisions, newest first: the newest, or those before a number, so that all can be reached a page at a time."""
        with reading(self.engine) as c:
            now = self._standing(c, id)
            wanted = select(*_LISTED).where(RevisionRow.design_id == id)
            if before is not None:
                wanted = wanted.where(RevisionRow.number < before)
            found = c.execute(wanted.order_by(RevisionRow.number.desc()).limit(limit))
            return [
                Step(
                    r.number,
                    r.said,
                    r.kept_name,
                    r.created_at.isoformat(timespec="seconds"),
                    r.number == now.cursor,
                )
                for r in found
            ]

    def kept(self, id: str) -> Design | None:
        """The design of the newest kept revision at or before where it stands, or None."""
        with reading(self.engine) as c:
            document = c.scalar(_KEPT, {"id": id})
        try:
            return None if document is None else _read(document)
        except DesignError:
            return None  # nothing to compare with, where the kept one cannot be read

    def _step(self, id: str, base_version: int, to: Callable[[Connection, _Standing], int]) -> State:
        with writing(self.engine) as c:
            now = self._newest(c, id, base_version)
            number = to(c, now)
            document = self._revision(c, id, number).document
            design = self._design(id, document)
            version = now.version + 1
            c.execute(_STAND, {"of": id, "at": number, "new_version": version, **_told_of(design, document)})
            return self._state(c, _Standing(id, version, number))

    def _design(self, id: str, document: str) -> Design:
        try:
            return _read(document)
        except DesignError as e:
            raise Unreadable(id, f"The stored document cannot be read: {_said(e)}.", e.do) from e

    def _append(self, c: Connection, id: str, version: int, parent: int, design: Design, said: str, edit: str) -> State:
        """Write a revision behind the newest one, and stand there."""
        number = (c.scalar(_LAST, {"id": id}) or 0) + 1
        document = design.model_dump_json()
        new = {"design_id": id, "number": number, "parent": parent, "said": said[:200], "edit": edit}
        c.execute(_WRITE, {**new, "document": document, "kept_name": None, "created_at": _now()})
        c.execute(_STAND, {"of": id, "at": number, "new_version": version + 1, **_told_of(design, document)})
        # nothing was made from it yet
        return State(id, version + 1, number, self._design(id, document), parent != 0, False, said[:200])

    def _standing(self, c: Connection, id: str) -> _Standing:
        row = c.execute(_WHERE, {"id": id}).first()
        if row is None:
            raise NotThere(f"there is no design '{id}'")
        if row.deleted_at is not None:
            raise NotThere(f"the design '{row.name}' is in the bin: restore it first")
        return _Standing(id, row.version, row.cursor)

    def _newest(self, c: Connection, id: str, version: int) -> _Standing:
        """Where a design stands. Raises Conflict where that is another version."""
        now = self._standing(c, id)
        if now.version != version:
            raise Conflict(self._state(c, now))
        return now

    def _binned(self, s: Session, id: str) -> DesignRow:
        row = s.get(DesignRow, id)
        if row is None or row.deleted_at is None:
            raise NotThere(f"there is no design '{id}' in the bin")
        return row

    def _revision(self, c: Connection, id: str, number: int) -> Row[int, int, str, str]:
        found = c.execute(_REVISION, {"id": id, "number": number}).first()
        if found is None:
            raise NotThere(f"there is no revision {number}")
        return found

    def _child(self, c: Connection, now: _Standing) -> int | None:
        return c.scalar(_CHILD, {"id": now.id, "parent": now.cursor})

    def _state(self, c: Connection, now: _Standing) -> State:
        at = self._revision(c, now.id, now.cursor)
        return State(
            id=now.id,
            version=now.version,
            revision=at.number,
            design=self._design(now.id, at.document),
            can_undo=at.parent != 0,
            can_redo=self._child(c, now) is not None,
            said=at.said,
        )


@dataclass(frozen=True)
class _Standing:
    """Where a design on the shelf stands: its version, and the number of its revision."""

    id: str
    version: int
    cursor: int


def _told_of(design: Design, document: str) -> dict[str, object]:
    """What is noted beside a design of what its document says."""
    sound = _digest(document, read_by())
    return {"called": design.name, "on": design.printer, "now": _now(), "read_as": sound}


# What is asked at every edit is put together once.
_OF_ONE = RevisionRow.design_id == bindparam("id")
_NUMBERED = RevisionRow.number == bindparam("number")
_REVISION = select(RevisionRow.number, RevisionRow.parent, RevisionRow.said, RevisionRow.document).where(
    _OF_ONE, _NUMBERED
)
_WHERE = select(DesignRow.version, DesignRow.cursor, DesignRow.name, DesignRow.deleted_at).where(
    DesignRow.id == bindparam("id")
)
_WRITE = insert(RevisionRow)
_NAME = (
    update(RevisionRow)
    .where(RevisionRow.design_id == bindparam("of"), RevisionRow.number == bindparam("which"))
    .values(kept_name=bindparam("called"))
)
_STAND = (
    update(DesignRow)
    .where(DesignRow.id == bindparam("of"))
    .values(
        cursor=bindparam("at"),
        version=bindparam("new_version"),
        name=bindparam("called"),
        printer=bindparam("on"),
        changed_at=bindparam("now"),
        sound=bindparam("read_as"),
    )
)
_LAST = select(func.max(RevisionRow.number)).where(_OF_ONE)
_CHILD = _LAST.where(RevisionRow.parent == bindparam("parent"))
_KEPT = (
    select(RevisionRow.document)
    .join(DesignRow, (RevisionRow.design_id == DesignRow.id) & (RevisionRow.number <= DesignRow.cursor))
    .where(RevisionRow.kept_name.is_not(None), DesignRow.id == bindparam("id"), DesignRow.deleted_at.is_(None))
    .order_by(RevisionRow.number.desc())
    .limit(1)
)
_LISTED = (
    RevisionRow.number,
    RevisionRow.said,
    RevisionRow.kept_name,
    RevisionRow.created_at,
)


@contextmanager
def session(engine: Engine, write: bool) -> Iterator[Session]:
    """A transaction. Raises CannotWrite with what the disk or the database refused."""
    try:
        with Session(engine.execution_options(write=write)) as s, s.begin():
            yield s
    except DatabaseError as e:
        raise CannotWrite(*explain(e)) from e


@contextmanager
def writing(engine: Engine) -> Iterator[Connection]:
    """A transaction that writes columns and no objects: a hand waits for it. Raises CannotWrite with what the disk or the database refused."""
    try:
        with engine.execution_options(write=True).begin() as c:
            yield c
    except DatabaseError as e:
        raise CannotWrite(*explain(e)) from e


@contextmanager
def reading(engine: Engine) -> Iterator[Connection]:
    """A transaction that reads columns and no objects, in a third of the time of a session. Raises CannotWrite with what the disk or the database refused."""
    try:
        with engine.connect() as c:
            yield c
    except DatabaseError as e:
        raise CannotWrite(*explain(e)) from e


@lru_cache(maxsize=64)
def _read(document: str) -> Design:
    """A stored document; an edit reads the one that the last one wrote. Raises DesignError where it is no design that this Rhombex reads."""
    try:
        return read_design(json.loads(document))
    except (ValueError, RecursionError) as e:
        if isinstance(e, DesignError):
            raise
        raise DesignError(
            "document", "it is not whole: it cannot be read as JSON", "Restore it from a backup."
        ) from None


def _said(e: DesignError) -> str:
    """A complaint about a document: with the field, where that says more."""
    return e.message if e.field in ("schema_version", "document", "design") else str(e)


@cache
def read_by() -> str:
    """What documents are read by: another Rhombex, another schema or other components may find other documents readable."""
    text = json.dumps(Design.model_json_schema(), sort_keys=True) + ",".join(sorted(library()))
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def _digest(document: str, mark: str) -> str:
    return hashlib.sha256(f"{mark}{document}".encode("utf-8", "surrogatepass")).hexdigest()[:32]


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)
