"""The state of a reader of G-code: what stands where in its two arrays, and why a line is refused.

The compiled kernel knows the places by number; these are their names.
"""

from __future__ import annotations

from enum import IntEnum


class F(IntEnum):
    """Numbers of the state. Positions are the machine's, mm; OX.. what G92 took off them."""

    X = 0
    Y = 1
    Z = 2
    E = 3
    OX = 4
    OY = 5
    OZ = 6
    OE = 7
    FEED = 8  # mm/s
    UNIT = 9  # mm per unit
    ACCEL = 10
    TRAVEL_ACCEL = 11
    RETRACT_ACCEL = 12
    CORNER = 13
    VX = 14
    VY = 15
    VZ = 16
    VE = 17
    AX = 18
    AY = 19
    AZ = 20
    AE = 21
    FEED_FACTOR = 22
    FLOW_FACTOR = 23
    UX = 24  # direction, length, speed and acceleration of the move before
    UY = 25
    UZ = 26
    LAST_MM = 27
    LAST_V = 28
    LAST_A = 29
    LO_X = 30
    LO_Y = 31
    LO_Z = 32
    HI_X = 33
    HI_Y = 34
    HI_Z = 35
    NOZZLE_C = 36
    BED_C = 37
    DWELL_S = 38
    EXTRUDED = 39  # net mm of filament
    PUSHED = 40  # all forward mm, retractions not taken off
    LAYER_Z = 41
    CHAMBER_C = 42
    SAVED_FEED = 43  # what M220 B put aside
    AREA = 44  # mm2 that E is divided by: 1 where E is a length, the filament's section where M200 makes it a volume
    FW_MM = 45  # a retraction by the machine itself (G10, G11): length and speed
    FW_V = 46
    SIZE = 47


class I(IntEnum):  # noqa: E742
    """Counters and modes."""

    LINE = 0
    RELATIVE = 1
    E_RELATIVE = 2
    E_SAID = 3
    AT_REST = 4
    MOVES = 5
    LAYERS = 6
    TOOL = 7
    TOOL_CHANGES = 8
    FILAMENT_CHANGES = 9
    HEATS = 10
    HOMES = 11
    NOTED = 12  # harmless commands passed over
    NOTED_LINE = 13
    PROCEDURES = 14  # bed levelling and the like, whose time is not known
    PAUSES = 15
    E_DOUBT = 16  # G90 or G91 came after M82 or M83
    RETRACTS = 17
    SIZE = 18


class Bad(IntEnum):
    """Why a line is refused."""

    NONE = 0
    NUMBER = 1
    WORD = 2
    TWICE = 3
    COMMAND = 4
    RANGE = 5
    ARC = 6
    LONG = 7
    FEED = 8
    TOOL = 9
    PLANE = 10
