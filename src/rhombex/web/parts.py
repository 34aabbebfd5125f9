"""Parts over HTTP: the drawer, own parts of the workshop, the notebook, files read in, stacks and power."""

from __future__ import annotations

import uuid
from pathlib import PurePath
from typing import Literal, cast

from flask import Response, current_app
from pydantic import BaseModel, Field

from rhombex.core.exchange.part_file import part_json, part_step, read_part
from rhombex.core.exchange.recognise import MOST_BYTES, recognise
from rhombex.core.parts import drawer, port_kinds
from rhombex.core.parts.component import Component, PortKind
from rhombex.core.parts.notebook import Notebook, Solved, read_notebook, solve
from rhombex.core.parts.of_notebook import component_of as part_of_notebook
from rhombex.core.parts.overview import Overview, overview
from rhombex.core.parts.recognised import (
    UNIT_MM,
    Axis,
    Confirmed,
    Recognised,
    Unit,
    component_of,
    confirmed_by_default,
    turned,
    turning,
)
from rhombex.core.parts.shapes import turned_shape
from rhombex.core.plain import DesignError
from rhombex.core.power.draws import Budget, budget
from rhombex.core.shop_edits import PutOwnPart, RemoveOwnPart
from rhombex.core.trail import Frozen, Shown
from rhombex.jobs.background import Background, Task
from rhombex.jobs.confined import SECONDS, confined
from rhombex.store.designs import NotThere
from rhombex.store.shapes import Shapes
from rhombex.web.api import Asked, DesignPath, Upload, answer, blueprint, desk, file_of

bp = blueprint("parts", __name__)
LONG_S = 120.0


class DrawerOut(Frozen):
    """Every part at hand with its glance, own ones first, and the kinds of port there are."""

    components: tuple[Component, ...]
    overviews: tuple[Overview, ...]
    kinds: tuple[PortKind, ...]


class PartForm(BaseModel):
    file: Upload
    library: Upload | None = None
    unit: str = Field(default="", max_length=4)
    longer: str = Field(default="", max_length=4)


class JobPath(BaseModel):
    job: str = Field(pattern=r"^[0-9a-f]{12}$")


class KeyPath(BaseModel):
    key: str = Field(pattern=r"^[a-z0-9][a-z0-9._-]{0,39}$")


class ShapePath(BaseModel):
    digest: str = Field(pattern=r"^[0-9a-f]{16,64}$")


class ReadOut(Frozen):
    """A file on its way or read: what was recognised, and what Rhombex would make of it."""

    job: str
    state: Literal["running", "done", "failed", "stopped"]
    share: Shown
    what: str
    said: str
    do: str
    found: Recognised | None
    proposal: Confirmed | None


class ConfirmIn(Asked):
    job: str = Field(pattern=r"^[0-9a-f]{12}$")
    confirmed: Confirmed


class TurnIn(Asked):
    about: Axis


class NotebookIn(Asked):
    notebook: Notebook


class OwnIn(Asked):
    component: Component


class OwnOut(Frozen):
    component: Component


def _shapes() -> Shapes:
    return cast(Shapes, current_app.extensions["shapes"])


def _background() -> Background:
    return cast(Background, current_app.extensions["background"])


@bp.get("/drawer", responses={200: DrawerOut}, operation_id="getDrawer")
def drawer_() -> Response:
    return _drawer()


def _drawer() -> Response:
    _, workshop = desk().workshops.read()
    own = {c.key: c for c in workshop.parts}
    shipped = [c for c in drawer().values() if c.key not in own]
    return answer(
        DrawerOut(
            components=(*own.values(), *shipped),
            overviews=(*(overview(c, True) for c in own.values()), *(overview(c, False) for c in shipped)),
            kinds=tuple(port_kinds().values()),
        )
    )


def _read_out(task: Task) -> ReadOut:
    found = task.result if isinstance(task.result, Recognised) else None
    return ReadOut(
        job=task.id,
        state=task.state,
        share=task.share,
        what=task.what,
        said=task.said,
        do=task.do,
        found=found,
        proposal=confirmed_by_default(found) if found else None,
    )


@bp.post("/drawer/read", responses={200: ReadOut}, operation_id="startReading")
def read(form: PartForm) -> Response:
    """Read a STEP, DXF, IDF, STL, 3MF or OBJ file in the background, in a process of its own. Nothing is kept yet."""
    name = PurePath(form.file.filename or "part").name[:80]
    data = form.file.read(MOST_BYTES + 1)
    library = form.library.read(MOST_BYTES + 1) if form.library else None
    if form.unit and form.unit not in UNIT_MM:
        raise DesignError("unit", f"'{form.unit}' is not known", f"Take one of {', '.join(UNIT_MM)}.")
    unit: Unit | None = form.unit or None
    shapes = _shapes()
    seconds = LONG_S if form.longer else SECONDS

    def work(say: object) -> Recognised:
        found, shape = confined(recognise, data, name, unit, library, seconds=seconds, progress=say)  # type: ignore[arg-type]
        if shape is not None and found.shape:
            shapes.put(found.shape, shape)
        return cast(Recognised, found)

    return answer(_read_out(_background().start(("read", uuid.uuid4().hex), work)))


def _task(id: str) -> Task:
    task = _background().task(id)
    if task is None:
        raise NotThere("this file is no longer at hand; read it again")
    return task


@bp.get("/drawer/read/<job>", responses={200: ReadOut}, operation_id="getReading")
def reading(path: JobPath) -> Response:
    return answer(_read_out(_task(path.job)))


@bp.post("/drawer/read/<job>/stop", responses={200: ReadOut}, operation_id="stopReading")
def stop_reading(path: JobPath) -> Response:
    task = _task(path.job)
    _background().stop(path.job)
    return answer(_read_out(task))


@bp.post("/drawer/read/<job>/turn", responses={200: ReadOut}, operation_id="turnReading")
def turn_reading(path: JobPath, body: TurnIn) -> Response:
    """Turn what was recognised: a quarter; a board about x or y is turned over."""
    task = _task(path.job)
    found = task.result
    if not isinstance(found, Recognised):
        raise NotThere("this file is not read yet")
    digest = None
    mesh = _shapes().get(found.shape) if found.shape else None
    if mesh is not None:
        digest, data = turned_shape(mesh, turning(found, body.about))
        _shapes().put(digest, data)
    task.result = turned(found, body.about, digest)
    return answer(_read_out(task))


@bp.post("/drawer/confirm", responses={200: OwnOut}, operation_id="confirmPart")
def confirm(body: ConfirmIn) -> Response:
    """The part that a file makes once its picture was looked at. It is not kept until it is put into the drawer."""
    found = _task(body.job).result
    if not isinstance(found, Recognised):
        raise NotThere("this file is not read yet")
    return answer(OwnOut(component=component_of(found, body.confirmed, f"own-{uuid.uuid4().hex[:8]}")))


@bp.post("/drawer/own", responses={200: DrawerOut}, operation_id="putOwnPart")
def put_own(body: OwnIn) -> Response:
    """Put a component into the workshop's library, or change one there; all designs can use it."""
    desk().workshops.edit((PutOwnPart(component=body.component),))
    return _drawer()


@bp.delete("/drawer/own/<key>", responses={200: DrawerOut}, operation_id="removeOwnPart")
def remove_own(path: KeyPath) -> Response:
    """Take an own component out of the library. Designs that carry it keep their copy."""
    if all(c.key != path.key for c in desk().workshops.read()[1].parts):
        raise NotThere(f"there is no own part '{path.key}'")
    desk().workshops.edit((RemoveOwnPart(key=path.key),))
    return _drawer()


@bp.post("/drawer/file", responses={200: OwnOut}, operation_id="readPartFile")
def read_file(form: PartForm) -> Response:
    """Read a part that was exported as JSON. It gets a key of its own."""
    c = read_part(form.file.read(5_000_000))
    key = c.key if c.key not in drawer() else f"own-{uuid.uuid4().hex[:8]}"
    return answer(OwnOut(component=c.model_copy(update={"key": key, "shape": None})))


def _part(key: str) -> Component:
    _, workshop = desk().workshops.read()
    found = next((c for c in workshop.parts if c.key == key), None) or drawer().get(key)
    if found is None:
        raise NotThere(f"there is no part '{key}' in the library")
    return found


@bp.get("/drawer/<key>/json", responses=file_of("application/json"), operation_id="getPartJson")
def json_of(path: KeyPath) -> Response:
    r = Response(part_json(_part(path.key)), mimetype="application/json")
    r.headers["Content-Disposition"] = f'attachment; filename="{path.key}.json"'
    return r


@bp.get("/drawer/<key>/step", responses=file_of("model/step"), operation_id="getPartStep")
def step_of(path: KeyPath) -> Response:
    with current_app.extensions["places"].place():
        data = confined(part_step, _part(path.key), seconds=30.0)
    r = Response(data, mimetype="model/step")
    r.headers["Content-Disposition"] = f'attachment; filename="{path.key}.step"'
    return r


@bp.get("/shapes/<digest>", responses=file_of("application/octet-stream"), operation_id="getShape")
def shape(path: ShapePath) -> Response:
    """A body's mesh for looking at: little-endian 32-bit floats, nine a triangle."""
    data = _shapes().get(path.digest)
    if data is None:
        raise NotThere("this mesh is not kept here")
    r = Response(data, mimetype="application/octet-stream")
    r.headers["Cache-Control"] = "public, max-age=31536000, immutable"
    return r


@bp.post("/notebook", responses={200: Solved}, operation_id="solveNotebook")
def notebook(body: NotebookIn) -> Response:
    """Bring readings together; nothing is kept."""
    return answer(solve(body.notebook))


@bp.post("/notebook/part", responses={200: OwnOut}, operation_id="partOfNotebook")
def notebook_part(body: NotebookIn) -> Response:
    """The part that readings make."""
    book = read_notebook(body.notebook.model_dump())
    return answer(OwnOut(component=part_of_notebook(book, solve(book), f"own-{uuid.uuid4().hex[:8]}")))


@bp.get("/designs/<id>/power", responses={200: Budget}, operation_id="getPower")
def power(path: DesignPath) -> Response:
    """The power budget of a design as it stands."""
    state = desk().designs.state(path.id)
    a, _ = desk().look(state.design)
    return answer(budget(state.design, a.things))
