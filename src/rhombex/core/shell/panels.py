"""Flat panels: a rounded plate with a field of round vents and a window, cut in the plane and raised once."""

from __future__ import annotations

from rhombex.core.case.parts import Kept
from rhombex.core.design import Panel
from rhombex.core.geometry.recipe import Extrude, Solid, circle, profile, rect, rounded
from rhombex.core.plain import DesignError
from rhombex.core.space import Box

LEAST_VENT_MM = 0.1
MOST_VENTS = 8000  # in all panels of a design; more would keep the kernel busy for minutes


def vents_of(p: Panel) -> list[tuple[float, float]]:
    """Centres of the vents: rows shifted by half a pitch, clear of the margin and of the window by a web."""
    if p.vent_d_mm <= 0:
        return []
    w, d = p.size_mm
    r, pitch = p.vent_d_mm / 2, p.vent_pitch_mm
    rise = pitch * 3**0.5 / 2
    out = []
    rows = int(max(0.0, d - 2 * p.margin_mm - p.vent_d_mm) / rise) + 1
    for k in range(rows):
        y = d / 2 + (k - (rows - 1) / 2) * rise
        room = w - 2 * p.margin_mm - p.vent_d_mm - (pitch if k % 2 else 0.0)
        if room < 0 or y - r < p.margin_mm - 1e-9 or y + r > d - p.margin_mm + 1e-9:
            continue
        n = int((w - 2 * p.margin_mm - p.vent_d_mm) / pitch) + (0 if k % 2 else 1)
        out += [(w / 2 + (i - (n - 1) / 2) * pitch, y) for i in range(n)]
    if p.window_mm is None:
        return out
    x0, y0, ww, wd = p.window_mm
    web = pitch - p.vent_d_mm + r
    return [(x, y) for x, y in out if not (x0 - web < x < x0 + ww + web and y0 - web < y < y0 + wd + web)]


def holes_of(p: Panel) -> tuple[Kept, ...]:
    """What a cut of a panel keeps off: its window, and as well as it can its vents."""
    w, d = p.size_mm
    out = []
    if p.window_mm is not None:
        x, y, ww, wd = p.window_mm
        out.append(Kept(why="window", box=Box((x, y, 0.0), (x + ww, y + wd, p.thick_mm))))
    if p.vent_d_mm > 0 and 2 * p.margin_mm < min(w, d):
        m = p.margin_mm
        field = Box((m, m, 0.0), (w - m, d - m, p.thick_mm))
        vents = tuple(vents_of(p))
        out.append(Kept(why="vent field", box=field, soft=True, round_at=vents, round_mm=p.vent_d_mm))
    return tuple(out)


def panel_recipe(p: Panel, most_vents: int = MOST_VENTS) -> Solid:
    """A panel lying on z = 0. Raises DesignError where it has more vents than may be made."""
    w, d = p.size_mm
    if 0 < p.vent_d_mm < LEAST_VENT_MM:
        raise DesignError(f"panels.{p.id}", f"vents of {p.vent_d_mm:g} mm are smaller than any nozzle's line")
    vents = vents_of(p)
    if len(vents) > most_vents:
        raise DesignError(
            f"panels.{p.id}",
            f"its {len(vents)} vents are more than the {most_vents} that are left of {MOST_VENTS} in a design",
        )
    outer = rounded(0, 0, w, d, p.corner_mm) if p.corner_mm > 0 else rect(0, 0, w, d)
    holes = [circle(x, y, p.vent_d_mm) for x, y in vents]
    if p.window_mm is not None:
        x, y, ww, wd = p.window_mm
        holes.append(rect(x, y, x + ww, y + wd))
    return Extrude(profile([outer], holes), p.thick_mm)
