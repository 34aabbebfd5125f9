"""Layers, paths and kinematics against textbook formulas, closed forms and hand calculations."""

from __future__ import annotations

import math

import manifold3d as m3
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from rhombex.core.design import Process
from rhombex.core.process import simulate
from rhombex.core.process.bridges import best_bridge, bridge_span
from rhombex.core.process.kernels import (
    chains,
    corner_cap,
    crossings,
    drive,
    drive_loops,
    junction_speeds,
    nearest_first,
)
from rhombex.core.process.layout import hatch, honeycomb_side, lay_out, work_of
from rhombex.core.process.settings import Kind, Settings
from rhombex.core.process.settings import settings as resolve
from rhombex.core.process.slices import Slices, layer_bounds
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.closed_forms import look_ahead, loops_seconds, segment_seconds

from ..examples import examples

BENCH, WIDE = ARCHIVE_WORKSHOP.printers[1:3]
M, CS = m3.Manifold, m3.CrossSection


def slices(m: m3.Manifold, **changes: object) -> Slices:
    return Slices(m, resolve(Process(**changes), BENCH))  # type: ignore[arg-type]


# kinematics


def test_one_long_move_is_a_trapezoid_of_speed() -> None:
    """Textbook: t = L / v + v / a from rest to rest."""
    _, t = junction_speeds(np.array([100.0]), np.array([50.0]), np.array([1000.0]), np.zeros(2))
    assert t[0] == pytest.approx(100 / 50 + 50 / 1000, abs=1e-12)


def test_one_short_move_is_a_triangle_of_speed() -> None:
    """Textbook: t = 2 sqrt(L / a) where the speed is never reached."""
    _, t = junction_speeds(np.array([1.0]), np.array([500.0]), np.array([1000.0]), np.zeros(2))
    assert t[0] == pytest.approx(2 * math.sqrt(1 / 1000), abs=1e-12)


def test_a_move_agrees_with_stepping_through_it() -> None:
    """Numerical integration of the speed profile: dt = dx / v, v^2 = min(v0^2 + 2 a x, v^2, v1^2 + 2 a (L - x))."""
    length, v, a, v0, v1 = 7.0, 60.0, 900.0, 12.0, 25.0
    x = (np.arange(2_000_000) + 0.5) / 2_000_000 * length
    speed = np.sqrt(np.minimum(np.minimum(v0**2 + 2 * a * x, v1**2 + 2 * a * (length - x)), v**2))
    _, t = junction_speeds(np.array([length]), np.array([v]), np.array([a]), np.array([v0**2, v1**2]))
    assert t[0] == pytest.approx(float((length / 2_000_000 / speed).sum()), rel=1e-5)


moves = st.lists(st.tuples(st.floats(0.01, 60), st.floats(0, 4000)), min_size=1, max_size=60)


@given(moves, st.floats(50, 8000), st.floats(5, 300))
def test_two_engines_agree(segments: list[tuple[float, float]], accel: float, v: float) -> None:
    """The compiled planner (two passes) and the closed form (running minima) on the same moves."""
    length = np.array([s[0] for s in segments])
    cap = np.minimum(np.array([0.0, *(s[1] for s in segments[1:]), 0.0]), v * v)
    speed, a = np.full(len(length), v), np.full(len(length), accel)
    v2, t = junction_speeds(length, speed, a, cap)
    closed = look_ahead(length, cap, accel)
    assert v2 == pytest.approx(closed, abs=1e-6)
    again = segment_seconds(length, speed, closed[:-1], closed[1:], accel)
    assert float(t.sum()) == pytest.approx(float(again.sum()), rel=1e-9)


@given(moves, st.floats(50, 8000), st.floats(5, 300))
def test_no_plan_breaks_a_limit(segments: list[tuple[float, float]], accel: float, v: float) -> None:
    length = np.array([s[0] for s in segments])
    cap = np.minimum(np.array([0.0, *(s[1] for s in segments[1:]), 0.0]), v * v)
    v2, t = junction_speeds(length, np.full(len(length), v), np.full(len(length), accel), cap)
    assert (v2 <= cap + 1e-9).all()
    assert (np.abs(np.diff(v2)) <= 2 * accel * length * (1 + 1e-9) + 1e-9).all()
    assert t.sum() >= length.sum() / v - 1e-9


def test_a_right_angle_is_passed_at_the_corner_speed() -> None:
    """Junction deviation is scaled so that 90 degrees pass at the corner speed; straight on is free, back is a stop."""
    assert corner_cap(0.0, 1500, 8, 1e9) == pytest.approx(64)
    assert corner_cap(1.0, 1500, 8, 1.0) == np.inf
    assert corner_cap(-1.0, 1500, 8, 1.0) == pytest.approx(0, abs=1e-9)


def test_a_fine_circle_is_held_by_its_centripetal_acceleration() -> None:
    """v^2 = a r for a circle; the limit 0.5 L tan(t/2) a of its short chords comes to that."""
    r, n = 10.0, 360
    chord = 2 * r * math.sin(math.pi / n)
    assert corner_cap(math.cos(2 * math.pi / n), 1000, 1e9, chord) == pytest.approx(1000 * r, rel=1e-3)


def test_a_square_slows_at_its_corners() -> None:
    square = np.array([(0.0, 0.0), (40.0, 0.0), (40.0, 40.0), (0.0, 40.0)])
    t, length = drive_loops(square, np.array([0, 4]), 40.0, 1500.0, 8.0)
    a, v, c = 1500.0, 40.0, 8.0
    by_hand = 160 / v + 2 * v / (2 * a) + 6 * (v - c) ** 2 / (2 * a * v)
    assert length == pytest.approx(160)
    assert t == pytest.approx(by_hand, rel=1e-6)
    assert t == pytest.approx(float(loops_seconds([square], [40.0], a, c)[1][0]), rel=1e-9)


def test_an_arc_is_as_long_as_its_angle_says() -> None:
    """By length: a half circle of r 20 is 62.83 mm; chords of 2 degrees lose 0.005 %."""
    angle = np.radians(np.arange(0, 181, 2))
    arc = np.stack([20 * np.cos(angle), 20 * np.sin(angle)], axis=1)
    speed, accel = np.full(len(Kind), 50.0), np.full(len(Kind), 1e6)
    seconds, mm, _, _, _ = drive(
        arc,
        np.array([0, len(arc)]),
        np.zeros(1, np.int64),
        np.zeros(1, np.int64),
        np.ones(1),
        speed,
        accel,
        1e9,
        1e3,
        7,
        2.0,
        0.1,
    )
    assert mm[0] == pytest.approx(20 * math.pi, rel=1e-4)
    assert seconds[0] == pytest.approx(20 * math.pi / 50, rel=1e-2)


# paths


def test_hatch_lines_over_a_square_by_hand() -> None:
    """20 x 20 at a spacing of 1: lines at 0.5, 1.5 ... 19.5, each 20 long; back and forth in one chain."""
    points, counts = hatch(CS.square((20, 20)), 1.0, 0.0)
    assert counts.tolist() == [40]
    assert sorted({round(float(y), 6) for y in points[:, 1]}) == [k + 0.5 for k in range(20)]
    stretches = points.reshape(-1, 2, 2)
    assert np.abs(stretches[:, 1, 0] - stretches[:, 0, 0]).sum() == pytest.approx(400)


@given(st.integers(0, 10**6), st.floats(0.3, 3), st.sampled_from([0.0, 45.0, 135.0, 60.0]))
@settings(max_examples=examples(60))
def test_hatch_covers_area_over_spacing(seed: int, spacing: float, deg: float) -> None:
    r = np.random.default_rng(seed)
    region = CS.square((60, 40))
    for _ in range(4):
        region = region - CS.circle(float(r.uniform(2, 9)), 24).translate(tuple(r.uniform((5, 5), (55, 35))))
    points, _ = hatch(region, spacing, deg)
    stretches = points.reshape(-1, 2, 2)
    length = np.hypot(*(stretches[:, 1] - stretches[:, 0]).T).sum()
    assert length * spacing == pytest.approx(region.area(), rel=0.03, abs=40 * spacing)


def test_lines_meet_every_loop_an_even_number_of_times() -> None:
    points = np.array([(0.0, 0.5), (4.0, 0.5), (4.0, 2.5), (2.0, 1.5), (0.0, 2.5)])  # vertices on the lines
    line, x = crossings(points, np.array([0, 5]), 1.0, 0.5)
    assert len(line) % 2 == 0
    assert all(np.count_nonzero(line == k) % 2 == 0 for k in set(line.tolist()))
    assert (x >= 0).all() and (x <= 4).all()


def test_chains_use_every_stretch_once() -> None:
    line = np.array([0, 0, 1, 1, 2])
    a, b = np.array([0.0, 6.0, 0.0, 6.0, 0.0]), np.array([4.0, 10.0, 4.0, 10.0, 10.0])
    points, begins = chains(line, a, b, 1.0, 0.5, 4.0)
    assert len(points) == 10
    assert np.diff(begins).sum() == 10
    order, back = nearest_first(points[begins[:-1]], points[begins[1:] - 1], np.ones(len(begins) - 1, np.bool_))
    assert order.tolist()[0] == 0 and not back[0]


def test_a_honeycomb_is_as_much_line_as_its_share_says() -> None:
    """3 sqrt 3 / 2 a^2 is the area of a hexagon; with doubled uprights each cell has 4 a of line less the gap."""
    s = resolve(Process(infill=0.2, infill_kind="honeycomb", top_layers=0, bottom_layers=0, brim_mm=0), BENCH)
    block = Slices(M.cube((120, 100, 2)), s)
    work, _ = work_of(lay_out(block, 3), s, False)
    inside = (120 - 2 * 3 * s.spacing_mm) * (100 - 2 * 3 * s.spacing_mm)
    assert work.mm[Kind.SPARSE] * s.spacing_mm == pytest.approx(0.2 * inside, rel=0.02)
    assert honeycomb_side(2.0, 0.0) == pytest.approx(8 * 2.0 / (3 * math.sqrt(3)))


@pytest.mark.parametrize("kind", ["lines", "grid", "triangles", "honeycomb"])
def test_every_infill_weighs_its_share(kind: str) -> None:
    s = slices(M.cube((90, 70, 6)), infill=0.25, infill_kind=kind, brim_mm=0)
    mm3 = simulate.layer_mm3(s, simulate.exact(s)).sum(axis=0)
    layers = s.n - 9
    inside = (90 - 6 * s.s.spacing_mm) * (70 - 6 * s.s.spacing_mm) * 0.2 * layers
    assert mm3[Kind.SPARSE] == pytest.approx(0.25 * inside, rel=0.03)


def test_a_solid_block_is_filled_to_its_volume() -> None:
    """Mass balance: at 100 % infill the beads fill the block: 40 x 30 x 20 mm."""
    s = slices(M.cube((40, 30, 20)), infill=1.0, brim_mm=0)
    assert simulate.layer_mm3(s, simulate.exact(s)).sum() == pytest.approx(24000, rel=0.01)


@pytest.mark.parametrize("perimeters", [1, 2, 3, 5])
@pytest.mark.parametrize("wall", [0.5, 0.6, 0.75, 0.9, 1.0, 1.2, 1.28, 1.5, 1.65, 2.0, 2.4, 3.0])
def test_a_thin_wall_is_filled_to_its_volume(wall: float, perimeters: int) -> None:
    """Mass balance: whatever the perimeters and the gaps between them, a wall is as much plastic as it is solid, within 3 %."""
    box = CS.square((50, 30)) - CS.square((50 - 2 * wall, 30 - 2 * wall)).translate((wall, wall))
    tube = (CS.circle(12, 96) - CS.circle(12 - wall, 96)).translate((70, 12))
    s = slices((box + tube).extrude(2), perimeters=perimeters, infill=1.0, brim_mm=0)
    volume = (box.area() + tube.area()) * 2
    assert simulate.layer_mm3(s, simulate.exact(s)).sum() == pytest.approx(volume, rel=0.03)


@pytest.mark.parametrize(
    ("wall", "lines"), [(0.5, 1), (0.6, 1), (0.75, 2), (0.9, 2), (1.2, 3), (1.28, 3), (1.65, 4), (2.05, 5)]
)
def test_a_thin_wall_is_as_many_lines_as_it_has_room_for(wall: float, lines: int) -> None:
    """By hand: the middle lines of a square frame of 50 x 30 with such walls are 160 - 4 walls long, each line beside it
    as much longer outside as shorter inside."""
    frame = CS.square((50, 30)) - CS.square((50 - 2 * wall, 30 - 2 * wall)).translate((wall, wall))
    paths = lay_out(slices(frame.extrude(2), perimeters=5, brim_mm=0), 4)
    steps = np.hypot(*np.diff(paths.points, axis=0).T)
    steps[paths.start[1:-1] - 1] = 0.0
    assert steps.sum() == pytest.approx(lines * (160 - 4 * wall), rel=0.01)


def test_a_wide_line_goes_no_faster_than_the_hot_end_melts() -> None:
    """A line 1.33 times as wide as a full bead, held by flow: 1 / 1.33 of the speed."""
    line = np.array([(0.0, 0.0), (300.0, 0.0)])
    speed, accel = np.full(len(Kind), 90.0), np.full(len(Kind), 1e7)

    def seconds(flow: float) -> tuple[float, float]:
        kinds = np.zeros(1, np.int64)
        t, mm, *_ = drive(line, np.array([0, 2]), kinds, kinds, np.array([flow]), speed, accel, 100.0, 8.0, 7, 2.0, 0.1)
        return float(t[0]), float(mm[0])

    assert seconds(1.0) == pytest.approx((300 / 90, 300.0), rel=1e-3)
    assert seconds(4 / 3) == pytest.approx((300 / 75, 400.0), rel=1e-3)


def test_a_path_begins_at_its_nearer_end() -> None:
    """Three strokes one over another, all drawn to the right: the middle one is laid to the left."""
    begin, end = np.array([(0.0, 0.0), (0.0, 1.0), (0.0, 2.0)]), np.array([(9.0, 0.0), (9.0, 1.0), (9.0, 2.0)])
    order, back = nearest_first(begin, end, np.ones(3, np.bool_))
    assert order.tolist() == [0, 1, 2] and back.tolist() == [False, True, False]
    order, back = nearest_first(begin, end, np.zeros(3, np.bool_))
    assert not back.any()


@given(st.integers(0, 2**32 - 1), st.integers(1, 90), st.sampled_from([0.0, 0.4, 5.0]), st.booleans())
def test_the_nearest_of_many_is_the_one_that_a_look_at_all_of_them_finds(
    seed: int, n: int, length: float, in_line: bool
) -> None:
    """Whole millimetres, so that many lie as far: the first in the list is taken then. In one line the grid is a single row."""
    rng = np.random.default_rng(seed)
    begin = rng.integers(0, 25, (n, 2)).astype(float)
    end = np.round(begin + rng.normal(0, length, (n, 2))) if length else begin.copy()
    if in_line:
        begin[:, 1] = end[:, 1] = 3.0
    either = rng.random(n) < 0.5
    order, back = nearest_first(begin, end, either)
    at, left = begin[0], set(range(n))
    for k in range(n):
        far = {(float(np.sum((begin[i] - at) ** 2)), i, False) for i in left}
        far |= {(float(np.sum((end[i] - at) ** 2)), i, True) for i in left if either[i]}
        _, i, turned = min(far)
        assert (order[k], back[k]) == (i, turned)
        left.remove(i)
        at = begin[i] if turned else end[i]


def test_lines_joined_along_the_wall_are_as_much_plastic() -> None:
    """A solid plate is filled to its volume either way; joined it is one line a layer where else each line is begun anew."""
    plate = M.cube((40, 30, 2))
    told = {}
    for joined in (False, True):
        s = slices(plate, infill=1.0, brim_mm=0, lines_joined=joined)
        told[joined] = simulate.layer_mm3(s, simulate.exact(s)).sum()
        paths = lay_out(s, 4)
        solid = paths.kind == Kind.SOLID
        assert set(paths.linked[solid].tolist()) == {0 if joined else 1}
    assert told[True] == pytest.approx(told[False], rel=0.005)
    assert told[True] == pytest.approx(2400, rel=0.015)


def test_layers_are_a_whole_number() -> None:
    """3 mm at 0.4 are 7 or 8 layers, never 7.5; a first layer of its own height is one of them."""
    assert len(layer_bounds(3.0, 0.4, 0.4)) - 1 in (7, 8)
    assert layer_bounds(10.0, 0.3, 0.2)[1] == pytest.approx(0.3)
    assert len(layer_bounds(0.05, 0.2, 0.2)) == 2


def test_only_changed_sections_are_new() -> None:
    """A tray: floor, then walls: two runs; a cone changes in every layer."""
    tray = slices(M.cube((60, 50, 20)) - M.cube((54, 44, 20)).translate((3, 3, 3)))
    assert len(set(tray.run.tolist())) == 2
    cone = slices(M.cylinder(10, 20, 5, 60))
    assert len(set(cone.run.tolist())) == cone.n


def test_equal_layers_have_equal_paths() -> None:
    """What `alike` calls alike is laid out alike, layer by layer."""
    s = slices(
        M.cube((60, 50, 20))
        - M.cube((54, 44, 20)).translate((3, 3, 3))
        + M.cylinder(9, 4, 4, 24).translate((20, 20, 1))
    )
    rows: dict[object, np.ndarray] = {}
    for j in range(s.n):
        row = simulate.exact_row(s, j)
        assert row == pytest.approx(rows.setdefault(s.alike(j), row), rel=1e-6, abs=1e-6)


def test_a_fast_layer_waits() -> None:
    """max(t, min(t_min, L / v_min + fixed)): a small layer waits for the least layer time, but not below 10 mm/s."""
    s = slices(M.cube((8, 8, 10)), brim_mm=0, layer_min_s=9.0)
    layers = simulate.layer_seconds(s.s, simulate.exact(s))
    rows = simulate.exact(s)
    j = s.n // 2
    floor = min(9.0, rows[j, simulate.K : 2 * simulate.K].sum() / 10 + layers[j, Kind.TRAVEL])
    assert layers[j].sum() == pytest.approx(max(floor, layers[j, : Kind.WAIT].sum()))
    assert layers[j, Kind.WAIT] > 0


# supports


def test_support_under_a_table() -> None:
    """By hand: a slab of 80 x 60 on a web 10 wide, 40 high: (80 - 10) x 60 x 40 mm3 stand under it."""
    table = M.cube((80, 60, 4)).translate((0, 0, 40)) + M.cube((10, 60, 40)).translate((35, 0, 0))
    for layer in (0.1, 0.2, 0.28):
        assert slices(table, supports=True, layer_mm=layer).support_mm3() == pytest.approx(70 * 60 * 40, rel=0.02)


ROUND = {
    # bodies of revolution and a vault: room under the surface where it leans out more than 45 degrees
    "ball": (
        lambda: M.sphere(30, 180),
        lambda: quad(lambda r: 2 * math.pi * r * (30 - math.sqrt(900 - r * r)), 0, 30 / 2**0.5)[0],
    ),
    "dome in a block": (
        lambda: M.cube((90, 90, 46)) - M.sphere(40, 160).translate((45, 45, 0)),
        lambda: quad(lambda r: 2 * math.pi * r * math.sqrt(1600 - r * r), 0, 40 / 2**0.5)[0],
    ),
    "vault": (
        lambda: M.cube((60, 80, 40)) - M.cylinder(100, 25, 25, 180).rotate((0, 90, 0)).translate((-10, 40, 0)),
        lambda: 60 * 2 * quad(lambda y: math.sqrt(625 - y * y), 0, 25 / 2**0.5)[0],
    ),
}


@pytest.mark.parametrize("name", ROUND)
@pytest.mark.parametrize("layer", [0.1, 0.2, 0.3])
def test_support_under_round_bodies(name: str, layer: float) -> None:
    """Numerical integrals of the room under each surface beyond 45 degrees (scipy's quad)."""
    body, room = ROUND[name]
    assert slices(body(), supports=True, layer_mm=layer).support_mm3() == pytest.approx(room(), rel=0.05)


def test_a_short_bridge_needs_no_support_and_a_long_one_does() -> None:
    def gate(gap: float) -> m3.Manifold:
        return M.cube((gap + 20, 20, 30)) - M.cube((gap, 30, 20)).translate((10, -5, 0))

    assert slices(gate(15), supports=True).support_mm3() == 0
    assert slices(gate(40), supports=True).support_mm3() == pytest.approx(40 * 20 * 20, rel=0.02)


def test_span_of_a_bridge_and_of_a_cantilever() -> None:
    below = CS.square((10, 20)) + CS.square((10, 20)).translate((26, 0))
    across = CS.square((16, 20)).translate((10, 0))
    assert bridge_span(across, below) == pytest.approx(16, abs=0.2)
    assert bridge_span(across, CS.square((10, 20))) == math.inf


@pytest.mark.parametrize("wall", [3.0, 8.0])
@pytest.mark.parametrize("gap", [9.0, 30.0, 60.0, 100.0])
def test_an_opening_in_a_thin_wall_spans_its_width(wall: float, gap: float) -> None:
    """The lines of its upper edge run along it: a gap of 30 is a bridge of 30 however thin the wall is. By hand: gap x wall x 20
    stand under it where it is longer than is clean."""
    frame = M.cube((gap + 20, wall, 30)) - M.cube((gap, wall + 2, 20)).translate((10, -1, 0))
    room = gap * wall * 20 if gap > 20 else 0.0
    assert slices(frame, supports=True).support_mm3() == pytest.approx(room, rel=0.02)
    below = CS.square((10, wall)) + CS.square((10, wall)).translate((10 + gap, 0))
    strip = CS.square((gap, wall)).translate((10, 0))
    assert best_bridge(strip, below) == (pytest.approx(gap, abs=0.1), 0.0)
    turned = best_bridge(strip.rotate(40), below.rotate(40))
    assert turned == (pytest.approx(gap, abs=0.1), pytest.approx(40, abs=0.2))


def test_the_step_round_a_screws_head_is_no_bridge_to_support() -> None:
    plate = M.cube((20, 20, 6)) - M.cylinder(3.3, 3.05, 3.05, 64).translate((10, 10, 0))
    plate -= M.cylinder(10, 1.78, 1.78, 64).translate((10, 10, -1))
    assert slices(plate, supports=True).support_mm3() == 0


@pytest.mark.parametrize(("degrees", "room"), [(50.0, 1.0), (60.0, 1.0), (75.0, 1.0), (40.0, 0.0)])
def test_a_face_that_leans_from_the_bed_up_hangs_as_one_that_starts_higher(degrees: float, room: float) -> None:
    """A slab that leans out from the bed: under it stands a wedge of h x h tan / 2 x its width (20 high, 30 wide)."""
    out = 20 * math.tan(math.radians(degrees))
    corners = [(0, 0), (10, 0), (10 + out, 20), (out, 20)]
    slab = M.extrude(CS([corners]), 30).rotate((90, 0, 0))
    by_hand = room * 20 * out / 2 * 30
    assert slices(slab, supports=True).support_mm3() == pytest.approx(by_hand, rel=0.06)


def test_no_level_beats_the_flow() -> None:
    """Lower bound of time: deposited volume over the flow that filament and nozzle bear."""
    for m in (M.cube((60, 40, 10)), M.sphere(15, 64), M.cylinder(40, 6, 6, 32)):
        s = slices(m)
        for level in (simulate.exact, simulate.settled, simulate.preview):
            rows = level(s)
            flow = s.s.flow
            assert simulate.layer_seconds(s.s, rows).sum() > simulate.layer_mm3(s, rows).sum() / flow


def test_caps_of_flow_and_printer_hold() -> None:
    s: Settings = resolve(Process(layer_mm=0.4), WIDE)
    bead = s.bead_mm2(False)
    assert all(v * bead <= s.flow * (1 + 1e-9) for v in s.speed[:7])
    fast = resolve(Process(), BENCH.model_copy(update={"speed_mm_s": 30.0}))
    assert max(fast.speed) <= 30


def test_a_face_in_the_middle_of_a_layer_parts_two_runs() -> None:
    """A step at 3.0 mm in layers of 0.4: the middle of layer 7 is 3.0 exactly, and is taken over the step."""
    s = slices(M.cube((40, 40, 3)) + M.cube((10, 10, 12)), layer_mm=0.4)
    assert s.z[7] == pytest.approx(3.0)
    assert s.run[7] != s.run[6]
    assert s.section(7).area() == pytest.approx(100)
    assert s.section(6).area() == pytest.approx(1600)


def test_a_brim_goes_round_the_foot_or_into_its_holes() -> None:
    """By hand: loops round a 60 x 40 foot, or inside its hole of 20 x 20; inside takes no room on the bed."""
    from rhombex.core.cuts.bed import usable_bed

    part = M.cube((60, 40, 4)) - M.cube((20, 20, 6)).translate((20, 10, -1))
    outside, inside = slices(part, brim_mm=4), slices(part, brim_mm=4, brim_inside=True)
    rounds, space, w = round(4 / outside.s.spacing_mm), outside.s.spacing_mm, outside.s.width_mm
    out_mm = sum(2 * (60 + 40) + 8 * (w / 2 + k * space) for k in range(rounds))
    in_mm = sum(2 * (20 + 20) - 8 * (w / 2 + k * space) for k in range(rounds))
    assert simulate.exact_row(outside, 0)[simulate.K + Kind.BRIM] == pytest.approx(out_mm, rel=1e-3)
    assert simulate.exact_row(inside, 0)[simulate.K + Kind.BRIM] == pytest.approx(in_mm, rel=1e-3)
    assert simulate.preview(inside)[0, simulate.K + Kind.BRIM] == pytest.approx(in_mm, rel=0.1)
    assert usable_bed(Process(brim_mm=4), BENCH)[0] == 220 - 2 * (2 + 4)
    assert usable_bed(Process(brim_mm=4, brim_inside=True), BENCH)[0] == 220 - 2 * 2
