"""What bends a part where it is cut, and how many bolts or bridging plates bear that."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.cuts.bears import one_nm
from rhombex.core.cuts.joins import Bolts, Bridges, Hold, Steps
from rhombex.core.cuts.strips import INDEX, Axis, PartName
from rhombex.core.reference import ref
from rhombex.core.shell.carrier import carrier
from rhombex.core.space import Box
from rhombex.core.trail import Input, Trail, given, looked_up

G = 9.81
EVERYWHERE = 1000  # a tongue or a lap runs wherever the plate is free
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
    """How many pins, keys or bolts a stretch of a cut wants at most: the usual ones, and more bolts or bridging plates where those do not bear what bends it."""
    if isinstance(hold, Steps):
        return EVERYWHERE
    if not isinstance(hold, Bolts | Bridges):
        return USUAL
    load = bends(case, things, part, extent, axis, at_mm).value
    return max(USUAL, ceil(load / one_nm(hold) / stretches - 1e-9))


def bends(case: Case, things: tuple[Thing, ...], part: PartName, extent: Box, axis: Axis, at_mm: float) -> Trail:
    """The bending moment at a cut, as of a beam on two supports. A part that stands on feet is bent between them by what it carries, in a knock; every other
    by a hand that leans there and by what is fixed to it, between its ends. `extent`: where the part is in the case."""
    return bent_at(beam_of(case, things, part, extent, axis), at_mm)


def bent_at(beam: Beam, at_mm: float) -> Trail:
    """As `bends`, of a part whose supports and loads are known."""
    jolt, hand = ref("fasteners.magnet.jolt"), ref("limits.standing.push")
    inputs: list[Input] = [given("span", beam.hi - beam.lo), given("from its end", at_mm - beam.lo)]
    inputs.append(looked_up("knock", jolt) if beam.on_feet else looked_up("a hand", hand))
    why = "its mass, in a knock" if beam.on_feet else "its mass"
    inputs += [given(name, weight, "N", why) for name, weight, _ in beam.loads]
    return Trail(
        value=beam.moment_nmm(at_mm) / 1000,
        unit="N m",
        formula="every load's share at the cut, as of a beam on two supports"
        + ("" if beam.on_feet else ", a hand in the worst place"),
        inputs=tuple(inputs),
        source=str(jolt if beam.on_feet else hand),
    )


def shares(
    case: Case, things: tuple[Thing, ...], part: PartName, extent: Box, axis: Axis, at_mm: tuple[float, ...]
) -> tuple[float, ...]:
    """How much of the greatest moment that a part is bent with anywhere along an axis bends it at each of some places, 0 to 1."""
    beam = beam_of(case, things, part, extent, axis)
    loaded = (*(at for _, _, at in beam.loads), (beam.lo + beam.hi) / 2)
    moments = beam.moments_nmm(np.array([*at_mm, *loaded]))
    most = float(moments.max(initial=0.0))
    return tuple((moments[: len(at_mm)] / most).tolist()) if most > 0 else (0.0,) * len(at_mm)


@dataclass(frozen=True)
class Beam:
    """A part as a beam: its supports, whether these are feet, a hand in the worst place, N, and what it carries: name, weight in N, place."""

    lo: float
    hi: float
    on_feet: bool
    hand_n: float
    loads: tuple[tuple[str, float, float], ...]

    def moment_nmm(self, at_mm: float) -> float:
        """What bends it at a place."""
        return float(self.moments_nmm(np.array([at_mm]))[0])

    def moments_nmm(self, at_mm: NDArray[np.float64]) -> NDArray[np.float64]:
        """What bends it at each of some places (n,)."""
        a, b, span = at_mm - self.lo, self.hi - at_mm, self.hi - self.lo
        within = (a > 0) & (b > 0) & (span > 0)
        spanned = max(span, 1e-9)  # of one that is not wider than that nothing is within
        weight = np.array([w for _, w, _ in self.loads])[:, None]
        at = np.array([x for _, _, x in self.loads])[:, None]
        near = np.clip(at - self.lo, 0.0, spanned)
        between = weight * np.where(near <= a, near * b, (spanned - near) * a) / spanned
        # beyond the feet only what stands there
        beyond = np.where((at > at_mm) == (b <= 0), weight * np.abs(at - at_mm), 0.0)
        held = np.where(within, between, beyond).sum(axis=0)
        return np.asarray(held + np.where(within, self.hand_n * a * b / spanned, 0.0))


def beam_of(case: Case, things: tuple[Thing, ...], part: PartName, extent: Box, axis: Axis) -> Beam:
    """A part as a beam along an axis, for cuts across it."""
    i = INDEX[axis]
    on_feet = case.footed == part and bool(case.feet) and i < 2
    ends = [f[i] for f in case.feet] if on_feet else [extent.lo[i], extent.hi[i]]
    knock = ref("fasteners.magnet.jolt").value if on_feet else 1.0
    loads = tuple(
        (t.name, t.component.mass_g / 1000 * G * knock, t.frame.origin[i])
        for t in things
        if t.component.mass_g > 0 and carrier(case, things, t) == part
    )
    return Beam(min(ends), max(ends), on_feet, 0.0 if on_feet else ref("limits.standing.push").value, loads)
