"""How sure a size is."""

from __future__ import annotations

from rhombex.core.parts.component import Mount, Port, Solid
from rhombex.core.reference import val


def sure_of(x: Solid | Mount | Port) -> float:
    """Half-width in mm that holds in 95 of 100: as measured, or the usual one of a doubted value; 0 where it is taken as known."""
    if x.sure_mm is not None:
        return x.sure_mm
    return val("measuring.sure.doubtful") if x.mark == "doubtful" else 0.0
