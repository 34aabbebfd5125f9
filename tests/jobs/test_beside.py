"""Half of the table of constructions comes from a process of its own: it is the same table, and it can be stopped."""

from __future__ import annotations

from typing import Any

import pytest

from rhombex.core import choices as choices_
from rhombex.core.choices import FIRST, Now, choices, some
from rhombex.core.design import Design
from rhombex.core.memo import forget_all
from rhombex.core.plain import DesignError
from rhombex.core.progress import Stopped, silent
from rhombex.core.shell.offers import KINDS
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.jobs import beside as beside_
from rhombex.jobs.beside import beside

NOTHING = Now(frozenset(), frozenset())


def test_ways_found_elsewhere_are_those_found_here(good_wren: Design) -> None:
    """Of what was looked at before a preview remembers sections that are alike to a thousandth: both begin with nothing."""
    forget_all()
    kinds = KINDS[FIRST:]
    there = beside(good_wren, ARCHIVE_WORKSHOP, kinds, NOTHING)
    assert there(silent) == some(good_wren, ARCHIVE_WORKSHOP, kinds, NOTHING)


def test_a_shared_table_is_in_order_and_has_one_best(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    """What is asked for elsewhere is the rest of the list, judged by what is known of the design as it is."""
    asked: list[tuple[tuple[str, ...], Now]] = []

    def share(d: Design, shop: Any, kinds: tuple[str, ...], now: Now) -> Any:
        asked.append((kinds, now))
        return lambda progress: some(d, shop, kinds, now)

    alone = choices(good_wren, ARCHIVE_WORKSHOP)
    monkeypatch.setattr(choices_, "_ways", type(choices_._ways)(2))
    assert choices(good_wren, ARCHIVE_WORKSHOP, share=share) == alone
    assert [w.kind for w in alone] == list(KINDS) and sum(w.recommended for w in alone) == 1
    assert asked[0][0] == KINDS[FIRST:] and isinstance(asked[0][1], Now)


def test_a_stop_here_ends_what_is_done_elsewhere(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    ended: list[object] = []
    monkeypatch.setattr(choices_, "_ways", type(choices_._ways)(2))

    def stopping(share: float, what: str) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        choices(good_wren, ARCHIVE_WORKSHOP, stopping, share=lambda *_: lambda progress: ended.append(progress) or ())
    assert ended == [None]
    assert beside(good_wren, ARCHIVE_WORKSHOP, KINDS[FIRST:], NOTHING)(None) == ()


def test_a_process_that_comes_to_nothing_is_made_good_here(good_wren: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: Any, **__: Any) -> Any:
        raise DesignError("file", "the work broke off", "Try it again.")

    monkeypatch.setattr(beside_, "apart", broken)
    got = beside(good_wren, ARCHIVE_WORKSHOP, ("open bench",), NOTHING)(silent)
    assert [w.kind for w in got] == ["open bench"]


def test_what_is_waited_for_can_be_stopped(good_wren: Design) -> None:
    """The stop comes while the other process is at work, and is not kept waiting by it."""
    there = beside(good_wren, ARCHIVE_WORKSHOP, KINDS[FIRST:], NOTHING)
    said: list[tuple[float, str]] = []

    def stopping(share: float, what: str) -> None:
        said.append((share, what))
        raise Stopped

    with pytest.raises(Stopped):
        there(stopping)
    assert said == [(0.9, KINDS[-1])]
