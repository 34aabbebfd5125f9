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

from rhombex.core.geometry.mesh_kernel import triangles

APPLICATION = "Rhombex"


@dataclass(frozen=True)
class NamedMesh:
    """A mesh with its name and colour (red, green, blue, 0-255) and, in a set, where it lies (x, y) in mm."""

    name: str
    mesh: Manifold
    colour: tuple[int, int, int]
    at: tuple[float, float] = (0.0, 0.0)


def three_mf(meshes: list[NamedMesh], title: str, notes: dict[str, str] | None = None) -> bytes:
    """A 3MF package in millimetres. `notes` become metadata in Rhombex's own namespace."""
    wrapper = lib3mf.get_wrapper()
    model = wrapper.CreateModel()
    model.SetUnit(lib3mf.ModelUnit.MilliMeter)
    group = model.GetMetaDataGroup()
    group.AddMetaData("", "Title", title, "xs:string", True)
    group.AddMetaData("", "Application", APPLICATION, "xs:string", True)
    for key, value in (notes or {}).items():
        group.AddMetaData("urn:rhombex:process:1", key, value, "xs:string", True)
    for m in meshes:
        verts, tri = single_precision(m.mesh)
        obj = model.AddMeshObject()
        obj.SetName(m.name)
        obj.SetGeometry(_positions(verts), _triangles(tri))
        colours = model.AddBaseMaterialGroup()
        red, green, blue = m.colour
        colour = wrapper.RGBAToColor(red, green, blue, 255)
        obj.SetObjectLevelProperty(colours.GetResourceID(), colours.AddMaterial(m.name, colour))
        model.AddBuildItem(obj, _shift(wrapper, m.at))
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


def _shift(wrapper: lib3mf.Wrapper, at: tuple[float, float]) -> lib3mf.Transform:
    return wrapper.GetTranslationTransform(at[0], at[1], 0.0)


def single_precision(m: Manifold) -> tuple[NDArray[np.float32], NDArray[np.int64]]:
    """The mesh in the 32-bit floats that files carry: points that fall together are welded, triangles without area go."""
    verts, tri = triangles(m)
    single, weld = np.unique(verts.astype(np.float32), axis=0, return_inverse=True)
    w = np.asarray(weld).reshape(-1)[tri]
    keep = (w[:, 0] != w[:, 1]) & (w[:, 1] != w[:, 2]) & (w[:, 2] != w[:, 0])
    w = w[keep]
    # The kernel's order of triangles depends on what it made before; the file's must not.
    first = np.argmin(w, axis=1)
    w = np.take_along_axis(w, (first[:, None] + np.arange(3)) % 3, axis=1)
    return single, w[np.lexsort(w.T[::-1])]


def stl(m: Manifold) -> bytes:
    """Binary STL."""
    verts, tri = single_precision(m)
    p = verts[tri]
    n = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    n /= np.maximum(np.linalg.norm(n, axis=1), 1e-12)[:, None]
    record = np.zeros(len(p), dtype=[("n", "<f4", 3), ("p", "<f4", (3, 3)), ("a", "<u2")])
    record["n"], record["p"] = n, p
    return b"Rhombex, millimetres".ljust(80, b" ") + struct.pack("<I", len(p)) + record.tobytes()
