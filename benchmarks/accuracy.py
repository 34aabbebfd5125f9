"""How near the quick levels come to laying out every layer: a table over made-up parts and profiles."""

from __future__ import annotations

import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))

from rhombex.core.memo import forget_all
from rhombex.core.process import simulate
from rhombex.core.process.settings import settings
from rhombex.core.process.slices import Slices
from tests.print_parts import PARTS, PROFILES


def timed(level: str, slices: Slices) -> tuple[float, float, float]:
    """Seconds of printing, mm3, and milliseconds it took to say so."""
    t = time.perf_counter()
    rows = getattr(simulate, level)(slices)
    took = (time.perf_counter() - t) * 1e3
    return float(simulate.layer_seconds(slices.s, rows).sum()), float(simulate.layer_mm3(slices, rows).sum()), took


def main() -> None:
    simulate.exact(
        Slices(PARTS["tiny boss"](), settings(*PROFILES["everyday"]))
    )  # compiled once, before the clock runs
    print(f"{'part':18}{'profile':14}{'hours':>7}{'exact':>9}{'settled':>18}{'preview':>26}")
    rows = []
    for name, make in PARTS.items():
        mesh = make()
        for profile, (process, printer) in PROFILES.items():
            s = settings(process, printer)
            forget_all()
            p_time, p_mass, p_ms = timed("preview", Slices(mesh, s))
            time_s, mass, ms = timed("exact", Slices(mesh, s))
            s_time, s_mass, s_ms = timed("settled", Slices(mesh, s))
            row = [s_time / time_s - 1, s_mass / mass - 1, p_time / time_s - 1, p_mass / mass - 1, s_ms, p_ms]
            rows.append(row)
            print(
                f"{name:18}{profile:14}{time_s / 3600:7.2f}{ms:7.0f}ms{row[0]:+8.2%}{row[1]:+8.2%}{s_ms:6.0f}ms"
                f"{row[2]:+9.1%}{row[3]:+8.1%}{p_ms:6.0f}ms"
            )
    r = np.abs(np.array(rows))
    print(
        f"\nsettled: time {r[:, 0].max():.2%} at worst, {r[:, 0].mean():.2%} on average; mass {r[:, 1].max():.2%} at worst; "
        f"{np.median(r[:, 4]):.0f} ms typical, {r[:, 4].max():.0f} ms at worst"
        f"\npreview: time {np.percentile(r[:, 2], 95):.1%} at the 95th percentile; {np.median(r[:, 5]):.0f} ms typical, "
        f"{np.percentile(r[:, 5], 95):.0f} ms at the 95th percentile"
    )


if __name__ == "__main__":
    main()
