"""Pieces that would fit the bed as one."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from rhombex.core.advice.cuts import pinned
from rhombex.core.advice.seam_ways import minutes_of
from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.joins import COME_APART
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.strips import INDEX
from rhombex.core.edits import Edit, FreeCuts, PutCuts
from rhombex.core.fit.laying import down_of
from rhombex.core.trail import given


@concern("cut-not-needed", "cuts")
def cut_not_needed(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A cut that a hand put where the pieces on either side of it would fit the bed as one."""
    for c in a.cuts:
        part = a.case.part(c.part)
        for cut in (x for x in c.cuts if x.pinned):
            found = _as_one(c, cut)
            # whole it would lie as a hand says, and not as its pieces do: whether it fits so is seen when the cut is out
            if found is None or (len(c.cuts) == 1 and down_of(a.design, part) != part.down):
                continue
            (long, wide), bed = found, sorted(c.usable_mm[:2], reverse=True)
            rows = 1 + sum(x.axis == cut.axis for x in c.cuts)
            fewer = len(c.pieces) // rows * (rows - 1)
            minutes = minutes_of(cut.joined, len(cut.dowels), cut.joined not in COME_APART)
            words = "is whole" if fewer == 1 else f"is {fewer} pieces instead of {len(c.pieces)}"
            yield say(
                "advice",
                f"The {c.part} {words} without your cut at {cut.inside_mm:g} mm across {cut.axis}",
                measured=len(c.pieces),
                limit=fewer,
                unit="pieces",
                sense="at most",
                how="pieces now; limit: without this cut, for the largest that it leaves fits the bed",
                of=(
                    given("longest, as one", long),
                    given("widest, as one", wide),
                    given("bed left, long side", bed[0]),
                    given("bed left, short side", bed[1]),
                ),
                reason=f"A seam costs {minutes:.0f} minutes of work, bears less than the plate that it cuts, and shows. "
                "Keep it where a colour, a print direction or a corner that wears is the reason.",
                source="fewest pieces first (common practice)",
                subjects=(c.part, cut.axis, f"{cut.inside_mm:g}"),
                remedies=(Remedy(label="Take this cut out", edits=(_without(c, cut),)),),
            )


def _as_one(c: PartCuts, cut: Cut) -> tuple[float, float] | None:
    """Long and short side of the largest piece that would be left without a cut; None where it does not fit the bed, or turned cuts are left beside which
    no side is as long as in its middle."""
    if any(x.turn_deg or x.lean_deg for x in c.cuts if x != cut):
        return None
    sides = []
    for axis in c.flat:
        i = INDEX[axis]
        here = sorted(x.at_mm for x in c.cuts if x.axis == axis and x != cut)
        edges = [c.lo_mm[i], *here, c.hi_mm[i]]
        sides.append(max(y - x for x, y in pairwise(edges)))
    long, wide = max(sides), min(sides)
    bed = sorted(c.usable_mm[:2], reverse=True)
    return (long, wide) if long <= bed[0] + 1e-6 and wide <= bed[1] + 1e-6 else None


def _without(c: PartCuts, cut: Cut) -> Edit:
    left = tuple(pinned(c, x, x.joined) for x in c.cuts if x != cut)
    return PutCuts(part=c.part, cuts=left) if left else FreeCuts(part=c.part)
