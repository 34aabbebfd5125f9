"""What goes wrong on the bed: overhangs, thin things, shrinkage, filament that runs out, a printer out of order."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import floor

from rhombex.core.advice.materials import KINDS, candidate
from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.concerns.elsewhere import all_fit, print_on
from rhombex.core.concerns.lying import as_usual, laid_low, on_another_side
from rhombex.core.concerns.own_process import change_process
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import Process
from rhombex.core.edits import Edit, PutPanel, Set
from rhombex.core.fit.bead import line_width_mm, nozzle_mm, wall_of_lines_mm
from rhombex.core.process.shrink import shrink_risk
from rhombex.core.reference import ref, val
from rhombex.core.trail import given, looked_up
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Spool

OF_OVERHANGS = (
    "hangs-free",
    "long-bridge",
)  # silent of a piece whose overhangs nobody has worked out, as a quick look leaves them


@concern("hangs-free", "process", settled=True)
def hangs_free(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 15: overhangs past 45 degrees and long bridges printed into the air."""
    limit = ref("limits.print.support_room")
    for p in a.pieces:
        process = a.design.process_of(p.printed_as)
        if process.supports or p.overhang is None or p.overhang.area_cm2 <= limit.value:
            continue
        yield say(
            "stop" if p.overhang.area_cm2 > 8 * limit.value else "weigh",
            f"The {p.name} has unsupported overhangs in this orientation",
            measured=p.overhang.area_cm2,
            limit=limit.value,
            unit="cm2",
            sense="at most",
            how="area that leans out more than the limit, or spans more than bridges come out clean",
            of=(
                looked_up("leans out more than", ref("printing.feature.overhang")),
                looked_up("spans more than", ref("printing.feature.bridge_clean")),
            ),
            reason=f"This much leans out more than {val('printing.feature.overhang'):g} degrees or spans more than "
            f"{val('printing.feature.bridge_clean'):g} mm, and is printed without support.",
            source=str(ref("printing.feature.overhang")),
            subjects=(p.name,),
            remedies=(
                *as_usual(a, p),
                *on_another_side(a, p),
                Remedy(label="Print it with support", edits=change_process(a, p.printed_as, "supports", True)),
            ),
        )


@concern("long-bridge", "process", settled=True)
def long_bridge(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 15: an opening so wide that the lines over it sag, however little of them hangs."""
    clean, most = ref("printing.feature.bridge_clean"), ref("printing.feature.bridge_most")
    for p in a.pieces:
        if a.design.process_of(p.printed_as).supports or p.overhang is None or p.overhang.bridge_mm <= clean.value:
            continue
        span = p.overhang.bridge_mm
        yield say(
            "stop" if span > most.value else "weigh",
            f"The {p.name} has a bridge of {span:.0f} mm",
            measured=span,
            limit=clean.value,
            sense="at most",
            how="distance between what holds the bridge, along its lines, the best way round",
            of=(looked_up("at most, with an edge to be cut clean", most),),
            reason=f"Lines laid over so wide an opening sag{' and break' if span > most.value else ''}: {clean.value:g} mm come out clean, up to "
            f"{most.value:g} with an edge that has to be cut clean.",
            source=str(clean),
            subjects=(p.name, "bridge"),
            remedies=(
                *as_usual(a, p),
                *on_another_side(a, p),
                Remedy(label="Print it with support", edits=change_process(a, p.printed_as, "supports", True)),
            ),
        )


@concern("much-support", "process", settled=True)
def much_support(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 15: support that could be designed away."""
    share = ref("limits.print.support_share")
    for p, e in a.estimated():
        part = e.support_g / max(e.mass_g.value, 1e-9)
        if part <= share.value:
            continue
        yield say(
            "weigh",
            f"{part:.0%} of the filament of the {p.name} is support",
            measured=100 * part,
            limit=100 * share.value,
            unit="%",
            sense="at most",
            how="filament of the support / all filament of the piece",
            of=(
                given("support", e.support_g, "g"),
                given("all", e.mass_g.value, "g"),
            ),
            reason=f"{e.support_g:.0f} g are broken off and thrown away, and leave scars. Another side down, ramps of "
            "45 degrees or a cut save them.",
            source=str(share),
            subjects=(p.name,),
            remedies=(*as_usual(a, p), *on_another_side(a, p)),
        )


@concern("slender-upright", "process")
def slender_upright(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: a thin beam or panel that stands and is loaded across its layers."""
    limit = ref("limits.print.slender")
    for p in a.pieces:
        w, d, h = p.bbox_mm
        slender = h / max(min(w, d), 1e-6)
        if slender <= limit.value:
            continue
        kind = a.design.process_of(p.printed_as).filament
        yield say(
            "weigh",
            f"The {p.name} stands tall and thin",
            measured=slender,
            limit=limit.value,
            unit="x its foot",
            sense="at most",
            how="height / least side of the foot",
            of=(
                given("height", h),
                given("least side", min(w, d)),
            ),
            reason=f"{h:.0f} mm high on {min(w, d):.1f}: it sways while it prints, and bends across its layers, where {kind} "
            f"has {val(f'materials.{kind}.across_layers'):.0%} of its strength.",
            source=str(limit),
            subjects=(p.name,),
            remedies=(*as_usual(a, p), *laid_low(a, p)),
        )


@concern("web-thinner-than-lines", "process")
def web_thinner_than_lines(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: the web between two vents is thinner than the lines that make it."""
    for panel in a.design.panels:
        process = a.design.process_of(panel.id)
        width = line_width_mm(process, a.printer)
        lines = ref("printing.feature.web_lines")
        least = wall_of_lines_mm(round(lines.value), width, process.layer_mm)
        web = panel.vent_pitch_mm - panel.vent_d_mm
        if panel.vent_d_mm <= 0 or web >= least - 1e-6:
            continue
        wider = panel.model_copy(update={"vent_pitch_mm": round(panel.vent_d_mm + least + 0.05, 1) + 0.1})
        yield say(
            "stop",
            f"The webs of the {panel.name} are thinner than two lines",
            measured=web,
            limit=least,
            how="pitch of the vents less their width; wanted: lines of a web x width of a line",
            of=(
                given("pitch", panel.vent_pitch_mm),
                given("width", panel.vent_d_mm),
                given("line", width),
            ),
            reason=f"Between vents of {panel.vent_d_mm:g} mm stand {web:.2f} mm; two lines of {width:.2f} mm need {least:.2f}.",
            source=str(lines),
            subjects=(panel.id,),
            remedies=(Remedy(label=f"Vents {wider.vent_pitch_mm:g} mm apart", edits=(PutPanel(panel=wider),)),),
        )


@searched
def _milder(a: Analysis, p: PrintedPiece) -> tuple[Remedy, ...]:
    """Kinds that shrink little, bear the heat and can be printed here, the best first."""
    few = [c for c in (candidate(a, p.part, k) for k in KINDS) if c.suits]
    few = [c for c in few if val(f"materials.{c.kind}.shrink") <= val("limits.shrink.shrinking")]
    few.sort(key=lambda c: -c.score)
    return tuple(
        Remedy(label=f"Print it in {c.kind}", edits=change_process(a, p.printed_as, "filament", c.kind))
        for c in few[:1]
    )


def _shrinking(a: Analysis) -> Iterator[tuple[PrintedPiece, Process, float]]:
    for p in a.pieces:
        process = a.design.process_of(p.printed_as)
        shrink = val(f"materials.{process.filament}.shrink")
        if shrink > val("limits.shrink.shrinking"):
            yield p, process, shrink


@concern("corners-lift", "process")
def corners_lift(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 17: a large flat foot of a shrinking kind lifts off the bed."""
    limit, brim = ref("limits.shrink.lift"), val("limits.print.warp_brim")
    for p, process, shrink in _shrinking(a):
        pull = shrink_risk(a.piece_recipes[p.name]).foot_mm * shrink / 100
        if pull <= limit.value or process.brim_mm >= brim:
            continue
        yield say(
            "weigh",
            f"The corners of the {p.name} will lift",
            measured=pull,
            limit=limit.value,
            sense="at most",
            how="longest side x shrinkage, less what the brim holds",
            of=(
                given("shrinks", shrink, "%"),
                given("brim", process.brim_mm),
            ),
            reason=f"{process.filament} shrinks {shrink:g} %: {pull:.1f} mm over the longest side, and the brim of "
            f"{process.brim_mm:g} mm does not hold that.",
            source=str(limit),
            subjects=(p.name,),
            remedies=(
                Remedy(label=f"Brim of {brim:g} mm", edits=change_process(a, p.printed_as, "brim_mm", brim)),
                *_milder(a, p),
            ),
        )


@concern("cracks-at-jumps", "process")
def cracks_at_jumps(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 17: abrupt changes of section crack in shrinking kinds."""
    limit = ref("limits.shrink.jump")
    for p, process, _ in _shrinking(a):
        risk = shrink_risk(a.piece_recipes[p.name])
        if risk.jump <= limit.value:
            continue
        yield say(
            "weigh",
            f"{process.filament} may crack where the section of the {p.name} jumps",
            measured=risk.jump,
            limit=limit.value,
            unit="x area",
            sense="at most",
            how="larger section / smaller section where it changes most from one layer to the next",
            of=(given("at a height of", risk.jump_z_mm),),
            reason=f"At {risk.jump_z_mm:.1f} mm the section changes {risk.jump:.1f}-fold"
            + (f", and {risk.inner_corners} standing inner corners are sharp" if risk.inner_corners else "")
            + ". Shrinkage gathers there; a warm chamber, fillets and slow cooling help.",
            source=str(limit),
            subjects=(p.name,),
            remedies=_milder(a, p),
        )


@concern("cracks-at-corners", "process")
def cracks_at_corners(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 17: sharp inner corners crack in shrinking kinds. Where the section jumps as well, that has told them."""
    sharp, jump = ref("limits.shrink.corner_deg"), val("limits.shrink.jump")
    for p, process, _ in _shrinking(a):
        risk = shrink_risk(a.piece_recipes[p.name])
        if risk.inner_corners == 0 or risk.jump > jump:
            continue
        yield say(
            "weigh",
            f"{process.filament} may crack at sharp inner corners of the {p.name}",
            measured=risk.inner_corners,
            limit=0,
            unit="corners",
            sense="at most",
            how="standing edges at which two walls meet inward and turn more than the limit",
            of=(
                given("long, together", risk.inner_corner_mm),
                looked_up("turn more than", sharp),
                looked_up("longer than", ref("limits.shrink.corner_mm")),
            ),
            reason=f"{risk.inner_corners} of them are {risk.inner_corner_mm:.0f} mm long together. Shrinkage gathers there and opens the layers; a warm chamber "
            "and slow cooling help.",
            source=str(sharp),
            subjects=(p.name, "corners"),
            remedies=_milder(a, p),
        )


@dataclass(frozen=True)
class _Used:
    """A filament that pieces are printed in: what it is called, grams that they take, and the spools of it on the rack."""

    kind: str
    name: str
    mass: float
    spools: tuple[Spool, ...]

    @property
    def left_g(self) -> float:
        return sum(s.left_g for s in self.spools)


def _used(a: Analysis) -> list[_Used]:
    mass: dict[tuple[str, str], float] = {}
    spools: dict[tuple[str, str], tuple[Spool, ...]] = {}
    for p, e in a.estimated():
        process = a.design.process_of(p.printed_as)
        key = (process.filament, a.workshop.filament_name(process))
        mass[key] = mass.get(key, 0.0) + e.mass_g.value
        spools[key] = a.workshop.spools_of(process)
    return [_Used(*key, g, spools[key]) for key, g in mass.items()]


@concern("rack-runs-out", "plan", settled=True)
def rack_runs_out(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 18: not enough filament on the rack."""
    reserve = ref("limits.print.spool_reserve")
    for u in _used(a):
        left, want = u.left_g, u.mass * (1 + reserve.value)
        if left >= want:
            continue
        yield say(
            "weigh",
            f"Not enough {u.name} on the rack" if left else f"No {u.name} on the rack",
            measured=left,
            limit=want,
            unit="g",
            how="sum of what is left on all spools of it; wanted: what the parts take and a reserve",
            of=(
                given("the parts take", u.mass, "g"),
                looked_up("reserve", reserve),
            ),
            reason=f"The parts take {u.mass:.0f} g, and a little more should stay for a part that fails.",
            source=str(reserve),
            subjects=(u.name,),
            remedies=(*_in_plain(a, u), *_in_another(a, u.kind, u.mass)[:2]),
        )


def _in_plain(a: Analysis, u: _Used) -> tuple[Remedy, ...]:
    """Any spool of the kind in place of one's own filament, where enough of it is left."""
    left = sum(s.left_g for s in a.workshop.spools if s.filament == u.kind)
    if u.name == u.kind or left < u.mass * (1 + val("limits.print.spool_reserve")):
        return ()
    edits: tuple[Edit, ...] = (Set(path="process.own_filament", value=None),)
    for own in a.design.part_processes:
        edits += change_process(a, own.part, "own_filament", None)
    return (Remedy(label=f"Print it in any {u.kind}, of which {left:.0f} g are left", edits=edits),)


def _in_another(a: Analysis, kind: str, mass: float, dry: bool = False) -> list[Remedy]:
    """Other kinds that suit every part and of which enough is left, or with `dry` enough that was dried or hardly draws water."""
    reserve = 1 + val("limits.print.spool_reserve")
    parts, out = dict.fromkeys(p.part for p in a.pieces), []
    for k in KINDS:
        keeps = not dry or val(f"materials.{k}.thirst") < 1
        left = sum(s.left_g for s in a.workshop.spools if s.filament == k and (keeps or s.dried))
        needed = mass / val(f"materials.{kind}.density") * val(f"materials.{k}.density") * reserve
        if k == kind or left <= needed or not all(candidate(a, x, k).suits for x in parts):
            continue
        edits: tuple[Edit, ...] = (Set(path="process.filament", value=k),)
        for own in a.design.part_processes:
            edits += change_process(a, own.part, "filament", k)
        out.append(
            Remedy(label=f"Print it in {k}, of which {left:.0f} g are {'left' if keeps else 'dried'}", edits=edits)
        )
    return out


@concern("filament-not-dried", "plan", settled=True)
def filament_not_dried(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 18: a kind that draws water, and less of it on the rack that was ever dried than the parts take. When it was is not judged: that is the day's
    and the room's business."""
    for u in _used(a):
        thirst = ref(f"materials.{u.kind}.thirst")
        dried = sum(s.left_g for s in u.spools if s.dried)
        if thirst.value < 1 or not u.left_g or dried >= min(u.mass, u.left_g):
            continue
        heat, hours = ref(f"materials.{u.kind}.drying"), ref(f"materials.{u.kind}.drying_h")
        yield say(
            "weigh" if thirst.value > 1 else "advice",
            f"{'Some' if dried else 'None'} of the {u.name} on the rack was dried",
            measured=dried,
            limit=u.mass,
            unit="g",
            how="sum of what is left on spools that were ever dried; wanted: what the parts take",
            of=(given("the parts take", u.mass, "g"), looked_up("draws water", thirst), looked_up("dry at", heat)),
            reason=f"{u.kind} {thirst.source}. Dry it at {heat.value:g} °C for {hours.value:g} h, note the day at the rack and print from a dry box.",
            source=str(thirst),
            subjects=(u.name,),
            remedies=tuple(_in_another(a, u.kind, u.mass, dry=True)[:1]),
        )


@concern("colour-runs-out", "plan", settled=True)
def colour_runs_out(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 18: enough filament in all, but of no one colour: two colours are not one spool."""
    reserve = ref("limits.print.spool_reserve")
    for u in _used(a):
        by_colour: dict[str, float] = {}
        for s in u.spools:
            by_colour[s.colour] = by_colour.get(s.colour, 0.0) + s.left_g
        want = u.mass * (1 + reserve.value)
        if len(by_colour) < 2 or sum(by_colour.values()) < want or max(by_colour.values()) >= want:
            continue
        colour, most = max(by_colour.items(), key=lambda c: c[1])
        yield say(
            "weigh",
            f"No one colour of {u.name} is enough",
            measured=most,
            limit=want,
            unit="g",
            how="most that is left in one colour; wanted: what the parts take and a reserve",
            of=(
                given("the parts take", u.mass, "g"),
                looked_up("reserve", reserve),
            ),
            reason=f"The parts take {u.mass:.0f} g; of {colour}, the most there is, {most:.0f} g are left. The rest would be of another "
            "colour: choose which parts, or buy a spool.",
            source=str(reserve),
            subjects=(u.name, "colour"),
        )


@concern("spool-runs-out", "plan", settled=True)
def spool_runs_out(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 18: a piece that takes more than any one spool holds: it runs out on the way."""
    for p, e in a.estimated():
        process = a.design.process_of(p.printed_as)
        spools = [s for s in a.workshop.spools_of(process) if s.left_g > 0]
        need = e.mass_g.value
        # where there is too little in all, or nothing, the rack has its own word
        if not spools or sum(s.left_g for s in spools) < need:
            continue
        fullest = max(spools, key=lambda s: s.left_g)
        if fullest.left_g >= need:
            continue
        yield say(
            "weigh",
            f"The {p.name} runs out of {a.workshop.filament_name(process)} at {fullest.left_g / need:.0%}",
            measured=fullest.left_g,
            limit=need,
            unit="g",
            how="left on the fullest spool; wanted: what the piece takes",
            reason=f"It takes {need:.0f} g; the fullest spool, {fullest.colour}, holds {fullest.left_g:.0f} g. The printer stops for a new "
            "spool in the middle, which leaves a mark, or fails where nobody is there.",
            source="arithmetic",
            subjects=(p.name, "spool"),
        )


def _sound(p: Printer) -> bool:
    return p.health.skew_mm_per_100 <= val("limits.print.skew") and p.health.flow_share >= val("limits.print.flow_low")


@concern("printer-out-of-order", "plan")
def printer_out_of_order(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 20: the printer's last parts came out skewed or under-extruded."""
    h = a.printer.health
    if _sound(a.printer):
        return
    skewed = h.skew_mm_per_100 > val("limits.print.skew")
    limit = ref("limits.print.skew" if skewed else "limits.print.flow_low")
    longest = max((max(p.bbox_mm[:2]) for p in a.pieces), default=0.0)
    yield say(
        "weigh",
        f"{a.printer.name} {'prints skewed' if skewed else 'under-extrudes'}",
        measured=h.skew_mm_per_100 if skewed else h.flow_share,
        limit=limit.value,
        unit="mm over 100" if skewed else "x flow asked",
        sense="at most" if skewed else "at least",
        how="from its last test part: skew over 100 mm, or filament given / asked",
        reason=(
            f"Its last part was out of square; over {longest:.0f} mm that is {h.skew_mm_per_100 * longest / 100:.1f} mm."
            if skewed
            else "Its last part got less filament than asked: clean the nozzle, look at the drive."
        )
        + " Print a square first, and put it right before the big part.",
        source=str(limit),
        subjects=(a.printer.key,),
        remedies=tuple(
            print_on(a, p) for p in a.workshop.printers if p.key != a.printer.key and _sound(p) and all_fit(a, p)
        )[:2],
    )


@concern("nozzle-not-at-hand", "process")
def nozzle_not_at_hand(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A part asks for a nozzle that neither sits in the printer nor lies beside it."""
    at_hand = (a.printer.nozzle_mm, *a.printer.spare_nozzles_mm)
    for part in dict.fromkeys(p.printed_as for p in a.pieces):
        asked = nozzle_mm(a.design.process_of(part), a.printer)
        nearest = min(at_hand, key=lambda x: abs(x - asked))
        if abs(nearest - asked) < 0.01:
            continue
        yield say(
            "stop",
            f"There is no {asked:g} nozzle for the {part}",
            measured=asked,
            limit=nearest,
            sense="at most" if asked > nearest else "at least",
            how="nozzle that the process asks for; nearest that is at hand",
            reason=f"{a.printer.name} has {', '.join(f'{x:g}' for x in at_hand)} mm. Layers, line width and hours are those of a "
            "nozzle that is not there.",
            source=f"workshop: {a.printer.name}",
            subjects=(part,),
            remedies=(Remedy(label=f"Take the {nearest:g} nozzle", edits=_nozzle(a, part, nearest)),),
        )


def _nozzle(a: Analysis, part: str, nozzle: float) -> tuple[Edit, ...]:
    own = None if nozzle == a.printer.nozzle_mm else nozzle
    return change_process(a, part, "nozzle_mm", own)


@concern("layer-too-thick", "process")
def layer_too_thick(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A layer that the nozzle cannot press flat holds badly on the one below."""
    share = ref("printing.stiffness.layer_most")
    for part in dict.fromkeys(p.printed_as for p in a.pieces):
        process = a.design.process_of(part)
        nozzle = nozzle_mm(process, a.printer)
        limit = share.value * nozzle
        if process.layer_mm <= limit + 1e-6:
            continue
        lower = floor(limit * 100 + 1e-6) / 100
        yield say(
            "stop",
            f"Layers of the {part} are too thick for its nozzle",
            measured=process.layer_mm,
            limit=limit,
            sense="at most",
            how="layer height; at most: nozzle x share",
            of=(
                given("nozzle", nozzle),
                looked_up("share", share),
            ),
            reason=f"A bead of a {nozzle:g} nozzle is pressed flat up to {share.value:g} of its width; thicker ones lie loosely.",
            source=str(share),
            subjects=(part,),
            remedies=(Remedy(label=f"Layers of {lower:g} mm", edits=change_process(a, part, "layer_mm", lower)),),
        )
