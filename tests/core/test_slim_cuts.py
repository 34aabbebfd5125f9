"""Cuts of what is too slim for blocks beside its seam: beams, posts, and of panels that stand in no case. Measured on what is made."""

from __future__ import annotations

from itertools import combinations
from math import pi
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import Finding
from rhombex.core.concerns.registry import heard
from rhombex.core.constructions import CornersAndSheet, FrameAndCovers, SlidingPanels
from rhombex.core.cuts.joins import hold_of
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design, JoinKind, Panel, PinnedCut
from rhombex.core.edits import Construct, HoldByMagnets, MoveWall, PutCuts, PutPanel, Set, Together
from rhombex.core.fit.allowance import fit
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.reference import val
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop
from rhombex.demo.scenario import dunlin, heron_panels

from ..conftest import findings
from ..examples import examples
from ..rough import shaped

WITHIN: tuple[JoinKind, ...] = ("steel pins", "filament pins", "printed pins", "steel rods")


def of(a: Analysis, part: str) -> PartCuts:
    return next(c for c in a.cuts if c.part == part)


def cut(d: Design, part: str, *at: float, axis: Any = "z", by: JoinKind | None = None, deg: float = 0.0) -> Analysis:
    cuts = tuple(PinnedCut(part=part, axis=axis, at_mm=x, by=by, turn_deg=deg) for x in at)
    return shaped(apply(d, PutCuts(part=part, cuts=cuts)))


def pieces(a: Analysis, part: str) -> list[Any]:
    return [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in of(a, part).pieces]


def weak_seams(d: Design, workshop: Workshop) -> list[Finding]:
    return [f for f in heard("seam-too-weak", analyse(d, workshop, "preview")) if f.code == "seam-too-weak"]


def whole(a: Analysis, part: str) -> Any:
    return mk.evaluate(a.recipes[part], mk.FILE_TOL)


def stands_together(a: Analysis, part: str) -> float:
    """What the pieces lack of their part, mm3; each is one body, none is in another or out of the part."""
    made, of_part = pieces(a, part), whole(a, part)
    for m in made:
        assert len(m.decompose()) == 1 and m.volume() > 0
        assert (m - of_part).volume() < 1e-3
    for one, other in combinations(made, 2):
        assert (one ^ other).volume() < 1e-3
    return float(of_part.volume() - sum(m.volume() for m in made))


def test_a_lap_takes_all_the_width_of_a_beam(wren: Design) -> None:
    """Of a beam 13 square one half runs on by 8 under the other. What the pieces lack is the allowance g of its end and of its middle: 13 ((8 + g)(6.5 + g) - 52), beside
    the numbers that are sunk into them."""
    d = dunlin()
    plain, lap = (cut(d, "beam-1", 60, by=by) for by in ("glue alone", "half-lap"))
    (c,) = of(lap, "beam-1").cuts
    assert [p.bbox_mm for p in of(lap, "beam-1").pieces] == [(13, 68, 13), (13, 96, 13)]
    gap = 0.3  # `tongue_side` of the printer and the filament, to two places
    lost = stands_together(lap, "beam-1") - stands_together(plain, "beam-1")
    assert lost == pytest.approx(13 * ((8 + gap) * (6.5 + gap) - 52), rel=0.02)
    # sections just beyond the cut: before it all of it, over the lap one half each, beyond the other piece alone
    one, other = pieces(lap, "beam-1")
    for z, low, high in ((-0.5, 169, 0), (4, 84.5, 169 - 13 * 6.8), (7.9, 84.5, 169 - 13 * 6.8), (8.5, 0, 169)):
        # numbers and arrows take 0.4 of a few mm
        assert one.slice(c.at_mm + z).area() == pytest.approx(low, abs=1.7)
        assert other.slice(c.at_mm + z).area() == pytest.approx(high, abs=1.7)


@pytest.mark.parametrize("by", WITHIN)
def test_a_pin_lies_in_the_middle_of_a_beam(by: JoinKind) -> None:
    """Its hole is round its middle in either piece, as wide as the pin and its slip, and nothing is added to the beam."""
    a = cut(dunlin(), "beam-1", 60, by=by)
    (c,) = of(a, "beam-1").cuts
    x, y = ((lo + hi) / 2 for lo, hi in list(zip(*whole_box(a), strict=True))[:2])
    assert c.pin is not None and c.dowels == (pytest.approx((x, y)),)
    hole = 169 - pieces(a, "beam-1")[0].slice(c.at_mm - 1).area()
    assert hole == pytest.approx(
        pi / 4 * (c.pin.d_mm + fit(a.design, a.printer, "dowel_slip", ("beam-1",), c.pin.d_mm).value) ** 2, rel=1e-3
    )
    round_it = pieces(a, "beam-1")[0].slice(c.at_mm - 1).to_polygons()
    xs, ys = zip(*min(round_it, key=len if len(round_it) < 2 else lambda p: abs(p - [x, y]).max()), strict=True)
    assert ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2) == pytest.approx((x, y), abs=0.01)
    assert stands_together(a, "beam-1") > 0
    assert findings(a.design, "pieces-not-held") == []


def whole_box(a: Analysis, part: str = "beam-1") -> tuple[Any, Any]:
    c = of(a, part)
    return c.lo_mm, c.hi_mm


def test_a_beam_that_is_too_slim_for_a_pin_is_lapped(wren: Design) -> None:
    """Of 3 with 1.4 round it a pin wants 5.8; rods of 5 want 7.8. A tongue wants 2.8, a lap 2.4."""
    for beam, has, lacks in ((6.0, "steel pins", "steel rods"), (8.0, "steel rods", "bolts")):
        frame = apply(dunlin(), Set(path="shell.construction.beam_mm", value=beam))
        (t,) = (t for t in cuts_table(cut(frame, "beam-1", 60)).parts if t.cuts.part == "beam-1")
        assert (
            has in t.joins and lacks not in t.joins and {"half-lap", "tongue and groove", "glue alone"} <= set(t.joins)
        )
        assert "dovetails" not in t.joins and "rods through all pieces" not in t.joins


def test_no_cut_runs_along_a_beam_or_through_its_screws() -> None:
    d = dunlin()
    (f,) = findings(cut(d, "beam-1", 6, axis="x").design, "cut-through-feature")
    assert f.severity == "stop" and f.subjects == ("beam-1", "length of a bar")
    a = shaped(d)
    low = {s.why for s in strips(a.case, a.openings, "beam-1", "z")}
    assert low and "length of a bar" not in low
    pocket = next(j for j in a.case.magnets if j.id == "beam-1-left-1")
    z = pocket.boss.centre[2] - a.case.cavity.lo[2]
    (f,) = findings(cut(d, "beam-1", z).design, "cut-through-feature")
    assert "magnet pocket" in f.title
    screwed = apply(d, HoldByMagnets(magnets=None))
    screw = next(j for j in shaped(screwed).case.joints if j.into == "beam-1" and not j.along[2])
    (f,) = findings(cut(screwed, "beam-1", screw.at[2] - a.case.cavity.lo[2]).design, "cut-through-feature")
    assert "screw boss" in f.title


def test_a_frame_taller_than_its_bed_is_cut_where_nothing_is(wren: Design) -> None:
    """Beams of 330 on a bed that takes 168: two pieces, the least by the bed, and a lap where the seam would part. Each piece fits."""
    d = apply(
        dunlin(),
        Together(
            edits=(MoveWall(face="top", by_mm=330 - dunlin().shell.inner_mm[2]), Set(path="printer", value="bench-180"))
        ),
    )
    a = shaped(d)
    for k in range(1, 5):
        c = of(a, f"beam-{k}")
        assert len(c.pieces) == c.least == 2 and c.proven and all(p.fits_bed for p in c.pieces)
        assert not c.cuts[0].crosses and stands_together(a, f"beam-{k}") > 0
    shop = ARCHIVE_WORKSHOP.model_copy(update={"printers": (a.printer,)})
    for where in (ARCHIVE_WORKSHOP, shop):
        weak = next(f for f in weak_seams(d, where) if f.subjects[0] == "beam-1")
        assert weak.remedies and (where is shop) == weak.remedies[0].label.startswith("Make the beams")
        for r in weak.remedies:
            left = weak_seams(apply(d, Together(edits=r.edits)), where)
            assert not [f for f in left if f.subjects[0] == "beam-1"], r.label


def test_long_corner_pieces_are_cut_like_beams_and_short_ones_are_not() -> None:
    d = apply(dunlin(), Construct(construction=CornersAndSheet(reach_mm=100.0, corner_mm=14.0)))
    a = cut(d, "corner-1", 60, by="half-lap")
    assert len(of(a, "corner-1").pieces) == 2 and stands_together(a, "corner-1") > 0
    short = shaped(apply(d, Set(path="shell.construction.reach_mm", value=26.0)))
    assert of(short, "corner-1").seat is None


@pytest.mark.parametrize("post", [1, 2, 3, 4])
def test_a_post_with_grooves_is_lapped(good_wren: Design, post: int) -> None:
    """It stands, and a level cut divides it; a pin would break into its grooves."""
    name = f"post-{post}"
    d = apply(
        good_wren,
        Together(edits=(Construct(construction=SlidingPanels(sheet=("bottom",))), MoveWall(face="top", by_mm=60))),
    )
    a = cut(d, name, 45)
    c = of(a, name)
    assert c.cuts[0].joined == "half-lap" and len(c.pieces) == 2
    (t,) = (t for t in cuts_table(a).parts if t.cuts.part == name)
    assert set(t.joins) == {"half-lap", "tongue and groove", "glue alone"}
    assert stands_together(a, name) > 0


def test_a_turned_cut_of_a_beam_is_glued() -> None:
    a = cut(dunlin(), "beam-1", 60, by="half-lap", deg=10.0)
    (c,) = of(a, "beam-1").cuts
    assert c.joined == "glue alone" and len(of(a, "beam-1").pieces) == 2 and stands_together(a, "beam-1") >= 0


def test_panels_drawn_by_hand_are_cut_beside_their_windows() -> None:
    """230 x 190 on a bed of 208: one cut. The window ends at 188.75, and a seam keeps 3 from what is cut in its part; dovetails lie in the plate."""
    d = apply(heron_panels(), Set(path="printer", value="bench-220"))
    a = shaped(d)
    c = of(a, "back")
    (at,) = (x.at_mm for x in c.cuts)
    assert c.cuts[0].axis == "x" and at >= 188.75 + val("limits.cut.seam_to_feature")
    assert len(c.cuts[0].dowels) == 3 and c.joined == "dovetails" and all(p.fits_bed for p in c.pieces)
    assert stands_together(a, "back") > 0
    put = cut(d, "back", 100, axis="x")
    assert (
        [x.at_mm for x in of(put, "back").cuts] == [100] == [x.inside_mm for x in of(put, "back").cuts]
    )  # from its own end
    (f,) = findings(put.design, "cut-through-feature")
    assert f.subjects == ("back", "window")


def test_the_cut_of_a_panel_is_in_line_with_nobody(wren: Design) -> None:
    """A cut of the base, and a panel that stands in no case whose middle is as far from its end: it is cut there nevertheless, and so is another one."""
    base = of(cut(wren, "base", 90, axis="x"), "base")
    middle = base.cuts[0].at_mm
    panels = tuple(PutPanel(panel=Panel(id=x, name=x, size_mm=(2 * middle, 60))) for x in ("own", "other"))
    bed = ARCHIVE_WORKSHOP.printers[0].model_copy(update={"key": "other", "bed_mm": (middle * 2, 80.0, 200.0)})
    shop = ARCHIVE_WORKSHOP.model_copy(update={"printers": (bed,)})
    cuts = (PinnedCut(part="base", axis="x", at_mm=90),)
    d = apply(wren, Together(edits=(*panels, PutCuts(part="base", cuts=cuts), Set(path="printer", value="other"))))
    a = analyse(d, shop, "preview")
    assert of(a, "base").cuts[0].at_mm == middle
    for x in ("own", "other"):
        assert of(a, x).cuts[0].at_mm == pytest.approx(middle, abs=1.0)
        (t,) = (t for t in cuts_table(a).parts if t.cuts.part == x)
        assert all("in line" not in p.why for w in t.ways for p in w.prices)


def test_a_cut_that_leaves_a_bit_of_a_vented_panel_loose_is_given_back() -> None:
    """At 100 a web between vents falls out of the first piece; where the planner cuts, none does."""
    d = apply(heron_panels(), Set(path="printer", value="bench-220"))
    planned = {c.axis: c.inside_mm for c in of(shaped(d), "left").cuts}
    cuts = tuple(PinnedCut(part="left", axis=x, at_mm=at) for x, at in (("x", 100.0), ("y", planned["y"])))
    put = apply(d, PutCuts(part="left", cuts=cuts))
    (f,) = (f for f in heard("piece-in-bodies", shaped(put)) if f.subjects[0] == "left-1")
    assert f.severity == "stop" and f.remedies[0].label == "Give the cut back to the planner"
    assert heard(f.code, shaped(apply(put, Together(edits=f.remedies[0].edits)))) == []


def test_a_panel_whose_seam_is_too_weak_is_made_thicker() -> None:
    """No printer takes it whole: the bed of the one there is is smaller."""
    shop = ARCHIVE_WORKSHOP.model_copy(
        update={"printers": tuple(p for p in ARCHIVE_WORKSHOP.printers if p.key == "bench-220")}
    )
    d = apply(heron_panels(), Set(path="printer", value="bench-220"))
    for part in ("left", "top"):
        (f, *_) = (f for f in weak_seams(d, shop) if f.subjects[0] == part)
        (r,) = (r for r in f.remedies if "thick" in r.label)
        after = weak_seams(apply(d, Together(edits=r.edits)), shop)
        assert not [x for x in after if x.subjects[:2] == f.subjects[:2]]


@settings(max_examples=examples(25))
@given(
    st.floats(6, 30),
    st.floats(60, 160),
    st.lists(st.floats(12, 150), min_size=1, max_size=2).filter(lambda at: max(at) - min(at) > 66 or len(at) == 1),
    st.sampled_from(("half-lap", "tongue and groove", "glue alone", *WITHIN)),
)
def test_every_cut_of_a_beam_leaves_whole_pieces(beam: float, high: float, at: list[float], by: JoinKind) -> None:
    d = dunlin()
    frame = FrameAndCovers(beam_mm=beam)
    a = cut(
        apply(d, Together(edits=(Construct(construction=frame), MoveWall(face="top", by_mm=high - 156)))),
        "beam-1",
        *at,
        by=by,
    )
    c = of(a, "beam-1")
    assert len(c.pieces) == 1 + len(c.cuts)
    lost = stands_together(a, "beam-1")
    assert -1e-3 <= lost <= 0.25 * whole(a, "beam-1").volume()
    for x in c.cuts:
        hold = hold_of(x.joined, c.seat) if c.seat else None
        assert hold is None or len(x.dowels) <= 1


@settings(max_examples=examples(25))
@given(
    st.floats(60, 300),
    st.floats(60, 300),
    st.floats(0.8, 12),
    st.floats(0, 30),
    st.sampled_from((0.0, 4.0, 9.0)),
    st.booleans(),
)
def test_every_panel_that_is_cut_fits_its_bed(
    w: float, deep: float, thick: float, corner: float, vent: float, window: bool
) -> None:
    """Of every panel the pieces are whole, together the panel less the play of its dovetails, and lie on the bed; or a rule says that it cannot be cut."""
    hole = (w * 0.3, deep * 0.3, w * 0.3, deep * 0.25) if window else None
    panel = Panel(
        id="own",
        name="Own",
        size_mm=(w, deep),
        thick_mm=thick,
        corner_mm=min(corner, w / 3, deep / 3),
        vent_d_mm=vent,
        vent_pitch_mm=14,
        window_mm=hole,
    )
    d = apply(heron_panels(), Together(edits=(PutPanel(panel=panel), Set(path="printer", value="bench-180"))))
    a = shaped(d)
    c = of(a, "own")
    if c.no_place:
        assert [f for f in findings(d, "no-place-for-cut") if f.subjects == ("own",)]
        return
    assert all(p.fits_bed for p in c.pieces)
    if c.cuts:
        assert -1e-3 <= stands_together(a, "own") <= 0.1 * whole(a, "own").volume()
