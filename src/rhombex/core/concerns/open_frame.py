"""What has no wall: components that would be fixed to one, and who is near an open frame."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.edits import Construct, Remove, Set
from rhombex.core.shell.offers import usual


@concern("no-wall-to-hold", "shell", needs=("walls",))
def no_wall_to_hold(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: something that is fixed to a wall where this construction has none."""
    for t in a.things:
        if t.face is None or a.case.wall_at(t.face, t.frame.origin):
            continue
        yield say(
            "stop",
            f"{t.name} has no wall to hold it",
            measured=0,
            limit=1,
            unit="walls",
            how="walls behind it",
            reason=f"It is fixed to the {t.face}, where a case made as {a.case.kind} has no wall.",
            source="geometry",
            subjects=(t.id, t.face),
            remedies=(
                Remedy(
                    label="Make the case in two halves", edits=(Construct(construction=usual(a.design, "two halves")),)
                ),
                Remedy(label=f"Take {t.name} out", edits=(Remove(id=t.id),)),
            ),
        )


@concern("caution-open-frame", "shell", needs=("walls",))
def caution_open_frame(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Section 6: an open frame, and who is about."""
    if a.case.has("cavity"):
        return
    around = a.design.brief.around
    fans = [t.name for t in a.things if t.component.air is not None]
    guard = f" Guard {' and '.join(fans)}, so that no finger reaches a blade." if fans else ""
    yield say(
        "advice" if around == "adults" else "stop",
        "An open frame guards nothing" if around == "adults" else f"An open frame, with {around} about",
        measured=sum(f.whole for f in a.case.faces),
        limit=6,
        unit="walls",
        how="sides that a wall closes; all six keep hands, drinks and drops out",
        reason="Live parts, edges and blades can be touched, and what falls in lies on the boards. Keep it from children, animals and drinks, "
        "and off where it can be knocked." + guard,
        source="common practice",
        subjects=("case", around),
        remedies=()
        if around == "adults"
        else (
            Remedy(label="Make the case in two halves", edits=(Construct(construction=usual(a.design, "two halves")),)),
            Remedy(label="Only adults are about", edits=(Set(path="brief.around", value="adults"),)),
        ),
    )
