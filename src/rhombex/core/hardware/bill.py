"""The bill of materials: components, screws with lengths, inserts, pins, feet, filament."""

from __future__ import annotations

from collections import Counter

from rhombex.core.bench.arrange import Thing
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design
from rhombex.core.hardware.joints import label
from rhombex.core.reference import series, val
from rhombex.core.shell.plan import ShellPlan
from rhombex.core.trail import Frozen


class Line(Frozen):
    """One line: how many of what, in which size, and what for."""

    item: str
    size: str
    count: int
    use: str


def bill(design: Design, things: tuple[Thing, ...], plan: ShellPlan, parts: tuple[PartCuts, ...]) -> tuple[Line, ...]:
    """Everything to have on the table before assembly, alike things added up."""
    count: Counter[tuple[str, str, str]] = Counter()
    for t in things:
        count[("component", t.component.label, t.name)] += 1
        if t.component.air is not None:
            size = f"M3 x {screw_for_fan(design, t):g}"
            count[("screw, socket cap", size, f"{t.name}, with nut M3")] += len(t.mounts)
            count[("nut", "M3", t.name)] += len(t.mounts)
    names = {t.id: t.name for t in things}
    for p in plan.posts:
        if p.screw_mm is not None:
            count[("screw, socket cap", f"{label(p.thread)} x {p.screw_mm:g}", names[p.of])] += 1
        if p.holding == "insert":
            length = val(f"fasteners.{p.thread}.insert_length")
            count[("heat-set insert", f"{label(p.thread)} x {length:g}", names[p.of])] += 1
    for b in plan.bosses:
        if b.screw_mm is not None:
            count[("screw, socket cap", f"M3 x {b.screw_mm:g}", "lid")] += 1
        if design.shell.joint_thread == "insert":
            count[("heat-set insert", f"M3 x {val('fasteners.M3.insert_length'):g}", "lid")] += 1
    if plan.feet:
        count[("foot, stick-on", f"{val('printing.feature.foot_d'):g} mm", "base")] += len(plan.feet)
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


def screw_for_fan(design: Design, fan: Thing) -> float:
    """Stock length through wall, fan and nut."""
    wall = {"top": design.shell.lid_mm, "bottom": design.shell.floor_mm}.get(fan.face or "", design.shell.wall_mm)
    thick = max(-s.lo[2] for s in fan.component.solids)
    need = wall + thick + 2.4 + 0.5  # nut M3 m = 2.4 (ISO 4032), one thread proud
    return next((x for x in series("fasteners.rule.stock_lengths") if x >= need), need)
