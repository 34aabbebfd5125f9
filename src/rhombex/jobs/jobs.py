"""Work that takes more than a moment: queued, carried out by workers, watched, stopped, remembered by what was asked."""

from __future__ import annotations

import logging
import sqlite3
import threading
import time
import uuid
from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping
from dataclasses import replace
from typing import Any, cast

from huey import Huey
from huey.consumer import Consumer

from rhombex.core.faults import plainly
from rhombex.core.plain import DesignError
from rhombex.core.progress import Stopped
from rhombex.jobs.job import ENDED, Job
from rhombex.store.trouble import CannotWrite, explain

AT_ONCE = 2
MOST_WAITING = 60
KEEP = 24  # jobs that have ended; the oldest is forgotten
GONE_S = 40.0  # a window asks three times a second; one that has not asked for so long is closed
TOLD_S = 0.1  # how often a worker tells how far it is, and looks whether it is still wanted


class Say:
    """What a worker tells of its job: call it with the share done and what it is at, or with `best` so far. Raises Stopped once
    the job is not wanted any more."""

    def __init__(self, jobs: Jobs, job: Job) -> None:
        self._jobs, self.job, self._told = jobs, job, 0.0

    def __call__(self, share: float, what: str) -> None:
        self.job = replace(self.job, share=share, what=what)
        if time.monotonic() - self._told >= TOLD_S:
            self._tell()

    def best(self, value: Any) -> None:
        self.job = replace(self.job, best=value)
        self._tell()

    def _tell(self) -> None:
        self._told = time.monotonic()
        why = self._jobs.unwanted(self.job.id)
        if why is not None:
            raise Stopped(why)
        self._jobs.keep(self.job)


Work = Callable[..., Any]  # work(say, **asked) -> result


class _Workers(Consumer):  # type: ignore[misc]
    """The queue's own workers inside the server, whose signals are not theirs to take."""

    def _set_signal_handlers(self) -> None:
        pass


class Jobs:
    """The jobs of one server. `kinds`: what each kind of job does; what it is asked with and what it returns can be pickled, so
    that workers may be elsewhere. `dropped` is called with a job that is forgotten."""

    def __init__(
        self,
        queue: Huey,
        kinds: Mapping[str, Work],
        at_once: int = AT_ONCE,
        dropped: Callable[[Job], None] = lambda job: None,
    ) -> None:
        self.queue, self.kinds, self.dropped = queue, kinds, dropped
        self._ids: OrderedDict[str, float] = OrderedDict()  # with when each was last asked for
        self._by_key: dict[Hashable, str] = {}
        self._lock = threading.RLock()
        logging.getLogger("huey").setLevel(logging.CRITICAL)  # what fails is told to whoever asked
        self._enqueue = queue.task(name="job")(self._run)
        self._at_once = at_once
        self._workers: _Workers | None = None

    def start(self, kind: str, asked: Mapping[str, Any], key: Hashable = None) -> Job:
        """Ask for work, or take up that which was asked for by the same key. Raises DesignError where too many wait,
        CannotWrite where the disk refuses."""
        with self._lock:
            known = self.job(self._by_key[key]) if key in self._by_key else None
            if known is not None and known.state not in ("failed", "stopped"):
                return known
            all_ = [j for id in self._ids if (j := self._read(id)) is not None]
            waiting = sum(j.state == "waiting" for j in all_)
            if waiting >= MOST_WAITING:
                raise DesignError(
                    "jobs", f"{waiting} jobs wait already", "Wait until some are done, or stop some of them."
                )
            ended = [j for j in all_ if j.state in ENDED]
            for old in ended[: max(0, len(ended) + 1 - KEEP)]:
                self._drop(old)
            job = Job(uuid.uuid4().hex[:12], kind)
            try:
                self.queue.put(f"asked:{job.id}", dict(asked))
                self.keep(job)
                self._see(job.id)
                self._enqueue(job.id)
            except (OSError, sqlite3.Error) as e:
                raise CannotWrite(*explain(e)) from e
            if key is not None:
                self._by_key[key] = job.id
            if self._workers is None:
                self._workers = _Workers(
                    self.queue,
                    workers=self._at_once,
                    periodic=False,
                    initial_delay=0.03,
                    max_delay=0.2,
                    check_worker_health=False,
                )
                self._workers.start()
            return job

    def job(self, id: str) -> Job | None:
        """A job by its id, or None: whoever asks still wants it."""
        found = self._read(id)
        if found is None:
            return None
        if time.time() - self._ids.get(id, 0.0) > min(5.0, GONE_S / 4):
            self._see(id)
        if found.state == "waiting":
            ahead = [
                i for i in list(self._ids) if i != id and (j := self._read(i)) is not None and j.state == "waiting"
            ]
            before = sum(list(self._ids).index(i) < list(self._ids).index(id) for i in ahead) if id in self._ids else 0
            if before:
                return replace(found, what=f"waiting: {before} before it in the queue")
        return found

    def asked(self, id: str) -> dict[str, Any]:
        """What a job was asked with."""
        return cast("dict[str, Any]", self.queue.get(f"asked:{id}", peek=True) or {})

    def stop(self, id: str) -> Job | None:
        """Ask a waiting or running job to end; what it had found by then stays."""
        found = self._read(id)
        if found is not None and found.state not in ENDED:
            self.queue.put(f"stop:{id}", "")
        return self._read(id)

    def finished(self, kind: str, asked: Mapping[str, Any]) -> Any:
        """Start work and wait for it. Raises DesignError where it fails."""
        job = self.start(kind, asked)
        while job.state not in ENDED:
            time.sleep(0.05)
            job = self.job(job.id) or replace(job, state="failed", message="it is gone")
        if job.state != "done":
            raise DesignError(kind, job.message, job.do)
        return job.result

    def close(self) -> None:
        """Let the workers end after what they are at."""
        if self._workers is not None:
            self._workers.stop()
            self._workers = None

    def keep(self, job: Job) -> None:
        self.queue.put(f"job:{job.id}", job)

    def unwanted(self, id: str) -> str | None:
        """Why a job is not wanted any more; None while it is."""
        why = self.queue.get(f"stop:{id}", peek=True)
        if why is None and time.time() - float(self.queue.get(f"seen:{id}", peek=True) or 0.0) > GONE_S:
            why = "nobody asked for it any more"
            self.queue.put(f"stop:{id}", why)
        return cast("str | None", why)

    def _see(self, id: str) -> None:
        self._ids[id] = time.time()
        self.queue.put(f"seen:{id}", self._ids[id])

    def _read(self, id: str) -> Job | None:
        job = cast("Job | None", self.queue.get(f"job:{id}", peek=True))
        why = self.queue.get(f"stop:{id}", peek=True) if job is not None and job.state not in ENDED else None
        # told as stopped from the moment it was asked to: its worker notices a little later
        return replace(job, state="stopped", message=why) if job is not None and why is not None else job

    def _drop(self, job: Job) -> None:
        for what in ("job", "asked", "stop", "seen"):
            self.queue.delete(f"{what}:{job.id}")
        self._ids.pop(job.id, None)
        self._by_key = {k: id for k, id in self._by_key.items() if id != job.id}
        self.dropped(job)

    def _run(self, id: str) -> None:
        """Carry a job out: what a worker does with what it takes from the queue."""
        job = self.queue.get(f"job:{id}", peek=True)
        if job is None:
            return
        say = Say(self, replace(job, state="running", what="starting"))
        try:
            say._tell()
            result = self.kinds[job.kind](say, **self.asked(id))
            say._tell()  # stopped at the last moment is stopped
            end = replace(say.job, share=1.0, state="done", what="done", result=result)
        except Stopped as e:
            end = replace(say.job, state="stopped", message=str(e))
        except DesignError as e:
            end = replace(say.job, state="failed", message=e.message, do=e.do)
        except Exception as e:  # the last frame of the work: whatever it was, the user is told
            end = replace(say.job, state="failed", message=plainly(e), do="Try it again.")
        self.keep(end)
