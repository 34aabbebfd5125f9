"""How much of a recipe's solid is where something else is. Most of it is known from before: branches are looked at one by one, by content."""

from __future__ import annotations

from collections.abc import Hashable
from functools import partial

from manifold3d import Manifold

from rhombex.core.geometry import recipe as r
from rhombex.core.geometry.mesh_kernel import evaluate
from rhombex.core.memo import Memo

SAME_MM3 = 1e-3  # what roundings leave between faces that only touch
_TOUCH_MM = 1e-6

_clear: Memo[tuple[str, Hashable], list[bool]] = Memo(20_000)


def overlap_mm3(a: r.Solid, other: Manifold, key: Hashable) -> float:
    """Volume that a solid and another body both take, mm3; nothing where it is less than SAME_MM3. `key` names the other body."""
    if clear_of(a, other, key):
        return 0.0
    v = float((evaluate(a) ^ other).volume())
    return v if v > SAME_MM3 else 0.0


def clear_of(a: r.Solid, other: Manifold, key: Hashable) -> bool:
    """Whether a solid and another body have no volume in common."""
    return _clear.make((a.digest, key), lambda: [_look(a, other, key)])[0]


def _look(a: r.Solid, other: Manifold, key: Hashable) -> bool:
    mine = evaluate(a)
    if mine.is_empty() or other.is_empty() or _apart(mine, other):
        return True
    clear = partial(clear_of, other=other, key=key)
    match a:
        case r.Union(solids=solids):
            return all(clear(s) for s in solids)
        case r.Difference(base=base) if clear(base):
            return True
        case r.Filled(solid=inner) if abs(evaluate(inner).volume() - mine.volume()) < SAME_MM3:
            return clear(inner)
        case r.Intersection(a=one, b=two) if clear(one) or clear(two):
            return True
    return float((mine ^ other).volume()) <= SAME_MM3


def _apart(a: Manifold, b: Manifold) -> bool:
    p, q = a.bounding_box(), b.bounding_box()
    return any(p[i] >= q[i + 3] - _TOUCH_MM or q[i] >= p[i + 3] - _TOUCH_MM for i in range(3))
