"""Coolers on their processors and cards in their sockets: where that ends, by hand, and the ways back."""

from __future__ import annotations

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.seat import chip_of, foot_of
from rhombex.core.concerns.bench import clear_of_all
from rhombex.core.concerns.registry import Finding
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Feed, Placement, Shell
from rhombex.core.edits import Add, Move, Need, PlaceNew, Remove, Swap, Together, Turn
from rhombex.core.parts import library
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron

from ..conftest import alone

CODE = "rider-not-seated"
By = tuple[float, float, float]


def moved(d: Design, id: str, by: By) -> Design:
    p = d.placement(id)
    assert p is not None
    x, y, z = (a + b for a, b in zip(p.at_mm, by, strict=True))
    return apply(d, Move(id=id, to_mm=(x, y, z)))


def told(d: Design) -> Finding | None:
    found = alone(d, CODE)
    assert len(found) < 2
    for r in (r for f in found for r in f.remedies):
        assert alone(apply(d, Together(edits=r.edits)), CODE) == [], r.label
    return found[0] if found else None


# The base of 44 x 44 lies 0.03 over a socket of 50 x 50 with the same middle; its screws give 1 mm, paste 0.5.
@pytest.mark.parametrize(
    ("by", "says", "measured"),
    [
        ((0.99, 0, 0), "", 0),
        ((0, -1.02, 0), "is not over", 1.02),
        ((3, 4, 0), "is not over", 5.0),  # 3, 4, 5
        ((0, 0, 0.46), "", 0),
        ((0, 0, 0.5), "does not touch", 0.53),
        ((0, 0, 8), "does not touch", 8.03),
    ],
)
def test_a_cooler_on_a_socket(by: By, says: str, measured: float) -> None:
    f = told(moved(heron(), "cooler", by))
    assert bool(f) == bool(says)
    if f:
        assert f.title == f"Cooler {says} the processor and socket of Board" and f.severity == "stop"
        assert f.measured == pytest.approx(measured, abs=1e-3) and f.sense == "at most"
        assert [r.label for r in f.remedies] == ["Put Cooler on the processor and socket"]


# A processor of 16 x 16, 10 right of where the fins of 40 x 30 begin and 7 behind it; nine tenths of it are covered.
@pytest.mark.parametrize(
    ("by", "share"), [((11.5, 0, 0), None), ((12, 0, 0), 87.5), ((-15, 0, 0), 93.75), ((0, 9, 0), 87.5)]
)
def test_a_cooler_on_a_plain_processor(good_wren: Design, by: By, share: float | None) -> None:
    """Moved left by 15 the fins still end 1 within it: 15 of 16."""
    f = told(moved(good_wren, "cooler", by))
    if share is None or share >= 90:
        assert f is None
    else:
        assert f is not None and f.measured == pytest.approx(share) and f.limit == 90 and f.sense == "at least"


def test_a_small_cooler_is_held_against_its_own_size(good_wren: Design) -> None:
    """One of 10 x 10 in the middle of a processor of 16 x 16 cools it; 5 beside that 8 of its 10 are on it."""
    c = library()["cooler-40x7"]
    small = c.model_copy(
        update={"key": "own-sink", "solids": (c.solids[0].model_copy(update={"lo": (0, 0, 0), "hi": (10, 10, 5)}),)}
    )
    d = apply(good_wren, Swap(id="cooler", component="own-sink", custom=small))
    f = told(d)
    if f is not None:
        d = apply(d, Together(edits=f.remedies[0].edits))
    assert told(d) is None and told(moved(d, "cooler", (3.9, 0, 0))) is None
    f = told(moved(d, "cooler", (5, 0, 0)))
    assert f is not None and f.measured == pytest.approx(80)


# The edge of 8.25 x 84.3 lies 1 over a socket of 14 x 100, 2.75 and 3 from its left and right side, 6.3 and 9.4 from its ends.
@pytest.mark.parametrize(
    ("by", "says", "measured"),
    [
        ((4.6, 0, 0), "", 0),  # 8.25 - 1.6 of 8.25
        ((4.7, 0, 0), "is beside", 100 * (8.25 - 1.7) / 8.25),
        ((0, 25, 0), "", 0),  # 84.3 - 15.6 of 84.3
        ((0, 30, 0), "is beside", 100 * (84.3 - 20.6) / 84.3),
        ((0, 0, 0.99), "", 0),
        ((0, 0, 1.1), "is out of", 2.1),
    ],
)
def test_a_card_in_its_socket(by: By, says: str, measured: float) -> None:
    f = told(moved(heron(), "card", by))
    assert bool(f) == bool(says)
    if f:
        assert f.title == f"Card {says} its socket in Riser"
        assert f.measured == pytest.approx(measured, abs=0.01)
        assert [r.label for r in f.remedies] == ["Put Card in its socket"]


# On the slab of its board; 3 mm are what a socket may stand over it.
@pytest.mark.parametrize(
    ("by", "measured"), [((0, 0, 2.9), None), ((0, 0, 3.1), 3.1), ((0, 0, 8), 8.0), ((-200, 0, 0), 0.0)]
)
def test_a_drive_that_is_plugged_into_a_board(by: By, measured: float | None) -> None:
    d = apply(heron(), PlaceNew(component="m2-2242"))
    id = d.placements[-1].id
    slab, card = (next(t for t in arrange(d) if t.id == x).bounds for x in ("board", id))
    f = told(moved(d, id, by))
    if measured is None:
        assert f is None
        return
    assert (
        f is not None and f.title.endswith("is off Board") and [r.label[-13:] for r in f.remedies] == ["back on Board"]
    )
    beside = slab.lo[0] - (card.hi[0] + by[0])
    assert f.measured == pytest.approx(max(measured, beside), abs=1e-3)
    back = next(t for t in arrange(apply(d, Together(edits=f.remedies[0].edits))) if t.id == id).bounds
    assert back == card  # where it landed


def test_light_may_be_anywhere() -> None:
    d = apply(heron(), PlaceNew(component="strip-300"))
    assert told(moved(d, d.placements[-1].id, (0, 0, 40))) is None


def test_a_card_that_is_turned_is_turned_back() -> None:
    f = told(apply(heron(), Turn(id="card", by=90)))
    assert f is not None and [r.label for r in f.remedies] == ["Turn Card and put it in its socket"]


def test_another_board_under_a_cooler_takes_its_processor_elsewhere() -> None:
    f = told(apply(heron(), Swap(id="board", component="board-micro-atx")))
    assert f is not None and f.title == "Cooler is not over the processor and socket of Board"


def test_a_smaller_cooler_is_offered_where_the_own_one_has_no_place(good_wren: Design) -> None:
    """The tower's foot is 100 wide: on the processor it stands in the pin header and the connectors."""
    d = apply(good_wren, Swap(id="cooler", component="cooler-100x125"))
    (f,) = alone(d, "rider-in-carrier")
    offered = [r for r in f.remedies if r.label.startswith("Take ")]
    assert offered
    after = apply(d, Together(edits=offered[0].edits))
    assert alone(after, "rider-in-carrier") == alone(after, CODE) == []


def test_ways_past_leave_a_cooler_on_its_processor() -> None:
    """What is moved clear of all else goes no farther than its seat allows; else its board goes with it."""
    for d, id in ((heron(), "cooler"), (heron(), "card")):
        drive = next(t for t in arrange(d) if t.id == "drive")
        here = next(t for t in arrange(d) if t.id == id)
        lo, to = drive.bounds.lo, here.bounds.centre
        blocked = moved(d, "drive", (to[0] - lo[0] - 10, to[1] - lo[1] - 10, to[2] - lo[2] - 2))
        a = analyse(blocked, ARCHIVE_WORKSHOP, "none")
        ways = clear_of_all(a, next(t for t in a.things if t.id == id))
        assert ways
        for _, r in ways:
            assert alone(apply(blocked, Together(edits=r.edits)), CODE) == [], r.label


def test_a_socket_wants_a_cooler_that_has_room() -> None:
    """What is offered is the largest that stands in nothing."""
    d = heron()
    assert alone(d, "nothing-cools") == []
    bare = apply(d, Remove(id="cooler"))
    (f,) = alone(bare, "nothing-cools")
    assert f.severity == "stop" and f.subjects == ("board", "cooler")
    for r in f.remedies:
        after = apply(bare, Together(edits=r.edits))
        assert alone(after, "nothing-cools") == alone(after, CODE) == alone(after, "component-hits-lid") == []
    assert [r.label for r in f.remedies] == ["Put in Cooler 120 x 120 x 67", "Put in Low cooler 95 x 95 x 47"]
    two = Placement(id="cooler-2", component="board-mini-itx", name="Second", at_mm=(300, 300, 10))
    assert {x.subjects[0] for x in alone(apply(d, Add(placement=two)), "nothing-cools")} == {"cooler-2"}
    # a loop cools it by hoses, which are not drawn
    assert alone(apply(bare, PlaceNew(component="pump-60")), "nothing-cools") == []


def test_a_plain_processor_may_do_without(good_wren: Design) -> None:
    assert alone(apply(good_wren, Remove(id="cooler")), "nothing-cools") == []


@pytest.mark.parametrize(
    ("there", "lacks"),
    [
        ((), set()),
        (("pump-60",), {("radiator", "stop"), ("reservoir", "weigh")}),
        (("radiator-240",), {("pump", "stop"), ("reservoir", "weigh")}),
        (("reservoir-50x150",), {("radiator", "stop"), ("pump", "stop")}),
        (("pump-60", "radiator-120"), {("reservoir", "weigh")}),
        (("pump-60", "radiator-120", "reservoir-50x150"), set()),
    ],
)
def test_a_loop_lacks_what_is_not_there(there: tuple[str, ...], lacks: set[tuple[str, str]]) -> None:
    d = apply(heron(), Together(edits=tuple(PlaceNew(component=key) for key in there)))
    found = alone(d, "loop-not-whole")
    assert {(f.subjects[-1], f.severity) for f in found} == lacks
    for f in found:
        assert f.title == f"The loop has no {f.subjects[-1]}" and f.remedies
        for r in f.remedies:
            left = {x.key for x in alone(apply(d, Together(edits=r.edits)), "loop-not-whole")}
            assert f.subjects[-1] not in {k.rsplit("/", 1)[-1] for k in left} and len(left) == len(found) - 1


ALONE = "rides-on-nothing"


@pytest.mark.parametrize(("id", "carrier"), [("cooler", "Board"), ("card", "Riser")])
def test_what_rides_on_nothing_is_put_where_it_is_held(id: str, carrier: str) -> None:
    """Added before its board was, or without one: it stood in the air, and no rule said so."""
    start = heron()
    p = start.placement(id)
    assert p is not None
    off = p.model_copy(update={"on": None, "at_mm": (p.at_mm[0], p.at_mm[1], p.at_mm[2] + 30)})
    d = apply(start, Together(edits=(Remove(id=id), Add(placement=off))))
    assert alone(start, ALONE) == []
    (f,) = alone(d, ALONE)
    assert (f.title, f.severity, f.measured, f.limit) == (f"Nothing carries {p.name}", "stop", 0, 1)
    ways = {r.label: r for r in f.remedies}
    put = apply(d, Together(edits=ways[f"Put {p.name} on {carrier}"].edits))
    assert alone(put, ALONE) == alone(put, CODE) == alone(put, "rider-in-carrier") == []
    # what hangs on it would go with it
    if id == "card":
        assert alone(apply(d, Need(port="card/bracket", needed=True)), ALONE)[0].remedies == ()
    fed = d.model_copy(update={"feeds": (Feed(component=id, rail="12 V", source="supply"),)})
    assert alone(fed, ALONE)[0].remedies == ()


def test_a_strip_of_lights_sticks_anywhere() -> None:
    d = apply(heron(), PlaceNew(component="strip-300"))
    p = d.placements[-1]
    d = apply(d, Together(edits=(Remove(id=p.id), Add(placement=p.model_copy(update={"on": None})))))
    assert alone(d, ALONE) == []


def test_a_cooler_on_a_plain_processor_lands_beside_what_stands_there() -> None:
    """On the small board the fins of 40 x 30 in the middle of the processor stand 3.8 in the video socket: they land beside it and still cover all of it."""
    d = Design(name="x", shell=Shell(inner_mm=(120, 90, 60), construction=TwoHalves(joint_mm=50)))
    for key in ("sbc-65x30", "cooler-40x24"):
        d = apply(d, PlaceNew(component=key))
    board, cooler = arrange(d)
    chip, foot = chip_of(board), foot_of(cooler)
    assert chip is not None and not alone(d, "rider-in-carrier") and told(d) is None
    middle = [chip.box.centre[i] - foot.centre[i] for i in (0, 1)]
    assert max(map(abs, middle)) > 3
    assert all(foot.lo[i] <= chip.box.lo[i] + 1e-6 and chip.box.hi[i] <= foot.hi[i] + 1e-6 for i in (0, 1))
    # put back into the middle it is told, and the first remedy leads there again
    x, y, z = d.placements[1].at_mm
    wrong = apply(d, Move(id="cooler", to_mm=(x + middle[0], y + middle[1], z)))
    (f,) = alone(wrong, "rider-in-carrier")
    assert f.measured == pytest.approx(-3.8, abs=0.01)
    assert not alone(apply(wrong, Together(edits=f.remedies[0].edits)), "rider-in-carrier")


def test_a_cooler_that_finds_no_room_is_swapped_for_one_of_its_kind() -> None:
    """The fan cooler of 40 x 40 stands 3 in the audio jack wherever it covers the processor; one of 40 x 30 does not. For a socket one for a socket is taken."""
    d = Design(name="x", shell=Shell(inner_mm=(120, 90, 60), construction=TwoHalves(joint_mm=50)))
    for key in ("sbc-85x56", "cooler-40x7"):
        d = apply(d, PlaceNew(component=key))
    (f,) = alone(d, "rider-in-carrier")
    assert (f.title, f.measured) == ("Cooler stands in the audio jack of Board", pytest.approx(-3.0, abs=0.01))
    assert [r.label for r in f.remedies] == ["Take Passive cooler 40 x 30 x 11 in its place"]
    assert not alone(apply(d, Together(edits=f.remedies[0].edits)), "rider-in-carrier")
    itx = library()["board-mini-itx"]
    tall = next(s for s in itx.solids if s.name == "memory").model_copy(
        update={"name": "choke", "lo": (45, 60, 2), "hi": (58, 70, 45)}
    )
    own = itx.model_copy(update={"key": "own-itx", "solids": (*itx.solids, tall)})
    d = Design(name="x", shell=Shell(inner_mm=(320, 320, 160), construction=TwoHalves(joint_mm=150)))
    d = apply(apply(d, PlaceNew(component="own-itx", custom=own)), PlaceNew(component="cooler-95x47"))
    (f,) = alone(d, "rider-in-carrier")
    taken = [e.component for r in f.remedies for e in r.edits if isinstance(e, Swap)]
    assert all(any(s.name == "base" for s in library()[k].solids) for k in taken)


def test_a_drive_that_its_board_cannot_hold_is_swapped_for_a_shorter_one() -> None:
    """Beside the tower of 24 there is room for 30 and not for 42, which comes to lie over the tower, 18.1 above what is under it elsewhere."""
    d = Design(name="x", shell=Shell(inner_mm=(220, 190, 60), construction=TwoHalves(joint_mm=50)))
    for key in ("sbc-85x56", "cooler-40x24", "m2-2242"):
        d = apply(d, PlaceNew(component=key))
    f = told(d)
    assert f is not None and (f.title, f.limit) == ("Drive is off Board", 3.0)
    assert f.measured == pytest.approx(18.1, abs=0.05)
    assert [r.label for r in f.remedies] == ["Take M.2 card 2230 in its place"]


def test_two_that_ride_on_one_board_are_not_parted_by_moving_it() -> None:
    """A drive under the fins of the cooler beside it: the board takes both along."""
    d = Design(name="x", shell=Shell(inner_mm=(160, 120, 60), construction=TwoHalves(joint_mm=50)))
    for key in ("sbc-85x56", "cooler-40x24", "m2-2230"):
        d = apply(d, PlaceNew(component=key))
    here = {t.id: t.bounds for t in arrange(d)}
    cooler, drive = here["cooler"], here["drive"]
    by = (cooler.hi[0] - drive.lo[0] - 4, cooler.centre[1] - drive.centre[1], cooler.centre[2] - drive.centre[2])
    clash = moved(d, "drive", by)
    (f,) = alone(clash, "components-collide")
    assert f.subjects == ("cooler", "drive") and f.measured == pytest.approx(-4, abs=0.01)
    for r in f.remedies:
        assert not any(isinstance(e, Move) and e.id == "board" for e in r.edits), r.label
        assert not alone(apply(clash, Together(edits=r.edits)), "components-collide"), r.label
