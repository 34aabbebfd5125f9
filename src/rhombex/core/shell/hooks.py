"""Hooks under the free end of what is held at one end: a wedge on the wall beside it, screwed on from outside, so that it can come last."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from functools import partial
from math import hypot

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.bench.open_walls import open_walls
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import Hook
from rhombex.core.case.parts import Part
from rhombex.core.design import Design
from rhombex.core.fit.joints import boss_od_mm, hole_depth_mm
from rhombex.core.geometry.grown import grown
from rhombex.core.geometry.recipe import Difference, Loop, Move, Solid, at, snap, through
from rhombex.core.shell.case_screw import THREAD
from rhombex.core.shell.on_walls import in_face, inside, into_of, wall_behind
from rhombex.core.shell.places import slots
from rhombex.core.shell.props import GAP_MM, held_points
from rhombex.core.shell.solids import OVER, bore, screw_hole
from rhombex.core.shell.wall_screw import wall_screw
from rhombex.core.space import OUTWARD, Box, Face, Frame, Vec3
from rhombex.core.workshop.printer import Printer

LAP_MM = 10.0  # of its top under what lies on it; common practice
TIP_MM = 3.0  # at its end; common practice
FAR_MM = 60.0  # a wall that is farther has none: a post is stiffer
FREE = (
    0.6  # of the way from where a component is held to its farthest corner: nearer is not its free end; common practice
)
STEP_MM = 4.0
CLEAR_MM = 0.5  # of all else that stands inside
BETWEEN_MM = 1.0  # of its two screws' plastic
UNDER_MM = 0.5  # of plastic over that of its screws
UPRIGHT: tuple[Face, ...] = ("front", "back", "left", "right")


def with_hooks(design: Design, printer: Printer, built: Built, things: tuple[Thing, ...]) -> Built:
    """The case with the hooks that were wished and found a place (a rule tells where they do not)."""
    found: list[Hook] = []
    for t in (t for t in things if t.placement.rests_on == "hook"):
        one = hook_of(design, printer, built.case.model_copy(update={"hooks": tuple(found)}), things, t)
        if one is not None and all(one.part != h.part for h in found):  # names are cut off: two long ones may be alike
            found.append(one)
    if not found:
        return built
    bodies, on_bed, parts = dict(built.bodies), dict(built.on_bed), list(built.case.parts)
    for wall in dict.fromkeys(h.on for h in found):
        bodies[wall] = partial(_drilled, bodies[wall], tuple(h for h in found if h.on == wall))
    for h in found:
        on = built.case.part(h.on)
        rides = {"put_on": on.put_on, "rides": on.name} if on.put_on else {}
        parts.append(Part(name=h.part, size_mm=None, down="bottom", plates=()).model_copy(update=rides))
        bodies[h.part] = partial(_standing, h)
        on_bed[h.part] = Move(Move(_in_place(h), h.frame.inverse), at(0.0, 0.0, h.wide_mm / 2))
    case = built.case.model_copy(update={"hooks": tuple(found), "parts": tuple(parts)})
    return replace(built, case=case, bodies=bodies, on_bed=on_bed)


def hook_of(design: Design, printer: Printer, case: Case, things: tuple[Thing, ...], t: Thing) -> Hook | None:
    """The hook under the free end of a component: as far from where that is held as one finds a place. None where no plain printed wall is near that end, or
    something is in the way of all."""
    holds = held_points(t)
    if not holds:
        return None
    there = [s.box for x in things if x.id != t.id for s in x.solids]
    there += [m.box for m in case.mounts] + [p.box for p in case.props] + [x.box for x in case.lifts]
    there += [b.boss for b in case.kept_whole] + [r for b in case.brackets for r in b.rooms]
    there += [h.room for h in case.hooks]

    def far(p: Vec3) -> float:
        return min(hypot(p[0] - x, p[1] - y) for x, y in holds)

    open_: dict[str, list[Box]] = {f: b for f, b in open_walls(design, things).items()}  # noqa: C416
    corners = [(x, y, 0.0) for s in hard(t) for x in (s.box.lo[0], s.box.hi[0]) for y in (s.box.lo[1], s.box.hi[1])]
    least = FREE * max(map(far, corners), default=0.0)
    ways = [
        (far(tip), face, under, u)
        for face in case.faces
        if face.id in UPRIGHT
        for under, u, tip in _places(design, face, t)
    ]
    for reached, face, under, u in sorted(ways, key=lambda w: -w[0]):
        if reached < least:
            break
        one = _hook(design, printer, case, t, face, under, u, there, open_[face.id])
        if one is not None:
            return one
    return None


def _wide_mm(design: Design) -> float:
    return 2 * boss_od_mm(THREAD, into_of(design)) + BETWEEN_MM


def _places(design: Design, face: CaseFace, t: Thing) -> Iterator[tuple[Box, float, Vec3]]:
    """Where a hook on a face may carry a component: the solid, in the face's frame, how far along the face, and the middle of the hook's end."""
    half = _wide_mm(design) / 2
    for s in hard(t):
        if s.role not in ("body", "board") or s.round_axis is not None:
            continue
        under = in_face(face, s.box)
        away = -face.thick_mm - under.hi[2]
        if not 0 <= away <= FAR_MM or under.size[2] < LAP_MM or under.size[0] < 2 * half:
            continue
        lo, hi = under.lo[0] + half, under.hi[0] - half
        for u in slots(lo, hi, (lo + hi) / 2, STEP_MM):
            yield under, u, face.frame.point((u, under.lo[1], under.hi[2] - LAP_MM))
        for u in (lo, hi):
            yield under, u, face.frame.point((u, under.lo[1], under.hi[2] - LAP_MM))


def _hook(
    design: Design,
    printer: Printer,
    case: Case,
    t: Thing,
    face: CaseFace,
    under: Box,
    u: float,
    there: list[Box],
    open_: list[Box],
) -> Hook | None:
    """The hook `u` along a face under a solid, both in the face's frame; None where something is `there`, or its wall will be open behind it."""
    out, od, wide = into_of(design), boss_od_mm(THREAD, into_of(design)), _wide_mm(design)
    deep, inner = hole_depth_mm(THREAD, out), -face.thick_mm
    reach = inner - under.hi[2] + LAP_MM
    tip = max(TIP_MM, od + UNDER_MM + deep - reach)  # its screws' holes end in plastic
    top, high = under.lo[1] - GAP_MM, reach + tip
    rect = (u - wide / 2, top - high, u + wide / 2, top)
    wall = wall_behind(case, face, rect)
    if wall is None or not inside(
        case, face, room := Box((rect[0], rect[1], inner - reach), (rect[2], rect[3], inner))
    ):
        return None
    way = OUTWARD[face.id]  # type: ignore[index]
    if wall.put_on is not None and any(abs(a + b) > 1e-6 for a, b in zip(wall.put_on.along, way, strict=True)):
        return None  # a wall that comes from above or from the side would bring it through what it carries
    holes = [in_face(face, b) for b in open_]
    if any(b.lo[0] < rect[2] and b.hi[0] > rect[0] and b.lo[1] < rect[3] and b.hi[1] > rect[1] for b in holes):
        return None
    stands = face.frame.box(room)
    about = stands.grown(CLEAR_MM)
    if any(about.meets(b) for b in there) or any(stands.meets(s.box) for s in t.solids):
        return None
    name, level = f"hook-{t.id}"[:40], top - UNDER_MM - od / 2
    chosen = design.joint(f"hook/{t.id}")

    def screw(number: int, side: float) -> Joint:
        x = u + side * (od + BETWEEN_MM) / 2
        return wall_screw(
            design,
            printer,
            case,
            face,
            wall,
            id=f"{t.id}-hook-{number}",
            name=f"hook of {t.name}",
            into=name,
            at=(x, level),
            od_mm=od,
            deep_mm=deep,
            holding=out,
            length_mm=chosen.screw_mm if chosen else None,
        )

    return Hook(
        of=t.id,
        part=name,
        on=wall.name,
        face=face.id,
        frame=Frame(
            face.frame.point((u, top, inner)),
            face.frame.vector((0.0, 0.0, -1.0)),
            face.frame.vector((0.0, 1.0, 0.0)),
            face.frame.vector((1.0, 0.0, 0.0)),
        ),
        reach_mm=reach,
        tip_mm=tip,
        wide_mm=wide,
        room=face.frame.box(room),
        screws=(screw(1, -1.0), screw(2, 1.0)),
    )


def _loop(h: Hook) -> Loop:
    """A hook from the side: down the wall, up its slope of 45 degrees to its end, back along its top."""
    corners = [(0.0, 0.0), (0.0, -h.reach_mm - h.tip_mm), (h.reach_mm, -h.tip_mm), (h.reach_mm, 0.0)]
    return tuple((snap(x), snap(y), 0.0) for x, y in corners)


def _in_place(h: Hook) -> Solid:
    whole = through([_loop(h)], h.frame, -h.wide_mm / 2, h.wide_mm / 2)
    return Difference(whole, tuple(screw_hole(j) for j in h.screws))


def _standing(h: Hook, tools: tuple[Solid, ...]) -> Solid:
    return _in_place(h)


def _drilled(whole: Body, hooks: tuple[Hook, ...], tools: tuple[Solid, ...]) -> Solid:
    """A wall with the holes of the screws of its hooks."""
    holes = tuple(bore(j.at, j.along, j.clearance_mm, -(j.grip_mm + OVER), OVER) for h in hooks for j in h.screws)
    return grown(whole(tools), (), holes)
