"""Kills at random moments: `python trials/kills.py 1000 [seed]`. Prints what was lost, and a closing line with counts. With
`migrations` at the end it is folders of the first schema that are killed while they are brought along."""

from __future__ import annotations

import json
import os
import shutil
import signal
import sqlite3
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable
from functools import partial
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

from rhombex.demo.scenario import wren
from rhombex.store.database import migrate
from tests.store.older import first_shelf, not_brought_along
from tests.store.writer import KINDS, missing, work


def killed(folder: Path, kind: str, seed: int, after_s: float, at_start: bool) -> list[dict[str, object]]:
    """As in the suite, but forked from this process, which has everything imported: a kill takes no seconds then."""
    ours, theirs = os.pipe()
    pid = os.fork()
    if pid == 0:
        os.close(ours)
        try:
            for done in work(folder, kind, seed):
                os.write(theirs, (json.dumps(done) + "\n").encode())
        finally:
            os._exit(1)
    os.close(theirs)
    data = b""
    if not at_start:
        while b"\n" not in data and (got := os.read(ours, 65536)):
            data += got
    time.sleep(after_s)
    os.kill(pid, signal.SIGKILL)
    while got := os.read(ours, 65536):
        data += got
    os.waitpid(pid, 0)
    os.close(ours)
    return [json.loads(x) for x in data.decode().splitlines(keepends=True) if x.endswith("\n")]


def main(n: int, seed: int) -> None:
    r = Random(seed)
    count: Counter[str] = Counter()
    said: list[dict[str, object]] = []
    room = Path(tempfile.mkdtemp())
    for k in range(n):
        if k % 20 == 0:  # a fresh folder now and then: its making and migration are killed too
            shutil.rmtree(room)
            room = Path(tempfile.mkdtemp())
            said = []
        kind = r.choice(KINDS)
        at_start = k % 20 < 3 or r.random() < 0.1  # while the folder is made and migrated
        after = r.uniform(0.0, 0.35) if at_start else r.uniform(0, 4) if kind == "exports" else r.uniform(0, 0.3)
        fresh = killed(room, kind, seed * 100_000 + k, after, at_start)
        said += fresh
        count["acknowledged"] += len(fresh)
        count[f"killed in {kind}"] += 1
        wrong = _apart(partial(missing, room, said))
        assert isinstance(wrong, list)
        for w in wrong:
            print("LOST", k, kind, w, flush=True)
        count["lost"] += len(wrong)
        if k % 50 == 0:
            print(k, dict(count), flush=True)
    shutil.rmtree(room)
    print("kills", n, dict(count))


def _apart(work: Callable[[], object]) -> object:
    """What work returns in a child: this process never opens a database itself, so that no lock of SQLite's is inherited."""
    ours, theirs = os.pipe()
    pid = os.fork()
    if pid == 0:
        os.write(theirs, json.dumps(work()).encode())
        os._exit(0)
    os.close(theirs)
    data = b""
    while got := os.read(ours, 65536):
        data += got
    os.close(ours)
    os.waitpid(pid, 0)
    return json.loads(data)


def _timed(path: Path) -> float:
    began = time.perf_counter()
    migrate(path)
    return time.perf_counter() - began


def _stands(path: Path) -> list[str]:
    return [x for (x,) in sqlite3.connect(path).execute("SELECT version_num FROM alembic_version")]


def migrations(n: int, seed: int) -> None:
    """A folder of 300 designs of the first schema, killed while it is brought along; then looked at and let through."""
    r = Random(seed)
    room = Path(tempfile.mkdtemp())
    old = {f"{k:012}": [wren().model_dump_json()] * r.randint(1, 4) for k in range(300)}
    _apart(lambda: first_shelf(room / "old.db", old))
    shutil.copyfile(room / "old.db", room / "timed.db")
    whole_s = float(str(_apart(lambda: _timed(room / "timed.db"))))
    count: Counter[str] = Counter()
    for k in range(n):
        path = room / f"{k}.db"
        shutil.copyfile(room / "old.db", path)
        pid = os.fork()
        if pid == 0:
            try:
                migrate(path)
            finally:
                os._exit(0)
        time.sleep(r.uniform(0, 1.2 * whole_s))
        os.kill(pid, signal.SIGKILL)
        _, status = os.waitpid(pid, 0)
        count["through" if os.WIFEXITED(status) else "killed"] += 1
        count[f"stood at {_apart(partial(_stands, path))}"] += 1
        wrong = _apart(partial(not_brought_along, path, old))
        assert isinstance(wrong, list)
        for w in wrong:
            print("LOST", k, w, flush=True)
        count["lost"] += len(wrong)
        for left in room.glob(f"{k}.db*"):
            left.unlink()
    shutil.rmtree(room)
    print("kills in migration", n, f"of {whole_s * 1000:.0f} ms", dict(count))


if __name__ == "__main__":
    trial = migrations if sys.argv[-1] == "migrations" else main
    trial(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
