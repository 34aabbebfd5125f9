"""Fans on walls: which way each blows, and which of them spoil one another's stream."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from typing import Literal

from rhombex.core.bench.arrange import Thing
from rhombex.core.reference import val
from rhombex.core.space import FACE_U, FACE_V, OUTWARD, Vec3

Meeting = Literal["face to face", "side by side"]


@dataclass(frozen=True)
class FanPair:
    """Two fans near enough to one another to matter. `apart_mm`: face to face, how far apart their axes are, and `free_mm` from where on
    their streams pass one another; side by side, the gap between their round openings, and how wide it wants to be."""

    one: Thing
    other: Thing
    how: Meeting
    apart_mm: float
    free_mm: float

    @property
    def ways(self) -> tuple[str | None, str | None]:
        """Which way each blows; None where nobody has said."""
        return self.one.placement.blows, self.other.placement.blows

    @property
    def told(self) -> bool:
        return None not in self.ways

    @property
    def spoilt(self) -> bool:
        """Whether they work against one another: two that face one another and both blow in or both out; two side by side of which one
        draws in what the other has blown out."""
        return self.told and (self.ways[0] == self.ways[1]) == (self.how == "face to face")


def wall_fans(things: tuple[Thing, ...]) -> list[Thing]:
    """The fans that sit on a wall of the case; those that ride on a radiator or cooler are that one's own."""
    return [t for t in things if t.face is not None and t.component.air is not None]


def fan_pairs(things: tuple[Thing, ...]) -> list[FanPair]:
    """Pairs of wall fans whose streams meet (opposite walls, openings over one another) or mix (one wall, nearer than a share of the larger
    fan's opening; common practice)."""
    out = []
    for one, other in itertools.combinations(wall_fans(things), 2):
        assert one.face is not None and other.face is not None
        a, b = OUTWARD[one.face], OUTWARD[other.face]
        turn = sum(x * y for x, y in zip(a, b, strict=True))
        if turn == 0:
            continue
        radii = _opening_mm(one) / 2, _opening_mm(other) / 2
        u, v = FACE_U[one.face], FACE_V[one.face]
        axes = (
            _along(one.frame.origin, other.frame.origin, u) ** 2 + _along(one.frame.origin, other.frame.origin, v) ** 2
        ) ** 0.5
        if turn < 0 and axes < sum(radii):
            out.append(FanPair(one, other, "face to face", axes, sum(radii)))
        apart = val("air.air.beside_share") * 2 * max(radii)
        if turn > 0 and axes - sum(radii) < apart:
            out.append(FanPair(one, other, "side by side", axes - sum(radii), apart))
    return out


def _opening_mm(fan: Thing) -> float:
    assert fan.component.air is not None
    return fan.component.air.opening_mm


def _along(a: Vec3, b: Vec3, axis: Vec3) -> float:
    return sum((y - x) * k for x, y, k in zip(a, b, axis, strict=True))
