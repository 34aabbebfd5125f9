"""What a case could stand on: what wants room before a face, and the ways back onto its floor."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Remedy
from rhombex.core.edits import StandOn
from rhombex.core.fit.heads import out_mm
from rhombex.core.reference import ref
from rhombex.core.space import OUTWARD
from rhombex.core.stance import StandsOn
from rhombex.core.trail import Input, given, looked_up

# who needs room: what it is called, its subject, how much it wants under the case, and why
Want = tuple[str, str, float, tuple[Input, ...], str]
BARE_MM = 0.01
USED = ("display", "button", "socket", "inlet")  # families of components that are seen or reached through their opening


def on_its_floor(a: Analysis) -> tuple[Remedy, ...]:
    """The way back onto its floor, for a case that stands on a side."""
    if a.case.stands_on == "bottom":
        return ()
    return (Remedy(label="Stand it on its floor", edits=(StandOn(face="bottom"),)),)


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
        j.name: out_mm(j.thread, j.head, j.head_depth_mm) - a.design.shell.recess_mm(on)
        for j in a.case.screws
        if j.along[k] == -OUTWARD[on][k]
    }
    for name, out in heads.items():
        yield f"A screw of the {name}", name, out, (), f"Its head stands {out:.1f} mm out of that side."
