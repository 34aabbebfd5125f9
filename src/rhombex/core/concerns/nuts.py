"""Nuts that stand inside a case: whether something of a component or of the case stands there."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.bench.apart import apart
from rhombex.core.bench.arrange import PlacedSolid
from rhombex.core.bench.bodies import body_of
from rhombex.core.bench.gaps import hard
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.meets import overlap_mm3

NUT_MM3 = 0.5  # roundings of both kernels round a nut


def nut_meets(a: Analysis, nut: PlacedSolid) -> tuple[float, str, str]:
    """How deep a nut stands in something, in what of it, and what that is called."""
    found = [(-apart(s, nut), f"the {s.name} of {t.name}", t.name) for t in a.things for s in hard(t)]
    body, key = body_of(nut), f"{nut.box}"
    for name in (n for n, r in a.recipes.items() if a.case.part(n).in_place and overlap_mm3(r, body, key) > NUT_MM3):
        low = (mesh_kernel.evaluate(a.recipes[name]) ^ body).bounding_box()
        found.append((min(low[i + 3] - low[i] for i in range(3)), f"something of the {name}", f"the {name}"))
    return max(found, default=(0.0, "", ""))
