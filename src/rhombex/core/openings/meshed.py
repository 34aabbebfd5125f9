"""How much of sheet of mesh is open to air: walls of it, and panes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from shapely import box, unary_union

from rhombex.core.case import Case
from rhombex.core.openings.opening import Meshed, Opening, outline
from rhombex.core.reference import val


def meshed(case: Case, openings: Sequence[Opening]) -> Iterator[Meshed]:
    """Every face that is closed by mesh, in its plain stretch beside what is cut into it, and every pane of mesh."""
    share = val("sheet.mesh.open")
    for part in case.parts:
        if part.sheet is None or part.sheet.material != "mesh":
            continue
        for name in part.sheet.faces:
            face = next((f for f in case.faces if f.id == name), None)
            if face is None or part.name not in {w.part for w in case.walls if w.face == name}:
                continue
            cut = unary_union([box(*outline(o)) for o in openings if o.face == name and part.name in o.parts])
            plain = box(*face.clear_mm).difference(cut).area
            yield Meshed(face=name, part=part.name, free_area_mm2=share * plain)
    for o in openings:
        if o.pane is not None and o.pane.material == "mesh" and o.parts:
            w, h = o.size_mm
            whole = w * h * (0.785398 if o.round else 1.0)
            yield Meshed(face=o.face, part=o.pane.part, free_area_mm2=share * whole)
