"""What a person would check on a printed piece with calipers: sizes as drawn, in the order in which they are reached."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby

from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.design import Panel
from rhombex.core.geometry import mesh_kernel
from rhombex.core.space import Vec2, Vec3
from rhombex.core.trail import Frozen, Shown


class Check(Frozen):
    """A size: what it is of, how it is measured, mm as drawn."""

    of: str
    how: str
    mm: Shown


def checks(a: Analysis, p: PrintedPiece) -> tuple[Check, ...]:
    """Outside, thicknesses, posts and bosses, openings of a piece; alike ones once."""
    return tuple(dict.fromkeys(_checks(a, p)))


def _checks(a: Analysis, p: PrintedPiece) -> Iterator[Check]:
    part = a.case.part(p.part)
    b = mesh_kernel.evaluate(a.pieces_in_case[p.name]).bounding_box()
    lo, hi = (b[0], b[1], b[2]), (b[3], b[4], b[5])
    for i, how in enumerate(("width", "depth", "height")):
        yield Check(of="outside", how=how, mm=round(hi[i] - lo[i], 3))
    for plate in part.plates:
        yield Check(of=plate.name, how="thickness", mm=plate.thick_mm)
    if not part.in_place:
        yield from (c for x in a.design.panels if x.id == p.part for c in _panel(x))
        return
    yield from _posts(a, p.part, lo, hi)
    for j in {
        j.name: j
        for j in a.case.joints
        if p.part in (j.holds, j.into) and all(lo[i] - 1 <= j.at[i] <= hi[i] + 1 for i in range(3))
    }.values():
        hole = j.hole_mm if j.into == p.part else j.clearance_mm
        yield Check(of=f"{j.name} screws", how="hole, diameter", mm=hole)
    for m in {
        m.name: m
        for m in a.case.magnets
        if p.part in (m.holds, m.into) and all(lo[i] - 1 <= m.at[i] <= hi[i] + 1 for i in range(3))
    }.values():
        if m.screw is not None and m.into == p.part:
            yield Check(of=f"screws under the magnets of the {m.name}", how="recess, diameter", mm=m.screw.head_hole_mm)
            continue
        pocket = m.into_pocket_mm if m.into == p.part else m.holds_pocket_mm
        if m.long_mm is not None:
            long = m.into_pocket_long_mm if m.into == p.part else m.holds_pocket_long_mm
            yield Check(of=f"magnets of the {m.name}", how="pocket, length", mm=long)
            yield Check(of=f"magnets of the {m.name}", how="pocket, width", mm=pocket)
        else:
            yield Check(of=f"magnets of the {m.name}", how="pocket, diameter", mm=pocket)
        yield Check(of=f"magnets of the {m.name}", how="pocket, depth", mm=m.deep_mm)
    for o in a.openings.openings:
        at = a.case.face(o.face).at(o.at_mm)
        if p.part not in o.parts or not all(lo[i] - 1 <= at[i] <= hi[i] + 1 for i in range(3)):
            continue
        if o.round:
            yield Check(of=o.label, how="diameter", mm=o.size_mm[0])
        else:
            yield Check(of=o.label, how="width", mm=o.size_mm[0])
            yield Check(of=o.label, how="height", mm=o.size_mm[1])


def _panel(x: Panel) -> Iterator[Check]:
    if x.vent_d_mm > 0:
        yield Check(of="vents", how="diameter", mm=x.vent_d_mm)
        yield Check(of="vents", how="middle to middle along the width", mm=x.vent_pitch_mm)
    if x.window_mm is not None:
        u, v, w, h = x.window_mm
        for how, mm in (("width", w), ("height", h), ("from the left edge", u), ("from the front edge", v)):
            yield Check(of="window", how=how, mm=mm)


def _posts(a: Analysis, part: str, lo: Vec3, hi: Vec3) -> Iterator[Check]:
    names = {t.id: t.name for t in a.things}
    mine = [m for m in a.case.mounts if m.part == part and _in(m.at, lo, hi)]
    for of, found in groupby(mine, key=lambda m: m.of):
        posts = list(found)
        name = f"posts of {names.get(of, of)}"
        yield Check(of=name, how="hole, diameter", mm=posts[0].hole_mm)
        yield Check(of=name, how="top over the outside of the floor", mm=posts[0].top_mm)
        for i, way in ((0, "apart along the width"), (1, "apart along the depth")):
            across = sorted({round(m.at[i], 3) for m in posts})
            if len(across) > 1:
                yield Check(of=name, how=f"{way}, middle to middle", mm=round(across[-1] - across[0], 3))


def _in(at: Vec2, lo: Vec3, hi: Vec3) -> bool:
    return all(lo[i] <= at[i] <= hi[i] for i in (0, 1))
