"""The drawer over HTTP, and bodies read from files."""

from __future__ import annotations

import re
import uuid
from pathlib import PurePath

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.file import FileStorage
from pydantic import BaseModel

from rhombex.core.design import DesignError
from rhombex.core.exchange.read_mesh import body_from, read_3mf, read_stl
from rhombex.core.parts import drawer
from rhombex.core.parts.component import Component
from rhombex.web.api import ErrorOut, answer

bp = APIBlueprint("parts", __name__, url_prefix="/api")


class DrawerOut(BaseModel):
    components: list[Component]


class BodyForm(BaseModel):
    file: FileStorage


@bp.get("/drawer", responses={200: DrawerOut}, operation_id="getDrawer")
def drawer_() -> Response:
    return answer(DrawerOut(components=list(drawer().values())))


@bp.post("/drawer/read", responses={200: Component, 422: ErrorOut}, operation_id="readBody")
def read(form: BodyForm) -> Response:
    """Read an STL or 3MF as a body to place: its box. Nothing is kept until it is added to a design."""
    name = PurePath(form.file.filename or "body").name[:60]
    data = form.file.read()
    suffix = PurePath(name).suffix.lower()
    if suffix == ".3mf":
        points = read_3mf(data)
    elif suffix == ".stl":
        points = read_stl(data)
    else:
        raise DesignError("file", f"'{suffix or name}' is not a kind that is read", "Choose an STL or a 3MF.")
    label = re.sub(r"[^\w .-]", "_", PurePath(name).stem)[:60] or "body"
    return answer(body_from(points, f"own-{uuid.uuid4().hex[:8]}", label))
