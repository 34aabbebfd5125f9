"""The heat ladder: room, inside air, wall, from the flow the real vents let through."""

from __future__ import annotations

from math import sqrt

from rhombex.core.air.need import AirNeed
from rhombex.core.design import Design, FilamentKind
from rhombex.core.reference import ref, val
from rhombex.core.space import Vec3
from rhombex.core.stance import stood_size
from rhombex.core.trail import Frozen, Trail, given, looked_up


class Ladder(Frozen):
    """Flow through the case and the temperatures that follow. `walls_w`: what goes through the walls at the rise that vents are made for."""

    flow_m3s: float
    inside_c: float
    wall_c: Trail
    walls_w: float


def no_ladder(design: Design) -> Ladder:
    """Stands in where the temperatures could not be worked out: the room's; a fault says so."""
    room = design.brief.room_c
    wall = Trail(value=room, unit="degC", formula="could not be worked out: the room's temperature")
    return Ladder(flow_m3s=0.0, inside_c=room, wall_c=wall, walls_w=0.0)


def open_ladder(design: Design, need: AirNeed) -> Ladder:
    """Nothing holds the warm air: the printed parts are as warm as the room, and beside the warmest component a little more."""
    room, hot = design.brief.room_c, val("air.air.hot_spot") * min(1.0, need.heat_w / 10)
    wall = Trail(
        value=room + hot,
        unit="degC",
        formula="room + hot spot: no walls hold the air",
        inputs=(
            given("room", room, "degC", "the brief"),
            given("hot spot", hot, "K", "plastic beside the warmest component"),
        ),
        source="an open frame has the room's air; the hot spot is common practice",
    )
    return Ladder(flow_m3s=0.0, inside_c=room, wall_c=wall, walls_w=0.0)


def _series_m2(a: float, b: float) -> float:
    return 0.0 if a <= 0 or b <= 0 else 1 / sqrt(1 / a**2 + 1 / b**2)


def _fan_flow(need: AirNeed, area_m2: float) -> float:
    """Where the straight fan curve p0 (1 - Q/Q0) meets the vents' curve rho/2 (Q / Cd A)^2."""
    if area_m2 <= 0 or need.fan_flow_m3s <= 0:
        return 0.0
    q0 = need.fan_flow_m3s / val("air.air.fan_share")
    k = val("air.air.density") / 2 / (val("air.air.cd") * area_m2) ** 2
    b = need.fan_pa / q0
    return (-b + sqrt(b * b + 4 * k * need.fan_pa)) / (2 * k)


def heat_ladder(
    design: Design, need: AirNeed, outer: Vec3, vents_mm2: float, fan_mm2: float, wall_mm: float, kind: FilamentKind
) -> Ladder:
    """Inside air from the balance W = rho cp Q dT + U A dT; wall from the resistances in series.

    Lumped: one temperature for all inside air, and a hot-spot addition for the wall beside the warmest component. kind: what the walls are
    printed in.
    """
    rho_cp = val("air.air.density") * val("air.air.cp")
    h_in, k = val("air.air.h_inside"), val(f"materials.{kind}.conductivity")
    w, d, h = (x / 1000 for x in stood_size(design.shell.stands_on, outer))
    skin = 2 * (w * h + d * h) + w * d
    room = design.brief.room_c

    def outside(rise: float) -> tuple[float, float]:
        """Radiation and free convection outside, and all of the wall, W/m2K."""
        tm = room + 273.15 + rise / 4
        h_out = (
            4 * val("air.air.emissivity") * val("air.air.stefan") * tm**3
            + 1.42 * (max(rise, 0.1) / 3 / max(h, 0.02)) ** 0.25
        )
        return h_out, 1 / (1 / h_in + wall_mm / 1000 / k + 1 / h_out)

    rise = wanted = val("air.air.rise")
    flow = 0.0
    for _ in range(40):
        h_out, u = outside(rise)
        if need.fan_flow_m3s > 0:
            flow = _fan_flow(need, _series_m2(vents_mm2, fan_mm2) / 1e6)
        else:
            area = vents_mm2 / 2 / 1e6
            stack = val("air.air.g") * h / 2 * max(rise, 0.01) / (room + 273.15 + rise)
            flow = val("air.air.cd") * area * sqrt(stack)
        rise = 0.5 * rise + 0.5 * need.heat_w / (rho_cp * flow + u * skin)
    through = (1 / h_in) / (1 / h_in + wall_mm / 1000 / k + 1 / h_out)
    hot = val("air.air.hot_spot") * min(1.0, need.heat_w / 10)
    wall = room + rise - rise * through + hot
    return Ladder(
        flow_m3s=flow,
        inside_c=room + rise,
        wall_c=Trail(
            value=wall,
            unit="degC",
            formula="room + rise - rise x (1/h_in) / (1/h_in + t/k + 1/h_out) + hot spot",
            inputs=(
                given("room", room, "degC", "the brief"),
                given("rise", rise, "K", "W / (rho cp Q + U A)"),
                given("flow Q", flow * 1e3, "l/s", "fan and vents, or stack effect"),
                looked_up("h_in", ref("air.air.h_inside")),
                given("h_out", h_out, "W/m2K", "radiation and free convection outside"),
                looked_up("k", ref(f"materials.{kind}.conductivity")),
                given("t", wall_mm),
                given("hot spot", hot, "K", "wall beside the warmest component"),
            ),
            source="energy balance and series resistances; ±5 K",
        ),
        walls_w=outside(wanted)[1] * skin * wanted,
    )
