"""The polarity plan as a drawing: every part that magnets hold, seen from inside as it lies open on the table, with the pole that faces out of
each pocket, its notches, and the pocket that it meets."""

from __future__ import annotations

import itertools
from math import cos, pi, sin

from rhombex.core.advice.magnet_table import MagnetTable, PlanOf, magnet_table
from rhombex.core.analysis import Analysis
from rhombex.core.plan.drawing import COLUMN_MM, EDGE_MM, PAPER_MM, SCALES, SMALL_MM, TEXT_MM, Sheet

RING_MM = 2.6  # radius of a pocket's mark on the paper
BETWEEN_MM = 12.0


def magnets_map(a: Analysis) -> Sheet | None:
    """One sheet for a case; None where no magnets hold it."""
    table = magnet_table(a)
    if table is None or table.now is None or not table.parts:
        return None
    sheet = Sheet(f"{a.design.name}, polarity plan")
    room = (PAPER_MM[0] - 2 * EDGE_MM - COLUMN_MM - 8, PAPER_MM[1] - 2 * EDGE_MM - 10)
    k = next((s for s in SCALES if _rows(table, s, room[0])[1] <= room[1]), SCALES[-1])
    places, _ = _rows(table, k, room[0])
    for p, (x, y) in zip(table.parts, places, strict=True):
        _part(sheet, p, (EDGE_MM + x, PAPER_MM[1] - EDGE_MM - 6 - y), k)
    _column(sheet, table, k)
    return sheet


def _rows(table: MagnetTable, k: float, wide: float) -> tuple[list[tuple[float, float]], float]:
    """Upper left corners of the parts set in rows, and how high all of it is."""
    places, x, y, deep = [], 0.0, 0.0, 0.0
    for p in table.parts:
        w, h = k * (p.hi_mm[0] - p.lo_mm[0]), k * (p.hi_mm[1] - p.lo_mm[1])
        if x > 0 and x + w > wide:
            x, y, deep = 0.0, y + deep, 0.0
        places.append((x, y))
        x, deep = x + w + BETWEEN_MM, max(deep, h + BETWEEN_MM)
    widest = max(k * (p.hi_mm[0] - p.lo_mm[0]) for p in table.parts)
    return places, y + deep if widest <= wide else float("inf")


def _part(sheet: Sheet, p: PlanOf, at: tuple[float, float], k: float) -> None:
    w, h = p.hi_mm[0] - p.lo_mm[0], p.hi_mm[1] - p.lo_mm[1]
    corners = [(0, 0), (w, 0), (w, h), (0, h)]
    for (x0, y0), (x1, y1) in zip(corners, [*corners[1:], corners[0]], strict=True):
        sheet.line(at[0] + k * x0, at[1] - k * h + k * y0, at[0] + k * x1, at[1] - k * h + k * y1, "seen")
    sheet.say(at[0], at[1] + 1.5, f"{p.held.part}, from inside", SMALL_MM)
    for q in p.pockets:
        # from inside left and right change places
        x, y = at[0] + k * (p.hi_mm[0] - q.at_mm[0]), at[1] - k * (p.hi_mm[1] - q.at_mm[1])
        ring = [(x + RING_MM * cos(2 * pi * n / 24), y + RING_MM * sin(2 * pi * n / 24)) for n in range(25)]
        if q.block:  # as long and as wide as it lies, and never less than its letter
            a, b = (max(RING_MM, k * mm / 2) for mm in q.size_mm)
            ring = [(x - a, y - b), (x + a, y - b), (x + a, y + b), (x - a, y + b), (x - a, y - b)]
        for (x0, y0), (x1, y1) in itertools.pairwise(ring):
            sheet.line(x0, y0, x1, y1, "cut" if q.pole == "N" else "thin")
        sheet.say(x, y - TEXT_MM / 3, q.pole, TEXT_MM, "middle")
    if p.notch is not None:
        u = k * (p.hi_mm[0] - (p.notch[0] + p.notch[2]) / 2)
        v = (p.notch[1] + p.notch[3]) / 2
        if p.lo_mm[1] <= v <= p.hi_mm[1]:
            y, inward = at[1] - k * (p.hi_mm[1] - v), -1.0 if v > (p.lo_mm[1] + p.hi_mm[1]) / 2 else 1.0
            for x in (-2.0, 2.0):  # a small tick either side of where a finger goes
                sheet.line(at[0] + u + x, y - 1.5, at[0] + u + x, y + 1.5, "seen")
            sheet.say(at[0] + u, y + (inward * 4.0 if inward < 0 else 2.2), "finger", SMALL_MM, "middle")


def _column(sheet: Sheet, table: MagnetTable, k: float) -> None:
    left, y = PAPER_MM[0] - EDGE_MM - COLUMN_MM, PAPER_MM[1] - EDGE_MM - 4
    sheet.say(left, y, sheet.title, TEXT_MM)
    now = table.now
    assert now is not None
    rows = [
        f"scale {k:g} : 1" if k >= 1 else f"scale 1 : {1 / k:g}",
        "",
        f"{(2 if now.against == 'magnets' else 1) * table.pairs} {'discs' if now.long_mm is None else 'blocks'} {table.words}, {now.fixed}",
        "",
        "The pole that faces out of the pocket.",
        "One notch in a pocket's rim: N faces out.",
        "Two notches: S faces out.",
        "The pocket that it meets shows the other."
        if now.against == "magnets"
        else "It meets the head of a screw, by either pole.",
        "Mark N with a pen on every magnet first:",
        "one stack, always from the same side.",
    ]
    for p in table.parts:
        low, high = p.held.low_n.value, p.held.high_n.value
        rows += ["", f"{p.held.part}: {len(p.pockets)} pairs, {low:.0f} to {high:.0f} N"]
    for row in rows:
        y -= 4.2
        sheet.say(left, y, row, SMALL_MM)
