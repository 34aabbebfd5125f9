"""Concerns over HTTP: what a remedy would do."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from pydantic import AfterValidator, Field

from rhombex.core.concerns import Finding
from rhombex.core.edits import MOST_EDITS, Edit, counted
from rhombex.core.plain import DesignError
from rhombex.core.progress import Stopped, giving_way
from rhombex.core.remedies import Effect, effect_of
from rhombex.core.shop_edits import ShopEdit
from rhombex.core.trail import Frozen
from rhombex.web.api import Asked, DesignPath, answer, blueprint, desk

bp = blueprint("concerns", __name__)


class TryIn(Asked):
    key: str = Field(max_length=300)
    edits: Annotated[tuple[Edit, ...], Field(max_length=MOST_EDITS), AfterValidator(counted)] = ()
    shop: Annotated[tuple[ShopEdit, ...], Field(max_length=20)] = ()


class ConcernsOut(Frozen):
    """Concerns of a design with all their remedies, and its version. Where it has changed while they were looked for: none, and the version that it has now."""

    version: int
    concerns: tuple[Finding, ...]


@bp.get("/designs/<id>/concerns", responses={200: ConcernsOut}, operation_id="listConcerns")
def concerns(path: DesignPath) -> Response:
    """Concerns with the remedies that take a search, which no edit waits for. Once the design has changed nobody waits for them either."""
    state = desk().designs.state(path.id)
    try:
        return answer(ConcernsOut(version=state.version, concerns=desk().concerns(state)))
    except Stopped:
        return answer(ConcernsOut(version=desk().designs.version(path.id), concerns=()))


@bp.post("/designs/<id>/effect", responses={200: Effect}, operation_id="tryRemedy")
def effect(path: DesignPath, body: TryIn) -> Response:
    """Apply edits to a copy, analyse again, and say what changes. Nothing is kept. Refused where the design changes meanwhile: nobody waits for it then."""
    state = desk().designs.state(path.id)
    try:
        with giving_way(desk().way(state)):
            return answer(effect_of(state.design, desk().workshops.read()[1], body.key, body.edits, body.shop))
    except Stopped:
        raise DesignError(
            "design", "it has been changed while this was tried", "Look at what its concerns say now."
        ) from None
