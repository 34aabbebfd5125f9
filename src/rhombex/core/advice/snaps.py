"""Snap hooks as the Hardware stop shows them."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.constructions import Snaps, TwoHalves
from rhombex.core.edits import HoldBySnaps
from rhombex.core.hardware.snaps import SnapsHold, snaps_hold
from rhombex.core.trail import Frozen


class SnapTable(Frozen):
    """`now`: the hooks that are chosen; `holds`: what they bear, None where none found a place. `start`: the edit that takes hooks where there are none."""

    now: Snaps | None
    wanted: int
    holds: SnapsHold | None
    start: HoldBySnaps | None


def hooks_hold(a: Analysis) -> SnapsHold | None:
    """What the hooks of an analysis hold; None where there are none."""
    return snaps_hold(a.design, a.case, a.part_mass_g())


def snap_table(a: Analysis) -> SnapTable | None:
    """The hooks of a case; None where its kind has no lid that they could hang from."""
    halves = a.design.shell.construction
    if not isinstance(halves, TwoHalves):
        return None
    return SnapTable(
        now=halves.snaps,
        wanted=a.case.wanted_joints if halves.snaps else 0,
        holds=hooks_hold(a),
        start=HoldBySnaps(snaps=Snaps()) if halves.snaps is None else None,
    )
