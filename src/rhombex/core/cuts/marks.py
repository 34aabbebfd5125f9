"""The number of a piece, and an arrow to each of its neighbours, sunk into the inner face of its plate where nothing else is."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon, unary_union

from rhombex.core.case import Case
from rhombex.core.case.parts import Seat
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import up_of
from rhombex.core.cuts.joins import hold_of
from rhombex.core.cuts.strips import INDEX
from rhombex.core.cuts.turned import line_of
from rhombex.core.geometry.recipe import Extrude, Loop, Move, Profile, Solid, profile, rect, snap
from rhombex.core.geometry.regions import profile_of
from rhombex.core.reference import val
from rhombex.core.space import Box, Frame, Vec2, Vec3

HIGH_MM, WIDE_MM, STROKE_MM = 8.0, 5.0, 1.0  # of a digit: strokes of two lines of a 0.4 nozzle; common practice
BETWEEN_MM, ARROW_MM = 1.5, 4.0
WEBS_MM = 8.0  # longer than webs from bosses to their wall
CLEAR_MM = 1.0
# strokes of a digit as bars: top, upper left and right, middle, lower left and right, bottom
_BARS = {
    0: "tabcdf",
    1: "bd",
    2: "tbmcf",
    3: "tbmdf",
    4: "abmd",
    5: "tamdf",
    6: "tamcdf",
    7: "tbd",
    8: "tabmcdf",
    9: "tabmdf",
}


def _bar(name: str, x: float) -> Loop:
    s, w, h = STROKE_MM, WIDE_MM, HIGH_MM
    half = h / 2
    x0, y0, x1, y1 = {
        "t": (0.0, h - s, w, h),
        "a": (0.0, half - s / 2, s, h),
        "b": (w - s, half - s / 2, w, h),
        "m": (0.0, half - s / 2, w, half + s / 2),
        "c": (0.0, 0.0, s, half + s / 2),
        "d": (w - s, 0.0, w, half + s / 2),
        "f": (0.0, 0.0, w, s),
    }[name]
    return rect(x + x0, y0, x + x1, y1)


@lru_cache(maxsize=64)
def number_profile(number: int) -> tuple[Profile, Vec2]:
    """The strokes of a number as one outline, from its lower left corner, and its size."""
    digits = [int(c) for c in str(number)]
    strokes = [
        Polygon([p[:2] for p in _bar(b, k * (WIDE_MM + BETWEEN_MM))]) for k, d in enumerate(digits) for b in _BARS[d]
    ]
    return profile_of(unary_union(strokes)), (len(digits) * (WIDE_MM + BETWEEN_MM) - BETWEEN_MM, HIGH_MM)


def marks(
    case: Case,
    taken: NDArray[np.float64],
    seat: Seat,
    cell: Box,
    cuts: list[Cut],
    beside: list[tuple[Cut, float]],
    number: int,
) -> list[Solid]:
    """What is sunk into one piece. `beside`: the cuts at its sides, with the way to each: 1 or -1 along its axis. `taken`: boxes (n, 2, 3) of posts, bosses, openings and vents; blocks of the cuts are kept off besides. Nothing where
    there is no place, or where the plate is too thin."""
    deep = val("printing.feature.mark_deep")
    if abs(seat.inner_mm - seat.outer_mm) < 3 * deep:
        return []
    n, up = seat.axis, up_of(seat)
    u, v = (k for k in range(3) if k != n)
    within = cell if seat.alone else case.cavity
    room = [(max(cell.lo[k], within.lo[k]), min(cell.hi[k], within.hi[k])) for k in (u, v)]
    by_room = [
        (taken[:, 1, k] > a - 2 * CLEAR_MM) & (taken[:, 0, k] < b + 2 * CLEAR_MM)
        for k, (a, b) in zip((u, v), room, strict=True)
    ]
    blocked = taken[_meets(taken[:, 0, n], taken[:, 1, n], seat) & by_room[0] & by_room[1]][:, :, [u, v]]
    if seat.bar is None:  # what joins a bar lies deeper in it than marks
        blocked = _with(blocked, _blocks(cuts, seat, u, v))
    if v == 2 and seat.bar is None:  # a wall is thicker along its rim
        blocked = _with(blocked, [np.array([[room[0][0], b.from_mm], [room[0][1], b.to_mm]]) for b in case.bulges])
    x: Vec3 = tuple(1.0 if k == u else 0.0 for k in range(3))  # type: ignore[assignment]
    z: Vec3 = tuple(float(up) if k == n else 0.0 for k in range(3))  # type: ignore[assignment]
    y: Vec3 = (z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0])
    flip = y[v]  # the plate is seen from inside: its second axis may run the other way
    out: list[Solid] = []

    def sink(outline: Profile, at: Vec2) -> None:
        origin = [0.0, 0.0, 0.0]
        origin[u], origin[v], origin[n] = snap(at[0]), snap(at[1]), snap(seat.inner_mm - up * deep)
        out.append(Move(Extrude(outline, snap(deep + 1.0)), Frame((origin[0], origin[1], origin[2]), x, y, z)))

    digits, (w, h) = number_profile(number)
    middle = _free(room, blocked, (w, h), ((room[0][0] + room[0][1]) / 2, (room[1][0] + room[1][1]) / 2))
    if middle is not None:
        sink(digits, (middle[0] - w / 2, middle[1] - flip * h / 2))
        blocked = _with(
            blocked, [np.array([[middle[0] - w / 2, middle[1] - h / 2], [middle[0] + w / 2, middle[1] + h / 2]])]
        )
    for c, way in beside:
        i = INDEX[c.axis]
        k = (u, v).index(i)
        want = [(a + b) / 2 for a, b in room]
        want[k] = (cell.hi[i] if way > 0 else cell.lo[i]) - way * (ARROW_MM / 2 + CLEAR_MM)
        fixed = [list(r) for r in room]
        fixed[k] = [want[k] - ARROW_MM / 2, want[k] + ARROW_MM / 2]
        at = _free([(a, b) for a, b in fixed], blocked, (ARROW_MM, ARROW_MM), (want[0], want[1]))
        if at is not None:
            sink(profile([_arrow(k, way, flip)]), at)
    return out


def _arrow(k: int, way: float, flip: float) -> Loop:
    """A triangle about the origin that points along the first or second axis of the plate."""
    r = ARROW_MM / 2
    tip, back = way * r, -way * r
    points = [(tip, 0.0), (back, r), (back, -r)] if k == 0 else [(0.0, flip * tip), (-r, flip * back), (r, flip * back)]
    turn = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, [*points[1:], points[0]], strict=True))
    return tuple((px, py, 0.0) for px, py in (points if turn > 0 else points[::-1]))


def _with(blocked: NDArray[np.float64], more: list[NDArray[np.float64]]) -> NDArray[np.float64]:
    return np.concatenate([blocked, np.array(more)]) if more else blocked


def _meets(lo: NDArray[np.float64], hi: NDArray[np.float64], seat: Seat) -> NDArray[np.bool_]:
    """Which of what is from lo to hi (n) stands on a plate or by it: bosses in walls have webs to the wall beside them."""
    a, b = sorted((seat.outer_mm, seat.inner_mm))
    near = 1.0 if seat.axis == 2 else WEBS_MM
    return np.asarray(((hi > a) & (lo < b + near)) | ((hi > a - near) & (lo < b)))


def _blocks(cuts: list[Cut], seat: Seat, u: int, v: int) -> list[NDArray[np.float64]]:
    out = []
    for c in cuts:
        hold, i = hold_of(c.joined, seat), INDEX[c.axis]
        for q, _ in c.dowels if hold is not None else ():
            assert hold is not None
            lo, hi = {}, {}
            j = u + v - i
            lo[i], hi[i] = c.ridge_mm or (c.at_mm - hold.run_mm, c.at_mm + hold.run_mm)
            lo[j], hi[j] = q - hold.block_mm / 2, q + hold.block_mm / 2
            if c.turn_deg:
                out.append(_turned_box(c, seat.axis, lo, hi, u, v))
            else:
                out.append(np.array([[lo[u], lo[v]], [hi[u], hi[v]]]))
    return out


def _turned_box(c: Cut, n: int, lo: dict[int, float], hi: dict[int, float], u: int, v: int) -> NDArray[np.float64]:
    """The rectangle on the plan in which a block of a turned cut lies."""
    line, corners = line_of(c, n), []
    for a in (lo[u], hi[u]):
        for b in (lo[v], hi[v]):
            p = [0.0] * 3
            p[u], p[v] = a, b
            q = line.point((p[0], p[1], p[2]))
            corners.append((q[u], q[v]))
    return np.array([np.min(corners, axis=0), np.max(corners, axis=0)])


def _free(room: list[tuple[float, float]], blocked: NDArray[np.float64], size: Vec2, want: Vec2) -> Vec2 | None:
    """The middle of a free rectangle in a room, nearest to where it is wanted; 2 mm apart are tried."""
    half = np.array(size) / 2
    axes = []
    for (a, z), s, w in zip(room, half, want, strict=True):
        edge = CLEAR_MM if z - a > 2 * s + 2 * CLEAR_MM else 0.0
        least, most = a + s + edge, z - s - edge
        if most < least - 1e-6:
            return None
        axes.append(np.sort(np.clip(np.append(np.arange(least, most, 2.0), w), least, most)))
    free = np.ones((len(axes[0]), len(axes[1])), bool)
    if len(blocked):
        lo, hi = blocked.transpose(1, 2, 0)  # each box bars a rectangle of the grid
        spans = [
            (np.searchsorted(x + s + CLEAR_MM, low, "right"), np.searchsorted(x - s - CLEAR_MM, high, "left"))
            for x, s, low, high in zip(axes, half, lo, hi, strict=True)
        ]
        (a, b), (c, d) = spans
        some = (a < b) & (c < d)
        barred = np.zeros((len(axes[0]) + 1, len(axes[1]) + 1), np.int32)  # how many more bar it than what is before it
        for i, j, by in ((a, c, 1), (b, c, -1), (a, d, -1), (b, d, 1)):
            np.add.at(barred, (i[some], j[some]), by)
        free = barred.cumsum(axis=0).cumsum(axis=1)[:-1, :-1] == 0
    if not free.any():
        return None
    i, j = np.nonzero(free)
    best = np.argmin((axes[0][i] - want[0]) ** 2 + (axes[1][j] - want[1]) ** 2)
    return (float(axes[0][i[best]]), float(axes[1][j[best]]))
