"""How stiff a panel with ribs is, and how far it gives way under a load in its middle."""

from __future__ import annotations

from math import inf, pi

import numpy as np

from rhombex.core.design import Process
from rhombex.core.process.plate_loads import centre_load
from rhombex.core.process.stiffness import Plate, bending, through
from rhombex.core.reference import val
from rhombex.core.workshop.printer import Printer

TERMS = 60  # odd terms of the series either way: what is left out is under 0.1 %
_ODD = np.arange(1.0, 2 * TERMS, 2)
FLANGE_SHARE = 0.25  # of the span is as wide a flange as bends along with a rib, at most (T-beams; common practice)


def along_ribs_nmm(
    plate: Plate,
    process: Process,
    printer: Printer,
    *,
    high_mm: float,
    thick_mm: float,
    pitch_mm: float,
    span_mm: float,
) -> float:
    """Bending stiffness per width along ribs, N mm: the plate's own, and what each rib adds to the flange that bends along with it (parallel axes,
    Steiner), shared by all of the pitch. A rib stands on a lying panel, so that its skins are perimeters."""
    modulus = val(f"materials.{process.filament}.modulus")
    own = bending(plate, process, printer)[0] * 1000
    flange = min(pitch_mm, FLANGE_SHARE * span_mm)
    area, middle, _ = through(plate, process, printer)
    wide = through(Plate(name="rib", thick_mm=thick_mm, pose="standing"), process, printer)[0]
    a, b = area * flange, wide * high_mm
    apart = plate.thick_mm - middle + high_mm / 2
    added = wide * high_mm**3 / 12 + a * b / (a + b) * apart**2
    return own + modulus * added / pitch_mm


def centre_bend_mm(load_n: float, a_mm: float, b_mm: float, along: float, twist: float, across: float) -> float:
    """How far the middle of a plate held at its edges gives way under a load there: stiffnesses per width along a, in twist, and along b, N mm.

    w = 4 P / (pi^4 a b) x sum over odd m, n of 1 / (Dx (m/a)^4 + 2 H (m/a)^2 (n/b)^2 + Dy (n/b)^4): Navier's series for an orthotropic plate
    (Timoshenko and Woinowsky-Krieger, after Huber).
    """
    x, y = (_ODD[:, None] / a_mm) ** 2, (_ODD / b_mm) ** 2
    total = float((1 / (along * x * x + 2 * twist * x * y + across * y * y)).sum())
    return 4 * load_n / (pi**4 * a_mm * b_mm) * total


def between_ribs_mm(load_n: float, pitch_mm: float, own: float) -> float:
    """How far the plate gives way between two ribs under a load there: a long strip held by them, w = alpha P c^2 / D. They hold it less freely than its
    edges would, so that this is the most."""
    return centre_load(inf) * load_n * pitch_mm**2 / own
