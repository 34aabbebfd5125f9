"""Panes in openings of one's own: whether there is plain wall all round for them to lie on, and room for the nuts of their screws."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from rhombex.core.analysis import Analysis
from rhombex.core.case.faces import CaseFace
from rhombex.core.concerns.bench import move_of, up
from rhombex.core.concerns.nuts import nut_meets
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import OwnOpening
from rhombex.core.edits import MoveOnFace, PutOwnOpening
from rhombex.core.openings.opening import Opening, outline
from rhombex.core.openings.pane_screws import wanted
from rhombex.core.openings.panes import nuts_of, own_of
from rhombex.core.space import normal_axis
from rhombex.core.trail import given

LEAST_MM = 10.0  # an opening smaller than this is no window


def put_pane(own: OwnOpening, **change: Any) -> PutOwnOpening:
    """The edit that changes the pane of an opening."""
    assert own.pane is not None
    return PutOwnOpening(opening=own.model_copy(update={"pane": own.pane.model_copy(update=change)}))


@concern("pane-has-no-seat", "openings", needs=("walls",))
def pane_has_no_seat(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A pane that would lie on something else than plain wall: a corner, a rim, a post, a seam; or behind none."""
    for o in a.openings.openings:
        if o.pane is None:
            continue
        own = next(x for x in a.design.own_openings if o.id.endswith(f"/{x.id}"))
        without = Remedy(
            label="Leave the pane out", edits=(PutOwnOpening(opening=own.model_copy(update={"pane": None})),)
        )
        if not o.parts:
            yield say(
                "stop",
                f"No wall holds the pane of {o.label}",
                measured=0,
                limit=1,
                unit="wall",
                how="0: no wall stands behind it, 1: one does",
                reason=f"Nothing stands on the {o.face} where it would lie: the pane is not made.",
                source="geometry",
                subjects=(o.id, "pane"),
                remedies=(without,),
            )
            continue
        face = a.case.face(o.face)
        u0, v0, u1, v1 = outline(o)
        c0, d0, c1, d1 = face.clear_mm
        room = min(u0 - c0, v0 - d0, c1 - u1, d1 - v1)
        if room >= -1e-6:
            continue
        yield say(
            "stop",
            f"The pane of {o.label} does not lie on plain wall",
            measured=room,
            limit=0.0,
            how="edge of the pane's seat to the end of the plain wall, the least of four",
            of=(
                given("seat, wide", o.pane.seat_mm[0]),
                given("seat, high", o.pane.seat_mm[1]),
                given("plain wall, wide", c1 - c0),
                given("plain wall, high", d1 - d0),
            ),
            reason="Corners, rims and posts stand behind the wall there: it would have to be glued on their edge.",
            source="geometry",
            subjects=(o.id, "pane"),
            remedies=(
                *_moved(o, face),
                *_smaller(o, own, face),
                without,
            ),
        )


@concern("pane-screws-too-few", "openings", needs=("walls",))
def pane_screws_too_few(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A screwed pane for whose nuts there is no room behind the wall."""
    for o in (o for o in a.openings.openings if o.pane is not None and o.parts):
        assert o.pane is not None
        own = own_of(a.design, o.pane.part)
        if own is None or own.pane is None or own.pane.held != "screwed":
            continue
        wants, found = len(wanted(o.size_mm, own.pane.overlaps_mm, o.round)), len(o.pane.screws)
        if found >= wants:
            continue
        yield say(
            "stop" if found < LEAST_SCREWS else "weigh",
            f"{'No screw' if not found else f'Only {found} of {wants} screws'} of {o.label} {'finds' if found < 2 else 'find'} a place",
            measured=found,
            limit=wants,
            unit="screws",
            how="screws whose nuts have room behind the wall, near the corners",
            reason="Components, posts or screws stand behind the wall where the nuts would be. "
            + ("One screw or none lets it fall out." if found < LEAST_SCREWS else "A corner without a screw rattles."),
            source="common practice",
            subjects=(o.id, "screws"),
            remedies=(Remedy(label="Glue it in", edits=(put_pane(own, held="glued"),)),),
        )


LEAST_SCREWS = 2


@concern("pane-nut-in-the-way", "openings", needs=("walls",))
def pane_nut_in_the_way(a: Analysis, say: Maker) -> Iterator[Finding]:
    """The nut of a pane's screw where something of a component or of the case stands behind the wall."""
    for o in (o for o in a.openings.openings if o.pane is not None and o.pane.screws and o.parts):
        assert o.pane is not None
        own = own_of(a.design, o.pane.part)
        long_mm = next((g.screw_mm for g in a.joints if g.holds == o.pane.part), None)
        met = [(*nut_meets(a, nut), nut) for nut in nuts_of(a.case, o, long_mm)]
        deep, what, who, nut = max(met, key=lambda m: m[0])
        if deep <= 0.01 or own is None:
            continue
        bad = sum(m[0] > 0.01 for m in met)
        high = nut.box.size[normal_axis(own.face)]
        yield say(
            "stop",
            f"The nut of a screw of {o.label} stands in {who}"
            if bad == 1
            else f"{bad} nuts of the screws of {o.label} stand in something, one in {who}",
            measured=-deep,
            limit=0.0,
            how="least distance of the nut, with the tip of its screw, and what stands behind the wall; less than nothing: how deep it stands in it",
            of=(given("behind the plate", high),),
            reason=f"Nut and tip stand {high:.1f} mm into the room behind the {o.pane.part}, where {what} is.",
            source="ISO 4032 nuts; geometry",
            subjects=(o.id, "nut"),
            remedies=(
                Remedy(label="Glue it in", edits=(put_pane(own, held="glued"),)),
                Remedy(
                    label=f"Leave {o.label} open", edits=(PutOwnOpening(opening=own.model_copy(update={"pane": None})),)
                ),
            ),
        )


def _moved(o: Opening, face: CaseFace) -> tuple[Remedy, ...]:
    """The opening moved onto the plain wall, where that is large enough for it."""
    at, clear, by = outline(o), face.clear_mm, [0.0, 0.0]
    for k in (0, 1):
        if at[k + 2] - at[k] > clear[k + 2] - clear[k] - 0.2:
            return ()
        if at[k] < clear[k]:
            by[k] = up(clear[k] - at[k])
        elif at[k + 2] > clear[k + 2]:
            by[k] = -up(at[k + 2] - clear[k + 2])
    words = [f"{abs(x):g} mm {way[0 if x < 0 else 1]}" for x, way in zip(by, _WAYS, strict=True) if x]
    return (
        Remedy(label=f"{move_of(o.label)} {' and '.join(words)}", edits=(MoveOnFace(what=o.id, by_mm=(by[0], by[1])),)),
    )


_WAYS = (("left", "right"), ("down", "up"))


def _smaller(o: Opening, own: OwnOpening, face: CaseFace) -> tuple[Remedy, ...]:
    """The opening as large as the plain wall bears about its middle."""
    at, clear = outline(o), face.clear_mm
    less = [2 * up(max(0.0, clear[k] - at[k], at[k + 2] - clear[k + 2])) for k in (0, 1)]
    if o.round:
        less = [max(less), max(less)]
    size = (round(own.size_mm[0] - less[0], 2), round(own.size_mm[1] - less[1], 2))
    if min(size) < LEAST_MM:
        return ()
    words = f"{size[0]:g}" if o.round else f"{size[0]:g} x {size[1]:g}"
    return (
        Remedy(
            label=f"Make {o.label} {words} mm",
            edits=(PutOwnOpening(opening=own.model_copy(update={"size_mm": size})),),
        ),
    )
