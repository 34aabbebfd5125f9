"""Designs that were looked at last: their analyses and what is thought of them, remembered by what design and workshop hold."""

from __future__ import annotations

from dataclasses import replace

from rhombex.core.analysis import Analysis, Hours, analyse
from rhombex.core.concerns import Finding, judge_bare, with_remedies
from rhombex.core.design import Design
from rhombex.core.memo import Memo
from rhombex.core.workshop.workshop import Workshop

Look = tuple[Analysis, tuple[Finding, ...]]
_looks: Memo[tuple[Design, Workshop, Hours], Look] = Memo(24)
_bare: Memo[tuple[Design, Workshop, Hours], Look] = Memo(24)


def look(design: Design, workshop: Workshop, hours: Hours) -> Look:
    """The analysis of a design and what is thought of it. A settled one that is at hand stands for any other."""

    def work() -> Look:
        a, bare = look_bare(design, workshop, hours)
        return a, with_remedies(a, bare)

    return with_all(design, workshop, hours) or _looks.put((design, workshop, hours), work())


def with_all(design: Design, workshop: Workshop, hours: Hours) -> Look | None:
    """The look at a design with all remedies, where it is known."""
    settled = _looks.get((design, workshop, "settled")) if hours == "best known" else None
    return settled or _looks.get((design, workshop, hours))


def look_bare(design: Design, workshop: Workshop, hours: Hours) -> Look:
    """The same, its findings without the remedies that take a search: a hand does not wait for those. Where they are known they are there all the same."""
    if (whole := with_all(design, workshop, hours)) is not None:
        return whole

    def work() -> Look:
        a = analyse(design, workshop, hours)
        return a, judge_bare(a)

    return _bare.make((design, workshop, hours), work)


def rough(a: Analysis) -> frozenset[str]:
    """The parts whose grams and hours are known from the preview alone."""
    return frozenset(p.part for p in a.pieces if p.estimate and p.estimate.level == "preview")


def roughly(a: Analysis, parts: frozenset[str]) -> Analysis:
    """An analysis with the preview's grams and hours of some parts, to hold another against it that has no better ones: a change of level is no saving."""
    if not parts:
        return a
    quick = {p.name: p for p in analyse(a.design, a.workshop, "preview").pieces}
    return replace(a, pieces=tuple(quick.get(p.name, p) if p.part in parts else p for p in a.pieces))
