"""Random designs and what is made of them: `python trials/shapes.py COUNT SEED`. Prints what is otherwise than told."""

from __future__ import annotations

import sys
import time
import traceback
from collections import Counter
from pathlib import Path
from random import Random

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.made import broken, random_design


def main(count: int, seed: int) -> None:
    kinds: Counter[str] = Counter()
    began = time.perf_counter()
    for k in range(count):
        d = None
        try:
            d = random_design(Random(f"{seed}/{k}"))
            found = list(broken(d, ways_out=k % 4 == 0))
        except Exception as e:
            traceback.print_exc(limit=-3)
            found = [f"CRASHED {type(e).__name__}"]
        for x in found:
            print(f"{seed}/{k}: {x}", flush=True)
            kinds[" ".join(w for w in x.split() if w.isalpha())[:50]] += 1
        if d is not None and found:
            Path(f"/tmp/made-{seed}-{k}.json").write_text(d.model_dump_json())
    print(
        f"{count} designs in {time.perf_counter() - began:.0f} s: {sum(kinds.values())} otherwise than told {dict(kinds)}"
    )


main(int(sys.argv[1]), int(sys.argv[2]))
