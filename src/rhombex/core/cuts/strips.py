"""Where a cut may not run, and where it only costs: the strips of a part along an axis."""

from __future__ import annotations

from typing import Literal

from rhombex.core.case import Case, MagnetPair, Snap
from rhombex.core.openings.opening import Openings, outline
from rhombex.core.reference import val
from rhombex.core.shell.box import facing_across
from rhombex.core.trail import Frozen

PartName = str
Axis = Literal["x", "y", "z"]
INDEX: dict[Axis, int] = {"x": 0, "y": 1, "z": 2}
NAMES: tuple[Axis, ...] = ("x", "y", "z")


class Strip(Frozen):
    """A stretch of the part along the cut axis that a cut may not run through, and why."""

    lo: float
    hi: float
    why: str
    soft: bool = False


def strips(case: Case, openings: Openings, part: PartName, axis: Axis) -> tuple[Strip, ...]:
    """Where a cut along an axis would go through a boss, post, opening, fan or foot seat."""
    i = INDEX[axis]
    keep = val("limits.cut.seam_to_feature")
    out: list[Strip] = []
    for b in case.kept_whole:
        if part in (b.holds, b.into):
            kind = "magnet pocket" if isinstance(b, MagnetPair) else "snap" if isinstance(b, Snap) else ""
            why = f"{kind} of the {b.name}" if kind else f"{b.name} screw boss"
            out.append(Strip(lo=b.boss.lo[i] - keep, hi=b.boss.hi[i] + keep, why=why))
    if case.hinge is not None and i == case.hinge.axis:
        for k in (k for k in case.hinge.knuckles if k.part == part):
            out.append(Strip(lo=k.lo_mm - keep, hi=k.hi_mm + keep, why="knuckle of a hinge"))
    if case.tab is not None and case.tab.part == part and not case.tab.out[i] and i < 2:
        out.append(Strip(lo=case.tab.box.lo[i] - keep, hi=case.tab.box.hi[i] + keep, why="tab to pull it by"))
    for x in case.lifts:
        if x.part == part:
            out.append(Strip(lo=x.box.lo[i] - keep, hi=x.box.hi[i] + keep, why="finger notch"))
    for p in case.mounts:
        if p.part == part and i < 2:
            r = p.od_mm / 2 + keep
            out.append(Strip(lo=p.at[i] - r, hi=p.at[i] + r, why=f"post of {p.of}"))
        elif p.part == part:
            out.append(Strip(lo=0.0, hi=p.box.hi[2] + keep, why=f"post of {p.of}"))
    for q in (q for q in case.props if q.part == part and i < 2):
        out.append(Strip(lo=q.box.lo[i] - keep, hi=q.box.hi[i] + keep, why=f"post under {q.of}"))
    for rib in (r for r in case.ribs if r.part == part and r.across == i):  # across a rib a cut may run
        out.append(Strip(lo=rib.box.lo[i] - keep, hi=rib.box.hi[i] + keep, why="rib"))
    if case.footed == part and i < 2:
        r = case.foot_d_mm / 2 + 1
        out += [Strip(lo=f[i] - r, hi=f[i] + r, why="foot seat") for f in case.feet]
    ends = {f.id for f in case.faces if facing_across(f, i)}
    for op in openings.openings:
        if part in op.parts and op.face not in ends:
            lo, hi = case.face(op.face).stretch(i, *outline(op, keep))
            out.append(Strip(lo=lo, hi=hi, why=f"opening {op.label}"))
    for v in openings.vents:
        if part in v.parts and v.face not in ends and v.holes:
            (u, y), (w, h) = v.at_mm, (v.size_mm[0] / 2, v.size_mm[1] / 2)
            lo, hi = case.face(v.face).stretch(i, u - w, y - h, u + w, y + h)
            out.append(Strip(lo=lo, hi=hi, why=v.label.lower() if v.fan else "vent field", soft=v.fan is None))
    return tuple(sorted(out, key=lambda s: s.lo))


def crossed(strip_list: tuple[Strip, ...], c: float, soft: bool) -> tuple[str, ...]:
    """Why a cut at c would go through something; with `soft` what only costs counts, too."""
    return tuple(dict.fromkeys(s.why for s in strip_list if s.lo < c < s.hi and (soft or not s.soft)))
