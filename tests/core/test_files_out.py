"""Files that leave Rhombex, read back by others: plates and sets, the whole case, its drawings; equal in size, place, name, colour."""

from __future__ import annotations

import csv
import io
import re
from dataclasses import replace
from pathlib import Path
from xml.etree import ElementTree

import lib3mf
import numpy as np
import pytest
import trimesh
from OCP.Bnd import Bnd_Box
from OCP.BRepBndLib import BRepBndLib
from OCP.collections import Sequence_TDF_Label
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Reader
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import hard
from rhombex.core.cuts.bed import turned_size, usable_bed
from rhombex.core.design import Design, Placement
from rhombex.core.edits import Set
from rhombex.core.exchange.package import COMPONENT_COLOUR, bill_csv, colour_of, package, simple_solids
from rhombex.core.exchange.read_3mf import bodies_of_3mf
from rhombex.core.geometry import brep_kernel, mesh_kernel
from rhombex.core.parts import library
from rhombex.core.plan.checks import checks
from rhombex.core.plan.drawing import drawing
from rhombex.core.plan.plates import plates
from rhombex.core.space import hull as hull_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

pytestmark = pytest.mark.xdist_group("exports")  # what is written once is read by all


@pytest.fixture(scope="module")
def small(good_wren: Design) -> Analysis:
    """*Wren* mended, on the small bed: four pieces."""
    return analyse(apply(good_wren, Set(path="printer", value="bench-180")), ARCHIVE_WORKSHOP, "preview")


@pytest.fixture(scope="module")
def files(small: Analysis) -> dict[str, bytes]:
    return package(small, components=True)


def test_plates_hold_all_pieces_apart_and_on_the_bed(small: Analysis) -> None:
    laid = plates(small)
    assert sorted(q.piece for p in laid for q in p.places) == sorted(p.name for p in small.pieces)
    boxes = {p.name: p.bbox_mm for p in small.pieces}
    assert len(laid) == 3  # 86 + 30 with 8 of brims between go on one bed of 168, the two others fill one each
    for plate in laid:
        x, y, _ = usable_bed(plate.process, small.printer)
        edge = (small.printer.bed_mm[0] - x) / 2, (small.printer.bed_mm[1] - y) / 2
        rects = []
        for q in plate.places:
            w, d = turned_size(boxes[q.piece][:2], q.angle_deg)
            assert q.at_mm[0] >= edge[0] - 1e-6 and q.at_mm[0] + w <= edge[0] + x + 1e-6
            assert q.at_mm[1] >= edge[1] - 1e-6 and q.at_mm[1] + d <= edge[1] + y + 1e-6
            rects.append((q.at_mm[0], q.at_mm[1], q.at_mm[0] + w, q.at_mm[1] + d))
        for i, p in enumerate(rects):
            for r in rects[i + 1 :]:
                gap = max(p[0] - r[2], r[0] - p[2], p[1] - r[3], r[1] - p[3])
                assert gap >= 8 - 1e-6  # two brims of 4


def test_what_fits_the_bed_only_across_lies_across(good_wren: Design) -> None:
    """Turned on the small bed it takes its other side along x; one too large has a plate of its own."""
    a = analyse(good_wren, ARCHIVE_WORKSHOP, "preview")
    tall = a.pieces[0].model_copy(update={"bbox_mm": (120.0, 205.0, 10.0), "fits_bed": True, "angle_deg": 90.0})
    huge = a.pieces[1].model_copy(update={"bbox_mm": (400.0, 400.0, 10.0), "fits_bed": False})
    laid = plates(replace(a, pieces=(tall, huge)))
    assert [(p.fits, p.places[0].piece, p.places[0].angle_deg) for p in laid] == [
        (False, "lid", 0.0),
        (True, "base", 90.0),
    ]


def strictly_read(data: bytes) -> tuple[lib3mf.Model, int]:
    model = lib3mf.get_wrapper().CreateModel()
    reader = model.QueryReader("3mf")
    reader.SetStrictModeActive(True)
    reader.ReadFromBuffer(data)
    return model, reader.GetWarningCount()


def test_the_set_comes_back_with_its_pieces_apart_named_numbered_and_coloured(
    small: Analysis, files: dict[str, bytes]
) -> None:
    model, warnings = strictly_read(files["set.3mf"])
    assert warnings == 0
    objects = model.GetObjects()
    names, numbers, notes = [], [], []
    while objects.MoveNext():
        o = objects.GetCurrentObject()
        names.append(o.GetName())
        numbers.append(o.GetPartNumber())
        group = o.GetMetaDataGroup()
        notes.append(
            {group.GetMetaData(k).GetName(): group.GetMetaData(k).GetValue() for k in range(group.GetMetaDataCount())}
        )
    assert sorted(names) == sorted(f"Wren {p.name}" for p in small.pieces)
    assert sorted(numbers) == ["1", "2", "3", "4"]
    assert all(n["filament"] == "PLA" and n["layer_mm"] == "0.2" for n in notes)
    scene = trimesh.load(io.BytesIO(files["set.3mf"]), file_type="3mf")
    mine = {b.name: b.points for b in bodies_of_3mf(files["set.3mf"])}
    boxes = []
    for p in small.pieces:
        name = f"Wren {p.name}"
        other = scene.geometry[name].copy()
        node = next(n for n in scene.graph.nodes_geometry if scene.graph[n][1] == name)
        other.apply_transform(scene.graph[node][0])
        lo, hi = mine[name].min(axis=(0, 1)), mine[name].max(axis=(0, 1))
        assert np.allclose([lo, hi], other.bounds, atol=1e-3)  # two readers, one place
        assert sorted(hi - lo) == pytest.approx(sorted(p.bbox_mm), abs=0.02)
        boxes.append((lo, hi))
    for i, (lo, hi) in enumerate(boxes):
        assert all((lo[:2] > b[:2]).any() or (hi[:2] < a[:2]).any() for a, b in boxes[i + 1 :])


def _case_of(data: bytes, room: Path) -> dict[str, tuple[list[float], tuple[int, ...]]]:
    """Name -> box and colour of every component of a STEP assembly."""
    path = room / "case.step"
    path.write_bytes(data)
    doc = TDocStd_Document(TCollection_ExtendedString("XmlXCAF"))
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    reader.ReadFile(str(path))
    assert reader.Transfer(doc)
    tool, colours = XCAFDoc_DocumentTool.ShapeTool_s(doc.Main()), XCAFDoc_DocumentTool.ColorTool_s(doc.Main())

    def name(label: TDF_Label) -> str:
        found = TDataStd_Name()
        return str(found.Get().ToExtString()) if label.FindAttribute(TDataStd_Name.GetID_s(), found) else ""

    free = Sequence_TDF_Label()
    tool.GetFreeShapes(free)
    assert free.Length() == 1 and name(free.Value(1)) == "Wren" and tool.IsAssembly_s(free.Value(1))
    parts, out = Sequence_TDF_Label(), {}
    tool.GetComponents_s(free.Value(1), parts, False)
    for k in range(1, parts.Length() + 1):
        real = TDF_Label()
        tool.GetReferredShape_s(parts.Value(k), real)
        box, rgb = Bnd_Box(), Quantity_Color()
        BRepBndLib.AddOptimal_s(tool.GetShape_s(parts.Value(k)), box, False, False)
        solids = brep_kernel.solids(tool.GetShape_s(real))
        assert any(colours.GetColor(s, XCAFDoc_ColorSurf, rgb) for s in (tool.GetShape_s(real), *solids))
        values = rgb.Values(Quantity_TOC_sRGB)
        out[name(real)] = (
            [*box.CornerMin().Coord(), *box.CornerMax().Coord()],
            tuple(round(255 * v) for v in values),
        )
    return out


def test_the_case_is_one_assembly_in_place_with_names_and_colours(
    small: Analysis, files: dict[str, bytes], tmp_path: Path
) -> None:
    found = _case_of(files["case.step"], tmp_path)
    things = {t.name: t for t in small.things}
    assert set(found) == {p.name for p in small.pieces} | set(things)
    for p in small.pieces:
        box, colour = found[p.name]
        mesh = box_of(small, p.name)
        assert box == pytest.approx(mesh, abs=0.02) and colour == colour_of(small, p.part)
    drive, colour = found["Drive"]
    assert colour == COMPONENT_COLOUR and drive[3] - drive[0] == pytest.approx(69.85, abs=0.01)  # SFF-8201: 69.85 wide
    text = files["case.step"].decode()
    assert "AP242" in text and "SI_UNIT(.MILLI.,.METRE.)" in text and "Rhombex" in text
    assert text.count("CYLINDRICAL_SURFACE") > 20  # holes are cylinders, not facets


def box_of(a: Analysis, piece: str) -> list[float]:
    return list(mesh_kernel.evaluate(a.pieces_in_case[piece], mesh_kernel.FILE_TOL).bounding_box())


def test_a_part_is_called_by_its_own_name_whatever_was_written_before(files: dict[str, bytes]) -> None:
    for stem in ("base-1", "base-2", "lid-1"):
        products = re.findall(r"PRODUCT\('([^']*)'", files[f"{stem}.step"].decode())
        assert products == [f"Wren {stem}"]


def test_the_opened_case_is_read_by_another_library(small: Analysis, files: dict[str, bytes]) -> None:
    """glTF 2.0: metres, y up. The lid stands its own travel and 30 mm over its place."""
    scene = trimesh.load(io.BytesIO(files["opened-case.glb"]), file_type="glb")
    nodes = set(scene.graph.nodes_geometry)
    assert nodes == {f"Wren {p.name}" for p in small.pieces} | {t.name for t in small.things}

    def bounds(node: str) -> np.ndarray:
        to, geometry = scene.graph[node]
        return np.asarray(trimesh.transform_points(scene.geometry[geometry].bounds, to)) * 1000

    lid = bounds("Wren lid-1")
    travel = 37 - 29.8 + 2.5  # from the joint to the top, and the tongue
    assert lid[:, 1].max() == pytest.approx(37 + travel + 30, abs=0.05)
    base = bounds("Wren base-1")
    assert base[:, 1].min() == pytest.approx(0, abs=1e-6) and base[:, 1].max() == pytest.approx(29.8, abs=0.01)
    shade = scene.geometry[scene.graph["Wren base-1"][1]].visual.material.baseColorFactor
    assert tuple(shade[:3]) == colour_of(small, "base")


def test_counts_in_the_bill_are_numbers_with_units_and_prices(small: Analysis) -> None:
    rows = list(csv.DictReader(io.StringIO(bill_csv(small))))
    assert {r["unit"] for r in rows} == {"piece", "g"} and all(float(r["count"]) > 0 for r in rows)
    filament = [r for r in rows if r["item"] == "filament"]
    money = sum(float(r["price_eur"]) for r in filament)
    assert money == pytest.approx(sum(e.money for _, e in small.estimated()), abs=0.02)
    assert all(r["price_eur"] == "" for r in rows if r["item"] != "filament")  # nobody has said what a screw costs


def test_a_drawing_is_true_to_scale_and_says_what_to_check(good: Analysis, good_wren: Design) -> None:
    base = next(p for p in good.pieces if p.name == "base")
    sheet = drawing(good, base)
    words = [t.words for t in sheet.texts]
    assert {"171.38", "143.78", "29.8", "A - A"} <= set(words)
    assert any(w.startswith("scale 1 : 2") for w in words)
    # the front view's outline: 171.38 / 2 across, 29.8 / 2 up, drawn with nothing off the paper
    seen = [s for s in sheet.strokes if s.weight == "seen"]
    long = max(abs(s.x1 - s.x0) for s in seen if abs(s.y1 - s.y0) < 0.01)
    assert long == pytest.approx((171.38 - 2 * 6) / 2, abs=0.02)  # its round corners of 6 are not straight
    for s in sheet.strokes:
        assert min(s.x0, s.x1) >= 0 and max(s.x0, s.x1) <= 297 and min(s.y0, s.y1) >= 0 and max(s.y0, s.y1) <= 210
    # the section's cut area by its outline (shoelace) is that of the part there
    found = {(c.of, c.how): c.mm for c in checks(good, base)}
    assert found["posts of Board", "apart along the width, middle to middle"] == pytest.approx(58.0)
    assert found["posts of Board", "apart along the depth, middle to middle"] == pytest.approx(49.0)
    assert found["walls", "thickness"] == good_wren.shell.wall_mm
    assert found["posts of Board", "top over the outside of the floor"] == pytest.approx(3.0 + 3.4)


def test_drawings_are_svg_in_millimetres_and_a_pdf_of_a_page_each(files: dict[str, bytes], small: Analysis) -> None:
    root = ElementTree.fromstring(files["base-1.svg"])
    assert (root.get("width"), root.get("height"), root.get("viewBox")) == ("297mm", "210mm", "0 0 297 210")
    assert any("Wren base-1" in (t.text or "") for t in root.iter("{http://www.w3.org/2000/svg}text"))
    pdf = files["drawings.pdf"]
    assert pdf.startswith(b"%PDF-") and len(re.findall(rb"/Type /Page\b", pdf)) == len(small.pieces)
    boxes = {tuple(float(x) for x in m.split()) for m in re.findall(rb"/MediaBox \[([^\]]*)\]", pdf)}
    assert all(b == pytest.approx((0, 0, 297 / 25.4 * 72, 210 / 25.4 * 72), abs=0.01) for b in boxes)
    assert package(small, ("drawings",))["drawings.pdf"] == pdf  # equal designs, equal bytes


def test_every_component_of_the_library_goes_along_as_solids(good_wren: Design) -> None:
    """Also those whose parts only touch or stand apart: a board's slots and plugs."""
    for key, c in library().items():
        at = Placement(
            id="p", component=key, name="P", at_mm=(50, 50, 5), face="top" if c.mounting == "panel" else None
        )
        (t,) = arrange(good_wren.model_copy(update={"placements": (at,)}))
        shape = simple_solids(t).shape
        assert len(brep_kernel.solids(shape)) == len(hard(t)), key
        boxes = hull_of([s.box for s in hard(t)])
        box = Bnd_Box()
        BRepBndLib.AddOptimal_s(shape, box, False, False)
        assert box.CornerMin().Coord() == pytest.approx(boxes.lo, abs=0.1), key
