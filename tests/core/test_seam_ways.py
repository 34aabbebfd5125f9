"""Which way to join a cut is proposed, and when two cuts are refused for standing too near to one another."""

from __future__ import annotations

import itertools
import math

import pytest

from rhombex.core.advice.cuts import SeamOut, cuts_table
from rhombex.core.advice.seam_ways import JoinWay, SeamWays, _proposed
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.cuts.bends import bends, shares, wished
from rhombex.core.cuts.joins import JOINS, LEAST_MM, Bolts, apart_mm, hold_of
from rhombex.core.design import Design, JoinKind, PinnedCut
from rhombex.core.edits import Construct, JoinCuts, MoveWall, PutCuts, Set
from rhombex.core.plain import DesignError
from rhombex.core.shell.offers import usual
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.stock import StockItem
from rhombex.core.workshop.workshop import Workshop
from rhombex.demo.scenario import heron


def small(d: Design, workshop: Workshop = ARCHIVE_WORKSHOP) -> Analysis:
    return analyse(apply(d, Set(path="printer", value="bench-180")), workshop, "preview")


def seam(a: Analysis, part: str) -> SeamOut:
    return next(p for p in cuts_table(a).parts if p.cuts.part == part).seams[0]


def ways(a: Analysis, part: str) -> SeamWays:
    return seam(a, part).choice


def without(found: SeamWays, *kinds: JoinKind) -> list[JoinWay]:
    """The ways to join a cut, as if some found no place."""
    return [w.model_copy(update={"places": 0}) if w.by in kinds else w for w in found.ways]


def test_bolts_are_proposed_where_glue_does_not_bear_what_bends_the_seam(good_wren: Design) -> None:
    """The lid of Wren on the small bed: glue bears 5 MPa x 150 mm3, a hand bends it by 2.1 N m, three flanges bear 2.5."""
    found = ways(small(good_wren), "lid")
    at = {w.by: w for w in found.ways}
    assert [w.by for w in found.ways] == list(JOINS)
    assert at["glue alone"].holds.low_nm.value < at["glue alone"].holds.load_nm.value <= at["bolts"].holds.low_nm.value
    assert found.proposed == "bolts" and "2.1 N m bend the seam and glue bears 0.8" in found.why
    # taken, the pieces are as the table said
    taken = small(apply(good_wren, JoinCuts(part="lid", by="bolts")))
    now = seam(taken, "lid")
    was = at["bolts"]
    assert (len(now.cut.dowels), now.holds.low_nm.value) == (was.places, was.holds.low_nm.value)
    assert (now.off_mm, now.minutes) == (was.off_mm, was.minutes)


def test_pins_are_proposed_by_what_lies_in_the_drawer(good_wren: Design) -> None:
    """The base's glue bears: pins only align, from the spool unless steel ones lie there, as many as find a place."""
    found = ways(small(good_wren), "base")
    steel = next(w for w in found.ways if w.by == "steel pins")
    assert found.proposed == "filament pins" and steel.missing and steel.takes == f"{steel.places} dowel pins 3 x 12"
    for count, wants in ((steel.places - 1, "filament pins"), (steel.places, "steel pins")):
        pins = StockItem(item="dowel pin", size="3 x 12", count=count)
        drawer = ARCHIVE_WORKSHOP.model_copy(update={"stock": (*ARCHIVE_WORKSHOP.stock, pins)})
        assert ways(small(good_wren, drawer), "base").proposed == wants, count


@pytest.mark.parametrize("by", JOINS)
def test_every_way_is_told_as_it_is_made(good_wren: Design, by: JoinKind) -> None:
    """What the table says of a way that was not taken is what is there once it is, the cut pinned where it was."""
    for part in ("base", "lid"):
        a = small(good_wren)
        cut = seam(a, part).cut
        told = next(w for w in ways(a, part).ways if w.by == by)
        there = PutCuts(part=part, cuts=(PinnedCut(part=part, axis=cut.axis, at_mm=cut.inside_mm, by=by),))
        now = seam(small(apply(good_wren, there)), part)
        assert now.cut.joined == by and len(now.cut.dowels) == told.places
        assert (now.minutes, now.off_mm) == (told.minutes, told.off_mm)
        assert now.holds.low_nm.value == pytest.approx(told.holds.low_nm.value)


@pytest.mark.parametrize(
    "by, wants",
    [
        ("steel pins", 17.0),
        ("filament pins", 21.0),
        ("glue alone", 10.0),
        ("dovetails", 21.0),
        ("bolts", 10.0),
        ("printed pins", 21.0),
        ("steel rods", 65.0),
        ("rods through all pieces", 10.0),
        ("half-lap", 10.0),
        ("bridging plates", 18.4),
    ],
)
def test_two_cuts_nearer_than_their_joint_is_long_are_refused(good_wren: Design, by: JoinKind, wants: float) -> None:
    """Pins reach 6 (8 of filament) into a piece with 2.5 beyond, dovetails 8 with 2.5, flanges 5: twice that, and no piece of less than 10."""
    assert apart_mm(by, by) == wants
    d = apply(good_wren, JoinCuts(part="lid", by=by))
    near, far = (
        PutCuts(part="lid", cuts=tuple(PinnedCut(part="lid", axis="x", at_mm=x) for x in (60.0, 60.0 + gap)))
        for gap in (wants - 0.1, wants)
    )
    with pytest.raises(DesignError) as e:
        apply(d, near)
    assert e.value.field == "cuts.lid.x" and f"at least {wants:g}" in str(e.value) and by in str(e.value)
    assert len(apply(d, far).cuts) == 2


def test_a_joint_longer_than_two_cuts_are_apart_is_refused(good_wren: Design) -> None:
    """Glued 12 apart they stand; filament pins would meet. Cuts the other way, and of other parts, do not count."""
    cuts = (PinnedCut(part="lid", axis="x", at_mm=60), PinnedCut(part="lid", axis="x", at_mm=72))
    d = apply(apply(good_wren, JoinCuts(part="lid", by="glue alone")), PutCuts(part="lid", cuts=cuts))
    with pytest.raises(DesignError, match="12 mm apart"):
        apply(d, JoinCuts(part="lid", by="filament pins"))
    assert apart_mm("glue alone", "steel pins") == LEAST_MM and apart_mm("filament pins", "bolts") == 15.5
    other = PinnedCut(part="lid", axis="y", at_mm=62)
    apply(d, PutCuts(part="lid", cuts=(cuts[0], other)))
    apply(d, PutCuts(part="base", cuts=(PinnedCut(part="base", axis="x", at_mm=61),)))


def test_where_nothing_bears_it_the_strongest_is_proposed() -> None:
    """Covers of Heron on the small bed: six bolts of 0.83 N m bear the 4.4 that bend the front, where three bear more than the 1.6 of glue and not enough; a
    side with two fans has place for pins only."""
    start = apply(heron(), Set(path="printer", value="bench-180"))
    d = apply(start, Construct(construction=usual(start, "frame and covers")))
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    front, left = ways(a, "cover-front"), ways(a, "cover-left")
    at = {w.by: w.holds for w in front.ways}
    assert at["glue alone"].low_nm.value < at["bolts"].load_nm.value <= at["bolts"].low_nm.value
    assert front.proposed == "bolts" and next(w for w in front.ways if w.by == "bolts").places == 6
    assert left.proposed == "half-lap" and "the half of the plate that runs on bears 3.7" in left.why
    three = at["bolts"].low_nm.model_copy(update={"value": at["bolts"].low_nm.value / 2})
    fewer = [
        w.model_copy(update={"holds": w.holds.model_copy(update={"low_nm": three})}) if w.by == "bolts" else w
        for w in without(front, "bridging plates", "half-lap", "steel rods")
    ]
    by, why = _proposed(fewer)
    assert by == "bolts" and why.endswith("Bolts bear most, 2.5.")
    by, why = _proposed(without(left, "bridging plates", "half-lap", "steel rods"))
    assert by == "steel pins" and next(w for w in left.ways if w.by == "bolts").places == 0
    assert why.startswith("Nothing bears the 3.0 N m that bend it here")


@pytest.mark.parametrize("inside, told", [(2.1, 1), (2.12, 0), (163.48, 0), (163.5, 1)])
def test_a_cut_that_leaves_no_piece_is_told(good_wren: Design, inside: float, told: int) -> None:
    """5 within the lid at least: from 2.11 to 163.49 of the room, which begins 2.89 within and whose lid ends at 171.38."""
    d = apply(good_wren, PutCuts(part="lid", cuts=(PinnedCut(part="lid", axis="x", at_mm=inside),)))
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    assert len([f for f in judge(a) if f.code == "cut-not-made"]) == told
    assert len(next(c for c in a.cuts if c.part == "lid").pieces) == 2 - told


def test_a_cut_along_a_way_that_a_part_is_not_cut_is_told(good_wren: Design) -> None:
    d = apply(good_wren, PutCuts(part="lid", cuts=(PinnedCut(part="lid", axis="z", at_mm=25),)))
    (f,) = [f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "cut-not-made"]
    assert (f.severity == "weigh" and "across x and y only" in f.reason) or f.measured <= 5


def test_a_long_seam_gets_as_many_bolts_as_bear_what_bends_it(good_wren: Design) -> None:
    """A lid of 440 x 146 cut in its middle: a hand bends it by 50 x 220 x 220 / 440 = 5.5 N m, and one bolt over a plate of 3 bears 220 N x 3.75 mm = 0.826: seven of
    them along the cut where there is room, three before."""
    wide = apply(good_wren, MoveWall(face="right", by_mm=270))
    a = analyse(apply(wide, JoinCuts(part="lid", by="bolts")), ARCHIVE_WORKSHOP, "preview")
    lid = next(c for c in a.cuts if c.part == "lid")
    hold = hold_of("bolts", lid.seat)  # type: ignore[arg-type]
    assert isinstance(hold, Bolts) and lid.seat is not None
    for cut in lid.cuts:
        load = bends(a.case, a.things, "lid", Box(lid.lo_mm, lid.hi_mm), cut.axis, cut.at_mm).value
        most = wished(a.case, a.things, "lid", Box(lid.lo_mm, lid.hi_mm), cut.axis, cut.at_mm, hold, 1)
        assert most == max(3, math.ceil(load / (220.2 * 3.75 / 1000))) and 3 <= len(cut.dowels) <= most
        ys = sorted(y for y, _ in cut.dowels)
        assert all(q - p > hold.block_mm + 2 for p, q in itertools.pairwise(ys))
    assert max(len(c.dowels) for c in lid.cuts) > 3
    # pins align, and do not bear: as many as before
    pins = analyse(wide, ARCHIVE_WORKSHOP, "preview")
    assert max(len(c.dowels) for p in pins.cuts if p.part == "lid" for c in p.cuts) <= 3


def test_a_cut_where_the_part_is_bent_most_costs(good_wren: Design) -> None:
    """A hand that leans anywhere on a lid of 171.38 bends it by 50 x (L - x) / L: nine tenths of the greatest moment and more from 0.342 to 0.658 L, which is
    58.6 to 112.8. There a cut costs 0.1, and says why."""
    a = small(good_wren)
    c = next(x for x in a.cuts if x.part == "lid")
    extent, at = Box(c.lo_mm, c.hi_mm), (20.0, 58.0, 59.0, 85.69, 112.0, 113.0, 151.38)
    found = shares(a.case, (), "lid", extent, "x", at)
    assert found == pytest.approx([4 * x * (171.38 - x) / 171.38**2 for x in at], abs=1e-6)
    way = next(w for p in cuts_table(a).parts if p.cuts.part == "lid" for w in p.ways if w.axis == "x")
    free = [x for x in way.prices if x.price is not None]
    told = [x for x in free if "where the part is bent most" in x.why]
    assert told and all(58.5 < x.at_mm < 112.9 and x.price >= 0.1 for x in told if x.price is not None)
    assert all(x in told for x in free if 60 < x.at_mm < 111) and len(told) < len(free)


def test_a_heavy_component_bends_the_part_under_itself_most(good_wren: Design) -> None:
    """Between feet a weight in the middle of its beam bends most where it stands, and half as much half way to a foot; beyond the feet nothing does."""
    a = small(good_wren)
    drive = next(t for t in a.things if t.id == "drive")
    lo, hi = (f(x for x, _ in a.case.feet) for f in (min, max))
    x = drive.frame.origin[0]
    c = next(x for x in a.cuts if x.part == "base")
    at = (x, (x + hi) / 2, lo, hi)
    found = shares(a.case, (drive,), "base", Box(c.lo_mm, c.hi_mm), "x", at)
    assert found == pytest.approx((1.0, 0.5, 0.0, 0.0), abs=1e-9)
