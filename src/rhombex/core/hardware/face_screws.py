"""The screws of what is screwed to a wall: into the thread of a supply, or with a nut through a frame, a flange or a tab."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.design import Design
from rhombex.core.fit.joints import nut_mm, screw_mm, stock_mm
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.shell.brackets import PRESSED
from rhombex.core.space import Box, hull
from rhombex.core.trail import Frozen


class FaceScrew(Frozen):
    """How a component is screwed to its wall. `length_mm`: None where no stock screw does; `needs_mm`: from and to which length would.
    `wall_mm`: of the case's wall; `outside_mm`: of a flange before it; `passed_mm`: of the component behind it, `needs` at most for a
    thread of its own; `nut_mm`: what a nut takes, 0 without one."""

    thread: Thread
    count: int
    length_mm: float | None
    needs_mm: tuple[float, float]
    wall_mm: float
    outside_mm: float
    passed_mm: float
    nut_mm: float


def face_screw(design: Design, t: Thing, case: Case) -> FaceScrew | None:
    """The screws of a component on a face; None where it has none, or is pressed to its wall by brackets, or held by slots."""
    if t.component.mounting != "panel" or not t.mounts or t.component.family == PRESSED or case.slotted(t.id):
        return None
    own = design.joint(f"face/{t.id}")
    pinned = own.screw_mm if own else None
    wall = case.face(t.face).thick_mm if t.face and case.faces else 0.0
    thread = t.mounts[0].mount.thread
    if t.component.family == "supply":
        least, most = val(f"fasteners.{thread}.d"), val("fasteners.rule.into_component")
        return FaceScrew(
            thread=thread,
            count=len(t.mounts),
            length_mm=pinned or screw_mm(thread, wall, least, most),
            needs_mm=(wall + least, wall + most),
            wall_mm=wall,
            outside_mm=0.0,
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
    return FaceScrew(
        thread=thread,
        count=len(t.mounts),
        length_mm=pinned or next((x for x in stock_mm(thread) if x >= need - 1e-9), None),
        needs_mm=(need, need + val("fasteners.rule.nut_over")),
        wall_mm=wall,
        outside_mm=outside,
        passed_mm=inside,
        nut_mm=nut,
    )


def tips_of(t: Thing, s: FaceScrew, case: Case) -> Iterator[Box]:
    """What of a component's screws stands out behind it, from the component on, with the nut on each; nothing of those without a nut."""
    if s.length_mm is None or not s.nut_mm or t.face is None:
        return
    face, r = case.face(t.face), val(f"fasteners.{s.thread}.d") / 2
    for m in t.mounts:
        u, v = face.on(m.at)
        ends = (face.thick_mm + s.passed_mm, s.length_mm - s.outside_mm)
        corners = [face.frame.point((u + x, v + y, -z)) for x in (-r, r) for y in (-r, r) for z in ends]
        yield hull([Box(p, p) for p in corners])
