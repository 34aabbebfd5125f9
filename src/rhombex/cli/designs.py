"""Designs on the command line: samples, what stands against one, what is different between two, edits."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from rhombex.cli.files import Shop, design_of, fail, load, shop_of, write_whole
from rhombex.core.plain import DesignError


def scenario(name: str, out: Annotated[Path, typer.Option("--out")]) -> None:
    """Write a sample design."""
    from rhombex.core.exchange.design_json import design_json
    from rhombex.demo.scenario import SCENARIOS

    if name not in SCENARIOS:
        fail(f"there is no scenario '{name}'.", f"There are: {', '.join(SCENARIOS)}.")
    write_whole(out, design_json(SCENARIOS[name]()).encode())


def check(
    file: Path,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    tried: Annotated[bool, typer.Option("--try", help="Try every remedy, and say what it does.")] = False,
    workshop: Shop = None,
) -> None:
    """Say what will not fit, print, hold, stay cool or go together."""
    from rhombex.core.report import report

    design = design_of(file)
    try:
        found = report(design, shop_of(workshop), tried)
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    if as_json:
        typer.echo(json.dumps(found, indent=1, ensure_ascii=False))
    else:
        for c in found["concerns"]:
            typer.echo(f"{c['severity']:6} {c['title']}  ({c['measured']:g} {c['sense']} {c['limit']:g} {c['unit']})")
            for r in c["remedies"]:
                typer.echo(f"         - {r['label']}{_does(r['effect']) if tried else ''}")
        for key, t in found["tally"].items():
            typer.echo(f"{key:10} {t['value']:g} {t['unit']}")
    raise typer.Exit(1 if found["stops"] else 0)


def _does(effect: dict[str, Any]) -> str:
    brings = f"; brings: {', '.join(effect['new'])}" if effect["new"] else ""
    if effect["refused"]:
        return f": not possible ({effect['refused']})"
    return f": {'resolves it' if effect['clears'] else 'does not resolve it alone'}{brings}"


def compare(
    file: Path,
    other: Path,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    workshop: Shop = None,
) -> None:
    """Say what is different between two designs."""
    from rhombex.core.looked import look
    from rhombex.core.versions import differences

    shop = shop_of(workshop)
    found = differences(*look(design_of(file), shop, "preview"), *look(design_of(other), shop, "preview"))
    if as_json:
        rows = [d.model_dump(mode="json") for d in found]
        typer.echo(json.dumps({"differences": rows}, indent=1, ensure_ascii=False))
        return
    for d in found:
        typer.echo(f"{d.of:10} {d.what}: {d.here or '-'} -> {d.there or '-'}")


def apply_(
    file: Path, edit: Annotated[Path, typer.Option("--edit")], out: Annotated[Path, typer.Option("--out")]
) -> None:
    """Do an edit, or a list of edits, to a design."""
    from rhombex.core.apply import apply
    from rhombex.core.edits import Edit, Together, read_edit
    from rhombex.core.exchange.design_json import design_json

    design, data = design_of(file), load(edit)
    try:
        todo: Edit = Together(edits=tuple(read_edit(e) for e in data)) if isinstance(data, list) else read_edit(data)
        changed = apply(design, todo)
    except DesignError as e:
        fail(f"{edit}: {e}.", f"{e.kept} {e.do}")
    write_whole(out, design_json(changed).encode())
