"""Fans on walls: which of them work against one another, and who is left in peace."""

from __future__ import annotations

from typing import Any

import pytest

from rhombex.core.air.streams import fan_pairs
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.choices import made_so
from rhombex.core.concerns import judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Placement, Shell, read_design
from rhombex.core.edits import Blow, Edit, PlaceNew, RemoveVent, Set, Swap, ToFace, Together, walls_round
from rhombex.core.plain import DesignError
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import findings
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
    """A pump of 8 W without a fan asks for 162 cm2; walls of 200 and 130 by 85 under the seam, half of them open, give less than 92 and 60. All are offered at
    once, and they are enough; the first wall alone is not."""
    d = warm((200.0, 130.0, 112.0), 94.0)
    f = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "vents-too-small")
    several, one = f.remedies[:2]
    assert several.label.startswith("Add vents in the left") and " and " in several.label
    assert one.label == "Add vents in the left wall" and len(several.edits) >= 4

    def after(edits: tuple[Edit, ...]) -> set[str]:
        return {x.code for x in judge(analyse(apply(d, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview"))}

    assert "vents-too-small" not in after(several.edits)
    assert "vents-too-small" in after(several.edits[:-1]) and "vents-too-small" in after(one.edits)


def test_a_fan_where_no_walls_are_enough() -> None:
    """The same pump in a flat case: all its walls together open too little, and a fan is offered first, the smallest whose half moves what the heat asks
    for: 8 W at 10 K are 8 / (1.184 x 1006 x 10) = 0.672 l/s, and 6 cfm 2.83 l/s. It clears."""
    d = warm((180.0, 120.0, 60.0), 46.0)
    f = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == "vents-too-small")
    assert f.remedies[0].label == "Put in a fan 40 x 10, 5 V and vents in the left wall"
    after = analyse(apply(d, Together(edits=f.remedies[0].edits)), ARCHIVE_WORKSHOP, "preview")
    assert "vents-too-small" not in {x.code for x in judge(after)}
    # with the 0.8 W of its own
    assert after.need.flow_m3s == pytest.approx(8.8 / (1.184 * 1006 * 10), rel=1e-3)


def test_a_fan_that_is_put_in_stands_in_no_post() -> None:
    """A flat case of sliding panels, with a display in its top: the fan that is offered lands beside the corner posts of the base, on whichever wall has room."""
    d = Design(
        name="x", shell=Shell(inner_mm=(260, 200, 100), construction=TwoHalves(joint_mm=40)), printer="bench-180"
    )
    for key in ("sbc-85x56", "display-5", "usb-a-panel"):
        d = apply(d, PlaceNew(component=key))
    for edits in (
        (walls_round(analyse(d, ARCHIVE_WORKSHOP, "none").case),),
        made_so(d, ARCHIVE_WORKSHOP, "sliding panels"),
    ):
        d = apply(d, Together(edits=edits))
    d = apply(d, walls_round(analyse(d, ARCHIVE_WORKSHOP, "none").case))
    (f,) = findings(d, "vents-too-small")
    fan = next(r for r in f.remedies if r.label.startswith("Put in a fan"))
    after = apply(d, Together(edits=fan.edits))
    assert {p.component for p in after.placements} - {p.component for p in d.placements} == {"fan-40x10"}
    stops = {x.key for x in judge(analyse(after, ARCHIVE_WORKSHOP, "preview")) if x.severity == "stop"}
    assert not stops - {x.key for x in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if x.severity == "stop"}
    assert f.key not in stops


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


def test_where_no_walls_are_enough_all_of_them_are_offered_beside_a_fan(good_wren: Design) -> None:
    """Two boards ask for more than all walls have: a fan first, then every wall that has no plugs at once, then each alone."""
    warm = apply(good_wren, PlaceNew(component="sbc-85x56"))
    bare = warm.model_copy(update={"vents": (), "placements": tuple(p for p in warm.placements if p.id != "fan")})
    (f,) = findings(bare, "vents-too-small")
    walls = next(r for r in f.remedies if "walls" in r.label and "fan" not in r.label)
    single = [r for r in f.remedies if r.label.startswith("Add vents in the") and "walls" not in r.label]
    assert "fan" in f.remedies[0].label

    def open_cm2(edits: tuple[Edit, ...]) -> float:
        a = analyse(apply(bare, Together(edits=edits)), ARCHIVE_WORKSHOP, "preview")
        return sum(v.free_area_mm2 for v in a.openings.vents) / 100

    each = [open_cm2(r.edits) for r in single]
    assert open_cm2(walls.edits) > max(each) and f.limit > open_cm2(walls.edits)
    assert f.remedies.index(walls) < f.remedies.index(single[0])
