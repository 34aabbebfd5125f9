"""What a joint bears: how hard its screws pull out of the plastic, and how hard they may be tightened.

A thread in plastic lets go when the plastic between its turns is sheared off; an insert when the cylinder round its knurl is. Plastic shears at a
share of what its layers hold together with.
"""

from __future__ import annotations

from math import pi, radians, tan

from rhombex.core.constructions import THROUGH
from rhombex.core.fit.heads import head_size
from rhombex.core.fit.joints import FROM_BELOW, NUTS
from rhombex.core.hardware.joint_group import JointGroup
from rhombex.core.parts.component import Thread
from rhombex.core.reference import ref, val
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up

SINKS = "area under the head x strength of the plastic"


class Bears(Frozen):
    """`low_n` to `high_n`: what pulls one screw out, N, None where no printed plastic holds it. `load_n`: what all screws of the line may be
    loaded with together. `torque_nm`: how hard each may be tightened."""

    low_n: Shown | None
    high_n: Shown | None
    load_n: Shown | None
    pull: Trail | None
    torque_nm: Shown
    torque: Trail


def bears(g: JointGroup, filament: str) -> Bears:
    """What the screws of a line bear in a filament. Source: shear of the cylinder on which threads stand, F = pi d L tau, of handbooks of
    machine design; torque T = K d F."""
    pull = _pull(g, filament)
    torque = _torque(g)
    if pull is None:
        return Bears(low_n=None, high_n=None, load_n=None, pull=None, torque_nm=torque.value, torque=torque)
    low = pull.value
    sheared = pull.formula != SINKS
    high = low * val("fasteners.rule.shear_high") / val("fasteners.rule.shear_low") if sheared else low
    load = g.count * low / val("fasteners.rule.pull_safety")
    return Bears(low_n=low, high_n=high, load_n=load, pull=pull, torque_nm=torque.value, torque=torque)


def pitch_diameter_mm(thread: str) -> float:
    """Pitch diameter of a thread of 60 degrees: d - 3/8 of the height of its triangle on either side. ISO 724; ASME B1.1."""
    height = val(f"fasteners.{thread}.pitch") / (2 * tan(radians(30)))
    return val(f"fasteners.{thread}.d") - 2 * 3 / 8 * height


def _pull(g: JointGroup, filament: str) -> Trail | None:
    strength, share = ref(f"materials.{filament}.strength"), ref(f"materials.{filament}.across_layers")
    shear = ref("fasteners.rule.shear_low")
    tau = strength.value * share.value * shear.value
    if g.holding == "insert" and g.insert_mm is not None:
        d, long = val(f"fasteners.{g.thread}.insert_od"), g.insert_mm
        what = "pi x insert's diameter x its length x shear strength"
    elif g.holding == "cut in plastic":
        d, long = pitch_diameter_mm(g.thread), max(0.0, min(g.engaged_mm, g.end_mm - g.grip_mm))
        what = "pi x pitch diameter x thread in plastic x shear strength"
    elif g.holding == "captive nut":
        # the ring of plastic over it is sheared off round its six sides
        d, long = 6 * val(f"fasteners.{g.thread}.nut_s") * tan(radians(30)) / pi, val("fasteners.rule.nut_under")
        what = "outline of the nut x plastic over it x shear strength"
    elif g.holding in FROM_BELOW:
        d = 6 * val(f"fasteners.{g.thread}.nut_s") * tan(radians(30)) / pi
        long = sum(x.to_mm - x.from_mm for x in g.layers if x.kind == "plastic")
        what = "outline of the nut x plastic over it x shear strength"
    else:
        return None
    sinks = val(f"materials.{filament}.strength") * _under_head_mm2(g.thread, g.head)
    if g.holding in THROUGH and sinks < pi * d * long * tau:
        # so much plastic lies between head and nut that they sink into it first
        return Trail(
            value=sinks,
            unit="N",
            formula=SINKS,
            inputs=(
                given("area under the head", _under_head_mm2(g.thread, g.head), "mm2"),
                looked_up("strength", strength),
            ),
            source=str(strength),
        )
    return Trail(
        value=pi * d * long * tau,
        unit="N",
        formula=f"{what}, of {filament}: strength x share across layers x share in shear",
        inputs=(
            given("diameter", d),
            given("length", long),
            looked_up("strength", strength),
            looked_up("across layers", share),
            looked_up("in shear", shear),
        ),
        source=str(shear),
    )


def _under_head_mm2(thread: Thread, kind: str) -> float:
    """What a head lies on, round its clearance hole, seen along the screw; a nut of the thread lies on about as much."""
    head, hole = head_size(thread, kind).d_mm, val(f"fasteners.{thread}.clearance_medium")
    return pi / 4 * (head**2 - hole**2)


def _torque(g: JointGroup) -> Trail:
    """Where a head sits on plastic its bearing pressure is the limit, else what holds the screw; the smaller of the two."""
    d, k, p = val(f"fasteners.{g.thread}.d"), ref("fasteners.rule.friction"), ref("fasteners.rule.bearing")
    area = _under_head_mm2(g.thread, g.head)
    seat = Trail(
        value=k.value * d / 1000 * p.value * area,
        unit="N m",
        formula="K x screw's diameter x bearing pressure x area under the head",
        inputs=(
            looked_up("K", k),
            given("diameter", d),
            looked_up("bearing pressure", p),
            given("area under the head", area, "mm2", "head and clearance hole"),
        ),
        source=str(p),
    )
    held = ref(f"fasteners.{g.thread}.insert_torque")
    insert = Trail(
        value=held.value,
        unit="N m",
        formula="least of what an insert bears",
        inputs=(looked_up("insert", held),),
        source=str(held),
    )
    limits = [seat] if g.head_on == "plastic" or g.holding in NUTS else []
    if g.holding in ("insert", "cut in plastic"):
        limits.append(insert)
    return min(limits or [insert], key=lambda t: t.value)
