"""Bodies that get posts and holes after their openings were cut: as few passes over all their triangles as give the same body."""

from __future__ import annotations

from itertools import compress

from rhombex.core.geometry.mesh_kernel import evaluate
from rhombex.core.geometry.recipe import Difference, Filled, Solid, Union

APART_MM = 0.1  # more than what a circle's corners stand out of it
LARGE = 600  # triangles of a tool that is cut before all else: a field of vents, which seldom changes


def grown(body: Solid, add: tuple[Solid, ...], cut: tuple[Solid, ...] = ()) -> Solid:
    """A body with more solids joined to it, and then cut: (body + add) - cut. Of what was cut out of the body before, only what comes near an added solid has to
    go first; all else is cut along with `cut`. Hollows are filled last."""
    match body:
        case Filled(solid=inner):
            return Filled(grown(inner, add, cut))
        case Difference(base=base, tools=tools):
            solids = base.solids if isinstance(base, Union) else (base,)
            first = [bool(add) and (_large(t) or any(not _apart(t, x) for x in add)) for t in tools]
            if any(first):
                solids = (Difference(base, tuple(compress(tools, first))),)
            late = tuple(t for t, x in zip(tools, first, strict=True) if not x)
            return Difference(Union((*solids, *add)) if add or len(solids) > 1 else solids[0], (*late, *cut))
    whole = Union((body, *add)) if add else body
    return Difference(whole, cut) if cut else whole


def _large(s: Solid) -> bool:
    return bool(evaluate(s).num_tri() > LARGE)


def _apart(a: Solid, b: Solid) -> bool:
    p, q = evaluate(a).bounding_box(), evaluate(b).bounding_box()
    return any(p[i] > q[i + 3] + APART_MM or q[i] > p[i + 3] + APART_MM for i in range(3))
