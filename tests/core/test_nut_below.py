"""Posts whose screws go right through to nuts under the floor: pockets measured on the mesh, the screws that serve, what is told."""

from __future__ import annotations

from math import cos, pi, radians, tan

import pytest
from manifold3d import CrossSection, OpType

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import POST_HOLDINGS
from rhombex.core.design import Design, OwnJoint, Placement, Stand
from rhombex.core.edits import Construct, Edit, Move, PrintPart, PutJoint, Set, StackOn, Together
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.hardware.strength import bears
from rhombex.core.shell.offers import usual
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import alone, judged

BELOW = Set(path="shell.post_thread", value="nut from below")
NUT_S, NUT_M, PITCH = 5.0, 2.0, 0.45  # M2.5: ISO 4032, ISO 261


def raised(d: Design, by: float, *more: Edit) -> Design:
    """Wren with nuts under its board, which stands higher by so much."""
    board = d.placement("board")
    assert board is not None
    x, y, z = board.at_mm
    return apply(d, Together(edits=(BELOW, Move(id="board", to_mm=(x, y, z + by)), *more)))


def look(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "none")


def section(a: Analysis, z: float, at: tuple[float, float], half: float = 3.2) -> CrossSection:
    """What is open of a square round a post at a height."""
    here = mk.evaluate(a.recipes["base"], mk.FILE_TOL).slice(z)
    square = CrossSection.square((2 * half, 2 * half), True).translate(at)
    return CrossSection.batch_boolean([square, here], OpType.Subtract)


def test_pocket_steps_and_hole_are_as_large_as_they_are_told(good_wren: Design) -> None:
    a = look(raised(good_wren, 0.9))
    posts = [m for m in a.case.mounts if m.of == "board"]
    assert len(posts) == 4
    for m in posts:
        # 1.6 of board and 7.3 of post and floor: 8 is the longest whose tip stays 0.5 in; nut and a thread of it 2.45
        assert (m.top_mm, m.screw_mm) == (pytest.approx(7.3), 8)
        assert m.pocket_mm == pytest.approx(1.6 + 7.3 - 8 + NUT_M + PITCH)
        assert m.engagement_mm == pytest.approx(NUT_M + PITCH) and m.passed_mm == pytest.approx(1.6)
        across, hole, deep = NUT_S + 0.3, m.hole_mm, m.pocket_mm
        six = section(a, deep - 0.05, m.at)
        assert six.area() == pytest.approx(across**2 * 3**0.5 / 2, rel=1e-3)
        x0, y0, x1, y1 = six.bounds()
        assert (x1 - x0, y1 - y0) == (
            pytest.approx(across / cos(radians(30)), abs=2e-3),
            pytest.approx(across, abs=2e-3),
        )
        layer = 0.2
        slot = section(a, deep + layer / 2, m.at)  # the first layer over the pocket leaves a slot, as wide as the hole
        x0, y0, x1, y1 = slot.bounds()
        assert (x1 - x0, y1 - y0) == (
            pytest.approx(across / cos(radians(30)), abs=2e-3),
            pytest.approx(hole, abs=0.03),
        )  # chords
        square = section(a, deep + 1.5 * layer, m.at)
        assert square.area() == pytest.approx(hole**2, rel=2e-3)
        for z in (deep + 2.5 * layer, m.top_mm - 0.1):
            upper = section(a, z, m.at)
            assert upper.area() == pytest.approx(pi / 4 * hole**2, rel=5e-3)


def test_no_support_is_wanted_and_nothing_hangs(good_wren: Design) -> None:
    d = raised(good_wren, 0.5)
    before = {f.key for f in judged(good_wren, "tips-over") if f.severity != "advice"}
    assert {f.key for f in judged(d, "tips-over") if f.severity != "advice"} <= before
    held = PrintPart(part="base", process=good_wren.process_of("base").model_copy(update={"supports": True}))
    base = next(p for p in analyse(apply(d, held), ARCHIVE_WORKSHOP, "settled").pieces if p.part == "base")
    inserts = apply(d, Set(path="shell.post_thread", value="insert"))
    plain = next(p for p in analyse(apply(inserts, held), ARCHIVE_WORKSHOP, "settled").pieces if p.part == "base")
    assert base.estimate and plain.estimate
    assert base.estimate.support_g == pytest.approx(plain.estimate.support_g, abs=1e-3)


def test_the_table_has_their_screws_nuts_and_what_they_bear(good_wren: Design) -> None:
    a = look(raised(good_wren, 0.5))
    (g,) = [g for g in a.joints if g.key == "posts/board"]
    # 1.6 + 2 + 2.45 to 8.5 - 0.5
    assert (g.least_mm, g.most_mm, g.serves) == (pytest.approx(6.05), pytest.approx(8.0), (8.0,))
    assert [(x.what, round(x.from_mm, 2), round(x.to_mm, 2)) for x in g.layers] == [
        ("Board", 0.0, 1.6),
        ("base", 1.6, 5.55),
        ("nut", 5.55, 7.55),
    ]
    assert g.end_mm == pytest.approx(8.5)
    # the six sides of the nut, 17.32 mm round, through 3.95 of plastic
    tau = bears(g, "PETG").low_n / (6 * NUT_S * tan(radians(30)) * 3.95)  # type: ignore[operator]
    slid = raised(good_wren, 3.0, Set(path="shell.post_thread", value="captive nut"))
    other = next(x for x in look(slid).joints if x.key == g.key)
    assert bears(other, "PETG").low_n == pytest.approx(tau * 6 * NUT_S * tan(radians(30)) * 2.0)
    assert [(x.item, x.size, x.count) for x in a.bill if x.item == "nut" and x.use == "Board"] == [("nut", "M2.5", 4)]
    row = next(r for r in hardware_table(a).rows if r.joint.key == g.key)
    assert [h.holding for h in row.holdings] == [*POST_HOLDINGS, "standoff"]
    assert row.tip_mm == pytest.approx(0.5)
    for h in row.holdings[:-1]:  # a standoff's stud has an insert here
        now = look(apply(a.design, h.edit))
        assert {x.holding for x in now.joints if x.key == g.key} == {h.holding}
    assert "nut from below" not in [
        h.holding for r in hardware_table(a).rows if not r.joint.key.startswith("posts/") for h in r.holdings
    ]


@pytest.mark.parametrize(
    ("length", "title", "measured", "limit"),
    [
        # its tip would stand out of the pocket, which is as shallow as 2.45 + 0.5
        (10, "The screws of Board are too long for its posts", 10 - (1.6 + 6.9 - 2.95), 2.45),
        # the pocket is as deep as 2 of plastic let it be
        (5, "The screws of Board have too little thread in its posts", 5 - (1.6 + 2.0), 2.45),
    ],
)
def test_a_screw_of_ones_own_is_told_where_it_does_not_serve(
    good_wren: Design, length: float, title: str, measured: float, limit: float
) -> None:
    d = raised(good_wren, 0.5, PutJoint(joint=OwnJoint(of="posts/board", screw_mm=length)))
    (f,) = alone(d, "mount-screw-length")
    assert (f.severity, f.title, f.measured, f.limit) == ("stop", title, pytest.approx(measured), pytest.approx(limit))
    for r in f.remedies:
        assert not alone(apply(d, Together(edits=r.edits)), "mount-screw-length"), r.label


def test_where_no_length_serves_the_post_is_made_higher(good_wren: Design) -> None:
    d = raised(good_wren, 0.0)  # 6.05 to 7.5: nothing between 6 and 8
    (f,) = alone(d, "mount-screw-length")
    assert (f.severity, f.measured, f.limit) == ("stop", 6, pytest.approx(6.05))
    (r,) = f.remedies
    assert r.label == "Raise Board by 0.5 mm"
    assert not alone(apply(d, Together(edits=r.edits)), "mount-screw-length")


def test_a_post_that_is_too_low_for_nut_and_plastic_is_told(good_wren: Design) -> None:
    need = NUT_M + PITCH + 0.5 + 2.0
    low = raised(good_wren, 0.0, Set(path="shell.floor_mm", value=1.5))
    top = next(m.top_mm for m in look(low).case.mounts if m.of == "board")
    assert top == pytest.approx(need - 0.05, abs=0.06)
    d = raised(low, -0.5)
    (f,) = [x for x in alone(d, "post-too-short") if x.subjects == ("board",)]
    assert (f.severity, f.measured, f.limit) == ("weigh", pytest.approx(top - 0.5), pytest.approx(need))
    assert not [
        x for x in alone(apply(d, Together(edits=f.remedies[0].edits)), "post-too-short") if x.subjects == ("board",)
    ]


def test_feet_keep_off_the_pockets(good_wren: Design) -> None:
    """The board is moved until a post of it stands over a foot."""
    start = look(good_wren)
    board, foot = good_wren.placement("board"), start.case.feet[0]
    post = next(m for m in start.case.mounts if m.of == "board")
    assert board is not None
    x, y, z = board.at_mm
    over = Move(id="board", to_mm=(x + foot[0] - post.at[0], y + foot[1] - post.at[1], z))

    def nearest(d: Design) -> float:
        case = look(d).case
        posts = [m.at for m in case.mounts if m.of == "board"]
        return min(((u - p[0]) ** 2 + (v - p[1]) ** 2) ** 0.5 for u, v in case.feet for p in posts)

    pocket = 5.3 / cos(radians(30))
    assert nearest(apply(good_wren, over)) < 1  # an insert leaves the floor whole
    assert nearest(apply(good_wren, Together(edits=(over, BELOW)))) > start.case.foot_d_mm / 2 + pocket / 2


def test_a_standoffs_stud_and_posts_beside_an_edge_have_inserts(good_wren: Design) -> None:
    """A stud is too short for a nut under the floor."""
    upper = Placement(id="upper", component="sbc-85x56", name="Upper", at_mm=(0, 0, 0), on="board")
    bare = raised(good_wren, 0.5)
    d = apply(bare, StackOn(placement=upper, stand=Stand(standoff_mm=20)))
    studs = [m for m in look(d).case.mounts if m.of == "board" and m.stud]
    assert studs and {m.holding for m in studs} == {"insert"} and {m.pocket_mm for m in studs} == {0.0}
    printed = apply(bare, StackOn(placement=upper, stand=Stand(standoff_mm=20, made="printed")))
    (m, *_) = [m for m in look(printed).case.mounts if m.of == "board"]
    # 1.6 + 20 + 1.6 of boards and spacer, 6.9 of post: 30 is too long by 0.4, 25 wants the pocket 7.55 deep: too deep by 2.65
    assert m.passed_mm == pytest.approx(23.2) and m.screw_mm is None


@pytest.mark.parametrize("kind", ["two halves", "tray in a sleeve", "core and wrap", "frame and covers", "open bench"])
def test_every_construction_with_a_floor_has_them_and_goes_out(good_wren: Design, kind: str) -> None:
    d = raised(good_wren, 0.5)
    made = apply(d, Construct(construction=usual(d, kind))) if kind != "two halves" else d  # type: ignore[arg-type]
    a = analyse(made, ARCHIVE_WORKSHOP, "preview")
    assert {m.holding for m in a.case.mounts if m.of == "board"} == {"nut from below"} and a.faults == ()
    assert all(p.watertight for p in a.pieces)
    told = {f.code for f in judge(a)}
    assert not told & {"rule-broke", "not-worked-out", "part-not-whole", "piece-in-bodies", "parts-overlap"}
    if kind == "two halves":
        assert package(a, ("stl", "step"), only=("base",))  # mesh and STEP agree, or it is refused
