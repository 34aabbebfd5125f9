"""Material and process: heat against what softens, shrinking kinds on open printers, cautions."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice

from rhombex.core.advice.materials import heat_of
from rhombex.core.analysis import Analysis
from rhombex.core.concerns.elsewhere import print_on, with_room
from rhombex.core.concerns.own_process import Printed, printed
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import FilamentKind, Process
from rhombex.core.edits import Edit, PrintPart, Set
from rhombex.core.process.stiffness import plates
from rhombex.core.reference import ref, val
from rhombex.core.trail import given, looked_up

KINDS: tuple[FilamentKind, ...] = ("PLA", "PETG", "ASA", "ABS", "PC")


@concern("material-softens", "process")
def material_softens(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 28: the wall gets warmer than the filament bears."""
    margin = ref("limits.heat.margin")
    for of in printed(a):
        kind = of.process.filament
        bears = ref(f"materials.{kind}.service")
        wall = max(heat_of(a, part).value for part in of.parts)
        limit = bears.value - margin.value
        if wall <= limit:
            continue
        yield say(
            "stop" if wall > bears.value else "weigh",
            f"{kind} {'softens' if wall > bears.value else 'comes near softening'} at the wall{of.where}",
            measured=wall,
            limit=limit,
            unit="degC",
            sense="at most",
            how="heat ladder: room, rise of the air inside, share of it at the wall",
            of=(
                given("room", a.design.brief.room_c, "degC"),
                looked_up("bears under load", bears),
                looked_up("margin", margin),
            ),
            reason=f"At {a.design.brief.room_c:g} °C in the room the warmest wall is about {wall:.0f} °C. {kind} under load "
            f"bears {bears.value:g}, less {margin.value:g} K for error.",
            source=str(bears),
            subjects=(of.subject,),
            remedies=_heat_proof(a, of, wall + margin.value),
        )


@concern("nothing-laid", "process")
def nothing_laid(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: plates with no layers below and above and no infill: their outlines alone are printed."""
    for of in printed(a):
        process = of.process
        if process.bottom_layers + process.top_layers > 0 or process.infill > 0:
            continue
        open_ = [n for n in of.parts if any(p.pose == "lying" for p in plates(a.design, a.case.part(n)))]
        if not open_:
            continue
        usual = Process()
        layers: dict[str, float] = {"bottom_layers": usual.bottom_layers, "top_layers": usual.top_layers}
        yield say(
            "stop",
            f"Of the {open_[0]} only the outline is laid",
            measured=0,
            limit=1,
            unit="layers",
            how="layers below and above; wanted: some of them, or infill",
            reason="Without layers below and above and without infill nothing is laid between the perimeters of what lies flat: it has no floor.",
            source="geometry",
            subjects=(of.subject, "layers"),
            remedies=(
                Remedy(
                    label=f"Lay {usual.bottom_layers} layers below and {usual.top_layers} above",
                    edits=_with_all(of, layers),
                ),
                Remedy(label=f"Fill it by {usual.infill:.0%}", edits=_with_all(of, {"infill": usual.infill})),
            ),
        )


def _with_all(of: Printed, values: dict[str, float]) -> tuple[Edit, ...]:
    """Fields of a process set together: of everybody's, or of the one that a part has of its own."""
    if not of.own:
        return tuple(Set(path=f"process.{field}", value=value) for field, value in values.items())
    return (PrintPart(part=of.own, process=of.process.model_copy(update=values)),)


@concern("chamber-too-warm", "process")
def chamber_too_warm(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A chamber that is warmer than the filament bears while it is printed."""
    for of in printed(a):
        kind = of.process.filament
        glass, margin = ref(f"materials.{kind}.glass"), val("limits.heat.chamber_margin")
        if (
            not a.printer.enclosed
            or a.printer.chamber_c <= glass.value - margin
            or val(f"materials.{kind}.chamber") > 0
        ):
            continue
        cooler = (p for p in a.workshop.printers if not p.enclosed or p.chamber_c <= glass.value - margin)
        open_ = max(cooler, key=lambda p: p.bed_mm[0] * p.bed_mm[1], default=None)  # on which most goes in one piece
        others = [k for k in KINDS if val(f"materials.{k}.glass") - margin >= a.printer.chamber_c and k != kind]
        yield say(
            "weigh",
            f"{kind} softens in the warm chamber of {a.printer.name}{of.where}",
            measured=a.printer.chamber_c,
            limit=glass.value - margin,
            unit="degC",
            sense="at most",
            how="chamber of the printer; at most: glass temperature less a margin",
            of=(
                looked_up("glass temperature", glass),
                given("margin", margin, "K", "reference tables"),
            ),
            reason=f"{kind} is glassy up to {glass.value:g} °C. In a chamber of {a.printer.chamber_c:g} it grows soft in the feeder and clogs; "
            "leave the door and the lid open, or print it elsewhere.",
            source=str(glass),
            subjects=(of.subject, "chamber"),
            remedies=(
                *([print_on(a, open_)] if open_ else []),
                *(Remedy(label=f"Print it in {k}", edits=(of.in_filament(k),)) for k in others[:1]),
            ),
        )


@searched
def _heat_proof(a: Analysis, of: Printed, wanted_c: float) -> tuple[Remedy, ...]:
    """Kinds that bear so much, on this printer or on an enclosed one."""
    return tuple(islice(_borne(a, of, wanted_c), 2))


def _borne(a: Analysis, of: Printed, wanted_c: float) -> Iterator[Remedy]:
    for other in KINDS:
        if other == of.process.filament or val(f"materials.{other}.service") < wanted_c:
            continue
        edits: tuple[Edit, ...] = (of.in_filament(other),)
        label = f"Print {f'the {of.own}' if of.own else 'it'} in {other}"
        if val(f"materials.{other}.enclosure") and not a.printer.enclosed:
            enclosed = next((p for p in a.workshop.printers if p.enclosed), None)
            if enclosed is None:
                continue
            edits = (*edits, Set(path="printer", value=enclosed.key))
            label += f" on {enclosed.name}"
        yield with_room(a, Remedy(label=label, edits=edits))


@concern("needs-enclosure", "process")
def needs_enclosure(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 17: a shrinking kind on an open printer cracks and lifts."""
    if a.printer.enclosed:
        return
    enclosed = next((p for p in a.workshop.printers if p.enclosed), None)
    for of in printed(a):
        kind = of.process.filament
        if not val(f"materials.{kind}.enclosure"):
            continue
        shrink = ref(f"materials.{kind}.shrink")
        yield say(
            "stop",
            f"{kind}{of.where} on an open printer",
            measured=shrink.value,
            limit=0.5,
            unit="% shrink",
            sense="at most",
            how="linear shrinkage from the table",
            of=(looked_up("shrinks", shrink),),
            reason=f"{kind} shrinks while it cools; in a draught large parts lift off and walls crack.",
            source=str(shrink),
            subjects=(of.subject,),
            remedies=(
                *((print_on(a, enclosed),) if enclosed else ()),
                Remedy(label=f"Print {f'the {of.own}' if of.own else 'it'} in PETG", edits=(of.in_filament("PETG"),)),
            ),
        )


@concern("caution-fumes", "process")
def caution_fumes(a: Analysis, say: Maker) -> Iterator[Finding]:
    for kind in dict.fromkeys(of.process.filament for of in printed(a)):
        fumes = ref(f"materials.{kind}.fumes")
        if fumes.value:
            yield say(
                "advice",
                f"{kind} gives off styrene",
                measured=1,
                limit=0,
                unit="",
                sense="at most",
                how="1: it gives off fumes, 0: it does not",
                reason="Ventilate the room or filter the printer's air, and do not sit beside it.",
                source=str(fumes),
                subjects=(kind,),
            )


@concern("caution-inserts", "process")
def caution_inserts(a: Analysis, say: Maker) -> Iterator[Finding]:
    into = {j.into for j in a.case.joints if j.holding == "insert"}
    into |= {m.part for m in a.case.mounts if m.holding == "insert"}
    for kind in dict.fromkeys(a.design.process_of(part).filament for part in sorted(into)):
        iron = ref(f"materials.{kind}.insert_iron")
        yield say(
            "advice",
            "Inserts go in hot, slowly, without force",
            measured=iron.value,
            limit=iron.value,
            unit="degC",
            how="temperature of the iron, from printing temperature",
            reason=f"Iron at about {iron.value:g} °C for {kind}. It burns, and the insert stays hot: use a stand, let it cool.",
            source=str(iron),
            subjects=("inserts", kind),
        )


BURNS = {"acrylic", "plywood"}


@concern("caution-fire", "process")
def caution_fire(a: Analysis, say: Maker) -> Iterator[Finding]:
    if a.need.heat_w > 0:
        made = ["printed plastic"] if any(p.sheet is None and p.in_place for p in a.case.parts) or not a.sheets else []
        made += sorted({x.material for x in a.sheets} & BURNS)
        yield say(
            "advice",
            f"{' and '.join(made)[:1].upper()}{' and '.join(made)[1:]} {'is' if len(made) == 1 else 'are'} not a fire enclosure"
            if made
            else "Sheet with gaps between is not a fire enclosure",
            measured=a.need.heat_w,
            limit=15,
            unit="W",
            sense="at most",
            how="heat of all components",
            reason="Keep it off parts that run hot and keep vents clear; watch the first hours. Mains parts stay in their own "
            "listed metal case, and mains wiring belongs to a licensed electrician under local codes.",
            source="IEC 62368-1 power classes (memory)",
            subjects=("case",),
        )
