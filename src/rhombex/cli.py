"""The command line: the same core as the interface. Exit 0 no stop, 1 stops remain, 2 bad input."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer

from rhombex.core.analysis import analyse
from rhombex.core.design import Design, DesignError, read_design
from rhombex.core.edits import Edit, Together, apply, read_edit
from rhombex.core.exchange.package import FORMATS, ExportError, design_json, package
from rhombex.core.report import report
from rhombex.core.workshop import ARCHIVE_WORKSHOP

MAX_DESIGN_BYTES = 20_000_000

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Design, check and print a custom computer case.")


def _fail(what: str, do: str = "") -> NoReturn:
    typer.echo(f"rhombex: {what}" + (f" {do}" if do else ""), err=True)
    raise typer.Exit(2)


def _load(path: Path) -> Any:
    try:
        if path.stat().st_size > MAX_DESIGN_BYTES:
            _fail(f"{path}: larger than {MAX_DESIGN_BYTES // 1_000_000} MB; no design is that large.")
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as e:
        _fail(f"{path}: cannot be read ({e.strerror}).")
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as e:
        _fail(f"{path}: not whole JSON ({e}).", "Nothing was changed.")


def _design(path: Path) -> Design:
    data = _load(path)
    try:
        return read_design(data)
    except DesignError as e:
        _fail(f"{path}: {e}.", e.do)


def write_whole(path: Path, data: bytes) -> None:
    """Write a file completely or not at all: into a neighbour first, then renamed over."""
    room = path.with_name(f".{path.name}.{os.getpid()}.part")
    try:
        with room.open("wb") as f:
            f.write(data)
            f.flush()
            os.fsync(f.fileno())
        room.replace(path)
    except OSError as e:
        room.unlink(missing_ok=True)
        _fail(f"{path}: cannot be written ({e.strerror}).", "What was there before is kept.")


@app.command()
def scenario(name: str, out: Annotated[Path, typer.Option("--out")]) -> None:
    """Write a sample design."""
    from rhombex.demo.scenario import SCENARIOS

    if name not in SCENARIOS:
        _fail(f"there is no scenario '{name}'.", f"There are: {', '.join(SCENARIOS)}.")
    write_whole(out, design_json(SCENARIOS[name]()).encode())


@app.command()
def check(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False) -> None:
    """Say what will not fit, print, hold, stay cool or go together."""
    design = _design(file)
    try:
        found = report(design, ARCHIVE_WORKSHOP)
    except DesignError as e:
        _fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(json.dumps(found, indent=1, ensure_ascii=False))
    else:
        for c in found["concerns"]:
            typer.echo(f"{c['severity']:6} {c['title']}  ({c['measured']:g} {c['sense']} {c['limit']:g} {c['unit']})")
            for r in c["remedies"]:
                typer.echo(f"         - {r['label']}{'' if r['effect']['clears'] else ' (does not clear it alone)'}")
        for key, t in found["tally"].items():
            typer.echo(f"{key:10} {t['value']:g} {t['unit']}")
    raise typer.Exit(1 if found["stops"] else 0)


@app.command("apply")
def apply_(
    file: Path, edit: Annotated[Path, typer.Option("--edit")], out: Annotated[Path, typer.Option("--out")]
) -> None:
    """Do an edit, or a list of edits, to a design."""
    design, data = _design(file), _load(edit)
    try:
        todo: Edit = Together(edits=tuple(read_edit(e) for e in data)) if isinstance(data, list) else read_edit(data)
        changed = apply(design, todo)
    except DesignError as e:
        _fail(f"{edit}: {e}.", f"{e.kept} {e.do}")
    write_whole(out, design_json(changed).encode())


@app.command()
def export(
    file: Path,
    out: Annotated[Path, typer.Option("--out")],
    formats: Annotated[str, typer.Option("--formats")] = ",".join(FORMATS),
) -> None:
    """Write 3MF, STL and STEP of every piece, the bill of materials and the design into a folder."""
    wanted = tuple(f.strip() for f in formats.split(",") if f.strip())
    unknown = [f for f in wanted if f not in FORMATS]
    if unknown or not wanted:
        _fail(f"formats: '{formats}' is not known.", f"Take some of {', '.join(FORMATS)}.")
    design = _design(file)
    try:
        a = analyse(design, ARCHIVE_WORKSHOP)
        files = package(a, wanted)  # type: ignore[arg-type]
    except (DesignError, ExportError) as e:
        _fail(f"{file}: {e}.", "No file was written.")
    try:
        out.mkdir(parents=True, exist_ok=True)
    except OSError as e:
        _fail(f"{out}: cannot be made ({e.strerror}).")
    for name, data in files.items():
        write_whole(out / name, data)
    typer.echo(f"{len(files)} files in {out}")
    from rhombex.core.concerns import judge

    raise typer.Exit(1 if any(f.severity == "stop" for f in judge(a)) else 0)


@app.command()
def serve(
    host: Annotated[str, typer.Option()] = "127.0.0.1",
    port: Annotated[int, typer.Option(min=0, max=65535)] = 8137,
    data: Annotated[Path, typer.Option("--data")] = Path("data"),
    demo: Annotated[bool, typer.Option(help="Start with the sample designs where there are none.")] = False,
) -> None:
    """Start Rhombex for the browser."""
    from rhombex.web.server import run

    sys.exit(run(host, port, data, demo))


if __name__ == "__main__":
    app()
