"""The tally: the numbers that a decision moves."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.process.filament import price_per_kg
from rhombex.core.reference import ref, val
from rhombex.core.stance import stood_size
from rhombex.core.trail import Frozen, Input, Trail, given, looked_up


class TallyItem(Frozen):
    """One number with its trail; `better` says which way is good."""

    key: str
    label: str
    trail: Trail
    digits: int
    better: str = "less"


def _sum(a: Analysis, what: str, unit: str, formula: str) -> Trail:
    inputs: list[Input] = []
    total = 0.0
    for p, e in a.estimated():
        v = {"g": e.mass_g.value, "s": e.time_s.value, "EUR": e.money}[what]
        total += v
        inputs.append(given(p.name, v, what, "estimate of the piece"))
    return Trail(value=total / (3600 if unit == "h" else 1), unit=unit, formula=formula, inputs=tuple(inputs))


def tally(a: Analysis) -> tuple[TallyItem, ...]:
    """Outer size, pieces, grams, hours, money, heat."""
    w, d, h = stood_size(a.case.stands_on, a.case.box_mm)
    size = tuple(given(n, v) for n, v in (("width", w), ("depth", d), ("height", h)))
    mass = _sum(a, "g", "g", "sum of the pieces, ±5 %")
    spools = mass.value / val("materials.filament.spool")
    money = _sum(a, "EUR", "EUR", "filament of each piece x price of its kind")
    prices = tuple(dict.fromkeys(price_per_kg(a.workshop, a.design.process_of(p.printed_as)) for p in a.pieces))
    money = money.model_copy(update={"inputs": (*money.inputs, *prices)})
    low = sum(e.time_low_s for _, e in a.estimated()) / 3600
    high = sum(e.time_high_s for _, e in a.estimated()) / 3600
    time = _sum(a, "s", "h", f"sum of the pieces, one after the other; nine in ten within {low:.1f} to {high:.1f} h")
    fitting = sum(p.fits_bed for p in a.pieces)
    return (
        TallyItem(
            key="litres",
            label="Outer volume",
            digits=2,
            trail=Trail(
                value=w * d * h / 1e6,
                unit="l",
                formula="width x depth x height",
                inputs=size,
                source="geometry",
            ),
        ),
        TallyItem(
            key="pieces",
            label="Pieces",
            digits=0,
            trail=Trail(
                value=len(a.pieces),
                unit="",
                formula="parts after cutting to the bed",
                inputs=(given("fit the bed", fitting, "", a.printer.name),),
            ),
        ),
        TallyItem(key="mass_g", label="Filament", digits=0, trail=mass),
        TallyItem(
            key="spools",
            label="Spools",
            digits=2,
            trail=Trail(
                value=spools,
                unit="",
                formula="filament / spool",
                inputs=(looked_up("spool", ref("materials.filament.spool")),),
            ),
        ),
        TallyItem(key="time_h", label="Printing", digits=1, trail=time),
        TallyItem(
            key="money",
            label="Filament cost",
            digits=2,
            trail=money,
        ),
        TallyItem(key="wall_c", label="Hottest wall", digits=0, trail=a.ladder.wall_c),
    )


def bears_c(a: Analysis) -> Trail:
    """What the filament bears, for the bar beside the hottest wall."""
    kind = ref(f"materials.{a.design.process.filament}.service")
    return Trail(
        value=kind.value,
        unit="degC",
        formula="practical service temperature",
        inputs=(looked_up("bears", kind),),
    )
