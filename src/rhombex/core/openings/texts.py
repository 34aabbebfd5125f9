"""Text on faces: sunk into the outside of a printed wall, in strokes that a nozzle leaves open."""

from __future__ import annotations

from rhombex.core.bench.anchors import placed
from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.faces import CaseFace, Wall
from rhombex.core.design import TEXT, Design, FaceText
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.geometry.lettering import outline, size_mm
from rhombex.core.geometry.recipe import Extrude, Move, Solid, snap
from rhombex.core.openings.opening import Lettered
from rhombex.core.reference import val
from rhombex.core.space import Frame, Vec2
from rhombex.core.workshop.printer import Printer

Rect = tuple[float, float, float, float]
ALL_OF_IT = 1 - 1e-9


def face_text(design: Design, printer: Printer, case: Case, things: tuple[Thing, ...], t: FaceText) -> Lettered:
    """A text where it is put, with the part that it is sunk into."""
    face = case.face(t.face)
    at = placed(face, t, things)
    stroke = val("printing.feature.text_lines") * line_width_mm(design.process, printer)
    x0, y0, x1, y1 = size_mm(t.text, t.high_mm, stroke, t.turn_deg)
    rect = (at[0] + x0, at[1] + y0, at[0] + x1, at[1] + y1)
    on, share = lies_on(case, face, rect, design.shell.corner_radius_mm)
    printed = on is not None and case.part(on.part).sheet is None
    loops = outline(t.text, t.high_mm, stroke, t.turn_deg, at)
    return Lettered(
        id=f"{TEXT}{t.id}",
        label=t.text,
        face=t.face,
        at_mm=at,
        size_mm=(x1 - x0, y1 - y0),
        rect_mm=rect,
        text=t.text,
        high_mm=t.high_mm,
        stroke_mm=stroke,
        deep_mm=val("printing.feature.mark_deep") if t.deep_mm is None else t.deep_mm,
        turn_deg=t.turn_deg,
        on=on.part if on is not None else "",
        share=share if printed else 0.0,
        part=on.part if on is not None and printed and share >= ALL_OF_IT else None,
        before_mm=min(face.thick_mm, on.depth_mm) if on is not None else 0.0,
        outlines=tuple(tuple((x, y) for x, y, _ in loop) for loop in (*loops.outers, *loops.holes)),
    )


def engraved(t: Lettered, frame: Frame, over_mm: float) -> Solid:
    """What is cut out for a text, from its depth to so far before the face."""
    drawn = outline(t.text, t.high_mm, t.stroke_mm, t.turn_deg, t.at_mm)
    low = snap(-t.deep_mm)
    return Move(Extrude(drawn, snap(over_mm) - low), frame._replace(origin=frame.point((0.0, 0.0, low))))


def plain_mm(case: Case, face: CaseFace, w: Wall, radius_mm: float) -> Rect:
    """The stretch of a wall's outside that is flat: without the round corners of the case."""
    r = radius_mm if case.part(w.part).sheet is None else 0.0
    low = r if face.frame.z[2] else 0.0  # of floor and top all four edges run round
    (u0, v0), (u1, v1), (wide, high) = w.lo_mm, w.hi_mm, face.size_mm
    return max(u0, r), max(v0, low), min(u1, wide - r), min(v1, high - low)


def lies_on(case: Case, face: CaseFace, rect: Rect, radius_mm: float) -> tuple[Wall | None, float]:
    """The wall that most of a rectangle lies on, seen from outside, and how much of it."""
    best: tuple[Wall | None, float] = (None, 0.0)
    walls = sorted((w for w in case.walls if w.face == face.id), key=lambda w: w.depth_mm)
    area = (rect[2] - rect[0]) * (rect[3] - rect[1])
    covered = 0.0  # by walls of other parts before this one
    for w in walls:
        here = _common(rect, plain_mm(case, face, w, radius_mm)) / area if area > 0 else 0.0
        here = min(here, 1.0 - covered)
        if here > best[1]:
            best = w, here
        covered = min(1.0, covered + _common(rect, (*w.lo_mm, *w.hi_mm)) / area if area > 0 else 1.0)
    return best


def _common(a: Rect, b: Rect) -> float:
    """The area that two rectangles share."""
    return max(0.0, min(a[2], b[2]) - max(a[0], b[0])) * max(0.0, min(a[3], b[3]) - max(a[1], b[1]))


def free_place(within: Rect, taken: list[Rect], size: Vec2, want: Vec2, step_mm: float = 2.0) -> Vec2 | None:
    """The middle nearest to where it is wanted at which a rectangle lies within another and meets none of those that are taken; on a grid."""
    (w, h), (u0, v0, u1, v1) = size, within
    us = [u0 + w / 2 + k * step_mm for k in range(int((u1 - u0 - w) / step_mm + 1e-9) + 1)] if u1 - u0 >= w else []
    vs = [v0 + h / 2 + k * step_mm for k in range(int((v1 - v0 - h) / step_mm + 1e-9) + 1)] if v1 - v0 >= h else []
    places = sorted(((u, v) for u in us for v in vs), key=lambda p: (p[0] - want[0]) ** 2 + (p[1] - want[1]) ** 2)
    return next(
        (
            p
            for p in places
            if not any(
                p[0] + w / 2 > a and p[0] - w / 2 < c and p[1] + h / 2 > b and p[1] - h / 2 < d for a, b, c, d in taken
            )
        ),
        None,
    )
