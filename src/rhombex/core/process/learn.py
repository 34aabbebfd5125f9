"""What planned and real hours teach of a printer's limits: acceleration, speed kept at corners, top speed.

Prints differ in what holds them back: short moves betray the acceleration, corners without end the speed kept there,
long lines the top speed. A pace common to all prints is told apart from them.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, inf, log

import numpy as np
from scipy import optimize
from scipy.special import stdtrit

from rhombex.core.process.limits import LIMITS, Plans, planned_now, with_limit
from rhombex.core.process.pace import SURE, believed
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.paced import Limit, PacedPrint
from rhombex.core.workshop.printer import Printer

WIDEST = log(3.0)  # no limit is looked for further off than three times
FEWEST = 3
NAMES: dict[Limit, str] = {"accel_mm_s2": "acceleration", "corner_mm_s": "speed at corners", "speed_mm_s": "top speed"}
UNITS: dict[Limit, str] = {"accel_mm_s2": "mm/s²", "corner_mm_s": "mm/s", "speed_mm_s": "mm/s"}


class LearnedLimit(Frozen):
    """A limit that the diary speaks for, nine in ten between low and high. `rivals`: other limits that would explain the
    hours nearly as well."""

    limit: Limit
    name: str
    unit: str
    now: Shown
    value: Shown
    low: Shown
    high: Shown
    rivals: tuple[str, ...]


class Learned(Frozen):
    """The limits that the diary speaks for; or why none can be told. `printer` has them all, and the diary goes along."""

    limits: tuple[LearnedLimit, ...]
    prints: int
    said: str
    printer: Printer | None


@dataclass(frozen=True)
class _Fit:
    """The diary explained by a pace and some limits: logs of limits over what is set, squares left, normal matrix."""

    limits: tuple[Limit, ...]
    logs: tuple[float, ...]
    left: float
    normal: np.ndarray


def learned(printer: Printer) -> Learned:
    """The limits behind the real hours of prints whose curves are known.

    log(real) = log(pace) + log(planned at the limits), by nonlinear least squares. Limits are freed one by one, the one
    that explains most first, as long as the squares that it takes away pass the F test at 90 %, which for one more
    parameter is Student's t squared (handbook statistics). Scatter is never taken for less than that of the best printers.
    """
    prints = tuple(p for p in believed(printer) if p.curves is not None)
    n = len(prints)
    if n < FEWEST:
        said = f"{n} of the {FEWEST} prints that it takes have both hours and a plan of this Rhombex"
        return Learned(limits=(), prints=n, said=said, printer=None)
    best, noise = _fit(prints, printer, ()), 0.0
    while (free := n - 2 - len(best.limits)) > 0 and len(best.limits) < len(LIMITS):
        more = min(
            (_fit(prints, printer, (*best.limits, x)) for x in LIMITS if x not in best.limits), key=lambda f: f.left
        )
        scatter = _scatter(more.left, free)
        if best.left - more.left < scatter * _t(free) ** 2 or not _told(more, scatter, free):
            break
        best, noise = more, scatter
    if not best.limits:
        return Learned(limits=(), prints=n, said=_why_none(prints, printer), printer=None)
    free = n - 1 - len(best.limits)
    reach = _reach(best, noise, free)
    found = tuple(
        LearnedLimit(
            limit=x,
            name=NAMES[x],
            unit=UNITS[x],
            now=getattr(printer, x),
            value=getattr(printer, x) * exp(best.logs[k]),
            low=getattr(printer, x) * exp(best.logs[k] - reach[k]),
            high=getattr(printer, x) * exp(best.logs[k] + reach[k]),
            rivals=_rivals(prints, printer, best, k, noise * _t(free) ** 2),
        )
        for k, x in enumerate(best.limits)
    )
    taught = printer
    for x in found:
        taught = with_limit(taught, x.limit, float(f"{x.value:.3g}"))
    # what was planned without curves stands for limits that no longer hold
    taught = taught.model_copy(update={"paced": prints})
    return Learned(limits=found, prints=n, said="", printer=taught)


def _fit(prints: tuple[PacedPrint, ...], printer: Printer, limits: tuple[Limit, ...]) -> _Fit:
    real = np.log([p.real_s for p in prints])
    plans = Plans(prints)
    now = np.array([float(getattr(printer, x)) for x in LIMITS])
    places = [LIMITS.index(x) for x in limits]

    def off(logs: np.ndarray) -> np.ndarray:
        at = now.copy()
        at[places] *= np.exp(logs)
        ratio = real - plans.logs(tuple(at))
        return np.asarray(ratio - ratio.mean())  # the pace takes the mean

    if not limits:
        r = off(np.zeros(0))
        return _Fit((), (), float(r @ r), np.zeros((0, 0)))
    # a bend in the curves may hide a lower valley: begin on both sides
    starts = [np.array([s * log(1.5)] * len(limits)) for s in (-1.0, 1.0)]
    runs = [optimize.least_squares(off, s, bounds=(-WIDEST, WIDEST), diff_step=1e-3) for s in starts]
    got = min(runs, key=lambda r: float(r.cost))
    return _Fit(limits, tuple(float(x) for x in got.x), 2 * float(got.cost), got.jac.T @ got.jac)


def _scatter(left: float, free: int) -> float:
    """Variance of log hours round the plan."""
    return float(max(left / free, val("printing.estimate.least_spread") ** 2))


def _t(free: int) -> float:
    return float(stdtrit(free, (1 + SURE) / 2))


def _reach(fit: _Fit, scatter: float, free: int) -> list[float]:
    """Half the interval of each log, infinite where the hours do not depend on it."""
    if np.linalg.matrix_rank(fit.normal, tol=1e-9) < len(fit.limits):
        return [inf] * len(fit.limits)
    spread = np.sqrt(np.diag(np.linalg.inv(fit.normal)) * scatter)
    return [float(x) * _t(free) for x in spread]


def _told(fit: _Fit, scatter: float, free: int) -> bool:
    """True where each limit's interval leaves out what is set."""
    return all(r < abs(x) for x, r in zip(fit.logs, _reach(fit, scatter, free), strict=True))


def _rivals(prints: tuple[PacedPrint, ...], printer: Printer, best: _Fit, k: int, much: float) -> tuple[str, ...]:
    """Other limits in place of the k-th that leave hardly more unexplained."""
    others = [x for x in LIMITS if x not in best.limits]
    kept = best.limits[:k] + best.limits[k + 1 :]
    return tuple(NAMES[x] for x in others if _fit(prints, printer, (*kept, x)).left - best.left < much)


def _why_none(prints: tuple[PacedPrint, ...], printer: Printer) -> str:
    """Alike prints cannot tell; else the hours agree with what is set."""
    bends = []
    for x in LIMITS:
        slower = with_limit(printer, x, getattr(printer, x) / 2)
        bends.append(np.ptp(np.log(planned_now(prints, slower) / planned_now(prints, printer))))
    if max(bends) < val("printing.estimate.limits_differ"):
        return "the prints are too much alike: print one of long lines and one of many short ones"
    return "the hours agree with the limits set here as far as they can tell"
