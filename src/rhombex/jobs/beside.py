"""Half of the table of constructions worked out in a process of its own, while this one works out the other."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Event
from typing import Any

from rhombex.core.choices import Now, Way, some
from rhombex.core.design import Design
from rhombex.core.plain import DesignError
from rhombex.core.progress import Stopped
from rhombex.core.workshop.workshop import Workshop
from rhombex.jobs.apart import apart


def beside(design: Design, workshop: Workshop, kinds: tuple[str, ...], now: Now) -> Callable[[bool], tuple[Way, ...]]:
    """Begin with some kinds elsewhere. What it answers with waits for them, or, called with True, ends the work; where that process comes to nothing
    they are looked at here."""
    ended = Event()

    def asked(share: float, what: str) -> None:
        if ended.is_set():
            raise Stopped

    def work() -> Any:
        return apart(some, design, workshop, kinds, now, seconds=None, most_bytes=None, progress=asked)

    pool = ThreadPoolExecutor(1)
    running = pool.submit(work)
    pool.shutdown(wait=False)

    def got(stop: bool) -> tuple[Way, ...]:
        if stop:
            ended.set()
            return ()
        try:
            return tuple(running.result())
        except DesignError:
            return some(design, workshop, kinds, now)

    return got


def two_at_once() -> bool:
    """Whether the machine has a second processor for it."""
    return len(os.sched_getaffinity(0)) > 1
