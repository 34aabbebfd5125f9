"""Fans on walls: which of them work against one another, and who is left in peace."""

from __future__ import annotations

from typing import Any

import pytest

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.air.streams import fan_pairs
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.choices import made_so
from rhombex.core.concerns import air, judge
from rhombex.core.constructions import SlidingPanels, TwoHalves
from rhombex.core.design import Design, OwnOpening, Placement, Shell, VentField, read_design
from rhombex.core.edits import (
    Blow,
    Edit,
    PlaceNew,
    PutOwnOpening,
    PutVent,
    RemoveVent,
    Set,
    Swap,
    ToFace,
    Together,
)
from rhombex.core.openings.vents import vent
from rhombex.core.plain import DesignError
from rhombex.core.space import Vec2
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import alone, findings
from ..rough import shaped
from .test_concerns import second_fan

CODES = ("fans-against-each-other", "fan-draws-its-own-air", "fan-way-not-said")


def heard(d: Design) -> list[str]:
    return [f.code for code in CODES for f in findings(d, code)]


@pytest.mark.parametrize(
    ("first", "second", "face", "right_mm", "said"),
    [
        ("in", "out", "bottom", 0.0, []),  # in line: one hands on to the other
        ("out", "out", "bottom", 0.0, ["fans-against-each-other"]),
        ("in", "in", "bottom", 30.0, ["fans-against-each-other"]),
        ("in", "in", "bottom", 40.0, []),  # 37.5 apart the streams pass
        ("out", "out", "top", 45.0, []),  # side by side and the same way
        ("out", "in", "top", 45.0, ["fan-draws-its-own-air"]),
        ("out", "in", "left", 0.0, []),  # round a corner
        (None, None, "left", 0.0, []),
        (None, None, "top", 45.0, ["fan-way-not-said", "fan-way-not-said"]),
        ("in", None, "bottom", 0.0, ["fan-way-not-said"]),
    ],
)
def test_which_fans_hinder_one_another(
    good_wren: Design, first: Any, second: Any, face: Any, right_mm: float, said: list[str]
) -> None:
    d = apply(good_wren, Together(edits=(Blow(id="fan", blows=first), second_fan(good_wren, right_mm, second, face))))
    assert heard(d) == said


def test_the_way_that_helps_its_neighbour_is_offered_first(good_wren: Design) -> None:
    for face, first, best in (
        ("bottom", "in", "out"),
        ("bottom", "out", "in"),
        ("top", "in", "in"),
        ("top", "out", "out"),
    ):
        d = apply(
            good_wren,
            Together(edits=(Blow(id="fan", blows=first), second_fan(good_wren, 45.0 * (face == "top"), None, face))),
        )  # type: ignore[arg-type]
        (f,) = findings(d, "fan-way-not-said")
        assert f.remedies[0].label == f"Second fan blows {best}"
        assert heard(apply(d, *f.remedies[0].edits)) == []


def test_the_number_is_the_distance_that_is_there(good_wren: Design) -> None:
    d = apply(good_wren, second_fan(good_wren, 50.0, "in"))
    (p,) = fan_pairs(arrange(d))
    assert (p.how, p.apart_mm, p.free_mm) == ("side by side", pytest.approx(50 - 37.5), pytest.approx(37.5))
    assert not p.told and not p.spoilt


def test_air_that_all_fans_push_in_has_no_way_out(good_wren: Design) -> None:
    bare = apply(good_wren, RemoveVent(id="vent-back"))
    for way, missing in (("in", "out"), ("out", "in")):
        (f,) = findings(apply(bare, Blow(id="fan", blows=way)), "vents-too-small")  # type: ignore[arg-type]
        assert f.severity == "stop" and f.title == f"There is no way {missing} for air"


def test_only_the_fan_of_a_wall_blows(good_wren: Design) -> None:
    with pytest.raises(DesignError, match="only a fan on a wall"):
        apply(good_wren, Blow(id="board", blows="in"))
    d = apply(good_wren, Blow(id="fan", blows="out"))
    assert apply(d, ToFace(id="fan", face="left", at_mm=(0, 60, 20))).placement("fan").blows == "out"  # type: ignore[union-attr]
    assert apply(d, Swap(id="fan", component="fan-40x20")).placement("fan").blows == "out"  # type: ignore[union-attr]
    # a button in its place blows no air, and the design is not refused for it
    assert apply(d, Swap(id="fan", component="button-16")).placement("fan").blows is None  # type: ignore[union-attr]
    assert apply(d, Blow(id="fan", blows=None)).placement("fan").blows is None  # type: ignore[union-attr]
    assert read_design(d.model_dump(mode="json")) == d


def warm(inner_mm: tuple[float, float, float], joint_mm: float) -> Design:
    """A pump of 8 W and nothing else, in the middle of two halves."""
    middle = (inner_mm[0] / 2, inner_mm[1] / 2, 4.0)
    return Design(
        name="Warm",
        placements=(Placement(id="pump", component="pump-60", name="Pump", at_mm=middle),),
        shell=Shell(inner_mm=inner_mm, construction=TwoHalves(joint_mm=joint_mm)),
        printer="bench-300",
    )


def test_vents_in_as_many_walls_as_the_heat_asks_for() -> None:
    """A pump of 8 W without a fan asks for 162 cm2, with none of its heat through the walls. By hand these carry 4.15 W at 10 K: sides and top of 206.3 x 136.3 x 118
    are 0.109 m2, and 1 / (1/8 + 0.00315/0.13 + 1/8.82) is 3.81 W/m2K (8.82 outside: 5.55 by radiation at 300.65 K, 3.27 by convection on 118 mm). 78 are left;
    walls of 130 and 200 by 94, half of them open, give 40 and 64, and either alone is not offered. Nor is the lid: in and out through it there is no height."""
    d = warm((200.0, 130.0, 112.0), 94.0)
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    assert a.ladder.walls_w == pytest.approx(4.15, abs=0.01)
    f = next(f for f in judge(a) if f.code == "vents-too-small")
    assert (
        f.limit == pytest.approx(162.3 * (1 - 4.15 / 8), rel=2e-3) and "of which 4.1 go through the walls" in f.reason
    )
    assert [r.label for r in f.remedies] == ["Add vents in the left and back walls"]
    (several,) = f.remedies

    def after(edits: tuple[Edit, ...]) -> set[str]:
        return {x.code for x in judge(analyse(apply(d, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview"))}

    assert "vents-too-small" not in after(several.edits)
    assert "vents-too-small" in after(several.edits[:1]) and "vents-too-small" in after(several.edits[1:])


def test_a_fan_before_vents_in_all_walls() -> None:
    """The same pump in a flat case: it would take all its walls, and a fan is offered first, the smallest whose half moves what the heat asks
    for: 8 W at 10 K are 8 / (1.184 x 1006 x 10) = 0.672 l/s, and 6 cfm 2.83 l/s. Both clear."""
    d = warm((180.0, 120.0, 60.0), 46.0)
    f = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "vents-too-small")
    assert [r.label for r in f.remedies] == [
        "Put in a fan 40 x 10, 5 V and vents in the left wall",
        "Add vents in the left, back, right, front and top walls",
    ]
    vented = analyse(apply(d, Together(edits=f.remedies[1].edits)), ARCHIVE_WORKSHOP, "preview")
    assert "vents-too-small" not in {x.code for x in judge(vented)}
    after = analyse(apply(d, Together(edits=f.remedies[0].edits)), ARCHIVE_WORKSHOP, "preview")
    assert "vents-too-small" not in {x.code for x in judge(after)}
    # with the 0.8 W of its own
    assert after.need.flow_m3s == pytest.approx(8.8 / (1.184 * 1006 * 10), rel=1e-3)


def test_a_fan_that_is_put_in_stands_in_no_post() -> None:
    """A flat case of sliding panels, with a display in its top: the fan that is offered lands beside the corner posts of the base, on whichever wall has room."""
    d = Design(
        name="x", shell=Shell(inner_mm=(260, 200, 100), construction=TwoHalves(joint_mm=40)), printer="bench-180"
    )
    for key in ("sbc-85x56", "display-5", "usb-a-panel", "pump-60"):
        d = apply(d, PlaceNew(component=key))
    for edits in (
        (walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")),),
        made_so(d, ARCHIVE_WORKSHOP, "sliding panels"),
    ):
        d = apply(d, Together(edits=edits))
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none")))
    (f,) = findings(d, "vents-too-small")
    fan = next(r for r in f.remedies if r.label.startswith("Put in a fan"))
    after = apply(d, Together(edits=fan.edits))
    assert {p.component for p in after.placements} - {p.component for p in d.placements} == {"fan-40x10"}
    stops = {x.key for x in judge(analyse(after, ARCHIVE_WORKSHOP, "preview")) if x.severity == "stop"}
    assert not stops - {x.key for x in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if x.severity == "stop"}
    assert f.key not in stops


@pytest.mark.parametrize(("wide", "offered"), [(58.0, False), (66.0, True)])
def test_a_fan_of_40_is_offered_where_corner_posts_leave_it_room(wide: float, offered: bool) -> None:
    """Posts of 10 mm in either corner leave 38 of 58 mm and 46 of 66; the top and the bottom are as wide, front and back are taken."""
    d = Design(name="x", shell=Shell(inner_mm=(50, wide, 100), construction=SlidingPanels(post_mm=10)))
    d = apply(d, PlaceNew(component="pump-60"))
    labels = [r.label for f in alone(d, "vents-too-small") for r in f.remedies]
    assert labels and any("fan" in x for x in labels) == offered, labels


def test_without_vents_little_heat_goes_through_the_walls(good_wren: Design) -> None:
    """A closed case is to be weighed as long as the air in it stays under the 60 degrees that boards are made for; in a warmer room it is a stop."""
    closed = good_wren.model_copy(
        update={"vents": (), "placements": tuple(p for p in good_wren.placements if p.id != "fan")}
    )
    found = []
    for room in (5.0, 10.0, 11.0, 12.5, 15.0, 25.0):
        d = apply(closed, Set(path="brief.room_c", value=room))
        a = analyse(d, ARCHIVE_WORKSHOP, "none")
        (f,) = findings(d, "vents-too-small")
        assert f.title == "There is no way in for air" and f.measured == 0.0
        assert f"comes to {a.ladder.inside_c:.0f} °C" in f.reason
        found.append((a.ladder.inside_c, f.severity))
    assert all(severity == ("weigh" if inside <= 60.0 else "stop") for inside, severity in found), found
    assert {severity for _, severity in found} == {"weigh", "stop"}
    near = sorted(found, key=lambda x: abs(x[0] - 60.0))[:2]
    assert {severity for _, severity in near} == {"weigh", "stop"} and all(abs(x - 60.0) < 3 for x, _ in near), near


def test_what_does_not_let_in_enough_is_not_offered_beside_what_does(good_wren: Design) -> None:
    """Two boards ask for more than all walls have: a fan alone. Where there is one already that is starved, all walls that are left are the most that can be
    done, with the vents of a set size grown as far as they go."""
    warm = apply(good_wren, PlaceNew(component="sbc-85x56"))
    bare = warm.model_copy(update={"vents": (), "placements": tuple(p for p in warm.placements if p.id != "fan")})
    (f,) = findings(bare, "vents-too-small")
    (fan,) = f.remedies
    assert fan.label == "Put in a fan 40 x 10, 5 V and vents in the left and back walls"
    assert findings(apply(bare, Together(edits=fan.edits)), "vents-too-small") == []
    few = VentField(id="few", face="left", at_mm=(67, 10), size_mm=(14, 8), follow_heat=False)
    blown = apply(
        good_wren,
        Together(edits=(RemoveVent(id="vent-back"), PutVent(vent=few), Swap(id="fan", component="fan-120x25"))),
    )
    for d in (blown, apply(blown, PutVent(vent=few.model_copy(update={"size_mm": (40, 8)})))):
        (f,) = findings(d, "vents-too-small")
        (most,) = f.remedies
        assert most.label == "Let the vents follow the heat, and add vents in the back and top walls"
        (after,) = findings(apply(d, Together(edits=most.edits)), "vents-too-small")
        assert f.measured < after.measured < 0.9 * f.limit


def test_no_fan_is_offered_that_starves(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    """A fan of 40 x 10 asks for 9.5 cm2 of vents of its own: where no wall has room for any, it is not offered; a field of a set size that can grow is enough."""
    monkeypatch.setattr(air, "_more_fields", lambda a: [])
    bare = good_wren.model_copy(
        update={"vents": (), "placements": tuple(p for p in good_wren.placements if p.id != "fan")}
    )
    (f,) = findings(bare, "vents-too-small")
    assert f.remedies == ()
    few = VentField(id="few", face="back", at_mm=(76, 10), size_mm=(30, 8), follow_heat=False)
    vented = apply(apply(bare, PlaceNew(component="sbc-85x56")), PutVent(vent=few))
    (f,) = findings(vented, "vents-too-small")
    (fan,) = f.remedies
    assert fan.label == "Put in a fan 40 x 10, 5 V, and let the vents follow the heat"
    assert findings(apply(vented, Together(edits=fan.edits)), "vents-too-small") == []


@pytest.mark.parametrize("need_mm2", [60.0, 300.0, 900.0, 2400.0, 5200.0])
def test_vents_grow_row_by_row_and_no_farther_than_is_asked_for(need_mm2: float) -> None:
    """Holes of 5 mm, 25 mm2 each: enough of them, and a row less, or a column once all rows are there, would not be."""
    a = analyse(warm((200.0, 130.0, 112.0), 94.0), ARCHIVE_WORKSHOP, "none")
    field = VentField(id="v", face="back", at_mm=(100.0, 50.0), size_mm=(40.0, 20.0))
    grown = vent(a.case, field, field.at_mm, [], (), need_mm2, 5.0, 1.8)
    assert grown.free_area_mm2 == 25.0 * len(grown.holes) >= need_mm2
    pitch = 6.8 * 2**0.5
    w, h = grown.size_mm
    less = (w - pitch, h) if w > 40.0 else (w, h - pitch / 2)
    if less[1] > 5.0 * 2**0.5 - 1e-6:
        set_ = field.model_copy(update={"size_mm": less})
        assert vent(a.case, set_, field.at_mm, [], (), None, 5.0, 1.8).free_area_mm2 < need_mm2


def test_a_field_is_laid_anew_where_something_comes_into_it(wren: Design) -> None:
    """A hole of 12 x 6 mm in the middle of a field of 66 x 12.5: what stands nearer to it than a web is left out, and put back with it gone."""
    own = OwnOpening(id="hole", name="Hole", face="back", at_mm=(57.0, 10.5), size_mm=(12.0, 6.0), allowed=False)

    def holes(d: Design) -> set[Vec2]:
        return set(next(v for v in shaped(d).openings.vents if v.id == "vent-back").holes)

    with_hole = apply(wren, PutOwnOpening(opening=own))
    all_, left = holes(wren), holes(with_hole)
    u0, v0, u1, v1 = (57.0 + 3.0 - 6.0, 10.5 + 3.0 - 3.0, 57.0 + 3.0 + 6.0, 10.5 + 3.0 + 3.0)  # beside the wall of 3
    assert left < all_ and all(abs(u - 60.0) < 14.0 for u, _ in all_ - left)
    assert not [h for h in left if u0 < h[0] < u1 and v0 < h[1] < v1]
    assert holes(wren) == all_


def test_what_walls_carry_is_not_counted_where_the_air_is_too_warm_all_the_same() -> None:
    """Walls of a large case carry more than the 8 W at 10 K: without vents nothing is asked for in a room of 25 degrees. In one of 57 the air inside is over
    the 60 that boards bear, and vents are asked for as if there were no walls."""
    d = warm((400.0, 300.0, 150.0), 120.0)
    assert analyse(d, ARCHIVE_WORKSHOP, "none").ladder.walls_w > 8.0 and findings(d, "vents-too-small") == []
    hot = apply(d, Set(path="brief.room_c", value=57.0))
    a = analyse(hot, ARCHIVE_WORKSHOP, "none")
    (f,) = findings(hot, "vents-too-small")
    assert a.ladder.inside_c > 60.0 and f.severity == "stop" and f.limit == pytest.approx(a.need.vents_mm2 / 100)
    assert "through the walls," not in f.reason.split(" ask for")[0]
