"""What of an analysis could not be worked out: noted and told, so that it silences only itself."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Literal, TypeVar

from rhombex.core.plain import DesignError
from rhombex.core.progress import Stopped
from rhombex.core.trail import Frozen

T = TypeVar("T")
FaultKind = Literal["part", "stage", "estimate"]


class Fault(Frozen):
    """Something that broke. `what`: the part, the piece or the stage in words; `message`: why; `code`: the kind of error, for a report."""

    kind: FaultKind
    what: str
    message: str
    code: str = ""


def plainly(e: BaseException) -> str:
    """What an error says in one line, without any path of this machine."""
    if isinstance(e, DesignError):
        return e.message
    message = str(e).splitlines()[0][:160] if str(e) else ""
    message = re.sub(r"['\"]?(/[\w.@+-]+)+/?['\"]?", "a file", message)
    return message or type(e).__name__


def reason(e: Exception) -> tuple[str, str]:
    """What an error says in words, and its kind. A complaint of our own speaks for itself."""
    if isinstance(e, DesignError):
        return e.message, ""
    if isinstance(e, MemoryError):
        return "it needs more memory than there is", "MemoryError"
    return "Rhombex met numbers that it cannot work with", f"{type(e).__name__}: {plainly(e)}"


class Faults:
    """The faults of one analysis, in the order in which they were met."""

    def __init__(self) -> None:
        self.found: list[Fault] = []

    def note(self, kind: FaultKind, what: str, message: str, code: str = "") -> None:
        self.found.append(Fault(kind=kind, what=what[:80], message=message[:300], code=code[:160]))

    def attempt(self, kind: FaultKind, what: str, work: Callable[[], T], otherwise: T) -> T:
        """What `work` returns; where it breaks, that is noted and `otherwise` stands in."""
        try:
            return work()
        except Stopped:  # nothing broke
            raise
        except Exception as e:  # whatever broke, the rest of the design is shown
            self.note(kind, what, *reason(e))
            return otherwise
