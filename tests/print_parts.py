"""Made-up parts and profiles on which the levels of the estimate are compared."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from manifold3d import CrossSection as CS
from manifold3d import Manifold as M
from manifold3d import OpType

from rhombex.core.design import Process
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP


def vented(nx: int, ny: int, r: float, w: float, d: float, t: float) -> M:
    """A panel with a grid of hexagonal vents."""
    holes = [
        CS.circle(r, 6).translate((10 + i * (w - 20) / (nx - 1), 10 + j * (d - 20) / (ny - 1)))
        for i in range(nx)
        for j in range(ny)
    ]
    return (CS.square((w, d)) - CS.batch_boolean(holes, OpType.Add)).extrude(t)


def by_chance(seed: int) -> M:
    """A block with random boxes, balls and cones added and taken away."""
    r = np.random.default_rng(seed)
    m = M.cube((60, 50, 20))
    for _ in range(7):
        kind, at = r.integers(3), tuple(r.uniform((0, 0, 0), (50, 40, 20)))
        made = [
            lambda: M.cube(tuple(r.uniform(8, 30, 3))),
            lambda: M.sphere(float(r.uniform(6, 16)), 48),
            lambda: M.cylinder(float(r.uniform(8, 30)), float(r.uniform(4, 12)), float(r.uniform(2, 12)), 40),
        ][kind]()
        m = m + made.translate(at) if r.random() < 0.6 else m - made.translate(at)
    m = m ^ M.cube((200, 200, 200)).translate((-50, -50, 0))
    return max(m.decompose(), key=lambda q: q.volume())


def _row(base: M, step: float, nx: int, ny: int) -> M:
    return M.batch_boolean([base.translate((step * i, step * j, 0)) for i in range(nx) for j in range(ny)], OpType.Add)


PARTS: dict[str, Callable[[], M]] = {
    "panel, 400 vents": lambda: vented(20, 20, 2.5, 200, 200, 3),
    "panel, 120 vents": lambda: vented(12, 10, 4, 180, 150, 4),
    "plain panel": lambda: M.cube((220, 160, 3)),
    "tall beam": lambda: M.cube((14, 14, 180)),
    "corner beam": lambda: (CS.square((30, 30)) - CS.square((26, 26)).translate((4, 4))).extrude(160),
    "tiny boss": lambda: M.cylinder(8, 4, 4, 48) - M.cylinder(10, 1.6, 1.6, 32).translate((0, 0, -1)),
    "plate of bosses": lambda: _row(M.cylinder(9, 4, 4, 40), 14, 5, 4) + M.cube((64, 50, 2)).translate((-4, -4, 0)),
    "dome": lambda: M.sphere(40, 96).trim_by_plane((0, 0, 1), 0),
    "hollow dome": lambda: M.sphere(40, 96).trim_by_plane((0, 0, 1), 0) - M.sphere(37, 96),
    "cone": lambda: M.cylinder(50, 30, 4, 90),
    "big shell": lambda: M.cube((180, 140, 80)) - M.cube((174, 134, 80)).translate((3, 3, 3)),
    "tray with posts": lambda: (
        M.cube((150, 100, 30))
        - M.cube((145, 95, 30)).translate((2.5, 2.5, 2.5))
        + _row(M.cylinder(12, 3.5, 3.5, 32), 35, 4, 2).translate((20, 20, 0))
    ),
    "twisted beam": lambda: CS.square((30, 30), True).extrude(60, 60, 90.0, (0.6, 0.6)),
    "ball": lambda: M.sphere(25, 96),
    "by chance 1": lambda: by_chance(1),
    "by chance 2": lambda: by_chance(2),
    "by chance 3": lambda: by_chance(3),
    "by chance 4": lambda: by_chance(4),
}

BENCH, WIDE = ARCHIVE_WORKSHOP.printers[1:3]
PROFILES: dict[str, tuple[Process, Printer]] = {
    "everyday": (Process(), BENCH),
    "coarse": (Process(layer_mm=0.4, infill=0.1, infill_kind="grid"), WIDE),
    "infill only": (
        Process(layer_mm=0.3, top_layers=0, bottom_layers=0, perimeters=2, infill_kind="honeycomb"),
        WIDE,
    ),
    "fine, strong": (
        Process(layer_mm=0.12, perimeters=5, infill=0.4, infill_kind="triangles", filament="PETG", supports=True),
        BENCH,
    ),
}
