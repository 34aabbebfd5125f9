"""Leaves of recipes and frames of any rotation, in both kernels, against closed forms."""

from __future__ import annotations

from math import cos, isclose, pi, radians, sin

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from rhombex.core.analysis import analyse
from rhombex.core.geometry import brep_kernel as bk
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry import meshes
from rhombex.core.geometry.planes import crossings, section, section_mm2
from rhombex.core.geometry.recipe import (
    Array,
    Difference,
    Extrude,
    Meshed,
    Move,
    Profile,
    Revolve,
    Solid,
    Union,
    at,
    block,
    circle,
    loop_points,
    profile,
    rect,
    reverse,
    segments,
    snap,
)
from rhombex.core.plain import DesignError
from rhombex.core.space import Box, Frame, rotated
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import read_good_wren
from ..examples import examples

CUBE = block(Box((0, 0, 0), (10, 20, 30)))
angles = st.floats(-360, 360)
axes = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda a: sum(c * c for c in a) > 0.01)


def both(s: Solid, tol: float = 0.005) -> tuple[float, float]:
    """Volume by the mesh kernel and by the B-rep kernel."""
    return mk.evaluate(s, tol).volume(), bk.volume(bk.evaluate(s))


@pytest.mark.parametrize("degrees", [360.0, 90.0, 200.0])
def test_a_ring_turned_has_the_volume_of_pappus(degrees: float) -> None:
    # Pappus's second theorem: area x path of the centroid; a 4 x 6 rectangle whose middle is 12 from the axis
    ring = Revolve(profile([rect(10, 0, 14, 6)]), degrees)
    want = 4 * 6 * 2 * pi * 12 * degrees / 360
    mesh, brep = both(ring)
    assert mesh == pytest.approx(want, rel=1e-3) and brep == pytest.approx(want, rel=1e-6)
    box = mk.evaluate(ring, 0.005).bounding_box()
    assert (box[2], box[5]) == pytest.approx((0, 6)) and box[3] == pytest.approx(14, abs=0.005)
    assert mk.watertight(mk.evaluate(ring, 0.005))


def test_a_turned_circle_is_a_torus() -> None:
    # volume of a torus, 2 pi^2 R r^2
    torus = Revolve(profile([circle(20, 5, 6)]))
    mesh, brep = both(torus)
    assert brep == pytest.approx(2 * pi**2 * 20 * 9, rel=1e-6) and mesh == pytest.approx(brep, rel=3e-3)


def test_an_array_is_the_solid_in_each_of_its_frames() -> None:
    pin = Extrude(profile([circle(0, 0, 4)]), 5)
    six = Array(pin, tuple(at(10 * k, 0, 0) for k in range(6)))
    mesh, brep = both(six)
    assert brep == pytest.approx(6 * pi * 4 * 5, rel=1e-6) and mk.bodies(mk.evaluate(six)) == 6
    assert mesh == pytest.approx(brep, rel=3e-3)
    holes = Difference(block(Box((-5, -5, 1), (55, 5, 4))), (six,))
    assert both(holes)[1] == pytest.approx(60 * 10 * 3 - 6 * pi * 4 * 3, rel=1e-6)
    assert Array(pin, six.frames[:5]).digest != six.digest


def test_a_recipe_is_named_by_its_values_alone() -> None:
    def standoff(x: float, high: float, kind: type[float] = float) -> Solid:
        return Move(Extrude(profile([circle(x, kind(x), 6)]), kind(high)), at(kind(x), x, 0))

    one = standoff(12.5, 8.0)
    assert standoff(float("12.5"), float("8")).digest == one.digest
    names = {standoff(x, h).digest for x, h in ((12.5, 8.0), (12.5, np.nextafter(8.0, 9)), (12.5 + 2**-19, 8.0))}
    assert len(names) == 3 and one.digest in names
    # one object in two places says the same as two that are equal
    x, y = float("12.5"), float("12.5")
    same = [Profile((((x, at_y, 0.0), (20.0, 0.0, 0.0), (0.0, 20.0, 0.0)),)) for at_y in (x, y)]
    assert x is not y and same[0].digest == same[1].digest
    # numbers of numpy, which come of measuring, are taken all the same, and told from one another
    measured = {standoff(12.5, h, np.float64).digest for h in (8.0, 8.1)}
    assert len(measured) == 2


def test_a_mesh_is_named_by_what_it_is() -> None:
    m = mk.Manifold.cube((10.0, 20.0, 30.0))
    name = meshes.keep(*mk.triangles(m))
    assert name == meshes.keep(*mk.triangles(m)) and len(name) == 32
    body = Difference(Meshed(name), (block(Box((5, -1, -1), (11, 21, 31))),))
    mesh, brep = both(body)
    assert mesh == pytest.approx(5 * 20 * 30) and brep == pytest.approx(5 * 20 * 30)
    with pytest.raises(DesignError, match="not at hand"):
        mk.evaluate(Meshed("0" * 32))
    verts, tri = mk.triangles(m)
    with pytest.raises(DesignError, match="does not close"):
        mk.evaluate(Meshed(meshes.keep(verts, tri[:-1])))


@settings(max_examples=examples(60))
@given(axes, angles, st.tuples(*[st.floats(-50, 50)] * 3))
def test_frames_turn_as_the_reference_library_does(
    axis: tuple[float, float, float], degrees: float, origin: tuple[float, float, float]
) -> None:
    """scipy.spatial.transform.Rotation from a rotation vector."""
    f = rotated(origin, axis, degrees)
    n = np.array(axis) / np.linalg.norm(axis)
    want = Rotation.from_rotvec(n * radians(degrees)).as_matrix()
    assert np.allclose(np.array([f.x, f.y, f.z]).T, want, atol=1e-12)
    p = (3.0, -7.0, 11.0)
    assert np.allclose(f.point(p), want @ np.array(p) + np.array(origin))
    assert np.allclose(f.local(f.point(p)), p)
    g = rotated((1, 2, 3), (0, 1, 1), 30)
    assert np.allclose(f.then(g).point(p), f.point(g.point(p)))


@settings(max_examples=examples(40))
@given(axes, angles)
def test_a_moved_solid_lies_where_its_frame_says(axis: tuple[float, float, float], degrees: float) -> None:
    f = rotated((5, -3, 2), axis, degrees)
    m = mk.evaluate(Move(CUBE, f))
    assert m.volume() == pytest.approx(6000, rel=1e-9)
    told = f.box(Box((0, 0, 0), (10, 20, 30)))
    assert np.allclose(m.bounding_box(), (*told.lo, *told.hi), atol=1e-6)


def test_both_kernels_move_alike() -> None:
    tilted = Move(CUBE, rotated((0, 0, 0), (1, 2, 3), 37))
    ends = mk.evaluate(tilted).bounding_box()
    mesh, brep = both(tilted)
    assert isclose(mesh, 6000, rel_tol=1e-9) and isclose(brep, 6000, rel_tol=1e-9)
    # a corner worked by hand through the cosine: the image of (10, 0, 0) about z alone
    f = rotated((0, 0, 0), (0, 0, 1), 30)
    assert f.point((10, 0, 0)) == pytest.approx((10 * cos(radians(30)), 10 * sin(radians(30)), 0))
    assert ends[3] - ends[0] > 10


def test_quarter_turns_stay_exact_and_an_axis_needs_a_direction() -> None:
    assert rotated((0, 0, 0), (0, 0, 1), 90) == Frame((0, 0, 0), (0, 1, 0), (-1, 0, 0), (0, 0, 1))
    assert rotated((0, 0, 0), (0, 0, 1), -270) == Frame((0, 0, 0), (0, 1, 0), (-1, 0, 0), (0, 0, 1))
    with pytest.raises(ValueError, match="direction"):
        rotated((0, 0, 0), (0, 0, 0), 10)


@given(st.floats(0.2, 200), st.floats(0.001, 0.1))
def test_chords_keep_their_tolerance(radius: float, tol: float) -> None:
    # sagitta of a chord, r (1 - cos(pi / n))
    assert radius * (1 - cos(pi / segments(radius, tol))) <= max(tol, radius * (1 - cos(pi / 12))) + 1e-12
    assert segments(radius, tol) % 4 == 0


def test_the_centre_of_gravity_by_hand() -> None:
    """Two blocks of 10 x 20 x 30 and 10 x 20 x 10 side by side: their middles weighed by 6,000 and 2,000 mm3."""
    tall = Extrude(profile([rect(0, 0, 10, 20)]), 30.0)
    low = Move(Extrude(profile([rect(0, 0, 10, 20)]), 10.0), at(10.0, 0.0, 0.0))
    volume, centre = mk.centre(Union((tall, low)))
    assert volume == pytest.approx(8000)
    assert centre == pytest.approx(((5 * 6000 + 15 * 2000) / 8000, 10.0, (15 * 6000 + 5 * 2000) / 8000))
    tube = Extrude(profile([circle(3, 4, 10)], [circle(3, 4, 8)]), 12.0)
    assert mk.centre(tube)[1] == pytest.approx((3.0, 4.0, 6.0), abs=1e-6)


@given(st.floats(0.5, 400), st.sampled_from([0.05, 0.02]))
def test_a_circle_is_a_polygon_of_its_own_area(d: float, tol: float) -> None:
    """Its corners lie outside and its sides inside, both nearer than the chord error; a hole as a hole does."""
    for loop in (circle(3, -2, d), reverse(circle(3, -2, d))):
        p = np.array(loop_points(loop, tol))
        area = (p[:, 0] * np.roll(p[:, 1], -1) - p[:, 1] * np.roll(p[:, 0], -1)).sum() / 2
        r = snap(d / 2)
        assert abs(area) == pytest.approx(pi * r * r, rel=1e-9) and (area > 0) == (loop[0][2] > 0)
        most = max(tol, r * (1 - cos(pi / 12)))
        middles = (p + np.roll(p, -1, axis=0)) / 2
        far, near = np.hypot(*(p - (3, -2)).T), np.hypot(*(middles - (3, -2)).T)
        assert (far - r < most).all() and (r - near < most).all()


def test_the_outline_of_a_section_is_that_of_the_library() -> None:
    """Area by the segments alone (Green's theorem) and the box round them, against the polygons of manifold3d, of parts with vents, bosses and ports."""
    a = analyse(read_good_wren(), ARCHIVE_WORKSHOP, "none")
    for recipe in a.recipes.values():
        box = mk.evaluate(recipe).bounding_box()
        for k, axis in enumerate("xyz"):
            for share in (0.013, 0.37, 0.5, 0.81):
                at = box[k] + share * (box[k + 3] - box[k])
                (x0, y0), (x1, y1) = (ends.T for ends in np.moveaxis(crossings(recipe, k, at), 1, 0))
                area = float((x0 * y1 - x1 * y0).sum()) / 2
                assert abs(area) == pytest.approx(section_mm2(recipe, axis, at), rel=1e-4)  # type: ignore[arg-type]
                loops = np.concatenate([np.array(x) for x in section(recipe, axis, at)])  # type: ignore[arg-type]
                assert [x0.min(), x0.max()] == pytest.approx([loops[:, 0].min(), loops[:, 0].max()], abs=0.02)
    v, tri = mk.triangles(mk.evaluate(recipe))
    whole = trimesh.Trimesh(v, tri, process=False)
    volume, centre = mk.centre(recipe)
    assert volume == pytest.approx(whole.volume) and centre == pytest.approx(tuple(whole.center_mass))
