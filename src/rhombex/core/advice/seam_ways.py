"""The ways to join a cut, beside one another: what each bears, aligns, costs in work and wants bought; and which one Rhombex proposes, with the reason."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from math import inf

from rhombex.core.analysis import Analysis
from rhombex.core.case.parts import Seat
from rhombex.core.cuts.bends import wished
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import dowel_places, in_the_way, ridge_mm
from rhombex.core.cuts.faces import face_of
from rhombex.core.cuts.holding import SeamHold, seam_hold
from rhombex.core.cuts.joins import (
    BOLT,
    Bolts,
    Bridges,
    Discs,
    Hold,
    Pins,
    Steps,
    Tails,
    hold_of,
    joins_of,
    pin_of,
    through_or,
)
from rhombex.core.cuts.pieces import PartCuts, wanted_holds
from rhombex.core.cuts.turned import line_of
from rhombex.core.design import JoinKind
from rhombex.core.fit.allowance import fit
from rhombex.core.fit.joints import clearance_mm
from rhombex.core.geometry.recipe import Solid
from rhombex.core.hardware.bill import magnet_words
from rhombex.core.hardware.seam_joints import bolt_mm, bridge_screw
from rhombex.core.parts.threads import screw_size
from rhombex.core.reference import ref, val
from rhombex.core.space import Box
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.stock import in_drawer

MINUTES: Mapping[JoinKind, str] = {
    "steel pins": "pin",
    "filament pins": "pin",
    "printed pins": "pin",
    "steel rods": "rod",
    "rods through all pieces": "rod",
    "dovetails": "tail",
    "tongue and groove": "step",
    "half-lap": "step",
    "bolts": "bolt",
    "bridging plates": "bridge",
    "magnets": "magnet",
}


class JoinWay(Frozen):
    """One way to join a cut. `places`: what finds a place along it, of the `wanted`; `off_mm`: how far the pieces may stand off one another; `takes`:
    what it takes besides glue, `missing` of which the drawer lacks some."""

    by: JoinKind
    places: int
    wanted: int
    holds: SeamHold
    off_mm: Shown
    minutes: Shown
    takes: str
    missing: bool


class SeamWays(Frozen):
    """All ways to join a cut, the one that is proposed, and why."""

    ways: tuple[JoinWay, ...]
    proposed: JoinKind
    why: str


def off_mm(a: Analysis, part: str, hold: Hold | None) -> Shown:
    """How far two pieces may come to stand off one another: the play of what aligns them, or the eye."""
    if isinstance(hold, Pins):
        return fit(a.design, a.printer, "dowel_slip", (part,), hold.d_mm).value
    if isinstance(hold, Tails):
        return fit(a.design, a.printer, "tongue_side", (part,), hold.tip_mm).value
    if isinstance(hold, Steps):
        return fit(a.design, a.printer, "tongue_side", (part,), hold.block_mm).value
    if isinstance(hold, Bolts | Bridges):
        return (clearance_mm(BOLT) - val(f"fasteners.{BOLT}.d")) / 2
    return ref("printing.feature.by_eye").value


def minutes_of(by: JoinKind, count: int, glued: bool) -> Shown:
    """Work at a seam: glue, and what stands along it."""
    each = val(f"printing.feature.{MINUTES[by]}_minutes") if by in MINUTES else 0.0
    return (val("printing.feature.glue_minutes") if glued else 0.0) + count * each


def seam_ways(a: Analysis, c: PartCuts, cut: Cut, seat: Seat, recipe: Solid) -> SeamWays:
    """Every way to join a cut where it is, each with its own places."""
    face = face_of(recipe, cut, seat.axis)
    ways = []
    for so in cuts_joined(a, c, cut, seat):
        by, hold = so.joined, hold_of(so.joined, seat)
        holds = seam_hold(a.design, a.case, a.things, c, so, seat, recipe, face)
        takes, missing = _takes(a, so, hold)
        ways.append(
            JoinWay(
                by=by,
                places=len(so.dowels),
                wanted=0 if hold is None else wanted_holds(c, cut.axis),
                holds=holds,
                off_mm=off_mm(a, c.part, hold),
                minutes=minutes_of(by, len(so.dowels), holds.glued),
                takes=takes,
                missing=missing,
            )
        )
    by, why = _proposed(ways)
    return SeamWays(ways=tuple(ways), proposed=by, why=why)


def cuts_joined(
    a: Analysis, c: PartCuts, cut: Cut, seat: Seat, among: Collection[JoinKind] | None = None
) -> Iterator[Cut]:
    """A cut where it is, joined in every way that its plate bears, each with its own places. `among`: and that is one of these."""
    others = tuple(line_of(x, seat.axis) for x in c.cuts if x.axis != cut.axis)
    along = tuple(line_of(x, seat.axis) for x in c.cuts if x.axis == cut.axis)
    line = line_of(cut, seat.axis)
    box = Box(c.lo_mm, c.hi_mm)
    blocked = {within: in_the_way(a.case, a.things, a.openings, c.part, within) for within in (False, True)}
    for by in joins_of(seat):
        if among is not None and by not in among:
            continue
        if by == cut.joined:
            yield cut
            continue
        if through_or(by, seat, box, line, others, along) != by:
            continue
        hold = hold_of(by, seat)
        through = isinstance(hold, Pins) and hold.through
        ridge = ridge_mm(a.case, seat, box, line.i) if through else None
        beside = blocked[hold is not None and hold.whole_plate]
        most = wished(a.case, a.things, c.part, box, cut.axis, cut.at_mm, hold, 1 + len(others))
        stands = dowel_places(a.case, beside, seat, hold, box, line, others, most)
        yield cut.model_copy(
            update={"joined": by, "dowels": tuple(stands), "pin": pin_of(hold, ridge), "ridge_mm": ridge}
        )


def _takes(a: Analysis, so: Cut, hold: Hold | None) -> tuple[str, bool]:
    """What a seam takes besides glue, and whether the drawer lacks some of it."""
    stock, by, count = a.workshop.stock, so.joined, len(so.dowels)
    if isinstance(hold, Pins) and so.pin is not None:
        size = f"{so.pin.d_mm:g} x {so.pin.long_mm:g}"
        if by == "filament pins":
            return f"{count} pins of {size}, cut from the spool", False
        if by == "printed pins":
            return f"nothing: {count} pins of {size} are printed", False
        on = " through all pieces" if so.ridge_mm is not None else ""
        return f"{count} {hold.item}s {size}{on}", in_drawer(stock, hold.item, size) < count
    if isinstance(hold, Bolts):
        size = screw_size(BOLT, bolt_mm() or 0.0)
        short = in_drawer(stock, "nut", BOLT) < count or in_drawer(stock, "screw, socket cap", size) < count
        return f"{count} bolts {size} and nuts", short
    if isinstance(hold, Bridges):
        size, insert = bridge_screw(hold)
        short = in_drawer(stock, "heat-set insert", insert) < 2 * count
        short = short or in_drawer(stock, "screw, socket cap", size) < 2 * count
        return f"{2 * count} screws {size} and inserts; {count} plates are printed", short
    if isinstance(hold, Discs):
        words = magnet_words(hold.d_mm, hold.high_mm, hold.grade)
        return f"{2 * count} disc magnets {words}", in_drawer(stock, "disc magnet", words) < 2 * count
    if isinstance(hold, Steps):
        what = "tongue" if hold.shape == "tongue" else "lap"
        return f"nothing: {count * hold.block_mm:.0f} mm of {what} are printed", False
    return ("nothing" if hold is None else f"nothing: {count} dovetails are printed"), False


def _proposed(ways: list[JoinWay]) -> tuple[JoinKind, str]:
    """Which way is proposed: one that bears the load, with pieces that align themselves, with what is at hand."""
    at = {w.by: w for w in ways}
    load = ways[0].holds.load_nm.value

    def stands(by: JoinKind) -> bool:
        return by in at and at[by].places >= at[by].wanted

    def bears(by: JoinKind) -> float:
        return at[by].holds.low_nm.value if stands(by) else -inf

    glue = at["glue alone"].holds.low_nm.value
    pins = [by for by in ALIGNED if stands(by)]
    strong = [by for by in STRONG if stands(by)]
    if glue < load:
        enough = next((by for by in strong if bears(by) >= load), None)
        if enough is not None:
            return enough, (
                f"{load:.1f} N m bend the seam and glue bears {glue:.1f} at least; {STRONG[enough].format(f'{bears(enough):.1f}')}."
            )
    aligned, why = _aligned(pins, at["steel pins"].missing if "steel pins" in at else True)
    if glue >= load:
        return aligned, why
    lead = f"Nothing bears the {load:.1f} N m that bend it here; nearer to an end of the part less would."
    most = max(strong, key=bears, default=None)
    if most is not None and bears(most) > glue:
        verb = "bears" if most == "half-lap" else "bear"
        return most, f"{lead} {most.capitalize()} {verb} most, {bears(most):.1f}."
    return aligned, f"{lead} {why.removeprefix('Glue bears what bends it; ').capitalize()}"


# what makes a seam stronger than glue, what takes the least work first, with what is said of it
STRONG: Mapping[JoinKind, str] = {
    "bolts": "the bolts bear {}, and come apart again",
    "bridging plates": "the bridging plates bear {}, and come apart again",
    "half-lap": "the half of the plate that runs on bears {}, and nothing is bought",
    "steel rods": "the rods bear {}",
    "rods through all pieces": "the rods bear {}, and run on through all pieces",
}
ALIGNED: tuple[JoinKind, ...] = ("steel pins", "filament pins", "printed pins", "dovetails", "tongue and groove")


def _aligned(pins: list[JoinKind], missing: bool) -> tuple[JoinKind, str]:
    """What aligns a seam that glue holds, of what finds a place. `missing`: of dowel pins the drawer lacks some."""
    if "steel pins" in pins and not missing:
        return "steel pins", "Glue bears what bends it; the pins that align the pieces lie in the drawer."
    if "filament pins" in pins:
        return "filament pins", (
            "Glue bears what bends it; pins cut from the spool align the pieces, and nothing is bought."
        )
    if "steel pins" in pins:
        return "steel pins", "Glue bears what bends it; there is room for the pins that align the pieces."
    if "printed pins" in pins:
        return "printed pins", "Glue bears what bends it; there is room for the pins that align the pieces."
    if "dovetails" in pins:
        return "dovetails", "Nothing may stand inside the plate along this cut, and dovetails lie in it."
    if "tongue and groove" in pins:
        return "tongue and groove", "Nothing may stand inside the plate along this cut, and a tongue lies in it."
    return "glue alone", "Nothing else finds a place along this cut: it is set by eye."
