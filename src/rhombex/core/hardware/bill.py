"""The bill of materials: components, screws with lengths, inserts, nuts, pins, feet, sheet, leads."""

from __future__ import annotations

from collections import Counter

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.cuts.joins import Discs, hold_of
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design
from rhombex.core.fit.joints import NUTS, nut_mm
from rhombex.core.hardware.joint_group import JointGroup
from rhombex.core.hardware.sheets import BoughtSheet
from rhombex.core.parts.threads import label, screw_size
from rhombex.core.reference import val
from rhombex.core.shell.brackets import LAP_MM
from rhombex.core.shell.fan_slots import BAR_WIDE_MM
from rhombex.core.shell.hinge import pins_long_mm
from rhombex.core.shell.hooks import LAP_MM as HOOK_LAP_MM
from rhombex.core.trail import Frozen


class Line(Frozen):
    """One line: how many of what, in which size, and what for."""

    item: str
    size: str
    count: int
    use: str


def bill(
    design: Design,
    things: tuple[Thing, ...],
    case: Case,
    parts: tuple[PartCuts, ...],
    groups: tuple[JointGroup, ...],
    sheets: tuple[BoughtSheet, ...] = (),
) -> tuple[Line, ...]:
    """Everything to have on the table before assembly, alike things added up."""
    count: Counter[tuple[str, str, str]] = Counter()
    for t in things:
        count[("component", t.component.label, t.name)] += 1
    for g in groups:
        _joint(g, count)
    for x in sheets:
        size = f"{x.size_mm[0]:.1f} x {x.size_mm[1]:.1f} x {x.thick_mm:g} mm"
        bent = f", bent {len(x.bends)} times" if x.bends else ""
        count[(f"sheet, {x.material}{bent}", size, x.part)] += 1
    for p in case.magnets:
        kind = "disc magnet" if p.long_mm is None else "block magnet"
        count[(kind, magnet_words(p.d_mm, p.high_mm, p.grade, p.long_mm), p.holds)] += p.magnets
        if p.screw is not None and p.screw.long_mm is not None:
            size = screw_size(p.screw.thread, p.screw.long_mm)
            count[("screw, socket cap", size, f"{p.holds}, under its magnets")] += 1
    if case.hinge is not None and case.hinge.pins:
        h = case.hinge
        item = "pin of filament" if h.pin_mm == val("printing.feature.filament_pin_d") else "steel rod"
        for long_mm in pins_long_mm(h):
            count[(item, f"{h.pin_mm:g} x {long_mm:g}", "hinges of the lid")] += 1
    if case.stands_at and case.foot and not case.foot.stud_mm:
        kind = "screwed on, with a washer in it" if case.foot.screw else "stick-on"
        count[(f"foot, {kind}", f"{case.foot.d_mm:g} mm", case.footed)] += len(case.stands_at)
    for b in case.brackets:
        if b.strip_mm:
            use = f"brackets of {next(t.name for t in things if t.id == b.of)}"
            count[("foam strip, 1 mm thick", f"{b.wide_mm:.0f} x {LAP_MM:g} mm", use)] += 1
    for hook in case.hooks:
        use = f"hook of {next(t.name for t in things if t.id == hook.of)}"
        count[("foam strip, 1 mm thick", f"{hook.wide_mm:.0f} x {HOOK_LAP_MM:g} mm", use)] += 1
    for slots in case.fan_slots:
        use = f"slots of {next(t.name for t in things if t.id == slots.of)}"
        d, long = (val(f"printing.feature.filament_pin_{x}") for x in ("d", "deep"))
        count[("pin of filament", f"{d:g} x {2 * long:g}", use)] += 2
        count[("foam strip, 1 mm thick", f"{BAR_WIDE_MM:g} x {BAR_WIDE_MM:g} mm", use)] += 4
    for part in parts:
        ridged: set[str] = set()
        for c in part.cuts:
            if c.ridge_mm is not None and c.axis in ridged:
                continue  # the rods of the first cut go on through this one
            if c.ridge_mm is not None:
                ridged.add(c.axis)
            if c.pin is not None and c.joined != "printed pins":
                size = f"{c.pin.d_mm:g} x {c.pin.long_mm:g}"
                count[(c.pin.item, size, f"joint of {part.part}")] += len(c.dowels)
            if part.seat is not None and isinstance(hold := hold_of(c.joined, part.seat), Discs):
                words = magnet_words(hold.d_mm, hold.high_mm, hold.grade)
                count[("disc magnet", words, f"joint of {part.part}")] += 2 * len(c.dowels)
    for lead in design.leads:
        count[("lead", f"{lead.length_mm:g} mm", lead.name)] += 1
    return tuple(
        Line(item=item, size=size, count=n, use=use)
        for (item, size, use), n in sorted(count.items(), key=lambda kv: kv[0])
        if n > 0
    )


def magnet_words(d_mm: float, high_mm: float, grade: str, long_mm: float | None = None) -> str:
    """A disc magnet as a bill writes it; a block, length first."""
    long = f"{long_mm:g} x " if long_mm is not None else ""
    return f"{long}{d_mm:g} x {high_mm:g}, {grade}"


def screw_words(g: JointGroup) -> str:
    """A joint's screw as a bill writes it; where no length in stock serves, the lengths that would."""
    if g.head == "nut" and g.screw_mm is not None:  # all of the rod, with what stands in the upper nut
        return screw_size(g.thread, g.screw_mm + nut_mm(g.thread))
    if g.screw_mm is not None:
        return screw_size(g.thread, g.screw_mm)
    return f"{label(g.thread)}, {g.least_mm:.1f} to {g.most_mm:.1f} mm long: none in stock"


def _joint(g: JointGroup, count: Counter[tuple[str, str, str]]) -> None:
    """What one line of the table of joints takes: screws, and what they go into."""
    if g.standoff_mm is not None:
        count[("standoff, with stud", f"{label(g.thread)} x {g.standoff_mm:g}", g.name)] += g.count
    if g.head == "nut":
        count[("threaded rod", screw_words(g), g.name)] += g.count
        count[("nut", label(g.thread), g.name)] += g.count  # in place of a head
    elif g.head != "stud":
        count[(f"screw, {g.head}", screw_words(g), _use(g))] += g.count
    if g.insert_mm is not None:
        plain = g.holds if g.key.startswith("posts/") and g.holds != "standoff" else g.name
        count[("heat-set insert", f"{label(g.thread)} x {g.insert_mm:g}", plain)] += g.count
    if g.holding == "nut" or g.holding in NUTS:
        count[("nut", label(g.thread), g.name)] += g.count


def _use(g: JointGroup) -> str:
    """What a screw is for, as a bill writes it."""
    if any(x.kind == "spacer" for x in g.layers) and g.standoff_mm is None:
        return f"{g.name}, through the spacers"
    return f"{g.name}, with nut {label(g.thread)}" if g.holding == "nut" else g.name
