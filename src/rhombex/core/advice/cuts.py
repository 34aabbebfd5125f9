"""The Cuts stop in one value: every part over its bed with what a cut costs at each place, its pieces, and what joins them."""

from __future__ import annotations

import itertools
from dataclasses import replace
from math import ceil

from rhombex.core.advice.divide import Reason, reasons
from rhombex.core.advice.seam_ways import SeamWays, seam_ways
from rhombex.core.analysis import Analysis
from rhombex.core.case.parts import Part, Seat
from rhombex.core.cuts.bed import usable_bed
from rhombex.core.cuts.bends import shares
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.holding import SeamHold
from rhombex.core.cuts.joins import hold_of, joins_of, least_holds, usual_join
from rhombex.core.cuts.made import plan_of
from rhombex.core.cuts.pieces import PartCuts, Piece, cells_of, slant_of, wanted_holds
from rhombex.core.cuts.places import END_MM, STEP_MM, CutPlace, in_line, kept_apart, places_of, priced
from rhombex.core.cuts.plan import ToCut
from rhombex.core.cuts.shows import shown
from rhombex.core.cuts.strips import INDEX, NAMES, Axis, PartName, Strip, crossed, strips
from rhombex.core.cuts.turned import Line, line_of
from rhombex.core.design import JoinKind, PinnedCut
from rhombex.core.edits import Edit, MoveWall, PutCuts, Set
from rhombex.core.geometry.planes import Loops, section, section_mm2
from rhombex.core.geometry.recipe import Solid
from rhombex.core.space import Box, Face, Vec2
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.printer import Printer

FAR: dict[Axis, Face] = {"x": "right", "y": "back", "z": "top"}  # the wall that is moved in
GAPS = 1.005  # the gap that a part leaves round itself changes with its length, by less than half a percent
MOST_SMALLER = 0.15  # of its size; more is another case
MOST_CUTS = 20  # that a document keeps of all parts


class CutWay(Frozen):
    """Cuts across one axis: strips where they may not run or only cost, and the price at every place; distances are from the case's corner."""

    axis: Axis
    strips: tuple[Strip, ...]
    prices: tuple[CutPlace, ...]


class SeamOut(Frozen):
    """One cut: how large its face is, what its seam bears in bending, and which share that is of the uncut part, how far its pieces may stand off one
    another, and minutes of work. `costs`: what the nearest place of the grid costs, or a turned cut itself, none where it may not run; `ends`: where it begins and ends, `band`: what the face of one that leans covers, `plan`: the outlines of what joins it, in the axes of the plate; `choice`: the ways to join it, one of them proposed."""

    cut: Cut
    costs: CutPlace | None
    ends: tuple[Vec2, Vec2]
    band: list[Vec2]
    face_mm2: Shown
    holds: SeamHold
    low_share: Shown
    high_share: Shown
    off_mm: Shown
    minutes: Shown
    plan: Loops
    choice: SeamWays


class PieceCell(Frozen):
    """A piece where it is in its part, along the two axes of the plate, and what it is on the bed. `lo_mm`, `hi_mm`: from cut to cut in the middle of the part;
    `outline`: what its cuts leave it, turned ones too."""

    number: int
    piece: Piece
    lo_mm: tuple[float, float]
    hi_mm: tuple[float, float]
    outline: list[Vec2]


class OneMore(Frozen):
    """Another cut of a part, across an axis at the cheapest place nearest to the middle of its longest stretch."""

    axis: Axis
    edit: Edit


class Saving(Frozen):
    """What would make a part fewer pieces: in words, and the edit that does it with what its button says."""

    words: str
    label: str
    edit: Edit


class PartOverBed(Frozen):
    """A part as it is cut. `outline`: its section through the plate that cuts run across, in the axes of `flat`; `why`: why it is so many
    pieces; `smaller`: what would make it fewer; `more`: what cuts it once more; `reasons`: why it may be divided all the
    same; `joins`: what may join its pieces."""

    cuts: PartCuts
    outline: Loops
    ways: tuple[CutWay, ...]
    seams: tuple[SeamOut, ...]
    cells: tuple[PieceCell, ...]
    why: str
    smaller: tuple[Saving, ...]
    more: tuple[OneMore, ...]
    reasons: tuple[Reason, ...]
    joins: tuple[JoinKind, ...]


class MovedCuts(Frozen):
    """Of a part over its bed what follows a cut that is moved."""

    cuts: PartCuts
    seams: tuple[SeamOut, ...]
    cells: tuple[PieceCell, ...]


class CutsTable(Frozen):
    parts: tuple[PartOverBed, ...]


def cuts_table(a: Analysis) -> CutsTable:
    """Every printed part of an analysis over its bed."""
    return CutsTable(parts=tuple(_part(a, c) for c in a.cuts if c.part in a.recipes))


def _part(a: Analysis, c: PartCuts) -> PartOverBed:
    recipe = a.recipes[c.part]
    if c.seat is None:
        whole = PieceCell(number=1, piece=c.pieces[0], lo_mm=c.lo_mm[:2], hi_mm=c.hi_mm[:2], outline=[])
        loops = section(recipe, "z", (c.lo_mm[2] + c.hi_mm[2]) / 2)
        return PartOverBed(
            cuts=c,
            outline=loops,
            ways=(),
            seams=(),
            cells=(whole,),
            why=_why(c),
            smaller=_savings(a, c),
            more=(),
            reasons=(),
            joins=(),
        )
    seat = c.seat
    u, v = (INDEX[x] for x in c.flat)
    ways = ways_of(a, c, seat)
    plate = (seat.outer_mm + seat.inner_mm) / 2
    flat_loops = section(recipe, "xyz"[seat.axis], plate)  # type: ignore[arg-type]
    more = tuple(x for x in (*(_once_more(a, c, w) for w in ways), _level(a, c, seat)) if x is not None)
    return PartOverBed(
        cuts=c,
        outline=flat_loops,
        ways=ways,
        seams=tuple(_seam(a, c, x, seat, recipe, ways) for x in c.cuts),
        cells=_cells(c, u, v),
        why=_why(c),
        smaller=_savings(a, c),
        more=more,
        reasons=reasons(a, c, seat, ways, more),
        joins=joins_of(seat),
    )


def moved_cuts(a: Analysis, part: PartName) -> MovedCuts | None:
    """A part as it is cut in an analysis, without what a moved cut leaves as it is. None where it is not cut, or cannot be made."""
    c = next((c for c in a.cuts if c.part == part), None)
    if c is None or c.seat is None or part not in a.recipes:
        return None
    u, v = (INDEX[x] for x in c.flat)
    seams = tuple(_seam(a, c, x, c.seat, a.recipes[part], ways_of(a, c, c.seat)) for x in c.cuts)
    return MovedCuts(cuts=c, seams=seams, cells=_cells(c, u, v))


def ways_of(a: Analysis, c: PartCuts, seat: Seat) -> tuple[CutWay, ...]:
    """Where a part may be cut across either axis of its plate, and what that costs."""
    return tuple(way_of(a, c, seat, name) for name in c.flat)


def way_of(a: Analysis, c: PartCuts, seat: Seat, name: Axis) -> CutWay:
    """As `ways_of`, across one axis."""
    extent, hold = Box(c.lo_mm, c.hi_mm), hold_of(c.joined, seat)
    others = tuple(x.at_mm for x in c.cuts if x.axis != name)
    least, lines = wanted_holds(c, name), _lines(a, c, name)
    prices = places_of(a.design, a.case, a.things, a.openings, c.part, extent, name, seat, hold, least, others, lines)
    return CutWay(axis=name, strips=strips(a.case, a.openings, c.part, name), prices=prices)


def _lines(a: Analysis, c: PartCuts, axis: Axis) -> tuple[Vec2, ...]:
    """Where it would be in line with cuts of the other parts."""
    if not a.case.part(c.part).in_place:
        return ()
    return in_line((x for o in a.cuts if o.part != c.part and a.case.part(o.part).in_place for x in o.cuts), axis)


def _once_more(a: Analysis, c: PartCuts, way: CutWay) -> OneMore | None:
    i = INDEX[way.axis]
    edges = [c.lo_mm[i], *sorted(x.at_mm for x in c.cuts if x.axis == way.axis), c.hi_mm[i]]
    lo, hi = max(itertools.pairwise(edges), key=lambda e: e[1] - e[0])
    free = [p for p in way.prices if p.price is not None and lo + END_MM <= p.at_mm <= hi - END_MM]
    if not free or len(c.cuts) >= MOST_CUTS:
        return None
    best = min(free, key=lambda p: (p.price or 0.0) + abs(p.at_mm - (lo + hi) / 2) / (hi - lo))
    cuts = [pinned(c, x, x.joined) for x in c.cuts]
    cuts.append(PinnedCut(part=c.part, axis=way.axis, at_mm=round(best.at_mm - c.from_mm[i], 3)))
    return OneMore(axis=way.axis, edit=PutCuts(part=c.part, cuts=tuple(cuts)))


def _level(a: Analysis, c: PartCuts, seat: Seat) -> OneMore | None:
    """A cut that makes two storeys of a part, through its walls, where it has some and is not cut yet."""
    part = a.case.part(c.part)
    beside = part.side_seat
    if beside is None or part.seat is None or c.cuts or seat == beside:
        return None
    axis, hold = NAMES[part.seat.axis], hold_of(usual_join(beside, c.joined), beside)
    extent = Box(c.lo_mm, c.hi_mm)
    lines = _lines(a, c, axis)
    prices = places_of(
        a.design, a.case, a.things, a.openings, c.part, extent, axis, beside, hold, least_holds(beside), (), lines
    )
    return _once_more(a, c, CutWay(axis=axis, strips=(), prices=prices))


def _ends(line: Line, c: PartCuts) -> tuple[Vec2, Vec2]:
    """Where a cut begins and ends on the plan of its plate."""
    first = c.flat[0] == NAMES[line.i]
    one, other = (e if first else e[::-1] for e in line.ends(Box(c.lo_mm, c.hi_mm)))
    return one, other


def _band(line: Line, c: PartCuts) -> list[Vec2]:
    """What the face of a cut that leans covers on the plan of its plate, from the bottom of the part to its top."""
    if not line.lean_deg:
        return []
    n = line.n
    low, high = (
        _ends(replace(line, at_mm=line.at_mm + line.rise * (h[n] - line.level_mm)), c) for h in (c.lo_mm, c.hi_mm)
    )
    return [*low, *high[::-1]]


def _cells(c: PartCuts, u: int, v: int) -> tuple[PieceCell, ...]:
    """The pieces in their rows and columns, in the order in which they are numbered."""
    edges = []
    for k in range(3):
        here = sorted(x.at_mm for x in c.cuts if INDEX[x.axis] == k)
        edges.append([c.lo_mm[k], *here, c.hi_mm[k]])
    cells = []
    count = [len(e) - 1 for e in edges]
    rooms = [x for x, _ in cells_of(c.cuts, 3 - u - v, Box(c.lo_mm, c.hi_mm))]
    for n, piece in enumerate(c.pieces):
        at = (n // (count[1] * count[2]), n // count[2] % count[1], n % count[2])
        lo, hi = (tuple(edges[k][at[k] + d] for k in (u, v)) for d in (0, 1))
        outline = [(round(x, 3), round(y, 3)) for x, y in rooms[n].outline(u, v).exterior.coords[:-1]]
        cells.append(PieceCell(number=n + 1, piece=piece, lo_mm=lo, hi_mm=hi, outline=outline))
    return tuple(cells)


def _costs(a: Analysis, c: PartCuts, cut: Cut, seat: Seat, ways: tuple[CutWay, ...]) -> CutPlace | None:
    if cut.turn_deg or cut.lean_deg:
        return _slanting_costs(a, c, cut, seat)
    found = [p for w in ways if w.axis == cut.axis for p in w.prices if abs(p.at_mm - cut.at_mm) <= STEP_MM / 2 + 1e-6]
    near = min(found, key=lambda p: abs(p.at_mm - cut.at_mm), default=None)
    return None if near is None or near.price is None else near


def _slanting_costs(a: Analysis, c: PartCuts, cut: Cut, seat: Seat) -> CutPlace | None:
    """As it runs: through all that its plane meets, and over every face that is seen between its ends; bent as in its middle."""
    extent, line = Box(c.lo_mm, c.hi_mm), line_of(cut, seat.axis)
    mine = strips(a.case, a.openings, c.part, cut.axis, slant_of(line, extent))
    if crossed(mine, cut.at_mm, False):
        return None
    across = line.corners(extent)
    low, high = min(across), max(across)
    seen = (s.why for s in shown(a.design, a.case, c.part, cut.axis) if s.lo < high and s.hi > low)
    (share,) = shares(a.case, a.things, c.part, extent, cut.axis, (cut.at_mm,))
    soft = crossed(mine, cut.at_mm, True)
    few = hold_of(cut.joined, seat) is not None and len(cut.dowels) <= wanted_holds(c, cut.axis)
    return kept_apart(priced(cut.at_mm, soft, share, tuple(dict.fromkeys(seen)), few), _lines(a, c, cut.axis))


def _seam(a: Analysis, c: PartCuts, cut: Cut, seat: Seat, recipe: Solid, ways: tuple[CutWay, ...]) -> SeamOut:
    choice = seam_ways(a, c, cut, seat, recipe)
    now = next(w for w in choice.ways if w.by == cut.joined)
    holds = now.holds
    line = line_of(cut, seat.axis)
    return SeamOut(
        cut=cut,
        costs=_costs(a, c, cut, seat, ways),
        ends=_ends(line, c),
        band=[(round(x, 3), round(y, 3)) for x, y in _band(line, c)],
        face_mm2=section_mm2(line.straightened(recipe), cut.axis, cut.at_mm),
        holds=holds,
        low_share=holds.low_nm.value / holds.uncut_nm if holds.uncut_nm > 0 else 0.0,
        high_share=holds.high_nm / holds.uncut_nm if holds.uncut_nm > 0 else 0.0,
        off_mm=now.off_mm,
        minutes=now.minutes,
        plan=[
            [(round(x, 3), round(y, 3)) for x, y in p.exterior.coords[:-1]]
            for p in plan_of(seat, cut, c.flat[0] == cut.axis)
        ],
        choice=choice,
    )


def joined_by(c: PartCuts, cut: Cut, by: JoinKind) -> Edit:
    """The cuts of a part as they are, by hand, one of them joined another way."""
    return PutCuts(part=c.part, cuts=tuple(pinned(c, x, by if x == cut else x.joined) for x in c.cuts))


def pinned(c: PartCuts, cut: Cut, by: JoinKind) -> PinnedCut:
    """A cut of a part where it is, by hand, joined so."""
    own = None if by == c.joined else by
    at, turn, lean = round(cut.inside_mm, 3), cut.turn_deg, cut.lean_deg
    return PinnedCut(part=c.part, axis=cut.axis, at_mm=at, by=None if lean else own, turn_deg=turn, lean_deg=lean)


def _savings(a: Analysis, c: PartCuts) -> tuple[Saving, ...]:
    """By how much a part would have to be smaller to be a row of pieces less, and the printers that take it in fewer."""
    if len(c.pieces) < 2 or len(c.flat) != 2:
        return ()
    part = next(p for p in a.case.parts if p.name == c.part)
    here = _to_cut(a, part, c, a.printer)
    size = tuple(here.extent.size[k] for k in here.flat)
    counts = tuple(1 + sum(x.axis == axis for x in c.cuts) for axis in c.flat)
    out: list[Saving] = []
    for k, axis in enumerate(c.flat):
        n, m = counts[k], counts[1 - k]
        ways = [w for w in here.rooms if size[1 - k] <= here.reaches_mm(1 - k, m, w[1 - k])]
        over = min((size[k] - here.reaches_mm(k, n - 1, w[k]) for w in ways), default=0.0)
        if n > 1 and 0 < over <= MOST_SMALLER * size[k]:
            less = ceil(over * GAPS * 10 - 1e-6) / 10
            would = "" if (n - 1) * m == 1 else "by the size of the bed "
            out.append(
                Saving(
                    words=f"{_pieces((n - 1) * m)} {would}if it were {less:.1f} mm smaller along {axis}",
                    label=f"Make it {less:.1f} mm smaller along {axis}",
                    edit=MoveWall(face=FAR[axis], by_mm=-less),
                )
            )
    now = len(c.pieces)
    if any(x.pinned for x in c.cuts):  # what a hand cut more often than it must needs no other printer
        plan = here.plan()
        now = min(now, 1 if c.least == 1 else plan.pieces if plan is not None else now)
    for p in (p for p in a.workshop.printers if p.key != a.printer.key):
        there = _to_cut(a, part, c, p)
        plan = there.plan() if there.least < now else None  # of those that are no fewer none need be planned
        fewer = 1 if there.least == 1 else plan.pieces if plan is not None else now
        if fewer < now:
            edit = Set(path="printer", value=p.key)
            out.append(Saving(words=f"{_pieces(fewer)} on {p.name}", label=f"Print on {p.name}", edit=edit))
    return tuple(out)


def _to_cut(a: Analysis, part: Part, c: PartCuts, printer: Printer) -> ToCut:
    """A part over the bed of a printer."""
    usable = usable_bed(a.design.process_of(c.part), printer)
    return ToCut(a.design, a.case, a.things, a.openings, part, Box(c.lo_mm, c.hi_mm), usable)


def _pieces(n: int) -> str:
    return "1 piece" if n == 1 else f"{n} pieces"


def _why(c: PartCuts) -> str:
    """Why a part is so many pieces, with the proof in a sentence."""
    n = len(c.pieces)
    bed = f"{c.usable_mm[0]:.0f} x {c.usable_mm[1]:.0f} mm"
    if c.no_place:
        return f"It is {c.over_mm:.1f} mm too large for the {bed} of the bed, and no cut finds a place."
    if n == 1:
        return (
            f"Whole: it fits the {bed} of the bed." if c.over_mm <= 1e-6 else "Whole, though it does not fit the bed."
        )
    if any(x.pinned for x in c.cuts):
        return f"{n} pieces, cut where you put it; {c.least} would be the least for the {bed} of the bed."
    if not c.proven:
        return f"{n} pieces, the best of {c.tried} ways to cut rows and columns that were tried; whether a better one is left is not known."
    tried = f"{c.tried} {'was' if c.tried == 1 else 'were'} tried with their pins, all others cost more"
    proven = f" Proven the cheapest of all rows and columns every {STEP_MM} mm: {tried}." if c.tried else ""
    if n == c.least:
        return f"{n} pieces, which is the least for the {bed} of the bed.{proven}"
    return (
        f"{n} pieces: fewer find no place, tried every {STEP_MM} mm; {c.least} would fit the {bed} of the bed.{proven}"
    )
