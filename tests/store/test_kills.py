"""What was acknowledged is there after a kill at any moment and after the power went; a sample of `trials/kills.py`."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from random import Random

import pytest
from sqlalchemy import text

from rhombex.core.edits import Set
from rhombex.demo.scenario import wren
from rhombex.store.database import open_database
from rhombex.store.designs import Designs
from tests.store.older import first_shelf, not_brought_along
from tests.store.writer import KINDS, missing

ROOT = Path(__file__).parents[2]


def killed(folder: Path, kind: str, seed: int, words: int, after_s: float) -> list[dict[str, object]]:
    """Start the writer, kill it so long after so many of its words, and return all that it said: so many at least."""
    p = subprocess.Popen(
        [sys.executable, "-m", "tests.store.writer", str(folder), kind, str(seed)],
        stdout=subprocess.PIPE,
        text=True,
        cwd=ROOT,
    )
    assert p.stdout
    first = [p.stdout.readline() for _ in range(words)]
    time.sleep(after_s)
    os.kill(p.pid, signal.SIGKILL)
    lines = [*first, *p.stdout.read().splitlines(keepends=True)]
    p.wait()
    return [json.loads(x) for x in lines if x.endswith("\n")]


def test_a_kill_at_any_moment_loses_nothing_that_was_acknowledged(tmp_path: Path) -> None:
    r = Random(1)
    said: list[dict[str, object]] = []
    for k in range(2):  # one folder, killed again and again
        fresh = killed(tmp_path, r.choice(KINDS), k, words := r.randint(1, 5), r.uniform(0.0, 0.1))
        assert len(fresh) >= words
        said += fresh
        assert missing(tmp_path, said) == []


def test_a_kill_while_an_older_folder_is_brought_along_loses_nothing(tmp_path: Path) -> None:
    """Killed at moments spread over the whole of it, and at last let through; it is brought along whole or not at all."""
    old = {f"{k:012}": [wren().model_dump_json()] * 3 for k in range(120)}
    path = tmp_path / "rhombex.db"
    first_shelf(path, old)
    code = "import sys; from pathlib import Path; from rhombex.store.database import migrate; print('on', flush=True); migrate(Path(sys.argv[1]))"
    for after_s in (0.0, 0.05, 0.2):
        p = subprocess.Popen([sys.executable, "-c", code, path], stdout=subprocess.PIPE, text=True, cwd=ROOT)
        assert p.stdout and p.stdout.readline() == "on\n"
        time.sleep(after_s)
        p.kill()
        p.wait()
    assert not_brought_along(path, old) == []


@pytest.fixture
def disk(tmp_path: Path) -> Iterator[tuple[Path, Path]]:
    """A small disk of its own on a loop device: its image and where it is mounted. Skips where that may not be made."""
    image, room = tmp_path / "disk.img", tmp_path / "disk"
    room.mkdir()
    image.write_bytes(b"\0" * (48 << 20))
    made = shutil.which("mkfs.ext4") and subprocess.run(
        ["mkfs.ext4", "-q", str(image)], capture_output=True, check=False
    )
    if (
        not made
        or made.returncode
        or subprocess.run(["mount", "-o", "loop", image, room], capture_output=True, check=False).returncode
    ):
        pytest.skip("no loop device may be mounted here")
    yield image, room
    subprocess.run(["umount", "-l", room], check=False)


def test_what_was_acknowledged_outlives_the_power(disk: tuple[Path, Path], tmp_path: Path) -> None:
    """The block device is copied right after each acknowledgement, as if the power had gone then."""
    image, room = disk
    designs = Designs(room / "data" / "rhombex.db")
    s = designs.create(wren())
    for k in range(6):
        s = designs.edit(s.id, s.version, Set(path="shell.floor_mm", value=3 + k / 10))
        copy, there = tmp_path / f"copy{k}.img", tmp_path / f"copy{k}"
        there.mkdir()
        shutil.copyfile(image, copy)
        subprocess.run(["mount", "-o", "loop", copy, there], check=True)
        try:
            found = Designs(there / "data" / "rhombex.db")
            now = found.state(s.id)
            found.close()
            assert (now.revision, now.design.shell.floor_mm) == (s.revision, 3 + k / 10)
        finally:
            subprocess.run(["umount", "-l", there], check=False)
    designs.close()


def test_changes_are_written_through_before_they_are_acknowledged(tmp_path: Path) -> None:
    """Where no disk can be copied: SQLite is told to sync its log at every commit."""
    engine = open_database(tmp_path / "a.db")
    with engine.connect() as c:
        assert c.execute(text("PRAGMA synchronous")).scalar_one() == 2  # FULL, sqlite.org/pragma.html
        assert c.execute(text("PRAGMA journal_mode")).scalar_one() == "wal"


@pytest.mark.skipif(shutil.which("strace") is None, reason="strace tells the calls")
def test_the_log_and_own_meshes_are_synced_call_by_call(tmp_path: Path) -> None:
    trace = tmp_path / "calls"
    p = subprocess.Popen(
        ["strace", "-f", "-y", "-e", "trace=fsync,fdatasync,write", "-o", trace, sys.executable, "-m", "tests.store.writer", tmp_path / "d", "mixed", "3"],
        stdout=subprocess.PIPE,
        text=True,
        cwd=ROOT,
    )  # fmt: skip
    assert p.stdout
    said = [p.stdout.readline() for _ in range(12)]
    p.kill()
    p.wait()
    subprocess.run(["pkill", "-9", "-f", str(tmp_path / "d")], check=False)
    if not said[-1]:
        pytest.skip("strace may not trace here")
    synced: set[str] = set()
    acknowledged = 0
    for line in trace.read_text(errors="replace").splitlines():
        if "sync(" in line:
            synced |= {end for end in (".db-wal", ".part", "shapes") if end in line}
        elif "write(1<" in line and '\\"did\\"' in line:
            wanted = ".part" if "shape" in line else ".db-wal"
            assert wanted in synced, line
            synced.clear()
            acknowledged += 1
    assert acknowledged >= 10
