"""Meshes and B-reps of the same recipes are as large as one another: round corners, slots, webs that only touch what they join."""

from __future__ import annotations

from math import pi
from random import Random

import pytest
from shapely import Polygon

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.constructions import SlidingPanels, TrayInASleeve
from rhombex.core.design import Design
from rhombex.core.edits import Construct
from rhombex.core.geometry import brep_kernel, mesh_kernel
from rhombex.core.geometry.recipe import Loop, loop_points, rounded
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew, wren

from ..made import random_design


@pytest.mark.parametrize("r", [0.3, 2.0, 8.0, 30.0])
@pytest.mark.parametrize("tol", [0.05, 0.02])
def test_round_corners_keep_their_area_and_size(r: float, tol: float) -> None:
    """100 x 80 less what four quarters of a circle leave of their squares; no corner of the polygon lies outside the rectangle, none farther than the chord from the arc."""
    points = loop_points(rounded(0, 0, 100, 80, r), tol)
    assert Polygon(points).area == pytest.approx(8000 - (4 - pi) * r * r, abs=1e-4)
    assert Polygon(points).bounds == pytest.approx((0, 0, 100, 80), abs=1e-6)
    for x, y in points:
        dx, dy = max(r - x, x - (100 - r), 0.0), max(r - y, y - (80 - r), 0.0)
        if dx > 1e-9 and dy > 1e-9:
            assert -1e-3 - tol <= (dx * dx + dy * dy) ** 0.5 - r <= tol


def test_a_slot_keeps_its_area() -> None:
    half: Loop = ((0.0, 0.0, 0.0), (14.0, 0.0, 1.0), (14.0, 6.0, 0.0), (0.0, 6.0, 1.0))
    assert Polygon(loop_points(half, 0.05)).area == pytest.approx(14 * 6 + pi * 9, abs=1e-4)


@pytest.mark.parametrize(
    ("d", "made"),
    [
        (wren(), TrayInASleeve()),
        (wren(), TrayInASleeve(opens="right", floor="sheet", tab_mm=20)),
        (curlew(), TrayInASleeve()),
        (wren(), SlidingPanels(sheet=("left", "bottom"), sheet_mm=1.0, post_mm=9.76)),
    ],
    ids=["Wren", "Wren on sheet", "Curlew", "slim posts"],
)
def test_steps_of_sleeves_and_slim_posts_are_as_large_as_their_meshes(
    d: Design, made: TrayInASleeve | SlidingPanels
) -> None:
    """Within a tenth of what an export may differ by: the columns of a sleeve's screws fell out of its STEP, where webs only touched them, and it was refused."""
    a = analyse(apply(d, Construct(construction=made)), ARCHIVE_WORKSHOP, "none")
    for name, recipe in a.recipes.items():
        mesh = mesh_kernel.evaluate(recipe, mesh_kernel.FILE_TOL)
        shape = brep_kernel.evaluate(recipe)
        assert brep_kernel.volume(shape) == pytest.approx(mesh.volume(), rel=1e-4), name
        assert len(brep_kernel.solids(shape)) == mesh_kernel.bodies(mesh), name


@pytest.mark.parametrize("seed", ["24/11", "24/92", "step/49", "37 39", "37 180", "37 197"])
def test_steps_of_random_designs_are_as_large_as_their_meshes(seed: str) -> None:
    """Designs whose parts lost a ledge, posts or all of themselves in their STEP, or gained what was cut off, until faces that all but touch were one."""
    a = analyse(random_design(Random(seed)), ARCHIVE_WORKSHOP, "none")
    for name, recipe in a.recipes.items():
        mesh = mesh_kernel.evaluate(recipe, mesh_kernel.FILE_TOL)
        assert brep_kernel.volume(brep_kernel.evaluate(recipe)) == pytest.approx(mesh.volume(), rel=2e-4), name
