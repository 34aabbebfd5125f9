"""Snap hooks: arms that hang from a lid along the walls and catch in the base, or stand on a core and catch in its wrap, drawn so that no part needs support."""

from __future__ import annotations

from shapely import Polygon
from shapely.geometry.polygon import orient

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import cavity
from rhombex.core.case.fittings import Hinges
from rhombex.core.case.joints import Snap
from rhombex.core.case.mounts import Mount
from rhombex.core.constructions import Snaps
from rhombex.core.design import Design
from rhombex.core.geometry.recipe import Loop, Solid, Union, block, through
from rhombex.core.reference import val
from rhombex.core.shell.places import slots
from rhombex.core.shell.plugs import ways_through
from rhombex.core.shell.rim import Rim
from rhombex.core.space import Box, Frame, Vec2, Vec3

Spot = tuple[
    str, int, float, float, float, int
]  # a face, across which axis, the way inward, the arm's outer face, where along the wall, its number
SPAN_MM = 90.0  # a side longer than this has two hooks; common practice
WAYS: tuple[tuple[str, int, float], ...] = (("front", 1, 1.0), ("back", 1, -1.0), ("left", 0, 1.0), ("right", 0, -1.0))


def snaps_of(
    design: Design,
    snaps: Snaps,
    things: tuple[Thing, ...],
    mounts: tuple[Mount, ...],
    rim: Rim,
    joint_z: float,
    hinge: Hinges | None = None,
) -> tuple[tuple[Snap, ...], int]:
    """The hooks that found a place, and how many are wanted: one or two on each side, clear of everything that stands there."""
    room, s = cavity(design), design.shell
    gap = val("fasteners.snap.gap")
    top = room.hi[2]
    catch_z = (
        joint_z - rim.band_height_mm - val("fasteners.snap.under")
    )  # where the nose's catching face is nearest to the wall
    tip_z = catch_z - snaps.catch_mm - val("fasteners.snap.land") - (snaps.catch_mm + gap) * val("fasteners.snap.lead")
    blocked = stands_there(design, things, mounts)
    inset = rim.band_mm - s.wall_mm + gap
    spots, wanted = along_walls(
        room, snaps, blocked, inset, rim.band_mm, (tip_z, top), hinge.side if hinge is not None else ""
    )
    out = []
    for face, n, inward, near, q, count in spots if tip_z > room.lo[2] + 0.5 else ():
        at, way = [0.0, 0.0, catch_z], [0.0, 0.0, 0.0]
        at[n], at[1 - n], way[n] = near, q, inward
        wall, deep = near - inward * (rim.band_mm + gap), inward * (rim.band_mm + gap + snaps.arm_mm)
        out.append(
            Snap(
                id=f"snap-{face}-{count}",
                name="lid",
                holds="lid",
                into="base",
                at=(at[0], at[1], at[2]),
                along=(0.0, 0.0, -1.0),
                inward=(way[0], way[1], way[2]),
                boss=arm_box(n, wall, deep, q, snaps.wide_mm + 1, tip_z, top),
                od_mm=snaps.wide_mm,
                arm_mm=snaps.arm_mm,
                wide_mm=snaps.wide_mm,
                catch_mm=snaps.catch_mm,
                long_mm=top - catch_z,
                tip_mm=tip_z,
            )
        )
    return tuple(out), wanted


def stands_there(design: Design, things: tuple[Thing, ...], mounts: tuple[Mount, ...]) -> list[Box]:
    """What arms keep off: components, posts and the ways of plugs."""
    r = 0.5
    blocked = [b.box.grown(r) for t in things for b in t.solids]
    blocked += [
        Box(
            (m.at[0] - m.od_mm / 2 - r, m.at[1] - m.od_mm / 2 - r, 0),
            (m.at[0] + m.od_mm / 2 + r, m.at[1] + m.od_mm / 2 + r, m.top_mm),
        )
        for m in mounts
    ]
    return blocked + ways_through(design, things, ("front", "back", "left", "right"))


def along_walls(
    room: Box, snaps: Snaps, blocked: list[Box], inset_mm: float, edge_mm: float, z: Vec2, hinged: str = ""
) -> tuple[list[Spot], int]:
    """Where arms find a place, and how many are wanted: one or two on each side but a `hinged` one, `inset_mm` from the room's side and clear of the corners
    by `edge_mm`."""
    out: list[Spot] = []
    wanted = 0
    for face, n, inward in WAYS:
        if face == hinged:
            continue  # that side is held by its hinges
        k = 1 - n  # along the wall
        near = (room.lo[n] if inward > 0 else room.hi[n]) + inward * inset_mm
        lo, hi = room.lo[k] + edge_mm + snaps.wide_mm, room.hi[k] - edge_mm - snaps.wide_mm
        if hi <= lo:
            continue
        length = hi - lo
        wants = [(lo + hi) / 2] if length < SPAN_MM else [lo + length / 4, hi - length / 4]
        wanted += len(wants)
        taken: list[float] = []
        for want in wants:
            for q in slots(lo, hi, want, 2.0):
                if abs(q - want) > length / 4 + 1 or any(abs(q - x) < 2 * snaps.wide_mm for x in taken):
                    continue
                box = arm_box(n, near, inward * snaps.arm_mm, q, snaps.wide_mm, *z)
                if all(max(box.gaps(b)) > 0 for b in blocked):
                    taken.append(q)
                    out.append((face, n, inward, near, q, len(taken)))
                    break
    return out, wanted


def arm_box(n: int, near: float, thick: float, q: float, wide: float, z0: float, z1: float) -> Box:
    """An arm beside the wall across axis n: from its outer face inward by `thick`, `wide` about q."""
    lo, hi = [0.0, 0.0, z0], [0.0, 0.0, z1]
    lo[n], hi[n] = sorted((near, near + thick))
    lo[1 - n], hi[1 - n] = q - wide / 2, q + wide / 2
    return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


def _profile(s: Snap, grown: float, root_z: float) -> Loop:
    """The hook in its plane: outward along the first axis from the arm's outer face, height along the second. `grown`: the nose alone, so much larger on all
    sides: its socket."""
    z, c, gap = s.at[2], s.catch_mm, val("fasteners.snap.gap")
    up = -s.along[2]  # from the nose to the root
    land, lead = val("fasteners.snap.land"), val("fasteners.snap.lead")
    reach = c + gap  # beyond the arm's outer face
    nose = [(0.0, gap), (reach, -c), (reach, -c - land), (0.0, -c - land - reach * lead)]
    nose = [(x, z + up * y) for x, y in nose]
    if grown:
        p = Polygon([(-0.1, nose[0][1]), *nose[1:3], (-0.1, nose[3][1])]).buffer(grown, join_style="mitre")
    else:
        p = Polygon([*nose, (-s.arm_mm, nose[3][1]), (-s.arm_mm, root_z), (0.0, root_z)])
    return tuple((float(x), float(y), 0.0) for x, y in list(orient(p).exterior.coords)[:-1])


def _drawn(s: Snap, loop: Loop, wide: float) -> Solid:
    """A profile drawn out along the wall; outward is against `inward`."""
    x: Vec3 = (-s.inward[0] + 0.0, -s.inward[1] + 0.0, 0.0)
    y: Vec3 = (0.0, 0.0, 1.0)
    z: Vec3 = (x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0])
    return through([loop], Frame((s.at[0], s.at[1], 0.0), x, y, z), -wide / 2, wide / 2)


def hooks(snaps: tuple[Snap, ...], plate_z: float) -> list[Solid]:
    """The hooks as they hang from, or stand on, a plate whose inner face is at `plate_z`, sunk into it a little."""
    return [_drawn(s, _profile(s, 0.0, plate_z - 0.5 * s.along[2]), s.wide_mm) for s in snaps]


def room_round(snaps: tuple[Snap, ...], low_z: float, plate_z: float) -> list[Solid]:
    """What is cut from the rim of the part that they are on, so that the arms stand free of it."""
    gap, out = val("fasteners.snap.gap"), []
    for s in snaps:
        n = next(k for k in range(2) if s.inward[k])
        near, thick = s.at[n] - s.inward[n] * gap, s.inward[n] * (s.arm_mm + 2 * gap)
        out.append(block(arm_box(n, near, thick, s.at[1 - n], s.wide_mm + 2 * gap, low_z, plate_z)))
    return out


def sockets(snaps: tuple[Snap, ...]) -> list[Solid]:
    """What is cut from a wall for the noses that reach into it."""
    play = val("fasteners.snap.play")
    return [Union((_drawn(s, _profile(s, play, 0.0), s.wide_mm + 2 * play),)) for s in snaps]
