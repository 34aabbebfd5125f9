"""Hours and grams on the command line: of designs, meshes and G-code."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import Shop, bytes_of, design_of, fail, head_of, load, one_of, shop_of
from rhombex.core.plain import DesignError

MAX_MESH_BYTES = 400_000_000
LEVELS = ("preview", "settled", "exact")


def estimate_(
    file: Path,
    printer: Annotated[Path | None, typer.Option("--printer", help="A printer as JSON; see docs/examples.")] = None,
    process: Annotated[Path | None, typer.Option("--process", help="A process as JSON; see docs/examples.")] = None,
    level: Annotated[str, typer.Option("--level", help="preview, settled or exact")] = "settled",
    as_json: Annotated[bool, typer.Option("--json")] = False,
    workshop: Shop = None,
) -> None:
    """Say what a mesh (STL, 3MF) or the parts of a design take: hours with their interval, grams, metres, by feature."""
    from rhombex.core.advice.report import design_report, mesh_report
    from rhombex.core.design import Process, read_process
    from rhombex.core.exchange.solid_mesh import read_solid
    from rhombex.core.workshop.printer import read_printer

    if level not in LEVELS:
        fail(f"level: '{level}' is not known.", f"Take {', '.join(LEVELS)}.")
    try:
        machine = read_printer(load(printer)) if printer else None
        how = read_process(load(process)) if process else None
        head = head_of(file)
        if head.lstrip()[:1] == b"{":
            found = design_report(design_of(file), shop_of(workshop), machine, how, level)  # type: ignore[arg-type]
        else:
            mesh = read_solid(bytes_of(file, MAX_MESH_BYTES))
            found = mesh_report(file.stem, mesh, how or Process(), machine or one_of(shop_of(workshop)), level)  # type: ignore[arg-type]
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(json.dumps(found, indent=1, ensure_ascii=False))
        return
    for part in found["parts"]:
        typer.echo(
            f"{part['name']:16} {part['time_s'] / 3600:6.2f} h ({part['time_low_s'] / 3600:.2f} to "
            f"{part['time_high_s'] / 3600:.2f})  {part['mass_g']:7.1f} g  {part['filament_m']:6.1f} m"
        )
        for k in part["by_feature"]:
            typer.echo(f"    {k['kind']:20} {k['time_s'] / 60:8.1f} min {k['mass_g']:7.1f} g")


def gcode_(
    file: Path,
    printer: Annotated[Path | None, typer.Option("--printer")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    workshop: Shop = None,
) -> None:
    """Say what a file of G-code takes on a printer: time, filament, extents, temperatures, changes."""
    from rhombex.core.exchange.gcode import read_gcode
    from rhombex.core.workshop.printer import read_printer

    try:
        machine = read_printer(load(printer)) if printer else one_of(shop_of(workshop))
        with file.open("rb") as stream:
            found = read_gcode(stream, machine)
    except OSError as e:
        fail(f"{file}: cannot be read ({e.strerror}).")
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(found.model_dump_json(indent=1))
    else:
        typer.echo(f"{found.time_s / 3600:.2f} h, {found.filament_m:.2f} m, {found.layers} layers, {found.lines} lines")
        for note in found.notes:
            typer.echo(f"- {note}")
