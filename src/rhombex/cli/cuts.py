"""The pieces of every part on the command line."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import Shop, design_of, fail, shop_of
from rhombex.core.plain import DesignError


def cuts_(
    file: Path,
    as_json: Annotated[bool, typer.Option("--json")] = False,
    together: Annotated[
        bool, typer.Option("--together", help="Look for a cheaper order to plan the parts in.")
    ] = False,
    workshop: Shop = None,
) -> None:
    """List the pieces that every part is cut into for the bed: cuts with what joins them and what they bear, prices of every place, and sizes."""
    from rhombex.core.advice.cut_order import cut_order
    from rhombex.core.advice.cuts import cuts_table
    from rhombex.core.analysis import analyse
    from rhombex.core.cuts.joins import WORDS

    design = design_of(file)
    try:
        a = analyse(design, shop_of(workshop), "preview")
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    if as_json:
        rows = []
        for part in cuts_table(a).parts:
            row = part.model_dump(mode="json")
            rows.append(row.pop("cuts") | {k: row[k] for k in ("why", "ways", "seams", "smaller")})
        order = {"order": cut_order(a).model_dump(mode="json")} if together else {}
        typer.echo(json.dumps({"parts": rows, **order}, indent=1, ensure_ascii=False))
    else:
        if together:
            o = cut_order(a)
            price = f"{o.pieces} pieces, price {o.price:.2f}"
            typer.echo(
                f"cheaper cut in this order: {', '.join(o.best)}: {price} instead of {o.pieces_now}, {o.price_now:.2f}"
                if o.edits
                else f"no other order of the parts is cheaper: {price}, {o.orders} looked at"
            )
        for table in cuts_table(a).parts:
            c = table.cuts
            size = " x ".join(f"{x:.1f}" for x in c.bbox_mm)
            typer.echo(f"{c.part}: {size} mm, {len(c.pieces)} {'piece' if len(c.pieces) == 1 else 'pieces'}")
            for x in c.cuts:
                through = f", through the {', '.join(x.crosses)}" if x.crosses else ""
                choice = next(s.choice for s in table.seams if s.cut == x)
                typer.echo(f"  cut across {x.axis} at {x.inside_mm:.1f} mm, {len(x.dowels)} {WORDS[x.joined]}{through}")
                typer.echo(f"    proposed: {choice.proposed}. {choice.why}")
            for p in c.pieces:
                fits = "fits the bed" if p.fits_bed else f"{p.over_mm:.1f} mm too large for the bed"
                typer.echo(f"  {p.name:16} {' x '.join(f'{x:.1f}' for x in p.bbox_mm)} mm, {fits}")
    raise typer.Exit(0 if all(p.fits_bed for c in a.cuts for p in c.pieces) else 1)
