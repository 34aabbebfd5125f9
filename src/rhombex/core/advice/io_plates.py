"""An I/O plate: the ports that a component has on one wall, on a printed plate of their own that is changed with the component."""

from __future__ import annotations

from math import ceil, floor

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.case.faces import CaseFace
from rhombex.core.design import SCREWED_OVERLAP_MM, OwnOpening, Pane
from rhombex.core.edits import Edit, PutOwnOpening
from rhombex.core.fit.allowance import fit
from rhombex.core.openings.fixed import fixed
from rhombex.core.openings.opening import outline
from rhombex.core.openings.pane_screws import screw_places, wanted
from rhombex.core.openings.tools import PANE_OVER
from rhombex.core.reference import val
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen

MARGIN_MM = 2.0  # of the plate shown round its ports; common practice
# how much of it lies on the wall beside its ports, and above and below: the first that finds room; screwed, then glued (common practice)
OVERLAPS_MM = tuple((x, y) for x in (8.0, 7.0, 5.0, 3.0) for y in (8.0, 7.0, 5.0, 3.0, 1.5) if y <= x)
MOST_OVERLAP_MM = OVERLAPS_MM[0][0]
MOST_THICK_MM = 3.0  # a plate need not be stiffer than a wall; common practice
LEAST_THICK_MM = 1.2  # three lines of a thin plate; common practice


class IoPlate(Frozen):
    """Whether the ports of a component on a face can be put on a plate of their own: the edit that does it, or why not."""

    of: str
    face: str
    words: str
    edit: Edit | None


def io_plates(a: Analysis) -> tuple[IoPlate, ...]:
    """Every component with ports on a wall, and the plate that they would have there."""
    out = []
    for t in (t for t in a.things if t.face is None):  # what is fixed to a wall stays on it
        for face in a.case.faces:
            ports = [o for o in a.openings.openings if o.of == t.id and o.face == face.id and o.parts and o.plug]
            if ports and not any(o.from_mm for o in ports) and all(not a.case.part(p).sheet for p in ports[0].parts):
                boxes = [outline(o) for o in ports]
                lows = [min(b[k] for b in boxes) - MARGIN_MM for k in (0, 1)]
                highs = [max(b[k] for b in boxes) + MARGIN_MM for k in (2, 3)]
                out.append(_plate(a, t, face, ports[0].parts, (lows[0], lows[1], highs[0], highs[1])))
    return tuple(out)


_Rect = tuple[float, float, float, float]


def _taken(a: Analysis, t: Thing, face: CaseFace) -> list[tuple[str, _Rect]]:
    """What else is in a face, or stands in its wall: in words, and the rectangle that it takes."""
    web = val("printing.feature.web_lines") * a.case.line_mm
    out = [
        (f"the opening for {o.label}", outline(o, web))
        for o in a.openings.openings
        if o.face == face.id and not (o.of == t.id and o.plug)
    ]
    for v in (v for v in a.openings.vents if v.face == face.id and v.holes):
        half = v.size_mm[0] / 2 + web, v.size_mm[1] / 2 + web
        out.append((v.label, (v.at_mm[0] - half[0], v.at_mm[1] - half[1], v.at_mm[0] + half[0], v.at_mm[1] + half[1])))
    for what, _, box in fixed(a.case, a.things):
        if min(face.behind(box.lo), face.behind(box.hi)) < face.thick_mm + PANE_OVER:
            (ua, va), (ub, vb) = face.on(box.lo), face.on(box.hi)
            out.append((what, (min(ua, ub), min(va, vb), max(ua, ub), max(va, vb))))
    return out


def _screws(a: Analysis, face: CaseFace, at: Vec2, hole_mm: Vec2, overlap_mm: Vec2, deep_mm: float) -> bool:
    """Whether all screws of a plate find a place."""
    middle = (at[0] + face.inset_mm[0], at[1] + face.inset_mm[1])
    found = screw_places(a.case, a.things, face, middle, hole_mm, overlap_mm, False, deep_mm)
    return len(found) == len(wanted(hole_mm, overlap_mm, False))


def _in_the_way(face: CaseFace, taken: list[tuple[str, _Rect]], hole: _Rect, beside: float, over: float) -> str:
    """What is where a plate would lie, in words; empty where nothing is."""
    u0, v0, u1, v1 = hole[0] - beside, hole[1] - over, hole[2] + beside, hole[3] + over
    c0, d0, c1, d1 = face.clear_mm
    if u0 < c0 or u1 > c1:
        return "an end of the plain wall"
    if v0 < d0 or v1 > d1:
        return "the upper or lower end of the plain wall"
    return next((what for what, (a, b, c, d) in taken if u0 < c and u1 > a and v0 < d and v1 > b), "")


def _plate(
    a: Analysis, t: Thing, face: CaseFace, parts: tuple[str, ...], hole: tuple[float, float, float, float]
) -> IoPlate:
    """The plate behind a clear opening: as much of it on the wall as there is plain wall, screwed where that is enough."""
    large = max(hole[2] - hole[0], hole[3] - hole[1]) + 2 * MOST_OVERLAP_MM
    seat = fit(a.design, a.printer, "port_opening", parts, large).value
    taken = _taken(a, t, face)
    found = [_in_the_way(face, taken, hole, beside + seat, over + seat) for beside, over in OVERLAPS_MM]
    ways = [x for x, what in zip(OVERLAPS_MM, found, strict=True) if not what]
    if not ways:
        return IoPlate(of=t.id, face=face.id, words=f"No I/O plate: {found[-1]} is too near to its ports.", edit=None)
    web = val("printing.feature.web_lines") * a.case.line_mm
    thick = min(max(LEAST_THICK_MM, floor((face.thick_mm - web) * 10) / 10), MOST_THICK_MM)
    names = {o.id for o in a.design.own_openings}
    id = next(x for x in ("io", *(f"io-{k}" for k in range(2, 102))) if x not in names)
    size = (ceil((hole[2] - hole[0]) * 10) / 10, ceil((hole[3] - hole[1]) * 10) / 10)
    middle = ((hole[0] + hole[2]) / 2 - face.inset_mm[0], (hole[1] + hole[3]) / 2 - face.inset_mm[1])
    nuts = [
        x
        for x in ways
        if x[0] >= SCREWED_OVERLAP_MM and _screws(a, face, middle, size, x, max(web, face.thick_mm - thick) + thick)
    ]
    beside, over = (nuts or ways)[0]
    screwed = bool(nuts)
    opening = OwnOpening(
        id=id,
        name=f"I/O plate of {t.name}"[:60],
        face=face.id,
        at_mm=(round(middle[0], 2), round(middle[1], 2)),
        size_mm=size,
        allowed=False,
        pane=Pane(
            material="printed",
            thick_mm=thick,
            overlap_mm=beside,
            over_under_mm=None if beside == over else over,
            held="screwed" if screwed else "glued",
        ),
    )
    how = (
        "screwed"
        if screwed
        else "glued: nuts find no room behind the wall"
        if beside >= SCREWED_OVERLAP_MM
        else f"glued: only {beside:g} mm of wall are plain beside it"
    )
    return IoPlate(
        of=t.id,
        face=face.id,
        words=f"{size[0]:g} x {size[1]:g} mm, {thick:g} thick, {how}. Another {t.name} takes another plate, and the case stays.",
        edit=PutOwnOpening(opening=opening),
    )
