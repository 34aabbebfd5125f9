"""One sheet bent over a case: what is cut flat is what stands bent, measured on the mesh and read back from the files."""

from __future__ import annotations

import io
from itertools import combinations
from math import hypot, pi, sqrt

import ezdxf
import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.choices import made_so
from rhombex.core.concerns.registry import heard
from rhombex.core.constructions import Material, Wrap
from rhombex.core.design import Design
from rhombex.core.edits import LayPart, Need, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.fit.bend import bend_allowance, neutral_share, tightest_mm
from rhombex.core.geometry import mesh_kernel
from rhombex.core.hardware.sheets import BoughtSheet, screw_in
from rhombex.core.space import Vec3
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import alone
from .test_concerns import wrapped

WAYS: tuple[Wrap, ...] = ("left to right", "front to back")
SIZE = {"left to right": (171.6, 144.0), "front to back": (144.0, 171.6)}  # over the bends, and along them


@pytest.fixture(scope="module", params=WAYS)
def made(request: pytest.FixtureRequest, good_wren: Design) -> Analysis:
    edits = (*wrapped(over=request.param), Need(port="board/network", needed=False))  # it is before a corner
    return analyse(apply(good_wren, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")


def bent(a: Analysis) -> BoughtSheet:
    (sheet,) = [x for x in a.sheets if x.bends]
    return sheet


@pytest.mark.parametrize(
    ("thick", "inner", "deduction"),
    # DIN 6935 for 90 degrees, v = pi / 2 (r + s k / 2) - 2 (r + s), from memory: -1.9, -3.8 and -4.5 in its table
    [(1.0, 1.0, -1.92), (2.0, 2.0, -3.84), (2.0, 3.0, -4.12), (1.0, 6.0, -3.79)],
)
def test_a_bend_of_metal_takes_what_the_standard_says(thick: float, inner: float, deduction: float) -> None:
    takes = bend_allowance("aluminium", thick, inner).value
    assert takes - 2 * (inner + thick) == pytest.approx(deduction, abs=0.01)


def test_the_line_that_keeps_its_length() -> None:
    # by the formula it moves from a third of the thickness to its middle at five times the thickness and stays there
    assert neutral_share("aluminium", 1, 1) == pytest.approx(0.325)
    assert neutral_share("aluminium", 1, 5.02) == pytest.approx(0.5, abs=1e-3)
    assert neutral_share("aluminium", 1, 50) == 0.5
    assert neutral_share("acrylic", 3, 1) == 0.5
    assert bend_allowance("acrylic", 3, 6, 45).value == pytest.approx(pi / 4 * 7.5, abs=1e-4)


@pytest.mark.parametrize(("material", "least"), [("acrylic", 6.0), ("aluminium", 4.5), ("plywood", None)])
def test_how_tight_a_sheet_bends(material: Material, least: float | None) -> None:
    assert tightest_mm(material, 3.0) == least


def test_the_flat_is_as_long_as_what_stands_bent(made: Analysis) -> None:
    """The middle of acrylic keeps its length, so that the section is as large as the flat is long, times its thickness."""
    x = bent(made)
    across, along = SIZE[made.design.shell.construction.wrap]  # type: ignore[union-attr]
    case = made.case.box_mm
    assert case == pytest.approx((171.6, 144.0, 37.0))
    low = made.design.shell.floor_mm + (37.0 - 3.0 - 3.0 - _high(made)) / 2
    by_hand = 2 * (37.0 - 9.0 - low) + 2 * pi / 2 * 7.5 + across - 18.0
    assert sorted(x.size_mm) == pytest.approx(sorted((by_hand, along)), abs=0.005)
    axis = 1 if x.faces[0] == "left" else 0
    # through plain sheet, 1 mm from its edge: no hole is there
    frame = [[1, 0, 0, 0], [0, 0, 1, 0], [0, 1, 0, -1]] if axis == 1 else [[0, 1, 0, 0], [0, 0, 1, 0], [1, 0, 0, -1]]
    cut = mesh_kernel.evaluate(made.recipes["sheet-wrap"], 0.005).transform(frame).slice(0.0)
    assert cut.area() == pytest.approx(by_hand * 3.0, rel=1e-4)
    # its corner is a quarter of a ring of 6 and 9
    corner = [(u, v) for ring in cut.to_polygons() for u, v in ring if u <= 9.001 and v >= 28 - 0.001]
    far = {round(hypot(u - 9.0, v - 28.0), 2) for u, v in corner}
    assert far == {6.0, 9.0}
    # half way round, the middle of the sheet is 7.5 from the bend's centre
    solid = mesh_kernel.evaluate(made.recipes["sheet-wrap"])
    for r, inside in ((6.1, True), (7.5, True), (8.9, True), (5.9, False), (9.1, False)):
        u, z = 9.0 - r / sqrt(2), 28.0 + r / sqrt(2)
        at: Vec3 = (u, 1.0, z) if axis == 1 else (1.0, u, z)
        assert _in(solid, at) is inside, r


def _high(a: Analysis) -> float:
    """How high a cover between floor and top is: the room less the gap of both its edges."""
    (v0, v1) = next(
        (w.lo_mm[1], w.hi_mm[1]) for w in a.case.walls if w.part.startswith("sheet-") and w.part != "sheet-wrap"
    )
    return v1 - v0


def _in(solid: mesh_kernel.Manifold, at: Vec3) -> bool:
    return (solid ^ mesh_kernel.Manifold.sphere(0.05, 12).translate(at)).volume() > 1e-6


def test_every_hole_of_the_flat_is_where_it_stands(made: Analysis) -> None:
    """From the first side's foot along the sheet: up the side, round the bend, over the top, down the other side."""
    x = bent(made)
    sheet = made.case.part("sheet-wrap").sheet
    assert sheet is not None
    (w, d, h), low = (
        made.case.box_mm,
        min(p.lo_mm[1] for p in made.case.walls if p.part == "sheet-wrap" and p.face != "top"),
    )
    bends, over_x = pi / 2 * 7.5, x.faces[0] == "left"

    def flat(face: str, p: Vec3) -> tuple[float, float]:
        across, along = (p[0], p[1]) if over_x else (p[1], p[0])
        span, side = (w if over_x else d), h - 9.0 - low
        if face == x.faces[0]:
            s = p[2] - low
        elif face == "top":
            s = side + bends + across - 9.0
        else:
            s = side + 2 * bends + span - 18.0 + (h - 9.0 - p[2])
        return (s, along) if over_x else (along, s)

    screws = [j for j in made.case.joints if j.holds == "sheet-wrap"]
    assert len(screws) == 4 and not [j for j in made.case.joints if j.name == "top"]
    centres = [((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in (loop for loop in x.loops if len(loop) == 2)]
    for j in screws:
        face, uv = screw_in(made.case, sheet, j)
        want = flat(face, made.case.face(face).at(uv))
        assert min(hypot(want[0] - c[0], want[1] - c[1]) for c in centres) < 1e-3
    on = [o for o in made.openings.openings if "sheet-wrap" in o.parts]
    assert {o.face for o in on} >= {"top"} and len(on) > 4
    for o in on:
        want = flat(o.face, made.case.face(o.face).at(o.at_mm))
        middles = [(sum(p[0] for p in loop) / len(loop), sum(p[1] for p in loop) / len(loop)) for loop in x.loops[1:]]
        assert min(hypot(want[0] - c[0], want[1] - c[1]) for c in middles) < 0.01, o.label


def test_what_stands_under_it_keeps_clear(made: Analysis) -> None:
    solids = {n: mesh_kernel.evaluate(r) for n, r in made.recipes.items()}
    assert all(len(m.decompose()) == 1 for m in solids.values())
    for a, b in combinations(solids.values(), 2):
        assert (a ^ b).volume() < 1e-3
    covers = [n for n in solids if n.startswith("sheet-") and n != "sheet-wrap"]
    assert len(covers) == 2
    for n in covers:  # the gap of a cover's edge, at the round corners too
        assert solids[n].min_gap(solids["sheet-wrap"], 2.0) == pytest.approx((31.0 - _high(made)) / 2, abs=0.005)
    assert heard("cannot-be-put-on", made, frozenset()) == []
    assert made.case.parts[-1].name == "sheet-wrap"  # it is put on last


def test_the_flat_is_read_back_with_its_bends(made: Analysis) -> None:
    x = bent(made)
    files = package(made, ())  # flats and the bill go along whatever is asked for
    doc = ezdxf.read(io.StringIO(files["sheet-wrap.dxf"].decode()))
    space = doc.modelspace()
    lines = space.query('LINE[layer=="BEND"]')
    assert len(lines) == 2 and doc.layers.get("BEND").dxf.linetype == "DASHED"
    for line, b in zip(lines, x.bends, strict=True):
        k = 0 if x.faces[0] == "left" else 1
        assert line.dxf.start[k] == pytest.approx(b.ends[0][k]) and line.dxf.end[1 - k] == pytest.approx(
            sorted(x.size_mm)[0] if k == 0 else 171.6, abs=0.01
        )
        # the middle line lies half a bend behind the end of the straight
        side = 37.0 - 9.0 - (34.0 - _high(made)) + (31.0 - _high(made)) / 2
        assert min(b.ends[0][k], x.size_mm[k] - b.ends[0][k]) == pytest.approx(side + pi / 4 * 7.5, abs=0.01)
    assert {t.dxf.text for t in space.query("TEXT")} == {"bend 90 degrees, away from you, inner radius 6 mm"}
    assert len(space.query('CIRCLE[layer=="HOLES"]')) == sum(len(loop) == 2 for loop in x.loops)
    assert files["sheet-wrap.svg"].count(b"stroke-dasharray") == 2
    line = next(row for row in files["bill-of-materials.csv"].decode().splitlines() if "sheet-wrap" in row)
    assert line.startswith("sheet, acrylic, bent 2 times") or '"sheet, acrylic, bent 2 times"' in line


def test_plywood_stays_flat(good_wren: Design) -> None:
    d = apply(good_wren, Together(edits=(*wrapped(), Set(path="shell.construction.material", value="plywood"))))
    (found,) = alone(d, "bend-too-tight")
    assert (found.title, found.severity) == ("Plywood does not bend", "stop")
    for r in found.remedies:
        assert alone(apply(d, Together(edits=r.edits)), "bend-too-tight") == []
    assert alone(d, "caution-hot-sheet") == []


def test_a_hole_near_a_bend_may_be_freed_by_a_tighter_one(good_wren: Design) -> None:
    # 8 mm: 0.57 are left of 6; 2.5 mm would do, and acrylic of 3 bears no less than 6
    d = apply(good_wren, Together(edits=wrapped(8.0)))
    (found,) = alone(d, "hole-near-bend")
    assert found.measured == pytest.approx(0.573, abs=0.001) and [r.label for r in found.remedies] == [
        "Take a sheet for each side"
    ]
    thin = apply(d, Together(edits=(Set(path="shell.construction.material", value="aluminium"),)))
    # of 1.5 mm sheet: the wall is thinner by 1.5, and 3 mm are wanted
    thin = apply(thin, Together(edits=tuple(Set(path=f"shell.{x}", value=1.5) for x in ("wall_mm", "lid_mm"))))
    (found,) = alone(thin, "hole-near-bend")
    assert found.remedies[0].label.startswith("Bend it with a radius of ")
    assert alone(apply(thin, Together(edits=found.remedies[0].edits)), "hole-near-bend") == []


def test_its_top_is_told_as_thick_as_it_is_made(good_wren: Design) -> None:
    a = analyse(
        apply(good_wren, Together(edits=(*wrapped(), Set(path="shell.lid_mm", value=4.0)))), ARCHIVE_WORKSHOP, "none"
    )
    assert a.case.face("top").thick_mm == 3.0
    box = mesh_kernel.evaluate(a.recipes["sheet-wrap"]).bounding_box()
    # of the 38 that walls of 3, 31 of room and 4 of top make, one lies open under the sheet
    assert box[5] == pytest.approx(38.0) and _in(mesh_kernel.evaluate(a.recipes["sheet-wrap"]), (60.0, 1.0, 35.2))
    assert not _in(mesh_kernel.evaluate(a.recipes["sheet-wrap"]), (60.0, 1.0, 34.8))


def test_walls_of_bought_sheet_have_no_lines(good_wren: Design) -> None:
    d = apply(good_wren, Together(edits=wrapped()))
    assert alone(d, "wall-not-whole-lines") == []
    assert alone(apply(good_wren, Set(path="shell.wall_mm", value=3.0)), "wall-not-whole-lines") != []


@pytest.mark.parametrize(
    ("kind", "told"),
    [("two halves", 1), ("tray in a sleeve", 1), ("core and wrap", 1), ("sliding panels", 0), ("frame and covers", 0)],
)
def test_walls_that_are_printed_lying_are_as_thick_as_their_layers(good_wren: Design, kind: str, told: int) -> None:
    d = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, kind)))
    d = apply(d, Set(path="shell.wall_mm", value=3.0))
    assert len(alone(d, "wall-not-whole-lines")) == told
    if kind == "frame and covers":  # one that is stood up has lines in it
        d = apply(d, LayPart(part="cover-left", down="bottom"))
        assert len(alone(d, "wall-not-whole-lines")) == 1
