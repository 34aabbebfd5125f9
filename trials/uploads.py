"""Kills of a real server while files are uploaded over HTTP: `python trials/uploads.py 60 [seed]`."""

from __future__ import annotations

import shutil
import sys
import tempfile
from collections import Counter
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.web.uploader import killed_while_uploading, not_there


def main(n: int, seed: int) -> None:
    r = Random(seed)
    count: Counter[str] = Counter()
    said: list[tuple[str, str, str]] = []
    room = Path(tempfile.mkdtemp())
    for k in range(n):
        if k % 4 == 0:
            shutil.rmtree(room)
            room = Path(tempfile.mkdtemp())
            said = []
        fresh = killed_while_uploading(room, seed * 1000 + k, r.uniform(0.1, 3))
        said += fresh
        count.update(kind for kind, _, _ in fresh)
        for w in not_there(room, said):
            count["lost"] += 1
            print("LOST", k, w, flush=True)
    shutil.rmtree(room)
    print("kills while uploading", n, dict(count), "lost", count["lost"])


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]) if len(sys.argv) > 2 else 1)
