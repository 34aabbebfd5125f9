"""How threads are written."""

from __future__ import annotations

from fractions import Fraction

INCH = "UNC6_32"  # the one thread of an inch series


def label(thread: str) -> str:
    """`M2_5` is written M2.5, `UNC6_32` #6-32."""
    return "#6-32" if thread == INCH else thread.replace("_", ".")


def screw_size(thread: str, length_mm: float) -> str:
    """A screw as a bill writes it: `M3 x 10`, `#6-32 x 3/8 in`."""
    if thread != INCH:
        return f"{label(thread)} x {length_mm:g}"
    inches = Fraction(round(length_mm / 25.4 * 16), 16)
    return f"{label(thread)} x {inches} in"
