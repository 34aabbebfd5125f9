"""Size to the bed: which parts must be cut, where a cut may run, and the pieces that come of it."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from math import ceil

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case, Part, Seat
from rhombex.core.cuts.bed import on_bed, usable_bed
from rhombex.core.cuts.dowels import dowel_places, in_the_way, up_of
from rhombex.core.cuts.joins import Pins, pins_of
from rhombex.core.cuts.search import places, plan_cuts
from rhombex.core.cuts.strips import INDEX, NAMES, Axis, PartName, Strip, crossed, strips
from rhombex.core.design import Design, JoinKind
from rhombex.core.fit.allowance import fit
from rhombex.core.geometry.recipe import (
    Difference,
    Intersection,
    Solid,
    Union,
    block,
    circle,
    through,
)
from rhombex.core.openings.opening import Openings
from rhombex.core.process.laying import bbox, down_of, laid
from rhombex.core.space import Box, Frame, Vec2, Vec3
from rhombex.core.trail import Frozen
from rhombex.core.workshop.printer import Printer

MOST_PIECES = 24  # of one part; more are not planned: a larger bed, or sheet, is wanted


class Cut(Frozen):
    """A straight cut at `at_mm` from the case's origin, `inside_mm` from the cavity's left, front or floor, with the pins that align the
    pieces: where along the cut, and where through the plate that they sit in."""

    axis: Axis
    at_mm: float
    inside_mm: float
    dowels: tuple[Vec2, ...]
    pinned: bool
    crosses: tuple[str, ...]


class Piece(Frozen):
    """What goes on the bed: `bbox_mm` as it lies, turned by `angle_deg` to the left: 0, 90, or across the bed."""

    name: str
    bbox_mm: Vec3
    fits_bed: bool
    angle_deg: float
    over_mm: float


class PinSize(Frozen):
    """A pin of a cut: what it is, how thick and how long."""

    item: str
    d_mm: float
    long_mm: float


class PartCuts(Frozen):
    """A part over its bed. `lo_mm` to `hi_mm`: where it is in the case; `flat`: the two axes of the plate that cuts run across, none where it is
    not cut. `least`: of how many pieces it would be at least, by the bed alone. `joined`: what joins its pieces, with which `pin`."""

    part: PartName
    lo_mm: Vec3
    hi_mm: Vec3
    flat: tuple[Axis, ...]
    least: int
    joined: JoinKind
    pin: PinSize | None
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


def whole_part(design: Design, printer: Printer, part: Part, recipe: Solid) -> CutPart:
    """A part in one piece, laid on a side."""
    usable = usable_bed(design.process_of(part.name), printer)
    lying = laid(recipe, down_of(design, part))
    _, lies = bbox(lying)
    ok, angle, over = on_bed(lies, usable)
    piece = Piece(name=part.name, bbox_mm=lies, fits_bed=ok, angle_deg=angle, over_mm=over)
    corner, size = bbox(recipe)
    cuts = PartCuts(
        part=part.name,
        lo_mm=corner,
        hi_mm=(corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]),
        flat=(),
        least=1,
        joined=design.joined_by(part.name),
        pin=None,
        bbox_mm=size,
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
) -> CutPart:
    """Plan the cuts of a part and make its pieces as they lie on the bed, each in its own corner. `elsewhere`: cuts of other parts of the case,
    which its own keep out of line with."""
    if part.seat is None or part.size_mm is None:
        return whole_part(design, printer, part, recipe)
    usable = usable_bed(design.process_of(part.name), printer)
    seat, pins = part.seat, pins_of(design.joined_by(part.name))
    corner, size = bbox(recipe)  # as it is made: a post may rise past the joint
    extent = Box(corner, (corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]))
    if down_of(design, part) != part.down:
        whole = whole_part(design, printer, part, recipe)
        if whole.cuts.over_mm <= 1e-6:
            return whole
        # it does not fit lying so: it is cut as usual, and the concern about the bed says so
    along, across = (i for i in range(3) if i != seat.axis)
    fits, _, over = on_bed((size[along], size[across], size[seat.axis]), usable)
    pinned = [c for c in design.cuts if c.part == part.name and INDEX[c.axis] != seat.axis]
    first = INDEX[pinned[0].axis] if pinned else along if size[along] >= size[across] else across
    banned = strips(case, openings, part.name, NAMES[first])
    blocked = in_the_way(case, things, openings, part.name)
    cuts: list[Cut] = []
    no_place = False

    def cut_at(i: int, c: float, pinned: bool, others: tuple[float, ...] = ()) -> Cut:
        mine = banned if i == first else strips(case, openings, part.name, NAMES[i])
        return Cut(
            axis=NAMES[i],
            at_mm=c,
            inside_mm=c - case.cavity.lo[i],
            dowels=tuple(dowel_places(case, blocked, seat, pins, extent, i, c, others)),
            pinned=pinned,
            crosses=crossed(mine, c, pinned),
        )

    def free(i: int, mine: tuple[Strip, ...], most: int, others: tuple[float, ...] = ()) -> list[tuple[float, float]]:
        """Where a cut across axis i may run, from the part's low end, each with its price."""
        in_line = tuple(c.at_mm for c in elsewhere if INDEX[c.axis] == i)
        found = places(case, blocked, seat, pins, extent, mine, i, most, others, in_line)
        return [(x.at_mm - corner[i], x.price) for x in found if x.price is not None]

    if pinned:
        at = {
            i: tuple(sorted(p.at_mm + case.cavity.lo[i] for p in pinned if INDEX[p.axis] == i)) for i in (along, across)
        }
        at = {i: tuple(c for c in cs if corner[i] + 5 < c < extent.hi[i] - 5) for i, cs in at.items()}
        cuts = [cut_at(i, c, True, at[along + across - i]) for i in (along, across) for c in at[i]]
    elif not fits and over < 1e6 and size[seat.axis] <= usable[2]:
        other = along + across - first
        if size[other] <= max(usable[:2]):
            room = max(usable[:2]) if size[other] <= min(usable[:2]) else min(usable[:2])
            chosen = plan_cuts(size[first], room, free(first, banned, 2))
            cuts = [cut_at(first, corner[first] + c, False) for c in chosen or []]
            no_place = chosen is None
        else:  # too large both ways: rows and columns
            rooms = min(((usable[0], usable[1]), (usable[1], usable[0])), key=lambda u: _cells(size, first, other, u))
            few = _cells(size, first, other, rooms) <= MOST_PIECES
            one = plan_cuts(size[first], rooms[0], free(first, banned, 2)) if few else None
            cs = tuple(corner[first] + c for c in one or [])
            theirs = strips(case, openings, part.name, NAMES[other])
            two = plan_cuts(size[other], rooms[1], free(other, theirs, 1 + len(cs), cs)) if few else None
            no_place = one is None or two is None
            if not no_place:
                ds = tuple(corner[other] + c for c in two or [])
                cuts = [cut_at(first, c, False, ds) for c in cs] + [cut_at(other, c, False, cs) for c in ds]
    if not cuts:
        pieces, recipes, in_case = _uncut(part, recipe, usable)
    else:
        pieces, recipes, in_case = _pieces(design, printer, part, seat, pins, recipe, extent, cuts, usable)
    return CutPart(
        PartCuts(
            part=part.name,
            lo_mm=extent.lo,
            hi_mm=extent.hi,
            flat=(NAMES[along], NAMES[across]),
            least=1 if fits else least_pieces((size[along], size[across]), usable),
            joined=design.joined_by(part.name),
            pin=PinSize(item=pins.item, d_mm=pins.d_mm, long_mm=pins.long_mm) if pins else None,
            bbox_mm=size if seat.axis == 2 else (size[along], size[across], size[seat.axis]),
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
    ok, angle, over = on_bed(size, usable)
    piece = Piece(name=part.name, bbox_mm=size, fits_bed=ok, angle_deg=angle, over_mm=over)
    return [piece], [lying], [recipe]


# axes of the frame in which a dowel's hole is drawn, by the axis that it lies along
_ALONG: dict[int, tuple[Vec3, Vec3, Vec3]] = {
    0: ((0, 1, 0), (0, 0, 1), (1, 0, 0)),
    1: ((0, 0, 1), (1, 0, 0), (0, 1, 0)),
    2: ((1, 0, 0), (0, 1, 0), (0, 0, 1)),
}


def _pieces(
    design: Design,
    printer: Printer,
    part: Part,
    seat: Seat,
    pins: Pins | None,
    recipe: Solid,
    extent: Box,
    cuts: list[Cut],
    usable: Vec3,
) -> tuple[list[Piece], list[Solid], list[Solid]]:
    n, rooted = seat.axis, (seat.outer_mm + seat.inner_mm) / 2
    blocks: list[Solid] = []
    holes: list[Solid] = []
    for c in cuts if pins else ():
        assert pins is not None
        depth, run, half = pins.deep_mm + 0.5, pins.run_mm, pins.block_mm / 2
        hole = pins.d_mm + fit(design, printer, "dowel_slip", (part.name,), pins.d_mm).value
        inward = seat.outer_mm + up_of(seat) * pins.reach_mm
        i = INDEX[c.axis]
        j = 3 - i - n
        for q, z in c.dowels:
            lo, hi = [0.0] * 3, [0.0] * 3
            lo[i], hi[i] = c.at_mm - run, c.at_mm + run
            lo[j], hi[j] = q - half, q + half
            lo[n], hi[n] = sorted((rooted, inward))
            blocks.append(block(Box(tuple(lo), tuple(hi))))  # type: ignore[arg-type]
            origin = [0.0] * 3
            origin[i], origin[j], origin[n] = c.at_mm, q, z
            frame = Frame(tuple(origin), *_ALONG[i])  # type: ignore[arg-type]
            holes.append(through([circle(0, 0, hole)], frame, -depth, depth))
    body = Difference(Union((recipe, *blocks)), tuple(holes)) if blocks else recipe
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
        piece: Solid = Intersection(body, block(cell))
        in_case.append(piece)
        lying = laid(piece, part.down)
        recipes.append(lying)
        size = bbox(lying)[1]
        ok, angle, over = on_bed(size, usable)
        pieces.append(Piece(name=f"{part.name}-{count}", bbox_mm=size, fits_bed=ok, angle_deg=angle, over_mm=over))
    return pieces, recipes, in_case
