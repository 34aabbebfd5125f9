"""What bends a part where it is cut, and how many bolts bear that."""

from __future__ import annotations

from math import ceil

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.cuts.joins import Bolts, Hold, bolt_nm
from rhombex.core.cuts.strips import INDEX, Axis, PartName
from rhombex.core.reference import ref
from rhombex.core.shell.carrier import carrier
from rhombex.core.space import Box
from rhombex.core.trail import Input, Trail, given, looked_up

G = 9.81
USUAL = 3  # of what stands along a stretch of a cut, at most: the ends and the middle


def wished(
    case: Case,
    things: tuple[Thing, ...],
    part: PartName,
    extent: Box,
    axis: Axis,
    at_mm: float,
    hold: Hold | None,
    stretches: int,
) -> int:
    """How many pins, dovetails or bolts a stretch of a cut wants at most: the usual ones, and more bolts where those do not bear what bends it."""
    if not isinstance(hold, Bolts):
        return USUAL
    load = bends(case, things, part, extent, axis, at_mm).value
    return max(USUAL, ceil(load / bolt_nm(hold) / stretches - 1e-9))


def bends(case: Case, things: tuple[Thing, ...], part: PartName, extent: Box, axis: Axis, at_mm: float) -> Trail:
    """The bending moment at a cut, as of a beam on two supports. A part that stands on feet is bent between them by what it carries, in a knock; every other
    by a hand that leans there and by what is fixed to it, between its ends. `extent`: where the part is in the case."""
    i = INDEX[axis]
    on_feet = case.footed == part and bool(case.feet) and i < 2
    ends = [f[i] for f in case.feet] if on_feet else [extent.lo[i], extent.hi[i]]
    lo, hi = min(ends), max(ends)
    jolt, hand = ref("fasteners.magnet.jolt"), ref("limits.standing.push")
    a, b, span = at_mm - lo, hi - at_mm, hi - lo
    inputs: list[Input] = [given("span", span), given("from its end", a)]
    inputs.append(looked_up("knock", jolt) if on_feet else looked_up("a hand", hand))
    within = span > 0 and a > 0 and b > 0
    moment = 0.0 if on_feet or not within else hand.value * a * b / span
    for t in things:
        if carrier(case, things, t) != part or t.component.mass_g <= 0:
            continue
        weight = t.component.mass_g / 1000 * G * (jolt.value if on_feet else 1.0)
        at = t.frame.origin[i]
        if within:
            near = min(max(at - lo, 0.0), span)
            moment += weight * (near * b if near <= a else (span - near) * a) / span
        elif (at > at_mm) == (b <= 0):  # beyond the feet only what stands there
            moment += weight * abs(at - at_mm)
        inputs.append(given(t.name, weight, "N", "its mass, in a knock" if on_feet else "its mass"))
    return Trail(
        value=moment / 1000,
        unit="N m",
        formula="every load's share at the cut, as of a beam on two supports"
        + ("" if on_feet else ", a hand in the worst place"),
        inputs=tuple(inputs),
        source=str(jolt if on_feet else hand),
    )
