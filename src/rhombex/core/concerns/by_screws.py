"""Screws in place of magnets or snaps, as a remedy."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Remedy
from rhombex.core.edits import Edit, HoldByMagnets, HoldBySnaps, Set
from rhombex.core.reference import val


def by_screws(a: Analysis) -> Remedy:
    """The case held by screws again, in inserts where it is opened more often than threads in plastic bear."""
    made = a.design.shell.construction
    snapped = getattr(made, "snaps", None) is not None
    edits: list[Edit] = [HoldBySnaps(snaps=None) if snapped else HoldByMagnets(magnets=None)]
    worn = val(f"limits.thread.{a.design.brief.opened}") > val("fasteners.rule.pilot_reuses")
    if not (worn and getattr(made, "joint_thread", "") == "cut in plastic"):
        return Remedy(label="Hold it by screws", edits=tuple(edits))
    inserts = Set(path="shell.construction.joint_thread", value="insert")
    return Remedy(label="Hold it by screws in inserts", edits=(*edits, inserts))
