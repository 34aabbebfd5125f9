"""Stiffness by beam theory, what changes if, filaments, sides to lie on, shrinkage, panels."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhombex.core.advice.materials import advise, blocks, heat_of
from rhombex.core.advice.orient import resting_faces
from rhombex.core.advice.what_if import what_if
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import LoosePanels
from rhombex.core.design import Design, Panel, Process
from rhombex.core.edits import Construct, LayPart, PutPanel, RemovePanel, Set, Together
from rhombex.core.fit.laying import TURNS, laid, turned_size
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import Difference, block
from rhombex.core.plain import DesignError
from rhombex.core.process.presets import presets
from rhombex.core.process.shrink import shrink_risk
from rhombex.core.process.stiffness import Plate, bending, layers_for, plates, ratio, trade
from rhombex.core.reference import val
from rhombex.core.shell.panels import panel_recipe, vents_of
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron_panels

BENCH = ARCHIVE_WORKSHOP.printers[1]
WALL = Plate(name="wall", thick_mm=3.0, pose="lying")


# beam theory


def test_a_solid_plate_bends_like_the_handbook_says() -> None:
    """I = b t^3 / 12 (Timoshenko; Roark): E I per metre of width at 3 GPa and 3 mm is 6.75 N m."""
    stiff, mass = bending(WALL, Process(infill=1.0), BENCH)
    assert stiff == pytest.approx(3000 * 3.0**3 / 12 / 1000, rel=1e-9)
    assert mass == pytest.approx(3.0 * 1.24 * 1000)


def test_two_skins_far_apart_follow_the_parallel_axis_theorem() -> None:
    """Skins of 0.8 on 10 mm with nothing between: 2 (s^3 / 12 + s (t/2 - s/2)^2) (Roark)."""
    plate = Plate(name="x", thick_mm=10, pose="lying")
    stiff, _ = bending(plate, Process(infill=0.0, top_layers=4, bottom_layers=4), BENCH)
    s = 0.8
    assert stiff == pytest.approx(3000 * 2 * (s**3 / 12 + s * (5 - s / 2) ** 2) / 1000, rel=1e-9)


@given(st.integers(1, 8), st.integers(1, 8), st.floats(0, 1))
def test_more_material_never_bends_more(low: int, high: int, infill: float) -> None:
    plate = Plate(name="x", thick_mm=6, pose="lying")
    less = bending(plate, Process(top_layers=low, bottom_layers=high, infill=infill), BENCH)
    more = bending(plate, Process(top_layers=low + 1, bottom_layers=high + 1, infill=min(1.0, infill + 0.05)), BENCH)
    assert more[0] >= less[0] - 1e-9 and more[1] >= less[1] - 1e-9


def test_perimeters_win_over_infill_for_bending() -> None:
    """Common practice: strength bought with perimeters, for material far from the middle counts with its square."""
    plate = Plate(name="x", thick_mm=6, pose="standing")
    walls = bending(plate, Process(perimeters=4, infill=0.1), BENCH)
    infill = bending(plate, Process(perimeters=2, infill=0.4), BENCH)
    assert walls[0] > infill[0] and walls[1] < 1.1 * infill[1]


def test_the_trade_curve_marks_what_nothing_beats() -> None:
    t = trade(Plate(name="x", thick_mm=6, pose="standing"), Process(perimeters=2, infill=0.4), BENCH)
    best = sorted((p.mass_g_m2, p.stiffness_nm) for p in t.points if p.best)
    assert all(b[1] >= a[1] - 1e-9 for a, b in itertools.pairwise(best))
    assert sum(p.now for p in t.points) == 1
    assert "perimeters" in t.advice


def test_layers_for_a_skin() -> None:
    assert layers_for(1.0, 0.2) == 5
    assert layers_for(0.8, 0.3) == 3


# what changes if


def test_the_fastest_way_loses_no_stiffness(good: Analysis) -> None:
    ways = what_if(good)
    now = next(w for w in ways if w.group == "now")
    best = [w for w in ways if w.best]
    assert best and all(w.stiffness >= 0.999 and w.time_s < now.time_s for w in best)
    changed = analyse(apply(good.design, Together(edits=best[-1].edits)), ARCHIVE_WORKSHOP)
    assert sum(p.estimate.time_s.value for p in changed.pieces) == pytest.approx(best[-1].time_s, rel=1e-3)
    parts = {p.part for p in good.pieces}
    for part in parts:
        before = (good.design.process, good.printer)
        assert ratio(good.design, good.case.part(part), before, (changed.design.process, changed.printer)) >= 0.999


def test_the_panels_are_printed_a_third_faster() -> None:
    """The desktop set of panels: the sheet finds a way that takes a third less and is as stiff. Three of the eight speak for all."""
    d = heron_panels()
    few = Together(edits=tuple(RemovePanel(id=p.id) for p in d.panels if p.id not in ("left", "back", "tray")))
    a = analyse(apply(d, few), ARCHIVE_WORKSHOP, "preview")
    ways = what_if(a, settle=False)
    now, best = ways[0], ways[1]
    assert best.best and best.time_s < now.time_s * 2 / 3 and best.stiffness >= 0.999


def test_a_mesh_panel_has_walls_of_3_mm_and_no_skins() -> None:
    """Common practice: no top or bottom layers, walls about 3 mm, 20 % infill."""
    wide = ARCHIVE_WORKSHOP.printers[2]
    mesh = next(p for p in presets(Process(), wide) if p.key == "mesh").change
    assert mesh["top_layers"] == mesh["bottom_layers"] == 0
    assert mesh["infill"] == 0.2 and mesh["perimeters"] == 5
    for p in presets(Process(), wide):
        Process.model_validate(Process().model_dump() | p.change)


# filaments


def test_the_easy_kind_is_ruled_out_where_it_softens(good: Analysis) -> None:
    hot = analyse(apply(good.design, Set(path="brief.sun", value="window")), ARCHIVE_WORKSHOP)
    for advice in advise(hot):
        pla = next(c for c in advice.candidates if c.kind == "PLA")
        assert not pla.suits and pla.margin_k < 10 and "softening" in " ".join(pla.blocked)
        assert advice.candidates[0].suits
        assert advice.heat_c.value == pytest.approx(heat_of(good, advice.part).value + val("limits.heat.sun_window"))


def test_printers_are_asked_what_they_can_do() -> None:
    open_, enclosed = BENCH, ARCHIVE_WORKSHOP.printers[2]
    assert any("enclosed" in b for b in blocks(Process(filament="ASA"), open_, 0.4, ARCHIVE_WORKSHOP))
    assert blocks(Process(filament="ASA"), enclosed, 0.6, ARCHIVE_WORKSHOP) == ()
    assert any("fibres" in b for b in blocks(Process(filament="PETG-CF"), open_, 0.4, ARCHIVE_WORKSHOP))
    assert blocks(Process(filament="PETG"), open_, 0.4, ARCHIVE_WORKSHOP) == ()


def test_no_wall_is_made_of_rubber(good: Analysis) -> None:
    for advice in advise(good):
        assert not next(c for c in advice.candidates if c.kind == "TPU").suits


def test_a_beginner_is_offered_the_easy_kinds_first(good: Analysis) -> None:
    easy = analyse(apply(good.design, Set(path="brief.skill", value=1)), ARCHIVE_WORKSHOP)
    for a, b in zip(advise(good), advise(easy), strict=True):
        score = {c.kind: c.score for c in a.candidates}
        for c in b.candidates:
            assert c.score <= score[c.kind] + 1e-6
            if val(f"materials.{c.kind}.skill") > 1:
                assert "more experience" in " ".join(c.against)


# sides


def test_a_lid_lies_on_its_outer_face_and_a_base_on_its_floor(good: Analysis) -> None:
    lid, base = resting_faces(good, "lid"), resting_faces(good, "base")
    assert lid[0].down == "top" and lid[0].now and lid[0].support_g < 0.5
    assert base[0].down == "bottom" and base[0].strength == 1
    assert all(r.support_g > base[0].support_g for r in base[1:])
    assert all(r.why for r in (*lid, *base))
    # each is drawn as it would lie: flat on its floor it is wider than high, on its left or right side higher than wide
    shape = {r.down: r.picture.size for r in base}
    assert shape["bottom"][0] > 1.4 * shape["bottom"][1] and shape["left"][1] > 1.4 * shape["left"][0]
    assert len({r.picture.strokes for r in base}) == 6


@pytest.mark.parametrize("down", TURNS)
def test_a_turned_part_is_the_same_part(down: str) -> None:
    part = Difference(block(Box((0, 0, 0), (30, 20, 10))), (block(Box((5, 5, 5), (10, 10, 12))),))
    turned = mk.evaluate(laid(part, down))  # type: ignore[arg-type]
    b = turned.bounding_box()
    assert b[:3] == pytest.approx((0, 0, 0), abs=1e-6)
    assert b[3:] == pytest.approx(turned_size((30, 20, 10), down), abs=1e-6)  # type: ignore[arg-type]
    assert turned.volume() == pytest.approx(mk.evaluate(part).volume())  # a mirrored turn would be inside out
    assert mk.watertight(turned)


def test_the_named_side_really_faces_down() -> None:
    """A notch cut into the front is at the bottom once the front is down."""
    part = Difference(block(Box((0, 0, 0), (30, 20, 10))), (block(Box((10, -1, 2), (20, 1, 8))),))
    low = mk.evaluate(laid(part, "front")).slice(0.5).area()
    assert low == pytest.approx(30 * 10 - 10 * 6)


def test_a_part_that_does_not_fit_as_laid_is_cut_as_usual(good_wren: Design) -> None:
    small = apply(
        good_wren, Together(edits=(LayPart(part="lid", down="front"), Set(path="printer", value="bench-180")))
    )
    a = analyse(small, ARCHIVE_WORKSHOP)
    assert all(p.fits_bed for p in a.pieces) or any(f.code in ("part-over-bed", "no-place-for-cut") for f in judge(a))


# shrinkage


def test_sharp_inner_corners_and_jumps_are_found() -> None:
    """A tray: four standing inner corners; floor 60 x 50 over a ring of walls: the section falls by hand 7.0-fold."""
    tray = Difference(block(Box((0, 0, 0), (60, 50, 20))), (block(Box((2, 2, 2), (58, 48, 21))),))
    risk = shrink_risk(tray)
    assert risk.inner_corners == 4
    assert risk.inner_corner_mm == pytest.approx(4 * 18)
    assert risk.jump == pytest.approx(60 * 50 / (60 * 50 - 56 * 46), rel=1e-3)
    assert risk.jump_z_mm == pytest.approx(1.5, abs=0.5)
    assert risk.foot_mm == 60
    plain = shrink_risk(block(Box((0, 0, 0), (60, 50, 20))))
    assert plain.inner_corners == 0 and plain.jump == pytest.approx(1)
    # corners of a hole in a panel, 4.9 and 5.1 long
    for thick, corners in ((4.9, 0), (5.1, 4)):
        panel = Difference(block(Box((0, 0, 0), (60, 50, thick))), (block(Box((20, 20, -1), (40, 40, thick + 1))),))
        assert shrink_risk(panel).inner_corners == corners


# panels


def test_vents_keep_clear_of_edges_and_windows() -> None:
    p = Panel(
        id="p", name="P", size_mm=(150, 90), vent_d_mm=6, vent_pitch_mm=9, margin_mm=10, window_mm=(50, 30, 40, 20)
    )
    centres = vents_of(p)
    assert len(centres) > 60
    for x, y in centres:
        assert 13 - 1e-6 <= x <= 137 + 1e-6 and 13 - 1e-6 <= y <= 77 + 1e-6
        assert not (47 < x < 93 and 27 < y < 53)
    for i, (x, y) in enumerate(centres):
        near = min((x - a) ** 2 + (y - b) ** 2 for j, (a, b) in enumerate(centres) if j != i) ** 0.5
        assert near >= 9 - 1e-6
    mesh = mk.evaluate(panel_recipe(p), mk.FILE_TOL)
    assert mk.watertight(mesh) and mk.bodies(mesh) == 1
    by_hand = 150 * 90 - (4 - 3.14159265) * 9 - 40 * 20 - len(centres) * 3.14159265 * 9
    assert mesh.volume() == pytest.approx(3 * by_hand, rel=4e-3)  # holes of chords within 0.02 mm


def test_panels_are_added_changed_and_taken_out(good_wren: Design) -> None:
    p = Panel(id="side", name="Side", size_mm=(90, 60))
    d = apply(good_wren, PutPanel(panel=p))
    assert {x.name for x in analyse(d, ARCHIVE_WORKSHOP).pieces} == {"base", "lid", "side"}
    assert apply(d, RemovePanel(id="side")) == good_wren
    with pytest.raises(DesignError, match="too round"):
        apply(d, PutPanel(panel=p.model_copy(update={"corner_mm": 31.0})))
    with pytest.raises(DesignError, match="run into one another"):
        apply(d, PutPanel(panel=p.model_copy(update={"vent_d_mm": 9.0, "vent_pitch_mm": 8.0})))
    with pytest.raises(DesignError, match="at least one panel"):
        apply(good_wren, Construct(construction=LoosePanels()))


def test_loose_panels_are_told_only_what_holds_for_panels() -> None:
    a = analyse(heron_panels(), ARCHIVE_WORKSHOP, "preview")
    assert len(a.pieces) == 8 and all(p.fits_bed and p.watertight for p in a.pieces)
    assert {f.stop for f in judge(a)} <= {"cuts", "process", "plan"}
    assert plates(a.design, a.case.part("tray"))[0].pose == "lying"
