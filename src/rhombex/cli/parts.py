"""Components on the command line: read from files, measured by hand."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import bytes_of, fail, load
from rhombex.core.plain import DesignError


def component_read(
    file: Path,
    unit: Annotated[
        str | None, typer.Option("--unit", help="mm, cm, in, m, thou or ft, for files that name none")
    ] = None,
    library: Annotated[Path | None, typer.Option("--library", help="The .emp that belongs to an .emn")] = None,
    layer: Annotated[list[str] | None, typer.Option("--layer", help="Only these layers of a DXF")] = None,
    seconds: Annotated[
        float, typer.Option("--seconds", help="Most work that a file may take, s; by its size if not said")
    ] = 0.0,
    as_kind: Annotated[str | None, typer.Option("--as", help="What a STEP file holds: board or body")] = None,
    as_json: Annotated[bool, typer.Option("--json")] = False,
) -> None:
    """Say what is recognised in a STEP, DXF, IDF, STL, 3MF, OBJ, PLY or GLB file: board, holes, connectors and their edges."""
    from rhombex.core.exchange.recognise import MOST_BYTES, recognise
    from rhombex.core.parts.recognised import UNIT_MM
    from rhombex.core.parts.report import component_report
    from rhombex.jobs.apart import apart, seconds_for

    if unit is not None and unit not in UNIT_MM:
        fail(f"unit: '{unit}' is not known.", f"Take one of {', '.join(UNIT_MM)}.")
    if as_kind not in (None, "board", "body"):
        fail(f"as: '{as_kind}' is not known.", "Take board or body.")
    beside = library or file.with_suffix(".emp")
    emp = None
    if file.suffix.lower() in (".emn", ".idf") and (library or beside.exists()):
        emp = bytes_of(beside, MOST_BYTES)
    data = bytes_of(file, MOST_BYTES)
    try:
        found, _ = apart(
            recognise,
            data,
            file.name,
            unit,
            emp,
            tuple(layer or ()),
            as_kind,
            seconds=seconds or seconds_for(len(data)),
        )
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(json.dumps(component_report(found), indent=1, ensure_ascii=False))
        return
    typer.echo(f"{found.kind} {' x '.join(f'{x:.2f}' for x in found.size_mm)} mm, {found.turned}, up: {found.up}")
    for h in found.holes:
        typer.echo(f"  hole {h.d_mm:6.2f} at {h.at[0]:8.2f} {h.at[1]:8.2f}")
    for f in found.found:
        over = f"  over the {f.edge} edge by {f.overhang_mm:.2f}" if f.edge else ""
        typer.echo(f"  {f.name:24} {' x '.join(f'{b - a:.2f}' for a, b in zip(f.lo, f.hi, strict=True))}{over}")
    for note in found.notes:
        typer.echo(f"- {note}")


def measure_(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False) -> None:
    """Turn caliper readings into coordinates, and name the reading that contradicts the others. See docs/formats.md."""
    from rhombex.core.parts.notebook import read_notebook, solve

    try:
        found = solve(read_notebook(load(file)))
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(found.model_dump_json(indent=1))
    else:
        for p in found.without or found.features:
            known = [(c, getattr(p, f"{c}_mm"), getattr(p, f"sure_{c}_mm")) for c in "xydz"]
            typer.echo(f"{p.name:12} " + "  ".join(f"{c} {v:.3f} ±{u:.3f}" for c, v, u in known if v is not None))
        if found.hint:
            typer.echo(found.hint)
        if found.next is not None:
            n = found.next
            typer.echo(f"Measure next: {n.how} of {' and '.join(n.of)} along {n.along}: {n.why}.")
    raise typer.Exit(1 if found.suspects else 0)
