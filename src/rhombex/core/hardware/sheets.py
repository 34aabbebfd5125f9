"""Bought sheet: what is cut from it, from which stock, and what it weighs and costs."""

from __future__ import annotations

from rhombex.core.case import Case, Sheet
from rhombex.core.constructions import Material
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Loop, Solid, circle
from rhombex.core.openings.opening import Openings, opening_loop, vent_loops
from rhombex.core.reference import ref, series, val
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen, Trail, given, looked_up

PRICED_MM = 3.0  # the thickness that prices of sheet are told for


class BoughtSheet(Frozen):
    """One piece of sheet as it is cut: seen from outside, from its lower left corner. `loops`: (x, y, bulge), the outline first, then holes."""

    part: str
    face: str
    material: Material
    thick_mm: float
    size_mm: Vec2
    loops: tuple[Loop, ...]
    mass_g: float
    money: Trail
    case_digest: str


def bought_sheets(case: Case, openings: Openings, recipes: dict[str, Solid]) -> tuple[BoughtSheet, ...]:
    """Every part of the case that is cut from sheet and could be made."""
    return tuple(
        _bought(case, openings, p.name, p.sheet, recipes[p.name])
        for p in case.parts
        if p.sheet is not None and p.name in recipes
    )


def _bought(case: Case, openings: Openings, part: str, sheet: Sheet, recipe: Solid) -> BoughtSheet:
    holes = _holes(case, openings, part, sheet)
    (u0, v0), (u1, v1) = _box(sheet.outline)
    inside = all(u0 < a[0] and b[0] < u1 and v0 < a[1] and b[1] < v1 for a, b in (_box(h) for h in holes))
    # what a hole cuts off at the edge is taken from the shape as it is made, corner by corner
    loops = (sheet.outline, *holes) if inside else _cut(case, sheet, recipe)
    mm3 = float(mesh_kernel.evaluate(recipe).volume())
    return BoughtSheet(
        part=part,
        face=sheet.face,
        material=sheet.material,
        thick_mm=sheet.thick_mm,
        size_mm=(u1 - u0, v1 - v0),
        loops=tuple(tuple((u - u0, v - v0, b) for u, v, b in loop) for loop in loops),
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


def _holes(case: Case, openings: Openings, part: str, sheet: Sheet) -> tuple[Loop, ...]:
    face = case.face(sheet.face)
    out = [circle(*face.on(j.at), j.clearance_mm) for j in case.joints if j.holds == part]
    out += [opening_loop(o) for o in openings.openings if o.face == sheet.face and part in o.parts]
    out += [loop for v in openings.vents if v.face == sheet.face and part in v.parts for loop in vent_loops(v)]
    return tuple(out)


def _box(loop: Loop) -> tuple[Vec2, Vec2]:
    """The rectangle round a loop: of a circle all of it, else of its corners."""
    if len(loop) == 2:
        (x0, y0, _), (x1, _, _) = loop
        r, mid = abs(x1 - x0) / 2, (x0 + x1) / 2
        return (mid - r, y0 - r), (mid + r, y0 + r)
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
