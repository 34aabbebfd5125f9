"""What a seam bears in bending against what bends it: the glued face or the bolts; a hand in the worst place, or what the part carries."""

from __future__ import annotations

from itertools import pairwise

from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case, Seat
from rhombex.core.cuts.bends import bends
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.joins import Bolts, Tails, bolt_n, hold_of
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.strips import INDEX
from rhombex.core.design import Design
from rhombex.core.geometry.planes import section
from rhombex.core.geometry.recipe import Solid
from rhombex.core.reference import ref
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


def modulus_mm3(area: BaseGeometry) -> float:
    """Section modulus about the level axis through the middle of an area in (across, up) coordinates, mm3: I / c, I by the polygon's moments."""
    if area.is_empty:
        return 0.0
    mid = area.centroid.y
    total = 0.0
    for g in getattr(area, "geoms", [area]):
        for ring, sign in ((g.exterior, 1.0), *((r, -1.0) for r in g.interiors)):
            xy = [(x, y - mid) for x, y in ring.coords]
            here = sum((x0 * y1 - x1 * y0) * (y0 * y0 + y0 * y1 + y1 * y1) / 12 for (x0, y0), (x1, y1) in pairwise(xy))
            total += sign * abs(here)
    low, high = area.bounds[1], area.bounds[3]
    return float(total / max(high - mid, mid - low))


def face_of(recipe: Solid, cut: Cut, n: int) -> BaseGeometry:
    """The face of a cut, across and along the plate's normal (axis n)."""
    i = INDEX[cut.axis]
    swap = min(k for k in range(3) if k != i) == n  # its first coordinate is then the normal's
    area: BaseGeometry = Polygon()
    rings = [Polygon([(b, a) if swap else (a, b) for a, b in loop]) for loop in section(recipe, cut.axis, cut.at_mm)]
    for ring in sorted((r.buffer(0) for r in rings), key=lambda r: -r.area):
        area = area.difference(ring) if area.contains(ring.representative_point()) else area.union(ring)
    return area


def seam_hold(
    design: Design,
    case: Case,
    things: tuple[Thing, ...],
    c: PartCuts,
    cut: Cut,
    seat: Seat,
    recipe: Solid,
    face: BaseGeometry | None = None,
) -> SeamHold:
    """What the seam of a cut bears, and what bends it there. `face`: of the cut, where it is known already."""
    kind = design.process_of(c.part).filament
    own = ref(f"materials.{kind}.strength")
    face = face_of(recipe, cut, seat.axis) if face is None else face
    modulus = modulus_mm3(face)
    hold = hold_of(cut.joined, seat)
    width = face.bounds[2] - face.bounds[0] if not face.is_empty else 0.0
    if isinstance(hold, Bolts):
        low, high = bolted(hold, len(cut.dowels))
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
    keyed = len(cut.dowels) * hold.neck_mm / width if isinstance(hold, Tails) and width > 0 else 0.0
    return SeamHold(
        low_nm=low,
        high_nm=high,
        uncut_nm=own.value * modulus / 1000,
        load_nm=bends(case, things, c.part, Box(c.lo_mm, c.hi_mm), cut.axis, cut.at_mm),
        in_plane=min(keyed, 1.0),
        glued=not isinstance(hold, Bolts),
    )


def bolted(hold: Bolts, count: int) -> tuple[Trail, float]:
    """Bolts as tight as the plastic under their heads bears, opening about the outer face of the plate or the flanges' tops."""
    bears, force = ref("fasteners.rule.bearing"), bolt_n(hold)
    levers = (hold.centre_mm, hold.reach_mm - hold.centre_mm)
    low = Trail(
        value=count * force * min(levers) / 1000,
        unit="N m",
        formula="bolts x force of each x its distance from the edge about which the seam opens",
        inputs=(
            given("bolts", count, "", "this cut"),
            given("force of each", force, "N", "ring under its head x bearing pressure of plastic"),
            given("distance", min(levers)),
            looked_up("bearing", bears),
        ),
        source=str(bears),
    )
    return low, count * force * max(levers) / 1000
