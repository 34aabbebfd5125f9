"""glTF out: the opened case with what is in it, to be looked at elsewhere. Metres, y up, as the format wants."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import partial
from typing import Any

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray

from rhombex.core.geometry.mesh_kernel import triangles

M_PER_MM = 0.001


@dataclass(frozen=True)
class GlbBody:
    """A body in the case's frame, and its place there where the case is opened, (4, 4), mm."""

    name: str
    mesh: Manifold
    colour: tuple[int, int, int]
    place: NDArray[np.float64] = field(default_factory=lambda: np.eye(4))


def glb(bodies: list[GlbBody], title: str) -> bytes:
    """A binary glTF: a node for every body, named, with a material of its colour; faces are flat."""
    import trimesh  # slow to import
    from trimesh.visual.material import PBRMaterial
    from trimesh.visual.texture import TextureVisuals

    scene = trimesh.Scene()
    upright = np.array([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]], dtype=float)
    scene.metadata["title"] = title
    for b in bodies:
        verts, tri = triangles(b.mesh)
        corners = verts[tri].reshape(-1, 3) * M_PER_MM
        mesh = trimesh.Trimesh(corners, np.arange(len(corners)).reshape(-1, 3), process=False)
        shade = PBRMaterial(  # type: ignore[no-untyped-call]
            name=b.name,
            baseColorFactor=[*b.colour, 255],
            metallicFactor=0.0,
            roughnessFactor=0.8,
        )
        mesh.visual = TextureVisuals(material=shade)  # type: ignore[no-untyped-call]
        place = b.place.copy()
        place[:3, 3] *= M_PER_MM
        scene.add_geometry(mesh, node_name=b.name, geom_name=b.name, transform=upright @ place)
    made_by = partial(_made_by, name="Rhombex")
    return bytes(scene.export(file_type="glb", tree_postprocessor=made_by))  # type: ignore[no-untyped-call]


def _made_by(tree: dict[str, Any], name: str) -> None:
    tree["asset"]["generator"] = name
