"""Pieces that would fit the bed as one are told, and no others."""

from __future__ import annotations

import pytest

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design, PinnedCut
from rhombex.core.edits import LayPart, PutCuts, Set, Together
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import findings


def cut(d: Design, printer: str, *at: tuple[str, float]) -> Design:
    cuts = tuple(PinnedCut(part="lid", axis=axis, at_mm=mm) for axis, mm in at)  # type: ignore[arg-type]
    return apply(d, Together(edits=(Set(path="printer", value=printer), PutCuts(part="lid", cuts=cuts))))


def test_a_part_that_fits_whole_is_told_with_what_the_seam_costs(good_wren: Design) -> None:
    """171.38 x 143.78 on 208 x 208."""
    d = cut(good_wren, "bench-220", ("x", 90.0))
    (f,) = findings(d, "cut-not-needed")
    assert (f.severity, f.measured, f.limit, f.sense) == ("advice", 2, 1, "at most")
    assert f.title == "The lid is whole without your cut at 90 mm across x"
    assert [round(x.value, 2) for x in f.why.inputs[:4]] == [171.38, 143.78, 208.0, 208.0]
    (r,) = f.remedies
    effect = effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits)
    assert effect.clears and not effect.new
    assert next(x for x in effect.tally if x.key == "pieces").after == 2


def test_on_a_small_bed_one_cut_is_needed_and_of_two_either_is_one_too_many(good_wren: Design) -> None:
    """171.38 on 168: whole it is 3.38 too long. Cut at 50 and 110 the outer two of three fit as one, left (52.89 + 60 = 112.89) or right (118.49)."""
    assert findings(cut(good_wren, "bench-180", ("x", 90.0)), "cut-not-needed") == []
    d = cut(good_wren, "bench-180", ("x", 50.0), ("x", 110.0))
    found = findings(d, "cut-not-needed")
    assert [(f.measured, f.limit, round(f.why.inputs[0].value, 2)) for f in found] == [(3, 2, 143.78), (3, 2, 143.78)]
    for f in found:
        effect = effect_of(d, ARCHIVE_WORKSHOP, f.key, f.remedies[0].edits)
        assert effect.clears and next(x for x in effect.tally if x.key == "pieces").after < 5
        left = apply(d, f.remedies[0].edits[0])
        assert len([x for x in left.cuts if x.part == "lid"]) == 1


@pytest.mark.parametrize(("over", "told"), [(-0.01, 1), (0.01, 0)])
def test_to_the_limit(good_wren: Design, over: float, told: int) -> None:
    """The bed that is left is 168 wide: the lid is made 168 and a hair smaller or larger along x."""
    narrow = apply(good_wren, Set(path="shell.inner_mm", value=(168.0 + over - 2 * 2.89, 138.0, 31.0)))
    assert len(findings(cut(narrow, "bench-180", ("x", 80.0)), "cut-not-needed")) == told


def test_a_part_that_a_hand_stands_on_its_side_must_fit_so(good_wren: Design) -> None:
    """On its front the lid is 143.78 high, over the 100 that this printer reaches; its pieces lie on their tops."""
    low = Set(path="printer", value="bench-220")
    shop = ARCHIVE_WORKSHOP.model_copy(
        update={
            "printers": tuple(
                p.model_copy(update={"bed_mm": (*p.bed_mm[:2], 100.0)}) if p.key == "bench-220" else p
                for p in ARCHIVE_WORKSHOP.printers
            )
        }
    )
    cut_lid = apply(cut(good_wren, "bench-220", ("x", 90.0)), low)
    assert any(f.code == "cut-not-needed" for f in judge(analyse(cut_lid, shop, "preview")))
    standing = apply(cut_lid, LayPart(part="lid", down="front"))
    assert not any(f.code == "cut-not-needed" for f in judge(analyse(standing, shop, "preview")))


def test_cuts_of_the_planner_are_its_own_affair(good_wren: Design) -> None:
    small = apply(good_wren, Set(path="printer", value="bench-180"))
    assert findings(small, "cut-not-needed") == []


def test_a_row_across_the_other_is_counted_as_a_row(good_wren: Design) -> None:
    """Cut both ways it is four; without either cut two."""
    d = cut(good_wren, "bench-220", ("x", 90.0), ("y", 70.0))
    found = findings(d, "cut-not-needed")
    assert [(f.measured, f.limit) for f in found] == [(4, 2), (4, 2)]
    assert "is 2 pieces instead of 4 without" in found[0].title


def test_what_would_make_it_fewer_is_not_said_of_what_a_hand_made_more(good_wren: Design) -> None:
    """It is whole on this bed: no other printer is needed for that."""
    a = analyse(cut(good_wren, "bench-220", ("x", 90.0)), ARCHIVE_WORKSHOP, "preview")
    lid = next(x for x in cuts_table(a).parts if x.cuts.part == "lid")
    assert [s for s in lid.smaller if "on " in s.words] == []
    small = analyse(cut(good_wren, "bench-180", ("x", 90.0)), ARCHIVE_WORKSHOP, "preview")
    lid = next(x for x in cuts_table(small).parts if x.cuts.part == "lid")
    assert "1 piece on Bench 220" in [s.words for s in lid.smaller]
