"""Half of the table of constructions comes from a process of its own: it is the same table, and it can be stopped."""

from __future__ import annotations

import os
from typing import Any

import pytest

from rhombex.core import choices as choices_
from rhombex.core import memo
from rhombex.core.apply import apply
from rhombex.core.choices import HERE, Seen, Stop, Way, choices, made_so, some
from rhombex.core.design import Design
from rhombex.core.edits import Together
from rhombex.core.geometry import mesh_kernel
from rhombex.core.memo import forget_all
from rhombex.core.plain import DesignError
from rhombex.core.progress import Stopped, silent
from rhombex.core.shell.offers import KINDS
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.jobs import beside as beside_
from rhombex.jobs.apart import apart
from rhombex.jobs.beside import beside

NOTHING: frozenset[str] = frozenset()
THERE = tuple(k for k in KINDS if k not in HERE)


def at_once(progress: Any) -> tuple[int, bool, int]:
    """What a process of its own has before it does anything: processors, compiled code, and what it remembers."""
    remembered = sum(len(m) for m in memo._all)
    return len(os.sched_getaffinity(0)), bool(mesh_kernel._moments.signatures), remembered


def test_who_is_forked_finds_code_loaded_and_nothing_remembered() -> None:
    assert apart(at_once) == (len(os.sched_getaffinity(0)), True, 0)


def test_ways_found_elsewhere_are_those_found_here(good_wren: Design) -> None:
    """Of what was looked at before a preview remembers sections that are alike to a thousandth: both begin with nothing."""
    forget_all()
    there = beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    assert there(silent) == some(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)


@pytest.mark.parametrize("kind", ["two halves", "open bench"])
def test_a_shared_table_is_in_order_and_has_one_best(
    good_wren: Design, monkeypatch: pytest.MonkeyPatch, kind: str
) -> None:
    """What is asked for elsewhere is what is neither looked at here nor made so now, and it is begun before the design as it is was judged."""
    design = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, kind)))
    asked: list[tuple[str, ...]] = []
    looked: list[str] = []

    def share(d: Design, shop: Any, kinds: tuple[str, ...], in_the_way: frozenset[str]) -> Any:
        asked.append(kinds)
        assert not looked
        return lambda progress: some(d, shop, kinds, in_the_way)

    alone = choices(design, ARCHIVE_WORKSHOP)
    monkeypatch.setattr(choices_, "_ways", type(choices_._ways)(2))
    seen = choices_._stops
    monkeypatch.setattr(choices_, "_stops", lambda a: looked.append(a.case.kind) or seen(a))
    assert choices(design, ARCHIVE_WORKSHOP, share=share) == alone
    assert [w.kind for w in alone] == list(KINDS) and sum(w.recommended for w in alone) == 1
    assert asked == [tuple(k for k in KINDS if k not in (*HERE, kind))]
    assert looked[0] == kind and len(looked) == len(KINDS) + 1


def test_a_construction_is_judged_by_the_stops_that_it_brings(good_wren: Design) -> None:
    """Of its stops those that there are now do not count; three more stand against it, and a part that cannot be made does alone."""
    way = some(good_wren, ARCHIVE_WORKSHOP, ("two halves",), NOTHING)[0].way
    stops = tuple(Stop(key=k, code=k[0], title=k.upper()) for k in ("a1", "b1", "b2", "c1"))

    def judged(*known: str, code: str = "a") -> Way:
        first = stops[0].model_copy(update={"code": code})
        return choices_._judged(Seen(way=way, stops=(first, *stops[1:])), frozenset(known))

    assert judged().suits is False and judged().stops == ("A1", "B1", "B2", "C1")
    assert judged().why == "It brings 4 stops: A1; B1; B2; and 1 more"
    assert judged("b2").why == "It brings 3 stops: A1; B1; C1" and judged("b2").stops == ("A1", "B1", "C1")
    assert judged("b1", "c1").suits and judged("b1", "c1").why == way.why and judged("b1", "c1").stops == ("A1", "B2")
    assert judged("b1", "c1", code="part-not-made").why == "A1"
    assert judged("a1", "b1", "c1", code="part-not-made").suits
    assert choices_._judged(Seen(way=way, stops=None), frozenset()) is way


def test_a_stop_here_ends_what_is_done_elsewhere(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    ended: list[object] = []
    monkeypatch.setattr(choices_, "_ways", type(choices_._ways)(2))

    def stopping(share: float, what: str) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        choices(good_wren, ARCHIVE_WORKSHOP, stopping, share=lambda *_: lambda progress: ended.append(progress) or ())
    assert ended == [None]
    assert beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)(None) == ()


def test_a_process_that_comes_to_nothing_is_made_good_here(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: Any, **__: Any) -> Any:
        raise DesignError("file", "the work broke off", "Try it again.")

    monkeypatch.setattr(beside_, "apart", broken)
    got = beside(good_wren, ARCHIVE_WORKSHOP, ("open bench",), NOTHING)(silent)
    assert [x.way.kind for x in got] == ["open bench"]


def test_what_is_waited_for_can_be_stopped(good_wren: Design) -> None:
    """The stop comes while the other process is at work, and is not kept waiting by it."""
    there = beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    said: list[tuple[float, str]] = []

    def stopping(share: float, what: str) -> None:
        said.append((share, what))
        raise Stopped

    with pytest.raises(Stopped):
        there(stopping)
    assert said == [(0.9, THERE[-1])]
