"""Brackets that press displays to their walls: bosses, holes and flanges measured on the mesh, where they stand, what they are screwed with."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from math import pi

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.bodies import body_in
from rhombex.core.bench.gaps import hard
from rhombex.core.constructions import CoreAndWrap, CornersAndSheet, FrameAndCovers, OpenBench, SlidingPanels, TwoHalves
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design, OwnOpening, Placement
from rhombex.core.edits import Add, Construct, Move, PutOwnOpening, Set, Swap
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import Union, block
from rhombex.core.parts import library
from rhombex.core.plain import DesignError
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import dunlin, heron, heron_sliding
from tests.conftest import alone, findings

ROOM = (260.0, 150.0, 180.0)


@cache
def listening_post() -> Analysis:
    """*Dunlin*: a 7-inch display, 20 mm deep, on a printed cover of 3.72 mm."""
    return analyse(dunlin(), ARCHIVE_WORKSHOP, "preview")


def with_display(key: str, kind: object, face: str = "front", at: tuple[float, float, float] | None = None) -> Design:
    """A roomy case with nothing in it but a display in the middle of a face."""
    d = dunlin()
    shell = d.shell.model_copy(update={"inner_mm": ROOM, "feet": False})
    bare = d.model_copy(update={"placements": (), "leads": (), "vents": (), "openings": (), "adapters": ()})
    bare = apply(bare.model_copy(update={"shell": shell}), Construct(construction=kind))  # type: ignore[arg-type]
    middle = {"front": (130.0, 0.0, 90.0), "left": (0.0, 75.0, 90.0), "top": (130.0, 75.0, 180.0)}[face]
    p = Placement(id="panel", component=key, name="Panel", at_mm=at or middle, face=face)  # type: ignore[arg-type]
    return Design.model_validate(bare.model_copy(update={"placements": (p,)}).model_dump())


def volume(a: Analysis, part: str, box: tuple[float, float, float, float, float, float]) -> float:
    """How much of a part stands in a box, mm3."""
    x, y, z, u, v, w = box
    return float((mk.evaluate(a.recipes[part], mk.FILE_TOL) ^ mk.evaluate(block(Box((x, y, z), (u, v, w))))).volume())


def test_bosses_stand_beside_the_frame_and_no_hole_shows_in_front() -> None:
    """M3 inserts: 2 x 4.6 = 9.2 wide, their holes 4.0 wide and 5.7 + 1.2 deep, so the bosses are 6.9 high. A bracket's 3 mm rise beside the
    frame with 0.3 before and behind it: the screw is 3.6 + 4.6 = 8.2 from the edge."""
    a = listening_post()
    display = next(t for t in a.things if t.id == "display")
    frame = next(s.box for s in hard(display) if s.role == "body")
    inner = 3.72
    assert frame.lo[1] == pytest.approx(inner) and frame.hi[1] == pytest.approx(inner + 20)
    assert len(a.case.brackets) == 4
    for b in a.case.brackets:
        x, y, z = b.screw.at
        beside = frame.lo[2] - z if b.side == "bottom" else z - frame.hi[2]
        assert beside == pytest.approx(8.2) and y == pytest.approx(inner + 6.9)
        around = (x - 5, inner + 3.0, z - 5, x + 5, inner + 3.2, z + 5)
        hole = b.screw.hole_mm
        assert hole == pytest.approx(4.0, abs=0.35)
        assert volume(a, "cover-front", around) == pytest.approx(0.2 * pi / 4 * (9.2**2 - hole**2), rel=4e-3)
        high = (
            x - 4,
            inner + 0.5,
            z - 0.1,
            x + 4,
            inner + 12,
            z + 0.1,
        )  # the walls beside the hole, as high as the boss
        assert volume(a, "cover-front", high) == pytest.approx(0.2 * (8 - hole) * 6.4, rel=1e-2)
        front = (x - 2, 0.0, z - 2, x + 2, inner, z + 2)
        assert volume(a, "cover-front", front) == pytest.approx(16 * inner, rel=1e-6)
    assert mk.bodies(mk.evaluate(a.recipes["cover-front"], mk.FILE_TOL)) == 1


def test_a_bracket_reaches_over_the_frame_and_keeps_a_strip_of_foam_free() -> None:
    """Flange 20 + 0.5 over the wall and 4 over the frame; foot 6.9 over the wall, from 0.3 to 8.2 + 4.6 = 12.8 beside it. From the side 4.3 x 3 before the
    riser, 3 x 16.6 of riser and 9.5 x 3 of foot beyond it; 9.2 wide, less the hole."""
    a = listening_post()
    display = next(t for t in a.things if t.id == "display")
    frame = next(s.box for s in hard(display) if s.role == "body")
    name, inner = "brackets-display", 3.72
    b = next(b for b in a.case.brackets if b.side == "top")
    x, edge = b.screw.at[0], frame.hi[2]
    probe = (x - 0.5, inner - 5, edge - 3.9, x + 0.5, inner + 20.49, edge - 0.1)
    assert volume(a, name, probe) == 0  # the strip of foam
    lap = (x - 4.6, inner + 20.5, edge - 10, x + 4.6, inner + 23.5, edge)
    assert volume(a, name, lap) == pytest.approx(9.2 * 3 * 4.0, rel=1e-6)
    assert volume(a, name, (x - 9, inner, edge, x + 9, inner + 20, edge + 0.29)) == 0
    assert volume(a, name, (x - 9, 0, edge + 3.31, x + 9, inner + 6.89, edge + 30)) == 0  # the boss stands there
    hole = pi / 4 * b.screw.clearance_mm**2 * 3
    side = 4.3 * 3 + 3 * (20.5 + 3 - 6.9) + 9.5 * 3
    whole = mk.evaluate(a.recipes[name], mk.FILE_TOL)
    assert whole.volume() == pytest.approx(4 * (side * 9.2 - hole), rel=1e-3)
    assert mk.bodies(whole) == 4 and b.screw.clearance_mm == pytest.approx(3.4, abs=0.45)


def test_they_lie_on_their_side_one_behind_another() -> None:
    """So that lines run through foot, riser and flange: as high on the bed as they are wide."""
    piece = next(p for p in listening_post().pieces if p.part == "brackets-display")
    assert (piece.bbox_mm[0], piece.bbox_mm[2]) == (pytest.approx(4 + 12.8), pytest.approx(9.2))
    assert piece.bodies == 4 and piece.watertight and piece.fits_bed
    assert piece.estimate is not None and piece.estimate.support_g == 0


def test_the_bill_has_four_short_screws_and_inserts_and_no_nuts() -> None:
    """3 passed and at least 3 of thread: M3 x 6."""
    a = listening_post()
    g = next(g for g in a.joints if g.key == "face/display")
    assert (g.count, g.screw_mm, g.grip_mm, g.into, g.holding) == (4, 6.0, 3.0, "cover-front", "insert")
    mine = {(x.item, x.size, x.count) for x in a.bill if "brackets" in x.use}
    foam = ("foam strip, 1 mm thick", "9 x 4 mm", 4)
    assert mine == {("screw, socket cap", "M3 x 6", 4), ("heat-set insert", "M3 x 5.7", 4), foam}
    assert all(r.free for g, r in zip(a.joints, a.reach, strict=True) if g.key == "face/display")


@pytest.mark.parametrize(
    ("key", "deep", "high", "reach"),
    [
        ("display-0.96", 4.1, 6.9, 4.6),  # a thin one: the flange hooks down from the foot
        ("display-3.5", 8.0, 8.5, 8.5),  # the boss grows to the flange: a flat bar
        ("display-10.1", 12.0, 12.5, 12.5),
        ("display-7", 20.0, 6.9, 20.5),
    ],
)
def test_bosses_are_as_high_as_inserts_want_or_as_the_frame_is_deep(
    key: str, deep: float, high: float, reach: float
) -> None:
    a = analyse(with_display(key, FrameAndCovers()), ARCHIVE_WORKSHOP, "preview")
    assert a.case.brackets and not a.faults
    for b in a.case.brackets:
        assert (b.high_mm, b.reach_mm) == (pytest.approx(high), pytest.approx(reach)), deep
    m = mk.evaluate(a.recipes["brackets-panel"], mk.FILE_TOL)
    inner = a.case.face("front").thick_mm
    low, top = m.bounding_box()[1] - inner, m.bounding_box()[4] - inner
    assert (low, top) == (pytest.approx(min(high, reach)), pytest.approx(max(high, reach) + 3))
    assert mk.bodies(m) == len(a.case.brackets) and mk.watertight(m)


def test_on_a_wall_that_prints_upright_a_slope_of_45_degrees_carries_the_boss() -> None:
    """6.9 high: under it the slope begins 6.9 farther down. Half way up it is 3.45 long; over the boss there is none, and so none beside a display's upper edge."""
    d = with_display("display-7", TwoHalves(joint_mm=170))
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    assert {b.side for b in a.case.brackets} == {"left", "right", "bottom"}
    inner = a.case.face("front").thick_mm
    for b in a.case.brackets:
        x, _, z = b.screw.at
        for up, long in ((0.1, 6.8), (3.45, 3.45), (6.8, 0.1)):
            below = (x - 4.6, inner + up - 0.01, z - 15, x + 4.6, inner + up + 0.01, z - 4.6)
            assert volume(a, "base", below) == pytest.approx(9.2 * 0.02 * long, rel=0.02, abs=0.01)
        assert volume(a, "base", (x - 4.6, inner + 0.05, z + 4.7, x + 4.6, inner + 7, z + 8)) == 0
    flat = analyse(with_display("display-7", FrameAndCovers()), ARCHIVE_WORKSHOP, "preview")
    assert all(b.ramp is None for b in flat.case.brackets)


@pytest.mark.parametrize("key", ["display-0.96", "display-3.5", "display-7"])
def test_the_screws_of_a_lid_make_room_for_them(key: str) -> None:
    """A front of 260 wants a screw in its middle, where the display is."""
    a = analyse(with_display(key, TwoHalves(joint_mm=160)), ARCHIVE_WORKSHOP, "none")
    assert {"left", "right"} <= {b.side for b in a.case.brackets}
    assert any(j.at[1] < 20 and 15 < j.at[0] < 250 for j in a.case.joints) or key == "display-7"


def test_an_upright_of_an_open_bench_is_wide_enough_for_them_between_its_gussets() -> None:
    d = with_display("display-3.5", OpenBench(), at=(130.0, 0.0, 50.0))
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    assert {"left", "right"} <= {b.side for b in a.case.brackets}
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    assert (parts["plate"] ^ parts["brackets-panel"]).volume() < 1e-3


def test_vents_openings_and_cuts_keep_off_the_bosses() -> None:
    a = listening_post()
    for b in a.case.brackets:
        assert (b.screw.boss.lo[1], b.screw.boss.hi[1]) == (pytest.approx(0.0), pytest.approx(3.72 + 6.9))
    # over a boss that has grown to its flange the hole ends 1.6 before the wall
    d = with_display("display-3.5", FrameAndCovers())
    deep = analyse(d, ARCHIVE_WORKSHOP, "none")
    x, _, z = deep.case.brackets[0].screw.at
    lo = deep.case.cavity.lo
    own = OwnOpening(
        id="slit", name="Slit", face="front", at_mm=(x - lo[0], z - lo[2]), size_mm=(6.0, 6.0), shape="round"
    )
    told = [f.title for f in alone(apply(d, PutOwnOpening(opening=own)), "opening-meets-screw")]
    assert any("bracket" in t for t in told), told
    x = a.case.brackets[0].screw.at[0]
    blocked = [s for s in strips(a.case, a.openings, "cover-front", "x") if "bracket" in s.why]
    assert len(blocked) == 4 and any(s.lo < x < s.hi for s in blocked)


def test_a_display_on_bought_sheet_is_told_and_the_remedy_prints_its_cover() -> None:
    d = with_display("display-5", FrameAndCovers(sheet=("front",)))
    f = alone(d, "display-not-held")[0]
    assert (f.severity, f.measured, f.limit, f.title) == ("stop", 0, 2, "Nothing holds Panel to its wall")
    assert [r.label for r in f.remedies] == ["Print the cover on the front", "Take Panel out"]
    for r in f.remedies:
        changed = d
        for e in r.edits:
            changed = apply(changed, e)
        assert alone(changed, "display-not-held") == []
    sheeted = alone(with_display("display-5", CornersAndSheet()), "display-not-held")[0]
    assert [r.label for r in sheeted.remedies] == ["Make the case as frame and covers", "Take Panel out"]


def test_a_display_too_near_a_corner_is_moved_or_its_wall_is() -> None:
    """The frame of 121 x 78 stands 2 mm from the left and from the lower end of the room: nothing fits there; 13.1 are wanted beside a frame."""
    d = with_display("display-5", SlidingPanels(), at=(62.5, 0.0, 41.0))
    f = alone(d, "display-not-held")[0]
    assert (f.measured, f.limit) == (1, 2)
    assert f.title == "Panel is pressed to its wall on one side only"
    assert len(f.remedies) == 3
    for r in f.remedies:
        changed = d
        for e in r.edits:
            changed = apply(changed, e)
        assert alone(changed, "display-not-held") == [], r.label


@pytest.mark.parametrize("sample", [heron, heron_sliding])
def test_a_cards_own_bracket_is_pressed_to_the_wall_at_the_end_away_from_its_slot(sample: Callable[[], Design]) -> None:
    """120 x 40.64 of sheet 0.9 thick, 0.5 before the wall: the flange lies 1.4 over the wall and hooks down from the foot at 6.9. Over the end it is 3 thick, so that it
    keeps 3 clear of the cooler, which begins 6 behind the sheet, and stands beside the board, which begins at it."""
    a = analyse(sample(), ARCHIVE_WORKSHOP, "preview")
    card = next(t for t in a.things if t.id == "card")
    metal = next(s.box for s in card.solids if s.name == "bracket")
    inner = a.case.box_mm[1] - a.case.face("back").thick_mm
    assert metal.hi[1] == pytest.approx(inner - 0.5)
    (b,) = a.case.brackets  # seen from behind, the end away from the slot is on the left
    name, x, z = "brackets-card", metal.hi[0], b.screw.at[2]
    assert (b.side, b.high_mm, b.reach_mm) == ("left", pytest.approx(6.9), pytest.approx(1.4))
    assert volume(a, name, (x - 4, inner - 4.4, z - 5, x, inner - 1.4, z + 5)) == pytest.approx(4 * 3 * 9.2, rel=1e-6)
    assert volume(a, name, (x - 4, inner - 20, z - 5, x, inner - 4.41, z + 5)) == 0
    assert volume(a, name, (x - 4, inner - 1.39, z - 5, x, inner, z + 5)) == 0
    assert b.screw.at[0] == pytest.approx(x + 8.2)
    body = mk.evaluate(a.recipes[name], mk.FILE_TOL)
    for s in hard(card):
        assert (body ^ body_in(card, s)).volume() < 1e-3, s.name
    wall = a.case.brackets[0].screw.into
    assert mk.bodies(mk.evaluate(a.recipes[wall], mk.FILE_TOL)) == 1
    assert alone(a.design, "card-not-held") == [] and findings(a.design, "cannot-be-put-on") == []
    g = next(g for g in a.joints if g.key == "face/card")
    assert (g.name, g.count, g.screw_mm, g.into) == ("bracket of Card", 1, 6.0, wall)


def test_a_card_farther_from_its_wall_has_none_and_what_is_told_is_its_port() -> None:
    d = apply(heron(), Move(id="card", to_mm=(231.0, 260.0, 23.0)))
    assert analyse(d, ARCHIVE_WORKSHOP, "none").case.brackets == () and alone(d, "card-not-held") == []


KINDS = st.sampled_from([FrameAndCovers(), SlidingPanels(), CoreAndWrap(), TwoHalves(joint_mm=150)])


@settings(max_examples=12)
@given(
    KINDS,
    st.sampled_from(["display-0.96", "display-1.3", "display-3.5", "display-5"]),
    st.sampled_from(["front", "left", "top"]),
    st.sampled_from(["insert", "cut in plastic"]),
    st.tuples(st.floats(-60, 60), st.floats(-40, 40)),
)
def test_wherever_a_display_is_nothing_overlaps(
    kind: object, key: str, face: str, thread: str, off: tuple[float, float]
) -> None:
    d = apply(with_display(key, kind, face), Set(path="shell.post_thread", value=thread))
    x, y, z = d.placements[0].at_mm
    u, v = off
    to = {"front": (x + u, y, z + v), "left": (x, y + u / 2, z + v), "top": (x + u, y + v / 2, z)}[face]
    try:
        d = apply(d, Move(id="panel", to_mm=to))
    except DesignError:
        return
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    mine = parts.pop("brackets-panel", None)
    for n, m in parts.items():
        assert mine is None or (m ^ mine).volume() < 1e-3, n
    for n, m in parts.items():
        assert mk.watertight(m) and mk.bodies(m) == a.case.part(n).bodies, n
    bosses = mk.evaluate(Union(tuple(block(b.screw.boss) for b in a.case.brackets))) if a.case.brackets else None
    for s in hard(a.things[0]):
        body = body_in(a.things[0], s)
        assert mine is None or (mine ^ body).volume() < 1e-3
        assert bosses is None or (bosses ^ body).volume() < 1e-3


def test_they_come_to_their_place_with_the_cover_and_its_display() -> None:
    """Neither is in the other's way; what stands behind the cover is: a board pushed up to the brackets is told."""
    a = listening_post()
    part = a.case.part("brackets-display")
    assert (part.put_on, part.rides) == (a.case.part("cover-front").put_on, "cover-front")
    assert findings(a.design, "cannot-be-put-on") == []


@pytest.mark.parametrize("kind", [TwoHalves(joint_mm=160), FrameAndCovers(), SlidingPanels(), CoreAndWrap()])
@pytest.mark.parametrize("face", ["front", "top"])
def test_walls_drawn_round_a_display_leave_room_for_them(kind: object, face: str) -> None:
    """Pressed twice as pressed once; a board behind the display is what makes it a case."""
    d = with_display("display-3.5", kind, face)
    board = Placement(id="board", component="sbc-65x30", name="Board", at_mm=(130.0, 70.0, 6.0))
    d = apply(d, Add(placement=board))
    once = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    a = analyse(once, ARCHIVE_WORKSHOP, "none")
    assert {"left", "right"} <= {b.side for b in a.case.brackets}, a.case.brackets
    assert alone(once, "display-not-held") == []
    assert apply(once, walls_round(a)).shell.inner_mm == once.shell.inner_mm
    assert once.shell.inner_mm[0] < 160


def test_an_own_display_that_stands_back_from_its_wall_is_pressed_and_has_no_nuts() -> None:
    """Its frame begins 1 mm behind the wall and is 8 deep: the flange lies 9.5 over the wall, and no screw goes through it."""
    c = library()["display-3.5"]
    solids = tuple(
        s.model_copy(update={"lo": (*s.lo[:2], s.lo[2] - 1), "hi": (*s.hi[:2], s.hi[2] - 1)}) for s in c.solids
    )
    own = c.model_copy(update={"key": "own-back", "solids": solids})
    d = apply(with_display("display-3.5", FrameAndCovers()), Swap(id="panel", component="own-back", custom=own))
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    assert len(a.case.brackets) == 4 and a.case.brackets[0].reach_mm == pytest.approx(9.5)
    assert [g.holding for g in a.joints if g.key == "face/panel"] == ["insert"]
    assert not [x for x in a.bill if x.item == "nut"]
