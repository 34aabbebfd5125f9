"""The pace of a printer: how its real hours compare with planned ones, and how sure that is."""

from __future__ import annotations

from math import exp, log, sqrt

import numpy as np

from rhombex.core.process.limits import planned_now
from rhombex.core.reference import val
from rhombex.core.trail import Frozen
from rhombex.core.workshop.paced import PacedPrint
from rhombex.core.workshop.printer import Printer

SURE = 0.9


class Pace(Frozen):
    """Real time = factor x planned time; nine prints in ten come between low and high. `prints` taught it; `left_out` were too
    far from their plan to be believed."""

    factor: float
    low: float
    high: float
    prints: int
    left_out: int = 0


def believed(printer: Printer) -> tuple[PacedPrint, ...]:
    """The entries of a diary whose hours are not so far from their plan that they must be a slip."""
    most = log(val("printing.estimate.believed"))
    with np.errstate(divide="ignore"):
        off = np.abs(np.log([p.real_s for p in printer.paced]) - np.log(planned_now(printer.paced, printer)))
    return tuple(p for p, x in zip(printer.paced, off, strict=True) if x <= most)


def pace_of(printer: Printer) -> Pace:
    """The pace that a printer's diary teaches.

    Ratios of real to planned time are taken as log-normal: the factor is their geometric mean, low and high the 90 %
    prediction interval for one more print (Student's t). With fewer than two prints the usual spread stands in.
    """
    paced = believed(printer)
    ratios = np.log([p.real_s for p in paced]) - np.log(planned_now(paced, printer))
    n, out = len(ratios), len(printer.paced) - len(paced)
    usual = val("printing.estimate.printer_spread")
    mean = float(ratios.mean()) if n else 0.0
    if n < 2:
        return Pace(factor=exp(mean), low=exp(mean) * (1 - usual), high=exp(mean) * (1 + usual), prints=n, left_out=out)
    spread = max(float(ratios.std(ddof=1)), val("printing.estimate.least_spread"))
    from scipy.special import stdtrit  # a sixth of a second to import: only where hours are kept

    reach = float(stdtrit(n - 1, (1 + SURE) / 2)) * spread * sqrt(1 + 1 / n)
    reach = min(reach, log(val("printing.estimate.believed")))
    return Pace(factor=exp(mean), low=exp(mean - reach), high=exp(mean + reach), prints=n, left_out=out)
