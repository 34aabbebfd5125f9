"""Openings of one's own: as large as what goes through with its allowance, or as large as they say."""

from __future__ import annotations

from rhombex.core.bench.anchors import placed
from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.design import OWN, Design, OwnOpening
from rhombex.core.fit.allowance import fit, round_hole, spread_mm
from rhombex.core.openings.opening import Opening, plate_at
from rhombex.core.openings.panes import pane_seat
from rhombex.core.space import Vec2, normal_axis
from rhombex.core.trail import Trail
from rhombex.core.workshop.printer import Printer


def own_opening(
    design: Design,
    printer: Printer,
    case: Case,
    things: tuple[Thing, ...],
    o: OwnOpening,
    plates: tuple[Opening, ...] = (),
) -> Opening:
    """An opening that a hand put on a face, or on a printed plate that closes another one there."""
    face = case.face(o.face)
    at = placed(face, o, things)
    w, h = (o.size_mm[0], o.size_mm[0]) if o.shape == "round" else o.size_mm
    plate = plate_at(plates, face.id, at, (w, h)) if o.pane is None else None
    seat = plate.pane if plate else None
    behind = (seat.part,) if seat else case.behind(face.id, *_round(at, (w, h)))
    spread = 0.0
    if not o.allowed:
        grow = Trail(value=0.0, unit="mm", formula="none: cut as large as it says", source="this design")
        more = 0.0
    elif o.shape == "round":
        grow, feature = round_hole(design, printer, behind, normal_axis(o.face), w, case.sides)
        more, spread = grow.value, spread_mm(feature)
    else:
        grow = fit(design, printer, "port_opening", behind, max(w, h))
        more, spread = 2 * grow.value, spread_mm("port_opening")
    size: Vec2 = (w + more, h + more)
    pane = pane_seat(design, printer, case, things, o, at, size, behind)
    return Opening(
        id=f"{OWN}{o.id}",
        of=f"{OWN}{o.id}",
        label=o.name,
        face=face.id,
        round=o.shape == "round",
        at_mm=at,
        size_mm=size,
        nominal_mm=(w, h),
        allowance=grow,
        spread_mm=spread,
        recess=None,
        plug=None,
        set_back_mm=0.0,
        target_mm=at,
        pinned=True,
        parts=behind if seat else case.behind(face.id, *_round(at, pane.seat_mm if pane else size)),
        from_mm=seat.from_mm if seat else 0.0,
        source="this design",
        pane=pane,
        corner_mm=0.0 if o.shape == "round" else min(size) / 2 if o.shape == "slot" else o.corner_mm,
    )


def _round(at: Vec2, size: Vec2) -> tuple[float, float, float, float]:
    return at[0] - size[0] / 2, at[1] - size[1] / 2, at[0] + size[0] / 2, at[1] + size[1] / 2
