"""Remedies that were offered and did not clear: what each is now, by hand, and that it clears and a little less does not."""

from __future__ import annotations

import pytest

from rhombex.core.advice.panels import sold_mm
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import Finding, hardware, openings, snaps
from rhombex.core.concerns.openings import plugs_lost
from rhombex.core.concerns.registry import heard
from rhombex.core.constructions import CoreAndWrap, FrameAndCovers, Magnets, SlidingPanels, Snaps, TwoHalves
from rhombex.core.design import Brief, Design, OwnOpening, Placement, Shell
from rhombex.core.edits import (
    Add,
    Construct,
    Edit,
    HoldByMagnets,
    HoldBySnaps,
    Move,
    MoveWall,
    PutOwnOpening,
    Remove,
    Set,
    Together,
)
from rhombex.core.hardware.sheets import stock_mm
from rhombex.core.plain import DesignError
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import dunlin, wren

from ..conftest import findings
from .test_concerns import TRIPS, wrapped


def told(d: Design, code: str, *edits: Edit) -> tuple[Design, list[Finding]]:
    there = apply(d, Together(edits=edits))
    return there, findings(there, code)


def clears(d: Design, f: Finding, *edits: Edit) -> bool:
    return f.key not in {g.key for g in findings(apply(d, Together(edits=edits)), f.code)}


def test_beams_that_are_too_slim_for_their_screws_are_made_wider() -> None:
    """The rule's size does nothing where the beam is as wide as the plastic: 9.2 round an M3 insert, in beams of 6.7."""
    slim = (HoldByMagnets(magnets=None), Set(path="shell.construction.beam_mm", value=6.7))
    d, found = told(dunlin(), "boss-too-thin", *slim)
    assert len(found) == 3
    for f in found:
        assert (f.severity, f.measured, f.limit) == ("stop", 6.7, pytest.approx(9.2))
        assert [r.label for r in f.remedies] == ["Make the beams 9.2 mm"]
        assert clears(d, f, *f.remedies[0].edits)
        assert not clears(d, f, Set(path="shell.construction.beam_mm", value=9.1))
    chosen, (posts, *_) = told(wren(), "boss-too-thin", Set(path="shell.boss_od_mm", value=6.2))
    assert [r.label for r in posts.remedies] == ["Let the rule size the bosses"]
    assert clears(chosen, posts, *posts.remedies[0].edits)


@pytest.mark.parametrize(("up", "wall"), [(30.0, "top"), (36.0, "top"), (5.0, "bottom"), (2.0, "bottom")])
def test_a_joint_that_lies_fixed_goes_along_with_the_wall_that_it_is_nearer_to(up: float, wall: str) -> None:
    """An opening in the front cover that runs over the edge of the top or the floor, with its middle on either side: that wall moves out, and not the one across from it."""
    own = OwnOpening(id="own-1", name="Own", face="front", at_mm=(100.0, up), size_mm=(20.0, 10.0))
    d, found = told(wren(), "joint-cuts-opening", Construct(construction=FrameAndCovers()), PutOwnOpening(opening=own))
    (mine,) = [f for f in found if f.subjects[0].endswith("own-1")]
    assert mine.severity == "stop" and mine.measured < 0
    (way,) = mine.remedies
    (edit,) = way.edits
    assert isinstance(edit, MoveWall) and edit.face == wall
    assert clears(d, mine, edit)
    assert not clears(d, mine, edit.model_copy(update={"by_mm": edit.by_mm - 0.2}))


def test_narrower_hooks_count_those_that_find_a_place_then(good_wren: Design) -> None:
    """On a core hooks of 20 find six places; narrower ones more, so that they must be narrower still."""
    stiff = HoldBySnaps(snaps=Snaps(arm_mm=3.0, wide_mm=20.0, catch_mm=0.6))
    core = Construct(construction=CoreAndWrap())
    d, (f,) = told(good_wren, "snaps-hard-to-open", core, stiff, Set(path="brief.opened", value="monthly"))
    for way in f.remedies:
        assert clears(d, f, *way.edits), way.label
    (narrow,) = [x for x in f.remedies if x.label.endswith("wide")]
    (edit,) = narrow.edits
    assert isinstance(edit, HoldBySnaps) and edit.snaps is not None
    wider = edit.snaps.model_copy(update={"wide_mm": edit.snaps.wide_mm + 2.0})
    assert not clears(d, f, HoldBySnaps(snaps=wider))


def test_a_component_under_the_floor_is_raised_out_of_it_first() -> None:
    """At 1.44 under the floor its pads sink no head, and raised by 3.3 they sink 0.8 of the 3 that an M3 head is high."""
    low = (Set(path="shell.floor_mm", value=2.46), Move(id="drive", to_mm=(32.9, 80.2, -1.44)))
    d, (f,) = told(wren(), "mount-screw-length", *low)
    assert f.title == "The screw heads under Drive stand proud of the floor" and (f.measured, f.limit) == (0.0, 3.0)
    (way,) = f.remedies
    assert clears(d, f, *way.edits)
    assert not clears(d, f, Move(id="drive", to_mm=(32.9, 80.2, 1.86)))


def test_a_bent_sheet_is_made_thicker_on_all_of_its_faces(good_wren: Design) -> None:
    """One sheet has one thickness: the walls and the top in one edit each."""
    thin = (Set(path="shell.wall_mm", value=1.5), Set(path="shell.lid_mm", value=1.5))
    d, (f,) = told(good_wren, "panel-bends", *wrapped(over="left to right"), *thin)
    (way,) = [r for r in f.remedies if r.label.endswith("thick")]
    assert {e.path for e in way.edits if isinstance(e, Set)} == {"shell.wall_mm", "shell.lid_mm"}
    assert clears(d, f, *way.edits)


def test_what_is_fixed_where_no_case_reaches_is_not_helped_by_the_construction_that_it_has(good_wren: Design) -> None:
    """A fan 900 along a front of 171.6: two halves hold it no better than two halves do. On an open bench they hold it."""
    far = Placement(id="new", component="fan-40x10", name="New", face="front", at_mm=(900.0, 0.0, 20.0))
    _, (f,) = told(good_wren, "no-wall-to-hold", Add(placement=far))
    assert [r.label for r in f.remedies] == ["Take New out"]


def test_a_move_that_needs_more_than_the_brief_allows_comes_last() -> None:
    """A board and a drive 1.2 apart where 2 are wanted, in a case 286 wide: the right wall goes out for the drive if the brief allows 300, else the board moves."""
    shell = Shell(inner_mm=(280, 240, 90), construction=TwoHalves(joint_mm=80))
    d = Design(name="Large", brief=Brief(size_limit_mm=(300, 300, 300)), shell=shell, printer="bench-300")
    for key, at in (("board-mini-itx", (95.0, 110.0, 8.0)), ("drive-3.5", (232.0, 120.0, 8.0))):
        d = apply(d, Add(placement=Placement(id=key, component=key, name=key, at_mm=at)))

    def first(most_mm: float) -> tuple[Edit, ...]:
        there, (f,) = told(d, "components-collide", Set(path="brief.size_limit_mm", value=(most_mm, 300, 300)))
        assert (f.severity, round(f.measured, 2), f.limit) == ("weigh", 1.2, 2.0)
        assert clears(there, f, *f.remedies[0].edits)
        return f.remedies[0].edits

    assert [e.face for e in first(300) if isinstance(e, MoveWall)] == ["right"]
    assert [e for e in first(287) if isinstance(e, MoveWall)] == []


@pytest.mark.parametrize("made", [TwoHalves(joint_mm=26.8), FrameAndCovers(beam_mm=25.4)], ids=lambda c: c.kind)
@pytest.mark.parametrize("x", [12.0, 20.0, 30.0, 40.0, 140.0])
def test_an_opening_is_not_moved_from_one_foot_into_a_screw(made: TwoHalves | FrameAndCovers, x: float) -> None:
    """A button in the front, on which the case stands: beside the foot that it runs through there may be another one, or a screw of a beam."""
    alone = (Construct(construction=made), Remove(id="drive"), Remove(id="board"))
    lying = (Set(path="shell.stands_on", value="front"), Move(id="button", to_mm=(x, 0.0, 12.0)))
    d, found = told(wren(), "opening-meets-screw", *alone, *lying)
    mine = [f for f in found if f.title.startswith("Button runs through")]
    assert len(mine) == (x in (12.0, 20.0, 140.0) or made.kind != "two halves")
    for f in mine:
        assert f.severity == "stop" and f.measured < -0.5
        for way in f.remedies:
            assert clears(d, f, *way.edits), way.label


def test_screws_in_place_of_snaps_are_in_inserts_where_the_case_is_opened_often(good_wren: Design) -> None:
    """Threads in plastic bear four openings (common practice); monthly for three years are 36. Once is once."""
    plastic = Set(path="shell.construction.joint_thread", value="cut in plastic")
    stiff = (plastic, HoldBySnaps(snaps=Snaps(arm_mm=3.0)))
    for opened, label in (("monthly", "Hold it by screws in inserts"), ("once", "Hold it by screws")):
        d, (f,) = told(good_wren, "snaps-hard-to-press", *stiff, Set(path="brief.opened", value=opened))
        (way,) = [r for r in f.remedies if r.label.startswith("Hold it by screws")]
        assert way.label == label
        assert clears(d, f, *way.edits)
        assert findings(apply(d, Together(edits=way.edits)), "thread-opened-often") == []


def test_magnets_in_both_parts_are_glued_where_their_pockets_lie() -> None:
    """Closed in in the covers, which lie flat, they meet screws in the beams; a magnet in a beam that lies cannot be put in while it prints."""
    heads = Magnets(d_mm=5.0, high_mm=2.0, against="screw heads", fixed="closed in", keyed=False)
    d, found = told(dunlin(), "magnets-wrong-way", HoldByMagnets(magnets=heads))
    assert found
    for f in found:
        (way,) = f.remedies
        assert way.label == "Put magnets in both parts" and f.severity == "weigh"
        there = apply(d, Together(edits=way.edits))
        assert findings(there, "magnet-lies-on-its-side") == []
        assert clears(d, f, *way.edits) or {g.severity for g in findings(there, f.code) if g.key == f.key} == {"advice"}


def test_walls_of_sheet_are_made_as_thick_as_sheet_is_sold() -> None:
    """Covers of acrylic at 1 mm beside printed ones: thick enough for both is 3, where print alone would be 2.08 or 2.9. Acrylic is sold in 2, 3, 4 and so on."""
    covers = Construct(construction=FrameAndCovers(sheet=("top", "front")))
    d, found = told(wren(), "wall-too-thin", covers, *(Set(path=f"shell.{x}_mm", value=1.0) for x in ("wall", "lid")))
    assert {f.subjects[1] for f in found} == {"wall_mm", "lid_mm"}
    for f in found:
        (way,) = f.remedies
        assert way.label == "Make it 3 mm" and clears(d, f, *way.edits)
    assert 3.0 in stock_mm("acrylic") and 1.0 not in stock_mm("acrylic")
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    assert [sold_mm(a, f"shell.{x}_mm", 500.0) for x in ("wall", "lid", "floor")] == [None, None, 500.0]


def test_a_sheet_for_each_side_has_its_top_in_inserts_where_it_is_opened_often(good_wren: Design) -> None:
    often = (
        Set(path="shell.construction.joint_thread", value="cut in plastic"),
        Set(path="brief.opened", value="monthly"),
    )
    two = (*wrapped(over="left to right"), Set(path="shell.lid_mm", value=4.0), *often)
    d, (f,) = told(good_wren, "sheet-two-thicknesses", *two)
    like, each = f.remedies
    assert like.label == f"Make the top {d.shell.wall_mm:g} mm, like the walls" and clears(d, f, *like.edits)
    assert each.label == "Take a sheet for each side, its screws in inserts" and clears(d, f, *each.edits)
    assert findings(apply(d, Together(edits=each.edits)), "thread-opened-often") == []


def test_out_of_a_warm_chamber_it_goes_to_the_largest_open_bed() -> None:
    """Of the sample workshop's two open printers the one with 220 x 220 and not that with 180 x 180."""
    _, (f,) = told(wren(), "chamber-too-warm", Set(path="printer", value="bench-300"))
    assert f.remedies[0].label == "Print on Bench 220"


def test_the_way_out_of_the_plastic_that_leaves_no_plug_behind_comes_first() -> None:
    """A drive in the thick post of sliding panels: moved, with the back wall; or the walls drawn anew or far out, away from the ports in front."""
    d, (f,) = told(wren(), "component-in-part", Construct(construction=SlidingPanels(post_mm=16.7)))
    assert f.subjects[0] == "drive"
    ways = [r for r in f.remedies if not r.label.startswith("Take")]
    left = [plugs_lost(analyse(apply(d, Together(edits=r.edits)), ARCHIVE_WORKSHOP, "none")) for r in ways]
    assert (
        len(ways) == 3
        and left == sorted(left)
        and left[0] == plugs_lost(analyse(d, ARCHIVE_WORKSHOP, "none")) < left[-1]
    )
    assert "back wall" in ways[0].label


def test_a_port_is_not_moved_away_from_the_wall_that_it_looks_through(good_wren: Design) -> None:
    """With the board 76.5 to the right and the right wall out for it the network socket would be 155 behind the left wall, where 40 can be reached."""
    d, found = told(good_wren, "port-not-reachable", *TRIPS["port-not-reachable"][0](good_wren))
    for f in found:
        for way in f.remedies:
            assert clears(d, f, *way.edits), (f.title, way.label)
    walls = [{e.face for r in f.remedies for e in r.edits if isinstance(e, MoveWall)} for f in found]
    assert walls[0] == {"back", "left"} and walls[3] == {"back", "left", "right"}


def test_hooks_that_find_no_place_or_are_refused_are_not_offered(
    good_wren: Design, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Narrower ones for which no wall is left hold nothing, though they take no force; and what the form refuses breaks no rule."""
    stiff = HoldBySnaps(snaps=Snaps(arm_mm=3.0, wide_mm=20.0, catch_mm=0.6))
    core = Construct(construction=CoreAndWrap())
    d = apply(good_wren, Together(edits=(core, stiff, Set(path="brief.opened", value="monthly"))))
    a = analyse(d, ARCHIVE_WORKSHOP, "none")

    def wide() -> list[str]:
        (f,) = heard("snaps-hard-to-open", a)
        assert f.code == "snaps-hard-to-open"
        return [r.label for r in f.remedies if r.label.endswith("wide")]

    assert wide() == ["Hooks 9.5 mm wide"]
    with monkeypatch.context() as m:
        m.setattr(snaps, "case_of", lambda *_: a.case.model_copy(update={"snaps": ()}))
        assert wide() == []

    def refused(*_: object) -> Design:
        raise DesignError("edit.snaps", "no")

    monkeypatch.setattr(snaps, "apply", refused)
    assert wide() == []


def test_a_component_whose_posts_are_gone_once_it_is_raised_is_not_raised(monkeypatch: pytest.MonkeyPatch) -> None:
    low = (Set(path="shell.floor_mm", value=2.46), Move(id="drive", to_mm=(32.9, 80.2, -1.44)))
    a = analyse(apply(wren(), Together(edits=low)), ARCHIVE_WORKSHOP, "none")
    monkeypatch.setattr(hardware, "case_of", lambda *_: a.case.model_copy(update={"mounts": ()}))
    (f,) = heard("mount-screw-length", a)
    assert f.title == "The screw heads under Drive stand proud of the floor" and f.remedies == ()


def test_an_opening_is_not_moved_where_no_wall_is(monkeypatch: pytest.MonkeyPatch) -> None:
    def offered(x: float, walls: bool) -> list[str]:
        alone = (Remove(id="drive"), Remove(id="board"), Set(path="shell.stands_on", value="front"))
        d = apply(wren(), Together(edits=(*alone, Move(id="button", to_mm=(x, 0.0, 12.0)))))
        a = analyse(d, ARCHIVE_WORKSHOP, "none")
        if not walls:
            monkeypatch.setattr(openings, "case_of", lambda *_: a.case.model_copy(update={"walls": ()}))
        (f,) = [f for f in heard("opening-meets-screw", a) if f.title == "Button runs through a foot"]
        return [r.label for r in f.remedies]

    assert offered(20.0, True) == ["Move Button 8.8 mm right"]
    assert offered(20.5, False) == []  # another place: what was said of the first is remembered
