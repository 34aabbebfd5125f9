"""The Hardware stop in one value: every joint with what it bears and how it is reached, the fewest kinds of screws, what is to be bought."""

from __future__ import annotations

from rhombex.core.advice.magnet_table import MagnetTable, magnet_table
from rhombex.core.advice.screws import fewer_kinds, hold_by, standoff_mm, take_length
from rhombex.core.advice.snaps import SnapTable, snap_table
from rhombex.core.analysis import Analysis
from rhombex.core.constructions import (
    CASE_HOLDINGS,
    HOLDINGS,
    NUT_KINDS,
    POST_HOLDINGS,
    THREADED,
    THROUGH_KINDS,
    CaseHead,
    CaseHolding,
    OwnHolding,
)
from rhombex.core.edits import Edit
from rhombex.core.fit.heads import head_size
from rhombex.core.hardware.bill import screw_words
from rhombex.core.hardware.joint_group import Into, JointGroup
from rhombex.core.hardware.kinds import Fewest
from rhombex.core.hardware.reach import Reach
from rhombex.core.hardware.shopping import Shopping, shopping
from rhombex.core.hardware.strength import Bears, bears
from rhombex.core.parts.threads import label, screw_size
from rhombex.core.reference import ref, val
from rhombex.core.shell.handle import HANDLE
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up


class LengthOffer(Frozen):
    """A stock length that serves, in the trade's words, and the edit that takes it."""

    length_mm: float
    words: str
    edit: Edit


class HoldingOffer(Frozen):
    """Another way to hold the screws of a line, and the edit that takes it."""

    holding: OwnHolding | CaseHolding
    edit: Edit


class JointRow(Frozen):
    """One line of the table. `opened`: how often it is undone over the life of the case, with why; `engaged_mm`, `tip_mm`: thread that holds,
    and room left beyond the screw's tip. `by_stack`: the edit that lets the stack choose its length; `heads`: of the case's screws what their heads are wished to be."""

    joint: JointGroup
    screw: str
    thread: str
    engaged_mm: Shown
    tip_mm: Shown
    heads: CaseHead | None
    head_d_mm: Shown
    head_k_mm: Shown
    d_mm: Shown
    opened: Trail
    bears: Bears
    reach: Reach
    lengths: tuple[LengthOffer, ...]
    holdings: tuple[HoldingOffer, ...]
    held_by: Into
    by_stack: Edit | None


class HardwareTable(Frozen):
    """Everything that the Hardware stop shows. `edits`: take the fewest kinds; `magnets`, `snaps`: None where such a case is not held
    by any."""

    rows: tuple[JointRow, ...]
    fewest: Fewest
    edits: tuple[Edit, ...]
    shopping: Shopping
    magnets: MagnetTable | None
    snaps: SnapTable | None


def hardware_table(a: Analysis) -> HardwareTable:
    """The table of joints of an analysis."""
    found, edits = fewer_kinds(a)
    return HardwareTable(
        rows=tuple(_row(a, g, r) for g, r in zip(a.joints, a.reach, strict=True)),
        fewest=found,
        edits=edits,
        shopping=shopping(a.bill, a.workshop.stock, a.sheets),
        magnets=magnet_table(a),
        snaps=snap_table(a),
    )


def _row(a: Analysis, g: JointGroup, reach: Reach) -> JointRow:
    filament = a.design.process_of(g.part).filament if g.part else a.design.process.filament
    # a nut slid in from the side wants bosses that are open to the room, and no component over its slot
    posts = g.key.startswith("posts/")
    chosen = bool(g.holding_path) or posts  # bridging plates have their inserts, standoffs on sheet their nuts
    own = a.design.joint(f"posts/{g.of}") if posts else None
    on_standoffs = own is not None and own.holding == "standoff"
    ways: tuple[OwnHolding | CaseHolding, ...] = (
        POST_HOLDINGS if posts and (on_standoffs or g.head != "stud") else HOLDINGS
    )
    if posts and not g.beside and (on_standoffs or g.head != "stud") and standoff_mm(a, g) is not None:
        ways = (*ways, "standoff")
    if g.holding_path and a.case.kind in THROUGH_KINDS and a.case.floor_sheet is None:
        ways = CASE_HOLDINGS
    if g.beside or g.into == HANDLE or (g.holding_path and a.case.kind not in NUT_KINDS):
        ways = THREADED
    opened = ref(f"limits.thread.{a.design.brief.opened}")
    once = Trail(value=1, unit="times", formula="put together once", source="it is not undone when the case is opened")
    often = Trail(
        value=opened.value,
        unit="times",
        formula=f"openings over the life of a case that is opened {a.design.brief.opened}",
        inputs=(looked_up("openings", opened), given("screws", g.count, "", "this table")),
        source=str(opened),
    )
    return JointRow(
        joint=g,
        held_by="standoff" if on_standoffs else g.holding,
        screw="" if g.head == "stud" else screw_words(g),
        thread=label(g.thread),
        engaged_mm=g.engaged_mm,
        tip_mm=0.0 if g.screw_mm is None else g.end_mm - g.screw_mm,
        head_d_mm=val(f"fasteners.{g.thread}.nut_s") if g.head == "nut" else head_size(g.thread, g.head).d_mm,
        head_k_mm=val(f"fasteners.{g.thread}.nut_m") if g.head == "nut" else head_size(g.thread, g.head).k_mm,
        heads=a.design.shell.heads if g.key.startswith("case/") and g.into != HANDLE and g.head != "nut" else None,
        d_mm=val(f"fasteners.{g.thread}.d"),
        opened=often if g.opened else once,
        bears=bears(g, filament),
        reach=reach,
        lengths=tuple(
            LengthOffer(length_mm=x, words=screw_size(g.thread, x), edit=take_length(a, g, x)) for x in g.serves
        ),
        holdings=tuple(HoldingOffer(holding=x, edit=hold_by(a, g, x)) for x in ways)
        if g.holding in (*POST_HOLDINGS, *CASE_HOLDINGS) and chosen
        else (),
        by_stack=take_length(a, g, None) if g.by_hand else None,
    )
