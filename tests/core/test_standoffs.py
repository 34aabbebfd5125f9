"""A board on bought standoffs: shorter posts that take their studs, screws from above, the bill; measured on the mesh."""

from __future__ import annotations

import json
from functools import cache
from math import pi

import pytest

from rhombex.core.advice.hardware import JointRow, hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design, OwnJoint, Placement, Stand, read_design
from rhombex.core.edits import Edit, Move, MoveWall, PutJoint, Set, StackOn, Together, read_edit
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.plain import DesignError
from rhombex.core.shell.solids import bore
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import GOOD_WREN


@cache
def wren(raised_mm: float = 0.0) -> Design:
    """*Wren* mended, its board (6.4 over the underside) and lid raised."""
    d = read_design(json.loads(GOOD_WREN.read_text()))
    if not raised_mm:
        return d
    z = d.placements[0].at_mm[2] + raised_mm
    return apply(d, Together(edits=(MoveWall(face="top", by_mm=raised_mm), Move(id="board", to_mm=(None, None, z)))))


@cache
def looked(design: Design) -> Analysis:
    return analyse(design, ARCHIVE_WORKSHOP, "preview")


def row(design: Design, key: str) -> JointRow:
    return next(r for r in hardware_table(looked(design)).rows if r.joint.key == key)


def offer(design: Design, holding: str) -> Edit:
    return next(h.edit for h in row(design, "posts/board").holdings if h.holding == holding)


def on_standoffs(raised_mm: float = 8.0) -> Design:
    return apply(wren(raised_mm), offer(wren(raised_mm), "standoff"))


def new(after: Design, before: Design) -> list[tuple[str, str]]:
    old = {f.key for f in judge(looked(before))}
    return [(f.severity, f.code) for f in judge(looked(after)) if f.key not in old]


@pytest.mark.parametrize(("raised", "long"), [(5.9, 5), (6.9, 6), (8.0, 6), (8.9, 8), (20.0, 16)])
def test_the_longest_ones_are_taken_under_which_a_post_takes_the_stud(raised: float, long: float) -> None:
    """6.4 + raised, less the stud of 6, 0.5 for its tip and two layers of 0.4: 6.4 + 5.9 - 7.3 = 5."""
    assert offer(wren(raised), "standoff") == PutJoint(
        joint=OwnJoint(of="posts/board", holding="standoff", standoff_mm=long)
    )
    after = apply(wren(raised), offer(wren(raised), "standoff"))
    assert not new(after, wren(raised))


def test_posts_are_shorter_by_the_standoff_and_take_its_stud() -> None:
    """6.4 + 8 - 6 = 8.4 high; a hole of 6.5 in them, and 1.9 of floor under it."""
    d = on_standoffs()
    a = looked(d)
    base = mk.evaluate(a.recipes["base"], mk.FILE_TOL)
    posts = [m for m in a.case.mounts if m.of == "board"]
    assert len(posts) == 4 and all(m.standoff_mm == 6 and m.top_mm == pytest.approx(8.4) for m in posts)
    for m in posts:

        def of(d_mm: float, start: float, end: float, m=m) -> mk.Manifold:  # type: ignore[no-untyped-def]
            return mk.evaluate(bore((*m.at, 0.0), (0.0, 0.0, 1.0), d_mm, start, end), mk.FILE_TOL)

        assert (base ^ of(m.od_mm, 8.45, 14.3)).volume() < 1e-3  # there the standoff stands
        assert (base ^ of(m.hole_mm - 0.05, 1.95, 8.35)).volume() < 1e-3  # the stud goes in
        floor = of(m.hole_mm, 1.0, 1.85)
        assert (base ^ floor).volume() > 0.99 * floor.volume()
        ring = of(m.od_mm - 0.1, 3.2, 8.3) - of(m.hole_mm + 0.05, 3.0, 9.0)
        assert (base ^ ring).volume() > 0.99 * ring.volume() > 5.1 * pi
        assert m.box.hi[2] == pytest.approx(14.4)  # what may stand beside it keeps off the standoff too
    # the board is where it was
    assert (
        next(t for t in a.things if t.id == "board").frame
        == next(t for t in looked(wren(8.0)).things if t.id == "board").frame
    )


def test_two_lines_hold_it_and_the_bill_has_each_piece_once() -> None:
    """A stud of 6 in an insert of 4; on top a screw through 1.6 of board: 1.6 + 2.5 to 1.6 + 6 - 0.5, M2.5 x 5."""
    stud, top = row(on_standoffs(), "posts/board"), row(on_standoffs(), "on/board")
    g = stud.joint
    assert (g.name, g.holds, g.into, g.count, g.head, g.holding) == (
        "standoffs of Board",
        "standoff",
        "base",
        4,
        "stud",
        "insert",
    )
    assert (g.screw_mm, g.most_mm, stud.held_by, stud.reach.free) == (6.0, 6.0, "standoff", True)
    assert [(x.what, x.from_mm, x.to_mm) for x in g.layers] == [("insert", 0.0, 4.0), ("base", 4.0, 6.5)]
    g = top.joint
    assert (g.name, g.into, g.count, g.screw_mm, g.holding) == (
        "Board on its standoffs",
        "standoff",
        4,
        5.0,
        "standoff",
    )
    assert (g.least_mm, g.most_mm) == (pytest.approx(4.1), pytest.approx(7.1)) and top.reach.free
    bill = {(x.item, x.size): (x.count, x.use) for x in looked(on_standoffs()).bill if "Board" in x.use}
    assert bill[("standoff, with stud", "M2.5 x 6")] == (4, "Board on its standoffs")
    assert bill[("heat-set insert", "M2.5 x 4")] == (4, "standoffs of Board")
    assert bill[("screw, socket cap", "M2.5 x 5")] == (4, "Board on its standoffs")
    before = {(x.item, x.size, x.use) for x in looked(wren(8.0)).bill}
    assert not [x for x in before if "standoff" in x[0]]


def test_one_way_back_and_all_others() -> None:
    d = on_standoffs()
    assert [h.holding for h in row(d, "posts/board").holdings][-1] == "standoff"
    assert apply(d, offer(d, "insert")) == wren(8.0)  # as all posts are held
    nuts = apply(d, offer(d, "nut from below"))
    assert nuts.joint("posts/board") == OwnJoint(of="posts/board", holding="nut from below")
    # where all posts are held by nuts a stud has its insert; where by plastic, plastic
    for all_by, own in (("nut from below", "insert"), ("captive nut", "insert"), ("cut in plastic", "cut in plastic")):
        a = looked(apply(d, Set(path="shell.post_thread", value=all_by)))
        assert {m.holding for m in a.case.mounts if m.standoff_mm} == {own}
    # a screw that a hand chose for the board is its own
    long = apply(d, PutJoint(joint=OwnJoint(of="on/board", screw_mm=8)))
    assert row(long, "on/board").joint.screw_mm == 8
    assert [f.title for f in judge(looked(long)) if "on its standoffs" in f.title] == [
        "The screws of Board on its standoffs are too long by 0.9 mm"
    ]


def test_a_board_that_stands_too_low_is_told_with_both_ways_out() -> None:
    """6.4 - 5 = 1.4 of post and floor: a hole of 0.6 where the stud wants 6.5."""
    d = on_standoffs(0.0)
    (f,) = [f for f in judge(looked(d)) if f.code == "post-too-short"]
    assert (f.severity, f.measured, f.limit) == ("stop", pytest.approx(0.6), 6.5)
    assert [r.label for r in f.remedies] == ["Hold it on its posts, without standoffs", "Raise Board by 5.9 mm"]
    assert [c for s, c in new(d, wren()) if s == "stop"] == ["post-too-short"]
    assert apply(d, Together(edits=f.remedies[0].edits)) == wren()
    # 12 long ones where 6 would do: taken instead with one press
    d = apply(wren(8.0), PutJoint(joint=OwnJoint(of="posts/board", holding="standoff", standoff_mm=12)))
    (f,) = [f for f in judge(looked(d)) if f.code == "post-too-short"]
    assert f.remedies[0].label == "Take standoffs of 6 mm"
    assert apply(d, Together(edits=f.remedies[0].edits)) == on_standoffs()
    assert mk.evaluate(looked(d).recipes["base"]).volume() > 0 and not looked(d).faults


def test_a_board_above_stands_on_the_same_line() -> None:
    """Its bought standoffs' studs go into those below in place of screws."""
    above = StackOn(
        placement=Placement(id="upper", component="shield-power", name="Upper", at_mm=(0, 0, 0), on="board"),
        stand=Stand(standoff_mm=12, made="bought"),
    )
    d = apply(on_standoffs(), above)
    g = row(d, "on/board").joint
    assert (g.head, g.into, g.holding) == ("stud", "standoff", "standoff")
    assert row(d, "on/upper").joint.head == "socket cap"


@pytest.mark.parametrize(
    "joint",
    [
        {"of": "posts/board", "holding": "standoff"},
        {"of": "posts/board", "holding": "insert", "standoff_mm": 6},
        {"of": "face/fan", "holding": "standoff", "standoff_mm": 6},
        {"of": "posts/board", "holding": "standoff", "standoff_mm": 0},
        {"of": "posts/board", "holding": "standoff", "standoff_mm": 101},
    ],
)
def test_what_is_no_standoff_is_refused(joint: dict[str, object]) -> None:
    with pytest.raises(DesignError):
        read_edit({"do": "put-joint", "joint": joint})
