"""How much of a recipe's solid is where something else is. Most of it is known from before: branches are looked at one by one, by content."""

from __future__ import annotations

from collections.abc import Hashable, Iterable
from functools import partial
from itertools import compress

import numpy as np
from manifold3d import Manifold, OpType
from numpy.typing import NDArray

from rhombex.core.geometry import recipe as r
from rhombex.core.geometry.mesh_kernel import evaluate
from rhombex.core.memo import Memo

SAME_MM3 = 1e-3  # what roundings leave between faces that only touch
_TOUCH_MM = 1e-6
_LARGER = 8  # times as many triangles: it is quicker to look at a body's branches than at all of it

_clear: Memo[tuple[str, Hashable], list[bool]] = Memo(20_000)
_less: Memo[tuple[str, Hashable, tuple[str, ...]], list[bool]] = Memo(20_000)
_boxes: Memo[str, tuple[NDArray[np.float64], NDArray[np.float64]]] = Memo(200)
_asked: Memo[str, bool] = Memo(2000)
_shared: Memo[tuple[str, Hashable], Manifold] = Memo(2000, lambda m: float(m.num_tri()), 2e5)


def overlap_mm3(a: r.Solid, other: Manifold, key: Hashable) -> float:
    """Volume that a solid and another body both take, mm3; nothing where it is less than SAME_MM3. `key` names the other body."""
    return 0.0 if clear_of(a, other, key) else _both_mm3(evaluate(a), other)


def shared_mm3(a: r.Solid, b: r.Solid) -> float:
    """Volume that two solids both take, mm3; nothing where it is less than SAME_MM3. The one that was not asked about before is looked at branch by branch: most of those
    are known from one like it."""
    new, old = (b, a) if _asked.get(a.digest) and not _asked.get(b.digest) else (a, b)
    for s in (a, b):
        _asked.put(s.digest, True)
    return 0.0 if clear_of(new, evaluate(old), old.digest, old) else _both_mm3(evaluate(a), evaluate(b))


def _both_mm3(a: Manifold, b: Manifold) -> float:
    v = float((a ^ b).volume())
    return v if v > SAME_MM3 else 0.0


def clear_of(a: r.Solid, other: Manifold, key: Hashable, whole: r.Solid | None = None) -> bool:
    """Whether a solid and another body have no volume in common. `key` names the other body, `whole` is its recipe, if it has one."""
    return _clear.make((a.digest, key), lambda: [_look(a, other, key, whole)])[0]


def _look(a: r.Solid, other: Manifold, key: Hashable, whole: r.Solid | None) -> bool:
    clear = partial(clear_of, other=other, key=key, whole=whole)
    if isinstance(a, r.Union):  # of a hundred posts few are near: the whole is not made for them
        return other.is_empty() or all(map(clear, _near(a, other)))
    mine = evaluate(a)
    if mine.is_empty() or other.is_empty() or _apart(mine, other):
        return True
    match a:
        case r.Difference(base=base, tools=tools):
            return clear(base) or _cut_clear(base, tools, other, key)
        case r.Filled(solid=inner) if evaluate(inner).num_tri() == mine.num_tri():  # no hollow was in it
            return clear(inner)
        case r.Intersection(a=one, b=two) if clear(one) or clear(two):
            return True
    if whole is not None and other.num_tri() > _LARGER * mine.num_tri():
        return clear_of(whole, mine, a.digest)
    return float((mine ^ other).volume()) <= SAME_MM3


def _boxes_of(solids: tuple[r.Solid, ...]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Lowest and highest corners of the boxes round solids, (n, 3) each; of one that is empty none that anything comes near to."""
    none = (np.inf,) * 3 + (-np.inf,) * 3
    both = np.array([none if (m := evaluate(s)).is_empty() else m.bounding_box() for s in solids], np.float64)
    return both[:, :3], both[:, 3:]


def _cut_clear(base: r.Solid, tools: tuple[r.Solid, ...], other: Manifold, key: Hashable) -> bool:
    """Whether what a solid shares with another body is all cut away. Only what reaches there matters: a post or an opening that moves elsewhere changes nothing."""
    here = _there(base, other)
    shared = _shared.make((here.digest, key), lambda: evaluate(here) ^ other)
    near = [t for t in tools if not _apart(evaluate(t), shared)]

    def look() -> list[bool]:
        left = Manifold.batch_boolean([shared, *map(evaluate, near)], OpType.Subtract)
        return [float(left.volume()) <= SAME_MM3]

    return _less.make((here.digest, key, tuple(t.digest for t in near)), look)[0]


def _there(s: r.Solid, other: Manifold) -> r.Solid:
    """Of what a solid is united of, that which comes near to another body."""
    if not isinstance(s, r.Union):
        return s
    near = tuple(_near(s, other))
    return near[0] if len(near) == 1 else r.Union(near)


def _near(s: r.Union, other: Manifold) -> Iterable[r.Solid]:
    lo, hi = _boxes.make(s.digest, lambda: _boxes_of(s.solids))
    box = other.bounding_box()
    near = ((lo < np.array(box[3:]) - _TOUCH_MM) & (hi > np.array(box[:3]) + _TOUCH_MM)).tolist()
    return compress(s.solids, map(all, near))


def _apart(a: Manifold, b: Manifold) -> bool:
    p, q = a.bounding_box(), b.bounding_box()
    return any(p[i] >= q[i + 3] - _TOUCH_MM or q[i] >= p[i + 3] - _TOUCH_MM for i in range(3))
