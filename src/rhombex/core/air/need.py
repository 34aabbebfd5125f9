"""How much air a case needs, and how large the vents must be for it."""

from __future__ import annotations

from math import sqrt

from rhombex.core.bench.arrange import Thing
from rhombex.core.design import Design
from rhombex.core.reference import ref, val
from rhombex.core.stance import up_axis
from rhombex.core.trail import Frozen, Trail, given, looked_up


class AirNeed(Frozen):
    """Heat of all components, the flow that carries it off, and the free area each way (in, out) it asks for. `ways`: that vents are for, in and out, or only
    one where a fan is the other; `vents_mm2`: free area that all vents together are asked for."""

    heat_w: float
    flow_m3s: float
    fan_flow_m3s: float
    fan_pa: float
    area_mm2: Trail
    ways: int
    vents_mm2: float


NO_NEED = AirNeed(  # stands in where the need could not be worked out; a fault says so
    heat_w=0.0,
    flow_m3s=0.0,
    fan_flow_m3s=0.0,
    fan_pa=0.0,
    area_mm2=Trail(value=0.0, unit="mm2", formula="could not be worked out"),
    ways=1,
    vents_mm2=0.0,
)


def air_need(design: Design, things: tuple[Thing, ...]) -> AirNeed:
    """Free vent area from the heat.

    Flow Q = W / (rho cp dT). With a fan, A = Q / (Cd sqrt(2 dp / rho)) with the share of the fan's pressure that the
    vents may take; without one, the stack effect over the cavity's height, Q = Cd A sqrt(g h dT / T).
    """
    heat = sum(t.component.heat_w for t in things)
    rise, rho, cd = val("air.air.rise"), val("air.air.density"), val("air.air.cd")
    need = heat / (rho * val("air.air.cp") * rise)
    fans = [t.component.air for t in things if t.component.air is not None]
    common = (
        given("heat W", heat, "W", "sum of the components"),
        looked_up("rise dT", ref("air.air.rise")),
        looked_up("rho", ref("air.air.density")),
        looked_up("cp", ref("air.air.cp")),
        looked_up("Cd", ref("air.air.cd")),
    )
    flow_fan = pressure = 0.0
    if fans:
        free = sum(f.free_flow_cfm for f in fans) * val("air.air.cfm") / 3600
        flow_fan = free * val("air.air.fan_share")
        pressure = min(f.static_mmh2o for f in fans) * val("air.air.mmh2o")
        dp = pressure * val("air.air.vent_share")
        flow = max(need, flow_fan)
        area = flow / (cd * sqrt(2 * dp / rho)) * 1e6
        trail = Trail(
            value=area,
            unit="mm2",
            formula="A = Q / (Cd sqrt(2 dp / rho)), Q the larger of W / (rho cp dT) and what the fan moves",
            inputs=(
                *common,
                given("Q", flow * 1e3, "l/s", "the larger of the two flows"),
                given("dp", dp, "Pa", "a quarter of the fan's static pressure"),
            ),
            source="orifice equation (Bernoulli, ISO 5167-2 form); energy balance",
        )
    else:
        height = design.shell.inner_mm[up_axis(design.shell.stands_on)] / 1000 / 2  # as the case stands
        temp = design.brief.room_c + 273.15 + rise
        area = need / (cd * sqrt(val("air.air.g") * height * rise / temp)) * 1e6
        trail = Trail(
            value=area,
            unit="mm2",
            formula="A = Q / (Cd sqrt(g h dT / T)), Q = W / (rho cp dT), h half the cavity's height",
            inputs=(
                *common,
                given("h", height * 1000, "mm", "half of the cavity's height"),
                given("T", temp, "K", "room + rise"),
            ),
            source="stack effect for equal inlet and outlet, ASHRAE Fundamentals form",
        )
    ways = 1 if flow_fan > 0 else 2
    return AirNeed(
        heat_w=heat,
        flow_m3s=need,
        fan_flow_m3s=flow_fan,
        fan_pa=pressure,
        area_mm2=trail,
        ways=ways,
        vents_mm2=ways * area,
    )
