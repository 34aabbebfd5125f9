"""Size to the bed: parts over the bed, cuts through things, no place for a cut."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice
from math import sqrt

import numpy as np

from rhombex.core.advice.cuts import joined_by, way_of
from rhombex.core.advice.seam_ways import STRONG, cuts_joined
from rhombex.core.advice.sheeted import floor_of_sheet, made_of_sheet, usual_material
from rhombex.core.analysis import Analysis, divided
from rhombex.core.apply import apply
from rhombex.core.case.parts import Seat
from rhombex.core.concerns.bench import up
from rhombex.core.concerns.elsewhere import print_on, with_room
from rhombex.core.concerns.own_process import change_process
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.constructions import CoreAndWrap, SlidingPanels, TrayInASleeve
from rhombex.core.cuts.bed import on_bed, usable_bed
from rhombex.core.cuts.bends import Beam, beam_of, bent_at
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.faces import face_of
from rhombex.core.cuts.grids import MOST_PIECES
from rhombex.core.cuts.holding import seam_hold
from rhombex.core.cuts.joins import COME_APART, LEAST_MM, WORDS
from rhombex.core.cuts.pieces import (
    LEAST_END_MM,
    PartCuts,
    least_apart_mm,
    line_put,
    slant_of,
    to_ends_mm,
    wanted_holds,
)
from rhombex.core.cuts.strips import INDEX, strips
from rhombex.core.cuts.turned import line_of
from rhombex.core.design import PinnedCut
from rhombex.core.edits import Construct, FreeCuts, HoldFan, JoinCuts, LayPart, PutCuts, PutPanel, Set, Together
from rhombex.core.hardware.sheets import in_stock
from rhombex.core.memo import Memo
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref
from rhombex.core.shell.handle import HANDLE
from rhombex.core.shell.offers import usual
from rhombex.core.space import FACES, Box, Face
from rhombex.core.trail import given
from rhombex.core.workshop.printer import Printer


@concern("part-over-bed", "cuts")
def part_over_bed(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 13: a part longer than the bed, perhaps only by a little or by its brim."""
    for c in a.cuts:
        if c.over_mm <= 1e-6:
            continue
        if c.no_place:
            continue  # that is told by itself, with its ways out
        whole, brim = not c.cuts, a.design.process_of(c.part).brim_mm
        longest = max(c.bbox_mm[:2])
        yield say(
            "weigh" if not whole and all(p.fits_bed for p in a.pieces if p.part == c.part) else "stop",
            f"The {c.part} is {c.over_mm:.1f} mm larger than the bed"
            + (f": cut into {len(c.pieces)}" if not whole else ""),
            measured=longest,
            limit=longest - c.over_mm,
            sense="at most",
            how="longest side of the part as it lies; limit: the bed less brim and edge on both sides",
            of=(
                given("too large by", c.over_mm),
                given("bed left along x", c.usable_mm[0]),
                given("bed left along y", c.usable_mm[1]),
                given("brim", brim),
            ),
            reason=f"{a.printer.name} leaves {c.usable_mm[0]:.0f} x {c.usable_mm[1]:.0f} mm once {brim:g} mm of brim and the "
            "bed's edge are taken off each side."
            + ("" if whole else " A seam costs pins, glue and looks; the part is whole if it is a little smaller."),
            source=str(ref("printing.feature.bed_edge")),
            subjects=(c.part,),
            remedies=(*_less_brim(a, c), *_whole_elsewhere(a, c), *_of_sheet(a, c)),
        )


def _less_brim(a: Analysis, c: PartCuts) -> tuple[Remedy, ...]:
    """A narrower brim, where the part is too large by no more than its brim."""
    brim = a.design.process_of(c.part).brim_mm
    if c.over_mm > 2 * brim:
        return ()
    less = round(max(0.0, brim - c.over_mm / 2 - 0.05), 1)
    edits = change_process(a, c.part, "brim_mm", less)
    return (Remedy(label=f"Brim of {less:g} mm instead of {brim:g}", edits=edits),)


def _of_sheet(a: Analysis, c: PartCuts) -> tuple[Remedy, ...]:
    """A cover, a panel or a floor cut from sheet, which comes in one piece, if it is sold so large."""
    faces = [f for f in FACES if (p := a.case.most_of(f)) is not None and p.name == c.part]
    if not faces:
        return ()
    face: Face = "bottom" if "bottom" in faces else faces[0]
    material = usual_material(a.design)
    if not in_stock(material, c.bbox_mm[:2]):
        return ()
    edits = made_of_sheet(a.design, a.printer, face, material) or (
        floor_of_sheet(a.design, a.printer, a.things, a.workshop.standoffs_mm, material) if face == "bottom" else ()
    )
    what = (
        "floor"
        if face == "bottom" and isinstance(a.design.shell.construction, SlidingPanels | TrayInASleeve | CoreAndWrap)
        else c.part
    )
    return (Remedy(label=f"Cut the {what} from {material}", edits=edits),) if edits else ()


def _by_screws(a: Analysis, c: PartCuts) -> tuple[Remedy, ...]:
    """Rails beside a fan that are longer than the bed: the fan's own screws."""
    return tuple(
        Remedy(label=f"Hold {t.name} by its screws", edits=(HoldFan(id=t.id, slotted=False),))
        for s in a.case.fan_slots
        if s.part == c.part
        for t in a.things
        if t.id == s.of
    )


def _whole_elsewhere(a: Analysis, c: PartCuts) -> tuple[Remedy, ...]:
    """The first printer that takes the part whole."""
    w, d, h = c.bbox_mm
    for p in a.workshop.printers:
        x, y, z = usable_bed(a.design.process_of(c.part), p)
        if p.key != a.printer.key and h <= z and ((w <= x and d <= y) or (w <= y and d <= x)):
            return (print_on(a, p),)
    return ()


@concern("piece-lies-too-large", "cuts")
def piece_lies_too_large(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 13: a piece that a hand laid on another side than its part lies on, and which the bed does not take so."""
    for p in a.pieces:
        usual_down = a.case.part(p.part).down
        if p.fits_bed or p.name == p.part or p.down == usual_down:
            continue
        usable = usable_bed(a.design.process_of(p.printed_as), a.printer)
        yield say(
            "stop",
            f"The {p.name} is {p.over_mm:.1f} mm too large for the printer as it lies on its {p.down}",
            measured=p.over_mm,
            limit=0.0,
            sense="at most",
            how="how much the piece is larger than bed and height as it lies",
            of=(
                *(given(f"the piece along {k}", x) for k, x in zip("xyz", p.bbox_mm, strict=True)),
                *(given(f"left along {k}", x) for k, x in zip("xyz", usable, strict=True)),
            ),
            reason=f"On its {p.down} it measures {' x '.join(f'{x:.1f}' for x in p.bbox_mm)}.",
            source=str(ref("printing.feature.bed_edge")),
            subjects=(p.name,),
            remedies=(Remedy(label=f"Lay the {p.name} as its part lies", edits=(LayPart(part=p.name, down=None),)),),
        )


def _in_every_way(c: PartCuts) -> str:
    """Why no cut within reach can run."""
    through = {s.why for s in c.strips if not s.soft}
    pins = (
        "is too near to an end"
        if c.joined == "glue alone"
        else f"finds no place for as many {WORDS[c.joined]} as hold it"
    )
    return f"Everywhere within reach a cut {f'would go through {_list(through)}, or ' if through else ''}{pins}."


@concern("no-place-for-cut", "cuts")
def no_place_for_cut(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 13 and 14: a part is too large and no straight cut avoids bosses, openings and fans."""
    for c in a.cuts:
        if not c.no_place:
            continue
        yield say(
            "stop",
            f"No straight cut divides the {c.part}",
            measured=c.over_mm,
            limit=0.0,
            sense="at most",
            how="how much the part is larger than the bed",
            of=(
                given("bed left along x", c.usable_mm[0]),
                given("bed left along y", c.usable_mm[1]),
            ),
            reason="It is made in one piece: nothing that joins pieces finds room in it."
            if c.seat is None
            else f"It stands {c.bbox_mm[2]:.1f} mm tall, the printer prints {c.usable_mm[2]:.0f}, and what holds it stands in it from floor to top."
            if _too_tall(c)
            else f"It would be more than {MOST_PIECES} pieces."
            if _many(c)
            else _in_every_way(c)
            if c.proven
            else f"None of the {c.tried} ways to cut rows and columns that were tried has room for what joins it. Whether another one has is not known.",
            source=str(ref("limits.cut.seam_to_feature")),
            subjects=(c.part,),
            remedies=(
                *_of_sheet(a, c),
                *_by_screws(a, c),
                *_glued(a, c),
                *_less_brim(a, c),
                *_on_larger(a, c),
                *(_as_covers(a) if a.case.part(c.part).in_place else ()),
            ),
        )


@concern("pieces-not-held", "cuts")
def pieces_not_held(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A cut where too few pins, dovetails or bolts find a place: two for a seam, one at least for each piece beside it."""
    for c in a.cuts:
        seat = c.seat
        if seat is None:
            continue
        for k, cut in enumerate(c.cuts, 1):
            found, wanted = len(cut.dowels), wanted_holds(c, cut.axis)
            if cut.joined == "glue alone" or found >= wanted:
                continue
            what = WORDS[cut.joined]
            ways = [
                Remedy(label=f"Join it by {x.joined}", edits=(joined_by(c, cut, x.joined),))
                for x in cuts_joined(a, c, cut, seat)
                if x.joined not in (cut.joined, "glue alone") and len(x.dowels) >= wanted
            ]
            glued = Remedy(label="Glue it without", edits=(joined_by(c, cut, "glue alone"),))
            yield say(
                "stop" if cut.joined in COME_APART else "weigh",
                f"{'Only ' if found else 'No '}{f'{found} of {wanted} ' if found else ''}{what} of the {c.part} find a place in its cut"
                + (f" across {cut.axis}" if len(c.cuts) > 1 else ""),
                measured=found,
                limit=wanted,
                unit=what,
                how="places along the cut that nothing takes",
                reason="Components, posts, openings or what is fixed there stand too near to the cut. "
                + (
                    "Nothing else holds the pieces together."
                    if cut.joined in COME_APART
                    else "The pieces are set by eye there."
                ),
                source="two for a seam, and one for each piece beside it (common practice)",
                subjects=(c.part, str(k)),
                remedies=(*ways[:2], glued),
            )


@concern("seam-too-weak", "cuts")
def seam_too_weak(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 14: a seam where the load is greatest: what bends it parts it."""
    for c in a.cuts:
        seat = c.seat
        if seat is None or c.part not in a.recipes or c.part == HANDLE:  # that bears more than a hand's weight
            continue
        for k, cut in enumerate(c.cuts, 1):
            holds = seam_hold(a.design, a.case, a.things, c, cut, seat, a.recipes[c.part])
            low, load = holds.low_nm, holds.load_nm
            if low.value >= load.value or (len(cut.dowels) < wanted_holds(c, cut.axis) and cut.joined in COME_APART):
                continue  # bolts that are not there are told as such
            yield say(
                "weigh",
                f"A hand that leans on the {c.part} parts its seam"
                + (f" across {cut.axis}" if len(c.cuts) > 1 else ""),
                measured=low.value,
                limit=load.value,
                unit="N m",
                how=low.formula,
                of=(*low.inputs, *load.inputs),
                reason=f"The seam bears {low.value:.1f} to {holds.high_nm:.1f} N m in bending, the uncut part {holds.uncut_nm:.0f}. "
                "The nearer a seam is to the middle, the more bends it.",
                source=load.source,
                subjects=(c.part, str(k)),
                remedies=_stronger(a, c, cut, seat, low.value, load.value),
            )


@searched
def _stronger(a: Analysis, c: PartCuts, cut: Cut, seat: Seat, low_nm: float, load_nm: float) -> tuple[Remedy, ...]:
    """What joins it more strongly, where as many as find a place bear it; a bed on which the part is whole, or another place for its cut; else a
    thicker plate."""
    out = []
    recipe = a.recipes[c.part]
    face = face_of(recipe, cut, seat.axis)
    for by in STRONG:  # one after the other: a hand that drags a cut waits for it
        so = None if by == cut.joined else next(cuts_joined(a, c, cut, seat, (by,)), None)
        if so is None or len(so.dowels) < wanted_holds(c, cut.axis):
            continue
        if seam_hold(a.design, a.case, a.things, c, so, seat, recipe, face).low_nm.value >= load_nm:
            strong = f"Bolt the pieces of the {c.part}" if by == "bolts" else f"Join the pieces of the {c.part} by {by}"
            out.append(Remedy(label=strong, edits=(joined_by(c, cut, by),)))
            break
    size = (
        c.hi_mm[INDEX[c.flat[0]]] - c.lo_mm[INDEX[c.flat[0]]],
        c.hi_mm[INDEX[c.flat[1]]] - c.lo_mm[INDEX[c.flat[1]]],
    )
    for p in a.workshop.printers:
        x, y, z = usable_bed(a.design.process_of(c.part), p)
        if not cut.pinned and p.key != a.printer.key and on_bed((*size, c.bbox_mm[2]), (x, y, z))[0]:
            out.append(print_on(a, p))
            break
    elsewhere = _borne(a, c, cut, seat)
    if elsewhere is not None:
        room = round(elsewhere - c.from_mm[INDEX[cut.axis]], 3)
        own = None if cut.joined == c.joined else cut.joined
        put = PutCuts(part=c.part, cuts=(PinnedCut(part=c.part, axis=cut.axis, at_mm=room, by=own),))
        out.append(
            Remedy(label=f"Cut the {c.part} {abs(elsewhere - cut.at_mm):g} mm farther from its middle", edits=(put,))
        )
    return tuple(out) or _thicker(a, c, seat, load_nm / low_nm)


THICKEST_MM = 20.0
TO_SPARE = 1.03  # pins and dovetails take a larger share of a thicker face


def _thicker(a: Analysis, c: PartCuts, seat: Seat, times: float) -> tuple[Remedy, ...]:
    """The plate of a seam so thick that it bears so many times as much: its face resists bending with the square of its thickness."""
    s, low = a.design.shell, min(seat.outer_mm, seat.inner_mm)
    if seat.alone or seat.bar is not None:
        return _thicker_alone(a, c, seat, times)
    field, now, what = ("wall_mm", s.wall_mm, "walls")
    if seat.axis == 2:
        top = low > a.case.cavity.centre[2]
        field, now, what = ("lid_mm", s.lid_mm, "top") if top else ("floor_mm", s.floor_mm, "floor")
    need = up(now * sqrt(times) * TO_SPARE)
    if abs(abs(seat.outer_mm - seat.inner_mm) - now) > 0.01 or need > THICKEST_MM:
        return ()
    return (Remedy(label=f"Make the {what} {need:g} mm thick", edits=(Set(path=f"shell.{field}", value=need),)),)


def _thicker_alone(a: Analysis, c: PartCuts, seat: Seat, times: float) -> tuple[Remedy, ...]:
    """As `_thicker`, of a panel drawn by hand or of the beams of a frame, whose seams bear with the cube of their width."""
    panel = next((p for p in a.design.panels if p.id == c.part), None)
    if panel is not None:
        need = up(panel.thick_mm * sqrt(times) * TO_SPARE)
        thicker = PutPanel(panel=panel.model_copy(update={"thick_mm": need}))
        return (
            (Remedy(label=f"Make the {panel.name} {need:g} mm thick", edits=(thicker,)),) if need <= THICKEST_MM else ()
        )
    if a.case.kind != "frame and covers" or seat.bar is None:
        return ()
    need = up(seat.bar.wide_mm * times ** (1 / 3) * TO_SPARE)
    return (
        (
            Remedy(
                label=f"Make the beams {need:g} mm thick", edits=(Set(path="shell.construction.beam_mm", value=need),)
            ),
        )
        if need <= THICKEST_MM
        else ()
    )


def _borne(a: Analysis, c: PartCuts, cut: Cut, seat: Seat) -> float | None:
    """The place nearest to a part's only cut where a cut may run, both pieces fit the bed and the seam bears what bends it."""
    if len(c.cuts) != 1 or cut.turn_deg or cut.lean_deg:
        return None
    i, room = INDEX[cut.axis], max(c.usable_mm[:2])
    free = [
        p.at_mm
        for p in way_of(a, c, seat, cut.axis).prices
        if p.price is not None and max(p.at_mm - c.lo_mm[i], c.hi_mm[i] - p.at_mm) <= room - 8.0
    ]
    beam = beam_of(a.case, a.things, c.part, Box(c.lo_mm, c.hi_mm), cut.axis)
    nearest = np.array(sorted(free, key=lambda x: abs(x - cut.at_mm)))
    for at, bent in zip(map(float, nearest), beam.moments_nmm(nearest), strict=True):
        if _low_nmm(a, c, cut, seat, at, beam) >= bent:
            return at
    return None


_low: Memo[tuple[object, ...], float] = Memo(4000)


def _low_nmm(a: Analysis, c: PartCuts, cut: Cut, seat: Seat, at: float, beam: Beam) -> float:
    """What a cut's seam would bear at least at another place, N mm. While it is dragged the same places are asked about again and again."""
    recipe = a.recipes[c.part]

    def look() -> float:
        there = cut.model_copy(update={"at_mm": at})
        load = bent_at(beam, at)
        return seam_hold(a.design, a.case, a.things, c, there, seat, recipe, load=load).low_nm.value * 1000

    how = (seat, cut.axis, cut.joined, len(cut.dowels), cut.ridge_mm, a.design.process_of(c.part).filament)
    return _low.make((recipe.digest, at, *how), look)


def _many(c: PartCuts) -> bool:
    """Whether a part would be more pieces than are planned."""
    return c.least > MOST_PIECES


def _whole_on(a: Analysis, c: PartCuts, printer: Printer) -> bool:
    """Whether a part that is not cut fits the bed of another printer."""
    bed = usable_bed(a.design.process_of(c.part), printer)
    x, y, z = c.pieces[0].bbox_mm
    return z <= bed[2] and ((x <= bed[0] and y <= bed[1]) or (y <= bed[0] and x <= bed[1]))


@searched
def _as_covers(a: Analysis) -> tuple[Remedy, ...]:
    """Covers on a frame are each cut by themselves, and nothing stands on them."""
    if a.case.kind == "frame and covers":
        return ()
    way = usual(a.design, "frame and covers")
    return (with_room(a, Remedy(label="Make it a frame with covers", edits=(Construct(construction=way),))),)


@searched
def _on_larger(a: Analysis, c: PartCuts) -> tuple[Remedy, ...]:
    """Larger printers on which it is divided, or goes whole."""
    ways = (
        print_on(a, p)
        for p in a.workshop.printers
        if p.bed_mm[0] > a.printer.bed_mm[0] and (c.seat is not None or _whole_on(a, c, p))
    )
    return tuple(islice((w for w in ways if _divided_by(a, c, w)), 2))


def _divided_by(a: Analysis, c: PartCuts, way: Remedy) -> bool:
    try:
        return divided(apply(a.design, Together(edits=way.edits)), a.workshop, c.part)
    except DesignError:
        return False


def _too_tall(c: PartCuts) -> bool:
    """Whether a part stands taller than the printer prints and has no wall that a level cut could run through."""
    return c.seat is not None and not c.seat.bare and c.bbox_mm[2] > c.usable_mm[2]


@searched
def _glued(a: Analysis, c: PartCuts) -> tuple[Remedy, ...]:
    """Glue alone wants no place along a cut."""
    if c.seat is None or c.joined == "glue alone" or _too_tall(c):
        return ()
    edit = JoinCuts(part=c.part, by="glue alone")
    if not divided(apply(a.design, edit), a.workshop, c.part):
        return ()
    return (Remedy(label=f"Join the pieces of the {c.part} by glue alone", edits=(edit,)),)


def _list(words: set[str]) -> str:
    names = sorted(words)
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " or " + names[-1] if names else "nothing"


@concern("cut-through-feature", "cuts")
def cut_through_feature(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 14: a cut that a hand put through a boss, a port, a fan or a post."""
    keep = ref("limits.cut.seam_to_feature")
    for c in a.cuts:
        for cut in c.cuts:
            line = line_of(cut, c.seat.axis) if c.seat else None
            slant = slant_of(line, Box(c.lo_mm, c.hi_mm)) if line and line.aslant else None
            mine = strips(a.case, a.openings, c.part, cut.axis, slant)
            hit = [s for s in mine if s.lo < cut.at_mm < s.hi and not s.soft]
            if not hit:
                continue
            # of several features the one that is cut deepest is named, and it is that one which is measured
            depth, worst = max(((min(cut.at_mm - s.lo, s.hi - cut.at_mm), s) for s in hit), key=lambda x: x[0])
            yield say(
                "stop",
                f"The cut of the {c.part} goes through the {worst.why}",
                measured=keep.value - depth / (slant.longer if slant else 1.0),
                limit=keep.value,
                how="room wanted beside the feature less how deep the cut lies in its strip",
                of=(
                    given("the cut", cut.at_mm),
                    given("strip from", worst.lo),
                    given("strip to", worst.hi),
                ),
                reason="A seam through a boss, post or opening leaves two halves that hold nothing.",
                source=str(keep),
                subjects=(c.part, worst.why),
                remedies=(Remedy(label="Give the cut back to the planner", edits=(FreeCuts(part=c.part),)),),
            )


def _how_put(cut: PinnedCut) -> str:
    """How a cut is not straight, to begin a sentence with."""
    turned = f"turned by {cut.turn_deg:g} degrees" if cut.turn_deg else ""
    leaning = f"leaning by {cut.lean_deg:g} degrees" if cut.lean_deg else ""
    words = " and ".join(w for w in (turned, leaning) if w)
    return words[:1].upper() + words[1:]


@concern("cut-not-made", "cuts")
def cut_not_made(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A cut that a hand put beside its part, or along a way that the part is not cut: nothing comes of it."""
    for c in a.cuts:
        for pinned in (x for x in a.design.cuts if x.part == c.part):
            i = INDEX[pinned.axis]
            if any(x.axis == pinned.axis and abs(x.inside_mm - pinned.at_mm) < 1e-6 for x in c.cuts):
                continue
            at, box = pinned.at_mm + c.from_mm[i], Box(c.lo_mm, c.hi_mm)
            within = min(at - c.lo_mm[i], c.hi_mm[i] - at)
            measured, limit, unit = within, float(LEAST_END_MM), "mm"
            how = "how far within the part the cut is; less than nothing: beside it"
            reason = "So near to its end, or beside it, a cut leaves no piece."
            straight: tuple[Remedy, ...] = ()
            if within > LEAST_END_MM and c.seat is not None and pinned.axis in c.flat:
                line = line_put(pinned, at, c.seat, box.centre[3 - i - c.seat.axis])
                measured = min(to_ends_mm(line, box))
                how = "how far within the part the cut stays; less than nothing: it runs out at its end"
                how_put = _how_put(pinned)
                reason = f"{how_put} it runs out at the end of the part."
                if measured > LEAST_END_MM:
                    beside = [line_of(x, c.seat.axis) for x in c.cuts if x.axis == pinned.axis]
                    sides = [(o, line) if o.at_mm < at else (line, o) for o in beside]
                    measured = min((least_apart_mm(x, y, box) for x, y in sides), default=0.0)
                    limit = LEAST_MM
                    how = "how far it stays from the next cut; less than nothing: they cross"
                    reason = f"{how_put} it comes too near to another cut of the {c.part}."
                kept = (
                    x.model_copy(update={"turn_deg": 0.0, "lean_deg": 0.0}) if x == pinned else x
                    for x in a.design.cuts
                    if x.part == c.part
                )
                straight = (Remedy(label="Set it straight", edits=(PutCuts(part=c.part, cuts=tuple(kept)),)),)
            elif within > LEAST_END_MM:  # then it is the way that the part is not cut
                measured, limit, unit = 0.0, 1.0, "ways it is cut"
                how = "1 where the part is cut along that axis"
                reason = f"The {c.part} is cut across {' and '.join(c.flat) or 'no axis'} only."
            yield say(
                "weigh",
                f"The cut of the {c.part} at {pinned.at_mm:g} mm across {pinned.axis} is not made",
                measured=measured,
                limit=limit,
                unit=unit,
                how=how,
                of=(given("the cut", at), given("part from", c.lo_mm[i]), given("part to", c.hi_mm[i])),
                reason=reason,
                source="a piece is at least so wide (common practice)",
                subjects=(c.part, pinned.axis, f"{pinned.at_mm:g}"),
                remedies=(*straight, Remedy(label="Give the cut back to the planner", edits=(FreeCuts(part=c.part),))),
            )
    cut = {c.part for c in a.cuts} | {
        p.name for p in a.case.parts if p.sheet is None
    }  # what was not made is told elsewhere
    for part in dict.fromkeys(x.part for x in a.design.cuts if x.part not in cut):
        sheet = next((p.sheet for p in a.case.parts if p.name == part), None)
        n = sum(x.part == part for x in a.design.cuts)
        it = "it waits" if n == 1 else "they wait"
        yield say(
            "advice",
            f"The {'cut' if n == 1 else 'cuts'} of the {part} {'waits' if n == 1 else 'wait'}",
            measured=0.0,
            limit=1.0,
            unit="parts",
            how="printed parts of that name",
            reason=f"The {part} is bought {sheet.material}, in one piece: {it} until it is printed again."
            if sheet
            else f"This case has no {part}: {it} until it is made so again.",
            source="this design",
            subjects=(part, "waits"),
            remedies=(Remedy(label="Take it out" if n == 1 else "Take them out", edits=(FreeCuts(part=part),)),),
        )
