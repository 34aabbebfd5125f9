"""How far the middle of a rectangular plate gives way under a load, as a factor of P a^2 / D or q a^4 / D, by how much longer than wide it is."""

from __future__ import annotations

from itertools import pairwise

# Timoshenko and Woinowsky-Krieger, Theory of Plates and Shells, for Poisson's ratio 0.3; from memory, checked against series and finite differences
_CENTRE = (
    (1.0, 0.01160),
    (1.2, 0.01353),
    (1.4, 0.01484),
    (1.6, 0.01570),
    (1.8, 0.01620),
    (2.0, 0.01651),
    (3.0, 0.01690),
)
_CLAMPED = (
    (1.0, 0.00560),
    (1.2, 0.00647),
    (1.4, 0.00691),
    (1.6, 0.00712),
    (1.8, 0.00720),
    (2.0, 0.00722),
    (3.0, 0.00725),
)
_EVEN = (
    (1.0, 0.00406),
    (1.2, 0.00564),
    (1.4, 0.00705),
    (1.6, 0.00830),
    (1.8, 0.00931),
    (2.0, 0.01013),
    (3.0, 0.01223),
    (5.0, 0.01297),
)


def centre_load(ratio: float) -> float:
    """alpha of w = alpha P a^2 / D: held at its edges, which turn freely, with a load P in its middle."""
    return _between(_CENTRE, ratio)


def clamped_load(ratio: float) -> float:
    """alpha of w = alpha P a^2 / D: as `centre_load`, but its edges do not turn."""
    return _between(_CLAMPED, ratio)


def even_load(ratio: float) -> float:
    """alpha of w = alpha q a^4 / D: held at its edges, which turn freely, with a load q per area all over it."""
    return _between(_EVEN, ratio)


def _between(table: tuple[tuple[float, float], ...], ratio: float) -> float:
    for (r0, a0), (r1, a1) in pairwise(table):
        if ratio <= r1:
            return a0 + (a1 - a0) * max(0.0, ratio - r0) / (r1 - r0)
    return table[-1][1]
