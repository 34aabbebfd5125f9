"""The edit that draws the walls of a case round what is in it."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.fit import Tip
from rhombex.core.case import Case
from rhombex.core.design import Design
from rhombex.core.edits import FitCavity
from rhombex.core.hardware.face_screws import face_screw
from rhombex.core.reference import val


def walls_round(a: Analysis) -> FitCavity:
    """The edit that draws the walls of a case round its components, with room for the thickening of its rim, beside displays and behind the screws of
    what is fixed to a wall."""
    return drawn_round(a.design, a.things, a.case)


def drawn_round(design: Design, things: tuple[Thing, ...], case: Case) -> FitCavity:
    """The same, of a case that is not analysed."""
    base = {"joint": case.seams[0].at_mm if case.seams else 0.0, "floor": case.cavity.lo[2]}
    post = max((m.od_mm / 2 for m in case.mounts), default=0.0)
    return FitCavity(
        thicker=tuple(b.raised(-base[b.rides]) for b in case.bulges),
        pillar_mm=case.pillar_mm,
        beside_mm=min(case.beside_mm, 200.0),
        post_mm=min(post, 200.0),
        tips=tuple(_tips(design, things, case)),
    )


def _tips(design: Design, things: tuple[Thing, ...], case: Case) -> Iterator[Tip]:
    for t in things:
        screw = face_screw(design, t, case) if t.face is not None and case.faces else None
        if screw is None or screw.length_mm is None or not screw.nut_mm or t.face is None:
            continue
        deep = round(screw.length_mm - screw.outside_mm - case.face(t.face).thick_mm, 3)
        if deep > 0:
            yield Tip(of=t.id, deep_mm=deep, r_mm=val(f"fasteners.{screw.thread}.d") / 2)
