"""Sliding panels: four flat panels slide down between grooved posts on the floor, and a screwed top locks them all.

A printed panel is flush with the posts outside: its edges are tongues of its inner half, which run behind the posts' outer cheeks. One of bought
sheet is all tongue, and lies behind those cheeks.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from math import ceil

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace, Seam, Wall
from rhombex.core.case.joints import Joint
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Bar, Flat, Part, PutOn, Seat, Sheet
from rhombex.core.constructions import THROUGH, SlidingPanels
from rhombex.core.design import Design, Direction
from rhombex.core.faults import Faults
from rhombex.core.fit.allowance import fit
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.fit.joints import hole_depth_mm
from rhombex.core.geometry.recipe import (
    Difference,
    Filled,
    Intersection,
    Loop,
    Solid,
    Union,
    block,
    prism,
    rect,
    rounded,
    through,
)
from rhombex.core.reference import val
from rhombex.core.shell.box import box_faces, side_seat
from rhombex.core.shell.case_screw import CAP_MM, case_screw
from rhombex.core.shell.feet import feet_of, foot_of, foot_seats
from rhombex.core.shell.lifts import lift_of_lid
from rhombex.core.shell.magnets import beside_beams_mm, in_place_of, lifts_cut, pockets, ribs
from rhombex.core.shell.mounts import mounts_of
from rhombex.core.shell.posts import drilled, with_posts
from rhombex.core.shell.solids import OVER, bore, head_room, most_room, screw_hole
from rhombex.core.space import Box, Face, Vec2, Vec3
from rhombex.core.workshop.printer import Printer

BASE, TOP, FLOOR = "base", "top", "floor"
POSTS = ("post-1", "post-2", "post-3", "post-4")  # of a floor of sheet: front left and right, back left and right
SIDES: tuple[Face, ...] = ("front", "back", "left", "right")
TONGUE_MM = 4.0  # how far a panel's edge runs behind the posts; common practice
TOP_TRAVEL_MM = 40.0
# a panel is printed with its tongues on the bed: on its inner face
_INNER: dict[Face, Direction] = {"front": "back", "back": "front", "left": "right", "right": "left"}


@dataclass(frozen=True)
class Grooves:
    """Sizes of posts and panels: the post's outer side, how much of it is in the room, the gap all round a tongue, and how far from the outside
    that lies on each side of the case."""

    post: float
    inside: float
    gap: float
    behind: dict[Face, float]
    radius: float


def bearers(kind: SlidingPanels) -> tuple[str, ...]:
    """The printed parts that the grooves are in: the base with its posts, or four posts on a floor of sheet."""
    return POSTS if "bottom" in kind.sheet else (BASE,)


def panel_name(face: str) -> str:
    """The name of the panel that closes a side."""
    return f"panel-{face}"


def grooves_of(design: Design, kind: SlidingPanels, printer: Printer) -> Grooves:
    """The sizes for a printer: gaps are the allowance of sliding fits over the longest panel."""
    s, (w, d, _) = design.shell, outer_size(design)
    names = (*bearers(kind), *(panel_name(f) for f in SIDES))
    # in a room too small for posts they are a sliver, and the kernel says what is wrong
    inside = max(0.5, min(kind.post_mm, s.inner_mm[0] / 2 - 2, s.inner_mm[1] / 2 - 2))
    gap = fit(design, printer, "tongue_side", names, max(w, d)).value
    web = val("printing.feature.web_lines") * line_width_mm(design.process_of(bearers(kind)[0]), printer)
    # half of the wall for the cheek, or more where that is too little and the tongue keeps as much
    printed = max(s.wall_mm / 2, min(gap + web, s.wall_mm - web))
    return Grooves(
        post=s.wall_mm + inside,
        inside=inside,
        gap=gap,
        behind={f: s.recess_mm(f) if f in kind.sheet else printed for f in SIDES},
        radius=min(s.corner_radius_mm, max(s.wall_mm + inside - TONGUE_MM - 1.0, 0.0)),
    )


def cheek_mm(design: Design, kind: SlidingPanels, printer: Printer, face: Face) -> float:
    """How thick the posts' cheeks before a panel are."""
    g = grooves_of(design, kind, printer)
    return g.behind[face] - g.gap


def wall_for_sheet_mm(design: Design, kind: SlidingPanels, printer: Printer, sheet_mm: float) -> float:
    """The least thickness of walls, mm, in which sheet has cheeks of as many lines as hold before it."""
    web = val("printing.feature.web_lines") * line_width_mm(design.process_of(bearers(kind)[0]), printer)
    return ceil(100 * (sheet_mm + grooves_of(design, kind, printer).gap + web)) / 100


def wall_of_cheeks_mm(design: Design, kind: SlidingPanels, printer: Printer) -> float:
    """The least thickness of walls, mm, whose posts hold every panel by cheeks of as many lines as hold: before sheet, and before printed tongues that
    keep as many."""
    web = val("printing.feature.web_lines") * line_width_mm(design.process_of(bearers(kind)[0]), printer)
    tongues = [kind.sheet_mm if f in kind.sheet else web for f in SIDES]
    return wall_for_sheet_mm(design, kind, printer, max(tongues))


def build(design: Design, kind: SlidingPanels, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """Base with posts, or a floor of sheet and four posts, four panels and a top. Posts or screws that cannot be planned are noted, and the rest stands."""
    s, outer = design.shell, outer_size(design)
    w, d, h = outer
    g = grooves_of(design, kind, printer)
    clear: dict[Face, tuple[float, float, float, float]] = {}
    for f in SIDES:
        wide = w if f in ("front", "back") else d
        clear[f] = (g.post + g.gap, s.floor_mm + g.gap, wide - g.post - g.gap, h - s.lid_mm - g.gap)
    clear |= dict.fromkeys(("top", "bottom"), (g.post, g.post, w - g.post, d - g.post))
    faces = box_faces(design, clear)
    no_mounts: tuple[Mount, ...] = ()
    no_joints: tuple[Joint, ...] = ()
    of_sheet = "bottom" in kind.sheet
    floor = FLOOR if of_sheet else BASE
    mounts = faults.attempt("stage", "posts", lambda: mounts_of(design, printer, things, floor, of_sheet), no_mounts)
    joints = faults.attempt("stage", "screws of the top", lambda: _screws(design, kind, printer, g), no_joints)
    joints, magnets = in_place_of(
        design, printer, kind.magnets, joints, faces, frozenset({TOP} if "top" in kind.sheet else ())
    )
    wanted = 4
    if of_sheet:
        from_below = faults.attempt(
            "stage", "screws of the posts", lambda: _floor_screws(design, kind, printer, g), no_joints
        )
        joints, wanted = (*joints, *from_below), 8
    case = Case(
        kind=kind.kind,
        box_mm=outer,
        cavity=cavity(design),
        inner_radius_mm=0.3,
        outer_radius_mm=g.radius,
        line_mm=line_width_mm(design.process_of(bearers(kind)[0]), printer),
        parts=(
            *(_on_sheet(design, kind, outer, g) if of_sheet else (_base_part(design, outer),)),
            *(_panel(design, kind, f, outer, g) for f in SIDES),
            _top_part(design, kind, outer, g),
        ),
        faces=faces,
        walls=_walls(design, faces, g),
        seams=tuple(
            Seam(axis=2, at_mm=z, below_mm=below, above_mm=0.0, parts=(part, panel_name("front")), path="")
            for z, below, part in ((s.floor_mm, 0.0, floor), (h - s.lid_mm, g.gap, TOP))
        ),
        joints=joints,
        magnets=magnets,
        # in the upper edge of one of the panels
        lifts=lift_of_lid(
            design,
            things,
            faces,
            of=TOP,
            part_of=panel_name,
            only=frozenset(SIDES) - frozenset(kind.sheet),
            edge_mm=h - s.lid_mm,
            high_mm=val("fasteners.magnet.lift_high") + g.gap,
            behind_mm=s.wall_mm + 1.0,
        )
        if magnets
        else (),
        wanted_joints=wanted,
        held=TOP,
        mounts=mounts,
        feet=feet_of(design, mounts, things, (*joints, *magnets), g.inside),
        foot=foot_of(design, printer, floor, of_sheet),
        footed=floor,
        slides=tuple(panel_name(f) for f in SIDES),
        pillar_mm=g.inside + (beside_beams_mm(design, printer, (*bearers(kind), TOP), max(w, d)) if magnets else 0.0),
    )
    bodies: dict[str, Body] = {
        TOP: lambda tools: _top(design, printer, case, g, tools),
    }
    if of_sheet:
        bodies[FLOOR] = lambda tools: _sheet_body(design, case, g, tools)
        for k, post in enumerate(POSTS):
            bodies[post] = partial(_post_body, design, case, g, k)
    else:
        bodies[BASE] = lambda tools: _base(design, case, g, tools)
    for f in SIDES:
        bodies[panel_name(f)] = _panel_body(design, case, case.face(f), g)
    return Built(case, bodies)


def _base_part(design: Design, outer: Vec3) -> Part:
    s, (w, d, h) = design.shell, outer
    return Part(
        name=BASE,
        size_mm=(w, d, h - s.lid_mm),
        down="bottom",
        plates=(Flat(name="floor", thick_mm=s.floor_mm, flat=True),),
        warm=True,
        seat=Seat(outer_mm=0.0, inner_mm=s.floor_mm, edge_mm=s.wall_mm),
        ribbed="bottom",
    )


def _on_sheet(design: Design, kind: SlidingPanels, outer: Vec3, g: Grooves) -> tuple[Part, ...]:
    """A floor of sheet, and the posts on it."""
    s, (w, d, h) = design.shell, outer
    outline = rounded(0, 0, w, d, g.radius)
    floor = Part(
        name=FLOOR,
        size_mm=(w, d, s.floor_mm),
        down="bottom",
        plates=(Flat(name="floor", thick_mm=s.floor_mm, flat=True),),
        sheet=Sheet(material=kind.material, thick_mm=s.floor_mm, face="bottom", outline=outline),
    )
    posts = (
        Part(
            name=name,
            size_mm=(g.post, g.post, h - s.lid_mm - s.floor_mm),
            down="bottom",
            plates=(),
            seat=_of_post(design, outer, g, k, 2),
            side_seat=_of_post(design, outer, g, k, 1),
            only=(2,),
            shown="it stands, as on a base that is printed, so that its grooves need no support",
        )
        for k, name in enumerate(POSTS)
    )
    return (floor, *posts)


def _post_box(design: Design, outer: Vec3, g: Grooves, k: int) -> Box:
    """The room of a post on a floor of sheet."""
    s, (w, d, h) = design.shell, outer
    x, y = ((0.0, 0.0), (w - g.post, 0.0), (0.0, d - g.post), (w - g.post, d - g.post))[k]
    return Box((x, y, s.floor_mm), (x + g.post, y + g.post, h - s.lid_mm))


def _of_post(design: Design, outer: Vec3, g: Grooves, k: int, axis: int) -> Seat:
    """What cuts of a post run across, which stands; its outer face is that of the front or of the back."""
    lo, hi = _post_box(design, outer, g, k)
    ends = (lo[axis], hi[axis]) if axis == 2 or k < 2 else (hi[axis], lo[axis])
    bar = Bar(across=0, lo_mm=lo[0], hi_mm=hi[0], solid=False)
    return Seat(outer_mm=ends[0], inner_mm=ends[1], edge_mm=0.0, axis=axis, bare=True, bar=bar)


def _panel(design: Design, kind: SlidingPanels, face: Face, outer: Vec3, g: Grooves) -> Part:
    s, (w, d, h) = design.shell, outer
    wide = (w if face in ("front", "back") else d) - 2 * (g.post - TONGUE_MM)
    high, thick = h - s.lid_mm - g.gap - s.floor_mm, s.wall_mm - s.recess_mm(face)
    part = Part(
        name=panel_name(face),
        size_mm=(wide, thick, high) if face in ("front", "back") else (thick, wide, high),
        down=_INNER[face],
        plates=(Flat(name=f"panel of the {face}", thick_mm=thick, flat=True),),
        warm=True,
        # it lies on its inner face, and its edges at the sides stand in grooves
        seat=side_seat(design, face, g.post + 1.0).model_copy(update={"upright_mm": 1.0}),
        put_on=PutOn(along=(0.0, 0.0, -1.0), travel_mm=high),
        shown="it lies on its inner face, so that its tongues need no support",
    )
    if face not in kind.sheet:
        return part
    return _of_sheet(part, kind, face, thick, _outline(design, wide + 2 * (g.post - TONGUE_MM), h, g))


def _top_part(design: Design, kind: SlidingPanels, outer: Vec3, g: Grooves) -> Part:
    s, (w, d, h) = design.shell, outer
    part = Part(
        name=TOP,
        size_mm=(w, d, s.lid_mm),
        down="top",
        plates=(Flat(name="top", thick_mm=s.lid_mm, flat=True),),
        warm=True,
        seat=Seat(outer_mm=h, inner_mm=h - s.lid_mm, edge_mm=s.wall_mm),
        put_on=PutOn(along=(0.0, 0.0, -1.0), travel_mm=TOP_TRAVEL_MM),
        shown="its outer face takes the texture of the bed",
        ribbed="top",
    )
    return _of_sheet(part, kind, "top", s.lid_mm, rounded(0, 0, w, d, g.radius)) if "top" in kind.sheet else part


def _of_sheet(part: Part, kind: SlidingPanels, face: Face, thick_mm: float, outline: Loop) -> Part:
    """The same part cut from bought sheet."""
    sheet = Sheet(material=kind.material, thick_mm=thick_mm, face=face, outline=outline)
    return part.model_copy(update={"sheet": sheet, "warm": False, "seat": None, "shown": "", "ribbed": ""})


def _outline(design: Design, wide: float, high: float, g: Grooves) -> Loop:
    """A panel's outline with its tongues, on its face."""
    s = design.shell
    return rect(g.post - TONGUE_MM, s.floor_mm, wide - g.post + TONGUE_MM, high - s.lid_mm - g.gap)


def _walls(design: Design, faces: tuple[CaseFace, ...], g: Grooves) -> tuple[Wall, ...]:
    s, out = design.shell, []
    sheet = isinstance(made := s.construction, SlidingPanels) and "bottom" in made.sheet
    for face in faces:
        wide, high = face.size_mm
        floor, left, right = (FLOOR, *_beside(face.id)) if sheet else (BASE, BASE, BASE)
        if face.id in ("top", "bottom"):
            part = TOP if face.id == "top" else floor
            out.append(Wall(face=face.id, part=part, lo_mm=(0, 0), hi_mm=face.size_mm, depth_mm=face.thick_mm))
            continue
        top = high - s.lid_mm
        edge = g.post - TONGUE_MM
        low, edge_of_floor = (s.floor_mm, 0.0) if sheet else (0.0, g.post)
        out += [
            Wall(
                face=face.id,
                part=panel_name(face.id),
                lo_mm=(edge, s.floor_mm),
                hi_mm=(wide - edge, top - g.gap),
                depth_mm=face.thick_mm,
            ),
            Wall(face=face.id, part=left, lo_mm=(0, low), hi_mm=(g.post, top), depth_mm=g.post),
            Wall(face=face.id, part=right, lo_mm=(wide - g.post, low), hi_mm=(wide, top), depth_mm=g.post),
            Wall(
                face=face.id,
                part=floor,
                lo_mm=(edge_of_floor, 0),
                hi_mm=(wide - edge_of_floor, s.floor_mm),
                depth_mm=s.wall_mm,
            ),
            Wall(face=face.id, part=TOP, lo_mm=(0, top), hi_mm=(wide, high), depth_mm=s.wall_mm),
        ]
    return tuple(out)


def _beside(face: str) -> tuple[str, str]:
    """The posts to the left and the right of a side, seen from outside."""
    a, b, c, d = POSTS
    return {"front": (a, b), "back": (d, c), "left": (c, a), "right": (b, d)}.get(face, ("", ""))


def _places(design: Design, g: Grooves) -> tuple[Vec2, ...]:
    """The middles of the posts, in plan."""
    (w, d, _), at = outer_size(design), design.shell.wall_mm + g.inside / 2
    return ((at, at), (w - at, at), (at, d - at), (w - at, d - at))


def _floor_screws(design: Design, kind: SlidingPanels, printer: Printer, g: Grooves) -> tuple[Joint, ...]:
    """A screw through a floor of sheet up into each post."""
    s, (_, _, h) = design.shell, outer_size(design)
    z, r = s.floor_mm, g.inside / 2
    deep = _deep(kind, h - s.lid_mm - s.floor_mm)
    return tuple(
        case_screw(
            design,
            printer,
            id=f"floor-{k}",
            name="post",
            holds=FLOOR,
            into=post,
            at=(x, y, z),
            along=(0.0, 0.0, 1.0),
            boss=Box((x - r, y - r, 0.0), (x + r, y + r, z + deep + CAP_MM)),
            od_mm=g.inside,
            through_mm=s.floor_mm,
            sunk=False,  # a sheet is only drilled
            deep_mm=deep,
            holding="insert" if kind.magnets else kind.joint_thread,
            length_mm=kind.floor_screw_mm,
            path="floor_screw_mm",
            slot=most_room((x, y, z), (0.0, 0.0, 1.0), cavity(design)),
            opened=False,
            of_sheet=True,
        )
        for k, ((x, y), post) in enumerate(zip(_places(design, g), POSTS, strict=True), 1)
    )


def _deep(kind: SlidingPanels, long_mm: float) -> float:
    """How deep a screw may go into a post so long that has one at either end."""
    holding = "insert" if kind.magnets else kind.joint_thread
    return max(0.5, min(hole_depth_mm("M3", holding), long_mm / 2 - CAP_MM))


def _screws(design: Design, kind: SlidingPanels, printer: Printer, g: Grooves) -> tuple[Joint, ...]:
    """A screw through the top into each post."""
    s, (_, _, h) = design.shell, outer_size(design)
    z = h - s.lid_mm
    holding = "insert" if kind.magnets else kind.joint_thread  # magnets stand in place of screws
    of_sheet = "bottom" in kind.sheet
    deep = z if holding in THROUGH else min(hole_depth_mm("M3", holding), z - 0.8)
    deep = _deep(kind, z - s.floor_mm) if of_sheet else deep
    r = g.inside / 2
    return tuple(
        case_screw(
            design,
            printer,
            id=f"top-{k}",
            name=TOP,
            holds=TOP,
            into=POSTS[k - 1] if of_sheet else BASE,
            at=(x, y, z),
            along=(0.0, 0.0, -1.0),
            boss=Box((x - r, y - r, z - deep - CAP_MM if of_sheet else 0.0), (x + r, y + r, h)),
            od_mm=g.inside,
            through_mm=s.lid_mm,
            sunk="top" not in kind.sheet,  # a sheet is only drilled
            deep_mm=deep,
            holding=holding,
            length_mm=kind.top_screw_mm,
            path="top_screw_mm",
            slot=most_room((x, y, z), (0.0, 0.0, -1.0), cavity(design)),
            of_sheet="top" in kind.sheet,
        )
        for k, (x, y) in enumerate(_places(design, g), 1)
    )


def _sheet_body(design: Design, case: Case, g: Grooves, tools: tuple[Solid, ...]) -> Solid:
    """The floor of sheet: its outline, drilled for standoffs, feet and the screws of the posts."""
    s, (w, d, _) = design.shell, case.box_mm
    screws = [bore(j.at, j.along, j.clearance_mm, -s.floor_mm - OVER, OVER) for j in case.joints if j.holds == FLOOR]
    holes = (*screws, *drilled(case, FLOOR, s.floor_mm), *foot_seats(case), *tools)
    return Filled(Difference(prism(rounded(0, 0, w, d, g.radius), 0, s.floor_mm), holes))


def _post_body(design: Design, case: Case, g: Grooves, k: int, tools: tuple[Solid, ...]) -> Solid:
    """One post with its grooves, from a floor of sheet up."""
    (w, d, _), room = case.box_mm, _post_box(design, case.box_mm, g, k)
    post = Intersection(block(room), prism(rounded(0, 0, w, d, g.radius), room.lo[2], room.hi[2]))
    name = POSTS[k]
    holes = (*(screw_hole(j) for j in case.joints if j.into == name), *pockets(case, name))
    return Filled(Difference(post, (*map(block, _ways(design, case.box_mm, g)), *holes, *tools)))


def _base(design: Design, case: Case, g: Grooves, tools: tuple[Solid, ...]) -> Solid:
    s, outer = design.shell, case.box_mm
    w, d, h = outer
    outline, top = rounded(0, 0, w, d, g.radius), h - s.lid_mm
    corners = [(x, y) for x in (0.0, w - g.post) for y in (0.0, d - g.post)]
    columns = [block(Box((x, y, s.floor_mm / 2), (x + g.post, y + g.post, top))) for x, y in corners]
    posts = Intersection(Union(tuple(columns)), prism(outline, 0, top))
    body = Union((prism(outline, 0, s.floor_mm), Difference(posts, tuple(map(block, _ways(design, outer, g))))))
    holes = [*(screw_hole(j) for j in case.joints), *pockets(case, BASE)]
    walls = Difference(Difference(body, (*holes, *foot_seats(case))), tools)
    far = s.wall_mm + g.gap
    return Filled(
        with_posts(walls, case, BASE, rect(far, far, w - far, d - far), s.floor_mm / 2)
    )  # panels slide past them


def _ways(design: Design, outer: Vec3, g: Grooves) -> tuple[Box, ...]:
    """The way of every tongue, a gap all round it, from the floor up."""
    s, (w, d, h) = design.shell, outer
    top = h - s.lid_mm
    far, length = s.wall_mm + g.gap, TONGUE_MM + g.gap
    near = {f: g.behind[f] - g.gap for f in SIDES}
    ways: list[Box] = []
    for lo, hi in ((near["front"], far), (d - far, d - near["back"])):
        for x in (g.post - length, w - g.post - OVER):
            ways.append(Box((x, lo, s.floor_mm), (x + length + OVER, hi, top + OVER)))
    for lo, hi in ((near["left"], far), (w - far, w - near["right"])):
        for y in (g.post - length, d - g.post - OVER):
            ways.append(Box((lo, y, s.floor_mm), (hi, y + length + OVER, top + OVER)))
    return tuple(ways)


def _top(design: Design, printer: Printer, case: Case, g: Grooves, tools: tuple[Solid, ...]) -> Solid:
    s, (w, d, h) = design.shell, case.box_mm
    holes: list[Solid] = pockets(case, TOP)
    for j in (j for j in case.joints if j.holds == TOP):
        holes += [bore(j.at, j.along, j.clearance_mm, -s.lid_mm - OVER, OVER), *head_room(j)]
    plate = prism(rounded(0, 0, w, d, g.radius), h - s.lid_mm, h)
    beams = {p.id: p.boss for p in case.magnets}
    return Filled(Difference(Union((plate, *ribs(design, printer, case, beams, TOP))), (*holes, *tools)))


def _panel_body(design: Design, case: Case, face: CaseFace, g: Grooves) -> Body:
    s, (wide, high) = design.shell, face.size_mm
    v0, v1 = s.floor_mm, high - s.lid_mm - g.gap
    outer = rect(g.post + g.gap, v0, wide - g.post - g.gap, v1)
    tongues = g.behind[face.id] - s.recess_mm(face.id)  # type: ignore[index]

    def body(tools: tuple[Solid, ...]) -> Solid:
        plate = through([_outline(design, wide, high, g)], face.frame, -face.thick_mm, -tongues)
        if tongues > 0:
            plate = Union((through([outer], face.frame, -face.thick_mm, 0.0), plate))
        return Filled(Difference(plate, (*lifts_cut(case, panel_name(face.id)), *tools)))

    return body
