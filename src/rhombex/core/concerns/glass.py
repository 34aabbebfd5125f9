"""Panes and walls of glass: who makes their holes, and what they do when they break."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.advice.sheeted import in_grooves
from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, NotOffered, Remedy, concern, offered, searched
from rhombex.core.edits import Edit, PutOwnOpening, Set
from rhombex.core.hardware.sheets import BoughtSheet
from rhombex.core.openings.panes import own_of
from rhombex.core.shell.sliding_panels import SIDES
from rhombex.core.trail import given
from rhombex.core.words import listed


@concern("glass-is-drilled", "shell", needs=("walls",))
def glass_is_drilled(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 15: holes in glass, which a hand cannot make, and nobody once it is toughened."""
    panes = [x for x in a.sheets if x.material == "glass" and holes_in(a, x)]
    walls = [x for x in panes if own_of(a.design, x.part) is None]
    for mine in (walls, *([x] for x in panes if x not in walls)):
        n = sum(holes_in(a, x) for x in mine)
        if not mine:
            continue
        name = mine[0].part if len(mine) == 1 else f"{len(mine)} sheets"
        yield say(
            "weigh",
            f"The {name} of glass {'wants' if len(mine) == 1 else 'want'} {n} {'hole' if n == 1 else 'holes'}",
            measured=n,
            limit=0,
            unit="holes",
            sense="at most",
            how="screws and openings that go through them",
            of=tuple(given(x.part, holes_in(a, x), "", "its holes") for x in mine),
            reason="Glass is cut, drilled and ground wet, and toughened after that: it is ordered with its holes, and none is made or moved later. "
            "In grooves or behind an opening it wants none.",
            source="EN 12150-1 (toughened glass is worked before it is toughened), from memory",
            subjects=(mine[0].part, "holes"),
            remedies=(
                Remedy(label=f"Take acrylic for the {name}", edits=_acrylic(a, mine[0])),
                *(_in_grooves(a, mine) if mine is walls else ()),
            ),
        )


def holes_in(a: Analysis, x: BoughtSheet) -> int:
    """How many holes and notches a sheet wants: those of screws, openings, vents, standoffs, and of a pane its own."""
    return (
        len(a.case.screws_through(x.part))
        + sum(m.part == x.part for m in a.case.mounts)
        + sum(x.part in o.parts for o in a.openings.openings)
        + sum(len(v.holes) for v in a.openings.vents if x.part in v.parts)
        + sum(len(o.pane.screws) for o in a.openings.openings if o.pane and o.pane.part == x.part)
    )


@searched
def _in_grooves(a: Analysis, panes: list[BoughtSheet]) -> tuple[Remedy | NotOffered, ...]:
    """Glass that slides in grooves wants no hole: on the sides where nothing is cut into it; all others are printed."""
    if a.design.shell.construction.kind == "sliding panels":
        return ()
    cut = {o.face for o in a.openings.openings} | {v.face for v in a.openings.vents if v.holes}
    sides = tuple(f for f in SIDES if f not in cut and any(f in x.faces for x in panes))
    if not sides:
        return ()
    where = listed(sides)
    label = f"Slide glass in grooves on the {where}, and print the rest"
    return offered(label, lambda: in_grooves(a.design, a.workshop, sides, "glass"))


def _acrylic(a: Analysis, x: BoughtSheet) -> tuple[Edit, ...]:
    own = own_of(a.design, x.part)
    if own is not None and own.pane is not None:
        pane = own.pane.model_copy(update={"material": "acrylic"})
        return (PutOwnOpening(opening=own.model_copy(update={"pane": pane})),)
    return (Set(path="shell.construction.material", value="acrylic"),)


@concern("caution-glass", "shell", needs=("walls",))
def caution_glass(a: Analysis, say: Maker) -> Iterator[Finding]:
    """The usual caution where there is glass."""
    panes = [x for x in a.sheets if x.material == "glass"]
    if panes:
        yield say(
            "advice",
            "Glass breaks: toughened, with ground edges",
            measured=len(panes),
            limit=0,
            unit="panes",
            sense="at most",
            how="panes of glass",
            reason="Plain glass breaks into blades, and its cut edges cut. Order it toughened, or laminated, with ground edges; let it stand on something soft, never on a screw's head; "
            "gloves while it is handled. Toughened glass is not cut.",
            source="common practice",
            subjects=(panes[0].part, "glass"),
        )
