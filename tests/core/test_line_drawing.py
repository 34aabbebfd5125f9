"""Small line drawings of bodies: what is seen is drawn, what is hidden is not."""

from __future__ import annotations

import numpy as np
import pytest
from manifold3d import Manifold as M

from rhombex.core.geometry.line_drawing import TILT, TURN, line_drawing


def length(strokes: tuple[tuple[float, float, float, float], ...]) -> float:
    a = np.array(strokes)
    return float(np.hypot(a[:, 2] - a[:, 0], a[:, 3] - a[:, 1]).sum())


def test_of_a_cube_nine_edges_are_seen() -> None:
    """By hand: all edges but the three at the corner that is farthest; each direction three times, as long as its projection."""
    d = line_drawing(M.cube((10, 10, 10)), 200, 200)
    x = np.hypot(np.cos(TURN), np.sin(TURN) * np.sin(TILT))
    y = np.hypot(np.sin(TURN), np.cos(TURN) * np.sin(TILT))
    k = min(
        198 / (10 * (np.cos(TURN) + np.sin(TURN))),
        198 / (10 * (np.sin(TURN) + np.cos(TURN)) * np.sin(TILT) + 10 * np.cos(TILT)),
    )
    assert length(d.strokes) == pytest.approx(3 * 10 * k * (x + y + np.cos(TILT)), rel=0.03)


def test_what_stands_behind_is_not_drawn() -> None:
    wall, post = M.cube((40, 2, 30)), M.cube((4, 4, 12)).translate((18, 20, 0))
    alone, both = line_drawing(wall), line_drawing(wall + post)
    assert length(both.strokes) < 1.25 * length(alone.strokes)
    before = line_drawing(wall + post.translate((0, -40, 0)))
    assert length(before.strokes) > 1.1 * length(alone.strokes)


def test_a_ball_is_its_outline() -> None:
    """The edges of its facets bend little and are left out: what stays is a circle."""
    d = line_drawing(M.sphere(20, 96), 100, 100)
    assert length(d.strokes) == pytest.approx(np.pi * 98, rel=0.1)


def test_it_fits_the_paper() -> None:
    for size in ((100, 2, 2), (2, 100, 2), (2, 2, 100)):
        d = line_drawing(M.cube(size), 120, 84)
        a = np.array(d.strokes)
        assert d.size[0] <= 120.1 and d.size[1] <= 84.1
        assert a.min() >= 0 and a[:, [0, 2]].max() <= d.size[0] and a[:, [1, 3]].max() <= d.size[1]


def test_of_nothing_there_is_an_empty_paper() -> None:
    assert line_drawing(M()).strokes == ()
