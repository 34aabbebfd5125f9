"""IDF out: a board with its holes and what stands on it, as board file (.emn) and library (.emp), version 2.0 or 3.0, millimetres."""

from __future__ import annotations

import re
from typing import Literal

from rhombex.core.parts.component import Component, Solid
from rhombex.core.plain import DesignError

Version = Literal["2.0", "3.0"]
SOURCE = "Rhombex"
_DATE = "2020/01/01.00:00:00"  # equal parts give equal bytes


def board_idf(c: Component, version: Version = "3.0") -> tuple[bytes, bytes]:
    """Board and library file of a component that has a board. Raises DesignError where it has none."""
    slab = next((s for s in c.solids if s.role == "board"), None)
    if slab is None:
        raise DesignError("part", f"{c.label} has no board", "IDF holds boards; take STEP for a body.")
    thick = slab.hi[2] - slab.lo[2]
    owner = " ECAD" if version == "3.0" else ""
    emn = [
        ".HEADER",
        f'BOARD_FILE {version} "{SOURCE}" {_DATE} 1',
        f'"{_words(c.key)}" MM',
        ".END_HEADER",
        f".BOARD_OUTLINE{owner}",
        f"{thick:.4f}",
        *_loop(slab.lo[0], slab.lo[1], slab.hi[0], slab.hi[1]),
        ".END_BOARD_OUTLINE",
        ".DRILLED_HOLES",
    ]
    for m in (m for m in c.mounts if m.side == "bottom"):
        tail = " PTH BOARD MTG ECAD" if version == "3.0" else " PTH BOARD"
        emn.append(f"{m.hole_mm:.4f} {m.at[0]:.4f} {m.at[1]:.4f}{tail}")
    emn += [".END_DRILLED_HOLES", ".PLACEMENT"]
    emp = [".HEADER", f'LIBRARY_FILE {version} "{SOURCE}" {_DATE} 1', ".END_HEADER"]
    for k, s in enumerate(c.solids):
        if s is slab or s.role in ("plug", "keepout"):
            continue
        package, number = f"P{k}", _words(s.name)
        top = (s.lo[2] + s.hi[2]) / 2 > (slab.lo[2] + slab.hi[2]) / 2
        lift = s.lo[2] - slab.hi[2] if top else slab.lo[2] - s.hi[2]
        at = ((s.lo[0] + s.hi[0]) / 2, (s.lo[1] + s.hi[1]) / 2)
        offset = f" {lift:.4f}" if version == "3.0" else ""
        # a component of version 2.0 stands on the board: what is under it counts to its height
        height = s.hi[2] - s.lo[2] + (0.0 if version == "3.0" else max(lift, 0.0))
        emn += [
            f'"{package}" "{number}" "{_words(s.name)}"',
            f"{at[0]:.4f} {at[1]:.4f}{offset} 0.0 {'TOP' if top else 'BOTTOM'} PLACED",
        ]
        emp += [".ELECTRICAL", f'"{package}" "{number}" MM {height:.4f}', *_outline(s), ".END_ELECTRICAL"]
    emn.append(".END_PLACEMENT")
    return _bytes(emn), _bytes(emp)


def _outline(s: Solid) -> list[str]:
    """The box of a solid about its middle."""
    w, d = (s.hi[0] - s.lo[0]) / 2, (s.hi[1] - s.lo[1]) / 2
    return _loop(-w, -d, w, d)


def _loop(x0: float, y0: float, x1: float, y1: float) -> list[str]:
    return [f"0 {x:.4f} {y:.4f} 0.0" for x, y in ((x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0))]


def _words(text: str) -> str:
    """Plain letters: IDF is ASCII, and quotes end a name."""
    return re.sub(r"[^ -!#-&(-~]", "_", text.encode("ascii", "replace").decode())[:60] or "part"


def _bytes(lines: list[str]) -> bytes:
    return ("\n".join(lines) + "\n").encode()
