"""Walls and floors that are cut from bought sheet: as thick as it is sold, and as what holds it wants."""

from __future__ import annotations

from collections.abc import Iterator

from rhombex.core.advice.walls_round import walls_round
from rhombex.core.analysis import analyse
from rhombex.core.apply import apply
from rhombex.core.bench.arrange import Thing
from rhombex.core.constructions import (
    THROUGH,
    Construction,
    CoreAndWrap,
    CornersAndSheet,
    FrameAndCovers,
    Material,
    OpenBench,
    SlidingPanels,
    TrayInASleeve,
)
from rhombex.core.design import Design
from rhombex.core.edits import Construct, Edit, Move, Set, Together
from rhombex.core.hardware.sheets import stock_mm
from rhombex.core.reference import val
from rhombex.core.shell.offers import usual
from rhombex.core.shell.sliding_panels import wall_for_sheet_mm
from rhombex.core.space import Face
from rhombex.core.workshop.printer import Printer
from rhombex.core.workshop.workshop import Workshop

ALL: tuple[Face, ...] = ("front", "back", "left", "right", "top")


def thick_enough(design: Design, made: Construction, printer: Printer) -> Iterator[Edit]:
    """Walls as thick as sheet that is sold, where they are cut from it, or as sheet and a cheek before it."""
    s = design.shell
    faces = of_sheet(made)
    sides = any(f not in ("top", "bottom") for f in faces)
    walls = ("shell.wall_mm", s.wall_mm, sides), ("shell.lid_mm", s.lid_mm, "top" in faces)
    for path, now, wanted in (*walls, ("shell.floor_mm", s.floor_mm, "bottom" in faces)):
        if not wanted:
            continue
        if isinstance(made, SlidingPanels) and path == "shell.wall_mm":
            thick = max(now, wall_for_sheet_mm(design, made, printer, made.sheet_mm))
        else:
            thick = min(stock_mm(made.material), key=lambda t: (abs(t - now), -t))  # type: ignore[union-attr]
        if abs(thick - now) > 1e-9:
            yield Set(path=path, value=thick)


def of_sheet(made: Construction) -> tuple[Face, ...]:
    """The faces that a construction closes with bought sheet."""
    if isinstance(made, CornersAndSheet):
        return (*ALL, "bottom") if made.floor == "sheet" else ALL
    if isinstance(made, OpenBench):
        return ("bottom",) if made.plate == "sheet" else ()
    if isinstance(made, TrayInASleeve | CoreAndWrap):
        return ("bottom",) if made.floor == "sheet" else ()
    return getattr(made, "sheet", ())


def in_grooves(
    design: Design, workshop: Workshop, faces: tuple[Face, ...], material: Material, thick_mm: float | None = None
) -> tuple[Edit, ...]:
    """What makes a case of panels that slide in grooves, those of these faces of sheet that nothing is screwed to, as thick as is usual or as near to
    `thick_mm` as it is sold; walls move out as far as its posts need. Raises DesignError where it cannot be."""
    made = usual(design, "sliding panels")
    assert isinstance(made, SlidingPanels)
    wanted = made.sheet_mm if thick_mm is None else thick_mm
    sold = min(stock_mm(material), key=lambda t: (abs(t - wanted), t))
    made = made.model_copy(update={"sheet": faces, "material": material, "sheet_mm": sold})
    printer = workshop.printer(design.printer) or workshop.printers[0]
    edits: tuple[Edit, ...] = (*thick_enough(design, made, printer), Construct(construction=made))
    changed = apply(design, Together(edits=edits))
    room = room_for(changed, workshop)
    # longer panels have more play, which is taken from the cheeks before them
    return (*edits, room, *thick_enough(apply(changed, room), made, printer))


def room_for(design: Design, workshop: Workshop) -> Edit:
    """The walls of a case moved out as far as its posts or corners need. Raises DesignError where they cannot be."""
    a = analyse(design, workshop, "none")
    room = walls_round(a).model_copy(update={"only_out": True})
    apply(design, room)
    return room


def with_printed_floor(made: Construction) -> Construction:
    """The same construction with a floor that is printed."""
    if isinstance(made, CornersAndSheet | TrayInASleeve | CoreAndWrap):
        return made.model_copy(update={"floor": "printed"})
    if isinstance(made, OpenBench):
        return made.model_copy(update={"plate": "printed"})
    if isinstance(made, FrameAndCovers | SlidingPanels):
        return made.model_copy(update={"sheet": tuple(f for f in made.sheet if f != "bottom")})
    return made


def made_of_sheet(design: Design, printer: Printer, face: Face, material: Material) -> tuple[Edit, ...]:
    """One more wall cut from sheet, where covers or panels may be; nothing where none may, or it is."""
    made = design.shell.construction
    if not isinstance(made, FrameAndCovers | SlidingPanels) or face == "bottom":
        return ()
    cut = made.model_copy(update={"sheet": tuple(dict.fromkeys((*made.sheet, face))), "material": material})
    return () if cut == made else (*thick_enough(design, cut, printer), Construct(construction=cut))


def floor_of_sheet(
    design: Design, printer: Printer, things: tuple[Thing, ...], standoffs_mm: tuple[float, ...], material: Material
) -> tuple[Edit, ...]:
    """The floor cut from sheet, and what stands on it put on to the next standoffs that are kept or on to the sheet; nothing where no floor may be or it is, where
    something has no holes to be held by, stands higher than standoffs are long, or has its upright on a plate."""
    made = design.shell.construction
    cut = _with_floor_of_sheet(made, material)
    standing = [t for t in things if t.component.mounting in ("posts", "through") and t.placement.on is None]
    upright = isinstance(made, OpenBench) and any(t.face in ALL for t in things)
    if cut == made or upright or any(not t.mounts for t in standing):
        return ()
    moves: list[Edit] = []
    for t in standing:
        high = min(m.at[2] for m in t.mounts) - design.shell.floor_mm
        lies = t.component.mounting == "through"
        to = 0.0 if lies else min((x for x in standoffs_mm if x >= high - 1e-6), default=None)
        if to is None:
            return ()
        x, y, z = t.placement.at_mm
        if abs(to - high) > 1e-6:
            moves.append(Move(id=t.id, to_mm=(x, y, round(z + to - high, 3))))
    edits = [*thick_enough(design, cut, printer), Construct(construction=cut), *moves]
    # no thicker than the studs of standoffs fill their nuts under
    nut = max((val(f"fasteners.{m.mount.thread}.nut_m") for t in standing for m in t.mounts), default=0.0)
    now = apply(design, Together(edits=tuple(edits))).shell.floor_mm
    sold = [x for x in stock_mm(material) if x <= val("fasteners.rule.standoff_stud") - nut + 1e-6]
    if sold and now > max(sold):
        edits.append(Set(path="shell.floor_mm", value=max(sold)))
    return tuple(edits)


def _with_floor_of_sheet(made: Construction, material: Material) -> Construction:
    """The same construction with a floor of sheet, as its other sheets are where it has some; itself where it cannot have one."""
    if isinstance(made, CornersAndSheet):
        return made.model_copy(update={"floor": "sheet"})
    if isinstance(made, OpenBench) and made.plate == "printed":
        return made.model_copy(update={"plate": "sheet", "material": material})
    if isinstance(made, TrayInASleeve | CoreAndWrap) and made.floor == "printed":
        return made.model_copy(update={"floor": "sheet", "material": material})
    if isinstance(made, SlidingPanels) and made.joint_thread in THROUGH:
        return made  # the nuts of its bolts sit in the floor
    if isinstance(made, FrameAndCovers | SlidingPanels) and "bottom" not in made.sheet:
        return made.model_copy(update={"sheet": (*made.sheet, "bottom"), "material": material})
    return made


def usual_material(design: Design) -> Material:
    """What its other sheets are of; acrylic where it has none."""
    made = design.shell.construction
    return made.material if isinstance(made, FrameAndCovers | SlidingPanels) and made.sheet else "acrylic"
