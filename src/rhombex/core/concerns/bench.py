"""Fit in space: lid, neighbours, walls, floor, leads."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import combinations
from math import ceil

from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.apart import apart, apart_from_box
from rhombex.core.bench.arrange import PlacedSolid, Thing, arrange
from rhombex.core.bench.dodge import Way, ways_clear
from rhombex.core.bench.gaps import cavity, hard, wall_limit
from rhombex.core.bench.leads import length_needed
from rhombex.core.bench.seat import edge_of, unseated
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case.mounts import Mount
from rhombex.core.concerns.own_posts import THINNER, thinner
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.concerns.stacks import one_stack
from rhombex.core.design import Design
from rhombex.core.edits import Move, MoveWall, PutLead, Set
from rhombex.core.fit.joints import hole_depth_mm
from rhombex.core.openings.ports import set_back
from rhombex.core.parts import port_kinds
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref, val
from rhombex.core.shell.box import inner_radius_mm
from rhombex.core.space import OUTWARD, Box, Face, Vec3, normal_axis
from rhombex.core.stance import stood_size
from rhombex.core.trail import given, looked_up

EPS = 1e-3
_WALLS: tuple[tuple[Face, int], ...] = (("left", 0), ("right", 0), ("front", 1), ("back", 1))
_FACES: tuple[tuple[Face, int], ...] = (*_WALLS, ("bottom", 2), ("top", 2))


def up(x: float) -> float:
    """Round a distance up to a tenth, so that a remedy is enough and easy to read."""
    return int(x * 10 + 0.999) / 10


def moved(t: Thing, by: Vec3) -> Move:
    """The edit that moves a thing by a vector."""
    return Move(id=t.id, to_mm=tuple(round(a + b, 3) for a, b in zip(t.placement.at_mm, by, strict=True)))


@concern("component-hits-lid", "bench", needs=("top",), hits="top")
def component_hits_lid(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 1: a cooler or stack too tall for the lid."""
    room = cavity(a.design)
    limit = ref("limits.gap.lid")
    for t in a.things:
        if t.face is not None or not hard(t):
            continue
        top = max(hard(t), key=lambda s: s.box.hi[2])
        gap = room.hi[2] - top.box.hi[2]
        if gap < limit.value - EPS:
            rise = up(limit.value - gap)
            yield say(
                "stop" if gap < 0 else "weigh",
                f"{t.name} is too tall for the lid" if gap < 0 else f"{t.name} comes close to the lid",
                measured=gap,
                limit=limit.value,
                how="inside of the lid less the highest point of the component",
                of=(
                    given("inside of the lid over the floor", room.hi[2] - room.lo[2]),
                    given(f"{top.name} over the floor", top.box.hi[2] - room.lo[2]),
                ),
                reason=f"With its {top.name} it reaches {top.box.hi[2] - room.lo[2]:.1f} mm above the floor; "
                f"the lid's inside is at {room.hi[2] - room.lo[2]:.1f} mm.",
                source=str(limit),
                subjects=(t.id,),
                remedies=(Remedy(label=f"Raise the lid by {rise:g} mm", edits=(MoveWall(face="top", by_mm=rise),)),),
            )


def _related(a: Thing, b: Thing) -> bool:
    return a.placement.on == b.id or b.placement.on == a.id


def _in_slots(a: Thing, b: Thing) -> bool:
    """Whether two cards are in slots of one board, which keep them apart: their brackets all but touch."""
    return a.placement.on is not None and a.placement.on == b.placement.on and None not in (edge_of(a), edge_of(b))


def _worst(a: Thing, b: Thing) -> tuple[float, PlacedSolid, PlacedSolid] | None:
    """The pair of solids of two things that are nearest, one of them hard; soft pairs only where they overlap."""
    best: tuple[float, PlacedSolid, PlacedSolid] | None = None
    for s in a.solids:
        for q in b.solids:
            soft = s.role in ("plug", "keepout"), q.role in ("plug", "keepout")
            if all(soft):
                continue
            d = apart(s, q)
            if any(soft) and d > -EPS:
                continue
            if best is None or d < best[0]:
                best = (d, s, q)
    return best


def free_place(design: Design, t: Thing, by: Vec3) -> bool:
    """Whether a thing moved by a vector stays in the cavity and meets nothing."""
    try:
        new = arrange(apply(design, moved(t, by)))
    except ValueError:
        return False
    room = cavity(design)
    me = next(x for x in new if x.id == t.id)
    group = [x for x in new if x.id == t.id or x.placement.on == t.id]
    axis = normal_axis(me.face) if me.face else -1
    for s in (s for g in group for s in hard(g)):
        if any(i != axis and (s.box.lo[i] < room.lo[i] or s.box.hi[i] > room.hi[i]) for i in range(3)):
            return False
    ids = {g.id for g in group}
    for other in new:
        if other.id in ids:
            continue
        for g in group:
            if g.bounds.distance(other.bounds) > 0:
                continue
            w = _worst(g, other)
            if w is not None and w[0] < 0:
                return False
    return True


LAST = 1e3  # of ways that bring something else
_WORDS = (("left", "right"), ("forward", "back"), ("down", "up"))


@searched
def clear_of_all(a: Analysis, t: Thing, nearer: tuple[Face, float] | None = None) -> tuple[tuple[float, Remedy], ...]:
    """Moves of a thing that clear it and what rides on it of everything, with what they cost; cheapest first. One that makes the case larger than the brief
    allows comes after all that do not, and only where nothing else moves this thing clear. `nearer`: to which face it has to come, and by how much at the
    least. What its carrier holds is moved no farther than that allows, or the carrier with it."""
    ways = ways_clear(a.design, a.things, a.case, t.id, nearer)
    below = next((x for x in a.things if x.id == t.placement.on), None)
    if (
        below is not None and unseated(t, below) is None
    ):  # it is where its carrier holds it, and stays there or goes with that
        ways = [w for w in ways if unseated(t, below, w.by) is None]
        if not ways:
            return clear_of_all(a, below, nearer)
    within = [w for w in ways if _within_brief(a, w)]
    return tuple((way.cost + (0 if within else LAST), _remedy(t, way)) for way in (within or ways)[:3])


def _within_brief(a: Analysis, way: Way) -> bool:
    limit = a.design.brief.size_limit_mm
    if limit is None or way.wall is None:
        return True
    x, y, z = (way.wall_mm if i == normal_axis(way.wall) else 0.0 for i in range(3))
    more = stood_size(a.case.stands_on, (x, y, z))
    return all(s + m <= most + EPS for s, m, most in zip(a.case.stood_mm, more, limit, strict=True))


def move_words(t: Thing, by: Vec3) -> str:
    """A move of a thing, as a remedy says it."""
    words = [f"{abs(x):g} mm {_WORDS[i][0 if x < 0 else 1]}" for i, x in enumerate(by) if abs(x) > 1e-6]
    return f"{move_of(t.name)} {' and '.join(words)}"


def move_of(name: str) -> str:
    """How a remedy that moves a thing by some millimetres begins: a name that ends in a number is kept apart from them."""
    return f"Move {name} by" if name[-1:].isdigit() else f"Move {name}"


def _remedy(t: Thing, way: Way) -> Remedy:
    label = move_words(t, way.by)
    if way.wall is None:
        return Remedy(label=label, edits=(moved(t, way.by),))
    # a wall on the low side takes the cavity's corner along, so that places count anew from there
    shift = [way.wall_mm if OUTWARD[way.wall][i] < 0 else 0.0 for i in range(3)]
    to = tuple(round(x + b + s, 3) for x, b, s in zip(t.placement.at_mm, way.by, shift, strict=True))
    return Remedy(
        label=f"{label}, and the {way.wall} wall {way.wall_mm:g} mm out",
        edits=(MoveWall(face=way.wall, by_mm=way.wall_mm), Move(id=t.id, to_mm=to)),
    )


def cheapest(found: Iterable[tuple[float, Remedy]], most: int = 3) -> tuple[Remedy, ...]:
    """The cheapest remedies, each said once."""
    out: dict[str, Remedy] = {}
    for _, r in sorted(found, key=lambda f: f[0]):
        out.setdefault(r.label, r)
    return tuple(out.values())[:most]


@concern("components-collide", "bench")
def components_collide(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 5 and 6: two things in one place, or no room for a plug."""
    near = ref("limits.gap.between")
    for p, q in combinations(a.things, 2):
        if p.bounds.distance(q.bounds) >= near.value or _related(p, q) or one_stack(a, p, q):
            continue
        worst = _worst(p, q)
        if worst is None:
            continue
        d, s, r = worst
        soft = s.role in ("plug", "keepout") or r.role in ("plug", "keepout")
        least = 0.0 if soft or _in_slots(p, q) else near.value
        if d >= least - EPS:
            continue
        if d < 0:
            title = (
                f"{s.name} of {p.name} and {r.name} of {q.name} are in one place"
                if not soft
                else f"{q.name if r.role not in ('plug', 'keepout') else p.name} stands in the "
                f"{s.name if s.role in ('plug', 'keepout') else r.name} of "
                f"{p.name if s.role in ('plug', 'keepout') else q.name}"
            )
        else:
            title = f"{p.name} and {q.name} are close"
        yield say(
            "stop" if d < 0 else "weigh",
            title,
            measured=d,
            limit=least,
            how="least distance of two solids; less than nothing: how deep the one stands in the other",
            of=tuple(given(f"{x.name} is sure to", x.sure_mm) for x in (s, r) if x.sure_mm > 0),
            reason=f"{s.name} ({p.name}) and {r.name} ({q.name}) "
            + (f"overlap by {-d:.1f} mm." if d < 0 else f"are {d:.1f} mm apart."),
            source=str(near),
            subjects=(p.id, q.id),
            remedies=cheapest([*_apart(a, p, q), *_apart(a, q, p)]),
        )


@searched
def _apart(a: Analysis, t: Thing, other: Thing) -> tuple[tuple[float, Remedy], ...]:
    """Ways of a thing clear of another: of two that ride on one carrier none by which that moves, which takes both along."""
    ways = clear_of_all(a, t)
    if t.placement.on is None or t.placement.on != other.placement.on:
        return ways
    return tuple(w for w in ways if any(isinstance(e, Move) and e.id == t.id for e in w[1].edits))


@concern("component-hits-wall", "bench", needs=("walls",), hits=True)
def component_hits_wall(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Something touches a side wall or the round corner, or a panel component hangs over its wall's edge."""
    room = cavity(a.design)
    for t in a.things:
        for face, gap, limit in _wall_gaps(a, t, room):
            bare = 0.0 if t.face is not None else limit
            if gap >= bare - EPS:
                continue
            need = up(limit - gap)
            yield say(
                "stop" if gap < 0 else "weigh",
                f"{t.name} {'reaches into' if gap < 0 else 'is close to'} the {face} wall",
                measured=gap,
                limit=limit,
                how="inside of the wall to the nearest point of the component",
                reason=f"There are {gap:.1f} mm to the inside of the wall.",
                source=str(ref("limits.gap.wall")),
                subjects=(t.id, face),
                remedies=cheapest(
                    [
                        *clear_of_all(a, t),
                        (
                            2 * need,
                            Remedy(
                                label=f"Move the {face} wall out by {need:g} mm",
                                edits=(MoveWall(face=face, by_mm=need),),
                            ),
                        ),
                    ]
                ),
            )
        if t.face is None and a.case.has("cavity"):
            yield from _corner(a, say, t, room)


def _most_gap_mm() -> float:
    """The widest gap to a wall that any rule asks for."""
    return max(val(f"limits.gap.{x}") for x in ("wall", "port_wall", "lid", "underside"))


def _wall_gaps(a: Analysis, t: Thing, room: Box) -> Iterator[tuple[Face, float, float]]:
    """Least gap of a thing to each wall that it is near to, with its limit, the one it sits on left out. Lid and floor have rules of
    their own for what stands; a panel component must not hang over any edge of its wall."""
    for face, axis in _WALLS if t.face is None else _FACES:
        if (t.face is not None and normal_axis(t.face) == axis) or not a.case.face(face).whole or not hard(t):
            continue
        high = OUTWARD[face][axis] > 0
        if (room.hi[axis] - t.bounds.hi[axis] if high else t.bounds.lo[axis] - room.lo[axis]) >= _most_gap_mm():
            continue
        gaps = []
        for s in hard(t):
            gap = room.hi[axis] - s.box.hi[axis] if high else s.box.lo[axis] - room.lo[axis]
            gaps.append((gap - wall_limit(a.design, t, s, face), gap, s))
        _, gap, s = min(gaps, key=lambda g: g[0])
        yield face, gap, wall_limit(a.design, t, s, face)


def _corner(a: Analysis, say: Maker, t: Thing, room: Box) -> Iterator[Finding]:
    r = a.case.inner_radius_mm
    worst = _in_corner(t, room, r)
    if worst < 0:
        smaller = round(max(0.5, a.design.shell.wall_mm + 0.5), 1)
        shell = a.design.shell.model_copy(update={"corner_radius_mm": smaller})
        sharper = inner_radius_mm(a.design.model_copy(update={"shell": shell}))
        less = Remedy(label=f"Corner radius {smaller:g} mm", edits=(Set(path="shell.corner_radius_mm", value=smaller),))
        yield say(
            "stop",
            f"{t.name} meets a rounded corner",
            measured=worst,
            limit=0.0,
            how="radius of the corner less the distance of the component's corner from its centre",
            of=(given("radius inside", r),),
            reason=f"The corner is rounded inside with {r:.1f} mm; the component's own corner is square.",
            source="geometry",
            subjects=(t.id, "corner"),
            remedies=(
                *cheapest(clear_of_all(a, t), 2),
                *((less,) if sharper < r and _in_corner(t, room, sharper) >= 0 else ()),
            ),
        )


def _in_corner(t: Thing, room: Box, r: float) -> float:
    """How far a component's corners keep from corners of the room that are rounded with r; less than nothing: how far they stand in one."""
    least = r
    for s in hard(t):
        for x in (s.box.lo[0], s.box.hi[0]):
            for y in (s.box.lo[1], s.box.hi[1]):
                dx = max(room.lo[0] + r - x, x - (room.hi[0] - r))
                dy = max(room.lo[1] + r - y, y - (room.hi[1] - r))
                if dx > 0 and dy > 0:
                    least = min(least, r - (dx * dx + dy * dy) ** 0.5)
    return least


@concern("component-in-floor", "bench", needs=("floor",), hits="bottom")
def component_in_floor(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 3: something that does not stand on posts reaches into the floor, so that its pads cannot be made."""
    floor = cavity(a.design).lo[2]
    for t in a.things:
        if t.face is not None or t.component.mounting == "posts" or not hard(t):
            continue
        low = min(hard(t), key=lambda s: s.box.lo[2])
        gap = low.box.lo[2] - floor
        if gap >= -EPS:
            continue
        heads = val(f"fasteners.{t.mounts[0].mount.thread}.head_k") if t.mounts else 0.0
        by = up(-gap)
        high = up(
            -gap + (max(0.0, heads + 0.3 + 1.2 - a.design.shell.floor_mm) if t.component.mounting == "through" else 0.0)
        )
        yield say(
            "stop",
            f"{t.name} reaches into the floor",
            measured=gap,
            limit=0.0,
            how="lowest point of the component less the inside of the floor",
            of=(
                given(f"lowest point of {low.name}", low.box.lo[2]),
                given("inside of the floor", floor),
            ),
            reason=f"With its {low.name} it ends {-gap:.1f} mm below the inside of the floor; what it stands on cannot be printed there.",
            source="geometry",
            subjects=(t.id,),
            remedies=tuple(
                Remedy(label=f"Raise {t.name} by {x:g} mm", edits=(moved(t, (0, 0, x)),))
                for x in dict.fromkeys((high, by))
            ),
        )


@concern("underside-meets-floor", "bench", needs=("floor",), hits="bottom")
def underside_meets_floor(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 3: a lip, pin or solder joint below the board meets the floor, so it does not sit on its posts."""
    floor = cavity(a.design).lo[2]
    limit = ref("limits.gap.underside")
    for t in a.things:
        if t.face is not None or t.component.mounting != "posts" or not hard(t):
            continue
        low = min(hard(t), key=lambda s: s.box.lo[2])
        gap = low.box.lo[2] - floor
        if gap < limit.value - EPS:
            by = up(limit.value - gap)
            thread = t.mounts[0].mount.thread if t.mounts else "M3"
            deep = hole_depth_mm(thread, a.design.shell.post_thread) + 0.8
            full = up(max(limit.value - gap, deep - t.frame.origin[2]))
            ways = [(f"Raise {t.name} by {by:g} mm", by)]
            if full > by:
                ways.insert(0, (f"Raise {t.name} by {full:g} mm: room for the insert too", full))
            yield say(
                "stop" if gap < 0.2 else "weigh",
                f"{low.name} of {t.name} {'meets' if gap < 0.2 else 'is close to'} the floor",
                measured=gap,
                limit=limit.value,
                how="lowest point under the board less the inside of the floor",
                of=(
                    given(f"{low.name} below the board", t.frame.origin[2] - low.box.lo[2]),
                    given("height of its posts", t.frame.origin[2] - floor),
                ),
                reason=f"It hangs {t.frame.origin[2] - low.box.lo[2]:.1f} mm below the board; the posts are "
                f"{t.frame.origin[2] - floor:.1f} mm high. The board would not reach its posts.",
                source=str(limit),
                subjects=(t.id,),
                remedies=_raised(a, t, ways),
            )


@searched
def _raised(a: Analysis, t: Thing, ways: list[tuple[str, float]]) -> tuple[Remedy, ...]:
    """A component raised; where its posts would then stand in what hangs under it, on thinner ones."""
    out = []
    for label, by in ways:
        edit = moved(t, (0, 0, by))
        try:
            found = thinner(a, apply(a.design, edit), t.id)
        except DesignError:
            found = ()  # the remedy says so itself
        out.append(Remedy(label=f"Raise {t.name} by {by:g} mm, {THINNER}" if found else label, edits=(edit, *found)))
    return tuple(out)


def _post_in(posts: tuple[Mount, ...], t: Thing) -> tuple[float, str]:
    """How deep the worst post of another thing stands in a thing (0 where none does), and whose post it is."""
    worst, owner = 0.0, ""
    for p in posts:
        if p.of == t.id or t.placement.on == p.of or not t.bounds.meets(p.box):
            continue
        d = min(apart_from_box(s, p.box) for s in t.solids)
        if d < min(worst, -EPS):
            worst, owner = d, p.of
    return worst, owner


@concern("post-hits-component", "bench", needs=("mounts",), hits=True)
def post_hits_component(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 4: a post that stands where something else is."""
    for t in a.things:
        depth, owner = _post_in(a.case.mounts, t)
        if depth < 0:
            name = next(x.name for x in a.things if x.id == owner)
            yield say(
                "stop",
                f"A post of {name} stands in {t.name}",
                measured=depth,
                limit=0.0,
                how="least distance of the post and the component; less than nothing: how deep it stands in it",
                reason="The post would be printed where the component, or the room for its plug, has to be.",
                source="geometry",
                subjects=(owner, t.id),
                remedies=cheapest([m for x in a.things if x.id in (owner, t.id) for m in clear_of_all(a, x)]),
            )


@concern("lead-leaves-case", "bench", needs=("cavity",))
def lead_leaves_case(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 8: a lead that must leave the case and come back in: one end at a port that looks through a wall, one inside."""
    ends = {p.ref: (t, p) for t in a.things for p in t.ports}
    kinds, open_ = port_kinds(), wanted_ports(a.design)
    for lead in a.design.leads:
        for here, there in ((lead.start, lead.end), (lead.end, lead.start)):
            if here not in ends or there not in ends or here in open_:
                continue
            t, p = ends[here]
            kind = kinds[p.port.kind]
            inside = (
                not kinds[ends[there][1].port.kind].outside or set_back(a.case, ends[there][1]) > kind.plug_length_mm
            )
            room = set_back(a.case, p) - a.case.face(p.face).thick_mm
            want = kind.plug_length_mm + lead.bend_radius_mm
            if not kind.outside or not inside or t.face is not None or room >= want:
                continue
            axis = normal_axis(p.face)
            sign = OUTWARD[p.face][axis]
            by = up(want - room)
            back: Vec3 = tuple(-sign * by if i == axis else 0.0 for i in range(3))  # type: ignore[assignment]
            remedies = [
                Remedy(label=f"Move the {p.face} wall out by {by:g} mm", edits=(MoveWall(face=p.face, by_mm=by),))
            ]
            if free_place(a.design, t, back):
                remedies.insert(
                    0, Remedy(label=f"{move_of(t.name)} {by:g} mm in from the wall", edits=(moved(t, back),))
                )
            yield say(
                "stop",
                f"{lead.name} would have to leave the case and come back in",
                measured=room,
                limit=want,
                how="face of the connector to the inside of the wall; wanted: plug and bend",
                of=(
                    given("plug", kind.plug_length_mm, "mm", kind.source),
                    given("bend of the lead", lead.bend_radius_mm),
                ),
                reason=f"Its plug at {p.name} of {t.name} needs {kind.plug_length_mm:g} mm and a bend before the {p.face} wall, but "
                f"{room:.0f} mm are there.",
                source=f"{kind.source} ({kind.mark})",
                subjects=(lead.id,),
                remedies=tuple(remedies),
            )


@concern("lead-length", "bench")
def lead_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 7 and 33: a lead too short to reach, or too long to stow."""
    stow = ref("limits.cable.stow_share")
    for lead in a.design.leads:
        need = length_needed(lead, a.things)
        if need is None:
            continue
        most = need.value * (1 + stow.value)
        fitting = [x for x in lead.stock_mm if need.value <= x <= max(most, need.value + 40)]
        long_enough = [x for x in lead.stock_mm if x >= need.value] if lead.length_mm < need.value else []
        better = min(fitting or long_enough, default=None)
        remedies: list[Remedy] = []
        if better is not None and better != lead.length_mm:
            cut = PutLead(lead=lead.model_copy(update={"length_mm": better}))
            remedies.append(Remedy(label=f"Take the {better:g} mm lead", edits=(cut,)))
        if not fitting and need.value < 1980:  # none of those that are sold suits: one can be made
            long = ceil((need.value + 5) / 10) * 10.0
            made = PutLead(lead=lead.model_copy(update={"length_mm": long}))
            remedies.append(Remedy(label=f"Have one of {long:g} mm made", edits=(made,)))
        if lead.length_mm < need.value:
            yield say(
                "stop",
                f"{lead.name} is too short by {need.value - lead.length_mm:.0f} mm",
                measured=lead.length_mm,
                limit=need.value,
                how="length of the lead; wanted: straight way between its plugs and their bends",
                of=(*need.inputs,),
                reason="From plug to plug with two bends it needs more than it has. A stretched flat lead causes faults "
                "that look like broken components.",
                source=need.source,
                subjects=(lead.id,),
                remedies=tuple(remedies),
            )
        elif lead.length_mm > max(most, need.value + 40):
            yield say(
                "weigh",
                f"{lead.name} is too long by {lead.length_mm - need.value:.0f} mm",
                measured=lead.length_mm,
                limit=max(most, need.value + 40),
                sense="at most",
                how="length of the lead; at most: what it needs with a share to stow, or 40 mm over",
                of=(
                    given("needed", need.value),
                    looked_up("share to stow", stow),
                ),
                reason=f"It needs {need.value:.0f} mm. The rest has to be folded somewhere and blocks air and fingers.",
                source=str(stow),
                subjects=(lead.id,),
                remedies=tuple(remedies),
            )
