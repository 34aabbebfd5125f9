"""Where on a plate something finds a place: against looking at every box one by one."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.analysis import analyse
from rhombex.core.cuts.dowels import dowel_places_along, in_the_way
from rhombex.core.cuts.joins import hold_of
from rhombex.core.cuts.marks import CLEAR_MM, _free
from rhombex.core.cuts.strips import Strip, crossed, crossed_at
from rhombex.core.design import Design, JoinKind
from rhombex.core.fit.laying import bbox
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples

MM = st.integers(-20, 220).map(lambda k: k / 2)


@given(
    st.tuples(MM, MM),
    st.tuples(st.integers(8, 300), st.integers(8, 300)),
    st.lists(st.tuples(MM, MM, st.integers(1, 60), st.integers(1, 60)), max_size=12),
    st.sampled_from(((4.0, 4.0), (11.5, 8.0))),
    st.tuples(MM, MM),
)
@settings(max_examples=examples(150))
def test_a_mark_takes_the_nearest_place_that_nothing_stands_in(
    corner: tuple[float, float],
    long: tuple[int, int],
    boxes: list[tuple[float, float, int, int]],
    size: tuple[float, float],
    want: tuple[float, float],
) -> None:
    room = [(c, c + k / 2) for c, k in zip(corner, long, strict=True)]
    blocked = np.array([[[x, y], [x + w, y + d]] for x, y, w, d in boxes], float).reshape(-1, 2, 2)

    def clear(x: float, y: float) -> bool:
        """Whether the mark, with its air round it, meets none of the boxes."""
        a, b = size[0] / 2 + CLEAR_MM, size[1] / 2 + CLEAR_MM
        return all(x + a <= bx or x - a >= bx + w or y + b <= by or y - b >= by + d for bx, by, w, d in boxes)

    at = _free(room, blocked, size, want)
    tried = [
        (x, y)
        for x in _tries(room[0], size[0], want[0])
        for y in _tries(room[1], size[1], want[1])
        if clear(float(x), float(y))
    ]
    if at is None:
        assert not tried
        return
    assert clear(*at) and all(
        lo <= m - s / 2 and m + s / 2 <= hi for m, s, (lo, hi) in zip(at, size, room, strict=True)
    )
    far = [float((x - want[0]) ** 2 + (y - want[1]) ** 2) for x, y in tried]
    assert (at[0] - want[0]) ** 2 + (at[1] - want[1]) ** 2 <= min(far) + 1e-9


def _tries(room: tuple[float, float], size: float, want: float) -> list[float]:
    """Every 2 mm of a room that holds the mark, with air at its ends where there is some, and the place that is wanted."""
    air = CLEAR_MM if room[1] - room[0] > size + 2 * CLEAR_MM else 0.0
    lo, hi = room[0] + size / 2 + air, room[1] - size / 2 - air
    if hi < lo:
        return []
    steps = int((hi - lo) / 2 - 1e-9)
    return [*(lo + 2 * k for k in range(steps + 1)), min(max(want, lo), hi)]


@pytest.mark.parametrize(
    "kind", ["steel pins", "filament pins", "printed pins", "steel rods", "bolts", "bridging plates"]
)
def test_what_joins_a_seam_stands_in_nothing_and_is_left_out_only_where_something_stands(
    good_wren: Design, kind: JoinKind
) -> None:
    a = analyse(good_wren, ARCHIVE_WORKSHOP, "none")
    seat = a.case.part("base").seat
    assert seat is not None and seat.axis == 2 and seat.inner_mm > seat.outer_mm
    hold = hold_of(kind, seat)
    assert hold is not None
    blocked = in_the_way(a.case, a.things, a.openings, "base")
    corner, size = bbox(a.recipes["base"])
    extent = Box(corner, (corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]))
    half, top = hold.block_mm / 2, seat.outer_mm + hold.reach_mm

    def barred(c: float, q: float) -> bool:
        """Whether the block of a pin at q on a cut across x at c meets a box, each by its own corners."""
        mine = ((c - hold.clear_mm, c + hold.clear_mm), (q - half, q + half), (seat.inner_mm, top))
        return any(all(lo < b[1][k] and hi > b[0][k] for k, (lo, hi) in enumerate(mine)) for b in blocked.tolist())

    at = tuple(extent.lo[0] + k for k in range(2, int(size[0]) - 1, 3))
    found = dowel_places_along(a.case, blocked, seat, hold, extent, 0, at, (), 20)
    edge = half + seat.edge_mm + 0.5
    lo, hi = a.case.cavity.lo[1] + edge, a.case.cavity.hi[1] - edge
    near_an_end = {c for c in at if min(c - extent.lo[0], extent.hi[0] - c) < hold.run_mm}
    assert near_an_end and all(not pins for c, pins in zip(at, found, strict=True) if c in near_an_end)
    bars = 0
    for c, pins in zip(at, found, strict=True):
        if c in near_an_end:
            continue
        places = [q for q, _ in pins]
        assert all(lo - 1e-9 <= q <= hi + 1e-9 and not barred(c, q) for q in places)
        assert all(abs(p - q) > hold.block_mm + 2 for p, q in itertools.combinations(places, 2))
        for q in (lo, hi, *(lo + (hi - lo) * k / 6 for k in range(1, 6))):
            bars += barred(c, q)
            assert barred(c, q) or any(abs(p - q) <= hold.block_mm + 2 for p in places)
    assert bars > 20  # the board and its posts do stand there


STRIP = st.builds(
    lambda lo, wide, why, soft: Strip(lo=lo, hi=lo + wide, why=why, soft=soft),
    MM,
    st.integers(0, 80).map(lambda k: k / 2),
    st.sampled_from(("post of board", "rib", "vent field")),
    st.booleans(),
)


@given(st.lists(STRIP, max_size=8), st.lists(MM, max_size=20), st.booleans())
@settings(max_examples=examples(300))
def test_many_places_are_crossed_as_each_one_is(all_strips: list[Strip], at: list[float], soft: bool) -> None:
    """Ends of strips on the very places too: there nothing is crossed."""
    there = tuple(all_strips)
    assert crossed_at(there, tuple(at), soft) == [crossed(there, c, soft) for c in at]


def test_places_in_a_row_are_crossed_by_what_is_there_and_not_by_what_was_before() -> None:
    there = (Strip(lo=0, hi=10, why="rib"), Strip(lo=5, hi=15, why="post of board"))
    told = crossed_at(there, (2.0, 3.0, 7.0, 12.0, 17.0), True)
    assert told == [("rib",), ("rib",), ("rib", "post of board"), ("post of board",), ()]
