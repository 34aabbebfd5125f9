"""An analysis and what is thought of it made into what the browser is told. What breaks on the way is told, and the rest shown."""

from __future__ import annotations

from functools import partial

from rhombex.core.advice.coupons import coupons
from rhombex.core.advice.pauses import Pause, pauses
from rhombex.core.advice.sheet_held import held_by
from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.begun import begun
from rhombex.core.bench.leads import length_needed
from rhombex.core.bench.stack import height_of
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.brief.answers import follows
from rhombex.core.brief.asks import Ask, asks
from rhombex.core.case import Case
from rhombex.core.concerns import Finding
from rhombex.core.concerns.document import told
from rhombex.core.design import Speeds
from rhombex.core.faults import Faults
from rhombex.core.plan.tally import TallyItem, bears_c, tally
from rhombex.core.process.settings import held_speeds, settings
from rhombex.core.shell.carrier import carrier
from rhombex.core.shell.props import held_at_one_end
from rhombex.core.stance import stood_size
from rhombex.core.wishes import Wish, wishes
from rhombex.store.designs import Step
from rhombex.web.views import LeadOut, PieceOut, PortOut, SolidOut, StandsOut, StepOut, ThingOut, View


def view_of(
    a: Analysis, findings: tuple[Finding, ...], kept_tally: dict[str, float], remedies_known: bool = True
) -> View:
    """Analysis and findings, with all their remedies or without those that take a search, as one value. What breaks on the way is told as a concern, and the rest is shown."""
    faults = Faults()
    no_wishes: tuple[Wish, ...] = ()
    no_asks: tuple[Ask, ...] = ()
    no_pauses: tuple[Pause, ...] = ()
    no_tally: tuple[TallyItem, ...] = ()
    wished = faults.attempt("stage", "the wish list", lambda: wishes(a, findings), no_wishes)
    asked = faults.attempt("stage", "the other wishes", lambda: asks(a), no_asks)
    sums = faults.attempt("stage", "the tally", lambda: tally(a), no_tally)
    open_ = wanted_ports(a.design)
    ends = {p.ref: p.centre for t in a.things for p in t.ports}
    leads = []
    for lead in a.design.leads:
        need = faults.attempt("stage", f"the length of {lead.name}", partial(length_needed, lead, a.things), None)
        if need is not None:
            leads.append(
                LeadOut(
                    id=lead.id,
                    name=lead.name,
                    start=ends[lead.start],
                    end=ends[lead.end],
                    length_mm=lead.length_mm,
                    needed=need,
                )
            )
    return View(
        things=tuple(
            ThingOut(
                id=t.id,
                name=t.name,
                label=t.component.label,
                family=t.component.family,
                mounting=t.component.mounting,
                face=t.face,
                turn=t.placement.turn,
                rides_on=t.placement.on,
                origin=t.frame.origin,
                at_mm=t.placement.at_mm,
                solids=tuple(
                    SolidOut(
                        name=s.name,
                        role=s.role,
                        lo=s.box.lo,
                        hi=s.box.hi,
                        round_axis=s.round_axis,
                        corners=s.corners,
                    )
                    for s in t.solids
                ),
                ports=tuple(
                    PortOut(
                        ref=p.ref,
                        name=p.name,
                        kind=p.port.kind,
                        centre=p.centre,
                        face=p.face,
                        needed=p.ref in open_,
                    )
                    for p in t.ports
                ),
                heat_w=t.component.heat_w,
                mass_g=t.component.mass_g,
                mark=t.component.mark,
                source=t.component.source,
                stand=t.placement.stand,
                one_end=held_at_one_end(t),
                rests_on=t.placement.rests_on,
                slotted=t.placement.slotted,
                height_sure=height_of(a.design, t.id),
                fan=t.component.air is not None and t.face is not None,
                blows=t.placement.blows,
                turns=t.component.shape,
                comes_with=carrier(a.case, a.things, t),
            )
            for t in a.things
        ),
        leads=tuple(leads),
        wishes=wished,
        asks=asked,
        follows=follows(a.design.brief),
        case=a.case,
        stands=_stands(a.case),
        sheet_held=held_by(a.design.shell.construction),
        openings=a.openings,
        cuts=a.cuts,
        pieces=tuple(
            PieceOut(
                name=p.name,
                part=p.part,
                printed_as=p.printed_as,
                digest=p.digest,
                case_digest=a.pieces_in_case[p.name].digest,
                bbox_mm=p.bbox_mm,
                fits_bed=p.fits_bed,
                angle_deg=p.angle_deg,
                over_mm=p.over_mm,
                estimate=p.estimate,
                process=a.design.process_of(p.printed_as),
                filament=a.workshop.filament_name(a.design.process_of(p.printed_as)),
                held=faults.attempt("estimate", f"the speeds of the {p.name}", partial(_held, a, p), None),
                own_process=any(x.part == p.printed_as for x in a.design.part_processes),
                down=p.down,
            )
            for p in a.pieces
        ),
        pauses=faults.attempt("stage", "pauses", lambda: pauses(a), no_pauses),
        coupons=coupons(a),
        sheets=a.sheets,
        printer=a.printer,
        need=a.need,
        ladder=a.ladder,
        bears=bears_c(a),
        bill=a.bill,
        tally=sums,
        kept_tally=kept_tally,
        concerns=(*(told(f) for f in faults.found), *findings),
        walls_round=walls_round(a),
        remedies_known=remedies_known,
        begun=begun(a),
    )


def _stands(case: Case) -> StandsOut:
    foot = case.foot
    stuck = foot is not None and not foot.stud_mm
    return StandsOut(
        frame=case.stance,
        size_mm=stood_size(case.stands_on, case.box_mm),
        over_all_mm=case.stood_mm,
        feet=case.stands_at if stuck else (),
        foot_mm=(foot.d_mm, foot.high_mm) if foot else (0.0, 0.0),
    )


def _held(a: Analysis, p: PrintedPiece) -> Speeds:
    return held_speeds(settings(a.design.process_of(p.printed_as), a.printer))


def step_out(s: Step) -> StepOut:
    return StepOut(number=s.number, said=s.said, kept_name=s.kept_name, at=s.at, current=s.current)
