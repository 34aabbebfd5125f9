"""Size to the bed: which parts must be cut, where a cut may run, and the pieces that come of it."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from operator import itemgetter

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.parts import Part, Seat
from rhombex.core.cuts.bed import OnBed, on_bed, usable_bed
from rhombex.core.cuts.bends import wished
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import dowel_places, in_the_way, ridge_mm
from rhombex.core.cuts.grids import wanted_pins
from rhombex.core.cuts.joins import LEAST_MM, THROUGH, Pins, hold_of, pin_of, through_or, usual_join
from rhombex.core.cuts.made import Cell, blocks_and_holes, keys_of, locked
from rhombex.core.cuts.marks import marks
from rhombex.core.cuts.plan import Plan, ToCut
from rhombex.core.cuts.strips import INDEX, NAMES, Axis, PartName, Slant, Strip, crossed, strips
from rhombex.core.cuts.turned import Line, line_of
from rhombex.core.design import Design, Direction, JoinKind, PinnedCut
from rhombex.core.fit.laying import bbox, down_of, laid, piece_down, plan_hull
from rhombex.core.geometry.mesh_kernel import left_in
from rhombex.core.geometry.recipe import Difference, Solid, Union
from rhombex.core.memo import Memo
from rhombex.core.openings.opening import Openings
from rhombex.core.space import Box, Vec3
from rhombex.core.trail import Frozen
from rhombex.core.workshop.printer import Printer

LEAST_END_MM = 5.0  # a cut that a hand puts nearer to an end of its part leaves no piece there


_whole_on_bed: Memo[tuple[str, Direction, Vec3, Vec3], OnBed] = Memo(200)  # a cut that is dragged does not change it


class Piece(Frozen):
    """What goes on the bed: `bbox_mm` as it lies on its side `down`, turned by `angle_deg` to the left: 0, 90, or across the bed."""

    name: str
    bbox_mm: Vec3
    fits_bed: bool
    angle_deg: float
    over_mm: float
    down: Direction


class PartCuts(Frozen):
    """A part over its bed. `lo_mm` to `hi_mm`: where it is in the case; `from_mm`: what the places of its cuts are counted from, the cavity's corner or, of a part that
    stands in no case, its own; `flat`: the two axes of the plate that cuts run across, none where it is
    not cut, which is `seat`. `least`: of how many pieces it would be at least, by the bed alone;
    `tried`: how many grids of cuts both ways were looked at, and `proven`: whether no better one is left. `joined`: what joins its pieces where a cut does not say otherwise."""

    part: PartName
    lo_mm: Vec3
    hi_mm: Vec3
    from_mm: Vec3
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
    tried: int
    proven: bool
    pieces: tuple[Piece, ...]


@dataclass(frozen=True)
class CutPart:
    """A part's cuts and the recipes of its pieces: as they lie on the bed, and in their place in the case. `bodies`: of how many each is."""

    cuts: PartCuts
    recipes: tuple[Solid, ...]
    in_case: tuple[Solid, ...]
    bodies: int = 1


def wanted_holds(c: PartCuts, axis: Axis) -> int:
    """How many pins, keys or bolts a cut across an axis of a part wants."""
    return 1 if c.seat and c.seat.bar else wanted_pins(sum(x.axis != axis for x in c.cuts))


def whole_part(
    design: Design, printer: Printer, case: Case, part: Part, recipe: Solid, beside: Solid | None = None
) -> CutPart:
    """A part in one piece, laid on a side. `beside`: of one of several bodies, as these are printed beside one another."""
    usable = usable_bed(design.process_of(part.name), printer)
    lying = laid(beside or recipe, down_of(design, part))
    _, lies = bbox(lying)
    ok, angle, over = on_bed(lies, usable, partial(plan_hull, lying))
    down = down_of(design, part)
    piece = Piece(name=part.name, bbox_mm=lies, fits_bed=ok, angle_deg=angle, over_mm=over, down=down)
    corner, size = bbox(recipe)
    cuts = PartCuts(
        part=part.name,
        lo_mm=corner,
        hi_mm=(corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]),
        from_mm=case.cavity.lo if part.in_place else corner,
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
        tried=0,
        proven=True,
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
        return whole_part(design, printer, case, part, recipe, beside)
    usable = usable_bed(design.process_of(part.name), printer)
    corner, size = bbox(recipe)  # as it is made: a post may rise past the joint
    extent = Box(corner, (corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]))
    origin = case.cavity.lo if part.in_place else extent.lo
    to_cut = ToCut(design, case, things, openings, part, extent, usable, elsewhere)
    up, seat, kind = to_cut.up, to_cut.seat, to_cut.joined
    if down_of(design, part) != part.down:
        whole = whole_part(design, printer, case, part, recipe)
        if whole.cuts.over_mm <= 1e-6:
            return whole
        # it does not fit lying so: it is cut as usual, and the concern about the bed says so
    along, across = to_cut.flat
    lying = tuple(k for k in range(3) if k != up)
    flat = (size[lying[0]], size[lying[1]], size[up])
    fits, _, over = _whole_on_bed.make(
        (recipe.digest, part.down, flat, usable),
        lambda: on_bed(flat, usable, lambda: plan_hull(laid(recipe, part.down))),
    )
    pinned = [c for c in design.cuts if c.part == part.name and INDEX[c.axis] != seat.axis]
    first = INDEX[pinned[0].axis] if pinned else along if size[along] >= size[across] else across
    banned = strips(case, openings, part.name, NAMES[first])
    plain = in_the_way(case, things, openings, part.name)
    in_plate = in_the_way(case, things, openings, part.name, True)
    cuts: list[Cut] = []
    plan: Plan | None = None
    no_place = False

    def mine_of(i: int) -> tuple[Strip, ...]:
        return banned if i == first else strips(case, openings, part.name, NAMES[i])

    def straight(i: int, at: tuple[float, ...]) -> tuple[Line, ...]:
        return tuple(Line(i, seat.axis, c) for c in at)

    def cut_at(
        line: Line,
        pinned: bool,
        others: tuple[Line, ...] = (),
        by: JoinKind | None = None,
        beside: tuple[Line, ...] = (),
    ) -> Cut:
        i, c = line.i, line.at_mm
        mine = strips(case, openings, part.name, NAMES[i], slant_of(line, extent)) if line.aslant else mine_of(i)
        by = through_or(kind if by is None else usual_join(seat, by), seat, extent, line, others, beside)
        held = hold_of(by, seat)
        through = isinstance(held, Pins) and held.through
        ridge = ridge_mm(case, seat, extent, i) if through else None
        blocked = in_plate if held is not None and held.whole_plate else plain
        return Cut(
            axis=NAMES[i],
            at_mm=c,
            inside_mm=c - origin[i],
            joined=by,
            pin=pin_of(held, ridge),
            dowels=tuple(
                dowel_places(
                    case,
                    blocked,
                    seat,
                    held,
                    extent,
                    line,
                    others,
                    wished(case, things, part.name, extent, NAMES[i], c, held, 1 + len(others)),
                )
            ),
            pinned=pinned,
            crosses=crossed(mine, c, pinned),
            ridge_mm=ridge,
            turn_deg=line.deg,
            about_mm=line.about_mm,
            lean_deg=line.lean_deg,
            level_mm=line.level_mm,
        )

    if pinned:
        at = {
            i: pinned_lines([p for p in pinned if INDEX[p.axis] == i], origin, seat, extent, i) for i in (along, across)
        }
        for i, xs in at.items():  # rods that go through one cut go through all across its axis
            if any((by or kind) == THROUGH for _, by in xs):
                at[i] = [(line, THROUGH) for line, _ in xs]
        lines = {i: tuple(line for line, _ in xs) for i, xs in at.items()}
        cuts = [
            cut_at(line, True, lines[along + across - i], by, lines[i]) for i in (along, across) for line, by in at[i]
        ]
    elif not fits:
        plan = to_cut.plan()
        no_place = plan is None or not any(plan.at_mm.values())
        if plan is not None:
            lines = {i: straight(i, at_i) for i, at_i in plan.at_mm.items()}
            cuts = [cut_at(x, False, lines.get(along + across - i, ())) for i, at_i in lines.items() for x in at_i]
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
            from_mm=origin,
            flat=(NAMES[along], NAMES[across]),
            seat=seat,
            least=1 if fits else to_cut.least,
            joined=kind,
            bbox_mm=(size[lying[0]], size[lying[1]], size[up]),
            usable_mm=usable,
            over_mm=over,
            strips=banned,
            cuts=tuple(cuts),
            no_place=no_place,
            tried=plan.tried if plan else 0,
            proven=plan.proven if plan else True,
            pieces=tuple(pieces),
        ),
        tuple(recipes),
        tuple(in_case),
    )


def pinned_lines(
    pinned: list[PinnedCut], origin: Vec3, seat: Seat, extent: Box, i: int
) -> list[tuple[Line, JoinKind | None]]:
    """The cuts across axis i that a hand put and that can be made, in their order, and what joins each; `origin`: what their places are counted from. Two at one place are one, as the later one says; one
    that is turned so far that it runs out at the part's end, or into the one before it, is not made."""
    middle = (extent.lo[3 - i - seat.axis] + extent.hi[3 - i - seat.axis]) / 2
    at = {p.at_mm + origin[i]: p for p in pinned}
    out: list[tuple[Line, JoinKind | None]] = []
    for c, p in sorted(at.items(), key=itemgetter(0)):
        line = line_put(p, c, seat, middle)
        last = out[-1][0] if out else None
        if min(to_ends_mm(line, extent)) > LEAST_END_MM and (last is None or apart(last, line, extent)):
            out.append((line, p.by))
    return out


def line_put(p: PinnedCut, at_mm: float, seat: Seat, middle_mm: float) -> Line:
    """Where a cut runs that a hand put, turned there where it is in the middle of its part, and leaning in the middle of its plate."""
    about = middle_mm if p.turn_deg else 0.0
    level = (seat.outer_mm + seat.inner_mm) / 2 if p.lean_deg else 0.0
    return Line(INDEX[p.axis], seat.axis, at_mm, about, p.turn_deg, p.lean_deg, level)


def to_ends_mm(line: Line, extent: Box) -> tuple[float, float]:
    """How far a cut stays from the low and the high end of its part at the least; less than nothing: it runs out there."""
    across = line.corners(extent)
    return min(across) - extent.lo[line.i], extent.hi[line.i] - max(across)


def least_apart_mm(one: Line, other: Line, extent: Box) -> float:
    """How far a cut stays from the one before it across the part; less than nothing: they cross."""
    return min(b - a for a, b in zip(one.corners(extent), other.corners(extent), strict=True))


def apart(one: Line, other: Line, extent: Box) -> bool:
    """Whether a cut leaves a piece between it and the one before it. Straight ones have been told apart as they were put."""
    return not (one.aslant or other.aslant) or least_apart_mm(one, other, extent) >= LEAST_MM


def slant_of(line: Line, extent: Box) -> Slant:
    """How a turned cut runs, as strips are told by."""
    along, up = ((extent.lo[k], extent.hi[k]) for k in (line.j, line.n))
    return Slant(line.j, line.slope, line.about_mm, along, line.n, line.rise, line.level_mm, up)


def cells_of(cuts: Sequence[Cut], n: int, room: Box) -> Iterator[tuple[Cell, list[tuple[Cut, float]]]]:
    """The room of every piece, in the order in which they are numbered, and the cuts beside each with the way to it: 1 or -1."""
    ways: list[list[tuple[Cut | None, Cut | None]]] = []
    for k in range(3):
        here = sorted((c for c in cuts if INDEX[c.axis] == k), key=lambda c: c.at_mm)
        ways.append(list(itertools.pairwise([None, *here, None])))
    for sides in itertools.product(*ways):
        lo, hi = list(room.lo), list(room.hi)
        slanting: list[tuple[Line, int]] = []
        beside: list[tuple[Cut, float]] = []
        for k, (low, high) in enumerate(sides):
            for c, side in ((low, 1), (high, -1)):
                if c is None:
                    continue
                beside.append((c, -float(side)))
                line = line_of(c, n)
                if line.aslant:
                    slanting.append((line, side))
                else:
                    (lo if side > 0 else hi)[k] = c.at_mm
        yield Cell(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])), tuple(slanting)), beside


def _uncut(part: Part, recipe: Solid, usable: Vec3) -> tuple[list[Piece], list[Solid], list[Solid]]:
    lying = laid(recipe, part.down)
    size = bbox(lying)[1]
    ok, angle, over = on_bed(size, usable, partial(plan_hull, lying))
    piece = Piece(name=part.name, bbox_mm=size, fits_bed=ok, angle_deg=angle, over_mm=over, down=part.down)
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
    keys = [k for c in cuts for k in keys_of(design, printer, part.name, seat, c, extent)]
    cells = list(enumerate(cells_of(cuts, seat.axis, extent.grown(5.0)), 1))
    # numbers and arrows keep to their own piece, so all that is sunk is sunk at once: a hand waits for every Boolean
    sunk = [x for k, (cell, by) in cells for x in marks(case, taken, seat, cell.inner(seat), cuts, by, k)]
    body = Union((recipe, *blocks)) if blocks else recipe
    if holes or sunk:
        body = Difference(body, (*holes, *sunk))
    pieces: list[Piece] = []
    recipes: list[Solid] = []
    in_case: list[Solid] = []
    for count, (cell, _) in cells:
        piece = left_in(body, locked(cell, keys))
        in_case.append(piece)
        name = f"{part.name}-{count}"
        down = piece_down(design, part, name)
        lying = laid(piece, down)
        recipes.append(lying)
        size = bbox(lying)[1]
        usable = usable_bed(
            design.process_of(design.printed_as(part.name, name)), printer
        )  # it may have a brim of its own
        ok, angle, over = on_bed(size, usable, partial(plan_hull, lying))
        pieces.append(Piece(name=name, bbox_mm=size, fits_bed=ok, angle_deg=angle, over_mm=over, down=down))
    return pieces, recipes, in_case
