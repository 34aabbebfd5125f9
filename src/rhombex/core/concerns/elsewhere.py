"""Ways out that make a case another way, or print it on another printer or in another filament, whose rim may be thicker: the walls go out with it where
something would stand in it."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from rhombex.core.advice.walls_round import drawn_round
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.apart import apart_from_box
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.bench.gaps import beyond, cavity, hard
from rhombex.core.case import Case
from rhombex.core.case.faces import Bulge
from rhombex.core.case.joints import Joint
from rhombex.core.concerns.before_cuts import of_walls
from rhombex.core.concerns.registry import Remedy, searched
from rhombex.core.constructions import SlidingPanels
from rhombex.core.cuts.bed import usable_bed
from rhombex.core.design import Design
from rhombex.core.edits import Construct, FitCavity, Set, Together
from rhombex.core.plain import DesignError
from rhombex.core.shell.build import bulges, case_of
from rhombex.core.shell.sliding_panels import wall_of_cheeks_mm
from rhombex.core.space import Box
from rhombex.core.workshop.printer import Printer

AS_BEFORE_MM = 0.01


def print_on(a: Analysis, printer: Printer) -> Remedy:
    """Print all of it on another printer."""
    return with_room(a, Remedy(label=f"Print on {printer.name}", edits=(Set(path="printer", value=printer.key),)))


def all_fit(a: Analysis, printer: Printer) -> bool:
    """Whether every piece finds room on the bed of another printer, straight or across."""
    for p in a.pieces:
        x, y, z = usable_bed(a.design.process_of(p.printed_as), printer)
        w, d, h = p.bbox_mm
        if h > z or not ((w <= x and d <= y) or (w <= y and d <= x)):
            return False
    return True


def with_room(a: Analysis, remedy: Remedy) -> Remedy:
    """The same, with the walls drawn out where a component would come to stand in the thicker rim that it brings."""
    return next(iter(_with_room(a, remedy)), remedy)


@searched
def _with_room(a: Analysis, remedy: Remedy) -> tuple[Remedy, ...]:
    another = any(isinstance(e, Construct) for e in remedy.edits)
    if not a.case.bulges and not another and not isinstance(a.design.shell.construction, SlidingPanels):
        return ()
    return of_walls(a, ("with room", remedy), lambda: _looked_for(a, remedy))


def _looked_for(a: Analysis, remedy: Remedy) -> tuple[Remedy, ...]:
    try:
        design = apply(a.design, Together(edits=remedy.edits))
    except DesignError:
        return ()  # the remedy says so itself
    printer = a.workshop.printer(design.printer) or a.printer
    if (posts := _round_posts(a, design, printer)) is not None:
        return (Remedy(label=f"{remedy.label}, with its walls drawn out", edits=(*remedy.edits, posts)),)
    if isinstance(made := design.shell.construction, SlidingPanels):
        least = wall_of_cheeks_mm(design, made, printer)
        if least <= design.shell.wall_mm + AS_BEFORE_MM:
            return ()
        cheeks = Set(path="shell.wall_mm", value=least)
        return (Remedy(label=f"{remedy.label}, with walls of {least:g} mm", edits=(*remedy.edits, cheeks)),)
    rims = bulges(design, printer)
    if max((b.mm for b in rims), default=0.0) <= max((b.mm for b in a.case.bulges), default=0.0) + AS_BEFORE_MM:
        return ()
    things = arrange(design)
    beside, behind = (
        _in_rim(design, things, rims, own) > _in_rim(a.design, a.things, a.case.bulges, own) for own in (False, True)
    )
    if behind:  # it is fixed to that wall: no rim may stand out of it
        thick = ceil(10 * (design.shell.wall_mm + max(b.mm for b in rims))) / 10
        wall = Set(path="shell.wall_mm", value=thick)
        return (Remedy(label=f"{remedy.label}, with walls of {thick:g} mm", edits=(*remedy.edits, wall)),)
    if not beside:
        return ()
    same = design.shell == a.design.shell and design.placements == a.design.placements
    # nothing but the rim follows the printer and the filament
    case = a.case.model_copy(update={"bulges": rims}) if same else case_of(design, printer, things)
    out = drawn_round(design, things, case).model_copy(update={"only_out": True})
    return (Remedy(label=f"{remedy.label}, with its walls drawn out for the rim", edits=(*remedy.edits, out)),)


def _round_posts(a: Analysis, design: Design, printer: Printer) -> FitCavity | None:
    """The walls of another construction drawn out, where one of its posts or bosses would stand in a component."""
    if design.shell.construction.kind == a.case.kind:
        return None
    things = arrange(design)
    case = case_of(design, printer, things)
    taken = [*_pillars(case), *(j.boss for j in case.fastened if isinstance(j, Joint))]
    if not any(apart_from_box(s, box) < -AS_BEFORE_MM for t in things for s in hard(t) for box in taken):
        return None
    return drawn_round(design, things, case).model_copy(update={"only_out": True})


def _pillars(case: Case) -> Iterator[Box]:
    """The squares that posts take in the corners of the room."""
    if case.pillar_mm > 0:
        (x0, y0, z0), (x1, y1, z1) = case.cavity.lo, case.cavity.hi
        w = case.pillar_mm
        yield from (Box((x, y, z0), (x + w, y + w, z1)) for x in (x0, x1 - w) for y in (y0, y1 - w))


def _in_rim(design: Design, things: tuple[Thing, ...], rims: tuple[Bulge, ...], own: bool) -> int:
    """How many solids stand in the thickening of walls beside them, or of the one that they are fixed to (`own`)."""
    room = cavity(design)
    return sum(
        beyond(s.box, room, f) > -b.inward_mm(s.box.lo[2], s.box.hi[2])
        for b in rims
        for f in b.faces
        for t in things
        if (t.face == f) == own
        for s in hard(t)
    )
