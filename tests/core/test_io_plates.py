"""An I/O plate: the ports of a component on a printed plate of their own, screwed behind an opening in the wall; and panes that are screwed."""

from __future__ import annotations

import io
import json
from functools import cache
from math import pi

import ezdxf
import pytest

from rhombex.core.advice.io_plates import io_plates
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.gaps import hard
from rhombex.core.concerns import judge_bare
from rhombex.core.design import OWN, Design, OwnOpening, Pane, read_design
from rhombex.core.edits import CloseBy, Edit, Move, MoveOnFace, PutOwnOpening, Remove, RemoveOwnOpening, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import circle, rect, through
from rhombex.core.openings.fixed import fixed
from rhombex.core.openings.opening import Opening
from rhombex.core.openings.pane_screws import wanted
from rhombex.core.plain import DesignError
from rhombex.core.plan.opened import opened_by
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron, wren

from ..conftest import GOOD_WREN


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def high(wall_mm: float = 2.89, alone: bool = True) -> Design:
    """*Wren*, its board 12 higher: there is wall under its ports. Not `alone`: its button beside them."""
    d = read_design(json.loads(GOOD_WREN.read_text()))
    board = d.placement("board")
    assert board is not None
    x, y, z = board.at_mm
    return apply(
        d,
        Together(
            edits=(
                Set(path="shell.inner_mm", value=(165.6, 138.0, 50.0)),
                Set(path="shell.construction.joint_mm", value=45.8),
                Set(path="shell.wall_mm", value=wall_mm),
                Move(id="board", to_mm=(x, y, z + 12)),
                *((Remove(id="button"),) if alone else ()),
            )
        ),
    )


@cache
def bare_of_it() -> Analysis:
    return looked(high())


@pytest.fixture(scope="module")
def plated() -> Analysis:
    """With the ports of its board's front on a plate, as it is offered."""
    edit = next(x.edit for x in io_plates(bare_of_it()) if x.face == "front")
    assert edit is not None
    return looked(apply(bare_of_it().design, edit))


def the(a: Analysis) -> Opening:
    return next(o for o in a.openings.openings if o.pane is not None)


def probe(a: Analysis, o: Opening, part: str, low: float, high: float, shrink: float = 0.05) -> float:
    """Which share of the hole of an opening is full, in a part, between two depths behind the face."""
    (u, v), (w, h), frame = o.at_mm, o.size_mm, a.case.face(o.face).frame
    loop = (
        circle(u, v, w - 2 * shrink)
        if o.round
        else rect(u - w / 2 + shrink, v - h / 2 + shrink, u + w / 2 - shrink, v + h / 2 - shrink)
    )
    tool = mk.evaluate(through([loop], frame, -high, -low), mk.FILE_TOL)
    return float((mk.evaluate(a.recipes[part], mk.FILE_TOL) ^ tool).volume() / tool.volume())


def test_the_ports_are_cut_into_the_plate_and_the_wall_is_open_before_it(plated: Analysis) -> None:
    o = the(plated)
    assert o.pane is not None and o.pane.part == "plate-io" and o.pane.printed
    ports = [x for x in plated.openings.openings if x.of == "board" and x.face == "front"]
    before = {x.id: x for x in bare_of_it().openings.openings}
    assert len(ports) == 3 and all(x.parts == ("plate-io",) for x in ports)
    host = o.parts[0]
    assert probe(plated, o, host, -0.5, o.pane.from_mm, 0.5) == 0, "nothing of the wall is before it"
    for x in ports:
        assert probe(plated, x, "plate-io", o.pane.from_mm - 0.5, o.pane.to_mm + 0.5, 0.1) == pytest.approx(0, abs=1e-6)
        assert x.at_mm == before[x.id].at_mm and x.size_mm[0] <= before[x.id].size_mm[0] + 1e-6
        # it is counted from the plate's outside
        assert x.set_back_mm == pytest.approx(before[x.id].set_back_mm - o.pane.from_mm)
    # all else of the plate is there: its volume is a rectangle less ports, recesses and screws
    plate = mk.evaluate(plated.recipes["plate-io"], mk.FILE_TOL)
    w, h = o.pane.size_mm
    whole = w * h * o.pane.thick_mm - len(o.pane.screws) * pi / 4 * o.pane.own_hole_mm**2 * o.pane.thick_mm
    for x in ports:
        hole = pi / 4 * x.size_mm[0] ** 2 if x.round else x.size_mm[0] * x.size_mm[1]
        whole -= hole * o.pane.thick_mm
        if x.recess is not None:
            (rw, rh), deep = x.recess.size_mm, x.recess.depth_mm
            whole -= ((pi / 4 * rw**2 if x.round else rw * rh) - hole) * deep
    assert plate.volume() == pytest.approx(whole, rel=1e-3) and len(plate.decompose()) == 1
    assert opened_by(plated, "plate-io") == opened_by(plated, host)


def test_it_lies_in_its_seat_and_meets_nothing(plated: Analysis) -> None:
    o = the(plated)
    assert o.pane is not None
    all_ = {k: mk.evaluate(r, mk.FILE_TOL) for k, r in plated.recipes.items()}
    for k, m in all_.items():
        assert k == "plate-io" or (m ^ all_["plate-io"]).volume() < 1e-3, k
    # on its seat: as near as it may be, and beside it the allowance of ports' openings
    assert all_["plate-io"].min_gap(all_[o.parts[0]], 1.0) == pytest.approx(0, abs=1e-3)
    play = 0.35 + 0.003 * max(o.pane.size_mm) / 2
    assert [s - p for s, p in zip(o.pane.seat_mm, o.pane.size_mm, strict=True)] == pytest.approx(
        [2 * play] * 2, abs=0.3
    )
    assert [p for p in plated.pieces if p.name == "plate-io" and p.watertight and p.bbox_mm[2] == pytest.approx(1.9)]


def test_its_screws_pass_wall_and_plate_and_are_in_the_table(plated: Analysis) -> None:
    """M3 through 0.99 of wall and 1.9 of plate with a nut of 2.4 and a turn of 0.5 (ISO 4032): 5.79 at least, so 6."""
    o = the(plated)
    assert o.pane is not None
    g = next(x for x in plated.joints if x.key == "pane/io")
    assert (
        g.least_mm == pytest.approx(o.pane.to_mm + 2.4 + 0.5)
        and g.screw_mm == 6.0
        and g.count == len(o.pane.screws) == 4
    )
    for (u, v), seat in zip(o.pane.screws, g.seats, strict=True):
        face = plated.case.face(o.face)
        assert face.on(seat.at) == pytest.approx((u, v)) and face.behind(seat.at) == pytest.approx(0)
        for part, d in ((o.parts[0], o.pane.hole_mm), ("plate-io", o.pane.own_hole_mm)):
            free = mk.evaluate(through([circle(u, v, d - 0.05)], face.frame, -o.pane.to_mm - 0.5, 0.5), mk.FILE_TOL)
            assert (mk.evaluate(plated.recipes[part], mk.FILE_TOL) ^ free).volume() < 1e-3
        # under the head and under the nut there is plastic all round
        for part, low, high in (
            (o.parts[0], 0.05, o.pane.from_mm - 0.05),
            ("plate-io", o.pane.from_mm + 0.05, o.pane.to_mm - 0.05),
        ):
            ring = through([circle(u, v, 6.0)], face.frame, -high, -low)
            hole = through([circle(u, v, 4.2)], face.frame, -high - 1, -low + 1)
            full = mk.evaluate(ring, mk.FILE_TOL) - mk.evaluate(hole, mk.FILE_TOL)
            assert (mk.evaluate(plated.recipes[part], mk.FILE_TOL) ^ full).volume() > 0.99 * full.volume(), part
    assert [(x.item, x.size, x.count) for x in plated.bill if x.use.startswith("I/O plate of")] == [
        ("nut", "M3", 4),
        ("screw, socket cap", "M3 x 6", 4),
    ]
    assert all(r.free for x, r in zip(plated.joints, plated.reach, strict=True) if x.key == g.key)


def test_it_brings_no_new_concern_and_is_exported(plated: Analysis) -> None:
    before = {(f.code, f.subjects) for f in judge_bare(bare_of_it())}
    assert [f.title for f in judge_bare(plated) if (f.code, f.subjects) not in before] == []
    files = package(plated, ("stl", "step"), only=("plate-io",))
    assert any("plate-io" in f and f.endswith(".stl") for f in files) and any(
        "plate-io" in f and f.endswith(".step") for f in files
    )
    assert not [s for s in plated.sheets if s.part == "plate-io"]


def test_a_port_of_the_plate_that_a_hand_moves_stays_in_it(plated: Analysis) -> None:
    port = next(x for x in plated.openings.openings if x.of == "board" and x.face == "front")
    moved = looked(apply(plated.design, MoveOnFace(what=port.id, by_mm=(0.5, 0.0))))
    now = next(x for x in moved.openings.openings if x.id == port.id)
    assert now.parts == ("plate-io",) and now.at_mm[0] == pytest.approx(port.at_mm[0] + 0.5)
    assert probe(moved, now, "plate-io", 0.5, 4.0, 0.2) == pytest.approx(0, abs=1e-6)


def test_an_opening_of_ones_own_goes_into_the_plate_only_where_all_of_it_does(plated: Analysis) -> None:
    o, face = the(plated), plated.case.face("front")
    u, v = o.at_mm[0] - face.inset_mm[0], o.at_mm[1] - face.inset_mm[1]
    edge = u - o.size_mm[0] / 2
    for at, inside in ((edge + 4.0, True), (edge + 2.9, False)):
        own = OwnOpening(
            id="key", name="Key", face="front", at_mm=(at, v), size_mm=(6, 6), shape="round", allowed=False
        )
        b = looked(apply(plated.design, PutOwnOpening(opening=own)))
        key = next(x for x in b.openings.openings if x.id == f"{OWN}key")
        assert (key.parts == ("plate-io",)) is inside
        assert bool([f for f in judge_bare(b) if f.code == "web-too-thin" and f"{OWN}io" in f.subjects]) is not inside


def test_it_says_what_is_too_near() -> None:
    """*Wren*'s ports begin at the floor, and its other ones end half a millimetre before a corner; a button beside them leaves 5 mm, for glue."""
    told = {(x.of, x.face): x for x in io_plates(looked(wren()))}
    assert {k: (x.words, x.edit) for k, x in told.items()} == {
        ("board", "front"): ("No I/O plate: the upper or lower end of the plain wall is too near to its ports.", None),
        ("board", "right"): ("No I/O plate: an end of the plain wall is too near to its ports.", None),
    }
    beside = next(x for x in io_plates(looked(high(alone=False))) if x.face == "front")
    assert "glued: only 5 mm of wall are plain beside it" in beside.words and isinstance(beside.edit, PutOwnOpening)
    d = apply(high(alone=False), beside.edit)
    before = {(f.code, f.subjects) for f in judge_bare(looked(high(alone=False)))}
    assert [f.title for f in judge_bare(looked(d)) if (f.code, f.subjects) not in before] == []
    # what is fixed to its wall stays there
    assert {x.of for x in io_plates(looked(heron()))} == {"board", "card"}


def test_screws_are_wanted_in_the_middle_of_what_lies_on_the_wall() -> None:
    """An opening of 60 x 40 with 8 all round: corners at 34 and 24. With 2 above and below: 7 / 2 inside the plate's ends, left and right alone, and one in
    the middle where these would be less than 24 apart."""
    assert wanted((60, 40), (8, 8), False) == ((-34, -24), (-34, 24), (34, -24), (34, 24))
    assert wanted((60, 40), (8, 2), False) == ((-34, -18.5), (-34, 18.5), (34, -18.5), (34, 18.5))
    assert wanted((60, 26), (8, 2), False) == ((-34, 0), (34, 0)) and len(wanted((60, 28), (8, 2), False)) == 4
    long = wanted((160, 40), (8, 8), False)  # 168 between the corners: in three
    assert len(long) == 8 and {x for x, _ in long} == {-84, -28, 28, 84}
    round_ = wanted((50, 50), (8, 8), True)
    assert all((x * x + y * y) ** 0.5 == pytest.approx(29) for x, y in round_) and len(round_) == 4


def test_a_screw_gives_way_to_what_stands_behind_the_wall() -> None:
    """A window of 60 x 40 in the lid over a network jack that ends 2 under it: its corner's nut goes along the edge of the pane as far as it must, no farther."""
    d = read_design(json.loads(GOOD_WREN.read_text()))
    low = apply(d, Set(path="shell.construction.joint_mm", value=20.0))
    low = apply(low, Set(path="shell.inner_mm", value=(165.6, 138.0, 24.0)))
    own = OwnOpening(id="w", name="W", face="top", at_mm=(120, 30), size_mm=(60, 40), allowed=False)
    pane = Pane(overlap_mm=8, held="screwed")
    a = analyse(apply(low, PutOwnOpening(opening=own.model_copy(update={"pane": pane}))), ARCHIVE_WORKSHOP, "none")
    o = the(a)
    assert o.pane is not None and o.pane.screws
    want = [(o.at_mm[0] + u, o.at_mm[1] + v) for u, v in wanted((60, 40), (8, 8), False)]
    moved = [w for w in want if w not in o.pane.screws]
    assert moved and len(o.pane.screws) >= 2
    r, top = 5.5 / 3**0.5, a.case.cavity.hi[2]
    boxes = [s.box for t in a.things for s in hard(t)] + [b for _, _, b in fixed(a.case, a.things)]
    tall = [b for b in boxes if b.hi[2] > top + 3 - o.pane.to_mm - 2.9 - 3]

    def free(x: float, y: float) -> bool:
        return not any(b.lo[0] < x + r and b.hi[0] > x - r and b.lo[1] < y + r and b.hi[1] > y - r for b in tall)

    assert all(free(*a.case.face("top").frame.point((*s, 0.0))[:2]) for s in o.pane.screws)
    assert not any(free(*a.case.face("top").frame.point((*w, 0.0))[:2]) for w in moved)


def window(good: Design, **pane: object) -> Analysis:
    edits: tuple[Edit, ...] = (
        PutOwnOpening(
            opening=OwnOpening(
                id="w", name="Window", face="top", at_mm=(115, 70), size_mm=(60, 40), allowed=False, pane=Pane()
            )
        ),
        CloseBy(id="w", material="acrylic", **pane),  # type: ignore[arg-type]
    )
    return looked(apply(good, Together(edits=edits)))


def test_a_pane_of_sheet_is_screwed_too_and_its_drawing_has_the_holes(good_wren: Design) -> None:
    a = window(good_wren, held="screwed")
    own = a.design.own_openings[0].pane
    assert own is not None and own.overlap_mm == 8.0  # five is too little for screws: the usual
    (sheet,) = a.sheets
    assert len(sheet.loops) == 1 + 4
    files = package(a, ("sheet",))
    dxf = ezdxf.read(io.StringIO(next(v for k, v in files.items() if k.endswith("pane-w.dxf")).decode()))
    holes = [e for e in dxf.modelspace() if e.dxftype() == "CIRCLE"]
    assert len(holes) == 4 and {round(2 * e.dxf.radius, 3) for e in holes} == {3.4}
    pane = mk.evaluate(a.recipes["pane-w"], mk.FILE_TOL)
    assert pane.volume() == pytest.approx((76 * 56 - 4 * 0.7854 * 3.4**2) * 2, rel=1e-3)
    with pytest.raises(DesignError, match="screws want 7 mm"):
        apply(a.design, CloseBy(id="w", material="acrylic", overlap_mm=6.9))
    glued = looked(apply(a.design, CloseBy(id="w", material="acrylic", held="glued")))
    assert not [g for g in glued.joints if g.key == "pane/w"] and len(glued.sheets[0].loops) == 1


def test_its_screw_is_chosen_by_hand_and_goes_with_it(good_wren: Design) -> None:
    from rhombex.core.design import OwnJoint
    from rhombex.core.edits import PutJoint

    a = window(good_wren, held="screwed")
    d = apply(a.design, PutJoint(joint=OwnJoint(of="pane/w", screw_mm=10)))
    g = next(x for x in looked(d).joints if x.key == "pane/w")
    assert g.screw_mm == 10 and g.by_hand
    assert apply(d, RemoveOwnOpening(id="w")).joints == good_wren.joints
    with pytest.raises(DesignError, match="no such opening"):
        apply(good_wren, PutJoint(joint=OwnJoint(of="pane/w", screw_mm=10)))


def test_a_port_in_a_plate_is_as_deep_as_its_plug_sees_it() -> None:
    """The whole plug goes into the opening in front of the plate: only what is behind the plate's outside counts. A wall of 14 is too deep for some, a
    plate of 1.2 behind 12.8 of it for none."""
    deep = looked(high(14.0))
    found = {f.subjects[0]: f.measured for f in judge_bare(deep) if f.code == "port-too-deep"}
    edit = next(x.edit for x in io_plates(deep) if x.face == "front")
    assert isinstance(edit, PutOwnOpening) and edit.opening.pane is not None
    thin = edit.opening.pane.model_copy(update={"thick_mm": 1.2})
    a = looked(apply(deep.design, PutOwnOpening(opening=edit.opening.model_copy(update={"pane": thin}))))
    o = the(a)
    assert o.pane is not None and o.pane.from_mm == pytest.approx(14 - 1.2)
    now = {f.subjects[0]: f.measured for f in judge_bare(a) if f.code == "port-too-deep"}
    on_it = {x.id for x in a.openings.openings if x.parts == ("plate-io",)}
    assert set(found) & on_it and not set(now) & on_it and set(found) - on_it == set(now)
