"""How far the panels of a case give way when a hand pushes at their middle, or at the edge of an opening in them, as they are or with ribs."""

from __future__ import annotations

from itertools import pairwise

from rhombex.core.analysis import Analysis
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.parts import Rib
from rhombex.core.constructions import SlidingPanels
from rhombex.core.design import OWN, Ribs
from rhombex.core.fit.laying import down_of
from rhombex.core.hardware.sheets import stock_mm
from rhombex.core.openings.cut_away import cut_away
from rhombex.core.process.opened import SOURCE, opened
from rhombex.core.process.plate_loads import centre_load
from rhombex.core.process.ribbed import along_ribs_nmm, between_ribs_mm, centre_bend_mm
from rhombex.core.process.stiffness import Plate, bending
from rhombex.core.reference import ref, val
from rhombex.core.shell.ribs import bearer, evenly, ribs_of, span_of
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen, Input, Trail, given, looked_up


class Panel(Frozen):
    """A wall of the case that a hand can push: the face, the part that most of it is, how far its middle gives way, mm, with the ribs that stand on it,
    and how many these are; `ribbed`: whether ribs may."""

    face: str
    part: str
    bend: Trail
    ribs: int
    ribbed: bool


def panels(a: Analysis) -> tuple[Panel, ...]:
    """Every whole face but the one that stands on its feet, the weakest first."""
    found = []
    for f in (f for f in a.case.faces if f.whole and f.id != a.case.stands_on):
        ribs = [r for r in a.case.ribs if r.face == f.id]
        bend = bend_of(a, f, ribs)
        part = a.case.most_of(f.id)
        if bend is not None and part is not None:
            may = bearer(a.case, f.id) is not None
            found.append(Panel(face=f.id, part=part.name, bend=bend, ribs=len(ribs), ribbed=may))
    return tuple(sorted(found, key=lambda p: -p.bend.value))


OPENING = "opening"  # what is said to weaken a panel
COUNTS, HEIGHTS_MM = (1, 2, 3, 4, 5, 6, 8), (4.0, 6.0, 8.0, 10.0, 12.0, 16.0)


def ribs_that_hold(a: Analysis, face: str, limit_mm: float, lines: int, stands_on: int = 1) -> Ribs | None:
    """The ribs of least plastic with which the middle of a face gives way no more than that, all of which find a place; None where there are none.
    `stands_on`: as for `bend_of`."""
    if bearer(a.case, face) is None:
        return None
    of, cut = a.case.face(face), cut_away(a.case, a.openings)
    others = tuple(r for r in a.case.ribs if r.face != face)
    ways = sorted(((n, h) for n in COUNTS for h in HEIGHTS_MM), key=lambda w: (w[0] * w[1], w[0]))
    for count, high in ways:
        wish = Ribs(face=face, count=count, high_mm=high, lines=lines)
        at_best = bend_of(a, of, evenly(a.design, a.printer, a.case, wish), stands_on)
        if at_best is None or at_best.value > limit_mm:
            continue
        found = ribs_of(a.design, a.printer, a.case, a.things, cut, wish, others)
        if len(found) < count:
            continue
        bend = bend_of(a, of, found, stands_on)
        if bend is not None and bend.value <= limit_mm:
            return wish
    return None


def stiffened(a: Analysis, face: str, stands_on: int) -> float:
    """How many times as far the middle of a face would give way without the ribs that stand on it. `stands_on`: as for `bend_of`."""
    ribs = [r for r in a.case.ribs if r.face == face]
    if not ribs:
        return 1.0
    of = a.case.face(face)
    plain, bent = bend_of(a, of, []), bend_of(a, of, ribs, stands_on)
    return 1.0 if plain is None or bent is None or bent.value <= 0 else plain.value / bent.value


def bend_of(a: Analysis, face: CaseFace, ribs: list[Rib], stands_on: int = 1) -> Trail | None:
    """How far the middle of a face gives way under a hand, with these ribs on it; None where there is no room behind it, or nothing is laid. `stands_on`: in how many places
    a load stands on it: a hand in one, which may lie between two ribs, a component on its posts."""
    part = a.case.most_of(face.id)
    # the walls beside it hold it along its edges
    room = [face.frame.local(p) for p in (a.case.cavity.lo, a.case.cavity.hi)]
    sides = [abs(room[1][i] - room[0][i]) for i in (0, 1)]
    short, long = sorted(sides)
    if short <= 0 or part is None:
        return None
    nu = val("limits.standing.poisson")
    lies = down_of(a.design, part) in _ACROSS[face.id]
    plate = Plate(name=face.id, thick_mm=face.thick_mm, pose="lying" if lies else "standing")
    if part.sheet is not None:
        modulus = ref(f"sheet.{part.sheet.material}.modulus")
        d_nmm = modulus.value * face.thick_mm**3 / 12 / (1 - nu**2)
        made: Input = looked_up("modulus", modulus)
    else:
        d_nmm = bending(plate, a.design.process_of(part.name), a.printer)[0] * 1000 / (1 - nu**2)
        made = given("stiffness", d_nmm / 1000, "N m", "skins on a core of infill")
        if d_nmm <= 0:
            return None
    push = ref("limits.standing.push")
    more, hole = _opened(a, face, part.name, (sides[0], sides[1]), (min(r[0] for r in room), min(r[1] for r in room)))
    by = f"; {SOURCE}" if hole else ""
    plain = Trail(
        value=centre_load(long / short) * push.value * short**2 / d_nmm * more,
        unit="mm",
        formula="w = alpha P a^2 / D" + (" x opening" if hole else ""),
        inputs=(
            looked_up("P", push),
            given("a", short),
            given("b", long),
            given("thickness", face.thick_mm),
            made,
            *hole,
        ),
        source="plate held at its edges with its load in the middle (Timoshenko and Woinowsky-Krieger)" + by,
    )
    if not ribs:
        return plain
    across, low, high = span_of(a.case, face)
    thick, tall = (ribs[0].box.size[k] for k in (ribs[0].across, _normal(face)))
    at = sorted(face.frame.local(r.box.centre)[across] for r in ribs)
    pitch = max(y - x for x, y in pairwise((low, *at, high)))
    run = sides[1 - across]
    stiff = along_ribs_nmm(
        plate,
        a.design.process_of(part.name),
        a.printer,
        high_mm=tall,
        thick_mm=thick,
        pitch_mm=pitch,
        span_mm=run,
    )
    whole = centre_bend_mm(push.value, run, high - low, stiff, d_nmm, d_nmm)
    between = between_ribs_mm(push.value / stands_on, pitch, d_nmm)
    bent = (whole + between) * more  # as much more as of the bare plate, at most: ribs stand beside the opening
    if bent >= plain.value:
        return plain  # so few and low that they do not count
    return Trail(
        value=bent,
        unit="mm",
        formula="that of a plate which is stiffer along its ribs (4 P / (pi^4 a b) x sum of 1 / (Dx (m/a)^4 + 2 D (m/a)^2 (n/b)^2 + D (n/b)^4)) + that "
        "of the plate between two ribs (alpha P c^2 / D)" + (", x opening" if hole else ""),
        inputs=(
            looked_up("P", push),
            given("a, along the ribs", run),
            given("b", high - low),
            given("c, between two ribs", pitch),
            made,
            given(
                "Dx, along the ribs", stiff / 1000, "N m", f"{len(ribs)} ribs of {thick:g} x {tall:g} with the plate"
            ),
            given("of it between two ribs", between),
            *hole,
        ),
        source="orthotropic plate by Navier's series (Timoshenko and Woinowsky-Krieger)" + by,
    )


def _opened(a: Analysis, face: CaseFace, part: str, sides: Vec2, corner: Vec2) -> tuple[float, tuple[Input, ...]]:
    """How much farther a face gives way for the one opening that costs most, and what says so: of those that a hand made and no pane closes. Behind the opening
    of a port its connector stops the wall, and what is fixed in a face holds it."""
    worst, named = 1.0, ""
    for o in a.openings.openings:
        if o.id.startswith(OWN) and o.face == face.id and part in o.parts and o.pane is None:
            at = (o.at_mm[0] - corner[0], o.at_mm[1] - corner[1])
            here = opened(sides, o.size_mm, at)
            if here > worst:
                worst, named = here, f"{o.label}, {o.size_mm[0]:.0f} x {o.size_mm[1]:.0f} mm"
    return worst, (given(OPENING, worst, "x", named),) if named else ()


def _normal(face: CaseFace) -> int:
    return next(k for k in range(3) if abs(face.frame.z[k]) > 0.5)


_ACROSS: dict[str, tuple[str, str]] = {
    "top": ("top", "bottom"),
    "bottom": ("top", "bottom"),
    "left": ("left", "right"),
    "right": ("left", "right"),
    "front": ("front", "back"),
    "back": ("front", "back"),
}


SHEET_PATH = "shell.construction.sheet_mm"
_THICK = {"top": "shell.lid_mm", "bottom": "shell.floor_mm"}


def thickness_path(a: Analysis, face: str) -> str:
    """The field that says how thick the wall of a face is."""
    made = a.design.shell.construction
    if isinstance(made, SlidingPanels) and face in made.sheet and face not in _THICK:
        return SHEET_PATH
    return _THICK.get(face, "shell.wall_mm")


def sold_mm(a: Analysis, path: str, need_mm: float) -> float | None:
    """How thick walls are made that need to be so thick: just that where all that the field says is printed, else what their sheet is sold in; None where it
    is not sold so thick."""
    of_sheet = {
        s.material for s in (p.sheet for p in a.case.parts) if s and path in {thickness_path(a, f) for f in s.faces}
    }
    return min((x for m in of_sheet for x in stock_mm(m) if x >= need_mm - 1e-6), default=None if of_sheet else need_mm)
