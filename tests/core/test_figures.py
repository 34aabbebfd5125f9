"""What counts as nothing since nobody said it, and what nothing holds: components of one's own most of all."""

from __future__ import annotations

import pytest

from rhombex.core.apply import apply
from rhombex.core.concerns.registry import Finding
from rhombex.core.design import Design
from rhombex.core.edits import Swap, Together
from rhombex.core.parts import library
from rhombex.core.parts.component import Draw
from rhombex.demo.scenario import SCENARIOS, heron

from ..conftest import alone

LACKS = "figures-not-known"
LOOSE = "nothing-to-screw"


def changed(id: str, **change: object) -> Design:
    """*Heron* with a component of one's own that is another one but for some figures."""
    d = heron()
    source = next(p.component for p in d.placements if p.id == id)
    own = library()[source].model_copy(update={"key": "own-one", **change})
    return apply(d, Swap(id=id, component=own.key, custom=own))


def told(d: Design, code: str) -> Finding | None:
    found = alone(d, code)
    assert len(found) < 2
    return found[0] if found else None


FED = (Draw(rail="5 V", idle_w=1.0, typical_w=3.0, peak_w=4.0, plug="sata", source="a test", mark="measured"),)


@pytest.mark.parametrize(
    ("id", "change", "lacks"),
    [
        ("board", {"mass_g": 0.0}, "mass of Board is"),
        ("board", {"heat_w": 0.0}, "heat of Board is"),
        ("drive", {"power": ()}, "power draw of Drive is"),
        ("supply", {"heat_w": 0.0}, "heat of Supply is"),
        ("supply", {"power": ()}, None),  # it feeds, and draws from the wall
        ("riser", {"heat_w": 0.0}, None),
        ("riser", {"power": FED, "heat_w": 0.0}, "heat of Riser is"),
        ("fan-left", {"mass_g": 0.0, "heat_w": 0.0, "power": ()}, "mass, heat and power draw of Left fan are"),
    ],
)
def test_a_figure_that_nobody_said(id: str, change: dict[str, object], lacks: str | None) -> None:
    f = told(changed(id, **change), LACKS)
    assert bool(f) == bool(lacks)
    if f and lacks:
        assert f.title == f"The {lacks} not known" and f.severity == "weigh" and f.subjects == (id,)
        assert (f.measured, f.limit, f.sense) == (sum(not x for x in change.values()), 0, "at most")


def test_two_of_one_kind_are_told_once() -> None:
    d = changed("fan-left", mass_g=0.0)
    d = apply(d, Swap(id="fan-top", component="own-one"))
    f = told(d, LACKS)
    assert f is not None and set(f.subjects) == {"fan-left", "fan-top"}


def test_samples_and_library_lack_no_figure_and_are_all_held() -> None:
    for made in SCENARIOS.values():
        assert alone(made(), LACKS) == alone(made(), LOOSE) == []
    assert not [c.key for c in library().values() if c.mass_g <= 0]


@pytest.mark.parametrize("id", ["fan-top", "supply"])
def test_what_has_no_holes_is_held_by_nothing(id: str) -> None:
    f = told(changed(id, mounts=()), LOOSE)
    assert f is not None and (f.severity, f.measured, f.limit) == ("weigh", 0, 1)
    (way,) = f.remedies
    assert way.edits == (Swap(id=id, component={"fan-top": "fan-120x25", "supply": "supply-sfx"}[id]),)
    assert told(apply(changed(id, mounts=()), Together(edits=way.edits)), LOOSE) is None
    assert told(changed(id, mounts=(), panel_hole_mm=12.0), LOOSE) is None
    assert told(changed(id), LOOSE) is None
