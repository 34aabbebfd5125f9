"""The print plan over HTTP: settled hours, material, resting sides, walls against infill."""

from __future__ import annotations

from flask import Response
from pydantic import Field

from rhombex.core.advice.effects import SettingEffect, effects
from rhombex.core.advice.materials import Advice, advise
from rhombex.core.advice.orient import Resting, resting_faces
from rhombex.core.analysis import Analysis
from rhombex.core.process.stiffness import Trade, plates, trade
from rhombex.core.trail import Frozen
from rhombex.store.designs import NotThere
from rhombex.web.api import DesignPath, answer, blueprint, desk
from rhombex.web.views import StateOut

bp = blueprint("plan", __name__)


class PartPath(DesignPath):
    part: str = Field(pattern=r"^[a-z0-9._-]{1,40}$")


class MaterialsOut(Frozen):
    advice: tuple[Advice, ...]


class SettingEffectsOut(Frozen):
    effects: tuple[SettingEffect, ...]


class RestingOut(Frozen):
    sides: tuple[Resting, ...]


class TradeOut(Frozen):
    trades: tuple[Trade, ...]


def _settled(path: DesignPath) -> Analysis:
    state = desk().designs.state(path.id)
    return desk().look(state.design, quick=False)[0]


@bp.get("/designs/<id>/settled", responses={200: StateOut}, operation_id="getSettled")
def settled(path: DesignPath) -> Response:
    """The design as it stands with settled hours: what follows when the hand stops."""
    return answer(desk().settled(desk().designs.state(path.id)))


@bp.get("/designs/<id>/materials", responses={200: MaterialsOut}, operation_id="getMaterials")
def materials(path: DesignPath) -> Response:
    return answer(MaterialsOut(advice=advise(_settled(path))))


def _part(a: Analysis, part: str) -> None:
    if part not in a.recipes:
        raise NotThere(f"there is no part '{part}' in this design")


@bp.get("/designs/<id>/effects", responses={200: SettingEffectsOut}, operation_id="getEffects")
def all_effects(path: DesignPath) -> Response:
    """What a step of each setting does to everything that has the common process."""
    return answer(SettingEffectsOut(effects=effects(_settled(path))))


@bp.get("/designs/<id>/effects/<part>", responses={200: SettingEffectsOut}, operation_id="getPartEffects")
def part_effects(path: PartPath) -> Response:
    """What a step of each setting does to one part."""
    a = _settled(path)
    _part(a, path.part)
    return answer(SettingEffectsOut(effects=effects(a, path.part)))


@bp.get("/designs/<id>/sides/<part>", responses={200: RestingOut}, operation_id="getSides")
def sides(path: PartPath) -> Response:
    a = _settled(path)
    if path.part not in a.pieces_in_case:
        _part(a, path.part)
    return answer(RestingOut(sides=resting_faces(a, path.part)))


@bp.get("/designs/<id>/trade/<part>", responses={200: TradeOut}, operation_id="getTrade")
def trades(path: PartPath) -> Response:
    a = _settled(path)
    _part(a, path.part)
    process = a.design.process_of(path.part)
    return answer(
        TradeOut(trades=tuple(trade(p, process, a.printer) for p in plates(a.design, a.case.part(path.part))))
    )
