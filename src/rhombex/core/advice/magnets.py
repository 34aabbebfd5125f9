"""Magnets of a case: what they hold, and which other discs and blocks of the list would do."""

from __future__ import annotations

from collections.abc import Callable
from math import pi

from rhombex.core.analysis import Analysis
from rhombex.core.constructions import GRADES, Magnets
from rhombex.core.fit.pull import magnets_pull_n, pull_on_head_n
from rhombex.core.hardware.bill import magnet_words
from rhombex.core.hardware.magnets import HeldPart, held_parts
from rhombex.core.reference import series, val
from rhombex.core.shell.case_screw import THREAD
from rhombex.core.shell.magnets import deep_mm, least_at_mm


def held_by_magnets(a: Analysis) -> tuple[HeldPart, ...]:
    """Every part that only magnets hold, with what it weighs."""
    return held_parts(a.case, a.part_mass_g())


def chosen(a: Analysis) -> Magnets | None:
    """The magnets that the design says; None where it is held by screws, or cannot be held by magnets."""
    return getattr(a.design.shell.construction, "magnets", None)


def words_of(m: Magnets) -> str:
    """A magnet as a bill writes it."""
    return magnet_words(m.d_mm, m.high_mm, m.grade, m.long_mm)


def volume_mm3(m: Magnets) -> float:
    """Of one magnet."""
    return m.high_mm * (pi / 4 * m.d_mm**2 if m.long_mm is None else m.long_mm * m.d_mm)


def discs(now: Magnets) -> tuple[Magnets, ...]:
    """The discs of the list in every grade, everything else as it is."""
    sizes = zip(series("fasteners.magnet.d"), series("fasteners.magnet.high"), strict=True)
    return tuple(
        now.model_copy(update={"d_mm": d, "long_mm": None, "high_mm": high, "grade": grade})
        for d, high in sizes
        for grade in GRADES
    )


def blocks(now: Magnets) -> tuple[Magnets, ...]:
    """The blocks of the list in every grade, everything else as it is."""
    sizes = zip(*(series(f"fasteners.magnet.block_{x}") for x in ("long", "wide", "high")), strict=True)
    return tuple(
        now.model_copy(update={"d_mm": wide, "long_mm": long, "high_mm": high, "grade": grade})
        for long, wide, high in sizes
        for grade in GRADES
    )


def sits(a: Analysis, m: Magnets) -> bool:
    """Whether pockets for a disc leave enough plastic behind and round them."""
    skin, halves = val("fasteners.magnet.skin"), a.case.kind == "two halves"
    grows = halves and a.design.shell.boss_od_mm is None
    return all(
        p.behind_mm + p.deep_mm - deep_mm(m) >= skin - 1e-6 and (grows or p.od_mm >= least_at_mm(m, p, halves) - 1e-6)
        for p in a.case.magnets
    )


def holds(held: tuple[HeldPart, ...], m: Magnets) -> bool:
    """Whether a magnet would keep every part on through a knock, and a few fingers still lift it."""
    under, proud = deep_mm(m) - m.high_mm, val("fasteners.magnet.proud")
    least, most = (val(f"fasteners.magnet.{m.grade}_{end}") for end in ("low", "high"))
    if m.against == "screw heads":
        head = val(f"fasteners.{THREAD}.head_d")
        low = pull_on_head_n(m.d_mm, m.long_mm, m.high_mm, under + proud, least, head)
        high = pull_on_head_n(m.d_mm, m.long_mm, m.high_mm, under, most, head)
    else:
        low = magnets_pull_n(m.d_mm, m.long_mm, m.high_mm, 2 * under + proud, least)
        high = magnets_pull_n(m.d_mm, m.long_mm, m.high_mm, 2 * under, most)
    for h in held:
        one = h.high_n.value / len(h.pairs)
        lever = h.lift_n.value / one if h.lift_n is not None else 0.0
        if low * len(h.pairs) < h.knock_n.value or high * lever > val("fasteners.magnet.fingers"):
            return False
    return True


def others(a: Analysis, most: int, good: Callable[[Magnets], bool]) -> tuple[Magnets, ...]:
    """Other magnets that sit in the case and are good: those of the chosen shape and nearest in size first."""
    now = chosen(a)
    if now is None:
        return ()

    def far(m: Magnets) -> tuple[bool, float, float, float, int]:
        return (
            (m.long_mm is None) != (now.long_mm is None),
            abs((m.long_mm or 0.0) - (now.long_mm or 0.0)),
            abs(m.d_mm - now.d_mm),
            abs(m.high_mm - now.high_mm),
            abs(GRADES.index(m.grade) - GRADES.index(now.grade)),
        )

    found = [m for m in (*discs(now), *blocks(now)) if m != now and sits(a, m) and good(m)]
    return tuple(sorted(found, key=far)[:most])
