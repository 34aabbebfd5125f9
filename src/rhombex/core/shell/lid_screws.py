"""Where the screws of a lid find a free place, and how long they are."""

from __future__ import annotations

from math import hypot

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.anchors import placed
from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.bench.open_walls import open_walls
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import Mount
from rhombex.core.constructions import THROUGH, TwoHalves
from rhombex.core.design import Design, VentField
from rhombex.core.fit.joints import boss_od_mm, core_mm, hole_depth_mm
from rhombex.core.shell.brackets import PRESSED, room_beside_mm
from rhombex.core.shell.case_screw import SPAN_MM, case_screw
from rhombex.core.shell.magnets import least_boss_mm
from rhombex.core.shell.places import Rect, first_free, slots
from rhombex.core.shell.rim import Rim
from rhombex.core.shell.solids import most_room
from rhombex.core.space import Box, Vec2, Vec3
from rhombex.core.workshop.printer import Printer

DOWN: Vec3 = (0.0, 0.0, -1.0)
WANTED_OVERLAP_MM = 1.0  # how far a boss is sunk into the wall beside it


def _within_corners(
    p: NDArray[np.float64], size: NDArray[np.float64], radius: float, inset: float
) -> NDArray[np.bool_]:
    """Whether bosses at p (n, 2) keep their inset from the outline where the outline is rounded."""
    over = np.maximum(radius - p, p - (size - radius))
    return (over <= 0).any(axis=1) | (np.hypot(over[:, 0], over[:, 1]) <= radius - inset)


def _near(at: Vec2, kind: int, size: NDArray[np.float64], inset: float, reach: float) -> NDArray[np.float64]:
    """Places (n, 2) along the edges on which a screw is wanted, the nearest first; `kind` 1: along x alone, 2: along y alone."""
    ways = (0, 1) if kind == 0 else (kind - 1,)
    rows = []
    for k in ways:
        row = np.tile(np.array(at, float), (len(q := slots(inset, float(size[k]) - inset, at[k], 2.0)), 1))
        row[:, k] = q
        rows.append(row)
    options = np.concatenate(rows)
    far = np.abs(options - at)
    order = np.argsort(far.sum(axis=1), kind="stable")
    inside: NDArray[np.bool_] = np.all(far <= reach * size, axis=1)
    return options[order[inside[order]]]


def lid_screws(
    design: Design,
    printer: Printer,
    halves: TwoHalves,
    things: tuple[Thing, ...],
    mounts: tuple[Mount, ...],
    rim: Rim,
    faces: dict[str, CaseFace],
) -> tuple[tuple[Joint, ...], int]:
    """The screws, or the pairs of magnets in their place, that found a free place, the same in base and lid, and how many are wanted."""
    s = design.shell
    w, d, high = outer_size(design)
    m = halves.magnets
    od = design.shell.boss_od_mm or (least_boss_mm(m, True) if m else boss_od_mm("M3", halves.joint_thread))
    core = hypot(m.d_mm, m.long_mm or 0.0) / 2 if m else core_mm("M3", halves.joint_thread)
    inset = max(rim.band_mm + core + 1.2, s.wall_mm + od / 2 - WANTED_OVERLAP_MM)
    beside = room_beside_mm(design)  # the brackets of a display come first: nothing else holds it
    pressed = {t.id for t in things if t.face is not None and t.component.family == PRESSED}
    blocked = [b.box.grown(0.4 + (beside if t.id in pressed else 0.0)) for t in things for b in t.solids]
    blocked += [
        Box(
            (p.at[0] - p.od_mm / 2, p.at[1] - p.od_mm / 2, 0),
            (p.at[0] + p.od_mm / 2, p.at[1] + p.od_mm / 2, 1),
        )
        for p in mounts
    ]
    blocked += [_vents_over(faces[v.face], v, things) for v in design.vents if v.face in ("top", "bottom")]
    r = od / 2

    rects = [(b.lo[0], b.lo[1], b.hi[0], b.hi[1]) for b in blocked]
    rects += _behind_openings(design, things)
    xs, ys = (inset, w - inset), (inset, d - inset)
    wanted: list[tuple[Vec2, int]] = [((x, y), 0) for y in ys for x in xs]
    if w - 2 * inset > SPAN_MM:
        wanted += [((w / 2, y), 1) for y in ys]
    if d - 2 * inset > SPAN_MM:
        wanted += [((x, d / 2), 2) for x in xs]
    if halves.hinge is not None:  # that side is held by it
        n, far = (1, d) if halves.hinge.side in ("front", "back") else (0, w)
        low = halves.hinge.side in ("front", "left")
        wanted = [x for x in wanted if (x[0][n] > far / 2 - 1e-6 if low else x[0][n] < far / 2 + 1e-6)]
    places: list[Vec2] = []
    size = np.array((w, d), float)
    taken = np.array(rects, float)
    for at, kind in wanted:
        here = np.array([at], float)  # where it is wanted it mostly finds its place
        spot = first_free(here, taken, r, places, 2 * od)
        if spot is None or not _within_corners(here, size, s.corner_radius_mm, inset)[0]:
            near = _near(at, kind, size, inset, 0.55 if kind == 0 else 0.3)
            near = near[_within_corners(near, size, s.corner_radius_mm, inset)]
            spot = first_free(near, taken, r, places, 2 * od)
        if spot is not None:
            places.append(spot)
    holding = "insert" if m else halves.joint_thread  # magnets stand in place of screws
    through = s.inner_mm[2] - halves.joint_mm + s.lid_mm
    z = halves.joint_mm + s.floor_mm
    if not places:
        return (), len(wanted)
    first = case_screw(
        design,
        printer,
        id="lid-1",
        name="lid",
        holds="lid",
        into="base",
        at=(*places[0], z),
        along=DOWN,
        boss=_boss(places[0], r, high),
        od_mm=od,
        through_mm=through,
        sunk=True,
        deep_mm=z if holding in THROUGH else min(hole_depth_mm("M3", holding), z - 0.8),
        holding=holding,
        length_mm=halves.lid_screw_mm,
        path="lid_screw_mm",
        slot=most_room((*places[0], z), DOWN, cavity(design)),
        deeper=True,
    )
    return tuple(
        first.model_copy(  # they differ in their places alone
            update={
                "id": f"lid-{k}",
                "at": (*p, z),
                "boss": _boss(p, r, high),
                "slot": first.slot and most_room((*p, z), DOWN, cavity(design)),
            }
        )
        for k, p in enumerate(places, 1)
    ), len(wanted)


def _boss(at: Vec2, radius: float, high: float) -> Box:
    return Box((at[0] - radius, at[1] - radius, 0.0), (at[0] + radius, at[1] + radius, high))


def _behind_openings(design: Design, things: tuple[Thing, ...]) -> list[Rect]:
    """The stretches of the sides' walls, in plan, that are open: a boss there would be cut, or stand in the opening."""
    (w, d, _), wall = outer_size(design), design.shell.wall_mm
    out: list[Rect] = []
    for face, boxes in open_walls(design, things).items():
        for lo, hi in ((b.lo, b.hi) for b in boxes):
            if face in ("left", "right"):
                out.append((0.0 if face == "left" else w - wall, lo[1], wall if face == "left" else w, hi[1]))
            elif face in ("front", "back"):
                out.append((lo[0], 0.0 if face == "front" else d - wall, hi[0], wall if face == "front" else d))
    return out


def _vents_over(face: CaseFace, v: VentField, things: tuple[Thing, ...]) -> Box:
    """The stretch of the floor's plan that a field of vents takes."""
    u, w = placed(face, v, things)
    du, dw = v.size_mm[0] / 2, v.size_mm[1] / 2
    (x0, x1), (y0, y1) = (face.stretch(i, u - du, w - dw, u + du, w + dw) for i in (0, 1))
    return Box((x0, y0, 0), (x1, y1, 1))
