"""Openings: they must meet their ports, leave enough wall, and let the plug in."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations
from math import ceil, hypot

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.open_walls import WALL_ROUND_MM
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case import Seam
from rhombex.core.concerns.bench import cheapest, clear_of_all, free_place, move_of, move_words, moved, up
from rhombex.core.concerns.brief import needed_ports, to_wall
from rhombex.core.concerns.elsewhere import with_room
from rhombex.core.concerns.registry import Finding, Maker, NotOffered, Remedy, concern, offered, searched
from rhombex.core.design import OWN, PlacedOpening
from rhombex.core.edits import Construct, Edit, Move, MoveOnFace, MoveWall, PutOpening, PutOwnOpening, Set
from rhombex.core.openings.fixed import held_by
from rhombex.core.openings.opening import Opening, outline, plate_at
from rhombex.core.openings.ports import set_back
from rhombex.core.openings.tools import OVER, PANE_OVER
from rhombex.core.parts import port_kinds
from rhombex.core.reference import ref, val
from rhombex.core.shell.box import facing_across
from rhombex.core.shell.offers import usual
from rhombex.core.space import OUTWARD, Box, Face, Vec2, Vec3, normal_axis
from rhombex.core.trail import given, looked_up


@concern("port-misses-opening", "openings", needs=("walls",))
def port_misses_opening(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 4: the port is not where its opening is, more than the allowance can take."""
    for o in a.openings.openings:
        # each way by itself: what is wide enough may be too low
        rooms = [(o.size_mm[i] - o.nominal_mm[i]) / 2 for i in (0, 1)]
        offs = [abs(o.at_mm[i] - o.target_mm[i]) for i in (0, 1)]
        i = min((0, 1), key=lambda k: rooms[k] - offs[k])
        room, off = rooms[i], offs[i]
        least = o.allowance.value - o.spread_mm
        if o.plug is None or room - off >= least - 1e-6:
            continue
        back = Remedy(label="Put the opening back on its port", edits=(PutOpening(opening=PlacedOpening(port=o.id)),))
        way = ("wide", "high")[i]
        if room < -1e-6:
            yield say(
                "stop",
                f"{o.label}: the opening is too small",
                measured=o.size_mm[i],
                limit=o.nominal_mm[i],
                how="size of the opening; wanted: size of the connector",
                of=(given("allowance asked", o.allowance.value),),
                reason=f"It is {o.size_mm[i]:.2f} mm {way}, the connector {o.nominal_mm[i]:.2f}.",
                source=f"{o.allowance.source}; {o.source}",
                subjects=(o.id,),
                remedies=(back,),
            )
        elif off > room + 1e-6:
            yield say(
                "stop",
                f"{o.label}: the opening misses its port",
                measured=off,
                limit=room,
                sense="at most",
                how="middle of the port to the middle of the opening; at most: half of what the opening is larger",
                of=(
                    given("opening", o.size_mm[i]),
                    given("connector", o.nominal_mm[i]),
                ),
                reason=f"The port's middle is {off:.2f} mm from the opening's; the allowance leaves {room:.2f} mm.",
                source=f"{o.allowance.source}; {o.source}",
                subjects=(o.id,),
                remedies=(back,),
            )
        else:
            yield say(
                "weigh",
                f"{o.label}: the opening leaves too little room",
                measured=room - off,
                limit=least,
                how="half of what the opening is larger, less how far its middle is off; wanted: allowance less its scatter",
                of=(
                    given("opening", o.size_mm[i]),
                    given("connector", o.nominal_mm[i]),
                    given("off", off),
                    given("allowance", o.allowance.value),
                    given("scatter", o.spread_mm),
                ),
                reason=f"{room - off:.2f} mm are left on one side; prints scatter by {o.spread_mm:.2f} round an allowance of "
                f"{o.allowance.value:.2f}, so the plug may not go in.",
                source=f"{o.allowance.source}; {o.source}",
                subjects=(o.id,),
                remedies=(back,),
            )


@concern("port-too-deep", "openings", needs=("walls",))
def port_too_deep(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 9: a connector so deep behind the wall that its plug cannot be pulled again."""
    grip = ref("limits.grip.plug")
    for t, p in needed_ports(a):
        back = set_back(a.case, p)
        plate = plate_at(a.openings.openings, p.face, a.case.face(p.face).on(p.centre), (0.0, 0.0))
        if plate is not None and plate.pane is not None:
            back -= plate.pane.from_mm  # the plug goes into the opening in front of the plate
        if back > val("limits.port_reach.far"):
            continue  # that is another concern
        if port_kinds()[p.port.kind].plug_length_mm <= grip.value:
            continue  # a window: nothing is pulled out of it
        limit = port_kinds()[p.port.kind].plug_length_mm - grip.value
        if back > limit:
            move = to_wall(a, t, p)
            # clear of everything, and nearer to its wall
            ways = cheapest(clear_of_all(a, t, (p.face, back - limit)))
            yield say(
                "stop",
                f"{p.name} of {t.name} sits too deep for its plug",
                measured=back,
                limit=limit,
                sense="at most",
                how="outer surface of the wall to the face of the connector; at most: length of the plug less what fingers hold",
                of=(
                    given("plug", port_kinds()[p.port.kind].plug_length_mm, "mm", port_kinds()[p.port.kind].source),
                    looked_up("to hold", grip),
                ),
                reason=f"Its face is {back:.1f} mm behind the outer surface; a plug of this kind leaves "
                f"{grip.value:g} mm to hold only down to {limit:.0f} mm.",
                source=str(grip),
                subjects=(p.ref,),
                remedies=ways or _to_its_wall(a, t, p.face, move),
            )


def _to_its_wall(a: Analysis, t: Thing, face: Face, move: Move | None) -> tuple[Remedy, ...]:
    """A component moved to a wall that its port looks through. Where its ports on the next side come before a column by that, walls without columns are first."""
    if move is None:
        return ()
    there = Remedy(label=f"Move {t.name} to the {face} wall", edits=(move,))
    return (*_without_columns(a, move), there) if _before_a_column(a, t, face, move) else (there,)


def _before_a_column(a: Analysis, t: Thing, face: Face, move: Move) -> bool:
    """Whether an opening of a component in a side next to a wall comes before the column between the two, once it is moved there."""
    k = normal_axis(face)
    low = OUTWARD[face][k] < 0
    edge = a.case.cavity.lo[k] + a.case.pillar_mm if low else a.case.cavity.hi[k] - a.case.pillar_mm
    to = move.to_mm[k]
    by = 0.0 if to is None else to - t.placement.at_mm[k]
    for o in (o for o in a.openings.openings if o.of == t.id and o.face in SIDES and normal_axis(o.face) != k):
        ends = a.case.face(o.face).stretch(k, *outline(o))
        if a.case.pillar_mm > 0 and (ends[0] + by < edge if low else ends[1] + by > edge):
            return True
    return False


def _without_columns(a: Analysis, *move: Move) -> tuple[Remedy, ...]:
    """Walls without columns in their corners, where there are some: ports that look out on both sides of a corner find no place beside one. `move`: what comes
    before."""
    if a.case.pillar_mm <= 0:
        return ()
    plain = Construct(construction=usual(a.design, "two halves"))
    there = f", {next(t.name for t in a.things if t.id == move[0].id)} at its wall" if move else ""
    return (with_room(a, Remedy(label=f"Make the case in two halves{there}", edits=(*move, plain))),)


@concern("joint-cuts-opening", "openings", needs=("seams",))
def joint_cuts_opening(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 14: the joint of the halves, with its tongue and groove, runs through an opening."""
    web = val("printing.feature.web_lines") * a.case.line_mm
    for seam in a.case.seams:
        low, high = seam.at_mm - seam.below_mm - web, seam.at_mm + seam.above_mm + web
        for o in a.openings.openings:
            face = a.case.face(o.face)
            if facing_across(face, seam.axis):
                continue
            v0, v1 = face.stretch(seam.axis, *outline(o))
            if v1 <= low + 1e-6 or v0 >= high:
                continue
            cut = v1 > seam.at_mm and v0 < seam.at_mm
            if not seam.path:
                yield _at_a_fixed_seam(a, say, o, seam, (v0, v1), web, cut)
                continue
            yield say(
                "stop" if cut else "weigh",
                f"The joint runs through the opening for {o.label}",
                measured=seam.at_mm - v1,
                limit=seam.at_mm - low,
                how="height of the joint less the top of the opening; wanted: the groove and a web under it",
                of=(
                    given("joint", seam.at_mm),
                    given("top of the opening", v1),
                    given("groove", seam.below_mm),
                    given("web", web),
                ),
                reason="Tongue and groove need unbroken wall under the joint; a seam through an opening opens with the plug.",
                source=str(ref("limits.cut.seam_to_feature")),
                subjects=(o.id,),
                remedies=(_raised(a, seam, v1 + seam.below_mm + web),),
            )


def _at_a_fixed_seam(
    a: Analysis, say: Maker, o: Opening, seam: Seam, v: tuple[float, float], web: float, cut: bool
) -> Finding:
    """An opening that a joint which lies fixed runs through or past: the wall on its other side is what can be moved."""
    beyond = (v[0] + v[1]) / 2 > seam.at_mm
    gap = v[0] - seam.at_mm if beyond else seam.at_mm - v[1]
    wanted = (seam.above_mm if beyond else seam.below_mm) + web
    by, face = up(wanted - gap + 0.05), _LOW_HIGH[seam.axis][0 if beyond else 1]
    return say(
        "stop" if cut else "weigh",
        f"The joint of {seam.parts[0]} and {seam.parts[1]} runs "
        + (f"through the opening for {o.label}" if cut else f"along the opening for {o.label}"),
        measured=gap,
        limit=wanted,
        how="edge of the opening to the joint; wanted: the gap there and a web of plain wall",
        of=(given("joint", seam.at_mm), given("edge of the opening", v[0] if beyond else v[1]), given("web", web)),
        reason="What is left beside the opening is thinner than a line, or there is nothing: the edge of the part is open there.",
        source=str(ref("limits.cut.seam_to_feature")),
        subjects=(o.id, *seam.parts),
        remedies=(Remedy(label=f"Move the {face} wall out by {by:g} mm", edits=(MoveWall(face=face, by_mm=by),)),),
    )


_LOW_HIGH: tuple[tuple[Face, Face], ...] = (("left", "right"), ("front", "back"), ("bottom", "top"))


def _raised(a: Analysis, seam: Seam, to: float) -> Remedy:
    """The seam moved past what it runs through, with the wall beyond it where it comes too near that."""
    axis, inner = seam.axis, list(a.design.shell.inner_mm)
    now, raised = seam.at_mm - a.case.cavity.lo[axis], round(to - a.case.cavity.lo[axis] + 0.05, 1)
    if raised < inner[axis] - 1:
        return Remedy(label=f"Raise the joint by {raised - now:.1f} mm", edits=(Set(path=seam.path, value=raised),))
    inner[axis] = round(raised + 5.0, 2)
    return Remedy(
        label=f"Raise joint and lid to {raised + 5.0:.1f} mm",
        edits=(Set(path="shell.inner_mm", value=tuple(inner)), Set(path=seam.path, value=raised)),
    )


@searched
def _apart(a: Analysis, p: Opening, q: Opening, limit: float) -> tuple[Remedy, ...]:
    """Moves of one of two components along the face that bring their openings apart, and those of the one that moves from all others there."""
    if p.of == q.of:
        return ()
    if _own(p) or _own(q):
        return _own_apart(a, p, q, limit)
    face = a.case.face(p.face)
    found: list[tuple[float, Remedy]] = []
    for t in (t for t in a.things if t.id in (p.of, q.of)):
        for k, way in enumerate((face.frame.x, face.frame.y)):
            if way[2] != 0 and t.face is None:
                continue  # what stands on the floor is not moved up a wall
            for sign in (1, -1):
                far = up(_past_others(a, t, p.face, k, sign, limit) + 0.05)
                move: Vec3 = (sign * far * way[0], sign * far * way[1], sign * far * way[2])
                if far < max(face.size_mm) and free_place(a.design, t, move):
                    words = ("right", "up")[k] if sign > 0 else ("left", "down")[k]
                    label = f"{move_of(t.name)} {far:g} mm {words} along the {p.face} face"
                    found.append((far + LAST * _leaves(a, t, move), Remedy(label=label, edits=(moved(t, move),))))
    return cheapest(found, 2)


def _past_others(a: Analysis, t: Thing, face: str, k: int, sign: int, limit: float) -> float:
    """How far a component goes along axis k of a face until all of its openings there are as far from those of others as they ask for."""
    here = [o for o in a.openings.openings if o.face == face]
    pairs = [
        (m, o) for m in here if m.of == t.id for o in here if o.of != t.id and not (_in_plate(m, o) or _in_plate(o, m))
    ]
    far = 0.0
    while True:  # past one it may be before the next
        more = max((_asks(m, o, k, sign, far, limit) for m, o in pairs), default=0.0)
        if more <= 1e-9 or far > max(a.case.face(face).size_mm):
            return far
        far += more


def _asks(mine: Opening, other: Opening, k: int, sign: int, far: float, limit: float) -> float:
    """How much farther than `far` an opening goes along axis k of its face until it is as far from another one as asked for; none where it is."""
    ends, there = outline(mine), outline(other)
    halves = [(e[i + 2] - e[i]) / 2 for e in (ends, there) for i in (0, 1)]
    d = [mine.at_mm[i] - other.at_mm[i] for i in (0, 1)]
    d[k] += sign * far
    if mine.round and other.round:
        wide, beside = halves[0] + halves[2] + limit, abs(d[1 - k])
    else:
        wide, beside = limit, max(abs(d[1 - k]) - halves[1 - k] - halves[3 - k], 0.0)
        d[k] -= sign * (halves[k] + halves[2 + k])
    if beside >= wide:
        return 0.0
    return max((wide**2 - beside**2) ** 0.5 - sign * d[k], 0.0) if _near_by(mine, other, k, sign, far, limit) else 0.0


def _near_by(mine: Opening, other: Opening, k: int, sign: int, far: float, limit: float) -> bool:
    """Whether two openings are too near to one another once one has gone so far along axis k."""
    at = list(mine.at_mm)
    at[k] += sign * far
    return _gap(mine.model_copy(update={"at_mm": (at[0], at[1])}), other) < limit - 1e-6


def _own(o: Opening) -> bool:
    """Whether a hand put it there, and no component."""
    return o.id.startswith(OWN)


@searched
def _own_apart(a: Analysis, p: Opening, q: Opening, limit: float) -> tuple[Remedy, ...]:
    """The opening of one's own moved along its face until it is clear of the other, the nearest way first; it stays on the face."""
    mine, other = (p, q) if _own(p) else (q, p)
    face, ways = a.case.face(p.face), []
    for k, words in enumerate((("right", "left"), ("up", "down"))):
        reach = [(outline(o)[k + 2] - outline(o)[k]) / 2 for o in (mine, other)]
        for word, sign in zip(words, (1, -1), strict=True):
            far = up(sum(reach) + limit + sign * (other.at_mm[k] - mine.at_mm[k]) + 0.05)
            to = mine.at_mm[k] + sign * far
            if far > 0 and limit + reach[0] <= to <= face.size_mm[k] - reach[0] - limit:
                ways.append((far, _shift(mine, k, sign * far, word)))
    return cheapest(ways, 2)


def _inward(a: Analysis, o: Opening, limit: float) -> tuple[Remedy, ...]:
    """An opening of one's own that runs over the edge of its face, moved in."""
    if not _own(o):
        return ()
    ends, size = outline(o), a.case.face(o.face).size_mm
    by = [max(0.0, limit - ends[k]) - max(0.0, ends[k + 2] - size[k] + limit) for k in (0, 1)]
    if any(ends[k + 2] - ends[k] > size[k] - 2 * limit for k in (0, 1)):
        return ()
    moves = [MoveOnFace(what=o.id, by_mm=(round(by[0], 3), round(by[1], 3)))]
    return (Remedy(label=f"{move_of(o.label)} {hypot(*by):.1f} mm onto the {o.face} face", edits=tuple(moves)),)


SIDES: tuple[Face, ...] = ("left", "right", "front", "back")
SHAVED_MM = 0.5  # of the plastic round a screw that an opening for a component may take: it holds all the same


@concern("opening-meets-screw", "openings", needs=("walls",))
def opening_meets_screw(a: Analysis, say: Maker) -> Iterator[Finding]:
    """An opening through what holds the case together or stands behind its wall: a lid screw, a post, the seat of a foot."""
    there = held_by(a.case, a.things)
    for o in a.openings.openings:
        walls = [w.depth_mm for w in a.case.walls if w.face == o.face and w.part in o.parts]
        if not walls:
            continue  # it is cut into a plate of its own
        own = _own(o)
        face, deep, over = a.case.face(o.face), max(walls), PANE_OVER if o.pane is not None else OVER
        u0, v0, u1, v1 = outline(o)
        hole = face.frame.box(Box((u0, v0, -deep - over), (u1, v1, 0.0)))
        met = [
            (max(hole.gaps(box)), what, subject, box)
            for what, subject, box, made_in in there
            # what belongs to a component has its place beside its own openings
            if own or (subject != o.of and made_in & set(o.parts))
        ]
        met = [x for x in met if x[0] < -(1e-6 if own else SHAVED_MM)]
        for group in [[x] for x in met] if own else [met] if met else []:  # a component moves past all of them at once
            gap, boxes = min(x[0] for x in group), [x[3] for x in group]
            yield say(
                "stop",
                f"{o.label} runs through {' and '.join(dict.fromkeys(x[1] for x in group))}",
                measured=gap,
                limit=0.0,
                how="least distance of the opening and what is there; less than nothing: how deep it runs into it",
                reason=f"They overlap by {-gap:.1f} mm: what it is cut from holds nothing any more, or stands in the opening.",
                source="geometry",
                # the opening alone where a component brings it: it is the same concern whatever else it runs into
                subjects=(o.id, group[0][2]) if own else (o.id,),
                remedies=_past(a, o, boxes[0]) if own else _past_them(a, o, boxes),
            )


@searched
def _past_them(a: Analysis, o: Opening, boxes: list[Box]) -> tuple[Remedy, ...]:
    """The component that an opening is for moved along the face until the opening is past some boxes, the nearest free way first; or their wall moved out."""
    t = next((t for t in a.things if t.id == o.of), None)
    if t is None:
        return ()
    face, ends, ways = a.case.face(o.face), outline(o), []
    corners = [c for b in boxes for c in (face.on(b.lo), face.on(b.hi))]
    for k, along in enumerate((face.frame.x, face.frame.y)):
        low, high = min(c[k] for c in corners), max(c[k] for c in corners)
        for far in (up(high - ends[k] + WALL_ROUND_MM), -up(ends[k + 2] - low + WALL_ROUND_MM)):
            by: Vec3 = (along[0] * far, along[1] * far, along[2] * far)
            leaves = _leaves(a, t, by)  # or is left behind, where the wall is moved out
            if free_place(a.design, t, by):
                ways.append((abs(far) + leaves * LAST, Remedy(label=move_words(t, by), edits=(moved(t, by),))))
                if leaves:
                    ways += [(LAST / 2, r) for r in _without_columns(a)]
                continue
            # what stands at the wall behind it goes along with that wall
            behind = next((f for f in SIDES if OUTWARD[f] == tuple(-round(x / abs(far)) for x in by)), None)
            at_it = (low + high) / 2 < face.size_mm[k] / 2 if far > 0 else (low + high) / 2 > face.size_mm[k] / 2
            if behind is not None and at_it:
                label = f"Move the {behind} wall out by {abs(far):g} mm"
                out = Remedy(label=label, edits=(MoveWall(face=behind, by_mm=abs(far)),))
                ways.append((2 * abs(far) + leaves * LAST, out))
                if leaves:
                    ways += [(LAST / 2, r) for r in _without_columns(a)]
    return cheapest(ways, 2)


LAST = 1e3  # of ways that bring something else


def _leaves(a: Analysis, t: Thing, by: Vec3) -> bool:
    """Whether a component so moved leaves one of its ports too deep behind its wall for a plug."""
    open_, grip = wanted_ports(a.design), val("limits.grip.plug")
    for p in (p for p in t.ports if p.ref in open_ and p.face in OUTWARD):
        back = -sum(x * y for x, y in zip(OUTWARD[p.face], by, strict=True))
        long = port_kinds()[p.port.kind].plug_length_mm
        if back > 1e-6 and long > grip and set_back(a.case, p) + back > long - grip:
            return True
    return False


def _past(a: Analysis, o: Opening, box: Box) -> tuple[Remedy, ...]:
    """The opening moved along its face past a box, with a web between, the nearest way first; it stays on the face."""
    face, web, ends, ways = a.case.face(o.face), val("printing.feature.web_lines") * a.case.line_mm, outline(o), []
    corners = face.on(box.lo), face.on(box.hi)
    for k, words in enumerate((("right", "left"), ("up", "down"))):
        low, high = sorted((corners[0][k], corners[1][k]))
        for word, sign, far in ((words[0], 1, high + web - ends[k]), (words[1], -1, ends[k + 2] - low + web)):
            by = up(far + 0.05)
            if web <= ends[k] + sign * by and ends[k + 2] + sign * by <= face.size_mm[k] - web:
                ways.append((by, _shift(o, k, sign * by, word)))
    return cheapest(ways, 2)


def _shift(o: Opening, k: int, by: float, word: str) -> Remedy:
    move = MoveOnFace(what=o.id, by_mm=(by, 0.0) if k == 0 else (0.0, by))
    return Remedy(label=f"{move_of(o.label)} {abs(by):g} mm {word}", edits=(move,))


def _gap(a: Opening, b: Opening) -> float:
    p, q = outline(a), outline(b)
    if a.round and b.round:
        return hypot(a.at_mm[0] - b.at_mm[0], a.at_mm[1] - b.at_mm[1]) - (p[2] - p[0] + q[2] - q[0]) / 2
    du, dv = max(p[0] - q[2], q[0] - p[2]), max(p[1] - q[3], q[1] - p[3])
    return max(du, dv) if max(du, dv) < 0 else hypot(max(du, 0.0), max(dv, 0.0))


def _in_plate(p: Opening, q: Opening) -> bool:
    """Whether an opening is cut into the plate that closes another one."""
    return q.pane is not None and p.parts == (q.pane.part,)


def _closer(p: Opening, q: Opening, limit: float) -> tuple[Remedy | NotOffered, ...]:
    """Openings of plugs cut as close to them as prints that scatter bear; none where that leaves no web either."""
    size = {o.id: _closest(o) for o in (p, q) if o.plug is not None and o.recess is None}
    there = [o.model_copy(update={"size_mm": size.get(o.id, o.size_mm)}) for o in (p, q)]
    if not size or _gap(*there) < limit - 1e-6:
        return ()

    def edits() -> tuple[Edit, ...]:
        return tuple(
            PutOpening(
                opening=PlacedOpening(
                    port=o.id,
                    at_mm=(o.at_mm[0] - o.target_mm[0], o.at_mm[1] - o.target_mm[1]) if o.pinned else None,
                    size_mm=size[o.id],
                )
            )
            for o in (p, q)
            if o.id in size
        )

    what = (
        "both openings closer to the plug"
        if len(size) == 2
        else f"the opening for {next(o.label for o in (p, q) if o.id in size)} closer to its plug"
    )
    return offered(f"Cut {what}", edits)


def _closest(o: Opening) -> Vec2:
    """The least size of an opening for a plug: the connector and on each side the allowance less its scatter."""
    least = max(o.allowance.value - o.spread_mm, 0.0)
    off = [abs(o.at_mm[i] - o.target_mm[i]) for i in (0, 1)]
    w, h = (ceil((o.nominal_mm[i] + 2 * (least + off[i])) * 100 - 1e-6) / 100 for i in (0, 1))
    return min(w, o.size_mm[0]), min(h, o.size_mm[1])


def _one(p: Opening, q: Opening) -> bool:
    """Whether two openings are cut as one: the same stretch of the same face, so that no web is between them."""
    return all(abs(x - y) < 0.01 for x, y in zip(outline(p), outline(q), strict=True))


ITS_OWN = ("io-", "bracket-", "supply-", "window-")  # begin the kinds of ports that a plate, bracket or pane fills


@searched
def _together(a: Analysis, p: Opening, q: Opening, limit: float) -> tuple[Remedy, ...]:
    """One opening in place of all that have too little wall between them, as is usual for ports side by side. None where a round hole, a hand's own, that of what
    sits in the wall, or one for a plate or bracket of its own is among them."""
    mine, rest = [p, q], [o for o in a.openings.openings if o.face == p.face and o not in (p, q)]
    while True:
        ends = [outline(o) for o in mine]
        u0, v0, u1, v1 = (f(e[k] for e in ends) for k, f in enumerate((min, min, max, max)))
        near = [o for o in rest if _beside(outline(o), (u0, v0, u1, v1)) < limit]
        if not near:
            break
        mine, rest = [*mine, *near], [o for o in rest if o not in near]
    ports = {x.ref for t in a.things if t.face is None for x in t.ports if not x.port.kind.startswith(ITS_OWN)}
    if any(_own(o) or o.plug is None or o.round or o.parts != p.parts or o.id not in ports for o in mine):
        return ()
    edits = tuple(
        PutOpening(
            opening=PlacedOpening(
                port=o.id,
                at_mm=(round((u0 + u1) / 2 - o.target_mm[0], 4), round((v0 + v1) / 2 - o.target_mm[1], 4)),
                size_mm=(round(u1 - u0, 3), round(v1 - v0, 3)),
            )
        )
        for o in mine
    )
    return (Remedy(label=f"Cut one opening for {'both' if len(mine) == 2 else f'all {len(mine)}'}", edits=edits),)


def _beside(p: tuple[float, float, float, float], q: tuple[float, float, float, float]) -> float:
    """How far apart two rectangles are along the face; less than nothing where they meet."""
    return max(p[0] - q[2], q[0] - p[2], p[1] - q[3], q[1] - p[3])


@concern("web-too-thin", "openings", needs=("walls",))
def web_too_thin(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: what is left between two openings, or an opening and the face's edge, is thinner than two lines."""
    lines = ref("printing.feature.web_lines")
    limit = lines.value * a.case.line_mm
    # what is before a port far behind its wall is told with that port: it goes along with it
    far_off = {p.ref for _, p in needed_ports(a) if set_back(a.case, p) > val("limits.port_reach.far")}
    there = [o for o in a.openings.openings if o.pinned or o.id not in far_off]
    for p, q in combinations(there, 2):
        if p.face != q.face or _in_plate(p, q) or _in_plate(q, p) or _one(p, q):
            continue
        gap = _gap(p, q)
        if gap < limit - 1e-6:
            small = _closer(p, q, limit)
            back = tuple(PutOpening(opening=PlacedOpening(port=o.id)) for o in (p, q) if o.pinned and not _own(o))
            yield say(
                "weigh" if gap > 0 else "stop",
                f"Too little wall between {p.label} and {q.label}"
                if gap > 0
                else f"{p.label} and {q.label} run together",
                measured=gap,
                limit=limit,
                how="least distance of the two openings; wanted: lines of a web x width of a line",
                of=(
                    given("line", a.case.line_mm),
                    looked_up("lines", lines),
                ),
                reason=f"Printed lines are {a.case.line_mm:.2f} mm wide; a web thinner than two tears or is left out.",
                source=str(lines),
                subjects=(p.id, q.id),
                remedies=(
                    *((Remedy(label="Put them back on their ports", edits=back),) if back else ()),
                    *_apart(a, p, q, limit),
                    *small,
                    *_together(a, p, q, limit),
                ),
            )
    for o in there:
        w, h = a.case.face(o.face).size_mm
        u0, v0, u1, v1 = outline(o)
        edge = min(u0, w - u1, v0, h - v1)
        if edge < limit - 1e-6:
            yield say(
                "stop",
                f"{o.label} runs into the edge of the {o.face} face",
                measured=edge,
                limit=limit,
                how="least distance of the opening to an edge of its face; wanted: lines of a web x width of a line",
                of=(
                    given("line", a.case.line_mm),
                    looked_up("lines", lines),
                ),
                reason="The opening breaks the edge of the case open.",
                source=str(lines),
                subjects=(o.id, o.face),
                remedies=(
                    *(
                        (
                            Remedy(
                                label="Put it back on its port", edits=(PutOpening(opening=PlacedOpening(port=o.id)),)
                            ),
                        )
                        if o.pinned and not _own(o)
                        else ()
                    ),
                    *_inward(a, o, limit),
                    *cheapest([m for t in a.things if t.id == o.of for m in clear_of_all(a, t)]),
                ),
            )


@concern("opening-prints-shut", "openings", needs=("walls",))
def opening_prints_shut(a: Analysis, say: Maker) -> Iterator[Finding]:
    """An opening of one's own that is narrower than a line, in a printed wall."""
    lines = ref("printing.feature.gap_lines")
    limit = lines.value * a.case.line_mm
    for o in (o for o in a.openings.openings if _own(o) and any(a.case.part(n).sheet is None for n in o.parts)):
        if (narrow := min(o.size_mm)) >= limit - 1e-6:
            continue
        mine = next(x for x in a.design.own_openings if f"{OWN}{x.id}" == o.id)
        # what it says may be what goes through, to which the allowance is added
        w, h = (
            x + max(ceil((limit - size) * 100 - 1e-6) / 100, 0.0)
            for x, size in zip(mine.size_mm, o.size_mm, strict=True)
        )
        yield say(
            "weigh",
            f"{o.label} prints shut",
            measured=narrow,
            limit=limit,
            how="least size of the opening; wanted: lines of a gap x width of a line",
            of=(given("line", a.case.line_mm), looked_up("lines", lines)),
            reason=f"Printed lines are {a.case.line_mm:.2f} mm wide; those on its two sides run together in it.",
            source=str(lines),
            subjects=(o.id,),
            remedies=(
                Remedy(
                    label=f"Make it {limit:.2f} mm wide",
                    edits=(PutOwnOpening(opening=mine.model_copy(update={"size_mm": (round(w, 3), round(h, 3))})),),
                ),
            ),
        )
