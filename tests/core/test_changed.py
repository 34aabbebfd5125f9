"""Solids that are made from one much like them are what their recipes say: every cube of a grid is counted by hand."""

from __future__ import annotations

import random
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.design import Design
from rhombex.core.edits import Move
from rhombex.core.geometry import changed, mesh_kernel, steps
from rhombex.core.geometry.recipe import Difference, Filled, Intersection, Solid, Union, block
from rhombex.core.space import Box
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import SCENARIOS, curlew, wren

from ..examples import examples

N = 12  # cubes along an edge of the room
Cubes = NDArray[np.bool_]
Corners = tuple[int, ...]


def forget() -> None:
    for memo in (mesh_kernel.evaluated, changed._made, steps._rows):
        memo.forget()
    changed._lately = changed._Lately()


def corners(draw: random.Random, longest: int = 4) -> Corners:
    """Two corners of a box in the room."""
    lo = [draw.randint(0, N - 1) for _ in range(3)]
    return (*lo, *(min(N, x + draw.randint(1, longest)) for x in lo))


def box(c: Corners) -> Solid:
    return block(Box((c[0], c[1], c[2]), (c[3], c[4], c[5])))


def cubes(c: Corners) -> Cubes:
    out = np.zeros((N, N, N), bool)
    out[c[0] : c[3], c[1] : c[4], c[2] : c[5]] = True
    return out


Rows = dict[str, list[Corners]]


def drawn(draw: random.Random) -> Rows:
    """A case in small: a block, what is joined to it, what is cut out of that, what is joined and cut out after it, and a room that all of it is cut to."""
    return {
        "first": [(draw.choice((1, 1, 6)), 1, 1, 11, 11, 5)],
        "posts": [corners(draw) for _ in range(4)],
        "holes": [corners(draw) for _ in range(4)],
        "blocks": [corners(draw) for _ in range(2)],
        "sunk": [corners(draw, 2) for _ in range(2)],
        "room": [(0, 0, 0, draw.randint(4, 9), N, N)],
    }


def solids(rows: Rows) -> tuple[Solid, Solid]:
    """The body, and what is left of it in the room."""
    b = {k: tuple(map(box, v)) for k, v in rows.items()}
    body = Difference(Union((*b["first"], *b["posts"])), b["holes"])
    whole = Difference(Union((body, *b["blocks"])), b["sunk"])
    return whole, Intersection(whole, b["room"][0])


def by_hand(rows: Rows) -> tuple[int, int]:
    """How many cubes both are."""
    here = np.zeros((N, N, N), bool)
    for name, way in (("first", True), ("posts", True), ("holes", False), ("blocks", True), ("sunk", False)):
        for c in rows[name]:
            here[cubes(c)] = way
    return int(here.sum()), int((here & cubes(rows["room"][0])).sum())


def volumes(rows: Rows) -> tuple[float, float]:
    whole, piece = solids(rows)
    return mesh_kernel.evaluate(piece).volume(), mesh_kernel.evaluate(whole).volume()


@given(st.integers(0, 10**6))
@settings(max_examples=examples(1000))
def test_what_is_made_from_one_like_it_is_what_its_recipe_says(seed: int) -> None:
    forget()
    draw = random.Random(seed)
    rows = drawn(draw)
    for _ in range(2):
        moved = [
            (name, draw.randrange(len(rows[name]))) for name in draw.sample(["posts", "holes", "blocks", "sunk"], 2)
        ]
        for _ in range(4):  # the same ones move over and over
            for name, i in moved:
                rows[name][i] = corners(draw, 2 if name == "sunk" else 4)
            if draw.random() < 0.3:
                rows["room"] = [(0, 0, 0, draw.randint(4, 9), N, N)]
            whole, piece = by_hand(rows)
            assert volumes(rows) == pytest.approx((piece, whole), abs=1e-6), (seed, rows)


@pytest.fixture
def anew(monkeypatch: pytest.MonkeyPatch) -> list[Solid]:
    """Which Booleans were done all anew."""
    forget()
    done: list[Solid] = []
    build = mesh_kernel._build

    def watched(s: Solid, tol: float) -> object:
        if isinstance(s, Union | Difference | Intersection):
            done.append(s)
        return build(s, tol)

    monkeypatch.setattr(mesh_kernel, "_build", watched)
    return done


ROWS: Rows = {
    "first": [(1, 1, 1, 11, 11, 5)],
    "posts": [(2, 2, 4, 4, 4, 9), (8, 2, 4, 10, 4, 9), (2, 8, 4, 4, 10, 9)],
    "holes": [(3, 3, 2, 4, 4, 10), (9, 3, 2, 10, 4, 10), (0, 5, 2, 3, 7, 4)],
    "blocks": [(5, 5, 4, 7, 7, 7)],
    "sunk": [(5, 6, 4, 6, 7, 8)],
    "room": [(0, 0, 0, 6, N, N)],
}


def told(rows: Rows) -> None:
    whole, piece = by_hand(rows)
    assert volumes(rows) == pytest.approx((piece, whole), abs=1e-6)


def test_what_moves_over_and_over_is_done_to_what_stays(anew: list[Solid]) -> None:
    told(ROWS)
    for k in range(4):
        rows = ROWS | {"posts": [*ROWS["posts"][:2], (3 + k, 8, 4, 5 + k, 10, 9)]}
        anew.clear()
        told(rows)
        assert bool(anew) == (k == 0)  # once it may be chance; from then on only what moved is done


def test_a_post_that_moves_into_a_hole_is_cut_by_it(anew: list[Solid]) -> None:
    told(ROWS)
    for y in (6, 5, 4):
        told(ROWS | {"posts": [*ROWS["posts"][:2], (1, y, 2, 3, y + 2, 8)]})
    assert anew


def test_what_does_not_reach_into_a_room_leaves_its_piece_as_it_was(anew: list[Solid]) -> None:
    told(ROWS)
    known = changed._made.made
    rows = ROWS | {"posts": [ROWS["posts"][0], (9, 2, 4, 11, 4, 9), ROWS["posts"][2]]}
    mesh_kernel.evaluate(solids(ROWS)[1])
    mesh_kernel.evaluate(solids(rows)[1])
    assert changed._made.made == known
    told(rows)


def test_a_piece_is_made_of_what_reaches_into_its_room() -> None:
    """Its recipe, and so all that is known of it, stays while something moves elsewhere; it changes with what is in the room."""
    forget()

    def left(rows: Rows) -> Solid:
        return mesh_kernel.left_in(solids(rows)[0], box(rows["room"][0]))

    was = left(ROWS)
    assert left(ROWS | {"posts": [ROWS["posts"][0], (9, 2, 4, 11, 4, 9), ROWS["posts"][2]]}).digest == was.digest
    assert left(ROWS | {"posts": [ROWS["posts"][0], (5, 2, 4, 7, 4, 9), ROWS["posts"][2]]}).digest != was.digest
    for rows in (ROWS, ROWS | {"posts": [(7, 2, 4, 9, 4, 9), *ROWS["posts"][1:]]}):
        for tol in (mesh_kernel.SEEN_TOL, mesh_kernel.FILE_TOL):
            assert mesh_kernel.evaluate(left(rows), tol).volume() == pytest.approx(by_hand(rows)[1])


def test_a_room_that_the_first_body_does_not_reach_into_holds_the_others(anew: list[Solid]) -> None:
    rows = ROWS | {"first": [(6, 1, 1, 11, 11, 5)], "room": [(0, 0, 0, 5, N, N)]}
    for k in range(4):
        told(rows | {"posts": [*ROWS["posts"][:2], (1 + k, 8, 4, 3 + k, 10, 9)]})


def test_a_hollow_that_was_filled_stays_filled_in_what_is_made_of_it() -> None:
    """A block of 4 x 4 x 4 with a hollow of 2 x 2 x 2 in it; a row that reads through the filling would cut the hollow open."""
    forget()
    block_, hollow = (1, 1, 1, 5, 5, 5), (2, 2, 2, 4, 4, 4)
    for k in range(4):
        far = [box((8 + i, 8, 8, 9 + i, 9, 9)) for i in (0, 2)]
        filled = Filled(Difference(Union((box(block_), *far, box((8, 8, 1, 9, 9, 2 + k)))), (box(hollow),)))
        half = Intersection(Difference(filled, (box((1, 1, 4, 2, 2, 5)),)), box((0, 0, 0, 3, N, N)))
        assert mesh_kernel.evaluate(half).volume() == pytest.approx(2 * 4 * 4 - 1)


def test_files_are_made_by_their_recipe_alone(anew: list[Solid]) -> None:
    for k in range(4):
        whole, _ = solids(ROWS | {"posts": [*ROWS["posts"][:2], (3 + k, 8, 4, 5 + k, 10, 9)]})
        anew.clear()
        mesh_kernel.evaluate(whole, mesh_kernel.FILE_TOL)
        assert whole in anew


def measures(recipes: list[Solid]) -> list[tuple[float, ...]]:
    """Volume, surface, box, bodies and genus of each."""
    solids = map(mesh_kernel.evaluate, recipes)
    return [(m.volume(), m.surface_area(), *m.bounding_box(), len(m.decompose()), m.genus()) for m in solids]


@pytest.mark.parametrize(
    ("make", "who"), [(wren, "drive"), (wren, "fan"), (curlew, "board"), (SCENARIOS["heron-small"], "supply")]
)
def test_a_component_moved_over_and_over_leaves_the_parts_of_its_design(
    make: Callable[[], Design], who: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Parts and pieces after five moves against the same, made by their recipes alone."""
    forget()
    draw, d = random.Random(who), make()
    for _ in range(5):
        at = next(p.at_mm for p in d.placements if p.id == who)
        to = (at[0] + draw.uniform(-2, 2), at[1] + draw.uniform(-2, 2), at[2])
        d = apply(d, Move(id=who, to_mm=(round(to[0], 3), round(to[1], 3), to[2])))
        a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    recipes = [*a.recipes.values(), *a.piece_recipes.values()]
    told = measures(recipes)
    monkeypatch.setattr(mesh_kernel, "_made", mesh_kernel._build)
    mesh_kernel.evaluated.forget()
    for now, alone in zip(told, measures(recipes), strict=True):
        assert now == pytest.approx(alone, abs=1e-6)
