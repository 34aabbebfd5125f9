"""For the process that others are forked from. Read in, it works out a small case once: who is forked from it finds compiled code loaded and tables read, which take half a
second, and a kernel that keeps to one thread."""

from __future__ import annotations

import gc
import os
from contextlib import suppress

from rhombex.core.choices import some
from rhombex.core.memo import forget_all
from rhombex.core.shell.offers import KINDS
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import wren


def _warm() -> None:
    """Held to one processor meanwhile: the mesh kernel starts as many threads as it finds, which no fork brings along, and two processes that
    each use both wait for one another."""
    every = os.sched_getaffinity(0)
    os.sched_setaffinity(0, {min(every)})
    try:
        some(wren(), ARCHIVE_WORKSHOP, KINDS[2:4], frozenset())
    finally:
        forget_all()
        gc.collect()
        os.sched_setaffinity(0, every)


with suppress(Exception):  # it only makes others quicker: without it they begin as they would alone
    _warm()
