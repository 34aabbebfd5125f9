"""Estimates as plain data: what `estimate --json` prints."""

from __future__ import annotations

from typing import Any

from manifold3d import Manifold

from rhombex.core.analysis import analyse
from rhombex.core.design import Design, Process
from rhombex.core.plain import DesignError
from rhombex.core.process.estimate import Estimate, Level, estimate, of_mesh
from rhombex.core.progress import Progress, silent
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Workshop


def _row(name: str, size: tuple[float, float, float], e: Estimate) -> dict[str, Any]:
    return {
        "name": name,
        "level": e.level,
        "bbox_mm": [round(x, 3) for x in size],
        "volume_mm3": round(e.volume_mm3, 3),
        "layers": e.layers,
        "time_s": round(e.time_s.value, 2),
        "time_low_s": round(e.time_low_s, 2),
        "time_high_s": round(e.time_high_s, 2),
        "mass_g": round(e.mass_g.value, 3),
        "filament_m": round(e.filament_m, 4),
        "support_g": e.support_g,
        "purge_g": e.purge_g,
        "money": round(e.money, 3),
        "by_feature": [k.model_dump() for k in e.by_kind],
    }


def _total(rows: list[dict[str, Any]]) -> dict[str, float]:
    keys = ("time_s", "time_low_s", "time_high_s", "mass_g", "filament_m", "support_g", "purge_g", "money")
    return {k: round(sum(r[k] for r in rows), 3) for k in keys}


def mesh_report(name: str, mesh: Manifold, process: Process, printer: Printer, level: Level) -> dict[str, Any]:
    """The report of one mesh as it lies."""
    b = mesh.bounding_box()
    size = (b[3] - b[0], b[4] - b[1], b[5] - b[2])
    rows = [_row(name, size, of_mesh(mesh, process, printer, level))]
    return {"printer": printer.name, "parts": rows, "total": _total(rows)}


def design_report(
    design: Design,
    workshop: Workshop,
    printer: Printer | None,
    process: Process | None,
    level: Level,
    progress: Progress = silent,
) -> dict[str, Any]:
    """The report of a design's pieces; a printer or a process given stands in for the design's own.

    progress is told the share done and the piece at hand, and may raise to stop.
    """
    if printer is not None:
        others = tuple(p for p in workshop.printers if p.key != printer.key)
        workshop = workshop.model_copy(update={"printers": (*others, printer)})
        design = design.model_copy(update={"printer": printer.key})
    if process is not None:
        design = design.model_copy(update={"process": process, "part_processes": ()})
    machine = workshop.printer(design.printer)
    if machine is None:
        raise DesignError("printer", f"the workshop has no printer '{design.printer}'")
    a = analyse(design, workshop, "best known")
    rows = []
    for k, p in enumerate(a.pieces):
        progress(k / len(a.pieces), p.name)
        e = estimate(a.piece_recipes[p.name], design.process_of(p.printed_as), machine, level)
        rows.append(_row(p.name, p.bbox_mm, e))
    return {"printer": machine.name, "parts": rows, "total": _total(rows)}
