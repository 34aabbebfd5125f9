"""What each kind of job does. What it is asked with and what it returns can be pickled; documents come as JSON."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any, Literal

from rhombex.core.advice.cut_order import CutOrder
from rhombex.core.advice.cut_order import cut_order as order_of
from rhombex.core.advice.what_if import WhatIf, what_if
from rhombex.core.analysis import Analysis, analyse
from rhombex.core.choices import Way, choices
from rhombex.core.design import Process, read_design
from rhombex.core.exchange.component_file import component_step as solids_of
from rhombex.core.exchange.formats import Format
from rhombex.core.exchange.package import package
from rhombex.core.exchange.recognise import AsKind, recognise
from rhombex.core.faults import plainly
from rhombex.core.geometry import mesh_kernel
from rhombex.core.looked import look
from rhombex.core.parts.component import Component
from rhombex.core.parts.recognised import Confirmed, Recognised, Unit, confirmed_by_default
from rhombex.core.plain import DesignError
from rhombex.core.process import simulate
from rhombex.core.process.estimate import Estimate, summed
from rhombex.core.process.settings import KIND_NAMES, Kind, settings
from rhombex.core.process.slices import Slices
from rhombex.core.progress import Progress, silent
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.workshop import read_workshop
from rhombex.jobs.apart import apart, seconds_for
from rhombex.jobs.beside import Beside, two_at_once
from rhombex.jobs.jobs import Say, Work
from rhombex.store.shapes import Shapes
from rhombex.store.trouble import explain


class Made(Frozen):
    """Export files in one ZIP."""

    kind: Literal["export"] = "export"
    name: str
    file: str


class Ways(Frozen):
    """Other ways to print a design."""

    kind: Literal["what-if"] = "what-if"
    ways: tuple[WhatIf, ...]


class Choices(Frozen):
    """The ways to make a case of an arrangement."""

    kind: Literal["constructions"] = "constructions"
    ways: tuple[Way, ...]


class Order(Frozen):
    """The order in which the cuts of all parts are planned."""

    kind: Literal["cut-order"] = "cut-order"
    order: CutOrder


class Layers(Frozen):
    """A piece with every layer laid out: where each ends, its seconds, in all and by kind of line, and what they come to."""

    kind: Literal["layers"] = "layers"
    z_mm: tuple[Shown, ...]
    seconds: tuple[Shown, ...]
    by_kind: dict[str, tuple[Shown, ...]]
    estimate: Estimate


class Read(Frozen):
    """A file that was read: what was recognised in it, and what Rhombex would make of it."""

    kind: Literal["read"] = "read"
    found: Recognised
    proposal: Confirmed


def zipped(files: dict[str, bytes]) -> bytes:
    """One ZIP with fixed times, so that equal parts give equal bytes."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as z:
        for name, data in files.items():
            z.writestr(zipfile.ZipInfo(name, (2020, 1, 1, 0, 0, 0)), data, zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _analysis(design: str, workshop: str) -> Analysis:
    return look(read_design(json.loads(design)), read_workshop(json.loads(workshop)), "settled")[0]


def _write(
    design: str,
    workshop: str,
    formats: tuple[Format, ...],
    components: bool,
    target: str,
    progress: Progress = silent,
) -> None:
    part = Path(target + ".part")
    try:
        progress(0.01, "making the parts of the case")
        d, shop = read_design(json.loads(design)), read_workshop(json.loads(workshop))
        analyse(d, shop, "preview")  # its shapes are remembered
        progress(0.04, "adding up hours and grams")
        a = analyse(d, shop)
        part.write_bytes(
            zipped(package(a, formats, lambda share, what: progress(0.08 + 0.92 * share, what), components))
        )
        part.replace(target)
    except OSError as e:
        message, do = explain(e)
        raise DesignError("export", message, do) from e
    except Exception as e:  # whatever it was, the user is told
        raise DesignError("export", plainly(e), "The design is kept.") from e


def export(
    say: Say, *, name: str, design: str, workshop: str, formats: tuple[Format, ...], components: bool, folder: str
) -> Made:
    """The export files of a design as one ZIP in the folder; half-written nothing stays."""
    target = Path(folder) / f"{say.job.id}.zip"
    try:
        apart(_write, design, workshop, formats, components, str(target), seconds=None, most_bytes=None, progress=say)
    finally:
        Path(f"{target}.part").unlink(missing_ok=True)
    return Made(name=name, file=target.name)


def ways(say: Say, *, design: str, workshop: str) -> Ways:
    """Other ways to print a design; those found so far are the best so far."""
    found = what_if(_analysis(design, workshop), progress=say, found=lambda some: say.best(Ways(ways=some)))
    return Ways(ways=found)


def constructions(say: Say, *, design: str, workshop: str) -> Choices:
    """The ways to make the case; those known so far are the best so far."""
    d, shop = read_design(json.loads(design)), read_workshop(json.loads(workshop))

    def best(some: tuple[Way, ...]) -> None:
        say.best(Choices(ways=some))

    return Choices(ways=choices(d, shop, say, best, Beside if two_at_once() else None))


def cut_order(say: Say, *, design: str, workshop: str) -> Order:
    """The cheapest order in which the cuts of all parts are planned; the cheapest so far is the best so far."""
    say(0.0, "cutting the parts as they come")
    d, shop = read_design(json.loads(design)), read_workshop(json.loads(workshop))
    return Order(order=order_of(analyse(d, shop, "best known"), say, lambda o: say.best(Order(order=o))))


def _piece(a: Analysis, name: str) -> tuple[Slices, Process]:
    """A piece (named as on the bed) cut into the layers of its own process. Raises DesignError where there is none."""
    made = next((p for p in a.pieces if p.name == name), None)
    if made is None:
        raise DesignError("piece", f"there is no piece '{name}' in this design")
    process = a.design.process_of(made.printed_as)
    return Slices(mesh_kernel.evaluate(a.piece_recipes[name]), settings(process, a.printer)), process


def layers(say: Say, *, design: str, workshop: str, piece: str) -> Layers:
    """Every layer of a piece laid out."""
    a = _analysis(design, workshop)
    slices, process = _piece(a, piece)
    rows = simulate.exact(slices, say)
    seconds = simulate.layer_seconds(slices.s, rows)
    return Layers(
        z_mm=tuple(slices.bounds[1:].tolist()),
        seconds=tuple(seconds.sum(axis=1).tolist()),
        by_kind={KIND_NAMES[k]: tuple(seconds[:, k].tolist()) for k in Kind if seconds[:, k].max() > 0.05},
        estimate=summed(slices, rows, process, a.printer, "exact"),
    )


def slices_of_asked(asked: Mapping[str, str]) -> Slices:
    """The layers of the piece that `layers` was asked for, to look at one of them."""
    return _piece(_analysis(asked["design"], asked["workshop"]), asked["piece"])[0]


def read(
    say: Say,
    *,
    file: str,
    name: str,
    unit: Unit | None,
    library: str,
    as_kind: AsKind | None,
    seconds: float | None,
    shapes: str,
) -> Read:
    """What a stranger's file holds; its body goes to the shapes. The file is deleted once it is read."""
    files = [Path(f) for f in (file, library) if f]
    try:
        data = [f.read_bytes() for f in files]
        beside = data[1] if library else None
        found, shape = apart(
            recognise,
            data[0],
            name,
            unit,
            beside,
            (),
            as_kind,
            seconds=seconds or seconds_for(len(data[0])),
            progress=say,
        )
    finally:
        for f in files:
            f.unlink(missing_ok=True)
    if shape is not None and found.shape:
        Shapes(Path(shapes), sweep=False).put(found.shape, shape)
    return Read(found=found, proposal=confirmed_by_default(found))


def component_step(say: Say, *, component: str) -> bytes:
    """A component's solids as STEP."""
    made: bytes = apart(solids_of, Component.model_validate_json(component), seconds=30.0, progress=say)
    return made


KINDS: dict[str, Work] = {
    "export": export,
    "what-if": ways,
    "constructions": constructions,
    "cut-order": cut_order,
    "layers": layers,
    "read": read,
    "component-step": component_step,
}
Result = Made | Ways | Choices | Order | Layers | Read


def result_of(value: Any) -> Result | None:
    """What a job made, where it is something to look at."""
    return value if isinstance(value, Made | Ways | Choices | Order | Layers | Read) else None
