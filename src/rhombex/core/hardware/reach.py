"""Whether a tool reaches a joint: the driver along its screw, and fingers or a spanner at its nut, against what is there already.

What can be put in afterwards is no obstacle: it is told as what has to wait.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import copysign

from rhombex.core.bench.apart import apart_from_box
from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.case import Case
from rhombex.core.design import OF_CUTS
from rhombex.core.fit.heads import head_size
from rhombex.core.hardware.joint_group import NO_SCREW, JointGroup, ScrewSeat
from rhombex.core.hardware.joints import FEET_KEY, OF_PANES
from rhombex.core.memo import MemoOfThese
from rhombex.core.reference import val
from rhombex.core.shell.carrier import carrier
from rhombex.core.shell.handle import HANDLE
from rhombex.core.space import Box, Vec3
from rhombex.core.trail import Frozen, Shown

FAR_MM = 5000.0  # beyond any case: a handle has room somewhere
TOUCH_MM = 0.05  # closer than this is in the way


class Reach(Frozen):
    """`tool`: what drives it. `free`: it gets there; else `blocked_by` stands so near to its axis, `room_mm`, where `needs_mm` are needed.
    `shaft_mm`: how long the driver's shaft must be, so that its handle stays outside; `wait`: the components that must go in after these
    screws, by id."""

    tool: str
    free: bool
    shaft_mm: Shown
    blocked_by: str
    room_mm: Shown
    needs_mm: Shown
    wait: tuple[str, ...]


@dataclass(frozen=True)
class _Rod:
    """A round tool about an axis of the case."""

    what: str
    axis: int
    centre: Vec3
    r: float
    box: Box
    reaches_up: float  # 1 where it comes from above along its axis, else -1

    def room(self, s: PlacedSolid) -> float:
        """How far a solid is from the axis where it stands beside the tool; more than the tool's radius where it is free."""
        lo, hi = s.box
        a = self.axis
        if lo[a] >= self.box.hi[a] - 1e-6 or hi[a] <= self.box.lo[a] + 1e-6:
            return self.r + 1e3
        beside = [i for i in range(3) if i != a]
        near = float(sum(max(lo[i] - self.centre[i], 0.0, self.centre[i] - hi[i]) ** 2 for i in beside) ** 0.5)
        if near < self.r - TOUCH_MM and (
            s.corners or s.round_axis is not None
        ):  # the box round it is more than it takes
            near = max(near, self.r + float(apart_from_box(s, self.box)))
        return near

    def reach(self, s: PlacedSolid) -> float:
        """How far a solid beside the tool reaches along it, from the screw's head."""
        a = self.axis
        head = self.centre[a]
        return max(self.reaches_up * (x[a] - head) for x in s.box)


def tool_of(g: JointGroup) -> str:
    """What the screws of a line are driven with."""
    key = head_size(g.thread, g.head).key_mm
    if g.head == "pan head":
        return f"cross-recess driver no. {key:g}"
    if g.head in NO_SCREW:
        return f"nut driver {val(f'fasteners.{g.thread}.nut_s'):g}"
    return f"hexagon key {key:g}"


def _rod(what: str, seat: ScrewSeat, start: float, end: float, d: float) -> _Rod:
    """A tool behind a screw's head: from `start` to `end` against the way it is driven."""
    axis = next(i for i in range(3) if abs(seat.along[i]) > 0.5)
    sign = -copysign(
        1.0, seat.along[axis]
    )  # of a turned cut the key is taken along its axis: its own way is kept free where it finds a place
    a, b = sorted((seat.at[axis] + sign * start, seat.at[axis] + sign * end))
    lo, hi = list(seat.at), list(seat.at)
    for i in range(3):
        if i != axis:
            lo[i], hi[i] = seat.at[i] - d / 2, seat.at[i] + d / 2
    lo[axis], hi[axis] = a, b
    return _Rod(what, axis, seat.at, d / 2, Box(tuple(lo), tuple(hi)), sign)  # type: ignore[arg-type]


def _tools(g: JointGroup, seat: ScrewSeat) -> list[_Rod]:
    d = max(val(f"fasteners.{g.thread}.driver_d"), head_size(g.thread, g.head).d_mm)
    if g.key.startswith(OF_CUTS):  # joined on the table before anything is put in, with a key
        arm = val("fasteners.rule.key_arm")
        key = _rod("key", seat, g.sunk_mm, g.sunk_mm + arm, d)
        return [key, _rod("nut", seat, -g.grip_mm - arm, -g.grip_mm, d)] if g.holding == "nut" else [key]
    if (
        g.key.startswith("face/") and g.holding != "nut" and g.into != g.holds
    ):  # of brackets: from inside, where a wall is near, with a key
        return [_rod("key", seat, g.sunk_mm, g.sunk_mm + val("fasteners.rule.key_arm"), d)]
    shaft = val("fasteners.rule.driver_length")
    rods = [
        _rod("driver", seat, g.sunk_mm, g.sunk_mm + shaft, d),
        _rod("handle", seat, g.sunk_mm, g.sunk_mm + FAR_MM, val("fasteners.rule.handle_d")),
    ]
    if g.holding == "nut":
        high = val(f"fasteners.{g.thread}.nut_m") + val("fasteners.rule.fingers")
        rods.append(_rod("nut", seat, -g.grip_mm - high, -g.grip_mm, 2 * val(f"fasteners.{g.thread}.nut_s")))
    return rods


def _walls(case: Case, part: str, known: dict[str, list[PlacedSolid]]) -> list[PlacedSolid]:
    """The walls that a part has already when its components are screwed to it, as boxes."""
    if part not in known:
        known[part] = []
        for w in case.walls:
            if w.part == part:
                face = case.face(w.face)
                box = face.frame.box(Box((*w.lo_mm, -face.thick_mm), (*w.hi_mm, 0.0)))
                known[part].append(
                    PlacedSolid(name=f"the {w.face} wall", role="body", box=box, round_axis=None, inside_mm=0.0)
                )
    return known[part]


_reached: MemoOfThese[Reach] = MemoOfThese(800)


def reaches(groups: tuple[JointGroup, ...], things: tuple[Thing, ...], case: Case) -> tuple[Reach, ...]:
    """Reach of every line of the table of joints, in its order. Remembered line by line, by what stands beside its tools: a component that moves elsewhere hides
    nothing here."""
    known: dict[str, list[PlacedSolid]] = {}
    rides = {t.id: tuple(_carriers(t.id, things)) for t in things}
    on = {t.id: carrier(case, things, t) for t in things}
    return tuple(_reach_of(g, things, rides, on, _walls(case, g.part, known)) for g in groups)


def _reach_of(
    g: JointGroup,
    things: tuple[Thing, ...],
    rides: dict[str, tuple[str, ...]],
    on: dict[str, str | None],
    part_walls: list[PlacedSolid],
) -> Reach:
    # feet and panes are screwed on before anything is put in, their nuts held with pliers beside the walls
    early = g.key == FEET_KEY or g.key.startswith(OF_PANES)
    rods = [rod for seat in g.seats for rod in _tools(g, seat)]
    near = [t for t in things if any(t.bounds.meets(rod.box) for rod in rods)]
    beside = tuple(near) if not g.key.startswith(OF_CUTS) and not early else ()
    walls = () if g.key.startswith("case/") or early else tuple(part_walls)
    asked = (g, rides.get(g.of), on.get(g.of), walls, tuple((rides[t.id], on[t.id]) for t in beside))
    return _reached.make(beside, asked, lambda: _reach(g, rods, beside, rides, on, walls))


def _reach(
    g: JointGroup,
    rods: list[_Rod],
    beside: tuple[Thing, ...],
    rides: dict[str, tuple[str, ...]],
    on: dict[str, str | None],
    walls: tuple[PlacedSolid, ...],
) -> Reach:
    """Reach of a line, past walls and what stands beside its tools. `rides`: what each component rides on; `on`: the part that it comes along with."""
    of = g.of
    below = {of, *rides.get(of, ())}
    first = g.holds == "standoff"  # its board comes on to it once it is screwed in
    worst: tuple[float, str, float] | None = None
    shaft = 0.0
    wait: dict[str, None] = {}
    for rod in rods:
        there = [(s.name, s) for s in walls]
        for t in beside:
            if not t.bounds.meets(rod.box):
                continue
            if first and (t.id == of or of in rides[t.id]):
                continue
            # each part is fitted out by itself before the parts come together: a fan of the lid hides no screw of the base
            elsewhere = bool(of) and on[t.id] != on.get(of)
            for s in hard(t):
                if t.id == of:
                    # a body that its own screw passes has a tab or a step there that is not drawn, and a nut sits on such a tab
                    if rod.what != "nut" and not _over(s, rod):
                        there.append((f"its own {s.name}", s))
                elif g.into == HANDLE:  # the part that the handle is on lies on the table with what is fixed to it
                    if on[t.id] == g.holds:
                        there.append((t.name, s))
                elif not of or t.id in below:  # when the case is closed, all of it is in
                    there.append((t.name, s))
                elif not elsewhere and _hides(rod, s):
                    wait[t.id] = None
        for who, s in there:
            room = rod.room(s)
            if room >= rod.r - TOUCH_MM:
                continue
            if rod.what == "handle":
                shaft = max(shaft, rod.reach(s))
            elif worst is None or room - rod.r < worst[0]:
                worst = (room - rod.r, who, rod.r)
    if worst is None:
        return Reach(
            tool=tool_of(g), free=True, shaft_mm=shaft, blocked_by="", room_mm=0.0, needs_mm=0.0, wait=tuple(wait)
        )
    short, who, r = worst
    return Reach(
        tool=tool_of(g),
        free=False,
        shaft_mm=shaft,
        blocked_by=who,
        room_mm=max(r + short, 0.0),
        needs_mm=r,
        wait=tuple(wait),
    )


def aside(g: JointGroup, t: Thing) -> dict[tuple[int, int], float]:
    """How far a component must be moved along an axis of the case (0 to 2), up (1) or down it (-1), so that it hides none of a line's screws. Ways that
    are longer than any case are left out; none where it hides nothing."""
    out: dict[tuple[int, int], float] = {}
    far: set[tuple[int, int]] = set()
    for rod in (rod for seat in g.seats for rod in _tools(g, seat)):
        for s in hard(t):
            if not _hides(rod, s):
                continue
            for axis in range(3):
                for way, mm in ((1, rod.box.hi[axis] - s.box.lo[axis]), (-1, s.box.hi[axis] - rod.box.lo[axis])):
                    out[axis, way] = max(out.get((axis, way), 0.0), mm)
                    if mm > FAR_MM / 2:
                        far.add((axis, way))
    return {k: mm for k, mm in out.items() if k not in far}


def hides(g: JointGroup, t: Thing, things: tuple[Thing, ...], case: Case) -> bool:
    """Whether a component is where a tool for the screws of another must be, on the same part as this one."""
    return carrier(case, things, t) == _home(case, things, g.of) and any(
        _hides(rod, s) for seat in g.seats for rod in _tools(g, seat) for s in hard(t)
    )


def _hides(rod: _Rod, s: PlacedSolid) -> bool:
    """Whether a component that can go in later has to: it is where the tool, or its handle, must be."""
    return rod.room(s) < rod.r - TOUCH_MM and (
        rod.what != "handle" or rod.reach(s) > val("fasteners.rule.driver_length")
    )


def _over(s: PlacedSolid, rod: _Rod) -> bool:
    """Whether the axis of a tool runs through a solid's outline."""
    return all(s.box.lo[i] <= rod.centre[i] <= s.box.hi[i] for i in range(3) if i != rod.axis)


def _home(case: Case, things: tuple[Thing, ...], id: str) -> str | None:
    """The part that a component of this id comes along with."""
    return next((carrier(case, things, t) for t in things if t.id == id), None)


def _carriers(id: str, things: tuple[Thing, ...]) -> list[str]:
    """What a component rides on, down to the lowest."""
    by_id = {x.id: x for x in things}
    out: list[str] = []
    on = by_id[id].placement.on if id else None
    while on is not None and on in by_id and on not in out:
        out.append(on)
        on = by_id[on].placement.on
    return out
