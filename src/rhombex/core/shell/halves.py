"""Base and lid of the two-halves construction as recipes, in the case's frame."""

from __future__ import annotations

from rhombex.core.design import Design
from rhombex.core.geometry.recipe import (
    Difference,
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
    through,
)
from rhombex.core.geometry.recipe import Extrude as _Extrude
from rhombex.core.openings.place import Opening, Openings, face_thickness, opening_loop, vent_loops
from rhombex.core.reference import val
from rhombex.core.shell.plan import ShellPlan
from rhombex.core.space import Face, Vec3, face_frame, face_origin

OVER = 1.0  # tools run this far past the faces they cut


def _outline(plan: ShellPlan, inset: float, radius: float) -> Loop:
    w, d, _ = plan.outer_mm
    return rounded(inset, inset, w - inset, d - inset, radius)


def _ring(outer: Loop, inner: Loop, z0: float, z1: float) -> Solid:
    a, b = snap(z0), snap(z1)
    return Move(_Extrude(profile([outer], [inner]), b - a), at(0, 0, a))


def _radius(design: Design, plan: ShellPlan, inset: float) -> float:
    return max(design.shell.corner_radius_mm - inset, plan.inner_radius_mm if inset > 0 else 0.0, 0.0)


def _band(design: Design, plan: ShellPlan, downward: bool) -> list[Solid]:
    """The wall's thickening at the rim, with a 45 degree ramp so that it prints without support."""
    rim, wall = plan.rim, design.shell.wall_mm
    if rim.ramp_mm < 0.02:
        return []
    j = plan.joint_z_mm
    mid = _outline(plan, wall / 2, _radius(design, plan, wall / 2))
    inner_r = max(plan.inner_radius_mm - rim.ramp_mm, 0.3)
    narrow = _outline(plan, rim.band_mm, inner_r)
    wide = _outline(plan, wall, inner_r + rim.ramp_mm)
    sign = -1 if downward else 1
    far = j + sign * rim.band_height_mm
    tip = far + sign * rim.ramp_mm
    ring = _ring(mid, narrow, min(j, far), max(j, far))
    lo, hi = (tip, far) if downward else (far, tip)
    bottom, top = (wide, narrow) if downward else (narrow, wide)
    hole = Move(Loft(Profile((bottom,)), Profile((top,)), snap(snap(hi) - snap(lo))), at(0, 0, lo))
    ramp = Difference(prism(mid, lo, hi), (hole,))
    half = (0.0, j) if downward else (j, plan.outer_mm[2])
    if half[0] <= min(lo, far) and max(hi, far) <= half[1]:
        return [ring, ramp]
    # a half lower than its rim needs: what would reach through floor or lid is cut off
    return [Intersection(Union((ring, ramp)), prism(_outline(plan, 0, design.shell.corner_radius_mm), *half))]


def _bosses(design: Design, plan: ShellPlan, z0: float, z1: float) -> list[Solid]:
    """Columns of the lid screws, joined to the walls beside them without a hollow between, within the outline."""
    wall = design.shell.wall_mm
    solids: list[Solid] = []
    for b in plan.bosses:
        (x, y), r = b.at, b.od_mm / 2
        solids.append(prism(circle(x, y, b.od_mm), z0, z1))
        for near, far, axis in (
            (wall, x, 0),
            (plan.outer_mm[0] - wall, x, 0),
            (wall, y, 1),
            (plan.outer_mm[1] - wall, y, 1),
        ):
            if abs(far - near) - r > plan.rim.ramp_mm + 1.0:
                continue
            over = near - 0.3 if near < far else near + 0.3
            lo, hi = min(over, far), max(over, far)
            web = rect(lo, y - r, hi, y + r) if axis == 0 else rect(x - r, lo, x + r, hi)
            solids.append(prism(web, z0, z1))
    if not solids:
        return []
    inside = prism(_outline(plan, wall / 2, _radius(design, plan, wall / 2)), z0, z1)
    return [Intersection(Union(tuple(solids)), inside)]


def _cuts(design: Design, plan: ShellPlan, openings: Openings, part: str) -> tuple[list[Solid], dict[Face, list[Loop]]]:
    """Tools for side openings and vents, and hole loops for the flat faces (cut before extrusion)."""
    tools: list[Solid] = []
    flat: dict[Face, list[Loop]] = {"top": [], "bottom": []}
    deep = max(plan.rim.band_mm, design.shell.wall_mm) + OVER

    def frame(face: Face) -> Vec3:
        return face_origin(face, plan.outer_mm)

    sides: dict[Face, list[Loop]] = {}
    for o in openings.openings:
        if o.part not in (part, "both"):
            continue
        if o.face in flat:
            flat[o.face].append(opening_loop(o))
        else:
            sides.setdefault(o.face, []).append(opening_loop(o))
        if o.recess is not None:
            tools.append(_recess(o, frame(o.face)))
    for v in openings.vents:
        if v.part not in (part, "both"):
            continue
        if v.face in flat:
            flat[v.face] += vent_loops(v)
        elif v.holes:
            tools.append(through(vent_loops(v), face_frame(v.face, frame(v.face)), -deep, OVER))
    for face, loops in sides.items():
        tools += [through([loop], face_frame(face, frame(face)), -deep, OVER) for loop in loops]
    return tools, flat


def _recess(o: Opening, origin: Vec3) -> Solid:
    assert o.recess is not None
    (w, h), (u, v) = o.recess.size_mm, o.at_mm
    loop = circle(u, v, w) if o.round else rect(u - w / 2, v - h / 2, u + w / 2, v + h / 2)
    return through([loop], face_frame(o.face, origin), -o.recess.depth_mm, OVER)


def _flat_tool(design: Design, plan: ShellPlan, face: Face, loops: list[Loop]) -> list[Solid]:
    if not loops:
        return []
    deep = face_thickness(design, face) + OVER
    return [through(loops, face_frame(face, face_origin(face, plan.outer_mm)), -deep, OVER)]


def base_recipe(design: Design, plan: ShellPlan, openings: Openings) -> Solid:
    """The lower half: floor, walls, posts, lid bosses, groove, openings, vents, seats for feet."""
    s, j, rim = design.shell, plan.joint_z_mm, plan.rim
    body = Difference(
        prism(_outline(plan, 0, s.corner_radius_mm), 0, j),
        (prism(_outline(plan, s.wall_mm, plan.inner_radius_mm), s.floor_mm, j + OVER),),
    )
    sink = s.floor_mm / 2
    solids: list[Solid] = [body, *_band(design, plan, True)]
    solids += _bosses(design, plan, sink, j)
    groove_in, groove_out = rim.cheek_mm, rim.cheek_mm + rim.tongue_mm + 2 * rim.side_gap_mm
    tools: list[Solid] = [
        _ring(
            _outline(plan, groove_in, _radius(design, plan, groove_in)),
            _outline(plan, groove_out, _radius(design, plan, groove_out)),
            j - rim.groove_depth_mm,
            j + OVER,
        )
    ]
    tools += [prism(circle(b.at[0], b.at[1], b.hole_mm), j - b.hole_depth_mm, j + OVER) for b in plan.bosses]
    foot = val("printing.feature.foot_d") + 0.5
    tools += [
        prism(circle(x, y, foot), -OVER, min(val("printing.feature.foot_recess"), s.floor_mm / 3)) for x, y in plan.feet
    ]
    side, flat = _cuts(design, plan, openings, "base")
    walls = Difference(Union(tuple(solids)), (*tools, *side, *_flat_tool(design, plan, "bottom", flat["bottom"])))
    return Filled(_with_posts(walls, plan, sink))


def _with_posts(walls: Solid, plan: ShellPlan, sink: float) -> Solid:
    """Posts come last, so that moving a component leaves the walls as they were made."""
    # a post that would end in the floor or under it is none: the part that asks for it stands in the floor, as a concern says
    standing = [p for p in plan.posts if p.top_mm > sink + 0.05]
    if not standing:
        return walls
    posts = tuple(prism(circle(p.at[0], p.at[1], p.od_mm), sink, p.top_mm) for p in standing)
    # drawn at the origin and moved: alike holes are made once, and lie apart from one another
    holes: list[Solid] = []
    for p in standing:
        if p.holding == "through":
            hole = prism(circle(0, 0, p.hole_mm), -OVER, p.top_mm + OVER)
            if p.head_depth_mm > 0.05:
                hole = Union((hole, prism(circle(0, 0, p.head_d_mm), -OVER, p.head_depth_mm)))
        else:
            hole = prism(circle(0, 0, p.hole_mm), p.top_mm - p.hole_depth_mm, p.top_mm + OVER)
        holes.append(Move(hole, at(*p.at, 0)))
    return Difference(Union((walls, *posts)), tuple(holes))


def lid_recipe(design: Design, plan: ShellPlan, openings: Openings) -> Solid:
    """The upper half: plate, skirt, tongue, screw columns, openings, vents."""
    s, j, rim = design.shell, plan.joint_z_mm, plan.rim
    h = plan.outer_mm[2]
    side, flat = _cuts(design, plan, openings, "lid")
    body = Difference(
        prism(_outline(plan, 0, s.corner_radius_mm), j, h),
        (prism(_outline(plan, s.wall_mm, plan.inner_radius_mm), j - OVER, h - s.lid_mm),),
    )
    solids: list[Solid] = [body, *_band(design, plan, False)]
    inset = rim.cheek_mm + rim.side_gap_mm
    solids.append(
        _ring(
            _outline(plan, inset, _radius(design, plan, inset)),
            _outline(plan, inset + rim.tongue_mm, _radius(design, plan, inset + rim.tongue_mm)),
            j - rim.tongue_height_mm,
            j + 0.5,
        )
    )
    solids += _bosses(design, plan, j, h - s.lid_mm / 2)
    tools: list[Solid] = []
    for b in plan.bosses:
        tools.append(prism(circle(b.at[0], b.at[1], b.clearance_mm), j - 2 * OVER - rim.tongue_height_mm, h + OVER))
        tools.append(prism(circle(b.at[0], b.at[1], b.head_d_mm), h - b.head_depth_mm, h + OVER))
    return Filled(Difference(Union(tuple(solids)), (*tools, *side, *_flat_tool(design, plan, "top", flat["top"]))))
