"""Shared: the sample design, the workshop, Hypothesis profiles."""

from __future__ import annotations

import gc
import json
import os
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, Phase, settings

from rhombex.core.analysis import Analysis, Hours, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import Finding, judge, judge_bare
from rhombex.core.concerns.registry import SETTLED, UNLESS_TOLD, Told, heard, told_to_hit
from rhombex.core.design import Design, read_design
from rhombex.core.edits import Together
from rhombex.core.geometry import changed, mesh_kernel
from rhombex.core.memo import Memo
from rhombex.core.process import estimate
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop
from rhombex.demo.scenario import wren as make_wren
from rhombex.jobs.apart import keep_ready

from .rough import shaped

settings.register_profile(
    "suite", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)
# `make fuzz`: other examples every time
settings.register_profile("fuzz", settings.get_profile("suite"), derandomize=False, print_blob=True)
# planted faults: a failure is enough, the smallest example of it is not looked for
settings.register_profile("planted", settings.get_profile("suite"), phases=[Phase.explicit, Phase.generate])
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "suite"))


# many designs are looked at, and each again in other tests
mesh_kernel.evaluated.most, mesh_kernel.evaluated.most_weight = 20_000, 4e6  # meshes, triangles
changed._made.most, changed._made.most_weight = 4_000, 4e6
keep_ready()  # as a server does; `rhombex` that is called by tests begins anew each time
gc.set_threshold(50_000, 20, 50)  # what is remembered stays; to look through it again and again takes time


@pytest.hookimpl(tryfirst=True)
def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Tests of one file go to one worker, which remembers what it has made, unless they say with which others they go."""
    for item in items:
        if item.get_closest_marker("xdist_group") is None:
            item.add_marker(pytest.mark.xdist_group(item.path.stem))


def pytest_make_parametrize_id(val: object, argname: str) -> str | None:
    """Bytes are named by their argument: a zip holds the time of its making, and each worker must collect the same names."""
    return argname if isinstance(val, bytes) else None


@pytest.fixture(scope="session")
def workshop() -> Workshop:
    return ARCHIVE_WORKSHOP


@pytest.fixture(scope="session")
def wren() -> Design:
    return make_wren()


def mended(design: Design, most: int = 20) -> Design:
    """Press first remedies until no concern that has one is left."""
    for _ in range(most):
        open_ = [f for f in judge(analyse(design, ARCHIVE_WORKSHOP)) if f.severity != "advice" and f.remedies]
        if not open_:
            return design
        design = apply(design, Together(edits=open_[0].remedies[0].edits))
    raise AssertionError(f"still open: {[f.title for f in open_]}")


GOOD_WREN = Path(__file__).parent / "good_wren.json"


def read_good_wren() -> Design:
    """*Wren* as mended, for what is worked out once for several tests."""
    return read_design(json.loads(GOOD_WREN.read_text()))


@pytest.fixture(scope="session")
def good_wren() -> Design:
    """Wren with nothing left to mend, as pressing first remedies leaves it (tests/core/test_concerns.py holds it to that)."""
    return read_good_wren()


@pytest.fixture(scope="session")
def good(good_wren: Design) -> Analysis:
    return analyse(good_wren, ARCHIVE_WORKSHOP)


def forget_hours() -> None:
    """No estimate is known, whatever was looked at before; shapes are."""
    for memo in (estimate.estimates, estimate._of_pieces, estimate._corrected):
        memo.forget()


SEVERITIES = ("stop", "weigh", "advice")
_looked: Memo[str, Analysis] = Memo(60)
_judged: Memo[str, tuple[Finding, ...]] = Memo(200)


def _look(design: Design, code: str) -> tuple[str, Analysis]:
    hours: Hours = "settled" if code in SETTLED else "preview"  # previews are five times as quick
    shapes_only = code not in SETTLED  # all others ask for no grams
    key = f"{hours} {shapes_only} {design.model_dump_json()}"
    return key, _looked.make(key, lambda: shaped(design) if shapes_only else analyse(design, ARCHIVE_WORKSHOP, hours))


def judged(design: Design, code: str) -> tuple[Finding, ...]:
    """What all rules say of a design with the hours that one of them asks for, without the remedies that take a search (tests/core/test_bare.py holds
    that to be the same); several tests ask it of the same trip."""
    key, a = _look(design, code)
    return _judged.make(key, lambda: judge_bare(a))


def findings(design: Design, code: str) -> list[Finding]:
    """What one rule says of a design, with all of its remedies."""
    told: tuple[Told, ...] = ()
    if code in UNLESS_TOLD:
        last = UNLESS_TOLD[UNLESS_TOLD.index(code) :]
        before = (f for f in judged(design, code) if f.code not in last)
        told = (told_to_hit(_look(design, code)[1], before),)
    found = [f for f in heard(code, _look(design, code)[1], *told) if f.code == code]
    return sorted(found, key=lambda f: SEVERITIES.index(f.severity))


def alone(design: Design, code: str, hours: Hours = "none") -> list[Finding]:
    """What one rule says that asks no other; without hours and pieces where it looks at neither."""
    if hours == "preview" and code not in SETTLED:
        return heard(code, shaped(design))
    return heard(code, analyse(design, ARCHIVE_WORKSHOP, hours))


def together(codes: Iterable[str]) -> list[Any]:
    """Codes of rules as parameters, each with all its tests on one worker."""
    return [pytest.param(c, marks=pytest.mark.xdist_group(c)) for c in codes]
