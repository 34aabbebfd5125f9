"""A lid on hinges: knuckles as they are made, the lid as it turns, what is told and bought."""

from __future__ import annotations

import io
from functools import cache
from itertools import pairwise
from math import pi, sqrt
from typing import get_args

import numpy as np
import pytest
import trimesh

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.case.fittings import Hinges
from rhombex.core.choices import opened
from rhombex.core.concerns import judge_bare
from rhombex.core.concerns.hinge import STEPS_DEG
from rhombex.core.constructions import Hinge, Magnets, Snaps
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Edit, HingeLid, HoldByMagnets, HoldBySnaps, Set, Together
from rhombex.core.exchange.package import package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.plain import DesignError
from rhombex.core.shell.hinge import turned_deg
from rhombex.core.shell.offers import usual
from rhombex.core.shell.solids import bore
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import read_good_wren

SIDES = get_args(Hinge.model_fields["side"].annotation)


@cache
def hung(side: str = "back", *more: Edit, along: str = "two hinges", knuckle_mm: float = 8.0) -> Analysis:
    edits = (HingeLid(hinge=Hinge(side=side, along=along, knuckle_mm=knuckle_mm)), *more)  # type: ignore[arg-type]
    return analyse(apply(read_good_wren(), Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")


def of(a: Analysis) -> Hinges:
    assert a.case.hinge is not None
    return a.case.hinge


def meshes(a: Analysis) -> tuple:  # type: ignore[type-arg]
    return tuple(mk.evaluate(a.recipes[p], mk.FILE_TOL) for p in ("base", "lid"))


@pytest.mark.parametrize(
    ("side", "along"), [*((s, "two hinges") for s in SIDES), ("left", "whole side"), ("back", "whole side")]
)
def test_the_lid_turns_about_its_pins_and_meets_nothing(side: str, along: str) -> None:
    """Half round, on every side, as it is exported; closed it lies in the base as before, and each is one body."""
    a = hung(side, along=along)
    base, lid = meshes(a)
    h = of(a)
    pivot = h.at(0.0)
    assert not a.faults and (base ^ lid).volume() < 1e-3 and len(base.decompose()) == len(lid.decompose()) == 1
    for deg in (0.5, *STEPS_DEG, 110.0, 140.0, 180.0):
        turned = lid.translate([-x for x in pivot]).rotate(turned_deg(h, deg)).translate(pivot)
        assert (turned ^ base).volume() < 1e-3, deg
    # it opens outwards: the far edge rises
    w, d, _ = a.case.box_mm
    up = lid.translate([-x for x in pivot]).rotate(turned_deg(h, 90.0)).translate(pivot).bounding_box()
    assert up[5] > pivot[2] + (d if side in ("front", "back") else w) - 1


@pytest.mark.parametrize("side", SIDES)
def test_knuckles_are_as_told(side: str) -> None:
    """Pins of 2: 0.3 more in the lid, where they turn (a lying hole), 0.2 in the base (common practice), and what 2 mm shrink by 0.3 %; 1.8 of plastic round
    a pin of 2, so 2.8 from its middle to the outside; 0.4 between knuckles, and 0.4 before the wall."""
    a = hung(side)
    base, lid = meshes(a)
    h = of(a)
    assert (h.r_mm, h.out_mm) == (pytest.approx(2.8), pytest.approx(3.2)) and len(h.pins) == h.wanted == 2
    along = (1.0, 0.0, 0.0) if h.axis == 0 else (0.0, 1.0, 0.0)

    def ring(lo: float, hi: float, inner: float, outer: float):  # type: ignore[no-untyped-def]
        whole = mk.evaluate(bore(h.at(0.0), along, outer, lo, hi), mk.FILE_TOL)
        return whole - mk.evaluate(bore(h.at(0.0), along, inner, lo - 1, hi + 1), mk.FILE_TOL) if inner else whole

    for k in h.knuckles:
        m, other = (base, lid) if k.part == "base" else (lid, base)
        d = 2.0 + (0.2 if k.part == "base" else 0.3) + 0.006
        assert k.hole_mm == pytest.approx(d) and k.hi_mm - k.lo_mm == pytest.approx(8.0)
        start = k.lo_mm + (1.0 if k.closed else -0.3)
        assert (m ^ ring(start + 0.05, k.hi_mm + 0.3, 0, d - 0.03)).volume() < 1e-3
        full = ring(k.lo_mm + 0.05, k.hi_mm - 0.05, d + 0.04, 5.55)
        assert (m ^ full).volume() > 0.995 * full.volume()
        assert (other ^ ring(k.lo_mm - 0.35, k.hi_mm + 0.35, 0, 5.6)).volume() < 1e-3
        if k.closed:
            end = ring(k.lo_mm + 0.05, k.lo_mm + 0.95, 0, 2.0)
            assert (m ^ end).volume() > 0.99 * end.volume(), "it ends the hole"
    # each pin lies in three knuckles, from the closed end to half a millimetre before the open one
    for (lo, hi), k in zip(h.pins, range(0, 6, 3), strict=True):
        three = h.knuckles[k : k + 3]
        assert [x.part for x in three] == ["base", "lid", "base"]
        assert lo == pytest.approx(three[0].lo_mm + 1.0) and hi == pytest.approx(three[2].hi_mm - 0.5)
    assert [(x.item, x.size, x.count) for x in a.bill if x.use == "hinges of the lid"] == [("steel rod", "2 x 23.3", 2)]


@pytest.mark.parametrize("long_mm", [8.0, 9.0, 10.0])
def test_knuckles_all_along_a_side_take_turns_on_one_wire(long_mm: float) -> None:
    """The left of Wren is free from corner to corner: d - 2 x (6 + 0.4); as many knuckles of 8 and 0.4 of air as go in, an odd number, a little longer."""
    a = hung("left", along="whole side", knuckle_mm=long_mm)
    base, lid = meshes(a)
    h, d = of(a), a.case.box_mm[1]
    room = d - 2 * 6.4
    many = int((room + 0.4) / (long_mm + 0.4))
    many -= 1 - many % 2
    long = (room + 0.4) / many - 0.4
    assert (len(h.pins), h.wanted) == (1, 1) and len(h.knuckles) == many and long_mm <= long < 1.25 * long_mm
    assert h.knuckles[0].lo_mm == pytest.approx(6.4) and h.knuckles[-1].hi_mm == pytest.approx(d - 6.4)
    assert [k.part for k in h.knuckles] == ["base", "lid"] * (many // 2) + ["base"]
    assert [k.closed for k in h.knuckles] == [True] + [False] * (many - 1)
    for k, after in pairwise(h.knuckles):
        assert k.hi_mm - k.lo_mm == pytest.approx(long) and after.lo_mm - k.hi_mm == pytest.approx(0.4)
    wire = mk.evaluate(bore(h.at(0.0), (0.0, 1.0, 0.0), 1.99, h.pins[0][0], h.pins[0][1]), mk.FILE_TOL)
    assert (wire ^ base).volume() < 1e-3 and (wire ^ lid).volume() < 1e-3
    assert [(x.item, x.size, x.count) for x in a.bill if x.use == "hinges of the lid"] == [
        ("steel rod", f"2 x {room - 1.5:g}", 1)
    ]


def test_knuckles_make_way_for_plugs() -> None:
    """The board's plugs stand before the right at the joint's height: a wire on either side of them where three knuckles go in, none before them."""
    a = hung("right", Set(path="shell.construction.joint_mm", value=12.0), along="whole side")
    h = of(a)
    for t in a.things:
        for p in (p for p in t.ports if p.face == "right" and abs(p.centre[2] - h.high_mm) < 3):
            assert all(k.hi_mm < p.centre[1] or k.lo_mm > p.centre[1] for k in h.knuckles)
            assert all(hi < p.centre[1] or lo > p.centre[1] for lo, hi in h.pins)
    assert all(k.hi_mm - k.lo_mm >= 8.0 - 1e-9 for k in h.knuckles)


def test_brackets_lean_45_degrees_so_that_nothing_hangs_free() -> None:
    """The underside of a bracket goes from the knuckle's round to the wall: as far below the joint as 3.2 + 2.8 sqrt 2. Base and lid as they lie hang
    free nowhere else than without hinges, but for the ceilings of the pins' holes: 2.3 x 8 of each at most."""
    a = hung("back")
    base, _ = meshes(a)
    h = of(a)
    wall = h.across_mm - h.out_mm
    k = next(x for x in h.knuckles if x.part == "base")
    for out in (0.5, 1.5, 2.0):
        x0, x1 = k.lo_mm + 2, k.lo_mm + 3
        strip = Box((x0, wall + out - 0.01, 0), (x1, wall + out + 0.01, h.high_mm))
        high = (base ^ mk.evaluate(block(strip), mk.FILE_TOL)).volume() / 0.02
        assert high == pytest.approx(3.2 + 2.8 * sqrt(2) - out, abs=0.03)
    settled = analyse(a.design, ARCHIVE_WORKSHOP)
    without = analyse(read_good_wren(), ARCHIVE_WORKSHOP)
    for p, q in zip(settled.pieces, without.pieces, strict=True):
        assert p.overhang is not None and q.overhang is not None
        holes = sum(k.part == p.part for k in h.knuckles) * 2.3 * 8 / 100
        assert q.overhang.area_cm2 - 0.01 <= p.overhang.area_cm2 <= q.overhang.area_cm2 + holes, p.name


def test_the_tongue_is_left_out_beside_the_pins() -> None:
    a = hung("back")
    _, lid = meshes(a)
    d = a.case.box_mm[1]
    joint = of(a).high_mm

    def tongue(y0: float, y1: float) -> float:
        return float(
            (lid ^ mk.evaluate(block(Box((40, y0, joint - 5), (130, y1, joint - 0.05))), mk.FILE_TOL)).volume()
        )

    assert tongue(d - 7.0, d) == 0 and tongue(0, 7.0) > 90 * 1.0 * 1.0


def test_what_holds_the_lid_is_on_its_other_side() -> None:
    """Two screws of four, magnets there too, hooks on three sides; a lid on hinges stays on: no part is taken off to get in."""
    d = read_good_wren()
    plain = analyse(d, ARCHIVE_WORKSHOP, "none")
    assert len(plain.case.joints) == 4 and opened(plain) == (1, 4)
    for side, n, low in (("back", 1, False), ("left", 0, True)):
        a = hung(side)
        half = a.case.box_mm[n] / 2
        assert len(a.case.joints) == a.case.wanted_joints == 2 and opened(a) == (0, 2)
        assert all((j.at[n] > half) is low for j in a.case.joints)
    pulled = hung("back", HoldByMagnets(magnets=Magnets()))
    assert 0 < len(pulled.case.magnets) <= pulled.case.wanted_joints == 2 and all(
        m.at[1] < pulled.case.box_mm[1] / 2 for m in pulled.case.magnets
    )
    hooked = hung("back", HoldBySnaps(snaps=Snaps()))
    assert hooked.case.snaps and not [s for s in hooked.case.snaps if s.inward[1] < 0]
    assert not [f for f in judge_bare(hooked) if f.code == "hinge-binds"]


def test_hinges_keep_off_plugs_and_cuts_keep_off_them() -> None:
    """The ports of Wren's right side take its front half up to 60; both hinges are behind them. A cut of the base runs beside a knuckle, not through it."""
    a = hung("right")
    assert min(k.lo_mm for k in of(a).knuckles) > 60 and len(of(a).pins) == 2
    back = hung("back")
    k = next(x for x in of(back).knuckles if x.part == "base")
    found = [s for s in strips(back.case, back.openings, "base", "x") if s.why == "knuckle of a hinge"]
    assert any(s.lo < k.lo_mm and k.hi_mm < s.hi for s in found) and len(found) == 4
    assert not [s for s in strips(back.case, back.openings, "base", "y") if s.why == "knuckle of a hinge"]


def test_it_is_as_deep_as_its_hinges_are_and_goes_out() -> None:
    a = hung("back")
    w, d, h = a.case.over_all_mm
    assert (w, d) == (pytest.approx(a.case.box_mm[0]), pytest.approx(a.case.box_mm[1] + 3.2 + 2.8))
    limit = tuple(round(x, 2) for x in (w, a.case.box_mm[1], h))
    small = apply(a.design, Set(path="brief.size_limit_mm", value=limit))
    (found,) = [f for f in judge_bare(analyse(small, ARCHIVE_WORKSHOP, "preview")) if f.code == "case-over-limit"]
    assert found.measured == pytest.approx(d)
    files = package(a, ("3mf", "step"), only=("lid",))  # its gate holds mesh and B-rep within 0.1 % of one another
    assert any(f.endswith("lid.step") for f in files) and any(f.endswith("lid.3mf") for f in files)


@pytest.mark.parametrize("side", ["back", "left"])
def test_the_opened_case_has_its_lid_leant_back(side: str) -> None:
    """glTF of the opened case, read by another library: the lid turned by 110 degrees about its pins, which leave the case's own side."""
    a = hung(side)
    scene = trimesh.load(io.BytesIO(package(a, ("glb",))["opened-case.glb"]), file_type="glb")
    to, geometry = scene.graph["Wren lid"]
    corners = trimesh.transform_points(scene.geometry[geometry].vertices, to) * 1000
    there = np.stack([corners[:, 0], -corners[:, 2], corners[:, 1]], axis=1)  # y up, back to the case's frame
    h = of(a)
    _, lid = meshes(a)
    pivot = h.at(0.0)
    turned = lid.translate([-x for x in pivot]).rotate(turned_deg(h, 110.0)).translate(pivot).bounding_box()
    assert [*there.min(axis=0), *there.max(axis=0)] == pytest.approx(turned, abs=0.05)
    far = there[:, 1].max() > a.case.box_mm[1] + 40 if side == "back" else there[:, 0].min() < -40
    assert far and there[:, 2].max() > a.case.box_mm[2] + 60


def test_pins_of_filament_are_cut_from_the_spool() -> None:
    d = apply(read_good_wren(), HingeLid(hinge=Hinge(pin_mm=1.75)))
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    assert [(x.item, x.size, x.count) for x in a.bill if x.use == "hinges of the lid"] == [
        ("pin of filament", "1.75 x 23.3", 2)
    ]
    (k, *_) = of(a).knuckles
    assert pi * k.hole_mm > pi * 1.75


def test_other_constructions_have_no_lid_that_turns(good_wren: Design) -> None:
    d = apply(good_wren, Construct(construction=usual(good_wren, "sliding panels")))
    with pytest.raises(DesignError, match="no lid that turns"):
        apply(d, HingeLid(hinge=Hinge()))
    assert apply(apply(good_wren, HingeLid(hinge=Hinge())), HingeLid(hinge=None)) == good_wren
