"""Everything that is cut into a case, in the order in which one thing makes room for the next."""

from __future__ import annotations

from functools import partial

from rhombex.core.air.need import AirNeed
from rhombex.core.bench.anchors import placed
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case import Case
from rhombex.core.design import OWN, Design
from rhombex.core.faults import Fault, Faults
from rhombex.core.openings.meshed import meshed
from rhombex.core.openings.opening import Opening, Openings, Vent
from rhombex.core.openings.own import own_opening
from rhombex.core.openings.ports import panel_openings, port_opening
from rhombex.core.openings.texts import face_text
from rhombex.core.openings.vents import grille, vent
from rhombex.core.parts import port_kinds
from rhombex.core.reference import val
from rhombex.core.workshop.printer import Printer

MOST_HOLES_IN_ALL = 8000


def place_openings(
    design: Design, printer: Printer, case: Case, things: tuple[Thing, ...], need: AirNeed
) -> tuple[Openings, list[Fault]]:
    """Openings for every needed port and panel component, grilles for fans, vent fields sized by the heat; and what of it could
    not be made."""
    faults = Faults()
    openings: list[Opening] = []
    if not case.walls:  # nothing stands round the components that could be cut open
        return Openings(openings=(), vents=()), []
    open_ = wanted_ports(design)
    owned: list[Opening] = []
    for own in sorted(design.own_openings, key=lambda x: x.pane is None):  # plates before what is cut into them
        a_hole = partial(own_opening, design, printer, case, things, own, tuple(owned))
        cut_out = faults.attempt("stage", f"the opening {own.name}", a_hole, None)
        owned += [cut_out] if cut_out is not None else []
    order = {f"{OWN}{x.id}": k for k, x in enumerate(design.own_openings)}
    owned.sort(key=lambda o: order[o.id])
    for t in things:
        for p in t.ports:
            if p.ref in open_ and port_kinds()[p.port.kind].outside:
                one = partial(port_opening, design, printer, case, t, p, tuple(owned))
                made = faults.attempt("stage", f"the opening for {p.name} of {t.name}", one, None)
                if made is not None and (
                    made.parts or case.face(made.face).whole
                ):  # where no wall is, it is open anyhow
                    openings.append(made)
        if t.face is not None:
            panel = partial(panel_openings, design, printer, case, t)
            none: list[Opening] = []
            round_ones = faults.attempt("stage", f"the openings for {t.name}", panel, none)
            openings += [o for o in round_ones if o.parts or case.face(o.face).whole]
    openings += owned
    across = val("air.air.vent_hole")
    web = max(val("air.air.vent_web"), val("printing.feature.web_lines") * case.line_mm)
    grilles: list[Vent] = []
    for t in things:
        if t.face is not None and t.component.air and case.wall_at(t.face, t.frame.origin):
            in_front = partial(grille, case, t, openings, across, web)
            screen = faults.attempt("stage", f"the grille of {t.name}", in_front, None)
            grilles += [screen] if screen is not None else []
    vents: list[Vent] = []
    holes = sum(len(g.holes) for g in grilles)
    fields = [v for v in design.vents if case.face(v.face).whole]  # where no wall is, air goes anyhow
    following = [v for v in fields if v.follow_heat]
    total = need.vents_mm2
    of_mesh = tuple(meshed(case, openings))
    total -= sum(m.free_area_mm2 for m in of_mesh)
    for field in (*(v for v in fields if not v.follow_heat), *following):
        share = None
        if field.follow_heat:
            left = total - sum(v.free_area_mm2 for v in vents)
            share = max(0.0, left) / max(1, len(following) - sum(v.follows_heat for v in vents))
        at = placed(case.face(field.face), field, things)
        cut = partial(vent, case, field, at, openings, (*grilles, *vents), share, across, web)
        made_vent = faults.attempt("stage", f"the vents {field.id}", cut, None)
        if made_vent is None:
            continue
        holes += len(made_vent.holes)
        if holes > MOST_HOLES_IN_ALL:
            faults.note("stage", f"the vents {field.id}", f"with them the case has more than {MOST_HOLES_IN_ALL} holes")
            break
        vents.append(made_vent)
    vents += grilles
    sunk = [
        faults.attempt("stage", f"the text {t.text}", partial(face_text, design, printer, case, things, t), None)
        for t in design.texts
    ]
    texts = tuple(t for t in sunk if t is not None)
    return Openings(openings=tuple(openings), vents=tuple(vents), meshed=of_mesh, texts=texts), faults.found
