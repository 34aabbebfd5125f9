"""What of a design could not be worked out: parts that cannot be made, stages that broke, a printer that is not here."""

from __future__ import annotations

from collections.abc import Iterator
from difflib import SequenceMatcher

from rhombex.core.analysis import Analysis, made_at_all
from rhombex.core.bench.arrange import arrange
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import Panel, PlacedOpening
from rhombex.core.edits import Edit, FitCavity, PutOpening, PutPanel, Remove, RemovePanel, RemoveVent, Set, Swap, apply
from rhombex.core.faults import Fault
from rhombex.core.parts import library
from rhombex.core.plain import DesignError
from rhombex.core.shop_edits import AddPrinter
from rhombex.core.workshop.printer import Printer


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


@concern("part-not-made", "shell")
def part_not_made(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A part of the case that cannot be made: nothing is left of it, or it is more than the kernel bears."""
    for f in a.faults:
        if f.kind != "part":
            continue
        yield say(
            "stop",
            f"The {_name(a, f.what)} cannot be made",
            measured=0,
            limit=1,
            unit="part",
            reason=f"{f.said[:1].upper()}{f.said[1:]}. What else can be made is shown."
            + (f" ({f.code})" if f.code else ""),
            source="geometry",
            subjects=(f.what,),
            remedies=_ways_to_make(a, f.what),
        )


def _name(a: Analysis, part: str) -> str:
    return next((p.name for p in a.design.panels if p.id == part), part)


def _ways_to_make(a: Analysis, part: str) -> tuple[Remedy, ...]:
    """Changes after which the part can be made, tried on its shape alone: the mildest first."""
    panel = next((p for p in a.design.panels if p.id == part), None)
    tries = _of_panel(panel) if panel is not None else _of_case(a, part)
    found: list[Remedy] = []
    for r in tries:
        try:
            changed = apply(a.design, r.edits[0])
            for e in r.edits[1:]:
                changed = apply(changed, e)
        except DesignError:
            continue
        if made_at_all(changed, a.workshop, part):
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
    if d.vents:
        yield Remedy(label="Take the vents out", edits=tuple(RemoveVent(id=v.id) for v in d.vents))
    if d.shell.boss_od_mm is not None:
        yield Remedy(label="Let the rule size the bosses", edits=(Set(path="shell.boss_od_mm", value=None),))
    yield Remedy(label="Draw the walls round the parts", edits=(FitCavity(),))
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
        reason=f"{f.said[:1].upper()}{f.said[1:]}. It is left out of what is shown and of every sum; the rest stands."
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
