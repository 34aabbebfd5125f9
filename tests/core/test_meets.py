"""What two bodies have in common, found branch by branch, against one Boolean of the whole."""

from __future__ import annotations

from dataclasses import replace
from random import Random

import pytest
from manifold3d import Manifold

from rhombex.core.bench.bodies import all_of, body_in
from rhombex.core.bench.gaps import hard
from rhombex.core.geometry import meets
from rhombex.core.geometry.mesh_kernel import evaluate
from rhombex.core.geometry.recipe import Difference, Move, Solid, Union, at, block
from rhombex.core.space import Box
from rhombex.demo.scenario import curlew, dunlin, heron, wren
from tests.rough import shaped

MADE = {"wren": wren, "heron": heron, "dunlin": dunlin, "curlew": curlew}


def plain(a: Solid, other: Manifold) -> float:
    v = float((evaluate(a) ^ other).volume())
    return v if v > meets.SAME_MM3 else 0.0


@pytest.mark.parametrize("name", MADE)
def test_what_is_common_is_that_of_the_whole(name: str) -> None:
    r, a = Random(name), shaped(MADE[name]())
    met = 0
    for part, recipe in a.in_place().items():
        x0, y0, z0, x1, y1, z1 = evaluate(recipe).bounding_box()
        for _ in range(12):
            size = [r.choice([2.0, 9.0, 40.0]) for _ in range(3)]
            place = [r.uniform(lo - 5, hi) for lo, hi in ((x0, x1), (y0, y1), (z0, z1))]
            body = Manifold.cube(size).translate(place)
            found = meets.overlap_mm3(recipe, body, (*size, *place))
            assert found == pytest.approx(plain(recipe, body), abs=1e-6), part
            met += found > 0
        for other, q in a.in_place().items():
            moved = Move(q, at(*(r.uniform(-30, 30) for _ in range(3))))
            found = meets.shared_mm3(recipe, moved)
            assert found == pytest.approx(plain(recipe, evaluate(moved)), abs=1e-6), (part, other)
            met += found > 0
    assert met >= 5


def test_an_opening_that_moves_elsewhere_is_not_looked_at_again() -> None:
    def case(x: float) -> Solid:
        cut = (block(Box((2, 2, 2), (98, 58, 30))), block(Box((x, -1, 5), (x + 9, 3, 12))))
        return Difference(block(Box((0, 0, 0), (100, 60, 30))), cut)

    lid = Union((block(Box((0, 0, 30), (100, 60, 33))), block(Box((2.2, 2.2, 27), (97.8, 57.8, 30)))))
    made = meets._less.made
    for k in range(4):
        assert meets.clear_of(case(20.0 + k), evaluate(lid), lid.digest)
    assert meets._less.made == made + 1
    # and the other way round: the lid's branches are known beside the same walls
    for k in range(4):
        holed = Difference(lid, (block(Box((20.0 + k, 20, 29), (40.0 + k, 40, 34))),))
        assert meets.shared_mm3(case(20.0), holed) == 0.0
        if k == 0:
            made = meets._less.made
            boxes = meets._shared.made
    assert (meets._less.made, meets._shared.made) == (made, boxes)
    # by hand: a plug of 9 x 7 that reaches 1 into a wall of 2, whole beside the opening and half before it
    plug = Manifold.cube((9.0, 5.0, 7.0)).translate((20.0, 1.0, 5.0))
    for x, v in ((20.0, 0.0), (24.5, 4.5 * 7 * 1.0), (60.0, 9 * 7 * 1.0)):
        assert meets.overlap_mm3(case(x), plug, "plug") == pytest.approx(v)


@pytest.mark.parametrize("name", ["wren", "heron"])
def test_a_component_has_the_same_body_wherever_it_is(name: str) -> None:
    for t in shaped(MADE[name]()).things:
        whole = all_of(t)
        for s in hard(t):
            assert float((body_in(t, s) - whole).volume()) < 1e-3, (t.id, s.name)
        one = replace(t, solids=tuple(hard(t))[:1])  # which begins alike
        assert float(all_of(one).volume()) == pytest.approx(body_in(t, one.solids[0]).volume(), abs=1e-3)
        assert float(whole.volume()) <= sum(body_in(t, s).volume() for s in hard(t)) + 1e-3
