"""A screw from outside through a wall into what stands on its inside and lies on its side while it prints."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import Joint
from rhombex.core.case.parts import Part
from rhombex.core.constructions import Threaded
from rhombex.core.design import Design
from rhombex.core.shell.case_screw import case_screw
from rhombex.core.space import OUTWARD, Box, Vec2
from rhombex.core.workshop.printer import Printer


def wall_screw(
    design: Design,
    printer: Printer,
    case: Case,
    face: CaseFace,
    wall: Part,
    *,
    id: str,
    name: str,
    into: str,
    at: Vec2,
    od_mm: float,
    deep_mm: float,
    holding: Threaded,
    length_mm: float | None,
) -> Joint:
    """The screw `at` a place of a face, through `wall` into the part `into`, `deep_mm` behind the wall's inner side."""
    (u, v), r, inner, way = at, od_mm / 2, -face.thick_mm, OUTWARD[face.id]  # type: ignore[index]
    j = case_screw(
        design,
        printer,
        id=id,
        name=name,
        holds=wall.name,
        into=into,
        at=face.frame.point((u, v, inner)),
        along=(-way[0] + 0.0, -way[1] + 0.0, -way[2] + 0.0),
        boss=face.frame.box(Box((u - r, v - r, inner - deep_mm), (u + r, v + r, 0.0))),
        od_mm=od_mm,
        through_mm=face.thick_mm,
        sunk=False,
        inside=True,
        deep_mm=deep_mm,
        holding=holding,
        length_mm=length_mm,
        path="",
        opened=False,
        # what it comes into lies on its side: its holes run along the bed
        usual={**case.sides, into: "left" if abs(way[1]) > 0.5 else "front"},
    )
    return j.model_copy(update={"thread_path": "shell.post_thread", "screw_path": "", "rooted": True})
