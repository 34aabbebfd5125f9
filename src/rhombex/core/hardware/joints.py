"""The table of all screwed joints of a case and of its components: what each holds, what its screw passes, which lengths serve it.

The bill, the fewest kinds, strength and reach read only this.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.stack import passed_mm, slab_mm
from rhombex.core.case import Case
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import Mount
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.design import Design
from rhombex.core.fit.joints import (
    engagement_mm,
    from_below_mm,
    nut_below_mm,
    nut_mm,
    screw_mm,
    stock_mm,
    through_bolt_mm,
    through_sheet_mm,
)
from rhombex.core.hardware.face_screws import face_screw
from rhombex.core.hardware.joint_group import (
    JointGroup,
    Kind,
    ScrewSeat,
    StackLayer,
    head_of,
    held_in,
    insert_of,
    over_nut,
    with_nuts,
)
from rhombex.core.hardware.seam_joints import of_bridges, of_cuts
from rhombex.core.openings.opening import Openings
from rhombex.core.openings.pane_screws import SCREW as PANE_SCREW
from rhombex.core.parts.component import Thread
from rhombex.core.reference import val
from rhombex.core.shell.spacers import held_above, shared_holes
from rhombex.core.space import Vec3

FEET_KEY = "feet/case"
OF_PANES = "pane/"
NO_OPENINGS = Openings(openings=(), vents=())


def joints(
    design: Design,
    things: tuple[Thing, ...],
    case: Case,
    cuts: tuple[PartCuts, ...] = (),
    openings: Openings = NO_OPENINGS,
) -> tuple[JointGroup, ...]:
    """Every screwed joint, those of the case first, those of cuts last."""
    names = {t.id: t.name for t in things}
    return (
        *_of_case(case),
        *_of_mounts(design, things, case, names),
        *_of_faces(design, things, case),
        *_of_brackets(case, names),
        *_of_hooks(case, names),
        *_of_fan_slots(case, names),
        *_of_stacks(design, things, case),
        *_of_standoffs(design, things, case),
        *_of_feet(case),
        *_of_panes(design, case, openings),
        *of_cuts(design, case, cuts),
        *of_bridges(design, cuts),
    )


def _of_case(case: Case) -> Iterator[JointGroup]:
    for name, found in groupby(sorted(case.screws, key=lambda j: j.name), key=lambda j: j.name):
        alike: dict[tuple[object, ...], list[Joint]] = {}
        for j in found:
            # sums of the same sizes in another order differ by noise
            sizes = (j.grip_mm, j.head_depth_mm, j.hole_depth_mm)
            alike.setdefault((*(round(x, 6) for x in sizes), j.screw_mm, j.holding, j.head), []).append(j)
        for k, js in enumerate(alike.values()):
            j = js[0]
            least, most = engagement_mm(j.thread, j.holding)
            most = min(most, j.hole_depth_mm - val("fasteners.rule.tip_clearance"))
            span = (j.grip_mm + least, j.grip_mm + most)
            held = held_in(j.into, j.thread, j.holding, j.grip_mm, j.hole_depth_mm)
            if j.pocket_mm:
                rod = j.holding == "threaded rod"
                span = (
                    (j.grip_mm + least, j.grip_mm + j.pocket_mm)
                    if rod
                    else through_bolt_mm(j.thread, j.hole_depth_mm, j.passed_mm)
                )
                held = over_nut(j.into, j.thread, j.passed_mm, j.grip_mm)
            yield JointGroup(
                key=f"case/{name.replace(' ', '-')}" + (f"-{k + 1}" if k else ""),
                of="",
                name=name,
                holds=_few([x.holds for x in js]),
                into=_few([x.into for x in js]),
                part=j.into,
                count=len(js),
                thread=j.thread,
                holding=j.holding,
                head="nut" if j.holding == "threaded rod" else j.head,
                sunk_mm=j.head_depth_mm,
                screw_mm=j.screw_mm,
                by_hand=j.pinned,
                least_mm=span[0],
                most_mm=span[1],
                grip_mm=j.grip_mm,
                least_thread_mm=least,
                end_mm=j.passed_mm + j.hole_depth_mm,
                layers=(
                    StackLayer(what=j.holds, kind="printed", from_mm=-j.head_depth_mm, to_mm=j.passed_mm),
                    *held,
                ),
                insert_mm=insert_of(j.thread, j.holding),
                standoff_mm=None,
                opened=j.opened,
                path=j.screw_path,
                holding_path=j.thread_path,
                seats=tuple(ScrewSeat(at=_back(x.at, x.along, x.passed_mm), along=x.along) for x in js),
                head_on="plastic",
            )


def _few(names: list[str]) -> str:
    """The names of a few parts; of many the first, and how many more."""
    own = list(dict.fromkeys(names))
    return ", ".join(own) if len(own) <= 2 else f"{own[0]} and {len(own) - 1} more"


def _back(at: Vec3, along: Vec3, by: float) -> Vec3:
    return (at[0] - along[0] * by, at[1] - along[1] * by, at[2] - along[2] * by)


def _of_mounts(design: Design, things: tuple[Thing, ...], case: Case, names: dict[str, str]) -> Iterator[JointGroup]:
    by_id = {t.id: t for t in things}
    for of, found in groupby(sorted(case.mounts, key=lambda p: list(by_id).index(p.of)), key=lambda p: p.of):
        alike: dict[tuple[object, ...], list[Mount]] = {}
        for p in found:
            alike.setdefault(
                (p.holding, p.thread, p.screw_mm, p.grip_mm, p.hole_depth_mm, p.clamps, p.stud), []
            ).append(p)
        own = design.joint(f"posts/{of}")
        for k, ps in enumerate(alike.values()):
            of_sheet = case.part(ps[0].part).sheet is not None
            yield _posts(design, by_id, ps, names, k, own is not None and own.screw_mm is not None, of_sheet)


def _on_sheet(t: Thing, ps: list[Mount], k: int) -> JointGroup:
    """The studs of standoffs through a floor of sheet, each into a nut under it that all its turns hold."""
    p = ps[0]
    studs = with_nuts(
        f"posts/{p.of}" + (f"-{k + 1}" if k else ""),
        f"standoffs of {t.name}",
        "standoff",
        p.part,
        p.part,
        (StackLayer(what=p.part, kind="printed", from_mm=0.0, to_mm=p.grip_mm),),
        [ScrewSeat(at=(*x.at, p.top_mm), along=(0.0, 0.0, -1.0)) for x in ps],
        thread=p.thread,
        screw_mm=val("fasteners.rule.standoff_stud"),
        by_hand=False,
    )
    least = p.grip_mm + val(f"fasteners.{p.thread}.nut_m")
    return studs.model_copy(update={"of": p.of, "head": "stud", "least_mm": least})


def _posts(
    design: Design,
    by_id: dict[str, Thing],
    ps: list[Mount],
    names: dict[str, str],
    k: int,
    by_hand: bool,
    of_sheet: bool,
) -> JointGroup:
    p = ps[0]
    t = by_id[p.of]
    if p.holding == "nut":
        return _on_sheet(t, ps, k)
    if p.holding == "through":
        limit = next((m.mount.depth_limit_mm for m in t.mounts if m.mount.name == p.mount), None)
        least, most = (through_sheet_mm if of_sheet else from_below_mm)(p.thread, p.top_mm, limit)
        deep = limit if limit is not None else 2 * val(f"fasteners.{p.thread}.d")
        layers: tuple[StackLayer, ...] = (
            StackLayer(what=p.part, kind="printed", from_mm=-p.head_depth_mm, to_mm=p.grip_mm),
            StackLayer(what=t.name, kind="component", from_mm=p.grip_mm, to_mm=p.grip_mm + deep, thread=True),
        )
        seats = tuple(ScrewSeat(at=(*x.at, x.top_mm - x.grip_mm), along=(0.0, 0.0, 1.0)) for x in ps)
        return JointGroup(
            key=f"posts/{p.of}" + (f"-{k + 1}" if k else ""),
            of=p.of,
            name=t.name,
            holds=t.name,
            into=t.name,
            part=p.part,
            count=len(ps),
            thread=p.thread,
            holding="own thread",
            head=head_of(p.thread),
            sunk_mm=p.head_depth_mm,
            screw_mm=p.screw_mm,
            by_hand=by_hand,
            least_mm=least,
            most_mm=most,
            grip_mm=p.grip_mm,
            least_thread_mm=0.0,
            end_mm=p.grip_mm + deep,
            layers=layers,
            insert_mm=None,
            standoff_mm=None,
            opened=False,
            path="",
            holding_path="",
            seats=seats,
            head_on="plastic",
        )
    least, most = engagement_mm(p.thread, p.holding)
    most = min(most, p.hole_depth_mm - val("fasteners.rule.tip_clearance"))
    span = (p.grip_mm + least, p.grip_mm + most)
    held = held_in(p.part, p.thread, p.holding, p.grip_mm, p.hole_depth_mm)
    if p.holding == "nut from below":  # its pocket is as deep as the screw wants it
        span = nut_below_mm(p.thread, p.top_mm, p.passed_mm)
        held = over_nut(p.part, p.thread, p.passed_mm, p.grip_mm)
    if p.standoff_mm:
        span = (span[0], p.hole_depth_mm - val("fasteners.rule.tip_clearance"))
    board = p.grip_mm if p.beside is not None else passed_mm(t.component)
    layers = () if p.standoff_mm else _clamped(t, p, by_id, board)
    if p.beside is not None:
        layers = tuple(
            x.model_copy(update={"what": f"edge of {t.name}"}) if x.kind == "component" else x for x in layers
        )
    name = " on ".join(names[x] for x in reversed((p.of, *p.clamps)))
    if p.standoff_mm:
        name = f"standoffs of {t.name}"
    return JointGroup(
        key=f"posts/{p.of}" + (f"-{k + 1}" if k else ""),
        of=p.of,
        name=name,
        holds="standoff" if p.standoff_mm else t.name,
        into=p.part,
        part=p.part,
        count=len(ps),
        thread=p.thread,
        holding=p.holding,
        head="stud" if p.stud else head_of(p.thread),
        sunk_mm=0.0,
        screw_mm=val("fasteners.rule.standoff_stud") if p.stud else p.screw_mm,
        by_hand=by_hand,
        least_mm=span[0],
        most_mm=span[1],
        grip_mm=p.grip_mm,
        least_thread_mm=least,
        end_mm=p.passed_mm + p.hole_depth_mm,
        layers=(*layers, *held),
        insert_mm=insert_of(p.thread, p.holding),
        standoff_mm=None,
        opened=False,
        path="",
        holding_path="",
        seats=tuple(ScrewSeat(at=(*x.at, x.top_mm + x.passed_mm), along=(0.0, 0.0, -1.0)) for x in ps),
        head_on="board",
        beside=p.beside is not None,
    )


def _clamped(t: Thing, p: Mount, by_id: dict[str, Thing], board: float) -> tuple[StackLayer, ...]:
    """Boards and spacers that a post's screw passes, from its head down."""
    up: list[StackLayer] = []  # from the post up: heights over it
    z = 0.0
    up.append(StackLayer(what=t.name, kind="component", from_mm=z, to_mm=z + board))
    z += board
    for id in p.clamps:
        upper = by_id[id]
        stand = upper.placement.stand
        gap = stand.standoff_mm if stand else 0.0
        up.append(StackLayer(what="spacer", kind="spacer", from_mm=z, to_mm=z + gap))
        z += gap
        slab = slab_mm(upper.component)
        up.append(StackLayer(what=upper.name, kind="component", from_mm=z, to_mm=z + slab))
        z += slab
    return tuple(
        x.model_copy(update={"from_mm": p.passed_mm - x.to_mm, "to_mm": p.passed_mm - x.from_mm}) for x in reversed(up)
    )


def _of_faces(design: Design, things: tuple[Thing, ...], case: Case) -> Iterator[JointGroup]:
    for t in things:
        s = face_screw(design, t, case)
        if s is None or t.face is None:
            continue
        own = design.joint(f"face/{t.id}")
        face = case.face(t.face) if case.faces else None
        z_out = face.frame.z if face else (0.0, 0.0, 1.0)
        into_wall: Vec3 = (-z_out[0], -z_out[1], -z_out[2])
        behind = (
            case.behind(face.id, *(x for x in (*face.on(t.mounts[0].at), *face.on(t.mounts[0].at)))) if face else ()
        )
        part = behind[0] if behind else ""
        layers: list[StackLayer] = []
        z = 0.0
        if s.outside_mm:
            layers.append(StackLayer(what=t.name, kind="component", from_mm=0.0, to_mm=s.outside_mm))
            z = s.outside_mm
        layers.append(StackLayer(what=part or "wall", kind="printed", from_mm=z, to_mm=z + s.wall_mm))
        z += s.wall_mm
        grip = z
        if s.nut_mm:
            if s.passed_mm:
                layers.append(StackLayer(what=t.name, kind="component", from_mm=z, to_mm=z + s.passed_mm))
            grip = z + s.passed_mm
            high = val(f"fasteners.{s.thread}.nut_m")
            layers.append(StackLayer(what="nut", kind="nut", from_mm=grip, to_mm=grip + high, thread=True))
            end = grip + high
        else:
            layers.append(StackLayer(what=t.name, kind="component", from_mm=z, to_mm=z + s.passed_mm, thread=True))
            end = z + s.passed_mm
        seats = []
        for m in t.mounts:
            at = m.at
            if face:
                u, v = face.on(m.at)
                at = face.frame.point((u, v, s.outside_mm))
            seats.append(ScrewSeat(at=at, along=into_wall))
        yield JointGroup(
            key=f"face/{t.id}",
            of=t.id,
            name=t.name,
            holds=t.name,
            into=t.name if not s.nut_mm else part or "wall",
            part=part,
            count=s.count,
            thread=s.thread,
            holding="nut" if s.nut_mm else "own thread",
            head=head_of(s.thread),
            sunk_mm=0.0,
            screw_mm=s.length_mm,
            by_hand=own is not None and own.screw_mm is not None,
            least_mm=s.needs_mm[0],
            most_mm=s.needs_mm[1],
            grip_mm=grip,
            least_thread_mm=nut_mm(s.thread) if s.nut_mm else s.needs_mm[0] - s.wall_mm,
            end_mm=end,
            layers=tuple(layers),
            insert_mm=None,
            standoff_mm=None,
            opened=False,
            path="",
            holding_path="",
            seats=tuple(seats),
            head_on="metal" if s.outside_mm else "plastic",
        )


def _of_brackets(case: Case, names: dict[str, str]) -> Iterator[JointGroup]:
    """The screws of brackets that press a display to its wall, from inside into bosses of that wall."""
    for of, found in groupby(case.brackets, key=lambda b: b.of):
        screws = [b.screw for b in found]
        name = f"bracket{'s' if len(screws) > 1 else ''} of {names[of]}"
        yield _on_a_wall(f"face/{of}", of, name, screws, holds=names[of], passed="bracket")


def _of_hooks(case: Case, names: dict[str, str]) -> Iterator[JointGroup]:
    """The screws of hooks, from outside through the wall."""
    for h in case.hooks:
        yield _on_a_wall(f"hook/{h.of}", h.of, f"hook of {names[h.of]}", list(h.screws), holds=h.on, passed=h.on)


def _of_fan_slots(case: Case, names: dict[str, str]) -> Iterator[JointGroup]:
    """The screws of the rails beside fans, from outside through the wall."""
    for s in case.fan_slots:
        yield _on_a_wall(f"slots/{s.of}", s.of, f"slots of {names[s.of]}", list(s.screws), holds=s.on, passed=s.on)


def _on_a_wall(key: str, of: str, name: str, screws: list[Joint], *, holds: str, passed: str) -> JointGroup:
    j = screws[0]
    least, most = engagement_mm(j.thread, j.holding)
    most = min(most, j.hole_depth_mm - val("fasteners.rule.tip_clearance"))
    return JointGroup(
        key=key,
        of=of,
        name=name,
        holds=holds,
        into=j.into,
        part=j.into,
        count=len(screws),
        thread=j.thread,
        holding=j.holding,
        head=head_of(j.thread),
        sunk_mm=0.0,
        screw_mm=j.screw_mm,
        by_hand=j.pinned,
        least_mm=j.grip_mm + least,
        most_mm=j.grip_mm + most,
        grip_mm=j.grip_mm,
        least_thread_mm=least,
        end_mm=j.passed_mm + j.hole_depth_mm,
        layers=(
            StackLayer(what=passed, kind="printed", from_mm=0.0, to_mm=j.passed_mm),
            *held_in(j.into, j.thread, j.holding, j.grip_mm, j.hole_depth_mm),
        ),
        insert_mm=insert_of(j.thread, j.holding),
        standoff_mm=None,
        opened=False,
        path="",
        holding_path="",
        seats=tuple(ScrewSeat(at=_back(x.at, x.along, x.passed_mm), along=x.along) for x in screws),
        head_on="plastic",
    )


def _of_feet(case: Case) -> Iterator[JointGroup]:
    """The screws of feet, from below, with a nut each on the inside of the floor."""
    screw = case.foot.screw if case.foot else None
    if screw is None or not case.feet:
        return
    yield with_nuts(
        FEET_KEY,
        "feet",
        "feet",
        case.footed,
        case.footed,
        (
            StackLayer(what="foot", kind="component", from_mm=0.0, to_mm=screw.base_mm),
            StackLayer(what=case.footed, kind="printed", from_mm=screw.base_mm, to_mm=screw.base_mm + screw.floor_mm),
        ),
        [ScrewSeat(at=(x, y, -screw.base_mm), along=(0.0, 0.0, 1.0)) for x, y in case.feet],
        thread=screw.thread,
        screw_mm=screw.long_mm,
        by_hand=screw.pinned,
        head_on="metal",
        path="shell.foot_screw_mm",
    )


def _of_panes(design: Design, case: Case, openings: Openings) -> Iterator[JointGroup]:
    """The screws of panes, from outside through wall and pane, with a nut each on the inside."""
    for o in openings.openings:
        if o.pane is None or not o.parts or not o.pane.screws:
            continue
        key, face, grip = f"{OF_PANES}{o.id.split('/', 1)[1]}", case.face(o.face), o.pane.to_mm
        own = design.joint(key)
        pinned = own.screw_mm if own else None
        need = nut_mm(PANE_SCREW)
        inward: Vec3 = (-face.frame.z[0], -face.frame.z[1], -face.frame.z[2])
        kind: Kind = "printed" if o.pane.printed else "component"
        yield with_nuts(
            key,
            o.label,
            o.pane.part,
            o.parts[0],
            o.parts[0],
            (
                StackLayer(what=o.parts[0], kind="printed", from_mm=0.0, to_mm=o.pane.from_mm),
                StackLayer(what=o.pane.part, kind=kind, from_mm=o.pane.from_mm, to_mm=grip),
            ),
            [ScrewSeat(at=face.frame.point((*at, 0.0)), along=inward) for at in o.pane.screws],
            thread=PANE_SCREW,
            screw_mm=pinned or screw_mm(PANE_SCREW, grip, need, need + val("fasteners.rule.nut_over")),
            by_hand=pinned is not None,
        )


def _of_stacks(design: Design, things: tuple[Thing, ...], case: Case) -> Iterator[JointGroup]:
    """What holds boards on boards besides the screws of the posts: bought standoffs, each with a screw on top of it or another
    standoff; and where the lowest board stands on no post, a screw with a nut through all that is clamped."""
    by_id = {t.id: t for t in things}
    posts = {p.of for p in case.mounts if p.holding != "through"}
    for t in things:
        stand, lower = t.placement.stand, by_id.get(t.placement.on or "")
        if stand is None or lower is None:
            continue
        own = design.joint(f"on/{t.id}")
        pinned = own.screw_mm if own else None
        alike: dict[tuple[Thread, float, bool], list[tuple[float, float]]] = {}
        for at, thread in shared_holes(lower, t):
            over, _, stud = held_above(t, at, things)
            alike.setdefault((thread, over, stud), []).append(at)
        use, below = f"{t.name} on {lower.name}", (lower.name, slab_mm(lower.component))
        bought = stand.made == "bought"
        for k, ((thread, over, stud), ats) in enumerate(alike.items()):
            if bought or not (
                lower.placement.on is not None or lower.id in posts or stud
            ):  # else the post's own screw holds it
                yield _on_board(t, use, below, stand.standoff_mm, bought, thread, over, stud, ats, pinned, k)


def _of_standoffs(design: Design, things: tuple[Thing, ...], case: Case) -> Iterator[JointGroup]:
    """The screws, or the studs of standoffs above, that hold a board on the standoffs on its posts."""
    standing = {p.of: p.standoff_mm for p in case.mounts if p.standoff_mm}
    for t in (t for t in things if t.id in standing):
        own = design.joint(f"on/{t.id}")
        alike: dict[tuple[Thread, float, bool], list[tuple[float, float]]] = {}
        for m in t.mounts:
            over, _, stud = held_above(t, (m.at[0], m.at[1]), things)
            alike.setdefault((m.mount.thread, over, stud), []).append((m.at[0], m.at[1]))
        for k, ((thread, over, stud), ats) in enumerate(alike.items()):
            pinned = own.screw_mm if own else None
            use = f"{t.name} on its standoffs"
            yield _on_board(t, use, ("", 0.0), standing[t.id], True, thread, over, stud, ats, pinned, k)


def _on_board(
    t: Thing,
    use: str,
    lower: tuple[str, float],
    stand_mm: float,
    bought: bool,
    thread: Thread,
    over: float,
    stud: bool,
    ats: list[tuple[float, float]],
    pinned: float | None,
    k: int,
) -> JointGroup:
    """What holds a board on standoffs of `stand_mm`, bought or printed. `lower`: name and thickness of what is under them."""
    slab, below = slab_mm(t.component), lower[1]
    grip, d = slab + over, val(f"fasteners.{thread}.d")
    top = t.frame.origin[2] + grip
    layers = [StackLayer(what=t.name, kind="component", from_mm=max(over, 0.0), to_mm=grip)]
    if over > 0:
        layers.insert(0, StackLayer(what="boards and spacers above", kind="spacer", from_mm=0.0, to_mm=over))
    if bought:
        deep = min(stand_mm, val("fasteners.rule.standoff_tapped"))
        layers.append(StackLayer(what="standoff", kind="standoff", from_mm=grip, to_mm=grip + deep, thread=True))
        least, most, need = grip + d, grip + max(deep - val("fasteners.rule.tip_clearance"), d), d
    else:
        end = grip + stand_mm + below
        layers += [
            StackLayer(what="spacer", kind="spacer", from_mm=grip, to_mm=grip + stand_mm),
            StackLayer(what=lower[0], kind="component", from_mm=grip + stand_mm, to_mm=end),
            StackLayer(what="nut", kind="nut", from_mm=end, to_mm=end + val(f"fasteners.{thread}.nut_m"), thread=True),
        ]
        grip, deep, need = end, val(f"fasteners.{thread}.nut_m"), nut_mm(thread)
        least, most = end + need, end + need + val("fasteners.rule.nut_over")
    length = pinned or next((x for x in stock_mm(thread) if x >= least - 1e-9), None)
    return JointGroup(
        key=f"on/{t.id}" + (f"-{k + 1}" if k else ""),
        of=t.id,
        name=use,
        holds=t.name,
        into="standoff" if bought else lower[0],
        part="",
        count=len(ats),
        thread=thread,
        holding="standoff" if bought else "nut",
        head="stud" if stud else head_of(thread),
        sunk_mm=0.0,
        screw_mm=None if stud else length,
        by_hand=pinned is not None,
        least_mm=least,
        most_mm=most,
        grip_mm=grip,
        least_thread_mm=need,
        end_mm=grip + deep,
        layers=tuple(layers),
        insert_mm=None,
        standoff_mm=stand_mm if bought else None,
        opened=False,
        path="",
        holding_path="",
        seats=tuple(ScrewSeat(at=(*at, top), along=(0.0, 0.0, -1.0)) for at in ats),
        head_on="board",
    )
