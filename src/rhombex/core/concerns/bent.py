"""Sheet that is bent over a case: too tight a bend, two thicknesses where there is one sheet, holes that a bend draws out of shape."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.bench import up
from rhombex.core.concerns.by_screws import in_inserts
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.constructions import CornersAndSheet
from rhombex.core.edits import Set
from rhombex.core.fit.bend import tightest_mm
from rhombex.core.hardware.sheets import BoughtSheet, box_round, stock_mm
from rhombex.core.reference import ref
from rhombex.core.space import Vec2
from rhombex.core.trail import given, looked_up


def apart(a: Analysis) -> Remedy:
    """A sheet for each side; the top is held by screws then, which are undone to open it."""
    each = Set(path="shell.construction.wrap", value="none")
    inserts = in_inserts(a)
    return Remedy(
        label=f"Take a sheet for each side{', its screws in inserts' if inserts else ''}", edits=(each, *inserts)
    )


def bent_sheets(a: Analysis) -> Iterator[tuple[BoughtSheet, CornersAndSheet]]:
    """The sheets of a case that are bent, with the construction that bends them."""
    way = a.design.shell.construction
    if isinstance(way, CornersAndSheet):
        yield from ((x, way) for x in a.sheets if x.bends)


@concern("bend-too-tight", "shell", needs=("walls",))
def bend_too_tight(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A bend tighter than its sheet bears, or a sheet that does not bend."""
    for x, way in bent_sheets(a):
        least, share = tightest_mm(x.material, x.thick_mm), ref(f"sheet.{x.material}.bend")
        made = x.bends[0].inner_mm
        if least is not None and made >= least - 1e-9:
            continue
        acrylic = Set(path="shell.construction.material", value="acrylic")
        wider = up(least if least is not None else tightest_mm("acrylic", x.thick_mm) or 0.0)
        radius = () if way.bend_mm >= wider else (Set(path="shell.construction.bend_mm", value=wider),)
        label = f"Bend it with a radius of {wider:g} mm"
        yield say(
            "stop",
            f"{x.material.capitalize()} does not bend"
            if least is None
            else f"The bends of the {x.part} are too tight for {x.thick_mm:g} mm {x.material}",
            measured=0.0 if least is None else made,
            limit=1.0 if least is None else least,
            unit="bend" if least is None else "mm",
            how="0: it breaks, 1: it bends"
            if least is None
            else "inner radius of the bend; wanted: thickness x factor",
            of=() if least is None else (given("thickness", x.thick_mm), looked_up("factor", share)),
            reason="It breaks along the bend."
            if least is None
            else "In a tighter bend it cracks, or crazes and cracks later.",
            source=str(share),
            subjects=(x.part,),
            remedies=(
                *(
                    (Remedy(label="Take acrylic", edits=(acrylic, *radius, *_as_sold(a, x))),)
                    if least is None
                    else (Remedy(label=label, edits=radius),)
                    if radius
                    else ()
                ),
                apart(a),
            ),
        )


def _as_sold(a: Analysis, x: BoughtSheet) -> tuple[Set, ...]:
    """Acrylic of a thickness that is sold, where this one is not."""
    near = min(stock_mm("acrylic"), key=lambda t: abs(t - x.thick_mm))
    if abs(near - x.thick_mm) < 0.05:
        return ()
    return (Set(path="shell.wall_mm", value=near), Set(path="shell.lid_mm", value=near))


@concern("sheet-two-thicknesses", "shell", needs=("walls",))
def sheet_two_thicknesses(a: Analysis, say: Maker) -> Iterator[Finding]:
    """One sheet over walls and top, which are to be of two thicknesses."""
    s = a.design.shell
    for x, _ in bent_sheets(a):
        if abs(s.lid_mm - s.wall_mm) < 0.005:
            continue
        yield say(
            "stop",
            f"The {x.part} cannot be of two thicknesses",
            measured=abs(s.lid_mm - s.wall_mm),
            limit=0.0,
            sense="at most",
            how="difference of what is asked for as top and as walls",
            of=(given("top", s.lid_mm), given("walls", s.wall_mm)),
            reason="Walls and top are one sheet, as thick as the walls: the room under the top is not what is drawn.",
            source="geometry",
            subjects=(x.part, "thickness"),
            remedies=(
                Remedy(
                    label=f"Make the top {s.wall_mm:g} mm, like the walls",
                    edits=(Set(path="shell.lid_mm", value=s.wall_mm),),
                ),
                apart(a),
            ),
        )


@concern("hole-near-bend", "openings", needs=("walls",))
def hole_near_bend(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A hole so near to a bend that bending draws it out of shape; the worst speaks for all."""
    for x, way in bent_sheets(a):
        # a hole that is open at the edge is part of the outline
        gap = min((_gap(x, *box_round(loop)) for loop in x.loops[1:]), default=None)
        factor = ref("sheet.bent.clear")
        limit = factor.value * x.thick_mm
        if gap is None or gap >= limit:
            continue
        least = tightest_mm(x.material, x.thick_mm) or way.bend_mm
        # the bend begins its outer radius from the corner, so that a tighter one begins farther off
        tighter = round(int((way.bend_mm - (limit - gap)) * 10) / 10, 1)
        yield say(
            "stop" if gap < 0 else "weigh",
            f"A hole of the {x.part} is in its bend" if gap < 0 else f"A hole of the {x.part} is near its bend",
            measured=gap,
            limit=limit,
            how="edge of the hole to where the bend begins, in the flat; wanted: thickness x factor",
            of=(given("thickness", x.thick_mm), looked_up("factor", factor)),
            reason="Bending draws it out of shape: what goes through it may not fit any more.",
            source=str(factor),
            subjects=(x.part, "bend"),
            remedies=(
                *(
                    (
                        Remedy(
                            label=f"Bend it with a radius of {tighter:g} mm",
                            edits=(Set(path="shell.construction.bend_mm", value=tighter),),
                        ),
                    )
                    if tighter >= least
                    else ()
                ),
                apart(a),
            ),
        )


def _gap(x: BoughtSheet, lo: Vec2, hi: Vec2) -> float:
    gaps = []
    for b in x.bends:
        k = 0 if b.ends[0][0] == b.ends[1][0] else 1
        at, half = b.ends[0][k], b.allowance_mm / 2
        gaps.append(max(lo[k] - (at + half), (at - half) - hi[k]))
    return min(gaps)


@concern("caution-hot-sheet", "shell", needs=("walls",))
def caution_hot_sheet(a: Analysis, say: Maker) -> Iterator[Finding]:
    """The usual caution where plastic sheet is heated to be bent."""
    for x, _ in bent_sheets(a):
        if x.material != "acrylic":
            continue
        yield say(
            "advice",
            "Heated sheet burns: gloves, and a window open",
            measured=len(x.bends),
            limit=0,
            unit="bends",
            sense="at most",
            how="bends that are made over heat",
            reason="It is bent over a heated line between two notches in its edges, its outside away from the heat where that can be, and held until it is cold. "
            "Bend a strip of the same sheet first, and measure it: what a bend takes differs from sheet to sheet. Overheated it fumes.",
            source="common practice",
            subjects=(x.part, "heat"),
        )
