"""Plant faults one at a time and see whether the tests find them: `python scripts/mutants.py [first] [last]`.

The faults are kept in `tests/planted.toml`: file, what stands there, what is put in its place, and the tests that should find it. The work is done in
a copy of the checkout, so that nothing of it is left behind. Prints each survivor, and the share that was found.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
import tomllib
from pathlib import Path

ROOT = Path(__file__).parents[1]


def main(first: int, last: int | None) -> int:
    planted = tomllib.loads((ROOT / "tests" / "planted.toml").read_text())["fault"][first:last]
    found, survived = 0, []
    with tempfile.TemporaryDirectory() as room:
        copy = Path(room) / "copy"
        shutil.copytree(
            ROOT, copy, ignore=shutil.ignore_patterns(".git", ".venv", "node_modules", "data", ".hypothesis")
        )
        env = {**os.environ, "PYTHONPATH": str(copy / "src"), "CI": "true"}
        for k, fault in enumerate(planted, first):
            file = copy / "src" / "rhombex" / fault["file"]
            text = file.read_text()
            if text.count(fault["old"]) != 1:
                raise SystemExit(
                    f"fault {k}: {fault['old']!r} stands {text.count(fault['old'])} times in {fault['file']}"
                )
            file.write_text(text.replace(fault["old"], fault["new"]))
            began = time.monotonic()
            tests = [str(copy / "tests" / t) for t in fault["tests"]]
            run = subprocess.run(
                [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests],
                cwd=copy, env=env, capture_output=True, text=True, check=False,
            )  # fmt: skip
            file.write_text(text)
            if run.returncode == 1:
                found += 1
            else:
                survived.append(k)
            word = "found" if run.returncode == 1 else f"SURVIVED ({run.returncode})"
            print(f"{k:3} {word:9} {time.monotonic() - began:5.0f} s  {fault['file']}: {fault['why']}", flush=True)
    print(f"{found} of {len(planted)} found ({found / len(planted):.0%}); survivors: {survived}")
    return 0 if found >= 0.85 * len(planted) else 1


if __name__ == "__main__":
    numbers = [int(x) for x in sys.argv[1:]]
    sys.exit(main(numbers[0] if numbers else 0, numbers[1] if len(numbers) > 1 else None))
