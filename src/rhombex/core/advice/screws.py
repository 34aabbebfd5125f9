"""Fewer kinds of screws, as edits."""

from __future__ import annotations

from rhombex.core.analysis import Analysis
from rhombex.core.constructions import CaseHolding, OwnHolding
from rhombex.core.design import OwnJoint
from rhombex.core.edits import Edit, PutJoint, Set, Together
from rhombex.core.fit.joints import TWO_LAYERS_MM, stud_hole_mm
from rhombex.core.hardware.joint_group import JointGroup
from rhombex.core.hardware.kinds import Fewest, fewest_kinds


def take_length(a: Analysis, g: JointGroup, length_mm: float | None) -> Edit:
    """The edit that gives the screws of a line a length; None lets the stack choose again."""
    if g.path:
        return Set(path=g.path, value=length_mm)
    of = f"{_family(g)}/{g.of or g.part}"
    old = a.design.joint(of) or OwnJoint(of=of)
    return PutJoint(joint=old.model_copy(update={"screw_mm": length_mm}))


def standoff_mm(a: Analysis, g: JointGroup) -> float | None:
    """How long the standoffs are that a component would stand on: the longest bought ones under which the post still takes a stud, else the shortest; None
    where none are bought."""
    tops = [p.top_mm + p.standoff_mm for p in a.case.mounts if p.of == g.of]
    if not tops or not a.workshop.standoffs_mm:
        return None
    room = min(tops) - stud_hole_mm() - TWO_LAYERS_MM
    return max((x for x in a.workshop.standoffs_mm if x <= room + 1e-6), default=min(a.workshop.standoffs_mm))


def hold_by(a: Analysis, g: JointGroup, holding: OwnHolding | CaseHolding) -> Edit:
    """The edit that lets the screws of a line be held another way; those of the case are all held alike."""
    if g.holding_path:
        way = Set(path=g.holding_path, value=holding)
        # a rod is cut to length: what a hand chose for screws is not kept behind it
        return Together(edits=(way, Set(path=g.path, value=None))) if holding == "threaded rod" else way
    of = f"{g.key.split('/', 1)[0]}/{g.of}"
    old = a.design.joint(of) or OwnJoint(of=of)
    own = None if holding == a.design.shell.post_thread else holding
    long = standoff_mm(a, g) if holding == "standoff" else None
    return PutJoint(joint=old.model_copy(update={"holding": own, "standoff_mm": long}))


def fewer_kinds(a: Analysis) -> tuple[Fewest, tuple[Edit, ...]]:
    """The fewest kinds that serve, and the edits that take them; none where nothing would change. Where the screws of one component differ
    among themselves no one length is right for all: they stay with the stack."""
    alone = [
        g
        for g in a.joints
        if sum(x.of == g.of and x.path == g.path and _family(x) == _family(g) for x in a.joints) == 1
        or _family(g) == "cut"
    ]
    found = fewest_kinds(a.joints, a.workshop.stock)
    by_key = {g.key: g for g in alone}
    edits = tuple(
        take_length(a, by_key[c.key], c.length_mm)
        for c in found.choices
        if c.key in by_key and by_key[c.key].screw_mm != c.length_mm
    )
    return found, edits


def _family(g: JointGroup) -> str:
    return g.key.split("/", 1)[0]
