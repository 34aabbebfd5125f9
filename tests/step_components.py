"""Made-up models of single components and of small boards, as STEP: what a reader must not take for one another."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt


def box(x0: float, y0: float, z0: float, x1: float, y1: float, z1: float) -> Any:
    return BRepPrimAPI_MakeBox(gp_Pnt(x0, y0, z0), gp_Pnt(x1, y1, z1)).Shape()


def rod(x: float, y: float, z0: float, z1: float, d: float) -> Any:
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, y, z0), gp_Dir(0, 0, 1)), d / 2, z1 - z0).Shape()


def cut(a: Any, *tools: Any) -> Any:
    for t in tools:
        a = BRepAlgoAPI_Cut(a, t).Shape()
    return a


def fused(*shapes: Any) -> Any:
    a = shapes[0]
    for b in shapes[1:]:
        a = BRepAlgoAPI_Fuse(a, b).Shape()
    return a


def tube(w: float, d: float, h: float, wall: float) -> Any:
    """A sheet bent to a box, open in front and at the back."""
    return cut(box(0, 0, 0, w, d, h), box(wall, -1, wall, w - wall, d + 1, h - wall))


def _pins(n: int, rows: int, pitch: float = 2.54) -> list[Any]:
    return [
        box(k * pitch + 0.95, r * pitch + 0.95, -3, k * pitch + 1.6, r * pitch + 1.6, 8.5)
        for k in range(n)
        for r in range(rows)
    ]


def _strip(n: int, rows: int) -> list[Any]:
    pins = _pins(n, rows)
    return [cut(box(0, 0, 0, n * 2.54, rows * 2.54, 2.5), *pins), *pins]


def board(w: float, d: float, t: float, holes: int, d_mm: float = 3.0) -> Any:
    at = [(3.5, 3.5), (w - 3.5, 3.5), (3.5, d - 3.5), (w - 3.5, d - 3.5)][:holes]
    return cut(box(0, 0, 0, w, d, t), *(rod(x, y, -1, t + 1, d_mm) for x, y in at))


BODIES: dict[str, Callable[[], list[Any]]] = {
    "usb-c receptacle": lambda: [
        tube(8.94, 7.35, 3.26, 0.3),
        box(1.1, 0.6, 1.28, 7.84, 6.5, 1.98),
        *(box(1.4 + 0.5 * k, 6.5, 0.1, 1.6 + 0.5 * k, 8.2, 0.25) for k in range(12)),
    ],
    "usb-a receptacle": lambda: [
        tube(13.1, 14, 5.7, 0.3),
        box(1, 2, 2.2, 12, 12, 4.0),
        *(rod(2 + 3 * k, 13, -3, 0, 0.8) for k in range(4)),
    ],
    "hdmi receptacle": lambda: [tube(15, 11.5, 5.6, 0.4), box(1.5, 1, 2.3, 13.5, 10, 3.3), box(0, 10, 0, 15, 12, 5.6)],
    "network jack": lambda: [
        cut(box(0, 0, 0, 16.5, 21, 13.5), box(1.2, -1, 1.2, 15.3, 15, 12)),
        *(rod(3 + 1.27 * k, 18, -3, 0, 0.5) for k in range(8)),
    ],
    "network jack with magnetics": lambda: [
        cut(box(0, 0, 0, 16.5, 33, 13.5), box(1.2, -1, 1.2, 15.3, 15, 12), box(1.2, 17, -1, 15.3, 31.8, 12)),
        box(2, 18, 2, 14, 31, 3.0),
    ],
    "two-high usb-a": lambda: [
        cut(box(0, 0, 0, 13.1, 17, 16), box(0.6, -1, 0.6, 12.5, 14, 7), box(0.6, -1, 8.6, 12.5, 14, 15.4))
    ],
    "audio jack": lambda: [cut(box(0, 0, 0, 7, 12, 6), rod(3.5, 3, 1, 5, 3)), rod(3.5, -2, 0.5, 5.5, 2)],
    "barrel jack": lambda: [cut(box(0, 0, 0, 9, 14.5, 11), box(1.2, -1, 2, 7.8, 9, 9)), rod(4.5, 3, 3, 8, 2.1)],
    "header 1 x 3": lambda: _strip(3, 1),
    "header 2 x 5": lambda: _strip(5, 2),
    "header 2 x 20": lambda: _strip(20, 2),
    "socket strip 1 x 8": lambda: [
        cut(box(0, 0, 0, 20.3, 2.5, 8.5), *(box(2.54 * k + 0.8, 0.8, 2, 2.54 * k + 1.7, 1.7, 9) for k in range(8)))
    ],
    "transistor with a tab": lambda: [
        cut(box(0, 0, 0, 10.2, 15.6, 1.3), rod(5.1, 12.8, -1, 2, 3.6)),
        box(0, 0, 1.3, 10.2, 9.2, 4.5),
        *(box(1.8 + 2.54 * k, -13.5, 2.2, 2.6 + 2.54 * k, 0, 2.7) for k in range(3)),
    ],
    "large transistor": lambda: [
        cut(box(0, 0, 0, 15.9, 20.8, 2), rod(7.9, 16.8, -1, 3, 3.6)),
        box(0.5, 0.3, 2, 15.4, 20.5, 5),
        *(box(1.5 + 5.45 * k, -20, 2.4, 2.7 + 5.45 * k, 0, 3) for k in range(3)),
    ],
    "chip with legs": lambda: [
        box(0, 0, 0.2, 10.3, 7.5, 2.5),
        *(box(1.27 * k + 0.5, -1.4, 0, 1.27 * k + 0.9, 0, 0.25) for k in range(8)),
    ],
    "flat chip": lambda: [box(0, 0, 0, 7, 7, 0.9), box(1, 1, -0.05, 6, 6, 0)],
    "large flat chip": lambda: [
        box(0, 0, 0, 23, 23, 1.2),
        *(rod(1.5 + 2 * i, 1.5 + 2 * j, -0.5, 0, 0.6) for i in range(8) for j in range(8)),
    ],
    "capacitor": lambda: [rod(0, 0, 0, 11, 8), rod(-1.75, 0, -3, 0, 0.6), rod(1.75, 0, -3, 0, 0.6)],
    "crystal": lambda: [box(0, 0, 0, 11.4, 4.7, 3.5), rod(3, 2.3, -3, 0, 0.5), rod(8, 2.3, -3, 0, 0.5)],
    "inductor": lambda: [box(0, 0, 0, 12.5, 12.5, 6), box(0.5, 4, -0.1, 3, 8, 0)],
    "relay": lambda: [box(0, 0, 0, 19, 15.5, 15), *(rod(2 + 4 * k, 3, -4, 0, 1) for k in range(5))],
    "terminal block": lambda: [cut(box(0, 0, 0, 15.2, 8, 10), *(rod(2.5 + 5.08 * k, 4, 5, 11, 3.5) for k in range(3)))],
    "push button": lambda: [box(0, 0, 0, 6, 6, 3.5), rod(3, 3, 3.5, 5, 3.5)],
    "memory card socket": lambda: [
        cut(box(0, 0, 0, 14, 15, 1.4), box(1, -1, 0.5, 13, 12, 2)),
        cut(box(-0.2, -0.2, -0.2, 14.2, 15.2, 1.6), box(0, -1, -1, 14, 15, 1.45)),
    ],
    "fan 40": lambda: [
        cut(
            box(0, 0, 0, 40, 40, 10),
            rod(20, 20, -1, 11, 38),
            *(rod(x, y, -1, 11, 3.5) for x in (4, 36) for y in (4, 36)),
        ),
        rod(20, 20, 0, 8, 20),
    ],
    "cooler": lambda: [
        fused(box(0, 0, 0, 40, 30, 2.5), *(box(4.1 * k, 0, 2.5, 4.1 * k + 1, 30, 11) for k in range(10)))
    ],
    "battery holder": lambda: [cut(box(0, 0, 0, 22, 24, 5), rod(11, 12, 1.5, 6, 20)), box(1, 0, -3, 2, 1, 0)],
    "slide switch": lambda: [
        box(0, 0, 0, 8.6, 4.4, 3.5),
        box(3, 1.5, 3.5, 5, 3, 7),
        *(rod(2 + 2 * k, 2.2, -3, 0, 0.6) for k in range(3)),
    ],
    "flat cable connector": lambda: [
        cut(box(0, 0, 0, 22, 5.5, 2.5), box(2, -1, 1, 20, 3, 2)),
        box(1, 5.5, 0, 21, 6.5, 2.2),
    ],
    "card-edge slot": lambda: [cut(box(0, 0, 0, 89, 7.5, 11), box(1.5, 2.8, 3, 87.5, 4.6, 12))],
    "speaker": lambda: [rod(0, 0, 0, 3, 20), rod(0, 0, -2, 0, 12)],
}

BOARDS: dict[str, Callable[[], list[Any]]] = {
    "bare board": lambda: [board(85, 56, 1.6, 4)],
    "small bare board": lambda: [board(30, 20, 1.0, 2)],
    "board without holes": lambda: [board(60, 40, 1.6, 0)],
    "module with chips": lambda: [board(25, 18, 0.8, 0), box(2, 2, 0.8, 14, 14, 3.2), box(16, 4, 0.8, 22, 10, 1.8)],
    "card of 22 x 80": lambda: [board(80, 22, 0.8, 1), box(10, 3, 0.8, 30, 19, 2.2), box(40, 3, 0.8, 60, 19, 2.2)],
    "display module": lambda: [board(36, 34, 1.2, 4, 2.2), box(1, 7, 1.2, 35, 30, 3.2), *_pins_on(1.2)],
    "board with a tall jack": lambda: [board(42, 25, 1.6, 2), box(24, 5, 1.6, 43, 21, 15.1)],
    "driver with a cooler": lambda: [board(20.3, 15.2, 1.6, 0), box(6, 3, 1.6, 15, 12, 13), *_pins_on(1.6)],
    "fused board": lambda: [
        fused(
            board(70, 50, 1.6, 4),
            box(10, 10, 1.6, 25, 25, 8),
            box(40, -1.5, 1.6, 49, 8, 4.8),
            box(50, 30, 1.6, 60, 40, 5),
        )
    ],
    "large board": lambda: [
        board(170, 170, 1.6, 4, 3.96),
        box(20, 130, 1.6, 100, 171, 40),
        box(60, 60, 1.6, 100, 100, 6),
    ],
    "round-cornered board": lambda: [
        board(65, 30, 1.4, 4, 2.75),
        box(-0.5, 10, 1.4, 7, 20, 4.6),
        box(20, 29, 1.4, 31, 34, 7),
    ],
}


def _pins_on(t: float) -> list[Any]:
    return [rod(3 + 2.54 * k, 1.5, t - 8, t, 0.6) for k in range(4)]
