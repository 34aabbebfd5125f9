"""What is loaded at a start: compiled code without what it does not use, and no kind of value is built that is not met."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import pytest
from pydantic import ValidationError

from rhombex.core.compiled import without
from rhombex.core.process.kernels import loop_areas
from rhombex.core.trail import Frozen

STARTED = """
import sys
import rhombex.core.report
from rhombex.core.trail import Frozen, built
print("scipy.linalg" in sys.modules, "coverage" in sys.modules, sys.modules["numba.np.arraymath"]._HAVE_BLAS)

def kinds(base=Frozen):
    for kind in base.__subclasses__():
        yield kind
        yield from kinds(kind)

print(len(list(kinds())) > 200, all(k.__pydantic_complete__ for k in kinds()))
built()
print(all(k.__pydantic_complete__ for k in kinds()))
import coverage, scipy.linalg.cython_blas
"""


def test_a_start_loads_and_builds_what_it_uses() -> None:
    r = subprocess.run([sys.executable, "-c", STARTED], capture_output=True, text=True, check=False)
    assert r.stderr == ""  # what was not to be had while numba was read can be imported by others
    assert r.stdout.splitlines() == ["False False False", "True False", "True"]


KEPT = """
import sys
import numpy as np
from rhombex.core.process.kernels import corner_cap, loop_areas
square = np.array([(0.0, 0.0), (4.0, 0.0), (4.0, 3.0), (0.0, 3.0)])
areas = loop_areas(square, np.array([0, 4], np.int64))
print(areas.tolist(), list(loop_areas._cache_hits.values()), "numba.np.random.generator_methods" in sys.modules)
sys.path.insert(0, sys.argv[1])
from thrice import thrice
print(thrice(np.arange(3.0)).tolist(), "numba.np.random.generator_methods" in sys.modules)
"""
THRICE = """
import numpy as np
from rhombex.core.compiled import njit
from rhombex.core.process.kernels import loop_areas

@njit
def thrice(x):
    out = np.empty(len(x) + 1)
    for k in range(len(x)):
        out[k] = 3 * x[k]
    out[len(x)] = loop_areas(np.array([[0.0, 0.0], [4.0, 0.0], [4.0, 3.0]]), np.array([0, 3]))[0]
    return out
"""


def test_kept_code_is_loaded_alone_and_new_code_is_compiled_beside_it(tmp_path: Path) -> None:
    """Once what is kept was loaded, with nothing that numba compiles by, a function that calls it is compiled and kept; another process loads it."""
    loop_areas(np.zeros((3, 2)), np.array([0, 3], np.int64))  # kept from here on, if it was not
    (tmp_path / "thrice.py").write_text(THRICE)
    for compiled_here in (True, False):
        r = subprocess.run([sys.executable, "-c", KEPT, str(tmp_path)], capture_output=True, text=True, check=False)
        assert r.stderr == ""
        assert r.stdout.splitlines() == ["[12.0] [1] False", f"[0.0, 3.0, 6.0, 6.0] {compiled_here}"]


def test_nothing_that_numba_compiles_by_is_read_to_load_what_is_kept(monkeypatch: pytest.MonkeyPatch) -> None:
    loop_areas(np.zeros((3, 2)), np.array([0, 3], np.int64))
    compiled: Any = loop_areas
    read: list[str] = []
    monkeypatch.setattr(type(compiled.targetctx), "refresh", lambda self: read.append("all"))
    assert compiled._cache.load_overload(compiled.signatures[0], compiled.targetctx) is not None and not read


def test_a_kind_of_value_is_built_after_those_that_it_is_made_of() -> None:
    """Each once: not again within every other kind that has it."""

    class Inner(Frozen):
        mm: float

    class Middle(Frozen):
        inner: Inner
        more: tuple[Middle | Inner, ...] = ()

    class Outer(Frozen):
        middle: dict[str, Annotated[Middle, "of a plate"]]

    Middle.model_rebuild(_types_namespace={"Middle": Middle, "Inner": Inner})
    assert Inner.__pydantic_complete__ and not Outer.__pydantic_complete__
    built = Outer(middle={"a": Middle(inner=Inner(mm=1), more=(Middle(inner=Inner(mm=2)),))})
    assert built.middle["a"].more[0].inner.mm == 2  # type: ignore[union-attr]
    assert all(k.__pydantic_complete__ for k in (Inner, Middle, Outer))
    with pytest.raises(ValidationError):
        Outer(middle={"a": {"inner": {"mm": "wide"}}})  # type: ignore[dict-item]


def test_modules_that_are_there_stay_and_those_that_are_not_come_later(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delitem(sys.modules, "this", raising=False)
    there = sys.modules["subprocess"]
    with without("subprocess", "this"):
        import subprocess as again

        assert again is there
        with pytest.raises(ModuleNotFoundError):
            import this  # noqa: F401
    assert "this" not in sys.modules
    assert sys.modules["subprocess"] is there
