"""Numbers of the tables and of the parts made from them, against the outside world. The source stands at each check."""

from __future__ import annotations

import csv
import io
import itertools
import math
from importlib import resources
from pathlib import Path

import numpy as np
import pytest

from rhombex.core import reference
from rhombex.core.analysis import Analysis
from rhombex.core.fit.bead import lines_in_wall, spacing_mm, wall_of_lines_mm
from rhombex.core.fit.joints import engagement_mm, hole_depth_mm, hole_mm, screw_mm
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import circle, diamond, loop_points, prism, rounded
from rhombex.core.parts import families, library, port_kinds
from rhombex.core.reference import MARKS, ref, val

SIZES = ("M2", "M2_5", "M3", "M4")


def _warehouse(name: str) -> list[dict[str, str]]:
    """A table of the fastener library bd_warehouse, read as plain CSV."""
    files = list(Path(str(resources.files("bd_warehouse"))).rglob(name))
    assert files, f"bd_warehouse has no {name}"
    return list(csv.DictReader(io.StringIO(files[0].read_text(encoding="utf-8-sig"))))


@pytest.mark.parametrize("size", SIZES)
def test_clearance_holes_are_iso_273(size: str) -> None:
    """ISO 273 (as tabulated by bd_warehouse): close, medium (normal), free (loose) clearance holes."""
    rows = {next(iter(r.values())): r for r in _warehouse("clearance_hole_sizes.csv")}
    row = rows[size.replace("_", ".")]
    close, normal, loose = (float(row[k]) for k in ("Close", "Normal", "Loose"))
    assert val(f"fasteners.{size}.clearance_close") == close
    assert val(f"fasteners.{size}.clearance_medium") == normal
    assert val(f"fasteners.{size}.clearance_free") == loose


@pytest.mark.parametrize(("size", "pitch"), [("M2", 0.4), ("M2_5", 0.45), ("M3", 0.5), ("M4", 0.7)])
def test_coarse_pitch_is_iso_261(size: str, pitch: float) -> None:
    """ISO 261 coarse pitches; tap drill d - P."""
    assert val(f"fasteners.{size}.pitch") == pitch


@pytest.mark.parametrize("size", SIZES)
def test_socket_heads_are_iso_4762(size: str) -> None:
    """ISO 4762: the head is as high as the screw's diameter."""
    assert val(f"fasteners.{size}.head_k") == val(f"fasteners.{size}.d")


@pytest.mark.parametrize("size", SIZES)
def test_nuts_are_iso_4032(size: str) -> None:
    """ISO 4032 (as tabulated by bd_warehouse): width across flats and the greatest height of a nut of style 1."""
    rows = {next(iter(r.values())).split("-")[0]: r for r in _warehouse("hex_nut_parameters.csv")}
    row = rows[size.replace("_", ".")]
    assert val(f"fasteners.{size}.nut_s") == float(row["iso4032:s"])
    assert val(f"fasteners.{size}.nut_m") == float(row["iso4032:m"])


@pytest.mark.parametrize(("size", "key"), [("M2", 1.5), ("M2_5", 2.0), ("M3", 2.5), ("M4", 3.0)])
def test_keys_of_socket_heads_are_iso_4762(size: str, key: float) -> None:
    """ISO 4762 (as tabulated by bd_warehouse): hexagon socket."""
    rows = {next(iter(r.values())).split("-")[0]: r for r in _warehouse("socket_head_cap_parameters.csv")}
    assert val(f"fasteners.{size}.key") == key == float(rows[size.replace("_", ".")]["iso4762:s "])


@pytest.mark.parametrize("size", SIZES)
def test_insert_sizes_hang_together(size: str) -> None:
    """Insert makers' practice (common practice): lead hole below the outer diameter, above the thread."""
    assert (
        val(f"fasteners.{size}.clearance_free")
        < val(f"fasteners.{size}.insert_hole")
        < val(f"fasteners.{size}.insert_od")
    )


def test_drive_holes_are_sff_8201() -> None:
    """SFF-8201 bottom holes: 61.72 apart, 4.07 from the side, 14.00 and 90.60 from the connector end (memory)."""
    m = {x.name: x.at for x in library()["drive-2.5"].mounts}
    assert m["B"][0] - m["A"][0] == pytest.approx(61.72)
    assert m["A"][0] == pytest.approx(4.07) and 69.85 - m["B"][0] == pytest.approx(4.06, abs=0.02)
    assert m["A"][1] == 14.0 and m["C"][1] == pytest.approx(90.6)
    assert m["C"][1] - m["A"][1] == pytest.approx(76.6)
    size = library()["drive-2.5"].solids[0].hi
    assert size == pytest.approx((69.85, 100.45, 7.0))


def test_fan_pitch_is_that_of_a_40_frame() -> None:
    """De facto 40 mm fan: holes 32 apart both ways (memory)."""
    xs = sorted({m.at[0] for m in library()["fan-40x10"].mounts})
    assert xs[1] - xs[0] == 32


@pytest.mark.parametrize(("key", "w", "h"), [("sbc-85x56", 58, 49), ("sbc-65x30", 58, 23)])
def test_board_hole_patterns(key: str, w: float, h: float) -> None:
    """De facto sizes: 58 x 49 on 85 x 56, 58 x 23 on 65 x 30, first hole 3.5 from two edges (handbook)."""
    at = [m.at for m in library()[key].mounts]
    assert max(a[0] for a in at) - min(a[0] for a in at) == w
    assert max(a[1] for a in at) - min(a[1] for a in at) == h
    assert min(a[0] for a in at) == min(a[1] for a in at) == 3.5


def test_connector_shells() -> None:
    """USB Type-C shell 8.94 x 3.26, HDMI type A 15.0 x 5.55, USB-A shell 13.1 wide, IEC 60603-7 16.5 x 13.5."""
    k = port_kinds()
    assert (k["usb-c"].width_mm, k["usb-c"].height_mm) == (8.94, 3.26)
    assert (k["hdmi-a"].width_mm, k["hdmi-a"].height_mm) == (15.0, 5.55)
    assert k["usb-a-double"].width_mm == 13.1
    assert (k["rj45"].width_mm, k["rj45"].height_mm) == (16.5, 13.5)


def test_every_number_of_every_table_has_unit_source_and_mark() -> None:
    def leaves(node: object, path: str) -> list[tuple[str, dict[str, object]]]:
        assert isinstance(node, dict), path
        if "v" in node:
            return [(path, node)]
        return list(itertools.chain.from_iterable(leaves(v, f"{path}.{k}") for k, v in node.items()))

    count = 0
    for name in ("fasteners", "materials", "printing", "air", "limits", "measuring", "power", "patterns"):
        for path, leaf in leaves(reference.table(name), name):
            count += 1
            assert leaf["unit"] and leaf["source"], path
            assert leaf["mark"] in MARKS, path
    assert count > 120
    for _, family in families.tables():
        for source, mark in family["source"].values():
            assert source and mark in (*MARKS, "sample")
    for c in library().values():
        for value in (*c.solids, *c.mounts, *c.ports, *c.headers, *c.power, *c.zones):
            assert value.source and value.mark in (*MARKS, "sample"), c.key


def test_the_holes_in_the_made_part_are_those_of_the_table(good: Analysis) -> None:
    """Measured in the mesh: the lid's screw hole is ISO 273 medium for M3 plus the allowance for an upright hole."""
    lid = mk.evaluate(good.recipes["lid"], mk.FILE_TOL)
    b = good.case.joints[0]
    z = good.case.seams[0].at_mm + 1.5  # a polygon inside the circle: 0.02 less at most
    probe = mk.Manifold.cylinder(0.2, 3.0, circular_segments=256).translate((b.at[0], b.at[1], z))
    hole = probe - lid
    area = hole.volume() / 0.2
    assert 2 * math.sqrt(area / math.pi) == pytest.approx(3.4 + 0.15, abs=0.03)


@pytest.mark.parametrize(("grip", "length"), [(1.6, 5), (5.1, 10), (6.9, 10), (9.5, 14)])
def test_screws_by_hand_for_an_m3_insert(grip: float, length: float) -> None:
    """By hand: at least 3 mm of thread (1 d), at most 5.7 + 1.2 - 0.5 = 6.4 mm into the hole."""
    least, most = engagement_mm("M3", "insert")
    assert (least, most) == pytest.approx((3.0, 6.4))
    found = screw_mm("M3", grip, least, most)
    assert found is not None and grip + least <= found <= grip + most
    assert found == length
    assert screw_mm("M3", 22.0, 0.1, 0.2) is None


def test_pilot_holes_by_hand() -> None:
    """Plastics-screw practice (common practice): 0.85 d, 2 d of thread, boss 2.5 d."""
    assert hole_mm("M3", "cut in plastic") == pytest.approx(2.55)
    assert engagement_mm("M3", "cut in plastic") == (6.0, 9.0)
    assert hole_depth_mm("M3", "cut in plastic") == pytest.approx(9.5)


@pytest.mark.parametrize(("lines", "wall"), [(2, 0.85), (3, 1.3), (4, 1.7), (5, 2.1), (6, 2.5), (7, 2.9)])
def test_walls_of_whole_lines_match_practice(lines: int, wall: float) -> None:
    """Common practice for a 0.4 nozzle: walls of 0.85, 1.3, 1.7, 2.1, 2.5, 3.0 mm (0.45 line, 0.2 layer)."""
    assert wall_of_lines_mm(lines, 0.45, 0.2) == pytest.approx(wall, abs=0.05)
    assert lines_in_wall(wall_of_lines_mm(lines, 0.45, 0.2), 0.45, 0.2) == pytest.approx(lines)


def test_five_perimeters_of_a_06_nozzle_are_about_3_mm() -> None:
    """Common practice: 5 perimeters with a 0.6 nozzle give walls about 3 mm thick."""
    assert wall_of_lines_mm(5, 0.6 * val("printing.bead.width_factor"), 0.3) == pytest.approx(3.0, abs=0.2)


def test_bead_spacing_keeps_the_beads_area() -> None:
    """Geometry: a bead of width w and height h with round sides has area h (w - h) + pi h^2 / 4 = h s."""
    w, h = 0.45, 0.2
    assert h * spacing_mm(w, h) == pytest.approx(h * (w - h) + math.pi * h * h / 4)


def test_diamond_vents_by_hand() -> None:
    """A square of 5 mm on its corner has 25 mm2, and its sides stand at 45 degrees."""
    p = np.array(loop_points(diamond(0, 0, 5), 0.05))
    area = 0.5 * abs(np.dot(p[:, 0], np.roll(p[:, 1], 1)) - np.dot(p[:, 1], np.roll(p[:, 0], 1)))
    assert area == pytest.approx(25, abs=1e-4)
    side = p[1] - p[0]
    assert abs(side[0]) == pytest.approx(abs(side[1]))


@pytest.mark.parametrize("tol", [0.05, 0.02])
@pytest.mark.parametrize("d", [1.0, 3.4, 16.2, 120.0])
def test_circles_keep_the_chord_tolerance(d: float, tol: float) -> None:
    """Geometry: the area is pi r^2; a regular polygon of n corners on radius R has n/2 R^2 sin(2 pi/n), and its sagitta is at most
    the tolerance."""
    m = mk.evaluate(prism(circle(0, 0, d), 0, 1), tol)
    n = m.num_vert() // 2
    r = d / 2
    assert r * (1 - math.cos(math.pi / n)) <= tol + 1e-9
    assert m.volume() == pytest.approx(math.pi * r * r, rel=1e-6)
    far = m.bounding_box()[3]
    assert n / 2 * far * far * math.sin(2 * math.pi / n) == pytest.approx(math.pi * r * r, rel=1e-5)


def test_rounded_plate_volume_by_hand() -> None:
    """w d - (4 - pi) r^2, times the thickness."""
    m = mk.evaluate(prism(rounded(0, 0, 80, 50, 8), 0, 3), mk.FILE_TOL)
    assert m.volume() == pytest.approx((80 * 50 - (4 - math.pi) * 64) * 3, rel=2e-4)


def test_sources_can_be_read_out() -> None:
    assert str(ref("fasteners.M3.clearance_medium")) == "ISO 273 medium (standard)"
    with pytest.raises(KeyError):
        ref("fasteners.M3")
