"""What is offered clears: designs of the random kind in which something was offered that did not, or was refused."""

from __future__ import annotations

from random import Random

import pytest

from rhombex.core.apply import apply
from rhombex.core.edits import Together

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
