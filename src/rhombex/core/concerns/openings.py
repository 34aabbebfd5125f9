"""Openings: they must meet their ports, leave enough wall, and let the plug in."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import PlacedPort, Thing, arrange
from rhombex.core.bench.open_walls import WALL_ROUND_MM
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case import Case
from rhombex.core.case.faces import Seam
from rhombex.core.concerns.bench import LAST, cheapest, clear_of_all, free_place, move_of, move_words, moved, up
from rhombex.core.concerns.brief import HELD_BY_WALL, needed_ports, to_wall
from rhombex.core.concerns.elsewhere import with_room
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, judge_bare, searched
from rhombex.core.design import OWN, PlacedOpening
from rhombex.core.edits import Construct, Move, MoveOnFace, MoveWall, PutOpening, Set
from rhombex.core.openings.fixed import held_by, uprights
from rhombex.core.openings.opening import Opening, outline, plate_at
from rhombex.core.openings.ports import set_back
from rhombex.core.openings.tools import OVER, PANE_OVER
from rhombex.core.parts import port_kinds
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref, val
from rhombex.core.shell.box import facing_across
from rhombex.core.shell.build import case_of
from rhombex.core.shell.offers import usual
from rhombex.core.space import OUTWARD, Box, Face, Vec3, normal_axis
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
                f"{called(a, o)}: the opening is too small",
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
                f"{called(a, o)}: the opening misses its port",
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
                f"{called(a, o)}: the opening leaves too little room",
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


@concern("plate-off-wall", "openings", needs=("walls",))
def plate_off_wall(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 9: a board's shield or a card's bracket so far behind its wall that it holds neither; where no plug comes in either, that is told."""
    limit, grip = ref("limits.port_reach.plate"), val("limits.grip.plug")
    by_id, told = {t.id: t for t in a.things}, set[str]()
    for t, p in needed_ports(a):
        if not p.port.kind.startswith(HELD_BY_WALL) or not a.case.face(p.face).whole:
            continue
        back = set_back(a.case, p)
        plate = plate_at(a.openings.openings, p.face, a.case.face(p.face).on(p.centre), (0.0, 0.0))
        if plate is not None and plate.pane is not None:
            back -= plate.pane.from_mm
        off = back - a.case.face(p.face).thick_mm
        if off <= limit.value or back > port_kinds()[p.port.kind].plug_length_mm - grip:
            continue
        mover = by_id.get(t.placement.on or "", t)
        if mover.id in told:
            continue  # they come to the wall together
        told.add(mover.id)
        # a larger case is no way to a wall
        clear = clear_of_all(a, mover, (p.face, off - limit.value))
        ways = cheapest(w for w in clear if not any(isinstance(e, MoveWall) for e in w[1].edits))
        yield say(
            "weigh",
            f"{p.name} of {t.name} is {off:.1f} mm behind its wall",
            measured=off,
            limit=limit.value,
            sense="at most",
            how="inside of the wall to the outside of shield or bracket",
            of=(given("wall", a.case.face(p.face).thick_mm),),
            reason="The wall holds a bracket by its screw, and a shield by its edge: so far behind it they hold nothing, dust and fingers come in round them, and what is plugged in pushes.",
            source=str(limit),
            subjects=(p.ref,),
            remedies=ways or _all_to_the_wall(a, mover, p),
        )


@searched
def _all_to_the_wall(a: Analysis, t: Thing, p: PlacedPort) -> tuple[Remedy, ...]:
    """A component moved to the wall that its port looks through, with the walls drawn out where it would stand in something there; none where that brings a
    stop."""
    move = to_wall(a, t, p)
    if move is None:
        return ()
    stops = {f.key for f in judge_bare(a) if f.severity == "stop"}
    label = f"Move {t.name} to the {p.face} wall"
    try:
        there = apply(a.design, move)
        then = analyse(there, a.workshop, "none")
        if not {f.key for f in judge_bare(then) if f.severity == "stop"} - stops:
            return (Remedy(label=label, edits=(move,)),)
        room = walls_round(then).model_copy(update={"only_out": True})
        then = analyse(apply(there, room), a.workshop, "none")
    except DesignError:
        return ()
    told = {f.key: f for f in judge_bare(then)}
    if {k for k, f in told.items() if f.severity == "stop"} - stops or f"plate-off-wall:{p.ref}" in told:
        return ()
    return (Remedy(label=f"{label}, with the walls drawn out", edits=(move, room)),)


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
                f"The joint runs through the opening for {called(a, o)}",
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
    """An opening that a joint which lies fixed runs through or past. The joint goes along with the wall that it is nearer to: that can be moved so far
    out that the opening is on the joint's other side."""
    beyond = (v[0] + v[1]) / 2 > seam.at_mm
    gap = v[0] - seam.at_mm if beyond else seam.at_mm - v[1]
    wanted = (seam.above_mm if beyond else seam.below_mm) + web
    room = a.case.cavity
    low = seam.at_mm - room.lo[seam.axis] < room.hi[seam.axis] - seam.at_mm
    short = seam.above_mm - (v[0] - seam.at_mm) if low else seam.below_mm - (seam.at_mm - v[1])
    by, face = up(short + web + 0.05), _LOW_HIGH[seam.axis][0 if low else 1]
    one, two = seam.parts
    return say(
        "stop" if cut else "weigh",
        f"The joint of {f'{one} and {two}' if one != two else f'the ends of the {one}'} runs "
        + ("through" if cut else "along")
        + f" the opening for {called(a, o)}",
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


SIDES: tuple[Face, ...] = ("left", "right", "front", "back")
SHAVED_MM = 0.5  # of the plastic round a screw that an opening for a component may take: it holds all the same


def called(a: Analysis, o: Opening) -> str:
    """An opening by its label, and which one where others have the same: of which component, by the name of its port or the letter of its screw."""
    alike = [x for x in a.openings.openings if x.label == o.label]
    name = o.label
    if len({x.of for x in alike}) > 1 and o.of in (names := {t.id: t.name for t in a.things}):
        name += f" of {names[o.of]}"
    if sum(x.of == o.of for x in alike) > 1:
        which = o.id.rpartition("/")[2]
        name += f" {which[len(SCREW) :]}" if which.startswith(SCREW) else f" ({which})"
    return name


SCREW = "screw-"  # begins the names of holes for screws of one component


def is_own(o: Opening) -> bool:
    """Whether a hand put it there, and no component."""
    return o.id.startswith(OWN)


@concern("opening-meets-screw", "openings", needs=("walls",))
def opening_meets_screw(a: Analysis, say: Maker) -> Iterator[Finding]:
    """An opening through what holds the case together or stands behind its wall: a lid screw, a post, the seat of a foot; one of one's own through what
    stands in the corners (of what a component brings, the component stands there as well)."""
    there = held_by(a.case, a.things)
    for o in a.openings.openings:
        if not any(w.face == o.face and w.part in o.parts for w in a.case.walls):
            continue  # it is cut into a plate of its own
        own, hole = is_own(o), _hole(a.case, o)
        met = [
            (max(hole.gaps(box)), what, subject, box)
            for what, subject, box, made_in in (*there, *(uprights(a.case, o.face) if own else ()))
            # what belongs to a component has its place beside its own openings
            if own or _of_others(o, subject, made_in)
        ]
        met = [x for x in met if x[0] < -(1e-6 if own else SHAVED_MM)]
        for group in [[x] for x in met] if own else [met] if met else []:  # a component moves past all of them at once
            gap, boxes = min(x[0] for x in group), [x[3] for x in group]
            yield say(
                "stop",
                f"{called(a, o)} runs through {' and '.join(dict.fromkeys(x[1] for x in group))}",
                measured=gap,
                limit=0.0,
                how="least distance of the opening and what is there; less than nothing: how deep it runs into it",
                reason=f"They overlap by {-gap:.1f} mm: what it is cut from holds nothing any more, or stands in the opening.",
                source="geometry",
                # the opening alone where a component brings it: it is the same concern whatever else it runs into
                subjects=(o.id, group[0][2]) if own else (o.id,),
                remedies=_past(a, o, boxes[0]) if own else _past_them(a, o, boxes),
            )


def _hole(case: Case, o: Opening) -> Box:
    """The box that an opening takes out of the wall that it is cut into."""
    deep = max(w.depth_mm for w in case.walls if w.face == o.face and w.part in o.parts)
    u0, v0, u1, v1 = outline(o)
    over = PANE_OVER if o.pane is not None else OVER
    return case.face(o.face).frame.box(Box((u0, v0, -deep - over), (u1, v1, 0.0)))


def _of_others(o: Opening, subject: str, parts: frozenset[str]) -> bool:
    """Whether something is made in what an opening is cut from, and does not belong to the component that the opening is for."""
    return subject != o.of and bool(parts & set(o.parts))


def _past_all(a: Analysis, t: Thing, o: Opening, by: Vec3) -> bool:
    """Whether an opening runs into nothing once its component is moved. What holds the case together goes where there is room then, and it may be cut into
    other parts."""
    there = apply(a.design, moved(t, by))
    things = arrange(there)
    case, frame = case_of(there, a.printer, things), a.case.face(o.face).frame
    du, dv = (sum(x * y for x, y in zip(by, along, strict=True)) for along in (frame.x, frame.y))
    u0, v0, u1, v1 = outline(o)
    then = o.model_copy(update={"parts": case.behind(o.face, u0 + du, v0 + dv, u1 + du, v1 + dv)})
    if not then.parts:
        return False
    hole = _hole(case, then).moved(by)
    return not any(
        _of_others(then, subject, parts) and max(hole.gaps(box)) < -SHAVED_MM
        for _, subject, box, parts in held_by(case, things)
    )


@searched
def _past_them(a: Analysis, o: Opening, boxes: list[Box]) -> tuple[Remedy, ...]:
    """The component that an opening is for moved along the face until the opening is past some boxes, the nearest free way first; or their wall moved out."""
    t = next((t for t in a.things if t.id == o.of), None)
    if t is not None and t.component.mounting == "rides":  # in its slot it moves with what carries it
        t = next((x for x in a.things if x.id == t.placement.on), None)
    if t is None:
        return ()
    face, ends, ways = a.case.face(o.face), outline(o), []
    corners = [c for b in boxes for c in (face.on(b.lo), face.on(b.hi))]
    for k, along in enumerate((face.frame.x, face.frame.y)):
        low, high = min(c[k] for c in corners), max(c[k] for c in corners)
        for far in (up(high - ends[k] + WALL_ROUND_MM), -up(ends[k + 2] - low + WALL_ROUND_MM)):
            by: Vec3 = (along[0] * far, along[1] * far, along[2] * far)
            leaves = left_behind(a, t, by)  # or is left behind, where the wall is moved out
            if free_place(a.design, t, by):
                if not _past_all(a, t, o, by):
                    continue
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


def left_behind(a: Analysis, t: Thing, by: Vec3) -> bool:
    """Whether a component so moved leaves one of its ports too deep behind its wall for a plug."""
    open_, grip = wanted_ports(a.design), val("limits.grip.plug")
    for p in (p for p in t.ports if p.ref in open_ and p.face in OUTWARD):
        back = -sum(x * y for x, y in zip(OUTWARD[p.face], by, strict=True))
        long = port_kinds()[p.port.kind].plug_length_mm
        if back > 1e-6 and long > grip and set_back(a.case, p) + back > long - grip:
            return True
    return False


def plugs_lost(a: Analysis) -> int:
    """Needed ports that are so far behind their walls that no hand pulls their plugs again."""
    grip = val("limits.grip.plug")
    long = [(set_back(a.case, p), port_kinds()[p.port.kind].plug_length_mm) for _, p in needed_ports(a)]
    return sum(plug > grip and back > plug - grip for back, plug in long)


def _past(a: Analysis, o: Opening, box: Box) -> tuple[Remedy, ...]:
    """The opening moved along its face past a box, with a web between, the nearest way first; it stays on the face."""
    face, web, ends, ways = a.case.face(o.face), val("printing.feature.web_lines") * a.case.line_mm, outline(o), []
    corners = face.on(box.lo), face.on(box.hi)
    for k, words in enumerate((("right", "left"), ("up", "down"))):
        low, high = sorted((corners[0][k], corners[1][k]))
        for word, sign, far in ((words[0], 1, high + web - ends[k]), (words[1], -1, ends[k + 2] - low + web)):
            by = up(far + 0.05)
            if web <= ends[k] + sign * by and ends[k + 2] + sign * by <= face.size_mm[k] - web:
                ways.append((by, shift(o, k, sign * by, word)))
    return cheapest(ways, 2)


def shift(o: Opening, k: int, by: float, word: str) -> Remedy:
    move = MoveOnFace(what=o.id, by_mm=(by, 0.0) if k == 0 else (0.0, by))
    return Remedy(label=f"{move_of(o.label)} {abs(by):g} mm {word}", edits=(move,))
