"""Reasons to divide a part that the bed takes whole, and pieces that lie on another side than their part: measured on what is made."""

from __future__ import annotations

import json
from functools import cache

import pytest

from rhombex.core.advice.cuts import PartOverBed, cuts_table
from rhombex.core.advice.divide import Reason
from rhombex.core.advice.orient import resting_faces
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design, PinnedCut, read_design
from rhombex.core.edits import FreeCuts, JoinCuts, LayPart, PutCuts, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.planes import section_mm2
from rhombex.core.remedies import effect_of
from rhombex.core.words import duration
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew
from rhombex.web.look import view_of
from tests.conftest import GOOD_WREN


@cache
def wren() -> Design:
    return read_design(json.loads(GOOD_WREN.read_text()))


@cache
def looked(design: Design) -> Analysis:
    return analyse(design, ARCHIVE_WORKSHOP, "preview")


def over_bed(design: Design, part: str) -> PartOverBed:
    return next(p for p in cuts_table(looked(design)).parts if p.cuts.part == part)


def reason(design: Design, part: str, label: str) -> Reason:
    return next(r for r in over_bed(design, part).reasons if r.label == label)


def stops(a: Analysis) -> set[str]:
    return {f.key for f in judge(a) if f.severity == "stop"}


def test_every_reason_can_be_done_without_a_new_stop() -> None:
    for design in (wren(), curlew()):
        for part in {p.cuts.part for p in cuts_table(looked(design)).parts}:
            for r in over_bed(design, part).reasons:
                after = looked(apply(design, r.edit))
                cut = next(c for c in after.cuts if c.part == part)
                assert len(cut.pieces) == 2 and all(p.fits_bed for p in cut.pieces), r.label
                mine = [p for p in after.pieces if p.part == part]
                assert all(p.watertight and p.bodies == 1 for p in mine) and not after.faults
                assert stops(after) <= stops(looked(design)), r.label


def test_a_wall_on_the_bed_is_flat_there_and_its_openings_are_holes() -> None:
    """The right wall of *Wren*'s base: 143.78 by 29.8 less its rim, and less the USB-C, HDMI and audio openings, lie on the bed; nothing hangs over them."""
    before = looked(wren())
    r = reason(wren(), "base", "Cut the right off and lay it on its face")
    own = [o for o in before.openings.openings if o.face == "right" and "base" in o.parts]
    bridged = [o.size_mm[0] for o in own if o.size_mm[0] > 5]
    assert f"its {len(bridged)} openings print without a bridge ({max(bridged):.0f} mm the widest now)" in r.words
    after = looked(apply(wren(), r.edit))
    piece = next(p for p in after.pieces if p.name == "base-2")
    assert piece.down == "right" and after.design.lies[-1].part == "base-2"
    lying = after.piece_recipes["base-2"]
    assert mk.evaluate(lying).bounding_box()[2] == pytest.approx(0, abs=1e-6)
    # a wall of 29.8 whose upper edge is the rim's, rounded at its lower edge
    holes = sum(o.size_mm[0] * o.size_mm[1] for o in own)
    foot = section_mm2(lying, "z", 0.6)
    assert 0.85 * (143.78 * 27.3 - holes) < foot < 143.78 * 29.8
    # as the base lies the upper edges of these openings span their width; as the piece lies nothing does
    assert piece.overhang is None or piece.overhang.area_cm2 < 0.05
    # it is the same plastic in the case
    whole = mk.evaluate(before.recipes["base"]).volume()
    both = sum(mk.evaluate(after.pieces_in_case[f"base-{k}"]).volume() for k in (1, 2))
    assert both == pytest.approx(whole, rel=0.02)
    # the other piece lies as the part did
    assert next(p for p in after.pieces if p.name == "base-1").down == before.case.part("base").down


def test_what_hangs_as_it_would_lie_is_told_beforehand() -> None:
    """The effect of laying looks at overhangs, as the settled design does."""
    r = reason(wren(), "base", "Cut the right off and lay it on its face")
    found = effect_of(wren(), ARCHIVE_WORKSHOP, "", (r.edit,))
    old = {f.key for f in judge(analyse(wren(), ARCHIVE_WORKSHOP, "settled"))}
    after = judge(analyse(apply(wren(), r.edit), ARCHIVE_WORKSHOP, "settled"))
    brought = [f.title for f in after if f.key not in old and f.severity != "advice"]
    assert list(found.new) == brought == ["The base-2 has unsupported overhangs in this orientation"]


def test_a_wall_that_hung_on_support_saves_it() -> None:
    """*Curlew*'s wrap is printed with support; a wall of it on the bed needs none of it."""
    r = reason(curlew(), "wrap", "Cut the left off and lay it on its face")
    found = effect_of(curlew(), ARCHIVE_WORKSHOP, "", (r.edit,))
    moved = {t.label: t.after - t.before for t in found.tally}
    assert moved["Filament"] < -5 and moved["Printing"] < 0 and moved["Pieces"] == 1


def test_two_filaments_are_changed_there_and_back_in_every_layer() -> None:
    """29.8 / 0.2 = 149 layers, 298 changes of 2 minutes (common practice): 596 minutes."""
    r = next(r for r in over_bed(wren(), "base").reasons if r.kind == "another filament")
    assert "changed 298 times, 9 h 56 min by hand" in r.words
    assert [duration(x) for x in (0, 59, 3600, 35760, 20828)] == ["0 min", "1 min", "1 h", "9 h 56 min", "5 h 47 min"]


@pytest.mark.parametrize("part", ["base", "lid"])
def test_an_end_comes_off_and_takes_its_share(part: str) -> None:
    a = looked(wren())
    r = next(r for r in over_bed(wren(), part).reasons if r.kind == "an end that wears")
    after = looked(apply(wren(), r.edit))
    (cut,) = next(c for c in after.cuts if c.part == part).cuts
    assert cut.joined in ("bolts", "bridging plates") and len(cut.dowels) >= 2 and f"held by {cut.joined}" in r.words
    assert not [f for f in judge(after) if "cannot be reached" in f.title]
    whole = mk.evaluate(a.recipes[part]).volume()
    volumes = [mk.evaluate(after.pieces_in_case[f"{part}-{k}"]).volume() for k in (1, 2)]
    share = min(volumes) / sum(volumes)
    now = next(p.estimate for p in a.pieces if p.part == part)
    assert now is not None and share < 0.37 and whole > 0
    told = float(r.words.split("about ")[1].split(" g")[0])
    assert told == pytest.approx(now.mass_g.value * share, rel=0.2)  # pads stand on either piece
    assert f"instead of {now.mass_g.value:.0f} g and {duration(now.time_s.value)}" in r.words


def test_reasons_are_given_of_whole_parts_and_of_walls_alone() -> None:
    labels = [r.label for r in over_bed(wren(), "lid").reasons]
    assert not [x for x in labels if "lay it on its face" in x]  # its rim of 9.7 is no wall
    small = apply(wren(), Set(path="printer", value="bench-180"))
    assert over_bed(small, "lid").reasons == ()  # it is two pieces already


def test_a_piece_is_laid_on_a_side_and_back() -> None:
    d = apply(wren(), PutCuts(part="lid", cuts=(PinnedCut(part="lid", axis="x", at_mm=80),)))
    sides = resting_faces(looked(d), "lid-2")
    assert [s.down for s in sides if s.now] == [looked(d).case.part("lid").down]
    size = looked(d).pieces[-1].bbox_mm
    laid = apply(d, LayPart(part="lid-2", down="left"))
    piece = looked(laid).pieces[-1]
    assert piece.name == "lid-2" and piece.bbox_mm == pytest.approx((size[2], size[1], size[0]), abs=0.01)
    assert [s.down for s in resting_faces(looked(laid), "lid-2") if s.now] == ["left"]
    assert next(p.down for p in view_of(looked(laid), (), {}).pieces if p.name == "lid-2") == "left"
    # it stands 86 tall on 9.7: that is told, with the way back
    f = next(f for f in judge(looked(laid)) if f.code == "slender-upright")
    assert f.remedies[0].label == "Lay the lid-2 as its part lies"
    assert apply(laid, Together(edits=f.remedies[0].edits)) == d
    # a lie of a piece that is no longer there stays, and nothing follows from it
    whole = looked(apply(laid, FreeCuts(part="lid")))
    assert [p.name for p in whole.pieces if p.part == "lid"] == ["lid"] and not whole.faults


def test_allowances_stay_the_parts() -> None:
    """The holes of a seam are made for one lying, whichever side a piece lies on: the same pieces in the case."""
    d = apply(
        wren(),
        Together(
            edits=(
                PutCuts(part="lid", cuts=(PinnedCut(part="lid", axis="x", at_mm=80),)),
                JoinCuts(part="lid", by="bolts"),
            )
        ),
    )
    laid = apply(d, LayPart(part="lid-2", down="left"))
    assert looked(laid).pieces_in_case["lid-2"].digest == looked(d).pieces_in_case["lid-2"].digest
    assert looked(laid).piece_recipes["lid-2"].digest != looked(d).piece_recipes["lid-2"].digest
