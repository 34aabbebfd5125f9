"""A component taken from the library gets a name of its own and lands where nothing else is."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.placing import new_placement
from rhombex.core.concerns import judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Shell
from rhombex.core.edits import FitCavity, PlaceNew, Turn
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples
from ..rough import shaped

EMPTY = Design(name="x", shell=Shell(inner_mm=(300, 200, 60), construction=TwoHalves(joint_mm=52)))


def clashes(d: Design) -> list[str]:
    return [f.title for f in judge(shaped(d)) if f.code == "components-collide"]


def test_boards_and_drives_land_beside_one_another() -> None:
    d = EMPTY
    for key in ("sbc-85x56", "drive-2.5", "sbc-85x56", "drive-2.5"):
        d = apply(d, PlaceNew(component=key))
    assert [p.id for p in d.placements] == ["board", "drive", "board-2", "drive-2"]
    assert [p.name for p in d.placements] == ["Board", "Drive", "Board 2", "Drive 2"]
    assert clashes(d) == []
    room = arrange(d)
    assert min(s.box.lo[0] for t in room for s in t.solids if s.role == "board") >= d.shell.wall_mm + 0.99


def test_a_cooler_rides_on_the_board_and_a_fan_sits_in_the_lid() -> None:
    d = apply(EMPTY, PlaceNew(component="sbc-85x56"))
    d = apply(d, PlaceNew(component="cooler-40x11"))
    d = apply(apply(d, PlaceNew(component="fan-40x10")), PlaceNew(component="fan-40x10"))
    cooler, fan, second = d.placements[1:]
    board = d.placements[0]
    # by hand: a board of 1.6 with a processor of 2.6 on it, its middle 6.5 left of the board's
    assert cooler.on == "board" and cooler.at_mm == (
        board.at_mm[0] - 6.5,
        board.at_mm[1],
        pytest.approx(board.at_mm[2] + 4.2),
    )
    assert (fan.face, second.face) == ("top", "top") and fan.at_mm[:2] == (150.0, 100.0)
    # two frames of 40 with the room between components, one way or the other
    assert (
        max(abs(b - a) for a, b in zip(fan.at_mm, second.at_mm, strict=True)) == pytest.approx(42) and clashes(d) == []
    )


def test_where_there_is_no_room_it_lands_beside_where_no_port_looks_and_the_walls_can_be_drawn() -> None:
    small = EMPTY.model_copy(update={"shell": EMPTY.shell.model_copy(update={"inner_mm": (100.0, 70.0, 60.0)})})
    d = apply(small, PlaceNew(component="sbc-85x56"))
    d = apply(d, PlaceNew(component="drive-2.5"))
    assert clashes(d) == []
    # the board's ports look right and forward: behind it or to its left a drive is in nobody's way, and to its left both together are shorter
    board, drive = (next(t for t in arrange(d) if t.id == id) for id in ("board", "drive"))
    assert max(s.box.hi[0] for s in drive.solids if s.role == "body") < min(s.box.lo[0] for s in board.solids)
    fitted = apply(d, FitCavity())
    told = {f.code for f in judge(shaped(fitted)) if f.severity == "stop"}
    assert not {"components-collide", "port-not-reachable", "component-hits-wall", "plug-meets-wall"} & told


@pytest.mark.parametrize(
    "keys",
    [
        ("sbc-85x56", "display-7", "button-16", "usb-c-panel", "network-panel"),
        ("fan-80x25", "fan-80x25", "fan-80x25", "sbc-85x56"),
        ("board-mini-itx", "fan-120x25", "fan-120x25", "inlet-c14"),
    ],
)
@pytest.mark.parametrize("inner_mm", [(300.0, 200.0, 60.0), (120.0, 90.0, 50.0)])
def test_what_is_fixed_to_walls_lands_beside_what_is_there_on_whichever_wall_has_room(
    keys: tuple[str, ...], inner_mm: tuple[float, float, float]
) -> None:
    """In a room that is too small, on the walls as they will be drawn round all that is there; else beside it, along the wall."""
    d = EMPTY.model_copy(
        update={
            "shell": Shell(inner_mm=inner_mm, construction=TwoHalves(joint_mm=inner_mm[2] - 8)),
            "printer": "bench-300",
        }
    )
    for key in keys:
        d = apply(d, PlaceNew(component=key))
    assert clashes(d) == [] or inner_mm[0] < 200
    fitted = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    assert clashes(fitted) == []
    told = {f.code for f in judge(shaped(fitted)) if f.severity == "stop"}
    assert not {"component-in-part", "component-hits-wall"} & told
    assert (
        fitted.shell.inner_mm[0] * fitted.shell.inner_mm[1] < 65_000
    )  # over one another where that can be, not in one row


def test_mains_come_in_at_the_back() -> None:
    for key in ("supply-sfx", "inlet-c14", "brick-12v-60"):
        d = apply(
            EMPTY.model_copy(update={"shell": Shell(inner_mm=(300, 200, 100), construction=TwoHalves(joint_mm=90))}),
            PlaceNew(component=key),
        )
        assert d.placements[0].face == "back", key
    small = apply(EMPTY, PlaceNew(component="button-16"))
    assert small.placements[0].face == "front"


def test_nothing_is_placed_that_there_is_not() -> None:
    with pytest.raises(DesignError, match="no component 'gone'"):
        apply(EMPTY, PlaceNew(component="gone"))


def test_an_own_component_comes_along_with_its_label() -> None:
    own = Component.model_validate(
        library()["sbc-85x56"].model_dump() | {"key": "own-1", "family": "own component", "label": "My board"}
    )
    d = apply(EMPTY, PlaceNew(component="own-1", custom=own))
    assert d.custom == (own,) and d.placements[0].name == "My board" and d.placements[0].id == "own-component"


@settings(max_examples=examples(40), deadline=None)
@given(st.lists(st.sampled_from(sorted(library())), min_size=1, max_size=6))
def test_whatever_is_taken_from_the_library_has_an_own_name_and_a_place(keys: list[str]) -> None:
    d = EMPTY
    for key in keys:
        before = d
        d = apply(d, PlaceNew(component=key))
        new = d.placements[-1]
        assert new.id not in {p.id for p in before.placements} and new_placement(before, library()[key]) == new
        if new.face is None and new.on is None:
            mine, *others = [t for t in reversed(arrange(d)) if t.placement.on is None]
            for t in others:
                for a in mine.solids:
                    for b in t.solids:
                        if "keepout" not in (a.role, b.role):
                            assert max(a.box.gaps(b.box)) >= -1e-9, (key, t.id)


def test_a_shield_lands_on_the_board_that_it_is_meant_for() -> None:
    """On 12 mm standoffs, which its header mates over (10.0 to 12.5), its holes over those of the board; a second one on the first where that carries a header
    on, else beside; without such a board it stands by itself."""
    alone_ = apply(EMPTY, PlaceNew(component="shield-power")).placements[0]
    assert (alone_.on, alone_.stand) == (None, None)
    d = apply(apply(EMPTY, PlaceNew(component="sbc-85x56")), PlaceNew(component="shield-power"))
    board, shield = d.placements
    assert (
        shield.on == board.id
        and shield.stand is not None
        and (shield.stand.standoff_mm, shield.stand.made) == (12, "bought")
    )
    things = {t.id: t for t in arrange(d)}
    gap = next(s.box.lo[2] for s in things["shield"].solids if s.role == "board") - next(
        s.box.hi[2] for s in things["board"].solids if s.role == "board"
    )
    assert gap == pytest.approx(12)
    holes = [{(round(m.at[0], 2), round(m.at[1], 2)) for m in things[i].mounts} for i in ("board", "shield")]
    assert len(holes[0] & holes[1]) == 4
    told = {f.code for f in judge(shaped(d))}
    assert not told & {"header-does-not-mate", "underside-meets-floor", "stack-too-low"}
    second = apply(d, PlaceNew(component="shield-power")).placements[-1]
    assert second.on != board.id
    turned_ = apply(apply(EMPTY, PlaceNew(component="sbc-85x56")), Turn(id="board", by=90))
    assert apply(turned_, PlaceNew(component="shield-power")).placements[-1].turn == 90


@pytest.mark.parametrize(
    ("mates_mm", "stands"),
    [
        ((0.0, 0.0), (12, "bought")),
        ((-5.0, -1.0), (12, "bought")),
        ((500.0, 900.0), (12, "bought")),
        ((20.0, 5.0), (12, "bought")),
        ((5.0, 7.0), (6, "printed")),
    ],
)
def test_whatever_a_header_of_ones_own_says_a_shield_lands(
    mates_mm: tuple[float, float], stands: tuple[float, str]
) -> None:
    """Between headers that nothing brings together it stands on usual standoffs, and that they do not mate is told."""
    shield = library()["shield-power"]
    headers = tuple(h.model_copy(update={"mates_mm": mates_mm}) for h in shield.headers)
    board = library()["sbc-85x56"]
    pins = tuple(h.model_copy(update={"mates_mm": mates_mm}) for h in board.headers)
    own = [
        board.model_copy(update={"key": "own-board", "headers": pins}),
        shield.model_copy(update={"key": "own-shield", "headers": headers}),
    ]
    d = EMPTY
    for c in own:
        d = apply(d, PlaceNew(component=c.key, custom=c))
    stand = d.placements[-1].stand
    assert stand is not None and (stand.standoff_mm, stand.made) == stands
    told = {f.code for f in judge(analyse(d, ARCHIVE_WORKSHOP, "none"))}
    assert ("header-does-not-mate" in told) == (stands[1] == "bought") and "rule-broke" not in told
