"""A core of bought sheet: the wrap stands on it, held and kept in its place by printed lugs that are screwed to the sheet from below."""

from __future__ import annotations

from rhombex.core.bench.arrange import outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import Case
from rhombex.core.case.joints import Joint
from rhombex.core.case.parts import Flat, Part, Sheet
from rhombex.core.constructions import CoreAndWrap
from rhombex.core.design import Design
from rhombex.core.fit.joints import hole_depth_mm
from rhombex.core.geometry.recipe import Difference, Filled, Solid, block, prism, rounded
from rhombex.core.shell.case_screw import CAP_MM, THREAD, case_screw
from rhombex.core.shell.feet import foot_seats
from rhombex.core.shell.posts import drilled
from rhombex.core.shell.solids import OVER, bore, most_room, screw_hole
from rhombex.core.space import Box, Vec2, Vec3
from rhombex.core.workshop.printer import Printer

CORE, WRAP, LUG = "core", "wrap", "lug-"
UNDER_MM = 0.5  # under the wrap's top
UP: Vec3 = (0.0, 0.0, 1.0)


def lug_name(id: str) -> str:
    """The name of the lug that a screw of the wrap goes into."""
    return f"{LUG}{id}"


def lug_high_mm(design: Design, kind: CoreAndWrap, od_mm: float) -> float:
    """How high a lug is over the sheet: as high as the boss of the wrap's screw, or as the hole of its own wants where there is room."""
    wants = hole_depth_mm(THREAD, kind.joint_thread) + CAP_MM
    return max(od_mm, min(wants, design.shell.inner_mm[2] - UNDER_MM))


def lug_screw(
    design: Design, kind: CoreAndWrap, printer: Printer, id: str, at: Vec2, across: Vec2, od_mm: float
) -> Joint:
    """The screw from below that holds a lug. `across`: from where to where across the wall the lug is."""
    z, r = design.shell.floor_mm, od_mm / 2
    high = lug_high_mm(design, kind, od_mm)
    place: Vec3 = (at[0], at[1], z)
    return case_screw(
        design,
        printer,
        id=f"core-{id}",
        name="lug",
        holds=CORE,
        into=lug_name(id),
        at=place,
        along=UP,
        boss=Box((across[0], at[1] - r, 0.0), (across[1], at[1] + r, z + high)),
        od_mm=od_mm,
        through_mm=z,
        sunk=False,  # a sheet is only drilled
        deep_mm=min(hole_depth_mm(THREAD, kind.joint_thread), high - CAP_MM),
        holding=kind.joint_thread,
        length_mm=kind.floor_screw_mm,
        path="floor_screw_mm",
        opened=False,
        slot=most_room(place, UP, cavity(design)),
        of_sheet=True,
    )


def core_parts(design: Design, kind: CoreAndWrap, joints: tuple[Joint, ...]) -> tuple[Part, ...]:
    """The sheet, and the lugs on it."""
    s, (w, d, _) = design.shell, outer_size(design)
    outline = rounded(0, 0, w, d, s.corner_radius_mm)
    core = Part(
        name=CORE,
        size_mm=(w, d, s.floor_mm),
        down="bottom",
        plates=(Flat(name="floor", thick_mm=s.floor_mm, flat=True),),
        sheet=Sheet(material=kind.material, thick_mm=s.floor_mm, face="bottom", outline=outline),
    )
    lugs = (
        Part(name=j.into, size_mm=_room(joints, j.into).size, down="bottom", plates=())
        for j in joints
        if j.holds == WRAP
    )
    return (core, *lugs)


def _room(joints: tuple[Joint, ...], lug: str) -> Box:
    """The box that a lug fills: from the gap behind the wrap on, over the sheet, round both of its screws."""
    (wrap,) = (j for j in joints if j.into == lug and j.holds == WRAP)
    (core,) = (j for j in joints if j.into == lug and j.holds == CORE)
    a, b = wrap.boss, core.boss
    x0, x1 = (wrap.at[0], a.hi[0]) if wrap.along[0] > 0 else (a.lo[0], wrap.at[0])
    return Box((x0, min(a.lo[1], b.lo[1]), a.lo[2]), (x1, max(a.hi[1], b.hi[1]), max(a.hi[2], b.hi[2])))


def lug_body(case: Case, name: str, tools: tuple[Solid, ...]) -> Solid:
    """One lug with its two holes, which are beside one another."""
    holes = [screw_hole(j) for j in case.joints if j.into == name]
    return Filled(Difference(block(_room(case.joints, name)), (*holes, *tools)))


def core_sheet_body(design: Design, case: Case, tools: tuple[Solid, ...]) -> Solid:
    """The sheet, drilled for standoffs, feet and the screws of its lugs."""
    s, (w, d, _) = design.shell, case.box_mm
    screws = [bore(j.at, j.along, j.clearance_mm, -s.floor_mm - OVER, OVER) for j in case.joints if j.holds == CORE]
    holes = (*screws, *drilled(case, CORE, s.floor_mm), *foot_seats(case), *tools)
    return Filled(Difference(prism(rounded(0, 0, w, d, s.corner_radius_mm), 0, s.floor_mm), holes))
