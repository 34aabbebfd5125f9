"""What a case stands on: feet near the corners of its floor and under what is heavy; stuck on, screwed on with a nut inside, or printed soft and glued
into seats."""

from __future__ import annotations

from collections.abc import Callable
from itertools import product
from math import ceil, cos, radians, sqrt

from rhombex.core.bench.arrange import PlacedSolid, Thing, outer_size
from rhombex.core.bench.gaps import cavity, hard
from rhombex.core.case import Built, Case
from rhombex.core.case.fittings import Foot, FootScrew
from rhombex.core.case.joints import Joint, MagnetPair
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Part, PutOn
from rhombex.core.design import Design, FilamentKind, FootKind
from rhombex.core.fit.allowance import round_hole
from rhombex.core.fit.joints import clearance_mm, nut_across_mm, nut_corners_mm, nut_mm, screw_mm
from rhombex.core.geometry.recipe import Move, Revolve, Solid, Union, at, circle, prism, profile
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.shell.places import slots
from rhombex.core.shell.solids import OVER
from rhombex.core.space import Box, Vec2
from rhombex.core.workshop.printer import Printer

FEET = "feet"
SOFT: FilamentKind = "TPU"
THREAD: Thread = "M3"  # of screwed feet
NUT_ROOM_MM = 0.5  # round a nut
_BROAD: dict[FootKind, str] = {"stick-on": "foot_d", "screwed": "screw_foot_d", "printed": "soft_foot_d"}
ROUND_MM = 1.0  # a printed foot's edge on the desk is broken by so much
BESIDE_MM = 25.0  # a foot that has no place in its corner stands so far from there at most
APART_MM = 5.0  # from one to the next on the bed
GLUE_MM = 0.2  # room for glue over a stud
LEFT_MM = 0.8  # of the floor over a seat; common practice: four layers that close it


def foot_of(design: Design, printer: Printer, footed: str, of_sheet: bool = False) -> Foot:
    """The foot of a design, and its seat in the part `footed` that stands on it. A sheet is only drilled: what is stuck on has no recess in it, and a
    stud goes through. Neither is there one in the wall of a case that stands on its side."""
    floor = design.shell.floor_mm
    if design.shell.foot == "stick-on":
        d, deep = (val(f"printing.feature.{x}") for x in ("foot_d", "foot_recess"))
        deep = 0.0 if of_sheet or design.shell.stands_on != "bottom" else deep
        return Foot(
            d_mm=d,
            high_mm=val("printing.feature.foot_height"),
            stud_mm=0.0,
            seat_d_mm=d + 0.5,
            seat_mm=min(deep, floor / 3),
        )
    if design.shell.foot == "screwed":
        return _screwed(design, printer, footed)
    d, stud = (val(f"printing.feature.{x}") for x in ("soft_foot_d", "soft_foot_stud"))
    seat = stud + round_hole(design, printer, (footed,), 2, stud)[0].value
    return Foot(
        d_mm=d,
        high_mm=design.shell.foot_mm,
        stud_mm=stud,
        seat_d_mm=seat,
        seat_mm=floor if of_sheet else max(floor - LEFT_MM, floor / 3),
    )


def _screwed(design: Design, printer: Printer, footed: str) -> Foot:
    """A bought rubber foot: its screw comes from below, with a nut on the inside of the floor."""
    floor, own = design.shell.floor_mm, design.shell.foot_screw_mm
    base, hole = val("printing.feature.screw_foot_base"), clearance_mm(THREAD)
    nut = nut_mm(THREAD)
    long = own if own is not None else screw_mm(THREAD, base + floor, nut, nut + val("fasteners.rule.nut_over"))
    return Foot(
        d_mm=val("printing.feature.screw_foot_d"),
        high_mm=val("printing.feature.screw_foot_height"),
        stud_mm=0.0,
        seat_d_mm=hole + round_hole(design, printer, (footed,), 2, hole)[0].value,
        seat_mm=floor + OVER,
        screw=FootScrew(
            thread=THREAD,
            base_mm=base,
            floor_mm=floor,
            long_mm=long,
            stands_mm=nut if long is None else max(nut, long - base - floor),
            pinned=own is not None,
        ),
    )


def nut_at(case: Case, at: Vec2) -> PlacedSolid | None:
    """The nut of a foot with the tip of its screw, as a round; none where feet are not screwed on."""
    screw = case.foot.screw if case.foot else None
    if screw is None:
        return None
    r, z = nut_corners_mm(screw.thread) / 2, case.cavity.lo[2]
    box = Box((at[0] - r, at[1] - r, z), (at[0] + r, at[1] + r, z + screw.stands_mm))
    return PlacedSolid("nut of a foot", "body", box, 2, 0.0)


def foot_seats(case: Case) -> list[Solid]:
    """Recesses in the underside that feet are stuck or glued into, or holes right through it."""
    f = case.foot
    if f is None or f.seat_mm <= 0:
        return []
    deep = f.seat_mm if f.seat_mm < case.cavity.lo[2] else f.seat_mm + OVER
    return [prism(circle(x, y, f.seat_d_mm), -OVER, deep) for x, y in case.feet]


def with_feet(design: Design, built: Built) -> Built:
    """The case with its feet, where these are printed: one part, on the bed in rows and not where they stand."""
    case, foot = built.case, built.case.foot
    if design.shell.foot != "printed" or not case.feet or foot is None or FEET in built.bodies:
        return built
    one = foot_body(foot)
    part = Part(
        name=FEET,
        size_mm=None,
        down="bottom",
        plates=(),
        put_on=PutOn(along=(0.0, 0.0, 1.0), travel_mm=foot.seat_mm),
        bodies=len(case.feet),
    )
    in_place = Union(tuple(Move(one, at(x, y, 0.0)) for x, y in case.feet))
    many, pitch = ceil(sqrt(len(case.feet))), foot.d_mm + APART_MM
    on_bed = Union(tuple(Move(one, at(k % many * pitch, k // many * pitch, 0.0)) for k in range(len(case.feet))))
    return Built(
        case.model_copy(update={"parts": (*case.parts, part)}),
        {**built.bodies, FEET: lambda tools: in_place},
        {**built.on_bed, FEET: on_bed},
    )


def foot_body(foot: Foot) -> Solid:
    """A printed foot under z = 0 with its stud above, round about z. It prints standing on its broad side, without support."""
    r, stud = foot.d_mm / 2, foot.stud_mm / 2
    top = max(foot.seat_mm - GLUE_MM, foot.seat_mm / 2)
    edge = min(ROUND_MM, foot.high_mm / 3)
    high = foot.high_mm
    outline = [(0.0, -high), (r - edge, -high), (r, edge - high), (r, 0.0), (stud, 0.0), (stud, top), (0.0, top)]
    return Revolve(profile([tuple((x, z, 0.0) for x, z in outline)]))


def feet_of(
    design: Design,
    mounts: tuple[Mount, ...],
    things: tuple[Thing, ...],
    joints: tuple[Joint | MagnetPair, ...] = (),
    pillar_mm: float = 0.0,
) -> tuple[Vec2, ...]:
    """Places for feet: near the corners of the floor, and under what is heavy where that is wished; clear of screw heads that are sunk into
    it, and, screwed on, of posts, of the bosses of `joints` and of columns of `pillar_mm` in the room's corners, since their nuts stand beside these."""
    if not design.shell.feet or design.shell.stands_on != "bottom":
        return ()
    w, d, _ = outer_size(design)
    kind = design.shell.foot
    screwed = kind == "screwed"
    foot = val(f"printing.feature.{_BROAD[kind]}")
    inset = inset_mm(design, foot)
    heads = [(m.at, m.open_below_mm) for m in mounts if m.open_below_mm]
    bolts = [j for j in joints if isinstance(j, Joint) and j.pocket_mm]
    heads += [((j.at[0], j.at[1]), nut_across_mm(j.thread) / cos(radians(30))) for j in bolts]
    # screws that come up through the floor
    heads += [((j.at[0], j.at[1]), j.head_d_mm) for j in joints if isinstance(j, Joint) and j.along[2] > 0.5]
    reach = foot / 2 + 1

    nut = nut_corners_mm(THREAD) / 2 + NUT_ROOM_MM
    posts = [(m.at, m.od_mm / 2) for m in mounts] if screwed else []
    room = cavity(design)
    low = room.lo[2] + nut_mm(THREAD)
    bosses = [j.boss for j in joints if j.boss.lo[2] < low] if screwed else []
    for x0, x1 in ((room.lo[0], room.lo[0] + pillar_mm), (room.hi[0] - pillar_mm, room.hi[0])) if screwed else ():
        for y0, y1 in ((room.lo[1], room.lo[1] + pillar_mm), (room.hi[1] - pillar_mm, room.hi[1])):
            bosses.append(Box((x0, y0, room.lo[2]), (x1, y1, room.hi[2])))
    bodies = [s.box for t in things for s in hard(t) if s.box.lo[2] < low] if screwed else []

    def free(x: float, y: float) -> bool:
        return all((x - a[0]) ** 2 + (y - a[1]) ** 2 > (reach + head / 2) ** 2 for a, head in heads) and not (
            any((x - a[0]) ** 2 + (y - a[1]) ** 2 < (nut + r) ** 2 for a, r in posts)
            or any(_beside(b, x, y) < nut for b in (*bosses, *bodies))
        )

    out = in_corners(free, (w, d), inset, reach)
    for t in heavy(mounts, things) if design.shell.feet_under else ():
        lo, hi = footprint(t)
        out += _near(free, ((lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2), lo, hi, (w, d), inset, reach, out)
    return tuple(out)


def inset_mm(design: Design, foot_d_mm: float) -> float:
    """How far from the edges of a face the middle of a foot is, at the least."""
    return max(design.shell.corner_radius_mm, foot_d_mm / 2 + 4) + 2


def in_corners(free: Callable[[float, float], bool], size: Vec2, inset: float, reach: float) -> list[Vec2]:
    """A foot in each corner of a rectangle, or beside it where that is not free."""
    out: list[Vec2] = []
    w, d = size
    for x in (inset, w - inset):
        for y in (inset, d - inset):
            if free(x, y):
                out.append((x, y))
            else:
                lo, hi = (x - BESIDE_MM, y - BESIDE_MM), (x + BESIDE_MM, y + BESIDE_MM)
                out += _near(free, (x, y), lo, hi, size, inset, reach, out)
    return out


def _near(
    free: Callable[[float, float], bool],
    at: Vec2,
    lo: Vec2,
    hi: Vec2,
    size: Vec2,
    inset: float,
    reach: float,
    there: list[Vec2],
) -> list[Vec2]:
    """The free place of a rectangle that is nearest to a point, beside the feet that are there; none where there is none."""
    xs, ys = (slots(max(lo[k], inset), min(hi[k], size[k] - inset), at[k], 2.0) for k in (0, 1))
    ways = sorted(product(xs, ys), key=lambda p: (p[0] - at[0]) ** 2 + (p[1] - at[1]) ** 2)
    apart = (2 * reach) ** 2
    spot = next(
        (p for p in ways if free(*p) and all((p[0] - q[0]) ** 2 + (p[1] - q[1]) ** 2 > apart for q in there)), None
    )
    return [] if spot is None else [spot]


def _beside(b: Box, x: float, y: float) -> float:
    """How far a point of the plan is outside a box."""
    dx, dy = max(b.lo[0] - x, x - b.hi[0], 0.0), max(b.lo[1] - y, y - b.hi[1], 0.0)
    return sqrt(dx * dx + dy * dy)


def heavy(mounts: tuple[Mount, ...], things: tuple[Thing, ...]) -> list[Thing]:
    """What stands on posts of the floor and weighs so much, with what rides on it, that it wants a foot under it."""
    least, standing = val("limits.standing.heavy"), {m.of for m in mounts}
    return [t for t in things if t.id in standing and load_g(t, things) >= least]


def load_g(t: Thing, things: tuple[Thing, ...]) -> float:
    """What a component weighs with what rides on it, g."""
    return sum(x.component.mass_g for x in things if x.id == t.id or x.placement.on == t.id)


def footprint(t: Thing) -> tuple[Vec2, Vec2]:
    """The rectangle that a component's bodies take of the floor."""
    boxes = [s.box for s in t.solids if s.role == "body"] or [s.box for s in t.solids]
    return (
        (min(b.lo[0] for b in boxes), min(b.lo[1] for b in boxes)),
        (max(b.hi[0] for b in boxes), max(b.hi[1] for b in boxes)),
    )
