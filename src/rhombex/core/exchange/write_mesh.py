"""Meshes out: 3MF (named, in millimetres, coloured) and binary STL."""

from __future__ import annotations

import ctypes
import struct
from dataclasses import dataclass
from typing import Any

import lib3mf
import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from rhombex.core.geometry.weld import single_precision

APPLICATION = "Rhombex"


PROCESS = "urn:rhombex:process:1"  # the namespace of the notes on how something is printed


@dataclass(frozen=True)
class NamedMesh:
    """A mesh with its name and colour (red, green, blue, 0-255). Where it lies: the lower left corner of the box round it, turned by
    `angle_deg` to the left, at `at` (x, y) in mm. `number`: its part number; `notes`: how it is printed."""

    name: str
    mesh: Manifold
    colour: tuple[int, int, int]
    at: tuple[float, float] = (0.0, 0.0)
    angle_deg: float = 0.0
    number: str = ""
    notes: tuple[tuple[str, str], ...] = ()


def three_mf(meshes: list[NamedMesh], title: str, notes: dict[str, str] | None = None) -> bytes:
    """A 3MF package in millimetres. `notes` become metadata in Rhombex's own namespace, those of a mesh the metadata of its object."""
    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    group = model.GetMetaDataGroup()
    group.AddMetaData("", "Title", title, "xs:string", True)
    group.AddMetaData("", "Application", APPLICATION, "xs:string", True)
    for key, value in (notes or {}).items():
        group.AddMetaData(PROCESS, key, value, "xs:string", True)
    for m in meshes:
        verts, tri = single_precision(m.mesh)
        obj = model.AddMeshObject()
        obj.SetName(m.name)
        if m.number:
            obj.SetPartNumber(m.number)
        for key, value in m.notes:
            obj.GetMetaDataGroup().AddMetaData(PROCESS, key, value, "xs:string", True)
        obj.SetGeometry(_positions(verts), _triangles(tri))
        colours = model.AddBaseMaterialGroup()
        red, green, blue = m.colour
        colour = wrapper.RGBAToColor(red, green, blue, 255)
        obj.SetObjectLevelProperty(colours.GetResourceID(), colours.AddMaterial(m.name, colour))
        model.AddBuildItem(obj, _placed(wrapper, m, verts))
    writer = model.QueryWriter("3mf")
    buffer = writer.WriteToBuffer()
    return bytes(buffer)


def _positions(verts: NDArray[np.float32]) -> Any:
    flat = np.ascontiguousarray(verts, dtype=np.float32)
    array = (lib3mf.Position * len(flat))()
    ctypes.memmove(array, flat.ctypes.data, flat.nbytes)
    return array


def _triangles(tri: NDArray[np.int64]) -> Any:
    flat = np.ascontiguousarray(tri, dtype=np.uint32)
    array = (lib3mf.Triangle * len(flat))()
    ctypes.memmove(array, flat.ctypes.data, flat.nbytes)
    return array


def _placed(wrapper: lib3mf.Wrapper, m: NamedMesh, verts: NDArray[np.float32]) -> lib3mf.Transform:
    """Rows of the 4 x 3 matrix. Turned about its corner a piece reaches beyond it, by what its own corners say."""
    if m.angle_deg == 0.0:
        return wrapper.GetTranslationTransform(m.at[0], m.at[1], 0.0)
    by = wrapper.GetIdentityTransform()
    t = np.radians(m.angle_deg)
    c, s = (0.0, 1.0) if m.angle_deg == 90.0 else (float(np.cos(t)), float(np.sin(t)))
    x, y = verts[:, 0].astype(float), verts[:, 1].astype(float)
    to = (m.at[0] - float((c * x - s * y).min()), m.at[1] - float((s * x + c * y).min()), 0.0)
    for i, row in enumerate(((c, s, 0.0), (-s, c, 0.0), (0.0, 0.0, 1.0), to)):
        for k, value in enumerate(row):
            by.Fields[i][k] = value
    return by


def stl(m: Manifold) -> bytes:
    """Binary STL."""
    verts, tri = single_precision(m)
    p = verts[tri]
    n = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    n /= np.maximum(np.linalg.norm(n, axis=1), 1e-12)[:, None]
    record = np.zeros(len(p), dtype=[("n", "<f4", 3), ("p", "<f4", (3, 3)), ("a", "<u2")])
    record["n"], record["p"] = n, p
    return b"Rhombex, millimetres".ljust(80, b" ") + struct.pack("<I", len(p)) + record.tobytes()
