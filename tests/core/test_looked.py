"""What was worked out is at hand for whoever asks again, and for nobody else."""

from __future__ import annotations

from random import Random

import pytest

from rhombex.core import analysis
from rhombex.core.advice.what_if import WhatIf, what_if
from rhombex.core.apply import apply
from rhombex.core.choices import Way, choices
from rhombex.core.concerns import bench, judge, judge_bare, with_remedies
from rhombex.core.cuts.pieces import CutPart, cut_part
from rhombex.core.design import Design
from rhombex.core.edits import Set
from rhombex.core.looked import look, look_bare, with_all
from rhombex.core.memo import forget_all
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron, wren
from tests.made import random_design


def test_a_look_is_remembered_by_what_design_and_workshop_hold(good_wren: Design) -> None:
    forget_all()
    rough = look(good_wren, ARCHIVE_WORKSHOP, "best known")
    same = Design.model_validate_json(good_wren.model_dump_json())
    assert look(same, ARCHIVE_WORKSHOP, "best known") is rough
    assert look(apply(good_wren, Set(path="brief.room_c", value=31)), ARCHIVE_WORKSHOP, "best known") is not rough
    printer = ARCHIVE_WORKSHOP.printers[1]
    slow = printer.model_copy(update={"speed_mm_s": printer.speed_mm_s / 4})
    shop = ARCHIVE_WORKSHOP.model_copy(update={"printers": (ARCHIVE_WORKSHOP.printers[0], slow)})
    assert {e.level for _, e in rough[0].estimated()} == {"preview"}
    assert look(good_wren, shop, "best known")[0].workshop == shop
    settled = look(good_wren, ARCHIVE_WORKSHOP, "settled")
    assert {e.level for _, e in settled[0].estimated()} == {"settled"}
    # what is known best is what has settled, but a preview stays one: two designs are compared by them
    assert look(good_wren, ARCHIVE_WORKSHOP, "best known") is settled
    assert look(good_wren, ARCHIVE_WORKSHOP, "preview") is not settled


@pytest.mark.parametrize("seed", ["wren", "heron", *range(6)])
def test_remedies_looked_for_afterwards_are_those_looked_for_at_once(seed: str | int) -> None:
    """Of two samples and random designs: the same findings in the same order, each with the same remedies."""
    d = {"wren": wren, "heron": heron}[seed]() if isinstance(seed, str) else random_design(Random(f"looked/{seed}"))
    a = analysis.analyse(d, ARCHIVE_WORKSHOP, "preview")
    bare, whole = judge_bare(a), judge(a)
    assert with_remedies(a, bare) == whole
    assert [f.key for f in bare] == [f.key for f in whole]
    if seed == "wren":  # its first stop has remedies that take a search
        assert whole[0].remedies and not bare[0].remedies


def test_an_edit_waits_for_no_search(monkeypatch: pytest.MonkeyPatch) -> None:
    """A bare look finds what there is; who asks for all of it gets the remedies too, from the same analysis; and what is known is not told bare again."""
    forget_all()
    d = apply(wren(), Set(path="brief.room_c", value=29))
    bare = look_bare(d, ARCHIVE_WORKSHOP, "best known")
    assert with_all(d, ARCHIVE_WORKSHOP, "best known") is None
    whole = look(d, ARCHIVE_WORKSHOP, "best known")
    assert whole[0] is bare[0] and whole[1] != bare[1]
    assert look_bare(d, ARCHIVE_WORKSHOP, "best known") is whole is with_all(d, ARCHIVE_WORKSHOP, "best known")


def test_a_rule_that_breaks_over_its_search_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    """What it found stays as long as it is told bare; looked for, the rule says that it could not look."""
    a = analysis.analyse(wren(), ARCHIVE_WORKSHOP, "preview")
    bare = judge_bare(a)
    monkeypatch.setattr(bench, "clear_of_all", lambda *_: 1 / 0)
    broke = [f for f in with_remedies(a, bare) if f.code == "rule-broke"]
    assert [f.subjects for f in broke] == [("components-collide",)]
    assert {f.code for f in with_remedies(a, bare)} | {"components-collide"} == {f.code for f in bare} | {"rule-broke"}


def test_a_tried_remedy_is_told_again_at_once_and_of_no_other_design() -> None:
    d = wren()
    f = next(f for f in look(d, ARCHIVE_WORKSHOP, "preview")[1] if f.remedies and f.severity == "stop")
    (first, *_) = f.remedies
    told = effect_of(d, ARCHIVE_WORKSHOP, f.key, first.edits, first.shop)
    assert told.clears and effect_of(wren(), ARCHIVE_WORKSHOP, f.key, first.edits, first.shop) is told
    warm = apply(d, Set(path="brief.room_c", value=31))
    assert effect_of(warm, ARCHIVE_WORKSHOP, f.key, first.edits, first.shop) is not told
    assert effect_of(d, ARCHIVE_WORKSHOP, "no-such-concern", first.edits, first.shop) is not told


def test_ways_that_are_remembered_are_told_as_the_best_so_far(good_wren: Design) -> None:
    ways: list[tuple[Way, ...]] = []
    assert choices(good_wren, ARCHIVE_WORKSHOP) is choices(good_wren, ARCHIVE_WORKSHOP, found=ways.append) is ways[-1]
    others: list[tuple[WhatIf, ...]] = []
    a = look(good_wren, ARCHIVE_WORKSHOP, "settled")[0]
    assert what_if(a, settle=False) is what_if(a, settle=False, found=others.append) is others[-1]
    other = look(apply(good_wren, Set(path="process.infill", value=0.3)), ARCHIVE_WORKSHOP, "preview")[0]
    assert what_if(other, settle=False)[0].mass_g > others[-1][0].mass_g


def test_ways_for_a_part_are_tried_on_that_part_alone(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    made: list[str] = []

    def counted(*args: object, **more: object) -> CutPart:
        part = cut_part(*args, **more)  # type: ignore[arg-type]
        made.append(part.cuts.part)
        return part

    monkeypatch.setattr(analysis, "cut_part", counted)
    assert analysis.made_whole(good_wren, ARCHIVE_WORKSHOP, "lid", ()) and made == ["lid"]
    assert analysis.made_at_all(good_wren, ARCHIVE_WORKSHOP, "base") and made == ["lid", "base"]
    assert analysis.made_at_all(good_wren, ARCHIVE_WORKSHOP, "no such part") and len(made) == 2
