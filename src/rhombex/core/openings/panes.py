"""Panes: bought sheet that closes an opening of one's own. It lies in a seat that is cut into the wall from inside, glued or taped all round."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from rhombex.core.case import Built, Case, Part, Sheet
from rhombex.core.design import Design, OwnOpening
from rhombex.core.faults import Faults
from rhombex.core.fit.allowance import fit
from rhombex.core.geometry.recipe import Solid, through
from rhombex.core.openings.opening import Opening, Openings, PaneSeat, pane_loop
from rhombex.core.reference import val
from rhombex.core.space import Vec2
from rhombex.core.workshop.printer import Printer

PANE = "pane-"


def pane_seat(
    design: Design, printer: Printer, case: Case, o: OwnOpening, hole_mm: Vec2, behind: tuple[str, ...]
) -> PaneSeat | None:
    """Where the pane of an opening in parts lies: as deep in the wall as it is thick, so that it ends with the wall's inside, but behind a web of so many
    lines as hold; a pane that is thicker than what is left stands out into the room. Behind bought sheet it has no seat: it lies on its inside."""
    if o.pane is None:
        return None
    wall, thick = case.face(o.face).thick_mm, o.pane.thick_mm
    web = val("printing.feature.web_lines") * case.line_mm
    lip = wall if any(case.part(p).sheet for p in behind) else min(wall, max(web, wall - thick))
    size: Vec2 = (hole_mm[0] + 2 * o.pane.overlap_mm, hole_mm[1] + 2 * o.pane.overlap_mm)
    gap = fit(design, printer, "port_opening", behind, max(size))
    return PaneSeat(
        material=o.pane.material,
        thick_mm=thick,
        size_mm=size,
        seat_mm=(size[0] + 2 * gap.value, size[1] + 2 * gap.value),
        from_mm=lip,
        to_mm=lip + thick,
        allowance=gap,
    )


def with_panes(built: Built, openings: Openings, faults: Faults) -> Built:
    """The case with a part for each pane; it comes off with the wall that it is in."""
    parts, bodies = list(built.case.parts), dict(built.bodies)
    for o in openings.openings:
        if o.pane is None or not o.parts:
            continue
        name = f"{PANE}{o.id.split('/', 1)[1]}"
        if name in bodies:
            faults.note("part", name, "another part of the case has the same name")
            continue
        face, seat, host = built.case.face(o.face), o.pane, built.case.part(o.parts[0])
        loop = pane_loop(o, seat.size_mm)
        w, h = seat.size_mm
        size = {"x": (seat.thick_mm, w, h), "y": (w, seat.thick_mm, h), "z": (w, h, seat.thick_mm)}
        axis = "xyz"[next(i for i in range(3) if abs(face.frame.z[i]) > 0.5)]
        sheet = Sheet(material=seat.material, thick_mm=seat.thick_mm, face=o.face, outline=loop)
        parts.append(Part(name=name, size_mm=size[axis], down=host.down, plates=(), put_on=host.put_on, sheet=sheet))
        bodies[name] = partial(_body, built.case, o, seat)
    return replace(built, case=built.case.model_copy(update={"parts": tuple(parts)}), bodies=bodies)


def _body(case: Case, o: Opening, seat: PaneSeat, tools: tuple[Solid, ...]) -> Solid:
    """The pane in its place; nothing is cut into it."""
    return through([pane_loop(o, seat.size_mm)], case.face(o.face).frame, -seat.to_mm, -seat.from_mm)


def own_of(design: Design, part: str) -> OwnOpening | None:
    """The opening whose pane a part is, if it is one."""
    return next((o for o in design.own_openings if o.pane is not None and f"{PANE}{o.id}" == part), None)
