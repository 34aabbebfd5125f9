"""Corners and sheet: printed corner pieces on a floor, printed or of sheet, hold bought sheet on the other five sides."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Built
from rhombex.core.constructions import CornersAndSheet
from rhombex.core.design import Design
from rhombex.core.faults import Faults
from rhombex.core.shell.framed import build_framed
from rhombex.core.shell.framing import COVERS, Framing
from rhombex.core.workshop.printer import Printer


def build(design: Design, kind: CornersAndSheet, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """The case of printed corners and bought sheet."""
    framing = Framing(
        kind=kind.kind,
        corner_mm=kind.corner_mm,
        reach_mm=kind.reach_mm,
        called="corner",
        sheet=(*COVERS, "bottom") if kind.floor == "sheet" else COVERS,
        material=kind.material,
        holding=kind.joint_thread,
        wrap=kind.wrap,
        bend_mm=kind.bend_mm,
        screws_mm={x: getattr(kind, x) for x in ("cover_screw_mm", "top_screw_mm", "beam_screw_mm")},
    )
    return build_framed(design, framing, printer, things, faults)
