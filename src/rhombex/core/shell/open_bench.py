"""Open bench: a plate with posts and no walls; what is fixed to a side has an upright there. Or a plate of sheet with standoffs."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity, hard
from rhombex.core.case import Built, Case
from rhombex.core.case.faces import CaseFace, Wall
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Flat, Part, Seat, Sheet
from rhombex.core.constructions import OpenBench
from rhombex.core.design import Design
from rhombex.core.faults import Faults
from rhombex.core.fit.bead import line_width_mm
from rhombex.core.geometry.recipe import Difference, Extrude, Filled, Loop, Move, Profile, Solid, Union, prism, rounded
from rhombex.core.shell.box import box_faces
from rhombex.core.shell.brackets import PRESSED, room_beside_mm
from rhombex.core.shell.feet import feet_of, foot_of, foot_seats
from rhombex.core.shell.mounts import mounts_of
from rhombex.core.shell.posts import drilled, with_posts
from rhombex.core.space import FACES, Box, Frame, Vec3
from rhombex.core.workshop.printer import Printer

PLATE = "plate"
ROUND_MM = 4.0  # of wall round what an upright holds; common practice
LEAST_GUSSET_MM = 1.0


def build(design: Design, bench: OpenBench, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """The plate with its posts and uprights. Posts that cannot be planned are noted, and the rest stands."""
    s, outer = design.shell, outer_size(design)
    w, d, h = outer
    no_mounts: tuple[Mount, ...] = ()
    of_sheet = bench.plate == "sheet"
    mounts = faults.attempt("stage", "posts", lambda: mounts_of(design, printer, things, PLATE, of_sheet), no_mounts)
    edge = s.wall_mm
    clear = {f: (0.0, 0.0, d if f in ("left", "right") else w, h) for f in FACES}
    clear |= dict.fromkeys(("top", "bottom"), (edge, edge, w - edge, d - edge))
    faces = box_faces(design, clear, frozenset({"bottom"}))
    uprights = () if of_sheet else tuple(x for f in faces for x in _uprights(design, things, f, h))
    high = max((x.hi_mm[1] for x in uprights), default=s.floor_mm)
    high = max([high, *(m.box.hi[2] for m in mounts)])
    case = Case(
        kind=bench.kind,
        box_mm=(w, d, max([high, *(t.bounds.hi[2] for t in things)])),
        cavity=cavity(design),
        inner_radius_mm=0.3,
        outer_radius_mm=s.corner_radius_mm,
        line_mm=line_width_mm(design.process_of(PLATE), printer),
        parts=(
            Part(
                name=PLATE,
                size_mm=(w, d, high),
                down="bottom",
                plates=(Flat(name="floor", thick_mm=s.floor_mm, flat=True),),
                seat=None if of_sheet else Seat(outer_mm=0.0, inner_mm=s.floor_mm, edge_mm=0.0),
                sheet=Sheet(
                    material=bench.material,
                    thick_mm=s.floor_mm,
                    face="bottom",
                    outline=rounded(0, 0, w, d, s.corner_radius_mm),
                )
                if of_sheet
                else None,
            ),
        ),
        faces=faces,
        walls=(Wall(face="bottom", part=PLATE, lo_mm=(0, 0), hi_mm=(w, d), depth_mm=s.floor_mm), *uprights),
        mounts=mounts,
        feet=feet_of(design, mounts, things),
        foot=foot_of(design, printer, PLATE, of_sheet),
        footed=PLATE,
        uprights=tuple(b for x in uprights for b in _taken(design, bench, next(f for f in faces if f.id == x.face), x)),
    )
    return Built(case, {PLATE: lambda tools: _plate(design, bench, case, tools)})


def _uprights(design: Design, things: tuple[Thing, ...], face: CaseFace, top: float) -> list[Wall]:
    """A wall behind all of what is fixed to a side, from the plate up; things beside one another share one."""
    if face.id in ("top", "bottom"):
        return []
    spans: list[tuple[float, float, float]] = []
    for t in things:
        if t.face != face.id or not hard(t):
            continue
        ends = [face.on(p) for s in hard(t) for p in (s.box.lo, s.box.hi)]
        ends += [face.on(m.at) for m in t.mounts]
        u = [e[0] for e in ends]
        if t.component.family == PRESSED:  # brackets beside it, inside the gussets
            more = room_beside_mm(design) + design.shell.wall_mm
            u = [min(u) - more, max(u) + more]
        reach = max(e[1] for e in ends) + ROUND_MM
        # a post of the plate never ends where an upright begins, so that it is one with the plate
        if reach > design.shell.floor_mm + 0.2:
            spans.append((max(0.0, min(u) - ROUND_MM), min(face.size_mm[0], max(u) + ROUND_MM), min(reach, top)))
    joined: list[tuple[float, float, float]] = []
    for lo, hi, reach in sorted(x for x in spans if x[1] > x[0] + 0.5):
        if joined and lo <= joined[-1][1] + 2 * design.shell.wall_mm:
            a, b, c = joined[-1]
            joined[-1] = (a, max(b, hi), max(c, reach))
        else:
            joined.append((lo, hi, reach))
    return [
        Wall(face=face.id, part=PLATE, lo_mm=(lo, 0.0), hi_mm=(hi, reach), depth_mm=design.shell.wall_mm)
        for lo, hi, reach in joined
    ]


def _taken(design: Design, bench: OpenBench, face: CaseFace, wall: Wall) -> Iterator[Box]:
    """The boxes that an upright and each of its gussets take of the room."""
    (u0, _), (u1, v1), thick, floor = wall.lo_mm, wall.hi_mm, wall.depth_mm, design.shell.floor_mm
    yield face.frame.box(Box((u0, floor, -thick), (u1, v1, 0.0)))
    long = min(bench.gusset_mm, v1 - floor)
    for u in _gussets_at(u0, u1, thick) if long >= LEAST_GUSSET_MM else ():
        yield face.frame.box(Box((u, floor, -thick - long), (u + min(thick, u1 - u0), floor + long, -thick)))


def _gussets_at(u0: float, u1: float, thick: float) -> tuple[float, ...]:
    """Where along an upright its gussets begin: one at each end, one alone where it is narrow."""
    return (u0, u1 - thick) if u1 - u0 > 3 * thick else (u0,)


def _plate(design: Design, bench: OpenBench, case: Case, tools: tuple[Solid, ...]) -> Solid:
    s, (w, d, _) = design.shell, case.box_mm
    outline = rounded(0, 0, w, d, s.corner_radius_mm)
    if bench.plate == "sheet":
        holes = (*drilled(case, PLATE, s.floor_mm), *foot_seats(case), *tools)
        return Filled(Difference(prism(outline, 0, s.floor_mm), holes))
    solids: list[Solid] = [prism(outline, 0, s.floor_mm)]
    for x in case.walls:
        if x.face != "bottom":
            solids += _upright(design, bench, case.face(x.face), x)
    body = Difference(Difference(Union(tuple(solids)), tuple(foot_seats(case))), tools)
    return Filled(with_posts(body, case, PLATE, outline, s.floor_mm / 2))


def _upright(design: Design, bench: OpenBench, face: CaseFace, wall: Wall) -> list[Solid]:
    """The wall itself, its foot sunk into the plate, and a gusset at each end on the inner side that prints without support."""
    (u0, _), (u1, v1), sink, thick = wall.lo_mm, wall.hi_mm, design.shell.floor_mm / 2, wall.depth_mm
    f = face.frame
    plate: Loop = ((u0, sink, 0.0), (u1, sink, 0.0), (u1, v1, 0.0), (u0, v1, 0.0))
    out: list[Solid] = [_raised(f, plate, -thick, 0.0)]
    long = min(bench.gusset_mm, v1 - design.shell.floor_mm)
    if long < LEAST_GUSSET_MM:
        return out
    width = min(thick, u1 - u0)
    for u in _gussets_at(u0, u1, thick):
        # drawn across the wall, seen along it: x inward, y up, raised against u
        inward: Vec3 = (-f.z[0], -f.z[1], -f.z[2])
        across = Frame(f.point((u + width, 0.0, 0.0)), inward, f.y, (-f.x[0], -f.x[1], -f.x[2]))
        web: Loop = (
            (thick / 2, sink, 0.0),
            (thick + long, sink, 0.0),
            (thick + long, design.shell.floor_mm, 0.0),
            (thick, design.shell.floor_mm + long, 0.0),
            (thick / 2, design.shell.floor_mm + long, 0.0),
        )
        out.append(_raised(across, web, 0.0, width))
    return out


def _raised(frame: Frame, loop: Loop, z0: float, z1: float) -> Solid:
    """A profile drawn in a frame, from z0 to z1 along the frame's z."""
    origin = frame.point((0.0, 0.0, z0))
    return Move(Extrude(Profile((loop,)), z1 - z0), frame._replace(origin=origin))
