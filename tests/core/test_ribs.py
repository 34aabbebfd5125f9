"""Ribs on the inside of panels: measured on the mesh, beside all that stands there, and how much stiffer they make a panel."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from rhombex.core.advice.panels import panels, ribs_that_hold
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design, OwnOpening, PinnedCut, Process
from rhombex.core.edits import Construct, Edit, Move, PutCut, PutOwnOpening, PutRibs, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.process.ribbed import along_ribs_nmm, between_ribs_mm, centre_bend_mm
from rhombex.core.process.stiffness import Plate
from rhombex.core.reference import val
from rhombex.core.shell.offers import usual
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import alone

SIX_LINES = 0.45 + 5 * (0.45 - 0.2 * 0.2146)  # of a 0.4 nozzle in layers of 0.2: w + (n - 1) (w - h (1 - pi/4))


def ribbed(d: Design, *more: Edit, count: int = 2, high_mm: float = 6.0, face: str = "top") -> Design:
    put = PutRibs(face=face, count=count, high_mm=high_mm)  # type: ignore[arg-type]
    return apply(d, Together(edits=(put, *more)))


def look(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "none")


def filled(a: Analysis, part: str, box: Box) -> float:
    """What share of a box a part fills."""
    probe = mk.evaluate(block(box), mk.FILE_TOL)
    return float((mk.evaluate(a.recipes[part], mk.FILE_TOL) ^ probe).volume() / probe.volume())


def test_ribs_stand_where_they_are_told_as_high_and_thick_as_they_are(good_wren: Design) -> None:
    plain, a = look(good_wren), look(ribbed(good_wren))
    assert not a.faults and len(a.case.ribs) == 2
    under = a.case.cavity.hi[2]
    for r in a.case.ribs:
        assert (r.part, r.face, r.across) == ("lid", "top", 0)  # Wren is longer along x: they run the shorter way
        assert r.box.size[0] == pytest.approx(SIX_LINES, abs=1e-3) and r.box.size[2] == pytest.approx(6)
        assert r.box.hi[2] == pytest.approx(under)
        assert filled(a, "lid", r.box) == pytest.approx(1, abs=1e-4)
        x, wide = r.box.centre[0], SIX_LINES
        for beside in (x - wide / 2 - 0.5, x + wide / 2 + 0.05):  # nothing beside them
            air = Box((beside, r.box.lo[1], under - 5.9), (beside + 0.4, r.box.hi[1], under - 0.1))
            assert filled(a, "lid", air) == pytest.approx(filled(plain, "lid", air), abs=1e-4)
        below = Box((x - 0.5, r.box.lo[1], under - 6.5), (x + 0.5, r.box.hi[1], under - 6.05))
        assert filled(a, "lid", below) == 0
    added = (
        mk.evaluate(a.recipes["lid"], mk.FILE_TOL).volume() - mk.evaluate(plain.recipes["lid"], mk.FILE_TOL).volume()
    )
    assert added == pytest.approx(sum(r.box.size[0] * r.box.size[1] * 6 for r in a.case.ribs), rel=1e-3)
    assert mk.bodies(mk.evaluate(a.recipes["lid"], mk.FILE_TOL)) == 1


def test_they_stand_evenly_or_a_little_beside_what_is_in_their_way(good_wren: Design) -> None:
    """Two over a room of width w: at w/3 and 2 w/3, each within three tenths of that; the fan in the lid pushes the first one along."""
    a = look(ribbed(good_wren))
    room = a.case.cavity
    pitch = room.size[0] / 3
    for k, r in enumerate(a.case.ribs, 1):
        assert abs(r.box.centre[0] - room.lo[0] - k * pitch) <= 0.3 * pitch + 1e-6
        assert k == 2 or r.box.centre[0] > room.lo[0] + pitch + 5
        near = r.box.grown(0.999)
        for t in a.things:
            assert all(max(near.gaps(s.box)) >= 0 for s in t.solids)


def test_no_opening_and_no_vent_is_cut_through_a_rib(good_wren: Design) -> None:
    """A window of 40 x 20 in the middle of the lid, where one rib would be: a millimetre beside it stays plain."""
    own = OwnOpening(id="look", name="Window", face="top", at_mm=(82.8, 30.0), size_mm=(40.0, 20.0))
    d = ribbed(good_wren, PutOwnOpening(opening=own), count=1)
    a = look(d)
    (o,) = (x for x in a.openings.openings if x.label == "Window")
    (r,) = a.case.ribs
    assert abs(r.box.centre[0] - o.at_mm[0]) >= o.size_mm[0] / 2 + 1 + r.box.size[0] / 2 - 1e-6
    assert filled(a, "lid", r.box) == pytest.approx(1, abs=1e-4)


@settings(max_examples=20, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    count=st.integers(1, 12),
    high=st.floats(1, 20),
    by=st.tuples(st.floats(-8, 8), st.floats(-8, 8)),
    kind=st.sampled_from(["two halves", "frame and covers", "corners and sheet"]),
    face=st.sampled_from(["top", "front", "left"]),
)
def test_ribs_touch_nothing_but_their_own_part(
    good_wren: Design, count: int, high: float, by: tuple[float, float], kind: str, face: str
) -> None:
    d = apply(good_wren, Construct(construction=usual(good_wren, kind)))
    x, y, _ = next(p.at_mm for p in d.placements if p.id == "board")
    a = look(ribbed(d, Move(id="board", to_mm=(x + by[0], y + by[1], None)), count=count, high_mm=high, face=face))
    for r in a.case.ribs:
        rib = mk.evaluate(block(r.box), mk.FILE_TOL)
        for name, recipe in a.recipes.items():
            if name != r.part:
                assert (mk.evaluate(recipe, mk.FILE_TOL) ^ rib).volume() < 1e-3, name
        assert all(max(r.box.gaps(s.box)) >= 0 for t in a.things for s in t.solids)
    for name in {r.part for r in a.case.ribs}:
        m = mk.evaluate(a.recipes[name], mk.FILE_TOL)
        assert mk.watertight(m) and mk.bodies(m) == 1


def test_where_nothing_bears_them_they_are_told(good_wren: Design) -> None:
    slid = apply(good_wren, Construct(construction=usual(good_wren, "sliding panels")))
    d = ribbed(slid, face="left")
    assert look(d).case.ribs == ()
    (f,) = alone(d, "rib-has-no-place")
    assert (f.severity, f.measured, f.limit) == ("weigh", 0, 2) and "slides" in f.reason
    assert not alone(apply(d, Together(edits=f.remedies[-1].edits)), "rib-has-no-place")
    # ribs as high as the room: components are in the way of some
    high = ribbed(good_wren, count=8, high_mm=30.0)
    found = len(look(high).case.ribs)
    assert found < 8
    (f,) = alone(high, "rib-has-no-place")
    assert (f.measured, f.limit) == (found, 8)
    for r in f.remedies:
        assert not alone(apply(high, Together(edits=r.edits)), "rib-has-no-place"), r.label


def test_the_series_of_an_even_plate_is_the_table_of_the_handbook() -> None:
    """Timoshenko and Woinowsky-Krieger, table of a plate with its load in the middle: alpha 0.01160 at b / a = 1, 0.01484 at 1.4, 0.01651 at 2."""
    for ratio, alpha in ((1.0, 0.01160), (1.4, 0.01484), (2.0, 0.01651)):
        assert centre_bend_mm(50, 100, 100 * ratio, 2000, 2000, 2000) == pytest.approx(
            alpha * 50 * 100**2 / 2000, rel=4e-3
        )
    # so stiff along a that it is a row of beams on the plate across: it tends to nothing
    assert centre_bend_mm(50, 100, 100, 2e9, 2000, 2000) < 0.002 * 0.0116 * 50 * 100**2 / 2000
    assert between_ribs_mm(50, 20, 2000) == pytest.approx(0.0169 * 50 * 400 / 2000)


def test_what_a_rib_adds_is_the_section_worked_by_hand(good: Analysis) -> None:
    """A solid plate of 3 and ribs of 2.49 x 6 every 40 over a span of 200: flange 40 x 3 = 120 mm2 at 1.5, rib 14.9 mm2 at 6; apart by 4.5:
    2.49 x 216 / 12 + 120 x 14.9 / 134.9 x 4.5^2 = 44.8 + 268.7 = 313.5 mm4 over 40 mm, beside 27 / 12 = 2.25 of the plate itself."""
    solid = Process(infill=1.0)
    plate = Plate(name="top", thick_mm=3.0, pose="lying")
    e = val("materials.PLA.modulus")
    got = along_ribs_nmm(plate, solid, good.printer, high_mm=6, thick_mm=SIX_LINES, pitch_mm=40, span_mm=200)
    wide = SIX_LINES
    hand = wide * 216 / 12 + 120 * wide * 6 / (120 + wide * 6) * 4.5**2
    assert hand == pytest.approx(313.5, rel=2e-3)
    assert got == pytest.approx(e * (2.25 + hand / 40), rel=1e-6)
    # ribs far apart: no more flange bends along than a quarter of the span
    far = along_ribs_nmm(plate, solid, good.printer, high_mm=6, thick_mm=wide, pitch_mm=100, span_mm=80)
    hand = wide * 216 / 12 + 60 * wide * 6 / (60 + wide * 6) * 4.5**2
    assert far == pytest.approx(e * (2.25 + hand / 100), rel=1e-6)


def test_a_panel_that_gives_way_gets_the_fewest_ribs_that_hold_it(good_wren: Design) -> None:
    thin = apply(good_wren, Set(path="shell.lid_mm", value=2.0))
    (f,) = [x for x in alone(thin, "panel-bends") if x.subjects[1] == "top"]
    assert f.measured > f.limit
    r = f.remedies[0]
    assert r.label.startswith("Put ") and "ribs" in r.label
    held = apply(thin, Together(edits=r.edits))
    assert not [x for x in alone(held, "panel-bends") if x.subjects[1] == "top"]
    a = look(held)
    (top,) = [p for p in panels(a) if p.face == "top"]
    assert top.bend.value <= f.limit and top.ribs == len(a.case.ribs) and top.ribbed
    # no wish of less plastic holds it
    wish = ribs_that_hold(look(thin), "top", f.limit, 6)
    assert wish is not None
    for count in range(1, wish.count + 2):
        for high in (4.0, 6.0, 8.0, 10.0, 12.0, 16.0):
            if count * high < wish.count * wish.high_mm:
                less = look(ribbed(thin, count=count, high_mm=high))
                bend = next(p.bend.value for p in panels(less) if p.face == "top")
                assert bend > f.limit or len(less.case.ribs) < count, (count, high)


def test_no_cut_runs_along_a_rib_and_no_pin_stands_in_one(good_wren: Design) -> None:
    d = ribbed(good_wren, Set(path="printer", value="bench-180"))
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    lid = next(c for c in a.cuts if c.part == "lid")
    told = [s for s in strips(a.case, a.openings, "lid", "x") if s.why == "rib"]
    assert [(s.lo, s.hi) for s in told] == [
        (pytest.approx(r.box.lo[0] - 3), pytest.approx(r.box.hi[0] + 3))
        for r in sorted(a.case.ribs, key=lambda r: r.box.lo)
    ]
    assert not [s for s in strips(a.case, a.openings, "lid", "y") if s.why == "rib"]  # across them it may
    assert lid.cuts and all(not s.lo < c.at_mm < s.hi for c in lid.cuts for s in told)
    assert not a.faults and all(p.watertight and p.bodies == 1 for p in a.pieces if p.part == "lid")
    across = PinnedCut(part="lid", axis="y", at_mm=a.case.cavity.size[1] / 2)
    along = apply(d, PutCut(cut=across))
    cut = analyse(along, ARCHIVE_WORKSHOP, "preview")
    mine = next(c for c in cut.cuts if c.part == "lid")
    for q, _ in (p for c in mine.cuts if c.axis == "y" for p in c.dowels):
        assert all(abs(q - r.box.centre[0]) > r.box.size[0] / 2 + 2 for r in cut.case.ribs)
    assert all(p.watertight for p in cut.pieces if p.part == "lid")


def test_they_bring_no_concern_and_are_exported_alike(good_wren: Design) -> None:
    before = {f.key for f in judge(analyse(good_wren, ARCHIVE_WORKSHOP))}
    a = analyse(ribbed(good_wren), ARCHIVE_WORKSHOP)
    assert {f.key for f in judge(a)} <= before
    lighter, heavier = (analyse(d, ARCHIVE_WORKSHOP).part_mass_g()["lid"] for d in (good_wren, ribbed(good_wren)))
    assert heavier > lighter
