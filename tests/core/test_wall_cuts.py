"""Cuts of parts that nothing may stand in: panels that lie on their inner face, a sleeve or a wrap too tall for the bed. Dovetails lie in the walls."""

from __future__ import annotations

import itertools
from math import ceil

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection
from shapely import LineString, Polygon, unary_union

from rhombex.core.advice.cuts import cuts_table, joined_by
from rhombex.core.advice.screws import fewer_kinds
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.concerns.registry import heard
from rhombex.core.constructions import CoreAndWrap, SlidingPanels, Snaps, TwoHalves
from rhombex.core.cuts.bed import turned_size
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.strips import INDEX, strips
from rhombex.core.design import Design, PinnedCut, Shell
from rhombex.core.edits import Construct, HoldBySnaps, JoinCuts, MoveWall, PutCut, PutCuts, Remove, Set, Together
from rhombex.core.fit.allowance import fit
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.planes import section
from rhombex.core.hardware.shopping import shopping
from rhombex.core.parts.threads import screw_size
from rhombex.core.plan.pieces_map import neighbours, pieces_maps
from rhombex.core.plan.plates import plates
from rhombex.core.remedies import effect_of
from rhombex.core.shell.offers import usual
from rhombex.core.space import Vec3
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop
from rhombex.demo.scenario import heron, heron_small, wren, wren_small

from ..examples import examples
from ..rough import shaped


def on_bed_of(size: Vec3) -> Workshop:
    """The workshop with one printer more, of a bed of that size."""
    p = ARCHIVE_WORKSHOP.printers[0].model_copy(update={"key": "other", "name": "Other", "bed_mm": size})
    return ARCHIVE_WORKSHOP.model_copy(update={"printers": (*ARCHIVE_WORKSHOP.printers, p)})


def made(d: Design, kind: str, size: Vec3, taller: float = 0.0) -> Analysis:
    edits = (
        Construct(construction=usual(d, kind)),  # type: ignore[arg-type]
        MoveWall(face="top", by_mm=taller),
        Set(path="printer", value="other"),
    )
    return analyse(apply(d, Together(edits=edits)), on_bed_of(size), "preview")


def of(a: Analysis, part: str) -> PartCuts:
    return next(c for c in a.cuts if c.part == part)


def together_again(a: Analysis, c: PartCuts) -> float:
    """Which share of a part its pieces lack; each is one whole, fits, and takes no other's place."""
    pieces = [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]
    assert all(p.fits_bed for p in c.pieces)
    assert all(len(m.decompose()) == 1 and mk.watertight(m) for m in pieces), c.part
    assert all((m ^ q).volume() < 1e-3 for m, q in itertools.combinations(pieces, 2)), c.part
    whole = mk.evaluate(a.recipes[c.part], mk.FILE_TOL).volume()
    return 1 - sum(m.volume() for m in pieces) / whole


def test_panels_are_keyed_in_their_plates() -> None:
    """The front of Heron as sliding panels on the bed of 168: three pieces of 372, keyed; pins, which would stand on the bed, are not to be had."""
    a = made(heron(), "sliding panels", (180, 180, 180))
    front = of(a, "panel-front")
    assert front.joined == "dovetails" and [x.joined for x in front.cuts] == ["dovetails"] * 2
    assert len(front.pieces) == front.least == 3 and not front.no_place
    assert 0 < together_again(a, front) < 0.004
    table = next(p for p in cuts_table(a).parts if p.cuts.part == "panel-front")
    assert (
        table.joins
        == ("glue alone", "dovetails", "tongue and groove", "half-lap")
        == tuple(w.by for w in table.seams[0].choice.ways)
    )
    # asked for pins, they stay as they can be made
    pinned = analyse(apply(a.design, JoinCuts(part="panel-front", by="bolts")), a.workshop, "preview")
    assert of(pinned, "panel-front").cuts == front.cuts


def bare(d: Design) -> Design:
    """Nothing in it, with room over it."""
    gone = tuple(Remove(id=p.id) for p in d.placements if p.on is None)
    return apply(d, Together(edits=(*gone, MoveWall(face="top", by_mm=40), HoldBySnaps(snaps=Snaps()))))


def test_a_hand_cuts_a_base_into_two_storeys() -> None:
    """72 high, no bosses in it: cut level at 30, keyed in front and back at the same places; together they are the base, and the floor's storey is 33 high without its keys."""
    d = bare(wren())
    a = shaped(d)
    table = next(p for p in cuts_table(a).parts if p.cuts.part == "base")
    assert [m.axis for m in table.more] == ["x", "y", "z"] and not of(a, "base").cuts
    level = next(m for m in table.more if m.axis == "z")
    offered = shaped(apply(d, level.edit))
    assert [(x.axis, x.crosses) for x in of(offered, "base").cuts] == [("z", ())]
    b = shaped(apply(d, PutCut(cut=PinnedCut(part="base", axis="z", at_mm=30))))
    c = of(b, "base")
    (cut,) = c.cuts
    assert c.flat == ("x", "z") and cut.joined == "dovetails" and len(cut.dowels) >= 2 and cut.crosses == ()
    assert 0 < together_again(b, c) < 0.004
    low, high = (mk.evaluate(b.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces)
    assert low.bounding_box()[5] == pytest.approx(33 + 8, abs=1e-3)  # a key is 8 long
    assert high.bounding_box()[2] == pytest.approx(33, abs=1e-3)
    s, (w, deep, _) = d.shell, b.case.box_mm
    over = low.slice(33 + 4)
    for y in (s.wall_mm / 2, deep - s.wall_mm / 2):
        strip = CrossSection.square((w, 0.1)).translate((0, y - 0.05)) ^ over
        assert strip.area() / 0.1 == pytest.approx(11.0 * len(cut.dowels), abs=0.05)
    gone = [f for f in judge(b) if f.code in ("cut-through-feature", "cut-not-made", "pieces-not-held")]
    assert gone == []


@pytest.mark.parametrize("at", [30.0, 46.0, 62.0])
def test_numbers_in_a_wall_keep_off_what_stands_by_it(at: float) -> None:
    """A long lid with a screw in the middle of its front: webs of its column reach the wall, and the rim is thicker than it. A number sunk there would be a hollow."""
    gone = tuple(Remove(id=p.id) for p in wren().placements if p.on is None)
    wide = (
        MoveWall(face="top", by_mm=50),
        MoveWall(face="right", by_mm=60),
        Set(path="shell.construction.joint_mm", value=14),
        Set(path="shell.construction.joint_thread", value="captive nut"),
    )
    d = apply(wren(), Together(edits=(*gone, *wide, Set(path="printer", value="bench-300"))))
    a = shaped(apply(d, PutCut(cut=PinnedCut(part="lid", axis="z", at_mm=at))))
    c = of(a, "lid")
    assert len(c.pieces) == 2
    for p in c.pieces:
        bodies = mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL).decompose()
        assert [b.volume() > 0 for b in bodies] == [True], p.name


def test_cuts_of_what_is_not_printed_wait_and_say_so(good_wren: Design) -> None:
    """A cut that a hand put in the lid, in a case without one; two of a floor that becomes sheet. Made so again they are there; a press takes them out."""
    d = apply(good_wren, PutCut(cut=PinnedCut(part="lid", axis="x", at_mm=80)))
    assert heard("cut-not-made", shaped(d)) == []
    wrapped = apply(d, Construct(construction=CoreAndWrap()))
    (f,) = heard("cut-not-made", shaped(wrapped))
    assert (f.severity, f.title, f.measured, f.limit) == ("advice", "The cut of the lid waits", 0, 1)
    assert f.reason.startswith("This case has no lid: it waits")
    out = apply(wrapped, Together(edits=f.remedies[0].edits))
    assert out.cuts == () and heard("cut-not-made", shaped(out)) == []
    two = (PinnedCut(part="core", axis="x", at_mm=60), PinnedCut(part="core", axis="x", at_mm=110))
    core = apply(out, PutCuts(part="core", cuts=two))
    sheet = apply(core, Construct(construction=CoreAndWrap(floor="sheet")))
    (f,) = heard("cut-not-made", shaped(sheet))
    assert f.title == "The cuts of the core wait" and "acrylic, in one piece" in f.reason
    assert f.remedies[0].label == "Take them out"


def test_a_level_cut_is_told_what_it_meets() -> None:
    """Bosses of the lid stand in a base from floor to joint, and the rim is thicker than the wall; across x and y it is cut as before."""
    d = apply(wren(), MoveWall(face="top", by_mm=40))
    z = apply(d, PutCut(cut=PinnedCut(part="base", axis="z", at_mm=30)))
    found = [f for f in judge(shaped(z)) if f.code == "cut-through-feature"]
    assert [f.severity for f in found] == ["stop"] and "lid screw boss" in found[0].title
    table = cuts_table(shaped(d))
    base = next(p for p in table.parts if p.cuts.part == "base")
    assert {m.axis for m in base.more} <= {"x", "y"}
    snapped = bare(wren())
    assert isinstance(snapped.shell.construction, TwoHalves)
    joint = snapped.shell.construction.joint_mm
    rim = next(b for b in analyse(snapped, ARCHIVE_WORKSHOP, "none").case.bulges)
    at = joint - 10.5
    near = apply(snapped, PutCut(cut=PinnedCut(part="base", axis="z", at_mm=at)))
    c = of(shaped(near), "base")
    assert ("rim" in c.cuts[0].crosses) == (rim.from_mm < at + snapped.shell.floor_mm < rim.to_mm)
    under = strips(
        analyse(snapped, ARCHIVE_WORKSHOP, "none").case,
        analyse(snapped, ARCHIVE_WORKSHOP, "none").openings,
        "base",
        "z",
    )
    assert any(x.why == "rim" and (x.lo, x.hi) == (rim.from_mm, rim.to_mm) for x in under)


@pytest.mark.parametrize("part", ["panel-front", "panel-left"])
def test_a_dovetail_is_as_wide_as_it_says(part: str) -> None:
    """Half way along its 8 mm a tail is 11 wide, between 9 at its neck and 13 at its end: measured through the middle of the plate."""
    a = made(heron(), "sliding panels", (180, 180, 180))
    c = of(a, part)
    cut = c.cuts[0]
    assert c.seat is not None
    n, i = c.seat.axis, INDEX[cut.axis]
    gap = fit(a.design, a.printer, "tongue_side", (part,), 13.0).value
    assert 0.15 <= gap <= 0.25
    for name, way in ((c.pieces[0].name, 1), (c.pieces[1].name, -1)):
        loops = section(a.pieces_in_case[name], "xyz"[n], (c.seat.outer_mm + c.seat.inner_mm) / 2)  # type: ignore[arg-type]
        area = unary_union([Polygon(x) for x in loops])
        at = cut.at_mm + 4.0
        # the axes of a section are the two that it does not run across, in their order
        first = i < 3 - i - n
        line = LineString([(at, -500), (at, 500)] if first else [(-500, at), (500, at)])
        found = area.intersection(line)
        widths = sorted(g.length for g in getattr(found, "geoms", [found]))
        if way == 1:
            assert len(widths) == len(cut.dowels) == 3 and widths == pytest.approx([11.0] * 3, abs=0.01)
        else:  # the sockets, wider by the allowance of a tongue on either side
            gaps = found.envelope.length / 2 - sum(widths)
            assert gaps == pytest.approx(3 * (11.0 + 2 * gap * (1 + 0.25**2) ** 0.5), abs=0.01)


def test_a_sleeve_too_tall_for_the_bed_is_cut_level_and_upright() -> None:
    """Heron's sleeve stands 268 tall on a bed that prints 250: two storeys, each in pieces of the 208 that its bed takes."""
    a = shaped(apply(heron(), Set(path="printer", value="bench-220")))
    sleeve = of(a, "sleeve")
    assert sleeve.bbox_mm[2] == pytest.approx(268.3, abs=0.5) and sleeve.usable_mm[2] == 250
    assert {x.axis for x in sleeve.cuts} == {"x", "y"} and sleeve.least == 4 and not sleeve.no_place
    assert all(x.joined == "dovetails" and len(x.dowels) >= 2 for x in sleeve.cuts)
    assert 0 < together_again(a, sleeve) < 0.004
    assert all(p.bbox_mm[2] <= 250 for p in sleeve.pieces)
    assert not [f for f in judge(a) if f.stop == "cuts" and f.severity == "stop"]


@pytest.mark.parametrize("high, pieces, least", [(60.0, 2, 2), (50.0, 3, 2), (100.0, 1, 1)])
def test_a_wrap_too_tall_for_the_bed_is_keyed_in_two_walls(high: float, pieces: int, least: int) -> None:
    """Wren with a wrap of 94 on beds that print so high. The walls of front and back are keyed alike, so that the storeys slide together.
    A storey is longer than its cell by the 8 mm of its tails: two of 47 would not fit 50."""
    a = made(wren(), "core and wrap", (420, 420, high), taller=60.0)
    wrap = of(a, "wrap")
    assert (len(wrap.pieces), wrap.least) == (pieces, least) and all(x.axis == "z" for x in wrap.cuts)
    if pieces == 1:
        assert wrap.seat is not None and not wrap.seat.bare  # cut across its top, were it too large
        return
    assert 0 < together_again(a, wrap) < 0.002
    cut = wrap.cuts[0]
    lower = section(a.pieces_in_case["wrap-1"], "z", cut.at_mm + 4.0)
    spots = sorted((Polygon(x).centroid.y, Polygon(x).area) for x in lower)
    wall = a.design.shell.wall_mm
    assert len(spots) == 2 * len(cut.dowels)
    assert [s[1] for s in spots] == pytest.approx([11.0 * wall] * len(spots), rel=0.01)
    deep = a.case.box_mm[1]
    assert [s[0] for s in spots] == pytest.approx(
        [wall / 2] * len(cut.dowels) + [deep - wall / 2] * len(cut.dowels), abs=0.02
    )


def test_no_cut_runs_level_through_a_post(good_wren: Design) -> None:
    """A level cut keeps above posts: with 3 to spare over their tops."""
    a = shaped(good_wren)
    tops = {m.top_mm for m in a.case.mounts if m.part == "base"}
    level = [s for s in strips(a.case, a.openings, "base", "z") if s.why.startswith("post of")]
    assert {s.hi for s in level} == {t + 3.0 for t in tops} and all(s.lo == 0.0 for s in level)


def test_what_finds_no_cut_is_offered_sheet_or_glue_or_another_case() -> None:
    """Heron's tray on the small bed: its end plate's opening is wider than the bed, so that no way to join helps; as covers on a frame it can be made."""
    a = shaped(apply(heron(), Set(path="printer", value="bench-180")))
    (f,) = [f for f in judge(a) if f.code == "no-place-for-cut" and f.subjects == ("tray",)]
    assert f.severity == "stop" and f.measured == pytest.approx(of(a, "tray").over_mm)
    labels = [r.label for r in f.remedies]
    assert "Make it a frame with covers" in labels and "Join the pieces of the tray by glue alone" not in labels
    covers = next(r for r in f.remedies if r.label == "Make it a frame with covers")
    after = shaped(apply(a.design, Together(edits=covers.edits)))
    assert all(p.fits_bed for p in after.pieces)
    # a side with two fans: keyed it finds no place between them, glued alone it does
    panels = made(heron(), "sliding panels", (180, 180, 180))
    (right,) = [f for f in judge(panels) if f.code == "no-place-for-cut" and f.subjects == ("panel-right",)]
    glued = next(r for r in right.remedies if r.label == "Join the pieces of the panel-right by glue alone")
    after = analyse(apply(panels.design, Together(edits=glued.edits)), panels.workshop, "preview")
    assert len(of(after, "panel-right").pieces) == 2 and together_again(after, of(after, "panel-right")) < 1e-4
    # bought sheet comes in one piece, and is first
    assert right.remedies[0].label == "Cut the panel-right from acrylic"
    told = effect_of(panels.design, panels.workshop, right.key, right.remedies[0].edits)
    assert told.clears
    cut = analyse(apply(panels.design, Together(edits=right.remedies[0].edits)), panels.workshop, "preview")
    assert [x.part for x in cut.sheets] == ["panel-right"] and "panel-right" not in {c.part for c in cut.cuts}
    (over,) = [f for f in judge(panels) if f.code == "part-over-bed" and f.subjects == ("top",)]
    assert "Cut the top from acrylic" in [r.label for r in over.remedies]


def test_every_construction_is_cut_on_a_low_bed() -> None:
    for kind in ("two halves", "tray in a sleeve", "sliding panels", "frame and covers", "core and wrap", "open bench"):
        a = made(wren(), kind, (120, 120, 45))
        assert not a.faults, kind
        for c in (c for c in a.cuts if c.cuts):
            assert together_again(a, c) < 0.01, (kind, c.part)


def test_heron_on_the_smallest_bed_from_cuts_to_the_shop() -> None:
    """As a newcomer would: the sleeve has no place for a cut of its tray, so covers on a frame; a seam bolted, fewer kinds of screws, the rest bought."""
    start = apply(heron(), Set(path="printer", value="bench-180"))
    a = shaped(start)
    f = next(f for f in judge(a) if f.code == "no-place-for-cut")
    covers = next(r for r in f.remedies if r.label == "Make it a frame with covers")
    d = apply(start, Together(edits=covers.edits))
    a = shaped(d)
    assert all(p.fits_bed for p in a.pieces) and not [f for f in judge(a) if f.code == "no-place-for-cut"]
    front = next(p for p in cuts_table(a).parts if p.cuts.part == "cover-front")
    seam = next(s for s in front.seams if s.choice.proposed == "bolts")
    way = next(w for w in seam.choice.ways if w.by == "bolts")
    d = apply(d, joined_by(front.cuts, seam.cut, "bolts"))
    a = shaped(d)
    (line,) = [g for g in a.joints if g.key == "cut/cover-front"]
    assert line.count == way.places and line.screw_mm == 14.0
    found, edits = fewer_kinds(a)
    assert found.proven and len(found.least) < len(found.now)
    d = apply(d, Together(edits=edits))
    a = shaped(d)
    screws = [g for g in a.joints if g.head != "stud"]
    assert len({(g.head, g.thread, g.screw_mm) for g in screws}) == len(found.least)
    assert all(g.screw_mm in g.serves for g in screws if g.serves)
    bought = {(x.item, x.size): x for x in shopping(a.bill, ARCHIVE_WORKSHOP.stock, ()).lines}
    for g in screws:
        if g.serves:
            x = bought[(f"screw, {g.head}", screw_size(g.thread, g.screw_mm or 0.0))]
            assert x.missing == max(0, x.need - x.have) and x.packs * x.pack >= x.missing
    nuts = bought[("nut", "M3")]
    assert nuts.need >= way.places


@given(
    high=st.floats(35, 140),
    wide=st.floats(120, 400),
    taller=st.floats(0, 120),
    kind=st.sampled_from(("core and wrap", "tray in a sleeve", "sliding panels")),
)
@settings(max_examples=examples(60), deadline=None)
def test_whatever_the_bed_pieces_fit_it_and_are_the_part(high: float, wide: float, taller: float, kind: str) -> None:
    """Wren, taller or not, on printers of any size: what is cut is whole again, and what cannot be cut is told."""
    a = made(wren(), kind, (wide, wide, high), round(taller, 1))
    assert not a.faults
    told = {x for f in judge(a) if f.stop == "cuts" and f.severity == "stop" for x in f.subjects}
    for c in a.cuts:
        if c.cuts and all(p.fits_bed for p in c.pieces):
            assert together_again(a, c) < 0.03 or c.seat is None or not c.seat.bare
        elif not all(p.fits_bed for p in c.pieces):
            assert c.part in told


def test_what_dovetails_take_is_their_allowance_and_no_more() -> None:
    """By hand: a tail of 9 at its neck, 13 at its end, 8 long; its socket is that outline drawn out by the allowance, from the cut on."""
    a = made(heron(), "sliding panels", (180, 180, 180))
    c = of(a, "panel-front")
    gap = fit(a.design, a.printer, "tongue_side", ("panel-front",), 13.0).value
    tail = Polygon([(0, -4.5), (8, -6.5), (8, 6.5), (0, 4.5)])
    drawn = Polygon([(-1, -4.5), (0, -4.5), (8, -6.5), (8, 6.5), (0, 4.5), (-1, 4.5)]).buffer(gap, join_style="mitre")
    socket = drawn.intersection(Polygon([(0, -20), (20, -20), (20, 20), (0, 20)]))
    assert tail.area == pytest.approx(88.0)
    lost = sum(len(x.dowels) for x in c.cuts) * (socket.area - tail.area) * a.design.shell.wall_mm

    # numbers and arrows take as much of pieces that are glued flat at the same places
    there = tuple(PinnedCut(part="panel-front", axis=x.axis, at_mm=x.inside_mm, by="glue alone") for x in c.cuts)
    flat = analyse(apply(a.design, PutCuts(part="panel-front", cuts=there)), a.workshop, "preview")
    whole = mk.evaluate(a.recipes["panel-front"], mk.FILE_TOL).volume()
    lacks = [together_again(x, of(x, "panel-front")) * whole for x in (a, flat)]
    assert lacks[0] - lacks[1] == pytest.approx(lost, rel=0.01) and 0 < lacks[1] < lost


def test_the_map_of_pieces_shows_storeys_and_their_neighbours() -> None:
    """The sleeve of Heron in six: each by its number, beside those that it shares a cut with."""
    a = shaped(apply(heron(), Set(path="printer", value="bench-220")))
    table = next(p for p in cuts_table(a).parts if p.cuts.part == "sleeve")
    assert table.cuts.flat == ("x", "y") and [x.number for x in table.cells] == [1, 2, 3, 4, 5, 6]
    beside = {x.number: sorted(neighbours(table, x)) for x in table.cells}
    assert beside == {1: [2, 3], 2: [1, 4], 3: [1, 4, 5], 4: [2, 3, 6], 5: [3, 6], 6: [4, 5]}
    (sheet,) = [s for s in pieces_maps(a) if s.title.endswith("pieces of the sleeve")]
    assert {"1", "2", "3", "4", "5", "6", "joined by dovetails"} <= {t.words for t in sheet.texts}
    assert not [x for x in a.bill if "pin" in x.item and "sleeve" in x.use]  # nothing is bought for it


def test_every_piece_of_a_tall_part_has_its_place_on_a_plate() -> None:
    a = shaped(apply(heron(), Set(path="printer", value="bench-220")))
    laid = plates(a)
    assert sorted(p.piece for plate in laid for p in plate.places) == sorted(p.name for p in a.pieces)
    size = {p.name: p.bbox_mm for p in a.pieces}
    for plate in laid:
        assert plate.fits
        for p in plate.places:
            wide, deep = turned_size(size[p.piece][:2], p.angle_deg)
            assert p.at_mm[0] + wide <= a.printer.bed_mm[0] and p.at_mm[1] + deep <= a.printer.bed_mm[1]
            assert min(p.at_mm) >= 0 and size[p.piece][2] <= a.printer.bed_mm[2]


def test_a_seam_that_nothing_else_strengthens_gets_a_thicker_wall() -> None:
    """*Heron* as sliding panels: nothing may stand on a panel, so no bolts. A glued face of 3.84 bears 1.63 N m of 5.01: with the square of its
    thickness 3.84 x sqrt(5.01 / 1.63) = 6.73 would do, and 3 % are to spare."""
    d = heron()
    d = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, "sliding panels")))
    found = {f.subjects[0]: f for f in heard("seam-too-weak", shaped(d))}
    front = found["panel-front"]
    assert (front.measured, front.limit) == (pytest.approx(1.63, abs=0.01), pytest.approx(5.01, abs=0.01))
    (thicker,) = front.remedies
    assert thicker.label == "Make the walls 7 mm thick"
    told = effect_of(d, ARCHIVE_WORKSHOP, front.key, thicker.edits)
    # the next longer stock screws of the fan on a thicker wall end in the board's slot
    assert told.clears and told.new == ("The screws of Left fan reach into Board",)


def test_a_low_panel_between_posts_is_cut_as_well() -> None:
    """65 high, its edges at the sides in grooves: two dovetails of 18, 20 apart, find a place over one another, a millimetre and a half from floor and top."""
    shell = Shell(inner_mm=(340.0, 200.0, 66.0), construction=SlidingPanels())
    d = Design(name="Low", shell=shell, printer="bench-180")
    a = shaped(d)
    front = next(c for c in a.cuts if c.part == "panel-front")
    assert (len(front.cuts), front.no_place, front.cuts[0].joined) == (2, False, "dovetails")
    for cut in front.cuts:
        heights = sorted(z for z, _ in cut.dowels)
        assert len(heights) >= 2
        assert heights[0] - 9.0 == pytest.approx(front.lo_mm[2] + 1.5, abs=1e-3)
        assert heights[-1] + 9.0 == pytest.approx(front.hi_mm[2] - 1.5, abs=0.6)
    pieces = [p for p in a.pieces if p.part == "panel-front"]
    assert all(p.watertight and p.bodies == 1 and p.fits_bed for p in pieces)
    # a lower one has no room for two: what is missing is said, and nothing else
    flat = shaped(apply(d, MoveWall(face="top", by_mm=-30)))
    f = next(f for f in judge(flat) if f.code == "no-place-for-cut" and f.subjects == ("panel-front",))
    assert f.reason == "Everywhere within reach a cut finds no place for as many dovetails as hold it."


def test_the_samples_for_the_small_bed_are_cut_both_ways_where_they_must_be() -> None:
    """Beds of 180 take 168 within brim and edge: *Wren*, 171.6 x 144, is cut once, floor and top of *Heron*, 391.7 x 271.7, twice and once."""
    w, h = (shaped(make()) for make in (wren_small, heron_small))
    assert {c.part: [x.axis for x in c.cuts] for c in w.cuts} == {"base": ["x"], "lid": ["x"]}
    both = {c.part: [x.axis for x in c.cuts] for c in h.cuts}
    assert both["floor"] == ["x", "x", "y"] and both["cover-top"] == ["x", "x", "y", "y"]
    for a in (w, h):
        assert all(p.fits_bed and p.watertight and p.bodies == 1 for p in a.pieces)
        for c in a.cuts:
            assert together_again(a, c) < 4e-3, c.part  # pins and what is between keys


def test_what_a_wall_would_have_to_be_smaller_leaves_room_for_its_keys() -> None:
    """The front between posts, 372 long, on a bed of 168: two pieces of 160 and a tail of 8 each are 320, and gaps of a half percent more of what goes."""
    a = made(heron(), "sliding panels", (180, 180, 180))
    front = next(p for p in cuts_table(a).parts if p.cuts.part == "panel-front")
    long = front.cuts.hi_mm[0] - front.cuts.lo_mm[0]
    less = ceil((long - 320) * 1.005 * 10) / 10
    assert [x.words for x in front.smaller if isinstance(x.edit, MoveWall)] == [
        f"2 pieces by the size of the bed if it were {less:.1f} mm smaller along x"
    ]
    there = analyse(apply(a.design, front.smaller[0].edit), a.workshop, "preview")
    assert of(there, "panel-front").least == 2
