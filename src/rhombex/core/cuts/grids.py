"""Rows and columns of a part that is cut both ways: the fewest pieces, then the least price, proven."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, field
from math import inf

import numpy as np
from numpy.typing import NDArray

from rhombex.core.cuts.one_way import in_order
from rhombex.core.cuts.places import FEW_PINS
from rhombex.core.space import Vec2

MOST_PIECES = 24  # of one part; more are not planned: a larger bed, or sheet, is wanted
MOST_TRIED = 2000  # grids of one number of pieces whose pins are looked at before the best so far is taken
MOST_IN_ALL = 6000
NOT_WORSE = 1e-9

Held = Callable[[tuple[float, ...]], NDArray[np.int64]]


@dataclass(frozen=True)
class Side:
    """One way across which a part is cut. `at_mm`: where a cut may run, from the part's low end, ascending; `prices`: what each costs, its pins aside;
    `at_most`: how many pins find a place at each, wherever cuts the other way run; `held`: how many do, given where those run; None: it needs none."""

    length_mm: float
    at_mm: tuple[float, ...]
    prices: tuple[float, ...]
    at_most: tuple[int, ...]
    held: Held | None

    def bare(self, wanted: int) -> tuple[float, ...]:
        """What a cut costs at the least that wants so many pins: without end where there is never room for them."""
        if self.held is None:
            return self.prices
        return tuple(inf if m < wanted else p for p, m in zip(self.prices, self.at_most, strict=True))


@dataclass(frozen=True)
class Grid:
    """The cuts across either side, what they cost, how many grids were looked at, and whether no better one is left."""

    one: tuple[float, ...]
    other: tuple[float, ...]
    price: float
    tried: int
    proven: bool

    @property
    def pieces(self) -> int:
        """Into how many the part is divided."""
        return (1 + len(self.one)) * (1 + len(self.other))


def wanted_pins(cuts_across: int) -> int:
    """How many pins, keys or bolts a cut wants: two, or one for each piece beside it (common practice)."""
    return max(2, 1 + cuts_across)


def plan_grid(
    one: Side, other: Side, rooms: tuple[Vec2, ...], crossing: Callable[[float, float], float] = lambda a, b: 0.0
) -> Grid | None:
    """Fewest pieces, then least price, of all grids with at least one cut each way. `rooms`: how long a piece may be across either side, for every way in
    which the pieces may lie on the bed. Where cuts run one way changes which places the other way have room for pins, so neither is planned before the other.
    `crossing`: what it costs that two of them cross there. None: there is none of at most `MOST_PIECES`; one without cuts: none was found among those that were looked at."""
    look = _Look(one, other, crossing)
    counts = sorted(
        ((a, b) for a in range(2, MOST_PIECES) for b in range(2, MOST_PIECES // a + 1)), key=lambda x: (x[0] * x[1], x)
    )
    for _, some in itertools.groupby(counts, key=lambda x: x[0] * x[1]):
        look.until = min(look.tried + MOST_TRIED, MOST_IN_ALL)
        for a, b in some:
            for room in dict.fromkeys(rooms):
                look.at(a - 1, b - 1, room)
        if look.best is not None:
            return Grid(*look.best, look.tried, look.proven)
    return None if look.proven else Grid((), (), inf, look.tried, False)


@dataclass
class _Look:
    """What was found so far. `until`: when so many grids have been looked at, it stops."""

    one: Side
    other: Side
    crossing: Callable[[float, float], float]
    tried: int = 0
    until: int = 0
    proven: bool = True
    best: tuple[tuple[float, ...], tuple[float, ...], float] | None = None
    _held: dict[tuple[bool, tuple[float, ...]], NDArray[np.int64] | None] = field(default_factory=dict)

    def at(self, n: int, m: int, room: Vec2) -> None:
        """Every grid of n cuts across the one side and m across the other that may be better than the best so far."""
        one, other = self.one, self.other
        rows_bare, columns_bare = other.bare(wanted_pins(n)), one.bare(wanted_pins(m))
        least = next(in_order(other.length_mm, other.at_mm, rows_bare, m, room[1]), (inf, ()))[0]
        for cost, columns in in_order(one.length_mm, one.at_mm, columns_bare, n, room[0]):
            if cost + least >= self._least - NOT_WORSE or self._enough():
                return
            held = self._pins(True, columns)
            prices = _with_pins(other.prices, held, wanted_pins(n))
            for rows_cost, rows in in_order(other.length_mm, other.at_mm, prices, m, room[1]):
                if cost + rows_cost >= self._least - NOT_WORSE or self._enough():
                    break
                back = _with_pins(one.prices, self._pins(False, rows), wanted_pins(m))
                few = float(sum(back[k] - one.prices[k] for k in map(one.at_mm.index, columns)))
                price = cost + few + rows_cost
                if price < self._least - NOT_WORSE:
                    price += sum(self.crossing(a, b) for a in columns for b in rows)
                if price < self._least - NOT_WORSE:
                    self.best = columns, rows, price

    def _enough(self) -> bool:
        """Count one more, or say that no more are looked at."""
        if self.tried >= self.until:
            self.proven = False
            return True
        self.tried += 1
        return False

    @property
    def _least(self) -> float:
        return self.best[2] if self.best else inf

    def _pins(self, of_other: bool, across: tuple[float, ...]) -> NDArray[np.int64] | None:
        """How many pins find a place at each place of a side, with cuts `across` it."""
        key = of_other, across
        if key not in self._held:
            side = self.other if of_other else self.one
            self._held[key] = side.held(across) if side.held else None
        return self._held[key]


def _with_pins(prices: tuple[float, ...], held: NDArray[np.int64] | None, wanted: int) -> tuple[float, ...]:
    """What a cut costs with its pins: without end where too few find a place, and a little more where just enough do."""
    if held is None:
        return prices
    return tuple(inf if h < wanted else p + FEW_PINS * (h == wanted) for p, h in zip(prices, held, strict=True))
