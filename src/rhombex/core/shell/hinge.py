"""Hinges of a lid: knuckles on base and lid, by turns, about a pin outside one wall at the height of the joint. Their undersides lean 45 degrees, so that base
and lid print as they lie, without support."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case.fittings import Hinges, Knuckle
from rhombex.core.constructions import Hinge
from rhombex.core.design import Design
from rhombex.core.fit.allowance import fit, round_hole
from rhombex.core.geometry.recipe import Intersection, Solid, Union, block, through
from rhombex.core.reference import val
from rhombex.core.shell.places import slots
from rhombex.core.shell.plugs import plugs_before
from rhombex.core.shell.solids import OVER, bore
from rhombex.core.space import Box, Face, Frame, Vec2, Vec3
from rhombex.core.workshop.printer import Printer

GAP_MM = 0.4  # between two knuckles, and between a knuckle and the wall; common practice
CLOSED_MM = 1.0  # of plastic that ends the hole of a pin on one side; common practice
SINK_MM = 1.0  # how far a bracket is sunk into its wall
SHORTER_MM = 0.5  # a pin than its hole
WANTED = 2  # hinges: one at either end of the side; common practice
TURNS = 3  # knuckles at least on a pin: base, lid, base
_AXES: dict[Face, tuple[int, int]] = {"front": (0, -1), "back": (0, 1), "left": (1, -1), "right": (1, 1)}


def hinges_of(
    design: Design, printer: Printer, hinge: Hinge, things: tuple[Thing, ...], outer: Vec3, joint_z: float
) -> Hinges:
    """The hinges that find a place along their side, beside the plugs of ports there: two of three knuckles, or knuckles wherever the side is free."""
    axis, sign = _AXES[hinge.side]
    n = 1 - axis
    r = hinge.pin_mm / 2 + val("printing.feature.knuckle_wall")
    out = r + GAP_MM
    reach = out + r * 2**0.5
    round_mm = design.shell.corner_radius_mm + GAP_MM
    lo, hi = round_mm, outer[axis] - round_mm
    whole = hinge.along == "whole side"
    taken = _before_ports(design, things, hinge.side, axis, (joint_z - reach, joint_z + reach))
    # turning it slides, held it is pressed by a drop of glue
    turns = hinge.pin_mm + round_hole(design, printer, ("lid",), axis, hinge.pin_mm, {"lid": "top"})[0].value
    holds = hinge.pin_mm + fit(design, printer, "dowel_slip", ("base",), hinge.pin_mm).value
    knuckles: list[Knuckle] = []
    pins: list[Vec2] = []
    for start, end, many in (_all_along if whole else _two)(lo, hi, hinge.knuckle_mm, taken):
        pitch = (end - start + GAP_MM) / many
        for k in range(many):
            at, part = start + k * pitch, "lid" if k % 2 else "base"
            hole = turns if part == "lid" else holds
            knuckles.append(Knuckle(part=part, lo_mm=at, hi_mm=at + pitch - GAP_MM, hole_mm=hole, closed=k == 0))
        pins.append((start + CLOSED_MM, end - SHORTER_MM))
    return Hinges(
        side=hinge.side,
        axis=axis,
        across_mm=(outer[n] if sign > 0 else 0.0) + sign * out,
        high_mm=joint_z,
        out_mm=out,
        r_mm=r,
        pin_mm=hinge.pin_mm,
        pins=tuple(pins),
        knuckles=tuple(knuckles),
        wanted=1 if whole else WANTED,
        turns=(-float(sign), 0.0, 0.0) if axis == 0 else (0.0, float(sign), 0.0),
    )


def _two(lo: float, hi: float, knuckle_mm: float, taken: list[Vec2]) -> list[tuple[float, float, int]]:
    """From where to where the hinges at either end of a side are, with three knuckles each."""
    total = TURNS * knuckle_mm + (TURNS - 1) * GAP_MM
    starts: list[float] = []
    for want in (lo, hi - total) if hi - lo >= 2 * total + GAP_MM else ((lo + hi - total) / 2,):
        for s in slots(lo, hi - total, want, 1.0) if hi - total >= lo else ():
            clear = all(s + total <= a or s >= b for a, b in taken)
            if clear and all(abs(s - x) >= total + GAP_MM for x in starts):
                starts.append(s)
                break
    return [(s, s + total, TURNS) for s in sorted(starts)]


def _all_along(lo: float, hi: float, knuckle_mm: float, taken: list[Vec2]) -> list[tuple[float, float, int]]:
    """The stretches of a side between plugs, and how many knuckles each has: an odd number, so that a pin ends in the base either way, as long as is wished
    or a little longer, so that they fill it."""
    out, at = [], lo
    for a, b in (*sorted(taken), (hi, hi)):
        end = min(a, hi)
        many = int((end - at + GAP_MM + 1e-9) / (knuckle_mm + GAP_MM))
        many -= 1 - many % 2
        if many >= TURNS:
            out.append((at, end, many))
        at = max(at, b)
    return out


def _before_ports(design: Design, things: tuple[Thing, ...], side: Face, axis: int, z: Vec2) -> list[Vec2]:
    """The stretches along a side in which plugs stand before the wall at some heights."""
    out = []
    for centre, plug_wide, plug_high in plugs_before(design, things, side):
        high = plug_high / 2 + GAP_MM
        if centre[2] + high > z[0] and centre[2] - high < z[1]:
            wide = plug_wide / 2 + GAP_MM
            out.append((centre[axis] - wide, centre[axis] + wide))
    return out


def sign_of(h: Hinges) -> int:
    """Which way from its wall the pins are: 1 along the axis across, or -1."""
    return _AXES[h.side][1]  # type: ignore[index]


def knuckles_of(h: Hinges, part: str, low_z: float, high_z: float) -> list[Solid]:
    """The knuckles of a part with their brackets, cut off where the part ends."""
    up = -1.0 if part == "base" else 1.0
    out: list[Solid] = []
    for k in (k for k in h.knuckles if k.part == part):
        whole = Union((_bracket(h, k, up), bore(h.at(0.0), _along(h), 2 * h.r_mm, k.lo_mm, k.hi_mm)))
        lo, hi = [-1e3] * 3, [1e3] * 3
        lo[2], hi[2] = low_z, high_z
        out.append(Intersection(whole, block(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])))))
    return out


def _along(h: Hinges) -> Vec3:
    return (1.0, 0.0, 0.0) if h.axis == 0 else (0.0, 1.0, 0.0)


def _bracket(h: Hinges, k: Knuckle, up: float) -> Solid:
    """From the wall to the knuckle: level at the joint, and under 45 degrees on its other side, where it meets the knuckle's round."""
    sign, half = sign_of(h), h.r_mm / 2**0.5
    wall = h.across_mm - sign * h.out_mm
    points = [
        (wall - sign * SINK_MM, h.high_mm),
        (h.across_mm, h.high_mm),
        (h.across_mm + sign * half, h.high_mm + up * half),
        (wall, h.high_mm + up * h.reach_mm),
        (wall - sign * SINK_MM, h.high_mm + up * h.reach_mm),
    ]
    if h.axis == 0:  # y across, z up, and out along x
        frame, flat = Frame((0.0, 0.0, 0.0), (0, 1, 0), (0, 0, 1), (1, 0, 0)), points
    else:  # z up, x across, and out along y
        frame, flat = Frame((0.0, 0.0, 0.0), (0, 0, 1), (1, 0, 0), (0, 1, 0)), [(z, a) for a, z in points]
    area = sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(flat, [*flat[1:], flat[0]], strict=True))
    loop = tuple((a, b, 0.0) for a, b in (flat if area > 0 else reversed(flat)))
    return through([loop], frame, k.lo_mm, k.hi_mm)


def pin_holes(h: Hinges, part: str) -> list[Solid]:
    """What is bored through the knuckles of a part."""
    return [
        bore(h.at(0.0), _along(h), k.hole_mm, k.lo_mm + (CLOSED_MM if k.closed else -OVER), k.hi_mm + OVER)
        for k in h.knuckles
        if k.part == part
    ]


def over_side(h: Hinges, deep_mm: float, z0: float, z1: float) -> Solid:
    """A block over all of a side, so deep: what the lid has there beneath the joint would bind as it turns."""
    sign, wall = sign_of(h), h.across_mm - sign_of(h) * h.out_mm
    lo, hi = [-1e3] * 3, [1e3] * 3
    n = 1 - h.axis
    lo[n], hi[n] = sorted((wall - sign * deep_mm, wall + sign * OVER))
    lo[2], hi[2] = z0, z1
    return block(Box((lo[0], lo[1], lo[2]), (hi[0], hi[1], hi[2])))


def turned_deg(h: Hinges, angle_deg: float) -> Vec3:
    """Degrees about x, y and z by which the lid is turned that is open so far."""
    x, y, z = h.turns
    return (x * angle_deg, y * angle_deg, z * angle_deg)


def pins_long_mm(h: Hinges) -> list[float]:
    """Length of each pin."""
    return [round(hi - lo, 3) for lo, hi in h.pins]
