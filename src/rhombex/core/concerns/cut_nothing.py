"""What cuts nothing: vents whose holes are all where something else is, or that are smaller than one; openings and vents where no wall is."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product

import numpy as np

from rhombex.core.analysis import Analysis
from rhombex.core.bench.anchors import placed
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import OWN, VentField
from rhombex.core.edits import PutVent, RemoveOwnOpening, RemoveVent
from rhombex.core.openings.opening import Vent
from rhombex.core.openings.vents import vent, vent_room
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.space import Vec2
from rhombex.core.trail import given

STEP_MM = 5.0  # of the places that are tried on the same wall
WORDS = {"bottom": "floor", "top": "top"}
ENOUGH = 0.5  # of the holes that the field would have alone


def lattice_mm(a: Analysis) -> tuple[float, float]:
    """How wide the holes of vents are, and the webs between them."""
    return val("air.air.vent_hole"), max(val("air.air.vent_web"), val("printing.feature.web_lines") * a.case.line_mm)


@concern("vents-have-no-hole", "air", needs=("walls",))
def vents_have_no_hole(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: a field of vents through which nothing comes."""
    for field in a.design.vents:
        v = next((v for v in a.openings.vents if v.id == field.id), None)
        if v is None or v.holes or not v.parts:
            continue
        across, web = lattice_mm(a)
        yield say(
            "weigh",
            f"Vents in the {WORDS.get(field.face, f'{field.face} wall')} have no hole",
            measured=0.0,
            limit=1.0,
            unit="holes",
            how="holes of the field that keep off openings, other vents and the edges of the wall",
            of=(given("left out", v.dropped, ""), given("hole", across), given("web", web)),
            reason=(
                f"All {v.dropped} that have room in the field are left out: openings, other vents, screws or feet are there."
                if v.dropped
                else f"One hole is {across * 2**0.5:.1f} mm from corner to corner, and the field, or the wall there, has no room for it."
            )
            + " No air comes through it.",
            source="common practice",
            subjects=(field.id, "vents"),
            remedies=(
                *_elsewhere(a, field, v),
                *_larger(a, field, v),
                Remedy(label="Take these vents out", edits=(RemoveVent(id=field.id),)),
            ),
        )


@concern("cut-in-no-wall", "openings")
def cut_in_no_wall(a: Analysis, say: Maker) -> Iterator[Finding]:
    """An opening of one's own, or vents, on a face where the case has no wall: they stay for another construction, and cut nothing in this one."""
    cut = {o.id: o.parts for o in a.openings.openings} | {v.id: v.parts for v in a.openings.vents}
    mine = [
        (f"{OWN}{o.id}", o.face, f"{o.name} is", Remedy(label=f"Close {o.name}", edits=(RemoveOwnOpening(id=o.id),)))
        for o in a.design.own_openings
    ]
    mine += [
        (
            v.id,
            v.face,
            f"The vents on the {WORDS.get(v.face, v.face)} are",
            Remedy(label="Take these vents out", edits=(RemoveVent(id=v.id),)),
        )
        for v in a.design.vents
    ]
    walled = {w.face for w in a.case.walls}
    for id, face, what, out in mine:
        # what is not there, though its side is, could not be laid out: that is told by itself
        if cut[id] == () if id in cut else face not in walled:
            yield say(
                "advice",
                f"{what} in no wall",
                measured=0.0,
                limit=1.0,
                unit="parts",
                how="parts that have a wall there",
                reason="The case has no wall there: nothing is cut. It is kept, and is cut where another construction has one.",
                source="common practice",
                subjects=(id, face),
                remedies=(out,),
            )


def _holes(a: Analysis, field: VentField, at: Vec2) -> int:
    """How many holes the field has round a place of its face, beside all that is there, in the size that is set; none where that is too many."""
    others = tuple(v for v in a.openings.vents if v.id != field.id)
    try:
        return len(vent(a.case, field, at, list(a.openings.openings), others, None, *lattice_mm(a)).holes)
    except DesignError:
        return 0


@searched
def _elsewhere(a: Analysis, field: VentField, now: Vent) -> tuple[Remedy, ...]:
    """The nearest place on the same wall where at least half of the holes that are left out have room."""
    if not now.dropped:
        return ()
    at = placed(a.case.face(field.face), field, a.things)
    u0, v0, u1, v1 = vent_room(a.case, field.face, lattice_mm(a)[1])
    w, h = (x / 2 for x in field.size_mm)
    us, vs = (
        np.arange(lo + half, hi - half + 1e-6, STEP_MM).tolist() or [(lo + hi) / 2]
        for lo, hi, half in ((u0, u1, w), (v0, v1, h))
    )
    places = sorted(product(us, vs), key=lambda p: (p[0] - at[0]) ** 2 + (p[1] - at[1]) ** 2)
    for u, v in places:
        if _holes(a, field, (u, v)) >= ENOUGH * now.dropped:
            by = (u - at[0], v - at[1])
            moved = (round(field.at_mm[0] + by[0], 2), round(field.at_mm[1] + by[1], 2))
            edit = PutVent(vent=field.model_copy(update={"at_mm": moved}))
            return (Remedy(label="Move these vents to a free place on their wall", edits=(edit,)),)
    return ()


@searched
def _larger(a: Analysis, field: VentField, now: Vent) -> tuple[Remedy, ...]:
    """A field that is smaller than a hole made as large as rows of four and of three, where some of these have room."""
    across, web = lattice_mm(a)
    pitch = (across + web) * 2**0.5
    size = tuple(
        round(max(x, n), 1) for x, n in zip(field.size_mm, (4 * pitch, across * 2**0.5 + pitch / 2), strict=True)
    )
    if now.dropped or size == field.size_mm:
        return ()
    larger = field.model_copy(update={"size_mm": size})
    at = placed(a.case.face(field.face), field, a.things)
    if not _holes(a, larger, at):
        return ()
    return (Remedy(label=f"Make these vents {size[0]:g} by {size[1]:g} mm", edits=(PutVent(vent=larger),)),)
