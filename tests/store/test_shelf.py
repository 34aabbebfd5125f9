"""The shelf and its bin; documents and folders that cannot be read: each harms only itself and says what it is."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import stat
import subprocess
import sys
from datetime import timedelta
from pathlib import Path

import pytest
from sqlalchemy import text

from rhombex.core.design import Design
from rhombex.core.edits import Set
from rhombex.core.plain import DesignError
from rhombex.core.workshop.paced import PacedPrint
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stored import read_stored
from rhombex.store import designs as module
from rhombex.store.database import open_database
from rhombex.store.designs import Designs, NotThere, Unreadable
from rhombex.store.folder import claim
from rhombex.store.trouble import CannotOpen, CannotWrite, explain
from rhombex.store.workshops import Workshops
from tests.store.older import first_shelf


@pytest.fixture
def shelf(tmp_path: Path) -> Designs:
    return Designs(tmp_path / "rhombex.db")


def spoil(shelf: Designs, id: str, document: str) -> None:
    """Put another document in place of the one a design stands at, as damage or a newer Rhombex would."""
    with shelf.engine.connect() as c:
        c.execute(
            text(
                "UPDATE revision SET document = :d WHERE design_id = :i AND number = (SELECT cursor FROM design WHERE id = :i)"
            ),
            {"d": document, "i": id},
        )
        c.commit()


def test_a_design_goes_into_the_bin_and_comes_back(shelf: Designs, wren: Design) -> None:
    a, b = shelf.create(wren), shelf.create(wren)
    shelf.discard(a.id)
    on_shelf, binned = shelf.shelf()
    assert ([x.id for x in on_shelf], [(x.id, x.days_left) for x in binned]) == ([b.id], [(a.id, 30)])
    with pytest.raises(NotThere, match="in the bin"):
        shelf.state(a.id)
    assert shelf.names() == [(b.id, "Wren")]
    shelf.restore(a.id)
    assert shelf.state(a.id).design == wren and len(shelf.revisions(a.id)) == 1
    with pytest.raises(NotThere, match="in the bin"):
        shelf.destroy(a.id)  # only what is in the bin can be deleted for good


def test_the_bin_is_emptied_by_hand_or_after_thirty_days(
    shelf: Designs, wren: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    a, b, c = (shelf.create(wren) for _ in range(3))
    for x in (a, b):
        shelf.discard(x.id)
    assert shelf.destroy(a.id) == 1
    now = module._now()
    monkeypatch.setattr(module, "_now", lambda: now + timedelta(days=29, hours=23))
    assert shelf.purge() == 0 and shelf.shelf()[1][0].days_left == 1
    monkeypatch.setattr(module, "_now", lambda: now + timedelta(days=30, minutes=1))
    assert shelf.purge() == 1 and shelf.shelf()[1] == []
    shelf.discard(c.id)
    assert shelf.destroy() == 1
    with shelf.engine.connect() as connection:  # revisions went along
        assert connection.execute(text("SELECT count(*) FROM revision")).scalar_one() == 0


@pytest.mark.parametrize(
    ("document", "said"),
    [
        ('{"schema_version": 99, "name": "Later"}', "newer Rhombex"),
        ('{"name": "Half', "not whole"),
        ('{"schema_version": 1, "name": "W", "shell": {"inner_mm": [1, 2, 3], "joint_mm": 9}}', "joint"),
        ("[" * 100_000, "not whole"),
        ("", "not whole"),
    ],
)
def test_an_unreadable_document_harms_only_itself(shelf: Designs, wren: Design, document: str, said: str) -> None:
    bad = shelf.create(wren)
    bad = shelf.edit(bad.id, bad.version, Set(path="shell.floor_mm", value=4))
    good = shelf.create(wren)
    spoil(shelf, bad.id, document)
    rows = {x.id: x for x in shelf.shelf()[0]}
    assert said in rows[bad.id].trouble and rows[good.id].trouble == ""
    with pytest.raises(Unreadable, match="cannot be read"):
        shelf.state(bad.id)
    with pytest.raises(Unreadable):
        shelf.edit(bad.id, bad.version, Set(path="shell.floor_mm", value=5))
    assert shelf.stored(bad.id) == ("Wren", document)
    assert shelf.printed_on() == {"bench-220": ["Wren", "Wren"]}
    assert shelf.printed_in(["pla-matt"]) == {}  # whatever stands in it breaks no question about the others
    # undo does not read what it leaves
    assert shelf.undo(bad.id, bad.version).design == wren
    assert shelf.shelf()[0][0].trouble == ""
    spoil(shelf, good.id, document)
    shelf.discard(good.id)
    assert said in shelf.shelf()[1][0].trouble


def test_a_revision_that_cannot_be_read_is_not_gone_to(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    spoil(shelf, s.id, "{")
    with pytest.raises(Unreadable):
        shelf.go_to(s.id, s.version, 1)
    assert shelf.kept(s.id) is None


def test_the_shelf_reads_only_what_it_does_not_know(
    shelf: Designs, wren: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    for _ in range(5):
        shelf.create(wren)
    read = []
    real = module._read
    monkeypatch.setattr(module, "_read", lambda d: read.append(d) or real(d))
    shelf.shelf()
    assert read == []
    spoil(shelf, shelf.names()[0][0], wren.model_dump_json() + " ")
    shelf.shelf()
    shelf.shelf()
    assert len(read) == 1


def test_all_revisions_are_reached_a_page_at_a_time(shelf: Designs, wren: Design) -> None:
    s = shelf.create(wren)
    for k in range(24):
        s = shelf.edit(s.id, s.version, Set(path="shell.floor_mm", value=3.01 + k / 100))
    seen: list[int] = []
    before = None
    while page := shelf.revisions(s.id, 10, before):
        seen += [x.number for x in page]
        before = page[-1].number
    assert seen == list(range(25, 0, -1))


def test_the_folder_is_this_accounts_own(tmp_path: Path) -> None:
    claim(tmp_path / "data", "http://localhost:1/").release()
    open_database(tmp_path / "data" / "rhombex.db")
    assert stat.S_IMODE((tmp_path / "data").stat().st_mode) == 0o700
    for name in ("rhombex.db", "server.lock"):
        assert stat.S_IMODE((tmp_path / "data" / name).stat().st_mode) == 0o600


def test_a_second_server_is_refused_with_the_firsts_address(tmp_path: Path) -> None:
    first = claim(tmp_path, "http://127.0.0.1:8137/")
    with pytest.raises(CannotOpen, match=r"serves this folder at http://127\.0\.0\.1:8137/"):
        claim(tmp_path, "http://127.0.0.1:8138/")
    first.release()
    claim(tmp_path, "http://127.0.0.1:8138/").release()


def test_a_second_server_leaves_finished_exports_alone(tmp_path: Path) -> None:
    held = claim(tmp_path, "http://127.0.0.1:8137/")
    (tmp_path / "exports").mkdir()
    (tmp_path / "exports" / "finished.zip").write_bytes(b"zip")
    p = subprocess.run(
        [sys.executable, "-m", "rhombex.cli", "serve", "--port", "0", "--data", str(tmp_path)],
        capture_output=True, text=True, timeout=60, check=False,
    )  # fmt: skip
    assert p.returncode == 2 and "8137" in p.stderr and "stop it first" in p.stderr
    assert (tmp_path / "exports" / "finished.zip").exists()
    held.release()


def _newer(path: Path) -> None:
    open_database(path).dispose()
    c = sqlite3.connect(path)
    c.execute("UPDATE alembic_version SET version_num = '9999'")
    c.commit()
    c.close()


def _another(path: Path) -> None:
    c = sqlite3.connect(path)
    c.execute("CREATE TABLE design (x)")
    c.commit()
    c.close()


def _damaged(path: Path) -> None:
    open_database(path).dispose()
    data = bytearray(path.read_bytes())
    data[200:3000] = b"\xff" * 2800
    path.write_bytes(data)


@pytest.mark.parametrize(
    ("spoil_file", "said"),
    [
        (
            lambda p: p.write_bytes(b"PK\x03\x04 no database, but long enough to be looked at" * 40),
            "not a Rhombex database",
        ),
        (_newer, "newer Rhombex"),
        (_another, "another program's database"),
        (_damaged, "damaged"),
        (lambda p: p.mkdir(), "a folder stands where"),
    ],
)
def test_a_folder_that_cannot_be_used_says_what_it_is(tmp_path: Path, spoil_file: object, said: str) -> None:
    path = tmp_path / "rhombex.db"
    spoil_file(path)  # type: ignore[operator]
    before = path.read_bytes() if path.is_file() else b""
    with pytest.raises(CannotOpen, match=said) as e:
        open_database(path)
    assert e.value.do and str(tmp_path) not in f"{e.value}{e.value.do}"
    assert not path.is_file() or path.read_bytes() == before


def test_a_file_where_the_folder_should_be(tmp_path: Path) -> None:
    (tmp_path / "data").write_text("x")
    with pytest.raises(CannotOpen, match="a file stands where the folder"):
        claim(tmp_path / "data", "")


def test_a_locked_and_a_read_only_database_are_told_apart(tmp_path: Path, wren: Design) -> None:
    path = tmp_path / "rhombex.db"
    shelf = Designs(path)
    s = shelf.create(wren)
    other = sqlite3.connect(path, isolation_level=None)
    other.execute("BEGIN EXCLUSIVE")
    with shelf.engine.connect() as c:
        c.exec_driver_sql("PRAGMA busy_timeout=50")  # the pooled connection that the edit takes
    with pytest.raises(CannotWrite, match="another program holds the database") as e:
        shelf.edit(s.id, s.version, Set(path="shell.floor_mm", value=4))
    assert "viewer" in e.value.do
    other.execute("ROLLBACK")
    with shelf.engine.connect() as c:
        c.exec_driver_sql("PRAGMA query_only=ON")
    with pytest.raises(CannotWrite, match="can only be read"):
        shelf.edit(s.id, s.version, Set(path="shell.floor_mm", value=4))
    with shelf.engine.connect() as c:
        c.exec_driver_sql("PRAGMA query_only=OFF")
    assert shelf.edit(s.id, s.version, Set(path="shell.floor_mm", value=4)).revision == 2


@pytest.mark.parametrize(
    ("e", "said"),
    [
        (OSError(28, "No space left on device"), "disk is full"),
        (OSError(30, "Read-only file system"), "can only be read"),
        (PermissionError(13, "Permission denied", "/home/x/data"), "may not write"),
        (OSError(5, "Input/output error"), "does not answer"),
    ],
)
def test_the_systems_own_errors_are_told_in_words(e: OSError, said: str) -> None:
    words, do = explain(e)
    assert said in words and do and "/home" not in words + do


def test_a_full_disk_for_own_meshes(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from rhombex.store.shapes import Shapes

    shapes = Shapes(tmp_path / "s")

    def full(_fd: int) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(CannotWrite, match="disk is full"):
        shapes.put("0" * 32, b"x")
    assert list((tmp_path / "s").iterdir()) == []


def test_a_shelf_of_the_first_schema_is_brought_along(tmp_path: Path, wren: Design) -> None:
    """A folder as the first landed version left it: one table of designs, one of revisions, documents of any state."""
    path = tmp_path / "rhombex.db"
    documents = {"a" * 12: wren.model_dump_json(), "b" * 12: "{", "c" * 12: json.dumps({"printer": "attic"})}
    first_shelf(path, {id: [document] for id, document in documents.items()})
    shelf = Designs(path)
    assert [bool(x.trouble) for x in shelf.shelf()[0]] == [False, True, True]
    assert shelf.printed_on() == {"bench-220": ["Old"], "": ["Old"], "attic": ["Old"]}
    assert shelf.state("a" * 12).design == wren


def test_one_bad_entry_of_the_workshop_harms_only_itself(shelf: Designs) -> None:
    shops = Workshops(shelf.engine)
    now = shops.note("bench-220", PacedPrint(what="good", planned_s=3600, real_s=3700)).workshop
    data = json.loads(now.model_dump_json())
    data["printers"][1]["paced"].append({"what": "bad", "planned_s": -3, "real_s": 1})
    data["printers"][0]["nozzle_mm"] = 0
    data["spools"][2]["left_g"] = "much"
    data["novelty"] = {"of": "a newer Rhombex"}
    with shelf.engine.connect() as c:
        c.execute(text("UPDATE workshop SET document = :d"), {"d": json.dumps(data)})
        c.commit()
    version, kept = shops.read()
    assert [p.key for p in kept.printers] == ["bench-220", "bench-300"]
    assert [x.what for x in kept.printers[0].paced] == ["good"]
    assert len(kept.spools) == len(now.spools) - 1
    lost = shops.state().left_out
    assert len(lost) == 4 and any("paced" in x for x in lost) and any("novelty" in x for x in lost)
    # the next change goes through, and what could not be read is kept beside
    shops.write(version, kept)
    assert shops.state().left_out == ()
    with shelf.engine.connect() as c:
        aside = c.execute(text("SELECT what, document FROM aside")).one()
    assert "version 1" in aside[0] and json.loads(aside[1]) == data


@pytest.mark.parametrize("document", ["", "{", "[]", "{}", '{"printers": []}', '{"printers": 7}', "null"])
def test_a_workshop_that_cannot_be_read_at_all_gives_way_to_the_sample(document: str) -> None:
    found, lost = read_stored(document)
    assert found == ARCHIVE_WORKSHOP and len(lost) == 1 and lost[0].startswith("the whole workshop")


def test_two_printers_of_one_key_are_not_both_lost() -> None:
    data = json.loads(ARCHIVE_WORKSHOP.model_dump_json())
    data["printers"].append(data["printers"][0] | {"name": "Twin"})
    found, lost = read_stored(json.dumps(data))
    assert found == ARCHIVE_WORKSHOP and len(lost) == 1


def test_hours_that_are_a_slip_are_stopped_at_the_door() -> None:
    from rhombex.core.workshop.paced import checked

    assert checked(PacedPrint(what="x", planned_s=3600, real_s=3600 * 19))
    for planned, real in ((3600, 3600 * 21), (2, 0.5), (1e-300, 3600), (3600 * 21, 3600)):
        with pytest.raises(DesignError, match="cannot be"):
            checked(PacedPrint(what="x", planned_s=planned, real_s=real))


def test_a_copy_of_the_folder_is_a_shelf_of_its_own(shelf: Designs, wren: Design, tmp_path: Path) -> None:
    s = shelf.create(wren)
    shelf.close()
    (tmp_path / "copy").mkdir()
    shutil.copy(tmp_path / "rhombex.db", tmp_path / "copy")
    assert Designs(tmp_path / "copy" / "rhombex.db").state(s.id).design == wren
