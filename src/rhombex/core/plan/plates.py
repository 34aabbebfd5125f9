"""Pieces laid on beds as they will be printed: which go on one plate, and where."""

from __future__ import annotations

from itertools import product

from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.cuts.bed import turned_box, turned_size, usable_bed
from rhombex.core.design import Process
from rhombex.core.fit.laying import plan_hull
from rhombex.core.reference import val
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen


class Place(Frozen):
    """Where a piece lies on its plate: `at_mm` the lower left corner of the box round it from the bed's; turned by `angle_deg` to the left."""

    piece: str
    at_mm: Vec2
    angle_deg: float


class Plate(Frozen):
    """One print: pieces of one process. `fits`: all lie on the bed; a piece that is too large has a plate of its own."""

    process: Process
    places: tuple[Place, ...]
    fits: bool


def plates(a: Analysis) -> tuple[Plate, ...]:
    """All pieces of a design on as few plates as come of laying the largest first, each as far forward and left as it goes."""
    groups: dict[Process, list[PrintedPiece]] = {}
    for p in a.pieces:
        groups.setdefault(a.design.process_of(p.printed_as), []).append(p)
    out: list[Plate] = []
    for process, pieces in groups.items():
        usable = usable_bed(process, a.printer)
        room = (usable[0], usable[1])
        edge = ((a.printer.bed_mm[0] - room[0]) / 2, (a.printer.bed_mm[1] - room[1]) / 2)
        brims = 0.0 if process.brim_inside else 2 * process.brim_mm
        gap = max(val("printing.feature.piece_gap"), brims)
        rows: list[list[tuple[Place, Vec2]]] = []
        for p in sorted(pieces, key=lambda p: -p.bbox_mm[0] * p.bbox_mm[1]):
            if not p.fits_bed:
                place = Place(piece=p.name, at_mm=edge, angle_deg=0.0)
                out.append(Plate(process=process, places=(place,), fits=False))
                continue
            if p.angle_deg not in (0.0, 90.0):  # across the bed it lies alone, in the middle
                size = turned_box(plan_hull(a.piece_recipes[p.name]), p.angle_deg)
                middle = tuple((bed - s) / 2 for bed, s in zip(a.printer.bed_mm, size, strict=False))
                place = Place(piece=p.name, at_mm=(middle[0], middle[1]), angle_deg=p.angle_deg)
                out.append(Plate(process=process, places=(place,), fits=True))
                continue
            for row in rows:
                found = _spot(p, [(q.at_mm, size) for q, size in row], room, gap)
                if found is not None:
                    row.append(found)
                    break
            else:
                first = _spot(p, [], room, gap)
                assert first is not None  # it fits the bed
                rows.append([first])
        for row in rows:
            places = tuple(q.model_copy(update={"at_mm": (q.at_mm[0] + edge[0], q.at_mm[1] + edge[1])}) for q, _ in row)
            out.append(Plate(process=process, places=places, fits=True))
    return tuple(out)


def _spot(p: PrintedPiece, taken: list[tuple[Vec2, Vec2]], room: Vec2, gap: float) -> tuple[Place, Vec2] | None:
    """The place nearest to the front, then to the left, in which a piece keeps its gap from all others."""
    best: tuple[float, float, Place, Vec2] | None = None
    w, d = p.bbox_mm[0], p.bbox_mm[1]
    for angle in (p.angle_deg, 90.0 - p.angle_deg):
        size = turned_size((w, d), angle)
        xs = [0.0, *(at[0] + s[0] + gap for at, s in taken)]
        ys = [0.0, *(at[1] + s[1] + gap for at, s in taken)]
        for x, y in product(xs, ys):
            if x + size[0] > room[0] + 1e-6 or y + size[1] > room[1] + 1e-6:
                continue
            clear = all(
                x >= at[0] + s[0] + gap - 1e-9
                or at[0] >= x + size[0] + gap - 1e-9
                or y >= at[1] + s[1] + gap - 1e-9
                or at[1] >= y + size[1] + gap - 1e-9
                for at, s in taken
            )
            if clear and (best is None or (y, x) < best[:2]):
                best = (y, x, Place(piece=p.name, at_mm=(x, y), angle_deg=angle), size)
        if best is not None:
            break  # it is turned only where it must be
    return None if best is None else (best[2], best[3])
