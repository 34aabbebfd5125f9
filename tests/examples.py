"""How often a property is tried. A module of its own: what a confined process imports must be small."""

from __future__ import annotations

import os


def examples(fuzzed: int) -> int:
    """How many examples a property is tried on: a fifteenth in the suite, all in `make fuzz`."""
    return fuzzed if os.environ.get("HYPOTHESIS_PROFILE") == "fuzz" else max(5, fuzzed // 15)
