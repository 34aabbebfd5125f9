"""What a case stands on: nothing under a floor that breathes, feet too low for it, feet too hard."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.nuts import nut_meets
from rhombex.core.concerns.on_a_side import on_its_floor
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import FOOT_LEAST_MM, FOOT_MOST_MM, FootKind
from rhombex.core.edits import PrintPart, Set, StandOnFeet
from rhombex.core.reference import ref, val
from rhombex.core.shell.feet import FEET, SOFT, nut_at
from rhombex.core.stance import IN_WORDS, stood_size
from rhombex.core.trail import given

CORNERS = 4
MESH = "mesh"


def _breathes(a: Analysis) -> tuple[str, float]:
    """What air goes through in the face that the case stands on, in a word, and how much of it is open, cm2."""
    vents = sum(v.free_area_mm2 for v in a.openings.vents if v.face == a.case.stands_on and v.holes)
    mesh = sum(m.free_area_mm2 for m in a.openings.meshed if m.face == a.case.stands_on)
    return ("vents" if vents else MESH), (vents + mesh) / 100


@concern("vents-on-the-desk", "air", needs=("walls",))
def vents_on_the_desk(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: vents, or a floor of mesh, without feet."""
    what, area = _breathes(a)
    if not area or a.case.stands_at or a.design.brief.stands == "wall":
        return
    yield say(
        "stop",
        f"The {what} in the {_under(a)} {'lies' if what == MESH else 'lie'} on the desk",
        measured=0.0,
        limit=4.0,
        unit="feet",
        how="feet under it",
        reason=f"{area:.1f} cm² of {what} are covered by what the case stands on; nothing comes in or out there.",
        source="common practice",
        subjects=(a.case.stands_on, "vents"),
        remedies=(*_feet_on(a), *on_its_floor(a)),
    )


@concern("feet-too-low", "air", needs=("walls",))
def feet_too_low(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: a bottom intake starved by low feet: the slot round the case is smaller than the vents that it leads to."""
    (what, free), foot = _breathes(a), a.case.foot
    if not free or not a.case.stands_at or foot is None or a.design.brief.stands == "wall":
        return
    w, d, _ = stood_size(a.case.stands_on, a.case.box_mm)
    # what stands at the rim takes its breadth of it
    round_mm = 2 * (w + d) - len(a.case.stands_at) * foot.d_mm
    open_cm2 = round_mm * foot.high_mm / 100
    if open_cm2 >= free:
        return
    high = ceil(free * 100 / (2 * (w + d) - len(a.case.stands_at) * val("printing.feature.soft_foot_d")))
    remedies = on_its_floor(a)
    if a.case.stands_on == "bottom" and high <= FOOT_MOST_MM:
        edit = StandOnFeet(foot="printed", under=a.design.shell.feet_under, high_mm=float(max(high, FOOT_LEAST_MM)))
        remedies = (Remedy(label=f"Stand it on printed feet {edit.high_mm:g} mm high", edits=(edit,)),)
    yield say(
        "weigh",
        f"The feet are too low for the {what} in the {_under(a)}",
        measured=open_cm2,
        limit=free,
        unit="cm2",
        how="(round the case - feet) x height of the feet",
        of=(
            given("round the case", 2 * (w + d)),
            given("feet", len(a.case.stands_at), ""),
            given("breadth of each", foot.d_mm),
            given("height of the feet", foot.high_mm),
            given(f"free area of the {what}", free, "cm2", "their holes"),
        ),
        reason=f"All air of {'this' if what == MESH else 'these'} {what} comes through the slot of {foot.high_mm:g} mm between the case and what it stands on: that "
        f"is {open_cm2:.1f} cm² for {free:.1f} cm² of {what}.",
        source="common practice",
        subjects=(a.case.stands_on, "vents"),
        remedies=remedies,
    )


@concern("feet-too-hard", "process", needs=("walls",))
def feet_too_hard(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Feet that are printed in a filament that is not soft slide, scratch and pass on hum."""
    foot = a.case.foot
    kind = a.design.process_of(FEET).filament
    if foot is None or not foot.stud_mm or not a.case.feet or kind == SOFT:
        return
    modulus, soft = (ref(f"materials.{k}.modulus") for k in (kind, SOFT))
    process = a.design.process.model_copy(update={"filament": SOFT, "own_filament": None, "supports": False})
    yield say(
        "advice",
        f"The feet are printed in {kind}",
        measured=modulus.value,
        limit=soft.value,
        unit="MPa",
        sense="at most",
        how="modulus of what the feet are printed in",
        reason=f"{kind} does not give: the case slides on smooth wood, scratches it, and what hums inside hums in the desk. {SOFT} is soft.",
        source=str(soft),
        subjects=(FEET,),
        remedies=(Remedy(label=f"Print the feet in {SOFT}", edits=(PrintPart(part=FEET, process=process),)),),
    )


def _feet_on(a: Analysis) -> tuple[Remedy, ...]:
    if a.design.shell.feet:
        return ()
    return (Remedy(label="Put feet under it", edits=(Set(path="shell.feet", value=True),)),)


def _under(a: Analysis) -> str:
    return IN_WORDS[a.case.stands_on]


OTHERS: tuple[tuple[FootKind, str], ...] = (
    ("screwed", "Screw the feet on"),
    ("printed", "Print the feet, glued in"),
    ("stick-on", "Stick the feet on"),
)


def _other_feet(a: Analysis) -> tuple[Remedy, ...]:
    """The other kinds of feet."""
    s = a.design.shell
    return tuple(
        Remedy(label=label, edits=(StandOnFeet(foot=kind, under=s.feet_under, high_mm=None),))
        for kind, label in reversed(OTHERS)
        if kind != s.foot
    )


@concern("foot-nut-in-the-way", "hardware", needs=("floor",))
def foot_nut_in_the_way(a: Analysis, say: Maker) -> Iterator[Finding]:
    """The nut of a screwed foot where something of a component or of the case stands on the floor."""
    for k, at in enumerate(a.case.feet, 1):
        nut = nut_at(a.case, at)
        if nut is None:
            return
        deep, what, who = nut_meets(a, nut)
        if deep <= 0.01:
            continue
        yield say(
            "stop",
            f"The nut of a foot stands in {who}",
            measured=-deep,
            limit=0.0,
            how="least distance of the nut, with the tip of its screw, and what stands on the floor; less than nothing: how deep it stands in it",
            of=(given("over the floor", nut.box.size[2]),),
            reason=f"Nut and tip stand {nut.box.size[2]:.1f} mm over the floor, where {what} is.",
            source="ISO 4032 nuts; geometry",
            subjects=(f"foot-{k}", "nut"),
            remedies=_other_feet(a),
        )


@concern("feet-too-few", "hardware", needs=("floor",))
def feet_too_few(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A corner in which a foot finds no place: the case rocks, or leans."""
    found, on = len(a.case.stands_at), a.case.stands_on
    if not a.design.shell.feet or not a.case.footed or found >= CORNERS or not a.case.face(on).whole:
        return
    yield say(
        "weigh",
        f"{'No foot finds' if not found else f'Only {found} of {CORNERS} feet find'} a place in a corner",
        measured=found,
        limit=CORNERS,
        unit="feet",
        how="feet that have a place; one for each corner is wanted",
        reason=(
            "Posts, bosses, components or sunk heads are where it or its nut would be."
            if on == "bottom"
            else "Two parts meet there, which a foot would glue together, or the wall lies behind what holds it."
        )
        + " What is pressed down at that corner tips.",
        source="common practice",
        subjects=("feet", "corners"),
        remedies=_other_feet(a) if on == "bottom" else on_its_floor(a),
    )
