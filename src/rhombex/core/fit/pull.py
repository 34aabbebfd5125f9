"""What two magnets pull each other with, over the gap between them: discs, and blocks."""

from __future__ import annotations

from functools import cache
from itertools import product
from math import atan2, ceil, hypot, log, pi

import numpy as np

MU_0 = 4e-7 * pi  # T m / A
LEAST_GAP_MM = 0.01  # nearer than this discs are taken to touch


@cache
def pull_n(d_mm: float, high_mm: float, gap_mm: float, remanence_t: float) -> float:
    """Force in N between two alike discs, magnetised along their axis, face to face on one axis, `gap_mm` apart.

    F = pi R^2 (Br^2 / mu0) I, I the integral over q from 0 of J1(q)^2 / q x (1 - exp(-q h / R))^2 x exp(-q g / R): the energy of two cylinders
    of even magnetisation (Vokoun, Beleggia, Heller and Sittner, J. Magn. Magn. Mater. 321 (2009) 3758). Iron near them is left out.
    """
    from scipy.special import j1  # a sixth of a second to import: only where magnets pull

    r = d_mm / 2
    # panels no longer than half a swing of J1 or what the gap lets through, each by Gauss and Legendre; beyond the last one exp(-30) is left
    fades = r / max(gap_mm, LEAST_GAP_MM)
    wide = min(pi, 2 * fades)
    nodes, weights = np.polynomial.legendre.leggauss(12)
    q = np.arange(ceil(30 * fades / wide))[:, None] * wide + (nodes + 1) * wide / 2
    share = j1(q) ** 2 / q * (1 - np.exp(-q * high_mm / r)) ** 2 * np.exp(-q * gap_mm / r)
    total = float((share * weights).sum() * wide / 2)
    return pi * (r / 1000) ** 2 * remanence_t**2 / MU_0 * total


@cache
def block_pull_n(long_mm: float, wide_mm: float, high_mm: float, gap_mm: float, remanence_t: float) -> float:
    """Force in N between two alike blocks, magnetised through their height, face to face on one axis, `gap_mm` apart.

    F = Br^2 / (4 pi mu0) x the sum over the corners of both of +-(u v atan(u v / (r w)) - u w ln(r - u) - v w ln(r - v) - r w), u, v, w the distances of two
    corners along the three edges and r = |(u, v, w)| (Akoun and Yonnet, IEEE Trans. Magn. 20 (1984) 1962). Iron near them is left out.
    """
    gap, total = max(gap_mm, LEAST_GAP_MM), 0.0
    for i, j, k, m, p, q in product((0, 1), repeat=6):
        u = (j - i) * long_mm
        v = (m - k) * wide_mm
        w = gap + high_mm + (q - p) * high_mm
        r = hypot(u, v, w)
        one = u * v * atan2(u * v, r * w) - u * w * log(r - u) - v * w * log(r - v) - r * w
        total += (-1) ** (i + j + k + m + p + q) * one
    return abs(remanence_t**2 / (4 * pi * MU_0) * total) * 1e-6


def magnets_pull_n(d_mm: float, long_mm: float | None, high_mm: float, gap_mm: float, remanence_t: float) -> float:
    """Force in N between two discs of `d_mm`, or two blocks `long_mm` long and `d_mm` wide."""
    if long_mm is None:
        return pull_n(d_mm, high_mm, gap_mm, remanence_t)
    return block_pull_n(long_mm, d_mm, high_mm, gap_mm, remanence_t)


def pull_on_head_n(
    d_mm: float, long_mm: float | None, high_mm: float, gap_mm: float, remanence_t: float, head_d_mm: float
) -> float:
    """Force in N between a magnet and the head of a steel screw, `gap_mm` apart: that of its mirror image at twice the distance, as before thick soft iron
    (method of images), less where the head is smaller than the magnet, by their areas (a simplification: the field at a magnet's rim reaches in)."""
    area = pi / 4 * d_mm**2 if long_mm is None else long_mm * d_mm
    # of a head that stands out beyond a narrow block an oval is left, at least
    share = min(1.0, pi / 4 * head_d_mm * min(head_d_mm, d_mm) / area)
    return share * magnets_pull_n(d_mm, long_mm, high_mm, 2 * gap_mm, remanence_t)
