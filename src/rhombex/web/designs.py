"""Designs over HTTP: open, edit, undo, keep, read in."""

from __future__ import annotations

import json
from typing import Annotated, Any

from flask import Response
from pydantic import AfterValidator, BaseModel, Field

from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Design, Process, Shell, read_design
from rhombex.core.edits import MOST_EDITS, Edit, PutCut, PutCuts, Together, counted
from rhombex.core.exchange.design_json import design_json
from rhombex.core.faults import plainly
from rhombex.core.fit.bead import line_width_mm, wall_of_lines_mm
from rhombex.core.plain import DesignError
from rhombex.core.trail import Frozen
from rhombex.core.versions import Difference
from rhombex.core.words import Name, Words, file_stem
from rhombex.store.designs import Conflict, Shelved, State
from rhombex.web.api import Asked, DesignPath, Number, Upload, Version, answer, as_file, blueprint, desk, file_of
from rhombex.web.glance import Glance, glance
from rhombex.web.look import step_out
from rhombex.web.views import StateOut, StepOut

NEW_WALL_LINES = 7  # whole lines on the printer that a new design begins with: about 3 mm with a nozzle of 0.4

bp = blueprint("designs", __name__)


class Listed(Frozen):
    """A design on the shelf or in the bin. `trouble`: why its document cannot be read, or nothing; `days_left`: in the bin."""

    id: str
    name: str
    changed_at: str
    trouble: str
    days_left: int | None


class ListOut(Frozen):
    designs: tuple[Listed, ...]
    bin: tuple[Listed, ...]


class VersionOut(Frozen):
    """Where a design stands, to see whether another window changed it."""

    version: int


class EditIn(Asked):
    base_version: Version
    edits: Annotated[tuple[Edit, ...], Field(min_length=1, max_length=MOST_EDITS), AfterValidator(counted)]
    said: Words = Field(default="", max_length=120)


class VersionIn(Asked):
    base_version: Version


class GoToIn(Asked):
    base_version: Version
    number: Number


class KeepIn(Asked):
    number: Number
    name: Name


class NewIn(Asked):
    name: Name


class BesideQuery(Asked):
    """What a design is looked at beside: another design, or the same where none is named; as it stands, or at one of its revisions."""

    other: Annotated[str, Field(pattern=r"^[0-9a-f]{12}$")] | None = None
    revision: Number | None = None


class BesideOut(Frozen):
    """Another design or revision, with its numbers against those of the first; what is different between them."""

    name: str
    there: StateOut
    differences: tuple[Difference, ...]


class GlanceQuery(Asked):
    settled: bool = False


class StepsQuery(Asked):
    before: Number | None = None


class DesignForm(BaseModel):
    """`again`: read it in though the shelf has one just like it."""

    file: Upload
    again: bool = False


class StepsOut(Frozen):
    """A page of revisions, newest first. `more`: older ones are there."""

    steps: tuple[StepOut, ...]
    more: bool


class ConflictOut(Frozen):
    """Somebody else changed the design first: how it stands now. Nothing was overwritten."""

    now: StateOut


def _answer(s: State, status: int = 200) -> Response:
    return answer(desk().state(s), status)


def _guarded(do: Any) -> Response:
    try:
        return _answer(do())
    except Conflict as e:
        return answer(ConflictOut(now=desk().state(e.now)), 409)


class TwinOut(Frozen):
    """The design on the shelf that is just the one that was to be read in. Nothing was changed."""

    id: str
    name: str


STATE: Any = {200: StateOut, 409: ConflictOut}
PAGE = 200


@bp.get("/designs", responses={200: ListOut}, operation_id="listDesigns")
def listed() -> Response:
    """What is on the shelf and in the bin, each with what is wrong with its document."""
    desk().designs.purge()
    return _listed()


def _listed() -> Response:
    shelf, binned = desk().designs.shelf()
    return answer(ListOut(designs=tuple(map(_row, shelf)), bin=tuple(map(_row, binned))))


def _row(x: Shelved) -> Listed:
    return Listed(id=x.id, name=x.name, changed_at=x.changed_at, trouble=x.trouble, days_left=x.days_left)


@bp.post("/designs", responses={201: StateOut}, operation_id="newDesign")
def new(body: NewIn) -> Response:
    """A new design: an empty bench in a cavity to start from."""
    process = Process()
    printer = desk().workshops.read()[1].printers[0]
    wall = wall_of_lines_mm(NEW_WALL_LINES, line_width_mm(process, printer), process.layer_mm)
    shell = Shell(inner_mm=(120, 90, 40), wall_mm=round(wall, 2), construction=TwoHalves(joint_mm=32))
    design = Design(name=body.name, shell=shell, process=process, printer=printer.key)
    return _answer(desk().designs.create(design), 201)


@bp.post("/designs/read", responses={201: StateOut, 409: TwinOut}, operation_id="readDesign")
def read(form: DesignForm) -> Response:
    """Read a design's JSON in as a new design. One that is on the shelf already, just so, is told, unless `again` is set."""
    data = form.file.read(20_000_001)
    if len(data) > 20_000_000:
        raise DesignError("file", "no design is larger than 20 MB")
    try:
        plain = json.loads(data)
    except (ValueError, RecursionError) as e:
        raise DesignError(
            "file", f"this is not whole JSON ({plainly(e)})", "Choose the design.json of an export."
        ) from None
    design = read_design(plain)
    twin = None if form.again else desk().designs.twin(design)
    if twin is not None:
        return answer(TwinOut(id=twin[0], name=twin[1]), 409)
    return _answer(desk().designs.create(design, "read in"), 201)


@bp.get("/designs/<id>", responses={200: StateOut}, operation_id="getDesign")
def get(path: DesignPath) -> Response:
    return _answer(desk().designs.state(path.id))


@bp.get("/designs/<id>/glance", responses={200: Glance}, operation_id="getGlance")
def at_a_glance(path: DesignPath, query: GlanceQuery) -> Response:
    """What the shelf shows of a design: its picture from above, its size, what is open, as far as previews tell or with settled hours."""
    design = desk().designs.state(path.id).design
    return answer(glance(*(desk().look(design, False) if query.settled else desk().at_leisure(design))))


@bp.post("/designs/<id>/copy", responses={201: StateOut}, operation_id="copyDesign")
def copy(path: DesignPath, body: NewIn) -> Response:
    """A design as it stands as a new one with another name; its revisions stay with the first."""
    now = desk().designs.state(path.id).design
    return _answer(desk().designs.create(now.model_copy(update={"name": body.name}), f"copy of {now.name}"[:200]), 201)


@bp.get("/designs/<id>/version", responses={200: VersionOut}, operation_id="getVersion")
def version(path: DesignPath) -> Response:
    """Where the design stands: asked now and then by windows that look at it."""
    return answer(VersionOut(version=desk().designs.version(path.id)))


@bp.get("/designs/<id>/stored", responses=file_of("application/json"), operation_id="getStored")
def stored(path: DesignPath) -> Response:
    """The design's document just as it is stored, readable or not, in the bin or not."""
    name, document = desk().designs.stored(path.id)
    return as_file(document, f"{file_stem(name, set(), 'design')}-as-stored.json")


@bp.delete("/designs/<id>", responses={200: ListOut}, operation_id="discardDesign")
def discard(path: DesignPath) -> Response:
    """Put a design into the bin, readable or not. It can be restored for 30 days."""
    desk().designs.discard(path.id)
    return _listed()


@bp.post("/bin/<id>/restore", responses={200: ListOut}, operation_id="restoreDesign")
def restore(path: DesignPath) -> Response:
    """Take a design out of the bin again."""
    desk().designs.restore(path.id)
    return _listed()


@bp.delete("/bin/<id>", responses={200: ListOut}, operation_id="destroyDesign")
def destroy(path: DesignPath) -> Response:
    """Delete a design in the bin for good."""
    desk().designs.destroy(path.id)
    return _listed()


@bp.delete("/bin", responses={200: ListOut}, operation_id="emptyBin")
def empty_bin() -> Response:
    """Delete everything in the bin for good."""
    desk().designs.destroy()
    return _listed()


@bp.get("/designs/<id>/design.json", responses=file_of("application/json"), operation_id="getDesignJson")
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
    todo = body.edits[0] if len(body.edits) == 1 and not body.said else Together(edits=body.edits, said=body.said)

    def do() -> State:
        if all(isinstance(e, PutCut | PutCuts) for e in body.edits):
            desk().refuse_beside(path.id, body.base_version, body.edits)
        return desk().designs.edit(path.id, body.base_version, todo)

    return _guarded(do)


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


@bp.get("/designs/<id>/beside", responses={200: BesideOut}, operation_id="getBeside")
def beside(path: DesignPath, query: BesideQuery) -> Response:
    """A design beside another, or beside one of its own revisions."""
    other, designs = query.other or path.id, desk().designs
    design = designs.state(other).design if query.revision is None else designs.at(other, query.revision)
    there, found = desk().beside(designs.state(path.id), design)
    of = f", revision {query.revision}" if query.revision is not None else ""
    return answer(BesideOut(name=f"{design.name}{of}", there=there, differences=found))


@bp.get("/designs/<id>/revisions", responses={200: StepsOut}, operation_id="listRevisions")
def revisions(path: DesignPath, query: StepsQuery) -> Response:
    """Revisions, newest first, a page at a time: all of them can be reached."""
    found = desk().designs.revisions(path.id, PAGE + 1, query.before)
    return answer(StepsOut(steps=tuple(step_out(s) for s in found[:PAGE]), more=len(found) > PAGE))
