"""What is left between openings: webs wide enough to print, and openings wide enough not to print shut."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations
from math import ceil, hypot

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.concerns.bench import LAST, cheapest, free_place, move_of, move_words, moved, up
from rhombex.core.concerns.brief import needed_ports
from rhombex.core.concerns.openings import called, is_own, left_behind, shift
from rhombex.core.concerns.registry import Finding, Maker, NotOffered, Remedy, concern, offered, searched
from rhombex.core.design import OWN, PlacedOpening
from rhombex.core.edits import Edit, MoveOnFace, MoveWall, PutOpening, PutOwnOpening, RemoveOwnOpening
from rhombex.core.openings.opening import Opening, outline
from rhombex.core.openings.ports import set_back
from rhombex.core.reference import ref, val
from rhombex.core.space import FACES, OUTWARD, Vec2, Vec3
from rhombex.core.trail import given, looked_up


@searched
def _apart(a: Analysis, p: Opening, q: Opening, limit: float) -> tuple[Remedy, ...]:
    """Moves of one of two components along the face that bring their openings apart, and those of the one that moves from all others there."""
    if p.of == q.of:
        return ()
    if is_own(p) or is_own(q):
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
                    found.append((far + LAST * left_behind(a, t, move), Remedy(label=label, edits=(moved(t, move),))))
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


@searched
def _own_apart(a: Analysis, p: Opening, q: Opening, limit: float) -> tuple[Remedy, ...]:
    """The opening of one's own moved along its face until it is clear of the other, the nearest way first; it stays on the face."""
    mine, other = (p, q) if is_own(p) else (q, p)
    face, ways = a.case.face(p.face), []
    for k, words in enumerate((("right", "left"), ("up", "down"))):
        reach = [(outline(o)[k + 2] - outline(o)[k]) / 2 for o in (mine, other)]
        for word, sign in zip(words, (1, -1), strict=True):
            far = up(sum(reach) + limit + sign * (other.at_mm[k] - mine.at_mm[k]) + 0.05)
            to = mine.at_mm[k] + sign * far
            if far > 0 and limit + reach[0] <= to <= face.size_mm[k] - reach[0] - limit:
                ways.append((far, shift(mine, k, sign * far, word)))
    return cheapest(ways, 2)


def _inward(a: Analysis, o: Opening, limit: float) -> tuple[Remedy, ...]:
    """An opening of one's own that runs over the edge of its face, moved in."""
    if not is_own(o):
        return ()
    ends, size = outline(o), a.case.face(o.face).size_mm
    by = [max(0.0, limit - ends[k]) - max(0.0, ends[k + 2] - size[k] + limit) for k in (0, 1)]
    if any(ends[k + 2] - ends[k] > size[k] - 2 * limit for k in (0, 1)):
        return ()
    moves = [MoveOnFace(what=o.id, by_mm=(round(by[0], 3), round(by[1], 3)))]
    return (Remedy(label=f"{move_of(o.label)} {hypot(*by):.1f} mm onto the {o.face} face", edits=tuple(moves)),)


@searched
def _off_edge(a: Analysis, o: Opening, limit: float) -> tuple[Remedy, ...]:
    """What brings all openings of a component onto a face that one runs over the edge of: the component moved along the face, or the wall beyond that edge moved
    out; both where it runs over two edges."""
    face, t = a.case.face(o.face), next((t for t in a.things if t.id == o.of), None)
    if t is None or is_own(o):
        return ()
    mine = [outline(x) for x in a.openings.openings if x.face == o.face and x.of == t.id]
    sides: list[list[tuple[float, Remedy]]] = []
    for k, way in enumerate((face.frame.x, face.frame.y)):
        low = max(limit - e[k] for e in mine)
        high = max(e[k + 2] - face.size_mm[k] + limit for e in mine)
        for over, room, sign in ((low, -high, 1), (high, -low, -1)):
            if over <= 1e-6:
                continue
            by = up(over + 0.05)
            move: Vec3 = (sign * by * way[0], sign * by * way[1], sign * by * way[2])
            beyond = next(
                f for f in FACES if all(abs(x + sign * y) < 1e-6 for x, y in zip(OUTWARD[f], way, strict=True))
            )
            behind = any(x.face == beyond and x.plug is not None for x in a.openings.openings)
            out = Remedy(label=f"Move the {beyond} wall out by {by:g} mm", edits=(MoveWall(face=beyond, by_mm=by),))
            ways = [(2 * by + LAST * behind, out)]
            # what stands on the floor is not moved up a wall
            if not sides and by <= room and (way[2] == 0 or t.face is not None) and free_place(a.design, t, move):
                alone = Remedy(label=move_words(t, move), edits=(moved(t, move),))
                ways.append((by + LAST * left_behind(a, t, move), alone))
            sides.append(ways)
    if len(sides) < 2:
        return cheapest([x for ways in sides for x in ways])
    firsts = [cheapest(ways, 1)[0] for ways in sides]
    rest = [f"{r.label[:1].lower()}{r.label[1:]}" for r in firsts[1:]]
    return (Remedy(label=", and ".join([firsts[0].label, *rest]), edits=tuple(e for r in firsts for e in r.edits)),)


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
    """Whether two openings are cut as one: the same stretch of the same face, so that no web is between them. Two of one's own are not: one of them is left
    over."""
    same = all(abs(x - y) < 0.01 for x, y in zip(outline(p), outline(q), strict=True))
    return same and not (is_own(p) and is_own(q))


def _within(p: Opening, q: Opening) -> tuple[Remedy, ...]:
    """Of two openings of one's own the one that lies in the other cuts nothing: it is closed."""
    if not (is_own(p) and is_own(q)):
        return ()
    for inner, outer in ((q, p), (p, q)):
        (a, b, c, d), (e, f, g, h) = outline(inner), outline(outer)
        if e - a < 0.01 and f - b < 0.01 and c - g < 0.01 and d - h < 0.01:
            id = inner.id.removeprefix(OWN)
            return (Remedy(label=f"Close {inner.label}", edits=(RemoveOwnOpening(id=id),)),)
    return ()


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
    if any(is_own(o) or o.plug is None or o.round or o.parts != p.parts or o.id not in ports for o in mine):
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
    counted = (given("line", a.case.line_mm), looked_up("lines", lines))
    # what is before a port far behind its wall is told with that port: it goes along with it
    far_off = {p.ref for _, p in needed_ports(a) if set_back(a.case, p) > val("limits.port_reach.far")}
    there = [o for o in a.openings.openings if o.pinned or o.id not in far_off]
    for p, q in combinations(there, 2):
        if p.face != q.face or _in_plate(p, q) or _in_plate(q, p) or _one(p, q):
            continue
        gap = _gap(p, q)
        if gap < limit - 1e-6:
            small = _closer(p, q, limit)
            back = tuple(PutOpening(opening=PlacedOpening(port=o.id)) for o in (p, q) if o.pinned and not is_own(o))
            yield say(
                "weigh" if gap > 0 else "stop",
                f"Too little wall between {called(a, p)} and {called(a, q)}"
                if gap > 0
                else f"{called(a, p)} and {called(a, q)} run together",
                measured=gap,
                limit=limit,
                how="least distance of the two openings; wanted: lines of a web x width of a line",
                of=counted,
                reason=f"Printed lines are {a.case.line_mm:.2f} mm wide; a web thinner than two tears or is left out.",
                source=str(lines),
                subjects=(p.id, q.id),
                remedies=(
                    *((Remedy(label="Put them back on their ports", edits=back),) if back else ()),
                    *_within(p, q),
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
                f"{called(a, o)} runs into the edge of the {o.face} face",
                measured=edge,
                limit=limit,
                how="least distance of the opening to an edge of its face; wanted: lines of a web x width of a line",
                of=counted,
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
                        if o.pinned and not is_own(o)
                        else ()
                    ),
                    *_inward(a, o, limit),
                    *_off_edge(a, o, limit),
                ),
            )


@concern("opening-prints-shut", "openings", needs=("walls",))
def opening_prints_shut(a: Analysis, say: Maker) -> Iterator[Finding]:
    """An opening of one's own that is narrower than a line, in a printed wall."""
    lines = ref("printing.feature.gap_lines")
    limit = lines.value * a.case.line_mm
    for o in (o for o in a.openings.openings if is_own(o) and any(a.case.part(n).sheet is None for n in o.parts)):
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
            f"{called(a, o)} prints shut",
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
