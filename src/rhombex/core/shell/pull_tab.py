"""A tab at the foot of a tray's end plate, level with its floor, so that it prints without support: what the tray is pulled out by."""

from __future__ import annotations

from rhombex.core.bench.arrange import Thing
from rhombex.core.case.fittings import Tab
from rhombex.core.design import Design
from rhombex.core.geometry.recipe import Difference, Loop, Solid, Union, prism, rect, rounded
from rhombex.core.shell.places import slots
from rhombex.core.shell.plugs import plugs_before
from rhombex.core.space import Box, Face, Frame, Vec2

WIDE_MM = 44.0  # for two fingers; common practice
WEB_MM = 4.0  # of plastic round the slot; common practice
ROUND_MM = 6.0
LEAST_SLOT_MM = 6.0  # a slot narrower than this takes no fingertip
CLEAR_MM = 1.0  # of plugs beside it


def tab_of(
    design: Design, part: str, things: tuple[Thing, ...], frame: Frame, face: Face, wide_mm: float, out_mm: float
) -> Tab | None:
    """The tab in the middle of the plate's foot, or as near to it as plugs before the plate let it; None where there is no such place. `frame`: the tray's
    own, which comes out towards y = 0; `wide_mm`: of the plate."""
    taken = _plugs(design, things, frame, face, design.shell.floor_mm)
    half = WIDE_MM / 2
    ends = (half + ROUND_MM, wide_mm - half - ROUND_MM)
    for x in slots(*ends, wide_mm / 2, 1.0) if ends[1] >= ends[0] else ():
        if all(x + half <= a or x - half >= b for a, b in taken):
            slot = out_mm - 2 * WEB_MM
            return Tab(
                part=part,
                box=frame.box(Box((x - half, -out_mm, 0.0), (x + half, 0.0, design.shell.floor_mm))),
                out=tuple(c + 0.0 for c in frame.vector((0.0, -1.0, 0.0))),
                slot_mm=slot if slot >= LEAST_SLOT_MM else 0.0,
            )
    return None


def tab_body(tab: Tab, frame: Frame, root_mm: float) -> Solid:
    """The tab in the tray's own frame, rooted so deep in the plate."""
    a, b = frame.local(tab.box.lo), frame.local(tab.box.hi)
    (x0, x1), (y0, y1), (z0, z1) = (sorted((a[k], b[k])) for k in range(3))
    end = rounded(x0, y0, x1, y1, min(ROUND_MM, (y1 - y0) / 2))
    whole: Solid = Union((prism(end, z0, z1), prism(rect(x0, (y0 + y1) / 2, x1, y1 + root_mm), z0, z1)))
    if not tab.slot_mm:
        return whole
    hole = rounded(x0 + 2 * WEB_MM, y0 + WEB_MM, x1 - 2 * WEB_MM, y0 + WEB_MM + tab.slot_mm, tab.slot_mm / 2)
    return Difference(whole, (prism(hole, z0 - 1.0, z1 + 1.0),))


def tab_hole(tab: Tab) -> Loop | None:
    """The slot of a tab in the plan of the case; None where it has none."""
    if not tab.slot_mm:
        return None
    i = 0 if tab.out[0] else 1
    lo, hi = list(tab.box.lo[:2]), list(tab.box.hi[:2])
    lo[1 - i], hi[1 - i] = lo[1 - i] + 2 * WEB_MM, hi[1 - i] - 2 * WEB_MM
    end = hi[i] - WEB_MM if tab.out[i] > 0 else lo[i] + WEB_MM
    lo[i], hi[i] = sorted((end, end - tab.out[i] * tab.slot_mm))
    return rounded(lo[0], lo[1], hi[0], hi[1], tab.slot_mm / 2)


def _plugs(design: Design, things: tuple[Thing, ...], frame: Frame, face: Face, high_mm: float) -> list[Vec2]:
    """The stretches of the plate, in the tray's frame, before which plugs reach down beside a tab of that height."""
    out = []
    for centre, wide, high in plugs_before(design, things, face):
        x, _, z = frame.local(centre)
        if z - high / 2 < high_mm + CLEAR_MM:
            out.append((x - wide / 2 - CLEAR_MM, x + wide / 2 + CLEAR_MM))
    return out
