"""Bolts and rods right through lid and base to nuts under the floor: pockets measured on the mesh, lengths that serve, what is told."""

from __future__ import annotations

from math import cos, pi, radians

import pytest
from manifold3d import CrossSection, OpType

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.brief.asks import asks
from rhombex.core.case.joints import Joint
from rhombex.core.constructions import CASE_HOLDINGS, CaseHolding, Magnets, SlidingPanels, TrayInASleeve
from rhombex.core.design import Design
from rhombex.core.edits import Construct, HoldByMagnets, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stock import StockItem, example, pack_of
from rhombex.demo.scenario import heron_sliding
from tests.conftest import findings

NUT_S, NUT_M, PITCH, HEAD_D, HEAD_K, CLEAR = 5.5, 2.4, 0.5, 5.5, 3.0, 3.4  # M3: ISO 4032, 261, 4762, 273 medium
THREAD, LENGTH = "shell.construction.joint_thread", "shell.construction.lid_screw_mm"


def held(d: Design, how: CaseHolding, *more: Set) -> Design:
    return apply(d, Together(edits=(Set(path=THREAD, value=how), *more)))


def look(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "none")


def opened(a: Analysis, part: str, z: float, j: Joint, half: float = 3.4) -> CrossSection:
    """What is open of a square round a joint at a height."""
    here = mk.evaluate(a.recipes[part], mk.FILE_TOL).slice(z)
    square = CrossSection.square((2 * half, 2 * half), True).translate((j.at[0], j.at[1]))
    return CrossSection.batch_boolean([square, here], OpType.Subtract)


@pytest.fixture(scope="module")
def slid(good_wren: Design) -> Design:
    return apply(good_wren, Construct(construction=SlidingPanels(post_mm=12)))


@pytest.mark.parametrize("how", ["through bolt", "threaded rod"])
@pytest.mark.parametrize("case", ["two halves", "sliding panels"])
def test_hole_steps_and_pocket_are_as_large_as_they_are_told(
    good_wren: Design, slid: Design, case: str, how: CaseHolding
) -> None:
    """From the joint at 29.8 (or the top's underside at 34) to the underside; the head is sunk by 3 + 0.3, in a plate of 3 by 1.8, that of a rod not at all.
    The longest stock screw that ends 0.5 in the pocket: 30 of 33.7, or of 35.2."""
    a = look(held(good_wren if case == "two halves" else slid, how))
    into, holds = ("base", "lid") if case == "two halves" else ("base", "top")
    through, deep = (7.2, 29.8) if case == "two halves" else (3.0, 34.0)
    sunk = 0.0 if how == "threaded rod" else HEAD_K + 0.3 if case == "two halves" else 1.8
    passed = through - sunk
    assert len(a.case.joints) >= 3 and not a.faults
    for j in a.case.joints:
        assert (j.passed_mm, j.hole_depth_mm) == (pytest.approx(passed), pytest.approx(deep))
        pocket = passed + deep - 30 + NUT_M + PITCH if how == "through bolt" else NUT_M + PITCH + 0.5
        assert j.pocket_mm == pytest.approx(pocket)
        across, hole = NUT_S + 0.3, CLEAR + 0.15 + CLEAR * 0.003  # PLA upright
        assert j.hole_mm == pytest.approx(hole)
        six = opened(a, into, pocket - 0.05, j)
        assert six.area() == pytest.approx(across**2 * 3**0.5 / 2, rel=1e-3)
        x0, y0, x1, y1 = six.bounds()
        assert (x1 - x0, y1 - y0) == (
            pytest.approx(across / cos(radians(30)), abs=2e-3),
            pytest.approx(across, abs=2e-3),
        )
        assert opened(a, into, pocket + 0.3, j).area() == pytest.approx(
            hole**2, rel=2e-3
        )  # the second layer of 0.2 over it
        for z in (pocket + 0.5, deep - 3.0):
            assert opened(a, into, z, j).area() == pytest.approx(pi / 4 * hole**2, rel=5e-3)
        top = deep + through
        wide = j.head_d_mm if sunk else j.clearance_mm
        assert opened(a, holds, top - 0.1, j).area() == pytest.approx(pi / 4 * wide**2, rel=5e-3)
        assert opened(a, holds, top - sunk - 0.2, j).area() == pytest.approx(pi / 4 * j.clearance_mm**2, rel=5e-3)
    for r in a.recipes.values():
        m = mk.evaluate(r, mk.FILE_TOL)
        assert len(m.decompose()) == 1 and mk.watertight(m)


def test_a_bolt_is_in_the_table_the_bill_and_what_it_bears(good_wren: Design) -> None:
    a = look(held(good_wren, "through bolt"))
    n = len(a.case.joints)
    row = next(r for r in hardware_table(a).rows if r.joint.key.startswith("case/"))
    g = row.joint
    # 3.9 of lid, 23.2 of base over the nut; the pocket may be 25 deep: 3.9 + 29.8 - 25 + 2.9
    assert (g.least_mm, g.most_mm) == (pytest.approx(11.6), pytest.approx(33.2))
    assert g.serves == (12.0, 14.0, 16.0, 20.0, 25.0, 30.0)
    assert [(x.what, round(x.from_mm, 2), round(x.to_mm, 2)) for x in g.layers] == [
        ("lid", -3.3, 3.9),
        ("base", 3.9, 27.1),
        ("nut", 27.1, 29.5),
    ]
    assert (row.tip_mm, row.engaged_mm) == (pytest.approx(3.7), pytest.approx(NUT_M + PITCH))
    assert [h.holding for h in row.holdings] == list(CASE_HOLDINGS)
    for h in row.holdings:
        assert {x.holding for x in look(apply(a.design, h.edit)).joints if x.key == g.key} == {h.holding}
    # what lies between head and nut is thick: they sink in first; PLA bears 52 MPa, under a head of 5.5 round a hole of 3.4
    assert row.bears.low_n == pytest.approx(pi / 4 * (HEAD_D**2 - CLEAR**2) * 52)
    assert [(x.size, x.count) for x in a.bill if x.use == "lid"] == [("M3", n), ("M3 x 30", n)]
    sleeve = look(apply(good_wren, Construct(construction=TrayInASleeve())))
    there = {h.holding for r in hardware_table(sleeve).rows for h in r.holdings}
    assert not there & {"through bolt", "threaded rod"}


def test_a_rod_is_cut_to_length_and_has_two_nuts(good_wren: Design) -> None:
    """7.2 of lid, 29.8 - 3.4 of base, nut and a turn at either end: 33.6 + 5.8 = 39.4, cut to 39.5. A hand's length for screws is forgotten by the press."""
    pinned = held(good_wren, "through bolt", Set(path=LENGTH, value=25.0))
    row = next(r for r in hardware_table(look(pinned)).rows if r.joint.key.startswith("case/"))
    d = apply(pinned, next(h.edit for h in row.holdings if h.holding == "threaded rod"))
    a = look(d)
    n = len(a.case.joints)
    assert getattr(d.shell.construction, "lid_screw_mm", 1) is None
    rod = next(r for r in hardware_table(a).rows if r.joint.key.startswith("case/"))
    assert (rod.screw, rod.joint.head, rod.lengths, rod.joint.sunk_mm) == ("M3 x 39.5", "nut", (), 0.0)
    assert rod.reach.tool == "nut driver 5.5" and (rod.head_d_mm, rod.head_k_mm) == (NUT_S, NUT_M)
    lines = [(x.item, x.size, x.count) for x in a.bill if x.use == "lid"]
    assert lines == [("nut", "M3", 2 * n), ("threaded rod", "M3 x 39.5", n)]
    assert all(k.length_mm != rod.joint.screw_mm for k in hardware_table(a).fewest.now)
    bought = next(x for x in hardware_table(a).shopping.lines if x.item == "threaded rod")
    assert (bought.need, bought.pack, bought.packs) == (n, 24, 1)  # 1000 / (39.5 + 1.5 for the saw)
    own = (StockItem(item="threaded rod", size="M3 x 39.5", count=0, pack=5, pack_money=3),)
    assert pack_of(own, "threaded rod", "M3 x 39.5")[0] == 5
    # what a hand wrote into the document does not make a rod longer
    assert look(held(good_wren, "threaded rod", Set(path=LENGTH, value=12.0))).case.joints[0].screw_mm == pytest.approx(
        36.6
    )


@pytest.mark.parametrize(
    ("length", "severity", "title", "measured", "limit"),
    [
        (35.0, "stop", "Lid screws M3 x 35 are too long by 1.8 mm", 35.0, 3.9 + 29.8 - 0.5),
        (8.0, "stop", "Lid screws M3 x 8 do not reach their nuts", 8.0, 3.9 + 2.0 + NUT_M + PITCH),
        (10.0, "weigh", "The nuts of the lid lie 27 mm deep in their pockets", 3.9 + 29.8 - 10 + NUT_M + PITCH, 25.0),
    ],
)
def test_a_screw_that_a_hand_chose_is_told_where_it_does_not_serve(
    good_wren: Design, length: float, severity: str, title: str, measured: float, limit: float
) -> None:
    d = held(good_wren, "through bolt", Set(path=LENGTH, value=length))
    (f,) = findings(d, "bolt-to-its-nut")
    assert (f.severity, f.title, f.measured, f.limit) == (
        severity,
        title,
        pytest.approx(measured),
        pytest.approx(limit),
    )
    for r in f.remedies:
        effect = effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits)
        assert effect.clears and not effect.new, r.label


def test_lengths_are_right_from_limit_to_limit(good_wren: Design) -> None:
    for length in (12.0, 33.0):
        assert not findings(held(good_wren, "through bolt", Set(path=LENGTH, value=length)), "bolt-to-its-nut")


def test_no_stock_screw_is_so_long_as_heron_is_high_and_rods_are(good_wren: Design) -> None:
    """143.5 from the top's underside to the table and 2.2 of top: with a pocket of 25 a screw would be at least 123.6 long; stock ends at 50."""
    d = held(heron_sliding(), "through bolt")
    (f,) = findings(d, "bolt-to-its-nut")
    assert (f.severity, f.measured, f.limit) == ("stop", 50, pytest.approx(2.2 + 143.5 - 25 + NUT_M + PITCH))
    assert [r.label for r in f.remedies] == ["Threaded rods instead", "Heat-set inserts instead"]
    for r in f.remedies:
        assert effect_of(d, ARCHIVE_WORKSHOP, f.key, r.edits).clears
    assert not findings(held(heron_sliding(), "threaded rod"), "bolt-to-its-nut")


@pytest.mark.parametrize("how", ["through bolt", "threaded rod"])
def test_a_base_too_low_for_its_nuts_is_told(good_wren: Design, how: CaseHolding) -> None:
    """2 of plastic over it, the nut and a turn, 0.5 for the tip: 5.4 from the joint to the underside; floor 3. A rod is cut to length; of stock screws 30 is
    the longest in the 33.7 that both parts are thick: its nut ends at 30 from the head, so the joint must be 33.7 - 30 + 4.9 over the underside."""
    low = held(good_wren, how, Set(path="shell.construction.joint_mm", value=2.3))
    (f,) = findings(low, "bolt-to-its-nut")
    assert (f.severity, f.measured, f.limit) == ("stop", pytest.approx(5.3), pytest.approx(5.4))
    assert f.remedies[0].label == f"Raise the joint by {0.1 if how == 'threaded rod' else 3.3:g} mm"
    assert effect_of(low, ARCHIVE_WORKSHOP, f.key, f.remedies[0].edits).clears
    enough = 2.4 if how == "threaded rod" else 5.6
    assert not findings(held(good_wren, how, Set(path="shell.construction.joint_mm", value=enough)), "bolt-to-its-nut")


def test_feet_keep_off_the_pockets_and_magnets_stand_in_their_place(good_wren: Design) -> None:
    a = look(held(good_wren, "through bolt"))
    wide = (NUT_S + 0.3) / cos(radians(30)) / 2
    for j in a.case.joints:
        assert all(((x - j.at[0]) ** 2 + (y - j.at[1]) ** 2) ** 0.5 > 4 + wide for x, y in a.case.feet)
    assert len(a.case.feet) == 4
    both = look(apply(held(good_wren, "through bolt"), HoldByMagnets(magnets=Magnets(d_mm=6))))
    plain = look(apply(held(good_wren, "insert"), HoldByMagnets(magnets=Magnets(d_mm=6))))
    assert not both.case.joints and both.case.magnets == plain.case.magnets


def test_the_brief_is_told_what_holds_the_lid_and_files_are_made(good_wren: Design) -> None:
    a = analyse(held(good_wren, "through bolt"), ARCHIVE_WORKSHOP, "preview")
    (told,) = [x for x in asks(a) if x.key == "opened"]
    assert told.state == "met" and told.finding == "the lid is held by through bolts"
    files = package(a, ("step", "3mf"), only=("base",))  # refuses what differs by 0.1 % between mesh and solid
    assert any(n.endswith(".step") for n in files)


def test_a_drawer_without_a_size_shows_what_is_usual() -> None:
    """Of rods of 60, the size in its example, a metre gives sixteen."""
    assert pack_of((), "threaded rod", "")[0] == 16 and example("threaded rod") == "M3 x 60"
