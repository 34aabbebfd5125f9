"""Walling in: draw the cavity as tightly round the components as the usual gaps allow."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product
from math import ceil
from typing import Annotated, Any

from pydantic import Field

from rhombex.core.bench.arrange import PlacedPort, PlacedSolid, Thing, arrange
from rhombex.core.bench.gaps import HARD, cavity, wall_limit
from rhombex.core.bench.open_walls import before_ports
from rhombex.core.bench.walls import moved_walls
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case.faces import Bulge
from rhombex.core.constructions import TrayInASleeve
from rhombex.core.design import Design
from rhombex.core.parts import port_kinds
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.space import OUTWARD, Box, Face, Vec3, normal_axis
from rhombex.core.trail import Frozen

MOST_ROUNDS = 4  # of drawing walls anew
GROWS = 0.004  # of what a case becomes longer: so much more the play of its rim is at most, by shrinkage and allowance
CLEAR_MM = 0.05  # beside the rim's thickening, so that roundings do not meet
PASSES_MM = 0.3  # between a post and a wall that is a part of its own; common practice
AWAY_MM = (
    1000.0  # a wall moved 1 mm from its ports counts as so many mm2 of floor: a plug is soon too short; common practice
)
_LOWS: tuple[Face, Face, Face] = ("left", "front", "bottom")
_HIGHS: tuple[Face, Face, Face] = ("right", "back", "top")


class Tip(Frozen):
    """How far the screws of a component that is fixed to a wall stand in from its inside, and half of how thick they are."""

    of: str
    deep_mm: Annotated[float, Field(gt=0, le=200)]
    r_mm: Annotated[float, Field(gt=0, le=20)]


def fit_cavity(
    design: Design,
    thicker: tuple[Bulge, ...] = (),
    pillar_mm: float = 0.0,
    only_out: bool = False,
    beside_mm: float = 0.0,
    post_mm: float = 0.0,
    tips: tuple[Tip, ...] = (),
) -> dict[str, Any]:
    """The fields that change when the walls are drawn so that everything has the usual gap to walls and lid: components, the room of their plugs and
    cables, and what is fixed to a face, all as they stand. Where walls are `thicker` inside (heights from the joint or the floor), the gap
    counts from there; nothing stands in squares of `pillar_mm` in the four corners; neither do posts, which reach `post_mm` from their screws, and nothing is behind the `tips` of screws; displays on walls have `beside_mm` to their left and right. The floor stays unless something on a wall reaches below it;
    `only_out`: no wall is moved inward. Raises
    DesignError where nothing is placed."""
    change: dict[str, Any] = {}
    # what goes along with a wall may stand better where that is drawn: once is enough for a hand
    for _ in range(MOST_ROUNDS):
        drawn = design.model_copy(update=change)
        more = _fitted(drawn, design.shell.inner_mm, thicker, pillar_mm, only_out, beside_mm, post_mm, tips)
        change |= more
        if drawn.model_copy(update=more).shell.inner_mm == drawn.shell.inner_mm:
            break
    return change


def _fitted(
    design: Design,
    was_mm: Vec3,
    thicker: tuple[Bulge, ...],
    pillar_mm: float,
    only_out: bool,
    beside_mm: float,
    post_mm: float,
    tips: tuple[Tip, ...],
) -> dict[str, Any]:
    """The fields that change when the walls are drawn as they stand now; `was_mm`: the room that `thicker` was found in."""
    now = arrange(design)
    free = [t for t in now if t.face is None]
    if not free:
        raise DesignError("placements", "there is nothing to wall in yet", "Put a component on the bench first.")
    room = cavity(design)
    # inside a rounded corner a square one needs more than the gap along the walls
    round_mm = max(design.shell.corner_radius_mm - design.shell.wall_mm, 0.3) * (1 - 0.5**0.5) + 0.05
    lo, hi = [float("inf")] * 3, [float("-inf")] * 3
    for t in now:
        for s in t.solids:
            if s.name == "filling room":
                continue  # it may be filled with the lid off
            for i in range(3):
                if t.face is not None and normal_axis(t.face) == i:
                    continue
                level = i == (1 if t.face in ("left", "right") else 0)
                beside = beside_mm if level and t.face and t.component.family == "display" and s.role in HARD else 0.0
                lo[i] = min(lo[i], s.box.lo[i] - max(beside, _limit(design, t, s, _LOWS[i], round_mm)))
                hi[i] = max(hi[i], s.box.hi[i] + max(beside, _limit(design, t, s, _HIGHS[i], round_mm)))
    if pillar_mm > 0:  # walls are parts of their own, which pass the posts
        for at in _screwed_down(now):
            for i in (0, 1):
                lo[i] = min(lo[i], at[i] - post_mm - PASSES_MM)
                hi[i] = max(hi[i], at[i] + post_mm + PASSES_MM)
    hi[2] = max(hi[2], _under_the_joint(design, now, thicker))
    _behind_panels(room, now, free, tips, lo, hi)
    _inside_the_rim(design, was_mm, now, thicker, lo, hi)
    open_ = wanted_ports(design)
    looking = {p.face for t in free for p in t.ports if p.ref in open_}
    ports = [b for t in free for b in before_ports(t, open_)]
    _beside_pillars(now, ports, pillar_mm, post_mm, looking, lo, hi)
    # what is fixed to the floor goes along with it, with all that stands out under it
    lowest = [s.box.lo[2] for t in now if t.face not in (None, "bottom") for s in t.solids]
    lo[2] = min([room.lo[2], *lowest])
    out: dict[Face, float] = {}
    for i in range(3):
        out[_LOWS[i]], out[_HIGHS[i]] = _hundredths(room.lo[i] - lo[i]), _hundredths(hi[i] - room.hi[i])
    return moved_walls(design, {face: by for face, by in out.items() if abs(by) > 0.004 and (by > 0 or not only_out)})


def _hundredths(mm: float) -> float:
    """Outward to the next hundredth, so that no gap is a hair too small."""
    return ceil(mm * 100 - 1e-6) / 100


def _limit(design: Design, t: Thing, s: PlacedSolid, face: Face, round_mm: float) -> float:
    """The least gap of a solid to a wall; soft room for plugs may touch it, and so may what is fixed to another face."""
    if s.role not in HARD:
        return 0.0
    if t.face is not None:
        return 0.0 if face == "bottom" else val("limits.gap.wall")
    limit = wall_limit(design, t, s, face)
    return max(limit, round_mm) if face not in ("top", "bottom") and s.role in ("board", "body") else limit


def _under_the_joint(design: Design, now: tuple[Thing, ...], thicker: tuple[Bulge, ...]) -> float:
    """How high the cavity must be so that openings in the sides stay under the rim of the lid, which keeps its depth, and what is fixed to a side stays under the
    thickening of its wall there."""
    inner = design.shell.inner_mm[2]
    joint = getattr(design.shell.construction, "joint_mm", inner)
    f = "printing.feature"
    # a tongue in its groove, and a web under it for the widest nozzle in use
    rim = val(f"{f}.tongue_height") + val("printing.allowance.tongue_top") + val(f"{f}.web_lines") * 0.68
    floor, open_ = design.shell.floor_mm, wanted_ports(design)
    tops = [_top(t, p) for t in now for p in t.ports if p.ref in open_ and p.face not in ("top", "bottom")]
    on_sides = [t for t in now if t.face in ("front", "back", "left", "right")]
    below = max((CLEAR_MM - b.from_mm for b in thicker if b.rides == "joint"), default=0.0)
    bodies = [s.box.hi[2] + max(rim, below) for t in on_sides for s in t.solids if s.role in HARD]
    return max((top + (inner - joint) for top in (*(top + rim for top in tops), *bodies)), default=floor)


def _inside_the_rim(
    design: Design,
    was_mm: Vec3,
    now: tuple[Thing, ...],
    thicker: tuple[Bulge, ...],
    lo: list[float],
    hi: list[float],
) -> None:
    """Push walls out so far that what stands on the floor, or is fixed to another wall, keeps clear of their thickening at the joint, which keeps its depth
    under the lid."""
    inner = design.shell.inner_mm[2]
    joint = hi[2] - (inner - getattr(design.shell.construction, "joint_mm", inner))
    base = {"joint": joint, "floor": design.shell.floor_mm}
    for bulge in (b.raised(base[b.rides]) for b in thicker):
        for t, s in ((x, y) for x in now for y in x.solids if y.role in HARD):
            inward = bulge.inward_mm(s.box.lo[2], s.box.hi[2])
            if inward <= 0:
                continue
            inward += GROWS * max(0.0, *(hi[k] - lo[k] - was_mm[k] for k in (0, 1)))
            for i in (i for i in (0, 1) if t.face is None or normal_axis(t.face) != i):
                if _LOWS[i] in bulge.faces:
                    lo[i] = min(lo[i], s.box.lo[i] - inward - CLEAR_MM)
                if _HIGHS[i] in bulge.faces:
                    hi[i] = max(hi[i], s.box.hi[i] + inward + CLEAR_MM)
    _off_round_corners(design, now, tuple(b.raised(base[b.rides]) for b in thicker), lo, hi)


def _off_round_corners(
    design: Design, now: tuple[Thing, ...], thicker: tuple[Bulge, ...], lo: list[float], hi: list[float]
) -> None:
    """Push a wall out where a solid would stand in a rounded corner: an upright one of the walls, or of their thickening, which is rounded by less; of a sleeve one
    along its way, at the top."""
    c = design.shell.construction
    across: tuple[int, int] = (0, 1)
    if isinstance(c, TrayInASleeve):
        across = (1 - normal_axis(c.opens), 2)
    radius = max(design.shell.corner_radius_mm - design.shell.wall_mm, 0.3)
    for t, s in ((x, y) for x in now for y in x.solids if y.role in HARD and y.round_axis is None):
        inward = max((b.inward_mm(s.box.lo[2], s.box.hi[2]) for b in thicker if len(b.faces) == 4), default=0.0)
        r = max(radius - inward, 0.3) + CLEAR_MM
        for high in product((False, True), (False, True) if across[1] == 1 else (True,)):
            ends = zip(across, high, strict=True)
            gaps = [hi[i] - s.box.hi[i] - inward if up else s.box.lo[i] - lo[i] - inward for i, up in ends]
            ways: tuple[int, ...] = (0, 1)
            if t.face is not None and normal_axis(t.face) in across:  # it goes along with its own wall
                own = across.index(normal_axis(t.face))
                if high[own] != (OUTWARD[t.face][across[own]] > 0):
                    continue
                gaps[own], ways = 0.0, (1 - own,)
            x, y = gaps
            if min(x, y) < 0 or max(x, y) >= r or (r - x) ** 2 + (r - y) ** 2 <= r * r + 1e-9:
                continue  # beyond the wall it is told by that, or has moved it
            # one wall stays, and the other is moved out: that which moves less
            more = [r - (r * r - (r - near) ** 2) ** 0.5 - far for near, far in ((y, x), (x, y))]
            k = min(ways, key=lambda w: more[w])
            if high[k]:
                hi[across[k]] += more[k]
            else:
                lo[across[k]] -= more[k]


def _beside_pillars(
    now: tuple[Thing, ...],
    ports: list[Box],
    pillar_mm: float,
    post_mm: float,
    looking: set[Face],
    lo: list[float],
    hi: list[float],
) -> None:
    """Push walls out so far that nothing stands in a square in one of the upright corners, and no opening for a port is cut into it. For each corner one of its two walls moves: taken
    together those that make the room least larger, and leave alone, where they can, the walls that ports look at."""
    if pillar_mm <= 0:
        return
    side = pillar_mm + CLEAR_MM
    boxes = [(s.box, t.face) for t in now for s in t.solids if s.name != "filling room"]
    boxes += [(Box(m, m).grown(post_mm), None) for m in _screwed_down(now)]
    boxes += [(b, None) for b in ports]
    ways: list[tuple[float, list[float], list[float]]] = []
    for axes in product((0, 1), repeat=4):
        low, high = list(lo), list(hi)
        for _ in range(2):  # a wall that moves takes two corners along
            for (x_high, y_high), axis in zip(product((False, True), repeat=2), axes, strict=True):
                _past_corner(boxes, side, (x_high, y_high), axis, low, high)
        grown = {_LOWS[i]: lo[i] - low[i] for i in (0, 1)} | {_HIGHS[i]: high[i] - hi[i] for i in (0, 1)}
        area = (high[0] - low[0]) * (high[1] - low[1])
        away = sum(by for face, by in grown.items() if face in looking)
        ways.append((area + AWAY_MM * away, low, high))
    _, lo[:], hi[:] = min(ways)


def _screwed_down(now: tuple[Thing, ...]) -> list[Vec3]:
    """Where components stand on posts of the floor."""
    return [m.at for t in now if t.face is None and t.placement.on is None for m in t.mounts]


def _past_corner(
    boxes: list[tuple[Box, Face | None]],
    side: float,
    corner: tuple[bool, bool],
    axis: int,
    lo: list[float],
    hi: list[float],
) -> None:
    """Push one wall of a corner out until no box stands in the square there. What is fixed to a wall goes along with that one: the other is pushed."""
    for b, face in boxes:
        ends = [b.hi[i] > hi[i] - side if corner[i] else b.lo[i] < lo[i] + side for i in (0, 1)]
        own = normal_axis(face) if face else 2
        if face and own < 2:
            ends[own] = corner[own] == (OUTWARD[face][own] > 0)
        if not (ends[0] and ends[1]):
            continue
        out = 1 - own if own < 2 else axis
        if corner[out]:
            hi[out] = max(hi[out], b.hi[out] + side)
        else:
            lo[out] = min(lo[out], b.lo[out] - side)


def _top(t: Thing, p: PlacedPort) -> float:
    """The upper edge of a port's opening, with the recess for its plug."""
    kind = port_kinds()[p.port.kind]
    return p.centre[2] + max(kind.plug_height_mm, kind.height_mm) / 2 + val("printing.allowance.plug_recess") + 0.3


def _behind_panels(
    room: Box, now: tuple[Thing, ...], free: list[Thing], tips: tuple[Tip, ...], lo: list[float], hi: list[float]
) -> None:
    """Push walls out so far that what is fixed to them stands clear of what is behind it: components, things on the walls beside and across, the wall across."""
    between = val("limits.gap.between")
    fixed = [t for t in now if t.face is not None]
    for _ in range(3):  # what moves a wall out for one axis may bring others into one another's way
        for t, s in [(x, s) for x in fixed for s in (*x.solids, *_tips_of(x, room, tips))]:
            assert t.face is not None
            i, deep = normal_axis(t.face), s.inside_mm
            high = OUTWARD[t.face][i] > 0
            others = [*free, *(x for x in fixed if x.face is not None and normal_axis(x.face) != i)]
            mine = _with_its_wall(t, s.box, room, lo, hi)
            for o, q in ((x, y) for x in others for y in x.solids if s.role in HARD or y.role in HARD):
                gap = between if s.role in HARD and q.role in HARD else 0.0
                box = _with_its_wall(o, q.box, room, lo, hi)
                if _across(mine, box, i, gap):
                    if high:
                        hi[i] = max(hi[i], box.hi[i] + gap + deep)
                    else:
                        lo[i] = min(lo[i], box.lo[i] - gap - deep)
            least = deep + (val("limits.gap.wall") if s.role in HARD else 0.0)
            for o in fixed:
                if o.face is not None and o.face != t.face and normal_axis(o.face) == i:
                    met = [deep + x.inside_mm + between for x in o.solids if _across(s.box, x.box, i, between)]
                    least = max(least, *met, least)
            short = least - (hi[i] - lo[i])
            if short > 0 and high:
                hi[i] += short
            elif short > 0:
                lo[i] -= short


def _tips_of(t: Thing, room: Box, tips: tuple[Tip, ...]) -> Iterator[PlacedSolid]:
    """The screws of what is fixed to a wall, as far as they stand in the room: nothing hard may be there."""
    for tip in (x for x in tips if x.of == t.id and t.face is not None):
        assert t.face is not None
        i = normal_axis(t.face)
        for m in t.mounts:
            lo, hi = [x - tip.r_mm for x in m.at], [x + tip.r_mm for x in m.at]
            if OUTWARD[t.face][i] > 0:
                lo[i], hi[i] = room.hi[i] - tip.deep_mm, room.hi[i]
            else:
                lo[i], hi[i] = room.lo[i], room.lo[i] + tip.deep_mm
            box = Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))
            yield PlacedSolid("screw tip", "plug", box, None, tip.deep_mm)


def _with_its_wall(t: Thing, box: Box, room: Box, lo: list[float], hi: list[float]) -> Box:
    """Where a solid is once the walls are where they are drawn: what is fixed to one goes along with it, if that is known yet."""
    if t.face is None:
        return box
    i = normal_axis(t.face)
    by = hi[i] - room.hi[i] if OUTWARD[t.face][i] > 0 else lo[i] - room.lo[i]
    if abs(by) == float("inf"):
        return box
    a, b = list(box.lo), list(box.hi)
    a[i], b[i] = a[i] + by, b[i] + by
    return Box((a[0], a[1], a[2]), (b[0], b[1], b[2]))


def _across(a: Box, b: Box, axis: int, gap: float) -> bool:
    """Whether two boxes are in one another's way along an axis."""
    return all(a.lo[i] < b.hi[i] + gap and a.hi[i] > b.lo[i] - gap for i in range(3) if i != axis)
