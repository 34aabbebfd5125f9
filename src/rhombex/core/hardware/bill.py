"""The bill of materials: components, screws with lengths, inserts, pins, feet, filament."""

from __future__ import annotations

from collections import Counter

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.stack import slab_mm
from rhombex.core.case import Case, Mount
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design
from rhombex.core.fit.joints import stock_or_not, stock_size
from rhombex.core.hardware.face_screws import face_screw, nut_mm
from rhombex.core.hardware.sheets import BoughtSheet
from rhombex.core.parts.threads import INCH, label, screw_size
from rhombex.core.reference import val
from rhombex.core.shell.spacers import held_above, shared_holes
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
    sheets: tuple[BoughtSheet, ...] = (),
) -> tuple[Line, ...]:
    """Everything to have on the table before assembly, alike things added up."""
    count: Counter[tuple[str, str, str]] = Counter()
    for t in things:
        count[("component", t.component.label, t.name)] += 1
        _on_a_face(t, case, count)
    names = {t.id: t.name for t in things}
    for p in case.mounts:
        if p.screw_mm is not None or (p.holding != "through" and not p.stud):
            held = " on ".join(names[x] for x in reversed((p.of, *p.clamps)))
            use = f"{held}, through the spacers" if p.clamps else held
            count[(_head(p.thread), _screw(p), use)] += 1
        if p.holding == "insert":
            length = val(f"fasteners.{p.thread}.insert_length")
            count[("heat-set insert", f"{label(p.thread)} x {length:g}", names[p.of])] += 1
    _stacks(things, case, count)
    for j in case.joints:
        count[("screw, socket cap", stock_or_not(j.thread, j.holding, j.grip_mm, j.screw_mm), j.name)] += 1
        if j.holding == "insert":
            length = val(f"fasteners.{j.thread}.insert_length")
            count[("heat-set insert", f"{label(j.thread)} x {length:g}", j.name)] += 1
    for x in sheets:
        size = f"{x.size_mm[0]:.1f} x {x.size_mm[1]:.1f} x {x.thick_mm:g} mm"
        count[(f"sheet, {x.material}", size, x.part)] += 1
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


def _head(thread: str) -> str:
    return "screw, pan head" if thread == INCH else "screw, socket cap"


def _screw(p: Mount) -> str:
    if p.holding == "through":
        return screw_size(p.thread, p.screw_mm or 0.0)
    return stock_or_not(p.thread, p.holding, p.grip_mm, p.screw_mm)


def _stacks(things: tuple[Thing, ...], case: Case, count: Counter[tuple[str, str, str]]) -> None:
    """What holds boards on boards besides the screws of the posts: bought standoffs, each with a screw on top of it or another
    standoff; and where the lowest board stands on no post, a screw with a nut through all that is clamped."""
    by_id = {t.id: t for t in things}
    posts = {p.of for p in case.mounts if p.holding != "through"}
    for t in things:
        stand, lower = t.placement.stand, by_id.get(t.placement.on or "")
        if stand is None or lower is None:
            continue
        use = f"{t.name} on {lower.name}"
        for at, thread in shared_holes(lower, t):
            over, _, stud = held_above(t, at, things)
            grip = slab_mm(t.component) + over
            if stand.made == "bought":
                count[("standoff, with stud", f"{label(thread)} x {stand.standoff_mm:g}", use)] += 1
                if not stud:
                    count[("screw, socket cap", stock_size(thread, grip + val(f"fasteners.{thread}.d")), use)] += 1
            elif lower.placement.on is None and lower.id not in posts and not stud:
                need = grip + stand.standoff_mm + slab_mm(lower.component) + nut_mm(thread)
                count[("screw, socket cap", stock_size(thread, need), f"{use}, through the spacers")] += 1
                count[("nut", label(thread), use)] += 1


def _on_a_face(t: Thing, case: Case, count: Counter[tuple[str, str, str]]) -> None:
    """The screws of what is screwed to a wall, and their nuts."""
    s = face_screw(t, case)
    if s is None:
        return
    if s.length_mm is None:
        size = f"{label(s.thread)}, {s.needs_mm[0]:.1f} to {s.needs_mm[1]:.1f} mm long: none in stock"
    else:
        size = screw_size(s.thread, s.length_mm)
    count[(_head(s.thread), size, f"{t.name}, with nut {label(s.thread)}" if s.nut_mm else t.name)] += s.count
    if s.nut_mm:
        count[("nut", label(s.thread), t.name)] += s.count
