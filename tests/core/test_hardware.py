"""The table of joints: lengths that serve, fewest kinds, what joints bear, whether tools reach, what is to be bought."""

from __future__ import annotations

from itertools import product
from math import cos, radians, sin
from random import Random

import pytest

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.advice.screws import fewer_kinds, take_length
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.concerns.registry import heard
from rhombex.core.design import Design, OwnJoint, Placement, Stand
from rhombex.core.edits import (
    Construct,
    HoldByMagnets,
    Move,
    MoveWall,
    PutJoint,
    Remove,
    Set,
    StackOn,
    ToFace,
    Together,
)
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import rect, through
from rhombex.core.hardware.joint_group import JointGroup
from rhombex.core.hardware.kinds import fewest_kinds
from rhombex.core.hardware.reach import aside, hides, reaches
from rhombex.core.hardware.shopping import shopping
from rhombex.core.hardware.strength import bears, pitch_diameter_mm
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.shell.offers import usual
from rhombex.core.shell.solids import bore
from rhombex.core.shop_edits import PutStock, RemoveStock, apply_shop
from rhombex.core.space import Frame
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stock import ITEMS, StockItem, example, in_drawer
from rhombex.demo.scenario import SCENARIOS

from ..rough import shaped

LENGTHS = ("lid-screw-length", "mount-screw-length", "wall-screw-length")


def lengths_told(a: Analysis) -> list[str]:
    return [f.title for code in LENGTHS for f in heard(code, a)]


def looked(d: Design) -> Analysis:
    return shaped(d)


def group(a: Analysis, key: str) -> JointGroup:
    return next(g for g in a.joints if g.key == key)


def test_every_joint_of_wren_with_its_stack(good: Analysis) -> None:
    assert [g.key for g in good.joints] == ["case/lid", "posts/board", "posts/drive", "face/fan"]
    lid, board, drive, fan = good.joints
    # lid 7.2 with the head 3.3 deep in it: 3.9 to pass; insert 5.7 in a hole of 6.9
    assert [(x.what, round(x.from_mm, 2), round(x.to_mm, 2)) for x in lid.layers] == [
        ("lid", -3.3, 3.9),
        ("insert", 3.9, 9.6),
        ("base", 9.6, 10.8),
    ]
    assert (lid.least_mm, lid.most_mm) == (pytest.approx(6.9), pytest.approx(10.3)) and lid.serves == (8, 10)
    # a board of 1.6, insert of 4 in a hole that ends 0.8 above the underside of 3 + 3.4: the tip keeps 0.5
    assert (board.least_mm, board.serves) == (pytest.approx(4.1), (5, 6))
    assert board.most_mm == pytest.approx(1.6 + 5.2 - 0.5)
    # aim 2.5 in the drive: 1.2 under the head at least, and the head of 3.3 in a stack of 9 at most
    assert (drive.least_mm, drive.most_mm) == (pytest.approx(3.7), pytest.approx(9 + 2.5 - 3.3))
    # lid 3 + frame 10 + nut 2.4 and a turn of 0.5
    assert [(x.what, round(x.to_mm - x.from_mm, 2)) for x in fan.layers] == [("lid", 3), ("Fan", 10), ("nut", 2.4)]
    assert fan.least_mm == pytest.approx(15.9) and fan.screw_mm == 16


def test_boards_on_boards(good_wren: Design) -> None:
    upper = Placement(id="upper", component="sbc-85x56", name="Upper", at_mm=(0, 0, 0), on="board")
    bare = apply(good_wren, Remove(id="cooler"))
    bought = looked(apply(bare, StackOn(placement=upper, stand=Stand(standoff_mm=20))))
    assert group(bought, "posts/board").head == "stud"
    on = group(bought, "on/upper")
    # a board of 1.6 and one diameter at least; tapped 8 deep
    assert (on.least_mm, on.most_mm, on.screw_mm) == (pytest.approx(4.1), pytest.approx(9.1), 5)
    printed = looked(apply(bare, StackOn(placement=upper, stand=Stand(standoff_mm=20, made="printed"))))
    through = group(printed, "posts/board")
    assert [(x.what, round(x.to_mm - x.from_mm, 2)) for x in through.layers][:3] == [
        ("Upper", 1.6),
        ("spacer", 20),
        ("Board", 1.6),
    ]
    assert through.grip_mm == pytest.approx(23.2) and not [g for g in printed.joints if g.key == "on/upper"]


@pytest.mark.parametrize("name", sorted(set(SCENARIOS) - {"heron-panels"}))
def test_a_length_that_is_offered_serves_and_the_next_ones_do_not(name: str) -> None:
    d = SCENARIOS[name]()
    a = looked(d)
    assert a.joints

    def told(length: float, g: JointGroup) -> list[str]:
        return lengths_told(looked(apply(d, take_length(a, g, length))))

    assert lengths_told(a) == []
    for g in a.joints:
        if g.head == "stud":
            continue
        assert g.screw_mm in g.serves
        assert told(g.serves[-1], g) == told(g.serves[0], g) == []
        assert told(g.most_mm + 1.0, g), (g.key, "too long")
        short = g.grip_mm if g.holding != "own thread" or g.key.startswith("face") else 1.5
        assert told(short, g), (g.key, "too short")


def some_table(r: Random) -> tuple[JointGroup, ...]:
    base = looked(SCENARIOS["curlew"]()).joints[0]
    out = []
    for k in range(r.randint(1, 6)):
        lo = r.uniform(3, 30)
        out.append(
            base.model_copy(
                update={
                    "key": f"posts/{k}",
                    "least_mm": lo,
                    "most_mm": lo + r.choice([0.5, 1, 2, 4, 8, 12]),
                    "thread": r.choice(["M2_5", "M3", "M3", "UNC6_32"]),
                    "screw_mm": None,
                    "count": r.randint(1, 8),
                }
            )
        )
    return tuple(out)


def test_the_fewest_kinds_are_the_fewest_of_all_ways() -> None:
    """Against trying every choice of 200 random tables."""
    for seed in range(200):
        table = some_table(Random(seed))
        found = fewest_kinds(table)
        rows = [g for g in table if g.serves]
        assert set(found.without) == {g.key for g in table if not g.serves}
        least = min(
            (
                len({(g.thread, x) for g, x in zip(rows, way, strict=True)})
                for way in product(*(g.serves for g in rows))
            ),
            default=0,
        )
        assert found.proven and len(found.least) == least, seed
        by_key = {g.key: g for g in rows}
        assert {c.key for c in found.choices} == set(by_key)
        assert all(c.length_mm in by_key[c.key].serves for c in found.choices)
        assert sum(k.count for k in found.least) == sum(g.count for g in rows)


def test_what_lies_in_the_drawer_is_taken_before_what_is_bought(good: Analysis) -> None:
    lid = group(good, "case/lid").model_copy(update={"screw_mm": None})
    assert fewest_kinds((lid,)).choices[0].length_mm in (8, 10)
    for length in (8, 10):
        stock = (StockItem(item="screw, socket cap", size=f"M3 x {length}", count=12),)
        assert fewest_kinds((lid,), stock).choices[0].length_mm == length
    # what is taken stays where nothing speaks against it
    assert fewest_kinds((lid.model_copy(update={"screw_mm": 10}),)).choices[0].length_mm == 10


def test_one_press_takes_the_fewest_kinds_of_dunlin() -> None:
    d = apply(SCENARIOS["dunlin"](), HoldByMagnets(magnets=None))
    a = looked(d)
    found, edits = fewer_kinds(a)
    assert (len(found.now), len(found.least)) == (4, 3)
    after = looked(apply(d, Together(edits=edits)))
    assert {k.words for k in fewest_kinds(after.joints).now} == {k.words for k in found.least}
    assert lengths_told(after) == []
    assert fewer_kinds(after)[1] == ()


@pytest.mark.parametrize(
    ("thread", "seat_nm", "pitch_d"),
    # torque at 15 MPa under a plain head and K = 0.2, rounded; pitch diameters of ISO 724 and ASME B1.1 (memory)
    [("M2", 0.04, 1.740), ("M2_5", 0.07, 2.208), ("M3", 0.13, 2.675), ("M4", 0.27, 3.545), ("UNC6_32", 0.24, 2.990)],
)
def test_torque_and_pitch_diameter(good: Analysis, thread: str, seat_nm: float, pitch_d: float) -> None:
    g = group(good, "face/fan").model_copy(update={"thread": thread})
    assert bears(g, "PLA").torque_nm == pytest.approx(seat_nm, abs=0.006)
    assert pitch_diameter_mm(thread) == pytest.approx(pitch_d, abs=0.001)


def test_pull_out_by_hand(good: Analysis) -> None:
    # PETG: 46 x 0.65 x 0.5 = 14.95 MPa; an insert of 4.6 x 5.7: pi x 4.6 x 5.7 x 14.95 = 1231.5 N; four of them at a third
    b = bears(group(good, "case/lid"), "PETG")
    assert (b.low_n, b.high_n) == (pytest.approx(1231.5, abs=0.5), pytest.approx(1477.8, abs=0.5))
    assert b.load_n == pytest.approx(4 * 1231.5 / 3, abs=1)
    # 3.9 of M3 in plastic: pi x 2.675 x 3.9 x 14.95 = 490 N
    g = group(good, "case/lid").model_copy(update={"holding": "cut in plastic", "insert_mm": None})
    assert bears(g.model_copy(update={"screw_mm": g.grip_mm + 3.9}), "PETG").low_n == pytest.approx(490.0, abs=1)
    assert bears(group(good, "face/fan"), "PETG").low_n is None
    # a head on a board is not limited by plastic: the insert is
    assert bears(group(good, "posts/board"), "PETG").torque_nm == 0.2


def test_a_driver_needs_half_its_width_beside_its_screw(good_wren: Design) -> None:
    # the front pair of holes is 5.5 from the wall; a head of M2.5 is 4.5 wide
    for inward, free in ((3.2, True), (3.4, False)):
        a = looked(apply(good_wren, MoveWall(face="front", by_mm=-inward)))
        r = dict(zip([g.key for g in a.joints], reaches(a.joints, a.things, a.case), strict=True))["posts/board"]
        assert r.free is free
        if not free:
            assert (r.blocked_by, r.room_mm, r.needs_mm) == ("the front wall", pytest.approx(5.5 - inward), 2.25)
    # walls of the base end at 26.8 + 3, and the board's upper face at 3 + 3.4 + 1.6: the handle stays outside
    a = looked(good_wren)
    shaft = {g.key: r.shaft_mm for g, r in zip(a.joints, reaches(a.joints, a.things, a.case), strict=True)}
    assert shaft["posts/board"] == pytest.approx(29.8 - 8.0) and shaft["case/lid"] == 0
    deep = apply(good_wren, Together(edits=(MoveWall(face="top", by_mm=150),)))
    told = [f for f in judge(looked(deep)) if f.code == "joint-not-reached"]
    assert [(f.severity, f.measured, f.limit) for f in told] == [("weigh", 100, pytest.approx(150 + 29.8 - 8.0))]
    # a fan over the board's screws: it waits for them, and they for it
    a = looked(apply(good_wren, ToFace(id="fan", face="front", at_mm=(66, 0, 20))))
    wait = {g.of: r.wait for g, r in zip(a.joints, reaches(a.joints, a.things, a.case), strict=True)}
    assert wait["board"] == ("fan",) and "board" in wait["fan"]
    # under the lid it is screwed on before the lid comes over the board
    a = looked(apply(good_wren, ToFace(id="fan", face="top", at_mm=(97, 45, 0))))
    over = [s.at for g in a.joints if g.of == "board" for s in g.seats]
    box = next(t for t in a.things if t.id == "fan").bounds
    assert any(box.lo[0] < x < box.hi[0] and box.lo[1] < y < box.hi[1] for x, y, _ in over)
    wait = {g.of: r.wait for g, r in zip(a.joints, reaches(a.joints, a.things, a.case), strict=True)}
    assert wait["board"] == () and "board" not in wait["fan"]
    board, fan = (next(t for t in a.things if t.id == x) for x in ("board", "fan"))
    lines = {g.of: g for g in a.joints}
    assert not hides(lines["board"], fan, a.things, a.case) and not hides(lines["fan"], board, a.things, a.case)


def test_how_far_a_component_must_go_aside_is_worked_by_hand(good_wren: Design) -> None:
    """The frame of the fan, 40 wide at x 46.9 to 88.9, hides the board's screws at the front left: the driver is as thick as an M2.5 head or shaft."""
    a = looked(apply(good_wren, ToFace(id="fan", face="front", at_mm=(66, 0, 20))))
    line = next(g for g in a.joints if g.of == "board")
    fan = next(t for t in a.things if t.id == "fan")
    frame = next(s.box for s in fan.solids if s.role == "body")
    ways = aside(line, fan)
    r = max(val(f"fasteners.{line.thread}.driver_d"), val(f"fasteners.{line.thread}.head_d")) / 2
    hidden = [s.at for s in line.seats if frame.lo[0] - r < s.at[0] < frame.hi[0] + r and s.at[1] < frame.hi[1] + r]
    assert ways[0, -1] == pytest.approx(frame.hi[0] - min(x for x, _, _ in hidden) + r)
    assert ways[0, 1] == pytest.approx(max(x for x, _, _ in hidden) + r - frame.lo[0])
    # upwards all of the driver's shaft of 100 is to be cleared
    assert ways[2, 1] == pytest.approx(line.seats[0].at[2] + line.sunk_mm + 100 - frame.lo[2])
    drive = next(t for t in a.things if t.id == "drive")
    assert aside(line, drive) == {}


def test_the_shopping_list_counts_packs(good: Analysis) -> None:
    stock = (
        StockItem(item="screw, socket cap", size="M3 x 8", count=5, pack=10, pack_money=1.5),
        StockItem(item="heat-set insert", size="M3 x 5.7", count=40),
    )
    found = {(x.item, x.size): x for x in shopping(good.bill, stock, ()).lines}
    screws = found["screw, socket cap", "M3 x 8"]  # four for the lid, four for the drive; three are missing
    assert (screws.need, screws.have, screws.missing, screws.packs, screws.money.value) == (8, 5, 3, 1, 1.5)
    inserts = found["heat-set insert", "M3 x 5.7"]
    assert (inserts.missing, inserts.packs, inserts.money.value) == (0, 0, 0)
    assert shopping(good.bill, stock, ()).money == pytest.approx(sum(x.money.value for x in found.values()))
    # nothing of the bill is left out but components, sheet and leads
    small = [x for x in good.bill if x.item in ITEMS]
    assert sum(x.count for x in small) == sum(x.need for x in found.values())
    assert {x.item for x in good.bill} - set(ITEMS) == {"component", "lead"}


def test_the_drawer_is_changed_by_edits_and_refuses_nonsense() -> None:
    w = ARCHIVE_WORKSHOP
    for item in ITEMS:
        w = apply_shop(w, PutStock(stock=StockItem(item=item, size=example(item), count=3)))
    assert [s.item for s in w.stock] == list(ITEMS)
    w = apply_shop(w, PutStock(stock=StockItem(item="nut", size="M3", count=7)))
    assert in_drawer(w.stock, "nut", "M3") == 7 and len(w.stock) == len(ITEMS)
    w = apply_shop(w, RemoveStock(item="nut", size="M3"))
    assert in_drawer(w.stock, "nut", "M3") == 0
    with pytest.raises(DesignError, match="no nut M3 in the drawer"):
        apply_shop(w, RemoveStock(item="nut", size="M3"))
    for bad in ({"count": -1}, {"size": "M7 x 10"}, {"size": "long"}, {"pack": 0}):
        with pytest.raises(ValueError, match=next(iter(bad))):
            StockItem(**({"item": "screw, socket cap", "size": "M3 x 10", "count": 3} | bad))  # type: ignore[arg-type]


def test_own_lengths_and_threads_go_with_their_component(good_wren: Design) -> None:
    d = apply(good_wren, PutJoint(joint=OwnJoint(of="posts/board", holding="cut in plastic", screw_mm=8)))
    g = group(looked(d), "posts/board")
    assert (g.holding, g.screw_mm, g.by_hand) == ("cut in plastic", 8, True)
    # the bill takes no inserts for it
    assert not [x for x in looked(d).bill if x.item == "heat-set insert" and x.use == "Board"]
    assert apply(d, PutJoint(joint=OwnJoint(of="posts/board"))) == good_wren
    assert apply(d, Remove(id="board")).joints == ()
    with pytest.raises(ValueError, match="only what stands on posts"):
        OwnJoint(of="face/fan", holding="insert")
    with pytest.raises(DesignError, match="no such component"):
        apply(good_wren, PutJoint(joint=OwnJoint(of="posts/nobody", screw_mm=8)))


def test_the_stop_in_one_value(good_wren: Design) -> None:
    d = apply(good_wren, Set(path="brief.opened", value="weekly"))
    t = hardware_table(looked(d))
    lid, board = t.rows[0], t.rows[1]
    assert lid.opened.value > 50 and board.opened.value == 1
    assert [x.words for x in lid.lengths] == ["M3 x 8", "M3 x 10"] and lid.by_stack is None
    assert lid.tip_mm == pytest.approx(10.8 - 8)
    took = apply(d, lid.lengths[1].edit)
    again = hardware_table(looked(took)).rows[0]
    assert again.joint.screw_mm == 10 and again.by_stack is not None
    assert apply(took, again.by_stack) == d
    cut = next(x for x in board.holdings if x.holding == "cut in plastic")
    assert group(looked(apply(d, cut.edit)), "posts/board").holding == "cut in plastic"
    assert apply(apply(d, cut.edit), next(x for x in board.holdings if x.holding == "insert").edit) == d


def along(at: tuple[float, ...], way: tuple[float, ...], by: float) -> tuple[float, float, float]:
    return tuple(a + w * by for a, w in zip(at, way, strict=True))  # type: ignore[return-value]


@pytest.mark.parametrize("kind", ["two halves", "tray in a sleeve", "sliding panels", "posts"])
def test_a_captive_nut_is_slid_in_and_pulls_on_plastic(good_wren: Design, kind: str) -> None:
    """On the mesh: the way of the nut from the room to its screw is free, the screw goes through it, two millimetres of plastic are over it,
    and its flats are held."""
    if kind == "posts":
        raised = apply(good_wren, Move(id="board", to_mm=(None, None, 6.0)))
        d = apply(raised, Set(path="shell.post_thread", value="captive nut"))
        a = looked(d)
        screws = [
            (m.part, (*m.at, m.top_mm), (0.0, 0.0, -1.0), m.slot, m.thread, m.od_mm) for m in a.case.mounts if m.slot
        ]
    else:
        d = apply(good_wren, Construct(construction=usual(good_wren, kind)))
        d = apply(d, Set(path="shell.construction.joint_thread", value="captive nut"))
        a = looked(d)
        screws = [(j.into, j.at, j.along, j.slot, j.thread, j.od_mm) for j in a.case.joints]
    assert len(screws) >= 2 and not a.faults
    for part, at, way, slot, thread, od in screws:
        assert slot is not None
        if kind == "two halves":  # from the middle of the case, where the hand is
            assert sum(w * (size / 2 - x) for w, size, x in zip(slot, a.case.box_mm, at, strict=True)) > 0
        body = mk.evaluate(a.recipes[part], mk.FILE_TOL)
        side = tuple(way[(k + 1) % 3] * slot[(k + 2) % 3] - way[(k + 2) % 3] * slot[(k + 1) % 3] for k in range(3))
        s, m = val(f"fasteners.{thread}.nut_s"), val(f"fasteners.{thread}.nut_m")
        seat = along(at, way, 2.0)
        frame = Frame(seat, slot, side, way)  # type: ignore[arg-type]
        hexagon = [
            (s / 2 / cos(radians(30)) * cos(radians(60 * k)), s / 2 / cos(radians(30)) * sin(radians(60 * k)), 0.0)
            for k in range(6)
        ]
        corner = s / 2 / cos(radians(30))
        nut = mk.evaluate(through([tuple(hexagon)], frame, 0.05, m + 0.2), mk.FILE_TOL)  # type: ignore[arg-type]
        swept = mk.evaluate(through([rect(0, -s / 2, od / 2 + 0.9, s / 2)], frame, 0.05, m + 0.2), mk.FILE_TOL)
        assert (body ^ nut).volume() < 1e-3 and (body ^ swept).volume() < 1e-3, "the nut goes in"
        screw = mk.evaluate(bore(at, way, val(f"fasteners.{thread}.d"), -0.5, 2.0 + m + 0.3 + 0.4), mk.FILE_TOL)
        assert (body ^ screw).volume() < 1e-3, "and the screw through it"
        over = mk.evaluate(bore(at, way, s, 0.05, 1.95), mk.FILE_TOL) - mk.evaluate(
            bore(at, way, 3.9, 0, 2), mk.FILE_TOL
        )
        assert (body ^ over).volume() > 0.97 * over.volume(), "plastic over it"
        for y in (-1, 1):
            lo, hi = sorted((y * (s / 2 + 0.25), y * (s / 2 + 1.2)))
            cheek = mk.evaluate(through([rect(-0.5, lo, 0.5, hi)], frame, 0.2, m), mk.FILE_TOL)
            assert (body ^ cheek).volume() > 0.9 * cheek.volume(), "its flats are held"
        blind = mk.evaluate(through([rect(-corner - 1.2, -0.5, -corner - 0.35, 0.5)], frame, 0.2, m), mk.FILE_TOL)
        assert (body ^ blind).volume() > 0.97 * blind.volume(), "and its corner"
    g = next(g for g in a.joints if g.holding == "captive nut")
    nuts = sum(x.count for x in a.bill if x.item == "nut" and x.size == g.thread.replace("_", ".") and x.use == g.name)
    assert nuts == sum(x.count for x in a.joints if x.holding == "captive nut")
    assert all(p.watertight and p.bodies == 1 for p in a.pieces)


def test_captive_nuts_are_offered_where_their_slot_is_open(good_wren: Design) -> None:
    for kind, nuts in (("two halves", True), ("frame and covers", False), ("core and wrap", False)):
        d = apply(good_wren, Construct(construction=usual(good_wren, kind)))
        for row in hardware_table(looked(d)).rows:
            offered = [x.holding for x in row.holdings]
            if row.joint.holding_path:
                assert ("captive nut" in offered) is nuts, kind
            elif row.joint.key.startswith("posts/board"):
                assert "captive nut" in offered
        with_nuts = Set(path="shell.construction.joint_thread", value="captive nut")
        if nuts:
            t = hardware_table(looked(apply(d, with_nuts))).rows[0]
            # six sides of 5.5 / sqrt(3), two thick, of PLA: 52 x 0.65 x 0.5
            assert t.bears.low_n == pytest.approx(6 * 5.5 / 3**0.5 * 2 * 16.9, rel=1e-3)
            # under two of plastic, a nut of 2.4 in a slot 0.3 higher, and one turn
            assert t.joint.least_thread_mm == pytest.approx(2 + 2.4 + 0.3 + 0.5)
        else:
            with pytest.raises(DesignError, match="joint_thread"):
                apply(d, with_nuts)


def test_what_is_not_said_of_a_kind_in_the_drawer_stays() -> None:
    """A pack that one hand changes is not undone by the count that another one changes, with what it last saw."""
    said = (
        {"count": 20, "pack": 50, "pack_money": 6.0},
        {"count": 20, "pack": 100},
        {"count": 2},
        {"pack_money": 7.5},
        {"count": 3, "pack": None},
    )
    w, told = ARCHIVE_WORKSHOP, []
    for x in said:
        item = StockItem.model_validate({"item": "heat-set insert", "size": "M2.5 x 4", **x})
        w = apply_shop(w, PutStock(stock=item))
        (there,) = (s for s in w.stock if s.key == item.key)
        told.append((there.count, there.pack, there.pack_money))
    assert told == [(20, 50, 6.0), (20, 100, 6.0), (2, 100, 6.0), (2, 100, 7.5), (3, None, 7.5)]
    gone = StockItem.model_validate({"item": "nut", "size": "M2", "pack": 50})
    with pytest.raises(DesignError, match="no nut M2 in the drawer"):
        apply_shop(ARCHIVE_WORKSHOP, PutStock(stock=gone))
