"""Boards on boards: where they stand, what follows when a stack changes, and how sure the height of a port is."""

from __future__ import annotations

from typing import Any, TypeVar

from rhombex.core.bench.walls import face_of_port
from rhombex.core.design import Design, FaceText, OwnOpening, Placement, Stand, VentField
from rhombex.core.parts.component import Component, Header
from rhombex.core.plain import DesignError
from rhombex.core.reference import ref, val
from rhombex.core.space import Vec2, turned
from rhombex.core.trail import Input, Trail, given

SAME_HOLE_MM = 0.35
USUAL_MM = 12.0  # of bought standoffs under a board that stands on another; common practice
MOST_MM = 200.0  # that a document holds
HELD_BY = 2  # holes in common, at least


def slab_mm(c: Component) -> float:
    """Thickness of a component's board; 0 where it has none."""
    return next((s.hi[2] - max(s.lo[2], 0.0) for s in c.solids if s.role == "board"), 0.0)


def passed_mm(c: Component) -> float:
    """What a screw passes of a component that stands on posts: its board, or the foot of a body, which is not drawn."""
    return slab_mm(c) or val("fasteners.rule.tab")


def _component(d: Design, key: str) -> Component:
    c = d.component(key)
    if c is None:
        raise DesignError("placement.component", f"there is no component '{key}'")
    return c


def matched(lower: Component, upper: Component) -> tuple[Vec2, int]:
    """How the upper board's frame lies in the lower one's so that most holes meet: offset of its origin, and how many meet.

    Both are taken with the same turn. With no holes in common the origins meet.
    """
    best: tuple[Vec2, int] = ((0.0, 0.0), 0)
    a, b = ([m.at for m in c.mounts if m.side == "bottom"] for c in (lower, upper))
    for p in a:
        for q in b:
            off = (p[0] - q[0], p[1] - q[1])
            hits = sum(any(abs(x + off[0] - u) + abs(y + off[1] - v) < SAME_HOLE_MM for u, v in a) for x, y in b)
            if hits > best[1]:
                best = (off, hits)
    return best


def over(d: Design, lower: Placement, upper: Component, stand: Stand) -> tuple[tuple[float, float, float], int]:
    """Where a board's pivot goes when it stands on another: in the cavity's frame, with the number of holes that meet."""
    base = _component(d, lower.component)
    off, hits = matched(base, upper)
    local = (off[0] + upper.pivot[0] - base.pivot[0], off[1] + upper.pivot[1] - base.pivot[1], 0.0)
    x, y, _ = turned((0.0, 0.0, 0.0), lower.turn).vector(local)
    z = lower.at_mm[2] + slab_mm(base) + stand.standoff_mm
    return (round(lower.at_mm[0] + x, 3), round(lower.at_mm[1] + y, 3), round(z, 3)), hits


def mating(upper: Component, lower: Component) -> tuple[Header, Header] | None:
    """The headers of two boards that are meant for each other: one up, one down, of one kind."""
    for up in (h for h in lower.headers if h.side == "top"):
        for down in (h for h in upper.headers if h.side == "bottom"):
            if up.kind == down.kind:
                return up, down
    return None


def usual_stand(upper: Component, lower: Component) -> Stand | None:
    """How a board stands on the one that it is meant for: on standoffs of a usual length where its header mates with that, else on printed ones. None where
    it is not meant for it."""
    pair = mating(upper, lower)
    if pair is None or matched(lower, upper)[1] < HELD_BY:
        return None
    least, most = max(h.mates_mm[0] for h in pair), min(h.mates_mm[1] for h in pair)
    middle = round((least + most) / 2, 1)
    # between headers that no standoff brings together the usual ones stand, and the rule about them speaks
    if least <= USUAL_MM <= most or least > most or not 0 < middle <= MOST_MM:
        return Stand(standoff_mm=USUAL_MM)
    return Stand(standoff_mm=middle, made="printed")


def tower(d: Design, id: str) -> set[str]:
    """A thing and all that stands or rides on it."""
    found = {id}
    while True:
        more = {p.id for p in d.placements if p.on in found} - found
        if not more:
            return found
        found |= more


def foot(d: Design, id: str) -> str:
    """The lowest board of the stack that a thing is part of."""
    by_id = {p.id: p for p in d.placements}
    while id in by_id and (on := by_id[id].on) is not None:
        id = on
    return id


def stack_on(d: Design, p: Placement, stand: Stand) -> dict[str, Any]:
    """The fields that change when a board is put on another. Raises DesignError where there is none below."""
    lower = d.placement(p.on or "")
    if lower is None:
        raise DesignError("placement.on", "say on which board it stands")
    at, _ = over(d, lower, _component(d, p.component), stand)
    new = p.model_copy(update={"at_mm": at, "turn": lower.turn, "face": None, "stand": stand})
    return {"placements": (*d.placements, new)}


def stack_under(d: Design, id: str, p: Placement, stand: Stand) -> dict[str, Any]:
    """The fields that change when a board is put under another: the other and all on it rise, and the case with them."""
    board = d.placement(id)
    assert board is not None
    if board.on is not None or board.face is not None:
        raise DesignError(
            "edit.id", f"'{id}' does not stand on the floor", "Put it under the lowest board of the stack."
        )
    below = _component(d, p.component)
    off, _ = matched(below, _component(d, board.component))
    upper = _component(d, board.component)
    local = (-off[0] - upper.pivot[0] + below.pivot[0], -off[1] - upper.pivot[1] + below.pivot[1], 0.0)
    x, y, _ = turned((0.0, 0.0, 0.0), board.turn).vector(local)
    low = p.model_copy(
        update={
            "at_mm": (round(board.at_mm[0] + x, 3), round(board.at_mm[1] + y, 3), board.at_mm[2]),
            "turn": board.turn,
            "on": None,
            "face": None,
            "stand": None,
        }
    )
    rise = slab_mm(below) + stand.standoff_mm
    lifted = _lifted(d, tower(d, id), rise)
    placements = tuple(
        x.model_copy(update={"on": p.id, "stand": stand}) if x.id == id else x for x in lifted["placements"]
    )
    return lifted | {"placements": (*placements, low)}


def set_stand(d: Design, id: str, stand: Stand) -> dict[str, Any]:
    """The fields that change when standoffs get another length. Raises DesignError for what does not stand on a board."""
    p = d.placement(id)
    if p is None or p.stand is None:
        raise DesignError("edit.id", f"'{id}' does not stand on another board")
    lifted = _lifted(d, tower(d, id), round(stand.standoff_mm - p.stand.standoff_mm, 4))
    placements = tuple(x.model_copy(update={"stand": stand}) if x.id == id else x for x in lifted["placements"])
    return lifted | {"placements": placements}


def _lifted(d: Design, ids: set[str], by: float) -> dict[str, Any]:
    """Things raised by so much, with the lid, the joint, their pinned openings and the vents beside them."""
    old_top = max((_top(d, p) for p in d.placements if p.id in ids), default=0.0)
    rest_top = max((_top(d, p) for p in d.placements if p.id not in ids and p.face is None), default=0.0)
    # the lid rises as far as the tower does, but a tower in the shadow of something taller leaves it where it is
    lid = max(old_top + by, rest_top) - max(old_top, rest_top)
    inner = d.shell.inner_mm
    high = round(max(inner[2] + lid, 1.0), 3)
    low = min((p.at_mm[2] for p in d.placements if p.id in ids), default=0.0)
    return {
        "placements": tuple(
            p.model_copy(update={"at_mm": (p.at_mm[0], p.at_mm[1], round(p.at_mm[2] + by, 3))}) if p.id in ids else p
            for p in d.placements
        ),
        "shell": d.shell.model_copy(
            update={"inner_mm": (inner[0], inner[1], high), "construction": d.shell.construction.raised(lid, high)}
        ),
        "openings": tuple(
            o.model_copy(update={"at_mm": (o.at_mm[0], round(o.at_mm[1] + by, 3))})
            if o.at_mm is not None and o.anchor == "face" and o.port.split("/", 1)[0] in ids and _upright(d, o.port)
            else o
            for o in d.openings
        ),
        "vents": tuple(_lifted_on_face(v, low, by) for v in d.vents),
        "own_openings": tuple(_lifted_on_face(o, low, by) for o in d.own_openings),
        "texts": tuple(_lifted_on_face(t, low, by) for t in d.texts),
    }


P = TypeVar("P", VentField, OwnOpening, FaceText)


def _lifted_on_face(x: P, low: float, by: float) -> P:
    """What is kept from the cavity's corner on a side wall, raised where it lies beside what rises."""
    if x.on is not None or x.face in ("top", "bottom") or x.at_mm[1] < low:
        return x
    return x.model_copy(update={"at_mm": (x.at_mm[0], round(x.at_mm[1] + by, 3))})


def _upright(d: Design, port: str) -> bool:
    """Whether a port's opening is on a side wall, where its second coordinate is a height."""
    return face_of_port(d, port) not in ("top", "bottom", None)


def _top(d: Design, p: Placement) -> float:
    c = d.component(p.component)
    if c is None or p.face is not None:
        return 0.0
    return p.at_mm[2] + max(s.hi[2] for s in c.solids if s.role not in ("plug", "keepout"))


def height_of(d: Design, id: str) -> Trail:
    """How high a board's lower face stands above the inner floor, and how sure that is: the tolerances of posts, boards and
    standoffs below it, taken together as the root of their squares. The value is the uncertainty, +- mm."""
    inputs: list[Input] = []
    p = d.placement(id)
    total = 0.0
    by_id = {x.id: x for x in d.placements}
    while p is not None and p.on is not None and p.on in by_id:
        lower = by_id[p.on]
        c = d.component(lower.component)
        slab = slab_mm(c) if c else 0.0
        board = val("limits.stack.board_share") / 100 * slab
        total += board**2
        inputs.append(given(f"board of {lower.name}", board, "mm", str(ref("limits.stack.board_share"))))
        if p.stand is not None:
            off = ref(f"limits.stack.{p.stand.made}")
            total += off.value**2
            inputs.append(given(f"standoffs under {p.name}", off.value, "mm", str(off)))
        p = lower
    if p is not None and p.face is None:
        post = ref("limits.stack.printed")
        total += post.value**2
        inputs.append(given(f"posts under {p.name}", post.value, "mm", str(post)))
    return Trail(
        value=total**0.5,
        unit="mm",
        formula="root of the sum of squares of the tolerances below",
        inputs=tuple(inputs),
        source="statistical tolerance of a stack of independent lengths",
    )
