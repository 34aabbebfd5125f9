"""Which filament for each part: heat, load, shrinkage, what the printer can do, and what it asks of who prints."""

from __future__ import annotations

from typing import Literal, get_args

from rhombex.core.analysis import Analysis
from rhombex.core.design import FilamentKind, Process
from rhombex.core.fit.bead import nozzle_mm
from rhombex.core.process.filament import price_per_kg, temperature_c
from rhombex.core.process.shrink import shrink_risk
from rhombex.core.reference import ref, val
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Workshop

School = Literal["easy print", "in between", "heat-proof"]
KINDS: tuple[FilamentKind, ...] = get_args(FilamentKind)


class Candidate(Frozen):
    """A kind of filament for a part: margin in kelvin to what it bears, reasons for and against, and what rules it out."""

    kind: FilamentKind
    school: School
    suits: bool
    margin_k: Shown
    money: Shown
    shrink_mm: Shown
    score: Shown
    reasons: tuple[str, ...]
    against: tuple[str, ...]
    blocked: tuple[str, ...]
    care: tuple[str, ...]


class Advice(Frozen):
    """The heat a part sees and the candidates for it, best first."""

    part: str
    heat_c: Trail
    candidates: tuple[Candidate, ...]


def school_of(kind: FilamentKind) -> School:
    """The easy one that softens early, the heat-proof ones that shrink, and what lies between."""
    if val(f"materials.{kind}.enclosure"):
        return "heat-proof"
    return "easy print" if val(f"materials.{kind}.service") < 50 else "in between"


def heat_of(a: Analysis, part: str) -> Trail:
    """The warmest the wall of a part gets: the heat ladder's wall where it holds the warm air, else the room; plus sun.

    A lumped estimate; the stop Air refines it.
    """
    brief = a.design.brief
    warm = a.case.part(part).warm
    base = a.ladder.wall_c.value if warm else brief.room_c
    sun = 0.0 if brief.sun == "none" else val(f"limits.heat.sun_{brief.sun}")
    inputs = [given("wall" if warm else "room", base, "degC", "heat ladder" if warm else "brief")]
    if sun:
        inputs.append(looked_up("sun", ref(f"limits.heat.sun_{brief.sun}")))
    return Trail(value=base + sun, unit="degC", formula="wall + sun", inputs=tuple(inputs), source="lumped estimate")


def blocks(process: Process, printer: Printer, nozzle: float, workshop: Workshop) -> tuple[str, ...]:
    """What a printer lacks for a filament, in plain words; empty where it can print it."""
    out = []
    m = f"materials.{process.filament}"
    hot, bed = temperature_c(workshop, process, "nozzle").value, temperature_c(workshop, process, "bed").value
    if hot > printer.nozzle_max_c:
        out.append(f"nozzle: wants {hot:g} °C, {printer.name} reaches {printer.nozzle_max_c:g}")
    if bed > printer.bed_max_c:
        out.append(f"bed: wants {bed:g} °C, {printer.name} reaches {printer.bed_max_c:g}")
    if val(f"{m}.enclosure") and not printer.enclosed:
        out.append(f"wants an enclosed printer; {printer.name} is open")
    if val(f"{m}.wears") and not printer.hardened:
        out.append(f"its fibres wear a brass nozzle; {printer.name} has no hardened one")
    if val(f"{m}.wears") and nozzle < 0.4:
        out.append("its fibres clog a nozzle under 0.4 mm")
    if val(f"{m}.chamber") > printer.chamber_c + 15 and printer.enclosed:
        out.append(f"chamber: wants about {val(f'{m}.chamber'):g} °C, {printer.name} reaches {printer.chamber_c:g}")
    return tuple(out)


def candidate(a: Analysis, part: str, kind: FilamentKind) -> Candidate:
    """One kind for one part."""
    m = f"materials.{kind}"
    heat = heat_of(a, part).value
    pieces = [p for p in a.pieces if p.part == part]
    risks = [shrink_risk(a.piece_recipes[p.name]) for p in pieces]
    own = a.design.process_of(part).filament
    mine = a.design.process_of(part).model_copy(update={"filament": kind})
    mass = (
        sum(p.estimate.mass_g.value for p in pieces if p.estimate)
        / val(f"materials.{own}.density")
        * val(f"{m}.density")
    )
    margin = val(f"{m}.service") - heat
    wanted = val("limits.heat.margin")
    shrink = max((r.foot_mm for r in risks), default=0.0) * val(f"{m}.shrink") / 100
    blocked = list(blocks(mine, a.printer, nozzle_mm(mine, a.printer), a.workshop))
    if margin < wanted:
        blocked.append(
            f"too near softening: bears {val(f'{m}.service'):g} °C, the wall sees {heat:.0f}, {wanted:g} K should lie between"
        )
    if a.design.brief.sun == "outdoors" and val(f"{m}.sun") < 2:
        blocked.append("crumbles in the sun")
    reasons, against, care = [], [], []
    if margin >= wanted:
        reasons.append(f"{margin:.0f} K under what it bears")
    stiff = val(f"{m}.modulus")
    if stiff >= 2800:
        reasons.append(f"stiff: {stiff / 1000:.1f} GPa")
    if stiff < 500:
        blocked.append("soft as rubber: no case walls, good for feet and seals")
    if shrink <= val("limits.shrink.lift"):
        reasons.append(f"shrinks {shrink:.1f} mm over its longest side")
    else:
        against.append(f"shrinks {shrink:.1f} mm over its longest side: corners lift")
    if val(f"{m}.shrink") > val("limits.shrink.shrinking"):
        corners = sum(r.inner_corners for r in risks)
        if corners:
            against.append(f"{corners} sharp inner corners where it cracks")
        jump = max((r.jump for r in risks), default=1.0)
        if jump > val("limits.shrink.jump"):
            against.append(f"section jumps {jump:.1f}-fold where it cracks")
    hard = val(f"{m}.skill") - a.design.brief.skill
    if hard > 0:
        against.append("asks for more experience than the brief names")
    across = val(f"{m}.across_layers")
    if across < 0.5:
        against.append(f"only {across:.0%} as strong across its layers")
    care.append(f"dry at {val(f'{m}.drying'):g} °C for {val(f'{m}.drying_h'):g} h")
    if val(f"{m}.fumes"):
        care.append("gives off styrene: ventilate or filter, do not sit beside it")
    if val(f"{m}.wears"):
        care.append("fibre dust: mask when sanding, hardened nozzle")
    left = sum(s.left_g for s in a.workshop.spools_of(mine))
    if left >= mass:
        reasons.append(f"{left:.0f} g on the rack")
    price = price_per_kg(a.workshop, mine).value
    score = (
        60
        + min(margin - wanted, 30) * 0.8
        - 12 * max(0.0, shrink - val("limits.shrink.lift"))
        - 14 * max(0.0, hard)
        - 0.35 * price
        + (4 if stiff >= 2800 else 0)
        + (5 if left >= mass else 0)
        - 6 * val(f"{m}.skill")
        - 4 * len(against)
        - 100 * len(blocked)
    )
    return Candidate(
        kind=kind,
        school=school_of(kind),
        suits=not blocked,
        margin_k=margin,
        money=mass / 1000 * price,
        shrink_mm=shrink,
        score=score,
        reasons=tuple(reasons),
        against=tuple(against),
        blocked=tuple(blocked),
        care=tuple(care),
    )


def advise(a: Analysis) -> tuple[Advice, ...]:
    """For every part the kinds of filament, best first."""
    out = []
    for part in dict.fromkeys(p.part for p in a.pieces):
        ranked = sorted((candidate(a, part, k) for k in KINDS), key=lambda c: -c.score)
        out.append(Advice(part=part, heat_c=heat_of(a, part), candidates=tuple(ranked)))
    return tuple(out)
