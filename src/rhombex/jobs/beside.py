"""Half of the table of constructions worked out in a process of its own, while this one works out the other."""

from __future__ import annotations

import os
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor, wait
from threading import Event
from typing import Any

from rhombex.core.choices import Seen, some
from rhombex.core.design import Design
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, Stopped
from rhombex.core.workshop.workshop import Workshop
from rhombex.jobs.apart import apart

LATE = 0.9  # of the work is done by then
ASKED_S = 0.2  # how often a stop is looked for while the other process is waited for


def beside(
    design: Design, workshop: Workshop, kinds: tuple[str, ...], in_the_way: frozenset[str]
) -> Callable[[Progress | None], tuple[Seen, ...]]:
    """Begin with some kinds elsewhere. What it answers with waits for them, or, called with None, ends the work; where that process comes to nothing
    they are looked at here."""
    ended = Event()

    def asked(share: float, what: str) -> None:
        if ended.is_set():
            raise Stopped

    def work() -> Any:
        return apart(some, design, workshop, kinds, in_the_way, seconds=None, most_bytes=None, progress=asked)

    pool = ThreadPoolExecutor(1)
    running = pool.submit(work)
    pool.shutdown(wait=False)

    def got(progress: Progress | None) -> tuple[Seen, ...]:
        if progress is None:
            ended.set()
            return ()
        try:
            while not wait((running,), ASKED_S).done:
                progress(LATE, kinds[-1])
            return tuple(running.result())
        except DesignError:
            return some(design, workshop, kinds, in_the_way)
        except Stopped:
            ended.set()
            raise

    return got


def two_at_once() -> bool:
    """Whether the machine has a second processor for it."""
    return len(os.sched_getaffinity(0)) > 1
