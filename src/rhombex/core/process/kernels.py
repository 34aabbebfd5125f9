"""The inner loops: crossing a region with parallel lines, joining them to chains, ordering paths, planning speeds.

Compiled once (numba) and kept on disk. Arrays are float64; lengths mm, speeds mm/s, accelerations mm/s2, times s.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rhombex.core.compiled import njit

Array = NDArray[np.float64]
Ints = NDArray[np.int64]

EPS = 1e-9


@njit
def crossings(points: Array, start: Ints, spacing: float, phase: float) -> tuple[Ints, Array]:
    """Where the lines y = (k + phase) spacing cross closed loops: line number and x, in the order of the edges.

    points (n, 2) of all loops one after another; start (m + 1,) where each begins. Every closed loop is crossed an
    even number of times by every line, for an edge holds its lower end and not its upper one.
    """
    count = 0
    for m in range(len(start) - 1):
        for i in range(start[m], start[m + 1]):
            j = i + 1 if i + 1 < start[m + 1] else start[m]
            a, b = points[i, 1] / spacing - phase, points[j, 1] / spacing - phase
            count += abs(int(np.ceil(a)) - int(np.ceil(b)))
    line = np.empty(count, np.int64)
    x = np.empty(count, np.float64)
    n = 0
    for m in range(len(start) - 1):
        for i in range(start[m], start[m + 1]):
            j = i + 1 if i + 1 < start[m + 1] else start[m]
            x0, y0, x1, y1 = points[i, 0], points[i, 1], points[j, 0], points[j, 1]
            a, b = int(np.ceil(y0 / spacing - phase)), int(np.ceil(y1 / spacing - phase))
            if a == b:
                continue
            lo, hi = (a, b) if a < b else (b, a)
            slope = (x1 - x0) / (y1 - y0)
            for k in range(lo, hi):
                line[n] = k
                x[n] = x0 + ((k + phase) * spacing - y0) * slope
                n += 1
    return line, x


@njit
def chains(line: Ints, a: Array, b: Array, spacing: float, phase: float, reach: float) -> tuple[Array, Ints]:
    """Join the stretches [a, b] of neighbouring lines to back-and-forth chains.

    Stretches come sorted by line and a. A chain goes on in the next line with the stretch that begins nearest, if
    the way there is at most `reach` mm. Returns points (p, 2): begin and end of each stretch in the order of
    printing, and where each chain begins (c + 1,), in points.
    """
    n = len(line)
    used = np.zeros(n, np.bool_)
    points = np.empty((2 * n, 2), np.float64)
    begins = np.empty(n + 1, np.int64)
    first = np.empty(n, np.int64)  # first stretch of the line after that of each stretch
    j = 0
    for i in range(n):
        while j < n and line[j] <= line[i]:
            j += 1
        first[i] = j
    p = c = 0
    for s in range(n):
        if used[s]:
            continue
        begins[c] = p
        c += 1
        i, forward = s, True
        while True:
            used[i] = True
            y = (line[i] + phase) * spacing
            points[p, 0], points[p, 1] = (a[i] if forward else b[i]), y
            points[p + 1, 0], points[p + 1, 1] = (b[i] if forward else a[i]), y
            end = points[p + 1, 0]
            p += 2
            best, way = -1, reach
            k = first[i]
            while k < n and line[k] == line[i] + 1 and a[k] <= b[i] + reach:
                if not used[k] and b[k] >= a[i] - reach:
                    near = b[k] if forward else a[k]
                    d = np.sqrt((near - end) ** 2 + spacing**2)
                    if d < way:
                        best, way = k, d
                k += 1
            if best < 0:
                break
            i, forward = best, not forward
    begins[c] = p
    return points, begins[: c + 1]


@njit
def clip_waves(waves: Array, points: Array, start: Ints) -> tuple[Array, Ints]:
    """The stretches of polylines inside closed loops: points of all stretches, and how many each has.

    waves (w, k, 2): each begins and ends outside. Walking along, every crossing of a loop's edge leads in or out; a wave
    that does not come out again (it ran through a corner) is moved by a hair and walked anew.
    """
    m, k = waves.shape[0], waves.shape[1]
    n = len(points)
    near = np.empty(n, np.int64)
    following = np.empty(n, np.int64)
    for g in range(len(start) - 1):
        for i in range(start[g], start[g + 1]):
            following[i] = i + 1 if i + 1 < start[g + 1] else start[g]
    out = np.empty((64 + 8 * m * k, 2))
    counts = np.empty(32 + 4 * m * k, np.int64)
    at = c = 0
    ts = np.empty(1024)
    for w in range(m):
        lo, hi = waves[w, :, 0].min() - 1e-3, waves[w, :, 0].max() + 1e-3
        few = 0
        for i in range(n):
            x0, x1 = points[i, 0], points[following[i], 0]
            if max(x0, x1) >= lo and min(x0, x1) <= hi:
                near[few] = i
                few += 1
        if few == 0:
            continue
        for attempt in range(6):
            shift = attempt * 1.7e-5
            at0, c0 = at, c
            inside = False
            for s in range(k - 1):
                px, py = waves[w, s, 0] + shift, waves[w, s, 1]
                dx, dy = waves[w, s + 1, 0] + shift - px, waves[w, s + 1, 1] - py
                hits = 0
                for q in range(few):
                    i = near[q]
                    ax, ay = points[i, 0] - px, points[i, 1] - py
                    bx, by = points[following[i], 0] - px, points[following[i], 1] - py
                    sa, sb = dx * ay - dy * ax, dx * by - dy * bx
                    if (sa > 0) == (sb > 0):
                        continue
                    f = sa / (sa - sb)
                    hx, hy = ax + f * (bx - ax), ay + f * (by - ay)
                    t = (hx * dx + hy * dy) / (dx * dx + dy * dy)
                    if 0.0 <= t < 1.0 and hits < 1024:
                        ts[hits] = t
                        hits += 1
                ts[:hits].sort()
                if at + 2 * hits + 4 >= len(out) or c + hits + 2 >= len(counts):
                    bigger = np.empty((2 * len(out) + 4 * hits, 2))
                    bigger[:at] = out[:at]
                    out = bigger
                    more = np.empty(2 * len(counts) + 2 * hits, np.int64)
                    more[:c] = counts[:c]
                    counts = more
                if inside and s > 0:
                    out[at, 0], out[at, 1] = px, py
                    at += 1
                    counts[c] += 1
                for h in range(hits):
                    out[at, 0], out[at, 1] = px + ts[h] * dx, py + ts[h] * dy
                    at += 1
                    if inside:
                        counts[c] += 1
                        c += 1
                    else:
                        counts[c] = 1
                    inside = not inside
            if not inside:
                break
            at, c = at0, c0
    return out[:at], counts[:c]


@njit
def _cells(points: Array, low: Array, side: float, across: int, up: int) -> tuple[Ints, Ints]:
    """The cell that each point lies in, along x and y: a square grid of `side` from `low` on."""
    cx = np.empty(len(points), np.int64)
    cy = np.empty(len(points), np.int64)
    for i in range(len(points)):
        cx[i] = min(max(int((points[i, 0] - low[0]) / side), 0), across - 1)
        cy[i] = min(max(int((points[i, 1] - low[1]) / side), 0), up - 1)
    return cx, cy


@njit
def nearest_first(begin: Array, end: Array, either: NDArray[np.bool_]) -> tuple[Ints, NDArray[np.bool_]]:
    """An order that goes from the end of each path to the nearest beginning among those left, and which of them go backwards:
    a path for which `either` holds may begin at its end. (n, 2), (n, 2), (n,). Of two that are as near, the first in the list.

    They are looked for in rings of cells with about one path in each, so that a sheet with thousands of holes takes no time that grows
    with their square."""
    n = len(begin)
    left = np.ones(n, np.bool_)
    order = np.empty(n, np.int64)
    back = np.zeros(n, np.bool_)
    low = np.array([min(begin[:, 0].min(), end[:, 0].min()), min(begin[:, 1].min(), end[:, 1].min())])
    wide = max(begin[:, 0].max(), end[:, 0].max()) - low[0]
    high = max(begin[:, 1].max(), end[:, 1].max()) - low[1]
    side = max(np.sqrt(wide * high / n), max(wide, high) / n, 1e-9)
    across, up = int(wide / side) + 1, int(high / side) + 1
    bx, by = _cells(begin, low, side, across, up)
    ex, ey = _cells(end, low, side, across, up)
    head = np.full(
        (across, up), -1, np.int64
    )  # of a chain in each cell: 2 i for the beginning of path i, 2 i + 1 for its end
    after = np.full(2 * n, -1, np.int64)
    for i in range(n):
        after[2 * i] = head[bx[i], by[i]]
        head[bx[i], by[i]] = 2 * i
        if either[i]:
            after[2 * i + 1] = head[ex[i], ey[i]]
            head[ex[i], ey[i]] = 2 * i + 1
    x, y, cx, cy = begin[0, 0], begin[0, 1], bx[0], by[0]
    for k in range(n):
        best, way = 2 * n, np.inf
        ring = 0
        while ring <= max(across, up) and (ring == 0 or way >= ((ring - 1) * side) ** 2):
            for i in range(max(cx - ring, 0), min(cx + ring, across - 1) + 1):
                whole = i == cx - ring or i == cx + ring
                for j in range(cy - ring, cy + ring + 1, 1 if whole or ring == 0 else 2 * ring):
                    if j < 0 or j >= up:
                        continue
                    before, at = -1, head[i, j]
                    while at >= 0:
                        if left[at // 2]:
                            p = end[at // 2] if at % 2 else begin[at // 2]
                            d = (p[0] - x) ** 2 + (p[1] - y) ** 2
                            if d < way or (d == way and at < best):
                                best, way = at, d
                            before = at
                        elif before < 0:  # what has been drawn leaves its chain
                            head[i, j] = after[at]
                        else:
                            after[before] = after[at]
                        at = after[at]
            ring += 1
        m = best // 2
        order[k], back[k] = m, best % 2 == 1
        left[m] = False
        if back[k]:
            x, y, cx, cy = begin[m, 0], begin[m, 1], bx[m], by[m]
        else:
            x, y, cx, cy = end[m, 0], end[m, 1], ex[m], ey[m]
    return order, back


@njit
def seams(points: Array, start: Ints) -> Ints:
    """The corner of each closed loop that lies furthest to the back left: where its seam goes."""
    out = np.empty(len(start) - 1, np.int64)
    for m in range(len(start) - 1):
        best, most = start[m], -np.inf
        for i in range(start[m], start[m + 1]):
            d = points[i, 1] - points[i, 0]
            if d > most:
                best, most = i, d
        out[m] = best
    return out


@njit
def loop_areas(points: Array, start: Ints) -> Array:
    """Signed area of each closed loop, positive counter-clockwise."""
    out = np.zeros(len(start) - 1)
    for m in range(len(start) - 1):
        for i in range(start[m], start[m + 1]):
            j = i + 1 if i + 1 < start[m + 1] else start[m]
            out[m] += (points[i, 0] * points[j, 1] - points[j, 0] * points[i, 1]) / 2
    return out


@njit
def corner_cap(cosine: float, accel: float, corner: float, shorter: float) -> float:
    """Squared speed allowed where the direction turns (junction deviation; centripetal on short segments).

    cosine: of the angle by which it turns, 1 straight on. t, the inner angle, has sin(t/2) = cos(turn/2).
    """
    half = np.sqrt(min(max((1.0 + cosine) / 2.0, 0.0), 1.0))
    if half > 1.0 - 1e-9:
        return np.inf
    d = corner * corner * (np.sqrt(2.0) - 1.0) / accel
    by_deviation = accel * d * half / (1.0 - half)
    tangent = half / np.sqrt(1.0 - half * half)
    return min(by_deviation, 0.5 * shorter * tangent * accel)


@njit
def junction_speeds(length: Array, speed: Array, accel: Array, cap: Array) -> tuple[Array, Array]:
    """Speeds at the joints and seconds of each segment, by one pass forward and one back (the scalar planner).

    length, speed, accel (n,); cap (n + 1,): squared speed limits at the joints.
    """
    n = len(length)
    v2 = cap.copy()
    for i in range(n):
        v2[i + 1] = min(v2[i + 1], v2[i] + 2.0 * accel[i] * length[i])
    for k in range(n):
        i = n - 1 - k
        v2[i] = min(v2[i], v2[i + 1] + 2.0 * accel[i] * length[i])
    t = np.empty(n, np.float64)
    for i in range(n):
        a, v, v0, v1 = accel[i], speed[i], np.sqrt(v2[i]), np.sqrt(v2[i + 1])
        top = np.sqrt(a * length[i] + (v2[i] + v2[i + 1]) / 2.0)
        if top >= v:
            t[i] = length[i] / v + ((v - v0) ** 2 + (v - v1) ** 2) / (2.0 * a * v)
        else:
            t[i] = (2.0 * top - v0 - v1) / a
    return v2, t


@njit
def drive(
    points: Array,
    start: Ints,
    kind: Ints,
    linked: Ints,
    flow: Array,
    speed: Array,
    accel: Array,
    most_speed: float,
    corner: float,
    travel: int,
    far: float,
    retract_s: float,
) -> tuple[Array, Array, Array, float, int]:
    """Drive along paths in their order, with travel moves between them.

    start (m + 1,): where each path begins in points; kind (m,): its feature; linked (m,): 1 where every second segment
    only leads over to the next line; flow (m,): what a path lays down against a full bead. speed, accel by kind, `travel`
    being the kind of travel moves; `most_speed`: at which a full bead takes all that the hot end melts, a wider one goes slower.
    A travel longer than `far` is made with a retraction of `retract_s` seconds, at rest before and after.
    Returns seconds and extruded mm of full bead by kind, seconds of each path (its way there not counted), travel mm, retractions.
    """
    m = len(kind)
    size = len(points) + m
    length = np.empty(size)
    v = np.empty(size)
    a = np.empty(size)
    what = np.empty(size, np.int64)
    owner = np.empty(size, np.int64)
    cap = np.zeros(size + 1)
    seconds = np.zeros(len(speed))
    mm = np.zeros(len(speed))
    by_path = np.zeros(m)
    way = 0.0
    retractions = 0
    n = 0
    px, py = points[start[0], 0], points[start[0], 1]
    ux, uy, rest = 0.0, 0.0, True
    for k in range(m):
        for i in range(start[k], start[k + 1]):
            x, y = points[i, 0], points[i, 1]
            going = i == start[k]  # the way to the path
            dx, dy = x - px, y - py
            s = np.sqrt(dx * dx + dy * dy)
            if s < EPS:
                continue
            long = going and s > far
            if long:
                retractions += 1
                rest = True
            ux1, uy1 = dx / s, dy / s
            f = travel if going else kind[k]
            fast = speed[f] if going else min(speed[f], most_speed / max(flow[k], EPS))
            if rest:
                cap[n] = 0.0
            else:
                limit = corner_cap(ux * ux1 + uy * uy1, min(a[n - 1], accel[f]), corner, min(length[n - 1], s))
                cap[n] = min(limit, min(v[n - 1], fast) ** 2)
            length[n], v[n], a[n], what[n] = s, fast, accel[f], f
            owner[n] = -1 if going else k
            if going:
                way += s
            elif linked[k] == 0 or (i - start[k]) % 2 == 1:
                mm[f] += s * flow[k]
            n += 1
            ux, uy, rest = ux1, uy1, long
            px, py = x, y
    cap[n] = 0.0
    _, t = junction_speeds(length[:n], v[:n], a[:n], cap[: n + 1])
    for i in range(n):
        seconds[what[i]] += t[i]
        if owner[i] >= 0:
            by_path[owner[i]] += t[i]
    seconds[travel] += retractions * retract_s
    return seconds, mm, by_path, way, retractions


@njit
def drive_loops(points: Array, start: Ints, speed: float, accel: float, corner: float) -> tuple[float, float]:
    """Seconds and mm of closed loops, each begun and ended at rest, in no order and without the ways between."""
    n = len(points)
    length = np.empty(n)
    cap = np.zeros(n + 1)
    for m in range(len(start) - 1):
        ux, uy, before = 0.0, 0.0, 0.0
        for i in range(start[m], start[m + 1]):
            j = i + 1 if i + 1 < start[m + 1] else start[m]
            dx, dy = points[j, 0] - points[i, 0], points[j, 1] - points[i, 1]
            s = max(np.sqrt(dx * dx + dy * dy), EPS)
            if i > start[m]:
                limit = corner_cap((ux * dx + uy * dy) / s, accel, corner, min(before, s))
                cap[i] = min(limit, speed * speed)
            length[i] = s
            ux, uy, before = dx / s, dy / s, s
    _, t = junction_speeds(length, np.full(n, speed), np.full(n, accel), cap)
    return t.sum(), length.sum()
