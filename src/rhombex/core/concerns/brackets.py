"""Displays: whether brackets find places beside the frame to press it to its wall."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.case import Bracket, Case
from rhombex.core.concerns.bench import free_place, move_of, moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.constructions import FrameAndCovers
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Edit, MoveWall, Remove, Set
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref
from rhombex.core.shell.brackets import brackets_of, framed, held, room_beside_mm
from rhombex.core.shell.build import case_of
from rhombex.core.shell.offers import usual
from rhombex.core.space import FACES, OUTWARD, Face, Vec3, normal_axis
from rhombex.core.trail import given, looked_up

MOVES_MM = (2.0, 4.0, 6.0, 10.0, 15.0, 20.0, 30.0)


@concern("display-not-held", "shell", needs=("walls",))
def display_not_held(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: a display beside whose frame too few brackets have room."""
    for t in a.things:
        walls = [w for w in a.case.walls if w.face == t.face]
        if framed(t, a.case) is None or not walls:  # where no wall is at all, that is told
            continue
        mine = _of(a.case, t)
        if held(mine):
            continue
        sides = {b.side for b in mine}
        across = max(len(sides & pair) for pair in ({"left", "right"}, {"bottom", "top"}))
        sheet = all(a.case.part(w.part).sheet is not None for w in walls)
        gap = ref("fasteners.rule.edge_gap")
        yield say(
            "stop",
            f"Nothing holds {t.name} to its wall" if not mine else f"{t.name} is pressed to its wall on one side only",
            measured=across,
            limit=2,
            unit="sides",
            how="sides of its frame, two across from one another, beside which a boss, a bracket and its screw have room on plain printed wall",
            of=(given("room beside the frame", room_beside_mm(a.design)), looked_up("between frame and bracket", gap)),
            reason="Bought sheet bears no bosses for the brackets that press its frame to the wall."
            if sheet
            else "Brackets press it to the wall by its frame, screwed to bosses beside it, so that no screw shows in front; edges, seams, plugs or what "
            "stands there take their places.",
            source=str(gap),
            subjects=(t.id,),
            remedies=(*_printed(a, t), *_aside(a, t), *_wider(a, t), *_framed(a, t), _out(t)),
        )


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
    return held(_of(case_of(design, a.printer, arrange(design)), t))


@searched
def _printed(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """Print the cover that it is on, where a hand made that of sheet."""
    c = a.design.shell.construction
    if not isinstance(c, FrameAndCovers) or t.face not in c.sheet:
        return ()
    edit = Set(path="shell.construction.sheet", value=[f for f in c.sheet if f != t.face])
    if not _held_after(a, t, edit):
        return ()
    return (Remedy(label=f"Print the cover on the {t.face}", edits=(edit,)),)


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
            if held(brackets_of(a.design, a.printer, bare, things, there, others)) and free_place(a.design, t, by):
                return (Remedy(label=f"{move_of(t.name)} {far:g} mm {_WORDS[way]}", edits=(edit,)),)
    return ()


_WORDS = {OUTWARD["left"]: "left", OUTWARD["right"]: "right", OUTWARD["front"]: "forward"}
_WORDS |= {OUTWARD["back"]: "back", OUTWARD["bottom"]: "down", OUTWARD["top"]: "up"}


@searched
def _wider(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """The fewest walls to be moved out so that there is room beside its frame."""
    frame = framed(t, a.case)
    if frame is None or t.face is None:
        return ()
    face, want = a.case.face(t.face), room_beside_mm(a.design)
    u0, v0, u1, v1 = face.clear_mm
    gaps = ((frame.lo[0] - u0, 0, -1), (u1 - frame.hi[0], 0, 1), (frame.lo[1] - v0, 1, -1), (v1 - frame.hi[1], 1, 1))
    short: dict[Face, float] = {}
    for gap, axis, sign in gaps:
        way = face.frame.vector((sign * (axis == 0), sign * (axis == 1), 0.0))
        wall = next(f for f in FACES if OUTWARD[f] == tuple(round(c) for c in way))
        if gap < want:
            short[wall] = up(want - gap)
    for n in (1, 2):
        for walls in sorted(combinations(short, n), key=lambda fs: sum(short[f] for f in fs)):
            edits = tuple(MoveWall(face=f, by_mm=short[f]) for f in walls)
            if _held_after(a, t, *edits):
                words = " and ".join(f"the {f} wall {short[f]:g} mm" for f in walls)
                return (Remedy(label=f"Move {words} out", edits=edits),)
    return ()


@searched
def _framed(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """Another construction, whose cover it can be screwed to, where no wall of this one bears bosses."""
    if a.case.kind not in ("corners and sheet", "open bench"):
        return ()
    edit = Construct(construction=usual(a.design, "frame and covers"))
    return (Remedy(label="Make the case as frame and covers", edits=(edit,)),) if _held_after(a, t, edit) else ()
