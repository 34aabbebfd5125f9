"""Brackets that press a display to its wall by its frame, and a card's own metal bracket to the wall behind its window: on bosses inside beside their
edges, so that no screw shows outside."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from functools import partial
from math import ceil
from typing import NamedTuple

from rhombex.core.bench.arrange import Thing
from rhombex.core.bench.gaps import hard
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.mounts import Bracket, FrameSide
from rhombex.core.case.parts import Part
from rhombex.core.design import Design
from rhombex.core.fit.joints import boss_od_mm, hole_depth_mm
from rhombex.core.fit.laying import down_of
from rhombex.core.geometry.grown import grown
from rhombex.core.geometry.recipe import Difference, Loop, Move, Solid, Union, at, circle, snap, through
from rhombex.core.reference import val
from rhombex.core.shell.case_screw import THREAD, case_screw
from rhombex.core.shell.on_walls import in_face, inside, into_of, wall_behind
from rhombex.core.shell.places import slots
from rhombex.core.shell.solids import OVER, bore, screw_hole
from rhombex.core.space import OUTWARD, Box, Frame, Vec2, Vec3
from rhombex.core.workshop.printer import Printer

PRESSED = "display"  # the family of what is held so all round
OF_CARDS = "bracket-"  # begins the kinds of the windows of cards' own metal brackets
SHEET_MM = 1.5  # a card's bracket is that thin at most
THICK_MM = 3.0  # of a bracket, in foot, riser and flange alike
LAP_MM = 4.0  # of the flange over the frame; common practice
STRIP_MM = 0.5  # what a strip of foam of 1 mm between flange and frame is pressed to; common practice
FLAT_MM = (
    6.0  # a boss grows by so much at most, so that its bracket is a flat bar; a higher frame is reached by a riser
)
LONG_MM = 150.0  # a side that is longer has two brackets; common practice
STEP_MM = 2.0  # of the places that are tried along a side
CLEAR_MM = 0.5  # of all that stands inside
ACROSS: tuple[frozenset[FrameSide], ...] = (frozenset({"left", "right"}), frozenset({"bottom", "top"}))
# of a frame, as its face is seen from outside, and the way to each along the face
SIDES: dict[FrameSide, Vec2] = {"left": (-1.0, 0.0), "bottom": (0.0, -1.0), "right": (1.0, 0.0), "top": (0.0, 1.0)}


class Framed(NamedTuple):
    """What brackets press to a wall: the face that it is on, its frame in that face's own frame (x right, y up, z outward), the sides of the frame that
    they may stand on, those that hold it (any of these sets), and what is left free between frame and flange."""

    face: CaseFace
    frame: Box
    sides: tuple[FrameSide, ...]
    enough: tuple[frozenset[FrameSide], ...]
    strip_mm: float

    def held(self, found: Iterable[Bracket]) -> bool:
        """Whether brackets hold it."""
        there = {b.side for b in found}
        return any(sides <= there for sides in self.enough)


def framed(t: Thing, case: Case) -> Framed | None:
    """What of a component is pressed by its frame: of a display its largest solid, one that lies against the wall where there is such, all round; of a card the metal bracket
    behind its window, by its end away from the contact edge, which holds the other, or beside that end. None for all else."""
    faces = {f.id: f for f in case.faces}
    if t.component.family == PRESSED:
        face = faces.get(t.face or "")
        boxes = [in_face(face, s.box) for s in hard(t) if s.round_axis is None] if face else []
        flat = [
            b for b in boxes if face and abs(b.hi[2] + face.thick_mm) < 0.1
        ] or boxes  # of one that stands back: its largest
        largest = max(flat, key=lambda b: b.size[0] * b.size[1], default=None)
        return Framed(face, largest, tuple(SIDES), ACROSS, STRIP_MM) if face and largest else None
    port = next((p for p in t.ports if p.port.kind.startswith(OF_CARDS)), None)
    face = faces.get(port.face) if port else None
    if face is None:
        return None
    metal = [in_face(face, s.box) for s in t.solids if s.role == "connector"]
    near = [
        b
        for b in metal
        if 0 <= -face.thick_mm - b.hi[2] <= val("limits.port_reach.plate") + 1e-6 and b.size[2] <= SHEET_MM
    ]
    if not near:
        return None
    frame = near[0]
    axis = 0 if frame.size[0] > frame.size[1] else 1
    ends: tuple[FrameSide, FrameSide] = ("left", "right") if axis == 0 else ("bottom", "top")
    pins = [in_face(face, s.box).centre[axis] for s in t.solids if s.role == "pins"]
    if not pins:
        return Framed(face, frame, ends, (frozenset(ends),), 0.0)
    end = ends[1] if pins[0] < frame.centre[axis] else ends[0]
    # beside that end where it has no room: the slope under a boss would stand in an upright card's
    beside = tuple(s for s in SIDES if s not in ends)
    return Framed(face, frame, (end, *beside), tuple(frozenset({s}) for s in (end, *beside)), 0.0)


def with_brackets(design: Design, printer: Printer, built: Built, things: tuple[Thing, ...]) -> Built:
    """The case with the brackets of its displays and cards and the bosses that these are screwed to, where they find a place (a rule tells where they do not)."""
    found: list[Bracket] = []
    beside = 0.0
    for t in things:
        what = framed(t, built.case)
        if what is not None and t.face is not None:
            # whole millimetres: the allowance in it changes a little with the walls, which are drawn by it
            corner = ceil(max(what.face.clear_mm[0] - what.face.inset_mm[0], 0.0))
            beside = max(beside, room_beside_mm(design) + CLEAR_MM + corner)
        found += brackets_of(design, printer, built.case, things, t, tuple(found))
    if not found:
        return replace(built, case=built.case.model_copy(update={"beside_mm": beside})) if beside else built
    bodies, on_bed, parts = dict(built.bodies), dict(built.on_bed), list(built.case.parts)
    for wall in dict.fromkeys(b.screw.into for b in found):
        mine = tuple(b for b in found if b.screw.into == wall)
        bodies[wall] = partial(_with_bosses, bodies[wall], built.case, mine)
    for name in dict.fromkeys(b.part for b in found):
        mine = tuple(b for b in found if b.part == name)
        part = Part(name=name, size_mm=None, down="bottom", plates=(), bodies=len(mine))
        on = built.case.part(mine[0].screw.into)
        if any(t.id == mine[0].of and t.face is not None for t in things):  # what a card has comes last, from inside
            part = part.model_copy(update={"put_on": on.put_on, "rides": on.name})
        parts.append(part)
        bodies[name] = partial(_standing, mine)
        on_bed[name] = _lying(mine)
    case = built.case.model_copy(update={"brackets": tuple(found), "parts": tuple(parts), "beside_mm": beside})
    return replace(built, case=case, bodies=bodies, on_bed=on_bed)


def brackets_of(
    design: Design, printer: Printer, case: Case, things: tuple[Thing, ...], t: Thing, before: tuple[Bracket, ...] = ()
) -> list[Bracket]:
    """The brackets of a component that find a place: in the middle of each side of its frame that they may stand on, or two along a long one."""
    what = framed(t, case)
    if what is None:
        return []
    face, frame = what.face, what.frame
    there = [s.box for o in things if o.id != t.id for s in o.solids]
    there += [m.box for m in case.mounts] + [b.boss for b in case.kept_whole] + [x.box for x in case.lifts]
    there += [x for b in before for x in b.rooms]
    own = [b for b in (in_face(face, s.box) for s in t.solids) if b != frame]
    blocked = [b.grown(CLEAR_MM) for b in (*own, *(in_face(face, b) for b in there))]
    out: list[Bracket] = []
    for side in what.sides:
        along = 1 if SIDES[side][0] else 0
        lo, hi = frame.lo[along], frame.hi[along]
        shares = (0.2, 0.8) if hi - lo > LONG_MM else (0.5,)
        if t.face is None and side != what.sides[0] and len(what.enough) > 1:  # of a card one is enough, near that end
            if out:
                break
            shares = (0.9,) if sum(SIDES[what.sides[0]]) > 0 else (0.1,)
        for share in shares:
            a = (lo + hi) / 2 if share > 0.5 else lo
            b = (lo + hi) / 2 if share < 0.5 else hi
            for q in slots(a + STEP_MM, b - STEP_MM, lo + share * (hi - lo), STEP_MM):
                one = _bracket(design, printer, case, t, what, side, q, len(out) + 1, blocked)
                if one is not None:
                    out.append(one)
                    blocked += [in_face(face, x).grown(CLEAR_MM) for x in one.rooms]
                    break
    return out


def _half_mm(design: Design) -> float:
    """Half the width of foot and boss: as the boss wants it, and so that the screw's head lies on the foot."""
    return max(boss_od_mm(THREAD, into_of(design)), val(f"fasteners.{THREAD}.head_d") + 2 * CLEAR_MM) / 2


def room_beside_mm(design: Design) -> float:
    """What a bracket takes of the wall beside a frame."""
    return _off_mm(design) + _half_mm(design)


def _off_mm(design: Design) -> float:
    """From a frame's edge to the screw: what rises beside the frame has a gap before it and behind it."""
    return 2 * val("fasteners.rule.edge_gap") + THICK_MM + _half_mm(design)


def _bracket(
    design: Design,
    printer: Printer,
    case: Case,
    t: Thing,
    what: Framed,
    side: FrameSide,
    q: float,
    number: int,
    blocked: list[Box],
) -> Bracket | None:
    """The bracket on one side of a frame, `q` along it. None where no printed wall stands behind all of its boss, or something `blocked` (boxes of the face's
    frame) is in its way."""
    face, frame = what.face, what.frame
    out, r = into_of(design), _half_mm(design)
    deep = hole_depth_mm(THREAD, out)
    reach = -face.thick_mm - frame.lo[2] + what.strip_mm
    high = reach if deep <= reach <= deep + FLAT_MM else deep
    gap, s = val("fasteners.rule.edge_gap"), _off_mm(design)
    away, inner = SIDES[side], -face.thick_mm
    edge = {"left": (frame.lo[0], q), "right": (frame.hi[0], q), "bottom": (q, frame.lo[1]), "top": (q, frame.hi[1])}
    u, v = edge[side][0] + away[0] * s, edge[side][1] + away[1] * s
    wall = wall_behind(case, face, (u - r, v - r, u + r, v + r))
    if wall is None:
        return None
    bed = face.frame.inverse.vector(OUTWARD[down_of(design, wall)])
    ramp = (bed[0], bed[1]) if abs(bed[2]) < 0.5 else None
    foot = [u - r, v - r, u + r, v + r]
    if ramp is not None:  # the boss prints lying: a slope of 45 degrees carries it
        foot = _stretched(foot, ramp, high)
    if wall != wall_behind(case, face, (foot[0], foot[1], foot[2], foot[3])):
        return None
    boss = Box((foot[0], foot[1], inner - high), (foot[2], foot[3], 0.0))
    if max(boss.gaps(frame)) < -1e-6:
        return None  # the slope would stand in the display
    top = inner - max(high, reach) - THICK_MM - val(f"fasteners.{THREAD}.head_k")
    rooms = (
        _spanned(edge[side], away, r, [(foot[0], foot[1]), (foot[2], foot[3])], top, inner),
        _spanned(edge[side], away, r, [], inner - reach - THICK_MM, inner),
    )
    if any(max(room.gaps(x)) < 0 for room in rooms for x in blocked):
        return None
    if not all(inside(case, face, room) for room in rooms):
        return None
    name = f"brackets-{t.id}"[:40]
    own = design.joint(f"face/{t.id}")
    along = face.frame.z
    screw = case_screw(
        design,
        printer,
        id=f"{t.id}-bracket-{number}",
        name=f"bracket of {t.name}",
        holds=name,
        into=wall.name,
        at=face.frame.point((u, v, inner - high)),
        along=along,
        boss=face.frame.box(boss),
        od_mm=2 * r,
        through_mm=THICK_MM,
        sunk=False,
        inside=True,
        deep_mm=deep,
        holding=out,
        length_mm=own.screw_mm if own else None,
        path="",
        opened=False,
        usual={
            **case.sides,
            name: "front" if abs(along[2]) > 0.5 else "bottom",
        },  # a bracket lies on its side, its hole along the bed
    )
    return Bracket(
        of=t.id,
        part=name,
        face=face.id,
        side=side,
        frame=_frame(face, edge[side], away, inner),
        gap_mm=gap,
        off_mm=s,
        high_mm=high,
        reach_mm=reach,
        wide_mm=2 * r,
        strip_mm=what.strip_mm,
        ramp=ramp,
        rooms=tuple(face.frame.box(room) for room in rooms),
        screw=screw.model_copy(update={"thread_path": "shell.post_thread", "screw_path": "", "rooted": True}),
    )


def _spanned(edge: Vec2, away: Vec2, r: float, ends: list[Vec2], low: float, high: float) -> Box:
    """The box from the middle of a bracket at a frame's edge, as wide as it is, to some points beyond, or over the frame where there are none."""
    far = [(edge[0] - away[0] * LAP_MM, edge[1] - away[1] * LAP_MM)] if not ends else []
    wide = [(edge[0] - away[1] * k * r, edge[1] - away[0] * k * r) for k in (-1, 1)]
    us, vs = zip(*wide, *ends, *far, strict=True)
    return Box((min(us), min(vs), low), (max(us), max(vs), high))


def _stretched(rect: list[float], way: Vec2, by: float) -> list[float]:
    u0, v0, u1, v1 = rect
    x, y = way[0] * by, way[1] * by
    return [u0 + min(x, 0), v0 + min(y, 0), u1 + max(x, 0), v1 + max(y, 0)]


def _frame(face: CaseFace, edge: Vec2, away: Vec2, inner: float) -> Frame:
    """At the edge of a display's frame on the inside of its wall: x away from the display, y into the room, z along the edge."""
    x, y = face.frame.vector((away[0], away[1], 0.0)), face.frame.vector((0.0, 0.0, -1.0))
    return Frame(face.frame.point((*edge, inner)), x, y, _cross(x, y))


def bracket_loop(b: Bracket) -> Loop:
    """A bracket from the side: its foot on the boss, its flange over the frame, and what leads from the one to the other beside the frame's edge."""
    g, rise, end = b.gap_mm, b.gap_mm + THICK_MM, b.off_mm + b.wide_mm / 2
    foot, flange = b.high_mm, b.reach_mm
    if abs(foot - flange) < 1e-6:
        corners = [(-LAP_MM, foot), (end, foot), (end, foot + THICK_MM), (-LAP_MM, foot + THICK_MM)]
    elif flange > foot:
        corners = [(-LAP_MM, flange), (g, flange), (g, foot), (end, foot), (end, foot + THICK_MM)]
        corners += [(rise, foot + THICK_MM), (rise, flange + THICK_MM), (-LAP_MM, flange + THICK_MM)]
    else:
        corners = [(-LAP_MM, flange), (rise, flange), (rise, foot), (end, foot), (end, foot + THICK_MM)]
        corners += [(g, foot + THICK_MM), (g, flange + THICK_MM), (-LAP_MM, flange + THICK_MM)]
    return tuple((snap(x), snap(y), 0.0) for x, y in corners)


def _in_place(b: Bracket) -> Solid:
    """A bracket where it stands, with its screw's hole."""
    whole = through([bracket_loop(b)], b.frame, -b.wide_mm / 2, b.wide_mm / 2)
    j = b.screw
    return Difference(whole, (bore(j.at, j.along, j.clearance_mm, -(THICK_MM + OVER), OVER),))


def _standing(found: tuple[Bracket, ...], tools: tuple[Solid, ...]) -> Solid:
    return Union(tuple(_in_place(b) for b in found))


def _lying(found: tuple[Bracket, ...]) -> Solid:
    """Brackets on the bed, each on its side, so that its lines run through foot, riser and flange; one behind another."""
    pitch = max(abs(b.reach_mm - b.high_mm) for b in found) + THICK_MM + val("printing.feature.piece_gap")
    one = [Move(Move(_in_place(b), b.frame.inverse), at(0.0, k * pitch, b.wide_mm / 2)) for k, b in enumerate(found)]
    return Union(tuple(one))


def _with_bosses(whole: Body, case: Case, found: tuple[Bracket, ...], tools: tuple[Solid, ...]) -> Solid:
    """A part with the bosses of brackets, rooted half its wall deep, so that they are one with it."""
    bosses: list[Solid] = []
    for b in found:
        face, r, high = case.face(b.face), b.wide_mm / 2, b.high_mm
        x, into, z = b.frame.x, b.frame.y, b.frame.z
        root, centre = -face.thick_mm / 2, b.frame.point((b.off_mm, 0.0, 0.0))
        bosses.append(through([circle(0, 0, b.wide_mm)], Frame(centre, z, x, into), root, high))
        if b.ramp is not None:
            down = face.frame.vector((*b.ramp, 0.0))
            corners = [(0.0, root), (r + high, root), (r + high, 0.0), (r, high), (0.0, high)]
            loop: Loop = tuple((snap(a), snap(c), 0.0) for a, c in corners)
            bosses.append(through([loop], Frame(centre, down, into, _cross(down, into)), -r, r))
    return grown(whole(tools), tuple(bosses), tuple(screw_hole(b.screw) for b in found))


def _cross(a: Vec3, b: Vec3) -> Vec3:
    return (a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])
