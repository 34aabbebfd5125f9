"""Two halves: base and lid that meet in tongue and groove, held by screws through the lid."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing, outer_size
from rhombex.core.bench.gaps import cavity
from rhombex.core.case import Built, Case
from rhombex.core.case.faces import Bulge, Seam, Wall
from rhombex.core.case.fittings import Hinges
from rhombex.core.case.joints import Joint, Snap
from rhombex.core.case.mounts import Mount
from rhombex.core.case.parts import Flat, Part, PutOn, Seat
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design
from rhombex.core.faults import Faults
from rhombex.core.reference import val
from rhombex.core.shell.box import Clear, box_faces, inner_radius_mm, side_seat
from rhombex.core.shell.feet import feet_of, foot_of
from rhombex.core.shell.halves import base_body, lid_body
from rhombex.core.shell.hinge import hinges_of
from rhombex.core.shell.lid_screws import lid_screws
from rhombex.core.shell.lifts import lift_of_lid
from rhombex.core.shell.magnets import in_place_of
from rhombex.core.shell.mounts import mounts_of
from rhombex.core.shell.rim import Rim, rim_of
from rhombex.core.shell.snaps import snaps_of
from rhombex.core.space import FACES, Vec3
from rhombex.core.workshop.printer import Printer


def build(design: Design, halves: TwoHalves, printer: Printer, things: tuple[Thing, ...], faults: Faults) -> Built:
    """The case of two halves. Posts or screws that cannot be planned are noted, and the rest stands."""
    s, rim = design.shell, rim_of(design, printer)
    outer, joint_z = outer_size(design), halves.joint_mm + s.floor_mm
    hinge = hinges_of(design, printer, halves.hinge, things, outer, joint_z) if halves.hinge else None
    faces = box_faces(design, _clear(design, rim, outer, joint_z, hinge))
    no_mounts: tuple[Mount, ...] = ()
    no_joints: tuple[tuple[Joint, ...], int] = ((), 0)
    mounts = faults.attempt("stage", "posts", lambda: mounts_of(design, printer, things, "base"), no_mounts)
    by_id = {f.id: f for f in faces}
    joints, wanted = faults.attempt(
        "stage", "lid screws", lambda: lid_screws(design, printer, halves, things, mounts, rim, by_id), no_joints
    )
    joints, magnets = in_place_of(design, printer, halves.magnets, joints, faces)
    snaps: tuple[Snap, ...] = ()
    if halves.snaps is not None:
        catches = halves.snaps
        no_snaps: tuple[tuple[Snap, ...], int] = ((), 0)
        joints = ()
        snaps, wanted = faults.attempt(
            "stage",
            "snaps of the lid",
            lambda: snaps_of(design, catches, things, mounts, rim, joint_z, hinge),
            no_snaps,
        )
    case = Case(
        kind=halves.kind,
        box_mm=outer,
        cavity=cavity(design),
        inner_radius_mm=inner_radius_mm(design),
        outer_radius_mm=design.shell.corner_radius_mm,
        line_mm=rim.line_mm,
        parts=_parts(design, rim, outer, joint_z),
        faces=faces,
        walls=_walls(design, rim, outer, joint_z),
        seams=(
            Seam(
                axis=2,
                at_mm=joint_z,
                below_mm=rim.groove_depth_mm,
                above_mm=0.0,
                parts=("base", "lid"),
                path="shell.construction.joint_mm",
            ),
        ),
        bulges=bulges_of(design, halves, printer),
        joints=joints,
        magnets=magnets,
        snaps=snaps,
        # in the outer cheek of the base, under the lid's edge
        lifts=lift_of_lid(
            design,
            things,
            faces,
            of="lid",
            part_of=lambda _: "base",
            edge_mm=joint_z,
            high_mm=min(val("fasteners.magnet.lift_high"), rim.groove_depth_mm),
            behind_mm=rim.cheek_mm,
        )
        if magnets or snaps
        else (),
        wanted_joints=wanted,
        mounts=mounts,
        feet=feet_of(design, mounts, things, (*joints, *magnets)),
        foot=foot_of(design, printer, "base"),
        footed="base",
        hinge=hinge,
    )
    return Built(
        case,
        {
            "base": lambda tools: base_body(design, case, rim, joint_z, tools),
            "lid": lambda tools: lid_body(design, case, rim, joint_z, tools),
        },
    )


def bulges_of(design: Design, halves: TwoHalves, printer: Printer) -> tuple[Bulge, ...]:
    """The band of the rim with its ramps, in base and lid."""
    rim, joint_z = rim_of(design, printer), halves.joint_mm + design.shell.floor_mm
    if rim.ramp_mm < 0.02:
        return ()
    band, ramp = rim.band_height_mm, rim.ramp_mm
    return (
        Bulge(
            from_mm=joint_z - band - ramp,
            full_from_mm=joint_z - band,
            full_to_mm=joint_z + band,
            to_mm=joint_z + band + ramp,
            mm=ramp,
        ),
    )


def _clear(design: Design, rim: Rim, outer: Vec3, joint_z: float, hinge: Hinges | None) -> Clear:
    """Plain wall: on the sides above the floor and under the rim and the brackets of hinges, on top and bottom within walls and rim."""
    w, d, _ = outer
    side = inner_radius_mm(design) + design.shell.wall_mm
    edge = max(side, rim.band_mm)
    top = joint_z - rim.band_height_mm - rim.ramp_mm
    wide, deep = (side, design.shell.floor_mm, w - side, top), (side, design.shell.floor_mm, d - side, top)
    flat = (edge, edge, w - edge, d - edge)
    clear: Clear = {"front": wide, "back": wide, "left": deep, "right": deep, "top": flat, "bottom": flat}
    if hinge is not None and hinge.knuckles:
        for face in (f for f in FACES if f == hinge.side):
            left, low, right, high = clear[face]
            clear[face] = (left, low, right, min(high, joint_z - hinge.reach_mm))
    return clear


def _walls(design: Design, rim: Rim, outer: Vec3, joint_z: float) -> tuple[Wall, ...]:
    w, d, h = outer
    deep = max(rim.band_mm, design.shell.wall_mm)
    out = []
    for face, wide in (("front", w), ("back", w), ("left", d), ("right", d)):
        out.append(Wall(face=face, part="base", lo_mm=(0, 0), hi_mm=(wide, joint_z), depth_mm=deep))
        out.append(Wall(face=face, part="lid", lo_mm=(0, joint_z), hi_mm=(wide, h), depth_mm=deep))
    out.append(Wall(face="top", part="lid", lo_mm=(0, 0), hi_mm=(w, d), depth_mm=design.shell.lid_mm))
    out.append(Wall(face="bottom", part="base", lo_mm=(0, 0), hi_mm=(w, d), depth_mm=design.shell.floor_mm))
    return tuple(out)


def _parts(design: Design, rim: Rim, outer: Vec3, joint_z: float) -> tuple[Part, Part]:
    s, (w, d, h) = design.shell, outer
    return (
        Part(
            name="base",
            size_mm=(w, d, joint_z),
            down="bottom",
            plates=(
                Flat(name="floor", thick_mm=s.floor_mm, flat=True),
                Flat(name="walls", thick_mm=s.wall_mm, flat=False),
            ),
            warm=True,
            seat=Seat(outer_mm=0.0, inner_mm=s.floor_mm, edge_mm=rim.ramp_mm),
            side_seat=side_seat(design, "front", 1.0, "back"),
            ribbed="bottom",
        ),
        Part(
            name="lid",
            size_mm=(w, d, h - joint_z + rim.tongue_height_mm),
            down="top",
            plates=(Flat(name="top of the lid", thick_mm=s.lid_mm, flat=True),),
            warm=True,
            seat=Seat(outer_mm=h, inner_mm=h - s.lid_mm, edge_mm=rim.ramp_mm),
            side_seat=side_seat(design, "front", 1.0, "back"),
            put_on=PutOn(along=(0.0, 0.0, -1.0), travel_mm=h - joint_z + rim.tongue_height_mm),
            shown="its outer face takes the texture of the bed",
            ribbed="top",
        ),
    )
