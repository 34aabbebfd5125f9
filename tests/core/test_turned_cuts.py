"""Cuts that a hand turns: where they run, what stands along them, and what comes of a turn that cannot be made; measured on the mesh."""

from __future__ import annotations

import itertools
import json
from functools import cache
from math import cos, pi, radians, sin, tan

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import LineString, Point, Polygon, box
from shapely.affinity import rotate

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.cuts.bends import bends
from rhombex.core.cuts.dowels import dowel_places, in_the_way
from rhombex.core.cuts.faces import face_of
from rhombex.core.cuts.holding import seam_hold
from rhombex.core.cuts.joins import hold_of
from rhombex.core.cuts.pieces import PartCuts, slant_of
from rhombex.core.cuts.strips import crossed, strips
from rhombex.core.cuts.turned import Line, line_of
from rhombex.core.design import JoinKind, PinnedCut, read_design
from rhombex.core.edits import Edit, JoinCuts, PutCuts, Set, Together, read_edit
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import Move
from rhombex.core.plain import DesignError
from rhombex.core.plan.pieces_map import pieces_maps
from rhombex.core.reference import val
from rhombex.core.shell.solids import bore
from rhombex.core.space import Box, Frame
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import GOOD_WREN

SMALL = Set(path="printer", value="bench-180")


def at(x: float, turn: float, axis: str = "x", part: str = "lid", by: str | None = None) -> PinnedCut:
    return PinnedCut(part=part, axis=axis, at_mm=x, turn_deg=turn, by=by)  # type: ignore[arg-type]


@cache
def cut(*cuts: PinnedCut, by: JoinKind = "steel pins") -> Analysis:
    d = read_design(json.loads(GOOD_WREN.read_text()))
    part = cuts[0].part
    edits: tuple[Edit, ...] = (SMALL, JoinCuts(part=part, by=by), PutCuts(part=part, cuts=cuts))
    return analyse(apply(d, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")


def of(a: Analysis, part: str = "lid") -> PartCuts:
    return next(c for c in a.cuts if c.part == part)


def meshes(a: Analysis, part: str = "lid") -> list:  # type: ignore[type-arg]
    return [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in of(a, part).pieces]


@pytest.mark.parametrize(
    "by",
    [
        *("glue alone", "steel pins", "printed pins", "dovetails", "tongue and groove", "half-lap"),
        *("bolts", "bridging plates", "magnets", "steel rods", "rods through all pieces"),
    ],
)
def test_the_pieces_meet_along_the_turned_plane_and_are_the_part_again(by: JoinKind) -> None:
    """Turned by 15 degrees about the middle of the lid: 50 mm farther back it runs 50 x tan 15 = 13.4 mm farther left."""
    a = cut(at(80, 15), by=by)
    c, (low, high) = of(a), meshes(a)
    x, mid = c.cuts[0].at_mm, (c.lo_mm[1] + c.hi_mm[1]) / 2
    assert c.cuts[0].turn_deg == 15 and x == pytest.approx(80 + a.case.cavity.lo[0])
    assert c.cuts[0].about_mm == pytest.approx(mid)
    assert len(low.decompose()) == len(high.decompose()) == 1 and (low ^ high).volume() < 1e-3
    whole, both = mk.evaluate(a.recipes["lid"], mk.FILE_TOL), low.volume() + high.volume()
    if by in ("glue alone", "dovetails", "tongue and groove"):
        assert 0 <= whole.volume() - both < 0.003 * whole.volume()
    elif by != "half-lap":
        assert both > whole.volume() - 60  # blocks stand on it; numbers and arrows are sunk
    top = c.hi_mm[2] - 0.2  # the outer face
    for dy in (-60.0, -50.0, -12.0, 0.0, 50.0, 60.0):
        here = x - dy * tan(radians(15))
        if by == "half-lap":
            continue  # outside the half that runs on is seen
        if by == "dovetails" and any(abs(q - mid - dy / cos(radians(15))) < 14 for q, _ in c.cuts[0].dowels):
            continue
        for m, inside, outside in ((low, here - 0.6, here + 0.6), (high, here + 0.6, here - 0.6)):
            for px, full in ((inside, True), (outside, False)):
                probe = mk.evaluate(bore((px, mid + dy, 0), (0, 0, 1), 0.2, top - 0.1, top + 0.1), mk.FILE_TOL)
                assert ((m ^ probe).volume() > 0.9 * probe.volume()) is full, (by, dy, px)
    mine = {p.name for p in c.pieces}
    assert all(p.watertight and p.bodies == 1 for p in a.pieces if p.name in mine)
    assert not a.faults and not [f for f in judge(a) if f.code in ("in-one-place", "made-in-component")]


def test_pins_stand_square_to_the_cut() -> None:
    """Holes of 3 + 0.2 along the cut's own normal, 6.5 deep on either side of it."""
    a = cut(at(80, -20))
    c, line = of(a), line_of(of(a).cuts[0], 2)
    low, high = meshes(a)
    assert len(c.cuts[0].dowels) >= 2
    along, aside = line.vector((1.0, 0.0, 0.0)), line.vector((0.0, 1.0, 0.0))
    assert along == pytest.approx((cos(radians(20)), -sin(radians(20)), 0.0))
    for q, z in c.cuts[0].dowels:
        p = line.point((c.cuts[0].at_mm, q, z))
        # as far from the pivot as on a straight cut, along the turned one
        assert np.hypot(p[0] - c.cuts[0].at_mm, p[1] - line.about_mm) == pytest.approx(abs(q - line.about_mm))
        for m, (start, end) in ((low, (-6.4, -0.05)), (high, (0.05, 6.4))):
            free, ring, hole = (
                mk.evaluate(
                    Move(bore((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), d, a, b), Frame(p, along, aside, (0.0, 0.0, 1.0))),
                    mk.FILE_TOL,
                )
                for d, a, b in ((3.15, start, end), (3.2 + 2 * 1.3, start, end), (3.3, start - 1, end + 1))
            )
            full = ring - hole
            assert (m ^ free).volume() < 1e-3 and (m ^ full).volume() > 0.99 * full.volume()


@pytest.mark.parametrize("turn", [-24, -9, 9, 24])
def test_blocks_of_a_turned_cut_stand_in_nothing(turn: float) -> None:
    """Every block against every box that may not be met, both as areas on the plan of the base (Shapely)."""
    a = cut(at(80, 15, part="base"))
    c, seat = of(a, "base"), of(a, "base").seat
    assert seat is not None
    extent, hold = Box(c.lo_mm, c.hi_mm), hold_of("steel pins", seat)
    assert hold is not None
    blocked = in_the_way(a.case, a.things, a.openings, "base")
    low = [b for b in blocked.tolist() if b[0][2] < seat.outer_mm + hold.reach_mm and b[1][2] > seat.inner_mm]
    areas = [box(*b[0][:2], *b[1][:2]) for b in low]
    room = box(*a.case.cavity.lo[:2], *a.case.cavity.hi[:2])
    count = 0
    for x in range(45, 130, 4):
        line = Line(0, 2, float(x), extent.centre[1], turn)
        for q, _ in dowel_places(a.case, blocked, seat, hold, extent, line, (), 20):
            corners = [(x + u, q + v, 0.0) for u, v in ((-8.5, -3.5), (8.5, -3.5), (8.5, 3.5), (-8.5, 3.5))]
            mine = Polygon([line.point(p)[:2] for p in corners])
            assert all(mine.intersection(b).area < 1e-6 for b in areas) and mine.within(room)
            count += 1
    assert count > 20


def test_cuts_both_ways_may_both_be_turned() -> None:
    a = cut(at(85, 20), at(60, -25, "y"), by="dovetails")
    c, four = of(a), meshes(a)
    assert len(four) == 4 and all(len(m.decompose()) == 1 for m in four)
    for m, o in itertools.combinations(four, 2):
        assert (m ^ o).volume() < 1e-3
    whole = mk.evaluate(a.recipes["lid"], mk.FILE_TOL).volume()
    assert 0 <= whole - sum(m.volume() for m in four) < 0.005 * whole
    table = {p.cuts.part: p for p in cuts_table(a).parts}["lid"]
    cells = [Polygon(x.outline) for x in table.cells]
    size = (c.hi_mm[0] - c.lo_mm[0]) * (c.hi_mm[1] - c.lo_mm[1])
    assert sum(x.area for x in cells) == pytest.approx(size, rel=1e-6)
    assert all(x.intersection(y).area < 0.01 for x, y in itertools.combinations(cells, 2))
    ends = {s.cut.axis: s.ends for s in table.seams}
    mid = [(c.lo_mm[k] + c.hi_mm[k]) / 2 for k in (0, 1)]
    x0 = 85 + a.case.cavity.lo[0]
    assert ends["x"][0] == pytest.approx((x0 - (c.lo_mm[1] - mid[1]) * tan(radians(20)), c.lo_mm[1]))
    y0 = 60 + a.case.cavity.lo[1]
    assert ends["y"][1] == pytest.approx((c.hi_mm[0], y0 + (c.hi_mm[0] - mid[0]) * tan(radians(-25))))
    assert [s.title for s in pieces_maps(a)] == ["Wren, pieces of the base", "Wren, pieces of the lid"]
    # no tail comes near the other cut: its wall of 2 beside its widest
    lines = {s.cut.axis: LineString(s.ends) for s in table.seams}
    for s in table.seams:
        other = lines["y" if s.cut.axis == "x" else "x"]
        assert s.plan and all(Polygon(p).distance(other) > 2 for p in s.plan)


@given(x=st.floats(20, 150), turn=st.floats(-30, 30), part=st.sampled_from(["base", "lid"]), axis=st.sampled_from("xy"))
def test_a_strip_is_crossed_where_the_true_plane_comes_too_near(x: float, turn: float, part: str, axis: str) -> None:
    """Against Shapely: the distance of the line from the circle of every post and the rectangle of every screw boss."""
    a = cut(at(80, 15))
    c, i = of(a, part), "xy".index(axis)
    extent = Box(c.lo_mm, c.hi_mm)
    line = Line(i, 2, x, extent.centre[1 - i], turn)
    found = crossed(strips(a.case, a.openings, part, axis, slant_of(line, extent)), x, False)  # type: ignore[arg-type]
    far = [(x - 999, line.about_mm), (x, line.about_mm), (x + 999, line.about_mm)]
    far = [(x, line.about_mm - 999), (x, line.about_mm + 999)]
    true = LineString(far if i == 0 else [(v, u) for u, v in far])
    true = rotate(true, turn, origin=(x, line.about_mm) if i == 0 else (line.about_mm, x))
    keep = val("limits.cut.seam_to_feature")
    for m in a.case.mounts:
        gap = true.distance(Point(m.at[0], m.at[1])) - m.od_mm / 2 - keep
        if m.part == part and abs(gap) > 1e-6 and gap < 0:
            assert f"post of {m.of}" in found
    near = [true.distance(box(*b.boss.lo[:2], *b.boss.hi[:2])) for b in a.case.kept_whole if part in (b.holds, b.into)]
    wanted = any(d < keep - 1e-6 for d in near)
    if wanted or all(d > keep + 1e-6 for d in near):
        assert any("screw boss" in w for w in found) is wanted
    posts = [true.distance(Point(*m.at[:2])) - m.od_mm / 2 - keep for m in a.case.mounts if m.part == part]
    if all(g > 1e-6 for g in posts):
        assert not any(w.startswith("post of") for w in found)


@given(
    one=st.tuples(st.floats(-50, 50), st.floats(-30, 30)),
    other=st.tuples(st.floats(-50, 50), st.floats(-30, 30)),
    boxes=st.lists(st.tuples(*[st.floats(-80, 80)] * 2), min_size=1, max_size=3),
)
def test_a_cut_is_seen_straight_and_turned_back(
    one: tuple[float, float], other: tuple[float, float], boxes: list[tuple[float, float]]
) -> None:
    """What is turned into its place and seen from the cut is where it was; both crossings are one point."""
    a, b = Line(0, 2, one[0], 7.0, one[1]), Line(1, 2, other[0], -3.0, other[1])
    p = (one[0] + 4, 11.0, 2.0)
    assert a.frame.local(a.point(p)) == pytest.approx(p, abs=1e-9) and a.beyond(a.point(p)) == pytest.approx(4)
    (q, off), (r, back) = a.crossing(b), b.crossing(a)
    assert a.point((one[0], q, 0.0)) == pytest.approx(b.point((r, other[0], 0.0)), abs=1e-6) and off == -back
    tiny = np.array([[(x, y, 0.0), (x + 1, y + 2, 1.0)] for x, y in boxes])
    for before, seen in zip(tiny, a.seen(tiny), strict=True):
        for corner in itertools.product(*zip(*before, strict=True)):
            local = a.frame.local(corner)  # type: ignore[arg-type]
            assert all(seen[0][k] - 1e-6 <= local[k] <= seen[1][k] + 1e-6 for k in range(3))
        w, h = seen[1][:2] - seen[0][:2]
        t = radians(abs(one[1]))
        assert (w, h) == pytest.approx((cos(t) + 2 * sin(t), 2 * cos(t) + sin(t)))


def test_a_turn_that_cannot_be_made_is_told_and_taken_back() -> None:
    """The lid is 143.78 deep: turned by 30 degrees a cut runs 71.89 x tan 30 = 41.5 mm to either side, so from 40 it runs out by 1.5 and what the cavity lies in."""
    a = cut(at(40, 30))
    assert not of(a).cuts and len(of(a).pieces) == 1
    f = next(f for f in judge(a) if f.code == "cut-not-made")
    out = 40 + a.case.cavity.lo[0] - 143.78 / 2 * tan(radians(30))
    assert f.severity == "weigh" and f.measured == pytest.approx(out, abs=0.01) and f.limit == 5
    assert "runs out at the end" in f.reason and f.remedies[0].label == "Set it straight"
    after = analyse(apply(a.design, Together(edits=f.remedies[0].edits)), ARCHIVE_WORKSHOP, "preview")
    assert len(of(after).pieces) == 2 and not [f for f in judge(after) if f.code == "cut-not-made"]
    # two that run into one another: 40 apart in the middle, 40 - 41.5 at one side
    a = cut(at(60, 0), at(100, 30))
    assert len(of(a).cuts) == 1
    f = next(f for f in judge(a) if f.code == "cut-not-made")
    assert f.measured == pytest.approx(40 - 143.78 / 2 * tan(radians(30)), abs=0.01) and f.limit == 10
    assert "too near to another cut" in f.reason
    # and where they cross well within the part
    f = next(f for f in judge(cut(at(70, -25), at(90, 5))) if f.code == "cut-not-made")
    assert f.measured == pytest.approx(20 - 143.78 / 2 * (tan(radians(25)) + tan(radians(5))), abs=0.01)
    # as far as that they stay apart: 52 in the middle, 10.5 there
    assert len(of(cut(at(50, 0), at(102, 30))).cuts) == 2


def test_a_turn_beyond_thirty_degrees_is_refused_by_name() -> None:
    edit = {"do": "put-cuts", "part": "lid", "cuts": [{"part": "lid", "axis": "x", "at_mm": 80, "turn_deg": 31}]}
    with pytest.raises(DesignError) as e:
        read_edit(edit)
    assert "turn_deg" in e.value.field


def test_a_cut_through_a_post_is_measured_square_to_it() -> None:
    """Through the middle of one of the board's posts: half the post and the room beside it are missing, however the cut is turned."""
    a = cut(at(80, 15, part="base"))
    extent = Box(of(a, "base").lo_mm, of(a, "base").hi_mm)
    mount = max((m for m in a.case.mounts if m.of == "board"), key=lambda m: m.at[0] < 110 and m.at[0])
    across = mount.at[0] + tan(radians(15)) * (mount.at[1] - extent.centre[1])
    a = cut(at(round(across - a.case.cavity.lo[0], 6), 15, part="base"))
    f = next(f for f in judge(a) if f.code == "cut-through-feature" and f.subjects == ("base", "post of board"))
    assert f.severity == "stop" and f.limit == val("limits.cut.seam_to_feature")
    assert f.measured == pytest.approx(-mount.od_mm / 2, abs=0.01)


def test_a_seam_is_as_long_as_it_is_turned_and_bent_where_it_is_bent_most() -> None:
    """A face along the turned plane is 1 / cos 25 as long; nearest to the middle of the lid a hand bends it most."""
    straight, a = cut(at(60, 0), by="glue alone"), cut(at(60, 25), by="glue alone")
    widths = [face_of(x.recipes["lid"], of(x).cuts[0], 2).wide_mm for x in (straight, a)]
    assert widths[1] / widths[0] == pytest.approx(1 / cos(radians(25)), rel=0.02)
    c = of(a)
    assert c.seat is not None
    found = seam_hold(a.design, a.case, a.things, c, c.cuts[0], c.seat, a.recipes["lid"])
    extent = Box(c.lo_mm, c.hi_mm)
    (one, _), (other, _) = line_of(c.cuts[0], 2).ends(extent)
    middle = (c.lo_mm[0] + c.hi_mm[0]) / 2
    assert min(one, other) < middle < max(one, other)
    worst = max(bends(a.case, a.things, "lid", extent, "x", x).value for x in np.linspace(one, other, 400))
    assert found.load_nm.value == pytest.approx(worst, rel=1e-3)
    span = c.hi_mm[0] - c.lo_mm[0]
    assert worst == pytest.approx(val("limits.standing.push") * span / 4 / 1000, rel=0.05)  # F l / 4 (handbook)


@pytest.mark.parametrize("by", ["bolts", "bridging plates"])
def test_screws_of_a_turned_cut_stand_where_their_holes_are(by: JoinKind) -> None:
    a = cut(at(85, 18), by=by)
    c, line = of(a), line_of(of(a).cuts[0], 2)
    low, high = meshes(a)
    group = next(
        r.joint for r in hardware_table(a).rows if r.joint.key == f"{'cut' if by == 'bolts' else 'bridge'}/lid"
    )
    assert group.count == len(c.cuts[0].dowels) * (1 if by == "bolts" else 2) > 0
    for s in group.seats:
        assert sum(x * x for x in s.along) == pytest.approx(1)
        if by == "bolts":
            assert s.along == pytest.approx(line.vector((1.0, 0.0, 0.0)))
        aside = line.vector((0.0, 1.0, 0.0)) if by == "bolts" else (1.0, 0.0, 0.0)
        third = tuple(np.cross(s.along, aside))
        frame = Frame(s.at, s.along, aside, third)  # type: ignore[arg-type]

        def along(d: float, start: float, end: float, frame: Frame = frame) -> mk.Manifold:
            return mk.evaluate(Move(bore((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), d, start, end), frame), mk.FILE_TOL)

        free = along(2.9, -1.0, 8.0)
        assert (low ^ free).volume() + (high ^ free).volume() < 1e-3
        ring = along(6.0, 4.0 if by == "bolts" else 5.0, 6.0)
        assert (low ^ ring).volume() + (high ^ ring).volume() > 0.3 * (6.0**2 - 4.0**2) * pi / 4


def test_a_cut_keeps_its_turn_when_it_is_joined_otherwise() -> None:
    a = cut(at(80, 15))
    seam = {p.cuts.part: p for p in cuts_table(a).parts}["lid"].seams[0]
    assert {w.by for w in seam.choice.ways} >= {"bolts", "dovetails", "steel rods"}
    assert "rods through all pieces" not in {w.by for w in seam.choice.ways}  # no rod along the part is square to it
    d = apply(a.design, JoinCuts(part="lid", by="bolts"))
    assert d.cuts[0].turn_deg == 15
    once_more = {p.cuts.part: p for p in cuts_table(a).parts}["lid"].more[0].edit
    assert apply(a.design, once_more).cuts[0].turn_deg == 15
    assert read_design(json.loads(d.model_dump_json())) == d


def test_another_printer_is_no_way_out_of_a_cut_that_a_hand_put() -> None:
    """It stays there, however large the bed is; one that the planner put goes."""
    by_hand = next(f for f in judge(cut(at(83, 8))) if f.code == "seam-too-weak" and f.subjects[0] == "lid")
    assert by_hand.remedies and not [r for r in by_hand.remedies if r.label.startswith("Print on")]
    d = apply(read_design(json.loads(GOOD_WREN.read_text())), SMALL)
    planned = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "seam-too-weak")
    assert [r.label for r in planned.remedies if r.label.startswith("Print on")]
