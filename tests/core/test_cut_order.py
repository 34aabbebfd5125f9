"""Parts planned together, against every order there is: *Heron* between posts on the bed of 180, whose front panel, left panel, base and top are all cut."""

from __future__ import annotations

import itertools

import pytest
from pydantic import ValidationError

from rhombex.core.advice import cut_order as m
from rhombex.core.advice.cut_order import CutOrder, cut_order, planned
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.cuts.bed import usable_bed
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.plan import ToCut
from rhombex.core.cuts.strips import NAMES
from rhombex.core.design import Design, PinnedCut
from rhombex.core.edits import OrderCuts, PutCuts, Set
from rhombex.core.progress import Stopped
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron_sliding, wren_small


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


@pytest.fixture(scope="module")
def heron() -> Analysis:
    return looked(apply(heron_sliding(), Set(path="printer", value="bench-180")))


def in_turn(a: Analysis, order: tuple[str, ...]) -> tuple[int, float]:
    """Pieces and price of parts planned one after another, each beside stand-ins for the cuts of those before it."""
    by = {c.part: c for c in a.cuts}
    some = next(x for c in a.cuts for x in c.cuts)
    before: list[Cut] = []
    pieces, price = 0, 0.0
    for name in order:
        c = by[name]
        usable = usable_bed(a.design.process_of(name), a.printer)
        part, extent = a.case.part(name), Box(c.lo_mm, c.hi_mm)
        plan = ToCut(a.design, a.case, a.things, a.openings, part, extent, usable, tuple(before)).plan()
        assert plan is not None
        pieces, price = pieces + plan.pieces, price + plan.price
        before += [
            some.model_copy(update={"axis": NAMES[i], "at_mm": at, "pinned": False})
            for i, ats in plan.at_mm.items()
            for at in ats
        ]
    return pieces, price


def in_line(a: Analysis) -> int:
    """Pairs of cuts of two parts that run along one axis less than 10 mm apart."""
    pairs = itertools.combinations([(c.part, x) for c in a.cuts for x in c.cuts], 2)
    return sum(p != q and x.axis == y.axis and abs(x.at_mm - y.at_mm) < 10 for (p, x), (q, y) in pairs)


def test_the_cheapest_of_all_orders_is_found(heron: Analysis) -> None:
    names = tuple(c.part for c in planned(heron))
    assert names == ("base", "panel-front", "panel-left", "top")
    every = {o: in_turn(heron, o) for o in itertools.permutations(names)}
    told = cut_order(heron)
    assert (told.parts, told.orders, told.looked_at, told.proven) == (names, 24, 24, True)
    assert (told.pieces_now, told.price_now) == pytest.approx(every[names], abs=1e-3)
    assert (told.pieces, told.price) == pytest.approx(min(every.values()), abs=1e-3)
    assert every[told.best] == pytest.approx(min(every.values()), abs=1e-3)
    # by one seam that is in line with another: 0.3
    assert told.price_now - told.price > 0.3
    assert told.edits == (OrderCuts(parts=told.best),)


def test_the_order_is_kept_and_fewer_seams_are_in_line(heron: Analysis) -> None:
    told = cut_order(heron)
    after = looked(apply(heron.design, told.edits[0]))
    assert after.design.cut_first == told.best
    assert [c.part for c in after.cuts] == [c.part for c in heron.cuts]  # they are told as they come
    assert list(after.recipes) == list(heron.recipes)
    assert sum(len(c.pieces) for c in after.cuts) == sum(len(c.pieces) for c in heron.cuts)
    assert in_line(after) < in_line(heron)
    again = cut_order(after)
    assert again.edits == () and again.price_now == pytest.approx(told.price, abs=1e-3) and again.proven
    back = looked(apply(after.design, OrderCuts(parts=())))
    assert [c.cuts for c in back.cuts] == [c.cuts for c in heron.cuts]


def test_it_is_stopped_with_the_best_so_far(heron: Analysis) -> None:
    """The first order that is looked at to its end is cheaper than that of now: it is told before all were."""
    some: list[CutOrder] = []

    def one_more(share: float, what: str) -> None:
        assert 0.0 < share <= 1.0 and what.endswith("of 24 orders looked at")
        if some:
            raise Stopped

    with pytest.raises(Stopped):
        cut_order(heron, one_more, some.append)
    (best,) = some
    assert best.looked_at < 24 and not best.proven and best.price < best.price_now
    assert best.edits and in_turn(heron, best.best) == pytest.approx((best.pieces, best.price), abs=1e-3)


def test_what_a_hand_cut_comes_first_and_stays() -> None:
    d = wren_small()
    a = looked(d)
    x = next(c for c in a.cuts if c.part == "lid").cuts[0]
    pinned = PutCuts(part="lid", cuts=(PinnedCut(part="lid", axis=x.axis, at_mm=round(x.inside_mm + 40, 2)),))
    b = looked(apply(d, pinned))
    told = cut_order(b)
    assert told.parts == ("base",) and told.orders == 1 and told.edits == ()
    assert told.price_now == told.price
    # of the base alone: in line with nothing that is cut before it
    assert told.price == pytest.approx(in_turn(b, ("base",))[1], abs=1e-3)


def test_less_certain_ways_are_left_out_and_counted(heron: Analysis, monkeypatch: pytest.MonkeyPatch) -> None:
    """A beginning that costs as much as the best so far, with the rest as if it stood alone, is not looked at further: fewer plans than every order asks for."""
    asked: list[str] = []
    real = m._to_cut

    def counted(a, c, lines):  # type: ignore[no-untyped-def]
        asked.append(c.part)
        return real(a, c, lines)

    monkeypatch.setattr(m, "_to_cut", counted)
    assert cut_order(heron).looked_at == 24
    assert len(asked) < 4 + 4 + 12 + 24 + 24


def test_a_part_is_named_once(heron: Analysis) -> None:
    with pytest.raises(ValidationError, match="cut_first: 'top' is there twice"):
        Design.model_validate(heron.design.model_dump() | {"cut_first": ("top", "top")})
    # a part that is not there is passed over
    other = looked(apply(heron.design, OrderCuts(parts=("no-part", "top"))))
    assert other.faults == () and in_line(other) <= in_line(heron)
    assert other.design.turn_to_cut("top") == 1 and other.design.turn_to_cut("base") == 2
