"""Bodies that get posts and holes after their openings: the same body as one Boolean after another, in fewer passes."""

from __future__ import annotations

from random import Random

import pytest
from manifold3d import Manifold

from rhombex.core.geometry import grown as grown_
from rhombex.core.geometry.grown import grown
from rhombex.core.geometry.mesh_kernel import evaluate
from rhombex.core.geometry.recipe import (
    Array,
    Difference,
    Extrude,
    Filled,
    Solid,
    Union,
    at,
    block,
    circle,
    prism,
    profile,
)
from rhombex.core.space import Box


def chance_block(r: Random, side: float) -> Solid:
    lo = [r.uniform(0, 40) for _ in range(3)]
    x, y, z = (x + r.uniform(2, side) for x in lo)
    return block(Box((lo[0], lo[1], lo[2]), (x, y, z)))


def one_by_one(body: Manifold, add: list[Solid], cut: list[Solid]) -> Manifold:
    for s in add:
        body = body + evaluate(s)
    for s in cut:
        body = body - evaluate(s)
    return body


@pytest.mark.parametrize("seed", range(30))
def test_it_is_the_body_of_one_step_after_another(seed: int) -> None:
    """Two openings, two posts with a hole, two more posts with a hole: posts that meet an opening close it, whichever came first."""
    r = Random(seed)
    case = Difference(block(Box((0, 0, 0), (45, 45, 45))), (block(Box((3, 3, 3), (42, 42, 48))),))
    cut = [[chance_block(r, 14) for _ in range(2)] for _ in range(3)]
    add = [[chance_block(r, 14) for _ in range(2)] for _ in range(2)]
    body: Solid = Filled(Difference(case, tuple(cut[0])))
    plain = one_by_one(evaluate(case), [], cut[0])
    for more, holes in zip(add, cut[1:], strict=True):
        body = grown(body, tuple(more), tuple(holes))
        plain = one_by_one(plain, more, holes)
    made = evaluate(body)
    if any(p.volume() < 0 for p in plain.decompose()):
        pytest.skip("a hollow is filled")
    assert made.volume() == pytest.approx(plain.volume(), abs=1e-3)
    assert (made - plain).volume() + (plain - made).volume() < 1e-3


def test_openings_away_from_posts_are_cut_along_with_holes() -> None:
    """An opening in a wall goes last, one under a post first, and a field of vents first too, which stays made while posts move."""
    case = block(Box((0, 0, 0), (60, 60, 4)))
    away, under = prism(circle(50, 50, 6), -1, 5), prism(circle(12, 10, 6), -1, 5)
    post, hole = prism(circle(10, 10, 8), 2, 12), prism(circle(10, 10, 3), 4, 13)
    row = [at(2.2 * k, 40, 0) for k in range(20)]
    vents = Array(Extrude(profile([circle(2, 2, 1.5)]), 5.0), tuple(row))
    assert evaluate(vents).num_tri() > grown_.LARGE
    assert grown(Difference(case, (away,)), (post,), (hole,)) == Difference(Union((case, post)), (away, hole))
    assert grown(Difference(case, (away, under, vents)), (post,), (hole,)) == Difference(
        Union((Difference(case, (under, vents)), post)), (away, hole)
    )
    first = grown(Difference(case, (away,)), (post,), (hole,))
    over = prism(circle(10, 12, 4), 3, 9)  # stands in the hole of the post before it, and closes it
    assert grown(first, (over,)) == Difference(Union((Difference(Union((case, post)), (hole,)), over)), (away,))
    assert grown(Filled(case), (), (hole,)) == Filled(Difference(case, (hole,)))
    assert grown(case, (post,)) == Union((case, post))
