"""Allowances: what an opening is larger than the thing that goes through, by feature, printer and filament."""

from __future__ import annotations

from typing import Literal

from rhombex.core.design import Process
from rhombex.core.process.bead import nozzle_mm
from rhombex.core.reference import ref, val
from rhombex.core.trail import Input, Trail, given, looked_up
from rhombex.core.workshop import Printer

Feature = Literal["port_opening", "plug_recess", "round_hole_upright", "round_hole_lying", "tongue_side", "dowel_slip"]


def allowance(feature: Feature, process: Process, printer: Printer, size_mm: float) -> Trail:
    """Allowance in mm (per side or on the diameter, as the table says), with its trail.

    base + growth with the nozzle above 0.4 + half of what the filament shrinks over the feature's size.
    """
    base = ref(f"printing.allowance.{feature}")
    nozzle = nozzle_mm(process, printer)
    wider = val("printing.allowance.nozzle_growth") * max(0.0, nozzle - 0.4)
    shrink = ref(f"materials.{process.filament}.shrink")
    value = base.value + wider + size_mm * shrink.value / 100 / 2
    return Trail(
        value=value,
        unit=base.unit,
        formula="base + 0.5 x (nozzle - 0.4) + size x shrink / 2",
        inputs=(
            looked_up("base", base),
            Input(name="nozzle", value=nozzle, unit="mm", source=printer.name),
            given("size", size_mm),
            looked_up("shrink", shrink),
        ),
        source="common practice; print a coupon to replace it",
    )


def spread_mm(feature: Feature) -> float:
    """How far real prints scatter round the allowance, +- mm."""
    key = f"printing.allowance.{feature}_spread"
    return val(key)
