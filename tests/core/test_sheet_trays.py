"""Trays and cores of bought sheet, measured in the mesh: on a *Wren* whose walls stand apart enough for every lug, its board on standoffs of 5, its drive on 3 mm of
acrylic. Walls of 2.89, a gap of 0.43 at the slide."""

from __future__ import annotations

from io import StringIO
from math import pi

import ezdxf
import pytest
from manifold3d import Manifold
from shapely import Polygon

from rhombex.core.advice.sheeted import with_printed_floor
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import CoreAndWrap, TrayInASleeve
from rhombex.core.design import Design
from rhombex.core.edits import Construct, MoveWall, Remove, Set, Together
from rhombex.core.exchange.write_flat import flat_dxf
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import loop_points
from rhombex.core.shell.pull_tab import tab_hole
from rhombex.core.space import Face
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew, heron

from ..conftest import alone
from .test_sheet_floor import on_sheet

OPENS: tuple[Face, ...] = ("front", "right", "back", "left")
OUT: dict[str, tuple[int, int]] = {"front": (0, -1), "right": (1, 0), "back": (0, 1), "left": (-1, 0)}


def of_sheet(d: Design, made: TrayInASleeve | CoreAndWrap) -> Design:
    """All on the sheet, and walls so far out that every screw has a place."""
    out = tuple(MoveWall(face=f, by_mm=14) for f in OPENS)
    return apply(on_sheet(d, made), Together(edits=out))


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "none")


def solids(a: Analysis) -> dict[str, Manifold]:
    return {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}


def tray(opens: Face = "front", **more: object) -> TrayInASleeve:
    return TrayInASleeve(opens=opens, floor="sheet", tab_mm=20.0, **more)  # type: ignore[arg-type]


@pytest.fixture(scope="module", params=OPENS)
def trays(request: pytest.FixtureRequest, good_wren: Design) -> Analysis:
    return looked(of_sheet(good_wren, tray(request.param)))


@pytest.fixture(scope="module")
def core(good_wren: Design) -> Analysis:
    return looked(of_sheet(good_wren, CoreAndWrap(floor="sheet")))


def test_a_tray_is_a_flat_sheet_with_its_tab(trays: Analysis) -> None:
    """From the end plate to 0.2 before the sleeve's closed end, 0.3 narrower at either side than what slides, 3 thick; the tab 44 wide and 20 out, with a slot of 12
    for the fingers; nothing else is cut but its holes."""
    made = trays.design.shell.construction
    assert isinstance(made, TrayInASleeve)
    m, (w, d, _) = solids(trays)["tray"], trays.case.box_mm
    along = 1 if made.opens in ("front", "back") else 0
    wide, long = (w, d) if along else (d, w)
    assert trays.design.shell.wall_mm == pytest.approx(2.89, abs=0.01)  # seven lines
    sleeve = solids(trays)["sleeve"]
    lo, hi = m.bounding_box()[:3], m.bounding_box()[3:]
    assert (lo[2], hi[2]) == pytest.approx((0.0, 3.0))
    gap = lo[1 - along] - trays.design.shell.wall_mm - 0.3
    assert 0.2 < gap < 0.6
    assert hi[1 - along] == pytest.approx(wide - lo[1 - along], abs=2e-3)
    assert hi[along] - lo[along] == pytest.approx(20 + long - trays.design.shell.wall_mm - 0.2, abs=2e-3)
    holes = [(p.at, p.hole_mm) for p in trays.case.mounts]
    holes += [((j.at[0], j.at[1]), j.clearance_mm) for j in trays.case.joints if j.holds == "tray"]
    assert len(holes) == 8 + 4
    for (x, y), d_mm in holes:
        for r, through in ((d_mm / 2 - 0.03, True), (d_mm / 2 + 0.03, False)):
            rod = Manifold.cylinder(9, r, r, 64).translate((x, y, -3))
            assert ((rod ^ m).volume() < 1e-6) is through
    plate = (wide - 2 * lo[1 - along]) * (long - 2 * trays.design.shell.wall_mm - 0.2 - 0.05)
    tab = 44 * (20 + trays.design.shell.wall_mm + 0.05) - (28 - 12) * 12 - pi / 4 * 12**2
    assert m.volume() == pytest.approx(3 * (plate + tab - sum(pi / 4 * x**2 for _, x in holes)), rel=3e-4)
    # it stands out to the side that it opens to
    x, y = OUT[made.opens]
    box = trays.case.tab.box if trays.case.tab else None
    assert box is not None
    middle = ((box.lo[0] + box.hi[0]) / 2, (box.lo[1] + box.hi[1]) / 2)
    assert (x * (middle[0] - w / 2) + y * (middle[1] - d / 2)) == pytest.approx(long / 2 + 10)
    assert (m ^ sleeve).volume() < 1e-6


def test_it_slides_out_of_its_sleeve_with_the_end_plate(trays: Analysis) -> None:
    """At the sides by what slides and what a sheet is cut off its size, 0.2 at its end and under the lugs; all the way out nothing is met."""
    m = solids(trays)
    made = trays.design.shell.construction
    assert isinstance(made, TrayInASleeve)
    assert m["tray"].min_gap(m["sleeve"], 2.0) == pytest.approx(0.2, abs=1e-3)
    x, y = OUT[made.opens]
    # slid out by as much as its lugs are deep, so that only its sides are near
    out = m["tray"].translate((20 * x, 20 * y, 0))
    i = 0 if y else 1
    beside = m["tray"].bounding_box()[i] - trays.design.shell.wall_mm
    assert out.min_gap(m["sleeve"], 2.0) == pytest.approx(beside, abs=2e-3)
    both = m["tray"] + m["end-plate"]
    for far in range(0, 200, 7):
        assert (both.translate((far * x, far * y, 0)) ^ m["sleeve"]).volume() < 1e-3
    assert (m["tray"] ^ m["end-plate"]).volume() < 1e-6


def test_screws_come_up_into_lugs_of_plate_and_sleeve(trays: Analysis) -> None:
    """Two into each; 6.8 from the edge of the sheet or more, twice a hole of 3.4 (common practice for acrylic); plastic all round each hole and 1.2 over it."""
    m, made = solids(trays), trays.design.shell.construction
    assert isinstance(made, TrayInASleeve)
    own = [j for j in trays.case.joints if j.holds == "tray"]
    assert sorted(j.into for j in own) == ["end-plate", "end-plate", "sleeve", "sleeve"]
    assert {(j.into, j.opened) for j in own} == {("end-plate", False), ("sleeve", True)}
    assert trays.case.must_hold == (("tray", "end-plate"), ("tray", "sleeve"))
    k = 1 if made.opens in ("front", "back") else 0
    x, y = OUT[made.opens]
    low, high = m["tray"].bounding_box()[k], m["tray"].bounding_box()[3 + k]
    near, far = (low + 20, high) if x + y < 0 else (high - 20, low)
    for j in own:
        into = m[j.into]
        edge = near - (x + y) * trays.design.shell.wall_mm if j.into == "end-plate" else far
        assert abs(j.at[k] - edge) >= 6.8 - 0.06
        rod = Manifold.cylinder(j.hole_depth_mm - 0.1, j.hole_mm / 2 - 0.05, j.hole_mm / 2 - 0.05, 48)
        assert (rod.translate((*j.at[:2], 3.05)) ^ into).volume() < 1e-6
        round_it = Manifold.cylinder(4.0, j.od_mm / 2 - 0.1, j.od_mm / 2 - 0.1, 64).translate((*j.at[:2], 3.3))
        ring = round_it - Manifold.cylinder(9.0, j.hole_mm / 2 + 0.05, j.hole_mm / 2 + 0.05, 64).translate(
            (*j.at[:2], 0)
        )
        assert (ring ^ into).volume() == pytest.approx(ring.volume(), rel=1e-3)
        over = Manifold.cylinder(1.1, 1.5, 1.5, 32).translate((*j.at[:2], 3.0 + j.hole_depth_mm + 0.05))
        assert (over ^ into).volume() == pytest.approx(over.volume(), rel=1e-3)
        assert j.head_depth_mm == 0.0 and j.clearance_mm == 3.4  # ISO 273, medium; a sheet is only drilled


def test_end_plate_and_sleeve_print_without_support(good_wren: Design) -> None:
    """The plate on its outer face, its lugs rising from it; the sleeve on its closed end, with lugs and without the ledges of a printed floor."""
    gone = tuple(Remove(id=p.id) for p in good_wren.placements if p.on is None)
    bare = apply(of_sheet(good_wren, tray()), Together(edits=gone))
    a = analyse(bare, ARCHIVE_WORKSHOP, "settled")
    printed = analyse(apply(bare, Construct(construction=TrayInASleeve())), ARCHIVE_WORKSHOP, "settled")
    hanging = {p.name: (p.down, p.overhang.area_cm2) for p in a.pieces if p.overhang}
    assert hanging["end-plate"] == ("front", pytest.approx(0.0, abs=0.2))
    without = {p.name: p.overhang.area_cm2 for p in printed.pieces if p.overhang}
    assert hanging["sleeve"] == ("back", pytest.approx(without["sleeve"], abs=1e-3))
    m, s = solids(a), a.design.shell
    inside = Manifold.cube((4.0, 60.0, 2.9)).translate((s.wall_mm + 0.01, 40.0, 0.0))
    assert (inside ^ m["sleeve"]).volume() < 1e-6
    assert mk.evaluate(a.recipes["end-plate"], mk.FILE_TOL).bounding_box()[2] == pytest.approx(0.0)


def test_what_no_lug_holds_is_a_stop_with_a_way_back(good_wren: Design) -> None:
    """The board stands tight against both ends: no lug has room there."""
    d = on_sheet(good_wren, tray("left"))
    (f,) = alone(d, "lid-screws-missing")
    assert (f.severity, f.measured, f.limit, f.unit) == ("stop", 5, 8, "screws")
    assert "None holds the tray to the end-plate." in f.reason
    printed = next(r for r in f.remedies if r.label == "Print the tray")
    back = apply(d, Together(edits=printed.edits))
    assert back.shell.construction == with_printed_floor(tray("left"))
    after = alone(back, "lid-screws-missing")
    assert all(x.severity == "weigh" for x in after)
    # screws of the plate do not speak for the sheet, and one that misses elsewhere is no stop
    assert sum(j.holds == "end-plate" for j in looked(d).case.joints) == 3
    roomy = apply(d, Together(edits=tuple(MoveWall(face=x, by_mm=14) for x in OPENS)))
    (f,) = alone(roomy, "lid-screws-missing")
    assert (f.severity, f.measured) == ("weigh", 7) and "None" not in f.reason


@pytest.mark.parametrize(
    "made", [tray("right"), CoreAndWrap(floor="sheet", material="aluminium")], ids=lambda m: m.kind
)
def test_it_is_read_back_as_it_is_bought(good_wren: Design, made: TrayInASleeve | CoreAndWrap) -> None:
    """The DXF's outline less its holes is the plan of the mesh, seen from below."""
    a = looked(of_sheet(good_wren, made))
    (sheet,) = a.sheets
    assert (sheet.part, sheet.material, sheet.thick_mm) == (a.case.footed, made.material, 3.0)
    drawn = ezdxf.read(StringIO(flat_dxf(sheet.loops).decode())).modelspace()  # type: ignore[attr-defined]
    rings = [Polygon(loop_points(tuple(e.get_points("xyb")), 0.001)).area for e in drawn.query("LWPOLYLINE")]
    area = 2 * max(rings) - sum(rings) - sum(pi * c.dxf.radius**2 for c in drawn.query("CIRCLE"))
    volume = mk.evaluate(a.recipes[a.case.footed], mk.FILE_TOL).volume()
    assert area * 3.0 == pytest.approx(volume, rel=5e-4)
    w, d, _ = a.case.box_mm
    assert sheet.size_mm[0] <= w + 20 and sheet.size_mm[1] <= d + 20


def test_the_slot_of_a_tab_lies_in_it(trays: Analysis) -> None:
    tab = trays.case.tab
    assert tab is not None
    hole = tab_hole(tab)
    assert hole is not None
    points = loop_points(hole, 0.01)
    spans = [max(p[k] for p in points) - min(p[k] for p in points) for k in (0, 1)]
    assert sorted(spans) == pytest.approx([12.0, 28.0])
    for k in (0, 1):
        end = tab.box.hi[k] if tab.out[k] > 0 else tab.box.lo[k]
        near = min(abs(p[k] - end) for p in points)
        assert near == pytest.approx(4.0 if tab.out[k] else 8.0, abs=0.01)


def test_a_wrap_stands_on_a_core_of_sheet_round_its_lugs(core: Analysis) -> None:
    """The sheet is as large as the case; the wrap begins on it. Each lug is 9.2 high, 18.4 along the wall and 8.1 across it, the gap of a slide behind the wrap, less two
    holes of 6.9 that do not meet."""
    m, (w, d, h) = solids(core), core.case.box_mm
    assert m["core"].bounding_box() == pytest.approx((0, 0, 0, w, d, 3.0), abs=1e-3)
    assert m["wrap"].bounding_box() == pytest.approx((0, 0, 3.0, w, d, h), abs=1e-3)
    assert core.case.bulges == ()
    lugs = [n for n in m if n.startswith("lug-")]
    assert sorted(lugs) == ["lug-left-1", "lug-left-2", "lug-right-1", "lug-right-2"]
    holes = [(p.at, p.hole_mm) for p in core.case.mounts]
    holes += [((j.at[0], j.at[1]), j.clearance_mm) for j in core.case.joints if j.holds == "core"]
    assert len(holes) == 12
    corners = (4 - pi) * core.design.shell.corner_radius_mm**2
    area = w * d - corners - sum(pi / 4 * x**2 for _, x in holes)
    assert m["core"].volume() == pytest.approx(3 * area, rel=3e-4)
    for name in lugs:
        lo, hi = m[name].bounding_box()[:3], m[name].bounding_box()[3:]
        assert [b - a for a, b in zip(lo, hi, strict=True)] == pytest.approx([8.1, 18.4, 9.2], abs=2e-3)
        assert lo[2] == pytest.approx(3.0) and len(m[name].decompose()) == 1
        side = lo[0] if "left" in name else w - hi[0]
        gap = side - core.design.shell.wall_mm
        assert 0.2 < gap < 0.6 and m[name].min_gap(m["wrap"], 2.0) == pytest.approx(gap, abs=2e-3)
        two = [j for j in core.case.joints if j.into == name]
        assert sorted(j.holds for j in two) == ["core", "wrap"]
        bored = sum(pi / 4 * j.hole_mm**2 * j.hole_depth_mm for j in two)
        assert m[name].volume() == pytest.approx(8.1 * 18.4 * 9.2 - bored, rel=2e-3)
    for one in m:
        for other in m:
            assert one >= other or (m[one] ^ m[other]).volume() < 1e-6, (one, other)


def test_a_lug_is_held_from_below_and_holds_the_wrap(core: Analysis) -> None:
    for name in ("lug-left-1", "lug-right-2"):
        lug = mk.evaluate(core.recipes[name], mk.FILE_TOL)
        (up,) = (j for j in core.case.joints if j.into == name and j.holds == "core")
        (across,) = (j for j in core.case.joints if j.into == name and j.holds == "wrap")
        assert up.along == (0.0, 0.0, 1.0) and up.at[2] == 3.0 and not up.opened
        assert across.along[0] == (1.0 if "left" in name else -1.0) and across.opened
        assert min(up.at[0], core.case.box_mm[0] - up.at[0]) >= 6.8  # twice a hole of 3.4 from the edge
        assert abs(up.at[1] - across.at[1]) == pytest.approx(9.2)
        rod = Manifold.cylinder(up.hole_depth_mm - 0.1, up.hole_mm / 2 - 0.05, up.hole_mm / 2 - 0.05, 48)
        assert (rod.translate((*up.at[:2], 3.05)) ^ lug).volume() < 1e-6
        way = across.along[0]
        lying = Manifold.cylinder(across.hole_depth_mm - 0.2, across.hole_mm / 2 - 0.1, across.hole_mm / 2 - 0.1, 48)
        lying = lying.rotate((0, 90 * way, 0)).translate((across.at[0] + 0.05 * way, *across.at[1:]))
        assert (lying ^ lug).volume() < 1e-6
        assert (lying ^ mk.evaluate(core.recipes["core"], mk.FILE_TOL)).volume() < 1e-6


def test_a_lug_is_as_high_as_its_thread_wants(good_wren: Design) -> None:
    """A screw that cuts its thread wants a hole of 3 d and 0.5 for its tip, 9.5 and 1.2 over it, though its boss is 7.5 wide; an insert has room in 9.2."""
    for thread, high in (("cut in plastic", 10.7), ("insert", 9.2)):
        d = of_sheet(good_wren, CoreAndWrap(floor="sheet", joint_thread=thread))  # type: ignore[arg-type]
        a = looked(d)
        assert alone(d, "lid-screw-length") == []
        box = mk.evaluate(a.recipes["lug-left-1"], mk.FILE_TOL).bounding_box()
        assert box[5] - box[2] == pytest.approx(high, abs=1e-3), thread


def test_a_core_of_sheet_says_what_a_printed_one_does(good_wren: Design) -> None:
    """Of stops none but what nothing printed stands for; a printed one in one press."""
    d = of_sheet(good_wren, CoreAndWrap(floor="sheet"))
    stops = {f.code for f in judge(looked(d)) if f.severity == "stop"}
    printed = apply(d, Construct(construction=CoreAndWrap()))
    assert stops <= {f.code for f in judge(looked(printed)) if f.severity == "stop"}
    low = apply(d, Set(path="shell.construction.floor_screw_mm", value=12.0))
    assert {j.screw_mm for j in looked(low).case.joints if j.holds == "core"} == {12.0}


@pytest.mark.parametrize(
    ("d", "made"), [(heron(), tray()), (curlew(), CoreAndWrap(floor="sheet"))], ids=["a tray of Heron", "Curlew"]
)
def test_large_floors_are_cut_from_sheet_in_one_press(d: Design, made: TrayInASleeve | CoreAndWrap) -> None:
    """On the smallest bed the floor is in pieces; of sheet it is one, and all that stands on it stands on standoffs that are kept."""
    small = apply(
        d, Together(edits=(Construct(construction=with_printed_floor(made)), Set(path="printer", value="bench-180")))
    )
    told = (*alone(small, "part-over-bed", "preview"), *alone(small, "no-place-for-cut", "preview"))
    found = [r for f in told for r in f.remedies if "Cut the floor" in r.label]
    assert found
    cut = apply(small, Together(edits=found[0].edits))
    a = looked(cut)
    assert a.case.floor_sheet is not None and a.case.floor_sheet.material == "acrylic"
    assert not {f.code for f in judge(a)} & {"standoff-of-no-length", "stud-short-of-its-nut", "sheet-not-sold"}


def test_nothing_that_stands_in_it_is_in_the_way_of_a_lug(good_wren: Design) -> None:
    """What stood where a lug goes makes it move along the wall, and its box keeps off by 0.4."""
    bare = apply(of_sheet(good_wren, tray()), Remove(id="fan"))
    for d in (bare, of_sheet(good_wren, CoreAndWrap(floor="sheet"))):
        a = looked(d)
        for j in (j for j in a.case.joints if j.holds == a.case.footed):
            boxes = [s.box for t in a.things for s in t.solids if s.role in ("body", "board", "connector")]
            for b in boxes:
                apart = max(max(b.lo[k] - j.boss.hi[k], j.boss.lo[k] - b.hi[k]) for k in range(3))
                assert apart >= 0.0
