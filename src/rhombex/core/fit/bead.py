"""The bead: width and spacing of printed lines, and walls as whole numbers of them."""

from __future__ import annotations

from math import pi

from rhombex.core.design import Process
from rhombex.core.reference import val
from rhombex.core.workshop.printer import Printer


def nozzle_mm(process: Process, printer: Printer) -> float:
    """The nozzle a part is printed with: its own, or what sits in the printer."""
    return process.nozzle_mm or printer.nozzle_mm


def line_width_mm(process: Process, printer: Printer) -> float:
    """Width of a printed line: as asked, or 1.125 x nozzle (common practice)."""
    return process.line_width_mm or nozzle_mm(process, printer) * val("printing.bead.width_factor")


def spacing_mm(width_mm: float, layer_mm: float) -> float:
    """Distance of neighbouring lines, s = w - h (1 - pi/4): round-sided beads that just touch (geometry)."""
    return width_mm - layer_mm * (1 - pi / 4)


def wall_of_lines_mm(lines: int, width_mm: float, layer_mm: float) -> float:
    """Thickness of a wall of so many lines, w + (n - 1) s."""
    return width_mm + (lines - 1) * spacing_mm(width_mm, layer_mm)


def lines_in_wall(wall_mm: float, width_mm: float, layer_mm: float) -> float:
    """How many lines a wall is, as a fraction."""
    return 1 + (wall_mm - width_mm) / spacing_mm(width_mm, layer_mm)
