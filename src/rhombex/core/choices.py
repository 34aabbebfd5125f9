"""Which ways there are to make a case of an arrangement: each with its numbers, what it gives up, and one that is recommended."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Protocol

from rhombex.core.advice.panels import panels
from rhombex.core.advice.sheeted import thick_enough
from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.case.joints import Joint
from rhombex.core.concerns import RULES, Finding, judge_bare
from rhombex.core.concerns.registry import UNLESS_TOLD, Told
from rhombex.core.constructions import CLEAR
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Edit, Together
from rhombex.core.memo import Memo
from rhombex.core.plain import DesignError
from rhombex.core.progress import Progress, silent
from rhombex.core.reference import val
from rhombex.core.shell.offers import KINDS, usual
from rhombex.core.stance import stood_size
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.workshop import Workshop

ROOM = ("part-in-rim", "cannot-be-put-on", "parts-overlap", "component-in-part")
GIVES_UP = {
    "two halves": "one way in only; the seam runs all round",
    "tray in a sleeve": "plugs are pulled before it comes out; nothing can be cut that stands across its way",
    "sliding panels": "posts in the corners of the room; panels bind unless a coupon was printed first",
    "frame and covers": "many screws and parts; seams at every edge",
    "core and wrap": "everything must be passed through the top of the wrap; screws are seen on both sides",
    "corners and sheet": "sheet must be cut and drilled; square corners",
    "open bench": "nothing keeps hands, dust and drinks out",
}
SUITS = {
    "two halves": "small boards and storage boxes: few parts, closed all round",
    "tray in a sleeve": "what is opened often: all of it comes out in one piece, cables and all",
    "sliding panels": "a clean outside, and large boards: every side lies flat on the bed",
    "frame and covers": "displays and large boards: every side comes off by itself",
    "core and wrap": "the smallest case: all stands open once the wrap is off",
    "corners and sheet": "windows, and walls larger than the bed",
    "open bench": "trials and measuring: everything is at hand",
}
# what a point is: a euro. An hour of the printer is half of one, an hour of the hands ten; common practice
HOUR_EUR, HANDS_EUR_H = 0.5, 10.0
SCREW_S, PART_S, SHEET_S = (
    20.0,
    60.0,
    900.0,
)  # to undo and do a screw; to put a part on; to cut and drill a sheet; common practice


# Of an arrangement that fills a case, these take longest: where two look, they begin with them, and neither waits long for the other at the end.
LONGEST = ("two halves", "core and wrap", "sliding panels", "frame and covers", "tray in a sleeve")


class Way(Frozen):
    """One construction of this arrangement. `suits`: nothing stands against it; else `why` says what does. `stops`: how many more than now,
    in words; `edits`: what makes it so. `points`: what it costs in money, hours and handling, in euros; less is better."""

    kind: str
    now: bool
    suits: bool
    why: str
    gives_up: str
    outer_mm: tuple[Shown, Shown, Shown]
    litres: Shown
    parts: int
    sheets: int
    pieces: int
    fits_bed: bool
    mass_g: Shown
    time_h: Shown
    money: Shown
    screws: int
    screw_kinds: int
    bend_mm: Shown
    bends: str
    parts_off: int
    screws_off: int
    stops: tuple[str, ...]
    points: Shown
    recommended: bool
    edits: tuple[Edit, ...]


_known: Memo[tuple[Design, Workshop], frozenset[str]] = Memo(4)  # what stands in the way before: asked for each kind


def made_so(design: Design, workshop: Workshop, kind: str, before: frozenset[str] | None = None) -> tuple[Edit, ...]:
    """The edits that make a design's case another way: its usual numbers, sheet of a thickness that is sold, and walls moved out as far as
    its own columns need. `before`: what stands in the way now, where that is known. Raises KeyError for a kind that there is not, DesignError where it
    cannot be."""
    made = usual(design, kind)
    edits: list[Edit] = [Construct(construction=made)]
    if design.shell.construction.kind != kind:
        printer = workshop.printer(design.printer) or workshop.printers[0]
        edits = [*thick_enough(design, made, printer), *edits]
    changed = apply(design, Together(edits=tuple(edits)))
    if design.shell.construction.kind == kind:
        return tuple(edits)
    a = analyse(changed, workshop, "none")
    known = _before(design, workshop) if before is None else before
    if any(key not in known for key in _in_the_way(a)):
        room = walls_round(a).model_copy(update={"only_out": True})
        try:
            apply(changed, room)
        except DesignError:
            return tuple(edits)
        edits.append(room)
    return tuple(edits)


def _before(design: Design, workshop: Workshop) -> frozenset[str]:
    """What stands in the way in a design as it is."""
    return _known.make((design, workshop), lambda: frozenset(_in_the_way(analyse(design, workshop, "none"))))


def _in_the_way(a: Analysis) -> Iterator[str]:
    """What stands in the case's own components, whatever else is said of it; what takes longer to see comes later."""
    nobody: Told = frozenset()
    for code in ROOM:
        told = RULES[code](a, *((nobody,) if code in UNLESS_TOLD else ()))
        yield from (f.key for f in told if f.severity == "stop")


def _stops(a: Analysis) -> list[Finding]:
    return [f for f in judge_bare(a) if f.severity == "stop"]


class Stop(Frozen):
    """A stop of a construction: `key` tells it from all others, `code` is its rule."""

    key: str
    code: str
    title: str


class Seen(Frozen):
    """A construction as it was looked at, with all its stops: which of them are new is said once those of the design as it is are known."""

    way: Way
    stops: tuple[Stop, ...] | None  # None: it cannot be made so


class Helper(Protocol):
    """Another one who looks at some of the kinds meanwhile: each asks for the next as it comes free."""

    def next(self) -> str | None:
        """A kind that nobody has taken yet, to be looked at here; None: all are taken."""

    def found(self, progress: Progress) -> tuple[Seen, ...]:
        """What was found there: waits for it, saying how far it is, and may be stopped by that. Where it came to nothing some are missing."""

    def end(self) -> None:
        """Let the work go."""


# begins to look at these kinds elsewhere, told what stands in the way now
Share = Callable[[Design, Workshop, tuple[str, ...], frozenset[str]], Helper]


def choices(
    design: Design,
    workshop: Workshop,
    progress: Progress = silent,
    found: Callable[[tuple[Way, ...]], None] = lambda some: None,
    share: Share | None = None,
) -> tuple[Way, ...]:
    """All constructions of a design, in the order of the list, the best marked; remembered. `found` is told those that are known so far;
    `progress` may raise to stop; `share` looks at some of them meanwhile."""
    known = _ways.get((design, workshop))
    if known is None:
        return _ways.put((design, workshop), _choices(design, workshop, progress, found, share))
    found(known)
    return known


_ways: Memo[tuple[Design, Workshop], tuple[Way, ...]] = Memo(16)


def _choices(
    design: Design,
    workshop: Workshop,
    progress: Progress,
    found: Callable[[tuple[Way, ...]], None],
    share: Share | None,
) -> tuple[Way, ...]:
    in_the_way = _before(design, workshop)
    now = design.shell.construction.kind
    others = tuple(k for k in (*LONGEST, *(k for k in KINDS if k not in LONGEST)) if k != now)
    helper = share(design, workshop, others, in_the_way) if share else None
    out: list[Way] = []

    def see(kind: str) -> None:
        progress(len(out) / len(KINDS), kind)
        out.append(_judged(_seen(design, workshop, kind, in_the_way), known))
        found(tuple(out))  # which is best is said once all are known

    try:
        known = frozenset(f.key for f in _stops(analyse(design, workshop, "preview")))
        if now in KINDS:
            see(now)
        if helper is None:
            for kind in others:
                see(kind)
        else:
            while (next_one := helper.next()) is not None:
                see(next_one)
            if _left(others, out):
                out += (_judged(x, known) for x in helper.found(progress))
            for kind in _left(others, out):
                see(kind)
    finally:
        if helper is not None:
            helper.end()
    return _marked(sorted(out, key=lambda w: KINDS.index(w.kind)))


def _left(kinds: tuple[str, ...], ways: list[Way]) -> list[str]:
    seen = {w.kind for w in ways}
    return [k for k in kinds if k not in seen]


def some(
    design: Design, workshop: Workshop, kinds: Iterable[str], in_the_way: frozenset[str], progress: Progress = silent
) -> tuple[Seen, ...]:
    """Some constructions of a design, none of them judged; each kind is asked for once the one before it is seen. `in_the_way`: what stands in the way as it is."""
    out: list[Seen] = []
    for kind in kinds:
        progress(len(out) / len(KINDS), kind)
        out.append(_seen(design, workshop, kind, in_the_way))
    return tuple(out)


def _judged(seen: Seen, known: frozenset[str]) -> Way:
    """A construction beside the stops that there are as it is."""
    if seen.stops is None:
        return seen.way
    new = [s for s in seen.stops if s.key not in known]
    against = _against(new)
    said = {"suits": not against, "stops": tuple(s.title for s in new)}
    return seen.way.model_copy(update=said | ({"why": against} if against else {}))


def _marked(ways: list[Way]) -> tuple[Way, ...]:
    good = [w for w in ways if w.suits] or ways
    best = min(good, key=lambda w: (len(w.stops), w.points))
    return tuple(
        w.model_copy(update={"recommended": True, "why": f"{w.why}. {_because(w, good)}"}) if w is best else w
        for w in ways
    )


def _because(best: Way, others: list[Way]) -> str:
    """What the recommended way is best at, in words."""
    rest = [w for w in others if w is not best]
    if not rest:
        return "It is the only one that nothing stands against"
    said = []
    if best.money <= min(w.money for w in rest):
        said.append(f"least money, {best.money:.2f}")
    if best.time_h <= min(w.time_h for w in rest):
        said.append(f"least printing, {best.time_h:.1f} h")
    if best.litres <= min(w.litres for w in rest) - 0.005:
        said.append(f"smallest, {best.litres:.2f} l")
    if best.screws_off < min(w.screws_off for w in rest):
        said.append(f"opened with {best.screws_off} screws")
    if best.parts < min(w.parts + w.sheets for w in rest):
        said.append(f"fewest parts, {best.parts}")
    if not said:
        said.append(f"least in all: money, hours of printing and of hands come to {best.points:.0f}")
    return f"Recommended: {', '.join(said)}"


def _seen(design: Design, workshop: Workshop, kind: str, in_the_way: frozenset[str]) -> Seen:
    now = kind == design.shell.construction.kind
    try:
        edits = made_so(design, workshop, kind, in_the_way)
        a = analyse(apply(design, Together(edits=edits)), workshop, "preview")
    except DesignError as e:
        return Seen(way=_refused(design, kind, now, str(e)), stops=None)
    stops = tuple(Stop(key=f.key, code=f.code, title=f.title) for f in _stops(a))
    w, d, h = stood_size(a.case.stands_on, a.case.box_mm)
    mass = sum(e.mass_g.value for _, e in a.estimated()) + sum(x.mass_g for x in a.sheets)
    hours = sum(e.time_s.value for _, e in a.estimated()) / 3600
    money = sum(e.money for _, e in a.estimated()) + sum(x.money.value for x in a.sheets)
    screws = sum(line.count for line in a.bill if line.item.startswith("screw"))
    kinds = len({line.size for line in a.bill if line.item.startswith("screw")})
    weakest = next(iter(panels(a)), None)
    parts_off, screws_off = opened(a)
    opening_h = (screws_off * SCREW_S + parts_off * PART_S) / 3600
    building_h = (screws * SCREW_S + len(a.case.parts) * PART_S + len(a.sheets) * SHEET_S) / 3600
    often = val(f"limits.thread.{design.brief.opened}")
    window = design.brief.window is not None and not _clear(a, design.brief.window)
    points = money + hours * HOUR_EUR + (opening_h * often + building_h * (4 - design.brief.skill)) * HANDS_EUR_H
    points += 0.0 if all(p.fits_bed for p in a.pieces) else 10.0
    points += 10.0 if window else 0.0
    points += 3.0 * max(
        0, a.case.wanted_joints - len(a.case.fastened)
    )  # a screw without a place is a gap; common practice
    gives_up = GIVES_UP[kind] + ("; no window, which the brief wishes" if window else "")
    way = Way(
        kind=kind,
        now=now,
        suits=True,
        why=SUITS[kind][:1].upper() + SUITS[kind][1:],
        gives_up=gives_up,
        outer_mm=(w, d, h),
        litres=w * d * h / 1e6,
        parts=sum(p.sheet is None for p in a.case.parts),
        sheets=len(a.sheets),
        pieces=len(a.pieces),
        fits_bed=all(p.fits_bed for p in a.pieces),
        mass_g=mass,
        time_h=hours,
        money=money,
        screws=screws,
        screw_kinds=kinds,
        bend_mm=weakest.bend.value if weakest else 0.0,
        bends=weakest.face if weakest else "",
        parts_off=parts_off,
        screws_off=screws_off,
        stops=(),
        points=points,
        recommended=False,
        edits=edits,
    )
    return Seen(way=way, stops=stops)


def _against(new: list[Stop]) -> str:
    """What stands against a construction, in words; nothing where it suits."""
    bare = next((f for f in new if f.code in ("no-wall-to-hold", "caution-open-frame", "part-not-made")), None)
    if bare is not None:
        return bare.title
    if len(new) < 3:
        return ""
    more = f"; and {len(new) - 3} more" if len(new) > 3 else ""
    return f"It brings {len(new)} stops: {'; '.join(f.title for f in new[:3])}{more}"


def _clear(a: Analysis, face: str) -> bool:
    return any(face in x.faces and x.material in CLEAR for x in a.sheets)


def _refused(design: Design, kind: str, now: bool, why: str) -> Way:
    return Way(
        kind=kind,
        now=now,
        suits=False,
        why=why,
        gives_up=GIVES_UP[kind],
        outer_mm=(0.0, 0.0, 0.0),
        litres=0.0,
        parts=0,
        sheets=0,
        pieces=0,
        fits_bed=False,
        mass_g=0.0,
        time_h=0.0,
        money=0.0,
        screws=0,
        screw_kinds=0,
        bend_mm=0.0,
        bends="",
        parts_off=0,
        screws_off=0,
        stops=(why,),
        points=1e9,
        recommended=False,
        edits=(),
    )


def opened(a: Analysis) -> tuple[int, int]:
    """What it takes to get in: parts to take off and screws to undo, by the easiest of the parts that screws hold; what no screw holds is
    held by those."""
    ways = []
    for p in a.case.parts:
        mine = [j for j in a.case.fastened if p.name in (j.holds, j.into) and j.opened]
        if p.put_on is not None and mine:
            off = 0 if a.case.hinge is not None and a.case.hinge.pins else 1  # a lid on hinges stays on
            ways.append((off, sum(isinstance(j, Joint) for j in mine)))
    return min(ways, key=lambda w: w[1], default=(0, 0))
