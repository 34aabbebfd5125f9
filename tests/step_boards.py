"""Made-up board assemblies written as STEP, with what is true of them: to try the reader on."""

from __future__ import annotations

import math
import tempfile
from dataclasses import dataclass
from pathlib import Path
from random import Random
from typing import Any

from OCP.BRep import BRep_Builder
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakePolygon,
    BRepBuilderAPI_Transform,
)
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder, BRepPrimAPI_MakePrism
from OCP.gp import gp_Ax1, gp_Ax2, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.Interface import Interface_Static
from OCP.Message import Message
from OCP.STEPControl import STEPControl_AsIs, STEPControl_Writer
from OCP.TopoDS import TopoDS_Compound


@dataclass
class Board:
    """A board as it was made: size, holes (x, y, d), parts (lo, hi), overhangs by edge."""

    size: tuple[float, float, float]
    holes: list[tuple[float, float, float]]
    parts: list[tuple[tuple[float, float, float], tuple[float, float, float]]]
    overhangs: dict[str, float]
    how: str
    data: bytes


def _box(lo: tuple[float, ...], hi: tuple[float, ...]) -> Any:
    return BRepPrimAPI_MakeBox(gp_Pnt(*lo), gp_Pnt(*hi)).Shape()


def _drill(x: float, y: float, d: float, t: float, corners: int) -> Any:
    if corners == 0:
        return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, y, -1), gp_Dir(0, 0, 1)), d / 2, t + 2).Shape()
    poly = BRepBuilderAPI_MakePolygon()
    for k in range(corners):
        a = 2 * math.pi * k / corners
        poly.Add(gp_Pnt(x + d / 2 * math.cos(a), y + d / 2 * math.sin(a), -1))
    poly.Close()
    return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(poly.Wire()).Face(), gp_Vec(0, 0, t + 2)).Shape()


def step_bytes(shapes: list[Any], unit: str = "MM") -> bytes:
    both = TopoDS_Compound()
    build = BRep_Builder()
    build.MakeCompound(both)
    for s in shapes:
        build.Add(both, s)
    Message.DefaultMessenger_s().Printers().Clear()
    writer = STEPControl_Writer()
    Interface_Static.SetCVal_s("write.step.unit", unit)
    writer.Transfer(both, STEPControl_AsIs)
    with tempfile.TemporaryDirectory() as room:
        path = Path(room) / "b.step"
        writer.Write(str(path))
        Interface_Static.SetCVal_s("write.step.unit", "MM")
        return path.read_bytes()


def random_board(seed: int, solids: int = 30) -> Board:
    """A board with holes, connectors over edges, tall parts, vias; plain, faceted, fused, tilted, mirrored or in inches."""
    r = Random(seed)
    w, d = r.uniform(60, 170), r.uniform(30, 58)
    t = r.choice([0.8, 1.0, 1.6, 2.0])
    holes = [(3.5, 3.5), (w - r.uniform(3.5, 9), 3.5), (3.5, d - 3.5), (w - 3.5, d - r.uniform(3.5, 6))]
    size = r.choice([2.2, 2.7, 3.2, 4.0])
    how = r.choice(["plain", "faceted", "split", "fused", "tilted", "mirrored", "inches", "below"])
    corners = r.choice([12, 16, 24, 32]) if how == "faceted" else 0
    slab = _box((0, 0, 0), (w, d, t))
    for x, y in holes:
        slab = BRepAlgoAPI_Cut(slab, _drill(x, y, size, t, corners)).Shape()
    if how == "split":
        # through the middle of two holes, then put together again as two faces of one solid
        left, right = _box((-1, -1, -1), (3.5, d + 1, t + 1)), _box((3.5, -1, -1), (w + 1, d + 1, t + 1))
        slab = BRepAlgoAPI_Fuse(BRepAlgoAPI_Cut(slab, right).Shape(), BRepAlgoAPI_Cut(slab, left).Shape()).Shape()
    parts: list[tuple[tuple[float, float, float], tuple[float, float, float]]] = []
    overhangs: dict[str, float] = {}
    for edge in r.sample(["left", "right", "front", "back"], 3):
        over = round(r.uniform(0.8, 3.0), 2)
        at = r.uniform(0.35, 0.55)
        if edge in ("left", "right"):
            y0 = d * at
            x0, x1 = (-over, 9.0) if edge == "left" else (w - 9.0, w + over)
            parts.append(((x0, y0, t), (x1, y0 + 7, t + r.uniform(3, 14))))
        else:
            x0 = w * at
            y0, y1 = (-over, 8.0) if edge == "front" else (d - 8.0, d + over)
            parts.append(((x0, y0, t), (x0 + 9, y1, t + r.uniform(3, 14))))
        overhangs[edge] = over
    while len(parts) < solids - 1:
        x, y = r.uniform(12, w - 16), r.uniform(10, d - 14)
        a, b = r.uniform(1, 3), r.uniform(1, 3)
        box = ((x, y, t), (x + a, y + b, t + r.uniform(0.5, 6)))
        clear = all(box[1][i] < p[0][i] - 0.3 or box[0][i] > p[1][i] + 0.3 for p in parts for i in (0,)) or all(
            box[1][0] < p[0][0] - 0.3
            or box[0][0] > p[1][0] + 0.3
            or box[1][1] < p[0][1] - 0.3
            or box[0][1] > p[1][1] + 0.3
            for p in parts
        )
        if clear:
            parts.append(box)
        elif r.random() < 0.02:
            break
    shapes = [_box(lo, hi) for lo, hi in parts]
    if how == "fused":
        for s in shapes:
            slab = BRepAlgoAPI_Fuse(slab, s).Shape()
        shapes = []
    every = [slab, *shapes]
    move = gp_Trsf()
    if how in ("tilted", "plain", "inches"):
        move.SetTranslation(gp_Vec(r.uniform(-50, 50), r.uniform(-50, 50), r.uniform(-50, 50)))
    if how == "tilted":
        turn = gp_Trsf()
        turn.SetRotation(
            gp_Ax1(gp_Pnt(1, 2, 3), gp_Dir(r.uniform(0.1, 1), r.uniform(0.1, 1), r.uniform(0.1, 1))),
            r.uniform(0.3, 2.5),
        )
        move = turn.Multiplied(move)
    if how == "mirrored":
        move.SetMirror(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)))
    if how == "below":
        move.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)), math.pi)
    every = [BRepBuilderAPI_Transform(s, move, True).Shape() for s in every]
    return Board(
        (w, d, t),
        [(x, y, size) for x, y in holes],
        parts,
        overhangs,
        how,
        step_bytes(every, "INCH" if how == "inches" else "MM"),
    )
