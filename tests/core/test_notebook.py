"""The measuring notebook: against a general least-squares solver, against planted faults, and against what people type."""

from __future__ import annotations

import contextlib
import json
from random import Random

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import least_squares

from rhombex.core.parts.lengths import length_mm
from rhombex.core.parts.notebook import Feature, How, Notebook, Reading, Solved, read_notebook, solve, true_reading
from rhombex.core.parts.of_notebook import component_of
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.devices.caliper import BOARD, features

Truth = dict[str, dict[str, float]]


def board(seed: int, holes: str = "ABCD") -> tuple[Truth, tuple[Feature, ...]]:
    """A made-up board: four edges, holes near its corners."""
    r = Random(seed)
    w, d = r.uniform(50, 180), r.uniform(40, 170)
    corners = [(3.5, 3.5), (w - 5, 4.0), (4.0, d - 5), (w - 4, d - 6), (w / 2, d / 2)]
    truth: Truth = {"left": {"x": 0.0}, "right": {"x": w}, "front": {"y": 0.0}, "back": {"y": d}}
    for name, (x, y) in zip(holes, corners, strict=False):
        truth[name] = {"x": x, "y": y, "d": r.choice([2.7, 3.2, 4.0])}
    found = (
        Feature(name="left", kind="edge", axis="x", at_mm=0),
        Feature(name="right", kind="edge", axis="x"),
        Feature(name="front", kind="edge", axis="y", at_mm=0),
        Feature(name="back", kind="edge", axis="y"),
        *(Feature(name=n, kind="hole", near_mm=(truth[n]["x"] + 3, truth[n]["y"] - 2)) for n in holes),
    )
    return truth, found


def plan(holes: str = "ABCD") -> list[tuple[How, tuple[str, ...], str]]:
    """The readings a careful person takes: edges, diameters, both rims from both sides, hole to hole."""
    out: list[tuple[How, tuple[str, ...], str]] = [("edges", ("left", "right"), "x"), ("edges", ("front", "back"), "y")]
    for n in holes:
        out += [("diameter", (n,), "x"), ("outside", ("left", n), "x"), ("inside", ("left", n), "x")]
        out += [("inside", (n, "right"), "x"), ("outside", ("front", n), "y"), ("inside", ("front", n), "y")]
        out += [("inside", (n, "back"), "y")]
    for a, b, along in (("A", "B", "x"), ("C", "D", "x"), ("A", "C", "y"), ("B", "D", "y")):
        out += [("outside", (a, b), along), ("inside", (a, b), along)]
    return out


def notebook(seed: int, wrong: bool, times: float = 3.0) -> tuple[Notebook, Truth, str]:
    """Readings of a made-up board with scatter; one of them wrong by so many times its uncertainty."""
    r = Random(seed)
    truth, found = board(seed)
    by_name = {f.name: f for f in found}
    todo = plan()
    bad = r.randrange(len(todo)) if wrong else -1
    rows = []
    for k, (how, of, along) in enumerate(todo):
        sure = val(f"measuring.sure.{how}")
        v = true_reading(how, of, along, truth, by_name) + r.gauss(0, sure / 2)
        v += times * sure * r.choice([-1, 1]) if k == bad else 0
        rows.append(Reading(id=f"r{k}", how=how, of=of, along=along, value=round(max(v, 0), 2), sure_mm=sure))  # type: ignore[arg-type]
    return Notebook(features=found, readings=tuple(rows)), truth, f"r{bad}"


def places(s: Solved) -> dict[str, tuple[float | None, ...]]:
    return {p.name: (p.x_mm, p.y_mm, p.d_mm) for p in s.features}


@pytest.mark.parametrize("seed", range(12))
def test_it_agrees_with_a_general_solver(seed: int) -> None:
    """scipy's least_squares on the same residuals is the outside judge."""
    book, truth, _ = notebook(seed, wrong=False)
    extra = [
        Reading(id=f"s{k}", how=how, of=of, along="straight",
                value=round(true_reading(how, of, "straight", truth, {f.name: f for f in book.features}) + 0.01 * k, 3))
        for k, (how, of) in enumerate([("outside", ("A", "D")), ("inside", ("B", "C")), ("centres", ("A", "D"))])
    ]  # fmt: skip
    book = book.model_copy(update={"readings": (*book.readings, *extra)})
    by_name = {f.name: f for f in book.features}
    names = [("right", "x"), ("back", "y"), *((h, c) for h in "ABCD" for c in "xyd")]

    def left(v: np.ndarray) -> np.ndarray:
        at: Truth = {"left": {"x": 0.0}, "front": {"y": 0.0}}
        for (n, c), x in zip(names, v, strict=True):
            at.setdefault(n, {})[c] = float(x)
        out = []
        for r in book.readings:
            sigma = (r.sure_mm or val(f"measuring.sure.{r.how}")) / 2
            out.append((float(r.value) - true_reading(r.how, r.of, r.along, at, by_name)) / sigma)  # type: ignore[arg-type]
        return np.array(out)

    start = np.array([truth[n][c] + 0.5 for n, c in names])
    judge = least_squares(left, start, xtol=1e-14, ftol=1e-14, gtol=1e-14)
    mine = {p.name: p for p in solve(book).features}
    for (n, c), x in zip(names, judge.x, strict=True):
        assert getattr(mine[n], f"{c}_mm") == pytest.approx(x, abs=2e-4)
    # uncertainties: the covariance of the judge's Jacobian
    cov = np.linalg.inv(judge.jac.T @ judge.jac)
    grow = max(1.0, float((judge.fun**2).sum() / (len(judge.fun) - len(names))) ** 0.5)
    for k, (n, c) in enumerate(names):
        assert getattr(mine[n], f"sure_{c}_mm") == pytest.approx(2 * grow * cov[k, k] ** 0.5, abs=2e-3)


def test_the_wrong_reading_is_found() -> None:
    """At three times its uncertainty, in at least 95 of 100."""
    found = 0
    for seed in range(200):
        book, _, wrong = notebook(seed, wrong=True)
        found += solve(book).suspects[:1] == (wrong,)
    assert found >= 190


def test_good_readings_are_seldom_doubted_and_never_accused_often() -> None:
    doubted = plain = 0
    for seed in range(200):
        s = solve(notebook(seed, wrong=False)[0])
        doubted += bool(s.suspects)
        plain += "contradicts" in s.hint
    assert doubted <= 50  # 46 readings a board: chance stands out once in six
    assert plain <= 16


def test_truth_lies_within_the_uncertainty() -> None:
    inside = total = 0
    for seed in range(60):
        book, truth, _ = notebook(seed, wrong=False)
        for p in solve(book).features:
            for c in "xyd":
                v, u = getattr(p, f"{c}_mm"), getattr(p, f"sure_{c}_mm")
                if v is not None and u > 0:
                    inside += abs(v - truth[p.name][c]) <= u
                    total += 1
    assert 0.93 <= inside / total <= 0.99  # 95 of 100 by its own word


def test_without_the_wrong_reading_the_places_are_right() -> None:
    book, truth, wrong = notebook(5, wrong=True, times=12)
    s = solve(book)
    assert s.suspects[0] == wrong and "contradicts" in s.hint and s.without
    for p in s.without:
        for c in "xyd":
            v = getattr(p, f"{c}_mm")
            if v is not None:
                assert v == pytest.approx(truth[p.name][c], abs=0.12)


def small(*rows: tuple[str, How, tuple[str, ...], float]) -> Notebook:
    return Notebook(
        features=(
            Feature(name="left", kind="edge", axis="x", at_mm=0),
            Feature(name="right", kind="edge", axis="x"),
            Feature(name="A", kind="hole"),
            Feature(name="B", kind="hole", like="A"),
        ),
        readings=tuple(Reading(id=i, how=how, of=of, along="x", value=v) for i, how, of, v in rows),
    )


def test_edge_readings_and_a_diameter_give_the_distance_of_holes_by_hand() -> None:
    # outside to outside 61.7, diameter 2.7: centres 61.7 - 2.7 = 59.0 apart
    s = solve(
        small(("1", "outside", ("A", "B"), 61.7), ("2", "diameter", ("A",), 2.7), ("3", "inside", ("left", "A"), 2.15),
              ("4", "edges", ("left", "right"), 85.0))
    )  # fmt: skip
    at = {p.name: p for p in s.features}
    assert at["A"].x_mm == pytest.approx(2.15 + 1.35)
    assert at["B"].x_mm == pytest.approx(3.5 + 59.0)
    assert at["B"].d_mm == at["A"].d_mm == pytest.approx(2.7)
    # sigma of B.x: readings 1, 2, 3 in sequence: x_B = r3 + d/2 + r1 - d = r3 + r1 - d/2
    by_hand = (0.08**2 + 0.05**2 + (0.08 / 2) ** 2) ** 0.5
    assert at["B"].sure_x_mm == pytest.approx(by_hand, rel=1e-3)
    assert set(s.unchecked) == {"1", "2", "3", "4"} and s.redundancy == 0
    assert s.open == ("y of B",) or "y of B" in s.open


def test_two_readings_that_disagree_name_both_and_what_to_measure() -> None:
    s = solve(small(("1", "edges", ("left", "right"), 85.0), ("2", "edges", ("left", "right"), 86.0)))
    assert set(s.suspects) == {"1", "2"} and "cannot tell which" in s.hint
    rows = [
        ("1", "edges", ("left", "right"), 85.0),
        ("2", "diameter", ("A",), 2.7),
        ("3", "inside", ("left", "A"), 2.15),
    ]
    s = solve(small(*rows, ("4", "inside", ("A", "right"), 81.15)))  # type: ignore[arg-type]
    # 2.15 + 2.7 + 81.15 = 86.0, not 85.0: any of the four may be wrong
    assert len(s.suspects) >= 2 and s.next is not None
    assert "according to which is wrong" in s.next.why
    assert (s.next.how, s.next.of) not in [(how, of) for _, how, of, _ in rows]


def test_what_is_not_determined_is_said() -> None:
    s = solve(small(("1", "edges", ("left", "right"), 85.0)))
    assert {"x of A", "y of B"} <= set(s.open) | {"y of A"} and s.hint.startswith("Not determined yet")
    assert s.next is not None and "open" in s.next.why


def test_repeated_readings_make_it_surer() -> None:
    once = solve(small(("1", "edges", ("left", "right"), 85.0)))
    book = small(("1", "edges", ("left", "right"), 85.0))
    four = book.readings[0].model_copy(update={"value": (85.0, 85.02, 84.98, 85.0)})
    many = solve(book.model_copy(update={"readings": (four,)}))
    right = [next(p for p in s.features if p.name == "right") for s in (once, many)]
    assert right[1].sure_x_mm == pytest.approx(right[0].sure_x_mm / 2, rel=1e-6)  # root of four
    assert [r.turn for r in many.residuals] == [0, 1, 2, 3]


@pytest.mark.parametrize(
    ("typed", "mm"),
    [
        ("61.47", 61.47),
        ("61,47", 61.47),
        (" 61.47 mm ", 61.47),
        ("2 7/16 in", 61.9125),  # 39/16 x 25.4, by hand
        ('2-7/16"', 61.9125),
        ("3/8 in", 9.525),
        ("0.5in", 12.7),
        ("85+2*3", 91.0),
        ("(85 + 1)/2", 43.0),
        ("12 cm", 120.0),
        ("1 ft", 304.8),
        ("-2.5", -2.5),
    ],
)
def test_lengths_as_people_write_them(typed: str, mm: float) -> None:
    assert length_mm(typed) == pytest.approx(mm)


def test_a_bare_number_is_in_the_unit_of_the_notebook() -> None:
    assert length_mm("1 1/2", "in") == pytest.approx(38.1)
    assert length_mm("12 mm", "in") == pytest.approx(12)


@pytest.mark.parametrize(
    "typed", ["", "abc", "1/0", "__import__('os')", "9**9**9", "1e99", "nan", "(" * 60, "1;2", "True", "x" * 200]
)
def test_what_is_no_length_is_refused(typed: str) -> None:
    with pytest.raises(ValueError, match=r"length|signs"):
        length_mm(typed)


@given(st.text(max_size=40))
@settings(max_examples=300, deadline=None)
def test_any_text_is_a_length_or_refused(typed: str) -> None:
    with contextlib.suppress(ValueError):
        assert abs(length_mm(typed)) <= 1e5


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"readings": []}, "readings"),
        ({"features": [{"name": "A", "kind": "edge"}]}, "A"),
        ({"readings": [{"id": "1", "how": "edges", "of": ["left", "nowhere"], "value": 1}]}, "readings.1"),
        ({"readings": [{"id": "1", "how": "diameter", "of": ["left"], "value": 1}]}, "readings.1"),
        ({"readings": [{"id": "1", "how": "edges", "of": ["left", "left"], "value": 1}]}, "readings.1"),
        ({"readings": [{"id": "1", "how": "edges", "of": ["left", "right"], "along": "y", "value": 1}]}, "readings.1"),
        ({"readings": [{"id": "1", "how": "edges", "of": ["left", "right"], "value": "wide"}]}, "readings.1.value"),
        ({"readings": [{"id": "1", "how": "edges", "of": ["left", "right"], "value": -3}]}, "readings.1.value"),
    ],
)
def test_a_notebook_that_does_not_hold_together_says_where(change: dict[str, object], field: str) -> None:
    good = {
        "features": [
            {"name": "left", "kind": "edge", "axis": "x", "at_mm": 0},
            {"name": "right", "kind": "edge", "axis": "x"},
        ],
        "readings": [{"id": "1", "how": "edges", "of": ["left", "right"], "value": "85.0"}],
    }
    solve(read_notebook(good))
    with pytest.raises(DesignError) as e:
        solve(read_notebook(good | change))
    assert field in f"{e.value.field} {e.value.message}"
    assert e.value.do


def test_a_measured_board_becomes_a_part_that_knows_how_sure_it_is() -> None:
    by_name = {f.name: f for f in features()}
    r = Random(3)
    rows = []
    todo: list[tuple[How, tuple[str, ...], str]] = [*plan(), ("depth", ("floor", "board"), "x"), ("depth", ("under", "floor"), "x"),
                                                    ("depth", ("floor", "stack"), "x")]  # fmt: skip
    for k, (how, of, along) in enumerate(todo):
        v = true_reading(how, of, along, BOARD, by_name) + r.gauss(0, val(f"measuring.sure.{how}") / 2)
        rows.append(Reading(id=str(k), how=how, of=of, along=along, value=f"{v:.2f}"))  # type: ignore[arg-type]
    book = Notebook(name="Table board", features=features(), readings=tuple(rows))
    part = component_of(book, solve(book), "own-1")
    slab = part.solids[0]
    assert slab.hi == pytest.approx((85.13, 56.07, 1.58), abs=0.12)
    assert {s.role for s in part.solids} == {"board", "pins", "body"}
    assert [m.thread for m in part.mounts] == ["M2_5"] * 4
    assert part.mounts[1].at == pytest.approx((61.49, 3.51), abs=0.1)
    assert all(0 < (m.sure_mm or 0) < 0.1 for m in part.mounts)
    assert json.loads(part.model_dump_json())["solids"][0]["sure_mm"] > 0


def test_a_board_without_edges_is_no_part() -> None:
    book = small(("1", "outside", ("A", "B"), 61.7))
    with pytest.raises(DesignError, match="two edges"):
        component_of(book, solve(book), "own-1")


def test_a_hole_off_the_board_is_refused_by_its_name() -> None:
    """By hand: the board is 60 wide; hole B, 3 across, has its centre at 61: its rim reaches 2.5 beyond."""

    def book(b_mm: str) -> Notebook:
        features = [
            {"name": "left", "kind": "edge", "axis": "x", "at_mm": 0},
            {"name": "right", "kind": "edge", "axis": "x"},
            {"name": "front", "kind": "edge", "axis": "y", "at_mm": 0},
            {"name": "back", "kind": "edge", "axis": "y"},
            *({"name": n, "kind": "hole", "near_mm": (x, 20)} for n, x in (("A", 5), ("B", 55))),
        ]
        told = [("edges", ("left", "right"), "x", "60"), ("edges", ("front", "back"), "y", "40")]
        for n, x in (("A", "5"), ("B", b_mm)):
            told += [
                ("diameter", (n,), "x", "3"),
                ("centres", ("left", n), "x", x),
                ("centres", ("front", n), "y", "20"),
            ]
        readings = [
            {"id": str(k), "how": how, "of": of, "along": along, "value": v}
            for k, (how, of, along, v) in enumerate(told)
        ]
        return read_notebook({"features": features, "readings": readings})

    good = solve(book("58.4"))  # 0.1 on the board: 60 - 58.4 - 1.5
    assert good.off == () and good.lacking == ""
    assert [m.name for m in component_of(book("58.4"), good, "b").mounts] == ["A", "B"]
    bad = solve(book("61"))
    assert [(o.hole, o.by_mm) for o in bad.off] == [("B", pytest.approx(2.5, abs=0.01))]
    with pytest.raises(DesignError, match=r"hole B reaches 2\.50 mm beyond its edge"):
        component_of(book("61"), bad, "b")


def test_holes_like_one_another_in_a_ring_are_refused() -> None:
    ring = [{"name": "A", "kind": "hole", "like": "B"}, {"name": "B", "kind": "hole", "like": "A"}]
    readings = [{"id": "1", "how": "diameter", "of": ["A"], "value": 3}]
    with pytest.raises(DesignError, match="ring"):
        read_notebook({"features": ring, "readings": readings})


def test_no_calipers_are_surer_than_a_thousandth() -> None:
    with pytest.raises(DesignError, match=r"at least 0\.001"):
        read_notebook(
            {
                "features": [{"name": "A", "kind": "hole"}],
                "readings": [{"id": "1", "how": "diameter", "of": ["A"], "value": 3, "sure_mm": 1e-300}],
            }
        )
