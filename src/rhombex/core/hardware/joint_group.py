"""One line of the table of joints: screws that are alike, what they pass, and where they are."""

from __future__ import annotations

from typing import Literal

from rhombex.core.fit.joints import nut_mm, nut_slot_mm, stock_mm
from rhombex.core.parts.component import Thread
from rhombex.core.parts.threads import INCH
from rhombex.core.reference import val
from rhombex.core.space import Vec3
from rhombex.core.trail import Frozen, Shown

Into = Literal[
    "insert",
    "cut in plastic",
    "captive nut",
    "nut from below",
    "through bolt",
    "threaded rod",
    "nut",
    "own thread",
    "standoff",
]
Head = Literal["socket cap", "button head", "countersunk", "pan head", "stud", "nut"]
# What no length of stock is taken for: a standoff's stud, a rod that is cut to length.
NO_SCREW = ("stud", "nut")
Kind = Literal["printed", "component", "spacer", "insert", "plastic", "nut", "standoff"]


class StackLayer(Frozen):
    """What a screw passes or stands in, from and to so far under its head, mm; `thread`: it holds there. `free`: a hole beyond the screw's
    tip or round it."""

    what: str
    kind: Kind
    from_mm: Shown
    to_mm: Shown
    thread: bool = False


class ScrewSeat(Frozen):
    """Where one of the screws is: under its head, and the way it is driven, in the case's frame."""

    at: Vec3
    along: Vec3


class JointGroup(Frozen):
    """Screws that are alike: one line of the table.

    `key`: `case/<name>`, `posts/<id>`, `face/<id>`, `on/<id>`, `feet/case`, `pane/<opening>`, `cut/<part>` or `bridge/<part>`, with a number where the screws of one component differ; `of`: that
    component, empty for the case and for cuts. `path`: the field of
    the design that sets their length; where it is empty PutJoint does. `least_mm` to `most_mm`: the lengths that serve; `screw_mm`: the one
    that is taken, None where no stock length serves; of a standoff's stud how long it is, of a rod with a nut for its head how far it reaches under that. `end_mm`: where the hole ends under the head.
    """

    key: str
    of: str
    name: str
    holds: str
    into: str
    part: str
    count: int
    thread: Thread
    holding: Into
    head: Head
    sunk_mm: Shown
    screw_mm: float | None
    by_hand: bool
    least_mm: Shown
    most_mm: Shown
    grip_mm: Shown
    least_thread_mm: Shown
    end_mm: Shown
    layers: tuple[StackLayer, ...]
    insert_mm: float | None
    standoff_mm: float | None
    opened: bool
    path: str
    holding_path: str
    seats: tuple[ScrewSeat, ...]
    head_on: Literal["plastic", "board", "metal"]
    beside: bool = False

    @property
    def engaged_mm(self) -> float:
        """How much of the screw stands in what holds it."""
        return 0.0 if self.screw_mm is None else self.screw_mm - self.grip_mm

    @property
    def serves(self) -> tuple[float, ...]:
        """The stock lengths that would do."""
        if self.head in NO_SCREW:
            return ()
        return tuple(x for x in stock_mm(self.thread) if self.least_mm - 1e-6 <= x <= self.most_mm + 1e-6)


def insert_of(thread: Thread, holding: str) -> float | None:
    return val(f"fasteners.{thread}.insert_length") if holding == "insert" else None


def held_in(part: str, thread: Thread, holding: str, grip: float, deep: float) -> tuple[StackLayer, ...]:
    """What holds a screw in a printed boss or post: an insert with plastic under it, or the plastic itself."""
    if holding == "insert":
        end = grip + min(val(f"fasteners.{thread}.insert_length"), deep)
        insert = StackLayer(what="insert", kind="insert", from_mm=grip, to_mm=end, thread=True)
        return (insert, StackLayer(what=part, kind="plastic", from_mm=end, to_mm=grip + deep))
    if holding == "captive nut":
        a, b = (grip + x for x in nut_slot_mm(thread))
        return (
            StackLayer(what=part, kind="plastic", from_mm=grip, to_mm=a),
            StackLayer(what="nut", kind="nut", from_mm=a, to_mm=min(b, grip + deep), thread=True),
            StackLayer(what=f"{part}, below", kind="plastic", from_mm=min(b, grip + deep), to_mm=grip + deep),
        )
    return (StackLayer(what=part, kind="plastic", from_mm=grip, to_mm=grip + deep, thread=True),)


def over_nut(part: str, thread: Thread, passed_mm: float, grip_mm: float) -> tuple[StackLayer, ...]:
    """What a screw passes of a part to a nut in a pocket of its underside, and the nut."""
    end = grip_mm + val(f"fasteners.{thread}.nut_m")
    return (
        StackLayer(what=part, kind="plastic", from_mm=passed_mm, to_mm=grip_mm),
        StackLayer(what="nut", kind="nut", from_mm=grip_mm, to_mm=end, thread=True),
    )


def head_of(thread: Thread) -> Literal["socket cap", "pan head"]:
    return "pan head" if thread == INCH else "socket cap"


def with_nuts(
    key: str,
    name: str,
    holds: str,
    into: str,
    part: str,
    passed: tuple[StackLayer, ...],
    seats: list[ScrewSeat],
    *,
    thread: Thread,
    screw_mm: float | None,
    by_hand: bool,
    head_on: Literal["plastic", "board", "metal"] = "plastic",
    path: str = "",
) -> JointGroup:
    """Screws through all that they pass, from their heads down, with a nut each behind it."""
    grip, high, need = passed[-1].to_mm, val(f"fasteners.{thread}.nut_m"), nut_mm(thread)
    return JointGroup(
        key=key,
        of="",
        name=name,
        holds=holds,
        into=into,
        part=part,
        count=len(seats),
        thread=thread,
        holding="nut",
        head=head_of(thread),
        sunk_mm=0.0,
        screw_mm=screw_mm,
        by_hand=by_hand,
        least_mm=grip + need,
        most_mm=grip + need + val("fasteners.rule.nut_over"),
        grip_mm=grip,
        least_thread_mm=need,
        end_mm=grip + high,
        layers=(*passed, StackLayer(what="nut", kind="nut", from_mm=grip, to_mm=grip + high, thread=True)),
        insert_mm=None,
        standoff_mm=None,
        opened=False,
        path=path,
        holding_path="",
        seats=tuple(seats),
        head_on=head_on,
    )
