"""One layer as paths: perimeters, solid layers, bridges, infill, support, brim, in the order of printing."""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, radians, sin, sqrt

import numpy as np
from manifold3d import CrossSection, JoinType
from numpy.typing import NDArray

from rhombex.core.process.bridges import best_bridge
from rhombex.core.process.islands import MITER, flat_loops, loops_of, whole
from rhombex.core.process.kernels import chains, clip_waves, crossings, drive, loop_areas, nearest_first, seams
from rhombex.core.process.settings import Kind, Settings
from rhombex.core.process.slices import Slices
from rhombex.core.process.thin import Lines

Array = NDArray[np.float64]
Ints = NDArray[np.int64]
LINKED_REACH = 4.0  # spacings over which the next line is gone to without a travel of its own
JOINED_REACH = 2.0  # spacings over which ends are joined: at walls up to 60 degrees off square to the lines
SORT_MOST = 6000  # more paths than this are printed in the order they come


@dataclass(frozen=True)
class Paths:
    """Paths one after another: points (n, 2), where each begins (m + 1,), its kind, whether every second segment of
    it only leads over (1) or all extrude (0), and what it lays down against a full bead."""

    points: Array
    start: Ints
    kind: Ints
    linked: Ints
    flow: Array

    def __len__(self) -> int:
        return len(self.kind)


@dataclass(frozen=True)
class LayerWork:
    """What a layer takes: seconds and mm of full bead by `Kind` (WAIT not yet known), travel mm, retractions."""

    seconds: Array
    mm: Array
    travel_mm: float
    retractions: int


class _Gather:
    def __init__(self) -> None:
        self.points: list[Array] = []
        self.counts: list[Ints] = []
        self.kind: list[Ints] = []
        self.linked: list[Ints] = []
        self.flow: list[Array] = []

    def add(self, points: Array, counts: Ints, kind: Kind, linked: bool, flow: Array | None = None) -> None:
        if len(counts):
            self.points.append(points)
            self.counts.append(counts)
            self.kind.append(np.full(len(counts), int(kind), np.int64))
            self.linked.append(np.full(len(counts), int(linked), np.int64))
            self.flow.append(np.ones(len(counts)) if flow is None else flow)

    def loops(self, points: Array, start: Ints, kind: Kind) -> bool:
        """Closed loops, begun and ended at the seam. False where there are none."""
        counts = np.diff(start)
        if len(points) == 0:
            return False
        seam = seams(points, start)
        owner = np.repeat(np.arange(len(counts)), counts + 1)
        step = _within(counts + 1)
        index = start[:-1][owner] + (seam[owner] - start[:-1][owner] + step) % counts[owner]
        self.add(points[index], counts + 1, kind, False)
        return True

    def hatched(self, region: CrossSection, spacing: float, deg: float, kind: Kind, s: Settings) -> None:
        """Parallel lines. Where their ends are joined along the wall the lines are half a line shorter at each end: what
        joins them fills that."""
        if s.lines_joined:
            region = region.offset(-s.spacing_mm / 2, JoinType.Miter, MITER)
        reach = (JOINED_REACH if s.lines_joined else LINKED_REACH) * spacing
        self.add(*hatch(region, spacing, deg, reach), kind, not s.lines_joined)

    def sorted(self) -> Paths:
        """Kinds in their order, paths of a kind each to the nearest next; those that are no loops begin at either end."""
        none = np.zeros(0, np.int64)
        if not self.kind:
            return Paths(np.zeros((0, 2)), np.zeros(1, np.int64), none, none, np.zeros(0))
        points, counts = np.concatenate(self.points), np.concatenate(self.counts)
        kind, linked, flow = np.concatenate(self.kind), np.concatenate(self.linked), np.concatenate(self.flow)
        start = np.concatenate([[0], np.cumsum(counts)]).astype(np.int64)
        begin, end = points[start[:-1]], points[start[1:] - 1]
        open_ended = (begin != end).any(axis=1)
        # perimeters go together, so that a hole is finished before the next one is begun
        group = np.where(kind <= Kind.INNER, 0, kind)
        order: list[Ints] = []
        backwards: list[NDArray[np.bool_]] = []
        for g in (Kind.BRIM, Kind.SUPPORT, 0, Kind.SOLID, Kind.BRIDGE, Kind.SPARSE):
            mine = np.flatnonzero(group == g)
            if len(mine) == 0:
                continue
            back = np.zeros(len(mine), np.bool_)
            if 1 < len(mine) <= SORT_MOST:
                found, back = nearest_first(begin[mine], end[mine], open_ended[mine])
                mine = mine[found]
            order.append(mine)
            backwards.append(back)
        o, turned = np.concatenate(order), np.repeat(np.concatenate(backwards), counts[np.concatenate(order)])
        step, last = _within(counts[o]), np.repeat(counts[o] - 1, counts[o])
        where = np.repeat(start[o], counts[o]) + np.where(turned, last - step, step)
        starts = np.concatenate([[0], np.cumsum(counts[o])]).astype(np.int64)
        return Paths(points[where], starts, kind[o], linked[o], flow[o])


def _within(counts: Ints) -> Ints:
    """0, 1, 2 ... within each of the groups of so many."""
    ends = np.cumsum(counts)
    out: Ints = np.arange(int(ends[-1]) if len(ends) else 0) - np.repeat(ends - counts, counts)
    return out


def next_in_loop(start: Ints) -> Ints:
    """The index of the next point round each loop."""
    out: Ints = np.arange(1, int(start[-1]) + 1)
    out[start[1:] - 1] = start[:-1]
    return out


def _turned(p: Array, deg: float) -> Array:
    c, s = cos(radians(deg)), sin(radians(deg))
    out: Array = p @ np.array([[c, s], [-s, c]])
    return out


def hatch(region: CrossSection, spacing: float, deg: float, reach: float | None = None) -> tuple[Array, Ints]:
    """Parallel lines over a region, joined back and forth: points and how many each chain has.

    deg is the direction of the lines; they lie on a grid through the origin, so that layers alike are filled alike. A line
    goes on in the next one where that begins within `reach` mm (four spacings if none is given).
    """
    points, start = flat_loops(region)
    if len(points) == 0:
        return points, np.zeros(0, np.int64)
    flat = _turned(points, -deg)
    line, x = crossings(flat, start, spacing, 0.5)
    if len(line) < 2:
        return np.zeros((0, 2)), np.zeros(0, np.int64)
    order = np.lexsort((x, line))
    line, x = line[order], x[order]
    a, b, k = x[0::2], x[1::2], line[0::2]
    keep = b - a > 1e-6
    out, begins = chains(k[keep], a[keep], b[keep], spacing, 0.5, reach or LINKED_REACH * spacing)
    return _turned(out, deg), np.diff(begins)


def honeycomb_side(spacing: float, width: float) -> float:
    """Side a of the hexagons whose walls are as much line as straight ones `spacing` apart.

    A wave goes up a, over, up a and back: 2 a + 2 slants of line over an area of sqrt(3)/2 a x 3 a, the slants shorter
    by a line width because the doubled uprights of neighbouring waves stand side by side.
    """
    a = spacing
    for _ in range(40):
        slant = sqrt(max(sqrt(3) / 2 * a - width, 0.0) ** 2 + a * a / 4)
        a = spacing * (2 * a + 2 * slant) / (1.5 * sqrt(3) * a)
    return a


def _honeycomb(region: CrossSection, spacing: float, width: float) -> tuple[Array, Ints]:
    """Hexagon walls as standing waves side by side, clipped to a region: uprights are printed twice, slants once."""
    x0, y0, x1, y1 = region.bounds()
    a = honeycomb_side(spacing, width)
    pitch = a * sqrt(3) / 2
    turns = np.arange(int(np.floor(y0 / (3 * a))) - 1, int(np.ceil(y1 / (3 * a))) + 2)
    heights = (turns[:, None] * 3 * a + np.array([-a / 2, a / 2, a, 2 * a])).reshape(-1)
    side = np.tile([0.0, 0.0, 1.0, 1.0], len(turns))
    columns = np.arange(int(np.floor(x0 / pitch)) - 1, int(np.ceil(x1 / pitch)) + 1)
    other = np.where(columns[:, None] % 2 == 0, side, 1 - side)
    x = columns[:, None] * pitch + width / 2 + other * (pitch - width)
    waves = np.stack([x, np.broadcast_to(heights, x.shape)], axis=2)
    points, start = flat_loops(region)
    out, counts = clip_waves(np.ascontiguousarray(waves), points, start)
    return out, counts


def _fill(g: _Gather, region: CrossSection, s: Settings, j: int) -> None:
    if region.is_empty():
        return
    spacing = s.spacing_mm / s.infill
    if s.infill_kind == "honeycomb" and s.infill < 0.95:
        g.add(*_honeycomb(region, spacing, s.width_mm), Kind.SPARSE, False)
        return
    turns = {
        "lines": [45.0 if j % 2 else 135.0],
        "grid": [45.0, 135.0],
        "triangles": [0.0, 60.0, 120.0],
        "honeycomb": [45.0 if j % 2 else 135.0],
    }[s.infill_kind]
    for deg in turns:
        g.hatched(region, spacing * len(turns), deg, Kind.SPARSE, s)


def outer_loops(region: CrossSection) -> CrossSection:
    """A region with its holes filled."""
    points, start = flat_loops(region)
    if len(points) == 0:
        return region
    solid = np.flatnonzero(loop_areas(points, start) > 0)
    return CrossSection([points[start[k] : start[k + 1]] for k in solid])


def hole_loops(region: CrossSection) -> CrossSection:
    """The holes of a region, filled: where a brim inside the outline goes."""
    return outer_loops(region) - region


def lay_out(slices: Slices, j: int) -> Paths:
    """The paths of layer j in their order."""
    s = slices.s
    here = slices.section(j)
    g = _Gather()
    w, space = s.width_mm, s.spacing_mm
    if j == 0 and s.brim_mm > 0:
        foot = hole_loops(here) if s.brim_inside else outer_loops(here)
        for k in range(max(1, round(s.brim_mm / space))):
            out = w / 2 + k * space
            grown = foot.offset(-out if s.brim_inside else out, JoinType.Miter, MITER)
            g.loops(*flat_loops(grown), Kind.BRIM)
    walls = slices.walls(j)
    for i in range(s.perimeters + 1):
        kind = Kind.OUTER if i == 0 else Kind.INNER
        g.loops(*loops_of([(x.loops[i], moves) for x, moves in walls if i < len(x.loops)]), kind)
        for x, moves in walls:
            for lines in (lines for k, lines in x.thin if k == i):
                _thin(g, lines, moves, space, kind)
    inner = whole([(x.inner, moves) for x, moves in walls if not x.inner.is_empty()])
    if not inner.is_empty():
        covered = slices.covered(j, (w + space) / 2 + (s.perimeters - 1) * space)
        solid = inner if covered.is_empty() else inner - covered
        if s.infill >= 0.95:
            solid = inner
        bridge = CrossSection()
        if j > 0 and not solid.is_empty() and slices.run[j] != slices.run[j - 1]:
            hanging = solid - slices.section(j - 1).offset(-w, JoinType.Miter, MITER)
            bridge = hanging.offset(-w, JoinType.Miter, MITER).offset(w, JoinType.Miter, MITER) ^ solid
            if not bridge.is_empty():
                solid = solid - bridge
        g.hatched(solid, space, 45.0 if j % 2 else 135.0, Kind.SOLID, s)
        if not bridge.is_empty():
            for piece in bridge.decompose():
                span, degrees = best_bridge(piece, slices.section(j - 1))
                if span == float("inf"):  # held at one side only: across its narrow way
                    x0, y0, x1, y1 = piece.bounds()
                    degrees = 0.0 if x1 - x0 < y1 - y0 else 90.0
                g.add(*hatch(piece, space, degrees), Kind.BRIDGE, True)
        if 0.0 < s.infill < 0.95 and not covered.is_empty():
            _fill(g, inner ^ covered, s, j)
    if s.supports:
        g.add(*hatch(slices.support_area(j), space / s.support_density, 0.0), Kind.SUPPORT, True)
    return g.sorted()


def _thin(g: _Gather, lines: Lines, moves: Array, space: float, kind: Kind) -> None:
    """Lines of their own width, in all places of their shape."""
    if not len(lines.counts):
        return
    n = len(moves)
    points = (lines.points[None] + moves[:, None]).reshape(-1, 2)
    g.add(points, np.tile(lines.counts, n), kind, False, np.tile(lines.mm2 / (lines.lengths() * space), n))


def work_of(paths: Paths, s: Settings, first: bool) -> tuple[LayerWork, Array]:
    """Drive along a layer's paths. Also the seconds of each path, for drawing."""
    if len(paths) == 0:
        none = np.zeros(len(Kind))
        return LayerWork(none, none.copy(), 0.0, 0), np.zeros(0)
    seconds, mm, by_path, way, retractions = drive(
        paths.points,
        paths.start,
        paths.kind,
        paths.linked,
        paths.flow,
        np.array(s.first_speed if first else s.speed),
        np.array(s.accel),
        s.flow / s.bead_mm2(first),
        s.corner,
        int(Kind.TRAVEL),
        s.far_mm,
        s.retract_s,
    )
    return LayerWork(seconds, mm, way, retractions), by_path
