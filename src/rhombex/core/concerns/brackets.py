"""Displays and cards: whether brackets find places beside the frame to press it to its wall."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations
from typing import Any

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.case import Case
from rhombex.core.case.mounts import Bracket
from rhombex.core.concerns.bench import free_place, move_of, moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, heard, searched
from rhombex.core.constructions import FrameAndCovers, SlidingPanels
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Edit, MoveWall, Remove, Set, Swap, Together
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref
from rhombex.core.shell.brackets import SIDES, Framed, brackets_of, framed, room_beside_mm
from rhombex.core.shell.build import case_of
from rhombex.core.shell.offers import usual
from rhombex.core.space import FACES, OUTWARD, Box, Face, Vec3, hull, normal_axis
from rhombex.core.trail import given, looked_up

MOVES_MM = (2.0, 4.0, 6.0, 10.0, 15.0, 20.0, 30.0)


@concern("display-not-held", "shell", needs=("walls",))
def display_not_held(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: a display beside whose frame too few brackets have room."""
    for t, loose in _loose(a):
        if t.face is not None:
            yield say(
                "stop",
                f"{t.name} is pressed to its wall on one side only"
                if loose.mine
                else f"Nothing holds {t.name} to its wall",
                reason=loose.reason("Brackets press it to the wall by its frame"),
                remedies=(*_printed(a, t), *_aside(a, t), *_wider(a, t), *_otherwise(a, t), _out(t)),
                **loose.numbers(a),
            )


@concern("card-not-held", "shell", needs=("walls",))
def card_not_held(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: a card whose metal bracket is not pressed to the wall: a cable that is pulled turns it in its slot."""
    for t, loose in _loose(a):
        if t.face is None:
            yield say(
                "weigh",
                f"Nothing holds the metal bracket of {t.name} to its wall",
                reason=loose.reason(
                    "A bracket presses it to the wall at the end away from its slot; else a cable that is pulled turns the card in that"
                ),
                remedies=(*_printed_if_cut(a, t), *_wider(a, t)),
                **loose.numbers(a),
            )


@concern("nothing-to-screw", "shell", needs=("walls",))
def nothing_to_screw(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: what is fixed to a wall and has neither holes for screws nor a thread with a nut of its own, and is not pressed by its frame either."""
    for t in a.things:
        c = t.component
        if t.face is None or t.placement.on or c.mounts or c.panel_hole_mm is not None or framed(t, a.case) is not None:
            continue
        yield say(
            "weigh",
            f"Nothing holds {t.name} to its wall",
            measured=0,
            limit=1,
            unit="holes",
            how="holes for screws of the component, or one hole in the wall for its own thread and nut",
            reason="It has no holes for screws, and no thread of its own. Say where its holes are in the library under Parts, or glue it: "
            "glue lets go where it is warm, and what is glued is not changed without breaking it.",
            source="common practice",
            subjects=(t.id, t.face),
            remedies=_alike(t),
        )


def _alike(t: Thing) -> tuple[Remedy, ...]:
    """The component of the library of its kind that has holes and is nearest to its size; of several one that is fed alike."""
    size, fed = sorted(t.bounds.size), {p.rail for p in t.component.power}

    def off(c: Component) -> tuple[float, bool]:
        own = sorted(hull([Box(s.lo, s.hi) for s in c.solids]).size)
        return round(sum(abs(a - b) for a, b in zip(own, size, strict=True)), 1), {p.rail for p in c.power} != fed

    like = [c for c in library().values() if c.family == t.component.family and c.mounting == "panel" and c.mounts]
    return tuple(
        Remedy(label=f"Take {c.label} in its place", edits=(Swap(id=t.id, component=c.key),))
        for c in sorted(like, key=off)[:1]
    )


@dataclass(frozen=True)
class _Loose:
    """What is not pressed on enough sides: what it is, the brackets that it has, and whether its wall is of sheet."""

    of: str
    what: Framed
    mine: tuple[Bracket, ...]
    sheet: bool

    def numbers(self, a: Analysis) -> dict[str, Any]:
        """What is said of it in figures."""
        sides, gap = {b.side for b in self.mine}, ref("fasteners.rule.edge_gap")
        return {
            "measured": max(len(sides & enough) for enough in self.what.enough),
            "limit": len(self.what.enough[0]),
            "unit": "sides",
            "how": "sides of its frame that must be pressed, beside which a boss, a bracket and its screw have room on plain printed wall",
            "of": (
                given("room beside the frame", room_beside_mm(a.design)),
                looked_up("between frame and bracket", gap),
            ),
            "source": str(gap),
            "subjects": (self.of,),
        }

    def reason(self, what: str) -> str:
        """Why it is not held."""
        if self.sheet:
            return f"{what}; bought sheet bears no bosses for them."
        return f"{what}, screwed to bosses beside it from inside; edges, seams, plugs or what stands there take their places."


def _loose(a: Analysis) -> Iterator[tuple[Thing, _Loose]]:
    for t in a.things:
        what = framed(t, a.case)
        walls = [w for w in a.case.walls if what and w.face == what.face.id]
        mine = tuple(_of(a.case, t))
        if what and walls and not what.held(mine):  # where no wall is at all, that is told
            yield t, _Loose(t.id, what, mine, all(a.case.part(w.part).sheet is not None for w in walls))


def _of(case: Case, t: Thing) -> list[Bracket]:
    return [b for b in case.brackets if b.of == t.id]


def _out(t: Thing) -> Remedy:
    return Remedy(label=f"Take {t.name} out", edits=(Remove(id=t.id),))


def _held_after(a: Analysis, t: Thing, *edits: Edit) -> bool:
    """Whether brackets hold it once the design is changed, tried on the shell alone."""
    design: Design = a.design
    try:
        for edit in edits:
            design = apply(design, edit)
    except DesignError:
        return False
    things = arrange(design)
    case = case_of(design, a.printer, things)
    what = next((framed(x, case) for x in things if x.id == t.id), None)
    return what is not None and what.held(_of(case, t))


@searched
def _printed(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """Print the cover that it is on, where a hand made that of sheet."""
    c, what = a.design.shell.construction, framed(t, a.case)
    if not isinstance(c, FrameAndCovers | SlidingPanels) or what is None or what.face.id not in c.sheet:
        return ()
    edit = Set(path="shell.construction.sheet", value=[f for f in c.sheet if f != what.face.id])
    if not _held_after(a, t, edit):
        return ()
    return (
        Remedy(
            label=f"Print the {'cover' if isinstance(c, FrameAndCovers) else 'panel'} on the {what.face.id}",
            edits=(edit,),
        ),
    )


@searched
def _printed_if_cut(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """The same where the printed cover is no larger than the bed, or a straight cut divides it: sheet may be there for that."""
    stops = {f.key for f in heard("no-place-for-cut", a)}
    out = []
    for r in _printed(a, t):
        try:
            then = analyse(apply(a.design, Together(edits=r.edits)), a.workshop, "preview")
        except DesignError:
            continue
        if not {f.key for f in heard("no-place-for-cut", then)} - stops:
            out.append(r)
    return tuple(out)


@searched
def _aside(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """The shortest way along its wall to where brackets hold it and nothing is met."""
    if t.face is None:
        return ()
    others = tuple(b for b in a.case.brackets if b.of != t.id)
    bare = a.case.model_copy(update={"brackets": others})
    ways = [OUTWARD[f] for f in FACES if normal_axis(f) != normal_axis(t.face)]
    for far in MOVES_MM:
        for way in ways:
            by: Vec3 = (way[0] * far, way[1] * far, way[2] * far)
            edit = moved(t, by)
            try:
                things = arrange(apply(a.design, edit))
            except DesignError:
                continue
            there = next(x for x in things if x.id == t.id)
            what = framed(there, bare)
            found = brackets_of(a.design, a.printer, bare, things, there, others)
            if what is not None and what.held(found) and free_place(a.design, t, by):
                return (Remedy(label=f"{move_of(t.name)} {far:g} mm {_WORDS[way]}", edits=(edit,)),)
    return ()


_WORDS = {OUTWARD["left"]: "left", OUTWARD["right"]: "right", OUTWARD["front"]: "forward"}
_WORDS |= {OUTWARD["back"]: "back", OUTWARD["bottom"]: "down", OUTWARD["top"]: "up"}


@searched
def _wider(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """The fewest walls to be moved out so that there is room beside its frame."""
    what = framed(t, a.case)
    if what is None:
        return ()
    (face, frame, sides, _, _), want = what, room_beside_mm(a.design)
    u0, v0, u1, v1 = face.clear_mm
    gaps = {"left": frame.lo[0] - u0, "right": u1 - frame.hi[0], "bottom": frame.lo[1] - v0, "top": v1 - frame.hi[1]}
    short: dict[Face, float] = {}
    for side in sides:
        way = face.frame.vector((*SIDES[side], 0.0))
        wall = next(f for f in FACES if OUTWARD[f] == tuple(round(c) for c in way))
        if gaps[side] < want:
            short[wall] = up(want - gaps[side])
    for n in (1, 2):
        for walls in sorted(combinations(short, n), key=lambda fs: sum(short[f] for f in fs)):
            edits = tuple(MoveWall(face=f, by_mm=short[f]) for f in walls)
            if _held_after(a, t, *edits):
                words = " and ".join(f"the {f} wall {short[f]:g} mm" for f in walls)
                return (Remedy(label=f"Move {words} out", edits=edits),)
    return ()


@searched
def _otherwise(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """Another construction, whose cover it can be screwed to, where no wall of this one bears bosses."""
    if a.case.kind not in ("corners and sheet", "open bench"):
        return ()
    edit = Construct(construction=usual(a.design, "frame and covers"))
    return (Remedy(label="Make the case as frame and covers", edits=(edit,)),) if _held_after(a, t, edit) else ()
