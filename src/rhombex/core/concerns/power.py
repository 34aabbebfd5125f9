"""Power: supplies, rails, slots and plugs over what they may carry."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import cavity
from rhombex.core.bench.placing import free_id
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import Adapter
from rhombex.core.edits import Edit, PlaceNew, PutAdapter, PutFeed, Swap, Together
from rhombex.core.parts import library
from rhombex.core.parts.component import Component
from rhombex.core.plain import DesignError
from rhombex.core.power.draws import Branch, Budget, Source, budget, margin_source
from rhombex.core.reference import ref, table, val
from rhombex.core.space import hull
from rhombex.core.trail import given

ADAPTERS_W = (10.0, 15.0, 18.0, 27.0, 30.0, 45.0, 60.0, 65.0, 90.0, 100.0, 120.0, 150.0, 180.0, 230.0, 280.0, 330.0)


@searched
def _bigger(a: Analysis, s: Source, need: float) -> tuple[Remedy, ...]:
    """The smallest supply of the same mounting, or adapter, that bears the load."""
    adapter = next((x for x in a.design.adapters if x.port == s.id), None)
    if adapter is not None:
        fit = next((w for w in ADAPTERS_W if w >= need), None)
        if fit is None:
            return ()
        return (
            Remedy(
                label=f"Take an adapter of {fit:g} W",
                edits=(PutAdapter(adapter=adapter.model_copy(update={"watts": fit})),),
            ),
        )
    thing = next((t for t in a.things if t.id == s.id), None)
    if thing is None or thing.component.supply is None:
        return ()
    rails = set(thing.component.supply.rails)
    able = [
        c
        for c in library().values()
        if c.supply is not None
        and c.family == thing.component.family
        and c.mounting == thing.component.mounting
        and c.supply.needs == thing.component.supply.needs
        and rails <= set(c.supply.rails)
        and c.supply.total_w >= need
    ]
    able.sort(key=lambda c: c.supply.total_w if c.supply else 0.0)
    return _first_that_feeds(a, s.id, able)


@searched
def _others(a: Analysis, b: Budget, s: Source, rail: str, over_w: float) -> tuple[Remedy, ...]:
    """Feeding one component from another source that has the rail and the room."""
    rooms = {
        x.id: next((r.rating_w - r.watts.peak for r in x.rails if r.rail == rail), 0.0)
        for x in b.sources
        if x.id != s.id
    }
    mine = sorted((x for x in b.branches if x.source == s.id and x.rail == rail), key=lambda x: x.watts.peak)
    for branch in mine:
        for other, room in rooms.items():
            if branch.watts.peak >= over_w and room >= branch.watts.peak and other != branch.component:
                return (
                    Remedy(
                        label=f"Feed {branch.name} from {other}",
                        edits=(PutFeed(component=branch.component, rail=branch.rail, source=other),),
                    ),
                )
    return ()


@concern("supply-too-small", "parts")
def supply_too_small(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 30: a supply, converter or adapter too small for the peak with its margin."""
    for s in budget(a.design, a.things).sources:
        need = s.watts.peak / (1 - s.wanted_margin)
        if s.watts.peak <= 0 or s.margin >= s.wanted_margin - 1e-9:
            continue
        yield say(
            "stop" if s.margin < 0 else "weigh",
            f"{s.name} is too small for its peak" if s.margin < 0 else f"{s.name} has little to spare",
            measured=s.rating_w,
            limit=need,
            unit="W",
            how="rating of the supply; wanted: sum of the peaks / (1 - share of the rating to spare)",
            of=(
                given("sum of the peaks", s.watts.peak, "W"),
                given("share to spare", s.wanted_margin, ""),
            ),
            reason=f"{s.watts.peak:.0f} W at the peak, {s.watts.typical:.0f} W as usual; with {s.wanted_margin:.0%} of it to spare it would be "
            f"{need:.0f} W. At its limit it gets hot, and a peak switches the machine off.",
            source=margin_source(s.kind),
            subjects=(s.id,),
            remedies=_bigger(a, s, need),
        )


@concern("rail-over-rating", "parts")
def rail_over_rating(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 30: one rail of a supply over its rating."""
    b = budget(a.design, a.things)
    for s in b.sources:
        for r in s.rails:
            # where one rail is all that it gives, the rule about the whole rating tells it
            if r.watts.peak <= r.rating_w + 1e-9 or (len(s.rails) == 1 and r.rating_w >= s.rating_w - 1e-9):
                continue
            yield say(
                "stop",
                f"The {r.rail} rail of {s.name} is over its rating",
                measured=r.watts.peak,
                limit=r.rating_w,
                unit="W",
                sense="at most",
                how="sum of the peaks on this rail",
                reason=f"All that hangs on {r.rail} takes {r.watts.peak:.0f} W at the peak.",
                source=f"rating of {s.name}",
                subjects=(s.id, r.rail),
                remedies=_others(a, b, s, r.rail, r.watts.peak - r.rating_w) or _bigger(a, s, s.watts.peak * 1.3),
            )


ALIKE = 2.0  # what covers so many times as much is no stand-in: a small display shows something else than a large one; common practice


@concern("plug-over-limit", "parts")
def plug_over_limit(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 30: more watts through a slot, plug or header than it may carry."""
    for x in budget(a.design, a.things).branches:
        if x.plug_limit_w is None or x.watts.peak <= x.plug_limit_w + 1e-9:
            continue
        limit = ref(f"power.plug.{x.plug}")
        yield say(
            "stop",
            f"{x.name} takes more than its {x.plug} may carry",
            measured=x.watts.peak,
            limit=x.plug_limit_w,
            unit="W",
            sense="at most",
            how="peak through this plug",
            reason=f"{x.watts.peak:.0f} W at the peak run through it on {x.rail}. Contacts heat up and melt.",
            source=str(limit),
            subjects=(x.component, x.plug),
            remedies=_other_plug(a, x),
        )


@searched
def _other_plug(a: Analysis, x: Branch) -> tuple[Remedy, ...]:
    """A component of the same family and about the same size that does the same, and takes no more than its plug bears."""
    thing = next(t for t in a.things if t.id == x.component)
    able = [
        c
        for c in library().values()
        if c.family == thing.component.family
        and c.key != thing.component.key
        and c.mounting == thing.component.mounting
        and bool(c.power) == bool(thing.component.power)  # a reservoir is no pump
        and 1 / ALIKE <= _plan_mm2(c) / _plan_mm2(thing.component) <= ALIKE
        and all(
            d.plug not in table("power")["plug"] or d.peak_w <= table("power")["plug"][d.plug]["v"] for d in c.power
        )
    ]
    able.sort(key=lambda c: (abs(_plan_mm2(c) - _plan_mm2(thing.component)), -sum(d.peak_w for d in c.power)))
    return _first_that_feeds(a, x.component, able)


@searched
def _first_that_feeds(a: Analysis, id: str, able: list[Component]) -> tuple[Remedy, ...]:
    """The component to take in another's place with which least is short, the first of equals; nothing may be short that was not
    before: what clears the watts and lacks a plug is no mend."""
    now, best, left = _short(budget(a.design, a.things)), None, 0
    for c in able:
        swap = Swap(id=id, component=c.key)
        try:
            d = apply(a.design, swap)
        except DesignError:
            continue  # it does not go in its place
        short = _short(budget(d, arrange(d)))
        if short <= now and (best is None or len(short) < left):
            best, left = Remedy(label=f"Take {c.label}", edits=(swap,)), len(short)
    return (best,) if best else ()


def _short(b: Budget) -> set[tuple[str, str]]:
    """What is not enough in a budget: plugs of a source, a source, a rail of it, a rail that nothing feeds."""
    out = {(s.id, m.split(" x ", 1)[1]) for s in b.sources for m in s.plugs_missing}
    out |= {(s.id, "") for s in b.sources if s.margin < 0}
    out |= {(s.id, r.rail) for s in b.sources for r in s.rails if r.rating_w < r.watts.peak}
    return out | {(x.component, x.rail) for x in b.branches if x.source is None and x.watts.peak > 0.5}


def _plan_mm2(c: Component) -> float:
    """What a component covers from above: the nearest in size is the likeliest to fit in another's place."""
    lo = [min(s.lo[i] for s in c.solids) for i in (0, 1)]
    hi = [max(s.hi[i] for s in c.solids) for i in (0, 1)]
    return (hi[0] - lo[0]) * (hi[1] - lo[1])


OF_ADAPTERS = ("usb-c", "dc-barrel")  # plugs that adapters have


@concern("nothing-feeds", "parts")
def nothing_feeds(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 30: a component on a rail that no supply, converter or adapter gives."""
    b = budget(a.design, a.things)
    by_rail: dict[str, list[Branch]] = {}
    for x in b.branches:
        if x.source is None and x.watts.peak > 0.5:
            by_rail.setdefault(x.rail, []).append(x)
    for rail, hungry in by_rail.items():
        watts = sum(x.watts.peak for x in hungry)
        remedies: list[Remedy] = []
        for x in hungry:
            thing = next(t for t in a.things if t.id == x.component)
            port = next((p for p in thing.ports if p.port.kind == x.plug and x.plug in OF_ADAPTERS), None)
            fit = next((w for w in ADAPTERS_W if w * 0.8 >= watts), None)
            if port is not None and fit is not None:
                remedies.append(
                    Remedy(
                        label=f"An adapter of {fit:g} W at {x.name}, {port.name}",
                        edits=(PutAdapter(adapter=Adapter(port=port.ref, rail=x.rail, watts=fit)),),
                    )
                )
                break
        yield say(
            "weigh",
            f"Nothing feeds the {rail} rail",
            measured=0.0,
            limit=watts,
            unit="W",
            how="watts that feed this rail; wanted: sum of the peaks on it",
            reason=f"{', '.join(x.name for x in hungry[:4])} {'takes' if len(hungry) == 1 else 'take'} {watts:.0f} W at the peak. Put a supply or converter in, or say which "
            "adapter feeds it.",
            source="sum of the components' peaks",
            subjects=(rail,),
            remedies=tuple(remedies),
        )


@concern("plugs-missing", "parts")
def plugs_missing(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 30: a supply that has fewer plugs of a kind than the components want."""
    for s in budget(a.design, a.things).sources:
        for missing in s.plugs_missing:
            count, plug = missing.split(" x ", 1)
            yield say(
                "stop",
                f"{s.name} has no {plug} plug left",
                measured=0.0,
                limit=float(count),
                unit="plugs",
                how="plugs left; wanted: plugs missing",
                reason=f"{missing} more are wanted. A splitter puts the watts of two plugs through one.",
                source=f"plugs of {s.name}",
                subjects=(s.id, plug),
                remedies=(*_with_plugs(a, s, plug), *_by_adapter(a, s, plug), *_by_converter(a, s, plug, int(count))),
            )


@searched
def _by_adapter(a: Analysis, s: Source, plug: str) -> tuple[Remedy, ...]:
    """What wants such a plug fed by an adapter outside, where it has a port for one."""
    if plug not in OF_ADAPTERS:
        return ()
    fed = {x.port.split("/", 1)[0] for x in a.design.adapters}
    for x in (x for x in budget(a.design, a.things).branches if x.plug == plug and x.source == s.id):
        thing = next(t for t in a.things if t.id == x.component)
        port = next((p for p in thing.ports if p.port.kind == plug), None)
        fit = next((w for w in ADAPTERS_W if w * 0.8 >= x.watts.peak), None)
        if port is not None and fit is not None and x.component not in fed:
            adapter = Adapter(port=port.ref, rail=x.rail, watts=fit)
            return (
                Remedy(label=f"An adapter of {fit:g} W at {x.name}, {port.name}", edits=(PutAdapter(adapter=adapter),)),
            )
    return ()


@searched
def _by_converter(a: Analysis, s: Source, plug: str, count: int) -> tuple[Remedy, ...]:
    """A converter that has such plugs put in for those that lack one, the smallest that does; the walls are drawn round it where it has no room in them."""
    fed = [x for x in budget(a.design, a.things).branches if x.plug == plug and x.source == s.id][-count:]
    now = _short(budget(a.design, a.things))
    able = [
        c for c in library().values() if c.family == "converter" and c.supply and c.supply.plugs.get(plug, 0) >= count
    ]
    for c in sorted(able, key=lambda c: c.supply.total_w if c.supply else 0.0):
        id = free_id(a.design, c.family)
        feeds = (PutFeed(component=x.component, rail=x.rail, source=id) for x in fed)
        edits: tuple[Edit, ...] = (PlaceNew(component=c.key), *feeds)
        try:
            d = apply(a.design, Together(edits=edits))
        except DesignError:
            continue  # there is no room for it, or it does not ride here
        things = arrange(d)
        if not _short(budget(d, things)) < now:
            continue
        room = cavity(d).grown(-val("limits.gap.wall"))
        if hull([room, *(x.box for t in things if t.id == id for x in t.solids)]) != room:
            edits = (*edits, walls_round(a))
        names = " and ".join(x.name for x in fed)
        return (Remedy(label=f"Put in a {c.label[:1].lower()}{c.label[1:]} for {names}", edits=edits),)
    return ()


@searched
def _with_plugs(a: Analysis, s: Source, plug: str) -> tuple[Remedy, ...]:
    thing = next((t for t in a.things if t.id == s.id), None)
    if thing is None or thing.component.supply is None:
        return ()
    have = thing.component.supply
    able = [
        c
        for c in library().values()
        if c.supply is not None
        and c.family == thing.component.family
        and set(have.rails) <= set(c.supply.rails)
        and c.supply.plugs.get(plug, 0) > have.plugs.get(plug, 0)
    ]
    able.sort(key=lambda c: c.supply.total_w if c.supply else 0.0)
    return _first_that_feeds(a, s.id, able)
