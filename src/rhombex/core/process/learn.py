"""What planned and real hours teach about a printer's acceleration: prints of many short moves betray it."""

from __future__ import annotations

import numpy as np
from scipy import stats

from rhombex.core.process.pace import SURE
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop import PacedPrint, Printer


class Learned(Frozen):
    """The acceleration that the diary speaks for, mm/s2, nine in ten between low and high; or why none can be told.

    `printer` has it, with its diary planned anew, so that the pace is that of the new limits.
    """

    accel_mm_s2: Shown | None
    low: Shown
    high: Shown
    prints: int
    said: str
    printer: Printer | None


def _none(prints: int, said: str) -> Learned:
    return Learned(accel_mm_s2=None, low=0, high=0, prints=prints, said=said, printer=None)


def learned(printer: Printer) -> Learned:
    """The acceleration behind the real hours of prints whose hurrying share is known.

    A real time is taken as pace x (its steady part + slower x its rush): linear least squares on errors relative to the
    plan, `slower` being planned over true acceleration, since the time of a ramp goes with 1 / acceleration. Three prints
    or more are wanted, whose shares of rush differ, and 90 % of Student's t must leave no-change out.
    """
    known = [p for p in printer.paced if p.rush_s is not None and p.rush_s < p.planned_s]
    n = len(known)
    if n < 3:
        return _none(n, f"{n} of the 3 prints that it takes have both hours and a plan of this Rhombex")
    rush = np.array([(p.rush_s or 0.0) / p.planned_s for p in known])
    real = np.array([p.real_s / p.planned_s for p in known])
    if np.ptp(rush) < val("printing.estimate.rush_differs"):
        return _none(n, "the prints are too much alike: print one of long lines and one of many short ones")
    a = np.column_stack([1 - rush, rush])
    (steady, hurried), *_ = np.linalg.lstsq(a, real, rcond=None)
    left = real - a @ np.array([steady, hurried])
    spread = max(float(np.sqrt(left @ left / (n - 2))), val("printing.estimate.least_spread"))
    cov = np.linalg.inv(a.T @ a) * spread**2
    if steady <= 0 or hurried <= 0:
        return _none(n, "the hours contradict each other")
    slower = hurried / steady
    # spread of a quotient, to first order, on its logarithm
    var = cov[0, 0] / steady**2 + cov[1, 1] / hurried**2 - 2 * cov[0, 1] / (steady * hurried)
    reach = float(stats.t.ppf((1 + SURE) / 2, n - 2)) * max(float(var), 0.0) ** 0.5
    if reach > abs(np.log(slower)):
        return _none(n, "the hours agree with the acceleration set here as far as they can tell")
    accel = printer.accel_mm_s2 / slower
    return Learned(
        accel_mm_s2=accel,
        low=accel * np.exp(-reach),
        high=accel * np.exp(reach),
        prints=n,
        said="",
        printer=_replanned(printer, slower),
    )


def _replanned(printer: Printer, slower: float) -> Printer:
    """The printer with the acceleration learned, its diary planned with it. Prints of unknown rush are struck: they were
    planned with limits that no longer hold."""
    paced = tuple(
        PacedPrint(
            what=p.what,
            planned_s=p.planned_s + p.rush_s * (slower - 1),
            rush_s=p.rush_s * slower,
            real_s=p.real_s,
        )
        for p in printer.paced
        if p.rush_s is not None
    )
    return printer.model_copy(
        update={
            "accel_mm_s2": round(printer.accel_mm_s2 / slower),
            "travel_accel_mm_s2": round(printer.travel_accel_mm_s2 / slower),
            "paced": paced,
        }
    )
