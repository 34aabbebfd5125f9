"""Compile once what is compiled where it is first called: estimates, line drawings, reading G-code.

Half a minute that else the first estimate of a new installation takes, and each of the suite's processes that begin before one has ended with it.
"""

from __future__ import annotations

import io

from rhombex.core.analysis import analyse
from rhombex.core.exchange.gcode import read_gcode
from rhombex.core.plan.drawing import drawing
from rhombex.core.process.estimate import estimate
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP
from rhombex.demo.scenario import wren

a = analyse(wren(), ARCHIVE_WORKSHOP)
lid = next(p for p in a.pieces if p.part == "lid")
waves = a.design.process.model_copy(update={"supports": True, "infill_kind": "honeycomb"})
for level in ("preview", "settled", "exact"):
    estimate(a.piece_recipes[lid.name], waves, a.printer, level)
drawing(a, lid)
read_gcode(io.BytesIO(b"G28\nG1 X10 Y10 Z0.2 F3000\nG2 X20 Y20 I5 J5 E1\nG1 X50 E2\n"), a.printer)
