"""Cuts: the fewest pieces against trying every way, prices, what joins the pieces, and the sheet's table."""

from __future__ import annotations

import io
import itertools
import math
from collections.abc import Callable
from math import ceil
from random import Random

import numpy as np
import pytest
import trimesh
from manifold3d import CrossSection, FillRule
from shapely import MultiPoint, Point, Polygon, box
from shapely.affinity import rotate

from rhombex.core.advice.cuts import cuts_table, joined_by
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.case.parts import Seat
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.cuts.bed import on_bed, outline_deg, turned_box, turned_size, usable_bed
from rhombex.core.cuts.faces import SeamFace, measured
from rhombex.core.cuts.holding import bolted
from rhombex.core.cuts.joins import Bolts, hold_of
from rhombex.core.cuts.marks import number_profile
from rhombex.core.cuts.one_way import plan_cuts
from rhombex.core.design import Design, JoinKind, OwnJoint, PinnedCut
from rhombex.core.edits import FreeCuts, JoinCuts, PutCut, PutCuts, PutJoint, Remove, Set, Together
from rhombex.core.exchange.package import BEDS_APART_MM, package
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.planes import section, section_mm2
from rhombex.core.geometry.recipe import block
from rhombex.core.plain import DesignError
from rhombex.core.plan.pieces_map import pieces_maps
from rhombex.core.plan.plates import plates
from rhombex.core.shell.solids import bore
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew, heron, heron_small

from .test_concerns import TRIPS

SHORTEST_MM = 10


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def small(d: Design) -> Design:
    return apply(d, Set(path="printer", value="bench-180"))


def every_way(length: float, usable: float, allowed: list[tuple[float, float]]) -> tuple[int, float] | None:
    """The fewest cuts, and the least price of so few, by trying every choice of places."""
    for n in range(ceil(length / usable - 1e-9), ceil(length / usable - 1e-9) + 3):
        found = []
        for way in itertools.combinations(allowed, n - 1):
            at = [0.0, *(c for c, _ in way), length]
            spans = [b - a for a, b in itertools.pairwise(at)]
            if any(s > usable for s in spans) or any(s <= SHORTEST_MM for s in spans[:-1]):
                continue
            off = sum(abs(c - k * length / n) / length for k, (c, _) in enumerate(way, 1))
            found.append(sum(p for _, p in way) + off)
        if found:
            return n - 1, min(found)
    return None


def test_the_fewest_cuts_at_the_least_price_of_all_ways() -> None:
    """60 random parts with random strips, on a grid of 2 mm, against every choice of places."""
    none = 0
    for seed in range(60):
        r = Random(seed)
        usable = r.uniform(60, 120)
        length = usable * r.uniform(1.05, 2.9)
        strips = [(a, a + r.uniform(5, 40)) for a in (r.uniform(0, length) for _ in range(r.randint(0, 9)))]
        soft = [(a, a + 30.0) for a in (r.uniform(0, length) for _ in range(r.randint(0, 2)))]
        grid = [float(k) for k in range(10, int(length) - 9, 2)]
        free = [k for k in grid if not any(a < k < b for a, b in strips)]
        allowed = [(k, 0.5 if any(a < k < b for a, b in soft) else 0.0) for k in free]
        plan, best = plan_cuts(length, usable, allowed), every_way(length, usable, allowed)
        assert (plan is None) == (best is None), seed
        if plan is None or best is None:
            none += 1
            continue
        told, found = plan
        n = len(found) + 1
        price = dict(allowed)
        cost = sum(price[c] + abs(c - k * length / n) / length for k, c in enumerate(found, 1))
        assert (len(found), cost, told) == (best[0], pytest.approx(best[1], abs=1e-9), pytest.approx(cost, abs=1e-9)), (
            seed
        )
    assert 0 < none < 30


@pytest.mark.parametrize(
    ("by", "d", "deep", "block_mm"), [("steel pins", 3.0, 6.0, 7.0), ("filament pins", 1.75, 8.0, 5.2)]
)
def test_pins_have_their_holes_and_the_plastic_round_them(
    good_wren: Design, by: str, d: float, deep: float, block_mm: float
) -> None:
    a = looked(apply(small(good_wren), Together(edits=tuple(JoinCuts(part=p, by=by) for p in ("base", "lid")))))  # type: ignore[arg-type]
    for c in a.cuts:
        pin = c.cuts[0].pin
        assert c.joined == c.cuts[0].joined == by and pin is not None and (pin.d_mm, pin.long_mm) == (d, 2 * deep)
        pieces = [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]
        assert len(pieces) == 2 and len(c.cuts[0].dowels) >= 2
        for q, z in c.cuts[0].dowels:
            at, along = (c.cuts[0].at_mm, q, z), (1.0, 0.0, 0.0)
            free = mk.evaluate(bore(at, along, d + 0.1, -deep - 0.4, deep + 0.4), mk.FILE_TOL)
            assert all((m ^ free).volume() < 1e-3 for m in pieces), "the pin goes in"
            past = mk.evaluate(bore(at, along, d + 0.1, deep + 0.7, deep + 1.7), mk.FILE_TOL)
            assert (pieces[1] ^ past).volume() > 0.99 * past.volume(), "and stops"
            # 0.2 more than the pin, and plastic all round it (the block's corners are cut by nothing here)
            ring = mk.evaluate(bore(at, along, d + 2.4, 1, deep - 1), mk.FILE_TOL)
            hole = mk.evaluate(bore(at, along, d + 0.26, 0, deep), mk.FILE_TOL)
            assert (pieces[1] ^ (ring - hole)).volume() > 0.995 * (ring - hole).volume()
        item = "dowel pin" if by == "steel pins" else "pin of filament"
        assert [x.count for x in a.bill if x.item == item and x.use == f"joint of {c.part}"] == [len(c.cuts[0].dowels)]


def test_glue_alone_needs_no_blocks_and_loses_nothing(good_wren: Design) -> None:
    d = apply(small(good_wren), JoinCuts(part="base", by="glue alone"))
    a = looked(d)
    base = next(c for c in a.cuts if c.part == "base")
    assert base.cuts and all(c.dowels == () and c.pin is None for c in base.cuts)
    whole = mk.evaluate(a.recipes["base"], mk.FILE_TOL).volume()
    parts = sum(mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL).volume() for p in base.pieces)
    # but for the numbers: a 1 of 8 mm2, a 2 of 15 + 2 x 2.5, an arrow of 8 beside either, all 0.4 deep
    assert whole - parts == pytest.approx((8 + 20 + 2 * 8) * 0.4, abs=0.02)
    assert not [x for x in a.bill if x.use == "joint of base"]
    assert apply(d, JoinCuts(part="base", by="steel pins")) == small(good_wren)


def test_a_seam_tells_its_face_its_strength_and_its_work(good_wren: Design) -> None:
    a = looked(small(good_wren))
    t = cuts_table(a)
    base = next(p for p in t.parts if p.cuts.part == "base")
    seam = base.seams[0]
    # what is there in a slab of 0.02 about the cut, over its thickness
    at = seam.cut.at_mm
    slab = mk.evaluate(block(Box((at - 0.01, -9, -9), (at + 0.01, 999, 999))), mk.FILE_TOL)
    thin = (mk.evaluate(a.recipes["base"], mk.FILE_TOL) ^ slab).volume() / 0.02
    assert seam.face_mm2 == pytest.approx(thin, rel=0.01)
    assert section_mm2(block(Box((0, 0, 0), (7, 11, 13))), "y", 5.0) == pytest.approx(91)
    # 5 and 12 MPa of the 52 of PLA
    assert (seam.low_share, seam.high_share) == (
        pytest.approx(5 / 52, abs=1e-4),
        pytest.approx(12 / 52, abs=1e-4),
    )
    assert seam.minutes == 5 + len(seam.cut.dowels) and seam.off_mm == pytest.approx(0.2, abs=0.02)
    assert "which is the least for the 168 x 168 mm of the bed" in base.why and base.cuts.least == 2


@pytest.mark.parametrize(
    ("number", "mm2"),
    # strokes 1 wide, 5 x 8: the ring 5 x 8 - 3 x 6; 3 more for a bar across it, less 2.5 where one half of a side is missing
    [(1, 8.0), (10, 30.0), (8, 25.0), (6, 22.5), (9, 22.5)],
)
def test_a_number_has_its_hollows(number: int, mm2: float) -> None:
    outline, size = number_profile(number)
    area = CrossSection([[p[:2] for p in loop] for loop in (*outline.outers, *outline.holes)], FillRule.Positive)
    assert area.area() == pytest.approx(mm2) and size == (11.5 if number == 10 else 5.0, 8.0)


def test_every_piece_shows_its_number_inside_and_an_arrow_to_each_neighbour(good_wren: Design) -> None:
    """Sunk 0.4 into the inner face, read from inside: of the 2 the upper right and the lower left
    stroke are there, the upper left and the lower right are not."""
    glued = Together(edits=tuple(JoinCuts(part=p, by="glue alone") for p in ("core", "wrap")))
    a = looked(apply(small(curlew()), glued))
    for c in (c for c in a.cuts if len(c.pieces) == 4):
        seat, pieces = a.case.part(c.part).seat, [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]
        assert seat is not None
        z, way = seat.inner_mm, 1 if seat.inner_mm > seat.outer_mm else -1
        plain = mk.evaluate(a.recipes[c.part], mk.FILE_TOL)
        for k, m in enumerate(pieces, 1):
            cell = m.bounding_box()
            just = mk.evaluate(
                block(
                    Box(
                        (cell[0], cell[1], min(z - way * 0.3, z - way * 0.1)),
                        (cell[3], cell[4], max(z - way * 0.3, z - way * 0.1)),
                    )
                ),
                mk.FILE_TOL,
            )
            under = just.translate((0, 0, -way * 0.35))
            sunk = (plain ^ just).volume() - (m ^ just).volume()
            deeper = (plain ^ under).volume() - (m ^ under).volume()
            # strokes of 1, 2, 3, 4 as areas: 8, 20, 20, 8 + 3.5 + 3 by hand; two neighbours: two arrows of 8
            strokes = {1: 8.0, 2: 20.0, 3: 20.0, 4: 8.0 + 4.5 + 3.0}[k]
            assert (sunk - deeper) / 0.2 == pytest.approx(strokes + 16.0, abs=0.4), (c.part, k)
    found = [
        loop
        for loop in section(a.pieces_in_case["core-2"], "z", a.case.part("core").seat.inner_mm - 0.2)
        if 7.9 < _high(loop) < 8.1
    ]  # type: ignore[union-attr]
    assert len(found) == 1
    xs, ys = [p[0] for p in found[0]], [p[1] for p in found[0]]
    shape = Polygon(found[0])
    at = [
        (max(xs) - 0.5, min(ys) + 5.75),
        (min(xs) + 0.5, min(ys) + 2.25),
        (min(xs) + 0.5, min(ys) + 5.75),
        (max(xs) - 0.5, min(ys) + 2.25),
    ]
    assert [shape.contains(Point(p)) for p in at] == [True, True, False, False]


def test_arrows_point_at_the_neighbour(good_wren: Design) -> None:
    """On the wrap, which is seen from below, and the core: the point of every arrow is nearer to its cut than its back, which is two points."""
    a = looked(small(curlew()))
    for c in (c for c in a.cuts if len(c.pieces) == 4):
        z, way = a.case.part(c.part).seat.inner_mm, 1 if c.part == "core" else -1  # type: ignore[union-attr]
        seen = 0
        for p in c.pieces:
            for loop in section(a.pieces_in_case[p.name], "z", z - way * 0.2):
                if len(loop) != 3:
                    continue
                for cut in c.cuts:
                    k = "xy".index(cut.axis)
                    far = sorted(abs(q[k] - cut.at_mm) for q in loop)
                    if far[-1] < 6:
                        assert far == pytest.approx([1.0, 5.0, 5.0], abs=0.01), (p.name, cut.axis)
                        seen += 1
        assert seen == 8


def _high(loop: list[tuple[float, float]]) -> float:
    return max(p[1] for p in loop) - min(p[1] for p in loop)


def joined(d: Design, by: JoinKind) -> Analysis:
    return looked(apply(small(d), Together(edits=tuple(JoinCuts(part=p, by=by) for p in ("base", "lid")))))


def test_dovetails_lock_in_the_plate_with_their_allowance_all_round(good_wren: Design) -> None:
    """A neck of 9 at the cut, 13 wide 8 on: necks and ends are measured in the mesh, and the least distance of a tail from its socket, away from the
    faces that touch, is the allowance of tongues: 0.175 and half of 0.3 % of 13 (common practice)."""
    a = joined(good_wren, "dovetails")
    for c in a.cuts:
        cut = c.cuts[0]
        low, high = (mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces)
        assert len(cut.dowels) >= 2 and cut.pin is None
        for q, z in cut.dowels:
            for past, wide in ((0.05, 9.0 + 0.05 / 4 * 2), (7.9, 9.0 + 7.9 / 4 * 2)):  # flanks of 1 in 4
                slice_ = mk.evaluate(
                    block(Box((cut.at_mm + past - 0.01, q - 12, z - 0.5), (cut.at_mm + past + 0.01, q + 12, z + 0.5))),
                    mk.FILE_TOL,
                )
                assert (low ^ slice_).volume() / 0.02 == pytest.approx(wide, abs=0.05)
            beyond = mk.evaluate(block(Box((cut.at_mm + 8.02, q - 20, -99), (cut.at_mm + 9, q + 20, 99))), mk.FILE_TOL)
            assert (low ^ beyond).volume() < 1e-6
            room = mk.evaluate(block(Box((cut.at_mm + 1.5, q - 9, z - 1), (cut.at_mm + 12, q + 9, z + 1))), mk.FILE_TOL)
            gap = 0.175 + 13 * 0.3 / 100 / 2
            assert (low ^ room).min_gap(high ^ room, 2.0) == pytest.approx(gap, abs=0.01)
        # together they are the part, less the sockets' play
        whole = mk.evaluate(a.recipes[c.part], mk.FILE_TOL).volume()
        assert 0 < whole - low.volume() - high.volume() < 0.001 * whole
        # pressed together from above they pass one another; pulled apart in the plate they do not
        up = 1.0 if c.part == "base" else -1.0
        assert all((high.translate((0, 0, up * s)) ^ low).volume() < 0.02 for s in (0.5, 2.0))
        assert (high.translate((1.0, 0, 0)) ^ low).volume() > 1.0
    assert not [x for x in a.bill if x.use.startswith("joint of") or x.use.startswith("pieces of")]
    assert {p.name for p in a.pieces if p.fits_bed} == {p.name for p in a.pieces}


def test_bolts_pass_both_flanges_and_are_in_the_table_of_joints(good_wren: Design) -> None:
    """Two flanges of 5 and a nut of 2.4 with a turn of 0.5 (ISO 4032): 12.9, so 14. A rod of 3.4 and the printer's 0.3 for a lying hole passes both."""
    a = joined(good_wren, "bolts")
    for c in a.cuts:
        g = next(x for x in a.joints if x.key == f"cut/{c.part}")
        assert g.count == len(c.cuts[0].dowels) >= 2 and g.screw_mm == 14 and g.serves == (14.0, 16.0)
        pieces = [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]
        for seat in g.seats:
            free = mk.evaluate(bore(seat.at, seat.along, 3.4 + 0.3 - 0.05, -9, 10 + 9), mk.FILE_TOL)
            assert all((m ^ free).volume() < 1e-3 for m in pieces)
            for m, (start, end) in zip(pieces, ((0.1, 4.9), (5.1, 9.9)), strict=True):
                ring = mk.evaluate(bore(seat.at, seat.along, 5.5, start, end), mk.FILE_TOL) - free
                full = ring - mk.evaluate(bore(seat.at, seat.along, 3.4 + 0.3 + 0.1, -9, 19), mk.FILE_TOL)
                assert (m ^ full).volume() > 0.995 * full.volume(), "plastic under all of the head and the nut"
            past = mk.evaluate(bore(seat.at, seat.along, 5.5, 10.05, 10 + 12), mk.FILE_TOL)
            assert all((m ^ past).volume() < 1e-3 for m in pieces), "room for nut and fingers"
        assert [(x.item, x.size, x.count) for x in a.bill if x.use.startswith(f"pieces of the {c.part}")] == [
            ("nut", "M3", g.count),
            ("screw, socket cap", "M3 x 14", g.count),
        ]
        assert all(r.free for x, r in zip(a.joints, a.reach, strict=True) if x.key == g.key)
    longer = apply(a.design, PutJoint(joint=OwnJoint(of="cut/lid", screw_mm=16)))
    assert next(g for g in looked(longer).joints if g.key == "cut/lid").screw_mm == 16
    assert apply(longer, Remove(id="fan")).joint("cut/lid") is not None


def face(loops: list[list[tuple[float, float]]]) -> SeamFace:
    """A face by the corners of its loops."""
    return measured(np.array([[a, b] for ring in loops for a, b in zip(ring, ring[1:] + ring[:1], strict=True)]))


def test_what_a_seam_bears_is_worked_by_hand(good_wren: Design) -> None:
    """Of a plate of 100 x 4: W = 100 x 4^2 / 6 = 266.7 mm3. Bolts M3: a ring of pi / 4 (5.5^2 - 3.4^2) = 14.68 mm2 x 15 MPa = 220.2 N each, over a
    plate of 3: 3.75 from the flange's top, 6.75 from the plate's outer face."""
    plate = face([[(0, 7), (100, 7), (100, 11), (0, 11)]])
    assert (plate.area_mm2, plate.wide_mm, plate.modulus_mm3) == pytest.approx((400, 100, 100 * 16 / 6))
    # a tee: a flange of 20 x 2 on a web of 2 x 10, by the parallel axis theorem
    area, mid = 40 + 20, (40 * 11 + 20 * 5) / 60
    i = 20 * 8 / 12 + 40 * (11 - mid) ** 2 + 2 * 1000 / 12 + 20 * (mid - 5) ** 2
    tee = face([[(0, 10), (9, 10), (9, 0), (11, 0), (11, 10), (20, 10), (20, 12), (0, 12)]])
    assert (tee.area_mm2, tee.wide_mm, tee.modulus_mm3) == pytest.approx((area, 20, i / mid))
    # a tube of 30 x 20 round 24 x 12, wound either way: I = (30 x 20^3 - 24 x 12^3) / 12
    outer, hole = [(5, 3), (35, 3), (35, 23), (5, 23)], [(8, 7), (8, 19), (32, 19), (32, 7)]
    for way in (1, -1):
        tube = face([outer[::way], hole[::way]])
        assert tube.area_mm2 == pytest.approx(600 - 288)
        assert tube.modulus_mm3 == pytest.approx((30 * 8000 - 24 * 1728) / 12 / 10)
    # two posts side by side and a lower one: their common middle, each about its own and the square of its distance
    posts = face([[(0, 0), (4, 0), (4, 10), (0, 10)], [(9, 0), (13, 0), (13, 4), (9, 4)]])
    mid = (40 * 5 + 16 * 2) / 56
    i = 4 * 1000 / 12 + 40 * (5 - mid) ** 2 + 4 * 64 / 12 + 16 * (2 - mid) ** 2
    assert (posts.wide_mm, posts.modulus_mm3) == pytest.approx((13, i / (10 - mid)))
    assert face([]).modulus_mm3 == 0
    bolts = hold_of("bolts", Seat(outer_mm=0.0, inner_mm=3.0, edge_mm=0.0))
    assert isinstance(bolts, Bolts)
    low, high = bolted(bolts, 3)
    assert low.value == pytest.approx(3 * 220.2 * 3.75 / 1000, rel=2e-3)
    assert high == pytest.approx(3 * 220.2 * 6.75 / 1000, rel=2e-3)
    # the lid of Wren on the small bed: 50 N at 86 of 171.38, and the fan's 0.177 N at 46.9 from the left
    lid = next(p for p in cuts_table(looked(small(good_wren))).parts if p.cuts.part == "lid")
    fan = next(p.at_mm[0] for p in good_wren.placements if p.id == "fan") + 2.89
    hand = 50 * 86 * 85.38 / 171.38
    assert lid.seams[0].holds.load_nm.value * 1000 == pytest.approx(
        hand + 0.0177 * 9.81 * fan * 85.38 / 171.38, rel=3e-3
    )


def test_two_cuts_at_one_place_are_one(good_wren: Design) -> None:
    """Joined in different ways they once could not be put in order, and the lid could not be made."""
    twice = tuple(PinnedCut(part="lid", axis="x", at_mm=80, by=by) for by in ("bolts", None, "dovetails"))
    a = looked(apply(good_wren, PutCuts(part="lid", cuts=twice)))
    lid = next(c for c in a.cuts if c.part == "lid")
    assert not a.faults and [(x.joined, len(lid.pieces)) for x in lid.cuts] == [("dovetails", 2)]


def test_a_floor_on_feet_is_bent_by_what_it_carries(good_wren: Design) -> None:
    """The base of Wren on the small bed, feet at 11 and 160.38: drive, board with its cooler, each five times its weight at its place; no hand leans inside."""
    a = looked(small(good_wren))
    seam = next(p for p in cuts_table(a).parts if p.cuts.part == "base").seams[0]
    at, lo, hi = seam.cut.at_mm, 11.0, a.case.box_mm[0] - 11.0
    want = 0.0
    for t in (t for t in a.things if t.id in ("drive", "board", "cooler")):
        x, w = t.frame.origin[0], 5 * t.component.mass_g / 1000 * 9.81
        want += w * ((x - lo) * (hi - at) if x <= at else (hi - x) * (at - lo)) / (hi - lo)
    button = next(t for t in a.things if t.id == "button")  # in the front wall, which is the base's
    x, w = button.frame.origin[0], 5 * button.component.mass_g / 1000 * 9.81
    want += w * ((x - lo) * (hi - at) if x <= at else (hi - x) * (at - lo)) / (hi - lo)
    assert seam.holds.load_nm.value * 1000 == pytest.approx(want, rel=1e-3)


def test_one_cut_may_be_joined_another_way(good_wren: Design) -> None:
    lid = next(p for p in cuts_table(looked(good_wren)).parts if p.cuts.part == "lid")
    d = apply(good_wren, lid.more[0].edit)
    lid = next(p for p in cuts_table(looked(d)).parts if p.cuts.part == "lid")
    d = apply(d, next(m.edit for m in lid.more if m.axis != lid.cuts.cuts[0].axis))
    lid = next(p for p in cuts_table(looked(d)).parts if p.cuts.part == "lid")
    assert [x.axis for x in lid.cuts.cuts] == ["x", "y"] and len(lid.seams) == 2
    to = joined_by(lid.cuts, lid.cuts.cuts[0], "dovetails")
    after = next(c for c in looked(apply(d, to)).cuts if c.part == "lid")
    assert [x.joined for x in after.cuts] == ["dovetails", "steel pins"]
    assert [x.at_mm for x in after.cuts] == pytest.approx([s.cut.at_mm for s in lid.seams])
    # said of all cuts it holds of each
    for by in ("bolts", "steel pins"):
        back = next(
            c for c in looked(apply(d, Together(edits=(to, JoinCuts(part="lid", by=by))))).cuts if c.part == "lid"
        )  # type: ignore[arg-type]
        assert [x.joined for x in back.cuts] == [by, by]


@pytest.mark.parametrize("by", ["dovetails", "bolts", "tongue and groove", "half-lap", "bridging plates"])
def test_every_construction_is_cut_and_joined(good_wren: Design, by: JoinKind) -> None:
    """Every part with a plate, of every construction, cut both ways: pieces are whole, none in another's place, and together the part."""
    for kind in ("two halves", "tray in a sleeve", "core and wrap", "frame and covers"):
        edits = made_so(good_wren, ARCHIVE_WORKSHOP, kind)
        d = apply(small(good_wren), Together(edits=(*edits, Set(path="printer", value="bench-180"))))
        names = [p.name for p in looked(d).case.parts if p.seat is not None]
        a = looked(apply(d, Together(edits=tuple(JoinCuts(part=n, by=by) for n in names))))
        assert any(c.cuts and c.cuts[0].dowels for c in a.cuts), kind
        for c in (c for c in a.cuts if c.cuts):
            pieces = [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]
            assert all(len(m.decompose()) == 1 and mk.watertight(m) for m in pieces), (kind, c.part)
            for m, q in itertools.combinations(pieces, 2):
                assert (m ^ q).volume() < 1e-3, (kind, c.part)
            whole = mk.evaluate(a.recipes[c.part], mk.FILE_TOL).volume()
            together = sum(m.volume() for m in pieces)
            if by in ("dovetails", "tongue and groove", "half-lap"):
                assert 0 <= whole - together < 0.003 * whole, (kind, c.part)
            else:
                assert whole < together, (kind, c.part)


def test_the_table_knows_where_a_cut_may_run(good_wren: Design) -> None:
    a = looked(small(good_wren))
    for p in cuts_table(a).parts:
        for way in p.ways:
            hard = [s for s in way.strips if not s.soft]
            for x in way.prices:
                through = [s.why for s in hard if s.lo < x.at_mm < s.hi]
                if through:
                    assert x.price is None and x.why == ", ".join(dict.fromkeys(through))
                elif x.price is None:
                    assert x.why == "no place for what joins it"
        # the pieces cover the part, numbered one after another
        assert [c.number for c in p.cells] == list(range(1, len(p.cells) + 1))
        area = sum(np.prod(np.subtract(c.hi_mm, c.lo_mm)) for c in p.cells)
        lo, hi = np.array(p.cuts.lo_mm), np.array(p.cuts.hi_mm)
        assert area == pytest.approx(np.prod((hi - lo)[:2]))


def test_one_more_cut_is_offered_where_it_may_run_and_taken_back(good_wren: Design) -> None:
    whole = next(p for p in cuts_table(looked(good_wren)).parts if p.cuts.part == "lid")
    assert whole.why.startswith("Whole: it fits") and {m.axis for m in whole.more} == {"x", "y"}
    for m in whole.more:
        d = apply(good_wren, m.edit)
        a = looked(d)
        lid = next(c for c in a.cuts if c.part == "lid")
        assert [(c.axis, c.pinned, c.crosses) for c in lid.cuts] == [(m.axis, True, ())] and len(lid.pieces) == 2
        assert not [f for f in judge(a) if f.code == "cut-through-feature"]
        again = next(p for p in cuts_table(a).parts if p.cuts.part == "lid")
        other = next(x for x in again.more if x.axis != m.axis)
        assert len(next(c for c in looked(apply(d, other.edit)).cuts if c.part == "lid").pieces) == 4
        assert apply(d, FreeCuts(part="lid")) == good_wren


def test_it_says_what_would_make_it_fewer(good_wren: Design) -> None:
    base = next(p for p in cuts_table(looked(small(good_wren))).parts if p.cuts.part == "base")
    # 171.38 on the 168 that two of worn edge and four of brim leave on either side
    assert [x.words for x in base.smaller] == [
        "1 piece if it were 3.4 mm smaller along x",
        "1 piece on Bench 220",
        "1 piece on Bench 300",
    ]
    assert [x.label for x in base.smaller][:2] == ["Make it 3.4 mm smaller along x", "Print on Bench 220"]
    for x in base.smaller:
        assert len(next(c for c in looked(apply(small(good_wren), x.edit)).cuts if c.part == "base").pieces) == 1
    four = next(p for p in cuts_table(looked(small(curlew()))).parts if p.cuts.part == "core")
    assert four.smaller[0].words == "2 pieces by the size of the bed if it were 17.9 mm smaller along x"
    assert (
        len(next(c for c in looked(apply(small(curlew()), four.smaller[0].edit)).cuts if c.part == "core").pieces) == 2
    )
    assert cuts_table(looked(good_wren)).parts[0].smaller == ()


@pytest.mark.parametrize("start", [heron, heron_small])
def test_a_printer_that_takes_a_part_in_fewer_pieces_does(start: Callable[[], Design]) -> None:
    """Of the sleeve of Heron, which stands taller than Bench 220 prints, the bed alone would say four."""
    d = small(start())
    told = [(p.cuts, x) for p in cuts_table(looked(d)).parts for x in p.smaller if isinstance(x.edit, Set)]
    after = {x.edit: {c.part: len(c.pieces) for c in looked(apply(d, x.edit)).cuts} for _, x in told}
    assert len(told) >= 2
    for c, x in told:
        n = after[x.edit][c.part]
        assert x.words.startswith(f"{n} piece{'s' if n > 1 else ''} on ") and n < len(c.pieces), (c.part, x.words)
    if start is heron:
        assert next(x.words for c, x in told if c.part == "sleeve") == "6 pieces on Bench 220"


def test_the_map_of_pieces_is_drawn_to_scale_with_numbers_and_neighbours() -> None:
    a = looked(small(curlew()))
    maps = pieces_maps(a)
    assert [m.title for m in maps] == ["Curlew, pieces of the core", "Curlew, pieces of the wrap"]
    core = maps[0]
    said = [t.words for t in core.texts]
    assert {"1", "2", "3", "4", "scale 1 : 2", "joined by steel pins, 3 x 12"} <= set(said)
    assert any(w.endswith("beside 2, 3") for w in said)  # piece 1, of two rows and two columns
    # all that is drawn of the pieces: 185.78 + the gap of two pieces 5 apart, at half size
    xs = [x for s in core.strokes if s.weight == "cut" for x in (s.x0, s.x1)]
    assert max(xs) - min(xs) == pytest.approx(185.78 / 2 + 5, abs=0.02)
    assert min(t.x for t in core.texts) > 0 and max(s.y1 for s in core.strokes) < 210
    # a pin is drawn on both of the pieces that it joins
    pins = sum(len(c.dowels) for p in a.cuts if p.part == "core" for c in p.cuts)
    short = [s for s in core.strokes if s.weight == "seen" and abs(math.hypot(s.x1 - s.x0, s.y1 - s.y0) - 2.5) < 1e-6]
    assert len(short) == 2 * pins
    files = package(a, ("drawings",))
    assert {"pieces-of-core.svg", "pieces-of-wrap.svg", "pieces.pdf"} <= set(files)
    assert files["pieces.pdf"].count(b"/Type /Page\n") == 2
    assert not [f for f in package(looked(curlew()), ("drawings",)) if "pieces" in f]


def carver(p: float, q: float, a: float, b: float) -> bool:
    """Whether a rectangle p x q (p the longer) lies in a x b (a the longer), turned or not: W. B. Carver, Amer. Math. Monthly 64 (1957)."""
    if p <= a:
        return q <= b
    return q <= b and (2 * p * q * a + (p * p - q * q) * math.sqrt(p * p + q * q - a * a)) / (p * p + q * q) <= b


def test_a_long_piece_lies_across_its_bed() -> None:
    """Against the condition of Carver; and the box of what is turned so lies within."""
    found = on_bed((250, 40, 5), (216, 216, 250))  # its diagonal 253 leaves room: (250 + 40) / sqrt 2 = 205
    assert found.fits and found.angle_deg == pytest.approx(45) and found.over_mm <= 0
    assert turned_size((250, 40), 45) == (pytest.approx(205.06, abs=0.01), pytest.approx(205.06, abs=0.01))
    assert not on_bed((250, 40, 251), (216, 216, 250)).fits
    r, across = Random(3), 0
    for _ in range(2000):
        w, d, a, b = (r.uniform(10, 300) for _ in range(4))
        o = on_bed((w, d, 1), (a, b, 10))
        p, q, long, short = max(w, d), min(w, d), max(a, b), min(a, b)
        assert o.fits is carver(p, q, long, short), (w, d, a, b)
        if o.fits:
            size = turned_size((w, d), o.angle_deg)
            assert size[0] <= a + 1e-6 and size[1] <= b + 1e-6
            across += o.angle_deg not in (0.0, 90.0)
    assert across > 15


def turned_fits(hull: Polygon, room: tuple[float, float], deg: float, slack: float = 0.0) -> bool:
    x0, y0, x1, y1 = rotate(hull, deg).bounds  # Shapely turns it, not we
    return bool(x1 - x0 <= room[0] + slack and y1 - y0 <= room[1] + slack)


def test_an_outline_lies_where_its_box_does_not() -> None:
    """Against Shapely, turned by every quarter of a degree: found where that finds an angle, and where it fits as it says. A rectangle's outline lies where
    Carver's condition says; a disc where its diameter does."""
    r, found_some, none_at_all = Random(5), 0, 0
    for _ in range(160):
        n = r.randint(3, 9)
        hull = MultiPoint([(r.uniform(0, 200), r.uniform(0, 120)) for _ in range(n)]).convex_hull
        room = (r.uniform(40, 220), r.uniform(40, 220))
        deg = outline_deg(np.array(hull.exterior.coords[:-1]), room)
        seen = any(turned_fits(hull, room, k / 4) for k in range(720))
        if deg is None:
            assert not seen
            none_at_all += 1
        else:
            assert turned_fits(hull, room, deg, 1e-5) and 0 <= deg <= 180
            found_some += 1
    assert found_some > 40 and none_at_all > 20
    for _ in range(300):
        w, d, a, b = (r.uniform(10, 300) for _ in range(4))
        p, q, long, short = max(w, d), min(w, d), max(a, b), min(a, b)
        rectangle = np.array([(0.0, 0.0), (w, 0.0), (w, d), (0.0, d)])
        assert (outline_deg(rectangle, (a, b)) is not None) is carver(p, q, long, short), (w, d, a, b)
    disc = np.array(Point(0, 0).buffer(50, quad_segs=64).exterior.coords[:-1])
    assert outline_deg(disc, (100.001, 100.001)) is not None and outline_deg(disc, (99.9, 120)) is None
    # round corners of 20 on a plate of 260 x 60: its box wants 226.3 across a square bed, it wants 226.3 less (2 sqrt 2 - 2) x 20
    plate = np.array(box(20, 20, 240, 40).buffer(20, quad_segs=64).exterior.coords[:-1])
    wants = 320 / math.sqrt(2) - (2 * math.sqrt(2) - 2) * 20
    deg = outline_deg(plate, (wants + 0.05, wants + 0.05))
    assert deg is not None and deg % 90 == pytest.approx(45, abs=1.5)
    assert outline_deg(plate, (wants - 0.05, wants - 0.05)) is None
    assert turned_box(plate, 45.0) == (pytest.approx(wants, abs=0.01), pytest.approx(wants, abs=0.01))


def test_a_lid_with_round_corners_lies_across_by_its_outline(good_wren: Design) -> None:
    """As its box says it would have to be cut: the case is so long that only the round corners let its lid lie across the bed, whole."""
    edits = tuple(Remove(id=p.id) for p in good_wren.placements if p.on is None)
    bare = apply(good_wren, Together(edits=(*edits, Set(path="shell.corner_radius_mm", value=15.0))))
    for wide in range(241, 250):
        a = looked(apply(bare, Set(path="shell.inner_mm", value=(float(wide), 40.0, 31.0))))
        lid = [p for p in a.pieces if p.part == "lid"]
        w, d, h = lid[0].bbox_mm
        if len(lid) == 1 and not on_bed((w, d, h), usable_bed(a.design.process, a.printer)).fits:
            break
    else:
        raise AssertionError("no case lies so")
    assert lid[0].fits_bed and not [f for f in judge(a) if f.code in ("part-over-bed", "no-place-for-cut")]
    plate = next(p for p in plates(a) if any(q.piece == lid[0].name for q in p.places))
    scene = trimesh.load(io.BytesIO(package(a, ("3mf",))["set.3mf"]), file_type="3mf")
    step, edge = a.printer.bed_mm[0] + BEDS_APART_MM, 6.0
    assert plate.fits
    for m in scene.dump():  # as another library reads it, all of it is on a bed
        lo, hi = m.bounds
        assert edge - 1e-3 <= lo[0] % step and lo[0] % step + hi[0] - lo[0] <= a.printer.bed_mm[0] - edge + 1e-3
        assert edge - 1e-3 <= lo[1] and hi[1] <= a.printer.bed_mm[1] - edge + 1e-3


def test_what_lies_across_is_laid_and_exported_so(good_wren: Design) -> None:
    long = (222.0, 40.0, 31.0)
    d = apply(
        good_wren,
        Together(
            edits=(
                *(Remove(id=p.id) for p in good_wren.placements if p.on is None),
                Set(path="shell.inner_mm", value=long),
            )
        ),
    )
    a = looked(d)
    lid = next(p for p in a.pieces if p.part == "lid")
    # 227.8 x 45.8 on a bed of 220 less 12: whole, across it
    assert lid.fits_bed and 20 < lid.angle_deg < 70 and len([p for p in a.pieces if p.part == "lid"]) == 1
    assert not [f for f in judge(a) if f.code in ("part-over-bed", "no-place-for-cut")]
    bed, edge = a.printer.bed_mm, 6.0
    scene = trimesh.load(io.BytesIO(package(a, ("3mf",))["set.3mf"]), file_type="3mf")
    step = bed[0] + BEDS_APART_MM  # of the whole set, bed beside bed
    for plate in plates(a):
        for place in plate.places:
            assert plate.fits
            wide, deep = turned_size(next(p for p in a.pieces if p.name == place.piece).bbox_mm[:2], place.angle_deg)
            assert edge - 1e-6 <= place.at_mm[0] and place.at_mm[0] + wide <= bed[0] - edge + 1e-6
            assert edge - 1e-6 <= place.at_mm[1] and place.at_mm[1] + deep <= bed[1] - edge + 1e-6
    # the real outline, read back by another library, lies on a bed
    placed = scene.dump()
    assert len(placed) == len(a.pieces)
    for m in placed:
        lo, hi = m.bounds
        lo_x, hi_x = lo[0] % step, lo[0] % step + hi[0] - lo[0]
        assert (
            edge - 1e-3 <= lo_x
            and hi_x <= bed[0] - edge + 1e-3
            and edge - 1e-3 <= lo[1]
            and hi[1] <= bed[1] - edge + 1e-3
        )


def test_a_part_that_nothing_divides_is_told_once(good_wren: Design) -> None:
    """That it is too large and that no cut has a place is one thing to mend."""
    for change, told in (((), {"part-over-bed"}), (TRIPS["no-place-for-cut"][0](good_wren), {"no-place-for-cut"})):
        edits = (Set(path="printer", value="bench-180"), *change)
        found = judge(analyse(apply(good_wren, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview"))
        by_part = {(f.code, f.subjects[0]) for f in found if f.code in ("part-over-bed", "no-place-for-cut")}
        assert told <= {code for code, _ in by_part}
        parts = [part for _, part in by_part]
        assert len(parts) == len(set(parts))


def test_places_far_from_one_another_take_as_many_cuts_as_they_must() -> None:
    """960 long on a bed of 100: ten pieces would do, but cuts may run at 55, 110, 165 and so on alone, and two of those steps are too long."""
    allowed = [(55.0 * k, 0.0) for k in range(1, 17)]
    assert plan_cuts(960.0, 100.0, allowed) == (pytest.approx(0, abs=1), tuple(c for c, _ in allowed))
    assert plan_cuts(960.0, 100.0, allowed[:7] + allowed[8:]) is None  # 110 mm without a place
    # the farthest that is reached may leave a piece that is too short: one more is tried
    assert plan_cuts(200.0, 100.0, [(60.0, 0.0), (95.0, 0.0), (104.0, 0.0)]) == (
        pytest.approx((200 / 3 - 60 + 400 / 3 - 104) / 200),
        (60.0, 104.0),
    )


@pytest.mark.parametrize("mm", [900.0, -130.0])
def test_a_cut_far_outside_the_case_is_refused_by_its_field(good_wren: Design, mm: float) -> None:
    """*Wren* is 171.38 mm wide with walls of 2.89; what it is made of may stand out by 100."""
    cut = PinnedCut(part="lid", axis="x", at_mm=mm)
    for edit in (PutCut(cut=cut), PutCuts(part="lid", cuts=(cut,))):
        with pytest.raises(DesignError, match=r"outside the case: it can be from -102.89 to 271.38") as e:
            apply(good_wren, edit)
        assert e.value.field == "cuts.lid.x"
