"""What a plan would take were the limits of its printer others: the curves that real hours are held against."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from itertools import combinations
from math import log
from typing import TYPE_CHECKING, get_args

import numpy as np
from numpy.typing import NDArray

from rhombex.core.memo import Memo
from rhombex.core.progress import Progress, silent
from rhombex.core.workshop.paced import CURVE_POINTS, ONE_LIMIT, TWO_LIMITS, Limit, LimitCurves, PacedPrint
from rhombex.core.workshop.printer import Printer

if TYPE_CHECKING:
    from scipy.interpolate import PchipInterpolator

Array = NDArray[np.float64]
Point = tuple[float, float, float]
LIMITS: tuple[Limit, ...] = get_args(Limit)


def with_limit(printer: Printer, limit: Limit, value: float) -> Printer:
    """The printer with one limit changed. The acceleration of travel keeps its proportion to that of printing."""
    change: dict[str, float] = {limit: value}
    if limit == "accel_mm_s2":
        change["travel_accel_mm_s2"] = printer.travel_accel_mm_s2 * value / printer.accel_mm_s2
    return printer.model_copy(update=change)


def curves(planned_s: Callable[[Printer], float], printer: Printer, progress: Progress = silent) -> LimitCurves:
    """Plan at each of CURVE_POINTS. `planned_s` plans on a printer, s."""
    at = _limits(printer)
    seconds = []
    for k, shares in enumerate(CURVE_POINTS):
        progress(k / len(CURVE_POINTS), "planning with other limits")
        other = printer
        for limit, now, share in zip(LIMITS, at, shares, strict=True):
            if share != 1.0:
                other = with_limit(other, limit, now * share)
        seconds.append(planned_s(other))
    return LimitCurves(at=at, seconds=tuple(seconds))


def planned_now(entries: tuple[PacedPrint, ...], printer: Printer) -> Array:
    """Planned seconds of prints with the limits that their printer has now: entries with curves follow them.

    In logarithms, each limit acts along a monotone cubic through the values planned and straight on beyond them; what two
    limits do together beyond that grows with both.
    """
    return np.exp(_plans.make(entries, lambda: Plans(entries)).logs(_limits(printer)))


def _limits(printer: Printer) -> Point:
    return printer.accel_mm_s2, printer.corner_mm_s, printer.speed_mm_s


class Plans:
    """Many prints planned at any limits at once."""

    def __init__(self, entries: tuple[PacedPrint, ...]) -> None:
        self.base = np.log([e.planned_s for e in entries])
        groups: dict[Point, list[int]] = {}
        for i, e in enumerate(entries):
            if e.curves is not None:
                groups.setdefault(e.curves.at, []).append(i)
        self.groups = [
            (at, np.array(rows), _Surface(np.log([entries[i].curves.seconds for i in rows]).T - self.base[rows]))  # type: ignore[union-attr]
            for at, rows in groups.items()
        ]

    def logs(self, limits: tuple[float, ...]) -> Array:
        """Logarithms of the planned seconds at acceleration, corner speed and top speed."""
        out = self.base.copy()
        for at, rows, surface in self.groups:
            x = [log(now / then) for now, then in zip(limits, at, strict=True)]
            if any(x):
                out[rows] += surface.share(x)
        return out


_plans: Memo[tuple[PacedPrint, ...], Plans] = Memo(32)


class _Surface:
    """Logs of planned time over what it was, of logs of limits over what they were, for prints planned alike."""

    def __init__(self, known: Array) -> None:
        """known: (CURVE_POINTS, prints)."""
        self.known: dict[Point, Array] = dict(zip(CURVE_POINTS, known, strict=True))
        shares = sorted((*ONE_LIMIT, 1.0))
        self.steps = np.log(shares)
        self.lines = [np.array([self._one(i, s) for s in shares]) for i in range(3)]

    @cached_property
    def cubics(self) -> list[PchipInterpolator]:
        from scipy.interpolate import PchipInterpolator  # slow to import: only where a diary is kept

        return [PchipInterpolator(self.steps, y) for y in self.lines]

    def share(self, x: list[float]) -> Array:
        pairs = ((i, j) for i, j in combinations(range(3), 2) if x[i] and x[j])
        parts = [self._along(i, v) for i, v in enumerate(x) if v]
        parts += [self._together(i, j, x[i], x[j]) for i, j in pairs]
        return np.asarray(np.sum(parts, axis=0))

    def _one(self, i: int, share: float) -> Array:
        if share == 1.0:
            return np.zeros_like(self.known[CURVE_POINTS[0]])
        at: Point = tuple(share if k == i else 1.0 for k in range(3))  # type: ignore[assignment]
        return self.known[at]

    def _along(self, i: int, x: float) -> Array:
        inside = min(max(x, self.steps[0]), self.steps[-1])
        a, b = (0, 1) if x < 0 else (-2, -1)
        slope = (self.lines[i][b] - self.lines[i][a]) / (self.steps[b] - self.steps[a])
        return np.asarray(self.cubics[i](inside) + (x - inside) * slope)

    def _together(self, i: int, j: int, x: float, y: float) -> Array:
        a, b = (TWO_LIMITS[0] if v < 0 else TWO_LIMITS[1] for v in (x, y))
        at: Point = tuple(a if k == i else b if k == j else 1.0 for k in range(3))  # type: ignore[assignment]
        both = self.known[at]
        return np.asarray((both - self._one(i, a) - self._one(j, b)) * min(1.0, x / log(a)) * min(1.0, y / log(b)))
