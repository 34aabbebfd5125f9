"""What is cut into a part: openings, recesses, seats and screws of panes, and vents, each as deep as the part's wall is there."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.geometry.recipe import Solid, circle, rect, through
from rhombex.core.openings.opening import Opening, Openings, opening_loop, pane_loop, vent_loops
from rhombex.core.space import Frame

OVER = 1.0  # tools run this far past the faces they cut
PANE_OVER = 0.05  # and those of what a pane closes, as large as they are, past the inside: posts may stand near


def tools(case: Case, openings: Openings, part: str) -> tuple[Solid, ...]:
    """The tools for one part of a case."""
    deep = {w.face: w.depth_mm + OVER for w in case.walls if w.part == part}
    out: list[Solid] = []
    for o in openings.openings:
        if o.pane is not None and o.pane.part == part:
            deep[o.face] = o.pane.to_mm + OVER
            out += [
                through(
                    [circle(*at, o.pane.own_hole_mm)], case.face(o.face).frame, -deep[o.face], -o.pane.from_mm + OVER
                )
                for at in o.pane.screws
            ]
    for o in openings.openings:
        if part in o.parts:
            frame = case.face(o.face).frame
            end = deep[o.face] - (OVER - PANE_OVER if o.pane is not None else 0.0)
            out.append(through([opening_loop(o)], frame, -end, OVER - o.from_mm))
            if o.recess is not None:
                out.append(_recess(o, frame))
            if o.pane is not None and o.pane.from_mm < deep[o.face] - OVER:
                out.append(through([pane_loop(o, o.pane.seat_mm)], frame, -end, -o.pane.from_mm))
            if o.pane is not None:
                out += [through([circle(*at, o.pane.hole_mm)], frame, -deep[o.face], OVER) for at in o.pane.screws]
    for v in openings.vents:
        if part in v.parts and v.holes:
            out.append(through(vent_loops(v), case.face(v.face).frame, -deep[v.face], OVER))
    return tuple(out)


def _recess(o: Opening, frame: Frame) -> Solid:
    assert o.recess is not None
    (w, h), (u, v) = o.recess.size_mm, o.at_mm
    loop = circle(u, v, w) if o.round else rect(u - w / 2, v - h / 2, u + w / 2, v + h / 2)
    return through([loop], frame, -o.from_mm - o.recess.depth_mm, OVER - o.from_mm)
