"""A tray whose floor is bought sheet: it lies between the sleeve's walls, screwed from below to lugs of its end plate, and to lugs of the sleeve at its other end,
which are what the sleeve is held down by in place of ledges."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.bench.open_walls import open_walls
from rhombex.core.case import Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.fittings import Tab
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Flat, Part, Sheet
from rhombex.core.constructions import TrayInASleeve
from rhombex.core.design import Design
from rhombex.core.geometry.recipe import (
    Difference,
    Filled,
    Intersection,
    Loop,
    Move,
    Solid,
    Union,
    block,
    prism,
)
from rhombex.core.shell.box import seat_of
from rhombex.core.shell.case_screw import case_screw
from rhombex.core.shell.feet import foot_seats
from rhombex.core.shell.lugs import Lugs, along_wall, lugs_of
from rhombex.core.shell.posts import drilled
from rhombex.core.shell.pull_tab import tab_hole
from rhombex.core.shell.slide import PLATE, SLEEVE, TRAY, Slide, turned_face, wound
from rhombex.core.shell.solids import OVER, bore, head_room, most_room, screw_hole
from rhombex.core.space import STILL, Box, Vec2, Vec3
from rhombex.core.workshop.printer import Printer

OVER_SHEET_MM = 0.2  # that the sleeve's lugs are over the sheet while it slides in under them; common practice
CUT_MM = 0.3  # by which sheet that is cut to size misses it, either side; common practice
FREE_MM = 0.05  # between the sheet and the end plate, which is not cut into it
APART_MM = 0.4  # of lugs from what stands beside them; common practice
UP: Vec3 = (0.0, 0.0, 1.0)
NOTCH_MM = 0.3  # round the tab in the foot of the end plate; common practice


def sheet_part(design: Design, kind: TrayInASleeve, faces: tuple[CaseFace, ...], slide: Slide, tab: Tab | None) -> Part:
    """The floor, cut from sheet, with the tab that it is pulled out by."""
    thick = design.shell.floor_mm
    (bottom,) = (f for f in faces if f.id == "bottom")
    outline = tuple(bottom.on(slide.frame.point((x, y, 0.0))) for x, y in _corners(slide, tab))
    return Part(
        name=TRAY,
        size_mm=outer_size(design),
        down="bottom",
        plates=(Flat(name="floor", thick_mm=thick, flat=True),),
        sheet=Sheet(material=kind.material, thick_mm=thick, face="bottom", outline=wound(list(outline))),
    )


def plate_part(design: Design, kind: TrayInASleeve) -> Part:
    """The end plate, printed on its outer face."""
    s = design.shell
    return Part(
        name=PLATE,
        size_mm=outer_size(design),
        down=kind.opens,
        plates=(Flat(name="end plate", thick_mm=s.wall_mm, flat=True),),
        seat=seat_of(design, kind.opens, 1.0),
        shown="its outer face takes the texture of the bed",
    )


def _corners(slide: Slide, tab: Tab | None) -> list[Vec2]:
    """The outline of the sheet in the tray's frame, counter-clockwise from its near left corner."""
    beside = slide.wall + slide.gap + CUT_MM
    x0, x1 = beside, slide.wide - beside
    y0, y1 = slide.wall + FREE_MM, slide.far
    return [(x0, y0), *(_tab_corners(slide, tab, y0) if tab else ()), (x1, y0), (x1, y1), (x0, y1)]


def _tab_corners(slide: Slide, tab: Tab, root: float) -> list[Vec2]:
    a, b = _span(slide, tab)
    end = slide.frame.local(tab.box.lo)[1], slide.frame.local(tab.box.hi)[1]
    return [(a, root), (a, min(end)), (b, min(end)), (b, root)]


def _span(slide: Slide, tab: Tab) -> Vec2:
    """From where to where along the plate a tab is, in the tray's frame."""
    a, b = sorted((slide.frame.local(tab.box.lo)[0], slide.frame.local(tab.box.hi)[0]))
    return a, b


def floor_screws(
    design: Design,
    kind: TrayInASleeve,
    printer: Printer,
    things: tuple[Thing, ...],
    mounts: tuple[Mount, ...],
    to_plate: tuple[Joint, ...],
    slide: Slide,
) -> tuple[tuple[Joint, ...], int]:
    """The screws from below into lugs of the end plate and of the sleeve that found a free place, and how many are wanted. `to_plate`: the screws of the
    plate, whose columns take their place first."""
    lugs = lugs_of(design, kind.joint_thread, kind.material, design.shell.inner_mm[2] / 2)
    near, far = (slide.wall, slide.wall + lugs.deep), (slide.far - lugs.deep, slide.long - slide.wall)
    out: list[Joint] = []
    wanted = 0
    ends: tuple[tuple[str, str, str, Vec2, float], ...] = (
        ("plate", "front", PLATE, near, slide.wall + lugs.axis),
        ("sleeve", "back", SLEEVE, far, slide.far - lugs.axis),
    )
    for end, name, into, stretch, y in ends:
        face = turned_face(name, slide)
        blocked = _taken(design, things, mounts, to_plate, slide, lugs, stretch)
        for b in open_walls(design, things)[face]:
            lo, hi = _ends(slide, b)
            if lo[2] < slide.floor + lugs.high:
                blocked.append((lo[0], hi[0]))
        places, n = along_wall(lugs, slide.wide, slide.wall + slide.gap + APART_MM, blocked)
        wanted += n
        for k, x in enumerate(places, 1):
            out.append(_screw(design, kind, printer, slide, lugs, f"{end}-{k}", into, (x, y), stretch))
    return tuple(out), wanted


def _screw(
    design: Design,
    kind: TrayInASleeve,
    printer: Printer,
    slide: Slide,
    lugs: Lugs,
    id: str,
    into: str,
    at: Vec2,
    stretch: Vec2,
) -> Joint:
    (x, y), r, z = at, lugs.side / 2, slide.floor
    place = slide.frame.point((x, y, z))
    return case_screw(
        design,
        printer,
        id=f"tray-{id}",
        name="tray",
        holds=TRAY,
        into=into,
        at=place,
        along=UP,
        boss=slide.frame.box(Box((x - r, stretch[0], 0.0), (x + r, stretch[1], z + lugs.high))),
        od_mm=lugs.side,
        through_mm=slide.floor,
        sunk=False,  # a sheet is only drilled
        deep_mm=lugs.hole,
        holding=kind.joint_thread,
        length_mm=kind.floor_screw_mm,
        path="floor_screw_mm",
        opened=into == SLEEVE,
        slot=most_room(place, UP, cavity(design)),
        usual={PLATE: kind.opens, SLEEVE: turned_face("back", slide)},
        of_sheet=True,
    )


def _taken(
    design: Design,
    things: tuple[Thing, ...],
    mounts: tuple[Mount, ...],
    to_plate: tuple[Joint, ...],
    slide: Slide,
    lugs: Lugs,
    stretch: Vec2,
) -> list[Vec2]:
    """The stretches along an end wall where something stands that is lower than lugs are high, or a column of the sleeve does."""
    boxes = [b.box.grown(APART_MM) for t in things for b in t.solids]
    boxes += [m.box.grown(APART_MM) for m in mounts]
    boxes += [j.boss.grown(APART_MM) for j in to_plate]
    out = []
    for box in boxes:
        lo, hi = _ends(slide, box)
        if lo[1] < stretch[1] and hi[1] > stretch[0] and lo[2] < slide.floor + lugs.high:
            out.append((lo[0], hi[0]))
    return out


def _ends(slide: Slide, box: Box) -> tuple[Vec3, Vec3]:
    """A box of the case in the tray's frame."""
    a, b = slide.frame.local(box.lo), slide.frame.local(box.hi)
    return (
        (min(a[0], b[0]), min(a[1], b[1]), min(a[2], b[2])),
        (max(a[0], b[0]), max(a[1], b[1]), max(a[2], b[2])),
    )


def _lugs(slide: Slide, case: Case, into: str, root: Vec2, low: float) -> list[Solid]:
    """The lugs of a part in the tray's frame, from so low up, rooted in its wall from where to where along y."""
    out: list[Solid] = []
    for j in (j for j in case.joints if j.holds == TRAY and j.into == into and j.along[2]):
        lo, hi = _ends(slide, j.boss)
        y0, y1 = min(lo[1], root[0]), max(hi[1], root[1])
        out.append(block(Box((lo[0], y0, low), (hi[0], y1, hi[2]))))
    return out


def sleeve_lugs(slide: Slide, case: Case) -> list[Solid]:
    """The lugs on the sleeve's closed end, in the tray's frame; none over a floor that is printed."""
    back = slide.long - slide.wall / 2
    return _lugs(slide, case, SLEEVE, (back, back), slide.floor + OVER_SHEET_MM)


def plate_body(slide: Slide, case: Case, tools: tuple[Solid, ...]) -> Solid:
    """The end plate with its lugs, and a notch where the sheet's tab comes through."""
    w, t = slide.wide, slide.wall
    plate = Intersection(slide.outline(0.0), block(Box((0, 0, 0), (w, t, slide.high))))
    body: Solid = Union((plate, *_lugs(slide, case, PLATE, (t / 2, t / 2), slide.floor)))
    if case.tab:
        a, b = _span(slide, case.tab)
        notch = Box((a - NOTCH_MM, -OVER, -OVER), (b + NOTCH_MM, t + OVER, slide.floor + NOTCH_MM))
        body = Difference(body, (block(notch),))
    body = Move(body, slide.frame) if slide.frame != STILL else body
    holes: list[Solid] = []
    for j in case.joints:
        if j.into == PLATE:
            holes.append(screw_hole(j))
        elif j.holds == PLATE:
            holes += [bore(j.at, j.along, j.clearance_mm, -t - OVER, OVER), *head_room(j)]
    return Filled(Difference(body, (*holes, *tools)))


def sheet_body(slide: Slide, case: Case, tools: tuple[Solid, ...]) -> Solid:
    """The floor of sheet, drilled for standoffs, feet and screws, with the slot of its tab."""
    outline: Loop = wound(_corners(slide, case.tab))
    plate: Solid = prism(outline, 0.0, slide.floor)
    plate = Move(plate, slide.frame) if slide.frame != STILL else plate
    screws = [bore(j.at, j.along, j.clearance_mm, -slide.floor - OVER, OVER) for j in case.joints if j.holds == TRAY]
    slot = tab_hole(case.tab) if case.tab else None
    slots = [prism(slot, -OVER, slide.floor + OVER)] if slot else []
    holes = (*screws, *slots, *drilled(case, TRAY, slide.floor), *foot_seats(case), *tools)
    return Filled(Difference(plate, holes))
