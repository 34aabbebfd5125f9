"""Kills at random moments: `python trials/kills.py 1000 [seed]`. Prints what was lost, and a closing line with counts."""

from __future__ import annotations

import shutil
import sys
import tempfile
from collections import Counter
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.store.test_kills import killed
from tests.store.writer import KINDS, missing


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
        after = r.uniform(0.7, 1.6) if at_start else r.uniform(0, 4) if kind == "exports" else r.uniform(0, 0.3)
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
