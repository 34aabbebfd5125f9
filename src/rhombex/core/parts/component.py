"""What a component is: solids with roles, mounting points, ports, heat and mass."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from rhombex.core.space import Vec2, Vec3
from rhombex.core.trail import Frozen
from rhombex.core.words import Words

Mark = Literal["standard", "handbook", "common practice", "memory", "doubtful", "measured", "arithmetic", "sample"]
Role = Literal["board", "body", "connector", "pins", "plug", "keepout"]
Direction = Literal["+x", "-x", "+y", "-y", "+z", "-z"]
Thread = Literal["M2", "M2_5", "M3", "M4", "UNC6_32"]
Rail = Literal["3.3 V", "5 V", "12 V", "20 V", "mains"]
Coordinate = Annotated[float, Field(ge=-5000, le=5000)]
Length = Annotated[float, Field(gt=0, le=2000)]
Key = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9._-]{0,39}$")]

DIRECTIONS: dict[Direction, Vec3] = {
    "+x": (1, 0, 0),
    "-x": (-1, 0, 0),
    "+y": (0, 1, 0),
    "-y": (0, -1, 0),
    "+z": (0, 0, 1),
    "-z": (0, 0, -1),
}


class Solid(Frozen):
    """A box, an upright cylinder or, with `corners`, a convex body stretched to that box; in the component's frame.

    Roles: `board` the slab, `body` a hard body, `connector` a hard body that may reach into an opening,
    `pins` what hangs below the mounting plane, `plug` and `keepout` soft room for plugs, wires, tools.
    """

    name: Words = Field(max_length=80)
    role: Role
    lo: tuple[Coordinate, Coordinate, Coordinate]
    hi: tuple[Coordinate, Coordinate, Coordinate]
    round: bool = False
    corners: Annotated[tuple[tuple[Coordinate, Coordinate, Coordinate], ...], Field(max_length=130)] = ()
    source: Words
    mark: Mark
    sure_mm: Annotated[float, Field(ge=0, le=50)] | None = None

    @model_validator(mode="before")
    @classmethod
    def _stretched(cls, data: Any) -> Any:
        """Whoever changes the box changes the body in it. What is no number is left for the fields to refuse."""
        try:
            lo, hi, corners = data["lo"], data["hi"], [tuple(map(float, c)) for c in data["corners"]]
            ends = [(min(x), max(x)) for x in zip(*corners, strict=True)]
            fitted = tuple(
                tuple(
                    x if (a, b) == (u, v) else u + (x - a) * (v - u) / (b - a)
                    for x, (a, b), u, v in zip(c, ends, lo, hi, strict=True)
                )
                for c in corners
            )
        except (TypeError, ValueError, KeyError, ZeroDivisionError):
            return data
        return {**data, "corners": fitted}

    @model_validator(mode="after")
    def _ordered(self) -> Solid:
        if any(b - a <= 0 for a, b in zip(self.lo, self.hi, strict=True)):
            raise ValueError(f"solid '{self.name}' has no thickness: each 'hi' must be larger than its 'lo'")
        if self.corners:
            if self.round:
                raise ValueError(f"solid '{self.name}' is round or has corners, not both")
            if any(min(x) == max(x) for x in zip(*self.corners, strict=True)):
                raise ValueError(f"the corners of solid '{self.name}' lie in one plane: a body has room between them")
        return self


class Mount(Frozen):
    """A mounting point: on the mounting plane z = 0, or on a side face or the top at a height of its own, where no post is
    printed. `depth_limit_mm`: how far a screw may go in."""

    name: Words
    at: Vec2
    thread: Thread
    hole_mm: float
    side: Literal["bottom", "left", "right", "top"] = "bottom"
    height_mm: float = 0.0
    depth_limit_mm: float | None = None
    source: Words
    mark: Mark
    sure_mm: Annotated[float, Field(ge=0, le=50)] | None = None


class Port(Frozen):
    """A connector's face: where it is, which way it looks, which kind."""

    name: Words
    kind: Key
    centre: Vec3
    facing: Direction
    source: Words
    mark: Mark
    sure_mm: Annotated[float, Field(ge=0, le=50)] | None = None


class Header(Frozen):
    """A board-to-board connector. `mates_mm`: the distances between two boards, face to face, at which it still mates."""

    name: Words
    kind: Key
    side: Literal["top", "bottom"]
    at: Vec2
    mates_mm: tuple[float, float]
    source: Words
    mark: Mark


class Draw(Frozen):
    """Watts that a component takes from a rail: idle, typical, peak, and the plug they come through."""

    rail: Rail
    idle_w: Annotated[float, Field(ge=0, le=2000)]
    typical_w: Annotated[float, Field(ge=0, le=2000)]
    peak_w: Annotated[float, Field(ge=0, le=2000)]
    plug: Key
    source: Words
    mark: Mark

    @model_validator(mode="after")
    def _rising(self) -> Draw:
        if not self.idle_w <= self.typical_w <= self.peak_w:
            raise ValueError("watts rise from idle over typical to peak")
        return self


class Supply(Frozen):
    """What a supply or converter gives: watts by rail and in all, its plugs, what it takes in (`needs`) and its efficiency."""

    total_w: Annotated[float, Field(gt=0, le=5000)]
    rails: dict[Rail, Annotated[float, Field(gt=0, le=5000)]]
    plugs: dict[Key, Annotated[int, Field(ge=1, le=40)]] = Field(default_factory=dict)
    needs: Rail = "mains"
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.85
    source: Words
    mark: Mark

    def __hash__(self) -> int:
        """What is remembered of a design is kept under its components: the two tables count by what is in them."""
        return hash((self.total_w, tuple(self.rails.items()), tuple(self.plugs.items()), self.needs, self.efficiency))


class Zone(Frozen):
    """A rectangle over a board in which components may be so tall above its upper face."""

    name: Words
    lo: Vec2
    hi: Vec2
    height_mm: float
    source: Words
    mark: Mark


class Air(Frozen):
    """A fan's two numbers and the round opening in front of it."""

    free_flow_cfm: float = Field(gt=0)
    static_mmh2o: float = Field(gt=0)
    opening_mm: float = Field(gt=0)
    source: Words
    mark: Mark


class Component(Frozen):
    """A thing that goes into a case.

    `mounting`: `posts` (screwed on posts from above), `through` (screwed from below through the floor),
    `panel` (sits in or on a wall; frame x = u, y = v, z outward, z = 0 the inner wall face, or the outer one
    where `datum` says so), `rides` (lies on another component). `pattern`: the standard hole pattern it claims to have.
    `shape`: digest of a mesh kept beside it, for looking at.
    """

    key: Key
    label: Words = Field(max_length=80)
    family: Words = Field(max_length=40)
    mounting: Literal["posts", "through", "panel", "rides"]
    datum: Literal["inner", "outer"] = "inner"
    pivot: Vec2 = (0, 0)
    panel_hole_mm: float | None = None
    solids: tuple[Solid, ...] = Field(min_length=1, max_length=400)
    mounts: tuple[Mount, ...] = ()
    ports: tuple[Port, ...] = ()
    air: Air | None = None
    headers: Annotated[tuple[Header, ...], Field(max_length=20)] = ()
    power: Annotated[tuple[Draw, ...], Field(max_length=12)] = ()
    supply: Supply | None = None
    zones: Annotated[tuple[Zone, ...], Field(max_length=20)] = ()
    pattern: Key | None = None
    shape: Annotated[str, Field(pattern=r"^[0-9a-f]{16,64}$")] | None = None
    heat_w: float = Field(ge=0, le=2000)
    mass_g: float = Field(ge=0, le=50000)
    source: Words
    mark: Mark


class PortKind(Frozen):
    """What a kind of port needs of a wall: the connector's outline, the plug's over-mould and its length."""

    kind: Key
    label: Words
    outside: bool = True
    round: bool = False
    width_mm: float
    height_mm: float
    plug_width_mm: float
    plug_height_mm: float
    plug_length_mm: float
    source: Words
    mark: Mark
