"""What stands before a port that is wanted: how far it is from the connector, with a wall behind it and without."""

from __future__ import annotations

import pytest

from rhombex.core.apply import apply
from rhombex.core.concerns.registry import Finding
from rhombex.core.constructions import OpenBench
from rhombex.core.design import Design, Placement
from rhombex.core.edits import Add, Construct, Edit, MoveWall, Together

from ..conftest import alone


def told(d: Design, *edits: Edit) -> dict[str, Finding]:
    return {f.subjects[0]: f for f in alone(apply(d, Together(edits=edits)), "port-not-reachable")}


def fan_before(y_mm: float) -> Add:
    """A fan of 40 x 40 x 10 inside the right wall, its middle so far from the cavity's front."""
    at = Placement(id="side", component="fan-40x10", name="Side fan", at_mm=(0, y_mm, 13), face="right")
    return Add(placement=at)


ROOM = MoveWall(face="right", by_mm=20)  # the ports stand 23.89 behind its outside then: in reach of their plugs
BENCH = Construct(construction=OpenBench())
PORTS = {"board/network", "board/usb-1", "board/usb-2"}


@pytest.mark.parametrize(
    ("edits", "wanted"),
    [
        # 171.38 + 20 - 167.49: to the outer surface
        ((ROOM,), dict.fromkeys(PORTS, 23.89)),
        # a plug of its kind: 50 and 48 long (the table of kinds)
        ((ROOM, BENCH), {"board/network": 50.0, "board/usb-1": 48.0, "board/usb-2": 48.0}),
    ],
    ids=["walled", "open"],
)
def test_a_component_before_a_port_in_reach(
    good_wren: Design, edits: tuple[Edit, ...], wanted: dict[str, float]
) -> None:
    """The fan begins 10 before the wall's inside: 188.49 - 10 - 167.49 before the connectors. USB is 32.4 from the front, the fan's edges 20 either way."""
    assert told(good_wren, *edits) == {}
    found = told(good_wren, *edits, fan_before(32))
    assert set(found) == PORTS
    for port, f in found.items():
        assert (f.severity, f.sense) == ("stop", "at least")
        assert f.measured == pytest.approx(11.0, abs=0.02)
        assert f.limit == pytest.approx(wanted[port], abs=0.02)
        assert f.title.endswith("of Board cannot be reached: Side fan is in the way")
        assert len(f.remedies) > 1
        for r in f.remedies:
            assert port not in told(good_wren, *edits, fan_before(32), *r.edits), r.label
    # beside the way of every plug: the last one is 51.9 from the front, its plug 17 across
    assert told(good_wren, *edits, fan_before(100)) == {}


def test_the_nearest_of_two_is_told(good_wren: Design) -> None:
    second = Placement(id="near", component="fan-40x10", name="Near", at_mm=(0, 32, 13), face="right")
    thick = Add(placement=second.model_copy(update={"component": "fan-40x20"}))
    assert {f.title.split(": ")[1] for f in told(good_wren, ROOM, fan_before(32), thick).values()} == {
        "Near is in the way"
    }
    assert {f.title.split(": ")[1] for f in told(good_wren, ROOM, thick, fan_before(32)).values()} == {
        "Near is in the way"
    }


def test_what_rides_on_the_ports_own_component_and_what_is_behind_it_is_not_in_the_way(good_wren: Design) -> None:
    assert told(good_wren) == {}
    behind = Add(placement=Placement(id="side", component="fan-40x10", name="Behind", at_mm=(0, 32, 13), face="left"))
    assert told(good_wren, ROOM, behind) == {}
