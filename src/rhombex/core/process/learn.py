"""What planned and real hours teach of a printer's limits: acceleration, speed kept at corners, top speed.

Prints differ in what holds them back: short moves betray the acceleration, corners without end the speed kept there,
long lines the top speed. A pace common to all prints is told apart from them.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations
from math import exp, inf, log
from typing import Any

import numpy as np
from scipy import optimize
from scipy.special import chdtri, fdtri, stdtrit

from rhombex.core.memo import Memo
from rhombex.core.process.limits import LIMITS, Plans, planned_now, with_limit
from rhombex.core.process.pace import SURE, believed
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.paced import Limit, PacedPrint
from rhombex.core.workshop.printer import Printer

WIDEST = log(3.0)  # no limit is looked for further off than three times
FEWEST = 3
SLIP_SURE = 0.99
NOISE_SURE = 0.95
SLIP_LEAST = log(1.06)  # what is less is scatter, however well the others agree
SUSPECTS = 5  # prints that are tried as the one that does not fit
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


class OddPrint(Frozen):
    """A print whose hours fit no limits that fit the others, and how far they are off: real over expected, less one."""

    what: str
    off: Shown


class Learned(Frozen):
    """The limits that the diary speaks for; or why none can be told. `printer` has them all, and the diary goes along.
    `odd`: the print that does not fit and was not counted."""

    limits: tuple[LearnedLimit, ...]
    prints: int
    silence: str
    printer: Printer | None
    odd: OddPrint | None = None


@dataclass(frozen=True)
class _Fit:
    """The diary explained by a pace and some limits: logs of limits over what is set, squares left, normal matrix."""

    limits: tuple[Limit, ...]
    logs: tuple[float, ...]
    left: float
    normal: np.ndarray


@dataclass(frozen=True)
class _Account:
    """A diary, without one print or whole, explained as well as it allows. `noise`: variance of log hours round it."""

    prints: tuple[PacedPrint, ...]
    without: int | None
    fit: _Fit
    noise: float

    @property
    def free(self) -> int:
        return len(self.prints) - 1 - len(self.fit.limits)


def learned(printer: Printer) -> Learned:
    """The limits that the hours of a printer's diary speak for."""
    return _learned.make(printer, lambda: _learn(printer))


def _learn(printer: Printer) -> Learned:
    """The limits behind the real hours of prints whose curves are known.

    log(real) = log(pace) + log(planned at the limits), by nonlinear least squares. Limits are freed one by one, the one
    that explains most first, as long as the squares that it takes away pass the F test at 90 % (handbook statistics), and two
    or three together where one alone does not pass. Scatter is never taken for less than that of the best printers.

    A limit that was not freed may still have had a hand in it: where freeing it takes away more than the noise of one print
    (adjusted R squared rises), the interval reaches over what the others would then be, and it is named.

    One slip (a failed start counted in, a wrong minute) bends a limit: each print that may be one is left out in turn, and stays
    out where its deleted residual is beyond Student's t at 99 %, shared out over all prints (Bonferroni; handbook statistics).
    Where two would do, neither is believed and nothing is told; nor where a slip or one limit more would do as well. Where limits alone
    explain all prints with fewer things said, there was no slip.
    """
    prints = tuple(p for p in believed(printer) if p.curves is not None)
    n = len(prints)
    if n < FEWEST:
        silence = f"{n} of the {FEWEST} prints that it takes have both hours and a plan of this Rhombex"
        return Learned(limits=(), prints=n, silence=silence, printer=None)
    account = _account(prints, printer, None)
    odd: OddPrint | None = None
    slips = _slips(account, prints, printer)
    if len(slips) > 1 and {x.fit.limits for x, _ in slips} != {()}:
        names = " or ".join(f"'{prints[x.without].what}'" for x, _ in slips if x.without is not None)
        silence = f"one print does not fit the others, and it could be {names}: note one more, or correct its hours"
        return Learned(limits=(), prints=n, silence=silence, printer=None)
    if slips and (limits := account.fit.limits) and _explains_all(account):
        without, off = slips[0]
        assert without.without is not None
        # the slip counts as one thing to explain, like a limit
        if len(limits) <= len(without.fit.limits):
            slips = []
        elif len(limits) == len(without.fit.limits) + 1:
            more = " or the ".join(NAMES[x] for x in limits if x not in without.fit.limits)
            what = prints[without.without].what
            silence = f"either the {more} is another, or '{what}' does not fit the others: note one more print like it"
            return Learned(limits=(), prints=n, silence=silence, printer=None)
    if slips:
        account, off = slips[0]
        assert account.without is not None
        odd = OddPrint(what=prints[account.without].what, off=exp(off) - 1)
    best = account.fit
    if not best.limits:
        return Learned(limits=(), prints=n, silence=_why_none(account.prints, printer), printer=None, odd=odd)
    much = account.noise * _t(account.free) ** 2
    spans, beside = _spans(account, printer)
    found = tuple(
        LearnedLimit(
            limit=x,
            name=NAMES[x],
            unit=UNITS[x],
            now=getattr(printer, x),
            value=getattr(printer, x) * exp(best.logs[k]),
            low=getattr(printer, x) * exp(spans[k][0]),
            high=getattr(printer, x) * exp(spans[k][1]),
            rivals=tuple(dict.fromkeys((*_rivals(account.prints, printer, best, k, much), *beside))),
        )
        for k, x in enumerate(best.limits)
    )
    taught = printer
    for x in found:
        taught = with_limit(taught, x.limit, float(f"{x.value:.3g}"))
    # what was planned without curves stands for limits that no longer hold
    taught = taught.model_copy(update={"paced": prints})
    return Learned(limits=found, prints=n, silence="", printer=taught, odd=odd)


_learned: Memo[Printer, Learned] = Memo(16)


def _account(prints: tuple[PacedPrint, ...], printer: Printer, without: int | None) -> _Account:
    """Free limits as long as each step explains enough: one more if that does, else two together, else three. Two that hold
    back different prints may explain nothing by themselves."""
    counted = tuple(p for k, p in enumerate(prints) if k != without)
    best, noise = _fit(counted, printer, ()), 0.0
    while (step := _next(counted, printer, best)) is not None:
        best, noise = step
    return _Account(counted, without, best, noise or _scatter(best.left, max(1, len(counted) - 1)))


def _next(prints: tuple[PacedPrint, ...], printer: Printer, best: _Fit) -> tuple[_Fit, float] | None:
    """The fewest limits more that explain enough, freed beside those of a fit, and the noise that they leave."""
    bound = [x for x in LIMITS if x not in best.limits]
    for count in range(1, len(bound) + 1):
        free = len(prints) - 1 - len(best.limits) - count
        if free <= 0:
            return None
        fits = (_fit(prints, printer, (*best.limits, *extra)) for extra in combinations(bound, count))
        more = min(fits, key=lambda f: f.left)
        scatter = _scatter(more.left, free)
        enough = float(fdtri(count, free, SURE))  # of one, Student's t squared
        if best.left - more.left >= count * scatter * enough and _told(more, scatter, free):
            return more, scatter
    return None


def _slips(whole: _Account, prints: tuple[PacedPrint, ...], printer: Printer) -> list[tuple[_Account, float]]:
    """Accounts without a print that fits none of the others, the best first, each with the log by which it is off. Empty where
    none is needed; more than one where each would do."""
    if len(prints) <= FEWEST:
        return []
    found = []
    for k in _suspects(whole, prints, printer):
        account = _account(prints, printer, k)
        off = _off(prints, printer, account.fit)
        counted = [x for i, x in enumerate(off) if i != k]
        by = float(off[k] - np.mean(counted))
        free = max(1, account.free)
        sure = float(stdtrit(free, 1 - (1 - SLIP_SURE) / 2 / len(prints)))
        if abs(by) > max(SLIP_LEAST, sure * np.sqrt(account.noise * (1 + 1 / len(counted)))):
            found.append((account, by))
    if not found:
        return []
    found.sort(key=lambda x: x[0].fit.left / max(1, x[0].free))
    best = found[0][0]
    much = max(best.noise, _scatter(0.0, 1)) * _t(max(1, best.free)) ** 2
    return [x for x in found if x[0].fit.left - best.fit.left < much]


def _explains_all(account: _Account) -> bool:
    """True where what is left unexplained is no more than the scatter of good printers (chi squared at 95 %)."""
    expected = float(chdtri(max(1, account.free), 1 - NOISE_SURE)) * val("printing.estimate.least_spread") ** 2
    return account.fit.left <= expected


def _suspects(whole: _Account, prints: tuple[PacedPrint, ...], printer: Printer) -> list[int]:
    """Which prints may be slips: those furthest from the middle of the rest, whatever is freed."""
    worst: dict[int, float] = {}
    for limits in ((), whole.fit.limits, LIMITS if len(prints) > len(LIMITS) + 2 else ()):
        off = _off(prints, printer, _fit(prints, printer, limits, steady=True))
        for k, x in enumerate(np.abs(off - np.median(off))):
            worst[k] = max(worst.get(k, 0.0), float(x))
    return sorted(worst, key=lambda k: -worst[k])[:SUSPECTS]


def _off(prints: tuple[PacedPrint, ...], printer: Printer, fit: _Fit) -> np.ndarray:
    """Log of real over planned hours with the limits of a fit."""
    at = np.array([float(getattr(printer, x)) for x in LIMITS])
    at[[LIMITS.index(x) for x in fit.limits]] *= np.exp(fit.logs)
    return np.asarray(np.log([p.real_s for p in prints]) - Plans(prints).logs(tuple(at)))


def _fit(prints: tuple[PacedPrint, ...], printer: Printer, limits: tuple[Limit, ...], steady: bool = False) -> _Fit:
    """The diary explained by these limits. Steady: far outliers hardly count (Cauchy's loss)."""
    real = np.log([p.real_s for p in prints])
    plans = Plans(prints)
    now = np.array([float(getattr(printer, x)) for x in LIMITS])
    places = [LIMITS.index(x) for x in limits]

    def off(logs: np.ndarray) -> np.ndarray:
        at = now.copy()
        at[places] *= np.exp(logs)
        ratio = real - plans.logs(tuple(at))
        return np.asarray(ratio - (np.median(ratio) if steady else ratio.mean()))  # the pace takes the mean

    if not limits:
        r = off(np.zeros(0))
        return _Fit((), (), float(r @ r), np.zeros((0, 0)))
    # a bend in the curves may hide a lower valley: begin on both sides
    starts = [np.array([s * log(1.5)] * len(limits)) for s in (-1.0, 1.0)]
    loss: dict[str, Any] = {"loss": "cauchy", "f_scale": val("printing.estimate.least_spread")} if steady else {}
    runs = [optimize.least_squares(off, s, bounds=(-WIDEST, WIDEST), diff_step=1e-3, **loss) for s in starts]
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


def _spans(account: _Account, printer: Printer) -> tuple[list[tuple[float, float]], tuple[str, ...]]:
    """The interval of each log, over the fits with one limit more that might be true too; and the names of these limits."""
    best = account.fit
    reach = _reach(best, account.noise, account.free)
    spans = [(x - r, x + r) for x, r in zip(best.logs, reach, strict=True)]
    beside: list[str] = []
    if account.free < 2:
        return spans, ()
    for extra in (x for x in LIMITS if x not in best.limits):
        fit = _fit(account.prints, printer, (*best.limits, extra))
        wide = _reach(fit, account.noise, account.free - 1)
        if best.left - fit.left <= account.noise or inf in wide:
            continue
        beside.append(NAMES[extra])
        for k, (lo, hi) in enumerate(spans):
            spans[k] = (min(lo, fit.logs[k] - wide[k]), max(hi, fit.logs[k] + wide[k]))
    return spans, tuple(beside)


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
