"""Size to the bed: which parts must be cut, where a cut may run, and the pieces that come of it."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from math import ceil
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case, Part, Seat
from rhombex.core.design import Design, Process
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
from rhombex.core.openings.opening import Openings, outline
from rhombex.core.process.laying import bbox, down_of, laid
from rhombex.core.reference import val
from rhombex.core.shell.box import facing_across
from rhombex.core.space import Box, Frame, Vec2, Vec3
from rhombex.core.trail import Frozen
from rhombex.core.workshop.printer import Printer

PartName = str
Axis = Literal["x", "y", "z"]
INDEX: dict[Axis, int] = {"x": 0, "y": 1, "z": 2}
NAMES: tuple[Axis, ...] = ("x", "y", "z")
MOST_PIECES = 24  # of one part; more are not planned: a larger bed, or sheet, is wanted
DOWEL_BLOCK_MM = 7.0
DOWEL_CENTRE_MM = 3.0  # from the outer face of the plate that they sit on: 1.4 mm of plastic outside a 3.2 hole
DOWEL_REACH_MM = 6.4  # from the outer face to the inner side of a dowel block


class Strip(Frozen):
    """A stretch of the part along the cut axis that a cut may not run through, and why."""

    lo: float
    hi: float
    why: str
    soft: bool = False


class Cut(Frozen):
    """A straight cut at `at_mm` from the case's origin, `inside_mm` from the cavity's left, front or floor, with the dowels that align the
    pieces: where along the cut, and where through the plate that they sit in."""

    axis: Axis
    at_mm: float
    inside_mm: float
    dowels: tuple[Vec2, ...]
    pinned: bool
    crosses: tuple[str, ...]


class Piece(Frozen):
    """What goes on the bed: `bbox_mm` as it lies; `turned`: by 90 degrees."""

    name: str
    bbox_mm: Vec3
    fits_bed: bool
    turned: bool
    over_mm: float


class PartCuts(Frozen):
    part: PartName
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


def usable_bed(process: Process, printer: Printer) -> Vec3:
    """The bed less its worn edge and the brim on both sides; height as it is. A brim inside the outline takes no room."""
    margin = 2 * (printer.margin_mm + (0.0 if process.brim_inside else process.brim_mm))
    x, y, z = printer.bed_mm
    return (x - margin, y - margin, z)


def _fit(size: Vec3, usable: Vec3) -> tuple[bool, bool, float]:
    """Fits; turned by 90 degrees; by how much it is over (the better way round)."""
    straight = max(size[0] - usable[0], size[1] - usable[1])
    turned = max(size[1] - usable[0], size[0] - usable[1])
    up = size[2] - usable[2]
    over = max(min(straight, turned), up)
    return over <= 1e-6, turned < straight and straight > 0, over


def strips(case: Case, openings: Openings, part: PartName, axis: Axis) -> tuple[Strip, ...]:
    """Where a cut along an axis would go through a boss, post, opening, fan or foot seat."""
    i = INDEX[axis]
    keep = val("limits.cut.seam_to_feature")
    out: list[Strip] = []
    for b in case.joints:
        if part in (b.holds, b.into):
            out.append(Strip(lo=b.boss.lo[i] - keep, hi=b.boss.hi[i] + keep, why=f"{b.name} screw boss"))
    for p in case.mounts:
        if p.part == part and i < 2:
            r = p.od_mm / 2 + keep
            out.append(Strip(lo=p.at[i] - r, hi=p.at[i] + r, why=f"post of {p.of}"))
    if case.footed == part and i < 2:
        r = val("printing.feature.foot_d") / 2 + 1
        out += [Strip(lo=f[i] - r, hi=f[i] + r, why="foot seat") for f in case.feet]
    ends = {f.id for f in case.faces if facing_across(f, i)}
    for op in openings.openings:
        if part in op.parts and op.face not in ends:
            lo, hi = case.face(op.face).stretch(i, *outline(op, keep))
            out.append(Strip(lo=lo, hi=hi, why=f"opening {op.label}"))
    for v in openings.vents:
        if part in v.parts and v.face not in ends and v.holes:
            (u, y), (w, h) = v.at_mm, (v.size_mm[0] / 2, v.size_mm[1] / 2)
            lo, hi = case.face(v.face).stretch(i, u - w, y - h, u + w, y + h)
            out.append(Strip(lo=lo, hi=hi, why=v.label.lower() if v.fan else "vent field", soft=v.fan is None))
    return tuple(sorted(out, key=lambda s: s.lo))


def _up(seat: Seat) -> int:
    """Which way from the plate's outer face the inside is: 1 up, -1 down."""
    return 1 if seat.inner_mm > seat.outer_mm else -1


def _in_the_way(case: Case, things: tuple[Thing, ...], openings: Openings, part: PartName) -> NDArray[np.float64]:
    """Boxes (n, 2, 3) that no dowel's block may reach into: components with half a millimetre round them, posts, bosses, openings."""
    blocked = [b.box.grown(0.5) for t in things for b in t.solids]
    for post in case.mounts:
        r = post.od_mm / 2
        blocked.append(Box((post.at[0] - r, post.at[1] - r, 0), (post.at[0] + r, post.at[1] + r, post.top_mm)))
    blocked += [b.boss for b in case.joints]
    side, room = case.pillar_mm, case.cavity
    if side > 0:
        xs, ys = (room.lo[0], room.hi[0] - side), (room.lo[1], room.hi[1] - side)
        blocked += [Box((x, y, room.lo[2]), (x + side, y + side, room.hi[2])) for x in xs for y in ys]
    for op in openings.openings:
        if part in op.parts:
            u0, v0, u1, v1 = outline(op, 1.0)
            face = case.face(op.face)
            blocked.append(face.frame.box(Box((u0, v0, -12), (u1, v1, 12))))
    return np.array(blocked, float).reshape(-1, 2, 3)


def _dowel_places(
    case: Case, blocked: NDArray[np.float64], seat: Seat, extent: Box, i: int, c: float, others: tuple[float, ...] = ()
) -> list[Vec2]:
    """Places for dowel blocks on a cut across axis i: at the ends of the plate inside its walls, and between. Cuts the other way (`others`)
    divide it into stretches, each with its own."""
    n = seat.axis
    j = 3 - i - n
    half, up = DOWEL_BLOCK_MM / 2, _up(seat)
    run = val("printing.feature.dowel_d") * val("printing.feature.dowel_depth_factor") + 2.5
    if run > min(c - extent.lo[i], extent.hi[i] - c):
        return []
    edge = half + seat.edge_mm + 0.5
    lo, hi = max(case.cavity.lo[j], extent.lo[j]) + edge, min(case.cavity.hi[j], extent.hi[j]) - edge
    z, reach = seat.outer_mm + up * DOWEL_CENTRE_MM, seat.outer_mm + up * DOWEL_REACH_MM
    z0, z1 = (seat.inner_mm, reach) if up > 0 else (reach, seat.inner_mm)
    out: list[Vec2] = []
    ends = [lo, *(x + s * (run + half + 1.0) for x in others for s in (-1, 1)), hi]
    for a, b in zip(ends[::2], ends[1::2], strict=True):
        if b < a:
            continue
        wants = np.array([a, b] + [a + (b - a) * k / 6 for k in range(1, 6)])
        low, high = np.empty((len(wants), 3)), np.empty((len(wants), 3))
        low[:, i], high[:, i] = c - run, c + run
        low[:, j], high[:, j] = wants - half, wants + half
        low[:, n], high[:, n] = z0, max(z1, z0 + 0.1)
        inside = (low[:, None] < blocked[None, :, 1]) & (high[:, None] > blocked[None, :, 0])
        free = ~np.any(np.all(inside, axis=2), axis=1)
        apart: list[Vec2] = []
        for q in wants[free]:  # the outer ones first, then one between, none within another's block
            if all(abs(q - p[0]) > DOWEL_BLOCK_MM + 2 for p in apart):
                apart.append((float(q), z))
        out += apart[:3]
    return out


def _crossed(strip_list: tuple[Strip, ...], c: float, soft: bool) -> tuple[str, ...]:
    return tuple(dict.fromkeys(s.why for s in strip_list if s.lo < c < s.hi and (soft or not s.soft)))


def _plan_cuts(length: float, usable: float, allowed: list[tuple[float, float]]) -> list[float] | None:
    """Fewest cuts among allowed places (with a price each) so that no piece is longer than the bed; None if none."""
    least = ceil(length / usable - 1e-9)
    for n in range(least, least + 3):
        ideal = length / n
        best: dict[float, tuple[float, list[float]]] = {0.0: (0.0, [])}
        for k in range(1, n):
            step: dict[float, tuple[float, list[float]]] = {}
            for c, price in allowed:
                options = [
                    (cost + price + abs(c - k * ideal) / length, [*path, c])
                    for start, (cost, path) in best.items()
                    if start + 10 < c <= start + usable
                ]
                if options:
                    step[c] = min(options, key=lambda o: o[0])
            best = step
        ends = [o for c, o in best.items() if length - c <= usable]
        if ends:
            return min(ends, key=lambda o: o[0])[1]
    return None


def whole_part(design: Design, printer: Printer, part: Part, recipe: Solid) -> CutPart:
    """A part in one piece, laid on a side."""
    usable = usable_bed(design.process_of(part.name), printer)
    lying = laid(recipe, down_of(design, part))
    _, lies = bbox(lying)
    ok, turned, over = _fit(lies, usable)
    piece = Piece(name=part.name, bbox_mm=lies, fits_bed=ok, turned=turned, over_mm=over)
    cuts = PartCuts(
        part=part.name,
        bbox_mm=bbox(recipe)[1],
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
) -> CutPart:
    """Plan the cuts of a part and make its pieces as they lie on the bed, each in its own corner."""
    if part.seat is None or part.size_mm is None:
        return whole_part(design, printer, part, recipe)
    usable = usable_bed(design.process_of(part.name), printer)
    seat = part.seat
    corner, size = bbox(recipe)  # as it is made: a post may rise past the joint
    extent = Box(corner, (corner[0] + size[0], corner[1] + size[1], corner[2] + size[2]))
    if down_of(design, part) != part.down:
        whole = whole_part(design, printer, part, recipe)
        if whole.cuts.over_mm <= 1e-6:
            return whole
        # it does not fit lying so: it is cut as usual, and the concern about the bed says so
    along, across = (i for i in range(3) if i != seat.axis)
    fits, _, over = _fit((size[along], size[across], size[seat.axis]), usable)
    pins = [c for c in design.cuts if c.part == part.name and INDEX[c.axis] != seat.axis]
    first = INDEX[pins[0].axis] if pins else along if size[along] >= size[across] else across
    banned = strips(case, openings, part.name, NAMES[first])
    blocked = _in_the_way(case, things, openings, part.name)
    cuts: list[Cut] = []
    no_place = False

    def cut_at(i: int, c: float, pinned: bool, others: tuple[float, ...] = ()) -> Cut:
        mine = banned if i == first else strips(case, openings, part.name, NAMES[i])
        return Cut(
            axis=NAMES[i],
            at_mm=c,
            inside_mm=c - case.cavity.lo[i],
            dowels=tuple(_dowel_places(case, blocked, seat, extent, i, c, others)),
            pinned=pinned,
            crosses=_crossed(mine, c, pinned),
        )

    def places(i: int, mine: tuple[Strip, ...], most: int, others: tuple[float, ...] = ()) -> list[tuple[float, float]]:
        """Where a cut across axis i may run, from the part's low end, each with its price."""
        out: list[tuple[float, float]] = []
        for k in range(10, int(size[i]) - 9, 2):
            c = corner[i] + k
            if _crossed(mine, c, False):
                continue
            found = len(_dowel_places(case, blocked, seat, extent, i, c, others))
            if found >= most:
                out.append((float(k), (0.5 if _crossed(mine, c, True) else 0.0) + (0.05 if found < most + 1 else 0)))
        return out

    if pins:
        at = {
            i: tuple(sorted(p.at_mm + case.cavity.lo[i] for p in pins if INDEX[p.axis] == i)) for i in (along, across)
        }
        at = {i: tuple(c for c in cs if corner[i] + 5 < c < extent.hi[i] - 5) for i, cs in at.items()}
        cuts = [cut_at(i, c, True, at[along + across - i]) for i in (along, across) for c in at[i]]
    elif not fits and over < 1e6 and size[seat.axis] <= usable[2]:
        other = along + across - first
        if size[other] <= max(usable[:2]):
            room = max(usable[:2]) if size[other] <= min(usable[:2]) else min(usable[:2])
            chosen = _plan_cuts(size[first], room, places(first, banned, 2))
            cuts = [cut_at(first, corner[first] + c, False) for c in chosen or []]
            no_place = chosen is None
        else:  # too large both ways: rows and columns
            rooms = min(((usable[0], usable[1]), (usable[1], usable[0])), key=lambda u: _cells(size, first, other, u))
            few = _cells(size, first, other, rooms) <= MOST_PIECES
            one = _plan_cuts(size[first], rooms[0], places(first, banned, 2)) if few else None
            cs = tuple(corner[first] + c for c in one or [])
            theirs = strips(case, openings, part.name, NAMES[other])
            two = _plan_cuts(size[other], rooms[1], places(other, theirs, 1 + len(cs), cs)) if few else None
            no_place = one is None or two is None
            if not no_place:
                ds = tuple(corner[other] + c for c in two or [])
                cuts = [cut_at(first, c, False, ds) for c in cs] + [cut_at(other, c, False, cs) for c in ds]
    if not cuts:
        pieces, recipes, in_case = _uncut(part, recipe, usable)
    else:
        pieces, recipes, in_case = _pieces(design, printer, part, seat, recipe, extent, cuts, usable)
    return CutPart(
        PartCuts(
            part=part.name,
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


def _uncut(part: Part, recipe: Solid, usable: Vec3) -> tuple[list[Piece], list[Solid], list[Solid]]:
    lying = laid(recipe, part.down)
    size = bbox(lying)[1]
    ok, turned, over = _fit(size, usable)
    piece = Piece(name=part.name, bbox_mm=size, fits_bed=ok, turned=turned, over_mm=over)
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
    recipe: Solid,
    extent: Box,
    cuts: list[Cut],
    usable: Vec3,
) -> tuple[list[Piece], list[Solid], list[Solid]]:
    pin = val("printing.feature.dowel_d")
    depth = pin * val("printing.feature.dowel_depth_factor") + 0.5
    hole = pin + fit(design, printer, "dowel_slip", (part.name,), pin).value
    half, run, n = DOWEL_BLOCK_MM / 2, depth + 2.0, seat.axis
    inward, rooted = seat.outer_mm + _up(seat) * DOWEL_REACH_MM, (seat.outer_mm + seat.inner_mm) / 2
    blocks: list[Solid] = []
    holes: list[Solid] = []
    for c in cuts:
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
        ok, turned, over = _fit(size, usable)
        pieces.append(Piece(name=f"{part.name}-{count}", bbox_mm=size, fits_bed=ok, turned=turned, over_mm=over))
    return pieces, recipes, in_case
