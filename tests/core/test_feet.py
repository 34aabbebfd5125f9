"""What a case stands on: seats and printed feet as they are made, where they find a place, what they are printed in."""

from __future__ import annotations

import io
import math
from typing import Any

import numpy as np
import pytest
import trimesh
from manifold3d import CrossSection

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.bodies import body_of
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.design import Design, VentField, read_design
from rhombex.core.edits import Edit, Move, MoveWall, PrintPart, PutVent, Set, StandOnFeet, Swap, Together
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel
from rhombex.core.plain import DesignError
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import dunlin

from ..conftest import findings

PRINTED = StandOnFeet(foot="printed", under=False)


def stood(d: Design, *edits: Edit) -> Analysis:
    return analyse(apply(d, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")


def mesh(a: Analysis, part: str) -> Any:
    return mesh_kernel.evaluate(a.recipes[part], mesh_kernel.FILE_TOL)


def hole_mm2(a: Analysis, x: float, y: float, z: float) -> float:
    """What is missing of the base round a foot, 12 mm about it, at a height."""
    about = CrossSection([[(x - 6, y - 6), (x + 6, y - 6), (x + 6, y + 6), (x - 6, y + 6)]])
    return 144.0 - float((mesh(a, "base").slice(z) ^ about).area())


def test_seats_of_stuck_on_feet(good_wren: Design) -> None:
    """A foot of 10 in a seat of 10.5, 0.6 deep: sections of the floor at 0.3 and 0.9."""
    a = stood(good_wren)
    assert len(a.case.feet) == 4
    for x, y in a.case.feet:
        assert hole_mm2(a, x, y, 0.3) == pytest.approx(math.pi * 5.25**2, rel=0.005)
        assert hole_mm2(a, x, y, 0.9) == pytest.approx(0.0, abs=1e-6)
    assert [x.count for x in a.bill if x.item == "foot, stick-on"] == [4]


def test_printed_feet_and_their_seats(good_wren: Design) -> None:
    """Broad 16 with a stud of 8: under the floor pi 8 x 8, in it pi 4 x 4; the seat is 8 with the allowance of round holes, and leaves 0.8 of a floor of 3."""
    a = stood(good_wren, PRINTED, Set(path="shell.foot_mm", value=12))
    assert len(a.case.feet) == 4
    assert float(mesh(a, "feet").slice(-5).area()) == pytest.approx(4 * math.pi * 64, rel=0.005)
    assert float(mesh(a, "feet").slice(1.5).area()) == pytest.approx(4 * math.pi * 16, rel=0.005)
    low, high = mesh(a, "feet").bounding_box()[2], mesh(a, "feet").bounding_box()[5]
    assert (low, high) == (pytest.approx(-12), pytest.approx(2.0))  # 0.2 of the seat is for the glue
    wide = 2 * math.sqrt(hole_mm2(a, *a.case.feet[0], 1.5) / math.pi)
    assert 8.1 < wide < 8.3
    assert hole_mm2(a, *a.case.feet[0], 2.1) > 50 and hole_mm2(a, *a.case.feet[0], 2.3) == pytest.approx(0, abs=1e-6)
    assert not [x for x in a.bill if x.item.startswith("foot")]


def test_they_are_printed_beside_one_another_and_soft(good_wren: Design) -> None:
    """Two by two of 16 with 5 between: 37; four bodies; the case's box is 12 higher with them."""
    a = stood(good_wren, PRINTED, Set(path="shell.foot_mm", value=12))
    piece = next(p for p in a.pieces if p.name == "feet")
    assert piece.bbox_mm == (pytest.approx(37, abs=0.06), pytest.approx(37, abs=0.06), pytest.approx(14))
    assert piece.bodies == 4 and piece.watertight and piece.fits_bed
    assert a.design.process_of("feet").filament == "TPU" and a.design.process.filament == "PLA"
    assert a.case.over_all_mm[2] == pytest.approx(a.case.box_mm[2] + 12)
    # by hand: a disc of 16 with its edge broken by 1, and its stud
    one = math.pi * (64 * 11 + (64 + 49 + 56) / 3 + 16 * 2)
    assert float(mesh(a, "feet").volume()) == pytest.approx(4 * one, rel=1e-4)
    assert piece.volume_mm3 == pytest.approx(4 * one, rel=1e-4)


def test_taken_off_and_given_back(good_wren: Design) -> None:
    """Without them nothing of how they were printed is left; what a hand has chosen for them stays while they are there."""
    d = apply(good_wren, PRINTED)
    assert [p.part for p in d.part_processes if p.part == "feet"] == ["feet"]
    own = d.process.model_copy(update={"filament": "TPU", "infill": 0.5})
    d = apply(apply(d, PrintPart(part="feet", process=own)), StandOnFeet(foot="printed", under=True, high_mm=20))
    assert d.process_of("feet").infill == 0.5 and d.shell.foot_mm == 20 and d.shell.feet_under
    for gone in (StandOnFeet(foot=None, under=False), StandOnFeet(foot="stick-on", under=False)):
        e = apply(d, gone)
        assert not [p for p in e.part_processes if p.part == "feet"]
        assert "feet" not in {p.part for p in analyse(e, ARCHIVE_WORKSHOP, "preview").pieces}
    for bad in (2.9, 41, -1, 0):
        with pytest.raises(DesignError, match="foot_mm"):
            apply(d, Set(path="shell.foot_mm", value=bad))


def test_a_foot_without_a_place_in_its_corner_stands_beside_it(good_wren: Design) -> None:
    """A screw's head of the drive's frame is sunk where the back left foot of 16 would be: it stands clear of it, and none is missing."""
    for edits in ((), (PRINTED,)):
        a = stood(good_wren, *edits)
        r = a.case.foot_d_mm / 2
        heads = [(m.at, m.head_d_mm / 2) for m in a.case.mounts if m.holding == "through"]
        assert len(a.case.feet) == 4 and heads
        assert all(math.dist(f, at) > r + head for f in a.case.feet for at, head in heads)
        apart = [math.dist(f, g) for i, f in enumerate(a.case.feet) for g in a.case.feet[:i]]
        assert min(apart) > 2 * r
    x, y = next(f for f in a.case.feet if f[0] < 60 and f[1] > 60)
    assert (x, y) != (14.0, a.case.box_mm[1] - 14.0) and math.dist((x, y), (14.0, a.case.box_mm[1] - 14.0)) <= 25


@pytest.mark.parametrize(
    "kind",
    [
        "two halves",
        "tray in a sleeve",
        "sliding panels",
        "frame and covers",
        "core and wrap",
        "open bench",
        "corners and sheet",
    ],
)
def test_every_construction_stands_on_them(good_wren: Design, kind: str) -> None:
    """The feet stand in no other part, and are all under the floor but for their studs."""
    d = apply(good_wren, PRINTED)
    d = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, kind)))
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    assert a.case.feet and a.case.foot is not None, kind
    feet = mesh(a, "feet")
    for name in a.recipes:
        if name != "feet":
            assert float((mesh(a, name) ^ feet).volume()) == pytest.approx(0.0, abs=0.01), name
    seated = mesh(a, a.case.footed).slice(1.0)
    assert float((seated ^ feet.slice(1.0)).area()) == pytest.approx(0.0, abs=1e-6)
    box = Box((0, 0, 0), a.case.box_mm)
    assert all(box.lo[k] + 8 <= f[k] <= box.hi[k] - 8 for f in a.case.feet for k in (0, 1))


def test_higher_feet_tip_sooner(good_wren: Design) -> None:
    """What tips is higher over the desk by the feet's height, less what the feet themselves pull the centre down by: their 4 x 64 pi x 36 mm3 more."""
    tall = MoveWall(face="top", by_mm=600)
    feet = [StandOnFeet(foot="printed", under=False, high_mm=h) for h in (4, 40)]
    a = [analyse(apply(good_wren, Together(edits=(tall, f))), ARCHIVE_WORKSHOP, "preview") for f in feet]
    low, high = (next(f for f in judge(x) if f.code == "tips-over") for x in a)
    z = [next(i.value for i in f.why.inputs if i.name == "height of the centre") for f in (low, high)]
    mass = [next(i.value for i in f.why.inputs if i.name == "mass") * 1000 for f in (low, high)]
    more = mass[1] - mass[0]
    assert 5 < more < 4 * math.pi * 64 * 36 / 1000 * 1.25
    # what is added has its middle 20 over the desk, as the rest is lifted by 36; the feet of 4 go up with it in the model of a solid case
    assert z[1] == pytest.approx((mass[0] * (z[0] + 36) + more * 18) / mass[1], abs=1.0)
    assert high.measured < low.measured


def test_the_slot_under_the_case_by_hand(good_wren: Design) -> None:
    """(2 x (171.38 + 143.78) - 4 x 10) x 4 = 23.6 cm2 for 24.25 of vents; with feet of 16 it wants (24.25 x 100) / (630.3 - 64) = 4.3: 5 mm."""
    vent = PutVent(vent=VentField(id="under", face="bottom", at_mm=(105, 80), size_mm=(100, 60), follow_heat=False))
    d = apply(good_wren, vent)
    (found,) = findings(d, "feet-too-low")
    assert found.measured == pytest.approx(23.61, abs=0.01) and found.limit == pytest.approx(24.25, abs=0.01)
    mended = apply(d, Together(edits=found.remedies[0].edits))
    assert mended.shell.foot_mm == 5 and mended.shell.foot == "printed" and not findings(mended, "feet-too-low")
    hung = apply(d, Set(path="brief.stands", value="wall"))
    assert not findings(hung, "feet-too-low")


def test_hard_feet_are_told(good_wren: Design) -> None:
    d = apply(good_wren, PRINTED)
    assert not findings(d, "feet-too-hard")
    hard = apply(d, PrintPart(part="feet", process=None))
    (found,) = findings(hard, "feet-too-hard")
    assert (found.measured, found.limit, found.severity) == (3000, 60, "advice")
    soft = apply(hard, Together(edits=found.remedies[0].edits))
    assert not findings(soft, "feet-too-hard") and soft.process_of("feet").filament == "TPU"


def test_a_panel_of_that_name_is_told_and_nothing_breaks(good_wren: Design) -> None:
    data = good_wren.model_dump(mode="json")
    data["panels"] = [{"id": "feet", "name": "Feet", "size_mm": [40, 40]}]
    a = stood(read_design(data), PRINTED)
    assert any(f.what == "feet" for f in a.faults) and judge(a)


@pytest.mark.parametrize("floor", [0.4, 0.55, 1.2, 6.0])
def test_feet_of_a_thin_or_thick_floor(good_wren: Design, floor: float) -> None:
    """A seat is never deeper than the floor less 0.8, or a third of a floor thinner than that; its stud stands in it."""
    a = stood(good_wren, Set(path="shell.floor_mm", value=floor), PRINTED)
    assert a.case.foot is not None and a.case.foot.seat_mm == pytest.approx(max(floor - 0.8, floor / 3))
    feet = mesh(a, "feet")
    top = feet.bounding_box()[5]
    assert 0 < top < a.case.foot.seat_mm
    assert len(feet.decompose()) == len(a.case.feet)
    assert float((mesh(a, "base") ^ feet).volume()) == pytest.approx(0.0, abs=0.01)


def test_they_are_in_the_files(good_wren: Design) -> None:
    """On the bed in rows, in the whole case where they stand."""
    a = analyse(apply(good_wren, PRINTED), ARCHIVE_WORKSHOP)
    files = package(a, ("stl", "step", "3mf"), only=("feet",))
    assert {"feet.stl", "feet.step", "feet.3mf"} <= set(files)
    lying = trimesh.load(io.BytesIO(files["feet.stl"]), file_type="stl")
    assert lying.extents == pytest.approx((37, 37, 10), abs=0.03) and lying.is_watertight
    scene = trimesh.load(io.BytesIO(package(a, ("glb",))["opened-case.glb"]), file_type="glb")
    to, geometry = scene.graph["Wren feet"]
    wide, high, deep = np.ptp(trimesh.transform_points(scene.geometry[geometry].bounds, to), axis=0) * 1000  # y is up
    xs, ys = ([f[k] for f in a.case.feet] for k in (0, 1))
    assert (wide, deep) == pytest.approx((max(xs) - min(xs) + 16, max(ys) - min(ys) + 16), abs=0.08)
    assert high == pytest.approx(10.0, abs=0.01)


SCREWED = StandOnFeet(foot="screwed", under=False)


def test_screwed_feet_have_a_hole_each_and_a_nut_inside(good_wren: Design) -> None:
    """M3 through 4 of rubber and 3 of floor: 2.4 of nut (ISO 4032) and a turn of 0.5 want 9.9, so 10 is taken. The hole is 3.4 (ISO 273 medium)
    with the allowance of round holes, right through."""
    a = stood(good_wren, SCREWED)
    for x, y in a.case.feet:
        for z in (0.1, 1.5, 2.9):
            wide = 2 * math.sqrt(hole_mm2(a, x, y, z) / math.pi)
            assert 3.5 < wide < 3.65
    (g,) = [g for g in a.joints if g.key == "feet/case"]
    assert (g.count, g.screw_mm, g.grip_mm, g.least_mm) == (3, 10.0, pytest.approx(7.0), pytest.approx(9.9))
    assert [(x.item, x.size, x.count) for x in a.bill if x.use in ("feet", "feet, with nut M3", "base")] == [
        ("foot, screwed on, with a washer in it", "18 mm", 3),
        ("nut", "M3", 3),
        ("screw, socket cap", "M3 x 10", 3),
    ]
    assert a.case.over_all_mm[2] == pytest.approx(a.case.box_mm[2] + 9)


@pytest.mark.parametrize(
    "kind",
    ["two halves", "tray in a sleeve", "sliding panels", "core and wrap", "frame and covers", "corners and sheet"],
)
def test_no_nut_stands_in_anything(good_wren: Design, kind: str) -> None:
    """In every construction: each nut as a round of 6.35 across its corners, against every part and every solid of a component, by the kernel."""
    d = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, kind)))
    a = stood(d, SCREWED)
    assert len(a.case.feet) >= 3
    for x, y in a.case.feet:
        nut = mesh_kernel.Manifold.cylinder(2.9, 3.17, 3.17, 48).translate((x, y, a.case.cavity.lo[2]))
        assert all((mesh_kernel.evaluate(r) ^ nut).volume() < 1e-3 for r in a.recipes.values())
        assert all((body_of(s) ^ nut).volume() < 1e-3 for t in a.things for s in t.solids if s.role == "body")


def test_a_foot_whose_nut_stands_in_a_part_is_told() -> None:
    """On an open bench a gusset of *Dunlin*'s upright stands in a corner of its plate: nothing else knows of it."""
    d = apply(dunlin(), Swap(id="display", component="display-5"))
    at = next(p.at_mm for p in d.placements if p.id == "display")
    d = apply(d, Move(id="display", to_mm=(89.3, *at[1:])))
    d = apply(d, Together(edits=made_so(d, ARCHIVE_WORKSHOP, "open bench")))
    found = findings(apply(d, SCREWED), "foot-nut-in-the-way")
    assert [f.title for f in found] == ["The nut of a foot stands in the plate"]


def test_a_screw_that_a_hand_chose_too_short_is_told(good_wren: Design) -> None:
    d = apply(apply(good_wren, SCREWED), Set(path="shell.foot_screw_mm", value=8.0))
    (found,) = findings(d, "wall-screw-length")
    assert found.title == "The screws of feet are too short by 1.9 mm" and found.limit == pytest.approx(9.9)
    assert [r.label for r in found.remedies] == ["Let the stack choose the length"]
    assert findings(apply(d, Together(edits=found.remedies[0].edits)), "wall-screw-length") == []
