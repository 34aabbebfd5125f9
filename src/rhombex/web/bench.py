"""The bench over HTTP: gaps while a hand moves a thing."""

from __future__ import annotations

from flask import Response

from rhombex.core.apply import apply
from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import Gap, gaps_of
from rhombex.core.edits import Far3, Move
from rhombex.core.parts.component import Key
from rhombex.core.trail import Frozen
from rhombex.web.api import Asked, DesignPath, answer, blueprint, desk

bp = blueprint("bench", __name__)


class GapsIn(Asked):
    thing: Key
    to_mm: Far3


class GapsOut(Frozen):
    gaps: tuple[Gap, ...]


@bp.post("/designs/<id>/gaps", responses={200: GapsOut}, operation_id="gapsAt")
def gaps(path: DesignPath, body: GapsIn) -> Response:
    """Gaps of a thing as if it stood somewhere else. Nothing is kept."""
    design = apply(desk().designs.state(path.id).design, Move(id=body.thing, to_mm=body.to_mm))
    return answer(GapsOut(gaps=gaps_of(design, arrange(design), body.thing)))
