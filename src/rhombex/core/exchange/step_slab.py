"""The board of a STEP file: a flat slab among its solids, its outline and holes, and whether it is a board at all.

The slab is the prismatic solid whose volume is its top face times its thickness; where everything is fused into one solid it is cut
out between the two large parallel planes. A hole is a round inner wire of the top face that is there in the bottom face too, with
nothing in between.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.Bnd import Bnd_Box
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.BRepGProp import BRepGProp
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.GeomAbs import GeomAbs_Line, GeomAbs_Plane
from OCP.gp import gp_Ax3, gp_Dir, gp_Pnt, gp_Trsf
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_FACE, TopAbs_IN, TopAbs_ON, TopAbs_REVERSED, TopAbs_SOLID, TopAbs_WIRE
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS
from shapely import MultiPolygon, Polygon, make_valid
from shapely.ops import unary_union

from rhombex.core.exchange.step_products import shapes_in
from rhombex.core.parts.recognised import Hole, is_round

Array = NDArray[np.float64]
THIN, THICK = 0.3, 3.5  # of what somebody says is a board
PRISMATIC = 0.02
# of what is taken for one by itself; common practice for printed circuit boards, and larger than a connector's own walls
BOARD_THIN, BOARD_THICK = 0.6, 3.2
LEAST_ANY = 16.0  # mm2: no board is smaller
LEAST_SIDE, LEAST_AREA, LARGE_AREA = 12.0, 200.0, 1500.0
TALL = 1.2  # of what stands on a board, against its longer side
THING_MM = 2.0  # what is smaller is a ball or leg of a component
MOST_TRIED = 8
_BOARD = re.compile(r"(^|[^a-z])(pcb|pcba|board|substrate)s?([^a-z]|$)", re.IGNORECASE)
_NO_BOARD = re.compile(
    r"(shell|shield|housing|cover|insulat|bracket|contact|pins?([^a-z]|$)|frame|panel|tab([^a-z]|$)|lead|heat.?sink|fins?([^a-z]|$)|"
    r"socket|receptacle|header|jack|connector|transistor|terminal|relay|fan([^a-z]|$)|switch|battery)",
    re.IGNORECASE,
)


def _volume(shape: Any) -> float:
    g = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, g)
    return float(abs(g.Mass()))


def _largest_mm2(shape: Any) -> float:
    """No flat face of a solid is larger: the largest section of the box round it, along its longest edge and across the others' diagonal."""
    box = Bnd_Box()
    BRepBndLib.Add_s(shape, box)
    if box.IsVoid():
        return 0.0
    a, b = box.CornerMin(), box.CornerMax()
    short, middle, long = sorted((b.X() - a.X(), b.Y() - a.Y(), b.Z() - a.Z()))
    return float(long * math.hypot(short, middle))


@dataclass
class _Flat:
    """A flat face: outward normal, distance from the origin along it, area."""

    face: Any
    normal: Array
    at: float
    area: float


def _flats(solid: Any) -> list[_Flat]:
    out = []
    for f in shapes_in(solid, TopAbs_FACE):
        face = TopoDS.Face(f)
        s = BRepAdaptor_Surface(face)
        if s.GetType() != GeomAbs_Plane:
            continue
        plane = s.Plane()
        d = plane.Axis().Direction()
        n = np.array([d.X(), d.Y(), d.Z()])
        if not plane.Direct():
            n = -n
        if face.Orientation() == TopAbs_REVERSED:
            n = -n
        o = plane.Location()
        g = GProp_GProps()
        BRepGProp.SurfaceProperties_s(face, g)
        out.append(_Flat(face, n, float(n @ np.array([o.X(), o.Y(), o.Z()])), float(g.Mass())))
    return out


def _group(flats: list[_Flat]) -> list[tuple[Array, float, float, list[_Flat]]]:
    """Faces in one plane taken together (a face may be split): normal, place, area, faces; the largest first."""
    groups: list[tuple[Array, float, float, list[_Flat]]] = []
    for f in sorted(flats, key=lambda f: -f.area):
        for k, (n, at, area, members) in enumerate(groups):
            if float(n @ f.normal) > 1 - 1e-6 and abs(at - f.at) < 1e-3:
                groups[k] = (n, at, area + f.area, [*members, f])
                break
        else:
            groups.append((f.normal, f.at, f.area, [f]))
    return sorted(groups, key=lambda g: -g[2])


@dataclass
class Slab:
    """A flat stretch between two planes: heights along the normal, area of the upper face, which of the solids it is of."""

    normal: Array
    lower: float  # along the normal
    upper: float
    area: float
    body: int
    fused: bool
    top: list[_Flat]
    bottom: list[_Flat]


def slabs(bodies: list[Any]) -> list[Slab]:
    """What of some solids is flat enough to be a board: prismatic ones first, then pairs of planes of a fused one; the largest first."""
    out: list[Slab] = []
    # of hundreds of pins and legs no face is looked at
    large = [(i, _group(_flats(b)), _volume(b)) for i, b in enumerate(bodies) if _largest_mm2(b) >= LEAST_ANY]
    for fused in (False, True):
        found: list[Slab] = []
        for i, groups, volume in large:
            for n, at, area, top in groups[:6]:
                if area < LEAST_ANY:
                    continue
                for m, other, back, bottom in groups:
                    t = at + other  # the other normal points the other way
                    if float(n @ m) > -1 + 1e-6 or not THIN <= t <= THICK:
                        continue
                    alike = min(area, back) / max(area, back)
                    if not fused:  # both faces alike, or a fused board could be taken for one by chance
                        good = abs(volume / (area * t) - 1) < PRISMATIC and alike > 1 - 3 * PRISMATIC
                    else:
                        good = alike > 0.4
                    if good:
                        found.append(Slab(n, at - t, at, area, i, fused, top, bottom))
                        break
        out += sorted(found, key=lambda s: -s.area)[:MOST_TRIED]
    return out


def is_board(slab: Slab, bodies: list[Any], name: str, other_names: str) -> bool:
    """Whether a slab is a board, by its name, thickness, size, holes and what stands on it; a connector's wall is none. `name`: the
    slab's own; `other_names`: the file's and those of the products it is in."""
    frame, origin = frame_of(slab)
    area = outline_of(slab.top, frame, origin)
    if area.is_empty:
        return False
    box = np.asarray(area.minimum_rotated_rectangle.exterior.coords)
    sides = sorted(float(np.linalg.norm(box[k + 1] - box[k])) for k in (0, 1))
    t = slab.upper - slab.lower
    if _BOARD.search(name) and sides[0] >= 4:
        return True
    if _NO_BOARD.search(name) or (_NO_BOARD.search(other_names) and not _BOARD.search(other_names)):
        return False
    if not BOARD_THIN <= t <= BOARD_THICK or sides[0] < max(LEAST_SIDE, 5 * t) or area.area < LEAST_AREA:
        return False
    place = TopLoc_Location(trsf_of(frame, origin))
    boxes = [box_of(shape.Moved(place)) for shape in bodies]
    low, high = np.min([a for a, _ in boxes], axis=0), np.max([b for _, b in boxes], axis=0)
    x0, y0, x1, y1 = area.bounds
    mine = (x1 - x0) * (y1 - y0)
    if (
        mine < 0.5 * (high[0] - low[0]) * (high[1] - low[1])
        or high[2] - low[2] > (0.6 if slab.fused else TALL) * sides[1]
    ):
        return False
    holes = len(round_holes(slab, frame, origin, bodies[slab.body])[0])
    if slab.fused:
        return holes >= 2
    covers = [
        max(0.0, min(b[0], x1) - max(a[0], x0)) * max(0.0, min(b[1], y1) - max(a[1], y0))
        for k, (a, b) in enumerate(boxes)
        if k != slab.body
    ]
    if holes < 3 and any(c > 0.85 * mine for c in covers):
        return False  # a base and its cover
    things = sum(min(b[:2] - a[:2]) >= THING_MM for k, (a, b) in enumerate(boxes) if k != slab.body)
    return holes >= 1 or things >= 2 or area.area >= LARGE_AREA


def frame_of(slab: Slab) -> tuple[Array, Array]:
    """Axes (columns) and origin of the slab's lower face: the third axis is its normal."""
    n = slab.normal
    seed = np.eye(3)[int(np.abs(n).argmin())]
    x = np.cross(seed, n) / np.linalg.norm(np.cross(seed, n))
    return np.column_stack([x, np.cross(n, x), n]), n * slab.lower


def _points(wire: Any) -> Array:
    """Points along a wire: corners, and arcs at a fine step."""
    out: list[tuple[float, float, float]] = []
    it = BRepTools_WireExplorer(wire)
    while it.More():
        edge = it.Current()
        curve = BRepAdaptor_Curve(edge)
        a, b = curve.FirstParameter(), curve.LastParameter()
        if curve.GetType() == GeomAbs_Line:
            run = [a, b]
        else:
            steps = 48 if b - a > math.pi else 24
            run = list(np.linspace(a, b, steps + 1))
        if edge.Orientation() == TopAbs_REVERSED:
            run = run[::-1]
        for u in run[:-1]:
            p = curve.Value(u)
            out.append((p.X(), p.Y(), p.Z()))
        it.Next()
    return np.array(out).reshape(-1, 3)


def outline_of(flats: list[_Flat], frame: Array, origin: Array) -> Polygon:
    """The faces of one plane as a polygon in the board's frame. A face split in two, also through a hole, is whole again."""
    parts = []
    for f in flats:
        outer = BRepTools.OuterWire_s(f.face)
        shell: Array | None = None
        holes = []
        for w in shapes_in(f.face, TopAbs_WIRE):
            p = ((_points(TopoDS.Wire(w)) - origin) @ frame)[:, :2]
            if len(p) < 3:
                continue
            if w.IsSame(outer):
                shell = p
            else:
                holes.append(p)
        if shell is not None:
            parts.append(make_valid(Polygon(shell, holes)))
    whole = unary_union([p.buffer(1e-6, join_style="mitre") for p in parts])
    if isinstance(whole, MultiPolygon):
        whole = max(whole.geoms, key=lambda g: float(g.area))
    return whole if isinstance(whole, Polygon) else Polygon()


def ring_of(ring: Any) -> Array:
    """The corners of a ring; those on a straight line (where a face was split) or all but touching their neighbour left out."""
    p = np.asarray(ring.simplify(1e-4).coords)[:-1]
    keep = np.linalg.norm(p - np.roll(p, 1, axis=0), axis=1) > 1e-4
    return np.asarray(p[keep])


def along(area: Polygon) -> Array:
    """The longer side of the smallest rectangle round an outline, as a direction in the plane."""
    box = np.asarray(area.minimum_rotated_rectangle.exterior.coords)
    a, b = box[1] - box[0], box[2] - box[1]
    u = a if np.linalg.norm(a) >= np.linalg.norm(b) - 1e-9 else b
    return np.asarray(u / np.linalg.norm(u))


def trsf_of(frame: Array, origin: Array) -> gp_Trsf:
    """The transformation into the board's frame."""
    ax = gp_Ax3(gp_Pnt(*origin), gp_Dir(*frame[:, 2]), gp_Dir(*frame[:, 0]))
    t = gp_Trsf()
    t.SetTransformation(ax)
    return t


def box_of(shape: Any) -> tuple[Array, Array]:
    b = Bnd_Box()
    b.SetGap(0.0)
    BRepBndLib.AddOptimal_s(shape, b, False, False)
    c0, c1 = b.CornerMin(), b.CornerMax()
    return np.array([c0.X(), c0.Y(), c0.Z()]), np.array([c1.X(), c1.Y(), c1.Z()])


def round_holes(slab: Slab, frame: Array, origin: Array, solid: Any) -> tuple[list[Hole], int]:
    """Round holes of both faces with nothing between, and how many openings are not round."""
    tops = [ring_of(r) for r in outline_of(slab.top, frame, origin).interiors]
    below = [ring_of(r) for r in outline_of(slab.bottom, frame, origin).interiors]
    bottoms = [r for p in below if (r := is_round(p)) is not None]
    holes: list[Hole] = []
    other = 0
    probe = BRepClass3d_SolidClassifier(solid)
    for p in tops:
        r = is_round(p)
        if r is None:
            other += 1
            continue
        (x, y), d = r
        match = [q for q in bottoms if math.dist(q[0], (x, y)) < 0.05 + 0.02 * d and abs(q[1] - d) < 0.1 + 0.05 * d]
        at = origin + frame @ np.array([x, y, (slab.upper - slab.lower) / 2])
        probe.Perform(gp_Pnt(*at), 1e-6)
        if not match or probe.State() in (TopAbs_IN, TopAbs_ON):
            other += 1
            continue
        if d >= 0.5:
            holes.append(Hole(at=(x, y), d_mm=d))
    return holes, other


def cut_off(solid: Any, frame: Array, origin: Array, thick: float) -> list[Any]:
    """What is left of a fused solid above and below the slab, in pieces."""
    moved = solid.Moved(TopLoc_Location(trsf_of(frame, origin)))
    a, b = box_of(moved)
    wide = BRepPrimAPI_MakeBox(gp_Pnt(a[0] - 1, a[1] - 1, 0.0), gp_Pnt(b[0] + 1, b[1] + 1, thick)).Shape()
    cut = BRepAlgoAPI_Cut(moved, wide)
    back = TopLoc_Location(trsf_of(frame, origin).Inverted())
    if not cut.IsDone():
        return []
    # what stands over the edge loses the strip beside the board, which no connector's height hangs on
    return [s.Moved(back) for s in shapes_in(cut.Shape(), TopAbs_SOLID)]
