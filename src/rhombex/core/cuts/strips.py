"""Where a cut may not run, and where it only costs: the strips of a part along an axis."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot
from typing import Literal

import numpy as np

from rhombex.core.case import Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import MagnetPair, Snap
from rhombex.core.memo import MemoOfThese
from rhombex.core.openings.opening import Openings, outline
from rhombex.core.reference import val
from rhombex.core.shell.box import facing_across
from rhombex.core.space import Box, Vec2
from rhombex.core.trail import Frozen

PartName = str
EVERYWHERE: Vec2 = (-1e4, 1e4)  # farther than any part reaches, mm
Axis = Literal["x", "y", "z"]
INDEX: dict[Axis, int] = {"x": 0, "y": 1, "z": 2}
NAMES: tuple[Axis, ...] = ("x", "y", "z")


class Strip(Frozen):
    """A stretch of the part along the cut axis that a cut may not run through, and why."""

    lo: float
    hi: float
    why: str
    soft: bool = False


@dataclass(frozen=True)
class Slant:
    """How a turned cut runs: for every millimetre along axis `j` so much farther along its own, counted from `about_mm`; and for every one along the plate's
    normal `n`, where it leans, so much as `rise`, counted from `level_mm`. `reach_mm`, `height_mm`: the part along j and n."""

    j: int
    slope: float
    about_mm: float
    reach_mm: Vec2
    n: int
    rise: float
    level_mm: float
    height_mm: Vec2

    @property
    def longer(self) -> float:
        """How much farther along its axis than square to it the same distance from it is."""
        return hypot(1.0, self.slope, self.rise)

    def seen(self, a: float, b: float, along: Vec2 | None, up: Vec2 | None, keep: float, r: float) -> Vec2:
        """From where to where a cut goes through what reaches from a to b across it, over `along` on its way and over `up` along the plate's normal (None:
        anywhere), with `keep` beside it; `r`: round what stands upright there, as far as that."""
        shifts = [
            -self.slope * (e - self.about_mm) - self.rise * (h - self.level_mm)
            for e in along or self.reach_mm
            for h in up or self.height_mm
        ]
        beside = keep * self.longer + r * hypot(1.0, self.slope if self.n == 2 else self.rise)
        return a + min(shifts) - beside, b + max(shifts) + beside


def strips(case: Case, openings: Openings, part: PartName, axis: Axis, slant: Slant | None = None) -> tuple[Strip, ...]:
    """Where a cut along an axis would go through a boss, post, opening, fan or foot seat; of a turned one, by where it runs in its middle."""
    return _found.make((case, openings), (part, axis, slant), lambda: _strips(case, openings, part, axis, slant))


_found: MemoOfThese[tuple[Strip, ...]] = MemoOfThese(400)


def _strips(case: Case, openings: Openings, part: PartName, axis: Axis, slant: Slant | None) -> tuple[Strip, ...]:
    i = INDEX[axis]
    j = slant.j if slant else i
    keep = val("limits.cut.seam_to_feature")
    out: list[Strip] = []

    n = slant.n if slant else i

    def put(
        why: str,
        across: Vec2,
        along: Vec2 | None,
        up: Vec2 | None,
        beside: float = keep,
        r: float = 0.0,
        soft: bool = False,
    ) -> None:
        a, b = across
        lo, hi = slant.seen(a, b, along, up, beside, r) if slant else (a - beside - r, b + beside + r)
        out.append(Strip(lo=lo, hi=hi, why=why, soft=soft))

    def put_box(why: str, box: Box) -> None:
        put(why, (box.lo[i], box.hi[i]), (box.lo[j], box.hi[j]), (box.lo[n], box.hi[n]))

    own = next((p for p in case.parts if p.name == part), None)
    if own is not None and own.only is not None and i not in own.only:
        put("length of a bar", EVERYWHERE, None, None)
    for kept in own.kept if own else ():
        box = kept.box
        around = 0.0 if kept.soft else keep
        put(kept.why, (box.lo[i], box.hi[i]), (box.lo[j], box.hi[j]), (box.lo[n], box.hi[n]), around, soft=kept.soft)
    for b in case.kept_whole:
        if part in (b.holds, b.into):
            kind = "magnet pocket" if isinstance(b, MagnetPair) else "snap" if isinstance(b, Snap) else ""
            put_box(f"{kind} of the {b.name}" if kind else f"{b.name} screw boss", b.boss)
    if case.hinge is not None and i == case.hinge.axis:
        for k in (k for k in case.hinge.knuckles if k.part == part):
            put("knuckle of a hinge", (k.lo_mm, k.hi_mm), None, None)
    if i == 2:
        for rim in (b for b in case.bulges if part in {p for seam in case.seams for p in seam.parts}):
            put("rim", (rim.from_mm, rim.to_mm), None, None, 0.0)
        if case.hinge is not None and case.hinge.knuckles:
            z, reach = case.hinge.high_mm, case.hinge.reach_mm
            put("bracket of a hinge", (z - reach, z + reach), None, None, 0.0)
    if case.tab is not None and case.tab.part == part and not case.tab.out[i] and i < 2:
        put_box("tab to pull it by", case.tab.box)
    for x in case.lifts:
        if x.part == part:
            put_box("finger notch", x.box)
    for p in case.mounts:
        if p.part == part and i < 2:
            up = (p.box.lo[n], p.box.hi[n])
            put(f"post of {p.of}", (p.at[i], p.at[i]), (p.at[j], p.at[j]), up, r=p.od_mm / 2)
        elif p.part == part:
            put(f"post of {p.of}", (keep, p.box.hi[2]), (p.box.lo[j], p.box.hi[j]), (p.box.lo[n], p.box.hi[n]))
    for q in (q for q in case.props if q.part == part):
        put_box(f"post under {q.of}", q.box)
    for hook in (h for h in case.hooks if h.on == part):
        put_box(f"hook under {hook.of}", hook.room)
    for room in (r for s in case.fan_slots if s.on == part for r in s.rooms[:2]):
        put_box("rail beside a fan", room)
    for rib in (r for r in case.ribs if r.part == part and r.across == i):  # across a rib a cut may run
        put_box("rib", rib.box)
    if case.footed == part and i < 2:
        for f in (*((x, y, 0.0) for x, y in case.feet),):
            seat = (0.0, 1.0) if n == 2 else None
            put("foot seat", (f[i], f[i]), (f[j], f[j]), seat, 1.0, case.foot_d_mm / 2)
    ends = {f.id for f in case.faces if facing_across(f, i)}
    for op in openings.openings:
        if part in op.parts and op.face not in ends:
            face, of = case.face(op.face), outline(op, 0.0)
            put(f"opening {op.label}", face.stretch(i, *of), face.stretch(j, *of), _up(face, slant, of))
    for v in openings.vents:
        if part in v.parts and v.face not in ends and v.holes:
            (mx, my), (w, h), face = v.at_mm, (v.size_mm[0] / 2, v.size_mm[1] / 2), case.face(v.face)
            field = (mx - w, my - h, mx + w, my + h)
            why = v.label.lower() if v.fan else "vent field"
            put(why, face.stretch(i, *field), face.stretch(j, *field), _up(face, slant, field), 0.0, soft=v.fan is None)
    for t in openings.texts:
        if part == t.part and t.face not in ends:
            face = case.face(t.face)
            put(
                "text",
                face.stretch(i, *t.rect_mm),
                face.stretch(j, *t.rect_mm),
                _up(face, slant, t.rect_mm),
                0.0,
                soft=True,
            )
    return tuple(sorted(out, key=lambda s: s.lo))


def _up(face: CaseFace, slant: Slant | None, of: tuple[float, float, float, float]) -> Vec2 | None:
    """What a rectangle of a face covers along a plate's normal; of the plate itself as much as it goes through, for a cut's level is in its middle."""
    if slant is None:
        return None
    low, high = face.stretch(slant.n, *of)
    return (low, 2 * slant.level_mm - low) if facing_across(face, slant.n) else (low, high)


def crossed(strip_list: tuple[Strip, ...], c: float, soft: bool) -> tuple[str, ...]:
    """Why a cut at c would go through something; with `soft` what only costs counts, too."""
    return tuple(dict.fromkeys(s.why for s in strip_list if s.lo < c < s.hi and (soft or not s.soft)))


def crossed_at(strip_list: tuple[Strip, ...], at: tuple[float, ...], soft: bool) -> list[tuple[str, ...]]:
    """As `crossed`, for many places at once."""
    mine = [s for s in strip_list if soft or not s.soft]
    c = np.array(at)[:, None]
    lo, hi = np.array([s.lo for s in mine]), np.array([s.hi for s in mine])
    out: list[tuple[str, ...]] = [()] * len(at)
    hits = (lo < c) & (c < hi)
    # between two ends of strips all places go through the same ones
    first = np.append(True, (hits[1:] != hits[:-1]).any(axis=1)) & hits.any(axis=1)
    for k in np.flatnonzero(hits.any(axis=1)).tolist():
        out[k] = tuple(dict.fromkeys(mine[j].why for j in np.flatnonzero(hits[k]).tolist())) if first[k] else out[k - 1]
    return out
