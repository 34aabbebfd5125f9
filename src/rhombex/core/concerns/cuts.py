"""Size to the bed: parts over the bed, cuts through things, no place for a cut."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.own_process import change_process
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.cuts.bed import usable_bed
from rhombex.core.cuts.pieces import MOST_PIECES, PartCuts
from rhombex.core.cuts.strips import strips
from rhombex.core.edits import Construct, FreeCuts, Set
from rhombex.core.reference import ref
from rhombex.core.shell.offers import usual
from rhombex.core.trail import given
from rhombex.core.workshop.printer import Printer


@concern("part-over-bed", "cuts")
def part_over_bed(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 13: a part longer than the bed, perhaps only by a little or by its brim."""
    for c in a.cuts:
        if c.over_mm <= 1e-6:
            continue
        whole = not c.cuts
        remedies = []
        process = a.design.process_of(c.part)
        brim = process.brim_mm
        if c.over_mm <= 2 * brim:
            less = round(max(0.0, brim - c.over_mm / 2 - 0.05), 1)
            remedies.append(
                Remedy(
                    label=f"Brim of {less:g} mm instead of {brim:g}",
                    edits=change_process(a, c.part, "brim_mm", less),
                )
            )
        for p in a.workshop.printers:
            x, y, z = usable_bed(a.design.process_of(c.part), p)
            w, d, h = c.bbox_mm
            if p.key != a.printer.key and h <= z and ((w <= x and d <= y) or (w <= y and d <= x)):
                remedies.append(Remedy(label=f"Print on {p.name}", edits=(Set(path="printer", value=p.key),)))
                break
        longest = max(c.bbox_mm[:2])
        yield say(
            "weigh" if not whole and all(p.fits_bed for p in a.pieces if p.part == c.part) else "stop",
            f"The {c.part} is {c.over_mm:.1f} mm larger than the bed"
            + (f": cut into {len(c.pieces)}" if not whole else ""),
            measured=longest,
            limit=longest - c.over_mm,
            sense="at most",
            how="longest side of the part as it lies; limit: the bed less brim and edge on both sides",
            of=(
                given("too large by", c.over_mm),
                given("bed left along x", c.usable_mm[0]),
                given("bed left along y", c.usable_mm[1]),
                given("brim", brim),
            ),
            reason=f"{a.printer.name} leaves {c.usable_mm[0]:.0f} x {c.usable_mm[1]:.0f} mm once {brim:g} mm of brim and the "
            "bed's edge are taken off each side."
            + ("" if whole else " A seam costs pins, glue and looks; the part is whole if it is a little smaller."),
            source=str(ref("printing.feature.bed_edge")),
            subjects=(c.part,),
            remedies=tuple(remedies),
        )


@concern("no-place-for-cut", "cuts")
def no_place_for_cut(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 13 and 14: a part is too large and no straight cut avoids bosses, openings and fans."""
    for c in a.cuts:
        if not c.no_place:
            continue
        yield say(
            "stop",
            f"No straight cut divides the {c.part}",
            measured=c.over_mm,
            limit=0.0,
            sense="at most",
            how="how much the part is larger than the bed",
            of=(
                given("bed left along x", c.usable_mm[0]),
                given("bed left along y", c.usable_mm[1]),
            ),
            reason="It is made in one piece: dowels would stand on the side that it lies on."
            if a.case.part(c.part).seat is None
            else f"It would be more than {MOST_PIECES} pieces."
            if _many(c)
            else "Everywhere within reach a cut would go through "
            + _list({s.why for s in c.strips if not s.soft})
            + ", or finds no place for dowels.",
            source=str(ref("limits.cut.seam_to_feature")),
            subjects=(c.part,),
            remedies=(
                *tuple(
                    Remedy(label=f"Print on {p.name}", edits=(Set(path="printer", value=p.key),))
                    for p in a.workshop.printers
                    if p.bed_mm[0] > a.printer.bed_mm[0]
                    and (a.case.part(c.part).seat is not None or _whole_on(a, c, p))
                )[:2],
                *_as_covers(a, c.part),
            ),
        )


def _many(c: PartCuts) -> bool:
    """Whether a part that is too large both ways would be more pieces than are planned."""
    if min(c.bbox_mm[:2]) <= max(c.usable_mm[:2]):
        return False
    ways = (c.usable_mm[:2], c.usable_mm[1::-1])
    return min(ceil(c.bbox_mm[0] / x) * ceil(c.bbox_mm[1] / y) for x, y in ways) > MOST_PIECES


def _whole_on(a: Analysis, c: PartCuts, printer: Printer) -> bool:
    """Whether a part that is not cut fits the bed of another printer."""
    bed = usable_bed(a.design.process_of(c.part), printer)
    x, y, z = c.pieces[0].bbox_mm
    return z <= bed[2] and ((x <= bed[0] and y <= bed[1]) or (y <= bed[0] and x <= bed[1]))


def _as_covers(a: Analysis, part: str) -> tuple[Remedy, ...]:
    """Panels between posts are whole; covers on a frame can be cut."""
    if a.case.kind != "sliding panels" or a.case.part(part).seat is not None:
        return ()
    way = usual(a.design, "frame and covers")
    return (Remedy(label="Make it a frame with covers", edits=(Construct(construction=way),)),)


def _list(words: set[str]) -> str:
    names = sorted(words)
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " or " + names[-1] if names else "nothing"


@concern("cut-through-feature", "cuts")
def cut_through_feature(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 14: a cut that a hand put through a boss, a port, a fan or a post."""
    keep = ref("limits.cut.seam_to_feature")
    for c in a.cuts:
        for cut in c.cuts:
            mine = strips(a.case, a.openings, c.part, cut.axis)
            hit = [s for s in mine if s.lo < cut.at_mm < s.hi and not s.soft]
            if not hit:
                continue
            # of several features the one that is cut deepest is named, and it is that one which is measured
            depth, worst = max(((min(cut.at_mm - s.lo, s.hi - cut.at_mm), s) for s in hit), key=lambda x: x[0])
            yield say(
                "stop",
                f"The cut of the {c.part} goes through the {worst.why}",
                measured=keep.value - depth,
                limit=keep.value,
                how="room wanted beside the feature less how deep the cut lies in its strip",
                of=(
                    given("the cut", cut.at_mm),
                    given("strip from", worst.lo),
                    given("strip to", worst.hi),
                ),
                reason="A seam through a boss, post or opening leaves two halves that hold nothing.",
                source=str(keep),
                subjects=(c.part, worst.why),
                remedies=(Remedy(label="Give the cut back to the planner", edits=(FreeCuts(part=c.part),)),),
            )
