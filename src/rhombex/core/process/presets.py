"""Processes by purpose: what a print is for decides how it is printed (common practice)."""

from __future__ import annotations

from rhombex.core.design import Process
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.reference import val
from rhombex.core.trail import Frozen
from rhombex.core.workshop.printer import Printer


class Preset(Frozen):
    """A purpose, why it is printed so, and the fields of the process it sets."""

    key: str
    label: str
    why: str
    change: dict[str, float | int | str | bool | None]


def presets(process: Process, printer: Printer) -> tuple[Preset, ...]:
    """The purposes for a printer's nozzle; filament, brim and speeds stay as they are."""
    nozzle = nozzle_mm(process, printer)
    most = round(val("printing.stiffness.layer_most") * nozzle, 2)
    fine, usual = round(0.3 * nozzle, 2), round(0.5 * nozzle, 2)
    solid = {"top_layers": 5, "bottom_layers": 4, "infill_kind": "lines", "first_layer_mm": None}
    return (
        Preset(
            key="mock-up",
            label="quick mock-up",
            why="to see whether things fit: thick layers, thin walls, almost no infill",
            change={"layer_mm": most, "perimeters": 2, "top_layers": 2, "bottom_layers": 2, "infill": 0.08}
            | {"infill_kind": "lines", "first_layer_mm": None},
        ),
        Preset(
            key="coupon",
            label="coupon",
            why="a test of fits: printed as the part will be, solid enough to measure",
            change={"layer_mm": usual, "perimeters": 3, "infill": 0.3} | solid,
        ),
        Preset(
            key="structural",
            label="structural",
            why="loads: many perimeters put material far from the middle, where it resists bending",
            change={"layer_mm": usual, "perimeters": 5, "infill": 0.3} | solid | {"infill_kind": "triangles"},
        ),
        Preset(
            key="showy",
            label="showy",
            why="looks: fine layers, more solid layers on top, nothing shines through",
            change={"layer_mm": fine, "perimeters": 3, "infill": 0.15} | solid | {"top_layers": 7},
        ),
        Preset(
            key="mesh",
            label="infill-only mesh",
            why="a panel that breathes: no top or bottom layers, walls of about 3 mm, 20 % honeycomb",
            change={"layer_mm": usual, "perimeters": 5, "top_layers": 0, "bottom_layers": 0, "infill": 0.2}
            | {"infill_kind": "honeycomb", "first_layer_mm": None},
        ),
    )
