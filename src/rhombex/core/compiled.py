"""`njit`, which compiles what is too slow in Python, loaded without what no compiled code here uses: half a second at every start."""

from __future__ import annotations

import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from importlib import import_module
from typing import Any, TypeVar, cast


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
with without("scipy", "coverage", "yaml"):
    import numba
    from numba.core.caching import FunctionCache
    from numba.core.runtime.nrt import rtsys

    import_module("numba.np.arraymath")  # numba itself looks only when it first compiles


class _Kept(FunctionCache):
    """What was compiled before and is kept in files. numba reads all that it knows of types and functions before it loads any of it, and again before it
    compiles, where alone that is used."""

    def load_overload(self, sig: Any, target_context: Any) -> Any:
        rtsys.initialize(target_context)  # compiled code has its arrays from it
        with self._guard_against_spurious_io_errors():
            return self._load_overload(sig, target_context)  # type: ignore[no-untyped-call]


F = TypeVar("F", bound=Callable[..., Any])


def njit(work: F) -> F:
    """`work`, compiled when it is first called with arguments of their types, and kept in a file beside its module."""
    compiled = numba.njit(work)
    compiled._cache = _Kept(work)  # type: ignore[no-untyped-call]
    return cast(F, compiled)
