"""Settled and preview estimates against laying out every layer, on parts that are odd: thin rods, gears, tubes, ribs, lattices.

python trials/odd_parts.py COUNT SEED
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from manifold3d import CrossSection as CS
from manifold3d import Manifold as M
from manifold3d import OpType, set_circular_segments

sys.path.insert(0, str(Path(__file__).parents[1]))

from rhombex.core.design import Process
from rhombex.core.memo import forget_all
from rhombex.core.process import simulate
from rhombex.core.process.settings import settings
from rhombex.core.process.slices import Slices
from rhombex.core.workshop.sample import ARCHIVE_WORKSHOP

Rng = np.random.Generator


def _all(parts: list[M]) -> M:
    return M.batch_boolean(parts, OpType.Add)


def rods(r: Rng) -> M:
    """Thin rods, upright and leaning, on a plate."""
    plate = M.cube((60, 40, float(r.uniform(0.8, 3))))
    up = [
        M.cylinder(float(r.uniform(10, 60)), float(r.uniform(0.5, 2.5)), float(r.uniform(0.4, 2.5)), 24)
        .rotate((float(r.uniform(-20, 20)), float(r.uniform(-20, 20)), 0))
        .translate((float(r.uniform(8, 52)), float(r.uniform(8, 32)), 0.2))
        for _ in range(int(r.integers(2, 12)))
    ]
    return _all([plate, *up]).trim_by_plane((0, 0, 1), 0)


def standoffs(r: Rng) -> M:
    """Hexagonal or round standoffs with a hole, some with a step."""
    out, step = [], float(r.uniform(9, 14))
    for k in range(int(r.integers(3, 16))):
        across, hole, h = r.uniform(2.2, 4.5), r.uniform(0.9, 1.9), r.uniform(4, 30)
        body = M.cylinder(float(h), float(across), float(across * r.uniform(0.7, 1)), 6 if r.random() < 0.5 else 32)
        body = body - M.cylinder(float(h) + 2, float(hole), float(hole), 24).translate((0, 0, -1))
        out.append(body.translate((step * (k % 4), step * (k // 4), 0)))
    return _all(out)


def gear(r: Rng) -> M:
    """A gear with teeth of some width, a bore, perhaps spokes, perhaps helical."""
    teeth, root, tip = int(r.integers(8, 60)), float(r.uniform(8, 30)), float(r.uniform(1, 4))
    wheel = CS.circle(root, 96)
    half = np.pi * root / teeth / 2 * float(r.uniform(0.6, 1.2))
    tooth = CS([[(-half, root - 0.5), (half, root - 0.5), (half * 0.5, root + tip), (-half * 0.5, root + tip)][::1]])
    wheel = CS.batch_boolean([wheel, *(tooth.rotate(360 * k / teeth) for k in range(teeth))], OpType.Add)
    wheel = wheel - CS.circle(float(r.uniform(1.5, 4)), 32)
    if r.random() < 0.5:
        for k in range(5):
            wheel = wheel - CS.circle(root * 0.22, 32).translate((root * 0.6, 0)).rotate(72 * k)
    h = float(r.uniform(3, 20))
    return wheel.extrude(h, 20, float(r.uniform(0, 40))) if r.random() < 0.5 else wheel.extrude(h)


def tubes(r: Rng) -> M:
    """A knot of thin tubes and bows."""
    out = []
    for _ in range(int(r.integers(2, 7))):
        ring, tube = float(r.uniform(10, 25)), float(r.uniform(1.2, 5))
        bow = M.revolve(CS.circle(tube, 20).translate((ring, 0)), 48)
        if r.random() < 0.5 and tube > 2:
            bow = bow - M.revolve(CS.circle(tube - float(r.uniform(0.6, 1.4)), 20).translate((ring, 0)), 48)
        turned = bow.rotate(tuple(float(x) for x in r.uniform(0, 180, 3)))
        out.append(turned.translate(tuple(float(x) for x in r.uniform(-8, 8, 3))))
    whole = _all(out)
    z = whole.bounding_box()[2]
    return whole.translate((0, 0, -z)).trim_by_plane((0, 0, 1), float(r.uniform(0, 6)))


def thin_box(r: Rng) -> M:
    """A box of thin walls, drafted or upright, with ribs."""
    w, d, h = (float(x) for x in r.uniform((30, 30, 10), (120, 90, 60)))
    t, scale = float(r.uniform(0.5, 3)), float(r.uniform(0.8, 1.1)) if r.random() < 0.5 else 1.0
    out = CS.square((w, d), True).extrude(h, 1, 0, (scale, scale))
    inside = CS.square((w - 2 * t, d - 2 * t), True).extrude(h, 1, 0, (scale, scale)).translate((0, 0, t))
    box = out - inside
    ribs = [
        M.cube((w * 0.9, float(r.uniform(0.5, 2)), h * 0.8), True).translate(
            (0, float(r.uniform(-d / 3, d / 3)), h * 0.4)
        )
        for _ in range(int(r.integers(0, 4)))
    ]
    return _all([box, *(x ^ out for x in ribs)])


def wedge(r: Rng) -> M:
    """A fin that thins out upwards, or a funnel."""
    if r.random() < 0.5:
        w, t, h = (float(x) for x in r.uniform((20, 2, 15), (80, 12, 80)))
        return CS.square((w, t), True).extrude(h, 1, 0, (1.0, float(r.uniform(0.02, 0.5))))
    a, b, h, t = (float(x) for x in r.uniform((8, 8, 15, 0.6), (30, 30, 70, 2.4)))
    inside = M.cylinder(h, max(a - t, 0.5), max(b - t, 0.5), 64).scale((1, 1, 1.02)).translate((0, 0, -0.01 * h))
    return M.cylinder(h, a, b, 64) - inside


def lattice(r: Rng) -> M:
    """Beams along all three axes."""
    n, cell, beam = int(r.integers(2, 5)), float(r.uniform(6, 14)), float(r.uniform(1, 3))
    out, span = [], float(n * cell + beam)
    for i in range(n + 1):
        for k in range(n + 1):
            out.append(M.cube((span, beam, beam)).translate((0, i * cell, k * cell)))
            out.append(M.cube((beam, span, beam)).translate((i * cell, 0, k * cell)))
            out.append(M.cube((beam, beam, span)).translate((i * cell, k * cell, 0)))
    return _all(out)


def dome(r: Rng) -> M:
    """A dome, open below or above, of some thickness."""
    big, t = float(r.uniform(15, 40)), float(r.uniform(0.8, 5))
    shell = M.sphere(big, 80) - M.sphere(big - t, 80)
    up = shell.trim_by_plane((0, 0, 1), float(r.uniform(-0.2, 0.4)) * big)
    if r.random() < 0.4:
        up = up.rotate((180, 0, 0))
    return up.translate((0, 0, -up.bounding_box()[2]))


def grille(r: Rng) -> M:
    """A plate with many holes and thin webs."""
    pitch = float(r.uniform(4, 9))
    hole = pitch / 2 - float(r.uniform(0.3, 1.3))
    n, m = int(r.integers(4, 14)), int(r.integers(4, 12))
    holes = [
        CS.circle(hole, 6 if r.random() < 0.5 else 24).translate((6 + pitch * i, 6 + pitch * k))
        for i in range(n)
        for k in range(m)
    ]
    plate = CS.square((12 + pitch * (n - 1), 12 + pitch * (m - 1))) - CS.batch_boolean(holes, OpType.Add)
    return plate.extrude(float(r.uniform(1, 6)))


def vase(r: Rng) -> M:
    """A twisted star, hollow or full."""
    n, big, deep = int(r.integers(4, 12)), float(r.uniform(12, 30)), float(r.uniform(0.5, 0.9))
    star = CS(
        [
            [
                (
                    big * (1 if k % 2 else deep) * np.cos(np.pi * k / n),
                    big * (1 if k % 2 else deep) * np.sin(np.pi * k / n),
                )
                for k in range(2 * n)
            ]
        ]
    )
    if r.random() < 0.6:
        star = star - star.offset(-float(r.uniform(0.6, 3)))
    return star.extrude(float(r.uniform(15, 60)), 40, float(r.uniform(0, 120)), (float(r.uniform(0.5, 1.2)),) * 2)


FAMILIES: dict[str, Callable[[Rng], M]] = {
    f.__name__: f for f in (rods, standoffs, gear, tubes, thin_box, wedge, lattice, dome, grille, vase)
}


def odd(seed: int) -> tuple[str, M, Process, int]:
    """The part of a seed, with a way to print it and the printer's place in the workshop."""
    set_circular_segments(0)
    r = np.random.default_rng(seed)
    name = list(FAMILIES)[seed % len(FAMILIES)]
    mesh = FAMILIES[name](r)
    process = Process(
        layer_mm=float(r.choice([0.12, 0.2, 0.28])),
        perimeters=int(r.integers(1, 6)),
        infill=float(r.choice([0.0, 0.1, 0.2, 0.4, 1.0])),
        infill_kind=str(r.choice(["lines", "grid", "triangles", "honeycomb"])),  # type: ignore[arg-type]
        supports=bool(r.random() < 0.3),
        brim_mm=float(r.choice([0.0, 4.0])),
    )
    return name, mesh, process, int(r.integers(1, 3))


def compared(seed: int) -> tuple[str, list[float]]:
    """Errors of settled time and mass, of preview time, processor ms of settled and preview; exact seconds."""
    name, mesh, process, printer = odd(seed)
    mesh.num_tri()  # the kernel puts booleans off until they are asked for: not what is timed
    s = settings(process, ARCHIVE_WORKSHOP.printers[printer])

    def told(level: str) -> tuple[float, float, float]:
        forget_all()
        t = time.process_time()
        slices = Slices(mesh, s)
        rows = getattr(simulate, level)(slices)
        ms = (time.process_time() - t) * 1e3
        return float(simulate.layer_seconds(s, rows).sum()), float(simulate.layer_mm3(slices, rows).sum()), ms

    (quick, _, quick_ms), (near, near_mm3, near_ms), (true, true_mm3, _) = (
        told("preview"),
        told("settled"),
        told("exact"),
    )
    return name, [near / true - 1, near_mm3 / true_mm3 - 1, quick / true - 1, near_ms, quick_ms, true]


def main(count: int, seed: int) -> None:
    compared(seed)  # compiled before the clock runs
    rows = []
    for k in range(count):
        name, row = compared(seed + k)
        rows.append(row)
        if abs(row[0]) > 0.03 or abs(row[1]) > 0.03 or abs(row[2]) > 0.15:
            print(
                f"{seed + k:6} {name:10} settled time {row[0]:+.1%} mass {row[1]:+.1%}  preview {row[2]:+.1%}  {row[5]:.0f} s",
                flush=True,
            )
    a = np.abs(np.array(rows))
    print(
        f"{count} parts: settled time over 3 %: {(a[:, 0] > 0.03).sum()}, worst {a[:, 0].max():.1%}; mass over 3 %: "
        f"{(a[:, 1] > 0.03).sum()}, worst {a[:, 1].max():.1%}; preview p95 {np.percentile(a[:, 2], 95):.1%}, worst {a[:, 2].max():.0%}; "
        f"processor ms p95: settled {np.percentile(a[:, 3], 95):.0f}, preview {np.percentile(a[:, 4], 95):.0f}"
    )


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]))
