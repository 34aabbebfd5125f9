"""Bought sheet on all sides: screwed to corner pieces, or in slots of posts. From one to the other, with its thickness kept."""

from __future__ import annotations

from typing import Literal

from rhombex.core.advice.sheeted import ALL, in_grooves, room_for, thick_enough
from rhombex.core.apply import apply
from rhombex.core.constructions import Construction, CornersAndSheet, SlidingPanels
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Edit, Set, Together
from rhombex.core.hardware.sheets import stock_mm
from rhombex.core.plain import DesignError
from rhombex.core.shell.offers import usual
from rhombex.core.workshop.workshop import Workshop

HeldBy = Literal["screws", "slots"]


def held_by(made: Construction) -> HeldBy | None:
    """What holds the sheet of a case whose sides and top are all of it; None of any other."""
    if isinstance(made, CornersAndSheet):
        return "screws"
    return "slots" if isinstance(made, SlidingPanels) and {*ALL} <= {*made.sheet} else None


def sheet_held(design: Design, workshop: Workshop, by: HeldBy) -> tuple[Edit, ...]:
    """What makes a case of sheet hold it so; nothing where it does. A bent sheet becomes one for each side, for which there are slots. Raises DesignError
    where the sides are not all of sheet, or it cannot be."""
    made = design.shell.construction
    now = held_by(made)
    if now is None:
        raise DesignError("by", "not all sides of this case are of sheet", "Make it of corners and sheet first.")
    if now == by:
        return ()
    if isinstance(made, CornersAndSheet):
        faces = (*ALL, "bottom") if made.floor == "sheet" else ALL
        return in_grooves(design, workshop, faces, made.material, design.shell.wall_mm)
    assert isinstance(made, SlidingPanels)
    screwed = usual(design, "corners and sheet").model_copy(
        update={"material": made.material, "floor": "sheet" if "bottom" in made.sheet else "printed"}
    )
    thick = min(stock_mm(made.material), key=lambda t: (abs(t - made.sheet_mm), t))
    printer = workshop.printer(design.printer) or workshop.printers[0]
    # not before it is screwed: sheet in slots has a cheek of the wall before it
    edits: tuple[Edit, ...] = (Construct(construction=screwed), Set(path="shell.wall_mm", value=thick))
    edits += tuple(thick_enough(apply(design, Together(edits=edits)), screwed, printer))
    return (*edits, room_for(apply(design, Together(edits=edits)), workshop))
