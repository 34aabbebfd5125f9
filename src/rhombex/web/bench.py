"""The bench over HTTP: gaps while a hand moves a thing."""

from __future__ import annotations

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from pydantic import BaseModel, Field

from rhombex.core.bench.arrange import arrange
from rhombex.core.bench.gaps import Gap, gaps_of
from rhombex.core.edits import Move, apply
from rhombex.web.api import DesignPath, answer, desk

bp = APIBlueprint("bench", __name__, url_prefix="/api")


class GapsIn(BaseModel):
    thing: str = Field(max_length=40)
    to_mm: tuple[float, float, float]


class GapsOut(BaseModel):
    gaps: list[Gap]


@bp.post("/designs/<id>/gaps", responses={200: GapsOut}, operation_id="gapsAt")
def gaps(path: DesignPath, body: GapsIn) -> Response:
    """Gaps of a thing as if it stood somewhere else. Nothing is kept."""
    design = apply(desk().designs.state(path.id).design, Move(id=body.thing, to_mm=body.to_mm))
    return answer(GapsOut(gaps=list(gaps_of(design, arrange(design), body.thing))))
