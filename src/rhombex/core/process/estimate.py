"""Grams, metres, hours and money of a part, at three levels (see `simulate`)."""

from __future__ import annotations

from math import pi
from typing import Literal

import numpy as np
from manifold3d import Manifold

from rhombex.core.design import Process
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid
from rhombex.core.memo import Memo
from rhombex.core.process import simulate
from rhombex.core.process.pace import Pace, pace_of
from rhombex.core.process.settings import KIND_NAMES, Kind, settings
from rhombex.core.process.slices import Slices
from rhombex.core.reference import ref, val
from rhombex.core.trail import Frozen, Shown, Trail, given, looked_up
from rhombex.core.workshop.printer import Printer

Level = Literal["preview", "settled", "exact"]
LEVELS = {"preview": simulate.preview, "settled": simulate.settled, "exact": simulate.exact}


class KindShare(Frozen):
    """What one kind of path takes of a part."""

    kind: str
    time_s: Shown
    mass_g: Shown
    length_m: Shown


class Estimate(Frozen):
    """What a part takes. Time comes between `time_low_s` and `time_high_s` in nine prints of ten; `mass_sure` is the share
    by which grams may differ. Purge is for `changes` of filament; support is in the mass."""

    level: Level
    layers: int
    mass_g: Trail
    filament_m: float
    time_s: Trail
    time_low_s: Shown
    time_high_s: Shown
    money: float
    volume_mm3: float
    deposited_mm3: float
    support_g: Shown
    purge_g: Shown
    changes: int
    by_kind: tuple[KindShare, ...]
    perimeter_share: float
    mass_sure: float


estimates: Memo[tuple[str, str, Level], Estimate] = Memo(800)


def _signature(process: Process, printer: Printer) -> str:
    # a long diary by its hash: as text it would be most of what is remembered
    machine = printer.model_dump_json(exclude={"key", "name", "bed_mm", "health", "paced"})
    return f"{process.model_dump_json()}|{machine}|{hash(printer.paced)}"


def known(part: Solid, process: Process, printer: Printer, level: Level) -> Estimate | None:
    """An estimate if it was made before."""
    return estimates.get((part.digest, _signature(process, printer), level))


def estimate(part: Solid, process: Process, printer: Printer, level: Level = "settled") -> Estimate:
    """Estimate a part that lies as it is printed. Remembered by content hash of part, process and printer."""
    key = (part.digest, _signature(process, printer), level)
    return estimates.make(key, lambda: of_mesh(mesh_kernel.evaluate(part), process, printer, level))


def best_known(part: Solid, process: Process, printer: Printer, whole: Solid | None = None) -> Estimate:
    """The settled estimate if there is one already, else the preview: what is told while a hand moves. `whole`: the part that a piece is of, lying
    alike: a cut that is dragged changes its pieces and not the part, so that the preview of this one serves for all of them."""
    found = known(part, process, printer, "settled")
    if found is not None or whole is None:
        return found or estimate(part, process, printer, "preview")
    signature = _signature(process, printer)
    return _of_pieces.make((part.digest, whole.digest, signature), lambda: _of_piece(part, whole, process, printer))


_of_pieces: Memo[tuple[str, str, str], Estimate] = Memo(400)
_corrected: Memo[tuple[str, str], simulate.Corrected] = Memo(60)


def _of_piece(part: Solid, whole: Solid, process: Process, printer: Printer) -> Estimate:
    s = settings(process, printer)
    key = (whole.digest, _signature(process, printer))
    by = _corrected.make(key, lambda: simulate.corrected(Slices(mesh_kernel.evaluate(whole), s)))
    slices = Slices(mesh_kernel.evaluate(part), s)
    rows = simulate.preview_of_piece(slices, by)
    if rows is None:
        return estimate(part, process, printer, "preview")
    return summed(slices, rows, process, printer, "preview")


def of_mesh(mesh: Manifold, process: Process, printer: Printer, level: Level) -> Estimate:
    """Estimate a watertight mesh; its lowest point is put on the bed."""
    s = settings(process, printer)
    slices = Slices(mesh, s)
    return summed(slices, LEVELS[level](slices), process, printer, level)


def summed(slices: Slices, rows: simulate.Array, process: Process, printer: Printer, level: Level) -> Estimate:
    """Add the layers up to an estimate."""
    s = slices.s
    seconds = simulate.layer_seconds(slices.s, rows).sum(axis=0)
    mm3 = simulate.layer_mm3(slices, rows).sum(axis=0)
    mm = rows[:, simulate.K : 2 * simulate.K].sum(axis=0)
    density = ref(f"materials.{process.filament}.density")
    purge_mm3 = slices.changes * s.purge_mm3
    deposited = float(mm3.sum())
    mass = (deposited + purge_mm3) / 1000 * density.value
    d = val("materials.filament.diameter")
    changes_s = slices.changes * s.change_s
    model_s = float(seconds.sum()) + s.heat_up_s + changes_s
    pace = pace_of(printer)
    method = val(f"printing.estimate.{level}")
    shares = tuple(
        KindShare(
            kind=KIND_NAMES[k],
            time_s=seconds[k] * pace.factor,
            mass_g=mm3[k] / 1000 * density.value,
            length_m=mm[k] / 1000,
        )
        for k in Kind
        if seconds[k] > 0.5
    ) + tuple(
        KindShare(kind=name, time_s=t * pace.factor, mass_g=g, length_m=0.0)
        for name, t, g in (
            ("changes of filament", changes_s, purge_mm3 / 1000 * density.value),
            ("heating up", s.heat_up_s, 0.0),
        )
        if t > 0
    )
    return Estimate(
        level=level,
        layers=slices.n,
        mass_g=_mass_trail(mass, mm3, purge_mm3, process, slices),
        filament_m=(deposited + purge_mm3) / (pi * d * d / 4) / 1000,
        time_s=_time_trail(model_s, seconds, changes_s, pace, slices, printer, level),
        time_low_s=model_s * pace.low * (1 - method),
        time_high_s=model_s * pace.high * (1 + method),
        money=mass / 1000 * val(f"materials.{process.filament}.price"),
        volume_mm3=float(slices.mesh.volume()),
        deposited_mm3=deposited,
        support_g=float(mm3[Kind.SUPPORT]) / 1000 * density.value,
        purge_g=purge_mm3 / 1000 * density.value,
        changes=slices.changes,
        by_kind=shares,
        perimeter_share=float(mm3[Kind.OUTER] + mm3[Kind.INNER]) / max(deposited, 1e-9),
        mass_sure=val("printing.estimate.mass") + (method if level == "preview" else 0.0),
    )


def _mass_trail(mass: float, mm3: simulate.Array, purge_mm3: float, process: Process, slices: Slices) -> Trail:
    s = slices.s
    return Trail(
        value=mass,
        unit="g",
        formula="density x bead area x path length, summed over kinds, + purge",
        inputs=(
            looked_up("density", ref(f"materials.{process.filament}.density")),
            given("bead area", s.bead_mm2(False), "mm2", "layer height x line spacing"),
            *(given(KIND_NAMES[k], mm3[k] / 1000, "cm3", "paths of the layers") for k in Kind if mm3[k] > 0.5),
            *((given("purge", purge_mm3 / 1000, "cm3", f"{slices.changes} changes"),) if purge_mm3 else ()),
        ),
        source="bead area h (w - h (1 - pi/4)) x path length",
    )


def _time_trail(
    model_s: float,
    seconds: simulate.Array,
    changes_s: float,
    pace: Pace,
    slices: Slices,
    printer: Printer,
    level: Level,
) -> Trail:
    s = slices.s
    taught = f"{pace.prints} prints in the diary" if pace.prints else "no print in the diary yet"
    return Trail(
        value=model_s * pace.factor,
        unit="s",
        formula="(paths + travel + cooling + changes + heating up) x pace of the printer",
        inputs=(
            given("layers", slices.n, "", f"{level}: {ref(f'printing.estimate.{level}').source}"),
            *(given(KIND_NAMES[k], seconds[k], "s", "look-ahead kinematics") for k in Kind if seconds[k] > 0.5),
            *((given("changes", changes_s, "s", f"{slices.changes} changes"),) if changes_s else ()),
            given("heating up", s.heat_up_s, "s", printer.name),
            given("acceleration", s.accel[0], "mm/s2", printer.name),
            given("flow cap", s.flow, "mm3/s", "filament and nozzle"),
            given("pace", pace.factor, "", taught),
        ),
        source="constant-acceleration kinematics with look-ahead; speeds from the process",
    )


def heaviest_layers(slices: Slices, rows: simulate.Array) -> simulate.Array:
    """Seconds of each layer, all kinds together."""
    out: simulate.Array = simulate.layer_seconds(slices.s, rows).sum(axis=1)
    return np.asarray(out)
