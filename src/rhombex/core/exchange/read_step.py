"""STEP in: the board's slab, its holes, the connectors and the edges they reach over. Slow and large: run it confined.

The slab is the prismatic solid 0.3 to 3.5 mm thick whose volume is its top face times its thickness; where everything is
fused into one solid it is cut out between the two large parallel planes. A hole is a round inner wire of the top face that
is there in the bottom face too, with nothing in between.
"""

from __future__ import annotations

import math
import tempfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
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
from OCP.collections import Sequence_TDF_Label
from OCP.GeomAbs import GeomAbs_Line, GeomAbs_Plane
from OCP.gp import gp_Ax3, gp_Dir, gp_Pnt, gp_Trsf
from OCP.GProp import GProp_GProps
from OCP.IFSelect import IFSelect_RetDone
from OCP.Message import Message
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_FACE, TopAbs_IN, TopAbs_ON, TopAbs_REVERSED, TopAbs_SOLID, TopAbs_WIRE
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Shape
from OCP.XCAFDoc import XCAFDoc_DocumentTool
from shapely import MultiPolygon, Polygon, make_valid
from shapely.ops import unary_union

from rhombex.core.parts.recognised import Found, Hole, Recognised, is_round, overhang
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, silent

Array = NDArray[np.float64]
THIN, THICK = 0.3, 3.5
PRISMATIC = 0.02
MOST_SOLIDS = 6000


def _bad(said: str, do: str = "Export it again as STEP, AP214 or AP242.") -> DesignError:
    return DesignError("file", said, do)


@dataclass
class _Body:
    name: str
    shape: Any


def _name(label: Any) -> str:
    found = TDataStd_Name()
    if label.FindAttribute(TDataStd_Name.GetID_s(), found):
        return str(found.Get().ToExtString())
    return ""


def _bodies(path: str) -> list[_Body]:
    """Every solid of the assembly in its place, with the name of the part it is of."""
    Message.DefaultMessenger_s().Printers().Clear()
    doc = TDocStd_Document(TCollection_ExtendedString("XmlXCAF"))
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(False)
    if reader.ReadFile(path) != IFSelect_RetDone:
        raise _bad("this is not a whole STEP file")
    if not reader.Transfer(doc):
        raise _bad("the STEP file has nothing in it that can be read")
    tool = XCAFDoc_DocumentTool.ShapeTool_s(doc.Main())
    out: list[_Body] = []

    def walk(label: Any, place: Any, name: str, depth: int) -> None:
        if depth > 40 or len(out) > MOST_SOLIDS:
            raise _bad(
                f"the assembly is deeper than 40 or has more than {MOST_SOLIDS} solids", "Export only the board."
            )
        real = TDF_Label()
        if tool.IsReference_s(label) and tool.GetReferredShape_s(label, real):
            place = place.Multiplied(tool.GetLocation_s(label))
            name = _name(label) or name
            inner = _name(real)
            if not name or name.startswith("=>"):
                name = inner
            label = real
        else:
            name = _name(label) or name
        if tool.IsAssembly_s(label):
            parts = Sequence_TDF_Label()
            tool.GetComponents_s(label, parts, False)
            for k in range(1, parts.Length() + 1):
                walk(parts.Value(k), place, "", depth + 1)
            return
        shape = tool.GetShape_s(label).Moved(place)
        for solid in _all(shape, TopAbs_SOLID):
            # a name that is only a number is the file's own count, and says nothing
            out.append(_Body(name if name and not name.isdigit() else "part", TopoDS.Solid(solid)))

    free = Sequence_TDF_Label()
    tool.GetFreeShapes(free)
    for k in range(1, free.Length() + 1):
        walk(free.Value(k), TopLoc_Location(), "", 0)
    if not out:
        raise _bad("there is no solid in the STEP file", "Export solids, not surfaces or wires.")
    return out


def _all(shape: Any, kind: Any) -> Iterator[TopoDS_Shape]:
    it = TopExp_Explorer(shape, kind)
    while it.More():
        yield it.Current()
        it.Next()


def _volume(shape: Any) -> float:
    g = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, g)
    return float(abs(g.Mass()))


@dataclass
class _Flat:
    """A flat face: outward normal, distance from the origin along it, area."""

    face: Any
    normal: Array
    at: float
    area: float


def _flats(solid: Any) -> list[_Flat]:
    out = []
    for f in _all(solid, TopAbs_FACE):
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
class _Slab:
    normal: Array
    lower: float  # along the normal
    upper: float
    area: float
    body: int
    fused: bool
    top: list[_Flat]
    bottom: list[_Flat]


def _slab(bodies: list[_Body]) -> _Slab | None:
    """The board: the prismatic solid with the largest face, else the largest pair of planes of a fused one."""
    best: _Slab | None = None
    for fused in (False, True):
        for i, b in enumerate(bodies):
            groups = _group(_flats(b.shape))
            volume = _volume(b.shape)
            for n, at, area, top in groups[:6]:
                if best is not None and area <= best.area:
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
                        best = _Slab(n, at - t, at, area, i, fused, top, bottom)
                        break
        if best is not None:
            return best
    return None


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


def _area(flats: list[_Flat], frame: Array, origin: Array) -> Polygon:
    """The faces of one plane as a polygon in the board's frame. A face split in two, also through a hole, is whole again."""
    parts = []
    for f in flats:
        outer = BRepTools.OuterWire_s(f.face)
        shell: Array | None = None
        holes = []
        for w in _all(f.face, TopAbs_WIRE):
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


def _ring(ring: Any) -> Array:
    """The corners of a ring; those on a straight line (where a face was split) or all but touching their neighbour left out."""
    p = np.asarray(ring.simplify(1e-4).coords)[:-1]
    keep = np.linalg.norm(p - np.roll(p, 1, axis=0), axis=1) > 1e-4
    return np.asarray(p[keep])


def _along(area: Polygon) -> Array:
    """The longer side of the smallest rectangle round an outline, as a direction in the plane."""
    box = np.asarray(area.minimum_rotated_rectangle.exterior.coords)
    a, b = box[1] - box[0], box[2] - box[1]
    u = a if np.linalg.norm(a) >= np.linalg.norm(b) - 1e-9 else b
    return np.asarray(u / np.linalg.norm(u))


def _trsf(frame: Array, origin: Array) -> gp_Trsf:
    """The transformation into the board's frame."""
    ax = gp_Ax3(gp_Pnt(*origin), gp_Dir(*frame[:, 2]), gp_Dir(*frame[:, 0]))
    t = gp_Trsf()
    t.SetTransformation(ax)
    return t


def _box(shape: Any) -> tuple[Array, Array]:
    b = Bnd_Box()
    b.SetGap(0.0)
    BRepBndLib.AddOptimal_s(shape, b, False, False)
    c0, c1 = b.CornerMin(), b.CornerMax()
    return np.array([c0.X(), c0.Y(), c0.Z()]), np.array([c1.X(), c1.Y(), c1.Z()])


def _round_holes(slab: _Slab, frame: Array, origin: Array, solid: Any) -> tuple[list[Hole], int]:
    """Round holes of both faces with nothing between, and how many openings are not round."""
    tops = [_ring(r) for r in _area(slab.top, frame, origin).interiors]
    below = [_ring(r) for r in _area(slab.bottom, frame, origin).interiors]
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


def recognise_step(data: bytes, name: str = "board", progress: Progress = silent) -> Recognised:
    """Recognise a board, or else a body, in a STEP file. Raises DesignError where it cannot be read."""
    if b"ISO-10303-21" not in data[:4096]:
        raise _bad("this does not begin as a STEP file does")
    progress(0.05, "reading the file")
    with tempfile.TemporaryDirectory(prefix="rhombex-") as room:
        path = Path(room) / "in.step"
        path.write_bytes(data)
        bodies = _bodies(str(path))
    progress(0.4, f"{len(bodies)} solids: looking for the board")
    slab = _slab(bodies)
    if slab is None:
        return _body(bodies, name)
    solid = bodies[slab.body].shape
    n = slab.normal
    seed = np.eye(3)[int(np.abs(n).argmin())]
    x = np.cross(seed, n) / np.linalg.norm(np.cross(seed, n))
    frame = np.column_stack([x, np.cross(n, x), n])
    origin = n * slab.lower
    u = _along(_area(slab.top, frame, origin))
    x = frame[:, 0] * u[0] + frame[:, 1] * u[1]
    if x[int(np.abs(x).argmax())] < 0:  # along the file's own axis rather than against it
        x = -x
    frame = np.column_stack([x, np.cross(n, x), n])
    rest = [(b.name, b.shape) for i, b in enumerate(bodies) if i != slab.body]
    notes: list[str] = []
    thick = slab.upper - slab.lower
    low, high = _box(solid.Moved(TopLoc_Location(_trsf(frame, origin))))
    # small parts fused to a large board hardly change its volume: what stands out of the slab tells
    if slab.fused or low[2] < -0.05 or high[2] > thick + 0.05:
        rest += [("fused part", s) for s in _cut_off(solid, frame, origin, thick)]
        notes.append("Board and parts are one solid; the board was cut out between its two planes.")
    progress(0.6, "measuring the parts")
    boxes = []
    for k, (part, shape) in enumerate(rest):
        if k % 50 == 0:
            progress(0.6 + 0.3 * k / max(1, len(rest)), f"part {k + 1} of {len(rest)}")
        moved = shape.Moved(TopLoc_Location(_trsf(frame, origin)))
        a, b = _box(moved)
        if (b - a).min() > 1e-6:
            boxes.append((part, a, b))
    # up is the side on which the parts stand
    above = sum(float(np.prod(b - a)) for _, a, b in boxes if (a[2] + b[2]) / 2 > thick / 2)
    below = sum(float(np.prod(b - a)) for _, a, b in boxes if (a[2] + b[2]) / 2 <= thick / 2)
    down = below > above
    if down:
        frame = frame @ np.diag([1.0, -1.0, -1.0])  # half a turn about x
        origin = n * slab.upper
    area = _area(slab.top, frame, origin)
    x0, y0, x1, y1 = area.bounds
    origin = origin + frame @ np.array([x0, y0, 0.0])
    size = (float(x1 - x0), float(y1 - y0), thick)
    if down:
        slab.top, slab.bottom = slab.bottom, slab.top
    holes, odd = _round_holes(slab, frame, origin, solid)
    if odd:
        notes.append(f"{odd} openings are not round holes through the board.")
    progress(0.92, "finding edges")
    found = []
    seen: dict[str, int] = {}
    for part, shape in rest:
        a, b = _box(shape.Moved(TopLoc_Location(_trsf(frame, origin))))
        if (b - a).min() <= 1e-6:
            continue
        seen[part] = seen.get(part, 0) + 1
        label = part if seen[part] == 1 else f"{part} {seen[part]}"
        edge, over = overhang(tuple(a), tuple(b), size)
        found.append(
            Found(
                name=label[:80],
                lo=tuple(a),
                hi=tuple(b),
                side="top" if (a[2] + b[2]) / 2 > thick / 2 else "bottom",
                edge=edge,
                overhang_mm=over,
            )
        )
    outline = _ring(area.exterior) - np.array([x0, y0])
    up = frame[:, 2]
    return Recognised(
        kind="board",
        name=name,
        format="STEP",
        unit="mm",
        unit_from="the file",
        size_mm=size,
        outline=tuple((float(p[0]), float(p[1])) for p in outline[:400]),
        holes=tuple(sorted(holes, key=lambda h: (h.at[1], h.at[0]))),
        found=tuple(found),
        up=_axis_words(up),
        turned=_turn_words(frame),
        notes=tuple(notes),
    )


def _cut_off(solid: Any, frame: Array, origin: Array, thick: float) -> list[Any]:
    """What is left of a fused solid above and below the slab, in pieces."""
    moved = solid.Moved(TopLoc_Location(_trsf(frame, origin)))
    a, b = _box(moved)
    wide = BRepPrimAPI_MakeBox(gp_Pnt(a[0] - 1, a[1] - 1, 0.0), gp_Pnt(b[0] + 1, b[1] + 1, thick)).Shape()
    cut = BRepAlgoAPI_Cut(moved, wide)
    back = TopLoc_Location(_trsf(frame, origin).Inverted())
    if not cut.IsDone():
        return []
    # what stands over the edge loses the strip beside the board, which no connector's height hangs on
    return [s.Moved(back) for s in _all(cut.Shape(), TopAbs_SOLID)]


def _axis_words(v: Array) -> str:
    k = int(np.abs(v).argmax())
    if abs(v[k]) > 0.999:
        return f"{'+' if v[k] > 0 else '-'}{'xyz'[k]} of the file"
    return "tilted in the file: ({:.3f}, {:.3f}, {:.3f})".format(*v)


def _turn_words(frame: Array) -> str:
    return (
        "as it lies in the file"
        if np.allclose(frame, np.eye(3), atol=1e-6)
        else "turned to lie flat, longer side along x"
    )


def _body(bodies: list[_Body], name: str) -> Recognised:
    """No board in it: every solid as a box, standing on the lowest point."""
    boxes = [(b.name, *_box(b.shape)) for b in bodies]
    lo = np.min([a for _, a, _ in boxes], axis=0)
    hi = np.max([b for _, _, b in boxes], axis=0)
    return Recognised(
        kind="body",
        name=name,
        format="STEP",
        unit="mm",
        unit_from="the file",
        size_mm=tuple(hi - lo),
        found=tuple(
            Found(name=f"{n} {k + 1}"[:80], lo=tuple(a - lo), hi=tuple(b - lo), side="top")
            for k, (n, a, b) in enumerate(boxes)
        ),
        up="+z of the file",
        turned="as it lies in the file",
        notes=("No flat board 0.3 to 3.5 mm thick was found; it is taken as a body.",),
    )
