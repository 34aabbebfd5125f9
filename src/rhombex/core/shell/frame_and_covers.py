"""Frame and covers: beams from floor to top in the corners, covers and floor printed or of sheet."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Built
from rhombex.core.constructions import FrameAndCovers
from rhombex.core.design import Design
from rhombex.core.faults import Faults
from rhombex.core.shell.framed import build_framed
from rhombex.core.shell.framing import Framing
from rhombex.core.workshop.printer import Printer


def build(design: Design, kind: FrameAndCovers, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """The case of a frame with covers."""
    framing = Framing(
        kind=kind.kind,
        corner_mm=kind.beam_mm,
        reach_mm=None,
        called="beam",
        sheet=kind.sheet,
        material=kind.material,
        holding=kind.joint_thread,
        screws_mm={x: getattr(kind, x) for x in ("cover_screw_mm", "top_screw_mm", "beam_screw_mm")},
        magnets=kind.magnets,
    )
    return build_framed(design, framing, printer, things, faults)
