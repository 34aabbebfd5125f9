"""How far the arms of snap hooks may be bent, and how long they are for that."""

from __future__ import annotations

from math import sqrt

from rhombex.core.design import Design
from rhombex.core.reference import ref
from rhombex.core.trail import Trail, looked_up

OFTEN = ("monthly", "weekly")


def strain_share(arm_mm: float, catch_mm: float, long_mm: float) -> float:
    """The greatest strain at the root of a cantilever of even section whose end gives way by the catch: 3/2 t y / L^2 (snap-fit guides)."""
    return 1.5 * arm_mm * catch_mm / long_mm**2


def borne(design: Design, part: str) -> Trail:
    """The strain that hooks of a part bear, in %: what its layers hold to one another, over its modulus, and the shares that guides leave of it."""
    kind = design.process_of(part).filament
    strength, modulus = ref(f"materials.{kind}.strength"), ref(f"materials.{kind}.modulus")
    across, once = ref(f"materials.{kind}.across_layers"), ref("fasteners.snap.once")
    often = design.brief.opened in OFTEN
    again = ref("fasteners.snap.again")
    inputs = [looked_up("strength", strength), looked_up("across layers", across), looked_up("modulus", modulus)]
    inputs.append(looked_up("once", once))
    if often:
        inputs.append(looked_up("opened often", again))
    return Trail(
        value=100 * strength.value * across.value / modulus.value * once.value * (again.value if often else 1.0),
        unit="%",
        formula="strength x across layers / modulus x share" + (" x share where it is opened often" if often else ""),
        inputs=tuple(inputs),
        source=str(once),
    )


def long_enough_mm(arm_mm: float, catch_mm: float, strain_pct: float) -> float:
    """How long an arm is from its root to its catch that is bent by no more than a strain, in %: `strain_share` turned round."""
    return sqrt(1.5 * arm_mm * catch_mm / (strain_pct / 100))
