"""The print plan over HTTP: settled hours, what changes if, material, sides, walls against infill, layers, G-code."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal, cast

from flask import Response, current_app
from pydantic import BaseModel, BeforeValidator, Field

from rhombex.core.advice.materials import KINDS, Advice, advise
from rhombex.core.advice.orient import Resting, resting_faces
from rhombex.core.advice.what_if import WhatIf, what_if
from rhombex.core.analysis import Analysis, PrintedPiece
from rhombex.core.design import FilamentKind, Process
from rhombex.core.diary.plans import of_gcode, of_part
from rhombex.core.exchange.gcode import GcodeReport, read_gcode
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid
from rhombex.core.plain import DesignError
from rhombex.core.process import simulate
from rhombex.core.process.estimate import Estimate, summed
from rhombex.core.process.layout import lay_out, work_of
from rhombex.core.process.learn import Learned, learned
from rhombex.core.process.pace import Pace, pace_of
from rhombex.core.process.settings import KIND_NAMES, Kind, settings
from rhombex.core.process.stack import Stack
from rhombex.core.process.stiffness import Trade, plates, trade
from rhombex.core.progress import Progress
from rhombex.core.shop_edits import ShopEdit, apply_shop
from rhombex.core.trail import Frozen, Shown
from rhombex.core.words import Name
from rhombex.core.workshop import Printer, Workshop, checked
from rhombex.jobs.background import Background, Task
from rhombex.store.designs import NotThere
from rhombex.store.workshops import ShopState, WorkshopConflict
from rhombex.web.api import Asked, DesignPath, Upload, Version, answer, as_file, blueprint, desk, file_of
from rhombex.web.views import StateOut

bp = blueprint("plan", __name__)


class PartPath(DesignPath):
    part: str = Field(pattern=r"^[a-z0-9._-]{1,40}$")


class JobPath(BaseModel):
    job: str = Field(pattern=r"^[0-9a-f]{12}$")


class LayerPath(JobPath):
    layer: int = Field(ge=0, le=100_000)


class WhatIfOut(Frozen):
    """Other ways, being tried or tried."""

    job: str
    state: Literal["running", "done", "failed", "stopped"]
    share: Shown
    what: str
    said: str
    ways: tuple[WhatIf, ...]


class MaterialsOut(Frozen):
    advice: tuple[Advice, ...]


class RestingOut(Frozen):
    sides: tuple[Resting, ...]


class TradeOut(Frozen):
    trades: tuple[Trade, ...]


class HoursOut(Frozen):
    """An exact estimate on its way or done: seconds of every layer, and where each lies."""

    job: str
    state: Literal["running", "done", "failed", "stopped"]
    share: Shown
    said: str
    seconds: tuple[Shown, ...]
    z_mm: tuple[Shown, ...]
    estimate: Estimate | None


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


class GcodeForm(BaseModel):
    file: Upload
    printer: str = Field(default="", max_length=40)


class PrinterPath(BaseModel):
    key: str = Field(pattern=r"^[a-z0-9][a-z0-9._-]{0,39}$")


class RealHours(Asked):
    real_s: float = Field(ge=1, le=1e7)


class RealGcodeForm(RealHours):
    file: Upload
    what: Annotated[Name, BeforeValidator(str)]  # a form reads figures as numbers


class WorkshopOut(Frozen):
    """The workshop with the version to name when changing it, and what the diary of each printer teaches. `left_out`: stored
    entries that cannot be read, in words; `undoes`, `redoes`: what a step back or forward would change."""

    version: int
    workshop: Workshop
    filaments: tuple[FilamentKind, ...]
    paces: dict[str, Pace]
    learned: dict[str, Learned]
    left_out: tuple[str, ...]
    undoes: str
    redoes: str


class ShopEditIn(Asked):
    base_version: Version | None = None
    edits: Annotated[tuple[ShopEdit, ...], Field(min_length=1, max_length=20)]


class ShopVersionIn(Asked):
    base_version: Version


@dataclass(frozen=True)
class Laid:
    """A piece with every layer laid out: its stack, the rows of the layers, what they come to."""

    stack: Stack
    rows: simulate.Array
    estimate: Estimate


def background() -> Background:
    return cast(Background, current_app.extensions["background"])


def task_of(id: str, what: str) -> Task:
    """A task by its id. Raises NotThere where it is forgotten."""
    task = background().task(id)
    if task is None:
        raise NotThere(f"{what} is no longer at hand; ask for it again")
    return task


def _settled(path: DesignPath) -> Analysis:
    state = desk().designs.state(path.id)
    return desk().look(state.design, quick=False)[0]


@bp.get("/designs/<id>/settled", responses={200: StateOut}, operation_id="getSettled")
def settled(path: DesignPath) -> Response:
    """The design as it stands with settled hours: what follows when the hand stops."""
    return answer(desk().state(desk().designs.state(path.id), quick=False))


def _ways(task: Task) -> WhatIfOut:
    return WhatIfOut(
        job=task.id, state=task.state, share=task.share, what=task.what, said=task.said, ways=task.result or ()
    )


@bp.post("/designs/<id>/what-if", responses={200: WhatIfOut}, operation_id="startWhatIf")
def start_ways(path: DesignPath) -> Response:
    """Try other ways to print the design as it stands, in the background."""
    at = desk()
    state = at.designs.state(path.id)
    version, _ = at.workshops.read()
    key = ("what-if", state.design.model_dump_json(), version)
    task = background().start(key, lambda say: what_if(at.look(state.design)[0], progress=say))
    return answer(_ways(task))


@bp.get("/what-if/<job>", responses={200: WhatIfOut}, operation_id="getWhatIf")
def ways(path: JobPath) -> Response:
    return answer(_ways(task_of(path.job, "this comparison")))


@bp.post("/what-if/<job>/stop", responses={200: WhatIfOut}, operation_id="stopWhatIf")
def stop_ways(path: JobPath) -> Response:
    task = task_of(path.job, "this comparison")
    background().stop(path.job)
    return answer(_ways(task))


@bp.get("/designs/<id>/materials", responses={200: MaterialsOut}, operation_id="getMaterials")
def materials(path: DesignPath) -> Response:
    return answer(MaterialsOut(advice=advise(_settled(path))))


def _part(a: Analysis, part: str) -> None:
    if part not in a.recipes:
        raise NotThere(f"there is no part '{part}' in this design")


@bp.get("/designs/<id>/sides/<part>", responses={200: RestingOut}, operation_id="getSides")
def sides(path: PartPath) -> Response:
    a = _settled(path)
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


def _piece(a: Analysis, name: str) -> tuple[PrintedPiece, Solid, Process]:
    piece = next((p for p in a.pieces if p.name == name), None)
    if piece is None:
        raise NotThere(f"there is no piece '{name}' in this design")
    return piece, a.piece_recipes[piece.name], a.design.process_of(piece.part)


def _lay(recipe: Solid, process: Process, printer: Printer, say: Progress) -> Laid:
    stack = Stack(mesh_kernel.evaluate(recipe), settings(process, printer))
    rows = simulate.exact(stack, say)
    return Laid(stack, rows, summed(stack, rows, process, printer, "exact"))


def _hours(task: Task) -> HoursOut:
    seconds: tuple[float, ...] = ()
    z: tuple[float, ...] = ()
    laid = task.result if isinstance(task.result, Laid) else None
    if laid is not None:
        seconds = tuple(simulate.layer_seconds(laid.stack.s, laid.rows).sum(axis=1).tolist())
        z = tuple(laid.stack.bounds[1:].tolist())
    return HoursOut(
        job=task.id,
        state=task.state,
        share=task.share,
        said=task.said,
        seconds=seconds,
        z_mm=z,
        estimate=laid.estimate if laid else None,
    )


@bp.post("/designs/<id>/hours/<part>", responses={200: HoursOut}, operation_id="startHours")
def start_hours(path: PartPath) -> Response:
    """Lay out every layer of a piece (named as on the bed) in the background."""
    a, _ = desk().look(desk().designs.state(path.id).design)
    _, recipe, process = _piece(a, path.part)
    key = ("hours", recipe.digest, process.model_dump_json(), a.printer.model_dump_json())
    return answer(_hours(background().start(key, lambda say: _lay(recipe, process, a.printer, say))))


@bp.get("/hours/<job>", responses={200: HoursOut}, operation_id="getHours")
def hours(path: JobPath) -> Response:
    return answer(_hours(task_of(path.job, "this laying out")))


@bp.post("/hours/<job>/stop", responses={200: HoursOut}, operation_id="stopHours")
def stop_hours(path: JobPath) -> Response:
    task = task_of(path.job, "this laying out")
    background().stop(path.job)
    return answer(_hours(task))


@bp.get("/hours/<job>/layers/<layer>", responses={200: LayerOut}, operation_id="getLayer")
def layer(path: LayerPath) -> Response:
    """The paths of one layer, with the seconds of each."""
    laid = task_of(path.job, "this laying out").result
    if not isinstance(laid, Laid) or path.layer >= laid.stack.n:
        raise NotThere("there is no such layer")
    j = path.layer
    paths = lay_out(laid.stack, j)
    _, by_path = work_of(paths, laid.stack.s, j == 0)
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
    seconds = simulate.layer_seconds(laid.stack.s, laid.rows)[j]
    b = laid.stack.mesh.bounding_box()
    return answer(
        LayerOut(
            layer=j,
            z_mm=float(laid.stack.bounds[j + 1]),
            time_s=float(seconds.sum()),
            by_kind={KIND_NAMES[k]: float(seconds[k]) for k in Kind if seconds[k] > 0.05},
            paths=tuple(out),
            lo_mm=(b[0], b[1]),
            hi_mm=(b[3], b[4]),
        )
    )


@bp.post("/gcode", responses={200: GcodeReport}, operation_id="readGcode")
def gcode(form: GcodeForm) -> Response:
    """Read G-code on a printer. Nothing is kept."""
    _, workshop = desk().workshops.read()
    printer = workshop.printer(form.printer) or workshop.printers[0]
    return answer(read_gcode(form.file.stream, printer))  # type: ignore[arg-type]


@bp.post("/printers/<key>/diary", responses={200: WorkshopOut}, operation_id="noteGcode")
def note_gcode(path: PrinterPath, form: RealGcodeForm) -> Response:
    """Note how long a file of G-code really took: pace and limits are learned from it. The file is not kept."""
    _, now = desk().workshops.read()
    printer = now.printer(path.key)
    if printer is None:
        raise NotThere(f"there is no printer '{path.key}' in the workshop")
    entry = checked(of_gcode(form.what, form.file.stream, printer, form.real_s))  # type: ignore[arg-type]
    return answer(_workshop_out(desk().workshops.note(path.key, entry)))


@bp.post("/designs/<id>/diary/<part>", responses={200: WorkshopOut}, operation_id="noteHours")
def note_hours(path: PartPath, body: RealHours) -> Response:
    """Note how long a piece (named as on the bed) really took on the design's printer."""
    a, _ = desk().look(desk().designs.state(path.id).design)
    piece, recipe, process = _piece(a, path.part)
    what = f"{a.design.name}, {piece.name}"[:60]
    entry = checked(of_part(what, mesh_kernel.evaluate(recipe), process, a.printer, body.real_s))
    return answer(_workshop_out(desk().workshops.note(a.printer.key, entry)))


def _workshop_out(s: ShopState) -> WorkshopOut:
    return WorkshopOut(
        version=s.version,
        workshop=s.workshop,
        filaments=KINDS,
        paces={p.key: pace_of(p) for p in s.workshop.printers},
        learned={p.key: learned(p) for p in s.workshop.printers},
        left_out=s.left_out,
        undoes=s.undoes,
        redoes=s.redoes,
    )


def _guarded(do: Callable[[], ShopState]) -> Response:
    try:
        return answer(_workshop_out(do()))
    except WorkshopConflict as e:
        return answer(_workshop_out(e.now), 409)


def _spared(edits: tuple[ShopEdit, ...]) -> None:
    """Raises DesignError where edits would take a printer away that a design is printed on."""
    _, now = desk().workshops.read()
    after = now
    for e in edits:
        after = apply_shop(after, e)
    in_use = desk().designs.printed_on()
    for p in now.printers:
        if after.printer(p.key) is None and p.key in in_use:
            names = ", ".join(f"“{n}”" for n in in_use[p.key][:3])
            raise DesignError(
                "workshop.printers",
                f"{p.name} cannot go: {names} {'is' if len(in_use[p.key]) == 1 else 'are'} printed on it",
                "Give these designs another printer first.",
            )


SHOP: dict[Any, Any] = {200: WorkshopOut, 409: WorkshopOut}


@bp.get("/workshop", responses={200: WorkshopOut}, operation_id="getWorkshop")
def workshop() -> Response:
    return answer(_workshop_out(desk().workshops.state()))


@bp.post("/workshop/edits", responses=SHOP, operation_id="editWorkshop")
def edit_workshop(body: ShopEditIn) -> Response:
    """Do edits to the workshop as one step. With a version named, 409 where another window was first: nothing is overwritten."""
    _spared(body.edits)
    return _guarded(lambda: desk().workshops.edit(body.edits, body.base_version))


@bp.post("/workshop/undo", responses=SHOP, operation_id="undoWorkshop")
def undo_workshop(body: ShopVersionIn) -> Response:
    return _guarded(lambda: desk().workshops.undo(body.base_version))


@bp.post("/workshop/redo", responses=SHOP, operation_id="redoWorkshop")
def redo_workshop(body: ShopVersionIn) -> Response:
    return _guarded(lambda: desk().workshops.redo(body.base_version))


@bp.get("/workshop/workshop.json", responses=file_of("application/json"), operation_id="getWorkshopJson")
def workshop_json() -> Response:
    """The workshop as a file, for the command line or another Rhombex."""
    return as_file(desk().workshops.read()[1].model_dump_json(indent=1) + "\n", "workshop.json")


@bp.get("/workshop/stored", responses=file_of("application/json"), operation_id="getStoredWorkshop")
def stored_workshop() -> Response:
    """The workshop's document just as it is stored, readable or not."""
    return as_file(desk().workshops.stored(), "workshop-as-stored.json")
