"""Ribs on the inside of a panel, evenly over it, across the shorter way: each where nothing stands in its way."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import partial

import numpy as np
from numpy.typing import NDArray

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.parts import Part, Rib
from rhombex.core.design import Design, Ribs
from rhombex.core.fit.bead import line_width_mm, wall_of_lines_mm
from rhombex.core.geometry.grown import grown
from rhombex.core.geometry.recipe import Solid, block
from rhombex.core.memo import MemoOfThese
from rhombex.core.space import Box
from rhombex.core.workshop.printer import Printer

CLEAR_MM = 1.0  # of all that stands inside
SHIFT = 0.3  # of the distance between two: so far a rib is moved to where there is room
STEP_MM = 1.0


def with_ribs(
    design: Design, printer: Printer, built: Built, things: tuple[Thing, ...], cut: Mapping[str, tuple[Box, ...]]
) -> Built:
    """The case with the ribs that are wished and find a place (a rule tells those that do not). `cut`: what is cut into each face, as far in as a rib
    may stand."""
    found: list[Rib] = []
    for wish in design.shell.ribs:
        found += ribs_of(design, printer, built.case, things, cut, wish, tuple(found))
    if not found:
        return built
    bodies = dict(built.bodies)
    for name in dict.fromkeys(r.part for r in found):
        bodies[name] = partial(_on, bodies[name], built.case, tuple(r for r in found if r.part == name))
    return replace(built, case=built.case.model_copy(update={"ribs": tuple(found)}), bodies=bodies)


def _on(whole: Body, case: Case, ribs: tuple[Rib, ...], tools: tuple[Solid, ...]) -> Solid:
    """A part with its ribs; each is rooted half the wall deep, so that it is one with it."""
    rooted = []
    for r in ribs:
        face = case.face(r.face)
        rooted.append(block(_reaching(face, r.box, face.thick_mm / 2)))
    return grown(whole(tools), tuple(rooted))


def _reaching(face: CaseFace, box: Box, more_mm: float) -> Box:
    """A box on the inside of a face, so much farther out."""
    a, b = face.frame.local(box.lo), face.frame.local(box.hi)
    lo, hi = (tuple(f(a[k], b[k]) for k in range(3)) for f in (min, max))
    return face.frame.box(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2] + more_mm)))


def bearer(case: Case, face: str) -> Part | None:
    """The part whose inside may bear ribs on that face: one that is printed, and closes it whole."""
    return next((p for p in case.parts if p.ribbed == face and p.sheet is None), None)


def span_of(case: Case, face: CaseFace) -> tuple[int, float, float]:
    """Across which axis of a face ribs stand side by side, and from where to where its panel gives way: between what holds it at its edges. They run
    the shorter way, and upright on a wall, which prints so; on top and floor across the longer side."""
    room = [face.frame.local(p) for p in (case.cavity.lo, case.cavity.hi)]
    sizes = [abs(room[1][k] - room[0][k]) for k in (0, 1)]
    across = 0 if face.id not in ("top", "bottom") or sizes[0] >= sizes[1] else 1
    low, high = sorted((room[0][across], room[1][across]))
    return across, low, high


def thick_mm(design: Design, printer: Printer, part: str, lines: int) -> float:
    """How thick so many lines are, side by side, as that part is printed."""
    process = design.process_of(part)
    return wall_of_lines_mm(lines, line_width_mm(process, printer), process.layer_mm)


def ribs_of(
    design: Design,
    printer: Printer,
    case: Case,
    things: tuple[Thing, ...],
    cut: Mapping[str, tuple[Box, ...]],
    wish: Ribs,
    before: tuple[Rib, ...] = (),
) -> list[Rib]:
    """The ribs of a face that find a place, evenly over it or a little beside. None where no part closes it that may bear them."""
    part = bearer(case, wish.face)
    if part is None:
        return []
    face = case.face(wish.face)
    across, low, high = span_of(case, face)
    along = 1 - across
    first, last = face.clear_mm[across], face.clear_mm[across + 2]
    start, end = face.clear_mm[along], face.clear_mm[along + 2]
    half, pitch = thick_mm(design, printer, part.name, wish.lines) / 2, (high - low) / (wish.count + 1)
    inner = -face.thick_mm
    axis = next(k for k in range(3) if abs((face.frame.x, face.frame.y)[across][k]) > 0.5)
    lo, hi = [0.0, 0.0, inner - wish.high_mm], [0.0, 0.0, inner]
    lo[along], hi[along] = start, end
    flat = face.frame.box(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])))  # without its thickness
    others = [i for i in range(3) if i != axis]
    if end - start < 4 * half or not all(_inside(case, flat, i) for i in others):
        return []
    # all places of a rib differ along one axis: what it passes on the others never is in its way
    there = _boxes(case, things, (*cut.get(face.id, ()), *(r.box for r in before)))
    passed = [(there[:, 0, i] < flat.hi[i] + CLEAR_MM) & (there[:, 1, i] > flat.lo[i] - CLEAR_MM) for i in others]
    taken = there[passed[0] & passed[1]][:, :, axis]
    begin, way = face.frame.origin[axis], (face.frame.x, face.frame.y)[across][axis]
    steps = np.array(_shifts(SHIFT * pitch))
    out: list[Rib] = []
    for k in range(wish.count):
        at = low + (k + 1) * pitch + steps
        at = at[(at - half >= first) & (at + half <= last)]
        middle = begin + way * at
        free = (middle - half >= case.cavity.lo[axis] - 1e-6) & (middle + half <= case.cavity.hi[axis] + 1e-6)
        reach = half + CLEAR_MM
        free &= ~((middle[:, None] - reach < taken[:, 1]) & (middle[:, None] + reach > taken[:, 0])).any(axis=1)
        if not free.any():
            continue
        v = float(at[int(np.argmax(free))])
        lo[across], hi[across] = v - half, v + half
        box = face.frame.box(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])))
        taken = np.vstack([taken, [box.lo[axis], box.hi[axis]]])
        out.append(Rib(face=face.id, part=part.name, box=box, across=axis))
    return out


def evenly(design: Design, printer: Printer, case: Case, wish: Ribs) -> list[Rib]:
    """The ribs of a face as they would stand if nothing were in their way: no others hold as much."""
    part = bearer(case, wish.face)
    if part is None:
        return []
    face = case.face(wish.face)
    across, low, high = span_of(case, face)
    half, inner = thick_mm(design, printer, part.name, wish.lines) / 2, -face.thick_mm
    axis = next(k for k in range(3) if abs((face.frame.x, face.frame.y)[across][k]) > 0.5)
    out = []
    for k in range(wish.count):
        at = low + (k + 1) * (high - low) / (wish.count + 1)
        lo, hi = [0.0, 0.0, inner - wish.high_mm], [1.0, 1.0, inner]
        lo[across], hi[across] = at - half, at + half
        box = face.frame.box(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])))
        out.append(Rib(face=face.id, part=part.name, box=box, across=axis))
    return out


def _shifts(most: float) -> list[float]:
    """Nearest first: none, then a step either way, and so on."""
    steps = int(most / STEP_MM)
    return [0.0, *(s * k * STEP_MM for k in range(1, steps + 1) for s in (1, -1))]


def _inside(case: Case, box: Box, axis: int) -> bool:
    """Whether it stands in the room inside along an axis."""
    return case.cavity.lo[axis] - 1e-6 <= box.lo[axis] and box.hi[axis] <= case.cavity.hi[axis] + 1e-6


_stand: MemoOfThese[NDArray[np.float64]] = MemoOfThese(50)


def _boxes(case: Case, things: tuple[Thing, ...], more: tuple[Box, ...]) -> NDArray[np.float64]:
    """Lowest and highest corners (n, 2, 3) of what stands in the room, and of more."""
    found = _stand.make((case, things), (), lambda: np.array(_standing(case, things)).reshape(-1, 2, 3))
    return np.concatenate([found, np.array(more).reshape(-1, 2, 3)])


def _standing(case: Case, things: tuple[Thing, ...]) -> list[Box]:
    """What stands in the room: components, posts, bosses, beams in the corners, notches for fingers."""
    out = [s.box for t in things for s in t.solids]
    out += [m.box for m in case.mounts] + [p.box for p in case.props]
    out += [b.boss for b in case.kept_whole] + [x.box for x in case.lifts]
    side, room = case.pillar_mm, case.cavity
    if side > 0:
        xs, ys = (room.lo[0], room.hi[0] - side), (room.lo[1], room.hi[1] - side)
        out += [Box((x, y, room.lo[2]), (x + side, y + side, room.hi[2])) for x in xs for y in ys]
    return out
