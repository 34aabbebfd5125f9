"""What components stand on: posts with a thread, and pads with a screw from below."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Mount
from rhombex.core.constructions import Holding
from rhombex.core.design import Design
from rhombex.core.fit.allowance import round_hole
from rhombex.core.fit.joints import boss_od_mm, clearance_mm, engagement_mm, hole_depth_mm, hole_mm, screw_mm, stock_mm
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.shell.spacers import held_above
from rhombex.core.space import Vec3
from rhombex.core.workshop.printer import Printer


def mounts_of(design: Design, printer: Printer, things: tuple[Thing, ...], part: str) -> tuple[Mount, ...]:
    """A post or pad on a part's floor, under every mounting point of every component that stands on it."""
    posts: list[Mount] = []

    def hole(d: float) -> float:
        return d + round_hole(design, printer, (part,), 2, d)[0].value

    for t in things:
        if t.component.mounting not in ("posts", "through") or t.placement.on is not None:
            continue
        board = next((s.box.size[2] for s in t.solids if s.role == "board"), 0.0)
        for m in t.mounts:
            thread, top = m.mount.thread, m.at[2]
            head_d = val(f"fasteners.{thread}.head_d") + 0.6
            if t.component.mounting == "through":
                free = hole(clearance_mm(thread))
                posts.append(
                    _through_post(t.id, m.mount.name, part, m.at, thread, free, head_d, m.mount.depth_limit_mm)
                )
                continue
            holding: Holding = design.shell.post_thread
            least, most = engagement_mm(thread, holding)
            over, clamps, stud = held_above(t, (m.at[0], m.at[1]), things)
            grip = board if stud else board + over
            length = None if stud else screw_mm(thread, grip, least, most)
            reach = val("fasteners.rule.standoff_stud") if stud else length or grip
            posts.append(
                Mount(
                    of=t.id,
                    mount=m.mount.name,
                    part=part,
                    at=(m.at[0], m.at[1]),
                    top_mm=top,
                    thread=thread,
                    holding=holding,
                    od_mm=design.shell.boss_od_mm or boss_od_mm(thread, holding),
                    hole_mm=hole(hole_mm(thread, holding)),
                    hole_depth_mm=min(
                        hole_depth_mm(thread, holding), max(0.2, top - 2 * 0.4)
                    ),  # never through the floor: two layers stay
                    head_d_mm=head_d,
                    head_depth_mm=0,
                    grip_mm=grip,
                    screw_mm=length,
                    engagement_mm=reach - grip,
                    clamps=clamps,
                    stud=stud,
                )
            )
    return tuple(posts)


def _through_post(
    of: str, mount: str, part: str, at: Vec3, thread: Thread, hole_d: float, head_d: float, limit: float | None
) -> Mount:
    """A pad with a screw from below. The head is sunk so deep that a stock screw ends inside the thread's limit."""
    most = limit if limit is not None else 2 * val(f"fasteners.{thread}.d")
    head_k = val(f"fasteners.{thread}.head_k") + 0.3
    target = most - 0.5
    best: tuple[float, float] | None = None
    for length in stock_mm(thread):
        sink = at[2] - (length - target)
        if sink >= head_k and at[2] - sink >= 1.2:
            best = (length, sink)
    if best is None:  # too thin a stack to sink the head: it stands proud, a concern says so
        best = (6.0, max(0.0, at[2] - 3.5))
    length, sink = best
    grip = at[2] - sink
    return Mount(
        of=of,
        mount=mount,
        part=part,
        at=(at[0], at[1]),
        top_mm=at[2],
        thread=thread,
        holding="through",
        od_mm=max(head_d + 2 * 1.8, 8.0),
        hole_mm=hole_d,
        hole_depth_mm=at[2],
        head_d_mm=head_d,
        head_depth_mm=sink,
        grip_mm=grip,
        screw_mm=length,
        engagement_mm=length - grip,
    )
