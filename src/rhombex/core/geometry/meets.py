"""How much of a recipe's solid is where something else is. Most of it is known from before: branches are looked at one by one, by content."""

from __future__ import annotations

from collections.abc import Hashable
from functools import partial

from manifold3d import Manifold, OpType

from rhombex.core.geometry import recipe as r
from rhombex.core.geometry.mesh_kernel import evaluate
from rhombex.core.memo import Memo

SAME_MM3 = 1e-3  # what roundings leave between faces that only touch
_TOUCH_MM = 1e-6
_LARGER = 8  # times as many triangles: it is quicker to look at a body's branches than at all of it

_clear: Memo[tuple[str, Hashable], list[bool]] = Memo(20_000)
_less: Memo[tuple[str, Hashable, tuple[str, ...]], list[bool]] = Memo(20_000)
_shared: Memo[tuple[str, Hashable], Manifold] = Memo(2000, lambda m: float(m.num_tri()), 2e5)


def overlap_mm3(a: r.Solid, other: Manifold, key: Hashable, whole: r.Solid | None = None) -> float:
    """Volume that a solid and another body both take, mm3; nothing where it is less than SAME_MM3. `key` names the other body, `whole` is its recipe, if it has one."""
    if clear_of(a, other, key, whole):
        return 0.0
    v = float((evaluate(a) ^ other).volume())
    return v if v > SAME_MM3 else 0.0


def clear_of(a: r.Solid, other: Manifold, key: Hashable, whole: r.Solid | None = None) -> bool:
    """Whether a solid and another body have no volume in common; named as for `overlap_mm3`."""
    return _clear.make((a.digest, key), lambda: [_look(a, other, key, whole)])[0]


def _look(a: r.Solid, other: Manifold, key: Hashable, whole: r.Solid | None) -> bool:
    mine = evaluate(a)
    if mine.is_empty() or other.is_empty() or _apart(mine, other):
        return True
    clear = partial(clear_of, other=other, key=key, whole=whole)
    match a:
        case r.Union(solids=solids):
            return all(clear(s) for s in solids)
        case r.Difference(base=base, tools=tools):
            return clear(base) or _cut_clear(base, tools, other, key)
        case r.Filled(solid=inner) if evaluate(inner).num_tri() == mine.num_tri():  # no hollow was in it
            return clear(inner)
        case r.Intersection(a=one, b=two) if clear(one) or clear(two):
            return True
    if whole is not None and other.num_tri() > _LARGER * mine.num_tri():
        return clear_of(whole, mine, a.digest)
    return float((mine ^ other).volume()) <= SAME_MM3


def _cut_clear(base: r.Solid, tools: tuple[r.Solid, ...], other: Manifold, key: Hashable) -> bool:
    """Whether what a solid shares with another body is all cut away. Only tools that reach there matter: an opening that moves elsewhere changes nothing."""
    shared = _shared.make((base.digest, key), lambda: evaluate(base) ^ other)
    near = [t for t in tools if not _apart(evaluate(t), shared)]

    def look() -> list[bool]:
        left = Manifold.batch_boolean([shared, *map(evaluate, near)], OpType.Subtract)
        return [float(left.volume()) <= SAME_MM3]

    return _less.make((base.digest, key, tuple(t.digest for t in near)), look)[0]


def _apart(a: Manifold, b: Manifold) -> bool:
    p, q = a.bounding_box(), b.bounding_box()
    return any(p[i] >= q[i + 3] - _TOUCH_MM or q[i] >= p[i + 3] - _TOUCH_MM for i in range(3))
