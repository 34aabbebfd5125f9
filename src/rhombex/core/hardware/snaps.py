"""What snap hooks bear: the strain of an arm that gives way, the force that presses a lid on, and the one that pulls it off."""

from __future__ import annotations

from math import radians, tan

from rhombex.core.case import Case
from rhombex.core.case.joints import Snap
from rhombex.core.design import Design
from rhombex.core.fit.arms import borne, strain_share
from rhombex.core.hardware.magnets import G_N
from rhombex.core.reference import ref
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up


class SnapsHold(Frozen):
    """`strain`: of an arm as its nose passes, in %; `bears`: what the filament bears across its layers; `on_n`, `off_n`: what presses the lid on and pulls
    it off, all hooks together; `knock_n`: what the lid weighs when the case is set down hard."""

    count: int
    long_mm: Shown
    strain: Trail
    bears: Trail
    on_n: Trail
    off_n: Trail
    knock_n: Trail


def give_n(arm_mm: float, wide_mm: float, long_mm: float, modulus_mpa: float, strain: float) -> float:
    """The force that bends a hook's end aside: b t^2 / 6 x E x strain / L."""
    return wide_mm * arm_mm**2 / 6 * modulus_mpa * strain / long_mm


def along_n(give: float, angle_deg: float, friction: float) -> float:
    """The force along an arm whose nose slides over a slope at an angle to it: P (mu + tan a) / (1 - mu tan a)."""
    slope = tan(radians(angle_deg))
    return give * (friction + slope) / (1 - friction * slope)


def snaps_hold(design: Design, case: Case, mass_g: dict[str, float]) -> SnapsHold | None:
    """What the hooks of a case hold; None where it has none."""
    if not case.snaps:
        return None
    s: Snap = case.snaps[0]
    kind = design.process_of(s.hook_on).filament
    modulus, n = ref(f"materials.{kind}.modulus"), len(case.snaps)
    share = strain_share(s.arm_mm, s.catch_mm, s.long_mm)
    give = give_n(s.arm_mm, s.wide_mm, s.long_mm, modulus.value, share)
    mu, jolt = ref("fasteners.snap.friction"), ref("fasteners.magnet.jolt")
    sizes = (given("arm", s.arm_mm), given("catch", s.catch_mm), given("length", s.long_mm))

    def force(which: str) -> Trail:
        angle = ref(f"fasteners.snap.{which}")
        return Trail(
            value=n * along_n(give, angle.value, mu.value),
            unit="N",
            formula="hooks x P (mu + tan a) / (1 - mu tan a), P = b t^2 / 6 x E x strain / L",
            inputs=(
                given("hooks", n, "", "this case"),
                given("P", give, "N", "force that bends one aside"),
                looked_up("modulus", modulus),
                looked_up("friction", mu),
                looked_up("angle", angle),
            ),
            source=str(angle),
        )

    return SnapsHold(
        count=n,
        long_mm=s.long_mm,
        strain=Trail(
            value=100 * share,
            unit="%",
            formula="3/2 x arm x catch / length^2",
            inputs=sizes,
            source="cantilever of even section (snap-fit guides)",
        ),
        bears=borne(design, s.hook_on),
        on_n=force("lead_deg"),
        off_n=force("return_deg"),
        knock_n=Trail(
            value=mass_g.get(s.holds, 0.0) * G_N * jolt.value,
            unit="N",
            formula="mass x 9.81 m/s2 x knock",
            inputs=(given("part", mass_g.get(s.holds, 0.0), "g", "its estimate"), looked_up("knock", jolt)),
            source=str(jolt),
        ),
    )
