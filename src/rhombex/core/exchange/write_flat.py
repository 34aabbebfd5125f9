"""Flat sheet out, 1:1 in millimetres: DXF with true arcs, and SVG."""

from __future__ import annotations

import io
from math import atan, hypot, pi, sin
from xml.sax.saxutils import escape

from ezdxf import units
from ezdxf.filemanagement import new

from rhombex.core.case.parts import Bend
from rhombex.core.geometry.recipe import Loop
from rhombex.core.space import Vec2


def flat_dxf(loops: tuple[Loop, ...], bends: tuple[Bend, ...] = ()) -> bytes:
    """DXF R2010 with a closed polyline for each loop, circles as circles: the outline on layer CUT, holes on layer HOLES; middle lines of bends, dashed,
    with their radius on layer BEND."""
    doc = new("R2010", units=units.MM)
    doc.layers.add("CUT")
    doc.layers.add("HOLES")
    space = doc.modelspace()
    for k, loop in enumerate(loops):
        layer = {"layer": "CUT" if k == 0 else "HOLES"}
        if _is_circle(loop):
            (x0, y0, _), (x1, y1, _) = loop
            space.add_circle(((x0 + x1) / 2, (y0 + y1) / 2), hypot(x1 - x0, y1 - y0) / 2, dxfattribs=layer)
        else:
            space.add_lwpolyline(loop, format="xyb", close=True, dxfattribs=layer)
    if bends:
        if "DASHED" not in doc.linetypes:
            doc.linetypes.add("DASHED", (0.75, 0.5, -0.25))
        doc.layers.add("BEND", linetype="DASHED")
    for b in bends:
        space.add_line(*b.ends, dxfattribs={"layer": "BEND"})
        words = space.add_text(_bent(b), height=3.0, dxfattribs={"layer": "BEND"})
        words.set_placement((b.ends[0][0] + 2.0, b.ends[0][1] + 2.0))
    out = io.StringIO()
    doc.write(out)
    return out.getvalue().encode()


def flat_svg(loops: tuple[Loop, ...], size_mm: Vec2, title: str, bends: tuple[Bend, ...] = ()) -> bytes:
    """SVG whose units are millimetres, the sheet's lower left corner at the lower left; middle lines of bends are dashed."""
    w, h = size_mm
    path = "".join(_path(loop, h) for loop in loops)
    lines = "".join(
        f'<path d="M{x0:.4f} {h - y0:.4f}L{x1:.4f} {h - y1:.4f}" fill="none" stroke="black" stroke-width="0.1" '
        f'stroke-dasharray="4 2"><title>{escape(_bent(b))}</title></path>'
        for b in bends
        for (x0, y0), (x1, y1) in (b.ends,)
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{w:.3f}mm" height="{h:.3f}mm" viewBox="0 0 {w:.3f} {h:.3f}">'
        f"<title>{escape(title)}</title>"
        f'<path d="{path}" fill="none" stroke="black" stroke-width="0.1"/>{lines}</svg>\n'
    ).encode()


def _bent(b: Bend) -> str:
    return f"bend 90 degrees, away from you, inner radius {b.inner_mm:g} mm"


def _is_circle(loop: Loop) -> bool:
    return len(loop) == 2 and all(abs(abs(b) - 1.0) < 1e-9 for _, _, b in loop)


def _path(loop: Loop, high: float) -> str:
    """One loop as moves, lines and arcs; y counts downward in SVG."""
    out = f"M{loop[0][0]:.4f} {high - loop[0][1]:.4f}"
    for (x0, y0, bulge), (x1, y1, _) in zip(loop, (*loop[1:], loop[0]), strict=True):
        if bulge == 0:
            out += f"L{x1:.4f} {high - y1:.4f}"
            continue
        turn = 4 * atan(abs(bulge))
        r = hypot(x1 - x0, y1 - y0) / 2 / sin(turn / 2)
        out += f"A{r:.4f} {r:.4f} 0 {int(turn > pi)} {int(bulge < 0)} {x1:.4f} {high - y1:.4f}"
    return out + "Z"
