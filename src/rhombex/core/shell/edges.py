"""Posts beside the edges of what has no holes to be screwed on by: they carry its edge, and a screw's head reaches over it."""

from __future__ import annotations

from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.gaps import HARD
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.shell.places import slots
from rhombex.core.space import Box, Vec2

THREAD: Thread = "M3"
STEP_MM = 2.0  # of the places that are tried along an edge
LEAST = 3  # places that hold a plate
LONG_MM = 60.0  # an edge that is longer is held in two places; common practice
END_SHARE = 0.12  # of an edge, that no post comes nearer to its end than


def edge_mm() -> float:
    """From a component's edge to the middle of the screw beside it: half the screw, and what its place may be off."""
    return val(f"fasteners.{THREAD}.d") / 2 + val("fasteners.rule.edge_gap")


def over_mm() -> float:
    """How far a screw's head reaches over the edge."""
    return val(f"fasteners.{THREAD}.head_d") / 2 - edge_mm()


def held_by_edges(t: Thing) -> PlacedSolid | None:
    """The solid of a component that its edges are: the largest that lies on its mounting plane and is thin enough; None where there is none."""
    plane = t.frame.origin[2]
    flat = [
        s
        for s in t.solids
        if s.role in HARD and abs(s.box.lo[2] - plane) < 0.1 and not s.corners and s.round_axis is None
    ]
    flat = [s for s in flat if s.box.hi[2] - plane <= val("fasteners.rule.edge_high")]
    return max(flat, key=lambda s: (s.box.hi[0] - s.box.lo[0]) * (s.box.hi[1] - s.box.lo[1]), default=None)


def edge_places(t: Thing, things: tuple[Thing, ...], board: Box, room: Box, od_mm: float) -> list[Vec2]:
    """Where posts beside the edges find a place: nothing in the way of post, screw and head."""
    off, r, head = edge_mm(), od_mm / 2, val(f"fasteners.{THREAD}.head_d") / 2
    top = board.hi[2]
    mine = [s.box for s in t.solids if s.box != board]
    others = [s.box for o in things if o.id != t.id for s in o.solids]
    out: list[Vec2] = []
    for side in range(4):
        n = side // 2  # across the edge
        k = 1 - n  # along it
        lo, hi = board.lo[k], board.hi[k]
        where = board.lo[n] - off if side % 2 == 0 else board.hi[n] + off
        if not room.lo[n] + r <= where <= room.hi[n] - r:
            continue
        margin = END_SHARE * (hi - lo)
        shares = (0.2, 0.8) if hi - lo > LONG_MM + 1e-6 else (0.5,)
        for share in shares:
            middle = len(shares) == 1
            a = lo + margin if middle or share < 0.5 else (lo + hi) / 2 + r
            b = hi - margin if middle or share > 0.5 else (lo + hi) / 2 - r
            for q in slots(a, b, lo + share * (hi - lo), STEP_MM):
                at = (where, q) if n == 0 else (q, where)
                post = Box((at[0] - r, at[1] - r, 0.0), (at[0] + r, at[1] + r, top))
                reach = Box(
                    (at[0] - head, at[1] - head, top),
                    (at[0] + head, at[1] + head, top + val(f"fasteners.{THREAD}.head_k")),
                )
                if any(b.meets(post) or b.meets(reach) for b in (*mine, *others)):
                    continue
                out.append(at)
                break
    return out


def held_at(board: Box, places: set[Vec2]) -> bool:
    """Whether screws at some places beside a component hold it: in three at least, two of them across from one another."""
    sides = {
        side
        for x, y in places
        for side, past in enumerate((x < board.lo[0], x > board.hi[0], y < board.lo[1], y > board.hi[1]))
        if past
    }
    return len(places) >= LEAST and ({0, 1} <= sides or {2, 3} <= sides)
