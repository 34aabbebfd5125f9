"""How the case stands: whether it tips, has something under what is heavy, or hangs on a wall."""

from __future__ import annotations

from collections.abc import Iterator
from math import atan2, ceil, degrees, radians, tan

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.concerns.on_a_side import lacks_room
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import RestsOn
from rhombex.core.edits import MoveWall, PropUp, StandOn
from rhombex.core.geometry import mesh_kernel
from rhombex.core.reference import ref, val
from rhombex.core.shell.feet import inset_mm
from rhombex.core.shell.hooks import hook_of
from rhombex.core.shell.props import LEAST_HIGH_MM, hangs_out, held_at_one_end, prop_of
from rhombex.core.space import Face, Vec3
from rhombex.core.stance import IN_WORDS, STANDS_ON, opposite, sides_of, stood, stood_size
from rhombex.core.trail import given

G = 9.81
WALLS_SHARE = 0.75  # of what a wall is moved out by, what is printed goes along with it, at the most: itself wholly, those beside it by half


def weighed(a: Analysis) -> tuple[float, Vec3]:
    """Mass, g, and centre of gravity of the case with all that is in it: components in the middle of their hard solids, printed
    pieces by their filament. What cannot be estimated is left out."""
    loads: list[tuple[float, Vec3]] = []
    for t in a.things:
        boxes = [s.box for s in t.solids if s.role not in ("plug", "keepout")]
        if boxes and t.component.mass_g:
            lo = [min(b.lo[i] for b in boxes) for i in range(3)]
            hi = [max(b.hi[i] for b in boxes) for i in range(3)]
            loads.append((t.component.mass_g, ((lo[0] + hi[0]) / 2, (lo[1] + hi[1]) / 2, (lo[2] + hi[2]) / 2)))
    for p in a.pieces:
        if p.estimate is not None and p.name in a.pieces_in_case:
            loads.append((p.estimate.mass_g.value, mesh_kernel.centre(a.pieces_in_case[p.name])[1]))
    loads += [(x.mass_g, mesh_kernel.centre(a.recipes[x.part])[1]) for x in a.sheets]
    mass = sum(m for m, _ in loads)
    if mass <= 0:
        return 0.0, (0.0, 0.0, 0.0)
    x, y, z = (sum(m * at[i] for m, at in loads) / mass for i in range(3))
    return mass, (x, y, z)


@concern("tips-over", "shell", needs=("walls",), settled=True)
def tips_over(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: a case that tips over when it is pushed or its desk leans."""
    mass, centre = weighed(a)
    x, y, z = a.case.stance.local(centre)
    if mass <= 0 or z <= 0 or a.design.brief.stands == "wall":
        return
    wanted, least = ref("limits.standing.wanted"), val("limits.standing.least")
    z += a.case.foot.high_mm if a.case.foot and a.case.stands_at else 0.0  # over the desk
    w, d, h = stood_size(a.case.stands_on, a.case.box_mm)
    feet = [a.case.stance.local(p) for p in a.case.stands_at]
    xs = [p[0] for p in feet] or [0.0, w]
    ys = [p[1] for p in feet] or [0.0, d]
    where = sides_of(a.case.stands_on)
    reach: dict[Face, float] = {
        where["left"]: x - min(xs),
        where["right"]: max(xs) - x,
        where["front"]: y - min(ys),
        where["back"]: max(ys) - y,
    }
    face = min(reach, key=lambda f: reach[f])
    angle = degrees(atan2(reach[face], z))
    if angle >= wanted.value:
        return
    steep = tan(radians(wanted.value))
    # what is built of walls has its centre half as high: it sinks by half of what the lid does, and a little is to spare
    lower = ceil(2.4 * (z - reach[face] / steep) * 10) / 10
    remedies: tuple[Remedy, ...]
    if a.case.stands_on == "bottom" and a.case.has("top") and lower < _over_all(a):
        remedies = (Remedy(label=f"Lower the lid by {lower:g} mm", edits=(MoveWall(face="top", by_mm=-lower),)),)
    else:
        # more than it takes: a wall that is moved out takes the centre along by its share, if the one opposite does not go the other way
        lacks = {f: z * steep - r for f, r in reach.items()}
        need = {f: n * _more(a, f, mass, both=lacks[opposite(f)] > 0) for f, n in lacks.items()}
        moves = tuple(MoveWall(face=f, by_mm=ceil(n * 10) / 10) for f, n in need.items() if n > 0)
        walls = " and ".join(f"the {m.face} wall {m.by_mm:g} mm" for m in moves)
        remedies = (*laid_down(a, wanted.value), Remedy(label=f"Move {walls} out", edits=moves))
    yield say(
        "stop" if angle < least else "weigh",
        f"The case tips over to the {face}"
        if face in ("front", "back", "left", "right")
        else f"The case tips over onto its {face}",
        measured=angle,
        limit=wanted.value,
        unit="deg",
        how="atan(reach of the feet on that side / height of the centre of mass)",
        of=(
            given("reach", reach[face]),
            given("height of the centre", z),
            given("mass", mass / 1000, "kg"),
        ),
        reason=f"{mass / 1000:.2f} kg have their centre {z:.0f} mm over the desk and {reach[face]:.0f} mm from "
        f"{'the feet' if feet else 'the edge'} on that side: it falls when it leans by {angle:.0f} degrees, or when it is pushed "
        f"there with {mass / 1000 * G * reach[face] / h:.1f} N at the top.",
        source=str(wanted),
        subjects=("case", face),
        remedies=remedies,
    )


def _more(a: Analysis, face: Face, mass_g: float, both: bool) -> float:
    """How many times as far as the centre lacks a wall is moved out, at the most: what is fixed to it goes along, and of what is printed a part, which stays
    where it is if the wall opposite goes out as well (`both`)."""
    made = sum(e.mass_g.value for _, e in a.estimated()) + sum(s.mass_g for s in a.sheets)
    fixed = sum(t.component.mass_g for t in a.things if t.face == face)
    goes = min(0.9, (fixed + (0.0 if both else WALLS_SHARE * made)) / mass_g)
    return max(1.4 if both else 1.1, 1.1 / (1 - goes))


def laid_down(a: Analysis, wanted_deg: float) -> tuple[Remedy, ...]:
    """The first face on which it would stand as firmly as is wanted, with nothing that looks at the desk: its floor, or a broader side."""
    _, centre = weighed(a)
    foot = a.case.foot
    inset = inset_mm(a.design, foot.d_mm) if foot and a.design.shell.feet else 0.0
    for on in (s for s in STANDS_ON if s != a.case.stands_on and a.case.face(s).whole):
        x, y, z = stood(on, a.case.box_mm).local(centre)
        w, d, _ = stood_size(on, a.case.box_mm)
        reach = min(x, w - x, y, d - y) - inset
        if degrees(atan2(reach, z + (foot.high_mm if foot else 0.0))) >= wanted_deg and not lacks_room(a, on):
            return (Remedy(label=f"Stand it on its {IN_WORDS[on]}", edits=(StandOn(face=on),)),)
    return ()


def _over_all(a: Analysis) -> float:
    """How far the lid can sink with what hangs from it, mm."""
    inside = a.case.cavity
    tops = [s.box.hi[2] for t in a.things if t.face != "top" for s in t.solids]
    hang = [inside.hi[2] - s.box.lo[2] for t in a.things if t.face == "top" for s in t.solids]
    return inside.hi[2] - max(tops, default=inside.lo[2]) - max(hang, default=0.0) - val("limits.gap.lid")


@concern("nothing-under-it", "shell", needs=("floor",))
def nothing_under_it(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: a heavy card or supply that is held at one end, with nothing under the other."""
    limit, on = ref("limits.standing.heavy"), a.case.stands_on
    stood = a.case.stance.inverse
    floor = stood.box(a.case.cavity).lo[2]
    # posts and hooks bear from below only where the floor is below
    carried = {p.of for p in a.case.props} | {h.of for h in a.case.hooks} if on == "bottom" else set()
    for t in a.things:
        low = min((stood.box(s.box).lo[2] for s in hard(t)), default=floor)
        if t.component.mass_g <= limit.value or not _hangs(a, t) or low - floor < LEAST_HIGH_MM:
            continue
        if t.id in carried:
            continue
        wished = t.placement.rests_on
        ways = _carried(a, t) if on == "bottom" else _onto_its_wall(a, t)
        yield say(
            "weigh",
            f"Nothing stands under the free end of {t.name}"
            if not wished
            else f"No {wished} finds a place under the free end of {t.name}",
            measured=t.component.mass_g,
            limit=limit.value,
            unit="g",
            sense="at most",
            how="mass of what is held at one end, with nothing under the other",
            of=(given("over the floor", low - floor),),
            reason=f"{t.component.mass_g / 1000:.2f} kg hang on {_held_by(t)}. When the case is moved or knocked they bend and pull out; a card sags."
            + (
                ""
                if ways and on == "bottom"
                else f" It stands on its {IN_WORDS[on]}: what would carry it stands on the floor, which is upright now."
                if on != "bottom"
                else " Something stands where a post would, or there is no floor; and no plain printed wall is near for a hook."
            ),
            source=str(limit),
            subjects=(t.id, "free end"),
            remedies=(
                *ways,
                *(
                    (Remedy(label=f"Do without the {wished}", edits=(PropUp(id=t.id, rests_on=None),)),)
                    if wished
                    else ()
                ),
            ),
        )


def _hangs(a: Analysis, t: Thing) -> bool:
    """Whether a component is held at one end as the case stands: it sticks in a socket, or is screwed to a wall that is upright."""
    on = a.case.stands_on
    if on == "bottom" or t.face is None:
        return held_at_one_end(t)
    return t.face not in (on, opposite(on)) and hangs_out(t)


def _carried(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """What finds a place under the free end of a component: a post, or a hook on the wall beside it."""
    found: dict[RestsOn, bool] = {
        "post": prop_of(a.case, a.things, t) is not None,
        "hook": hook_of(a.design, a.printer, a.case, a.things, t) is not None,
    }
    return tuple(
        Remedy(label=f"Put a {on} under the free end of {t.name}", edits=(PropUp(id=t.id, rests_on=on),))
        for on, place in found.items()
        if place and on != t.placement.rests_on
    )


def _onto_its_wall(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """The case turned so that it stands on the wall that a component is screwed to, where nothing looks out of that one."""
    return tuple(
        Remedy(label=f"Stand it on its {IN_WORDS[s]}", edits=(StandOn(face=s),))
        for s in STANDS_ON
        if s == t.face and not lacks_room(a, s)
    )


def _held_by(t: Thing) -> str:
    return "its screws in an upright wall" if t.face is not None else "a socket and a bracket"


@concern("caution-wall", "brief", needs=("walls",), settled=True)
def caution_wall(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Section 6: what hangs on a wall, with its mass and the pull at its top."""
    if a.design.brief.stands != "wall":
        return
    mass, centre = weighed(a)
    if mass <= 0:
        return
    y = a.case.stance.local(centre)[1]
    _, d, h = stood_size(a.case.stands_on, a.case.box_mm)
    hung = sides_of(a.case.stands_on)["back"].replace("bottom", "floor")
    pull = mass / 1000 * G * (d - y) / h
    factor = val("limits.standing.anchors")
    yield say(
        "advice",
        f"It hangs on a wall with {mass / 1000:.2f} kg",
        measured=mass / 1000,
        limit=0.0,
        unit="kg",
        sense="at most",
        how="sum of the masses of parts and components",
        of=(given("pull of the top", pull, "N"),),
        reason=f"Hung by its {hung}, its top pulls with {pull:.0f} N and the whole presses down with {mass / 1000 * G:.0f} N. Use anchors in "
        f"masonry or studs that bear {factor:g} times that, relieve the cables, keep printed hooks from being pulled across their layers, "
        "and follow local codes where people pass under it.",
        source=f"statics: m g a / h; {ref('limits.standing.anchors')}",
        subjects=("case", "wall"),
    )
