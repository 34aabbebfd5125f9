"""Where a wall leaves no room for another pair of full lines: lines along its middle, as wide as the wall leaves.

A wall is followed from its outside in. Where what is left is narrower than another pair of lines, one line goes along its
middle, or two beside it, so wide that they fill it (common practice: narrowed perimeters and gap fill). The middle comes from
a triangulation (the chordal axis): the middles of its inner edges lie halfway between two sides.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from manifold3d import CrossSection, JoinType, triangulate
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.process.islands import MITER, outline_mm
from rhombex.core.process.settings import Settings

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

LEAST = 0.4  # of the spacing of lines: what is left and narrower is taken by the lines beside it
ONE_LINE = 1.5  # of the spacing of lines: what is wider takes two lines
SPECK = 0.1  # of the spacing, squared: smaller areas are left
SHORT = 0.75  # of the spacing: a shorter middle is a corner, no wall
CRUMB = 0.01  # of the spacing, squared: pieces left by rounding
SLIVER = 0.15  # of the spacing: what is narrower is left
TWIG = 1.2  # of the spacing: an end nearer to its fork is a corner of the outline


@dataclass(frozen=True)
class Lines:
    """Polylines of their own width: points (n, 2), how many each has (m,), mm2 of the layer that each fills (m,)."""

    points: Array
    counts: Ints
    mm2: Array

    def lengths(self) -> Array:
        """mm of each."""
        return np.asarray(_lengths(self.points, self.counts))


@njit
def _lengths(points: Array, counts: Ints) -> Array:
    out = np.zeros(len(counts))
    p = 0
    for c in range(len(counts)):
        for q in range(p + 1, p + counts[c]):
            out[c] += np.sqrt((points[q, 0] - points[q - 1, 0]) ** 2 + (points[q, 1] - points[q - 1, 1]) ** 2)
        p += counts[c]
    return out


NO_LINES = Lines(np.zeros((0, 2)), np.zeros(0, np.int64), np.zeros(0))


@dataclass(frozen=True)
class Walls:
    """The perimeters of a shape from outside in: the middles of its full lines, the lines in what is too narrow for a pair
    of them (with the perimeter, from 0, in whose place they are), and what is left inside."""

    loops: tuple[CrossSection, ...]
    thin: tuple[tuple[int, Lines], ...]
    inner: CrossSection


def walls_of(shape: CrossSection, s: Settings) -> Walls:
    """Perimeters of a region of a layer, and what they leave to be filled."""
    loops: list[CrossSection] = []
    thin: list[tuple[int, Lines]] = []
    inner = shape
    for i, (_, inner, lines) in enumerate(bands(shape, s)):
        if lines is not None:
            thin.append((i, lines))
        if i < s.perimeters and not inner.is_empty():
            ring = inner.offset(-(s.width_mm if i == 0 else s.spacing_mm) / 2, JoinType.Miter, MITER)
            loops += [] if ring.is_empty() else [ring]
    return Walls(tuple(loops), tuple(thin), inner)


def bands(shape: CrossSection, s: Settings) -> Iterator[tuple[CrossSection, CrossSection, Lines | None]]:
    """For each full line from outside in, and for what is inside them all: what those before it left, what of that is wide enough, and the lines in
    what is not. A line lies in the middle between the edge of what is wide enough for it and the edge of what it leaves."""
    w, space = s.width_mm, s.spacing_mm
    rest = shape
    # a wall with room for all its lines needs no looking line by line; where circles reach everything, twice the area over the outline is no less than
    # their radius
    reach = w / 2 + (s.perimeters - 0.5) * space + ONE_LINE / 2 * space
    wide = 2 * shape.area() > 0.9 * reach * outline_mm(shape) and _opened(shape, reach, space) is None
    for i in range(s.perimeters + 1):
        edge = (w + space) / 2 if i == 0 else space  # from the edge of what is left to the inner edge of the next line
        room = ONE_LINE / 2 * space if i == s.perimeters else edge + LEAST / 2 * space
        left, lines = rest, None
        if not wide:
            opened = _opened(rest, room, space)
            if opened is not None:
                press = 0.0 if i == 0 else w - space  # roundings of the lines beside it, filled along with the middle
                lines = _middle(rest - opened, space, press)
                rest = opened
        yield left, rest, lines
        if rest.is_empty():
            break
        rest = rest.offset(-edge, JoinType.Miter, MITER)


def _opened(region: CrossSection, room: float, space: float) -> CrossSection | None:
    """What of a region a circle of radius `room` can reach; None where that is all of it."""
    opened = region.offset(-room, JoinType.Miter, MITER).offset(room, JoinType.Miter, MITER)
    return None if region.area() - opened.area() <= SPECK * space * space else opened


def _middle(narrow: CrossSection, space: float, press: float) -> Lines:
    """Lines along the middle of narrow pieces; `press` is the width that they fill beyond the pieces."""
    loops = [np.asarray(p, dtype=np.float64) for p in narrow.simplify(0.01).to_polygons()]
    # corners that came back blunt leave crumbs by the dozen; what fills them is as wide as the paths are laid exactly
    loops = [p for p in loops if abs(_shoelace(p)) > CRUMB * space * space]
    tri = np.asarray(triangulate(loops), dtype=np.int64).reshape(-1, 3) if loops else np.zeros((0, 3), np.int64)
    if not len(tri):
        return NO_LINES
    corners = np.concatenate(loops)
    at, n, area = _axis(corners, tri, *_neighbours(tri, len(corners)), TWIG * space)
    return Lines(*_as_wide(at, n, area, narrow.area(), space, press))


@njit
def _shoelace(loop: Array) -> float:
    """Area of a loop, mm2; holes are negative."""
    total = 0.0
    for k in range(len(loop)):
        m = k + 1 if k + 1 < len(loop) else 0
        total += loop[k, 0] * loop[m, 1] - loop[m, 0] * loop[k, 1]
    return total / 2


@njit
def _as_wide(
    at: Array, counts: Ints, area: Array, whole: float, space: float, press: float
) -> tuple[Array, Ints, Array]:
    """Chains as lines that fill `whole` mm2 among them: one, or there and back where one would be too wide. Specks, corners
    that came back blunt and slivers along curves are left out."""
    m = len(counts)
    length = np.zeros(m)
    kept = np.zeros(m, np.bool_)
    p, lost, held = 0, 0.0, 0.0
    for c in range(m):
        for q in range(p + 1, p + counts[c]):
            length[c] += np.sqrt((at[q, 0] - at[q - 1, 0]) ** 2 + (at[q, 1] - at[q - 1, 1]) ** 2)
        p += counts[c]
        kept[c] = length[c] > SHORT * space and area[c] > SLIVER * space * length[c]
        if kept[c]:
            held += area[c]
        else:
            lost += area[c]
    share = max(0.0, whole - lost) / held if held > 0 else 0.0  # twigs that were left out go to the others
    points = np.empty((2 * len(at), 2))
    out = np.empty(m, np.int64)
    filled = np.empty(m)
    p = k = done = 0
    for c in range(m):
        first, n = p, counts[c]
        p += n
        if not kept[c]:
            continue
        filled[k] = area[c] * share + length[c] * press
        width = filled[k] / length[c]
        if width <= ONE_LINE * space:
            points[done : done + n] = at[first:p]
            out[k] = n
        else:
            for q in range(n):
                a, b = at[first + max(q - 1, 0)], at[first + min(q + 1, n - 1)]
                dx, dy = b[0] - a[0], b[1] - a[1]
                d = max(np.sqrt(dx * dx + dy * dy), 1e-9)
                aside_x, aside_y = -dy / d * width / 4, dx / d * width / 4
                points[done + q, 0], points[done + q, 1] = at[first + q, 0] + aside_x, at[first + q, 1] + aside_y
                back = done + 2 * n - 1 - q
                points[back, 0], points[back, 1] = at[first + q, 0] - aside_x, at[first + q, 1] - aside_y
            out[k] = 2 * n
        done += out[k]
        k += 1
    return points[:done], out[:k], filled[:k]


@njit
def _neighbours(tri: Ints, n: int) -> tuple[Ints, Ints]:
    """For each triangle and side (k to k + 1) the triangle beyond (-1: none), and the number of that edge, each (t, 3); n corners."""
    t = len(tri)
    beyond = np.full((t, 3), -1, np.int64)
    edge = np.empty((t, 3), np.int64)
    last = np.full(n, -1, np.int64)  # the edges that are still alone, by their lower corner
    before = np.empty(3 * t, np.int64)
    for e in range(3 * t):
        i, k = e // 3, e % 3
        edge[i, k] = e
        p, q = tri[i, k], tri[i, (k + 1) % 3]
        low, high = min(p, q), max(p, q)
        f = last[low]
        while f >= 0:
            j, m = f // 3, f % 3
            if max(tri[j, m], tri[j, (m + 1) % 3]) == high and beyond[j, m] < 0:
                beyond[i, k], beyond[j, m], edge[i, k] = j, i, f
                break
            f = before[f]
        if f < 0:
            before[e] = last[low]
            last[low] = e
    return beyond, edge


@njit
def _axis(corners: Array, tri: Ints, beyond: Ints, edge: Ints, twig: float) -> tuple[Array, Ints, Array]:
    """The chordal axis of a triangulated region: points of all chains, how many each has, mm2 of the triangles along each.

    A triangle with one inner edge is an end, with two a link, with three a fork. An end that is nearer than `twig` to its
    fork is a corner of the outline, not a way of the wall.
    """
    t = len(tri)
    deg = np.zeros(t, np.int64)
    size = np.empty(t)
    for i in range(t):
        a, b, c = corners[tri[i, 0]], corners[tri[i, 1]], corners[tri[i, 2]]
        size[i] = abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])) / 2
        for k in range(3):
            deg[i] += beyond[i, k] >= 0
    used = np.zeros(3 * t, np.bool_)
    out = np.empty((4 * t + 4, 2))
    counts = np.empty(2 * t + 2, np.int64)
    area = np.empty(2 * t + 2)
    p = c = 0
    for turn in range(4):  # lone triangles, then chains from ends, from forks, and rings
        for i in range(t):
            if (turn == 0 and deg[i] != 0) or (turn == 1 and deg[i] != 1) or (turn == 2 and deg[i] != 3):
                continue
            if turn == 0:
                x, y, _ = _end(corners, tri, beyond, i)
                far = corners[tri[i, 0]]
                for k in range(3):
                    q = corners[tri[i, k]]
                    if (q[0] - x) ** 2 + (q[1] - y) ** 2 > (far[0] - x) ** 2 + (far[1] - y) ** 2:
                        far = q
                out[p, 0], out[p, 1] = x, y
                out[p + 1, 0], out[p + 1, 1] = far[0], far[1]
                p += 2
                counts[c], area[c] = 2, size[i]
                c += 1
                continue
            for k0 in range(3):
                if beyond[i, k0] < 0 or used[edge[i, k0]]:
                    continue
                first = p
                here, k = i, k0
                filled = 0.0
                ends = 0  # ends of the outline among the two of the chain
                if deg[i] == 1:
                    out[p, 0], out[p, 1], _ = _end(corners, tri, beyond, i)
                    p += 1
                    filled = size[i]
                    ends = 1
                elif deg[i] == 3:
                    for m in range(2):
                        out[p, m] = (corners[tri[i, 0], m] + corners[tri[i, 1], m] + corners[tri[i, 2], m]) / 3
                    p += 1
                    filled = size[i] / 3
                while True:
                    used[edge[here, k]] = True
                    for m in range(2):
                        out[p, m] = (corners[tri[here, k], m] + corners[tri[here, (k + 1) % 3], m]) / 2
                    p += 1
                    came, here = here, beyond[here, k]
                    if deg[here] == 1:
                        out[p, 0], out[p, 1], _ = _end(corners, tri, beyond, here)
                        p += 1
                        filled += size[here]
                        ends += 1
                        break
                    if deg[here] == 3:
                        for m in range(2):
                            out[p, m] = (
                                corners[tri[here, 0], m] + corners[tri[here, 1], m] + corners[tri[here, 2], m]
                            ) / 3
                        p += 1
                        filled += size[here] / 3
                        break
                    filled += size[here]
                    k = 0
                    while beyond[here, k] < 0 or beyond[here, k] == came:
                        k += 1
                        if k == 3:
                            break
                    if k == 3 or used[edge[here, k]]:  # a ring is closed
                        out[p, 0], out[p, 1] = out[first, 0], out[first, 1]
                        p += 1
                        break
                way = 0.0
                for q in range(first + 1, p):
                    way += np.sqrt((out[q, 0] - out[q - 1, 0]) ** 2 + (out[q, 1] - out[q - 1, 1]) ** 2)
                if ends == 1 and way < twig and deg[i] + deg[here] == 4:
                    p = first
                    continue
                counts[c], area[c] = p - first, filled
                c += 1
    return out[:p], counts[:c], area[:c]


@njit
def _end(corners: Array, tri: Ints, beyond: Ints, i: int) -> tuple[float, float, float]:
    """Where the middle of a wall ends in an end triangle: in the middle of a blunt end's short side, or at the tip."""
    short, long, at = np.inf, 0.0, 0
    for k in range(3):
        if beyond[i, k] < 0:
            a, b = corners[tri[i, k]], corners[tri[i, (k + 1) % 3]]
            d = np.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2)
            if d < short:
                short, at = d, k
            long = max(long, d)
    a, b = corners[tri[i, at]], corners[tri[i, (at + 1) % 3]]
    if short < 0.6 * long:
        return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, short
    for k in range(3):  # the corner between the two outer sides
        if beyond[i, k] < 0 and beyond[i, (k + 1) % 3] < 0:
            q = corners[tri[i, (k + 1) % 3]]
            return q[0], q[1], short
    return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2, short
