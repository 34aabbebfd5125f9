"""What holds a rider in its place: the processor that a cooler lies on, the socket that a card is in."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.parts.families.cards import PLAY_MM
from rhombex.core.reference import Ref, ref
from rhombex.core.space import OUTWARD, Box, Vec3, hull, normal_axis


def chip_of(board: Thing) -> PlacedSolid | None:
    """What a cooler sits on."""
    return next((s for s in board.solids if s.name.startswith(("processor", "module"))), None)


def foot_of(cooler: Thing) -> Box:
    """What of a cooler lies on the processor: the lowest of its bodies."""
    return min((s.box for s in hard(cooler)), key=lambda b: b.lo[2])


PLUGGED = ("drive", "converter")  # what rides on a board and is plugged into it; light can be anywhere


@dataclass(frozen=True)
class Unseated:
    """Why a rider is not held where it is, by which number, and how far it is from where it would be."""

    says: str
    measured: float
    limit: Ref
    unit: str
    at_most: bool
    how: str
    back: Vec3


def at(box: Box, by: Vec3) -> Box:
    (x, y, z), (u, v, w) = box.lo, box.hi
    return Box((x + by[0], y + by[1], z + by[2]), (u + by[0], v + by[1], w + by[2]))


def _share(of: Box, under: Box) -> float:
    """How much of a box, seen from above, is under or over another, %; of the other where that is smaller."""
    sides = [max(0.0, min(of.hi[i], under.hi[i]) - max(of.lo[i], under.lo[i])) for i in (0, 1)]
    return 100 * sides[0] * sides[1] / max(min(of.size[0] * of.size[1], under.size[0] * under.size[1]), 1e-9)


def unseated(t: Thing, below: Thing, by: Vec3 = (0.0, 0.0, 0.0)) -> Unseated | None:
    """What keeps a rider, moved, from being held by its carrier; None where it is, or where it is not known what holds it."""
    if not hard(t) or not hard(below):
        return None
    if t.component.family == "cooler" and (chip := chip_of(below)) is not None:
        return _off_chip(at(foot_of(t), by), chip)
    socket = next((s.box for s in below.solids if s.name == "socket"), None)
    edge = edge_of(t)
    if socket is not None and edge is not None:
        return _out_of_socket(at(edge, by), socket)
    if edge is not None and slots_of(below):
        return _out_of_slot(t, at(edge, by), below)
    return _off_board(t, below, by) if t.component.family in PLUGGED else None


def edge_of(t: Thing) -> Box | None:
    """The contact edge of a card."""
    return next((s.box for s in t.solids if s.name == "contact edge"), None)


def slots_of(board: Thing) -> list[Box]:
    """The slots of a board that stand upright, the one beside the rear connectors first."""
    return [s.box for s in board.solids if s.name.startswith("slot ")]


def stands(edge: Box) -> bool:
    """Whether a card stands on its contact edge."""
    return edge.size[2] > min(edge.size[:2])


def into_slots(t: Thing, edge: Box, board: Thing) -> list[Vec3]:
    """How far a standing card is from each slot that is long enough for its contact edge; none where it is turned otherwise than the slots."""
    rear = next((q.face for q in board.ports if q.name == "rear"), None)
    bracket = next((s.box for s in t.solids if s.name == "bracket"), None)
    if rear is None or bracket is None or not stands(edge):
        return []
    along = normal_axis(rear)
    out = OUTWARD[rear][along]
    card = next(s.box for s in t.solids if s.name == "contact edge")
    if (bracket.centre[along] - card.centre[along]) * out < card.size[along] / 2:
        return []  # its bracket is not where the board's rear is

    def end(b: Box) -> float:
        return b.hi[along] if out > 0 else b.lo[along]

    moves = []
    for slot in slots_of(board):
        if slot.size[along] < edge.size[along]:
            continue
        by = [slot.centre[i] - edge.centre[i] for i in (0, 1)]
        by[along] = end(slot) - out * PLAY_MM - end(edge)
        moves.append((by[0], by[1], slot.hi[2] - edge.hi[2]))
    return moves


def _out_of_slot(t: Thing, edge: Box, board: Thing) -> Unseated | None:
    least, most, stay = ref("limits.seat.edge"), ref("limits.seat.slot"), (0.0, 0.0, 0.0)
    if not stands(edge):
        return Unseated("lies flat over the slots of", 0.0, least, "%", False, "of its contact edge in a slot", stay)
    homes = into_slots(t, edge, board)
    if not homes:
        longest = max(max(s.size[:2]) for s in slots_of(board))
        share, how = 100 * min(1.0, longest / max(edge.size[:2])), "of its contact edge in the longest slot"
        if share >= 100:
            share, how = 0.0, "of its contact edge in a slot, its bracket at the rear"
        return Unseated("fits no slot of", share, least, "%", False, how, stay)
    back = min(homes, key=lambda by: hypot(*by))
    if hypot(*back) <= most.value:
        return None
    return Unseated(
        "is out of the slots of",
        hypot(*back),
        most,
        "mm",
        True,
        "contact edge to where the nearest slot holds it",
        back,
    )


def _off_chip(foot: Box, chip: PlacedSolid) -> Unseated | None:
    dx, dy = (chip.box.centre[i] - foot.centre[i] for i in (0, 1))
    gap = foot.lo[2] - chip.box.hi[2]
    back, what = (dx, dy, -gap), f"the {chip.name}"
    centred, covered, touch = ref("limits.seat.centred"), ref("limits.seat.covered"), ref("limits.seat.touch")
    off, share = hypot(dx, dy), _share(chip.box, foot)
    if "socket" in chip.name and off > centred.value:
        how = "middle of its base to the middle of the socket, seen from above"
        return Unseated(f"is not over {what}", off, centred, "mm", True, how, back)
    if "socket" not in chip.name and share < covered.value:
        how = "of the processor, seen from above, under what cools it"
        return Unseated(f"does not cover {what}", share, covered, "%", False, how, back)
    if gap > touch.value:
        return Unseated(f"does not touch {what}", gap, touch, "mm", True, "top of the processor to its cooler", back)
    return None


def _out_of_socket(edge: Box, socket: Box) -> Unseated | None:
    into = [
        socket.lo[i] - edge.lo[i] if edge.lo[i] < socket.lo[i] else min(0.0, socket.hi[i] - edge.hi[i]) for i in (0, 1)
    ]
    off = max(edge.lo[2] - socket.hi[2], socket.lo[2] - edge.hi[2], 0.0)
    most, least = ref("limits.seat.edge_off"), ref("limits.seat.edge")
    down = 0.0 if off <= most.value else off - most.value / 2
    back = (into[0], into[1], -down if edge.lo[2] > socket.hi[2] else down)
    share = _share(edge, socket)
    if share < least.value:
        how = "of its contact edge, seen from above, over the socket"
        return Unseated("is beside its socket in", share, least, "%", False, how, back)
    if off > most.value:
        return Unseated("is out of its socket in", off, most, "mm", True, "contact edge to the socket", back)
    return None


def _off_board(t: Thing, below: Thing, by: Vec3) -> Unseated | None:
    """Where its socket is not known, it is over the board at the least, and near what is under it."""
    low = at(min((s.box for s in hard(t)), key=lambda b: b.lo[2]), by)
    under = [q.box for q in hard(below) if all(low.lo[i] < q.box.hi[i] and low.hi[i] > q.box.lo[i] for i in (0, 1))]
    over = hull([q.box for q in hard(below)])
    x, y = (over.lo[i] - low.hi[i] if over.lo[i] > low.hi[i] else min(0.0, over.hi[i] - low.lo[i]) for i in (0, 1))
    back = (x, y, min(0.0, max((b.hi[2] for b in under), default=low.lo[2]) - low.lo[2]))
    off = ref("limits.seat.off")
    if hypot(*back) <= off.value:
        return None
    return Unseated(
        "is off", hypot(*back), off, "mm", True, "lowest of its solids to what is under it, or to the board", back
    )
