"""A cut of a part, and what joins the pieces there."""

from __future__ import annotations

from rhombex.core.cuts.strips import Axis
from rhombex.core.design import JoinKind
from rhombex.core.space import Vec2
from rhombex.core.trail import Frozen


class PinSize(Frozen):
    """A pin of a cut: what it is, how thick and how long."""

    item: str
    d_mm: float
    long_mm: float


class Cut(Frozen):
    """A straight cut at `at_mm` from the case's origin, `inside_mm` from the cavity's left, front or floor. `joined`: what joins the pieces there, with
    which `pin` where it is pins; `dowels`: where pins, bolts or dovetails are: along the cut, and through the plate that they sit in. `ridge_mm`: from
    where to where the ridges of rods run that go through all pieces. `turn_deg`: by how much its plane is turned about the plate's normal, there where
    the coordinate along it is `about_mm`; `lean_deg`: by how much it leans out of that normal, there where the coordinate along that is `level_mm`."""

    axis: Axis
    at_mm: float
    inside_mm: float
    joined: JoinKind
    pin: PinSize | None
    dowels: tuple[Vec2, ...]
    pinned: bool
    crosses: tuple[str, ...]
    ridge_mm: Vec2 | None = None
    turn_deg: float = 0.0
    about_mm: float = 0.0
    lean_deg: float = 0.0
    level_mm: float = 0.0
