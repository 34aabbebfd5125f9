"""Air: vents large enough for the heat."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from rhombex.core.analysis import Analysis
from rhombex.core.concerns.registry import Finding, Maker, NotOffered, Remedy, concern, offered
from rhombex.core.design import VentField
from rhombex.core.edits import Edit, PutVent
from rhombex.core.openings.vents import vent_room
from rhombex.core.reference import val
from rhombex.core.space import Face, Vec2
from rhombex.core.trail import given


def _field(id: str, face: Face, at: Vec2, size: Vec2) -> tuple[Edit, ...]:
    field = VentField(
        id=id, face=face, at_mm=(round(at[0], 2), round(at[1], 2)), size_mm=(round(size[0], 2), round(size[1], 2))
    )
    return (PutVent(vent=field),)


@concern("vents-too-small", "air", needs=("cavity",))
def vents_too_small(a: Analysis, say: Maker) -> Iterator[Finding]:
    """Row 29: the vents' free area is less than the heat asks for."""
    if a.need.heat_w <= 0:
        return
    with_fan = a.need.fan_flow_m3s > 0
    need = a.need.area_mm2.value * (1 if with_fan else 2)
    have = sum(v.free_area_mm2 for v in a.openings.vents if v.fan is None)
    if have >= 0.9 * need:
        return
    remedies: list[Remedy | NotOffered] = []
    fixed = [v for v in a.design.vents if not v.follow_heat]
    if fixed:
        remedies.append(
            Remedy(
                label="Let the vents follow the heat",
                edits=tuple(PutVent(vent=v.model_copy(update={"follow_heat": True})) for v in fixed),
            )
        )
    taken = {v.face for v in a.design.vents}
    faces: tuple[Face, ...] = ("left", "back", "right", "front", "top")
    for face in faces:
        if face in taken or any(o.face == face for o in a.openings.openings if o.plug is not None):
            continue
        web = max(val("air.air.vent_web"), val("printing.feature.web_lines") * a.case.line_mm)
        u0, v0, u1, v1 = vent_room(a.case, face, web)
        if v1 - v0 < val("air.air.vent_hole") * 2 or u1 - u0 < 20:
            continue
        n = len(a.design.vents)
        id = f"vent-{face}" if all(v.id != f"vent-{face}" for v in a.design.vents) else f"vent-{n + 1}"
        at, size = ((u0 + u1) / 2, (v0 + v1) / 2), (min(40.0, u1 - u0), v1 - v0)
        remedies += offered(f"Add vents in the {face} wall", partial(_field, id, face, at, size))
        if len(remedies) >= 2:
            break
    yield say(
        "weigh" if have > 0.3 * need else "stop",
        "The vents are too small for the heat" if have > 0 else "There is no way in for air",
        measured=have / 100,
        limit=need / 100,
        unit="cm2",
        how="sum of the free area of all vents without a fan; wanted: air for the heat at its rise",
        of=(
            given("heat", a.need.heat_w, "W"),
            given("ways: in, or in and out", 1 if with_fan else 2, ""),
            *a.need.area_mm2.inputs,
        ),
        reason=f"{a.need.heat_w:.1f} W at a rise of {val('air.air.rise'):g} K ask for {need / 100:.1f} cm2 of free area"
        + (" so that the fan is not starved." if with_fan else ", in and out together, without a fan."),
        source=a.need.area_mm2.source,
        subjects=("vents",),
        remedies=tuple(remedies),
    )
