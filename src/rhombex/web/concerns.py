"""Concerns over HTTP: what a remedy would do."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from pydantic import BaseModel, Field

from rhombex.core.edits import Edit
from rhombex.core.remedies import Effect, effect_of
from rhombex.web.api import DesignPath, answer, desk

bp = APIBlueprint("concerns", __name__, url_prefix="/api")


class TryIn(BaseModel):
    key: str = Field(max_length=300)
    edits: Annotated[list[Edit], Field(min_length=1, max_length=50)]


@bp.post("/designs/<id>/effect", responses={200: Effect}, operation_id="tryRemedy")
def effect(path: DesignPath, body: TryIn) -> Response:
    """Apply edits to a copy, analyse again, and say what changes. Nothing is kept."""
    design = desk().designs.state(path.id).design
    return answer(effect_of(design, desk().workshops.read()[1], body.key, tuple(body.edits)))
