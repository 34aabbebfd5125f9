"""What a seam bears in bending against what bends it: the glued face, what runs through it, bolts or bridging plates; a hand in the worst place, or what
the part carries."""

from __future__ import annotations

from math import cos, radians

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.case.parts import Seat
from rhombex.core.cuts.bears import lap_nm, levers_mm, magnets_n, one_nm, pull_n, rod_nm
from rhombex.core.cuts.bends import bends
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.faces import SeamFace, face_of
from rhombex.core.cuts.joins import END_SKIN_MM, Bolts, Bridges, Discs, Hold, Pins, Steps, Tails, hold_of, thick_mm
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.turned import line_of
from rhombex.core.design import Design
from rhombex.core.geometry.recipe import Solid
from rhombex.core.reference import Ref, ref
from rhombex.core.space import Box
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up

G = 9.81


class SeamHold(Frozen):
    """What a seam bears. `low_nm`, `high_nm`: the moment that parts it, N m; `uncut_nm`: what the part bears there without a cut; `load_nm`: what bends
    it. `in_plane`: what of the part's pull holds by shape alone, where it is keyed."""

    low_nm: Trail
    high_nm: Shown
    uncut_nm: Shown
    load_nm: Trail
    in_plane: Shown
    glued: bool


def seam_hold(
    design: Design,
    case: Case,
    things: tuple[Thing, ...],
    c: PartCuts,
    cut: Cut,
    seat: Seat,
    recipe: Solid,
    face: SeamFace | None = None,
    load: Trail | None = None,
) -> SeamHold:
    """What the seam of a cut bears, and what bends it there. `face` of the cut and `load`: where they are known already."""
    kind = design.process_of(c.part).filament
    own = ref(f"materials.{kind}.strength")
    face = face_of(recipe, cut, seat.axis) if face is None else face
    modulus, width = face.modulus_mm3, face.wide_mm
    hold = hold_of(cut.joined, seat)
    if isinstance(hold, Bolts | Bridges):
        low, high = bolted(hold, len(cut.dowels))
    elif isinstance(hold, Discs):
        low, high = drawn(hold, len(cut.dowels))
    else:
        glue, most = ref("printing.feature.glue_low"), ref("printing.feature.glue_high")
        low = Trail(
            value=glue.value * modulus / 1000,
            unit="N m",
            formula="strength of glue x section modulus of the face",
            inputs=(looked_up("glued, at least", glue), given("section modulus", modulus, "mm3", "its true face")),
            source=str(glue),
        )
        high = most.value * modulus / 1000
        more = _beside_glue(hold, len(cut.dowels), held_mm(c, cut, hold), thick_mm(seat), own, glue)
        if more is not None:
            high += more.value
            low = more if more.value > low.value else low
    keyed = len(cut.dowels) * hold.neck_mm / width if isinstance(hold, Tails) and width > 0 else 0.0
    return SeamHold(
        low_nm=low,
        high_nm=high,
        # the face of a cut that leans is longer than a straight one, all of it along one side of it: by 1 / cos, and its modulus by the square of that
        uncut_nm=own.value * modulus * cos(radians(cut.lean_deg)) ** 2 / 1000,
        load_nm=load or _bends(case, things, c, cut, seat),
        in_plane=min(keyed, 1.0),
        glued=hold is None or hold.glued,
    )


def _bends(case: Case, things: tuple[Thing, ...], c: PartCuts, cut: Cut, seat: Seat) -> Trail:
    """What bends a cut; a turned one there where it is bent most."""
    extent, line = Box(c.lo_mm, c.hi_mm), line_of(cut, seat.axis)
    across = list(line.corners(extent)) if line.aslant else []
    middle = (extent.lo[line.i] + extent.hi[line.i]) / 2
    if across and min(across) < middle < max(across):
        across.append(middle)
    found = [bends(case, things, c.part, extent, cut.axis, x) for x in (cut.at_mm, *across)]
    return max(found, key=lambda t: t.value)


def held_mm(c: PartCuts, cut: Cut, hold: Hold | None) -> float:
    """How long a pin or rod is in the shorter of the pieces beside a cut: to its end, or to the next cut where it goes on through all of them."""
    if not isinstance(hold, Pins):
        return 0.0
    if cut.ridge_mm is None:
        return hold.deep_mm
    ends = [cut.ridge_mm[0] + END_SKIN_MM, cut.ridge_mm[1] - END_SKIN_MM]
    ends += [x.at_mm for x in c.cuts if x.axis == cut.axis and x.at_mm != cut.at_mm]
    return min(abs(x - cut.at_mm) for x in ends)


def _beside_glue(hold: Hold | None, count: int, held: float, thick: float, own: Ref, glue: Ref) -> Trail | None:
    """What bends with a seam and bears where its glue has let go: steel rods, or the half of the plate that runs on."""
    if isinstance(hold, Pins) and hold.item == "steel rod":
        steel = ref("fasteners.rule.rod_yield")
        return Trail(
            value=count * rod_nm(hold, held),
            unit="N m",
            formula="rods x the least of: yield x pi d^3 / 32; bearing x d x l^2 / 6",
            inputs=(
                given("rods", count, "", "this cut"),
                given("d", hold.d_mm),
                given("l, in either piece", held),
                looked_up("yield", steel),
                looked_up("bearing", ref("fasteners.rule.bearing")),
            ),
            source=str(steel),
        )
    if isinstance(hold, Steps) and hold.shape == "lap":
        return Trail(
            value=count * lap_nm(hold, thick, own.value, glue.value),
            unit="N m",
            formula="length of the lap x the least of: strength x (t/2)^2 / 6; glue x lap x t/2",
            inputs=(
                given("length of the lap", count * hold.block_mm, "mm", "this cut"),
                given("t", thick, "mm", "the plate"),
                given("lap", hold.deep_mm),
                looked_up("strength", own),
                looked_up("glue", glue),
            ),
            source=str(own),
        )
    return None


def bolted(hold: Bolts | Bridges, count: int) -> tuple[Trail, float]:
    """Bolts as tight as the plastic under their heads bears, or bridging plates whose screws bear against them; the seam opens about the outer face of
    the plate, or about the tops of flanges and pads."""
    bears, force, levers = ref("fasteners.rule.bearing"), pull_n(hold), levers_mm(hold)
    bolts = isinstance(hold, Bolts)
    what = "bolts" if bolts else "bridging plates"
    low = Trail(
        value=count * one_nm(hold),
        unit="N m",
        formula=f"{what} x force of each x its distance from the edge about which the seam opens",
        inputs=(
            given(what, count, "", "this cut"),
            given(
                "force of each",
                force,
                "N",
                "ring under its head x bearing pressure of plastic"
                if bolts
                else "d of the screw x thickness of the plate x bearing pressure of plastic",
            ),
            given("distance", min(levers)),
            looked_up("bearing", bears),
        ),
        source=str(bears),
    )
    return low, count * force * max(levers) / 1000


def drawn(hold: Discs, count: int) -> tuple[Trail, float]:
    """Pairs of magnets: the seam opens about the outer face of the plate, or about the tops of the blocks."""
    (low, high), levers = magnets_n(hold), levers_mm(hold)
    least = Trail(
        value=count * low * min(levers) / 1000,
        unit="N m",
        formula="pairs of magnets x pull of each x its distance from the edge about which the seam opens",
        inputs=(
            given("pairs", count, "", "this cut"),
            given("pull of each", low, "N", f"two discs {hold.d_mm:g} x {hold.high_mm:g}, {hold.grade}"),
            given("distance", min(levers)),
        ),
        source="energy of two evenly magnetised cylinders, Vokoun and others 2009",
    )
    return least, count * high * max(levers) / 1000
