"""The rim of the two halves: a tongue on the lid in a groove of the base."""

from __future__ import annotations

from rhombex.core.design import Design
from rhombex.core.fit.allowance import fit
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.reference import val
from rhombex.core.trail import Frozen
from rhombex.core.workshop.printer import Printer


class Rim(Frozen):
    """Tongue on the lid, groove in the base; the wall is thickened inward to `band_mm` where it needs to be."""

    line_mm: float
    cheek_mm: float
    tongue_mm: float
    side_gap_mm: float
    tongue_height_mm: float
    groove_depth_mm: float
    band_mm: float
    band_height_mm: float
    ramp_mm: float


def rim_of(design: Design, printer: Printer) -> Rim:
    """Sizes of tongue and groove for a printer: cheeks of two lines, the wall thickened where it is too thin."""
    line = line_width_mm(design.process_of("base"), printer)
    cheek = val("printing.feature.web_lines") * line
    tongue = val("printing.feature.tongue_width")
    side = fit(design, printer, "tongue_side", ("base", "lid"), tongue).value
    height = val("printing.feature.tongue_height")
    depth = height + fit(design, printer, "tongue_top", ("base", "lid"), height).value
    band = max(design.shell.wall_mm, tongue + 2 * side + 2 * cheek)
    return Rim(
        line_mm=line,
        cheek_mm=cheek,
        tongue_mm=tongue,
        side_gap_mm=side,
        tongue_height_mm=height,
        groove_depth_mm=depth,
        band_mm=band,
        band_height_mm=depth + 2 * cheek,
        ramp_mm=band - design.shell.wall_mm,
    )
