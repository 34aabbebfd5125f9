"""What every rule says when it is tripped: severity, number, limit, words, remedies.

Wren mended is the clean twin. Numbers are worked by hand in the remark where the arithmetic is short."""

from __future__ import annotations

import pytest

from rhombex.core.apply import apply
from rhombex.core.design import Design
from rhombex.core.edits import Together

from ..conftest import findings, judged, together
from .test_concerns import TRIPS
from .told import TOLD

# what a remedy does not clear, or the stops that it brings, and why it is offered all the same
SHORT: dict[tuple[str, str], str] = {
    (
        "port-not-reachable",
        "Move Board 76.5 mm right and 71.4 mm back, and the right wall 132 mm out",
    ): "the plug is nearer, and the other wall is the next step",
    (
        "header-does-not-mate",
        "Take 10 mm standoffs",
    ): "the board sinks onto its cooler; the extender, which does not, is first",
    (
        "header-does-not-mate",
        "Take 11 mm standoffs",
    ): "the board sinks onto its cooler; the extender, which does not, is first",
    (
        "no-place-for-cut",
        "Make it a frame with covers, with its walls drawn out",
    ): "the board's ports stay behind its beams; the larger bed is first",
    (
        "hole-near-edge",
        "Make the corner pieces 13 mm",
    ): "the board stands in a corner: the walls that leave room for the piece are too far from its plugs",
    (
        "screws-wait-for-one-another",
        "Move Board 18.4 mm back",
    ): "the board's own ports stay behind: their wall is moved next",
    (
        "too-deep-for-case",
        "Move the front wall out by 13 mm",
    ): "the board's ports stay behind; the wall that has none is first",
    ("fan-off-radiator", "Take fan 140 x 25 instead"): "a larger fan in a small case",
    ("lead-leaves-case", "Move Board 60.5 mm in from the wall"): "everything on that wall is left behind",
    ("lead-leaves-case", "Move the front wall out by 60.5 mm"): "everything on that wall is left behind",
    (
        "plug-meets-wall",
        "Move the front wall out by 19 mm",
    ): "the board's own plugs stay behind; moving the drive is first",
    (
        "port-on-another-face",
        "Turn Board by 270 degrees",
    ): "the other ports come round too; to give the wish up is the other way",
}


def test_every_trip_has_its_numbers() -> None:
    assert set(TOLD) == set(TRIPS)


@pytest.mark.parametrize("code", together(TOLD))
def test_a_rule_says_its_number_its_limit_and_how_bad_it_is(good_wren: Design, code: str) -> None:
    severity, measured, sense, limit, count, title, labels = TOLD[code]
    found = findings(apply(good_wren, Together(edits=TRIPS[code][0](good_wren))), code)
    f = found[0]
    assert (f.severity, f.sense, len(found), f.title) == (severity, sense, count, title)
    # grams and degrees lean on estimates, which are told at the best level that is at hand
    assert f.measured == pytest.approx(measured, abs=0.006, rel=0.01)
    assert f.limit == pytest.approx(limit, abs=0.006, rel=0.01)
    said = tuple(r.label for r in f.remedies)
    assert said == labels or (code == "tips-over" and len(said) == 1 and said[0].startswith("Lower the lid by 1"))


@pytest.mark.parametrize("code", together(c for c in TOLD if TOLD[c][6]))
def test_every_remedy_clears_and_brings_no_stop(good_wren: Design, code: str) -> None:
    tripped = apply(good_wren, Together(edits=TRIPS[code][0](good_wren)))
    before = judged(tripped, code)
    f = findings(tripped, code)[0]
    stops = {x.key for x in before if x.severity == "stop"}
    for r in f.remedies:
        then = judged(apply(tripped, Together(edits=r.edits)), code)
        brings = {x.title for x in then if x.severity == "stop" and x.key not in stops}
        clears = f.key not in {x.key for x in then}
        assert (clears and not brings) != ((code, r.label) in SHORT), (r.label, clears, brings)
