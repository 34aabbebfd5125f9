"""Whatever is printed: properties that hold for any panel, process, printer and file of moves."""

from __future__ import annotations

import io
import math
from typing import Any, get_args

import manifold3d as m3
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from rhombex.core.apply import apply
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Direction, FilamentKind, InfillKind, Panel, Process, Shell, read_process
from rhombex.core.edits import PutPanel, read_edit
from rhombex.core.exchange.gcode import GcodeReport, read_gcode
from rhombex.core.fit.laying import laid
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import Difference, block
from rhombex.core.plain import DesignError
from rhombex.core.process import simulate
from rhombex.core.process.estimate import of_mesh
from rhombex.core.process.islands import flat_loops
from rhombex.core.process.layout import hatch, lay_out, outer_loops
from rhombex.core.process.pace import pace_of
from rhombex.core.process.presets import presets
from rhombex.core.process.settings import Kind, flow_cap
from rhombex.core.process.settings import settings as resolve
from rhombex.core.process.slices import Slices
from rhombex.core.process.stiffness import Plate, bending
from rhombex.core.shell.panels import panel_recipe
from rhombex.core.space import Box
from rhombex.core.workshop.paced import PacedPrint
from rhombex.core.workshop.printer import Printer, read_printer
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples

BENCH = ARCHIVE_WORKSHOP.printers[1]
M, CS = m3.Manifold, m3.CrossSection

processes = st.builds(
    Process,
    filament=st.sampled_from(get_args(FilamentKind)),
    layer_mm=st.sampled_from([0.12, 0.2, 0.28]),
    first_layer_mm=st.sampled_from([None, 0.2, 0.3]),
    perimeters=st.integers(1, 5),
    top_layers=st.integers(0, 6),
    bottom_layers=st.integers(0, 6),
    infill=st.floats(0, 1),
    infill_kind=st.sampled_from(get_args(InfillKind)),
    brim_mm=st.floats(0, 8),
    brim_inside=st.booleans(),
    supports=st.booleans(),
    layer_min_s=st.floats(0, 20),
)
printers = st.builds(
    Printer,
    key=st.just("p"),
    name=st.just("P"),
    bed_mm=st.just((220.0, 220.0, 250.0)),
    nozzle_mm=st.sampled_from([0.25, 0.4, 0.6, 0.8]),
    enclosed=st.booleans(),
    speed_mm_s=st.floats(20, 400),
    accel_mm_s2=st.floats(200, 8000),
    corner_mm_s=st.floats(1, 20),
    flow_mm3_s=st.floats(3, 40),
)


@st.composite
def solids(draw: st.DrawFn) -> m3.Manifold:
    """A block with a few boxes and cylinders added and taken away: never empty."""
    m = M.cube((draw(st.floats(15, 60)), draw(st.floats(15, 50)), draw(st.floats(2, 14))))
    for _ in range(draw(st.integers(0, 4))):
        at = (draw(st.floats(0, 40)), draw(st.floats(0, 30)), draw(st.floats(0, 8)))
        made = draw(
            st.sampled_from(
                [M.cube((12, 9, 7)), M.cylinder(9, 5, 3, 24), M.cylinder(30, 2, 2, 16).translate((0, 0, -10))]
            )
        ).translate(at)
        m = m + made if draw(st.booleans()) else m - made
    m = m ^ M.cube((100, 100, 100))
    assume(not m.is_empty())
    whole = max(m.decompose(), key=lambda q: q.volume())
    assume(whole.volume() > 100)
    return whole


@given(solids(), processes, printers)
@settings(max_examples=examples(60))
def test_any_print_is_finite_and_holds_its_lower_bound(m: m3.Manifold, process: Process, printer: Printer) -> None:
    """No faster than its flow, no lighter than nothing, no NaN at any level."""
    slices = Slices(m, resolve(process, printer))
    for level in (simulate.preview, simulate.settled, simulate.exact):
        rows = level(slices)
        assert np.isfinite(rows).all() and (rows >= -1e-9).all()
        seconds, mm3 = simulate.layer_seconds(slices.s, rows), simulate.layer_mm3(slices, rows)
        assert seconds.sum() >= mm3.sum() / slices.s.flow - 1e-6


@given(solids(), processes)
@settings(max_examples=examples(50))
def test_settled_stays_near_exact_on_any_solid(m: m3.Manifold, process: Process) -> None:
    slices = Slices(m, resolve(process, BENCH))
    exact, near = simulate.exact(slices), simulate.settled(slices)
    time = simulate.layer_seconds(slices.s, exact).sum()
    assert simulate.layer_seconds(slices.s, near).sum() == pytest.approx(time, rel=0.03, abs=20)
    mass = simulate.layer_mm3(slices, exact).sum()
    assert simulate.layer_mm3(slices, near).sum() == pytest.approx(mass, rel=0.015, abs=20)


@given(solids(), st.sampled_from([0.12, 0.2, 0.3]))
@settings(max_examples=examples(60))
def test_layers_of_one_run_have_one_section(m: m3.Manifold, layer: float) -> None:
    slices = Slices(m, resolve(Process(layer_mm=layer), BENCH))
    for j in range(1, slices.n):
        if slices.run[j] == slices.run[j - 1]:
            a, b = slices.mesh.slice(float(slices.z[j]) + 1e-6), slices.mesh.slice(float(slices.z[j - 1]) + 1e-6)
            assert a.area() == pytest.approx(b.area(), abs=1e-6)
            assert (a - b).area() < 1e-6


@given(solids(), processes)
@settings(max_examples=examples(40))
def test_no_path_leaves_the_part_and_its_brim(m: m3.Manifold, process: Process) -> None:
    slices = Slices(m, resolve(process.model_copy(update={"supports": False}), BENCH))
    for j in (0, slices.n // 2):
        paths = lay_out(slices, j)
        reach = process.brim_mm + 1.0 if j == 0 else 0.01
        room = slices.section(j).offset(reach, m3.JoinType.Miter, 2.0)
        for k in range(len(paths)):
            if paths.linked[k]:
                continue
            points = paths.points[paths.start[k] : paths.start[k + 1]]
            x0, y0, x1, y1 = room.bounds()
            assert (points[:, 0] >= x0 - 1e-6).all() and (points[:, 0] <= x1 + 1e-6).all()
            assert (points[:, 1] >= y0 - 1e-6).all() and (points[:, 1] <= y1 + 1e-6).all()
        assert paths.start[-1] == len(paths.points)
        assert set(paths.kind.tolist()) <= {int(k) for k in Kind}


@given(st.integers(0, 10**6), st.floats(0.4, 4), st.floats(0, 180))
@settings(max_examples=examples(60))
def test_every_hatch_line_lies_inside(seed: int, spacing: float, deg: float) -> None:
    r = np.random.default_rng(seed)
    region = CS.square((50, 40))
    for _ in range(3):
        region = region - CS.circle(float(r.uniform(2, 8)), 20).translate(tuple(r.uniform((5, 5), (45, 35))))
    points, counts = hatch(region, spacing, deg)
    assert counts.sum() == len(points) and (counts % 2 == 0).all()
    middles = points.reshape(-1, 2, 2).mean(axis=1)
    hair = 1e-4
    for x, y in middles[:: max(1, len(middles) // 25)]:
        dot = CS.square((2 * hair, 2 * hair)).translate((x - hair, y - hair))
        assert (dot ^ region).area() == pytest.approx(4 * hair * hair, rel=0.6)


@given(processes, printers)
def test_speeds_stay_under_every_cap(process: Process, printer: Printer) -> None:
    s = resolve(process, printer)
    cap = flow_cap(process, printer)
    for v in (*s.speed[:7], *s.first_speed[:7]):
        assert 0.5 <= v <= max(printer.speed_mm_s, 0.5) + 1e-9
    for v in s.speed[:7]:
        assert v <= 0.5 or v * s.bead_mm2(False) <= cap * (1 + 1e-9)
    assert cap <= printer.flow_mm3_s + 1e-9


@given(printers, processes)
def test_every_purpose_is_a_process(printer: Printer, process: Process) -> None:
    for p in presets(process, printer):
        made = Process.model_validate(process.model_dump() | p.change)
        assert made.layer_mm <= 0.75 * printer.nozzle_mm + 0.006 and p.why


@given(st.floats(1, 20), st.floats(0, 1), st.integers(1, 6), st.sampled_from(["lying", "standing"]))
def test_no_fill_is_stiffer_than_solid(thick: float, infill: float, n: int, pose: Any) -> None:
    plate = Plate(name="x", thick_mm=thick, pose=pose)
    process = Process(infill=infill, perimeters=n, top_layers=n, bottom_layers=n)
    full = bending(plate, process.model_copy(update={"infill": 1.0}), BENCH)
    some = bending(plate, process, BENCH)
    assert 0 < some[0] <= full[0] * (1 + 1e-9) and 0 < some[1] <= full[1] * (1 + 1e-9)


@given(st.lists(st.floats(0.5, 2), min_size=0, max_size=30))
def test_pace_lies_within_its_interval(ratios: list[float]) -> None:
    p = BENCH.model_copy(update={"paced": tuple(PacedPrint(what="x", planned_s=100, real_s=100 * r) for r in ratios)})
    pace = pace_of(p)
    assert 0 < pace.low < pace.factor < pace.high
    if ratios:
        assert min(ratios) - 1e-9 <= pace.factor <= max(ratios) + 1e-9


panels = st.builds(
    Panel,
    id=st.just("p"),
    name=st.just("P"),
    size_mm=st.tuples(st.floats(20, 280), st.floats(20, 280)),
    thick_mm=st.floats(0.8, 8),
    corner_mm=st.floats(0, 9),
    vent_d_mm=st.sampled_from([0.0, 3.0, 5.5]),
    vent_pitch_mm=st.floats(7, 20),
    margin_mm=st.floats(2, 30),
)


@given(panels)
@settings(max_examples=examples(60))
def test_any_panel_is_a_sound_part(panel: Panel) -> None:
    start = Design(name="x", shell=Shell(inner_mm=(120, 90, 40), construction=TwoHalves(joint_mm=32)))
    try:
        apply(start, PutPanel(panel=panel))
    except DesignError as e:
        assert "panels.p" in e.field and e.do
        return
    m = mk.evaluate(panel_recipe(panel))
    assert mk.watertight(m) and mk.bodies(m) == 1
    b = m.bounding_box()
    assert b[3:] == pytest.approx((*panel.size_mm, panel.thick_mm), abs=1e-4)


@given(st.sampled_from(get_args(Direction)), st.floats(5, 60), st.floats(5, 60), st.floats(5, 60))
@settings(max_examples=examples(40))
def test_a_turn_keeps_volume_and_lands_in_the_corner(down: Direction, w: float, d: float, h: float) -> None:
    part = Difference(block(Box((0, 0, 0), (w, d, h))), (block(Box((1, 1, 1), (w / 2, d / 2, h + 1))),))
    m = mk.evaluate(laid(part, down))
    assert m.volume() == pytest.approx(mk.evaluate(part).volume(), rel=1e-6)
    assert m.bounding_box()[:3] == pytest.approx((0, 0, 0), abs=1e-5)


# G-code


def read(lines: list[str]) -> GcodeReport:
    return read_gcode(io.BytesIO("\n".join(["G90", "M83", *lines]).encode()), BENCH)


points = st.lists(st.tuples(st.integers(0, 200), st.integers(0, 200)), min_size=2, max_size=40)


@given(points, st.integers(600, 9000))
@settings(max_examples=examples(60))
def test_time_and_filament_do_not_depend_on_where_it_is_printed(path: list[tuple[int, int]], feed: int) -> None:
    def lines(dx: int) -> list[str]:
        return [f"G1 X{x + dx} Y{y} E0.5 F{feed}" for x, y in path]

    # the way to the first point differs; from there on all is the same
    a, b = read(lines(0)), read(lines(10))
    first_a, first_b = read(lines(0)[:1]), read(lines(10)[:1])
    way = abs(math.hypot(*path[0]) - math.hypot(path[0][0] + 10, path[0][1]))
    assert abs(a.motion_s - b.motion_s) <= way / (feed / 60) + 0.3
    assert a.filament_m == b.filament_m and first_a.moves == first_b.moves


@given(points, st.integers(600, 4000))
@settings(max_examples=examples(60))
def test_a_faster_feed_is_never_slower_and_never_lighter(path: list[tuple[int, int]], feed: int) -> None:
    slow = read([f"G1 X{x} Y{y} E0.5 F{feed}" for x, y in path])
    fast = read([f"G1 X{x} Y{y} E0.5 F{2 * feed}" for x, y in path])
    assert fast.motion_s <= slow.motion_s + 1e-3
    assert fast.filament_m == slow.filament_m and fast.moves == slow.moves


@given(st.integers(2, 200))
def test_a_straight_line_in_pieces_takes_its_time(n: int) -> None:
    whole = read(["G1 X1 F3000", "G1 X181 E9"])
    parts = read(["G1 X1 F3000", *(f"G1 X{1 + 180 * (k + 1) / n:.6f} E{9 / n:.6f}" for k in range(n))])
    assert parts.motion_s == pytest.approx(whole.motion_s, rel=1e-3)
    assert parts.filament_m == pytest.approx(whole.filament_m, abs=1e-4)


@given(st.text(max_size=60))
@settings(max_examples=examples(200))
def test_any_text_is_read_or_refused_by_line(text: str) -> None:
    try:
        found = read([text])
    except DesignError as e:
        assert e.field.startswith("line ") and e.message and e.do
    else:
        assert math.isfinite(found.time_s) and found.lines >= 2


# plain data in


@given(
    st.dictionaries(
        st.sampled_from(sorted(Process.model_fields)),
        st.one_of(st.none(), st.floats(), st.text(max_size=5)),
        min_size=1,
    )
)
def test_any_process_is_read_or_refused_by_field(data: dict[str, Any]) -> None:
    try:
        made = read_process(data)
    except DesignError as e:
        assert e.field.startswith("process.") and e.message
    else:
        assert made.layer_mm >= 0.05


@given(
    st.dictionaries(
        st.sampled_from(sorted(Printer.model_fields)), st.one_of(st.none(), st.floats(), st.text(max_size=5))
    )
)
def test_any_printer_is_read_or_refused_by_field(data: dict[str, Any]) -> None:
    base = BENCH.model_dump()
    try:
        made = read_printer(base | data)
    except DesignError as e:
        assert e.field.startswith("printer.") and e.message
    else:
        assert made.nozzle_mm >= 0.1


@pytest.mark.parametrize(
    "edit",
    [
        {"do": "print-part", "part": "lid", "process": {"layer_mm": 9}},
        {"do": "lay-part", "part": "lid", "down": "sideways"},
        {"do": "put-panel", "panel": {"id": "p", "name": "P", "size_mm": [0, 3]}},
        {"do": "put-panel", "panel": {"id": "../p", "name": "P", "size_mm": [5, 5]}},
        {"do": "remove-panel"},
    ],
)
def test_bad_edits_of_printing_are_refused(edit: dict[str, Any]) -> None:
    with pytest.raises(DesignError, match=r"edit\."):
        read_edit(edit)


def test_outlines_of_nothing_are_nothing() -> None:
    points_, start = flat_loops(CS())
    assert len(points_) == 0 and start.tolist() == [0]
    assert outer_loops(CS()).is_empty()


def test_a_part_thinner_than_a_line_is_one_narrow_line() -> None:
    """0.2 mm thick standing is one line along its middle, as narrow as that: 60 mm3. Of 0.05 mm no line can be laid."""
    e = of_mesh(M.cube((0.2, 30, 10)), Process(brim_mm=0), BENCH, "exact")
    assert e.deposited_mm3 == pytest.approx(0.2 * 30 * 10, rel=0.03)
    none = of_mesh(M.cube((0.05, 30, 10)), Process(brim_mm=0), BENCH, "exact")
    assert none.deposited_mm3 == 0
    assert none.time_s.value < BENCH.heat_up_s + none.layers * 1.0
