"""What is cut into a part: openings, recesses, seats and screws of panes, and vents, each as deep as the part's wall is there."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.design import OWN
from rhombex.core.geometry.recipe import Solid, circle, rect, through
from rhombex.core.openings.opening import Opening, Openings, opening_loop, outline, pane_loop, vent_loops
from rhombex.core.openings.texts import engraved
from rhombex.core.space import Frame

OVER = 1.0  # tools run this far past the faces they cut
PANE_OVER = 0.05  # and those of what a pane closes, as large as they are, past the inside: posts may stand near


def tools(case: Case, openings: Openings, part: str) -> tuple[Solid, ...]:
    """The tools for one part of a case."""
    panes: dict[str, float] = {}
    out: list[Solid] = []
    for o in openings.openings:
        if o.pane is not None and o.pane.part == part:
            panes[o.face] = o.pane.to_mm + OVER
            out += [
                through(
                    [circle(*at, o.pane.own_hole_mm)], case.face(o.face).frame, -panes[o.face], -o.pane.from_mm + OVER
                )
                for at in o.pane.screws
            ]
    for o in openings.openings:
        if part in o.parts:
            frame = case.face(o.face).frame
            deep = panes.get(o.face) or _deep(case, part, o.face, outline(o), not o.id.startswith(OWN))
            end = deep - (OVER - PANE_OVER if o.pane is not None else 0.0)
            out.append(through([opening_loop(o)], frame, -end, OVER - o.from_mm))
            if o.recess is not None:
                out.append(_recess(o, frame))
            if o.pane is not None and o.pane.from_mm < deep - OVER:
                out.append(through([pane_loop(o, o.pane.seat_mm)], frame, -end, -o.pane.from_mm))
            if o.pane is not None:
                out += [through([circle(*at, o.pane.hole_mm)], frame, -deep, OVER) for at in o.pane.screws]
    for v in openings.vents:
        if part in v.parts and v.holes:
            (u, w), (wide, high) = v.at_mm, v.size_mm
            field = (u - wide / 2, w - high / 2, u + wide / 2, w + high / 2)
            deep = panes.get(v.face) or _deep(case, part, v.face, field, False)
            out.append(through(list(vent_loops(v)), case.face(v.face).frame, -deep, OVER))
    for t in openings.texts:
        if t.part == part:
            out.append(engraved(t, case.face(t.face).frame, OVER))
    return tuple(out)


def _deep(case: Case, part: str, face: str, on_face: tuple[float, float, float, float], of_port: bool) -> float:
    """How deep a tool goes that opens a rectangle of a face in one of its parts: through the thickest stretch of it that is met there. Before a port only
    through the wall, behind which its connector is: a post that it grazes stays."""
    u0, v0, u1, v1 = on_face
    mine = [w for w in case.walls if w.part == part and w.face == face]
    met = [w for w in mine if u1 > w.lo_mm[0] and u0 < w.hi_mm[0] and v1 > w.lo_mm[1] and v0 < w.hi_mm[1]]
    if of_port or not met:
        return (mine[-1].depth_mm if mine else 0.0) + OVER
    return max(w.depth_mm for w in met) + OVER


def _recess(o: Opening, frame: Frame) -> Solid:
    assert o.recess is not None
    (w, h), (u, v) = o.recess.size_mm, o.at_mm
    loop = circle(u, v, w) if o.round else rect(u - w / 2, v - h / 2, u + w / 2, v + h / 2)
    return through([loop], frame, -o.from_mm - o.recess.depth_mm, OVER - o.from_mm)
