"""Posts of a component that stand in what hangs under it: thinner ones do not."""

from __future__ import annotations

from math import hypot

from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.bench.gaps import hard
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Part
from rhombex.core.design import Design, OwnJoint
from rhombex.core.edits import Edit, PutJoint
from rhombex.core.faults import Faults
from rhombex.core.plain import DesignError
from rhombex.core.shell.mounts import mounts_of

EPS = 1e-6


THINNER = "on thinner posts, their threads cut in plastic"


def thinner(a: Analysis, design: Design, id: str) -> tuple[Edit, ...]:
    """Threads cut in plastic for a component whose posts would stand in it, and do not so: nothing where they do not anyway, or do all the same. Tried on
    the posts alone, which stand on the same floor."""
    floor = next((p for m in a.case.mounts if m.of == id for p in a.case.parts if p.name == m.part), None)
    if floor is None:
        return ()
    cut = PutJoint(joint=OwnJoint(of=f"posts/{id}", holding="cut in plastic"))
    try:
        changed = apply(design, cut)
    except DesignError:
        return ()
    return (cut,) if _met(a, design, id, floor) and not _met(a, changed, id, floor) else ()


def _met(a: Analysis, design: Design, id: str, floor: Part) -> bool:
    things = arrange(design)
    none: tuple[Mount, ...] = ()
    mounts = Faults().attempt(
        "stage", "posts", lambda: mounts_of(design, a.printer, things, floor.name, floor.sheet is not None), none
    )
    return any(_in(m, t) for t in things if t.id == id for m in mounts if m.of == id)


def _in(m: Mount, t: Thing) -> bool:
    """Whether a post stands in a solid of its component."""
    (x, y), r = m.at, m.od_mm / 2
    for s in hard(t):
        lo, hi = s.box.lo, s.box.hi
        if lo[2] < m.box.hi[2] - EPS and hi[2] > EPS:
            aside = hypot(max(lo[0] - x, 0.0, x - hi[0]), max(lo[1] - y, 0.0, y - hi[1]))
            if aside < r - EPS:
                return True
    return False
