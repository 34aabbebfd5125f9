"""A hand at work: what is worked out while it rests gives way to it."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import Condition

LONGEST_S = 30.0  # that it is waited for: whatever holds a hand up so long is not waited for for ever


class Hand:
    """Counts what is asked for by hands. Safe among threads."""

    def __init__(self) -> None:
        self._changed = Condition()
        self._busy = 0

    @contextmanager
    def moves(self) -> Iterator[None]:
        """While something is answered that a hand waits for."""
        with self._changed:
            self._busy += 1
        try:
            yield
        finally:
            with self._changed:
                self._busy -= 1
                self._changed.notify_all()

    def rests(self) -> None:
        """Wait until no hand waits for anything."""
        with self._changed:
            self._changed.wait_for(lambda: self._busy == 0, LONGEST_S)
