"""What a process on a printer comes to, in numbers: widths, speeds under all their caps, accelerations."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

from rhombex.core.design import Process, Speeds
from rhombex.core.fit.bead import line_width_mm, nozzle_mm, spacing_mm
from rhombex.core.reference import val
from rhombex.core.workshop.printer import Printer

SPARSEST = 0.005  # less infill than this is none: its lines would lie a hand apart


class Kind(IntEnum):
    """What a path is for. TRAVEL carries retractions; WAIT is slowing down for the least layer time."""

    OUTER = 0
    INNER = 1
    SOLID = 2
    SPARSE = 3
    BRIDGE = 4
    SUPPORT = 5
    BRIM = 6
    TRAVEL = 7
    WAIT = 8


KIND_NAMES = {
    Kind.OUTER: "outer perimeter",
    Kind.INNER: "inner perimeters",
    Kind.SOLID: "solid layers",
    Kind.SPARSE: "infill",
    Kind.BRIDGE: "bridges",
    Kind.SUPPORT: "support",
    Kind.BRIM: "brim",
    Kind.TRAVEL: "travel",
    Kind.WAIT: "cooling",
}
EXTRUDED = tuple(Kind)[:7]


@dataclass(frozen=True)
class Settings:
    """All that laying out and timing need. Speeds by `Kind` in mm/s."""

    layer_mm: float
    first_mm: float
    width_mm: float
    perimeters: int
    top: int
    bottom: int
    infill: float
    infill_kind: str
    lines_joined: bool
    brim_mm: float
    brim_inside: bool
    supports: bool
    speed: tuple[float, ...]
    first_speed: tuple[float, ...]
    accel: tuple[float, ...]
    corner: float
    far_mm: float
    retract_s: float
    layer_change_s: float
    layer_min_s: float
    slowest: float
    flow: float
    heat_up_s: float
    changes_at_mm: tuple[float, ...]
    change_s: float
    purge_mm3: float
    support_density: float
    overhang_deg: float
    bridge_mm: float

    @property
    def spacing_mm(self) -> float:
        return spacing_mm(self.width_mm, self.layer_mm)

    def bead_mm2(self, first: bool) -> float:
        """Cross-section of a bead: layer height x spacing, which is the area of a round-sided bead (geometry)."""
        h = self.first_mm if first else self.layer_mm
        return h * self.spacing_mm


def flow_cap(process: Process, printer: Printer) -> float:
    """Flow in mm3/s that filament and nozzle bear: the filament's at a 0.4 nozzle, more through a wider one, at most
    what the printer's hot end melts (common practice)."""
    wider: float = max(0.5, (nozzle_mm(process, printer) / 0.4) ** val("printing.speed.flow_exponent"))
    return min(val(f"materials.{process.filament}.flow") * wider, printer.flow_mm3_s)


def held_speeds(s: Settings) -> Speeds:
    """The speeds that come of those asked for, under every cap."""
    outer, inner, solid, infill, bridge, support, _, travel, _ = s.speed
    return Speeds(
        outer_mm_s=outer,
        inner_mm_s=inner,
        solid_mm_s=solid,
        infill_mm_s=infill,
        bridge_mm_s=bridge,
        support_mm_s=support,
        first_mm_s=max(s.first_speed[:6]),
        travel_mm_s=travel,
    )


def settings(process: Process, printer: Printer) -> Settings:
    """Resolve a process on a printer. Speeds are held under the flow cap and the printer's own limits."""
    width = line_width_mm(process, printer)
    flow = flow_cap(process, printer)
    first = process.first_layer_mm or process.layer_mm
    slow = val(f"materials.{process.filament}.speed_factor")
    s = process.speeds
    asked = (
        s.outer_mm_s,
        s.inner_mm_s,
        s.solid_mm_s,
        s.infill_mm_s,
        s.bridge_mm_s,
        s.support_mm_s,
        s.first_mm_s,
    )

    def held(v: float, layer: float) -> float:
        return max(0.5, min(v * slow, printer.speed_mm_s, flow / (layer * spacing_mm(width, layer))))

    travel = min(s.travel_mm_s, printer.speed_mm_s)
    return Settings(
        layer_mm=process.layer_mm,
        first_mm=first,
        width_mm=width,
        perimeters=process.perimeters,
        top=process.top_layers,
        bottom=process.bottom_layers,
        infill=process.infill if process.infill >= SPARSEST else 0.0,
        infill_kind=process.infill_kind,
        lines_joined=process.lines_joined,
        brim_mm=process.brim_mm,
        brim_inside=process.brim_inside,
        supports=process.supports,
        speed=(*(held(v, process.layer_mm) for v in asked), travel, travel),
        first_speed=(*(held(min(v, s.first_mm_s), first) for v in asked), travel, travel),
        accel=(*((printer.accel_mm_s2,) * 7), printer.travel_accel_mm_s2, printer.accel_mm_s2),
        corner=printer.corner_mm_s,
        far_mm=val("printing.speed.retract_from"),
        retract_s=2 * printer.retract_mm / printer.retract_mm_s,
        layer_change_s=val("printing.speed.layer_change"),
        layer_min_s=process.layer_min_s,
        slowest=val("printing.speed.slowest"),
        flow=flow,
        heat_up_s=printer.heat_up_s,
        changes_at_mm=process.changes_at_mm,
        change_s=printer.change_s,
        purge_mm3=printer.purge_mm3,
        support_density=val("printing.feature.support_density"),
        overhang_deg=val("printing.feature.overhang"),
        bridge_mm=val("printing.feature.bridge_clean"),
    )
