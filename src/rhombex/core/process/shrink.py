"""What makes a part crack and lift while it cools: sharp inner corners, jumps of section, a large foot."""

from __future__ import annotations

import numpy as np

from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.mesh_kernel import triangles
from rhombex.core.geometry.recipe import Solid
from rhombex.core.geometry.sections import layer_integrals
from rhombex.core.memo import Memo
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown


class ShrinkRisk(Frozen):
    """Geometry of a part as it lies. `inner_corners`: standing edges where walls meet sharply inward; `jump`: the largest
    sudden change of section, as a ratio; `foot_mm`: the longest side on the bed; `slender`: height over narrowest side."""

    inner_corners: int
    inner_corner_mm: Shown
    jump: Shown
    jump_z_mm: Shown
    foot_mm: Shown
    slender: Shown


_risks: Memo[str, ShrinkRisk] = Memo(256)


def _risk(recipe: Solid) -> ShrinkRisk:
    mesh = mesh_kernel.evaluate(recipe)
    verts, tri = triangles(mesh)
    p = verts[tri]
    n = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    n /= np.maximum(np.linalg.norm(n, axis=1), 1e-12)[:, None]
    ends = np.concatenate([tri[:, [0, 1]], tri[:, [1, 2]], tri[:, [2, 0]]])
    owner = np.tile(np.arange(len(tri)), 3)
    third = np.concatenate([tri[:, 2], tri[:, 0], tri[:, 1]])
    key = np.minimum(ends[:, 0], ends[:, 1]) * len(verts) + np.maximum(ends[:, 0], ends[:, 1])
    order = np.argsort(key, kind="stable")
    a, b = order[0::2], order[1::2]
    u, v = verts[ends[a, 0]], verts[ends[a, 1]]
    along = v - u
    length = np.linalg.norm(along, axis=1)
    standing = np.abs(along[:, 2]) > 0.9 * length
    turn = np.degrees(np.arccos(np.clip((n[owner[a]] * n[owner[b]]).sum(axis=1), -1, 1)))
    # inward: the far corner of one face lies before the plane of the other
    inward = (n[owner[a]] * (verts[third[b]] - u)).sum(axis=1) > 1e-6
    sharp = standing & inward & (turn > val("limits.shrink.corner_deg")) & (length > val("limits.shrink.corner_mm"))
    x0, y0, z0, x1, y1, z1 = mesh.bounding_box()
    z = np.arange(z0 + 0.5, z1, 0.5)
    jump, where = 1.0, 0.0
    if len(z) > 2:
        area, _ = layer_integrals(mesh, z)
        low = np.minimum(area[1:], area[:-1])
        step = np.maximum(area[1:], area[:-1]) / np.maximum(low, 1.0)
        k = int(np.argmax(step))
        jump, where = float(step[k]), float(z[k])
    return ShrinkRisk(
        inner_corners=int(sharp.sum()),
        inner_corner_mm=float(length[sharp].sum()),
        jump=jump,
        jump_z_mm=where,
        foot_mm=max(x1 - x0, y1 - y0),
        slender=(z1 - z0) / max(min(x1 - x0, y1 - y0), 1e-6),
    )


def shrink_risk(recipe: Solid) -> ShrinkRisk:
    """The risks of a part as it lies, remembered by content hash."""
    return _risks.make(recipe.digest, lambda: _risk(recipe))
