"""Entries of a printer's diary: a part of the plan or a file of G-code, planned with the curves that its hours are held to."""

from __future__ import annotations

from io import BytesIO
from typing import BinaryIO

import numpy as np
from manifold3d import Manifold

from rhombex.core.design import Process
from rhombex.core.exchange.gcode import read_gcode
from rhombex.core.plain import DesignError
from rhombex.core.process import simulate
from rhombex.core.process.layout import lay_out, work_of
from rhombex.core.process.limits import curves
from rhombex.core.process.settings import settings
from rhombex.core.process.slices import Slices
from rhombex.core.workshop.paced import PacedPrint
from rhombex.core.workshop.printer import Printer

LAYERS_DRIVEN = 24  # each stands for an equal part of the hours
BYTES_DRIVEN = 8 << 20  # of a file, its beginning: prints go on as they began


def of_part(what: str, part: Manifold, process: Process, printer: Printer, real_s: float) -> PacedPrint:
    """The entry of a watertight part as it lies: its settled plan without the pace of the printer.

    Some layers are laid out, which no limit changes, and driven under each limit; their ratio to the plan stands for all.
    """
    slices = Slices(part, settings(process, printer))
    seconds = simulate.layer_seconds(slices.s, simulate.settled(slices)).sum(axis=1)
    done = np.cumsum(seconds)
    whole = float(done[-1])
    at = (np.arange(LAYERS_DRIVEN) + 0.5) / LAYERS_DRIVEN * whole
    picked, times = np.unique(np.searchsorted(done, at), return_counts=True)
    laid = [(int(j), lay_out(slices, int(j))) for j in picked]

    def driven(p: Printer) -> np.ndarray:
        s = settings(process, p)
        rows = np.array([simulate.row_of(work_of(paths, s, j == 0)[0]) for j, paths in laid])
        return np.asarray(simulate.layer_seconds(s, rows).sum(axis=1))

    fixed = slices.s.heat_up_s + slices.changes * slices.s.change_s
    usual = driven(printer)
    found = curves(lambda p: fixed + whole * float(np.average(driven(p) / usual, weights=times)), printer)
    return PacedPrint(what=what, planned_s=fixed + whole, curves=found, real_s=real_s)


def of_gcode(what: str, file: BinaryIO, printer: Printer, real_s: float) -> PacedPrint:
    """The entry of a file of G-code. Limits that the file sets itself bend nothing. Raises GcodeError, and
    DesignError where the file takes no time."""
    whole = read_gcode(file, printer)
    if whole.time_s <= 0:
        raise DesignError(
            "file", "nothing in it takes time, so its hours teach nothing", "Choose the file that was printed."
        )
    file.seek(0)
    start = file.read(BYTES_DRIVEN)
    if len(start) == BYTES_DRIVEN:
        start = start[: start.rfind(b"\n") + 1]  # the last line may be cut

    def driven(p: Printer) -> float:
        return read_gcode(BytesIO(start), p).motion_s

    usual = driven(printer)
    found = None
    if usual > 0:
        found = curves(lambda p: whole.time_s + whole.motion_s * (driven(p) / usual - 1), printer)
    return PacedPrint(what=what, planned_s=whole.time_s, curves=found, real_s=real_s)
