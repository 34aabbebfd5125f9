"""The stable report of a design: what `check --json` prints."""

from __future__ import annotations

from typing import Any

from rhombex.core.analysis import Analysis, analyse
from rhombex.core.concerns import judge
from rhombex.core.concerns.registry import Remedy
from rhombex.core.design import Design
from rhombex.core.plan.tally import tally
from rhombex.core.remedies import effect_of
from rhombex.core.workshop.workshop import Workshop


def parts_report(a: Analysis) -> list[dict[str, Any]]:
    """One row per printed part: whole size, sums over its pieces."""
    rows = []
    for cut in a.cuts:
        pieces = [p for p in a.pieces if p.part == cut.part]
        rows.append(
            {
                "name": cut.part,
                "bbox_mm": [round(x, 3) for x in cut.bbox_mm],
                "volume_mm3": round(sum(p.volume_mm3 for p in pieces), 3),
                "watertight": all(p.watertight for p in pieces),
                "fits_bed": all(p.fits_bed for p in pieces),
                "pieces": [
                    {"name": p.name, "bbox_mm": [round(x, 3) for x in p.bbox_mm], "fits_bed": p.fits_bed}
                    for p in pieces
                ],
                "mass_g": round(sum(p.estimate.mass_g.value for p in pieces if p.estimate), 2),
                "time_s": round(sum(p.estimate.time_s.value for p in pieces if p.estimate)),
            }
        )
    return rows


def report(design: Design, workshop: Workshop, effects: bool = False) -> dict[str, Any]:
    """Concerns with their remedies, tally and parts, as plain data. `effects`: each remedy is tried, and says what it does."""
    a = analyse(design, workshop)
    found = judge(a)
    concerns = []
    for f in found:
        row = f.model_dump(mode="json", exclude={"remedies"})
        row["remedies"] = [
            {
                "label": r.label,
                "edits": [e.model_dump(mode="json") for e in r.edits],
                "shop": [e.model_dump(mode="json") for e in r.shop],
                **({"effect": _tried(design, workshop, f.key, r)} if effects else {}),
            }
            for r in f.remedies
        ]
        concerns.append(row)
    return {
        "name": design.name,
        "stops": sum(c["severity"] == "stop" for c in concerns),
        "concerns": concerns,
        "tally": {t.key: {"value": round(t.trail.value, 4), "unit": t.trail.unit} for t in tally(a)},
        "parts": parts_report(a),
    }


def _tried(design: Design, workshop: Workshop, key: str, r: Remedy) -> dict[str, Any]:
    return effect_of(design, workshop, key, r.edits, r.shop).model_dump(mode="json")
