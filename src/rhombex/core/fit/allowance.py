"""Allowances: what an opening is larger than the thing that goes through, by feature, part, process, printer, size and direction."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

from rhombex.core.design import Design, Direction, Process
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.reference import ref, val
from rhombex.core.trail import Input, Trail, given, looked_up
from rhombex.core.workshop.own import Feature
from rhombex.core.workshop.printer import Printer

NO_SIDES: Mapping[str, Direction] = MappingProxyType({})
_AXIS: dict[Direction, int] = {"left": 0, "right": 0, "front": 1, "back": 1, "bottom": 2, "top": 2}


def allowance(feature: Feature, process: Process, printer: Printer, size_mm: float) -> Trail:
    """Allowance in mm, per side or on the diameter as the table's unit says, with its trail.

    base + growth with the nozzle above 0.4 + what the filament shrinks over the feature's size (half of it on each side). What the table
    gives in plain mm is a gap across layers: neither nozzle nor shrinkage changes it. What a coupon gave on this printer in this filament
    stands in place of the table's base.
    """
    table = ref(f"printing.allowance.{feature}")
    own = printer.own_allowance_mm(feature, process.filament)
    base = table.value if own is None else own
    first: tuple[Input, ...] = (looked_up("base", table),)
    if own is not None:
        coupon = f"coupon of {printer.name} in {process.filament}"
        first = (given("base", own, "mm", coupon), looked_up("in place of", table))
    source = _COUPON if own is None else "this workshop's coupon"
    per_side = table.unit == "mm per side"
    if not per_side and table.unit != "mm on diameter":
        return Trail(value=base, unit=table.unit, formula="base", inputs=first, source=source)
    nozzle = nozzle_mm(process, printer)
    wider = val("printing.allowance.nozzle_growth") * max(0.0, nozzle - 0.4)
    shrink = ref(f"materials.{process.filament}.shrink")
    share = 0.5 if per_side else 1.0
    return Trail(
        value=base + wider + size_mm * shrink.value / 100 * share,
        unit=table.unit,
        formula="base + 0.5 x (nozzle - 0.4) + size x shrink" + (" / 2" if per_side else ""),
        inputs=(
            *first,
            Input(name="nozzle", value=nozzle, unit="mm", source=printer.name),
            given("size", size_mm),
            looked_up("shrink", shrink),
        ),
        source=source,
    )


_COUPON = "common practice; print a coupon to replace it"


def fit(design: Design, printer: Printer, feature: Feature, parts: tuple[str, ...], size_mm: float) -> Trail:
    """The allowance of a feature in one part, or across several: each by its own process, the widest counts."""
    processes = [design.process_of(p) for p in parts] or [design.process]
    return max((allowance(feature, p, printer, size_mm) for p in processes), key=lambda t: t.value)


def round_hole(
    design: Design,
    printer: Printer,
    parts: tuple[str, ...],
    axis: int,
    size_mm: float,
    usual: Mapping[str, Direction] = NO_SIDES,
) -> tuple[Trail, Feature]:
    """The allowance of a round hole along an axis of the case (0, 1, 2), and of which kind it is: lying where the part lies so that
    the axis is level. `usual`: the side that parts lie on where no hand says otherwise; the bottom or top, where it says nothing."""
    found: list[tuple[Trail, Feature]] = []
    for part in parts:
        feature: Feature = "round_hole_upright" if upright(design, part, axis, usual) else "round_hole_lying"
        found.append((fit(design, printer, feature, (part,), size_mm), feature))
    if not found:
        return fit(design, printer, "round_hole_upright", (), size_mm), "round_hole_upright"
    return max(found, key=lambda f: f[0].value)


def upright(design: Design, part: str, axis: int, usual: Mapping[str, Direction] = NO_SIDES) -> bool:
    """Whether an axis of the case (0, 1, 2) stands upright where a part lies on the bed; `usual` as above."""
    lies = next((x.down for x in design.lies if x.part == part), usual.get(part, "bottom"))
    return _AXIS[lies] == axis


def spread_mm(feature: Feature) -> float:
    """How far real prints scatter round the allowance, +- mm."""
    return val(f"printing.allowance.{feature}_spread")
