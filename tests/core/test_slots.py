"""Cards in the slots of desktop boards: where the slots are, where a card lands, and what is said of one that is in none."""

from __future__ import annotations

import pytest

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.bench.seat import edge_of, slots_of, unseated
from rhombex.core.concerns import Finding, judge
from rhombex.core.constructions import OpenBench, TwoHalves
from rhombex.core.design import Design, Placement, Shell
from rhombex.core.edits import Construct, Move, MoveWall, PlaceNew, Together, Turn
from rhombex.core.parts import library, port_kinds
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron


def bench(*keys: str) -> Design:
    d = Design(name="x", shell=Shell(inner_mm=(420, 420, 220), construction=TwoHalves(joint_mm=180)))
    for key in keys:
        d = apply(d, PlaceNew(component=key))
    return d


def things(d: Design) -> dict[str, Thing]:
    return {t.id: t for t in arrange(d)}


def told(d: Design) -> list[Finding]:
    return [f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "none")) if f.code == "rider-not-seated"]


@pytest.mark.parametrize(("key", "columns"), [("mini-itx", [163.8]), ("micro-atx", [163.8, 204.4, 224.8])])
def test_slots_are_where_the_form_factor_has_them(key: str, columns: list[float]) -> None:
    """ATX 2.2 and microATX 1.2, from memory: slot 1 163.8 from the edge on the I/O side, the next 20.32 apart each; of the sample's boards one lacks slot 2."""
    board = library()[f"board-{key}"]
    slab = next(s for s in board.solids if s.name == "board")
    there = [slab.hi[0] - (s.lo[0] + s.hi[0]) / 2 for s in board.solids if s.name.startswith("slot ")]
    assert there == pytest.approx(columns, abs=0.05)


@pytest.mark.parametrize("key", ["board-mini-itx", "board-micro-atx", "board-atx"])
def test_slots_are_clear_of_holes_and_of_what_else_is_on_the_board(key: str) -> None:
    board = library()[key]
    rest = [s for s in board.solids if s.role in ("body", "connector")]
    for s in (s for s in rest if s.name.startswith("slot ")):
        for m in board.mounts:  # pads of 10.16
            gaps = [max(lo - at, at - hi) for lo, hi, at in zip(s.lo[:2], s.hi[:2], m.at, strict=True)]
            assert max(gaps) > 5.08, (s.name, m.name)
        for q in rest:
            gaps = [max(a - d, c - b) for a, b, c, d in zip(s.lo, s.hi, q.lo, q.hi, strict=True)]
            assert q is s or max(gaps) > 0, (s.name, q.name)


@pytest.mark.parametrize("turn", [0, 90, 180, 270])
@pytest.mark.parametrize("key", ["card-1-low", "card-2-half", "card-3-full"])
def test_an_upright_card_lands_in_its_slot_with_its_bracket_at_the_rear(key: str, turn: int) -> None:
    d = bench("board-mini-itx")
    if turn:
        d = apply(d, Turn(id="board", by=turn))  # type: ignore[arg-type]
    d = apply(d, PlaceNew(component=f"{key}-upright"))
    board, card = things(d)["board"], things(d)["card"]
    edge, slot = edge_of(card), slots_of(board)[0]
    assert edge is not None and unseated(card, board) is None and not told(d)
    along = 1 if turn in (0, 180) else 0
    assert edge.centre[1 - along] == pytest.approx(slot.centre[1 - along], abs=0.01)
    assert slot.lo[along] < edge.lo[along] and edge.hi[along] < slot.hi[along]
    assert edge.hi[2] == pytest.approx(slot.hi[2], abs=0.01)
    rear, bracket = (next(q for q in t.ports) for t in (board, card))
    assert rear.name == "rear" and bracket.face == rear.face
    # the outside of the bracket is where the outside of the shield is: both seat at one wall
    assert bracket.centre[along] == pytest.approx(rear.centre[along], abs=0.01)


def test_the_window_of_an_upright_bracket_is_upright() -> None:
    lying, upright = port_kinds()["bracket-full-2"], port_kinds()["bracket-full-2-upright"]
    assert (upright.width_mm, upright.height_mm) == (lying.height_mm, lying.width_mm) == (33.32, 113)


def test_its_cooler_looks_away_from_the_rear_connectors() -> None:
    card, board = library()["card-2-half-upright"], library()["board-mini-itx"]
    io = next(s for s in board.solids if s.name == "rear connectors")
    slot = next(s for s in board.solids if s.name == "slot 1")
    cooler = next(s for s in card.solids if s.name == "cooler")
    assert io.lo[0] > slot.hi[0] and cooler.hi[0] < 0


def test_the_next_card_takes_the_next_slot_that_it_fits_and_that_is_free() -> None:
    """The sample's ATX board has slots 1 (x16), 3 (x1), 5 (x4), 7 (x1): a two-slot card covers 1 and 2, an x4 contact edge of 34.3 is too long for slot 3."""
    d = bench("board-atx", "card-2-half-upright", "card-1-full-upright", "card-1-low-upright")
    board, *cards = (things(d)[k] for k in ("board", "card", "card-2", "card-3"))
    at = [edge.centre[0] for c in cards for edge in [edge_of(c)] if edge is not None]
    slots = [s.centre[0] for s in slots_of(board)]
    assert at == pytest.approx([slots[0], slots[2], slots[1]], abs=0.01)
    assert not [f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "none")) if f.code == "components-collide"]
    near = [c for c in (*d.placements,) if c.id != "card-2"]
    beside = Placement(**(d.placements[2].model_dump() | {"at_mm": d.placements[1].at_mm}))
    clash = d.model_copy(update={"placements": (*near, beside)})
    assert [f for f in judge(analyse(clash, ARCHIVE_WORKSHOP, "none")) if f.code == "components-collide"]


def test_a_card_that_lies_over_the_slots_is_told_first_and_stood_up() -> None:
    d = bench("board-mini-itx", "card-2-half")
    first = judge(analyse(d, ARCHIVE_WORKSHOP, "none"))[0]
    assert (first.code, first.severity, first.measured, first.limit) == ("rider-not-seated", "stop", 0, 80)
    assert first.title == "Card lies flat over the slots of Board"
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    (f,) = told(d)
    remedy = f.remedies[0]
    assert remedy.label == "Stand Card in a slot of Board, with the walls drawn out"
    then = apply(d, Together(edits=remedy.edits))
    assert not told(then)
    codes = {f.code for f in judge(analyse(then, ARCHIVE_WORKSHOP, "none")) if f.severity == "stop"}
    assert not codes & {"component-hits-wall", "component-hits-lid", "components-collide", "plug-meets-wall"}
    assert next(p for p in then.placements if p.id == "card").name == "Card"


def test_a_card_lands_on_a_riser_that_is_free() -> None:
    d = bench("board-mini-itx", "riser-200", "card-2-half")
    card = next(p for p in d.placements if p.id == "card")
    assert card.on == "riser" and not told(d)
    d = apply(d, PlaceNew(component="card-1-low"))
    assert next(p for p in d.placements if p.id == "card-2").on == "board"  # the riser carries one


@pytest.mark.parametrize(
    ("by", "off"), [((0.4, 0, 0), False), ((0.6, 0, 0), True), ((0, 3, 0), True), ((0, 0, 5), True)]
)
def test_a_card_that_is_drawn_from_its_slot_is_told_and_put_back(by: tuple[float, float, float], off: bool) -> None:
    d = bench("board-mini-itx", "card-2-half-upright")
    at = next(p for p in d.placements if p.id == "card").at_mm
    moved = apply(d, Move(id="card", to_mm=tuple(round(a + b, 3) for a, b in zip(at, by, strict=True))))  # type: ignore[arg-type]
    found = told(moved)
    assert bool(found) == off
    if off:
        assert found[0].measured == pytest.approx(sum(x * x for x in by) ** 0.5, abs=0.01) and found[0].limit == 0.5
        assert found[0].title == "Card is out of the slots of Board"
        back = apply(moved, Together(edits=found[0].remedies[0].edits))
        assert next(p for p in back.placements if p.id == "card").at_mm == pytest.approx(at, abs=0.01)


def test_a_card_turned_the_wrong_way_fits_no_slot() -> None:
    d = apply(bench("board-mini-itx", "card-2-half-upright"), Turn(id="card", by=180))
    (f,) = told(d)
    assert f.title == "Card fits no slot of Board" and (f.measured, f.limit) == (0, 80)
    assert not told(apply(d, Together(edits=f.remedies[0].edits)))


def test_a_contact_edge_that_is_longer_than_every_slot_is_told_by_its_share() -> None:
    """A board with nothing but an x4 slot of 38.3 takes 38.3 of the 84.3 of an x16 edge: 45 %."""
    atx = library()["board-atx"]
    own = atx.model_copy(
        update={"key": "own-board", "solids": tuple(s for s in atx.solids if s.name not in ("slot 1",))}
    )
    d = Design(name="x", shell=Shell(inner_mm=(420, 420, 220), construction=TwoHalves(joint_mm=180)))
    d = apply(apply(d, PlaceNew(component=own.key, custom=own)), PlaceNew(component="card-2-half-upright"))
    (f,) = told(d)
    assert f.title == "Card fits no slot of Board" and f.measured == pytest.approx(100 * 38.3 / 84.3, abs=0.1)


def test_an_upright_card_at_its_wall_has_a_bracket_beside_its_upper_end() -> None:
    """As near as its board may come to the wall, its bracket is pressed to it; 5 mm farther back nothing presses it, and that is told of the board, which it goes with."""
    d = bench("board-mini-itx", "card-2-half-upright")
    deep = d.shell.inner_mm[1]
    for off, pressed in ((1.0, True), (6.0, False)):
        there = apply(d, Move(id="board", to_mm=(200, deep - 87 - off, 10)))
        a = analyse(there, ARCHIVE_WORKSHOP, "none")
        mine = [b for b in a.case.brackets if b.of == "card"]
        assert len(mine) == int(pressed) and {b.side for b in mine} <= {"left", "right"}
        bracket = next(s.box for t in a.things if t.id == "card" for s in t.solids if s.name == "bracket")
        assert all(min(x.hi[2] for x in b.rooms) > bracket.centre[2] for b in mine)  # in its upper half
        said = [f for f in judge(a) if f.code == "plate-off-wall"]
        assert [f.subjects for f in said] == ([] if pressed else [("board/rear",)])
        for f in said:
            assert f.measured == pytest.approx(off, abs=0.01)
            back = apply(there, Together(edits=f.remedies[0].edits))
            assert [b.of for b in analyse(back, ARCHIVE_WORKSHOP, "none").case.brackets] == ["card"]


def test_to_its_wall_leaves_the_shield_the_room_that_a_component_has_there() -> None:
    d = bench("board-mini-itx", "card-2-half-upright")
    there = apply(d, Move(id="board", to_mm=(200, 150, 10)))
    (f,) = [f for f in judge(analyse(there, ARCHIVE_WORKSHOP, "none")) if f.key == "port-not-reachable:board/rear"]
    (move,) = [r for r in f.remedies if "back" in r.label][:1]
    then = analyse(apply(there, Together(edits=move.edits)), ARCHIVE_WORKSHOP, "none")
    assert not [f for f in judge(then) if f.code in ("component-hits-wall", "port-not-reachable")]


def test_a_way_to_the_wall_brings_no_stop() -> None:
    """Beside the corner of the walls the card would meet its rounding: the walls go out, or nothing is offered."""
    d = Design(name="x", shell=Shell(inner_mm=(120, 90, 40), construction=TwoHalves(joint_mm=32)), printer="bench-300")
    for key in ("board-mini-itx", "cooler-95x47", "supply-sfx", "card-2-half-upright"):
        d = apply(d, PlaceNew(component=key))
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    seen = 0
    for back in (0, 10, 25):
        at = next(p for p in d.placements if p.id == "board").at_mm
        there = apply(d, Together(edits=(MoveWall(face="back", by_mm=20 + back), Move(id="board", to_mm=at))))
        a = analyse(there, ARCHIVE_WORKSHOP, "none")
        stops = {f.key for f in judge(a) if f.severity == "stop"}
        for f in (f for f in judge(a) if f.code == "plate-off-wall"):
            for r in f.remedies:
                then = judge(analyse(apply(there, Together(edits=r.edits)), ARCHIVE_WORKSHOP, "none"))
                assert not {g.key for g in then if g.severity == "stop"} - stops, r.label
                assert "plate-off-wall" not in {g.code for g in then}, r.label
                seen += 1
    assert seen


def test_board_and_card_on_its_riser_are_told_apart_and_come_to_the_wall() -> None:
    """*Heron*'s shield is 1.5 behind the inside of its back wall, the bracket of its card 0.5: with the wall 15 out both are told, and where there is no wall neither."""
    wide = apply(heron(), MoveWall(face="back", by_mm=15))
    found = [f for f in judge(analyse(wide, ARCHIVE_WORKSHOP, "none")) if f.code == "plate-off-wall"]
    assert [(f.subjects[0], round(f.measured, 2)) for f in found] == [("board/rear", 16.5), ("card/bracket", 15.5)]
    assert [f.remedies[0].label for f in found] == ["Move Board 14.5 mm back", "Move Riser 13.5 mm back"]
    both = apply(wide, Together(edits=tuple(e for f in found for e in f.remedies[0].edits)))
    assert "plate-off-wall" not in {f.code for f in judge(analyse(both, ARCHIVE_WORKSHOP, "none"))}
    bare = apply(wide, Construct(construction=OpenBench()))
    assert "plate-off-wall" not in {f.code for f in judge(analyse(bare, ARCHIVE_WORKSHOP, "none"))}


def test_a_copy_of_an_upright_card_goes_into_the_slot_and_not_onto_the_riser() -> None:
    own = library()["card-2-half-upright"].model_copy(update={"key": "own-card", "label": "Own card"})
    d = apply(bench("board-mini-itx", "riser-200"), PlaceNew(component="own-card", custom=own))
    assert next(p for p in d.placements if p.component == "own-card").on == "board" and not told(d)
