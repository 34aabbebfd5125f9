"""The workshop: printers at hand. Later also spools and fit knowledge."""

from __future__ import annotations

from pydantic import Field

from rhombex.core.trail import Frozen


class Printer(Frozen):
    """A fused-filament printer: usable bed, nozzle, whether it is enclosed."""

    key: str
    name: str
    bed_mm: tuple[float, float, float]
    nozzle_mm: float = Field(gt=0, le=2)
    enclosed: bool


class Workshop(Frozen):
    printers: tuple[Printer, ...]

    def printer(self, key: str) -> Printer | None:
        """The printer of that key, or None where the workshop has none."""
        return next((p for p in self.printers if p.key == key), None)


# The three made-up printers of the sound archive's workshop corner.
ARCHIVE_WORKSHOP = Workshop(
    printers=(
        Printer(key="bench-180", name="Bench 180", bed_mm=(180, 180, 180), nozzle_mm=0.4, enclosed=False),
        Printer(key="bench-220", name="Bench 220", bed_mm=(220, 220, 250), nozzle_mm=0.4, enclosed=False),
        Printer(key="bench-300", name="Bench 300", bed_mm=(300, 300, 340), nozzle_mm=0.6, enclosed=True),
    )
)
