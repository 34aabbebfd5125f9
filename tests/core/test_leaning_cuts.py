"""Cuts that lean out of their plate's normal: where they run, what they meet, what their longer face bears, and what cannot be made; measured on the mesh."""

from __future__ import annotations

import itertools
import json
from math import cos, hypot, radians, sin, tan

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.cuts.dowels import dowel_places, in_the_way
from rhombex.core.cuts.faces import face_of
from rhombex.core.cuts.holding import seam_hold
from rhombex.core.cuts.joins import hold_of
from rhombex.core.cuts.pieces import slant_of
from rhombex.core.cuts.strips import crossed, strips
from rhombex.core.cuts.turned import Line
from rhombex.core.design import JoinKind, PinnedCut, read_design
from rhombex.core.edits import JoinCuts, PutCuts, Together, read_edit
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.plain import DesignError
from rhombex.core.plan.pieces_map import pieces_maps
from rhombex.core.reference import val
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import dunlin

from .test_turned_cuts import cut, meshes, of


def at(x: float, lean: float, turn: float = 0.0, axis: str = "x", part: str = "base") -> PinnedCut:
    return PinnedCut(part=part, axis=axis, at_mm=x, turn_deg=turn, lean_deg=lean)  # type: ignore[arg-type]


def beyond(m: mk.Manifold, x: float, about: float, level: float, turn: float, lean: float) -> np.ndarray:  # type: ignore[type-arg]
    """How far beyond a plane each corner of a mesh is: the plane through (x, about, level), turned about z, its upper end leaning towards x. Its normal by
    hand: turned (cos t, sin t, 0), leaned (cos t cos l, sin t cos l, -sin l)."""
    t, lean = radians(turn), radians(lean)
    normal = np.array([cos(t) * cos(lean), sin(t) * cos(lean), -sin(lean)])
    corners = np.asarray(m.to_mesh().vert_properties)[:, :3].astype(float)
    return (corners - [x, about, level]) @ normal


@pytest.mark.parametrize(
    ("lean", "turn", "part"), [(35, 0, "base"), (-20, 14, "base"), (45, -10, "lid"), (-45, 0, "lid")]
)
def test_the_pieces_meet_along_the_leaning_plane_and_are_the_part_again(lean: float, turn: float, part: str) -> None:
    a = cut(at(85, lean, turn, part=part))
    c, (low, high) = of(a, part), meshes(a, part)
    x, mid = 85 + a.case.cavity.lo[0], (c.lo_mm[1] + c.hi_mm[1]) / 2
    assert c.seat is not None and c.cuts[0].joined == "glue alone" and not c.cuts[0].dowels
    level = (c.seat.outer_mm + c.seat.inner_mm) / 2
    before, after = (beyond(m, x, mid, level, turn, lean) for m in (low, high))
    assert before.max() == pytest.approx(0, abs=1e-3) and after.min() == pytest.approx(0, abs=1e-3)
    on = np.asarray(high.to_mesh().vert_properties)[:, 2][np.abs(after) < 1e-3]
    assert (
        on.min() == pytest.approx(c.lo_mm[2], abs=1e-3) and on.max() > c.hi_mm[2] - 12
    )  # down to its foot, up through its walls
    assert len(low.decompose()) == len(high.decompose()) == 1 and (low ^ high).volume() < 1e-3
    whole = mk.evaluate(a.recipes[part], mk.FILE_TOL).volume()
    assert 0 <= whole - low.volume() - high.volume() < 0.003 * whole  # numbers and arrows are sunk
    mine = {p.name for p in c.pieces}
    assert all(p.watertight and p.bodies == 1 for p in a.pieces if p.name in mine)
    assert not a.faults and not [f for f in judge(a) if f.code in ("in-one-place", "made-in-component")]


def test_the_face_of_a_cut_that_leans_is_longer_and_bears_more() -> None:
    """The lid is a plate: of one that leans by 40 degrees the face is 1 / cos 40 as large. The stress across a plane that leans is that along the plate x cos2
    (Mohr's circle), so glue bears 1 / cos2 as much bending; the uncut plate bears what it bears."""
    straight, a = cut(at(80, 0, part="lid"), by="glue alone"), cut(at(80, 40, part="lid"))
    longer = 1 / cos(radians(40))
    one, other = (face_of(x.recipes["lid"], of(x, "lid").cuts[0], 2) for x in (straight, a))
    assert other.wide_mm == pytest.approx(one.wide_mm, rel=1e-6)
    assert other.area_mm2 == pytest.approx(one.area_mm2 * longer, rel=0.02)
    holds = []
    for x in (straight, a):
        c = of(x, "lid")
        assert c.seat is not None
        holds.append(seam_hold(x.design, x.case, x.things, c, c.cuts[0], c.seat, x.recipes["lid"]))
    plain, leaning = holds
    assert leaning.low_nm.value == pytest.approx(plain.low_nm.value * longer**2, rel=0.03)
    assert leaning.high_nm == pytest.approx(plain.high_nm * longer**2, rel=0.03)
    assert leaning.uncut_nm == pytest.approx(plain.uncut_nm, rel=0.03)


@given(
    x=st.floats(15, 150),
    lean=st.floats(-45, 45),
    turn=st.floats(-30, 30),
    part=st.sampled_from(["base", "lid"]),
    axis=st.sampled_from("xy"),
)
def test_a_strip_is_crossed_where_the_leaning_plane_comes_too_near(
    x: float, lean: float, turn: float, part: str, axis: str
) -> None:
    """By the corners of every screw boss and magnet pocket: the least distance of a box from a plane is that of its nearest corner, nothing where they lie on
    both sides."""
    a = cut(at(85, 35))
    c, i = of(a, part), "xy".index(axis)
    assert c.seat is not None
    extent, level = Box(c.lo_mm, c.hi_mm), (c.seat.outer_mm + c.seat.inner_mm) / 2
    about = extent.centre[1 - i]
    line = Line(i, 2, x, about, turn, lean, level)
    found = crossed(strips(a.case, a.openings, part, axis, slant_of(line, extent)), x, False)  # type: ignore[arg-type]
    t, le = radians(turn if i == 0 else -turn), radians(lean)
    normal = np.array([cos(t) * cos(le), sin(t) * cos(le), -sin(le)])[[0, 1, 2] if i == 0 else [1, 0, 2]]
    point = np.array([x, about, level] if i == 0 else [about, x, level])
    keep = val("limits.cut.seam_to_feature")
    solids = [b.boss for b in a.case.kept_whole if part in (b.holds, b.into)]
    gaps = []
    for b in solids:
        d = (np.array(list(itertools.product(*zip(b.lo, b.hi, strict=True)))) - point) @ normal
        gaps.append(max(d.min(), -d.max(), 0.0) - keep)
    if any(abs(g) < 1e-6 for g in gaps):
        return
    assert any("screw boss" in w for w in found) is any(g < 0 for g in gaps)
    for m in (m for m in a.case.mounts if m.part == part):  # round posts, from the plate up
        ends = [np.array([*m.at[:2], h]) for h in (m.box.lo[2], m.box.hi[2])]
        d = [(p - point) @ normal for p in ends]
        gap = max(min(d), -max(d), 0.0) - m.od_mm / 2 * hypot(normal[0], normal[1]) - keep
        if gap < -1e-6:
            assert f"post of {m.of}" in found


@given(
    at_mm=st.floats(-50, 50),
    turn=st.floats(-30, 30),
    lean=st.floats(-45, 45),
    p=st.tuples(*[st.floats(-60, 60)] * 3),
    ways=st.permutations([0, 1, 2]),
)
def test_a_leaning_cut_is_seen_straight_and_put_back(
    at_mm: float, turn: float, lean: float, p: tuple[float, float, float], ways: list[int]
) -> None:
    """Across, along and up whichever axes: it runs where it says at every coordinate, and points come back to their place."""
    i, j, n = ways
    line = Line(i, n, at_mm, 7.0, turn, lean, -2.0)
    on = [0.0] * 3
    on[i], on[j], on[n] = line.at(p[0], p[1]), p[0], p[1]
    assert line.beyond((on[0], on[1], on[2])) == pytest.approx(0, abs=1e-9)
    assert line.frame.inverse.point(line.point(p)) == pytest.approx(p, abs=1e-9)
    assert line.at(7.0, -1.0) - at_mm == pytest.approx(tan(radians(lean)) / cos(radians(turn)), abs=1e-9)
    normal = line.vector(tuple(float(k == i) for k in range(3)))  # type: ignore[arg-type]
    assert normal[n] == pytest.approx(-sin(radians(lean)), abs=1e-9) and hypot(*normal) == pytest.approx(1)


def test_a_cut_the_other_way_keeps_its_pins_and_keys_off_one_that_leans() -> None:
    for by in ("dovetails", "steel pins", "half-lap"):
        a = cut(at(85, 40), at(60, 0, axis="y"), by=by)
        c, four = of(a, "base"), meshes(a, "base")
        assert {x.axis: x.joined for x in c.cuts} == {"x": "glue alone", "y": by}
        assert len(four) == 4 and all(len(m.decompose()) == 1 for m in four)
        for m, o in itertools.combinations(four, 2):
            assert (m ^ o).volume() < 1e-3
        table = {p.cuts.part: p for p in cuts_table(a).parts}["base"]
        seams = {s.cut.axis: s for s in table.seams}
        assert seams["y"].cut.dowels and not seams["y"].band and len(seams["x"].band) == 4
        # what the leaning face covers on the plan, from foot to rim: tan 40 for every millimetre up
        covers = [p[0] for p in seams["x"].band]
        assert max(covers) - min(covers) == pytest.approx((c.hi_mm[2] - c.lo_mm[2]) * tan(radians(40)), abs=0.01)
        assert {w.by for w in seams["x"].choice.ways} == {"glue alone"} and seams["x"].choice.proposed == "glue alone"
        assert "Wren, pieces of the base" in [s.title for s in pieces_maps(a)]


@pytest.mark.parametrize("lean", [-40, 15, 40])
@pytest.mark.parametrize("by", ["steel pins", "dovetails"])
def test_what_joins_a_cut_the_other_way_lies_on_one_side_of_the_leaning_plane(lean: float, by: JoinKind) -> None:
    """Every corner of every block, to the top of its pins or through a wall opposite the plate: none is nearer to the plane than 1 mm beside it."""
    a = cut(at(85, 35))
    c = of(a, "base")
    assert c.seat is not None
    seat = c.seat.model_copy(update={"far_mm": (20.0, 23.0)}) if by == "dovetails" else c.seat
    hold = hold_of(by, seat)
    assert hold is not None
    extent, count = Box(c.lo_mm, c.hi_mm), 0
    level = (c.seat.outer_mm + c.seat.inner_mm) / 2
    blocked = in_the_way(a.case, a.things, a.openings, "base")
    for x in np.arange(45.0, 130.0, 1.5):
        other = Line(0, 2, float(x), 0.0, 0.0, lean, level)
        line = Line(1, 2, extent.centre[1] + 10)
        for q, _ in dowel_places(a.case, blocked, seat, hold, extent, line, (other,), 20):
            corners = itertools.product(
                (q - hold.block_mm / 2, q + hold.block_mm / 2),
                (line.at_mm - hold.run_mm, line.at_mm + hold.run_mm),
                (c.seat.outer_mm, 23.0 if by == "dovetails" else c.seat.outer_mm + hold.reach_mm),
            )
            far = [(p[0] - x) * cos(radians(lean)) - (p[2] - level) * sin(radians(lean)) for p in corners]
            assert max(min(far), -max(far)) > cos(radians(lean))
            count += 1
    assert count > 20


def test_rods_do_not_go_through_all_pieces_where_a_cut_leans() -> None:
    a = cut(at(60, 20), at(120, 0), by="rods through all pieces")
    assert [x.joined for x in of(a, "base").cuts] == ["glue alone", "steel pins"]
    seam = {p.cuts.part: p for p in cuts_table(a).parts}["base"].seams[1]
    assert "rods through all pieces" not in {w.by for w in seam.choice.ways}  # for it would not be done
    turned = cut(at(60, 0, 10), at(120, 0), by="rods through all pieces")
    assert [x.joined for x in of(turned, "base").cuts] == ["steel pins", "steel pins"]


def test_a_lean_that_cannot_be_made_is_told_and_taken_back() -> None:
    """At 12 mm from the left of the cavity the base's top is too high for 45 degrees to the left: it runs out there."""
    a = cut(at(12, -45))
    c = of(a, "base")
    assert not c.cuts and c.seat is not None
    f = next(f for f in judge(a) if f.code == "cut-not-made")
    up = c.hi_mm[2] - (c.seat.outer_mm + c.seat.inner_mm) / 2
    assert f.severity == "weigh" and f.limit == 5
    assert f.measured == pytest.approx(12 + a.case.cavity.lo[0] - c.lo_mm[0] - up, abs=0.01)
    assert f.reason == "Leaning by -45 degrees it runs out at the end of the part."
    assert f.remedies[0].label == "Set it straight"
    after = analyse(apply(a.design, Together(edits=f.remedies[0].edits)), ARCHIVE_WORKSHOP, "preview")
    assert len(of(after, "base").pieces) == 2 and not [f for f in judge(after) if f.code == "cut-not-made"]
    # two that run into one another above
    f = next(f for f in judge(cut(at(60, 30, 5), at(85, -30))) if f.code == "cut-not-made")
    assert f.reason.startswith("Leaning by -30 degrees it comes too near to another cut")
    half = (c.hi_mm[1] - c.lo_mm[1]) / 2
    over = tan(radians(30)) * (1 + 1 / cos(radians(5)))
    assert f.measured == pytest.approx(25 - up * over - half * tan(radians(5)), abs=0.01)


def test_a_cut_through_a_post_is_measured_square_to_the_leaning_plane() -> None:
    """Through the middle of one of the board's posts: half of the post, seen along the plane, is missing, and the room beside it."""
    a = cut(at(85, 35))
    mount = max((m for m in a.case.mounts if m.of == "board"), key=lambda m: m.at[0] < 110 and m.at[0])
    c = of(a, "base")
    assert c.seat is not None
    middle = (mount.box.lo[2] + mount.box.hi[2]) / 2
    x = mount.at[0] - tan(radians(20)) * (middle - (c.seat.outer_mm + c.seat.inner_mm) / 2)
    a = cut(at(round(x - a.case.cavity.lo[0], 6), 20))
    f = next(f for f in judge(a) if f.code == "cut-through-feature" and f.subjects == ("base", "post of board"))
    # a round post, seen along the plane: its radius x cos 20 and half its height x sin 20
    high = (mount.box.hi[2] - mount.box.lo[2]) / 2
    keep = val("limits.cut.seam_to_feature")
    assert f.severity == "stop" and f.limit == keep
    assert f.measured == pytest.approx(-mount.od_mm / 2 * cos(radians(20)) - high * sin(radians(20)), abs=0.01)


def test_a_lean_beyond_what_prints_or_with_pins_is_refused_by_name() -> None:
    def put(**more: object) -> dict[str, object]:
        return {"do": "put-cuts", "part": "lid", "cuts": [{"part": "lid", "axis": "x", "at_mm": 80, **more}]}

    with pytest.raises(DesignError) as e:
        read_edit(put(lean_deg=46))
    assert "lean_deg" in e.value.field
    with pytest.raises(DesignError) as e:
        read_edit(put(lean_deg=10, by="bolts"))
    assert "a cut that leans is joined by glue alone, not by bolts" in str(e.value)


def test_a_cut_keeps_its_lean_when_the_others_are_joined_otherwise() -> None:
    a = cut(at(60, 15), at(120, 0))
    d = apply(a.design, JoinCuts(part="base", by="bolts"))
    assert [c.lean_deg for c in d.cuts] == [15, 0]
    assert [x.joined for x in of(analyse(d, ARCHIVE_WORKSHOP, "preview"), "base").cuts] == ["glue alone", "bolts"]
    once_more = {p.cuts.part: p for p in cuts_table(a).parts}["base"].more[0].edit
    assert next(c.lean_deg for c in apply(a.design, once_more).cuts if c.axis == "x") == 15
    assert read_design(json.loads(d.model_dump_json())) == d


@pytest.mark.parametrize("upright", [0, 1])
def test_a_panel_that_stands_upright_is_cut_leaning(upright: int) -> None:
    """Its plate's normal lies level: the cut across z leans along that. All corners of both pieces lie on their sides of the plane, worked by hand."""
    d = dunlin()
    c = next(c for c in analyse(d, ARCHIVE_WORKSHOP, "preview").cuts if c.seat is not None and c.seat.axis == upright)
    middle = round((c.lo_mm[2] + c.hi_mm[2]) / 2, 1)
    floor = analyse(d, ARCHIVE_WORKSHOP, "none").case.cavity.lo[2]
    pinned = PinnedCut(part=c.part, axis="z", at_mm=middle - floor, lean_deg=30)
    a = analyse(apply(d, PutCuts(part=c.part, cuts=(pinned,))), ARCHIVE_WORKSHOP, "preview")
    low, high = meshes(a, c.part)
    assert c.seat is not None and of(a, c.part).cuts[0].joined == "glue alone"
    level = (c.seat.outer_mm + c.seat.inner_mm) / 2
    for m, side in ((low, -1), (high, 1)):
        corners = np.asarray(m.to_mesh().vert_properties)[:, :3].astype(float)
        far = (corners[:, 2] - middle) * cos(radians(30)) - (corners[:, upright] - level) * sin(radians(30))
        assert (far * side).min() == pytest.approx(0, abs=1e-3)
    assert (low ^ high).volume() < 1e-3 and not a.faults
    whole = mk.evaluate(a.recipes[c.part], mk.FILE_TOL).volume()
    assert 0 <= whole - low.volume() - high.volume() < 0.006 * whole
