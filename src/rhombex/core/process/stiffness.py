"""Walls against infill: how stiff a printed plate is for its grams, by beam theory."""

from __future__ import annotations

from math import ceil
from typing import Literal

from rhombex.core.case.parts import Part
from rhombex.core.design import Design, Process
from rhombex.core.fit.bead import line_width_mm, spacing_mm
from rhombex.core.fit.laying import down_of
from rhombex.core.reference import ref, val
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up
from rhombex.core.workshop.printer import Printer


class Plate(Frozen):
    """A flat stretch of a part: thickness, and whether it lies (skins are solid layers) or stands (skins are perimeters)."""

    name: str
    thick_mm: float
    pose: Literal["lying", "standing"]


class TradePoint(Frozen):
    """One way to fill a plate: bending stiffness and grams per square metre, and whether another way is better in both."""

    perimeters: int
    infill: Shown
    stiffness_nm: Shown
    mass_g_m2: Shown
    best: bool
    now: bool


class Trade(Frozen):
    """The trade curve of a plate and what it recommends."""

    plate: Plate
    points: tuple[TradePoint, ...]
    now: Trail
    advice: str


def skins_mm(plate: Plate, process: Process, printer: Printer) -> tuple[float, float]:
    """Solid skin on each side of a plate, mm: top and bottom layers where it lies, perimeters where it stands."""
    if plate.pose == "lying":
        low = process.bottom_layers * process.layer_mm
        high = process.top_layers * process.layer_mm
    else:
        width = line_width_mm(process, printer)
        low = high = width + (process.perimeters - 1) * spacing_mm(width, process.layer_mm)
    low = min(low, plate.thick_mm)
    return low, min(high, plate.thick_mm - low)


def through(plate: Plate, process: Process, printer: Printer) -> tuple[float, float, float]:
    """What a plate with solid skins on a core of infill has per width, each weighted by modulus: area, mm; its middle above the lower face, mm; moment of
    inertia about that, mm3.

    The core's modulus is E x share^2, as of an open cellular solid that bends (Gibson and Ashby). Standing plates bend along their layers, lying ones too.
    """
    t = plate.thick_mm
    low, high = skins_mm(plate, process, printer)
    core = process.infill ** val("printing.stiffness.core_power")
    layers = ((0.0, low, 1.0), (low, t - high, core), (t - high, t, 1.0))
    area = sum((b - a) * e for a, b, e in layers)
    middle = sum((b * b - a * a) / 2 * e for a, b, e in layers) / max(area, 1e-12)
    return area, middle, sum(((b - middle) ** 3 - (a - middle) ** 3) / 3 * e for a, b, e in layers)


def bending(plate: Plate, process: Process, printer: Printer) -> tuple[float, float]:
    """Bending stiffness E I per width, N m, and mass, g/m2, of a plate with solid skins on a core of infill.

    I = integral of y^2 about the modulus-weighted middle (Euler-Bernoulli).
    """
    low, high = skins_mm(plate, process, printer)
    modulus = val(f"materials.{process.filament}.modulus")
    solid = low + high + (plate.thick_mm - low - high) * process.infill
    mass = solid * val(f"materials.{process.filament}.density") * 1000
    return modulus * through(plate, process, printer)[2] / 1000, mass


def plates(design: Design, part: Part) -> tuple[Plate, ...]:
    """The flat stretches of a part as it lies."""
    lies = down_of(design, part) in ("bottom", "top")
    out = []
    for p in part.plates:
        pose: Literal["lying", "standing"] = "lying" if p.flat == lies else "standing"
        out.append(Plate(name=p.name, thick_mm=p.thick_mm, pose=pose))
    return tuple(out)


def ratio(design: Design, part: Part, before: tuple[Process, Printer], after: tuple[Process, Printer]) -> float:
    """How stiff a part is after a change against before: of its plates the one that loses most."""
    of = (bending(p, *after)[0] / max(bending(p, *before)[0], 1e-12) for p in plates(design, part))
    return min(of, default=1.0)


PERIMETERS = (1, 2, 3, 4, 5, 6)
INFILLS = (0.05, 0.1, 0.15, 0.2, 0.3, 0.4, 0.6, 1.0)


def trade(plate: Plate, process: Process, printer: Printer) -> Trade:
    """Every sensible way to fill a plate; `best` where none is both stiffer and lighter.

    A lying plate gets its skins from solid layers: there the count means solid layers a side.
    """

    def with_(count: int, infill: float) -> Process:
        change: dict[str, object] = {"infill": infill}
        if plate.pose == "standing":
            change["perimeters"] = count
        else:
            change |= {"top_layers": count, "bottom_layers": count}
        return process.model_copy(update=change)

    raw = [(n, f, *bending(plate, with_(n, f), printer)) for n in PERIMETERS for f in INFILLS]
    here = bending(plate, process, printer)
    count = process.perimeters if plate.pose == "standing" else round((process.top_layers + process.bottom_layers) / 2)
    points = tuple(
        TradePoint(
            perimeters=n,
            infill=f,
            stiffness_nm=d,
            mass_g_m2=m,
            best=not any(x[2] >= d - 1e-9 and x[3] <= m + 1e-9 and (x[2] > d + 1e-6 or x[3] < m - 1e-6) for x in raw),
            now=n == count and abs(f - process.infill) < 1e-6,
        )
        for n, f, d, m in raw
    )
    lighter = [p for p in points if p.stiffness_nm >= here[0] * 0.999 and p.mass_g_m2 < here[1] * 0.98]
    word = "perimeters" if plate.pose == "standing" else "solid layers a side"
    if lighter:
        p = min(lighter, key=lambda p: p.mass_g_m2)
        advice = (
            f"{p.perimeters} {word} and {p.infill:.0%} infill are as stiff with {1 - p.mass_g_m2 / here[1]:.0%} less: "
            "material far from the middle resists bending most."
        )
    else:
        advice = "Nothing lighter is as stiff: the material already lies far from the middle."
    return Trade(plate=plate, points=points, now=_trail(plate, process, printer, here[0]), advice=advice)


def _trail(plate: Plate, process: Process, printer: Printer, value: float) -> Trail:
    low, high = skins_mm(plate, process, printer)
    return Trail(
        value=value,
        unit="N m",
        formula="E x integral of y^2 about the middle, core modulus E x infill^2",
        inputs=(
            looked_up("E", ref(f"materials.{process.filament}.modulus")),
            given("thickness", plate.thick_mm),
            given("skin below", low),
            given("skin above", high),
            given("infill", process.infill, ""),
            looked_up("power of the core", ref("printing.stiffness.core_power")),
        ),
        source="Euler-Bernoulli beam theory (Timoshenko; Roark)",
    )


def layers_for(skin_mm: float, layer_mm: float) -> int:
    """Fewest layers that make a skin."""
    return ceil(skin_mm / layer_mm - 1e-6)
