"""What stands on corner pieces: a printed floor, beams or corners in the four upright corners of the room, and five flat covers screwed to them.

Covers lie outside the corner pieces: those on left and right over the whole depth, front and back between them, the top over all.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from math import pi, tan

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.bench.open_walls import open_walls
from rhombex.core.case import (
    Body,
    Built,
    Case,
    CaseFace,
    Flat,
    Joint,
    Lift,
    Mount,
    Part,
    PutOn,
    Seam,
    Seat,
    Sheet,
    Wall,
)
from rhombex.core.constructions import Holding, Magnets, Material, Wrap
from rhombex.core.design import Design, Direction
from rhombex.core.faults import Faults
from rhombex.core.fit.allowance import fit
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.fit.joints import hole_depth_mm, hole_mm
from rhombex.core.geometry.recipe import Difference, Filled, Loop, Solid, Union, block, rect, through
from rhombex.core.reference import val
from rhombex.core.shell.bent import FACES, WRAP, Bent, bent_of
from rhombex.core.shell.box import box_faces, face_thickness, seat_of
from rhombex.core.shell.case_screw import case_screw, sunk_mm
from rhombex.core.shell.feet import feet_of, foot_of, foot_seats
from rhombex.core.shell.lifts import lift
from rhombex.core.shell.magnets import (
    HEAD_MM,
    along_mm,
    beside_beams_mm,
    deep_mm,
    in_place_of,
    lifts_cut,
    pockets,
    ribs,
)
from rhombex.core.shell.mounts import mounts_of
from rhombex.core.shell.places import slots
from rhombex.core.shell.posts import with_posts
from rhombex.core.shell.solids import OVER, bore
from rhombex.core.space import OUTWARD, Box, Face, Vec2, Vec3, normal_axis
from rhombex.core.workshop.printer import Printer

FLOOR = "floor"
Stretch = tuple[float, float, float, float]
SIDES: tuple[Face, ...] = ("front", "back", "left", "right")
COVERS: tuple[Face, ...] = (*SIDES, "top")
BOSS_MM = 3.2  # half of what is kept round a screw: its head, M3, with a hair; from ISO 7380
CAP_MM = 1.2  # of plastic beyond a hole's end; common practice
TWO_SCREWS_MM = 60.0  # a cover higher than this has two screws on each beam; common practice
COVER_TRAVEL_MM = 40.0  # from how far outside a cover is put on


@dataclass(frozen=True)
class Framing:
    """What a construction of this family chooses: the side of its square corner pieces, their heights (None: from floor to top), what they
    are called, which covers are of sheet and of which, how the screws hold, and magnets in place of those of the covers. `wrap`: one sheet is bent over
    the top, with an inner radius of `bend_mm`."""

    kind: str
    corner_mm: float
    reach_mm: float | None
    called: str
    sheet: tuple[Face, ...]
    material: Material
    holding: Holding
    screws_mm: dict[str, float | None] = field(default_factory=dict)
    magnets: Magnets | None = None
    wrap: Wrap = "none"
    bend_mm: float = 6.0


@dataclass(frozen=True)
class Corner:
    """A corner piece: its name, the box it fills, and the ends that a screw comes into (bottom, top)."""

    name: str
    box: Box
    on_floor: bool
    under_top: bool


def cover_name(framing: Framing, face: Face) -> str:
    """The name of the part that closes a face."""
    if face in FACES[framing.wrap]:
        return WRAP
    return f"{'sheet' if face in framing.sheet else 'cover'}-{face}"


def corners_of(design: Design, framing: Framing) -> tuple[Corner, ...]:
    """The corner pieces in their places, the front left one first, those on the floor before those under the top."""
    s, room = design.shell, cavity(design)
    b = max(0.5, min(framing.corner_mm, s.inner_mm[0] / 2 - 1.0, s.inner_mm[1] / 2 - 1.0))
    low, high = room.lo[2], room.hi[2]
    reach = framing.reach_mm
    whole = reach is None or 2 * reach + 4.0 > high - low
    spans = [(low, high, True, True)]
    if not whole and reach is not None:
        spans = [(low, low + reach, True, False), (high - reach, high, False, True)]
    out: list[Corner] = []
    for z0, z1, on_floor, under_top in spans:
        for y0 in (room.lo[1], room.hi[1] - b):
            for x0 in (room.lo[0], room.hi[0] - b):
                box = Box((x0, y0, z0), (x0 + b, y0 + b, z1))
                out.append(Corner(f"{framing.called}-{len(out) + 1}", box, on_floor, under_top))
    return tuple(out)


def build_framed(
    design: Design, framing: Framing, printer: Printer, things: tuple[Thing, ...], faults: Faults
) -> Built:
    """The case of a floor, corner pieces and five covers. Posts or screws that cannot be planned are noted, and the rest stands."""
    s, outer = design.shell, outer_size(design)
    w, d, h = outer
    corners = corners_of(design, framing)
    gap = fit(design, printer, "tongue_side", tuple(cover_name(framing, f) for f in SIDES), max(w, d)).value
    side = corners[0].box.size[0]
    bent = bent_of(design, framing.wrap, framing.material, framing.bend_mm, s.floor_mm + gap / 2)
    clear: dict[Face, Stretch] = {}
    for f in SIDES:
        wide = w if f in ("front", "back") else d
        clear[f] = (s.wall_mm + side, s.floor_mm + gap, wide - s.wall_mm - side, h - s.lid_mm - gap)
    clear |= dict.fromkeys(
        ("top", "bottom"), (s.wall_mm + side, s.wall_mm + side, w - s.wall_mm - side, d - s.wall_mm - side)
    )
    if bent is not None:
        clear = _off_the_bends(clear, bent)
    faces = box_faces(design, clear)
    if bent is not None:  # its top is as thick as its sides, whatever is asked for
        faces = tuple(f.model_copy(update={"thick_mm": s.wall_mm}) if f.id == "top" else f for f in faces)
    no_mounts: tuple[Mount, ...] = ()
    no_joints: tuple[tuple[Joint, ...], int] = ((), 0)
    mounts = faults.attempt("stage", "posts", lambda: mounts_of(design, printer, things, FLOOR), no_mounts)
    joints, wanted = faults.attempt(
        "stage", "screws of the covers", lambda: _joints(design, framing, printer, corners, things, bent), no_joints
    )
    sheets = frozenset(cover_name(framing, f) for f in framing.sheet)
    sides = sides_of(framing, *corners)
    joints, magnets = in_place_of(design, printer, framing.magnets, joints, faces, sheets, sides)
    # covers of front and back end between those beside them, a gap nearer to the middle of their beams
    between = {cover_name(framing, "front"), cover_name(framing, "back")}
    magnets = tuple(p.model_copy(update={"od_mm": p.od_mm - 2 * gap}) if p.holds in between else p for p in magnets)
    outlines = {f: _outline(design, f, outer, gap, bent) for f in COVERS}
    covers = [f for f in COVERS if cover_name(framing, f) != WRAP]
    case = Case(
        kind=framing.kind,
        box_mm=outer,
        cavity=cavity(design),
        inner_radius_mm=0.3,
        line_mm=line_width_mm(design.process_of(FLOOR), printer),
        parts=(
            Part(
                name=FLOOR,
                size_mm=(w, d, s.floor_mm),
                down="bottom",
                plates=(Flat(name="floor", thick_mm=s.floor_mm, flat=True),),
                seat=Seat(outer_mm=0.0, inner_mm=s.floor_mm, edge_mm=s.wall_mm),
                ribbed="bottom",
            ),
            *(_corner_part(c, framing) for c in corners),
            *(_cover(design, framing, f, outlines[f], faces) for f in covers),
            *((_wrap(bent, outer),) if bent is not None else ()),
        ),
        faces=faces,
        walls=(*_walls(design, framing, faces, outlines, corners),),
        seams=tuple(
            Seam(
                axis=2, at_mm=z, below_mm=gap / 2, above_mm=gap / 2, parts=(part, cover_name(framing, "front")), path=""
            )
            for z, part in ((s.floor_mm, FLOOR), (h - s.lid_mm, cover_name(framing, "top")))
        ),
        joints=joints,
        magnets=magnets,
        lifts=_lifts(design, framing, things, faces, outlines, {p.holds for p in magnets}),
        wanted_joints=wanted,
        held="cover",
        mounts=mounts,
        feet=feet_of(design, mounts, things, (*joints, *magnets), side),
        foot=foot_of(design, printer, FLOOR),
        footed=FLOOR,
        pillar_mm=side + (beside_beams_mm(design, printer, (FLOOR,), max(w, d)) if magnets else 0.0),
    )
    bodies: dict[str, Body] = {FLOOR: lambda tools: _floor(design, case, tools)}
    for c in corners:
        bodies[c.name] = _corner_body(case, c)
    for f in covers:
        bodies[cover_name(framing, f)] = _cover_body(
            design, printer, case, cover_name(framing, f), case.face(f), outlines[f], {c.name: c.box for c in corners}
        )
    if bent is not None:
        for c in (c for c in corners if c.under_top):
            bodies[c.name] = _under_bend(bodies[c.name], c, bent, case)
        bodies[WRAP] = _wrap_body(case, bent)
    return Built(case, bodies)


def sides_of(framing: Framing, *corners: Corner) -> dict[str, Direction]:
    """The sides that covers and corner pieces usually lie on: covers on their outer face, long beams along their length, so that the load bends
    them along their layers; short corners stand."""
    covers: dict[str, Direction] = {cover_name(framing, f): f for f in COVERS}
    pieces: dict[str, Direction] = {c.name: "front" if c.box.size[2] > 2 * c.box.size[0] else "bottom" for c in corners}
    return covers | pieces


def _corner_part(c: Corner, framing: Framing) -> Part:
    x, y, z = c.box.size
    down = sides_of(framing, c)[c.name]
    return Part(
        name=c.name,
        size_mm=(x, y, z),
        down=down,
        plates=(),
        shown="it lies along its length, so that bending does not part its layers" if down == "front" else "",
    )


def _cover(design: Design, framing: Framing, face: Face, outline: Loop, faces: tuple[CaseFace, ...]) -> Part:
    thick, name = face_thickness(design, face), cover_name(framing, face)
    u, v = [p[0] for p in outline], [p[1] for p in outline]
    wide, high = max(u) - min(u), max(v) - min(v)
    size: Vec3 = {"top": (wide, high, thick)}.get(
        face, (wide, thick, high) if face in ("front", "back") else (thick, wide, high)
    )
    out = OUTWARD[face]
    return Part(
        name=name,
        size_mm=size,
        down=face,
        plates=(Flat(name=f"cover of the {face}", thick_mm=thick, flat=True),),
        warm=face not in framing.sheet,
        seat=None if face in framing.sheet else seat_of(design, face, design.shell.wall_mm if face == "top" else 0.0),
        put_on=PutOn(along=(-out[0] + 0.0, -out[1] + 0.0, -out[2] + 0.0), travel_mm=COVER_TRAVEL_MM),
        shown="its outer face takes the texture of the bed",
        sheet=Sheet(material=framing.material, thick_mm=thick, face=face, outline=outline)
        if face in framing.sheet
        else None,
        ribbed="" if face in framing.sheet else face,
    )


def _wrap(bent: Bent, outer: Vec3) -> Part:
    """The sheet that is bent over the top: it comes down over corner pieces and the covers between its sides."""
    first, top, last = FACES[bent.over]
    w, d, h = outer
    return Part(
        name=WRAP,
        size_mm=(w, d, h - bent.low_mm),
        down="bottom",
        plates=tuple(Flat(name=f"{f} of the sheet", thick_mm=bent.thick_mm, flat=True) for f in (first, top, last)),
        put_on=PutOn(along=(0.0, 0.0, -1.0), travel_mm=h - bent.low_mm),
        sheet=bent.sheet,
    )


def _off_the_bends(clear: dict[Face, Stretch], bent: Bent) -> dict[Face, Stretch]:
    """What of the wrapped faces, and of those between, is plain where bends stand in their corners; a hole keeps its distance to a bend."""
    far, out = bent.outer_mm + val("sheet.bent.clear") * bent.thick_mm, dict(clear)
    for f in SIDES:
        u0, v0, u1, v1 = clear[f]
        out[f] = (u0, v0, u1, min(v1, bent.high_mm - (far if f in FACES[bent.over] else bent.outer_mm)))
    u0, v0, u1, v1 = clear["top"]
    x, y = (far, 0.0) if bent.over == "left to right" else (0.0, far)
    w, d = (bent.span_mm, bent.deep_mm) if bent.over == "left to right" else (bent.deep_mm, bent.span_mm)
    out["top"] = (max(u0, x), max(v0, y), min(u1, w - x), min(v1, d - y))
    return out


def _outline(design: Design, face: Face, outer: Vec3, gap: float, bent: Bent | None = None) -> Loop:
    """The outline of a cover on its face; its upper corners are round where a sheet is bent over them."""
    s, (w, d, h) = design.shell, outer
    if face == "top":
        return rect(0, 0, w, d)
    v0, v1 = s.floor_mm + gap / 2, h - s.lid_mm - gap / 2
    if face in ("left", "right"):
        if bent is not None and bent.over == "front to back":
            return _rounded_above(s.wall_mm + gap, v0, d - s.wall_mm - gap, v1, bent.inner_mm)
        return rect(0, v0, d, v1)
    if bent is not None and bent.over == "front to back":
        return rect(0, v0, w, v1)
    if bent is not None:
        return _rounded_above(s.wall_mm + gap, v0, w - s.wall_mm - gap, v1, bent.inner_mm)
    return rect(s.wall_mm + gap, v0, w - s.wall_mm - gap, v1)


def _rounded_above(x0: float, y0: float, x1: float, y1: float, r: float) -> Loop:
    r = min(r, (x1 - x0) / 2 - 0.1, y1 - y0 - 0.1)
    q = tan(pi / 8)
    return ((x0, y0, 0.0), (x1, y0, 0.0), (x1, y1 - r, q), (x1 - r, y1, 0.0), (x0 + r, y1, q), (x0, y1 - r, 0.0))


def _lifts(
    design: Design,
    framing: Framing,
    things: tuple[Thing, ...],
    faces: tuple[CaseFace, ...],
    outlines: dict[Face, Loop],
    held: set[str],
) -> tuple[Lift, ...]:
    """A notch in the upper edge of each cover at the sides that magnets hold (`held`), by which it is pulled off; the top is lifted through the first."""
    out: list[Lift] = []
    for f in SIDES:
        face = next(x for x in faces if x.id == f)
        v = [p[1] for p in outlines[f]]
        found = None
        if cover_name(framing, f) in held:
            found = lift(
                design,
                things,
                face,
                of=cover_name(framing, f),
                part=cover_name(framing, f),
                edge_mm=max(v),
                high_mm=val("fasteners.magnet.lift_high"),
                behind_mm=face.thick_mm + 1.0,
                to=OUTWARD[f],
                far=face.at((face.size_mm[0] / 2, min(v))),
            )
        if found is not None:
            out.append(found)
    if out and cover_name(framing, "top") in held:
        side = out[0]
        (x, y, _), (w, d, _), h = side.box.centre, outer_size(design), outer_size(design)[2] - design.shell.lid_mm
        face_axis = next(i for i in range(3) if side.to[i])
        far: Vec3 = (x, d if y < d / 2 else 0.0, h) if face_axis == 1 else (w if x < w / 2 else 0.0, y, h)
        out.append(Lift(of=cover_name(framing, "top"), part=side.part, box=side.box, to=(0.0, 0.0, 1.0), far=far))
    return tuple(out)


def _walls(
    design: Design,
    framing: Framing,
    faces: tuple[CaseFace, ...],
    outlines: dict[Face, Loop],
    corners: tuple[Corner, ...],
) -> list[Wall]:
    s, out = design.shell, []
    for face in faces:
        if face.id == "bottom":
            out.append(Wall(face="bottom", part=FLOOR, lo_mm=(0, 0), hi_mm=face.size_mm, depth_mm=s.floor_mm))
            continue
        loop = outlines[face.id]  # type: ignore[index]
        thick = face.thick_mm
        us, vs = [p[0] for p in loop], [p[1] for p in loop]
        lo_mm, hi_mm = (min(us), min(vs)), (max(us), max(vs))
        if cover_name(framing, face.id) == WRAP and face.id != "top":  # type: ignore[arg-type]
            hi_mm = (hi_mm[0], face.size_mm[1])  # up to the top, which it is as well
        out.append(
            Wall(face=face.id, part=cover_name(framing, face.id), lo_mm=lo_mm, hi_mm=hi_mm, depth_mm=thick)  # type: ignore[arg-type]
        )
        for c in corners:
            u, v = zip(face.on(c.box.lo), face.on(c.box.hi), strict=True)
            lo, hi = (min(u), min(v)), (max(u), max(v))
            deep = face.frame.local(c.box.centre)[2]
            if -deep < thick + c.box.size[0] and (face.id != "top" or c.under_top):
                out.append(Wall(face=face.id, part=c.name, lo_mm=lo, hi_mm=hi, depth_mm=thick + c.box.size[0]))
        if face.id != "top":
            high = face.size_mm[1]
            out.append(
                Wall(face=face.id, part=FLOOR, lo_mm=(0, 0), hi_mm=(face.size_mm[0], s.floor_mm), depth_mm=thick)
            )
            top = cover_name(framing, "top")
            if cover_name(framing, face.id) == top:  # type: ignore[arg-type]
                continue
            out.append(
                Wall(face=face.id, part=top, lo_mm=(0, high - s.lid_mm), hi_mm=(face.size_mm[0], high), depth_mm=thick)
            )
    return out


def _joints(
    design: Design,
    framing: Framing,
    printer: Printer,
    corners: tuple[Corner, ...],
    things: tuple[Thing, ...],
    bent: Bent | None,
) -> tuple[tuple[Joint, ...], int]:
    """Screws into every corner piece: from below through the floor, from above through the top, and through the two covers beside it, one
    over the other so that they do not meet, under a bend, and where the cover is not open for a port or for what is fixed to it. A piece too short for all of them goes
    without the last; the wanted number says so."""
    open_ = open_walls(design, things)
    s, (w, d, _) = design.shell, outer_size(design)
    holding = framing.holding
    wanted, out = 0, []
    m = framing.magnets
    heads = m is not None and m.against == "screw heads"
    hole = max(along_mm(m), HEAD_MM if heads else 0.0) if m else hole_mm("M3", holding)
    apart = hole + 2.4
    for c in corners:
        b, (x0, y0, z0), (x1, y1, z1) = c.box.size[0], c.box.lo, c.box.hi
        mx, my = (x0 + x1) / 2, (y0 + y1) / 2
        deep = min(hole_depth_mm("M3", holding), b - CAP_MM)
        cover_deep = b - CAP_MM if heads else deep  # a screw under a magnet takes what there is
        low = z0 + (deep + CAP_MM + hole / 2 if c.on_floor else hole / 2 + 2.0)
        top_deep = min(deep_mm(m), deep) if m and not heads else cover_deep
        high = z1 - (top_deep + CAP_MM + hole / 2 if c.under_top else hole / 2 + 2.0)
        wanted += c.on_floor
        beside = _under_bends(framing, bent, c, None)
        if c.on_floor and z0 + deep + CAP_MM <= beside:
            out.append(
                _joint(
                    design,
                    framing,
                    printer,
                    f"{c.name}-floor",
                    "beam",
                    FLOOR,
                    c,
                    (mx, my, z0),
                    (0.0, 0.0, 1.0),
                    s.floor_mm,
                    deep,
                )
            )
        if c.under_top and framing.wrap == "none":  # what is bent over the top is held at its sides
            wanted += 1
            top = cover_name(framing, "top")
            out.append(
                _joint(
                    design,
                    framing,
                    printer,
                    f"{c.name}-top",
                    "top",
                    top,
                    c,
                    (mx, my, z1),
                    (0.0, 0.0, -1.0),
                    s.lid_mm,
                    cover_deep,
                )
            )
        ways: list[tuple[Face, Vec2, Vec3]] = [
            ("left", (x0, my), (1.0, 0.0, 0.0)) if x0 < w / 2 else ("right", (x1, my), (-1.0, 0.0, 0.0)),
            ("front", (mx, y0), (0.0, 1.0, 0.0)) if y0 < d / 2 else ("back", (mx, y1), (0.0, -1.0, 0.0)),
        ]
        # magnets at one height let a cover tip
        twice = z1 - z0 > TWO_SCREWS_MM or (m is not None and high - apart > low + apart)
        levels = ([low, high - apart], [low + apart, high]) if twice else ([low], [low + apart])
        mine: list[float] = []
        for n, ((face, at, along), heights) in enumerate(zip(ways, levels, strict=True)):
            still = [*levels[1]] if n == 0 else []  # what the other cover wants
            for k, want in enumerate(heights, 1):
                wanted += 1
                if not low - 1e-6 <= want <= high + 1e-6:
                    continue
                others = [*mine, *heights[k:], *still]
                most = min(high, _under_bends(framing, bent, c, face))
                z = _level(want, (low, most), at, normal_axis(face), open_[face], others, apart)
                if z is not None:
                    mine.append(z)
                    name = cover_name(framing, face)
                    out.append(
                        _joint(
                            design,
                            framing,
                            printer,
                            f"{c.name}-{face}-{k}",
                            "cover",
                            name,
                            c,
                            (*at, z),
                            along,
                            s.wall_mm,
                            cover_deep,
                        )
                    )
    return tuple(out), wanted


def _under_bends(framing: Framing, bent: Bent | None, corner: Corner, face: Face | None) -> float:
    """The highest that a screw through a cover, or up from the floor (no face), may be: its corner piece is cut off slantwise under a bend."""
    top = corner.box.hi[2]
    if bent is None or not corner.under_top:
        return top
    under = top - bent.inner_mm
    if face in FACES[framing.wrap]:
        return under - BOSS_MM
    return under + corner.box.size[0] / 2 - BOSS_MM * 2**0.5


def _level(
    want: float, span: Vec2, at: Vec2, axis: int, open_: list[Box], others: list[float], apart: float
) -> float | None:
    """The height of a screw on the edge of a cover, the nearest to the wanted one at which it keeps off what the cover is open for and off other screws."""
    if span[1] < span[0]:
        return None
    k = 1 - axis
    near = [b for b in open_ if b.lo[k] - BOSS_MM < at[k] < b.hi[k] + BOSS_MM]
    for z in slots(*span, min(want, span[1]), 0.5):
        clear = all(not b.lo[2] - BOSS_MM < z < b.hi[2] + BOSS_MM for b in near)
        if clear and (z == want or all(abs(z - o) >= apart - 1e-6 for o in others)):
            return z
    return None


def _joint(
    design: Design,
    framing: Framing,
    printer: Printer,
    id: str,
    name: str,
    holds: str,
    corner: Corner,
    at: Vec3,
    along: Vec3,
    through_mm: float,
    deep: float,
) -> Joint:
    axis = next(i for i in range(3) if along[i])
    path = f"{name}_screw_mm"
    r = max(hole_mm("M3", framing.holding) / 2 + CAP_MM, BOSS_MM)
    lo, hi = [c - r for c in at], [c + r for c in at]
    ends = (at[axis] - along[axis] * through_mm, at[axis] + along[axis] * (deep + CAP_MM))
    lo[axis], hi[axis] = min(ends), max(ends)
    return case_screw(
        design,
        printer,
        id=id,
        name=name,
        holds=holds,
        into=corner.name,
        at=at,
        along=along,
        boss=Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])),
        od_mm=corner.box.size[0],
        through_mm=through_mm,
        # heads sink into the floor, so that it stands flat; covers stay whole, and a sheet is only drilled
        sink_mm=sunk_mm(through_mm) if holds == FLOOR else 0.0,
        deep_mm=deep,
        holding=framing.holding,
        length_mm=framing.screws_mm.get(path),
        path=path,
        opened=name != "beam",
        usual=sides_of(framing, corner),
    )


def _floor(design: Design, case: Case, tools: tuple[Solid, ...]) -> Solid:
    s, (w, d, _) = design.shell, case.box_mm
    outline = rect(0, 0, w, d)
    holes: list[Solid] = []
    for j in (j for j in case.joints if j.holds == FLOOR):
        holes.append(bore(j.at, j.along, j.clearance_mm, -s.floor_mm - OVER, OVER))
        if j.head_depth_mm > 0:
            holes.append(bore(j.at, j.along, j.head_d_mm, -s.floor_mm - OVER, j.head_depth_mm - s.floor_mm))
    body = Difference(block(Box((0, 0, 0), (w, d, s.floor_mm))), (*holes, *foot_seats(case), *tools))
    return Filled(with_posts(body, case, FLOOR, outline, s.floor_mm / 2))


def _wrap_body(case: Case, bent: Bent) -> Body:
    """The bent sheet as it stands, drilled."""
    # its section is drawn on the face that stands across the bends, whose u runs with x or y
    face = case.face("front" if bent.over == "left to right" else "right")

    def body(tools: tuple[Solid, ...]) -> Solid:
        holes = [
            bore(j.at, j.along, j.clearance_mm, -bent.thick_mm - OVER, OVER) for j in case.joints if j.holds == WRAP
        ]
        return Filled(Difference(through([bent.section], face.frame, -bent.deep_mm, 0.0), (*holes, *tools)))

    return body


def _under_bend(body: Body, corner: Corner, bent: Bent, case: Case) -> Body:
    """A corner piece whose upper outer edge makes room for a bend: cut off from where the bend begins on the one side to where it ends on the other."""
    face = case.face("front" if bent.over == "left to right" else "right")
    (u0, _, _), (u1, _, _) = (face.frame.local(x) for x in (corner.box.lo, corner.box.hi))
    t, cut, top = bent.thick_mm, bent.inner_mm, corner.box.hi[2]
    low = min(u0, u1) < bent.span_mm / 2
    u, sign = (t, 1.0) if low else (bent.span_mm - t, -1.0)
    edge = [(u - sign * OVER, top - cut - OVER), (u + sign * (cut + OVER), top + OVER), (u - sign * OVER, top + OVER)]
    loop: Loop = tuple((x, y, 0.0) for x, y in (edge if low else edge[::-1]))
    off = through([loop], face.frame, -bent.deep_mm - OVER, OVER)
    return lambda tools: body((*tools, off))


def _corner_body(case: Case, corner: Corner) -> Body:
    def body(tools: tuple[Solid, ...]) -> Solid:
        holes = [bore(j.at, j.along, j.hole_mm, -OVER, j.hole_depth_mm) for j in case.joints if j.into == corner.name]
        return Filled(Difference(block(corner.box), (*holes, *pockets(case, corner.name), *tools)))

    return body


def _cover_body(
    design: Design,
    printer: Printer,
    case: Case,
    name: str,
    face: CaseFace,
    outline: Loop,
    beams: dict[str, Box],
) -> Body:
    def body(tools: tuple[Solid, ...]) -> Solid:
        plate: Solid = through([outline], face.frame, -face.thick_mm, 0.0)
        beside = ribs(design, printer, case, {p.id: beams[p.into] for p in case.magnets}, name)
        if beside:
            plate = Union((plate, *beside))
        holes = [
            bore(j.at, j.along, j.clearance_mm, -face.thick_mm - OVER, OVER) for j in case.joints if j.holds == name
        ]
        return Filled(Difference(plate, (*holes, *pockets(case, name), *lifts_cut(case, name), *tools)))

    return body
