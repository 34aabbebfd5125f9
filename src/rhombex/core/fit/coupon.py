"""Coupons: small prints that tell what a printer needs, one joint in five places from tight to loose."""

from __future__ import annotations

from rhombex.core.design import CouponOf, Process
from rhombex.core.fit.allowance import allowance
from rhombex.core.geometry.recipe import Difference, Solid, Union, block, circle, prism, rect, through
from rhombex.core.reference import ref, val
from rhombex.core.space import Box, Frame
from rhombex.core.workshop.printer import Printer

NAMES: dict[CouponOf, str] = {
    "tongue_side": "coupon-tongue",
    "dowel_slip": "coupon-dowel",
    "round_hole_upright": "coupon-hole",
    "round_hole_lying": "coupon-hole-lying",
}
PLACES = 5
STEP_MM = 0.05  # from one place to the next; common practice: less is not felt
PIN_MM = 3.0  # what is tried in the holes: a dowel, or the shank of a drill
# sizes of the prints; common practice: small, and long enough to feel a fit
PITCH_MM, LONG_MM, EDGE_MM = 8.0, 25.0, 5.5
TONGUE_HIGH_MM, UNDER_MM, OVER_MM = 8.0, 1.2, 0.4
HOLE_DEEP_MM, UPRIGHT_MM, LYING_MM = 12.0, 6.0, 10.0
DIMPLE_MM, DIMPLE_DEEP_MM = 1.4, 0.6


def places_mm(feature: CouponOf) -> tuple[float, ...]:
    """The allowance at each place, tight to loose, as the table counts it: what the table says is in the middle."""
    base = val(f"printing.allowance.{feature}")
    return tuple(round(base + STEP_MM * (k - PLACES // 2), 4) for k in range(PLACES))


def bodies(feature: CouponOf) -> int:
    """Of how many bodies a coupon is: a tongue lies beside its grooves, pins are bought."""
    return 2 if feature == "tongue_side" else 1


def coupon(feature: CouponOf, process: Process, printer: Printer) -> Solid:
    """A coupon as it prints. Beside each place are as many dimples as its number."""
    return _grooves(process, printer) if feature == "tongue_side" else _holes(feature, process, printer)


def drawn_mm(feature: CouponOf, process: Process, printer: Printer, size_mm: float) -> tuple[float, ...]:
    """How much wider than the thing each place is drawn, per side or on the diameter: its allowance with what nozzle and shrinkage add."""
    now = allowance(feature, process, printer, size_mm)
    own = printer.own_allowance_mm(feature, process.filament)
    base = ref(f"printing.allowance.{feature}").value if own is None else own
    return tuple(now.value - base + x for x in places_mm(feature))


def _grooves(process: Process, printer: Printer) -> Solid:
    thick = val("printing.feature.tongue_width")
    high = UNDER_MM + TONGUE_HIGH_MM + OVER_MM
    body = block(Box((0.0, 0.0, 0.0), (2 * EDGE_MM + (PLACES - 1) * PITCH_MM, LONG_MM, high)))
    cuts: list[Solid] = []
    for k, gap in enumerate(drawn_mm("tongue_side", process, printer, thick)):
        x, half = EDGE_MM + k * PITCH_MM, thick / 2 + gap
        cuts.append(prism(rect(x - half, -1.0, x + half, LONG_MM + 1.0), UNDER_MM, high + 1.0))
        cuts += _dimples(k + 1, x + PITCH_MM / 2, 3.0, high)
    aside = 2 * EDGE_MM + (PLACES - 1) * PITCH_MM + 5.0
    tongue = block(Box((aside, 0.0, 0.0), (aside + thick, LONG_MM, TONGUE_HIGH_MM)))
    return Union((Difference(body, tuple(cuts)), tongue))


def _holes(feature: CouponOf, process: Process, printer: Printer) -> Solid:
    upright = feature == "round_hole_upright"
    high = UPRIGHT_MM if upright else LYING_MM
    body = block(Box((0.0, 0.0, 0.0), (2 * EDGE_MM + (PLACES - 1) * PITCH_MM, HOLE_DEEP_MM, high)))
    cuts: list[Solid] = []
    for k, wider in enumerate(drawn_mm(feature, process, printer, PIN_MM)):
        x, d = EDGE_MM + k * PITCH_MM, PIN_MM + wider
        if upright:
            cuts.append(prism(circle(x, HOLE_DEEP_MM / 2, d), -1.0, high + 1.0))
        else:
            along = Frame((x, 0.0, high / 2), (0.0, 0.0, 1.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
            cuts.append(through([circle(0.0, 0.0, d)], along, -1.0, HOLE_DEEP_MM + 1.0))
        cuts += _dimples(k + 1, x + PITCH_MM / 2, 2.0, high)
    return Difference(body, tuple(cuts))


def _dimples(count: int, x: float, first_mm: float, top: float) -> list[Solid]:
    return [prism(circle(x, first_mm + 2.0 * n, DIMPLE_MM), top - DIMPLE_DEEP_MM, top + 1.0) for n in range(count)]
