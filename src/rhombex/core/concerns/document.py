"""What of a design could not be worked out: parts that cannot be made, stages that broke, a printer that is not here."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from difflib import SequenceMatcher
from functools import partial

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, made_at_all
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import hard
from rhombex.core.concerns.own_process import change_process, printed
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import Design, Panel, PlacedOpening
from rhombex.core.edits import (
    Edit,
    PutComponent,
    PutOpening,
    PutPanel,
    Remove,
    RemoveOwnOpening,
    RemovePanel,
    RemoveVent,
    Set,
    Swap,
    Together,
)
from rhombex.core.faults import Fault
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError
from rhombex.core.shop_edits import AddPrinter
from rhombex.core.words import listed
from rhombex.core.workshop.printer import Printer


@concern("own-filament-not-here", "plan")
def own_filament_not_here(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A part is printed in a filament of one's own that this workshop does not have: the plain kind stands in."""
    for of in printed(a):
        key = of.process.own_filament
        if key is None or any(f.key == key for f in a.workshop.filaments):
            continue
        kind = of.process.filament
        mine = [f for f in a.workshop.filaments if f.key is not None and f.kind == kind]
        yield say(
            "weigh",
            f"The filament “{key}”{of.where} is not in this workshop",
            measured=0,
            limit=1,
            unit="filament",
            how="0: not in this workshop, 1: there",
            reason=f"Price and temperatures shown are those of plain {kind}.",
            source="the workshop",
            subjects=(of.subject, key),
            remedies=(
                Remedy(
                    label=f"Print it in plain {kind}",
                    edits=change_process(a, of.own or of.parts[0], "own_filament", None),
                ),
                *(
                    Remedy(
                        label=f"Print it in {f.name}",
                        edits=change_process(a, of.own or of.parts[0], "own_filament", f.key),
                    )
                    for f in mine[:2]
                ),
            ),
        )


@concern("printer-not-here", "plan")
def printer_not_here(a: Analysis, say: Maker) -> Iterator[Finding]:
    """The design is made for a printer that this workshop does not have: another one stands in."""
    key = a.design.printer
    if a.printer.key == key:
        return
    name = key.replace("-", " ").capitalize()
    new = Printer(
        key=key, name=name, bed_mm=a.printer.bed_mm, nozzle_mm=a.printer.nozzle_mm, enclosed=a.printer.enclosed
    )
    bed = " x ".join(f"{x:g}" for x in new.bed_mm)
    yield say(
        "stop",
        f"The printer “{name}” is not in this workshop",
        measured=0,
        limit=1,
        unit="printer",
        how="0: not in this workshop, 1: there",
        reason=f"Beds, hours and allowances shown are those of {a.printer.name}, which stands in for it.",
        source="the workshop",
        subjects=(key,),
        remedies=(
            *(
                Remedy(label=f"Print on {p.name}", edits=(Set(path="printer", value=p.key),))
                for p in a.workshop.printers[:3]
            ),
            Remedy(
                label=f"Add {name} to the workshop (bed {bed}: correct it there)",
                edits=(),
                shop=(AddPrinter(printer=new),),
            ),
        ),
    )


@concern("component-not-here", "parts")
def component_not_here(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A component that the design names and neither it nor the library has: it is left out of everything."""
    for p in a.design.placements:
        if a.design.component(p.component) is not None:
            continue
        near = [
            c
            for c in library().values()
            if (c.mounting == "panel") == (p.face is not None) and c.key.split("-")[0] == p.component.split("-")[0]
        ]
        near.sort(key=lambda c, k=p.component: -SequenceMatcher(None, c.key, k).ratio())  # type: ignore[misc]
        yield say(
            "stop",
            f"{p.name} is of a kind that the library does not have",
            measured=0,
            limit=1,
            unit="component",
            how="0: not in the library, 1: there",
            reason=f"There is no component “{p.component}” in the library or in the design. It is left out of the drawing, the parts and "
            "every sum. Read its file in under Parts, or choose what takes its place.",
            source="the library",
            subjects=(p.id,),
            remedies=(
                *(
                    Remedy(label=f"Take {c.label} in its place", edits=(Swap(id=p.id, component=c.key),))
                    for c in near[:2]
                ),
                Remedy(label=f"Take {p.name} out", edits=(Remove(id=p.id),)),
            ),
        )


@concern("no-solid-body", "parts")
def no_solid_body(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A component that is room kept free and nothing else: rules that look where bodies end have nothing to look at."""
    for key in dict.fromkeys(t.component.key for t in a.things if not hard(t)):
        mine = [t for t in a.things if t.component.key == key]
        yield say(
            "weigh",
            f"{listed([t.name for t in mine])} {'has' if len(mine) == 1 else 'have'} no body, only room that is kept free",
            measured=0,
            limit=1,
            unit="solids",
            how="solids of the component that are a board, a body, a connector or pins",
            reason="Room for plugs, wires and tools may lie over other room. Whether what is in it meets a wall, the lid or another component cannot be said.",
            source=mine[0].component.source,
            subjects=tuple(t.id for t in mine),
            remedies=(
                Remedy(
                    label=f"Take the room of {mine[0].component.label} as its body",
                    edits=(PutComponent(component=_bodily(mine[0].component)),),
                ),
            ),
        )


def _bodily(c: Component) -> Component:
    """A component whose room that is kept free is its body; the room for plugs is only where there is no other."""
    room = "keepout" if any(s.role == "keepout" for s in c.solids) else "plug"
    solids = tuple(s.model_copy(update={"role": "body"}) if s.role == room else s for s in c.solids)
    return c.model_copy(update={"solids": solids})


@concern("part-not-made", "shell")
def part_not_made(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A part of the case that cannot be made: nothing is left of it, or it is more than the kernel bears."""
    for f in a.faults:
        if f.kind != "part":
            continue
        yield say(
            "stop",
            f"The {named(a, f.what)} cannot be made",
            measured=0,
            limit=1,
            unit="part",
            how="0: cannot be made, 1: made",
            reason=f"{f.message[:1].upper()}{f.message[1:]}. What else can be made is shown."
            + (f" ({f.code})" if f.code else ""),
            source="geometry",
            subjects=(f.what,),
            remedies=mildest(a, ways_to_make(a, f.what), partial(_can_be_made, a, f.what)),
        )


def named(a: Analysis, part: str) -> str:
    """What a part is called: a panel by the name that a hand gave it."""
    return next((p.name for p in a.design.panels if p.id == part), part)


def _can_be_made(a: Analysis, part: str, changed: Design) -> bool:
    return made_at_all(changed, a.workshop, part)


def ways_to_make(a: Analysis, part: str) -> Iterator[Remedy]:
    """Changes after which a part that cannot be made so may be: the mildest first."""
    panel = next((p for p in a.design.panels if p.id == part), None)
    return _of_panel(panel) if panel is not None else _of_case(a, part)


@searched
def mildest(a: Analysis, ways: Iterator[Remedy], good: Callable[[Design], bool]) -> tuple[Remedy, ...]:
    """The first two ways after which the design is good, tried on its shape alone."""
    found: list[Remedy] = []
    for r in ways:
        try:
            changed = apply(a.design, Together(edits=r.edits))
        except DesignError:
            continue
        if good(changed):
            found.append(r)
        if len(found) == 2:
            break
    return tuple(found)


def _of_panel(p: Panel) -> Iterator[Remedy]:
    if p.window_mm is not None:
        yield Remedy(label="Leave its window out", edits=(PutPanel(panel=p.model_copy(update={"window_mm": None})),))
    if p.vent_d_mm > 0:
        yield Remedy(label="Leave its vents out", edits=(PutPanel(panel=p.model_copy(update={"vent_d_mm": 0.0})),))
    yield Remedy(label=f"Take {p.name} out", edits=(RemovePanel(id=p.id),))


def _of_case(a: Analysis, part: str) -> Iterator[Remedy]:
    d = a.design
    sized = tuple(o for o in d.openings if o.size_mm is not None or o.at_mm is not None)
    if sized:
        back = tuple[Edit, ...](PutOpening(opening=PlacedOpening(port=o.port)) for o in sized)
        yield Remedy(label="Give the openings back to their ports", edits=back)
    for o in d.own_openings:
        yield Remedy(label=f"Take the opening {o.name} out", edits=(RemoveOwnOpening(id=o.id),))
    if d.vents:
        yield Remedy(label="Take the vents out", edits=tuple(RemoveVent(id=v.id) for v in d.vents))
    if d.shell.boss_od_mm is not None:
        yield Remedy(label="Let the rule size the bosses", edits=(Set(path="shell.boss_od_mm", value=None),))
    yield Remedy(label="Draw the walls round the components", edits=(walls_round(a),))
    yield Remedy(
        label="Walls, floor and lid of 3 mm",
        edits=tuple(Set(path=f"shell.{x}", value=3.0) for x in ("wall_mm", "floor_mm", "lid_mm")),
    )
    for t in arrange(d):
        yield Remedy(label=f"Take {t.name} out", edits=(Remove(id=t.id),))


@concern("not-worked-out", "shell")
def not_worked_out(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A stage or an estimate that broke, told so that nobody takes what is missing for nothing."""
    for f in a.faults:
        if f.kind != "part":
            yield told(f, say, _without_vents(a, f.what))


def told(f: Fault, say: Maker | None = None, remedies: tuple[Remedy, ...] = ()) -> Finding:
    """A fault as a concern: also for one that was met after the rules had looked."""
    return (say or Maker("not-worked-out", "shell"))(
        "stop" if f.kind == "stage" else "weigh",
        f"{f.what[:1].upper()}{f.what[1:]} could not be worked out",
        measured=0,
        limit=1,
        unit="",
        how="0: not worked out, 1: worked out",
        reason=f"{f.message[:1].upper()}{f.message[1:]}. It is left out of what is shown and of every sum; the rest stands."
        + (f" ({f.code})" if f.code else ""),
        source="Rhombex itself" if f.code else "limits of Rhombex",
        subjects=(f.what,),
        remedies=remedies,
    )


def _without_vents(a: Analysis, what: str) -> tuple[Remedy, ...]:
    field = what.removeprefix("the vents ")
    if field == what or all(v.id != field for v in a.design.vents):
        return ()
    return (Remedy(label="Take these vents out", edits=(RemoveVent(id=field),)),)
