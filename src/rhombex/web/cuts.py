"""The Cuts stop over HTTP: every part over its bed, what a cut costs at each place, what joins the pieces."""

from __future__ import annotations

from flask import Response

from rhombex.core.advice.cuts import CutsTable, MovedCuts, cuts_table, moved_cuts
from rhombex.core.apply import apply
from rhombex.core.edits import PutCuts
from rhombex.core.plan.tally import tally
from rhombex.core.remedies import compared
from rhombex.core.trail import Frozen
from rhombex.web.api import Asked, DesignPath, answer, blueprint, desk

bp = blueprint("cuts", __name__)


@bp.get("/designs/<id>/cuts", responses={200: CutsTable}, operation_id="getCuts")
def cuts(path: DesignPath) -> Response:
    """The parts of the design as it stands."""
    state = desk().designs.state(path.id)
    return answer(cuts_table(desk().look(state.design, quick=True)[0]))


class CutsIn(Asked):
    edit: PutCuts


class TriedCuts(Frozen):
    """A part with its cuts where a hand has them just now. Nothing is kept. `part`: none where it cannot be made so; `time_h`, `mass_g`: of the whole case,
    as well as is known at once; `new`, `gone`: titles of the concerns that come and go."""

    part: MovedCuts | None
    time_h: float
    mass_g: float
    new: tuple[str, ...]
    gone: tuple[str, ...]


@bp.post("/designs/<id>/cuts/tried", responses={200: TriedCuts}, operation_id="tryCuts")
def tried(path: DesignPath, body: CutsIn) -> Response:
    """What the pieces of a part would be while one of its cuts is dragged. Let go there, the edit is answered from what was worked out here."""
    state = desk().designs.state(path.id)
    desk().refuse_beside(path.id, state.version, (body.edit,))
    now, there = desk().look(state.design), desk().look(apply(state.design, body.edit))
    sums = {t.key: t.trail.value for t in tally(there[0])}
    effect = compared("", now, there)
    mild = {f.title for f in now[1] if f.severity == "advice"}
    return answer(
        TriedCuts(
            part=moved_cuts(there[0], body.edit.part),
            time_h=sums["time_h"],
            mass_g=sums["mass_g"],
            new=effect.new,
            gone=tuple(t for t in effect.gone if t not in mild),
        )
    )
