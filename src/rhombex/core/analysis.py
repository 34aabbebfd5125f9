"""The whole pipeline on one page, in the order of the work."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property, partial
from hashlib import sha256
from typing import Literal

from rhombex.core.air.ladder import Ladder, heat_ladder, no_ladder, open_ladder
from rhombex.core.air.need import NO_NEED, AirNeed, air_need
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.case import Built, Case
from rhombex.core.case.parts import Part
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.loose import NAMES, Loose, loose_of
from rhombex.core.cuts.pieces import CutPart, PartCuts, cut_part, whole_part
from rhombex.core.cuts.strips import PartName
from rhombex.core.design import Design, Direction, FilamentKind, Process
from rhombex.core.faults import Fault, Faults
from rhombex.core.fit.laying import laid
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid, Union
from rhombex.core.geometry.weld import closed_in_file
from rhombex.core.hardware.bill import Line, bill
from rhombex.core.hardware.joint_group import JointGroup
from rhombex.core.hardware.joints import joints
from rhombex.core.hardware.reach import Reach, reaches
from rhombex.core.hardware.sheets import BoughtSheet, bought_sheets
from rhombex.core.memo import Memo
from rhombex.core.openings.cut_away import cut_away
from rhombex.core.openings.opening import Openings
from rhombex.core.openings.panes import with_panes
from rhombex.core.openings.place import place_openings
from rhombex.core.openings.tools import tools
from rhombex.core.plain import DesignError
from rhombex.core.process.estimate import Estimate, best_known, estimate
from rhombex.core.process.filament import price_per_kg
from rhombex.core.process.overhang import Overhang, overhang, overhang_known
from rhombex.core.progress import between_steps
from rhombex.core.reference import val
from rhombex.core.shell.build import build
from rhombex.core.shell.ribs import with_ribs
from rhombex.core.trail import Frozen
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Workshop


class PrintedPiece(Frozen):
    """A piece as it lies on the bed: its recipe's digest (the name of its mesh), size, estimate, and what hangs free (None
    where a quick analysis did not look). An estimate of None could not be worked out: a fault says why. `printed_as`: whose process it has, its part's or its
    own; `down`: the side that it lies on."""

    name: str
    part: PartName
    printed_as: str
    down: Direction
    digest: str
    bbox_mm: tuple[float, float, float]
    fits_bed: bool
    angle_deg: float
    over_mm: float
    volume_mm3: float
    watertight: bool
    bodies: int
    estimate: Estimate | None
    overhang: Overhang | None


@dataclass(frozen=True)
class Analysis:
    """Everything that follows from a design and a workshop, but what is thought of it (see `concerns`)."""

    design: Design
    workshop: Workshop
    printer: Printer
    things: tuple[Thing, ...]
    need: AirNeed
    case: Case
    openings: Openings
    recipes: dict[PartName, Solid]
    piece_recipes: dict[str, Solid]
    pieces_in_case: dict[str, Solid]
    cuts: tuple[PartCuts, ...]
    pieces: tuple[PrintedPiece, ...]
    ladder: Ladder
    bill: tuple[Line, ...]
    joints: tuple[JointGroup, ...] = ()
    sheets: tuple[BoughtSheet, ...] = ()
    faults: tuple[Fault, ...] = ()
    walls_key: str = (
        ""  # what names all that is known before any part is cut; none where something broke, or parts were added since
    )

    @cached_property
    def reach(self) -> tuple[Reach, ...]:
        """Whether tools reach the joints, line by line; several rules ask."""
        return reaches(self.joints, self.things, self.case)

    def in_place(self) -> dict[PartName, Solid]:
        """Every part where it is in the case; one whose pieces hold pins or plates that are printed by themselves as its pieces, which have the
        holes for these."""
        out = {name: r for name, r in self.recipes.items() if self.case.part(name).in_place}
        for c in self.cuts:
            pieces = [self.pieces_in_case[p.name] for p in c.pieces if p.name in self.pieces_in_case]
            if c.part in out and pieces and any(x.joined in NAMES for x in c.cuts):
                out[c.part] = Union(tuple(pieces))
        return out

    def part_mass_g(self) -> dict[str, float]:
        """What each printed part weighs, all its pieces together."""
        mass: dict[str, float] = {}
        for piece, known in self.estimated():
            mass[piece.part] = mass.get(piece.part, 0.0) + known.mass_g.value
        return mass

    def estimated(self) -> Iterator[tuple[PrintedPiece, Estimate]]:
        """The pieces whose grams and hours could be worked out, with these."""
        return ((p, p.estimate) for p in self.pieces if p.estimate is not None)


Hours = Literal["settled", "best known", "preview", "none"]

_checked: Memo[tuple[str, float], tuple[float, bool, int]] = Memo(2000)


def _checked_mesh(recipe: Solid, hours: Hours) -> tuple[float, bool, int]:
    """Volume, whether its file would close, and number of bodies, remembered by content hash. Settled, they are those of the mesh that
    is exported; while a hand moves, those of the one that is seen."""
    tol = mesh_kernel.FILE_TOL if hours == "settled" else mesh_kernel.SEEN_TOL

    def look() -> tuple[float, bool, int]:
        m = mesh_kernel.evaluate(recipe, tol)
        return float(m.volume()), m.volume() > 0 and closed_in_file(m), mesh_kernel.bodies(m)

    return _checked.make((recipe.digest, tol), look)


def _estimate(
    workshop: Workshop, lying: Solid, process: Process, printer: Printer, hours: Hours, whole: Solid | None
) -> Estimate:
    """The estimate of a piece at the prices of the rack. `whole`: as for `best_known`."""
    assert hours != "none"
    e = (
        best_known(lying, process, printer, whole)
        if hours == "best known"
        else estimate(lying, process, printer, hours)
    )
    money = e.mass_g.value / 1000 * price_per_kg(workshop, process).value
    return e if abs(money - e.money) < 1e-9 else e.model_copy(update={"money": money})


def _parts(
    design: Design,
    printer: Printer,
    walled: _Walled,
    faults: Faults,
    whole: bool,
    only: PartName | None = None,
    elsewhere: tuple[Cut, ...] = (),
) -> tuple[dict[PartName, Solid], list[CutPart]]:
    """The recipes of all parts, and, unless they stay `whole`, the parts cut to the bed. One that cannot be made is noted and left out.
    `only`: of one part, beside these cuts of those before it."""
    recipes: dict[PartName, Solid] = {}
    parts: list[CutPart] = []
    things, built, openings = walled.things, walled.built, walled.openings

    def made(part: Part) -> tuple[Solid, CutPart | None]:
        between_steps()
        recipe = walled.recipe(part.name)
        if whole or part.sheet is not None:  # what is bought comes on no bed
            return recipe, None
        cuts = (*elsewhere, *(c for p in parts if p.cuts.part in in_place for c in p.cuts.cuts))
        cuts = cuts if part.in_place else ()
        return recipe, cut_part(
            design, printer, built.case, things, openings, part, recipe, cuts, built.on_bed.get(part.name)
        )

    in_turn = [p for p in built.case.parts if only in (None, p.name)]
    in_place = {p.name for p in in_turn if p.in_place}
    place = {p.name: k for k, p in enumerate(in_turn)}
    for part in sorted(in_turn, key=lambda p: design.turn_to_cut(p.name)):
        found = faults.attempt("part", part.name, partial(made, part), None)
        if found is not None:
            recipes[part.name] = found[0]
            parts += [found[1]] if found[1] is not None else []
    parts.sort(key=lambda c: place[c.cuts.part])
    return {p.name: recipes[p.name] for p in in_turn if p.name in recipes}, parts


def _loose(design: Design, printer: Printer, case: Case, c: PartCuts) -> list[Loose]:
    return list(loose_of(design, printer, case, c))


def _with_loose(
    design: Design, printer: Printer, case: Case, recipes: dict[PartName, Solid], parts: list[CutPart], faults: Faults
) -> Case:
    """The case with what joins its pieces and is printed by itself; `recipes` and `parts` grow by it."""
    none: list[Loose] = []
    found = [
        x
        for p in parts
        for x in faults.attempt("part", p.cuts.part, partial(_loose, design, printer, case, p.cuts), none)
    ]
    taken = {p.name for p in case.parts}
    for x in found:
        if x.part.name in taken:
            faults.note("part", x.part.name, "another part of the case has the same name")
            continue
        recipes[x.part.name] = x.in_case
        parts.append(whole_part(design, printer, case, x.part, x.in_case, x.on_bed))
        case = case.model_copy(update={"parts": (*case.parts, x.part)})
    return case


def _closed(
    design: Design, printer: Printer, built: Built, things: tuple[Thing, ...], openings: Openings, faults: Faults
) -> Built:
    """The case with what depends on its openings: panes in them, and ribs beside them."""
    paned = with_panes(built, openings, faults)
    if not design.shell.ribs:
        return paned
    return faults.attempt(
        "stage", "the ribs", lambda: with_ribs(design, printer, paned, things, cut_away(paned.case, openings)), paned
    )


@dataclass(frozen=True)
class _Walled:
    """What is worked out before any part is cut: who stands where, the air that is wanted, the case with its openings, its warmth, and what broke on the way. `key` names
    what it was worked out from; none where something broke. `whole`: the recipes of its parts, as they are asked for."""

    things: tuple[Thing, ...]
    need: AirNeed
    built: Built
    openings: Openings
    ladder: Ladder
    faults: tuple[Fault, ...]
    key: str = ""
    whole: dict[PartName, Solid] = field(default_factory=dict)

    def recipe(self, part: PartName) -> Solid:
        """A part with its openings, in one piece. Raises DesignError where nothing is left of it."""
        if (known := self.whole.get(part)) is not None:
            return known
        recipe = self.built.bodies[part](tools(self.built.case, self.openings, part))
        if mesh_kernel.evaluate(recipe).is_empty():
            raise DesignError(part, "nothing is left of it once everything is cut away")
        self.whole[part] = recipe
        return recipe


_walled: Memo[tuple[str, str], _Walled] = Memo(8)


def _walled_in(design: Design, printer: Printer) -> _Walled:
    """The case and its openings. Remembered without the cuts of its parts, which none of it follows: they are dragged. What broke is tried anew."""
    key = (design.model_dump_json(exclude={"cuts"}), printer.model_dump_json(exclude={"paced"}))
    known = _walled.get(key)
    if known is not None:
        return known
    faults = Faults()
    things = arrange(design)
    need = faults.attempt("stage", "the need of air", lambda: air_need(design, things), NO_NEED)
    built = build(design, printer, things, faults)
    openings, unmade = place_openings(design, printer, built.case, things, need)
    faults.found += unmade
    built = _closed(design, printer, built, things, openings, faults)
    ladder = faults.attempt(
        "stage", "the temperatures", lambda: _ladder(design, need, built.case, openings), no_ladder(design)
    )
    if faults.found:
        return _Walled(things, need, built, openings, ladder, tuple(faults.found))
    name = sha256("|".join(key).encode()).hexdigest()
    return _walled.put(key, _Walled(things, need, built, openings, ladder, (), name))


def _ladder(design: Design, need: AirNeed, case: Case, openings: Openings) -> Ladder:
    if case.walls and not case.has("cavity"):
        return open_ladder(design, need)
    fans = sum(v.free_area_mm2 for v in openings.vents if v.fan is not None)
    walls = _walls_in(design, case)
    return heat_ladder(design, need, case.box_mm, openings.free_mm2, fans, design.shell.wall_mm, walls)


def _walls_in(design: Design, case: Case) -> FilamentKind:
    """What the parts that hold the warm air are printed in; of several kinds the one that keeps most heat in."""
    kinds = [design.process_of(p.name).filament for p in case.parts if p.warm] or [design.process.filament]
    return min(kinds, key=lambda kind: val(f"materials.{kind}.conductivity"))


def _made(
    design: Design, workshop: Workshop, part: PartName, elsewhere: tuple[Cut, ...] = ()
) -> tuple[CutPart | None, bool]:
    """One part of a design, made without looking at anything else, and whether something stopped that."""
    printer = workshop.printer(design.printer) or workshop.printers[0]
    faults = Faults()
    w = _walled_in(design, printer)
    faults.found += w.faults
    _, parts = _parts(design, printer, w, faults, False, part, elsewhere)
    return next(iter(parts), None), any(f.what == part for f in faults.found)


def made_at_all(design: Design, workshop: Workshop, part: PartName) -> bool:
    """Whether a part of a design can be made."""
    made, stopped = _made(design, workshop, part)
    return made is not None or not stopped


def divided(design: Design, workshop: Workshop, part: PartName) -> bool:
    """Whether a part of a design finds the cuts that the bed asks for."""
    made, _ = _made(design, workshop, part)
    return made is not None and not made.cuts.no_place


def made_whole(design: Design, workshop: Workshop, part: PartName, elsewhere: tuple[Cut, ...]) -> bool:
    """Whether a part of a design can be made, and each of its pieces closes and does not fall apart. `elsewhere`: the cuts of the
    parts before it, out of whose line its own keep."""
    made, stopped = _made(design, workshop, part, elsewhere)
    if made is None:
        return not stopped
    looked = (_checked_mesh(r, "settled") for r in made.recipes)
    return not stopped and all(closes and bodies <= made.bodies for _, closes, bodies in looked)


def analyse(design: Design, workshop: Workshop, hours: Hours = "settled") -> Analysis:
    """Derive everything. What cannot be worked out is noted in `faults`, and the rest stands.

    Where the workshop does not have the design's printer, its first one stands in (a concern says so).
    hours: the level of estimates. "best known" takes settled ones where they were made before and previews else, for while
    a hand moves; "preview" takes previews throughout, so that two designs can be compared at once; "none" cuts no part to the bed and prints
    nothing, for asking where parts and components stand.
    """
    faults = Faults()
    printer = workshop.printer(design.printer) or workshop.printers[0]
    walled = _walled_in(design, printer)
    things, openings = walled.things, walled.openings
    faults.found += walled.faults
    case = walled.built.case
    recipes, parts = _parts(design, printer, walled, faults, hours == "none")
    case = _with_loose(design, printer, case, recipes, parts, faults)
    pieces: list[PrintedPiece] = []
    piece_recipes: dict[str, Solid] = {}
    in_case: dict[str, Solid] = {}
    for cut in parts:
        for piece, lying, standing in zip(cut.cuts.pieces, cut.recipes, cut.in_case, strict=True):
            process = design.process_of(name := design.printed_as(cut.cuts.part, piece.name))
            moving = hours == "best known" and len(cut.cuts.pieces) > 1
            whole = laid(recipes[cut.cuts.part], piece.down) if moving else None
            volume, tight, bodies = _checked_mesh(lying, hours)
            if piece.name in piece_recipes:
                faults.note("part", piece.name, "another piece of the case has the same name")
                continue
            if bodies == 0:
                faults.note("part", piece.name, "nothing is left of it where the part is cut")
                continue
            piece_recipes[piece.name] = lying
            in_case[piece.name] = standing
            pieces.append(
                PrintedPiece(
                    name=piece.name,
                    part=cut.cuts.part,
                    printed_as=name,
                    down=piece.down,
                    digest=lying.digest,
                    bbox_mm=piece.bbox_mm,
                    fits_bed=piece.fits_bed,
                    angle_deg=piece.angle_deg,
                    over_mm=piece.over_mm,
                    volume_mm3=volume,
                    watertight=tight,
                    bodies=bodies,
                    estimate=faults.attempt(
                        "estimate",
                        f"grams and hours of the {piece.name}",
                        partial(_estimate, workshop, lying, process, printer, hours, whole),
                        None,
                    ),
                    overhang=faults.attempt(
                        "estimate",
                        f"overhangs of the {piece.name}",
                        partial(overhang if hours == "settled" else overhang_known, lying, process, printer),
                        None,
                    ),
                )
            )
    cuts = tuple(cut.cuts for cut in parts)
    no_sheets: tuple[BoughtSheet, ...] = ()
    sheets = faults.attempt("stage", "bought sheet", lambda: bought_sheets(case, openings, recipes), no_sheets)
    no_groups: tuple[JointGroup, ...] = ()
    groups = faults.attempt(
        "stage", "the table of joints", lambda: joints(design, things, case, cuts, openings), no_groups
    )
    return Analysis(
        design=design,
        workshop=workshop,
        printer=printer,
        things=things,
        need=walled.need,
        case=case,
        openings=openings,
        recipes=recipes,
        piece_recipes=piece_recipes,
        pieces_in_case=in_case,
        cuts=cuts,
        pieces=tuple(pieces),
        ladder=walled.ladder,
        bill=faults.attempt("stage", "the bill", lambda: bill(design, things, case, cuts, groups, sheets), ()),
        joints=groups,
        sheets=sheets,
        faults=tuple(faults.found),
        walls_key=walled.key if case is walled.built.case and not faults.found else "",
    )
