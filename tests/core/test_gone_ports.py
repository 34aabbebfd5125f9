"""What is said of ports that no component has: by whom, how bad it is, and what is left once it is dropped."""

from __future__ import annotations

import pytest

from rhombex.core.apply import apply
from rhombex.core.concerns.registry import Finding
from rhombex.core.design import Adapter, Design, PlacedOpening
from rhombex.core.edits import Edit, ForgetPort, Need, PutAdapter, PutLead, PutOpening, Swap, Together, WantFace
from rhombex.core.parts import library

from ..conftest import alone
from .test_concerns import LEAD

CODE = "port-not-there"
OLD, NEW = "sbc-85x56", "board-mini-itx"


def gone(d: Design) -> list[Finding]:
    return alone(d, CODE)


def others_have_it(name: str) -> bool:
    return name in {p.name for p in library()[NEW].ports}


@pytest.mark.parametrize(
    ("edit", "how_bad", "words"),
    [
        (Need(port="board/tape", needed=True), "stop", "Tape is wanted from outside."),
        (WantFace(port="board/tape", face="left"), "weigh", "Tape is wanted on the left."),
        (
            PutOpening(opening=PlacedOpening(port="board/tape", size_mm=(9, 9))),
            "weigh",
            "Tape has an opening that a hand placed.",
        ),
        (
            PutAdapter(adapter=Adapter(port="board/tape", rail="12 V", watts=60)),
            "stop",
            "Tape has an adapter of 60 W.",
        ),
        (
            PutLead(lead=LEAD.model_copy(update={"id": "x", "name": "Tape lead", "end": "board/tape"})),
            "stop",
            "Tape has the Tape lead in it.",
        ),
    ],
)
def test_each_thing_that_is_asked_of_a_port_that_is_not_there(
    good_wren: Design, edit: Edit, how_bad: str, words: str
) -> None:
    d = apply(good_wren, edit)
    (f,) = gone(d)
    assert (f.severity, f.measured, f.limit) == (how_bad, 1, 0)
    assert f.title == "Board has no port tape" and words in f.reason
    after = apply(d, Together(edits=f.remedies[0].edits))
    assert gone(after) == []
    assert after == good_wren  # nothing else is dropped


def test_what_is_asked_of_a_port_that_is_there_is_no_concern(good_wren: Design) -> None:
    kept = (
        Need(port="board/audio", needed=True),
        WantFace(port="board/audio", face="left"),
        PutOpening(opening=PlacedOpening(port="board/audio", size_mm=(9, 9))),
    )
    assert gone(good_wren) == gone(apply(good_wren, Together(edits=kept))) == []


def test_a_board_in_the_place_of_another_leaves_what_was_asked_of_its_ports(good_wren: Design) -> None:
    """All ports of the first one are asked for; those whose names the second has too stay, the others are told together."""
    names = [p.name for p in library()[OLD].ports]
    asked = apply(good_wren, Together(edits=tuple(Need(port=f"board/{n}", needed=True) for n in names)))
    assert gone(asked) == []
    lost = [n for n in names if not others_have_it(n)]
    assert lost and len(lost) < len(names)
    swapped = apply(asked, Swap(id="board", component=NEW))
    found = next(f for f in gone(swapped) if f.subjects[0] == "board")
    assert found.measured == len(found.subjects) - 1 == len(set(lost))
    assert {s.split("/")[1] for s in found.subjects[1:]} == set(lost)
    after = apply(swapped, Together(edits=found.remedies[0].edits))
    assert gone(after) == []
    assert {f"board/{n}" for n in names if others_have_it(n)} <= set(after.brief.needs)


def test_a_port_of_nobody_and_one_of_a_component_that_is_not_in_the_library(good_wren: Design) -> None:
    (f,) = gone(apply(good_wren, Need(port="printer/usb", needed=True)))
    assert f.title == "There is no component “printer”, and no port usb"
    lost = apply(good_wren, Need(port="board/tape", needed=True)).model_copy(
        update={
            "placements": tuple(
                p.model_copy(update={"component": "sbc-of-somebody"}) if p.id == "board" else p
                for p in good_wren.placements
            )
        }
    )
    assert gone(lost) == []  # that it is not there is told by itself


def test_a_port_that_is_forgotten_stands_as_if_nobody_had_spoken_of_it(good_wren: Design) -> None:
    said = (
        Need(port="board/audio", needed=False),
        WantFace(port="board/audio", face="back"),
        PutOpening(opening=PlacedOpening(port="board/audio", size_mm=(9, 9))),
    )
    before = apply(good_wren, ForgetPort(port="board/audio"))
    assert apply(apply(before, Together(edits=said)), ForgetPort(port="board/audio")) == before
