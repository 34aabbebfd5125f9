"""What changes if: the same design printed otherwise, and the fastest way that loses no stiffness."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Literal, NamedTuple

from rhombex.core.analysis import Analysis
from rhombex.core.design import Design, Process
from rhombex.core.edits import Edit, PrintPart, Set
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.geometry import mesh_kernel
from rhombex.core.memo import Memo
from rhombex.core.process.estimate import Level, estimate
from rhombex.core.process.filament import price_per_kg
from rhombex.core.process.presets import presets
from rhombex.core.process.settings import settings
from rhombex.core.process.simulate import rough_seconds
from rhombex.core.process.slices import Slices
from rhombex.core.process.stiffness import layers_for, ratio, skins_mm
from rhombex.core.process.stiffness import plates as plates_of
from rhombex.core.progress import Progress, silent
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Workshop


class WhatIf(Frozen):
    """One way to print everything: its cost, its stiffness against now (of all parts the one that loses most), and the
    edits that bring it about. `best`: the fastest found on its nozzle that loses no stiffness."""

    group: Literal["now", "as stiff", "one change", "purpose"]
    label: str
    why: str
    time_s: Shown
    mass_g: Shown
    money: Shown
    stiffness: Shown
    fits: bool
    best: bool
    edits: tuple[Edit, ...]


Change = tuple[str, Mapping[str, object], Printer | None]
NEW_NOZZLE: Mapping[str, object] = {"line_width_mm": None, "first_layer_mm": None}  # these go with the old nozzle


class Place(NamedTuple):
    """Where to print: another printer or none, and the nozzle if it is swapped."""

    printer: Printer | None
    nozzle_mm: float
    swapped: bool
    name: str

    def change(self) -> dict[str, object]:
        if self.swapped:
            return {**NEW_NOZZLE, "nozzle_mm": self.nozzle_mm}
        return {**NEW_NOZZLE, "nozzle_mm": None} if self.printer is not None else {}


def _ways(a: Analysis) -> list[Change]:
    """The single changes that come to mind, where they are a change."""
    p = a.design.process
    top = round(val("printing.stiffness.layer_most") * nozzle_mm(p, a.printer), 2)
    heights = [h for h in (0.12, 0.16, 0.2, 0.28, 0.32, 0.4, 0.45) if h <= top + 1e-9]
    finer, coarser = [h for h in heights if h < p.layer_mm - 0.015], [h for h in heights if h > p.layer_mm + 0.015]
    ways: list[Change] = [(f"{h:g} mm layers", other_layers(p, h), None) for h in (*finer[-1:], *coarser[:2])]
    ways += [(f"{n} perimeters", {"perimeters": n}, None) for n in (p.perimeters - 1, p.perimeters + 1) if 1 <= n <= 20]
    ways += [(f"{f:.0%} infill", {"infill": f}, None) for f in (0.1, 0.3) if abs(f - p.infill) > 0.01]
    ways += [(f"{x.nozzle_mm:g} nozzle ({x.name})", x.change(), x.printer) for x in _nozzles(a)]
    return ways


def _nozzles(a: Analysis) -> list[Place]:
    """The nozzles to be had besides the one in use: those kept for this printer, and for each other one a printer of the
    workshop, one whose bed takes all pieces if there is one."""
    now = nozzle_mm(a.design.process, a.printer)
    spare = {x for x in (a.printer.nozzle_mm, *a.printer.spare_nozzles_mm) if abs(x - now) > 0.01}
    out = [Place(None, x, x != a.printer.nozzle_mm, f"swapped on {a.printer.name}") for x in sorted(spare)]
    others: dict[float, Printer] = {}
    for p in a.workshop.printers:
        if abs(p.nozzle_mm - now) > 0.01 and p.nozzle_mm not in spare and (p.nozzle_mm not in others or _fits(a, p)):
            others[p.nozzle_mm] = p
    return out + [Place(p, p.nozzle_mm, False, p.name) for p in others.values()]


def _fits(a: Analysis, printer: Printer) -> bool:
    x, y, z = printer.bed_mm
    room = 2 * printer.margin_mm
    return all(
        max(p.bbox_mm[:2]) <= max(x, y) - room and min(p.bbox_mm[:2]) <= min(x, y) - room and p.bbox_mm[2] <= z
        for p in a.pieces
    )


def other_layers(p: Process, layer: float) -> dict[str, object]:
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


def tried(
    a: Analysis,
    label: str,
    change: Mapping[str, object],
    printer: Printer | None,
    level: Level,
    only: str | None = None,
) -> WhatIf:
    """Everything, or `only` the pieces of one part, printed with a process that is changed."""
    machine = printer or a.printer
    time = mass = money = 0.0
    stiff: list[float] = []
    pieces = [p for p in a.pieces if only in (None, p.part)]
    for p in pieces:
        process = a.design.process_of(p.printed_as).model_copy(update=change)
        e = estimate(a.piece_recipes[p.name], process, machine, level)
        time += e.time_s.value
        mass += e.mass_g.value
        money += e.mass_g.value / 1000 * price_per_kg(a.workshop, process).value
    for part in dict.fromkeys(p.part for p in pieces):
        old = a.design.process_of(part)
        stiff.append(ratio(a.design, a.case.part(part), (old, a.printer), (old.model_copy(update=change), machine)))
    return WhatIf(
        group="one change",
        label=label,
        why="",
        time_s=time,
        mass_g=mass,
        money=money,
        stiffness=min(stiff, default=1.0),
        fits=_fits(a, machine),
        best=False,
        edits=_edits(a, change, printer),
    )


def fastest_as_stiff(a: Analysis, place: Place | None = None, progress: Progress = silent) -> Change | None:
    """The fastest way, on another printer or nozzle if `place` names one, that leaves no part less stiff than now, from a small search; None if there is none.

    For each layer height and infill the fewest perimeters and solid layers are taken that keep every plate's stiffness.
    """
    printer = place.printer if place else None
    machine = printer or a.printer
    nozzle = place.nozzle_mm if place else nozzle_mm(a.design.process, a.printer)
    base = place.change() if place else {}
    top = round(val("printing.stiffness.layer_most") * nozzle, 2)
    parts = list(dict.fromkeys(x.part for x in a.pieces))
    best: tuple[float, str, dict[str, object]] | None = None
    heights = [h for h in (0.2, 0.24, 0.28, 0.3, 0.4, 0.45) if h <= top + 1e-9]
    for k, layer in enumerate(heights):
        progress(k / len(heights), f"{nozzle:g} nozzle on {machine.name}, {layer:g} mm layers")
        for infill in sorted({0.1, 0.15, round(a.design.process.infill, 2)}):
            change = _as_stiff(a, machine, base, parts, layer, infill)
            if change is None:
                continue
            label = (
                f"{layer:g} mm layers, {change['perimeters']} perimeters, "
                f"{change['top_layers']} + {change['bottom_layers']} solid layers, {infill:.0%} infill"
            )
            seconds = 0.0
            for p in a.pieces:
                process = a.design.process_of(p.printed_as).model_copy(update=change)
                mesh = mesh_kernel.evaluate(a.piece_recipes[p.name])
                seconds += rough_seconds(Slices(mesh, settings(process, machine)))
            if best is None or seconds < best[0]:
                best = (seconds, label if place is None else f"{place.name}, {nozzle:g} nozzle: {label}", change)
    return None if best is None else (best[1], best[2], printer)


def _as_stiff(
    a: Analysis, machine: Printer, base: Mapping[str, object], parts: list[str], layer: float, infill: float
) -> dict[str, object] | None:
    """The least change that keeps every plate as stiff at another layer height and infill."""
    p = a.design.process
    plates = [x for part in parts for x in plates_of(a.design, a.case.part(part))]
    standing = any(x.pose == "standing" for x in plates)
    skin = max((max(skins_mm(x, p, a.printer)) for x in plates if x.pose == "lying"), default=p.top_layers * p.layer_mm)
    for more in range(-1, 5):
        n = layers_for(skin, layer) + more
        if n < 2:
            continue
        for perimeters in range(2, 9) if standing else (min(max(2, p.perimeters), 3),):
            change: dict[str, object] = {
                **base,
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
                    a.case.part(part),
                    (a.design.process_of(part), a.printer),
                    (a.design.process_of(part).model_copy(update=change), machine),
                )
                >= 0.999
                for part in parts
            ):
                return change
    return None


def what_if(
    a: Analysis,
    settle: bool = True,
    progress: Progress = silent,
    found: Callable[[tuple[WhatIf, ...]], None] = lambda ways: None,
) -> tuple[WhatIf, ...]:
    """Now, the fastest ways that lose no stiffness on each nozzle, the single changes, and the purposes; remembered. `found` is told
    the ways that are known so far.

    Times are those of the preview, all scaled so that the way things are now comes out settled: what the preview gets
    wrong it gets wrong alike. `settle`: the fastest ways are settled themselves.
    """
    key = (a.design, a.workshop, settle)
    known = _known.get(key)
    if known is None:
        return _known.put(key, _what_if(a, settle, progress, found))
    found(known)
    return known


_known: Memo[tuple[Design, Workshop, bool], tuple[WhatIf, ...]] = Memo(16)


def _what_if(
    a: Analysis, settle: bool, progress: Progress, found: Callable[[tuple[WhatIf, ...]], None]
) -> tuple[WhatIf, ...]:
    now = tried(a, "as it is", {}, None, "settled").model_copy(update={"group": "now"})
    plain = tried(a, "", {}, None, "preview")
    scale = (now.time_s / plain.time_s, now.mass_g / plain.mass_g)
    fast: list[WhatIf] = []
    places: list[Place | None] = [None, *_nozzles(a)]
    steps = len(places) + 2  # the single ways and the purposes make two more

    def part(k: int) -> Progress:
        return lambda share, what: progress((k + share) / steps, what)

    for k, place in enumerate(places):
        fastest = fastest_as_stiff(a, place, part(k))
        if fastest is not None:
            way = tried(a, *fastest, "settled") if settle else _scaled(tried(a, *fastest, "preview"), scale)
            if way.time_s < now.time_s * 0.99:
                fast.append(way.model_copy(update={"best": True, "group": "as stiff"}))
        found((now, *sorted(fast, key=lambda w: w.time_s)))
    out = [now, *sorted(fast, key=lambda w: w.time_s)]
    ways = _ways(a)
    for k, (label, single, printer) in enumerate(ways):
        part(steps - 2)(k / len(ways), label)
        out.append(_scaled(tried(a, label, single, printer, "preview"), scale))
    purposes = presets(a.design.process, a.printer)
    for k, preset in enumerate(purposes):
        part(steps - 1)(k / len(purposes), preset.label)
        way = _scaled(tried(a, preset.label, preset.change, None, "preview"), scale)
        out.append(way.model_copy(update={"group": "purpose", "why": preset.why}))
    return tuple(out)


def _scaled(w: WhatIf, scale: tuple[float, float]) -> WhatIf:
    return w.model_copy(
        update={"time_s": w.time_s * scale[0], "mass_g": w.mass_g * scale[1], "money": w.money * scale[1]}
    )
