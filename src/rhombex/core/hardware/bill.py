"""The bill of materials: components, screws with lengths, inserts, pins, feet, filament."""

from __future__ import annotations

from collections import Counter

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.stack import slab_mm
from rhombex.core.case import Case
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design
from rhombex.core.fit.joints import stock_size
from rhombex.core.parts.threads import label
from rhombex.core.reference import val
from rhombex.core.shell.spacers import shared_holes
from rhombex.core.trail import Frozen


class Line(Frozen):
    """One line: how many of what, in which size, and what for."""

    item: str
    size: str
    count: int
    use: str


def bill(design: Design, things: tuple[Thing, ...], case: Case, parts: tuple[PartCuts, ...]) -> tuple[Line, ...]:
    """Everything to have on the table before assembly, alike things added up."""
    count: Counter[tuple[str, str, str]] = Counter()
    for t in things:
        count[("component", t.component.label, t.name)] += 1
        if t.component.air is not None:
            size = stock_size(t.mounts[0].mount.thread if t.mounts else "M3", screw_for_fan(case, t))
            thread = label(t.mounts[0].mount.thread) if t.mounts else "M3"
            count[("screw, socket cap", size, f"{t.name}, with nut {thread}")] += len(t.mounts)
            count[("nut", thread, t.name)] += len(t.mounts)
    names = {t.id: t.name for t in things}
    clamped = _stacks(things, count)
    for p in case.mounts:
        if p.screw_mm is not None and p.of not in clamped:
            count[("screw, socket cap", f"{label(p.thread)} x {p.screw_mm:g}", names[p.of])] += 1
        if p.holding == "insert":
            length = val(f"fasteners.{p.thread}.insert_length")
            count[("heat-set insert", f"{label(p.thread)} x {length:g}", names[p.of])] += 1
    for j in case.joints:
        if j.screw_mm is not None:
            count[("screw, socket cap", f"{label(j.thread)} x {j.screw_mm:g}", j.name)] += 1
        if j.holding == "insert":
            length = val(f"fasteners.{j.thread}.insert_length")
            count[("heat-set insert", f"{label(j.thread)} x {length:g}", j.name)] += 1
    if case.feet:
        count[("foot, stick-on", f"{val('printing.feature.foot_d'):g} mm", case.footed)] += len(case.feet)
    for part in parts:
        for c in part.cuts:
            d = val("printing.feature.dowel_d")
            long = 2 * d * val("printing.feature.dowel_depth_factor")
            count[("dowel pin", f"{d:g} x {long:g}", f"joint of {part.part}")] += len(c.dowels)
    for lead in design.leads:
        count[("lead", f"{lead.length_mm:g} mm", lead.name)] += 1
    return tuple(
        Line(item=item, size=size, count=n, use=use)
        for (item, size, use), n in sorted(count.items(), key=lambda kv: kv[0])
        if n > 0
    )


def _stacks(things: tuple[Thing, ...], count: Counter[tuple[str, str, str]]) -> set[str]:
    """What holds stacked boards: bought standoffs with a nut each, or one long screw through boards and printed spacers into
    the post. Returns the lowest boards whose own screws the long ones replace."""
    by_id = {t.id: t for t in things}
    clamped: set[str] = set()
    for t in things:
        stand, lower = t.placement.stand, by_id.get(t.placement.on or "")
        if stand is None or lower is None:
            continue
        for _, thread in shared_holes(lower, t):
            use = f"{t.name} on {lower.name}"
            if stand.made == "bought":
                count[("standoff", f"{label(thread)} x {stand.standoff_mm:g}", use)] += 1
                count[("nut", label(thread), use)] += 1
                continue
            need = slab_mm(t.component) + stand.standoff_mm + slab_mm(lower.component) + val(f"fasteners.{thread}.d")
            count[("screw, socket cap", stock_size(thread, need), f"{use}, through the spacers")] += 1
            clamped.add(lower.id)
    return clamped


def screw_for_fan(case: Case, fan: Thing) -> float:
    """The least length through wall, fan and nut, mm."""
    wall = case.face(fan.face).thick_mm if fan.face and case.faces else 0.0
    thick = max(-s.lo[2] for s in fan.component.solids)
    return wall + thick + 2.4 + 0.5  # nut M3 m = 2.4 (ISO 4032), one thread proud
