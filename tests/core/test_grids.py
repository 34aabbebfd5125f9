"""Rows and columns of a part that is cut both ways: against every grid there is."""

from __future__ import annotations

import itertools
from dataclasses import replace
from math import floor, inf
from random import Random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from rhombex.core.advice.cuts import _why
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.cuts import grids
from rhombex.core.cuts.dowels import Along, along_cuts, stretches_of
from rhombex.core.cuts.grids import Side, plan_grid
from rhombex.core.cuts.joins import hold_of
from rhombex.core.cuts.one_way import in_order
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.places import in_line, places_of
from rhombex.core.cuts.plan import ToCut
from rhombex.core.cuts.strips import INDEX, NAMES
from rhombex.core.design import Brief, Design
from rhombex.core.edits import JoinCuts, MoveWall, Set, Together
from rhombex.core.space import Box, Vec2, Vec3
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP as WORKSHOP
from rhombex.demo.scenario import heron_small

from ..examples import examples

TO_PIECES = 9
SHORTEST_MM = 10.0  # of a piece between two cuts
JUST_ENOUGH = 0.05  # what a cut costs that has as many pins as it wants and no more


def side(draw: Random, length: float, other_length: float, crowded: float) -> Side:
    """Places every 2 mm between random strips, random prices; along each something stands in the way somewhere, and a pin wants 15 mm."""
    strips = [(a, a + draw.uniform(5, 40)) for a in (draw.uniform(0, length) for _ in range(draw.randint(0, 4)))]
    at = tuple(float(c) for c in range(10, int(length) - 9, 2) if not any(a < c < b for a, b in strips))
    prices = tuple(draw.choice((0.0, 0.05, 0.5)) for _ in at)
    stands = [
        (a, a + draw.uniform(0, crowded) * other_length) for a in (draw.uniform(0, other_length) for _ in at)
    ]  # from where to where along each place

    def held(others: tuple[float, ...]) -> NDArray[np.int64]:
        edges = [0.0, *others, other_length]
        return np.array([sum(_fit(a, b, *s) for a, b in itertools.pairwise(edges)) for s in stands], np.int64)

    most = tuple(_fit(0, other_length, *s, 99) for s in stands)
    return Side(length, at, prices, most, held)


def _fit(a: float, b: float, lo: float, hi: float, most: int = 3) -> int:
    return min(most, floor(max(min(b, lo) - a, 0.0) / 15) + floor(max(b - max(a, hi), 0.0) / 15))


def every_grid(one: Side, other: Side, rooms: tuple[Vec2, ...]) -> tuple[int, float] | None:
    """Pieces, up to `TO_PIECES`, and price of the best of all grids: every number of cuts, every choice of places."""
    for pieces in range(4, TO_PIECES + 1):
        best = inf
        for a in (a for a in range(2, pieces // 2 + 1) if pieces % a == 0):
            for room in rooms:
                columns, rows = _ways(one, a - 1, room[0]), _ways(other, pieces // a - 1, room[1])
                if len(columns) and len(rows):
                    best = min(
                        best, float((_prices(one, columns, other, rows) + _prices(other, rows, one, columns).T).min())
                    )
        if best < inf:
            return pieces, best
    return None


def _ways(s: Side, n: int, room: float) -> NDArray[np.int64]:
    """Every choice of n places, by their numbers, that leaves no piece too long or too short."""
    ways = np.array(list(itertools.combinations(range(len(s.at_mm)), n)), int).reshape(-1, n)
    spans = np.diff(np.array(s.at_mm)[ways], prepend=0.0, append=s.length_mm, axis=1)
    return ways[(spans.max(axis=1) <= room) & (spans[:, :-1].min(axis=1) > SHORTEST_MM)]


def _prices(s: Side, ways: NDArray[np.int64], other: Side, across: NDArray[np.int64]) -> NDArray[np.float64]:
    """What each way to cut a side costs with each way to cut the other one, without end where its pins find no place."""
    assert s.held is not None
    n, wanted = ways.shape[1] + 1, max(2, 1 + across.shape[1])
    pins = np.array([s.held(tuple(np.array(other.at_mm)[x])) for x in across])
    each = np.where(pins < wanted, inf, np.array(s.prices) + JUST_ENOUGH * (pins == wanted))  # (across, places)
    even = np.abs(np.array(s.at_mm)[ways] - np.arange(1, n) * s.length_mm / n).sum(axis=1) / s.length_mm
    return np.asarray(each[:, ways].sum(axis=2).T + even[:, None])


def test_a_grid_is_the_fewest_pieces_at_the_least_price_of_all() -> None:
    """60 random parts with random strips, prices and things in the way, on a grid of 2 mm."""
    told = []
    for seed in range(60):
        draw = Random(seed)
        bed = draw.uniform(50, 80), draw.uniform(50, 80)
        lengths = [max(bed) * draw.uniform(1.05, 1.9) for _ in range(2)]
        crowded = (0.2, 0.6, 0.9)[seed % 3]
        one, other = side(draw, lengths[0], lengths[1], crowded), side(draw, lengths[1], lengths[0], crowded)
        rooms = (bed, bed[::-1])
        found, best = plan_grid(one, other, rooms), every_grid(one, other, rooms)
        assert best is not None or found is None or found.pieces > TO_PIECES, seed
        if best is not None:
            assert found is not None and found.proven, seed
            assert (found.pieces, found.price) == (best[0], pytest.approx(best[1], abs=1e-9)), seed
            told.append(found)
    assert len(told) > 50 and max(g.tried for g in told) > 10 and sum(g.pieces > 4 for g in told) > 5


@given(seed=st.integers(0, 100_000), n=st.integers(0, 3))
@settings(max_examples=examples(200), deadline=None)
def test_every_way_to_cut_comes_the_cheapest_first(seed: int, n: int) -> None:
    draw = Random(seed)
    length = draw.uniform(60, 110)
    s = side(draw, length, 100.0, 0.5)
    room = draw.uniform(length / (n + 1), length)
    found = list(in_order(length, s.at_mm, s.prices, n, room))
    ways = (
        {tuple(s.at_mm[k] for k in w) for w in _ways(s, n, room).tolist()} if n else {()} if length <= room else set()
    )
    assert {w for _, w in found} == ways and len(found) == len(ways)
    for total, way in found:
        off = sum(abs(c - k * length / (n + 1)) for k, c in enumerate(way, 1)) / length
        assert total == pytest.approx(sum(s.prices[s.at_mm.index(c)] for c in way) + off, abs=1e-9)
    assert all(b >= a - 1e-9 for (a, _), (b, _) in itertools.pairwise(found))


def test_what_was_not_looked_at_to_the_end_is_not_called_proven(monkeypatch: pytest.MonkeyPatch) -> None:
    """Pins find room in one grid alone, the last of them: stopped before it, none is found, and none is said to be proven."""
    at = tuple(float(c) for c in range(40, 61, 2))

    def held(others: tuple[float, ...]) -> NDArray[np.int64]:
        return np.full(len(at), 3 if others == (60.0,) else 1)

    one, other = (Side(100.0, at, (0.0,) * len(at), (3,) * len(at), held) for _ in range(2))
    found = plan_grid(one, other, ((70.0, 70.0),))
    assert found is not None and (found.one, found.other, found.proven) == ((60.0,), (60.0,), True)
    monkeypatch.setattr(grids, "MOST_TRIED", 3)
    monkeypatch.setattr(grids, "MOST_IN_ALL", 9)
    found = plan_grid(one, other, ((70.0, 70.0),))
    assert found == grids.Grid((), (), inf, 9, False)
    assert plan_grid(one, replace(other, at_most=(1,) * len(at)), ((70.0, 70.0),)) is None


def both_ways(a: Analysis) -> list[PartCuts]:
    return [c for c in a.cuts if len({x.axis for x in c.cuts}) == 2]


@pytest.mark.parametrize("by", ["bolts", "rods through all pieces"])
def test_a_real_part_is_cut_as_the_prices_of_its_table_say(by: str) -> None:
    """Floor and top of Heron on a bed that two of them cover each way: every pair of a column and a row, priced with the other one in place, as the table prices them."""
    joined = tuple(JoinCuts(part=p, by=by) for p in ("floor", "cover-top"))  # type: ignore[arg-type]
    d = apply(heron_small(), Together(edits=(Set(path="printer", value="bench-220"), *joined)))
    a = analyse(d, WORKSHOP, "preview")
    assert {c.part for c in both_ways(a)} == {"floor", "cover-top"}
    for c in both_ways(a):
        assert c.seat is not None and c.proven and len(c.pieces) == c.least == 4
        extent, elsewhere = Box(c.lo_mm, c.hi_mm), a.cuts[: a.cuts.index(c)]
        i, j = (INDEX[x] for x in c.flat)
        priced: dict[tuple[int, float, float], float] = {}
        for k, o in ((i, j), (j, i)):
            hold = hold_of(next(x.joined for x in c.cuts if INDEX[x.axis] == k), c.seat)
            lines = in_line((x for e in elsewhere for x in e.cuts), NAMES[k])
            for other in grid(extent, o):
                found = places_of(
                    a.design, a.case, a.things, a.openings, c.part, extent, NAMES[k], c.seat, hold, 2, (other,), lines
                )
                for p in found:
                    if p.price is not None:
                        off = abs(p.at_mm - (extent.lo[k] + extent.hi[k]) / 2) / extent.size[k]
                        priced[k, p.at_mm, other] = p.price + off
        bed = c.usable_mm[0] - max((h.longer_mm for x in c.cuts if (h := hold_of(x.joined, c.seat))), default=0.0)
        fit = {k: [q for q in grid(extent, k) if max(q - extent.lo[k], extent.hi[k] - q) <= bed] for k in (i, j)}
        every = [
            (priced[i, x, y] + priced[j, y, x], x, y)
            for x in fit[i]
            for y in fit[j]
            if (i, x, y) in priced and (j, y, x) in priced
        ]
        mine = {INDEX[x.axis]: x.at_mm for x in c.cuts}
        assert priced[i, mine[i], mine[j]] + priced[j, mine[j], mine[i]] == pytest.approx(min(every)[0], abs=1e-9), (
            c.part
        )
        assert c.tried < len(every)
        assert all(len(x.dowels) >= 2 for x in c.cuts)


def grid(extent: Box, i: int) -> list[float]:
    return [extent.lo[i] + k for k in range(10, int(extent.size[i]) - 9, 2)]


@given(seed=st.integers(0, 100_000), by=st.sampled_from(("steel pins", "bolts", "dovetails", "half-lap")))
@settings(max_examples=examples(90), deadline=None)
def test_never_more_pins_than_are_thought_possible(seed: int, by: str) -> None:
    """Of random things in the way, however random cuts the other way divide a cut."""
    draw = Random(seed)
    a = analyse(heron_small(), WORKSHOP, "preview")
    floor = next(c for c in a.cuts if c.part == "floor")
    assert floor.seat is not None
    hold = hold_of(by, floor.seat)  # type: ignore[arg-type]
    assert hold is not None
    extent = Box(floor.lo_mm, floor.hi_mm)
    boxes = [(draw.uniform(0, 300), draw.uniform(0, 300)) for _ in range(draw.randint(0, 12))]
    stand = np.array([[(x, y, -50), (x + draw.uniform(2, 90), y + draw.uniform(2, 90), 400)] for x, y in boxes])
    at = tuple(grid(extent, 0)[::7])
    along = along_cuts(a.case, stand.reshape(-1, 2, 3), floor.seat, hold, extent, 0, at)
    (whole,) = stretches_of(a.case, floor.seat, hold, extent, 0)
    others = tuple(sorted(draw.uniform(20, 250) for _ in range(draw.randint(0, 3))))
    if any(y - x < 10 for x, y in itertools.pairwise(others)):
        return
    most = along.at_most(whole)
    found = [
        sum(len(along.places(s, 99)[k]) for s in stretches_of(a.case, floor.seat, hold, extent, 0, others))
        for k in range(len(at))
    ]
    assert all(n <= m for n, m in zip(found, most, strict=True))


def test_how_many_pins_find_room_beside_what_stands_in_the_way() -> None:
    """Blocks of 7, 9 apart: 50 mm take six (0, 9 ... 45). Where something stands from 20 to 30, none from 16.5 to 33.5: two before it, two behind."""
    a = analyse(heron_small(), WORKSHOP, "preview")
    seat = next(c.seat for c in a.cuts if c.part == "floor")
    assert seat is not None
    hold = hold_of("steel pins", seat)
    assert hold is not None and (hold.block_mm, hold.pitch_mm) == (7.0, 9.0)
    for stands, most in (
        ((900.0, 901.0), 6),
        ((20.0, 30.0), 4),
        ((20.0, 51.0), 2),
        ((-9.0, 60.0), 0),
        ((-9.0, 10.0), 5),
    ):
        box = np.array([[(0.0, stands[0], -50.0), (400.0, stands[1], 400.0)]])
        along = Along(seat, hold, box, 0, np.array([100.0, 200.0, 3.0]), [100.0, 100.0, 3.0])
        assert along.at_most((0.0, 50.0)) == [most, most, 0]


def test_what_it_took_is_told() -> None:
    """With how many were tried; and that a better one may be left, where not all were."""
    c = both_ways(analyse(heron_small(), WORKSHOP, "preview"))[0]
    told = _why(c)
    assert f"{len(c.pieces)} pieces, which is the least for the 168 x 168 mm" in told
    assert f"Proven the cheapest of all rows and columns every 2 mm: {c.tried} were tried" in told and c.tried > 1
    cut_off = c.model_copy(update={"proven": False, "tried": 6000})
    assert "the best of 6000 ways" in _why(cut_off) and "not known" in _why(cut_off)


@pytest.mark.parametrize(
    ("longer", "usable", "pieces", "axes"),
    [
        # 171 x 144: three of 60 across either way, and across x is cheaper
        (0.0, (180.0, 60.0, 200.0), 3, "x"),
        # across x four
        (0.0, (180.0, 50.0, 200.0), 3, "y"),
        # 471 x 144: five of 100 across x, or two columns of 250 in two rows of 100
        (300.0, (250.0, 100.0, 200.0), 4, "xy"),
        (300.0, (250.0, 150.0, 200.0), 2, "x"),
    ],
)
def test_a_bed_that_is_not_square_is_used_both_ways(
    good_wren: Design, longer: float, usable: Vec3, pieces: int, axes: str
) -> None:
    bare = good_wren.model_copy(
        update={"placements": (), "leads": (), "openings": (), "vents": (), "adapters": (), "brief": Brief()}
    )
    edits = (MoveWall(face="right", by_mm=longer), JoinCuts(part="lid", by="glue alone"))
    a = analyse(apply(bare, Together(edits=edits)), WORKSHOP, "preview")
    part, c = a.case.part("lid"), next(c for c in a.cuts if c.part == "lid")
    plan = ToCut(a.design, a.case, a.things, a.openings, part, Box(c.lo_mm, c.hi_mm), usable).plan()
    assert plan is not None and plan.proven
    assert (plan.pieces, "".join(NAMES[i] for i, at in sorted(plan.at_mm.items()) if at)) == (pieces, axes)
