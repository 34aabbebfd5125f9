"""What `component read --json` prints: slab, holes, connectors with their edges, the other solids, which way is up."""

from __future__ import annotations

from typing import Any

from rhombex.core.parts.recognised import Found, Recognised


def _box(f: Found) -> dict[str, Any]:
    return {
        "name": f.name,
        "box_mm": {"lo": list(f.lo), "hi": list(f.hi)},
        "size_mm": [round(b - a, 4) for a, b in zip(f.lo, f.hi, strict=True)],
        "side": f.side,
        **({"corners_mm": [list(p) for p in f.corners]} if f.corners else {}),
    }


def component_report(r: Recognised) -> dict[str, Any]:
    """The recognised component as plain data, lengths in mm in the board's frame (see `Recognised`). A solid that reaches over an edge
    is a connector; `tall` are the others, the tallest first."""
    board = r.kind == "board"
    rest = sorted((f for f in r.found if f.edge is None), key=lambda f: -f.hi[2])
    return {
        "kind": r.kind,
        "name": r.name,
        "format": r.format,
        "unit": r.unit,
        "unit_from": r.unit_from,
        "size_mm": list(r.size_mm),
        "slab": {
            "width_mm": r.size_mm[0],
            "depth_mm": r.size_mm[1],
            "thickness_mm": r.size_mm[2],
            "outline_mm": [list(p) for p in r.outline],
        }
        if board
        else None,
        "holes": [{"centre_mm": list(h.at), "diameter_mm": h.d_mm, "layer": h.layer} for h in r.holes],
        "connectors": [
            {**_box(f), "edge": f.edge, "overhang_mm": f.overhang_mm} for f in r.found if f.edge is not None
        ],
        "tall": [_box(f) for f in rest],
        "up": r.up,
        "turned": r.turned,
        "layers": list(r.layers),
        "notes": list(r.notes),
    }
