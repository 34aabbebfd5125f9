"""The face that a case stands on: no wall there, or something that would have to be reached, seen or plugged in from below."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.on_a_side import Want, lacks_room, on_its_floor
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.edits import StandOn, Turn
from rhombex.core.reference import val
from rhombex.core.stance import IN_WORDS, STANDS_ON, sides_of


@concern("stands-on-no-wall", "shell", needs=("walls",))
def stands_on_no_wall(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A case that is to stand on a side where its construction has no wall."""
    on = a.case.stands_on
    if on == "bottom" or a.case.face(on).whole:
        return
    yield say(
        "stop",
        f"There is no wall at its {IN_WORDS[on]} to stand on",
        measured=0,
        limit=1,
        unit="walls",
        how="walls at the face that it is to stand on",
        reason=f"A case of this kind, {a.case.kind}, is open there.",
        source="geometry",
        subjects=("case", on),
        remedies=on_its_floor(a),
    )


@concern("needs-room-under-it", "shell", needs=("walls",))
def needs_room_under_it(a: Analysis, say: Maker) -> Iterator[Finding]:
    """What looks at the desk as the case stands: a plug that has no room there, a display that nobody sees; what stands out there more than the feet do."""
    hung = a.design.brief.stands == "wall"
    on = a.case.stands_on
    high = a.case.foot.high_mm if a.case.foot and a.case.stands_at else 0.0
    if hung:  # on what holds it, a little off the wall
        back = sides_of(on)["back"]
        on, high = next(s for s in STANDS_ON if s == back), val("limits.standing.wall_gap")
    lacking = sorted(lacks_room(a, on, high), key=lambda w: -w[2])
    if not lacking:
        return
    name, subject, want, of, why = lacking[0]
    others = [n for n, *_ in lacking[1:]]
    yield say(
        "stop",
        f"{name} {'has' if not others else f'and {len(others)} more have'} no room {'at the wall' if hung else 'under the case'}",
        measured=high,
        limit=want,
        how=f"{'from the wall' if hung else 'height of the feet'}; wanted: the most that anything on that face needs before it",
        of=of,
        reason=(
            f"The case hangs by its {IN_WORDS[on]}, {high:g} mm off the wall. {why}"
            if hung
            else f"The case stands on its {IN_WORDS[on]}, {high:g} mm over the desk. {why}"
        )
        + (f" {', '.join(others)} {'has' if len(others) == 1 else 'have'} none either." if others else ""),
        source="geometry",
        subjects=(subject, on),
        remedies=_turned(a, lacking) if hung else _on_another(a),
    )


def _turned(a: Analysis, lacking: list[Want]) -> tuple[Remedy, ...]:
    """What looks at the wall turned round, where it is one thing that stands on the floor."""
    ids = {of for _, of, *_ in lacking}
    t = next((t for t in a.things if {t.id} == ids and t.face is None and t.placement.on is None), None)
    return (Remedy(label=f"Turn {t.name} half round", edits=(Turn(id=t.id, by=180),)),) if t else ()


def _on_another(a: Analysis) -> tuple[Remedy, ...]:
    """The faces on which nothing needs room, at most two of them, the floor first."""
    free = [s for s in STANDS_ON if s != a.case.stands_on and a.case.face(s).whole and not lacks_room(a, s)]
    return tuple(Remedy(label=f"Stand it on its {IN_WORDS[s]}", edits=(StandOn(face=s),)) for s in free[:2])
