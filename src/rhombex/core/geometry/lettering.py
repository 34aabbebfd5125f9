"""Text as outlines of even strokes, after a general-purpose font for engraving: a nozzle draws no thin and thick ones."""

from __future__ import annotations

from functools import cache, lru_cache
from unicodedata import normalize

from HersheyFonts import HersheyFonts
from shapely import MultiLineString, Point, affinity, unary_union
from shapely.geometry.base import BaseGeometry

from rhombex.core.geometry.recipe import Profile
from rhombex.core.geometry.regions import profile_of
from rhombex.core.space import Vec2

CAPITAL = 21.0  # how high a capital is in the font's own units
BARS_APART = 1 / 3  # of a capital's height: the middles of the bars of an e, of all small letters the closest
ROUND = 2  # chords to a quarter of a stroke's end: each is a face in STEP
PLAIN = 20  # of a stroke's width, what corners may be off by that are left out
# what may stand over a letter (`words.ACCENTS`): where its dots and strokes are, in the font's units from the middle of the letter's top
_MARKS: dict[str, tuple[tuple[Vec2, ...], ...]] = {
    "\u0308": (((-4, 4), (-4, 4)), ((4, 4), (4, 4))),  # two dots
    "\u0301": (((-1, 3), (4, 7)),),  # acute
    "\u0300": (((1, 3), (-4, 7)),),  # grave
    "\u0302": (((-5, 3), (0, 7), (5, 3)),),  # circumflex
    "\u030a": (((-3, 5), (0, 8), (3, 5), (0, 2), (-3, 5)),),  # ring
    "\u0303": (((-6, 4), (-3, 6), (3, 4), (6, 6)),),  # tilde
}


@cache
def _font() -> HersheyFonts:
    font = HersheyFonts()
    font.load_default_font("futural")
    return font


def _strokes(text: str) -> tuple[list[tuple[Vec2, ...]], float]:
    """Lines of a text in the font's units, from its left on the line that it stands on, up positive; and how long it is."""
    glyphs, out, x, last = _font().all_glyphs, [], 0.0, (0.0, 0.0)
    for c in normalize("NFD", text):
        if c in _MARKS:
            out += [tuple((last[0] + px, last[1] + py) for px, py in line) for line in _MARKS[c]]
            continue
        g = glyphs[c]
        lines = [[(x + px - g.left_offset, g.base_line - py) for px, py in line] for line in g.strokes]
        out += [tuple(line) for line in lines]
        points = [p for line in lines for p in line]
        if points:
            xs = [p[0] for p in points]
            last = ((min(xs) + max(xs)) / 2, max(p[1] for p in points))
        x += g.char_width
    return out, x


@lru_cache(maxsize=256)
def region(text: str, high_mm: float, stroke_mm: float, turn_deg: int = 0) -> BaseGeometry:
    """What a text covers, its middle at the origin, capitals `high_mm` high over their strokes' outsides and every stroke as wide. `turn_deg`: against the clock."""
    k = max(0.0, (high_mm - stroke_mm) / CAPITAL)  # lower than a stroke it is a blot, and never upside down
    lines, _ = _strokes(text)
    drawn = MultiLineString([[(k * x, k * y) for x, y in line] for line in lines if len(set(line)) > 1])
    dots = [Point(k * line[0][0], k * line[0][1]) for line in lines if len(set(line)) == 1]
    area = unary_union([x.buffer(stroke_mm / 2, quad_segs=ROUND) for x in (drawn, *dots) if not x.is_empty])
    if area.is_empty:
        return area
    x0, _, x1, _ = area.bounds
    middle = affinity.translate(area, -(x0 + x1) / 2, -k * CAPITAL / 2)
    return affinity.rotate(middle.simplify(stroke_mm / PLAIN), turn_deg, origin=(0, 0))


def size_mm(text: str, high_mm: float, stroke_mm: float, turn_deg: int = 0) -> tuple[float, float, float, float]:
    """The rectangle round a text from its middle: left, below, right, above; nothing where it has only blanks."""
    area = region(text, high_mm, stroke_mm, turn_deg)
    return (0.0, 0.0, 0.0, 0.0) if area.is_empty else area.bounds


@lru_cache(maxsize=256)
def outline(text: str, high_mm: float, stroke_mm: float, turn_deg: int, at: Vec2) -> Profile:
    """A text as a profile, its middle at a place."""
    return profile_of(affinity.translate(region(text, high_mm, stroke_mm, turn_deg), *at))
