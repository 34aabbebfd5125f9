"""Two places for long work: what comes third waits in order, says so, and leaves when nobody asks for it any more."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from contextlib import contextmanager
from typing import Any

from rhombex.core.plain import DesignError

AT_ONCE = 2
MOST_WAITING = 60
GONE_S = 40.0  # a window asks three times a second; one that has not asked for so long is closed


class Places:
    """A queue before a few places, first come first served."""

    def __init__(self, at_once: int = AT_ONCE, most_waiting: int = MOST_WAITING) -> None:
        self.at_once, self.most_waiting = at_once, most_waiting
        self._changed = threading.Condition()
        self._inside: set[object] = set()
        self._waiting: list[object] = []

    def ask(self) -> object:
        """A place in the queue. Raises DesignError where too many wait already."""
        with self._changed:
            if len(self._waiting) >= self.most_waiting:
                raise DesignError(
                    "jobs", f"{len(self._waiting)} jobs wait already", "Wait until some are done, or stop some of them."
                )
            ticket = object()
            self._waiting.append(ticket)
            return ticket

    def before(self, ticket: object) -> int:
        """How many go in first; 0 for what is inside or next."""
        with self._changed:
            return self._waiting.index(ticket) + 1 if ticket in self._waiting else 0

    def enter(self, ticket: object, wanted: Callable[[], bool]) -> bool:
        """Wait for a place. False, and out of the queue, as soon as it is not wanted any more."""
        with self._changed:
            while True:
                if not wanted():
                    self._waiting.remove(ticket)
                    self._changed.notify_all()
                    return False
                if len(self._inside) < self.at_once and self._waiting[0] is ticket:
                    self._inside.add(self._waiting.pop(0))
                    self._changed.notify_all()
                    return True
                self._changed.wait(0.2)

    def leave(self, ticket: object) -> None:
        with self._changed:
            self._inside.discard(ticket)
            self._changed.notify_all()

    @contextmanager
    def place(self) -> Any:
        """A place for work that its caller waits for."""
        ticket = self.ask()
        self.enter(ticket, lambda: True)
        try:
            yield
        finally:
            self.leave(ticket)


class Seen:
    """When somebody last asked for a job."""

    def __init__(self) -> None:
        self._at = time.monotonic()

    def now(self) -> None:
        self._at = time.monotonic()

    def gone(self) -> bool:
        return time.monotonic() - self._at > GONE_S
