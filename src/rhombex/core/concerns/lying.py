"""Ways out of what hangs free: as it lay, on another side, and with support."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import get_args

from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.concerns.own_process import change_process
from rhombex.core.concerns.registry import Remedy, searched
from rhombex.core.cuts.bed import on_bed, usable_bed
from rhombex.core.design import Direction
from rhombex.core.edits import LayPart
from rhombex.core.fit.laying import bbox, down_of, laid, plan_hull
from rhombex.core.process.overhang import Overhang, overhang
from rhombex.core.reference import val
from rhombex.core.space import Vec3

LESS = 0.5  # a side that still wants support is offered where it is no more than half of what it is now


@searched
def as_usual(a: Analysis, piece: PrintedPiece) -> tuple[Remedy, ...]:
    """The side that a part, or its piece, usually lies on, where a hand chose another."""
    part = piece.part
    of = a.case.part(part)
    if any(x.part == piece.name != part for x in a.design.lies):
        return (Remedy(label=f"Lay the {piece.name} as its part lies", edits=(LayPart(part=piece.name, down=None),)),)
    if down_of(a.design, of) == of.down:
        return ()
    return (Remedy(label=f"Lay the {part} on its {of.down} again", edits=(LayPart(part=part, down=None),)),)


@searched
def on_another_side(a: Analysis, piece: PrintedPiece) -> tuple[Remedy, ...]:
    """The side on which nothing of a piece hangs free, the lowest of several; or else the one that wants least support, with support, where that is half of
    what it would want as it lies. None where the piece would not fit the bed, or a hand chose how it lies: then there is the usual one."""
    if piece.overhang is None or as_usual(a, piece):
        return ()
    hanging = piece.overhang.room_cm3

    def may(hangs: Overhang) -> bool:
        return hangs.room_cm3 < LESS * hanging

    return _laid(a, piece, may)


@searched
def laid_low(a: Analysis, piece: PrintedPiece) -> tuple[Remedy, ...]:
    """The side on which a piece that stands tall and thin lies low, with support where it wants some; none where a hand chose how it lies."""
    if as_usual(a, piece):
        return ()
    most = val("limits.print.slender")
    return _laid(a, piece, lambda _: True, lambda size: size[2] / max(min(size[:2]), 1e-9) <= most)


def _laid(
    a: Analysis,
    piece: PrintedPiece,
    may: Callable[[Overhang], bool],
    wanted: Callable[[Vec3], bool] = lambda _: True,
) -> tuple[Remedy, ...]:
    """A piece laid on the side on which nothing of it hangs free, the lowest of several; or where there is none on the one that wants least support, of
    those that `may` be. `wanted`: what its size as it lies must be."""
    process = a.design.process_of(piece.printed_as)
    usable = usable_bed(process, a.printer)
    found: list[tuple[bool, float, Direction]] = []
    for down in (d for d in get_args(Direction) if d != piece.down):
        lying = laid(a.pieces_in_case[piece.name], down)
        size = bbox(lying)[1]
        if not wanted(size) or not on_bed(size, usable, partial(plan_hull, lying))[0]:
            continue
        hangs = overhang(lying, process, a.printer)
        if _clean(hangs):
            found.append((False, size[2], down))
        elif may(hangs):
            found.append((True, hangs.room_cm3, down))
    if not found:
        return ()
    support, _, down = min(found)
    lay = LayPart(part=piece.name, down=down)
    if not support:
        return (Remedy(label=f"Lay the {piece.name} on its {down}", edits=(lay,)),)
    more = () if process.supports else change_process(a, piece.printed_as, "supports", True)
    return (Remedy(label=f"Lay the {piece.name} on its {down}, with support", edits=(lay, *more)),)


def _clean(o: Overhang) -> bool:
    return o.area_cm2 <= val("limits.print.support_room") and o.bridge_mm <= val("printing.feature.bridge_clean")
