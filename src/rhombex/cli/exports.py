"""Files out on the command line."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import Shop, design_of, fail, shop_of, write_whole
from rhombex.core.exchange.formats import FORMATS
from rhombex.core.plain import DesignError


def export(
    file: Path,
    out: Annotated[Path, typer.Option("--out")],
    formats: Annotated[str, typer.Option("--formats")] = ",".join(FORMATS),
    components: Annotated[bool, typer.Option("--components", help="As simple solids in the STEP of the case.")] = False,
    only: Annotated[list[str] | None, typer.Option("--only", help="This piece alone; may be said again.")] = None,
    workshop: Shop = None,
) -> None:
    """Write files of every piece, of plates and the whole case, drawings, the bill of materials and the design into a folder."""
    wanted = tuple(f.strip() for f in formats.split(",") if f.strip())
    unknown = [f for f in wanted if f not in FORMATS]
    if unknown or not wanted:
        fail(f"formats: '{formats}' is not known.", f"Take some of {', '.join(FORMATS)}.")
    from rhombex.core.analysis import analyse
    from rhombex.core.exchange.package import ExportError, package

    design = design_of(file)
    try:
        a = analyse(design, shop_of(workshop))
        missing = [n for n in only or () if n not in {p.name for p in a.pieces}]
        if missing:
            fail(f"only: there is no piece '{missing[0]}'.", f"Its pieces are {', '.join(p.name for p in a.pieces)}.")
        files = package(a, wanted, components=components, only=only or ())  # type: ignore[arg-type]
    except (DesignError, ExportError) as e:
        fail(f"{file}: {e}.", "No file was written.")
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as e:
        fail(f"{out}: cannot be made ({e.strerror}).")
    for name, data in files.items():
        write_whole(out / name, data)
    typer.echo(f"{len(files)} files in {out}")
    from rhombex.core.concerns import judge

    raise typer.Exit(1 if any(f.severity == "stop" for f in judge(a)) else 0)
