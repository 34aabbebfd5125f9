"""Fields of vents through which nothing comes: told, moved to where there is room, made larger, or taken out. Openings and vents where no wall is."""

from __future__ import annotations

import pytest

from rhombex.core.apply import apply
from rhombex.core.concerns.cut_nothing import ENOUGH
from rhombex.core.constructions import OpenBench
from rhombex.core.design import Design, OwnOpening, VentField
from rhombex.core.edits import Construct, MoveWall, PutOwnOpening, PutVent, Together
from rhombex.core.openings.opening import Vent
from rhombex.core.space import Face, Vec2

from ..conftest import alone
from ..rough import shaped
from .test_webs import own

CODE = "vents-have-no-hole"


def field(id: str, at: Vec2, size: Vec2, face: Face = "left") -> PutVent:
    return PutVent(vent=VentField(id=id, face=face, at_mm=at, size_mm=size, follow_heat=False))


def cut(d: Design, id: str) -> Vent:
    return next(v for v in shaped(d).openings.vents if v.id == id)


def covered(d: Design) -> Design:
    """A field of 30 by 20, and on it one that is smaller all round."""
    return apply(d, Together(edits=(field("first", (60, 15), (30, 20)), field("second", (60, 15), (24, 12)))))


def test_a_field_upon_another_has_no_hole_and_goes_where_there_is_room(good_wren: Design) -> None:
    """24 by 12 holds two rows, of two and one holes of 5 with webs of 1.8, as its number says."""
    d = covered(good_wren)
    alone_there = cut(apply(good_wren, field("second", (60, 15), (24, 12))), "second")
    (f,) = alone(d, CODE)
    assert (f.severity, f.measured, f.limit, f.unit, f.subjects) == ("weigh", 0.0, 1.0, "holes", ("second", "vents"))
    assert f"All {len(alone_there.holes)} that have room" in f.reason and cut(d, "second").holes == ()
    move, out = f.remedies
    assert move.label == "Move these vents to a free place on their wall"
    then = apply(d, Together(edits=move.edits))
    assert alone(then, CODE) == [] and cut(then, "first") == cut(d, "first")
    assert len(cut(then, "second").holes) >= ENOUGH * len(alone_there.holes) > 1
    gone = apply(d, Together(edits=out.edits))
    assert out.label == "Take these vents out" and [v.id for v in gone.vents if v.face == "left"] == ["first"]


def test_where_the_wall_is_full_they_can_only_go(good_wren: Design) -> None:
    full = apply(good_wren, Together(edits=(own(1, (69, 15), (128, 22)), field("second", (60, 15), (24, 12)))))
    (f,) = alone(full, CODE)
    assert [r.label for r in f.remedies] == ["Take these vents out"]


@pytest.mark.parametrize(("across", "told"), [(7.0, True), (7.1, False)])
def test_a_field_holds_a_hole_from_its_corners_on(good_wren: Design, across: float, told: bool) -> None:
    """A square of 5 on its corner is 7.07 across."""
    d = apply(good_wren, field("small", (69, 15), (across, across)))
    found = alone(d, CODE)
    assert bool(found) is told
    for f in found:
        assert "One hole is 7.1 mm from corner to corner" in f.reason
        larger = next(r for r in f.remedies if r.label.startswith("Make"))
        then = apply(d, Together(edits=larger.edits))
        assert alone(then, CODE) == [] and len(cut(then, "small").holes) == 4 + 3


def test_vents_that_keep_some_holes_are_no_concern(good_wren: Design) -> None:
    d = apply(good_wren, Together(edits=(field("wide", (60, 15), (40, 20)), own(1, (60, 15), (10, 10)))))
    assert 0 < len(cut(d, "wide").holes) < len(cut(apply(good_wren, field("wide", (60, 15), (40, 20))), "wide").holes)
    assert alone(d, CODE) == []


def test_what_is_on_a_face_without_a_wall_is_kept_and_told(good_wren: Design) -> None:
    """An open bench has a floor alone: an opening in that is cut, one on its left is not, nor are the vents that *Wren* had at its back."""
    walls = apply(good_wren, own(1, (60, 15), (20, 8)))
    assert alone(walls, "cut-in-no-wall") == []
    bench = apply(walls, Construct(construction=OpenBench()))
    found = {f.subjects: f for f in alone(bench, "cut-in-no-wall")}
    assert set(found) == {("own/opening-1", "left"), ("vent-back", "back")}
    mine = found["own/opening-1", "left"]
    assert (mine.severity, mine.measured, mine.limit, mine.title) == ("advice", 0.0, 1.0, "Opening 1 is in no wall")
    for f in found.values():
        (out,) = f.remedies
        left = {x.subjects for x in alone(apply(bench, Together(edits=out.edits)), "cut-in-no-wall")}
        assert left == set(found) - {f.subjects}
    floor = OwnOpening(id="opening-2", name="Opening 2", face="bottom", at_mm=(20, 60), size_mm=(10, 6))
    assert {f.subjects for f in alone(apply(bench, PutOwnOpening(opening=floor)), "cut-in-no-wall")} == set(found)


def broad(d: Design) -> Design:
    return apply(d, Together(edits=(MoveWall(face="right", by_mm=400), MoveWall(face="back", by_mm=400))))


def test_a_field_of_too_many_holes_is_told_as_that_and_has_its_wall(good_wren: Design) -> None:
    d = apply(broad(good_wren), field("many", (280, 280), (550, 530), "top"))
    assert "more than 4000 holes" in shaped(d).faults[0].message
    assert alone(d, "cut-in-no-wall") == [] and alone(d, CODE) == []


def test_a_covered_field_that_would_be_too_large_elsewhere_can_only_go(good_wren: Design) -> None:
    """It follows the heat: where it is covered it stays small, and in the size that is set it would have more holes than one may."""
    vents = VentField(id="heat", face="top", at_mm=(280, 330), size_mm=(550, 530), follow_heat=True)
    over = OwnOpening(id="over", name="Over", face="top", at_mm=(280, 330), size_mm=(545, 400))
    d = apply(broad(good_wren), Together(edits=(PutOwnOpening(opening=over), PutVent(vent=vents))))
    (f,) = alone(d, CODE)
    assert cut(d, "heat").dropped > 0 and [r.label for r in f.remedies] == ["Take these vents out"]
