"""Snap hooks as the Hardware stop shows them."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.constructions import CoreAndWrap, Snaps, TwoHalves
from rhombex.core.edits import HoldBySnaps
from rhombex.core.hardware.snaps import SnapsHold, snaps_hold
from rhombex.core.shell.core_of_sheet import CORE
from rhombex.core.trail import Frozen


class SnapTable(Frozen):
    """`now`: the hooks that are chosen; `held`: the part that they hold, `hook_on`: the one that they are printed with; `holds`: what they bear, None where none
    found a place. `start`: the edit that takes hooks where there are none."""

    now: Snaps | None
    held: str
    hook_on: str
    wanted: int
    holds: SnapsHold | None
    start: HoldBySnaps | None


def hooks_hold(a: Analysis) -> SnapsHold | None:
    """What the hooks of an analysis hold; None where there are none."""
    return snaps_hold(a.design, a.case, a.part_mass_g())


def snap_table(a: Analysis) -> SnapTable | None:
    """The hooks of a case; None where its kind has nothing that they could hold, or a core of sheet that they cannot stand on."""
    made = a.design.shell.construction
    if not isinstance(made, TwoHalves | CoreAndWrap) or (isinstance(made, CoreAndWrap) and made.floor == "sheet"):
        return None
    return SnapTable(
        now=made.snaps,
        held=a.case.held,
        hook_on=CORE if isinstance(made, CoreAndWrap) else a.case.held,
        wanted=a.case.wanted_joints if made.snaps else 0,
        holds=hooks_hold(a),
        start=HoldBySnaps(snaps=Snaps()) if made.snaps is None else None,
    )
