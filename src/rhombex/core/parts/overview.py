"""What a library says of a component at a glance: its size, holes as people say them, watts, and what is doubted."""

from __future__ import annotations

from rhombex.core.parts.component import Component, Mount, Port, Solid
from rhombex.core.parts.known import sure_of
from rhombex.core.parts.threads import label
from rhombex.core.trail import Frozen, Shown


class Overview(Frozen):
    """`holes`: "58 x 49, M2.5". `words`: all that a search can meet, in small letters. `doubted`: what is not sure, and how much."""

    key: str
    own: bool
    size_mm: tuple[Shown, Shown, Shown]
    holes: str
    doubted: tuple[str, ...]
    peak_w: Shown
    gives_w: Shown | None
    words: str


def _g(x: float) -> str:
    return f"{x:.2f}".rstrip("0").rstrip(".")


def hole_words(c: Component) -> str:
    """The mounting holes as people say them: spacing of the outermost ones, and the thread."""
    at = [m.at for m in c.mounts if m.side == "bottom"]
    if len(at) < 2:
        return label(c.mounts[0].thread) if c.mounts else ""
    across = [max(p[i] for p in at) - min(p[i] for p in at) for i in (0, 1)]
    return f"{_g(across[0])} x {_g(across[1])}, {label(c.mounts[0].thread)}"


def overview(c: Component, own: bool) -> Overview:
    """The glance at one component."""
    hard = [s for s in c.solids if s.role not in ("plug", "keepout")] or list(c.solids)
    lo = [min(s.lo[i] for s in hard) for i in range(3)]
    hi = [max(s.hi[i] for s in hard) for i in range(3)]
    size = tuple(b - a for a, b in zip(lo, hi, strict=True))
    every: list[Solid | Mount | Port] = [*c.solids, *c.mounts, *c.ports]
    doubted = tuple(f"{x.name}: ±{_g(sure_of(x))} mm" for x in every if sure_of(x) > 0)
    holes = hole_words(c)
    spacings = {_g(abs(p.at[i] - q.at[i])) for p in c.mounts for q in c.mounts for i in (0, 1)}
    ports = " ".join(p.kind for p in c.ports)
    words = f"{c.label} {c.family} {c.key} {holes} {c.pattern or ''} {ports} {' '.join(_g(x) for x in size)} {' '.join(sorted(spacings))}"
    return Overview(
        key=c.key,
        own=own,
        size_mm=(size[0], size[1], size[2]),
        holes=holes,
        doubted=doubted,
        peak_w=sum(d.peak_w for d in c.power),
        gives_w=c.supply.total_w if c.supply else None,
        words=words.lower(),
    )
