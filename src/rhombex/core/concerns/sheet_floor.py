"""Floors of bought sheet: standoffs that are to be had and stand on them, studs that reach their nuts, and what stands out under them."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby

from rhombex.core.advice.sheeted import with_printed_floor
from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.case.mounts import Mount
from rhombex.core.concerns.bench import moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import FOOT_MOST_MM
from rhombex.core.edits import Construct, Set
from rhombex.core.fit.heads import out_mm
from rhombex.core.hardware.sheets import stock_mm
from rhombex.core.parts.threads import label
from rhombex.core.reference import ref, val
from rhombex.core.trail import given, looked_up

OFF_MM = 0.05  # by which a component may miss the length of its standoffs


def print_floor(a: Analysis) -> tuple[Remedy, ...]:
    """A floor that is printed, with posts; of an open bench a plate."""
    printed = with_printed_floor(a.design.shell.construction)
    return (Remedy(label=f"Print the {a.case.footed}", edits=(Construct(construction=printed),)),)


def _standing(a: Analysis, holding: str) -> Iterator[tuple[Thing, Mount]]:
    """What stands on a floor of sheet, held this way, with one of its mounts."""
    if a.case.floor_sheet is None:
        return
    by_id = {t.id: t for t in a.things}
    for of, found in groupby((m for m in a.case.mounts if m.holding == holding), key=lambda m: m.of):
        yield by_id[of], next(found)


@concern("standoff-of-no-length", "shell", needs=("mounts",))
def standoff_of_no_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 4: what stands on a floor of sheet, at a height that no standoffs have."""
    bought = sorted(a.workshop.standoffs_mm)
    missed = of_no_standoffs(a)
    for t, m, near in missed:
        if not near:
            yield say(
                "stop",
                f"No standoffs are kept that {t.name} could stand on",
                measured=0,
                limit=1,
                unit="lengths",
                how="lengths of standoffs that the workshop keeps",
                reason="On a floor of bought sheet nothing is printed: boards stand there on bought standoffs. Note in the workshop which are kept.",
                source="workshop: the list of standoffs",
                subjects=(t.id, "standoffs"),
                remedies=print_floor(a),
            )
            continue
        yield say(
            "stop",
            f"No standoffs of {m.standoff_mm:g} mm under {t.name}",
            measured=abs(near[0] - m.standoff_mm),
            limit=0.0,
            sense="at most",
            how="height over the sheet less the nearest that the workshop keeps",
            of=(given("height over the sheet", m.standoff_mm), given("nearest", near[0])),
            reason=f"On a floor of bought sheet it stands on bought standoffs; the workshop keeps {', '.join(f'{x:g}' for x in bought)} mm.",
            source="workshop: the list of standoffs",
            subjects=(t.id, "standoffs"),
            remedies=(*_all_on_sheet(a), *(_stood_on(t, m, x) for x in near), *print_floor(a)),
        )


def of_no_standoffs(a: Analysis) -> list[tuple[Thing, Mount, list[float]]]:
    """What stands on a floor of sheet at a height that no standoffs have, with the two lengths that are nearest to it; none where none are kept."""
    out = []
    for t, m in _standing(a, "nut"):
        near = sorted(a.workshop.standoffs_mm, key=lambda x: abs(x - m.standoff_mm))[:2]
        if not near or abs(near[0] - m.standoff_mm) > OFF_MM:
            out.append((t, m, near))
    return out


def _to_the_sheet(a: Analysis) -> dict[str, tuple[Thing, float]]:
    """By how much each component that stands wrong on a floor of sheet goes up or down: on to the shortest standoffs that are not lower than it stands, or on to the
    sheet."""
    out: dict[str, tuple[Thing, float]] = {}
    for t, m, near in of_no_standoffs(a):
        long = min((x for x in a.workshop.standoffs_mm if x >= m.standoff_mm), default=next(iter(near), None))
        if long is not None:
            out[t.id] = (t, round(long - m.standoff_mm, 3))
    sheet = a.case.floor_sheet
    for t, m in _standing(a, "through"):
        if sheet is not None and abs(m.top_mm - sheet.thick_mm) > OFF_MM:
            out[t.id] = (t, round(sheet.thick_mm - m.top_mm, 3))
    return out


def _all_on_sheet(a: Analysis) -> tuple[Remedy, ...]:
    """All that stands wrong on the sheet put right at once, where that is more than one."""
    found = _to_the_sheet(a)
    if len(found) < 2:
        return ()
    words = ", ".join(f"{t.name} {abs(by):g} mm {'up' if by > 0 else 'down'}" for t, by in found.values())
    edits = tuple(moved(t, (0.0, 0.0, by)) for t, by in found.values())
    return (Remedy(label=f"Put all on the sheet: {words}", edits=edits),)


def _stood_on(t: Thing, m: Mount, long_mm: float) -> Remedy:
    by = round(long_mm - m.standoff_mm, 3)
    return Remedy(
        label=f"{'Raise' if by > 0 else 'Lower'} {t.name} by {abs(by):g} mm, on to standoffs of {long_mm:g} mm",
        edits=(moved(t, (0.0, 0.0, by)),),
    )


@concern("stud-short-of-its-nut", "hardware", needs=("mounts",))
def stud_short_of_its_nut(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: a floor of sheet so thick that the studs of standoffs do not fill their nuts; the thread with the highest nut speaks for all."""
    found = [m for _, m in _standing(a, "nut")]
    sheet = a.case.floor_sheet
    if not found or sheet is None:
        return
    m = max(found, key=lambda m: val(f"fasteners.{m.thread}.nut_m"))
    nut, stud = ref(f"fasteners.{m.thread}.nut_m"), ref("fasteners.rule.standoff_stud")
    left = stud.value - sheet.thick_mm
    if left >= nut.value - 1e-6:
        return
    thin = max((x for x in stock_mm(sheet.material) if x <= stud.value - nut.value + 1e-6), default=None)
    take = () if thin is None else (Remedy(label=f"Take {thin:g} mm", edits=(Set(path="shell.floor_mm", value=thin),)),)
    yield say(
        "stop",
        f"The studs of {label(m.thread)} standoffs do not fill their nuts",
        measured=left,
        limit=nut.value,
        how="length of the stud less the sheet that it goes through; wanted: height of the nut",
        of=(looked_up("stud", stud), given("sheet", sheet.thick_mm)),
        reason=f"Of {stud.value:g} mm {max(left, 0.0):g} stand out under {sheet.thick_mm:g} mm of {sheet.material}: too few turns hold.",
        source=str(nut),
        subjects=(a.case.footed, "studs"),
        remedies=(*take, *print_floor(a)),
    )


@concern("hangs-over-the-sheet", "shell", needs=("mounts",))
def hangs_over_the_sheet(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: what is screwed on from below, over a floor of sheet on which no pads are printed."""
    sheet = a.case.floor_sheet
    for t, m in _standing(a, "through"):
        assert sheet is not None
        gap = m.top_mm - sheet.thick_mm
        if gap <= OFF_MM:
            continue
        yield say(
            "stop",
            f"Nothing is between {t.name} and the sheet",
            measured=gap,
            limit=0.0,
            sense="at most",
            how="from the sheet up to where it is screwed on",
            reason="Its screws come up through the floor of bought sheet, on which no pads are printed. As it stands it would hang on its screws.",
            source="geometry",
            subjects=(t.id, a.case.footed),
            remedies=(
                *_all_on_sheet(a),
                Remedy(label=f"Lower {t.name} by {gap:g} mm, on to the sheet", edits=(moved(t, (0.0, 0.0, -gap)),)),
                *print_floor(a),
            ),
        )


@concern("stands-on-its-nuts", "shell", needs=("floor",))
def stands_on_its_nuts(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: nuts, studs and screw heads under a floor of sheet, and heads of a handle's screws under any open plate, that reach the table before the feet do."""
    sheet, floor, bow = a.case.floor_sheet, a.case.footed, a.case.handle
    below = bow.screws if bow is not None and bow.top == floor else ()
    if (sheet is None and not below) or a.design.brief.stands == "wall" or a.case.stands_on != "bottom":
        return
    stud = val("fasteners.rule.standoff_stud") - (sheet.thick_mm if sheet else 0.0)
    out = [
        max(stud, val(f"fasteners.{m.thread}.nut_m")) if m.holding == "nut" else val(f"fasteners.{m.thread}.head_k")
        for m in (a.case.mounts if sheet else ())
    ]
    out += [out_mm(j.thread, j.head, j.head_depth_mm) for j in below]
    out += [out_mm(j.thread, j.head, j.head_depth_mm) for j in a.case.joints if j.holds == floor]
    most = max(out, default=0.0)
    high = a.case.foot.high_mm if a.case.feet and a.case.foot else 0.0
    if high >= most:
        return
    yield say(
        "weigh",
        "It stands on its nuts and screws",
        measured=high,
        limit=most,
        how="height of the feet; wanted: what stands out farthest under the floor",
        of=(given("stands out", most),),
        reason="Nothing sinks into it there: nuts, studs and heads scratch what it stands on, and it rocks on them.",
        source="ISO 4032 nuts, ISO 4762 heads; a stud of 6 mm (common practice)",
        subjects=(floor, "feet"),
        remedies=(*_on_feet(a, most), *(print_floor(a) if sheet else ())),
    )


def _on_feet(a: Analysis, most_mm: float) -> tuple[Remedy, ...]:
    """Feet that are there, or printed ones that are high enough."""
    usual = val("printing.feature.foot_height")
    if not a.design.shell.feet and usual >= most_mm:
        on = (Set(path="shell.feet", value=True), Set(path="shell.foot", value="stick-on"))
        return (Remedy(label="Stand it on feet", edits=on),)
    high = up(most_mm + 1.0)
    if high > FOOT_MOST_MM:
        return ()
    edits = (
        Set(path="shell.feet", value=True),
        Set(path="shell.foot", value="printed"),
        Set(path="shell.foot_mm", value=max(high, a.design.shell.foot_mm)),
    )
    return (Remedy(label=f"Stand it on printed feet of {edits[2].value:g} mm", edits=edits),)
