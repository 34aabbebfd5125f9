"""What has no holes is held by its edges: posts beside them, screws whose heads reach over. Measured on the mesh that is printed."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely import Point, Polygon, unary_union

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing
from rhombex.core.case.mounts import Mount
from rhombex.core.concerns import judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, OwnJoint, Placement, Shell
from rhombex.core.edits import MoveWall, PutJoint, Set
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.planes import section
from rhombex.core.parts.component import Component, Solid
from rhombex.core.shell.edges import edge_mm, held_at, held_by_edges, over_mm
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples


def plate(w: float = 50.0, d: float = 40.0, high: float = 1.6, *more: Solid) -> Component:
    """A board without holes, its corner at the origin of its frame."""
    board = Solid(name="board", role="board", lo=(0, 0, 0), hi=(w, d, high), source="drawn here", mark="sample")
    return Component(
        key="own-plate",
        label="Plate",
        family="own component",
        mounting="posts",
        solids=(board, *more),
        heat_w=0.0,
        mass_g=20.0,
        source="drawn here",
        mark="sample",
    )


def block_on(name: str, lo: tuple[float, float, float], hi: tuple[float, float, float]) -> Solid:
    return Solid(name=name, role="body", lo=lo, hi=hi, source="drawn here", mark="sample")


def case_with(c: Component, at: tuple[float, float, float] = (35.0, 35.0, 7.0), inner: float = 120.0) -> Design:
    return Design(
        name="d",
        shell=Shell(inner_mm=(inner, inner, 40.0), construction=TwoHalves(joint_mm=30)),
        custom=(c,),
        placements=(Placement(id="plate", component="own-plate", name="Plate", at_mm=at),),
        printer="bench-220",
    )


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def posts(a: Analysis) -> list[Mount]:
    return [m for m in a.case.mounts if m.of == "plate"]


def thing(a: Analysis) -> Thing:
    return next(t for t in a.things if t.id == "plate")


def test_the_numbers_by_hand() -> None:
    """M3: half of 3.0 and 0.3 beside the edge; a head of 5.5 reaches 2.75 - 1.8 over it."""
    assert edge_mm() == pytest.approx(1.8) and over_mm() == pytest.approx(0.95)


def test_a_post_stands_in_the_middle_of_every_edge() -> None:
    a = looked(case_with(plate()))
    found = posts(a)
    box = thing(a).solids[0].box
    cx, cy = (box.lo[0] + box.hi[0]) / 2, (box.lo[1] + box.hi[1]) / 2
    assert {m.at for m in found} == {
        (box.lo[0] - 1.8, cy),
        (box.hi[0] + 1.8, cy),
        (cx, box.lo[1] - 1.8),
        (cx, box.hi[1] + 1.8),
    }
    for m in found:
        assert (m.top_mm, m.grip_mm, m.step_mm) == pytest.approx((box.lo[2], 1.6, 1.4))
        # an M3 x 5 passes 1.6 and has 3.4 in the insert, one diameter at least
        assert (m.thread, m.screw_mm, m.engagement_mm) == ("M3", 5.0, pytest.approx(3.4))
    assert not [f for f in judge(a) if f.code == "nothing-holds"]


@pytest.mark.parametrize("long, count", [(60.0, 4), (60.1, 6)])
def test_a_long_edge_is_held_twice(long: float, count: int) -> None:
    a = looked(case_with(plate(long, 40.0)))
    assert len(posts(a)) == count
    if count == 6:
        box = thing(a).solids[0].box
        along = sorted(round((m.at[0] - box.lo[0]) / long, 2) for m in posts(a) if m.at[1] < box.lo[1])
        assert along == [0.2, 0.8]


def test_the_printed_post_carries_the_edge_and_rises_beside_it() -> None:
    """Sections through the base: under the plate a ring round the insert's hole; beside it what is left of the ring 0.3 from the edge; over it nothing."""
    a = looked(case_with(plate()))
    box = thing(a).solids[0].box
    m = min(posts(a), key=lambda m: m.at[0])  # the left edge
    r, hole = m.od_mm / 2, m.hole_mm / 2
    near = Point(m.at).buffer(r + 1)

    def area(z: float) -> float:
        loops = sorted((Polygon(x) for x in section(a.recipes["base"], "z", z)), key=lambda p: -p.area)
        out = Polygon()
        for p in loops:
            out = out.difference(p) if out.contains(p.representative_point()) else unary_union([out, p])
        return float(out.intersection(near).area)

    assert area(box.lo[2] - 0.5) == pytest.approx(math.pi * (r * r - hole * hole), rel=2e-3)
    # a circle cut 1.5 beyond its middle, less the hole that is cut there too
    beside = box.lo[0] - 0.3 - m.at[0]
    assert beside == pytest.approx(1.5)

    def left_of(radius: float) -> float:
        return math.pi * radius**2 - radius**2 * math.acos(beside / radius) + beside * math.sqrt(radius**2 - beside**2)

    assert area(box.lo[2] + 0.8) == pytest.approx(left_of(r) - left_of(hole), rel=3e-3)
    assert area(box.hi[2] - 0.1) < 1e-6  # the head lies on the plate first
    assert len(mk.evaluate(a.recipes["base"]).decompose()) == 1


def test_the_base_keeps_off_the_plate_sideways() -> None:
    a = looked(case_with(plate()))
    box = thing(a).solids[0].box
    grown = mk.evaluate(a.recipes["base"], mk.FILE_TOL)
    size = [b - c for b, c in zip(box.hi, box.lo, strict=True)]
    for out, meets in ((0.25, False), (0.35, True)):
        lo = (box.lo[0] - out, box.lo[1] - out, box.lo[2] + 0.01)
        body = mk.Manifold.cube((size[0] + 2 * out, size[1] + 2 * out, size[2])).translate(lo)
        assert ((grown ^ body).volume() > 1e-3) == meets, out


@pytest.mark.parametrize("high, held", [(12.0, True), (12.1, False)])
def test_a_thick_body_is_not_held_over_its_edges(high: float, held: bool) -> None:
    a = looked(case_with(plate(high=high)))
    assert (held_by_edges(thing(a)) is not None) == held and bool(posts(a)) == held
    told = [f for f in judge(a) if f.code == "nothing-holds"]
    if held:
        assert told == [] and posts(a)[0].screw_mm == 16.0  # through 12, with 3 in the insert at least
    else:
        (f,) = told
        assert (f.severity, f.measured, f.limit, f.title) == ("stop", 0.0, 3.0, "Nothing holds Plate")
        assert "at most 12 mm" in f.reason and f.remedies == ()


@pytest.mark.parametrize(
    "lo, hi, side",
    [
        ((-6.0, 18.0, -2.0), (4.0, 22.0, 4.0), "left"),  # reaches over the edge where the post would be
        ((0.2, 0.0, 1.6), (3.0, 40.0, 3.0), "left"),  # on the plate, under the head, all along
        ((46.9, 0.0, -2.0), (49.9, 40.0, 0.0), "right"),  # under the plate, where it would lie on the post
    ],
)
def test_what_is_in_the_way_of_post_or_head_is_kept_off(
    lo: tuple[float, float, float], hi: tuple[float, float, float], side: str
) -> None:
    a = looked(case_with(plate(50.0, 40.0, 1.6, block_on("plug", lo, hi))))
    box = thing(a).solids[0].box
    at = {m.at for m in posts(a)}
    mine = [p for p in at if (p[0] < box.lo[0] if side == "left" else p[0] > box.hi[0])]
    if lo[0] < 0:  # beside it there is room along the edge
        assert len(mine) == 1 and abs(mine[0][1] - 20.0 - box.lo[1]) > 2.0 + posts(a)[0].od_mm / 2 - 1e-6
    else:
        assert mine == []
    assert not [f for f in judge(a) if f.severity == "stop" and "plate" in f.subjects]


def test_places_across_from_one_another_hold() -> None:
    board = Box((0, 0, 0), (50, 40, 1.6))
    left, right, front, back, more = (-1.8, 20.0), (51.8, 20.0), (25.0, -1.8), (25.0, 41.8), (40.0, -1.8)
    assert held_at(board, {left, right, front}) and held_at(board, {front, back, more})
    assert not held_at(board, {left, right})  # it turns about the line between them
    assert not held_at(board, {left, front, more})  # it slides away from them


@pytest.mark.parametrize("to_wall, held", [(6.41, True), (6.39, False)])
def test_a_wall_takes_the_place_of_a_post(to_wall: float, held: bool) -> None:
    """A post of 9.2 stands 1.8 beside the edge: 6.4 from the edge to the wall. Two sides are taken by walls and then one of them is moved out."""
    a = looked(case_with(plate(), at=(to_wall, 2.0, 7.0)))
    f = [f for f in judge(a) if f.code == "nothing-holds"]
    assert (len(posts(a)), f == []) == ((3, True) if held else (2, False))
    if not held:
        assert (f[0].severity, f[0].measured) == ("weigh", 2.0)
        (r,) = f[0].remedies
        assert r.label == "Move the left wall 0.1 mm out" and isinstance(r.edits[0], MoveWall)
        after = looked(apply(a.design, r.edits[0]))
        assert len(posts(after)) == 3 and not [f for f in judge(after) if f.code == "nothing-holds"]


def test_the_screws_of_edges_are_chosen_like_others() -> None:
    a = looked(case_with(plate()))
    (g,) = [g for g in a.joints if g.key == "posts/plate"]
    assert (g.count, g.thread, g.screw_mm, g.grip_mm) == (4, "M3", 5.0, pytest.approx(1.6))
    lines = {(x.item, x.size): x.count for x in a.bill if x.use.startswith("Plate")}
    assert lines[("screw, socket cap", "M3 x 5")] == 4 and lines[("heat-set insert", "M3 x 5.7")] == 4
    cut = looked(apply(a.design, PutJoint(joint=OwnJoint(of="posts/plate", holding="cut in plastic", screw_mm=10.0))))
    assert {(m.holding, m.screw_mm) for m in posts(cut)} == {("cut in plastic", 10.0)}
    # a nut's slot would open under the plate
    nuts = looked(apply(a.design, Set(path="shell.post_thread", value="captive nut")))
    assert {m.holding for m in posts(nuts)} == {"insert"}
    (row,) = [r for r in hardware_table(a).rows if r.joint.key == "posts/plate"]
    assert [x.holding for x in row.holdings] == ["insert", "cut in plastic"] and row.joint.beside
    assert row.joint.layers[0].what == "edge of Plate" and row.lengths[0].length_mm == 5.0


@given(
    w=st.floats(20, 100),
    d=st.floats(20, 100),
    high=st.floats(0.8, 12),
    x=st.floats(2, 60),
    y=st.floats(2, 60),
    z=st.floats(7.2, 14),
    plug=st.tuples(st.floats(-8, 40), st.floats(-8, 40), st.floats(2, 20)),
)
@settings(max_examples=examples(60), deadline=None)
def test_any_plate_is_held_or_told(
    w: float, d: float, high: float, x: float, y: float, z: float, plug: tuple[float, float, float]
) -> None:
    """Of any size anywhere, with something on it that may reach over its edges: the base is one closed body that takes none of its room, every head lies
    on the plate, and less than three places are told."""
    on = block_on("plug", (plug[0], plug[1], high), (plug[0] + plug[2], plug[1] + plug[2], high + 5))
    a = looked(case_with(plate(w, d, high, on), at=(x, y, z), inner=170.0))
    base = mk.evaluate(a.recipes["base"], mk.FILE_TOL)
    assert len(base.decompose()) == 1 and mk.watertight(base)
    for s in thing(a).solids:
        size = tuple(q - p for p, q in zip(s.box.lo, s.box.hi, strict=True))
        assert (base ^ mk.Manifold.cube(size).translate(s.box.lo)).volume() < 1e-3
    box = thing(a).solids[0].box
    for m in posts(a):
        off = max(box.lo[0] - m.at[0], m.at[0] - box.hi[0], box.lo[1] - m.at[1], m.at[1] - box.hi[1])
        assert off == pytest.approx(1.8)
    told = [f for f in judge(a) if f.code == "nothing-holds"]
    assert bool(told) == (not held_at(box, {m.at for m in posts(a)}))


@given(
    a=st.tuples(*[st.floats(-50, 50)] * 3),
    size=st.tuples(*[st.floats(0.5, 40)] * 3),
    by=st.tuples(*[st.floats(-60, 60)] * 3),
)
def test_boxes_meet_where_they_share_room(
    a: tuple[float, float, float], size: tuple[float, float, float], by: tuple[float, float, float]
) -> None:
    """Against the kernel's own intersection; boxes that only touch share none."""
    hi = (a[0] + size[0], a[1] + size[1], a[2] + size[2])
    box = Box(a, hi)
    lo = (a[0] + by[0], a[1] + by[1], a[2] + by[2])
    other = Box(lo, (lo[0] + size[0], lo[1] + size[1], lo[2] + size[2]))
    shared = (mk.Manifold.cube(size).translate(a) ^ mk.Manifold.cube(size).translate(lo)).volume()
    assert box.meets(other) == other.meets(box) and (not box.meets(other) or shared >= 0)
    assert box.meets(other) or shared < 1e-6
    beside = Box((hi[0], a[1], a[2]), (hi[0] + 1, hi[1], hi[2]))
    assert not box.meets(beside) and box.meets(box)
