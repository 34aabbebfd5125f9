"""What one of the things that join a cut bears: a bolt, a bridging plate, a pair of magnets, a rod, a stretch of lap."""

from __future__ import annotations

from math import pi

from rhombex.core.cuts.joins import BOLT, Bolts, Bridges, Discs, Pins, Steps
from rhombex.core.fit.pull import pull_n as discs_n
from rhombex.core.reference import val


def bolt_n(hold: Bolts) -> float:
    """How hard a bolt pulls that is as tight as the plastic under its head bears: the ring under the head x bearing pressure."""
    ring = pi / 4 * (val(f"fasteners.{BOLT}.head_d") ** 2 - hold.hole_mm**2)
    return float(ring * val("fasteners.rule.bearing"))


def bridge_n(hold: Bridges) -> float:
    """How hard a bridging plate holds: each of its screws bears against the plate's hole, as wide as the screw and as deep as the plate."""
    return float(val(f"fasteners.{BOLT}.d") * hold.thick_mm * val("fasteners.rule.bearing"))


def magnets_n(hold: Discs) -> tuple[float, float]:
    """The least and the most that a pair of discs pulls with: both a little under flush, and farther apart by what glue and layers leave."""
    gap = 2 * (hold.deep_mm - hold.high_mm)
    low, high = (val(f"fasteners.magnet.{hold.grade}_{end}") for end in ("low", "high"))
    return (
        discs_n(hold.d_mm, hold.high_mm, gap + val("fasteners.magnet.proud"), low),
        discs_n(hold.d_mm, hold.high_mm, gap, high),
    )


def levers_mm(hold: Bolts | Bridges | Discs) -> tuple[float, float]:
    """How far what pulls is from the two edges about which a seam may open: the outer face, and the top of flange, block or pad. A bridging plate pulls in the
    middle of its thickness, over the pad."""
    if isinstance(hold, Bolts | Discs):
        return (hold.centre_mm, hold.reach_mm - hold.centre_mm)
    return (hold.pad_mm + hold.thick_mm / 2, hold.thick_mm / 2)


def pull_n(hold: Bolts | Bridges) -> float:
    """How hard one of them holds two pieces together."""
    return bolt_n(hold) if isinstance(hold, Bolts) else bridge_n(hold)


def one_nm(hold: Bolts | Bridges) -> float:
    """The moment that one bolt or bridging plate bears at the least: about the edge that is nearer to it."""
    return pull_n(hold) * min(levers_mm(hold)) / 1000


def rod_nm(hold: Pins, held_mm: float) -> float:
    """The moment that one rod bears: what bends it for good (yield x pi d^3 / 32), or what crushes the plastic at its ends (bearing x d x l^2 / 6,
    pressure that grows from its middle). `held_mm`: how long it is in the shorter of two pieces."""
    bent = val("fasteners.rule.rod_yield") * pi * hold.d_mm**3 / 32
    crushed = val("fasteners.rule.bearing") * hold.d_mm * held_mm**2 / 6
    return min(bent, crushed) / 1000


def lap_nm(hold: Steps, thick_mm: float, strength: float, glue: float) -> float:
    """The moment that one stretch of a half-lap bears: the half of the plate that runs on, bent by itself (strength x width x (t/2)^2 / 6), or the glue
    between the halves in shear (glue x width x lap x t/2)."""
    half = thick_mm / 2
    bent = strength * hold.block_mm * half**2 / 6
    sheared = glue * hold.block_mm * hold.deep_mm * half
    return min(bent, sheared) / 1000
