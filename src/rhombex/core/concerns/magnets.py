"""Magnets that hold a case: pockets, pull, poles, and who is about."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.advice.magnets import chosen, held_by_magnets, holds, others, words_of
from rhombex.core.advice.materials import heat_of
from rhombex.core.advice.pauses import pauses
from rhombex.core.analysis import Analysis
from rhombex.core.case.joints import MagnetPair
from rhombex.core.concerns.by_screws import by_screws
from rhombex.core.concerns.plastic import more_plastic
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern
from rhombex.core.constructions import Magnets
from rhombex.core.edits import HoldByMagnets, JoinCuts, Set
from rhombex.core.fit.allowance import upright
from rhombex.core.process.filament import temperature_c
from rhombex.core.reference import ref, val
from rhombex.core.shell.magnets import HEAD_SCREWS_MM, least_at_mm, room_for_mm
from rhombex.core.trail import given, looked_up


def _magnets(ways: tuple[Magnets, ...]) -> tuple[Remedy, ...]:
    return tuple(Remedy(label=f"Magnets {words_of(m)}", edits=(HoldByMagnets(magnets=m),)) for m in ways)


@concern("magnet-breaks-through", "hardware", needs=("magnets",))
def magnet_breaks_through(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 24: a pocket so deep that too little of the part stays behind it."""
    skin, held = ref("fasteners.magnet.skin"), held_by_magnets(a)
    for part in dict.fromkeys(p.holds for p in a.case.magnets):
        p = min((x for x in a.case.magnets if x.holds == part), key=lambda x: x.behind_mm)
        if p.behind_mm >= skin.value - 1e-6:
            continue
        top = abs(p.along[2]) > 0.5
        field, now = ("lid_mm", a.design.shell.lid_mm) if top else ("wall_mm", a.design.shell.wall_mm)
        more = round(now + skin.value - p.behind_mm + 0.005, 2)
        thicker = Remedy(
            label=f"Make the {'top' if top else 'walls'} {more:g} mm thick",
            edits=(Set(path=f"shell.{field}", value=more),),
        )
        yield say(
            "stop",
            f"The magnets of {part} break through: {max(p.behind_mm, 0.0):.2f} mm stay behind their pockets",
            measured=p.behind_mm,
            limit=skin.value,
            how="what the part is thick there less the pocket",
            of=(given("pocket", p.deep_mm), given("thick", p.behind_mm + p.deep_mm)),
            reason="So thin a skin shows as a ring outside and tears when the magnet is pressed in or pulled.",
            source=str(skin),
            subjects=(part,),
            remedies=(*_magnets(others(a, 1, lambda m: holds(held, m))), thicker),
        )


@concern("magnet-pocket-thin", "hardware", needs=("magnets",))
def magnet_pocket_thin(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 24: too little plastic round a pocket."""
    now, halves = chosen(a), a.case.kind == "two halves"
    if now is None:
        return
    p = min(a.case.magnets, key=lambda x: x.od_mm - least_at_mm(now, x, halves))
    least = least_at_mm(now, p, halves)
    if p.od_mm >= least - 1e-6:
        return
    held = held_by_magnets(a)
    yield say(
        "stop",
        f"The pockets of magnets {words_of(now)} leave too little plastic round them",
        measured=p.od_mm,
        limit=least,
        how="width of the plastic round the middle of a pocket; wanted: the magnet and a wall all round",
        of=(given("magnet", least - 2 * val("fasteners.magnet.wall")), looked_up("wall", ref("fasteners.magnet.wall"))),
        reason="The wall splits when the magnet is pressed in.",
        source=str(ref("fasteners.magnet.wall")),
        subjects=(p.holds,),
        remedies=(
            *more_plastic(a, least - p.od_mm),
            *_magnets(others(a, 1, lambda m: holds(held, m))),
        ),
    )


@concern("magnet-fit", "hardware", needs=("magnets",))
def magnet_fit(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 24: pockets too tight or too loose, because they are pressed and the printer scatters more than a press fit bears."""
    now, press = chosen(a), ref("fasteners.magnet.press")
    if now is None or now.fixed != "pressed":
        return
    lying = sorted(
        {part for p in a.case.magnets for part in (p.holds, p.into)[: p.magnets] if not _upright(a, part, p)}
    )
    feature = "round_hole_lying" if lying else "round_hole_upright"
    filament = a.design.process_of(lying[0] if lying else a.case.magnets[0].holds).filament
    if a.printer.own_allowance_mm(feature, filament) is not None:  # type: ignore[arg-type]
        return  # measured on this printer
    spread = ref(f"printing.allowance.{feature}_spread")
    if spread.value <= press.value + 1e-6:
        return
    yield say(
        "weigh",
        f"Pockets that print lying may grip a magnet too tight or not at all: {', '.join(lying)}",
        measured=spread.value,
        limit=press.value,
        sense="at most",
        how="how far such holes scatter round their size on printers that nobody has measured",
        of=(looked_up("scatter", spread),),
        reason="A magnet that sits loose is pulled out by the other one; one that is forced in splits the beam. Print one pocket first and "
        "enter what it gave at the printer's allowances, or glue.",
        source=str(press),
        subjects=("magnets",),
        remedies=(
            Remedy(label="Glue them into wider pockets", edits=(HoldByMagnets(magnets=_glued(now)),)),
            by_screws(a),
        ),
    )


@concern("magnet-lies-on-its-side", "hardware", needs=("magnets",))
def magnet_lies_on_its_side(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A magnet that is to be closed in, in a pocket that prints lying: nothing can be put into it from above."""
    now = chosen(a)
    if now is None or now.fixed != "closed in":
        return
    every = [(part, p) for p in a.case.magnets for part in (p.holds, p.into)[: p.magnets]]
    lying = [(part, p) for part, p in every if not _upright(a, part, p)]
    if not lying:
        return
    parts = sorted({part for part, _ in lying})
    yield say(
        "stop",
        f"Magnets cannot be closed in where their pockets lie: {', '.join(parts)}",
        measured=len(lying),
        limit=0,
        unit="pockets that lie",
        sense="at most",
        how="pockets whose axis is not upright as their part lies on the bed",
        of=(given("pockets", len(every), "", "two for each pair"),),
        reason="When the print pauses such a pocket is open on its side only: a magnet cannot be put in from above, and would fall out.",
        source="common practice",
        subjects=tuple(parts),
        remedies=(
            Remedy(label="Glue them into wider pockets", edits=(HoldByMagnets(magnets=_glued(now)),)),
            by_screws(a),
        ),
    )


@concern("caution-pauses", "plan", needs=("magnets",))
def caution_pauses(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Prints that wait for somebody who puts magnets in."""
    all_ = pauses(a)
    if not all_:
        return
    pieces = list(dict.fromkeys(p.piece for p in all_))
    yield say(
        "advice",
        f"The print of {' and '.join(pieces)} pauses for magnets",
        measured=len(all_),
        limit=0,
        unit="pauses",
        sense="at most",
        how="layers after which magnets are put in",
        of=tuple(given(p.piece, p.at_mm, "mm", p.words) for p in all_),
        reason="Somebody must be there: "
        + "; ".join(f"{p.piece}, {p.words}" for p in all_)
        + ". A drop of glue holds each magnet, which else "
        "jumps to the nozzle; try its pole on the notches before, for it cannot be turned afterwards. The bed stays warm meanwhile.",
        source="common practice",
        subjects=tuple(pieces),
    )


def _glued(m: Magnets) -> Magnets:
    return m.model_copy(update={"fixed": "glued"})


@concern("magnet-too-warm", "hardware")
def magnet_too_warm(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A magnet of a plain grade loses strength for good where it gets too warm: closed in over a hot bed, or in a hot wall."""
    now, bears = chosen(a), ref("fasteners.magnet.warm")
    # against a screw's head only the part that is held has a magnet
    held = dict.fromkeys(x for p in a.case.magnets for x in ((p.holds,) if p.screw else (p.holds, p.into)))
    seamed = dict.fromkeys(c.part for c in a.cuts if any(x.joined == "magnets" and x.dowels for x in c.cuts))
    reason = "A magnet of a plain grade that gets warmer loses some of its pull for good."
    if now is not None and now.fixed == "closed in":
        beds = {part: temperature_c(a.workshop, a.design.process_of(part), "bed") for part in held}
        over = [part for part, bed in beds.items() if bed.value > bears.value]
        if over:
            bed = max((beds[part] for part in over), key=lambda x: x.value)
            yield say(
                "weigh",
                f"Magnets are closed into {' and '.join(over)} over a bed of {bed.value:g} °C",
                measured=bed.value,
                limit=bears.value,
                unit="degC",
                sense="at most",
                how="temperature of the bed while the print goes on over the magnets",
                of=(bed,),
                reason=f"{reason} What is printed over it lies on the warm bed for hours; the nearer to the bed, the warmer.",
                source=str(bears),
                subjects=("bed", *over),
                remedies=(
                    Remedy(label="Glue them into wider pockets", edits=(HoldByMagnets(magnets=_glued(now)),)),
                    by_screws(a),
                ),
            )
    walls = {part: heat_of(a, part) for part in (*held, *(x for x in seamed if x not in held))}
    hot = [part for part, wall in walls.items() if wall.value > bears.value]
    if hot:
        wall = max((walls[part] for part in hot), key=lambda x: x.value)
        yield say(
            "weigh",
            f"The magnets in {' and '.join(hot)} get {wall.value:.0f} °C warm",
            measured=wall.value,
            limit=bears.value,
            unit="degC",
            sense="at most",
            how=f"{wall.formula}, of the warmest part that has magnets",
            of=wall.inputs,
            reason=reason,
            source=str(bears),
            subjects=("wall", *hot),
            remedies=(
                *((by_screws(a),) if any(x in held for x in hot) else ()),
                *(
                    Remedy(label=f"Join the pieces of the {x} by bolts", edits=(JoinCuts(part=x, by="bolts"),))
                    for x in hot
                    if x in seamed
                ),
            ),
        )


@concern("magnets-fall-off", "hardware", needs=("magnets",), settled=True)
def magnets_fall_off(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A part that its magnets do not keep on when the case is carried or set down."""
    held = held_by_magnets(a)
    for h in held:
        if h.low_n.value >= h.knock_n.value:
            continue
        yield say(
            "stop",
            f"The {h.part} falls off its magnets",
            measured=h.low_n.value,
            limit=h.knock_n.value,
            unit="N",
            how="least pull of all its pairs; wanted: what it weighs in a knock",
            of=(*h.low_n.inputs, *h.knock_n.inputs),
            reason=f"It weighs {h.weighs_g:.0f} g with its magnets. Set down hard, or carried upside down in a bag, it pulls five times as much.",
            source=h.knock_n.source,
            subjects=(h.part,),
            remedies=(*_magnets(others(a, 2, lambda m: holds(held, m))), by_screws(a)),
        )


@concern("magnets-hard-to-lift", "hardware", needs=("magnets",))
def magnets_hard_to_lift(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A part that only magnets hold and that fingers cannot get off: too much pull, or nowhere to take hold of it."""
    held, most = held_by_magnets(a), ref("fasteners.magnet.fingers")
    for h in held:
        if h.lift_n is None:
            yield say(
                "stop",
                f"There is nowhere to take hold of the {h.part}",
                measured=0,
                limit=1,
                unit="notches",
                how="places along its edges where a notch for a finger fits beside openings and what stands there",
                reason="Magnets hold it flush all round, and no screw tells where it opens: it would be pried off with a blade.",
                source="a finger notch wherever only magnets hold (common practice)",
                subjects=(h.part,),
                remedies=(by_screws(a),),
            )
        elif h.lift_n.value > most.value:
            yield say(
                "weigh",
                f"The {h.part} takes {h.lift_n.value:.0f} N at its notch to lift",
                measured=h.lift_n.value,
                limit=most.value,
                unit="N",
                sense="at most",
                how=h.lift_n.formula,
                of=h.lift_n.inputs,
                reason="A few fingertips do not lift so much; the edge of the notch breaks, or it comes off with a jerk.",
                source=str(most),
                subjects=(h.part,),
                remedies=(*_magnets(others(a, 2, lambda m: holds(held, m))), by_screws(a)),
            )


@concern("magnets-wrong-way", "hardware", needs=("magnets",))
def magnets_wrong_way(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 24: a part whose magnets hold it where it does not belong."""
    now, told = chosen(a), set()
    for h in held_by_magnets(a):
        worst = max(h.wrong, key=lambda w: w.net, default=None)
        if now is None or worst is None or worst.net <= 0 or (worst.on, h.part) in told:
            continue
        told.add((h.part, worst.on))  # the other way round is the same mistake
        where = f"on the place of {worst.on}" if worst.on != h.part else "on its own place"
        turned = f", turned by {worst.turned_deg} degrees" if worst.turned_deg else ""
        heads, keyed = now.against == "screw heads", HoldByMagnets(magnets=now.model_copy(update={"keyed": True}))
        planned = now.keyed and not heads
        yield say(
            "advice" if planned else "weigh",
            f"The {h.part} also holds {where}{turned}",
            measured=worst.net * 100,
            limit=0,
            unit="% of its pull",
            sense="at most",
            how="magnets that attract less those that repel",
            of=(
                given("attract", worst.attract, "", "polarity plan"),
                given("magnets", worst.magnets, "", "polarity plan"),
            ),
            reason="No choice of poles keeps parts with so few magnets apart: mark their insides."
            if planned
            else "The head of a screw is drawn by either pole. Of two magnets one can be turned, so that each part holds only where it belongs."
            if heads
            else "All show the same pole, so that parts can be exchanged; with poles by plan each holds only where it belongs.",
            source="polarity plan: every choice of poles was tried" if planned else "polarity plan",
            subjects=(h.part,),
            remedies=()
            if planned
            else (_both(a, now),)
            if heads
            else (Remedy(label="Choose the poles by plan", edits=(keyed,)),),
        )


def _both(a: Analysis, m: Magnets) -> Remedy:
    """Magnets in both parts, with poles by plan, in place of screws that they hold on to; glued where one could not be closed in."""
    if m.fixed == "closed in" and any(not _upright(a, p.into, p) for p in a.case.magnets):
        m = _glued(m)
    both = m.model_copy(update={"against": "magnets", "keyed": True})
    return Remedy(label="Put magnets in both parts", edits=(HoldByMagnets(magnets=both),))


def _upright(a: Analysis, part: str, p: MagnetPair) -> bool:
    """Whether the pocket of a magnet is open upwards or downwards as its part is printed."""
    return upright(a.design, part, next(i for i in range(3) if p.along[i]), a.case.sides)


@concern("magnet-screw-has-no-room", "hardware", needs=("magnets",))
def magnet_screw_has_no_room(a: Analysis, say: Maker) -> Iterator[Finding]:
    """A part so thin behind the joint that no screw in stock finds room for its head and its thread."""
    now = chosen(a)
    short = [p for p in a.case.magnets if p.screw is not None and p.screw.long_mm is None]
    if now is None or not short:
        return
    p = short[0]
    axis = next(i for i in range(3) if p.along[i])
    there = abs((p.boss.hi if p.along[axis] > 0 else p.boss.lo)[axis] - p.at[axis])
    yield say(
        "stop",
        f"The screws under the magnets of {p.holds} find no room in the {p.into}",
        measured=there,
        limit=room_for_mm(min(HEAD_SCREWS_MM)),
        how="plastic behind the joint; wanted: head, the shortest screw, room under its tip and a skin",
        of=(given("pairs", len(short), "", "without a screw"),),
        reason="The screw would come out on the other side, or its thread hold nothing.",
        source="common practice",
        subjects=(p.holds, p.into),
        remedies=(_both(a, now), by_screws(a)),
    )


@concern("caution-magnets", "hardware")
def caution_magnets(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Section 6: strong magnets pinch, and are dangerous if swallowed."""
    now, around = chosen(a), a.design.brief.around
    count = sum(p.magnets for p in a.case.magnets)
    count += sum(2 * len(x.dowels) for c in a.cuts for x in c.cuts if x.joined == "magnets")
    if not count:
        return
    fixed = "glued" if now is None or not a.case.magnets else now.fixed  # those of seams are glued
    pressed = fixed == "pressed"
    alone = around == "adults"
    yield say(
        "stop" if pressed and not alone else "advice",
        "Strong magnets pinch" if alone else f"{count} {'strong' if pressed else fixed} magnets, with {around} about",
        measured=count if pressed else 0,
        limit=0,
        unit="magnets that are only pressed in",
        sense="at most",
        how="two in each pair" if pressed else f"all are {fixed}",
        reason="Two that snap together pinch skin and splinter; keep them off cards and implants. Swallowed they are an emergency: two of them "
        "clamp the gut. "
        + (
            "Closed in by plastic they stay in."
            if fixed == "closed in"
            else "Glued in they stay in; look after them now and then."
            if not pressed
            else "What is only pressed in can come out."
        ),
        source="common practice",
        subjects=("magnets", fixed, around),
        remedies=(
            Remedy(label="Glue them into wider pockets", edits=(HoldByMagnets(magnets=_glued(now)),)),
            by_screws(a),
        )
        if now is not None and pressed and not alone
        else (),
    )
