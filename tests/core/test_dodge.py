"""The plane of moves that are left to a component: what is forbidden there, the shortest that is not, and the posts of what it rides on."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.dodge import _bounds, _nearest, _outermost, _Room, free_spot
from rhombex.core.bench.stack import tower
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.design import Design
from rhombex.core.edits import Move, MoveWall, Turn
from rhombex.core.parts import port_kinds
from rhombex.core.space import Face
from rhombex.core.stance import opposite
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..examples import examples

TENTHS = st.integers(-300, 300).map(lambda x: x / 10)
SPANS = st.tuples(TENTHS, TENTHS).filter(lambda x: x[0] != x[1]).map(lambda x: (min(x), max(x)))
RECTS = st.lists(st.tuples(SPANS, SPANS).map(lambda x: (x[0][0], x[1][0], x[0][1], x[1][1])), min_size=1, max_size=12)


def inside(rects: np.ndarray, p: float, q: float) -> bool:
    return any(a + 1e-6 < p < c - 1e-6 and b + 1e-6 < q < d - 1e-6 for a, b, c, d in rects.tolist())


@given(RECTS)
@settings(max_examples=examples(600), deadline=None)
def test_what_is_free_is_under_no_rectangle(rects: list[tuple[float, float, float, float]]) -> None:
    """Held against each rectangle for each place, which is plain and slow; those within others may be left out and change nothing."""
    lo, hi = (-20.0, -15.0), (20.0, 15.0)
    every = np.array(rects)
    few = _outermost([every], lo, hi)
    assert len(few) <= len(every) and len(np.unique(few, axis=0)) == len(few)
    ps, qs = np.arange(-25.0, 25.0, 1.7), np.arange(-25.0, 25.0, 1.3)
    for room in (_Room(every, lo, hi), _Room(few, lo, hi)):
        free = room.free_grid(ps, qs)
        for j, q in enumerate(qs):
            for i, p in enumerate(ps):
                allowed = lo[0] <= p <= hi[0] and lo[1] <= q <= hi[1]
                assert free[j, i] == (allowed and not inside(every, p, q))
    ways = _nearest(_Room(few, lo, hi), (0, 1))
    assert all(a.cost <= b.cost for a, b in pairwise(ways))
    for w in ways:
        assert any(w.by) and not inside(every, w.by[0], w.by[1])
    if not inside(every, 0.0, 0.0):
        return  # nothing has to move
    # no place of a plain grid of tenths is free and nearer
    best = min((w.cost for w in ways), default=1e9)
    grid = np.arange(-200, 201, 8) / 10
    free = _Room(every, lo, hi).free_grid(grid, grid)
    cost = np.abs(grid)[:, None] + np.abs(grid)[None, :]
    assert not (free & (cost > 1e-9) & (cost < best - 1e-6)).any()


def test_what_rides_on_a_board_alone_may_come_to_its_posts(good_wren: Design) -> None:
    """The board itself is taken away, and its posts stand: the cooler that rides on it is free over them, the drive is not."""
    a = analyse(good_wren, ARCHIVE_WORKSHOP, "none")
    assert "cooler" in tower(good_wren, "board")
    post = max((m for m in a.case.mounts if m.of == "board"), key=lambda m: m.at[1])
    bare = tuple(replace(t, solids=()) if t.id in ("board", "cooler") else t for t in a.things)
    drive = next(t for t in a.things if t.id == "drive")
    lo = next(s.box.lo for s in drive.solids if s.role == "body")
    by = (post.at[0] - lo[0] - 1.0, 0.0, post.top_mm - lo[2] - 0.5)
    x, y, z = (p + d for p, d in zip(drive.placement.at_mm, by, strict=True))
    there = apply(good_wren, Move(id="drive", to_mm=(x, y, z)))
    things = tuple(next(u for u in arrange(there) if u.id == t.id) if t.id == "drive" else t for t in bare)
    alone = tuple(t for t in things if t.id in ("drive", "board"))
    assert free_spot(there, alone, "drive", a.case.model_copy(update={"mounts": ()})) == (0.0, 0.0, 0.0)
    spot = free_spot(there, alone, "drive", a.case.model_copy(update={"mounts": (post,)}))
    assert spot not in (None, (0.0, 0.0, 0.0))
    cooler = next(t for t in a.things if t.id == "cooler")
    low = cooler.solids[0].box.lo
    tall = post.model_copy(update={"top_mm": low[2] + 1.0, "at": (low[0] + 2.0, low[1] + 2.0)})
    one = (cooler, next(t for t in bare if t.id == "board"))
    assert free_spot(good_wren, one, "cooler", a.case.model_copy(update={"mounts": (tall,)})) == (0.0, 0.0, 0.0)


@pytest.mark.parametrize("face", ["left", "right", "front", "back"])
@pytest.mark.parametrize("turn", [0, 90, 180, 270])
def test_a_way_past_leaves_ports_in_reach_of_their_plugs(good_wren: Design, turn: int, face: Face) -> None:
    """Away from the wall that a wanted port looks through it goes until a plug of it has 25 mm left to hold, or it is 40 mm behind the wall."""
    d = good_wren if turn == 0 else apply(good_wren, Turn(id="board", by=turn))  # type: ignore[arg-type]
    d = apply(d, MoveWall(face=opposite(face), by_mm=300))  # so far that only its ports hold it
    me = next(t for t in arrange(d) if t.id == "board")
    lo, hi = _bounds(d, [(me, s) for s in me.solids], None, me, (0, 1))
    axis, low = ("left", "right").count(face) == 0, face in ("left", "front")
    outer = 0.0 if low else d.shell.inner_mm[axis] + 2 * d.shell.wall_mm
    kinds = [
        (port_kinds()[p.port.kind].plug_length_mm, p) for p in me.ports if p.face == face and p.ref in wanted_ports(d)
    ]
    sign = 1 if low else -1  # one that stands out of its wall is less than nothing behind it
    left = [(min(plug - 25, 40) if plug > 25 else 40) - sign * (p.centre[axis] - outer) for plug, p in kinds]
    most = hi[axis] if low else -lo[axis]
    if left:
        assert most == pytest.approx(min(left))
    else:
        assert most > 200
