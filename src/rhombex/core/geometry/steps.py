"""A recipe of Booleans as a row of steps: a solid is joined to what stands there, or cut out of it, or is all that is left of it."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import groupby

import numpy as np
from manifold3d import Manifold, OpType
from numpy.typing import NDArray

from rhombex.core.geometry import recipe as r
from rhombex.core.memo import Memo

Evaluate = Callable[[r.Solid], Manifold]
Key = tuple[str, str]

_TOUCH_MM = 1e-6
LEAST_HOLLOW_MM3 = 1e-3  # less is rounding
_WAY = {OpType.Add: "+", OpType.Subtract: "-", OpType.Intersect: "&"}


@dataclass(frozen=True)
class Step:
    """What a solid does to what stands there before: `key` names both."""

    way: OpType
    solid: r.Solid

    @property
    def key(self) -> Key:
        return _WAY[self.way], self.solid.digest


@dataclass(frozen=True)
class Row:
    """Steps in their order, with their keys, how many triangles each solid has, and the boxes round them, (n, 6)."""

    steps: tuple[Step, ...]
    keys: tuple[Key, ...]
    weights: NDArray[np.int64]
    boxes: NDArray[np.float64]

    @property
    def name(self) -> str:
        return hashlib.sha256("".join(way + digest for way, digest in self.keys).encode()).hexdigest()

    def only(self, which: NDArray[np.bool_]) -> Row:
        """The steps of a mask (n)."""
        at = np.flatnonzero(which)
        return Row(tuple(self.steps[i] for i in at), tuple(self.keys[i] for i in at), self.weights[at], self.boxes[at])

    def near(self, box: NDArray[np.float64]) -> Row:
        """The first step, and those that reach into a box (6)."""
        which = meet(self.boxes, box)
        which[0] = True
        return self.only(which)

    def recipe(self) -> r.Solid:
        """The recipe of these steps."""
        s = self.steps[0].solid
        for way, group in groupby(self.steps[1:], key=lambda x: x.way):
            solids = tuple(x.solid for x in group)
            if way == OpType.Intersect:
                for x in solids:
                    s = r.Intersection(s, x)
            else:
                s = r.Union((s, *solids)) if way == OpType.Add else r.Difference(s, solids)
        return s


_rows: Memo[str, Row] = Memo(200)


def row_of(s: r.Solid, evaluate: Evaluate) -> Row:
    """The steps of a recipe. Of what is cut to a room, those that reach into it."""
    if isinstance(s, r.Intersection):
        room = _told([Step(OpType.Intersect, s.b)], evaluate)
        of = row_of(s.a, evaluate).near(room.boxes[0])
        return Row(
            (*of.steps, *room.steps),
            (*of.keys, *room.keys),
            np.concatenate([of.weights, room.weights]),
            np.concatenate([of.boxes, room.boxes]),
        )
    return _rows.make(s.digest, lambda: _told(list(_steps(s, evaluate)), evaluate))


def _told(steps: list[Step], evaluate: Evaluate) -> Row:
    solids = [evaluate(x.solid) for x in steps]
    nowhere = (np.inf,) * 3 + (-np.inf,) * 3
    return Row(
        tuple(steps),
        tuple(x.key for x in steps),
        np.array([m.num_tri() for m in solids]),
        np.array([nowhere if m.is_empty() else m.bounding_box() for m in solids], np.float64),
    )


def _steps(s: r.Solid, evaluate: Evaluate) -> Iterable[Step]:
    match s:
        case r.Union(solids=(first, *rest)):
            yield from _steps(first, evaluate)
            yield from (Step(OpType.Add, x) for y in rest for x in _flat(y))
        case r.Difference(base=base, tools=tools):
            yield from _steps(base, evaluate)
            yield from (Step(OpType.Subtract, x) for y in tools for x in _flat(y))
        case r.Filled(solid=inner) if evaluate(s).volume() - evaluate(inner).volume() < LEAST_HOLLOW_MM3:
            yield from _steps(inner, evaluate)
        case _:
            yield Step(OpType.Add, s)


def _flat(s: r.Solid) -> Iterable[r.Solid]:
    if isinstance(s, r.Union):
        for x in s.solids:
            yield from _flat(x)
    else:
        yield s


def meet(boxes: NDArray[np.float64], box: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which of some boxes (n, 6) meet one."""
    low, high = boxes[:, :3] <= box[3:] + _TOUCH_MM, boxes[:, 3:] >= box[:3] - _TOUCH_MM
    return np.asarray((low & high).all(axis=1))
