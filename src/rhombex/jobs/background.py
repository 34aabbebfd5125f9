"""Work that takes more than a moment, in a thread of this server: progress, stoppable, remembered by what was asked."""

from __future__ import annotations

import threading
import uuid
from collections import OrderedDict
from collections.abc import Callable, Hashable
from dataclasses import dataclass
from typing import Any, Literal

from rhombex.core.progress import Progress, Stopped

KEEP = 24


@dataclass
class Task:
    """One piece of work. `what` is what it is doing; `said` is why it failed."""

    id: str
    state: Literal["running", "done", "failed", "stopped"] = "running"
    share: float = 0.0
    what: str = ""
    said: str = ""
    result: Any = None


class Background:
    """The running and finished work of this server; the oldest is forgotten."""

    def __init__(self) -> None:
        self.tasks: OrderedDict[str, Task] = OrderedDict()
        self._by_key: dict[Hashable, str] = {}
        self._lock = threading.Lock()

    def start(self, key: Hashable, work: Callable[[Progress], Any]) -> Task:
        """Start work, or take up that which was asked before. work tells its share done and what it is at; the call raises
        Stopped once somebody has stopped it."""
        with self._lock:
            found = self.tasks.get(self._by_key.get(key, ""))
            if found is not None and found.state in ("running", "done"):
                return found
            task = Task(uuid.uuid4().hex[:12])
            self.tasks[task.id] = task
            self._by_key[key] = task.id
            while len(self.tasks) > KEEP:
                _, old = self.tasks.popitem(last=False)
                old.state = "stopped"
                self._by_key = {k: id for k, id in self._by_key.items() if id != old.id}
        threading.Thread(target=self._run, args=(task, work), daemon=True).start()
        return task

    def stop(self, id: str) -> None:
        task = self.tasks.get(id)
        if task is not None and task.state == "running":
            task.state = "stopped"

    def _run(self, task: Task, work: Callable[[Progress], Any]) -> None:
        def say(share: float, what: str) -> None:
            if task.state != "running":
                raise Stopped
            task.share, task.what = share, what

        try:
            task.result = work(say)
            if task.state == "running":
                task.share, task.state = 1.0, "done"
        except Stopped:
            task.state = "stopped"
        except Exception as e:  # the last frame of the work: whatever it was, the user is told
            task.state, task.said = "failed", str(e)
