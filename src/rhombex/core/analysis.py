"""The whole pipeline on one page, in the order of the work."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from rhombex.core.air.ladder import Ladder, heat_ladder
from rhombex.core.air.need import AirNeed, air_need
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.cuts.pieces import PartCuts, PartName, cut_part, usable_bed, whole_part
from rhombex.core.design import Design, Process
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid
from rhombex.core.hardware.bill import Line, bill
from rhombex.core.openings.place import Openings, place_openings
from rhombex.core.plain import DesignError
from rhombex.core.process.bead import line_width_mm
from rhombex.core.process.estimate import Estimate, best_known, estimate
from rhombex.core.process.laying import bbox, down_of
from rhombex.core.process.overhang import Overhang, overhang, overhang_known
from rhombex.core.process.price import price_per_kg
from rhombex.core.shell.halves import base_recipe, lid_recipe
from rhombex.core.shell.panels import panel_recipe
from rhombex.core.shell.plan import ShellPlan, plan_shell
from rhombex.core.shell.spacers import spacers
from rhombex.core.trail import Frozen
from rhombex.core.workshop import Printer, Workshop


class PrintedPiece(Frozen):
    """A piece as it lies on the bed: its recipe's digest (the name of its mesh), size, estimate, and what hangs free (None
    where a quick analysis did not look)."""

    name: str
    part: PartName
    digest: str
    bbox_mm: tuple[float, float, float]
    fits_bed: bool
    turned: bool
    over_mm: float
    volume_mm3: float
    watertight: bool
    bodies: int
    estimate: Estimate
    overhang: Overhang | None


@dataclass(frozen=True)
class Analysis:
    """Everything that follows from a design and a workshop, but what is thought of it (see `concerns`)."""

    design: Design
    workshop: Workshop
    printer: Printer
    things: tuple[Thing, ...]
    need: AirNeed
    shell: ShellPlan
    openings: Openings
    recipes: dict[PartName, Solid]
    piece_recipes: dict[str, Solid]
    pieces_in_case: dict[str, Solid]
    cuts: tuple[PartCuts, ...]
    pieces: tuple[PrintedPiece, ...]
    ladder: Ladder
    bill: tuple[Line, ...]


def has_halves(design: Design) -> bool:
    """Whether the case is made of base and lid (else its panels are joined by hand)."""
    return design.shell.construction == "two halves"


_checked: dict[str, tuple[float, bool, int]] = {}


def forget() -> None:
    """Drop what is remembered of meshes (for measuring)."""
    _checked.clear()


def _checked_mesh(recipe: Solid) -> tuple[float, bool, int]:
    """Volume, watertightness and number of bodies, remembered by content hash."""
    found = _checked.get(recipe.digest)
    if found is None:
        m = mesh_kernel.evaluate(recipe)
        found = (float(m.volume()), mesh_kernel.watertight(m), mesh_kernel.bodies(m))
        if len(_checked) > 2000:
            _checked.clear()
        _checked[recipe.digest] = found
    return found


def _priced(workshop: Workshop, process: Process, e: Estimate) -> Estimate:
    """The estimate at the prices of the rack."""
    money = e.mass_g.value / 1000 * price_per_kg(workshop, process.filament).value
    return e if abs(money - e.money) < 1e-9 else e.model_copy(update={"money": money})


Hours = Literal["settled", "best known", "preview"]


def analyse(design: Design, workshop: Workshop, hours: Hours = "settled") -> Analysis:
    """Derive everything. Raises DesignError where the workshop has no such printer.

    hours: the level of estimates. "best known" takes settled ones where they were made before and previews else, for while
    a hand moves; "preview" takes previews throughout, so that two designs can be compared at once.
    """
    printer = workshop.printer(design.printer)
    if printer is None:
        raise DesignError("printer", f"the workshop has no printer '{design.printer}'", "Choose one of the workshop's.")
    things = arrange(design)
    need = air_need(design, things)
    shell = plan_shell(design, printer, things)
    openings = place_openings(design, printer, shell, things, need)
    recipes: dict[PartName, Solid] = {}
    if has_halves(design):
        recipes = {"base": base_recipe(design, shell, openings), "lid": lid_recipe(design, shell, openings)}
    parts = [cut_part(design, printer, shell, things, openings, name, recipe) for name, recipe in recipes.items()]
    for panel in design.panels:
        recipes[panel.id] = recipe = panel_recipe(panel)
        usable = usable_bed(design.process_of(panel.id), printer)
        size = (*panel.size_mm, panel.thick_mm)
        parts.append(whole_part(panel.id, recipe, down_of(design, panel.id), size, usable))
    line = line_width_mm(design.process, printer)
    for name, recipe in spacers(things, line).items() if has_halves(design) else ():
        recipes[name] = recipe
        usable = usable_bed(design.process_of(name), printer)
        parts.append(whole_part(name, recipe, down_of(design, name), bbox(recipe)[1], usable))
    pieces: list[PrintedPiece] = []
    piece_recipes: dict[str, Solid] = {}
    in_case: dict[str, Solid] = {}
    for cut in parts:
        process = design.process_of(cut.plan.part)
        for piece, lying, standing in zip(cut.plan.pieces, cut.recipes, cut.in_case, strict=True):
            piece_recipes[piece.name] = lying
            in_case[piece.name] = standing
            volume, tight, bodies = _checked_mesh(lying)
            pieces.append(
                PrintedPiece(
                    name=piece.name,
                    part=cut.plan.part,
                    digest=lying.digest,
                    bbox_mm=piece.bbox_mm,
                    fits_bed=piece.fits_bed,
                    turned=piece.turned,
                    over_mm=piece.over_mm,
                    volume_mm3=volume,
                    watertight=tight,
                    bodies=bodies,
                    estimate=_priced(
                        workshop,
                        process,
                        best_known(lying, process, printer)
                        if hours == "best known"
                        else estimate(lying, process, printer, hours),
                    ),
                    overhang=(overhang if hours == "settled" else overhang_known)(lying, process, printer),
                )
            )
    cuts = [cut.plan for cut in parts]
    fans = sum(v.free_area_mm2 for v in openings.vents if v.fan is not None)
    vents = sum(v.free_area_mm2 for v in openings.vents if v.fan is None)
    ladder = heat_ladder(design, need, shell.outer_mm, vents, fans, design.shell.wall_mm)
    return Analysis(
        design=design,
        workshop=workshop,
        printer=printer,
        things=things,
        need=need,
        shell=shell,
        openings=openings,
        recipes=recipes,
        piece_recipes=piece_recipes,
        pieces_in_case=in_case,
        cuts=tuple(cuts),
        pieces=tuple(pieces),
        ladder=ladder,
        bill=bill(design, things, shell, tuple(cuts)),
    )
