"""Shapes that several constructions are made of: holes along any axis, plates with round corners."""

from __future__ import annotations

from math import cos, radians

from rhombex.core.case.joints import Joint
from rhombex.core.fit.joints import nut_across_mm, nut_slot_mm
from rhombex.core.geometry.recipe import Loop, Move, Revolve, Solid, Union, circle, prism, profile, rect, snap, through
from rhombex.core.geometry.recipe import at as placed_at
from rhombex.core.space import Box, Frame, Vec3

OVER = 1.0  # tools run this far past the faces they cut


def bore(at: Vec3, along: Vec3, d_mm: float, start_mm: float, end_mm: float) -> Solid:
    """A round tool about an axis of the case, from so far along it to so far; `at` is where it counts from."""
    i = next(k for k in range(3) if along[k])
    x: Vec3 = (0.0, 1.0, 0.0) if i == 0 else (0.0, 0.0, 1.0) if i == 1 else (1.0, 0.0, 0.0)
    y: Vec3 = (
        along[1] * x[2] - along[2] * x[1],
        along[2] * x[0] - along[0] * x[2],
        along[0] * x[1] - along[1] * x[0],
    )
    return through([circle(0, 0, d_mm)], Frame(at, x, y, along), start_mm, end_mm)


def nut_slot(at: Vec3, along: Vec3, slot: Vec3, thread: str, reach_mm: float) -> Solid:
    """What a captive nut is slid into, from so far beside a screw's axis: flats of the nut along its walls, a corner to its blind end. `at`:
    where the screw enters the plastic that it pulls on."""
    half = nut_across_mm(thread) / 2
    start, end = nut_slot_mm(thread)
    y: Vec3 = (
        along[1] * slot[2] - along[2] * slot[1],
        along[2] * slot[0] - along[0] * slot[2],
        along[0] * slot[1] - along[1] * slot[0],
    )
    blind = half / cos(radians(30))
    return through([rect(-blind, -half, reach_mm, half)], Frame(at, slot, y, along), start, end)


def nut_pocket(thread: str, hole_mm: float, deep_mm: float, high_mm: float, bridge_mm: float) -> Solid:
    """A hole through a post on z = 0 to `high_mm`, with a nut's pocket in its underside. The pocket's ceiling prints without support: its first layer bridges
    the pocket on either side of a slot, the next one the slot on either side of a square, on which the round hole stands (common practice)."""
    flat, r = nut_across_mm(thread) / 2, hole_mm / 2
    corner = flat / cos(radians(30))
    half = corner / 2
    six: Loop = tuple(
        (x, y, 0.0)
        for x, y in ((corner, 0.0), (half, flat), (-half, flat), (-corner, 0.0), (-half, -flat), (half, -flat))
    )
    end = corner - r / 3**0.5  # of the slot along the pocket's sides
    slot: Loop = tuple(
        (x, y, 0.0) for x, y in ((corner, 0.0), (end, r), (-end, r), (-corner, 0.0), (-end, -r), (end, -r))
    )
    first, second = deep_mm + bridge_mm, deep_mm + 2 * bridge_mm
    return Union(
        (
            prism(six, -OVER, deep_mm),
            prism(slot, 0.0, first),
            prism(rect(-r, -r, r, r), 0.0, second),
            prism(circle(0, 0, hole_mm), 0.0, high_mm + OVER),
        )
    )


def head_room(j: Joint) -> list[Solid]:
    """What the head of a case's screw is sunk into, in what it holds: a round recess, and a cone of 90 degrees under a countersunk one."""
    outside = j.passed_mm + j.head_depth_mm
    out: list[Solid] = []
    if j.head_depth_mm > 0:
        out.append(bore(j.at, j.along, j.head_d_mm, -outside - OVER, -j.passed_mm))
    if j.cone_mm > 0:
        wide, r = j.head_d_mm / 2, j.clearance_mm / 2
        x: Vec3 = (0.0, 0.0, 1.0) if j.along[2] == 0 else (1.0, 0.0, 0.0)
        y: Vec3 = (
            j.along[1] * x[2] - j.along[2] * x[1],
            j.along[2] * x[0] - j.along[0] * x[2],
            j.along[0] * x[1] - j.along[1] * x[0],
        )
        # over the mouth it goes on as wide as the head; it ends within the hole, so that no two faces lie in one another
        end = r - min(r / 2, 0.5)
        outline = [(0.0, -OVER), (wide, -OVER), (wide, 0.0), (end, wide - end), (0.0, wide - end)]
        at: Vec3 = tuple(a - b * j.passed_mm for a, b in zip(j.at, j.along, strict=True))  # type: ignore[assignment]
        turned = Revolve(profile([tuple((snap(p), snap(q), 0.0) for p, q in outline)]))
        out.append(Move(turned, Frame(at, x, y, j.along)))
    return out


def screw_hole(j: Joint) -> Solid:
    """The hole of a case's screw in what it goes into, with the slot of its nut, or the pocket under the floor."""
    if j.pocket_mm > 0:
        tool = nut_pocket(j.thread, j.hole_mm, j.pocket_mm, j.hole_depth_mm, j.bridge_mm)
        return Move(tool, placed_at(j.at[0], j.at[1], j.at[2] - j.hole_depth_mm))
    hole = bore(j.at, j.along, j.hole_mm, -OVER, j.hole_depth_mm)
    if j.holding != "captive nut" or j.slot is None:
        return hole
    return Union((hole, nut_slot(j.at, j.along, j.slot, j.thread, j.od_mm / 2 + OVER)))


def most_room(at: Vec3, along: Vec3, room: Box) -> Vec3:
    """The way along an axis of the case, square to a screw, in which most of the room lies: a nut is slid in from there."""
    ways: list[tuple[float, Vec3]] = []
    for i in range(3):
        if abs(along[i]) < 0.5:
            for far, way in ((room.hi[i] - at[i], 1.0), (at[i] - room.lo[i], -1.0)):
                ways.append((far, tuple(way if k == i else 0.0 for k in range(3))))  # type: ignore[arg-type]
    return max(ways, key=lambda w: w[0])[1]
