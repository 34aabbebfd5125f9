"""Long work over HTTP, one resource for all of it: start it, watch it, stop it, take what came of it."""

from __future__ import annotations

import re
import uuid
from dataclasses import replace
from pathlib import Path, PurePath
from typing import Annotated, Literal, cast

from flask import Response, current_app, send_file
from pydantic import BaseModel, Field

from rhombex.core.exchange.formats import FORMATS, Format
from rhombex.core.exchange.recognise import MOST_BYTES
from rhombex.core.memo import Memo
from rhombex.core.parts.recognised import UNIT_MM, Axis, Unit, confirmed_by_default, turned, turning
from rhombex.core.parts.shapes import turned_shape
from rhombex.core.plain import DesignError
from rhombex.core.process.layout import lay_out, work_of
from rhombex.core.process.settings import KIND_NAMES, Kind
from rhombex.core.process.slices import Slices
from rhombex.core.trail import Frozen, Shown
from rhombex.jobs.job import Job, State
from rhombex.jobs.jobs import Jobs
from rhombex.jobs.kinds import Layers, Made, Read, Result, result_of, slices_of_asked
from rhombex.store.designs import NotThere
from rhombex.store.shapes import Shapes
from rhombex.web.api import Asked, Upload, answer, blueprint, desk, file_of

bp = blueprint("jobs", __name__)
LONG_S = 120.0
_slices: Memo[str, Slices] = Memo(6)  # of the pieces whose layers are being looked at
DesignId = Annotated[str, Field(pattern=r"^[0-9a-f]{12}$")]


class ExportAsked(Asked):
    """The files of a design to print and to keep; `components`: as simple solids in the STEP of the whole case."""

    kind: Literal["export"]
    design: DesignId
    formats: Annotated[tuple[Format, ...], Field(min_length=1, max_length=10)] = FORMATS
    components: bool = False


class WaysAsked(Asked):
    """Other ways to print a design as it stands, to make its case, or to plan its cuts."""

    kind: Literal["what-if", "constructions", "cut-order"]
    design: DesignId


class LayersAsked(Asked):
    """Every layer of a piece (named as on the bed) laid out."""

    kind: Literal["layers"]
    design: DesignId
    piece: Annotated[str, Field(min_length=1, max_length=60)]


class StartIn(Asked):
    ask: Annotated[ExportAsked | WaysAsked | LayersAsked, Field(discriminator="kind")]


class PartForm(BaseModel):
    file: Upload
    library: Upload | None = None
    unit: str = Field(default="", max_length=4)
    longer: str = Field(default="", max_length=4)
    as_kind: Literal["", "board", "body"] = ""


class JobPath(BaseModel):
    job: str = Field(pattern=r"^[0-9a-f]{12}$")


class LayerPath(JobPath):
    layer: int = Field(ge=0, le=100_000)


class TurnIn(Asked):
    about: Axis


class JobOut(Frozen):
    """Long work: how far it is, the best so far where it looks for one, what came of it, or why nothing did."""

    id: str
    kind: str
    state: State
    share: Shown
    what: str
    message: str
    do: str
    best: Annotated[Result, Field(discriminator="kind")] | None
    result: Annotated[Result, Field(discriminator="kind")] | None


class PathOut(Frozen):
    kind: str
    time_s: Shown
    length_mm: Shown
    points: tuple[tuple[float, float], ...]
    linked: bool


class LayerOut(Frozen):
    """One layer: its paths in the order of printing, what it takes by kind, and its section's bounds."""

    layer: int
    z_mm: Shown
    time_s: Shown
    by_kind: dict[str, Shown]
    paths: tuple[PathOut, ...]
    lo_mm: tuple[Shown, Shown]
    hi_mm: tuple[Shown, Shown]


def jobs() -> Jobs:
    return cast(Jobs, current_app.extensions["jobs"])


def job_of(id: str) -> Job:
    """A job by its id. Raises NotThere where it is forgotten."""
    found = jobs().job(id)
    if found is None:
        raise NotThere("this work is no longer at hand; ask for it again")
    return found


def read_of(id: str) -> Read:
    """What a file was recognised as. Raises NotThere where it is not read."""
    result = job_of(id).result
    if not isinstance(result, Read):
        raise NotThere("this file is not read yet")
    return result


def _out(j: Job) -> JobOut:
    return JobOut(
        id=j.id,
        kind=j.kind,
        state=j.state,
        share=j.share,
        what=j.what,
        message=j.message,
        do=j.do,
        best=result_of(j.best),
        result=result_of(j.result),
    )


def _folder(name: str) -> Path:
    folder = cast(Path, current_app.extensions["folder"]) / name
    folder.mkdir(parents=True, exist_ok=True)
    return folder


@bp.post("/jobs", responses={202: JobOut}, operation_id="startJob")
def start(body: StartIn) -> Response:
    """Start long work on a design as it stands; asked for twice, what-if and layers are worked out once."""
    ask = body.ask
    design = desk().designs.state(ask.design).design
    version, workshop = desk().workshops.read()
    asked = {"design": design.model_dump_json(), "workshop": workshop.model_dump_json()}
    if isinstance(ask, ExportAsked):
        asked_too = {
            "name": design.name,
            "formats": ask.formats,
            "components": ask.components,
            "folder": str(_folder("exports")),
        }
        return answer(_out(jobs().start(ask.kind, {**asked, **asked_too})), 202)
    if isinstance(ask, WaysAsked):
        return answer(_out(jobs().start(ask.kind, asked, (ask.kind, asked["design"], version))), 202)
    a, _ = desk().look(design)
    if all(p.name != ask.piece for p in a.pieces):
        raise NotThere(f"there is no piece '{ask.piece}' in this design")
    process = design.process_of(next(p.printed_as for p in a.pieces if p.name == ask.piece))
    key = (a.piece_recipes[ask.piece].digest, process.model_dump_json(), a.printer.model_dump_json())
    return answer(_out(jobs().start(ask.kind, {**asked, "piece": ask.piece}, (ask.kind, *key))), 202)


@bp.post("/jobs/read", responses={202: JobOut}, operation_id="startReading")
def read(form: PartForm) -> Response:
    """Read a STEP, DXF, IDF, STL, 3MF, OBJ, PLY or GLB file in a process of its own. Nothing is kept yet."""
    if form.unit and form.unit not in UNIT_MM:
        raise DesignError("unit", f"'{form.unit}' is not known", f"Take one of {', '.join(UNIT_MM)}.")
    unit: Unit | None = form.unit or None
    came = _folder("incoming") / uuid.uuid4().hex[:12]
    came.write_bytes(form.file.read(MOST_BYTES + 1))
    library = came.with_suffix(".emp")
    if form.library:
        library.write_bytes(form.library.read(MOST_BYTES + 1))
    asked = {
        "file": str(came),
        "name": PurePath(form.file.filename or "part").name[:80],
        "unit": unit,
        "library": str(library) if form.library else "",
        "as_kind": form.as_kind or None,
        "seconds": LONG_S if form.longer else None,
        "shapes": str(_shapes().folder),
    }
    try:
        return answer(_out(jobs().start("read", asked)), 202)
    except DesignError:
        came.unlink()
        library.unlink(missing_ok=True)
        raise


def _shapes() -> Shapes:
    return cast(Shapes, current_app.extensions["shapes"])


@bp.get("/jobs/<job>", responses={200: JobOut}, operation_id="getJob")
def get(path: JobPath) -> Response:
    return answer(_out(job_of(path.job)))


@bp.post("/jobs/<job>/stop", responses={200: JobOut}, operation_id="stopJob")
def stop(path: JobPath) -> Response:
    job_of(path.job)
    jobs().stop(path.job)
    return answer(_out(job_of(path.job)))


@bp.get("/jobs/<job>/file", responses=file_of("application/zip"), operation_id="getExportFile")
def file(path: JobPath) -> Response:
    made = job_of(path.job).result
    zip_ = _folder("exports") / made.file if isinstance(made, Made) else None
    if not isinstance(made, Made) or zip_ is None or not zip_.exists():
        raise NotThere("there is no file of this work")
    name = re.sub(r"[^A-Za-z0-9_-]+", "-", made.name).strip("-") or "design"
    return send_file(zip_.resolve(), mimetype="application/zip", as_attachment=True, download_name=f"{name}.zip")


@bp.post("/jobs/<job>/turn", responses={200: JobOut}, operation_id="turnReading")
def turn(path: JobPath, body: TurnIn) -> Response:
    """Turn what was recognised: a quarter; a board about x or y is turned over."""
    found = read_of(path.job).found
    digest = None
    mesh = _shapes().get(found.shape) if found.shape else None
    if mesh is not None:
        digest, data = turned_shape(mesh, turning(found, body.about))
        _shapes().put(digest, data)
    over = turned(found, body.about, digest)
    jobs().keep(replace(job_of(path.job), result=Read(found=over, proposal=confirmed_by_default(over))))
    return answer(_out(job_of(path.job)))


@bp.get("/jobs/<job>/layers/<layer>", responses={200: LayerOut}, operation_id="getLayer")
def layer(path: LayerPath) -> Response:
    """The paths of one layer of a piece that was laid out, with the seconds of each."""
    laid = job_of(path.job).result
    if not isinstance(laid, Layers) or path.layer >= len(laid.seconds):
        raise NotThere("there is no such layer")
    slices = _slices.make(path.job, lambda: slices_of_asked(jobs().asked(path.job)))
    j = path.layer
    paths = lay_out(slices, j)
    _, by_path = work_of(paths, slices.s, j == 0)
    out = []
    for k in range(len(paths)):
        p = paths.points[paths.start[k] : paths.start[k + 1]]
        d = p[1:] - p[:-1]
        length = float(((d**2).sum(axis=1) ** 0.5)[:: 2 if paths.linked[k] else 1].sum())
        points = tuple((round(float(x), 2), round(float(y), 2)) for x, y in p)
        out.append(
            PathOut(
                kind=KIND_NAMES[Kind(int(paths.kind[k]))],
                time_s=float(by_path[k]),
                length_mm=length,
                points=points,
                linked=bool(paths.linked[k]),
            )
        )
    b = slices.mesh.bounding_box()
    return answer(
        LayerOut(
            layer=j,
            z_mm=laid.z_mm[j],
            time_s=laid.seconds[j],
            by_kind={kind: seconds[j] for kind, seconds in laid.by_kind.items() if seconds[j] > 0.05},
            paths=tuple(out),
            lo_mm=(b[0], b[1]),
            hi_mm=(b[3], b[4]),
        )
    )
