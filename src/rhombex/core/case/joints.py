"""What holds two parts of a case together: screws, magnets, snaps."""

from __future__ import annotations

from typing import Literal

from rhombex.core.constructions import CaseHead, CaseHolding, Grade
from rhombex.core.parts.component import Thread
from rhombex.core.space import Box, Vec3
from rhombex.core.trail import Frozen


class Joint(Frozen):
    """A screw that holds one part (`holds`) on another (`into`), with the boss it goes into. `opened`: undone whenever the case is; `pinned`: a hand chose its length; `slot`: the way in which a captive nut's slot
    is open; `rooted`: its boss stands on a wall that is part of `boss`, and that nothing may cut there.

    `at`: where its axis meets the seam, in the case's frame; `along`: the way it is driven, a unit vector along an axis of the case, so that
    its head lies on the side of `holds`. `boss`: the plastic round it in both parts, that nothing may cut. `thread_path` and `screw_path`:
    the fields of the design that choose how it holds and how long it is. `head_d_mm`: how wide its recess is, `head_depth_mm` deep, under which a countersink goes `cone_mm` deeper, and a
    countersunk screw is measured from the top of its head. `passed_mm`: what it passes of the part that it holds; `pocket_mm`: how deep under
    the other the pocket of its nut is, where it goes right through, and `bridge_mm` the layers that close it.
    """

    id: str
    name: str
    holds: str
    into: str
    at: Vec3
    along: Vec3
    boss: Box
    thread: Thread
    holding: CaseHolding
    od_mm: float
    hole_mm: float
    hole_depth_mm: float
    clearance_mm: float
    head: CaseHead
    head_d_mm: float
    head_depth_mm: float
    cone_mm: float
    grip_mm: float
    passed_mm: float
    screw_mm: float | None
    engagement_mm: float
    opened: bool
    pinned: bool
    slot: Vec3 | None
    thread_path: str
    screw_path: str
    pocket_mm: float = 0.0
    bridge_mm: float = 0.0
    rooted: bool = False

    def runs_in(self) -> Box:
        """The plastic from the end of its hole to beyond its head, with the wall under a boss that stands on one."""
        if self.rooted:
            return self.boss
        i = next(k for k in range(3) if self.along[k])
        end = self.at[i] + self.along[i] * self.hole_depth_mm
        lo, hi = list(self.boss.lo), list(self.boss.hi)
        if self.along[i] < 0:
            lo[i] = end
        else:
            hi[i] = end
        return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


class HeadScrew(Frozen):
    """A steel screw whose head a magnet holds on to, level with the joint: `head_hole_mm` wide and `head_deep_mm` deep its head's recess, then a hole of
    `hole_mm` that it cuts its thread in, `deep_mm` below the recess. `long_mm`: None where none in stock is so short."""

    thread: Thread
    head_d_mm: float
    head_hole_mm: float
    head_deep_mm: float
    hole_mm: float
    deep_mm: float
    long_mm: float | None


class MagnetPair(Frozen):
    """Two magnets face to face across a joint: one in the part that is held (`holds`), one in what it is held on (`into`), both of which have
    a pocket `deep_mm` deep.

    `at`: the middle between them, in the case's frame; `along`: from the part that is held to the other, a unit vector along an axis of the case.
    `cover_mm`: the plastic between pocket and joint, where it is closed in; `behind_mm`: the plastic of the held part that stays behind its pocket. `screw`: what is in the other part in place of a magnet. `pole`: which pole of the magnet in `into` faces out of its pocket; the
    other's faces out of the other. A block is `long_mm` long, along the axis `lies` of the case, and `d_mm` wide, as is its pocket; a disc has neither.
    """

    id: str
    name: str
    holds: str
    into: str
    at: Vec3
    along: Vec3
    boss: Box
    od_mm: float
    d_mm: float
    high_mm: float
    grade: Grade
    deep_mm: float
    holds_pocket_mm: float
    into_pocket_mm: float
    behind_mm: float
    cover_mm: float = 0.0
    pole: Literal["N", "S"] = "N"
    opened: bool = True
    screw: HeadScrew | None = None
    long_mm: float | None = None
    lies: int = 0
    holds_pocket_long_mm: float = 0.0
    into_pocket_long_mm: float = 0.0

    @property
    def magnets(self) -> int:
        """How many magnets it takes."""
        return 1 if self.screw else 2

    @property
    def hole_depth_mm(self) -> float:
        """How deep its pocket is."""
        return self.deep_mm

    def runs_in(self) -> Box:
        """Both pockets with the plastic round them."""
        i = next(k for k in range(3) if self.along[k])
        lo, hi = list(self.boss.lo), list(self.boss.hi)
        ends = sorted(self.at[i] + s * self.along[i] * (self.deep_mm + self.behind_mm) for s in (-1, 1))
        lo[i], hi[i] = max(lo[i], ends[0]), min(hi[i], ends[1])
        return Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))


class Snap(Frozen):
    """A hook of a part (`holds`) that catches in another (`into`). `at`: where its arm's outer face and its catching face meet; `inward`: from the wall into
    the room, the way it gives; `long_mm`: from its root to there; `tip_mm`: the height of its end. `standing`: its arm stands on the part that it catches for;
    else it hangs from the one that it holds."""

    id: str
    name: str
    holds: str
    into: str
    at: Vec3
    along: Vec3
    inward: Vec3
    boss: Box
    od_mm: float
    arm_mm: float
    wide_mm: float
    catch_mm: float
    long_mm: float
    tip_mm: float
    standing: bool = False
    opened: bool = True

    @property
    def hook_on(self) -> str:
        """The part that it is printed with."""
        return self.into if self.standing else self.holds

    def runs_in(self) -> Box:
        """Arm and nose with what they catch in."""
        return self.boss


def one_of_each(joints: tuple[Joint, ...]) -> tuple[Joint, ...]:
    """The first of the joints of each name: they are alike, and one voice speaks for all."""
    return tuple({j.name: j for j in reversed(joints)}.values())[::-1]
