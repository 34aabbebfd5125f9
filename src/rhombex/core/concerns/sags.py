"""What sags in the years that it carries something: floors under heavy components, tops under themselves and under what hangs from them."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, hypot, inf, pi, sin

from rhombex.core.advice.panels import bend_of, stiffened, thickness_path
from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.parts import Part, Sheet
from rhombex.core.concerns.bench import up
from rhombex.core.concerns.on_a_side import on_its_floor
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.concerns.ribs import ribbed
from rhombex.core.edits import MoveWall, Set
from rhombex.core.fit.laying import down_of
from rhombex.core.hardware.sheets import stock_mm
from rhombex.core.process.creep import creep
from rhombex.core.process.plate_loads import centre_load, clamped_load, even_load
from rhombex.core.process.stiffness import Plate, bending, plates
from rhombex.core.reference import ref, val
from rhombex.core.shell.feet import heavy, load_g
from rhombex.core.space import Box, Face, Vec2, hull
from rhombex.core.stance import opposite
from rhombex.core.trail import Input, Trail, given

G = 9.81
POSTS = 4  # a component stands on, or hangs from, so many
THICKEST_MM = 20.0
CLOSE_MM = 0.1


@concern("floor-sags", "shell", needs=("mounts",))
def floor_sags(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: a heavy component with too thin a floor under it, in the years that it stands there."""
    if a.case.stands_on != "bottom":
        return  # upright it does not sag
    standing = {m.of for m in a.case.mounts}
    for part in dict.fromkeys(m.part for m in a.case.mounts):
        of = a.case.part(part)
        floor = next((p for p in plates(a.design, of) if p.name == "floor"), None)
        if floor is not None:
            yield from _sags(a, say, of, floor, "bottom", standing)


@concern("side-sags", "shell", needs=("walls",))
def side_sags(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: what is fixed to the wall that a case stands on, as on a floor."""
    on = a.case.stands_on
    of = a.case.most_of(on)
    if on == "bottom" or of is None:
        return
    fixed = {t.id for t in a.things if t.face == on}
    yield from _sags(a, say, of, _as_plate(a, a.case.face(on), of), on, fixed)


def _sags(a: Analysis, say: Maker, of: Part, floor: Plate, face: str, standing: set[str]) -> Iterator[Finding]:
    """What a plate bends by in the years under those that stand on it, in one part of the case."""
    limit = ref("limits.standing.sag")
    by_id = {t.id: t for t in a.things}
    room = _room(a)
    short, long = sorted(room.size[:2])
    # what has a foot right under it stands on that
    loads = {i: load_g(by_id[i], a.things) for i in standing if not _footed(a, by_id[i])}
    if not loads or short <= 0:
        return
    load = sum(loads.values()) / 1000 * G
    if load <= 0:
        return
    # what it comes to if all of it stood in the middle
    share = sum(m * _shape(room, _middle(a, by_id[i])) for i, m in loads.items()) / sum(loads.values())
    d_nmm = _of_sheet_nmm(of.sheet, floor.thick_mm) if of.sheet else _stiff_nmm(a, of.name, floor)
    if d_nmm <= 0:
        return  # nothing is laid: that is told
    ribs = stiffened(a, face, POSTS) if of.ribbed == face else 1.0
    warm = _creep_of_sheet(of.sheet) if of.sheet else _creep(a, of.name)
    one = load * share * short**2 / d_nmm / ribs * warm.value
    sag, least = centre_load(long / short) * one, clamped_load(long / short) * one
    if sag <= limit.value:
        return
    worst = by_id[max(loads, key=lambda i: loads[i] * _shape(room, _middle(a, by_id[i])))]
    thick = _stiff_enough_mm(a, of, floor, sag / limit.value)
    what = "floor" if face == "bottom" else f"{face} wall"
    yield say(
        "weigh",
        f"The {what} sags under {worst.name}",
        measured=sag,
        limit=limit.value,
        sense="at most",
        how="alpha P a^2 / D x creep, each load by sin x sin of where it stands; D of the floor"
        + (", as many times as stiff by its ribs" if ribs > 1 else ""),
        of=(
            given("P", load, "N", "what stands on it and has no foot right under it"),
            given("of it as in the middle", share, "", "first term of Navier's series"),
            given("a", short),
            given("b", long),
            given("thickness", floor.thick_mm),
            given("D", d_nmm / 1000, "N m", "sheet" if of.sheet else "skins on a core of infill"),
            *((given("by its ribs", ribs, "x"),) if ribs > 1 else ()),
            given("creep", warm.value, "x", warm.formula),
            *warm.inputs,
        ),
        reason=f"{load:.1f} N on a {what} of {long:.0f} x {short:.0f} x {floor.thick_mm:g} mm of {_made_of(a, of)} at "
        f"{a.ladder.wall_c.value:.0f} degrees: {least:.1f} to {sag:.1f} mm once it has crept, by how stiffly its walls hold it. Screws work loose and "
        "plugs stand askew.",
        source=f"plate with its edges held (Timoshenko and Woinowsky-Krieger); {warm.source}",
        subjects=(of.name, worst.id),
        remedies=(
            *(_feet_under(a, of.name, worst) if face == "bottom" else ()),
            *_ribs(a, face, of, limit.value / sag),
            *_thicker(what, thickness_path(a, face), _to_be_had(of, thick)),
            *on_its_floor(a),
        ),
    )


@concern("top-sinks", "shell", needs=("top",))
def top_sinks(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: a top that sinks under its own weight and what hangs from it, until it leans on what stands below it when it is warm."""
    face = a.case.face(opposite(a.case.stands_on))
    of = a.case.most_of(face.id)
    short, long = sorted(_room(a).size[:2])
    if of is None or not face.whole or short <= 0 or _of_top(a, face, of)[0] <= 0:
        return
    middle, warm, inputs = _sunk(a, face, of)
    below, gap, there = _leans_on(a, face, middle)
    limit = ref("limits.standing.sunk")
    if below is None and middle <= limit.value:
        return
    worst, most = (middle, limit.value) if below is None else (there, gap)
    thick = ceil(face.thick_mm * (worst / max(most, CLOSE_MM)) ** (1 / 2) * 10.5 + 1) / 10
    top = "top" if face.id == "top" else f"{face.id} wall"
    what = f"{top} of the case sinks in its middle" if below is None else f"{top} comes to lean on {below.name}"
    yield say(
        "weigh",
        f"The {what}",
        measured=worst,
        limit=most,
        sense="at most",
        how="(alpha P a^2 + beta q a^4) / D x creep, each load and place by sin x sin of where it is",
        of=inputs,
        reason=f"{long:.0f} x {short:.0f} x {face.thick_mm:g} mm of {_made_of(a, of)} at {a.ladder.wall_c.value:.0f} degrees sink by "
        f"{middle:.1f} mm in their middle in ten years"
        + (
            ". It is seen, and its edges gape."
            if below is None
            else f", by {there:.1f} over {below.name}, which stands {gap:.1f} mm below: a fan rubs, a cooler presses."
        ),
        source=f"plate held at its edges (Timoshenko and Woinowsky-Krieger); {warm.source}",
        subjects=(of.name, face.id) if below is None else (of.name, below.id),
        remedies=(
            *_ribs(a, face.id, of, most / worst),
            # where it all but touches, no thickness keeps it off
            *(_thicker(top, thickness_path(a, face.id), _to_be_had(of, thick)) if most >= CLOSE_MM else ()),
            *(() if below is None else _farther(opposite(a.case.stands_on), worst - most)),
            *on_its_floor(a),
        ),
    )


def _farther(face: Face, by_mm: float) -> tuple[Remedy, ...]:
    """The top so much farther off what it comes to lean on."""
    by = up(by_mm)
    label = f"Raise the lid by {by:g} mm" if face == "top" else f"Move the {face} wall out by {by:g} mm"
    return (Remedy(label=label, edits=(MoveWall(face=face, by_mm=by),)),)


def _sunk(a: Analysis, face: CaseFace, of: Part) -> tuple[float, Trail, tuple[Input, ...]]:
    """How far the middle of the top sinks in the end, mm; its creep; and what went in."""
    room = _room(a)
    short, long = sorted(room.size[:2])
    d_nmm, grams, warm = _of_top(a, face, of)
    ribs = stiffened(a, face.id, POSTS) if of.ribbed == face.id else 1.0
    hung = {t.id: t.component.mass_g for t in a.things if t.face == face.id}
    load = sum(hung.values()) / 1000 * G
    share = sum(m * _shape(room, _middle(a, t)) for t in a.things if (m := hung.get(t.id, 0.0))) / max(
        sum(hung.values()), 1e-9
    )
    own = grams / 1e6 / 1000 * G  # N/mm2
    bent = centre_load(long / short) * load * share * short**2 + even_load(long / short) * own * short**4
    return (
        bent / d_nmm / ribs * warm.value,
        warm,
        (
            given("P", load, "N", "what hangs from it"),
            given("of it as in the middle", share, "", "first term of Navier's series"),
            given("q", own * 1e6, "N/m2", "its own weight"),
            given("a", short),
            given("b", long),
            given("thickness", face.thick_mm),
            given("D", d_nmm / 1000, "N m", "sheet" if of.sheet else "skins on a core of infill"),
            *((given("by its ribs", ribs, "x"),) if ribs > 1 else ()),
            given("creep", warm.value, "x", warm.formula),
            *warm.inputs,
        ),
    )


def _of_top(a: Analysis, face: CaseFace, of: Part) -> tuple[float, float, Trail]:
    """Stiffness of a top, N mm, its mass, g/m2, and its creep: of bought sheet, or as it is printed."""
    if of.sheet is not None:
        grams = val(f"sheet.{of.sheet.material}.density") * face.thick_mm * 1000
        return _of_sheet_nmm(of.sheet, face.thick_mm), grams, _creep_of_sheet(of.sheet)
    plate = _as_plate(a, face, of)
    grams = bending(plate, a.design.process_of(of.name), a.printer)[1]
    return _stiff_nmm(a, of.name, plate), grams, _creep(a, of.name)


def _as_plate(a: Analysis, face: CaseFace, of: Part) -> Plate:
    """A face as a plate, lying or standing as its part lies on the bed."""
    lies = down_of(a.design, of) in (face.id, opposite(face.id))
    return Plate(name=face.id, thick_mm=face.thick_mm, pose="lying" if lies else "standing")


def _of_sheet_nmm(sheet: Sheet, thick_mm: float) -> float:
    """Bending stiffness of bought sheet per width, N mm."""
    return val(f"sheet.{sheet.material}.modulus") * thick_mm**3 / 12 / (1 - val("limits.standing.poisson") ** 2)


def _creep_of_sheet(sheet: Sheet) -> Trail:
    """How many times as far bought sheet gives way in the end."""
    stays = ref(f"sheet.{sheet.material}.creep")
    return Trail(value=stays.value, unit="x", formula="of the sheet, in the end", source=str(stays))


def _made_of(a: Analysis, of: Part) -> str:
    return of.sheet.material if of.sheet else a.design.process_of(of.name).filament


def _leans_on(a: Analysis, face: CaseFace, middle_mm: float) -> tuple[Thing | None, float, float]:
    """The component onto which the top sinks, with what hangs from it: how far below it stands now, and how far the top sinks there. The one that it
    would be pressed into deepest; None where there is none."""
    room, stood = _room(a), a.case.stance.inverse
    ceiling = room.hi[2]
    found: list[tuple[float, Thing, float, float]] = []
    boxes = [(t, stood.box(s.box)) for t in a.things for s in hard(t)]
    hangs = [b for t, b in boxes if t.face == face.id and b.lo[2] < ceiling]
    for t, b in ((t, b) for t, b in boxes if t.face != face.id):
        over = [h.lo[2] for h in hangs if all(h.lo[i] < b.hi[i] and b.lo[i] < h.hi[i] for i in (0, 1))]
        gap = min(over, default=ceiling) - b.hi[2]
        there = middle_mm * _shape(room, (b.centre[0], b.centre[1]))
        if 0 <= gap < there:
            found.append((there - gap, t, gap, there))
    if not found:
        return None, 0.0, 0.0
    _, t, gap, there = max(found, key=lambda f: f[0])
    return t, gap, there


def _room(a: Analysis) -> Box:
    """The cavity as the case stands, z up."""
    return a.case.stance.inverse.box(a.case.cavity)


def _shape(room: Box, at: Vec2) -> float:
    """How far a plate over or under the room gives way at a place, as the case stands, of what its middle does: the first term of Navier's series. As much less
    does a load there bend its middle."""
    lo, size = room.lo, room.size
    share = 1.0
    for i in (0, 1):
        share *= sin(pi * min(max((at[i] - lo[i]) / max(size[i], 1e-9), 0.0), 1.0))
    return share


def _over(a: Analysis, t: Thing) -> Box:
    """The box round a component's bodies as the case stands."""
    boxes = [s.box for s in t.solids if s.role == "body"] or [s.box for s in t.solids]
    return a.case.stance.inverse.box(hull(boxes))


def _middle(a: Analysis, t: Thing) -> Vec2:
    x, y, _ = _over(a, t).centre
    return (x, y)


def _stiff_nmm(a: Analysis, part: str, plate: Plate) -> float:
    """Bending stiffness of a plate per width, N mm: E I / (1 - nu^2)."""
    return bending(plate, a.design.process_of(part), a.printer)[0] * 1000 / (1 - val("limits.standing.poisson") ** 2)


def _stiff_enough_mm(a: Analysis, of: Part, plate: Plate, times: float) -> float:
    """How thick a plate is that is so many times as stiff, and a little to spare: by its cube, or more where it is printed with a core of infill."""
    thick: float = ceil(plate.thick_mm * times ** (1 / 3) * 10.5 + 1) / 10
    if of.sheet is not None:
        return thick
    wanted: float = times * _stiff_nmm(a, of.name, plate)
    while thick <= THICKEST_MM and _stiff_nmm(a, of.name, plate.model_copy(update={"thick_mm": thick})) < wanted:
        thick = round(thick + 0.2, 1)
    return thick


def _creep(a: Analysis, part: str) -> Trail:
    return creep(a.design.process_of(part).filament, a.ladder.wall_c.value)


def _ribs(a: Analysis, face: str, of: Part, times: float) -> tuple[Remedy, ...]:
    """Ribs with which a face gives way so many times as far as now."""
    if of.ribbed != face:
        return ()
    now = bend_of(a, a.case.face(face), [r for r in a.case.ribs if r.face == face], POSTS)
    return () if now is None else ribbed(a, face, now.value * times, POSTS)


def _to_be_had(of: Part, thick: float) -> float:
    """The thickness, or the next that sheet is sold in; too much where there is none, or where one sheet is bent and all of it would be thicker."""
    if of.sheet is None:
        return thick
    return inf if of.sheet.bends else next((t for t in stock_mm(of.sheet.material) if t >= thick), inf)


def _thicker(what: str, path: str, thick: float) -> tuple[Remedy, ...]:
    if thick > THICKEST_MM:
        return ()
    return (Remedy(label=f"Make the {what} {thick:g} mm thick", edits=(Set(path=path, value=thick),)),)


def _footed(a: Analysis, t: Thing) -> bool:
    """Whether a foot is under the middle of a component, within a quarter of its diagonal."""
    (w, d, _), (x, y) = _over(a, t).size, _middle(a, t)
    feet = (a.case.stance.local(f) for f in a.case.stands_at)
    return any(hypot(f[0] - x, f[1] - y) <= hypot(w, d) / 4 for f in feet)


@searched
def _feet_under(a: Analysis, part: str, worst: Thing) -> tuple[Remedy, ...]:
    """A foot under what is heavy, where the case stands on feet and its floor is the part."""
    design = a.design
    if part != a.case.footed or design.shell.feet_under or not design.shell.feet or design.brief.stands == "wall":
        return ()
    if worst not in heavy(a.case.mounts, a.things):
        return ()
    return (Remedy(label="Put feet under what is heavy", edits=(Set(path="shell.feet_under", value=True),)),)
