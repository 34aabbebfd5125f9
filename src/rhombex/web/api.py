"""Shared pieces of the HTTP interface: answers, paths, the desk."""

from __future__ import annotations

from typing import cast

from flask import Response, current_app
from pydantic import BaseModel, Field

from rhombex.jobs.export import Exports
from rhombex.web.views import Desk


class DesignPath(BaseModel):
    id: str = Field(pattern=r"^[0-9a-f]{12}$")


class ErrorBody(BaseModel):
    field: str
    said: str
    kept: str
    do: str


class ErrorOut(BaseModel):
    error: ErrorBody


def desk() -> Desk:
    return cast(Desk, current_app.extensions["desk"])


def exports() -> Exports:
    return cast(Exports, current_app.extensions["exports"])


def answer(value: BaseModel, status: int = 200) -> Response:
    """A value as JSON."""
    return Response(value.model_dump_json(), status=status, mimetype="application/json")
