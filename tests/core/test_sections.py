"""Sections of meshes against the geometry library's own, and fields of islands against insetting all of them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection as CS
from manifold3d import JoinType, OpType
from manifold3d import Manifold as M

from rhombex.core.design import Process
from rhombex.core.geometry.mesh_kernel import triangles
from rhombex.core.geometry.slicer import Slicer
from rhombex.core.process import simulate
from rhombex.core.process.islands import Islands, loops_of, outline_key, whole
from rhombex.core.process.settings import Kind
from rhombex.core.process.settings import settings as resolve
from rhombex.core.process.slices import Slices
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples
from ..print_parts import PARTS, by_chance


def differ(a: CS, b: CS) -> float:
    """Area that only one of two regions has."""
    return float((a - b).area() + (b - a).area())


@pytest.mark.parametrize("name", sorted(PARTS))
def test_sections_are_those_of_the_library(name: str) -> None:
    m = PARTS[name]()
    slicer = Slicer(*triangles(m))
    _, _, z0, _, _, z1 = m.bounding_box()
    for share in (0.013, 0.21, 0.5, 0.77, 0.987):
        z = z0 + share * (z1 - z0) + 1e-6
        mine, theirs = slicer.at(z), m.slice(z)
        # corners that stand out less than 0.005 mm are dropped
        assert differ(mine, theirs) <= 0.005 * max(1.0, sum(len(p) for p in theirs.to_polygons())) + 1e-6
        assert mine.num_contour() == theirs.num_contour()
    assert slicer.at(z0 - 1).is_empty() and slicer.at(z1 + 1).is_empty()


@given(st.integers(0, 10_000), st.floats(0.01, 0.99))
@settings(max_examples=examples(25), deadline=None)
def test_sections_of_anything_have_the_area_of_the_library(seed: int, share: float) -> None:
    m = by_chance(seed)
    _, _, z0, _, _, z1 = m.bounding_box()
    z = z0 + share * (z1 - z0)
    assert Slicer(*triangles(m)).at(z).area() == pytest.approx(m.slice(z).area(), rel=1e-3, abs=0.05)


def test_an_open_mesh_is_refused() -> None:
    verts, tri = triangles(M.cube((1, 1, 1)))
    twice = np.concatenate([tri, tri[-1:]])
    turned = np.concatenate([tri[:1, ::-1], tri[1:]])
    for wrong in (tri[1:], twice, turned):
        with pytest.raises(ValueError, match="not closed"):
            Slicer(verts, wrong)


@pytest.mark.parametrize("name", sorted(PARTS))
def test_corners_are_counted_without_a_section(name: str) -> None:
    m = PARTS[name]()
    slicer = Slicer(*triangles(m))
    _, _, z0, _, _, z1 = m.bounding_box()
    for share in (0.013, 0.21, 0.5, 0.77, 0.987):
        z = z0 + share * (z1 - z0) + 1e-6
        assert slicer.corners(z) == pytest.approx(slicer.at(z).num_vert(), rel=0.2, abs=2)


def test_a_straight_wall_of_two_triangles_has_two_corners() -> None:
    """A frame of 4 and 4 corners, and a bar through it of another 4; the bar of half a micrometre's bend is straight, that of a tenth of a millimetre is not."""
    frame = M.cube((40, 30, 10)) - M.cube((30, 20, 12)).translate((5, 5, -1))
    for part, corners in ((frame, 8), (frame + M.cube((2, 2, 10)).translate((19, 14, 0)), 12)):
        slicer = Slicer(*triangles(part))
        assert slicer.corners(3.3) == corners == slicer.at(3.3).num_vert()
    for bend, corners in ((0.0005, 4), (0.1, 5)):
        bar = M.extrude(CS([[(0, 0), (30, 0), (30, 5), (15, 5 + bend), (0, 5)]]), 8)
        slicer = Slicer(*triangles(bar))
        assert slicer.corners(3.3) == corners == slicer.at(3.3).num_vert()


@given(st.integers(2, 6), st.integers(3, 6), st.floats(1.5, 4), st.floats(0.1, 1.2), st.integers(3, 40), st.booleans())
@settings(max_examples=examples(40), deadline=None)
def test_a_field_is_inset_as_its_islands_are(nx: int, ny: int, r: float, by: float, corners: int, ring: bool) -> None:
    pin = CS.circle(r, corners)
    pin = pin - CS.circle(r / 3, corners) if ring else pin
    field = CS.batch_boolean([pin.translate((10.37 * i, 11.11 * j)) for i in range(nx) for j in range(ny)], OpType.Add)
    odd = field + CS.square((3, 5)).translate((-20, -20))
    for region in (field, odd):
        islands = Islands(region)
        plain = region.offset(-by, JoinType.Miter, 2.0)
        got = islands.inset(by)
        assert differ(whole(got), plain) <= 0.01 * max(1.0, plain.area())
        points, start = loops_of(got)
        assert len(start) - 1 == plain.num_contour() and len(points) == start[-1]
        if region.num_contour() >= 16 and len(region.decompose()) >= 16:
            assert len(islands.shapes) <= 3  # each shape once, but for corners that round to two sides


def test_a_key_knows_shape_and_place_but_not_where_a_loop_begins() -> None:
    square = np.array([(0.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0)])
    key = outline_key(CS([square]), (0, 0))
    assert key == outline_key(CS([np.roll(square, 2, axis=0)]), (0, 0))
    assert key == outline_key(CS([square + 7]), (7, 7))
    assert key != outline_key(CS([square + 7]), (7, 6.5))
    assert key != outline_key(CS([square * (1, 1.1)]), (0, 0))


def test_a_hidden_part_that_the_perimeters_fill_gets_no_infill() -> None:
    """Two plates over each other with a thin web between: what is covered lies under the perimeters' room only."""
    m = M.cube((1.4, 20, 6)) + M.cube((20, 20, 1.2)).translate((0, 0, 6))
    for kind in ("lines", "grid", "triangles", "honeycomb"):
        process = Process(perimeters=3, bottom_layers=1, top_layers=0, infill=0.5, infill_kind=kind)  # type: ignore[arg-type]
        slices = Slices(m, resolve(process, ARCHIVE_WORKSHOP.printers[1]))
        rows = simulate.exact(slices)
        assert np.isfinite(rows).all()
        assert rows[2, simulate.K + Kind.SPARSE] == 0
