"""A simulated digital caliper with a data button, on a made-up board: it types its reading like a keyboard would.

It is held at two features of the board named below. The display has 0.01 mm; jaws and hand scatter by the usual amount.
"""

from __future__ import annotations

from random import Random
from typing import Literal

from flask import Response
from pydantic import Field

from rhombex.core.parts.notebook import Feature, How, Notebook, Reading, true_reading
from rhombex.core.plain import DesignError
from rhombex.core.reference import val
from rhombex.core.trail import Frozen
from rhombex.web.api import Asked, answer, blueprint

bp = blueprint("caliper", __name__, "/api/devices/caliper")

# The board on the table: made up, as everything of the sound archive's workshop corner.
BOARD: dict[str, dict[str, float]] = {
    "left": {"x": 0.0},
    "right": {"x": 85.13},
    "front": {"y": 0.0},
    "back": {"y": 56.07},
    "A": {"x": 3.52, "y": 3.47, "d": 2.74},
    "B": {"x": 61.49, "y": 3.51, "d": 2.71},
    "C": {"x": 3.5, "y": 52.53, "d": 2.73},
    "D": {"x": 61.54, "y": 52.49, "d": 2.7},
    "under": {"z": -2.35},
    "floor": {"z": 0.0},
    "board": {"z": 1.58},
    "stack": {"z": 17.42},
}


def features() -> tuple[Feature, ...]:
    """The features of the made-up board, as a notebook has them."""
    out = []
    for name, at in BOARD.items():
        if "d" in at:
            out.append(Feature(name=name, kind="hole"))
        elif "z" in at:
            out.append(Feature(name=name, kind="level", at_mm=0.0 if name == "floor" else None))
        else:
            axis: Literal["x", "y"] = "x" if "x" in at else "y"
            out.append(Feature(name=name, kind="edge", axis=axis, at_mm=0.0 if name in ("left", "front") else None))
    return tuple(out)


class HoldIn(Asked):
    how: How
    of: tuple[str, ...] = Field(min_length=1, max_length=2)
    along: Literal["x", "y", "straight"] = "x"
    unit: Literal["mm", "in"] = "mm"


class Typed(Frozen):
    """What the caliper types, the return key with it."""

    keys: str


class SampleOut(Frozen):
    """An empty notebook of the board on the table."""

    notebook: Notebook


_draw = Random()


@bp.get("/board", responses={200: SampleOut}, operation_id="getCaliperBoard")
def board() -> Response:
    """The board that lies on the table, with a first reading to begin with."""
    first = Reading(id="1", how="edges", of=("left", "right"), along="x", value="85.1")
    return answer(SampleOut(notebook=Notebook(name="Board on the table", features=features(), readings=(first,))))


def _fits(body: HoldIn) -> None:
    """Raises DesignError where the jaws cannot be held so: a diameter is of one hole, a distance of two features that both have
    a place along it."""
    at = [BOARD[name] for name in body.of]
    if body.how == "diameter":
        if len(at) != 1 or "d" not in at[0]:
            raise DesignError("of", "a diameter is measured on one hole", "Name one of the holes A to D.")
        return
    if len(at) != 2:
        raise DesignError("of", "a distance is measured between two features", "Name two of them.")
    wanted = ("x", "y") if body.along == "straight" else (body.along,)
    levels = ["z" in p for p in at]
    if any(levels) != all(levels) or (not all(levels) and any(c not in p for p in at for c in wanted)):
        raise DesignError(
            "of", f"{' and '.join(body.of)} have no distance along {body.along}", "Measure it another way."
        )


@bp.post("/type", responses={200: Typed}, operation_id="caliperTypes")
def press(body: HoldIn) -> Response:
    """Close the jaws on features and press the data button."""
    for name in body.of:
        if name not in BOARD:
            raise DesignError("of", f"the board on the table has no '{name}'", f"It has {', '.join(BOARD)}.")
    _fits(body)
    mm = true_reading(body.how, body.of, body.along, BOARD, {f.name: f for f in features()})
    spread = val(f"measuring.sure.{body.how}") / val("measuring.check.coverage")
    mm = max(0.0, mm + _draw.gauss(0, spread))
    keys = f"{mm:.2f}" if body.unit == "mm" else f"{mm / val('measuring.check.inch'):.4f}"
    return answer(Typed(keys=keys + "\n"))
