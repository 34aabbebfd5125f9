"""Files of parts: STEP, DXF, IDF, meshes; what is recognised against what was drawn, and what a stranger's file may do."""

from __future__ import annotations

import io
import json
import math
import time
from typing import Any

import ezdxf
import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection as CS
from manifold3d import Manifold as M
from manifold3d import OpType
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeSphere
from pydantic import ValidationError
from scipy.spatial import ConvexHull

from rhombex.core.exchange.component_file import component_json, component_step, read_component
from rhombex.core.exchange.read_dxf import recognise_dxf
from rhombex.core.exchange.read_idf import recognise_idf
from rhombex.core.exchange.read_step import recognise_step
from rhombex.core.exchange.recognise import recognise
from rhombex.core.exchange.write_idf import Version, board_idf
from rhombex.core.parts import library, port_kinds
from rhombex.core.parts.component import Component, Solid
from rhombex.core.parts.convex import convex_cells
from rhombex.core.parts.lying import lay_flat
from rhombex.core.parts.recognised import (
    Found,
    Hole,
    Recognised,
    circle_of,
    component_of,
    confirmed_by_default,
    is_round,
    kind_of,
    thread_for,
    turned,
    turning,
)
from rhombex.core.parts.report import component_report
from rhombex.core.parts.shapes import lighter, shape_bytes, turned_shape
from rhombex.core.plain import DesignError
from rhombex.core.progress import Stopped
from rhombex.jobs.apart import apart

from ..examples import examples
from ..step_boards import Board, random_board, step_bytes

# STEP


@pytest.mark.xdist_group("step")
def test_random_boards_are_recognised() -> None:
    """30 solids each; plain, faceted, split, fused, tilted, mirrored, in inches, with the parts below."""
    boards = [random_board(seed) for seed in (0, 1, 2, 3, 8, 10, 17, 20)]
    assert {b.how for b in boards} == {"plain", "faceted", "split", "fused", "tilted", "mirrored", "inches", "below"}
    holes = 0
    for b in boards:
        r = recognise_step(b.data, "board")
        assert r.kind == "board" and r.size_mm == pytest.approx(b.size, abs=0.01), b.how
        over = sorted(f.overhang_mm for f in r.found if f.edge is not None)
        assert over == pytest.approx(sorted(b.overhangs.values()), abs=0.01), b.how
        alone = [f for f in r.found if not f.name.startswith("small components")]  # the others are drawn together
        assert len(alone) <= len(b.parts) and (len(alone) == len(b.parts)) == (len(alone) == len(r.found))
        good = matching(b, [(h.at, h.d_mm) for h in r.holes], r.size_mm)
        assert len(r.holes) <= good  # no false one
        holes += good == len(b.holes)
    assert holes >= 0.95 * len(boards)


def matching(b: Board, found: list[Any], size: tuple[float, ...]) -> int:
    """How many holes of a board are among those found, whichever way round the board was taken."""
    best = 0
    for fx in (False, True):
        for fy in (False, True):
            hits = 0
            for x, y, d in b.holes:
                u, v = (size[0] - x if fx else x), (size[1] - y if fy else y)
                hits += any(math.dist(at, (u, v)) < 0.05 and abs(e - d) < 0.05 * d for at, e in found)
            best = max(best, hits)
    return best


def test_a_body_without_a_board_comes_as_boxes() -> None:
    data = step_bytes([BRepPrimAPI_MakeBox(20.0, 30.0, 40.0).Shape(), BRepPrimAPI_MakeSphere(8.0).Shape()])
    r = recognise_step(data, "thing")
    assert r.kind == "body" and r.size_mm == pytest.approx((28, 38, 48), abs=0.01) and len(r.found) == 2


@pytest.mark.parametrize(
    "data", [b"", b"solid x", b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=", b"ISO-10303-21;" + b"\0" * 5000]
)
def test_a_broken_step_is_refused(data: bytes) -> None:
    with pytest.raises(DesignError):
        apart(recognise, data, "x.step")


def test_a_port_is_known_by_name_or_by_its_face() -> None:
    lo, hi = (80.0, 10.0, 1.6), (87.0, 26.5, 15.1)
    assert kind_of(Found(name="J1 RJ45", lo=lo, hi=hi, side="top", edge="right", overhang_mm=2)) == "rj45"
    # IEC 60603-7 jack 16.5 x 13.5 by its size alone
    assert kind_of(Found(name="part 7", lo=lo, hi=hi, side="top", edge="right", overhang_mm=2)) == "rj45"
    usb_c = Found(name="part 8", lo=(10, -1.5, 1.6), hi=(18.94, 6, 4.8), side="top", edge="front", overhang_mm=1.5)
    assert kind_of(usb_c) == "usb-c"  # USB Type-C shell 8.94 x 3.2
    assert kind_of(Found(name="part 9", lo=(10, 10, 1.6), hi=(12, 12, 3), side="top")) is None


def test_a_confirmed_board_is_a_part() -> None:
    b = random_board(3)
    r = recognise_step(b.data, "made up")
    c = component_of(r, confirmed_by_default(r), "own-1")
    assert c.solids[0].role == "board" and len(c.mounts) == len(r.holes)
    assert sum(s.role == "connector" for s in c.solids) == 3
    for p in c.ports:
        assert p.kind in port_kinds() and p.facing in ("+x", "-x", "+y", "-y")


# DXF: drawn by the reference library ezdxf


def drawing(unit: int = 4, scale: float = 1.0, pads: bool = True) -> bytes:
    doc = ezdxf.new("R2010")
    doc.header["$INSUNITS"] = unit
    m = doc.modelspace()
    s = scale
    for a, b in [((3, 0), (82, 0)), ((85, 3), (85, 53)), ((82, 56), (3, 56)), ((0, 53), (0, 3))]:
        m.add_line((a[0] * s, a[1] * s), (b[0] * s, b[1] * s), dxfattribs={"layer": "edge"})
    for c, a0, a1 in [((3, 3), 180, 270), ((82, 3), 270, 360), ((82, 53), 0, 90), ((3, 53), 90, 180)]:
        m.add_arc((c[0] * s, c[1] * s), 3 * s, a0, a1, dxfattribs={"layer": "edge"})
    block = doc.blocks.new("hole")
    block.add_circle((0, 0), 1.35 * s, dxfattribs={"layer": "drill"})
    if pads:
        block.add_circle((0, 0), 3 * s, dxfattribs={"layer": "pads"})
    for x, y in [(3.5, 3.5), (61.5, 3.5), (3.5, 52.5), (61.5, 52.5)]:
        m.add_blockref("hole", (x * s, y * s))
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


@pytest.mark.parametrize(("unit", "scale"), [(4, 1.0), (1, 1 / 25.4), (5, 0.1), (6, 0.001)])
def test_a_drawing_is_read_in_the_unit_it_names(unit: int, scale: float) -> None:
    r = recognise_dxf(drawing(unit, scale))
    assert r.size_mm[:2] == pytest.approx((85, 56), abs=0.01) and r.unit_from == "the file"
    assert [h.at for h in r.holes] == [
        pytest.approx(p, abs=0.01) for p in [(3.5, 3.5), (61.5, 3.5), (3.5, 52.5), (61.5, 52.5)]
    ]
    assert all(h.d_mm == pytest.approx(2.7, abs=0.01) and h.layer == "drill" for h in r.holes)
    assert any(layer.startswith("pads") for layer in r.layers)


def test_a_drawing_without_a_unit_asks() -> None:
    r = recognise_dxf(drawing(0, 1 / 25.4), unit="in")
    assert r.unit_from == "asked" and r.size_mm[0] == pytest.approx(85, abs=0.02)
    r = recognise_dxf(drawing(0))
    assert r.unit_from == "assumed" and any("no unit" in n for n in r.notes)
    with pytest.raises(DesignError, match="unit"):
        recognise_dxf(drawing(0, 1 / 2540))


def test_only_the_layers_asked_for_are_read() -> None:
    r = recognise_dxf(drawing(), layers=("edge",))
    assert r.holes == () and r.size_mm[0] == pytest.approx(85, abs=0.01)


def test_a_block_that_holds_itself_is_named() -> None:
    """By way of another: a holds b, b holds a."""
    doc = ezdxf.new()
    a, b = doc.blocks.new("a"), doc.blocks.new("b")
    a.add_circle((0, 0), 5)
    a.add_blockref("b", (0, 0))
    b.add_blockref("a", (1, 0))
    doc.modelspace().add_blockref("a", (0, 0))
    out = io.StringIO()
    doc.write(out)
    with pytest.raises(DesignError, match=r"block '[ab]' holds itself") as e:
        recognise(out.getvalue().encode(), "x.dxf")
    assert "Explode" in e.value.do


def test_a_drawing_of_blocks_in_blocks_is_stopped() -> None:
    doc = ezdxf.new("R2010")
    last = doc.blocks.new("b0")
    last.add_circle((0, 0), 1)
    for k in range(1, 9):
        block = doc.blocks.new(f"b{k}")
        for i in range(10):
            block.add_blockref(f"b{k - 1}", (i, 0))
    doc.modelspace().add_blockref("b8", (0, 0))
    out = io.StringIO()
    doc.write(out)
    begun = time.monotonic()
    with pytest.raises(DesignError, match=r"more than 200000|longer than"):
        apart(recognise, out.getvalue().encode(), "bomb.dxf")
    assert time.monotonic() - begun < 60


@pytest.mark.parametrize(
    "data", [b"", b"\0" * 100, b"0\nSECTION\n2\nENTITIES\n", b"0\nSECTION\n2\nHEADER\n0\nEOF\n" * 9]
)
def test_a_broken_drawing_is_refused(data: bytes) -> None:
    with pytest.raises(DesignError):
        recognise_dxf(data)


# IDF 3.0. The outline with its arc follows the sample board of the IDF 3.0 specification, from memory.

EMN = """.HEADER
BOARD_FILE 3.0 "Sample File Generator" 10/22/96.16:02:44 1
sample_board THOU
.END_HEADER
.BOARD_OUTLINE MCAD
62.0
0 5030.5 -120.0 0.0
0 5187.5 -120.0 0.0
0 5187.5 2130.0 0.0
0 5155.0 2130.0 0.0
0 5155.0 2550.0 -180.0
0 5187.5 2550.0 0.0
0 5187.5 4935.0 0.0
0 -262.5 4935.0 0.0
0 -262.5 -120.0 0.0
0 5030.5 -120.0 0.0
1 2600.0 685.0 0.0
1 2700.0 685.0 360.0
.END_BOARD_OUTLINE
.DRILLED_HOLES
20.0 1800.0 100.0 PTH J1 PIN ECAD
93.0 5075.0 0.0 PTH BOARD MTG UNOWNED
93.0 -150.0 4830.0 NPTH BOARD TOOL MCAD
.END_DRILLED_HOLES
.PLACEMENT
"cs13_a" "pn-cap" C1
4000.0 1000.0 100.0 0.0 TOP PLACED
"cs13_a" "pn-cap" C2
3000.0 2000.0 0.0 90.0 BOTTOM PLACED
"nothing" "pn-9" "X 9"
100.0 100.0 0.0 0.0 TOP PLACED
.END_PLACEMENT
"""
EMP = """.HEADER
LIBRARY_FILE 3.0 "Sample File Generator" 10/22/96.16:41:37 1
.END_HEADER
.ELECTRICAL
cs13_a pn-cap THOU 150.0
0 -55.0 55.0 0.0
0 -55.0 -55.0 0.0
0 135.0 -55.0 0.0
0 135.0 -80.0 0.0
0 565.0 -80.0 0.0
0 565.0 55.0 0.0
0 -55.0 55.0 0.0
PROP CAPACITANCE 100.0
.END_ELECTRICAL
"""


def test_the_sample_board_of_the_format_is_read() -> None:
    r = recognise_idf(EMN.encode(), EMP.encode())
    thou = 0.0254
    assert r.size_mm == pytest.approx((5450 * thou, 5055 * thou, 62 * thou), abs=1e-3)
    at = {round(h.d_mm / thou): h.at for h in r.holes}
    assert at[93] == pytest.approx(((-150 + 262.5) * thou, (4830 + 120) * thou), abs=1e-3)
    assert at[200] == pytest.approx(
        ((2600 + 262.5) * thou, (685 + 120) * thou), abs=1e-3
    )  # the round cut-out, radius 100
    c1, c2 = r.found
    assert (
        c1.side == "top"
        and c1.lo[2] == pytest.approx(162 * thou, abs=1e-3)
        and c1.hi[2] == pytest.approx(312 * thou, abs=1e-3)
    )
    assert c2.side == "bottom" and c2.hi[2] == pytest.approx(0) and c2.lo[2] == pytest.approx(-150 * thou, abs=1e-3)
    # turned a quarter: 620 long, 135 wide becomes 135 wide along x
    assert c2.hi[0] - c2.lo[0] == pytest.approx(135 * thou, abs=1e-3)
    assert any("1 placed parts are not in the library" in n for n in r.notes)
    assert any("give the .emp" in n for n in recognise_idf(EMN.encode()).notes)


@pytest.mark.parametrize("version", ["2.0", "3.0"])
@pytest.mark.parametrize("key", ["sbc-85x56", "board-mini-itx"])
def test_a_board_comes_back_from_idf_as_it_went(key: str, version: Version) -> None:
    """Outline, thickness, holes, parts with their places, heights and sides; 2.0 has no height over the board (from memory)."""
    c = library()[key]
    emn, emp = board_idf(c, version)
    r = recognise_idf(emn, emp)
    slab = next(s for s in c.solids if s.role == "board")
    assert r.unit == "mm" and r.size_mm == pytest.approx(
        [b - a for a, b in zip(slab.lo, slab.hi, strict=True)], abs=1e-3
    )
    holes = sorted((m.at[0] - slab.lo[0], m.at[1] - slab.lo[1], m.hole_mm) for m in c.mounts if m.side == "bottom")
    assert sorted((*h.at, h.d_mm) for h in r.holes) == [pytest.approx(h, abs=1e-3) for h in holes]
    others = [s for s in c.solids if s is not slab and s.role not in ("plug", "keepout")]
    assert len(r.found) == len(others)
    for s, f in zip(others, r.found, strict=True):
        lo, hi = (np.subtract(x, slab.lo) for x in (s.lo, s.hi))
        assert f.lo[:2] == pytest.approx(lo[:2], abs=1e-3) and f.hi[:2] == pytest.approx(hi[:2], abs=1e-3)
        assert f.hi[2] == pytest.approx(hi[2], abs=1e-3) or f.side == "bottom"
        assert version == "2.0" or f.lo[2] == pytest.approx(lo[2], abs=1e-3)


def test_idf_is_of_boards() -> None:
    with pytest.raises(DesignError, match="has no board"):
        board_idf(library()["fan-40x10"])


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (("BOARD_FILE 3.0", "BOARD_FILE 1.0"), "line 2"),
        (("0 5187.5 2130.0 0.0", "0 5187.5 wide 0.0"), "line 9"),
        (("93.0 5075.0 0.0 PTH", "nan 5075.0 0.0 PTH"), "line 22"),
        ((".BOARD_OUTLINE MCAD", ".OTHER"), "outline"),
        (("62.0", "99999.0"), "out of reason"),
    ],
)
def test_a_broken_idf_is_refused_by_line(change: tuple[str, str], said: str) -> None:
    with pytest.raises(DesignError, match=said):
        recognise_idf(EMN.replace(*change).encode(), EMP.encode())


@given(st.binary(max_size=300))
@settings(max_examples=examples(80), deadline=None)
def test_any_bytes_are_read_or_refused(data: bytes) -> None:
    for name in ("x.emn", "x.obj", "x.stl", "x.3mf"):
        try:
            recognise(data, name)
        except DesignError as e:
            assert e.do


# meshes


def test_a_body_lies_on_its_largest_flat_side() -> None:
    low = trimesh.creation.box((40, 30, 5))
    tall = trimesh.creation.box((10, 30, 30))
    tall.apply_translation((15, 0, 17.5))
    both = trimesh.util.concatenate([low, tall])
    both.apply_transform(trimesh.transformations.rotation_matrix(1.0, (1, 0.3, 0.2)))
    r, shape = recognise(trimesh.exchange.obj.export_obj(both).encode(), "l.obj", "mm")
    assert r.size_mm == pytest.approx((40, 30, 35), abs=0.01)
    assert (
        sorted(round(f.hi[2] - f.lo[2], 1) for f in r.found) == pytest.approx([5.0, 35.0], abs=0.2) or len(r.found) == 2
    )
    assert shape is not None and len(shape) == 36 * len(both.faces)


@pytest.mark.parametrize(("unit", "mm"), [("mm", 1), ("in", 25.4), ("cm", 10)])
def test_the_unit_of_a_mesh_is_asked(unit: Any, mm: float) -> None:
    data = trimesh.exchange.stl.export_stl(trimesh.creation.box((3, 2, 1)))
    assert recognise(data, "b.stl", unit)[0].size_mm == pytest.approx((3 * mm, 2 * mm, mm), rel=1e-5)


def bodies(seed: int) -> np.ndarray:
    """Some boxes, balls and rods that may run through one another; triangles (n, 3, 3)."""
    rng = np.random.default_rng(seed)
    parts: list[trimesh.Trimesh] = []
    for _ in range(rng.integers(1, 5)):
        kind = rng.integers(3)
        if kind == 0:
            b = trimesh.creation.box(rng.uniform(3, 30, 3))
        elif kind == 1:
            b = trimesh.creation.icosphere(subdivisions=2, radius=rng.uniform(3, 15))
        else:
            b = trimesh.creation.cylinder(rng.uniform(2, 8), rng.uniform(5, 40), sections=24)
        b.apply_transform(trimesh.transformations.random_rotation_matrix(rng.uniform(0, 1, 3)))
        b.apply_translation(rng.uniform(-20, 20, 3))
        parts.append(b)
    return np.asarray(trimesh.util.concatenate(parts).triangles)


def islands(points: np.ndarray) -> list[np.ndarray]:
    """The corners of each of the convex bodies that the mesh was made of."""
    mesh = trimesh.Trimesh(points.reshape(-1, 3), np.arange(3 * len(points)).reshape(-1, 3))
    return [np.asarray(m.vertices) for m in mesh.split(only_watertight=False)]


def inside_some(points: np.ndarray, parts: list[np.ndarray]) -> bool:
    held = np.zeros(len(points), bool)
    for corners in parts:
        hull = ConvexHull(corners)
        held |= (points @ hull.equations[:, :3].T + hull.equations[:, 3] < 2e-3).all(axis=1)
    return bool(held.all())


@given(st.integers(0, 10_000), st.booleans())
@settings(max_examples=examples(25), deadline=None)
def test_convex_parts_hold_the_whole_body(seed: int, torn: bool) -> None:
    points = bodies(seed)
    if torn:
        points = points[1:]
    parts, closed = convex_cells(points)
    assert closed != torn
    assert 1 <= len(parts) <= 24 and all(4 <= len(p) <= 124 for p in parts)
    middles = points.mean(axis=1)
    assert inside_some(np.concatenate([points.reshape(-1, 3), middles]), parts)
    # and all that is inside it
    body = M.batch_boolean([M.hull_points(p) for p in islands(bodies(seed))], OpType.Add)
    held = M.batch_boolean([M.hull_points(p) for p in parts], OpType.Add)
    assert (body - held).volume() < 1e-4 * body.volume() + 0.05
    laid, _ = lay_flat(points)
    assert laid.min() == pytest.approx(0, abs=1e-9)
    assert np.linalg.norm(laid[0, 1] - laid[0, 0]) == pytest.approx(float(np.linalg.norm(points[0, 1] - points[0, 0])))


def volume(parts: list[np.ndarray]) -> float:
    return float(sum(ConvexHull(p).volume for p in parts))


@pytest.mark.parametrize(
    ("name", "most_parts", "waste"),
    [("tray", 5, 0.001), ("heat sink", 11, 0.001), ("angle", 2, 0.001), ("ball", 1, 0.13), ("ring", 24, 0.15)],
)
def test_hollows_are_left_out(name: str, most_parts: int, waste: float) -> None:
    """What convex cells take up beyond the body itself, against its exact volume."""
    m = {
        "tray": lambda: M.cube((100, 80, 40)) - M.cube((94, 74, 40)).translate((3, 3, 3)),
        "heat sink": lambda: M.batch_boolean(
            [M.cube((60, 60, 5)), *(M.cube((2, 60, 25)).translate((i * 6.4, 0, 5)) for i in range(10))], OpType.Add
        ),
        "angle": lambda: M.cube((60, 20, 10)) + M.cube((20, 50, 10)),
        "ball": lambda: M.sphere(30, 64),
        "ring": lambda: M.revolve(CS.circle(8, 32).translate((30, 0)), 64),
    }[name]()
    mesh = m.to_mesh()
    points = np.asarray(mesh.vert_properties, dtype=float)[:, :3][np.asarray(mesh.tri_verts)]
    parts, closed = convex_cells(points)
    assert closed and len(parts) <= most_parts
    assert 1 - 1e-3 <= volume(parts) / m.volume() <= 1 + waste
    assert volume(parts) < 0.6 * np.prod(np.ptp(points.reshape(-1, 3), axis=0)) or name == "angle"


def test_a_body_comes_with_its_convex_parts_and_leaves_as_step() -> None:
    tray = M.cube((30, 24, 12)) - M.cube((26, 20, 12)).translate((2, 2, 2))
    mesh = tray.to_mesh()
    both = trimesh.Trimesh(np.asarray(mesh.vert_properties)[:, :3], np.asarray(mesh.tri_verts))
    found, _ = recognise(trimesh.exchange.stl.export_stl(both), "tray.stl", "mm")
    assert len(found.found) == 5 and not any(f.corners for f in found.found)  # five upright boxes
    ball, _ = recognise(trimesh.exchange.stl.export_stl(trimesh.creation.icosphere(radius=9)), "ball.stl", "mm")
    [only] = ball.found
    assert only.name == "body" and 40 < len(only.corners) <= 124
    [told] = component_report(ball)["tall"]
    assert (
        told["corners_mm"] == [list(p) for p in only.corners] and "corners_mm" not in component_report(found)["tall"][0]
    )
    part = component_of(ball, confirmed_by_default(ball), "own-ball")
    assert read_component(component_json(part).encode()).solids == part.solids
    shape = component_step(part)
    again, _ = recognise(shape, "ball.step")
    assert again.size_mm == pytest.approx(ball.size_mm, abs=0.01)
    # whoever changes the box changes the body in it
    s = part.solids[0]
    wider = Solid.model_validate(s.model_dump() | {"hi": (s.lo[0] + 2 * (s.hi[0] - s.lo[0]), *s.hi[1:])})
    assert max(c[0] for c in wider.corners) == pytest.approx(wider.hi[0])
    assert ConvexHull(wider.corners).volume == pytest.approx(2 * ConvexHull(s.corners).volume)
    assert Solid.model_validate(s.model_dump()).corners == s.corners
    flat = [(x, y, 0.0) for x, y, _ in s.corners]
    for wrong, said in (
        ({"corners": flat}, "lie in one plane"),
        ({"round": True}, "not both"),
        ({"corners": [(1, 2, "x")]}, "valid number"),
        ({"corners": [(1, 2)]}, "required"),
        ({"corners": 7}, "valid tuple"),
    ):
        with pytest.raises(ValidationError, match=said):
            Solid.model_validate(s.model_dump() | wrong)


def test_a_fine_mesh_is_made_lighter_without_losing_its_size() -> None:
    ball = np.asarray(trimesh.creation.icosphere(subdivisions=7, radius=50).triangles)
    assert len(ball) > 200_000
    light = lighter(ball)
    assert len(light) <= 20_000
    assert float(np.ptp(light)) == pytest.approx(100, abs=1.5)
    digest, data = shape_bytes(light)
    assert len(digest) == 32 and len(data) == light.size * 4


def test_a_body_of_300_000_triangles_is_read() -> None:
    ball = trimesh.creation.icosphere(subdivisions=7, radius=30)
    found, shape = apart(recognise, trimesh.exchange.stl.export_stl(ball), "ball.stl", seconds=60)
    assert found.size_mm == pytest.approx((60, 60, 60), abs=0.1)
    assert shape is not None and len(shape) <= 20_000 * 36


def test_circles() -> None:
    a = np.linspace(0, 2 * math.pi, 25)[:-1]
    ring = np.column_stack([5 + 1.35 * np.cos(a), 7 + 1.35 * np.sin(a)])
    fit = circle_of(ring)
    assert fit is not None and fit[0] == pytest.approx((5, 7)) and fit[1] == pytest.approx(2.7)
    assert is_round(ring) is not None
    assert is_round(ring[:8]) is None  # an arc is no hole
    assert is_round(np.array([(0, 0), (1, 0), (1, 1), (0, 1)], dtype=float)) is None
    assert is_round(np.column_stack([2 * np.cos(a), np.sin(a)])) is None  # an ellipse


@pytest.mark.parametrize(
    ("hole", "thread"),
    [(2.2, "M2"), (2.4, "M2"), (2.62, "M2_5"), (2.7, "M2_5"), (3.2, "M3"), (3.4, "M3"), (3.96, "UNC6_32"), (4.5, "M4")],
)
def test_the_thread_that_goes_through_a_hole(hole: float, thread: str) -> None:
    """ISO 273 close and medium; 3.96 is the hole of a desktop board for #6-32."""
    assert thread_for(hole) == thread


# the confinement


def _sleep(progress: Any) -> None:
    time.sleep(30)


def _eat(progress: Any) -> None:
    held = []
    while True:
        held.append(bytearray(b"x" * 50_000_000))
        time.sleep(0.02)


def _die(progress: Any) -> None:
    import os

    os._exit(3)


def _fail(progress: Any) -> None:
    raise ValueError("odd")


@pytest.mark.parametrize(
    ("work", "said"),
    [(_sleep, "longer than 1 s"), (_eat, "more than 0.4 GB"), (_die, "broke off"), (_fail, "ValueError: odd")],
)
def test_a_hostile_file_ends_in_a_message(work: Any, said: str) -> None:
    begun = time.monotonic()
    with pytest.raises(DesignError, match=said) as e:
        apart(work, seconds=1.0 if work is _sleep else 7.0, most_bytes=400_000_000)
    assert e.value.do and time.monotonic() - begun < 60


def test_a_reading_can_be_stopped() -> None:
    def stop(share: float, what: str) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        apart(_sleep, progress=stop)


# components out and in again


@pytest.mark.parametrize("key", ["sbc-85x56", "drive-3.5", "supply-atx", "card-2-full", "button-22"])
def test_a_component_goes_out_as_json_and_comes_back(key: str) -> None:
    c = library()[key]
    assert read_component(component_json(c).encode()) == c
    # as it was written before components had their name
    row = json.loads(component_json(c.model_copy(update={"family": "own part"})))
    old = {"rhombex_part": 1, "part": row["component"]}
    assert read_component(json.dumps(old).encode()) == c.model_copy(update={"family": "own component"})


def test_a_component_goes_out_as_step_and_is_recognised() -> None:
    c: Component = library()["sbc-85x56"]
    r = recognise_step(component_step(c), "b")
    assert r.size_mm == pytest.approx((85, 56, 1.6), abs=1e-3) and len(r.holes) == 4
    assert all(h.d_mm == pytest.approx(2.7, abs=1e-3) for h in r.holes)


@pytest.mark.parametrize(
    "data", [b"", b"{}", b"[1]", b'{"rhombex_part": 2}', b'{"rhombex_component": 2, "component": {"key": "A b"}}']
)
def test_a_file_that_is_no_component_is_refused(data: bytes) -> None:
    with pytest.raises(DesignError) as e:
        read_component(data)
    assert e.value.do


# turned by hand


@pytest.mark.parametrize("about", ["x", "y", "z"])
def test_turning_a_board_round_brings_it_back(about: Any) -> None:
    r, _ = recognise(random_board(3).data, "b.step")
    steps = 4 if about == "z" else 2  # a board is turned over, not set on its edge
    one = turned(r, about)
    assert one.size_mm == pytest.approx(r.size_mm if about != "z" else (r.size_mm[1], r.size_mm[0], r.size_mm[2]))
    assert sum(f.edge is not None for f in one.found) == sum(f.edge is not None for f in r.found)
    assert sorted(f.overhang_mm for f in one.found) == pytest.approx(sorted(f.overhang_mm for f in r.found), abs=2e-3)
    if about != "z":
        assert [f.side for f in one.found] == [{"top": "bottom", "bottom": "top"}[f.side] for f in r.found]
    back = one
    for _ in range(steps - 1):
        back = turned(back, about)
    for a, b in zip(back.found, r.found, strict=True):
        assert (a.lo, a.hi, a.edge) == (pytest.approx(b.lo, abs=1e-3), pytest.approx(b.hi, abs=1e-3), b.edge)
    assert [h.at for h in back.holes] == [pytest.approx(h.at, abs=1e-3) for h in r.holes]


def test_a_quarter_turn_moves_a_connector_from_left_to_front() -> None:
    r = Recognised(
        kind="board",
        name="b",
        format="STEP",
        unit="mm",
        unit_from="the file",
        size_mm=(60, 40, 1.6),
        holes=(Hole(at=(5, 10), d_mm=3),),
        found=(Found(name="plug", lo=(-2, 10, 1.6), hi=(8, 20, 5), side="top", edge="left", overhang_mm=2),),
    )
    one = turned(r, "z")
    # (x, y) goes to (40 - y, x): left comes to the front
    assert one.holes[0].at == pytest.approx((30, 5))
    assert one.found[0].lo == pytest.approx((20, -2, 1.6)) and one.found[0].hi == pytest.approx((30, 8, 5))
    assert (one.found[0].edge, one.found[0].overhang_mm) == ("front", pytest.approx(2))
    over = turned(r, "y")
    assert over.found[0].side == "bottom" and over.found[0].edge == "right"
    assert over.holes[0].at == pytest.approx((55, 10))


def test_a_body_is_tipped_with_its_mesh() -> None:
    mesh = trimesh.creation.box((40, 30, 5))
    r, shape = recognise(trimesh.exchange.stl.export_stl(mesh), "slab.stl", "mm")
    assert shape is not None
    one = turned(r, "x")
    assert one.size_mm == pytest.approx((40, 5, 30)) and one.found[0].hi == pytest.approx((40, 5, 30))
    digest, data = turned_shape(shape, turning(r, "x"))
    points = np.frombuffer(data, "<f4").reshape(-1, 3)
    assert points.min(axis=0) == pytest.approx((0, 0, 0), abs=1e-5)
    assert points.max(axis=0) == pytest.approx((40, 5, 30), abs=1e-5) and digest != r.shape


def test_solids_are_called_as_the_user_says() -> None:
    r, _ = recognise(trimesh.exchange.stl.export_stl(trimesh.creation.box((4, 3, 2))), "b.stl", "mm")
    c = component_of(r, confirmed_by_default(r).model_copy(update={"names": {"body": "coil"}}), "own-b")
    assert [s.name for s in c.solids] == ["coil"]
