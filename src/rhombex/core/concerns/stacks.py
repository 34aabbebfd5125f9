"""Boards on boards, holes against their standards, and sizes that are not sure."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from math import dist
from statistics import median

from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import PlacedSolid, Thing
from rhombex.core.bench.gaps import cavity, gaps_of, hard
from rhombex.core.bench.stack import foot, mating, over, slab_mm, tower
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.design import Stand
from rhombex.core.edits import Edit, Move, MoveWall, PutComponent, Remove, SetStand, Swap, Turn
from rhombex.core.fit.joints import engagement_mm, screw_mm
from rhombex.core.parts import library
from rhombex.core.parts.component import Component, Header, Thread
from rhombex.core.parts.known import sure_of
from rhombex.core.parts.recognised import patterns
from rhombex.core.reference import ref, series, table, val
from rhombex.core.shell.spacers import shared_holes, spacers_of
from rhombex.core.space import OUTWARD, Vec2
from rhombex.core.trail import given


def _stacked(a: Analysis) -> Iterator[tuple[Thing, Thing, Stand]]:
    """Every board that stands on another: upper, lower, how."""
    by_id = {t.id: t for t in a.things}
    for t in a.things:
        if t.placement.stand is not None and t.placement.on in by_id:
            yield t, by_id[t.placement.on], t.placement.stand


def _lengths(a: Analysis, stand: Stand, least: float, most: float = 1e9) -> tuple[float, ...]:
    """Standoff lengths to be had between two limits: those the workshop keeps, or any tenth where they are printed."""
    if stand.made == "printed":
        return (round(least + 0.05, 1),) if round(least + 0.05, 1) <= most else ()
    return tuple(x for x in sorted(a.workshop.standoffs_mm) if least - 1e-6 <= x <= most + 1e-6)


def _with(upper: Thing, stand: Stand, **change: object) -> SetStand:
    return SetStand(id=upper.id, stand=stand.model_copy(update=change))


@concern("standoff-not-at-hand", "parts")
def standoff_not_at_hand(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 4: standoffs of a length that is not bought, so the ports would sit elsewhere than planned."""
    for upper, lower, stand in _stacked(a):
        if stand.made != "bought" or not a.workshop.standoffs_mm:
            continue
        nearest = min(a.workshop.standoffs_mm, key=lambda x: abs(x - stand.standoff_mm))
        off = abs(nearest - stand.standoff_mm)
        if off < 0.05:
            continue
        yield say(
            "stop",
            f"No standoffs of {stand.standoff_mm:g} mm under {upper.name}",
            measured=off,
            limit=0.0,
            sense="at most",
            how="height asked for less the nearest that the workshop keeps",
            of=(given("asked for", stand.standoff_mm),),
            reason=f"The workshop keeps {', '.join(f'{x:g}' for x in sorted(a.workshop.standoffs_mm))} mm. With the nearest the "
            f"board on {lower.name} stands {off:.1f} mm off, and every port of it misses its opening by that much.",
            source="workshop: the list of standoffs",
            subjects=(upper.id,),
            remedies=(
                Remedy(label=f"Take {nearest:g} mm standoffs", edits=(_with(upper, stand, standoff_mm=nearest),)),
                *_printed(a, upper, lower, stand),
            ),
        )


@concern("standoff-under-a-layer", "parts")
def standoff_under_a_layer(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 4: printed standoffs lower than one layer: nothing of them is printed."""
    for upper, lower, stand in _stacked(a):
        layer = a.design.process_of(spacers_of(upper.id)).layer_mm
        if stand.made != "printed" or stand.standoff_mm >= layer - 1e-6 or not shared_holes(lower, upper):
            continue
        clear, met = val("limits.stack.clear"), _least_gap(a, upper, lower)
        usual = clear if met is None else round(max(clear, stand.standoff_mm + clear - met[0]) + 0.05, 1)
        yield say(
            "stop",
            f"The printed standoffs under {upper.name} are lower than a layer",
            measured=stand.standoff_mm,
            limit=layer,
            how="height of the standoffs; wanted: a layer of what they are printed in",
            reason="No line is laid for what is lower than a layer: there would be no standoffs, and the board would lie on the one below.",
            source="geometry",
            subjects=(upper.id,),
            remedies=(
                Remedy(label=f"Print standoffs of {usual:g} mm", edits=(_with(upper, stand, standoff_mm=usual),)),
            ),
        )


@concern("header-does-not-mate", "parts")
def header_does_not_mate(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 10: a board-to-board connector that no longer mates with these standoffs."""
    for upper, lower, stand in _stacked(a):
        pair = mating(upper.component, lower.component)
        if pair is None:
            continue
        least = max(h.mates_mm[0] for h in pair) + stand.extender_mm
        most = min(h.mates_mm[1] for h in pair) + stand.extender_mm
        if least - 1e-6 <= stand.standoff_mm <= most + 1e-6:
            continue
        short = stand.standoff_mm < least
        remedies = [
            Remedy(label=f"Take {x:g} mm standoffs", edits=(_with(upper, stand, standoff_mm=x),))
            for x in _lengths(a, stand, least, most)[:2]
        ]
        base = (least - stand.extender_mm, most - stand.extender_mm)
        for ext in (0.0, *series("limits.stack.extenders")):
            if base[0] + ext <= stand.standoff_mm <= base[1] + ext:
                label = f"Put a {ext:g} mm extender between" if ext else "Leave the extender out"
                # the extender first: it moves nothing else
                remedies.insert(0, Remedy(label=label, edits=(_with(upper, stand, extender_mm=ext),)))
                break
        yield say(
            "stop",
            f"The header between {lower.name} and {upper.name} does not mate",
            measured=stand.standoff_mm,
            limit=least if short else most,
            sense="at least" if short else "at most",
            how="height of the standoffs; limit: where the two headers meet",
            of=(
                given("meet from", least),
                given("meet to", most),
            ),
            reason=f"{pair[0].name.capitalize()} and {pair[1].name} meet between {least:g} and {most:g} mm from board to board; "
            f"the standoffs are {stand.standoff_mm:g}. "
            + ("The boards would be forced." if short else "The pins do not reach."),
            source=f"{pair[1].source} ({pair[1].mark})",
            subjects=(upper.id, lower.id),
            remedies=tuple(remedies),
        )


def _mates(s: PlacedSolid, t: Thing, header: Header | None) -> bool:
    """Whether a solid is the body of the header that is meant to meet the other board."""
    if header is None:
        return False
    x, y, _ = t.frame.point((header.at[0] - t.component.pivot[0], header.at[1] - t.component.pivot[1], 0.0))
    return (
        s.role == "connector"
        and s.box.lo[0] - 0.5 <= x <= s.box.hi[0] + 0.5
        and s.box.lo[1] - 0.5 <= y <= s.box.hi[1] + 0.5
    )


def _least_gap(a: Analysis, upper: Thing, lower: Thing) -> tuple[float, Thing, PlacedSolid, PlacedSolid] | None:
    """The least room over what stands on the lower of two boards, mm, with the two that come nearest; None where nothing lies over it."""
    pair = mating(upper.component, lower.component)
    above = [s for s in hard(upper) if not _mates(s, upper, pair[1] if pair else None)]
    under = [lower, *(t for t in a.things if t.placement.on == lower.id and t.placement.stand is None)]
    worst: tuple[float, Thing, PlacedSolid, PlacedSolid] | None = None
    for t in under:
        for s in hard(t):
            if t is lower and (s.role == "board" or _mates(s, lower, pair[0] if pair else None)):
                continue
            for r in above:
                if all(s.box.lo[i] < r.box.hi[i] and s.box.hi[i] > r.box.lo[i] for i in (0, 1)):
                    gap = r.box.lo[2] - s.box.hi[2]
                    if r.box.hi[2] > s.box.lo[2] and (worst is None or gap < worst[0]):
                        worst = (gap, t, s, r)
    return worst


@concern("stack-too-low", "parts")
def stack_too_low(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Rows 1 and 3: a cooler or connector that hits the board stacked above, or what hangs below that one."""
    clear = ref("limits.stack.clear")
    by_id = {t.id: t for t in a.things}
    for upper, lower, stand in _stacked(a):
        worst = _least_gap(a, upper, lower)
        if worst is None or worst[0] >= clear.value - 1e-6:
            continue
        gap, t, s, r = worst
        need = stand.standoff_mm + clear.value - gap
        remedies = [
            Remedy(label=f"Take {x:g} mm standoffs", edits=(_with(upper, stand, standoff_mm=x),))
            for x in _lengths(a, stand, need)[:1]
        ]
        if not remedies:
            remedies.append(
                Remedy(
                    label=f"Print standoffs of {round(need + 0.05, 1):g} mm",
                    edits=(_with(upper, stand, standoff_mm=round(need + 0.05, 1), made="printed"),),
                )
            )
        if t.id in by_id and t is not lower:
            remedies.append(Remedy(label=f"Take {t.name} out", edits=(Remove(id=t.id),)))
        yield say(
            "stop" if gap < 0 else "weigh",
            f"{s.name} of {t.name} {'hits' if gap < 0 else 'comes close to'} {upper.name} above it",
            measured=gap,
            limit=clear.value,
            how="least distance between the two boards' components there",
            of=(given("standoffs", stand.standoff_mm),),
            reason=f"Between {s.name} and {r.name} of {upper.name} are {gap:.1f} mm with {stand.standoff_mm:g} mm standoffs.",
            source=str(clear),
            subjects=(upper.id, t.id),
            remedies=tuple(remedies),
        )


@concern("board-off-holes", "parts")
def board_off_holes(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 12: a stacked board whose holes are not over those below."""
    for upper, lower, stand in _stacked(a):
        at, hits = over(a.design, lower.placement, upper.component, stand)
        turned = (upper.placement.turn - lower.placement.turn) % 360
        off = (
            _beside(upper, lower, hits)
            if turned
            else max(abs(x - y) for x, y in zip(at[:2], upper.placement.at_mm[:2], strict=True))
        )
        if hits >= 2 and off < val("limits.stack.pattern"):
            continue
        if hits < 2:
            yield say(
                "stop",
                f"{upper.name} and {lower.name} have no holes in common",
                measured=hits,
                limit=2,
                unit="holes",
                how="holes of both boards that lie over one another",
                reason="Standoffs need the same holes in both boards.",
                source="geometry",
                subjects=(upper.id, lower.id),
                remedies=(Remedy(label=f"Take {upper.name} out", edits=(Remove(id=upper.id),)),),
            )
            continue
        put: tuple[Edit, ...] = (Move(id=upper.id, to_mm=at),)
        how = "distance to the place where most holes meet"
        reason = f"It lies {off:.1f} mm beside the place where {hits} holes meet."
        if turned:
            put = (Turn(id=upper.id, by=360 - turned), *put)
            how = "from its holes to the nearest of those below: the farthest of as many as meet where it stands right"
            reason = (
                f"It is turned by {turned} degrees against {lower.name}. Turned as that is, {hits} of its holes are over holes of it; as it is, they are up to "
                f"{off:.1f} mm beside them."
            )
        yield say(
            "stop",
            f"{upper.name} is not over the holes of {lower.name}",
            measured=off,
            limit=val("limits.stack.pattern"),
            sense="at most",
            how=how,
            of=(given("holes that meet there", hits, ""),),
            reason=reason,
            source=str(ref("limits.stack.pattern")),
            subjects=(upper.id, lower.id),
            remedies=(Remedy(label=f"Put it over the holes of {lower.name}", edits=put),),
        )


def _beside(upper: Thing, lower: Thing, hits: int) -> float:
    """How far the holes of a board are from the nearest of those below it, mm: the farthest of as many as could meet."""
    near = sorted(min((dist(m.at[:2], n.at[:2]) for n in lower.mounts), default=0.0) for m in upper.mounts)
    return near[hits - 1] if hits else 0.0


@concern("board-off-standoffs", "parts")
def board_off_standoffs(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 4: a stacked board that is higher or lower than its standoffs are long."""
    limit = ref("limits.stack.bought")
    for upper, lower, stand in _stacked(a):
        at, _ = over(a.design, lower.placement, upper.component, stand)
        off = upper.placement.at_mm[2] - at[2]
        if abs(off) <= limit.value:
            continue
        yield say(
            "stop",
            f"{upper.name} is {abs(off):.1f} mm {'over' if off > 0 else 'under'} the end of its standoffs",
            measured=abs(off),
            limit=limit.value,
            sense="at most",
            how="from where it would stand on them to where it is",
            of=(
                given("standoffs", stand.standoff_mm),
                given("over the board below, as it is", stand.standoff_mm + off),
            ),
            reason=f"On standoffs of {stand.standoff_mm:g} mm it stands as high over {lower.name}; what is drawn here is not what is screwed together.",
            source=str(limit),
            subjects=(upper.id, lower.id, "standoffs"),
            remedies=(
                Remedy(
                    label=f"Put {upper.name} on its standoffs",
                    edits=(Move(id=upper.id, to_mm=(None, None, at[2])),),
                ),
            ),
        )


@lru_cache(maxsize=512)
def _fitted(own: tuple[Vec2, ...], standard: tuple[Vec2, ...]) -> tuple[Vec2, ...] | None:
    """The standard's holes, turned by quarters and shifted to lie over a component's own, one for each; None where they are not meant for
    one another."""
    best: tuple[float, tuple[Vec2, ...]] | None = None
    for cos, sin in ((1, 0), (0, 1), (-1, 0), (0, -1)):
        there = _shifted_over(own, [(cos * x - sin * y, sin * x + cos * y) for x, y in standard])
        if there is not None and (best is None or _apart(own, there) < best[0]):
            best = (_apart(own, there), there)
    return best[1] if best else None


def _shifted_over(own: tuple[Vec2, ...], standard: list[Vec2]) -> tuple[Vec2, ...] | None:
    near = val("limits.stack.pattern_near")
    best: tuple[float, tuple[Vec2, ...]] | None = None
    for sx in standard:
        for ox in own:
            off = (ox[0] - sx[0], ox[1] - sx[1])
            moved = [(x + off[0], y + off[1]) for x, y in standard]
            pairs = [min(moved, key=lambda q: abs(q[0] - p[0]) + abs(q[1] - p[1])) for p in own]
            d = [max(abs(q[0] - p[0]), abs(q[1] - p[1])) for p, q in zip(own, pairs, strict=True)]
            if len(set(pairs)) == len(own) and max(d) <= near:
                # the middle shift: one hole beside the others is told with all of its fault, and they with none
                mx, my = (median(p[i] - q[i] for p, q in zip(own, pairs, strict=True)) for i in (0, 1))
                there = tuple((q[0] + mx, q[1] + my) for q in pairs)
                rest = sum(abs(p[i] - q[i]) for p, q in zip(own, there, strict=True) for i in (0, 1))
                if best is None or rest < best[0]:
                    best = (rest, there)
    return best[1] if best else None


@concern("holes-off-standard", "parts")
def holes_off_standard(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 12: mounting holes that do not line up with the board's, drive's or fan's own standard."""
    limit = ref("limits.stack.pattern")
    seen: set[str] = set()
    for t in a.things:
        c = t.component
        own = tuple(m.at for m in c.mounts if m.side == "bottom")
        if c.key in seen or len(own) < 3:
            continue
        seen.add(c.key)
        names = [c.pattern] if c.pattern in patterns() else [n for n, p in patterns().items() if len(p) == len(own)]
        fits = [(n, f) for n in names if (f := _fitted(own, patterns()[n])) is not None]
        if not fits:
            continue
        name, right = min(fits, key=lambda f: _apart(own, f[1]))
        off = _apart(own, right)
        if off <= limit.value:
            continue
        mended = c.model_copy(
            update={
                "mounts": tuple(
                    m.model_copy(update={"at": (round(q[0], 3), round(q[1], 3))})
                    for m, q in zip(c.mounts, right, strict=False)
                )
            }
        )
        row = table("patterns")[name]
        yield say(
            "stop" if off > 2 * limit.value else "weigh",
            f"The holes of {t.name} do not line up with {name}",
            measured=off,
            limit=limit.value,
            sense="at most",
            how="furthest hole from its place in the standard",
            reason=f"One of them is {off:.2f} mm beside the standard's. A reading may be wrong, or it is another component.",
            source=f"{row['source']} ({row['mark']})",
            subjects=(t.id,),
            remedies=(Remedy(label=f"Take the holes of {name}", edits=(PutComponent(component=mended),)),)
            if any(x.key == c.key for x in a.design.custom)
            else (),
        )


def _apart(own: tuple[Vec2, ...], right: tuple[Vec2, ...]) -> float:
    return max(max(abs(p[0] - q[0]), abs(p[1] - q[1])) for p, q in zip(own, right, strict=True))


@concern("fan-off-radiator", "parts")
def fan_off_radiator(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 12: a fan whose holes do not meet the radiator's."""
    by_id = {t.id: t for t in a.things}
    for t in a.things:
        lower = by_id.get(t.placement.on or "")
        if lower is None or t.component.family != "fan" or lower.component.family != "radiator":
            continue
        mine, theirs = _pitch(t.component), _pitch(lower.component)
        if abs(mine - theirs) <= val("limits.stack.pattern"):
            continue
        right = [c for c in library().values() if c.family == "fan" and abs(_pitch(c) - theirs) < 0.05]
        yield say(
            "stop",
            f"{t.name} does not screw to {lower.name}",
            measured=mine,
            limit=theirs,
            sense="at most" if mine > theirs else "at least",
            how="distance of the fan's holes; the radiator's",
            reason=f"The fan's holes are {mine:g} mm apart, the radiator's {theirs:g}.",
            source=f"{lower.component.mounts[0].source} ({lower.component.mounts[0].mark})",
            subjects=(t.id, lower.id),
            remedies=tuple(
                Remedy(label=f"Take {c.label.lower()} instead", edits=(Swap(id=t.id, component=c.key),))
                for c in right[:2]
            ),
        )


def _pitch(c: Component) -> float:
    """Distance of neighbouring holes along x."""
    xs = sorted({round(m.at[0], 2) for m in c.mounts})
    return xs[1] - xs[0] if len(xs) > 1 else 0.0


@concern("nut-bends-board", "parts")
def nut_bends_board(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 27: nuts or bought standoffs tightened on a thin board bend it."""
    thin = ref("limits.stack.thin_board")
    for upper, lower, stand in _stacked(a):
        slab = min((s for s in (slab_mm(upper.component), slab_mm(lower.component)) if s > 0), default=thin.value)
        if stand.made != "bought" or slab >= thin.value - 1e-6:
            continue
        yield say(
            "weigh",
            f"A nut tightened on {upper.name} bends it",
            measured=slab,
            limit=thin.value,
            how="thickness of the board",
            reason=f"The board is {slab:g} mm thick. Tighten metal standoffs with two fingers and a washer, or print the standoffs: "
            "they give before the board does.",
            source=str(thin),
            subjects=(upper.id,),
            remedies=_printed(a, upper, lower, stand),
        )


@searched
def _printed(a: Analysis, upper: Thing, lower: Thing, stand: Stand) -> tuple[Remedy, ...]:
    """Printed standoffs instead of bought ones, at a height near now for which there is a screw through the stack."""
    threads = {thread for _, thread in shared_holes(lower, upper)}
    rest = slab_mm(upper.component) + slab_mm(lower.component)
    heights = [stand.standoff_mm + sign * k / 10 for k in range(40) for sign in (1, -1)]
    h = next((round(h, 1) for h in heights if h > 1 and all(_screwed(a, t, rest + h) for t in threads)), None)
    if h is None:
        return ()
    label = "Print the standoffs" if h == stand.standoff_mm else f"Print the standoffs, {h:g} mm high"
    return (Remedy(label=label, edits=(_with(upper, stand, made="printed", standoff_mm=h),)),)


def _screwed(a: Analysis, thread: Thread, grip_mm: float) -> bool:
    least, most = engagement_mm(thread, a.design.shell.post_thread)
    return screw_mm(thread, grip_mm, least, most) is not None


@concern("size-not-sure", "parts")
def size_not_sure(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 11: a tube, cap or component whose size is doubted, and that has its room only if the size is right."""
    walls = {f.id for f in a.case.faces if f.whole}
    for t in a.things:
        if t.face is not None or not any(s.sure_mm > 0 for s in hard(t)):
            continue
        for g in gaps_of(a.design, a.things, t.id):
            if g.to in OUTWARD and g.side not in walls:  # none is there
                continue
            # where even the doubted size has too little room another rule has said so
            if g.sure_mm <= 0 or g.gap_mm - g.sure_mm >= g.limit_mm - 1e-6 or g.gap_mm < g.limit_mm:
                continue
            need = round(g.limit_mm + g.sure_mm - g.gap_mm + 0.05, 1)
            wall = g.to in OUTWARD
            remedies = (
                (Remedy(label=f"Move the {g.to} wall out by {need:g} mm", edits=(MoveWall(face=g.side, by_mm=need),)),)
                if wall and g.side != "bottom"
                else ()
            )
            doubted = max(hard(t), key=lambda s: s.sure_mm)
            yield say(
                "weigh",
                f"{t.name} has room to its {g.side} only if its size is right",
                measured=g.gap_mm - g.sure_mm,
                limit=g.limit_mm,
                how="gap less what its size is sure to",
                of=(
                    given("gap", g.gap_mm),
                    given("sure to", g.sure_mm),
                ),
                reason=f"The gap of {g.gap_mm:.1f} mm is sure to ±{g.sure_mm:.1f}: the {doubted.name} was not measured. Measure it, "
                "or leave more room.",
                source=str(ref("measuring.sure.doubtful")),
                subjects=(t.id, g.side),
                remedies=(*remedies, _measured(t)),
            )


def _measured(t: Thing) -> Remedy:
    """Taking a thing's sizes as measured: the design gets its own copy of the component, sure to a caliper's reading."""
    sure = val("measuring.sure.outside")
    c = t.component
    key = c.key if c.key.startswith("own-") else f"own-{c.key}"[:40]
    solids = tuple(
        s.model_copy(update={"sure_mm": sure, "mark": "measured"}) if sure_of(s) > sure else s for s in c.solids
    )
    mine = c.model_copy(update={"key": key, "solids": solids})
    return Remedy(
        label=f"{t.name} was measured: its sizes are right", edits=(Swap(id=t.id, component=key, custom=mine),)
    )


@concern("no-room-to-fill", "parts", needs=("cavity",))
def no_room_to_fill(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 11: a loop that cannot be filled, because the lid is over its cap."""
    room = cavity(a.design)
    for t in a.things:
        for s in t.solids:
            if s.role == "keepout" and s.name == "filling room" and s.box.hi[2] > room.hi[2] + 1e-6:
                over_mm = s.box.hi[2] - room.hi[2]
                yield say(
                    "weigh",
                    f"{t.name} cannot be filled with the lid on",
                    measured=s.box.size[2] - over_mm,
                    limit=s.box.size[2],
                    how="room over the cap, as much as is left of it",
                    of=(given("taken by the lid or what is over it", over_mm),),
                    reason="Over its cap there must be room to pour and to let air out. Fill it with the lid off, electronics "
                    "unpowered, or raise the lid.",
                    source=next(f"{x.source} ({x.mark})" for x in t.component.solids if x.name == s.name),
                    subjects=(t.id,),
                    remedies=(
                        Remedy(
                            label=f"Raise the lid by {round(over_mm + 0.05, 1):g} mm",
                            edits=(MoveWall(face="top", by_mm=round(over_mm + 0.05, 1)),),
                        ),
                    ),
                )


@concern("component-changed-since", "parts")
def component_changed_since(a: Analysis, say: Maker) -> Iterator[Finding]:
    """An own component that was changed in the workshop's library after this design took its copy."""
    now = {c.key: c for c in a.workshop.components}
    for c in a.design.custom:
        new = now.get(c.key)
        users = [t for t in a.things if t.component.key == c.key]
        if new is None or new == c or not users:
            continue
        changed = [f for f in type(c).model_fields if getattr(c, f) != getattr(new, f)]
        yield say(
            "weigh",
            f"{c.label} was changed in the library",
            measured=len(changed),
            limit=0,
            unit="fields",
            sense="at most",
            how="fields of the copy that differ from the workshop's",
            reason=f"{', '.join(changed)} of the component in the workshop differ from this design's copy.",
            source="workshop: own components",
            subjects=(c.key,),
            remedies=(Remedy(label="Take it as it is now", edits=(PutComponent(component=new),)),),
        )


def one_stack(a: Analysis, p: Thing, q: Thing) -> bool:
    """Whether two things are of one stack of boards, whose clearances have rules of their own."""
    stacked = {t.id for t in a.things if t.placement.stand is not None}
    if not stacked:
        return False
    root = foot(a.design, p.id)
    return root == foot(a.design, q.id) and bool(tower(a.design, root) & stacked)
