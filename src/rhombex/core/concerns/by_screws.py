"""Screws in place of magnets or snaps, as a remedy."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Remedy
from rhombex.core.edits import Edit, HoldByMagnets, HoldBySnaps, Set
from rhombex.core.reference import val


def by_screws(a: Analysis) -> Remedy:
    """The case held by screws again, in inserts where it is opened more often than threads in plastic bear."""
    away: dict[str, Edit] = {"snaps": HoldBySnaps(snaps=None), "magnets": HoldByMagnets(magnets=None)}
    now = tuple(e for x, e in away.items() if getattr(a.design.shell.construction, x, None) is not None)
    inserts = in_inserts(a)
    return Remedy(label=f"Hold it by screws{' in inserts' if inserts else ''}", edits=(*now, *inserts))


def in_inserts(a: Analysis) -> tuple[Edit, ...]:
    """Inserts for the screws of the case that there would be, where threads in plastic would wear out."""
    worn = val(f"limits.thread.{a.design.brief.opened}") > val("fasteners.rule.pilot_reuses")
    if not (worn and getattr(a.design.shell.construction, "joint_thread", "") == "cut in plastic"):
        return ()
    return (Set(path="shell.construction.joint_thread", value="insert"),)
