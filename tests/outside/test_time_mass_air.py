"""Mass, time and air against hand calculations, handbook formulas and the practice of the trade."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from rhombex.core.air.ladder import _fan_flow, _series_m2, heat_ladder
from rhombex.core.air.need import AirNeed, air_need
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.leads import length_needed
from rhombex.core.design import Design, Lead, Process
from rhombex.core.edits import Remove, Set
from rhombex.core.fit.bead import spacing_mm
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import (
    Solid,
    block,
)
from rhombex.core.geometry.sections import layer_heights, layer_integrals
from rhombex.core.geometry.slicer import Slicer
from rhombex.core.process import estimate as est
from rhombex.core.reference import val
from rhombex.core.space import Box
from rhombex.core.trail import Trail
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

BENCH = ARCHIVE_WORKSHOP.printers[1]
SOLID = Process(infill=1.0, brim_mm=0)


def cube(w: float, d: float, h: float) -> Solid:
    return block(Box((0, 0, 0), (w, d, h)))


@pytest.mark.parametrize(("kind", "density"), [("PLA", 1.24), ("PETG", 1.27), ("ABS", 1.05), ("ASA", 1.07)])
def test_a_solid_block_weighs_what_its_volume_says(kind: str, density: float) -> None:
    """By hand: 40 x 30 x 20 mm = 24 cm3; density of the polymer (ISO 1183 method, handbook)."""
    e = est.estimate(cube(40, 30, 20), SOLID.model_copy(update={"filament": kind}), BENCH)
    assert e.mass_g.value == pytest.approx(24 * density, rel=0.01)
    # 1.75 mm filament: area 2.405 mm2, so 24 cm3 are 9.98 m
    assert e.filament_m == pytest.approx(24000 / (math.pi * 1.75**2 / 4) / 1000, rel=0.01)


def test_no_block_prints_faster_than_its_flow() -> None:
    """Lower bound: deposited volume over the flow that the filament bears."""
    for size in ((20, 20, 20), (100, 80, 3), (60, 60, 40)):
        e = est.estimate(cube(*size), SOLID, BENCH)
        assert e.time_s.value > e.deposited_mm3 / val("materials.PLA.flow")


def test_a_hollow_block_by_hand() -> None:
    """3 perimeters of spacing s round 40 x 30: ring area = 2 n s (40 + 30) - 4 (n s)^2; 4 + 5 solid layers of 100."""
    process = Process(infill=0.2, brim_mm=0, perimeters=3)
    e = est.estimate(cube(40, 30, 20), process, BENCH)
    ns = 3 * spacing_mm(0.45, 0.2)
    ring = 2 * ns * 70 - 4 * ns**2
    inner = 1200 - ring
    volume = 20 * ring + inner * (9 * 0.2 + 91 * 0.2 * 0.2)
    assert e.deposited_mm3 == pytest.approx(volume, rel=0.03)


def test_layers_are_a_whole_number() -> None:
    """3 mm at 0.4 are 7 or 8 layers, never 7.5."""
    assert len(layer_heights(3.0, 0.4)) in (7, 8)
    assert len(layer_heights(27.6, 0.2)) == 138


def test_the_practice_of_a_flat_multi_hour_panel() -> None:
    """Common practice: a flat panel of about 250 g takes about 13 hours."""
    e = est.estimate(cube(240, 200, 4), Process(infill=1.0, brim_mm=0), ARCHIVE_WORKSHOP.printers[2])
    slow = est.estimate(cube(215, 215, 4.4), Process(infill=1.0, brim_mm=0), BENCH)
    assert slow.mass_g.value == pytest.approx(250, rel=0.05)
    assert 9 < slow.time_s.value / 3600 < 18
    assert e.time_s.value < slow.time_s.value  # the wide nozzle is quicker


def outline(m: mk.Manifold, z: float) -> float:
    total = 0.0
    for p in m.slice(z).to_polygons():
        q = np.asarray(p)
        total += float(np.hypot(*(np.roll(q, -1, axis=0) - q).T).sum())
    return total


def test_all_sections_at_once_equal_the_sections_one_by_one(good: Analysis) -> None:
    for recipe in good.piece_recipes.values():
        m = mk.evaluate(recipe)
        z = layer_heights(m.bounding_box()[5], 0.2) + 0.0137  # off every vertex level
        z = z[z < m.bounding_box()[5]]
        area, length = layer_integrals(m, z)
        assert area == pytest.approx([m.slice(x).area() for x in z], abs=1e-3)
        assert length == pytest.approx([outline(m, x) for x in z], abs=1e-3)
        assert area.sum() * 0.2 == pytest.approx(m.volume(), rel=0.03)


def test_a_section_is_the_plain_one() -> None:
    assert Slicer(*mk.triangles(mk.evaluate(cube(30, 20, 10)))).at(5.0).area() == pytest.approx(600)


# air


def test_flow_for_100_w_at_10_k() -> None:
    """Energy balance: 100 W at 10 K ask for about 17.6 CFM at 22 degC (k = 1.76); 1 CFM = 1.699 m3/h."""
    flow = 100 / (val("air.air.density") * val("air.air.cp") * 10)
    assert flow * 3600 / val("air.air.cfm") == pytest.approx(17.8, rel=0.01)  # 25 degC: k = 1.78


def test_density_of_air() -> None:
    """Ideal gas: p / (R T) = 101325 / (287.05 x 298.15)."""
    assert val("air.air.density") == pytest.approx(101325 / (287.05 * 298.15), rel=1e-3)


def test_vents_by_hand_with_a_fan(good_wren: Design) -> None:
    """A = Q / (Cd sqrt(2 dp / rho)): Q = 0.6 x 6 CFM, dp = a quarter of 2 mmH2O."""
    q = 0.6 * 6 * 1.699 / 3600
    area = q / (0.62 * math.sqrt(2 * 0.25 * 2 * 9.80665 / 1.184)) * 1e6
    assert air_need(good_wren, arrange(good_wren)).area_mm2.value == pytest.approx(area, rel=1e-3)


def test_vents_by_hand_without_a_fan(good_wren: Design) -> None:
    """Stack effect, ASHRAE Fundamentals form: Q = Cd A sqrt(g h dT / T)."""
    still = apply(good_wren, Remove(id="fan"))
    q = 10.0 / (1.184 * 1006 * 10)
    area = q / (0.62 * math.sqrt(9.80665 * 0.0155 * 10 / 308.15)) * 1e6
    assert air_need(still, arrange(still)).area_mm2.value == pytest.approx(area, rel=1e-3)


def test_stack_effect_of_the_handbook_example() -> None:
    """50 cm2 each way, 0.3 m, 35/25 degC: about 2.0 CFM with Cd 0.6, 11 W at 10 K (ASHRAE form, worked example)."""
    q = 0.6 * 50e-4 * math.sqrt(9.80665 * 0.3 * 10 / 303)
    assert q * 3600 / 1.699 == pytest.approx(2.0, abs=0.05)
    assert q * 1.184 * 1006 * 10 == pytest.approx(11, abs=0.5)


@given(st.floats(1e-4, 5e-3), st.floats(1e-4, 0.02), st.floats(1, 60))
def test_working_point_is_where_the_curves_meet(free: float, area: float, pressure: float) -> None:
    """scipy's root of p0 (1 - Q/Q0) = rho/2 (Q / Cd A)^2."""
    none = Trail(value=0, unit="", formula="")
    need = AirNeed(
        heat_w=1,
        flow_m3s=0,
        fan_flow_m3s=free * val("air.air.fan_share"),
        fan_pa=pressure,
        area_mm2=none,
        ways=1,
        vents_mm2=0,
    )
    q = brentq(lambda q: pressure * (1 - q / free) - 1.184 / 2 * (q / (0.62 * area)) ** 2, 0, free, xtol=1e-15)
    assert _fan_flow(need, area) == pytest.approx(q, rel=1e-6)


@pytest.mark.parametrize(("a", "b", "both"), [(3.0, 4.0, 2.4), (1.0, 1.0, 0.5**0.5), (2.0, 1e6, 2.0), (0.0, 4.0, 0.0)])
def test_orifices_in_series(a: float, b: float, both: float) -> None:
    """1/A^2 = 1/A1^2 + 1/A2^2 (ventilation handbooks): 3 and 4 give 2.4."""
    assert _series_m2(a, b) == pytest.approx(both, rel=1e-6)


def test_a_closed_box_holds_its_heat() -> None:
    """Series resistances: a closed box of 0.5 m2 with U about 4 W/m2K rises 15 K on 30 W (worked example)."""
    d = Design.model_validate(
        {"name": "box", "shell": {"inner_mm": [394, 394, 250], "construction": {"kind": "two halves", "joint_mm": 200}}}
    )
    none = Trail(value=0, unit="", formula="")
    need = AirNeed(heat_w=30, flow_m3s=0, fan_flow_m3s=0, fan_pa=0, area_mm2=none, ways=1, vents_mm2=0)
    ladder = heat_ladder(d, need, (400, 400, 256), 0, 0, 3, d.process.filament)
    skin = 4 * 0.4 * 0.256 + 0.16
    assert ladder.flow_m3s == 0
    assert (ladder.inside_c - 25) * skin * 4.05 == pytest.approx(30, rel=0.1)
    assert 25 < ladder.wall_c.value < ladder.inside_c + val("air.air.hot_spot")


def test_more_vents_are_cooler(good_wren: Design) -> None:
    a = analyse(good_wren, ARCHIVE_WORKSHOP)
    closed = analyse(good_wren.model_copy(update={"vents": ()}), ARCHIVE_WORKSHOP)
    warm = analyse(apply(good_wren, Set(path="brief.room_c", value=35)), ARCHIVE_WORKSHOP)
    assert a.ladder.wall_c.value < closed.ladder.wall_c.value
    assert warm.ladder.wall_c.value == pytest.approx(a.ladder.wall_c.value + 10, abs=1)


def test_length_of_a_lead_by_hand(good_wren: Design) -> None:
    """From the board's socket (back) to the drive (front): two quarter bends of 6 mm and straight runs."""
    things = arrange(good_wren)
    ports = {p.ref: p.centre for t in things for p in t.ports}
    lead = Lead(id="x", name="x", start="board/drive", end="drive/data", length_mm=100, bend_radius_mm=6)
    a, b = ports["board/drive"], ports["drive/data"]
    run = abs(a[0] - b[0]) + abs((a[1] + 6) - (b[1] - 6)) + abs(a[2] - b[2])
    needed = length_needed(lead, things)
    assert needed is not None
    assert needed.value == pytest.approx(12 + run - 2 * (12 - math.pi * 3) / 1 * 0.5 * 2 + 10, abs=1e-3)
