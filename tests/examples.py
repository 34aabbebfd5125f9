"""How often a property is tried. A module of its own: what a confined process imports must be small."""

from __future__ import annotations

import os


def examples(fuzzed: int, suite: int | None = None) -> int:
    """How many examples a property is tried on: all in `make fuzz`; in the suite a fifteenth, or as many as `suite` says."""
    if os.environ.get("HYPOTHESIS_PROFILE") == "fuzz":
        return fuzzed
    return max(5, fuzzed // 15) if suite is None else suite
