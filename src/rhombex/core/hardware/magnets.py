"""What pairs of magnets hold: the pull of two discs or blocks over their gap, what it takes to lift a part off, and whether it falls off on a knock."""

from __future__ import annotations

from math import pi

from rhombex.core.case import Case
from rhombex.core.case.fittings import Lift
from rhombex.core.case.joints import MagnetPair
from rhombex.core.fit.pull import magnets_pull_n, pull_on_head_n
from rhombex.core.reference import ref, val
from rhombex.core.shell.polarity import WrongWay, wrong_ways
from rhombex.core.space import Vec3
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up

DISCS = "pi R^2 Br^2 / mu0 x integral of J1(q)^2 / q (1 - exp(-q h / R))^2 exp(-q g / R)"
BLOCKS = (
    "Br^2 / (4 pi mu0) x sum over the corners of both of +-(u v atan(u v / r w) - u w ln(r - u) - v w ln(r - v) - r w)"
)
G_N = 9.81e-3  # newtons that a gram weighs


def gap_mm(p: MagnetPair) -> float:
    """How far apart the two magnets of a pair are: both a little under flush, or under the layers that close them in; the head of a screw is level with the
    joint."""
    return p.magnets * (p.deep_mm - p.high_mm)


def pull_of(p: MagnetPair) -> tuple[Trail, Trail]:
    """The least and the most that a pair pulls with, N."""
    gap, more = gap_mm(p), ref("fasteners.magnet.proud")
    out = []
    for end, extra in (("low", more.value), ("high", 0.0)):
        br = ref(f"fasteners.magnet.{p.grade}_{end}")
        out.append(
            Trail(
                value=magnets_pull_n(p.d_mm, p.long_mm, p.high_mm, gap + extra, br.value)
                if p.screw is None
                else pull_on_head_n(p.d_mm, p.long_mm, p.high_mm, gap + extra, br.value, p.screw.head_d_mm),
                unit="N",
                formula=(DISCS if p.long_mm is None else BLOCKS)
                + (", g twice the gap (its image in the head), x the head's share of the magnet" if p.screw else ""),
                inputs=(
                    *(
                        (given("disc", p.d_mm),)
                        if p.long_mm is None
                        else (given("length", p.long_mm), given("width", p.d_mm))
                    ),
                    given("height", p.high_mm),
                    given(
                        "gap",
                        gap + extra,
                        "mm",
                        ("both under the layers that close them in" if p.cover_mm else "both a little under flush")
                        if not extra
                        else str(more),
                    ),
                    looked_up("remanence", br),
                    *((given("head", p.screw.head_d_mm),) if p.screw else ()),
                ),
                source="energy of two evenly magnetised cylinders, Vokoun and others 2009"
                if p.long_mm is None
                else "two evenly magnetised blocks, Akoun and Yonnet 1984",
            )
        )
    return out[0], out[1]


class HeldPart(Frozen):
    """A part that only magnets hold. `low_n`, `high_n`: the pull of all its pairs; `weighs_g`; `lift_n`: what it takes at its notch, at most;
    None where it has no notch. `knock_n`: what it weighs when the case is set down hard; `sideways_n`: what friction holds across, at least."""

    part: str
    pairs: tuple[MagnetPair, ...]
    low_n: Trail
    high_n: Trail
    weighs_g: Shown
    knock_n: Trail
    sideways_n: Shown
    lift: Lift | None
    lift_n: Trail | None
    wrong: tuple[WrongWay, ...]


def held_parts(case: Case, mass_g: dict[str, float]) -> tuple[HeldPart, ...]:
    """Every part that only magnets hold, in the order of its pairs. `mass_g`: of each part."""
    # a head is drawn by either pole: nothing keeps parts of one size apart
    wrong = wrong_ways(case.magnets, case.faces)
    screwed = {j.holds for j in case.joints}
    out = []
    for part in dict.fromkeys(p.holds for p in case.magnets):
        if part in screwed:
            continue
        pairs = tuple(p for p in case.magnets if p.holds == part)
        low, high = pull_of(pairs[0])
        lift = next((x for x in case.lifts if x.of == part), None)
        knock, g = ref("fasteners.magnet.jolt"), mass_g.get(part, 0.0)
        wide, long = pairs[0].d_mm, pairs[0].long_mm
        area = pi / 4 * wide**2 if long is None else long * wide
        magnets_g = len(pairs) * area * pairs[0].high_mm / 1000 * val("fasteners.magnet.density")
        out.append(
            HeldPart(
                part=part,
                pairs=pairs,
                low_n=_times(low, len(pairs)),
                high_n=_times(high, len(pairs)),
                weighs_g=g + magnets_g,
                knock_n=Trail(
                    value=(g + magnets_g) * G_N * knock.value,
                    unit="N",
                    formula="mass x 9.81 m/s2 x knock",
                    inputs=(
                        given("part", g, "g", "its estimate"),
                        given("its magnets", magnets_g, "g", "their size"),
                        looked_up("knock", knock),
                    ),
                    source=str(knock),
                ),
                sideways_n=low.value * len(pairs) * val("fasteners.magnet.friction_low"),
                lift=lift,
                lift_n=_lifted(pairs, high, lift) if lift else None,
                wrong=tuple(w for w in wrong if w.of == part),
            )
        )
    return tuple(out)


def _times(one: Trail, count: int) -> Trail:
    return Trail(
        value=one.value * count,
        unit="N",
        formula="pairs x pull of one",
        inputs=(given("pairs", count, "", "this case"), given("pull of one", one.value, "N", one.source)),
        source=one.source,
    )


def _lifted(pairs: tuple[MagnetPair, ...], one: Trail, lift: Lift) -> Trail:
    """The force at a notch that tips a part about its far edge: each pair by its distance from that edge."""
    mid = lift.box.centre
    way: Vec3 = tuple((mid[i] - lift.far[i]) * (0.0 if abs(lift.to[i]) > 0.5 else 1.0) for i in range(3))  # type: ignore[assignment]
    arm = sum(c * c for c in way) ** 0.5
    unit = tuple(c / arm for c in way)
    reach = [sum((p.at[i] - lift.far[i]) * unit[i] for i in range(3)) for p in pairs]
    return Trail(
        value=one.value * sum(reach) / arm,
        unit="N",
        formula="pull of one x sum of the distances of all from the far edge / distance of the notch from it",
        inputs=(
            given("pull of one", one.value, "N", one.source),
            given("sum of distances", sum(reach), "mm", "this case"),
            given("notch", arm, "mm", "this case"),
        ),
        source="balance of moments about the edge that stays on",
    )
