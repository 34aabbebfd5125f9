"""Slots for fans of several thicknesses: two rails on the wall beside a fan, with slots one behind another, and two bars that go through those behind it, each kept in by
a pin of filament. Another fan of the same size goes in without a tool."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import FanSlots
from rhombex.core.case.parts import Part
from rhombex.core.design import Design
from rhombex.core.fit.allowance import fit
from rhombex.core.fit.joints import boss_od_mm, hole_depth_mm
from rhombex.core.geometry.grown import grown
from rhombex.core.geometry.recipe import Difference, Move, Solid, Union, at, block, circle, through
from rhombex.core.reference import val
from rhombex.core.shell.case_screw import THREAD
from rhombex.core.shell.on_walls import in_face, inside, into_of, wall_behind
from rhombex.core.shell.solids import OVER, bore, screw_hole
from rhombex.core.shell.wall_screw import wall_screw
from rhombex.core.space import Box, Frame, Vec2, Vec3, hull
from rhombex.core.workshop.printer import Printer

SOLD_MM = (10.0, 15.0, 20.0, 25.0, 32.0, 38.0)  # thicknesses of axial fans in shops; common practice
APART_MM = 5.0  # two slots, at the least: what is left between them is 1.4
BAR_WIDE_MM, BAR_MM = 10.0, 3.0
HEAD_MM, HEAD_WIDE_MM = 3.0, 16.0  # of a bar, at one end
TAIL_MM = 6.0  # of it beyond the rail at the other, for its pin
FOAM_MM = 0.5  # what a strip of foam of 1 mm between bar and frame is pressed to; common practice
OVER_SLOT_MM = 2.0  # of a rail beyond its last slot
FROM_END_MM = 8.0  # of the fan, to the middle of a bar: over its frame, beside its blades; common practice
STOP_MM, STOP_HIGH_MM, STOP_IN_MM = 3.0, 8.0, 2.5  # that a fan stands between along its rails
CLEAR_MM = 0.5  # of all else that stands inside
UNDER_MM = 1.0  # of plastic between a screw's hole and a slot


def with_fan_slots(design: Design, printer: Printer, built: Built, things: tuple[Thing, ...]) -> Built:
    """The case with the slots that were wished for its fans and found a place; a fan for which they found none keeps its screws (a rule says so)."""
    found: list[FanSlots] = []
    for t in (t for t in things if t.placement.slotted):
        one = slots_of(design, printer, built.case.model_copy(update={"fan_slots": tuple(found)}), things, t)
        if one is not None and all(one.part != s.part for s in found):
            found.append(one)
    if not found:
        return built
    bodies, on_bed, parts = dict(built.bodies), dict(built.on_bed), list(built.case.parts)
    for wall in dict.fromkeys(s.on for s in found):
        bodies[wall] = partial(_drilled, bodies[wall], tuple(s for s in found if s.on == wall))
    for s in found:
        on = built.case.part(s.on)
        rides = {"put_on": on.put_on, "rides": on.name} if on.put_on else {}
        part = Part(name=s.part, size_mm=None, down="bottom", plates=(), bodies=4)
        parts.append(part.model_copy(update=rides))
        bodies[s.part] = partial(_standing, design, printer, built.case.face(s.face), s)
        on_bed[s.part] = _lying(design, printer, built.case.face(s.face), s)
    case = built.case.model_copy(update={"fan_slots": tuple(found), "parts": tuple(parts)})
    return replace(built, case=case, bodies=bodies, on_bed=on_bed)


def slots_of(design: Design, printer: Printer, case: Case, things: tuple[Thing, ...], t: Thing) -> FanSlots | None:
    """The slots of a fan that take the most thicknesses; None for what is no square fan on a wall, or where its rails find no place beside it on one printed part."""
    face = next((f for f in case.faces if f.id == t.face), None)
    if face is None or t.component.air is None:
        return None
    frame = in_face(face, max((s.box for s in hard(t)), key=lambda b: b.size[0] * b.size[1] * b.size[2]))
    there = [s.box for x in things if x.id != t.id for s in x.solids]
    there += [m.box for m in case.mounts] + [p.box for p in case.props] + [x.box for x in case.lifts]
    there += [b.boss for b in case.kept_whole] + [r for b in case.brackets for r in b.rooms]
    there += [h.room for h in case.hooks] + [r for s in case.fan_slots for r in s.rooms]
    blocked = [in_face(face, b).grown(CLEAR_MM) for b in there]
    own = frame.size[2]
    if abs(frame.hi[2] + face.thick_mm) > 0.1 or own < hole_depth_mm(THREAD, into_of(design)) + UNDER_MM - FOAM_MM:
        return None  # it stands off its wall, or is thinner than a screw's hole is deep
    for last in [*sorted((x for x in SOLD_MM if x - own >= APART_MM), reverse=True), own]:
        for along in (1, 0):
            one = _slots(design, printer, case, t, face, frame, along, last, blocked)
            if one is not None:
                return one
    return None


def takes_mm(design: Design, own: float, last: float) -> tuple[float, ...]:
    """The thicknesses that slots up to `last` take: the fan's own, and those in shops that are far enough from it, and over the screws' holes."""
    least = hole_depth_mm(THREAD, into_of(design)) + UNDER_MM - FOAM_MM
    return tuple(sorted({own, *(x for x in SOLD_MM if abs(x - own) >= APART_MM and least <= x <= last)}))


def _slots(
    design: Design,
    printer: Printer,
    case: Case,
    t: Thing,
    face: CaseFace,
    frame: Box,
    along: int,
    last: float,
    blocked: list[Box],
) -> FanSlots | None:
    """Rails along an axis of the face on both sides of a fan's frame, both in the face's frame; None where they have no plain wall of one part, or something is `blocked`."""
    name, out = f"slots-{t.id}"[:40], into_of(design)
    od, deep, across = boss_od_mm(THREAD, out), hole_depth_mm(THREAD, out), 1 - along
    gap = fit(design, printer, "tongue_side", (name,), max(frame.size[:2])).value
    slots = FanSlots(
        of=t.id,
        part=name,
        on="",
        face=face.id,
        along=along,
        lo_mm=(frame.lo[0], frame.lo[1]),
        hi_mm=(frame.hi[0], frame.hi[1]),
        rail_mm=od,
        gap_mm=gap,
        own_mm=frame.size[2],
        takes_mm=takes_mm(design, frame.size[2], last),
        rooms=(),
        screws=(),
    )
    inner = -face.thick_mm
    rails = [_rail(slots, s) for s in (-1, 1)]
    walls = [wall_behind(case, face, (b.lo[0], b.lo[1], b.hi[0], b.hi[1])) for b in rails]
    wall = walls[0]
    if wall is None or walls[1] != wall:
        return None
    rooms = [_shifted(b, inner) for b in (*rails, *(b for k in (-1, 1) for b in _bar(slots, k)))]
    if any(max(room.gaps(b)) < 0 for room in rooms for b in blocked):
        return None
    if not all(inside(case, face, room) for room in rooms):
        return None
    chosen = design.joint(f"slots/{t.id}")
    screws: list[Joint] = []
    for rail in rails:
        for k in (-1, 1):
            uv = [0.0, 0.0]
            uv[across] = rail.centre[across]
            uv[along] = rail.centre[along] + k * frame.size[along] / 4
            screws.append(
                wall_screw(
                    design,
                    printer,
                    case,
                    face,
                    wall,
                    id=f"{t.id}-slots-{len(screws) + 1}",
                    name=f"slots of {t.name}",
                    into=name,
                    at=(uv[0], uv[1]),
                    od_mm=od,
                    deep_mm=deep,
                    holding=out,
                    length_mm=chosen.screw_mm if chosen else None,
                )
            )
    return slots.model_copy(
        update={"on": wall.name, "rooms": tuple(face.frame.box(b) for b in rooms), "screws": tuple(screws)}
    )


def _shifted(box: Box, by: float) -> Box:
    (x, y, z), (u, v, w) = box
    return Box((x, y, z + by), (u, v, w + by))


def _made(s: FanSlots, along: Vec2, across: Vec2, high: Vec2) -> Box:
    """A box beside a fan, by what it covers along its rails and across them, and from where to where over the wall; in the face's frame, its inner side at 0."""
    lo, hi = [0.0, 0.0, -high[1]], [0.0, 0.0, -high[0]]
    (lo[s.along], hi[s.along]), (lo[1 - s.along], hi[1 - s.along]) = along, across
    return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


def _across(s: FanSlots, side: int) -> Vec2:
    """What a rail covers across."""
    k = 1 - s.along
    return (
        (s.lo_mm[k] - s.gap_mm - s.rail_mm, s.lo_mm[k] - s.gap_mm)
        if side < 0
        else (s.hi_mm[k] + s.gap_mm, s.hi_mm[k] + s.gap_mm + s.rail_mm)
    )


def _rail(s: FanSlots, side: int) -> Box:
    """A rail beside a fan without its stops: longer than the fan by these."""
    end = s.gap_mm + STOP_MM
    high = s.takes_mm[-1] + FOAM_MM + BAR_MM + s.gap_mm + OVER_SLOT_MM
    return _made(s, (s.lo_mm[s.along] - end, s.hi_mm[s.along] + end), _across(s, side), (0.0, high))


def _stops(s: FanSlots, side: int) -> Iterator[Box]:
    a, b = _across(s, side)
    inward = (b - 1.0, b + s.gap_mm + STOP_IN_MM) if side < 0 else (a - s.gap_mm - STOP_IN_MM, a + 1.0)
    for lo, hi in (
        (s.lo_mm[s.along] - s.gap_mm - STOP_MM, s.lo_mm[s.along] - s.gap_mm),
        (s.hi_mm[s.along] + s.gap_mm, s.hi_mm[s.along] + s.gap_mm + STOP_MM),
    ):
        yield _made(s, (lo, hi), inward, (0.0, STOP_HIGH_MM))


def _at(s: FanSlots, k: int) -> float:
    """The middle of a bar along the rails."""
    return s.lo_mm[s.along] + FROM_END_MM if k < 0 else s.hi_mm[s.along] - FROM_END_MM


def _slot(s: FanSlots, side: int, k: int, thick: float) -> Box:
    """A slot of a rail for a bar behind a fan so thick."""
    q, half, (a, b) = _at(s, k), BAR_WIDE_MM / 2 + s.gap_mm, _across(s, side)
    low = thick + FOAM_MM
    return _made(s, (q - half, q + half), (a - OVER, b + OVER), (low, low + BAR_MM + s.gap_mm))


def _bar(s: FanSlots, k: int) -> tuple[Box, Box]:
    """A bar in its slots and its head, at the one end or the other: heads of both bars never meet."""
    q, low = _at(s, k), s.own_mm + FOAM_MM + s.gap_mm / 2
    lo, hi = _across(s, -1)[0] - s.gap_mm, _across(s, 1)[1] + s.gap_mm
    head = (lo - HEAD_MM, lo) if k > 0 else (hi, hi + HEAD_MM)
    body = (lo - HEAD_MM, hi + TAIL_MM) if k > 0 else (lo - TAIL_MM, hi + HEAD_MM)
    high = (low, low + BAR_MM)
    return (
        _made(s, (q - BAR_WIDE_MM / 2, q + BAR_WIDE_MM / 2), body, high),
        _made(s, (q - HEAD_WIDE_MM / 2, q + HEAD_WIDE_MM / 2), head, high),
    )


def _pin(design: Design, printer: Printer, s: FanSlots, k: int) -> Vec3:
    """Where the hole of a bar's pin is along and across, in the face's frame, and how wide: just beyond the rail."""
    d = val("printing.feature.filament_pin_d")
    d += fit(design, printer, "dowel_slip", (s.part,), d).value
    (lo, _), (_, hi) = _across(s, -1), _across(s, 1)
    across = hi + s.gap_mm + d / 2 if k > 0 else lo - s.gap_mm - d / 2
    uv = (across, _at(s, k)) if s.along == 1 else (_at(s, k), across)
    return (*uv, d)


def rail_solid(s: FanSlots, side: int, screws: tuple[Solid, ...]) -> Solid:
    """A rail with its stops, its slots and the holes of its screws, in the face's frame from the wall's inner side."""
    cut = [block(_slot(s, side, k, x)) for k in (-1, 1) for x in s.takes_mm]
    return Difference(Union((block(_rail(s, side)), *map(block, _stops(s, side)))), (*cut, *screws))


def bar_solid(design: Design, printer: Printer, s: FanSlots, k: int) -> Solid:
    """A bar with its head and the hole for its pin, in the face's frame from the wall's inner side."""
    bar, head = _bar(s, k)
    x, y, d = _pin(design, printer, s, k)
    return Difference(
        Union((block(bar), block(head))), (through([circle(x, y, d)], _IN_FACE, bar.lo[2] - OVER, bar.hi[2] + OVER),)
    )


_IN_FACE = Frame((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))


def _on_wall(face: CaseFace) -> Frame:
    """The face's frame with its origin on the wall's inner side."""
    return Frame(face.frame.point((0.0, 0.0, -face.thick_mm)), face.frame.x, face.frame.y, face.frame.z)


def _pieces(design: Design, printer: Printer, s: FanSlots, to: Frame) -> list[Solid]:
    """Rails and bars in the case: the holes of screws are drawn there."""
    out: list[Solid] = []
    for n, side in enumerate((-1, 1)):
        holes = tuple(screw_hole(j) for j in s.screws[2 * n : 2 * n + 2])
        out.append(Difference(Move(rail_solid(s, side, ()), to), holes))
    return [*out, *(Move(bar_solid(design, printer, s, k), to) for k in (-1, 1))]


def _standing(design: Design, printer: Printer, face: CaseFace, s: FanSlots, tools: tuple[Solid, ...]) -> Solid:
    return Union(tuple(_pieces(design, printer, s, _on_wall(face))))


def _lying(design: Design, printer: Printer, face: CaseFace, s: FanSlots) -> Solid:
    """Rails on the bed, each on its outer side, so that its slots need no support, and bars flat; one behind another."""
    to, space = _on_wall(face), val("printing.feature.piece_gap")
    along: Vec3 = (1.0, 0.0, 0.0) if s.along == 0 else (0.0, 1.0, 0.0)
    across: Vec3 = (0.0, 1.0, 0.0) if s.along == 0 else (1.0, 0.0, 0.0)
    out: list[Solid] = []
    y = 0.0
    for solid, box, x, z in (
        *(
            (p, _rail(s, side), along, (side * across[0] * -1.0, side * across[1] * -1.0, 0.0))
            for p, side in zip(_pieces(design, printer, s, to)[:2], (-1, 1), strict=True)
        ),
        *(
            (p, hull(list(_bar(s, k))), across, (0.0, 0.0, 1.0))
            for p, k in zip(_pieces(design, printer, s, to)[2:], (-1, 1), strict=True)
        ),
    ):
        lies = Frame(
            (0.0, 0.0, 0.0), x, (z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]), z
        )
        there = lies.inverse.box(box)
        out.append(Move(Move(solid, to.then(lies).inverse), at(-there.lo[0], y - there.lo[1], -there.lo[2])))
        y += there.size[1] + space
    return Union(tuple(out))


def _drilled(whole: Body, found: tuple[FanSlots, ...], tools: tuple[Solid, ...]) -> Solid:
    """A wall with the holes of the screws of rails."""
    holes = tuple(bore(j.at, j.along, j.clearance_mm, -(j.grip_mm + OVER), OVER) for s in found for j in s.screws)
    return grown(whole(tools), (), holes)
