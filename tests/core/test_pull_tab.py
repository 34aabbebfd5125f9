"""The tab that a tray is pulled out by: measured on the mesh, beside plugs, in the size over all, clear of cuts."""

from __future__ import annotations

from math import pi

import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.constructions import TrayInASleeve
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Move
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.parts import port_kinds
from rhombex.core.shell.offers import usual
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from tests.conftest import alone

SIDES = ("front", "right", "back", "left")
ALONG = {
    "front": (1, 0),
    "back": (1, 1),
    "left": (0, 0),
    "right": (0, 1),
}  # the axis that it stands out along, and at which end


def tray(d: Design, opens: str, tab_mm: float) -> Analysis:
    kind = TrayInASleeve(opens=opens, tab_mm=tab_mm)  # type: ignore[arg-type]
    return analyse(apply(d, Construct(construction=kind)), ARCHIVE_WORKSHOP, "preview")


@pytest.mark.parametrize("opens", SIDES)
@pytest.mark.parametrize("tab_mm", [10.0, 16.0])
def test_it_stands_out_level_with_the_floor(good_wren: Design, opens: str, tab_mm: float) -> None:
    """44 x tab x 3, its two outer corners rounded by 6 (or half the tab), less a slot of (44 - 16) x (tab - 8) with round ends where that is 6 or more."""
    a, plain = tray(good_wren, opens, tab_mm), tray(good_wren, opens, 0.0)
    m, without = (mk.evaluate(x.recipes["tray"], mk.FILE_TOL) for x in (a, plain))
    k, end = ALONG[opens]
    before, after = without.bounding_box(), m.bounding_box()
    grown = [round(abs(p - q), 4) for p, q in zip(before, after, strict=True)]
    assert grown == [tab_mm if i == k + 3 * end else 0.0 for i in range(6)]
    assert a.case.tab is not None and not a.faults and mk.bodies(m) == 1 and mk.watertight(m)
    box, floor = a.case.tab.box, good_wren.shell.floor_mm
    assert (box.size[1 - k], box.size[k], box.size[2]) == (
        pytest.approx(44),
        pytest.approx(tab_mm),
        pytest.approx(floor),
    )
    assert box.lo[2] == 0 and box.centre[1 - k] == pytest.approx(a.case.box_mm[1 - k] / 2)
    r = min(6.0, tab_mm / 2)
    slot = tab_mm - 8 if tab_mm >= 14 else 0.0
    area = 44 * tab_mm - 2 * r**2 * (1 - pi / 4) - ((28 - slot) * slot + pi / 4 * slot**2 if slot else 0.0)
    assert a.case.tab.slot_mm == slot
    assert m.volume() - without.volume() == pytest.approx(area * floor, rel=2e-3)
    assert a.case.over_all_mm[k] == pytest.approx(plain.case.over_all_mm[k] + tab_mm)
    assert a.case.over_all_mm[1 - k] == pytest.approx(plain.case.over_all_mm[1 - k])
    sleeve = mk.evaluate(a.recipes["sleeve"], mk.FILE_TOL)
    assert (m ^ sleeve).volume() < 1e-3
    # printed as it lies it hangs nowhere
    lies = next(p for p in a.pieces if p.part == "tray")
    same = next(p for p in plain.pieces if p.part == "tray")
    assert lies.overhang is None or same.overhang is None or lies.overhang.area_cm2 <= same.overhang.area_cm2 + 0.01


def test_it_stands_beside_the_plugs_before_the_plate(good_wren: Design) -> None:
    """The board lowered until its plugs reach down to a millimetre over the floor's height: the tab is as far from the middle as they ask, and a millimetre
    more."""
    low = apply(good_wren, Move(id="board", to_mm=(None, None, 1.0)))
    a = tray(low, "front", 16.0)
    ports = [p for t in a.things if t.id == "board" for p in t.ports if p.face == "front"]
    assert a.case.tab is not None
    x0, x1 = a.case.tab.box.lo[0], a.case.tab.box.hi[0]
    beside = 0
    for p in ports:
        kind = port_kinds()[p.port.kind]
        if p.centre[2] - kind.plug_height_mm / 2 < 3.0 + 1.0:
            beside += 1
            wide = kind.plug_width_mm / 2
            assert x1 <= p.centre[0] - wide - 1.0 + 1e-6 or x0 >= p.centre[0] + wide + 1.0 - 1e-6
    assert beside and abs((x0 + x1) / 2 - a.case.box_mm[0] / 2) > 1


def test_a_flush_tray_is_told_and_an_offered_one_has_a_tab(good_wren: Design) -> None:
    (f,) = alone(apply(good_wren, Construct(construction=TrayInASleeve(opens="left"))), "tray-has-no-grip")
    assert (f.severity, f.measured, f.limit) == ("weigh", 0, 1)
    offered = usual(good_wren, "tray in a sleeve")
    assert isinstance(offered, TrayInASleeve) and offered.tab_mm == 16.0
    assert not alone(apply(good_wren, Construct(construction=offered)), "tray-has-no-grip")
    assert not alone(good_wren, "tray-has-no-grip")  # it has no tray


def test_no_cut_runs_through_it(good_wren: Design) -> None:
    a = tray(good_wren, "front", 16.0)
    (s,) = (s for s in strips(a.case, a.openings, "tray", "x") if s.why == "tab to pull it by")
    assert a.case.tab is not None
    assert (s.lo, s.hi) == (pytest.approx(a.case.tab.box.lo[0] - 3), pytest.approx(a.case.tab.box.hi[0] + 3))
    assert not [s for s in strips(a.case, a.openings, "tray", "y") if s.why == "tab to pull it by"]
    air = Box((s.lo, -16.0, 3.1), (s.hi, -0.1, 20.0))
    assert (mk.evaluate(a.recipes["tray"], mk.FILE_TOL) ^ mk.evaluate(block(air), mk.FILE_TOL)).volume() == 0
