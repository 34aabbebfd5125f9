"""Designs that were looked at last: their analyses and what is thought of them, remembered by what design and workshop hold."""

from __future__ import annotations

from rhombex.core.analysis import Analysis, Hours, analyse
from rhombex.core.concerns import Finding, judge, judge_bare
from rhombex.core.design import Design
from rhombex.core.memo import Memo
from rhombex.core.workshop.workshop import Workshop

Look = tuple[Analysis, tuple[Finding, ...]]
_looks: Memo[tuple[Design, Workshop, Hours], Look] = Memo(24)
_bare: Memo[tuple[Design, Workshop, Hours], Look] = Memo(24)


def look(design: Design, workshop: Workshop, hours: Hours) -> Look:
    """The analysis of a design and what is thought of it. A settled one that is at hand stands for any other."""

    def work() -> Look:
        a = analyse(design, workshop, hours)
        return a, tuple(judge(a))

    if hours == "best known" and (settled := _looks.get((design, workshop, "settled"))) is not None:
        return settled
    return _looks.make((design, workshop, hours), work)


def look_bare(design: Design, workshop: Workshop, hours: Hours) -> Look:
    """The same, its findings without the remedies that take a search."""
    if (whole := _looks.get((design, workshop, hours))) is not None:
        return whole

    def work() -> Look:
        a = analyse(design, workshop, hours)
        return a, judge_bare(a)

    return _bare.make((design, workshop, hours), work)
