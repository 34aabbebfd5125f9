"""The table of constructions worked out by two: a process of its own and this one each take the next kind as they come free."""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor, wait
from multiprocessing.connection import Connection
from threading import Event
from typing import Any

from rhombex.core.choices import Seen, some
from rhombex.core.design import Design
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, Stopped, silent
from rhombex.core.workshop.workshop import Workshop
from rhombex.jobs.apart import apart

LATE = 0.9  # of the work is done by then
ASKED_S = 0.2  # how often a stop is looked for while the other process is waited for


def _bag(count: int) -> Connection:
    """A pipe with the numbers from 0 to `count`, a byte each. Whoever reads a byte has it alone, and at the end there is nothing: no lock, which
    a process that is ended could keep."""
    left, filled = multiprocessing.Pipe(duplex=False)
    os.write(filled.fileno(), bytes(range(count)))
    filled.close()
    return left


def _take(bag: Connection) -> int | None:
    one = os.read(bag.fileno(), 1)
    return one[0] if one else None


def _taken(bag: Connection, kinds: tuple[str, ...]) -> Iterator[str]:
    while (k := _take(bag)) is not None:
        yield kinds[k]


def _look(
    design: Design,
    workshop: Workshop,
    bag: Connection,
    kinds: tuple[str, ...],
    in_the_way: frozenset[str],
    progress: Progress = silent,
) -> tuple[Seen, ...]:
    return some(design, workshop, _taken(bag, kinds), in_the_way, progress)


class Beside:
    """A process that looks at some kinds of construction. It begins at once, and ends with `end`, or once none is left."""

    def __init__(self, design: Design, workshop: Workshop, kinds: tuple[str, ...], in_the_way: frozenset[str]) -> None:
        self._kinds, self._bag, self._ended = kinds, _bag(len(kinds)), Event()
        pool = ThreadPoolExecutor(1)
        self._running = pool.submit(self._work, design, workshop, in_the_way)
        pool.shutdown(wait=False)

    def _work(self, design: Design, workshop: Workshop, in_the_way: frozenset[str]) -> Any:
        def asked(share: float, what: str) -> None:
            if self._ended.is_set():
                raise Stopped

        args = (design, workshop, self._bag, self._kinds, in_the_way)
        return apart(_look, *args, seconds=None, most_bytes=None, progress=asked)

    def next(self) -> str | None:
        """A kind that nobody has taken yet; None: all are taken."""
        k = _take(self._bag)
        return None if k is None else self._kinds[k]

    def found(self, progress: Progress) -> tuple[Seen, ...]:
        """What was found there, or nothing where that process came to nothing. `progress` may stop the wait."""
        while not wait((self._running,), ASKED_S).done:
            progress(LATE, self._kinds[-1])
        try:
            return tuple(self._running.result())
        except (DesignError, OSError):  # it broke off, or none could be begun
            return ()

    def end(self) -> None:
        """End that process, where it still works."""
        self._ended.set()


def two_at_once() -> bool:
    """Whether the machine has a second processor for it."""
    return len(os.sched_getaffinity(0)) > 1
