"""Which part a component comes along with."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case


def carrier(case: Case, things: tuple[Thing, ...], t: Thing) -> str | None:
    """The wall that a component is fixed to, else what it stands on, else what its carrier stands on. None where there is none."""
    below = next((x for x in things if x.id == t.placement.on), None)
    if below is not None:
        return carrier(case, things, below)
    if t.face is not None:
        u, v = case.face(t.face).on(t.frame.origin) if case.faces else (0.0, 0.0)
        return next(iter(case.behind(t.face, u - 0.01, v - 0.01, u + 0.01, v + 0.01)), None)
    return next((m.part for m in case.mounts if m.of == t.id), case.footed or None)
