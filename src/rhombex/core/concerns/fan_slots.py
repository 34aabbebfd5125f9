"""Fans that are to be held by slots, and find none."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.edits import HoldFan, Set
from rhombex.core.trail import given


@concern("fan-without-slots", "shell", needs=("walls",))
def fan_without_slots(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: slots are wished for a fan, and its rails find no place: it keeps its screws."""
    for t in a.things:
        if not t.placement.slotted or a.case.slotted(t.id):
            continue
        fan = t.component.air is not None and t.face is not None
        yield say(
            "weigh",
            f"No slots find a place beside {t.name}",
            measured=0,
            limit=2,
            unit="rails",
            how="rails beside it that find a place",
            of=(given("wanted", 2, "", "one on either side"),),
            reason=(
                "Two rails stand on plain wall of one printed part on both sides of a fan, and two bars pass behind it: something is in their way, or the wall ends. "
                if fan
                else "Slots hold a fan that lies on a wall. "
            )
            + "It is held by its screws.",
            source="geometry",
            subjects=(t.id, "slots"),
            remedies=(
                *(_printed(a, t) if fan else ()),
                Remedy(label=f"Hold {t.name} by its screws", edits=(HoldFan(id=t.id, slotted=False),)),
            ),
        )


@searched
def _printed(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """The wall printed that is sheet now."""
    made = a.design.shell.construction
    sheet = getattr(made, "sheet", ())
    if t.face not in sheet:
        return ()
    edit = Set(path="shell.construction.sheet", value=tuple(f for f in sheet if f != t.face))
    if not analyse(apply(a.design, edit), a.workshop, "none").case.slotted(t.id):
        return ()
    return (Remedy(label=f"Print the {t.face}", edits=(edit,)),)
