"""The Cuts stop over HTTP: every part over its bed, what a cut costs at each place, what joins the pieces."""

from __future__ import annotations

from flask import Response

from rhombex.core.advice.cuts import CutsTable, MovedCuts, cuts_table, moved_cuts
from rhombex.core.edits import PutCuts
from rhombex.core.trail import Frozen
from rhombex.web.api import Asked, DesignPath, answer, blueprint, desk
from rhombex.web.views import StateOut

bp = blueprint("cuts", __name__)


@bp.get("/designs/<id>/cuts", responses={200: CutsTable}, operation_id="getCuts")
def cuts(path: DesignPath) -> Response:
    """The parts of the design as it stands."""
    state = desk().designs.state(path.id)
    return answer(cuts_table(desk().look(state.design, quick=True)[0]))


class CutsIn(Asked):
    edit: PutCuts


class TriedCuts(Frozen):
    """A part with its cuts where a hand has them just now. Nothing is kept. `part`: none where it cannot be made so; `there`: the design as it would be,
    its numbers against those of now."""

    part: MovedCuts | None
    there: StateOut


@bp.post("/designs/<id>/cuts/tried", responses={200: TriedCuts}, operation_id="tryCuts")
def tried(path: DesignPath, body: CutsIn) -> Response:
    """What the pieces of a part would be while one of its cuts is dragged. Let go there, the edit is answered from what was worked out here."""
    state = desk().designs.state(path.id)
    desk().refuse_beside(path.id, state.version, (body.edit,))
    there = desk().tried(state, (body.edit,))
    return answer(TriedCuts(part=moved_cuts(desk().look(there.design)[0], body.edit.part), there=there))
