"""Nothing is lost: revisions, undo, two writers, a killed process, a full disk, migrations."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import threading
from pathlib import Path

import pytest
from sqlalchemy import event, text

from rhombex.core.design import Design, read_design
from rhombex.core.edits import Set, Together
from rhombex.core.plain import DesignError
from rhombex.store.database import open_database
from rhombex.store.designs import CannotWrite, Conflict, Designs, NotThere
from rhombex.store.models import Base


@pytest.fixture
def shelf(tmp_path: Path) -> Designs:
    return Designs(tmp_path / "rhombex.db")


def wall(mm: float) -> Set:
    return Set(path="shell.wall_mm", value=mm)


def test_undo_and_redo_survive_closing(shelf: Designs, wren: Design, tmp_path: Path) -> None:
    s = shelf.create(wren)
    s = shelf.edit(s.id, s.version, wall(3.3))
    s = shelf.edit(s.id, s.version, wall(3.7))
    shelf.close()
    again = Designs(tmp_path / "rhombex.db")
    s = again.undo(s.id, s.version)
    assert s.design.shell.wall_mm == 3.3 and s.can_redo
    s = again.undo(s.id, s.version)
    assert s.design == wren and not s.can_undo
    again.close()
    s = Designs(tmp_path / "rhombex.db").redo(s.id, s.version)
    assert s.design.shell.wall_mm == 3.3


def test_an_edit_after_an_undo_loses_nothing(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    s = shelf.edit(s.id, s.version, wall(3.3))
    lost = s.revision
    s = shelf.undo(s.id, s.version)
    s = shelf.edit(s.id, s.version, wall(3.7))
    s = shelf.undo(s.id, s.version)
    s = shelf.redo(s.id, s.version)
    assert s.design.shell.wall_mm == 3.7  # the newest way on
    s = shelf.go_to(s.id, s.version, lost)
    assert s.design.shell.wall_mm == 3.3  # the older one is still there


def test_nothing_before_the_first_and_after_the_last(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    with pytest.raises(DesignError, match="nothing before"):
        shelf.undo(s.id, s.version)
    with pytest.raises(DesignError, match="nothing after"):
        shelf.redo(s.id, s.version)
    with pytest.raises(NotThere):
        shelf.go_to(s.id, s.version, 99)
    with pytest.raises(NotThere):
        shelf.state("000000000000")


def test_the_second_writer_is_told_and_can_do_it_again(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    shelf.edit(s.id, s.version, wall(3.3))
    mine = Set(path="shell.floor_mm", value=4)
    with pytest.raises(Conflict) as e:
        shelf.edit(s.id, s.version, mine)
    assert e.value.now.design.shell.wall_mm == 3.3 and e.value.now.design.shell.floor_mm == 3
    done = shelf.edit(s.id, e.value.now.version, mine)
    assert (done.design.shell.wall_mm, done.design.shell.floor_mm) == (3.3, 4)


def test_many_writers_at_once_lose_nothing(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    done = []

    def write(k: int) -> None:
        for i in range(5):
            edit = Set(path="name", value=f"w{k}-{i}")
            while True:
                try:
                    done.append(shelf.edit(s.id, shelf.state(s.id).version, edit).revision)
                    break
                except Conflict:
                    continue

    threads = [threading.Thread(target=write, args=(k,)) for k in range(6)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    assert sorted(done) == list(range(2, 32))
    assert len(shelf.revisions(s.id)) == 31


def test_a_kept_revision_has_its_name_and_is_what_is_compared_with(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    assert shelf.kept(s.id) is None
    shelf.keep(s.id, s.revision, "first sketch")
    s = shelf.edit(s.id, shelf.state(s.id).version, Together(edits=(wall(3.3),), said="thicker"))
    assert shelf.kept(s.id) == wren
    steps = shelf.revisions(s.id)
    assert [(x.number, x.said, x.kept_name, x.current) for x in steps] == [
        (2, "thicker", None, True),
        (1, "start", "first sketch", False),
    ]


def test_a_refused_edit_leaves_no_trace(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    with pytest.raises(DesignError):
        shelf.edit(s.id, s.version, wall(99))
    assert shelf.state(s.id) == s and len(shelf.revisions(s.id)) == 1


def test_a_full_disk_is_said_and_nothing_is_half_written(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    with shelf.engine.connect() as c:
        pages = c.execute(text("PRAGMA page_count")).scalar_one()
    from sqlalchemy import event

    def small(connection: object, _record: object, _proxy: object) -> None:
        connection.execute(f"PRAGMA max_page_count={pages + 1}")  # type: ignore[attr-defined]

    event.listen(shelf.engine, "checkout", small)
    last = s
    with pytest.raises(CannotWrite, match="disk is full"):
        for i in range(200):
            last = shelf.edit(s.id, last.version, wall(3 + i / 100))
    event.remove(shelf.engine, "checkout", small)
    now = shelf.state(s.id)
    assert now == last
    assert len(shelf.revisions(s.id)) == now.revision


WRITER = """
import sys
from pathlib import Path
from rhombex.core.edits import Set
from rhombex.store.designs import Designs
shelf = Designs(Path(sys.argv[1]))
id = shelf.names()[0][0]
s = shelf.state(id)
k = 0
while True:
    k += 1
    s = shelf.edit(id, s.version, Set(path="shell.floor_mm", value=3 + (k % 500) / 1000))
    print(s.revision, s.design.shell.floor_mm, flush=True)
"""


@pytest.mark.parametrize("after", [1, 7, 23])
def test_a_killed_process_loses_at_most_the_edit_in_flight(tmp_path: Path, wren: Design, after: int) -> None:
    path = tmp_path / "rhombex.db"
    shelf = Designs(path)
    id = shelf.create(wren).id
    shelf.close()
    p = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True)
    assert p.stdout
    said = [p.stdout.readline().split() for _ in range(after)]
    os.kill(p.pid, signal.SIGKILL)
    said += [line.split() for line in p.stdout.read().splitlines() if len(line.split()) == 2]
    p.wait()
    again = Designs(path)
    steps = {s.number for s in again.revisions(id, 100_000)}
    last, floor = int(said[-1][0]), float(said[-1][1])
    assert steps >= set(range(1, last + 1))  # all that was confirmed is there
    assert len(steps) <= last + 1  # and at most the one in flight besides
    s = again.state(id)
    if s.revision == last:
        assert s.design.shell.floor_mm == floor
    again.edit(id, s.version, wall(3.3))  # and it goes on


def test_migrations_make_what_the_models_say(tmp_path: Path) -> None:
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext

    engine = open_database(tmp_path / "a.db")
    with engine.connect() as c:
        assert compare_metadata(MigrationContext.configure(c), Base.metadata) == []
        assert c.execute(text("PRAGMA journal_mode")).scalar_one() == "wal"
        assert c.execute(text("PRAGMA foreign_keys")).scalar_one() == 1
    open_database(tmp_path / "a.db")  # a second start changes nothing


def test_an_edit_passes_no_other_revisions(shelf: Designs, wren: Design) -> None:
    """However long the history of a design is: what an edit asks of it goes by an index, and no document is passed on the way."""
    s = shelf.create(wren)
    shelf.keep(s.id, s.revision, "first")
    asked: list[tuple[str, object]] = []

    @event.listens_for(shelf.engine, "before_cursor_execute")
    def note(_c: object, _u: object, statement: str, parameters: object, *_: object) -> None:
        asked.append((statement, parameters))

    s = shelf.edit(s.id, s.version, wall(3.3))
    assert shelf.kept(s.id) == wren
    shelf.state(s.id)
    event.remove(shelf.engine, "before_cursor_execute", note)
    ways: list[str] = []
    with shelf.engine.connect() as c:
        for statement, parameters in asked:
            if statement.startswith("SELECT") and "revision" in statement:
                plan = c.exec_driver_sql(f"EXPLAIN QUERY PLAN {statement}", parameters)  # type: ignore[arg-type]
                ways += [row[3] for row in plan]
    assert sum("ix_revision_kept" in w for w in ways) == 1
    assert sum("ix_revision_parent" in w for w in ways) == 1
    for w in ways:  # one revision by its number, or by an index alone
        if w.startswith("SEARCH design USING") and "(id=?)" in w:
            continue  # the design itself, by its id
        assert w.startswith("SEARCH revision USING"), w
        assert "COVERING INDEX" in w or "number=?" in w or "ix_revision_kept" in w, w


def test_what_is_kept_is_plain_json_of_the_schema(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    with shelf.engine.connect() as c:
        kept = c.execute(text("SELECT document FROM revision")).scalar_one()
    assert read_design(json.loads(kept)) == s.design
