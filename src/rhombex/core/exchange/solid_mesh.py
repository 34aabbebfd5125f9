"""Meshes in as solids to be sliced: welded, closed, the right way out, or refused with what is wrong."""

from __future__ import annotations

import numpy as np
from manifold3d import Error, Manifold, Mesh
from numpy.typing import NDArray

from rhombex.core.exchange.read_3mf import read_3mf
from rhombex.core.exchange.read_mesh import read_stl
from rhombex.core.geometry.weld import weld
from rhombex.core.plain import DesignError

MEND = "Mend the mesh where it was made, and export it again."


def read_solid(data: bytes) -> Manifold:
    """A solid from the bytes of an STL or 3MF. Raises DesignError where it is none."""
    points = read_3mf(data) if data[:2] == b"PK" else read_stl(data)
    return solid_of(points)


def solid_of(points: NDArray[np.float64]) -> Manifold:
    """A solid from triangles' corners (n, 3, 3) in mm. Raises DesignError naming holes, turned faces, sizes."""
    size = points.max(axis=(0, 1)) - points.min(axis=(0, 1))
    if (size > 2000).any() or (size < 0.05).any():
        raise DesignError(
            "mesh",
            "it measures " + " x ".join(f"{x:.3g}" for x in size) + " mm; 0.05 to 2000 are taken",
            "Check the file's unit: it is read as millimetres.",
        )
    verts, tri = weld(points)
    n = len(verts)
    edges = np.concatenate([tri[:, [0, 1]], tri[:, [1, 2]], tri[:, [2, 0]]])
    there, back = np.sort(edges[:, 0] * n + edges[:, 1]), np.sort(edges[:, 1] * n + edges[:, 0])
    if not np.array_equal(there, back):
        undirected = np.sort(edges, axis=1)
        _, count = np.unique(undirected[:, 0] * n + undirected[:, 1], return_counts=True)
        open_edges = int((count % 2 == 1).sum())
        if open_edges:
            raise DesignError("mesh", f"it has holes: {open_edges} edges belong to one face only", MEND)
        raise DesignError("mesh", "some of its faces are turned inside out against their neighbours", MEND)
    mesh = Mesh(vert_properties=verts.astype(np.float32), tri_verts=tri.astype(np.uint32))
    solid = Manifold(mesh)
    if solid.status() != Error.NoError or solid.is_empty():
        raise DesignError("mesh", "its faces do not close to a solid", MEND)
    if solid.volume() <= 0:
        raise DesignError("mesh", "it is inside out: its faces look inward", MEND)
    return solid
