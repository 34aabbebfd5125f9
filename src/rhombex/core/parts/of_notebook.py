"""A component of a measuring notebook: its board, its holes and levels, each as sure as it was measured."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Mount, Solid
from rhombex.core.parts.notebook import Notebook, Solved, lacking, outline_mm
from rhombex.core.parts.recognised import thread_for
from rhombex.core.plain import DesignError


def component_of(book: Notebook, solved: Solved, key: str, thick_mm: float = 1.6) -> Component:
    """The component that readings make: a board between its outermost edges (or holes), mounts at its holes, and a body for each
    level above the board. A level named `board` is its thickness. Raises DesignError where the edges are not
    known or a hole is not on the board."""
    placed = solved.without or solved.features
    ends, why = outline_mm(placed), lacking(placed)
    if ends is None or why:
        do = "Measure from edge to edge." if ends is None else "Measure them again, or strike them from the page."
        raise DesignError("notebook", why, do)
    x0, y0, x1, y1 = ends
    edges = [p for p in placed if p.kind == "edge"]
    holes = [p for p in placed if p.kind == "hole"]
    sure = max(p.sure_x_mm for p in edges), max(p.sure_y_mm for p in edges)
    levels = sorted((p for p in placed if p.kind == "level" and p.z_mm is not None), key=lambda p: p.z_mm or 0.0)
    board = next((p for p in levels if p.name == "board"), None)
    thick = (board.z_mm if board and board.z_mm else None) or thick_mm
    source = "measured with calipers, adjusted by least squares"
    size = (round(x1 - x0, 3), round(y1 - y0, 3))
    solids = [
        Solid(
            name="board",
            role="board",
            lo=(0, 0, 0),
            hi=(*size, thick),
            source=source,
            mark="measured",
            sure_mm=round(max(sure), 3),
        )
    ]
    for p in levels:
        z = p.z_mm or 0.0
        if p.name != "board" and abs(z) > 1e-6 and z > thick:
            solids.append(
                Solid(
                    name=p.name,
                    role="body",
                    lo=(0, 0, thick),
                    hi=(*size, round(z, 3)),
                    source=source,
                    mark="measured",
                    sure_mm=round(p.sure_z_mm, 3),
                )
            )
        elif z < -1e-6:
            solids.append(
                Solid(
                    name=p.name,
                    role="pins",
                    lo=(0, 0, round(z, 3)),
                    hi=(*size, 0),
                    source=source,
                    mark="measured",
                    sure_mm=round(p.sure_z_mm, 3),
                )
            )
    return Component(
        key=key,
        label=book.name,
        family="board",
        mounting="posts",
        pivot=(round(size[0] / 2, 3), round(size[1] / 2, 3)),
        solids=tuple(solids),
        mounts=tuple(
            Mount(
                name=p.name,
                at=(round((p.x_mm or 0.0) - x0, 3), round((p.y_mm or 0.0) - y0, 3)),
                thread=thread_for(p.d_mm or 3.0),
                hole_mm=round(p.d_mm or 3.0, 3),
                source=source,
                mark="measured",
                sure_mm=round(max(p.sure_x_mm, p.sure_y_mm), 3),
            )
            for p in holes
        ),
        heat_w=0,
        mass_g=0,
        source=source,
        mark="measured",
    )
