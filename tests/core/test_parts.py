"""Stacks, power, the library, wishes: against hand calculations and properties."""

from __future__ import annotations

import math
from typing import Literal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.gaps import gaps_of
from rhombex.core.bench.stack import height_of, matched, slab_mm, tower
from rhombex.core.brief.asks import asks
from rhombex.core.concerns import judge
from rhombex.core.constructions import OpenBench, TwoHalves
from rhombex.core.design import Adapter, Design, Placement, Shell, Stand, VentField
from rhombex.core.edits import (
    Add,
    Construct,
    Move,
    PutAdapter,
    PutComponent,
    PutFeed,
    PutVent,
    Remove,
    Rename,
    Set,
    SetStand,
    StackOn,
    StackUnder,
    Swap,
    Together,
    Turn,
    WantFace,
)
from rhombex.core.geometry import mesh_kernel
from rhombex.core.parts import library
from rhombex.core.parts.component import Component, Draw, Supply
from rhombex.core.parts.known import sure_of
from rhombex.core.parts.overview import overview
from rhombex.core.plain import DesignError
from rhombex.core.plan.tally import tally
from rhombex.core.power.draws import budget
from rhombex.core.wishes import wishes
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Spool
from rhombex.demo.scenario import wren

from ..conftest import findings
from ..examples import examples
from ..rough import shaped
from .test_concerns import unsure

SHIELD = Placement(id="shield", component="shield-drive", name="Drive shield", at_mm=(0, 0, 0))
UNDER = StackUnder(id="board", placement=SHIELD, stand=Stand(standoff_mm=12))


def z(d: Design, id: str) -> float:
    p = d.placement(id)
    assert p is not None
    return p.at_mm[2]


# stacks


def test_a_shield_goes_under_and_everything_follows(good_wren: Design) -> None:
    before = shaped(good_wren)
    d = apply(good_wren, UNDER)
    after = shaped(d)
    rise = 1.6 + 12  # the shield's board and the standoffs
    assert z(d, "board") - z(good_wren, "board") == pytest.approx(rise)
    assert z(d, "cooler") - z(good_wren, "cooler") == pytest.approx(rise)
    assert z(d, "drive") == z(good_wren, "drive") and z(d, "shield") == z(good_wren, "board")
    assert d.shell.inner_mm[2] - good_wren.shell.inner_mm[2] == pytest.approx(rise)
    old = {o.id: o for o in before.openings.openings}
    for o in after.openings.openings:
        moved = o.at_mm[1] - old[o.id].at_mm[1]
        assert moved == pytest.approx(rise if o.of == "board" else 0.0, abs=1e-6), o.id
    posts = {p.of for p in after.case.mounts}
    assert "shield" in posts and "board" not in posts
    assert findings(d, "port-misses-opening") == [] == findings(d, "stack-too-low")
    # all holes of the two boards meet
    holes = {t.id: {(round(m.at[0], 3), round(m.at[1], 3)) for m in t.mounts} for t in after.things}
    assert holes["shield"] == holes["board"]


def test_longer_standoffs_and_back_is_where_it_began(good_wren: Design) -> None:
    d = apply(good_wren, UNDER)
    up = apply(d, SetStand(id="board", stand=Stand(standoff_mm=20)))
    assert z(up, "board") - z(d, "board") == pytest.approx(8)
    assert apply(up, SetStand(id="board", stand=Stand(standoff_mm=12))) == d


def test_pinned_openings_and_vents_beside_the_stack_follow(good_wren: Design) -> None:
    from rhombex.core.design import PlacedOpening
    from rhombex.core.edits import PutOpening

    d = apply(good_wren, PutOpening(opening=PlacedOpening(port="board/usb-1", at_mm=(57, 11), anchor="face")))
    d = apply(d, PutVent(vent=VentField(id="v", face="left", at_mm=(57, 9), size_mm=(30, 8))))
    up = apply(d, UNDER)
    assert up.openings[0].at_mm == pytest.approx((57, 11 + 13.6))
    assert next(v for v in up.vents if v.id == "v").at_mm == pytest.approx((57, 9 + 13.6))


def test_a_low_board_beside_something_tall_leaves_the_lid(good_wren: Design) -> None:
    tall = Placement(id="tube", component="reservoir-50x150", name="Tube", at_mm=(40, 60, 3))
    d = apply(good_wren, Add(placement=tall))
    assert apply(d, UNDER).shell.inner_mm[2] == d.shell.inner_mm[2]


def test_a_board_goes_on_top(good_wren: Design) -> None:
    high = Placement(id="power", component="shield-power", name="Power", at_mm=(0, 0, 0), on="board")
    d = apply(good_wren, StackOn(placement=high, stand=Stand(standoff_mm=11)))
    assert z(d, "power") == pytest.approx(z(d, "board") + 1.6 + 11)
    assert tower(d, "board") >= {"board", "power", "cooler"}
    assert findings(d, "header-does-not-mate") == []
    assert findings(d, "stack-too-low")  # the cooler of 11 mm under a board 11 mm above it
    turned = apply(d, Turn(id="board", by=90))
    assert findings(turned, "board-off-holes") == []
    gone = apply(d, Remove(id="board"))
    assert {p.id for p in gone.placements} & {"board", "power", "cooler"} == set()


@pytest.mark.parametrize(
    "edit",
    [
        StackUnder(id="cooler", placement=SHIELD, stand=Stand(standoff_mm=5)),
        StackUnder(id="nobody", placement=SHIELD, stand=Stand(standoff_mm=5)),
        StackUnder(
            id="board", placement=SHIELD.model_copy(update={"component": "nothing"}), stand=Stand(standoff_mm=5)
        ),
        StackOn(placement=SHIELD, stand=Stand(standoff_mm=5)),
        SetStand(id="board", stand=Stand(standoff_mm=5)),
    ],
)
def test_what_cannot_be_stacked_is_refused(good_wren: Design, edit: StackUnder | StackOn | SetStand) -> None:
    with pytest.raises(DesignError) as e:
        apply(good_wren, edit)
    assert e.value.do and e.value.kept


def test_the_tolerance_of_a_stack_is_summed_by_hand(good_wren: Design) -> None:
    d = apply(good_wren, UNDER)
    # post 0.2, board 10 % of 1.6, bought standoff 0.1
    assert height_of(d, "board").value == pytest.approx((0.2**2 + 0.16**2 + 0.1**2) ** 0.5, abs=1e-4)
    assert height_of(d, "shield").value == pytest.approx(0.2)
    printed = apply(d, SetStand(id="board", stand=Stand(standoff_mm=13, made="printed")))
    assert height_of(printed, "board").value == pytest.approx((0.2**2 + 0.16**2 + 0.2**2) ** 0.5, abs=1e-4)


def test_two_headers_mate_where_both_do(good_wren: Design) -> None:
    """One mates from 8 to 12 mm, the other from 10 to 14: together from 10 to 12."""
    high = Placement(id="power", component="shield-power", name="Power", at_mm=(0, 0, 0), on="board")

    def with_mates(c: Component, mates: tuple[float, float]) -> Component:
        headers = tuple(h.model_copy(update={"mates_mm": mates}) for h in c.headers)
        return c.model_copy(update={"headers": headers})

    def told(standoff: float) -> list[tuple[float, float]]:
        d = apply(good_wren, StackOn(placement=high, stand=Stand(standoff_mm=standoff)))
        keys = {p.id: p.component for p in d.placements}
        for key, mates in ((keys["board"], (8.0, 12.0)), (keys["power"], (10.0, 14.0))):
            own = d.component(key)
            assert own is not None
            d = apply(d, PutComponent(component=with_mates(own, mates)))
        return [(f.measured, f.limit) for f in findings(d, "header-does-not-mate")]

    assert told(9.9) == [(9.9, 10.0)] and told(10) == []
    assert told(12) == [] and told(12.1) == [(12.1, 12.0)]


@pytest.mark.parametrize("by", [90, 180, 270])
def test_a_board_that_is_turned_on_its_standoffs_is_not_over_their_holes(
    good_wren: Design, by: Literal[90, 180, 270]
) -> None:
    """Its holes turn about its pivot; each is as far from the nearest of the four below as it comes to lie."""
    high = Placement(id="power", component="shield-power", name="Power", at_mm=(0, 0, 0), on="board")
    d = apply(good_wren, StackOn(placement=high, stand=Stand(standoff_mm=11)))
    shield = library()["shield-power"]
    holes = [(m.at[0] - shield.pivot[0], m.at[1] - shield.pivot[1]) for m in shield.mounts]
    there = holes
    for _ in range(by // 90):
        there = [(-y, x) for x, y in there]
    far = max(min(math.dist(p, q) for q in holes) for p in there)
    turned = apply(d, Turn(id="power", by=by))
    assert findings(d, "board-off-holes") == []
    (f,) = findings(turned, "board-off-holes")
    assert f.severity == "stop" and f.measured == pytest.approx(far, abs=0.01) and far > 5
    assert f"turned by {by} degrees" in f.reason
    (back,) = f.remedies
    assert apply(turned, Together(edits=back.edits)).placements == d.placements


def test_a_doubted_size_beside_another_component_is_told_where_no_wall_is(good_wren: Design) -> None:
    """9 mm in doubt: on a plate nothing is said of its sides and top, where no wall is, and all of its neighbours and of the plate."""
    doubted = unsure("drive-2.5", 9.0)
    swapped = apply(good_wren, Swap(id="drive", component="own-drive", custom=doubted))
    assert {f.subjects[1] for f in findings(swapped, "size-not-sure")} == {"left", "front", "back", "bottom", "top"}
    bench = apply(swapped, Construct(construction=OpenBench()))
    assert {f.subjects[1] for f in findings(bench, "size-not-sure")} == {"front", "bottom", "top"}  # button, plate, fan


def test_an_extender_brings_a_header_together(good_wren: Design) -> None:
    high = Placement(id="power", component="shield-power", name="Power", at_mm=(0, 0, 0), on="board")
    d = apply(good_wren, StackOn(placement=high, stand=Stand(standoff_mm=20)))
    assert findings(d, "header-does-not-mate")[0].measured == 20
    d = apply(d, SetStand(id="power", stand=Stand(standoff_mm=20, extender_mm=8.5)))
    assert findings(d, "header-does-not-mate") == []  # 10 + 8.5 to 12.5 + 8.5


@given(st.sampled_from([0, 90, 180, 270]), st.floats(3, 40), st.floats(20, 120), st.floats(20, 90))
@settings(max_examples=examples(40), deadline=None)
def test_stacked_boards_always_share_their_holes(turn: int, standoff: float, x: float, y: float) -> None:
    board = Placement(id="board", component="sbc-85x56", name="Board", at_mm=(x, y, 6), turn=turn)  # type: ignore[arg-type]
    d = Design(name="s", shell=Shell(inner_mm=(150, 120, 40), construction=TwoHalves(joint_mm=30)), placements=(board,))
    d = apply(d, StackUnder(id="board", placement=SHIELD, stand=Stand(standoff_mm=standoff)))
    things = {t.id: t for t in shaped(d).things}
    a, b = (sorted((m.at[0], m.at[1]) for m in things[k].mounts) for k in ("board", "shield"))
    assert [x for p in a for x in p] == pytest.approx([x for p in b for x in p], abs=2e-3)
    top = max(s.box.hi[2] for s in things["shield"].solids if s.role == "board")
    low = min(s.box.lo[2] for s in things["board"].solids if s.role == "board")
    assert low - top == pytest.approx(standoff, abs=2e-3)


def test_matching_finds_the_lie_with_most_holes() -> None:
    board, shield = library()["sbc-85x56"], library()["shield-power"]
    assert matched(board, shield) == ((0.0, 0.0), 4)
    off, hits = matched(board, library()["sbc-65x30"])  # 58 x 23 has two holes in common with 58 x 49
    assert hits == 2 and off[0] == 0
    assert slab_mm(board) == 1.6 and slab_mm(library()["drive-2.5"]) == 0


# power


def powered(*parts: tuple[str, Component], **more: object) -> Design:
    placements = tuple(
        Placement(
            id=id,
            component=c.key,
            name=id.capitalize(),
            at_mm=(30, 30, 5),
            face="back" if c.mounting == "panel" else None,
        )
        for id, c in parts
    )
    return Design(
        name="p",
        shell=Shell(inner_mm=(300, 300, 200), construction=TwoHalves(joint_mm=100)),
        placements=placements,
        custom=tuple(c for _, c in parts),
        **more,
    )  # type: ignore[arg-type]


def eats(key: str, *draws: tuple[str, float, str]) -> Component:
    base = library()["sbc-65x30"]
    power = tuple(
        Draw(rail=r, idle_w=w / 4, typical_w=w / 2, peak_w=w, plug=p, source="made up", mark="sample")  # type: ignore[arg-type]
        for r, w, p in draws
    )
    return base.model_copy(update={"key": key, "power": power})


def gives(key: str, needs: str, rails: dict[str, float], total: float, efficiency: float = 0.8) -> Component:
    base = library()["hub-4"]
    supply = Supply(
        total_w=total,
        rails=rails,
        needs=needs,
        efficiency=efficiency,
        source="made up",
        mark="sample",  # type: ignore[arg-type]
    )
    return base.model_copy(update={"key": key, "power": (), "supply": supply})


def test_converters_hand_their_load_on_by_hand() -> None:
    """5 V 20 W through a converter of 80 % is 25 W at 12 V; with 30 W at 12 V beside it 55 W, through a brick of 80 % 68.75 W."""
    d = powered(
        ("psu", gives("own-psu", "mains", {"12 V": 100}, 100)),
        ("conv", gives("own-conv", "12 V", {"5 V": 40}, 40)),
        ("a", eats("own-a", ("5 V", 20, "header-5v"))),
        ("b", eats("own-b", ("12 V", 30, "fan"))),
    )
    b = budget(d, shaped(d).things)
    at = {s.id: s for s in b.sources}
    assert at["conv"].watts.peak == 20 and at["conv"].intake.peak == pytest.approx(25) and at["conv"].fed_by == "psu"
    assert at["psu"].watts.peak == pytest.approx(55) and at["psu"].margin == pytest.approx(0.45)
    assert b.wall.peak == pytest.approx(68.75) and b.wall.idle == pytest.approx(68.75 / 4)
    assert b.components.peak == 50
    assert ("psu", "conv") in {(c.source, c.component) for c in b.cables}


def test_a_named_feed_wins_and_an_own_adapter_comes_before_supplies() -> None:
    d = powered(
        ("psu", gives("own-psu", "mains", {"5 V": 100}, 100)),
        ("two", gives("own-two", "mains", {"5 V": 50}, 50)),
        ("a", eats("own-a", ("5 V", 20, "usb-c"))),
    )
    things = shaped(d).things
    assert budget(d, things).branches[0].source == "psu"
    fed = apply(d, PutFeed(component="a", rail="5 V", source="two"))
    assert budget(fed, things).branches[0].source == "two"
    own = apply(d, PutAdapter(adapter=Adapter(port="a/power", rail="5 V", watts=30)))
    assert budget(own, things).branches[0].source == "a/power"
    assert budget(apply(fed, PutFeed(component="a", rail="5 V", source=None)), things).branches[0].source == "psu"


def test_the_budget_is_the_same_wherever_components_stand_and_has_their_names() -> None:
    d = powered(("psu", gives("own-psu", "mains", {"5 V": 100}, 100)), ("a", eats("own-a", ("5 V", 20, "usb-c"))))
    b = budget(d, shaped(d).things)
    moved = apply(d, Move(id="a", to_mm=(3.0, 4.0, 5.0)))
    assert budget(moved, shaped(moved).things) is b
    named = apply(moved, Rename(id="a", name="The one in front"))
    assert budget(named, shaped(named).things).branches[0].name == "The one in front"


def test_two_converters_that_feed_each_other_do_not_hang() -> None:
    d = powered(
        ("up", gives("own-up", "5 V", {"12 V": 50}, 50)),
        ("down", gives("own-down", "12 V", {"5 V": 50}, 50)),
        ("a", eats("own-a", ("5 V", 10, "usb-c"))),
    )
    b = budget(d, shaped(d).things)
    assert len(b.sources) == 2 and b.components.peak == 10


@given(st.lists(st.floats(0.5, 60), min_size=1, max_size=8), st.floats(0.6, 1.0))
@settings(max_examples=examples(40), deadline=None)
def test_nothing_is_lost_between_parts_and_wall(watts: list[float], efficiency: float) -> None:
    parts = [(f"p{k}", eats(f"own-p{k}", ("12 V", w, "fan"))) for k, w in enumerate(watts)]
    d = powered(("psu", gives("own-psu", "mains", {"12 V": 400}, 400, efficiency)), *parts)
    b = budget(d, shaped(d).things)
    assert b.wall.peak * efficiency == pytest.approx(sum(watts), rel=1e-3)
    assert b.wall.idle <= b.wall.typical <= b.wall.peak


def test_a_desktop_is_fed_through_the_right_plugs() -> None:
    d = Design(
        name="desk",
        shell=Shell(inner_mm=(340, 320, 160), construction=TwoHalves(joint_mm=100)),
        placements=(
            Placement(id="board", component="board-mini-itx", name="Board", at_mm=(100, 100, 10)),
            Placement(id="card", component="card-2-half", name="Card", at_mm=(20, 20, 40), on="board"),
            Placement(id="psu", component="supply-sfx", name="Supply", at_mm=(200, 0, 20), face="back"),
        ),
    )
    b = budget(d, shaped(d).things)
    # 90 + 12 + 8 (board) + 160 (card) at the peak
    assert b.sources[0].watts.peak == pytest.approx(270)
    plugs = sorted(c.plug for c in b.cables if c.source == "psu")
    assert plugs.count("pcie-8") == 1 and plugs.count("eps-8") == 1 and plugs.count("atx-24") == 1
    assert all(f.code not in ("supply-too-small", "plug-over-limit") for f in judge(shaped(d)))


def test_a_supply_taken_in_anothers_place_has_the_plugs_and_the_watts() -> None:
    """By hand: 110 W of board and two cards of 260 W make 630; four plugs of eight pins. Of those with more such plugs SFX has two and
    450 W, SFX-L four and 600 W, ATX four and 650 W: the first with which nothing is short is ATX."""
    cards = tuple(
        Placement(id=f"card-{n}", component="card-2-full", name=f"Card {n}", at_mm=(20, 60 * n, 40), on="board")
        for n in (1, 2)
    )
    d = Design(
        name="desk",
        shell=Shell(inner_mm=(400, 380, 200), construction=TwoHalves(joint_mm=100)),
        placements=(
            Placement(id="board", component="board-mini-itx", name="Board", at_mm=(100, 100, 10)),
            Placement(id="psu", component="supply-flex", name="Supply", at_mm=(200, 0, 20), face="back"),
            *cards,
            Placement(id="cooler", component="cooler-95x47", name="Cooler", at_mm=(100, 100, 21.2), on="board"),
        ),
    )
    found = judge(shaped(d))
    lacking = next(f for f in found if f.code == "plugs-missing" and "pcie-8" in f.subjects)
    assert [r.label for r in lacking.remedies] == ["Take Supply ATX, 650 W"]
    mended = judge(shaped(apply(d, lacking.remedies[0].edits[0])))
    assert not any(
        f.code in ("plugs-missing", "rail-over-rating") or f.severity == "stop" for f in mended if f.stop == "parts"
    )


# the library


def test_a_part_of_every_family_can_be_placed() -> None:
    for c in {c.family: c for c in library().values()}.values():
        lower = Placement(id="base", component="board-mini-itx", name="Base", at_mm=(150, 150, 10))
        p = Placement(
            id="it",
            component=c.key,
            name="It",
            at_mm=(150, 150, 40),
            face="back" if c.mounting == "panel" else None,
            on="base" if c.mounting == "rides" else None,
        )
        d = Design(
            name="d",
            shell=Shell(inner_mm=(300, 300, 150), construction=TwoHalves(joint_mm=90)),
            placements=(lower, p),
            printer="bench-300",
        )
        assert all(f.reason for f in judge(analyse(d, ARCHIVE_WORKSHOP, "none"))), c.key


def test_the_library_holds_what_cases_are_made_for() -> None:
    families = {c.family for c in library().values()}
    assert families >= {
        "board", "shield", "supply", "card", "drive", "fan", "radiator", "cooler", "loop", "display", "button", "socket",
        "inlet", "light", "riser", "hub", "converter",
    }  # fmt: skip


def test_a_glance_says_holes_as_people_do() -> None:
    o = overview(library()["sbc-85x56"], False)
    assert o.holes == "58 x 49, M2.5" and "58 x 49" in o.words and o.size_mm[0] == pytest.approx(89)
    assert overview(library()["drive-3.5"], False).holes == "95.25 x 44.45, #6-32"
    assert overview(library()["display-7"], True).doubted


def test_doubt_and_measurement() -> None:
    c = library()["display-7"]
    assert sure_of(c.solids[0]) == 1.0
    assert sure_of(c.solids[0].model_copy(update={"sure_mm": 0.05})) == 0.05
    assert sure_of(library()["sbc-85x56"].solids[0]) == 0.0


def test_the_uncertainty_travels_into_every_gap(good_wren: Design) -> None:
    c = library()["cooler-40x11"]
    solids = tuple(s.model_copy(update={"sure_mm": 0.3}) for s in c.solids)
    d = apply(
        good_wren, Swap(id="cooler", component="own-c", custom=c.model_copy(update={"key": "own-c", "solids": solids}))
    )
    gaps = gaps_of(d, shaped(d).things, "cooler")
    assert gaps and all(g.sure_mm == 0.3 for g in gaps)
    drive = next(p for p in d.placements if p.id == "drive")
    both = library()["drive-2.5"]
    unsure = both.model_copy(
        update={"key": "own-d", "solids": tuple(s.model_copy(update={"sure_mm": 0.4}) for s in both.solids)}
    )
    d = apply(d, Swap(id="drive", component="own-d", custom=unsure))
    d = apply(d, Move(id="cooler", to_mm=(drive.at_mm[0], drive.at_mm[1], drive.at_mm[2] + 12)))
    down = next(g for g in gaps_of(d, shaped(d).things, "cooler") if g.to == "drive")
    assert down.sure_mm == pytest.approx(0.5)  # root of 0.3^2 + 0.4^2


@pytest.mark.parametrize("doubted", [0, 1])
def test_of_two_solids_as_near_the_doubted_one_tells_the_gap(good_wren: Design, doubted: int) -> None:
    c = library()["cooler-40x11"]
    whole = c.solids[0]
    (x, y, z), (u, v, w) = whole.lo, whole.hi
    halves = [  # one beside the other along y: to the right both end at the same place
        whole.model_copy(update={"name": "near half", "hi": (u, (y + v) / 2, w), "sure_mm": 0.0}),
        whole.model_copy(update={"name": "far half", "lo": (x, (y + v) / 2, z), "sure_mm": 0.0}),
    ]
    halves[doubted] = halves[doubted].model_copy(update={"sure_mm": 0.7})
    own = c.model_copy(update={"key": "own-c", "solids": tuple(halves)})
    d = apply(good_wren, Swap(id="cooler", component="own-c", custom=own))
    sides = {g.side: g for g in gaps_of(d, shaped(d).things, "cooler")}
    board = next(t for t in shaped(d).things if t.id == "cooler").solids
    assert board[0].box.hi[0] == board[1].box.hi[0]
    assert sides["right"].sure_mm == 0.7 and sides["left"].sure_mm == 0.7


# the brief


def test_every_wish_is_met_unmet_or_cannot_be_told(good_wren: Design) -> None:
    d = good_wren
    for path, value in (
        ("brief.buttons", 1),
        ("brief.display", True),
        ("brief.window", "left"),
        ("brief.around", "children"),
        ("brief.budget", 0.5),
        ("brief.reuse", ("drive-2.5", "m2-2280")),
        ("brief.stands", "wall"),
        ("brief.size_limit_mm", (500.0, 500.0, 500.0)),
    ):
        d = apply(d, Set(path=path, value=value))  # type: ignore[arg-type]
    found = {a.key: a for a in asks(shaped(d))}
    assert {k: a.state for k, a in found.items()} == {
        "size": "met",
        "buttons": "met",
        "display": "unmet",
        "window": "unmet",
        "reuse drive-2.5": "met",
        "reuse m2-2280": "unmet",
        "budget": "unmet",
        "around": "met",
        "wall": "cannot tell yet",
        "opened": "met",
    }
    assert "front" in found["buttons"].finding
    told = {f.subjects[0] for f in findings(d, "wish-unmet")}
    assert told == {"display", "window", "reuse m2-2280", "budget"}


def test_a_port_wanted_on_another_face_is_unmet_until_the_board_is_turned(good_wren: Design) -> None:
    d = apply(good_wren, WantFace(port="board/network", face="front"))
    a = shaped(d)
    w = next(w for w in wishes(a, judge(a)) if w.port == "board/network")
    assert w.state == "unmet" and w.face == "right" and w.wanted_face == "front"
    turn = findings(d, "port-on-another-face")[0].remedies[0].edits[0]
    turned = apply(d, turn)
    assert findings(turned, "port-on-another-face") == []
    assert apply(d, WantFace(port="board/network", face=None)).brief.faces == ()


def test_printed_standoffs_are_parts_that_fit_between_the_boards(good_wren: Design) -> None:
    d = apply(good_wren, UNDER.model_copy(update={"stand": Stand(standoff_mm=13, made="printed")}))
    a = shaped(d)
    tubes = next(p for p in a.pieces if p.part == "spacers-board")
    assert tubes.watertight and tubes.bodies == 4 and tubes.fits_bed
    assert tubes.bbox_mm[2] == pytest.approx(13)
    # four tubes: pi/4 (D^2 - d^2) h, d = ISO 273 medium for M2.5 + 0.15, walls of four lines of 0.45
    hole = 2.9 + 0.15
    assert tubes.volume_mm3 == pytest.approx(
        4 * 3.1416 / 4 * ((hole + 3.6) ** 2 - hole**2) * 13, rel=0.02
    )  # chords within 0.05
    lo, hi = a.pieces_in_case["spacers-board"], {t.id: t for t in a.things}
    box = mesh_kernel.evaluate(lo).bounding_box()
    board, shield = (next(s.box for s in hi[k].solids if s.role == "board") for k in ("board", "shield"))
    assert box[2] == pytest.approx(shield.hi[2]) and box[5] == pytest.approx(board.lo[2])
    lines = {(x.item, x.size): x.count for x in a.bill}
    assert lines[("screw, socket cap", "M2.5 x 20")] == 4  # 1.6 + 13 + 1.6 + 2.5 = 18.7
    bought = shaped(apply(good_wren, UNDER))
    assert {(x.item, x.size): x.count for x in bought.bill}[("standoff, with stud", "M2.5 x 12")] == 4
    assert "spacers-board" not in bought.recipes


def test_the_racks_own_price_is_taken(good_wren: Design) -> None:
    kind = good_wren.process.filament
    spools = (
        Spool(id="a", filament=kind, colour="one", left_g=300, price_per_kg=30),
        Spool(id="b", filament=kind, colour="two", left_g=100, price_per_kg=50),
    )
    w = ARCHIVE_WORKSHOP.model_copy(update={"spools": spools})
    a = analyse(good_wren, w, "preview")
    mass = sum(p.estimate.mass_g.value for p in a.pieces)
    money = next(t for t in tally(a) if t.key == "money").trail
    assert money.value == pytest.approx(mass / 1000 * 35, rel=1e-4)  # (300 x 30 + 100 x 50) / 400
    assert any(i.source == "spools on the rack" for i in money.inputs)


def test_a_part_that_was_changed_in_the_library_is_told(good_wren: Design) -> None:
    mine = library()["sbc-85x56"].model_copy(update={"key": "own-1"})
    d = apply(good_wren, Swap(id="board", component="own-1", custom=mine))
    same = ARCHIVE_WORKSHOP.model_copy(update={"components": (mine,)})
    assert not [f for f in judge(analyse(d, same, "preview")) if f.code == "component-changed-since"]
    newer = mine.model_copy(update={"heat_w": 9.0, "mass_g": 50.0})
    w = ARCHIVE_WORKSHOP.model_copy(update={"components": (newer,)})
    f = next(f for f in judge(analyse(d, w, "preview")) if f.code == "component-changed-since")
    assert f.measured == 2
    after = apply(d, f.remedies[0].edits[0])
    assert not [f for f in judge(analyse(after, w, "preview")) if f.code == "component-changed-since"]


@given(st.floats(4, 30), st.sampled_from(["shield-drive", "shield-power", "sbc-85x56"]))
@settings(max_examples=8, deadline=None)
def test_any_printed_stack_gives_whole_parts_that_do_not_meet(standoff: float, key: str) -> None:
    d = wren()
    low = Placement(id="low", component=key, name="Low", at_mm=(0, 0, 0))
    d = apply(d, StackUnder(id="board", placement=low, stand=Stand(standoff_mm=round(standoff, 2), made="printed")))
    a = shaped(d)
    assert all(p.watertight for p in a.pieces)
    tubes = mesh_kernel.evaluate(a.pieces_in_case["spacers-board"])
    for name, recipe in a.pieces_in_case.items():
        if name != "spacers-board":
            assert (mesh_kernel.evaluate(recipe) ^ tubes).volume() == pytest.approx(0, abs=1e-6)
