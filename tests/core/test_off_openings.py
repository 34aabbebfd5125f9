"""Screws keep off what a wall is open for; what they cannot keep off is told, measured by hand and in the mesh."""

from __future__ import annotations

from dataclasses import replace
from math import hypot

import pytest

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import (
    CoreAndWrap,
    CornersAndSheet,
    FrameAndCovers,
    OpenBench,
    SlidingPanels,
    TrayInASleeve,
    TwoHalves,
)
from rhombex.core.design import Brief, Design, Placement, Shell
from rhombex.core.edits import Construct, FitCavity, Move, MoveWall, PlaceNew, Remove, StandOnFeet, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.openings.opening import outline
from rhombex.core.parts import library
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import SCENARIOS

from ..made import _bar, _screws
from ..rough import shaped


def looked(d: Design) -> Analysis:
    return shaped(d)


@pytest.fixture(scope="module")
def in_sheet() -> Design:
    return SCENARIOS["curlew-in-sheet"]()


def met(a: Analysis) -> list[str]:
    """Side screws whose head, 3 mm about its middle, reaches over an opening of its cover."""
    out = []
    for j in a.case.joints:
        for o in (o for o in a.openings.openings if j.holds in o.parts):
            face = a.case.face(o.face)
            if abs(face.frame.z[2]) < 0.5 and abs(j.along[2]) < 0.5:
                (u, v), (u0, v0, u1, v1) = face.on(j.at), outline(o)
                if hypot(max(u0 - u, u - u1, 0.0), max(v0 - v, v - v1, 0.0)) < 3.0:
                    out.append(f"{j.id} {o.id}")
    return out


def test_a_screw_with_no_place_beside_a_port_is_left_out_and_said(in_sheet: Design) -> None:
    """The plug of the network port takes 9.47 to 25.5 mm of a corner of 3 to 23, 9.7 to 25.8 high; a corner is 26 high."""
    a = looked(in_sheet)
    assert met(a) == [] and len(a.case.joints) == 23
    told = next(f for f in judge(a) if f.code == "lid-screws-missing")
    assert (told.measured, told.limit, told.severity) == (23, 24, "weigh")
    better = looked(apply(in_sheet, told.remedies[0].edits[0]))
    assert len(better.case.joints) == 24 and met(better) == []


def test_an_opening_for_a_port_into_a_screw_under_it_is_told(in_sheet: Design) -> None:
    """The screw through the floor reaches up to 3.4 + 6.9 = 10.3; the opening, 16.06 high about 17.75, begins at 9.72. Moved 5.3 mm on, it begins
    at 9.47 + 5.3 = 14.8, past the 10 + 3.2 that the screw takes; that leaves the ports at the front too deep, so that walls without corner pieces are first."""
    f = next(f for f in judge(looked(in_sheet)) if f.code == "opening-meets-screw")
    assert f.severity == "stop" and f.subjects == ("board/network",)
    assert f.measured == pytest.approx(9.72 - 10.3, abs=0.01) and f.limit == 0.0
    assert [r.label.split(",")[0] for r in f.remedies] == [
        "Make the case in two halves",
        "Move the front wall out by 5.3 mm",
    ]
    after = judge(looked(apply(in_sheet, f.remedies[1].edits[0])))
    assert any(x.code == "port-too-deep" for x in after)
    assert not [x for x in after if x.code == "opening-meets-screw"]


def frame() -> Design:
    """A board of 85 x 56 whose ports look to the right and the front, walled in as frame and covers, 60 mm high inside."""
    d = Design(
        name="Kite",
        brief=Brief(),
        placements=(Placement(id="board", component="sbc-85x56", name="Board", at_mm=(70.0, 40.0, 6.0)),),
        shell=Shell(inner_mm=(160.0, 120.0, 60.0), construction=FrameAndCovers()),
    )
    return apply(apply(d, FitCavity()), MoveWall(face="top", by_mm=40.0))


def test_ports_on_both_sides_of_a_corner_are_served_by_walls_without_columns(good_wren: Design) -> None:
    """The network port of *Wren*'s board looks left before the front beam, its other ports look to the front: whatever way it is moved, one of the two is
    lost. The first way past the screws is a case without beams; the move comes after, and brings a port that is too deep."""
    d = apply(good_wren, Construct(construction=FrameAndCovers()))
    f = next(f for f in judge(looked(d)) if f.code == "opening-meets-screw")
    assert f.subjects == ("board/network",)
    plain, move = f.remedies
    assert plain.label == "Make the case in two halves, with walls of 4 mm" and move.label.startswith("Move Board")
    halves, moved = (effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits) for r in f.remedies)
    assert halves.clears and list(halves.new) == ["The wall is 9.7 lines thick"]  # the rim would stand in the board
    assert moved.clears and any("too deep for its plug" in x for x in moved.new)


def test_a_side_screw_goes_up_its_beam_past_a_port() -> None:
    """Where a beam is high enough its screw moves along it: plastic round its thread and under its head, nothing in its way."""
    d = frame()
    shifted = apply(d, MoveWall(face="front", by_mm=-14.0))  # the network port comes before a beam
    a = looked(shifted)
    usual = {j.id: j.at[2] for j in looked(d).case.joints}
    moved = [j for j in a.case.joints if abs(j.at[2] - usual[j.id]) > 0.1]
    assert len(moved) >= 1 and met(a) == []
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    for j in moved:
        thread = _bar(j.at, j.along, 0.3, j.hole_depth_mm - 0.3, j.hole_mm / 2 + 0.8) - _bar(
            j.at, j.along, -1.0, j.hole_depth_mm + 1.0, j.hole_mm / 2 + 0.1
        )
        assert (parts[j.into] ^ thread).volume() == pytest.approx(thread.volume(), rel=0.02)
        assert (parts[j.into] ^ _bar(j.at, j.along, 0.1, j.hole_depth_mm - 0.1, 0.93 * j.hole_mm / 2)).volume() < 0.01


def test_drawn_walls_keep_openings_off_the_corners(in_sheet: Design) -> None:
    """A corner of 14 behind a sheet of 3 ends at 17 and a gap of 0.05; the plug's 16.5 and 1.5 of wall beside it begin there. Drawn once is drawn."""
    drawn = apply(in_sheet, walls_round(looked(in_sheet)))
    a = looked(drawn)
    network = next(o for o in a.openings.openings if o.id == "board/network")
    assert network.at_mm[0] - 16.5 / 2 - 1.5 == pytest.approx(17.05, abs=0.02)
    assert network.parts == ("sheet-right",)
    assert not [f for f in judge(a) if f.code in ("opening-meets-screw", "lid-screws-missing")]
    assert list(_screws(a, [])) == []
    assert apply(drawn, walls_round(a)) == drawn


def test_a_boss_of_a_lid_screw_keeps_off_a_wide_opening() -> None:
    """A desktop board's rear plate is open over 160 mm of the back wall, 103 to 263 from the left: the boss that would stand in the middle of
    287.9 stands beside it."""
    d = Design(
        name="Crane",
        placements=(Placement(id="board", component="board-mini-itx", name="Board", at_mm=(95.0, 107.06, 8.0)),),
        shell=Shell(inner_mm=(280.0, 237.06, 90.0), wall_mm=3.93, construction=TwoHalves(joint_mm=49.2)),
    )
    a = looked(d)
    plate = next(o for o in a.openings.openings if o.face == "back")
    width, left = plate.size_mm[0], a.case.box_mm[0] - plate.at_mm[0]  # the face is seen from behind
    assert left - width / 2 < a.case.box_mm[0] / 2 < left + width / 2
    at_back = [j for j in a.case.joints if a.case.box_mm[1] - j.at[1] < j.od_mm / 2 + 3.93]
    assert len(at_back) >= 2
    for j in at_back:
        assert not left - width / 2 - j.od_mm / 2 < j.at[0] < left + width / 2 + j.od_mm / 2


def test_a_post_over_any_edge_of_a_plate_is_told(good_wren: Design) -> None:
    """What hangs over the edge of an open bench has no post there, in the mesh neither."""
    bench = apply(good_wren, Construct(construction=OpenBench()))
    room = looked(bench).case.box_mm
    for i, to in ((0, -14.0), (0, 100.0), (1, -46.0), (1, 40.0)):
        p = bench.placement("drive")
        at = tuple(x + (to if k == i else 0.0) for k, x in enumerate(p.at_mm))
        a = looked(apply(bench, Move(id="drive", to_mm=at)))
        over = [m for m in a.case.mounts if m.of == "drive" and not 0 < m.at[i] < room[i]]
        (f,) = [f for f in judge(a) if f.code == "post-off-the-plate"]
        assert f.severity == "stop" and len(over) == 2
        assert f.measured == pytest.approx(min(m.at[i] if to < 0 else room[i] - m.at[i] for m in over))
        plate = mk.evaluate(a.recipes["plate"], mk.FILE_TOL)
        for m in over:
            post = _bar((*m.at, m.top_mm), (0.0, 0.0, -1.0), 0.2, 1.0, m.od_mm / 2)
            assert (plate ^ post).volume() < 0.5 * post.volume()
        for r in f.remedies:
            after = looked(apply(apply(bench, Move(id="drive", to_mm=at)), Together(edits=r.edits)))
            assert not [x for x in judge(after) if x.code == "post-off-the-plate"], r.label


def test_a_screw_stays_under_a_bend() -> None:
    """A sheet bent with 20 mm over a corner of 20: 45 degrees are cut off it from 20 under the top. The screw through the bent side keeps its 3.2
    under that; the one beside it, 10 from the edge, may be 10 - 3.2 sqrt 2 higher."""
    d = Design(
        name="Plover",
        placements=(Placement(id="board", component="sbc-65x30", name="Board", at_mm=(90.0, 60.0, 6.0)),),
        brief=Brief(unneeded=tuple(f"board/{p.name}" for p in library()["sbc-65x30"].ports)),
        shell=Shell(
            inner_mm=(180.0, 120.0, 40.0),
            wall_mm=3.0,
            lid_mm=3.0,
            construction=CornersAndSheet(corner_mm=20.0, wrap="left to right", bend_mm=20.0),
        ),
    )
    a = looked(d)
    side = max(j.at[2] for j in a.case.joints if j.holds == "sheet-wrap")
    beside = max(j.at[2] for j in a.case.joints if j.holds == "sheet-front")
    assert side <= 43.0 - 20.0 - 3.2 + 1e-9
    assert beside <= 43.0 - 20.0 + 10.0 - 3.2 * 2**0.5 + 1e-9
    assert list(_screws(a, [])) == []
    tight = CornersAndSheet(corner_mm=20.0, wrap="left to right", bend_mm=36.0)
    b = looked(d.model_copy(update={"shell": d.shell.model_copy(update={"construction": tight})}))
    assert len(b.case.joints) < b.case.wanted_joints
    assert "lid-screws-missing" in {f.code for f in judge(b)} and list(_screws(b, [])) == []


def test_feet_keep_off_screws_that_come_up_through_the_floor(in_sheet: Design) -> None:
    """A foot of 10 keeps 1 mm from a head of 5.5 + 0.6: their middles are 5 + 1 + 3.05 apart at least, and one has come out of its corner."""
    for d in (in_sheet, apply(in_sheet, StandOnFeet(foot="printed", under=True))):
        a = looked(d)
        heads = [j for j in a.case.joints if j.along[2] > 0]
        assert len(heads) == 4 and len(a.case.feet) >= 4
        assert a.case.foot is not None
        for j in heads:
            for x, y in a.case.feet:
                assert hypot(x - j.at[0], y - j.at[1]) >= a.case.foot.d_mm / 2 + 1.0 + 6.1 / 2 - 1e-9
        assert list(_screws(a, [])) == []


def test_a_lug_of_a_core_stays_behind_a_thick_front() -> None:
    """With walls of 6 and corners of 2 the lugs begin behind the front's wall, with all their plastic."""
    d = Design(
        name="Dotterel",
        shell=Shell(inner_mm=(160.0, 120.0, 40.0), wall_mm=6.0, corner_radius_mm=2.0, construction=CoreAndWrap()),
    )
    a = looked(d)
    assert len(a.case.joints) == a.case.wanted_joints >= 4
    assert min(j.boss.lo[1] for j in a.case.joints) >= 6.0 and list(_screws(a, [])) == []


def test_a_lid_too_high_for_any_screw_sinks_its_heads() -> None:
    """A lid 66 mm high: of M3 the longest in stock is 50, so the head lies 66 - (50 - 3.5) = 19.5 under the top, an insert's three turns and one more below;
    measured through the mesh, where plastic begins beside the hole. Screws of 20 lie 49.5 deep."""
    d = Design(
        name="Heronry", shell=Shell(inner_mm=(150.0, 110.0, 90.0), floor_mm=3.0, construction=TwoHalves(joint_mm=27.0))
    )
    a = looked(d)
    assert {f.code for f in judge(a)} & {"lid-screw-length", "joint-not-reached"} == set()
    lid = mk.evaluate(a.recipes["lid"], mk.FILE_TOL)
    for j in a.case.joints:
        assert (j.screw_mm, j.grip_mm) == (50.0, pytest.approx(46.5)) and j.engagement_mm == pytest.approx(3.5)
        under_head = _bar(j.at, (0.0, 0.0, -1.0), -66.0, 0.0, 2.6) - _bar(j.at, (0.0, 0.0, -1.0), -67.0, 1.0, 2.4)
        _, _, _, _, _, top = (lid ^ under_head).bounding_box()
        assert top - j.at[2] == pytest.approx(46.5, abs=0.02)


def test_a_stack_between_two_lengths_offers_the_nearer_joint() -> None:
    """Where nothing may be sunk the joint moves to where a screw fits: the label says by how much, and it does."""
    d = Design(
        name="Heronry",
        shell=Shell(inner_mm=(150.0, 110.0, 90.0), construction=TwoHalves(joint_mm=27.0, lid_screw_mm=None)),
    )
    a = looked(d)
    j = a.case.joints[0].model_copy(update={"screw_mm": None, "grip_mm": 62.7, "passed_mm": 62.7})
    b = replace(a, case=a.case.model_copy(update={"joints": (j,)}), walls_key="")  # looked at anew
    f = next(x for x in judge(b) if x.code == "lid-screw-length")
    assert [r.label for r in f.remedies] == ["Raise the joint by 15.7 mm"]
    assert f.remedies[0].edits[0].value == pytest.approx(27.0 + 15.7)  # type: ignore[union-attr]


def test_drawn_walls_pass_posts_that_reach_over_their_component() -> None:
    """A drive's screws are 3.2 from its edge and its posts 5.53 thick to a side: the panel stands 5.53 - 3.2 + 0.3 beside it."""
    d = Design(
        name="Ruff",
        # what stands before and behind it is narrower, so that it is not the corners that move the walls
        placements=(
            Placement(id="drive", component="drive-3.5", name="Drive", at_mm=(90.0, 110.0, 9.0)),
            Placement(id="one", component="sbc-65x30", name="One", at_mm=(90.0, 15.0, 9.0)),
            Placement(id="two", component="sbc-65x30", name="Two", at_mm=(90.0, 205.0, 9.0)),
        ),
        brief=Brief(unneeded=tuple(f"{x}/{p.name}" for x in ("one", "two") for p in library()["sbc-65x30"].ports)),
        shell=Shell(inner_mm=(220.0, 240.0, 60.0), construction=SlidingPanels()),
    )
    drawn = apply(d, walls_round(looked(d)))
    a = looked(drawn)
    room = a.case.cavity
    tight = min(m.at[0] - m.od_mm / 2 for m in a.case.mounts) - room.lo[0]
    assert tight == pytest.approx(0.3, abs=0.02)
    for m in a.case.mounts:
        assert room.lo[0] + 0.3 - 0.011 <= m.at[0] - m.od_mm / 2 and m.at[0] + m.od_mm / 2 <= room.hi[0] - 0.3 + 0.011
    assert not [f for f in judge(a) if f.code in ("parts-overlap", "cannot-be-put-on")]
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    for side in ("left", "right"):
        assert (parts["base"] ^ parts[f"panel-{side}"]).volume() < 0.01


def test_a_flat_tray_gets_room_for_its_columns() -> None:
    """A riser fills a tray over its whole width, 23 high: screws of the end plate want room beside it and over it."""
    d = Design(
        name="Knot",
        placements=(Placement(id="riser", component="riser-200", name="Riser", at_mm=(50.0, 40.0, 6.0)),),
        shell=Shell(inner_mm=(120.0, 80.0, 26.0), construction=TrayInASleeve(opens="front")),
    )
    flat = apply(d, walls_round(looked(d)))
    f = next(f for f in judge(looked(flat)) if f.code == "lid-screws-missing")
    assert [r.label for r in f.remedies] == ["Move the left, the right and the top walls out by 10 mm"]
    assert "lid-screws-missing" not in {x.code for x in judge(looked(apply(flat, Together(edits=f.remedies[0].edits))))}


@pytest.mark.parametrize(
    ("joint_mm", "high_mm"),
    [
        (1.0, 60.0),  # 4 mm of base have no hole for three turns
        (900.0, 1900.0),  # nearly a metre down: no driver is so long
    ],
)
def test_a_head_is_sunk_only_where_it_holds_and_is_reached(joint_mm: float, high_mm: float) -> None:
    """Else there is no screw, and that is told."""
    d = Design(
        name="Stork",
        shell=Shell(inner_mm=(150.0, 110.0, high_mm), floor_mm=3.0, construction=TwoHalves(joint_mm=joint_mm)),
        printer="bench-300",
    )
    a = looked(d)
    assert all(j.screw_mm is None and j.head_depth_mm < 5.0 for j in a.case.joints)
    f = next(f for f in judge(a) if f.code == "lid-screw-length")
    assert f.severity == "stop" and f.title == "No stock screw fits the lid's stack"


@pytest.mark.parametrize("aside", [0.0, 6.0, 30.0])
def test_columns_of_a_sleeve_keep_off_what_its_end_plate_is_open_for(aside: float) -> None:
    """A board's I/O plate is wider than the connectors behind it: a column beside those would stand in the opening. By 0.4 mm of air at the least."""
    d = SCENARIOS["heron"]()
    for p in d.placements:
        if p.id != "board" and any(x.id == p.id for x in d.placements):
            d = apply(d, Remove(id=p.id))
    edits = (
        Construct(construction=TrayInASleeve(opens="back")),
        walls_round(looked(d)),
        MoveWall(face="right", by_mm=66),
        MoveWall(face="top", by_mm=-11),
    )
    d = apply(d, Together(edits=edits))
    x = d.placement("board").at_mm[0]
    a = looked(apply(d, Move(id="board", to_mm=(x + aside, None, None))))
    (hole,) = (o for o in a.openings.openings if o.face == "back")
    (u0, v0, u1, v1), face = outline(hole), a.case.face("back")
    assert len(a.case.joints) >= 3 and met(a) == []
    for j in a.case.joints:
        u, v = face.on(j.at)
        assert hypot(max(u0 - u, u - u1, 0.0), max(v0 - v, v - v1, 0.0)) >= j.od_mm / 2 + 0.4 - 1e-6
    assert "opening-meets-screw" not in {f.code for f in judge(a)}


@pytest.mark.parametrize(
    ("back", "gussets"), [(0.0, "No gussets"), (14.0, "Gussets of 12 mm"), (8.0, "Gussets of 8 mm")]
)
def test_a_board_in_an_uprights_gussets_is_told_of_shorter_ones_and_of_a_way_past(
    good_wren: Design, back: float, gussets: str
) -> None:
    """The button's upright at the front is 2.89 thick, its gussets are 20 long; the connectors of the board begin 3.39 from the front, and so far back more."""
    bare = Together(edits=(Construct(construction=OpenBench()), Remove(id="drive"), Remove(id="fan")))
    x, y, z = good_wren.placement("board").at_mm  # type: ignore[union-attr]
    d = apply(apply(good_wren, bare), Move(id="board", to_mm=(x - 40, y + back, z)))
    f = next(f for f in judge(looked(d)) if f.code == "component-in-part" and f.subjects[0] == "board")
    told = [r.label.split(" mm right")[0] for r in f.remedies]
    assert told == [gussets, "Draw the walls round the components", "Move Board 39.9", "Take Board out"]
    for r in f.remedies[:-1]:
        assert effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits).clears, r.label


def test_a_card_whose_window_meets_a_screw_moves_with_its_board() -> None:
    """The card is held by its slot: its board goes along, 73.4 mm of window under the boss of a screw of the lid."""
    shell = Shell(inner_mm=(329.76, 441.25, 104.72), wall_mm=3.15, construction=TwoHalves(joint_mm=96.72))
    d = Design(name="x", shell=shell, printer="bench-300")
    for key in ("board-atx", "card-1-low-upright"):
        d = apply(d, PlaceNew(component=key))
    d = apply(d, Move(id="board", to_mm=(176.18, 300.45, 6.0)))
    (f,) = [f for f in judge(looked(d)) if f.code == "opening-meets-screw"]
    assert f.severity == "stop" and f.title.startswith("Card bracket") and f.measured == pytest.approx(-1.3, abs=0.1)
    assert f.remedies
    for r in f.remedies:
        then = apply(d, Together(edits=r.edits))
        assert not [g for g in judge(looked(then)) if g.code in ("opening-meets-screw", "rider-not-seated")], r.label
