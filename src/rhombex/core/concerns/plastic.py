"""Where the plastic round a screw or a magnet comes from, so that there can be more of it."""

from __future__ import annotations

from math import ceil

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Remedy
from rhombex.core.edits import Set

_BARS = {"beam_mm": "beams", "post_mm": "posts"}  # what of a construction they run in


def more_plastic(a: Analysis, short_mm: float) -> tuple[Remedy, ...]:
    """What makes the plastic round those of the case `short_mm` wider: bosses as wide as the rule says where a hand chose them, or the bars that they run in."""
    if a.design.shell.boss_od_mm is not None:
        return (Remedy(label="Let the rule size the bosses", edits=(Set(path="shell.boss_od_mm", value=None),)),)
    for field, word in _BARS.items():
        wide = getattr(a.design.shell.construction, field, None)
        if wide is not None:
            more = ceil((wide + short_mm) * 10 - 1e-6) / 10
            edit = Set(path=f"shell.construction.{field}", value=more)
            return (Remedy(label=f"Make the {word} {more:g} mm", edits=(edit,)),)
    return ()
