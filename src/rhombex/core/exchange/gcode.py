"""G-code in: time by the same kinematics as the plan, filament, extents, temperatures, changes.

Read: G0 to G4, G10/G11 with M207, G20/G21, G28, G90/G91, G92, M82/M83, M104/M109/M140/M190, M200, M201, M203, M204, M205, M220, M221, tools,
filament changes. Other M commands move nothing and are counted. Whatever else could move the machine is refused by line.
"""

from __future__ import annotations

from collections.abc import Callable
from math import isinf, pi
from typing import BinaryIO

import numpy as np

from rhombex.core.exchange.gcode_kernel import read, settle
from rhombex.core.exchange.gcode_state import Bad, F, I
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.trail import Frozen, Shown
from rhombex.core.workshop.printer import Printer

PIECE = 1 << 20
MOVES = 1 << 16
KEEP = 2048  # moves in view of the next piece: more than any move needs to stop
MOST_BYTES = 4 << 30
INCH = 25.4

Progress = Callable[[int], None]


class GcodeError(DesignError):
    """G-code that cannot be read. `line` is where."""

    def __init__(self, line: int, message: str, do: str) -> None:
        super().__init__(f"line {line}", message, do)
        self.line = line
        self.kept = "Nothing was changed."


class Limits(Frozen):
    """Limits of the machine that a file sets for itself; None where it names none."""

    speed_mm_s: Shown | None = None
    accel_mm_s2: Shown | None = None
    travel_accel_mm_s2: Shown | None = None
    corner_mm_s: Shown | None = None


class GcodeReport(Frozen):
    """What a file of G-code takes on a printer. Lengths mm, times s, temperatures degC."""

    lines: int
    moves: int
    layers: int
    time_s: Shown
    motion_s: Shown
    dwell_s: Shown
    homing_s: Shown
    heating_s: Shown
    changes_s: Shown
    filament_m: Shown
    pushed_m: Shown
    volume_mm3: Shown
    lo_mm: tuple[Shown, Shown, Shown] | None
    hi_mm: tuple[Shown, Shown, Shown] | None
    on_bed: bool
    over_mm: Shown
    nozzle_c: Shown
    bed_c: Shown
    tool_changes: int
    filament_changes: int
    limits: Limits
    notes: tuple[str, ...]


_SAID: dict[int, tuple[str, str]] = {
    Bad.NUMBER: ("the number after '{0}' cannot be read", "Write it as digits with a point."),
    Bad.WORD: ("the word '{0}' is not known here", "Only X Y Z E F and, for arcs, I J R are read in a move."),
    Bad.TWICE: ("'{0}' is there twice", "Which one is meant cannot be told."),
    Bad.RANGE: ("the value of '{0}' is out of any printer's range", "Look whether the file is damaged."),
    Bad.ARC: ("this arc has no circle through its ends", "Give I and J, or an R that reaches."),
    Bad.LONG: ("the line is longer than 65,536 bytes", "This does not look like G-code."),
    Bad.FEED: ("there is no feed rate yet, or it is not above zero", "Give F before or with the first move."),
    Bad.TOOL: ("there is no tool T{1}", "Tools go up to T63."),
    Bad.PLANE: ("arcs in another plane (G{1}) are not read", "Write them as straight moves."),
}


def _complaint(line: int, why: int, what: int) -> GcodeError:
    if why == Bad.COMMAND:
        name = f"G{what - 20000}" if what >= 20000 else f"M{what - 10000}" if what >= 10000 else f"'{chr(what)}...'"
        return GcodeError(
            line,
            f"{name} could move the machine in a way that is not read",
            "Take it out, or print the file to learn its time.",
        )
    message, do = _SAID[why]
    return GcodeError(line, message.format(chr(what) if 32 <= what < 127 else "?", what), do)


def _start(printer: Printer) -> tuple[np.ndarray, np.ndarray]:
    f, i = np.zeros(F.SIZE), np.zeros(I.SIZE, np.int64)
    f[F.UNIT] = f[F.FEED_FACTOR] = f[F.FLOW_FACTOR] = 1.0
    f[F.ACCEL], f[F.TRAVEL_ACCEL] = printer.accel_mm_s2, printer.travel_accel_mm_s2
    f[F.RETRACT_ACCEL] = val("printing.speed.retract_acceleration")
    f[F.CORNER] = printer.corner_mm_s
    f[F.VX] = f[F.VY] = printer.speed_mm_s
    f[F.VZ] = val("printing.speed.lift")
    f[F.VE] = val("printing.speed.push")
    f[F.AX : F.AE + 1] = 1e5  # axes have no limit of their own until the file names one
    f[F.LO_X : F.LO_Z + 1] = np.inf
    f[F.HI_X : F.HI_Z + 1] = -np.inf
    f[F.LAYER_Z] = -np.inf
    f[F.SAVED_FEED] = f[F.AREA] = 1.0
    f[F.FW_MM], f[F.FW_V] = val("printing.speed.retract_mm"), val("printing.speed.retract_mm_s")
    i[I.AT_REST] = 1
    i[I.TOOL] = -1
    return f, i


def read_gcode(stream: BinaryIO, printer: Printer, progress: Progress = lambda done: None) -> GcodeReport:
    """Read G-code from a stream of bytes. Memory does not grow with the file.

    Raises GcodeError at the first line that cannot be read with certainty. progress is told the bytes read.
    """
    f, i = _start(printer)
    length, v, a = np.empty(MOVES), np.empty(MOVES), np.empty(MOVES)
    cap = np.zeros(MOVES + 1)
    n = 0
    motion = 0.0
    rest = b""
    total = 0
    while True:
        piece = stream.read(PIECE)
        if total == 0 and piece.startswith(b"\xef\xbb\xbf"):
            piece = piece[3:]  # a mark that some editors put before the text
        total += len(piece)
        if total > MOST_BYTES:
            raise GcodeError(int(i[I.LINE]), "the file is larger than 4 GB", "No print needs so much.")
        last = not piece
        data = rest + piece + (b"\n" if last and rest else b"")
        # a byte past the end tells the reader whether a line without its end goes on in the next piece
        buf = np.frombuffer(data + (b"\n" if last else b""), dtype=np.uint8)
        pos = 0
        while True:
            used, n, why, what = read(buf[pos:], len(data) - pos, f, i, length, v, a, cap, n)
            if why:
                raise _complaint(int(i[I.LINE]), why, what)
            pos += used
            full = n >= MOVES - 1024
            if full:
                t, n = settle(length, v, a, cap, n, KEEP)
                motion += t
            if used == 0 and not full:
                break
        rest = data[pos:]
        if len(rest) > 2 * PIECE:
            raise GcodeError(int(i[I.LINE]) + 1, *_SAID[Bad.LONG])
        progress(total)
        if last:
            break
    if n:
        motion += settle(length, v, a, cap, n, 0)[0]
    return _report(f, i, motion, printer)


def _report(f: np.ndarray, i: np.ndarray, motion: float, printer: Printer) -> GcodeReport:
    printed = not isinf(f[F.LO_X])
    lo = tuple(float(x) for x in f[F.LO_X : F.LO_Z + 1]) if printed else None
    hi = tuple(float(x) for x in f[F.HI_X : F.HI_Z + 1]) if printed else None
    over = 0.0
    if lo and hi:
        over = max(*(-x for x in lo), *(x - b for x, b in zip(hi, printer.bed_mm, strict=True)), 0.0)
    heating = printer.heat_up_s if i[I.HEATS] else 0.0
    # warming up homes the machine once; other times it is homed take their own
    homing = max(0, int(i[I.HOMES]) - (1 if i[I.HEATS] else 0)) * val("printing.speed.home")
    changes = int(i[I.TOOL_CHANGES] + i[I.FILAMENT_CHANGES]) * printer.change_s
    notes = []
    if i[I.NOTED]:
        notes.append(f"{i[I.NOTED]} commands that move nothing were passed over, the first in line {i[I.NOTED_LINE]}.")
    if i[I.PROCEDURES]:
        notes.append(f"{i[I.PROCEDURES]} procedures of the machine (levelling, probing) are not in the time.")
    if i[I.PAUSES]:
        notes.append(f"It pauses {i[I.PAUSES]} times for a hand; the wait is not in the time.")
    if i[I.E_DOUBT]:
        notes.append(
            f"Line {i[I.E_DOUBT]}: G90 or G91 after M82 or M83. E is read as M82 or M83 said; some machines read it otherwise."
        )
    if not printed:
        notes.append("Nothing is extruded.")
    d = val("materials.filament.diameter")
    metres = float(f[F.EXTRUDED]) / 1000
    return GcodeReport(
        lines=int(i[I.LINE]),
        moves=int(i[I.MOVES]),
        layers=int(i[I.LAYERS]),
        time_s=motion + float(f[F.DWELL_S]) + homing + heating + changes,
        motion_s=motion,
        dwell_s=float(f[F.DWELL_S]),
        homing_s=homing,
        heating_s=heating,
        changes_s=changes,
        filament_m=metres,
        pushed_m=float(f[F.PUSHED]) / 1000,
        volume_mm3=metres * 1000 * pi * d * d / 4,
        lo_mm=lo,
        hi_mm=hi,
        on_bed=over <= 1e-6,
        over_mm=over,
        nozzle_c=float(f[F.NOZZLE_C]),
        bed_c=float(f[F.BED_C]),
        tool_changes=int(i[I.TOOL_CHANGES]),
        filament_changes=int(i[I.FILAMENT_CHANGES]),
        limits=_limits(f, _start(printer)[0]),
        notes=tuple(notes),
    )


def _limits(f: np.ndarray, before: np.ndarray) -> Limits:
    """The limits that differ from those the reading began with."""

    def named(*places: F) -> float | None:
        changed = [float(f[p]) for p in places if f[p] != before[p]]
        return min(changed) if changed else None

    return Limits(
        speed_mm_s=named(F.VX, F.VY),
        accel_mm_s2=named(F.ACCEL),
        travel_accel_mm_s2=named(F.TRAVEL_ACCEL),
        corner_mm_s=named(F.CORNER),
    )
