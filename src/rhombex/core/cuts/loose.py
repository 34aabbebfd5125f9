"""What joins pieces and is printed by itself: printed pins, and bridging plates; one part for all of a kind along the cuts of a part."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import ceil, cos, pi, sin, sqrt

from rhombex.core.case import Case
from rhombex.core.case.parts import Part, Seat
from rhombex.core.cuts.cut import Cut
from rhombex.core.cuts.dowels import up_of
from rhombex.core.cuts.joins import BOLT, Bridges, Hold, Pins, hold_of
from rhombex.core.cuts.pieces import PartCuts
from rhombex.core.cuts.strips import INDEX
from rhombex.core.cuts.turned import line_of
from rhombex.core.design import Design, JoinKind
from rhombex.core.fit.allowance import round_hole
from rhombex.core.fit.joints import clearance_mm
from rhombex.core.geometry.recipe import Extrude, Move, Solid, Union, at, circle, profile, rect, snap, through
from rhombex.core.reference import val
from rhombex.core.space import Frame, Vec2, Vec3
from rhombex.core.workshop.printer import Printer

NAMES: dict[JoinKind, str] = {"printed pins": "pins", "bridging plates": "bridges"}
SIDES = 8  # of a printed pin: it lies on one, and its flanks lean 45 degrees


@dataclass(frozen=True)
class Loose:
    """A part of several bodies: in their places in the case, and beside one another on the bed."""

    part: Part
    in_case: Solid
    on_bed: Solid


def loose_name(kind: JoinKind, part: str) -> str:
    """The name of the part that is all printed pins, or all bridging plates, of a part's cuts."""
    return f"{NAMES[kind]}-{part}"[:40]


def loose_of(design: Design, printer: Printer, case: Case, c: PartCuts) -> Iterator[Loose]:
    """What the cuts of a part want printed besides its pieces; it comes to its place with these."""
    if c.seat is None:
        return
    for kind in NAMES:
        hold = hold_of(kind, c.seat)
        frames = [_frame(c.seat, x, d) for x in c.cuts if x.joined == kind for d in x.dowels]
        if hold is None or not frames:
            continue
        name = loose_name(kind, c.part)
        one = _bridge(design, printer, name, hold) if isinstance(hold, Bridges) else _pin(hold)
        across, pitch = ceil(sqrt(len(frames))), _pitch(hold)
        yield Loose(
            part=Part(
                name=name, size_mm=None, down="bottom", plates=(), put_on=case.part(c.part).put_on, bodies=len(frames)
            ),
            in_case=Union(tuple(Move(one, f) for f in frames)),
            on_bed=Union(
                tuple(Move(one, at(k % across * pitch[0], k // across * pitch[1], 0.0)) for k in range(len(frames)))
            ),
        )


def _frame(seat: Seat, c: Cut, d: Vec2) -> Frame:
    """Where one is in the case: x across the cut, z from the outer face of the plate inwards."""
    i, n = INDEX[c.axis], seat.axis
    origin = [0.0] * 3
    origin[i], origin[3 - i - n], origin[n] = c.at_mm, d[0], d[1]
    x: Vec3 = tuple(1.0 if k == i else 0.0 for k in range(3))  # type: ignore[assignment]
    z: Vec3 = tuple(float(up_of(seat)) if k == n else 0.0 for k in range(3))  # type: ignore[assignment]
    y: Vec3 = (z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0])
    straight = Frame((origin[0], origin[1], origin[2]), x, y, z)
    return line_of(c, n).frame.then(straight) if c.turn_deg else straight


def _pin(hold: Hold) -> Solid:
    """A pin along x about the origin: eight sides within the round of its diameter, so that it slides into the hole of a round one."""
    assert isinstance(hold, Pins)
    r = hold.d_mm / 2
    corners = [(r * cos(pi * (2 * k + 1) / SIDES), r * sin(pi * (2 * k + 1) / SIDES), 0.0) for k in range(SIDES)]
    along_x = Frame((0.0, 0.0, 0.0), (0, 1, 0), (0, 0, 1), (1, 0, 0))
    return through([tuple((snap(y), snap(z), b) for y, z, b in corners)], along_x, -hold.deep_mm, hold.deep_mm)


def _bridge(design: Design, printer: Printer, name: str, hold: Bridges) -> Solid:
    """A bridging plate on z = 0, across the origin, with a hole for a screw at either end."""
    run, half = hold.run_mm, hold.block_mm / 2
    d = clearance_mm(BOLT)
    d += round_hole(design, printer, (name,), 2, d)[0].value
    holes = [circle(s * hold.off_mm, 0.0, d) for s in (-1, 1)]
    return Extrude(profile([rect(-run, -half, run, half)], holes), snap(hold.thick_mm))


def _pitch(hold: Hold) -> Vec2:
    """How far apart they are on the bed."""
    gap = val("printing.feature.piece_gap")
    if isinstance(hold, Pins):
        return (hold.long_mm + gap, hold.d_mm + gap)
    return (2 * hold.run_mm + gap, hold.block_mm + gap)
