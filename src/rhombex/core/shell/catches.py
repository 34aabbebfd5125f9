"""Catches of a wrap: arms that stand on its core beside the walls, and whose noses catch in these as the wrap drops over them."""

from __future__ import annotations

from math import ceil

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import cavity
from rhombex.core.bench.open_walls import open_walls
from rhombex.core.case.joints import Snap
from rhombex.core.case.mounts import Mount
from rhombex.core.constructions import Snaps
from rhombex.core.design import Design
from rhombex.core.fit.arms import borne, long_enough_mm
from rhombex.core.reference import val
from rhombex.core.shell.box import inner_radius_mm
from rhombex.core.shell.core_of_sheet import CORE, WRAP
from rhombex.core.shell.snaps import along_walls, arm_box, stands_there

LEAST_LONG_MM = 8.0  # of an arm: shorter ones are stiff however little they are bent; common practice
BEHIND_MM = 0.8  # of the wall, that stays behind a nose; common practice


def nose_mm(snaps: Snaps) -> float:
    """How high the nose of an arm is over its catching edge."""
    c = snaps.catch_mm
    return c + val("fasteners.snap.land") + (c + val("fasteners.snap.gap")) * val("fasteners.snap.lead")


def long_mm(design: Design, snaps: Snaps) -> float:
    """How long arms are from the floor to where they catch: as long as their filament wants them, or as the room is high."""
    wants = max(LEAST_LONG_MM, ceil(long_enough_mm(snaps.arm_mm, snaps.catch_mm, borne(design, CORE).value)))
    return min(float(wants), design.shell.inner_mm[2] - nose_mm(snaps) - 1.0)


def catches_of(
    design: Design, snaps: Snaps, things: tuple[Thing, ...], mounts: tuple[Mount, ...]
) -> tuple[tuple[Snap, ...], int]:
    """The catches that found a place, and how many are wanted."""
    room, s = cavity(design), design.shell
    gap, c, floor = val("fasteners.snap.gap"), snaps.catch_mm, room.lo[2]
    long = long_mm(design, snaps)
    catch_z, tip_z = floor + long, floor + long + nose_mm(snaps)
    walls = [b for boxes in open_walls(design, things).values() for b in boxes]
    spots, wanted = along_walls(
        room, snaps, [*stands_there(design, things, mounts), *walls], gap, inner_radius_mm(design), (floor, tip_z)
    )
    if long < gap + 1.0 or s.wall_mm < c + val("fasteners.snap.play") + BEHIND_MM:
        return (), wanted
    out = []
    for face, n, inward, near, q, count in spots:
        at, way = [0.0, 0.0, catch_z], [0.0, 0.0, 0.0]
        at[n], at[1 - n], way[n] = near, q, inward
        wall, deep = near - inward * (s.wall_mm + gap), inward * (s.wall_mm + gap + snaps.arm_mm)
        out.append(
            Snap(
                id=f"catch-{face}-{count}",
                name=WRAP,
                holds=WRAP,
                into=CORE,
                at=(at[0], at[1], at[2]),
                along=(0.0, 0.0, 1.0),
                inward=(way[0], way[1], way[2]),
                boss=arm_box(n, wall, deep, q, snaps.wide_mm + 1, floor, tip_z),
                od_mm=snaps.wide_mm,
                arm_mm=snaps.arm_mm,
                wide_mm=snaps.wide_mm,
                catch_mm=c,
                long_mm=long,
                tip_mm=tip_z,
                standing=True,
            )
        )
    return tuple(out), wanted
