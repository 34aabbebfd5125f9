"""Work in a process of its own: it can be ended at any moment, held to a time and a memory, and cannot take the server down."""

from __future__ import annotations

import gc
import multiprocessing
import os
import time
from collections.abc import Callable
from multiprocessing import forkserver
from multiprocessing.context import ForkServerContext, SpawnContext
from pathlib import Path
from typing import Any

from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, silent

SECONDS = 7.0  # of work for a small file of a stranger: with the start of two processes a refusal comes within 10
SECONDS_PER_MB, MOST_SECONDS = 0.65, 20.0  # more for a larger one, 20 at 20 MB
BUSY = 3.0  # so much longer by the clock where the machine has other work
BYTES = 1_000_000_000  # and its memory
_PAGE, _TICKS = os.sysconf("SC_PAGE_SIZE"), os.sysconf("SC_CLK_TCK")
# what a child would read in before it begins; the B-rep kernel alone takes two seconds
READ_IN = [
    "rhombex.jobs.warm",
    "rhombex.jobs.kinds",
    "rhombex.core.exchange.read_step",
    "rhombex.core.geometry.write_step",
]
_fresh: SpawnContext | ForkServerContext = multiprocessing.get_context(
    "spawn"
)  # the kernels hold threads that a fork of this process would break


def keep_ready() -> None:
    """For a process that stays: from now on children are forked from one that does nothing else and has their modules read in. It
    begins now, beside what this one does, and ends with it."""
    global _fresh
    ready = multiprocessing.get_context("forkserver")
    ready.set_forkserver_preload(READ_IN)
    _fresh = ready
    forkserver.ensure_running()


def _resident(pid: int) -> int:
    """Bytes a process holds in memory; 0 where it is gone."""
    try:
        return int(Path(f"/proc/{pid}/statm").read_text().split()[1]) * _PAGE
    except (OSError, IndexError, ValueError):
        return 0


def _worked(pid: int) -> float:
    """Processor seconds that a process has taken; 0 where it is gone."""
    try:
        words = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
        return (int(words[11]) + int(words[12])) / _TICKS
    except (OSError, IndexError, ValueError):
        return 0.0


def seconds_for(size: int) -> float:
    """How much work a file of so many bytes may take."""
    return min(SECONDS + SECONDS_PER_MB * size / 1e6, MOST_SECONDS)


def _work(work: Callable[..., Any], args: tuple[Any, ...], say: Any) -> None:
    # what the libraries print about a stranger's file is no use to anybody
    quiet = os.open(os.devnull, os.O_WRONLY)
    os.dup2(quiet, 1)
    os.dup2(quiet, 2)
    # what was read in before stays as long as the process: to look through it for what may go is in vain
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
    try:
        say.send(("ready", 0.0, ""))
        result = work(*args, progress=lambda share, what: say.send(("at", share, what)))
        say.send(("done", 1.0, result))
    except DesignError as e:
        say.send(("refused", 1.0, (e.field, e.message, e.do)))
    except MemoryError:
        say.send(("refused", 1.0, ("file", "it needs more memory than is given to a file", "Export only the board.")))
    except Exception as e:  # the last frame of the child: whatever a stranger's file did, the user is told
        say.send(
            ("refused", 1.0, ("file", f"it cannot be read ({type(e).__name__}: {str(e)[:120]})", "Export it again."))
        )


def apart(
    work: Callable[..., Any],
    *args: Any,
    seconds: float | None = SECONDS,
    most_bytes: int | None = BYTES,
    progress: Progress = silent,
) -> Any:
    """Run work(*args, progress=...) in a fresh process and return what it returns.

    Raises DesignError for what it refuses, and where it works longer or holds more than it may (None: as long, as much as it
    wants); Stopped where progress does. `seconds` are of work, so that a busy machine refuses no file; by the clock it may take three
    times as long. They are counted from when the process is up.
    """
    ours, theirs = _fresh.Pipe(duplex=False)
    child = _fresh.Process(target=_work, args=(work, args, theirs), daemon=True)
    child.start()
    theirs.close()
    begun, before = time.monotonic(), 0.0
    ready = False
    last = (0.0, "starting a process of its own: a few seconds")
    try:
        while True:
            if ours.poll(0.05):
                kind, share, what = ours.recv()
                if kind == "ready":
                    begun, before, ready = time.monotonic(), _worked(child.pid or 0), True
                elif kind == "at":
                    last = (share, what)
                elif kind == "done":
                    return what
                else:
                    raise DesignError(*what)
            taken = time.monotonic() - begun
            over = seconds is not None and (_worked(child.pid or 0) - before > seconds or taken > BUSY * seconds)
            if taken > 60.0 if not ready else over:
                raise DesignError(
                    "file",
                    f"it took longer than {seconds or 60.0:.0f} s",
                    "Export only the board, or let it take longer.",
                )
            if most_bytes is not None and _resident(child.pid or 0) > most_bytes:
                raise DesignError(
                    "file",
                    f"it needs more than {most_bytes / 1e9:g} GB to read",
                    "Export only the board, without fine detail.",
                )
            progress(*last)  # said again, so that a stopped job stops between two words of the child
    except EOFError:
        raise DesignError("file", "the work broke off; the file may be damaged", "Try it again.") from None
    finally:
        child.kill()
        child.join(5)
        ours.close()
