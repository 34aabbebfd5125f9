"""What is remembered of rules while a cut is dragged: only what no cut can change, and the same as if it were asked anew."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from random import Random
from typing import Any

import pytest

from rhombex.core import analysis
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.concerns import before_cuts, elsewhere, judge, screw_room
from rhombex.core.concerns.before_cuts import LooksAtPieces, Walls
from rhombex.core.concerns.registry import NEEDS, RULES, UNLESS_TOLD, heard, seen_beyond
from rhombex.core.design import Design, PinnedCut
from rhombex.core.edits import Move, PutCuts, Set
from rhombex.core.hardware import reach
from rhombex.core.hardware.reach import reaches
from rhombex.core.plain import DesignError
from rhombex.core.shell import build as shell_build
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import curlew, dunlin, heron, wren

MADE = {"wren": wren, "heron": heron, "dunlin": dunlin, "curlew": curlew}


def asked() -> int:
    """How many answers of rules are remembered."""
    return sum(map(len, before_cuts._said._kept.values()))


def dragged(d: Design, r: Random, by: str = "") -> Design:
    """One cut of a part put at another place, joined at random or as it is said."""
    a = analyse(d, ARCHIVE_WORKSHOP, "preview")
    c = r.choice([c for c in a.cuts if c.seat is not None and c.flat])
    axis = r.choice(c.flat)
    k = "xyz".index(axis)
    at = r.uniform(c.lo_mm[k] + 12, c.hi_mm[k] - 12) - a.case.cavity.lo[k]
    by = by or r.choice(["steel pins", "bolts", "magnets", "dovetails", "bridging plates"])
    cut = PinnedCut(part=c.part, axis=axis, at_mm=round(at, 1), by=by)  # type: ignore[arg-type]
    return apply(d, PutCuts(part=c.part, cuts=(cut,)))


@pytest.mark.parametrize("name", MADE)
def test_a_rule_says_the_same_remembered_and_asked_anew(name: str) -> None:
    r, d = Random(name), apply(MADE[name](), Set(path="printer", value="bench-180"))
    for _ in range(3):
        a = analyse(d, ARCHIVE_WORKSHOP, "preview")
        for code, rule in RULES.items():
            if code not in UNLESS_TOLD and all(a.case.has(need) for need in NEEDS[code]):
                anew = [f for f in rule(a) if f.severity == "advice" or seen_beyond(f)]
                assert heard(code, a) == anew, code
        reach._reached.forget()
        assert a.reach == reaches(a.joints, a.things, a.case)
        d = dragged(d, r)


def test_most_rules_are_not_asked_again_while_a_cut_is_dragged(good_wren: Design) -> None:
    before_cuts._said.forget()

    def put(at: float) -> Analysis:
        cut = PinnedCut(part="lid", axis="x", at_mm=at)
        return analyse(apply(good_wren, PutCuts(part="lid", cuts=(cut,))), ARCHIVE_WORKSHOP, "preview")

    loads = []
    for at in (82.0, 20.0):
        loads += [f.limit for f in judge(put(at)) if f.code == "seam-too-weak"]
        if at == 82.0:
            first = asked()
    assert asked() == first > 60
    assert loads[0] > 2 * loads[1]  # what follows from the cut is heard anew: 82 is the middle, where it is bent most


@pytest.mark.parametrize("name", ["wren", "heron"])
def test_no_case_is_built_while_a_cut_is_dragged(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """Not even to try a way out, and no rim is worked out for one."""
    built: list[Design] = []

    def counting(make: Callable[..., Any]) -> Callable[..., Any]:
        def made(design: Design, *rest: Any) -> Any:
            built.append(design)
            return make(design, *rest)

        return made

    r, d = Random(name), apply(MADE[name](), Set(path="printer", value="bench-180"))
    before_cuts._found.forget()
    before_cuts._said.forget()
    monkeypatch.setattr(shell_build, "build", counting(shell_build.build))
    monkeypatch.setattr(screw_room, "walled", counting(screw_room.walled))
    monkeypatch.setattr(elsewhere, "bulges", counting(elsewhere.bulges))
    counts = []
    for _ in range(3):
        judge(analyse(d, ARCHIVE_WORKSHOP, "preview"))
        counts.append(len(built))
        d = dragged(d, r, "steel pins")
    assert counts[0] > 0
    assert counts[2] == counts[1] == counts[0]


def test_another_design_or_workshop_is_asked_anew(good_wren: Design) -> None:
    before_cuts._said.forget()
    a = analyse(good_wren, ARCHIVE_WORKSHOP, "preview")
    judge(a)
    first = asked()
    judge(analyse(apply(good_wren, Set(path="brief.opened", value="weekly")), ARCHIVE_WORKSHOP, "preview"))
    assert asked() > first + 60
    fewer = ARCHIVE_WORKSHOP.model_copy(update={"printers": ARCHIVE_WORKSHOP.printers[1:]})
    second = asked()
    judge(analyse(good_wren, fewer, "preview"))
    assert asked() > second + 60


def test_who_looks_at_walls_alone_is_shown_no_cut(good_wren: Design) -> None:
    walls = Walls(analyse(good_wren, ARCHIVE_WORKSHOP, "preview"))
    assert walls.case.parts and walls.design.shell == good_wren.shell
    for name in ("cuts", "pieces", "joints", "bill", "reach", "faults", "piece_recipes"):
        with pytest.raises(LooksAtPieces):
            getattr(walls, name)
    with pytest.raises(AttributeError):
        walls.design.cuts  # noqa: B018


def test_nothing_is_remembered_where_a_part_broke(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    """A part that breaks where it is cut is missing among the whole ones too: what is said then holds for this time only."""
    whole = judge(analyse(good_wren, ARCHIVE_WORKSHOP, "preview"))

    def breaks(*_: object) -> None:
        raise ZeroDivisionError

    with monkeypatch.context() as m:
        m.setattr(analysis, "cut_part", breaks)
        a = analyse(good_wren, ARCHIVE_WORKSHOP, "preview")
        before_cuts._said.forget()
        assert a.recipes == {} and a.faults and judge(a) != whole
        assert asked() == 0
    assert judge(analyse(good_wren, ARCHIVE_WORKSHOP, "preview")) == whole


def test_threads_with_two_workshops_are_told_of_their_own() -> None:
    other = ARCHIVE_WORKSHOP.model_copy(update={"printers": ARCHIVE_WORKSHOP.printers[1:]})
    with ThreadPoolExecutor(4) as pool:
        found = list(pool.map(before_cuts._hash, [ARCHIVE_WORKSHOP, other] * 2000))
    assert found == [hash(ARCHIVE_WORKSHOP), hash(other)] * 2000


def test_a_line_whose_screws_have_moved_is_looked_at_anew() -> None:
    """The screws of *Wren*'s board, where they are and moved sideways until something stands in the way."""
    a = analyse(wren(), ARCHIVE_WORKSHOP, "none")
    line = next(g for g in a.joints if g.key == "posts/board")
    lines = [
        line.model_copy(
            update={"seats": tuple(x.model_copy(update={"at": (x.at[0] - mm, *x.at[1:])}) for x in line.seats)}
        )
        for mm in range(0, 90, 6)
    ]
    told = [reaches((x,), a.things, a.case)[0] for x in lines]
    for x, remembered in zip(lines, told, strict=True):
        reach._reached.forget()
        assert remembered == reaches((x,), a.things, a.case)[0]
    assert {x.free for x in told} == {True, False}


@pytest.mark.parametrize("name", MADE)
def test_a_line_is_looked_at_anew_where_what_stands_beside_its_tools_has_moved(name: str) -> None:
    r, d = Random(f"beside/{name}"), MADE[name]()
    for _ in range(8):
        p = r.choice(d.placements)
        at = (p.at_mm[0] + r.uniform(-30, 30), p.at_mm[1] + r.uniform(-30, 30), p.at_mm[2] + r.uniform(0, 8))
        with suppress(DesignError):
            d = apply(d, Move(id=p.id, to_mm=at))
        a = analyse(d, ARCHIVE_WORKSHOP, "none")
        told = reaches(a.joints, a.things, a.case)
        reach._reached.forget()
        assert told == reaches(a.joints, a.things, a.case)


def test_only_lines_that_something_moved_beside_are_looked_at_anew() -> None:
    """*Wren*'s drive stands beside the tools for the screws of board and fan, and has its own: these are asked for again where it moves, and not those of the lid."""
    d = wren()
    a = analyse(d, ARCHIVE_WORKSHOP, "none")
    assert reaches(a.joints, a.things, a.case)
    at = next(p for p in d.placements if p.id == "drive").at_mm
    b = analyse(apply(d, Move(id="drive", to_mm=(at[0], at[1] + 1.0, at[2]))), ARCHIVE_WORKSHOP, "none")
    before = reach._reached.made
    reaches(b.joints, b.things, b.case)
    moved = {g.key for g, h in zip(a.joints, b.joints, strict=True) if g != h}
    assert moved == {"posts/drive"} and reach._reached.made - before == 3
