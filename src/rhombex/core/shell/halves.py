"""Base and lid of the two-halves construction as recipes, in the case's frame."""

from __future__ import annotations

from rhombex.core.case import Case
from rhombex.core.case.joints import Joint, MagnetPair
from rhombex.core.design import Design
from rhombex.core.geometry.recipe import (
    Difference,
    Extrude,
    Filled,
    Intersection,
    Loft,
    Loop,
    Move,
    Profile,
    Solid,
    Union,
    at,
    circle,
    prism,
    profile,
    rect,
    rounded,
    snap,
)
from rhombex.core.shell.feet import foot_seats
from rhombex.core.shell.hinge import knuckles_of, over_side, pin_holes
from rhombex.core.shell.magnets import lifts_cut, pockets
from rhombex.core.shell.posts import with_posts
from rhombex.core.shell.rim import Rim
from rhombex.core.shell.snaps import hooks, room_round, sockets
from rhombex.core.shell.solids import OVER, head_room, screw_hole


def _outline(case: Case, inset: float, radius: float) -> Loop:
    w, d, _ = case.box_mm
    return rounded(inset, inset, w - inset, d - inset, radius)


def _ring(outer: Loop, inner: Loop, z0: float, z1: float) -> Solid:
    a, b = snap(z0), snap(z1)
    return Move(Extrude(profile([outer], [inner]), b - a), at(0, 0, a))


def _radius(design: Design, case: Case, inset: float) -> float:
    return max(design.shell.corner_radius_mm - inset, case.inner_radius_mm if inset > 0 else 0.0, 0.0)


def _band(design: Design, case: Case, rim: Rim, j: float, downward: bool) -> list[Solid]:
    """The wall's thickening at the rim, with a 45 degree ramp so that it prints without support."""
    wall = design.shell.wall_mm
    if rim.ramp_mm < 0.02:
        return []
    mid = _outline(case, wall / 2, _radius(design, case, wall / 2))
    inner_r = max(case.inner_radius_mm - rim.ramp_mm, 0.3)
    narrow = _outline(case, rim.band_mm, inner_r)
    wide = _outline(case, wall, inner_r + rim.ramp_mm)
    sign = -1 if downward else 1
    far = j + sign * rim.band_height_mm
    tip = far + sign * rim.ramp_mm
    ring = _ring(mid, narrow, min(j, far), max(j, far))
    lo, hi = (tip, far) if downward else (far, tip)
    bottom, top = (wide, narrow) if downward else (narrow, wide)
    hole = Move(Loft(Profile((bottom,)), Profile((top,)), snap(snap(hi) - snap(lo))), at(0, 0, lo))
    ramp = Difference(prism(mid, lo, hi), (hole,))
    half = (0.0, j) if downward else (j, case.box_mm[2])
    if half[0] <= min(lo, far) and max(hi, far) <= half[1]:
        return [ring, ramp]
    # a half lower than its rim needs: what would reach through floor or lid is cut off
    return [Intersection(Union((ring, ramp)), prism(_outline(case, 0, design.shell.corner_radius_mm), *half))]


def _bosses(design: Design, case: Case, rim: Rim, z0: float, z1: float) -> list[Solid]:
    """Columns of the lid screws, joined to the walls beside them without a hollow between, within the outline."""
    wall = design.shell.wall_mm
    solids: list[Solid] = []
    columns: tuple[Joint | MagnetPair, ...] = (*case.joints, *case.magnets)
    for b in columns:
        (x, y, _), r = b.at, b.od_mm / 2
        solids.append(prism(circle(x, y, b.od_mm), z0, z1))
        for near, far, axis in (
            (wall, x, 0),
            (case.box_mm[0] - wall, x, 0),
            (wall, y, 1),
            (case.box_mm[1] - wall, y, 1),
        ):
            if abs(far - near) - r > rim.ramp_mm + 1.0:
                continue
            over = near - 0.3 if near < far else near + 0.3
            lo, hi = min(over, far), max(over, far)
            web = rect(lo, y - r, hi, y + r) if axis == 0 else rect(x - r, lo, x + r, hi)
            solids.append(prism(web, z0, z1))
    if not solids:
        return []
    inside = prism(_outline(case, wall / 2, _radius(design, case, wall / 2)), z0, z1)
    return [Intersection(Union(tuple(solids)), inside)]


def base_body(design: Design, case: Case, rim: Rim, j: float, tools: tuple[Solid, ...]) -> Solid:
    """The lower half: floor, walls, posts, lid bosses, groove, seats for feet, and what is cut into it."""
    s = design.shell
    body = Difference(
        prism(_outline(case, 0, s.corner_radius_mm), 0, j),
        (prism(_outline(case, s.wall_mm, case.inner_radius_mm), s.floor_mm, j + OVER),),
    )
    sink = s.floor_mm / 2
    solids: list[Solid] = [body, *_band(design, case, rim, j, True)]
    solids += _bosses(design, case, rim, sink, j)
    solids += knuckles_of(case.hinge, "base", 0.0, case.box_mm[2]) if case.hinge else []
    groove_in, groove_out = rim.cheek_mm, rim.cheek_mm + rim.tongue_mm + 2 * rim.side_gap_mm
    own: list[Solid] = [
        _ring(
            _outline(case, groove_in, _radius(design, case, groove_in)),
            _outline(case, groove_out, _radius(design, case, groove_out)),
            j - rim.groove_depth_mm,
            j + OVER,
        )
    ]
    own += [screw_hole(b) for b in case.joints]
    own += [*pockets(case, "base"), *lifts_cut(case, "base"), *sockets(case.snaps)]
    own += foot_seats(case)
    own += pin_holes(case.hinge, "base") if case.hinge else []
    walls = Difference(Difference(Union(tuple(solids)), tuple(own)), tools)
    return Filled(with_posts(walls, case, "base", _outline(case, 0, s.corner_radius_mm), sink))


def lid_body(design: Design, case: Case, rim: Rim, j: float, tools: tuple[Solid, ...]) -> Solid:
    """The upper half: plate, skirt, tongue, screw columns, and what is cut into it."""
    s = design.shell
    h = case.box_mm[2]
    skirt = Difference(
        prism(_outline(case, 0, s.corner_radius_mm), j, h),
        (prism(_outline(case, s.wall_mm, case.inner_radius_mm), j - OVER, h - s.lid_mm),),
    )
    solids: list[Solid] = [skirt, *_band(design, case, rim, j, False)]
    inset = rim.cheek_mm + rim.side_gap_mm
    tongue = _ring(
        _outline(case, inset, _radius(design, case, inset)),
        _outline(case, inset + rim.tongue_mm, _radius(design, case, inset + rim.tongue_mm)),
        j - rim.tongue_height_mm,
        j + 0.5,
    )
    if case.hinge:  # beside the pins it would go through the groove's cheek as the lid turns
        deep = max(rim.band_mm, s.corner_radius_mm) + 1.0
        tongue = Difference(tongue, (over_side(case.hinge, deep, j - rim.tongue_height_mm - OVER, j),))
    solids.append(tongue)
    solids += _bosses(design, case, rim, j, h - s.lid_mm / 2)
    solids += knuckles_of(case.hinge, "lid", 0.0, h) if case.hinge else []
    own: list[Solid] = pockets(case, "lid")
    own += pin_holes(case.hinge, "lid") if case.hinge else []
    for b in case.joints:
        own.append(prism(circle(b.at[0], b.at[1], b.clearance_mm), j - 2 * OVER - rim.tongue_height_mm, h + OVER))
        own += head_room(b)
    body: Solid = Difference(Difference(Union(tuple(solids)), tuple(own)), tools)
    if case.snaps:
        plate = h - s.lid_mm
        low = j - rim.tongue_height_mm - OVER
        free = Difference(body, tuple(room_round(case.snaps, low, plate)))
        body = Union((free, *hooks(case.snaps, plate)))
    return Filled(body)
