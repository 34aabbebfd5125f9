"""What stands on corner pieces: a floor, beams or corners in the four upright corners of the room, and five flat covers screwed to them.

Covers lie outside the corner pieces: those on left and right over the whole depth, front and back between them, the top over all.
"""

from __future__ import annotations

from math import pi, tan

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace, Seam, Wall
from rhombex.core.case.fittings import Lift
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Bar, Flat, Part, PutOn, Seat, Sheet
from rhombex.core.design import Design
from rhombex.core.faults import Faults
from rhombex.core.fit.allowance import fit
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.geometry.recipe import Difference, Filled, Loop, Solid, Union, block, rect, through
from rhombex.core.reference import val
from rhombex.core.shell.bent import FACES, WRAP, Bent, bent_of
from rhombex.core.shell.box import box_faces, face_thickness, seat_of
from rhombex.core.shell.feet import feet_of, foot_of, foot_seats
from rhombex.core.shell.framed_screws import joints_of
from rhombex.core.shell.framing import COVERS, FLOOR, SIDES, Corner, Framing, corners_of, cover_name, sides_of
from rhombex.core.shell.lifts import lift
from rhombex.core.shell.magnets import (
    beside_beams_mm,
    in_place_of,
    lifts_cut,
    pockets,
    ribs,
)
from rhombex.core.shell.mounts import mounts_of
from rhombex.core.shell.posts import drilled, with_posts
from rhombex.core.shell.solids import OVER, bore, head_room
from rhombex.core.space import OUTWARD, Box, Face, Vec3
from rhombex.core.workshop.printer import Printer

Stretch = tuple[float, float, float, float]
COVER_TRAVEL_MM = 40.0  # from how far outside a cover is put on


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
    of_sheet = "bottom" in framing.sheet
    mounts = faults.attempt("stage", "posts", lambda: mounts_of(design, printer, things, FLOOR, of_sheet), no_mounts)
    joints, wanted = faults.attempt(
        "stage", "screws of the covers", lambda: joints_of(design, framing, printer, corners, things, bent), no_joints
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
        outer_radius_mm=0.0,
        line_mm=line_width_mm(design.process_of(FLOOR), printer),
        parts=(
            Part(
                name=FLOOR,
                size_mm=(w, d, s.floor_mm),
                down="bottom",
                plates=(Flat(name="floor", thick_mm=s.floor_mm, flat=True),),
                seat=None if of_sheet else Seat(outer_mm=0.0, inner_mm=s.floor_mm, edge_mm=s.wall_mm),
                ribbed="" if of_sheet else "bottom",
                sheet=Sheet(material=framing.material, thick_mm=s.floor_mm, face="bottom", outline=rect(0, 0, w, d))
                if of_sheet
                else None,
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
        foot=foot_of(design, printer, FLOOR, of_sheet),
        footed=FLOOR,
        pillar_mm=side + (beside_beams_mm(design, printer, (FLOOR,), max(w, d)) if magnets else 0.0),
    )
    bodies: dict[str, Body] = {FLOOR: lambda tools: _floor(design, case, of_sheet, tools)}
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


def _corner_part(c: Corner, framing: Framing) -> Part:
    x, y, z = c.box.size
    down = sides_of(framing, c)[c.name]
    (x0, y0, _), (x1, y1, _) = c.box
    lying = Seat(outer_mm=y0, inner_mm=y1, edge_mm=0.0, axis=1, bare=True, bar=Bar(across=0, lo_mm=x0, hi_mm=x1))
    seat = lying if down == "front" else None
    return Part(
        name=c.name,
        size_mm=(x, y, z),
        down=down,
        plates=(),
        seat=seat,
        only=(2,),
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


def _floor(design: Design, case: Case, of_sheet: bool, tools: tuple[Solid, ...]) -> Solid:
    s, (w, d, _) = design.shell, case.box_mm
    (x0, y0, _), (x1, y1, _) = case.cavity
    holes: list[Solid] = []
    for j in (j for j in case.joints if j.holds == FLOOR):
        holes += [bore(j.at, j.along, j.clearance_mm, -s.floor_mm - OVER, OVER), *head_room(j)]
    if of_sheet:
        holes += drilled(case, FLOOR, s.floor_mm)
    body = Difference(block(Box((0, 0, 0), (w, d, s.floor_mm))), (*holes, *foot_seats(case), *tools))
    if of_sheet:
        return Filled(body)
    return Filled(with_posts(body, case, FLOOR, rect(x0, y0, x1, y1), s.floor_mm / 2))  # covers stand beside them


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
            x
            for j in case.joints
            if j.holds == name
            for x in (bore(j.at, j.along, j.clearance_mm, -face.thick_mm - OVER, OVER), *head_room(j))
        ]
        return Filled(Difference(plate, (*holes, *pockets(case, name), *lifts_cut(case, name), *tools)))

    return body
