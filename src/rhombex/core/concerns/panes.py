"""Panes in openings of one's own: whether there is plain wall all round for them to lie on."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from rhombex.core.analysis import Analysis
from rhombex.core.case import CaseFace
from rhombex.core.concerns.bench import up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import OwnOpening
from rhombex.core.edits import MoveOnFace, PutOwnOpening
from rhombex.core.openings.opening import Opening, outline
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
        Remedy(label=f"Move {o.label} {' and '.join(words)}", edits=(MoveOnFace(what=o.id, by_mm=(by[0], by[1])),)),
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
