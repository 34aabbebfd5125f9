"""The bill of three designs, line by line, each length worked by hand from the table of threads."""

from __future__ import annotations

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Placement, Shell, Stand
from rhombex.core.edits import Add, Move, Set, StackOn, StackUnder, Together
from rhombex.core.parts.threads import screw_size
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import findings
from .test_parts import UNDER

CAP, PAN = "screw, socket cap", "screw, pan head"


def lines(d: Design) -> dict[tuple[str, str, str], int]:
    return {(x.item, x.size, x.use): x.count for x in analyse(d, ARCHIVE_WORKSHOP, "preview").bill}


def bought(d: Design) -> dict[tuple[str, str, str], int]:
    return {k: n for k, n in lines(d).items() if k[0] != "component"}


def test_wren_mended(good_wren: Design) -> None:
    assert lines(good_wren) == {
        ("component", "Drive 2.5 inch, 7 mm", "Drive"): 1,
        ("component", "Fan 40 x 10, 5 V", "Fan"): 1,
        ("component", "Panel button 16", "Button"): 1,
        ("component", "Passive cooler 40 x 30 x 11", "Cooler"): 1,
        ("component", "Single-board computer 85 x 56", "Board"): 1,
        ("foot, stick-on", "10 mm", "base"): 4,
        ("heat-set insert", "M2.5 x 4", "Board"): 4,
        ("heat-set insert", "M3 x 5.7", "lid"): 4,
        ("lead", "200 mm", "Drive lead, flat"): 1,
        ("nut", "M3", "Fan"): 4,
        # a board of 1.6 and from one diameter (2.5) to the hole's 4 + 1.2 - 0.5 = 4.7: 4.1 to 6.3
        (CAP, "M2.5 x 5", "Board"): 4,
        # wall 2.89 + frame 10 + nut 2.4 + 0.5 = 15.79
        (CAP, "M3 x 16", "Fan, with nut M3"): 4,
        # the drive lets 3 in: 2.5 are aimed at; pad 9, head sunk by 9 - (8 - 2.5) = 3.5 (a head of 3 + 0.3 fits)
        (CAP, "M3 x 8", "Drive"): 4,
        # lid 31 - 26.8 + 3 = 7.2, head sunk by 3.3: 3.9 and from 3 to 5.7 + 1.2 - 0.5 = 6.4: 6.9 to 10.3
        (CAP, "M3 x 8", "lid"): 4,
    }


def test_a_stack_in_pieces(good_wren: Design) -> None:
    # spacers of 13: boards 1.6 + 13 + 1.6 = 16.2, and from 2.5 to 4.7: 18.7 to 20.9
    d = apply(good_wren, UNDER.model_copy(update={"stand": Stand(standoff_mm=13, made="printed")}))
    d = apply(d, Set(path="printer", value="bench-180"))
    now, was = bought(d), bought(good_wren)
    changed = {
        (CAP, "M2.5 x 20", "Board on Drive shield, through the spacers"): 4,
        ("heat-set insert", "M2.5 x 4", "Drive shield"): 4,
        # 2 d deep on either side of a dowel of 3: 12 long, three to a joint
        ("dowel pin", "3 x 12", "joint of base"): 3,
        ("dowel pin", "3 x 12", "joint of lid"): 3,
    }
    gone = {("heat-set insert", "M2.5 x 4", "Board"), (CAP, "M2.5 x 5", "Board")}
    assert now == {k: n for k, n in was.items() if k not in gone} | changed
    # bought ones: a stud of 6 in the post (6 - 1.6 = 4.4 of at most 4.7), and a screw of 1.6 + 2.5 = 4.1 on top
    d = apply(good_wren, UNDER)
    changed = {
        ("standoff, with stud", "M2.5 x 12", "Board on Drive shield"): 4,
        (CAP, "M2.5 x 5", "Board on Drive shield"): 4,
        ("heat-set insert", "M2.5 x 4", "Drive shield"): 4,
    }
    assert bought(d) == {k: n for k, n in was.items() if k not in gone} | changed


def test_a_desktop_board_with_supply_and_fan() -> None:
    d = Design(
        name="Heron",
        shell=Shell(inner_mm=(300, 270, 90), wall_mm=3, construction=TwoHalves(joint_mm=70)),
        printer="bench-300",
    )
    for id, key, face, at in (
        ("board", "board-mini-itx", None, (120, 100, 8)),
        ("supply", "supply-flex", "back", (100, 0, 62)),
        ("fan", "fan-80x25", "left", (0, 60, 42)),
        ("inlet", "inlet-c14", "right", (0, 200, 40)),
        ("disc", "drive-3.5", None, (240, 90, 40)),
    ):
        d = apply(d, Add(placement=Placement(id=id, component=key, name=id, face=face, at_mm=at)))
    assert bought(d) == {
        ("foot, stick-on", "10 mm", "base"): 4,
        # 306 on a bed of 300: one joint each
        ("dowel pin", "3 x 12", "joint of base"): 3,
        ("dowel pin", "3 x 12", "joint of lid"): 3,
        # a desktop board's posts take #6-32: 1.57 and from 3.505 to 6 + 1.2 - 0.5 = 6.7: 5.1 to 8.3; 1/4 in is 6.35
        (PAN, "#6-32 x 1/4 in", "board"): 4,
        ("heat-set insert", "#6-32 x 6", "board"): 4,
        # into the supply: wall 3 and from 3.5 to 6: 6.5 to 9; 5/16 in is 7.94
        (PAN, "#6-32 x 5/16 in", "supply"): 2,
        # wall 3 + frame 25 + nut 0.8 x 4 + 0.5 = 31.7
        (CAP, "M4 x 35", "fan, with nut M4"): 4,
        ("nut", "M4", "fan"): 4,
        # wall 3 + flange 3 + nut 2.4 + 0.5 = 8.9
        (CAP, "M3 x 10", "inlet, with nut M3"): 2,
        ("nut", "M3", "inlet"): 2,
        # a drive 40 above the floor: the longest screw there is (1 in, 25.4), its head sunk by the rest
        (PAN, "#6-32 x 1 in", "disc"): 4,
        # lid 90 - 70 + 3 = 23, head sunk by 3.3: 19.7 and from 3 to 6.4: 22.7 to 26.1
        (CAP, "M3 x 25", "lid"): 8,
        ("heat-set insert", "M3 x 5.7", "lid"): 8,
    }


@pytest.mark.parametrize(
    ("height", "measured", "limit", "sense"),
    [
        (12.0, 20.0, 19.9, "at most"),  # 15.2 + 4.7
        (12.1, None, None, None),
        (14.3, None, None, None),
        (14.4, 20.0, 20.1, "at least"),  # 17.6 + 2.5
    ],
)
def test_a_screw_through_a_stack_that_no_stock_has_is_told(
    good_wren: Design, height: float, measured: float | None, limit: float | None, sense: str | None
) -> None:
    d = apply(good_wren, UNDER.model_copy(update={"stand": Stand(standoff_mm=height, made="printed")}))
    told = findings(d, "mount-screw-length")
    if measured is None:
        assert told == []
        return
    (f,) = told
    assert (f.severity, f.measured, f.sense) == ("stop", measured, sense) and f.limit == pytest.approx(limit)
    size = next(k[1] for k in bought(d) if k[2].startswith("Board on"))
    assert size == f"M2.5, {height + 3.2 + 2.5:.1f} to {height + 3.2 + 4.7:.1f} mm long: none in stock"
    before = {x.key for x in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if x.severity == "stop"}
    for remedy in f.remedies:
        after = apply(d, Together(edits=remedy.edits))
        stops = {x.key for x in judge(analyse(after, ARCHIVE_WORKSHOP, "preview")) if x.severity == "stop"}
        assert not stops - before and f.key not in stops, remedy.label


def test_three_boards_and_a_standoff_on_a_spacer(good_wren: Design) -> None:
    """Printed spacers under a bought standoff: the long screw is the standoff's business, the topmost board has its own."""
    third = Placement(id="top", component="shield-power", name="Top", at_mm=(0, 0, 0), on="board")
    d = apply(good_wren, UNDER.model_copy(update={"stand": Stand(standoff_mm=13, made="printed")}))
    d = apply(d, StackOn(placement=third, stand=Stand(standoff_mm=20, made="bought")))
    held = {k: n for k, n in bought(d).items() if "shield" in k[2] or "Top" in k[2] or "Board" in k[2]}
    assert held[("standoff, with stud", "M2.5 x 20", "Top on Board")] == 4
    assert held[(CAP, "M2.5 x 5", "Top on Board")] == 4
    assert not any("through the spacers" in k[2] for k in held)


def test_screws_are_written_as_they_are_sold() -> None:
    assert screw_size("M2_5", 6.0) == "M2.5 x 6" and screw_size("UNC6_32", 6.35) == "#6-32 x 1/4 in"
    assert [screw_size("UNC6_32", x) for x in (4.76, 12.7, 25.4)] == [
        "#6-32 x 3/16 in",
        "#6-32 x 1/2 in",
        "#6-32 x 1 in",
    ]


def test_a_stack_under_a_board_names_the_lowest(good_wren: Design) -> None:
    assert isinstance(UNDER, StackUnder)
    of = {p.of: p for p in analyse(apply(good_wren, UNDER), ARCHIVE_WORKSHOP, "preview").case.mounts}
    assert of["shield"].stud and of["shield"].engagement_mm == pytest.approx(4.4) and of["shield"].clamps == ()
    # in posts 5.6 high the hole ends after 4.8: 4.3 of the stud's 4.4 may stand in it
    low = apply(apply(good_wren, UNDER), Move(id="shield", to_mm=(None, None, 2.6)))
    (f,) = findings(low, "mount-screw-length")
    assert f.title.startswith("The studs on") and (f.measured, f.limit) == (pytest.approx(4.4), pytest.approx(4.3))
