"""Random designs, careful and wild, and what must be true of everything that is made of them."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress
from itertools import combinations
from random import Random
from typing import get_args

import numpy as np
from manifold3d import Manifold, OpType

from rhombex.core.advice.hardware import hardware_table
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.apply import apply
from rhombex.core.bench.bodies import body_in
from rhombex.core.bench.gaps import hard
from rhombex.core.case.faces import CaseFace
from rhombex.core.concerns import Finding, judge, judge_bare
from rhombex.core.concerns.registry import HITS
from rhombex.core.design import Design, FaceText
from rhombex.core.edits import PutText, Swap, read_edit
from rhombex.core.geometry import mesh_kernel as mk
from rhombex.core.geometry.weld import single_precision
from rhombex.core.openings.opening import Opening, outline
from rhombex.core.plain import DesignError
from rhombex.core.space import Box, Face, Vec3
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.core.workshop.workshop import Workshop

from .mutate import a_magnet, a_snap, constructions, random_edit, starts
from .rough import shaped

TOUCH_MM3 = 0.02
HELD = 0.85  # of what is round a thread or under a head: a rounded corner or a chamfer may take the rest


def random_design(r: Random) -> Design:
    """A sample or an empty start after some edits of a hand: careful ones move and size things a little, wild ones do anything."""
    d = r.choice(starts())
    wild = r.random() < 0.4
    if r.random() < 0.7:
        with suppress(DesignError):
            d = apply(d, read_edit({"do": "construct", "construction": r.choice(constructions(r, r.uniform(4, 30)))}))
    for _ in range(r.randint(1, 8)):
        edit = random_edit(r, d) if wild else _feature(r, d) if r.random() < 0.25 else _careful(r, d)
        try:
            d = apply(d, read_edit(edit))
        except DesignError:
            continue
    return _lettered(r, _own_copies(d) if r.random() < 0.15 else d)


def _lettered(r: Random, d: Design) -> Design:
    """One in six with text on a face."""
    if r.random() > 1 / 6:
        return d
    inside = d.shell.inner_mm
    text = FaceText(
        id="made",
        face=r.choice(get_args(Face)),
        at_mm=(round(r.uniform(10, inside[0]), 1), round(r.uniform(4, inside[r.choice((1, 2))]), 1)),
        text=r.choice(("A", "Rhombex 12", "gäq%&8", "i")),
        high_mm=r.choice((5.0, 8.0, 14.0)),
        deep_mm=r.choice((None, 0.8, 2.0)),
        turn_deg=r.choice((0, 90, 180, 270)),
    )
    return apply(d, PutText(text=text))


def _own_copies(d: Design) -> Design:
    """The design with a copy of its own of every component that stands in it."""
    for p in d.placements:
        c = d.component(p.component)
        mine = c and c.model_copy(update={"key": f"own-{c.key}"[:40]})
        with suppress(DesignError):
            d = apply(d, Swap(id=p.id, component=mine.key, custom=mine)) if mine else d
    return d


def _feature(r: Random, d: Design) -> dict[str, object]:
    """Something that a hand adds to a case, of a sensible size."""
    inside = d.shell.inner_mm
    faces = ("front", "back", "left", "right", "top", "bottom")
    at = [round(r.uniform(10, max(x - 10, 11)), 1) for x in inside[:2]]
    edits: list[dict[str, object]] = [
        {
            "do": "ribs",
            "face": r.choice(faces),
            "count": r.randint(1, 4),
            "high_mm": round(r.uniform(3, 14), 1),
            "lines": r.choice([3, 6]),
        },
        {
            "do": "feet",
            "foot": r.choice(["stick-on", "printed", "screwed"]),
            "under": r.random() < 0.6,
            "high_mm": None,
        },
        {"do": "stand on", "face": r.choice(faces[:4])},
        {"do": "handle", "handle": {"runs": r.choice("xy")}},
        {"do": "magnets", "magnets": a_magnet(r)},
        {"do": "snaps", "snaps": a_snap(r)},
        {"do": "hinge", "hinge": {"side": r.choice(faces[:4])}},
        {"do": "set", "path": "shell.post_thread", "value": r.choice(["insert", "cut in plastic", "captive nut"])},
        {"do": "set", "path": "shell.heads", "value": r.choice(["button head", "countersunk", "countersunk"])},
        {
            "do": "put-own-opening",
            "opening": {
                "id": "o",
                "name": "Own",
                "face": r.choice(faces),
                "at_mm": [at[0], at[1] / 2],
                "shape": r.choice(["round", "slot", "rectangle"]),
                "size_mm": [round(r.uniform(5, 30), 1), round(r.uniform(5, 20), 1)],
                "corner_mm": 2,
                "allowed": True,
            },
        },
    ]
    if d.placements:
        edits += [{"do": "prop-up", "id": r.choice(d.placements).id, "rests_on": on} for on in ("post", "hook")]
        edits += [{"do": "hold-fan", "id": p.id, "slotted": True} for p in d.placements if p.face is not None][:2]
    return r.choice(edits)


def _careful(r: Random, d: Design) -> dict[str, object]:
    faces = ("front", "back", "left", "right", "top", "bottom")
    edits: list[dict[str, object]] = [
        {"do": "move-wall", "face": r.choice(faces), "by_mm": round(r.gauss(0, 6), 2)},
        {"do": "set", "path": "shell.wall_mm", "value": round(r.uniform(1.2, 6), 2)},
        {"do": "set", "path": "shell.floor_mm", "value": round(r.uniform(1.2, 5), 2)},
        {"do": "set", "path": "shell.lid_mm", "value": round(r.uniform(1.2, 5), 2)},
        {"do": "set", "path": "shell.corner_radius_mm", "value": round(r.uniform(0, 16), 2)},
        {"do": "set", "path": "shell.boss_od_mm", "value": r.choice([None, round(r.uniform(5, 13), 1)])},
        {"do": "set", "path": "shell.construction.joint_mm", "value": round(r.uniform(8, 60), 2)},
        {"do": "set", "path": "shell.construction.joint_thread", "value": r.choice(["insert", "cut in plastic"])},
        {"do": "set", "path": "process.layer_mm", "value": r.choice([0.12, 0.2, 0.28])},
        {"do": "set", "path": "printer", "value": r.choice(["bench-180", "bench-220", "bench-300"])},
        {"do": "fit-cavity"},
    ]
    if d.placements:
        p = r.choice(d.placements)
        near = [round(x + r.gauss(0, 6), 2) for x in p.at_mm]
        edits += [{"do": "move", "id": p.id, "to_mm": near}] * 4
        edits += [{"do": "turn", "id": p.id, "by": r.choice([90, 180, 270])}]
    return r.choice(edits)


def broken(d: Design, workshop: Workshop = ARCHIVE_WORKSHOP, ways_out: bool = True) -> Iterator[str]:
    """What of a design's parts is otherwise than told, a line each. `ways_out`: remedies that take a search are looked for as well, which takes a
    fifth of the time."""
    a = shaped(d, workshop)
    told = judge(a) if ways_out else judge_bare(a)
    stops = [f for f in told if f.severity == "stop"]
    yield from (f"rule broke: {f.subjects[0]} {f.reason[:120]}" for f in told if f.code == "rule-broke")
    yield from _pieces(a, stops)
    yield from _together(a, stops)
    yield from _openings(a, told)
    yield from _walls(a)
    yield from _screws(a, [*stops, *(f for f in told if f.code == "text-meets")])
    yield from _ways(a, stops)
    yield from _tables(a)


def _tables(a: Analysis) -> Iterator[str]:
    """The table of Hardware comes, whatever was made. (That of Cuts takes as long as all else together: it has tests of its own.)"""
    try:
        hardware_table(a)
    except Exception as e:
        yield f"the table of Hardware breaks: {type(e).__name__} {str(e)[:120]}"


def _pieces(a: Analysis, stops: list[Finding]) -> Iterator[str]:
    names = {(f.code, f.subjects[0]) for f in stops}
    for p in a.pieces:
        m = mk.evaluate(a.piece_recipes[p.name], mk.FILE_TOL)
        verts, tri = single_precision(m)
        if not (m.volume() > 0 and mk.closed(tri)) and ("piece-not-closed", p.name) not in names:
            yield f"{p.name} does not close, unsaid"
        # where a cut is tangent to a round edge a needle may stay that has no volume at all
        bodies = [x.volume() > 0 for x in m.decompose() if abs(x.volume()) > 1e-6]
        if (
            sum(bodies) != a.case.part(p.part).bodies
            and ("piece-in-bodies", p.name) not in names
            and ("standoff-under-a-layer", p.name.removeprefix("spacers-")) not in names
            # what only hangs together by the coarser chords of a preview is told once it has settled
            and ("piece-in-bodies", p.name)
            not in {(f.code, f.subjects[0]) for f in judge(analyse(a.design, a.workshop)) if f.subjects}
        ):
            yield f"{p.name} is {sum(bodies)} bodies, unsaid"
        hollows, rooms = (
            len(bodies) - sum(bodies),
            sum(x.cover_mm > 0 and p.part in (x.holds, x.into) for x in a.case.magnets),
        )
        if hollows > rooms:
            yield f"{p.name} has {hollows} hollows, of which {rooms} are for magnets"
        if any(f.code == "magnet-pocket-thin" for f in stops):
            continue  # it may be cut off there, and the coarser chords of a preview leave another crumb
        size = np.ptp(verts, axis=0)
        # what is told is measured with coarser chords, a round end of which may lie so far within the true one
        if np.abs(size - p.bbox_mm).max() > 2 * mk.SEEN_TOL:
            yield f"{p.name} is {size} and told as {p.bbox_mm}"
        if np.abs(verts.min(axis=0)).max() > mk.SEEN_TOL + 0.01:
            yield f"{p.name} does not lie in the corner of the bed: {verts.min(axis=0)}"


def _together(a: Analysis, stops: list[Finding]) -> Iterator[str]:
    if not a.case.walls:
        return
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    said = {x for f in stops for x in f.subjects}
    hit = {x for f in stops if f.code in HITS for x in f.subjects}
    for (one, m), (other, q) in combinations(parts.items(), 2):
        v = (m ^ q).volume()
        if v > 2 * TOUCH_MM3 and not {one, other} <= said:
            yield f"{one} and {other} overlap by {v:.3f} mm3, unsaid"
    for t in a.things:
        for s in hard(t):
            for n, m in parts.items():
                v = (m ^ body_in(t, s)).volume()
                if v > 2 * TOUCH_MM3 and t.id not in hit:
                    yield f"{s.name} of {t.id} ({s.role}) stands in {n} by {v:.3f} mm3, unsaid"


def _walls(a: Analysis) -> Iterator[str]:
    """A needle through plain wall, beside everything that is cut into it, goes through as much plastic as is told."""
    r = Random(a.design.name)
    cuts = [(o.face, outline(o, 1.5)) for o in a.openings.openings]
    for v in a.openings.vents:
        (u, w), (du, dw) = v.at_mm, v.size_mm
        cuts.append((v.face, (u - du / 2 - 2, w - dw / 2 - 2, u + du / 2 + 2, w + dw / 2 + 2)))
    cuts += [
        (t.face, (t.rect_mm[0] - 0.1, t.rect_mm[1] - 0.1, t.rect_mm[2] + 0.1, t.rect_mm[3] + 0.1))
        for t in a.openings.texts
    ]
    parts = {n: mk.evaluate(x, mk.FILE_TOL) for n, x in a.recipes.items() if a.case.part(n).in_place}
    # an opening that runs over the edge of its face (told as such) cuts into the wall beside it
    tools = [(o.face, _cut_by(a, o)) for o in a.openings.openings]
    for face in a.case.faces:
        u0, v0, u1, v1 = face.clear_mm
        for _ in range(3):
            # the whole needle lies within
            u, v = r.uniform(u0 + 0.06, u1 - 0.06), r.uniform(v0 + 0.06, v1 - 0.06)
            if u1 <= u0 or v1 <= v0 or any(f == face.id and b[0] < u < b[2] and b[1] < v < b[3] for f, b in cuts):
                continue
            x, y, _ = face.at((u, v))
            if any(f != face.id and box.distance(Box(p, p)) <= 0.1 for f, box in tools for p in [face.at((u, v))]):
                continue
            if any(
                np.hypot(x - at[0], y - at[1]) < far
                for at, far in (
                    *((at, 12.0) for at in (*a.case.feet, *(x.at for x in (*a.case.mounts, *a.case.fastened)))),
                    *((m.at, m.od_mm / 2 + 1.0) for m in a.case.magnets),  # a long block lies in its pocket
                )
            ) or any(x.box.distance(Box(p, p)) < 0.5 for x in a.case.lifts for p in [face.at((u, v))]):
                continue  # recesses and heads are sunk there
            needle = _rod(face, (u, v), 0.05, face.thick_mm)
            # at the very edge of a wall the needle is only partly in it
            about = [(u + x, v + y) for x in (-0.06, 0.06) for y in (-0.06, 0.06)]
            for n in set.intersection(*(set(a.case.behind(face.id, *p, *p)) for p in about)):
                thick = (
                    (parts[n] ^ needle).volume() / (needle.volume() / face.thick_mm) if n in parts else face.thick_mm
                )
                if thick < face.thick_mm - 0.01:
                    yield f"the {face.id} wall of {n} is {thick:.2f} thick and told as {face.thick_mm:.2f} ({u:.1f}, {v:.1f})"


def _cut_by(a: Analysis, o: Opening) -> Box:
    """The box that an opening is cut with."""
    u0, v0, u1, v1 = outline(o)
    deep = max((w.depth_mm for w in a.case.walls if w.face == o.face), default=0.0)
    return a.case.face(o.face).frame.box(Box((u0, v0, -deep - 1.0), (u1, v1, 1.0)))


def _rod(face: CaseFace, uv: tuple[float, float], radius: float, deep: float, over: float = 0.0) -> Manifold:
    """A rod from so far in front of a face to so far behind it."""
    f = face.frame
    at = [[f.x[i], f.y[i], f.z[i], c] for i, c in enumerate(face.at(uv))]
    return Manifold.cylinder(deep + over, radius, radius, 8).translate((0, 0, -deep)).transform(np.array(at))


def _openings(a: Analysis, told: tuple[Finding, ...]) -> Iterator[str]:
    """A thin rod through the middle of every opening meets no wall."""
    said = {x for f in told for x in f.subjects}
    for o in a.openings.openings:
        face = a.case.face(o.face)
        deep = max((w.depth_mm for w in a.case.walls if w.face == o.face), default=0.0)
        pane = o.pane.part if o.pane is not None else ""
        cut = any(x.parts == (pane,) for x in a.openings.openings)  # its middle may be open
        if o.pane is not None and o.parts and not cut and not {o.id, pane} & said:
            rod = _rod(face, o.at_mm, 0.15, deep + o.pane.to_mm, 1.0)
            v = (mk.evaluate(a.recipes[pane], mk.FILE_TOL) ^ rod).volume() / (
                rod.volume() / (deep + o.pane.to_mm + 1.0)
            )
            if abs(v - o.pane.thick_mm) > 0.01:
                yield f"opening {o.id} is closed by {v:.2f} mm of a pane of {o.pane.thick_mm:.2f}, unsaid"
        for n in o.parts:
            if n not in a.recipes:
                continue
            thin = min(0.15, 0.4 * min(o.size_mm))
            v = (mk.evaluate(a.recipes[n], mk.FILE_TOL) ^ _rod(face, o.at_mm, thin, deep, 1.0)).volume()
            if v > 1e-3 and not {o.id, o.of, n} & said:
                yield f"opening {o.id} in {n} is shut ({v:.3f} mm3), unsaid"


def _bar(at: Vec3, along: Vec3, lo: float, hi: float, radius: float) -> Manifold:
    """A round bar about an axis of the case through `at`, from `lo` to `hi` mm along it."""
    i = next(k for k in range(3) if along[k])
    turn = np.zeros((3, 4))
    turn[(i + 1) % 3, 0] = turn[(i + 2) % 3, 1] = turn[i, 2] = 1.0
    turn[:, 3] = at
    turn[i, 3] = min(at[i] + along[i] * lo, at[i] + along[i] * hi)
    return Manifold.cylinder(hi - lo, radius, radius, 24).transform(turn)


def _screws(a: Analysis, stops: list[Finding]) -> Iterator[str]:
    """Every screw of the case has a free way through what it holds and into its hole, plastic round its thread and under its head."""
    if any(f.code == "boss-too-thin" for f in stops):
        return  # one voice for all that a hand made too slim
    said = {x for f in stops for x in f.subjects}
    cut = {f.subjects[0] for f in stops if f.code == "opening-meets-screw"}
    said |= {part for o in a.openings.openings if o.id in cut for part in o.parts}
    over = {f.subjects[0] for f in stops if f.code == "text-meets"}
    said |= {t.part for t in a.openings.texts if t.id in over and t.part}
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    free: dict[str, list[tuple[str, Manifold]]] = {n: [] for n in parts}
    full: dict[str, list[tuple[str, Manifold]]] = {n: [] for n in parts}
    for j in (*a.case.screws, *(b.screw for b in a.case.brackets), *(j for h in a.case.hooks for j in h.screws)):
        if {j.holds, j.into} & said or not {j.holds, j.into} <= parts.keys():
            continue
        deep, hole, through = j.hole_depth_mm - j.pocket_mm, j.hole_mm / 2, j.clearance_mm / 2
        free[j.into].append((j.id, _bar(j.at, j.along, 0.05, max(deep - 0.05, 0.1), 0.93 * hole)))
        free[j.holds].append((j.id, _bar(j.at, j.along, -j.passed_mm - 0.5, -0.05, 0.93 * through)))
        # what a head lies on, or under its cone what is left there
        under = (-j.passed_mm + j.cone_mm + 0.02, -j.passed_mm + j.cone_mm + 0.3)
        full[j.holds].append((j.id, _tube(j.at, j.along, *under, through + 0.05, j.head_d_mm / 2 - 0.1)))
        if j.cone_mm > 0:
            free[j.holds].append(
                (j.id, _bar(j.at, j.along, -j.passed_mm - 0.5, -j.passed_mm + 0.05, 0.93 * j.head_d_mm / 2))
            )
        if j.slot is None:
            outer = min(hole + 0.8, j.od_mm / 2)  # a boss too slim is told by itself
            full[j.into].append((j.id, _tube(j.at, j.along, 0.3, max(deep - 0.3, 0.4), hole + 0.1, outer)))
    for m in (m for m in a.case.mounts if not {m.of, m.part, "post"} & said and m.part in parts):
        name, at, down = f"a post of {m.of}", (*m.at, m.top_mm), (0.0, 0.0, -1.0)
        deep = m.hole_depth_mm - max(m.pocket_mm, m.head_depth_mm if m.holding == "through" else 0.0)
        free[m.part].append((name, _bar(at, down, 0.05, deep - 0.05, 0.93 * m.hole_mm / 2)))
        if m.slot is None and m.beside is None:
            r = m.hole_mm / 2
            outer = min(r + 0.7, m.od_mm / 2)
            full[m.part].append((name, _tube(at, down, 0.3, max(deep - 0.3, 0.4), r + 0.1, outer)))
    for n, part in parts.items():
        # all at once; one by one where something is otherwise
        if free[n] and (part ^ Manifold.batch_boolean([x for _, x in free[n]], OpType.Add)).volume() > 0.01:
            filled = {w: (part ^ x).volume() for w, x in free[n]}
            yield from (
                f"the hole of {w} in {n} is filled by {v:.2f} mm3, unsaid" for w, v in filled.items() if v > 0.01
            )
        whole = Manifold.batch_boolean([x for _, x in full[n]], OpType.Add)
        if full[n] and (whole - part).volume() > (1 - HELD) * min(x.volume() for _, x in full[n]):
            shares = {w: (part ^ x).volume() / x.volume() for w, x in full[n]}
            yield from (f"round {w} in {n} is {s:.2f} plastic, unsaid" for w, s in shares.items() if s < HELD)


def _tube(at: Vec3, along: Vec3, lo: float, hi: float, inner: float, outer: float) -> Manifold:
    return _bar(at, along, lo, hi, outer) - _bar(at, along, lo - 1, hi + 1, inner)


def _ways(a: Analysis, stops: list[Finding]) -> Iterator[str]:
    """Every part that is put on passes those that are there before it, looked at in three places of its way. Snaps bend as they go; brackets and panes are on
    their wall, and pins in their pieces, before these are put on."""
    said = {x for f in stops for x in f.subjects} | {x for s in a.case.snaps for x in (s.holds, s.into)}
    said |= {o.pane.part for o in a.openings.openings if o.pane is not None}
    parts = {n: mk.evaluate(r, mk.FILE_TOL) for n, r in a.in_place().items()}
    there: list[str] = []
    for p in (p for p in a.case.parts if p.name in parts and p.name not in said and p.size_mm is not None):
        for share in (0.05, 0.2, 0.6) if p.put_on else ():
            assert p.put_on is not None
            far = p.put_on.travel_mm * share
            on_its_way = parts[p.name].translate([-c * far for c in p.put_on.along])
            met = {o: v for o in there if (v := (on_its_way ^ parts[o]).volume()) > 2 * TOUCH_MM3}
            if met:
                yield f"{p.name} meets {met} on its way, {far:.1f} mm before its place, unsaid"
                break
        there.append(p.name)
