"""What takes the heat from a processor: a board with a socket and nothing on it does not run, nor does a loop that lacks a part."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from math import prod

from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.bench.placing import free_id, riding
from rhombex.core.bench.seat import chip_of
from rhombex.core.concerns.bench import free_place
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import Placement
from rhombex.core.edits import Add, PlaceNew
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError

RADIATOR, LOOP = "radiator", "loop"  # what cools it by hoses, which are not drawn
OFFERED = 2


@concern("nothing-cools", "parts")
def nothing_cools(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 1: a processor in a socket without a cooler."""
    if any(t.component.family in (RADIATOR, LOOP) for t in a.things):
        return  # whether that is whole is asked for by itself
    cooled = {t.placement.on for t in a.things if t.component.family == "cooler"}
    for t in a.things:
        chip = chip_of(t)
        if t.component.family != "board" or chip is None or "socket" not in chip.name or t.id in cooled:
            continue
        yield say(
            "stop",
            f"Nothing cools the processor of {t.name}",
            measured=0,
            limit=1,
            unit="coolers",
            how="coolers on this board",
            reason=f"{t.name} gives off up to {t.component.heat_w:g} W, most of it at its processor, which is sold without a cooler and stops within seconds.",
            source="common practice",
            subjects=(t.id, "cooler"),
            remedies=_coolers(a, t),
        )


@concern("loop-not-whole", "parts")
def loop_not_whole(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 11: a loop without a radiator, without a pump, or with nothing that it could be filled through."""
    parts = [t for t in a.things if t.component.family in (RADIATOR, LOOP)]
    if not parts:
        return
    there = {kind: any(is_it(t.component) for t in parts) for kind, is_it in _LOOP.items()}
    for kind, found in there.items():
        if found:
            continue
        yield say(
            "stop" if kind != "reservoir" else "weigh",
            f"The loop has no {kind}",
            measured=0,
            limit=1,
            unit=f"{kind}s",
            how=f"{kind}s among the components",
            reason=_LACKS[kind],
            source="common practice",
            subjects=(*(t.id for t in parts), kind),
            remedies=tuple(
                Remedy(label=f"Put in {c.label}", edits=(PlaceNew(component=c.key),))
                for c in sorted((c for c in library().values() if _LOOP[kind](c)), key=_size)[:OFFERED]
            ),
        )


def _is_filled(c: Component) -> bool:
    return any(s.role == "keepout" and s.name == "filling room" for s in c.solids)


_LOOP: dict[str, Callable[[Component], bool]] = {
    "radiator": lambda c: c.family == RADIATOR,
    "pump": lambda c: c.family == LOOP and bool(c.power),
    "reservoir": lambda c: c.family == LOOP and _is_filled(c),
}
_LACKS = {
    "radiator": "The water takes the heat along and gives it off nowhere: it gets as hot as the processor.",
    "pump": "Water that stands still boils at the processor; it has to be driven round.",
    "reservoir": "There is nothing to fill it through and to let its air out: a pump that draws air runs dry and breaks.",
}


def _size(c: Component) -> float:
    return sum(prod(hi - lo for lo, hi in zip(x.lo, x.hi, strict=True)) for x in c.solids)


@searched
def _coolers(a: Analysis, board: Thing) -> tuple[Remedy, ...]:
    """The largest coolers that have room on the board as all else stands; the lowest where none has."""

    made = [c for c in library().values() if c.family == "cooler" and any(s.name == "base" for s in c.solids)]
    every: list[Remedy] = []
    found: list[Remedy] = []
    for c in sorted(made, key=_size, reverse=True):
        id = free_id(a.design, c.family)
        name = id[0].upper() + id[1:].replace("-", " ")
        new = Placement(id=id, component=c.key, name=name, at_mm=board.placement.at_mm, on=board.id)
        try:
            edit = Add(placement=riding(a.design, new, c.family))
            design = apply(a.design, edit)
            mine = next(t for t in arrange(design) if t.id == id)
        except DesignError:
            continue
        every.append(Remedy(label=f"Put in {c.label}", edits=(edit,)))
        if free_place(design, mine, (0.0, 0.0, 0.0)):
            found.append(every[-1])
    return tuple(found[:OFFERED] or every[-1:])
