"""Screws and threads: worn threads, screws too long or too short."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, floor
from typing import Literal, TypedDict

from rhombex.core.advice.screws import fewer_kinds
from rhombex.core.advice.sheeted import with_printed_floor
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.apart import apart_from_box
from rhombex.core.bench.arrange import PlacedSolid, Thing, arrange
from rhombex.core.bench.gaps import hard
from rhombex.core.case.joints import Joint, one_of_each
from rhombex.core.case.mounts import Mount
from rhombex.core.concerns.bench import cheapest, free_place, move_of, moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.concerns.sheet_floor import of_no_standoffs
from rhombex.core.edits import Construct, Edit, MoveWall, PutJoint, Set, SetStand, Together
from rhombex.core.fit.joints import TWO_LAYERS_MM, engagement_mm, nut_below_mm, stock_mm
from rhombex.core.hardware.face_screws import face_screw, tips_of
from rhombex.core.hardware.sheets import stock_mm as stock_thick_mm
from rhombex.core.parts.threads import label, screw_size
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref, val
from rhombex.core.shell.build import case_of
from rhombex.core.space import FACES, OUTWARD, Box, Vec3, normal_axis
from rhombex.core.trail import given, looked_up

RAISED_AGAIN = 4  # times that a component is tried higher


class Nearest(TypedDict):
    measured: float
    limit: float
    sense: Literal["at least", "at most"]


@concern("thread-opened-often", "hardware", needs=("joints",))
def thread_opened_often(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: threads cut in plastic that will be opened more often than they bear."""
    bears = ref("fasteners.rule.pilot_reuses")
    opened = ref(f"limits.thread.{a.design.brief.opened}")
    if opened.value <= bears.value:
        return
    for j in one_of_each(tuple(j for j in a.case.joints if j.opened and j.holding == "cut in plastic")):
        yield say(
            "stop",
            f"{j.name.capitalize()} screws cut into plastic, but the case is opened {a.design.brief.opened}",
            measured=opened.value,
            limit=bears.value,
            unit="openings",
            sense="at most",
            how="openings over the life of the case, from the brief",
            reason=f"A screw wears its thread in plastic each time. An insert of brass does not wear. ({opened.source}.)",
            source=str(bears),
            subjects=(j.name,),
            remedies=(
                Remedy(label=f"Heat-set inserts for the {j.name}", edits=(Set(path=j.thread_path, value="insert"),)),
                Remedy(label="It is opened only once", edits=(Set(path="brief.opened", value="once"),)),
            ),
        )


def nearest(thread: str, lo: float, hi: float) -> Nearest:
    """Where no stock length lies from lo to hi: the nearest one, and the limit that it misses."""
    length = min(stock_mm(thread), key=lambda x: max(lo - x, x - hi))
    return {"measured": length, "limit": lo if length < lo else hi, "sense": "at least" if length < lo else "at most"}


@searched
def _other_spacers(a: Analysis, p: Mount) -> tuple[Remedy, ...]:
    """Heights of the lowest printed standoffs with which some stock screw fits, the nearest to now first."""
    upper = next((x for x in a.design.placements if x.id in p.clamps[:1]), None)
    if upper is None or upper.stand is None:
        return ()
    if p.holding == "through" or p.holding == "nut from below" or p.holding == "nut":
        return ()
    least, most = engagement_mm(p.thread, p.holding)
    now = upper.stand.standoff_mm
    rest = p.grip_mm - now
    fits: set[float] = set()
    for length in stock_mm(p.thread):
        lo, hi = ceil((length - most - rest) * 10 - 1e-6) / 10, floor((length - least - rest) * 10 + 1e-6) / 10
        if 2.0 <= lo <= hi:
            fits.add(min(max(now, lo), hi))
    return tuple(
        Remedy(
            label=f"Print the standoffs {h:g} mm high",
            edits=(SetStand(id=upper.id, stand=upper.stand.model_copy(update={"standoff_mm": h})),),
        )
        for h in sorted(fits, key=lambda h: abs(h - now))[:3]
    )


@concern("lid-screw-length", "hardware")
def lid_screw_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: screws of the case too long for their hole, or with too little thread."""
    for j in one_of_each(tuple(j for j in a.case.screws if not j.pocket_mm)):
        yield from _length_of(a, j, say)


def _length_of(a: Analysis, j: Joint, say: Maker) -> Iterator[Finding]:
    least, most = engagement_mm(j.thread, j.holding)
    most = min(most, j.hole_depth_mm - val("fasteners.rule.tip_clearance"))
    auto = (Remedy(label="Let the stack choose the length", edits=(Set(path=j.screw_path, value=None),)),)
    words = f"{j.name.capitalize()} screws {screw_size(j.thread, j.screw_mm or 0.0)}"
    if j.screw_mm is None:
        yield say(
            "stop",
            f"No stock screw fits the {j.name}'s stack",
            **nearest(j.thread, j.grip_mm + least, j.grip_mm + most),
            how="nearest stock length; wanted: what it passes and the thread it needs",
            of=(
                given("passes", j.grip_mm),
                given("least thread", least),
                given("most thread", most),
            ),
            reason=f"Between {j.grip_mm + least:.1f} and {j.grip_mm + most:.1f} mm there is no stock length.",
            source=str(ref("fasteners.rule.tip_clearance")),
            subjects=(j.name,),
            remedies=_joint_moved(a, j, least, most),
        )
    elif j.engagement_mm > most + 1e-6:
        yield say(
            "stop",
            f"{words} are too long by {j.engagement_mm - most:.1f} mm",
            measured=j.engagement_mm,
            limit=most,
            sense="at most",
            how="length of the screw less what it passes",
            of=(
                given("screw", j.screw_mm),
                given("passes", j.grip_mm),
                given("hole", j.hole_depth_mm),
                looked_up("clear of the tip", ref("fasteners.rule.tip_clearance")),
            ),
            reason=f"The tip meets the bottom of the hole before the {j.name} is tight.",
            source=str(ref("fasteners.rule.tip_clearance")),
            subjects=(j.name,),
            remedies=auto,
        )
    elif j.engagement_mm < least - 1e-6:
        rule = "insert_engagement_factor" if j.holding == "insert" else "pilot_engagement_factor"
        yield say(
            "stop",
            f"{words} have too little thread",
            measured=j.engagement_mm,
            limit=least,
            how="length of the screw less what it passes; wanted: diameter x factor",
            of=(
                given("screw", j.screw_mm),
                given("passes", j.grip_mm),
                looked_up("factor", ref(f"fasteners.rule.{rule}")),
            ),
            reason=f"Too few turns hold; they pull out when the case is lifted by its {j.name}.",
            source=str(ref(f"fasteners.rule.{rule}")),
            subjects=(j.name,),
            remedies=auto,
        )


def _joint_moved(a: Analysis, j: Joint, least: float, most: float) -> tuple[Remedy, ...]:
    """The joint that a screw passes raised or lowered to where one in stock fits, the shorter way first."""
    stock = stock_mm(j.thread)
    ways = [up(j.grip_mm + least - max((x for x in stock if x < j.grip_mm + least), default=1e9))]
    ways.append(-up(min((x for x in stock if x > j.grip_mm + most), default=1e9) - j.grip_mm - most))
    out = []
    for s in (s for s in a.case.seams if {j.holds, j.into} <= set(s.parts) and s.axis == 2 and s.path):
        for by in sorted(ways, key=abs):
            at = s.at_mm + by
            if a.case.cavity.lo[2] + 1.0 < at < a.case.cavity.hi[2] - 1.0:
                value = round(at - a.case.cavity.lo[2], 3)
                label = f"{'Raise' if by > 0 else 'Lower'} the joint by {abs(by):g} mm"
                out.append(Remedy(label=label, edits=(Set(path=s.path, value=value),)))
    return tuple(out)


@concern("many-screw-kinds", "hardware")
def many_screw_kinds(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 23: more kinds of screws than the case needs."""
    limit = ref("limits.standing.screw_kinds")
    kinds = sorted({line.size for line in a.bill if line.item.startswith("screw")})
    if len(kinds) <= limit.value:
        return
    found, edits = fewer_kinds(a)
    remedies = (Remedy(label=f"Take the fewest kinds: {len(found.least)}", edits=edits),) if edits else ()
    yield say(
        "advice",
        f"{len(kinds)} kinds of screws",
        measured=len(kinds),
        limit=limit.value,
        unit="kinds",
        sense="at most",
        how="kinds of screws in the bill, by thread and length",
        reason=f"{', '.join(kinds)}. Each kind is a bag to buy and a screw to mix up."
        + ("" if edits or not found.proven else " No fewer serve all joints as they are."),
        source=str(limit),
        subjects=("screws",),
        remedies=remedies,
    )


@concern("screw-tip-hits", "hardware", needs=("walls",))
def screw_tip_hits(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: a screw through a wall whose tip meets what stands behind its nut."""
    for t in a.things:
        s = face_screw(a.design, t, a.case)
        if s is None or s.length_mm is None or t.face is None:
            continue
        face = a.case.face(t.face)
        end = s.length_mm - s.outside_mm  # behind the face's surface; the nut sits before it
        begin = face.thick_mm + s.passed_mm
        for tip in tips_of(t, s, a.case):
            hit = next((o for o in a.things if o.id != t.id for x in hard(o) if apart_from_box(x, tip) < -0.01), None)
            if hit is None:
                continue
            met = [x for x in hard(hit) if apart_from_box(x, tip) < -0.01]
            over = max(-apart_from_box(x, tip) for x in met)
            yield say(
                "stop",
                f"The screws of {t.name} reach into {hit.name}",
                measured=-over,
                limit=0.0,
                how="how deep the tip stands in what is behind it, as less than nothing",
                of=(
                    given("screw", s.length_mm),
                    given("ends behind the face by", end),
                    given("component and wall end at", begin),
                ),
                reason=f"{screw_size(s.thread, s.length_mm)} stands {end - begin:.1f} mm out behind {t.name}; {hit.name} is there.",
                source="geometry",
                subjects=(t.id, hit.id, "tip"),
                remedies=_past_it(a, t, met, tip)
                if hit.face == t.face
                else _off_the_tip(a, t, hit, _deep(face.frame.z, met, tip)),
            )
            break


def _deep(out: Vec3, met: list[PlacedSolid], tip: Box) -> float:
    """How far a screw's tip stands behind the nearest end of what it meets, along its way, mm: a tip beside an edge is less deep in it than that."""
    i = next(k for k in range(3) if abs(out[k]) > 0.5)
    return max(x.box.hi[i] - tip.lo[i] if out[i] > 0 else tip.hi[i] - x.box.lo[i] for x in met)


@searched
def _past_it(a: Analysis, t: Thing, met: list[PlacedSolid], tip: Box) -> tuple[Remedy, ...]:
    """What is screwed to a wall moved along it, so that a tip passes what is fixed to the same wall; the nearest ways."""
    assert t.face is not None
    found: list[tuple[float, Remedy]] = []
    for f in (f for f in FACES if normal_axis(f) != normal_axis(t.face)):
        i = normal_axis(f)
        over = max(x.box.hi[i] - tip.lo[i] if OUTWARD[f][i] > 0 else tip.hi[i] - x.box.lo[i] for x in met)
        far = up(over + 0.05)
        by: Vec3 = tuple(far * c for c in OUTWARD[f])  # type: ignore[assignment]
        if free_place(a.design, t, by):
            words = {"top": "up", "bottom": "down", "front": "forward"}.get(f, f)
            found.append((far, Remedy(label=f"{move_of(t.name)} {far:g} mm {words}", edits=(moved(t, by),))))
    return cheapest(found, 2)


@searched
def _off_the_tip(a: Analysis, t: Thing, hit: Thing, over_mm: float) -> tuple[Remedy, ...]:
    """What is behind a screw moved away from the wall, or the wall with all that is on it moved out."""
    assert t.face is not None
    by = up(over_mm + 0.05)
    inward = tuple(-round(x) * by for x in a.case.face(t.face).frame.z)
    out = Remedy(label=f"Move the {t.face} wall out by {by:g} mm", edits=(MoveWall(face=t.face, by_mm=by),))
    if not free_place(a.design, hit, inward):  # type: ignore[arg-type]
        return (out,)
    away = Remedy(label=f"Move {hit.name} {by:g} mm away from the {t.face}", edits=(moved(hit, inward),))  # type: ignore[arg-type]
    return (away, out)


def _by_stack(a: Analysis, of: str) -> tuple[Remedy, ...]:
    """Give the length of a component's screws back to the stack, where a hand chose it."""
    own = a.design.joint(of)
    if own is None or own.screw_mm is None:
        return ()
    return (
        Remedy(
            label="Let the stack choose the length",
            edits=(PutJoint(joint=own.model_copy(update={"screw_mm": None})),),
        ),
    )


@searched
def _through_another_floor(a: Analysis, of: Mount) -> tuple[Remedy, ...]:
    """The thickness of a floor of sheet, next to what it is, that a stock screw fits through; and the floor printed, with what is screwed through it so high
    that heads sink."""
    sheet = a.case.part(of.part).sheet if any(p.name == of.part for p in a.case.parts) else None
    made = a.design.shell.construction
    printed, now = with_printed_floor(made), a.design.shell.floor_mm
    if printed == made:
        return ()
    sold = sorted(stock_thick_mm(sheet.material), key=lambda t: (abs(t - now), -t)) if sheet is not None else []
    others = [
        Remedy(label=f"A floor of {t:g} mm", edits=(Set(path="shell.floor_mm", value=t),)) for t in sold if t != now
    ]
    edits: tuple[Edit, ...] = (Construct(construction=printed),)
    try:
        design = apply(a.design, edits[0])
        things = arrange(design)
        mounts = case_of(design, a.printer, things).mounts
        for t in things:
            sunk = [_short_mm(m) for m in mounts if m.of == t.id]
            if max(sunk, default=0.0) > 0:
                edits = (*edits, moved(t, (0.0, 0.0, up(max(sunk)))))
    except DesignError:
        edits = ()
    by_print = (Remedy(label="Print the floor", edits=edits),) if edits else ()
    return (*[w for w in others if _is_held(a, of, w)][:1], *(w for w in by_print if _is_held(a, of, w)))


def _short_mm(m: Mount) -> float:
    """How much the head of a screw through a printed floor stands out of it."""
    return val(f"fasteners.{m.thread}.head_k") - m.head_depth_mm if m.holding == "through" else 0.0


def _is_held(a: Analysis, of: Mount, remedy: Remedy) -> bool:
    """Whether a stock screw holds a component once a remedy is applied, its head in the floor where that is printed."""
    try:
        design = apply(a.design, Together(edits=remedy.edits))
        case = case_of(design, a.printer, arrange(design))
    except DesignError:
        return False
    least = val("fasteners.rule.least_turns") * val(f"fasteners.{of.thread}.pitch")
    mine = [m for m in case.mounts if m.of == of.of and m.holding == "through"]
    return all(
        m.engagement_mm >= least - 1e-6 and (case.part(m.part).sheet is not None or _short_mm(m) <= 1e-6) for m in mine
    )


def _of_feet_by_stack(a: Analysis) -> tuple[Remedy, ...]:
    """Give the length of the feet's screws back to the stack, where a hand chose it; else the floor is too thick for them."""
    edits = (Set(path="shell.foot_screw_mm", value=None),)
    return (Remedy(label="Let the stack choose the length", edits=edits),) if a.design.shell.foot_screw_mm else ()


@concern("wall-screw-length", "hardware")
def wall_screw_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: screws through a wall, a flange or a standoff that are too short, too long, or not to be had."""
    of_no_length = {t.id for t, _, _ in of_no_standoffs(a)}  # what they are screwed into is told first
    for g in a.joints:
        if (
            not g.key.startswith(("face/", "hook/", "slots/", "on/", "feet/"))
            or g.head == "stud"
            or g.of in of_no_length
        ):
            continue
        length = g.screw_mm
        near = (
            length if length is not None else min(stock_mm(g.thread), key=lambda x: max(g.least_mm - x, x - g.most_mm))
        )
        short = near < g.least_mm
        if length is not None and g.least_mm - 1e-6 <= length <= g.most_mm + 1e-6:
            continue
        if length is None:
            title = f"No stock screw holds {g.name}"
        else:
            title = f"The screws of {g.name} are too {'short' if short else 'long'} by {g.least_mm - near if short else near - g.most_mm:.1f} mm"
        yield say(
            "stop",
            title,
            measured=near,
            limit=g.least_mm if short else g.most_mm,
            sense="at least" if short else "at most",
            how="length of the screw; wanted: what it passes with the thread or nut that holds it"
            if length is not None
            else "nearest stock length; wanted: what it passes with the thread or nut that holds it",
            of=tuple(given(x.what, x.to_mm - max(x.from_mm, 0.0)) for x in g.layers if not x.thread),
            reason=f"Between {g.least_mm:.1f} and {g.most_mm:.1f} mm would do: "
            + (
                "it does not reach through."
                if short
                else "what stands out behind is in the way, or meets the end of the thread."
            ),
            source="ISO 888 nominal lengths; ISO 4032 nuts",
            subjects=(g.of or g.key.split("/", 1)[0], "screws"),
            remedies=_by_stack(a, f"{g.key.split('/', 1)[0]}/{g.of}") if g.of else _of_feet_by_stack(a),
        )


@searched
def _sunk(a: Analysis, t: Thing, head_mm: float) -> tuple[Remedy, ...]:
    """A component raised until floor and pad sink the heads of its screws. Pads may be under the floor, or no screw in stock may fit what they are raised by."""
    by = 0.0
    case = a.case
    for _ in range(RAISED_AGAIN):
        depth = min((p.head_depth_mm for p in case.mounts if p.of == t.id), default=None)
        if depth is None:
            return ()
        if depth >= head_mm:
            return (Remedy(label=f"Raise {t.name} by {by:g} mm", edits=(moved(t, (0, 0, by)),)),)
        by = up(by + head_mm + 0.3 - depth)
        try:
            there = apply(a.design, moved(t, (0, 0, by)))
        except DesignError:
            return ()
        case = case_of(there, a.printer, arrange(there))
    return ()


@concern("mount-screw-length", "hardware", needs=("mounts",))
def mount_screw_length(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 22: a component's screws: too deep into a drive, too little thread, or a head that stands proud."""
    seen: set[str] = set()
    for p in a.case.mounts:
        # whether a post takes the stud of a standoff is told of the post, and of a sheet where it stands on one
        if p.of in seen or p.standoff_mm or p.holding == "nut":
            continue
        t = next(x for x in a.things if x.id == p.of)
        if p.holding == "through":
            mount = next(m.mount for m in t.mounts if m.mount.name == p.mount)
            head = val(f"fasteners.{p.thread}.head_k")
            if (
                p.head_depth_mm < head and a.case.part(p.part).sheet is None
            ):  # under a sheet heads stand out, and feet over them
                seen.add(p.of)
                yield say(
                    "stop",
                    f"The screw heads under {t.name} stand proud of the floor",
                    measured=p.head_depth_mm,
                    limit=head,
                    how="depth to which the head sinks; wanted: height of the head",
                    of=(given("pad and floor sink it by", p.head_depth_mm),),
                    reason=f"An {label(p.thread)} head is {head:g} mm high; floor and pad are too thin to sink it.",
                    source="ISO 4762 head height",
                    subjects=(p.of,),
                    remedies=_sunk(a, t, head),
                )
            elif p.engagement_mm < val("fasteners.rule.least_turns") * val(f"fasteners.{p.thread}.pitch") - 1e-6:
                seen.add(p.of)
                turns, pitch = ref("fasteners.rule.least_turns"), ref(f"fasteners.{p.thread}.pitch")
                yield say(
                    "stop",
                    f"The screws under {t.name} have too little thread",
                    measured=p.engagement_mm,
                    limit=turns.value * pitch.value,
                    how="length of the screw less what it passes; wanted: turns x pitch",
                    of=(
                        given("screw", p.screw_mm or 0.0),
                        given("passes", p.grip_mm),
                        looked_up("turns", turns),
                        looked_up("pitch", pitch),
                    ),
                    reason="Fewer turns strip when they are tightened."
                    if p.screw_mm
                    else f"No stock length passes {p.grip_mm:g} mm and has so much thread without reaching too deep into it.",
                    source=str(turns),
                    subjects=(p.of, "screws"),
                    remedies=_by_stack(a, f"posts/{p.of}") or _through_another_floor(a, p),
                )
            elif mount.depth_limit_mm is not None and p.engagement_mm > mount.depth_limit_mm + 1e-6:
                seen.add(p.of)
                yield say(
                    "stop",
                    f"The screws reach too deep into {t.name}",
                    measured=p.engagement_mm,
                    limit=mount.depth_limit_mm,
                    sense="at most",
                    how="thread in the component",
                    of=(
                        given("screw", p.screw_mm or 0.0),
                        given("passes", p.grip_mm),
                    ),
                    reason="They meet the inside of the drive.",
                    source=mount.source,
                    subjects=(p.of,),
                    remedies=_by_stack(a, f"posts/{p.of}")
                    or (Remedy(label=f"Raise {t.name} by 1 mm", edits=(moved(t, (0, 0, 1.0)),)),),
                )
            continue
        least, deepest = engagement_mm(p.thread, p.holding)
        hole = p.pocket_mm or p.hole_depth_mm
        most = hole - val("fasteners.rule.tip_clearance")
        span = (p.grip_mm + least, p.grip_mm + deepest)
        if p.holding == "nut from below":
            span = nut_below_mm(p.thread, p.top_mm, p.passed_mm)
        if p.screw_mm is None and not p.stud:
            seen.add(p.of)
            yield say(
                "stop",
                f"No stock screw holds {t.name} on its posts",
                **nearest(p.thread, *span),
                how="nearest stock length; wanted: what it passes and the thread it needs",
                of=(
                    given("passes", p.passed_mm),
                    given("least thread", least),
                    given("most thread", deepest),
                ),
                reason=f"It passes {p.passed_mm:.1f} mm of board{' and spacer' if p.clamps else ''}, so it would be {round(span[0], 2):g} "
                f"to {round(span[1], 2):g} mm long; there is no such length.",
                source="nominal lengths: ISO 888, for inch threads ASME B18.6.3",
                subjects=(p.of, *p.clamps, "screws"),
                remedies=(*_other_spacers(a, p), *_higher_post(t, p, span)),
            )
        elif p.engagement_mm > most + 1e-6:
            seen.add(p.of)
            by = up(p.engagement_mm - most)
            if not p.pocket_mm:  # under a floor a post has no depth to count from
                by = max(by, up(p.engagement_mm + hole - most + TWO_LAYERS_MM - p.top_mm))
            yield say(
                "stop",
                f"The {'studs on' if p.stud else 'screws of'} {t.name} are too long for its posts",
                measured=p.engagement_mm,
                limit=most,
                sense="at most",
                how="length of the screw less what it passes; at most: depth of the hole less room for the tip",
                of=(
                    given("passes", p.grip_mm),
                    given("hole", hole),
                    looked_up("clear of the tip", ref("fasteners.rule.tip_clearance")),
                ),
                reason="The tip stands out of the floor."
                if p.pocket_mm
                else "The tip meets the bottom of the hole; the board stays loose.",
                source=str(ref("fasteners.rule.tip_clearance")),
                subjects=(p.of, "screws"),
                remedies=(
                    *_by_stack(a, f"posts/{p.of}"),
                    Remedy(label=f"Raise {t.name} by {by:g} mm", edits=(moved(t, (0, 0, by)),)),
                ),
            )
        elif p.engagement_mm < least - 1e-6:
            seen.add(p.of)
            yield say(
                "stop",
                f"The {'studs on' if p.stud else 'screws of'} {t.name} have too little thread in its posts",
                measured=p.engagement_mm,
                limit=least,
                how="length of the screw less what it passes; wanted: diameter x factor",
                of=(given("passes", p.grip_mm),),
                reason="Too few turns hold; they pull out.",
                source=str(ref("fasteners.rule.nut_under"))
                if p.pocket_mm
                else str(ref(f"fasteners.rule.{'insert' if p.holding == 'insert' else 'pilot'}_engagement_factor")),
                subjects=(p.of, "screws"),
                remedies=_by_stack(a, f"posts/{p.of}"),
            )


def _higher_post(t: Thing, p: Mount, span: tuple[float, float]) -> tuple[Remedy, ...]:
    """A post so much higher that a stock screw reaches its nut from below."""
    length = next((x for x in stock_mm(p.thread) if x >= span[0]), None)
    if p.holding != "nut from below" or length is None or length <= span[1]:
        return ()
    by = up(length - span[1])
    return (Remedy(label=f"Raise {t.name} by {by:g} mm", edits=(moved(t, (0, 0, by)),)),)
