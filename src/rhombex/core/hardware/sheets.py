"""Bought sheet: what is cut from it, from which stock, and what it weighs and costs."""

from __future__ import annotations

from math import hypot

from shapely import Polygon, unary_union

from rhombex.core.case import Case
from rhombex.core.case.joints import Joint
from rhombex.core.case.parts import Bend, Sheet
from rhombex.core.constructions import Material
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Loop, Solid, circle, loop_points
from rhombex.core.openings.opening import Openings, opening_loop, vent_loops
from rhombex.core.reference import ref, series, val
from rhombex.core.shell.pull_tab import tab_hole
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen, Trail, given, looked_up

CHORD_MM = 0.01  # of the round ends of a slot in a tab
PRICED_MM = 3.0  # the thickness that prices of sheet are told for


class BoughtSheet(Frozen):
    """One piece of sheet as it is cut: seen from outside, from its lower left corner. `faces`: what it closes; `loops`: (x, y, bulge), the outline first, then
    holes; `bends`: where it is bent, away from who looks at it."""

    part: str
    face: str
    faces: tuple[str, ...]
    material: Material
    thick_mm: float
    size_mm: Vec2
    loops: tuple[Loop, ...]
    bends: tuple[Bend, ...]
    mass_g: float
    money: Trail
    case_digest: str


def in_stock(material: Material, size_mm: Vec2) -> bool:
    """Whether a sheet is no larger than what it is cut from, which way round ever."""
    stock = sorted((val(f"sheet.{material}.stock_x"), val(f"sheet.{material}.stock_y")))
    return all(mine <= most for mine, most in zip(sorted(size_mm), stock, strict=True))


def bought_sheets(case: Case, openings: Openings, recipes: dict[str, Solid]) -> tuple[BoughtSheet, ...]:
    """Every part of the case that is cut from sheet and could be made."""
    return tuple(
        _bought(case, openings, p.name, p.sheet, recipes[p.name])
        for p in case.parts
        if p.sheet is not None and p.name in recipes
    )


def _bought(case: Case, openings: Openings, part: str, sheet: Sheet, recipe: Solid) -> BoughtSheet:
    holes = _holes(case, openings, part, sheet)
    (u0, v0), (u1, v1) = box_round(sheet.outline)
    inside = all(u0 < a[0] and b[0] < u1 and v0 < a[1] and b[1] < v1 for a, b in (box_round(h) for h in holes))
    # what a hole cuts off at the edge is taken from the shape as it is made, corner by corner
    loops = (sheet.outline, *holes) if inside else _of_flat(sheet, holes) if sheet.bends else _cut(case, sheet, recipe)
    mm3 = float(mesh_kernel.evaluate(recipe).volume())
    return BoughtSheet(
        part=part,
        face=sheet.face,
        faces=sheet.faces,
        material=sheet.material,
        thick_mm=sheet.thick_mm,
        size_mm=(u1 - u0, v1 - v0),
        loops=tuple(tuple((u - u0, v - v0, b) for u, v, b in loop) for loop in loops),
        bends=tuple(_moved(b, (-u0, -v0)) for b in sheet.bends),
        mass_g=mm3 / 1000 * val(f"sheet.{sheet.material}.density"),
        money=price(sheet.material, sheet.thick_mm, (u1 - u0, v1 - v0)),
        case_digest=recipe.digest,
    )


def price(material: Material, thick_mm: float, size_mm: Vec2) -> Trail:
    """What a cut of sheet costs: its area at the price of 3 mm sheet, more or less by its thickness."""
    area = size_mm[0] * size_mm[1] / 1e6
    per = ref(f"sheet.{material}.price")
    return Trail(
        value=area * per.value * thick_mm / PRICED_MM,
        unit="EUR",
        formula="area x price x thickness / 3 mm",
        inputs=(given("area", area, "m2"), looked_up("price", per), given("thickness", thick_mm)),
        source="common practice; ask the supplier",
    )


def stock_mm(material: Material) -> tuple[float, ...]:
    """The thicknesses that a material is sold in."""
    return series(f"sheet.{material}.thick")


def _moved(b: Bend, by: Vec2) -> Bend:
    one, other = ((x + by[0], y + by[1]) for x, y in b.ends)
    return b.model_copy(update={"ends": (one, other)})


def screw_in(case: Case, sheet: Sheet, j: Joint) -> tuple[str, Vec2]:
    """The face of a sheet that a screw goes through, and where on it."""
    for way in (-1.0, 1.0):  # from outside, or, of a handle, from inside
        for name in sheet.faces:
            face = case.face(name)
            if all(abs(way * a - b) < 1e-6 for a, b in zip(face.frame.z, j.along, strict=True)):
                return name, face.on(j.at)
    return sheet.face, case.face(sheet.face).on(j.at)


def _holes(case: Case, openings: Openings, part: str, sheet: Sheet) -> tuple[Loop, ...]:
    out = []
    if sheet.face == "bottom":
        floor = case.face("bottom")
        out += [circle(*floor.on((*m.at, 0.0)), m.hole_mm) for m in case.mounts if m.part == part]
        if case.foot and case.foot.seat_mm and part == case.footed:
            out += [circle(*floor.on((*at, 0.0)), case.foot.seat_d_mm) for at in case.feet]
        slot = tab_hole(case.tab) if case.tab and case.tab.part == part else None
        if slot:
            points = [floor.on((x, y, 0.0)) for x, y in loop_points(slot, CHORD_MM)]
            out.append(tuple((u, v, 0.0) for u, v in points))
    for j in case.screws_through(part):
        name, at = screw_in(case, sheet, j)
        out.append(circle(*sheet.fold(name).at(at), j.clearance_mm))
    out += [
        circle(*at, o.pane.own_hole_mm)
        for o in openings.openings
        if o.pane and o.pane.part == part
        for at in o.pane.screws
    ]
    for name in sheet.faces:
        fold = sheet.fold(name)
        out += [
            fold.loop(circle(*at, o.pane.hole_mm))
            for o in openings.openings
            if o.pane and o.face == name and part in o.parts
            for at in o.pane.screws
        ]
        out += [fold.loop(opening_loop(o)) for o in openings.openings if o.face == name and part in o.parts]
        out += [fold.loop(x) for v in openings.vents if v.face == name and part in v.parts for x in vent_loops(v)]
    return tuple(out)


def _of_flat(sheet: Sheet, holes: tuple[Loop, ...]) -> tuple[Loop, ...]:
    """The flat of a bent sheet with holes that cut its edge: these are taken off its outline, corner by corner, and the rest stay as they are."""
    flat = Polygon(loop_points(sheet.outline, mesh_kernel.FILE_TOL))
    shapes = [Polygon(loop_points(h, mesh_kernel.FILE_TOL)) for h in holes]
    over = unary_union([p for p in shapes if not flat.contains_properly(p)])
    left = flat.difference(over)
    rings = [r for g in getattr(left, "geoms", [left]) for r in (g.exterior, *g.interiors)]
    outlines = [tuple((float(x), float(y), 0.0) for x, y in ring.coords[:-1]) for ring in rings]
    whole = [h for h, p in zip(holes, shapes, strict=True) if not p.intersects(over) and flat.contains_properly(p)]
    return (*sorted(outlines, key=lambda ring: -abs(_area(ring))), *whole)


def box_round(loop: Loop) -> tuple[Vec2, Vec2]:
    """The rectangle round a loop: of a circle all of it, else of its corners."""
    if len(loop) == 2:
        (x0, y0, _), (x1, y1, _) = loop
        r, x, y = hypot(x1 - x0, y1 - y0) / 2, (x0 + x1) / 2, (y0 + y1) / 2
        return (x - r, y - r), (x + r, y + r)
    return (min(p[0] for p in loop), min(p[1] for p in loop)), (max(p[0] for p in loop), max(p[1] for p in loop))


def _cut(case: Case, sheet: Sheet, recipe: Solid) -> tuple[Loop, ...]:
    frame = case.face(sheet.face).frame
    turn = [
        [a[i] for i in range(3)] + [-sum(a[i] * frame.origin[i] for i in range(3))] for a in (frame.x, frame.y, frame.z)
    ]
    flat = mesh_kernel.evaluate(recipe, mesh_kernel.FILE_TOL).transform(turn).slice(-sheet.thick_mm / 2)
    loops = [tuple((float(x), float(y), 0.0) for x, y in ring) for ring in flat.to_polygons()]
    return tuple(sorted(loops, key=lambda ring: -abs(_area(ring))))


def _area(loop: Loop) -> float:
    return sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(loop, (*loop[1:], loop[0]), strict=True)) / 2
