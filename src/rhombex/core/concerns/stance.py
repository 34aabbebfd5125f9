"""The face that a case stands on: no wall there, or something that would have to be reached, seen or plugged in from below."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.feet import on_its_floor
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.edits import StandOn
from rhombex.core.reference import ref, val
from rhombex.core.space import OUTWARD
from rhombex.core.stance import IN_WORDS, STANDS_ON, StandsOn
from rhombex.core.trail import Input, given, looked_up

# who needs room: what it is called, its subject, how much it wants under the case, and why
Want = tuple[str, str, float, tuple[Input, ...], str]
BARE_MM = 0.01
USED = ("display", "button", "socket", "inlet")  # families of components that are seen or reached through their opening


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
    on = a.case.stands_on
    if a.design.brief.stands == "wall":
        return
    high = a.case.foot.high_mm if a.case.foot and a.case.stands_at else 0.0
    lacking = sorted(lacks_room(a, on, high), key=lambda w: -w[2])
    if not lacking:
        return
    name, subject, want, of, why = lacking[0]
    others = [n for n, *_ in lacking[1:]]
    yield say(
        "stop",
        f"{name} {'has' if not others else f'and {len(others)} more have'} no room under the case",
        measured=high,
        limit=want,
        how="height of the feet; wanted: the most that anything on that face needs before it",
        of=of,
        reason=f"The case stands on its {IN_WORDS[on]}, {high:g} mm over the desk. {why}"
        + (f" {', '.join(others)} {'has' if len(others) == 1 else 'have'} none either." if others else ""),
        source="geometry",
        subjects=(subject, on),
        remedies=_on_another(a),
    )


def _on_another(a: Analysis) -> tuple[Remedy, ...]:
    """The faces on which nothing needs room, at most two of them, the floor first."""
    free = [s for s in STANDS_ON if s != a.case.stands_on and a.case.face(s).whole and not lacks_room(a, s)]
    return tuple(Remedy(label=f"Stand it on its {IN_WORDS[s]}", edits=(StandOn(face=s),)) for s in free[:2])


def lacks_room(a: Analysis, on: StandsOn, high_mm: float | None = None) -> list[Want]:
    """What on a face wants more room before it than feet give it: so high ones, or those that it would have there."""
    if high_mm is None:
        high_mm = a.case.foot.high_mm if a.case.foot and a.design.shell.feet else 0.0
    return [w for w in _wants_room(a, on) if w[2] > high_mm + BARE_MM]


def _wants_room(a: Analysis, on: StandsOn) -> Iterator[Want]:
    """All on a face that wants room before it."""
    under = ref("limits.standing.under")
    unneeded = set(a.design.brief.unneeded)
    used = {t.id for t in a.things if t.component.family in USED}
    for o in a.openings.openings:
        if o.face != on or o.id in unneeded:
            continue
        if o.plug is not None:
            out = o.plug.length_mm - o.set_back_mm
            of = (given("plug", o.plug.length_mm), given("behind the outside", o.set_back_mm))
            yield o.label, o.of, out, of, f"A plug stands {out:.0f} mm out of the case, and its lead bends after that."
        elif o.pane is not None or o.of in used:
            yield o.label, o.of, under.value, (looked_up("wanted", under),), "It is neither seen nor reached there."
    if a.case.hinge is not None and a.case.hinge.side == on and a.case.hinge.knuckles:
        out = a.case.hinge.out_mm + a.case.hinge.r_mm
        yield "The hinge of the lid", "hinge", out, (), f"Its knuckles stand {out:.1f} mm out of that side."
    if a.case.tab is not None and OUTWARD[on] == tuple(a.case.tab.out):
        out = max(s * abs(w) for s, w in zip(a.case.tab.box.size, OUTWARD[on], strict=True))
        yield "The pull tab", "tab", out, (), f"It stands {out:.1f} mm out of that side."
    k = next(i for i in range(3) if OUTWARD[on][i])
    heads = {
        j.name: val(f"fasteners.{j.thread}.head_k") - j.head_depth_mm - a.design.shell.recess_mm(on)
        for j in a.case.screws
        if j.along[k] == -OUTWARD[on][k]
    }
    for name, out in heads.items():
        yield f"A screw of the {name}", name, out, (), f"Its head stands {out:.1f} mm out of that side."
