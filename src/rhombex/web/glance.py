"""A design at a glance, for the shelf: its outline from above, its size, and what is open on it."""

from __future__ import annotations

from collections import Counter

from rhombex.core.analysis import Analysis
from rhombex.core.begun import begun
from rhombex.core.bench.gaps import hard
from rhombex.core.concerns import Finding
from rhombex.core.space import Vec2, Vec3
from rhombex.core.trail import Frozen, Shown

PANEL_GAP_MM = 6.0  # panels are drawn one beside another


class Patch(Frozen):
    """A rectangle of the picture, from above: the case (`wall` is how thick it is drawn), a component, or a panel."""

    kind: str
    lo: Vec2
    hi: Vec2
    wall_mm: Shown = 0.0


class Glance(Frozen):
    """`size_mm`: outer size, None where there is no case round it. `stops`, `weigh`: open concerns; all of them once hours and support are
    `settled`."""

    size_mm: Vec3 | None
    patches: tuple[Patch, ...]
    stops: int
    weigh: int
    begun: bool
    settled: bool


def glance(a: Analysis, findings: tuple[Finding, ...]) -> Glance:
    """What the shelf shows of a design."""
    count = Counter(f.severity for f in findings)
    cased = a.case.has("walls")
    patches = []
    if cased:
        w, d, _ = a.case.box_mm
        patches.append(Patch(kind="case", lo=(0.0, 0.0), hi=(w, d), wall_mm=a.design.shell.wall_mm))
    for t in sorted(a.things, key=lambda t: t.frame.origin[2]):
        boxes = [s.box for s in hard(t)]
        if boxes:
            patches.append(
                Patch(
                    kind=t.component.family,
                    lo=(min(b.lo[0] for b in boxes), min(b.lo[1] for b in boxes)),
                    hi=(max(b.hi[0] for b in boxes), max(b.hi[1] for b in boxes)),
                )
            )
    patches += _in_rows([p.size_mm for p in a.design.panels])
    return Glance(
        size_mm=a.case.box_mm if cased else None,
        patches=tuple(patches),
        stops=count["stop"],
        weigh=count["weigh"],
        begun="plan" in begun(a),
        settled=all(e.level != "preview" for _, e in a.estimated()),
    )


def _in_rows(sizes: list[Vec2]) -> list[Patch]:
    """Panels side by side in rows that make about one and a half times as wide a picture as high, the first at the top."""
    wide = (1.5 * sum((w + PANEL_GAP_MM) * (d + PANEL_GAP_MM) for w, d in sizes)) ** 0.5
    out: list[Patch] = []
    x = y = deep = 0.0
    for w, d in sizes:
        if x > 0 and x + w > wide:
            x, y, deep = 0.0, y - deep - PANEL_GAP_MM, 0.0
        out.append(Patch(kind="panel", lo=(x, y - d), hi=(x + w, y)))
        x, deep = x + w + PANEL_GAP_MM, max(deep, d)
    return out
