"""The parts of a case, printed or of bought sheet: how they lie, where they may be cut, how they are put on."""

from __future__ import annotations

from pydantic import Field

from rhombex.core.constructions import Material
from rhombex.core.design import Direction
from rhombex.core.geometry.recipe import Loop
from rhombex.core.space import Box, Vec2, Vec3
from rhombex.core.trail import Frozen


class Flat(Frozen):
    """A flat stretch of a part that counts for its stiffness; `flat`: it lies where the part lies on its usual side."""

    name: str
    thick_mm: float
    flat: bool


class Bar(Frozen):
    """How wide a bar is along axis `across`, where what joins its pieces takes all of it. `solid`: nothing runs along it, so that a pin finds room in its middle."""

    across: int
    lo_mm: float
    hi_mm: float
    solid: bool = True

    @property
    def wide_mm(self) -> float:
        """Its width."""
        return self.hi_mm - self.lo_mm


class Kept(Frozen):
    """What a part has that is none of the case's openings: where it is, what it is, and whether a cut through it only costs (`soft`). `round_at`: the middles of
    the round holes in it, `round_mm` across."""

    why: str
    box: Box
    soft: bool = False
    round_at: tuple[Vec2, ...] = Field(default=(), exclude=True)  # of thousands: no picture needs them
    round_mm: float = Field(default=0.0, exclude=True)


class Seat(Frozen):
    """Where dowels can sit in a part that is cut: on the plate across `axis` between its outer face at `outer_mm` and its inner face at
    `inner_mm`, `edge_mm` clear of the cavity's sides, or `upright_mm` of floor and top. `bare`: nothing may stand on its inner face, since the part lies on it or something slides along
    it. `far_mm`: from where to where the wall opposite is, where what joins the plate goes through that one too. `bar`: it is no plate but so slim that
    what joins it lies within. `alone`: it is in no room of the case, and what joins it may be anywhere on it."""

    outer_mm: float
    inner_mm: float
    edge_mm: float
    axis: int = 2
    bare: bool = False
    far_mm: Vec2 | None = None
    upright_mm: float | None = None
    bar: Bar | None = None
    alone: bool = False

    def clear_mm(self, axis: int) -> float:
        """How far from the cavity's sides along an axis of the case."""
        return self.upright_mm if axis == 2 and self.upright_mm is not None else self.edge_mm


class PutOn(Frozen):
    """How a part comes to its place: along which way (a unit vector of the case's frame) and from how far."""

    along: Vec3
    travel_mm: float


class Fold(Frozen):
    """Where a face lies in the flat of a bent sheet, seen from outside: `along` and `across` are where u and v of the face run there."""

    face: str
    along: Vec2
    across: Vec2
    shift: Vec2

    def at(self, uv: Vec2) -> Vec2:
        """A point of the face in the flat."""
        (ax, ay), (cx, cy), (sx, sy), (u, v) = self.along, self.across, self.shift, uv
        return (ax * u + cx * v + sx, ay * u + cy * v + sy)

    def loop(self, loop: Loop) -> Loop:
        """A loop of the face in the flat."""
        return tuple((*self.at((u, v)), b) for u, v, b in loop)


class Bend(Frozen):
    """A bend of a sheet by 90 degrees, away from who looks at its outside: its middle line in the flat, its inner radius, what it takes of the flat, and
    the corner of the case that it stands for."""

    ends: tuple[Vec2, Vec2]
    inner_mm: float
    allowance_mm: float
    between: tuple[str, str]


class Sheet(Frozen):
    """What a part is cut from that is bought: material, thickness, the face that it closes and its outline there, seen from outside; of a bent one
    the outline of its flat, where faces lie in it (`folds`), and its `bends`."""

    material: Material
    thick_mm: float
    face: str
    outline: Loop
    folds: tuple[Fold, ...] = ()
    bends: tuple[Bend, ...] = ()

    @property
    def faces(self) -> tuple[str, ...]:
        """The faces that it closes."""
        return tuple(f.face for f in self.folds) or (self.face,)

    def fold(self, face: str) -> Fold:
        """Where a face of it lies in the flat. Raises KeyError for one that it does not close."""
        if not self.folds and face == self.face:
            return Fold(face=face, along=(1.0, 0.0), across=(0.0, 1.0), shift=(0.0, 0.0))
        for f in self.folds:
            if f.face == face:
                return f
        raise KeyError(face)


class Rib(Frozen):
    """A rib on the inside of a face, in the part that closes it: from the wall into the room. `across`: the axis of the case across which it is thin."""

    face: str
    part: str
    box: Box
    across: int


class Part(Frozen):
    """A printed part of a case, or one cut from bought `sheet`. `size_mm`: the box round it as it stands. `warm`: it holds the air that the components
    warm. `seat`: the plate that cuts to the bed run across and that holds what joins the pieces; without it the part is not cut. `side_seat`: a wall
    that it is cut across where it stands too tall for the bed. `shown`: what its outer face shows if it lies as usual. `bodies`: of how many it is,
    like tubes that are printed side by side. `in_place`: its recipe stands where it belongs in the case; a panel drawn by hand has no place. `ribbed`:
    the face that it closes whole, where ribs may stand on its inside. `rides`: the part that it comes to its place with, and with what that one carries. `only`:
    the axes that it may be cut across, where these are not all. `kept`: what cuts keep off besides all that the case has in it."""

    name: str
    size_mm: Vec3 | None
    down: Direction
    plates: tuple[Flat, ...]
    warm: bool = False
    seat: Seat | None = None
    side_seat: Seat | None = None
    put_on: PutOn | None = None
    shown: str = ""
    bodies: int = 1
    in_place: bool = True
    sheet: Sheet | None = None
    ribbed: str = ""
    rides: str = ""
    only: tuple[int, ...] | None = None
    kept: tuple[Kept, ...] = ()

    @property
    def bar(self) -> Bar | None:
        """That it is a bar, however it is cut."""
        seat = self.side_seat or self.seat
        return seat.bar if seat else None
