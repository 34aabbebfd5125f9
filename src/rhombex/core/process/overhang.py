"""What of a part has unsupported overhangs in this orientation: room that wants support, and the area that would rest on it."""

from __future__ import annotations

from rhombex.core.design import Process
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid
from rhombex.core.memo import Memo
from rhombex.core.process.settings import settings
from rhombex.core.process.slices import Slices
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.printer import Printer


class Overhang(Frozen):
    """Room under surfaces that lean out too far or span too wide, cm3, and their area, cm2; the longest bridge of the part that is
    longer than comes out clean, mm (0: there is none)."""

    room_cm3: Shown
    area_cm2: Shown
    bridge_mm: Shown


_known: Memo[tuple[str, float, float], Overhang] = Memo(400)


def overhang_known(recipe: Solid, process: Process, printer: Printer) -> Overhang | None:
    """What was found before, or None."""
    return _known.get(_key(recipe, process, printer))


def _key(recipe: Solid, process: Process, printer: Printer) -> tuple[str, float, float]:
    return (recipe.digest, process.layer_mm, nozzle_mm(process, printer))


def overhang(recipe: Solid, process: Process, printer: Printer) -> Overhang:
    """What hangs free of a part as it lies; remembered by content hash."""

    def look() -> Overhang:
        asked = process.model_copy(update={"supports": True})
        slices = Slices(mesh_kernel.evaluate(recipe), settings(asked, printer))
        room, area = slices.support_mm3() / 1000, slices.support_scar_mm2() / 100
        return Overhang(room_cm3=room, area_cm2=area, bridge_mm=slices.longest_bridge_mm())

    return _known.make(_key(recipe, process, printer), look)
