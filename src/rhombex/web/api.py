"""Shared pieces of the HTTP interface: answers, paths, what any call may be refused with, the desk."""

from __future__ import annotations

from typing import Annotated, Any, cast

from flask import Response, current_app
from flask_openapi3.models.file import FileStorage
from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field
from werkzeug.datastructures import FileStorage as PlainFile

from rhombex.core.edits import MOST_EDITS, Edit, counted
from rhombex.web.description import Calls
from rhombex.web.desk import Desk


class Asked(BaseModel):
    """Base of what a caller sends: no unknown fields, no NaN or infinity."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


Version = Annotated[int, Field(ge=0, le=2**53)]
Number = Annotated[int, Field(ge=0, le=2**53)]  # of a revision


class DesignPath(BaseModel):
    id: str = Field(pattern=r"^[0-9a-f]{12}$")


class TriedIn(Asked):
    """Edits of a design that are looked at and not kept."""

    edits: Annotated[tuple[Edit, ...], Field(min_length=1, max_length=MOST_EDITS), AfterValidator(counted)]


def _is_file(v: Any) -> Any:
    if not isinstance(v, PlainFile):
        raise ValueError("a file is wanted here")
    return v


Upload = Annotated[FileStorage, BeforeValidator(_is_file)]


class ErrorBody(BaseModel):
    field: str
    message: str
    kept: str
    do: str


class ErrorOut(BaseModel):
    error: ErrorBody


# Every call may be refused at the door, for its form, for what it names, or because the disk refuses.
REFUSED: dict[Any, Any] = dict.fromkeys((400, 401, 403, 404, 405, 413, 415, 421, 422, 429, 500, 507), ErrorOut)


def blueprint(name: str, module: str, prefix: str = "/api") -> Calls:
    """A blueprint whose calls all tell what they may be refused with."""
    return Calls(name, module, url_prefix=prefix, abp_responses=REFUSED)


def file_of(*mimes: str) -> dict[Any, Any]:
    """The description of an answer that is a file."""
    as_bytes, as_json = {"type": "string", "format": "binary"}, {"type": "object"}
    content = {mime: {"schema": as_json if mime == "application/json" else as_bytes} for mime in mimes}
    return {200: {"description": "The file", "content": content}}


def desk() -> Desk:
    return cast(Desk, current_app.extensions["desk"])


def answer(value: BaseModel, status: int = 200) -> Response:
    """A value as JSON."""
    return Response(value.model_dump_json(), status=status, mimetype="application/json")


def as_file(text: str, name: str) -> Response:
    """A stored document to save, just as it is."""
    r = Response(text.encode("utf-8", "surrogatepass"), mimetype="application/json")
    r.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return r
