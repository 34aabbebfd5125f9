"""What is not known of a component, so that it counts as nothing wherever it is reckoned with."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, concern
from rhombex.core.parts.component import Component
from rhombex.core.words import listed

DRAWS = frozenset({"board", "card", "display", "drive", "fan", "hub", "light"})
WARM = DRAWS | {"supply", "converter", "shield"}  # nothing of these families gives off no heat: all of the library's do

WITHOUT = {
    "mass": "it weighs nothing where floors sag, panels bend and cases tip",
    "heat": "it adds nothing to what fans and vents have to carry off",
    "power draw": "nothing is said of what feeds it",
}


@concern("figures-not-known", "parts")
def figures_not_known(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A component whose mass, heat or power was never said, of a kind that has them: most of all one that was measured or read from a file."""
    for key in dict.fromkeys(t.component.key for t in a.things):
        mine = [t for t in a.things if t.component.key == key]
        lacks = _lacks(mine[0].component)
        if not lacks:
            continue
        names = listed([t.name for t in mine])
        yield say(
            "weigh",
            f"The {listed(lacks)} of {names} {'is' if len(lacks) == 1 else 'are'} not known",
            measured=len(lacks),
            limit=0,
            sense="at most",
            unit="figures",
            how="figures of the component that are 0 or missing, and that things of its kind have: mass, heat, power draw",
            reason=f"As it is, {listed([WITHOUT[x] for x in lacks])}: those rules approve what they do not know. Weigh it or look into its "
            f"data sheet, and change it in the library under Parts.",
            source=mine[0].component.source,
            subjects=tuple(t.id for t in mine),
        )


def _lacks(c: Component) -> list[str]:
    """What is not known of a component. Of a kind of one's own that draws nothing, nobody can say that it is warm."""
    return [
        *(("mass",) if c.mass_g <= 0 else ()),
        *(("heat",) if c.heat_w <= 0 and (c.family in WARM or c.power) else ()),
        *(("power draw",) if not c.power and c.family in DRAWS else ()),
    ]
