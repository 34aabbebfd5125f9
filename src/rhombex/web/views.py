"""What the browser is told: the design, and everything derived from it, as one value."""

from __future__ import annotations

from functools import partial
from threading import RLock

from rhombex.core.air.ladder import Ladder
from rhombex.core.air.need import AirNeed
from rhombex.core.analysis import Analysis, PrintedPiece, analyse
from rhombex.core.begun import begun
from rhombex.core.bench.leads import length_needed
from rhombex.core.bench.stack import height_of
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.brief.answers import follows
from rhombex.core.brief.asks import Ask, asks
from rhombex.core.case import Case
from rhombex.core.concerns import Finding, judge
from rhombex.core.concerns.document import told
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design, Direction, Process, Speeds, Stand
from rhombex.core.faults import Faults
from rhombex.core.geometry.recipe import Solid
from rhombex.core.hardware.bill import Line
from rhombex.core.memo import Memo
from rhombex.core.openings.opening import Openings
from rhombex.core.plan.tally import TallyItem, bears_c, tally
from rhombex.core.process.estimate import Estimate
from rhombex.core.process.laying import down_of
from rhombex.core.process.settings import held_speeds, settings
from rhombex.core.space import Face, Vec3
from rhombex.core.trail import Frozen, Trail
from rhombex.core.wishes import Wish, wishes
from rhombex.core.workshop import Printer
from rhombex.store.designs import Designs, State, Step
from rhombex.store.workshops import Workshops


class SolidOut(Frozen):
    name: str
    role: str
    lo: Vec3
    hi: Vec3
    round_axis: int | None
    corners: tuple[Vec3, ...]


class PortOut(Frozen):
    ref: str
    name: str
    kind: str
    centre: Vec3
    face: Face
    needed: bool


class ThingOut(Frozen):
    id: str
    name: str
    label: str
    family: str
    mounting: str
    face: Face | None
    turn: int
    rides_on: str | None
    origin: Vec3
    at_mm: Vec3
    solids: tuple[SolidOut, ...]
    ports: tuple[PortOut, ...]
    heat_w: float
    mass_g: float
    mark: str
    source: str
    stand: Stand | None
    height_sure: Trail
    turns: str | None


class LeadOut(Frozen):
    id: str
    name: str
    start: Vec3
    end: Vec3
    length_mm: float
    needed: Trail


class PieceOut(Frozen):
    name: str
    part: str
    digest: str
    case_digest: str
    bbox_mm: Vec3
    fits_bed: bool
    turned: bool
    over_mm: float
    estimate: Estimate | None
    process: Process
    held: Speeds | None
    own_process: bool
    down: Direction


class View(Frozen):
    """All that follows from the design."""

    things: tuple[ThingOut, ...]
    leads: tuple[LeadOut, ...]
    wishes: tuple[Wish, ...]
    asks: tuple[Ask, ...]
    follows: dict[str, str]
    case: Case
    openings: Openings
    cuts: tuple[PartCuts, ...]
    pieces: tuple[PieceOut, ...]
    printer: Printer
    need: AirNeed
    ladder: Ladder
    bears: Trail
    bill: tuple[Line, ...]
    tally: tuple[TallyItem, ...]
    kept_tally: dict[str, float]
    concerns: tuple[Finding, ...]
    begun: tuple[str, ...]


class StateOut(Frozen):
    """A design as it stands, for one window."""

    id: str
    version: int
    revision: int
    said: str
    can_undo: bool
    can_redo: bool
    design: Design
    view: View


class StepOut(Frozen):
    number: int
    said: str
    kept_name: str | None
    at: str
    current: bool


KEPT_RECIPES = 1500  # small trees; with fewer, fifty windows drove one another's out


class Desk:
    """Analyses at hand, and the recipes behind the meshes that windows ask for."""

    def __init__(self, designs: Designs, workshops: Workshops) -> None:
        self.designs = designs
        self.workshops = workshops
        self.recipes: Memo[str, Solid] = Memo(KEPT_RECIPES)
        self._views: Memo[tuple[Design, int, bool], tuple[Analysis, tuple[Finding, ...]]] = Memo(16)
        self._lock = RLock()

    def look(self, design: Design, quick: bool = True) -> tuple[Analysis, tuple[Finding, ...]]:
        """The analysis of a design and what is thought of it; the last ones are remembered.

        quick: hours that are not settled yet are told at the level of the preview.
        """
        version, workshop = self.workshops.read()
        with self._lock:
            key = (design, version, quick)
            found = self._views.get((design, version, False)) or self._views.get(key)
            if found is None:
                a = analyse(design, workshop, "best known" if quick else "settled")
                found = self._views.put(key, (a, judge(a)))
                for r in (*a.piece_recipes.values(), *a.pieces_in_case.values()):
                    self.recipes.put(r.digest, r)
            return found

    def recipe(self, digest: str) -> Solid | None:
        """The recipe behind a mesh that a window asks for; one that is asked for stays at hand."""
        return self.recipes.get(digest)

    def _sums(self, design: Design, quick: bool) -> dict[str, float]:
        return {t.key: t.trail.value for t in tally(self.look(design, quick)[0])}

    def state(self, s: State, quick: bool = True) -> StateOut:
        a, findings = self.look(s.design, quick)
        kept = self.designs.kept(s.id)
        nothing: dict[str, float] = {}
        before = nothing
        if kept is not None:
            before = Faults().attempt("stage", "", lambda: self._sums(kept, quick), nothing)
        return StateOut(
            id=s.id,
            version=s.version,
            revision=s.revision,
            said=s.said,
            can_undo=s.can_undo,
            can_redo=s.can_redo,
            design=s.design,
            view=view_of(a, findings, before),
        )


def view_of(a: Analysis, findings: tuple[Finding, ...], kept_tally: dict[str, float]) -> View:
    """Analysis and findings as one value. What breaks on the way is told as a concern, and the rest is shown."""
    faults = Faults()
    no_wishes: tuple[Wish, ...] = ()
    no_asks: tuple[Ask, ...] = ()
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
                height_sure=height_of(a.design, t.id),
                turns=t.component.shape,
            )
            for t in a.things
        ),
        leads=tuple(leads),
        wishes=wished,
        asks=asked,
        follows=follows(a.design.brief),
        case=a.case,
        openings=a.openings,
        cuts=a.cuts,
        pieces=tuple(
            PieceOut(
                name=p.name,
                part=p.part,
                digest=p.digest,
                case_digest=a.pieces_in_case[p.name].digest,
                bbox_mm=p.bbox_mm,
                fits_bed=p.fits_bed,
                turned=p.turned,
                over_mm=p.over_mm,
                estimate=p.estimate,
                process=a.design.process_of(p.part),
                held=faults.attempt("estimate", f"the speeds of the {p.name}", partial(_held, a, p), None),
                own_process=any(x.part == p.part for x in a.design.part_processes),
                down=down_of(a.design, a.case.part(p.part)),
            )
            for p in a.pieces
        ),
        printer=a.printer,
        need=a.need,
        ladder=a.ladder,
        bears=bears_c(a),
        bill=a.bill,
        tally=sums,
        kept_tally=kept_tally,
        concerns=(*(told(f) for f in faults.found), *findings),
        begun=begun(a),
    )


def _held(a: Analysis, p: PrintedPiece) -> Speeds:
    return held_speeds(settings(a.design.process_of(p.part), a.printer))


def step_out(s: Step) -> StepOut:
    return StepOut(number=s.number, said=s.said, kept_name=s.kept_name, at=s.at, current=s.current)
