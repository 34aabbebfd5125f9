"""Distances between placed solids: boxes by hand, convex bodies against a quadratic programme and by their volume in common."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import Manifold
from scipy.optimize import minimize

from rhombex.core.analysis import analyse
from rhombex.core.bench.apart import apart, apart_from_box
from rhombex.core.bench.arrange import PlacedSolid
from rhombex.core.concerns import judge
from rhombex.core.design import Design, Placement
from rhombex.core.parts.component import Component, Solid
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples


def body(points: np.ndarray) -> PlacedSolid:
    corners = tuple(tuple(map(float, p)) for p in points)
    lo, hi = tuple(map(float, points.min(axis=0))), tuple(map(float, points.max(axis=0)))
    return PlacedSolid("body", "body", Box(lo, hi), None, 0.0, 0.0, corners)  # type: ignore[arg-type]


def box(lo: tuple[float, float, float], hi: tuple[float, float, float], axis: int | None = None) -> PlacedSolid:
    return PlacedSolid("box", "body", Box(lo, hi), axis, 0.0)


def ball(r: float, at: tuple[float, float, float] = (0, 0, 0)) -> PlacedSolid:
    p = np.random.default_rng(1).normal(size=(60, 3))
    ends = np.concatenate([np.eye(3), -np.eye(3)])
    return body(np.concatenate([p / np.linalg.norm(p, axis=1)[:, None], ends]) * r + np.array(at))


def test_a_ball_passes_the_corner_of_a_box_that_its_box_would_hit() -> None:
    room = box((9, 9, 9), (30, 30, 30))
    assert ball(10).box.distance(room.box) < 0
    # from the middle to the corner 9 sqrt 3, less the radius; a ball of few corners lies a little inside
    assert apart(ball(10), room) == pytest.approx(9 * math.sqrt(3) - 10, abs=1.2)
    assert apart(ball(10), room) >= 9 * math.sqrt(3) - 10
    assert apart(room, ball(10)) == pytest.approx(apart(ball(10), room))
    assert apart_from_box(ball(10), room.box) == pytest.approx(apart(ball(10), room))


def test_depth_is_the_shortest_way_out() -> None:
    assert apart(ball(10), box((-40, -40, 8), (40, 40, 30))) == pytest.approx(-2, abs=1e-6)
    # a wedge of 45 degrees over a box: out along its slope, 3 / sqrt 2 by hand
    wedge = body(np.array([(0, 0, 0), (40, 0, 40), (0, 0, 40), (0, 40, 0), (40, 40, 40), (0, 40, 40.0)]))
    assert apart(wedge, box((20, 10, 0), (60, 30, 23))) == pytest.approx(-3 / math.sqrt(2), abs=1e-3)


def test_round_ones_are_round() -> None:
    a, b = box((0, 0, 0), (10, 10, 5), 2), box((9, 9, 0), (19, 19, 5), 2)
    assert apart(a, b) == pytest.approx(9 * math.sqrt(2) - 10)
    # beside a body with corners a round one is a prism of 24 sides round the circle, 0.9 % wider at its corners
    slab = body(np.array([(x, y, z) for x in (12, 14) for y in (-5, 20) for z in (0, 5.0)]))
    assert apart(a, slab) == pytest.approx(2, abs=0.05)


def test_edges_that_pass_crosswise_do_not_meet() -> None:
    """Two wedges, edge to edge at a right angle: each side's normal sees an overlap, yet there is a millimetre between."""
    lower = body(np.array([(-5, 0, 0), (5, 0, 0), (-5, 4, -4), (5, 4, -4), (-5, -4, -4), (5, -4, -4.0)]))
    upper = body(np.array([(0, -5, 1), (0, 5, 1), (4, -5, 5), (4, 5, 5), (-4, -5, 5), (-4, 5, 5.0)]))
    assert apart(lower, upper) == pytest.approx(1.0)
    sunk = body(np.array([(0, -5, -1), (0, 5, -1), (4, -5, 5), (4, 5, 5), (-4, -5, 5), (-4, 5, 5.0)]))
    assert apart(lower, sunk) < 0


@given(st.integers(0, 10_000))
@settings(max_examples=examples(40), deadline=None)
def test_distance_is_that_of_a_quadratic_programme(seed: int) -> None:
    rng = np.random.default_rng(seed)
    p = rng.uniform(-5, 5, (rng.integers(5, 12), 3))
    q = rng.uniform(-5, 5, (rng.integers(5, 12), 3)) + rng.normal(size=3) * 9
    d = apart(body(p), body(q))
    common = Manifold.hull_points(p) ^ Manifold.hull_points(q)
    if d < -1e-6:
        assert common.volume() > 0
        # moved out along the way it says, they no longer meet: the depth is a way out, so it is at least as long as needed
        assert -d <= np.linalg.norm(np.ptp(np.concatenate([p, q]), axis=0))
        return
    assert common.volume() < 1e-6
    n, m = len(p), len(q)

    def off(w: np.ndarray) -> float:
        v = w[:n] @ p - w[n:] @ q
        return float(v @ v)

    def slope(w: np.ndarray) -> np.ndarray:
        v = w[:n] @ p - w[n:] @ q
        return np.concatenate([2 * p @ v, -2 * q @ v])

    found = minimize(
        off,
        np.concatenate([np.full(n, 1 / n), np.full(m, 1 / m)]),
        jac=slope,
        bounds=[(0, 1)] * (n + m),
        constraints=[
            {"type": "eq", "fun": lambda w: w[:n].sum() - 1},
            {"type": "eq", "fun": lambda w: w[n:].sum() - 1},
        ],
        method="SLSQP",
        options={"maxiter": 400, "ftol": 1e-14},
    )
    assert d == pytest.approx(math.sqrt(max(found.fun, 0)), abs=2e-3)


def test_a_body_is_judged_by_its_shape_on_the_bench(good_wren: Design) -> None:
    """A pyramid beside a part: its box overlaps the part's, the body does not."""
    base = ((0, 0, 0), (16, 0, 0), (16, 16, 0), (0, 16, 0), (8, 8, 14))
    told = {"source": "made up", "mark": "sample"}

    def with_part(corners: tuple[tuple[float, float, float], ...]) -> set[str]:
        solid = Solid(name="body", role="body", lo=(0, 0, 0), hi=(16, 16, 14), corners=corners, **told)
        part = Component(
            key="own-cone",
            label="Cone",
            family="own component",
            mounting="posts",
            pivot=(8, 8),
            solids=(solid,),
            heat_w=0,
            mass_g=1,
            **told,
        )
        block = part.model_copy(
            update={"key": "own-bar", "solids": (Solid(name="bar", role="body", lo=(0, 0, 0), hi=(4, 60, 4), **told),)}
        )
        high = good_wren.placements[0].at_mm
        d = good_wren.model_copy(
            update={
                "custom": (part, block),
                "placements": (
                    Placement(id="cone", name="Cone", component="own-cone", at_mm=(40, 40, high[2])),
                    Placement(id="bar", name="Bar", component="own-bar", at_mm=(54, 40, high[2] + 12)),
                ),
                "brief": good_wren.brief.model_copy(update={"needs": ()}),
                "adapters": (),
                "feeds": (),
                "leads": (),
            }
        )
        return {c.code for c in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if set(c.subjects) == {"cone", "bar"}}

    assert "components-collide" in with_part(())
    assert "components-collide" not in with_part(base)
