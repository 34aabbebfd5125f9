"""What a rule says, or one of its searches finds, that looks at nothing but walls and what is in them. It is remembered: a cut that is
dragged changes none of it."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Iterator
from typing import Any, TypeVar, cast

from rhombex.core.analysis import Analysis
from rhombex.core.memo import Memo, MemoOfThese
from rhombex.core.workshop.workshop import Workshop

KNOWN = frozenset({"workshop", "printer", "things", "need", "case", "openings", "ladder", "recipes", "sheets"})


class LooksAtPieces(BaseException):
    """A rule reads what follows from the cuts."""


class Walls:
    """An analysis as far as it is known before any part is cut: whoever reads on is stopped, as is who reads the cuts of the design."""

    def __init__(self, a: Analysis) -> None:
        self._of = a
        self.design = a.design.model_copy()
        del self.design.__dict__["cuts"]

    def __getattr__(self, name: str) -> Any:
        if name not in KNOWN:
            raise LooksAtPieces(name)
        return getattr(self._of, name)


T = TypeVar("T")
_said: Memo[tuple[str, int, bool], dict[str, tuple[Any, ...]]] = Memo(30)  # by rule, of the same walls
_found: Memo[tuple[str, int, Hashable], tuple[Any]] = Memo(4000)
_looks: set[str] = set()  # rules that have read on
_hashes: MemoOfThese[int] = MemoOfThese(1)  # of the workshop of the last question, which takes as long as a rule
_walls: MemoOfThese[Walls] = MemoOfThese(1)  # of the last question: a hundred rules ask after one another


def said_of_walls(a: Analysis, bare: bool) -> dict[str, tuple[Any, ...]]:
    """What each rule that looks at walls alone said of those of an analysis, as far as it was asked; a new one where nothing may be remembered. `said` adds to it."""
    return _said.make((a.walls_key, _hash(a.workshop), bare), dict) if a.walls_key else {}


def said(
    code: str, known: dict[str, tuple[Any, ...]], rule: Callable[[Analysis], Iterator[Any]], a: Analysis
) -> Iterable[Any]:
    """What a rule yields of an analysis: the same as it did of another one whose walls are the same, if it looks at no more than those."""
    if not a.walls_key or code in _looks:
        return rule(a)
    if code not in known:
        try:
            known[code] = tuple(rule(cast(Analysis, _walls_of(a))))
        except (LooksAtPieces, AttributeError, KeyError):
            _looks.add(code)
            return rule(a)
    return known[code]


def of_walls(a: Analysis, asked: Hashable, work: Callable[[], T]) -> T:
    """What one search of a rule that does look at pieces finds by the walls alone: the same as it did for another analysis whose walls
    are the same. `asked` tells it from every other such search."""
    if not a.walls_key:
        return work()
    found: T = _found.make((a.walls_key, _hash(a.workshop), asked), lambda: (work(),))[0]
    return found


def _walls_of(a: Analysis) -> Walls:
    return _walls.make((a,), "", lambda: Walls(a))


def _hash(workshop: Workshop) -> int:
    return _hashes.make((workshop,), "", lambda: hash(workshop))
