"""The shell: walls of whole lines, bosses that hold, a lid that can be screwed."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from rhombex.core.advice.panels import sold_mm
from rhombex.core.analysis import Analysis
from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.wanted import wanted_ports
from rhombex.core.case import Need
from rhombex.core.case.joints import one_of_each
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Part
from rhombex.core.concerns.bench import moved, up
from rhombex.core.concerns.by_screws import by_screws
from rhombex.core.concerns.plastic import more_plastic
from rhombex.core.concerns.registry import Finding, Maker, Remedy, concern, searched
from rhombex.core.concerns.screw_room import room_for_screws
from rhombex.core.concerns.sheet_floor import print_floor
from rhombex.core.design import OwnJoint
from rhombex.core.edits import MoveWall, PutJoint, Set
from rhombex.core.fit.bead import lines_in_wall, spacing_mm, wall_of_lines_mm
from rhombex.core.fit.joints import TWO_LAYERS_MM, boss_od_mm, hole_depth_mm, stud_hole_mm
from rhombex.core.fit.laying import down_of
from rhombex.core.parts.threads import label
from rhombex.core.reference import ref
from rhombex.core.shell.edges import LEAST, THREAD, edge_mm, edge_places, held_at, held_by_edges, over_mm
from rhombex.core.space import Box, Face, normal_axis
from rhombex.core.trail import given

_SIDES: tuple[tuple[Face, int], ...] = (("front", 1), ("back", 1), ("left", 0), ("right", 0))


def _has_no_lines(a: Analysis, axis: int, part: Part | None) -> bool:
    return part is None or part.sheet is not None or normal_axis(down_of(a.design, part)) == axis


@concern("wall-not-whole-lines", "shell", needs=("sides",))
def wall_not_whole_lines(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 16: a wall that is not a whole number of lines leaves a gap inside, or is squeezed. Bought sheet has no lines, and a wall that is
    printed lying is as thick as its layers."""
    if all(_has_no_lines(a, axis, a.case.most_of(face)) for face, axis in _SIDES):
        return
    layer = a.design.process_of(a.case.walls[0].part).layer_mm
    width, wall = a.case.line_mm, a.design.shell.wall_mm
    n = lines_in_wall(wall, width, layer)
    off = abs(n - round(n))
    limit = 0.15
    if off <= limit:
        return
    options = [k for k in (int(n), int(n) + 1) if k >= 2]
    yield say(
        "weigh",
        f"The wall is {n:.1f} lines thick",
        measured=off,
        limit=limit,
        unit="lines off",
        sense="at most",
        how="(wall - line) / spacing + 1, and how far that is from a whole number; spacing = line - layer (1 - pi / 4)",
        of=(
            given("wall", wall),
            given("line", width),
            given("layer", layer),
            given("lines", n, ""),
        ),
        reason=f"A line is {width:.2f} mm wide and the next lies {spacing_mm(width, layer):.3f} mm beside it ({width:.2f} - {layer:g} x "
        f"(1 - pi / 4)): {wall:g} mm is {n:.2f} lines. The rest is a slit inside the wall or a line squeezed too wide: weak, and slower "
        "to print.",
        source=str(ref("printing.bead.width_factor")),
        subjects=("shell",),
        remedies=tuple(
            Remedy(
                label=f"{k} lines: {wall_of_lines_mm(k, width, layer):.2f} mm",
                edits=(Set(path="shell.wall_mm", value=round(wall_of_lines_mm(k, width, layer), 2)),),
            )
            for k in sorted(options, key=lambda k: abs(k - n))
        ),
    )


@concern("wall-too-thin", "shell", needs=("walls",))
def wall_too_thin(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 26: panels so thin that they are flimsy and drum."""
    limit = ref("printing.feature.wall_min")
    width, layer = a.case.line_mm, a.design.process_of(a.case.walls[0].part).layer_mm
    k = 2
    while wall_of_lines_mm(k, width, layer) < limit.value:
        k += 1
    better = round(wall_of_lines_mm(k, width, layer), 2)
    s = a.design.shell
    made: tuple[tuple[str, float, Need], ...] = (
        ("wall_mm", s.wall_mm, "sides"),
        ("floor_mm", s.floor_mm, "floor"),
        ("lid_mm", s.lid_mm, "top"),
    )
    for name, value, need in made:
        path = f"shell.{name}"
        thick = sold_mm(a, path, better)
        if a.case.has(need) and value < limit.value - 1e-6:
            yield say(
                "weigh",
                f"The {name.removesuffix('_mm')} is thin",
                measured=value,
                limit=limit.value,
                how="thickness as it is",
                reason="Thin panels are flimsy, drum with the fan and bow when warm.",
                source=str(limit),
                subjects=("shell", name),
                remedies=(Remedy(label=f"Make it {thick:g} mm", edits=(Set(path=path, value=thick),)),)
                if thick
                else (),
            )


@concern("boss-too-thin", "shell")
def boss_too_thin(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 21: inserts or screws without enough plastic round them."""
    rule = ref("fasteners.rule.boss_od_factor")
    names = {t.id: t.name for t in a.things}
    posts = (
        (f"posts of {p.of}", f"posts of {names[p.of]}", p.thread, p.holding, p.od_mm)
        for p in a.case.mounts
        if p.holding != "through" and p.holding != "nut"
    )
    screws = ((f"{j.name} screws",) * 2 + (j.thread, j.holding, j.od_mm) for j in one_of_each(a.case.joints))
    for subject, who, thread, holding, od in (*posts, *screws):
        least = boss_od_mm(thread, holding)
        if od < least - 1e-6:
            yield say(
                "stop",
                f"The {who} are too slim for {label(thread)} {holding}",
                measured=od,
                limit=least,
                how="outer diameter as it is; wanted for this thread",
                reason="The plastic splits when the insert is pressed in, the nut pulls, or the screw is tightened.",
                source=str(rule),
                subjects=(subject,),
                remedies=more_plastic(a, least - od),
            )
            if who.startswith("posts of"):
                break  # one voice for all posts


_WORDS = {"insert": "insert", "cut in plastic": "screw", "captive nut": "nut", "nut from below": "nut"}


@concern("post-too-short", "shell", needs=("mounts",))
def post_too_short(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 21: a post and the floor under it are too low for the insert's or screw's hole."""
    seen: set[str] = set()
    for p in a.case.mounts:
        if p.holding == "through" or p.holding == "nut" or p.of in seen:
            continue
        need = hole_depth_mm(p.thread, p.holding)
        need = max(need, stud_hole_mm()) if p.standoff_mm else need
        if p.hole_depth_mm < need - 1e-6:
            seen.add(p.of)
            t = next(x for x in a.things if x.id == p.of)
            by = up(need - p.hole_depth_mm)
            if p.holding == "nut from below":
                how = "height of the post and its floor; wanted: the nut, a turn, room for the tip, and plastic over it"
                reason = f"A pocket for an {label(p.thread)} nut and the plastic that it pulls on want {need:.1f} mm."
            else:
                how = "depth that the hole has over two layers of floor; wanted for this thread"
                reason = f"A {label(p.thread)} {_WORDS[p.holding]} wants a hole {need:.1f} mm deep; two layers of floor must stay under it."
                by = max(by, up(need + TWO_LAYERS_MM - p.top_mm))  # under a floor a post has no depth to count from
            if p.standoff_mm:
                how = "depth that the hole has over two layers of floor; wanted: the stud of a standoff, and room for its tip"
                reason = f"On standoffs of {p.standoff_mm:g} mm the posts and the floor under them are {max(p.top_mm, 0.0):.1f} mm high; two layers of floor must stay."
            what = "studs of their standoffs" if p.standoff_mm else f"{_WORDS[p.holding]}s"
            yield say(
                "stop" if p.standoff_mm else "weigh",
                f"The posts of {t.name} are too low for {'the' if p.standoff_mm else 'their'} {what}",
                measured=p.hole_depth_mm,
                limit=need,
                how=how,
                reason=reason,
                source=str(ref("fasteners.rule." + ("nut_under" if p.pocket_mm else "insert_extra_depth"))),
                subjects=(p.of,),
                remedies=(
                    *_shorter(a, p, need),
                    Remedy(label=f"Raise {t.name} by {by:g} mm", edits=(moved(t, (0, 0, by)),)),
                ),
            )


@searched
def _shorter(a: Analysis, p: Mount, need_mm: float) -> tuple[Remedy, ...]:
    """Standoffs under which the post takes their stud, or none."""
    if not p.standoff_mm:
        return ()
    old = a.design.joint(f"posts/{p.of}") or OwnJoint(of=f"posts/{p.of}")
    room = p.top_mm + p.standoff_mm - need_mm - TWO_LAYERS_MM
    fits = max((x for x in a.workshop.standoffs_mm if x <= room + 1e-6), default=None)
    if fits is not None:
        shorter = PutJoint(joint=old.model_copy(update={"standoff_mm": fits}))
        return (Remedy(label=f"Take standoffs of {fits:g} mm", edits=(shorter,)),)
    without = PutJoint(joint=old.model_copy(update={"holding": None, "standoff_mm": None}))
    return (Remedy(label="Hold it on its posts, without standoffs", edits=(without,)),)


@concern("nothing-holds", "shell", needs=("floor",))
def nothing_holds(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 2: a component without holes from below, and too few places beside its edges to hold it there."""
    for t in a.things:
        if t.mounts or t.component.mounting not in ("posts", "through") or t.placement.on is not None:
            continue
        found = sum(m.of == t.id for m in a.case.mounts)
        flat, sides = held_by_edges(t), {m.at for m in a.case.mounts if m.of == t.id}
        if flat is not None and held_at(flat.box, sides):
            continue
        high, of_sheet = ref("fasteners.rule.edge_high"), a.case.floor_sheet is not None
        yield say(
            "weigh" if found >= 2 else "stop",
            f"{t.name} is held in only {found} places beside its edges" if found >= 2 else f"Nothing holds {t.name}",
            measured=found,
            limit=LEAST,
            unit="places",
            how="places beside its edges with room for a post, its screw and the screw's head; two of them across from one another",
            reason="It has no holes for screws from below, and no posts can be printed beside it on a floor of bought sheet."
            if of_sheet
            else f"It has no holes for screws from below, and no flat edge of at most {high.value:g} mm that screws could reach over."
            if flat is None
            else f"It has no holes for screws from below. Posts beside its edges carry and hold it, with screws whose heads reach {over_mm():.2f} mm "
            "over them; walls, plugs or what stands there take the other places.",
            source=str(high if flat is None else ref("fasteners.rule.edge_gap")),
            subjects=(t.id,),
            remedies=print_floor(a) if of_sheet else () if flat is None else _room_beside(a, t, flat.box),
        )


@searched
def _room_beside(a: Analysis, t: Thing, board: Box) -> tuple[Remedy, ...]:
    """The fewest walls to be moved out so that posts find room beside enough edges; those that its ports look through stay."""
    posts = [m.od_mm for m in a.case.mounts if m.of == t.id]
    od = posts[0] if posts else a.design.shell.boss_od_mm or boss_od_mm(THREAD, a.design.shell.post_thread)
    room, want = a.case.cavity, edge_mm() + od / 2
    looks = {p.face for p in t.ports if p.ref in wanted_ports(a.design)}
    near: dict[Face, float] = {
        "left": board.lo[0] - room.lo[0],
        "right": room.hi[0] - board.hi[0],
        "front": board.lo[1] - room.lo[1],
        "back": room.hi[1] - board.hi[1],
    }
    short = {f: up(want - gap) for f, gap in near.items() if gap < want and f not in looks}
    for n in (1, 2, 3):
        tries = sorted(itertools.combinations(short, n), key=lambda fs: sum(short[f] for f in fs))
        for faces in tries:
            lo, hi = list(room.lo), list(room.hi)
            for f in faces:
                k = 0 if f in ("left", "right") else 1
                if f in ("left", "front"):
                    lo[k] -= short[f]
                else:
                    hi[k] += short[f]
            wider = Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))
            if held_at(board, set(edge_places(t, a.things, board, wider, od))):
                words = " and ".join(f"the {f} wall {short[f]:g} mm" for f in faces)
                edits = tuple(MoveWall(face=f, by_mm=short[f]) for f in faces)
                return (Remedy(label=f"Move {words} out", edits=edits),)
    return ()


@concern("lid-screws-missing", "shell", needs=("joints",))
def lid_screws_missing(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Screws of the case that found no free place."""
    n, want = len(a.case.fastened), a.case.wanted_joints
    if n >= want:
        return
    hooked = getattr(a.design.shell.construction, "snaps", None) is not None and not a.case.joints
    what = "snaps" if hooked else "magnet pairs" if a.case.magnets and not a.case.joints else "screws"
    joined = {(j.holds, j.into) for j in a.case.fastened}
    held = {x for x, _ in (*joined, *a.case.must_hold)}
    whose = f"{a.case.held} {what}" if held <= {a.case.held} else f"{what} of the case"  # lugs have screws, too
    apart = [
        f"None holds the {x} to the {y}." for x, y in a.case.must_hold if (x, y) not in joined
    ]  # of a floor of sheet
    taken = f"The corners and edges are taken by components, plugs or openings; the {a.case.held} will gape there."
    yield say(
        "stop" if n < 2 or apart else "weigh",
        f"Only {n} of {want} {whose} have a place",
        measured=n,
        limit=want,
        unit=what,
        how="places found that no component, plug or opening takes",
        reason=" ".join((*apart, taken)),
        source="one screw in each corner and at most 160 mm apart (common practice)",
        subjects=(a.case.held,),
        remedies=(
            *room_for_screws(a, n),
            *(print_floor(a) if apart else ()),
            *((by_screws(a),) if hooked and n < 2 else ()),
        ),
    )
