"""Posts under the free end of what is held at one end: where they stand, how high, what keeps off them."""

from __future__ import annotations

from functools import cache

import pytest

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.bodies import body_in
from rhombex.core.bench.gaps import hard
from rhombex.core.case.mounts import Prop
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge_bare
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design, OwnOpening
from rhombex.core.edits import Move, PropUp, PutOwnOpening, Remove, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.shell.props import held_at_one_end
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron


def looked(d: Design) -> Analysis:
    return analyse(d, ARCHIVE_WORKSHOP, "preview")


@cache
def propped(*ids: str) -> Analysis:
    return looked(apply(heron(), Together(edits=tuple(PropUp(id=i, rests_on="post") for i in ids))))


def the(a: Analysis) -> Prop:
    (p,) = a.case.props
    return p


def test_the_card_of_heron_rests_on_a_post_at_its_free_corner() -> None:
    """Its board is 234.84 to 349.84 by 66.44 to 266.44, 32.5 over the underside of the case; held at its edge on the left and by its bracket behind. The
    corner right in front is the farthest: a post of 8, from the tray's floor to 0.3 under the board."""
    a = propped("card")
    p = the(a)
    assert (p.of, p.part, p.d_mm) == ("card", "tray", 8.0)
    assert p.at == pytest.approx((349.84 - 4, 66.44 + 4), abs=0.01) and p.top_mm == pytest.approx(32.5 - 0.3)
    tray = mk.evaluate(a.recipes["tray"], mk.FILE_TOL)
    bare = mk.evaluate(looked(heron()).recipes["tray"], mk.FILE_TOL)
    more = tray - bare
    lo, hi = more.bounding_box()[:3], more.bounding_box()[3:]
    assert (lo[2], hi[2]) == (pytest.approx(a.case.cavity.lo[2], abs=1e-3), pytest.approx(p.top_mm, abs=1e-3))
    assert more.volume() == pytest.approx(3.14159 / 4 * 64 * (p.top_mm - a.case.cavity.lo[2]), rel=1e-3)
    assert len(tray.decompose()) == 1
    card = next(t for t in a.things if t.id == "card")
    over = min(body_in(card, s).min_gap(tray, 2.0) for s in hard(card) if s.name == "board")
    assert over == pytest.approx(0.3, abs=1e-3)


def test_it_stands_in_nothing_and_clears_the_concern() -> None:
    for ids in (("card",), ("supply",), ("card", "supply")):
        a = propped(*ids)
        before = {(f.code, f.subjects) for f in judge_bare(looked(heron()))}
        found = judge_bare(a)
        assert [f.title for f in found if (f.code, f.subjects) not in before] == []
        told = {f.subjects[0] for f in found if f.code == "nothing-under-it"}
        assert told == {"card", "supply"} - set(ids)
        for p in a.case.props:
            post = mk.evaluate(block(Box((*p.box.lo[:2], a.case.cavity.lo[2]), p.box.hi)), mk.FILE_TOL)
            for t in a.things:
                assert all((body_in(t, s) ^ post).volume() < 1e-6 for s in hard(t)), (p.of, t.id)


def test_a_tall_post_is_thicker() -> None:
    """The supply hangs 64 over the floor: a seventh of that."""
    a = propped("supply")
    p = the(a)
    high = p.top_mm + 0.3 - a.case.cavity.lo[2]
    assert high > 60 and p.d_mm == pytest.approx(high / 7)


@pytest.mark.parametrize("kind", ["sliding panels", "two halves", "frame and covers", "open bench"])
def test_every_construction_with_a_floor_has_it(kind: str) -> None:
    d = apply(heron(), Together(edits=made_so(heron(), ARCHIVE_WORKSHOP, kind)))
    a = looked(apply(d, PropUp(id="card", rests_on="post")))
    p = the(a)
    m = mk.evaluate(a.recipes[p.part], mk.FILE_TOL)
    top = Box((*p.box.lo[:2], p.top_mm - 0.5), p.box.hi)
    full = mk.evaluate(block(top), mk.FILE_TOL)
    assert (m ^ full).volume() == pytest.approx(3.14159 / 4 * p.d_mm**2 * 0.5, rel=1e-2), kind
    assert len(m.decompose()) == 1


def test_where_something_stands_it_stands_beside_that() -> None:
    """The drive moved under the card's free corner: the post stands where it is not, as far out as before or less, or there is none and that is told."""
    d = apply(heron(), PropUp(id="card", rests_on="post"))
    was = the(looked(d))
    room = looked(d).case.cavity.lo
    under = apply(d, Move(id="drive", to_mm=(345.0 - room[0] - 35, 70.0 - room[1] + 10, 8.0)))
    a = looked(under)
    drive = next(t for t in a.things if t.id == "drive")
    for p in a.case.props:
        assert p.at != was.at and all(max(p.box.gaps(s.box)) >= 0 for s in drive.solids)
    if not a.case.props:
        (told,) = [f for f in judge_bare(a) if f.code == "nothing-under-it" and f.subjects[0] == "card"]
        assert told.title.startswith("No post finds a place") and told.remedies[0].label == "Do without the post"


def test_cuts_and_openings_keep_off_it() -> None:
    a = propped("card")
    p = the(a)
    found = [s for s in strips(a.case, a.openings, "tray", "x") if s.why == "post under card"]
    assert len(found) == 1 and found[0].lo < p.box.lo[0] and found[0].hi > p.box.hi[0]
    face = a.case.face("bottom")
    u, v = face.on((*p.at, 0.0))
    hole = OwnOpening(
        id="h", name="Hole", face="bottom", at_mm=(u - face.inset_mm[0], v - face.inset_mm[1]), size_mm=(10, 10)
    )
    told = [
        f for f in judge_bare(looked(apply(a.design, PutOwnOpening(opening=hole)))) if f.code == "opening-meets-screw"
    ]
    assert [f.title for f in told if "card" in f.subjects] == ["Hole runs through the post under Card"]


def test_only_what_is_held_at_one_end_wants_one() -> None:
    a = looked(heron())
    assert {t.id for t in a.things if held_at_one_end(t)} == {
        "card",
        "supply",
    }  # a fan of 120 x 25 lies flat against its wall
    # a fan weighs too little to be told; a cooler stands on its socket
    assert {f.subjects[0] for f in judge_bare(a) if f.code == "nothing-under-it"} == {"card", "supply"}
    without = apply(a.design, Together(edits=(Remove(id="card"), Remove(id="supply"))))
    assert not [f for f in judge_bare(looked(without)) if f.code == "nothing-under-it"]
