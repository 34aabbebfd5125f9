"""Cuts that a hand puts beside their part."""

from __future__ import annotations

from collections.abc import Iterable

from rhombex.core.analysis import Analysis
from rhombex.core.cuts.strips import INDEX
from rhombex.core.edits import Edit, PutCut, PutCuts
from rhombex.core.plain import DesignError


def refuse_beside(a: Analysis, edits: Iterable[Edit]) -> None:
    """Raises DesignError where a cut is put outside its part as it is now. One that was there before stays: its part became smaller since, which is told."""
    for e in edits:
        for c in (e.cut,) if isinstance(e, PutCut) else e.cuts if isinstance(e, PutCuts) else ():
            part = next((p for p in a.cuts if p.part == c.part), None)
            if part is None or c in a.design.cuts:
                continue
            i = INDEX[c.axis]
            lo, hi = part.lo_mm[i] - part.from_mm[i], part.hi_mm[i] - part.from_mm[i]
            if not lo < c.at_mm < hi:
                raise DesignError(
                    f"cuts.{c.part}.{c.axis}",
                    f"a cut at {c.at_mm:g} mm lies outside the {c.part}, which goes from {lo:.2f} to {hi:.2f} there",
                    "The cuts stay where they were. Put it where the part is.",
                )
