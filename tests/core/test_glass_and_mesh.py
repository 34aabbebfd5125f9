"""Sheet of glass and of mesh: what they weigh, who drills them, what they let through. Worked by hand."""

from __future__ import annotations

from math import pi

import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.constructions import CornersAndSheet, OpenBench, SlidingPanels
from rhombex.core.design import Design, OwnOpening, Pane, VentField
from rhombex.core.edits import Construct, PutOwnOpening, PutVent, Set, Together
from rhombex.core.fit.bend import tightest_mm
from rhombex.core.hardware.sheets import price, stock_mm
from rhombex.core.openings.opening import outline
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew_in_sheet

from ..conftest import findings


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def of(material: str) -> Design:
    return apply(curlew_in_sheet(), Set(path="shell.construction.material", value=material))


def test_they_weigh_and_cost_what_they_do() -> None:
    """A square metre of 3 mm: glass 3000 cm3 x 2.5 = 7.5 kg; mesh 3000 x 7.85 x 0.6 = 14.1 kg. Sold as 3, 4, 5 and as 0.8, 1, 1.5."""
    for material, density in (("glass", 2.5), ("mesh", 7.85 * 0.6)):
        for s in looked(of(material)).sheets:
            mm2 = (s.mass_g * 1000 / density) / s.thick_mm
            assert 0.8 * s.size_mm[0] * s.size_mm[1] < mm2 < 1.003 * s.size_mm[0] * s.size_mm[1]
    assert price("glass", 4.0, (500, 400)).value == pytest.approx(0.2 * 60 * 4 / 3)
    assert 3 in stock_mm("glass") and 1 in stock_mm("mesh") and 1 not in stock_mm("glass")


def test_holes_in_glass_are_told_once_for_all_walls() -> None:
    d = of("glass")
    a = looked(d)
    (f,) = findings(d, "glass-is-drilled")
    holes = sum(j.holds.startswith("sheet") for j in a.case.joints)
    holes += sum(p.startswith("sheet") for o in a.openings.openings for p in o.parts)
    holes += sum(len(v.holes) for v in a.openings.vents)
    assert holes >= sum(len(x.loops) - 1 for x in a.sheets) > 40
    assert (f.severity, f.measured, f.limit) == (
        "weigh",
        holes,
        0,
    ) and f.title == f"The 5 sheets of glass want {holes} holes"
    assert findings(apply(d, Together(edits=f.remedies[0].edits)), f.code) == []
    assert findings(of("acrylic"), f.code) == [] == findings(of("mesh"), f.code)
    (caution,) = (x for x in judge(a) if x.code == "caution-glass")
    assert caution.severity == "advice" and "toughened" in caution.reason
    assert "caution-glass" not in {x.code for x in judge(looked(of("mesh")))}


def test_a_floor_of_mesh_wants_feet_that_let_air_to_it(good_wren: Design) -> None:
    """A bench on a plate of mesh: 40 % of its plain stretch; on the desk nothing comes in, on feet of 3 the slot round it counts."""
    bench = OpenBench(plate="sheet", material="mesh")
    d = apply(good_wren, Together(edits=(Construct(construction=bench), Set(path="shell.feet", value=False))))
    (f,) = findings(d, "vents-on-the-desk")
    assert f.title == "The mesh in the floor lies on the desk" and f.severity == "stop"
    then = apply(d, Together(edits=f.remedies[0].edits))
    assert findings(then, f.code) == []
    a = looked(then)
    (low,) = findings(then, "feet-too-low")
    (m,) = a.openings.meshed
    w, deep, _ = a.case.box_mm
    assert a.case.foot is not None
    slot = (2 * (w + deep) - len(a.case.feet) * a.case.foot_d_mm) * a.case.foot.high_mm / 100
    assert (low.measured, low.limit) == (pytest.approx(slot, abs=0.01), pytest.approx(m.free_area_mm2 / 100, abs=0.01))
    assert low.title == "The feet are too low for the mesh in the floor"
    plain = apply(then, Set(path="shell.construction.material", value="acrylic"))
    assert findings(plain, low.code) == [] and looked(plain).openings.meshed == ()


def test_glass_that_is_screwed_is_offered_grooves(good_wren: Design) -> None:
    """The sides that nothing is cut into are of glass in the posts' grooves, the others are printed: no hole is left, and no stop comes."""
    corners = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, "corners and sheet")))
    d = apply(corners, Set(path="shell.construction.material", value="glass"))
    (f,) = findings(d, "glass-is-drilled")
    (grooves,) = (r for r in f.remedies if "grooves" in r.label)
    assert grooves.label == "Slide glass in grooves on the left, and print the rest"
    then = apply(d, Together(edits=grooves.edits))
    a = looked(then)
    assert [(x.part, x.material, len(x.loops)) for x in a.sheets] == [("panel-left", "glass", 1)]
    assert findings(then, f.code) == []
    stops = {x.key for x in judge(looked(d)) if x.severity == "stop"}
    assert {x.title for x in judge(a) if x.severity == "stop" and x.key not in stops} == set()
    # with an opening in that side, too, none is free
    own = OwnOpening(id="o", name="Lead", face="left", at_mm=(60, 14), shape="round", size_mm=(6, 6))
    (f,) = findings(apply(d, PutOwnOpening(opening=own)), "glass-is-drilled")
    assert not [r for r in f.remedies if "grooves" in r.label]
    # what slides already, and is told for its openings, is not offered what it has
    right = apply(good_wren, Construct(construction=SlidingPanels(sheet=("right",), material="glass")))
    assert len(findings(right, "glass-is-drilled")[0].remedies) == 1


def test_glass_in_grooves_wants_no_hole(good_wren: Design) -> None:
    """A panel that slides in grooves with no opening in it; one with openings is told."""
    d = apply(good_wren, Construct(construction=SlidingPanels(sheet=("left",), material="glass")))
    (left,) = (x for x in looked(d).sheets)
    assert len(left.loops) == 1 and findings(d, "glass-is-drilled") == []
    right = apply(good_wren, Construct(construction=SlidingPanels(sheet=("right",), material="glass")))
    (f,) = findings(right, "glass-is-drilled")
    assert f.title.startswith("The panel-right of glass wants") and f.measured == 3  # network and two of USB


def test_a_pane_of_glass_behind_an_opening_is_told_alone_where_it_is_screwed(good_wren: Design) -> None:
    def window(**more: object) -> Design:
        pane = Pane(material="glass", **more)  # type: ignore[arg-type]
        own = OwnOpening(
            id="w",
            name="Window",
            face="left",
            at_mm=(60, 18),
            shape="rectangle",
            size_mm=(40, 14),
            allowed=False,
            pane=pane,
        )
        return apply(good_wren, PutOwnOpening(opening=own))

    assert findings(window(), "glass-is-drilled") == []
    (caution,) = (f for f in judge(looked(window())) if f.code == "caution-glass")
    assert caution.measured == 1


def test_one_sees_through_glass_and_acrylic_alone() -> None:
    for material, met in (("acrylic", True), ("glass", True), ("mesh", False), ("plywood", False)):
        told = [f for f in judge(looked(of(material))) if f.code == "wish-unmet" and "window" in f.title]
        assert (told == []) == met, material


def test_what_burns_is_named_and_what_does_not_is_not() -> None:
    for material, burns in (
        ("acrylic", True),
        ("plywood", True),
        ("aluminium", False),
        ("glass", False),
        ("mesh", False),
    ):
        (f,) = (f for f in judge(looked(of(material))) if f.code == "caution-fire")
        assert (material in f.title.lower()) == burns


def test_glass_does_not_bend_and_mesh_bends_as_tight_as_it_is_thick(good_wren: Design) -> None:
    assert tightest_mm("glass", 3) is None and tightest_mm("mesh", 1.5) == 1.5
    bent = apply(good_wren, Construct(construction=CornersAndSheet(wrap="left to right", material="glass")))
    (f,) = findings(bent, "bend-too-tight")
    assert f.title == "Glass does not bend"
    mesh = apply(bent, Set(path="shell.construction.material", value="mesh"))
    assert findings(mesh, "bend-too-tight") == []


def test_air_goes_through_mesh_beside_what_is_cut_into_it() -> None:
    """40 % of the plain stretch of each wall less the rectangles of its openings; the air inside is cooler by as much as so large vents make it."""
    a, solid = looked(of("mesh")), looked(of("acrylic"))
    assert solid.openings.meshed == () and solid.openings.free_mm2 == 0
    assert {m.face for m in a.openings.meshed} == {"front", "back", "left", "right", "top"}
    for m in a.openings.meshed:
        u0, v0, u1, v1 = a.case.face(m.face).clear_mm
        whole, cut = (u1 - u0) * (v1 - v0), 0.0
        for o in (o for o in a.openings.openings if o.face == m.face and m.part in o.parts):
            p, q, r, s = outline(o)
            cut += (
                (min(r, u1) - max(p, u0)) * (min(s, v1) - max(q, v0)) if p < u1 and r > u0 and q < v1 and s > v0 else 0
            )
        assert m.free_area_mm2 == pytest.approx(0.4 * (whole - cut), rel=0.02), m.face
    assert a.openings.free_mm2 == pytest.approx(sum(m.free_area_mm2 for m in a.openings.meshed))
    assert a.ladder.inside_c < solid.ladder.inside_c - 10
    assert findings(of("acrylic"), "vents-too-small") and findings(of("mesh"), "vents-too-small") == []


def test_vents_that_follow_the_heat_leave_to_mesh_what_it_does() -> None:
    field = VentField(id="v", face="left", at_mm=(100, 30), size_mm=(120, 40), follow_heat=True)
    solid, mesh = (looked(apply(of(m), PutVent(vent=field))) for m in ("acrylic", "mesh"))
    of_vents = [sum(v.free_area_mm2 for v in a.openings.vents) for a in (solid, mesh)]
    assert of_vents[1] < of_vents[0] and solid.openings.free_mm2 >= 0.9 * solid.need.area_mm2.value


def test_a_pane_of_mesh_lets_air_through_its_opening(good_wren: Design) -> None:
    """40 x 14 and round 30: 0.4 of 560, 0.4 of 706.9."""
    before = looked(good_wren).openings.free_mm2
    for shape, size, whole in (("rectangle", (40, 14), 560.0), ("round", (20, 20), pi * 100)):
        own = OwnOpening(
            id="w",
            name="Window",
            face="left",
            at_mm=(60, 18),
            shape=shape,
            size_mm=size,
            allowed=False,
            pane=Pane(material="mesh"),
        )  # type: ignore[arg-type]
        a = looked(apply(good_wren, PutOwnOpening(opening=own)))
        (m,) = a.openings.meshed
        assert m.free_area_mm2 == pytest.approx(0.4 * whole, rel=1e-3) and m.face == "left"
        assert a.openings.free_mm2 <= before + m.free_area_mm2 + 1e-6
