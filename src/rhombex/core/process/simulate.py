"""Seconds and millimetres of all layers, at three levels.

*exact* lays out and drives every layer: the yardstick. *settled* does so at sampled layers and uses the preview as control
variate for those between. *preview* lays nothing out: integrals over the mesh for all layers, corrected by the outlines of
a few. A layer's work is one row: seconds by kind, extruded mm by kind, travel mm, retractions.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from heapq import heappop, heappush
from typing import NamedTuple

import numpy as np
from manifold3d import CrossSection
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.geometry.sections import integrals_of
from rhombex.core.memo import Memo
from rhombex.core.process.islands import flat_loops, outline_mm
from rhombex.core.process.kernels import corner_cap, drive_loops, loop_areas
from rhombex.core.process.layout import (
    LayerWork,
    hole_loops,
    honeycomb_side,
    lay_out,
    next_in_loop,
    outer_loops,
    work_of,
)
from rhombex.core.process.settings import EXTRUDED, Kind, Settings
from rhombex.core.process.slices import NUDGE_MM, Slices
from rhombex.core.process.thin import bands
from rhombex.core.progress import Progress, between_steps, silent

Array = NDArray[np.float64]
K = len(Kind)
WIDTH = 2 * K + 2  # columns of a row
TRAVEL_MM, RETRACTIONS = 2 * K, 2 * K + 1


def row_of(w: LayerWork) -> Array:
    return np.concatenate([w.seconds, w.mm, [w.travel_mm, w.retractions]])


def exact_row(slices: Slices, j: int) -> Array:
    return row_of(work_of(lay_out(slices, j), slices.s, j == 0)[0])


def exact(slices: Slices, progress: Progress = silent) -> Array:
    """Rows of all layers, each laid out; equal layers share one laying out. progress may raise Stopped."""
    rows = np.empty((slices.n, WIDTH))
    known: dict[tuple[object, ...], Array] = {}
    for j in range(slices.n):
        key = slices.alike(j)
        found = known.get(key)
        if found is None:
            progress(j / slices.n, f"layer {j + 1} of {slices.n}")
            found = known[key] = exact_row(slices, j)
        rows[j] = found
    return rows


# preview


def _exposed(slices: Slices) -> tuple[Array, Array]:
    """Projected area (mm2) in each layer that must be solid: under upward faces within `top` layers, over downward ones
    within `bottom`. Steep faces, whose strip the perimeters cover, count less. Of it, that under slopes: bands along the
    outline, which a hatch crosses twice."""
    s, f = slices.s, slices.faces
    band, z = s.perimeters * s.spacing_mm, slices.z + NUDGE_MM
    out, bands = np.zeros(slices.n), np.zeros(slices.n)
    for up, reach in ((True, s.top), (False, s.bottom)):
        if reach:
            _solid_near(f.normal, f.lo, f.hi, z, up, reach, reach * s.layer_mm, band, out, bands)
    return out, np.where(bands > NO_BAND_MM2, bands, 0.0)


LEAST_CHORD_MM = 0.8  # of support: shorter lines are left out where it is laid
LINES_OF_A_PATCH = 10  # of support, before a way to the next one: the middle of sixteen odd parts
THIN_ISLAND_MM = 8.0  # mean thickness of islands up to which the way between their loops is short
SLOPED = 0.03  # tangent; a face that leans more has its solid band along the outline
NO_BAND_MM2 = 1e-3


@njit
def _solid_near(
    normal: Array,
    lo: Array,
    hi: Array,
    z: Array,
    up: bool,
    reach: int,
    deep: float,
    band: float,
    out: Array,
    bands: Array,
) -> None:
    """Add to each layer what `_exposed` tells of faces that look up, or down: of those within `reach` layers, `deep` mm."""
    n = len(z)
    # area below the middle of each layer, spread evenly over the height of its face: by where faces begin and where they end
    slope, offset = np.zeros((2, n + 1)), np.zeros((2, n + 1))
    whole = np.zeros(2)
    for t in range(len(normal)):
        nz = normal[t, 2]
        if abs(nz) <= 1e-9 or (nz > 0) != up:
            continue
        level = np.hypot(normal[t, 0], normal[t, 1]) / abs(nz)  # tangent of the slope
        counted = abs(nz) / 2 * min(max(1 - band / (deep / max(level, 1e-9)), 0.0), 1.0)
        if counted == 0.0:
            continue
        a = lo[t]
        b = max(hi[t], a + 1e-6)
        i, k = np.searchsorted(z, a), np.searchsorted(z, b)
        density = counted / (b - a)
        for banded in range(2 if level > SLOPED else 1):
            slope[banded, i] += density
            offset[banded, i] -= density * a
            slope[banded, k] -= density
            offset[banded, k] += density * b
            whole[banded] += counted
    for banded in range(2):
        total = out if banded == 0 else bands
        below = np.cumsum(slope[banded, :n]) * z + np.cumsum(offset[banded, :n])
        for j in range(n):
            if up:
                near = (below[j + reach] if j + reach < n else whole[banded]) - below[j]
            else:
                near = below[j] - (below[j - reach] if j >= reach else 0.0)
            total[j] += max(near, 0.0)


class Integrals(NamedTuple):
    """Of every layer, without polygons: section area mm2, outline mm, the share of the area that is solid; of the solid, the
    share in bands under slopes; of the outline, the share that slopes."""

    area: Array
    outline: Array
    share: Array
    banded: Array
    sloping: Array

    def crossed(self, j: int | slice, part: Array | float) -> Array:
        """How often a hatch over `part` of layer j goes over it, against one over all. Lines meet a band along the outline
        wherever the outline slopes: all round they cross both sides, but for those that only touch it (a ring of outer radius R
        and width w: 2 - w / R times)."""
        bands = part * self.banded[j]
        ring = self.sloping[j] * (1 + np.sqrt(np.maximum(0.0, 1 - bands)))
        return np.asarray(part - bands + np.where(bands > 0, np.maximum(ring, bands), 0.0))


def integrals(slices: Slices) -> Integrals:
    area, outline = slices.integrals
    solid, bands = _exposed(slices)
    f = slices.faces
    lean = np.hypot(f.normal[:, 0], f.normal[:, 1]) / np.maximum(np.abs(f.normal[:, 2]), 1e-9)
    reach = np.where(f.normal[:, 2] > 0, slices.s.top, slices.s.bottom) * slices.s.layer_mm
    wide = (lean > SLOPED) & (reach > lean * slices.s.perimeters * slices.s.spacing_mm)
    sloped = integrals_of(f.verts, f.tri[wide], slices.z + NUDGE_MM)[1] if wide.any() else np.zeros(slices.n)
    return Integrals(
        area,
        outline,
        np.clip(solid / np.maximum(area, 1e-6), 0.0, 1.0),
        np.clip(bands / np.maximum(solid, 1e-9), 0.0, 1.0),
        np.clip(sloped / np.maximum(outline, 1e-9), 0.0, 1.0),
    )


def rough(slices: Slices, of: Integrals) -> Array:
    """A row for every layer from its integrals alone: what the better levels correct."""
    s = slices.s
    area, outline, share = of.area, of.outline, of.share
    v = np.array(s.speed)
    rows = np.zeros((slices.n, WIDTH))
    mm = rows[:, K : 2 * K]
    # where a section is too thin for all its perimeters they fill it and no more
    mm[:, Kind.OUTER] = np.minimum(outline, area / s.spacing_mm)
    mm[:, Kind.INNER] = np.minimum(outline * (s.perimeters - 1), area / s.spacing_mm - mm[:, Kind.OUTER])
    inner = np.maximum(area - outline * s.perimeters * s.spacing_mm, 0.0)
    solid = inner if s.infill >= 0.95 else inner * share
    mm[:, Kind.SOLID] = solid / s.spacing_mm
    mm[:, Kind.SPARSE] = (inner - solid) * s.infill / s.spacing_mm
    mm[0, Kind.BRIM] = outline[0] * round(s.brim_mm / s.spacing_mm)
    rows[:, :K] = mm / v
    if s.infill < 0.95:
        accel = s.accel[Kind.SOLID]
        turn = min(corner_cap(0.0, accel, s.corner, s.spacing_mm) ** 0.5, v[Kind.SOLID])
        # the mean width of a region across any direction is its outline over pi (Cauchy)
        lines = np.maximum(1.0, of.crossed(slice(None), share) * outline / np.pi / s.spacing_mm)
        there = solid > 1e-6
        step = _trapezoids(mm[:, Kind.SOLID] / lines, v[Kind.SOLID], turn, accel)
        step += _trapezoid(s.spacing_mm, v[Kind.SOLID], turn, accel)
        rows[there, Kind.SOLID] = (lines * step)[there]
    rows[0, :K] = mm[0] / np.array(s.first_speed)
    return rows


@dataclass(frozen=True)
class _Rings:
    """The perimeters of a section and what they leave inside. Seconds at the speed of later layers."""

    seconds: tuple[float, float]
    mm: tuple[float, float]
    loops: int
    islands: int
    room_mm2: float
    area: float
    inner_mm2: float
    inner_across: float
    inner_loops: int


def _rings(slices: Slices, j: int, how: tuple[object, ...]) -> _Rings:
    here = slices.section(j)
    x0, y0, x1, y1 = here.bounds()
    total = np.zeros(8)
    for shape, moves in slices.islands(j).shapes:
        # islands that go on through many layers, or are there again once others have moved, are driven round once
        for island in shape.decompose() if shape.num_contour() > 1 else [shape]:
            key = (how, round(island.area(), 3), round(outline_mm(island), 3))
            total += _known_islands.make(key, partial(_island, island, slices.s)) * len(moves)
    outer_s, inner_s, outer_mm, inner_mm, loops, across, inner_mm2, inner_loops = total.tolist()
    return _Rings(
        (outer_s, inner_s),
        (outer_mm, inner_mm),
        round(loops),
        int((loop_areas(*flat_loops(here)) > 0).sum()),
        (x1 - x0) * (y1 - y0),
        here.area(),
        inner_mm2,
        across,
        round(inner_loops),
    )


def _island(shape: CrossSection, s: Settings) -> Array:
    """Of the perimeters of a region: seconds of outer and inner ones, their mm, how many; of what they leave inside: how far it goes across, both ways along a
    hatch of 45 degrees, its mm2 and its loops."""
    seconds, mm = [0.0, 0.0], [0.0, 0.0]
    loops, inner = 0, (0.0, 0.0, 0)
    for i, (left, rest, lines) in enumerate(bands(shape, s)):
        if lines is not None:
            kind = Kind.OUTER if i == 0 else Kind.INNER
            v, a = s.speed[kind], s.accel[kind]
            seconds[min(i, 1)] += float(_trapezoids(lines.lengths(), v, 0.0, a).sum())
            mm[min(i, 1)] += float(lines.mm2.sum()) / s.spacing_mm
            loops += len(lines.counts)
        points, start = flat_loops(rest)
        # a line is as long as its two edges on average, and the inset that would tell it apart takes as long again
        for k, edge in ((i - 1, left), (i, rest)):
            if not 0 <= k < s.perimeters or edge.is_empty():
                continue
            kind = Kind.OUTER if k == 0 else Kind.INNER
            path = (points, start) if edge is rest or left is rest else flat_loops(edge)
            t, length = drive_loops(*path, s.speed[kind], s.accel[kind], s.corner)
            seconds[min(k, 1)] += t / 2
            mm[min(k, 1)] += length / 2
        if i < s.perimeters:
            loops += len(start) - 1
    if len(points):
        d = points[next_in_loop(start)] - points
        inner = float(np.abs(d[:, 0] - d[:, 1]).sum()) / 2**0.5, rest.area(), len(start) - 1
    return np.array([*seconds, *mm, loops, *inner])


def _trapezoids(length: Array, v: float, end: float, accel: float) -> Array:
    """As `_trapezoid`, of many lengths."""
    top = np.sqrt(accel * length + end * end)
    out: Array = np.where(top >= v, length / v + (v - end) ** 2 / (accel * v), 2 * (top - end) / accel)
    return out


def _trapezoid(length: float, v: float, end: float, accel: float) -> float:
    """Seconds over a length that begins and ends at speed `end`, at most v."""
    top = (accel * length + end * end) ** 0.5
    return length / v + (v - end) ** 2 / (accel * v) if top >= v else 2 * (top - end) / accel


_known_rings: Memo[tuple[object, ...], _Rings] = Memo(4000)
_known_islands: Memo[tuple[object, ...], Array] = Memo(8000)


def _rings_known(slices: Slices, j: int, area: float, outline: float) -> _Rings:
    """Perimeters of a section, remembered by its area and outline: a boss that only moved leaves both as they were. Two
    sections that differ but agree in both to a thousandth are taken for one; the preview is approximate."""
    s = slices.s
    how = (s.width_mm, s.spacing_mm, s.perimeters, s.speed[:2], s.accel[0], s.corner)
    return _known_rings.make((how, round(area, 3), round(outline, 3)), lambda: _rings(slices, j, how))


def rough_seconds(slices: Slices) -> float:
    """Seconds from the integrals alone, without corners and travel: enough to rank ways to print one part."""
    return float(rough(slices, integrals(slices))[:, :K].sum()) + slices.n * slices.s.layer_change_s


def _outline_row(slices: Slices, j: int, of: Integrals) -> Array:
    """A row from the outlines of one layer: loops driven in no order, hatch by closed forms."""
    s = slices.s
    v = s.first_speed if j == 0 else s.speed
    accel = s.accel[Kind.OUTER]
    row = np.zeros(WIDTH)
    seconds, mm = row[:K], row[K : 2 * K]
    r = _rings_known(slices, j, float(of.area[j]), float(of.outline[j]))
    if r.loops == 0:
        return row
    for i, kind in enumerate((Kind.OUTER, Kind.INNER)):
        seconds[kind] = r.seconds[i] * s.speed[kind] / v[kind]
        mm[kind] = r.mm[i]
    # of the hidden inside only what is no surface: surfaces over perimeters ask for no solid layer
    open_mm2 = min(float(of.share[j]) * r.area, r.inner_mm2)
    solid = r.inner_mm2 if s.infill >= 0.95 else open_mm2
    chains = 0.0
    for kind, filled, spacing in (
        (Kind.SOLID, solid, s.spacing_mm),
        (Kind.SPARSE, r.inner_mm2 - solid, s.spacing_mm / s.infill if s.infill else 0.0),
    ):
        if filled <= 1e-6 or spacing <= 0:
            continue
        part = filled / r.inner_mm2
        length = filled / spacing
        if kind == Kind.SPARSE and s.infill_kind == "honeycomb":
            side = honeycomb_side(spacing, s.width_mm)
            turn = corner_cap(0.5, accel, s.corner, side) ** 0.5
            seconds[kind] += length / side * _trapezoid(side, v[kind], min(turn, v[kind]), accel)
            chains += part * r.inner_across / 2 / (side * 3**0.5 / 2)
        else:
            ways = {"grid": 2, "triangles": 3}.get(s.infill_kind, 1) if kind == Kind.SPARSE else 1
            over = float(of.crossed(j, part)) if kind == Kind.SOLID and s.infill < 0.95 else part
            lines = max(1.0, over * r.inner_across / 2 / spacing)
            turn = min(corner_cap(0.0, accel, s.corner, spacing * ways) ** 0.5, v[kind])
            seconds[kind] += lines * (
                _trapezoid(length / lines, v[kind], turn, accel) + _trapezoid(spacing * ways, v[kind], turn, accel)
            )
            chains += ways * r.inner_loops
        mm[kind] += length
    # travel: a way to each group of loops and to each chain, about as long as they lie apart
    a, top = s.accel[Kind.TRAVEL], v[Kind.TRAVEL]
    # the loops of a thin island are near one another
    thin = r.islands > 1 and 2 * float(of.area[j]) / max(float(of.outline[j]), 1e-9) < THIN_ISLAND_MM
    groups = r.islands if thin else r.loops / max(1, s.perimeters)
    apart = min((r.room_mm2 / max(1.0, groups)) ** 0.5, 60.0) * 0.7
    # chains beyond one to each island and direction begin where another ends
    far = groups + min(chains, 3.0 * r.inner_loops) if apart > s.far_mm else 0.0
    near = max(0.0, r.loops + chains - far)
    seconds[Kind.TRAVEL] = far * (_trapezoid(apart, top, 0.0, a) + s.retract_s) + near * _trapezoid(
        s.spacing_mm, top, 0.0, a
    )
    row[TRAVEL_MM], row[RETRACTIONS] = far * apart, far
    if j == 0 and s.brim_mm > 0:
        foot = slices.section(0)
        foot_mm = outline_mm(hole_loops(foot) if s.brim_inside else outer_loops(foot))
        turn = -np.pi if s.brim_inside else np.pi
        mm[Kind.BRIM] = max(1, round(s.brim_mm / s.spacing_mm)) * max(0.0, foot_mm + turn * s.brim_mm)
        seconds[Kind.BRIM] = mm[Kind.BRIM] / v[Kind.BRIM]
    return row


def _supported_mm2(slices: Slices) -> Array:
    """Area under support in each layer, from the top down: downward faces that lean out too far begin it, and of what stands over the free part of a layer
    as much ends there as looks up there; it fills no more than the part's shadow leaves beside the layer."""
    f, n = slices.faces, slices.n
    hang, up = slices.hanging(), f.normal[:, 2] > 0
    if not hang.any():
        return np.zeros(n)
    at = np.clip(np.searchsorted(slices.bounds, (f.lo + f.hi) / 2) - 1, 0, n - 1)
    begins = np.bincount(at[hang], -f.normal[hang, 2] / 2, n)
    ends = np.bincount(at[up], f.normal[up, 2] / 2, n)
    free = np.maximum(slices.mesh.project().area() - slices.integrals[0], 0.0)
    out = np.zeros(n)
    under = 0.0
    for j in range(int(np.flatnonzero(begins).max(initial=0)), -1, -1):
        blocked = min(1.0, ends[j] / max(free[min(j + 1, n - 1)], 1e-6))
        out[j] = under = min(under * (1 - blocked), free[j])
        under += begins[j]
    return out


def _chord_mm(slices: Slices) -> float:
    """How long a line under what hangs is, in the middle of all: of regions seen from above their area times pi over their outline (Cauchy)."""
    f = slices.faces
    hang = slices.hanging()
    tri, v = f.tri[hang], f.verts
    edges = np.sort(np.concatenate([tri[:, [0, 1]], tri[:, [1, 2]], tri[:, [2, 0]]]), axis=1).astype(np.int64)
    one, times = np.unique(edges[:, 0] * len(v) + edges[:, 1], return_counts=True)
    a, b = np.divmod(one[times == 1], len(v))  # edges of one hanging face alone bound a region
    outline = float(np.hypot(*(v[a, :2] - v[b, :2]).T).sum())
    return float(-f.normal[hang, 2].sum()) / 2 * np.pi / max(outline, 1e-9)


def _stretches(area: Array, outline: Array, share: Array, alone: bool) -> list[tuple[int, int]]:
    """Ranges of layers [a, b) in which sections change gently; `alone`: a layer that reaches well over the one below is one."""

    def jump(x: Array, floor: float) -> NDArray[np.bool_]:
        return np.abs(np.diff(x)) > 0.06 * np.maximum(np.maximum(x[1:], x[:-1]), floor)

    cut = jump(area, 1.0) | jump(outline, 1.0) | (np.abs(np.diff(share)) > 0.08)
    cut[:1] = True  # the first layer is one by itself
    if alone:  # what begins over nothing is laid over it once: bridges
        grown = np.diff(area) > 0.06 * np.maximum(area[1:], 1.0)
        cut[1:] |= grown[:-1]
    edges = np.concatenate([[0], np.flatnonzero(cut) + 1, [len(area)]])
    return [(int(a), int(b)) for a, b in itertools.pairwise(edges) if b > a]


class _Sampled:
    """Rows known at some layers, and those between by the base rows plus what the known ones differ from theirs."""

    def __init__(self, base: Array, measure: Callable[[int], Array]) -> None:
        self.base = base
        self.measure = measure
        self.known: dict[int, Array] = {}

    def at(self, j: int) -> Array:
        if j not in self.known:
            between_steps()
            self.known[j] = self.measure(j)
        return self.known[j]

    def between(self, a: int, b: int, j: NDArray[np.int64]) -> Array:
        """Rows of layers j in a..b (both known): the base plus what the known ones differ, wandering from a to b."""
        w = ((j - a) / max(1, b - a))[:, None]
        off = (1 - w) * (self.at(a) - self.base[a]) + w * (self.at(b) - self.base[b])
        out: Array = np.maximum(self.base[j] + off, 0.0)
        return out


def _weights(known: NDArray[np.int64], n: int) -> Array:
    """How many layers hang on each of the known ones."""
    edges = np.concatenate([[-0.5], (known[1:] + known[:-1]) / 2, [n - 0.5]])
    return np.diff(edges)


def _trust(base: Array, truth: Array, weight: Array) -> Array:
    """How much of each column of the base rows is true, by the known layers: where it sees twice as much solid layer as
    there is, half of what it sees between them is taken."""
    seen, there = (base * weight[:, None]).sum(axis=0), (truth * weight[:, None]).sum(axis=0)
    return _ratio(there, seen)


def _ratio(x: Array, base: Array) -> Array:
    out: Array = np.where(base > 1e-9, np.clip(x / np.maximum(base, 1e-9), 0.3, 3.0), 1.0)
    return out


def _time(row: Array) -> float:
    return float(row[:K].sum())


def sampled(
    base: Array,
    spans: list[tuple[int, int]],
    measure: Callable[[int], Array],
    most: int,
    close: float,
    keys: Sequence[object],
    ends: float = 1.0,
) -> Array:
    """Rows of all layers from at most about `most` measured ones. `ends`: the share of these that may go to the ends of light spans.

    Spans of gentle change are halved where the middle turns out furthest from what was expected, weighed by how many
    layers hang on it, until all is within `close` of the whole time or the samples are used up.
    """
    x = _Sampled(base, measure)
    total = max(float(base[:, :K].sum()), 1e-9)
    rows = np.empty_like(base)
    numbers: dict[object, int] = {}
    key = np.array([numbers.setdefault(k, len(numbers)) for k in keys])
    first = np.full(len(numbers), -1)  # of the layers with each key the one that was measured

    def known(j: int) -> None:
        if first[key[j]] < 0:
            first[key[j]] = j
        x.known[j] = x.at(int(first[key[j]]))

    # first the ends of each span, the heaviest spans first; what finds no sample takes the ratio of the nearest
    weight = [float(base[a:b, :K].sum()) for a, b in spans]
    queue: list[tuple[float, int, int]] = []
    left: list[tuple[int, int]] = []

    def same_as(layers: NDArray[np.int64]) -> None:
        """Layers that equal a measured one take its row."""
        like = first[key[layers]]
        for k in np.unique(like[like >= 0]).tolist():
            rows[layers[like == k]] = x.at(k)

    def spend() -> int:
        return len(set(map(id, x.known.values())))

    for i in sorted(range(len(spans)), key=lambda i: -weight[i]):
        a, b = spans[i][0], spans[i][1] - 1
        if spend() >= (most if weight[i] > LIGHT * total else most * ends) and min(first[key[a]], first[key[b]]) < 0:
            left.append((a, b))
            continue
        known(a)
        known(b)
        if b - a > 1:
            heappush(queue, (-weight[i] / total, a, b))
        elif b >= a:
            rows[a], rows[b] = x.known[a], x.known[b]
    done: list[tuple[int, int]] = []
    while queue:
        worth, a, b = heappop(queue)
        within = key[a : b + 1]
        same = bool(((within == key[a]) | (within == key[b])).all())
        if b - a <= 1 or same or -worth < close or spend() >= most:
            done.append((a, b))
            continue
        m = (a + b) // 2
        expected = x.between(a, b, np.array([m]))[0]
        known(m)
        off = np.abs(x.known[m] - expected)
        wrong = max(float(off[:K].sum()) / max(_time(x.known[m]), 1e-9), 0.0)
        share = float(base[a : b + 1, :K].sum()) / total
        for lo, hi in ((a, m), (m, b)):
            part = share * (hi - lo) / (b - a)
            # the middle was off by so much; halved, the error of a smooth course falls to a quarter
            heappush(queue, (-part * max(wrong / 4, 0.002 if hi - lo > 40 else 0.0), lo, hi))
    sure = np.array(sorted(x.known))
    x.base = base * _trust(base[sure], np.array([x.known[j] for j in sure.tolist()]), _weights(sure, len(base)))
    for a, b in done:
        j = np.arange(a, b + 1)
        rows[j] = x.between(a, b, j)
        same_as(j)
    takes, told = base[:, :K].sum(axis=1), np.array([x.at(i) for i in sure.tolist()])
    # what the base knows of in no layer, travel and support, goes from the measured layer below to the one above
    unknown = np.flatnonzero((base <= 1e-9).all(axis=0))
    if left:  # hundreds where a vent begins or ends in nearly every layer
        j = np.concatenate([np.arange(a, b + 1) for a, b in left])
        nearest = np.abs(takes[sure] - takes[j][:, None]).argmin(axis=1)
        near, plain = sure[nearest], told[nearest]
        there = plain.copy()
        for c in unknown.tolist():
            there[:, c] = np.interp(j, sure, told[:, c])
        rows[j] = np.where(base[j] > 1e-9, base[j] * _ratio(plain, base[near]), np.where(base[near] > 1e-9, 0.0, there))
        same_as(j)
    return rows


LIGHT = 0.005  # of the whole time: a span of less is a light one
SETTLED_MOST = 56
SETTLED_CORNERS = 350  # of a section; with more of them fewer layers are laid out
SETTLED_LEAST = 10
SIMPLE_LOOPS, SIMPLE_MOST = 3, 4.0  # sections of so few loops are laid out up to so many times as often: a thin wall
# may take one line in one layer and two in the next
SETTLED_CLOSE = 4e-4
SETTLED_ENDS = 0.5  # the other half of the layers that are laid out is kept for the middles of heavy spans
PREVIEW_MOST = 12
PREVIEW_LEAST = 4
PREVIEW_CORNERS = 300
PREVIEW_CLOSE = 1e-2
ALIKE = 3e-3  # sections of one part so near in area and outline take as long


SAME_HEIGHT_MM = 1e-3


def preview(slices: Slices) -> Array:
    """Rows of all layers without laying any out."""
    rows = _without_supports(slices, integrals(slices))
    if slices.s.supports:
        _add_supports(slices, rows)
    return rows


def _without_supports(slices: Slices, of: Integrals) -> Array:
    """Rows corrected by the outlines of some layers: fewer where these have many corners."""
    return sampled(
        rough(slices, of),
        _stretches(of.area, of.outline, of.share, False),
        lambda j: _outline_row(slices, j, of),
        max(PREVIEW_LEAST, PREVIEW_MOST * PREVIEW_CORNERS // max(PREVIEW_CORNERS, _corners(slices))),
        PREVIEW_CLOSE,
        list(zip(np.arange(slices.n) == 0, _alike(of.area), _alike(of.outline), np.round(of.share, 3), strict=True)),
    )


def _alike(of: Array) -> list[int]:
    """Numbers that sections share which differ by less than ALIKE: those of a helical gear, or of a tube that leans."""
    numbers: list[int] = np.round(np.log(np.maximum(of, 1e-9)) / ALIKE).astype(np.int64).tolist()
    return numbers


@dataclass(frozen=True)
class Corrected:
    """All layers of a part: their rows from integrals alone, what its preview made of them without supports, and its outlines."""

    height_mm: float
    rough: Array
    rows: Array
    outline: Array


def corrected(slices: Slices) -> Corrected:
    """What a preview of a part found, for previews of its pieces."""
    of = integrals(slices)
    return Corrected(slices.height_mm, _with_turns(slices, of), _without_supports(slices, of), of.outline)


def preview_of_piece(slices: Slices, part: Corrected) -> Array | None:
    """Rows of all layers of a piece that lies as its part did: its own integrals, off by as much in each layer as those of the part were. Ways between paths,
    which these do not know of, grow with the square root of the outline: fewer of them, and shorter. None where the piece is not as high as the part: its
    layers are not those of the part then."""
    if slices.n != len(part.rows) or abs(slices.height_mm - part.height_mm) > SAME_HEIGHT_MM:
        return None
    of = integrals(slices)
    ways = np.sqrt(_ratio(of.outline, part.outline))[:, None]
    base = _with_turns(slices, of)
    rows: Array = np.where(part.rough > 1e-9, base * _ratio(part.rows, part.rough), part.rows * ways)
    if slices.s.supports:
        _add_supports(slices, rows)
    return rows


def _with_turns(slices: Slices, of: Integrals) -> Array:
    """Rough rows with the turns of sparse lines, which are the shorter the smaller a piece is."""
    s, rows = slices.s, rough(slices, of)
    sparse = rows[:, K + Kind.SPARSE]
    if s.infill > 0:
        gap, v, accel = s.spacing_mm / s.infill, s.speed[Kind.SPARSE], s.accel[Kind.SPARSE]
        turn = min(corner_cap(0.0, accel, s.corner, gap) ** 0.5, v)
        lines = np.maximum(1.0, (1 - of.share) * of.outline / np.pi / gap)
        step = _trapezoids(sparse / lines, v, turn, accel) + _trapezoid(gap, v, turn, accel)
        rows[:, Kind.SPARSE] = np.where(sparse > 1e-6, lines * step, 0.0)
    return rows


def _add_supports(slices: Slices, rows: Array) -> None:
    """Support under what hangs: lines as long as the regions are wide, turns, and the ways to each patch of them."""
    s = slices.s
    area = _supported_mm2(slices)
    if not area.any():
        return
    v, accel, gap = s.speed[Kind.SUPPORT], s.accel[Kind.SUPPORT], s.spacing_mm / s.support_density
    mm = rows[:, K + Kind.SUPPORT] = area / gap
    x0, y0, _, x1, y1, _ = slices.mesh.bounding_box()
    turn = min(corner_cap(0.0, accel, s.corner, gap) ** 0.5, v)
    chord = max(_chord_mm(slices), LEAST_CHORD_MM)
    side = np.minimum(chord, np.sqrt(np.maximum(area, 1e-6)))
    rows[:, Kind.SUPPORT] = mm / side * (_trapezoids(side, v, turn, accel) + _trapezoid(gap, v, turn, accel))
    patches = np.where(area > 0, np.maximum(1.0, mm / (LINES_OF_A_PATCH * chord)), 0.0)
    apart = np.minimum(np.sqrt((x1 - x0) * (y1 - y0) / np.maximum(patches, 1.0)), 60.0) * 0.7
    far = patches * (apart > s.far_mm)
    rows[:, Kind.TRAVEL] += far * (_trapezoids(apart, s.speed[Kind.TRAVEL], 0.0, s.accel[Kind.TRAVEL]) + s.retract_s)
    rows[:, TRAVEL_MM] += far * apart
    rows[:, RETRACTIONS] += far


def settled(slices: Slices) -> Array:
    """Rows of all layers from some that are laid out."""
    of = integrals(slices)
    base = rough(slices, of)
    spans = _stretches(of.area, of.outline, of.share, True)
    # sections that agree in area and outline to a hundredth are taken for one: steps and rungs that come again
    pairs = np.round(np.stack([of.area, of.outline], axis=1), 2)
    _, kind = np.unique(pairs, axis=0, return_inverse=True)
    keys = [slices.alike(j, kind.reshape(-1)) for j in range(slices.n)]
    # a layer of very many loops or corners takes long to lay out: fewer of them are, and more of those that have few
    loops = max(slices.section(slices.n * k // 4).num_contour() for k in (1, 2, 3))
    corners = _corners(slices)
    few = min(30 / max(30, loops), SETTLED_CORNERS / max(SETTLED_CORNERS, corners))
    close = SETTLED_CLOSE
    if loops <= SIMPLE_LOOPS and (more := SETTLED_CORNERS / max(corners, 1) / 2) > few:
        few, close = min(SIMPLE_MOST, more), SETTLED_CLOSE / 10
    most = max(SETTLED_LEAST, int(SETTLED_MOST * few))
    return sampled(base, spans, lambda j: exact_row(slices, j), most, close, keys, SETTLED_ENDS)


def _corners(slices: Slices) -> int:
    """Corners of a section, about the most that one has."""
    return max(slices.corners(slices.n * k // 4) for k in (1, 2, 3))


def layer_seconds(s: Settings, rows: Array) -> Array:
    """Seconds of each layer, by kind with WAIT: a layer faster than the least layer time is slowed, but not below the
    slowest speed: max(t, min(t_min, L / v_min + fixed))."""
    out = rows[:, :K].copy()
    out[:, Kind.TRAVEL] += s.layer_change_s
    t = out.sum(axis=1)
    mm = rows[:, K : 2 * K][:, list(EXTRUDED)].sum(axis=1)
    floor = np.minimum(s.layer_min_s, mm / s.slowest + out[:, Kind.TRAVEL])
    out[:, Kind.WAIT] = np.maximum(0.0, floor - t)
    return out


def layer_mm3(slices: Slices, rows: Array) -> Array:
    """Deposited mm3 of each layer by kind."""
    s = slices.s
    bead = np.full((slices.n, 1), s.bead_mm2(False))
    bead[0] = s.bead_mm2(True)
    out: Array = rows[:, K : 2 * K] * bead
    return out
