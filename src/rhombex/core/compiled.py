"""`njit`, which compiles what is too slow in Python, loaded without what no compiled code here uses: a quarter of a second at every start."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import import_module


@contextmanager
def without(*modules: str) -> Iterator[None]:
    """Inside, modules that nobody has imported yet are not to be had: whoever can do without them does."""
    away = [m for m in modules if m not in sys.modules]
    sys.modules.update(dict.fromkeys(away))  # type: ignore[arg-type]  # None: an import of it fails
    try:
        yield
    finally:
        for m in away:
            del sys.modules[m]


# numba looks for them to multiply matrices, to report lines that it compiled, and for settings in a file
with without("scipy.linalg.cython_blas", "coverage", "yaml"):
    from numba import njit

    import_module("numba.np.arraymath")  # numba itself looks only when it first compiles

__all__ = ["njit", "without"]
