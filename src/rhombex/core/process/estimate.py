"""Grams, metres and hours of a part from its real sections.

Level *settled*: outlines and areas of all layers come from the mesh; the paths of one layer of every kind of section are
laid out and timed with look-ahead; layers of the same kind share the result. Supports, gap fill and combing are not in it.
"""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from math import pi

import numpy as np
from manifold3d import CrossSection, JoinType, Manifold
from numpy.typing import NDArray

from rhombex.core.design import Process
from rhombex.core.geometry import mesh_kernel
from rhombex.core.geometry.recipe import Solid
from rhombex.core.geometry.sections import flat_areas, layer_heights, layer_integrals, section
from rhombex.core.process.bead import line_width_mm, spacing_mm
from rhombex.core.process.motion import Array, loops_seconds, segment_seconds
from rhombex.core.reference import ref, val
from rhombex.core.trail import Frozen, Trail, given, looked_up
from rhombex.core.workshop import Printer

SAMPLES = 14  # layers whose paths are laid out, at most
TIME_SURE = 0.15  # not yet compared with a real printer; against laying out every layer it is within 3 %
MASS_SURE = 0.05


class Estimate(Frozen):
    """What a part takes. `time_sure` and `mass_sure` are the shares by which the truth may differ."""

    layers: int
    mass_g: Trail
    filament_m: float
    time_s: Trail
    money: float
    volume_mm3: float
    deposited_mm3: float
    perimeter_share: float
    time_sure: float = TIME_SURE
    mass_sure: float = MASS_SURE


@dataclass(frozen=True)
class _Layer:
    seconds: float
    perimeter_mm3: float
    sparse_mm3: float
    solid_mm3: float
    inner_mm2: float


_layers: OrderedDict[tuple[str, str], _Layer] = OrderedDict()
_estimates: OrderedDict[tuple[str, str], Estimate] = OrderedDict()
computed = 0  # how many parts were really estimated; tests and benchmarks read it


def _remember(cache: OrderedDict, key: tuple[str, str], value: object, size: int) -> None:  # type: ignore[type-arg]
    cache[key] = value
    while len(cache) > size:
        cache.popitem(last=False)


def forget() -> None:
    """Drop all remembered estimates (for measuring)."""
    _layers.clear()
    _estimates.clear()


def _hatch(inner: CrossSection, spacing: float, speed: float, accel: float, corner: float) -> tuple[float, float]:
    """Length and seconds of hatch lines at 45 degrees over a region."""
    area = inner.area()
    if area < 1e-6:
        return 0.0, 0.0
    across = 0.0
    for poly in inner.to_polygons():
        p = poly[:, 0] - poly[:, 1]
        across += (abs(p[0] - p[-1]) + float(np.abs(np.diff(p)).sum())) / 2**0.5
    lines = max(1.0, across / 2 / spacing)
    length = area / spacing
    mean = np.array([length / lines])
    turn = np.array([min(corner, speed) ** 2])
    t = segment_seconds(mean, np.array([speed]), turn, turn, accel)
    return length, float(t[0]) * lines


def _lay_out(s: CrossSection, process: Process, width: float, solid_share: float, v: dict[str, float]) -> _Layer:
    h = process.layer_mm
    space = spacing_mm(width, h)
    loops: list[Array] = []
    speeds: list[float] = []
    for i in range(process.perimeters):
        ring = s.offset(-(width / 2 + i * space), JoinType.Miter, 2.0)
        polys = ring.to_polygons()
        if not polys:
            break
        loops += [np.asarray(p, dtype=np.float64) for p in polys]
        speeds += [v["outer"] if i == 0 else v["perimeter"]] * len(polys)
    lengths, times = loops_seconds(loops, speeds, v["accel"], v["corner"])
    inner = s.offset(-(width / 2 + (process.perimeters - 0.5) * space), JoinType.Miter, 2.0)
    inner_area = inner.area()
    solid, solid_t = _hatch(inner, space, v["solid"], v["accel"], v["corner"])
    sparse = sparse_t = 0.0
    if process.infill > 0.01:
        sparse, sparse_t = _hatch(inner, space / process.infill, v["fill"], v["accel"], v["corner"])
    bead = h * space
    moves = s.num_contour() * val("printing.speed.retract")
    return _Layer(
        seconds=float(times.sum()) + solid_share * solid_t + (1 - solid_share) * sparse_t + moves,
        perimeter_mm3=float(lengths.sum()) * bead,
        sparse_mm3=(1 - solid_share) * sparse * bead,
        solid_mm3=solid_share * solid * bead,
        inner_mm2=inner_area,
    )


def _kinds(area: NDArray[np.float64], outline: NDArray[np.float64], solid: NDArray[np.float64]) -> NDArray[np.int64]:
    """Which layers look alike: same area, outline and solid share to within a part in two hundred."""
    key = np.stack(
        [
            np.round(np.log(np.maximum(area, 1e-3)) * 150),
            np.round(np.log(np.maximum(outline, 1e-3)) * 150),
            np.round(solid * 20),
        ],
        axis=1,
    )
    _, kind = np.unique(key, axis=0, return_inverse=True)
    return np.asarray(kind, dtype=np.int64).reshape(-1)


def speeds(process: Process, printer: Printer) -> dict[str, float]:
    """Speeds in mm/s, held under the flow the filament bears (area of the bead x speed)."""
    width = line_width_mm(printer)
    bead = process.layer_mm * spacing_mm(width, process.layer_mm)
    nozzle_flow = max(1.0, (printer.nozzle_mm / 0.4) ** 1.2)
    cap = val(f"materials.{process.filament}.flow") * nozzle_flow / bead
    slow = val(f"materials.{process.filament}.speed_factor")
    v = {k: min(val(f"printing.speed.{k}") * slow, cap) for k in ("outer", "perimeter", "fill", "solid", "first")}
    v["accel"], v["corner"] = val("printing.speed.acceleration"), val("printing.speed.corner")
    return v


def estimate(part: Solid, process: Process, printer: Printer, samples: int = SAMPLES) -> Estimate:
    """Estimate a part that lies as it is printed, its lowest face on z = 0."""
    global computed
    signature = f"{process.model_dump_json()}|{printer.nozzle_mm}|{samples}"
    key = (part.digest, signature)
    found = _estimates.get(key)
    if found is None:
        computed += 1
        found = _estimate(mesh_kernel.evaluate(part), process, printer, signature, samples)
        _remember(_estimates, key, found, 400)
    return found


def _estimate(m: Manifold, process: Process, printer: Printer, signature: str, samples: int) -> Estimate:
    _, _, z0, _, _, z1 = m.bounding_box()
    if abs(z0) > 1e-6:
        m = m.translate((0.0, 0.0, -z0))
    h, width = process.layer_mm, line_width_mm(printer)
    z = layer_heights(z1 - z0, h)
    area, outline = layer_integrals(m, z)
    flat = flat_areas(m, z, h, process.top_layers, process.bottom_layers)
    share = np.clip(flat / np.maximum(area, 1e-6), 0.0, 1.0)
    kind = _kinds(area, outline, share)
    counts = np.bincount(kind)
    chosen = np.argsort(-counts)[:samples]
    v = speeds(process, printer)
    laid: dict[int, _Layer] = {}
    for k in chosen:
        members = np.flatnonzero(kind == k)
        j = int(members[len(members) // 2])
        level = round(float(share[j]) * 20) / 20
        # A layer is known by its area, outline and solid share: a part that only moved in it leaves all three as they were.
        key = (f"{area[j]:.3f}|{outline[j]:.3f}|{level}", signature)
        layer = _layers.get(key)
        if layer is None:
            layer = _lay_out(section(m, float(z[j])), process, width, level, v)
            _remember(_layers, key, layer, 6000)
        laid[int(k)] = layer
    # layers of kinds that were not laid out take the nearest laid one by area and outline, scaled by outline
    features = np.stack([np.log(np.maximum(area, 1e-3)), np.log(np.maximum(outline, 1e-3)), share], axis=1)
    centre = {k: features[kind == k].mean(axis=0) for k in laid}
    keys = np.array(list(centre))
    table = np.array([centre[k] for k in keys])
    total = perimeter = sparse = solid = 0.0
    floor_s = val("printing.speed.layer_min")
    first_slow = v["fill"] / v["first"]
    for k in range(len(counts)):
        members = np.flatnonzero(kind == k)
        if k in laid:
            layer, scale = laid[k], 1.0
        else:
            near = int(keys[np.argmin(((table - features[members[0]]) ** 2).sum(axis=1))])
            layer, scale = laid[near], float(np.exp(features[members[0]][0] - centre[near][0]))
        n = len(members)
        first = 1 if members[0] == 0 else 0
        total += (n - first) * max(layer.seconds * scale, floor_s) + first * layer.seconds * first_slow
        perimeter += n * layer.perimeter_mm3 * scale
        sparse += n * layer.sparse_mm3 * scale
        solid += n * layer.solid_mm3 * scale
    brim = outline[0] * process.brim_mm * h if process.brim_mm > 0 else 0.0
    total += brim / (h * width) / v["first"]
    deposited = perimeter + sparse + solid + brim
    density = ref(f"materials.{process.filament}.density")
    mass = deposited / 1000 * density.value
    d = val("materials.filament.diameter")
    seconds = total + val("printing.speed.heat_up")
    return Estimate(
        layers=len(z),
        mass_g=Trail(
            value=mass,
            unit="g",
            formula="density x (perimeters + infill + solid layers + brim)",
            inputs=(
                looked_up("density", density),
                given("perimeters", perimeter / 1000, "cm3", "paths of the sections"),
                given("infill", sparse / 1000, "cm3", f"{process.infill:.0%} of the inside"),
                given("solid layers", solid / 1000, "cm3", "under and over flat faces"),
                given("brim", brim / 1000, "cm3"),
            ),
            source="bead area h (w - h (1 - pi/4)) x path length",
        ),
        filament_m=deposited / (pi * d * d / 4) / 1000,
        time_s=Trail(
            value=seconds,
            unit="s",
            formula="sum of layer times + heat-up",
            inputs=(
                given("layers", len(z), "", f"height / {h:g} mm"),
                given("paths", total, "s", "look-ahead over corners, hatch, retractions, least layer time"),
                looked_up("heat-up", ref("printing.speed.heat_up")),
                looked_up("acceleration", ref("printing.speed.acceleration")),
            ),
            source="constant-acceleration kinematics; speeds from common practice",
        ),
        money=mass / 1000 * val(f"materials.{process.filament}.price"),
        volume_mm3=float(m.volume()),
        deposited_mm3=deposited,
        perimeter_share=perimeter / max(deposited, 1e-9),
    )
