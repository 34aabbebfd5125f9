"""Recipes to B-rep solids with OCP, for STEP. Slow and large: import it only where STEP is made."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Builder
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_Sewing,
    BRepBuilderAPI_Transform,
)
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepClass3d import BRepClass3d
from OCP.BRepGProp import BRepGProp
from OCP.BRepOffsetAPI import BRepOffsetAPI_ThruSections
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.collections import List_TopoDS_Shape
from OCP.GC import GC_MakeArcOfCircle
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.ShapeFix import ShapeFix_Shape
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.TopAbs import TopAbs_SHELL, TopAbs_SOLID
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Compound, TopoDS_Shape

from rhombex.core.geometry import recipe as r
from rhombex.core.geometry.meshes import held
from rhombex.core.memo import Memo
from rhombex.core.space import Frame


class BrepError(RuntimeError):
    """The B-rep kernel could not make a valid solid."""


FUZZY_MM = 1e-5  # nearer to one another faces and edges are one: webs that touch a boss along a line fell out of unions, or made shapes that are not valid


def _wire(loop: r.Loop, z: float = 0.0) -> Any:
    make = BRepBuilderAPI_MakeWire()
    n = len(loop)
    for i, (x, y, bulge) in enumerate(loop):
        x1, y1, _ = loop[(i + 1) % n]
        a, b = gp_Pnt(x, y, z), gp_Pnt(x1, y1, z)
        if bulge == 0.0:
            make.Add(BRepBuilderAPI_MakeEdge(a, b).Edge())
        else:
            # the arc's middle lies off the chord by bulge * half the chord, to the right of travel
            theta = 4 * math.atan(bulge)
            chord = math.hypot(x1 - x, y1 - y)
            sag = chord / 2 * math.tan(theta / 4)
            ux, uy = (x1 - x) / chord, (y1 - y) / chord
            mid = gp_Pnt((x + x1) / 2 + uy * sag, (y + y1) / 2 - ux * sag, z)
            make.Add(BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(a, mid, b).Value()).Edge())
    return make.Wire()


def _inside(p: tuple[float, float], loop: list[tuple[float, float]]) -> bool:
    hit, n = False, len(loop)
    for i in range(n):
        (xa, ya), (xb, yb) = loop[i], loop[(i + 1) % n]
        if (ya > p[1]) != (yb > p[1]) and p[0] < (xb - xa) * (p[1] - ya) / (yb - ya) + xa:
            hit = not hit
    return hit


def _faces(p: r.Profile) -> list[Any]:
    outlines = [r.loop_points(o, 0.05) for o in p.outers]
    faces = []
    for outer, outline in zip(p.outers, outlines, strict=True):
        make = BRepBuilderAPI_MakeFace(_wire(outer), True)
        for hole in p.holes:
            start = r.loop_points(hole, 0.05)[0]
            if len(outlines) == 1 or _inside(start, outline):
                make.Add(_wire(hole))
        faces.append(make.Face())
    return faces


def _list(shapes: list[Any]) -> Any:
    made = List_TopoDS_Shape()
    for s in shapes:
        made.Append(s)
    return made


def _boolean(op: Any, args: list[Any], tools: list[Any], what: str) -> Any:
    if not tools:
        return args[0] if len(args) == 1 else _compound(args)
    op.SetArguments(_list(args))
    op.SetTools(_list(tools))
    op.SetRunParallel(False)
    op.SetNonDestructive(True)  # what is remembered stays as it is
    op.SetFuzzyValue(FUZZY_MM)
    op.Build()
    if not op.IsDone() or op.Shape().IsNull():
        raise BrepError(f"the {what} failed")
    return op.Shape()


def _compound(shapes: list[Any]) -> Any:
    builder, comp = BRep_Builder(), TopoDS_Compound()
    builder.MakeCompound(comp)
    for s in shapes:
        builder.Add(comp, s)
    return comp


def _parts(s: r.Solid) -> list[r.Solid]:
    return [p for x in s.solids for p in _parts(x)] if isinstance(s, r.Union) else [s]


def _moved(shape: Any, f: Frame) -> Any:
    trsf = gp_Trsf()
    trsf.SetValues(*(v for i in range(3) for v in (f.x[i], f.y[i], f.z[i], f.origin[i])))
    return BRepBuilderAPI_Transform(shape, trsf, True).Shape()


def _sewn(verts: NDArray[np.float64], tri: NDArray[np.int64]) -> Any:
    """A solid of flat triangles, sewn along their edges."""
    sew = BRepBuilderAPI_Sewing(1e-6)
    for corners in verts[tri]:
        wire = BRepBuilderAPI_MakeWire()
        p = [gp_Pnt(*map(float, c)) for c in corners]
        for a, b in ((p[0], p[1]), (p[1], p[2]), (p[2], p[0])):
            wire.Add(BRepBuilderAPI_MakeEdge(a, b).Edge())
        sew.Add(BRepBuilderAPI_MakeFace(wire.Wire(), True).Face())
    sew.Perform()
    shell = sew.SewedShape()
    if shell.ShapeType() != TopAbs_SHELL:
        raise BrepError("the mesh does not close to one shell")
    return BRepBuilderAPI_MakeSolid(TopoDS.Shell(shell)).Solid()


_shapes: Memo[str, list[Any]] = Memo(400)  # the pieces of a part share all that was made before they were cut


def _evaluate(s: r.Solid) -> list[Any]:
    return _shapes.make(s.digest, lambda: _build(s))


def _build(s: r.Solid) -> list[Any]:
    out: list[Any]
    match s:
        case r.Extrude(height=h) if h <= 0:
            out = []
        case r.Extrude(profile=p, height=h):
            out = [BRepPrimAPI_MakePrism(f, gp_Vec(0, 0, h)).Shape() for f in _faces(p)]
        case r.Loft(bottom=b, top=t, height=h):
            make = BRepOffsetAPI_ThruSections(True, True)
            make.AddWire(_wire(b.outers[0]))
            make.AddWire(_wire(t.outers[0], h))
            make.CheckCompatibility(False)
            make.Build()
            out = [make.Shape()]
        case r.Revolve(profile=p, degrees=turn):
            # the kernel turns about z: the profile's y stands up first
            stood = Frame((0.0, 0.0, 0.0), (1, 0, 0), (0, 0, 1), (0, -1, 0))
            about = gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1))
            out = [
                BRepPrimAPI_MakeRevol(x, about, math.radians(turn)).Shape()
                for x in (_moved(f, stood) for f in _faces(p))
            ]
        case r.Meshed(mesh=name):
            out = [_sewn(*held(name))]
        case r.Array(solid=inner, frames=frames):
            shapes = [_moved(x, f) for f in frames for x in _evaluate(inner)]
            out = [_boolean(BRepAlgoAPI_Fuse(), shapes[:1], shapes[1:], "union of an array")]
        case r.Move(solid=inner, frame=f):
            out = [_moved(x, f) for x in _evaluate(inner)]
        case r.Union():
            shapes = [x for p in _parts(s) for x in _evaluate(p)]
            out = [_boolean(BRepAlgoAPI_Fuse(), shapes[:1], shapes[1:], "union")] if shapes else []
        case r.Difference(base=base, tools=tools):
            cut = [x for t in tools for p in _parts(t) for x in _evaluate(p)]
            kept = _evaluate(base)
            out = [_boolean(BRepAlgoAPI_Cut(), kept, cut, "cut")] if kept else []
        case r.Intersection(a=a, b=b):
            one, other = _evaluate(a), _evaluate(b)
            out = [_boolean(BRepAlgoAPI_Common(), one, other, "intersection")] if one and other else []
        case r.Filled(solid=inner):
            out = [
                BRepBuilderAPI_MakeSolid(BRepClass3d.OuterShell_s(x)).Solid()
                for shape in _evaluate(inner)
                for x in solids(shape)
            ]
        case _:
            raise TypeError(f"not a solid: {s!r}")
    return out


def evaluate(s: r.Solid) -> TopoDS_Shape:
    """The B-rep of a recipe. Raises BrepError where the result is empty or not valid."""
    return _whole.make(s.digest, lambda: _checked(s))


_whole: Memo[str, TopoDS_Shape] = Memo(40)


def _checked(s: r.Solid) -> TopoDS_Shape:
    shapes = _evaluate(s)
    plain = shapes[0] if len(shapes) == 1 else _compound(shapes)
    # faces of one surface are drawn as one; where that makes a shape that is not valid it is left as the booleans made it, or mended
    for made in (_unified, lambda x: x, _mended):
        shape = made(plain)
        if not shape.IsNull() and BRepCheck_Analyzer(shape).IsValid():
            return shape
    raise BrepError("the solid is not valid")


def _unified(shape: Any) -> Any:
    unify = ShapeUpgrade_UnifySameDomain(shape, True, True, False)
    unify.Build()
    return unify.Shape()


def _mended(shape: Any) -> Any:
    fix = ShapeFix_Shape(shape)
    fix.Perform()
    return _unified(fix.Shape())


def volume(shape: TopoDS_Shape) -> float:
    """Volume in mm3."""
    props = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, props)
    return float(props.Mass())


def solids(shape: TopoDS_Shape) -> list[Any]:
    """The separate solids of a shape."""
    found, ex = [], TopExp_Explorer(shape, TopAbs_SOLID)
    while ex.More():
        found.append(TopoDS.Solid(ex.Current()))
        ex.Next()
    return found


def moved(shape: TopoDS_Shape, frames: list[Frame]) -> TopoDS_Shape:
    """A shape in another frame: the innermost first."""
    for f in frames:
        shape = _moved(shape, f)
    return shape


def together(shapes: list[TopoDS_Shape]) -> TopoDS_Shape:
    """Several shapes as one, each as it is."""
    return shapes[0] if len(shapes) == 1 else _compound(shapes)


def hull(verts: NDArray[np.float64], tri: NDArray[np.int64]) -> TopoDS_Shape:
    """A solid of flat triangles, which close to one shell."""
    shape = _sewn(verts, tri)
    unify = ShapeUpgrade_UnifySameDomain(shape, True, True, False)
    unify.Build()
    return unify.Shape()
