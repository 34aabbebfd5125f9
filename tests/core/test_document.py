"""The document and its edits: what is taken, what is refused and in which words."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import gaps_of
from rhombex.core.design import Design, read_design
from rhombex.core.edits import EDIT, Add, Move, MoveWall, Remove, Set, Together, Turn, read_edit
from rhombex.core.migrations import DESIGN_VERSION
from rhombex.core.plain import DesignError
from rhombex.core.space import FACES, Box, face_frame, off_face, on_face, turned
from rhombex.demo.scenario import wren as make_wren

from ..examples import examples

GOOD: dict[str, Any] = {
    "name": "x",
    "shell": {"inner_mm": [100, 80, 40], "construction": {"kind": "two halves", "joint_mm": 30}},
}


def with_(path: str, value: Any) -> dict[str, Any]:
    data = make_wren().model_dump(mode="json")
    node: Any = data
    *steps, last = path.split(".")
    for s in steps:
        node = node[int(s)] if s.isdigit() else node[s]
    node[last] = value
    return data


@pytest.mark.parametrize(
    ("path", "value", "field", "said"),
    [
        ("schema_version", DESIGN_VERSION + 1, "schema_version", "newer Rhombex"),
        ("shell.wall_mm", "thick", "shell.wall_mm", "a number is wanted"),
        ("shell.wall_mm", 0, "shell.wall_mm", "at least"),
        ("shell.wall_mm", -3, "shell.wall_mm", "at least"),
        ("shell.wall_mm", float("nan"), "shell.wall_mm", "finite"),
        ("shell.inner_mm", [0, 10, 10], "shell.inner_mm.0", "more than 0"),
        ("shell.inner_mm", [30, 30, 31], "shell.corner_radius_mm", None),
        ("shell.construction.joint_mm", 31.0, "shell.construction.joint_mm", "below the cavity's top"),
        ("shell.construction", {"kind": "egg"}, "shell.construction", "must be one of"),
        ("shell.construction", "egg", "shell.construction", None),
        ("vents.0.on", "nobody", "vents.vent-back.on", "no 'nobody'"),
        ("process.filament", "wood", "process.filament", "must be"),
        ("placements.0.turn", 45, "placements.0.turn", "must be"),
        ("placements.1.id", "board", "placements", "twice"),
        ("placements.2.on", "cooler", "placements.cooler", "ride"),
        ("placements.3.face", None, "placements.fan", "needs a face"),
        ("placements.0.face", "left", "placements.board", "takes no face"),
        ("placements.0.at_mm", [1e9, 0, 0], "placements.0.at_mm.0", "at most"),
        ("name", "", "name", None),
        ("surprise", 1, "surprise", "no such field"),
    ],
)
def test_bad_fields_are_named(path: str, value: Any, field: str, said: str | None) -> None:
    if path == "shell.inner_mm" and value[0] == 30:
        data = with_("shell.corner_radius_mm", 25)
        data["shell"]["inner_mm"] = value
    else:
        data = with_(path, value)
    with pytest.raises(DesignError) as e:
        read_design(data)
    assert e.value.field.startswith(field), e.value.field
    if said:
        assert said in e.value.message
    assert ("no such field" in e.value.message) <= (", not" not in e.value.message)
    assert e.value.kept and e.value.do


@pytest.mark.parametrize("data", [None, [], 3, "x", {}, {"name": "x"}])
def test_what_is_no_design_is_said_to_be_none(data: Any) -> None:
    with pytest.raises(DesignError):
        read_design(data)


def test_things_that_ride_in_a_ring_are_refused() -> None:
    data = with_("placements.0.on", "cooler")
    with pytest.raises(DesignError, match="ring"):
        read_design(data)


def test_a_wall_thicker_than_the_box_is_refused() -> None:
    d = read_design(
        GOOD
        | {
            "shell": {
                "inner_mm": [20, 20, 20],
                "construction": {"kind": "two halves", "joint_mm": 10},
                "corner_radius_mm": 2,
            }
        }
    )
    with pytest.raises(DesignError, match="too thick for a cavity"):
        apply(d, Set(path="shell.wall_mm", value=12))


@pytest.mark.parametrize(
    "path", ["placements", "schema_version", "shell.__class__", "shell.nothing", "brief", "process."]
)
def test_only_fields_that_can_be_set_are_set(path: str) -> None:
    with pytest.raises(DesignError):
        apply(read_design(GOOD), Set(path=path, value=1))


def test_edits_leave_the_old_design_alone(wren: Design) -> None:
    before = wren.model_dump_json()
    apply(wren, Together(edits=(Set(path="shell.wall_mm", value=4), Move(id="drive", to_mm=(1, 2, 3)))))
    assert wren.model_dump_json() == before


def test_together_is_all_or_nothing(wren: Design) -> None:
    with pytest.raises(DesignError):
        apply(wren, Together(edits=(Set(path="shell.floor_mm", value=4), Set(path="shell.wall_mm", value=99))))


def test_riders_move_and_turn_with_their_carrier(wren: Design) -> None:
    board, cooler = wren.placement("board"), wren.placement("cooler")
    assert board and cooler
    moved = apply(wren, Move(id="board", to_mm=tuple(x + 3 for x in board.at_mm)))  # type: ignore[arg-type]
    after = moved.placement("cooler")
    assert after and after.at_mm == pytest.approx([x + 3 for x in cooler.at_mm])
    round_ = wren
    for _ in range(4):
        round_ = apply(round_, Turn(id="board", by=90))
    assert arrange(round_) == arrange(wren)


def test_taking_a_board_out_takes_its_leads_and_wishes(wren: Design) -> None:
    less = apply(wren, Remove(id="board"))
    assert {p.id for p in less.placements} == {"drive", "fan", "button"}  # the cooler rode on the board
    assert less.leads == () and less.brief.needs == ()
    with pytest.raises(DesignError, match="no 'board'"):
        apply(less, Remove(id="board"))


@pytest.mark.parametrize("face", FACES)
def test_moving_a_wall_moves_nothing_in_the_room(wren: Design, face: Any) -> None:
    """Gaps change on the moved side only, by just as much."""
    before = {(g.side): g.gap_mm for g in gaps_of(wren, arrange(wren), "board")}
    grown = apply(wren, MoveWall(face=face, by_mm=4))
    after = {(g.side): g.gap_mm for g in gaps_of(grown, arrange(grown), "board")}
    for side, gap in after.items():
        walled = next(g.to for g in gaps_of(grown, arrange(grown), "board") if g.side == side) == side
        assert gap == pytest.approx(before[side] + (4 if side == face and walled else 0), abs=1e-6)


@settings(max_examples=examples(60))
@given(st.sampled_from(["board", "drive"]), st.tuples(*[st.floats(-50, 50)] * 3), st.sampled_from([90, 180, 270]))
def test_edits_survive_being_written_down(id: str, at: tuple[float, float, float], by: Any) -> None:
    design = make_wren()
    for e in (Move(id=id, to_mm=at), Turn(id=id, by=by)):
        again = EDIT.validate_json(EDIT.dump_json(e))
        assert again == e and apply(design, again) == apply(design, e)


def test_an_unknown_edit_is_refused() -> None:
    for data in ({"do": "explode"}, {}, None, {"do": "move", "id": "x", "to_mm": [1, 2]}):
        with pytest.raises(DesignError) as e:
            read_edit(data)
        assert e.value.field.startswith("edit")


def test_adding_what_is_there_already_is_refused(wren: Design) -> None:
    with pytest.raises(DesignError, match="twice"):
        apply(wren, Add(placement=wren.placements[0]))


@given(st.sampled_from(FACES), st.floats(0, 100), st.floats(0, 60))
def test_points_go_to_a_face_and_back(face: Any, u: float, v: float) -> None:
    size = (120.0, 90.0, 60.0)
    assert on_face(face, size, off_face(face, size, (u, v))) == pytest.approx((u, v))


@pytest.mark.parametrize(
    "frame", [turned((1, 2, 3), t) for t in (0, 90, 180, 270)] + [face_frame(f, (0, 0, 0)) for f in FACES]
)
def test_frames_are_right_handed_and_keep_sizes(frame: Any) -> None:
    x, y, z = frame.x, frame.y, frame.z
    cross = (x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0])
    assert cross == pytest.approx(z)
    box = Box((0, 0, 0), (1, 2, 3))
    assert sorted(frame.box(box).size) == pytest.approx([1, 2, 3])


def test_an_edit_carries_only_the_coordinate_that_changed(wren: Design) -> None:
    x, y, z = wren.placement("drive").at_mm  # type: ignore[union-attr]
    moved = apply(wren, Move(id="drive", to_mm=(x - 3, None, None)))
    moved = apply(moved, Move(id="drive", to_mm=(None, y + 2, None)))
    assert moved.placement("drive").at_mm == (x - 3, y + 2, z)  # type: ignore[union-attr]
    w, d, h = wren.shell.inner_mm
    wider = apply(apply(wren, Set(path="shell.inner_mm.0", value=w + 1)), Set(path="shell.inner_mm.2", value=h + 4))
    assert wider.shell.inner_mm == (w + 1, d, h + 4)
    for path in ("shell.inner_mm.3", "shell.inner_mm.-1", "shell.inner_mm.x", "shell.wall_mm.0", "shell.inner_mm."):
        with pytest.raises(DesignError, match=r"not a field|should be"):
            apply(wren, Set(path=path, value=5.0))
    with pytest.raises(DesignError, match="inner_mm"):
        apply(wren, Set(path="shell.inner_mm.1", value=-5.0))
