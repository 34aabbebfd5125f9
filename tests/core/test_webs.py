"""Ways out where too little wall is left between two openings: each leaves enough, and lets the plug in all the same."""

from __future__ import annotations

from itertools import combinations
from math import ceil
from random import Random

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge_bare
from rhombex.core.concerns.openings import called
from rhombex.core.concerns.webs import _asks, _closest
from rhombex.core.design import Design, OwnOpening
from rhombex.core.edits import MoveWall, PlaceNew, PutOpening, PutOwnOpening, ToFace, Together
from rhombex.core.openings.opening import Opening, outline
from rhombex.core.space import Vec2, Vec3
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import alone
from ..examples import examples
from ..made import random_design
from ..rough import shaped


def with_socket(d: Design, face: str, at: Vec3) -> Design:
    e = apply(d, PlaceNew(component="usb-c-panel"))
    return apply(e, ToFace(id=next(p.id for p in e.placements if d.placement(p.id) is None), face=face, at_mm=at))  # type: ignore[arg-type]


def test_every_way_out_leaves_a_web_and_room_for_the_plug(good_wren: Design) -> None:
    """A socket in the wall at random places beside the ports of *Wren*'s board: whatever is offered clears its web, brings no other and takes no plug its room."""
    moves = cuts = 0
    for k in range(examples(1500, suite=30)):
        r = Random(k)
        at = (r.uniform(15, 150), r.uniform(15, 90), r.uniform(8, 30))
        d = with_socket(good_wren, r.choice(["front", "right"]), at)
        before = alone(d, "web-too-thin")
        for f in before:
            for way in f.remedies:
                then = apply(d, Together(edits=way.edits))
                after = {x.key for x in alone(then, "web-too-thin")}
                assert f.key not in after and after <= {x.key for x in before}, (k, f.title, way.label)
                assert alone(then, "port-misses-opening") == [], (k, f.title, way.label)
                moves += way.label.startswith("Move")
                cuts += way.label.startswith("Cut")
    assert moves > 15 and cuts > 30


def opening(d: Design, at: Vec2, size: Vec2, round_: bool = False) -> Opening:
    o = next(o for o in analyse(d, ARCHIVE_WORKSHOP, "none").openings.openings if o.plug is not None)
    return o.model_copy(update={"at_mm": at, "size_mm": size, "round": round_, "recess": None, "pane": None})


@pytest.mark.parametrize(
    ("at", "size", "round_", "k", "sign", "far"),
    [
        # 12 and 8 wide are 20 / 2 apart at the least, and a web of 1 between: 11 - 9.5
        ((9.5, 0.0), (8.0, 6.0), False, 0, 1, 1.5),
        # to the other side it passes all of it
        ((9.5, 0.0), (8.0, 6.0), False, 0, -1, 20.5),
        # above its corner: 0.6 up, so that 0.8 along make a web of 1; 10.2 is 0.2 along
        ((10.2, 6.6), (8.0, 6.0), False, 0, 1, 0.6),
        # two rounds of 12 and 8 at 3 beside one another: 11 from middle to middle is sqrt(121 - 9) along
        ((9.0, 3.0), (8.0, 8.0), True, 0, 1, 112**0.5 - 9),
        # far enough already
        ((9.0, 12.0), (8.0, 6.0), False, 0, 1, 0.0),
    ],
)
def test_how_far_an_opening_goes_past_another_is_worked_by_hand(
    good_wren: Design, at: Vec2, size: Vec2, round_: bool, k: int, sign: int, far: float
) -> None:
    there = opening(good_wren, (0.0, 0.0), (12.0, 12.0 if round_ else 6.0), round_)
    mine = opening(good_wren, at, size, round_)
    assert _asks(mine, there, k, sign, 0.0, 1.0) == pytest.approx(far)
    assert _asks(mine, there, k, sign, far, 1.0) == pytest.approx(0.0, abs=1e-9)


def test_an_opening_is_cut_as_close_as_prints_that_scatter_bear(good_wren: Design) -> None:
    """The connector and twice the allowance less its scatter, in whole hundredths; so cut, its port has just enough room."""
    o = next(o for o in analyse(good_wren, ARCHIVE_WORKSHOP, "none").openings.openings if o.label == "USB-C")
    size = _closest(o)
    least = o.allowance.value - o.spread_mm
    assert size == pytest.approx([x + 2 * least for x in o.nominal_mm], abs=0.011) and size < o.size_mm
    tight = PutOpening.model_validate({"opening": {"port": o.id, "size_mm": size}})
    assert alone(apply(good_wren, tight), "port-misses-opening") == []
    (f,) = alone(
        apply(good_wren, PutOpening.model_validate({"opening": {"port": o.id, "size_mm": (size[0] - 0.02, size[1])}})),
        "port-misses-opening",
    )
    assert f.severity == "weigh" and f.title == "USB-C: the opening leaves too little room"


@pytest.mark.parametrize("seed", ["same9", "same21", "same24", "same26", "same38"])
def test_no_two_openings_are_told_in_the_same_words(seed: str) -> None:
    """Two boards with the same ports, a connector twice on one board, screws of one fan: each of them is told by a name of its own."""
    a = shaped(random_design(Random(seed)))
    alike = {x.label for x, y in combinations(a.openings.openings, 2) if x.label == y.label}
    names = [called(a, o) for o in a.openings.openings]
    assert alike and len(set(names)) == len(names)
    told = [
        f.title for f in judge_bare(a) if f.severity != "advice" and f.code in ("web-too-thin", "joint-cuts-opening")
    ]
    assert told and len(set(told)) == len(told)


def test_an_opening_that_has_no_double_keeps_its_plain_name(good_wren: Design) -> None:
    a = shaped(good_wren)
    names = {o.id: called(a, o) for o in a.openings.openings}
    assert names["board/network"] == "Network" and names["board/usb-2"] == "USB-A, two high (usb-2)"
    assert sorted(n for i, n in names.items() if i.startswith("fan/screw")) == [f"Fan screw {x}" for x in "abcd"]


@pytest.mark.parametrize("seed", ["same9", "same48", "census/105", "census/131", "census/137"])
def test_what_runs_over_an_edge_is_brought_onto_its_face(seed: str) -> None:
    """A board too high, too far forward or beside its wall: whatever is offered brings all its openings onto that face, and a component that moves along it
    stands where nothing is."""
    d = random_design(Random(seed))
    a = shaped(d)
    over = [f for f in alone(d, "web-too-thin") if "runs into the edge" in f.title]
    assert over and all(f.remedies for f in over)
    of = {o.id: (o.of, o.face) for o in a.openings.openings}
    for f in over:
        for way in f.remedies:
            assert way.label.startswith("Move ")
            then = apply(d, Together(edits=way.edits))
            left = [x for x in alone(then, "web-too-thin") if "runs into the edge" in x.title]
            assert not [x for x in left if of[x.subjects[0]] == of[f.subjects[0]]], (f.title, way.label)


def test_a_port_over_the_edge_by_so_much_takes_its_wall_out_by_so_much(good_wren: Design) -> None:
    """*Wren*'s lid lowered until the network port, 15.9 + 13.5 / 2 over its board, stands over the upper edge of the right wall: the wall goes out by what lacks
    and a web of two lines."""
    low = apply(good_wren, MoveWall(face="top", by_mm=-16))
    f = next(f for f in alone(low, "web-too-thin") if f.title == "Network runs into the edge of the right face")
    a = shaped(low)
    (port,) = [o for o in a.openings.openings if o.id == "board/network"]
    highest = max(outline(o)[3] for o in a.openings.openings if o.of == "board" and o.face == "right")
    by = ceil((highest - a.case.face("right").size_mm[1] + 2 * a.case.line_mm + 0.05) * 10 - 1e-6) / 10
    assert f.measured == pytest.approx(a.case.face("right").size_mm[1] - outline(port)[3]) and f.measured < 0
    assert [r.label for r in f.remedies] == [f"Move the top wall out by {by:g} mm"]


def own(n: int, at: Vec2, size: Vec2) -> PutOwnOpening:
    return PutOwnOpening(
        opening=OwnOpening(id=f"opening-{n}", name=f"Opening {n}", face="left", at_mm=at, size_mm=size)
    )


@pytest.mark.parametrize(
    ("at", "size", "closed", "deep"),
    [
        ((60, 15), (20, 8), "Opening 2", 4 + 4),  # one upon the other
        ((62, 15), (6, 4), "Opening 2", 4 + 2),
        ((62, 15), (40, 20), "Opening 1", 4 + 10),
        ((66, 15), (20, 8), None, 8),  # beside it, and over its end
    ],
)
def test_two_openings_of_ones_own_in_one_place_are_told_and_the_inner_one_closed(
    good_wren: Design, at: Vec2, size: Vec2, closed: str | None, deep: float
) -> None:
    """Up and down they are half of both heights in one another, and an allowance of 0.37 to 0.4 for each; the one that lies in the other cuts nothing."""
    d = apply(good_wren, Together(edits=(own(1, (60, 15), (20, 8)), own(2, at, size))))
    (f,) = alone(d, "web-too-thin")
    assert f.severity == "stop" and f.subjects == ("own/opening-1", "own/opening-2") and f.limit == pytest.approx(0.9)
    assert f.measured == pytest.approx(-deep - 0.77, abs=0.04)
    closing = [r for r in f.remedies if r.label.startswith("Close")]
    assert [r.label for r in closing] == ([f"Close {closed}"] if closed else [])
    for r in closing:
        then = apply(d, Together(edits=r.edits))
        assert alone(then, "web-too-thin") == []
        assert [o.name for o in then.own_openings] == ["Opening 2" if closed == "Opening 1" else "Opening 1"]
