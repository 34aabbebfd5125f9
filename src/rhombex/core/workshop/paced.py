"""Prints that were made: what each was planned to take and took, an entry of a printer's diary."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.trail import Frozen
from rhombex.core.words import Name

Positive = Annotated[float, Field(gt=0, le=1e5)]
Limit = Literal["accel_mm_s2", "corner_mm_s", "speed_mm_s"]
Seconds = Annotated[float, Field(gt=0, le=1e7)]
ONE_LIMIT = (0.5, 0.7, 1.4, 2.0)  # shares of a limit that a print is planned with besides
TWO_LIMITS = (0.5, 2.0)
# which shares of (acceleration, corner speed, top speed): each by itself, then two together
CURVE_POINTS: tuple[tuple[float, float, float], ...] = (
    *((s, 1.0, 1.0) for s in ONE_LIMIT),
    *((1.0, s, 1.0) for s in ONE_LIMIT),
    *((1.0, 1.0, s) for s in ONE_LIMIT),
    *((a, b, 1.0) for a in TWO_LIMITS for b in TWO_LIMITS),
    *((a, 1.0, b) for a in TWO_LIMITS for b in TWO_LIMITS),
    *((1.0, a, b) for a in TWO_LIMITS for b in TWO_LIMITS),
)
MOST_PRINTS = 200  # in a diary; the oldest goes


class LimitCurves(Frozen):
    """What a print would take were limits of its printer others. `at`: acceleration, corner speed and top speed that it was
    planned with; `seconds`: the plan at each of CURVE_POINTS."""

    at: tuple[Positive, Positive, Positive]
    seconds: Annotated[tuple[Seconds, ...], Field(min_length=len(CURVE_POINTS), max_length=len(CURVE_POINTS))]


class PacedPrint(Frozen):
    """One print's planned and real time, for the pace and the limits of its printer."""

    what: Name
    planned_s: Seconds
    curves: LimitCurves | None = None
    real_s: Seconds


def checked(x: PacedPrint) -> PacedPrint:
    """An entry that is to be noted. Raises DesignError where it is shorter than a second or too far from its plan."""
    most = val("printing.estimate.believed")
    if x.real_s < 1 or not x.planned_s / most <= x.real_s <= x.planned_s * most:
        raise DesignError(
            "workshop.printers.paced",
            f"{x.real_s:g} s for “{x.what}”, which was planned to take {x.planned_s:g} s, cannot be: more than {most:g} times off",
            "Look at the unit: hours, not minutes or seconds.",
        )
    return x
