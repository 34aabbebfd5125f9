"""Heads of screws: how wide and high they are, which key turns them, and how a printed wall takes them in."""

from __future__ import annotations

from functools import cache

from rhombex.core.fit.joints import SUNK_MORE_MM, UNDER_HEAD_MM
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.trail import Frozen

PLAY_MM = 0.6  # a recess is wider than its head by so much; common practice
CONE_PLAY_MM = 0.2  # and the mouth of a countersink, so that a head comes to lie flush; common practice
LEFT_MM = 0.8  # of a wall under a countersink: four layers; common practice
LEAST_SINK_MM = 0.4  # a head sunk by less stands proud as well as not: the wall stays whole


class HeadSize(Frozen):
    """A head, mm: how wide, how high, and its key."""

    d_mm: float
    k_mm: float
    key_mm: float


@cache
def head_size(thread: Thread, head: str) -> HeadSize:
    """The head of a screw by its standard: socket cap ISO 4762, button head ISO 7380-1, countersunk ISO 10642; of other heads as a socket cap."""
    of = {"button head": ("button_d", "button_k", "low_key"), "countersunk": ("sunk_d", "sunk_k", "low_key")}
    d, k, key = of.get(head, ("head_d", "head_k", "key"))
    sizes = (val(f"fasteners.{thread}.{x}") for x in (d, k, key))
    return HeadSize(**dict(zip(("d_mm", "k_mm", "key_mm"), sizes, strict=True)))


def out_mm(thread: Thread, head: str, sunk_by_mm: float) -> float:
    """How far a head stands out of what it is sunk into by so much; not at all where a cone takes it in."""
    return 0.0 if head == "countersunk" else head_size(thread, head).k_mm - sunk_by_mm


def sunk_mm(thread: Thread, head: str, thick_mm: float) -> float:
    """How deep a head is sunk into a wall of this thickness; nothing where too little would stay under it, or its cone takes it in."""
    if head == "countersunk":
        return 0.0
    deep = min(head_size(thread, head).k_mm + SUNK_MORE_MM, thick_mm - UNDER_HEAD_MM)
    return deep if deep > LEAST_SINK_MM else 0.0


def cone_mm(thread: Thread, free_mm: float) -> float:
    """How deep a countersink of 90 degrees is from its mouth to a hole of `free_mm`."""
    return (head_size(thread, "countersunk").d_mm + CONE_PLAY_MM - free_mm) / 2
