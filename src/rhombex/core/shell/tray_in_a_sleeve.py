"""Tray in a sleeve: a floor with an end plate carries everything and slides into a shell that closes all other sides.

Everything is drawn in the tray's own frame, in which it comes out to the front; a quarter turn brings it to the side it opens to. The
floor's lower edges are chamfered and run over ledges of the same 45 degrees along the sleeve's walls, so that the sleeve cannot be lifted
off and neither part needs support. Of a floor of bought sheet `tray_of_sheet` says what is other.
"""

from __future__ import annotations

from math import pi, tan

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace, Seam, Wall
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Flat, Part, PutOn, Seat
from rhombex.core.constructions import TrayInASleeve
from rhombex.core.design import Design, Direction
from rhombex.core.faults import Faults
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.fit.joints import boss_od_mm, hole_depth_mm
from rhombex.core.geometry.recipe import (
    Difference,
    Filled,
    Intersection,
    Loop,
    Move,
    Solid,
    Union,
    block,
    circle,
    prism,
    rect,
    snap,
    through,
)
from rhombex.core.shell.box import Clear, box_faces, seat_of, side_seat
from rhombex.core.shell.case_screw import CAP_MM, SPAN_MM, case_screw
from rhombex.core.shell.feet import feet_of, foot_of, foot_seats
from rhombex.core.shell.mounts import mounts_of
from rhombex.core.shell.places import Rect, first_free, slots
from rhombex.core.shell.plugs import ways_through
from rhombex.core.shell.posts import with_posts
from rhombex.core.shell.pull_tab import tab_body, tab_of
from rhombex.core.shell.slide import PLATE, SLEEVE, TRAY, Slide, drawn, slide_of, turned_face, wound
from rhombex.core.shell.solids import OVER, bore, head_room, most_room, screw_hole
from rhombex.core.shell.tray_of_sheet import floor_screws, plate_body, plate_part, sheet_body, sheet_part, sleeve_lugs
from rhombex.core.space import FACES, STILL, Box, Face, Frame, Vec2, Vec3, face_frame, face_origin
from rhombex.core.workshop.printer import Printer

_OPPOSITE: dict[Face, Direction] = {"front": "back", "right": "left", "back": "front", "left": "right"}
_OUT: dict[Face, Direction] = {"front": "front", "right": "right", "back": "back", "left": "left"}


def build(design: Design, kind: TrayInASleeve, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """Tray and sleeve, and an end plate of its own where the floor is sheet. Posts or screws that cannot be planned are noted, and the rest stands."""
    s, outer = design.shell, outer_size(design)
    slide, of_sheet = slide_of(design, kind, printer), kind.floor == "sheet"
    faces = box_faces(design, _clear(slide, outer))
    no_mounts: tuple[Mount, ...] = ()
    no_joints: tuple[tuple[Joint, ...], int] = ((), 0)
    mounts = faults.attempt("stage", "posts", lambda: mounts_of(design, printer, things, TRAY, of_sheet), no_mounts)
    joints, wanted = faults.attempt(
        "stage", "screws of the plate", lambda: _screws(design, kind, printer, things, mounts, slide), no_joints
    )
    if of_sheet:
        to_plate = joints
        from_below, more = faults.attempt(
            "stage",
            "screws of the tray",
            lambda: floor_screws(design, kind, printer, things, mounts, to_plate, slide),
            no_joints,
        )
        joints, wanted = (*joints, *from_below), wanted + more
    out = slide.frame.vector((0.0, -1.0, 0.0))
    tab = tab_of(design, TRAY, things, slide.frame, kind.opens, slide.wide, kind.tab_mm) if kind.tab_mm else None
    carries = (
        (sheet_part(design, kind, faces, slide, tab), plate_part(design, kind)) if of_sheet else (_part(design, slide),)
    )
    case = Case(
        kind=kind.kind,
        box_mm=outer,
        cavity=cavity(design),
        inner_radius_mm=0.3,
        outer_radius_mm=0.0,
        line_mm=line_width_mm(design.process_of(TRAY), printer),
        parts=(
            *carries,
            Part(
                name=SLEEVE,
                size_mm=outer,
                down=_OPPOSITE[kind.opens],
                plates=(
                    Flat(name="walls", thick_mm=s.wall_mm, flat=False),
                    Flat(name="top of the sleeve", thick_mm=s.lid_mm, flat=False),
                ),
                warm=True,
                seat=seat_of(design, _OPPOSITE[kind.opens], 1.0),
                side_seat=side_seat(design, "top", slide.under + 1.0),
                put_on=PutOn(along=out, travel_mm=slide.long),
                shown="it stands on its closed end and its walls rise without support",
            ),
        ),
        faces=faces,
        walls=_walls(slide, faces, PLATE if of_sheet else TRAY),
        seams=(
            Seam(
                axis=next(i for i in range(3) if out[i]),
                at_mm=_seam(slide, out),
                below_mm=0.0,
                above_mm=0.0,
                parts=(PLATE if of_sheet else TRAY, SLEEVE),
                path="",
            ),
        ),
        joints=joints,
        wanted_joints=wanted,
        held="tray" if of_sheet else "end plate",
        must_hold=((TRAY, PLATE), (TRAY, SLEEVE)) if of_sheet else (),
        mounts=mounts,
        feet=feet_of(design, mounts, things, joints),
        foot=foot_of(design, printer, TRAY, of_sheet),
        footed=TRAY,
        slides=() if of_sheet else (TRAY,),
        tab=tab,
    )
    bodies: dict[str, Body] = {SLEEVE: lambda tools: _sleeve(slide, case, tools)}
    if of_sheet:
        bodies[TRAY] = lambda tools: sheet_body(slide, case, tools)
        bodies[PLATE] = lambda tools: plate_body(slide, case, tools)
    else:
        bodies[TRAY] = lambda tools: _tray(design, slide, case, tools)
    return Built(case, bodies)


def _part(design: Design, slide: Slide) -> Part:
    s = design.shell
    return Part(
        name=TRAY,
        size_mm=outer_size(design),
        down="bottom",
        plates=(
            Flat(name="floor", thick_mm=s.floor_mm, flat=True),
            Flat(name="end plate", thick_mm=s.wall_mm, flat=False),
        ),
        seat=Seat(outer_mm=0.0, inner_mm=s.floor_mm, edge_mm=slide.under + 1.0),
    )


def _seam(slide: Slide, out: Vec3) -> float:
    at = slide.frame.point((0.0, slide.wall, 0.0))
    return at[next(i for i in range(3) if out[i])]


def _clear(slide: Slide, outer: Vec3) -> Clear:
    """Plain wall of each face: within the round corners along the top, off the plate's edge and the ledges under the floor."""
    r, t = max(slide.radius, slide.wall), slide.wall
    side = t + slide.under + 1.0
    own: dict[str, tuple[Vec3, Vec3]] = {  # in the tray's frame: corners of the clear stretch
        "front": ((r, 0, slide.floor), (slide.wide - r, 0, slide.high - r)),
        "back": ((r, 0, slide.floor), (slide.wide - r, 0, slide.high - r)),
        "left": ((0, t, slide.floor), (0, slide.long - t, slide.high - r)),
        "right": ((0, t, slide.floor), (0, slide.long - t, slide.high - r)),
        "top": ((r, t, 0), (slide.wide - r, slide.long - t, 0)),
        "bottom": ((side, t, 0), (slide.wide - side, slide.long - t, 0)),
    }
    faces = _frames(outer)
    out: Clear = {}
    for name, (a, b) in own.items():
        face = turned_face(name, slide)
        ends = [faces[face].local(slide.frame.point(p)) for p in (a, b)]
        (u0, u1), (v0, v1) = sorted(e[0] for e in ends), sorted(e[1] for e in ends)
        out[face] = (u0, v0, u1, v1)
    return out


def _frames(outer: Vec3) -> dict[Face, Frame]:
    """The frames of the six faces of a box."""
    return {f: face_frame(f, face_origin(f, outer)) for f in FACES}


def _walls(slide: Slide, faces: tuple[CaseFace, ...], plate: str) -> tuple[Wall, ...]:
    """Which part stands behind which stretch, each stretch given in the tray's frame. `plate`: the part that the end plate is."""
    w, long, h, t, f = slide.wide, slide.long, slide.high, slide.wall, slide.floor
    own: list[tuple[str, str, Vec3, Vec3, float]] = [
        ("front", plate, (0, 0, 0), (w, 0, h), t),
        ("back", SLEEVE, (0, long, 0), (w, long, h), t),
        ("top", SLEEVE, (0, t, h), (w, long, h), slide.lid),
        ("top", plate, (0, 0, h), (w, t, h), slide.lid),
        *((("bottom", plate, (0, 0, 0), (w, t, 0), f),) if plate != TRAY else ()),
        ("bottom", TRAY, (0, t if plate != TRAY else 0, 0), (w, long - t, 0), f),
        ("bottom", SLEEVE, (0, t, 0), (t + slide.ledge, long, 0), f),
        ("bottom", SLEEVE, (w - t - slide.ledge, t, 0), (w, long, 0), f),
        ("bottom", SLEEVE, (0, long - t, 0), (w, long, 0), f),
    ]
    for side, x in (("left", 0.0), ("right", w)):
        own.append((side, SLEEVE, (x, t, 0), (x, long, h), t))
        own.append((side, plate, (x, 0, 0), (x, t, h), t))
        own.append((side, TRAY, (x, t, 0), (x, long - t, f), t + slide.under))
    by_id = {x.id: x for x in faces}
    out = []
    for name, part, a, b, deep in own:
        face = by_id[turned_face(name, slide)]
        ends = [face.on(slide.frame.point(p)) for p in (a, b)]
        (u0, u1), (v0, v1) = sorted(e[0] for e in ends), sorted(e[1] for e in ends)
        out.append(Wall(face=face.id, part=part, lo_mm=(u0, v0), hi_mm=(u1, v1), depth_mm=deep))
    return tuple(out)


def _screws(
    design: Design,
    kind: TrayInASleeve,
    printer: Printer,
    things: tuple[Thing, ...],
    mounts: tuple[Mount, ...],
    slide: Slide,
) -> tuple[tuple[Joint, ...], int]:
    """The screws through the end plate into columns along the sleeve's walls that found a free place, and how many are wanted."""
    od = design.shell.boss_od_mm or boss_od_mm("M3", kind.joint_thread)
    out = slide.frame.vector((0.0, -1.0, 0.0))
    deep = min(hole_depth_mm("M3", kind.joint_thread), slide.long - 2 * slide.wall - 1.0)
    # everything that stands on the tray passes the columns on its way in, and plugs go through the end plate
    blocked: list[Rect] = []
    stands = (*(x.box for t in things for x in t.solids), *(m.box for m in mounts))
    for box in (*stands, *ways_through(design, things, (kind.opens,))):
        a, b = slide.frame.local(box.lo), slide.frame.local(box.hi)
        blocked.append((min(a[0], b[0]), min(a[2], b[2]), max(a[0], b[0]), max(a[2], b[2])))
    r = od / 2
    inset = slide.wall + r - 1.0
    low, high = slide.floor + slide.gap + r + 1.0, slide.high - slide.lid - r + 1.0
    wants: list[tuple[Vec2, bool]] = [
        ((inset, high), True),
        ((slide.wide - inset, high), True),
        ((inset, low), True),
        ((slide.wide - inset, low), True),
    ]
    if slide.wide - 2 * inset > SPAN_MM:
        wants.append(((slide.wide / 2, high), False))
    if high <= low:
        return (), len(wants)
    # a column in the round corner keeps off its outer surface
    corner = max(slide.radius - inset, 0.0)
    places: list[Vec2] = []
    for (x, z), upright in wants:
        top = [(q, high) for q in slots(inset, slide.wide - inset, x, 2.0) if abs(q - x) <= 0.4 * slide.wide]
        side = [(x, q) for q in slots(low, high, z, 2.0) if abs(q - z) <= 0.7 * (high - low)] if upright else []
        at = np.array([*side, *(top if z == high else [])]).reshape(-1, 2)
        at = at[_off_the_corner(at, slide, corner)]
        nearest = np.argsort(np.abs(at - (x, z)).sum(axis=1), kind="stable")
        options: list[Vec2] = [(p, q) for p, q in at[nearest].tolist()]
        spot = first_free(options, blocked, r + 0.4, places, 2 * od) if options else None
        if spot is not None:
            places.append(spot)
    way: Vec3 = (-out[0], -out[1], -out[2])
    return tuple(
        case_screw(
            design,
            printer,
            id=f"plate-{k}",
            name="end plate",
            holds=PLATE if kind.floor == "sheet" else TRAY,
            into=SLEEVE,
            at=slide.frame.point((x, slide.wall, z)),
            along=way,
            boss=slide.frame.box(Box((x - r, 0.0, z - r), (x + r, slide.wall + deep + CAP_MM + od, z + r))),
            od_mm=od,
            through_mm=slide.wall,
            sunk=True,
            deep_mm=deep,
            holding=kind.joint_thread,
            length_mm=kind.plate_screw_mm,
            path="plate_screw_mm",
            slot=most_room(slide.frame.point((x, slide.wall, z)), way, cavity(design)),
            usual={SLEEVE: _OPPOSITE[kind.opens], PLATE: _OUT[kind.opens]},
        )
        for k, (x, z) in enumerate(places, 1)
    ), len(wants)


def _off_the_corner(at: NDArray[np.float64], slide: Slide, corner: float) -> NDArray[np.bool_]:
    """Which columns, places (n, 2), keep their inset from the outline where the upper corners are round."""
    dx = np.maximum(np.maximum(slide.radius - at[:, 0], at[:, 0] - (slide.wide - slide.radius)), 0.0)
    dz = np.maximum(at[:, 1] - (slide.high - slide.radius), 0.0)
    return np.asarray((dx == 0) | (dz == 0) | (np.hypot(dx, dz) <= max(corner, 0.3)))


def _columns(slide: Slide, case: Case) -> list[Solid]:
    """Columns of the screws behind the sleeve's mouth, joined to the walls beside them without a hollow between. Each begins as a ramp of 45
    degrees on its wall, so that it rises without support from the closed end."""
    solids: list[Solid] = []
    w, top, inside = slide.wide, slide.high - slide.lid, slide.wall
    for j in (j for j in case.joints if not j.along[2]):
        x, _, z = slide.frame.local(j.at)
        r = j.od_mm / 2
        deep = slide.wall + j.hole_depth_mm + CAP_MM  # the column is whole so far
        long = min(deep + 2 * r, slide.long - inside / 2)
        ends = (inside, long)
        left, right, above = x - r < inside + 1.0, x + r > w - inside - 1.0, z + r > top - 1.0
        walls = (inside / 2 if left else None, w - inside / 2 if right else None, slide.high - slide.lid / 2)
        column = drawn(_column(x, z, r, walls[0], walls[1], walls[2] if above else None), *ends)
        # how far from its wall the ramp reaches, the farther the nearer to the mouth
        if left or right:
            # it goes on past the column's far side and its ends: faces that only touch are no use to a kernel
            foot, tip = (x - r, x + r + OVER) if left else (x + r, x - r - OVER)
            edge = -OVER if left else w + OVER
            near, far = inside - OVER, deep + 2 * r
            corners = [(edge, near), (tip, near), (tip, deep - OVER), (foot, far), (foot, far + OVER)]
            loop = wound([*corners, (edge, far + OVER)])
            ramp = prism(loop, z - 2 * r - OVER, slide.high + OVER)
        else:
            low, over = z - r - OVER, z + 2 * r
            near, far = inside - OVER, deep + 2 * r
            corners = [(over, near), (low, near), (low, deep - OVER), (z + r, far), (z + r, far + OVER)]
            loop = wound([*corners, (over, far + OVER)])
            across = Frame((0.0, 0.0, 0.0), (0.0, 0.0, 1.0), (0.0, 1.0, 0.0), (-1.0, 0.0, 0.0))
            ramp = through([loop], across, -(x + 2 * r), -(x - 2 * r))
        solids.append(Intersection(column, ramp))
    if not solids:
        return []
    return [Intersection(Union(tuple(solids)), slide.outline(0.0))]


def _column(x: float, z: float, r: float, left: float | None, right: float | None, above: float | None) -> Loop:
    """The outline of a column round (x, z) with webs as broad as it to a wall on the left or the right and to one above it, where there is one. Drawn in one: a web
    touches the column along a line, which no kernel joins well."""
    half, quarter = 1.0, tan(pi / 8)
    wall = min(left, x - r - OVER / 4) if left is not None else None
    wall = max(right, x + r + OVER / 4) if right is not None and wall is None else wall
    top = max(above, z + r + OVER / 4) if above is not None else None
    beside = left is not None
    if wall is None and top is None:
        return circle(x, z, 2 * r)
    loop: list[tuple[float, float, float]]
    if wall is None:
        assert top is not None
        loop = [(x - r, z, half), (x + r, z, 0.0), (x + r, top, 0.0), (x - r, top, 0.0)]
    elif top is None and beside:
        loop = [(wall, z - r, 0.0), (x, z - r, half), (x, z + r, 0.0), (wall, z + r, 0.0)]
    elif top is None:
        loop = [(x, z - r, 0.0), (wall, z - r, 0.0), (wall, z + r, 0.0), (x, z + r, half)]
    elif beside:
        corner = [(x + r, z, 0.0), (x + r, top, 0.0), (x - r, top, 0.0), (x - r, z + r, 0.0)]
        loop = [(wall, z - r, 0.0), (x, z - r, quarter), *corner, (wall, z + r, 0.0)]
    else:
        corner = [(x + r, z + r, 0.0), (x + r, top, 0.0), (x - r, top, 0.0), (x - r, z, quarter)]
        loop = [(x, z - r, 0.0), (wall, z - r, 0.0), (wall, z + r, 0.0), *corner]
    return tuple((snap(p), snap(q), bulge) for p, q, bulge in loop)


def _sleeve(slide: Slide, case: Case, tools: tuple[Solid, ...]) -> Solid:
    w, long, t = slide.wide, slide.long, slide.wall
    whole = Intersection(slide.outline(0.0), block(Box((0, t, 0), (w, long, slide.high))))
    room = Intersection(slide.outline(t), block(Box((0, 0, -OVER), (w, long - t, slide.high))))
    k = slide.ledge
    ledges = [
        drawn(wound([(x0, 0.0), (x0 + way * (t / 2 + k), 0.0), (x0 + way * t / 2, k), (x0, k)]), t, long - t / 2)
        for x0, way in (((t / 2, 1.0), (w - t / 2, -1.0)) if k else ())
    ]
    body = Union((Difference(whole, (room,)), *ledges, *_columns(slide, case), *sleeve_lugs(slide, case)))
    holes = [screw_hole(j) for j in case.joints if j.into == SLEEVE]
    placed = Move(body, slide.frame) if slide.frame != STILL else body
    return Filled(Difference(placed, (*holes, *tools)))


def _tray(design: Design, slide: Slide, case: Case, tools: tuple[Solid, ...]) -> Solid:
    w, t, f, g = slide.wide, slide.wall, slide.floor, slide.gap
    far = slide.far
    plate = Intersection(slide.outline(0.0), block(Box((0, 0, 0), (w, t, slide.high))))
    u = slide.under
    edge = min(u - g, f)  # where the chamfer ends at the floor's side; a thin floor ends in it
    half = [(t + u, 0.0), (t + g + (u - g - edge), edge), (t + g + (u - g - edge), f)]
    floor = drawn(wound([*half, *((w - x, z) for x, z in reversed(half))]), t / 2, far)
    tab = [tab_body(case.tab, slide.frame, t / 2)] if case.tab else []
    body: Solid = Union((plate, floor, *tab))
    body = Move(body, slide.frame) if slide.frame != STILL else body
    holes: list[Solid] = []
    for j in case.joints:
        holes += [bore(j.at, j.along, j.clearance_mm, -t - OVER, OVER), *head_room(j)]
    walls = Difference(Difference(body, (*holes, *foot_seats(case))), tools)
    low, high = slide.frame.point((t + g, t / 2, 0)), slide.frame.point((w - t - g, far, 0))
    room = rect(min(low[0], high[0]), min(low[1], high[1]), max(low[0], high[0]), max(low[1], high[1]))
    return Filled(with_posts(walls, case, TRAY, room, f * 0.75))
