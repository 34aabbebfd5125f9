"""Slots for fans of several thicknesses: rails and bars measured on the mesh, what they are screwed with, and what is told where they find no place."""

from __future__ import annotations

from functools import cache
from itertools import combinations
from random import Random

import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.gaps import hard
from rhombex.core.case.mounts import FanSlots
from rhombex.core.choices import made_so
from rhombex.core.concerns import Finding, judge
from rhombex.core.concerns.registry import heard
from rhombex.core.constructions import TwoHalves
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design, OwnJoint, Placement
from rhombex.core.edits import Add, Construct, HoldFan, PutJoint, Set, Swap, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.parts import library
from rhombex.core.shell.fan_slots import rail_solid, takes_mm
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop
from rhombex.demo.scenario import curlew, heron, heron_sliding, wren

from ..conftest import findings
from ..examples import examples
from ..made import broken
from ..rough import shaped

TOP = HoldFan(id="fan-top", slotted=True)


def looked(d: Design) -> Analysis:
    return shaped(d)


@cache
def made(fan: str = "fan-120x25") -> Analysis:
    """*Heron*, its upper fan in slots."""
    return looked(apply(heron(), Together(edits=(Swap(id="fan-top", component=fan), TOP))))


def uncut(d: Design, workshop: Workshop) -> list[Finding]:
    return [f for f in heard("no-place-for-cut", analyse(d, workshop, "preview")) if f.code == "no-place-for-cut"]


def the(a: Analysis) -> FanSlots:
    (s,) = a.case.fan_slots
    return s


def filled(
    a: Analysis, lo: tuple[float, float, float], hi: tuple[float, float, float], part: str = "slots-fan-top"
) -> float:
    """What share of a box a part fills."""
    probe = mk.evaluate(block(Box(lo, hi)), mk.FILE_TOL)
    return float((mk.evaluate(a.recipes[part], mk.FILE_TOL) ^ probe).volume() / probe.volume())


def test_rails_stand_beside_the_fan_and_bars_pass_behind_it() -> None:
    """A fan of 120 x 25 under the top: rails a gap beside it, as wide as the boss of an insert, 38 + 0.5 + 3 + gap + 2 deep, longer than it by a stop of 3 at either end; bars of
    10 x 3 eight from its ends, half a millimetre of foam and half a gap behind it."""
    a = made()
    s, fan = the(a), next(t for t in a.things if t.id == "fan-top")
    body = max((x.box for x in hard(fan)), key=lambda b: b.size[0] * b.size[1] * b.size[2])
    top, g = a.case.cavity.hi[2], s.gap_mm
    assert s.takes_mm == (10, 15, 20, 25, 32, 38) and s.along == 1 and 0.2 < g < 0.7 and a.faults == ()
    deep = 38 + 0.5 + 3 + g + 2
    x, y = body.hi[0] + g, body.centre[1]
    assert filled(a, (x, y - 30, top - deep), (x + s.rail_mm, y + 30, top - deep + 3)) == pytest.approx(1, abs=1e-6)
    assert filled(a, (x - 0.9 * g, y - 30, top - 20), (x - 0.01, y + 30, top)) == 0
    assert filled(a, (x, y - 30, top - deep - 1), (x + s.rail_mm, y + 30, top - deep - 0.01)) == 0
    for end, way in ((body.lo[1], -1), (body.hi[1], 1)):
        near, far = sorted((end + way * g, end + way * (g + 3)))
        assert filled(a, (x, near, top - 8), (x + s.rail_mm, far, top - 0.5)) == pytest.approx(1, abs=1e-6)
        # stops reach 2.5 over its end, 8 high
        assert filled(a, (body.hi[0] - 2.4, near, top - 7.9), (x, far, top - 0.1)) == pytest.approx(1, abs=1e-6)
        assert filled(a, (body.hi[0] - 2.4, near, top - 12), (x - 0.1, far, top - 8.1)) == 0
    for q in (body.lo[1] + 8, body.hi[1] - 8):
        low = top - 25 - 0.5 - g / 2
        c = body.centre[0]
        assert filled(a, (c - 40, q - 4.9, low - 2.9), (c + 40, q + 4.9, low - 0.1)) == pytest.approx(1, abs=1e-6)
        assert filled(a, (c - 40, q - 4.9, low + 0.05), (c + 40, q + 4.9, top)) == 0
        # in the rail: free round the bar, plastic between its slots, and slots for the other fans
        for thick in s.takes_mm:
            z = top - thick - 0.5
            if thick != 25:
                assert filled(a, (x + 1, q - 5, z - 3 - g + 0.05), (x + 2, q + 5, z - 0.05)) == 0, thick
        assert filled(a, (x + 1, q - 5, top - 20.4), (x + 2, q + 5, top - 15.5 - 3 - g - 0.05)) == pytest.approx(
            1, abs=1e-6
        )
        assert filled(a, (x + 1, q + 5.1, low - 3), (x + 2, q + 5 + g - 0.05, low)) == 0


def test_four_bodies_that_meet_nothing_and_lie_without_support() -> None:
    a = made()
    s = the(a)
    m = mk.evaluate(a.recipes[s.part], mk.FILE_TOL)
    assert len(m.decompose()) == 4 and mk.watertight(m)
    for one, other in combinations(m.decompose(), 2):
        assert one.min_gap(other, 50) >= 0.4 * s.gap_mm
    for part, r in a.in_place().items():
        if part != s.part:
            assert (mk.evaluate(r, mk.FILE_TOL) ^ m).volume() < 1e-3, part
    for t in a.things:
        for x in t.solids:
            assert (mk.evaluate(block(x.box), mk.FILE_TOL) ^ m).volume() < 1e-3 or x.role == "plug", (t.id, x.name)
    (piece,) = (p for p in a.pieces if p.part == s.part)
    lying = mk.evaluate(a.piece_recipes[piece.name], mk.FILE_TOL)
    assert lying.volume() == pytest.approx(m.volume()) and len(lying.decompose()) == 4
    assert piece.bbox_mm[2] == pytest.approx(s.rail_mm + s.gap_mm + 2.5, abs=1e-3)  # a rail on its side, with its stops
    assert all(b.bounding_box()[2] == pytest.approx(0, abs=1e-6) for b in lying.decompose())


def test_another_fan_goes_into_the_same_rails() -> None:
    """Of 15 thick or 38: the rails are the same, only bars are in other slots."""
    rails = [
        rail_solid(the(made(f)), k, ()).digest for f in ("fan-120x25", "fan-120x15", "fan-120x38") for k in (-1, 1)
    ]
    assert len(set(rails)) == 2
    a = made("fan-120x38")
    top = a.case.cavity.hi[2]
    s = the(a)
    q, c = s.lo_mm[1] + 8, (s.lo_mm[0] + s.hi_mm[0]) / 2
    low = top - 38.5 - s.gap_mm / 2
    assert filled(a, (c - 40, q - 4.9, low - 2.9), (c + 40, q + 4.9, low - 0.1)) == pytest.approx(1, abs=1e-6)


def test_its_screws_come_from_outside_and_the_fans_own_holes_are_gone() -> None:
    plain, a = looked(heron()), made()
    assert [o for o in plain.openings.openings if o.of == "fan-top" and "screw" in o.id]
    assert not [o for o in a.openings.openings if o.of == "fan-top" and "screw" in o.id]
    assert {g.key for g in plain.joints if g.of == "fan-top"} == {"face/fan-top"}
    (g,) = (g for g in a.joints if g.of == "fan-top")
    wall = a.case.face("top").thick_mm
    assert (g.key, g.count, g.holding, g.holds, g.into) == ("slots/fan-top", 4, "insert", "sleeve", "slots-fan-top")
    assert g.grip_mm == pytest.approx(wall) and g.screw_mm is not None and g.least_mm <= g.screw_mm <= g.most_mm
    chosen = looked(apply(a.design, PutJoint(joint=OwnJoint(of="slots/fan-top", screw_mm=12.0))))
    assert next(x for x in chosen.joints if x.of == "fan-top").screw_mm == 12
    # through the wall: a clearance hole of each, an insert's hole behind it
    for j in the(a).screws:
        x, y = j.at[:2]
        z = a.case.box_mm[2]
        assert filled(a, (x - 1, y - 1, z - wall + 0.1), (x + 1, y + 1, z - 0.1), "sleeve") == 0
        assert filled(a, (x - 1, y - 1, z - wall - 5), (x + 1, y + 1, z - wall - 0.1)) == 0
    bill = {(x.item, x.size): x.count for x in a.bill if x.use == "slots of Upper fan"}
    assert bill[("foam strip, 1 mm thick", "10 x 10 mm")] == 4
    assert sum(n for (item, _), n in bill.items() if item == "pin of filament") == 2
    low = {x.why for x in strips(a.case, a.openings, "sleeve", "x")}
    assert "rail beside a fan" in low


def test_a_fan_without_room_beside_it_keeps_its_screws_and_it_is_told() -> None:
    d = apply(heron(), HoldFan(id="fan-left", slotted=True))
    a = looked(d)
    assert a.case.fan_slots == () and [o for o in a.openings.openings if o.of == "fan-left" and "screw" in o.id]
    (f,) = findings(d, "fan-without-slots")
    assert (f.severity, f.measured, f.limit, f.subjects) == ("weigh", 0, 2, ("fan-left", "slots"))
    assert f.remedies[-1].label == "Hold Left fan by its screws"
    assert findings(apply(d, Together(edits=f.remedies[-1].edits)), f.code) == []
    board = apply(heron(), HoldFan(id="board", slotted=True))
    (f,) = findings(board, "fan-without-slots")
    assert "lies on a wall" in f.reason and len(f.remedies) == 1


def test_on_a_sheet_that_may_be_printed_the_sheet_is_printed() -> None:
    d = apply(heron_sliding(), Together(edits=(Set(path="shell.construction.sheet", value=("top",)), TOP)))
    (f,) = findings(d, "fan-without-slots")
    assert [r.label for r in f.remedies] == ["Print the top", "Hold Upper fan by its screws"]
    for r in f.remedies:
        assert findings(apply(d, Together(edits=r.edits)), f.code) == []


def test_what_stands_there_takes_slots_or_all_of_them() -> None:
    """*Wren*'s fan is near the boards under it: only its own slot has room there."""
    s = the(looked(apply(wren(), HoldFan(id="fan", slotted=True))))
    assert s.takes_mm == (10.0,)
    free = apply(
        wren(),
        Together(edits=(HoldFan(id="fan", slotted=True), Set(path="shell.inner_mm", value=(165.6, 138.0, 80.0)))),
    )
    wider = looked(free).case.fan_slots
    assert wider and len(wider[0].takes_mm) > 1


def test_bars_keep_off_what_is_behind_the_fan() -> None:
    """A cooler of 40 x 30 x 24 so high that a bar would pass through it: no slots; 12 lower there is room."""
    a = looked(apply(heron(), TOP))
    bar, lo = the(a).rooms[2], a.case.cavity.lo
    for lower, there in ((0.0, False), (12.0, True)):
        at = (bar.centre[0] - lo[0] - 20.0, bar.centre[1] - lo[1] - 15.0, bar.lo[2] - lo[2] - 22.0 - lower)
        other = Placement(id="other", component="cooler-40x24", name="Other", at_mm=at)
        assert bool(looked(apply(a.design, Add(placement=other))).case.fan_slots) == there


def test_rails_longer_than_the_bed_are_told_with_the_fans_own_screws() -> None:
    """120 and two stops are 127: more than the 120 less its edge that a small bed leaves."""
    bed = ARCHIVE_WORKSHOP.printers[0].model_copy(
        update={"key": "other", "name": "Other", "bed_mm": (120.0, 120.0, 200.0)}
    )
    shop = ARCHIVE_WORKSHOP.model_copy(update={"printers": (*ARCHIVE_WORKSHOP.printers, bed)})
    d = apply(heron(), Together(edits=(TOP, Set(path="printer", value="other"))))
    (f,) = (f for f in uncut(d, shop) if f.subjects == ("slots-fan-top",))
    assert f.severity == "stop" and f.measured > 0
    by_screws = next(r for r in f.remedies if r.label == "Hold Upper fan by its screws")
    after = uncut(apply(d, Together(edits=by_screws.edits)), shop)
    assert not [x for x in after if x.subjects == f.subjects]


def test_slots_stand_apart_from_a_fan_of_odd_thickness() -> None:
    """27 is nearer than 5 to 25: its own slot takes that one's place. A fan thinner than a screw's hole is deep has none."""
    assert takes_mm(heron(), 27.0, 38.0) == (10, 15, 20, 27, 32, 38)
    assert takes_mm(heron(), 28.0, 38.0) == (10, 15, 20, 28, 38) and takes_mm(heron(), 25.0, 25.0) == (10, 15, 20, 25)


def test_rails_stand_on_one_part() -> None:
    """A fan over the joint of two halves: rails along it, one on either half, would hold the lid down; those across it would cross the joint."""
    d = apply(curlew(), Construct(construction=TwoHalves(joint_mm=30.0)))
    d = d.model_copy(update={"placements": (), "leads": (), "openings": (), "vents": (), "own_openings": ()})
    fan = Placement(id="fan", component="fan-40x10", name="Fan", at_mm=(55.0, 0.0, 30.0), face="front")
    for height, there in ((60.0, False), (140.0, True)):
        joint = 30.0 if not there else 100.0
        at = Together(
            edits=(
                Add(placement=fan),
                HoldFan(id="fan", slotted=True),
                Set(path="shell.inner_mm", value=(180.0, 200.0, height)),
                Set(path="shell.construction.joint_mm", value=joint),
            )
        )
        a = looked(apply(d, at))
        assert bool(a.case.fan_slots) == there
        assert not there or the(a).on == "base"


def test_a_wall_that_comes_off_takes_its_slots_along() -> None:
    a = looked(apply(heron_sliding(), TOP))
    part = a.case.part(the(a).part)
    assert part.rides == "top" and part.put_on == a.case.part("top").put_on
    assert "cannot-be-put-on" not in {f.code for f in judge(a)}


@pytest.mark.parametrize("seed", range(examples(10)))
def test_fans_of_all_sizes_on_all_walls_are_as_told(seed: int) -> None:
    """One or two fans of the library in a room with nothing else, made one way or another: no part in another or in a fan, pieces whole, openings open."""
    r = Random(seed)
    fans = [k for k, c in library().items() if c.family == "fan" and c.air is not None]
    kind = r.choice(
        ("two halves", "sliding panels", "frame and covers", "core and wrap", "tray in a sleeve", "corners and sheet")
    )
    d = curlew()
    d = d.model_copy(update={"placements": (), "leads": (), "openings": (), "vents": (), "own_openings": ()})
    edits: list[object] = []
    for n, face in enumerate(r.sample(("front", "back", "left", "right", "top"), 2)):
        fan = Placement(id=f"fan-{n}", component=r.choice(fans), name=f"Fan {n}", at_mm=(90.0, 100.0, 40.0), face=face)  # type: ignore[arg-type]
        edits += [Add(placement=fan), HoldFan(id=fan.id, slotted=True)]
    big = Set(path="shell.inner_mm", value=(260.0, 250.0, 180.0))
    d = apply(d, Together(edits=(*edits, big)))  # type: ignore[arg-type]
    d = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, kind)))
    assert list(broken(d)) == []
