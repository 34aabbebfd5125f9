"""Snap hooks that hold a lid or a wrap: their strain, and whether they keep it on."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, floor

from rhombex.core.advice.magnet_table import usual_magnets
from rhombex.core.advice.snaps import hooks_hold
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.concerns.bench import up
from rhombex.core.concerns.by_screws import by_screws
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.constructions import MAGNET_KINDS, Snaps, TwoHalves
from rhombex.core.edits import HoldByMagnets, HoldBySnaps, MoveWall, Set
from rhombex.core.hardware.snaps import SnapsHold
from rhombex.core.openings.opening import outline
from rhombex.core.plain import DesignError
from rhombex.core.reference import Ref, ref
from rhombex.core.shell.build import case_of
from rhombex.core.shell.catches import long_mm
from rhombex.core.trail import Trail

LEAST_ARM_MM, LEAST_CATCH_MM, LEAST_WIDE_MM = 0.8, 0.3, 4.0  # that still print and catch; common practice
BESIDE_MM = 8.0  # of wall that a rim wants over and under an opening; common practice


@concern("snap-strains", "hardware", needs=("snaps",))
def snap_strains(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Hooks that are bent farther than the filament bears across its layers."""
    held, made = hooks_hold(a), a.design.shell.construction
    now = getattr(made, "snaps", None)
    if held is None or now is None or held.strain.value <= held.bears.value:
        return
    ways = _slimmer(now, held.strain.value / held.bears.value)
    ways += _lower(a, made, held) if isinstance(made, TwoHalves) else _higher(a, held)
    on = a.case.snaps[0].hook_on
    yield say(
        "stop",
        f"The hooks of the {on} break: they are bent by {held.strain.value:.1f} %",
        measured=held.strain.value,
        limit=held.bears.value,
        unit="%",
        sense="at most",
        how=held.strain.formula,
        of=(*held.strain.inputs, *held.bears.inputs),
        reason=f"The hooks are printed with the {on}, layer on layer along their length, so bending pulls their layers apart. Longer and thinner arms "
        "are bent less, and a smaller catch.",
        source=held.bears.source,
        subjects=("snaps",),
        remedies=(
            *ways[:2],
            *(
                (Remedy(label="Hold it by magnets", edits=(HoldByMagnets(magnets=usual_magnets(a)),)),)
                if made.kind in MAGNET_KINDS
                else ()
            ),
            by_screws(a),
        ),
    )


def _slimmer(now: Snaps, times: float) -> list[Remedy]:
    """Thinner arms, with a smaller catch where those alone will not do: strain goes with both."""
    for catch in (now.catch_mm, LEAST_CATCH_MM):
        arm = floor(now.arm_mm * now.catch_mm / catch / times * 20 + 1e-6) / 20
        if LEAST_ARM_MM <= arm < now.arm_mm + 1e-9:
            label = f"Arms of {arm:g} mm" + (f" that catch {catch:g} mm" if catch != now.catch_mm else "")
            to = now.model_copy(update={"arm_mm": arm, "catch_mm": catch})
            return [Remedy(label=label, edits=(HoldBySnaps(snaps=to),))]
    return []


def _lower(a: Analysis, halves: TwoHalves, held: SnapsHold) -> list[Remedy]:
    """Arms so long that they bear it, where the joint can be lowered past no opening."""
    at = floor((halves.joint_mm - held.long_mm * ((held.strain.value / held.bears.value) ** 0.5 - 1)) * 10 - 1) / 10
    room = min(s.tip_mm for s in a.case.snaps) - a.case.cavity.lo[2] - 1.0
    z = a.case.cavity.lo[2] + at
    beside = [outline(o, BESIDE_MM) for o in a.openings.openings if o.face not in ("top", "bottom")]
    if at <= 1.0 or halves.joint_mm - at > room or any(v0 < z < v1 for _, v0, _, v1 in beside):
        return []
    label = f"Lower the joint to {at:g} mm"
    return [Remedy(label=label, edits=(Set(path="shell.construction.joint_mm", value=at),))]


def _higher(a: Analysis, held: SnapsHold) -> list[Remedy]:
    """A room so high that the arms on a core are as long as they would be."""
    by = up(held.long_mm * ((held.strain.value / held.bears.value) ** 0.5 - 1) + 1.0)
    return [Remedy(label=f"Move the top {by:g} mm up", edits=(MoveWall(face="top", by_mm=by),))]


@concern("snaps-let-go", "hardware", needs=("snaps",), settled=True)
def snaps_let_go(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A lid or a wrap that its hooks do not keep on when the case is carried or set down."""
    held = hooks_hold(a)
    if held is None or held.off_n.value >= held.knock_n.value:
        return
    yield say(
        "weigh",
        f"The {a.case.snaps[0].holds} comes off its hooks in a knock",
        measured=held.off_n.value,
        limit=held.knock_n.value,
        unit="N",
        how=held.off_n.formula,
        of=(*held.off_n.inputs, *held.knock_n.inputs),
        reason="Set down hard, or carried upside down, it pulls five times its weight; hooks that are drawn to be opened let go.",
        source=held.knock_n.source,
        subjects=("snaps",),
        remedies=(by_screws(a),),
    )


@concern("snaps-hard-to-press", "hardware", needs=("snaps",))
def snaps_hard_to_press(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Hooks that take more than a palm to press on."""
    held = hooks_hold(a)
    if held is not None:
        why = (
            "All hooks give way at once. What takes more than a palm is struck instead, and something under it breaks."
        )
        yield from _too_hard(a, say, held.on_n, ref("limits.snap.press"), "press on", why, (by_screws(a),))


@concern("snaps-hard-to-open", "hardware", needs=("snaps",))
def snaps_hard_to_open(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A lid that is to be opened again, and that two hands do not get off."""
    held = hooks_hold(a)
    if held is not None and a.design.brief.opened != "once":
        why = "Fingertips at two edges do not pull so much: it is pried open with a blade, which marks it and breaks hooks."
        once = Remedy(label="It is opened only once", edits=(Set(path="brief.opened", value="once"),))
        yield from _too_hard(a, say, held.off_n, ref("limits.snap.open"), "open", why, (by_screws(a), once))


def _too_hard(
    a: Analysis, say: Maker, force: Trail, most: Ref, what: str, why: str, other: tuple[Remedy, ...]
) -> Iterator[Finding]:
    if force.value <= most.value:
        return
    yield say(
        "weigh",
        f"The {a.case.snaps[0].holds} takes {force.value:.0f} N to {what}",
        measured=force.value,
        limit=most.value,
        unit="N",
        sense="at most",
        how=force.formula,
        of=force.inputs,
        reason=why,
        source=str(most),
        subjects=("snaps",),
        remedies=(*_softer(a, force.value / most.value), *other),
    )


def _standing(a: Analysis, now: Snaps, times: float) -> float:
    """The thickest arms on a core that give way so much more easily: their force goes with (t / L)^3, and L follows from t."""
    wanted = (now.arm_mm / long_mm(a.design, now)) ** 3 / times
    for k in range(ceil(now.arm_mm * 20) - 1, 0, -1):
        to = now.model_copy(update={"arm_mm": k / 20})
        if (to.arm_mm / long_mm(a.design, to)) ** 3 <= wanted:
            return to.arm_mm
    return 0.0


def _narrower(a: Analysis, now: Snaps, wide_mm: float) -> float:
    """Hooks so much narrower that all of them together take no more: of narrow ones more may find a place. 0 where there are none."""
    together = wide_mm * len(a.case.snaps)
    while wide_mm >= LEAST_WIDE_MM:
        to = now.model_copy(update={"wide_mm": wide_mm})
        try:
            there = apply(a.design, HoldBySnaps(snaps=to))
        except DesignError:  # something else about them cannot be
            return 0.0
        many = len(case_of(there, a.printer, a.things).snaps)
        if not many:
            return 0.0
        if wide_mm * many <= together + 1e-9:
            return wide_mm
        wide_mm = floor(together / many * 2 + 1e-6) / 2
    return 0.0


def _softer(a: Analysis, times: float) -> list[Remedy]:
    """Arms that give way more easily: their force goes with the width and with the third power of the thickness."""
    now = getattr(a.design.shell.construction, "snaps", None)
    if now is None:
        return []
    out: list[tuple[str, Snaps]] = []
    arm = floor(now.arm_mm / times ** (1 / 3) * 20 + 1e-6) / 20
    if a.case.snaps[0].standing:  # thinner ones are shorter, too
        arm = _standing(a, now, times)
    if arm >= LEAST_ARM_MM:
        out.append((f"Arms of {arm:g} mm", now.model_copy(update={"arm_mm": arm})))
    wide = floor(now.wide_mm / times * 2 + 1e-6) / 2
    wide = _narrower(a, now, wide)
    if wide >= LEAST_WIDE_MM:
        out.append((f"Hooks {wide:g} mm wide", now.model_copy(update={"wide_mm": wide})))
    if not out and not a.case.snaps[0].standing:  # as thin as they may be, and as narrow as it then takes
        left = times * (LEAST_ARM_MM / now.arm_mm) ** 3
        slim = max(LEAST_WIDE_MM, floor(now.wide_mm / max(left, 1.0) * 2 + 1e-6) / 2)
        if now.wide_mm / slim >= left - 1e-9:
            both = now.model_copy(update={"arm_mm": LEAST_ARM_MM, "wide_mm": slim})
            out.append((f"Arms of {LEAST_ARM_MM:g} mm, hooks {slim:g} mm wide", both))
    return [Remedy(label=label, edits=(HoldBySnaps(snaps=to),)) for label, to in out]
