"""A crowded case to time edits on: 24 boards, a drive and some 2,000 vents in two halves that are cut for the bed of 300."""

from __future__ import annotations

from rhombex.core.apply import apply
from rhombex.core.constructions import TwoHalves
from rhombex.core.design import Brief, Design, Placement, Process, Shell, VentField
from rhombex.core.edits import Add, Edit, Move, PutVent, Together
from rhombex.core.parts import library

COLUMNS, ROWS = 5, 5
FIRST_MM, STEP_MM = (90.0, 36.0), (104.0, 96.0)  # from board to board: plugs need their room
DRIVE_AT_MM = (FIRST_MM[0] + 4 * STEP_MM[0] - 32.0, FIRST_MM[1] + 4 * STEP_MM[1], 6.0)


def crowded() -> Design:
    boards = [
        Placement(
            id=f"board-{column}-{row}",
            component="sbc-85x56",
            name=f"Board {column + 1}.{row + 1}",
            at_mm=(FIRST_MM[0] + column * STEP_MM[0], FIRST_MM[1] + row * STEP_MM[1], 6.0),
        )
        for column in range(COLUMNS)
        for row in range(ROWS)
        if (column, row) != (COLUMNS - 1, ROWS - 1)
    ]
    ports = tuple(f"{b.id}/{port.name}" for b in boards for port in library()["sbc-85x56"].ports)
    design = Design(
        name="Crowded",
        brief=Brief(opened="yearly", unneeded=ports),
        shell=Shell(inner_mm=(570.0, 520.0, 60.0), construction=TwoHalves(joint_mm=40.0), wall_mm=3.15),
        process=Process(filament="PETG"),
        printer="bench-300",
    )
    edits: list[Edit] = [
        *(Add(placement=b) for b in boards),
        Add(placement=Placement(id="drive", component="drive-2.5", name="Drive", at_mm=DRIVE_AT_MM)),
        *(
            PutVent(
                vent=VentField(
                    id=f"top-{k}", face="top", at_mm=(110.0 + 175 * k, 260.0), size_mm=(170.0, 210.0), follow_heat=False
                )
            )
            for k in range(3)
        ),
    ]
    return apply(design, Together(edits=tuple(edits)))


def moved(design: Design, k: int) -> Design:
    """The drive a tenth of a millimetre further, over and over."""
    return apply(design, Move(id="drive", to_mm=(DRIVE_AT_MM[0] + 0.01 * k, *DRIVE_AT_MM[1:])))
