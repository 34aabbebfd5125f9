"""Ribs on the inside of panels: those that keep one from giving way, and those that were wished and find no place."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.advice.panels import HEIGHTS_MM, ribs_that_hold
from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import RIB_LINES, Ribs
from rhombex.core.edits import PutRibs
from rhombex.core.openings.cut_away import cut_away
from rhombex.core.shell.ribs import bearer, ribs_of


@searched
def ribbed(a: Analysis, face: str, limit_mm: float, stands_on: int = 1) -> tuple[Remedy, ...]:
    """Ribs that keep a panel from giving way, all of which find a place. `stands_on`: in how many places its load does."""
    lines = next((r.lines for r in a.design.shell.ribs if r.face == face), RIB_LINES)
    found = ribs_that_hold(a, face, limit_mm, lines, stands_on)
    if found is None:
        return ()
    put = PutRibs(face=found.face, count=found.count, high_mm=found.high_mm, lines=found.lines)
    return (Remedy(label=f"Put {_many(found.count)} of {found.high_mm:g} mm on its inside", edits=(put,)),)


@concern("rib-has-no-place", "shell")
def rib_has_no_place(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Ribs that were wished where something stands, or on a face that cannot bear them."""
    for wish in a.design.shell.ribs:
        found = sum(r.face == wish.face for r in a.case.ribs)
        if found == wish.count:
            continue
        bears = bearer(a.case, wish.face)
        yield say(
            "weigh",
            f"{'Only ' if found else 'No '}{f'{found} of {wish.count} ' if found else ''}ribs find a place on the {wish.face}",
            measured=found,
            limit=wish.count,
            unit="ribs",
            how="ribs from end to end of the plain wall with a millimetre of air all round",
            reason="Components, posts, screws or openings are in the way of the others."
            if bears
            else f"No printed part closes the {wish.face} whole and is put on straight: ribs would be in the way of what slides there.",
            source="common practice",
            subjects=(wish.face, "ribs"),
            remedies=_that_stand(a, wish, found),
        )


@searched
def _that_stand(a: Analysis, wish: Ribs, found: int) -> tuple[Remedy, ...]:
    """Ribs so low that all find a place, or as many as do."""
    cut = cut_away(a.case, a.openings)
    others = tuple(r for r in a.case.ribs if r.face != wish.face)

    def stands(w: Ribs) -> bool:
        return len(ribs_of(a.design, a.printer, a.case, a.things, cut, w, others)) == w.count

    def put(w: Ribs) -> tuple[PutRibs, ...]:
        return (PutRibs(face=w.face, count=w.count, high_mm=w.high_mm, lines=w.lines),)

    lower = (wish.model_copy(update={"high_mm": h}) for h in reversed(HEIGHTS_MM) if h < wish.high_mm)
    fewer = (wish.model_copy(update={"count": n}) for n in range(found, 0, -1))
    out = [Remedy(label=f"Make them {w.high_mm:g} mm high", edits=put(w)) for w in lower if stands(w)][:1]
    out += [Remedy(label=f"Keep {_many(w.count)} there", edits=put(w)) for w in fewer if stands(w)][:1]
    off = PutRibs(face=wish.face, count=0)
    return (*out, Remedy(label="Leave them out", edits=(off,)))


def _many(count: int) -> str:
    return "a rib" if count == 1 else f"{count} ribs"
