"""The take-home package: 3MF, STL and STEP of every piece, bill of materials, the design itself."""

from __future__ import annotations

import csv
import io
import tempfile
from pathlib import Path

from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.design import Process
from rhombex.core.exchange.design_json import FORMATS, Format, design_json
from rhombex.core.exchange.write_mesh import NamedMesh, single_precision, stl, three_mf
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.geometry import mesh_kernel
from rhombex.core.process.filament import temperature_c
from rhombex.core.process.settings import settings
from rhombex.core.progress import Progress, silent
from rhombex.core.words import cell, file_stem
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Workshop

COLOURS: dict[str, tuple[int, int, int]] = {"base": (90, 42, 98), "lid": (30, 117, 106)}
GATE = 0.001  # mesh and B-rep volumes may differ by this share, no more


class ExportError(RuntimeError):
    """A file could not be made well enough to be handed out."""


def bill_csv(a: Analysis) -> str:
    """The bill of materials as CSV with a heading row. Cells that a spreadsheet would run are made plain text."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["item", "size", "count", "use"])
    for line in a.bill:
        rows.writerow([cell(line.item), cell(line.size), line.count, cell(line.use)])
    for p in a.pieces:
        kind = a.design.process_of(p.part).filament
        if p.estimate is None:
            rows.writerow(["filament", kind, "not known", cell(p.name)])
            continue
        grams, metres = round(p.estimate.mass_g.value), f"{p.estimate.filament_m:.1f}"
        rows.writerow(["filament", kind, f"{grams} g", cell(f"{p.name}, {metres} m")])
    return out.getvalue()


def process_notes(p: Process, printer: Printer, workshop: Workshop) -> dict[str, str]:
    """The process as neutral key and value, units in the key; described in docs/formats.md."""
    s = settings(p, printer)
    return {
        "filament": p.filament,
        "nozzle_mm": f"{nozzle_mm(p, printer):g}",
        "layer_mm": f"{p.layer_mm:g}",
        "first_layer_mm": f"{s.first_mm:g}",
        "line_width_mm": f"{s.width_mm:g}",
        "perimeters": str(p.perimeters),
        "top_layers": str(p.top_layers),
        "bottom_layers": str(p.bottom_layers),
        "infill_share": f"{p.infill:g}",
        "infill_kind": p.infill_kind,
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
        "nozzle_c": f"{temperature_c(workshop, p.filament, 'nozzle').value:g}",
        "bed_c": f"{temperature_c(workshop, p.filament, 'bed').value:g}",
    }


def _named(a: Analysis, p: PrintedPiece, at: tuple[float, float] = (0.0, 0.0)) -> NamedMesh:
    mesh = mesh_kernel.evaluate(a.piece_recipes[p.name], mesh_kernel.FILE_TOL)
    _, tri = single_precision(mesh)
    if not (mesh_kernel.watertight(mesh) and mesh_kernel.closed(tri)):
        raise ExportError(f"{p.name} is not watertight; nothing was written")
    return NamedMesh(f"{a.design.name} {p.name}", mesh, COLOURS.get(p.part, (74, 91, 108)), at)


def _step(a: Analysis, p: PrintedPiece) -> bytes:
    from rhombex.core.geometry import brep_kernel  # 2 s to import: only where STEP is wanted

    recipe = a.piece_recipes[p.name]
    shape = brep_kernel.evaluate(recipe)
    mesh = mesh_kernel.evaluate(recipe, mesh_kernel.FILE_TOL)
    volume = brep_kernel.volume(shape)
    if abs(volume / mesh.volume() - 1) > GATE:
        raise ExportError(f"{p.name}: STEP and mesh differ in volume by {abs(volume / mesh.volume() - 1):.2%}")
    if len(brep_kernel.solids(shape)) != mesh_kernel.bodies(mesh):
        raise ExportError(f"{p.name}: STEP and mesh differ in the number of bodies")
    with tempfile.TemporaryDirectory() as room:
        path = Path(room) / "part.step"
        brep_kernel.write_step(shape, str(path), f"{a.design.name} {p.name}")
        return path.read_bytes()


def package(a: Analysis, formats: tuple[Format, ...] = FORMATS, progress: Progress = silent) -> dict[str, bytes]:
    """All files by name. Raises ExportError where a part would not print or a kernel disagrees."""
    files: dict[str, bytes] = {}
    taken = {"set", "bill-of-materials", "design"}  # files of the whole: no piece may overwrite them
    stem = {p.name: file_stem(p.name, taken) for p in a.pieces}
    steps = len(a.pieces) * len(formats) + 1
    done = 0

    def tick(what: str) -> None:
        nonlocal done
        progress(done / steps, what)
        done += 1

    if "3mf" in formats:
        x = 0.0
        row = []
        for p in a.pieces:
            tick(f"{p.name} as 3MF")
            files[f"{stem[p.name]}.3mf"] = three_mf(
                [_named(a, p)],
                f"{a.design.name} {p.name}",
                process_notes(a.design.process_of(p.part), a.printer, a.workshop),
            )
            row.append(_named(a, p, (x, 0.0)))
            x += p.bbox_mm[0] + 10
        files["set.3mf"] = three_mf(row, a.design.name, process_notes(a.design.process, a.printer, a.workshop))
    for p in a.pieces:
        if "stl" in formats:
            tick(f"{p.name} as STL")
            files[f"{stem[p.name]}.stl"] = stl(_named(a, p).mesh)
        if "step" in formats:
            tick(f"{p.name} as STEP")
            files[f"{stem[p.name]}.step"] = _step(a, p)
    tick("bill of materials")
    files["bill-of-materials.csv"] = bill_csv(a).encode()
    files["design.json"] = design_json(a.design).encode()
    return files
