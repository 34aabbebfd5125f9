"""Magnets in place of screws: the pairs, their pockets with the notches that tell the pole, and ribs that keep a part from sliding."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial
from itertools import product
from math import hypot

from rhombex.core.case import Body, Built, Case
from rhombex.core.case.faces import CaseFace
from rhombex.core.case.joints import HeadScrew, Joint, MagnetPair
from rhombex.core.constructions import Magnets
from rhombex.core.design import Design, Direction
from rhombex.core.fit.allowance import NO_SIDES, fit, round_hole
from rhombex.core.fit.joints import hole_mm
from rhombex.core.geometry.recipe import Difference, Solid, Union, block
from rhombex.core.reference import val
from rhombex.core.shell.case_screw import THREAD
from rhombex.core.shell.polarity import keyed_poles
from rhombex.core.shell.solids import OVER, bore
from rhombex.core.space import Box, Vec3, normal_axis
from rhombex.core.workshop.printer import Printer

HEAD_PLAY_MM = 0.6  # beside a head that is turned in its recess, on diameter; common practice
CORNER_MM = 0.8  # across a bore at each corner of a block's pocket; common practice
SKIN_MM = 0.8  # of plastic under the tip of its screw; common practice
HEAD_MM = val(f"fasteners.{THREAD}.head_d") + HEAD_PLAY_MM  # what the recess of a head is wide
# in plastic, the longest that finds room: it is turned by hand and holds some newtons; common practice
HEAD_SCREWS_MM = (10.0, 8.0, 6.0, 5.0)
UPRIGHT = 2  # the axis of the case along which beams and posts stand
THROUGH_MM = 0.2  # plastic thinner than this behind a pocket is none: the pocket goes through


def pocket_mm(
    design: Design, printer: Printer, part: str, axis: int, m: Magnets, size_mm: float, usual: Mapping[str, Direction]
) -> float:
    """Drawn diameter of a pocket, or its length or width, for a magnet of `size_mm` that way: what a hole comes out smaller by, and room for glue where it
    is glued."""
    glue = val("fasteners.magnet.glue_gap") if m.fixed != "pressed" else 0.0
    return size_mm + round_hole(design, printer, (part,), axis, size_mm, usual)[0].value + glue


def deep_mm(m: Magnets) -> float:
    """How deep a pocket ends: the disc, a little under flush; closed in, the layers over it and room for the nozzle too."""
    if m.fixed == "closed in":
        return val("fasteners.magnet.cover") + m.high_mm + val("fasteners.magnet.play")
    return m.high_mm + val("fasteners.magnet.under")


def least_boss_mm(m: Magnets, round_boss: bool = False) -> float:
    """Least width of what a pocket is in, or the recess of a head: across a beam or a square post, or the diameter of a round boss."""
    pocket = m.d_mm if m.long_mm is None else hypot(m.long_mm, m.d_mm) if round_boss else m.long_mm
    widest = max(pocket, HEAD_MM) if m.against == "screw heads" else pocket
    return widest + 2 * val("fasteners.magnet.wall")


def least_at_mm(m: Magnets, pair: MagnetPair, round_boss: bool) -> float:
    """The same at one pair: where a block lies along an upright beam, its width counts."""
    along_beam = m.long_mm is not None and pair.lies == UPRIGHT and not round_boss
    return least_boss_mm(m.model_copy(update={"long_mm": None}) if along_beam else m, round_boss)


def along_mm(m: Magnets) -> float:
    """How long a pocket is along an upright beam."""
    return m.long_mm or m.d_mm


def in_place_of(
    design: Design,
    printer: Printer,
    m: Magnets | None,
    joints: tuple[Joint, ...],
    faces: tuple[CaseFace, ...],
    sheets: frozenset[str] = frozenset(),
    usual: Mapping[str, Direction] = NO_SIDES,
) -> tuple[tuple[Joint, ...], tuple[MagnetPair, ...]]:
    """The screws that stay, and the pairs of magnets where the others were: all that is undone when the case is opened, but for bought sheet, which
    has no pockets. `usual`: the sides that parts usually lie on."""
    if m is None:
        return joints, ()
    off = [j for j in joints if j.opened and j.holds not in sheets]
    pairs = tuple(_pair(design, printer, m, j, usual) for j in off)
    keyed = m.keyed and m.against == "magnets"
    return tuple(j for j in joints if j not in off), keyed_poles(pairs, faces) if keyed else pairs


def _pair(design: Design, printer: Printer, m: Magnets, j: Joint, usual: Mapping[str, Direction]) -> MagnetPair:
    axis = next(i for i in range(3) if j.along[i])
    deep = deep_mm(m)
    if m.fixed == "closed in":  # the last open layer may end half a layer under the ceiling, and the disc not over it
        thick = max(design.process_of(part).layer_mm for part in (j.holds, j.into))
        deep += max(0.0, thick / 2 - val("fasteners.magnet.play"))
    lies = UPRIGHT if axis != UPRIGHT else 0
    long = m.long_mm or 0.0
    return MagnetPair(
        id=j.id,
        name=j.name,
        holds=j.holds,
        into=j.into,
        at=j.at,
        along=j.along,
        boss=j.boss,
        od_mm=j.od_mm,
        d_mm=m.d_mm,
        long_mm=m.long_mm,
        lies=lies,
        high_mm=m.high_mm,
        grade=m.grade,
        deep_mm=deep,
        cover_mm=val("fasteners.magnet.cover") if m.fixed == "closed in" else 0.0,
        holds_pocket_mm=pocket_mm(design, printer, j.holds, axis, m, m.d_mm, usual),
        into_pocket_mm=pocket_mm(design, printer, j.into, axis, m, m.d_mm, usual),
        holds_pocket_long_mm=pocket_mm(design, printer, j.holds, axis, m, long, usual) if long else 0.0,
        into_pocket_long_mm=pocket_mm(design, printer, j.into, axis, m, long, usual) if long else 0.0,
        behind_mm=j.grip_mm + j.head_depth_mm - deep,
        screw=_head_screw(design, printer, j, axis, usual) if m.against == "screw heads" else None,
    )


def _head_screw(design: Design, printer: Printer, j: Joint, axis: int, usual: Mapping[str, Direction]) -> HeadScrew:
    """The longest screw for which there is plastic behind the joint, with room under its tip."""
    there = abs((j.boss.hi if j.along[axis] > 0 else j.boss.lo)[axis] - j.at[axis])
    hole = hole_mm(THREAD, "cut in plastic")
    long = next((x for x in HEAD_SCREWS_MM if room_for_mm(x) <= there + 1e-9), None)
    return HeadScrew(
        thread=THREAD,
        head_d_mm=val(f"fasteners.{THREAD}.head_d"),
        head_hole_mm=HEAD_MM + round_hole(design, printer, (j.into,), axis, HEAD_MM, usual)[0].value,
        head_deep_mm=_head_deep_mm(),
        hole_mm=hole + round_hole(design, printer, (j.into,), axis, hole, usual)[0].value,
        deep_mm=(long or 0.0) + val("fasteners.rule.tip_clearance"),
        long_mm=long,
    )


def _head_deep_mm() -> float:
    """How deep the recess of a head is: a little more than it is high, so that it can be turned until the part sits flush."""
    return val(f"fasteners.{THREAD}.head_k") + val("fasteners.magnet.under")


def room_for_mm(long_mm: float) -> float:
    """How much plastic behind the joint a screw under a magnet wants: its head, itself, room under its tip and a skin."""
    return _head_deep_mm() + long_mm + val("fasteners.rule.tip_clearance") + SKIN_MM


def pockets(case: Case, part: str) -> list[Solid]:
    """What is cut from a part for its magnets; rooms that are closed in are not among it (see `closed_in`)."""
    return _rooms(case, part, False)


def closed_in(built: Built) -> Built:
    """The case with rooms for the magnets that are closed in: cut last of all, since hollows that come of other cuts are filled."""
    case, bodies = built.case, dict(built.bodies)
    for part in {x for p in case.magnets if p.cover_mm for x in (p.holds, p.into)}:
        bodies[part] = partial(_hollowed, bodies[part], tuple(_rooms(case, part, True)))
    return Built(case, bodies, built.on_bed)


def _hollowed(body: Body, rooms: tuple[Solid, ...], tools: tuple[Solid, ...]) -> Solid:
    return Difference(body(tools), rooms)


def _rooms(case: Case, part: str, closed: bool) -> list[Solid]:
    out: list[Solid] = []
    for p in case.magnets:
        if (p.cover_mm > 0 and not (p.screw and part == p.into)) != closed:
            continue
        if part == p.into and p.screw:
            s = p.screw
            out.append(bore(p.at, p.along, s.head_hole_mm, -OVER, s.head_deep_mm))
            out.append(bore(p.at, p.along, s.hole_mm, 0.0, s.head_deep_mm + s.deep_mm))
        elif part == p.into:
            wide, long = p.into_pocket_mm, p.into_pocket_long_mm
            out.append(_pocket(p, p.along, wide, long, p.deep_mm, 1 if p.pole == "N" else 2))
        if part == p.holds:
            back: Vec3 = (-p.along[0] + 0.0, -p.along[1] + 0.0, -p.along[2] + 0.0)
            deep = p.deep_mm if p.behind_mm >= THROUGH_MM else p.deep_mm + max(p.behind_mm, 0.0) + OVER
            wide, long = p.holds_pocket_mm, p.holds_pocket_long_mm
            out.append(_pocket(p, back, wide, long, deep, 2 if p.pole == "N" else 1))
    return out


def _pocket(p: MagnetPair, along: Vec3, wide: float, long: float, deep: float, notches: int) -> Solid:
    """A pocket with one notch in its rim where north faces out, two where south does; under a cover it is a room that opens nowhere. For a block its corners
    are opened as well: a nozzle leaves them round, and the magnet's are sharp."""
    at, i = p.at, next(k for k in range(3) if along[k])
    start, notch = p.cover_mm or -OVER, val("fasteners.magnet.notch")
    side = (i + 1) % 3  # the same for both parts, however their pockets look
    half = {side: wide / 2}
    solids: list[Solid] = [] if long else [bore(at, along, wide, start, deep)]
    if long:
        half = {k: (long if k == p.lies else wide) / 2 for k in range(3) if k != i}
        ends = sorted(at[i] + along[i] * x for x in (start, deep))
        lo = tuple(ends[0] if k == i else at[k] - half[k] for k in range(3))
        hi = tuple(ends[1] if k == i else at[k] + half[k] for k in range(3))
        solids.append(block(Box(lo, hi)))  # type: ignore[arg-type]
        solids += [
            bore(_off(at, half, signs), along, CORNER_MM, start, deep) for signs in product((1.0, -1.0), repeat=2)
        ]
        side = next(k for k in range(3) if k not in (i, p.lies))  # in the middle of its long side
    for sign in (1.0, -1.0)[:notches]:
        rim: Vec3 = tuple(c + (sign * half[side] if k == side else 0.0) for k, c in enumerate(at))  # type: ignore[assignment]
        solids.append(bore(rim, along, notch, start, deep))
    return Union(tuple(solids))


def _off(at: Vec3, half: dict[int, float], signs: tuple[float, ...]) -> Vec3:
    """A corner of a pocket: so far from its middle on the two axes, by their signs."""
    by = dict(zip(sorted(half), signs, strict=True))
    x, y, z = (at[k] + by.get(k, 0.0) * half.get(k, 0.0) for k in range(3))
    return (x, y, z)


def lifts_cut(case: Case, part: str) -> list[Solid]:
    """The notches for a finger that are cut from a part."""
    return [block(x.box) for x in case.lifts if x.part == part]


def ribs(design: Design, printer: Printer, case: Case, beams: dict[str, Box], part: str) -> list[Solid]:
    """Ribs on the inside of a part beside the beams (by pair) that its magnets sit on, so that it cannot slide: magnets hold little sideways. A rib is left
    out along the axis on which floor and top hold the part."""
    thick, deep, long = (val(f"fasteners.magnet.{x}") for x in ("rib", "rib_deep", "rib_long"))
    middle, out = case.cavity.centre, []
    for p in case.magnets:
        beam = beams.get(p.id)
        if p.holds != part or beam is None:
            continue
        n = next(k for k in range(3) if p.along[k])
        gap = fit(design, printer, "tongue_side", (p.holds, p.into), case.cavity.size[(n + 1) % 3]).value
        across = [k for k in range(3) if k != n and (n == 2 or k != 2)]
        for k in across:
            along = next(x for x in range(3) if x not in (n, k))
            lo, hi = [0.0, 0.0, 0.0], [0.0, 0.0, 0.0]
            inward = beam.hi[k] < middle[k]
            near = beam.hi[k] + gap if inward else beam.lo[k] - gap - thick
            lo[k], hi[k] = near, near + thick
            # within the beam, off the walls beside it and the ribs of floor and top
            ends = deep + 1.0 if along == 2 else 1.0
            first, last = beam.lo[along] + ends, beam.hi[along] - ends
            reach = min(long, max(last - first, 2.0))
            start = min(max(p.at[along] - reach / 2, first), last - reach)
            lo[along], hi[along] = start, start + reach
            root = p.at[n] - p.along[n] * OVER
            tip = p.at[n] + p.along[n] * deep
            lo[n], hi[n] = min(root, tip), max(root, tip)
            out.append(block(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2]))))
    return out


def beside_beams_mm(design: Design, printer: Printer, parts: tuple[str, ...], size_mm: float) -> float:
    """What ribs take of the room beside a beam."""
    return val("fasteners.magnet.rib") + fit(design, printer, "tongue_side", parts, size_mm).value


def on_face(p: MagnetPair, faces: tuple[CaseFace, ...]) -> CaseFace:
    """The face that the part which a pair holds is put on."""
    i = next(k for k in range(3) if p.along[k])
    return next(f for f in faces if normal_axis(f.id) == i and f.frame.z[i] * p.along[i] < 0)  # type: ignore[arg-type]
