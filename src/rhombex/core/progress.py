"""How long work says how far it is, how it gives way to what is waited for, and how it is stopped."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


class Stopped(Exception):
    """Somebody stopped it."""


Progress = Callable[[float, str], None]


def silent(share: float, what: str) -> None:
    """Tell nobody."""


def at_once() -> None:
    """Give way to nobody."""


_to: ContextVar[Callable[[], None]] = ContextVar("gives_way_to", default=at_once)


@contextmanager
def giving_way(to: Callable[[], None]) -> Iterator[None]:
    """While long work is done that asks `to` between its steps, in this thread: it may wait there, or raise Stopped."""
    before = _to.set(to)
    try:
        yield
    finally:
        _to.reset(before)


def between_steps() -> None:
    """Long work calls this between its steps. Raises Stopped where it is wanted no longer."""
    _to.get()()
