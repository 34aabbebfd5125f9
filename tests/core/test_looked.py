"""What was worked out is at hand for whoever asks again, and for nobody else."""

from __future__ import annotations

import pytest

from rhombex.core import analysis
from rhombex.core.advice.what_if import WhatIf, what_if
from rhombex.core.apply import apply
from rhombex.core.choices import Way, choices
from rhombex.core.cuts.pieces import CutPart, cut_part
from rhombex.core.design import Design
from rhombex.core.edits import Set
from rhombex.core.looked import look
from rhombex.core.memo import forget_all
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import wren


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
