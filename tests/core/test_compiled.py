"""What is loaded at a start: compiled code without what it does not use, and no kind of value is built that is not met."""

from __future__ import annotations

import subprocess
import sys

import pytest

from rhombex.core.compiled import without

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
