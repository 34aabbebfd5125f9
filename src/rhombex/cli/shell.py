"""The constructions of a case on the command line."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import Shop, design_of, fail, shop_of, write_whole
from rhombex.core.plain import DesignError


def constructions(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False, workshop: Shop = None) -> None:
    """Say which ways there are to make the case of a design, with the numbers of each, and which is recommended."""
    from rhombex.core.choices import choices

    try:
        ways = choices(design_of(file), shop_of(workshop), share=None)
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    if as_json:
        rows = [w.model_dump(mode="json") for w in ways]
        typer.echo(json.dumps({"constructions": rows}, indent=1, ensure_ascii=False))
        return
    for w in ways:
        mark = "*" if w.recommended else "=" if w.now else " "
        typer.echo(
            f"{mark} {w.kind:18} {w.litres:6.2f} l {w.pieces:3} pieces {w.sheets:2} sheets {w.mass_g:7.0f} g {w.time_h:6.1f} h "
            f"{w.money:7.2f} EUR {w.screws:3} screws of {w.screw_kinds} kinds"
        )
        typer.echo(f"                     {w.why}." + ("" if w.suits else " Does not suit."))


def construct(
    file: Path,
    kind: Annotated[str, typer.Option("--as", help="a construction, as `constructions` names it")],
    out: Annotated[Path, typer.Option("--out")],
    workshop: Shop = None,
) -> None:
    """Make the case of a design another way; what is placed, cut open and fitted stays."""
    from rhombex.core.apply import apply
    from rhombex.core.choices import made_so
    from rhombex.core.edits import Together
    from rhombex.core.exchange.design_json import design_json
    from rhombex.core.shell.offers import KINDS

    if kind not in KINDS:
        fail(f"as: there is no construction '{kind}'.", f"There are: {', '.join(KINDS)}.")
    design = design_of(file)
    try:
        changed = apply(design, Together(edits=made_so(design, shop_of(workshop), kind)))
    except DesignError as e:
        fail(f"{file}: {e}.", f"Nothing was changed. {e.do}")
    write_whole(out, design_json(changed).encode())
