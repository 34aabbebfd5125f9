"""What a cut costs at its place: over faces that are seen, through vents, where a part is bent most, in line with another one's."""

from __future__ import annotations

from math import radians, tan

import pytest

from rhombex.core.advice.cuts import SeamOut, cuts_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.concerns.cuts import _low_nmm
from rhombex.core.constructions import TwoHalves
from rhombex.core.cuts.bends import beam_of
from rhombex.core.cuts.places import IN_LINE_MM, CutPlace, in_line, kept_apart
from rhombex.core.cuts.shows import shown
from rhombex.core.design import Design, PinnedCut, Shell
from rhombex.core.edits import PutCut, PutCuts, Set
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew, heron


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


def small(d: Design) -> Design:
    return apply(d, Set(path="printer", value="bench-180"))


def prices_of(d: Design, part: str, axis: str) -> list[CutPlace]:
    """The places of a part's cuts across an axis."""
    way = next(
        w
        for p in cuts_table(analyse(d, ARCHIVE_WORKSHOP, "preview")).parts
        if p.cuts.part == part
        for w in p.ways
        if w.axis == axis
    )
    return [p for p in way.prices if p.price is not None]


SEEN_WREN = {
    ("desk", "base", "x"): ("front",),
    ("desk", "base", "y"): ("left", "right"),
    ("desk", "lid", "x"): ("front", "top"),
    ("desk", "lid", "y"): ("left", "right", "top"),
    ("shelf", "base", "y"): (),
    ("shelf", "lid", "x"): ("front",),
}


@pytest.mark.parametrize(("stands", "part", "axis"), SEEN_WREN, ids=str)
def test_a_seam_that_is_seen_costs_more(good_wren: Design, stands: str, part: str, axis: str) -> None:
    """Every face that a cut runs over and that is seen costs 0.05 (a rule of ours), on top of what else costs there."""
    d = apply(good_wren, Set(path="brief.stands", value=stands))
    found = prices_of(d, part, axis)
    faces = SEEN_WREN[stands, part, axis]
    assert len(found) > 5
    for p in found:
        assert [f for f in ("front", "back", "left", "right", "top", "bottom") if f"seen on the {f}" in p.why] == list(
            faces
        ), p
        rest = 0.5 * ("vent field" in p.why) + 0.1 * ("bent most" in p.why) + 0.05 * ("few places" in p.why)
        assert p.price == pytest.approx(0.05 * len(faces) + rest), p


def seam_of(d: Design, at: float, turn: float, part: str = "lid") -> tuple[Analysis, SeamOut]:
    cut = PinnedCut(part=part, axis="x", at_mm=at, turn_deg=turn)
    a = analyse(apply(d, PutCuts(part=part, cuts=(cut,))), ARCHIVE_WORKSHOP, "preview")
    (seam,) = next(p for p in cuts_table(a).parts if p.cuts.part == part).seams
    return a, seam


def test_every_cut_says_what_its_place_costs(good_wren: Design) -> None:
    """A cut between two places of the grid is told by the nearer one."""
    for at in (82.6, 83.0):
        _, seam = seam_of(good_wren, at, 0.0)
        assert seam.costs is not None and seam.costs.price is not None
        assert abs(seam.costs.at_mm - seam.cut.at_mm) <= 1.0 and "seen on the top" in seam.costs.why


def test_a_turned_cut_is_told_its_own_price(good_wren: Design) -> None:
    """Hardly turned it costs as much as straight, in its own place. Through the boss of a screw it may not run."""
    for at, price in ((15.0, 0.1), (82.6, 0.2)):  # front and top are seen; and where it is bent most
        _, straight = seam_of(good_wren, at, 0.0)
        a, hardly = seam_of(good_wren, at, 0.5)
        assert straight.costs is not None and hardly.costs is not None
        assert (hardly.costs.price, hardly.costs.why) == (straight.costs.price, straight.costs.why)
        assert hardly.costs.price == pytest.approx(price)
        assert hardly.costs.at_mm == hardly.cut.at_mm == pytest.approx(at + a.case.cavity.lo[0])
    _, through = seam_of(good_wren, 45.0, 0.5)
    assert through.costs is None and through.cut.crosses == ("fan grille",)
    # a line of 20 degrees through the middle of a post, by hand: where it is in the middle of the part
    post = next(m for m in a.case.mounts if m.part == "base" and 50 < m.at[0] < 120)
    (base,) = (c for c in a.cuts if c.part == "base")
    middle = post.at[0] + (post.at[1] - (base.lo_mm[1] + base.hi_mm[1]) / 2) * tan(radians(20.0))
    _, seam = seam_of(good_wren, middle - a.case.cavity.lo[0], 20.0, "base")
    assert f"post of {post.of}" in seam.cut.crosses and seam.costs is None


def test_what_stands_behind_another_part_is_not_seen() -> None:
    """A tray's rails along the floor are behind the sleeve; at its ends, where the sleeve is open, the tray itself is the outside."""
    d = heron()
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    assert a.case.kind == "tray in a sleeve"
    wall, deep = d.shell.wall_mm, a.case.box_mm[1]
    rails = [w for w in a.case.walls if (w.face, w.part) == ("left", "tray") and w.hi_mm[0] - w.lo_mm[0] > 2 * wall]
    assert rails, "it has rails there"
    seen = [(s.lo, s.hi, s.why) for s in shown(d, a.case, "tray", "y")]
    assert {why for _, _, why in seen} == {"seen on the left", "seen on the right", "seen on the top"}
    assert all(s == pytest.approx((deep - wall, deep)) for s in ((lo, hi) for lo, hi, _ in seen))


def test_seams_of_mating_parts_do_not_run_round_the_case() -> None:
    """A frame's covers and halves of one length would be cut at one place; no two cuts of mating parts lie within a centimetre where both may move."""
    d = Design(
        name="Long", shell=Shell(inner_mm=(300, 60, 40), construction=TwoHalves(joint_mm=34)), printer="bench-180"
    )
    base, lid = (next(c for c in looked(d).cuts if c.part == part) for part in ("base", "lid"))
    assert len(base.cuts) == len(lid.cuts) == 1
    assert abs(base.cuts[0].at_mm - lid.cuts[0].at_mm) >= IN_LINE_MM
    table = next(p for p in cuts_table(looked(d)).parts if p.cuts.part == "lid")
    told = [x for x in table.ways[0].prices if "in line with the cut of another part" in x.why]
    assert told and all(x.price is not None and x.price >= 0.3 for x in told)
    # a hand may put it there all the same
    pinned = apply(d, PutCut(cut=PinnedCut(part="lid", axis="x", at_mm=base.cuts[0].inside_mm)))
    assert next(c for c in looked(pinned).cuts if c.part == "lid").cuts[0].at_mm == pytest.approx(base.cuts[0].at_mm)


def test_each_way_is_judged_by_its_own_strips() -> None:
    """Cut both ways by the planner: no cut runs through what stands in the way of the other one."""
    a = looked(small(curlew()))
    assert {c.axis for x in a.cuts for c in x.cuts} == {"x", "y"}
    assert all(c.crosses == () for x in a.cuts for c in x.cuts)
    assert not [f.title for f in judge(a) if f.code == "cut-through-feature"]


def test_a_place_in_line_with_any_other_cut_costs_more(good_wren: Design) -> None:
    """By hand: 0.3 within 10 mm of one of them, whichever it is; where no cut may run nothing is added."""
    place = CutPlace(at_mm=100.0, price=0.1, why="seen on the top")
    cut = seam_of(good_wren, 82.6, 0.0)[1].cut.model_copy(update={"pinned": False})

    def lines(*at: float, pinned: bool = False) -> tuple[tuple[float, float], ...]:
        return in_line([cut.model_copy(update={"at_mm": x, "pinned": pinned}) for x in at], "x")

    for elsewhere in ((40.0, 109.9), (90.1, 160.0), (100.0,)):
        found = kept_apart(place, lines(*elsewhere))
        assert found.price == pytest.approx(0.4) and found.why.startswith("seen on the top, in line")
    assert kept_apart(place, lines(40.0, 110.0)) == place
    assert in_line([cut.model_copy(update={"at_mm": 100.0})], "y") == ()
    # one that a hand drags from 108 to 116 moves that stretch once, half way: 104 +- 14, then 112 +- 14, then 120 +- 14
    assert [lines(x, pinned=True) for x in (107.9, 108.1, 115.9, 116.1)] == [
        ((90.0, 118.0),),
        ((98.0, 126.0),),
        ((98.0, 126.0),),
        ((106.0, 134.0),),
    ]
    none = CutPlace(at_mm=100.0, price=None, why="post of Board")
    assert kept_apart(none, lines(100.0)) == none


def test_what_a_seam_bears_elsewhere_is_remembered_place_by_place(good_wren: Design) -> None:
    """Against the seam of a cut that a hand puts there."""
    a, seam = seam_of(good_wren, 82.6, 0.0)
    (c,) = (c for c in a.cuts if c.part == "lid")
    assert c.seat is not None
    beam = beam_of(a.case, a.things, c.part, Box(c.lo_mm, c.hi_mm), "x")
    for at in (15.0, 45.0, 15.0):
        _, other = seam_of(good_wren, at, 0.0)
        if len(other.cut.dowels) == len(seam.cut.dowels):
            told = _low_nmm(a, c, seam.cut, c.seat, other.cut.at_mm, beam)
            assert told == pytest.approx(other.holds.low_nm.value * 1000)
    # through the grille of the fan there is less to glue
    vented, plain = (_low_nmm(a, c, seam.cut, c.seat, at, beam) for at in (47.89, 17.89))
    assert vented < 0.98 * plain
