"""Work that takes more than a moment, in a thread of this server: progress, stoppable, remembered by what was asked."""

from __future__ import annotations

import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from typing import Any, Literal

from rhombex.core.faults import plainly
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, Stopped
from rhombex.jobs.places import Places, Seen

KEEP = 24


@dataclass
class Task:
    """One piece of work. `what` is what it is doing; `said` is why it failed, `do` what helps."""

    id: str
    state: Literal["running", "done", "failed", "stopped"] = "running"
    share: float = 0.0
    what: str = ""
    said: str = ""
    do: str = ""
    result: Any = None
    seen: Seen = field(default_factory=Seen)


class Background:
    """The running and finished work of this server; the oldest that has ended is forgotten."""

    def __init__(self, places: Places) -> None:
        self.places = places
        self._tasks: OrderedDict[str, Task] = OrderedDict()
        self._by_key: dict[Hashable, str] = {}
        self._lock = threading.Lock()

    def task(self, id: str) -> Task | None:
        """A task by its id: whoever asks still wants it."""
        found = self._tasks.get(id)
        if found is not None:
            found.seen.now()
        return found

    def start(self, key: Hashable, work: Callable[[Progress], Any]) -> Task:
        """Start work, or take up that which was asked before. work tells its share done and what it is at; the call raises
        Stopped once somebody has stopped it or nobody asks for it any more. Raises DesignError where too many wait."""
        with self._lock:
            found = self._tasks.get(self._by_key.get(key, ""))
            if found is not None and found.state in ("running", "done"):
                found.seen.now()
                return found
            ticket = self.places.ask()
            task = Task(uuid.uuid4().hex[:12])
            self._tasks[task.id] = task
            self._by_key[key] = task.id
            ended = [t.id for t in self._tasks.values() if t.state != "running"]
            for old in ended[: max(0, len(self._tasks) - KEEP)]:
                del self._tasks[old]
            self._by_key = {k: id for k, id in self._by_key.items() if id in self._tasks}
        threading.Thread(target=self._run, args=(task, ticket, work), daemon=True).start()
        return task

    def stop(self, id: str) -> None:
        task = self._tasks.get(id)
        if task is not None and task.state == "running":
            task.state = "stopped"

    def _run(self, task: Task, ticket: object, work: Callable[[Progress], Any]) -> None:
        def wanted() -> bool:
            if task.state == "running" and task.seen.gone():
                task.state, task.said = "stopped", "nobody asked for it any more"
            ahead = self.places.before(ticket)
            if ahead:
                task.what = f"waiting: {ahead - 1} before it in the queue" if ahead > 1 else "waiting for a free place"
            return task.state == "running"

        def say(share: float, what: str) -> None:
            if not wanted():
                raise Stopped
            task.share, task.what = share, what

        if not self.places.enter(ticket, wanted):
            return
        try:
            task.what = "starting"
            task.result = work(say)
            if task.state == "running":
                task.share, task.state = 1.0, "done"
        except Stopped:
            task.state = "stopped"
        except DesignError as e:
            task.state, task.said, task.do = "failed", e.said, e.do
        except Exception as e:  # the last frame of the work: whatever it was, the user is told
            task.state, task.said, task.do = "failed", plainly(e), "Try it again."
        finally:
            self.places.leave(ticket)
