"""Hooks under free ends: measured on the mesh, where they stand, what they are screwed with, which walls bear them."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import pytest

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.bodies import body_in
from rhombex.core.bench.gaps import hard
from rhombex.core.case.mounts import Hook
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge, judge_bare
from rhombex.core.cuts.strips import strips
from rhombex.core.design import Design, OwnJoint
from rhombex.core.edits import PropUp, PutJoint, PutRibs, Remove, Set, Together
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.recipe import block
from rhombex.core.shell import hooks
from rhombex.core.space import FACES, Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import heron

from ..rough import shaped


def looked(d: Design) -> Analysis:
    return shaped(d)


@cache
def made(kind: str, on: str | None = "hook", *more: tuple[str, object]) -> Analysis:
    """*Heron* made another way, its supply on a hook."""
    d = apply(heron(), Together(edits=made_so(heron(), ARCHIVE_WORKSHOP, kind)))
    edits = tuple(Set(path=p, value=v) for p, v in more)
    return looked(apply(d, Together(edits=(PropUp(id="supply", rests_on=on), *edits))))  # type: ignore[arg-type]


def the(a: Analysis) -> Hook:
    (h,) = a.case.hooks
    return h


def filled(a: Analysis, part: str, lo: tuple[float, float, float], hi: tuple[float, float, float]) -> float:
    """What share of a box a part fills."""
    probe = mk.evaluate(block(Box(lo, hi)), mk.FILE_TOL)
    return float((mk.evaluate(a.recipes[part], mk.FILE_TOL) ^ probe).volume() / probe.volume())


def test_a_hook_is_a_wedge_of_45_degrees_under_the_free_end() -> None:
    """The supply hangs on the front wall, its right side 18.5 from the right wall: the hook reaches 10 under it, 28.5 in all, 3 thick at its end and 31.5 at the wall;
    two inserts of M3 wide (2 x 9.2 + 1), 0.3 under the supply."""
    a = made("two halves")
    h = the(a)
    supply = next(t for t in a.things if t.id == "supply")
    under = min((s.box for s in hard(supply) if s.role == "body"), key=lambda b: b.lo[2])
    wall = a.case.cavity.hi[0]
    assert (h.on, h.face, h.part) == ("base", "right", "hook-supply")
    assert h.reach_mm == pytest.approx(wall - under.hi[0] + 10) and h.tip_mm == 3 and h.wide_mm == pytest.approx(19.4)
    m = mk.evaluate(a.recipes[h.part], mk.FILE_TOL)
    lo, hi = m.bounding_box()[:3], m.bounding_box()[3:]
    assert hi[2] == pytest.approx(under.lo[2] - 0.3) and hi[0] == pytest.approx(wall)
    assert lo[0] == pytest.approx(under.hi[0] - 10) and hi[2] - lo[2] == pytest.approx(h.reach_mm + 3)
    holes = 2 * 3.14159 / 4 * h.screws[0].hole_mm ** 2 * h.screws[0].hole_depth_mm
    assert m.volume() == pytest.approx(h.wide_mm * (h.reach_mm * 3 + h.reach_mm**2 / 2) - holes, rel=2e-3)
    assert min(body_in(supply, s).min_gap(m, 2.0) for s in hard(supply)) == pytest.approx(0.3, abs=1e-3)
    # as far from where it is held as it can be: at the end behind
    assert hi[1] == pytest.approx(under.hi[1], abs=0.01)
    # half way out, what is over the slope is full and what is under it empty
    x, y, z = wall - h.reach_mm / 2, (lo[1] + hi[1]) / 2, hi[2]
    slope = z - 3 - h.reach_mm / 2
    assert filled(a, h.part, (x - 0.1, y - 1, slope + 0.2), (x + 0.1, y + 1, slope + 1)) == pytest.approx(1, abs=1e-3)
    assert filled(a, h.part, (x - 0.1, y - 1, slope - 1), (x + 0.1, y + 1, slope - 0.2)) == 0


def test_two_screws_hold_it_from_outside_through_the_wall() -> None:
    """Clear through the wall, in plastic all round in the hook, whose hole is as deep as its insert wants and ends in it."""
    a = made("two halves")
    h = the(a)
    outer = a.case.box_mm[0]
    for j in h.screws:
        x, y, z = j.at
        assert (x, j.along) == (pytest.approx(a.case.cavity.hi[0]), (-1.0, 0.0, 0.0))
        r, s = j.clearance_mm / 2 * 0.7, j.od_mm / 2
        assert filled(a, "base", (x, y - r, z - r), (outer, y + r, z + r)) == 0
        wall = filled(a, "base", (x, y - s, z - s), (outer, y + s, z + s))  # vents keep off it
        assert wall == pytest.approx(1 - 3.14159 / 4 * j.clearance_mm**2 / j.od_mm**2, abs=0.003)
        r, deep = j.hole_mm / 2 * 0.7, j.hole_depth_mm
        assert filled(a, h.part, (x - deep + 0.05, y - r, z - r), (x, y + r, z + r)) == pytest.approx(0, abs=1e-6)
        assert filled(a, h.part, (x - deep - 0.3, y - r, z - r), (x - deep - 0.05, y + r, z + r)) == pytest.approx(1)
        # plastic all round the hole, to its end
        around = filled(a, h.part, (x - deep, y - s, z - s), (x, y + s, z + s))
        assert around == pytest.approx(1 - 3.14159 / 4 * j.hole_mm**2 / j.od_mm**2, abs=0.003)
    (group,) = [g for g in a.joints if g.name == "hook of Supply"]
    assert (group.count, group.thread, group.holding) == (2, "M3", "insert") and group.screw_mm
    strips_of_foam = [x for x in a.bill if x.item.startswith("foam strip") and "Supply" in x.use]
    assert [x.count for x in strips_of_foam] == [1]
    change = made("two halves", "hook", ("shell.post_thread", "cut in plastic"))
    assert {j.holding for j in the(change).screws} == {"cut in plastic"}


def test_its_screws_have_a_row_of_their_own_and_a_length_that_a_hand_chooses() -> None:
    a = made("two halves")
    row = next(r for r in hardware_table(a).rows if r.joint.key == "hook/supply")
    assert row.joint.count == 2 and row.joint.holds == "base" and row.lengths
    other = next(x for x in row.lengths if x.length_mm != row.joint.screw_mm)
    longer = looked(apply(a.design, other.edit))
    assert {j.screw_mm for j in the(longer).screws} == {other.length_mm}
    d = apply(a.design, PutJoint(joint=OwnJoint(of="hook/supply", screw_mm=5)))
    (f,) = [f for f in judge_bare(looked(d)) if f.code == "wall-screw-length"]
    assert "hook of Supply" in f.title and f.measured == 5
    assert looked(apply(d, Remove(id="supply"))).design.joints == ()


@pytest.mark.parametrize("kind", ["two halves", "frame and covers"])
def test_it_clears_the_concern_and_meets_nothing(kind: str) -> None:
    a, plain = made(kind), made(kind, None)
    (f,) = [f for f in judge(plain) if f.code == "nothing-under-it" and f.subjects[0] == "supply"]
    assert "Put a hook under the free end of Supply" in [r.label for r in f.remedies]
    before = {(f.code, f.title) for f in judge_bare(plain)}
    found = [f for f in judge_bare(a) if (f.code, f.title) not in before]
    assert [f.code for f in found if f.code != "many-screw-kinds"] == []
    assert not [f for f in judge_bare(a) if f.code == "nothing-under-it" and f.subjects[0] == "supply"]
    hook = mk.evaluate(a.recipes["hook-supply"], mk.FILE_TOL)
    for name, r in a.recipes.items():
        if name != "hook-supply":
            assert (mk.evaluate(r, mk.FILE_TOL) ^ hook).volume() == pytest.approx(0, abs=1e-3), name
    for t in a.things:
        assert all((body_in(t, s) ^ hook).volume() < 1e-6 for s in hard(t)), t.id


def test_it_lies_on_its_side_and_hangs_nowhere() -> None:
    a = made("two halves")
    (p,) = [p for p in a.pieces if p.name == "hook-supply"]
    assert p.bbox_mm[2] == pytest.approx(the(a).wide_mm, abs=0.01) and p.watertight and p.bodies == 1
    assert not [f for f in judge(a) if f.code in ("hangs-free", "long-bridge") and "hook-supply" in f.subjects]


def test_on_a_cover_it_comes_with_it_when_the_case_is_full() -> None:
    a = made("frame and covers")
    h = the(a)
    hook, cover = a.case.part(h.part), a.case.part(h.on)
    assert h.on == "cover-right" and hook.put_on == cover.put_on and hook.rides == cover.name
    assert not [f for f in judge_bare(a) if f.code == "cannot-be-put-on"]


@pytest.mark.parametrize("kind", ["core and wrap", "sliding panels", "corners and sheet"])
def test_a_wall_that_comes_from_above_or_of_sheet_bears_none(kind: str) -> None:
    """A panel that slides down, or a wrap, would bring the hook through what it carries: told, with the post that stands there instead."""
    a = made(kind)
    assert a.case.hooks == ()
    (f,) = [f for f in judge(a) if f.code == "nothing-under-it" and f.subjects[0] == "supply"]
    assert f.title == "No hook finds a place under the free end of Supply"
    assert [r.label for r in f.remedies] == ["Put a post under the free end of Supply", "Do without the hook"]


def test_it_keeps_off_where_its_wall_will_be_open(monkeypatch: pytest.MonkeyPatch) -> None:
    """An opening in the wall behind a corner of the hook: it stands beside that, all of it."""
    a = made("two halves")
    was, supply = the(a).room, next(t for t in a.things if t.id == "supply")
    x = a.case.cavity.hi[0]
    hole = Box((x, was.hi[1] - 2, was.lo[2] - 10), (x, was.hi[1] + 20, was.lo[2] + 2))
    monkeypatch.setattr(hooks, "open_walls", lambda *_: {f: [hole] if f == "right" else [] for f in FACES})
    now = hooks.hook_of(a.design, a.printer, a.case.model_copy(update={"hooks": ()}), a.things, supply)
    assert now is not None and now.room.hi[1] <= hole.lo[1] and now.room.hi[1] > hole.lo[1] - 5


def test_it_keeps_half_a_millimetre_off_what_stands_beside_it() -> None:
    """A block whose side is 0.3 from the hook as it stood, then 0.6: it moves on for the one and stays for the other."""
    a = made("two halves")
    was = the(a).room
    supply, other = (next(t for t in a.things if t.id == i) for i in ("supply", "drive"))

    def beside(gap: float) -> Hook:
        lo, hi = (was.lo[0], was.lo[1] - gap - 5, was.lo[2]), (was.hi[0], was.lo[1] - gap, was.hi[2])
        solid = replace(other.solids[0], box=Box(lo, hi))
        things = tuple(replace(t, solids=(solid,)) if t.id == "drive" else t for t in a.things)
        found = hooks.hook_of(a.design, a.printer, a.case.model_copy(update={"hooks": ()}), things, supply)
        assert found is not None
        return found

    assert beside(0.6).room == was
    moved = beside(0.3).room
    assert moved != was and (moved.lo[1] >= was.lo[1] - 0.3 + 0.5 or moved.hi[1] <= was.lo[1] - 5.3 - 0.5)


def test_cuts_ribs_and_openings_keep_off_it() -> None:
    a = made("frame and covers")
    h = the(a)
    (s,) = [s for s in strips(a.case, a.openings, h.on, "y") if s.why == "hook under supply"]
    assert s.lo < h.room.lo[1] and s.hi > h.room.hi[1]
    d = apply(a.design, PutRibs(face="right", count=6, high_mm=8))
    for r in looked(d).case.ribs:
        assert any(r.box.lo[i] >= h.room.hi[i] or r.box.hi[i] <= h.room.lo[i] for i in range(3))
