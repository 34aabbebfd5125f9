"""The plan of a two-halves case: rim, posts under every mounting point, lid bosses where nothing is in the way."""

from __future__ import annotations

from math import hypot
from typing import Literal

import numpy as np

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.design import Design
from rhombex.core.hardware.joints import (
    Holding,
    boss_od_mm,
    clearance_mm,
    engagement_mm,
    hole_depth_mm,
    hole_mm,
    screw_mm,
)
from rhombex.core.parts.component import Thread
from rhombex.core.process.bead import line_width_mm
from rhombex.core.reference import val
from rhombex.core.space import Box, Vec2, Vec3
from rhombex.core.trail import Frozen
from rhombex.core.workshop import Printer

WANTED_OVERLAP_MM = 1.0  # how far a boss is sunk into the wall beside it
SPAN_MM = 160.0  # a rim longer than this between two screws gapes; common practice


class Post(Frozen):
    """What a component's mounting point stands on, from the floor up to z `top_mm`.

    `insert` / `cut in plastic`: the screw comes from above. `through`: from below, its head sunk into the floor.
    """

    of: str
    mount: str
    at: Vec2
    top_mm: float
    thread: Thread
    holding: Literal["insert", "cut in plastic", "through"]
    od_mm: float
    hole_mm: float
    hole_depth_mm: float
    head_d_mm: float
    head_depth_mm: float
    grip_mm: float
    screw_mm: float | None
    engagement_mm: float


class LidBoss(Frozen):
    """A lid screw: the same place in base and lid."""

    at: Vec2
    od_mm: float
    hole_mm: float
    hole_depth_mm: float
    clearance_mm: float
    head_d_mm: float
    head_depth_mm: float
    grip_mm: float
    screw_mm: float | None
    engagement_mm: float


class Rim(Frozen):
    """Tongue on the lid, groove in the base; the wall is thickened inward to `band_mm` where it needs to be."""

    line_mm: float
    cheek_mm: float
    tongue_mm: float
    side_gap_mm: float
    tongue_height_mm: float
    groove_depth_mm: float
    band_mm: float
    band_height_mm: float
    ramp_mm: float


class ShellPlan(Frozen):
    outer_mm: Vec3
    cavity: Box
    joint_z_mm: float
    inner_radius_mm: float
    rim: Rim
    posts: tuple[Post, ...]
    bosses: tuple[LidBoss, ...]
    wanted_bosses: int
    feet: tuple[Vec2, ...]


def rim_of(design: Design, printer: Printer) -> Rim:
    """Sizes of tongue and groove for a printer: cheeks of two lines, the wall thickened where it is too thin."""
    line = line_width_mm(design.process_of("base"), printer)
    cheek = val("printing.feature.web_lines") * line
    tongue, side = val("printing.feature.tongue_width"), val("printing.allowance.tongue_side")
    height = val("printing.feature.tongue_height")
    depth = height + val("printing.allowance.tongue_top")
    band = max(design.shell.wall_mm, tongue + 2 * side + 2 * cheek)
    return Rim(
        line_mm=line,
        cheek_mm=cheek,
        tongue_mm=tongue,
        side_gap_mm=side,
        tongue_height_mm=height,
        groove_depth_mm=depth,
        band_mm=band,
        band_height_mm=depth + 2 * cheek,
        ramp_mm=band - design.shell.wall_mm,
    )


def posts_of(design: Design, things: tuple[Thing, ...]) -> tuple[Post, ...]:
    """A post or pad under every mounting point of every component that stands on the floor."""
    posts: list[Post] = []
    for t in things:
        if t.component.mounting not in ("posts", "through") or t.placement.on is not None:
            continue
        board = next((s.box.size[2] for s in t.solids if s.role == "board"), 0.0)
        for m in t.mounts:
            thread, top = m.mount.thread, m.at[2]
            head_d = val(f"fasteners.{thread}.head_d") + 0.6
            if t.component.mounting == "through":
                posts.append(_through_post(t.id, m.mount.name, m.at, thread, head_d, m.mount.depth_limit_mm))
                continue
            holding: Holding = design.shell.post_thread
            least, most = engagement_mm(thread, holding)
            length = screw_mm(board, least, most)
            posts.append(
                Post(
                    of=t.id,
                    mount=m.mount.name,
                    at=(m.at[0], m.at[1]),
                    top_mm=top,
                    thread=thread,
                    holding=holding,
                    od_mm=design.shell.boss_od_mm or boss_od_mm(thread, holding),
                    hole_mm=hole_mm(thread, holding) + val("printing.allowance.round_hole_upright"),
                    hole_depth_mm=min(
                        hole_depth_mm(thread, holding), max(0.2, top - 2 * 0.4)
                    ),  # never through the floor: two layers stay
                    head_d_mm=head_d,
                    head_depth_mm=0,
                    grip_mm=board,
                    screw_mm=length,
                    engagement_mm=(length or 0) - board if length else 0,
                )
            )
    return tuple(posts)


def _through_post(of: str, mount: str, at: Vec3, thread: Thread, head_d: float, limit: float | None) -> Post:
    """A pad with a screw from below. The head is sunk so deep that a stock screw ends inside the thread's limit."""
    most = limit if limit is not None else 2 * val(f"fasteners.{thread}.d")
    head_k = val(f"fasteners.{thread}.head_k") + 0.3
    target = most - 0.5
    best: tuple[float, float] | None = None
    for length in (3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 25.0, 30.0):
        sink = at[2] - (length - target)
        if sink >= head_k and at[2] - sink >= 1.2:
            best = (length, sink)
    if best is None:  # too thin a stack to sink the head: it stands proud, a concern says so
        best = (6.0, max(0.0, at[2] - 3.5))
    length, sink = best
    grip = at[2] - sink
    return Post(
        of=of,
        mount=mount,
        at=(at[0], at[1]),
        top_mm=at[2],
        thread=thread,
        holding="through",
        od_mm=max(head_d + 2 * 1.8, 8.0),
        hole_mm=clearance_mm(thread) + val("printing.allowance.round_hole_upright"),
        hole_depth_mm=at[2],
        head_d_mm=head_d,
        head_depth_mm=sink,
        grip_mm=grip,
        screw_mm=length,
        engagement_mm=length - grip,
    )


def _slots(lo: float, hi: float, want: float, step: float) -> list[float]:
    """Places along a wall, the wanted one first, then alternately farther."""
    out = [want]
    k = 1
    while want + k * step <= hi or want - k * step >= lo:
        out += [p for p in (want + k * step, want - k * step) if lo <= p <= hi]
        k += 1
    return out


def _within_corners(p: Vec2, w: float, d: float, radius: float, inset: float) -> bool:
    """Whether a boss at p keeps its inset from the outline where the outline is rounded."""
    dx, dy = max(radius - p[0], p[0] - (w - radius)), max(radius - p[1], p[1] - (d - radius))
    return dx <= 0 or dy <= 0 or hypot(dx, dy) <= radius - inset


def _lid_bosses(
    design: Design, things: tuple[Thing, ...], posts: tuple[Post, ...], rim: Rim
) -> tuple[list[LidBoss], int]:
    s = design.shell
    w, d, _ = outer_size(design)
    od = design.shell.boss_od_mm or boss_od_mm("M3", s.joint_thread)
    inset = max(rim.band_mm + hole_mm("M3", s.joint_thread) / 2 + 1.2, s.wall_mm + od / 2 - WANTED_OVERLAP_MM)
    blocked = [b.box.grown(0.4) for t in things for b in t.solids]
    blocked += [
        Box(
            (p.at[0] - p.od_mm / 2, p.at[1] - p.od_mm / 2, 0),
            (p.at[0] + p.od_mm / 2, p.at[1] + p.od_mm / 2, 1),
        )
        for p in posts
    ]
    for v in design.vents:
        if v.face in ("top", "bottom"):
            u, vv = v.at_mm
            y = vv if v.face == "top" else d - vv
            blocked.append(
                Box(
                    (u - v.size_mm[0] / 2, y - v.size_mm[1] / 2, 0),
                    (u + v.size_mm[0] / 2, y + v.size_mm[1] / 2, 1),
                )
            )
    r = od / 2

    rects = np.array([(b.lo[0], b.lo[1], b.hi[0], b.hi[1]) for b in blocked]).reshape(-1, 4)

    def first_free(options: list[Vec2], taken: list[Vec2]) -> Vec2 | None:
        p = np.array(options).reshape(-1, 2)
        dx = np.maximum(np.maximum(rects[:, 0] - p[:, :1], p[:, :1] - rects[:, 2]), 0)
        dy = np.maximum(np.maximum(rects[:, 1] - p[:, 1:], p[:, 1:] - rects[:, 3]), 0)
        free = (dx**2 + dy**2 >= r * r).all(axis=1)
        for q in taken:
            free &= np.hypot(p[:, 0] - q[0], p[:, 1] - q[1]) > 2 * od
        hits = np.flatnonzero(free)
        return options[int(hits[0])] if len(hits) else None

    xs, ys = (inset, w - inset), (inset, d - inset)
    wanted: list[tuple[Vec2, int]] = [((x, y), 0) for y in ys for x in xs]
    if w - 2 * inset > SPAN_MM:
        wanted += [((w / 2, y), 1) for y in ys]
    if d - 2 * inset > SPAN_MM:
        wanted += [((x, d / 2), 2) for x in xs]
    places: list[Vec2] = []
    for (x, y), kind in wanted:
        along_x = [(q, y) for q in _slots(inset, w - inset, x, 2.0)]
        along_y = [(x, q) for q in _slots(inset, d - inset, y, 2.0)]
        options = along_x if kind == 1 else along_y if kind == 2 else along_x + along_y
        reach = 0.55 if kind == 0 else 0.3
        options = [p for p in options if _within_corners(p, w, d, s.corner_radius_mm, inset)]
        near = [p for p in options if abs(p[0] - x) <= reach * w and abs(p[1] - y) <= reach * d]
        near.sort(key=lambda p: abs(p[0] - x) + abs(p[1] - y))
        spot = first_free(near, places)
        if spot is not None:
            places.append(spot)
    grip_full = s.inner_mm[2] - s.joint_mm + s.lid_mm
    sink = min(val("fasteners.M3.head_k") + 0.3, grip_full - 1.2)
    grip = grip_full - sink
    least, most = engagement_mm("M3", s.joint_thread)
    length = s.lid_screw_mm if s.lid_screw_mm is not None else screw_mm(grip, least, most)
    deep = min(hole_depth_mm("M3", s.joint_thread), s.joint_mm + s.floor_mm - 0.8)
    return [
        LidBoss(
            at=p,
            od_mm=od,
            hole_mm=hole_mm("M3", s.joint_thread) + val("printing.allowance.round_hole_upright"),
            hole_depth_mm=deep,
            clearance_mm=clearance_mm("M3") + val("printing.allowance.round_hole_upright"),
            head_d_mm=val("fasteners.M3.head_d") + 0.6,
            head_depth_mm=sink,
            grip_mm=grip,
            screw_mm=length,
            engagement_mm=(length - grip) if length else 0.0,
        )
        for p in places
    ], len(wanted)


def bare_plan(design: Design, printer: Printer) -> ShellPlan:
    """The two halves without posts, lid screws or feet: what stands where these could not be planned."""
    s = design.shell
    return ShellPlan(
        outer_mm=outer_size(design),
        cavity=cavity(design),
        joint_z_mm=s.joint_mm + s.floor_mm,
        inner_radius_mm=max(s.corner_radius_mm - s.wall_mm, 0.3),
        rim=rim_of(design, printer),
        posts=(),
        bosses=(),
        wanted_bosses=0,
        feet=(),
    )


def plan_shell(design: Design, printer: Printer, things: tuple[Thing, ...]) -> ShellPlan:
    """Everything about the two halves except what is cut into their faces."""
    s = design.shell
    bare = bare_plan(design, printer)
    posts = posts_of(design, things)
    bosses, wanted = _lid_bosses(design, things, posts, bare.rim)
    outer = bare.outer_mm
    feet: list[Vec2] = []
    if s.feet:
        inset = max(s.corner_radius_mm, val("printing.feature.foot_d") / 2 + 4) + 2
        heads = [(p.at, p.head_d_mm) for p in posts if p.holding == "through"]
        for x in (inset, outer[0] - inset):
            for y in (inset, outer[1] - inset):
                reach = val("printing.feature.foot_d") / 2 + 1
                if all((x - a[0]) ** 2 + (y - a[1]) ** 2 > (reach + d / 2) ** 2 for a, d in heads):
                    feet.append((x, y))
    return bare.model_copy(
        update={"posts": posts, "bosses": tuple(bosses), "wanted_bosses": wanted, "feet": tuple(feet)}
    )
