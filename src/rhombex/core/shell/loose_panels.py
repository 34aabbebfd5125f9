"""Loose panels: nothing stands round the components yet, so there are no walls, seams or screws."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import Built, Case
from rhombex.core.constructions import LoosePanels
from rhombex.core.design import Design
from rhombex.core.faults import Faults
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.workshop.printer import Printer


def build(design: Design, panels: LoosePanels, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """The room that the components stand in, and no case."""
    return Built(
        Case(
            kind=panels.kind,
            box_mm=outer_size(design),
            cavity=cavity(design),
            inner_radius_mm=0.3,
            outer_radius_mm=0.0,
            line_mm=line_width_mm(design.process, printer),
        ),
        {},
    )
