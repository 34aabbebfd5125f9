"""Where a component lands when it is taken from the library: on its board, on a wall, or in free space beside the others."""

from __future__ import annotations

import re
from itertools import product
from math import hypot

from rhombex.core.bench.arrange import Thing, arrange
from rhombex.core.bench.dodge import free_spot
from rhombex.core.bench.fit import fit_cavity
from rhombex.core.bench.gaps import cavity, hard
from rhombex.core.bench.seat import at, chip_of, edge_of, foot_of, into_slots, slots_of, stands
from rhombex.core.bench.stack import over, usual_stand
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.design import Design, Placement
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.space import Box, Face, Vec3, hull, normal_axis

# walls on which a component is tried, in turn: fans, what the mains come in by, and what hands and eyes look for; common practice
TO_BLOW: tuple[Face, ...] = ("top", "back", "left", "right", "front")
TO_FEED: tuple[Face, ...] = ("back", "front")
TO_SEE: tuple[Face, ...] = ("front", "left", "right", "back", "top")
STEP_MM = 4.0  # of the search for a free place
SHIFT_MM = 0.5  # of a cooler on its processor
STANDS_MM = 6.0  # above the inner floor: room for posts and what is under a board; common practice


def free_id(design: Design, family: str) -> str:
    """A name for another thing of a family that no other has."""
    stem = re.sub(r"[^a-z0-9]+", "-", family.lower()).strip("-")[:34] or "component"
    taken = {p.id for p in design.placements}
    n, id = 1, stem
    while id in taken:
        n += 1
        id = f"{stem}-{n}"
    return id


def new_placement(design: Design, c: Component) -> Placement:
    """A placement of a component that is new on the bench. Its component must be in the design or the library."""
    id = free_id(design, c.family)
    # a family names a thing well enough; of an own component only its label says what it is
    name = c.label[:60] if c.family == "own component" else id[0].upper() + id[1:].replace("-", " ")
    w, d, h = design.shell.inner_mm
    if c.mounting == "rides":
        board = _carrier(design, c)
        if board is not None:
            lift = val("limits.stack.chip")
            at = (board.at_mm[0], board.at_mm[1], round(board.at_mm[2] + lift, 3))
            return riding(design, Placement(id=id, component=c.key, name=name, at_mm=at, on=board.id), c.family)
    stacked = _on_its_board(design, c, Placement(id=id, component=c.key, name=name, at_mm=(0.0, 0.0, 0.0)))
    if stacked is not None:
        return stacked
    if c.mounting == "panel":
        faces = TO_BLOW if c.air else TO_FEED if c.family in ("supply", "inlet") else TO_SEE
        for room, by in ((design, (0.0, 0.0, 0.0)), *_roomier(design)):
            middle: Vec3 = tuple(x / 2 for x in room.shell.inner_mm)  # type: ignore[assignment]
            for face in (f for f in faces if f != design.shell.stands_on):  # nothing looks at the desk
                found = _on_wall(room, Placement(id=id, component=c.key, name=name, at_mm=middle, face=face))
                if found is not None:
                    return _lifted(found, by)
        return _free(design, Placement(id=id, component=c.key, name=name, at_mm=(w / 2, d / 2, h / 2), face=faces[0]))
    return _free(design, Placement(id=id, component=c.key, name=name, at_mm=(0.0, 0.0, STANDS_MM)))


def _carrier(design: Design, c: Component) -> Placement | None:
    """What a component that rides is put on: a card that lies on a riser that carries none yet, all else on a board."""
    edges = [Box(s.lo, s.hi) for s in c.solids if s.name == "contact edge"]
    if c.family == "card" and not any(map(stands, edges)):  # a copy of one's own has another key
        taken = {p.on for p in design.placements}
        for p in design.placements:
            if _family(design, p) == "riser" and p.id not in taken:
                return p
    return next((p for p in design.placements if _family(design, p) == "board"), None)


def _on_its_board(design: Design, c: Component, p: Placement) -> Placement | None:
    """A board that is meant to stand on another, on the top of the first stack whose uppermost board it fits."""
    under = {x.on for x in design.placements if x.stand is not None}
    for lower in (x for x in design.placements if x.id not in under):
        below = design.component(lower.component)
        stand = usual_stand(c, below) if below else None
        if stand is not None:
            at, _ = over(design, lower, c, stand)
            return p.model_copy(update={"at_mm": at, "turn": lower.turn, "on": lower.id, "stand": stand})
    return None


def _family(design: Design, p: Placement) -> str:
    c = design.component(p.component)
    return c.family if c else ""


def _body(t: Thing) -> Box:
    return hull([s.box for s in t.solids if s.role != "keepout"] or [s.box for s in t.solids])


def riding(design: Design, p: Placement, family: str) -> Placement:
    """On its board: a cooler on the processor, a card in its slot or socket; all else where the board's components leave room for it, or over the tallest of them."""
    rest = tuple(x for x in design.placements if x.id != p.id)
    if family == "card" and (turn := next((x.turn for x in rest if x.id == p.on), None)) is not None:
        p = p.model_copy(update={"turn": turn})
    things = arrange(design.model_copy(update={"placements": (*rest, p)}))
    board, mine = (next(t for t in things if t.id == id) for id in (p.on, p.id))
    slab = next((s.box for s in board.solids if s.role == "board"), _body(board))
    own = hull([s.box for s in mine.solids if s.role not in ("pins", "plug", "keepout")] or [_body(mine)])
    others = [s.box for s in board.solids if s.role in ("body", "connector")]
    others += [_body(t) for t in things if t.placement.on == board.id and t.id != p.id]
    chip = chip_of(board)
    if family == "cooler" and chip is not None and hard(mine):
        foot = foot_of(mine)
        x, y = (chip.box.centre[i] - foot.centre[i] for i in (0, 1))
        return _lifted(p, _beside_what_stands_there(mine, board, (x, y, chip.box.hi[2] - foot.lo[2])))
    if family == "card" and (held := _held(mine, board, others)) is not None:
        return _lifted(p, held)
    flat = slab.hi[2] - own.lo[2]
    for j in range(int(max(0.0, slab.size[1] - own.size[1]) / STEP_MM) + 1):
        for i in range(int(max(0.0, slab.size[0] - own.size[0]) / STEP_MM) + 1):
            by = (slab.lo[0] + i * STEP_MM - own.lo[0], slab.lo[1] + j * STEP_MM - own.lo[1], flat)
            moved = Box(
                (own.lo[0] + by[0], own.lo[1] + by[1], own.lo[2] + by[2]),
                (own.hi[0] + by[0], own.hi[1] + by[1], own.hi[2] + by[2]),
            )
            if all(max(moved.gaps(o)) >= 0 for o in others):
                return _lifted(p, by)
    under = [o.hi[2] for o in others if max(own.gaps(o)[:2]) < 0]
    return _lifted(p, (0.0, 0.0, max(under, default=slab.hi[2]) - own.lo[2]))


def _beside_what_stands_there(cooler: Thing, board: Thing, by: Vec3) -> Vec3:
    """The least shift of a cooler from the middle of its processor at which it stands in nothing of the board and still covers all of it: one that is glued or
    clipped on a plain processor may sit beside its middle, one on a socket not. In the middle where there is none."""
    chip = chip_of(board)
    foot = at(foot_of(cooler), by)
    if chip is None or "socket" in chip.name:
        return by
    there = [s.box for s in hard(board) if s.role not in ("board", "pins") and s is not chip]
    mine = [at(s.box, by) for s in hard(cooler) if s.role != "pins"]
    room = [max(0.0, (foot.size[i] - chip.box.size[i]) / 2) for i in (0, 1)]
    xs, ys = ([k * SHIFT_MM for k in range(-int(r / SHIFT_MM), int(r / SHIFT_MM) + 1)] for r in room)
    for x, y in sorted(product(xs, ys), key=lambda v: hypot(*v)):
        if all(max(at(b, (x, y, 0.0)).gaps(q)) >= 0 for b in mine for q in there):
            return (by[0] + x, by[1] + y, by[2])
    return by


def _held(card: Thing, carrier: Thing, others: list[Box]) -> Vec3 | None:
    """How a card comes into the first slot in which it stands in nothing else, or into the socket of a riser; None where there is neither."""
    edge = edge_of(card)
    if edge is None:
        return None
    slots = into_slots(card, edge, carrier)
    solids = [s.box for s in hard(card)]
    rest = [o for o in others if o not in slots_of(carrier)]
    free = [by for by in slots if all(max(at(b, by).gaps(o)) >= 0 for b in solids for o in rest)]
    if slots:
        return (free or slots)[0]
    socket = next((s.box for s in carrier.solids if s.name == "socket"), None)
    if socket is None:
        return None
    x, y = (socket.centre[i] - edge.centre[i] for i in (0, 1))
    return (x, y, socket.hi[2] - edge.lo[2])


def _lifted(p: Placement, by: Vec3) -> Placement:
    return p.model_copy(update={"at_mm": tuple(round(a + b, 3) for a, b in zip(p.at_mm, by, strict=True))})


def _roomier(design: Design) -> list[tuple[Design, Vec3]]:
    """The design with its walls moved out round all that is there, and how a place in it is a place in the design; none where they are there already."""
    try:
        out = design.model_copy(update=fit_cavity(design, only_out=True))
    except DesignError:
        return []  # there is nothing to draw walls round
    if out.shell.inner_mm == design.shell.inner_mm:
        return []
    now, then = design.placements[0].at_mm, out.placements[0].at_mm
    return [(out, (now[0] - then[0], now[1] - then[1], now[2] - then[2]))]


def _on_wall(design: Design, p: Placement) -> Placement | None:
    """The placement moved to the free place of its wall that is nearest to the wall's middle; None where there is none."""
    things = arrange(design.model_copy(update={"placements": (*design.placements, p)}))
    by = free_spot(design, things, p.id)
    return None if by is None else _lifted(p, by)


def _free(design: Design, p: Placement) -> Placement:
    """The placement moved to the nearest free place from the front left of the cavity; where there is none, and for one on a wall, beside all that is there."""
    room = cavity(design)
    mine = _body(_alone(design, p))
    if p.face is None:  # into the front left corner, off the walls
        p = _lifted(p, (room.lo[0] + 1 - mine.lo[0], room.lo[1] + 1 - mine.lo[1], 0.0))
    things = arrange(design.model_copy(update={"placements": (*design.placements, p)}))
    by = free_spot(design, things, p.id) if p.face is None else None
    return _lifted(p, by if by is not None else _beyond(design, things, p.id, p.face))


def _beyond(design: Design, things: tuple[Thing, ...], id: str, wall: Face | None) -> Vec3:
    """Beside all that is there, on a side where no port looks out, where all together is shortest; of what is on a wall along that wall."""
    others = [t for t in things if t.id != id and t.placement.on is None] or [t for t in things if t.id != id]
    if not others:
        return (0.0, 0.0, 0.0)
    open_ = wanted_ports(design)
    busy = {q.face for t in others for q in t.ports if q.ref in open_}
    mine, all_ = _body(next(t for t in things if t.id == id)), hull([_body(t) for t in others])
    gap = val("limits.gap.between") + 1.0
    sides: tuple[tuple[Face, Vec3], ...] = (
        ("right", (all_.hi[0] + gap - mine.lo[0], 0.0, 0.0)),
        ("back", (0.0, all_.hi[1] + gap - mine.lo[1], 0.0)),
        ("left", (all_.lo[0] - gap - mine.hi[0], 0.0, 0.0)),
        ("front", (0.0, all_.lo[1] - gap - mine.hi[1], 0.0)),
    )
    along = [(face, by) for face, by in sides if wall is None or normal_axis(face) != normal_axis(wall)]

    def long_mm(by: Vec3) -> tuple[float, float]:
        lo, hi = ([a + b for a, b in zip(end, by, strict=True)] for end in mine)
        x, y, _ = hull([all_, Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))]).size
        return (round(max(x, y), 3), round(x * y, 3))

    return min([by for face, by in along if face not in busy] or [along[0][1]], key=long_mm)


def _alone(design: Design, p: Placement) -> Thing:
    return arrange(design.model_copy(update={"placements": (p,)}))[0]
