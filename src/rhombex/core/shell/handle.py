"""A handle on top of a case, or over all that stands on an open plate: a bow that prints lying on its side without support, its lines along it, screwed from
inside, or from below."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.case import Built, Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.fittings import Bow
from rhombex.core.case.joints import Joint
from rhombex.core.case.parts import Bar, Flat, Kept, Part, PutOn, Seat
from rhombex.core.design import Design, Handle
from rhombex.core.fit.joints import boss_od_mm, hole_depth_mm
from rhombex.core.geometry.recipe import Difference, Extrude, Loop, Move, Solid, profile
from rhombex.core.shell.case_screw import THREAD, case_screw
from rhombex.core.shell.solids import OVER, bore, screw_hole
from rhombex.core.space import Box, Frame, Vec3
from rhombex.core.workshop.printer import Printer

HANDLE = "handle"
LIES = {"x": "front", "y": "left"}
FOOT_MM = 16.0
ROUND_MM = 8.0  # the corners inside are broken by so much at most: a sharp one is where it cracks


OVER_THINGS_MM = (
    5.0  # from what a bow stands over to the room for the hand: knuckles are no cables' friends; common practice
)


class Ground(NamedTuple):
    """What a handle stands on: a face of the case, how high it is, and whether that is an open plate with all components on it."""

    face: CaseFace
    level_mm: float
    open_plate: bool = False

    def rect(self, box: Box) -> tuple[float, float, float, float]:
        """What a box covers of the face."""
        (a, b), (c, d) = self.face.on(box.lo), self.face.on(box.hi)
        return (min(a, c), min(b, d), max(a, c), max(b, d))


def ground_of(case: Case) -> Ground | None:
    """The top where it is whole; else an open plate, from above. None where there is neither."""
    whole = {f.id: f for f in case.faces if f.whole}
    if "top" in whole:
        return Ground(whole["top"], case.box_mm[2])
    if list(whole) == ["bottom"]:
        return Ground(whole["bottom"], whole["bottom"].thick_mm, True)
    return None


def with_handle(design: Design, printer: Printer, built: Built, things: tuple[Thing, ...]) -> Built:
    """The case with its handle, if it is wished and its two feet find a place on one part; else as it was (a rule says so)."""
    wished = design.shell.handle
    bow = bow_of(design, printer, built.case, things, wished) if wished else None
    if bow is None or HANDLE in built.bodies:
        return built
    top = built.case.part(bow.top)
    part = Part(
        name=HANDLE,
        size_mm=bow.size_mm,
        down=LIES[bow.runs],
        plates=(Flat(name="bow", thick_mm=bow.deep_mm, flat=False),),
        seat=_bar_of(bow),
        only=(0 if bow.runs == "x" else 1,),
        kept=tuple(Kept(why="foot of the handle", box=foot) for foot in bow.feet),
        # it goes along with the part that it is on, and comes off that one upwards
        put_on=PutOn(along=(0.0, 0.0, -1.0), travel_mm=(top.put_on.travel_mm if top.put_on else 0.0) + bow.size_mm[2]),
        shown="its side takes the texture of the bed",
    )
    whole = built.bodies[bow.top]
    holes = tuple(bore(j.at, j.along, j.clearance_mm, -(j.grip_mm + OVER), OVER) for j in bow.screws)
    bodies = {
        **built.bodies,
        bow.top: lambda tools: whole((*tools, *holes)),
        HANDLE: lambda tools: bow_body(bow),
    }
    case = built.case.model_copy(update={"handle": bow, "parts": (*built.case.parts, part)})
    return replace(built, case=case, bodies=bodies)


def _bar_of(bow: Bow) -> Seat:
    """What cuts of a handle run across: its bar, between its feet."""
    axis = 1 if bow.runs == "x" else 0
    middle, half, low = bow.middle[axis], bow.deep_mm / 2, bow.middle[2] + bow.room_mm
    bar = Bar(across=2, lo_mm=low, hi_mm=low + bow.bar_mm)
    return Seat(outer_mm=middle - half, inner_mm=middle + half, edge_mm=0.0, axis=axis, bare=True, bar=bar)


def bow_of(design: Design, printer: Printer, case: Case, things: tuple[Thing, ...], h: Handle) -> Bow | None:
    """The handle in its place; None where there is nothing that it can stand on, where its feet reach over what is plain wall, or stand on two parts."""
    bow = outline_of(case, things, h)
    tops = tops_under(case, bow)
    if over_mm(case, bow) > 1e-6 or len(tops) != 1:
        return None
    bow = bow.model_copy(update={"top": tops[0]})
    return bow.model_copy(update={"screws": tuple(_screw(design, printer, case, h, bow, k) for k in (0, 1))})


def outline_of(case: Case, things: tuple[Thing, ...], h: Handle) -> Bow:
    """The handle where it is wished, whether it can stand there or not, without its screws. Over an open plate its legs are as long as what stands under its
    bar is high."""
    w, d, high = case.box_mm
    lo, ground = case.cavity.lo, ground_of(case)
    x, y = (w / 2, d / 2) if h.at_mm is None else (lo[0] + h.at_mm[0], lo[1] + h.at_mm[1])
    foot = max(boss_od_mm(THREAD, h.thread), FOOT_MM)
    under = 0.0
    if ground is not None and ground.open_plate:
        high = ground.level_mm
        long, wide = h.grip_mm / 2 + foot, h.deep_mm / 2 + OVER_THINGS_MM
        (a, b) = (long, wide) if h.runs == "x" else (wide, long)
        strip = Box((x - a, y - b, high), (x + a, y + b, high + 1e4))
        stands = (*(s.box for t in things for s in hard(t)), *case.uprights)
        under = max((s.hi[2] - high + OVER_THINGS_MM for s in stands if s.meets(strip)), default=0.0)
    return Bow(
        part=HANDLE,
        top="",
        runs=h.runs,
        middle=(x, y, high),
        grip_mm=h.grip_mm,
        room_mm=h.room_mm + max(0.0, under),
        bar_mm=h.bar_mm,
        deep_mm=h.deep_mm,
        foot_mm=foot,
        screws=(),
    )


def over_mm(case: Case, bow: Bow) -> float:
    """How far its feet reach beyond the plain wall that they stand on; all of a foot where there is none."""
    ground = ground_of(case)
    if ground is None:
        return bow.foot_mm
    u0, v0, u1, v1 = ground.face.clear_mm
    return max(0.0, *(max(u0 - a, v0 - b, c - u1, d - v1) for a, b, c, d in map(ground.rect, bow.feet)))


def tops_under(case: Case, bow: Bow) -> tuple[str, ...]:
    """The parts that its feet stand on."""
    ground = ground_of(case)
    if ground is None:
        return ()
    return tuple(dict.fromkeys(p for foot in bow.feet for p in case.behind(ground.face.id, *ground.rect(foot))))


def _screw(design: Design, printer: Printer, case: Case, h: Handle, bow: Bow, k: int) -> Joint:
    ground = ground_of(case)
    assert ground is not None
    foot, thick = bow.feet[k], ground.face.thick_mm
    x, y, _ = foot.centre
    z, r = bow.middle[2], boss_od_mm(THREAD, h.thread) / 2
    deep = min(hole_depth_mm(THREAD, h.thread), bow.room_mm)
    j = case_screw(
        design,
        printer,
        id=f"handle-{k + 1}",
        name=HANDLE,
        holds=bow.top,
        into=HANDLE,
        at=(x, y, z),
        along=(0.0, 0.0, 1.0),
        boss=Box((x - r, y - r, z - thick), (x + r, y + r, z + deep)),
        od_mm=2 * r,
        through_mm=thick,
        sunk=False,
        of_sheet=case.part(bow.top).sheet is not None,
        inside=True,
        deep_mm=deep,
        holding=h.thread,
        length_mm=h.screw_mm,
        path="",
        opened=False,
        usual={**case.sides, HANDLE: LIES[h.runs]},  # type: ignore[dict-item]
    )
    return j.model_copy(update={"thread_path": "shell.handle.thread", "screw_path": "shell.handle.screw_mm"})


def bow_body(bow: Bow) -> Solid:
    """The bow with the holes of its screws. Its outline is raised across it."""
    half, end, high = bow.grip_mm / 2, bow.grip_mm / 2 + bow.foot_mm, bow.room_mm + bow.bar_mm
    inner = min(ROUND_MM, bow.room_mm / 3)
    outer = min(bow.bar_mm, bow.foot_mm) / 2
    right = [
        (end, 0.0),
        (end, high - outer),
        (end - outer, high),
    ]
    left = [(-s, z) for s, z in reversed(right)]
    under = [(-half, 0.0), (-half, bow.room_mm - inner), (inner - half, bow.room_mm)]
    outline: Loop = tuple((s, z, 0.0) for s, z in [*right, *left, *under, *((-s, z) for s, z in reversed(under))])
    x, y, z = bow.middle
    along: Vec3 = (1.0, 0.0, 0.0) if bow.runs == "x" else (0.0, 1.0, 0.0)
    across: Vec3 = (0.0, -1.0, 0.0) if bow.runs == "x" else (1.0, 0.0, 0.0)
    start = (x, y + bow.deep_mm / 2, z) if bow.runs == "x" else (x - bow.deep_mm / 2, y, z)
    raised = Move(Extrude(profile([outline]), bow.deep_mm), Frame(start, along, (0.0, 0.0, 1.0), across))
    return Difference(raised, tuple(screw_hole(j) for j in bow.screws))
