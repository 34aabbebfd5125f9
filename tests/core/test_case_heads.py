"""Heads of the screws that hold a case: socket caps, button heads and countersunk ones, by their standards and in the mesh of *Wren*'s lid, whose screws pass 7.2."""

from __future__ import annotations

from math import pi

import pytest
from manifold3d import Manifold

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import (
    CASE_HEADS,
    CaseHead,
    Construction,
    CoreAndWrap,
    FrameAndCovers,
    SlidingPanels,
    TrayInASleeve,
)
from rhombex.core.design import Design
from rhombex.core.edits import CarryBy, Construct, MoveWall, Set, Together
from rhombex.core.fit.heads import cone_mm, head_size, out_mm
from rhombex.core.geometry import brep_kernel as bk
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.hardware.kinds import kinds_now
from rhombex.core.hardware.reach import tool_of
from rhombex.core.hardware.shopping import shopping
from rhombex.core.reference import val
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stock import StockItem

from .test_handle import HERE


def headed(d: Design, head: CaseHead) -> Analysis:
    return analyse(apply(d, Set(path="shell.heads", value=head)), ARCHIVE_WORKSHOP, "none")


@pytest.mark.parametrize(
    ("head", "d_mm", "k_mm", "key_mm"),
    [
        ("socket cap", 5.5, 3.0, 2.5),  # ISO 4762, M3
        ("button head", 5.7, 1.65, 2.0),  # ISO 7380-1, M3
        ("countersunk", 6.72, 1.86, 2.0),  # ISO 10642, M3
    ],
)
def test_heads_are_those_of_their_standards(head: str, d_mm: float, k_mm: float, key_mm: float) -> None:
    """From memory of the tables."""
    h = head_size("M3", head)
    assert (h.d_mm, h.k_mm, h.key_mm) == (d_mm, k_mm, key_mm)
    # a cone of 90 degrees from the sharp edge down to the thread is as deep as the head is high
    if head == "countersunk":
        assert (h.d_mm - 3.0) / 2 == pytest.approx(h.k_mm, abs=0.01)


@pytest.mark.parametrize(
    ("thread", "pitch_d", "least_6g", "most_6h"),
    # ISO 965-2, least pitch diameter of a bolt 6g and greatest of a nut 6H (memory)
    [
        ("M2", 1.740, 1.654, 1.830),
        ("M2_5", 2.208, 2.117, 2.303),
        ("M3", 2.675, 2.580, 2.775),
        ("M4", 3.545, 3.433, 3.663),
    ],
)
def test_threads_lie_within_their_tolerances(thread: str, pitch_d: float, least_6g: float, most_6h: float) -> None:
    d, p = val(f"fasteners.{thread}.d"), val(f"fasteners.{thread}.pitch")
    basic = d - 0.6495 * p  # ISO 724
    assert basic == pytest.approx(pitch_d, abs=0.001)
    assert least_6g < basic < most_6h


@pytest.mark.parametrize("head", CASE_HEADS)
def test_a_lid_takes_its_heads_in(good_wren: Design, head: CaseHead) -> None:
    """Of 7.2 that they pass a socket cap is sunk by 3 + 0.3 and leaves 3.9; a button head by 1.65 + 0.3; a countersunk one lies flush and is measured from its top. Its
    cone is 6.72 + 0.2 wide at the mouth and goes down at 45 degrees to the hole."""
    a = headed(good_wren, head)
    sunk, length = {"socket cap": (3.3, 8.0), "button head": (1.95, 10.0), "countersunk": (0.0, 12.0)}[head]
    lid = mk.evaluate(a.recipes["lid"], mk.FILE_TOL)
    top = a.case.box_mm[2]
    for j in a.case.joints:
        assert (j.head, j.head_depth_mm, j.screw_mm) == (head, pytest.approx(sunk), length)
        assert j.passed_mm == pytest.approx(7.2 - sunk)

        def open_mm2(z: float, j=j) -> float:  # type: ignore[no-untyped-def]
            disc = Manifold.cylinder(0.02, 3.6, 3.6, 96).translate((*j.at[:2], z - 0.01))
            return float((disc - lid).volume() / 0.02)

        free = pi / 4 * j.clearance_mm**2
        # below the head, over the joint: the hole alone
        assert open_mm2(top - sunk - 2.5) == pytest.approx(free, rel=0.01)
        if head == "countersunk":
            for down in (0.1, 0.8, 1.5):
                assert open_mm2(top - down) == pytest.approx(pi / 4 * (6.92 - 2 * down) ** 2, rel=0.01)
            assert j.cone_mm == pytest.approx((6.92 - j.clearance_mm) / 2)
        else:
            assert open_mm2(top - 0.1) == pytest.approx(pi / 4 * (head_size("M3", head).d_mm + 0.6) ** 2, rel=0.01)
            assert open_mm2(top - sunk + 0.1) == pytest.approx(open_mm2(top - 0.1), rel=0.01)
            assert open_mm2(top - sunk - 0.1) == pytest.approx(free, rel=0.01)
    assert len(lid.decompose()) == 1 and mk.watertight(lid)


KINDS: dict[str, tuple[Construction, str]] = {
    "panels": (SlidingPanels(), "top"),
    "tray": (TrayInASleeve(), "tray"),
    "tray of sheet": (TrayInASleeve(floor="sheet"), "end-plate"),
    "frame": (FrameAndCovers(), "cover-front"),
    "floor of a frame": (FrameAndCovers(), "floor"),
    "wrap": (CoreAndWrap(), "wrap"),
}


@pytest.mark.parametrize("kind", KINDS)
def test_a_countersink_is_cut_into_every_wall(good_wren: Design, kind: str) -> None:
    """What it takes more than a hole alone: a cone less the cylinder in it, measured in the part, and in its STEP."""
    made, part = KINDS[kind]
    d = apply(
        good_wren,
        Together(
            edits=(
                Construct(construction=made),
                *(MoveWall(face=f, by_mm=14) for f in ("left", "right", "front", "back")),
            )
        ),
    )
    plain, sunk = headed(d, "socket cap"), headed(d, "countersunk")
    js = [j for j in sunk.case.joints if j.holds == part]
    flat = [j for j in plain.case.joints if j.holds == part]
    assert js and len(js) == len(flat) and {j.head for j in js} == {"countersunk"}
    r, t = 6.92 / 2, js[0].clearance_mm / 2
    cone = pi / 3 * (r - t) * (r * r + r * t + t * t) - pi * t * t * (r - t)
    recess = sum(pi / 4 * (j.head_d_mm**2 - j.clearance_mm**2) * j.head_depth_mm for j in flat)
    volumes = [mk.evaluate(a.recipes[part], mk.FILE_TOL).volume() for a in (plain, sunk)]
    assert volumes[0] - volumes[1] == pytest.approx(len(js) * cone - recess, rel=0.02)
    assert bk.volume(bk.evaluate(sunk.recipes[part])) == pytest.approx(volumes[1], rel=1e-3)
    out = [out_mm(j.thread, j.head, j.head_depth_mm) for j in js]
    assert out == [0.0] * len(js)


def test_thin_walls_and_sheet_get_button_heads(good_wren: Design) -> None:
    """A cone of 1.6 with four layers of 0.2 under it wants 2.4: a wall of 2.2 has button heads, and so has acrylic, which is only drilled."""
    d = apply(good_wren, Construct(construction=FrameAndCovers(sheet=("left",))))
    by = {j.holds: j.head for j in headed(d, "countersunk").case.joints}
    assert (by["sheet-left"], by["cover-front"]) == ("button head", "countersunk")
    thin = headed(apply(d, Set(path="shell.wall_mm", value=2.2)), "countersunk")
    assert {j.head for j in thin.case.joints if j.holds.startswith("cover-f")} == {"button head"}
    assert cone_mm("M3", 3.6) + 0.8 > 2.2
    # of what a wrap's screw passes the gap behind the wall is no wall: 2.3 with 0.4 of air has button heads too
    wrap = headed(
        apply(d, Together(edits=(Construct(construction=CoreAndWrap()), Set(path="shell.wall_mm", value=2.3)))),
        "countersunk",
    )
    (grip,) = {round(j.grip_mm, 1) for j in wrap.case.joints}
    assert grip >= 2.6 and {j.head for j in wrap.case.joints} == {"button head"}


def test_heads_of_what_is_not_seen_stay_as_they_are(good_wren: Design) -> None:
    """Screws of the handle come from inside, and a rod has nuts."""
    d = apply(good_wren, CarryBy(handle=HERE))
    assert {j.head for j in headed(d, "countersunk").case.handle.screws} == {"socket cap"}  # type: ignore[union-attr]
    rod = apply(good_wren, Set(path="shell.construction.joint_thread", value="threaded rod"))
    assert {j.head for j in headed(rod, "countersunk").case.joints} == {"socket cap"}
    rows = {r.joint.key: r.heads for r in hardware_table(headed(d, "button head")).rows}
    assert rows["case/lid"] == "button head" and rows["case/handle"] is None and rows["posts/board"] is None


def test_they_are_kinds_of_their_own_to_buy_and_to_turn(good_wren: Design) -> None:
    a = headed(good_wren, "button head")
    (g,) = (g for g in a.joints if g.key == "case/lid")
    assert (g.head, tool_of(g)) == ("button head", "hexagon key 2")
    assert {k.words for k in kinds_now(a.joints) if k.head == "button head"} == {"M3 x 10 button head"}
    stock = (
        StockItem(item="screw, button head", size="M3 x 10", count=3),
        StockItem(item="screw, socket cap", size="M3 x 10", count=50),
    )
    (line,) = (x for x in shopping(a.bill, stock, a.sheets).lines if x.item == "screw, button head")
    assert (line.size, line.need, line.have, line.missing) == ("M3 x 10", g.count, 3, g.count - 3)
    row = next(r for r in hardware_table(a).rows if r.joint.key == "case/lid")
    assert (row.head_d_mm, row.head_k_mm) == (5.7, 1.65)


@pytest.mark.parametrize(("head", "across"), [("socket cap", 5.5), ("button head", 5.7), ("countersunk", 6.72)])
def test_a_head_is_tightened_by_what_it_lies_on(good_wren: Design, head: CaseHead, across: float) -> None:
    """K d p A with K = 0.2, M3, 15 MPa, and the ring between head and hole of 3.4: 0.132, 0.148, 0.238 N m; no more than its thread bears."""
    row = next(r for r in hardware_table(headed(good_wren, head)).rows if r.joint.key == "case/lid")
    ring = pi / 4 * (across**2 - 3.4**2)
    assert row.bears.torque_nm == pytest.approx(0.2 * 0.003 * 15 * ring, abs=0.001)


@pytest.mark.parametrize("head", CASE_HEADS)
def test_no_head_brings_a_stop(good_wren: Design, head: CaseHead) -> None:
    stops = {f.key for f in judge(headed(good_wren, head)) if f.severity == "stop"}
    assert stops == {f.key for f in judge(headed(good_wren, "socket cap")) if f.severity == "stop"}
