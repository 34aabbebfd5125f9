"""Exports over HTTP: start, watch, stop, take home."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from flask import Response, send_file
from pydantic import BaseModel, Field

from rhombex.core.exchange.design_json import FORMATS, Format
from rhombex.jobs.export import Job
from rhombex.store.designs import NotThere
from rhombex.web.api import Asked, DesignPath, answer, blueprint, desk, exports, file_of

bp = blueprint("exports", __name__)


class ExportIn(Asked):
    formats: Annotated[tuple[Format, ...], Field(min_length=1, max_length=10)] = FORMATS


class JobPath(BaseModel):
    job: str = Field(pattern=r"^[0-9a-f]{12}$")


class JobOut(BaseModel):
    id: str
    state: Literal["running", "done", "failed", "stopped"]
    share: float
    what: str


def _out(j: Job) -> JobOut:
    return JobOut(id=j.id, state=j.state, share=j.share, what=j.what)


def _job(id: str) -> Job:
    job = exports().job(id)
    if job is None:
        raise NotThere("this export is no longer there; start it again")
    return job


@bp.post("/designs/<id>/export", responses={202: JobOut}, operation_id="startExport")
def start(path: DesignPath, body: ExportIn) -> Response:
    design = desk().designs.state(path.id).design
    return answer(
        _out(
            exports().start(
                design.name, design.model_dump_json(), desk().workshops.read()[1].model_dump_json(), body.formats
            )
        ),
        202,
    )


@bp.get("/exports/<job>", responses={200: JobOut}, operation_id="getExport")
def get(path: JobPath) -> Response:
    return answer(_out(_job(path.job)))


@bp.post("/exports/<job>/stop", responses={200: JobOut}, operation_id="stopExport")
def stop(path: JobPath) -> Response:
    _job(path.job)
    exports().stop(path.job)
    return answer(_out(_job(path.job)))


@bp.get("/exports/<job>/file", responses=file_of("application/zip"), operation_id="getExportFile")
def file(path: JobPath) -> Response:
    job = _job(path.job)
    if job.state != "done":
        raise NotThere("this export is not finished")
    name = re.sub(r"[^A-Za-z0-9_-]+", "-", job.name).strip("-") or "design"
    return send_file(job.file.resolve(), mimetype="application/zip", as_attachment=True, download_name=f"{name}.zip")
