"""One job as whoever asks for it sees it: how far it is, the best so far, what came of it or why nothing did."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

State = Literal["waiting", "running", "done", "failed", "stopped"]
ENDED: tuple[State, ...] = ("done", "failed", "stopped")


@dataclass(frozen=True)
class Job:
    """`what` is what it is doing, in words; `message` is why it failed or stopped and `do` what helps. `best` is the best answer
    so far of work that looks for one; `result` is there once it is done."""

    id: str
    kind: str
    state: State = "waiting"
    share: float = 0.0
    what: str = "waiting for a free place"
    message: str = ""
    do: str = ""
    best: Any = None
    result: Any = None
