"""Who asks only what there is against a design is told the same, without the search for what to do about it."""

from __future__ import annotations

from random import Random

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import before_cuts, bench, judge, judge_bare
from rhombex.core.design import Design
from rhombex.core.edits import MoveWall, Together
from rhombex.core.memo import Memo
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew, dunlin, heron, wren
from tests.made import random_design

from ..conftest import read_good_wren
from .test_concerns import TRIPS


def test_the_same_is_told_without_remedies() -> None:
    r = Random(20)
    fewer = 0
    for d in [wren(), dunlin(), curlew(), heron(), *(random_design(r) for _ in range(6))]:
        a = analyse(d, ARCHIVE_WORKSHOP, "preview")
        full, bare = judge(a), judge_bare(a)
        assert [f.model_dump(exclude={"remedies", "reason"}) for f in full] == [
            f.model_dump(exclude={"remedies", "reason"}) for f in bare
        ]
        fewer += sum(len(f.remedies) - len(b.remedies) for f, b in zip(full, bare, strict=True))
    assert fewer > 20  # else nothing was left out, and this test tells nothing


def test_the_same_is_told_with_a_supply_of_ones_own() -> None:
    """Its watts are a table, under which nothing could be remembered: every rule that looks for a way out broke, and its stops were silent."""
    tripped = apply(read_good_wren(), Together(edits=TRIPS["too-deep-for-case"][0](read_good_wren())))
    assert any(c.supply for c in tripped.custom)
    for d in (tripped, apply(tripped, MoveWall(face="front", by_mm=-13))):
        a = analyse(d, ARCHIVE_WORKSHOP, "preview")
        full, bare = judge(a), judge_bare(a)
        assert "rule-broke" not in {f.code for f in full}
        assert [f.key for f in full] == [f.key for f in bare] and len(full) > 3


@pytest.mark.parametrize("c", library().values(), ids=lambda c: c.key)
def test_every_component_can_be_remembered_by_what_it_is(c: Component) -> None:
    assert hash(c) == hash(Component.model_validate_json(c.model_dump_json()))


def test_a_remedy_is_tried_without_looking_for_others(monkeypatch: pytest.MonkeyPatch) -> None:
    d = wren()
    f = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.remedies and f.severity == "stop")
    asked: list[str] = []
    monkeypatch.setattr(before_cuts, "_said", Memo(400))  # what was told before is told without asking
    monkeypatch.setattr(bench, "ways_clear", lambda *of: asked.append("") or [])
    assert effect_of(d.model_copy(update={"name": "Another"}), ARCHIVE_WORKSHOP, f.key, f.remedies[0].edits).clears
    assert not asked
    judge(analyse(d, ARCHIVE_WORKSHOP, "preview"))
    assert asked


def test_a_remedy_is_tried_where_a_supply_of_ones_own_is(good_wren: Design) -> None:
    d = apply(good_wren, Together(edits=TRIPS["too-deep-for-case"][0](good_wren)))
    f = next(f for f in judge_bare(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "too-deep-for-case")
    tried = effect_of(d, ARCHIVE_WORKSHOP, f.key, f.remedies[0].edits)
    assert tried.clears and not tried.new and not tried.refused
