"""Kills at random moments: `python trials/kills.py 1000 [seed]`. Prints what was lost, and a closing line with counts."""

from __future__ import annotations

import json
import os
import shutil
import signal
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

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
        wrong = missing(room, said)
        for w in wrong:
            print("LOST", k, kind, w, flush=True)
        count["lost"] += len(wrong)
        if k % 50 == 0:
            print(k, dict(count), flush=True)
    shutil.rmtree(room)
    print("kills", n, dict(count))


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
