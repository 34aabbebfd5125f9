"""A mesh as a slices of layers: heights, which layers are alike, their sections, and where support stands."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter
from dataclasses import dataclass
from functools import cached_property
from math import ceil, radians, tan

import numpy as np
from manifold3d import CrossSection, JoinType, Manifold, OpType
from numpy.typing import NDArray

from rhombex.core.compiled import njit
from rhombex.core.geometry.mesh_kernel import triangles
from rhombex.core.geometry.sections import integrals_of
from rhombex.core.geometry.slicer import Slicer
from rhombex.core.memo import Memo
from rhombex.core.plain import DesignError
from rhombex.core.process.bridges import best_bridge, held_along
from rhombex.core.process.drift import Drift
from rhombex.core.process.islands import Islands, outline_key
from rhombex.core.process.settings import Settings
from rhombex.core.process.thin import Walls, walls_of

Array = NDArray[np.float64]
EMPTY = CrossSection()
MOST_LAYERS = 20_000
NUDGE_MM = 1e-6  # sections are taken so much higher, off the levels of vertices
FLAT_NZ = 1e-6  # a face whose normal leans less than this out of the plane is a vertical wall
ANCHOR_MM = 1.0  # how far down the holders of a bridge must reach without leaning out more than 45 degrees
MARGIN_DEG = 5.0  # a face so much within the limit may still want support where layers are coarse
SURE_MM = 0.02  # sections are simplified by less
FINEST_STEP = 160  # supports are looked for at no more heights than this where the part changes all the way
MANY_PIECES = 600  # hanging pieces in all layers
NEAR_LAYERS = 4  # so near to one another a section stands for its neighbour's
FINE_CORNERS = 300  # and at fewer where a section has more corners than this


def layer_bounds(height_mm: float, first_mm: float, layer_mm: float) -> Array:
    """Heights of the layers' faces, (n + 1,): a whole number of layers, the first one its own height."""
    n = 1 + max(0, round((height_mm - first_mm) / layer_mm))
    out: Array = np.concatenate([[0.0], first_mm + np.arange(n) * layer_mm])
    return out


@dataclass(frozen=True)
class Faces:
    """The triangles of a mesh put on z = 0: corners, normals twice as long as their areas, lowest and highest z."""

    verts: Array
    tri: NDArray[np.int64]
    normal: Array
    lo: Array
    hi: Array
    flatness: Array

    @cached_property
    def slicer(self) -> Slicer:
        return Slicer(self.verts, self.tri)


_faces: Memo[int, tuple[Manifold, Faces]] = Memo(40)


def faces_of(mesh: Manifold) -> Faces:
    """The triangles of a mesh, remembered for as long as it is: other layer heights ask for the same ones."""
    found = _faces.get(id(mesh))
    if found is not None and found[0] is mesh:
        return found[1]
    verts, tri = triangles(mesh)
    verts = verts - np.array([0.0, 0.0, verts[:, 2].min()])
    made = Faces(verts, tri, *_looked_at(verts, tri))
    _faces.put(id(mesh), (mesh, made))
    return made


@njit
def _looked_at(verts: Array, tri: NDArray[np.int64]) -> tuple[Array, Array, Array, Array]:
    """Normals (n, 3) of triangles, twice as long as their areas, their lowest and highest z, and how level each lies. Compiled: a hand waits for it."""
    n = len(tri)
    normal = np.empty((n, 3))
    lo, hi, flatness = np.empty(n), np.empty(n), np.empty(n)
    for t in range(n):
        a, b, c = verts[tri[t, 0]], verts[tri[t, 1]], verts[tri[t, 2]]
        ax, ay, az = b[0] - a[0], b[1] - a[1], b[2] - a[2]
        bx, by, bz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
        x, y, z = ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx
        normal[t, 0], normal[t, 1], normal[t, 2] = x, y, z
        lo[t], hi[t] = min(a[2], b[2], c[2]), max(a[2], b[2], c[2])
        flatness[t] = abs(z) / max(np.sqrt(x * x + y * y + z * z), 1e-300)
    return normal, lo, hi, flatness


class Slices:
    """Layers of a mesh that lies on z = 0. Sections are made when asked for and kept.

    `run[j]` numbers stretches of equal layers: a section only changes where a face that is no vertical wall crosses the
    gap between the middles of two layers.
    """

    def __init__(self, mesh: Manifold, s: Settings) -> None:
        _, _, z0, _, _, z1 = mesh.bounding_box()
        self.faces = faces_of(mesh)
        self.mesh = mesh.translate((0.0, 0.0, -z0)) if abs(z0) > 1e-9 else mesh
        self.s = s
        self.height_mm = z1 - z0
        if self.height_mm / s.layer_mm > MOST_LAYERS:
            raise DesignError(
                "layer_mm", f"{self.height_mm:g} mm in layers of {s.layer_mm:g} are more than {MOST_LAYERS:,} layers"
            )
        self.bounds = layer_bounds(self.height_mm, s.first_mm, s.layer_mm)
        self.z: Array = np.minimum((self.bounds[:-1] + self.bounds[1:]) / 2, self.height_mm - 1e-4)
        self.n = len(self.z)
        self._sections: dict[int, CrossSection] = {}
        self._islands: dict[int, Islands] = {}
        self._walls: dict[int, list[tuple[Walls, Array]]] = {}
        self._long: list[float] = []
        self._pieces = 0  # hanging pieces that were looked at

    @cached_property
    def changes(self) -> int:
        """How often the filament is changed: before the first layer that begins at or above each height, once for heights that one layer spans. Above the last
        layer there is nothing to print in another."""
        begins = self.bounds[1:-1]
        before = np.searchsorted(begins, np.array(self.s.changes_at_mm) - NUDGE_MM)
        return len(np.unique(before[before < len(begins)]))

    @cached_property
    def run(self) -> NDArray[np.int64]:
        leaning = self.faces.flatness > FLAT_NZ
        # gap k lies between z[k] and z[k + 1]: a face touches it if its top is over z[k] and its foot under z[k + 1]
        z = self.z + NUDGE_MM  # where the section is really taken: a face in the middle of a layer lies under it
        lo = np.searchsorted(z, self.faces.lo[leaning], side="right") - 1
        hi = np.searchsorted(z, self.faces.hi[leaning], side="left")
        begin, end = (np.bincount(np.clip(x, 0, self.n), minlength=self.n + 1) for x in (lo, hi))
        gaps = np.cumsum(begin - end)[: self.n - 1] > 0
        out: NDArray[np.int64] = np.concatenate([[0], np.cumsum(gaps)]).astype(np.int64)
        return out

    def _at_mm(self, run: int) -> float:
        """Where the section of a stretch of equal layers is taken: in the middle of the first of them."""
        return float(self.z[int(np.searchsorted(self.run, run))]) + NUDGE_MM

    def islands(self, j: int) -> Islands:
        """The section of layer j by its islands; layers of one run share them."""
        r = int(self.run[j])
        found = self._islands.get(r)
        if found is None:
            found = self._islands[r] = Islands(self.section(j))
        return found

    def walls(self, j: int) -> list[tuple[Walls, Array]]:
        """The perimeters of each shape of layer j, with the places of its copies; layers of one run share them."""
        r = int(self.run[j])
        found = self._walls.get(r)
        if found is None:
            found = self._walls[r] = [(walls_of(shape, self.s), moves) for shape, moves in self.islands(j).shapes]
        return found

    @cached_property
    def integrals(self) -> tuple[Array, Array]:
        """Area mm2 and outline mm of every section, without polygons."""
        return integrals_of(self.faces.verts, self.faces.tri, self.z + NUDGE_MM)

    def section(self, j: int) -> CrossSection:
        """The section in the middle of layer j; empty above and below the part."""
        if not 0 <= j < self.n:
            return EMPTY
        r = int(self.run[j])
        found = self._sections.get(r)
        if found is None:
            found = self._sections[r] = self.faces.slicer.at(self._at_mm(r))
        return found

    def corners(self, j: int) -> int:
        """About how many corners the section in the middle of layer j has; it is not made for that."""
        return self.faces.slicer.corners(self._at_mm(int(self.run[j])))

    def alike(self, j: int, kind: NDArray[np.int64] | None = None) -> tuple[object, ...]:
        """What decides how layer j is laid out: layers with equal answers have equal paths.

        kind: numbers that tell sections apart, in place of the runs.
        """
        s, r = self.s, self.run if kind is None else kind

        def beyond(step: int, reach: int) -> tuple[int, ...]:
            ends = [j + step * k for k in range(1, reach + 1)]
            runs = [int(r[i]) if 0 <= i < self.n else -1 for i in ends]
            return tuple(x for x in dict.fromkeys(runs) if x != int(r[j]))

        below = int(r[j - 1]) if j else -1
        turn = j % 2 if s.infill_kind == "lines" else 0
        solid = bool(beyond(1, s.top) or beyond(-1, s.bottom))
        return (
            int(r[j]),
            beyond(1, s.top),
            beyond(-1, s.bottom),
            below if below != int(r[j]) else -2,
            j == 0,
            j % 2 if solid else turn,
            self.support_key(j),
        )

    @cached_property
    def drift(self) -> Drift:
        f = self.faces
        return Drift(f.verts, f.tri, f.slicer.beside, f.normal, self.z + NUDGE_MM)

    def covered(self, j: int, deep_mm: float = 0.0) -> CrossSection:
        """The part of layer j that stays hidden: everywhere that enough layers above and below repeat it. `deep_mm`: only what lies so far inside
        its outline is asked for; what it says of the rest is too much."""
        s = self.s
        out = self.section(j)
        seen = {int(self.run[j])}
        for step, reach in ((1, s.top), (-1, s.bottom)):
            for k in range(1, reach + 1):
                i = j + step * k
                if not 0 <= i < self.n:
                    return EMPTY
                r = int(self.run[i])
                if r in seen:
                    continue
                seen.add(r)
                if self.drift.most_mm(i, j) > deep_mm - SURE_MM:
                    out = out ^ self.section(i)
        return out

    # supports

    def hanging(self, more_deg: float = 0.0) -> NDArray[np.bool_]:
        """Which faces look down and lean out further than the overhang limit, or so many degrees less; not those that lie on the bed."""
        n = self.faces.normal
        steep = np.sin(np.radians(max(0.0, self.s.overhang_deg - more_deg))) * np.linalg.norm(n, axis=1)
        out: NDArray[np.bool_] = (n[:, 2] < 0) & (-n[:, 2] >= steep) & (self.faces.hi > 1e-3)
        return out

    @cached_property
    def _supported(self) -> list[tuple[float, float, CrossSection]]:
        """Stretches of height (from, to) with the region that support fills there, from the top down."""
        hanging = self.faces.hi[self.hanging(MARGIN_DEG)]
        if not self.s.supports or not len(hanging):
            return []
        highest = int(np.searchsorted(self.z, hanging.max())) + 1  # above it nothing wants support
        reps: list[int] = []  # the layers at which the section is new, thinned where it changes all the way
        some = self.section(self.n // 2)
        loops, corners = some.num_contour(), some.num_vert()
        fewer = min(1.0, 20 / loops if loops >= 60 else 1.0, FINE_CORNERS / max(corners, 1))
        step = max(1, ceil(self.n / max(FINEST_STEP / 5, FINEST_STEP * fewer)))
        for j in range(min(self.n, highest + 1)):
            fresh = j == 0 or self.run[j] != self.run[j - 1]
            stays = self._last_alike(j) - j >= step
            if fresh and (not reps or j - reps[-1] >= step or stays or self._jumps(j)):
                reps.append(j)
        slope = tan(radians(self.s.overhang_deg))
        out: list[tuple[float, float, CrossSection]] = []
        standing = EMPTY
        top = min(self.n, highest + 1)
        k = len(reps) - 1
        while True:
            j = reps[k]
            here = self.section(j)
            # what stands under the layers above does not run through the part
            free = standing - here
            half = (j + top - 1) // 2
            middle = free if half == j else standing - self.section(half)
            if not middle.is_empty():
                out.append((float(self.bounds[j]), float(self.bounds[top]), middle))
            if k == 0:
                return out
            standing, top = free, j
            # where very many pieces hang, they are looked at in fewer layers the more there have been
            k = max(k - 1 - self._pieces // MANY_PIECES, 0)
            # below a sudden change the part is the same for many layers: only one layer lies between
            under = self._last_alike(reps[k])
            apart = float(self.z[j] - self.z[under])
            reach = max(self.s.layer_mm, apart) * slope
            if self.drift.most_mm(under, j) < reach - SURE_MM:
                continue  # nothing leans out further than it may
            below = self.section(reps[k])
            z = float(self.z[j]) - apart - ANCHOR_MM
            anchor = self.section(self._looked_at(reps, int(np.searchsorted(self.z, z)))) if z > 0 else below
            standing = standing + self._unheld(here, below, anchor, reach)

    def _looked_at(self, reps: list[int], j: int) -> int:
        """A layer near j whose section is at hand: one of those that are looked at, else j itself."""
        below = reps[max(bisect_right(reps, j) - 1, 0)]
        return below if j - below <= NEAR_LAYERS else j

    def _jumps(self, j: int) -> bool:
        """True where the section of layer j differs a good deal from the one below."""
        a, b = self.integrals[0][j], self.integrals[0][j - 1]
        return bool(abs(a - b) > 0.05 * max(a, b, 1e-9))

    def _last_alike(self, j: int) -> int:
        """The uppermost layer with the section of layer j."""
        return int(np.searchsorted(self.run, self.run[j], side="right")) - 1

    def _unheld(self, here: CrossSection, below: CrossSection, anchor: CrossSection, reach: float) -> CrossSection:
        """What of a section hangs further out than the slope allows, and is no bridge short enough to span."""
        gone = here - below.offset(reach, JoinType.Miter, 2.0)
        if gone.is_empty():
            return EMPTY
        # the strip within the slope belongs to it: a gentle dome would else keep only slivers
        whole = (gone.offset(reach * 1.05, JoinType.Miter, 2.0) ^ here) - below
        under, holders = _Islands(below), _Islands(anchor)
        pieces = [p for p in whole.decompose() if p.area() > self.s.width_mm**2]
        self._pieces += len(pieces)
        corners = [p.bounds()[:2] for p in pieces]
        own = [outline_key(p, at) for p, at in zip(pieces, corners, strict=True)] if len(pieces) > 1 else [b""]
        again = {k for k, n in Counter(own).items() if n > 1}
        known: dict[tuple[bytes, ...], bool] = {}  # pieces that come again in the same surroundings are looked at once
        parts = []
        for p, at, mine in zip(pieces, corners, own, strict=False):
            around = (under.near(p, ANCHOR_MM), holders.near(p, 2 * ANCHOR_MM))
            key = (mine, *(outline_key(c, at) for c in around)) if mine in again else None
            bridges = known.get(key) if key else None
            if bridges is None:
                bridges = self._bridges(p, *around, reach)
            if key:
                known[key] = bridges
            if not bridges:
                parts.append(p)
        return CrossSection.batch_boolean(parts, OpType.Add) if parts else EMPTY

    def _bridges(self, part: CrossSection, below: CrossSection, anchor: CrossSection, reach: float) -> bool:
        """True where a hanging piece is held at two sides and its span is short enough to bridge.

        What holds it must stand by itself: the crown of a vault is held by strips that hang out themselves.
        """
        span, degrees = best_bridge(part, below, reach)
        if span > self.s.bridge_mm:
            if span < np.inf:
                self._long.append(span)
            return False
        held = part.offset(1.1 * ANCHOR_MM, JoinType.Miter, 2.0) ^ anchor
        return not held.is_empty() and held_along(part, held.offset(ANCHOR_MM * 1.1, JoinType.Miter, 2.0), degrees)

    def support_area(self, j: int) -> CrossSection:
        """The region that support fills in layer j."""
        z = float(self.z[j])
        return next((r for lo, hi, r in self._supported if lo <= z < hi), EMPTY)

    def support_key(self, j: int) -> int:
        if not self.s.supports:
            return -1
        z = float(self.z[j])
        return next((k for k, (lo, hi, _) in enumerate(self._supported) if lo <= z < hi), -1)

    def support_scar_mm2(self) -> float:
        """Area of the part that rests on support, about: the widest region that support fills."""
        return float(max((r.area() for _, _, r in self._supported), default=0.0))

    def longest_bridge_mm(self) -> float:
        """The longest span that is held at both ends and is too long to come out clean; 0 where there is none."""
        assert isinstance(self._supported, list)  # looked for with the supports
        return max(self._long, default=0.0)

    def support_mm3(self) -> float:
        """Room that support takes up (not its material, which is a share of it)."""
        return float(sum((hi - lo) * r.area() for lo, hi, r in self._supported))


class _Islands:
    """A region by its pieces, so that what lies near a small one is found without going through all of it."""

    def __init__(self, region: CrossSection) -> None:
        self.pieces = region.decompose()
        self.bounds = np.array([p.bounds() for p in self.pieces]).reshape(-1, 4)

    def near(self, part: CrossSection, reach: float) -> CrossSection:
        """The pieces whose boxes come within reach of a part's box."""
        x0, y0, x1, y1 = part.bounds()
        b = self.bounds
        hit = (b[:, 0] < x1 + reach) & (b[:, 2] > x0 - reach) & (b[:, 1] < y1 + reach) & (b[:, 3] > y0 - reach)
        found = [self.pieces[k] for k in np.flatnonzero(hit)]
        if len(found) == 1:
            return found[0]
        return CrossSection.batch_boolean(found, OpType.Add) if found else EMPTY
