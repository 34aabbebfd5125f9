"""Parts that slide in one another: on a printer that nobody has measured they bind or rattle, and they are pulled out by something."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.constructions import SlidingPanels, TrayInASleeve
from rhombex.core.design import FilamentKind
from rhombex.core.edits import Construct, Edit, PrintPart, PutCoupon, Set
from rhombex.core.fit.coupon import NAMES, PLACES
from rhombex.core.hardware.sheets import stock_mm
from rhombex.core.reference import ref
from rhombex.core.shell.offers import OPPOSITE, TAB_MM
from rhombex.core.shell.sliding_panels import SIDES, cheek_mm, grooves_of, wall_for_sheet_mm
from rhombex.core.trail import given, looked_up

COUPON = NAMES["tongue_side"]


def _unmeasured(a: Analysis) -> list[FilamentKind]:
    """Filaments of sliding parts in which the printer's own allowance for tongues is not known."""
    kinds = list(dict.fromkeys(a.design.process_of(part).filament for part in a.case.slides))
    return [k for k in kinds if a.printer.own_allowance_mm("tongue_side", k) is None]


def _printed_along(a: Analysis, kind: FilamentKind) -> bool:
    return "tongue_side" in a.design.coupons and a.design.process_of(COUPON).filament == kind


@concern("tray-has-no-grip", "shell")
def tray_has_no_grip(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A tray that closes flush: once its screws are out there is nothing to pull it by."""
    made = a.design.shell.construction
    if not isinstance(made, TrayInASleeve) or a.case.tab is not None:
        return
    tab = Set(path="shell.construction.tab_mm", value=TAB_MM)
    across = Construct(construction=made.model_copy(update={"opens": OPPOSITE[made.opens], "tab_mm": TAB_MM}))
    yield say(
        "weigh",
        "There is nothing to pull the tray out by",
        measured=0,
        limit=1,
        unit="tabs",
        how="tabs at the foot of its end plate, beside the plugs of ports",
        reason="Plugs stand before all of the plate's foot."
        if made.tab_mm
        else "Its end plate closes flush all round. With the screws out it sits in the sleeve as it did: it is pried out, or shaken.",
        source="common practice",
        subjects=("tray",),
        remedies=(Remedy(label="Let it come out on the other side", edits=(across,)),)
        if made.tab_mm
        else (Remedy(label=f"Put a tab of {TAB_MM:g} mm at its foot", edits=(tab,)),),
    )


@concern("groove-cheek-thin", "shell")
def groove_cheek_thin(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Cheeks of posts so thin that they do not hold the panel behind them."""
    made, s = a.design.shell.construction, a.design.shell
    if not isinstance(made, SlidingPanels):
        return
    line, lines = a.case.line_mm, ref("printing.feature.web_lines")
    limit = lines.value * line
    for of_sheet in (True, False):
        sides = [f for f in SIDES if (f in made.sheet) is of_sheet]
        cheek = min((cheek_mm(a.design, made, a.printer, f) for f in sides), default=limit)
        if cheek >= limit:
            continue
        g = grooves_of(a.design, made, a.printer)
        behind, gap = s.wall_mm - g.behind[sides[0]], g.gap
        thick = wall_for_sheet_mm(a.design, made, a.printer, made.sheet_mm if of_sheet else limit)
        thinner = [t for t in stock_mm(made.material) if t < made.sheet_mm and s.wall_mm - t - gap >= limit]
        yield say(
            "stop" if cheek < line else "weigh",
            f"The posts hold {'the sheet' if of_sheet else 'their panels'} by cheeks of {max(cheek, 0.0):.2f} mm",
            measured=cheek,
            limit=limit,
            how=f"wall - {'sheet' if of_sheet else 'tongue'} - gap; wanted: lines x line",
            of=(
                given("wall", s.wall_mm),
                given("sheet" if of_sheet else "tongue", behind),
                given("gap", gap),
                given("line", line),
                looked_up("lines", lines),
            ),
            reason="A cheek of less than two lines breaks off when a hand leans on the panel."
            if cheek >= line
            else "What is thinner than a line is not printed: nothing is before the panel.",
            source=str(lines),
            subjects=(a.case.footed, "cheek", "sheet" if of_sheet else "tongue"),
            remedies=(
                Remedy(label=f"Make the walls {thick:g} mm", edits=(Set(path="shell.wall_mm", value=thick),)),
                *(
                    Remedy(label=f"Take sheet of {t:g} mm", edits=(Set(path="shell.construction.sheet_mm", value=t),))
                    for t in thinner[-1:]
                    if of_sheet
                ),
            ),
        )


@concern("slide-not-measured", "plan")
def slide_not_measured(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 25: rails too loose or too tight for this printer and filament."""
    spread, band = ref("printing.allowance.tongue_side_spread"), ref("limits.slide.band")
    for kind in _unmeasured(a):
        if _printed_along(a, kind) or spread.value <= band.value:
            continue
        parts = [p for p in a.case.slides if a.design.process_of(p).filament == kind]
        like = a.design.process_of(parts[0])
        edits: tuple[Edit, ...] = (PutCoupon(feature="tongue_side", wanted=True),)
        if a.design.process_of(COUPON).filament != kind:
            edits = (*edits, PrintPart(part=COUPON, process=like))
        yield say(
            "weigh",
            f"Whether parts slide in {kind} on {a.printer.name} is not known",
            measured=spread.value,
            limit=band.value,
            unit="mm per side",
            sense="at most",
            how="how far the play of tongues scatters on printers that nobody has measured; wanted: what still slides and does not rattle",
            of=(looked_up("scatter", spread), looked_up("slides within", band)),
            reason=f"{', '.join(parts)}: what slides in a groove. A little too tight and they bind half way in, a little too wide and they rattle. A "
            "small coupon tells in half an hour, the whole set only after days.",
            source=str(band),
            subjects=tuple(parts),
            remedies=(Remedy(label="Print a coupon of tongue and groove first", edits=edits),),
        )


@concern("coupon-first", "plan")
def coupon_first(a: Analysis, say: Maker) -> Iterator[Finding]:
    """What is to be done with a coupon that is printed along."""
    for kind in _unmeasured(a):
        if not _printed_along(a, kind):
            continue
        yield say(
            "advice",
            f"Print the {COUPON} before all else",
            measured=PLACES,
            limit=0,
            unit="places to try",
            sense="at most",
            how="places of the coupon, tight to loose",
            reason="Try its tongue in every groove, and at Print plan press the number of the tightest that slides by hand: every groove of this and "
            "other designs on this printer follows.",
            source="common practice",
            subjects=(COUPON,),
        )
