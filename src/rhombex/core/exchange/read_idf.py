"""IDF 2.0 and 3.0 in: board outline, drilled holes and placements (.emn), component outlines and heights (.emp)."""

from __future__ import annotations

import math
import shlex
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import pairwise

from shapely import Polygon

from rhombex.core.parts.recognised import UNIT_MM, Found, Hole, Recognised, Unit, overhang
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, silent

MOST_LINES = 1_000_000
_UNITS: dict[str, Unit] = {"MM": "mm", "THOU": "thou", "TNM": "thou"}
Point = tuple[float, float]


class _Bad(DesignError):
    def __init__(self, line: int, message: str) -> None:
        super().__init__(f"line {line}", message, "Export board and library again as IDF 2.0 or 3.0 (.emn and .emp).")


@dataclass
class _Part:
    height: float
    loop: list[Point]


@dataclass
class _Board:
    name: str = "board"
    unit: Unit = "mm"
    thick: float = 1.6
    loops: dict[int, list[tuple[float, float, float]]] = field(default_factory=dict)
    holes: list[tuple[float, float, float, str]] = field(default_factory=list)
    placed: list[tuple[str, str, str, float, float, float, float, str]] = field(default_factory=list)


Line = tuple[int, list[str]]


def _lines(data: bytes) -> Iterator[Line]:
    text = data.decode("ascii", "replace")
    for n, raw in enumerate(text.splitlines(), 1):
        if n > MOST_LINES:
            raise _Bad(n, f"the file has more than {MOST_LINES} lines")
        line = raw.strip()
        if not line or line.startswith("#"):
            continue
        try:
            yield n, shlex.split(line, posix=True) if '"' in line or "'" in line else line.split()
        except ValueError:
            yield n, line.replace('"', "").split()


def _numbers(n: int, words: list[str], count: int) -> list[float]:
    try:
        values = [float(w) for w in words[:count]]
    except ValueError:
        raise _Bad(n, f"'{' '.join(words)[:60]}' has a word where a number belongs") from None
    if len(values) < count or not all(math.isfinite(v) and abs(v) < 1e9 for v in values):
        raise _Bad(n, f"{count} numbers belong here")
    return values


def _flat(points: list[tuple[float, float, float]]) -> list[Point]:
    """A loop of points with included angles as straight pieces: 0 straight, 360 a circle round the point before."""
    if len(points) == 2 and abs(abs(points[1][2]) - 360) < 1e-6:
        (cx, cy, _), (x, y, _) = points
        r = math.hypot(x - cx, y - cy)
        return [(cx + r * math.cos(2 * math.pi * k / 64), cy + r * math.sin(2 * math.pi * k / 64)) for k in range(64)]
    out: list[Point] = [(points[0][0], points[0][1])]
    for (x0, y0, _), (x1, y1, angle) in pairwise(points):
        turn = math.radians(angle)
        if abs(turn) > 1e-9 and math.hypot(x1 - x0, y1 - y0) > 1e-12:
            # the centre lies left of the chord for an arc counter-clockwise
            mx, my, dx, dy = (x0 + x1) / 2, (y0 + y1) / 2, x1 - x0, y1 - y0
            t = math.tan(turn / 2)
            off = 0.5 / t if abs(t) > 1e-12 else 0.0
            cx, cy = mx - dy * off, my + dx * off
            a0 = math.atan2(y0 - cy, x0 - cx)
            steps = max(4, int(abs(angle) / 5))
            r = math.hypot(x0 - cx, y0 - cy)
            for k in range(1, steps):
                a = a0 + turn * k / steps
                out.append((cx + r * math.cos(a), cy + r * math.sin(a)))
        out.append((x1, y1))
    return out


def _emn(data: bytes) -> _Board:
    b = _Board()
    section, first = "", True
    pending: Line | None = None
    scale = 1.0
    seen_header = False
    lifted = True
    for n, w in _lines(data):
        if w[0].startswith("."):
            section = "" if w[0].upper().startswith(".END_") else w[0].upper()
            first, pending = True, None
            continue
        if section == ".HEADER":
            if w[0].upper() in ("BOARD_FILE", "PANEL_FILE"):
                if len(w) < 2 or w[1][:1] not in ("2", "3"):
                    raise _Bad(n, f"this is IDF {w[1] if len(w) > 1 else 'of no version'}; 2.0 and 3.0 are read")
                lifted = w[1].startswith("3")  # 2.0 has no height of a component over its board
                seen_header = True
            elif len(w) >= 2 and w[1].upper() in _UNITS:
                b.name, b.unit = w[0], _UNITS[w[1].upper()]
                scale = UNIT_MM[b.unit] if w[1].upper() != "TNM" else 1e-5
        elif section == ".BOARD_OUTLINE":
            if first:
                b.thick = _numbers(n, w, 1)[0] * scale
                first = False
            else:
                label, x, y, angle = _numbers(n, w, 4)
                b.loops.setdefault(int(label), []).append((x * scale, y * scale, angle))
        elif section == ".DRILLED_HOLES":
            d, x, y = _numbers(n, w, 3)
            b.holes.append((d * scale, x * scale, y * scale, w[5] if len(w) > 5 else ""))
        elif section == ".PLACEMENT":
            if pending is None:
                pending = (n, w)
                continue
            names = pending[1]
            x, y, *up, turn = _numbers(n, w, 4 if lifted else 3)
            lift = up[0] if up else 0.0
            rest = w[4 if lifted else 3 :]
            side = rest[0].upper() if rest else "TOP"
            if len(names) < 3:
                raise _Bad(pending[0], "a placement has package, part number and name")
            b.placed.append((names[0], names[1], names[2], x * scale, y * scale, lift * scale, turn, side))
            pending = None
    if not seen_header:
        raise _Bad(1, "there is no header of an IDF board file")
    if not b.loops.get(0):
        raise _Bad(1, "there is no board outline")
    return b


def _emp(data: bytes) -> dict[tuple[str, str], _Part]:
    out: dict[tuple[str, str], _Part] = {}
    inside, key, scale, height = False, ("", ""), 1.0, 0.0
    points: dict[int, list[tuple[float, float, float]]] = {}
    head = False
    for n, w in _lines(data):
        word = w[0].upper()
        if word in (".ELECTRICAL", ".MECHANICAL"):
            inside, head, points = True, True, {}
        elif word in (".END_ELECTRICAL", ".END_MECHANICAL"):
            if inside and points.get(0):
                out[key] = _Part(height, _flat(points[0]))
            inside = False
        elif inside and head:
            if len(w) < 4 or w[2].upper() not in _UNITS:
                raise _Bad(n, "a component has geometry, part number, unit and height")
            key, scale = (w[0], w[1]), 1e-5 if w[2].upper() == "TNM" else UNIT_MM[_UNITS[w[2].upper()]]
            height = _numbers(n, w[3:], 1)[0] * scale
            head = False
        elif inside and word != "PROP":
            label, x, y, angle = _numbers(n, w, 4)
            points.setdefault(int(label), []).append((x * scale, y * scale, angle))
    return out


def recognise_idf(emn: bytes, emp: bytes | None = None, name: str = "", progress: Progress = silent) -> Recognised:
    """Recognise a board in an IDF board file and, where given, its library. Raises DesignError naming the line."""
    progress(0.2, "reading the board")
    b = _emn(emn)
    parts = _emp(emp) if emp else {}
    outline = _flat(b.loops[0])
    xs, ys = [p[0] for p in outline], [p[1] for p in outline]
    x0, y0, size = min(xs), min(ys), (max(xs) - min(xs), max(ys) - min(ys), b.thick)
    if not (1 <= size[0] <= 1500 and 1 <= size[1] <= 1500 and 0.1 <= size[2] <= 20):
        raise _Bad(1, f"the board measures {size[0]:.4g} x {size[1]:.4g} x {size[2]:.4g} mm; that is out of reason")
    notes = []
    found = []
    missing = 0
    for package, number, ref, x, y, lift, turn, side in b.placed:
        part = parts.get((package, number))
        if part is None:
            missing += 1
            continue
        c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
        flip = -1.0 if side == "BOTTOM" else 1.0
        corners = [(x + flip * (c * px - s * py), y + s * px + c * py) for px, py in part.loop]
        lo2 = (min(p[0] for p in corners) - x0, min(p[1] for p in corners) - y0)
        hi2 = (max(p[0] for p in corners) - x0, max(p[1] for p in corners) - y0)
        z = (b.thick + lift, b.thick + lift + part.height) if side != "BOTTOM" else (-lift - part.height, -lift)
        lo, hi = (*lo2, z[0]), (*hi2, z[1])
        edge, over = overhang(lo, hi, size)
        found.append(
            Found(
                name=(ref if ref not in ("NOREFDES", "BOARD") else package)[:80],
                lo=lo,
                hi=hi,
                side="bottom" if side == "BOTTOM" else "top",
                edge=edge,
                overhang_mm=over,
            )
        )
    if missing:
        notes.append(
            f"{missing} placed parts are not in the library"
            + ("." if emp else ": give the .emp file too, and they get their outlines and heights.")
        )
    holes = [(d, x - x0, y - y0) for d, x, y, _ in b.holes]
    # cut-outs that are whole circles are holes as well
    for label, loop in b.loops.items():
        if label and len(loop) == 2 and abs(abs(loop[1][2]) - 360) < 1e-6:
            r = math.hypot(loop[1][0] - loop[0][0], loop[1][1] - loop[0][1])
            holes.append((2 * r, loop[0][0] - x0, loop[0][1] - y0))
    area = Polygon(outline)
    if not area.is_valid:
        notes.append("The outline crosses itself; look at it on the picture.")
    progress(0.9, "done")
    return Recognised(
        kind="board",
        name=name or b.name,
        format="IDF",
        unit=b.unit,
        unit_from="the file",
        size_mm=size,
        outline=tuple((px - x0, py - y0) for px, py in outline[:400]),
        holes=tuple(Hole(at=(x, y), d_mm=d) for d, x, y in sorted(holes, key=lambda h: (h[2], h[1])) if d >= 0.5),
        found=tuple(found),
        up="the side named TOP",
        turned="as it lies in the file",
        notes=tuple(notes),
    )
