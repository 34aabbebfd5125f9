"""What openings and vents take of the inside of each face: where nothing can stand on it."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.openings.opening import Openings, outline
from rhombex.core.space import Box

BESIDE_MM = 1.0  # of an opening stays plain wall
DEEP_MM = 80.0  # as far in as anything stands on a wall


def cut_away(case: Case, openings: Openings) -> dict[str, tuple[Box, ...]]:
    """Face by face the boxes behind its openings, the seats of their panes, and its vents, from its outer face inwards."""
    out: dict[str, tuple[Box, ...]] = {}
    for o in openings.openings:
        if o.parts:
            out[o.face] = (*out.get(o.face, ()), _behind(case, o.face, outline(o, BESIDE_MM)))
    for v in openings.vents:
        if v.parts and v.holes:
            (u, w), (du, dw) = v.at_mm, v.size_mm
            around = (u - du / 2 - BESIDE_MM, w - dw / 2 - BESIDE_MM, u + du / 2 + BESIDE_MM, w + dw / 2 + BESIDE_MM)
            out[v.face] = (*out.get(v.face, ()), _behind(case, v.face, around))
    return out


def _behind(case: Case, face: str, around: tuple[float, float, float, float]) -> Box:
    u0, v0, u1, v1 = around
    return case.face(face).frame.box(Box((u0, v0, -DEEP_MM), (u1, v1, 0.0)))
