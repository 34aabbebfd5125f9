"""Meshes that recipes name by their hash: kept here once, looked up by both kernels."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from threading import RLock

import numpy as np
from numpy.typing import NDArray

from rhombex.core.plain import DesignError

MOST_KEPT = 200

_kept: OrderedDict[str, tuple[NDArray[np.float64], NDArray[np.int64]]] = OrderedDict()
_lock = RLock()


def keep(verts: NDArray[np.float64], tri: NDArray[np.int64]) -> str:
    """Keep a closed mesh, vertices (n, 3) in mm and triangles (m, 3); its name is the hash of both."""
    v, t = np.array(verts, np.float64, order="C"), np.array(tri, np.int64, order="C")
    name = hashlib.sha256(v.tobytes() + b"|" + t.tobytes()).hexdigest()[:32]
    with _lock:
        _kept[name] = (v, t)
        _kept.move_to_end(name)
        while len(_kept) > MOST_KEPT:
            _kept.popitem(last=False)
    return name


def held(name: str) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """A mesh by its name. Raises DesignError where it is not at hand."""
    with _lock:
        found = _kept.get(name)
        if found is None:
            raise DesignError("mesh", f"the mesh {name[:8]} is not at hand", "Read its file in again.")
        _kept.move_to_end(name)
        return found
