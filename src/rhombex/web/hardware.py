"""The Hardware stop over HTTP: the table of joints with what each bears, the fewest kinds, the shopping list."""

from __future__ import annotations

from flask import Response

from rhombex.core.advice.hardware import HardwareTable, hardware_table
from rhombex.web.api import DesignPath, answer, blueprint, desk

bp = blueprint("hardware", __name__)


@bp.get("/designs/<id>/hardware", responses={200: HardwareTable}, operation_id="getHardware")
def hardware(path: DesignPath) -> Response:
    """Every joint of the design as it stands."""
    state = desk().designs.state(path.id)
    return answer(hardware_table(desk().look(state.design, quick=True)[0]))
