"""Cuts that a hand puts beside their part."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from rhombex.core.analysis import Analysis
from rhombex.core.cuts.strips import INDEX
from rhombex.core.design import PinnedCut
from rhombex.core.edits import Edit, PutCut, PutCuts
from rhombex.core.plain import DesignError


@dataclass(frozen=True)
class Extents:
    """How far every part goes along x, y and z, in mm of its own as cuts are written, and the cuts that stand. It is small, so that
    it can be kept of every design that is open: a drag asks it at every step."""

    of_mm: dict[str, tuple[tuple[float, float], ...]]
    cuts: tuple[PinnedCut, ...]

    @classmethod
    def of(cls, a: Analysis) -> Extents:
        parts = {
            p.part: tuple((lo - at, hi - at) for lo, hi, at in zip(p.lo_mm, p.hi_mm, p.from_mm, strict=True))
            for p in a.cuts
        }
        return cls(parts, a.design.cuts)

    def refuse_beside(self, edits: Iterable[Edit]) -> None:
        """Raises DesignError where a cut is put outside its part as it is now. One that was there before stays: its part became smaller since, which is told."""
        for e in edits:
            for c in (e.cut,) if isinstance(e, PutCut) else e.cuts if isinstance(e, PutCuts) else ():
                if c.part not in self.of_mm or c in self.cuts:
                    continue
                lo, hi = self.of_mm[c.part][INDEX[c.axis]]
                if not lo < c.at_mm < hi:
                    raise DesignError(
                        f"cuts.{c.part}.{c.axis}",
                        f"a cut at {c.at_mm:g} mm lies outside the {c.part}, which goes from {lo:.2f} to {hi:.2f} there",
                        "The cuts stay where they were. Put it where the part is.",
                    )
