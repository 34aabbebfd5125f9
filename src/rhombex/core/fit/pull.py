"""What two disc magnets pull each other with, over the gap between them."""

from __future__ import annotations

from functools import cache
from math import ceil, pi

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


def pull_on_head_n(d_mm: float, high_mm: float, gap_mm: float, remanence_t: float, head_d_mm: float) -> float:
    """Force in N between a disc and the head of a steel screw, `gap_mm` apart: that of its mirror image at twice the distance, as before thick soft iron
    (method of images), less where the head is narrower than the disc, by their areas (a simplification: the field at a disc's rim reaches in)."""
    share = min(1.0, (head_d_mm / d_mm) ** 2)
    return share * pull_n(d_mm, high_mm, 2 * gap_mm, remanence_t)
