"""DXF in: the outline of a board and its round holes, by layer. Unit from the file, or asked."""

from __future__ import annotations

import io
from collections import Counter
from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray
from shapely import MultiLineString, Point, Polygon, set_precision
from shapely.ops import polygonize, unary_union

from rhombex.core.parts.recognised import UNIT_MM, Hole, Recognised, Unit, is_round
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, silent

MOST_ENTITIES = 200_000
MOST_POINTS = 2_000_000
_INSUNITS: dict[int, Unit] = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m", 9: "thou"}
_DRAWN = {"LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"}


def bad(
    message: str, do: str = "Export it again as DXF R2000 or later, with the outline and the holes as circles."
) -> DesignError:
    return DesignError("file", message, do)


def _entities(doc: Any) -> Iterator[Any]:
    """Drawn entities of the model space, blocks taken apart, with a hard limit."""
    from ezdxf import disassemble

    _no_circle(doc)
    for n, e in enumerate(disassemble.recursive_decompose(doc.modelspace())):
        if n > MOST_ENTITIES:
            raise bad(
                f"the drawing has more than {MOST_ENTITIES} entities", "Export only the board's outline and holes."
            )
        if e.dxftype() in _DRAWN:
            yield e


def _no_circle(doc: Any) -> None:
    """Refuses a drawing in which a block holds itself, by way of others or at once."""
    holds = {b.name: {str(e.dxf.name) for e in b if e.dxftype() == "INSERT"} for b in doc.blocks}
    state: dict[str, bool] = {}  # True: looked at to the end

    for start, first in holds.items():
        todo = [(start, iter(first))]
        state.setdefault(start, False)
        while todo and not state.get(start):
            name, inner = todo[-1]
            below = next((b for b in inner if not state.get(b)), None)
            if below is None:
                state[name] = True
                todo.pop()
            elif below in (n for n, _ in todo):
                raise bad(
                    f"its block '{below[:40]}' holds itself, so the drawing has no end",
                    "Explode the blocks where it was made, and export it again.",
                )
            else:
                todo.append((below, iter(holds.get(below, set()))))


def recognise_dxf(
    data: bytes,
    name: str = "board",
    unit: Unit | None = None,
    thick_mm: float = 1.6,
    layers: tuple[str, ...] = (),
    progress: Progress = silent,
) -> Recognised:
    """Recognise outline and holes in a DXF. `unit` is taken where the file names none; `layers`: only these, all if empty.

    The outline is the closed loop of largest area. Of circles round one centre the smallest is the hole: the others are its
    pad. A DXF is flat: the thickness is asked. Raises DesignError where nothing can be read.
    """
    from ezdxf import path as paths
    from ezdxf import recover
    from ezdxf.lldxf.const import DXFError

    progress(0.1, "reading the drawing")
    try:
        doc, audit = recover.read(io.BytesIO(data))
    except (DXFError, OSError, ValueError, KeyError, IndexError, AttributeError, TypeError) as e:
        raise bad(f"this is not a DXF that can be read ({str(e)[:80] or type(e).__name__})") from None
    named = _INSUNITS.get(int(doc.header.get("$INSUNITS", 0)))
    used: Unit = named or unit or "mm"
    scale = UNIT_MM[used]
    progress(0.4, "finding loops")
    segments: list[NDArray[np.float64]] = []
    circles: list[tuple[float, float, float, str]] = []
    count: Counter[str] = Counter()
    points = 0
    for item in _entities(doc):
        layer = str(item.dxf.layer)
        count[layer] += 1
        if layers and layer not in layers:
            continue
        if item.dxftype() == "CIRCLE":
            c = item.ocs().to_wcs(item.dxf.center)
            circles.append((c.x * scale, c.y * scale, 2 * abs(item.dxf.radius) * scale, layer))
            continue
        try:
            path = paths.make_path(item)
            flat = np.array([(p.x, p.y) for p in path.flattening(0.01 / scale, segments=8)]) * scale
        except (TypeError, ValueError, ZeroDivisionError):
            continue
        points += len(flat)
        if points > MOST_POINTS:
            raise bad("the drawing's curves are too fine to be read", "Export it with fewer points.")
        if len(flat) >= 2 and np.isfinite(flat).all():
            segments.append(flat)
    # ends that miss each other by less than a hundredth are one point
    lines = [set_precision(MultiLineString([s]), 0.005) for s in segments]
    loops = [Polygon(p.exterior) for p in polygonize(unary_union(lines))] if lines else []
    loops += [Point(x, y).buffer(d / 2, 64) for x, y, d, _ in circles if d > 0]
    if not loops:
        raise bad("there is no closed outline in the drawing")
    outline = max(loops, key=lambda p: float(p.area))
    if lines:
        whole = unary_union([p for p in loops if p.area > 0])
        biggest = max(getattr(whole, "geoms", [whole]), key=lambda g: float(g.area))
        outline = Polygon(biggest.exterior)
    x0, y0, x1, y1 = outline.bounds
    if not (1 <= x1 - x0 <= 1500 and 1 <= y1 - y0 <= 1500):
        raise bad(
            f"the outline measures {x1 - x0:.4g} x {y1 - y0:.4g} mm if its unit is {used}; 1 to 1500 are taken",
            "Say its unit: --unit in, cm, m or thou.",
        )
    rounds = [c for c in circles if c[2] < 0.5 * min(x1 - x0, y1 - y0)]
    layer_of_loop = "outline's loops"
    for p in loops:
        if p.area >= 0.5 * outline.area:
            continue
        r = is_round(np.asarray(p.exterior.coords))
        if r is not None and not any(abs(c[0] - r[0][0]) + abs(c[1] - r[0][1]) < 0.05 for c in rounds):
            rounds.append((*r[0], r[1], layer_of_loop))
    inside = outline.buffer(0.01)
    kept: list[tuple[float, float, float, str]] = []
    for c in sorted(rounds, key=lambda c: c[2]):
        if (
            c[2] >= 0.5
            and inside.contains(Point(c[0], c[1]))
            and not any(abs(c[0] - k[0]) + abs(c[1] - k[1]) < 0.02 for k in kept)
        ):
            kept.append(c)
    notes = []
    if named is None and unit is None:
        notes.append("The file names no unit; millimetres were taken.")
    if audit.errors:
        notes.append(f"{len(audit.errors)} errors in the file were passed over.")
    return Recognised(
        kind="board",
        name=name,
        format="DXF",
        unit=used,
        unit_from="the file" if named else "asked" if unit else "assumed",
        size_mm=(x1 - x0, y1 - y0, thick_mm),
        outline=tuple((float(x - x0), float(y - y0)) for x, y in list(outline.exterior.coords)[:400]),
        holes=tuple(
            Hole(at=(x - x0, y - y0), d_mm=d, layer=layer)
            for x, y, d, layer in sorted(kept, key=lambda c: (round(c[1], 3), c[0]))
        ),
        up="the drawing seen from above",
        turned="as it lies in the file",
        layers=tuple(f"{k} ({n})" for k, n in sorted(count.items())),
        notes=(*notes, f"A drawing is flat: the board is taken as {thick_mm:g} mm thick."),
    )
