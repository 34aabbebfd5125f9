"""Panes: bought sheet, or a printed plate with the openings of ports, that closes an opening of one's own. It lies in a seat that is cut into the wall
from inside, glued or taped all round, or held by screws with nuts."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import get_args

from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.case import Built, Case
from rhombex.core.case.parts import Part, Sheet
from rhombex.core.design import Design, Direction, OwnOpening
from rhombex.core.faults import Faults
from rhombex.core.fit.allowance import fit, round_hole
from rhombex.core.fit.joints import clearance_mm, nut_corners_mm, nut_mm
from rhombex.core.geometry.recipe import Difference, Solid, through
from rhombex.core.openings.opening import Opening, Openings, PaneSeat, pane_loop
from rhombex.core.openings.pane_screws import SCREW, screw_places
from rhombex.core.reference import val
from rhombex.core.space import Box, Vec2, normal_axis
from rhombex.core.workshop.printer import Printer

PANE, PLATE = "pane-", "plate-"


def pane_seat(
    design: Design,
    printer: Printer,
    case: Case,
    things: tuple[Thing, ...],
    o: OwnOpening,
    at: Vec2,
    hole_mm: Vec2,
    behind: tuple[str, ...],
) -> PaneSeat | None:
    """Where the pane of an opening in parts lies: as deep in the wall as it is thick, so that it ends with the wall's inside, but behind a web of so many
    lines as hold; a pane that is thicker than what is left stands out into the room. Behind bought sheet it has no seat: it lies on its inside."""
    if o.pane is None:
        return None
    wall, thick = case.face(o.face).thick_mm, o.pane.thick_mm
    web = val("printing.feature.web_lines") * case.line_mm
    lip = wall if any(case.part(p).sheet for p in behind) else min(wall, max(web, wall - thick))
    beside, over = o.pane.overlaps_mm if o.shape != "round" else (o.pane.overlap_mm,) * 2
    size: Vec2 = (hole_mm[0] + 2 * beside, hole_mm[1] + 2 * over)
    gap = fit(design, printer, "port_opening", behind, max(size))
    name = f"{PLATE if o.pane.material == 'printed' else PANE}{o.id}"
    free = clearance_mm(SCREW)
    screwed = o.pane.held == "screwed"
    return PaneSeat(
        part=name,
        material=o.pane.material,
        thick_mm=thick,
        size_mm=size,
        seat_mm=(size[0] + 2 * gap.value, size[1] + 2 * gap.value),
        from_mm=lip,
        to_mm=lip + thick,
        allowance=gap,
        screws=screw_places(
            case, things, case.face(o.face), at, hole_mm, (beside, over), o.shape == "round", lip + thick
        )
        if screwed
        else (),
        hole_mm=free + round_hole(design, printer, behind, normal_axis(o.face), free, case.sides)[0].value,
        own_hole_mm=free
        + (
            round_hole(design, printer, (name,), normal_axis(o.face), free, {name: o.face})[0].value
            if o.pane.material == "printed"
            else 0.0
        ),
    )


def with_panes(built: Built, openings: Openings, faults: Faults) -> Built:
    """The case with a part for each pane; it comes off with the wall that it is in. One that is printed lies on its outside."""
    parts, bodies = list(built.case.parts), dict(built.bodies)
    for o in openings.openings:
        if o.pane is None or not o.parts:
            continue
        name = o.pane.part
        if name in bodies:
            faults.note("part", name, "another part of the case has the same name")
            continue
        face, seat, host = built.case.face(o.face), o.pane, built.case.part(o.parts[0])
        loop = pane_loop(o, seat.size_mm)
        w, h = seat.size_mm
        size = {"x": (seat.thick_mm, w, h), "y": (w, seat.thick_mm, h), "z": (w, h, seat.thick_mm)}
        axis = "xyz"[next(i for i in range(3) if abs(face.frame.z[i]) > 0.5)]
        sheet = None
        if seat.material != "printed":
            sheet = Sheet(material=seat.material, thick_mm=seat.thick_mm, face=o.face, outline=loop)
        down = next((d for d in get_args(Direction) if d == o.face), host.down) if sheet is None else host.down
        parts.append(Part(name=name, size_mm=size[axis], down=down, plates=(), put_on=host.put_on, sheet=sheet))
        bodies[name] = partial(_body, built.case, o, seat)
    return replace(built, case=built.case.model_copy(update={"parts": tuple(parts)}), bodies=bodies)


def _body(case: Case, o: Opening, seat: PaneSeat, tools: tuple[Solid, ...]) -> Solid:
    """The pane in its place."""
    whole = through([pane_loop(o, seat.size_mm)], case.face(o.face).frame, -seat.to_mm, -seat.from_mm)
    return Difference(whole, tools) if tools else whole


def nuts_of(case: Case, o: Opening, long_mm: float | None) -> list[PlacedSolid]:
    """The nuts of a pane's screws with the tips of these, as rounds, on its inside. `long_mm`: the screws', None where none serves."""
    if o.pane is None:
        return []
    r = nut_corners_mm(SCREW) / 2
    high = max(nut_mm(SCREW), (long_mm or 0.0) - o.pane.to_mm)
    frame, out = case.face(o.face).frame, []
    n = next(i for i in range(3) if abs(frame.z[i]) > 0.5)
    for u, v in o.pane.screws:
        box = frame.box(Box((u - r, v - r, -o.pane.to_mm - high), (u + r, v + r, -o.pane.to_mm)))
        out.append(PlacedSolid("nut of a plate", "body", box, n, 0.0))
    return out


def own_of(design: Design, part: str) -> OwnOpening | None:
    """The opening whose pane a part is, if it is one."""
    return next(
        (o for o in design.own_openings if o.pane is not None and part in (f"{PANE}{o.id}", f"{PLATE}{o.id}")), None
    )
