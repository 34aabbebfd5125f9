"""What rides on a board or in a socket: whether it stands in something there, and whether it is where its carrier holds it."""

from __future__ import annotations

from collections.abc import Iterator
from math import prod

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.apart import apart
from rhombex.core.bench.arrange import PlacedSolid, Thing, arrange
from rhombex.core.bench.gaps import hard
from rhombex.core.bench.placing import riding
from rhombex.core.bench.seat import PLUGGED, Unseated, at, chip_of, edge_of, slots_of, stands, unseated
from rhombex.core.concerns.bench import cheapest, clear_of_all, move_of, moved, up
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import Design
from rhombex.core.edits import Add, Edit, Move, Remove, Swap, Together, Turn
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.parts.families.cards import UPRIGHT
from rhombex.core.plain import DesignError
from rhombex.core.space import Box

STICKS = ("light",)  # anywhere, by its own tape
SEATED_MM = 0.6  # a cooler or card lies so deep in its carrier's solids at most: paste, slot, rounding; common practice


def _riders(a: Analysis) -> Iterator[tuple[Thing, Thing]]:
    """What rides on another component, and that; boards on standoffs have rules of their own."""
    by_id = {t.id: t for t in a.things}
    for t in a.things:
        below = by_id.get(t.placement.on or "")
        if below is not None and t.placement.stand is None:
            yield t, below


def _deepest(t: Thing, below: Thing) -> tuple[float, PlacedSolid, PlacedSolid] | None:
    """The two solids of a rider and its carrier that are nearest, or deepest in one another, and how far apart they are."""
    found = [
        (apart(s, q), s, q)
        for s in hard(t)
        for q in hard(below)
        if s.role != "pins" and q.role not in ("board", "pins")
    ]
    return min(found, key=lambda f: f[0]) if found else None


@concern("rider-in-carrier", "bench")
def rider_in_carrier(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 5: what lies on a board stands in something of that board."""
    for t, below in _riders(a):
        deepest = _deepest(t, below)
        if deepest is None or deepest[0] >= -SEATED_MM:
            continue
        d, s, q = deepest
        over = max((x.box.hi[2] for x in hard(below) if _over_one_another(s.box, x.box)), default=q.box.hi[2])
        lowest = min(x.box.lo[2] for x in hard(t))
        # with its carrier it would stand in it as before
        alone = [w for w in clear_of_all(a, t) if any(isinstance(e, Move) and e.id == t.id for e in w[1].edits)]
        raised = [
            (lift, Remedy(label=f"{move_of(t.name)} {lift:g} mm up", edits=(moved(t, (0, 0, lift)),)))
            for lift in sorted({up(over - s.box.lo[2]), up(over - lowest)})
            if _clear_raised(t, below, lift) and (unseated(t, below) or not unseated(t, below, (0.0, 0.0, lift)))
        ]
        yield say(
            "stop",
            f"{t.name} stands in the {q.name} of {below.name}",
            measured=d,
            limit=0.0,
            how="least distance of the two solids; less than nothing: how deep the one stands in the other",
            reason=f"Its {s.name} and the {q.name} overlap by {-d:.1f} mm.",
            source=f"geometry; a rider may sit {SEATED_MM:g} mm deep (common practice)",
            subjects=(t.id, below.id, q.name),
            remedies=(_put_back(a, t, below, True) if unseated(t, below) else ())
            or cheapest([*alone, *raised[:1]])
            or _put_back(a, t, below, True)
            or _another(a, t, below),
        )


def _clear_raised(t: Thing, below: Thing, lift: float) -> bool:
    """Whether a rider stands in nothing of its carrier once it is raised."""
    mine = [at(s.box, (0.0, 0.0, lift)) for s in hard(t) if s.role != "pins"]
    theirs = [q.box for q in hard(below) if q.role not in ("board", "pins")]
    return all(max(x.gaps(q)) >= -SEATED_MM for x in mine for q in theirs)


def _over_one_another(a: Box, b: Box) -> bool:
    return all(a.lo[i] < b.hi[i] and a.hi[i] > b.lo[i] for i in (0, 1))


@concern("rider-not-seated", "bench", first=True)
def rider_not_seated(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 5: a cooler beside its processor or off it, a card out of its socket, a drive off its board."""
    for t, below in _riders(a):
        u = unseated(t, below)
        if u is None:
            continue
        cools = t.component.family == "cooler"
        yield say(
            "stop",
            f"{t.name} {u.says}" + (f" of {below.name}" if cools else f" {below.name}"),
            measured=u.measured,
            limit=u.limit.value,
            unit=u.unit,
            sense="at most" if u.at_most else "at least",
            how=u.how,
            reason="What is not pressed on all of the processor takes no heat from it: the machine throttles or stops."
            if cools
            else "Its contacts do not meet those of the socket.",
            source=str(u.limit),
            subjects=(t.id, below.id, "seat"),
            remedies=_stood_up(a, t, below)
            or _put_back(a, t, below, True)
            or _put_back(a, t, below, False)
            or _another(a, t, below),
        )


@concern("rides-on-nothing", "bench", first=True)
def rides_on_nothing(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 5: a cooler, card or drive that is made to ride on another component, and rides on none."""
    for t in a.things:
        if t.component.mounting != "rides" or t.component.family in STICKS or t.placement.on is not None:
            continue
        yield say(
            "stop",
            f"Nothing carries {t.name}",
            measured=0,
            limit=1,
            unit="components",
            how="components that it rides on",
            reason="It is made to sit on a board or in a socket, and the case has no posts for it: as it is, it hangs in the air.",
            source="the library",
            subjects=(t.id,),
            remedies=_on_a_carrier(a, t),
        )


@searched
def _on_a_carrier(a: Analysis, t: Thing) -> tuple[Remedy, ...]:
    """It taken out and put on each component that may carry it, where that holds it; none where anything hangs on it, which would be lost by that."""
    if not _alone(a.design, t):
        return ()
    out: list[Remedy] = []
    for below in a.things:
        if below.id == t.id or below.component.family not in _carriers(t):
            continue
        try:
            there = riding(a.design, t.placement.model_copy(update={"on": below.id}), t.component.family)
            edits: tuple[Edit, ...] = (Remove(id=t.id), Add(placement=there))
            mine, carrier = _there(design := apply(a.design, Together(edits=edits)), t, below)
            if u := unseated(mine, carrier):
                edits = (*edits, _home(design, mine, carrier, u))
                mine, carrier = _there(apply(a.design, Together(edits=edits)), t, below)
        except DesignError:
            continue
        if unseated(mine, carrier) is None and _is_clear(mine, carrier):
            out.append(Remedy(label=f"Put {t.name} on {below.name}", edits=edits))
    return tuple(out)


@searched
def _stood_up(a: Analysis, t: Thing, below: Thing) -> tuple[Remedy, ...]:
    """The upright form of a card that lies over a board's slots, in the first that is free, and it put in a riser; none for what stands."""
    edge = edge_of(t)
    if edge is None or stands(edge) or not slots_of(below):
        return ()
    key = t.component.key + UPRIGHT
    ways: tuple[Remedy, ...] = ()
    if key in library():
        swap = Swap(id=t.id, component=key)
        try:
            swapped = apply(a.design, swap)
            p = next(p for p in swapped.placements if p.id == t.id)
            there = riding(swapped, p, "card")
            by = (there.turn - p.turn) % 360
            turn: tuple[Edit, ...] = (Turn(id=t.id, by=by),) if by in (90, 180, 270) else ()
            edits: tuple[Edit, ...] = (swap, *turn, Move(id=t.id, to_mm=there.at_mm))
            stood = apply(a.design, Together(edits=edits))
            if unseated(*_there(stood, t, below)) is None:
                room = walls_round(analyse(stood, a.workshop, "none")).model_copy(update={"only_out": True})
                out = apply(stood, room).shell.inner_mm != stood.shell.inner_mm
                label = f"Stand {t.name} in a slot of {below.name}" + (", with the walls drawn out" if out else "")
                ways = (Remedy(label=label, edits=(*edits, room) if out else edits),)
        except DesignError:
            pass
    return (*ways, *_on_a_carrier(a, t))


def _alone(design: Design, t: Thing) -> bool:
    """Whether nothing else of a design goes with a component that is taken out: no lead, feed, opening, text, screw or rider of its own."""
    without = apply(design, Remove(id=t.id))
    rest = type(design).model_fields.keys() - {
        "placements",
        "cuts",
    }  # of cuts nothing goes; the walls alone do not know them
    return len(without.placements) == len(design.placements) - 1 and all(
        getattr(without, k) == getattr(design, k) for k in rest
    )


def _carriers(t: Thing) -> tuple[str, ...]:
    """The families that may carry a component, the likeliest first."""
    return ("riser", "board") if t.component.family == "card" else ("board",)


def _seat(t: Thing, below: Thing) -> str:
    chip = chip_of(below)
    if t.component.family == "cooler" and chip is not None:
        return f"on the {chip.name}"
    return f"back on {below.name}" if t.component.family in PLUGGED else "in its socket"


@searched
def _put_back(a: Analysis, t: Thing, below: Thing, clear: bool) -> tuple[Remedy, ...]:
    """A rider put where its carrier holds it, turned if it has to be. `clear`: where it stands in nothing of its carrier there."""
    for by in (0, 90, 270, 180):
        turn: tuple[Edit, ...] = (Turn(id=t.id, by=by),) if by else ()
        try:
            design = apply(a.design, Together(edits=turn))
            there = _there(design, t, below)
            u = unseated(*there)
            put = (*turn, *((_home(design, *there, u),) if u else ()))
            if clear and not u and not _is_clear(*there) and t.component.family == "cooler":
                put = (*turn, Move(id=t.id, to_mm=riding(design, there[0].placement, "cooler").at_mm))
            there = _there(apply(a.design, Together(edits=put)), t, below)
        except DesignError:
            continue
        if put and unseated(*there) is None and (not clear or _is_clear(*there)):
            return (
                Remedy(
                    label=f"{'Turn' if by else 'Put'} {t.name}{' and put it' if by else ''} {_seat(t, below)}",
                    edits=put,
                ),
            )
    return ()


def _home(design: Design, t: Thing, below: Thing, u: Unseated) -> Move:
    """The edit that puts a rider where it is held; of one whose socket is not known, where it would land from the library."""
    if t.component.family in PLUGGED:
        return Move(id=t.id, to_mm=riding(design, t.placement, t.component.family).at_mm)
    return moved(t, u.back)


def _there(design: Design, t: Thing, below: Thing) -> tuple[Thing, Thing]:
    things = {x.id: x for x in arrange(design)}
    return things[t.id], things[below.id]


def _is_clear(t: Thing, below: Thing) -> bool:
    deepest = _deepest(t, below)
    return deepest is None or deepest[0] >= -SEATED_MM


@searched
def _another(a: Analysis, t: Thing, below: Thing) -> tuple[Remedy, ...]:
    """The component of its kind nearest in size, smaller ones first, that its board holds and that stands in nothing of it: of coolers one for a socket where
    there is one, of drives one of those that are plugged in."""
    chip = chip_of(below)
    family = t.component.family
    if family == "cooler" and chip is not None:
        like = [c for c in library().values() if c.family == family and _on_socket(c) == ("socket" in chip.name)]
    elif family in PLUGGED:
        like = [c for c in library().values() if c.family == family and c.mounting == "rides"]
    else:
        return ()
    now = _size(t.component)
    for c in sorted(like, key=lambda c: (_size(c) >= now, abs(_size(c) - now))):
        if c.key == t.component.key:
            continue
        try:
            swap = Swap(id=t.id, component=c.key)
            swapped = apply(a.design, swap)
            at = riding(swapped, next(p for p in swapped.placements if p.id == t.id), family).at_mm
            put = Move(id=t.id, to_mm=at)
            there = _there(apply(swapped, put), t, below)
        except DesignError:
            continue
        if _is_clear(*there) and unseated(*there) is None:
            return (Remedy(label=f"Take {c.label} in its place", edits=(swap, put)),)
    return ()


def _size(c: Component) -> float:
    return sum(prod(hi - lo for lo, hi in zip(x.lo, x.hi, strict=True)) for x in c.solids)


def _on_socket(c: Component) -> bool:
    return any(s.name == "base" for s in c.solids)
