"""Bridges: how far a hanging piece of a layer spans between what holds it, and along which direction its lines had best be laid."""

from __future__ import annotations

import numpy as np
from manifold3d import CrossSection, JoinType
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.process.islands import outline_mm

Array = NDArray[np.float64]
DIRECTIONS = tuple(range(0, 180, 15))  # degrees; and those of the piece's own longest edges
MOST_LINES = 40
# A ledge in a square corner touches along half of its outline and hangs free; the strip between a nut's pocket and the slot over it touches along 56 %, and
# its lines lie on both ends
ONE_STRETCH = 0.55
REACH_MM = 0.12  # so far beyond its end a line has to find what holds it
STUB_MM = 3.0  # a line so short may end in the air: the step round a screw's head; common practice
LOOSE_SHARE = 0.08  # of the length of all lines may end in the air: corners where the outline runs askew


def bridge_span(part: CrossSection, below: CrossSection) -> float:
    """How far a hanging piece spans, mm: the longest of its lines between two ends that are held, in the direction where that is
    shortest; infinite where no direction holds it at both ends (a cantilever)."""
    return best_bridge(part, below)[0]


def best_bridge(part: CrossSection, below: CrossSection, reach_mm: float = 0.0) -> tuple[float, float]:
    """The span and the direction, degrees from x, of the best way to lay a hanging piece's lines; (inf, 0) for a cantilever.

    A cantilever touches what is below in one stretch that is less than ONE_STRETCH of its outline. `reach_mm`: how far a line may lean out from
    what is below: such a ledge hangs from its neighbour, it is no part of the bridge."""
    near = part.offset(0.05, JoinType.Miter, 2.0) ^ below
    touching = near.decompose()
    if not touching:
        return float("inf"), 0.0
    contact = sum(outline_mm(t) for t in touching) / 2
    if len(touching) == 1 and contact < ONE_STRETCH * outline_mm(part):
        return float("inf"), 0.0
    leant = below.offset(reach_mm, JoinType.Miter, 2.0) if reach_mm else below
    edges, under = _edges(part - leant if reach_mm else part), _edges(leant)
    if len(edges) == 0:
        return 0.0, 0.0
    best = (float("inf"), 0.0)
    for degrees in (*DIRECTIONS, *_own(edges)):
        span = _along(edges, under, float(degrees), best[0])
        if span < best[0] - 1e-6:
            best = (span, float(degrees))
    return best[0] + 2 * reach_mm, best[1]


def held_along(part: CrossSection, below: CrossSection, degrees: float) -> bool:
    """Whether the lines of a hanging piece in one direction find something below them at their ends."""
    return _along(_edges(part), _edges(below), degrees) < float("inf")


def _own(edges: Array) -> list[float]:
    """The directions of a piece's longest edges, degrees."""
    d = edges[:, 2:] - edges[:, :2]
    order = np.argsort(-np.hypot(d[:, 0], d[:, 1]))[:4]
    return sorted({round(float(np.degrees(np.arctan2(d[k, 1], d[k, 0]))) % 180, 1) for k in order} - set(DIRECTIONS))


def _along(edges: Array, under: Array, degrees: float, enough_mm: float = np.inf) -> float:
    """The longest line of a piece in one direction, mm; infinite where more than a little of them ends in the air, or where a
    line is as long as `enough_mm`: another direction is as good."""
    return float(_longest_line(edges, under, np.cos(np.radians(degrees)), np.sin(np.radians(degrees)), enough_mm))


@njit
def _longest_line(edges: Array, under: Array, c: float, s: float, enough_mm: float) -> float:
    """As `_along`; c and s turn a line along the direction into one along x."""
    mine, held = _turned(edges, c, s), _turned(under, c, s)
    lo, hi = min(mine[:, 1].min(), mine[:, 3].min()), max(mine[:, 1].max(), mine[:, 3].max())
    n = int(min(max((hi - lo) / 0.4, 3.0), float(MOST_LINES)))
    total = loose = longest = 0.0
    for i in range(n):
        y = lo + (i + 0.5) * (hi - lo) / n
        xs, stands = _crossings(mine, y), _crossings(held, y)
        for k in range(0, len(xs) - 1, 2):
            way = xs[k + 1] - xs[k]
            total += way
            ends = np.searchsorted(stands, xs[k] - REACH_MM) % 2 + np.searchsorted(stands, xs[k + 1] + REACH_MM) % 2
            if ends == 2 or (ends == 1 and way <= STUB_MM):
                longest = max(longest, way)
                if longest >= enough_mm:
                    return np.inf
            else:
                loose += way
    return np.inf if total <= 0 or loose > LOOSE_SHARE * total else longest


@njit
def _turned(edges: Array, c: float, s: float) -> Array:
    out = np.empty_like(edges)
    for i in range(len(edges)):
        for k in (0, 2):
            x, y = edges[i, k], edges[i, k + 1]
            out[i, k], out[i, k + 1] = x * c + y * s, y * c - x * s
    return out


@njit
def _crossings(edges: Array, y: float) -> Array:
    """Where a horizontal line crosses edges, in order."""
    xs = np.empty(len(edges))
    n = 0
    for i in range(len(edges)):
        y0, y1 = edges[i, 1], edges[i, 3]
        if (y0 <= y) != (y1 <= y):
            xs[n] = edges[i, 0] + (y - y0) / (y1 - y0) * (edges[i, 2] - edges[i, 0])
            n += 1
    return np.sort(xs[:n])


def _edges(c: CrossSection) -> Array:
    """All edges of a region, (n, 4)."""
    out = [np.hstack([p, np.roll(p, -1, axis=0)]) for p in (np.asarray(q) for q in c.to_polygons())]
    return np.vstack(out) if out else np.zeros((0, 4))
