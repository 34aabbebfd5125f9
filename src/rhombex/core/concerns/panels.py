"""Flat walls: panels that give way, and sheet that is not sold so large or so thick."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, inf

from rhombex.core.advice.panels import OPENING, SHEET_PATH, Panel, panels, sold_mm, thickness_path
from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis
from rhombex.core.case.joints import Joint
from rhombex.core.case.parts import Sheet
from rhombex.core.concerns.bent import apart
from rhombex.core.concerns.panes import put_pane
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.concerns.ribs import ribbed
from rhombex.core.constructions import Construction, Material, SlidingPanels
from rhombex.core.edits import Construct, Edit, FitCavity, Set
from rhombex.core.fit.bend import tightest_mm
from rhombex.core.hardware.sheets import BoughtSheet, in_stock, screw_in, stock_mm
from rhombex.core.openings.panes import own_of
from rhombex.core.reference import ref, val
from rhombex.core.shell.offers import usual
from rhombex.core.shell.sliding_panels import wall_for_sheet_mm
from rhombex.core.trail import given

MATERIALS: tuple[Material, ...] = ("acrylic", "plywood", "aluminium")


@concern("panel-bends", "shell", needs=("cavity",))
def panel_bends(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: a panel so thin for its size that it gives way under a hand, and drums."""
    limit = ref("limits.standing.bend")
    seen: set[str] = set()
    for p in panels(a):
        path = thickness_path(a, p.face)
        if p.bend.value <= limit.value or path in seen:
            continue
        seen.add(path)
        now = a.case.face(p.face).thick_mm
        # of sheet the next thickness that is sold; else a little to spare, since a core of infill gives less than the cube
        need = now * (p.bend.value / limit.value) ** (1 / 3)
        sheet = a.case.part(p.part).sheet
        thick = sold_mm(a, path, need if sheet else ceil(need * 11.5) / 10)
        yield say(
            "weigh",
            f"The {p.face} gives way under a hand",
            measured=p.bend.value,
            limit=limit.value,
            sense="at most",
            how="middle of a plate held at its edges under a hand's push",
            of=p.bend.inputs,
            reason=f"{val('limits.standing.push'):g} N {_where(p)} bend it by {p.bend.value:.1f} mm. It feels flimsy, drums with the fan, and leans on "
            "what is behind it.",
            source=p.bend.source,
            subjects=(p.part, p.face),
            remedies=(
                *ribbed(a, p.face, limit.value),
                *(
                    (Remedy(label=f"Make it {thick:g} mm thick", edits=_thickened(a, path, thick)),)
                    if thick is not None and thick <= (20 if path != SHEET_PATH else 12)
                    else ()
                ),
            ),
        )


def _thickened(a: Analysis, path: str, thick_mm: float) -> tuple[Edit, ...]:
    """The wall of a face made so thick; for sheet between posts the walls that it lies in as well, where they must be, and for one that is bent round
    several faces the walls of all of them."""
    made, edits = a.design.shell.construction, tuple[Edit, ...]((Set(path=path, value=thick_mm),))
    bent = next((p.sheet for p in a.case.parts if p.sheet and p.sheet.folds and path in _paths(a, p.sheet)), None)
    if bent is not None:
        return tuple(Set(path=x, value=thick_mm) for x in _paths(a, bent))
    if path != SHEET_PATH or not isinstance(made, SlidingPanels):
        return edits
    wall = wall_for_sheet_mm(a.design, made, a.printer, thick_mm)
    return (Set(path="shell.wall_mm", value=wall), *edits) if wall > a.design.shell.wall_mm else edits


def _paths(a: Analysis, sheet: Sheet) -> tuple[str, ...]:
    """The fields that say how thick the walls are which a sheet closes."""
    return tuple(dict.fromkeys(thickness_path(a, f) for f in sheet.faces))


def _where(p: Panel) -> str:
    """Where a hand pushes, in words."""
    hole = next((x for x in p.bend.inputs if x.name == OPENING), None)
    return "in its middle" if hole is None else f"at the edge of an opening ({hole.source})"


@concern("sheet-over-stock", "hardware", needs=("walls",))
def sheet_over_stock(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A sheet larger than the stock that it is cut from."""
    for x in a.sheets:
        long, short = sorted((_stock(x, "x"), _stock(x, "y")), reverse=True)
        mine = sorted(x.size_mm, reverse=True)
        over = max(mine[0] - long, mine[1] - short)
        if over <= 0:
            continue
        k = 0 if mine[0] - long >= mine[1] - short else 1
        own = own_of(a.design, x.part)
        larger = [
            m
            for m in MATERIALS
            if in_stock(m, x.size_mm) and m != x.material and (not x.bends or tightest_mm(m, x.thick_mm) is not None)
        ]
        yield say(
            "stop",
            f"The {x.part} is larger than its stock",
            measured=mine[k],
            limit=(long, short)[k],
            sense="at most",
            how="longer or shorter side of the sheet, whichever is farther over",
            of=(given("long side", mine[0]), given("short side", mine[1])),
            reason=f"{x.material.capitalize()} is sold up to {long:g} x {short:g} mm.",
            source=str(ref(f"sheet.{x.material}.stock_x")),
            subjects=(x.part,),
            remedies=(
                *(
                    Remedy(
                        label=f"Take {m}",
                        edits=(put_pane(own, material=m) if own else Set(path="shell.construction.material", value=m),),
                    )
                    for m in larger
                ),
                *((apart(a),) if x.bends else ()),
                *(
                    (Remedy(label="Print all walls", edits=(Construct(construction=_printed(a)),)),)
                    if own is None
                    else ()
                ),
            ),
        )


@concern("sheet-not-sold", "hardware", needs=("walls",))
def sheet_not_sold(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Sheet of a thickness that is not sold."""
    seen: set[str] = set()
    for x in a.sheets:
        own = own_of(a.design, x.part)
        path = x.part if own else thickness_path(a, x.face)
        sold = stock_mm(x.material)
        near = min(sold, key=lambda t: (abs(t - x.thick_mm), -t))
        if path in seen or abs(near - x.thick_mm) < 0.05:
            continue
        seen.add(path)
        yield say(
            "stop",
            f"{x.material.capitalize()} of {x.thick_mm:g} mm is not sold",
            measured=abs(x.thick_mm - near),
            limit=0.05,
            sense="at most",
            how="from the nearest thickness that is sold",
            of=(given("thickness", x.thick_mm), given("nearest", near)),
            reason=f"It is sold {', '.join(f'{t:g}' for t in sold)} mm thick.",
            source="usual stock thicknesses (common practice)",
            subjects=(x.part, path),
            remedies=(
                Remedy(
                    label=f"Take {near:g} mm",
                    edits=(put_pane(own, thick_mm=near),) if own else _thickened(a, path, near),
                ),
            ),
        )


@concern("hole-near-edge", "hardware", needs=("joints",))
def hole_near_edge(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A screw so near to the edge of a sheet that it cracks or tears out there; the worst speaks for all."""
    found = [_from_edge(a, x, j) for x in a.sheets for j in a.case.screws_through(x.part)]
    if not found:
        return
    edge, limit, sideways, x, j = min(found, key=lambda f: f[0] - f[1])
    if edge >= limit:
        return
    wanted, way = ref(f"sheet.{x.material}.edge"), a.design.shell.construction
    field = next((f for f in ("corner_mm", "beam_mm", "post_mm") if hasattr(way, f)), "")
    # a screw stands in the middle of its corner piece or post: a larger one moves it in from the side
    larger = ceil(getattr(way, field) + 2 * (limit - edge) + 0.1) if field else 0
    yield say(
        "weigh",
        f"A screw of the {x.part} is near its edge",
        measured=edge,
        limit=limit,
        how="middle of the hole to the edge of the sheet; wanted: its diameter x factor",
        of=(given("diameter", val(f"fasteners.{j.thread}.d")),),
        reason=f"{x.material.capitalize()} drilled so near to its edge cracks, or tears out there.",
        source=str(wanted),
        subjects=(x.part, "edge"),
        remedies=(
            Remedy(
                label=f"Make the {'posts' if field == 'post_mm' else 'corner pieces'} {larger:g} mm",
                edits=(Set(path=f"shell.construction.{field}", value=float(larger)), *_room_for(a, larger)),
            ),
        )
        if sideways and larger
        else (),
    )


def _room_for(a: Analysis, pillar_mm: float) -> tuple[FitCavity, ...]:
    """Walls moved out where corner pieces so large would stand in something; nothing where they would not."""
    room = a.case.cavity
    for s in (s for t in a.things for s in t.solids):
        if all(s.box.lo[i] < room.lo[i] + pillar_mm or s.box.hi[i] > room.hi[i] - pillar_mm for i in (0, 1)):
            return (walls_round(a).model_copy(update={"pillar_mm": pillar_mm, "only_out": True}),)
    return ()


def _from_edge(a: Analysis, x: BoughtSheet, j: Joint) -> tuple[float, float, bool, BoughtSheet, Joint]:
    """How far a screw is from its sheet's edge, how far it should be, and whether the nearest edge is one at the side."""
    sheet = a.case.part(x.part).sheet
    assert sheet is not None
    name, (u, v) = screw_in(a.case, sheet, j)
    w = next(w for w in a.case.walls if w.face == name and w.part == x.part)
    # where a sheet is bent it has no edge
    above = inf if sheet.bends else w.hi_mm[1] - v
    level, upright = min(u - w.lo_mm[0], w.hi_mm[0] - u), min(v - w.lo_mm[1], above)
    limit = val(f"sheet.{x.material}.edge") * val(f"fasteners.{j.thread}.d")
    return min(level, upright), limit, level <= upright or x.face == "top", x, j


def _printed(a: Analysis) -> Construction:
    """The same panels, or a frame with covers, that are printed, and cut to the bed where they must be."""
    made = a.design.shell.construction
    way = made if isinstance(made, SlidingPanels) else usual(a.design, "frame and covers")
    return way.model_copy(update={"sheet": ()})


def _stock(x: BoughtSheet, way: str) -> float:
    return val(f"sheet.{x.material}.stock_{way}")
