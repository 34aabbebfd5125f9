"""The take-home package: 3MF, STL and STEP of every piece, bill of materials, the design itself."""

from __future__ import annotations

import csv
import io
import tempfile
from collections import Counter
from collections.abc import Callable, Collection
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from rhombex.core.advice.pauses import pauses
from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.bodies import all_of, body_of
from rhombex.core.bench.gaps import hard
from rhombex.core.design import Process
from rhombex.core.exchange.design_json import design_json
from rhombex.core.exchange.formats import FORMATS, Format
from rhombex.core.exchange.write_flat import flat_dxf, flat_svg
from rhombex.core.exchange.write_glb import GlbBody, glb
from rhombex.core.exchange.write_mesh import NamedMesh, stl, three_mf
from rhombex.core.exchange.write_sheet import sheet_svg, sheets_pdf
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Move, Solid
from rhombex.core.geometry.weld import closed_in_file
from rhombex.core.plan.drawing import drawing
from rhombex.core.plan.magnets_map import magnets_map
from rhombex.core.plan.opened import opened_at
from rhombex.core.plan.pieces_map import pieces_maps
from rhombex.core.plan.plates import plates
from rhombex.core.process.filament import temperature_c
from rhombex.core.process.settings import settings
from rhombex.core.progress import Progress, silent
from rhombex.core.space import Frame, Vec2
from rhombex.core.words import cell, file_stem
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Workshop

if TYPE_CHECKING:
    from rhombex.core.geometry.write_step import StepBody

# one after another for the parts of a case, so that a set tells them apart
COLOURS: tuple[tuple[int, int, int], ...] = (
    (90, 42, 98),
    (30, 117, 106),
    (184, 122, 18),
    (74, 91, 108),
    (151, 86, 64),
    (62, 92, 158),
    (122, 138, 70),
    (160, 75, 120),
)
COMPONENT_COLOUR = (200, 196, 186)
BEDS_APART_MM = 30.0  # between the beds of a set, drawn beside one another
GATE = 0.001  # mesh and B-rep volumes may differ by this share, no more


class ExportError(RuntimeError):
    """A file could not be made well enough to be handed out."""


def bill_csv(a: Analysis) -> str:
    """The bill of materials as CSV with a heading row: counts are numbers, units and prices stand in columns of their own. What is not
    known is left empty. Cells that a spreadsheet would run are made plain text."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["item", "size", "count", "unit", "price_eur", "use"])
    for line in a.bill:
        rows.writerow([cell(line.item), cell(line.size), line.count, "piece", "", cell(line.use)])
    for p in a.pieces:
        kind, e = cell(a.workshop.filament_name(a.design.process_of(p.printed_as))), p.estimate
        if e is None:
            rows.writerow(["filament", kind, "", "g", "", cell(f"{p.name}, not known")])
            continue
        use = cell(f"{p.name}, {e.filament_m:.1f} m")
        rows.writerow(["filament", kind, round(e.mass_g.value), "g", f"{e.money:.2f}", use])
    return out.getvalue()


def process_notes(p: Process, printer: Printer, workshop: Workshop) -> dict[str, str]:
    """The process as neutral key and value, units in the key; described in docs/formats.md."""
    s = settings(p, printer)
    return {
        "filament": p.filament,
        "own_filament": workshop.filament_name(p) if workshop.filament_of(p) else "",
        "nozzle_mm": f"{nozzle_mm(p, printer):g}",
        "layer_mm": f"{p.layer_mm:g}",
        "first_layer_mm": f"{s.first_mm:g}",
        "line_width_mm": f"{s.width_mm:g}",
        "perimeters": str(p.perimeters),
        "top_layers": str(p.top_layers),
        "bottom_layers": str(p.bottom_layers),
        "infill_share": f"{p.infill:g}",
        "infill_kind": p.infill_kind,
        "lines_joined": "yes" if p.lines_joined else "no",
        "brim_mm": f"{p.brim_mm:g}",
        "brim_inside": "yes" if p.brim_inside else "no",
        "supports": "yes" if p.supports else "no",
        "least_layer_time_s": f"{p.layer_min_s:g}",
        "changes_at_mm": " ".join(f"{z:g}" for z in p.changes_at_mm),
        "speed_outer_mm_s": f"{s.speed[0]:.4g}",
        "speed_inner_mm_s": f"{s.speed[1]:.4g}",
        "speed_solid_mm_s": f"{s.speed[2]:.4g}",
        "speed_infill_mm_s": f"{s.speed[3]:.4g}",
        "speed_first_layer_mm_s": f"{s.first_speed[0]:.4g}",
        "nozzle_c": f"{temperature_c(workshop, p, 'nozzle').value:g}",
        "bed_c": f"{temperature_c(workshop, p, 'bed').value:g}",
    }


def colour_of(a: Analysis, part: str) -> tuple[int, int, int]:
    """The colour that a part has in every file."""
    names = [p.name for p in a.case.parts]
    return COLOURS[names.index(part) % len(COLOURS)]


def _named(a: Analysis, p: PrintedPiece, at: Vec2 = (0.0, 0.0), angle_deg: float = 0.0) -> NamedMesh:
    mesh = mesh_kernel.evaluate(a.piece_recipes[p.name], mesh_kernel.FILE_TOL)
    if not (mesh_kernel.watertight(mesh) and closed_in_file(mesh)):
        raise ExportError(f"{p.name} is not watertight; nothing was written")
    number = str(1 + [q.name for q in a.pieces].index(p.name))
    paused = " ".join(f"{x.at_mm:.2f}" for x in pauses(a) if x.piece == p.name)
    notes = (
        *process_notes(a.design.process_of(p.printed_as), a.printer, a.workshop).items(),
        *((("pauses_at_mm", paused),) if paused else ()),
    )
    return NamedMesh(f"{a.design.name} {p.name}", mesh, colour_of(a, p.part), at, angle_deg, number, notes)


def _plates(a: Analysis) -> dict[str, bytes]:
    """A 3MF of every plate as its bed is laid, and one of the whole set, bed beside bed."""
    pieces = {p.name: p for p in a.pieces}
    laid = plates(a)
    out: dict[str, bytes] = {}
    row: list[NamedMesh] = []
    step = a.printer.bed_mm[0] + BEDS_APART_MM
    for n, plate in enumerate(laid):
        on = [_named(a, pieces[q.piece], q.at_mm, q.angle_deg) for q in plate.places]
        row += [replace(m, at=(m.at[0] + n * step, m.at[1])) for m in on]
        notes = process_notes(plate.process, a.printer, a.workshop) | {"printer": a.printer.name}
        if len(laid) > 1:
            out[f"plate-{n + 1}.3mf"] = three_mf(on, f"{a.design.name}, plate {n + 1} of {len(laid)}", notes)
    if row:  # of a plate of bought sheet nothing is printed
        out["set.3mf"] = three_mf(row, a.design.name, process_notes(a.design.process, a.printer, a.workshop))
    return out


def _glb(a: Analysis) -> bytes:
    """The opened case with its components, as it stands; parts that have no place in a case stand in a row before it."""
    bodies: list[GlbBody] = []
    stood = _matrix(a.case.stance.inverse)
    x = 0.0
    for p in a.pieces:
        colour, name = colour_of(a, p.part), f"{a.design.name} {p.name}"
        if a.case.part(p.part).in_place:
            mesh = mesh_kernel.evaluate(a.pieces_in_case[p.name], mesh_kernel.SEEN_TOL)
            bodies.append(GlbBody(name, mesh, colour, stood @ opened_at(a, p.part)))
        else:
            mesh = mesh_kernel.evaluate(a.piece_recipes[p.name], mesh_kernel.SEEN_TOL)
            aside = np.eye(4)
            aside[:2, 3] = x, -p.bbox_mm[1] - BEDS_APART_MM
            bodies.append(GlbBody(name, mesh, colour, aside))
            x += p.bbox_mm[0] + BEDS_APART_MM
    for s in a.sheets:
        mesh = mesh_kernel.evaluate(a.recipes[s.part], mesh_kernel.SEEN_TOL)
        bodies.append(GlbBody(f"{a.design.name} {s.part}", mesh, colour_of(a, s.part), stood @ opened_at(a, s.part)))
    names = Counter(t.name for t in a.things)
    for t in a.things:
        words = t.name if names[t.name] == 1 else f"{t.name} ({t.id})"
        bodies.append(GlbBody(words, all_of(t), COMPONENT_COLOUR, stood))
    return glb(bodies, a.design.name)


def _matrix(f: Frame) -> NDArray[np.float64]:
    """A frame as (4, 4)."""
    return np.vstack((np.array([f.x, f.y, f.z, f.origin], float).T, (0.0, 0.0, 0.0, 1.0)))


def _frames(lying: Solid, standing: Solid) -> list[Frame] | None:
    """How a piece is moved from its place in the case to the bed, the innermost frame first; None where it is not known."""
    out: list[Frame] = []
    while lying.digest != standing.digest:
        if not isinstance(lying, Move):
            return None
        out.insert(0, lying.frame)
        lying = lying.solid
    return out


class _Steps:
    """The B-rep of each piece, made once: as it lies for its own file, in its place for that of the whole case."""

    def __init__(self, a: Analysis) -> None:
        self.a = a
        self.standing: list[StepBody] = []

    def piece(self, p: PrintedPiece) -> bytes:
        """A file of one piece. Raises ExportError where mesh and B-rep differ."""
        from rhombex.core.geometry import brep_kernel  # 2 s to import: only where STEP is wanted
        from rhombex.core.geometry.write_step import StepBody, write_step

        recipe, place = self.a.piece_recipes[p.name], self.a.pieces_in_case[p.name]
        frames = _frames(recipe, place)
        shape = brep_kernel.evaluate(place if frames is not None else recipe)
        mesh = mesh_kernel.evaluate(recipe, mesh_kernel.FILE_TOL)
        off = abs(brep_kernel.volume(shape) / mesh.volume() - 1)
        if off > GATE:
            raise ExportError(f"{p.name}: STEP and mesh differ in volume by {off:.2%}")
        if len(brep_kernel.solids(shape)) != mesh_kernel.bodies(mesh):
            raise ExportError(f"{p.name}: STEP and mesh differ in the number of bodies")
        colour = colour_of(self.a, p.part)
        if self.a.case.part(p.part).in_place and frames is not None:
            self.standing.append(StepBody(p.name, shape, colour))
        lying = brep_kernel.moved(shape, frames or [])
        name = f"{self.a.design.name} {p.name}"
        return _written(lambda path: write_step([StepBody(name, lying, colour)], path, name))

    def case(self, components: bool) -> bytes | None:
        """A file of all pieces in their places, and of the components as simple solids; None where nothing has a place."""
        from rhombex.core.geometry import brep_kernel
        from rhombex.core.geometry.write_step import StepBody, write_step

        sheets = [
            StepBody(x.part, brep_kernel.evaluate(self.a.recipes[x.part]), colour_of(self.a, x.part))
            for x in self.a.sheets
        ]
        bodies = [*self.standing, *sheets, *(simple_solids(t) for t in self.a.things if components)]
        if not bodies:
            return None
        return _written(lambda path: write_step(bodies, path, self.a.design.name))


def simple_solids(t: Thing) -> StepBody:
    """A component as solids that can be drawn round: boxes, rounds, convex bodies."""
    from rhombex.core.geometry import brep_kernel
    from rhombex.core.geometry.write_step import StepBody

    # each solid by itself: bodies that only touch would not close to one shell
    solids = [brep_kernel.hull(*mesh_kernel.triangles(body_of(s))) for s in hard(t)]
    return StepBody(t.name, brep_kernel.together(solids), COMPONENT_COLOUR)


def _written(write: Callable[[str], None]) -> bytes:
    with tempfile.TemporaryDirectory() as room:
        path = Path(room) / "part.step"
        write(str(path))
        return path.read_bytes()


def package(
    a: Analysis,
    formats: tuple[Format, ...] = FORMATS,
    progress: Progress = silent,
    components: bool = False,
    only: Collection[str] = (),
) -> dict[str, bytes]:
    """All files by name. components: as simple solids in the STEP of the whole case; `only`: the files of these pieces and none of the whole, for what
    changed since the last ones. Raises ExportError where a part would not print or a kernel disagrees."""
    files: dict[str, bytes] = {}
    taken = {
        "set",
        "bill-of-materials",
        "design",
        *(f"plate-{n + 1}" for n in range(len(a.pieces))),
    }  # files of the whole: no piece may overwrite them
    stem = {p.name: file_stem(p.name, taken) for p in a.pieces}
    pieces = [p for p in a.pieces if not only or p.name in only]
    steps = len(pieces) * len(formats) + 1 + (0 if only else len({"3mf", "step", "glb"} & set(formats)))
    done = 0

    def tick(what: str) -> None:
        nonlocal done
        progress(done / steps, what)
        done += 1

    if "3mf" in formats:
        for p in pieces:
            tick(f"{p.name} as 3MF")
            files[f"{stem[p.name]}.3mf"] = three_mf(
                [_named(a, p)],
                f"{a.design.name} {p.name}",
                process_notes(a.design.process_of(p.printed_as), a.printer, a.workshop),
            )
        if not only:
            tick("plates as 3MF")
            files |= _plates(a)
    steps_of = _Steps(a)
    for p in pieces:
        if "stl" in formats:
            tick(f"{p.name} as STL")
            files[f"{stem[p.name]}.stl"] = stl(_named(a, p).mesh)
        if "step" in formats:
            tick(f"{p.name} as STEP")
            files[f"{stem[p.name]}.step"] = steps_of.piece(p)
    if "step" in formats and not only:
        tick("the whole case as STEP")
        whole = steps_of.case(components)
        if whole is not None:
            files["case.step"] = whole
    if "glb" in formats and not only:
        tick("the opened case as glTF")
        files["opened-case.glb"] = _glb(a)
    if "drawings" in formats:
        sheets = {}
        for p in pieces:
            tick(f"drawing of the {p.name}")
            sheets[p.name] = drawing(a, p)
            files[f"{stem[p.name]}.svg"] = sheet_svg(sheets[p.name])
    if only:
        return files
    if "drawings" in formats:
        cut = [c.part for c in a.cuts if len(c.pieces) > 1]
        maps = pieces_maps(a)
        for name, one in zip(cut, maps, strict=True):
            files[f"{file_stem(f'pieces-of-{name}', taken)}.svg"] = sheet_svg(one)
        if maps:
            files["pieces.pdf"] = sheets_pdf(maps, f"{a.design.name}, map of pieces")
        poles = magnets_map(a)
        if poles is not None:
            files["polarity-plan.svg"] = sheet_svg(poles)
            files["polarity-plan.pdf"] = sheets_pdf([poles], poles.title)
        if sheets:
            files["drawings.pdf"] = sheets_pdf(list(sheets.values()), f"{a.design.name}, drawings")
    for x in a.sheets:
        taken_by = file_stem(x.part, taken)
        files[f"{taken_by}.dxf"] = flat_dxf(x.loops, x.bends)
        files[f"{taken_by}.svg"] = flat_svg(x.loops, x.size_mm, f"{a.design.name} {x.part}", x.bends)
    tick("bill of materials")
    files["bill-of-materials.csv"] = bill_csv(a).encode()
    files["design.json"] = design_json(a.design).encode()
    return files
