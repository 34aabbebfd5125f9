"""What changes if: the same design printed otherwise, and the fastest way that loses no stiffness."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from rhombex.core.analysis import Analysis
from rhombex.core.design import Process
from rhombex.core.edits import Edit, PrintPart, Set
from rhombex.core.process.estimate import Level, estimate
from rhombex.core.process.stiffness import layers_for, ratio, skins_mm
from rhombex.core.process.stiffness import plates as plates_of
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop import Printer

Progress = Callable[[float, str], None]


class WhatIf(Frozen):
    """One way to print everything: its cost, its stiffness against now (of all parts the one that loses most), and the
    edits that bring it about. `best`: the fastest found on its nozzle that loses no stiffness."""

    label: str
    time_s: Shown
    mass_g: Shown
    money: Shown
    stiffness: Shown
    fits: bool
    best: bool
    edits: tuple[Edit, ...]


Change = tuple[str, Mapping[str, object], Printer | None]


def _ways(a: Analysis) -> list[Change]:
    """The single changes that come to mind, where they are a change."""
    p, nozzle = a.design.process, a.printer.nozzle_mm
    top = round(val("printing.stiffness.layer_most") * nozzle, 2)
    ways: list[Change] = []
    for layer in (0.16, 0.2, 0.28, 0.32, 0.4):
        if layer <= top + 1e-9 and abs(layer - p.layer_mm) > 0.015:
            ways.append((f"{layer:g} mm layers", _layers(p, layer), None))
    ways += [(f"{n} perimeters", {"perimeters": n}, None) for n in (2, 3, 4, 5) if n != p.perimeters]
    ways += [(f"{f:.0%} infill", {"infill": f}, None) for f in (0.1, 0.3) if abs(f - p.infill) > 0.01]
    for other in a.workshop.printers:
        if abs(other.nozzle_mm - nozzle) > 0.01:
            ways.append((f"{other.nozzle_mm:g} nozzle ({other.name})", {}, other))
    return ways


def _layers(p: Process, layer: float) -> dict[str, object]:
    """Another layer height with skins that are no thinner than now."""
    return {
        "layer_mm": layer,
        "first_layer_mm": None,
        "top_layers": layers_for(p.top_layers * p.layer_mm, layer),
        "bottom_layers": layers_for(p.bottom_layers * p.layer_mm, layer),
    }


def _edits(a: Analysis, change: Mapping[str, object], printer: Printer | None) -> tuple[Edit, ...]:
    edits: list[Edit] = [Set(path=f"process.{k}", value=v) for k, v in change.items()]
    for own in a.design.part_processes:
        edits.append(PrintPart(part=own.part, process=own.process.model_copy(update=change)))
    if printer is not None:
        edits.insert(0, Set(path="printer", value=printer.key))
    return tuple(edits)


def _try(a: Analysis, label: str, change: Mapping[str, object], printer: Printer | None, level: Level) -> WhatIf:
    machine = printer or a.printer
    time = mass = money = 0.0
    stiff: list[float] = []
    for p in a.pieces:
        process = a.design.process_of(p.part).model_copy(update=change)
        e = estimate(a.piece_recipes[p.name], process, machine, level)
        time += e.time_s.value
        mass += e.mass_g.value
        money += e.money
    for part in dict.fromkeys(p.part for p in a.pieces):
        old = a.design.process_of(part)
        stiff.append(ratio(a.design, part, (old, a.printer), (old.model_copy(update=change), machine)))
    x, y, z = machine.bed_mm
    room = 2 * machine.margin_mm
    fits = all(
        max(p.bbox_mm[:2]) <= max(x, y) - room and min(p.bbox_mm[:2]) <= min(x, y) - room and p.bbox_mm[2] <= z
        for p in a.pieces
    )
    return WhatIf(
        label=label,
        time_s=time,
        mass_g=mass,
        money=money,
        stiffness=min(stiff, default=1.0),
        fits=fits,
        best=False,
        edits=_edits(a, change, printer),
    )


def fastest_as_stiff(
    a: Analysis, printer: Printer | None = None, progress: Progress = lambda share, what: None
) -> WhatIf | None:
    """The fastest way on a printer that leaves no part less stiff than now, from a small search; None if there is none.

    For each layer height and infill the fewest perimeters and solid layers are taken that keep every plate's stiffness.
    """
    machine = printer or a.printer
    top = round(val("printing.stiffness.layer_most") * machine.nozzle_mm, 2)
    parts = list(dict.fromkeys(x.part for x in a.pieces))
    found: list[WhatIf] = []
    heights = [h for h in (0.2, 0.24, 0.28, 0.3, 0.4, 0.45) if h <= top + 1e-9]
    for k, layer in enumerate(heights):
        progress(k / len(heights), f"{layer:g} mm layers on {machine.name}")
        for infill in sorted({0.1, 0.15, round(a.design.process.infill, 2)}):
            change = _as_stiff(a, machine, parts, layer, infill)
            if change is not None:
                label = (
                    f"{layer:g} mm layers, {change['perimeters']} perimeters, "
                    f"{change['top_layers']} + {change['bottom_layers']} solid layers, {infill:.0%} infill"
                )
                found.append(
                    _try(a, label if printer is None else f"{printer.name}: {label}", change, printer, "preview")
                )
    return min(found, key=lambda w: w.time_s, default=None)


def _as_stiff(a: Analysis, machine: Printer, parts: list[str], layer: float, infill: float) -> dict[str, object] | None:
    """The least change that keeps every plate as stiff at another layer height and infill."""
    p = a.design.process
    plates = [x for part in parts for x in plates_of(a.design, part)]
    standing = any(x.pose == "standing" for x in plates)
    skin = max((max(skins_mm(x, p, a.printer)) for x in plates if x.pose == "lying"), default=p.top_layers * p.layer_mm)
    for more in range(-1, 5):
        n = layers_for(skin, layer) + more
        if n < 2:
            continue
        for perimeters in range(2, 9) if standing else (min(max(2, p.perimeters), 3),):
            change: dict[str, object] = {
                "layer_mm": layer,
                "first_layer_mm": None,
                "perimeters": perimeters,
                "infill": infill,
                "top_layers": n,
                "bottom_layers": n,
            }
            if all(
                ratio(
                    a.design,
                    part,
                    (a.design.process_of(part), a.printer),
                    (a.design.process_of(part).model_copy(update=change), machine),
                )
                >= 0.999
                for part in parts
            ):
                return change
    return None


def what_if(a: Analysis, progress: Progress = lambda share, what: None) -> tuple[WhatIf, ...]:
    """Now, the fastest ways that lose no stiffness on each nozzle, and the single changes; all at the settled level."""
    ways = _ways(a)
    now = _try(a, "as it is", {}, None, "settled")
    out = [now]
    nozzles = {a.printer.nozzle_mm: None} | {
        p.nozzle_mm: p for p in a.workshop.printers if abs(p.nozzle_mm - a.printer.nozzle_mm) > 0.01
    }
    for printer in nozzles.values():
        best = fastest_as_stiff(a, printer, progress)
        if best is not None:
            change = {e.path.removeprefix("process."): e.value for e in best.edits if isinstance(e, Set)}
            change.pop("printer", None)
            settled = _try(a, best.label, change, printer, "settled")
            if settled.time_s < now.time_s * 0.99:
                out.append(settled.model_copy(update={"best": True}))
    for k, (label, single, printer) in enumerate(ways):
        progress(k / len(ways), label)
        out.append(_try(a, label, single, printer, "settled"))
    return tuple(out)
