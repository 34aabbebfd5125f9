"""What the browser is told: the design, and everything derived from it, as one value."""

from __future__ import annotations

from typing import Literal

from rhombex.core.advice.coupons import CouponRow
from rhombex.core.advice.pauses import Pause
from rhombex.core.advice.sheet_held import HeldBy
from rhombex.core.air.ladder import Ladder
from rhombex.core.air.need import AirNeed
from rhombex.core.brief.asks import Ask
from rhombex.core.case import Case
from rhombex.core.concerns import Finding
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design, Direction, Process, RestsOn, Speeds, Stand
from rhombex.core.edits import FitCavity
from rhombex.core.hardware.bill import Line
from rhombex.core.hardware.sheets import BoughtSheet
from rhombex.core.openings.opening import Openings
from rhombex.core.plan.tally import TallyItem
from rhombex.core.process.estimate import Estimate
from rhombex.core.space import Face, Frame, Vec3
from rhombex.core.trail import Frozen, Trail
from rhombex.core.wishes import Wish
from rhombex.core.workshop.printer import Printer


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
    one_end: bool
    rests_on: RestsOn | None
    slotted: bool
    height_sure: Trail
    fan: bool
    blows: Literal["in", "out"] | None
    turns: str | None
    comes_with: str | None


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
    printed_as: str
    digest: str
    case_digest: str
    bbox_mm: Vec3
    fits_bed: bool
    angle_deg: float
    over_mm: float
    estimate: Estimate | None
    process: Process
    filament: str
    held: Speeds | None
    own_process: bool
    down: Direction


class StandsOut(Frozen):
    """The case as it stands: its frame, with x to the right, y to the back and z up as its user sees it; width, depth and height of its box and over all; where it
    is stuck on feet, in the case's frame, and how high and broad these are."""

    frame: Frame
    size_mm: Vec3
    over_all_mm: Vec3
    feet: tuple[Vec3, ...]
    foot_mm: tuple[float, float]


class View(Frozen):
    """All that follows from the design."""

    things: tuple[ThingOut, ...]
    leads: tuple[LeadOut, ...]
    wishes: tuple[Wish, ...]
    asks: tuple[Ask, ...]
    follows: dict[str, str]
    case: Case
    stands: StandsOut
    sheet_held: HeldBy | None
    openings: Openings
    cuts: tuple[PartCuts, ...]
    pieces: tuple[PieceOut, ...]
    pauses: tuple[Pause, ...]
    coupons: tuple[CouponRow, ...]
    sheets: tuple[BoughtSheet, ...]
    printer: Printer
    need: AirNeed
    ladder: Ladder
    bears: Trail
    bill: tuple[Line, ...]
    tally: tuple[TallyItem, ...]
    kept_tally: dict[str, float]
    concerns: tuple[Finding, ...]
    remedies_known: bool  # else some take a search: see `concerns` of the design
    begun: tuple[str, ...]
    walls_round: FitCavity


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
