"""Rods that run on through all pieces of a part: one line through every seam, measured on the mesh."""

from __future__ import annotations

import itertools
import json
from functools import cache
from math import pi

import pytest

from rhombex.core.advice.cuts import cuts_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.cuts.holding import seam_hold
from rhombex.core.cuts.joins import THROUGH, hold_of, through_or
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.turned import Line
from rhombex.core.design import PinnedCut, read_design
from rhombex.core.edits import Edit, JoinCuts, PutCuts, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.shell.solids import bore
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stock import StockItem, pack_of
from tests.conftest import GOOD_WREN


@cache
def with_(*edits: Edit) -> Analysis:
    d = read_design(json.loads(GOOD_WREN.read_text()))
    return analyse(apply(d, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")


def lid_of(a: Analysis) -> PartCuts:
    return next(c for c in a.cuts if c.part == "lid")


SMALL = Set(path="printer", value="bench-180")


def at(x: float, axis: str = "x", by: str | None = None) -> PinnedCut:
    return PinnedCut(part="lid", axis=axis, at_mm=x, by=by)  # type: ignore[arg-type]


ONCE: tuple[Edit, ...] = (SMALL, JoinCuts(part="lid", by=THROUGH))
TWICE: tuple[Edit, ...] = (PutCuts(part="lid", cuts=(at(50), at(110, by=THROUGH))),)


@pytest.mark.parametrize("edits", [ONCE, TWICE], ids=["two pieces", "three pieces"])
def test_one_line_through_every_piece(edits: tuple[Edit, ...]) -> None:
    """4 + 0.2 of slip (common practice) + what 4 mm shrink by 0.3 %; from wall to wall 171.38 - 2 x 2.89, less the lid's band of 1.0654 and half a
    millimetre at either end; 2 of plastic and half a millimetre of air at either end, sawn to whole millimetres."""
    a = with_(*edits)
    c, wide = lid_of(a), 4 + 0.2 + 4 * 0.003
    first, last = 2.89 + 0.5 + 1.0654, 171.38 - 2.89 - 0.5 - 1.0654
    meshes = [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]
    whole = meshes[0]
    for m in meshes[1:]:
        whole = whole + m
    assert all(x.joined == THROUGH and x.dowels == c.cuts[0].dowels and x.pin == c.cuts[0].pin for x in c.cuts)
    pin, ridge = c.cuts[0].pin, c.cuts[0].ridge_mm
    assert pin is not None and (pin.item, pin.d_mm, pin.long_mm) == ("steel rod", 4.0, 157.0)
    assert ridge == (pytest.approx(first, abs=0.02), pytest.approx(last, abs=0.02))
    assert len(c.cuts[0].dowels) >= 2
    for q, z in c.cuts[0].dowels:

        def along(d: float, start: float, end: float, q: float = q, z: float = z) -> mk.Manifold:
            return mk.evaluate(bore((0.0, q, z), (1.0, 0.0, 0.0), d, start, end), mk.FILE_TOL)

        low, high = ridge[0] + 2, ridge[1] - 2
        free = along(wide - 0.03, low + 0.05, high - 0.05)
        assert (whole ^ free).volume() < 1e-3 and high - low >= pin.long_mm + 1 - 1e-6
        ring = along(wide + 2 * 1.3, low, high) - along(wide + 0.05, low - 1, high + 1)
        assert (whole ^ ring).volume() > 0.99 * ring.volume()
        for start, end in ((ridge[0] + 0.1, low - 0.05), (high + 0.05, ridge[1] - 0.1)):
            past = along(4.0, start, end)
            assert (whole ^ past).volume() > 0.99 * past.volume()
        for m in meshes:  # every piece has some of it
            assert (m ^ along(wide + 2.6, low, high)).volume() > 20
    for x, y in itertools.combinations(meshes, 2):
        assert (x ^ y).volume() < 1e-3
    mine = {x.name for x in c.pieces}
    assert all(p.watertight and p.bodies == 1 for p in a.pieces if p.name in mine) and not a.faults


@pytest.mark.parametrize("edits", [ONCE, TWICE], ids=["two pieces", "three pieces"])
def test_a_rod_is_bought_once_however_many_seams_it_crosses(edits: tuple[Edit, ...]) -> None:
    a = with_(*edits)
    n = len(lid_of(a).cuts[0].dowels)
    assert [(x.item, x.size, x.count) for x in a.bill if x.use == "joint of lid"] == [("steel rod", "4 x 157", n)]


def test_a_metre_of_bar_gives_as_many_as_are_sawn_from_it() -> None:
    """1000 / (157 + 1.5) = 6.3; of the short ones 1000 / 61.5 = 16.3; what one costs does not hang on how many are asked for."""
    assert [pack_of((), "steel rod", s)[0] for s in ("4 x 157", "4 x 60", "4 x 1200")] == [6, 16, 1]
    assert pack_of((), "steel rod", "4 x 157")[1].value == 4.0
    own = (StockItem(item="steel rod", size="4 x 157", count=0, pack=3),)
    assert pack_of(own, "steel rod", "4 x 157")[0] == 3


def test_the_shorter_piece_bears_what_a_rod_bears() -> None:
    """Yield 235 x pi x 4^3 / 32 = 1.4765 N m, or what crushes the plastic: 15 x 4 x l^2 / 6, with l = 10.5 from the seam to the hole's end 1.1 N m."""
    for inside, held in ((80.0, None), (13.5, 10.5)):
        a = with_(PutCuts(part="lid", cuts=(at(inside, by=THROUGH),)))
        c = lid_of(a)
        assert c.seat is not None and c.cuts[0].ridge_mm is not None
        found = seam_hold(a.design, a.case, a.things, c, c.cuts[0], c.seat, a.recipes["lid"])
        low = c.cuts[0].at_mm - c.cuts[0].ridge_mm[0] - 2
        each = 235 * pi * 64 / 32 / 1000 if held is None else BEARING * 4 * low**2 / 6 / 1000
        if held is not None:
            assert low == pytest.approx(held, abs=0.6)
        assert found.low_nm.value == pytest.approx(len(c.cuts[0].dowels) * each, rel=1e-4)
        assert next(x.value for x in found.low_nm.inputs if x.name == "rods") == len(c.cuts[0].dowels)


BEARING = 15.0  # MPa, long-term, of printed plastic (common practice)


def test_rods_run_one_way_and_pins_join_the_other() -> None:
    """Rods both ways would meet: along the longer way of a part that is cut both ways they go through, dowel pins join the other cuts."""
    a = with_(PutCuts(part="lid", cuts=(at(80), at(60, "y"))), JoinCuts(part="lid", by=THROUGH))
    joined = {x.axis: x for x in lid_of(a).cuts}
    assert (joined["x"].joined, joined["y"].joined) == (THROUGH, "steel pins")
    assert joined["y"].ridge_mm is None and joined["x"].ridge_mm is not None
    c = lid_of(a)
    meshes = [mk.evaluate(a.pieces_in_case[p.name], mk.FILE_TOL) for p in c.pieces]
    assert len(meshes) == 4 and all(len(m.decompose()) == 1 for m in meshes)
    room = joined["x"]
    for q, _ in room.dowels:  # no pin of the other cut stands in a ridge
        assert all(abs(q - joined["y"].at_mm) > 4 + 8.5 for _ in joined["y"].dowels)
    seat = c.seat
    assert seat is not None
    long, square = Box((0, 0, 0), (9, 5, 1)), Box((0, 0, 0), (5, 5, 1))
    x, y = Line(0, 2, 3.0), Line(1, 2, 3.0)
    for size in (long, square):
        assert (through_or(THROUGH, seat, size, x, (y,)), through_or(THROUGH, seat, size, y, (x,))) == (
            THROUGH,
            "steel pins",
        )
    assert through_or(THROUGH, seat, long, y, ()) == THROUGH and through_or("bolts", seat, long, y, (x,)) == "bolts"
    turned = Line(0, 2, 3.0, 2.5, 10.0)
    assert through_or(THROUGH, seat, long, turned, ()) == through_or(THROUGH, seat, long, x, (turned,)) == "steel pins"


def test_the_table_offers_them_with_what_they_take() -> None:
    """Beside the other ways; where a cut the other way has none of its own they are not offered."""
    a = with_(SMALL)
    table = {t.cuts.part: t for t in cuts_table(a).parts}
    way = next(w for w in table["lid"].seams[0].choice.ways if w.by == THROUGH)
    n = len(lid_of(with_(*ONCE)).cuts[0].dowels)
    assert (
        (way.places, way.wanted) == (n, 2) and way.takes == f"{n} steel rods 4 x 157 through all pieces" and way.missing
    )
    both = {t.cuts.part: t for t in cuts_table(with_(PutCuts(part="lid", cuts=(at(80), at(60, "y"))))).parts}["lid"]
    offered = {s.cut.axis: {w.by for w in s.choice.ways} for s in both.seams}
    assert THROUGH in offered["x"] and THROUGH not in offered["y"]
    drawn = {t.cuts.part: t for t in cuts_table(with_(*TWICE)).parts}["lid"].seams
    for s in drawn:  # as ridges from end to end
        assert all(max(x for x, _ in p) - min(x for x, _ in p) == pytest.approx(162.47, abs=0.05) for p in s.plan)


def test_a_cut_in_which_rods_find_no_way_is_told_with_ways_out() -> None:
    """The posts of *Wren*'s board stand in every line through its base."""
    a = with_(SMALL, JoinCuts(part="base", by=THROUGH))
    found = next(f for f in judge(a) if f.code == "no-place-for-cut")
    assert found.severity == "stop" and found.subjects == ("base",)
    assert next(r.label for r in found.remedies) == "Join the pieces of the base by glue alone"
    assert hold_of(THROUGH, lid_of(with_(*ONCE)).seat) is not None  # type: ignore[arg-type]
