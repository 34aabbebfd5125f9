"""The Cuts stop over HTTP: every part over its bed, what a cut costs at each place, what joins the pieces."""

from __future__ import annotations

from flask import Response

from rhombex.core.advice.cuts import CutsTable, cuts_table
from rhombex.web.api import DesignPath, answer, blueprint, desk

bp = blueprint("cuts", __name__)


@bp.get("/designs/<id>/cuts", responses={200: CutsTable}, operation_id="getCuts")
def cuts(path: DesignPath) -> Response:
    """The parts of the design as it stands."""
    state = desk().designs.state(path.id)
    return answer(cuts_table(desk().look(state.design, quick=True)[0]))
