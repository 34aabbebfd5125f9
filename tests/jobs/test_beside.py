"""The table of constructions is worked out by two, each taking the next kind as they come free: it is the same table, and it can be stopped."""

from __future__ import annotations

import os
from typing import Any

import pytest

from rhombex.core import choices as choices_
from rhombex.core import memo
from rhombex.core.apply import apply
from rhombex.core.choices import Seen, Stop, Way, choices, made_so, some
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
from rhombex.jobs.beside import Beside

NOTHING: frozenset[str] = frozenset()
THERE = ("tray in a sleeve", "sliding panels", "open bench")


def at_once(progress: Any) -> tuple[int, bool, int]:
    """What a process of its own has before it does anything: processors, compiled code, and what it remembers."""
    remembered = sum(len(m) for m in memo._all)
    return len(os.sched_getaffinity(0)), bool(mesh_kernel._moments.signatures), remembered


def test_who_is_forked_finds_code_loaded_and_nothing_remembered() -> None:
    assert apart(at_once) == (len(os.sched_getaffinity(0)), True, 0)


def test_ways_found_elsewhere_are_those_found_here(good_wren: Design) -> None:
    """Of what was looked at before a preview remembers sections that are alike to a thousandth: both begin with nothing."""
    forget_all()
    there = Beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    assert there.found(silent) == some(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    assert there.next() is None


def test_each_kind_is_taken_once(good_wren: Design) -> None:
    """Whoever asks next has the next one; what is taken here is not looked at there, and all are looked at."""
    here = Beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    mine = here.next()  # long before another process is up
    assert mine == THERE[0]
    assert [x.way.kind for x in here.found(silent)] == list(THERE[1:])


class Given:
    """A helper that has looked at some kinds, and leaves the rest."""

    def __init__(self, seen: tuple[Seen, ...], left: tuple[str, ...]) -> None:
        self.seen, self.left, self.ended, self.waited = seen, list(left), 0, 0

    def next(self) -> str | None:
        return self.left.pop(0) if self.left else None

    def found(self, progress: Any) -> tuple[Seen, ...]:
        self.waited += 1
        return self.seen

    def end(self) -> None:
        self.ended += 1


@pytest.mark.parametrize(
    ("kind", "there", "lost"),
    [
        ("two halves", ("core and wrap", "tray in a sleeve"), ()),
        ("open bench", ("two halves",), ("sliding panels",)),
        ("sliding panels", (), ()),
    ],
)
def test_a_shared_table_is_in_order_and_has_one_best(
    good_wren: Design, monkeypatch: pytest.MonkeyPatch, kind: str, there: tuple[str, ...], lost: tuple[str, ...]
) -> None:
    """A helper may take any kind but the one that it is now, and begins before the design as it is was judged. What it took and lost is looked at here;
    it is not waited for where all is known."""
    design = apply(good_wren, Together(edits=made_so(good_wren, ARCHIVE_WORKSHOP, kind)))
    asked: list[tuple[str, ...]] = []
    looked: list[str] = []
    helpers: list[Given] = []

    def share(d: Design, shop: Any, kinds: tuple[str, ...], in_the_way: frozenset[str]) -> Any:
        asked.append(kinds)
        assert not looked
        given = Given(some(d, shop, there, in_the_way), tuple(k for k in kinds if k not in (*there, *lost)))
        looked.clear()
        helpers.append(given)
        return given

    alone = choices(design, ARCHIVE_WORKSHOP)
    monkeypatch.setattr(choices_, "_ways", type(choices_._ways)(2))
    seen = choices_._stops
    monkeypatch.setattr(choices_, "_stops", lambda a: looked.append(a.case.kind) or seen(a))
    told: list[int] = []
    assert choices(design, ARCHIVE_WORKSHOP, found=lambda w: told.append(len(w)), share=share) == alone
    assert [w.kind for w in alone] == list(KINDS) and sum(w.recommended for w in alone) == 1
    assert len(asked) == 1 and sorted(asked[0]) == sorted(k for k in KINDS if k != kind)
    assert sorted(looked) == sorted([kind, *(k for k in KINDS if k not in there)]) and looked[:2] == [kind, kind]
    assert helpers[0].ended == 1 and helpers[0].waited == bool(there or lost)
    assert told == sorted(told) and told[0] == 1


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
    monkeypatch.setattr(choices_, "_ways", type(choices_._ways)(2))
    given = Given((), KINDS)

    def stopping(share: float, what: str) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        choices(good_wren, ARCHIVE_WORKSHOP, stopping, share=lambda *_: given)
    assert given.ended == 1 and not given.waited
    there = Beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    there.end()
    with pytest.raises(Stopped):
        there.found(silent)


def test_a_process_that_comes_to_nothing_leaves_its_kinds(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: Any, **__: Any) -> Any:
        raise DesignError("file", "the work broke off", "Try it again.")

    monkeypatch.setattr(beside_, "apart", broken)
    there = Beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    assert there.found(silent) == () and there.next() == THERE[0]


def test_what_is_waited_for_can_be_stopped(good_wren: Design) -> None:
    """The stop comes while the other process is at work, and is not kept waiting by it."""
    there = Beside(good_wren, ARCHIVE_WORKSHOP, THERE, NOTHING)
    said: list[tuple[float, str]] = []

    def stopping(share: float, what: str) -> None:
        said.append((share, what))
        raise Stopped

    with pytest.raises(Stopped):
        there.found(stopping)
    assert said == [(0.9, THERE[-1])]
    there.end()
