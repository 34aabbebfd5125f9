"""Cuts across one axis: every way to put so many of them, the cheapest first, and the fewest that do, proven."""

from __future__ import annotations

import heapq
from collections.abc import Iterator, Sequence
from math import inf

import numpy as np

from rhombex.core.cuts.joins import LEAST_MM


def plan_cuts(
    length_mm: float, room_mm: float, allowed: Sequence[tuple[float, float]]
) -> tuple[float, tuple[float, ...]] | None:
    """Fewest cuts, then least price, among the allowed places (from the part's low end, with a price each) so that no piece is longer than its room, after
    what they cost together; None if there are none."""
    at, prices = tuple(c for c, _ in allowed), tuple(p for _, p in allowed)
    fewest = _fewest(length_mm, room_mm, sorted(at))
    if fewest is None:
        return None
    # where places lie so near to one another that a piece between them would be a sliver, it takes more
    for n in range(fewest, int(length_mm / LEAST_MM) + 1):
        found = next(in_order(length_mm, at, prices, n, room_mm), None)
        if found is not None:
            return found
    return None


def _fewest(length: float, usable: float, allowed: list[float]) -> int | None:
    """How many cuts it takes at the least, going as far as one can each time; None where some stretch is longer than the bed."""
    at, n = 0.0, 0
    while length - at > usable:
        reach = [c for c in allowed if at < c <= at + usable]
        if not reach:
            return None
        at, n = reach[-1], n + 1
    return n


def in_order(
    length_mm: float, at_mm: tuple[float, ...], prices: tuple[float, ...], n: int, room_mm: float
) -> Iterator[tuple[float, tuple[float, ...]]]:
    """Every way to put n cuts so that no piece is longer than its room and none between two cuts a sliver, the cheapest first: best first over the
    cheapest that is left from each cut on. A cut costs its price and how far it is from dividing evenly."""
    if n == 0:
        if length_mm <= room_mm:
            yield 0.0, ()
        return
    at, price = np.array(at_mm, float), np.array(prices, float)
    costs = [price + np.abs(at - k * length_mm / (n + 1)) / length_mm for k in range(1, n + 1)]
    gap = at[None, :] - at[:, None]
    follows = (gap > LEAST_MM) & (gap <= room_mm)  # (from, to)
    togo = np.where(length_mm - at <= room_mm, costs[-1], inf)
    left = [togo]
    for k in range(n - 2, -1, -1):
        onward = np.where(follows, left[0][None, :], inf).min(axis=1, initial=inf)
        left.insert(0, costs[k] + onward)
    start = np.where((at > LEAST_MM) & (at <= room_mm), left[0], inf)
    heap: list[tuple[float, tuple[int, ...], float]] = [
        (float(start[j]), (j,), 0.0) for j in np.flatnonzero(np.isfinite(start)).tolist()
    ]
    heapq.heapify(heap)
    while heap:
        total, path, before = heapq.heappop(heap)
        k = len(path)
        if k == n:
            yield total, tuple(at_mm[j] for j in path)
            continue
        so_far = before + float(costs[k - 1][path[-1]])
        onward = np.where(follows[path[-1]], left[k], inf)
        for j in np.flatnonzero(np.isfinite(onward)).tolist():
            heapq.heappush(heap, (so_far + float(onward[j]), (*path, j), so_far))
