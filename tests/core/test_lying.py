"""Ways out of what hangs free: the side that wants least support, tried on what it is offered for."""

from __future__ import annotations

from functools import cache

import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import Finding, judge
from rhombex.core.design import Design
from rhombex.core.edits import Construct, LayPart, Set, Together
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron, heron_sliding

HANGS = ("hangs-free", "long-bridge", "much-support")


@cache
def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "settled")


def hanging(d: Design) -> list[Finding]:
    return [f for f in judge(looked(d)) if f.code in HANGS]


def test_a_panel_with_a_boss_inside_is_laid_on_its_outside() -> None:
    """The boss of the card's bracket stands 6.9 over the inner face that panels lie on, so that all of the piece, 166 x 132.9 less what stands on the
    bed and the openings of supply and fan, hangs free; on its outside only the tongues do, 3 wide at two edges and along the top."""
    d = heron_sliding()
    (f,) = hanging(d)
    (piece,) = (p for p in looked(d).pieces if p.name == "panel-back-2")
    assert f.subjects[0] == piece.name and f.severity == "stop" and 150 < f.measured < 16.6 * 13.29
    assert piece.bbox_mm == pytest.approx((166.0, 132.94, 10.74), abs=0.01)
    first, second = f.remedies
    assert (first.label, second.label) == (
        "Lay the panel-back-2 on its back, with support",
        "Print it with support",
    )
    laid = apply(d, Together(edits=first.edits))
    assert hanging(laid) == []
    (there,) = (p for p in looked(laid).pieces if p.name == "panel-back-2")
    assert there.down == "back" and there.overhang is not None and piece.overhang is not None
    # what is left hangs at tongues: at the most 3 wide at two sides and the top, and what spans openings
    assert there.overhang.room_cm3 < 0.5 * piece.overhang.room_cm3
    assert [g.code for g in hanging(apply(d, Together(edits=second.edits)))] == ["much-support"]


def test_much_support_is_led_out_the_same_way() -> None:
    (f,) = hanging(apply(heron_sliding(), Set(path="process.supports", value=True)))
    assert f.code == "much-support" and [r.label for r in f.remedies] == [
        "Lay the panel-back-2 on its back, with support"
    ]
    assert [e.do for e in f.remedies[0].edits] == ["lay-part"]


def test_where_a_hand_laid_it_the_usual_side_is_the_way_out() -> None:
    (f,) = hanging(apply(heron_sliding(), LayPart(part="panel-back-2", down="right")))
    assert f.remedies[0].label == "Lay the panel-back-2 as its part lies"
    assert all("on its" not in r.label for r in f.remedies)


def test_a_side_is_offered_only_where_it_wants_no_more_than_half() -> None:
    """*Heron*'s tray: one piece lies clean on its end plate, the other wants as much support on any side."""
    found = hanging(heron())
    offered = {f.subjects[0]: [r.label for r in f.remedies] for f in found if f.code == "hangs-free"}
    assert offered == {
        "tray-1": ["Print it with support"],
        "tray-2": ["Lay the tray-2 on its back", "Print it with support"],
    }
    (f,) = (f for f in found if f.code == "hangs-free" and f.subjects[0] == "tray-2")
    laid = hanging(apply(heron(), Together(edits=f.remedies[0].edits)))
    assert "tray-2" not in {g.subjects[0] for g in laid}


def test_what_stands_tall_and_thin_is_laid_low() -> None:
    """A post of 13.84 square and 134 high, 9.68 times: lying, the cheek over a groove hangs free, 4 and the gap deep along all of it, so with support; not on
    its top, where it is as tall."""
    d = heron_sliding()
    made = d.shell.construction.model_copy(update={"sheet": ("bottom",)})
    on_sheet = apply(d, Together(edits=(Construct(construction=made), Set(path="shell.floor_mm", value=10.0))))
    (f,) = (g for g in judge(looked(on_sheet)) if g.code == "slender-upright" and g.subjects == ("post-1",))
    assert f.measured == pytest.approx(134.0 / 13.84, abs=0.01)
    (way,) = f.remedies
    assert way.label in {f"Lay the post-1 on its {s}, with support" for s in ("front", "back", "left", "right")}
    laid = apply(on_sheet, Together(edits=way.edits))
    codes = {(g.code, g.subjects[0]) for g in judge(looked(laid))}
    assert ("slender-upright", "post-1") not in codes and ("hangs-free", "post-1") not in codes
