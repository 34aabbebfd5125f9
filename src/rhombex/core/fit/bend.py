"""How long a bend is before it is bent: what a flat sheet must measure so that it closes round a case."""

from __future__ import annotations

from math import log10, pi

from rhombex.core.constructions import Material
from rhombex.core.reference import ref, val
from rhombex.core.trail import Trail, given

# DIN 6935, cold bending of flat products: k = 0.65 + 0.5 lg(r/s), at most 1 (from memory); the neutral line lies k x s / 2 from the inside.
# Its formula is meant for radii from 0.65 of the thickness.
_K_AT_1, _K_STEP, _LEAST_RATIO = 0.65, 0.5, 0.65


def neutral_share(material: Material, thick_mm: float, inner_mm: float) -> float:
    """How deep the line that keeps its length lies in a bend, as a share of the thickness from the inside."""
    fixed = val(f"sheet.{material}.neutral")
    if fixed > 0:
        return fixed
    ratio = max(inner_mm / thick_mm, _LEAST_RATIO)
    return min(1.0, _K_AT_1 + _K_STEP * log10(ratio)) / 2


def bend_allowance(material: Material, thick_mm: float, inner_mm: float, degrees: float = 90.0) -> Trail:
    """What a bend takes of the flat sheet, between the ends of its straight stretches, mm."""
    share = neutral_share(material, thick_mm, inner_mm)
    return Trail(
        value=pi * degrees / 180 * (inner_mm + share * thick_mm),
        unit="mm",
        formula="angle x (inner radius + share x thickness)",
        inputs=(
            given("angle", degrees, "degrees"),
            given("inner radius", inner_mm),
            given("thickness", thick_mm),
            given("share of the thickness to the line that keeps its length", share, ""),
        ),
        source=ref(f"sheet.{material}.neutral").source,
    )


def tightest_mm(material: Material, thick_mm: float) -> float | None:
    """The least inner radius that a sheet bears at 90 degrees; None where it does not bend at all."""
    share = val(f"sheet.{material}.bend")
    return share * thick_mm if share > 0 else None
