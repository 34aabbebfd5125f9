"""The Openings stop over HTTP: which ports can be put on an I/O plate."""

from __future__ import annotations

from flask import Response
from pydantic import BaseModel

from rhombex.core.advice.io_plates import IoPlate, io_plates
from rhombex.web.api import DesignPath, answer, blueprint, desk

bp = blueprint("openings", __name__)


class IoPlates(BaseModel):
    plates: tuple[IoPlate, ...]


@bp.get("/designs/<id>/io-plates", responses={200: IoPlates}, operation_id="getIoPlates")
def io(path: DesignPath) -> Response:
    """Every component with ports on a wall, with the plate that they would have there, or why not."""
    state = desk().designs.state(path.id)
    return answer(IoPlates(plates=io_plates(desk().look(state.design, quick=True)[0])))
