"""The map of pieces: every part that is cut, its pieces drawn apart along the cuts with their numbers, sizes and neighbours."""

from __future__ import annotations

import itertools
from math import cos, pi, sin

from shapely import Polygon
from shapely.affinity import translate
from shapely.geometry.base import BaseGeometry

from rhombex.core.advice.cuts import PartOverBed, PieceCell, cuts_table
from rhombex.core.analysis import Analysis
from rhombex.core.cuts.cut import Cut
from rhombex.core.plan.drawing import COLUMN_MM, EDGE_MM, PAPER_MM, SCALES, SMALL_MM, TEXT_MM, Sheet

APART_MM = 5.0  # on the paper between two pieces
RING_MM = 3.2  # radius of the circle round a number
TOUCH_MM = 0.01


def pieces_maps(a: Analysis) -> list[Sheet]:
    """A sheet for every part that is more than one piece."""
    return [_sheet(a, p) for p in cuts_table(a).parts if len(p.cells) > 1]


def _sheet(a: Analysis, p: PartOverBed) -> Sheet:
    u, v = ("xyz".index(x) for x in p.cuts.flat)
    lo, hi = (p.cuts.lo_mm[u], p.cuts.lo_mm[v]), (p.cuts.hi_mm[u], p.cuts.hi_mm[v])
    columns, rows = (len({c.lo_mm[k] for c in p.cells}) for k in (0, 1))
    room = (
        PAPER_MM[0] - 2 * EDGE_MM - COLUMN_MM - 10 - APART_MM * (columns - 1),
        PAPER_MM[1] - 2 * EDGE_MM - 24 - APART_MM * (rows - 1),
    )
    k = next((s for s in SCALES if s * (hi[0] - lo[0]) <= room[0] and s * (hi[1] - lo[1]) <= room[1]), SCALES[-1])
    sheet = Sheet(f"{a.design.name}, pieces of the {p.cuts.part}")
    low = (EDGE_MM + 6, EDGE_MM + 8)
    whole = _plate(p)
    at = {k2: sorted({c.lo_mm[k2] for c in p.cells}) for k2 in (0, 1)}
    for c in p.cells:
        shift = tuple(low[i] + APART_MM * at[i].index(c.lo_mm[i]) for i in (0, 1))
        _piece(sheet, _shape(p, c, whole), lo, shift, k)  # type: ignore[arg-type]
        middle = tuple(shift[i] + k * ((c.lo_mm[i] + c.hi_mm[i]) / 2 - lo[i]) for i in (0, 1))
        _number(sheet, middle[0], middle[1], c.number)
    for seam in p.seams:
        i = p.cuts.flat.index(seam.cut.axis)
        for q, _ in seam.cut.dowels if seam.cut.joined != "dovetails" else ():
            for cell in p.cells:
                _pin(sheet, seam.cut.at_mm, q, i, cell, lo, low, at, k)
    _list(sheet, a, p, k)
    return sheet


def _shape(p: PartOverBed, c: PieceCell, whole: BaseGeometry) -> BaseGeometry:
    """A piece on the plan: its cell with its own dovetails, without those of its neighbours."""
    area: BaseGeometry = Polygon(c.outline)
    for s in p.seams:
        i = p.cuts.flat.index(s.cut.axis)
        for tail in (Polygon(x) for x in s.plan) if s.cut.joined == "dovetails" else ():
            beside = c.lo_mm[1 - i] <= tail.centroid.coords[0][1 - i] <= c.hi_mm[1 - i]
            if beside and abs(c.hi_mm[i] - s.cut.at_mm) < TOUCH_MM:
                area = area.union(tail)
            elif beside and abs(c.lo_mm[i] - s.cut.at_mm) < TOUCH_MM:
                area = area.difference(tail)
    return whole.intersection(area)


def _plate(p: PartOverBed) -> BaseGeometry:
    """The section of the plate as an area: loops that run the other way are holes."""
    area: BaseGeometry = Polygon()
    for loop in sorted((Polygon(x) for x in p.outline if len(x) > 2), key=lambda g: -g.area):
        area = area.difference(loop) if area.contains(loop.representative_point()) else area.union(loop)
    return area


def _piece(sheet: Sheet, area: BaseGeometry, lo: tuple[float, float], shift: tuple[float, float], k: float) -> None:
    for g in getattr(translate(area, -lo[0], -lo[1]), "geoms", [translate(area, -lo[0], -lo[1])]):
        if not isinstance(g, Polygon):
            continue
        for ring, weight in ((g.exterior, "cut"), *((r, "seen") for r in g.interiors)):
            ends = [(shift[0] + k * x, shift[1] + k * y) for x, y in ring.coords]
            for s, t in itertools.pairwise(ends):
                sheet.line(*s, *t, weight)  # type: ignore[arg-type]


def _number(sheet: Sheet, x: float, y: float, number: int) -> None:
    ring = [(x + RING_MM * cos(2 * pi * n / 24), y + RING_MM * sin(2 * pi * n / 24)) for n in range(25)]
    for s, t in itertools.pairwise(ring):
        sheet.line(*s, *t, "seen")
    sheet.say(x, y - TEXT_MM / 3, str(number), TEXT_MM, "middle")


def _pin(
    sheet: Sheet,
    at_mm: float,
    q: float,
    i: int,
    cell: PieceCell,
    lo: tuple[float, float],
    low: tuple[float, float],
    at: dict[int, list[float]],
    k: float,
) -> None:
    """A short line at the edge of a piece where a pin goes in."""
    j = 1 - i
    if not cell.lo_mm[j] <= q <= cell.hi_mm[j]:
        return
    for edge, way in ((cell.lo_mm[i], 1.0), (cell.hi_mm[i], -1.0)):
        if abs(edge - at_mm) < TOUCH_MM:
            p, r = [0.0, 0.0], [0.0, 0.0]
            for n, mm in ((i, edge), (j, q)):
                p[n] = r[n] = low[n] + APART_MM * at[n].index(cell.lo_mm[n]) + k * (mm - lo[n])
            r[i] += way * 2.5
            sheet.line(p[0], p[1], r[0], r[1], "seen")


def _list(sheet: Sheet, a: Analysis, p: PartOverBed, k: float) -> None:
    left, y = PAPER_MM[0] - EDGE_MM - COLUMN_MM, PAPER_MM[1] - EDGE_MM - 4
    sheet.say(left, y, sheet.title, TEXT_MM)
    y -= 5
    scale = f"{1 / k:g}" if k < 1 else "1"
    sheet.say(left, y, f"scale {k:g} : 1" if k > 1 else f"scale 1 : {scale}", SMALL_MM)
    y -= 4
    for joined in dict.fromkeys(_joined(s.cut) for s in p.seams):
        sheet.say(left, y, f"joined by {joined}", SMALL_MM)
        y -= 4
    y -= 3
    for c in p.cells:
        sheet.say(left, y, f"{c.number}  {c.piece.name}", TEXT_MM)
        size = " x ".join(f"{x:.1f}" for x in c.piece.bbox_mm)
        sheet.say(left, y - 4, f"{size} mm, beside {', '.join(str(n) for n in neighbours(p, c))}", SMALL_MM)
        y -= 9
        if y < EDGE_MM + 4:
            break


def _joined(cut: Cut) -> str:
    """What joins a cut, in words."""
    return cut.joined + (f", {cut.pin.d_mm:g} x {cut.pin.long_mm:g}" if cut.pin is not None else "")


def neighbours(p: PartOverBed, c: PieceCell) -> list[int]:
    """The numbers of the pieces that share a cut with a piece."""
    out = []
    for o in p.cells:
        if o.number == c.number:
            continue
        for i in (0, 1):
            j = 1 - i
            touch = min(abs(o.lo_mm[i] - c.hi_mm[i]), abs(c.lo_mm[i] - o.hi_mm[i])) < TOUCH_MM
            if touch and min(o.hi_mm[j], c.hi_mm[j]) - max(o.lo_mm[j], c.lo_mm[j]) > TOUCH_MM:
                out.append(o.number)
    return out
