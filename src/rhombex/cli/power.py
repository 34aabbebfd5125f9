"""Watts on the command line."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import Shop, design_of, fail, shop_of
from rhombex.core.plain import DesignError


def power_(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False, workshop: Shop = None) -> None:
    """Say what every component takes by rail, what feeds it, and whether supplies, rails, slots and plugs bear it."""
    from rhombex.core.analysis import analyse
    from rhombex.core.concerns import judge
    from rhombex.core.power.draws import budget

    design = design_of(file)
    try:
        a = analyse(design, shop_of(workshop), "preview")
        found = budget(design, a.things)
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    codes = ("supply-too-small", "rail-over-rating", "plug-over-limit", "nothing-feeds", "plugs-missing")
    concerns = [f for f in judge(a) if f.code in codes]
    if as_json:
        row = found.model_dump(mode="json") | {"concerns": [f.model_dump(mode="json") for f in concerns]}
        typer.echo(json.dumps(row, indent=1, ensure_ascii=False))
    else:
        for x in found.branches:
            w = x.watts
            typer.echo(
                f"{x.name:20} {x.rail:6} {w.idle:7.1f} {w.typical:7.1f} {w.peak:7.1f} W  from {x.source or 'nothing'}"
            )
        for s in found.sources:
            typer.echo(f"{s.name}: {s.watts.peak:.1f} of {s.rating_w:g} W, margin {s.margin:.0%}")
        for c in found.cables:
            typer.echo(f"cable {c.plug}: {c.source} to {c.component}")
        for f in concerns:
            typer.echo(f"{f.severity:6} {f.title}")
    raise typer.Exit(1 if any(f.severity == "stop" for f in concerns) else 0)
