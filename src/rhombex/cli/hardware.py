"""Joints, screws and what is to be bought on the command line."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated

import typer

from rhombex.cli.files import Shop, design_of, fail, shop_of
from rhombex.core.plain import DesignError


def hardware_(file: Path, as_json: Annotated[bool, typer.Option("--json")] = False, workshop: Shop = None) -> None:
    """List every screwed joint with the screw in its stack, the fewest kinds of screws that serve, and what is to be bought."""
    from rhombex.core.advice.hardware import hardware_table
    from rhombex.core.analysis import analyse
    from rhombex.core.concerns import judge

    design = design_of(file)
    try:
        a = analyse(design, shop_of(workshop), "preview")
        found = hardware_table(a)
    except DesignError as e:
        fail(f"{file}: {e}.", e.do)
    stops = [f for f in judge(a) if f.stop == "hardware" and f.severity == "stop"]
    if as_json:
        row = found.model_dump(mode="json") | {"concerns": [f.model_dump(mode="json") for f in stops]}
        typer.echo(json.dumps(row, indent=1, ensure_ascii=False))
    else:
        for r in found.rows:
            g = r.joint
            reach = r.reach.tool if r.reach.free else f"not reached: {r.reach.blocked_by}"
            typer.echo(f"{g.key:20} {g.count:3} x {r.screw or 'stud':22} {g.holding:15} {reach}")
        magnets = found.magnets
        for p in magnets.parts if magnets else ():
            poles = "".join(q.pole for q in p.pockets)
            lift = f"lifted with {p.held.lift_n.value:.0f} N" if p.held.lift_n else "no notch to lift it by"
            pull = f"{p.held.low_n.value:.0f} to {p.held.high_n.value:.0f} N"
            typer.echo(
                f"{p.held.part:20} {len(p.pockets):3} pairs {magnets.words if magnets else '':18} {pull:15} {poles}, {lift}"
            )
        if found.snaps and found.snaps.holds:
            h = found.snaps.holds
            bent = f"bent by {h.strain.value:.2f} % of at most {h.bears.value:.2f}"
            typer.echo(
                f"{'hooks':20} {h.count:3} of {found.snaps.wanted}, {bent}, pulled off with {h.off_n.value:.0f} N"
            )
        least = ", ".join(k.words for k in found.fewest.least)
        proof = "proven" if found.fewest.proven else "not proven"
        typer.echo(f"kinds of screws: {len(found.fewest.now)} now, least {len(found.fewest.least)} ({proof}): {least}")
        for x in found.shopping.lines:
            buy = (
                f"buy {x.packs} x {x.pack}, {x.money.value:.2f} EUR" if x.packs else "there" if x.known else "not sold"
            )
            typer.echo(f"{x.item:20} {x.size:16} {x.need:3} needed {x.have:3} there  {buy}")
        for s in found.shopping.sheets:
            bent = f", bent {s.bends} times" if s.bends else ""
            size = f"{s.size_mm[0]:.1f} x {s.size_mm[1]:.1f} x {s.thick_mm:g}"
            typer.echo(f"{s.part:20} {size:24} {s.material}{bent}, cut to size, {s.money.value:.2f} EUR")
        typer.echo(f"to buy: {found.shopping.money:.2f} EUR")
        for f in stops:
            typer.echo(f"stop   {f.title}")
    raise typer.Exit(1 if stops else 0)
