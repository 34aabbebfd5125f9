"""Parts over HTTP: the library, own components of the workshop, the notebook, files read in, stacks and power."""

from __future__ import annotations

import uuid
from typing import cast

from flask import Response, current_app
from pydantic import BaseModel, Field

from rhombex.core.exchange.component_file import component_json, read_component
from rhombex.core.exchange.write_idf import board_idf
from rhombex.core.parts import library, port_kinds
from rhombex.core.parts.component import Component, PortKind
from rhombex.core.parts.notebook import Notebook, Solved, read_notebook, solve
from rhombex.core.parts.of_notebook import component_of as component_of_notebook
from rhombex.core.parts.overview import Overview, overview
from rhombex.core.parts.recognised import (
    Confirmed,
    component_of,
)
from rhombex.core.power.draws import Budget, budget
from rhombex.core.shop_edits import PutOwnComponent, RemoveOwnComponent
from rhombex.core.trail import Frozen
from rhombex.jobs.kinds import zipped
from rhombex.store.designs import NotThere
from rhombex.store.shapes import Shapes
from rhombex.web.api import Asked, DesignPath, Upload, answer, blueprint, desk, file_of
from rhombex.web.jobs import jobs, read_of

bp = blueprint("parts", __name__)
LONG_S = 120.0


class LibraryOut(Frozen):
    """Every component at hand with its glance, own ones first, and the kinds of port there are."""

    components: tuple[Component, ...]
    overviews: tuple[Overview, ...]
    kinds: tuple[PortKind, ...]


class FileForm(BaseModel):
    file: Upload


class KeyPath(BaseModel):
    key: str = Field(pattern=r"^[a-z0-9][a-z0-9._-]{0,39}$")


class ShapePath(BaseModel):
    digest: str = Field(pattern=r"^[0-9a-f]{16,64}$")


class ConfirmIn(Asked):
    job: str = Field(pattern=r"^[0-9a-f]{12}$")
    confirmed: Confirmed


class NotebookIn(Asked):
    notebook: Notebook


class OwnIn(Asked):
    component: Component


class OwnOut(Frozen):
    """A component that was made and is not kept yet. `twin`: the name of the one in the library that is just the same, if any."""

    component: Component
    twin: str


def _own(c: Component) -> OwnOut:
    plain = {"key": c.key, "shape": c.shape}
    same = (x.label for x in desk().workshops.read()[1].components if x.model_copy(update=plain) == c)
    return OwnOut(component=c, twin=next(same, ""))


def _shapes() -> Shapes:
    return cast(Shapes, current_app.extensions["shapes"])


@bp.get("/library", responses={200: LibraryOut}, operation_id="getLibrary")
def library_() -> Response:
    return _library()


def _library() -> Response:
    _, workshop = desk().workshops.read()
    own = {c.key: c for c in workshop.components}
    shipped = [c for c in library().values() if c.key not in own]
    return answer(
        LibraryOut(
            components=(*own.values(), *shipped),
            overviews=(*(overview(c, True) for c in own.values()), *(overview(c, False) for c in shipped)),
            kinds=tuple(port_kinds().values()),
        )
    )


@bp.post("/library/confirm", responses={200: OwnOut}, operation_id="confirmComponent")
def confirm(body: ConfirmIn) -> Response:
    """The component that a file makes once its picture was looked at. It is not kept until it is put into the library."""
    return answer(_own(component_of(read_of(body.job).found, body.confirmed, f"own-{uuid.uuid4().hex[:8]}")))


@bp.post("/library/own", responses={200: LibraryOut}, operation_id="putOwnComponent")
def put_own(body: OwnIn) -> Response:
    """Put a component into the workshop's library, or change one there; all designs can use it."""
    desk().workshops.edit((PutOwnComponent(component=body.component),))
    return _library()


@bp.delete("/library/own/<key>", responses={200: LibraryOut}, operation_id="removeOwnComponent")
def remove_own(path: KeyPath) -> Response:
    """Take an own component out of the library. Designs that carry it keep their copy."""
    if all(c.key != path.key for c in desk().workshops.read()[1].components):
        raise NotThere(f"there is no own component '{path.key}'")
    desk().workshops.edit((RemoveOwnComponent(key=path.key),))
    return _library()


@bp.post("/library/file", responses={200: OwnOut}, operation_id="readComponentFile")
def read_file(form: FileForm) -> Response:
    """Read a component that was exported as JSON. It gets a key of its own."""
    c = read_component(form.file.read(5_000_000))
    key = c.key if c.key not in library() else f"own-{uuid.uuid4().hex[:8]}"
    return answer(_own(c.model_copy(update={"key": key, "shape": None})))


def _component(key: str) -> Component:
    _, workshop = desk().workshops.read()
    found = next((c for c in workshop.components if c.key == key), None) or library().get(key)
    if found is None:
        raise NotThere(f"there is no component '{key}' in the library")
    return found


@bp.get("/library/<key>/json", responses=file_of("application/json"), operation_id="getComponentJson")
def json_of(path: KeyPath) -> Response:
    r = Response(component_json(_component(path.key)), mimetype="application/json")
    r.headers["Content-Disposition"] = f'attachment; filename="{path.key}.json"'
    return r


@bp.get("/library/<key>/step", responses=file_of("model/step"), operation_id="getComponentStep")
def step_of(path: KeyPath) -> Response:
    data = jobs().finished("component-step", {"component": _component(path.key).model_dump_json()})
    r = Response(data, mimetype="model/step")
    r.headers["Content-Disposition"] = f'attachment; filename="{path.key}.step"'
    return r


@bp.get("/library/<key>/idf", responses=file_of("application/zip"), operation_id="getComponentIdf")
def idf_of(path: KeyPath) -> Response:
    """A board as IDF 3.0: board file and library in one ZIP."""
    emn, emp = board_idf(_component(path.key))
    r = Response(zipped({f"{path.key}.emn": emn, f"{path.key}.emp": emp}), mimetype="application/zip")
    r.headers["Content-Disposition"] = f'attachment; filename="{path.key}-idf.zip"'
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


@bp.post("/notebook/component", responses={200: OwnOut}, operation_id="componentOfNotebook")
def notebook_component(body: NotebookIn) -> Response:
    """The component that readings make."""
    book = read_notebook(body.notebook.model_dump())
    return answer(_own(component_of_notebook(book, solve(book), f"own-{uuid.uuid4().hex[:8]}")))


@bp.get("/designs/<id>/power", responses={200: Budget}, operation_id="getPower")
def power(path: DesignPath) -> Response:
    """The power budget of a design as it stands."""
    state = desk().designs.state(path.id)
    a, _ = desk().look(state.design)
    return answer(budget(state.design, a.things))
