"""Who asks only what there is against a design is told the same, without the search for what to do about it."""

from __future__ import annotations

from random import Random

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.concerns import bench, judge, judge_bare
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew, dunlin, heron, wren
from tests.made import random_design


def test_the_same_is_told_without_remedies() -> None:
    r = Random(20)
    fewer = 0
    for d in [wren(), dunlin(), curlew(), heron(), *(random_design(r) for _ in range(12))]:
        a = analyse(d, ARCHIVE_WORKSHOP, "preview")
        full, bare = judge(a), judge_bare(a)
        assert [f.model_dump(exclude={"remedies", "reason"}) for f in full] == [
            f.model_dump(exclude={"remedies", "reason"}) for f in bare
        ]
        fewer += sum(len(f.remedies) - len(b.remedies) for f, b in zip(full, bare, strict=True))
    assert fewer > 20  # else nothing was left out, and this test tells nothing


def test_a_remedy_is_tried_without_looking_for_others(monkeypatch: pytest.MonkeyPatch) -> None:
    d = wren()
    f = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.remedies and f.severity == "stop")
    asked: list[str] = []
    monkeypatch.setattr(bench, "ways_clear", lambda *of: asked.append("") or [])
    assert effect_of(d.model_copy(update={"name": "Another"}), ARCHIVE_WORKSHOP, f.key, f.remedies[0].edits).clears
    assert not asked
    judge(analyse(d, ARCHIVE_WORKSHOP, "preview"))
    assert asked
