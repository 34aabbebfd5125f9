"""The brief: ports that must be reachable, the size limit."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, floor

from rhombex.core.advice.sheeted import made_of_sheet
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.apart import apart_from_box
from rhombex.core.bench.arrange import PlacedPort, Thing, arrange
from rhombex.core.bench.dodge import PLUGGED_MM, plug_path
from rhombex.core.bench.gaps import hard
from rhombex.core.bench.stack import tower
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.brief.asks import asks
from rhombex.core.concerns.bench import cheapest, clear_of_all, free_place
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.design import OwnOpening, Pane
from rhombex.core.edits import Edit, Move, MoveWall, Need, PutOwnOpening, Set, Turn, WantFace
from rhombex.core.openings.fixed import fixed
from rhombex.core.openings.free import largest_free
from rhombex.core.openings.opening import outline
from rhombex.core.openings.ports import set_back
from rhombex.core.parts import port_kinds
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref, val
from rhombex.core.space import OUTWARD, Box, Face, normal_axis
from rhombex.core.trail import given

LEAST_WINDOW_MM = 15.0  # smaller than this one sees nothing through it
SEAT_MM = 1.5  # what the allowances of opening and seat take beside a window, in any process


HELD_BY_WALL = ("io-", "bracket-")  # begin the kinds of ports whose shield or bracket the wall holds


def needed_ports(a: Analysis) -> Iterator[tuple[Thing, PlacedPort]]:
    """Every port that the brief needs from outside."""
    open_ = wanted_ports(a.design)
    for t in a.things:
        for p in t.ports:
            if p.ref in open_ and port_kinds()[p.port.kind].outside:
                yield t, p


def to_wall(a: Analysis, t: Thing, p: PlacedPort) -> Move | None:
    """The edit that moves a thing so that a port stands right behind its wall."""
    if t.face is not None or p.face in ("top", "bottom"):
        return None
    axis = normal_axis(p.face)
    sign = OUTWARD[p.face][axis]
    # beside the connector the edge of a shield is at the wall
    gap = val("limits.gap.wall" if p.port.kind.startswith(HELD_BY_WALL) else "limits.gap.port_wall")
    by = set_back(a.case, p) - a.case.face(p.face).thick_mm - gap
    at = [round(x + (sign * by if i == axis else 0.0), 3) for i, x in enumerate(t.placement.at_mm)]
    return Move(id=t.id, to_mm=tuple(at))


@concern("port-not-reachable", "brief", needs=("walls",))
def port_not_reachable(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 8: a port that is needed but not reachable from outside."""
    far = ref("limits.port_reach.far")
    for t, p in needed_ports(a):
        walled = a.case.face(p.face).whole
        back = set_back(a.case, p) if walled else 0.0
        path = plug_path(a.design, p, walled)
        blocking, free = _in_the_way(a, t, p, path)
        if back <= far.value and blocking is None:
            continue
        where = (
            f"looks at the {p.face} wall from {back:.0f} mm behind the outer surface"
            if walled
            else f"looks to the {p.face}"
        )
        remedies: list[Remedy] = []
        if t.face is None and _reached_turned(a, t, p):
            remedies.append(Remedy(label=f"Turn {t.name} half round", edits=(Turn(id=t.id, by=180),)))
        near = back <= far.value  # farther off it is not reached even with a free way
        ways = [*clear_of_all(a, t)]
        if blocking is not None and near and t.id not in tower(a.design, blocking.id):  # else they move together
            ways = [*clear_of_all(a, blocking), *ways]
        remedies += cheapest((cost, r) for cost, r in ways if back + _farther(t, p.face, r.edits) <= far.value)
        if not near and not remedies and (move := to_wall(a, t, p)) is not None:
            remedies.append(Remedy(label=f"Move {t.name} to the {p.face} wall", edits=(move,)))
        remedies.append(Remedy(label="Take it off the wish list", edits=(Need(port=p.ref, needed=False),)))
        title = f"{p.name} of {t.name} cannot be reached"
        if blocking is not None and near:
            i = normal_axis(p.face)
            yield say(
                "stop",
                f"{title}: {blocking.name} is in the way",
                measured=free,
                limit=path.size[i] + PLUGGED_MM,
                how="face of the connector to what stands before it; wanted: to the outer surface"
                if walled
                else "face of the connector to what stands before it; wanted: the length of a plug",
                reason=f"It {where}, and {blocking.name} stands before it.",
                source="geometry"
                if walled
                else f"{port_kinds()[p.port.kind].source} ({port_kinds()[p.port.kind].mark})",
                subjects=(p.ref,),
                remedies=tuple(remedies),
            )
            continue
        yield say(
            "stop",
            title + (f": {blocking.name} is in the way" if blocking else ""),
            measured=back,
            limit=far.value,
            sense="at most",
            how="outer surface of the wall to the face of the connector",
            of=(given("wall", a.case.face(p.face).thick_mm),),
            reason=f"It {where}" + (f", and {blocking.name} stands between." if blocking else "."),
            source=str(far),
            subjects=(p.ref,),
            remedies=tuple(remedies),
        )


def _in_the_way(a: Analysis, t: Thing, p: PlacedPort, path: Box) -> tuple[Thing | None, float]:
    """The nearest component, but those that ride on the port's own, that stands in a plug's way, and how far from the connector's face; none: the whole way
    is free."""
    i, sign = normal_axis(p.face), OUTWARD[p.face][normal_axis(p.face)]
    met = [
        (max(0.0, s.box.lo[i] - p.centre[i] if sign > 0 else p.centre[i] - s.box.hi[i]), k)
        for k, o in enumerate(a.things)
        if o.id != t.id and o.placement.on != t.id
        for s in hard(o)
        if apart_from_box(s, path) < -0.01
    ]
    if not met:
        return None, path.size[i]
    free, k = min(met)
    return a.things[k], free


def _reached_turned(a: Analysis, t: Thing, p: PlacedPort) -> bool:
    """Whether a port is in reach, with nothing before it, once its component is turned half round."""
    try:
        turned = apply(a.design, Turn(id=t.id, by=180))
    except DesignError:
        return False
    things = arrange(turned)
    q = next(x for u in things if u.id == t.id for x in u.ports if x.ref == p.ref)
    path = plug_path(turned, q)
    free = all(
        apart_from_box(s, path) >= -0.01 for o in things if o.id != t.id and o.placement.on != t.id for s in hard(o)
    )
    return (
        free
        and set_back(a.case, q) <= val("limits.port_reach.far")
        and free_place(turned, next(x for x in things if x.id == t.id), (0.0, 0.0, 0.0))
    )


def _farther(t: Thing, face: Face, edits: tuple[Edit, ...]) -> float:
    """How much farther behind a wall a component is once it and walls are moved; places count from the left, front and lower wall."""
    axis = normal_axis(face)
    to = next((e.to_mm[axis] for e in edits if isinstance(e, Move) and e.id == t.id), None)
    by = 0.0 if to is None else to - t.placement.at_mm[axis]
    grown = sum(e.by_mm for e in edits if isinstance(e, MoveWall) and normal_axis(e.face) == axis)
    return by if OUTWARD[face][axis] < 0 else grown - by


@concern("case-over-limit", "brief", needs=("walls",))
def case_over_limit(a: Analysis, say: Maker) -> Iterator[Finding]:
    """The case is larger than the brief allows."""
    limit = a.design.brief.size_limit_mm
    if limit is None:
        return
    size = a.case.stood_mm
    over = max(o - m for o, m in zip(size, limit, strict=True))
    if over > 0:
        i = max(range(3), key=lambda k: size[k] - limit[k])
        yield say(
            "stop",
            f"The case is {over:.1f} mm too {('wide', 'deep', 'high')[i]} for the brief",
            measured=size[i],
            limit=limit[i],
            sense="at most",
            how="outer size of the case with its handle, that way",
            reason="The wish list sets a largest size.",
            source="the brief",
            subjects=("case",),
            remedies=(
                Remedy(
                    label="Allow the size it has",
                    edits=(
                        Set(
                            path="brief.size_limit_mm",
                            value=tuple(round(max(o, m), 2) for o, m in zip(size, limit, strict=True)),
                        ),
                    ),
                ),
            ),
        )


@concern("port-on-another-face", "brief", needs=("walls",))
def port_on_another_face(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A port that is wanted on one face and opens on another."""
    ends = {p.ref: (t, p) for t in a.things for p in t.ports}
    for ref_, wanted in a.design.brief.faces:
        if ref_ not in ends or ends[ref_][1].face == wanted:
            continue
        t, p = ends[ref_]
        quarters = {"back": 0, "left": 1, "front": 2, "right": 3}
        remedies = []
        if t.face is None and p.face in quarters and wanted in quarters:
            by = 90 * ((quarters[wanted] - quarters[p.face]) % 4)
            remedies.append(Remedy(label=f"Turn {t.name} by {by} degrees", edits=(Turn(id=t.id, by=by),)))
        remedies.append(Remedy(label=f"The {p.face} will do", edits=(WantFace(port=ref_, face=p.face),)))
        yield say(
            "weigh",
            f"{p.name} of {t.name} opens on the {p.face}, wanted on the {wanted}",
            measured=0,
            limit=1,
            unit="",
            how="0: it opens on another face than the brief asks, 1: on that one",
            reason="The brief says on which face it belongs.",
            source="the brief",
            subjects=(ref_,),
            remedies=tuple(remedies),
        )


def _window(a: Analysis) -> tuple[Remedy, ...]:
    """A pane of acrylic as large as there is free wall where it is wished; all of that wall of acrylic; or to do without."""
    face_of = a.design.brief.window
    without = Remedy(label="Do without", edits=(Set(path="brief.window", value=None),))
    if face_of is not None and (edits := made_of_sheet(a.design, a.printer, face_of, "acrylic")):
        return (*_in_wall(a), Remedy(label=f"Cut the {face_of} from acrylic", edits=edits), without)
    return (*_in_wall(a), without)


def _in_wall(a: Analysis) -> tuple[Remedy, ...]:
    """A pane in a printed wall, where there is room."""
    face_of = a.design.brief.window
    face = next((f for f in a.case.faces if f.id == face_of and f.whole), None)
    if face is None or face_of is None:
        return ()
    pane, web = Pane(), val("printing.feature.web_lines") * a.case.line_mm
    taken = [outline(o, web) for o in a.openings.openings if o.face == face.id]
    for v in a.openings.vents:
        if v.face == face.id:
            half = v.size_mm[0] / 2 + web, v.size_mm[1] / 2 + web
            taken.append((v.at_mm[0] - half[0], v.at_mm[1] - half[1], v.at_mm[0] + half[0], v.at_mm[1] + half[1]))
    for _, _, box in fixed(a.case, a.things):
        (ua, va), (ub, vb) = face.on(box.lo), face.on(box.hi)
        if face.behind(box.lo) <= face.thick_mm or face.behind(box.hi) <= face.thick_mm:
            taken.append((min(ua, ub), min(va, vb), max(ua, ub), max(va, vb)))
    u0, v0, u1, v1 = largest_free(face.clear_mm, taken) or (0.0, 0.0, 0.0, 0.0)
    edge = pane.overlap_mm + SEAT_MM
    wide, high = floor(u1 - u0 - 2 * edge), floor(v1 - v0 - 2 * edge)
    if min(wide, high) < LEAST_WINDOW_MM:
        return ()
    names = {o.id for o in a.design.own_openings}
    id = next(x for x in ("window", *(f"window-{k}" for k in range(2, 102))) if x not in names)
    window = OwnOpening(
        id=id,
        name="Window",
        face=face_of,
        at_mm=(round((u0 + u1) / 2 - face.inset_mm[0], 2), round((v0 + v1) / 2 - face.inset_mm[1], 2)),
        size_mm=(float(wide), float(high)),
        corner_mm=3.0,
        pane=pane,
    )
    label = f"Put a window of {wide:g} x {high:g} mm into the {face_of}"
    return (Remedy(label=label, edits=(PutOwnOpening(opening=window),)),)


@concern("wish-unmet", "brief", settled=True)
def wish_unmet(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A wish of the brief that the design does not meet; size and threads have rules of their own."""
    for ask in asks(a):
        if ask.state != "unmet" or ask.key in ("size", "opened"):
            continue
        remedies: tuple[Remedy, ...] = ()
        if ask.key == "buttons":
            have = sum(t.component.family == "button" for t in a.things)
            remedies = (Remedy(label=f"{have} will do", edits=(Set(path="brief.buttons", value=have),)),)
        elif ask.key == "display":
            remedies = (Remedy(label="Do without", edits=(Set(path="brief.display", value=False),)),)
        elif ask.key == "budget":
            cost = sum(e.money for _, e in a.estimated())
            remedies = (
                Remedy(label=f"Allow {ceil(cost):g}", edits=(Set(path="brief.budget", value=float(ceil(cost))),)),
            )
        elif ask.key == "window":
            remedies = _window(a)
        elif ask.key.startswith("reuse "):
            rest = tuple(k for k in a.design.brief.reuse if f"reuse {k}" != ask.key)
            remedies = (Remedy(label="Leave it out", edits=(Set(path="brief.reuse", value=rest),)),)
        yield say(
            "weigh",
            f"Not met: {ask.wish[:1].lower()}{ask.wish[1:]}",
            measured=0,
            limit=1,
            unit="",
            how="0: not met, 1: met",
            reason=ask.finding[:1].upper() + ask.finding[1:] + ".",
            source="the brief",
            subjects=(ask.key,),
            remedies=remedies,
        )
