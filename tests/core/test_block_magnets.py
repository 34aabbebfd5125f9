"""Block magnets: their pull against the world, and their pockets as they are made."""

from __future__ import annotations

from math import hypot, pi
from typing import Any

import numpy as np
import pytest
from scipy.integrate import dblquad

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.case.joints import MagnetPair
from rhombex.core.constructions import Magnets, SlidingPanels
from rhombex.core.design import Design
from rhombex.core.edits import Construct, HoldByMagnets, Set
from rhombex.core.exchange.write_sheet import sheet_svg
from rhombex.core.fit.pull import block_pull_n, pull_n, pull_on_head_n
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.plain import DesignError
from rhombex.core.plan.checks import checks
from rhombex.core.plan.magnets_map import magnets_map
from rhombex.core.remedies import effect_of
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stock import StockItem
from rhombex.demo.scenario import dunlin

from ..conftest import findings
from ..rough import shaped

MU_0 = 4e-7 * pi
SMALL = Magnets(d_mm=5, long_mm=10, high_mm=2, fixed="glued")


def sheets_n(a: float, b: float, gap: float) -> float:
    """Two alike sheets of 1 T of magnetic charge, a x b mm, face to face: the overlap at every offset (x, y) is (a - |x|)(b - |y|), and each bit of it
    pulls with gap / distance^3 (Coulomb's law of poles, any text on magnetism)."""
    f = dblquad(lambda y, x: (a - x) * (b - y) * gap / (x * x + y * y + gap * gap) ** 1.5, 0, a, 0, b)[0]
    return float(4 * f / (4 * pi * MU_0)) * 1e-6


@pytest.mark.parametrize(
    ("long", "wide", "high", "gap", "br"),
    [(10, 5, 2, 0.2, 1.3), (15, 5, 3, 0.4, 1.2), (20, 10, 3, 1.0, 1.45), (10, 10, 3, 3.0, 1.3)],
)
def test_the_pull_of_two_blocks_is_that_of_their_charged_faces(
    long: float, wide: float, high: float, gap: float, br: float
) -> None:
    near, middle, far = (sheets_n(long, wide, gap + k * high) for k in (0, 1, 2))
    assert block_pull_n(long, wide, high, gap, br) == pytest.approx(br**2 * (near - 2 * middle + far), rel=1e-4)


# length, width, height, gap, remanence -> N; computed with magpylib 6.3.0, getFT of two cuboids, 60,000 cells (2026-11-28)
REFERENCE = (
    (10, 5, 2, 0.2, 1.3, 10.7317),
    (15, 5, 3, 0.4, 1.2, 15.1882),
    (20, 10, 3, 1.0, 1.45, 30.2345),
    (10, 10, 3, 3.0, 1.3, 6.62879),
    (20, 5, 3, 0.6, 1.32, 20.7500),
)


@pytest.mark.parametrize(("long", "wide", "high", "gap", "br", "newtons"), REFERENCE)
def test_the_pull_of_two_blocks_is_that_of_a_reference_library(
    long: float, wide: float, high: float, gap: float, br: float, newtons: float
) -> None:
    assert block_pull_n(long, wide, high, gap, br) == pytest.approx(newtons, rel=5e-4)


def test_far_apart_blocks_pull_as_dipoles_and_a_square_one_nearly_as_the_disc_of_its_area() -> None:
    """F = 3 mu0 m^2 / (2 pi z^4) for dipoles on one axis (any text on magnetism)."""
    br, long, wide, high, z = 1.3, 6.0, 3.0, 1.0, 100.0
    m = br / MU_0 * long * wide * high * 1e-9
    far = 3 * MU_0 * m**2 / (2 * pi * (z / 1000) ** 4)
    assert block_pull_n(long, wide, high, z - high, br) == pytest.approx(far, rel=1e-2)
    assert block_pull_n(10, 10, 3, 0.4, br) == pytest.approx(pull_n(10 * 2 / pi**0.5, 3, 0.4, br), rel=0.02)


def test_a_head_holds_a_block_by_what_it_covers_of_it() -> None:
    """A head of 5.5 on a block of 10 x 5: an oval of 5.5 x 5 of its 50 mm2, its image twice as far away."""
    whole = block_pull_n(10, 5, 2, 0.2, 1.3)
    assert pull_on_head_n(5, 10, 2, 0.1, 1.3, 5.5) == pytest.approx(whole * pi / 4 * 5.5 * 5 / 50)


def looked_at(d: Design) -> Analysis:
    return shaped(d)


@pytest.fixture(scope="module")
def held(good_wren: Design) -> dict[str, Analysis]:
    return {
        "two halves": looked_at(apply(good_wren, HoldByMagnets(magnets=SMALL))),
        "sliding panels": looked_at(apply(good_wren, Construct(construction=SlidingPanels(post_mm=14, magnets=SMALL)))),
        "Dunlin": looked_at(apply(dunlin(), HoldByMagnets(magnets=SMALL))),
    }


def room(p: MagnetPair, way: int, long: float, wide: float, start: float, end: float) -> Any:
    """A box before or behind the joint (`way` 1 or -1 along the pair), as long as it lies."""
    i = next(k for k in range(3) if p.along[k])
    ends = sorted(p.at[i] + way * p.along[i] * x for x in (start, end))
    half = [(long if k == p.lies else wide) / 2 for k in range(3)]
    lo = [ends[0] if k == i else p.at[k] - half[k] for k in range(3)]
    hi = [ends[1] if k == i else p.at[k] + half[k] for k in range(3)]
    return mk.evaluate(block(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))), mk.FILE_TOL)


@pytest.mark.parametrize("case", ["two halves", "sliding panels", "Dunlin"])
def test_every_pocket_takes_its_block_and_shows_its_pole(held: dict[str, Analysis], case: str) -> None:
    """A block under its pocket's size goes in to its depth, corners and all; a hair longer, wider or deeper is plastic. In a strip along its long sides the
    plastic of one half-round notch is missing where north faces out, of two where south does."""
    a = held[case]
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.recipes.items()}
    assert a.case.magnets
    for p in a.case.magnets:
        i = next(k for k in range(3) if p.along[k])
        assert p.lies == (0 if i == 2 else 2)  # along the beam, or the front
        for part, way, long, wide, pole in (
            (p.into, 1, p.into_pocket_long_mm, p.into_pocket_mm, p.pole),
            (p.holds, -1, p.holds_pocket_long_mm, p.holds_pocket_mm, "S" if p.pole == "N" else "N"),
        ):
            deep = 2.1  # 2 and a little under flush (common practice)
            assert (parts[part] ^ room(p, way, long - 0.02, wide - 0.02, 0.0, deep - 0.02)).volume() < 1e-3, p.id
            floor = room(p, way, long - 0.1, wide - 0.1, deep + 0.02, deep + 0.5)
            assert (parts[part] ^ floor).volume() > 0.99 * floor.volume(), p.id
            ends = room(p, way, long + 0.8, wide - 1.0, 0.6, deep - 0.1) - room(p, way, long + 0.02, wide, 0.5, deep)
            assert (parts[part] ^ ends).volume() > 0.99 * ends.volume(), p.id
            sides = room(p, way, long - 1.0, wide + 0.8, 0.6, deep - 0.1) - room(p, way, long, wide + 0.02, 0.5, deep)
            missing = sides.volume() - (parts[part] ^ sides).volume()
            # of a circle of 0.6 the strip 0.01 to 0.4 from its middle: 2 x 0.39 x sqrt(0.36 - y^2), y near 0.2
            one = 0.43 * (deep - 0.1 - 0.6)
            assert missing == pytest.approx((1 if pole == "N" else 2) * one, rel=0.1), (p.id, part, pole)


@pytest.mark.parametrize("case", ["two halves", "sliding panels", "Dunlin"])
def test_parts_are_whole_and_stand_in_no_other(held: dict[str, Analysis], case: str) -> None:
    a = held[case]
    assert not a.faults
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.recipes.items()}
    for name, m in parts.items():
        assert len(m.decompose()) == a.case.part(name).bodies and mk.watertight(m), name
        assert all((m ^ q).volume() < 5e-3 for n, q in parts.items() if n > name), name


def test_pockets_grow_by_what_holes_come_out_smaller_by_and_by_glue(held: dict[str, Analysis]) -> None:
    """Upright holes in PLA: 0.15 and 0.3 % of 10 and of 5 (common practice), glue 0.2."""
    p = held["two halves"].case.magnets[0]
    assert p.into_pocket_long_mm == pytest.approx(10 + 0.15 + 0.03 + 0.2) == p.holds_pocket_long_mm
    assert p.into_pocket_mm == pytest.approx(5 + 0.15 + 0.015 + 0.2)
    said = {(c.how, round(c.mm, 3)) for c in checks(held["two halves"], held["two halves"].pieces[0])}
    assert {("pocket, length", 10.38), ("pocket, width", 5.365), ("pocket, depth", 2.1)} <= said


def test_plastic_round_a_block_is_wanted_across_it(good_wren: Design) -> None:
    """Bosses are round about its diagonal; a post takes its length, an upright beam its width. With 1.6 of wall (common practice)."""
    boss = looked_at(apply(good_wren, HoldByMagnets(magnets=SMALL))).case.magnets[0].od_mm
    assert boss == pytest.approx(hypot(10, 5) + 3.2)
    # the top of Dunlin's beams of 13: 10 + 3.2; 12.9 as the beam stands back from its cover
    thin = findings(apply(dunlin(), HoldByMagnets(magnets=SMALL)), "magnet-pocket-thin")
    assert [(f.severity, round(f.measured, 2), round(f.limit, 2)) for f in thin] == [("stop", 13.0, 13.2)]
    mended = thin[0].remedies[0]
    d = apply(dunlin(), HoldByMagnets(magnets=SMALL))
    assert mended.label == "Make the beams 13.2 mm" and effect_of(d, ARCHIVE_WORKSHOP, thin[0].key, mended.edits).clears
    narrow = apply(
        apply(dunlin(), HoldByMagnets(magnets=SMALL.model_copy(update={"d_mm": 10.0, "long_mm": 20.0}))),
        Set(path="shell.construction.beam_mm", value=24),
    )
    assert not findings(narrow, "magnet-pocket-thin")


def test_blocks_are_billed_bought_and_drawn() -> None:
    d = apply(dunlin(), HoldByMagnets(magnets=SMALL))
    drawer = (StockItem(item="block magnet", size="10 x 5 x 2, N42", count=12),)
    a = analyse(d, ARCHIVE_WORKSHOP.model_copy(update={"stock": drawer}))
    lines = {(x.use, x.size): x.count for x in a.bill if x.item == "block magnet"}
    sides = ("cover-front", "cover-back", "cover-left", "cover-right", "cover-top")
    assert lines == {(x, "10 x 5 x 2, N42"): 8 for x in sides} and not any("disc" in x.item for x in a.bill)
    found = hardware_table(a)
    bought = next(x for x in found.shopping.lines if x.item == "block magnet")
    assert (bought.need, bought.have, bought.pack, bought.packs) == (40, 12, 10, 3)
    assert found.magnets is not None and found.magnets.size == "10 x 5 x 2"
    front = next(p for p in found.magnets.parts if p.held.part == "cover-front")
    assert {q.size_mm for q in front.pockets} == {(5.0, 10.0)} and all(q.block for q in front.pockets)
    sheet = magnets_map(a)
    assert sheet is not None and "40 blocks 10 x 5 x 2, N42, glued" in sheet_svg(sheet).decode()


def test_a_disc_becomes_about_as_large_a_block_and_back(held: dict[str, Analysis]) -> None:
    """A disc of 8 x 2 has 101 mm3: of the blocks that sit in the bosses 10 x 5 x 2 with its 100 is nearest; 25 of them, 15 N a pair, hold the lid."""
    a = held["two halves"]
    table = hardware_table(a).magnets
    assert table is not None and table.other_shape is not None and table.other_shape.magnets is not None
    disc = table.other_shape.magnets
    assert (disc.long_mm, disc.d_mm, disc.high_mm, disc.fixed) == (None, 8.0, 2.0, "glued")
    back = hardware_table(looked_at(apply(a.design, table.other_shape))).magnets
    assert back is not None and back.other_shape is not None and back.other_shape.magnets == SMALL
    h = table.parts[0].held
    one = (block_pull_n(10, 5, 2, 0.4, 1.28), block_pull_n(10, 5, 2, 0.2, 1.32))
    assert h.low_n.value == pytest.approx(len(h.pairs) * one[0], rel=1e-5) and h.high_n.value == pytest.approx(
        len(h.pairs) * one[1]
    )
    # 100 mm3 of 7.5 g/cm3 in each pair
    assert h.weighs_g == pytest.approx(a.part_mass_g()["lid"] + len(h.pairs) * 0.75)


def test_a_block_that_is_wider_than_long_is_refused(good_wren: Design) -> None:
    with pytest.raises(DesignError, match="shorter than its width"):
        apply(apply(good_wren, HoldByMagnets(magnets=SMALL)), Set(path="shell.construction.magnets.long_mm", value=4))
    with pytest.raises(ValueError, match="shorter than its width"):
        Magnets(d_mm=8, long_mm=7)
    with pytest.raises(ValueError, match="10 x 5 x 2, N42"):
        StockItem(item="block magnet", size="10 x 5, N42", count=1)
    assert np.isfinite(block_pull_n(3, 3, 1, 0.0, 1.3))
