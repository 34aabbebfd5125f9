"""Openings of one's own: as large as what goes through with its allowance, or as large as they say."""

from __future__ import annotations

from rhombex.core.bench.anchors import placed
from rhombex.core.bench.arrange import Thing
from rhombex.core.case import Case
from rhombex.core.design import OWN, Design, OwnOpening
from rhombex.core.fit.allowance import fit, round_hole, spread_mm
from rhombex.core.openings.opening import Opening
from rhombex.core.openings.panes import pane_seat
from rhombex.core.space import Vec2, normal_axis
from rhombex.core.trail import Trail
from rhombex.core.workshop.printer import Printer


def own_opening(design: Design, printer: Printer, case: Case, things: tuple[Thing, ...], o: OwnOpening) -> Opening:
    """An opening that a hand put on a face."""
    face = case.face(o.face)
    at = placed(face, o, things)
    w, h = (o.size_mm[0], o.size_mm[0]) if o.shape == "round" else o.size_mm
    behind = case.behind(face.id, at[0] - w / 2, at[1] - h / 2, at[0] + w / 2, at[1] + h / 2)
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
    pane = pane_seat(design, printer, case, o, size, behind)
    wide, high = pane.seat_mm if pane else size
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
        parts=case.behind(face.id, at[0] - wide / 2, at[1] - high / 2, at[0] + wide / 2, at[1] + high / 2),
        source="this design",
        pane=pane,
        corner_mm=0.0 if o.shape == "round" else min(size) / 2 if o.shape == "slot" else o.corner_mm,
    )
