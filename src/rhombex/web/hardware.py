"""The Hardware stop over HTTP: the table of joints with what each bears, the fewest kinds, the shopping list."""

from __future__ import annotations

from flask import Response

from rhombex.core.advice.hardware import HardwareTable, hardware_table
from rhombex.core.apply import apply
from rhombex.core.edits import Together
from rhombex.web.api import DesignPath, TriedIn, answer, blueprint, desk

bp = blueprint("hardware", __name__)


@bp.get("/designs/<id>/hardware", responses={200: HardwareTable}, operation_id="getHardware")
def hardware(path: DesignPath) -> Response:
    """Every joint of the design as it stands."""
    state = desk().designs.state(path.id)
    return answer(hardware_table(desk().look(state.design, quick=True)[0]))


@bp.post("/designs/<id>/hardware/tried", responses={200: HardwareTable}, operation_id="tryHardware")
def tried(path: DesignPath, body: TriedIn) -> Response:
    """Every joint of the design as it would be after some edits. Nothing is kept."""
    design = apply(desk().designs.state(path.id).design, Together(edits=body.edits))
    return answer(hardware_table(desk().look(design, quick=True)[0]))
