"""Booleans of a recipe that is much like one before: what stayed is made once, and what changed is done to it.

A recipe of Booleans is a row of steps: a solid is joined, or cut away, or all that is left. Whatever comes last at a point decides there. So a step may be taken out of
its row and done at the end, if those after it that do the opposite where it reaches are done again.
"""

from __future__ import annotations

from collections import OrderedDict, deque
from collections.abc import Callable, Iterable
from itertools import groupby
from threading import Lock

import numpy as np
from manifold3d import Manifold, OpType
from numpy.typing import NDArray

from rhombex.core.geometry import recipe as r
from rhombex.core.geometry.steps import Evaluate, Key, Row, Step, meet, row_of
from rhombex.core.memo import Memo

LEAST_STEPS = 6  # a shorter row is done at once
MOST_CHANGED = 0.6  # of the triangles of all steps after the first: else the row is done anew
_made: Memo[str, Manifold] = Memo(400, lambda m: float(m.num_tri()), 4e5)


class _Lately:
    """Which rows were done lately, by what they begin with, and which parts of rows were wanted once."""

    def __init__(self) -> None:
        self._rows: OrderedDict[Key, deque[frozenset[Key]]] = OrderedDict()
        self._wanted: Memo[str, bool] = Memo(400)
        self._lock = Lock()

    def closest(self, row: Row) -> frozenset[Key]:
        """The steps of the row done before that has most in common with this one and lacks some of it; none: there was no such row. This one is noted."""
        mine = frozenset(row.keys)
        with self._lock:
            known = self._rows.setdefault(row.keys[0], deque(maxlen=16))
            self._rows.move_to_end(row.keys[0])
            while len(self._rows) > 64:
                self._rows.popitem(last=False)
            others = [other for other in known if not mine <= other]
            if len(others) == len(known):
                known.appendleft(mine)
        return max(others, key=lambda other: (len(other & mine), -len(other)), default=frozenset[Key]())

    def again(self, name: str) -> bool:
        """Whether this was wanted before: what changes twice is likely to change again."""
        return self._wanted.get(name) is not None or not self._wanted.put(name, True)


_lately = _Lately()


def make(s: r.Solid, evaluate: Evaluate, plainly: Callable[[], Manifold]) -> Manifold:
    """The mesh of a Boolean: `plainly`, or from one that was done before and has most of its steps."""
    row = row_of(s, evaluate)
    if len(row.keys) < LEAST_STEPS:
        return plainly() if not isinstance(s, r.Intersection) else _all(row, evaluate)
    return _made.make(row.name, lambda: _from_like(row, evaluate) or plainly())


def _from_like(row: Row, evaluate: Evaluate) -> Manifold | None:
    before = _lately.closest(row)
    changed = np.array([k not in before for k in row.keys])
    if not changed.any():
        return None
    todo = _to_do(row, changed)
    if row.weights[todo].sum() > MOST_CHANGED * row.weights[1:].sum():
        return None
    stayed = row.only(~changed)
    known = _made.get(stayed.name)
    if known is None:
        if not _lately.again(stayed.name):
            return None
        known = _made.put(stayed.name, _all(stayed, evaluate))
    return _done(known, row.only(todo).steps, evaluate)


def _to_do(row: Row, changed: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which steps are done to what stayed: those that changed, and those after one that do the opposite where it reaches."""
    todo = changed.copy()
    ways = [x.way for x in row.steps]
    adds = np.array([w == OpType.Add for w in ways])
    for i in range(int(np.argmax(changed)), len(ways)):
        if not todo[i]:
            before = todo[:i] & (adds[:i] != adds[i])
            if ways[i] == OpType.Intersect:  # what is joined may reach out of the room
                todo[i] = bool(before.any())
            elif before.any():
                todo[i] = bool(meet(row.boxes[:i][before], row.boxes[i]).any())
    return todo


def _all(row: Row, evaluate: Evaluate) -> Manifold:
    return _done(evaluate(row.steps[0].solid), row.steps[1:], evaluate)


def _done(m: Manifold, steps: Iterable[Step], evaluate: Evaluate) -> Manifold:
    for way, group in groupby(steps, key=lambda x: x.way):
        m = Manifold.batch_boolean([m, *(evaluate(x.solid) for x in group)], way)
    return m
