"""Sizes are measured where they are made: needles through the meshes that are exported, held against what is told and what a hand
works out. Samples by hand, random designs against what their case tells."""

from __future__ import annotations

from math import pi, sin
from typing import Any

import manifold3d as m3
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design, Placement, Stand, VentField
from rhombex.core.edits import Add, PutVent, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.openings.opening import outline
from rhombex.core.shell.feet import footprint
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..rough import shaped
from .test_any_design import designs
from .test_parts import UNDER

THIN = 0.01  # half of a needle's side
NEAR = 0.03  # chords of circles and the needle's own width


class Probe:
    """The parts of a case as meshes at the fineness of a file, to be measured with needles."""

    def __init__(self, a: Analysis) -> None:
        self.a = a
        self.parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.recipes.items()}

    def through(
        self, part: str, at: tuple[float, float, float], axis: int, reach: float = 600.0
    ) -> list[tuple[float, float]]:
        """Where a needle along an axis through a point stands in a part: intervals, in order."""
        size = np.full(3, 2 * THIN)
        size[axis] = 2 * reach
        needle = m3.Manifold.cube(tuple(size), True).translate(at)
        boxes = [piece.bounding_box() for piece in (self.parts[part] ^ needle).decompose()]
        spans = sorted((b[axis], b[axis + 3]) for b in boxes)
        joined: list[tuple[float, float]] = []
        for lo, hi in spans:
            if joined and lo - joined[-1][1] < 1e-6:
                joined[-1] = (joined[-1][0], max(hi, joined[-1][1]))
            else:
                joined.append((lo, hi))
        return joined

    def solid(self, part: str, at: tuple[float, float, float]) -> bool:
        """Whether a point is in a part."""
        return any(lo <= at[2] <= hi for lo, hi in self.through(part, at, 2, 0.005))

    def gap(self, part: str, at: tuple[float, float, float], axis: int) -> float:
        """The free length round a point along an axis."""
        spans = self.through(part, at, axis)
        x = at[axis]
        assert not any(lo + 1e-6 < x < hi - 1e-6 for lo, hi in spans), f"{part} is solid at {at}"
        return min(lo for lo, hi in spans if lo >= x - 1e-6) - max(hi for lo, hi in spans if hi <= x + 1e-6)


def shifted(at: Any, axis: int, by: float) -> tuple[float, float, float]:
    p = list(at)
    p[axis] += by
    return (p[0], p[1], p[2])


def check_mounts(p: Probe) -> int:
    """Posts and pads: height, diameter of hole and head, depth."""
    n = 0
    for m in p.a.case.mounts:
        x, y = m.at
        ring = (m.hole_mm / 2 + m.od_mm / 2) / 2
        if m.holding == "through":
            assert p.through(m.part, (x, y, 0.0), 2, m.top_mm + 0.5) == [], f"{m.of} {m.mount}: no way through"
            assert p.gap(m.part, (x, y, m.top_mm - 0.3), 0) == pytest.approx(m.hole_mm, abs=NEAR)
            assert p.gap(m.part, (x, y, m.head_depth_mm / 2), 1) == pytest.approx(m.head_d_mm, abs=NEAR)
            under = (m.hole_mm / 2 + m.head_d_mm / 2) / 2
            lo, hi = p.through(m.part, (x + under, y, 0.0), 2)[0]
            assert (lo, hi) == (pytest.approx(m.head_depth_mm, abs=0.01), pytest.approx(m.top_mm, abs=0.01))
        else:
            lo, hi = p.through(m.part, (x, y + ring, 0.0), 2)[0]
            assert lo < 0.61 and hi == pytest.approx(m.top_mm, abs=0.01)  # a foot's recess may lie under it
            assert p.gap(m.part, (x, y, m.top_mm - 0.1), 0) == pytest.approx(m.hole_mm, abs=NEAR)
            floor_of_hole = p.through(m.part, (x, y, 0.0), 2)[0][1]
            assert m.top_mm - floor_of_hole == pytest.approx(m.hole_depth_mm, abs=0.01)
        # the post is as thick as told, unless a wall stands against it
        across = [s for s in p.through(m.part, (x, y, m.top_mm - 0.1), 1) if abs((s[0] + s[1]) / 2 - y) < m.od_mm]
        assert max(hi for _, hi in across) - min(lo for lo, _ in across) > m.od_mm - 2 * NEAR
        n += 1
    return n


def check_joints(p: Probe) -> int:
    """Screws of the case: the boss's hole, the clearance hole and the head's room, in the part that each is in."""
    top = p.a.case.box_mm[2]
    for j in p.a.case.joints:
        x, y, z = j.at
        assert p.gap(j.into, (x, y, z - min(2.0, j.hole_depth_mm / 2)), 0) == pytest.approx(j.hole_mm, abs=NEAR)
        spans = [hi for lo, hi in p.through(j.into, (x, y, 0.0), 2) if hi < z]
        assert z - max(spans) == pytest.approx(j.hole_depth_mm, abs=0.01)
        assert p.through(j.holds, (x, y, 0.0), 2) == []
        assert p.gap(j.holds, (x, y, top - j.head_depth_mm - 0.3), 1) == pytest.approx(j.clearance_mm, abs=NEAR)
        assert p.gap(j.holds, (x, y, top - j.head_depth_mm / 2), 1) == pytest.approx(j.head_d_mm, abs=NEAR)
        under = (j.clearance_mm / 2 + j.head_d_mm / 2) / 2
        assert max(hi for _, hi in p.through(j.holds, (x + under, y, 0.0), 2)) == pytest.approx(
            top - j.head_depth_mm, abs=0.01
        )
    return len(p.a.case.joints)


def check_openings(p: Probe) -> int:
    """Openings go through all that is behind them, and end where they are told to."""
    n = 0
    marks = [outline(o, 0.3) for o in p.a.openings.openings]
    for k, o in enumerate(p.a.openings.openings):
        face = p.a.case.face(o.face)

        def stands(u: float, v: float, depth: float, frame: Any = face.frame) -> bool:
            return any(p.solid(part, frame.point((u, v, -depth))) for part in ("base", "lid"))

        u, v = o.at_mm
        wide, high = o.size_mm
        mid = min(face.thick_mm / 2, 1.0)
        depths = [d for d in (0.1, mid, face.thick_mm - 0.1) if d > 0]
        assert not any(stands(u, v, d) for d in depths), o.label
        inner = mid if o.recess is None else (o.recess.depth_mm + face.thick_mm) / 2
        for du, dv in ((wide / 2, 0.0), (-wide / 2, 0.0), (0.0, high / 2), (0.0, -high / 2)):
            sign_u, sign_v = np.sign(du), np.sign(dv)
            assert not any(stands(u + du - 0.04 * sign_u, v + dv - 0.04 * sign_v, d) for d in depths), o.label
            q = (u + du + 0.04 * sign_u, v + dv + 0.04 * sign_v)
            other = any(b[0] < q[0] < b[2] and b[1] < q[1] < b[3] for i, b in enumerate(marks) if i != k)
            inside = 0.2 < q[0] < face.size_mm[0] - 0.2 and 0.2 < q[1] < face.size_mm[1] - 0.2
            if not other and inside and inner < face.thick_mm - 0.05:
                assert stands(*q, inner), f"{o.label}: larger than told"
                n += 1
    return n


def check_vents(p: Probe) -> int:
    """Every hole of every field and grille is open: a square on its corner, as wide as told from side to side."""
    n = 0
    for v in p.a.openings.vents:
        face = p.a.case.face(v.face)
        for u, w in v.holes[:: max(1, len(v.holes) // 6)]:
            at = face.frame.point((u, w, -face.thick_mm / 2))
            along = int(
                np.argmax(np.abs(np.array(face.frame.point((1, 0, 0))) - np.array(face.frame.point((0, 0, 0)))))
            )
            (part,) = [x for x in v.parts if x in p.parts][:1]
            assert p.gap(part, at, along) == pytest.approx(v.across_mm * 2**0.5, abs=NEAR), v.label
            n += 1
    return n


def check_plates(p: Probe) -> None:
    """Floor and lid are as thick as told over most of the case, the walls where nothing is cut or thickened."""
    s, (w, d, h) = p.a.design.shell, p.a.case.box_mm
    xs, ys = np.linspace(s.wall_mm + 6.3, w - s.wall_mm - 6.1, 7), np.linspace(s.wall_mm + 6.7, d - s.wall_mm - 6.3, 7)
    floors = [x[0][1] - x[0][0] for a in xs for b in ys if (x := p.through("base", (a, b, 0.0), 2)) and x[0][0] < 0.01]
    lids = [
        x[-1][1] - x[-1][0] for a in xs for b in ys if (x := p.through("lid", (a, b, 0.0), 2)) and x[-1][1] > h - 0.01
    ]
    if floors:
        assert np.median(floors) == pytest.approx(s.floor_mm, abs=0.01)
    if lids:
        assert np.median(lids) == pytest.approx(s.lid_mm, abs=0.01)
    z = s.floor_mm + 0.4  # under the vents and under the band
    walls = [x[0][1] - x[0][0] for b in ys if (x := p.through("base", (0.0, b, z), 0)) and x[0][0] < 0.01]
    if len(walls) > 4:
        assert min(walls) == pytest.approx(s.wall_mm, abs=0.01)


def check_rim(p: Probe, play_mm: float) -> None:
    """Tongue and groove keep their play, and nothing of one part is in the other."""
    base, lid = p.parts["base"], p.parts["lid"]
    assert base.min_gap(lid.translate((0, 0, 0.3)), 2.0) == pytest.approx(play_mm, abs=0.01)
    assert (base ^ lid).volume() < 0.02


def check(a: Analysis) -> None:
    p = Probe(a)
    check_mounts(p)
    check_joints(p)
    check_openings(p)
    check_vents(p)
    check_plates(p)


def test_wren_by_hand(good: Analysis) -> None:
    p = Probe(good)
    assert (check_mounts(p), check_joints(p)) == (8, 4)
    assert check_openings(p) > 20 and check_vents(p) > 5
    check_plates(p)
    # allowance of 0.175 a side on a tongue of 1.8 that shrinks by 0.3 %
    check_rim(p, 0.175 + 1.8 * 0.003 / 2)
    # what is told is what a hand works out, PLA on 0.4: 0.15 for an upright hole, all of its shrinkage
    of = {(m.of, m.mount): m for m in good.case.mounts}
    assert of["board", "A"].hole_mm == pytest.approx(3.4 + 0.15 + 0.0102)
    assert of["board", "A"].hole_depth_mm == pytest.approx(4 + 1.2)
    assert of["board", "A"].od_mm == pytest.approx(2 * 3.8)
    assert of["drive", "A"].hole_mm == pytest.approx(3.4 + 0.15 + 0.0102)
    assert of["drive", "A"].head_d_mm == pytest.approx(5.5 + 0.6)
    j = good.case.joints[0]
    assert (j.hole_mm, j.clearance_mm) == (pytest.approx(4.0 + 0.15 + 0.012), pytest.approx(3.4 + 0.15 + 0.0102))
    assert (j.head_d_mm, j.head_depth_mm, j.hole_depth_mm) == (
        pytest.approx(6.1),
        pytest.approx(3.3),
        pytest.approx(6.9),
    )


def test_the_rim_of_wren_by_hand(good: Analysis) -> None:
    """Cheeks of two lines (2 x 0.4286 = 0.857), a tongue of 1.8 with 0.1777 of play either side, 2.5 high in a groove 2.9 and a little
    deep; the wall of 2.89 is thickened to hold them, with ramps of 45 degrees."""
    p = Probe(good)
    d = good.case.box_mm[1]
    joint = 3.0 + 26.8
    play, cheek = 0.175 + 1.8 * 0.003 / 2, 2 * good.case.line_mm
    band = 1.8 + 2 * play + 2 * cheek
    deep = 2.5 + 0.4 + 2.5 * 0.003 / 2
    assert cheek == pytest.approx(0.9, abs=0.05) and deep == pytest.approx(2.9, abs=0.02)
    for y in (0.3 * d, 0.72 * d):  # clear of screws and openings
        outer, inner = p.through("base", (0.0, y, joint - 1.0), 0)[:2]
        assert outer == (pytest.approx(0.0, abs=0.01), pytest.approx(cheek, abs=0.01))
        assert inner == (pytest.approx(cheek + 1.8 + 2 * play, abs=0.01), pytest.approx(band, abs=0.01))
        tongue = p.through("lid", (0.0, y, joint - 1.0), 0)[0]
        assert tongue == (pytest.approx(cheek + play, abs=0.01), pytest.approx(cheek + play + 1.8, abs=0.01))
        # under the groove the wall is whole, then falls back to its own thickness along the ramp
        in_groove = p.through("base", (cheek + play + 0.9, y, 0.0), 2)[-1][1]
        assert joint - in_groove == pytest.approx(deep, abs=0.01)
        tip = min(lo for lo, _ in p.through("lid", (cheek + play + 0.9, y, 0.0), 2))
        assert joint - tip == pytest.approx(2.5, abs=0.01)
        (bulge,) = good.case.bulges
        full = joint - (deep + 2 * cheek)
        assert (bulge.full_from_mm, bulge.from_mm) == pytest.approx((full, full - (band - 2.89)), abs=0.01)
        assert (bulge.full_to_mm, bulge.to_mm) == pytest.approx(
            (joint + deep + 2 * cheek, joint + deep + 2 * cheek + band - 2.89), abs=0.01
        )
        for z, thick in ((full + 0.05, band), (full - 0.5, band - 0.5), (full - (band - 2.89) - 0.1, 2.89)):
            assert p.through("base", (0.0, y, z), 0)[0][1] == pytest.approx(thick, abs=0.03)


def test_feet_lie_in_the_corners(good: Analysis) -> None:
    """A foot of 10 and 4 beside it, 2 from the roundings: 11 from either side; clear of the drive's sunk screw heads."""
    w, d, _ = good.case.box_mm
    assert set(good.case.feet) == {(x, y) for x in (11.0, w - 11.0) for y in (11.0, d - 11.0)}
    p = Probe(good)
    for x, y in good.case.feet:
        assert p.through("base", (x, y, 0.0), 2)[0][0] == pytest.approx(0.6, abs=0.01)
        assert p.gap("base", (x, y, 0.3), 0) == pytest.approx(10.5, abs=NEAR)


def test_a_foot_stands_under_what_is_heavy(good_wren: Design) -> None:
    """A disc of 147 x 101.6 (SFF-8301) in the middle of the floor has a foot under its middle, sunk like the others; the light drive beside it has none. What
    stands on its foot bends the floor no more."""
    disc = Placement(id="disc", component="drive-3.5", name="Disc", at_mm=(83, 69, 20))
    d = apply(good_wren, Together(edits=(Add(placement=disc), Set(path="shell.floor_mm", value=1.4))))
    before, after = (shaped(x) for x in (d, apply(d, Set(path="shell.feet_under", value=True))))
    extra = set(after.case.feet) - set(before.case.feet)
    assert len(before.case.feet) == 4 and len(extra) == 1
    ((x, y),) = extra
    assert (x, y) == pytest.approx((83 + 2.89, 69 + 2.89), abs=1.5)
    p = Probe(after)
    assert p.through("base", (x, y, 0.0), 2)[0][0] == pytest.approx(min(0.6, 1.4 / 3), abs=0.01)
    sag = {f.subjects[1]: f.measured for f in judge(before) if f.code == "floor-sags"}
    left = {f.subjects[1]: f.measured for f in judge(after) if f.code == "floor-sags"}
    assert "disc" in sag and "disc" not in left
    # the sag goes with the load and with where it stands: what is left of it is what is not the disc's
    lo, size = after.case.cavity.lo, after.case.cavity.size
    bends = {"disc": 0.0}
    for t in after.things:
        (x0, y0), (x1, y1) = footprint(t)
        shape = sin(pi * ((x0 + x1) / 2 - lo[0]) / size[0]) * sin(pi * ((y0 + y1) / 2 - lo[1]) / size[1])
        if t.id in ("board", "drive", "disc"):
            bends[t.id] = shape * sum(u.component.mass_g for u in after.things if t.id in (u.id, u.placement.on))
    rest = bends["board"] + bends["drive"]
    assert max(left.values()) / sag["disc"] == pytest.approx(rest / (rest + bends["disc"]), rel=0.01)
    assert next(x.count for x in after.bill if x.item == "foot, stick-on") == 5


def test_screws_give_way_to_vents_in_the_lid(good_wren: Design) -> None:
    """A field of vents in a corner of the lid: no hole runs into a boss. The screw that was there finds no other place; that is told."""
    field = VentField(id="v", face="top", at_mm=(12, 12), size_mm=(30, 24), follow_heat=False)
    a = shaped(apply(good_wren, PutVent(vent=field)))
    before = shaped(good_wren).case.joints
    assert (len(before), len(a.case.joints), a.case.wanted_joints) == (4, 3, 4)
    assert [f.measured for f in judge(a) if f.code == "lid-screws-missing"] == [3]
    vent = next(v for v in a.openings.vents if v.id == "v")
    face = a.case.face("top")
    for j in a.case.joints:
        u, v = face.on(j.at)
        du, dv = abs(u - vent.at_mm[0]) - vent.size_mm[0] / 2, abs(v - vent.at_mm[1]) - vent.size_mm[1] / 2
        assert max(du, dv) >= j.od_mm / 2 - 0.5


@pytest.mark.parametrize(
    ("id", "size"),
    [
        # where the plug itself comes through: its 16 x 18 and 0.5 a side, with half of the 0.3 % of its longer side
        ("board/usb-1", (16 + 2 * (0.5 + 0.027), 18 + 2 * (0.5 + 0.027))),
        ("board/network", (15 + 2 * (0.5 + 0.0225), 15 + 2 * (0.5 + 0.0225))),
        # where the connector's face lies near the surface: its 8.94 x 3.26 and 0.35 a side
        ("board/power", (8.94 + 2 * (0.35 + 0.01341), 3.26 + 2 * (0.35 + 0.01341))),
        ("board/screen", (15 + 2 * (0.35 + 0.0225), 5.55 + 2 * (0.35 + 0.0225))),
        # a round hole that lies: 0.3 on its diameter and all of its shrinkage
        ("button/hole", (16.2 + 0.3 + 0.0486, 16.2 + 0.3 + 0.0486)),
        ("fan/screw-a", (3.4 + 0.15 + 0.0102, 3.4 + 0.15 + 0.0102)),
    ],
)
def test_openings_are_the_connector_and_its_allowance(good: Analysis, id: str, size: tuple[float, float]) -> None:
    o = next(x for x in good.openings.openings if x.id == id)
    assert o.size_mm == pytest.approx(size, abs=1e-3)


def test_a_case_in_pieces_is_dowelled_as_told(good_wren: Design) -> None:
    d = apply(good_wren, UNDER.model_copy(update={"stand": Stand(standoff_mm=13, made="printed")}))
    a = analyse(apply(d, Set(path="printer", value="bench-180")), ARCHIVE_WORKSHOP)
    check(a)
    for plan in (x for x in a.cuts if x.cuts):
        pieces = {p.name: mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in plan.pieces}
        assert len(pieces) == 2
        for c in plan.cuts:
            axis = "xyz".index(c.axis)
            for q, z in c.dowels:
                at = (c.at_mm, q, z) if axis == 0 else (q, c.at_mm, z)
                p = Probe(a)
                p.parts = {"both": pieces[plan.pieces[0].name] + pieces[plan.pieces[1].name]}
                # a pin of 3 and 0.2 to slip, with its shrinkage; 2 d deep and 0.5 to spare, in either piece
                for side in (-1.0, 1.0):
                    assert p.gap("both", shifted(at, axis, side), 2) == pytest.approx(3.2 + 0.009, abs=NEAR)
                assert p.gap("both", at, axis) == pytest.approx(2 * 6.5, abs=0.02)
        volumes = sum(x.volume() for x in pieces.values())
        whole = mk.evaluate(a.recipes[plan.part], mk.FILE_TOL).volume()
        blocks = len(plan.cuts[0].dowels)
        assert -blocks * 13 * 3.21**2 < volumes - whole  # no more is gone than the holes of the dowels


@settings(max_examples=15)
@given(designs(), st.sampled_from(["PLA", "PETG", "ASA"]), st.sampled_from([0.4, 0.6, 0.8]))
def test_any_design_is_made_as_it_is_told(design: Design, filament: str, nozzle: float) -> None:
    design = apply(design, Set(path="process.filament", value=filament))
    design = apply(design, Set(path="process.nozzle_mm", value=nozzle))
    a = shaped(design)
    if {"base", "lid"} <= set(a.recipes):
        check(a)
