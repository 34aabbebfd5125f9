"""What was recognised in a file: a board with holes and connectors, or a body of convex cells; to be confirmed on a picture."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from rhombex.core.parts.component import Component, Key, Mark, Mount, Port, Solid, Thread
from rhombex.core.reference import table, val
from rhombex.core.space import Vec2, Vec3
from rhombex.core.trail import Frozen, Shown
from rhombex.core.words import Words

Array = NDArray[np.float64]
Edge = Literal["left", "right", "front", "back"]
Unit = Literal["mm", "cm", "in", "m", "thou", "ft"]
UNIT_MM: dict[Unit, float] = {"mm": 1.0, "cm": 10.0, "in": 25.4, "m": 1000.0, "thou": 0.0254, "ft": 304.8}
EDGES: tuple[tuple[Edge, int, int], ...] = (("left", 0, -1), ("right", 0, 1), ("front", 1, -1), ("back", 1, 1))
MOST_SOLIDS = 380


class Hole(Frozen):
    """A round hole through the board. `layer` where the file has layers."""

    at: tuple[Shown, Shown]
    d_mm: Shown
    layer: str = ""


class Found(Frozen):
    """A solid on the board, or a convex cell of a body by its `corners`. `edge` and `overhang_mm`: the board's edge that it
    reaches over, and how far."""

    name: str
    lo: tuple[Shown, Shown, Shown]
    hi: tuple[Shown, Shown, Shown]
    side: Literal["top", "bottom"]
    edge: Edge | None = None
    overhang_mm: Shown = 0.0
    corners: tuple[tuple[Shown, Shown, Shown], ...] = ()


class Recognised(Frozen):
    """A file read. The board's frame: x along its longer side, y to the back, z up, z = 0 its lower face, 0, 0 its front left
    corner. A body has no slab; its convex cells are in `found`, its mesh is `shape`."""

    kind: Literal["board", "body"]
    name: str
    format: str
    unit: Unit
    unit_from: Literal["the file", "asked", "assumed"]
    size_mm: tuple[Shown, Shown, Shown]
    outline: tuple[tuple[Shown, Shown], ...] = ()
    holes: tuple[Hole, ...] = ()
    found: tuple[Found, ...] = ()
    up: str = ""
    turned: str = ""
    layers: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    shape: str | None = None


def circle_of(points: Array) -> tuple[Vec2, float, float] | None:
    """Least-squares circle through points (n, 2): centre, diameter, worst distance from it. None where there is none.

    Algebraic fit (Kasa): x^2 + y^2 = 2 a x + 2 b y + c.
    """
    if len(points) < 5:
        return None
    middle = points.mean(axis=0)
    p = points - middle
    a = np.column_stack([2 * p, np.ones(len(p))])
    (x, y, c), *_ = np.linalg.lstsq(a, (p**2).sum(axis=1), rcond=None)
    r2 = c + x * x + y * y
    if r2 <= 0:
        return None
    r = float(r2) ** 0.5
    off = float(np.abs(np.hypot(p[:, 0] - x, p[:, 1] - y) - r).max())
    return (float(x + middle[0]), float(y + middle[1])), 2 * r, off


def is_round(points: Array, share: float = 0.03) -> tuple[Vec2, float] | None:
    """Centre and diameter of a closed loop of points if it is a circle, or a polygon of eight or more corners on one."""
    if len(points) and np.allclose(points[0], points[-1]):
        points = points[:-1]
    if len(points) < 8:
        return None
    fit = circle_of(points)
    if fit is None:
        return None
    centre, d, off = fit
    if off > share * d / 2 + 0.005:
        return None
    # an arc alone lies on a circle too: the points must go all round
    turn = np.sort(np.arctan2(points[:, 1] - centre[1], points[:, 0] - centre[0]))
    widest = float(np.diff(np.append(turn, turn[0] + 2 * np.pi)).max())
    return (centre, d) if widest < 1.2 else None


def overhang(lo: Vec3, hi: Vec3, size: Vec3) -> tuple[Edge | None, float]:
    """The edge of a board 0..size that a box reaches over most, and how far; None where it stays inside. What is wider than the board
    and stands over two sides looks at neither, if it reaches over a third."""
    best: tuple[Edge | None, float] = (None, 0.02)
    both = [i for i in (0, 1) if lo[i] < -0.02 and hi[i] > size[i] + 0.02]
    for edge, axis, sign in EDGES:
        if axis in both and len(both) == 1 and (lo[1 - axis] < -0.02 or hi[1 - axis] > size[1 - axis] + 0.02):
            continue
        over = hi[axis] - size[axis] if sign > 0 else -lo[axis]
        if over > best[1]:
            best = (edge, over)
    return best if best[0] is not None else (None, 0.0)


HOLE_READ_MM = 0.1  # a hole is read too small by inside jaws rather than too large


def thread_for(d_mm: float) -> Thread:
    """The largest thread that goes through a hole: its close clearance (ISO 273; ASME B18.2.8 for #6-32) is not above it."""
    threads: tuple[Thread, ...] = ("M2", "M2_5", "M3", "UNC6_32", "M4")
    able = [t for t in threads if val(f"fasteners.{t}.clearance_close") <= d_mm + HOLE_READ_MM]
    return able[-1] if able else "M2"


Axis = Literal["x", "y", "z"]
_QUARTER: dict[Axis, Array] = {
    "x": np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]]),
    "y": np.array([[0.0, 0, 1], [0, 1, 0], [-1, 0, 0]]),
    "z": np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]]),
}


def turning(r: Recognised, about: Axis) -> Array:
    """The rotation (3, 3) that turning a recognised file about an axis means: a quarter turn; a board is turned over."""
    quarter = _QUARTER[about]
    return quarter @ quarter if r.kind == "board" and about != "z" else quarter


def turned(r: Recognised, about: Axis, shape: str | None = None) -> Recognised:
    """What was recognised, turned about an axis by the user; its front left lower corner is 0 again. `shape`: its mesh turned."""
    rotation = turning(r, about)
    whole = np.array([(0.0, 0.0, 0.0), r.size_mm]) @ rotation.T
    shift = -whole.min(axis=0)

    def moved(points: Array) -> Array:
        return np.asarray(np.round(points @ rotation.T + shift, 4) + 0.0)

    def flat(at: Vec2) -> Vec2:
        p = moved(np.array([*at, 0.0]))
        return float(p[0]), float(p[1])

    size = tuple(float(x) for x in np.abs(whole[1] - whole[0]))
    found = []
    for f in r.found:
        box = moved(np.array([f.lo, f.hi]))
        lo, hi = tuple(box.min(axis=0).tolist()), tuple(box.max(axis=0).tolist())
        edge, over = overhang(lo, hi, size) if r.kind == "board" else (None, 0.0)  # type: ignore[arg-type]
        below = r.kind == "board" and (lo[2] + hi[2]) / 2 < size[2] / 2
        found.append(
            f.model_copy(
                update={
                    "lo": lo,
                    "hi": hi,
                    "corners": tuple(tuple(c) for c in moved(np.array(f.corners)).tolist()) if f.corners else (),
                    "side": "bottom" if below else "top",
                    "edge": edge,
                    "overhang_mm": over,
                }
            )
        )
    return r.model_copy(
        update={
            "size_mm": size,
            "outline": tuple(flat(p) for p in r.outline),
            "holes": tuple(h.model_copy(update={"at": flat(h.at)}) for h in r.holes),
            "found": tuple(found),
            "turned": "turned by hand",
            "shape": shape or r.shape,
        }
    )


class PortPick(Frozen):
    """Which of the found solids is a port, and of which kind."""

    found: str
    kind: Key
    name: Annotated[str, Field(pattern=r"^[a-z0-9._-]{1,20}$")]


class Confirmed(Frozen):
    """What the user made of a file: which holes are for screws and their threads, which solids are ports, what solids are
    called (`names`: by the name found), heat and mass."""

    label: Annotated[Words, Field(min_length=1, max_length=80)]
    holes: tuple[tuple[int, Thread], ...] = ()
    ports: tuple[PortPick, ...] = ()
    left_out: tuple[str, ...] = ()
    names: dict[str, Annotated[Words, Field(min_length=1, max_length=80)]] = Field(default_factory=dict)
    heat_w: Annotated[float, Field(ge=0, le=2000)] = 0.0
    mass_g: Annotated[float, Field(ge=0, le=50000)] = 0.0


def confirmed_by_default(r: Recognised) -> Confirmed:
    """Screw holes are those of one size near the corners; connectors over an edge are ports where a kind has their size."""
    kinds = [(f, kind_of(f)) for f in r.found if f.edge is not None]
    ports = [(f, kind) for f, kind in kinds if kind is not None]
    return Confirmed(
        label=r.name[:80] or "component",
        holes=tuple((i, thread_for(h.d_mm)) for i, h in enumerate(r.holes) if 2.0 <= h.d_mm <= 4.6)[:24],
        ports=tuple(PortPick(found=f.name, kind=kind, name=f"port-{k + 1}") for k, (f, kind) in enumerate(ports)),
    )


_WORDS = {
    "usb-c": ("usb-c", "usbc", "type-c", "usb_c", "usb c"),
    "usb-a-double": ("usb stack", "usb double", "dual usb"),
    "usb-a": ("usb-a", "usba", "usb_a", "usb"),
    "hdmi-a": ("hdmi",),
    "rj45": ("rj45", "ethernet", "network", "8p8c", "lan"),
    "jack": ("jack", "audio"),
    "dc-barrel": ("barrel", "dc_", "dc-", "dc in"),
    "displayport": ("displayport", "dp_", "dp-"),
}


def kind_of(f: Found) -> str | None:
    """The kind of port a solid is by its name, else by the size of its face; None where nothing fits."""
    from rhombex.core.parts import port_kinds

    kinds = port_kinds()
    name = f.name.lower()
    for key, words in _WORDS.items():
        if key in kinds and any(w in name for w in words):
            return key
    if f.edge is None:
        return None
    across = 1 if f.edge in ("left", "right") else 0
    width, height = f.hi[across] - f.lo[across], f.hi[2] - f.lo[2]
    best, off = None, 2.0
    for key, k in kinds.items():
        if not k.outside or key in ("io-aperture",):
            continue
        d = abs(k.width_mm - width) + abs(k.height_mm - height)
        if d < off:
            best, off = key, d
    return best


def component_of(r: Recognised, c: Confirmed, key: str) -> Component:
    """The component that a file and its confirmation make."""
    mark: Mark = "measured"
    source = f"read from a file, {r.format}"
    solids: list[Solid] = []
    if r.kind == "board":
        solids.append(Solid(name="board", role="board", lo=(0, 0, 0), hi=r.size_mm, source=source, mark=mark))
    picked = {p.found: p for p in c.ports}
    left = set(c.left_out)
    kept = sorted((f for f in r.found if f.name not in left), key=lambda f: -_bulk(f))[:MOST_SOLIDS]
    for f in kept:
        if any(b - a <= 0 for a, b in zip(f.lo, f.hi, strict=True)):
            continue
        role = "connector" if f.name in picked or f.edge else "pins" if f.side == "bottom" else "body"
        solids.append(
            Solid(
                name=c.names.get(f.name, f.name)[:80],
                role=role,
                lo=f.lo,
                hi=f.hi,
                corners=f.corners,
                source=source,
                mark=mark,
            )
        )
    ports = []
    for f in kept:
        pick = picked.get(f.name)
        if pick is not None:
            ports.append(_port(f, pick, r.size_mm, source))
    return Component(
        key=key,
        label=c.label,
        family="board" if r.kind == "board" else "own component",
        mounting="posts",
        pivot=(round(r.size_mm[0] / 2, 3), round(r.size_mm[1] / 2, 3)),
        solids=tuple(solids),
        mounts=tuple(
            Mount(name=_letter(n), at=r.holes[i].at, thread=thread, hole_mm=r.holes[i].d_mm, source=source, mark=mark)
            for n, (i, thread) in enumerate(c.holes)
            if 0 <= i < len(r.holes)
        ),
        ports=tuple(ports),
        shape=r.shape,
        heat_w=c.heat_w,
        mass_g=c.mass_g,
        source=source,
        mark=mark,
    )


def _bulk(f: Found) -> float:
    return (f.hi[0] - f.lo[0]) * (f.hi[1] - f.lo[1]) * (f.hi[2] - f.lo[2])


def _letter(n: int) -> str:
    return chr(65 + n) if n < 26 else f"H{n + 1}"


def _port(f: Found, pick: PortPick, size: Vec3, source: str) -> Port:
    """A port at the outer face of its connector; one inside the board looks up."""
    middle = [(a + b) / 2 for a, b in zip(f.lo, f.hi, strict=True)]
    edge = f.edge
    if edge is None:
        return Port(
            name=pick.name,
            kind=pick.kind,
            centre=(middle[0], middle[1], f.hi[2]),
            facing="+z",
            source=source,
            mark="measured",
        )
    axis, sign = next((a, s) for e, a, s in EDGES if e == edge)
    middle[axis] = f.hi[axis] if sign > 0 else f.lo[axis]
    facing = ("-" if sign < 0 else "+") + "xy"[axis]
    return Port(
        name=pick.name,
        kind=pick.kind,
        centre=(middle[0], middle[1], middle[2]),
        facing=facing,
        source=source,
        mark="measured",
    )


@cache
def patterns() -> dict[str, tuple[Vec2, ...]]:
    """Hole patterns of the form factors, by name, from `reference/patterns.toml`: centres in mm from a corner hole."""
    return {k: tuple((float(x), float(y)) for x, y in row["v"]) for k, row in table("patterns").items()}
