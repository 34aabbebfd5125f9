"""Where a pane is screwed to its wall: near its corners, wherever nothing stands behind the wall in the way of a nut."""

from __future__ import annotations

from math import ceil, cos, hypot, pi, sin

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.case import Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.design import SCREWED_OVERLAP_MM
from rhombex.core.fit.joints import nut_corners_mm, nut_mm
from rhombex.core.openings.fixed import fixed
from rhombex.core.parts.component import Thread
from rhombex.core.space import Vec2

SCREW: Thread = "M3"
MOST_APART_MM = 80.0  # two of them; common practice
ONE_MM = 24.0  # a side that is shorter has one; common practice
STEP_MM = 1.0
TIP_MM = 3.0  # of a screw past its nut: lengths come in steps of 2
LEAST_APART_MM = 8.0  # two nuts and a finger's tip between; common practice
FAR_MM = 25.0  # from where it is wanted


def screw_places(
    case: Case,
    things: tuple[Thing, ...],
    face: CaseFace,
    at: Vec2,
    hole_mm: Vec2,
    overlap_mm: Vec2,
    round_: bool,
    deep_mm: float,
) -> tuple[Vec2, ...]:
    """The places (u, v) of a pane's screws on its face, in the middle of what lies on the wall: each as near to where it is wanted as there is room for a
    nut behind the pane, whose inside is `deep_mm` behind the face. One that finds none within a thumb's breadth is left out."""
    ring = np.array(_ring(hole_mm, overlap_mm, round_)) + np.array(at)
    free = [tuple(p) for p in ring[_free(case, things, face, ring, deep_mm)].tolist()]
    out: list[Vec2] = []
    for u, v in wanted(hole_mm, overlap_mm, round_):
        want = (at[0] + u, at[1] + v)
        far = [
            (round(hypot(p[0] - want[0], p[1] - want[1]), 6), p)
            for p in free
            if all(hypot(p[0] - q[0], p[1] - q[1]) >= LEAST_APART_MM for q in out)
        ]
        near = min(far, default=(FAR_MM + 1, want))
        if near[0] <= FAR_MM:
            out.append((near[1][0], near[1][1]))
    return tuple(out)


def wanted(hole_mm: Vec2, overlap_mm: Vec2, round_: bool) -> tuple[Vec2, ...]:
    """Where screws are wanted, from the middle of the opening: in the corners, and between where two would be too far apart. Where too little lies on the
    wall above and below, left and right alone, and one in the middle of a short side."""
    w, h = hole_mm[0] / 2 + overlap_mm[0] / 2, hole_mm[1] / 2 + overlap_mm[1] / 2
    if round_:
        d = w / 2**0.5
        return tuple((s * d, t * d) for s in (-1, 1) for t in (-1, 1))
    ears = overlap_mm[1] < SCREWED_OVERLAP_MM
    if ears:
        h = max(hole_mm[1] / 2 + overlap_mm[1] - SCREWED_OVERLAP_MM / 2, 0.0)
    across, along = (ceil(2 * x / MOST_APART_MM - 1e-9) for x in (w, h))
    xs = [-w, w] if ears else [-w + 2 * w * k / across for k in range(across + 1)]
    ys = [-h + 2 * h * k / along for k in range(along + 1)] if not ears or 2 * h > ONE_MM else [0.0]
    return tuple((x, y) for x in xs for y in ys if x in (xs[0], xs[-1]) or y in (ys[0], ys[-1]))


def _ring(hole_mm: Vec2, overlap_mm: Vec2, round_: bool) -> list[Vec2]:
    """Places from the middle of the opening, a step apart, along the middle of what lies on the wall; where they are wanted among them."""
    out = list(wanted(hole_mm, overlap_mm, round_))
    w, h = hole_mm[0] / 2 + overlap_mm[0] / 2, hole_mm[1] / 2 + overlap_mm[1] / 2
    if round_:
        n = max(8, int(2 * pi * w / STEP_MM))
        return out + [(w * cos(2 * pi * k / n), w * sin(2 * pi * k / n)) for k in range(n)]
    ears = overlap_mm[1] < SCREWED_OVERLAP_MM
    high = max(hole_mm[1] / 2 + overlap_mm[1] - SCREWED_OVERLAP_MM / 2, 0.0) if ears else h
    ups = np.linspace(-high, high, max(2, int(2 * high / STEP_MM) + 1)).tolist()
    out += [(s * w, y) for s in (-1, 1) for y in ups]
    if not ears:
        out += [(x, s * h) for s in (-1, 1) for x in np.linspace(-w, w, max(2, int(2 * w / STEP_MM) + 1)).tolist()]
    return out


def _free(
    case: Case, things: tuple[Thing, ...], face: CaseFace, ring: NDArray[np.float64], deep_mm: float
) -> NDArray[np.bool_]:
    """Of places (n, 2) on a face: whether nothing stands behind them where a nut would be, with the tip of its screw."""
    r, end = nut_corners_mm(SCREW) / 2, deep_mm + nut_mm(SCREW) + TIP_MM
    there = [b for _, _, b in fixed(case, things)] + [s.box for t in things for s in hard(t)]
    boxes = []
    for b in there:
        (u0, u1), (v0, v1), (z0, z1) = (
            sorted(x) for x in zip(face.frame.local(b.lo), face.frame.local(b.hi), strict=True)
        )
        if z0 < -deep_mm and z1 > -end:
            boxes.append((u0, v0, u1, v1))
    free = np.ones(len(ring), bool)
    for u0, v0, u1, v1 in boxes:
        u, v = ring[:, 0], ring[:, 1]
        free &= ~((u + r > u0) & (u - r < u1) & (v + r > v0) & (v - r < v1))
    return free
