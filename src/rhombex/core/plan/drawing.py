"""A drawing sheet of a piece: three views in first-angle projection (ISO 5456-2), a section, its outer sizes, what to check with calipers."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from manifold3d import Manifold
from numpy.typing import NDArray
from shapely import LineString, MultiLineString, Polygon
from shapely.affinity import rotate
from shapely.ops import unary_union

from rhombex.core.advice.pauses import pauses
from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.line_drawing import view_strokes
from rhombex.core.plan.checks import checks

Array = NDArray[np.float64]
Weight = Literal["seen", "cut", "thin", "chain"]
Anchor = Literal["start", "middle", "end"]

PAPER_MM = (297.0, 210.0)  # ISO 216 A4, lying
EDGE_MM, COLUMN_MM, GAP_MM = 10.0, 72.0, 18.0
SCALES = (5.0, 2.0, 1.0, 0.5, 0.2, 0.1, 0.05)  # ISO 5455
FINE = 4.0  # units of hidden-line removal in a millimetre of paper
HATCH_MM = 1.8
TEXT_MM, SMALL_MM = 3.2, 2.4
MOST_ROWS = 34
_FRONT = (np.array([1.0, 0, 0]), np.array([0, 0, 1.0]))
_LEFT = (np.array([0, -1.0, 0]), np.array([0, 0, 1.0]))  # seen from the left side, drawn on the right
_ABOVE = (np.array([1.0, 0, 0]), np.array([0, 1.0, 0]))


@dataclass(frozen=True)
class Stroke:
    """A line on the paper, mm from its lower left corner."""

    x0: float
    y0: float
    x1: float
    y1: float
    weight: Weight


@dataclass(frozen=True)
class Text:
    """Words on the paper; `upright`: read from the right."""

    x: float
    y: float
    size_mm: float
    words: str
    anchor: Anchor = "start"
    upright: bool = False


@dataclass
class Sheet:
    """A drawing sheet: strokes and words, mm, y up."""

    title: str
    size_mm: tuple[float, float] = PAPER_MM
    strokes: list[Stroke] = field(default_factory=list)
    texts: list[Text] = field(default_factory=list)

    def line(self, x0: float, y0: float, x1: float, y1: float, weight: Weight = "thin") -> None:
        self.strokes.append(Stroke(float(x0), float(y0), float(x1), float(y1), weight))

    def say(
        self, x: float, y: float, words: str, size_mm: float = TEXT_MM, anchor: Anchor = "start", upright: bool = False
    ) -> None:
        self.texts.append(Text(x, y, size_mm, words, anchor, upright))


def drawing(a: Analysis, p: PrintedPiece) -> Sheet:
    """The sheet of a piece as it stands in the case; of what has no place there, as it lies on the bed."""
    mesh = mesh_kernel.evaluate(a.pieces_in_case[p.name], mesh_kernel.SEEN_TOL)
    x0, y0, z0, x1, y1, z1 = mesh.bounding_box()
    w, d, h = x1 - x0, y1 - y0, z1 - z0
    mesh = mesh.translate((-x0, -y0, -z0))
    room = (PAPER_MM[0] - 2 * EDGE_MM - COLUMN_MM - 2 * GAP_MM - 6, PAPER_MM[1] - 2 * EDGE_MM - 2 * GAP_MM)
    beside, below = _scale(w + max(w, d), h + max(h, d), room), _scale(w + d, 2 * h + d, (room[0], room[1] - GAP_MM))
    k = max(beside, below)
    sheet = Sheet(f"{a.design.name} {p.name}")
    left, low = EDGE_MM + GAP_MM, EDGE_MM + GAP_MM
    right = left + k * w + GAP_MM
    if beside == k:  # the section stands beside the plan, else under it
        section_at, plan_at = (right, low), (left, low + k * max(0.0, h - d) / 2)
        front_at = (left, low + k * max(d, h) + GAP_MM)
    else:
        section_at, plan_at = (left, low), (left, low + k * h + GAP_MM)
        front_at = (left, plan_at[1] + k * d + GAP_MM)
    side_at = (right, front_at[1])
    for view, at in ((_FRONT, front_at), (_LEFT, side_at), (_ABOVE, plan_at)):
        _view(sheet, mesh, view, at, k)
    _across(sheet, front_at, k * w, -7.0, w)
    _up(sheet, front_at, k * h, -7.0, h)
    _across(sheet, side_at, k * d, -7.0, d)
    _up(sheet, plan_at, k * d, -12.0, d)
    cut = _cut_at(a, p, y0, d)
    _section(sheet, mesh, cut, section_at, k)
    line = plan_at[1] + k * cut
    sheet.line(plan_at[0] - 4, line, plan_at[0] + k * w + 4, line, "chain")
    for x in (plan_at[0] - 6, plan_at[0] + k * w + 6):
        sheet.say(x, line - TEXT_MM / 3, "A", TEXT_MM, "middle")
    sheet.say(section_at[0], section_at[1] + k * h + 3, "A - A", TEXT_MM)
    _column(sheet, a, p, k)
    return sheet


def _scale(wide: float, high: float, room: tuple[float, float]) -> float:
    return next((s for s in SCALES if s * wide <= room[0] and s * high <= room[1]), SCALES[-1])


def _view(sheet: Sheet, mesh: Manifold, view: tuple[Array, Array], at: tuple[float, float], k: float) -> None:
    for x0, y0, x1, y1 in view_strokes(mesh, *view, k * FINE) / FINE:
        sheet.line(at[0] + x0, at[1] + y0, at[0] + x1, at[1] + y1, "seen")


def _cut_at(a: Analysis, p: PrintedPiece, y0: float, d: float) -> float:
    """Where the section runs: through a post or boss if there is one, else through the middle."""
    holes = [m.at[1] for m in a.case.mounts if m.part == p.part] + [
        j.at[1] for j in a.case.fastened if p.part in (j.holds, j.into) and j.along[1] == 0
    ]
    inside = [y - y0 for y in holes if 1 < y - y0 < d - 1] if a.case.part(p.part).in_place else []
    return min(inside, key=lambda y: abs(y - d / 2)) if inside else d / 2


def _section(sheet: Sheet, mesh: Manifold, cut: float, at: tuple[float, float], k: float) -> None:
    """The cut faces seen from the front, hatched at 45 degrees (ISO 128-3)."""
    lying = mesh.rotate((-90, 0, 0))  # z comes to lie along y, and y downward
    rings = [np.array(r) * k for r in lying.slice(float(-cut)).to_polygons()]
    outers = [Polygon(r) for r in rings if len(r) > 2]
    region = Polygon()
    for ring in sorted(outers, key=lambda r: -r.area):
        region = region.symmetric_difference(ring.buffer(0))
    for r in rings:
        for (x0, y0), (x1, y1) in zip(r, np.roll(r, -1, axis=0), strict=True):
            sheet.line(at[0] + x0, at[1] + y0, at[0] + x1, at[1] + y1, "cut")
    if region.is_empty:
        return
    bx0, by0, bx1, by1 = region.bounds
    far = float(np.hypot(bx1 - bx0, by1 - by0))
    mid = ((bx0 + bx1) / 2, (by0 + by1) / 2)
    rows = [LineString([(mid[0] - far, y), (mid[0] + far, y)]) for y in np.arange(mid[1] - far, mid[1] + far, HATCH_MM)]
    hatch = region.intersection(rotate(unary_union(rows), 45, origin=mid))
    for line in getattr(hatch, "geoms", [hatch]):
        if isinstance(line, LineString | MultiLineString) and not line.is_empty:
            (x0, y0), (x1, y1) = line.coords[0], line.coords[-1]
            sheet.line(at[0] + x0, at[1] + y0, at[0] + x1, at[1] + y1, "thin")


def _across(sheet: Sheet, at: tuple[float, float], long: float, off: float, mm: float) -> None:
    """A dimension line under a view."""
    y = at[1] + off
    for x in (at[0], at[0] + long):
        sheet.line(x, at[1] - 1, x, y - 1.5)
    sheet.line(at[0], y, at[0] + long, y)
    _arrows(sheet, (at[0], y), (at[0] + long, y))
    sheet.say(at[0] + long / 2, y + 0.8, f"{mm:.2f}".rstrip("0").rstrip("."), TEXT_MM, "middle")


def _up(sheet: Sheet, at: tuple[float, float], long: float, off: float, mm: float) -> None:
    """A dimension line on the left of a view."""
    x = at[0] + off
    for y in (at[1], at[1] + long):
        sheet.line(at[0] - 1, y, x - 1.5, y)
    sheet.line(x, at[1], x, at[1] + long)
    _arrows(sheet, (x, at[1]), (x, at[1] + long))
    words = f"{mm:.2f}".rstrip("0").rstrip(".")
    if long < TEXT_MM * len(words):  # no room along the line
        sheet.say(x - 1.5, at[1] + long / 2 - TEXT_MM / 3, words, TEXT_MM, "end")
    else:
        sheet.say(x - 0.8, at[1] + long / 2, words, TEXT_MM, "middle", upright=True)


def _arrows(sheet: Sheet, a: tuple[float, float], b: tuple[float, float]) -> None:
    way = np.array(b) - a
    unit = way / max(float(np.hypot(*way)), 1e-9)
    side = np.array([-unit[1], unit[0]])
    for tip, s in ((np.array(a), 1), (np.array(b), -1)):
        for t in (side, -side):
            end = tip + s * 2.2 * unit + 0.5 * t
            sheet.line(tip[0], tip[1], end[0], end[1])


def _column(sheet: Sheet, a: Analysis, p: PrintedPiece, k: float) -> None:
    """Name, scale and what is to be checked, on the right."""
    x0, x1 = PAPER_MM[0] - EDGE_MM - COLUMN_MM, PAPER_MM[0] - EDGE_MM
    y = PAPER_MM[1] - EDGE_MM
    sheet.line(x0 - 4, EDGE_MM, x0 - 4, y)
    process = a.design.process_of(p.printed_as)
    scale = f"{k:g} : 1" if k >= 1 else f"1 : {1 / k:g}"
    grams = f"{p.estimate.mass_g.value:.0f} g of " if p.estimate is not None else ""
    sheet.say(x0, y - 6, sheet.title, 5.0)
    for n, words in enumerate(
        (
            f"scale {scale}, millimetres, first-angle projection",
            f"{grams}{process.filament}, layers of {process.layer_mm:g}, on {a.printer.name}",
            "To check with calipers, as drawn:",
        )
    ):
        sheet.say(x0, y - 13 - 4.5 * n, words, SMALL_MM)
    y -= 27
    last, rows = "", checks(a, p)
    for c in rows[:MOST_ROWS]:
        if c.of != last:
            y -= 1.2
        sheet.say(x0, y, c.of if c.of != last else "", SMALL_MM)
        sheet.say(x1 - 14, y, c.how, SMALL_MM, "end")
        sheet.say(x1, y, f"{c.mm:.2f}", SMALL_MM, "end")
        last = c.of
        y -= 4.2
    if len(rows) > MOST_ROWS:
        sheet.say(x0, y, f"and {len(rows) - MOST_ROWS} more", SMALL_MM)
        y -= 4.2
    for pause in (x for x in pauses(a) if x.piece == p.name):
        y -= 1.2
        when, what = pause.words.split(" put in ")
        for words in (f"Pause the print {when}:", f"put in {what}"):
            sheet.say(x0, y, words, SMALL_MM)
            y -= 4.2
