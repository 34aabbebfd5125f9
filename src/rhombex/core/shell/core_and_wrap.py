"""Core and wrap: a floor that carries everything, and a thin shell of five sides that drops over it and is screwed from the sides."""

from __future__ import annotations

from functools import partial

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.bench.open_walls import open_walls
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import Bulge, CaseFace, Wall
from rhombex.core.case.fittings import Lift
from rhombex.core.case.joints import Joint, Snap
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Flat, Part, PutOn, Seat
from rhombex.core.constructions import CoreAndWrap
from rhombex.core.design import Design
from rhombex.core.faults import Faults
from rhombex.core.fit.allowance import fit
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.fit.joints import boss_od_mm, hole_depth_mm
from rhombex.core.geometry.recipe import Difference, Filled, Intersection, Loop, Solid, Union, block, prism, rounded
from rhombex.core.reference import val
from rhombex.core.shell.box import box_faces, inner_radius_mm, side_seat
from rhombex.core.shell.case_screw import CAP_MM, SPAN_MM, case_screw
from rhombex.core.shell.catches import catches_of
from rhombex.core.shell.core_of_sheet import (
    CORE,
    LUG,
    WRAP,
    core_parts,
    core_sheet_body,
    lug_body,
    lug_high_mm,
    lug_name,
    lug_screw,
)
from rhombex.core.shell.feet import feet_of, foot_of, foot_seats
from rhombex.core.shell.lifts import lift_of_lid
from rhombex.core.shell.magnets import lifts_cut
from rhombex.core.shell.mounts import mounts_of
from rhombex.core.shell.places import Rect, first_free, slots
from rhombex.core.shell.posts import with_posts
from rhombex.core.shell.snaps import hooks, room_round, sockets
from rhombex.core.shell.solids import OVER, bore, head_room
from rhombex.core.space import Box, Face, Vec2
from rhombex.core.workshop.printer import Printer

LIP_LINES = 3  # lines across the rim that the wrap is centred by


def _lip(design: Design, kind: CoreAndWrap, printer: Printer) -> tuple[float, float, float]:
    """The gap between wrap and lip, or lugs, how thick the lip is, and how high; a sheet has none."""
    outer = outer_size(design)
    gap = fit(design, printer, "tongue_side", (CORE, WRAP), max(outer[:2])).value
    if kind.floor == "sheet":
        return gap, 0.0, 0.0
    thick = LIP_LINES * line_width_mm(design.process_of(CORE), printer)
    return gap, thick, min(kind.lip_mm, design.shell.inner_mm[2] / 2)


def bulges_of(design: Design, kind: CoreAndWrap, printer: Printer) -> tuple[Bulge, ...]:
    """The lip that the wrap is centred by; none of a core of sheet."""
    if kind.floor == "sheet":
        return ()
    floor, (gap, thick, lip) = design.shell.floor_mm, _lip(design, kind, printer)
    return (
        Bulge(
            from_mm=floor,
            full_from_mm=floor,
            full_to_mm=floor + lip,
            to_mm=floor + lip,
            mm=gap + thick,
            rides="floor",
        ),
    )


def build(design: Design, kind: CoreAndWrap, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """Core and wrap, with lugs of their own where the core is sheet. Posts or screws that cannot be planned are noted, and the rest stands."""
    s, outer = design.shell, outer_size(design)
    w, d, h = outer
    gap, thick, lip = _lip(design, kind, printer)
    of_sheet = kind.floor == "sheet"
    inward = gap + thick
    edge = max(inner_radius_mm(design) + s.wall_mm, s.wall_mm + inward)
    side = inner_radius_mm(design) + s.wall_mm
    clear: dict[Face, tuple[float, float, float, float]] = {
        f: (side, s.floor_mm + lip, (d if f in ("left", "right") else w) - side, h - s.lid_mm)
        for f in ("front", "back", "left", "right")
    }
    clear |= {"top": (side, side, w - side, d - side), "bottom": (edge, edge, w - edge, d - edge)}
    faces = box_faces(design, clear)
    no_mounts: tuple[Mount, ...] = ()
    no_joints: tuple[tuple[Joint, ...], int] = ((), 0)
    mounts = faults.attempt("stage", "posts", lambda: mounts_of(design, printer, things, CORE, of_sheet), no_mounts)
    catches = None if of_sheet else kind.snaps
    joints, wanted = no_joints
    snaps: tuple[Snap, ...] = ()
    if catches is not None:
        no_snaps: tuple[tuple[Snap, ...], int] = ((), 0)
        snaps, wanted = faults.attempt(
            "stage", "catches of the wrap", lambda: catches_of(design, catches, things, mounts), no_snaps
        )
    else:
        joints, wanted = faults.attempt(
            "stage",
            "screws of the wrap",
            lambda: _screws(design, kind, printer, things, mounts, faces, gap, lip),
            no_joints,
        )
    case = Case(
        kind=kind.kind,
        box_mm=outer,
        cavity=cavity(design),
        inner_radius_mm=inner_radius_mm(design),
        outer_radius_mm=s.corner_radius_mm,
        line_mm=line_width_mm(design.process_of(CORE), printer),
        parts=(
            *(core_parts(design, kind, joints) if of_sheet else (_core_part(design, inward, lip),)),
            Part(
                name=WRAP,
                size_mm=(w, d, h - s.floor_mm),
                down="top",
                plates=(
                    Flat(name="top of the wrap", thick_mm=s.lid_mm, flat=True),
                    Flat(name="walls", thick_mm=s.wall_mm, flat=False),
                ),
                warm=True,
                seat=Seat(outer_mm=h, inner_mm=h - s.lid_mm, edge_mm=0.0),
                side_seat=side_seat(design, "front", 1.0, "back"),
                put_on=PutOn(along=(0.0, 0.0, -1.0), travel_mm=h - s.floor_mm),
                shown="its outer face takes the texture of the bed",
                ribbed="top",
            ),
        ),
        faces=faces,
        walls=(
            *(
                Wall(face=f, part=WRAP, lo_mm=(0.0, s.floor_mm), hi_mm=(wide, h), depth_mm=s.wall_mm)
                for f, wide in (("front", w), ("back", w), ("left", d), ("right", d))
            ),
            *(
                Wall(face=f, part=CORE, lo_mm=(0.0, 0.0), hi_mm=(wide, s.floor_mm + lip), depth_mm=s.wall_mm + inward)
                for f, wide in (("front", w), ("back", w), ("left", d), ("right", d))
            ),
            Wall(face="top", part=WRAP, lo_mm=(0, 0), hi_mm=(w, d), depth_mm=s.lid_mm),
            Wall(face="bottom", part=CORE, lo_mm=(0, 0), hi_mm=(w, d), depth_mm=s.floor_mm),
        ),
        bulges=bulges_of(design, kind, printer),
        joints=joints,
        snaps=snaps,
        lifts=_lifts(design, things, faces) if snaps else (),
        wanted_joints=wanted,
        held=WRAP,
        mounts=mounts,
        feet=feet_of(design, mounts, things, joints),
        foot=foot_of(design, printer, CORE, of_sheet),
        footed=CORE,
    )
    bodies: dict[str, Body] = {WRAP: lambda tools: _wrap(design, case, tools)}
    if of_sheet:
        bodies[CORE] = lambda tools: core_sheet_body(design, case, tools)
        for p in (p for p in case.parts if p.name.startswith(LUG)):
            bodies[p.name] = partial(lug_body, case, p.name)
    else:
        bodies[CORE] = lambda tools: _core(design, case, gap, thick, lip, tools)
    return Built(case, bodies)


def _core_part(design: Design, inward: float, lip: float) -> Part:
    s, (w, d, _) = design.shell, outer_size(design)
    return Part(
        name=CORE,
        size_mm=(w, d, s.floor_mm + lip),
        down="bottom",
        plates=(Flat(name="floor", thick_mm=s.floor_mm, flat=True),),
        seat=Seat(outer_mm=0.0, inner_mm=s.floor_mm, edge_mm=inward),
        ribbed="bottom",
    )


def _screws(
    design: Design,
    kind: CoreAndWrap,
    printer: Printer,
    things: tuple[Thing, ...],
    mounts: tuple[Mount, ...],
    faces: tuple[CaseFace, ...],
    gap: float,
    lip: float,
) -> tuple[tuple[Joint, ...], int]:
    """The screws through the wrap's sides into lugs on the core that found a free place, and how many are wanted. Lugs on a sheet are twice as long: the screw
    that holds one from below is beside the wrap's."""
    s, (w, d, _) = design.shell, outer_size(design)
    of_sheet = kind.floor == "sheet"
    od = s.boss_od_mm or boss_od_mm("M3", kind.joint_thread)
    deep = hole_depth_mm("M3", kind.joint_thread)
    grip = s.wall_mm + gap
    z = s.floor_mm + od / 2
    reach = grip + deep + CAP_MM  # of the lug, from the outer face
    high = s.floor_mm + (lug_high_mm(design, kind, od) if of_sheet else od)
    solids = [b.box.grown(0.4) for t in things for b in t.solids if b.box.lo[2] < high + 0.4]
    solids += [m.box.grown(0.2) for m in mounts]
    half = od if of_sheet else od / 2  # of a lug along the wall
    edge = max(s.corner_radius_mm + 1.0, grip) + half  # within the corners, and all of it behind front and back
    lo, hi, open_ = edge, d - edge, open_walls(design, things)
    joints: list[Joint] = []
    wanted = 0
    sides: tuple[tuple[Face, float, float], ...] = (("left", 0.0, 1.0), ("right", w, -1.0))
    for face, x0, way in sides:
        x1 = x0 + way * reach
        blocked: list[Rect] = [
            (b.lo[1], -1.0, b.hi[1], 1.0) for b in solids if b.lo[0] < max(x0, x1) and b.hi[0] > min(x0, x1)
        ]
        blocked += [(b.lo[1], -1.0, b.hi[1], 1.0) for b in open_[face] if b.lo[2] < high]
        wants = [lo, hi] + ([d / 2] if hi - lo > SPAN_MM else [])
        taken: list[Vec2] = []
        for y in wants:
            wanted += 1
            options: list[Vec2] = [(q, 0.0) for q in slots(lo, hi, y, 2.0) if lo <= q <= hi and abs(q - y) <= 0.45 * d]
            spot = first_free(options, blocked, half, taken, 4 * half) if options else None
            wanted += of_sheet
            if spot is None:
                continue
            taken.append(spot)
            q = spot[0] - (half - od / 2)
            id, box = f"{face}-{len(taken)}", (min(x0, x1), max(x0, x1))
            into = lug_name(id) if of_sheet else CORE
            if of_sheet:
                into_lug = (x0 + way * (grip + (deep + CAP_MM) / 2), spot[0] + od / 2)
                joints.append(lug_screw(design, kind, printer, id, into_lug, box, od))
            joints.append(
                case_screw(
                    design,
                    printer,
                    id=id,
                    name=WRAP,
                    holds=WRAP,
                    into=into,
                    at=(x0 + way * grip, q, z),
                    along=(way, 0.0, 0.0),
                    boss=Box((box[0], q - od / 2, s.floor_mm), (box[1], q + od / 2, z + od / 2)),
                    od_mm=od,
                    through_mm=grip,
                    sunk=False,
                    gap_mm=gap,
                    deep_mm=deep,
                    holding=kind.joint_thread,
                    length_mm=kind.wrap_screw_mm,
                    path="wrap_screw_mm",
                )
            )
    return tuple(joints), wanted


def _outline(design: Design, case: Case, inset: float, radius: float) -> Loop:
    w, d, _ = case.box_mm
    return rounded(inset, inset, w - inset, d - inset, radius)


def _core(design: Design, case: Case, gap: float, thick: float, lip: float, tools: tuple[Solid, ...]) -> Solid:
    s = design.shell
    outline = _outline(design, case, 0.0, s.corner_radius_mm)
    near, far = s.wall_mm + gap, s.wall_mm + gap + thick
    # the rim's corners follow the wall's with the same gap all round
    radius = max(case.inner_radius_mm - gap, 0.0)
    around = _outline(design, case, near, radius)
    top = s.floor_mm + lip
    sink = s.floor_mm / 2
    solids: list[Solid] = [
        prism(outline, 0, s.floor_mm),
        Difference(
            prism(around, sink, top), (prism(_outline(design, case, far, radius - thick), sink - OVER, top + OVER),)
        ),
    ]
    if case.snaps:
        free = Difference(Union(tuple(solids)), tuple(room_round(case.snaps, s.floor_mm, top + OVER)))
        solids = [free, *hooks(case.snaps, s.floor_mm)]
    if case.joints:
        lugs = [block(Box((j.boss.lo[0], j.boss.lo[1], sink), j.boss.hi)) for j in case.joints]
        high = max(j.boss.hi[2] for j in case.joints)
        solids.append(Intersection(Union(tuple(lugs)), prism(around, sink, high)))
    holes = [bore(j.at, j.along, j.hole_mm, -OVER, j.hole_depth_mm) for j in case.joints]
    body = Difference(Difference(Union(tuple(solids)), (*holes, *foot_seats(case))), tools)
    return Filled(with_posts(body, case, CORE, around, sink))


def _wrap(design: Design, case: Case, tools: tuple[Solid, ...]) -> Solid:
    s, h = design.shell, case.box_mm[2]
    body = prism(_outline(design, case, 0.0, s.corner_radius_mm), s.floor_mm, h)
    room = prism(_outline(design, case, s.wall_mm, case.inner_radius_mm), s.floor_mm - OVER, h - s.lid_mm)
    holes = [
        x
        for j in case.joints
        if j.holds == WRAP
        for x in (bore(j.at, j.along, j.clearance_mm, -j.grip_mm - OVER, OVER), *head_room(j))
    ]
    cut = (*sockets(case.snaps), *lifts_cut(case, WRAP))
    return Filled(Difference(body, (room, *holes, *cut, *tools)))


def _lifts(design: Design, things: tuple[Thing, ...], faces: tuple[CaseFace, ...]) -> tuple[Lift, ...]:
    """A notch in the wrap's lower edge, over the core's floor: a finger on either pulls the one off the other."""
    high = val("fasteners.magnet.lift_high")
    return lift_of_lid(
        design,
        things,
        faces,
        of=WRAP,
        part_of=lambda _: WRAP,
        edge_mm=design.shell.floor_mm + high,
        high_mm=high,
        behind_mm=design.shell.wall_mm,
    )
