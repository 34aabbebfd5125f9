"""Changes of filament within a part, for colour: more than the printer does by itself, and those that nothing is printed after."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.elsewhere import all_fit, print_on
from rhombex.core.concerns.own_process import change_process, printed
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.process.settings import settings
from rhombex.core.process.slices import layer_bounds
from rhombex.core.reference import ref
from rhombex.core.trail import given
from rhombex.core.words import listed


@concern("more-colours-than-slots", "plan")
def more_colours_than_slots(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 18: more colours than the printer has slots, or too many changes."""
    many = ref("limits.print.changes_many")
    most: dict[str, int] = {}
    for p, known in a.estimated():
        most[p.printed_as] = max(most.get(p.printed_as, 0), known.changes)
    slots = a.printer.slots
    for part, changes in most.items():
        if changes == 0 or (changes < slots and changes <= many.value):
            continue
        over = changes >= slots
        better = [p for p in a.workshop.printers if p.slots > changes and all_fit(a, p)]
        yield say(
            "weigh",
            f"{changes} change{'s' if changes > 1 else ''} of filament in the {part}",
            measured=changes,
            limit=slots - 1 if over else many.value,
            unit="changes",
            sense="at most",
            how="changes of filament in this part",
            reason=f"{a.printer.name} holds {slots} filament{'s' if slots > 1 else ''}: the rest is changed by hand while it "
            "waits."
            if over
            else "Each change throws filament away, takes minutes and can fail.",
            source=str(many) if not over else f"slots of {a.printer.name}",
            subjects=(part,),
            remedies=(
                *(print_on(a, p) for p in better[:1]),
                Remedy(label="Print it in one colour", edits=change_process(a, part, "changes_at_mm", ())),
            ),
        )


@concern("change-above-part", "plan")
def change_above_part(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 18: a change of filament at a height at which nothing that is printed so begins another layer."""
    for of in printed(a):
        s = settings(of.process, a.printer)
        own = of.own or of.parts[0]
        heights = [p.bbox_mm[2] for p in a.pieces if a.design.process_of(p.printed_as) == of.process]
        last = max((float(layer_bounds(h, s.first_mm, s.layer_mm)[-2]) for h in heights), default=0.0)
        lost = [z for z in of.process.changes_at_mm if z > last + 1e-6]
        if not lost:
            continue
        at = listed([f"{z:g}" for z in lost[:3]] + [f"{len(lost) - 3} more"] * (len(lost) > 3))
        left = tuple(z for z in of.process.changes_at_mm if z not in lost)
        yield say(
            "weigh",
            f"Nothing is printed after the change of filament{of.where} at {at} mm",
            measured=last,
            limit=min(lost),
            how="where the last layer begins of the highest piece that is printed so; wanted: the height of the change or more",
            of=(given("highest piece", max(heights)), given("layer", s.layer_mm)),
            reason=f"The highest piece that is printed so ends at {max(heights):.1f} mm: it stays in one colour from there on, and no change is counted "
            "in its hours.",
            source="arithmetic",
            subjects=(of.subject, "changes"),
            remedies=(
                Remedy(label=f"Leave out the change at {at} mm", edits=change_process(a, own, "changes_at_mm", left)),
            ),
        )
