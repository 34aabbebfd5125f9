"""Size to the bed: which parts must be cut, where a cut may run, and the pieces that come of it."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from math import ceil
from operator import itemgetter

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case, Part, Seat
from rhombex.core.cuts.bed import on_bed, usable_bed
from rhombex.core.cuts.bends import shares, wished
from rhombex.core.cuts.cut import Cut, PinSize
from rhombex.core.cuts.dowels import dowel_places, in_the_way
from rhombex.core.cuts.joins import Hold, Pins, hold_of, usual_join
from rhombex.core.cuts.made import blocks_and_holes, keys_of, locked
from rhombex.core.cuts.marks import marks
from rhombex.core.cuts.search import places, plan_cuts
from rhombex.core.cuts.strips import INDEX, NAMES, Axis, PartName, Strip, crossed, strips
from rhombex.core.design import Design, JoinKind
from rhombex.core.geometry.recipe import Difference, Intersection, Solid, Union
from rhombex.core.openings.opening import Openings
from rhombex.core.process.laying import bbox, down_of, laid, plan_hull
from rhombex.core.space import Box, Vec2, Vec3
from rhombex.core.trail import Frozen
from rhombex.core.workshop.printer import Printer

Free = Callable[[int, int, tuple[float, ...]], list[tuple[float, float]]]
LEAST_END_MM = 5.0  # a cut that a hand puts nearer to an end of its part leaves no piece there
MOST_PIECES = 24  # of one part; more are not planned: a larger bed, or sheet, is wanted


class Piece(Frozen):
    """What goes on the bed: `bbox_mm` as it lies, turned by `angle_deg` to the left: 0, 90, or across the bed."""

    name: str
    bbox_mm: Vec3
    fits_bed: bool
    angle_deg: float
    over_mm: float


class PartCuts(Frozen):
    """A part over its bed. `lo_mm` to `hi_mm`: where it is in the case; `flat`: the two axes of the plate that cuts run across, none where it is
    not cut, which is `seat`. `least`: of how many pieces it would be at least, by the bed alone. `joined`: what joins its pieces where a cut does not say otherwise."""

    part: PartName
    lo_mm: Vec3
    hi_mm: Vec3
    flat: tuple[Axis, ...]
    seat: Seat | None
    least: int
    joined: JoinKind
    bbox_mm: Vec3
    usable_mm: Vec3
    over_mm: float
    strips: tuple[Strip, ...]
    cuts: tuple[Cut, ...]
    no_place: bool
    pieces: tuple[Piece, ...]


@dataclass(frozen=True)
class CutPart:
    """A part's cuts and the recipes of its pieces: as they lie on the bed, and in their place in the case. `bodies`: of how many each is."""

    cuts: PartCuts
    recipes: tuple[Solid, ...]
    in_case: tuple[Solid, ...]
    bodies: int = 1


def wanted_holds(c: PartCuts, cut: Cut) -> int:
    """How many pins, keys or bolts a cut wants: two, or one for each piece beside it (common practice)."""
    return max(2, 1 + sum(x.axis != cut.axis for x in c.cuts))


def whole_part(design: Design, printer: Printer, part: Part, recipe: Solid, beside: Solid | None = None) -> CutPart:
    """A part in one piece, laid on a side. `beside`: of one of several bodies, as these are printed beside one another."""
    usable = usable_bed(design.process_of(part.name), printer)
    lying = laid(beside or recipe, down_of(design, part))
    _, lies = bbox(lying)
    ok, angle, over = on_bed(lies, usable, partial(plan_hull, lying))
    piece = Piece(name=part.name, bbox_mm=lies, fits_bed=ok, angle_deg=angle, over_mm=over)
    corner, size = bbox(recipe)
    cuts = PartCuts(
        part=part.name,
        lo_mm=corner,
        hi_mm=(corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]),
        flat=(),
        seat=None,
        least=1,
        joined=design.joined_by(part.name),
        bbox_mm=lies if beside else size,
        usable_mm=usable,
        over_mm=over,
        strips=(),
        cuts=(),
        no_place=not ok,
        pieces=(piece,),
    )
    return CutPart(cuts, (lying,), (recipe,), part.bodies)


def cut_part(
    design: Design,
    printer: Printer,
    case: Case,
    things: tuple[Thing, ...],
    openings: Openings,
    part: Part,
    recipe: Solid,
    elsewhere: tuple[Cut, ...] = (),
    beside: Solid | None = None,
) -> CutPart:
    """Plan the cuts of a part and make its pieces as they lie on the bed, each in its own corner. `elsewhere`: cuts of other parts of the case,
    which its own keep out of line with. `beside`: the bodies of one of several as they are printed beside one another."""
    if part.seat is None or part.size_mm is None:
        return whole_part(design, printer, part, recipe, beside)
    usable = usable_bed(design.process_of(part.name), printer)
    corner, size = bbox(recipe)  # as it is made: a post may rise past the joint
    up = part.seat.axis  # it lies on this plate
    tall = part.side_seat is not None and size[up] > usable[2]
    seat = part.side_seat if tall and part.side_seat else part.seat
    kind = usual_join(seat, design.joined_by(part.name))
    hold = hold_of(kind, seat)
    extent = Box(corner, (corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]))
    if down_of(design, part) != part.down:
        whole = whole_part(design, printer, part, recipe)
        if whole.cuts.over_mm <= 1e-6:
            return whole
        # it does not fit lying so: it is cut as usual, and the concern about the bed says so
    along, across = (i for i in range(3) if i != seat.axis)
    lying = tuple(k for k in range(3) if k != up)
    flat = (size[lying[0]], size[lying[1]], size[up])
    fits, _, over = on_bed(flat, usable, lambda: plan_hull(laid(recipe, part.down)))
    pinned = [c for c in design.cuts if c.part == part.name and INDEX[c.axis] != seat.axis]
    first = INDEX[pinned[0].axis] if pinned else along if size[along] >= size[across] else across
    banned = strips(case, openings, part.name, NAMES[first])
    plain = in_the_way(case, things, openings, part.name)
    in_plate = in_the_way(case, things, openings, part.name, True)
    cuts: list[Cut] = []
    no_place = False

    def mine_of(i: int) -> tuple[Strip, ...]:
        return banned if i == first else strips(case, openings, part.name, NAMES[i])

    def cut_at(i: int, c: float, pinned: bool, others: tuple[float, ...] = (), by: JoinKind | None = None) -> Cut:
        mine = mine_of(i)
        by = kind if by is None else usual_join(seat, by)
        held = hold_of(by, seat)
        blocked = in_plate if held is not None and held.whole_plate else plain
        return Cut(
            axis=NAMES[i],
            at_mm=c,
            inside_mm=c - case.cavity.lo[i],
            joined=by,
            pin=PinSize(item=held.item, d_mm=held.d_mm, long_mm=held.long_mm) if isinstance(held, Pins) else None,
            dowels=tuple(
                dowel_places(
                    case,
                    blocked,
                    seat,
                    held,
                    extent,
                    i,
                    c,
                    others,
                    wished(case, things, part.name, extent, NAMES[i], c, held, 1 + len(others)),
                )
            ),
            pinned=pinned,
            crosses=crossed(mine, c, pinned),
        )

    def free(i: int, mine: tuple[Strip, ...], most: int, others: tuple[float, ...] = ()) -> list[tuple[float, float]]:
        """Where a cut across axis i may run, from the part's low end, each with its price."""
        in_line = tuple(c.at_mm for c in elsewhere if INDEX[c.axis] == i)
        blocked = in_plate if hold is not None and hold.whole_plate else plain
        bent = partial(shares, case, things, part.name, extent, NAMES[i])
        found = places(case, blocked, seat, hold, extent, mine, i, most, others, in_line, bent)
        return [(x.at_mm - corner[i], x.price) for x in found if x.price is not None]

    if pinned:
        at = {
            # two at one place are one cut; the later one says what joins it
            i: sorted(
                {p.at_mm + case.cavity.lo[i]: p.by for p in pinned if INDEX[p.axis] == i}.items(), key=itemgetter(0)
            )
            for i in (along, across)
        }
        at = {
            i: [x for x in xs if corner[i] + LEAST_END_MM < x[0] < extent.hi[i] - LEAST_END_MM] for i, xs in at.items()
        }
        theirs_at = {i: tuple(c for c, _ in at[along + across - i]) for i in (along, across)}
        cuts = [cut_at(i, c, True, theirs_at[i], by) for i in (along, across) for c, by in at[i]]
    elif tall:
        made = _upright(size, up, seat.axis, usable, hold, lambda i, most, others: free(i, mine_of(i), most, others))
        no_place = made is None
        if made is not None:
            cuts = [
                cut_at(i, corner[i] + c, False, tuple(corner[o] + x for o, xs in made.items() if o != i for x in xs))
                for i, at_i in made.items()
                for c in at_i
            ]
    elif not fits and size[up] <= usable[2]:
        other = along + across - first
        longer = hold.longer_mm if hold is not None else 0.0  # what a piece grows by beyond its cut
        if size[other] <= max(usable[:2]):
            room = max(usable[:2]) if size[other] <= min(usable[:2]) else min(usable[:2])
            chosen = plan_cuts(size[first], room - longer, free(first, banned, 2))
            cuts = [cut_at(first, corner[first] + c, False) for c in chosen or []]
            no_place = chosen is None
        else:  # too large both ways: rows and columns
            theirs = strips(case, openings, part.name, NAMES[other])
            grids: list[tuple[int, tuple[float, ...], tuple[float, ...]]] = []
            # the pieces lie one way or the other; the fewest columns times the fewest rows are the fewest pieces of each
            for rooms in ((usable[0], usable[1]), (usable[1], usable[0])):
                if _cells(size, first, other, rooms) > MOST_PIECES:
                    continue
                one = plan_cuts(size[first], rooms[0] - longer, free(first, banned, 2))
                cs = tuple(corner[first] + c for c in one or ())
                two = plan_cuts(size[other], rooms[1] - longer, free(other, theirs, 1 + len(cs), cs))
                if one is not None and two is not None:
                    grids.append(((1 + len(one)) * (1 + len(two)), cs, tuple(corner[other] + c for c in two)))
            no_place = not grids
            if grids:
                _, cs, ds = min(grids, key=lambda g: g[0])
                cuts = [cut_at(first, c, False, ds) for c in cs] + [cut_at(other, c, False, cs) for c in ds]
    elif not fits:
        no_place = True
    cuts.sort(key=lambda c: (c.axis, c.at_mm))
    if not cuts:
        pieces, recipes, in_case = _uncut(part, recipe, usable)
    else:
        taken = in_the_way(case, (), openings, part.name, True)
        pieces, recipes, in_case = _pieces(design, printer, case, part, seat, recipe, extent, cuts, taken)
    return CutPart(
        PartCuts(
            part=part.name,
            lo_mm=extent.lo,
            hi_mm=extent.hi,
            flat=(NAMES[along], NAMES[across]),
            seat=seat,
            least=1
            if fits
            else _least_upright(size, up, usable)
            if tall
            else least_pieces((size[along], size[across]), usable),
            joined=kind,
            bbox_mm=(size[lying[0]], size[lying[1]], size[up]),
            usable_mm=usable,
            over_mm=over,
            strips=banned,
            cuts=tuple(cuts),
            no_place=no_place,
            pieces=tuple(pieces),
        ),
        tuple(recipes),
        tuple(in_case),
    )


def _upright(
    size: Vec3, up: int, normal: int, usable: Vec3, hold: Hold | None, free: Free
) -> dict[int, tuple[float, ...]] | None:
    """Cuts of a part that stands too tall for the bed, from its low ends by axis: level ones, and upright ones where it is too long as well. None where
    there is no place, or where it is too deep too."""
    level = 3 - up - normal
    longer = hold.longer_mm if hold is not None else 0.0
    short, long = sorted(usable[:2])
    room = long if size[normal] <= short else short
    if size[normal] > long:
        return None
    upright = () if size[level] <= room else plan_cuts(size[level], room - longer, free(level, 2, ()))
    if upright is None:
        return None
    levels = plan_cuts(size[up], usable[2] - longer, free(up, 1 + max(1, len(upright)), tuple(upright)))
    return None if levels is None else {level: tuple(upright), up: tuple(levels)}


def _least_upright(size: Vec3, up: int, usable: Vec3) -> int:
    a, b = (size[k] for k in range(3) if k != up)
    return least_pieces((a, b), usable) * ceil(size[up] / usable[2] - 1e-9)


def _cells(size: Vec3, first: int, other: int, room: tuple[float, float]) -> int:
    """The least number of pieces of a part that is cut both ways, if each may be so large."""
    return ceil(size[first] / room[0] - 1e-9) * ceil(size[other] / room[1] - 1e-9)


def least_pieces(size: Vec2, usable: Vec3) -> int:
    """The least number of pieces of a plate, whichever way round they lie on the bed."""
    ways = (usable[:2], usable[1::-1])
    return min(ceil(size[0] / x - 1e-9) * ceil(size[1] / y - 1e-9) for x, y in ways)


def _uncut(part: Part, recipe: Solid, usable: Vec3) -> tuple[list[Piece], list[Solid], list[Solid]]:
    lying = laid(recipe, part.down)
    size = bbox(lying)[1]
    ok, angle, over = on_bed(size, usable, partial(plan_hull, lying))
    piece = Piece(name=part.name, bbox_mm=size, fits_bed=ok, angle_deg=angle, over_mm=over)
    return [piece], [lying], [recipe]


def _pieces(
    design: Design,
    printer: Printer,
    case: Case,
    part: Part,
    seat: Seat,
    recipe: Solid,
    extent: Box,
    cuts: list[Cut],
    taken: NDArray[np.float64],
) -> tuple[list[Piece], list[Solid], list[Solid]]:
    blocks, holes = blocks_and_holes(design, printer, part.name, seat, cuts)
    body = Difference(Union((recipe, *blocks)), tuple(holes)) if blocks else recipe
    keys = [k for c in cuts for k in keys_of(design, printer, part.name, seat, c, extent)]
    edges: list[list[float]] = []
    for k in range(3):
        here = sorted(c.at_mm for c in cuts if INDEX[c.axis] == k)
        edges.append([extent.lo[k] - 5.0, *here, extent.hi[k] + 5.0])
    pieces: list[Piece] = []
    recipes: list[Solid] = []
    in_case: list[Solid] = []
    cells = itertools.product(*(itertools.pairwise(e) for e in edges))
    for count, spans in enumerate(cells, 1):
        cell = Box(tuple(a for a, _ in spans), tuple(b for _, b in spans))  # type: ignore[arg-type]
        piece: Solid = Intersection(body, locked(cell, keys))
        sunk = marks(case, taken, seat, cell, cuts, count)
        if sunk:
            piece = Difference(piece, tuple(sunk))
        in_case.append(piece)
        lying = laid(piece, part.down)
        recipes.append(lying)
        size = bbox(lying)[1]
        name = f"{part.name}-{count}"
        usable = usable_bed(
            design.process_of(design.printed_as(part.name, name)), printer
        )  # it may have a brim of its own
        ok, angle, over = on_bed(size, usable, partial(plan_hull, lying))
        pieces.append(Piece(name=name, bbox_mm=size, fits_bed=ok, angle_deg=angle, over_mm=over))
    return pieces, recipes, in_case
