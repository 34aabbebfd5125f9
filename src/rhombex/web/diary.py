"""G-code and real hours over HTTP: what a file takes, and what a printer's diary learns from prints that were made."""

from __future__ import annotations

from typing import Annotated

from flask import Response
from pydantic import BaseModel, BeforeValidator, Field

from rhombex.core.diary.plans import of_gcode, of_part
from rhombex.core.exchange.gcode import GcodeReport, read_gcode
from rhombex.core.geometry import mesh_kernel
from rhombex.core.words import Name
from rhombex.core.workshop.paced import checked
from rhombex.store.designs import NotThere
from rhombex.web.api import Asked, Upload, answer, blueprint, desk
from rhombex.web.plan import PartPath
from rhombex.web.workshop import WorkshopOut, workshop_out

bp = blueprint("diary", __name__)


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
    return answer(workshop_out(desk().workshops.note(path.key, entry)))


@bp.post("/designs/<id>/diary/<part>", responses={200: WorkshopOut}, operation_id="noteHours")
def note_hours(path: PartPath, body: RealHours) -> Response:
    """Note how long a piece (named as on the bed) really took on the design's printer."""
    a, _ = desk().look(desk().designs.state(path.id).design)
    piece = next((p for p in a.pieces if p.name == path.part), None)
    if piece is None:
        raise NotThere(f"there is no piece '{path.part}' in this design")
    what = f"{a.design.name}, {piece.name}"[:60]
    mesh = mesh_kernel.evaluate(a.piece_recipes[piece.name])
    entry = checked(of_part(what, mesh, a.design.process_of(piece.printed_as), a.printer, body.real_s))
    return answer(workshop_out(desk().workshops.note(a.printer.key, entry)))
