"""Analyses for tests that ask nothing of grams and hours: those are told by areas and outlines alone, which takes a fifth of a preview."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.design import Design
from rhombex.core.memo import Memo
from rhombex.core.process import estimate
from rhombex.core.process.estimate import Estimate, Level
from rhombex.core.process.simulate import Array, _add_supports, integrals, rough
from rhombex.core.process.slices import Slices
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop

_told: Memo[tuple[str, str, Level], Estimate] = Memo(800)  # kept apart: no later test takes them for previews


def _rows(slices: Slices) -> Array:
    rows = rough(slices, integrals(slices))
    if slices.s.supports:
        _add_supports(slices, rows)
    return rows


@contextmanager
def rough_hours() -> Iterator[None]:
    """What is told at the level of a preview is told by areas and outlines meanwhile."""
    before = estimate.LEVELS["preview"], estimate.estimates
    estimate.LEVELS["preview"], estimate.estimates = _rows, _told
    try:
        yield
    finally:
        estimate.LEVELS["preview"], estimate.estimates = before


def shaped(design: Design, workshop: Workshop = ARCHIVE_WORKSHOP) -> Analysis:
    """Everything about a design but grams and hours, its parts cut to the bed."""
    with rough_hours():
        return analyse(design, workshop, "preview")
