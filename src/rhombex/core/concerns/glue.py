"""Seams that glue holds badly: pieces of unlike filaments."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.cuts.joins import COME_APART, joins_of
from rhombex.core.cuts.pieces import PartCuts, cells_of
from rhombex.core.edits import JoinCuts, PrintPart
from rhombex.core.space import Box
from rhombex.core.trail import given

# of one polymer, or so near to it that one solvent and one glue serve both (common practice)
ALIKE = {"ASA": "ABS", "PETG-CF": "PETG"}


@concern("glue-between-kinds", "cuts")
def glue_between_kinds(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A glued seam between pieces of two kinds of filament."""
    for c in a.cuts:
        met = _met(a, c)
        if met is None:
            continue
        own = [p.name for p in c.pieces if a.design.printed_as(c.part, p.name) == p.name]
        bolts = (Remedy(label=f"Join the pieces of the {c.part} by bolts", edits=(JoinCuts(part=c.part, by="bolts"),)),)
        yield say(
            "weigh",
            f"Glue joins {' and '.join(met)} in the {c.part}",
            measured=len(met),
            limit=1,
            unit="kinds of filament",
            sense="at most",
            how="kinds that meet in a seam that is glued",
            of=tuple(given(kind, 1, "", "its pieces") for kind in met),
            reason="What bonds one kind hardly grips the other, and they shrink and soften unlike. The strengths told for this seam are those of glue "
            "in one kind: try a pair of offcuts before you trust it, or screw the pieces together.",
            source="common practice",
            subjects=(c.part, *met),
            remedies=(
                *(bolts if c.seat is not None and "bolts" in joins_of(c.seat) else ()),
                Remedy(
                    label=f"Print all of the {c.part} alike", edits=tuple(PrintPart(part=x, process=None) for x in own)
                ),
            ),
        )


def _met(a: Analysis, c: PartCuts) -> tuple[str, ...] | None:
    """The kinds that meet in a glued seam of a part, if they are not alike."""
    if c.seat is None or len({a.design.printed_as(c.part, p.name) for p in c.pieces}) < 2:
        return None
    kinds = [a.design.process_of(a.design.printed_as(c.part, p.name)).filament for p in c.pieces]
    sides: dict[tuple[str, float], set[str]] = {}
    for kind, (_, beside) in zip(kinds, cells_of(c.cuts, c.seat.axis, Box(c.lo_mm, c.hi_mm)), strict=True):
        for cut, _ in beside:
            if cut.joined not in COME_APART:
                sides.setdefault((cut.axis, cut.at_mm), set()).add(kind)
    for met in sides.values():
        if len({ALIKE.get(kind, kind) for kind in met}) > 1:
            return tuple(sorted(met))
    return None
