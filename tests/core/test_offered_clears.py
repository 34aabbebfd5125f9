"""What is offered clears: designs of the random kind in which something was offered that did not, or was refused."""

from __future__ import annotations

from random import Random

import pytest

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import judge
from rhombex.core.design import Design
from rhombex.core.edits import Move, MoveWall, PutLead, Together
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

from ..conftest import alone
from ..made import random_design

# two boards under a rim; drives far in a wall, where no radius of a corner helps; sheet round corners, and nothing on the floor
FOUND = [
    ("census/131", "part-in-rim"),
    ("census/145", "part-in-rim"),
    ("census/130", "component-hits-wall"),
    ("census/147", "component-hits-wall"),
    ("census/163", "parts-overlap"),
]


@pytest.mark.parametrize(("seed", "code"), FOUND)
def test_what_is_offered_clears(seed: str, code: str) -> None:
    d = random_design(Random(seed))
    found = alone(d, code)
    assert found
    for f in found:
        for way in f.remedies:
            then = apply(d, Together(edits=way.edits))  # and is not refused
            assert f.key not in {x.key for x in alone(then, code)}, (f.title, way.label)


def _offered(d: Design, code: str) -> list[tuple[str, bool]]:
    """The remedies of a rule's first word, and whether each clears it."""
    told = next(f for f in judge(analyse(d, ARCHIVE_WORKSHOP, "preview")) if f.code == code)
    out = []
    for r in told.remedies:
        after = judge(analyse(apply(d, Together(edits=r.edits)), ARCHIVE_WORKSHOP, "preview"))
        out.append((r.label, told.key not in {f.key for f in after}))
    return out


def test_what_stands_under_the_floor_is_raised_out_of_it(good_wren: Design) -> None:
    """A board 6 mm lower than the floor's upper face at 3: its posts would end at -3. A hole of 5.2 over 0.8 of floor wants them to end at 6.0, 9.0 higher; a screw that reaches 3.4
    into them, with 0.5 clear of its tip, at 4.7: 7.7 higher."""
    x, y, _ = next(p for p in good_wren.placements if p.id == "board").at_mm
    low = apply(good_wren, Move(id="board", to_mm=(x, y, -6.0)))
    assert _offered(low, "post-too-short") == [("Raise Board by 9 mm", True)]
    assert _offered(low, "mount-screw-length") == [("Raise Board by 7.7 mm", True)]


def test_what_has_its_screws_in_a_wall_is_moved_off_it(good_wren: Design) -> None:
    """The front pair of the board's holes is 5.5 off the wall; with that 7 further in they are 1.5 in it, and the key wants 2.25 beside it."""
    d = apply(good_wren, MoveWall(face="front", by_mm=-7.0))
    assert _offered(d, "joint-not-reached") == [
        ("Move Board 3.8 mm away from the front wall", True),
        ("Move the front wall out by 3.8 mm", True),
    ]


def test_a_lead_that_is_too_long_too_is_not_offered_in_place_of_one(good_wren: Design) -> None:
    """184 mm are needed and 248 are the most; of those that are sold none is between."""
    lead = good_wren.leads[0]
    long = lead.model_copy(update={"length_mm": 400.0, "stock_mm": (100.0, 300.0, 400.0)})
    assert _offered(apply(good_wren, PutLead(lead=long)), "lead-length") == [("Have one of 190 mm made", True)]
    short = lead.model_copy(update={"length_mm": 100.0, "stock_mm": (100.0, 300.0, 400.0)})
    assert [label for label, _ in _offered(apply(good_wren, PutLead(lead=short)), "lead-length")] == [
        "Take the 300 mm lead",
        "Have one of 190 mm made",
    ]
