"""What components stand on: posts with a thread, pads with a screw from below, posts beside the edges of what has no holes."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache
from math import cos, radians

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import cavity
from rhombex.core.bench.stack import passed_mm
from rhombex.core.case.mounts import Mount
from rhombex.core.constructions import PostHolding
from rhombex.core.design import Design
from rhombex.core.fit.allowance import round_hole
from rhombex.core.fit.joints import (
    NUTS,
    TWO_LAYERS_MM,
    UNDER_HEAD_MM,
    boss_od_mm,
    clearance_mm,
    engagement_mm,
    from_below_aim_mm,
    from_below_mm,
    hole_depth_mm,
    hole_mm,
    nut_across_mm,
    nut_below_mm,
    nut_corners_mm,
    nut_pocket_mm,
    screw_mm,
    stock_mm,
    stud_hole_mm,
    through_sheet_mm,
)
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.shell.edges import THREAD, edge_places, held_by_edges
from rhombex.core.shell.solids import most_room
from rhombex.core.shell.spacers import held_above
from rhombex.core.space import Box, Vec3
from rhombex.core.workshop.printer import Printer


def mounts_of(
    design: Design, printer: Printer, things: tuple[Thing, ...], part: str, of_sheet: bool = False
) -> tuple[Mount, ...]:
    """A post or pad on a part's floor, under every mounting point of every component that stands on it. `of_sheet`: the floor is bought sheet, on which
    nothing can be printed: bought standoffs stand there, and what is screwed on from below lies on it."""
    if of_sheet:
        return tuple(_on_sheet(design, things, part))
    posts: list[Mount] = []
    room = cavity(design)

    @cache  # of four posts alike once
    def hole(d: float) -> float:
        return d + round_hole(design, printer, (part,), 2, d)[0].value

    for t in things:
        own = design.joint(f"posts/{t.id}")
        pinned = own.screw_mm if own else None
        if t.component.mounting not in ("posts", "through") or t.placement.on is not None:
            continue
        if not t.mounts:
            posts += _beside(design, things, t, part, hole)
            continue
        board = passed_mm(t.component)
        for m in t.mounts:
            thread, top = m.mount.thread, m.at[2]
            head_d = val(f"fasteners.{thread}.head_d") + 0.6
            if t.component.mounting == "through":
                free = hole(clearance_mm(thread))
                posts.append(
                    _through_post(t.id, m.mount.name, part, m.at, thread, free, head_d, m.mount.depth_limit_mm, pinned)
                )
                continue
            if own is not None and own.standoff_mm is not None:
                posts.append(_under_standoff(design, t.id, m.mount.name, part, m.at, thread, hole, own.standoff_mm))
                continue
            holding = _held_by(design, t.id)
            over, clamps, stud = held_above(t, (m.at[0], m.at[1]), things)
            grip = board if stud else board + over
            if holding == "nut from below":
                if not stud:
                    layer = design.process_of(part).layer_mm
                    posts.append(
                        _nut_below(
                            t.id,
                            m.mount.name,
                            part,
                            m.at,
                            thread,
                            hole,
                            grip,
                            clamps,
                            pinned,
                            design.shell.boss_od_mm,
                            layer,
                        )
                    )
                    continue
                holding = "insert"  # a standoff's stud is too short for a nut under the floor
            least, most = engagement_mm(thread, holding)
            length = None if stud else pinned or screw_mm(thread, grip, least, most)
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
                        hole_depth_mm(thread, holding), max(0.2, top - TWO_LAYERS_MM)
                    ),  # never through the floor: two layers stay
                    head_d_mm=head_d,
                    head_depth_mm=0,
                    grip_mm=grip,
                    screw_mm=length,
                    engagement_mm=reach - grip,
                    clamps=clamps,
                    stud=stud,
                    slot=most_room(m.at, (0.0, 0.0, -1.0), room) if holding == "captive nut" else None,
                )
            )
    return tuple(posts)


def _on_sheet(design: Design, things: tuple[Thing, ...], part: str) -> Iterator[Mount]:
    """Standoffs under every hole of what stands on a floor of sheet, and the screws from below of what lies on it."""
    thick = design.shell.floor_mm
    for t in things:
        if t.component.mounting not in ("posts", "through") or t.placement.on is not None:
            continue
        own = design.joint(f"posts/{t.id}")
        for m in t.mounts:
            thread, (x, y, high) = m.mount.thread, m.at
            on_it = Mount(
                of=t.id,
                mount=m.mount.name,
                part=part,
                at=(x, y),
                top_mm=thick,
                thread=thread,
                holding="nut",
                od_mm=nut_corners_mm(thread),
                hole_mm=clearance_mm(thread),
                hole_depth_mm=thick,
                head_d_mm=0.0,
                head_depth_mm=0.0,
                grip_mm=thick,
                screw_mm=None,
                engagement_mm=val("fasteners.rule.standoff_stud") - thick,
                stud=True,
                pocket_d_mm=nut_corners_mm(thread),
                standoff_mm=max(high - thick, 0.0),
            )
            if t.component.mounting == "posts":
                yield on_it
                continue
            head = val(f"fasteners.{thread}.head_d")
            least, most = through_sheet_mm(thread, high, m.mount.depth_limit_mm)
            length = own.screw_mm if own and own.screw_mm else screw_mm(thread, 0.0, least, most)
            yield on_it.model_copy(
                update={
                    "holding": "through",
                    "top_mm": high,
                    "od_mm": head,
                    "hole_depth_mm": high,
                    "head_d_mm": head,
                    "grip_mm": high,
                    "screw_mm": length,
                    "engagement_mm": (length or high) - high,
                    "stud": False,
                    "pocket_d_mm": 0.0,
                    "standoff_mm": 0.0,
                }
            )


def _beside(
    design: Design, things: tuple[Thing, ...], t: Thing, part: str, hole: Callable[[float], float]
) -> Iterator[Mount]:
    """Posts beside the edges of a component that has no holes from below."""
    flat = held_by_edges(t)
    if flat is None:
        return
    own = design.joint(f"posts/{t.id}")
    holding = _held_by(design, t.id)
    if holding in NUTS:  # a slot would open under the component; its step rises too high for a nut from below
        holding = "insert"
    od, top = design.shell.boss_od_mm or boss_od_mm(THREAD, holding), flat.box.lo[2]
    thick = flat.box.hi[2] - flat.box.lo[2]
    least, most = engagement_mm(THREAD, holding)
    length = (own.screw_mm if own else None) or screw_mm(THREAD, thick, least, most)
    gap = val("fasteners.rule.edge_gap")
    (x0, y0, _), (x1, y1, _) = flat.box.lo, flat.box.hi
    room = Box((x0 - gap, y0 - gap, top), (x1 + gap, y1 + gap, flat.box.hi[2]))
    for k, at in enumerate(edge_places(t, things, flat.box, cavity(design), od), 1):
        yield Mount(
            of=t.id,
            mount=f"edge {k}",
            part=part,
            at=at,
            top_mm=top,
            thread=THREAD,
            holding=holding,
            od_mm=od,
            hole_mm=hole(hole_mm(THREAD, holding)),
            hole_depth_mm=min(hole_depth_mm(THREAD, holding), max(0.2, top - TWO_LAYERS_MM)),
            head_d_mm=val(f"fasteners.{THREAD}.head_d"),
            head_depth_mm=0,
            grip_mm=thick,
            screw_mm=length,
            engagement_mm=(length or thick) - thick,
            beside=room,
            # the head comes to lie on the component first
            step_mm=max(thick - val("fasteners.rule.edge_press"), 0.0),
        )


def _held_by(design: Design, of: str) -> PostHolding:
    """What holds a component on its posts: as a hand says of it, else as all are held."""
    own = design.joint(f"posts/{of}")
    if own is None or own.holding is None or own.holding == "standoff":
        return design.shell.post_thread
    return own.holding


def _under_standoff(
    design: Design,
    of: str,
    mount: str,
    part: str,
    at: Vec3,
    thread: Thread,
    hole: Callable[[float], float],
    standoff_mm: float,
) -> Mount:
    """A post that is shorter by a bought standoff, whose stud it holds; in an insert where all posts are held by nuts, which a stud is too short for."""
    holding, top = design.shell.post_thread, at[2] - standoff_mm
    if holding in NUTS or holding == "nut from below":
        holding = "insert"
    return Mount(
        of=of,
        mount=mount,
        part=part,
        at=(at[0], at[1]),
        top_mm=top,
        thread=thread,
        holding=holding,
        od_mm=design.shell.boss_od_mm or boss_od_mm(thread, holding),
        hole_mm=hole(hole_mm(thread, holding)),
        hole_depth_mm=min(max(hole_depth_mm(thread, holding), stud_hole_mm()), max(0.2, top - TWO_LAYERS_MM)),
        head_d_mm=val(f"fasteners.{thread}.head_d"),
        head_depth_mm=0,
        grip_mm=0.0,
        screw_mm=None,
        engagement_mm=val("fasteners.rule.standoff_stud"),
        stud=True,
        standoff_mm=standoff_mm,
    )


def _nut_below(
    of: str,
    mount: str,
    part: str,
    at: Vec3,
    thread: Thread,
    hole: Callable[[float], float],
    passed: float,
    clamps: tuple[str, ...],
    pinned_mm: float | None,
    od_mm: float | None,
    layer_mm: float,
) -> Mount:
    """A post with a screw from above to a nut under the floor, the longest stock one whose tip stays in the nut's pocket, or the one that a hand chose."""
    shortest, longest = nut_below_mm(thread, at[2], passed)
    stock = (x for x in reversed(stock_mm(thread)) if shortest - 1e-9 <= x <= longest + 1e-9)
    length = pinned_mm or next(stock, None)
    pocket = nut_pocket_mm(thread, at[2], passed, length)
    grip = passed + at[2] - pocket
    return Mount(
        of=of,
        mount=mount,
        part=part,
        at=(at[0], at[1]),
        top_mm=at[2],
        thread=thread,
        holding="nut from below",
        od_mm=od_mm or boss_od_mm(thread, "nut from below"),
        hole_mm=hole(hole_mm(thread, "nut from below")),
        hole_depth_mm=at[2],
        head_d_mm=val(f"fasteners.{thread}.head_d") + 0.6,
        head_depth_mm=0,
        grip_mm=grip,
        screw_mm=length,
        engagement_mm=(length or grip) - grip,
        clamps=clamps,
        pocket_mm=pocket,
        pocket_d_mm=nut_across_mm(thread) / cos(radians(30)),
        bridge_mm=layer_mm,
    )


def _through_post(
    of: str,
    mount: str,
    part: str,
    at: Vec3,
    thread: Thread,
    hole_d: float,
    head_d: float,
    limit: float | None,
    pinned_mm: float | None,
) -> Mount:
    """A pad with a screw from below. The head is sunk so deep that the screw, a stock one or the one that a hand chose, ends inside the
    thread's limit."""
    shortest, longest = from_below_mm(thread, at[2], limit)
    # the longest one: it leaves the most plastic under its head
    stock = (x for x in reversed(stock_mm(thread)) if shortest - 1e-9 <= x <= longest + 1e-9)
    length = pinned_mm or next(stock, None)
    if length is None:  # too thin a stack to sink the head: it stands proud, a concern says so
        length, sink = 6.0, max(0.0, at[2] - 3.5)
    else:
        sink = min(max(at[2] - (length - from_below_aim_mm(thread, limit)), 0.0), max(at[2] - UNDER_HEAD_MM, 0.0))
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
