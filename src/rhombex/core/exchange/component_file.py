"""A component as a file: JSON with its schema version, and STEP of its hard solids."""

from __future__ import annotations

import json
from typing import Any

from rhombex.core.migrations import of_own_family
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError, read_as
from rhombex.core.progress import Progress, silent
from rhombex.core.space import Vec3

VERSION = 2
KEYS = {
    1: ("rhombex_part", "part"),
    2: ("rhombex_component", "component"),
}  # by version: what marks the file, and what holds the component


def component_json(c: Component) -> str:
    """The component as JSON, fields in their order."""
    mark, field = KEYS[VERSION]
    row = {mark: VERSION, field: c.model_dump(mode="json", exclude={"shape"})}
    return json.dumps(row, indent=1, ensure_ascii=False) + "\n"


def read_component(data: bytes) -> Component:
    """The component of such JSON. Raises DesignError naming the field."""
    try:
        row: Any = json.loads(data)
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as e:
        raise DesignError("file", f"it is not whole JSON ({e})", "Export the component again.") from None
    version = next((v for v, (mark, _) in KEYS.items() if isinstance(row, dict) and row.get(mark) == v), None)
    if version is None:
        raise DesignError(
            "file", "this is not a component of Rhombex", "Choose a file that was exported from the library."
        )
    field = KEYS[version][1]
    return read_as(Component, of_own_family(row.get(field)), field)


def component_step(c: Component, progress: Progress = silent) -> bytes:
    """The hard solids of a component as STEP, holes drilled through its board. Slow and large: run it confined."""
    import tempfile
    from pathlib import Path

    from OCP.BRep import BRep_Builder
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder
    from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
    from OCP.IFSelect import IFSelect_RetDone
    from OCP.Message import Message
    from OCP.STEPControl import STEPControl_AsIs, STEPControl_Writer
    from OCP.TopoDS import TopoDS_Compound

    Message.DefaultMessenger_s().Printers().Clear()
    both = TopoDS_Compound()
    build = BRep_Builder()
    build.MakeCompound(both)
    hard = [s for s in c.solids if s.role not in ("plug", "keepout")]
    for k, s in enumerate(hard):
        progress(k / len(hard), s.name)
        if s.round:
            r = (s.hi[0] - s.lo[0]) / 2
            at = gp_Ax2(gp_Pnt((s.lo[0] + s.hi[0]) / 2, (s.lo[1] + s.hi[1]) / 2, s.lo[2]), gp_Dir(0, 0, 1))
            shape = BRepPrimAPI_MakeCylinder(at, r, s.hi[2] - s.lo[2]).Shape()
        elif s.corners:
            shape = _convex(s.corners)
        else:
            shape = BRepPrimAPI_MakeBox(gp_Pnt(*s.lo), gp_Pnt(*s.hi)).Shape()
        if s.role == "board":
            for m in (m for m in c.mounts if m.side == "bottom"):
                drill = gp_Ax2(gp_Pnt(m.at[0], m.at[1], s.lo[2] - 1), gp_Dir(0, 0, 1))
                tool = BRepPrimAPI_MakeCylinder(drill, m.hole_mm / 2, s.hi[2] - s.lo[2] + 2).Shape()
                shape = BRepAlgoAPI_Cut(shape, tool).Shape()
        build.Add(both, shape)
    writer = STEPControl_Writer()
    writer.Transfer(both, STEPControl_AsIs)
    with tempfile.TemporaryDirectory(prefix="rhombex-") as room:
        path = Path(room) / "component.step"
        if writer.Write(str(path)) != IFSelect_RetDone:
            raise DesignError("component", "the STEP file could not be written")
        return path.read_bytes()


def _convex(corners: tuple[Vec3, ...]) -> Any:
    """The convex body of its corners, triangles of one plane joined to one face."""
    import numpy as np
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon, BRepBuilderAPI_MakeSolid
    from OCP.BRepBuilderAPI import BRepBuilderAPI_Sewing as Sewing
    from OCP.gp import gp_Pnt
    from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
    from OCP.TopoDS import TopoDS
    from scipy.spatial import ConvexHull

    p = np.array(corners)
    hull = ConvexHull(p)
    sewing = Sewing(1e-3)
    for tri, plane in zip(hull.simplices, hull.equations, strict=True):
        a, b, c = p[tri]
        if np.cross(b - a, c - a) @ plane[:3] < 0:
            b, c = c, b
        wire = BRepBuilderAPI_MakePolygon(*(gp_Pnt(*map(float, q)) for q in (a, b, c)), True).Wire()
        sewing.Add(BRepBuilderAPI_MakeFace(wire, True).Face())
    sewing.Perform()
    solid = BRepBuilderAPI_MakeSolid(TopoDS.Shell(sewing.SewedShape())).Solid()
    joined = ShapeUpgrade_UnifySameDomain(solid, True, True, False)
    joined.Build()
    return joined.Shape()
