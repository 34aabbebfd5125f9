"""What a handle is loaded with, what bears it, and where it has room."""

from __future__ import annotations

from math import atan2, ceil, degrees, hypot, pi

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.gaps import hard
from rhombex.core.case.fittings import Bow
from rhombex.core.case.joints import Joint
from rhombex.core.design import Handle
from rhombex.core.edits import CarryBy, Edit, MoveWall, Together
from rhombex.core.fit.bead import line_width_mm, spacing_mm
from rhombex.core.fit.laying import down_of
from rhombex.core.hardware.magnets import held_parts
from rhombex.core.hardware.snaps import snaps_hold
from rhombex.core.hardware.strength import bears
from rhombex.core.openings.opening import outline
from rhombex.core.reference import ref, val
from rhombex.core.shell.case_screw import THREAD
from rhombex.core.shell.handle import HANDLE, ground_of, outline_of, over_mm, tops_under
from rhombex.core.space import Face, Vec2, Vec3
from rhombex.core.trail import Frozen, Trail, given, looked_up

G_N = 9.81
STEP_MM = 5.0  # a free place is looked for on a grid so fine


class Link(Frozen):
    """One of the things that carry the case, and the load in N at which it gives way, at the least."""

    what: str
    bears_n: Trail


def load(mass_g: float) -> Trail:
    """What a hand pulls with when the case is lifted with a jerk, N."""
    jerk = ref("limits.carry.jerk")
    return Trail(
        value=mass_g / 1000 * G_N * jerk.value,
        unit="N",
        formula="mass x 9.81 m/s2 x jerk",
        inputs=(given("case with all in it", mass_g, "g", "its estimate"), looked_up("jerk", jerk)),
        source=str(jerk),
    )


def section_mm3(a: Analysis, bow: Bow, infill: float | None = None, high_mm: float | None = None) -> float:
    """Section modulus of the bar, or of what lies beside it and is `high_mm` high, as it is printed: its skin, and a core of infill whose stiffness is its share squared. It lies on its side: solid layers
    are across it, perimeters above and below. `infill`: a share other than its own. I = (b h^3 - (1 - core) b' h'^3) / 12."""
    p = a.design.process_of(HANDLE)
    width = line_width_mm(p, a.printer)
    skin = width + (p.perimeters - 1) * spacing_mm(width, p.layer_mm)
    core = (p.infill if infill is None else infill) ** val("printing.stiffness.core_power")
    high = bow.bar_mm if high_mm is None else high_mm
    inner = max(0.0, high - 2 * skin)
    across = max(0.0, bow.deep_mm - (p.top_layers + p.bottom_layers) * p.layer_mm)
    inertia = (bow.deep_mm * high**3 - (1 - core) * across * inner**3) / 12
    return float(inertia / (high / 2))


def stress(a: Analysis, bow: Bow, pull_n: float) -> tuple[Trail, Trail]:
    """Stress in the bar, or in its legs where that is more, MPa, and what its filament bears: a frame whose legs are clamped at their feet, with its load in the
    middle of the bar. With k = I of the bar / I of a leg x height / length, M = F L / 4 x (k + 1) / (k + 2) in the bar's middle, F L / (4 (k + 2)) at its ends;
    of short legs (k = 0) both are F L / 8, of a beam that is held at both ends."""
    long, high = bow.grip_mm + bow.foot_mm, bow.room_mm + bow.bar_mm / 2
    bar, leg = section_mm3(a, bow), section_mm3(a, bow, high_mm=bow.foot_mm)
    k = (bar * bow.bar_mm) / (leg * bow.foot_mm) * high / long
    ends = pull_n * long / (4 * (k + 2)) / leg
    middle = pull_n * long / 4 * (k + 1) / (k + 2) / bar
    w = bar if middle >= ends else leg
    kind = a.design.process_of(HANDLE).filament
    strength, across = ref(f"materials.{kind}.strength"), ref(f"materials.{kind}.across_layers")
    # on its side the lines run along the bow; any other way its feet or its bar pull at layers
    along = down_of(a.design, a.case.part(HANDLE)) in _SIDES[bow.runs]
    found = Trail(
        value=max(middle, ends),
        unit="MPa",
        formula="F L (k + 1) / (4 (k + 2) W), W of the printed bar"
        if middle >= ends
        else "F L / (4 (k + 2) W), W of a printed leg",
        inputs=(
            given("F", pull_n, "N", "lifted with a jerk"),
            given("L", long, "mm", "from foot to foot"),
            given("k", k, "", "bar against legs: I x height / (I x length)"),
            given("W", w, "mm3", "skin and core of infill"),
        ),
        source="frame clamped at its feet, load in the middle of its bar (Kleinlogel, from memory; slope and deflection give the same)",
    )
    borne = Trail(
        value=strength.value * (1.0 if along else across.value),
        unit="MPa",
        formula="strength" if along else "strength x share across layers",
        inputs=(looked_up("strength", strength), *(() if along else (looked_up("across layers", across),))),
        source=str(strength),
    )
    return found, borne


def seam_nm(a: Analysis, bow: Bow, at_mm: float, pull_n: float) -> tuple[Trail, Trail]:
    """What parts a seam of the bar, N m, by its glue alone, and what bends it as the case is lifted, as of a bar on two supports: a seam is no clamp."""
    glue, i = ref("printing.feature.glue_low"), 0 if bow.runs == "x" else 1
    long = bow.grip_mm + bow.foot_mm
    near = long / 2 - abs(at_mm - bow.middle[i])
    bears = Trail(
        value=glue.value * bow.deep_mm * bow.bar_mm**2 / 6000,
        unit="N m",
        formula="strength of glue x b h^2 / 6",
        inputs=(looked_up("glued, at least", glue), given("b", bow.deep_mm), given("h", bow.bar_mm)),
        source=str(glue),
    )
    bends = Trail(
        value=pull_n * near / 2000,
        unit="N m",
        formula="F x / 2, on two supports with its load in the middle",
        inputs=(given("F", pull_n, "N", "lifted with a jerk"), given("x", near, "mm", "from the nearer foot")),
        source="beam on two supports, load in its middle (Roark; Timoshenko)",
    )
    return bears, bends


_SIDES = {"x": ("front", "back"), "y": ("left", "right")}


def links(a: Analysis, bow: Bow) -> tuple[Link, ...]:
    """What carries the case from hand to floor: the threads in the handle, the plastic under the screws' heads, and what holds the part that the handle is
    on; the weakest first."""
    out: list[Link] = []
    for g in a.joints:
        mine = g.into == HANDLE
        if g.key.startswith("case/") and (mine or (bow.top in g.holds.split(", ") and g.opened)):
            part = HANDLE if mine else g.part
            pull = bears(g, a.design.process_of(part).filament).pull
            who = "the threads in the handle" if mine else f"the threads of the {g.name} screws"
            if pull is not None:
                out.append(Link(what=who, bears_n=_times(pull, g.count)))
    top = a.case.part(bow.top)
    held = [j for j in a.case.joints if j.holds == bow.top and j.along[2] < 0]
    for who, screws in (
        ("the plastic under the heads of its screws", bow.screws),
        (f"the plastic of the {bow.top} under its heads", held),
    ):
        if screws and top.sheet is None:
            out.append(Link(what=who, bears_n=_heads(tuple(screws))))
    if top.sheet is None:
        kind = a.design.process_of(bow.top).filament
        out.append(Link(what=f"the {bow.top} round the heads of its screws", bears_n=_torn_through(bow.screws, kind)))
    mass = {p: sum(x.estimate.mass_g.value for x in a.pieces if x.part == p and x.estimate) for p in {bow.top}}
    out += [
        Link(what=f"the magnets of the {h.part}", bears_n=h.low_n)
        for h in held_parts(a.case, mass)
        if h.part == bow.top
    ]
    snaps = snaps_hold(a.design, a.case, mass)
    if snaps is not None and a.case.snaps[0].holds == bow.top:
        out.append(Link(what="the snaps", bears_n=snaps.off_n))
    return tuple(sorted(out, key=lambda x: x.bears_n.value))


def _times(one: Trail, count: int) -> Trail:
    return one.model_copy(
        update={
            "value": one.value * count,
            "formula": f"count x {one.formula}",
            "inputs": (given("count", count, "", "this case"), *one.inputs),
        }
    )


def _heads(screws: tuple[Joint, ...]) -> Trail:
    j, bearing = screws[0], ref("fasteners.rule.bearing")
    ring = pi / 4 * (val(f"fasteners.{j.thread}.head_d") ** 2 - j.clearance_mm**2)
    return Trail(
        value=len(screws) * ring * bearing.value,
        unit="N",
        formula="screws x ring under a head x bearing pressure",
        inputs=(
            given("screws", len(screws), "", "this case"),
            given("ring", ring, "mm2", "head less its hole"),
            looked_up("bearing", bearing),
        ),
        source=str(bearing),
    )


def _torn_through(screws: tuple[Joint, ...], filament: str) -> Trail:
    """A head that is pulled through what it holds shears off the ring of plastic round it."""
    j, shear = screws[0], ref("fasteners.rule.shear_low")
    strength, across = ref(f"materials.{filament}.strength"), ref(f"materials.{filament}.across_layers")
    head = val(f"fasteners.{j.thread}.head_d")
    return Trail(
        value=len(screws) * pi * head * j.grip_mm * strength.value * across.value * shear.value,
        unit="N",
        formula="screws x pi x head x thickness x shear strength: strength x share across layers x share in shear",
        inputs=(
            given("screws", len(screws), "", "this case"),
            given("head", head),
            given("thickness", j.grip_mm),
            looked_up("strength", strength),
            looked_up("across layers", across),
            looked_up("in shear", shear),
        ),
        source=str(shear),
    )


def askew_deg(bow: Bow, centre: Vec3) -> float:
    """How askew a case hangs: by as much as its centre of mass lies beside the handle, over how far it lies under the hand."""
    x, y, z = bow.middle
    return degrees(atan2(hypot(centre[0] - x, centre[1] - y), max(z + bow.room_mm - centre[2], 1e-6)))


def gap_mm(a: Analysis, bow: Bow) -> tuple[float, str]:
    """How far the feet of a handle stay clear of what is cut into the top, and its screws' heads of what is right under it; negative where they meet. With
    what is nearest."""
    return _gap(bow, *_taken(a))


Rect = tuple[float, float, float, float]


def _taken(a: Analysis) -> tuple[list[tuple[str, Rect]], list[tuple[str, Rect]]]:
    """What feet may not stand over and heads may not meet, seen from above in the case's frame (x0, y0, x1, y1)."""
    ground = ground_of(a.case)
    if ground is None:
        return [], []
    face = ground.face
    cut = [(o.label, outline(o)) for o in a.openings.openings if o.face == face.id]
    for v in a.openings.vents:
        if v.face == face.id and v.holes and v.fan is not None:
            (u, w), (du, dw) = v.at_mm, v.size_mm
            cut.append((v.label, (u - du / 2, w - dw / 2, u + du / 2, w + dw / 2)))
    over = [(who, (*face.stretch(0, *r), *face.stretch(1, *r))) for who, r in cut]
    if ground.open_plate:  # its legs rise beside all that stands there, its heads are among the feet
        stands = [(t.name, s.box) for t in a.things for s in hard(t)]
        stands += [
            (f"a post of {next((t.name for t in a.things if t.id == m.of), m.of)}", m.box) for m in a.case.mounts
        ]
        stands += [("an upright", box) for box in a.case.uprights]
        r = a.case.foot_d_mm / 2
        return (
            [(who, (x0, y0, x1, y1)) for who, (x0, x1, y0, y1) in over]
            + [(who, (b.lo[0], b.lo[1], b.hi[0], b.hi[1])) for who, b in stands],
            [("a foot", (x - r, y - r, x + r, y + r)) for x, y in a.case.feet],
        )
    under = a.case.box_mm[2] - face.thick_mm - val(f"fasteners.{THREAD}.head_k")
    solids = [(t.name, s.box) for t in a.things for s in hard(t) if s.box.hi[2] > under]
    return (
        [(who, (x0, y0, x1, y1)) for who, (x0, x1, y0, y1) in over],
        [(who, (b.lo[0], b.lo[1], b.hi[0], b.hi[1])) for who, b in solids],
    )


def _gap(bow: Bow, cut: list[tuple[str, Rect]], solids: list[tuple[str, Rect]]) -> tuple[float, str]:
    worst, r = (float("inf"), ""), val(f"fasteners.{THREAD}.head_d") / 2
    for foot in bow.feet:
        (x0, y0, _), (x1, y1, _), (x, y, _) = foot.lo, foot.hi, foot.centre
        for who, (a0, b0, a1, b1) in cut:
            worst = min(worst, (max(a0 - x1, x0 - a1, b0 - y1, y0 - b1), who))
        for who, (a0, b0, a1, b1) in solids:
            worst = min(worst, (max(a0 - x, x - a1, b0 - y, y - b1) - r, who))
    return worst


def places(a: Analysis, h: Handle, near: Vec2) -> list[Handle]:
    """Where the handle has room, lying along either way: the place of each that is nearest to `near` (in the case's frame)."""
    out = []
    lo, hi = a.case.cavity.lo, a.case.cavity.hi
    taken, gap = _taken(a), val("limits.gap.wall")
    for runs in (h.runs, "y" if h.runs == "x" else "x"):
        spots = [
            (x * STEP_MM, y * STEP_MM)
            for x in range(int((hi[0] - lo[0]) / STEP_MM) + 1)
            for y in range(int((hi[1] - lo[1]) / STEP_MM) + 1)
        ]
        for at in sorted(spots, key=lambda p: hypot(p[0] + lo[0] - near[0], p[1] + lo[1] - near[1])):
            tried = h.model_copy(update={"runs": runs, "at_mm": at})
            bow = outline_of(a.case, a.things, tried)
            if over_mm(a.case, bow) <= 1e-6 and len(tops_under(a.case, bow)) == 1 and _gap(bow, *taken)[0] >= gap:
                out.append(tried)
                break
    return out


def spanning(a: Analysis, h: Handle, near: Vec2) -> tuple[Edit, ...]:
    """Over an open plate: a handle so long that its feet stand beside all that is under its bar, its middle over a place, and the plate as much larger as
    they need; along the way that takes the shorter one. Nothing where there is no open plate, or none that a hand finds short enough."""
    ground, most = ground_of(a.case), float(Handle.model_fields["grip_mm"].metadata[1].le)
    if ground is None or not ground.open_plate:
        return ()
    gap, lo, foot = val("limits.gap.wall"), a.case.cavity.lo, outline_of(a.case, a.things, h).foot_mm
    stands = [s.box for t in a.things for s in hard(t)] + [m.box for m in a.case.mounts] + list(a.case.uprights)
    u0, v0, u1, v1 = ground.face.clear_mm
    ends = sorted((ground.face.at((u0, v0)), ground.face.at((u1, v1))))
    found: list[tuple[float, tuple[Edit, ...]]] = []
    for runs, i in (("x", 0), ("y", 1)):
        j, half_wide = 1 - i, h.deep_mm / 2 + gap
        mine = [b for b in stands if b.lo[j] < near[j] + half_wide and b.hi[j] > near[j] - half_wide]
        half = max((max(near[i] - b.lo[i], b.hi[i] - near[i]) for b in mine), default=0.0) + gap
        grip = float(max(ceil(2 * half), ceil(h.grip_mm)))
        reach = grip / 2 + foot
        plain = sorted(e[i] for e in ends)
        short = [max(0.0, ceil(10 * x) / 10) for x in (plain[0] - near[i] + reach, near[i] + reach - plain[1])]
        at = [near[0] - lo[0], near[1] - lo[1]]
        at[i] += short[0]
        faces: tuple[Face, Face] = ("left", "right") if i == 0 else ("front", "back")
        walls = tuple(MoveWall(face=f, by_mm=by) for f, by in zip(faces, short, strict=True) if by > 0)
        to = {"runs": runs, "grip_mm": grip, "at_mm": (round(at[0], 2), round(at[1], 2))}
        if grip <= most:
            found.append((grip, (*walls, CarryBy(handle=h.model_copy(update=to)))))
    # what is fixed to a wall goes along with it, so that it is looked at again
    return next((edits for _, edits in sorted(found, key=lambda x: x[0]) if _stands_free(a, edits, gap)), ())


def _stands_free(a: Analysis, edits: tuple[Edit, ...], gap_wanted_mm: float) -> bool:
    then = analyse(apply(a.design, Together(edits=edits)), a.workshop, "none")
    return then.case.handle is not None and gap_mm(then, then.case.handle)[0] >= gap_wanted_mm - 1e-6
