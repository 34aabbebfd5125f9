"""Meshes that recipes name by their hash: kept here once, looked up by both kernels."""

from __future__ import annotations

import hashlib

import numpy as np
from numpy.typing import NDArray

from rhombex.core.memo import Memo
from rhombex.core.plain import DesignError

MOST_KEPT = 200

_kept: Memo[str, tuple[NDArray[np.float64], NDArray[np.int64]]] = Memo(MOST_KEPT)


def keep(verts: NDArray[np.float64], tri: NDArray[np.int64]) -> str:
    """Keep a closed mesh, vertices (n, 3) in mm and triangles (m, 3); its name is the hash of both."""
    v, t = np.array(verts, np.float64, order="C"), np.array(tri, np.int64, order="C")
    name = hashlib.sha256(v.tobytes() + b"|" + t.tobytes()).hexdigest()[:32]
    _kept.put(name, (v, t))
    return name


def held(name: str) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """A mesh by its name. Raises DesignError where it is not at hand."""
    found = _kept.get(name)
    if found is None:
        raise DesignError("mesh", f"the mesh {name[:8]} is not at hand", "Read its file in again.")
    return found
