"""Designs over HTTP: open, edit, undo, keep, read in."""

from __future__ import annotations

import json
from typing import Annotated, Any

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.file import FileStorage
from pydantic import BaseModel, Field

from rhombex.core.design import Design, Shell, read_design
from rhombex.core.edits import Edit, Together
from rhombex.core.exchange.design_json import design_json
from rhombex.core.plain import DesignError
from rhombex.store.designs import Conflict, State
from rhombex.web.api import DesignPath, ErrorOut, answer, desk
from rhombex.web.views import StateOut, StepOut, step_out

bp = APIBlueprint("designs", __name__, url_prefix="/api")


class Listed(BaseModel):
    id: str
    name: str


class ListOut(BaseModel):
    designs: list[Listed]


class EditIn(BaseModel):
    base_version: int
    edits: Annotated[list[Edit], Field(min_length=1, max_length=200)]
    said: str = Field(default="", max_length=120)


class VersionIn(BaseModel):
    base_version: int


class GoToIn(BaseModel):
    base_version: int
    number: int


class KeepIn(BaseModel):
    number: int
    name: str = Field(min_length=1, max_length=60)


class NewIn(BaseModel):
    name: str = Field(min_length=1, max_length=60)


class UploadForm(BaseModel):
    file: FileStorage


class StepsOut(BaseModel):
    steps: list[StepOut]


class ConflictOut(BaseModel):
    """Somebody else changed the design first: how it stands now. Nothing was overwritten."""

    now: StateOut


def _answer(s: State, status: int = 200) -> Response:
    return answer(desk().state(s), status)


def _guarded(do: Any) -> Response:
    try:
        return _answer(do())
    except Conflict as e:
        return answer(ConflictOut(now=desk().state(e.now)), 409)


STATE: Any = {200: StateOut, 409: ConflictOut, 422: ErrorOut}


@bp.get("/designs", responses={200: ListOut}, operation_id="listDesigns")
def listed() -> Response:
    return answer(ListOut(designs=[Listed(id=i, name=n) for i, n in desk().designs.names()]))


@bp.post("/designs", responses={201: StateOut, 422: ErrorOut}, operation_id="newDesign")
def new(body: NewIn) -> Response:
    """A new design: an empty bench in a cavity to start from."""
    design = Design(name=body.name, shell=Shell(inner_mm=(120, 90, 40), joint_mm=32))
    return _answer(desk().designs.create(design), 201)


@bp.post("/designs/read", responses={201: StateOut, 422: ErrorOut}, operation_id="readDesign")
def read(form: UploadForm) -> Response:
    """Read a design's JSON in as a new design."""
    data = form.file.read(20_000_001)
    if len(data) > 20_000_000:
        raise DesignError("file", "no design is larger than 20 MB")
    try:
        plain = json.loads(data)
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError) as e:
        raise DesignError("file", f"this is not whole JSON ({e})", "Choose the design.json of an export.") from None
    return _answer(desk().designs.create(read_design(plain), "read in"), 201)


@bp.get("/designs/<id>", responses={200: StateOut, 404: ErrorOut}, operation_id="getDesign")
def get(path: DesignPath) -> Response:
    return _answer(desk().designs.state(path.id))


@bp.get("/designs/<id>/design.json", operation_id="getDesignJson")
def document(path: DesignPath) -> Response:
    text = design_json(desk().designs.state(path.id).design)
    return Response(
        text,
        mimetype="application/json",
        headers={"Content-Disposition": 'attachment; filename="design.json"'},
    )


@bp.post("/designs/<id>/edits", responses=STATE, operation_id="editDesign")
def edit(path: DesignPath, body: EditIn) -> Response:
    """Do edits as one step."""
    todo = (
        body.edits[0] if len(body.edits) == 1 and not body.said else Together(edits=tuple(body.edits), said=body.said)
    )
    return _guarded(lambda: desk().designs.edit(path.id, body.base_version, todo))


@bp.post("/designs/<id>/undo", responses=STATE, operation_id="undo")
def undo(path: DesignPath, body: VersionIn) -> Response:
    return _guarded(lambda: desk().designs.undo(path.id, body.base_version))


@bp.post("/designs/<id>/redo", responses=STATE, operation_id="redo")
def redo(path: DesignPath, body: VersionIn) -> Response:
    return _guarded(lambda: desk().designs.redo(path.id, body.base_version))


@bp.post("/designs/<id>/goto", responses=STATE, operation_id="goTo")
def go_to(path: DesignPath, body: GoToIn) -> Response:
    return _guarded(lambda: desk().designs.go_to(path.id, body.base_version, body.number))


@bp.post("/designs/<id>/keep", responses=STATE, operation_id="keepRevision")
def keep(path: DesignPath, body: KeepIn) -> Response:
    return _answer(desk().designs.keep(path.id, body.number, body.name))


@bp.get("/designs/<id>/revisions", responses={200: StepsOut}, operation_id="listRevisions")
def revisions(path: DesignPath) -> Response:
    return answer(StepsOut(steps=[step_out(s) for s in desk().designs.revisions(path.id)]))
