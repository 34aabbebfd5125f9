"""The screws of what is screwed to a wall: into the thread of a supply, or with a nut through a frame, a flange or a tab."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.fit.joints import screw_mm, stock_mm
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.trail import Frozen


class FaceScrew(Frozen):
    """How a component is screwed to its wall. `length_mm`: None where no stock screw does; `needs_mm`: from and to which length would.
    `passed_mm`: of the component, behind the wall's inside (0 for a flange outside); `nut_mm`: what a nut takes, 0 without one."""

    thread: Thread
    count: int
    length_mm: float | None
    needs_mm: tuple[float, float]
    wall_mm: float
    passed_mm: float
    nut_mm: float


def nut_mm(thread: str) -> float:
    """What a nut takes of a screw, mm: its height and a thread proud. ISO 4032, style 1: about 0.8 d, 2.4 for M3."""
    return 0.8 * val(f"fasteners.{thread}.d") + 0.5


def face_screw(t: Thing, case: Case) -> FaceScrew | None:
    """The screws of a component on a face; None where it has none."""
    if t.component.mounting != "panel" or not t.mounts:
        return None
    wall = case.face(t.face).thick_mm if t.face and case.faces else 0.0
    thread = t.mounts[0].mount.thread
    if t.component.family == "supply":
        least, most = val(f"fasteners.{thread}.d"), val("fasteners.rule.into_component")
        length = screw_mm(thread, wall, least, most)
        return FaceScrew(
            thread=thread,
            count=len(t.mounts),
            length_mm=length,
            needs_mm=(wall + least, wall + most),
            wall_mm=wall,
            passed_mm=most,
            nut_mm=0.0,
        )
    outside = max((s.hi[2] for s in t.component.solids), default=0.0)
    if t.component.air is not None:
        inside, outside = max(-s.lo[2] for s in t.component.solids), 0.0
    else:
        inside = 0.0 if outside else val("fasteners.rule.tab")
    nut = nut_mm(thread)
    need = wall + inside + outside + nut
    length = next((x for x in stock_mm(thread) if x >= need - 1e-9), None)
    return FaceScrew(
        thread=thread,
        count=len(t.mounts),
        length_mm=length,
        needs_mm=(need, need + 5.0),
        wall_mm=wall + outside,
        passed_mm=inside,
        nut_mm=nut,
    )
