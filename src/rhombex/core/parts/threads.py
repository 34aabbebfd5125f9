"""How threads are written."""

from __future__ import annotations


def label(thread: str) -> str:
    """`M2_5` is written M2.5, `UNC6_32` #6-32."""
    return "#6-32" if thread == "UNC6_32" else thread.replace("_", ".")
